"""Working through a procedure: its steps, what is noted at them, photographs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Annotated

from flask import Response, request
from pydantic import Field, field_validator

from olvask.core.analyses.bench_test import BenchTest, bench_test_of
from olvask.core.analyses.logbook import kinds_of
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.model.entry_errors import EntryError
from olvask.core.stages.build.procedure import BUILD, Work, procedure_of
from olvask.core.stages.build.progress import Entry, EntryKind, Left, StepState, left_of, progress_of
from olvask.store.jobs import Job, UnreadableJob
from olvask.store.photographs import MOST_BYTES, remade
from olvask.web.api.blueprint import api
from olvask.web.body import BadInput
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import MOST_READING, Out
from olvask.web.signing_in import person

LOGBOOK = "Logbook"  # procedure of what is noted there


class EntryIn(Described):
    """One thing noted at a step."""

    id: str = Field(title="Identity", pattern=r"^[A-Za-z0-9-]{8,40}$")
    procedure: str = Field(BUILD, title="Procedure", min_length=1, max_length=80)
    step: str = Field(title="Step", min_length=1, max_length=60)
    kind: EntryKind = Field(title="What")
    text: str = Field("", title="Remark", max_length=400)
    value: float | None = Field(None, title="Reading", ge=-MOST_READING, le=MOST_READING)
    unit: str = Field("", title="Unit", max_length=8)
    photo: str = Field("", title="Photograph", max_length=64)
    by: str = Field("", title="Initials", max_length=12)
    at: datetime = Field(title="When")

    @field_validator("at")
    @classmethod
    def _in_utc(cls, value: datetime) -> datetime:
        if value.tzinfo is None:
            value = value.replace(tzinfo=UTC)
        if not 1970 < value.year < 9000:
            raise ValueError("the date lies outside of any calendar a workshop keeps; set the clock of the device")
        return value.astimezone(UTC)


class EntriesIn(Described):
    """What was noted since last time; sent again, nothing is doubled."""

    entries: tuple[EntryIn, ...] = Field(title="Entries", min_length=1, max_length=200)


class BuildLog(Out):
    """Everything noted on a job, step by step."""

    steps: tuple[StepState, ...]


class KeptPhotograph(Out):
    """The name of a photograph that was kept."""

    photo: Annotated[str, Field(description="hash of what it holds")]


@api.post("/build/procedure")
@api.input(Design, arg_name="design")
@api.output(Work)
def procedure(design: Design) -> Response:
    """The steps of a design in its own order with their reasons, and the ways back of its unit and battery."""
    return answer_json(procedure_of(Context.of(design)))


class BenchTestOut(Out):
    """A bench test; none without a unit or a way to start it."""

    test: BenchTest | None


@api.post("/build/bench")
@api.input(Design, arg_name="design")
@api.output(BenchTestOut)
def bench_test(design: Design) -> Response:
    """What a supply does step by step before the unit is fitted, and what the unit must do at each."""
    return answer_json(BenchTestOut(test=bench_test_of(Context.of(design))))


@api.get("/jobs/<int:job_id>/build")
@api.output(BuildLog)
def build_log(job_id: int) -> Response:
    """What was noted at each step, by whom and when."""
    return _log(stores().build.entries(job_id))


def left_on(job: Job) -> Left:
    """What of a stored job's procedure is not done.

    Args:
        job: the job.
    """
    states = progress_of(stores().build.entries(job.id))
    return left_of(procedure_of(Context.of(job.design)).procedure, states)


@api.get("/jobs/<int:job_id>/build/left")
@api.output(Left)
def build_left(job_id: int) -> Response:
    """Steps that are open or were skipped, carried to the hand-over."""
    return answer_json(left_on(stores().jobs.get(job_id)))


@api.post("/jobs/<int:job_id>/build")
@api.input(EntriesIn, arg_name="noted")
@api.output(BuildLog)
def note(job_id: int, noted: EntriesIn) -> Response:
    """Add entries; each is known by its identity, none is ever overwritten."""
    who = person()  # whoever is signed in signs with their own initials
    own = {} if who is None else {"by": who.initials}
    if slips := list(_slips(job_id, noted.entries)):
        raise BadInput(slips)
    entries = [Entry(**item.model_dump() | {"at": item.at.isoformat()} | own) for item in noted.entries]
    return _log(stores().build.add(job_id, entries))


def _slips(job_id: int, entries: Sequence[EntryIn]) -> Iterator[EntryError]:
    """Readings of the logbook that cannot be so; of a job that cannot be read any are taken."""
    if not any(entry.procedure == LOGBOOK and entry.value is not None for entry in entries):
        return
    try:
        named = {kind.key: kind for kind in kinds_of(stores().jobs.get(job_id).design.vehicle.system_v)}
    except UnreadableJob:
        return
    for at, entry in enumerate(entries):
        kind = named.get(entry.step) if entry.procedure == LOGBOOK else None
        if kind is not None and entry.value is not None and not kind.holds(entry.value):
            said = f"{entry.value:g} {kind.unit} is out of range; give a number from {kind.least:g} to {kind.most:g}"
            yield EntryError(path=f"entries.{at}.value", field=kind.label, message=said)


def _log(entries: list[Entry]) -> Response:
    return answer_json(BuildLog(steps=progress_of(entries)))


@api.post("/jobs/<int:job_id>/build/photographs")
@api.output(KeptPhotograph)
def keep_photograph(job_id: int) -> Response:
    """Keep a photograph, drawn anew: smaller, upright, without the place it was taken at."""
    request.max_content_length = MOST_BYTES
    photograph = remade(request.get_data(cache=False))
    stores().build.keep(job_id, photograph)
    return answer_json(KeptPhotograph(photo=photograph.id))


@api.get("/jobs/<int:job_id>/build/photographs/<string:photo>.jpg")
def photograph(job_id: int, photo: str) -> Response:
    """A photograph."""
    return _picture(stores().build.photograph(job_id, photo).picture)


@api.get("/jobs/<int:job_id>/build/thumbnails/<string:photo>.jpg")
def thumbnail(job_id: int, photo: str) -> Response:
    """A photograph, small."""
    return _picture(stores().build.photograph(job_id, photo).thumbnail)


def _picture(jpeg: bytes) -> Response:
    response = Response(jpeg, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
