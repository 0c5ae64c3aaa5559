"""Single moments of a vehicle worked out on paper: what branches take, plugs that are out, what is left when the engine stops."""

from __future__ import annotations

import math
from typing import Any

import pytest

from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.charging import Offer
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.plant import BATTERY_TAU_S, Plant
from olvask.core.simulate.programme import BadProgramme, Stretch, read_programme
from olvask.core.simulate.states import Flow, Moment, State
from olvask.core.simulate.trip import Trial, drive
from tests.designs import cable, charger, design, fuse, plain, vehicle

LAMP = {"kind": "branch", "name": "lamp", "current_a": 8.0, "size": "6 mm²", "device": fuse(10.0, "blade")}
PLUG = {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 1.0, "rating_a": 50.0}
TAPPED = {"pieces": [fuse(60.0), cable(), LAMP, cable("16 mm²", 1.0)]}


def flow(of: Design, engine: str = "idle", drawing: bool = False, charge: float = 0.9, **more: Any) -> Flow:
    """One moment with the batteries at rest, 25 °C."""
    plant = Plant(of, solve(of))
    stretch = Stretch(engine, 60.0, True, **more)  # type: ignore[arg-type]
    ramp = 1.0 if drawing else 0.0
    return plant.flow(State(charge, 0.5), Moment(stretch, stretch.running, plant.air(25.0), 0.0, drawing, ramp, 14.4))


def weak(supply: Any = None, rated_a: float = 40.0) -> Design:
    """An alternator that gives six tenths at hot idle, of which the vehicle takes 15 A: 9 A are left of 40."""
    alternator = plain()["vehicle"]["alternator"] | {"rated_a": rated_a}
    return design(vehicle=vehicle(alternator=alternator), **({"supply": supply} if supply else {}))


class TestBranches:
    def test_it_pulls_posts_and_run_down_though_the_unit_draws_nothing(self) -> None:
        """8 A through 2 mΩ of source take 16 mV off 13.9 V; through 3 m of 25 mm² both ways, lugs and fuse some 50 more."""
        found = flow(design(supply=TAPPED))
        assert found.post_v == pytest.approx(13.884)
        assert found.post_v - found.volts == pytest.approx(8.0 * 0.0063, abs=0.005)
        assert flow(design()).volts == flow(design()).post_v == pytest.approx(13.9)

    def test_what_the_alternator_has_left_goes_to_the_start_battery(self) -> None:
        """9 A are left at hot idle: the battery would take 7 of them, and with 8 A branched off there is 1."""
        assert 5.0 < flow(weak()).start_a < 9.0
        assert flow(weak(TAPPED)).start_a == pytest.approx(1.0)

    def test_what_the_unit_leaves_goes_there_too(self) -> None:
        """Of 42 A left at hot idle the unit and the branch take some 38: the battery, nearly empty, would take twice the rest."""
        found = flow(weak(TAPPED, 95.0), drawing=True, charge=0.2)
        assert found.input_a > 25.0
        assert found.start_a == pytest.approx(42.0 - 8.0 - found.input_a)
        assert found.start_a > 0.0

    def test_what_it_lacks_the_start_battery_gives(self) -> None:
        """The unit's 30 A and the branch's 8 of those 9: the battery stands for the rest, and its volts carry the run."""
        found = flow(weak(TAPPED), drawing=True)
        assert found.start_a == pytest.approx(9.0 - 8.0 - found.input_a)
        assert found.post_v < 12.48


class TestPlugs:
    def test_with_the_plug_out_nothing_stands_at_the_unit(self) -> None:
        """The unit is dead; the start battery is charged as before."""
        job = design(supply={"pieces": [fuse(60.0), cable(), PLUG, cable()]})
        found = flow(job, drawing=True, plugged=False)
        assert (found.dead, found.volts, found.input_a, found.output_a) == (True, 0.0, 0.0, 0.0)
        assert found.post_v == pytest.approx(13.9)
        assert not flow(job, drawing=True).dead


class TestSurfaceCharge:
    """12.7 V just after stopping, 12.6 rested: a tenth of a volt that leaks away."""

    def test_it_stands_after_a_drive_and_leaks(self) -> None:
        """By e in its time constant; parked from the beginning there is none, and cranking takes it off the picture."""
        trial = Trial(design(), read_programme("off 1 min\n"))
        off, cruise = Stretch("off", 600.0, False), Stretch("cruise", 600.0, True)
        trial.drive_on(off, 60.0)
        assert trial.moment(off, trial.now_s).surface_v == 0.0
        trial.drive_on(cruise, 60.0)
        trial.begin(off)  # looked at, before anything goes on
        assert trial.moment(off, trial.now_s).surface_v == pytest.approx(0.1)
        stopped_s = trial.now_s
        trial.drive_on(off, 1800.0)
        before = trial.moment(off, stopped_s + 900.0).surface_v
        assert trial.moment(off, trial.now_s).surface_v == pytest.approx(before**2 / 0.1)
        trial.drive_on(cruise, 60.0)
        assert trial.moment(cruise, trial.now_s).surface_v == 0.0

    def test_the_posts_of_a_day_show_it(self) -> None:
        """The first moment parked after a drive lies a tenth above the last hour's."""
        trip = drive(design(activation={"ways": ["d_plus"]}), read_programme("cruise 1 min\noff 24 h\n"))
        parked = [item for item in trip.samples if item.engine == "off" and item.input_a == 0]
        assert parked[0].post_v - parked[-1].post_v == pytest.approx(0.1, abs=0.02)


class TestOutput:
    def test_the_unit_stands_above_the_battery_by_what_the_run_loses(self) -> None:
        """25 A through 1.5 m of 16 mm² both ways, lugs and a fuse: some 6 mΩ."""
        job = design(activation={"ways": ["d_plus"]})
        sample = [
            item for item in drive(job, read_programme("crank 2 s\ncruise 5 min\n")).samples if item.output_a > 24
        ][-1]
        assert sample.output_v - sample.auxiliary_v == pytest.approx(25.0 * 0.006, abs=0.04)


class TestCold:
    @pytest.mark.parametrize(("air", "coldest"), [("-12", -12.0), ("8", 8.0), ("35", 25.0)])
    def test_the_coldest_of_a_day_counts_from_its_beginning(self, air: str, coldest: float) -> None:
        """It cranks by the coldest the battery was; a day that warms up does not make that better, a hot one changes nothing."""
        day = read_programme(f"begin start 90 % auxiliary 50 % ambient {air} °C\noff 1 min\noff 6 h ambient 30 °C\n")
        assert drive(design(), day).coldest_c == pytest.approx(coldest, abs=0.2)

    @pytest.mark.parametrize("air", [-20, -5])
    def test_a_pack_that_cools_is_cut_off_as_it_comes_to_its_limit(self, air: int) -> None:
        """From 10 °C in colder air it comes to 2 °C after τ·ln((10 − air)/(2 − air)); until then it charges, not after."""
        lithium = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 400.0, "charge_limit_a": 50.0}
        lithium |= {"low_temperature_cut_off": True, "charge_min_c": 2.0}
        day = f"begin start 80 % auxiliary 10 % ambient 10 °C\ncruise 10 h ambient {air} °C\n"
        samples = drive(design(auxiliary=lithium), read_programme(day)).samples
        due_s = BATTERY_TAU_S * math.log((10 - air) / (2 - air))
        charged_s = [item.time_s for item in samples if item.output_a > 1]
        assert max(charged_s) == pytest.approx(due_s, abs=15.0)
        assert min(item.time_s for item in samples if item.time_s > max(charged_s)) == pytest.approx(due_s, abs=30.0)


class TestRecord:
    def test_a_units_own_behaviour_is_used(self) -> None:
        """Its ramp, its latch and the volts that wake it; ten seconds where its record says nothing of a ramp."""
        own = design(charger=charger(behaviour={"soft_start_s": 4.0, "latched": True, "wake_v": 11.0}))
        found, usual = settings_of(own, solve(own)), settings_of(design(), solve(design()))
        assert (found.soft_start_s, found.latched, found.least_input_v) == (4.0, True, 11.0)
        assert (usual.soft_start_s, usual.latched, usual.least_input_v) == (10.0, False, 9.0)

    def test_a_source_of_less_than_an_ampere_gives_it(self) -> None:
        """A maintainer of 0.8 A against 13.0 V behind 50 mΩ; one that gives nothing gives nothing."""
        assert Offer(0.8, 14.4, 0.050, 0.0, 0.0).given_a(13.0) == pytest.approx(0.8)
        assert Offer(0.8, 13.02, 0.050, 0.0, 0.0).given_a(13.0) == pytest.approx(0.4)
        assert Offer(0.0, 14.4, 0.050, 0.0, 0.0).given_a(13.0) == 0.0

    def test_half_a_second_is_a_stretch(self) -> None:
        """A short crank is one; no time at all is none."""
        assert math.isclose(read_programme("crank 0.5 s\n").duration_s, 0.5)
        with pytest.raises(BadProgramme):
            read_programme("crank 0 s\n")


@pytest.mark.parametrize("drawing", [False, True])
@pytest.mark.parametrize("amps", [2.0, 8.0, 9.5, 20.0, 40.0])
def test_an_alternator_gives_no_more_than_it_has(amps: float, drawing: bool) -> None:
    """9 A are left of it: beyond them the start battery gives the rest, and the posts fall to its volts, unit on or off."""
    tail = LAMP | {"current_a": amps, "size": "16 mm²", "device": fuse(60.0)}
    found = flow(weak({"pieces": [fuse(100.0), cable(), tail]}), drawing=drawing)
    given_a = amps + found.input_a + found.start_a
    assert given_a <= 9.0 + 1e-6
    if amps + found.input_a > 9.0:
        assert given_a == pytest.approx(9.0)
        assert found.post_v < 12.8
