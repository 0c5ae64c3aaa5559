"""What a screen hides has no say: an entry left from before, where its field is not shown, changes no finding."""

from __future__ import annotations

import random
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import with_change
from olvask.core.model import Design
from tests.core.analyses.test_recommended import survey

ENGINE = {"vehicle.drive": "engine"}
FIXED = ENGINE | {"vehicle.alternator.regulation": "fixed", "vehicle.readings.low_phase_v": None}
# What hides a field, the field, and two things it may say.
HIDDEN: tuple[tuple[dict[str, Any], str, tuple[Any, Any]], ...] = (
    ({"vehicle.drive": "converter"}, "vehicle.alternator.regulation", ("fixed", "managed")),
    (FIXED, "vehicle.readings.low_phase_s", (None, 600.0)),
    ({"vehicle.source_point.kind": "battery_post"}, "vehicle.source_point.rating_a", (None, 30.0)),
    ({"vehicle.source_point.kind": "alternator_stud"}, "vehicle.source_point.rating_a", (None, 30.0)),
    ({"solar.panel_w": None}, "solar.into", ("controller", "start_side")),
    ({"solar.panel_w": None}, "solar.share_driving", (0.0, 1.0)),
    ({"solar.panel_w": 120.0, "solar.into": "second_input"}, "solar.profile", (None, "gel")),
    ({"charge.equalise": False}, "charge.equalise_v", (None, 17.0)),
    ({"charge.after": "rest"}, "charge.float_v", (None, 15.9)),
    ({"mount.around": "open"}, "mount.room_c", (None, 55.0)),
    ({"mount.around": "open"}, "mount.width_mm", (None, 60.0)),
    ({"mount.around": "shut"}, "mount.vent_low_cm2", (0.0, 100.0)),
    ({"units": 1}, "mount.spacing_mm", (None, 0.0)),
    ({"activation.ways": ["ignition"]}, "activation.start_rules.0.at_least_v", (None, 15.4)),
    ({"activation.ways": ["d_plus"]}, "activation.start_rules.0.held_s", (1.0, 900.0)),
    ({"activation.ways": ["ignition"]}, "activation.stop_rules.0.below_v", (None, 10.6)),
    ({"activation.ways": ["switch"]}, "activation.stop_rules.0.held_s", (1.0, 900.0)),
    ({"old_link.decision": "disconnect"}, "old_link.feed_a", (None, 400.0)),
)


def found(document: dict[str, Any], path: str, value: Any) -> list[Finding]:
    """The findings on a document with one entry."""
    with_change(document, path, value)
    return list(assess(Design.model_validate(document)).findings)


@pytest.mark.parametrize(("hides", "path", "values"), HIDDEN, ids=lambda part: part if isinstance(part, str) else "")
def test_what_is_hidden_has_no_say(hides: dict[str, Any], path: str, values: tuple[Any, Any]) -> None:
    """On random surveys, whichever of the two it says."""
    for seed in range(8):
        document = survey(random.Random(f"hidden {seed}"))[0].model_dump(mode="json")
        for place, value in hides.items():
            with_change(document, place, value)
        first, second = (found(document, path, value) for value in values)
        assert first == second, seed
