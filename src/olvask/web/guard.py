"""Who is answered, and what a page may load."""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, abort, g, request

LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})


def host_only(value: str) -> str:
    """A Host header without its port."""
    return value if value.endswith("]") else value.rsplit(":", 1)[0]


def install(app: Flask, hosts: frozenset[str]) -> None:
    """Refuse foreign Host and Origin headers and send the security headers.

    Args:
        app: the application.
        hosts: host names served besides loopback.
    """
    allowed = LOOPBACK | hosts
    app.extensions["olvask.hosts"] = hosts

    @app.before_request
    def _check() -> None:
        g.nonce = secrets.token_urlsafe(16)
        if host_only(request.host) not in allowed:
            abort(403, "This host name is not served.")
        origin = request.headers.get("Origin")
        if origin is not None and urlsplit(origin).netloc != request.host:
            abort(403, "Requests from other sites are refused.")
        if (
            request.headers.get("Sec-Fetch-Site") == "cross-site"
            and request.headers.get("Sec-Fetch-Mode") != "navigate"
        ):
            abort(403, "Requests from other sites are refused.")

    @app.after_request
    def _headers(response: Response) -> Response:
        nonce = getattr(g, "nonce", "")
        response.headers["Content-Security-Policy"] = (
            f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; "
            "font-src 'self'; connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'none'; "
            "frame-ancestors 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response
