"""Whether battery, setting, output and alternator allow the current the unit is set to."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import beside_a
from olvask.core.circuit.facts import PLACE_C
from olvask.core.circuit.solve import ConditionState, Output
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Reckoned, Words
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.listed import apart
from olvask.core.findings.remedy import remedy
from olvask.core.model import Charger, Design
from olvask.core.physics.rounding import over, under
from olvask.core.stages.match.limits import (
    NEARLY,
    Budgets,
    alternator_budgets,
    battery_allows_a,
    output_for_input_a,
    turn_down,
)

NOTHING_A = 0.05  # a yield below this is none
SCHOOL = {"share": "a share of its rating", "surplus": "what hot idle leaves"}


def judge_current(ctx: Context) -> Judged:
    """Findings on the current: battery, setting, units in parallel, heat, alternator."""
    unit, output = ctx.design.charger, ctx.solved.output
    if unit is None or output is None:
        return
    yield from _judge_battery(ctx, unit, output)
    yield from _judge_setting(ctx.design, unit)
    yield from _judge_output(ctx, unit, output)
    yield from _judge_alternator(ctx, unit, output)


def _judge_battery(ctx: Context, unit: Charger, output: Output) -> Iterator[Found]:
    limit_a, why = battery_allows_a(ctx.design, ctx.facts)
    if over(output.current_a, limit_a):
        takes, allows = apart(output.current_a, limit_a, 1)
        yield stop(
            "match.battery_limit",
            "auxiliary",
            "More current than the battery may take",
            f"{takes} A into a battery that allows {allows} A: {why}.",
            [turn_down(unit, limit_a, ctx.design.units)],
            concerns=("auxiliary.charge_limit_a", "current_limit_a"),
        )


def _judge_setting(design: Design, unit: Charger) -> Iterator[Found]:
    setting_a = design.current_limit_a
    if setting_a is None or (setting_a <= unit.output_a and unit.settable_a(setting_a) == setting_a):
        return
    if setting_a > unit.output_a:
        yield stop(
            "match.setting",
            "charger",
            "The unit is set above its rating",
            f"Set to {setting_a:g} A, but {unit.name} gives {unit.output_a:g} A at most.",
            [remedy("Run it at full current", ("current_limit_a", None))],
            concerns=("current_limit_a",),
        )
        return
    steps = ", ".join(f"{step:g}" for step in unit.limit_steps_a)
    allowed = {
        "steps": f"steps of {steps} A",
        "continuous": f"{unit.limit_min_a or 0:g} to {unit.output_a:g} A",
        "none": "no current limit at all",
    }[unit.current_limit]
    yield stop(
        "match.setting",
        "charger",
        "The unit cannot be set to this current",
        f"Set to {setting_a:g} A, but {unit.name} has {allowed}.",
        [turn_down(unit, setting_a), remedy("Run it at full current", ("current_limit_a", None))],
        concerns=("current_limit_a",),
    )


def _judge_output(ctx: Context, unit: Charger, output: Output) -> Iterator[Found]:
    units = ctx.design.units
    if units > 1:
        yield note(
            "match.parallel",
            "charger",
            f"{units} units in parallel",
            f"Together {output.current_a:.1f} A. Near full the one with the lower setting tapers first; they do not switch "
            "each other off. Each unit's own tail needs its own device.",
            concerns=("units",),
        )
    if under(output.yield_a, output.current_a):
        yield _heat(ctx, unit, output)


def _heat(ctx: Context, unit: Charger, output: Output) -> Found:
    """What heat takes off the yield; what is sized for the full current stays so."""
    air_c, lost = float(ctx.facts.unit_ambient.value), 1 - output.yield_a / output.current_a
    mount, of_a = ctx.design.mount, output.current_a / ctx.design.units
    gives = apart(output.yield_a / ctx.design.units, of_a, 1, entered=True)[0]
    words = (
        f"At {air_c:.0f} °C {unit.name} gives {gives} A of {of_a:g} A, {apart(100 * lost, 0, 0)[0]} % less. Cables and devices stay sized for all of it: a cold "
        f"morning gives it. Full output needs air of {unit.rated_ambient_c:.0f} °C."
    )
    cooler = [
        remedy(f"Mount it in the {words_of}", ("mount.place", place), ("mount.ambient_c", None))
        for place, words_of in (("cabin", "cabin"), ("under_floor", "place under the floor"), ("cupboard", "cupboard"))
        if place != mount.place and PLACE_C[place] < min(air_c, unit.rated_ambient_c + 1e-9)
    ]
    kind = stop if output.yield_a <= NOTHING_A else caution
    title = "Heat where it is mounted leaves nothing" if kind is stop else "Heat where it is mounted costs current"
    return kind("match.heat", "charger", title, words, cooler, concerns=("mount.ambient_c", "mount.place"))


def _everything_else(ctx: Context) -> str:
    others_a = beside_a(ctx.design, ctx.facts)
    return f"the vehicle's loads and {others_a:.1f} A that draw besides" if others_a else "the vehicle's loads"


def _judge_alternator(ctx: Context, unit: Charger, output: Output) -> Judged:
    """Its load in percent; where it cannot feed the unit, or not within the budget, at idle or on the road."""
    idle = ctx.solved.running_by_key("idle")
    if ctx.worded and idle is not None and idle.drawn is not None:
        yield _load(ctx, idle.drawn.current_a)
    beyond = [state for state in ctx.solved.running if state.drawn is not None and state.drawn.alternator_limited]
    if beyond:
        yield _overrun(ctx, unit, output, beyond)
    else:
        yield from _over_budget(ctx, unit, output)


def _load(ctx: Context, input_a: float) -> Reckoned:
    alternator = ctx.design.vehicle.alternator
    others_a = alternator.loads_idle_a + beside_a(ctx.design, ctx.facts)
    return Reckoned(
        "match.alternator_load_percent",
        "Alternator at hot idle",
        100 * (input_a + others_a) / alternator.rated_a,
        "%",
        words=lambda: Words(
            formula="(I_in + loads) / I_rated",
            working=f"({input_a:.1f} A + {others_a:.1f} A) / {alternator.rated_a:.0f} A",
            source="definition",
        ),
    )


def _overrun(ctx: Context, unit: Charger, output: Output, beyond: Sequence[ConditionState]) -> Found:
    """The first condition in which the start battery makes up the rest, and a setting that no condition is short of."""
    design, state = ctx.design, beyond[0]
    budgets = alternator_budgets(design, ctx.facts)
    drawn_a, post_v = (0.0, 0.0) if state.drawn is None else (state.drawn.current_a, state.drawn.post_v)
    most_a = min(
        output_for_input_a(design, ctx.solved, output, NEARLY * (item.left_a or 0.0), item.key) for item in beyond
    )
    budget_a = budgets.of(design.choices.alternator_school)
    most_a = min(most_a, output_for_input_a(design, ctx.solved, output, budget_a))
    return stop(
        "match.alternator_overrun",
        "alternator",
        "The alternator cannot feed this",
        f"At {state.label.lower()} {state.left_a or 0.0:.1f} A are left after {_everything_else(ctx)}; the charger takes "
        f"{drawn_a:.1f} A. The voltage falls to {post_v:.2f} V and the start battery makes up the rest.{_road(state, budgets)}",
        [turn_down(unit, most_a, design.units)],
        concerns=("vehicle.alternator.rated_a", "current_limit_a"),
    )


def _road(state: ConditionState, budgets: Budgets) -> str:
    """That the road leaves enough where hot idle does not."""
    if state.key != "idle" or state.drawn is None or budgets.cruise_a < state.drawn.current_a:
        return ""
    return f" At cruise {budgets.cruise_a:.1f} A are left: fine on the road, not at idle."


def _over_budget(ctx: Context, unit: Charger, output: Output) -> Iterator[Found]:
    design, school = ctx.design, ctx.design.choices.alternator_school
    budgets = alternator_budgets(design, ctx.facts)
    held_to = [("idle", budgets.share_a if school == "share" else budgets.surplus_a, SCHOOL[school])]
    if school == "surplus":
        held_to.append(("cruise", budgets.cruise_a, "what cruise leaves"))
    for key, budget_a, called in held_to:
        state = ctx.solved.running_by_key(key)
        if state is None or state.drawn is None or not over(state.drawn.current_a, budget_a):
            continue
        allowed_a = output_for_input_a(design, ctx.solved, output, budgets.of(school))
        takes, allows = apart(state.drawn.current_a, budget_a, 1)
        yield caution(
            "match.alternator_budget",
            "alternator",
            "Above the alternator budget",
            f"The charger takes {takes} A at {state.label.lower()}; the budget, {called}, is "
            f"{allows} A.{_road(state, budgets)}",
            [turn_down(unit, allowed_a, design.units)],
            concerns=("choices.alternator_school", "current_limit_a"),
        )
        return
