"""Comparisons that forgive what rounding leaves, so that a figure set exactly at its bound is within it.

- `over`, `under`: past a bound by more than that.
"""

from __future__ import annotations

from typing import Final

SLACK: Final = 1e-6  # of a volt, ampere, hour or per cent: no meter shows it and no shop sells it; our own estimate


def over(value: float, bound: float) -> bool:
    """Whether a value is above a bound, and not by rounding alone.

    Args:
        value: the value, in any unit.
        bound: in the same.
    """
    return value > bound + SLACK


def under(value: float, bound: float) -> bool:
    """Whether a value is below a bound, and not by rounding alone.

    Args:
        value: the value, in any unit.
        bound: in the same.
    """
    return value < bound - SLACK
