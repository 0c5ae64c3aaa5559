"""Cells of a piece of a log: numbers in their measure's own unit, and moments.

- `numbers`: a column of numbers.
- `states`: a column of words, by which it charges or not.
- `amperes_of_watts`: columns in watts, by the volts of their place.
- `moments`: the columns of dates and times.
"""

from __future__ import annotations

import numpy as np
import polars as pl
from numpy.typing import NDArray

from olvask.core.model.device_log import MEASURED, MEASURES, UNITS, VOLTS_OF, WATTS, LogMapping, Measured
from olvask.logs.gathered import Gathered
from olvask.logs.moments import PARTS, clock, days
from olvask.logs.sniff import BadLog

Floats = NDArray[np.float64]
MISSING = ("", "-", "--", "---", "n/a", "na", "nan", "null", "none", "inf", "?", "err", "error", "#n/a")
DAY_S = 86400.0
LEAST_V = 1.0  # watts at less are no current of a vehicle's; our own estimate


def used(mapping: LogMapping) -> list[int]:
    return [at for at, column in enumerate(mapping.columns) if column.role]


def _cells(frame: pl.DataFrame, mapping: LogMapping, at: int) -> pl.Series:
    """The cells of a column, by its number in the file."""
    return frame.to_series(used(mapping).index(at))


def numbers(
    frame: pl.DataFrame, lines: NDArray[np.int64], mapping: LogMapping, role: Measured, gathered: Gathered
) -> Floats:
    """A column's numbers in the measure's own unit; what is none, or no vehicle's, is left out and counted."""
    at = mapping.at(role) or 0
    column, cells = mapping.columns[at], _cells(frame, mapping, at)
    measure = MEASURES[role]
    times, more = UNITS[measure.unit][column.unit]
    found = _cast(cells, mapping.decimal)
    left = cells.is_not_null() & found.is_null()
    if left.any():
        slow = cells.filter(left)
        words = slow.str.strip_chars().str.to_lowercase()
        bare = slow.str.strip_chars().str.strip_suffix(column.unit).str.strip_chars()
        again = _cast(bare, mapping.decimal).fill_null(float("nan"))
        found = found.scatter(left.arg_true(), again)
        bad = left & found.is_nan().fill_null(True)
        real = ~words.is_in(list(MISSING))
        places = left.arg_true().filter(real).to_numpy()
        wrong = places[bad.to_numpy()[places]]
        if len(wrong):
            gathered.trouble(
                "cells are no numbers and are left out",
                len(wrong),
                int(lines[wrong[0]]),
                column.name,
                str(cells[int(wrong[0])]),
            )
    values = found.fill_null(float("nan")).to_numpy() * times + more
    if column.unit in WATTS:
        return np.asarray(values, dtype=np.float64)  # judged once they are amperes
    return _possible(values, cells, lines, mapping, role, gathered)


def _possible(
    values: Floats, cells: pl.Series, lines: NDArray[np.int64], mapping: LogMapping, role: Measured, gathered: Gathered
) -> Floats:
    """What no vehicle has is left out and counted."""
    measure, column = MEASURES[role], mapping.columns[mapping.at(role) or 0]
    beyond = np.flatnonzero((values < measure.least) | (values > measure.most))
    if len(beyond):
        gathered.trouble(
            f"cells are no {measure.unit} of a vehicle and are left out",
            len(beyond),
            int(lines[beyond[0]]),
            column.name,
            str(cells[int(beyond[0])]),
        )
        values = values.copy()
        values[beyond] = np.nan
    return np.asarray(values, dtype=np.float64)


def states(
    frame: pl.DataFrame, lines: NDArray[np.int64], mapping: LogMapping, role: Measured, gathered: Gathered
) -> Floats:
    """One where the unit's state is one in which it charges, nought in the others; a word never seen is left out."""
    at = mapping.at(role) or 0
    words = _cells(frame, mapping, at).str.strip_chars()
    yes = words.is_in(list(mapping.charging)).fill_null(False).to_numpy()
    no = words.is_in(list(mapping.resting)).fill_null(False).to_numpy()
    missing = words.str.to_lowercase().is_in(list(MISSING)).fill_null(True).to_numpy()
    unknown = np.flatnonzero(~yes & ~no & ~missing)
    if len(unknown):
        first = int(unknown[0])
        gathered.trouble(
            "states are in no list of what they mean and are left out",
            len(unknown),
            int(lines[first]),
            mapping.columns[at].name,
            str(words[first]),
        )
    return np.where(yes, 1.0, np.where(no, 0.0, np.nan))


def amperes_of_watts(
    found: dict[Measured, Floats],
    frame: pl.DataFrame,
    lines: NDArray[np.int64],
    mapping: LogMapping,
    gathered: Gathered,
) -> None:
    """Divide what is in watts by the volts of its place; without volts there are no amperes.

    Args:
        found: a piece's columns; changed in place.
        frame: the piece.
        lines: of its rows in the file.
        mapping: how columns are read.
        gathered: where troubles are counted.
    """
    for column in mapping.columns:
        if column.unit not in WATTS or column.role not in MEASURED:
            continue
        volts = next(found[name] for name in VOLTS_OF[column.role] if name in found)
        with np.errstate(divide="ignore", invalid="ignore"):
            amps = np.where(volts > LEAST_V, found[column.role] / volts, np.nan)
        cells = _cells(frame, mapping, mapping.at(column.role) or 0)
        found[column.role] = _possible(amps, cells, lines, mapping, column.role, gathered)


def _cast(cells: pl.Series, decimal: str) -> pl.Series:
    """Cells that are plainly numbers; others are null. A thousand's mark is taken only where a fraction follows it."""
    plain = cells.str.strip_chars()
    if decimal == ",":
        plain = plain.str.replace(r"^([-+]?\d{1,3})\.(\d{3}),(\d+)$", "${1}${2},${3}")
        point = plain.str.contains(".", literal=True)
        plain = plain.str.replace(",", ".", literal=True)
        plain = plain.set(point.fill_null(False), None) if point.any() else plain
    else:
        plain = plain.str.replace(r"^([-+]?\d{1,3}),(\d{3})\.(\d+)$", "${1}${2}.${3}")
    found = plain.cast(pl.Float64, strict=False)
    return found.set((found.is_infinite() | found.is_nan()).fill_null(False), None)


def moments(frame: pl.DataFrame, lines: NDArray[np.int64], mapping: LogMapping, gathered: Gathered) -> None:
    """Moments of a piece: as the clock showed them, and their offset from UTC where they say it."""
    rows = frame.height
    at = mapping.at("moment")
    if mapping.order in ("epoch_s", "epoch_ms"):
        if at is None:
            raise BadLog("Seconds since 1970 stand in one column; choose it as date and time.")
        shown = _cells(frame, mapping, at)
        numbers = _cast(shown, mapping.decimal).fill_null(float("nan")).to_numpy()
        local = numbers / (1000.0 if mapping.order == "epoch_ms" else 1.0)
        local = np.where((local > 6e8) & (local < 4.2e9), local, np.nan)
        offset = np.zeros(rows)
    elif at is not None:
        shown = _cells(frame, mapping, at)
        parts = _parts(shown, "moment")
        local = days(_three(parts), mapping.order) * DAY_S + clock(*_four(parts, 3))
        offset = _offsets(parts[7])
    else:
        date, time = mapping.at("date") or 0, mapping.at("clock") or 0
        shown, parts = _cells(frame, mapping, date), _parts(_cells(frame, mapping, time), "clock")
        local = days(_three(_parts(shown, "date")), mapping.order) * DAY_S + clock(*_four(parts, 0))
        offset = _offsets(parts[4])
    wrong = np.flatnonzero(np.isnan(local))
    if len(wrong):
        name = mapping.columns[at if at is not None else mapping.at("date") or 0].name
        cell = shown[int(wrong[0])]
        gathered.trouble(
            "rows have no moment and are left out",
            len(wrong),
            int(lines[wrong[0]]),
            name,
            "" if cell is None else str(cell),
        )
    gathered.local_s.append(np.asarray(local, dtype=np.float64))
    gathered.offset_s.append(offset)


def _parts(cells: pl.Series, kind: str) -> list[pl.Series]:
    fields = cells.str.extract_groups(PARTS[kind]).struct
    return [fields.field(name) for name in fields.fields]


def _number(part: pl.Series) -> Floats:
    text = part.str.replace(",", ".", literal=True).cast(pl.Float64, strict=False)
    return np.asarray(text.fill_null(float("nan")).to_numpy(), dtype=np.float64)


def _three(parts: list[pl.Series]) -> tuple[Floats, Floats, Floats]:
    return _number(parts[0]), _number(parts[1]), _number(parts[2])


def _four(parts: list[pl.Series], at: int) -> tuple[Floats, Floats, Floats, Floats]:
    half = parts[at + 3].str.to_lowercase()
    afternoon = (half == "p").cast(pl.Float64).fill_null(float("nan")).to_numpy()
    return _number(parts[at]), _number(parts[at + 1]), np.nan_to_num(_number(parts[at + 2])), np.asarray(afternoon)


def _offsets(part: pl.Series) -> Floats:
    """Offsets from UTC as written [s]; not a number where none is."""
    found = part.str.extract_groups(r"^([+-])(\d{2}):?(\d{2})$").struct
    sign, hours, minutes = (found.field(name) for name in found.fields)
    ahead = np.where((sign == "-").fill_null(False).to_numpy(), -1.0, 1.0) * (
        3600 * _number(hours) + 60 * _number(minutes)
    )
    plain = part.is_in(["Z", "UTC", "GMT"]).fill_null(False).to_numpy()
    return np.asarray(np.where(plain, 0.0, ahead))
