"""What every endpoint reaches for: the stores of the running application, and an answer as JSON."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from contextlib import nullcontext
from functools import wraps
from typing import Any

from flask import Response, current_app, request
from pydantic import BaseModel

from olvask.core.model.house import House
from olvask.store.jobs import Job, SpoiltJob
from olvask.store.stores import Stores
from olvask.turns import Turns
from olvask.web.body import LARGE
from olvask.web.gate import Gate, Place

LINES = "application/x-ndjson"


def stores() -> Stores:
    """The stores of the running application.

    Raises:
        TypeError: it was made without any.
    """
    found = current_app.extensions["olvask.stores"]
    if not isinstance(found, Stores):
        raise TypeError("the application has no stores")
    return found


def house_now() -> House:
    """The house rules as they are now."""
    return stores().house.get().house


def answer_json(model: BaseModel, status: int = 200, without: dict[str, Any] | None = None) -> Response:
    """A model as a JSON response.

    Args:
        model: what is answered.
        status: HTTP status.
        without: what is left out of it, as pydantic's `exclude`.
    """
    return Response(model.model_dump_json(exclude=without), status=status, mimetype="application/json")


def answer_lines(models: Iterable[BaseModel | None]) -> Response:
    """Models as JSON, one a line, each sent as soon as it is there; a caller that hangs up ends the work.

    Args:
        models: what is told, and `None` where there is nothing to tell yet but the work could stop.
    """
    gone: Callable[[], bool] = request.environ.get("waitress.client_disconnected", lambda: False)
    gate: Gate = current_app.extensions["olvask.gate"]
    place = gate.enter()

    def lines() -> Iterator[str]:
        with place:
            for model in models:
                if gone():
                    return
                if model is not None:
                    yield f"{model.model_dump_json()}\n"

    answer = Response(lines(), mimetype=LINES)
    answer.call_on_close(place.leave)  # though nothing of it was ever sent
    return answer


def in_turn() -> Place:
    """A place among the long answers, for one that is not told line by line; entered when its turn comes.

    Raises:
        TooMany: there is none.
    """
    gate: Gate = current_app.extensions["olvask.gate"]
    return gate.enter()


def one_by_one(view: Callable[..., Response]) -> Callable[..., Response]:
    """An answer of a few milliseconds that needs nothing but its question: one is worked out after another.

    Threads that share an interpreter end no sooner for being worked on at once: of sixteen alike all then end last.

    Args:
        view: the endpoint, what reads its body included.
    """

    @wraps(view)
    def waits(**given: Any) -> Response:
        turns: Turns = current_app.extensions["olvask.turns"]
        # It has arrived whole before anybody is kept waiting; one of absurd size keeps nobody.
        with turns if len(request.get_data()) <= LARGE else nullcontext():
            return view(**given)

    return waits


def attached(job: Job | SpoiltJob, ending: str) -> dict[str, str]:
    """The header that names a file after its job.

    Args:
        job: the job.
        ending: what the file's name ends in.
    """
    plain = re.sub(r"[^A-Za-z0-9]+", "-", job.heading.code or f"job-{job.id}").strip("-").lower()
    return {"Content-Disposition": f'inline; filename="{plain or "job"}.{ending}"'}
