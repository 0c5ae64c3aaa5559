"""What the unit can be set to, and its battery guard: each finding at its edge and one step beside it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.findings.finding import Finding
from olvask.core.stages.wake.guard import _given_a
from tests.designs import cable, charger, design, fuse, vehicle

VOLTS = {"ways": ["voltage"], "start_v": 13.35, "stop_v": 12.95}


def findings(**changes: Any) -> dict[str, Finding]:
    """Every finding of the wake stage by name; a step up or down in one place of the activation at a time."""
    changes["activation"] = VOLTS | changes.get("activation", {})
    return {item.id: item for item in assess(design(**changes)).findings if item.id.startswith("wake.")}


def changed(found: Finding) -> dict[str, Any]:
    """What its remedies set."""
    return {change.path: change.value for remedy in found.remedies for change in remedy.changes}


@pytest.mark.parametrize(
    ("key", "path", "within", "beyond"),
    [
        ("start_v", "start.0", (11.0, 13.4), (10.95, 13.45)),
        ("stop_v", "stop.0", (11.0, 13.4), (10.95, 13.45)),
        ("guard_v", "guard", (11.0, 13.4), (10.95, 13.45)),
        ("back_v", "back", (11.0, 13.4), (10.95, 13.45)),
    ],
)
def test_volts_within_the_record(key: str, path: str, within: tuple[float, ...], beyond: tuple[float, ...]) -> None:
    """Settable from 11.0 to 13.4 V, both ends with it; beyond, a stop that offers the proposal."""
    record = charger(settable=(11.0, 13.4, 0.05))
    for volts in within:
        assert f"wake.range.{path}" not in findings(charger=record, activation={key: volts})
    for volts in beyond:
        found = findings(charger=record, activation={key: volts})[f"wake.range.{path}"]
        assert found.level == "stop"
        assert "11.0 to 13.4 V" in found.text
        assert set(changed(found).values()) == {None}


@pytest.mark.parametrize(("volts", "offered"), [(13.32, 13.3), (13.33, 13.35), (13.35, None), (13.3, None)])
def test_between_two_steps(volts: float, offered: float | None) -> None:
    """In steps of 0.05 V: the nearest is offered; at an end of the range no step is asked for."""
    record = charger(settable=(11.0, 14.02, 0.05))
    found = findings(charger=record, activation={"start_v": volts}).get("wake.step.start.0")
    if offered is None:
        assert found is None
    else:
        assert found is not None
        assert found.level == "caution"
        assert changed(found)["activation.start_rules.0.at_least_v"] == pytest.approx(offered)
    assert "wake.step.start.0" not in findings(charger=record, activation={"start_v": 14.02})


def test_volts_nobody_can_change() -> None:
    """Fixed start at 13.3 V: entered as that, or left, it stands; 13.4 V is refused and handed back to the unit."""
    record = charger(settable=None, fixed_start_v=13.3, fixed_stop_v=12.8)
    assert "wake.range.start.0" not in findings(charger=record, activation={"start_v": 13.3, "stop_v": 12.8})
    found = findings(charger=record, activation={"start_v": 13.4, "stop_v": 12.8})["wake.range.start.0"]
    assert "it is fixed at 13.30 V" in found.text
    assert changed(found) == {"activation.start_rules.0.at_least_v": None}
    assert "wake.thresholds_unknown" not in findings(charger=record, activation={"start_v": None, "stop_v": None})


def test_a_start_fixed_above_what_runs_never_starts() -> None:
    """No window is proposed for it: the record's own volts are told, and that they are never reached."""
    record = charger(settable=None, fixed_start_v=14.8, fixed_stop_v=12.8)
    found = findings(charger=record, activation={"start_v": None, "stop_v": None})
    assert "wake.no_start_window" not in found
    assert "It starts at 14.80 V" in found["wake.never_starts"].text


def test_a_record_that_says_nothing() -> None:
    """Neither settable nor fixed: its volts are unknown, as long as either is; not where it starts by a signal."""
    for record in (charger(settable=None), charger(settable=None, fixed_start_v=13.3)):
        assert findings(charger=record, activation={"start_v": None})["wake.thresholds_unknown"].level == "caution"
    silent = {"activation": {"ways": ["d_plus"], "start_v": None, "stop_v": None}}
    assert "wake.thresholds_unknown" not in findings(charger=charger(settable=None), **silent)
    assert "wake.thresholds_unknown" not in findings(charger=charger())


def test_rules_and_holds() -> None:
    """Two starts on a unit that takes one; a hold of 31 s where it takes 30: cut to what it takes."""
    two = {"quick_start_v": 13.8}
    assert "wake.rules.start" not in findings(charger=charger(start_rows=2), activation=two)
    found = findings(charger=charger(start_rows=1), activation=two)["wake.rules.start"]
    (kept,) = changed(found)["activation.start_rules"]
    assert kept["at_least_v"] == 13.35
    assert "wake.rules.start" not in findings(charger=charger(start_rows=1), activation=two | {"ways": ["d_plus"]})
    held = charger(start_held_most_s=30.0, stop_held_most_s=60.0)
    within = findings(charger=held, activation={"start_held_s": 30.0, "stop_held_s": 60.0})
    assert not any(key.endswith(".held") for key in within)
    beyond = findings(charger=held, activation={"start_held_s": 31.0, "stop_held_s": 61.0})
    assert changed(beyond["wake.range.start.0.held"]) == {"activation.start_rules.0.held_s": 30.0}
    assert changed(beyond["wake.range.stop.0.held"]) == {"activation.stop_rules.0.held_s": 60.0}
    assert not any(key.endswith(".held") for key in findings(activation={"start_held_s": 500.0}))


def test_the_guard_lies_under_the_stop() -> None:
    """At the stop's own volts it is too high; a step lower it is not; with D+ alone there is no stop to compare."""
    assert findings(activation={"guard_v": 12.95})["wake.guard_above_stop"].level == "stop"
    assert "wake.guard_above_stop" not in findings(activation={"guard_v": 12.90})
    assert "wake.guard_above_stop" not in findings(activation={"ways": ["d_plus"], "guard_v": 12.95})


def test_the_guard_clears_what_full_current_leaves() -> None:
    """At or above the loaded volts it switches off while the engine runs; the remedies clear it."""
    ctx = Context.of(design(activation=VOLTS))
    loaded_v = ctx.thresholds.loaded_seen_v
    assert loaded_v is not None
    by_signal = {"ways": ["d_plus"]}
    high = round(loaded_v + 0.02, 2)
    found = findings(activation=by_signal | {"guard_v": high})["wake.guarded_running"]
    assert found.level == "stop"
    assert f"the guard stands at {high:.2f} V" in found.text
    assert "wake.guarded_running" not in findings(activation=by_signal | {"guard_v": round(loaded_v - 0.02, 2)})


def test_a_guard_that_keeps_too_little() -> None:
    """At the 60 % to be kept flooded lead rests at some 12.2 V; more than 0.3 V under that is too low."""
    keep_v = 12.2
    low = findings(activation={"guard_v": round(keep_v - 0.40, 2)})
    high = findings(activation={"guard_v": round(keep_v - 0.20, 2)})
    assert low["wake.guard_low"].level == "caution"
    assert "wake.guard_low" not in high


def test_it_empties_the_battery_while_driving() -> None:
    """Of 120 A hot idle leaves 0.3 · 120 − 15 = 21 A; 29.6 A are drawn: the battery gives 8.6 A and is told in minutes."""
    short = {
        "rated_a": 120.0,
        "regulation": "fixed",
        "loads_idle_a": 15.0,
        "loads_cruise_a": 35.0,
        "sag_mohm": 2.0,
        "hot_idle_share": 0.3,
    }
    found = findings(vehicle=vehicle(alternator=short), activation={"ways": ["d_plus"], "guard_v": 11.2})[
        "wake.starves"
    ]
    assert found.level == "stop"
    assert "21 A left" in found.text
    assert changed(found)["current_limit_a"] < 25.0
    enough = short | {"hot_idle_share": 0.6}
    assert "wake.starves" not in findings(
        vehicle=vehicle(alternator=enough), activation={"ways": ["d_plus"], "guard_v": 11.2}
    )


def test_the_way_back() -> None:
    """Above what the engine holds it stays off for good; below what the battery recovers to it chatters, by key alone."""
    ctx = Context.of(design(activation=VOLTS))
    at = ctx.thresholds
    unreachable = round(at.unloaded_low_v + 0.05, 2)
    assert findings(activation={"back_v": unreachable})["wake.back_unreachable"].level == "stop"
    assert "wake.back_unreachable" not in findings(activation={"back_v": round(at.unloaded_low_v - 0.05, 2)})
    early = round(at.back_least_v - 0.10, 2)
    by_key = {"ways": ["ignition"], "start_v": None, "stop_v": None}
    assert findings(activation=by_key | {"back_v": early})["wake.back_low"].level == "caution"
    assert "wake.back_low" not in findings(activation={"ways": ["d_plus"], "back_v": early})
    assert "wake.back_low" not in findings(activation={"back_v": early})  # its start lies above rest


def test_a_guard_quicker_than_the_stop_may_trip_first() -> None:
    """A long thin run pulls the input under the guard when the engine stops; not where the stop is as quick."""
    thin = {"pieces": [fuse(60.0), cable("16 mm²", 6.0)]}
    quick = {"guard_v": 12.0, "guard_held_s": 2.0, "stop_held_s": 30.0}
    found = findings(supply=thin, activation=quick)
    assert found["wake.guard_nuisance"].level == "note"
    assert "after 2 s instead of stopping after 30 s" in found["wake.guard_nuisance"].text
    assert "wake.guard_nuisance" not in findings(supply=thin, activation=quick | {"guard_held_s": 30.0})
    assert "wake.guard_nuisance" not in findings(supply=thin, activation=quick | {"ways": ["d_plus"]})
    assert "wake.guard_nuisance" not in findings(activation=quick | {"guard_v": 11.6})


def test_without_a_unit_nothing_is_said() -> None:
    """No unit, no settings of one."""
    assert findings(charger=None) == {}


def test_what_the_start_battery_gives_beside_the_alternator() -> None:
    """Input and branches over what is left; nothing where nothing is drawn, or the alternator has no limit."""
    state = solve(design()).running[0]
    assert state.drawn is not None
    limited = replace(state, source=replace(state.source, available_a=10.0))
    assert _given_a(limited) == pytest.approx(state.drawn.current_a - 10.0)
    assert _given_a(replace(limited, drawn=None)) == 0.0
    assert _given_a(replace(state, source=replace(state.source, available_a=None))) == 0.0
    fan = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}
    tailed = solve(design(supply={"pieces": [fuse(), cable(), fan, cable()]})).running[0]
    assert tailed.drawn is not None
    held = replace(tailed, source=replace(tailed.source, available_a=10.0))
    assert _given_a(held) == pytest.approx(tailed.drawn.current_a + 6.0 - 10.0)


def test_a_second_rule_is_called_the_second() -> None:
    """The first has no number; the row below it is start 2, stop 2."""
    rules = {
        "start_rules": [{"at_least_v": 13.35}, {"at_least_v": 16.0, "held_s": 0.0}],
        "stop_rules": [{"below_v": 12.95}, {"below_v": 9.0, "held_s": 2.0}],
    }
    texts = {
        item.id: item.title
        for item in assess(design(activation={"ways": ["voltage"]} | rules), remedies=False).findings
    }
    assert texts["wake.range.start.1"].endswith("this start 2")
    assert texts["wake.range.stop.1"].endswith("this stop 2")
    first = findings(activation={"start_v": 16.0, "stop_v": 9.0})
    assert first["wake.range.start.0"].title.endswith("this start")
    assert first["wake.range.stop.0"].title.endswith("this stop")


FLAT = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 12.65, "cruise_v": 12.65}


@pytest.mark.parametrize(("start_v", "said"), [(None, "wake.no_start_window"), (13.3, "wake.never_starts")])
def test_a_shut_window_is_said_of_the_window_or_of_what_was_typed(start_v: float | None, said: str) -> None:
    """Running no higher than at rest: with nothing typed no voltage can start it; a typed start is called what it is."""
    found = findings(vehicle=vehicle(readings=FLAT), activation={"start_v": start_v, "stop_v": None})
    assert {"wake.no_start_window", "wake.never_starts"} & found.keys() == {said}


def test_a_return_out_of_reach_is_proposed_anew_where_one_will_do() -> None:
    """Typed at 14.5 V over 13.9 V running: the proposal alone puts it right, no cable is sold for it."""
    found = findings(activation={"back_v": 14.5})["wake.back_unreachable"]
    assert [change.path for remedy in found.remedies for change in remedy.changes] == ["activation.guard.back_at_v"]


def test_volts_that_a_branch_takes_are_told_by_its_amperes() -> None:
    """Forty amperes off a run of 10 mm² lose more than a volt: it is said what takes them; without a branch nothing of it."""
    off = {"kind": "branch", "name": "inverter", "current_a": 40.0, "size": "10 mm²", "device": fuse(60.0)}
    thin = [fuse(100.0), cable("10 mm²", 6.0)]
    for start_v, said in ((None, "wake.no_start_window"), (13.3, "wake.never_starts")):
        found = findings(supply={"pieces": [*thin, off]}, activation={"start_v": start_v, "stop_v": None})
        assert "V running with 40.0 A branched off its run" in found[said].text or (
            "V with 40.0 A branched off its run." in found[said].text
        )
    bare = findings(vehicle=vehicle(readings=FLAT), activation={"start_v": None, "stop_v": None})
    assert "branched" not in bare["wake.no_start_window"].text
    assert bare["wake.no_start_window"].text.endswith("Use a signal.")
