"""Every unit of a shelf fitted to a job, fully judged and ranked.

- `fit_unit`: one unit with its own setting, cables and devices.
- `rank_units`: the whole shelf, by cost of the installed choice, charge returned per driving hour, and margin.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from olvask.core.analyses.lay import CLOSE, Paths
from olvask.core.catalogue import NoStandardSize, chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts, gather
from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import unit_step_v
from olvask.core.findings.collector import collect
from olvask.core.findings.finding import Finding, Stage
from olvask.core.findings.said import Said
from olvask.core.model import Cable, Charger, Design, ProtectiveDevice, Run
from olvask.core.model.charger import ENABLE_FOR
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages import match
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of
from olvask.core.stages.match.energy import daily_floor_a, net_driving_a
from olvask.core.stages.match.limits import Limit, Ruler, alternator_budgets, battery_allows_a, ruler_of
from olvask.core.stages.match.space import no_room
from olvask.core.stages.registry import Judge
from olvask.core.stages.run import CABLES
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR
from olvask.core.stages.run.protection import judge_devices
from olvask.core.stages.wake import ACTIVATION
from olvask.core.stages.wake.remedies import signals_at_hand

# What a candidate is judged by: the survey is the job's, and the rest of Run speaks of what a laid run has not.
JUDGES: dict[Stage, tuple[Judge, ...]] = {"match": match.JUDGES, "run": (*CABLES, judge_devices), "wake": ACTIVATION}


class UnitVerdict(Said):
    """One unit of the shelf judged for a job, with its own cheapest passing cables and devices."""

    id: str
    name: str
    isolated: bool
    output_a: float
    unit_price: float = Field(description="€ for one unit")
    fit: Literal["fits", "turned_down", "no"]
    set_to_a: float | None
    cautious: bool = Field(description="something short of a stop speaks against it")
    reason: str
    binding: str = Field(description="key of the limit that binds; empty where it was refused before")
    price: float | None = Field(description="€ for everything on the bill; none where it does not fit")
    rate_ah_per_h: float | None = Field(description="charge returned per driving hour, after loads and losses")
    margin: float | None = Field(description="room under the binding limit, as a share of the current, up to 1")
    score: float | None = Field(description="0 to 100 by the job's weights")
    supply: str = Field(description="cables and device of the supply run, in one line")
    delivery: str = Field(description="cables and device of the delivery run, in one line")


@dataclass(frozen=True, slots=True)
class Fitted:
    """One unit in the job's place, with runs laid for it and everything judged."""

    unit: Charger
    design: Design
    solved: Solved
    ruler: Ruler
    findings: tuple[Finding, ...]
    price: float


# Cautions that speak against a unit even where every other has them too.
THE_UNITS_OWN = {
    "match.isolated_wanted",
    "match.alternator_budget",
    "match.heat",
    "match.split_loses",
    "match.priority_loses",
    "match.daily_need",
}


class CannotFit(ValueError):
    """The unit cannot be used in this job."""


def rank_units(design: Design, units: Iterable[Charger], prices: Prices = CATALOGUE_PRICES) -> list[UnitVerdict]:
    """Judge and rank every unit.

    Args:
        design: the job; its own unit, setting and sizes are left aside, its paths and choices hold.
        units: the shelf.
        prices: the workshop's own prices.

    What cannot be used comes last, units with a caution of their own after clean ones, the rest by the job's
    weights. A caution that every usable unit carries is the job's, and speaks against none of them; how it is
    started is decided in Wake.
    """
    facts = gather(design)
    paths = Paths.of(design, facts, prices)
    weighed = [_weigh(design, facts, paths, unit) for unit in units]
    usable = [item for item in weighed if isinstance(item, _Usable)]
    shared = set.intersection(*({found.id for found in item.fitted.findings} for item in usable)) if usable else set()
    shared -= THE_UNITS_OWN
    scale = _Scale.of(design, usable)
    verdicts = [_usable(item, shared, scale) if isinstance(item, _Usable) else item for item in weighed]
    return sorted(verdicts, key=lambda item: (item.fit == "no", item.cautious, -(item.score or 0.0), item.unit_price))


@dataclass(frozen=True, slots=True)
class _Usable:
    fitted: Fitted
    setting_a: float | None
    rate_ah_per_h: float
    margin: float


@dataclass(frozen=True, slots=True)
class _Scale:
    """What a score is measured against: the cheapest and the strongest usable unit, and the job's weights."""

    least_price: float
    most_rate: float
    cost: float
    rate: float
    margin: float

    @classmethod
    def of(cls, design: Design, usable: list[_Usable]) -> _Scale:
        choices = design.choices
        total = (choices.rank_cost + choices.rank_rate + choices.rank_margin) or 1.0
        return cls(
            min((item.fitted.price for item in usable), default=0.0),
            max((item.rate_ah_per_h for item in usable), default=0.0),
            100 * choices.rank_cost / total,
            100 * choices.rank_rate / total,
            100 * choices.rank_margin / total,
        )

    def score(self, item: _Usable) -> float:
        cost = self.least_price / item.fitted.price if item.fitted.price > 0 else 1.0
        rate = item.rate_ah_per_h / self.most_rate if self.most_rate > 0 else 0.0
        return round(self.cost * cost + self.rate * rate + self.margin * item.margin, 1)


def fit_unit(design: Design, unit: Charger, prices: Prices = CATALOGUE_PRICES) -> Design:
    """The design with `unit`, its setting, and runs laid for it.

    Args:
        design: the job.
        unit: the unit.
        prices: the workshop's own prices.

    Raises:
        NoStandardSize: no cable or device passes for it.
        CannotFit: the unit cannot be used, and why.
    """
    facts = gather(design)
    refusal, setting_a = _setting(design, facts, unit)
    if refusal:
        raise CannotFit(f"{unit.name}: {refusal}")
    return _fit(design, facts, Paths.of(design, facts, prices), unit, setting_a).design


def _setting(design: Design, facts: Facts, unit: Charger) -> tuple[str, float | None]:
    """Why a unit cannot be used at all, or the setting it needs (`None` for full current).

    Limits that hang on no cable: battery, alternator, source point, heat. The alternator's is taken at
    the drop limit, the lowest volts the run may leave.
    """
    if unit.input_nominal_v != design.vehicle.system_v or unit.output_nominal_v != design.auxiliary.nominal_v:
        return f"wrong voltage: {unit.input_nominal_v} V in, {unit.output_nominal_v} V out", None
    if unit.kind == "converter":
        return "a plain converter is not a charger", None
    why = no_room(unit, design.mount)
    if why:
        return why, None
    absorption_v = float(facts.absorption.value)
    if not unit.output_min_v <= absorption_v <= unit.output_max_v:
        return f"it cannot reach {absorption_v:.2f} V absorption", None
    battery_a, _ = battery_allows_a(design, facts)
    choices, idle_v = design.choices, float(facts.idle.value)
    output_v = absorption_v + choices.drop_percent / 100 * design.auxiliary.nominal_v
    budget_a = alternator_budgets(design, facts).of(choices.alternator_school)
    sag_v = budget_a * float(facts.sag.value) / 1000 + choices.drop_percent / 100 * design.vehicle.system_v
    alternator_a = budget_a * max(0.0, idle_v - sag_v) * unit.efficiency / output_v
    wanted_a = min(battery_a, alternator_a)
    reason = "battery charge limit" if battery_a < alternator_a else "alternator budget"
    if unit.output_a * design.units <= wanted_a + 1e-9:
        return "", None
    settable_a = unit.settable_a(wanted_a / design.units)
    if settable_a is not None and settable_a < unit.output_a:
        return "", int(settable_a * 10) / 10
    if battery_a < unit.output_a * design.units:
        return (
            f"{reason}: {unit.output_a * design.units:g} A where {wanted_a:.1f} A are allowed, and it cannot be turned down",
            None,
        )
    return "", None  # over the budget only: the full rules say how far


def _weigh(design: Design, facts: Facts, paths: Paths, unit: Charger) -> _Usable | UnitVerdict:
    refusal, setting_a = _setting(design, facts, unit)
    if refusal:
        return _refused(unit, None, refusal)
    try:
        fitted = _fit(design, facts, paths, unit, setting_a)
    except NoStandardSize as error:
        return _refused(unit, setting_a, str(error))
    stop = next((item for item in fitted.findings if item.level == "stop"), None)
    if stop is not None:
        return _refused(unit, setting_a, _lower(stop.title), _binding(fitted).key)
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    rate = max(0.0, net_driving_a(fitted.design, fitted.solved)) * efficiency
    used_a = fitted.solved.output.yield_a if fitted.solved.output is not None else 0.0
    room = (fitted.ruler.allowed_a or 0.0) / used_a - 1 if used_a > 0 else 0.0
    return _Usable(fitted, setting_a, rate, min(1.0, max(0.0, room)))


def _fit(design: Design, facts: Facts, paths: Paths, unit: Charger, setting_a: float | None) -> Fitted:
    """Lay both runs for the unit and judge the whole; the stop window is given up where no size opens it."""
    trimmed = _startable(design.model_copy(update={"charger": unit, "current_limit_a": setting_a}), unit)
    current_a = design.units * min(setting_a or unit.output_a, unit.output_a)
    limit_v = design.choices.drop_percent / 100
    absorption_v = float(facts.absorption.value)
    delivery_ohm = limit_v * design.auxiliary.nominal_v / current_a if current_a > 0 else 1.0
    delivery, out_ohm = paths.delivery.choose(current_a, current_a, CLOSE * delivery_ohm, unit.terminal_max_mm2)
    power_w = (absorption_v + out_ohm * current_a) * current_a / unit.efficiency
    hold_v = _hold(trimmed, unit)
    supply_ohm, relaxed_ohm = _supply_ohm(trimmed, facts, unit, power_w, hold_v)
    idle_v = float(facts.idle.value)
    carried_a = power_w / max(1.0, idle_v - limit_v * design.vehicle.system_v)
    lingers_v = max(hold_v, _stop_floor_v(trimmed, facts, unit)) if "voltage" in trimmed.activation.ways else hold_v
    lowest_v = min(float(item.value) for item in (facts.idle, facts.cruise, facts.low) if item is not None)
    stays_v = max(
        hold_v, lowest_v - limit_v * design.vehicle.system_v - float(facts.sag.value) / 1000 * power_w / lowest_v
    )
    held_a = max(power_w / stays_v, power_w / min(stays_v, lingers_v) / CONTINUOUS_FACTOR)
    try:
        supply, _ = paths.supply.choose(held_a, carried_a, CLOSE * supply_ohm, unit.terminal_max_mm2)
    except NoStandardSize:
        supply, _ = paths.supply.choose(held_a, carried_a, CLOSE * relaxed_ohm, unit.terminal_max_mm2)
    candidate = trimmed.model_copy(update={"supply": supply, "delivery": delivery})
    return _judged(candidate, facts, unit, paths.supply.prices)


def _startable(design: Design, unit: Charger) -> Design:
    """The design started as this unit can be: as chosen, else by a signal the vehicle has."""
    ways = design.activation.ways
    if all(ENABLE_FOR[way] in unit.enables for way in ways):
        return design
    known = tuple(way for way in ways if ENABLE_FOR[way] in unit.enables)
    instead = known or tuple(signals_at_hand(design)[:1])
    if not instead:
        return design
    return design.model_copy(update={"activation": design.activation.model_copy(update={"ways": instead})})


def _stop_floor_v(design: Design, facts: Facts, unit: Charger) -> float:
    """Lowest stop that will do [V]: as chosen, fixed in the unit, or a margin above the engine-off volts."""
    chosen = [rule.below_v for rule in design.activation.stop_rules if rule.below_v is not None]
    if chosen:
        return max(chosen)
    return unit.stop_rules.fixed or facts.rest_high_v + float(facts.margin.value)


def _hold(design: Design, unit: Charger) -> float:
    """Lowest voltage the unit keeps working at [V], as `hold_voltage` has it; the cable counts as at its drop limit."""
    start, guard_v, record = design.vehicle.start_battery, design.activation.guard.off_below_v, unit.guard
    if guard_v is None:
        keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
        fixed_v = record.fixed_off or unit.input_min_v
        guard_v = fixed_v if record.from_v is None else max(record.from_v, keep_v - 0.1)
    if record.compensated:
        guard_v -= design.choices.drop_percent / 100 * design.vehicle.system_v
    return max(unit.input_min_v, guard_v)


def _supply_ohm(design: Design, facts: Facts, unit: Charger, power_w: float, hold_v: float) -> tuple[float, float]:
    """Out-and-back resistance the supply run may have [Ω]: held to the stop window, and to the drop limit alone."""
    if power_w <= 0:
        return 1.0, 1.0
    idle_v, sag_ohm = float(facts.idle.value), float(facts.sag.value) / 1000
    limit_v = design.choices.drop_percent / 100 * design.vehicle.system_v
    by_drop = limit_v / (power_w / max(1.0, idle_v - limit_v - sag_ohm * power_w / idle_v))
    if "voltage" not in design.activation.ways:
        return by_drop, by_drop
    margin_v = float(facts.margin.value)
    step_v = unit_step_v(unit, facts.scale)
    floor_v = facts.rest_high_v + 2 * margin_v + step_v
    lowest_v = min(idle_v, float(facts.cruise.value))
    by_window = (lowest_v - floor_v) * floor_v / power_w - sag_ohm
    return (min(by_drop, by_window) if by_window > 0 else by_drop), by_drop


def _judged(design: Design, facts: Facts, unit: Charger, prices: Prices) -> Fitted:
    """The full rules on a candidate, for their verdicts; notes dropped."""
    ctx = Context.of(design, solve(design, facts=facts), worded=False)
    found = collect(ctx, JUDGES, remedies=False).findings
    findings = tuple(item for item in found if item.level != "note")
    ruler = ruler_of(ctx, daily_floor_a(design, ctx.solved))
    return Fitted(unit, design, ctx.solved, ruler, findings, bill_of(ctx, prices).total)


def _in_words(run: Run) -> str:
    """Cables and device of a run in one line."""
    sizes = dict.fromkeys(piece.size for piece in run.pieces if isinstance(piece, Cable))
    rated = [f"{piece.rating_a:g} A" for piece in run.pieces if isinstance(piece, ProtectiveDevice)]
    return f"{' + '.join(sizes)}, {' + '.join(rated)}"


def _lower(title: str) -> str:
    return title[0].lower() + title[1:]


def _binding(fitted: Fitted) -> Limit:
    return next(item for item in fitted.ruler.limits if item.binding)


def _refused(unit: Charger, setting_a: float | None, reason: str, binding: str = "") -> UnitVerdict:
    return UnitVerdict.model_construct(
        id=unit.id,
        name=unit.name,
        isolated=unit.isolated,
        output_a=unit.output_a,
        unit_price=unit.price,
        fit="no",
        set_to_a=setting_a,
        cautious=False,
        reason=reason,
        binding=binding,
        price=None,
        rate_ah_per_h=None,
        margin=None,
        score=None,
        supply="",
        delivery="",
    )


def _usable(item: _Usable, shared: set[str], scale: _Scale) -> UnitVerdict:
    fitted, unit = item.fitted, item.fitted.unit
    own = [found for found in fitted.findings if found.id not in shared and found.stage != "wake"]
    binding = _binding(fitted)
    reason = f"{_lower(binding.label)} binds at {binding.amps or 0.0:.0f} A"
    if own:
        reason = f"caution: {_lower(own[0].title)}; {reason}"
    return UnitVerdict.model_construct(
        id=unit.id,
        name=unit.name,
        isolated=unit.isolated,
        output_a=unit.output_a,
        unit_price=unit.price,
        fit="fits" if item.setting_a is None else "turned_down",
        set_to_a=item.setting_a,
        cautious=bool(own),
        reason=reason,
        binding=binding.key,
        price=round(fitted.price, 2),
        rate_ah_per_h=item.rate_ah_per_h,
        margin=item.margin,
        score=scale.score(item),
        supply=_in_words(fitted.design.supply),
        delivery=_in_words(fitted.design.delivery),
    )
