"""One unit fitted to a job: its setting, its own cables and devices, and the whole judged.

- `fit_unit`: the design with it.
- `setting_of`: why it cannot be used at all, or what it is set to.
- `fitted`: runs laid and everything judged.
"""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.analyses.lay import CLOSE, Paths
from olvask.core.catalogue import NoStandardSize
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts, gather
from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import unit_step_v
from olvask.core.findings.collector import collect
from olvask.core.findings.driven import reword_of
from olvask.core.findings.finding import Finding, Stage
from olvask.core.model import Charger, Design
from olvask.core.model.charger import ENABLE_FOR
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages import match
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of
from olvask.core.stages.match.energy import daily_floor_a
from olvask.core.stages.match.limits import Ruler, alternator_budgets, battery_allows_a, ruler_of
from olvask.core.stages.match.space import no_room
from olvask.core.stages.registry import Judge
from olvask.core.stages.run import CABLES
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR
from olvask.core.stages.run.protection import judge_devices
from olvask.core.stages.wake import ACTIVATION
from olvask.core.stages.wake.remedies import signals_at_hand

# What a candidate is judged by: the survey is the job's, and the rest of Run speaks of what a laid run has not.
JUDGES: dict[Stage, tuple[Judge, ...]] = {
    "match": match.UNIT_JUDGES,
    "run": (*CABLES, judge_devices),
    "wake": ACTIVATION,
}


@dataclass(frozen=True, slots=True)
class Fitted:
    """One unit in the job's place, with runs laid for it and everything judged."""

    unit: Charger
    design: Design
    solved: Solved
    ruler: Ruler
    findings: tuple[Finding, ...]
    price: float


class CannotFit(ValueError):
    """The unit cannot be used in this job."""


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
    refusal, setting_a = setting_of(design, facts, unit, Allowed.of(design, facts))
    if refusal:
        raise CannotFit(f"{unit.name}: {refusal}")
    return fitted(design, facts, Paths.of(design, facts, prices), unit, setting_a).design


@dataclass(frozen=True, slots=True)
class Allowed:
    """What limits the current whatever the unit.

    Attributes:
        battery_a: the battery's charge limit [A].
        budget_a: the alternator's budget by the chosen school [A].
    """

    battery_a: float
    budget_a: float

    @classmethod
    def of(cls, design: Design, facts: Facts) -> Allowed:
        """Work both out.

        Args:
            design: the job.
            facts: its survey.
        """
        budgets = alternator_budgets(design, facts)
        return cls(battery_allows_a(design, facts)[0], budgets.of(design.choices.alternator_school))


def setting_of(design: Design, facts: Facts, unit: Charger, allowed: Allowed) -> tuple[str, float | None]:
    """Why a unit cannot be used at all, or the setting it needs (`None` for full current).

    Args:
        design: the job.
        facts: its survey.
        unit: the unit.
        allowed: what battery and alternator allow.

    Limits that hang on no cable: battery, alternator, source point, heat. The alternator's is taken at
    the drop limit, the lowest volts the run may leave.
    """
    if unit.input_nominal_v != design.vehicle.system_v or unit.output_nominal_v != design.auxiliary.nominal_v:
        return f"wrong voltage: {unit.input_nominal_v} V in, {unit.output_nominal_v} V out", None
    if unit.kind == "converter":
        return "a plain converter is not a charger", None
    why = no_room(unit, design.mount, design.units)
    if why:
        return why, None
    absorption_v = float(facts.absorption.value)
    if not unit.output_min_v <= absorption_v <= unit.output_max_v:
        return f"it cannot reach {absorption_v:.2f} V absorption", None
    choices, idle_v = design.choices, float(facts.idle.value)
    output_v = absorption_v + choices.drop_percent / 100 * design.auxiliary.nominal_v
    battery_a, budget_a = allowed.battery_a, allowed.budget_a
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


def fitted(design: Design, facts: Facts, paths: Paths, unit: Charger, setting_a: float | None) -> Fitted:
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
    beneath_v = min(facts.rest_high_v, hold_v) if design.kept_off else facts.rest_high_v
    floor_v = beneath_v + 2 * margin_v + step_v
    lowest_v = min(idle_v, float(facts.cruise.value))
    by_window = (lowest_v - floor_v) * floor_v / power_w - sag_ohm
    return (min(by_drop, by_window) if by_window > 0 else by_drop), by_drop


def _judged(design: Design, facts: Facts, unit: Charger, prices: Prices) -> Fitted:
    """The full rules on a candidate, for their verdicts; notes dropped."""
    ctx = Context.of(design, solve(design, facts=facts), worded=False)
    found = collect(ctx, JUDGES, remedies=False, reword=reword_of(design)).findings
    findings = tuple(item for item in found if item.level != "note")
    ruler = ruler_of(ctx, daily_floor_a(design, ctx.solved))
    return Fitted(unit, design, ctx.solved, ruler, findings, bill_of(ctx, prices).total)
