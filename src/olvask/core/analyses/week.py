"""The auxiliary battery's state of charge over a typical week: will it keep up.

Rules of the week, from Monday 00:00 with a full battery:

- It drives `drive_h` hours from 08:00 on the first `drive_days` days.
- The daily use is drawn evenly over the hours it stands; a day without driving draws its own, where given; the driving loads while it drives.
- The panel gives its full-sun hours evenly between 09:00 and 15:00 standing, its driving share while driving.
- Mains sources charge from 18:00 for their hours, standing.
- Sources feed the loads first. What is left goes in as far as the battery takes it: up to its limit, and above
  the chemistry's taper point in proportion to what is missing.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from olvask.core.catalogue import chemistries
from olvask.core.circuit.facts import gather
from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.match.energy import reserve_of
from olvask.core.stages.match.sources import driving_now, other_sources, solar_peak_a

STEPS_PER_H = 20
DRIVE_FROM_H, SUN_FROM_H, SUN_TO_H, MAINS_FROM_H = 8, 9, 15, 18
DAY_NAMES = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
WEEKS = 26
KEEPS = 0.005  # of capacity lost a week that is still called keeping up


class WeekPicture(Said):
    """The auxiliary battery's charge over a typical week."""

    verdict: Literal["keeps_up", "runs_down", "unknown"]
    text: str
    reserve: float
    charge: tuple[float, ...] = Field(description="state of charge at each full hour from Monday 00:00, 169 of them")
    driving: tuple[bool, ...] = Field(description="whether it drives in each hour")
    lowest: float | None
    end: float | None
    below_reserve_day: int | None


@dataclass(frozen=True, slots=True)
class Budget:
    """Currents of the week [A] and the battery they meet."""

    capacity_ah: float
    efficiency: float
    limit_a: float
    taper_from: float
    standing_load_a: float
    rest_day_load_a: float
    driving_load_a: float
    driving_source_a: float
    sun_a: float
    mains_a: float
    drive_h: float
    drive_days: int
    mains_h: float


def budget_of(design: Design, solved: Solved) -> Budget | None:
    """Currents of the week; `None` where daily use or driving are not surveyed."""
    facts, use = solved.facts, design.use
    if facts.daily is None or use.drive_h is None:
        return None
    chemistry = chemistries()[design.auxiliary.chemistry]
    output_a = solved.output.yield_a if solved.output is not None else 0.0
    others = other_sources(design)
    daily_ah = float(facts.daily.value)
    standing_h = max(24 - use.drive_h, 1e-6)
    sun = design.solar
    sun_a = solar_peak_a(design) * sun.sun_h / (SUN_TO_H - SUN_FROM_H) if sun.into != "start_side" else 0.0
    return Budget(
        capacity_ah=design.auxiliary.capacity_ah,
        efficiency=chemistry.charge_efficiency,
        limit_a=float(facts.charge_limit.value),
        taper_from=chemistry.taper_from,
        standing_load_a=daily_ah / standing_h,
        rest_day_load_a=(daily_ah if use.rest_day_ah is None else use.rest_day_ah) / 24,
        driving_load_a=float(facts.loads_driving.value),
        driving_source_a=driving_now(design, output_a).total_a + sum(source.driving_a for source in others),
        sun_a=sun_a,
        mains_a=sum(source.peak_a for source in others if not source.driving),
        drive_h=use.drive_h,
        drive_days=use.drive_days,
        mains_h=use.mains_h,
    )


def step(budget: Budget, charge: float, sources_a: float, loads_a: float, hours: float) -> float:
    """State of charge after a step.

    Args:
        budget: the battery.
        charge: state of charge before, 0 to 1.
        sources_a: what the sources could give [A].
        loads_a: what the loads take [A].
        hours: length of the step [h].
    """
    spare_a = sources_a - loads_a
    if spare_a <= 0:
        return max(0.0, charge + spare_a * hours / budget.capacity_ah)
    taken_a = min(spare_a, budget.limit_a)
    if charge > budget.taper_from:
        taken_a = min(taken_a, budget.limit_a * (1 - charge) / (1 - budget.taper_from))
    return min(1.0, charge + taken_a * budget.efficiency * hours / budget.capacity_ah)


def _one_week(budget: Budget, charge: float) -> tuple[list[float], list[bool]]:
    """Hourly state of charge, the start included, and whether it drives in each hour."""
    series, driving = [charge], []
    share_h = 1 / STEPS_PER_H
    for hour in range(168):
        day, clock = divmod(hour, 24)
        on_the_road = day < budget.drive_days
        load_a = budget.standing_load_a if on_the_road else budget.rest_day_load_a
        for part in range(STEPS_PER_H):
            now_h = clock + part * share_h
            if on_the_road and 0 <= (now_h - DRIVE_FROM_H) % 24 < budget.drive_h - 1e-9:
                charge = step(budget, charge, budget.driving_source_a, budget.driving_load_a, share_h)
                continue
            source_a = budget.sun_a if SUN_FROM_H <= now_h < SUN_TO_H else 0.0
            if (now_h - MAINS_FROM_H) % 24 < budget.mains_h - 1e-9:
                source_a += budget.mains_a
            charge = step(budget, charge, source_a, load_a, share_h)
        series.append(charge)
        driving.append(on_the_road and (clock - DRIVE_FROM_H) % 24 < budget.drive_h)
    return series, driving


def week_of(design: Design) -> WeekPicture:
    """The typical week, and what becomes of the battery over the weeks after.

    Args:
        design: the design.
    """
    solved = solve(design, only=(), facts=gather(design))
    budget = budget_of(design, solved)
    reserve = reserve_of(design)
    if budget is None:
        return WeekPicture(
            verdict="unknown",
            text="Daily use and driving hours are not surveyed yet.",
            reserve=reserve,
            charge=(),
            driving=(),
            lowest=None,
            end=None,
            below_reserve_day=None,
        )
    series, driving = _one_week(budget, 1.0)
    lowest = min(series)
    below = next((hour for hour, charge in enumerate(series) if charge < reserve), None)
    charge, weeks = series[-1], 1
    settled = False
    while below is None and weeks < WEEKS and not settled:
        later, _ = _one_week(budget, charge)
        hour = next((at for at, value in enumerate(later) if value < reserve), None)
        below = None if hour is None else weeks * 168 + hour
        settled = charge - later[-1] < KEEPS
        charge, weeks = later[-1], weeks + 1
    low_hour = series.index(lowest)
    where = f"{DAY_NAMES[min(low_hour // 24, 6)]} {low_hour % 24:02d}:00"
    if below is None:
        text = (
            f"It keeps up: lowest {lowest:.0%} on {where}, {series[-1]:.0%} at the week's end; reserve {reserve:.0%}."
        )
    else:
        text = (
            f"It runs down: under the {reserve:.0%} reserve on day {below // 24 + 1}. "
            f"Lowest in the first week {lowest:.0%}, {series[-1]:.0%} at its end."
        )
    return WeekPicture(
        verdict="keeps_up" if below is None else "runs_down",
        text=text,
        reserve=reserve,
        charge=tuple(round(value, 5) for value in series),
        driving=tuple(driving),
        lowest=lowest,
        end=series[-1],
        below_reserve_day=None if below is None else below // 24 + 1,
    )
