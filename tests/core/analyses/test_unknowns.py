"""What is still unknown: a gap that is said to change nothing changes no stop either."""

from __future__ import annotations

import random

import pytest

from olvask.core.analyses.unknowns import unknowns
from olvask.core.assess import assess
from olvask.core.findings.remedy import with_change
from olvask.core.model import Design
from tests.core.analyses.test_recommended import survey

# For 12 V, as a survey leaves them open; what each may turn out to be.
OPEN = {
    "vehicle.readings.rest_v": (12.2, 12.9),
    "vehicle.readings.after_stop_v": (12.5, 13.3),
    "vehicle.alternator.hot_idle_share": (0.35, 0.7),
    "vehicle.alternator.sag_mohm": (1.0, 8.0),
}


def _with(design: Design, path: str, value: float | None) -> Design:
    document = design.model_dump(mode="json")
    with_change(document, path, value)
    return Design.model_validate(document)


def _stops(design: Design) -> dict[str, str]:
    return {item.id: item.title for item in assess(design, remedies=False, words=False).stops}


@pytest.mark.parametrize("seed", range(12))
def test_a_stop_that_a_gap_decides_is_told_with_it(seed: int) -> None:
    """Filled in at either end, the stops that come and go are those the list names; where none do, none is named."""
    design = survey(random.Random(f"open {seed}"))[0]
    for path in OPEN:
        design = _with(design, path, None)
    now, scale = _stops(design), design.vehicle.system_v / 12
    told = {item.path: item for item in unknowns(design)}
    for path, ends in OPEN.items():
        if path not in told:
            continue
        factor = 1.0 if path.endswith("share") else scale
        found = [_stops(_with(design, path, end * factor)) for end in ends]
        come = {title for stops in found for at, title in stops.items() if at not in now}
        gone = {title for at, title in now.items() if any(at not in stops for stops in found)}
        effect = told[path].effect
        for word, titles in (("bring", come), ("clear", gone)):
            _, _, named = effect.partition(f"may {word} the stop")
            assert all(f"“{title}”" in named.partition(";")[0] for title in titles)
        assert effect.count("“") == len(come) + len(gone)
        assert told[path].matters or not come | gone
