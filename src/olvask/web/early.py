"""What is answered while the application is still being loaded: the page down to what the store tells, and its parts.

A browser fetches and reads a second's worth of parts; that it can do while this process reads its own. Whatever else
is asked waits for the application, and so does whoever may not be answered. Nothing heavy is imported here.
"""

from __future__ import annotations

import errno
import threading
from collections.abc import Callable, Iterable, Iterator
from typing import Any

from waitress.channel import ClientDisconnected

from olvask.web.allowed import LOOPBACK, headers, new_nonce, refusal
from olvask.web.page import BUILT, PAGE_KEPT, PARTS_KEPT, is_page, packed, top

NONCE = "olvask.nonce"  # under which a page begun here hands its nonce on
Environ = dict[str, Any]
Application = Callable[[Environ, Callable[..., Any]], Iterable[bytes]]


class BrokenOff(ClientDisconnected, ConnectionResetError):  # type: ignore[misc]  # waitress ships no types
    """A page that was begun cannot be ended; either server then cuts the connection, so that no half of it is kept."""


class Early:
    """A WSGI application that stands in for one still to come."""

    def __init__(self, hosts: frozenset[str]) -> None:
        """Know who is answered.

        Args:
            hosts: host names served besides loopback.
        """
        self._allowed = LOOPBACK | hosts
        self._app: Application | None = None
        self._decided = threading.Event()
        folder = BUILT / "assets"
        self._parts = {f"assets/{item.name}" for item in folder.iterdir()} if folder.is_dir() else set()

    def ready(self, app: Application) -> None:
        """From now on everything is answered by the application.

        Args:
            app: the application.
        """
        self._app = app
        self._decided.set()

    def give_up(self) -> None:
        """No application will come: whoever waits is sent away."""
        self._decided.set()

    def __call__(self, environ: Environ, start_response: Callable[..., Any]) -> Iterable[bytes]:
        """Answer, or wait for the application."""
        if self._app is None and environ["REQUEST_METHOD"] == "GET" and not self._refused(environ):
            path = environ["PATH_INFO"].lstrip("/")
            if path in self._parts:
                return _part(path, environ, start_response)
            if is_page(path):
                return self._page(environ, start_response)
        return self._answered(environ, start_response)

    def _refused(self, environ: Environ) -> bool:
        origin, site, mode = (environ.get(f"HTTP_{name}") for name in ("ORIGIN", "SEC_FETCH_SITE", "SEC_FETCH_MODE"))
        return refusal(environ.get("HTTP_HOST", ""), origin, site, mode, self._allowed) is not None

    def _answered(self, environ: Environ, start_response: Callable[..., Any]) -> Iterable[bytes]:
        self._decided.wait()
        if self._app is None:
            start_response("503 Service Unavailable", [("Content-Type", "text/plain"), ("Retry-After", "2")])
            return [b"Olvask could not be started."]
        return self._app(environ, start_response)

    def _page(self, environ: Environ, start_response: Callable[..., Any]) -> Iterator[bytes]:
        """The page: its top at once, the rest from the application."""
        nonce = environ[NONCE] = new_nonce()
        said = {"Content-Type": "text/html; charset=utf-8", "Cache-Control": PAGE_KEPT, **headers(nonce)}
        start_response("200 OK", list(said.items()))
        begun = top(nonce).encode()
        yield begun
        self._decided.wait()
        if self._app is None:
            raise BrokenOff(errno.ECONNRESET, "the application could not be loaded")
        whole = self._app(environ, lambda *_: None)
        try:
            yield b"".join(whole).removeprefix(begun)
        finally:
            close = getattr(whole, "close", None)
            if close is not None:
                close()


def _part(path: str, environ: Environ, start_response: Callable[..., Any]) -> Iterable[bytes]:
    """A part of the page."""
    codings = {word.strip() for word in environ.get("HTTP_ACCEPT_ENCODING", "").split(",")}
    part = packed(path, codings)
    data = (BUILT / part.file).read_bytes()
    kind = part.kind or "application/octet-stream"
    if kind.startswith("text/"):
        kind += "; charset=utf-8"
    said = {"Content-Type": kind, "Content-Length": str(len(data))}
    if part.coding is not None:
        said["Content-Encoding"] = part.coding
    said |= {"Vary": "Accept-Encoding", "Cache-Control": PARTS_KEPT, **headers(new_nonce())}
    start_response("200 OK", list(said.items()))
    return [data]
