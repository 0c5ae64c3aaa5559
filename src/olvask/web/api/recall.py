"""Recall: every job that holds a thing, told job by job with the share of the yard that is done."""

from __future__ import annotations

from collections.abc import Iterator

from flask import Response
from pydantic import Field

from olvask.core.analyses.recall import WHAT, Holds, Recalled, What, holds, with_item
from olvask.core.model import Charger
from olvask.core.model.base import Described, choice
from olvask.store.jobs import NoSuchJob, UnreadableJob
from olvask.store.shelf import NoSuchItem
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_lines, stores
from olvask.web.shapes import Out

STRIDE = 50  # jobs between two tellings of how far it is


class RecallIn(Described):
    """What is looked for."""

    what: What = choice("What", WHAT)
    key: str = Field(title="Which", min_length=1, max_length=80)


class RecallLine(Out):
    """How far it is, and a job that holds it."""

    done: float
    job: int | None = None
    title: str = ""
    code: str = ""
    where: tuple[Holds, ...] = ()
    changed: Recalled | None = None
    unreadable: bool = False


@api.post("/recall")
@api.input(RecallIn, arg_name="asked")
@api.output(RecallLine)
def recall(asked: RecallIn) -> Response:
    """Every job that holds it, as lines of JSON; hanging up ends the work."""
    held = stores()
    unit = _unit(asked)

    def lines() -> Iterator[RecallLine]:
        ids = held.jobs.ids()
        for at, number in enumerate(ids, 1):
            done = at / len(ids)
            try:
                job = held.jobs.get(number)
            except NoSuchJob:
                continue  # taken out meanwhile
            except UnreadableJob:
                yield RecallLine(done=done, job=number, unreadable=True)
                continue
            where = holds(job.design, asked.what, asked.key)
            if where:
                changed = with_item(job.design, unit) if unit is not None else None
                yield RecallLine(
                    done=done, job=job.id, title=job.heading.title, code=job.heading.code, where=where, changed=changed
                )
            elif at % STRIDE == 0:
                yield RecallLine(done=done)
        yield RecallLine(done=1.0)

    return answer_lines(lines())


def _unit(asked: RecallIn) -> Charger | None:
    """The shelf's own unit of that number, as it is now; none where it is looked for by a name."""
    if asked.what != "unit":
        return None
    try:
        item = stores().shelf.get("chargers", asked.key).item
    except NoSuchItem:
        return None
    return item if isinstance(item, Charger) else None
