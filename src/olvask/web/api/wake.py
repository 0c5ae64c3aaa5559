"""Wake: ways to start judged, the old link, days driven, tolerances and what would cut them."""

from __future__ import annotations

from collections.abc import Iterator

from flask import Response
from pydantic import Field

from olvask.core.analyses.cures import ToleranceCures, curing
from olvask.core.analyses.tolerance import ToleranceReport, Tolerances, analysing
from olvask.core.circuit.level_line import ConditionLine
from olvask.core.model import Design
from olvask.core.model.base import Described, quantity
from olvask.core.model.entry_errors import EntryError
from olvask.core.simulate.day import day_of
from olvask.core.simulate.machine import UnitState
from olvask.core.simulate.moment import moment_line
from olvask.core.simulate.programme import LIBRARY, BadProgramme, Engine, Programme, read_programme
from olvask.core.simulate.record import Sample
from olvask.core.simulate.report import TripReport, report, reporting
from olvask.core.stages.wake.existing_link import ExistingLinkPlan, plan_existing_link
from olvask.core.stages.wake.method import Advice, advise
from olvask.web.api.blueprint import api
from olvask.web.body import BadInput
from olvask.web.reach import answer_json, answer_lines
from olvask.web.shapes import Out

LONGEST_AT_ONCE_S = 35 * 86400.0
LONGEST_TOLD_S = 366 * 86400.0  # a year, told as it goes
TELL_EVERY = 0.05  # of a long run
USUAL = Tolerances()


class TripIn(Described):
    """A design and the day to drive it through."""

    programme: str = Field(title="Programme", max_length=20000)
    samples: int = Field(400, title="Samples", ge=2, le=5000)
    design: Design


class ToleranceFields(Described):
    """How far vehicles differ; volts per 12 V."""

    meter_v: float = quantity("Survey meter", "V", default=USUAL.meter_v, ge=0, le=1, example=0.05, step=0.01)
    threshold_v: float = quantity(
        "Unit's own measuring", "V", default=USUAL.threshold_v, ge=0, le=1, example=0.05, step=0.01
    )
    alternator_v: float = quantity(
        "Alternator, regulator", "V", default=USUAL.alternator_v, ge=0, le=2, example=0.2, step=0.05
    )
    rest_v: float = quantity("Resting voltage", "V", default=USUAL.rest_v, ge=0, le=1, example=0.1, step=0.01)
    age: float = quantity("Battery ages by", "×", default=USUAL.age, ge=0, le=5, example=1, step=0.1)
    coldest_c: float = quantity("Coldest day", "°C", default=USUAL.coldest_c, ge=-50, le=30, example=-10, step=1)
    joint_mohm: float = quantity("Joints gain up to", "mΩ", default=USUAL.joint_mohm, ge=0, le=100, example=6, step=0.5)


class ToleranceIn(ToleranceFields):
    """A design, how many vehicles, and how far they differ."""

    vehicles: int = Field(1000, title="Vehicles", ge=50, le=5000)
    design: Design

    @property
    def tolerances(self) -> Tolerances:
        """How far they differ, as the core takes it."""
        return Tolerances(**{name: getattr(self, name) for name in Tolerances.__slots__})


class TripProgress(Out):
    """One line of a long answer: the share done, or at the end the report."""

    done: float = Field(description="0 to 1")
    report: TripReport | None = None


class ToleranceProgress(Out):
    """One line of a long answer: the share done, or at the end the report."""

    done: float = Field(description="0 to 1")
    report: ToleranceReport | None = None


class CuresProgress(Out):
    """One line of a long answer: the share done, or at the end what would cut the share at fault."""

    done: float = Field(description="0 to 1")
    report: ToleranceCures | None = None


class MomentOut(Out):
    """The level line at a moment."""

    line: ConditionLine


class Programmes(Out):
    """Programmes to begin with, by name."""

    programmes: dict[str, str]


def _needs_unit(design: Design) -> None:
    """Nothing can be driven without a unit.

    Raises:
        BadInput: none is chosen.
    """
    if design.charger is None:
        message = "choose a unit first; nothing starts without one"
        raise BadInput([EntryError(path="design.charger", field="Unit", message=message)])


def _day(text: str, longest_s: float = LONGEST_TOLD_S) -> Programme:
    """A programme as typed.

    Raises:
        BadInput: lines nobody understands, or a day too long to drive here.
    """
    try:
        day = read_programme(text)
    except BadProgramme as error:
        found = [
            EntryError(path="programme", field=f"Programme, line {item.line}", message=item.message)
            for item in error.errors
        ]
        raise BadInput(found) from None
    if day.duration_s > longest_s:
        message = f"longer than {longest_s / 86400:.0f} days; shorten it here, or use the command line"
        raise BadInput([EntryError(path="programme", field="Programme", message=message)])
    return day


@api.get("/programmes")
@api.output(Programmes)
def programmes() -> Response:
    """Day programmes to begin with."""
    return answer_json(Programmes(programmes=LIBRARY))


class OwnDay(Out):
    """The programme a job is driven through where no other is chosen."""

    programme: str


@api.post("/programmes/own")
@api.input(Design, arg_name="design")
@api.output(OwnDay)
def own_programme(design: Design) -> Response:
    """The working day of a design, its surveyed low phases in it."""
    return answer_json(OwnDay(programme=day_of(design)))


@api.post("/trip")
@api.input(TripIn, arg_name="asked")
@api.output(TripReport)
def trip(asked: TripIn) -> Response:
    """Drive a design's vehicle through a programme."""
    return answer_json(report(asked.design, _day(asked.programme, LONGEST_AT_ONCE_S), most=asked.samples))


@api.post("/trip/run")
@api.input(TripIn, arg_name="asked")
@api.output(TripProgress)
def trip_run(asked: TripIn) -> Response:
    """The same told line by line as it goes: each line a share done, the last one the report. Hang up to stop it."""
    day = _day(asked.programme)

    def lines() -> Iterator[TripProgress]:
        last = 0.0
        for told in reporting(asked.design, day, most=asked.samples):
            if not isinstance(told, float):
                yield TripProgress(done=1.0, report=told)
            elif told - last >= TELL_EVERY:
                last = told
                yield TripProgress(done=told)

    return answer_lines(lines())


class MomentIn(Described):
    """One moment of a trip: what its series say there."""

    engine: Engine
    state: UnitState
    input_v: float = quantity("Volts at the unit", "V", ge=0, le=100)
    input_a: float = quantity("Input current", "A", ge=0, le=5000)
    output_a: float = quantity("Output current", "A", ge=0, le=5000)
    post_v: float = quantity("Volts at the posts", "V", ge=0, le=100)
    auxiliary_v: float = quantity("Volts of the auxiliary battery", "V", ge=0, le=100)
    design: Design


@api.post("/trip/moment")
@api.input(MomentIn, arg_name="asked")
@api.output(MomentOut)
def trip_moment(asked: MomentIn) -> Response:
    """The level line at one moment of a trip."""
    values = asked.model_dump(include={"engine", "state", "input_v", "input_a", "output_a", "post_v", "auxiliary_v"})
    sample = Sample(
        time_s=0.0, stage="bulk", start_charge=1.0, auxiliary_charge=1.0, supply_c=0.0, unit_c=0.0, **values
    )
    return answer_json(MomentOut(line=moment_line(asked.design, sample)))


@api.get("/tolerance")
@api.output(ToleranceFields)
def usual_tolerances() -> Response:
    """How far vehicles differ where nobody says."""
    return answer_json(ToleranceFields())


@api.post("/tolerance")
@api.input(ToleranceIn, arg_name="asked")
@api.output(ToleranceProgress)
def tolerance(asked: ToleranceIn) -> Response:
    """The same settings over many vehicles, told line by line: each a share done, the last one the report."""
    _needs_unit(asked.design)

    def lines() -> Iterator[ToleranceProgress]:
        for told in analysing(asked.design, tolerances=asked.tolerances, vehicles=asked.vehicles):
            yield ToleranceProgress(done=told) if isinstance(told, float) else ToleranceProgress(done=1.0, report=told)

    return answer_lines(lines())


@api.post("/tolerance/cures")
@api.input(ToleranceIn, arg_name="asked")
@api.output(CuresProgress)
def cures(asked: ToleranceIn) -> Response:
    """What would cut the share at fault, told line by line; over a quarter of the vehicles for each change tried."""
    _needs_unit(asked.design)

    def lines() -> Iterator[CuresProgress]:
        for told in curing(asked.design, tolerances=asked.tolerances, vehicles=max(1, asked.vehicles // 4)):
            yield CuresProgress(done=told) if isinstance(told, float) else CuresProgress(done=1.0, report=told)

    return answer_lines(lines())


@api.post("/methods")
@api.input(Design, arg_name="design")
@api.output(Advice)
def methods(design: Design) -> Response:
    """Every way of starting and stopping the unit judged, the best one first."""
    return answer_json(advise(design))


@api.post("/old-link")
@api.input(Design, arg_name="design")
@api.output(ExistingLinkPlan)
def old_link(design: Design) -> Response:
    """What becomes of a link that was there before: decision, relay, loads before and after."""
    return answer_json(plan_existing_link(design))
