"""Distances that a stop keeps, and how far a unit is turned down for them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.wake.remedies import less_current
from tests.designs import charger, design

BY_VOLTS = {"ways": ["voltage"]}


def told(**changes: Any) -> set[str]:
    """Names of what is found."""
    return {item.id for item in assess(design(**changes), remedies=False).findings}


@pytest.mark.parametrize(("off_v", "tight"), [(-0.05, True), (-0.14, True), (-0.16, False), (-0.4, False)])
def test_under_the_loaded_volts_by_the_margin(off_v: float, tight: bool) -> None:
    """0.15 V under the volts that full current leaves; the floor above resting is far below here."""
    at = Context.of(design(activation=BY_VOLTS)).thresholds
    assert at.loaded_low_v is not None
    assert at.margin_v == pytest.approx(0.15)
    stop_v = at.loaded_low_v + off_v
    assert stop_v > at.floor_v + 0.01
    found = told(activation=BY_VOLTS | {"stop_v": stop_v, "start_v": at.loaded_low_v + 0.3})
    assert ("wake.stop_tight" in found) is tight
    assert "wake.hunts" not in found


@pytest.mark.parametrize(("over_v", "tight"), [(0.02, True), (0.13, True), (0.17, False)])
def test_over_the_resting_volts_by_the_margin(over_v: float, tight: bool) -> None:
    """0.15 V over the highest volts of a stopped engine."""
    at = Context.of(design(activation=BY_VOLTS)).thresholds
    found = told(activation=BY_VOLTS | {"stop_v": at.rest_high_v + over_v})
    assert ("wake.stop_tight" in found) is tight


@pytest.mark.parametrize(
    ("least_a", "opens_at_a", "set_to_a"),
    [
        (5.0, 12.0, 12.0),  # the largest that opens it
        (5.0, 5.0, 5.0),  # as low as it goes
        (5.0, 4.0, None),  # lower than it goes
        (4.5, 5.0, 5.0),
        (None, 1.0, 1.0),
    ],
)
def test_turned_down_no_further_than_it_goes(least_a: float | None, opens_at_a: float, set_to_a: float | None) -> None:
    """Whole amperes from one under its rating to the least that it can be set to."""
    job = design(charger=charger(limit_min_a=least_a))

    def opens(candidate: Design) -> bool:
        assert candidate.current_limit_a is not None
        return candidate.current_limit_a <= opens_at_a

    found = less_current(job, opens)
    if set_to_a is None:
        assert found is None
    else:
        assert found is not None
        assert found.changes[0].value == set_to_a
