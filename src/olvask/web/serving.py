"""The server that listens: how many at once, how long it waits for whom.

- `server_of`: made ready; `run()` serves.
- `Tls`: certificate and key of one that encrypts.
"""

from __future__ import annotations

import logging
import socket
import threading
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from waitress.channel import HTTPChannel
from waitress.server import BaseWSGIServer, create_server
from waitress.wasyncore import close_all, loop

from olvask.web.gate import MOST_BYTES, RUNNING, WAITING

SHORT = 6  # threads that no long answer can hold
SLOWEST_S = 20.0  # a request must have arrived whole by then
IDLE_S = 75  # a connection on which nothing is asked is kept so long
CONNECTIONS = 400
PROXY_SAYS = {"x-forwarded-for", "x-forwarded-host", "x-forwarded-proto"}


class PatientChannel(HTTPChannel):  # type: ignore[misc]  # waitress ships no types
    """A connection that is not waited for for ever: a request that trickles in is given up."""

    begun = 0.0

    def received(self, data: bytes) -> bool:
        """Take what has arrived."""
        if self.request is None:
            self.begun = time.monotonic()
        taken: bool = super().received(data)
        return taken

    def readable(self) -> bool:
        """Whether more is wanted; asked at every turn of the loop."""
        if self.request is not None and not self.requests and time.monotonic() - self.begun > SLOWEST_S:
            self.will_close = True
        wanted: bool = super().readable()
        return wanted


@dataclass(frozen=True, slots=True)
class Tls:
    """Certificate, with those above it, and its key; PEM files."""

    certificate: Path
    key: Path


class EncryptingServer:
    """A server that encrypts by itself, with the same bounds."""

    def __init__(self, app: Any, host: str, port: int, tls: Tls) -> None:
        """Listen.

        Raises:
            OSError: the port is taken, the address is none of this machine's, or the files are no certificate and key.
            ValueError: no host is called so.
        """
        from cheroot.ssl.builtin import BuiltinSSLAdapter
        from cheroot.wsgi import Server

        _try_to_bind(host, port)
        self._server = Server((host, port), app, numthreads=RUNNING + WAITING + SHORT, timeout=int(SLOWEST_S))
        self._server.max_request_body_size = MOST_BYTES + 1
        self._server.ssl_adapter = BuiltinSSLAdapter(str(tls.certificate), str(tls.key))
        self._server.prepare()

    @property
    def effective_port(self) -> int:
        """The port it listens on."""
        return int(self._server.bind_addr[1])

    def run(self) -> None:
        """Serve until it is stopped."""
        try:
            self._server.serve()
        finally:
            self._server.stop()

    def stop(self) -> None:
        """End it; what is being answered comes to its end."""
        self._server.stop()


def _try_to_bind(host: str, port: int) -> None:
    """Have the system say why nothing can listen there: cheroot says only that nothing can.

    Raises:
        OSError: the port is taken, or the address is none of this machine's.
        ValueError: no host is called so.
    """
    family, kind, protocol, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
    with socket.socket(family, kind, protocol) as tried:
        tried.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        tried.bind(address)


class PlainServer:
    """A server that leaves encrypting to whoever stands before it, or does without."""

    def __init__(self, app: Any, host: str, port: int, proxied: dict[str, Any]) -> None:
        """Listen.

        Raises:
            OSError: the port is taken, or the address is none of this machine's.
            ValueError: no host is called so.
        """
        self._map: dict[int, Any] = {}
        self._told, self._over = False, threading.Event()
        self._over.set()
        try:
            self._server = create_server(
                app,
                map=self._map,
                host=host,
                port=port,
                threads=RUNNING + WAITING + SHORT,
                ident=None,
                max_request_body_size=MOST_BYTES + 1,
                connection_limit=CONNECTIONS,
                channel_timeout=IDLE_S,
                cleanup_interval=5,
                channel_request_lookahead=1,  # so that a caller who hangs up is noticed while the answer is worked out
                clear_untrusted_proxy_headers=True,
                **proxied,
            )
        except BaseException:
            close_all(self._map, ignore_all=True)
            raise
        # One for each address that the host's name stands for.
        self._sockets = [each for each in self._map.values() if isinstance(each, BaseWSGIServer)]
        for each in self._sockets:
            each.channel_class = PatientChannel
        logging.getLogger("waitress.queue").setLevel(logging.ERROR)

    @property
    def effective_port(self) -> int:
        """The port it listens on."""
        return int(self._sockets[0].effective_port)

    def run(self) -> None:
        """Serve until it is stopped."""
        self._over.clear()
        try:
            while not self._told:
                loop(timeout=1.0, map=self._map, count=1)
        finally:
            self._over.set()

    def stop(self) -> None:
        """End it; what is being answered comes to its end, within five seconds."""
        self._server.task_dispatcher.shutdown()
        self._told = True
        self._sockets[0].trigger.pull_trigger()
        self._over.wait(5.0)
        close_all(self._map)


def server_of(
    app: Any, host: str, port: int, tls: Tls | None = None, behind_proxy: bool = False
) -> EncryptingServer | PlainServer:
    """A server that listens on `host` and `port`.

    Args:
        app: the application.
        host: address to listen on.
        port: 0 takes a free one.
        tls: encrypts by itself; `None` leaves that to whoever stands before it.
        behind_proxy: what a proxy on this machine says of whom it speaks for is believed.

    Raises:
        OSError: the port is taken, or the address is none of this machine's.
        ValueError: no host is called so.
    """
    if tls is not None:
        return EncryptingServer(app, host, port, tls)
    proxied: dict[str, Any] = (
        {"trusted_proxy": "127.0.0.1", "trusted_proxy_count": 1, "trusted_proxy_headers": PROXY_SAYS}
        if behind_proxy
        else {}
    )
    return PlainServer(app, host, port, proxied)
