"""What was measured on one vehicle is another's only until it is measured again; the work itself is the same."""

from __future__ import annotations

import pytest

from olvask.core.analyses.changes import changes_between
from olvask.core.analyses.next_vehicle import MEASURED_HERE, next_vehicle
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.prove.unknowns import unknowns_of
from olvask.store.demo import demo_designs
from tests.anything import anything

VAN = next(design for heading, design in demo_designs() if heading.code == "KV-118")


def test_the_work_is_the_same_and_nothing_passes_for_measured() -> None:
    """Every value stands as it was but for what was done at that vehicle's own devices; none is called measured."""
    for seed in range(40):
        design = anything(seed)
        taken = next_vehicle(design)
        found = changes_between(design, taken)
        assert {change.area for change in found} <= {"Keyed into the unit", "Battery monitor", "Unit"}
        assert {change.path for change in found if change.area == "Unit"} <= {"access_code_changed"}
        assert "measured" not in {str(origin) for origin in taken.provenance.values()}
        assert taken.keyed == ()


def test_it_is_said_until_it_is_measured_again() -> None:
    """A caution names what is copied; measuring one takes one off; bands are as wide as for what nobody measured."""
    taken = next_vehicle(VAN)
    (found,) = [item for item in assess(taken).findings if item.id == "survey.copied"]
    assert found.level == "caution"
    count = len(found.concerns)
    assert "vehicle.readings.idle_v" in found.concerns
    document = taken.model_dump(mode="json")
    document["provenance"]["vehicle.readings.idle_v"] = "measured"
    (fewer,) = [item for item in assess(Design.model_validate(document)).findings if item.id == "survey.copied"]
    assert len(fewer.concerns) == count - 1
    spread = {item.name: item.sigma for item in unknowns_of(Context.of(taken))}
    own = {item.name: item.sigma for item in unknowns_of(Context.of(VAN))}
    assert spread["regulated_v"] > own["regulated_v"]
    assert set(found.concerns) >= {path for path in MEASURED_HERE if path in VAN.provenance}


@pytest.mark.parametrize(("copied", "words"), [(1, ""), (5, ""), (6, "; and 1 more"), (8, "; and 3 more")])
def test_five_that_are_copied_are_named(copied: int, words: str) -> None:
    """The others are counted."""
    paths = [path for path in MEASURED_HERE if path.startswith("vehicle.readings.")][:copied]
    paths += [f"vehicle.alternator.{name}" for name in ("sag_mohm", "loads_idle_a", "loads_cruise_a", "hot_idle_share")]
    provenance = dict.fromkeys(paths[:copied], "copied")
    job = Design.model_validate(VAN.model_dump(mode="json") | {"provenance": provenance})
    (found,) = [item for item in assess(job, remedies=False).findings if item.id == "survey.copied"]
    assert len(found.concerns) == copied
    assert found.text.endswith(f"{words}.")
    assert ("more" in found.text) is bool(words)
