"""Ways to start, start and stop rules, low phases: what is wrong with them, and what would mend it.

- `judge_ways`: signals, switches and bridges.
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
from olvask.core.findings.listed import away
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import Charger, Design, StartWay
from olvask.core.model.charger import ENABLE_FOR, ENABLE_WORDS, WAY_WORDS
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
    signals_at_hand,
    unset,
)
from olvask.core.stages.wake.wiring import TAPPED

WAYS = ("activation.ways",)
LEAST_GUARD_S, USUAL_GUARD_S, MOST_GUARD_S = 0.5, 2.0, 60.0  # holds of the guard [s]; our own estimates
MOST_STOP_S, MOST_START_S = 900.0, 600.0  # holds beyond which a rule does not do its work; our own estimates
ONLY_GUARDED: tuple[tuple[StartWay, ...], ...] = (("ignition",), ("bridge",), ("switch",))


def judge_ways(ctx: Context) -> Judged:
    """Signals the unit or the vehicle has not, ways that only the battery guard stands behind."""
    design, unit, ways = ctx.design, ctx.design.charger, ctx.design.activation.ways
    if unit is None:
        return
    if not ways:
        possible = signals_at_hand(design) or (["voltage"] if "voltage" in unit.enables else ["bridge"])
        yield stop(
            "wake.no_way",
            "charger",
            "Nothing lets it charge",
            "A unit with no enable connected does nothing: the commonest call for a dead unit.",
            [remedy(f"Use the {WAY_WORDS[possible[0]]}", ("activation.ways", [possible[0]]))],
            concerns=WAYS,
        )
    for way in ways:
        yield from _judge_way(design, unit, way)
    yield from _holds(ctx)
    if ways in ONLY_GUARDED and not design.tells_running:
        always = ways != ("ignition",)
        yield (caution if always else note)(
            f"wake.guard_alone.{ways[0]}",
            "charger",
            f"Only the battery guard stands behind the {WAY_WORDS[ways[0]]}",
            "It is on with the engine stopped as well: it empties the start battery down to the guard every time it stands."
            if always
            else "It may be on with the engine stopped; then only the guard keeps charge for cranking.",
            [signal_instead(design)] if always else [],
            concerns=WAYS,
        )
    if unit.behaviour.latched and not {"switch", "bridge"}.isdisjoint(ways):
        kept = unit.behaviour.keeps_without_remote
        yield caution(
            "wake.latched",
            "charger",
            "It keeps charging when its remote is lost",
            f"{unit.name} keeps a mode until it is reset: losing the remote or its wire does not stop it"
            + (f" ({kept})" if kept else "")
            + ". Then only the battery guard stops it.",
            [signal_instead(design)],
            concerns=WAYS,
        )


def _holds(ctx: Context) -> Iterator[Found]:
    """Holds so short that every crank counts, or so long that they guard nothing."""
    activation, at = ctx.design.activation, ctx.thresholds
    guard_s, path = activation.guard.held_s, "activation.guard.held_s"
    amps = at.input_w / at.guard_v
    usual = [remedy(f"Hold it for {USUAL_GUARD_S:g} s", (path, USUAL_GUARD_S))]
    if guard_s < LEAST_GUARD_S:
        text = f"{guard_s:g} s: every crank and every load that comes on trips it. A second or two is usual."
        yield caution("wake.guard_hold_short", "charger", "The battery guard acts at once", text, usual, (path,))
    elif guard_s > MOST_GUARD_S:
        text = f"{guard_s:g} s under {at.guard_v:.2f} V take up to {amps * guard_s / 3600:.1f} Ah more from a low start battery."
        yield caution("wake.guard_hold_long", "charger", "The battery guard acts late", text, usual, (path,))
    if "voltage" not in activation.ways or ctx.solved.output is None:
        return
    stop_s = min(rule.held_s for rule in at.stop_rules)
    row = next(index for index, rule in enumerate(at.stop_rules) if rule.held_s == stop_s)
    taken_ah = at.input_w / at.stop_v * stop_s / 3600
    if stop_s > MOST_STOP_S:
        text = f"It runs on for {stop_s / 60:.0f} min after every stop of the engine: up to {taken_ah:.1f} Ah of the start battery."
        shorter = [remedy("Hold it for 30 s", (f"activation.stop_rules.{row}.held_s", 30.0))]
        concerns = (f"activation.stop_rules.{row}.held_s",)
        yield caution("wake.stop_hold_long", "charger", "It stops very late", text, shorter, concerns)
    start_s = min(rule.held_s for rule in at.start_rules)
    if start_s > MOST_START_S:
        text = f"It waits {start_s / 60:.0f} min with the engine running before it starts; short drives charge nothing."
        sooner = [remedy("Hold it for 30 s", ("activation.start_rules.0.held_s", 30.0))]
        yield caution(
            "wake.start_hold_long", "charger", "It starts very late", text, sooner, ("activation.start_rules.0.held_s",)
        )


def _judge_way(design: Design, unit: Charger, way: StartWay) -> Iterator[Found]:
    signals = design.vehicle.signals
    if ENABLE_FOR[way] not in unit.enables:
        yield stop(
            f"wake.unsupported.{way}",
            "charger",
            f"The unit has no {WAY_WORDS[way]}",
            f"{unit.name} takes: {', '.join(ENABLE_WORDS[item] for item in unit.enables) or 'no enable at all'}.",
            [signal_instead(design)],
            concerns=WAYS,
        )
    if way in TAPPED and design.plugged and not design.activation.plug_contact:
        yield caution(
            f"wake.plug_contact.{way}",
            "charger",
            f"No contact for the {WAY_WORDS[way]} in the plug",
            "The unit sits behind the plug: its enable wire needs a contact of its own there. Find a free one and note it. A "
            "feed that is live with the key is not proof that the engine runs.",
            concerns=(*WAYS, "activation.plug_contact"),
        )
    if way == "d_plus" and design.vehicle.ready_fed:
        yield stop(
            "wake.no_d_plus",
            "charger",
            "It waits for a D+ that is never there",
            "A hybrid or electric drive has no charge-indicator line: the unit never starts. Take the feed that is live when the "
            "vehicle is ready, or its voltage.",
            [
                remedy(f"Use the {WAY_WORDS[other]}", ("activation.ways", [other]))
                for other in (*signals_at_hand(design), *(item for item in unit.enables if item == "voltage"))
            ],
            concerns=WAYS,
        )
    elif (way == "ignition" and not signals.ignition) or (way == "d_plus" and not signals.d_plus):
        yield caution(
            f"wake.signal_absent.{way}",
            "charger",
            f"No {WAY_WORDS[way]} surveyed",
            "The design relies on a signal the survey does not list. Find it and note it, or choose another way to start.",
            [remedy("It is there: note it in the survey", (f"vehicle.signals.{way}", True))],
            concerns=(*WAYS, f"vehicle.signals.{way}"),
        )


def judge_rules(ctx: Context) -> Judged:
    """Start and stop by voltage; what a low phase does to them, or to a signal alone."""
    if ctx.design.charger is None or ctx.solved.output is None:
        return
    if "voltage" not in ctx.design.activation.ways:
        yield from judge_phase_guard(ctx)
        return
    yield from _judge_start(ctx)
    for row in range(1, len(ctx.thresholds.start_rules)):
        yield from _judge_further_start(ctx, row)
    yield from _judge_stop(ctx)
    yield from judge_low_phase(ctx)


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
        yield stop(
            "wake.never_starts",
            "charger",
            "It does not start",
            f"It starts at {start_v:.2f} V, but the lowest running voltage is {at.unloaded_low_v:.2f} V{beside}.",
            remedies,
            concerns,
        )
    if start_v <= at.rest_high_v:
        yield stop(
            "wake.starts_parked",
            "charger",
            "It starts with the engine off",
            f"It starts at {start_v:.2f} V, not above the {at.rest_high_v:.2f} V seen with the engine off: it empties the "
            "start battery.",
            remedies,
            concerns,
        )
    elif at.earliest_start_v < at.unloaded_low_v and (over(start_v, at.start_high_v) or under(start_v, at.floor_v)):
        yield caution(
            "wake.start_tight",
            "charger",
            "The start is close to its limits",
            f"{start_v:.2f} V stands {away(start_v - at.rest_high_v, 'resting')} and "
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
    if rule.volts <= at.rest_high_v:
        title = f"{name} starts it with the engine off"
        text = (
            f"{volts} is not above the {at.rest_high_v:.2f} V seen with the engine off: it empties the start battery."
        )
        yield stop(f"wake.start_parked.{row}", "charger", title, text, remedies, (path,))
    elif under(rule.volts, at.floor_v):
        text = f"{volts} stands {away(rule.volts - at.rest_high_v, 'resting')}; {at.margin_v:.2f} V is wanted."
        yield caution(f"wake.start_tight.{row}", "charger", f"{name} is close to resting", text, remedies, (path,))
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
    return caution(
        "wake.stops_late",
        "charger",
        "It stops only after a while",
        f"Just after the engine stops {after_v:.2f} V stand at its input, over the stop at {stop_v:.2f} V. With little left to "
        f"charge nothing sags, and it stops when the surface charge has leaked away, after about {minutes:.0f} min; at most "
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
        yield stop(
            "wake.stop_above_start",
            "charger",
            "Stop lies above start",
            f"It stops below {stop_v:.2f} V and starts at {at.earliest_start_v:.2f} V: it stops as soon as it has started.",
            [remedy("Propose start and stop from the windows", *PROPOSED)],
            (*concerns, START_PATH),
        )
    settled_v = ctx.facts.settled_v
    if settled_v < stop_v <= at.rest_high_v:
        yield _stops_late(ctx, stop_v, repair, signal)
    if stop_v <= settled_v:
        yield stop(
            "wake.never_stops",
            "charger",
            "It does not stop",
            f"It stops below {stop_v:.2f} V, not above the unloaded {settled_v:.2f} V with the engine off"
            + (", while the start battery is held up" if stop_v > float(ctx.facts.rest.value) else "")
            + ": once charging has tapered nothing sags, and it drains the start battery down to the guard.",
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
    if stop_v > loaded_v and entered is None and not fixed and not at.stop_window_open:
        yield stop(
            "wake.no_stop_window",
            "charger",
            "No stop by voltage works here",
            f"It must stand above the {at.rest_high_v:.2f} V of a stopped engine and under the {loaded_v:.2f} V that full current "
            "leaves running. Set above that it hunts: it starts, sags its own input, stops, and starts again; set below, it "
            "does not stop. Holding it longer only makes that slower.",
            lambda: _opening(ctx.design, ctx.solved),
            concerns,
        )
    elif stop_v > loaded_v:
        yield stop(
            "wake.hunts",
            "charger",
            "It hunts",
            f"Full current pulls the terminals to {loaded_v:.2f} V, under the stop at {stop_v:.2f} V: it starts, sags its own "
            "input, stops, recovers and starts again. Holding it longer only makes that slower.",
            lambda: [repair if at.stop_window_open else None, *_opening(ctx.design, ctx.solved)],
            concerns,
        )
    elif over(stop_v, loaded_v - at.margin_v) or (at.rest_high_v < stop_v and under(stop_v, at.floor_v)):
        yield caution(
            "wake.stop_tight",
            "charger",
            "The stop is close to its limits",
            f"{stop_v:.2f} V stands {away(stop_v - at.rest_high_v, 'resting')} and "
            f"{away(stop_v - loaded_v, 'the loaded running voltage')}; {at.margin_v:.2f} V either side is wanted.",
            # Too near the resting volts in an open window, copper and current do not help.
            lambda: (
                [repair, signal]
                if at.stop_window_open and under(stop_v, at.floor_v)
                else [repair if at.stop_window_open else None, *_opening(ctx.design, ctx.solved)]
            ),
            concerns,
        )
