"""Days it can stand and the week, told at a glance and driven: two computations of the same days."""

from __future__ import annotations

import random
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.trip import drive
from olvask.core.stages.match.energy import reserve_of
from olvask.core.stages.match.week import budget_of, currents, segments, step
from tests.core.analyses.test_recommended import survey

MANY = 24
LONGEST = 40.0  # days driven


def left_standing(pick: random.Random) -> Design:
    """A vehicle that stands: a day's use, a panel or none, a maintainer fed from its battery or none."""
    whole: dict[str, Any] = survey(pick)[0].model_dump(mode="json")
    capacity_ah = whole["auxiliary"]["capacity_ah"]
    whole["activation"]["ways"] = ["d_plus"]  # by volts a maintainer may start the unit, which is another matter
    whole["use"]["daily_ah"] = round(capacity_ah * pick.choice((0.05, 0.15, 0.3)), 1)
    if pick.random() < 0.5:
        into = pick.choice(("controller", "second_input", "start_side"))
        whole["solar"] |= {"panel_w": pick.choice((50.0, 100.0)), "into": into, "sun_h": pick.choice((1.0, 2.0))}
    if pick.random() < 0.4:
        whole["existing"] = [{"kind": "maintainer"}]
    return Design.model_validate(whole)


def days_driven(job: Design, days: int) -> float | None:
    """Days until the reserve, from full, without the engine; `None` where they do not come to it."""
    load_a, sun_w = (job.use.daily_ah or 0.0) / 24, (job.solar.panel_w or 0.0) * job.solar.sun_h / 6
    on_start = job.solar.into == "start_side"
    night = Stretch("off", 9 * 3600.0, False, load_a=load_a)
    noon = Stretch(
        "off",
        6 * 3600.0,
        False,
        load_a=load_a,
        sun_auxiliary_w=0.0 if on_start else sun_w,
        sun_start_w=sun_w if on_start else 0.0,
    )
    trip = drive(job, Programme((night, noon, night) * days, 1.0, 1.0))
    least = reserve_of(job)
    return next((item.time_s / 86400 for item in trip.samples if item.auxiliary_charge <= least), None)


@pytest.mark.parametrize("part", range(4))
def test_days_it_can_stand_are_those_driven(part: int) -> None:
    """Within half a day for the time of day, or a seventh: what the sun gives the loads at once loses nothing in the battery.

    A maintainer costs what the start side's drain costs it.
    """
    for seed in range(part, MANY, 4):
        job = left_standing(random.Random(f"stands {seed}"))
        told = assess(job, remedies=False).figures["energy.standing_days"].value
        if told is None or float(told) > LONGEST:
            continue
        driven = days_driven(job, int(float(told) * 1.1) + 2)
        assert driven == pytest.approx(float(told), rel=0.14, abs=0.5), seed


def week_of_work(pick: random.Random) -> Design:
    """A vehicle with a week of driving, what charges it within what the battery takes, a panel by any way in, an old charger or none."""
    while True:
        whole: dict[str, Any] = survey(pick)[0].model_dump(mode="json")
        whole["activation"]["ways"] = ["d_plus"]
        used_ah = round(whole["auxiliary"]["capacity_ah"] * pick.choice((0.15, 0.3)), 1)
        whole["use"] |= {
            "daily_ah": used_ah,
            "drive_h": pick.choice((1.0, 2.0, 4.0)),
            "loads_driving_a": pick.choice((0.0, 3.0)),
        }
        into = pick.choice(("controller", "second_input", "start_side"))
        whole["solar"] |= {"panel_w": 100.0, "into": into, "sun_h": pick.choice((2.0, 4.0)), "share_driving": 0.4}
        whole["charger"] |= {
            "dual_input": pick.choice(("none", "split", "priority")),
            "dual_first": pick.choice(("alternator", "solar")),
        }
        if pick.random() < 0.4:
            whole["existing"] = [{"kind": "built_in_charger", "charge_a": 6.0, "cut": pick.random() < 0.3}]
        job = Design.model_validate(whole)
        budget = budget_of(job, solve(job))
        if budget is not None and budget.driving_source_a < 0.95 * budget.limit_a:
            return job


@pytest.mark.parametrize("part", range(4))
def test_the_week_told_is_the_week_driven(part: int) -> None:
    """From full on a Monday, stretch by stretch, to a sixteenth of the capacity: what sun and alternator bring by either
    input, what the battery takes of it, what the loads take."""
    for seed in range(part, MANY, 4):
        job = week_of_work(random.Random(f"week {seed}"))
        budget = budget_of(job, solve(job))
        assert budget is not None
        charge, driven = 1.0, []
        for begins_h, lasts_h, sources_a, loads_a in segments(budget):
            charge = step(budget, charge, sources_a, loads_a, lasts_h)
            clock_h = begins_h % 24
            on_the_road, _, used_a = currents(budget, int(begins_h // 24), clock_h + lasts_h / 2)
            share = job.solar.share_driving if on_the_road else job.solar.sun_h / 6 if 9 <= clock_h < 15 else 0.0
            sun_w = 0.0 if job.solar.into == "start_side" else share * (job.solar.panel_w or 0.0)
            engine = "cruise" if on_the_road else "off"
            driven.append(Stretch(engine, lasts_h * 3600, on_the_road, load_a=used_a, sun_auxiliary_w=sun_w))  # type: ignore[arg-type]
        assert drive(job, Programme(tuple(driven), 1.0, 1.0)).auxiliary_charge == pytest.approx(charge, abs=1 / 16), (
            seed
        )
