"""Long answers are worked out a few at a time, so that short ones never wait for them.

- `Gate`: lets a few in, has a few more wait, and turns the rest away for now.
"""

from __future__ import annotations

import threading
from types import TracebackType

RUNNING = 2  # worked on at once: more would only take turns on the interpreter
WAITING = 4
MOST_BYTES = 400 * 1024 * 1024  # of a body, where a log is taken in: five million rows; our own estimate


class TooMany(RuntimeError):
    """As many long answers are being worked out, and waited for, as there is room for."""


class Place:
    """One long answer's place; entered when its turn comes, given back once."""

    def __init__(self, gate: Gate) -> None:
        self._gate, self._held, self._left = gate, False, False

    def __enter__(self) -> Place:
        self._gate.running.acquire()
        self._held = True
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.leave()

    def leave(self) -> None:
        """Give it back; a second time does nothing."""
        if self._held:
            self._held = False
            self._gate.running.release()
        if not self._left:
            self._left = True
            self._gate.taken.release()


class Gate:
    """How many long answers there may be."""

    def __init__(self, running: int = RUNNING, waiting: int = WAITING) -> None:
        """Let `running` work at once and `waiting` more wait."""
        self.running = threading.Semaphore(running)
        self.taken = threading.Semaphore(running + waiting)

    def enter(self) -> Place:
        """A place, taken at once.

        Raises:
            TooMany: there is none.
        """
        if not self.taken.acquire(blocking=False):
            raise TooMany
        return Place(self)
