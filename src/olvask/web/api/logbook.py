"""The logbook of a vehicle: visits, readings with where they lead, and what it uses and gets."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from flask import Response

from olvask.core.analyses.logbook import CHARGE, DRIVEN, FOLLOWED, Followed, Kind, Noted, Trend, kinds_of, trends_of
from olvask.core.analyses.refit import DayReading, Refit, refit
from olvask.core.circuit.context import Context
from olvask.core.stages.build.progress import Entry, StepState, progress_of
from olvask.core.stages.prove.noted import PROVE, cures_noted
from olvask.web.api.blueprint import api
from olvask.web.api.build_log import LOGBOOK
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import Out

SERVICE, PART = "service_due", "part"
# Readings of Prove that the logbook follows too.
ALSO: dict[str, Followed] = {"rest.start": "rest_start_v", "standby_ma": "standby_ma"}
DAY_S = 86400.0


class LogbookOut(Out):
    """Everything noted in the logbook, newest first, and what it comes to."""

    entries: tuple[Entry, ...]
    kinds: tuple[Kind, ...]
    trends: tuple[Trend, ...]
    use: Refit | None
    service_due: str


@api.get("/jobs/<int:job_id>/logbook")
@api.output(LogbookOut)
def logbook(job_id: int) -> Response:
    """Visits and readings of a job's vehicle, where they lead, and what the driver's own diary says of its use."""
    job = stores().jobs.get(job_id)
    states = progress_of(stores().build.entries(job_id))
    entries = sorted(
        (entry for state in states if state.procedure == LOGBOOK for entry in state.entries),
        key=lambda item: (item.at, item.id),
        reverse=True,
    )
    kinds = kinds_of(job.design.vehicle.system_v)
    diary = _diary(entries, kinds)
    due = next((entry.text for entry in entries if entry.step == SERVICE), "")
    return answer_json(
        LogbookOut(
            entries=tuple(entries),
            kinds=kinds,
            trends=trends_of(Context.of(job.design), _noted(states), _changed(states)),
            use=refit(job.design, diary) if diary else None,
            service_due=due,
        )
    )


def _day(at: str) -> float:
    return datetime.fromisoformat(at).timestamp() / DAY_S


def _noted(states: Sequence[StepState]) -> dict[Followed, list[Noted]]:
    """Readings of each quantity that is followed, those of Prove among them."""
    found: dict[Followed, list[Noted]] = {}
    for state in states:
        key = next((name for name in FOLLOWED if state.procedure == LOGBOOK and name == state.step), None)
        if key is None and state.procedure == PROVE:
            key = ALSO.get(state.step)
        if key is None:
            continue
        found.setdefault(key, []).extend(
            Noted(day=_day(entry.at), value=entry.value)
            for entry in state.entries
            if entry.kind == "reading" and entry.value is not None
        )
    return found


def _changed(states: Sequence[StepState]) -> list[float]:
    """Days on which a fault was mended or a part changed."""
    parts = [
        entry
        for state in states
        if (state.procedure, state.step) == (LOGBOOK, PART)
        for entry in state.entries
        if entry.kind == "note"
    ]
    return [_day(entry.at) for entry in (*parts, *(entry for state in states for entry in cures_noted(state)))]


def _diary(entries: Sequence[Entry], kinds: Sequence[Kind]) -> list[DayReading]:
    """Charge and hours driven, noted at one moment; without what cannot be, which a store from before may hold."""
    holds = {kind.key: kind.holds for kind in kinds}
    driven = {entry.at: entry.value or 0.0 for entry in entries if entry.step == DRIVEN}
    return [
        DayReading(day=_day(entry.at), percent=entry.value, driven_h=driven.get(entry.at, 0.0))
        for entry in entries
        if entry.step == CHARGE and entry.value is not None and holds[CHARGE](entry.value)
        if holds[DRIVEN](driven.get(entry.at, 0.0))
    ]
