"""The equations of the simulator: hand calculations and laws that hold in every state."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.circuit.solve import solve
from olvask.core.physics.battery import cold_acceptance_factor, cold_resistance_factor
from olvask.core.physics.heat import cable_diameters_m, thermal_resistance_km_per_w, time_constant_s
from olvask.core.simulate.moment import moment_line
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import Stretch, read_programme
from olvask.core.simulate.report import cranks_left, report
from olvask.core.simulate.states import Moment, State, Variation
from olvask.core.simulate.trip import drive
from tests.core.test_laws import COUNT
from tests.designs import cable, charger, design, fuse, vehicle

CHARGE = st.floats(0.02, 0.99)
WARM = st.floats(0.0, 1.2)
JOB = design()
PLANT = Plant(JOB, solve(JOB))


def moment(
    plant: Plant = PLANT, engine: str = "cruise", drawing: bool = True, ambient_c: float = 30.0, **more: float
) -> Moment:
    """A moment of charging, or of standing."""
    stretch = Stretch(engine, 60.0, True, **more)  # type: ignore[arg-type]
    return Moment(stretch, stretch.running, plant.air(ambient_c), 0.0, drawing, 1.0 if drawing else 0.0, 14.4)


class TestHand:
    def test_a_conductor_warms_with_the_heat_it_holds(self) -> None:
        """16 mm²: 55.2 J/K a metre of copper and its insulation times the resistance to heat."""
        core_m, outer_m = cable_diameters_m(16.0)
        held = 16e-6 * 8960 * 385 + 3.14159 / 4 * (outer_m**2 - core_m**2) * 1350 * 1400
        to_air = thermal_resistance_km_per_w(16.0, 20.0, 30.0, 1.0)
        assert time_constant_s(16.0, 20.0, 30.0) == pytest.approx(held * to_air, rel=0.01)
        assert 200 < time_constant_s(16.0, 20.0, 30.0) < 900  # minutes, as anyone knows who has felt one

    @pytest.mark.parametrize(("chemistry", "celsius", "ohms", "takes"), [("flooded", 25.0, 1.0, 1.0), ("agm", -15.0, 1.48, 0.28), ("lfp", 0.0, 2.0, 0.5), ("lfp", -25.0, 4.0, 0.25), ("gel", 40.0, 1.0, 1.0), ("flooded", -40.0, 1.78, 0.1)])  # fmt: skip
    def test_cold_by_hand(self, chemistry: str, celsius: float, ohms: float, takes: float) -> None:
        """Lead: 1.2 % and 1.8 % a kelvin under 25 °C, a tenth at least; LFP doubles every 25 K."""
        assert cold_resistance_factor(chemistry, celsius) == pytest.approx(ohms)
        assert cold_acceptance_factor(chemistry, celsius) == pytest.approx(takes)

    def test_cranking_dips_by_ohms_law(self) -> None:
        """90 Ah flooded: 360 A through 5.6 mΩ take 2.0 V off the 12.59 V of 90 %."""
        found = PLANT.flow(State(0.9, 0.5), moment(engine="crank", drawing=False))
        assert found.volts == pytest.approx(12.48 + 0.5 * 0.22 - 4 * 90 * 0.50 / 90, abs=0.01)

    def test_a_hybrid_is_made_ready_by_thirty_amperes(self) -> None:
        """No starter hangs on its 12 V battery: 30 A through 5.6 mΩ take 0.17 V, and 36 Ah above the keep last 1,440 times."""
        hybrid = design(vehicle=vehicle(drive="converter"))
        found = Plant(hybrid, solve(hybrid)).flow(State(0.9, 0.5), moment(engine="crank", drawing=False))
        assert found.volts == pytest.approx(12.48 + 0.5 * 0.22 - 30 * 0.50 / 90, abs=0.01)
        assert cranks_left(hybrid, 1.0) == pytest.approx(36 / (30 * 3 / 3600), rel=1e-6)
        assert cranks_left(design(), 1.0) == pytest.approx(36 / (360 * 3 / 3600), rel=1e-6)

    def test_float_volts_of_another_profile(self) -> None:
        """A gel profile on AGM: 14.2 V and 13.7 V; the battery's own keeps the surveyed 14.4 V."""
        own, other = design(), design(charge={"profile": "gel"})
        assert profile_of(own, solve(own)).absorption_v == 14.4
        found = profile_of(other, solve(other))
        assert (found.absorption_v, found.float_v, found.rebulk_v) == pytest.approx((14.2, 13.7, 12.8))

    def test_derating_in_hot_air_is_the_sheets(self) -> None:
        """25 °C at the unit on a 30 °C day is 50 °C on one of 55: 10 K over 40 at 2.5 % a kelvin leave three quarters of 25 A."""
        assert PLANT.air(55.0).able_a == pytest.approx(18.75)
        assert PLANT.air(30.0).able_a == 25.0

    def test_branches_off_a_parked_vehicle(self) -> None:
        """Standing, only the drain flows: 30 mA out of the start battery, nothing into the other."""
        found = PLANT.flow(State(0.9, 0.5), moment(engine="off", drawing=False))
        assert found.start_a == pytest.approx(-0.03)
        assert found.auxiliary_a == 0
        assert found.input_a == 0


class TestLaws:
    @COUNT
    @given(CHARGE, CHARGE, WARM, WARM)
    def test_power_is_kept(self, start: float, auxiliary: float, supply: float, delivery: float) -> None:
        """What goes in, times the efficiency, is what comes out at the unit's output: battery and delivery drop."""
        state = State(start, auxiliary, supply, delivery)
        found = PLANT.flow(state, moment())
        out_w = found.output_a * (found.auxiliary_v + found.output_a * PLANT.delivery.ohm(delivery, 0.0))
        assert found.volts * found.input_a * PLANT.unit_efficiency == pytest.approx(out_w, rel=1e-6, abs=1e-6)

    @COUNT
    @given(CHARGE, CHARGE, st.floats(0.0, 40.0))
    def test_a_load_is_served_first(self, start: float, auxiliary: float, load_a: float) -> None:
        """Output is what battery and load take together, within what the unit can; the battery never gets more than its limit."""
        found = PLANT.flow(State(start, auxiliary), moment(load_a=load_a))
        assert found.output_a <= PLANT.output_a + 1e-9
        assert found.auxiliary_a == pytest.approx(found.output_a - load_a, abs=1e-9)
        assert found.auxiliary_a <= PLANT.auxiliary.limit_a + 1e-9

    @COUNT
    @given(CHARGE, st.floats(-30.0, 29.0))
    def test_the_cold_never_takes_more(self, auxiliary: float, celsius: float) -> None:
        """A colder battery never takes more current, and never holds up the volts of a crank better."""
        mild, cold = (PLANT.flow(State(0.9, auxiliary, battery_c=air), moment()) for air in (30.0, celsius))
        assert cold.auxiliary_a <= mild.auxiliary_a + 1e-9
        cranks = [
            PLANT.flow(State(0.9, auxiliary, battery_c=air), moment(engine="crank", drawing=False))
            for air in (30.0, celsius)
        ]
        assert cranks[1].volts <= cranks[0].volts + 1e-9

    @COUNT
    @given(CHARGE, WARM)
    def test_a_warmer_run_sees_fewer_volts(self, auxiliary: float, heating: float) -> None:
        """Copper's resistance rises with its temperature, so the terminals fall."""
        cool, warm = (PLANT.flow(State(0.9, auxiliary, share), moment()) for share in (0.0, heating))
        assert warm.volts <= cool.volts + 1e-12

    @COUNT
    @given(st.floats(0.0, 0.999), st.floats(0.0005, 0.02))
    def test_charging_gets_harder_as_it_fills(self, charge: float, more: float) -> None:
        """Resistance against charging never falls with charge below the taper, what is taken never rises above it: no jump between."""
        fuller = min(1.0, charge + more)
        (ohm, most), (ohm_fuller, most_fuller) = (PLANT.auxiliary.against(at) for at in (charge, fuller))
        assert most_fuller <= most + 1e-9
        if fuller <= PLANT.auxiliary.taper:
            assert ohm_fuller >= ohm - 1e-12
            assert ohm_fuller - ohm < 0.2 * more + 1e-6  # smooth: under two tenths of an ohm per unit of charge

    @COUNT
    @given(st.floats(-0.3, 0.3), st.floats(1.0, 2.0), st.floats(0.0, 0.006))
    def test_another_vehicle_differs_as_it_was_told(self, volts: float, older: float, joint: float) -> None:
        """A varied plant shifts regulator, battery and joints and leaves the design's own alone."""
        before = PLANT.supply.cold_ohm, PLANT.start.cell.inner_ohm, PLANT.sources["idle"].regulated_v
        other = PLANT.varied(Variation(rest_v=volts, alternator_v=volts, start_ohm=older, joint_ohm=joint))
        assert other.supply.cold_ohm - before[0] == pytest.approx(joint)
        assert other.start.cell.inner_ohm == pytest.approx(before[1] * older)
        assert other.sources["idle"].regulated_v == pytest.approx(before[2] + volts)
        assert (PLANT.supply.cold_ohm, PLANT.start.cell.inner_ohm, PLANT.sources["idle"].regulated_v) == before

    @COUNT
    @given(CHARGE, CHARGE)
    def test_rates_bring_heating_to_its_steady_end(self, start: float, auxiliary: float) -> None:
        """At the steady heating of its own current a run no longer warms; colder it does."""
        state = State(start, auxiliary)
        found = PLANT.flow(state, moment())
        steady = (found.input_a / PLANT.supply.full_a) ** 2
        assert PLANT.rates(replace(state, supply_heating=steady), found, 30.0).supply_heating == pytest.approx(
            0.0, abs=1e-12
        )
        assert PLANT.rates(state, found, 30.0).supply_heating >= 0


def test_the_run_is_as_warm_as_the_design_says_at_full_current() -> None:
    """At heating 1 the loop has the resistance the circuit was solved with, and its hottest cable that temperature."""
    solved = solve(JOB)
    warm = solved.running[0].run
    assert PLANT.supply.ohm(1.0, 0.0) == pytest.approx(warm.loop_ohm)
    assert PLANT.supply.celsius(1.0, 0.0) == pytest.approx(max(piece.temperature_c or 0.0 for piece in warm.pieces))


def test_an_alternator_at_its_limit_drains_the_battery_behind_it() -> None:
    """13 A left for a 28 A draw: the rest comes out of the start battery, whose volts the posts fall to."""
    job = design(
        vehicle=vehicle(alternator={"rated_a": 70.0, "hot_idle_share": 0.4, "loads_idle_a": 15.0, "sag_mohm": 2.0})
    )
    plant = Plant(job, solve(job))
    found = plant.flow(State(0.8, 0.8), moment(plant, engine="idle"))
    assert found.start_a == pytest.approx(13.0 - found.input_a)
    assert found.post_v < 12.6


def test_a_moment_tells_that_the_alternator_is_at_its_limit() -> None:
    """13 A left at idle, and a start battery that gives the rest; on the road there is enough."""
    hungry = {"rated_a": 70.0, "hot_idle_share": 0.4, "loads_idle_a": 15.0, "loads_cruise_a": 15.0, "sag_mohm": 2.0}
    job = design(vehicle=vehicle(alternator=hungry))
    trip = drive(job, read_programme("off 5 min\nidle 10 min\ncruise 30 min\noff 10 min\n"))
    told = {(item.engine, item.input_a > 13.0, moment_line(job, item).alternator_limited) for item in trip.samples}
    assert told >= {("idle", True, True), ("idle", False, False), ("cruise", True, False)}
    assert told <= {
        ("idle", True, True),
        ("idle", False, False),
        *((a, b, False) for a in ("off", "cruise") for b in (True, False)),
    }


def test_a_moment_is_a_level_line() -> None:
    """Every sample's line begins at the posts, ends at the unit's volts, and loses nothing in between but in its pieces."""
    job = design(supply={"pieces": [fuse(60.0), cable("10 mm²", 4.0), cable("16 mm²", 1.0)]})
    trip = drive(job, read_programme("off 5 min\nidle 10 min\ncruise 30 min\noff 10 min\n"))
    for sample in trip.samples[:: max(1, len(trip.samples) // 40)]:
        line = moment_line(job, sample)
        flowing = sample.state == "charging" and sample.output_a > 0
        assert line.supply[1].exit_v == pytest.approx(sample.post_v if flowing else sample.input_v)
        ends = line.supply[-1].exit_v - line.supply[-1].return_exit_mv / 1000
        assert ends == pytest.approx(sample.input_v, abs=1e-6)
        assert line.delivery[-1].exit_v == pytest.approx(sample.auxiliary_v, abs=1e-6)
        for before, after in pairwise(line.supply):
            assert after.enter_v == pytest.approx(before.exit_v)
            assert after.exit_v <= after.enter_v + 1e-9
        if flowing:
            copper = [item.enter_v - item.exit_v for item in line.supply if item.place.startswith("c")]
            # 4 m of 10 mm² against 1 m of 16 mm², each with its two ends: 1.83 and 1.15 mΩ a metre, warmed alike
            assert copper[0] / copper[1] == pytest.approx((4 * 1.91 + 0.1) / (1.21 + 0.1), rel=0.1)


def test_less_than_an_ampere_is_drawn_as_well() -> None:
    """A unit set to 0.8 A: what goes out comes in, over its efficiency, and not out of nothing."""
    job = design(charger=charger(limit_min_a=0.5), current_limit_a=0.8, activation={"ways": ["d_plus"]})
    series = report(job, read_programme("begin auxiliary 50 %\ncruise 5 min\n")).series
    charging = [at for at, state in enumerate(series.state) if state == "charging" and series.output_a[at] > 0.7]
    assert charging
    for at in charging:
        out_w = series.output_a[at] * series.auxiliary_v[at]
        assert series.input_a[at] * series.input_v[at] == pytest.approx(out_w / 0.9, rel=0.05)


@pytest.mark.parametrize(("lamp_a", "limited"), [(0.5, False), (8.0, True)])
def test_what_branches_take_counts_towards_the_alternators_limit(lamp_a: float, limited: bool) -> None:
    """35 A left at idle: the unit's 28 are fewer, with 8 of a lamp on its run they are not."""
    lamp = {"kind": "branch", "name": "lamp", "current_a": lamp_a, "size": "6 mm²", "device": fuse(10.0, "blade")}
    job = design(
        supply={"pieces": [fuse(60.0), cable(), lamp, cable()]},
        vehicle=vehicle(alternator={"rated_a": 100.0, "hot_idle_share": 0.5, "loads_idle_a": 15.0, "sag_mohm": 2.0}),
    )
    trip = drive(job, read_programme("off 5 min\nidle 10 min\n"))
    at_work = [item for item in trip.samples if item.engine == "idle" and item.input_a > 27.0]
    assert at_work
    assert {moment_line(job, item).alternator_limited for item in at_work} == {limited}
