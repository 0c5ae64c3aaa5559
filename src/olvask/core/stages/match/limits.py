"""The limits ruler: every limit on the output current, which one binds, and what exceeds it.

- `alternator_budgets`: both schools at hot idle, and what cruise would leave.
- `build_ruler`: the bars.
- `judge_current`: findings on current against battery, alternator, setting and heat.
"""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.catalogue import conductors
from olvask.core.circuit.solve import CRUISE_SHARE, Facts, Output, Solved, ampacity
from olvask.core.findings.assessment import Limit, Ruler, WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.findings.figure import Input
from olvask.core.model import Cable, Charger, Design
from olvask.core.physics.dc_path import greatest_power_w
from olvask.core.stages.match.sources import driving_peak_a
from olvask.core.stages.match.space import does_not_go
from olvask.core.stages.run.protection import CONTINUOUS_FACTOR

SITE = ("battery", "alternator_share", "alternator_surplus", "source")  # limits no other unit or cable moves


@dataclass(frozen=True, slots=True)
class Budgets:
    """Input current the alternator may give the charger [A]."""

    share_a: float
    surplus_a: float
    cruise_a: float

    def of(self, school: str) -> float:
        """The budget of a school."""
        return self.share_a if school == "share" else self.surplus_a


def alternator_budgets(design: Design, facts: Facts) -> Budgets:
    """Input current by share of rated current, by surplus at hot idle, and by surplus at cruise [A]."""
    alternator, choices = design.vehicle.alternator, design.choices
    cruise_share = 1.0 if design.vehicle.drive == "converter" else CRUISE_SHARE
    return Budgets(
        choices.share_fraction * alternator.rated_a,
        choices.surplus_fraction * max(0.0, alternator.rated_a * float(facts.share.value) - alternator.loads_idle_a),
        choices.surplus_fraction * max(0.0, alternator.rated_a * cruise_share - alternator.loads_cruise_a),
    )


def turn_down(unit: Charger, wanted_a: float, units: int = 1) -> WayOut | None:
    """Turn each unit down so that together they give at most `wanted_a` [A], where that can be.

    Args:
        unit: the unit.
        wanted_a: most that all may give [A].
        units: how many stand in parallel.
    """
    settable_a = unit.settable_a(wanted_a / units)
    if settable_a is None or settable_a >= unit.output_a:
        return None
    settable_a = int(settable_a * 10) / 10
    return way_out(
        f"Turn {'the unit' if units == 1 else 'each unit'} down to {settable_a:g} A", ("current_limit_a", settable_a)
    )


def output_for_input_a(
    design: Design, solved: Solved, output: Output, input_a: float, condition: str = "idle"
) -> float:
    """Output current that draws a given input current [A].

    Args:
        design: the design.
        solved: its circuit.
        output: its delivery side.
        input_a: input current [A].
        condition: in which running condition; hot idle where the vehicle has no such one.
    """
    unit, state = design.charger, solved.running_by_key(condition) or solved.running[0]
    if unit is None or input_a <= 0:
        return 0.0
    terminal_v = state.source.regulated_v - input_a * (state.source.sag_ohm + state.run.loop_ohm)
    return max(0.0, terminal_v * input_a * unit.efficiency / output.terminal_v)


def battery_allows_a(design: Design, facts: Facts) -> tuple[float, str]:
    """Current the unit may put into the auxiliary battery [A], other sources taken off, and why."""
    limit_a, why = float(facts.charge_limit.value), f"{facts.charge_limit.provenance} figure of the battery"
    management = design.auxiliary.management
    if management is not None and management.charge_max_a is not None and management.charge_max_a < limit_a:
        limit_a, why = management.charge_max_a, "its management system cuts charging above"
    others_a = driving_peak_a(design)
    if others_a <= 0:
        return limit_a, why
    return max(0.0, limit_a - others_a), f"{limit_a:.0f} A ({why}) less {others_a:.1f} A of other sources"


def terminal_allows_a(design: Design, facts: Facts, unit: Charger) -> tuple[float, str]:
    """Continuous current through the largest conductor the unit's terminal takes [A], and which."""
    largest = next(item for item in reversed(conductors()) if item.area_mm2 <= unit.terminal_max_mm2)
    tail = Cable(size=largest.size, length_m=0.3, ambient_c=float(facts.unit_ambient.value))
    return ampacity(tail, design.choices.ampacity_school)[0] / CONTINUOUS_FACTOR, largest.size


def build_ruler(
    design: Design, solved: Solved, ledger: Ledger, hold_v: float, floor_a: float | None
) -> tuple[Ruler, Budgets]:
    """Every limit on the output current, the daily floor, and which limit binds; the alternator's budgets.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures go.
        hold_v: voltage the charger's terminals must stay above [V].
        floor_a: output the day needs [A]; `None` when not surveyed.
    """
    budgets = alternator_budgets(design, solved.facts)
    if not ledger.verdicts_only:
        _budget_figures(design, solved.facts, ledger, budgets)
    bars = _bars(design, solved, hold_v, budgets)
    binding = min((bar for bar in bars if bar.governs), key=lambda bar: bar.amps)
    limits = tuple(
        Limit(key=bar.key, label=bar.label, amps=bar.amps, text=bar.text, governs=bar.governs, binding=bar is binding)
        for bar in bars
    )
    ledger.figure(
        "match.allowed_output_a",
        "Output allowed by all limits",
        binding.amps,
        "A",
        formula="min of all governing limits",
        working=f"{binding.label}: {binding.text}",
        source="trade practice",
        changes=f"a higher limit at: {binding.label[0].lower()}{binding.label[1:]}",
    )
    site_a = min(bar.amps for bar in bars if bar.governs and bar.key in SITE)
    return Ruler(limits=limits, floor_a=floor_a, binding=binding.key, allowed_a=binding.amps, site_a=site_a), budgets


@dataclass(frozen=True, slots=True)
class _Bar:
    key: str
    label: str
    amps: float
    text: str
    governs: bool = True


def _bars(design: Design, solved: Solved, hold_v: float, budgets: Budgets) -> list[_Bar]:
    unit, output, facts, choices = design.charger, solved.output, solved.facts, design.choices
    allowed_a, why = battery_allows_a(design, facts)
    bars = [_Bar("battery", "Battery charge limit", allowed_a, why)]
    if unit is None or output is None:
        return bars
    per_input = unit.efficiency / output.terminal_v  # output amperes per watt at the input
    for school, input_a in (("share", budgets.share_a), ("surplus", budgets.surplus_a)):
        amps = output_for_input_a(design, solved, output, input_a)
        label = "Alternator by share" if school == "share" else "Alternator by surplus"
        text = f"{input_a:.1f} A at the input, hot idle"
        bars.append(_Bar(f"alternator_{school}", label, amps, text, choices.alternator_school == school))
    cruise_a = output_for_input_a(design, solved, output, budgets.cruise_a, "cruise")
    bars.append(
        _Bar(
            "alternator_cruise",
            "Alternator, cruise",
            cruise_a,
            f"{budgets.cruise_a:.1f} A left at cruise; hot idle governs",
            False,
        )
    )
    source = design.vehicle.source_point
    if source.kind == "fused_stud" and source.rating_a is not None:
        stud_a = source.rating_a / CONTINUOUS_FACTOR
        bars.append(
            _Bar(
                "source",
                "Fused stud upstream",
                stud_a * hold_v * per_input,
                f"{source.rating_a:g} A / 1.25 at {hold_v:.2f} V",
            )
        )
    worst = solved.worst_healthy
    run_ohm = worst.source.sag_ohm + worst.run.loop_ohm
    if design.supply.pieces and run_ohm > 0:
        above = worst.source.regulated_v > hold_v
        power_w = greatest_power_w(worst.source.regulated_v, run_ohm, hold_v) if above else 0.0
        text = f"stays above {hold_v:.2f} V in {worst.label.lower()}"
        bars.append(_Bar("supply_volts", "Supply run holds volts", power_w * per_input, text))
    supply_a = _least_ampacity_a(design, "supply")
    if supply_a is not None:
        text = f"{supply_a:.0f} A / 1.25 at {hold_v:.2f} V"
        bars.append(_Bar("supply_cable", "Supply cable", supply_a / CONTINUOUS_FACTOR * hold_v * per_input, text))
    delivery_a = _least_ampacity_a(design, "delivery")
    if delivery_a is not None:
        bars.append(
            _Bar("delivery_cable", "Delivery cable", delivery_a / CONTINUOUS_FACTOR, f"{delivery_a:.0f} A / 1.25")
        )
    terminal_a, size = terminal_allows_a(design, facts, unit)
    through_a = design.units * min(terminal_a, terminal_a * hold_v * per_input)
    bars.append(_Bar("terminal", "Unit's terminals", through_a, f"{size} is the most they take"))
    why_not = does_not_go(unit, design.mount)
    if why_not:
        bars.append(_Bar("space", "Room for the unit", 0.0, f"{unit.name} {why_not}"))
    many = f"{design.units} × " if design.units > 1 else ""
    bars.append(
        _Bar(
            "heat",
            f"Unit itself at {float(facts.unit_ambient.value):.0f} °C",
            design.units * unit.output_a * output.derating,
            f"{many}full output up to {unit.rated_ambient_c:.0f} °C, then {unit.derating_percent_per_k:g} %/K less",
        )
    )
    return bars


def _least_ampacity_a(design: Design, run: str) -> float | None:
    pieces = design.supply.pieces if run == "supply" else design.delivery.pieces
    school = design.choices.ampacity_school
    return min((ampacity(piece, school)[0] for piece in pieces if isinstance(piece, Cable)), default=None)


def _budget_figures(design: Design, facts: Facts, ledger: Ledger, budgets: Budgets) -> None:
    alternator, choices = design.vehicle.alternator, design.choices
    rated = Input(
        "Rated current",
        alternator.rated_a,
        "A",
        str(design.provenance.get("vehicle.alternator.rated_a", "own")),
        "vehicle.alternator.rated_a",
    )
    loads = Input(
        "Vehicle loads at idle",
        alternator.loads_idle_a,
        "A",
        str(design.provenance.get("vehicle.alternator.loads_idle_a", "default")),
        "vehicle.alternator.loads_idle_a",
    )
    ledger.figure(
        "match.alternator_share_a",
        "Alternator, share school",
        budgets.share_a,
        "A",
        formula="k · I_rated",
        working=f"{choices.share_fraction:.2f} · {alternator.rated_a:.0f} A = {budgets.share_a:.1f} A",
        inputs=[rated],
        source="share school: a fraction of rated current",
        changes="a larger alternator or another fraction",
    )
    ledger.figure(
        "match.alternator_surplus_a",
        "Alternator, surplus school",
        budgets.surplus_a,
        "A",
        formula="k · (I_rated · share at hot idle − loads)",
        working=f"{choices.surplus_fraction:.2f} · ({alternator.rated_a:.0f} A · {float(facts.share.value):.2f} − "
        f"{alternator.loads_idle_a:.0f} A) = {budgets.surplus_a:.1f} A",
        inputs=[rated, facts.share, loads],
        source="surplus school: a part of what hot idle leaves",
        changes="fewer loads at idle, a measured share at hot idle, or another fraction",
    )


def judge_current(design: Design, solved: Solved, ledger: Ledger, budgets: Budgets) -> None:
    """Findings on the current: battery, setting, heat, alternator.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        budgets: input current the alternator may give.
    """
    unit, output, facts, choices = design.charger, solved.output, solved.facts, design.choices
    if unit is None or output is None:
        return
    units = design.units
    limit_a, why = battery_allows_a(design, facts)
    if output.current_a > limit_a + 1e-6:
        ledger.finding(
            "match.battery_limit",
            "stop",
            "match",
            "auxiliary",
            "More current than the battery may take",
            f"{output.current_a:.1f} A into a battery that allows {limit_a:.1f} A: {why}.",
            [turn_down(unit, limit_a, units)],
        )
    setting_a = design.current_limit_a
    if setting_a is not None and setting_a < unit.output_a and unit.settable_a(setting_a) != setting_a:
        allowed = (
            f"steps of {', '.join(f'{step:g}' for step in unit.limit_steps_a)} A"
            if unit.current_limit == "steps"
            else (
                f"{unit.limit_min_a or 0:g} to {unit.output_a:g} A"
                if unit.current_limit == "continuous"
                else "no current limit at all"
            )
        )
        ledger.finding(
            "match.setting",
            "stop",
            "match",
            "charger",
            "The unit cannot be set so",
            f"Set to {setting_a:g} A, but {unit.name} has {allowed}.",
            [turn_down(unit, setting_a), way_out("Run it at full current", ("current_limit_a", None))],
        )
    if units > 1:
        ledger.finding(
            "match.parallel",
            "note",
            "match",
            "charger",
            f"{units} units in parallel",
            f"Together {output.current_a:.1f} A. Near full the one with the lower setting tapers first; they do not switch each other "
            "off. Each unit's own tail needs its own device.",
        )
    if output.derating < 1 and unit.output_a * output.derating < (setting_a or unit.output_a):
        ledger.finding(
            "match.heat",
            "caution",
            "match",
            "charger",
            "The heat where it sits takes current away",
            f"At {float(facts.unit_ambient.value):.0f} °C {unit.name} gives {output.current_a / units:.1f} A of {unit.output_a:g} A.",
        )
    idle = solved.running_by_key("idle")
    if idle is None or idle.drawn is None:
        return
    input_a = idle.drawn.current_a
    budget_a = budgets.of(choices.alternator_school)
    road = (
        f" At cruise {budgets.cruise_a:.1f} A could be had: fine on the road, not at idle."
        if budgets.cruise_a >= input_a
        else ""
    )
    allowed_a = output_for_input_a(design, solved, output, budget_a)
    available_a = idle.source.available_a or 0.0
    ledger.figure(
        "match.alternator_load_percent",
        "Alternator at hot idle",
        100 * (input_a + design.vehicle.alternator.loads_idle_a) / design.vehicle.alternator.rated_a,
        "%",
        formula="(I_in + loads) / I_rated",
        working=f"({input_a:.1f} A + {design.vehicle.alternator.loads_idle_a:.1f} A) / {design.vehicle.alternator.rated_a:.0f} A",
        source="definition",
    )
    if idle.drawn.alternator_limited:
        ledger.finding(
            "match.alternator_overrun",
            "stop",
            "match",
            "alternator",
            "The alternator cannot feed this",
            f"At {idle.label.lower()} {available_a:.1f} A are left after the vehicle's loads; the charger takes {input_a:.1f} A. "
            f"The voltage falls to {idle.drawn.post_v:.2f} V and the start battery pays.{road}",
            [turn_down(unit, min(allowed_a, output_for_input_a(design, solved, output, 0.98 * available_a)), units)],
        )
    elif input_a > budget_a + 1e-6:
        ledger.finding(
            "match.alternator_budget",
            "caution",
            "match",
            "alternator",
            "Above the alternator budget",
            f"The charger takes {input_a:.1f} A at {idle.label.lower()}; the {choices.alternator_school} school allows {budget_a:.1f} A.{road}",
            [turn_down(unit, allowed_a, units)],
        )
