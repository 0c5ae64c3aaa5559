"""What happened in a log: starts and stops, hunting, low phases, lockouts, the cold, charge in frost, early taper, charges never finished.

- `Happening`, `Happened`: one of them.
- `happenings`: all of them, in order of time.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from olvask.core.analyses.device_log.bulk import absorbs_at, wanting
from olvask.core.analyses.device_log.course import Course, latched, spans, starts
from olvask.core.analyses.device_log.series import Bools, Floats, Log, Places
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.findings.listed import counted
from olvask.core.findings.said import Said
from olvask.core.model.device_log import Measured
from olvask.core.simulate.machine import Settings, settings_of
from olvask.core.stages.settings.frost import stops_c

Happening = Literal["start", "stop", "hunting", "low_phase", "lockout", "cold", "frost", "early_taper", "unfinished"]
HAPPENINGS: dict[Happening, str] = {
    "start": "charging starts",
    "stop": "charging stops",
    "hunting": "it hunts",
    "low_phase": "the alternator's volts are low",
    "lockout": "the battery guard locks it out",
    "cold": "the battery is too cold to take charge",
    "frost": "it was charged colder than it may be",
    "early_taper": "the current falls before the battery is up to its volts",
    "unfinished": "charges that never reach absorption",
}
# Our own estimates. Volts per 12 V.
LOW_LEAST_S, LOW_MOST_S, RUN_LEAST_S = 9.0, 240.0, 20.0  # shorter is a flicker, longer the engine was off
LOW_V, LEAST_LOW_V, BACK_SHARE = 0.6, 0.2, 0.6  # below the level under way, and the share of it at which it is back
OWN_LOAD_S, TAKES_UP_S = 6.0, 60.0  # volts that come back so soon after the current ceased were pulled down by it
HUNTS, STRONG = 3, 2.0  # starts, and times what counts as current
GUARD_V, GUARD_ROWS, GUARD_LATE_S = 0.06, 2.5, 3.0
FLICKER = 1.5  # of that margin: one noisy row does not end the time under the guard's volts
COLD_LEAST_S, COLD_K, NOTHING = 60.0, 1.0, 0.06
FROST_C = 0.01  # of its capacity, in amperes: less is a meter's own error
TAPER_LEAST_S, TAPER_SHARE, TAPER_V, SETTLED_S = 180.0, 0.7, 0.25, 60.0
REACHED_V, UNFINISHED_D, UNFINISHED_H = 0.1, 5.0, 3.0
DAY_S = 86400.0


class Happened(Said):
    """One thing that happened."""

    what: Happening
    at_s: Annotated[float, Field(description="seconds since 1970, UTC, by the log's own clock")]
    until_s: Annotated[float | None, Field(description="where it lasted")]
    text: str


def happenings(ctx: Context, log: Log, course: Course) -> tuple[Happened, ...]:
    """Everything found, in order of time.

    Args:
        ctx: the design solved.
        log: as recorded.
        course: what the vehicle and the unit did.
    """
    charges = spans(course.charging)
    lows = _lows(ctx, log, course)
    found = [
        *_starts_and_stops(ctx, log, course, charges),
        *(
            Happened(what="low_phase", at_s=_at(log, first), until_s=_at(log, last), text=_lasted(log, first, last))
            for first, last in lows
        ),
        *_hunting(log, course, lows),
        *_cold(ctx, log, course),
        *_frost(ctx, log),
        *_early(ctx, log, course, charges),
        *_unfinished(ctx, log, course, charges),
    ]
    return tuple(sorted(found, key=lambda item: (item.at_s, item.what)))


def _at(log: Log, row: int) -> float:
    return float(log.time_s[min(row, len(log) - 1)])


def _lasted(log: Log, first: int, last: int) -> str:
    seconds = _at(log, last) - _at(log, first)
    return f"for {seconds:.0f} s" if seconds < 180 else f"for {seconds / 60:.0f} min"


def _unseen(log: Log, row: int) -> bool:
    """Whether nothing was logged just before a row."""
    return row == 0 or bool(log.gap[row - 1])


def _starts_and_stops(ctx: Context, log: Log, course: Course, charges: np.ndarray) -> Iterator[Happened]:
    """Starts and stops; a stop at the guard's volts is a lockout as well. What fell into a gap is not told."""
    settings = settings_of(ctx.design, ctx.solved)
    volts, amps = log.get("input_v", "post_v"), log.get("input_a")
    for first in starts(log, course):
        yield Happened(what="start", at_s=_at(log, first), until_s=None, text="")
    for first, last in charges:
        if last >= len(log) or _unseen(log, last):
            continue
        yield Happened(what="stop", at_s=_at(log, last), until_s=None, text="")
        if volts is None:
            continue
        guarded = _guarded(log, volts, amps, (int(first), int(last)), settings, ctx.facts.scale)
        if guarded is not None:
            yield Happened(what="lockout", at_s=_at(log, last), until_s=None, text=f"at {guarded:.2f} V")


def _guarded(
    log: Log, volts: Floats, amps: Floats | None, charge: tuple[int, int], settings: Settings, scale: float
) -> float | None:
    """The volts at which the guard ended a charge; `None` where it did not.

    Guard and stop rule both wait before they act. Of the two the one did it whose wait fits the time that volts had
    been under its level.
    """
    first, last = charge
    waits_s = [settings.guard_held_s, *(rule.held_s for rule in settings.stop_rules)]
    begin = max(first, int(np.searchsorted(log.time_s, log.time_s[last] - 2 * max(waits_s) - GUARD_LATE_S)))
    drawn = np.nan_to_num(amps[begin:last]) if amps is not None else np.zeros(last - begin)
    seen = volts[begin:last] + drawn * settings.guard_ohm
    under = seen < settings.guard_v + GUARD_V * scale
    if not len(under) or not under[-2:].any():
        return None
    # Where no stop rule acts, a battery left to a unit that is on sinks through those volts as slowly as it likes.
    margin_v = (FLICKER if "voltage" in settings.ways else -1.0) * GUARD_V * scale
    guard_s = _under_s(log, seen < settings.guard_v + margin_v, begin, last)
    if guard_s > settings.guard_held_s + GUARD_ROWS * log.every_s + GUARD_LATE_S:
        return None
    misfit_s = abs(guard_s - 0.5 * log.every_s - settings.guard_held_s)
    for rule in settings.stop_rules if "voltage" in settings.ways else ():
        stop_s = _under_s(log, volts[begin:last] < rule.volts, begin, last)
        if abs(stop_s - 0.5 * log.every_s - rule.held_s) < misfit_s:
            return None
    return float(np.nanmin(seen[-2:]))


def _under_s(log: Log, under: Bools, begin: int, last: int) -> float:
    """How long volts had been under a level when a charge ended; its last row may be from after the end."""
    above = np.flatnonzero(~under[: len(under) - 1])
    since = begin + (int(above[-1]) + 1 if len(above) else 0)
    return float(log.time_s[last] - log.time_s[since])


def _lows(ctx: Context, log: Log, course: Course) -> list[tuple[int, int]]:
    """Volts that fall while under way and rise again, not pulled down by the unit's own load."""
    scale, low = ctx.facts.scale, ctx.facts.low
    found = []
    for first, last in _under_way(log, course):
        volts = course.source_v[first:last]
        runs = course.running[first:last]
        level = float(np.nanmedian(volts[runs]))
        drop = LOW_V * scale if low is None else max(LEAST_LOW_V * scale, 0.5 * (level - float(low.value)))
        depressed = latched(volts < level - drop, volts > level - BACK_SHARE * drop)
        for begin, end in spans(depressed) + first:
            lasted = _at(log, end) - _at(log, begin)
            if not LOW_LEAST_S <= lasted <= LOW_MOST_S:
                continue
            if _at(log, begin) - _at(log, first) < RUN_LEAST_S or _at(log, last - 1) - _at(log, end) < RUN_LEAST_S:
                continue
            if log.gap[begin - 1 : end].any() or _own_load(log, course, begin, end):
                continue
            found.append((int(begin), int(end)))
    return found


def _under_way(log: Log, course: Course) -> list[tuple[int, int]]:
    """Stretches under way, short falls of the volts within them."""
    merged: list[tuple[int, int]] = []
    for first, last in spans(course.running):
        if merged and log.time_s[first] - _at(log, merged[-1][1]) <= LOW_MOST_S:
            merged[-1] = (merged[-1][0], int(last))
        else:
            merged.append((int(first), int(last)))
    return merged


def _own_load(log: Log, course: Course, first: int, last: int) -> bool:
    """Whether volts fell as the unit took up its current and rose as it ceased."""
    drew = course.charging[first:last]
    if not drew.any() or drew.all():
        return False
    early = int(np.searchsorted(log.time_s, log.time_s[first] - TAKES_UP_S))
    if course.charging[early : first + 1].all():
        return False  # it had drawn long before
    ceased = first + int(np.flatnonzero(drew)[-1]) + 1
    return bool(log.time_s[min(last, len(log) - 1)] - log.time_s[min(ceased, len(log) - 1)] <= OWN_LOAD_S)


def _hunting(log: Log, course: Course, lows: list[tuple[int, int]]) -> Iterator[Happened]:
    """Starts again and again while the vehicle did nothing new."""
    cuts = {0, len(log), *(int(row) + 1 for row in np.flatnonzero(log.gap))}
    for first, last in spans(~course.running):
        brief = first > 0 and last < len(log) and log.time_s[last] - log.time_s[first] <= LOW_MOST_S
        if not (brief and _own_load(log, course, first, last)):
            cuts |= {int(first), int(last)}
    for first, last in lows:  # a low phase is one thing the vehicle does
        cuts |= {first, last}
    begun = _strong(course, starts(log, course))
    for first, last in pairwise(sorted(cuts)):
        inside = begun[(begun >= first) & (begun < last)]
        if len(inside) >= HUNTS:
            minutes = (log.time_s[inside[-1]] - log.time_s[inside[0]]) / 60
            yield Happened(
                what="hunting",
                at_s=_at(log, int(inside[0])),
                until_s=_at(log, int(inside[-1])),
                text=f"{len(inside)} starts in {minutes:.0f} min while the vehicle does nothing new",
            )


def _strong(course: Course, begun: Places) -> Places:
    """Starts whose charge takes a current worth the name: less pulls no volts down, and trickles about what counts as one."""
    ends = {int(first): int(last) for first, last in spans(course.charging)}
    said = ~np.isfinite(course.amps).any()  # by words alone there is no current to go by
    strong = [
        said or bool(np.nanmax(course.amps[row : ends[row]], initial=0.0) > STRONG * course.on_a)
        for row in begun.tolist()
    ]
    return np.asarray(begun[np.array(strong, dtype=bool)])


def _lasting(log: Log, where: Bools, least_s: float) -> Iterator[tuple[int, int]]:
    """Stretches that last, with nothing missing in them."""
    whole = where.copy()
    if len(log) > 1:
        whole[1:] &= ~log.gap
    for first, last in spans(whole):
        if _at(log, last) - _at(log, first) >= least_s:
            yield first, last


def _cold(ctx: Context, log: Log, course: Course) -> Iterator[Happened]:
    """The engine runs, the battery is colder than it may be charged, and nothing flows into it."""
    celsius = log.get("battery_c")
    amps = log.get("auxiliary_a", "output_a")
    coldest = stops_c(ctx)
    if celsius is None or amps is None or coldest is None:
        return
    full_a = ctx.solved.output.yield_a if ctx.solved.output is not None else 20.0
    refused = course.running & (celsius < coldest + COLD_K) & (amps < max(1.0, NOTHING * full_a))
    volts, settings = log.get("input_v", "post_v"), settings_of(ctx.design, ctx.solved)
    least_v = min(rule.volts for rule in settings.start_rules) if "voltage" in settings.ways else 0.0
    for first, last in _lasting(log, refused, COLD_LEAST_S):
        if volts is not None and np.nanmedian(volts[first:last]) < least_v:
            continue  # nothing wanted to charge
        low = float(np.nanmin(celsius[first:last]))
        yield Happened(
            what="cold", at_s=_at(log, first), until_s=_at(log, last), text=f"{low:.0f} °C, {_lasted(log, first, last)}"
        )


def _frost(ctx: Context, log: Log) -> Iterator[Happened]:
    """Lithium colder than it may be charged by more than its sensor may be out, and current flows into it."""
    celsius, amps, battery = log.get("battery_c"), log.get("auxiliary_a"), ctx.design.auxiliary
    if celsius is None or amps is None or battery.chemistry != "lfp":
        return
    harmed = (celsius < least_charging_c(battery) - COLD_K) & (amps > max(1.0, FROST_C * battery.capacity_ah))
    for first, last in _lasting(log, harmed, COLD_LEAST_S):
        low, most_a = float(np.nanmin(celsius[first:last])), float(np.nanmax(amps[first:last]))
        text = f"down to {low:.0f} °C, up to {most_a:.0f} A, {_lasted(log, first, last)}"
        yield Happened(what="frost", at_s=_at(log, first), until_s=_at(log, last), text=text)


def _held(ctx: Context, log: Log, *where: Measured) -> tuple[Floats, Floats] | None:
    """Volts at the first of some places that was logged, and what the unit is set to hold."""
    volts = log.get(*where)
    return None if volts is None else (volts, absorbs_at(ctx, log))


def _early(ctx: Context, log: Log, course: Course, charges: np.ndarray) -> Iterator[Happened]:
    """Current well below what flowed before, before the output was ever up to its volts, the source up."""
    held, bulk = _held(ctx, log, "auxiliary_v", "output_v"), wanting(ctx, log, course)
    if held is None or bulk is None or log.get("output_a", "input_a") is None:
        return
    volts, set_v = held
    twelve = ctx.design.auxiliary.nominal_v / 12
    low = np.zeros(len(log), dtype=bool)
    for first, last in charges:
        if last - first < 3 or not np.isfinite(course.amps[first:last]).any():
            continue
        settled = first + int(np.searchsorted(log.time_s[first:last], log.time_s[first] + SETTLED_S))
        if settled >= last:
            continue
        full_a = float(np.nanpercentile(course.amps[first:last], 90))
        if full_a <= 2 * course.on_a or not np.nanmax(course.amps[first:last]) > 0:
            continue
        part = slice(settled, last)
        low[part] = (course.amps[part] < TAPER_SHARE * full_a) & (volts[part] < set_v[part] - TAPER_V * twelve)
        low[part] &= bulk[part] & course.running[part] & (course.amps[part] > course.on_a)
    for first, last in _lasting(log, low, TAPER_LEAST_S):
        at = float(np.nanmedian(volts[first:last]))
        yield Happened(
            what="early_taper",
            at_s=_at(log, first),
            until_s=_at(log, last),
            text=f"at {at:.2f} V, set to {np.median(set_v[first:last]):.2f} V, {_lasted(log, first, last)}",
        )


def _unfinished(ctx: Context, log: Log, course: Course, charges: np.ndarray) -> Iterator[Happened]:
    """Days on end with hours of charging in which the output never came up to its volts."""
    held = _held(ctx, log, "output_v", "auxiliary_v")
    if held is None:
        return
    volts, set_v = held
    near = course.charging & (volts >= set_v - REACHED_V * ctx.design.auxiliary.nominal_v / 12)
    reached = [_at(log, first) for first, _ in _lasting(log, near, SETTLED_S)]
    edges = [_at(log, 0), *reached, _at(log, len(log) - 1)]
    hours = np.concatenate(([0.0], np.cumsum(np.where(course.charging, log.step_s, 0.0)))) / 3600
    for from_s, to_s in pairwise(edges):
        first, last = np.searchsorted(log.time_s, [from_s, to_s])
        charged_h = float(hours[min(last, len(log))] - hours[first])
        if to_s - from_s >= UNFINISHED_D * DAY_S and charged_h >= UNFINISHED_H:
            yield Happened(
                what="unfinished",
                at_s=from_s,
                until_s=to_s,
                text=f"{charged_h:.0f} h of charging in {counted((to_s - from_s) / DAY_S, 'day')}, {np.median(set_v[first:last]):.2f} V never reached",
            )
