"""Activate: what is wrong with the way a unit is started and stopped, and the ways out.

- `judge_activation`: figures and findings on methods, thresholds and lockout.
"""

from __future__ import annotations

from typing import cast

from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.assessment import Level, WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Design, Run
from olvask.core.stages.run.cables import grow, thickest_need
from olvask.core.stages.wake.figures import write_wake_figures
from olvask.core.stages.wake.lockout import judge_lockout, judge_ranges
from olvask.core.stages.wake.remedies import (
    ENABLE_FOR,
    METHOD_LABEL,
    healthy_thresholds,
    less_current,
    signal_way,
    signals_at_hand,
)
from olvask.core.stages.wake.thresholds import Thresholds, set_thresholds


def judge_activation(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """Figures and findings of the Wake stage.

    Args:
        design: the design.
        solved: its circuit.
        set_at: windows and thresholds in force.
        ledger: where figures and findings go.
    """
    if not ledger.verdicts_only:
        write_wake_figures(design, solved, set_at, ledger)
    unit, methods = design.charger, design.activation.methods
    if unit is None or solved.output is None:
        return
    _judge_methods(design, ledger)
    judge_lockout(design, solved, set_at, ledger)
    if "voltage" in methods:
        _judge_start(design, set_at, ledger)
        _judge_at_once(set_at, ledger)
        _judge_stop(design, solved, set_at, ledger)
        _judge_low_phase(design, solved, set_at, ledger)
    else:
        _judge_phase_lockout(design, solved, set_at, ledger)
    judge_ranges(design, set_at, ledger)


def _judge_methods(design: Design, ledger: Ledger) -> None:
    unit, methods, signals = design.charger, design.activation.methods, design.vehicle.signals
    if unit is None:
        return
    if not methods:
        possible = signals_at_hand(design) or (["voltage"] if "voltage" in unit.enables else ["link"])
        ledger.finding(
            "wake.no_method",
            "stop",
            "wake",
            "charger",
            "Nothing lets it charge",
            "A unit with no enable connected does nothing: the commonest call for a dead unit.",
            [way_out(f"Use the {METHOD_LABEL[possible[0]]}", ("activation.methods", [possible[0]]))],
        )
    for method in methods:
        if ENABLE_FOR[method] not in unit.enables:
            ledger.finding(
                f"wake.unsupported.{method}",
                "stop",
                "wake",
                "charger",
                f"The unit has no {METHOD_LABEL[method]}",
                f"{unit.name} takes: {', '.join(unit.enables) or 'no enable at all'}.",
                [signal_way(design)],
            )
        absent = (method == "ignition" and not signals.ignition) or (method == "d_plus" and not signals.d_plus)
        if absent:
            ledger.finding(
                f"wake.signal_absent.{method}",
                "caution",
                "wake",
                "charger",
                f"No {METHOD_LABEL[method]} surveyed",
                "The design counts on a signal the survey does not list. Find it and note it, or choose another way.",
                [way_out("It is there: note it in the survey", (f"vehicle.signals.{method}", True))],
            )
    if methods == ("ignition",) or methods == ("link",) or methods == ("switch",):
        ledger.finding(
            f"wake.lockout_guards.{methods[0]}",
            "note",
            "wake",
            "charger",
            f"Lockout guards the {METHOD_LABEL[methods[0]]}",
            "It may be on with the engine stopped; then only the lockout keeps charge for cranking.",
        )
    if unit.behaviour.latched and not {"switch", "link"}.isdisjoint(methods):
        kept = unit.behaviour.keeps_without_remote
        ledger.finding(
            "wake.latched",
            "caution",
            "wake",
            "charger",
            "The remote's say sticks",
            f"{unit.name} keeps a mode until it is reset: losing the remote or its wire does not stop it"
            + (f" ({kept})" if kept else "")
            + ". Only the lockout guards then.",
            [signal_way(design)],
        )


def _judge_start(design: Design, set_at: Thresholds, ledger: Ledger) -> None:
    start_v = set_at.start_v
    repair = way_out("Propose the start threshold from the window", ("activation.start_v", None))
    ways = [repair if design.activation.start_v is not None else None, signal_way(design)]
    if set_at.earliest_start_v >= set_at.unloaded_low_v:
        ledger.finding(
            "wake.never_starts",
            "stop",
            "wake",
            "charger",
            "It does not start",
            f"Start at {start_v:.2f} V, but the lowest running voltage is {set_at.unloaded_low_v:.2f} V.",
            ways,
        )
    elif start_v <= set_at.rest_high_v:
        ledger.finding(
            "wake.starts_parked",
            "stop",
            "wake",
            "charger",
            "It starts with the engine off",
            f"Start at {start_v:.2f} V lies under the {set_at.rest_high_v:.2f} V seen engine off: it empties the start battery.",
            ways,
        )
    elif start_v > set_at.start_high_v + 1e-9 or start_v < set_at.floor_v - 1e-9:
        ledger.finding(
            "wake.start_tight",
            "caution",
            "wake",
            "charger",
            "Start threshold is tight",
            f"{start_v:.2f} V stands {start_v - set_at.rest_high_v:.2f} V above rest and {set_at.unloaded_low_v - start_v:.2f} V below "
            f"running; {set_at.margin_v:.2f} V either side is wanted.",
            ways,
        )


def _judge_at_once(set_at: Thresholds, ledger: Ledger) -> None:
    """The start without delay, where one is set: over the engine-off volts, over the delayed start, and ever reached."""
    at_once_v = set_at.at_once_v
    if at_once_v is None:
        return
    way = [way_out("Leave the start at once out", ("activation.start_at_once_v", None))]
    if at_once_v <= set_at.rest_high_v:
        key, level, title = "parked", "stop", "It starts at once with the engine off"
        text = f"{at_once_v:.2f} V lies under the {set_at.rest_high_v:.2f} V seen engine off: it empties the start battery."
    elif at_once_v < set_at.floor_v - 1e-9:
        key, level, title = "tight", "caution", "Start at once is tight"
        text = f"{at_once_v:.2f} V stands {at_once_v - set_at.rest_high_v:.2f} V above rest; {set_at.margin_v:.2f} V is wanted."
    elif at_once_v < set_at.start_v:
        key, level, title = "under_start", "caution", "The start delay never counts"
        text = (
            f"It starts at once at {at_once_v:.2f} V, under the {set_at.start_v:.2f} V of the delayed start: the start battery "
            "gets no time to recover."
        )
    elif at_once_v > set_at.unloaded_high_v:
        key, level, title = "never", "note", "Start at once is never reached"
        text = f"{at_once_v:.2f} V lies over the {set_at.unloaded_high_v:.2f} V the engine holds: only the delayed start counts."
    else:
        return
    ledger.finding(f"wake.at_once_{key}", cast(Level, level), "wake", "charger", title, text, way)


def _stop_window_open(set_at: Thresholds) -> bool:
    return set_at.stop_high_v is not None and set_at.stop_high_v >= set_at.floor_v


def _stop_fits(design: Design, set_at: Thresholds) -> bool:
    """The window is open, and the stop in it where the unit's cannot be set."""
    if not _stop_window_open(set_at) or set_at.stop_high_v is None:
        return False
    return design.charger is None or design.charger.adjustable or set_at.stop_v <= set_at.stop_high_v


def _opening_ways(design: Design, solved: Solved) -> list[WayOut | None]:
    """Ways to open the stop window: a signal, more copper, less current."""
    bare = design.model_copy(
        update={"activation": design.activation.model_copy(update={"stop_v": None, "start_v": None})}
    )
    cable = grow(
        bare,
        "supply",
        thickest_need(design, "supply", solved.running[0].run),
        lambda candidate: _stop_fits(candidate, healthy_thresholds(candidate, solved)),
        "to open the stop window",
    )
    if cable is not None:
        cable = way_out(
            cable.label,
            *((item.path, item.value) for item in cable.changes),
            ("activation.stop_v", None),
            ("activation.start_v", None),
        )
    return [
        signal_way(design),
        cable,
        less_current(bare, lambda candidate: _stop_fits(candidate, healthy_thresholds(candidate))),
    ]


def _judge_stop(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    stop_v, loaded_v = set_at.stop_v, set_at.loaded_low_v
    repair = (
        way_out("Propose the stop threshold from the window", ("activation.stop_v", None))
        if design.activation.stop_v is not None
        else None
    )
    if stop_v > set_at.start_v:
        both = way_out(
            "Propose start and stop from the windows", ("activation.start_v", None), ("activation.stop_v", None)
        )
        ledger.finding(
            "wake.stop_above_start",
            "stop",
            "wake",
            "charger",
            "Stop lies above start",
            f"Stop {stop_v:.2f} V, start {set_at.start_v:.2f} V: it stops as soon as it starts.",
            [both],
        )
    if stop_v <= set_at.rest_high_v:
        ledger.finding(
            "wake.never_stops",
            "stop",
            "wake",
            "charger",
            "It does not stop",
            f"Stop at {stop_v:.2f} V lies under the unloaded {set_at.rest_high_v:.2f} V engine off: once charging has tapered "
            "nothing sags, and it drains the start battery to the lockout.",
            [repair, signal_way(design)],
        )
    if loaded_v is None:
        return
    if stop_v > loaded_v:
        ledger.finding(
            "wake.hunts",
            "stop",
            "wake",
            "charger",
            "It hunts",
            f"Full current pulls the terminals to {loaded_v:.2f} V, under the {stop_v:.2f} V stop: it starts, sags its own input, "
            "stops, recovers and starts again. A longer delay only makes that slower.",
            lambda: [repair if _stop_window_open(set_at) else None, *_opening_ways(design, solved)],
        )
    elif stop_v > loaded_v - set_at.margin_v + 1e-9 or set_at.rest_high_v < stop_v < set_at.floor_v - 1e-9:
        ledger.finding(
            "wake.stop_tight",
            "caution",
            "wake",
            "charger",
            "Stop threshold is tight",
            f"{stop_v:.2f} V stands {stop_v - set_at.rest_high_v:.2f} V above rest and {loaded_v - stop_v:.2f} V under the loaded "
            f"running voltage; {set_at.margin_v:.2f} V either side is wanted.",
            # Too near the rest volts in an open window, copper and current do not help.
            lambda: (
                [repair, signal_way(design)]
                if _stop_window_open(set_at) and stop_v < set_at.floor_v - 1e-9
                else [repair if _stop_window_open(set_at) else None, *_opening_ways(design, solved)]
            ),
        )


def _judge_low_phase(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    phase = solved.running_by_key("low")
    if phase is None or set_at.loaded_phase_v is None:
        return
    phase_v, lockout_sees_v = set_at.loaded_phase_v, set_at.phase_seen_v or 0.0
    trips = lockout_sees_v <= set_at.lockout_v
    current_a = phase.drawn.current_a if phase.drawn is not None else 0.0
    if set_at.rides_low_phase:
        cost_ah = current_a * design.activation.stop_delay_s / 3600
        ledger.finding(
            "wake.rides_low_phase",
            "caution" if trips else "note",
            "wake",
            "charger",
            "The lockout trips in the low phase" if trips else "It rides through the low phase",
            f"{_told_seen(set_at, phase_v)} at the charger in the low phase, lockout {set_at.lockout_v:.2f} V. The long stop delay costs the start "
            f"battery up to {cost_ah:.1f} Ah after every engine stop.",
            [signal_way(design)],
        )
    elif set_at.stops_in_phase:
        longer_s = set_at.low_phase_s + 30
        most_s = design.charger.behaviour.stop_delay_max_s if design.charger is not None else None
        delay = (
            way_out(f"Delay the stop to {longer_s:.0f} s", ("activation.stop_delay_s", longer_s))
            if not trips and (most_s is None or longer_s <= most_s)
            else None
        )
        if set_at.hunts_in_phase:
            ledger.finding(
                "wake.hunts_in_phase",
                "stop",
                "wake",
                "charger",
                "It hunts in the low phase",
                f"Start at {set_at.start_v:.2f} V is reached by the {set_at.unloaded_phase_v:.2f} V of the low phase, whose sag to "
                f"{phase_v:.2f} V goes under the stop of {set_at.stop_v:.2f} V: it starts and stops all through the phase.",
                lambda: [
                    _clearing_way(design, solved),
                    signal_way(design),
                    delay,
                    less_current(
                        design, lambda candidate: not set_thresholds(candidate, solve(candidate)).hunts_in_phase
                    ),
                ],
            )
            return
        ledger.finding(
            "wake.low_phase",
            "caution",
            "wake",
            "charger",
            "It is locked out in the low phase" if trips else "It stops in the low phase",
            f"The charger sees {_told_seen(set_at, phase_v)} in the low phase, "
            + (
                f"under the lockout of {set_at.lockout_v:.2f} V: it trips after {design.activation.lockout_delay_s:g} s and comes back "
                "only at the release."
                if trips
                else f"and stops below {set_at.stop_v:.2f} V. It stops and starts while driving."
            )
            + _missed(solved, set_at),
            lambda: [*(_phase_ways(design, solved) if trips else [signal_way(design)]), delay],
        )


def _judge_phase_lockout(design: Design, solved: Solved, set_at: Thresholds, ledger: Ledger) -> None:
    """By signal alone a low phase stops nothing, unless its sag reaches the lockout."""
    phase_v = set_at.loaded_phase_v
    if phase_v is None or (set_at.phase_seen_v or 0.0) > set_at.lockout_v:
        return
    ledger.finding(
        "wake.locked_in_phase",
        "caution",
        "wake",
        "charger",
        "It is locked out in the low phase",
        f"The signal stays on, but full current pulls the {set_at.unloaded_phase_v or phase_v:.2f} V of the low phase to {_told_seen(set_at, phase_v)} at the "
        f"charger, under the lockout of {set_at.lockout_v:.2f} V: it trips after {design.activation.lockout_delay_s:g} s and comes "
        f"back at the release.{_missed(solved, set_at)}",
        lambda: _phase_ways(design, solved),
    )


def _told_seen(set_at: Thresholds, volts: float) -> str:
    """Loaded volts of the low phase in words; as the lockout has them too, where it allows for the draw."""
    seen_v = set_at.phase_seen_v
    return (
        f"{volts:.2f} V"
        if set_at.lockout_ohm <= 0 or seen_v is None
        else f"{volts:.2f} V ({seen_v:.2f} V to the lockout)"
    )


def _missed(solved: Solved, set_at: Thresholds) -> str:
    """What a phase costs that is spent not charging."""
    output = solved.output
    if output is None:
        return ""
    return (
        f" A phase of {set_at.low_phase_s:.0f} s costs {output.current_a * set_at.low_phase_s / 3600:.1f} Ah of charge."
    )


def _phase_ways(design: Design, solved: Solved) -> list[WayOut | None]:
    """Ways to hold the input over the lockout in a low phase: more copper, less current."""

    def clears(candidate: Design, like: Solved | None = None) -> bool:
        found = set_thresholds(candidate, solve(candidate, like, only=("low",)))
        return found.phase_seen_v is not None and found.phase_seen_v > found.lockout_v + found.margin_v

    if not clears(design.model_copy(update={"supply": Run()}), solved):  # not even with no run at all
        cable = None
    else:
        index = thickest_need(design, "supply", solved.running[0].run)
        words = "to clear the lockout in the low phase"
        cable = grow(design, "supply", index, lambda candidate: clears(candidate, solved), words)
    return [cable, less_current(design, clears)]


def _clearing_way(design: Design, solved: Solved) -> WayOut | None:
    """Start and stop left to the proposals, where those keep out of the low phase."""
    chosen = design.activation
    if chosen.start_v is None and chosen.stop_v is None:
        return None
    bare = design.model_copy(update={"activation": chosen.model_copy(update={"start_v": None, "stop_v": None})})
    if set_thresholds(bare, solved).hunts_in_phase:
        return None
    return way_out("Propose start and stop from the windows", ("activation.start_v", None), ("activation.stop_v", None))
