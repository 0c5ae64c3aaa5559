"""What was read of a log so far, and what was left out of it.

- `Gathered`: columns and troubles; `LogRead`: in the end.
- `bearable`: refuses a file of which too much is left out.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from olvask.core.analyses.device_log.series import Log
from olvask.core.model.device_log import Measured
from olvask.logs.sniff import BadLog

Floats = NDArray[np.float64]
MOST_BAD = 0.02  # of rows or of a column's cells; with more, the mapping is wrong or the file is spoilt
LEAST_LOOKED = 50  # rows before a share says anything


@dataclass(slots=True)
class Trouble:
    """What was left out for one reason: how often, and where first."""

    words: str
    count: int
    line: int
    column: str = ""
    cell: str = ""

    @property
    def text(self) -> str:
        """In a sentence."""
        where = f"first in line {self.line:,}" + (f", “{self.column}”: {self.cell[:30]!r}" if self.column else "")
        return f"{self.count:,} {self.words}; {where}."


@dataclass(frozen=True, slots=True)
class LogRead:
    """A log's columns, and what was left out of them."""

    log: Log
    lines: int
    troubles: tuple[Trouble, ...]


@dataclass(slots=True)
class Gathered:
    """What is read so far."""

    local_s: list[Floats] = field(default_factory=list)
    offset_s: list[Floats] = field(default_factory=list)
    lines: list[NDArray[np.int64]] = field(default_factory=list)
    values: dict[Measured, list[NDArray[np.float32]]] = field(default_factory=dict)
    troubles: dict[tuple[str, str], Trouble] = field(default_factory=dict)
    rows: int = 0

    def trouble(self, words: str, count: int, line: int, column: str = "", cell: str = "") -> None:
        """Count what is left out."""
        found = self.troubles.setdefault((words, column), Trouble(words, 0, line, column, cell))
        found.count += count


def bearable(gathered: Gathered) -> None:
    """Refuse a file of which too much is left out: its mapping is wrong, or it is spoilt."""
    for trouble in gathered.troubles.values():
        if trouble.count > MOST_BAD * gathered.rows and (gathered.rows >= LEAST_LOOKED or trouble.count > 2):
            raise BadLog(f"{trouble.text} That is too much to leave out: look at how the columns are mapped.")
