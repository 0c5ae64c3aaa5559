"""Windows, rules and guard by hand: from what the survey measured to what is set, proposed, fixed or entered."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.circuit.thresholds import Thresholds, hold_voltage, set_thresholds, step_down, step_up, unit_step_v
from olvask.core.model import Design
from tests.designs import cable, charger, design, fuse, vehicle

MANAGED = {"rated_a": 150.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6}
LOW = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 13.4, "low_phase_s": 60.0}
OPEN: dict[str, Any] = {"ways": ["voltage"], "start_v": None, "stop_v": None}


def at(**changes: Any) -> Thresholds:
    """Thresholds of the plain job, all left to the proposals unless said otherwise."""
    made = design(**({"activation": OPEN} | changes))
    return set_thresholds(made, solve(made))


def loaded_v(made: Design) -> float:
    """The lowest volts at the unit at full current [V]."""
    return min(state.drawn.terminal_v for state in solve(made).healthy if state.drawn is not None)


@pytest.mark.parametrize(
    ("volts", "step", "up", "down"),
    [
        (13.31, 0.05, 13.35, 13.3),
        (13.3, 0.05, 13.3, 13.3),
        (13.3, 0.1, 13.3, 13.3),
        (13.34, 0.1, 13.4, 13.3),
        (12.85 - 1e-12, 0.05, 12.85, 12.85),
    ],
)
def test_on_the_units_step(volts: float, step: float, up: float, down: float) -> None:
    """Up or down to the next one; a value on it stays, rounding or not."""
    assert step_up(volts, step) == pytest.approx(up)
    assert step_down(volts, step) == pytest.approx(down)


def test_windows_of_a_plain_job() -> None:
    """Seen engine off 12.7 V, running 13.9 V: start from 12.85 to 13.75 V; stop from 12.85 to a margin under full current."""
    found, made = at(), design(activation=OPEN)
    assert (found.rest_high_v, found.unloaded_low_v, found.unloaded_high_v, found.margin_v) == (12.7, 13.9, 14.2, 0.15)
    assert found.floor_v == pytest.approx(12.85)
    assert found.start_high_v == pytest.approx(13.75)
    assert found.loaded_low_v == pytest.approx(loaded_v(made))
    assert found.stop_high_v == pytest.approx(loaded_v(made) - 0.15)
    assert found.stop_window_open
    # The middle of each window, down to the unit's step of 0.05 V.
    assert found.start_v == pytest.approx(13.3)
    assert found.stop_v == pytest.approx(step_down((12.85 + loaded_v(made) - 0.15) / 2, 0.05))
    assert [(rule.held_s) for rule in (*found.start_rules, *found.stop_rules)] == [10.0, 30.0]


def test_the_guard_keeps_the_charge_to_crank() -> None:
    """At 60 % flooded lead rests at 12.28 V: 12.25 V on the step; another charge to keep, another guard."""
    assert at().guard_v == pytest.approx(12.25)
    assert at(choices={"keep_state_of_charge": 0.8}).guard_v == pytest.approx(12.45)
    fixed = charger(settable=None, fixed_off_v=11.8, input_min_v=9.0)
    assert at(charger=fixed).guard_v == pytest.approx(11.8)
    assert at(charger=charger(settable=None, input_min_v=10.4)).guard_v == pytest.approx(10.4)
    assert at(activation=OPEN | {"guard_v": 12.0}).guard_v == 12.0


def test_a_return_clear_of_the_rebound() -> None:
    """Relieved of its load the input recovers by P/V·R, to no more than what is seen engine off; a margin above that."""
    made = design(activation=OPEN)
    solved, found = solve(made), at()
    assert solved.output is not None
    rebound_ohm = 0.5 / 90 + solved.healthy[0].run.loop_ohm
    assert found.rebound_ohm == pytest.approx(rebound_ohm)
    assert found.input_w == pytest.approx(solved.output.power_in_w)
    recovers_v = min(12.25 + found.input_w / 12.25 * rebound_ohm, 12.7)
    assert found.back_least_v == pytest.approx(recovers_v + 0.15)
    assert found.back_v == pytest.approx(step_up(found.back_least_v, 0.05))
    thick = at(
        supply={"pieces": [fuse(), cable("95 mm²", 0.5)]},
        vehicle=vehicle(start_battery={"chemistry": "agm", "capacity_ah": 200.0}),
    )
    assert thick.back_least_v < 12.85


def test_a_guard_that_allows_for_its_draw() -> None:
    """It is judged on V + I·R of the run: seen that much higher, and only the battery's own resistance rebounds."""
    plain, allowing = at(), at(charger=charger(compensated=True))
    made = design(activation=OPEN)
    run_ohm = solve(made).healthy[0].run.loop_ohm
    assert (plain.guard_ohm, allowing.guard_ohm) == pytest.approx((0.0, run_ohm))
    assert allowing.rebound_ohm == pytest.approx(0.5 / 90)
    drawn = min(
        (state.drawn for state in solve(made).healthy if state.drawn is not None), key=lambda item: item.terminal_v
    )
    assert plain.loaded_seen_v == pytest.approx(drawn.terminal_v)
    assert allowing.loaded_seen_v == pytest.approx(drawn.terminal_v + drawn.current_a * run_ohm)
    # Tripping at 12.25 V as it sees it, its terminals hold less.
    job = design(activation=OPEN, charger=charger(compensated=True))
    holds_v = hold_voltage(job, allowing)
    assert holds_v + allowing.input_w / holds_v * run_ohm == pytest.approx(12.25)
    assert hold_voltage(design(activation=OPEN), plain) == pytest.approx(12.25)
    assert hold_voltage(design(charger=None), plain) == pytest.approx(12.25)
    high = design(activation=OPEN, charger=charger(input_min_v=12.6))
    assert hold_voltage(high, plain) == pytest.approx(12.6)


def test_steps() -> None:
    """The unit's own, else five hundredths for each 12 V."""
    assert unit_step_v(design(charger=charger(settable=(11.0, 15.0, 0.1))).charger, 1.0) == 0.1
    assert unit_step_v(design(charger=charger(settable=None)).charger, 2.0) == pytest.approx(2 * unit_step_v(None, 1.0))
    assert unit_step_v(None, 1.0) == pytest.approx(0.05)


def test_each_rule_is_proposed_on_its_own_step() -> None:
    """Starts in 0.05 V, stops in 0.1, the guard in 0.25: each can be keyed in, and rests where its window has it."""
    record = charger()
    record["stop_rules"]["step_v"], record["guard"]["step_v"] = 0.1, 0.25
    usual, found = at(), at(charger=record)
    assert found.start_v == usual.start_v
    for volts, before, step in (
        (found.stop_v, usual.stop_v, 0.1),
        (found.guard_v, usual.guard_v, 0.25),
        (found.back_v, usual.back_v, 0.25),
    ):
        assert volts / step == pytest.approx(round(volts / step), abs=1e-6)
        assert volts == pytest.approx(before, abs=step)
    pulled = at(charger=record, activation=OPEN | {"start_v": 13.05})
    assert pulled.stop_v == pytest.approx(12.9)  # a step under 13.05 V is 12.95


def test_entered_before_fixed_before_proposed() -> None:
    """Typed volts count; else the unit's own; else the middle; never outside what it can be set to."""
    fixed = charger(settable=None, fixed_start_v=13.2, fixed_stop_v=12.7)
    assert (at(charger=fixed).start_v, at(charger=fixed).stop_v) == (13.2, 12.7)
    typed = OPEN | {"start_v": 13.6, "stop_v": 13.0}
    assert (at(charger=fixed, activation=typed).start_v, at(activation=typed).stop_v) == (13.6, 13.0)
    narrow = charger(settable=(13.4, 13.5, 0.05))
    assert at(charger=narrow).start_v == pytest.approx(13.4)
    assert at(charger=narrow).stop_v == pytest.approx(13.4)


def test_the_start_never_lies_under_the_stop() -> None:
    """A high stop typed pushes the start that is proposed up to it."""
    found = at(activation=OPEN | {"stop_v": 13.55})
    assert found.start_v == pytest.approx(13.55)


@pytest.mark.parametrize(
    ("rules", "stop_v"),
    [
        ({"start_v": 13.2}, 13.15),  # above the 13.15 V that are proposed: nothing moves
        ({"start_v": 13.0}, 12.95),  # a step under it
        ({"start_v": 13.3, "quick_start_v": 13.0}, 12.95),  # the lowest of two starts
        ({"start_v": 12.85}, 12.85),  # the window begins there
        ({"start_v": 12.6}, 12.85),  # a start in the engine-off volts draws no stop after it
    ],
)
def test_a_stop_proposed_lies_under_every_start(rules: dict[str, float], stop_v: float) -> None:
    """A low start typed, or fixed in the unit, pulls the stop that is proposed down to it, where its window has room."""
    assert at(activation=OPEN | rules).stop_v == pytest.approx(stop_v)
    if len(rules) == 1:
        fixed = charger(settable=None, fixed_start_v=rules["start_v"])
        assert at(charger=fixed).stop_v == pytest.approx(stop_v)


def test_several_rules() -> None:
    """The highest stop and the lowest start count; a second start without volts is the first's."""
    found = at(activation=OPEN | {"start_v": 13.3, "quick_start_v": 13.8})
    assert (found.start_v, found.earliest_start_v, found.start_rules[1].volts) == (13.3, 13.3, 13.8)
    proposal = at().quick_start_proposal_v
    assert proposal == pytest.approx(14.05)  # a margin under the 14.2 V of cruise
    same = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 13.95}
    assert at(vehicle=vehicle(readings=same)).quick_start_proposal_v is None


class TestLowPhase:
    def phase(self, **changes: Any) -> Thresholds:
        """With a managed alternator whose low phase holds 13.4 V for a minute."""
        readings = LOW | changes.pop("readings", {})
        return at(vehicle=vehicle(alternator=MANAGED, readings=readings), **changes)

    def test_a_phase_that_can_be_lived_with_lowers_the_stop(self) -> None:
        """Loaded it lies above rest: the stop stands a margin under it; one that reaches rest cannot be lived with."""
        found = self.phase()
        assert found.loaded_phase_v is not None
        assert found.unloaded_phase_v == 13.4
        assert found.stop_high_v == pytest.approx(found.loaded_phase_v - 0.15)
        assert not found.stops_in_phase
        deep = self.phase(readings={"low_phase_v": 12.7})
        assert deep.loaded_phase_v is not None
        assert deep.stop_high_v == pytest.approx((deep.loaded_low_v or 0.0) - 0.15)
        assert deep.stops_in_phase

    def test_a_hold_that_outlasts_it(self) -> None:
        """Sixty seconds do not, sixty-one do: then the phase does not count."""
        assert not self.phase(activation=OPEN | {"stop_held_s": 60.0}).rides_low_phase
        riding = self.phase(activation=OPEN | {"stop_held_s": 61.0}, readings={"low_phase_v": 12.7})
        assert riding.rides_low_phase
        assert not riding.stops_in_phase
        assert riding.low_phase_s == 60.0
        assert at().rides_low_phase  # there is none

    def test_the_start_keeps_out_of_a_phase_that_stops_it(self) -> None:
        """Else relieved of its load it would start again within the phase: 12.7 V and a margin, and no hunting."""
        deep = self.phase(readings={"low_phase_v": 13.3}, activation=OPEN | {"stop_v": 13.2})
        assert deep.stops_in_phase
        assert deep.start_v >= 13.3 + 0.05
        assert not deep.hunts_in_phase
        typed = self.phase(readings={"low_phase_v": 13.3}, activation=OPEN | {"stop_v": 13.2, "start_v": 13.25})
        assert typed.hunts_in_phase

    @pytest.mark.parametrize(("low_v", "start_v"), [(13.5, 13.65), (13.65, 13.75), (13.74, 13.8)])
    def test_the_start_is_clear_of_the_phase_as_far_as_there_is_room(self, low_v: float, start_v: float) -> None:
        """By the margin of 0.15 V; as high as running volts allow, 13.75 V; by the unit's step of 0.05 V at least."""
        deep = self.phase(readings={"low_phase_v": low_v}, activation=OPEN | {"stop_v": 13.5})
        assert deep.stops_in_phase
        assert deep.start_v == pytest.approx(start_v)


def test_a_return_below_the_least_where_it_does_no_harm() -> None:
    """Where the engine holds less than the least return, it lies under that if the start or D+ keeps it off; else above."""
    low = {"rest_v": 12.6, "after_stop_v": 12.75, "idle_v": 12.95, "cruise_v": 13.2}
    far = {"pieces": [fuse(), cable("16 mm²", 4.0)]}
    by_volts = at(vehicle=vehicle(readings=low), supply=far, activation=OPEN | {"start_v": 12.9})
    by_key = at(vehicle=vehicle(readings=low), supply=far, activation={"ways": ["ignition"]})
    by_generator = at(vehicle=vehicle(readings=low), supply=far, activation={"ways": ["d_plus"]})
    assert by_key.back_least_v == pytest.approx(12.9)  # it recovers to all that is seen engine off
    assert by_key.back_v == pytest.approx(step_up(by_key.back_least_v, 0.05))
    for found in (by_volts, by_generator):
        assert found.back_v <= step_down(12.95 - 0.15, 0.05) + 1e-9
        assert found.back_v < by_key.back_v


def test_the_highest_stop_is_the_first_that_falling_volts_meet() -> None:
    """Of 12.9 V for half a minute and 12.5 V at once, whichever stands first."""
    for rows in (((12.9, 30.0), (12.5, 0.0)), ((12.5, 0.0), (12.9, 30.0))):
        stops = [{"below_v": volts, "held_s": held_s} for volts, held_s in rows]
        plain = design(charger=charger(stop_rows=2)).model_dump(mode="json")
        plain["activation"] |= {"start_rules": [{"at_least_v": 13.4}], "stop_rules": stops}
        made = Design.model_validate(plain)
        found = set_thresholds(made, solve(made))
        assert [rule.volts for rule in found.stop_rules] == [volts for volts, _ in rows]
        assert (found.stop_v, found.start_v) == (12.9, 13.4)


@pytest.mark.parametrize("held", [(30.0, 100.0), (100.0, 30.0)])
def test_a_low_phase_is_ridden_out_by_the_shortest_hold(held: tuple[float, float]) -> None:
    """Of two stop rules the one that holds shorter stops first: within a phase of 60 s its volts count, as with that one alone."""

    def rules(*holds: float) -> list[dict[str, float]]:
        return [{"held_s": hold, "below_v": 12.9} for hold in holds]

    job = {"vehicle": vehicle(alternator=MANAGED, readings=LOW), "charger": charger(stop_rows=2)}
    both, short, long = (
        at(**job, activation=OPEN | {"stop_rules": rules(*holds)}).stop_high_v for holds in (held, (30.0,), (100.0,))
    )
    assert both == pytest.approx(short)
    assert short != pytest.approx(long)


def test_a_start_proposed_lies_over_every_stop() -> None:
    """The middle of its window is 13.3 V; a second stop at 13.6 V is above that: it would stop as soon as it has started."""
    rules = [{"below_v": 12.9}, {"below_v": 13.6}]
    found = at(activation=OPEN | {"stop_rules": rules}, charger=charger(stop_rows=2))
    assert [rule.volts for rule in found.stop_rules] == [12.9, 13.6]
    assert found.start_v == pytest.approx(13.6)


@pytest.mark.parametrize("amps", [0.0, 8.0, 20.0])
def test_the_lowest_running_volts_are_those_that_branches_leave(amps: float) -> None:
    """13.9 V less what 2 mΩ of source and the run ahead of the branch lose by its current; the highest are without it."""
    tail = {"kind": "branch", "name": "lamp", "current_a": amps, "size": "6 mm²", "device": fuse(30.0, "blade")}
    ctx = Context.of(design(supply={"pieces": [fuse(60.0), cable(), tail]}))
    at, run = ctx.thresholds, ctx.solved.idle_run
    assert at.unloaded_low_v == pytest.approx(13.9 - amps * 0.002 - run.branch_v)
    assert run.branch_v == pytest.approx(amps * 0.0055, abs=0.001 * max(amps, 1.0))
    assert at.unloaded_high_v == 14.2
    assert ctx.solved.running[0].left_a == pytest.approx(0.6 * 120 - 15 - amps)


def test_beside_a_signal_the_windows_begin_clear_of_parked_volts() -> None:
    """Where there is room for it: the margin over the highest engine-off volts, as by voltage alone."""
    at = Context.of(design(activation={"ways": ["d_plus", "voltage"]})).thresholds
    assert at.start_high_v > at.rest_high_v + at.margin_v
    assert at.floor_v == pytest.approx(at.rest_high_v + at.margin_v)
