"""The limits ruler: every limit on the output current, which one binds, and what exceeds it.

- `alternator_budgets`: by both methods at hot idle, and what cruise would leave.
- `ruler_of`: the bars.
- `judge_limits`: its figures.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, NamedTuple

from pydantic import Field

from olvask.core.catalogue import conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import beside_a
from olvask.core.circuit.facts import CRUISE_SHARE, Facts
from olvask.core.circuit.runs import branch_currents
from olvask.core.circuit.solve import Output, Solved
from olvask.core.findings.collector import Judged
from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import Input, Reckoned, Words
from olvask.core.findings.finding import Remedy
from olvask.core.findings.remedy import remedy
from olvask.core.model import Cable, Charger, Design, RunName
from olvask.core.physics.dc_path import greatest_power_w
from olvask.core.stages.match.sources import driving_peak_a
from olvask.core.stages.match.space import no_room
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR

SITE = (
    "battery",
    "alternator_share",
    "alternator_surplus",
    "alternator_cruise",
    "source",
)  # limits no other unit or cable moves
HOTTEST_C = 120.0  # nothing is carried in such air any more, nor in any hotter that a closed box comes to
NEARLY = 0.98  # of what an alternator has left, so that it is not run at its very limit; our own estimate


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """One bar of the limits ruler, in output amperes."""

    key: str
    label: str
    amps: Annotated[float | None, Field(description="output amperes this allows; none where it sets no limit")]
    governs: Annotated[bool, Field(description="false for the school not chosen")]
    binding: bool
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Ruler:
    """The limits ruler of Match."""

    limits: tuple[Limit, ...]
    floor_a: float | None
    binding: str | None
    allowed_a: float | None
    site_a: Annotated[float, Field(description="what battery, alternator and source point allow any unit")]


class Budgets(NamedTuple):
    """Input current the alternator may give the charger [A]."""

    share_a: float
    surplus_a: float
    cruise_a: float

    def of(self, school: str) -> float:
        """The budget of a school; what is left is the less of hot idle and cruise."""
        return self.share_a if school == "share" else min(self.surplus_a, self.cruise_a)


def alternator_budgets(design: Design, facts: Facts) -> Budgets:
    """Input current by share of rated current, by surplus at hot idle, and by surplus at cruise [A].

    A share leaves the rest to whatever else there is; a surplus is what is left once everything else has been given.
    """
    alternator, choices, others_a = design.vehicle.alternator, design.choices, beside_a(design, facts)
    idle_a = alternator.rated_a * float(facts.share.value) - alternator.loads_idle_a - others_a
    cruise_share = 1.0 if design.vehicle.drive == "converter" else CRUISE_SHARE
    cruise_a = alternator.rated_a * cruise_share - alternator.loads_cruise_a - others_a
    fraction = choices.surplus_fraction
    return Budgets(
        choices.share_fraction * alternator.rated_a, fraction * max(0.0, idle_a), fraction * max(0.0, cruise_a)
    )


def turn_down(unit: Charger, wanted_a: float, units: int = 1) -> Remedy | None:
    """Turn each unit down so that together they give at most `wanted_a` [A], where that can be.

    Args:
        unit: the unit.
        wanted_a: most that all may give [A].
        units: how many stand in parallel.
    """
    settable_a = unit.settable_a(wanted_a / units)
    if settable_a is None or settable_a >= unit.output_a:
        return None
    settable_a = int(settable_a * 100 + 1e-6) / 100
    if settable_a <= 0:
        return None
    return remedy(
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
    terminal_v = state.open_v - input_a * (state.source.sag_ohm + state.run.loop_ohm)
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
    tail = Cable(size=largest.size, length_m=0.3, ambient_c=min(HOTTEST_C, float(facts.unit_ambient.value)))
    return ampacity(tail, design.choices.ampacity_school)[0] / CONTINUOUS_FACTOR, largest.size


class _Bar(NamedTuple):
    key: str
    label: str
    amps: float
    text: str
    governs: bool = True


def _bars(ctx: Context) -> list[_Bar]:
    """Every limit on the output current, worked out once for a context."""

    def made() -> list[_Bar]:
        design, unit, output = ctx.design, ctx.design.charger, ctx.solved.output
        allowed_a, why = battery_allows_a(design, ctx.facts)
        bars = [_Bar("battery", "Battery charge limit", allowed_a, why)]
        if unit is None or output is None:
            return bars
        per_input = unit.efficiency / output.terminal_v  # output amperes per watt at the input
        bars += _alternator_bars(ctx, output)
        bars += _source_bars(ctx, per_input)
        bars += _cable_bars(ctx, per_input)
        bars += _unit_bars(ctx, unit, output, per_input)
        return bars

    return ctx.once("match.bars", made)


def _alternator_bars(ctx: Context, output: Output) -> Iterator[_Bar]:
    design, budgets = ctx.design, alternator_budgets(ctx.design, ctx.facts)
    chosen = design.choices.alternator_school
    for school, input_a in (("share", budgets.share_a), ("surplus", budgets.surplus_a)):
        amps = output_for_input_a(design, ctx.solved, output, input_a)
        label = "Alternator, share of rating" if school == "share" else "Alternator, left at hot idle"
        text = f"{input_a:.1f} A at the input, hot idle"
        yield _Bar(f"alternator_{school}", label, amps, text, chosen == school)
    cruise_a = output_for_input_a(design, ctx.solved, output, budgets.cruise_a, "cruise")
    governs = chosen == "surplus" and budgets.cruise_a < budgets.surplus_a
    less = "less than at hot idle" if budgets.cruise_a < budgets.surplus_a else "hot idle governs"
    yield _Bar(
        "alternator_cruise", "Alternator, cruise", cruise_a, f"{budgets.cruise_a:.1f} A left at cruise; {less}", governs
    )


def _source_bars(ctx: Context, per_input: float) -> Iterator[_Bar]:
    """A fused stud upstream, and the volts the supply run holds."""
    source, worst = ctx.design.vehicle.source_point, ctx.solved.worst_healthy
    if source.kind == "fused_stud" and source.rating_a is not None:
        branches_a = worst.run.first_extra_a
        stud_a = max(0.0, source.rating_a / CONTINUOUS_FACTOR - branches_a)
        text = f"{source.rating_a:g} A / 1.25{_less(branches_a)} at {ctx.stay_v:.2f} V"
        yield _Bar("source", "Fused stud upstream", stud_a * ctx.stay_v * per_input, text)
    run_ohm = worst.source.sag_ohm + worst.run.loop_ohm
    if ctx.design.supply.pieces and run_ohm > 0:
        power_w = greatest_power_w(worst.open_v, run_ohm, ctx.hold_v) if worst.open_v > ctx.hold_v else 0.0
        text = f"stays above {ctx.hold_v:.2f} V in {worst.label.lower()}"
        yield _Bar("supply_volts", "Supply run holds volts", power_w * per_input, text)


def _cable_bars(ctx: Context, per_input: float) -> Iterator[_Bar]:
    supply = _tightest(ctx.design, "supply")
    if supply is not None:
        limit_a, branches_a = supply
        amps = max(0.0, limit_a / CONTINUOUS_FACTOR - branches_a) * ctx.stay_v * per_input
        text = f"{limit_a:.0f} A / 1.25{_less(branches_a)} at {ctx.stay_v:.2f} V"
        yield _Bar("supply_cable", "Supply cable", amps, text)
    delivery = _tightest(ctx.design, "delivery")
    if delivery is not None:
        limit_a, _ = delivery
        yield _Bar("delivery_cable", "Delivery cable", limit_a / CONTINUOUS_FACTOR, f"{limit_a:.0f} A / 1.25")


def _less(branches_a: float) -> str:
    """What branches take besides, as it is told in a sum."""
    return f" − {branches_a:.1f} A" if branches_a else ""


def _unit_bars(ctx: Context, unit: Charger, output: Output, per_input: float) -> Iterator[_Bar]:
    """The unit's terminals, the room for it, its own heat."""
    design, facts = ctx.design, ctx.facts
    terminal_a, size = terminal_allows_a(design, facts, unit)
    through_a = design.units * min(terminal_a, terminal_a * ctx.stay_v * per_input)
    yield _Bar("terminal", "Unit's terminals", through_a, f"{size} is the most they take")
    why_not = no_room(unit, design.mount, design.units)
    if why_not:
        yield _Bar("space", "Room for the unit", 0.0, f"{unit.name} {why_not}")
    many = f"{design.units} × " if design.units > 1 else ""
    yield _Bar(
        "heat",
        f"Unit itself at {float(facts.unit_ambient.value):.0f} °C",
        design.units * unit.output_a * output.derating,
        f"{many}full output up to {unit.rated_ambient_c:.0f} °C, then {unit.derating_percent_per_k:g} %/K less",
    )


def _tightest(design: Design, run: RunName) -> tuple[float, float] | None:
    """Of the cable that leaves the unit least: what it carries, and what branches take through it besides [A]."""
    described, school = design.run(run), design.choices.ampacity_school
    extra_a = branch_currents(described, supply=True) if run == "supply" else (0.0,) * len(described.pieces)
    found = [
        (ampacity(piece, school)[0], extra_a[at])
        for at, piece in enumerate(described.pieces)
        if isinstance(piece, Cable)
    ]
    return min(found, key=lambda item: item[0] / CONTINUOUS_FACTOR - item[1], default=None)


def _binding(ctx: Context) -> _Bar:
    return min((bar for bar in _bars(ctx) if bar.governs), key=lambda bar: bar.amps)


def site_a(ctx: Context) -> float:
    """What battery, alternator and source point allow any unit [A]."""
    return min(bar.amps for bar in _bars(ctx) if bar.governs and bar.key in SITE)


def ruler_of(ctx: Context, floor_a: float | None) -> Ruler:
    """Every limit on the output current, the daily floor, and which limit binds.

    Args:
        ctx: the design solved.
        floor_a: output the day needs [A]; `None` when not surveyed.
    """
    binding = _binding(ctx)
    limits = tuple(
        Limit(key=bar.key, label=bar.label, amps=bar.amps, text=bar.text, governs=bar.governs, binding=bar is binding)
        for bar in _bars(ctx)
    )
    limits = spoken(ctx.design, limits)
    return Ruler(limits=limits, floor_a=floor_a, binding=binding.key, allowed_a=binding.amps, site_a=site_a(ctx))


def judge_limits(ctx: Context) -> Judged:
    """Figures of the alternator's budgets and of what all limits allow."""
    if not ctx.worded:
        return
    yield from _budget_figures(ctx)
    binding = _binding(ctx)
    yield Reckoned(
        "match.allowed_output_a",
        "Output allowed by all limits",
        binding.amps,
        "A",
        words=lambda: Words(
            formula="min of all governing limits",
            working=f"{binding.label}: {binding.text}",
            source="trade practice",
            changes=f"a higher limit at: {binding.label[0].lower()}{binding.label[1:]}",
        ),
    )


def _budget_figures(ctx: Context) -> Iterator[Reckoned]:
    design, alternator, choices = ctx.design, ctx.design.vehicle.alternator, ctx.design.choices
    budgets, share = alternator_budgets(design, ctx.facts), float(ctx.facts.share.value)
    others_a = beside_a(design, ctx.facts)

    def described(key: str, label: str, value: float, absent: str) -> Input:
        path = f"vehicle.alternator.{key}"
        return Input(label, value, "A", str(design.provenance.get(path, absent)), path)

    rated = described("rated_a", "Rated current", alternator.rated_a, "entered")
    loads = described("loads_idle_a", "Vehicle loads, idle", alternator.loads_idle_a, "default")
    yield Reckoned(
        "match.alternator_share_a",
        "Alternator, share of its rating",
        budgets.share_a,
        "A",
        words=lambda: Words(
            formula="k · I_rated",
            working=f"{choices.share_fraction:.2f} · {alternator.rated_a:.0f} A = {budgets.share_a:.1f} A",
            inputs=(rated,),
            source="the school that allows a fraction of rated current",
            changes="a larger alternator or another fraction",
        ),
    )
    worked = (
        f"{choices.surplus_fraction:.2f} · ({alternator.rated_a:.0f} A · {share:.2f} − {alternator.loads_idle_a:.0f} A"
    )
    worked += f" − {others_a:.1f} A)" if others_a else ")"
    yield Reckoned(
        "match.alternator_surplus_a",
        "Alternator, left at hot idle",
        budgets.surplus_a,
        "A",
        words=lambda: Words(
            formula=f"k · (I_rated · share at hot idle − loads{' − what else draws' if others_a else ''})",
            working=f"{worked} = {budgets.surplus_a:.1f} A" if budgets.surplus_a > 0 else f"max(0 A, {worked}) = 0.0 A",
            inputs=(rated, ctx.facts.share, loads),
            source="the school that allows a part of what hot idle leaves",
            changes="fewer loads at idle, a measured share at hot idle, or another fraction",
        ),
    )
