"""The auxiliary battery's state of charge over a typical week: will it keep up.

Rules of the week, from Monday 00:00 with a full battery:

- It drives `drive_h` hours from 08:00 on the first `drive_days` days.
- The daily use is drawn evenly over the hours it stands; a day without driving draws its own, where given; the driving
  loads while it drives. A maintainer fed from this battery takes, standing, what the start side's drain costs it.
- The panel gives its full-sun hours evenly between 09:00 and 15:00 standing, its driving share while driving.
- Mains sources charge from 18:00 for their hours, standing.
- Sources feed the loads first. What is left goes in as far as the battery takes it: up to its limit, and above
  the chemistry's taper point in proportion to what is missing.

- `budget_of`: the currents; `step`: what they make of a charge, in closed form.
- `Weeks`: the first week and where it comes to.
- `judge_week`: says so where it runs down.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution
from olvask.core.findings.listed import counted, percent
from olvask.core.model import Design
from olvask.core.physics.charging import bends_at
from olvask.core.physics.rounding import under
from olvask.core.stages.match.energy import (
    DRIVE_FROM_H,
    MAINS_FROM_H,
    SUN_FROM_H,
    SUN_TO_H,
    even_sun_a,
    reserve_of,
    upkeep_a,
)
from olvask.core.stages.match.sources import driving_now, other_sources

WEEKS = 26
KEEPS = 0.005  # of capacity lost a week that is still called keeping up


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
    standing_h, kept_a = max(24 - use.drive_h, 1e-6), upkeep_a(design, facts)
    return Budget(
        capacity_ah=design.auxiliary.capacity_ah,
        efficiency=chemistry.charge_efficiency,
        limit_a=float(facts.charge_limit.value),
        taper_from=chemistry.taper_from,
        standing_load_a=daily_ah / standing_h + kept_a,
        rest_day_load_a=(daily_ah if use.rest_day_ah is None else use.rest_day_ah) / 24 + kept_a,
        driving_load_a=float(facts.loads_driving.value),
        driving_source_a=driving_now(design, output_a).total_a + sum(source.driving_a for source in others),
        sun_a=even_sun_a(design),
        mains_a=sum(source.peak_a for source in others if not source.driving),
        drive_h=use.drive_h,
        drive_days=use.drive_days,
        mains_h=use.mains_h,
    )


def step(budget: Budget, charge: float, sources_a: float, loads_a: float, hours: float) -> float:
    """State of charge after a time of steady currents, in closed form.

    Args:
        budget: the battery.
        charge: state of charge before, 0 to 1.
        sources_a: what the sources could give [A].
        loads_a: what the loads take [A].
        hours: how long [h].
    """
    spare_a = sources_a - loads_a
    if spare_a <= 0:
        return max(0.0, charge + spare_a * hours / budget.capacity_ah)
    steady_a = min(spare_a, budget.limit_a)
    room = 1 - budget.taper_from
    bend = bends_at(steady_a, budget.limit_a, budget.taper_from)
    per_h = steady_a * budget.efficiency / budget.capacity_ah
    if charge < bend:
        till_h = (bend - charge) / per_h
        if hours <= till_h:
            return charge + per_h * hours
        charge, hours = bend, hours - till_h
    rate_per_h = budget.limit_a * budget.efficiency / room / budget.capacity_ah
    return 1 - (1 - charge) * math.exp(-rate_per_h * hours)


def currents(budget: Budget, day: int, clock_h: float) -> tuple[bool, float, float]:
    """Whether it drives, sources and loads [A] at a time of a day of the week.

    Args:
        budget: the week.
        day: 0 for Monday.
        clock_h: time of day [h].
    """
    on_the_road = day < budget.drive_days
    if on_the_road and under((clock_h - DRIVE_FROM_H) % 24, budget.drive_h):
        return True, budget.driving_source_a, budget.driving_load_a
    source_a = budget.sun_a if SUN_FROM_H <= clock_h < SUN_TO_H else 0.0
    if under((clock_h - MAINS_FROM_H) % 24, budget.mains_h):
        source_a += budget.mains_a
    return False, source_a, budget.standing_load_a if on_the_road else budget.rest_day_load_a


def _edges(budget: Budget) -> list[float]:
    """Times of day at which a current may change [h]."""
    wanted = {0.0, 24.0, float(SUN_FROM_H), float(SUN_TO_H), float(DRIVE_FROM_H), float(MAINS_FROM_H)}
    wanted |= {(DRIVE_FROM_H + budget.drive_h) % 24, (MAINS_FROM_H + budget.mains_h) % 24}
    return sorted(wanted)


Segment = tuple[float, float, float, float]  # begins [h], lasts [h], sources [A], loads [A]


def segments(budget: Budget) -> list[Segment]:
    """The week as stretches of steady currents."""
    edges = _edges(budget)
    found: list[Segment] = []
    for day in range(7):
        for begin, end in itertools.pairwise(edges):
            _, sources_a, loads_a = currents(budget, day, (begin + end) / 2)
            found.append((day * 24 + begin, end - begin, sources_a, loads_a))
    return found


def one_week(budget: Budget, charge: float, parts: list[Segment]) -> list[float]:
    """State of charge at the beginning of each stretch, and at the week's end."""
    found = [charge]
    for _, hours, sources_a, loads_a in parts:
        charge = step(budget, charge, sources_a, loads_a, hours)
        found.append(charge)
    return found


@dataclass(frozen=True, slots=True)
class Weeks:
    """Where the weeks come to: lowest and last charge of the first, and the hour it falls under the reserve, if it does."""

    lowest: float
    lowest_h: float
    end: float
    below_h: float | None


def weeks_of(budget: Budget, reserve: float) -> Weeks:
    """Drive weeks until they repeat themselves, or fall under the reserve.

    Args:
        budget: currents of the week.
        reserve: state of charge never to go below.
    """
    parts = segments(budget)
    edges = [*(part[0] for part in parts), 168.0]
    first = one_week(budget, 1.0, parts)
    lowest = min(first)
    below_h: float | None = None
    charges, week = first, 0
    while True:
        below_h = _falls_below(edges, charges, reserve)
        below_h = None if below_h is None else week * 168 + below_h
        later = one_week(budget, charges[-1], parts)
        week += 1
        if below_h is not None or week >= WEEKS or (week > 1 and charges[0] - charges[-1] < KEEPS):
            break
        charges = later
    return Weeks(lowest, edges[first.index(lowest)], first[-1], below_h)


def _falls_below(edges: Sequence[float], charges: Sequence[float], reserve: float) -> float | None:
    """When a week's charge comes under the reserve, between two edges by a straight line [h]; `None` where it never does."""
    for at, charge in enumerate(charges):
        if charge < reserve:
            if at == 0:
                return 0.0
            share = (charges[at - 1] - reserve) / (charges[at - 1] - charge)
            return edges[at - 1] + share * (edges[at] - edges[at - 1])
    return None


def judge_week(ctx: Context) -> Judged:
    """A caution where the typical week runs the battery down though the day's need is met."""
    budget = budget_of(ctx.design, ctx.solved)
    if budget is None or ctx.design.charger is None:
        return
    reserve = reserve_of(ctx.design)
    found = weeks_of(budget, reserve)
    if found.below_h is None:
        return
    day = int(found.below_h // 24) + 1
    yield caution(
        "match.week",
        "auxiliary",
        "The week runs it down",
        f"From full on a Monday it is under its {percent(reserve)} reserve on day {day}: what {budget.drive_h:g} h of driving on "
        f"{counted(budget.drive_days, 'day')} and the other sources put back does not cover what is used. Less use, more driving, another "
        "source, or a larger battery.",
        concerns=("use.daily_ah", "use.drive_h", "use.drive_days"),
    )
