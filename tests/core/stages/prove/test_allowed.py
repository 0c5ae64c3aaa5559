"""What lets the unit charge, as the tests speak of it: an enable only where there is one, a mode that stays where it does."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.diagnosis import diagnose
from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.allowed import draws_left_on, taken_away
from olvask.core.stages.prove.report import prove
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.wake.plainly import behaves
from tests.designs import cable, charger, design, fuse, vehicle

LATCHED = charger(behaviour={"latched": True})


def ways(*names: str, **changes: Any) -> Design:
    return design(activation={"ways": list(names)}, **changes)


def test_nothing_is_taken_away_that_is_not_there() -> None:
    """By its volts alone it has no enable: neither a test, nor a cure, nor a step speaks of one."""
    for made, there in ((ways("voltage"), False), (ways("d_plus"), True)):
        ctx = Context.of(made)
        said = [words for test in listed(ctx) for words in (test.text, test.state, test.red, test.proves)]
        said += [fault.cure for fault in faults_of(ctx)]
        assert any("enable" in words for words in said) is there, [words for words in said if "enable" in words]


@pytest.mark.parametrize(
    ("made", "words"),
    [
        (ways("d_plus"), "its enable taken away"),
        (ways("switch"), "its enable taken away"),
        (ways("switch", "d_plus", charger=LATCHED), "its enable taken away"),
        (ways("switch", charger=LATCHED), "the supply run's device out; it goes back in with the engine off"),
        (
            ways("switch", "voltage", charger=LATCHED),
            "the supply run's device out; it goes back in with the engine off",
        ),
        (ways("switch", "voltage"), "its enable taken away"),
        (ways("voltage"), "the supply run's device out; it goes back in with the engine off"),
        (
            ways("voltage", supply={"pieces": [fuse(60.0, "breaker"), cable()]}),
            "the supply run's breaker open; it is closed again with the engine off",
        ),
        (ways("voltage", supply={"pieces": [cable()]}), "the unit off"),
    ],
)
def test_how_it_is_kept_from_charging_while_the_engine_runs(made: Design, words: str) -> None:
    """By what lets it; where nothing does, or losing it stops nothing, by its fuse."""
    assert taken_away(made) == words
    tests = {test.key: test for test in listed(Context.of(made))}
    assert words in tests["idle_posts_v"].state


def test_a_mode_that_stays_is_reset_not_switched_off() -> None:
    """Prove, the work, the wire and the customer's page say of it that switching it off does not stop it."""
    for unit, stays in ((LATCHED, True), (charger(), False)):
        made = ways("switch", charger=unit)
        ctx = Context.of(made)
        lets_go = next(test for test in listed(ctx) if test.key == "lets_go")
        assert ("mode is reset" in lets_go.text) is stays
        assert ("goes on when it is switched off" in " ".join(behaves(made))) is stays
        enable = next(placed.step for placed in procedure_of(ctx).procedure.steps if placed.step.key == "enable")
        assert ("until it is reset" in enable.see[0]) is stays
        fixed = next(placed.step for placed in procedure_of(ctx).procedure.steps if placed.step.key == "mount.switch")
        assert ("stays on until it is reset" in fixed.why) is stays


@pytest.mark.parametrize(
    ("names", "level", "tail"),
    [
        (("switch",), "caution", "only the battery guard stops it."),
        (("switch", "ignition"), "caution", "only the key and the battery guard stop it."),
        (("switch", "d_plus"), "note", "only the engine's signal and the battery guard stop it."),
        (("switch", "voltage"), "note", "only its stop by voltage and the battery guard stop it."),
    ],
)
def test_what_still_stops_a_mode_that_stays(names: tuple[str, ...], level: str, tail: str) -> None:
    """Its remote does not; whatever else lets it still does."""
    found: dict[str, Finding] = {item.id: item for item in assess(ways(*names, charger=LATCHED)).findings}
    assert found["wake.latched"].level == level
    assert found["wake.latched"].text.lower().endswith(tail)


def test_what_a_unit_left_on_draws_with_the_engine_off() -> None:
    """Its power over the volts a rested battery keeps under it; nothing where those lie under its guard."""
    made = ways("ignition", vehicle=vehicle(start_battery={"chemistry": "agm", "capacity_ah": 200.0}))
    made = made.model_copy(
        update={
            "activation": made.activation.model_copy(
                update={"guard": made.activation.guard.model_copy(update={"off_below_v": 11.0})}
            )
        }
    )
    ctx = Context.of(made)
    amps, spread = draws_left_on(ctx)
    ohm = internal_ohm("agm", 200.0, 12) + ctx.solved.healthy[0].run.loop_ohm
    assert amps * (12.6 - amps * ohm) == pytest.approx(ctx.thresholds.input_w)
    assert spread == pytest.approx(0.15 * amps)
    for volts, expected in ((12.7, (0.0, 0.1)), (12.6 - amps * ohm, (amps / 2, amps / 2))):
        guard = made.activation.guard.model_copy(update={"off_below_v": round(volts, 3)})
        held = made.model_copy(update={"activation": made.activation.model_copy(update={"guard": guard})})
        assert draws_left_on(Context.of(held)) == pytest.approx(expected, rel=1e-3)
    for names in (("voltage",), ("d_plus",), ()):
        assert draws_left_on(Context.of(ways(*names))) == (0.0, 0.1)


def test_the_state_names_what_leaves_it_on() -> None:
    """The key, its switch or a bridge; the other tests with the engine off have it out."""
    for names, on, off in (
        (("ignition",), "key on, engine off, two minutes", ""),
        (("switch",), "its switch on, engine off, two minutes", ", its switch off"),
        (("bridge",), "engine off, two minutes", ", its bridge out"),
        (("voltage",), "key on, engine off, five minutes", ""),
    ):
        tests = {test.key: test for test in listed(Context.of(ways(*names)))}
        assert tests["key_on_a"].state == on
        assert tests["rest.start"].state == f"engine off for an hour, everything off{off}"
        assert tests["standby_ma"].state == f"locked{off}, everything asleep for half an hour"


@pytest.mark.parametrize(
    ("names", "red", "expected", "state"),
    [
        (("d_plus",), "enable terminal", 13.75, "its enable given"),
        (("switch", "ignition"), "enable terminal", 13.75, "its enable given"),
        (("switch",), "first remote terminal", 0.0, "its switch on"),
        (("bridge", "voltage"), "first remote terminal", 0.0, "its bridge in"),
    ],
)
def test_what_is_measured_where_it_is_let(names: tuple[str, ...], red: str, expected: float, state: str) -> None:
    """A signal brings nearly the 13.9 V of the engine; joined terminals have nothing between them."""
    row = next(row for row in prove(Context.of(ways(*names)), {}).rows if row.test.key == "enable_v")
    assert row.test.red == red
    assert row.expected == pytest.approx(expected, abs=1e-6)
    assert row.test.state.endswith(state)


def test_open_remote_terminals_are_told_from_a_missing_signal() -> None:
    """Five volts between them: nothing joins them; the same at an enable is a signal that is too low."""
    for names, words in ((("switch",), "its remote terminals are not joined"), (("d_plus",), "enable missing")):
        found = diagnose(Context.of(ways(*names)), {"enable_v": 5.0, "input_a": 0.0}, ["does_nothing"])
        assert found.causes[0].words.startswith(words)


@pytest.mark.parametrize(
    ("names", "there"), [(("bridge",), True), (("switch",), True), (("d_plus",), False), (("voltage",), False)]
)
def test_a_battery_flat_in_the_morning_where_it_is_wired_to_be_on(names: tuple[str, ...], there: bool) -> None:
    """Its own design comes before broken parts; where it waits for the engine that is no cause."""
    found = diagnose(Context.of(ways(*names)), {"rest.start": 12.4, "standby_ma": 30.0}, ["flat"])
    assert ("left_on" in [cause.key for cause in found.causes[:3]]) is there


@pytest.mark.parametrize("scale", [1, 2])
@pytest.mark.parametrize(
    ("under_v", "share"), [(0.9, 1.0), (0.21, 1.0), (0.19, 0.5), (-0.19, 0.5), (-0.21, 0.0), (-0.9, 0.0)]
)
def test_how_near_its_guard_nobody_can_say(scale: int, under_v: float, share: float) -> None:
    """Two tenths of a volt per 12 V either side of what full current leaves of a rested battery."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2}
    found = vehicle(
        system_v=12 * scale,
        readings={key: volts * scale for key, volts in readings.items()},
        start_battery={"chemistry": "agm", "capacity_ah": 200.0},
    )
    unit = charger((8.0, 32.0, 0.001), input_nominal_v=12 * scale, input_min_v=6.0, input_max_v=40.0)

    def guarded(volts: float) -> tuple[float, float]:
        rules = {"ways": ["ignition"], "guard_v": volts, "back_v": 13.5 * scale}
        return draws_left_on(Context.of(design(vehicle=found, charger=unit, activation=rules)))

    amps, spread = guarded(8.0 * scale)
    ctx = Context.of(design(vehicle=found, charger=unit, activation={"ways": ["ignition"], "guard_v": 8.0 * scale}))
    left_v = ctx.thresholds.input_w / amps
    assert spread == pytest.approx(0.15 * amps)
    drawn, within = guarded(left_v - under_v * scale)
    assert drawn == pytest.approx(share * amps)
    assert within == pytest.approx({1.0: 0.15 * amps, 0.5: amps / 2, 0.0: 0.1}[share])


def test_a_run_that_cannot_carry_it_draws_nothing_left_on() -> None:
    """A hundred metres of thin wire: the volts collapse, and its own lowest input lets go."""
    thin = {"pieces": [fuse(60.0), cable("1.5 mm²", 60.0)]}
    assert draws_left_on(Context.of(ways("ignition", supply=thin))) == (0.0, 0.1)


def test_a_switch_that_a_bridge_joins_and_a_mode_that_stays() -> None:
    """Taking either away stops nothing, where the mode stays; without that it does."""
    assert taken_away(ways("switch", "bridge", charger=LATCHED)).startswith("the supply run's device out")
    assert taken_away(ways("switch", "bridge")) == "its enable taken away"
