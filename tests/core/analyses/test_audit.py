"""The audit: who fills the battery, who stalls, what to do about each, by numbers and not by name."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.audit import Audit, SourceVerdict, audit
from olvask.core.analyses.audit_sources import sources_of
from olvask.core.circuit.solve import solve
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from tests.designs import plain, vehicle

LFP = {
    "chemistry": "lfp",
    "capacity_ah": 100.0,
    "charge_limit_a": 50.0,
    "absorption_v": 14.2,
    "low_temperature_cut_off": True,
}
LEAD = {"kind": "mains_charger", "name": "old", "charge_a": 30.0, "profile": "flooded"}
GIVES_UP = {"after": "rest", "rebulk_v": 12.6}


def job(*existing: dict[str, Any], **changes: Any) -> Design:
    """A lithium job with these old sources."""
    return Design.model_validate(plain(auxiliary=LFP, existing=list(existing)) | changes)


def one(found: Audit, kind: str) -> SourceVerdict:
    return next(item for item in found.sources if item.kind == kind)


def test_the_same_lead_profile_by_its_lead() -> None:
    """Through 42 mΩ (2.5 mm², 3 m and back: 17.24 * 6 / 2.5) it is left near half and does not resume; through 1 mΩ it fills,
    and that is said."""
    thin = one(audit(job(LEAD | {"wire_mm2": 2.5, "wire_m": 3.0, "stages": GIVES_UP})), "mains_charger")
    assert thin.lead_mohm == pytest.approx(1.724e-8 * 6 / 2.5e-6 * 1000, rel=1e-6)
    assert thin.stalls_at is not None
    assert 0.42 < thin.stalls_at < 0.6
    assert "not until a load pulls it down" in thin.why
    assert thin.verdict in ("reset", "replace")
    thick = one(audit(job(LEAD | {"wire_mm2": 95.0, "wire_m": 3.0, "stages": GIVES_UP})), "mains_charger")
    assert thick.stalls_at is None
    assert thick.verdict == "keep"
    assert "fills the battery" in thick.text


def test_its_own_profile_charges_at_full_current_to_a_few_per_cent_of_full() -> None:
    """The unit's 25 A from 40 to 95 %: 55 Ah / (25 A * 0.99) = 2.22 h, and its curve holds 25 A up to there."""
    unit = one(audit(job()), "unit")
    assert unit.hours_95 == pytest.approx(55 / (25 * 0.99), rel=0.01)
    held = [share for amps, share in zip(unit.curve.amps, unit.curve.charge, strict=True) if amps > 24.9]
    assert max(held) > 0.95


@pytest.mark.parametrize(
    ("adjustable", "kind", "verdict"), [("yes", "mains_charger", "reset"), ("no", "mains_charger", "replace")]
)
def test_what_stalls_is_reset_where_it_can_be(adjustable: str, kind: str, verdict: str) -> None:
    """With hours and money: a re-set costs less than another charger."""
    stages = GIVES_UP | {"adjustable": adjustable}
    found = one(audit(job(LEAD | {"kind": kind, "wire_mm2": 2.5, "wire_m": 3.0, "stages": stages})), kind)
    assert found.verdict == verdict
    assert found.hours > 0
    assert found.cost > (100 if verdict == "replace" else 0)


def test_what_harms_and_cannot_be_set_is_taken_away() -> None:
    """A portable charger at 15.5 V on lithium that nobody can set: disconnected. A mains charger: replaced."""
    stages = {"absorption_v": 15.5, "adjustable": "no"}
    portable = one(audit(job(LEAD | {"kind": "portable_charger", "stages": stages})), "portable_charger")
    assert portable.verdict == "disconnect"
    mains = one(audit(job(LEAD | {"stages": stages})), "mains_charger")
    assert mains.verdict == "replace"
    assert mains.harms[0].level == "stop"


def test_a_remedy_makes_it_agree() -> None:
    """Each source that is to be re-set, noted as re-set, is kept at the next look."""
    design = job(
        LEAD | {"wire_mm2": 16.0, "wire_m": 2.0, "stages": {"equalise": True, "adjustable": "yes"}},
        solar={"panel_w": 200.0, "profile": "agm", "stages": {"absorption_v": 14.9}},
    )
    for item in audit(design).sources:
        if item.verdict == "reset":
            assert item.remedy is not None
            design = apply(design, item.remedy)
    found = audit(design)
    assert {item.verdict for item in found.sources} == {"keep"}
    assert found.text == "Everything that charges agrees with this battery."


def test_a_link_gives_what_the_alternator_has_left() -> None:
    """Of 100 A nine tenths at speed less 60 A of loads are 30 A; loads that take all of it leave nothing, not the alternator's whole rating."""
    for loads_a, left_a in ((60.0, 30.0), (90.0, 0.0), (140.0, 0.0)):
        alternator = {"rated_a": 100.0, "regulation": "fixed", "loads_idle_a": loads_a, "loads_cruise_a": loads_a}
        design = job({"kind": "link", "name": "relay"}, vehicle=vehicle(alternator=alternator))
        (link,) = [item for item in sources_of(design, solve(design)) if item.kind == "link"]
        assert link.source.rated_a == pytest.approx(left_a)
        told = one(audit(design), "link")
        assert ("nothing left" in told.why) is (left_a == 0.0), told.why


def test_an_old_link_is_a_source_until_it_is_opened() -> None:
    """It holds the alternator's volts for ever; opened by a relay it is none."""
    linked = audit(job({"kind": "link", "name": "relay"}))
    assert one(linked, "link").verdict == "disconnect"
    opened = audit(job({"kind": "link", "name": "relay"}, old_link={"decision": "changeover"}))
    assert "link" not in {item.kind for item in opened.sources}


@pytest.mark.parametrize(
    ("profile", "said", "wakes"),
    [("flooded", "", "no"), ("lfp", "", "unknown"), ("flooded", "yes", "yes"), ("lfp", "no", "no")],
)
def test_a_sleeping_pack(profile: str, said: str, wakes: str) -> None:
    """A lead charger takes zero volts for a fault, unless its record says otherwise; where nothing sleeps it is not asked."""
    sleeps = LFP | {"management": {"needs_waking": True}}
    found = one(audit(job(LEAD | {"profile": profile, "stages": {"wakes": said}}, auxiliary=sleeps)), "mains_charger")
    assert found.wakes == wakes
    assert one(audit(job(LEAD)), "mains_charger").wakes == "not_needed"


def test_the_order_is_the_schools() -> None:
    """Sun first, vehicle second, mains last, with the kilowatt-hours of a week; or all at once."""
    bad = {"stages": {"absorption_v": 14.9}}
    solar = {"panel_w": 200.0, "profile": "agm", "sun_h": 3.0} | bad
    use = {"daily_ah": 30.0, "drive_h": 2.0, "drive_days": 5, "mains_h": 8.0}
    mains, built_in = LEAD | bad, LEAD | bad | {"kind": "built_in_charger", "charge_a": 10.0}
    found = audit(job(mains, built_in, solar=solar, use=use))
    kinds = [next(item.kind for item in found.sources if item.key == key) for key in found.order]
    assert kinds == ["solar", "built_in_charger", "mains_charger"]
    assert one(found, "solar").kwh_week == pytest.approx(200 * 0.9 * 3 * 7 / 1000)
    assert "3.8" in found.order_text
    at_once = audit(job(mains, built_in, solar=solar, use=use, choices={"upgrade_school": "at_once"}))
    assert at_once.order_text.startswith("All at once")


def test_two_together_add_and_the_lower_tapers_first() -> None:
    """25 A of the unit at 14.2 V and 20 A at 14.6 V: 45 A at first; near full the unit, which holds less, lets go first."""
    found = audit(job(LEAD | {"charge_a": 20.0, "wire_mm2": 35.0, "wire_m": 1.0}))
    assert found.together is not None
    assert found.together.amps[0] == pytest.approx(45, abs=0.5)
    assert "Test unit tapers first" in found.together_text


def test_cold_is_not_charged() -> None:
    """At -10 °C a battery that refuses takes nothing from anybody, and it is said why."""
    found = audit(job(LEAD), celsius=-10.0)
    assert all(item.hours_80 is None for item in found.sources)
    assert "cut-off takes no charge" in found.sources[0].why


def test_nothing_charges_yet() -> None:
    """Without a unit and without old sources it says what to do."""
    found = audit(job(charger=None))
    assert found.sources == ()
    assert "choose a unit in Match" in found.text
