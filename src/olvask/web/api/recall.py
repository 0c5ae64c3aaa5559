"""Work over the whole yard, told job by job with the share that is done: recall, judging anew, tolerances."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from flask import Response, current_app
from pydantic import Field

from olvask.core.analyses.recall import WHAT, Holds, Recalled, What
from olvask.core.model import Charger
from olvask.core.model.base import Described, choice, whole
from olvask.store.shelf import NoSuchItem
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_lines, stores
from olvask.web.shapes import Out
from olvask.work.spread import NoScheduler, OtherOlvask, Spread
from olvask.work.yard import Told, reassess, recall, sweep

MOST_VEHICLES = 1000  # of each job
Work = Literal["judge", "tolerance"]
WORK: dict[Work, str] = {"judge": "every job judged anew", "tolerance": "every job within tolerances"}


class RecallIn(Described):
    """What is looked for."""

    what: What = choice("What", WHAT)
    key: str = Field(title="Which", min_length=1, max_length=80)


class YardWorkIn(Described):
    """What is to be done over the whole yard."""

    work: Work = choice("Work over the yard", WORK)
    vehicles: int = whole("Vehicles of each job", "vehicles", default=100, example=100, ge=1, le=MOST_VEHICLES)


class YardLine(Out):
    """How far it is, and a job of which there is something to tell."""

    done: float
    trouble: str = Field("", description="why it cannot go on; empty where it can")
    job: int | None = None
    title: str = ""
    code: str = ""
    unreadable: bool = False

    @classmethod
    def fields_of(cls, told: Told) -> dict[str, object]:
        """What every line of it has."""
        return {
            "done": told.done,
            "job": told.job_id or None,
            "title": told.heading.title,
            "code": told.heading.code,
            "unreadable": bool(told.unreadable),
        }


class RecallLine(YardLine):
    """How far it is, and a job that holds it."""

    where: tuple[Holds, ...] = ()
    changed: Recalled | None = None


class AtFault(Out):
    """Of many vehicles of one job, the shares at fault, 0 to 1."""

    start: float
    hunt: float
    drain: float
    any: float


class YardWorkLine(YardLine):
    """How far it is, and a job that is not as it was when it was saved, or at fault within tolerances."""

    come: tuple[str, ...] = ()
    go: tuple[str, ...] = ()
    shares: AtFault | None = None


def _spread() -> Spread:
    found: Spread = current_app.extensions["olvask.spread"]
    return found


@api.post("/recall")
@api.input(RecallIn, arg_name="asked")
@api.output(RecallLine)
def recalled(asked: RecallIn) -> Response:
    """Every job that holds it, as lines of JSON; hanging up ends the work."""
    held, spread, unit = stores(), _spread(), _unit(asked)

    def lines() -> Iterator[RecallLine]:
        try:
            for told in recall(held, spread, asked.what, asked.key, unit):
                yield RecallLine.model_validate(
                    RecallLine.fields_of(told) | {"where": told.where, "changed": told.recalled}
                )
        except (NoScheduler, OtherOlvask) as error:
            yield RecallLine(done=1.0, trouble=str(error))

    return answer_lines(lines())


@api.post("/yard/work")
@api.input(YardWorkIn, arg_name="asked")
@api.output(YardWorkLine)
def yard_work(asked: YardWorkIn) -> Response:
    """Every job judged anew or driven within tolerances, as lines of JSON; hanging up ends the work."""
    held, spread = stores(), _spread()

    def lines() -> Iterator[YardWorkLine]:
        try:
            work = reassess(held, spread) if asked.work == "judge" else sweep(held, spread, asked.vehicles)
            for told in work:
                yield _work_line(told)
        except (NoScheduler, OtherOlvask) as error:
            yield YardWorkLine(done=1.0, trouble=str(error))

    return answer_lines(lines())


def _work_line(told: Told) -> YardWorkLine:
    changed = told.changed.splitlines()
    shares = told.shares
    return YardWorkLine.model_validate(
        YardWorkLine.fields_of(told)
        | {
            "come": [line[1:] for line in changed if line.startswith("+")],
            "go": [line[1:] for line in changed if not line.startswith("+")],
            "shares": shares and AtFault(start=shares.start, hunt=shares.hunt, drain=shares.drain, any=shares.any),
        }
    )


def _unit(asked: RecallIn) -> Charger | None:
    """The shelf's own unit of that number, as it is now; none where it is looked for by a name."""
    if asked.what != "unit":
        return None
    try:
        item = stores().shelf.get("chargers", asked.key).item
    except NoSuchItem:
        return None
    return item if isinstance(item, Charger) else None
