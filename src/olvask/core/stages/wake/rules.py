"""Start and stop rules by voltage: what is wrong with them, and what would mend it.

A signal that goes with the engine keeps the unit off parked whatever its rules; the key does, once it is turned.

- `judge_rules`: start and stop by voltage, and what a low phase does.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import Solved
from olvask.core.circuit.thresholds import Thresholds
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import apart, away, capital, listed
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import Design
from olvask.core.model.charger import WAY_WORDS
from olvask.core.physics.battery import SURFACE_TAU_S
from olvask.core.physics.rounding import over, under
from olvask.core.stages.run.growth import grow, thickest_need
from olvask.core.stages.wake.low_phase import judge_low_phase, judge_phase_guard, stop_concerns
from olvask.core.stages.wake.remedies import (
    PROPOSED,
    START_PATH,
    STOP_PATH,
    healthy_thresholds,
    less_current,
    propose,
    signal_instead,
    unset,
)
from olvask.core.stages.wake.thresholds import beneath


def judge_rules(ctx: Context) -> Judged:
    """Start and stop by voltage; what a low phase does to them, or to a signal alone."""
    if ctx.design.charger is None or ctx.solved.output is None:
        return
    if "voltage" not in ctx.design.activation.ways:
        yield from judge_phase_guard(ctx)
        return
    yield from _told_by_signal(ctx)
    yield from _judge_start(ctx)
    for row in range(1, len(ctx.thresholds.start_rules)):
        yield from _judge_further_start(ctx, row)
    yield from _judge_stop(ctx)
    yield from judge_low_phase(ctx)


def _keyed(ctx: Context) -> bool:
    """Whether the key takes it off, and nothing but its volts does with the key left on."""
    return "ignition" in ctx.design.activation.ways and not ctx.thresholds.beside_signal


def _told_by_signal(ctx: Context) -> Iterator[Found]:
    """Rules that parked volts meet, beside a signal that keeps it off then."""
    at, design = ctx.thresholds, ctx.design
    rules = [("start", at.earliest_start_v, START_PATH), ("stop", at.stop_v, stop_concerns(ctx)[0])]
    met = [(name, volts, path) for name, volts, path in rules if volts <= at.rest_high_v]
    if not met or not at.beside_signal or not design.waits_for:
        return
    way = WAY_WORDS["ignition" if design.vehicle.ready_fed else "d_plus"]
    named = listed([f"the {name} at {volts:.2f} V" for name, volts, _ in met])
    yield note(
        "wake.signal_tells",
        "charger",
        "Only its signal tells that the engine is off",
        f"{capital(named)} {'lie' if len(met) > 1 else 'lies'} not above the {at.rest_high_v:.2f} V seen with the "
        f"engine off: the {way} alone keeps it off then. See when commissioning that it goes dead with the engine.",
        concerns=tuple(path for _, _, path in met),
    )


def _judge_start(ctx: Context) -> Iterator[Found]:
    at = ctx.thresholds
    start_v, entered = at.start_v, ctx.design.activation.start_rules[0].at_least_v
    repair = propose(ctx.design, "Propose the start from its window", START_PATH, entered)
    remedies = [repair, signal_instead(ctx.design)]
    concerns = (START_PATH,)
    fixed = ctx.design.charger is not None and ctx.design.charger.start_rules.fixed is not None
    branches_a = ctx.solved.idle_run.first_extra_a
    beside = f" with {branches_a:.1f} A branched off its run" if branches_a else ""
    if at.earliest_start_v >= at.unloaded_low_v and entered is None and not fixed:
        yield stop(
            "wake.no_start_window",
            "charger",
            "No voltage can start it here",
            f"{at.rest_high_v:.2f} V are seen with the engine off, {at.unloaded_low_v:.2f} V running{beside}: no start can stand "
            f"clear of both by {at.margin_v:.2f} V. {'Take less off the run, or use' if beside else 'Use'} a signal.",
            [signal_instead(ctx.design)],
            concerns,
        )
    elif at.earliest_start_v >= at.unloaded_low_v:
        starts, runs = apart(start_v, at.unloaded_low_v, 2)
        yield stop(
            "wake.never_starts",
            "charger",
            "It does not start",
            f"It starts at {starts} V, but the lowest running voltage is {runs} V{beside}.",
            remedies,
            concerns,
        )
    low_v, low = beneath(at)
    if start_v <= at.rest_high_v and not at.beside_signal:
        keyed, (starts, rests) = _keyed(ctx), apart(start_v, at.rest_high_v, 2)
        yield (caution if keyed else stop)(
            "wake.starts_parked",
            "charger",
            f"It starts with the {'key on and the ' if keyed else ''}engine off",
            f"It starts at {starts} V, not above the {rests} V seen with the engine off: "
            f"{'with the key left on ' if keyed else ''}it empties the start battery.",
            remedies,
            concerns,
        )
    elif at.earliest_start_v < at.unloaded_low_v and (over(start_v, at.start_high_v) or under(start_v, at.least_v)):
        yield caution(
            "wake.start_tight",
            "charger",
            "The start is close to its limits",
            f"{start_v:.2f} V stands {away(start_v - low_v, low)} and "
            f"{away(start_v - at.unloaded_low_v, 'running')}; {at.margin_v:.2f} V either side is wanted.",
            remedies,
            concerns,
        )


def _judge_further_start(ctx: Context, row: int) -> Iterator[Found]:
    """A start rule beside the first: above the engine-off volts, above the slower rule, and ever reached."""
    at = ctx.thresholds
    rule, first = at.start_rules[row], at.start_rules[0]
    path, name = f"activation.start_rules.{row}.at_least_v", f"Start rule {row + 1}"
    volts = f"{rule.volts:.2f} V"
    remedies = [_without_start(ctx.design, row)]
    low_v, low = beneath(at)
    if rule.volts <= at.rest_high_v and not at.beside_signal:
        keyed = _keyed(ctx)
        title = f"{name} starts it with the {'key on and the ' if keyed else ''}engine off"
        text = (
            f"{volts} is not above the {at.rest_high_v:.2f} V seen with the engine off: "
            f"{'with the key left on ' if keyed else ''}it empties the start battery."
        )
        yield (caution if keyed else stop)(f"wake.start_parked.{row}", "charger", title, text, remedies, (path,))
    elif under(rule.volts, at.least_v):
        text = f"{volts} stands {away(rule.volts - low_v, low)}; {at.margin_v:.2f} V is wanted."
        yield caution(f"wake.start_tight.{row}", "charger", f"{name} is close to {low}", text, remedies, (path,))
    elif rule.volts < first.volts and rule.held_s <= first.held_s:
        text = (
            f"It starts at {volts} after {rule.held_s:g} s, before the first rule's {first.volts:.2f} V and "
            f"{first.held_s:g} s: the start battery gets no time to recover."
        )
        yield caution(
            f"wake.start_hides.{row}", "charger", f"{name} leaves the first without effect", text, remedies, (path,)
        )
    elif rule.volts > at.unloaded_high_v:
        text = f"{volts} lies above the {at.unloaded_high_v:.2f} V the engine holds: only the first rule counts."
        yield note(f"wake.start_unreached.{row}", "charger", f"{name} is never met", text, remedies, (path,))


def _without_start(design: Design, row: int) -> Remedy:
    kept = [rule for at, rule in enumerate(design.activation.start_rules) if at != row]
    value = [rule.model_dump(mode="json") for rule in kept]
    return remedy(f"Take start rule {row + 1} out", ("activation.start_rules", value))


def _stop_fits(design: Design, at: Thresholds) -> bool:
    """The window is open, and the stop in it where the unit's cannot be set."""
    if not at.stop_window_open or at.stop_high_v is None:
        return False
    return design.charger is None or design.charger.stop_rules.settable or at.stop_v <= at.stop_high_v


def _opening(design: Design, solved: Solved) -> list[Remedy | None]:
    """What opens the stop window: a signal, more copper, less current."""
    bare = design.model_copy(update={"activation": unset(design.activation)})
    cable = grow(
        bare,
        "supply",
        thickest_need(design.supply, solved.running[0].run),
        lambda candidate: _stop_fits(candidate, healthy_thresholds(candidate, solved)),
        "to open the stop window",
    )
    return [
        signal_instead(design),
        cable and joined(cable.label, cable, ((STOP_PATH, None), (START_PATH, None))),
        less_current(bare, lambda candidate: _stop_fits(candidate, healthy_thresholds(candidate))),
    ]


def _stops_late(ctx: Context, stop_v: float, repair: Remedy | None, signal: Remedy | None) -> Found:
    """A stop between the rested volts and those just after stopping: met once the surface charge has leaked away."""
    facts, at = ctx.facts, ctx.thresholds
    rest_v, after_v = float(facts.rest.value), float(facts.after_stop.value)
    minutes = SURFACE_TAU_S / 60 * math.log((after_v - rest_v) / (stop_v - rest_v))
    held_s = max(rule.held_s for rule in at.stop_rules)
    most_ah = at.input_w / after_v * (minutes / 60 + held_s / 3600)
    when = f"after about {minutes:.0f} min" if minutes >= 0.5 else "within a minute"
    left_on = ", with the key left on," if _keyed(ctx) else ""
    return caution(
        "wake.stops_late",
        "charger",
        "It stops only after a while",
        f"Just after the engine stops there is {after_v:.2f} V at its input, and it stops only below {stop_v:.2f} V. With little left to "
        f"charge nothing sags, and it stops{left_on} when the surface charge has leaked away, {when}; at most "
        f"{most_ah:.1f} Ah are taken by then.",
        [repair, signal],
        stop_concerns(ctx),
    )


def _judge_stop(ctx: Context) -> Iterator[Found]:
    at, activation = ctx.thresholds, ctx.design.activation
    stop_v, loaded_v, concerns = at.stop_v, at.loaded_low_v, stop_concerns(ctx)
    entered = activation.stop_rules[0].below_v
    repair = propose(ctx.design, "Propose the stop from its window", STOP_PATH, entered)
    signal = signal_instead(ctx.design)
    if stop_v > at.earliest_start_v:
        stops, starts = apart(stop_v, at.earliest_start_v, 2)
        yield stop(
            "wake.stop_above_start",
            "charger",
            "Stop lies above start",
            f"It stops below {stops} V and starts at {starts} V: it stops as soon as it has started.",
            [remedy("Propose start and stop from the windows", *PROPOSED)],
            (*concerns, START_PATH),
        )
    settled_v = ctx.facts.settled_v
    if settled_v < stop_v <= at.rest_high_v and not at.beside_signal:
        yield _stops_late(ctx, stop_v, repair, signal)
    if stop_v <= settled_v and not at.beside_signal:
        keyed = _keyed(ctx)
        yield (caution if keyed else stop)(
            "wake.never_stops",
            "charger",
            "Only the key stops it" if keyed else "It does not stop",
            f"It stops below {stop_v:.2f} V, not above the unloaded {settled_v:.2f} V with the engine off"
            + (", while the start battery is held up" if stop_v > float(ctx.facts.rest.value) else "")
            + f": {'with the key left on, ' if keyed else ''}once charging has tapered nothing sags, and it drains the start "
            "battery down to the guard.",
            [repair, signal],
            concerns,
        )
    if loaded_v is not None:
        yield from _judge_stop_under_load(ctx, loaded_v, repair, signal)


def _judge_stop_under_load(
    ctx: Context, loaded_v: float, repair: Remedy | None, signal: Remedy | None
) -> Iterator[Found]:
    """The stop against what full current leaves while the engine runs."""
    at, stop_v, concerns = ctx.thresholds, ctx.thresholds.stop_v, stop_concerns(ctx)
    entered = ctx.design.activation.stop_rules[0].below_v
    fixed = ctx.design.charger is not None and ctx.design.charger.stop_rules.fixed is not None
    low_v, low = beneath(at)
    if stop_v > loaded_v and entered is None and not fixed and not at.stop_window_open:
        yield stop(
            "wake.no_stop_window",
            "charger",
            "No stop by voltage works here",
            f"It must stand above the {low_v:.2f} V {'of the guard' if at.beside_signal else 'of a stopped engine'} and under the "
            f"{loaded_v:.2f} V that full current leaves running. Set above that it hunts: it starts, sags its own input, stops, "
            f"and starts again; set below, {'the guard stops it first' if at.beside_signal else 'it does not stop'}. Holding it "
            "longer only makes that slower.",
            lambda: _opening(ctx.design, ctx.solved),
            concerns,
        )
    elif stop_v > loaded_v:
        pulled, stops = apart(loaded_v, stop_v, 2)
        yield stop(
            "wake.hunts",
            "charger",
            "It hunts",
            f"Full current pulls the terminals to {pulled} V, under the stop at {stops} V: it starts, sags its own "
            "input, stops, recovers and starts again. Holding it longer only makes that slower.",
            lambda: [repair if at.stop_window_open else None, *_opening(ctx.design, ctx.solved)],
            concerns,
        )
    elif over(stop_v, loaded_v - at.margin_v) or (low_v < stop_v and under(stop_v, at.least_v)):
        yield caution(
            "wake.stop_tight",
            "charger",
            "The stop is close to its limits",
            f"{stop_v:.2f} V stands {away(stop_v - low_v, low)} and "
            f"{away(stop_v - loaded_v, 'the loaded running voltage')}; {at.margin_v:.2f} V either side is wanted.",
            # Too near the resting volts in an open window, copper and current do not help.
            lambda: (
                [repair, signal]
                if at.stop_window_open and under(stop_v, at.least_v)
                else [repair if at.stop_window_open else None, *_opening(ctx.design, ctx.solved)]
            ),
            concerns,
        )
