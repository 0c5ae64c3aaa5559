"""The auxiliary battery's state of charge over a typical week, as a picture; `stages.match.week` has its rules."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from olvask.core.circuit.facts import gather
from olvask.core.circuit.solve import solve
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.match.energy import reserve_of
from olvask.core.stages.match.week import Budget, budget_of, currents, one_week, segments, step, weeks_of

DAY_NAMES = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


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


def _hourly(budget: Budget) -> tuple[list[float], list[bool]]:
    """State of charge at each full hour of the first week, and whether it drives in each hour."""
    parts = segments(budget)
    begun = one_week(budget, 1.0, parts)
    series: list[float] = []
    for hour in range(169):
        at = max(index for index, part in enumerate(parts) if part[0] <= hour)
        begin, _, sources_a, loads_a = parts[at]
        series.append(step(budget, begun[at], sources_a, loads_a, hour - begin))
    driving = [currents(budget, *divmod(hour, 24))[0] for hour in range(168)]
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
    series, driving = _hourly(budget)
    found = weeks_of(budget, reserve)
    where = f"{DAY_NAMES[min(int(found.lowest_h) // 24, 6)]} {int(found.lowest_h) % 24:02d}:00"
    day = None if found.below_h is None else int(found.below_h // 24) + 1
    if day is None:
        text = f"It keeps up: lowest {percent(found.lowest)} on {where}, {percent(found.end)} at the week's end; reserve {percent(reserve)}."
    else:
        text = (
            f"It runs down: under the {percent(reserve)} reserve on day {day}. "
            f"Lowest in the first week {percent(found.lowest)}, {percent(found.end)} at its end."
        )
    return WeekPicture(
        verdict="keeps_up" if day is None else "runs_down",
        text=text,
        reserve=reserve,
        charge=tuple(round(value, 5) for value in series),
        driving=tuple(driving),
        lowest=found.lowest,
        end=found.end,
        below_reserve_day=day,
    )
