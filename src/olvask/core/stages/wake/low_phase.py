"""Low phases of a managed alternator: hunting in them, stopping in them, and what they do to the battery guard."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import Thresholds, guard_step_v, set_thresholds, step_down
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import apart
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import Design
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.run.growth import grow, thickest_need
from olvask.core.stages.wake.remedies import (
    BACK_PATH,
    GUARD_PATH,
    LOW_V,
    PROPOSED,
    START_PATH,
    less_current,
    signal_instead,
    unset,
)

LONGEST_HOLD_S = 3600.0  # a stop rule holds no longer
PAST_PHASE_S = 30.0  # a hold that rides a low phase outlasts it by this; our own estimate


def _phase_volts(at: Thresholds, volts: float) -> str:
    """Loaded volts of the low phase in words; as the guard has them too, where it allows for the draw."""
    seen_v = at.phase_seen_v
    return f"{volts:.2f} V" if at.guard_ohm <= 0 or seen_v is None else f"{volts:.2f} V ({seen_v:.2f} V to the guard)"


def _missed(ctx: Context) -> str:
    """What a phase costs that is spent not charging."""
    output, phase_s = ctx.solved.output, ctx.thresholds.low_phase_s
    if output is None:
        return ""
    return f" A phase of {phase_s:.0f} s costs {output.current_a * phase_s / 3600:.1f} Ah of charge."


def stop_concerns(ctx: Context) -> tuple[str, ...]:
    """The path of the stop rule that counts: the highest."""
    volts = [rule.volts for rule in ctx.thresholds.stop_rules]
    return (f"activation.stop_rules.{volts.index(max(volts))}.below_v",)


def judge_low_phase(ctx: Context) -> Iterator[Found]:
    """What a low phase does to a unit started by voltage: hunts, stops, or trips the guard."""
    at, phase = ctx.thresholds, ctx.solved.running_by_key("low")
    if phase is None or at.loaded_phase_v is None:
        return
    trips = _guard_trips(ctx)
    if at.rides_low_phase:
        cost_ah = (phase.drawn.current_a if phase.drawn is not None else 0.0) * _given_s(ctx) / 3600
        said = caution if trips else note
        yield said(
            "wake.rides_low_phase",
            "charger",
            "The battery guard trips in the low phase" if trips else "It rides through the low phase",
            f"The charger sees {_phase_volts(at, at.loaded_phase_v)} in the low phase, the guard stands at {at.guard_v:.2f} V. "
            f"The long hold of the stop costs the start battery up to {cost_ah:.1f} Ah {_when_given(ctx)}.",
            lambda: [_signal_and_guard(ctx.design, ctx.solved) if trips else signal_instead(ctx.design)],
            ("activation.stop_rules.0.held_s", *((GUARD_PATH,) if trips else ())),
        )
    elif at.hunts_in_phase:
        yield _hunts_in_phase(ctx, trips)
    elif at.stops_in_phase:
        yield _stops_in_phase(ctx, trips)


def _given_s(ctx: Context) -> float:
    """How long a stop held past the phase lets the start battery give: its hold, or the phase where a signal ends it sooner [s]."""
    at = ctx.thresholds
    return at.low_phase_s if at.beside_signal else max(rule.held_s for rule in at.stop_rules)


def _when_given(ctx: Context) -> str:
    if ctx.thresholds.beside_signal:
        return "in every phase"
    keyed = "ignition" in ctx.design.activation.ways
    return f"after every engine stop{' with the key left on' if keyed else ''}"


def _guard_trips(ctx: Context) -> bool:
    """Whether the low phase reaches the guard, and lasts longer than its hold."""
    at = ctx.thresholds
    return (at.phase_seen_v or 0.0) <= at.guard_v and at.low_phase_s > ctx.design.activation.guard.held_s


def _longer_hold(ctx: Context, trips: bool) -> Remedy | None:
    """A hold of the stop that outlasts the phase, where the unit takes one and the guard does not trip first."""
    longer_s = ctx.thresholds.low_phase_s + PAST_PHASE_S
    unit = ctx.design.charger
    most_s = unit.stop_rules.held_most_s if unit is not None else None
    if trips or longer_s > LONGEST_HOLD_S or (most_s is not None and longer_s > most_s):
        return None
    rows = range(len(ctx.thresholds.stop_rules))
    return remedy(
        f"Hold the stop for {longer_s:.0f} s", *((f"activation.stop_rules.{row}.held_s", longer_s) for row in rows)
    )


def _hunts_in_phase(ctx: Context, trips: bool) -> Found:
    at, design, solved = ctx.thresholds, ctx.design, ctx.solved

    def remedies() -> list[Remedy | None]:
        calmer = less_current(design, lambda candidate: not set_thresholds(candidate, solve(candidate)).hunts_in_phase)
        return [_clearing(design, solved), signal_instead(design), _longer_hold(ctx, trips), calmer]

    pulled, stops = apart(at.loaded_phase_v or 0.0, at.stop_v, 2)
    return stop(
        "wake.hunts_in_phase",
        "charger",
        "It hunts in the low phase",
        f"The {at.unloaded_phase_v:.2f} V of the low phase reach the start at {at.earliest_start_v:.2f} V, and full current "
        f"pulls them to {pulled} V, under the stop at {stops} V: it starts and stops all through "
        "the phase.",
        remedies,
        (START_PATH, *stop_concerns(ctx)),
    )


def _stops_in_phase(ctx: Context, trips: bool) -> Found:
    at, design = ctx.thresholds, ctx.design
    volts = _phase_volts(at, at.loaded_phase_v or 0.0)
    if trips:
        does = (
            f"under the guard at {at.guard_v:.2f} V: it switches off after {design.activation.guard.held_s:g} s and comes back "
            f"only at {at.back_v:.2f} V."
        )
    else:
        does = f"and stops below {at.stop_v:.2f} V. It stops and starts while driving."
    return caution(
        "wake.low_phase",
        "charger",
        "The battery guard switches it off in the low phase" if trips else "It stops in the low phase",
        f"The charger sees {volts} in the low phase, {does}{_missed(ctx)}",
        lambda: [
            *(
                [_signal_and_guard(design, ctx.solved), *_phase_remedies(design, ctx.solved)]
                if trips
                else [signal_instead(design)]
            ),
            _longer_hold(ctx, trips),
        ],
        (*stop_concerns(ctx), *((GUARD_PATH,) if trips else ())),
    )


def judge_phase_guard(ctx: Context) -> Iterator[Found]:
    """By signal alone a low phase stops nothing, unless its sag reaches the guard."""
    at, phase_v = ctx.thresholds, ctx.thresholds.loaded_phase_v
    if phase_v is None or not _guard_trips(ctx):
        return
    yield caution(
        "wake.guarded_in_phase",
        "charger",
        "The battery guard switches it off in the low phase",
        f"The signal stays on, but full current pulls the {at.unloaded_phase_v or phase_v:.2f} V of the low phase to "
        f"{_phase_volts(at, phase_v)} at the charger, under the guard at {at.guard_v:.2f} V: it switches off after "
        f"{ctx.design.activation.guard.held_s:g} s and comes back at {at.back_v:.2f} V.{_missed(ctx)}",
        lambda: _phase_remedies(ctx.design, ctx.solved),
        (GUARD_PATH,),
    )


def _phase_remedies(design: Design, solved: Solved) -> list[Remedy | None]:
    """What holds the input over the guard in a low phase: a lower guard within reason, more copper, less current."""

    def clears(candidate: Design, like: Solved | None = None) -> bool:
        found = set_thresholds(candidate, solve(candidate, like, only=("low",)))
        return found.phase_seen_v is not None and found.phase_seen_v > found.guard_v + found.margin_v

    if not clears(design.model_copy(update={"supply": design.supply.model_copy(update={"pieces": ()})}), solved):
        cable = None  # not even with no run at all
    else:
        index = thickest_need(design.supply, solved.running[0].run)
        words = "to clear the guard in the low phase"
        cable = grow(design, "supply", index, lambda candidate: clears(candidate, solved), words)
    return [_lower_guard(design, solved), cable, less_current(design, clears)]


def _lower_guard(design: Design, solved: Solved) -> Remedy | None:
    """The guard put under what the phase leaves, where that still keeps charge enough to crank."""
    at = set_thresholds(design, solved)
    if at.phase_seen_v is None:
        return None
    lower_v = step_down(at.phase_seen_v - at.margin_v / 2, guard_step_v(design.charger, at.step_v))
    start = design.vehicle.start_battery
    keep_v = open_circuit_v(start.chemistry, design.choices.keep_state_of_charge, design.vehicle.system_v)
    if not keep_v - LOW_V * solved.facts.scale <= lower_v < at.guard_v:
        return None
    return remedy(f"Lower the guard to {lower_v:.2f} V", (GUARD_PATH, lower_v), (BACK_PATH, None))


def _signal_and_guard(design: Design, solved: Solved) -> Remedy | None:
    """A signal instead of voltage, and the guard under what the phase leaves: either alone still switches it off."""
    signal, lower = signal_instead(design), _lower_guard(design, solved)
    if signal is None or lower is None:
        return None
    return joined(f"{signal.label}, and {lower.label[0].lower()}{lower.label[1:]}", signal, lower)


def _clearing(design: Design, solved: Solved) -> Remedy | None:
    """Start and stop left to the proposals, where those keep out of the low phase."""
    chosen = design.activation
    if chosen.start_rules[0].at_least_v is None and chosen.stop_rules[0].below_v is None:
        return None
    bare = design.model_copy(update={"activation": unset(chosen)})
    if set_thresholds(bare, solved).hunts_in_phase:
        return None
    return remedy("Propose start and stop from the windows", *PROPOSED)
