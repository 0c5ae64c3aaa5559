"""Where the windows of start and stop begin, by hand."""

from __future__ import annotations

import pytest

from olvask.core.circuit.context import Context
from tests.designs import design


def test_beside_a_signal_the_windows_begin_clear_of_parked_volts() -> None:
    """Where there is room for it: the margin over the highest engine-off volts, as by voltage alone."""
    at = Context.of(design(activation={"ways": ["d_plus", "voltage"]})).thresholds
    assert at.start_high_v > at.rest_high_v + at.margin_v
    assert at.floor_v == pytest.approx(at.rest_high_v + at.margin_v)
