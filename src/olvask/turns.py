"""One after another, in the order they came.

- `Turns`: what threads take turns at.
"""

from __future__ import annotations

import threading
import time
from collections import deque
from types import TracebackType


class Turns:
    """One after another, in the order they came: a plain lock lets who comes later get in before, again and again."""

    def __init__(self, patience_s: float | None = None) -> None:
        """Nobody's turn yet.

        Args:
            patience_s: how long one waits while nobody comes to an end [s]; `None` for as long as it takes.
        """
        self._patience_s = patience_s
        self._lock = threading.Lock()
        self._waiting: deque[threading.Lock] = deque()
        self._taken = False
        self._ended = time.monotonic()

    @property
    def waiting(self) -> int:
        """How many wait for their turn."""
        return len(self._waiting)

    def __enter__(self) -> None:
        """Wait for one's turn.

        Raises:
            TimeoutError: nobody before came to an end for longer than one waits.
        """
        with self._lock:
            if not self._taken:
                self._taken = True
                return
            called = threading.Lock()
            called.acquire()
            self._waiting.append(called)
        self._wait(called)

    def _wait(self, called: threading.Lock) -> None:
        if self._patience_s is None:
            called.acquire()
            return
        came = time.monotonic()
        while (left_s := max(came, self._ended) + self._patience_s - time.monotonic()) > 0:
            if called.acquire(timeout=left_s):
                return
        with self._lock:
            if called not in self._waiting:
                return  # called at the last moment
            self._waiting.remove(called)
        raise TimeoutError

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        """Hand on to whoever came next; a `TimeoutError` is no end that gives the others hope."""
        with self._lock:
            if kind is None or not issubclass(kind, TimeoutError):
                self._ended = time.monotonic()
            if self._waiting:
                self._waiting.popleft().release()
            else:
                self._taken = False
