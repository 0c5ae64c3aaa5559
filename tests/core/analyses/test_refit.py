"""Consumption and charge rate found again in users made up by other arithmetic: within the interval told in 95 of 100."""

from __future__ import annotations

import os
import random

import pytest

from olvask.core.analyses.refit import DayReading, refit
from olvask.core.assess import assess
from olvask.store.demo import demo_designs
from tests.designs import charger, design

VAN = next(job for heading, job in demo_designs() if heading.code == "KV-118")
USERS = int(os.environ.get("OLVASK_USERS", "300"))  # `make check-refit` asks for 2,000


def diary(pick: random.Random, use_ah: float, rate_a: float, days: int) -> list[DayReading]:
    """Mornings of one user: days driven or not, use that differs, mornings missed, a display that shows whole percent or worse."""
    capacity_ah, charge, driven_h = VAN.auxiliary.capacity_ah, pick.uniform(0.4, 0.9), 0.0
    found = []
    error = pick.uniform(0.3, 2.0)
    for day in range(days):
        if day == 0 or pick.random() > 0.2:
            shown = min(100.0, max(0.0, 100 * charge + pick.gauss(0, error)))
            found.append(DayReading(day=day, percent=round(shown), driven_h=driven_h))
            driven_h = 0.0
        hours = pick.choice((0.0, 0.0, 1.0, 1.5, 2.5)) * pick.uniform(0.7, 1.2)
        if charge < 0.3:  # nobody lets it run flat: a longer drive
            hours = 2.5
        used = use_ah * pick.gauss(1, 0.2)
        charge = min(1.0, charge + rate_a * hours / capacity_ah) - used / capacity_ah  # what is over full is lost
        driven_h += hours
    return found


def test_true_values_lie_in_the_interval_told() -> None:
    """95 of 100 for each, within chance; few users are sent away."""
    pick, inside, told = random.Random(77), {"use": 0, "rate": 0}, 0
    for _ in range(USERS):
        use_ah = pick.uniform(20, 60)
        rate_a = use_ah * pick.uniform(0.8, 1.2)  # so that the battery is neither always full nor always empty
        found = refit(VAN, diary(pick, use_ah, rate_a, pick.randint(14, 90)))
        if found.use is None or found.rate is None:
            continue
        told += 1
        inside["use"] += abs(found.use.value - use_ah) <= found.use.spread
        inside["rate"] += abs(found.rate.value - rate_a) <= found.rate.spread
    print({key: f"{count / told:.1%}" for key, count in inside.items()}, f"told {told / USERS:.1%} of {USERS}")
    assert told / USERS > 0.7
    for count in inside.values():
        assert count / told == pytest.approx(0.95, abs=0.02 if USERS >= 1000 else 0.04)


def test_a_diary_without_noise_gives_its_own_numbers_back() -> None:
    """40 Ah a day, 35 A for the hours driven, read exactly: found exactly; days it can stand follow by hand."""
    capacity_ah, charge, found = VAN.auxiliary.capacity_ah, 0.8, []
    for day, hours in enumerate((0.0, 0.0, 2.0, 0.0, 2.5, 0.0, 1.5, 0.0, 2.0, 0.0)):
        charge += (35 * hours - (40 if day else 0)) / capacity_ah
        found.append(DayReading(day=day, percent=100 * charge, driven_h=hours))
    told = refit(VAN, found)
    assert told.use is not None
    assert told.rate is not None
    assert told.days is not None
    assert told.use.value == pytest.approx(40, abs=0.01)
    assert told.rate.value == pytest.approx(35, abs=0.01)
    assert told.days.value == pytest.approx(0.8 * capacity_ah / 40, abs=0.01)
    assert any("supposed 77 Ah" in line for line in told.why)


NOT_ENOUGH: list[tuple[list[tuple[float, float, float]], str]] = [
    ([], "note the charge each morning"),
    ([(day, 100, 2) for day in range(20)], "below full"),
    ([(day, 80 - day, 0) for day in range(12)], "do not tell driving from standing"),
]


@pytest.mark.parametrize(("rows", "words"), NOT_ENOUGH)
def test_what_cannot_be_told_is_said(rows: list[tuple[float, float, float]], words: str) -> None:
    """No readings, always full, never driven."""
    made = [DayReading(day=day, percent=percent, driven_h=hours) for day, percent, hours in rows]
    found = refit(VAN, made)
    assert found.use is None
    assert words in found.text


@pytest.mark.parametrize("code", [heading.code for heading, _ in demo_designs()])
def test_what_it_supposes_is_what_the_design_says(code: str) -> None:
    """Days it can stand are those of Match, sun and mains counted."""
    job = next(item for heading, item in demo_designs() if heading.code == code)
    figures = assess(job, remedies=False, words=False).figures
    days = figures["energy.standing_days"].value if "energy.standing_days" in figures else None
    charge, found = 0.5, []
    for day, hours in enumerate((0.0, 0.0, 0.6, 0.0, 0.7, 0.0, 0.5, 0.0, 0.6, 0.0)):
        charge += 0.3 * hours - (0.1 if day else 0.0)
        found.append(DayReading(day=day, percent=100 * charge, driven_h=hours))
    told = refit(job, found)
    assert told.days is not None
    assert told.days.supposed == (None if days is None else pytest.approx(days))


def test_a_lead_battery_with_sun_is_not_accused_of_its_losses() -> None:
    """30 A into AGM keep 85 %, less 2 A of loads: 23.8 Ah an hour are as they should be, and so is a day's use less the sun."""
    auxiliary = {
        "chemistry": "agm",
        "nominal_v": 12,
        "capacity_ah": 220.0,
        "charge_limit_a": 60.0,
        "absorption_v": 14.4,
    }
    job = design(
        auxiliary=auxiliary,
        charger=charger(output_a=30.0),
        use={"daily_ah": 50.0, "drive_h": 2.0, "loads_driving_a": 2.0},
        solar={"panel_w": 100.0, "into": "controller", "sun_h": 2.5, "share_driving": 0.0},
    )
    sun_ah = 100 * 0.9 / 14.4 * 2.5 * 0.85
    use_ah, rate_a = 50.0 - sun_ah, (30.0 - 2.0) * 0.85
    charge, found = 150.0, []
    for day, hours in enumerate((0.0, 0.0, 2.0, 0.0, 2.5, 0.0, 3.0, 1.0, 2.0, 0.0, 2.0)):
        charge += rate_a * hours - (use_ah if day else 0.0)
        found.append(DayReading(day=day, percent=100 * charge / 220.0, driven_h=hours))
    told = refit(job, found)
    assert told.use is not None
    assert told.rate is not None
    assert told.use.supposed == pytest.approx(use_ah, rel=1e-3)
    assert told.rate.supposed == pytest.approx(rate_a, rel=1e-3)
    assert told.why == ()
