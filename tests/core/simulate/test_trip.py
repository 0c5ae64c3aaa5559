"""The simulator: programmes as text, scenarios reasoned by hand, and a second simulator written apart."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.assess import assess
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.programme import LIBRARY, BadProgramme, Programme, Stretch, read_programme, write_programme
from olvask.core.simulate.record import Sample
from olvask.core.simulate.report import cranks_left, hunts, report, reporting, thinned
from olvask.core.simulate.trip import drive
from olvask.store.demo import demo_designs
from tests.core.analyses.test_recommended import survey
from tests.core.test_laws import COUNT
from tests.designs import activation, cable, charger, design, fuse, plain, vehicle
from tests.oracles.brute import brute
from tests.oracles.ivp import any_day, integrate

MANAGED = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6, "sag_mohm": 2.0}
LOW = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 12.9, "low_phase_s": 60.0}
HIGH_LOW = {"low_phase_v": 13.1, "low_phase_s": 300.0}
HIGH_LOW_DAY = "crank 2 s\nidle 2 min\nlow 5 min\ncruise 2 min\n"
LONG = {"pieces": [fuse(60.0), cable("10 mm²", 6.0)]}
DRIVE = "off 1 min\ncrank 2 s\nidle 5 min\ncruise 20 min\noff 20 min\n"


def merged(base: Any, changes: Any) -> Any:
    """Plain data with parts replaced, dictionaries key by key."""
    if not isinstance(base, dict) or not isinstance(changes, dict):
        return changes
    return base | {key: merged(base.get(key), value) for key, value in changes.items()}


CASES = json.loads((Path(__file__).parent / "scenarios.json").read_text(encoding="utf-8"))


def between(value: float, expected: float | list[float]) -> bool:
    """Exactly that number, or within that range."""
    low, high = expected if isinstance(expected, list) else (expected, expected)
    return low - 1e-9 <= value <= high + 1e-9


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_a_scenario_goes_as_reasoned(case: dict[str, Any]) -> None:
    """Starts, stops, guard trips, hunting, minutes charging with the engine off and ampere-hours come out as the reason says."""
    changes = dict(case["design"])
    if "activation" in changes:
        changes["activation"] = activation(**changes["activation"])
    job = Design.model_validate(merged(plain(), changes))
    tried = [job]
    if "cure" in case:
        finding = next(item for item in assess(job).findings if item.id == case["cure"])
        assert len(finding.remedies) >= 3
        tried = [apply(job, way) for way in finding.remedies]
    for one in tried:
        trip = drive(one, read_programme("\n".join(case["day"])))
        assert hunts(trip) is case["hunting"], case["why"]
        found = {
            "starts": trip.starts,
            "stops": sum(event.what == "stop" for event in trip.events),
            "guard_trips": trip.guard_trips,
            "off_min": trip.engine_off_charging_s / 60,
            "charged_ah": trip.charged_ah,
            "drained_ah": trip.drained_ah,
            "cold_ah": trip.cold_ah,
            "auxiliary_charge": trip.auxiliary_charge,
        }
        for name, value in found.items():
            assert name not in case or between(value, case[name]), (name, value, case["why"])


def compared(seed: int) -> tuple[Design, Programme]:
    """One of the settings and cables that both simulators drive, and its half hour."""
    spread = [(seed * 37 % 11) / 10, (seed * 53 % 13) / 12, (seed * 29 % 7) / 6]
    job = design(
        vehicle=vehicle(alternator={"rated_a": 400.0, "regulation": "fixed", "loads_idle_a": 15.0, "sag_mohm": 2.0, "hot_idle_share": 0.9}),
        supply={"pieces": [fuse(60.0), cable(("10 mm²", "16 mm²", "25 mm²")[seed % 3], 2.0 + 6.0 * spread[0])]},
        activation={"ways": ["voltage"], "start_v": round(max(13.0 + 0.7 * spread[1], 12.9 + 0.6 * spread[2]), 2), "stop_v": round(12.85 + 0.6 * spread[2], 2), "guard_v": round(11.9 + 0.5 * spread[1], 2), "back_v": 13.2, "stop_held_s": 20.0},
    )  # fmt: skip
    day = read_programme(
        "begin start 90 % auxiliary 50 %\noff 2 min\ncrank 2 s\nidle 6 min\ncruise 15 min\noff 10 min\n"
    )
    return job, day


class TestAgainstABruteForce:
    """On random settings and cables, against the fixed-tick simulator written apart."""

    @pytest.mark.parametrize("seed", range(24))
    def test_both_say_the_same(self, seed: int) -> None:
        """On random settings and cables both simulators count the same starts and guard trips, and agree on the ampere-hours."""
        job, day = compared(seed)
        ours = drive(job, day)
        fixed = brute(job, day)
        starts, trips = len(fixed.starts), fixed.guard_trips
        assert abs(ours.starts - starts) <= (1 if starts > 5 else 0), (ours.starts, starts)
        assert abs(ours.guard_trips - trips) <= (1 if trips > 5 else 0), (ours.guard_trips, trips)
        assert ours.charged_ah == pytest.approx(fixed.output_ah, rel=0.06 if starts > 2 else 0.02, abs=0.05)

    def test_the_comparison_meets_hunting_and_calm(self) -> None:
        """Among the settings compared some hunt and some do not."""
        hunted = sum(drive(*compared(seed)).starts > 2 for seed in range(24))
        assert 4 <= hunted <= 24 - 4


class TestProgrammes:
    @pytest.mark.parametrize("name", LIBRARY)
    def test_the_library_reads_and_writes(self, name: str) -> None:
        """Each programme of the library reads, and its text form reads back the same."""
        day = read_programme(LIBRARY[name])
        assert read_programme(write_programme(day)) == day

    @COUNT
    @given(
        st.lists(
            st.builds(
                Stretch,
                engine=st.sampled_from(("off", "crank", "idle", "cruise", "low")),
                duration_s=st.sampled_from((0.5, 2.0, 59.0, 60.0, 90.0, 3600.0, 5400.0, 86400.0)),
                ignition=st.booleans(),
                load_a=st.sampled_from((0.0, 0.5, 12.25)),
                sun_auxiliary_w=st.sampled_from((0.0, 80.0)),
                sun_start_w=st.just(0.0),
                plugged=st.booleans(),
                remote=st.booleans(),
                ambient_c=st.sampled_from((None, -12.5, 0.0, 41.0)),
            ),
            min_size=1,
            max_size=8,
        ),
        st.sampled_from((0.0, 0.455, 1.0)),
        st.sampled_from((-20.0, 30.0)),
    )
    def test_any_programme_reads_back_as_it_was_written(
        self, stretches: list[Stretch], charge: float, ambient_c: float
    ) -> None:
        """Every engine, time, load, sun, key, plug, wire and air survives being text."""
        day = Programme(tuple(stretches), charge, 0.5, ambient_c)
        assert read_programme(write_programme(day)) == day

    def test_repeats_stand_in_each_other(self) -> None:
        """Twice three idles and an off: eight stretches."""
        day = read_programme("repeat 2\n repeat 3\n  idle 1 min\n end\n off 5 s\nend\n")
        assert [stretch.engine for stretch in day.stretches] == (["idle"] * 3 + ["off"]) * 2

    def test_modifiers_are_read(self) -> None:
        """Loads, sun on either side, the key, the plug and the remote."""
        day = read_programme(
            "off 1 h load 2,5 A, sun 80 W on start ignition on unplugged remote lost\nidle 2 min sun 40 W\n"
        )
        assert day.stretches[0] == Stretch("off", 3600.0, True, 2.5, 0.0, 80.0, False, False)
        assert day.stretches[1].sun_auxiliary_w == 40.0

    @pytest.mark.parametrize(
        ("text", "line", "words"),
        [
            ("fly 5 min", 1, "nothing a vehicle does"),
            ("idle", 1, "not understood"),
            ("idle 5 parsecs", 1, "not understood"),
            ("idle 0 s", 1, "above 0 s"),
            ("idle 5 min upside down", 1, "may have load"),
            ("repeat\nidle 1 min\nend", 1, "how often"),
            ("idle 1 min\nend", 2, "without a repeat"),
            ("repeat 3\nidle 1 min", 1, "no end"),
            ("repeat 9999\nidle 1 s\nend", 3, "more than"),
            ("begin start 140 %\nidle 1 min", 1, "begin start 90 %"),
            ("idle 1 min\nbegin start 90 %", 2, "move it up"),
            ("# nothing", 1, "empty"),
            ("begin ambient 90 °C\nidle 1 min", 1, "between -50 and 60"),
            ("idle 1 min ambient -70 °C", 1, "between -50 and 60"),
            ("begin\nidle 1 min", 1, "begin start 90 %"),
        ],
    )
    def test_a_bad_line_is_named(self, text: str, line: int, words: str) -> None:
        """The line and the remedy are told, and every bad line is listed."""
        with pytest.raises(BadProgramme) as caught:
            read_programme(text)
        assert any(fault.line == line and words in fault.message for fault in caught.value.errors)

    def test_as_many_stretches_as_a_day_holds(self) -> None:
        """Two stretches 2,500 times are 5,000; one more time, or one stretch before them, is more than that."""
        twice = "repeat {}\nidle 1 s\noff 1 s\nend\n"
        assert len(read_programme(twice.format(2500)).stretches) == 5000
        for long in (twice.format(2501), "idle 1 s\n" + twice.format(2500)):
            with pytest.raises(BadProgramme, match="more than 5000 stretches"):
                read_programme(long)

    def test_all_bad_lines_are_listed(self) -> None:
        """Three mistakes, three faults."""
        with pytest.raises(BadProgramme) as caught:
            read_programme("fly 1 s\nidle 1 min\nswim 2 s\nend\n")
        assert [fault.line for fault in caught.value.errors] == [1, 3, 4]


def changes(samples: list[Sample]) -> list[tuple[str, str]]:
    """State and engine, each only where it changes."""
    pairs: list[tuple[str, str]] = []
    for item in samples:
        if not pairs or pairs[-1] != (item.state, item.engine):
            pairs.append((item.state, item.engine))
    return pairs


class TestReport:
    @COUNT
    @given(st.integers(5, 300))
    def test_thinning_keeps_every_change_of_state(self, most: int) -> None:
        """However few samples are wanted, each change of state or engine is among them."""
        trip = drive(design(), read_programme(DRIVE))
        kept = thinned(trip, most)
        assert changes(kept) == changes(trip.samples)

    def test_totals_add_up(self) -> None:
        """What goes in at 90 % efficiency comes out, minutes are counted, and series are of one length."""
        job = design()
        found = report(job, read_programme(DRIVE))
        series = found.series
        assert (
            len({len(getattr(series, name)) for name in ("time_s", "state", "input_v", "output_a", "start_charge")})
            == 1
        )
        assert found.totals.input_ah > found.totals.charged_ah
        assert 24.0 < found.totals.charging_min < 26.5  # 25 min running less the 10 s delay, plus the stop delay
        gained = found.totals.auxiliary_charge - 0.5
        assert gained * 110.0 == pytest.approx(found.totals.charged_ah * 0.85, rel=0.02)


def test_cranks_left_by_hand() -> None:
    """90 Ah from 90 % down to 60 % is 27 Ah; a crank of 3 s at 360 A takes 0.3 Ah: ninety of them."""
    assert cranks_left(design(), 0.9) == pytest.approx(90.0)
    assert cranks_left(design(), 0.5) == 0
    # At -10 °C, 35 K under 25 °C, 0.8 % a kelvin less can be had.
    assert cranks_left(design(), 0.9, -10.0) == pytest.approx(0.72 * 90.0)
    cold = report(
        design(activation={"ways": ["d_plus"]}), read_programme("begin start 90 % ambient -10 °C\noff 1 min\n")
    )
    assert cold.totals.reserve_cranks == pytest.approx(0.72 * 90.0, rel=0.01)


def test_a_pack_that_refuses_the_cold_says_how_long() -> None:
    """Twenty minutes at -10 °C with a cut-off at 5 °C are twenty refused; on a mild day none."""
    pack = {"chemistry": "lfp", "absorption_v": 14.2, "low_temperature_cut_off": True}
    job = design(auxiliary=pack, activation={"ways": ["d_plus"]})
    assert report(job, read_programme("begin ambient -10 °C\nidle 20 min\n")).totals.refused_min == pytest.approx(20.0)
    assert report(job, read_programme("idle 20 min\n")).totals.refused_min == 0


def test_a_run_told_as_it_goes_is_the_same_run() -> None:
    """Shares rise to one, and the report is that of one go."""
    day = read_programme(DRIVE)
    *shares, last = reporting(design(), day, 100)
    assert [share for share in shares if isinstance(share, float)] == sorted(
        share for share in shares if isinstance(share, float)
    )
    assert last == report(design(), day, most=100)


def test_endless_hunting_is_driven_no_further() -> None:
    """A panel holds the start battery over a low release for weeks: cut off in its first days, and said so."""
    job = design(activation={"ways": ["ignition"], "guard_v": 12.6, "back_v": 12.65})
    day = read_programme("off 30 d ignition on sun 120 W on start load 20 A\n")
    trip = drive(job, day)
    assert trip.cut_s is not None
    assert trip.cut_s < 20 * 86400
    assert report(job, day, most=300).totals.cut_s == trip.cut_s
    assert drive(design(), read_programme(DRIVE)).cut_s is None


def test_the_units_own_soft_start_and_time_out_are_driven() -> None:
    """Of 25 A, a minute's soft start from a tenth allows 15 A after half of it; locked out a minute, it is released no sooner."""
    slow = charger(behaviour={"soft_start_s": 60.0}, off_least_s=60.0)
    trip = drive(design(charger=slow, activation={"ways": ["d_plus"]}), read_programme("idle 3 min\n"))
    half = min(trip.samples, key=lambda item: abs(item.time_s - 30.0))
    assert half.output_a == pytest.approx(25.0 * (0.1 + half.time_s / 60.0), rel=0.01)
    assert abs(half.time_s - 30.0) < 6.0
    key_on = design(charger=slow, activation={"ways": ["ignition"], "guard_v": 12.4, "back_v": 12.45})
    events = drive(key_on, read_programme("off 10 min ignition on\n")).events
    out, back = (next(event.time_s for event in events if event.what == what) for what in ("guard", "back"))
    assert back - out == pytest.approx(60.0, abs=0.1)


def test_a_slow_soft_start_does_not_oversleep_the_guard() -> None:
    """The draw creeps up over five minutes until an alternator with 15 A left lets go: locked out within a few seconds of that.

    The integrator finds the moment as an event; the debounce of 2 s follows, and a look at the ramp every 5 s.
    """
    weak = {"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 20.0, "hot_idle_share": 0.5}
    job = design(
        vehicle=vehicle(alternator=weak),
        charger=charger(behaviour={"soft_start_s": 300.0}),
        activation={"ways": ["d_plus"], "guard_v": 12.6, "back_v": 13.5},
    )
    day = read_programme("idle 10 min\n")
    theirs = next(when for when, what in integrate(job, day, "LSODA").events if what == "guard")
    assert 60.0 < theirs < 300.0
    trip = drive(job, day)
    ours = next(event.time_s for event in trip.events if event.what == "guard")
    assert theirs - 0.5 <= ours <= theirs + 5.0


class TestAgainstAnIntegrator:
    """On the same equations and state machine, scipy's integrator with events."""

    @pytest.mark.parametrize("name", ["commute", "delivery round", "motorway"])
    def test_a_day_comes_out_within_one_percent(self, name: str) -> None:
        """Starts and guard trips alike; energy, ampere-hours and states of charge within one percent, on every demo job."""
        day = read_programme(LIBRARY[name])
        for _, job in demo_designs():
            ours, theirs = drive(job, day), integrate(job, day, "LSODA")
            assert (ours.starts, ours.guard_trips) == (theirs.starts, theirs.guard_trips)
            assert ours.charged_ah == pytest.approx(theirs.charged_ah, rel=0.01)
            assert ours.input_wh == pytest.approx(theirs.input_wh, rel=0.01)
            assert ours.start_charge == pytest.approx(theirs.start_charge, rel=0.01)
            assert ours.auxiliary_charge == pytest.approx(theirs.auxiliary_charge, rel=0.01)

    @pytest.mark.parametrize("seed", range(16))
    def test_any_day_of_any_vehicle_comes_out_alike(self, seed: int) -> None:
        """Random surveys on random days, hunting ones among them: the same starts within 3 %, the same Ah and Wh within 1 %."""
        pick = random.Random(seed)
        job, _ = survey(pick)
        day = any_day(pick)
        ours, theirs = drive(job, day), integrate(job, day, "LSODA")
        assert ours.starts == pytest.approx(theirs.starts, rel=0.03)
        assert ours.guard_trips == pytest.approx(theirs.guard_trips, rel=0.03)
        assert ours.charged_ah == pytest.approx(theirs.charged_ah, rel=0.01, abs=0.003)
        assert ours.input_wh == pytest.approx(theirs.input_wh, rel=0.01, abs=0.05)
        assert ours.start_charge == pytest.approx(theirs.start_charge, rel=0.01)
        assert ours.auxiliary_charge == pytest.approx(theirs.auxiliary_charge, rel=0.01)
