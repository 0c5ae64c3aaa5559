"""Other sources judged by what they hold, not by the name of their profile."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from tests.designs import plain

LFP = {
    "chemistry": "lfp",
    "capacity_ah": 100.0,
    "charge_limit_a": 50.0,
    "absorption_v": 14.2,
    "low_temperature_cut_off": True,
}
AGM = {"chemistry": "agm", "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 14.4}


def told(battery: dict[str, Any], profile: str | None, **stages: Any) -> Finding | None:
    """What is said of a mains charger on a battery."""
    charger = {"kind": "mains_charger", "charge_a": 15.0, "profile": profile, "stages": stages}
    design = Design.model_validate(plain(auxiliary=battery, existing=[charger]))
    found = assess(design, remedies=False).findings
    return next((item for item in found if item.id == "settings.source.existing.e1"), None)


@pytest.mark.parametrize(
    ("battery", "profile", "stages", "level"),
    [
        (LFP, None, {}, None),  # set for it, as far as is known
        (LFP, "lfp", {}, None),
        (LFP, "flooded", {}, "caution"),  # 14.6 V is within what it takes; whether it fills it the audit says
        (LFP, "flooded", {"absorption_v": 15.0}, "stop"),
        (LFP, "lfp", {"equalise": True}, "stop"),  # on lithium never
        (LFP, "lfp", {"compensation_mv_per_k": -24.0}, "stop"),  # 0.84 V too much at -10 °C
        (LFP, "lfp", {"float_v": 14.0}, "caution"),
        (LFP, "lfp", {"float_v": 14.0, "after": "rest"}, None),  # it holds no float
        (AGM, "agm", {}, None),
        (AGM, "gel", {}, None),  # a tenth low hurts nobody
        (AGM, "lfp", {}, "caution"),
        (AGM, "agm", {"absorption_v": 15.2}, "stop"),
        (AGM, "agm", {"equalise": True}, "caution"),  # few makers allow it
    ],
)
def test_the_level(battery: dict[str, Any], profile: str | None, stages: dict[str, Any], level: str | None) -> None:
    """By the band of each quantity, and a caution where it is set for the other kind of battery."""
    found = told(battery, profile, **stages)
    assert (found.level if found else None) == level


def test_noting_it_as_reset_takes_the_finding_away() -> None:
    """One click: set for the battery, nothing said of its stages."""
    charger = {"kind": "mains_charger", "charge_a": 15.0, "profile": "flooded", "stages": {"equalise": True}}
    design = Design.model_validate(plain(auxiliary=LFP, existing=[charger]))
    found = next(item for item in assess(design).findings if item.id == "settings.source.existing.e1")
    mended = apply(design, found.remedies[0])
    assert "settings.source.existing.e1" not in {item.id for item in assess(mended, remedies=False).findings}


def test_a_cut_charger_is_not_judged() -> None:
    """Taken out of use it harms nothing."""
    charger = {"kind": "mains_charger", "charge_a": 15.0, "profile": "flooded", "cut": True}
    design = Design.model_validate(plain(auxiliary=LFP, existing=[charger]))
    assert not any(item.id.startswith("settings.source") for item in assess(design, remedies=False).findings)
