"""Moments as logs write them, to seconds since 1970.

- `PARTS`: a date, a time of day, or both, in any usual form.
- `seconds`: columns of parts to moments of a clock.
- `utc`: moments of a clock in a time zone to moments everywhere.
"""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta, tzinfo
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from olvask.core.model.device_log import Order

Floats = NDArray[np.float64]
DATE = r"(?:(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4}))"
CLOCK = r"(?:(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?(?:\s*([AaPp])\.?[Mm]\.?)?\s*(Z|UTC|GMT|[+-]\d{2}:?\d{2})?)"
PARTS = {"moment": rf"^\s*{DATE}[Tt ,;]+\s*{CLOCK}\s*$", "date": rf"^\s*{DATE}\s*$", "clock": rf"^\s*{CLOCK}\s*$"}
EPOCH = r"^\s*(\d{9,13}(?:\.\d+)?)\s*$"
PLACES: dict[Order, tuple[int, int, int]] = {"ymd": (0, 1, 2), "dmy": (2, 1, 0), "mdy": (2, 0, 1)}
FIRST_YEAR, LAST_YEAR = 1990, 2100
QUARTER_S = 900.0  # offsets of time zones change at quarters of an hour
BACK = 0.25  # of what a clock is set back at the end of summer: what goes back less is put right by a little


def parts_of(text: str, kind: str) -> tuple[str, ...] | None:
    """The parts of one cell; `None` where it is no moment.

    Args:
        text: as it stands in the file.
        kind: `moment`, `date` or `clock`.
    """
    found = re.match(PARTS[kind], text)
    return tuple(part or "" for part in found.groups()) if found else None


def days(parts: tuple[Floats, Floats, Floats], order: Order) -> Floats:
    """Days since 1970 of dates; not a number where there is no such day.

    Args:
        parts: the three numbers of each date, as they stand; shape (rows,) each.
        order: which of them is which.
    """
    year, month, day = (parts[place] for place in PLACES[order])
    year = np.where((year < 100) & (order != "ymd"), year + 2000, year)
    real = (year >= FIRST_YEAR) & (year <= LAST_YEAR) & (month >= 1) & (month <= 12) & (day >= 1) & (day <= 31)
    months = np.where(real, (year - 1970) * 12 + month - 1, 0).astype(np.int64).astype("datetime64[M]")
    first = months.astype("datetime64[D]").astype(np.int64)
    length = (months + 1).astype("datetime64[D]").astype(np.int64) - first
    return np.asarray(np.where(real & (day <= length), first + day - 1.0, np.nan))


def clock(hour: Floats, minute: Floats, second: Floats, afternoon: Floats) -> Floats:
    """Seconds since midnight; not a number where there is no such time.

    Args:
        hour: as written; shape (rows,).
        minute: the same.
        second: the same.
        afternoon: 0 for a.m., 1 for p.m., not a number on a clock of 24 hours.
    """
    halves = ~np.isnan(afternoon)
    real = (minute < 60) & (second < 61) & np.where(halves, (hour >= 1) & (hour <= 12), hour < 24)
    hours = np.where(halves, hour % 12 + 12 * np.nan_to_num(afternoon), hour)
    return np.asarray(np.where(real, 3600 * hours + 60 * minute + second, np.nan))


def utc(local_s: Floats, zone: str) -> tuple[Floats, Floats]:
    """Moments of a clock that shows a zone's time, in the order they were written.

    The hour that comes twice at the end of summer is told by the clock going back in it.

    Args:
        local_s: seconds since 1970 as if the clock showed UTC; shape (rows,).
        zone: name of its time zone.

    Returns:
        Seconds since 1970, UTC, and whether each is a moment that clock never shows; shape (rows,) each.
    """
    where: tzinfo = ZoneInfo(zone)
    good = ~np.isnan(local_s)
    quarters, which = np.unique(np.floor(local_s[good] / QUARTER_S), return_inverse=True)
    first, second = (np.array([_offset(where, quarter * QUARTER_S, fold) for quarter in quarters]) for fold in (0, 1))
    found, never = np.full(len(local_s), np.nan), np.zeros(len(local_s))
    if not len(quarters):
        return found, never
    early, late = first[which], second[which]
    later = np.zeros(len(early), dtype=bool)
    for from_row, to_row in _twice(early - late > 0):
        span = local_s[good][from_row:to_row]
        back_s = BACK * float(early[from_row] - late[from_row])
        back = np.flatnonzero(np.diff(span) < -back_s)
        if len(back):
            later[from_row + back[0] + 1 : to_row] = True
        elif from_row > 0 and local_s[good][from_row - 1] > span[0] + back_s:
            later[from_row:to_row] = True
    found[good] = local_s[good] - np.where(later, late, early)
    never[good] = early < late  # the hour that is left out in spring
    return found, never


def _twice(where: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Stretches of rows that are so, from and to."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], where.astype(np.int8), [0]))))
    return [(int(edges[at]), int(edges[at + 1])) for at in range(0, len(edges), 2)]


def _offset(where: tzinfo, local_s: float, fold: int) -> float:
    """What a clock is ahead of UTC [s]; of the hour left out in spring the first says less than the second."""
    shown = datetime.fromtimestamp(0, UTC).replace(tzinfo=None) + timedelta(seconds=local_s)
    ahead = where.utcoffset(shown.replace(fold=fold))
    return ahead.total_seconds() if ahead is not None else 0.0
