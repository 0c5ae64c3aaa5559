"""A trip as series, events and totals: what screens, the command line and files show of it."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated

from pydantic import Field

from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.physics.battery import REFERENCE_C, cold_capacity_factor
from olvask.core.simulate.batteries import cranks_a
from olvask.core.simulate.machine import Settings, What
from olvask.core.simulate.programme import Programme
from olvask.core.simulate.record import Sample, Trip
from olvask.core.simulate.trip import Trial, drive

HUNTING_STARTS = 3  # in one stretch: so often it is called hunting
CRANK_S = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class TripEvent:
    """Something that happened on a trip."""

    time_s: float
    what: What
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TripSeries:
    """A trip moment by moment, one list a quantity, all of one length."""

    time_s: tuple[float, ...]
    state: tuple[str, ...]
    stage: Annotated[tuple[str, ...], Field(description="of the charge, where it charges: bulk, absorption, float")]
    engine: tuple[str, ...]
    input_v: tuple[float, ...]
    input_a: tuple[float, ...]
    output_a: tuple[float, ...]
    post_v: tuple[float, ...]
    auxiliary_v: tuple[float, ...]
    start_charge: tuple[float, ...]
    auxiliary_charge: tuple[float, ...]
    supply_c: Annotated[tuple[float, ...], Field(description="hottest conductor of the supply run")]
    unit_c: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TripTotals:
    """What a trip comes to."""

    starts: int
    guard_trips: Annotated[int, Field(description="how often the battery guard switched it off")]
    hunting: Annotated[bool, Field(description="three starts or more while the vehicle did nothing new")]
    charging_min: float
    engine_off_charging_min: float
    charged_ah: Annotated[float, Field(description="out of the unit")]
    input_ah: float
    input_wh: float
    output_wh: float
    drained_ah: Annotated[float, Field(description="taken from the start battery by the unit with the engine off")]
    cold_ah: Annotated[
        float, Field(description="pushed into the auxiliary battery below the least charging temperature")
    ]
    refused_min: Annotated[float, Field(description="minutes in which a pack's own cut-off refused the cold")]
    lowest_start_charge: float
    reserve_cranks: Annotated[
        float, Field(description="cranks of three seconds left at worst, above the charge to keep")
    ]
    hottest_supply_c: Annotated[
        float | None, Field(description="conductor of the supply run; none where it never charged")
    ]
    hottest_unit_c: float | None
    start_charge: Annotated[float, Field(description="at the end")]
    auxiliary_charge: Annotated[float, Field(description="at the end")]
    cut_s: Annotated[
        float | None, Field(description="driven no further than this, having acted 5,000 times; else none")
    ]


class TripReport(Said):
    """A trip as series, events and totals."""

    duration_s: float
    series: TripSeries
    events: tuple[TripEvent, ...]
    totals: TripTotals


def report(
    design: Design, programme: Programme, settings: Settings | None = None, most: int | None = None
) -> TripReport:
    """Drive a programme and report on it.

    Args:
        design: the design.
        programme: the day.
        settings: stand in for the design's own activation.
        most: samples wanted at most; edges and events are kept, quiet stretches thinned out.
    """
    return _reported(design, programme, drive(design, programme, settings), most)


def reporting(design: Design, programme: Programme, most: int | None = None) -> Iterator[float | TripReport]:
    """Drive a programme, telling the share done from time to time and the report at the end.

    Args:
        design: the design.
        programme: the day.
        most: samples wanted at most.
    """
    trial = Trial(design, programme)
    yield from trial.parts()
    yield _reported(design, programme, trial.trip, most)


def _reported(design: Design, programme: Programme, trip: Trip, most: int | None) -> TripReport:
    samples = trip.samples if most is None else thinned(trip, most)
    return TripReport(
        duration_s=programme.duration_s,
        series=_series(samples),
        events=tuple(
            TripEvent(time_s=round(event.time_s, 3), what=event.what, text=event.text) for event in trip.events
        ),
        totals=totals_of(design, trip),
    )


def thinned(trip: Trip, most: int) -> list[Sample]:
    """At most about `most` samples: every change of state or engine with its neighbours, and the rest evenly in time."""
    samples = trip.samples
    if len(samples) <= most:
        return samples
    keep = {0, len(samples) - 1}
    for at, (before, after) in enumerate(pairwise(samples), start=1):
        if before.state != after.state or before.engine != after.engine:
            keep |= {at - 1, at}
    times = [sample.time_s for sample in samples]
    spare = max(2, most - len(keep))
    span = times[-1] - times[0]
    for part in range(spare):
        keep.add(bisect_right(times, times[0] + span * part / spare) - 1)
    return [samples[at] for at in sorted(keep)]


def _series(samples: list[Sample]) -> TripSeries:
    return TripSeries(
        time_s=tuple(round(item.time_s, 3) for item in samples),
        state=tuple(item.state for item in samples),
        stage=tuple(item.stage if item.state == "charging" else "" for item in samples),
        engine=tuple(item.engine for item in samples),
        input_v=tuple(round(item.input_v, 4) for item in samples),
        input_a=tuple(round(item.input_a, 3) for item in samples),
        output_a=tuple(round(item.output_a, 3) for item in samples),
        post_v=tuple(round(item.post_v, 4) for item in samples),
        auxiliary_v=tuple(round(item.auxiliary_v, 4) for item in samples),
        start_charge=tuple(round(item.start_charge, 5) for item in samples),
        auxiliary_charge=tuple(round(item.auxiliary_charge, 5) for item in samples),
        supply_c=tuple(round(item.supply_c, 2) for item in samples),
        unit_c=tuple(round(item.unit_c, 2) for item in samples),
    )


def hunts(trip: Trip) -> bool:
    """Whether it started again and again by itself: three times while the vehicle did nothing new, however slowly."""
    starts = Counter(event.stretch for event in trip.events if event.what == "start")
    return max(starts.values(), default=0) >= HUNTING_STARTS


def cranks_left(design: Design, charge: float, celsius: float = REFERENCE_C) -> float:
    """Cranks of three seconds above the charge to keep, counted in ampere-hours.

    Args:
        design: the design.
        charge: state of charge of the start battery, 0 to 1.
        celsius: its temperature [°C]; the cold leaves less of the charge to be had.
    """
    spare_ah = max(0.0, charge - design.choices.keep_state_of_charge) * design.vehicle.start_battery.capacity_ah
    return spare_ah * cold_capacity_factor(celsius) / (cranks_a(design.vehicle) * CRANK_S / 3600)


def totals_of(design: Design, trip: Trip) -> TripTotals:
    """What a trip comes to.

    Args:
        design: the design driven.
        trip: what came of it.
    """
    charged = trip.charging_s > 0
    return TripTotals(
        starts=trip.starts,
        guard_trips=trip.guard_trips,
        hunting=hunts(trip),
        charging_min=trip.charging_s / 60,
        engine_off_charging_min=trip.engine_off_charging_s / 60,
        charged_ah=trip.charged_ah,
        input_ah=trip.input_ah,
        input_wh=trip.input_wh,
        output_wh=trip.output_wh,
        drained_ah=trip.drained_ah,
        cold_ah=trip.cold_ah,
        refused_min=trip.refused_s / 60,
        lowest_start_charge=trip.lowest_start_charge,
        reserve_cranks=cranks_left(design, trip.lowest_start_charge, trip.coldest_c),
        hottest_supply_c=trip.hottest_supply_c if charged else None,
        hottest_unit_c=trip.hottest_unit_c if charged else None,
        start_charge=trip.start_charge,
        auxiliary_charge=trip.auxiliary_charge,
        cut_s=trip.cut_s,
    )
