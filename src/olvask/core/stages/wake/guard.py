"""The battery guard: keeps charge for cranking, comes back, and does not trip where it only looks like a fault.

- `judge_guard`: all of it.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import ConditionState, Solved, solve
from olvask.core.circuit.thresholds import guard_step_v
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import apart, percent
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.physics.rounding import under
from olvask.core.stages.run.growth import grow, thickest_need
from olvask.core.stages.wake.remedies import (
    BACK_PATH,
    GUARD_PATH,
    LOW_V,
    healthy_thresholds,
    less_current,
    propose,
    spare_ah,
)

CONCERNS = (GUARD_PATH,)


def judge_guard(ctx: Context) -> Judged:
    """Findings on the battery guard and its return."""
    if ctx.design.charger is None or ctx.solved.output is None:
        return
    entered = ctx.design.activation.guard.off_below_v
    repair = propose(ctx.design, "Propose the guard from the charge to keep", GUARD_PATH, entered)
    yield from _judge_off(ctx, repair)
    loaded_v = ctx.thresholds.loaded_seen_v
    if loaded_v is not None and ctx.thresholds.guard_v < loaded_v:
        yield from _judge_starving(ctx)
    yield from _judge_nuisance(ctx)
    yield from _judge_back(ctx)


def _judge_off(ctx: Context, repair: Remedy | None) -> Iterator[Found]:
    at, design, choices = ctx.thresholds, ctx.design, ctx.design.choices
    loaded_v = at.loaded_seen_v
    if "voltage" in design.activation.ways and at.guard_v >= at.stop_v:
        guards, stops = apart(at.guard_v, at.stop_v, 2)
        yield stop(
            "wake.guard_above_stop",
            "charger",
            "The battery guard lies above the stop",
            f"The guard at {guards} V must lie under the stop at {stops} V.",
            [repair],
            CONCERNS,
        )
    if loaded_v is not None and at.guard_v >= loaded_v:
        sees, guards = apart(loaded_v, at.guard_v, 2)
        pulled = f"{at.loaded_low_v:.2f} V, {sees} V as the guard has it" if at.guard_ohm > 0 else f"{sees} V"
        yield stop(
            "wake.guarded_running",
            "charger",
            "The battery guard switches it off while the engine runs",
            f"Full current pulls the terminals to {pulled}; the guard stands at {guards} V.",
            lambda: [
                repair,
                grow(
                    design,
                    "supply",
                    thickest_need(design.supply, ctx.solved.running[0].run),
                    _clears_guard,
                    "to clear the guard",
                ),
                less_current(design, _clears_guard),
            ],
            CONCERNS,
        )
    start = design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, choices.keep_state_of_charge, design.vehicle.system_v)
    if at.guard_v < keep_v - LOW_V * ctx.facts.scale:
        yield caution(
            "wake.guard_low",
            "start_battery",
            "The battery guard leaves too little to crank",
            f"At {percent(choices.keep_state_of_charge)} of charge the battery rests at {keep_v:.2f} V; a guard at "
            f"{at.guard_v:.2f} V keeps less when the charger draws little.",
            [repair],
            CONCERNS,
        )


def _starving(solved: Solved) -> ConditionState | None:
    """The healthy condition in which the alternator is furthest over its limit, the start battery giving the rest."""
    over = [state for state in solved.healthy if state.drawn is not None and state.drawn.alternator_limited]
    return max(over, key=_given_a, default=None)


def _given_a(state: ConditionState) -> float:
    """What the start battery gives in a condition with the engine running [A]."""
    if state.drawn is None or state.source.available_a is None:
        return 0.0
    return state.drawn.current_a + state.run.first_extra_a - state.source.available_a


def _judge_starving(ctx: Context) -> Iterator[Found]:
    """Running, with more drawn than the alternator has: the guard lets it go on until the start battery is low."""
    worst, design = _starving(ctx.solved), ctx.design
    if worst is None or worst.drawn is None or worst.source.available_a is None:
        return
    given_a = _given_a(worst)
    minutes = 60 * spare_ah(design) / given_a
    yield stop(
        "wake.starves",
        "alternator",
        "It empties the start battery while driving",
        f"At {worst.label.lower()} the alternator has {worst.source.available_a:.0f} A left, the unit takes "
        f"{worst.drawn.current_a:.0f} A: the start battery gives {given_a:.0f} A and is down to what is kept for cranking in "
        f"{minutes:.0f} min. When the guard trips at last, it does so again each time it comes back.",
        lambda: [less_current(design, lambda candidate: _starving(solve(candidate)) is None)],
        ("current_limit_a",),
    )


def _judge_nuisance(ctx: Context) -> Iterator[Found]:
    """A guard set for light load trips at full load, when the engine stops and no signal takes the unit off with it."""
    output, at, design = ctx.solved.output, ctx.thresholds, ctx.design
    start, activation = design.vehicle.start_battery, design.activation
    if output is None or "voltage" not in activation.ways or at.beside_signal:
        return
    open_v = float(ctx.facts.after_stop.value)
    inner_ohm = internal_ohm(start.chemistry, start.capacity_ah, design.vehicle.system_v)
    try:
        loaded_v = constant_power_volts(open_v, inner_ohm + ctx.solved.healthy[0].run.loop_ohm, output.power_in_w)
    except Collapse:
        return
    loaded_v += output.power_in_w / loaded_v * at.guard_ohm
    held_s, stop_s = activation.guard.held_s, min(rule.held_s for rule in at.stop_rules)
    if loaded_v >= at.guard_v or held_s >= stop_s:
        return
    yield note(
        "wake.guard_nuisance",
        "charger",
        "The battery guard may trip before the stop",
        f"When the engine stops at full current the input falls from {open_v:.2f} V to {loaded_v:.2f} V, under the guard at "
        f"{at.guard_v:.2f} V: it trips after {held_s:g} s instead of stopping after {stop_s:g} s, and is back at "
        f"{at.back_v:.2f} V with the next start. It costs nothing; the guard keeps charge for cranking at light load too.",
        concerns=CONCERNS,
    )


def _judge_back(ctx: Context) -> Iterator[Found]:
    at = ctx.thresholds
    if at.back_v > at.unloaded_low_v:
        back, holds = apart(at.back_v, at.unloaded_low_v, 2)
        yield stop(
            "wake.back_unreachable",
            "charger",
            "Once the guard has tripped, it stays off",
            f"It comes back at {back} V, above the {holds} V the engine holds: after one trip, even "
            "by one crank, it stays off.",
            lambda: _returning(ctx),
            (BACK_PATH,),
        )
    if under(at.back_v, at.back_least_v) and _starts_again(ctx):
        recovers_v = at.back_least_v - at.margin_v
        yield caution(
            "wake.back_low",
            "charger",
            "The guard comes back too early",
            f"With the engine off and its load gone the input recovers to about {recovers_v:.2f} V; back at {at.back_v:.2f} V "
            "it starts again, pulls the volts down and trips again: it chatters.",
            [remedy("Propose the return", (BACK_PATH, None))],
            (BACK_PATH,),
        )


def _starts_again(ctx: Context) -> bool:
    """Whether anything lets it start after a trip with the engine off: a start above rest, D+ or a dead signal do not."""
    at, ways = ctx.thresholds, ctx.design.activation.ways
    if not ways or ctx.design.kept_off:
        return False
    return "voltage" not in ways or at.earliest_start_v <= at.rest_high_v


def _comes_back(design: Design) -> bool:
    found = healthy_thresholds(design)
    return found.back_least_v + guard_step_v(design.charger, found.step_v) <= found.unloaded_low_v


def _returning(ctx: Context) -> list[Remedy | None]:
    """A return the engine reaches: the proposal where that will do, else a smaller rebound."""
    at, design, proposed = ctx.thresholds, ctx.design, ((BACK_PATH, None),)
    if at.back_least_v + guard_step_v(design.charger, at.step_v) <= at.unloaded_low_v:
        return [remedy("Propose the return", *proposed)]
    index = thickest_need(design.supply, ctx.solved.running[0].run)
    found = [grow(design, "supply", index, _comes_back, "so that it comes back"), less_current(design, _comes_back)]
    return [joined(item.label, item, proposed) for item in found if item is not None]


def _clears_guard(design: Design) -> bool:
    found = healthy_thresholds(design)
    return found.loaded_seen_v is not None and found.loaded_seen_v > found.guard_v + found.margin_v
