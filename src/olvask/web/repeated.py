"""What is asked again because its answer was lost on the way is done once, and answered as the first time.

A browser gives what it makes a name of its own (`Idempotency-Key`, as the HTTP working group's draft of that header has it)
and asks again under the same one. Answers are kept in this process for an hour: long enough for whoever stands there and
presses again.

- `once_a_name`: marks an endpoint that makes something.
- `Answers`: those of late.
"""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, ParamSpec

from flask import Response, current_app, g, request

HEADER = "Idempotency-Key"
LONGEST = 100  # of a name; a longer one names nothing
Given = ParamSpec("Given")
MOST, KEPT_S = 500, 3600.0  # our own estimates: nobody makes so many things, or presses again so late


@dataclass(slots=True)
class _Answer:
    """One that is being worked on, or was given."""

    begun_s: float
    given: threading.Event = field(default_factory=threading.Event)
    body: bytes = b""
    status: int = 0
    kind: str = ""


class Answers:
    """The answers of late, by who asked for what under which name."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        """Take the time from `clock` [s]."""
        self._clock, self._lock = clock, threading.Lock()
        self._known: OrderedDict[Hashable, _Answer] = OrderedDict()

    def of(self, name: Hashable, work: Callable[[], Response]) -> Response:
        """The answer under a name: worked out, waited for where somebody is at it, or as it was given.

        Args:
            name: who asks for what, and the name given to it.
            work: works it out; whatever it raises is raised here, and nothing is kept of it.
        """
        while True:
            with self._lock:
                self._forget()
                known = self._known.get(name)
                if known is None:
                    mine = self._known[name] = _Answer(self._clock())
            if known is None:
                return self._worked_out(name, mine, work)
            known.given.wait()
            if known.status:
                return Response(known.body, known.status, mimetype=known.kind)

    def _worked_out(self, name: Hashable, mine: _Answer, work: Callable[[], Response]) -> Response:
        try:
            answer = work()
            mine.body, mine.kind = answer.get_data(), answer.mimetype or ""
            mine.status = answer.status_code
            return answer
        finally:
            if not mine.status:
                with self._lock:
                    self._known.pop(name, None)
            mine.given.set()

    def _forget(self) -> None:
        """Let go of the oldest that were given."""
        now = self._clock()
        while self._known:
            name, oldest = next(iter(self._known.items()))
            if not oldest.given.is_set() or (len(self._known) < MOST and now - oldest.begun_s < KEPT_S):
                return
            del self._known[name]


def once_a_name(function: Callable[Given, Response]) -> Callable[Given, Response]:
    """Mark an endpoint that makes something: under one name it makes it once.

    Args:
        function: the endpoint.
    """

    @wraps(function)
    def answer(*given: Given.args, **named: Given.kwargs) -> Response:
        name = request.headers.get(HEADER, "")
        if not name or len(name) > LONGEST:
            return function(*given, **named)
        person: Any = g.get("person")
        answers: Answers = current_app.extensions.setdefault("olvask.answers", Answers())
        return answers.of((person and person.id, request.path, name), lambda: function(*given, **named))

    answer.once_a_name = True  # type: ignore[attr-defined]  # told of the endpoint, for a test that reads them all
    return answer
