"""The server that listens: how many at once, how long it waits for whom.

- `server_of`: made ready; `run()` serves.
"""

from __future__ import annotations

import logging
import time
from typing import Any

from waitress.channel import HTTPChannel
from waitress.server import BaseWSGIServer, create_server

from olvask.web.api.device_logs import MOST_BYTES
from olvask.web.gate import RUNNING, WAITING

SHORT = 6  # threads that no long answer can hold
SLOWEST_S = 20.0  # a request must have arrived whole by then
IDLE_S = 75  # a connection on which nothing is asked is kept so long
CONNECTIONS = 400


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


def server_of(app: Any, host: str, port: int) -> Any:
    """A server that listens on `host` and `port`.

    Args:
        app: the application.
        host: address to listen on.
        port: 0 takes a free one.

    Raises:
        OSError: the port is taken, or the address is none of this machine's.
    """
    listening: dict[int, Any] = {}
    server = create_server(
        app,
        map=listening,
        host=host,
        port=port,
        threads=RUNNING + WAITING + SHORT,
        ident=None,
        max_request_body_size=MOST_BYTES + 1,
        connection_limit=CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=5,
        channel_request_lookahead=1,  # so that a caller who hangs up is noticed while the answer is worked out
    )
    for each in listening.values():
        if isinstance(each, BaseWSGIServer):
            each.channel_class = PatientChannel
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    return server
