"""HTTP: turns requests into calls of the core and the store, and back.

- `app`: the application factory.
- `api`: the endpoints.
- `shapes`: what goes over the wire around the core's own models.
- `problems`: one error shape (RFC 9457) and one place that makes it.
- `guard`: which hosts and origins are served, and the Content-Security-Policy.
"""

from olvask.web.app import create_app

__all__ = ["create_app"]
