"""Figures in a sentence: where one is past the other they never read alike, and a share stands apart from its sign."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.assess import assess
from olvask.core.findings.figure import show
from olvask.core.findings.finding import Finding
from olvask.core.findings.listed import apart, away, percent
from olvask.core.model import Design
from tests.core.analyses.test_recommended import survey
from tests.core.test_laws import COUNT

NEAR = 2e-4  # of the figure that is moved: as near its edge as a finding is looked at
FIGURE = re.compile(r"(\d+(?:\.\d+)?) (V|A|%|times)\b")
MOVED = (("vehicle", "readings", "idle_v"), ("vehicle", "alternator", "rated_a"), ("auxiliary", "charge_limit_a"))
SAID = ("match.battery_limit", "match.alternator_budget", "run.ampacity", "run.below", "run.above", "protect.fault")
WAKES = ("wake.never_starts", "wake.hunts", "wake.guarded_running", "wake.back_unreachable", "wake.starts_parked")


@pytest.mark.parametrize(
    ("value", "bound", "decimals", "entered", "told"),
    [
        (58.3, 50.0, 1, False, ("58.3", "50.0")),
        (80.3, 80, 0, False, ("80.3", "80.0")),
        (4.98, 5.0, 1, True, ("4.98", "5")),
        (24.497, 24.5, 2, False, ("24.497", "24.500")),
        (12.0, 12.0, 2, False, ("12.00", "12.00")),
    ],
)
def test_as_many_decimals_as_tell_them_apart(
    value: float, bound: float, decimals: int, entered: bool, told: tuple[str, str]
) -> None:
    """The usual ones where those do, more where they would read alike, the usual ones where nothing lies between."""
    assert apart(value, bound, decimals, entered) == told


def test_a_share_and_its_sign() -> None:
    """ISO 80000-1: a space before the sign, as before any unit."""
    assert (percent(0.6), percent(0.1234, 1)) == ("60 %", "12.3 %")


@pytest.mark.parametrize(
    ("by_v", "told"),
    [
        (0.3, "0.30 V above resting"),
        (-0.3, "0.30 V under resting"),
        (0.004, "level with resting"),
        (0.0, "level with resting"),
    ],
)
def test_how_far_from_another(by_v: float, told: str) -> None:
    """Volts that two decimals do not part stand level; nobody is told that one is 0.00 V above the other."""
    assert away(by_v, "resting") == told


@pytest.mark.parametrize(
    ("ohm", "told"),
    [(0.1, "0.1 Ω"), (999.0, "999.0 Ω"), (1000.0, "1.0 kΩ"), (47e3, "47.0 kΩ"), (1e6, "over 1 MΩ"), (5e7, "over 1 MΩ")],
)
def test_ohms_as_a_meter_shows_them(ohm: float, told: str) -> None:
    """With a larger unit from a thousand on; past a million the display says no more than that nothing conducts."""
    assert show(ohm, "Ω") == told


def _looked_at(plain: dict[str, Any]) -> dict[str, Finding]:
    found = assess(Design.model_validate(plain), remedies=False).findings
    return {item.id: item for item in found if item.id.startswith(SAID + WAKES)}


def _edges(plain: dict[str, Any], path: tuple[str, ...]) -> Iterator[Finding]:
    """Findings that come or go as one figure moves, each just past where it does."""
    holder = plain
    for key in path[:-1]:
        holder = holder[key]
    there = holder[path[-1]]
    if there is None:
        return

    def at(value: float) -> dict[str, Finding]:
        holder[path[-1]] = value
        return _looked_at(plain)

    low, high = 0.85 * there, 1.15 * there
    for name in sorted(at(low).keys() ^ at(high).keys()):
        without, given = (low, high) if name in at(high) else (high, low)
        while abs(given - without) > NEAR * there:
            middle = (given + without) / 2
            without, given = (without, middle) if name in at(middle) else (middle, given)
        yield at(given)[name]
    holder[path[-1]] = there


@COUNT
@given(st.integers(0, 100_000), st.sampled_from(MOVED))
def test_just_past_its_edge_a_finding_says_by_what(seed: int, path: tuple[str, ...]) -> None:
    """What it holds against one another reads as two figures; “24.50 V; the guard stands at 24.50 V” explains nothing."""
    for found in _edges(survey(random.Random(seed))[0].model_dump(mode="json"), path):
        (first, unit), (second, other) = FIGURE.findall(f"{found.title} {found.text}")[:2]
        assert unit != other or float(first) != float(second), found.text
