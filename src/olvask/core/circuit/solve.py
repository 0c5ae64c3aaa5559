"""A design solved: survey defaults filled in, every operating condition's volts and amps.

- `Facts`: survey values with where they came from.
- `solve`: the circuit in each condition, conductor temperature iterated with the current.
- `ampacity`: continuous current of a cable by the chosen school.
"""

from __future__ import annotations

import math
from collections.abc import Container, Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from olvask.core.catalogue import ampacity_table, chemistries, conductor, device, regulations
from olvask.core.findings.figure import Input
from olvask.core.model import Branch, Cable, ChassisReturn, Design, Joint, Piece, ProtectiveDevice, Run
from olvask.core.physics.alternator import Draw, Source, draw
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.conductors import METAL_FACTOR, resistance_ohm
from olvask.core.physics.dc_path import Collapse
from olvask.core.physics.heat import ambient_factor, conductor_c

ConditionKey = Literal["parked", "idle", "cruise", "low"]
RunName = Literal["supply", "delivery"]
RUNNING: tuple[ConditionKey, ...] = ("idle", "cruise", "low")

LIFTED_V = {"solar": 13.8, "maintainer": 13.4, "other": 13.4}  # per 12 V, when not measured
STANDING_DRAIN_MA = 30.0
SURFACE_CHARGE_V = 0.1
SAG_MOHM = 3.0
HOT_IDLE_SHARE = 0.5
CRUISE_SHARE = 0.9
CHASSIS_MOHM = 5.0
PLACE_C = {"cabin": 30.0, "cupboard": 45.0, "under_floor": 40.0, "engine_bay": 70.0}
# Circuits bunched together, IEC 60364-5-52:2009 Table B.52.17 item 1.
GROUP_FACTOR = {1: 1.0, 2: 0.80, 3: 0.70, 4: 0.65, 5: 0.60, 6: 0.57}
CONDUIT_HINDRANCE = 1.3  # table current in conduit over free air, squared and inverted
WORKING_CHARGE = 0.8  # state of charge of a start battery in daily use
SETTLED = 2e-4  # relative change of current between rounds at which current and temperature are taken as settled
ROUNDS = 30


@dataclass(frozen=True, slots=True)
class Facts:
    """Survey values a rule may use, defaults filled in, each with its provenance."""

    rest: Input
    after_stop: Input
    idle: Input
    cruise: Input
    low: Input | None
    sag: Input
    share: Input
    charge_limit: Input
    absorption: Input
    unit_ambient: Input
    margin: Input
    lifted: Input | None
    daily: Input | None
    loads_driving: Input
    standing_drain: Input
    scale: float

    @property
    def rest_high_v(self) -> float:
        """Highest engine-off voltage [V]: rested, just after stopping, or lifted by a panel or maintainer."""
        return max(float(item.value) for item in (self.rest, self.after_stop, self.lifted) if item is not None)

    def by_path(self) -> dict[str, Input]:
        """Each value under its path in the design."""
        known = (getattr(self, name) for name in self.__slots__ if name != "scale")
        return {item.path: item for item in known if item is not None}


def fact(design: Design, path: str, label: str, unit: str, value: float | None, default: float) -> Input:
    """A survey value with its provenance: as recorded, "own" where typed without one, or a default.

    Args:
        design: for its provenance record.
        path: dotted path of the value.
        label: what it is.
        unit: unit symbol.
        value: as described, `None` when absent.
        default: stands in for an absent value.
    """
    if value is None:
        return Input(label, default, unit, "default", path)
    return Input(label, value, unit, str(design.provenance.get(path, "own")), path)


def gather(design: Design) -> Facts:
    """Fill in defaults for what the survey left open."""
    vehicle, readings, start, auxiliary = (
        design.vehicle,
        design.vehicle.readings,
        design.vehicle.start_battery,
        design.auxiliary,
    )
    scale = vehicle.system_v / 12
    band = regulations()["converter" if vehicle.drive == "converter" else vehicle.alternator.regulation]
    idle_v, cruise_v = band.idle_v, band.cruise_v
    chemistry = chemistries()[auxiliary.chemistry]
    rest = fact(
        design,
        "vehicle.readings.rest_v",
        "Engine off, rested",
        "V",
        readings.rest_v,
        open_circuit_v(start.chemistry, 1.0, vehicle.system_v),
    )
    managed = vehicle.alternator.regulation == "managed" and vehicle.drive == "engine"
    low = None
    if managed or readings.low_phase_v is not None:
        low = fact(
            design, "vehicle.readings.low_phase_v", "Low phase", "V", readings.low_phase_v, band.low_phase_v * scale
        )
    absorption_unit_v = chemistry.absorption_v * auxiliary.nominal_v / 12
    return Facts(
        rest=rest,
        after_stop=fact(
            design,
            "vehicle.readings.after_stop_v",
            "Just after stopping",
            "V",
            readings.after_stop_v,
            float(rest.value) + SURFACE_CHARGE_V * scale,
        ),
        idle=fact(design, "vehicle.readings.idle_v", "Hot idle, charger idle", "V", readings.idle_v, idle_v * scale),
        cruise=fact(
            design, "vehicle.readings.cruise_v", "Cruise, charger idle", "V", readings.cruise_v, cruise_v * scale
        ),
        low=low,
        sag=fact(
            design,
            "vehicle.alternator.sag_mohm",
            "Source resistance",
            "mΩ",
            vehicle.alternator.sag_mohm,
            SAG_MOHM * scale,
        ),
        share=fact(
            design,
            "vehicle.alternator.hot_idle_share",
            "Share at hot idle",
            "-",
            vehicle.alternator.hot_idle_share,
            1.0 if vehicle.drive == "converter" else HOT_IDLE_SHARE,
        ),
        charge_limit=fact(
            design,
            "auxiliary.charge_limit_a",
            "Charge limit of the battery",
            "A",
            auxiliary.charge_limit_a,
            chemistry.charge_c_rate * auxiliary.capacity_ah,
        ),
        absorption=fact(design, "auxiliary.absorption_v", "Absorption", "V", auxiliary.absorption_v, absorption_unit_v),
        unit_ambient=fact(
            design, "mount.ambient_c", "Ambient at the unit", "°C", design.mount.ambient_c, PLACE_C[design.mount.place]
        ),
        lifted=_lifted(design, scale),
        daily=_daily(design),
        loads_driving=_loads_driving(design),
        standing_drain=fact(
            design,
            "vehicle.standing_drain_ma",
            "Standing drain on the start battery",
            "mA",
            vehicle.standing_drain_ma,
            STANDING_DRAIN_MA,
        ),
        margin=fact(design, "choices.margin_v", "Threshold margin", "V", design.choices.margin_v, 0.15 * scale),
        scale=scale,
    )


def _lifted(design: Design, scale: float) -> Input | None:
    """Highest engine-off voltage that a panel or a maintainer gives the start battery."""
    lifted = [
        fact(
            design,
            f"vehicle.lifters.{at}.lifts_to_v",
            f"Lifted by {item.kind}",
            "V",
            item.lifts_to_v,
            LIFTED_V[item.kind] * scale,
        )
        for at, item in enumerate(design.vehicle.lifters)
    ]
    if design.solar.panel_w is not None and design.solar.into == "start_side" and not lifted:
        lifted.append(Input("Lifted by solar", LIFTED_V["solar"] * scale, "V", "default", "solar.into"))
    return max(lifted, key=lambda item: float(item.value), default=None)


def _daily(design: Design) -> Input | None:
    """Daily use standing [Ah]: as given, else what the loads add up to."""
    use = design.use
    if use.daily_ah is not None:
        return fact(design, "use.daily_ah", "Daily use, standing", "Ah", use.daily_ah, 0.0)
    if not use.loads:
        return None
    return Input(
        "Daily use, from the loads",
        sum(load.current_a * load.duty * load.standing_h for load in use.loads),
        "Ah",
        "computed",
        "use.daily_ah",
    )


def _loads_driving(design: Design) -> Input:
    """Loads on the auxiliary battery while driving [A]."""
    use = design.use
    summed_a = math.fsum(load.current_a * load.duty for load in use.loads if load.driving)
    if use.loads_driving_a is None and use.loads:
        return Input("Loads while driving, from the loads", summed_a, "A", "computed", "use.loads_driving_a")
    return fact(design, "use.loads_driving_a", "Loads while driving", "A", use.loads_driving_a, 0.0)


def cable_ambient_c(cable: Cable) -> float:
    """Air around a cable [°C]: as given, else the default of its place."""
    return PLACE_C[cable.place] if cable.ambient_c is None else cable.ambient_c


def ampacity(cable: Cable, school: str) -> tuple[float, str]:
    """Continuous current [A] of a cable and the table it came from.

    Args:
        cable: the cable.
        school: "enclosed" or "free_air"; a cable in conduit always takes the enclosed table.

    Table at 30 °C, times ambient, grouping and metal factors. The table for the highest
    conductor temperature at or under the insulation's is used, else the coolest corrected down.
    """
    return _ampacity(
        cable.size,
        "enclosed" if cable.conduit else school,
        cable.insulation_c,
        cable_ambient_c(cable),
        cable.grouped,
        cable.metal,
        cable.parallel,
    )


@lru_cache(maxsize=4096)
def _ampacity(
    size: str, school: str, insulation_c: int, ambient_c: float, grouped: int, metal: str, parallel: int
) -> tuple[float, str]:
    table = ampacity_table()[size, school]
    usable = [limit for limit in table if limit <= insulation_c]
    table_c = max(usable) if usable else min(table)
    amps, source = table[table_c]
    factor = ambient_factor(insulation_c, table_c, ambient_c) * GROUP_FACTOR[grouped]
    return amps * parallel * factor / METAL_FACTOR[metal] ** 0.5, f"{source}, {table_c} °C column"


@dataclass(slots=True)
class PieceState:
    """One piece with the current through it."""

    out_ohm: float
    back_ohm: float
    temperature_c: float | None
    extra_a: float = 0.0  # what branches add to the run's own current here; negative where they take from it


@dataclass(slots=True)
class RunState:
    """A run with the current through it: outgoing conductor and way back summed [Ω]."""

    pieces: tuple[PieceState, ...]
    current_a: float
    out_ohm: float
    back_ohm: float

    @classmethod
    def of(cls, pieces: Iterable[PieceState], current_a: float) -> RunState:
        """Sum the pieces up."""
        kept = tuple(pieces)
        return cls(kept, current_a, sum([piece.out_ohm for piece in kept]), sum([piece.back_ohm for piece in kept]))

    def carrying(self, current_a: float) -> RunState:
        """The same run, as warm as it is, with another current."""
        return RunState(self.pieces, current_a, self.out_ohm, self.back_ohm)

    def without_branches(self) -> RunState:
        """The same run with nothing taken off it."""
        if not any(piece.extra_a for piece in self.pieces):
            return self
        still = tuple(PieceState(piece.out_ohm, piece.back_ohm, piece.temperature_c) for piece in self.pieces)
        return RunState(still, self.current_a, self.out_ohm, self.back_ohm)

    @property
    def loop_ohm(self) -> float:
        """Out and back [Ω]."""
        return self.out_ohm + self.back_ohm

    @property
    def drop_v(self) -> float:
        """Drop out and back [V], branches counted."""
        return self.loop_ohm * self.current_a + self.branch_v

    @property
    def branch_v(self) -> float:
        """Drop that branches cause along the unit's way [V]."""
        return sum([piece.extra_a * (piece.out_ohm + piece.back_ohm) for piece in self.pieces if piece.extra_a])

    @property
    def loss_w(self) -> float:
        """Heat in the run [W]."""
        if not any(piece.extra_a for piece in self.pieces):
            return self.loop_ohm * self.current_a**2
        return sum((piece.out_ohm + piece.back_ohm) * (self.current_a + piece.extra_a) ** 2 for piece in self.pieces)


def chassis_ohm(run: Run) -> float:
    """Resistance of a chassis return [Ω], its default when not stated; 0 for an own return."""
    if not isinstance(run.back, ChassisReturn):
        return 0.0
    stated = run.back.resistance_mohm
    return (CHASSIS_MOHM if stated is None else stated) / 1000


def surface_hindrance(cable: Cable) -> float:
    """Surface resistance to heat over that of one cable in free air, for conduit and grouping."""
    return (CONDUIT_HINDRANCE if cable.conduit else 1.0) / GROUP_FACTOR[cable.grouped] ** 2


def _cable_state(cable: Cable, current_a: float, lug_ohm: float, own_return: bool, guess_c: float | None) -> PieceState:
    size = conductor(cable.size)
    hindrance = surface_hindrance(cable)
    per_m = size.resistance_20c_ohm_per_km / 1000 * METAL_FACTOR[cable.metal]
    each_a = current_a / cable.parallel
    celsius = conductor_c(each_a, per_m, size.area_mm2, cable_ambient_c(cable), hindrance, guess_c)
    ohm = resistance_ohm(size.resistance_20c_ohm_per_km, cable.length_m, celsius, cable.metal) + 2 * lug_ohm
    ohm /= cable.parallel
    return PieceState(ohm, ohm if own_return else 0.0, celsius)


def branch_currents(run: Run, supply: bool) -> tuple[float, ...]:
    """What branches add to the run's own current at each piece [A].

    Args:
        run: the run.
        supply: whether it is the supply run, whose current reaches a branch before the unit's input; on the
            delivery run a branch takes its current from what goes on to the battery.
    """
    taken = [piece.current_a if isinstance(piece, Branch) else 0.0 for piece in run.pieces]
    extra: list[float] = []
    so_far = 0.0
    for amps in taken:
        so_far += amps
        extra.append(sum(taken) - so_far + amps if supply else -so_far)
    return tuple(extra)


def run_state(
    run: Run, current_a: float, lug_mohm: float, near: RunState | None = None, supply: bool = True
) -> RunState:
    """Resistances and temperatures of a run carrying `current_a` [A].

    Args:
        run: the run.
        current_a: current of the unit, through every piece [A].
        lug_mohm: resistance of each crimped and bolted cable end [mΩ].
        near: the same run at a similar current, a start for the temperatures.
        supply: whether it is the supply run; says which side of a branch carries its current.

    A chassis return is shared out over the outgoing pieces by cable length, for drawing; with no
    cable it sits at the last piece.
    """
    own = not isinstance(run.back, ChassisReturn)
    branched = any(isinstance(piece, Branch) for piece in run.pieces)
    extras = branch_currents(run, supply) if branched else ()
    states: list[PieceState] = []
    for index, piece in enumerate(run.pieces):
        extra_a = extras[index] if branched else 0.0
        if isinstance(piece, Cable):
            guess_c = near.pieces[index].temperature_c if near is not None else None
            state = _cable_state(piece, current_a + extra_a, lug_mohm / 1000, own, guess_c)
            state.extra_a = extra_a
            states.append(state)
        elif isinstance(piece, ProtectiveDevice):
            states.append(PieceState(device(piece.family, piece.rating_a).resistance_ohm, 0.0, None, extra_a))
        elif isinstance(piece, Joint):
            ohm = piece.resistance_mohm / 1000
            states.append(PieceState(ohm, ohm if own else 0.0, None, extra_a))
        else:
            states.append(PieceState(0.0, 0.0, None, extra_a))
    if not own:
        states = _spread_chassis(run.pieces, states, chassis_ohm(run))
    return RunState.of(states, current_a)


def _spread_chassis(pieces: tuple[Piece, ...], states: list[PieceState], ohm: float) -> list[PieceState]:
    lengths = [piece.length_m if isinstance(piece, Cable) else 0.0 for piece in pieces]
    total_m = sum(lengths)
    if not states:
        return [PieceState(0.0, ohm, None)]
    if total_m == 0:
        return [*states[:-1], replace(states[-1], back_ohm=ohm)]
    return [
        PieceState(state.out_ohm, ohm * length / total_m, state.temperature_c, state.extra_a)
        for state, length in zip(states, lengths, strict=True)
    ]


@dataclass(frozen=True, slots=True)
class Output:
    """The delivery side at full current and absorption volts, the same in every condition."""

    current_a: float
    terminal_v: float
    battery_v: float
    run: RunState
    power_in_w: float
    derating: float


@dataclass(frozen=True, slots=True)
class ConditionState:
    """One operating condition solved. `drawn` is `None` when nothing flows or nothing can."""

    key: ConditionKey
    label: str
    source: Source
    drawn: Draw | None
    run: RunState
    collapsed: bool


def _rank(state: ConditionState) -> float:
    if state.drawn is not None:
        return state.drawn.terminal_v
    return -1.0 if state.collapsed else state.source.regulated_v


@dataclass(frozen=True, slots=True)
class Solved:
    """A design solved in every condition."""

    facts: Facts
    output: Output | None
    parked: ConditionState
    running: tuple[ConditionState, ...]

    @property
    def worst(self) -> ConditionState:
        """The running condition with the lowest volts at the charger; a collapsed one first."""
        return min(self.running, key=_rank)

    @property
    def healthy(self) -> tuple[ConditionState, ...]:
        """Running conditions outside a low phase."""
        return tuple(state for state in self.running if state.key != "low")

    @property
    def worst_healthy(self) -> ConditionState:
        """The lowest of the running conditions outside a low phase."""
        return min(self.healthy, key=_rank)

    def running_by_key(self, key: str) -> ConditionState | None:
        """The running condition called `key`, if this vehicle has it."""
        return next((state for state in self.running if state.key == key), None)


def full_output_a(design: Design, facts: Facts) -> tuple[float, float]:
    """Output current of all units together, as set and after derating [A], and the derating factor 0..1."""
    unit = design.charger
    if unit is None:
        return 0.0, 1.0
    over_k = max(0.0, float(facts.unit_ambient.value) - unit.rated_ambient_c)
    derating = max(0.0, 1 - unit.derating_percent_per_k / 100 * over_k)
    return design.units * min(design.current_limit_a or unit.output_a, unit.output_a * derating), derating


def _output(design: Design, facts: Facts) -> Output | None:
    unit = design.charger
    if unit is None:
        return None
    current_a, derating = full_output_a(design, facts)
    run = run_state(design.delivery, current_a, design.choices.lug_mohm, supply=False)
    battery_v = float(facts.absorption.value)
    terminal_v = battery_v + run.drop_v
    return Output(current_a, terminal_v, battery_v, run, terminal_v * current_a / unit.efficiency, derating)


def _sources(design: Design, facts: Facts) -> list[tuple[ConditionKey, str, Source]]:
    vehicle = design.vehicle
    alternator, start = vehicle.alternator, vehicle.start_battery
    held_v = open_circuit_v(start.chemistry, WORKING_CHARGE, vehicle.system_v)
    battery_ohm = internal_ohm(start.chemistry, start.capacity_ah, vehicle.system_v)
    idle_left_a = max(0.0, alternator.rated_a * float(facts.share.value) - alternator.loads_idle_a)
    cruise_share = 1.0 if vehicle.drive == "converter" else CRUISE_SHARE
    cruise_left_a = max(0.0, alternator.rated_a * cruise_share - alternator.loads_cruise_a)
    rows: list[tuple[ConditionKey, str, Input | None, float]] = [
        ("idle", "Ready" if vehicle.drive == "converter" else "Hot idle", facts.idle, idle_left_a),
        ("cruise", "Driving" if vehicle.drive == "converter" else "Cruise", facts.cruise, cruise_left_a),
        ("low", "Low phase", facts.low, cruise_left_a),
    ]
    sag_ohm = float(facts.sag.value) / 1000
    return [
        (key, label, Source(float(volts.value), sag_ohm, left_a, held_v, battery_ohm))
        for key, label, volts, left_a in rows
        if volts is not None
    ]


def _condition(
    design: Design, key: ConditionKey, label: str, source: Source, power_w: float, near: RunState | None
) -> ConditionState:
    """One condition solved: conductor temperature and current found together.

    The current drawn rises with the temperature it causes, so plain repetition creeps near collapse;
    a secant through the last two rounds closes the gap. Approached from cold neither overshoots.
    """
    lug = design.choices.lug_mohm
    state = near if near is not None else run_state(design.supply, 0.0, lug)
    if power_w <= 0:
        return ConditionState(key, label, source, None, state.carrying(0.0), False)
    drawn: Draw | None
    try:
        drawn = _draw(source, state, power_w)
    except Collapse:
        drawn = None
    earlier: tuple[float, float] | None = None
    for _ in range(ROUNDS):
        if drawn is None:
            if near is not None:  # a neighbour's hotter copper may collapse where this condition's own would not
                return _condition(design, key, label, source, power_w, None)
            return ConditionState(key, label, source, None, state, True)
        carried_a, drawn_a = state.current_a, drawn.current_a
        if abs(drawn_a - carried_a) < SETTLED * drawn_a:
            break
        slope = (drawn_a - earlier[1]) / (carried_a - earlier[0]) if earlier is not None else 0.0
        earlier = (carried_a, drawn_a)
        next_a = carried_a + (drawn_a - carried_a) / (1 - slope) if 0 < slope < 1 else drawn_a
        state, drawn = _warmed(design, source, power_w, state, (next_a, drawn_a))
    if drawn is None:
        return ConditionState(key, label, source, None, state, True)
    return ConditionState(key, label, source, drawn, state.carrying(drawn.current_a), False)


def _draw(source: Source, state: RunState, power_w: float) -> Draw:
    """The unit's draw through a run, its branches reckoned with."""
    extra_a = state.pieces[0].extra_a if state.pieces else 0.0
    return draw(source, state.loop_ohm, power_w, extra_a, state.branch_v)


def _warmed(
    design: Design, source: Source, power_w: float, near: RunState, currents_a: tuple[float, float]
) -> tuple[RunState, Draw | None]:
    """Run and draw at the first current, or at the second where the first leaves no voltage; no draw if neither does."""
    state = near
    for amps in currents_a:
        state = run_state(design.supply, amps, design.choices.lug_mohm, near)
        try:
            return state, _draw(source, state, power_w)
        except Collapse:
            continue
    return state, None


def solve(
    design: Design, like: Solved | None = None, only: Container[ConditionKey] = RUNNING, facts: Facts | None = None
) -> Solved:
    """Solve operating conditions of `design` at full output current and absorption volts.

    Args:
        design: the design.
        like: the same design with another supply run, solved; saves doing the rest again.
        only: running conditions wanted; hot idle is always there.
        facts: the survey's values, where already gathered.
    """
    if facts is None:
        facts = like.facts if like is not None else gather(design)
    output = like.output if like is not None else _output(design, facts)
    power_w = output.power_in_w if output is not None else 0.0
    still_run = run_state(design.supply, 0.0, design.choices.lug_mohm)
    running: list[ConditionState] = []
    near: RunState | None = None
    for key, label, source in _sources(design, facts):
        if key == "idle" or key in only:
            state = _condition(design, key, label, source, power_w, near)
            near = state.run if state.drawn is not None else None
            running.append(state)
    rest_v = facts.rest_high_v
    still = Source(rest_v, 0.0, None, rest_v, 0.0)
    parked = ConditionState("parked", "Parked", still, None, still_run.without_branches(), False)
    return Solved(facts, output, parked, tuple(running))
