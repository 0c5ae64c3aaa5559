"""The same settings over many vehicles: how many fail to start, hunt or drain, and which tolerance matters most.

Vehicles are drawn by a low-discrepancy sequence, so that the same design always gives the same answer and a thousand
of them fill the tolerances evenly. A tolerance is meant as plus or minus two standard deviations, but for age and
joints, which only grow.

- `Tolerances`: how wide each is.
- `analyse`: the whole analysis; `analysing`: the same with its progress.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields, replace
from itertools import pairwise
from statistics import NormalDist
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import Rule
from olvask.core.findings.driven import spoken
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.simulate.machine import Settings, settings_of
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.programme import LIBRARY, Programme, Stretch, read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.states import Moment, State, Variation
from olvask.core.simulate.trip import Trial

VEHICLES = 1000
ASKED = 40  # failing vehicles asked what would have cured them
WIDER = 2.0  # where nothing fails, tolerances are widened by this to find what would first
WIDER_VEHICLES = 250
SHOWN = 200  # vehicles whose volts are shown
PRIMES = (2, 3, 5, 7, 11, 13)
NORMAL = NormalDist()
BATCH = 10
LATE_S = 20.0  # charging on with the engine off longer than the stop delay and this drains
ANSWERS = ("do not start", "hunt or stop under their own load", "drain the start battery")


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """Where a voltage lies over many vehicles, as the unit measures it: of a hundred, the 1st, 10th, 50th, 90th and 99th."""

    key: Literal["rest", "unloaded", "loaded"]
    label: str
    volts: tuple[float, float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class ToleranceShare:
    """One tolerance: how wide, and how many of the failing vehicles would be sound if it were exact."""

    key: str
    label: str
    spread: str
    cures: Annotated[float | None, Field(description="0 to 1; none where nothing fails")]


class ToleranceReport(Said):
    """The same settings over many vehicles that differ within tolerances."""

    vehicles: int
    fail_to_start: float = Field(description="share, 0 to 1")
    hunt: float
    drain: float
    any_fault: float
    widened: float = Field(description="factor on the tolerances at which what matters most was found")
    widened_fault: float = Field(description="share at fault with the tolerances widened so")
    matters: tuple[ToleranceShare, ...] = Field(description="what matters most first")
    spreads: tuple[Spread, ...]
    text: str


@dataclass(frozen=True, slots=True)
class Tolerances:
    """How far vehicles differ; volts per 12 V.

    Attributes:
        meter_v: the meter the survey was made with [V].
        threshold_v: the unit's own measuring of its input [V].
        alternator_v: regulators, by make and temperature [V].
        rest_v: the resting battery, by charge and surface charge [V].
        age: growth of the start battery's resistance up to, 1 for twice; it loses 30 % of capacity at that.
        coldest_c: coldest day; the warmest is the design's [°C].
        joint_mohm: resistance the supply run's joints gain with age, up to [mΩ].
    """

    meter_v: float = 0.05
    threshold_v: float = 0.05
    alternator_v: float = 0.20
    rest_v: float = 0.10
    age: float = 1.0
    coldest_c: float = -10.0
    joint_mohm: float = 6.0


LABELS = {
    "meter_v": "meter of the survey",
    "threshold_v": "the unit's own measuring",
    "alternator_v": "alternator and its regulator",
    "rest_v": "resting voltage: charge, surface charge",
    "battery": "start battery, age and cold",
    "joint_mohm": "joints ageing in the supply run",
}


@dataclass(frozen=True, slots=True)
class Drawn:
    """One vehicle, each tolerance as a share of its spread: normal ones around 0, growing ones from 0 to 1."""

    meter_v: float
    threshold_v: float
    alternator_v: float
    rest_v: float
    battery: float
    joint_mohm: float


NAMES = tuple(item.name for item in fields(Drawn))


def radical_inverse(index: int, base: int) -> float:
    """The Halton sequence: the digits of `index` in `base`, mirrored at the point.

    Args:
        index: from 1.
        base: a prime.

    Source: J. H. Halton, Numerische Mathematik 2 (1960).
    """
    share, result = 1.0, 0.0
    while index > 0:
        share /= base
        index, digit = divmod(index, base)
        result += share * digit
    return result


def _draw(index: int, widened: float) -> Drawn:
    even = [radical_inverse(index + 20, prime) for prime in PRIMES]  # the first few of the sequence lie in step
    meter, threshold, alternator, rest = (widened * NORMAL.inv_cdf(share) / 2 for share in even[:4])
    return Drawn(meter, threshold, alternator, rest, widened * even[4], widened * even[5])


def vehicles_of(count: int) -> list[Drawn]:
    """The first vehicles of the sequence, always the same ones.

    Args:
        count: how many.
    """
    return [_draw(index, 1.0) for index in range(1, count + 1)]


class Fleet:
    """Many vehicles of one design under one set of thresholds."""

    def __init__(self, design: Design, day: Programme | None, tolerances: Tolerances | None) -> None:
        """Solve the design once; vehicles are varied from it.

        Args:
            design: the design; it needs a unit.
            day: what each vehicle does; ten minutes of everything where left out.
            tolerances: how far vehicles differ; the usual where left out.

        Raises:
            ValueError: the design has no unit.
        """
        if design.charger is None:
            raise ValueError("choose a unit first: without one nothing starts")
        self.design = design
        self.day = day or read_programme(LIBRARY["ten minutes"])
        self.tolerances = tolerances or Tolerances()
        self.solved: Solved = solve(design)
        self.plant = Plant(design, self.solved)
        self.settings: Settings = settings_of(design, self.solved)

    def vehicle(self, drawn: Drawn) -> tuple[Plant, Settings, Programme]:
        """One vehicle: its plant, the thresholds as its unit measures them, its day's air."""
        wide, scale = self.tolerances, self.plant.scale
        surveyed_v = drawn.meter_v * wide.meter_v * scale
        older = drawn.battery * wide.age
        plant = self.plant.varied(
            Variation(
                rest_v=surveyed_v + drawn.rest_v * wide.rest_v * scale,
                alternator_v=surveyed_v + drawn.alternator_v * wide.alternator_v * scale,
                start_ohm=1 + older,
                start_ah=max(0.3, 1 - 0.3 * older),
                joint_ohm=drawn.joint_mohm * wide.joint_mohm / 1000,
            )
        )
        off_v, at = drawn.threshold_v * wide.threshold_v * scale, self.settings
        settings = replace(
            at,
            start_rules=tuple(Rule(rule.volts + off_v, rule.held_s) for rule in at.start_rules),
            stop_rules=tuple(Rule(rule.volts + off_v, rule.held_s) for rule in at.stop_rules),
            guard_v=at.guard_v + off_v,
            back_v=at.back_v + off_v,
        )
        warm_c = self.day.ambient_c
        ambient_c = warm_c + min(1.0, drawn.battery) * (min(wide.coldest_c, warm_c) - warm_c)
        return plant, settings, replace(self.day, ambient_c=ambient_c)

    def faults(self, drawn: Drawn) -> tuple[bool, bool, bool]:
        """Whether this vehicle fails to start, hunts, drains; one that is seen to hunt is driven no further."""
        plant, settings, day = self.vehicle(drawn)
        trial = Trial(self.design, day, settings, self.solved, recorded=False, plant=plant, enough=self._hunts)
        return self._judge(trial.run(), settings)

    def _hunts(self, trip: Trip) -> bool:
        """Whether it has stopped while the engine ran as it should."""
        stretches = self.day.stretches
        return any(
            event.what in ("stop", "guard", "collapse") and stretches[event.stretch].engine in ("idle", "cruise")
            for event in trip.events
        )

    def _judge(self, trip: Trip, settings: Settings) -> tuple[bool, bool, bool]:
        stretches = self.day.stretches
        hunts = self._hunts(trip)
        standing = any(event.what == "start" and not stretches[event.stretch].running for event in trip.events)
        halts = sum(later.engine == "off" and before.running for before, later in pairwise(stretches))
        allowed_s = halts * ((settings.stop_held_s if "voltage" in settings.ways else 0.0) + LATE_S)
        keep = min(self.design.choices.keep_state_of_charge, self.day.start_charge - 0.02)
        drains = standing or trip.engine_off_charging_s > allowed_s or trip.lowest_start_charge < keep
        running = any(event.what == "start" and stretches[event.stretch].running for event in trip.events)
        return not running, hunts, drains

    def volts(self, drawn: Drawn) -> tuple[float, float, float | None]:
        """Rest, unloaded and loaded running volts as this vehicle's unit measures them."""
        plant, settings, _ = self.vehicle(drawn)
        off_v = settings.guard_v - self.settings.guard_v
        state = State(self.day.start_charge, 0.5, 1.0, 1.0, 0.0)
        rest_v = plant.start.open_v(self.day.start_charge) + plant.surface_v
        if self.solved.facts.lifted is not None:
            rest_v = max(rest_v, plant.start.ceiling_v)
        open_v: list[float] = []
        loaded_v: list[float] = []
        for stretch in (Stretch("idle", 1.0, True), Stretch("cruise", 1.0, True)):
            for drawing, seen in ((False, open_v), (True, loaded_v)):
                moment = Moment(stretch, True, plant.air(self.day.ambient_c), 0.0, drawing, 1.0, plant.full_v)
                flow = plant.flow(state, moment)
                seen.append(0.0 if flow.collapsed else flow.volts)
        return rest_v - off_v, min(open_v) - off_v, min(loaded_v) - off_v if min(loaded_v) > 0 else None


def analysing(
    design: Design, day: Programme | None = None, tolerances: Tolerances | None = None, vehicles: int = VEHICLES
) -> Iterator[float | ToleranceReport]:
    """Analyse, telling the share done from time to time and the report at the end.

    Args:
        design: the design; it needs a unit.
        day: what each vehicle does; ten minutes of everything where left out.
        tolerances: how far vehicles differ.
        vehicles: how many.

    Raises:
        ValueError: the design has no unit.
    """
    fleet = Fleet(design, day, tolerances)
    drawn = vehicles_of(vehicles)
    found: list[tuple[bool, bool, bool]] = []
    for at, one in enumerate(drawn):
        found.append(fleet.faults(one))
        if at % BATCH == BATCH - 1:
            yield 0.8 * (at + 1) / vehicles
    widened = 1.0
    failing = [one for one, faults in zip(drawn, found, strict=True) if any(faults)]
    share = len(failing) / vehicles
    wider_share = share
    if not failing:
        widened = WIDER
        few = [_draw(index, WIDER) for index in range(1, min(vehicles, WIDER_VEHICLES) + 1)]
        failing = [one for one in few if any(fleet.faults(one))]
        wider_share = len(failing) / len(few)
    yield 0.9
    yield _report(fleet, drawn, found, failing, (widened, wider_share))


def analyse(
    design: Design, day: Programme | None = None, tolerances: Tolerances | None = None, vehicles: int = VEHICLES
) -> ToleranceReport:
    """Drive many vehicles that differ within tolerances through a short day, all with the design's thresholds.

    Args:
        design: the design; it needs a unit.
        day: what each vehicle does; ten minutes of everything where left out.
        tolerances: how far vehicles differ.
        vehicles: how many.

    Raises:
        ValueError: the design has no unit.
    """
    *_, last = analysing(design, day, tolerances, vehicles)
    if not isinstance(last, ToleranceReport):
        raise TypeError("the analysis ended without its report")
    return last


def _cures(fleet: Fleet, failing: list[Drawn]) -> dict[str, float | None]:
    """Of the failing vehicles, how many would be sound with one tolerance exact."""
    asked = failing[:ASKED]  # the sequence fills its space evenly from the start
    if not asked:
        return dict.fromkeys(NAMES)
    return {
        name: sum(not any(fleet.faults(replace(one, **{name: 0.0}))) for one in asked) / len(asked) for name in NAMES
    }


def _report(
    fleet: Fleet,
    drawn: list[Drawn],
    found: list[tuple[bool, bool, bool]],
    failing: list[Drawn],
    wider: tuple[float, float],
) -> ToleranceReport:
    count = len(found)
    starts, hunts, drains = (sum(faults[kind] for faults in found) / count for kind in range(3))
    any_fault = sum(any(faults) for faults in found) / count
    cures = _cures(fleet, failing)
    shown = sorted(NAMES, key=lambda name: -(cures[name] or 0.0))
    matters = tuple(
        ToleranceShare(key=name, label=LABELS[name], spread=_spread(fleet, name), cures=cures[name]) for name in shown
    )
    report = ToleranceReport(
        vehicles=count,
        fail_to_start=starts,
        hunt=hunts,
        drain=drains,
        any_fault=any_fault,
        widened=wider[0],
        widened_fault=wider[1],
        matters=matters,
        spreads=_spreads(fleet, drawn),
        text=_text(any_fault, (starts, hunts, drains), matters[0], wider),
    )
    return spoken(fleet.design, report)


def _spread(fleet: Fleet, name: str) -> str:
    wide, scale = fleet.tolerances, fleet.plant.scale
    if name == "battery":
        return f"resistance up to {1 + wide.age:g} times, down to {wide.coldest_c:g} °C"
    if name == "joint_mohm":
        return f"up to {wide.joint_mohm:g} mΩ more"
    return f"±{getattr(wide, name) * scale:.2f} V"


def _spreads(fleet: Fleet, drawn: list[Drawn]) -> tuple[Spread, ...]:
    seen = [fleet.volts(one) for one in drawn[:SHOWN]]
    rows = (("rest", "engine off"), ("unloaded", "running, unit idle"), ("loaded", "running, full current"))
    found = []
    for at, (key, label) in enumerate(rows):
        volts = sorted(value for one in seen if (value := one[at]) is not None)
        if volts:
            marks = tuple(volts[round(share * (len(volts) - 1))] for share in (0.01, 0.1, 0.5, 0.9, 0.99))
            found.append(Spread(key=key, label=label, volts=marks))  # type: ignore[arg-type]
    return tuple(found)


def _text(any_fault: float, kinds: tuple[float, float, float], most: ToleranceShare, wider: tuple[float, float]) -> str:
    if any_fault == 0 and wider[1] == 0:
        return f"None fails, nor would with tolerances {wider[0]:g} times as wide."
    cured = f"{most.label} ({most.spread}) matters most: exact, {percent(most.cures or 0.0)} of those at fault would be sound"
    if any_fault == 0:
        return f"None fails. With tolerances {wider[0]:g} times as wide {percent(wider[1], 1)} would; then {cured}."
    shown = ", ".join(f"{percent(share, 1)} {name}" for share, name in zip(kinds, ANSWERS, strict=True) if share > 0)
    if not most.cures:
        return f"{percent(any_fault, 1)} of vehicles fail: {shown}. No single tolerance is to blame: the settings are wrong for the design itself."
    return f"{percent(any_fault, 1)} of vehicles fail: {shown}. The {cured}."
