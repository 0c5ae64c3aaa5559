"""One step through time and what it adds to the totals, against exponentials and sums by hand."""

from __future__ import annotations

import math
from dataclasses import astuple, replace

import pytest

from olvask.core.catalogue import chemistries
from olvask.core.circuit.ampacity import cable_ambient_c, surface_resistance
from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import run_state
from olvask.core.circuit.solve import solve
from olvask.core.model import Cable
from olvask.core.model.charging import ChargeStages
from olvask.core.physics.heat import time_constant_s
from olvask.core.simulate.heating import RUN_TAU_S
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.profile import profile_from
from olvask.core.simulate.programme import Engine, Stretch, read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.states import Flow, Moment, State
from olvask.core.simulate.steps import end_share, mean_rates, moved
from olvask.core.simulate.trip import Trial
from tests.designs import REFUSES_COLD, cable, charger, design, fuse

PLANT = Plant(design(), solve(design()))


@pytest.mark.parametrize("decay", [1e-6, 5e-4, 9.9e-4, 2e-3, 0.1, 1.0, 5.0])
@pytest.mark.parametrize("began", [2.0, -2.0])
def test_what_decays_is_moved_by_the_mean_of_its_exponential(decay: float, began: float) -> None:
    """A rate whose slope tells decay x over the step has the mean rate r·(1 − e⁻ˣ)/x."""
    share = end_share(began, -decay * began)
    assert began - decay * began * share == pytest.approx(began * -math.expm1(-decay) / decay, rel=1e-9)


def test_what_grows_is_moved_by_the_mean_of_its_ends() -> None:
    """A soft start grows by the clock: half and half; so does what does not change."""
    assert end_share(2.0, 1.0) == end_share(-2.0, -1.0) == end_share(2.0, 0.0) == end_share(0.0, 1.0) == 0.5


def test_heating_approaches_its_end_exactly() -> None:
    """Towards an end at a rate (end − now)/τ: after a time t, now + (end − now)·(1 − e^(−t/τ)); charges move straight."""
    state = State(0.5, 0.4, 0.2, 0.3, 5.0, 10.0)
    taus = (PLANT.supply.tau_s, PLANT.delivery.tau_s, PLANT.unit_tau_s, 10800.0)
    ends = (1.0, 0.8, 20.0, 30.0)
    now = (state.supply_heating, state.delivery_heating, state.unit_rise_k, state.battery_c)
    slow = tuple((end - here) / tau for end, here, tau in zip(ends, now, taus, strict=True))
    after = moved(PLANT, state, State(1e-5, -2e-5, *slow), 900.0)
    assert (after.start_charge, after.auxiliary_charge) == pytest.approx((0.5 + 0.009, 0.4 - 0.018))
    expected = tuple(
        here + (end - here) * (1 - math.exp(-900.0 / tau)) for end, here, tau in zip(ends, now, taus, strict=True)
    )
    assert astuple(after)[2:] == pytest.approx(expected)


def test_mean_rates_weigh_each_battery_by_its_own_share() -> None:
    """Charges by their shares; what approaches an end by the mean of the rates there and here, brought to one end."""
    state, foretold = State(0.5, 0.4, 0.2, 0.3, 5.0, 10.0), State(0.6, 0.5, 0.4, 0.5, 9.0, 12.0)
    began, ended = State(1.0, 2.0, 3.0, 4.0, 5.0, 6.0), State(3.0, 8.0, 1.0, 2.0, 3.0, 9.0)
    found = mean_rates(PLANT, state, began, ended, foretold, (0.25, 0.5))
    assert astuple(found) == pytest.approx(
        (
            1.0 + 2.0 * 0.25,
            2.0 + 6.0 * 0.5,
            (3.0 + 1.0 + 0.2 / PLANT.supply.tau_s) / 2,
            (4.0 + 2.0 + 0.2 / PLANT.delivery.tau_s) / 2,
            (5.0 + 3.0 + 4.0 / PLANT.unit_tau_s) / 2,
            6.0,
        )
    )


def flow(start_a: float, auxiliary_a: float, **more: float | bool) -> Flow:
    """A flow of round figures: 13 V, 30 A in, 25 A out, 1 A of sun, 2 A of loads."""
    plain = Flow(13.0, 30.0, 25.0, 13.5, 14.0, start_a, auxiliary_a, 1.0, False, sun_a=1.0, load_a=2.0)
    return replace(plain, **more)  # type: ignore[arg-type]  # names of its fields


def counted(
    here: Flow, there: Flow, drawing: bool = True, running: bool = True, battery_c: float = 20.0, watched: bool = True
) -> Trip:
    """Two hours, a quarter of the end for the start battery, half of it for the auxiliary."""
    trip = Trip()
    stretch = Stretch("cruise" if running else "off", 7200.0, True)
    moment = Moment(stretch, running, PLANT.air(30.0), 0.0, drawing, 1.0, 14.4)
    state = State(0.8, 0.5, 1.0, 0.0, 12.0, battery_c)
    trip.count(PLANT, state, moment, here, there, 7200.0, (0.25, 0.5))
    trip.reached(PLANT, State(0.7, 0.6, 0.9, 0.0, 15.0, battery_c - 1.0), moment, watched)
    return trip


def test_ampere_hours_of_a_step() -> None:
    """4 A in for 1.5 h and 8 A out for 0.5 h; 10 A in for an hour and 6 A out for another; 25 and 15 A of the unit."""
    trip = counted(flow(4.0, 10.0), flow(-8.0, -6.0, output_a=15.0, input_a=20.0, sun_a=3.0, load_a=4.0))
    assert (trip.start_in_ah, trip.start_out_ah) == pytest.approx((6.0, 4.0))
    assert (trip.auxiliary_in_ah, trip.auxiliary_out_ah) == pytest.approx((10.0, 6.0))
    assert (trip.sun_ah, trip.load_ah, trip.charged_ah) == pytest.approx((4.0, 6.0, 40.0))
    assert (trip.input_ah, trip.input_wh) == pytest.approx((50.0, 13.0 * 50.0))
    assert trip.output_wh == pytest.approx(13.0 * 50.0 * 0.9)
    assert trip.charging_s == 7200.0
    assert (trip.drained_ah, trip.engine_off_charging_s, trip.cold_ah, trip.refused_s) == (0.0, 0.0, 0.0, 0.0)


def test_charging_with_the_engine_off_drains() -> None:
    """30 A for two hours out of the start battery; not charging, nothing of the unit is counted."""
    off = counted(flow(-30.0, 25.0), flow(-30.0, 25.0), running=False)
    assert (off.drained_ah, off.engine_off_charging_s) == pytest.approx((60.0, 7200.0))
    idle = counted(flow(-30.0, 25.0), flow(-30.0, 25.0), drawing=False)
    assert (idle.charging_s, idle.input_ah, idle.hottest_supply_c) == (0.0, 0.0, -273.15)
    assert idle.start_out_ah == pytest.approx(60.0)


def test_charge_in_the_cold_is_noted() -> None:
    """Below what the battery may be charged at, what goes in counts as cold, what comes out does not."""
    below_c = PLANT.coldest_c - 1.0
    cold = counted(flow(0.0, 10.0), flow(0.0, -6.0), battery_c=below_c)
    assert cold.cold_ah == pytest.approx(10.0)
    assert cold.coldest_c == below_c - 1.0
    assert counted(flow(0.0, 10.0), flow(0.0, 10.0), battery_c=PLANT.coldest_c).cold_ah == 0.0
    assert counted(flow(0.0, 10.0, refused=True), flow(0.0, 10.0)).refused_s == 7200.0


def test_hottest_only_where_it_is_watched() -> None:
    """What a step ends at: the supply run at nine tenths of its heat, the unit 15 K over its air, the charge at 0.7."""
    watched = counted(flow(0.0, 10.0), flow(0.0, 10.0))
    assert watched.hottest_supply_c == pytest.approx(PLANT.supply.celsius(0.9, 0.0))
    assert watched.hottest_unit_c == pytest.approx(PLANT.unit_air_c + 15.0)
    assert watched.lowest_start_charge == 0.7
    assert counted(flow(0.0, 10.0), flow(0.0, 10.0), watched=False).hottest_unit_c == -273.15


def test_what_does_not_fit_is_taken_off_the_totals() -> None:
    """A hundredth past full of 90 Ah flooded took 0.9 Ah / 0.8; two of 110 Ah AGM 2.2 Ah / 0.85; past empty gave as much."""
    trial = Trial(design(), read_programme("off 1 min"))
    assert astuple(trial._bounded(State(1.01, 1.02)))[:2] == (1.0, 1.0)
    trip = trial.trip
    assert (trip.start_in_ah, trip.start_out_ah) == pytest.approx((-0.9 / 0.8, 0.0))
    assert (trip.auxiliary_in_ah, trip.charged_ah) == pytest.approx((-2.2 / 0.85, -2.2 / 0.85))
    assert (trip.auxiliary_out_ah, trip.load_ah) == (0.0, 0.0)
    other = Trial(design(), read_programme("off 1 min"))
    assert astuple(other._bounded(State(-0.01, -0.02)))[:2] == (0.0, 0.0)
    assert (other.trip.start_in_ah, other.trip.start_out_ah) == pytest.approx((0.0, -0.9))
    assert (other.trip.auxiliary_out_ah, other.trip.load_ah, other.trip.charged_ah) == pytest.approx((-2.2, -2.2, 0.0))
    inside = State(0.3, 0.4)
    assert other._bounded(inside) is inside


def test_what_the_currents_follow() -> None:
    """Each part of it is told: held back or not, limited, given nothing, all that is left, into or out of."""
    plain = flow(1.0, 10.0)
    assert plain.held_by == 0b10000
    assert flow(-1.0, 10.0, held=True, limited=True, output_a=0.0, all_left=True).held_by == 0b01111
    assert Flow(13.0, 0.0, 0.0, 13.5, 14.0, 0.0, 0.0, 1.0, False).held_by == 0b00100
    # Half an ampere is no nothing, out of the unit or out of the battery.
    assert Flow(13.0, 0.6, 0.5, 13.5, 14.0, 0.5, 0.0, 1.0, False).held_by == 0b10000
    assert not flow(1.0, 10.0, spare_a=-1e-10).by_volts
    assert flow(1.0, 10.0, spare_a=-1e-8).by_volts


def cold_trial(battery_c: float, air_c: float) -> Trial:
    """A pack that refuses charge below 0 °C, in an air."""
    trial = Trial(design(auxiliary=REFUSES_COLD), read_programme("off 1 min"))
    trial.state = replace(trial.state, battery_c=battery_c)
    trial.air = trial.plant.air(air_c)
    return trial


@pytest.mark.parametrize(
    ("battery_c", "air_c", "seconds"),
    [
        (10.0, -10.0, 10800 * math.log(2)),  # half of the way to the air
        (-5.0, 15.0, 10800 * math.log(20 / 15)),
        (10.0, 5.0, math.inf),  # never gets there
        (-5.0, -10.0, math.inf),  # gone past it already
        (10.0, 10.0, math.inf),
    ],
)
def test_when_a_pack_comes_past_its_cut_off(battery_c: float, air_c: float, seconds: float) -> None:
    """It follows the air with three hours' time constant; looked at just past the mark."""
    found = cold_trial(battery_c, air_c)._until_cold_s()
    assert found == pytest.approx(seconds, abs=0.1) if math.isfinite(seconds) else math.isinf(found)
    assert found > seconds or math.isinf(found)


def test_when_a_battery_is_empty() -> None:
    """A tenth left at a hundredth an hour: ten hours; the sooner of two; never where nothing is drawn."""
    trial = Trial(design(), read_programme("off 1 min"))
    trial.state = State(0.1, 0.3)
    hour = 3600.0
    assert trial._until_empty_s(State(-0.01 / hour, 0.0)) == pytest.approx(10 * hour)
    assert trial._until_empty_s(State(-0.01 / hour, -0.1 / hour)) == pytest.approx(3 * hour)
    assert math.isinf(trial._until_empty_s(State(0.01 / hour, 0.0)))
    trial.state = State(0.0, 0.0)
    assert math.isinf(trial._until_empty_s(State(-0.01 / hour, -0.1 / hour)))


def test_a_run_warms_as_its_cables_do() -> None:
    """Two cables: the time constant is the mean of theirs by their milliohms, the hottest is the one furthest above its air."""
    thin = cable("10 mm²", 2.0, place="cabin")
    thick = cable("35 mm²", 1.0, place="engine_bay")
    job = design(supply={"pieces": [fuse(60.0), thick, thin]})
    plant, ctx = Plant(job, solve(job)), Context.of(job)
    warm, run = ctx.solved.running[0].run, job.supply
    seconds = milliohms = 0.0
    hottest = (0.0, 0.0)
    for piece, state in zip(run.pieces, warm.pieces, strict=True):
        if not isinstance(piece, Cable):
            continue
        assert state.temperature_c is not None
        air_c = cable_ambient_c(piece)
        rise_k = state.temperature_c - air_c
        area_mm2 = float(piece.size.split()[0])
        seconds += state.out_ohm * time_constant_s(area_mm2, rise_k, air_c, surface_resistance(piece))
        milliohms += state.out_ohm
        hottest = max(hottest, (rise_k, air_c))
    assert plant.supply.tau_s == pytest.approx(seconds / milliohms, rel=1e-6)
    assert (plant.supply.rise_k, plant.supply.coolest_c) == pytest.approx(hottest)
    assert plant.supply.celsius(1.0, 0.0) == pytest.approx(sum(hottest))
    assert plant.supply.full_a == pytest.approx(warm.current_a)
    cold_ohm = run_state(run, 0.0, job.choices.lug_mohm).loop_ohm
    assert (plant.supply.ohm(0.0, 0.0), plant.supply.ohm(1.0, 0.0)) == pytest.approx((cold_ohm, warm.loop_ohm))


def test_a_run_that_is_not_laid_has_nothing_to_warm() -> None:
    """No cable: no rise, and the usual time constant."""
    bare = design(supply={"pieces": []})
    plant = Plant(bare, solve(bare))
    assert plant.supply.rise_k == 0.0
    assert plant.supply.tau_s == RUN_TAU_S


def running_trial(**changes: object) -> Trial:
    """A unit that charges in bulk, its soft start over, stop at 12.9 V and guard at 12.2 V."""
    activation = {"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9, "guard_v": 12.2}
    trial = Trial(design(activation=activation, **changes), read_programme("cruise 2 h"))
    trial.machine.state, trial.machine.stage = "charging", "bulk"
    trial.machine.charging_since_s, trial.now_s = 0.0, 600.0
    return trial


def at_volts(volts: float, **more: float | bool) -> Flow:
    """What the unit shows at some volts."""
    plain = Flow(volts, 30.0, 25.0, volts + 0.1, 13.8, 5.0, 25.0, 5.0, False)
    return replace(plain, **more)  # type: ignore[arg-type]  # names of its fields


class TestCrossed:
    def test_the_soonest_of_all_marks(self) -> None:
        """From 13.0 to 12.0 V in ten seconds: the stop at 12.9 V after one, the guard at 12.2 V after eight: after one."""
        trial = running_trial()
        assert trial._crossed(at_volts(13.0), at_volts(12.0), 10.0) == pytest.approx(1.0)
        assert trial._crossed(at_volts(12.8), at_volts(12.0), 10.0) == pytest.approx(7.5)
        assert trial._crossed(at_volts(12.0), at_volts(13.0), 10.0) == pytest.approx(2.0)
        assert trial._crossed(at_volts(13.5), at_volts(13.0), 10.0) == math.inf

    def test_what_its_stage_waits_for(self) -> None:
        """Bulk ends where nothing is spare, absorption at its tail, float where it starts again."""
        trial = running_trial()
        assert trial._crossed(at_volts(13.5), at_volts(13.5, spare_a=-5.0), 10.0) == pytest.approx(5.0)
        trial.now_s = 1.0  # while the soft start holds it back nothing is told by that
        assert trial._crossed(at_volts(13.5), at_volts(13.5, spare_a=-5.0), 10.0) == math.inf
        trial.machine.stage = "absorption"
        tail_a = trial.machine.profile.tail_a
        found = trial._crossed(at_volts(13.5, auxiliary_a=tail_a + 1), at_volts(13.5, auxiliary_a=tail_a - 3), 8.0)
        assert found == pytest.approx(2.0)
        assert trial._crossed(at_volts(13.5), at_volts(13.5, spare_a=-5.0), 10.0) == math.inf
        trial.machine.stage = "float"
        again_v = trial.machine.profile.rebulk_v
        found = trial._crossed(
            at_volts(13.5, auxiliary_v=again_v + 0.1), at_volts(13.5, auxiliary_v=again_v - 0.3), 8.0
        )
        assert found == pytest.approx(2.0)

    def test_off_it_waits_for_its_start(self) -> None:
        """13.3 V on the way up; stages do not matter."""
        trial = running_trial()
        trial.machine.state = "off"
        assert trial._crossed(at_volts(13.2), at_volts(13.7), 10.0) == pytest.approx(2.0)
        assert trial._crossed(at_volts(13.4), at_volts(13.4, spare_a=-5.0), 10.0) == math.inf

    def test_what_breaks_off_is_looked_for_by_halves(self) -> None:
        """A pack that begins to refuse, a run that collapses: half of the step, or sooner where volts say so."""
        trial = running_trial()
        assert trial._crossed(at_volts(13.5), at_volts(13.5, refused=True), 10.0) == pytest.approx(5.0)
        assert trial._crossed(at_volts(13.5), at_volts(13.5, collapsed=True), 10.0) == pytest.approx(5.0)
        assert trial._crossed(at_volts(13.0), at_volts(12.0, refused=True), 10.0) == pytest.approx(1.0)
        assert trial._crossed(at_volts(12.99), at_volts(12.891, refused=True), 10.0) == pytest.approx(5.0)


class TestLength:
    def test_to_the_end_or_to_what_is_due(self) -> None:
        """The stretch's end; a stop that is being held comes due before it; a soft start is taken in four or five steps."""
        trial = running_trial()
        assert trial._length(700.0) == pytest.approx(100.0)
        trial.machine.stop_since_s = [590.0]
        assert trial._length(700.0) == pytest.approx(20.0)  # thirty seconds from there
        ramping = running_trial()
        ramping.now_s = 1.0
        assert ramping._length(700.0) == pytest.approx(0.226 * ramping.machine.rule.soft_start_s)
        finer = Trial(design(), read_programme("cruise 2 h"), finer=2.0)
        finer.machine.state, finer.machine.charging_since_s, finer.now_s = "charging", 0.0, 1.0
        assert finer._length(700.0) == pytest.approx(0.113 * finer.machine.rule.soft_start_s)
        ramping.now_s = ramping.machine.ramped_s - 0.2
        assert ramping._length(700.0) == pytest.approx(0.2, abs=1e-6)
        assert trial._length(600.0) == pytest.approx(1e-3)


def test_surface_charge_is_gone_by_a_third_of_an_hour_or_so() -> None:
    """A quarter of an hour after the engine stopped 1/e of it is left, after an hour two hundredths; cranking shows none."""
    trial = Trial(design(), read_programme("off 2 h"))
    (parked,) = trial.programme.stretches
    trial.stopped_s = 100.0
    full_v = trial.plant.surface_v
    assert full_v > 0.05
    assert trial.moment(parked, 100.0).surface_v == pytest.approx(full_v)
    assert trial.moment(parked, 1000.0).surface_v == pytest.approx(full_v / 2.71828, rel=1e-4)
    assert trial.moment(parked, 3700.0).surface_v == pytest.approx(full_v * 0.0183, rel=0.01)
    (crank,) = read_programme("crank 2 s").stretches
    assert trial.moment(crank, 100.0).surface_v == 0.0


def test_since_when_it_stands() -> None:
    """Since the moment it was stopped, however long; not any more once it runs again."""
    trial = Trial(design(), read_programme("off 1 min"))
    running, parked = Stretch("cruise", 60.0, True), Stretch("off", 60.0, False)
    told = []
    for stretch in (running, parked, parked, running):
        trial.drive_on(stretch, 60.0)
        told.append(trial.stopped_s)
    assert told == [None, 60.0, 60.0, None]


@pytest.mark.parametrize(
    ("engine", "charge", "said"), [("crank", 0.0, True), ("crank", 0.5, False), ("off", 0.0, False)]
)
def test_an_empty_battery_does_not_crank(engine: Engine, charge: float, said: bool) -> None:
    """Said when it is cranked, and only then."""
    trial = Trial(design(), read_programme("off 1 min"))
    trial.state = State(charge, 0.5)
    trial.begin(Stretch(engine, 5.0, False))
    assert ("uncranked" in [event.what for event in trial.trip.events]) is said


def test_what_is_driven_by_hand_is_said_of_its_one_stretch() -> None:
    """Whichever it went on with: there is no second one that anything could be said of."""
    trial = Trial(design(), read_programme("off 1 min"))
    trial.state = State(0.0, 0.5)
    for engine in ("off", "crank", "off", "crank"):
        trial.drive_on(Stretch(engine, 5.0, False), 5.0)
    assert {event.stretch for event in trial.trip.events if event.what == "uncranked"} == {0}


@pytest.mark.parametrize(
    ("output_a", "efficiency", "tau_s"),
    [
        # A small one by its own heat, down to 5 W: 14.3 V · 5 A · (1 / 0.93 − 1) = 5.4 W; 0.8 kg · 900 J/kgK · 25 K / P.
        (5.0, 0.93, 0.8 * 900 * 25 / 5.4),
        (2.0, 0.95, 0.8 * 900 * 25 / 5.0),
        (60.0, 0.85, 0.8 * 900 * 25 / 152.0),
    ],
)
def test_how_fast_a_unit_warms(output_a: float, efficiency: float, tau_s: float) -> None:
    """Its mass of aluminium through 25 K by the heat it gives off at full output, none reckoned under 5 W; two hours at most."""
    job = design(charger=charger(output_a=output_a, efficiency=efficiency, weight_kg=0.8, limit_min_a=1.0))
    assert Plant(job, solve(job)).unit_tau_s == pytest.approx(tau_s, rel=0.05)


@pytest.mark.parametrize(("recorded_s", "least_s"), [(90.0, 90.0), (None, 10.0)])
def test_the_guard_stays_off_as_long_as_its_record_says(recorded_s: float | None, least_s: float) -> None:
    """Or ten seconds, where it says nothing."""
    job = design(charger=charger(off_least_s=recorded_s))
    assert settings_of(job, solve(job)).guard_least_s == least_s


def test_equalising_of_a_battery_in_two_halves() -> None:
    """Twice the volts of a block where the battery has 24 V, where nobody set others; none where it does not equalise."""
    usual_v = chemistries()["flooded"].equalise_v
    for nominal_v in (12, 24):
        found = profile_from(ChargeStages(equalise=True), "flooded", nominal_v, 100.0, 14.6, 13.6)
        assert found.equalise_v == pytest.approx(usual_v * nominal_v / 12)
        assert profile_from(ChargeStages(), "flooded", nominal_v, 100.0, 14.6, 13.6).equalise_v == 0.0
