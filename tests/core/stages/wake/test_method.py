"""Advice on the method: what the trade would choose, why, and how it is wired."""

from __future__ import annotations

import re
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.wake.method import MethodAdvice, advise
from tests.designs import cable, charger, design, fuse, vehicle

NONE = {"ignition": False, "d_plus": False}
BOTH = {"ignition": True, "d_plus": True}
THIN = {"pieces": [fuse(60.0), cable("10 mm²", 9.0)]}
MANAGED = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6, "sag_mohm": 2.0}
WEAK = {"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 20.0, "hot_idle_share": 0.5}  # 15 A left at hot idle
LOW = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 12.7, "low_phase_s": 60.0}

CASES: list[tuple[str, dict[str, Any], str]] = [
    ("nothing but volts, and they stand 1.2 V apart", {"vehicle": vehicle(signals=NONE)}, "voltage"),
    ("signals at hand, but volts need no wire", {"vehicle": vehicle(signals=BOTH)}, "voltage"),
    ("the low phase falls to rest: it needs a signal", {"vehicle": vehicle(alternator=MANAGED, readings=LOW, signals=BOTH)}, "d_plus"),
    ("a thin cable shuts the stop window; D+ does not mind", {"supply": THIN, "vehicle": vehicle(signals=BOTH)}, "d_plus"),
    ("the unit cannot watch volts", {"charger": charger(enables=["d_plus", "remote"])}, "d_plus"),
]  # fmt: skip


def by_key(job: Design) -> dict[str, MethodAdvice]:
    """Every way by its key."""
    return {item.key: item for item in advise(job).methods}


@pytest.mark.parametrize(("why", "changes", "best"), CASES, ids=[case[0] for case in CASES])
def test_the_trades_choice_is_recommended(why: str, changes: dict[str, Any], best: str) -> None:
    """The way a practitioner would take stands first, called recommended, and taken it leaves nothing wrong in Wake."""
    job = design(**changes)
    advice = advise(job)
    first = advice.methods[0]
    assert (first.key, first.verdict) == (best, "recommended"), why
    taken = apply(job, first.take)
    assert not [item.id for item in assess(taken).findings if item.stage == "wake" and item.level == "stop"]
    assert by_key(taken)[best].chosen


def test_where_none_is_sound_a_way_out_makes_one() -> None:
    """Thin cable, no D+: no way is recommended; each way out offered leads to one that is."""
    job = design(supply=THIN, vehicle=vehicle(signals={"ignition": True, "d_plus": False}))
    advice = advise(job)
    assert not [item for item in advice.methods if item.verdict == "recommended"]
    assert advice.remedies
    for way in advice.remedies:
        assert advise(apply(job, way)).methods[0].verdict == "recommended", way.label


@pytest.mark.parametrize("enables", [["remote"], ["ignition", "remote"]])
def test_what_only_the_guard_stops_is_never_recommended(enables: list[str]) -> None:
    """Switch, bridge and the bare ignition feed run with the engine stopped: shown with care, never as the advice."""
    advice = advise(design(charger=charger(enables=enables)))
    assert {item.verdict for item in advice.methods if item.key in ("switch", "bridge", "ignition")} <= {
        "cautious",
        "unavailable",
    }
    assert "recommended" not in {item.verdict for item in advice.methods}
    assert "guard" in advice.text


def test_what_is_set_now_does_not_sway_the_advice() -> None:
    """The same vehicle with quite other settings gets the same order of ways."""
    plain = [item.key for item in advise(design()).methods]
    odd = {"ways": ["switch"], "start_v": 12.0, "stop_v": 14.4, "guard_v": 13.0, "stop_held_s": 900.0}
    found = [item.key for item in advise(design(activation=odd)).methods]
    assert [key for key in found if key != "entered"] == plain
    assert "entered" in found  # what is typed is judged beside them, as it is typed


def test_reasons_carry_this_jobs_numbers() -> None:
    """30 s at 28 A is 0.24 Ah after each halt; a fifth of 90 Ah lasts under an hour on the key alone."""
    ways = by_key(design())
    assert any("0.2" in reason and "Ah" in reason for reason in ways["voltage"].speaks_against)
    alone = next(reason for reason in ways["ignition"].speaks_against if "min to the charge" in reason)
    minutes = int(alone.split("about ")[1].split(" min")[0])
    assert 60 * 0.2 * 90 / 32 < minutes < 60 * 0.2 * 90 / 24


class TestWiring:
    @pytest.mark.parametrize(("key", "terminal", "fused"), [("ignition", "15", True), ("d_plus", "61", True), ("voltage", "30", False), ("switch", "", False)])  # fmt: skip
    def test_terminals_and_fuses(self, key: str, terminal: str, fused: bool) -> None:
        """DIN 72552 numbers; a wire that leaves a live terminal has its own small fuse."""
        wire = by_key(design())[key].wires[0]
        assert wire.terminal == terminal
        assert (wire.fuse_a is not None and wire.fuse_a <= 5) is fused

    def test_a_broken_wire_stops_it_unless_the_mode_sticks(self) -> None:
        """What the unit's manual says a lost remote keeps is told where the wire is drawn."""
        plain = by_key(design())["switch"].wires[0]
        sticky = charger(behaviour={"latched": True, "keeps_without_remote": "charges on"})
        latched = by_key(design(charger=sticky))["switch"].wires[0]
        assert "stops" in plain.if_broken
        assert "charges on" in latched.if_broken

    @pytest.mark.parametrize(
        ("ways", "latched", "kept_off"),
        [
            (["switch", "voltage"], False, True),
            (["switch", "voltage"], True, False),
            (["switch", "bridge", "voltage"], False, False),
        ],
    )
    def test_a_driver_keeps_it_off_only_where_the_switch_does(
        self, ways: list[str], latched: bool, kept_off: bool
    ) -> None:
        """Not once a mode stays on without it, nor where a bridge joins the same terminals."""
        job = design(charger=charger(behaviour={"latched": latched}), activation={"ways": ways})
        told = " ".join(by_key(job)["entered"].speaks_for)
        assert ("the driver can keep it off" in told) is kept_off

    def test_a_combination_of_ones_own_is_drawn_and_judged(self) -> None:
        """Switch and voltage together stand among the ways as set, with both wires, and leave the advice as it was."""
        job = design(activation={"ways": ["switch", "voltage"]})
        own = by_key(job)["entered"]
        assert own.chosen
        assert [wire.through or wire.ends_at for wire in own.wires] == ["switch", "input terminals"]
        assert advise(job).text == advise(design()).text
        bare = by_key(design(activation={"ways": ["ignition", "switch"]}))["entered"]
        assert bare.verdict == "cautious"
        assert any("only the battery guard stops it" in reason for reason in bare.speaks_against)

    def test_ways_together_draw_every_wire(self) -> None:
        """Ignition and voltage: two ways to the unit, both drawn."""
        assert [wire.way for wire in by_key(design())["ignition_voltage"].wires] == ["ignition", "voltage"]


class TestFindings:
    """Findings on what the user typed in, each with a way out that cures it."""

    @pytest.mark.parametrize(
        ("changes", "finding", "level"),
        [
            ({"activation": {"quick_start_v": 12.5}}, "wake.start_parked.1", "stop"),
            ({"activation": {"quick_start_v": 12.75}}, "wake.start_tight.1", "caution"),
            ({"activation": {"quick_start_v": 13.0, "start_v": 13.4}}, "wake.start_hides.1", "caution"),
            ({"activation": {"quick_start_v": 14.6}}, "wake.start_unreached.1", "note"),
            ({"activation": {"stop_held_s": 90.0}, "charger": charger(stop_held_most_s=60.0)}, "wake.range.stop.0.held", "stop"),
            ({"activation": {"start_held_s": 90.0}, "charger": charger(start_held_most_s=60.0)}, "wake.range.start.0.held", "stop"),
            ({"activation": {"start_v": 13.37}}, "wake.step.start.0", "caution"),
            ({"activation": {"ways": ["d_plus"], "guard_v": 12.02}}, "wake.step.guard", "caution"),
            ({"activation": {"back_v": 15.5}}, "wake.range.back", "stop"),
            ({"activation": {"ways": ["switch"]}, "charger": charger(behaviour={"latched": True})}, "wake.latched", "caution"),
            ({"activation": {"ways": ["d_plus"], "guard_v": 11.0}, "vehicle": vehicle(alternator=WEAK)}, "wake.starves", "stop"),
            ({"charge": {"profile": "flooded"}, "auxiliary": {"chemistry": "lfp", "capacity_ah": 100.0}}, "settings.profile_other", "caution"),
            ({"charge": {"profile": "flooded"}, "auxiliary": {"chemistry": "gel", "capacity_ah": 100.0}}, "settings.profile_too_high", "stop"),
            ({"vehicle": vehicle(alternator=MANAGED, readings=LOW | {"low_phase_v": 12.45}), "activation": {"ways": ["d_plus"], "guard_v": 12.2}}, "wake.guarded_in_phase", "caution"),
        ],
    )  # fmt: skip
    def test_it_is_found_and_cured(self, changes: dict[str, Any], finding: str, level: str) -> None:
        """Found at its level; the first way out takes it away."""
        job = design(**changes)
        found = {item.id: item for item in assess(job).findings}
        assert found[finding].level == level
        if found[finding].remedies:
            cured = apply(job, found[finding].remedies[0])
            assert finding not in {item.id for item in assess(cured).findings}
        assert found[finding].remedies or finding in ("wake.start_unreached.1",)

    def test_how_long_the_start_battery_lasts_by_hand(self) -> None:
        """15 A left, some 34 A taken at 12 V: 19 A from 18 Ah, a fifth of 90, last 57 min."""
        job = design(activation={"ways": ["d_plus"], "guard_v": 11.0}, vehicle=vehicle(alternator=WEAK))
        text = next(item.text for item in assess(job).findings if item.id == "wake.starves")
        minutes = int(re.search(r"in (\d+) min", text)[1])  # type: ignore[index]
        assert 52 <= minutes <= 62

    def test_a_guard_set_for_light_load_says_it_may_trip_first(self) -> None:
        """28 A through 5.6 mΩ of battery and some 7 mΩ of run pull 12.7 V under a 12.4 V guard: noted, and harmless."""
        job = design(activation={"ways": ["voltage"], "guard_v": 12.4})
        assert "wake.guard_nuisance" in {item.id for item in assess(job).findings}
        low = design(activation={"ways": ["voltage"], "guard_v": 11.9})
        assert "wake.guard_nuisance" not in {item.id for item in assess(low).findings}


def test_a_missing_signal_is_named_and_noted_with_one_press() -> None:
    """A unit that takes only D+ on a vehicle where none is surveyed: said so, and the way out notes it."""
    job = design(charger=charger(enables=["d_plus"]), vehicle=vehicle(signals=NONE))
    advice = advise(job)
    assert "D+ (61) is surveyed" in advice.text
    noted = apply(job, advice.remedies[0])
    assert advise(noted).methods[0].verdict == "recommended"


@pytest.mark.parametrize("enables", [[], ["voltage"], ["d_plus"], ["ignition"], ["remote"], ["d_plus", "ignition"]])
@pytest.mark.parametrize("signals", [NONE, BOTH])
def test_every_unit_gets_an_answer(enables: list[str], signals: dict[str, bool]) -> None:
    """Whatever a unit takes and a vehicle offers, the advice says something, and each way carries its reasons."""
    advice = advise(design(charger=charger(enables=enables), vehicle=vehicle(signals=signals)))
    assert advice.text
    for item in advice.methods:
        assert item.verdict in ("recommended", "sound") or item.speaks_against, item.key


@pytest.mark.parametrize("held_s", [30.0, 150.0])
def test_a_phase_that_reaches_the_guard_wants_signal_and_guard_together(held_s: float) -> None:
    """At 12.4 V the phase falls to rest and full current pulls it under the guard: neither alone keeps it on, both do."""
    low = vehicle(alternator=MANAGED, readings=LOW | {"low_phase_v": 12.4}, signals=BOTH)
    job = design(vehicle=low, activation={"start_v": 13.3, "stop_v": 12.9, "stop_held_s": held_s})
    name = "wake.rides_low_phase" if held_s > 60 else "wake.low_phase"
    (found,) = (item for item in assess(job).findings if item.id == name)
    assert found.level == "caution"
    both = next(item for item in found.remedies if " and lower the guard" in item.label)
    told = {item.id for item in assess(apply(job, both)).findings}
    assert not told & {"wake.low_phase", "wake.rides_low_phase", "wake.guarded_in_phase", "wake.guard_low"}


def test_what_speaks_against_the_best_is_told_with_it() -> None:
    """The advice ends with the first thing against the best way, or says none."""
    for _, changes, _ in CASES:
        advice = advise(design(**changes))
        best = advice.methods[0]
        assert best.speaks_for[0] in advice.text
        assert ("Mind:" in advice.text) is bool(best.speaks_against)
        assert all(item in advice.text for item in best.speaks_against[:1])


def test_where_nothing_speaks_against_any_the_simpler_stand_first() -> None:
    """Volts need no wire, D+ one, a key beside volts rather than D+ beside volts; what is by hand comes last, the bridge at the end."""
    both = design(vehicle=vehicle(signals={"ignition": True, "d_plus": True}))
    order = ["voltage", "d_plus", "ignition_voltage", "d_plus_voltage", "ignition", "switch", "bridge"]
    assert [item.key for item in advise(both).methods] == order
