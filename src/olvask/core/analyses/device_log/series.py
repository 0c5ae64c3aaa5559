"""A device's log once it is read: moments and what was measured at them.

- `Log`: the columns.
- `noise_of`: what a measure differs by from row to row.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from olvask.core.model.device_log import Measured

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Places = NDArray[np.int_]
GAP_STEPS, GAP_S = 5.0, 60.0  # as many usual steps, and as long: what is less is a row or two missed


@dataclass(frozen=True)
class Log:
    """Moments in order, each once, and what was measured; what is missing is no number.

    Attributes:
        time_s: seconds since 1970, UTC, rising; shape (rows,).
        values: by measure, in its own unit; shape (rows,) each, 32 bits.
    """

    time_s: Floats
    values: Mapping[Measured, NDArray[np.float32]]

    def __len__(self) -> int:
        """Rows."""
        return len(self.time_s)

    @cached_property
    def every_s(self) -> float:
        """The usual time from one row to the next [s]."""
        return float(np.median(np.diff(self.time_s))) if len(self) > 1 else 0.0

    @cached_property
    def gap(self) -> Bools:
        """Whether something is missing between a row and the next; shape (rows − 1,)."""
        return np.asarray(np.diff(self.time_s) > max(GAP_S, GAP_STEPS * self.every_s))

    @property
    def gaps(self) -> list[tuple[float, float]]:
        """Where something is missing: from and to [s since 1970]."""
        return [(float(self.time_s[at]), float(self.time_s[at + 1])) for at in np.flatnonzero(self.gap)]

    @cached_property
    def step_s(self) -> Floats:
        """What each row stands for: the time to the next, none where something is missing; shape (rows,)."""
        found = np.append(np.where(self.gap, 0.0, np.diff(self.time_s)), 0.0) if len(self) else np.zeros(0)
        return np.asarray(found)

    def get(self, *names: Measured) -> Floats | None:
        """The first of some measures that the log has."""
        for name in names:
            if name in self.values:
                return np.asarray(self.values[name], dtype=np.float64)
        return None

    def between(self, from_s: float, to_s: float) -> Log:
        """The rows of a while.

        Args:
            from_s: from then on [s since 1970].
            to_s: up to then.
        """
        return self.part(self.rows(from_s, to_s))

    def rows(self, from_s: float, to_s: float) -> slice:
        """Which rows a while has.

        Args:
            from_s: from then on [s since 1970].
            to_s: up to then.
        """
        first, last = np.searchsorted(self.time_s, [from_s, to_s])
        return slice(int(first), int(last))

    def part(self, rows: slice) -> Log:
        """Some of the rows."""
        return Log(self.time_s[rows], {name: column[rows] for name, column in self.values.items()})


def noise_of(values: Floats) -> float:
    """What values differ by from row to row where nothing happens.

    Args:
        values: by row; what is no number is left out.
    """
    steps = np.abs(np.diff(values[np.isfinite(values)][:50000]))
    return float(np.median(steps)) if len(steps) else 0.0
