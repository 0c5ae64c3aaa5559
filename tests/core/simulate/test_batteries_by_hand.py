"""The simulator's batteries and plant, equation by equation, against Ohm's law and charge balances by hand."""

from __future__ import annotations

import math
from dataclasses import astuple
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import solve
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.simulate.batteries import EMPTY, WARM, Cell, Cold, StartSide
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.profile import acting_stages
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Flow, Moment, State, Variation
from tests.designs import REFUSES_COLD, cable, charger, design, fuse, vehicle

# 100 Ah flooded: 5 mΩ; it rests at 12.48 V at 80 % and 12.70 V full; takes 25 A at most, at 14.6 V.
LEAD = Cell("flooded", 100.0, 12, 25.0, 14.6)
COLD = Cold(2.0, 0.5)
SIDE = StartSide(LEAD, drain_a=0.05, ceiling_v=13.8)


def test_what_stands_against_charging() -> None:
    """At its own absorption volts it takes its limit below the taper, and the rest that is left above it."""
    taper = chemistries()["flooded"].taper_from
    ohm, most_a = LEAD.against(taper)
    assert most_a == pytest.approx(25.0)
    assert ohm == pytest.approx((14.6 - LEAD.ocv(taper)) / 25.0)
    half = (1 + taper) / 2
    ohm, most_a = LEAD.against(half)
    assert most_a == pytest.approx(12.5)
    assert ohm == pytest.approx((14.6 - LEAD.ocv(half)) / 12.5)
    assert LEAD.against(1.0) == (1e3, 0.0)
    assert LEAD.against(0.0) == pytest.approx((0.005, 25.0))
    ohm, most_a = LEAD.against(taper / 2)
    full_ohm = (14.6 - LEAD.ocv(taper)) / 25.0
    assert (ohm, most_a) == pytest.approx((0.005 + (full_ohm - 0.005) / 4, 25.0))


def test_cold_raises_ohms_and_lowers_what_it_takes() -> None:
    """Twice the ohms and half the amperes: the inner resistance doubles, the charge at its own volts halves."""
    taper = chemistries()["flooded"].taper_from
    assert LEAD.against(0.0, COLD) == pytest.approx((0.010, 12.5))
    ohm, most_a = LEAD.against((1 + taper) / 2, COLD)
    assert most_a == pytest.approx(6.25)
    assert ohm == pytest.approx((14.6 - LEAD.ocv((1 + taper) / 2)) / 6.25)
    assert Cell("flooded", 100.0, 12, 0.0, 14.6).against(0.3, COLD) == pytest.approx((0.010, 0.0))
    assert LEAD.cold(25.0) == LEAD.cold(40.0) == WARM
    # 1.2 % and 1.8 % a kelvin under 25 °C, asked again and again in any order.
    for celsius in (24.0, 0.0, 24.0, -15.0, 0.0):
        below_k = 25.0 - celsius
        assert astuple(LEAD.cold(celsius)) == pytest.approx((1 + 0.012 * below_k, 1 - 0.018 * below_k))


def test_charge_by_the_hour() -> None:
    """10 A out of 100 Ah are a tenth an hour; in, 0.8 of it stays; nothing past empty or full."""
    assert LEAD.hourly(0.5, -10.0) * 3600 == pytest.approx(-0.1)
    assert LEAD.hourly(0.5, 10.0) * 3600 == pytest.approx(0.08)
    assert LEAD.hourly(0.0, -10.0) == LEAD.hourly(1.0, 10.0) == 0.0
    assert LEAD.hourly(0.0, 10.0) > 0 > LEAD.hourly(1.0, -10.0)


def test_with_the_engine_running() -> None:
    """Above its open volts it takes the least of what is left, what it takes and what the head pushes; below it gives."""
    ohm, most_a = LEAD.against(0.8)
    assert SIDE.running_a(0.8, 13.9, math.inf, 50.0, WARM) == pytest.approx(min(most_a, (13.9 - 12.48) / ohm))
    assert SIDE.running_a(0.8, 13.9, 2.0, 50.0, WARM) == 2.0
    assert SIDE.running_a(0.8, 12.48 + 0.1 * ohm, math.inf, 50.0, WARM) == pytest.approx(0.1)
    assert SIDE.running_a(0.8, 12.43, math.inf, 50.0, WARM) == pytest.approx(-10.0)
    assert SIDE.running_a(0.8, 12.43, math.inf, 50.0, COLD) == pytest.approx(-5.0)
    assert SIDE.running_a(0.8, 12.43, math.inf, 6.0, WARM) == pytest.approx(-6.0)
    assert SIDE.running_a(0.0, 10.0, math.inf, 50.0, WARM) == 0.0
    shifted = StartSide(LEAD, drain_a=0.05, ceiling_v=13.8, shift_v=0.1)
    assert shifted.running_a(0.8, 12.53, math.inf, 50.0, WARM) == pytest.approx(-10.0)


def standing(
    charge: float = 0.8, surface_v: float = 0.0, feed_a: float = 0.0, draw_a: float = 1.0, power_w: float = 0.0
) -> tuple[float, float, float, float]:
    """Posts with a run of 10 mΩ."""
    at = SIDE.standing(charge, surface_v, feed_a, draw_a, WARM, power_w, 0.010)
    return at.post_v, at.terminal_v, at.input_a, at.start_a


def test_standing_alone() -> None:
    """1 A through 5 mΩ; surface charge lifts it as it is."""
    assert standing() == pytest.approx((12.475, 12.475, 0.0, -1.0))
    assert standing(surface_v=0.2) == pytest.approx((12.675, 12.675, 0.0, -1.0))


def test_a_short_takes_all_there_is_and_no_more() -> None:
    """2396 A leave half a volt at the posts; more than 2496 A cannot come out of 12.48 V behind 5 mΩ."""
    assert standing(draw_a=2396.0) == pytest.approx((0.5, 0.5, 0.0, -2396.0))
    assert standing(draw_a=2600.0) == pytest.approx((0.0, 0.0, 0.0, -2496.0))


@pytest.mark.parametrize("power_w", [0.5, 120.0])
def test_standing_under_the_unit(power_w: float) -> None:
    """A constant power behind 15 mΩ from 12.475 V: the posts lie above the terminals by what the run loses."""
    terminal_v = (12.475 + math.sqrt(12.475**2 - 4 * 0.015 * power_w)) / 2
    input_a = power_w / terminal_v
    assert standing(power_w=power_w) == pytest.approx((terminal_v + input_a * 0.010, terminal_v, input_a, -1 - input_a))
    with pytest.raises(Collapse):
        standing(power_w=3000.0)


def test_a_feed_lifts_the_posts() -> None:
    """2 A to spare: what the battery takes against its charge resistance, up to the ceiling of 13.8 V."""
    ohm, most_a = LEAD.against(0.8)
    lifted_v = 12.48 + 2.0 * ohm
    assert lifted_v < 13.8
    assert standing(feed_a=3.0) == pytest.approx((lifted_v, lifted_v, 0.0, 2.0))
    full_a = min(most_a, (13.8 - 12.48) / ohm)
    assert standing(feed_a=40.0) == pytest.approx((13.8, 13.8, 0.0, full_a))
    # The unit's 60 W from the ceiling as well, and from a feed that only lifts the posts part of the way.
    ceiling_v = (13.8 + math.sqrt(13.8**2 - 4 * 0.010 * 60)) / 2
    assert standing(feed_a=40.0, power_w=60.0) == pytest.approx((13.8, ceiling_v, 60 / ceiling_v, full_a))
    terminal_v = (lifted_v + math.sqrt(lifted_v**2 - 4 * (ohm + 0.010) * 12)) / 2
    input_a = 12 / terminal_v
    assert input_a < 2.0
    found = standing(feed_a=3.0, power_w=12.0)
    assert found == pytest.approx((terminal_v + input_a * 0.010, terminal_v, input_a, 2.0 - input_a))


def test_a_feed_that_does_not_reach() -> None:
    """It covers part of the draw: the battery gives the rest through its own resistance. Held off by surface charge, all."""
    assert standing(feed_a=0.4, draw_a=1.0) == pytest.approx((12.48 - 0.6 * 0.005,) * 2 + (0.0, -0.6))
    assert standing(feed_a=3.0, surface_v=1.4) == pytest.approx((13.875, 13.875, 0.0, -1.0))
    open_v = 12.48 + 2.0 * 0.005
    terminal_v = (open_v + math.sqrt(open_v**2 - 4 * 0.015 * 120)) / 2
    assert standing(feed_a=3.0, power_w=120.0)[1] == pytest.approx(terminal_v)


def test_a_full_battery_under_a_feed_that_falls_short() -> None:
    """Full, it takes nothing: 4 A to spare are 0.4 A short of 60 W at 13.8 V, which the battery gives; no volts above."""
    open_v = LEAD.ocv(1.0) + 4.0 * 0.005
    terminal_v = (open_v + math.sqrt(open_v**2 - 4 * 0.015 * 60)) / 2
    input_a = 60 / terminal_v
    found = standing(charge=1.0, feed_a=5.0, power_w=60.0)
    assert found == pytest.approx((terminal_v + input_a * 0.010, terminal_v, input_a, 4.0 - input_a))


def test_more_drawn_than_the_battery_can_give() -> None:
    """12.48 V through 5 mΩ are 2,496 A, as shorted; no more, and the posts do not turn round. A unit finds nothing there."""
    assert standing(draw_a=9000.0) == pytest.approx((0.0, 0.0, 0.0, -2496.0))
    with pytest.raises(Collapse):
        standing(draw_a=9000.0, power_w=1e-6)
    with pytest.raises(Collapse):
        constant_power_volts(-12.0, 0.010, 60.0)


def test_a_run_that_carries_too_little_even_from_the_ceiling() -> None:
    """13.8 V behind 1.2 Ω give 39.7 W at most: 60 W collapse, full battery or not, much to spare or little."""
    thin_ohm = 1.2
    for charge in (0.3, 0.8, 1.0):
        for feed_a in (1.2, 5.0, 40.0):
            with pytest.raises(Collapse):
                SIDE.standing(charge, 0.0, feed_a, 1.0, WARM, 60.0, thin_ohm)


@settings(deadline=None)
@given(
    st.floats(0.0, 1.0), st.floats(0.0, 0.5), st.floats(0.0, 60.0), st.floats(0.0, 3.0), st.floats(0.0, 900.0),
    st.floats(0.001, 1.0), st.sampled_from([0.1, 1.0, 40.0, 100.0]),
)  # fmt: skip
def test_the_posts_stand_where_their_battery_lets_them(
    charge: float, surface_v: float, feed_a: float, draw_a: float, power_w: float, run_ohm: float, capacity_ah: float
) -> None:
    """It takes what its resistance against charging says, up to the ceiling; it gives through its inner one; none is lost."""
    cell = Cell("flooded", capacity_ah, 12, 0.25 * capacity_ah, 14.6)
    try:
        at = StartSide(cell, 0.05, 13.8).standing(charge, surface_v, feed_a, draw_a, WARM, power_w, run_ohm)
    except Collapse:
        return
    lift_v = at.post_v - cell.ocv(charge) - surface_v
    ohm, most_a = cell.against(charge)
    assert at.terminal_v * at.input_a == pytest.approx(power_w, abs=1e-6)
    assert at.post_v - at.terminal_v == pytest.approx(at.input_a * run_ohm, abs=1e-6)
    if charge <= EMPTY and at.start_a == 0:
        assert (lift_v, at.input_a) == pytest.approx((0, 0))  # shown, not given
        return
    takes = at.start_a == pytest.approx(min(most_a, lift_v / ohm), rel=1e-6, abs=1e-6)
    gives = lift_v == pytest.approx(at.start_a * cell.inner_ohm, abs=1e-5)
    assert takes if at.start_a > 1e-6 else gives if at.start_a < -1e-6 else takes or gives
    if at.start_a > 1e-6:
        assert at.post_v <= 13.8 + 1e-6
        assert at.input_a + at.start_a <= feed_a - draw_a + 1e-6


def test_an_empty_battery() -> None:
    """It shows its open volts, gives nothing, takes what a feed has to spare, and the unit finds no power."""
    open_v = LEAD.ocv(0.0)
    assert standing(charge=0.0) == pytest.approx((open_v, open_v, 0.0, 0.0))
    with pytest.raises(Collapse):
        standing(charge=0.0, power_w=10.0)


def plant(**changes: Any) -> Plant:
    """The plain job's vehicle with parts replaced: 110 Ah AGM, 25 A, 14.4 V."""
    job = design(**changes)
    return Plant(job, solve(job))


PLANT = plant()


def flow(
    of: Plant, state: State, drawing: bool = True, engine: str = "cruise", ambient_c: float = 30.0, **more: float
) -> Flow:
    """What follows in a moment."""
    stretch = Stretch(engine, 60.0, True, **more)  # type: ignore[arg-type]
    return of.flow(state, Moment(stretch, stretch.running, of.air(ambient_c), 0.0, drawing, 1.0, of.full_v))


def test_runs_warm_with_their_air() -> None:
    """Copper gains 0.393 % a kelvin: in air 20 K warmer both runs have 7.9 % more, colder as much less."""
    for run in (PLANT.supply, PLANT.delivery):
        assert run.ohm(0.5, 0.0) == pytest.approx(run.cold_ohm + 0.5 * run.more_ohm)
        assert run.ohm(0.5, 20.0) == pytest.approx(run.ohm(0.5, 0.0) * 1.0786, rel=1e-3)
        assert run.ohm(0.0, -20.0) == pytest.approx(run.cold_ohm * 0.9214, rel=1e-3)
        assert run.celsius(1.0, 5.0) - run.celsius(0.0, 0.0) == pytest.approx(run.rise_k + 5.0)


def test_what_the_unit_gives_in_an_air() -> None:
    """Full output up to 40 °C at the unit, then 2.5 % a kelvin less: its place is at 25 °C on a day of 30."""
    day_c = 30.0
    assert PLANT.air(day_c).able_a == 25.0
    assert PLANT.air(day_c + 25.0).able_a == pytest.approx(25.0 * (1 - 0.025 * 10))
    assert PLANT.air(day_c + 80.0).able_a == 0.0
    assert PLANT.air(day_c + 25.0).shift_k == 25.0


def test_low_auxiliary_battery_takes_all_the_unit_gives() -> None:
    """25 A into what the charge stands against; 0.9 of the input's watts come out at the terminals of the delivery run."""
    state = State(0.8, 0.3)
    found = flow(PLANT, state)
    ohm, _ = PLANT.auxiliary.against(0.3)
    assert (found.output_a, found.auxiliary_a) == (25.0, 25.0)
    assert found.auxiliary_v == pytest.approx(PLANT.auxiliary.ocv(0.3) + 25.0 * ohm)
    terminal_v = found.auxiliary_v + 25.0 * PLANT.delivery.ohm(0.0, 0.0)
    assert found.volts * found.input_a == pytest.approx(terminal_v * 25.0 / 0.9)
    assert found.post_v - found.volts == pytest.approx(found.input_a * PLANT.supply.ohm(0.0, 0.0))
    assert not found.held
    assert found.spare_a > 0


def test_nothing_holds_back_what_does_not_flow() -> None:
    """With the unit off and no load neither volts nor acceptance hold anything back, whatever the charge."""
    for charge in (0.3, 0.97, 1.0):
        still = flow(PLANT, State(0.8, charge), drawing=False)
        assert (still.output_a, still.input_a, still.auxiliary_a) == (0.0, 0.0, 0.0)
        assert not still.limited
        assert not still.held
        assert still.auxiliary_v == pytest.approx(PLANT.auxiliary.ocv(charge))


def test_a_load_goes_past_the_battery() -> None:
    """8 A of loads: 17 A reach the battery; with the unit off the battery gives them through its own resistance."""
    state = State(0.8, 0.3)
    assert flow(PLANT, state, load_a=8.0).auxiliary_a == pytest.approx(17.0)
    off = flow(PLANT, state, drawing=False, load_a=8.0)
    assert (off.output_a, off.auxiliary_a, off.load_a) == (0.0, -8.0, 8.0)
    assert off.auxiliary_v == pytest.approx(PLANT.auxiliary.ocv(0.3) - 8.0 * PLANT.auxiliary.inner_ohm)
    empty = flow(PLANT, State(0.8, 0.0), drawing=False, load_a=8.0)
    assert (empty.auxiliary_a, empty.load_a) == (0.0, 0.0)


def test_volts_and_acceptance_hold_the_current_back() -> None:
    """Near full the least of (14.4 V − rest) over all ohms and of what the taper allows flows."""
    charge = 0.97
    found = flow(PLANT, State(0.8, charge))
    ohm, most_a = PLANT.auxiliary.against(charge)
    held_a = (14.4 - PLANT.auxiliary.ocv(charge)) / (ohm + PLANT.delivery.ohm(0.0, 0.0))
    assert found.output_a == pytest.approx(min(held_a, most_a))
    assert found.held
    assert found.by_volts
    assert found.spare_a == pytest.approx(found.output_a - 25.0)


def test_sun_comes_beside_the_unit() -> None:
    """A panel of 160 W gives 0.9 · 160 / 14.4 = 10 A on its own controller; it backs off before the battery takes too much."""
    sunny = plant(solar={"panel_w": 160.0, "into": "controller"})
    found = flow(sunny, State(0.8, 0.3), drawing=False, sun_auxiliary_w=160.0)
    assert (found.sun_a, found.auxiliary_a) == pytest.approx((10.0, 10.0))
    full = flow(sunny, State(0.8, 0.999), drawing=False, sun_auxiliary_w=160.0)
    _, most_a = sunny.auxiliary.against(0.999)
    assert full.auxiliary_a == pytest.approx(most_a)
    assert full.sun_a == pytest.approx(most_a)
    wasted = plant(solar={"panel_w": 160.0, "into": "second_input"})
    assert flow(wasted, State(0.8, 0.3), drawing=False, sun_auxiliary_w=160.0).sun_a == 0.0


def test_a_pack_that_refuses_the_cold() -> None:
    """Its own cut-off opens below 0 °C: nothing goes in, loads are still carried; at 1 °C it takes charge."""
    lithium = plant(auxiliary=REFUSES_COLD)
    cold = flow(lithium, State(0.8, 0.5, battery_c=-1.0))
    assert (cold.refused, cold.output_a, cold.auxiliary_a) == (True, 0.0, 0.0)
    loaded = flow(lithium, State(0.8, 0.5, battery_c=-1.0), load_a=5.0)
    assert (loaded.output_a, loaded.auxiliary_a) == pytest.approx((5.0, 0.0))
    warm = flow(lithium, State(0.8, 0.5, battery_c=1.0))
    assert not warm.refused
    assert warm.output_a > 20.0


def test_rates() -> None:
    """Charges by the hour; runs towards the square of their current; the unit towards 25 K at full loss; the battery to air."""
    state = State(0.8, 0.5, 0.2, 0.3, 10.0, 5.0)
    given = flow(PLANT, state)
    rates = PLANT.rates(state, given, 30.0)
    assert rates.start_charge == pytest.approx(PLANT.start.cell.hourly(0.8, given.start_a))
    assert rates.auxiliary_charge == pytest.approx(PLANT.auxiliary.hourly(0.5, given.auxiliary_a))
    heated = (given.input_a / PLANT.supply.full_a) ** 2
    assert rates.supply_heating == pytest.approx((heated - 0.2) / PLANT.supply.tau_s)
    warmed = (given.output_a / PLANT.delivery.full_a) ** 2
    assert rates.delivery_heating == pytest.approx((warmed - 0.3) / PLANT.delivery.tau_s)
    loss_w = given.volts * given.input_a * 0.1
    assert rates.unit_rise_k == pytest.approx((25.0 * loss_w / PLANT.full_loss_w - 10.0) / PLANT.unit_tau_s)
    assert rates.battery_c == pytest.approx(25.0 / 10800.0)


def test_another_vehicle_of_the_design() -> None:
    """Volts, ohms, ampere-hours and joints differ as drawn, and nothing of the design's own vehicle moves."""
    other = PLANT.varied(Variation(rest_v=0.1, alternator_v=-0.2, start_ohm=1.5, start_ah=0.8, joint_ohm=0.004))
    own, cell = PLANT.sources["idle"], PLANT.start.cell
    theirs = other.sources["idle"]
    assert theirs.regulated_v == pytest.approx(own.regulated_v - 0.2)
    assert theirs.battery_v == pytest.approx(own.battery_v + 0.1)
    assert theirs.battery_ohm == pytest.approx(1.5 * own.battery_ohm)
    assert (theirs.sag_ohm, theirs.available_a) == (own.sag_ohm, own.available_a)
    assert other.start.cell.inner_ohm == pytest.approx(1.5 * cell.inner_ohm)
    assert other.start.cell.capacity_ah == pytest.approx(0.8 * cell.capacity_ah)
    assert other.start.cell.limit_a == pytest.approx(0.8 * cell.limit_a)
    assert other.start.open_v(0.8) == pytest.approx(PLANT.start.open_v(0.8) + 0.1)
    assert other.supply.cold_ohm == pytest.approx(PLANT.supply.cold_ohm + 0.004)
    assert PLANT.sources["idle"] == own


def test_constants_of_a_vehicle() -> None:
    """24 V count twice per 12; loads by engine; a unit of 1.5 kg at 900 J/kg·K warms by 25 K in what its loss allows."""
    readings = {"rest_v": 25.2, "after_stop_v": 25.5, "idle_v": 27.8, "cruise_v": 28.4}
    down = charger(settable=None, input_nominal_v=24, input_min_v=18.0, input_max_v=34.0)
    truck = plant(vehicle=vehicle(system_v=24, readings=readings), charger=down, activation={"ways": ["d_plus"]})
    assert truck.scale == 2
    assert truck.surface_v == pytest.approx(0.3)
    assert truck.start.cell.full_v == pytest.approx(2 * 14.6)
    assert PLANT.vehicle_a == {"idle": 15.0, "cruise": 35.0, "low": 35.0}
    assert PLANT.unit_tau_s == pytest.approx(1.5 * 900 * 25 / PLANT.full_loss_w, rel=1e-6)
    assert plant(units=2).unit_tau_s == pytest.approx(PLANT.unit_tau_s, rel=0.02)
    assert plant(charger=charger(weight_kg=3.0)).unit_tau_s == pytest.approx(2 * PLANT.unit_tau_s, rel=1e-6)
    assert (PLANT.second_input, PLANT.beside.wasted_sun) == (False, False)


def test_what_a_panel_holds_and_what_a_unit_loses() -> None:
    """13.8 V per 12 V where nothing is surveyed, as surveyed where it is; a tenth of the input's watts stay in the unit."""
    readings = {"rest_v": 25.2, "after_stop_v": 25.5, "idle_v": 27.8, "cruise_v": 28.4}
    truck = plant(vehicle=vehicle(system_v=24, readings=readings), charger=None)
    assert (PLANT.start.ceiling_v, truck.start.ceiling_v) == pytest.approx((13.8, 27.6))
    lifted = plant(vehicle=vehicle(lifters=[{"kind": "solar", "lifts_to_v": 13.3}]))
    assert lifted.start.ceiling_v == pytest.approx(13.3)
    output = solve(design()).output
    assert output is not None
    assert PLANT.full_loss_w == pytest.approx(output.power_in_w * 0.1)
    assert truck.full_loss_w == pytest.approx(1e-9)


def test_an_alternator_at_its_limit_leaves_the_rest_to_the_battery() -> None:
    """Of 60 A hot idle leaves 10; a fan takes 5 of them: what the unit takes beyond comes out of the start battery."""
    weak = {"rated_a": 60.0, "regulation": "fixed", "loads_idle_a": 20.0, "hot_idle_share": 0.5, "sag_mohm": 2.0}
    fan = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 5.0, "device": fuse(10.0, "blade")}
    small = plant(vehicle=vehicle(alternator=weak), supply={"pieces": [fuse(60.0), cable(), fan]})
    found = flow(small, State(0.9, 0.3), engine="idle")
    assert small.branch_a == pytest.approx(5.0)
    assert found.start_a == pytest.approx(10.0 - found.input_a - 5.0)
    assert found.start_a < -10
    assert not found.collapsed
    empty = flow(small, State(0.0, 0.3), engine="idle")
    assert (empty.collapsed, empty.volts, empty.input_a) == (True, 0.0, 0.0)


def test_a_run_that_collapses_with_the_engine_off() -> None:
    """No volts at the unit, nothing drawn; the posts stand as without it."""
    thin = plant(supply={"pieces": [fuse(60.0), cable("2.5 mm²", 12.0)]})
    found = flow(thin, State(0.8, 0.3), engine="off")
    still = flow(thin, State(0.8, 0.3), engine="off", drawing=False)
    assert (found.collapsed, found.volts, found.input_a, found.output_a) == (True, 0.0, 0.0, 0.0)
    assert (found.post_v, found.start_a) == pytest.approx((still.post_v, still.start_a))
    assert (found.auxiliary_v, found.auxiliary_a) == pytest.approx((still.auxiliary_v, 0.0))


@pytest.mark.parametrize("engine", ["off", "cruise"])
def test_a_run_that_collapsed_stays_so_until_the_unit_lets_go(engine: str) -> None:
    """A run that could carry it, cooled by a moment without current, is still asked for what it could not."""
    stretch = Stretch(engine, 60.0, True)  # type: ignore[arg-type]
    after = Moment(stretch, stretch.running, PLANT.air(30.0), 0.0, True, 1.0, PLANT.full_v, collapsed=True)
    held, free = PLANT.flow(State(0.9, 0.3), after), flow(PLANT, State(0.9, 0.3), engine=engine)
    assert (free.collapsed, held.collapsed) == (False, True)
    assert (held.volts, held.input_a, held.output_a, held.auxiliary_a) == (0.0, 0.0, 0.0, 0.0)
    full = PLANT.flow(State(0.9, 1.0), after)  # of a full battery it asks for nothing
    assert not full.collapsed


def test_what_a_cold_battery_does_not_take_lifts_its_volts() -> None:
    """AGM at -10 °C takes 1 - 0.018 * 35 of its 30 A, 11.1 A: the unit of 25 A holds its 14.4 V, less what its run drops."""
    found = flow(PLANT, State(0.9, 0.3, battery_c=-10.0))
    assert found.auxiliary_a == pytest.approx(30.0 * 0.37, rel=1e-3)
    assert found.limited
    drop_v = found.output_a * PLANT.delivery.ohm(0.0, 0.0)
    assert found.auxiliary_v == pytest.approx(14.4 - drop_v, abs=0.02)
    power_w = 14.4 * found.output_a / PLANT.unit_efficiency
    assert found.volts * found.input_a == pytest.approx(power_w, rel=1e-3)


def test_a_menu_that_equalises_without_a_switch() -> None:
    """A line of volts and none to turn it off: it equalises, whatever is wished; a menu without such a line does not."""
    volts = {
        "id": "eq",
        "label": "Equalise",
        "means": "equalise_v",
        "unit": "V",
        "from_value": 15.0,
        "to_value": 16.0,
        "step": 0.1,
    }
    absorb = {
        "id": "ab",
        "label": "Absorb",
        "means": "absorption_v",
        "unit": "V",
        "from_value": 13.0,
        "to_value": 15.0,
        "step": 0.1,
    }
    for lines, equalises in (([absorb, volts], True), ([absorb], False)):
        made = design(charger=charger(settings={"lines": lines}))
        assert acting_stages(made, solve(made)).equalise is equalises
        assert (Plant(made, solve(made)).profile.equalise_v > 0) is equalises
