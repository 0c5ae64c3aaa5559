"""Readings narrow what is believed: all at once as one by one, in any order, by the textbook's own formula."""

from __future__ import annotations

import numpy as np
import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.beliefs import Beliefs
from olvask.core.stages.prove.plant import Plant
from olvask.core.stages.prove.unknowns import constants_of
from tests.designs import design

SUPPOSITIONS, UNKNOWNS, READINGS = 5, 7, 11


@pytest.mark.parametrize("some_not_known", [False, True])
def test_all_at_once_is_one_by_one(some_not_known: bool) -> None:
    """Volts and milliohms beside each other, meters fine and coarse, one reading taken twice."""
    pick = np.random.default_rng(5)
    root = pick.normal(size=(SUPPOSITIONS, UNKNOWNS, UNKNOWNS)) * 10.0 ** pick.uniform(-4, 1, UNKNOWNS)[:, None]
    covariance = root @ np.swapaxes(root, 1, 2)
    means, at = pick.normal(size=(2, SUPPOSITIONS, UNKNOWNS))
    slopes = pick.normal(size=(SUPPOSITIONS, READINGS, UNKNOWNS)) * 10.0 ** pick.uniform(-2, 2, READINGS)[:, None]
    slopes[:, -1] = slopes[:, 0]
    missed = pick.normal(size=(SUPPOSITIONS, READINGS))
    sigmas = 10.0 ** pick.uniform(-3, 1, READINGS)
    known = pick.random((SUPPOSITIONS, READINGS)) < 0.6 if some_not_known else np.ones((SUPPOSITIONS, READINGS), bool)
    begun = Beliefs(
        Plant(constants_of(Context.of(design()))),
        means,
        covariance,
        np.ones_like(means),
        np.zeros(SUPPOSITIONS, int),
        np.zeros(SUPPOSITIONS),
    )
    found = begun._updated(slopes, missed, at, sigmas, known if some_not_known else None)
    for row in range(SUPPOSITIONS):
        mean, spread, logged = means[row].copy(), covariance[row].copy(), 0.0
        for each in pick.permutation(READINGS):
            if not known[row, each]:
                continue
            slope, noise = slopes[row, each], sigmas[each] ** 2
            over = missed[row, each] - slope @ (mean - at[row])
            variance = slope @ spread @ slope + noise
            gain = spread @ slope / variance
            mean, spread = mean + gain * over, spread - np.outer(gain, slope @ spread)
            logged -= 0.5 * (over**2 / variance + np.log(2 * np.pi * variance))
        scale = np.sqrt(np.diag(covariance[row]))
        assert found.means[row] / scale == pytest.approx(mean / scale, abs=1e-5)
        assert found.covariance[row] / np.outer(scale, scale) == pytest.approx(
            spread / np.outer(scale, scale), abs=1e-6
        )
        assert found.logged[row] == pytest.approx(logged, rel=1e-6)
