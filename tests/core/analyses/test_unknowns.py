"""What is still unknown: a gap that is said to change nothing changes no stop either."""

from __future__ import annotations

import random
import re
from typing import Any

import pytest

from olvask.core.analyses.unknowns import unknowns
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import with_change
from olvask.core.model import Design
from tests.core.analyses.test_recommended import survey
from tests.designs import design, vehicle

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


@pytest.mark.parametrize("seed", range(12))
def test_what_stands_lies_between_what_may_be(seed: int) -> None:
    """Whatever is assumed meanwhile is one of the things that may turn out: the answer of today lies in every span told."""
    pick = random.Random(f"span {seed}")
    design = survey(pick)[0]
    for path in OPEN:
        design = _with(design, path, None)
    document = design.model_dump(mode="json")
    document["vehicle"]["drive"] = pick.choice(("engine", "converter"))
    document["vehicle"]["start_battery"]["chemistry"] = pick.choice(("lfp", "agm", "flooded"))
    document["vehicle"]["alternator"]["rated_a"] = pick.uniform(60, 120)
    document["choices"]["alternator_school"] = "surplus"
    design = Design.model_validate(document)
    allowed_a = assess(design, remedies=False).ruler.allowed_a
    assert allowed_a is not None
    for item in unknowns(design):
        if found := re.search(r"allowed between (\d+) and (\d+) A", item.effect):
            assert float(found[1]) - 0.51 <= allowed_a <= float(found[2]) + 0.51, item


def test_ranges_are_of_what_is_there() -> None:
    """A lithium start battery never rests at 12.2 V, and a DC converter gives all it has from the first moment."""
    lithium = design(vehicle=vehicle(start_battery={"chemistry": "lfp", "capacity_ah": 60}, readings={}))
    converter = {"rated_a": 25, "loads_idle_a": 2, "loads_cruise_a": 2}
    ready = design(vehicle=vehicle(drive="converter", alternator=converter), choices={"alternator_school": "surplus"})
    for job, path, low, high in (
        (lithium, "vehicle.readings.rest_v", 13.1, 13.6),
        (ready, "vehicle.alternator.hot_idle_share", 0.8, 1.0),
    ):
        told = next(item for item in unknowns(job) if item.path == path)
        ends = [_with(job, path, value) for value in (low, high)]
        starts = sorted(Context.of(end).thresholds.start_v for end in ends)
        amps = sorted(assess(end, remedies=False).ruler.allowed_a or 0.0 for end in ends)
        spans = [f"between {amps[0]:.0f} and {amps[1]:.0f} A", f"between {starts[0]:.2f} and {starts[1]:.2f} V"]
        assert any(span in told.effect for span in spans), told


@pytest.mark.parametrize(
    "changes",
    [
        {"vehicle": vehicle(readings={"rest_v": 64.0})},
        {"auxiliary": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 5000.0}, "use": {}},
    ],
)
def test_what_is_supposed_from_a_reading_at_its_limit_stays_within_limits(changes: dict[str, Any]) -> None:
    """64 V rested and a charge on top, twice the usual rate of the largest bank: no survey would take them."""
    assert unknowns(design(**changes))
