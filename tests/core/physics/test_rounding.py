"""Comparisons that forgive rounding: a tenth of a millionth is none, ten millionths are."""

from __future__ import annotations

import pytest

from olvask.core.physics.rounding import over, under


@pytest.mark.parametrize(("by", "past"), [(0.0, False), (1e-7, False), (1e-5, True), (1.0, True)])
@pytest.mark.parametrize("bound", [-5.0, 0.0, 30.0])
def test_past_a_bound(bound: float, by: float, past: bool) -> None:
    """Above and below alike; on the other side never."""
    assert over(bound + by, bound) is past
    assert under(bound - by, bound) is past
    assert not over(bound - 1.0, bound)
    assert not under(bound + 1.0, bound)


def test_sums_that_come_out_beside_their_bound() -> None:
    """Three tenths are not over 0.3, whichever way they are summed."""
    assert 0.1 + 0.2 > 0.3
    assert not over(0.1 + 0.2, 0.3)
    assert not under(0.3, 0.1 + 0.2)
