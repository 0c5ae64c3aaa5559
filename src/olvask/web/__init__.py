"""HTTP: turns requests into calls of the core and the store, and back.

- `app`: the application factory.
- `api`: the endpoints.
- `shapes`: what goes over the wire around the core's own models.
- `problems`: one error shape (RFC 9457) and one place that makes it.
- `allowed`, `guard`: which hosts and origins are served, and the Content-Security-Policy.
- `page`, `early`: the one page and its parts; what is answered of it while the application is still being loaded.
- `serving`: the server that listens.

Nothing is imported here: what listens first must not wait for what it serves.
"""
