"""What the simulator may never do, whatever is driven: make charge out of nothing, give more than there is, hang on its steps.

Designs are whatever the model accepts, days are nobody's plan. `make check-days` drives thousands.
"""

from __future__ import annotations

import os
import random

import pytest

from olvask.core.catalogue import chemistries
from olvask.core.model import Design
from olvask.core.simulate.programme import Programme, read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.report import hunts
from olvask.core.simulate.trip import Trial, drive
from tests.anything import anything
from tests.designs import cable, charger, design, fuse, vehicle
from tests.oracles.ivp import any_day

DAYS = int(os.environ.get("OLVASK_DAYS", "70"))


def unbalanced(job: Design, day: Programme, trip: Trip) -> list[str]:
    """Which balances a trip breaks, by more than a thousandth of what moved."""
    broke: list[str] = []
    for name, chemistry, capacity_ah, begun, ended, into, out in (
        ("start", job.vehicle.start_battery.chemistry, job.vehicle.start_battery.capacity_ah, day.start_charge, trip.start_charge, trip.start_in_ah, trip.start_out_ah),
        ("auxiliary", job.auxiliary.chemistry, job.auxiliary.capacity_ah, day.auxiliary_charge, trip.auxiliary_charge, trip.auxiliary_in_ah, trip.auxiliary_out_ah),
    ):  # fmt: skip
        kept = chemistries()[chemistry].charge_efficiency
        moved = into + out + 1e-6 * capacity_ah
        if abs((ended - begun) * capacity_ah - (kept * into - out)) > 1e-3 * moved:
            broke.append(f"{name}: {(ended - begun) * capacity_ah:.4f} Ah gained of {kept * into - out:.4f}")
        if out > begun * capacity_ah + kept * into + 1e-3 * moved:
            broke.append(f"{name}: gave {out:.3f} Ah of {begun * capacity_ah:.3f} + {kept * into:.3f}")
        if not 0 <= ended <= 1:
            broke.append(f"{name}: ends at {ended}")
    net_ah = trip.charged_ah + trip.sun_ah - trip.load_ah
    through_ah = trip.charged_ah + trip.sun_ah + trip.load_ah
    if abs(net_ah - (trip.auxiliary_in_ah - trip.auxiliary_out_ah)) > 1e-3 * through_ah + 1e-6:
        broke.append(
            f"currents at the auxiliary battery: {net_ah:.4f} against {trip.auxiliary_in_ah - trip.auxiliary_out_ah:.4f}"
        )
    if trip.output_wh > trip.input_wh + 1e-9:
        broke.append("more watt-hours out than in")
    return broke


@pytest.mark.parametrize("part", range(4))
def test_charge_and_energy_balance(part: int) -> None:
    """Ampere-hours balance to a thousandth over any programme; no battery gives more than it holds; charges stay in 0 to 1."""
    wrong: list[str] = []
    for seed in range(part, DAYS, 4):
        pick = random.Random(seed)
        job, day = anything(seed), any_day(pick)
        trip = drive(job, day)
        wrong += [f"{seed}: {said}" for said in unbalanced(job, day, trip)]
        for sample in trip.samples:
            if not (0 <= sample.start_charge <= 1 and 0 <= sample.auxiliary_charge <= 1):
                wrong.append(f"{seed}: charge out of bounds at {sample.time_s} s")
                break
    assert not wrong, "\n".join(wrong[:20])


def sound(pick: random.Random) -> Design:
    """A design that works, in many sizes, for comparing totals."""
    chemistry = pick.choice(("flooded", "agm", "gel", "lfp"))
    return design(
        auxiliary={"chemistry": chemistry, "capacity_ah": pick.choice((60.0, 110.0, 300.0))},
        activation={"ways": [pick.choice(("voltage", "d_plus", "ignition"))]},
        supply={"pieces": [fuse(60.0), cable(pick.choice(("16 mm²", "25 mm²")), pick.uniform(1.0, 6.0))]},
    )


@pytest.mark.parametrize("part", range(4))
def test_halving_the_step_changes_nothing_to_speak_of(part: int) -> None:
    """Every step half as long: totals within 0.3 %, and the same starts."""
    for seed in range(part, DAYS // 2, 4):
        pick = random.Random(seed)
        job, day = sound(pick), any_day(pick)
        once, finer = drive(job, day), Trial(job, day, finer=2.0).run()
        if once.starts != finer.starts:  # a threshold met within a few millivolts falls either way
            continue
        for name in ("charged_ah", "input_wh", "auxiliary_in_ah", "start_in_ah"):
            one, two = getattr(once, name), getattr(finer, name)
            assert one == pytest.approx(two, rel=3e-3, abs=0.07 if name == "input_wh" else 0.005), (seed, name)
        assert once.auxiliary_charge == pytest.approx(finer.auxiliary_charge, abs=1e-3), seed
        assert once.start_charge == pytest.approx(finer.start_charge, abs=1e-3), seed


MANAGED = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "loads_cruise_a": 30.0, "hot_idle_share": 0.6, "sag_mohm": 2.0}  # fmt: skip


class TestStartSide:
    def test_low_posts_discharge(self) -> None:
        """Posts at 12.2 V under a battery resting at 12.37 V (70 %): 0.17 V over 5.6 mΩ are 31 A, within the 30 A of loads."""
        job = design(
            vehicle=vehicle(
                alternator=MANAGED,
                readings={"rest_v": 12.5, "after_stop_v": 12.6, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 12.2},
            ),
            charger=None,
        )
        trip = drive(job, read_programme("begin start 70 %\nlow 6 min\n"))
        assert trip.start_charge == pytest.approx(0.70 - 30 * 0.1 / 90, abs=0.006)  # 30 A, a little less as it falls
        assert drive(job, read_programme("begin start 70 %\nlow 10 h\n")).start_charge == pytest.approx(0.527, abs=0.01)

    def test_charge_ends_where_the_posts_are(self) -> None:
        """Held at 12.6 V for days, a flooded battery ends where it rests at 12.6 V: 91 %."""
        job = design(vehicle=vehicle(readings={"rest_v": 12.5, "idle_v": 12.6, "cruise_v": 12.6}), charger=None)
        for begun in (50, 100):
            trip = drive(job, read_programme(f"begin start {begun} %\ncruise 5 d\n"))
            assert trip.start_charge == pytest.approx(0.91, abs=0.01)

    def test_an_empty_battery_cranks_nothing_and_gives_nothing(self) -> None:
        """30 mA take 90 Ah in 125 days; a crank after that turns nothing, and the day says so."""
        job = design(activation={"ways": ["ignition"]})
        trip = drive(job, read_programme("begin start 1 %\noff 50 d\ncrank 3 s\noff 1 min ignition on\n"))
        whats = [event.what for event in trip.events]
        assert "flat" in whats
        assert "uncranked" in whats
        assert trip.start_out_ah == pytest.approx(0.9, rel=0.01)

    def test_a_load_gets_no_more_than_the_battery_holds(self) -> None:
        """20 A for twenty hours out of 110 Ah at half charge: 55 Ah, and it says that it is empty."""
        trip = drive(design(charger=None), read_programme("begin auxiliary 50 %\noff 20 h load 20 A\n"))
        assert trip.load_ah == pytest.approx(55.0, rel=0.002)
        assert [event.what for event in trip.events] == ["flat"]

    def test_a_watt_of_sun_lifts_nothing(self) -> None:
        """1 W is 65 mA, 35 mA after the drain: a hundredth of a volt. 60 W are 4 A, and lift to the ceiling near full."""
        job = design(
            vehicle=vehicle(lifters=[{"kind": "solar", "lifts_to_v": 13.8}]),
            activation={"ways": ["voltage"], "start_v": 13.4, "stop_v": 13.2},
        )
        weak = drive(job, read_programme("begin start 90 %\noff 2 h sun 1 W on start\n"))
        assert max(item.post_v for item in weak.samples) < 12.7
        strong = drive(job, read_programme("begin start 95 %\noff 4 h sun 60 W on start\n"))
        assert max(item.post_v for item in strong.samples) == pytest.approx(13.8, abs=0.01)

    def test_sun_that_starts_the_unit_is_counted_as_current(self) -> None:
        """4 A of sun against 28 A of draw: it starts at the ceiling, falls under its stop, and starts again: slow hunting."""
        job = design(
            vehicle=vehicle(lifters=[{"kind": "solar", "lifts_to_v": 13.8}]),
            activation={"ways": ["voltage"], "start_v": 13.4, "stop_v": 13.2, "stop_held_s": 300.0},
        )
        trip = drive(job, read_programme("begin start 97 %\noff 6 h sun 60 W on start\n"))
        assert trip.starts >= 3
        assert hunts(trip)
        assert trip.drained_ah < 6 * 4 * 1.1 + 0.1 * 90  # sun of six hours, and what the battery gave

    def test_a_maintainer_counts_wherever_it_is_noted(self) -> None:
        """An ampere from the auxiliary battery holds the start battery up over weeks, and is missed there."""
        day = read_programme("begin start 80 % auxiliary 90 %\noff 10 d\n")
        alone = drive(design(), day)
        kept = drive(design(existing=[{"kind": "maintainer", "charge_a": 1.0}]), day)
        lifted = drive(design(vehicle=vehicle(lifters=[{"kind": "maintainer"}])), day)
        assert alone.start_charge == pytest.approx(0.80 - 0.03 * 240 / 90, abs=0.002)
        assert kept.start_charge > 0.95
        assert lifted.start_charge > 0.95
        assert kept.auxiliary_charge < alone.auxiliary_charge - 0.1
        assert lifted.auxiliary_charge == pytest.approx(alone.auxiliary_charge)
        day = read_programme("begin start 80 % auxiliary 90 %\noff 10 d load 0.1 A\n")
        loaded = drive(design(existing=[{"kind": "maintainer", "charge_a": 1.0}]), day)
        assert loaded.auxiliary_charge == pytest.approx(kept.auxiliary_charge - 0.1 * 240 / 110, abs=0.01)

    def test_old_gear_costs_the_alternator_until_its_feed_is_cut(self) -> None:
        """70 A at half leave 15 A after 20 A of loads; a built-in charger of 10 A takes 12 of them, cut off none."""
        car = vehicle(alternator={"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 20.0, "sag_mohm": 2.0, "hot_idle_share": 0.5})  # fmt: skip
        day = read_programme("begin start 80 % auxiliary 50 %\nidle 30 min\n")
        unit = charger(output_a=10.0)
        alone, with_it, cut = (
            drive(design(vehicle=car, charger=unit, activation={"ways": ["d_plus"]}, existing=things), day)
            for things in (
                [],
                [{"kind": "built_in_charger", "charge_a": 10.0}],
                [{"kind": "built_in_charger", "cut": True}],
            )
        )
        assert with_it.start_charge < alone.start_charge - 0.02
        assert cut.start_charge == pytest.approx(alone.start_charge)


class TestUnit:
    def test_two_inputs_give_the_rating_once(self) -> None:
        """A 25 A unit that splits gives 12.5 A from the alternator and the sun's 8 A; one that prefers the alternator 25 A."""
        for rule, first, wanted in (("split", "alternator", 12.5 + 125 * 0.9 / 14.4), ("priority", "alternator", 25.0), ("priority", "solar", 125 * 0.9 / 14.4)):  # fmt: skip
            job = design(
                charger=charger(dual_input=rule, dual_first=first),
                solar={"panel_w": 125.0, "into": "second_input"},
                activation={"ways": ["d_plus"]},
                auxiliary={"chemistry": "agm", "capacity_ah": 300.0},
            )
            trip = drive(job, read_programme("begin auxiliary 30 %\ncruise 1 h sun 125 W\n"))
            assert trip.charged_ah == pytest.approx(wanted, rel=0.02), (rule, first)
            assert trip.sun_ah == 0

    def test_the_other_input_waits_its_delay(self) -> None:
        """Alternator first, ten minutes' wait: of an hour's sun after the engine stopped, fifty minutes come in."""
        job = design(
            charger=charger(dual_input="priority", dual_first="alternator", dual_delay_s=600.0),
            solar={"panel_w": 125.0, "into": "second_input"},
            activation={"ways": ["d_plus"]},
            auxiliary={"chemistry": "agm", "capacity_ah": 300.0},
        )
        trip = drive(job, read_programme("begin auxiliary 30 %\ncruise 10 min sun 125 W\noff 1 h sun 125 W\n"))
        assert trip.charged_ah == pytest.approx(25.0 / 6 + 125 * 0.9 / 14.4 * 5 / 6, rel=0.03)

    def test_the_alternator_waits_too_where_the_sun_goes_first(self) -> None:
        """Half an hour of sun at 7.8 A, ten minutes of nothing after it, twenty at 25 A; the second of two units never waits."""
        for units, meanwhile_a in ((1, 0.0), (2, 25.0)):
            job = design(
                units=units,
                charger=charger(dual_input="priority", dual_first="solar", dual_delay_s=600.0),
                solar={"panel_w": 125.0, "into": "second_input"},
                activation={"ways": ["d_plus"]},
                auxiliary={"chemistry": "agm", "capacity_ah": 600.0},
                supply={"pieces": [fuse(100.0), cable("35 mm²")]},
            )
            trip = drive(job, read_programme("begin auxiliary 30 %\ncruise 30 min sun 125 W\ncruise 30 min\n"))
            wanted_ah = 125 * 0.9 / 14.4 / 2 + 25.0 / 3 + meanwhile_a
            assert trip.charged_ah == pytest.approx(wanted_ah, rel=0.03), units

    def test_a_collapse_goes_through_the_guard(self) -> None:
        """Through 6 mm² over 14 m 60 A cannot be had: within half a second volts go, the guard trips after its hold."""
        job = design(
            supply={"pieces": [fuse(60.0), cable("6 mm²", 14.0)]},
            charger=charger(output_a=60.0, behaviour={"soft_start_s": 0.5}),
            auxiliary={"chemistry": "lfp", "capacity_ah": 300.0},
            activation={"ways": ["d_plus"]},
        )
        trip = drive(job, read_programme("cruise 2 min\n"))
        whats = [event.what for event in trip.events]
        assert whats[:3] == ["start", "collapse", "guard"]
        assert trip.events[2].time_s - trip.events[0].time_s == pytest.approx(job.activation.guard.held_s, abs=0.5)

    def test_a_plug_behind_the_unit_does_not_empty_its_input(self) -> None:
        """With the plug in the delivery run out, the input stays alive, nothing comes out, and nothing trips."""
        plug = {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 0.5}
        job = design(delivery={"pieces": [plug, cable("16 mm²", 1.5), fuse(40.0)]}, activation={"ways": ["d_plus"]})
        trip = drive(job, read_programme("cruise 10 min unplugged\ncruise 10 min\n"))
        assert [event.what for event in trip.events if event.what in ("dead", "guard", "collapse")] == []
        assert min(item.input_v for item in trip.samples) > 13
        assert trip.charged_ah == pytest.approx(25.0 / 6, rel=0.05)

    def test_ignition_starts_into_the_crank(self) -> None:
        """With terminal 15 alone it starts while the starter turns; a unit that waits for volts does not."""
        for ways, during in ((["ignition"], True), (["ignition", "voltage"], False)):
            trip = drive(design(activation={"ways": ways}), read_programme("off 1 min\ncrank 3 s\ncruise 5 min\n"))
            first = next(event for event in trip.events if event.what == "start")
            assert (first.stretch == 1) is during

    def test_a_stop_is_on_time_with_the_alternator_at_its_limit(self) -> None:
        """The battery behind a limited alternator sinks slowly through the stop: the stop comes its hold after, not minutes."""
        car = vehicle(alternator={"rated_a": 60.0, "regulation": "fixed", "loads_idle_a": 20.0, "sag_mohm": 2.0, "hot_idle_share": 0.5})  # fmt: skip
        job = design(vehicle=car, activation={"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.4, "stop_held_s": 30.0, "guard_v": 11.0})  # fmt: skip
        trip = drive(job, read_programme("begin start 90 %\nidle 3 h\n"))
        stop = next(event for event in trip.events if event.what == "stop")
        under = next(item.time_s for item in trip.samples if item.state == "charging" and item.input_v < 12.4)
        assert stop.time_s - under == pytest.approx(30.0, abs=1.0)

    def test_a_battery_warms_in_hours(self) -> None:
        """After a night at -10 °C a cold pack still refuses an hour into a mild drive, and takes charge later."""
        job = design(
            auxiliary={"chemistry": "lfp", "capacity_ah": 100.0, "low_temperature_cut_off": True},
            activation={"ways": ["d_plus"]},
        )
        trip = drive(job, read_programme("begin ambient -10 °C\noff 1 min\ncruise 8 h ambient 15 °C\n"))
        # (15 − 5) of (15 + 10) is reached after 3 h · ln 2.5 = 2.75 h
        first = next(item.time_s for item in trip.samples if item.output_a > 1)
        assert first / 3600 == pytest.approx(2.75, abs=0.1)
        assert trip.refused_s == pytest.approx(first - 60, abs=300)

    def test_a_long_hold_does_not_hide_hunting(self) -> None:
        """Six starts in half an hour, five minutes apart, are hunting all the same."""
        job = design(
            supply={"pieces": [fuse(60.0), cable("10 mm²", 8.0)]},
            activation={"ways": ["voltage"], "start_v": 13.4, "stop_v": 13.3, "stop_held_s": 300.0},
        )
        trip = drive(job, read_programme("cruise 40 min\n"))
        assert trip.starts >= 6
        assert hunts(trip)
