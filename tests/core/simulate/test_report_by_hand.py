"""A trip as it is told: totals, hunting, cranks left, and the samples that are kept, from trips written down by hand."""

from __future__ import annotations

from itertools import pairwise

import pytest

from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.record import Event, Sample, Trip
from olvask.core.simulate.report import cranks_left, hunts, report, thinned, totals_of
from olvask.core.simulate.trip import Trial
from tests.designs import design, vehicle


def sample(at: float, state: str = "charging", engine: str = "cruise") -> Sample:
    """A moment."""
    return Sample(at, state, "bulk", engine, 13.5, 30.0, 25.0, 13.8, 14.0, 0.9, 0.5, 40.0, 45.0)  # type: ignore[arg-type]


def test_totals_are_the_trips_own() -> None:
    """Minutes of seconds; hottest only where it charged; starts and trips of the guard counted by their events."""
    events = [Event(float(at), what, "") for at, what in enumerate(("start", "stop", "start", "guard", "back"))]  # type: ignore[arg-type]
    trip = Trip(
        events=events,
        charging_s=600.0,
        engine_off_charging_s=90.0,
        refused_s=30.0,
        charged_ah=5.0,
        hottest_supply_c=61.0,
        hottest_unit_c=58.0,
        cut_s=1234.0,
    )
    told = totals_of(design(), trip)
    assert (told.starts, told.guard_trips, told.hunting) == (2, 1, False)
    assert (told.charging_min, told.engine_off_charging_min, told.refused_min) == (10.0, 1.5, 0.5)
    assert (told.hottest_supply_c, told.hottest_unit_c, told.cut_s) == (61.0, 58.0, 1234.0)
    still = totals_of(design(), Trip(hottest_supply_c=61.0))
    assert (still.hottest_supply_c, still.hottest_unit_c, still.charging_min) == (None, None, 0.0)


@pytest.mark.parametrize(
    ("stretches", "hunting"), [((0, 0, 0), True), ((0, 0, 1), False), ((0, 1, 1, 1), True), ((), False)]
)
def test_three_starts_while_the_vehicle_does_nothing_new(stretches: tuple[int, ...], hunting: bool) -> None:
    """Three within one stretch are hunting, three over two stretches are the vehicle's; stops do not count."""
    events = [Event(float(at), "start", "", stretch) for at, stretch in enumerate(stretches)]
    events += [Event(99.0, "stop", "", 0) for _ in range(5)]
    assert hunts(Trip(events=events)) is hunting


def test_cranks_left_by_hand() -> None:
    """90 Ah at 80 %, 60 % kept: 18 Ah; a crank takes 4 · 90 A for 3 s, 0.3 Ah: 60 cranks, 48 in freezing cold."""
    job = design(vehicle=vehicle(start_battery={"chemistry": "flooded", "capacity_ah": 90.0}))
    assert cranks_left(job, 0.8) == pytest.approx(60.0)
    assert cranks_left(job, 0.8, 0.0) == pytest.approx(48.0)
    assert cranks_left(job, 0.6) == cranks_left(job, 0.3) == 0.0


def test_quiet_stretches_are_thinned_and_changes_kept() -> None:
    """Of a thousand moments some sixty stay: first, last, both sides of each change, and no gap wider than its share."""
    samples = [
        sample(float(at), "off" if at == 500 else "charging", "idle" if at < 200 else "cruise") for at in range(1000)
    ]
    kept = [item.time_s for item in thinned(Trip(samples=samples), 60)]
    assert {0.0, 199.0, 200.0, 499.0, 500.0, 501.0, 999.0} <= set(kept)
    assert kept == sorted(kept)
    assert 50 <= len(kept) <= 66
    assert max(after - before for before, after in pairwise(kept)) <= 2 * 999 / 50
    few = Trip(samples=samples[:60])
    assert thinned(few, 60) == few.samples


def test_a_stage_is_told_while_it_charges() -> None:
    """Waiting, off and guarded have no stage; rounding keeps a tenth of a millivolt."""
    told = report(design(), read_programme("off 2 min\nidle 5 min\ncruise 5 min\noff 10 min"))
    for state, stage in zip(told.series.state, told.series.stage, strict=True):
        assert (stage == "") is (state != "charging")
    assert {"off", "charging"} <= set(told.series.state)
    assert told.duration_s == 22 * 60
    assert told.totals.starts == 1
    assert [event.what for event in told.events][:1] == ["start"]


def test_how_far_it_is_is_told() -> None:
    """From just over none to all of it, never back; a stretch that ends half way through the day is half of it."""
    told = list(Trial(design(), read_programme("off 12 h load 2 A\ncruise 2 h\nidle 10 h")).parts())
    assert told == sorted(told)
    assert 0 < told[0] <= told[-1] == pytest.approx(1.0)
    assert any(share == pytest.approx(0.5) for share in told)
    assert any(share == pytest.approx(14 / 24) for share in told)


def test_a_moment_is_told_to_the_millisecond_and_the_unit_above_its_air() -> None:
    """Charging for an hour it is warmer than the 25 °C around it, and no moment has more than three digits."""
    told = report(design(), read_programme("crank 1.23456 s\ncruise 1 h"))
    assert 1.235 in told.series.time_s
    assert 1.23456 not in told.series.time_s
    assert max(told.series.unit_c) > 26.0
    assert min(told.series.unit_c) >= 25.0
