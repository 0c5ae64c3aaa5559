"""Refuses who is not to be answered, and sends the security headers."""

from __future__ import annotations

from flask import Flask, Response, abort, g, request

from olvask.web.allowed import LOOPBACK, headers, new_nonce, refusal
from olvask.web.early import NONCE


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
        g.nonce = request.environ.get(NONCE) or new_nonce()
        said = request.headers
        why = refusal(request.host, said.get("Origin"), said.get("Sec-Fetch-Site"), said.get("Sec-Fetch-Mode"), allowed)
        if why is not None:
            abort(403, why)

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers.update(headers(getattr(g, "nonce", "")))
        return response
