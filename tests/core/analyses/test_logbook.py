"""A drift is found before it matters, scatter is not taken for one, and the date is that of a line by hand."""

from __future__ import annotations

import random
from collections.abc import Sequence

import pytest

from olvask.core.analyses.logbook import SPREAD, Followed, Noted, Trend, trends_of
from olvask.core.circuit.context import Context
from olvask.store.demo import demo_designs

CTX = Context.of(next(design for heading, design in demo_designs() if heading.code == "KV-118"))


def trend(key: Followed, rows: Sequence[tuple[float, float]]) -> Trend:
    (found,) = trends_of(CTX, {key: [Noted(day=day, value=value) for day, value in rows]})
    return found


def test_a_growing_loop_is_told_with_when_it_matters() -> None:
    """8.5 mΩ and a fifth more every 30 days, read exactly: the limit over the slope by hand, in days from the last reading."""
    found = trend("loop_mohm", [(day, 8.5 + 0.2 * day / 30) for day in (0, 90, 180, 270, 360)])
    assert found.per_month == pytest.approx(0.2 * 30.44 / 30, rel=1e-6)
    assert found.limit is not None
    drawn = CTX.solved.running[0].drawn
    assert drawn is not None
    assert found.limit == pytest.approx(1000 * (drawn.post_v - CTX.linger_v) / drawn.current_a)
    assert found.in_days == pytest.approx((found.limit - 10.9) / (0.2 / 30), rel=1e-6)
    assert found.level == "caution"
    assert "months" in found.text


def test_scatter_is_no_drift() -> None:
    """Two hundred steady vehicles read with the meter's own error: hardly any is said to drift."""
    pick, accused = random.Random(8), 0
    for _ in range(200):
        share, digits = SPREAD["standby_ma"]
        rows = [(day, pick.gauss(28.0, share * 28 + digits)) for day in range(0, 720, 90)]
        accused += trend("standby_ma", rows).in_days is not None
    assert accused / 200 <= 0.05


CASES: list[tuple[Followed, list[tuple[float, float]], str]] = [
    ("rest_start_v", [(0, 12.7), (1, 12.7)], "third reading"),
    ("rest_start_v", [(0, 12.7), (200, 12.68), (400, 12.71)], "steady"),
    ("standby_ma", [(0, 30.0), (100, 900.0)], "see to it now"),
    ("capacity_ah", [(0, 200.0), (400, 190.0), (800, 181.0), (1200, 156.0)], "counts as worn"),
]


@pytest.mark.parametrize(("key", "rows", "words"), CASES)
def test_each_case_has_its_sentence(key: Followed, rows: list[tuple[float, float]], words: str) -> None:
    """Too few, steady, past its limit, on the way there."""
    assert words in trend(key, rows).text
