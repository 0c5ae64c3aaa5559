"""A unit put in "with these runs" brings no stop that its row on the shelf did not name."""

from __future__ import annotations

import random

from olvask.core.analyses.fit import fit_unit
from olvask.core.analyses.rank import rank_units
from olvask.core.assess import assess
from olvask.core.model.shelf import chargers
from tests.core.analyses.test_recommended import survey

SURVEYS = 40


def test_a_fitted_unit_brings_no_stop() -> None:
    """Over random surveys every unit that is said to fit, laid with its own runs, is assessed without a stop."""
    units = {unit.id: unit for unit in chargers()}
    fitted = 0
    for seed in range(SURVEYS):
        job = survey(random.Random(seed))[0]
        for row in rank_units(job, units.values()):
            if row.fit == "no":
                assert row.reason
                continue
            stops = [item.id for item in assess(fit_unit(job, units[row.id]), remedies=False).stops]
            assert stops == [], (seed, row.id)
            fitted += 1
    assert fitted > SURVEYS
