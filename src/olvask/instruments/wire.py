"""One line there, one line back: SCPI over a socket, connected for as long as a question takes.

- `Wire`: an open connection.
- `Silent`: it does not answer; says what to do.
"""

from __future__ import annotations

import socket
import time
from types import TracebackType

CONNECT_S, ANSWER_S = 2.0, 12.0  # a meter on a slow range integrates for seconds; our own estimates
LONGEST = 4096


class Silent(Exception):
    """The instrument does not answer."""


class Wire:
    """A connection to one instrument; closed at the end of a `with`."""

    def __init__(self, name: str, host: str, port: int) -> None:
        """Connect.

        Args:
            name: what it is called.
            host, port: where it is.

        Raises:
            Silent: nobody is there.
        """
        self.name, self.at = name, f"{host}:{port}"
        try:
            self._socket = socket.create_connection((host, port), CONNECT_S)
        except (OSError, UnicodeError):  # the latter of a name that no host can have
            raise Silent(
                f"{name} does not answer at {self.at}. See that it is on and its cable in; or type the reading."
            ) from None
        self._socket.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)  # a line is short, and waits for nothing
        self._come = b""  # and not yet read

    def __enter__(self) -> Wire:
        """Itself."""
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        """Hang up."""
        self._socket.close()

    def tell(self, line: str) -> None:
        """Send a command.

        Raises:
            Silent: the connection is gone.
        """
        try:
            self._socket.settimeout(ANSWER_S)
            self._socket.sendall(f"{line}\n".encode())
        except OSError:
            raise self._gone() from None

    def ask(self, line: str) -> str:
        """Send a question, and wait for its answer.

        Raises:
            Silent: the connection is gone, or no whole line comes in time.
        """
        self.tell(line)
        until = time.monotonic() + ANSWER_S
        while b"\n" not in self._come and len(self._come) < LONGEST:
            self._come += self._more(until)
        answer, _, self._come = self._come.partition(b"\n")
        return answer[:LONGEST].decode("utf-8", "replace").strip()

    def _more(self, until: float) -> bytes:
        """What comes next, however little; all of an answer has one time to come in."""
        try:
            self._socket.settimeout(max(until - time.monotonic(), 1e-3))
            come = self._socket.recv(LONGEST)
        except OSError:
            raise self._gone() from None
        if not come:
            raise self._gone()
        return come

    def _gone(self) -> Silent:
        return Silent(
            f"{self.name} at {self.at} stopped answering. See its cable, then read again; or type the reading."
        )
