"""The unit's state machine alone, fed with made-up volts: order, timers, debounce, latching, stages."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.circuit.thresholds import Rule
from olvask.core.simulate.machine import Machine, Settings
from olvask.core.simulate.profile import Profile
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Flow
from tests.core.test_laws import COUNT

RULE = Settings(
    ways=frozenset({"voltage"}),
    start_rules=(Rule(13.3, 10.0),),
    stop_rules=(Rule(13.0, 30.0),),
    guard_v=12.2,
    guard_held_s=2.0,
    back_v=12.8,
)
LEAD = Profile(absorption_v=14.4, float_v=13.6, rebulk_v=12.8, absorption_s=7200.0, adaptive=True, tail_a=2.0)
RUNNING, PARKED = Stretch("cruise", 3600.0, True), Stretch("off", 3600.0, False)


def flow(volts: float, auxiliary_v: float = 12.4, by_volts: bool = False, amps: float = 25.0) -> Flow:
    """What the terminals show; the rest of the vehicle does not matter here."""
    return Flow(volts, amps, amps, volts, auxiliary_v, 0.0, amps, -5.0 if by_volts else 5.0, False)


class Bench:
    """A unit on a bench supply: volts are dialled, seconds pass, what it says is written down."""

    def __init__(self, rule: Settings = RULE, profile: Profile = LEAD) -> None:
        self.said: list[tuple[float, str]] = []
        self.now = 0.0
        self.unit = Machine(rule, profile, lambda what, _: self.said.append((self.now, what)))

    def hold(self, volts: float, seconds: float, stretch: Stretch = RUNNING, **more: float) -> str:
        """Hold a voltage, looking every half second; the state at the end."""
        end = self.now + seconds
        while self.now < end - 1e-9:
            self.unit.act(self.now, stretch, flow(volts, **more))  # type: ignore[arg-type]
            self.now += 0.5
        self.unit.act(self.now, stretch, flow(volts, **more))  # type: ignore[arg-type]
        return self.unit.state

    @property
    def stage(self) -> str:
        """Stage of the charge."""
        return self.unit.stage

    @property
    def words(self) -> list[str]:
        """What it said, in order."""
        return [what for _, what in self.said]


class TestTimers:
    def test_it_starts_after_its_delay_and_not_before(self) -> None:
        """Nine seconds over the start are not enough, ten are."""
        bench = Bench()
        assert bench.hold(13.5, 9.5) == "waiting"
        assert bench.hold(13.5, 0.5) == "charging"

    def test_a_broken_condition_starts_the_delay_afresh(self) -> None:
        """Eight seconds, a dip, eight seconds: still waiting."""
        bench = Bench()
        bench.hold(13.5, 8)
        assert bench.hold(13.2, 1) == "off"
        assert bench.hold(13.5, 8) == "waiting"
        assert bench.hold(13.5, 2) == "charging"

    def test_a_dip_shorter_than_the_stop_delay_is_lived_with(self) -> None:
        """29 s under the stop, a moment above, 29 s under: it goes on; 31 s under: it stops."""
        bench = Bench()
        bench.hold(13.5, 10)
        bench.hold(12.9, 29)
        bench.hold(13.4, 1)
        assert bench.hold(12.9, 29) == "charging"
        assert bench.hold(12.9, 2) == "off"
        assert bench.words == ["start", "stop"]

    def test_any_start_rule_that_is_met_starts_it(self) -> None:
        """Over the second rule's 13.8 V, held for nothing, it starts at the first look; between the two it waits."""
        rule = replace(RULE, start_rules=(*RULE.start_rules, Rule(13.8, 0.0)))
        assert Bench(rule).hold(13.9, 0) == "charging"
        assert Bench(rule).hold(13.5, 0) == "waiting"

    def test_any_stop_rule_that_is_met_stops_it(self) -> None:
        """A second stop at 12.6 V for 5 s is quicker than the first at 13.0 V for 30 s; 12.8 V waits for the first."""
        rule = replace(RULE, stop_rules=(*RULE.stop_rules, Rule(12.6, 5.0)))
        deep, shallow = Bench(rule), Bench(rule)
        for bench in (deep, shallow):
            bench.hold(13.5, 10)
        assert deep.hold(12.5, 5) == "off"
        assert shallow.hold(12.8, 29) == "charging"
        assert shallow.hold(12.8, 1) == "off"

    def test_a_crossing_between_two_looks_is_dated_back(self) -> None:
        """Looked at every 10 s, falling from 13.4 to 12.4: it came past 13.0 after 4 s, so the stop is due 34 s in."""
        bench = Bench()
        bench.hold(13.4, 10)
        begun = bench.now
        bench.unit.act(begun, RUNNING, flow(13.4))
        bench.unit.act(begun + 10, RUNNING, flow(12.4))
        assert bench.unit.due(begun + 10) == pytest.approx(begun + 4 + 30)


class TestRamp:
    """While the current ramps up the vehicle is asked what the terminals showed between two looks."""

    @staticmethod
    def dated(shown: Callable[[float], float]) -> tuple[float, list[float]]:
        """When it came past its stop of 13.0 V between looks at 0 and 8 s of a ramp of 20 s, and when it was looked at."""
        looks: list[float] = []

        def look(now: float) -> Flow:
            looks.append(now)
            return flow(shown(now))

        unit = Machine(replace(RULE, soft_start_s=20.0), LEAD, lambda *_: None)
        unit.look, unit.state, unit.charging_since_s = look, "charging", 0.0
        unit.act(0.0, RUNNING, flow(shown(0.0)))
        unit.act(8.0, RUNNING, flow(shown(8.0)))
        (since,) = unit.stop_since_s
        assert since is not None
        return since, looks

    def test_where_a_straight_line_is_right_two_looks_will_do(self) -> None:
        """13.4 V falling by 0.1 V a second comes past 13.0 V after 4 s."""
        since, looks = self.dated(lambda now: 13.4 - 0.1 * now)
        assert since == pytest.approx(4.0, abs=0.01)
        assert len(looks) <= 2

    @pytest.mark.parametrize("at", [0.3, 2.5, 7.9])
    def test_what_lets_go_at_once_is_found_by_halves(self, at: float) -> None:
        """An alternator at its limit: 13.4 V until then, 12.2 V from then on; in ten halves of 8 s or so."""
        since, looks = self.dated(lambda now: 13.4 if now < at else 12.2)
        assert since == pytest.approx(at, abs=0.011)
        assert len(looks) <= 13

    def test_past_the_ramp_the_line_is_taken(self) -> None:
        """The soft start is over after nine tenths of 5 s: nothing is asked."""
        looks: list[float] = []

        def look(now: float) -> Flow:
            looks.append(now)
            return flow(12.0)

        unit = Machine(replace(RULE, soft_start_s=5.0), LEAD, lambda *_: None)
        unit.look, unit.state, unit.charging_since_s = look, "charging", 0.0
        unit.act(5.0, RUNNING, flow(13.4))
        unit.act(9.0, RUNNING, flow(12.4))
        assert unit.stop_since_s[0] == pytest.approx(5.0 + 4.0 * 0.4)
        assert looks == []


class TestGuard:
    def test_it_comes_before_everything(self) -> None:
        """Under the guard it is off after the guard's hold, long before the stop's."""
        bench = Bench()
        bench.hold(13.5, 10)
        assert bench.hold(12.0, 2) == "guarded"
        assert bench.words == ["start", "guard"]

    def test_a_crank_shorter_than_the_hold_passes(self) -> None:
        """1.5 s at 9 V under a two-second hold: nothing is said."""
        bench = Bench()
        bench.hold(9.0, 1.5)
        bench.hold(13.5, 10)
        assert bench.words == ["start"]

    def test_back_at_its_volts_and_not_before_its_time(self) -> None:
        """12.7 V is not enough; 12.9 V is, but only ten seconds after it tripped; then the start conditions apply again."""
        bench = Bench()
        bench.hold(12.0, 2)
        assert bench.hold(12.9, 7) == "guarded"
        assert bench.hold(12.7, 60) == "guarded"
        assert bench.hold(12.9, 1) == "off"
        assert bench.hold(13.5, 9) == "waiting"
        assert bench.words == ["guard", "back"]

    @pytest.mark.parametrize("drift_v", [-0.001, 0.0, 0.001])
    def test_back_begins_the_starts_delay_whatever_the_posts_did_meanwhile(self, drift_v: float) -> None:
        """Looked at again only as the guard lets go: posts that rise a little had counted as over the start all along."""
        bench = Bench()
        bench.hold(12.0, 2)
        bench.unit.act(bench.now + 0.001, RUNNING, flow(13.5))
        bench.now += 10
        bench.unit.act(bench.now, RUNNING, flow(13.5 + drift_v))
        assert (bench.unit.state, bench.words) == ("waiting", ["guard", "back"])
        assert bench.unit.due(bench.now) == pytest.approx(bench.now + 10)

    def test_a_collapse_is_no_line(self) -> None:
        """10.4 V, then nothing a few seconds later: the guard's hold begins where that is seen, not on a line between them."""
        bench = Bench(replace(RULE, guard_v=9.0, ways=frozenset({"d_plus"})))
        bench.hold(13.5, 0)
        bench.unit.act(bench.now + 2.5, RUNNING, flow(10.4))
        bench.unit.act(bench.now + 5.0, RUNNING, flow(0.0))
        assert bench.unit.state == "charging"
        assert bench.unit.due(bench.now + 5.0) == pytest.approx(bench.now + 7.0)

    @COUNT
    @given(st.lists(st.floats(8.0, 15.0), min_size=1, max_size=60))
    def test_it_never_charges_while_guarded_and_never_starts_under_its_start(self, dialled: list[float]) -> None:
        """Whatever is dialled, second by second: every start lies at or over the start, none follows a trip before the guard is back."""
        bench = Bench()
        out = False
        for volts in dialled:
            before = len(bench.said)
            bench.hold(volts, 1)
            for _, what in bench.said[before:]:
                assert what != "start" or (volts >= RULE.start_rules[0].volts and not out)
                out = what == "guard" or (out and what != "back")
        assert bench.unit.state != "charging" or not out

    def test_an_allowance_for_its_own_draw_gives_the_sag_back(self) -> None:
        """25 A through 20 mΩ are 0.5 V: 11.8 V count as 12.3 V and pass the 12.2 V guard, 11.6 V as 12.1 V do not."""
        rule = replace(RULE, ways=frozenset({"bridge"}))
        allowing = Bench(replace(rule, guard_ohm=0.02))
        assert allowing.hold(13.0, 1) == allowing.hold(11.8, 60) == "charging"
        assert allowing.hold(11.6, 3) == "guarded"
        bare = Bench(rule)
        assert (bare.hold(13.0, 1), bare.hold(11.8, 3)) == ("charging", "guarded")


class TestPermission:
    @pytest.mark.parametrize(
        ("ways", "stretch", "charges"),
        [
            ({"ignition"}, replace(PARKED, ignition=True), True),
            ({"ignition"}, PARKED, False),
            ({"d_plus"}, replace(PARKED, ignition=True), False),
            ({"d_plus"}, RUNNING, True),
            ({"switch"}, replace(RUNNING, remote=False), False),
            ({"bridge"}, PARKED, True),
            ({"ignition", "d_plus"}, replace(PARKED, ignition=True), False),
            (set(), RUNNING, False),
        ],
    )
    def test_every_signal_must_allow_it(self, ways: set[str], stretch: Stretch, charges: bool) -> None:
        """By signal alone it starts at once where all are live, and does nothing where none is wired."""
        bench = Bench(replace(RULE, ways=frozenset(ways)))
        assert (bench.hold(12.7, 1, stretch) == "charging") is charges

    def test_a_lost_signal_stops_at_once(self) -> None:
        """No stop delay for a signal that goes."""
        bench = Bench(replace(RULE, ways=frozenset({"d_plus"})))
        bench.hold(13.5, 1)
        assert bench.hold(12.7, 0, PARKED) == "off"

    def test_a_latched_mode_outlives_its_wire_until_the_guard_trips(self) -> None:
        """Once given it outlives the wire; a guard trip takes it back."""
        bench = Bench(replace(RULE, ways=frozenset({"switch"}), latched=True))
        lost = replace(RUNNING, remote=False)
        bench.hold(13.5, 1)
        assert bench.hold(13.5, 60, lost) == "charging"
        bench.hold(12.0, 2, lost)
        assert bench.hold(13.5, 60, lost) == "off"

    def test_a_latched_mode_is_forgotten_without_its_feed(self) -> None:
        """Plug out, plug in: what was given before its feed went must be given again."""
        bench = Bench(replace(RULE, ways=frozenset({"switch"}), latched=True))
        lost = replace(RUNNING, remote=False)
        bench.hold(13.5, 1)
        bench.unit.act(bench.now, lost, replace(flow(0.0), dead=True))
        assert bench.hold(13.5, 60, lost) == "off"
        assert bench.hold(13.5, 1) == "charging"

    def test_under_its_lowest_input_nothing_wakes_it(self) -> None:
        """A signal alone does not start a unit at 8 V."""
        rule = replace(RULE, ways=frozenset({"ignition"}), guard_v=6.0, least_input_v=9.0)
        assert Bench(rule).hold(8.0, 60) == "off"


class TestStages:
    def charging(self, profile: Profile = LEAD, auxiliary_v: float = 12.4) -> Bench:
        """A unit that has just begun to charge."""
        bench = Bench(replace(RULE, ways=frozenset({"d_plus"})), profile)
        bench.hold(13.8, 0, auxiliary_v=auxiliary_v)
        return bench

    def test_bulk_gives_way_when_volts_hold_the_current_back(self) -> None:
        """Full current is bulk; held back is absorption."""
        bench = self.charging()
        bench.hold(13.8, 600)
        assert bench.stage == "bulk"
        bench.hold(13.8, 1, by_volts=True, amps=20.0)
        assert bench.stage == "absorption"
        assert bench.unit.target_v == 14.4

    def test_a_short_bulk_makes_a_short_absorption(self) -> None:
        """Adaptive: 30 min of bulk give 15 of absorption; fixed: its whole two hours."""
        for adaptive, minutes in ((True, 15.0), (False, 120.0)):
            bench = self.charging(replace(LEAD, adaptive=adaptive))
            bench.hold(13.8, 1800)
            begun = bench.now
            bench.hold(13.8, minutes * 60 - 5, by_volts=True, amps=20.0)
            assert bench.stage == "absorption"
            bench.hold(13.8, 10, by_volts=True, amps=20.0)
            assert bench.stage == "float"
            assert bench.now - begun == pytest.approx(minutes * 60, abs=10)

    def test_the_tail_ends_absorption_early(self) -> None:
        """1.9 A under a tail of 2 A: float."""
        bench = self.charging()
        bench.hold(13.8, 5, by_volts=True, amps=20.0)
        bench.hold(13.8, 1, by_volts=True, amps=1.9)
        assert bench.stage == "float"
        assert bench.unit.target_v == 13.6

    def test_a_start_above_re_bulk_goes_straight_to_float(self) -> None:
        """LFP rests at 13.2 V, over a lead profile's 12.8 V: it will not resume, until a load pulls it down at full current."""
        bench = self.charging(auxiliary_v=13.2)
        assert bench.stage == "float"
        bench.hold(13.8, 60, auxiliary_v=13.5, by_volts=True, amps=3.0)
        assert bench.stage == "float"
        bench.hold(13.8, 61, auxiliary_v=12.7, by_volts=False)
        assert bench.stage == "bulk"

    @pytest.mark.parametrize("rests", [False, True])
    def test_a_pump_that_starts_does_not_begin_a_charge(self, rests: bool) -> None:
        """Twice 50 s under its restart volts with a moment over them between: float still; a whole minute: bulk."""
        bench = self.charging(replace(LEAD, rests=rests), auxiliary_v=13.2)
        for volts, seconds in ((12.7, 50), (12.9, 1), (12.7, 50)):
            bench.hold(13.8, seconds, auxiliary_v=volts)
            assert bench.stage == "float"
        assert bench.unit.due(bench.now) == pytest.approx(bench.now + 10, abs=1)
        bench.hold(13.8, 11, auxiliary_v=12.7)
        assert bench.stage == "bulk"


class TestAgain:
    def test_an_adaptive_absorption_counts_its_own_bulk(self) -> None:
        """40 minutes of bulk, 20 of absorption, in the first charge of the day as in the second."""
        bench = Bench()
        for _ in range(2):
            bench.said.clear()
            bench.hold(13.5, 10)
            began_s = bench.now
            bench.hold(13.5, 2400)
            bench.hold(13.5, 1300, by_volts=True, auxiliary_v=14.4)
            told = {what: at for at, what in bench.said}
            assert told["absorption"] - began_s == pytest.approx(2400, abs=1)
            assert told["float"] - told["absorption"] == pytest.approx(1200, abs=1)
            bench.hold(12.5, 40)
            assert bench.unit.state == "off"
            bench.hold(12.5, 3600)

    def test_so_does_that_of_a_charge_begun_anew(self) -> None:
        """Hours in float, then pulled down: 30 minutes of bulk, 15 of absorption, not half of the hours since it started."""
        bench = Bench()
        bench.hold(13.5, 10)
        bench.hold(13.5, 4 * 3600, by_volts=True, auxiliary_v=14.4)
        assert bench.stage == "float"
        bench.hold(13.5, 60 + 1800, auxiliary_v=12.4)
        bench.said.clear()
        bench.hold(13.5, 3600, by_volts=True, auxiliary_v=14.4)
        told = {what: at for at, what in bench.said}
        assert told["float"] - told["absorption"] == pytest.approx(900, abs=1)

    def test_what_it_holds_in_each_stage(self) -> None:
        """Absorption volts until float; then its float volts, or nothing where it rests."""
        for rests, held_v in ((False, 13.6), (True, 0.0)):
            bench = Bench(profile=replace(LEAD, rests=rests, adaptive=False, absorption_s=60.0))
            bench.hold(13.5, 20)
            assert bench.unit.target_v == 14.4
            bench.hold(13.5, 10, by_volts=True, auxiliary_v=14.4)
            assert (bench.stage, bench.unit.target_v) == ("absorption", 14.4)
            bench.hold(13.5, 70, by_volts=True, auxiliary_v=14.4)
            assert (bench.stage, bench.unit.target_v) == ("float", held_v)


class TestSun:
    """A unit with an input for a panel, the engine off."""

    SUNNY = replace(PARKED, sun_auxiliary_w=100.0)

    def parked(self, profile: Profile = LEAD) -> Bench:
        """One that was left in float."""
        bench = Bench(profile=profile)
        bench.unit.second_input, bench.unit.stage = True, "float"
        bench.hold(12.6, 60, PARKED, auxiliary_v=12.5)
        return bench

    def test_each_time_it_comes_a_charge_begins(self) -> None:
        """Bulk until volts hold it back, absorption for half of that, float; the next sun begins anew."""
        bench = self.parked()
        for _ in range(2):
            assert bench.unit.due(bench.now) > bench.now + 1e6
            bench.hold(12.6, 2400, self.SUNNY, auxiliary_v=13.0)
            assert (bench.stage, bench.unit.target_v, bench.unit.working) == ("bulk", 14.4, True)
            bench.hold(12.6, 1, self.SUNNY, auxiliary_v=14.4, by_volts=True)
            assert bench.stage == "absorption"
            assert bench.unit.due(bench.now) == pytest.approx(bench.now + 1200, abs=2)
            bench.hold(12.6, 1201, self.SUNNY, auxiliary_v=14.4, by_volts=True)
            assert (bench.stage, bench.unit.target_v) == ("float", 13.6)
            bench.hold(12.6, 60, PARKED, auxiliary_v=12.7)
            assert not bench.unit.working
        assert "start" not in bench.words

    def test_it_ends_by_its_clock_and_where_the_engine_takes_over(self) -> None:
        """Half an hour of bulk at the most; charging by the alternator it is that charge's stages that count."""
        bench = self.parked(replace(LEAD, bulk_s=1800.0))
        bench.hold(12.6, 1, self.SUNNY, auxiliary_v=12.6)
        assert bench.unit.due(bench.now) == pytest.approx(bench.now + 1800, abs=2)
        bench.hold(12.6, 1800, self.SUNNY, auxiliary_v=12.9)
        assert bench.stage == "float"
        bench.hold(13.8, 11, replace(RUNNING, sun_auxiliary_w=100.0), auxiliary_v=12.5)
        assert (bench.unit.state, bench.unit.by_sun, bench.stage) == ("charging", False, "bulk")

    def test_one_without_the_input_takes_no_notice(self) -> None:
        bench = self.parked()
        bench.unit.second_input = False
        bench.hold(12.6, 60, self.SUNNY, auxiliary_v=12.5)
        assert (bench.stage, bench.unit.working) == ("float", False)
