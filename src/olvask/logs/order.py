"""Rows of a log put in order of time, each moment once, and what cannot be told by a single cell.

- `ordered`: the columns in the end.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from olvask.core.analyses.device_log.series import Log
from olvask.core.model.device_log import MEASURES, LogMapping, Measured
from olvask.logs.gathered import LEAST_LOOKED, Floats, Gathered, LogRead, bearable
from olvask.logs.moments import utc
from olvask.logs.sniff import BadLog

FEW_V, JUMP = 5.0, 0.35  # of any battery; of a value, from one row to the next and back
THOUSAND = (700.0, 1400.0)  # times: volts do not differ so, units do
MONTH_S, DAY_S = 27 * 86400.0, 86400.0


def ordered(gathered: Gathered, mapping: LogMapping, lines: int) -> LogRead:
    """Rows in order of time, each moment once."""
    local, offset = np.concatenate(gathered.local_s), np.concatenate(gathered.offset_s)
    numbers = np.concatenate(gathered.lines)
    values = {name: np.concatenate(pieces) for name, pieces in gathered.values.items()}
    for pieces in (gathered.local_s, gathered.offset_s, gathered.lines, gathered.values):
        pieces.clear()  # of a million rows each is worth some megabytes
    falling = np.count_nonzero(np.diff(local) < 0) > 0.5 * max(1, len(local) - 1)
    if falling:  # newest first
        local, offset, numbers = local[::-1], offset[::-1], numbers[::-1]
        values = {name: column[::-1] for name, column in values.items()}
    time_s = local - offset
    if mapping.order not in ("epoch_s", "epoch_ms") and np.isnan(offset).any():
        shown, never = utc(local, mapping.zone)
        time_s = np.where(np.isnan(offset), shown, time_s)
        _never(never * np.isnan(offset), numbers, mapping, gathered)
    del local, offset
    good = ~np.isnan(time_s)
    _months(time_s[good], mapping)
    time_s, numbers = time_s[good], numbers[good]
    values = {name: column[good] for name, column in values.items()}
    back = np.flatnonzero(np.diff(time_s) < 0)
    if len(back):
        gathered.trouble("times its clock went back; rows are put in order", len(back), int(numbers[back[0] + 1]))
        order = np.argsort(time_s, kind="stable")
        time_s, numbers = time_s[order], numbers[order]
        values = {name: column[order] for name, column in values.items()}
    twice = np.flatnonzero(np.diff(time_s) == 0) + 1
    if len(twice):
        if len(twice) > 0.5 * len(time_s) and len(time_s) - len(twice) < 0.1 * len(time_s):
            raise BadLog(
                "Most rows bear the same moment as the one before; is the right column chosen for date and time?"
            )
        gathered.trouble("rows bear a moment again; the first of each is kept", len(twice), int(numbers[twice[0]]))
        once = np.ones(len(time_s), dtype=bool)
        once[twice] = False
        time_s, numbers = time_s[once], numbers[once]
        values = {name: column[once] for name, column in values.items()}
    _units(values, numbers, mapping)
    _jumps(values, numbers, gathered)
    if len(time_s) < 2:
        raise BadLog("Fewer than two rows bear a moment; nothing can be read from that.")
    return LogRead(Log(time_s, values), lines, tuple(gathered.troubles.values()))


def _units(values: dict[Measured, NDArray[np.float32]], lines: NDArray[np.int64], mapping: LogMapping) -> None:
    """Refuse volts that become a thousandth or a thousand times what they were: their unit changed."""
    for name, column in values.items():
        if MEASURES[name].unit != "V":
            continue
        usual = column[column > FEW_V]
        little = np.flatnonzero((column > 0) & (column < FEW_V / 50))
        if len(usual) < LEAST_LOOKED or len(little) < LEAST_LOOKED:
            continue
        ratio = float(np.median(usual)) / float(np.median(column[little]))
        if THOUSAND[0] < ratio < THOUSAND[1]:
            at = mapping.at(name) or 0
            raise BadLog(
                f"From line {int(lines[little[0]]):,} on “{mapping.columns[at].name}” is about a thousandth of what it is "
                "elsewhere: its unit changes. Save both parts as logs of their own."
            )


def _jumps(values: dict[Measured, NDArray[np.float32]], lines: NDArray[np.int64], gathered: Gathered) -> None:
    """Leave out a row whose cells are another column's: several jump away and back, or one does and another is none."""
    columns = [
        column for name, column in values.items() if name not in ("input_a", "output_a", "auxiliary_a", "charging")
    ]
    if len(lines) < 5 or len(columns) < 2:
        return
    jumped = np.zeros(len(lines), dtype=np.int8)
    for column in columns:
        near = np.sort(np.stack([column[:-4], column[1:-3], column[3:-1], column[4:]]), axis=0)
        around = 0.5 * (near[1] + near[2])  # one of the four may be out itself
        steady = near[2] - near[1] <= 0.05 * np.abs(around) + 0.2
        away = np.abs(column[2:-2] - around) > JUMP * np.abs(around) + 0.5
        jumped[2:-2] += (steady & away).astype(np.int8)
    lost = np.zeros(len(lines), dtype=bool)
    for column in values.values():
        missing = np.isnan(column)
        lost[1:-1] |= missing[1:-1] & ~missing[:-2] & ~missing[2:]
    rows = np.flatnonzero((jumped >= 2) | ((jumped == 1) & lost))
    if len(rows):
        gathered.trouble(
            "rows jump away from those before and after in several columns and are left out",
            len(rows),
            int(lines[rows[0]]),
        )
        for column in values.values():
            column[rows] = np.nan
    bearable(gathered)


def _never(never: Floats, numbers: NDArray[np.int64], mapping: LogMapping, gathered: Gathered) -> None:
    """Say that the clock showed an hour its zone leaves out in spring."""
    places = np.flatnonzero(never)
    if len(places):
        gathered.trouble(
            f"rows show an hour that {mapping.zone} leaves out in spring: its clock was in another zone",
            len(places),
            int(numbers[places[0]]),
        )


def _months(time_s: Floats, mapping: LogMapping) -> None:
    """Refuse days taken for months: dates that jump by months where rows follow one another."""
    if mapping.order not in ("dmy", "mdy") or len(time_s) < LEAST_LOOKED:
        return
    steps = np.abs(np.diff(time_s))
    jumps = np.count_nonzero(steps > MONTH_S)
    if jumps >= 2 and jumps >= 0.3 * np.count_nonzero(steps > DAY_S / 2):
        other = "month first" if mapping.order == "dmy" else "day first"
        raise BadLog(f"Dates jump by months {jumps} times; are they written {other}? Choose how dates are written.")
