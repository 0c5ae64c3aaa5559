"""Logs of devices: how a kind is read, taking one in, what it says, and a while of it beside the simulation."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Iterator
from io import BytesIO
from typing import BinaryIO, NamedTuple

from flask import Response, current_app, request
from pydantic import Field

from olvask.core.analyses.device_log import Course, Log, LogReport, LogWindow, log_report, window
from olvask.core.circuit.context import Context
from olvask.core.model.base import Described
from olvask.core.model.device_log import MEASURED, MEASURES, UNITS, LogMapping, Measured, signature_of
from olvask.logs.gathered import LogRead
from olvask.logs.sniff import BadLog, Sniffed, sniff
from olvask.store.device_logs import KeptLog, LogAbout
from olvask.store.jobs import NoSuchJob
from olvask.web.api.blueprint import api
from olvask.web.gate import MOST_BYTES
from olvask.web.reach import answer_json, answer_lines, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import Out

SAMPLE_BYTES = 1024 * 1024
MOST_SHOWN = 400  # happenings told with the report; all of a while come with its picture
FIRST_ROWS = 6
AT_HAND = 2


class LookedAt(Out):
    """What a log's file looks like."""

    sniffed: Sniffed
    kind: int | None = Field(description="number of its kind, where logs of it were mapped before")
    mapping: LogMapping | None
    units: dict[str, tuple[str, ...]] = Field(description="units each measure can be written in")


class KindOut(Out):
    """A kind of log that is known."""

    kind: int


class Shown(Out):
    """One row of a log as it is read."""

    time_s: float
    values: tuple[str, ...]


class TriedOut(Out):
    """The first rows of a file as a kind's mapping reads them, and what it leaves out."""

    labels: tuple[str, ...]
    rows: tuple[Shown, ...]
    troubles: tuple[str, ...]


class TakeQuery(Described):
    """Which kind of log it is, and its file's name."""

    kind: int = Field(title="Kind of log", ge=1)
    name: str = Field("log.csv", title="File", min_length=1, max_length=120)


class TakenLine(Out):
    """How far taking in is; its number in the end, or what is wrong."""

    done: float
    log: int | None = None
    fault: str = ""


class KeptLogs(Out):
    """A job's logs."""

    logs: tuple[KeptLog, ...]


class LogOut(Out):
    """A log and what it says."""

    kept: KeptLog
    report: LogReport


class WindowQuery(Described):
    """From when to when, seconds since 1970."""

    from_s: float = Field(0.0, title="From")
    to_s: float = Field(1e11, title="To")


@api.post("/log-kinds/look")
@api.output(LookedAt)
def look_at_log() -> Response:
    """How a file is likely to be read: its beginning, and whole lines from further on behind it."""
    request.max_content_length = SAMPLE_BYTES
    found = sniff(request.get_data(cache=False))
    known = stores().device_logs.kind_of(signature_of(found.delimiter, found.columns))
    kind, mapping = known if known is not None else (None, None)
    if mapping is not None and (mapping.decimal, mapping.encoding) != (found.decimal, found.encoding):
        # The same columns written otherwise, as from a device set to another language: seen before it is believed.
        kind, mapping = None, mapping.model_copy(update={"decimal": found.decimal, "encoding": found.encoding})
    fresh = _fresh_states(mapping, found) if mapping is not None else ()
    if mapping is not None and fresh:
        kind = None
        charging = tuple(word for word in fresh if word in found.charging)
        resting = tuple(word for word in fresh if word not in found.charging)
        more = {"charging": mapping.charging + charging, "resting": mapping.resting + resting}
        mapping = mapping.model_copy(update=more)
    units = {name: tuple(UNITS[measure.unit]) for name, measure in MEASURES.items()}
    return answer_json(LookedAt(sniffed=found, kind=kind, mapping=mapping, units=units))


def _fresh_states(mapping: LogMapping, found: Sniffed) -> tuple[str, ...]:
    """States that were never seen in a log of this kind: looked at before they count."""
    at = mapping.at("charging")
    known = {*mapping.charging, *mapping.resting}
    return tuple(word for word in found.words[at] if word not in known) if at is not None else ()


@api.post("/log-kinds")
@api.input(LogMapping, arg_name="mapping")
@api.output(KindOut)
@once_a_name
def keep_kind(mapping: LogMapping) -> Response:
    """Keep how a kind of log is read."""
    return answer_json(KindOut(kind=stores().device_logs.keep_kind(mapping)))


@api.post("/log-kinds/<int:kind>/try")
@api.output(TriedOut)
def try_kind(kind: int) -> Response:
    """The first rows of a file's sample as its kind reads them."""
    from olvask.logs.reading import read  # only here: what reads tables is large, and most never see a log

    request.max_content_length = SAMPLE_BYTES
    mapping = stores().device_logs.kind(kind)
    raw = request.get_data(cache=False)
    got = _last(read(BytesIO(raw), mapping, len(raw)))
    names = [name for name in MEASURED if name in got.log.values]
    return answer_json(
        TriedOut(
            labels=tuple(f"{MEASURES[name].label} [{MEASURES[name].unit}]".removesuffix(" []") for name in names),
            rows=tuple(
                Shown(
                    time_s=float(got.log.time_s[at]),
                    values=tuple(_as_read(name, float(got.log.values[name][at])) for name in names),
                )
                for at in range(min(FIRST_ROWS, len(got.log)))
            ),
            troubles=tuple(trouble.text for trouble in got.troubles),
        )
    )


def _as_read(name: Measured, value: float) -> str:
    if name != "charging":
        return f"{value:.2f}"
    return "unknown" if math.isnan(value) else "charges" if value > 0.5 else "does not charge"


def _last(parts: Iterator[float | LogRead]) -> LogRead:
    for part in parts:
        if isinstance(part, LogRead):
            return part
    raise BadLog("The file holds no row.")


@api.post("/jobs/<int:job_id>/logs/take")
@api.input(TakeQuery, location="query", arg_name="asked")
@api.output(TakenLine)
def take_log(job_id: int, asked: TakeQuery) -> Response:
    """Take a log in, told as lines of JSON; hanging up ends the work."""
    request.max_content_length = MOST_BYTES
    held = stores()
    mapping = held.device_logs.kind(asked.kind)
    held.device_logs.all(job_id)  # the job is there
    from olvask.logs.reading import read

    size = request.content_length or 0
    if size > MOST_BYTES:
        raise BadLog(f"The file has {size >> 20} MB, and {MOST_BYTES >> 20} are taken; save the log in parts.")
    stream: BinaryIO = request.environ["wsgi.input"]

    def lines() -> Iterator[TakenLine]:
        try:
            for part in read(stream, mapping, size):
                if not isinstance(part, LogRead):
                    yield TakenLine(done=part)
                    continue
                about = LogAbout(
                    name=asked.name,
                    rows=len(part.log),
                    begins_s=float(part.log.time_s[0]),
                    ends_s=float(part.log.time_s[-1]),
                    mapping=mapping,
                    troubles=tuple(trouble.text for trouble in part.troubles),
                )
                yield TakenLine(done=0.95)
                yield TakenLine(done=1.0, log=held.device_logs.add(job_id, about, part.log))
        except (BadLog, NoSuchJob, ValueError) as error:
            yield TakenLine(done=1.0, fault=str(error))

    return answer_lines(lines())


@api.get("/jobs/<int:job_id>/logs")
@api.output(KeptLogs)
def logs(job_id: int) -> Response:
    """A job's logs, the latest first."""
    return answer_json(KeptLogs(logs=tuple(stores().device_logs.all(job_id))))


@api.get("/jobs/<int:job_id>/logs/<int:log>")
@api.output(LogOut)
def log_says(job_id: int, log: int) -> Response:
    """What a log says against the job's design as it is now."""
    found = _read(job_id, log)
    report = found.report
    telling = tuple(item for item in report.happened if item.what not in ("start", "stop"))
    return answer_json(LogOut(kept=found.kept, report=report.model_copy(update={"happened": telling[:MOST_SHOWN]})))


@api.get("/jobs/<int:job_id>/logs/<int:log>/window")
@api.input(WindowQuery, location="query", arg_name="asked")
@api.output(LogWindow)
def log_window(job_id: int, log: int, asked: WindowQuery) -> Response:
    """A while of a log beside the simulation of the same while."""
    found = _read(job_id, log)
    return answer_json(window(found.ctx, found.log, found.course, found.report.happened, asked.from_s, asked.to_s))


@api.delete("/jobs/<int:job_id>/logs/<int:log>")
@api.output(KeptLogs)
def drop_log(job_id: int, log: int) -> Response:
    """Take a log out."""
    stores().device_logs.remove(job_id, log)
    return logs(job_id)


class Reading(NamedTuple):
    """A log read against a design."""

    kept: KeptLog
    log: Log
    report: LogReport
    course: Course
    ctx: Context


def _read(job_id: int, log: int) -> Reading:
    """A log read against the job's design as it is; the last few are kept at hand, for a picture is asked for again."""
    job = stores().jobs.get(job_id)
    kept = stores().device_logs.about(job_id, log)
    hand: OrderedDict[tuple[int, int, int], Reading] = current_app.extensions.setdefault("olvask.logs", OrderedDict())
    key = (job_id, job.version, log)
    found = hand.get(key)
    if found is None:
        columns = stores().device_logs.log(job_id, log)
        ctx = Context.of(job.design)
        report, course = log_report(ctx, columns)
        found = hand[key] = Reading(kept, columns, report, course, ctx)
        while len(hand) > AT_HAND:
            hand.popitem(last=False)
    return found
