"""Room for the unit, the vehicle's fuse above a stud, and the battery's management: each edge by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Charger, Design
from olvask.core.model.site import Mount
from olvask.core.stages.match.space import no_room
from tests.designs import cable, charger, design, fuse, vehicle


def findings(job: Design) -> dict[str, Finding]:
    """Findings by name."""
    return {item.id: item for item in assess(job).findings}


UNIT = Charger.model_validate(charger(width_mm=200.0, height_mm=150.0, depth_mm=70.0, clearance_mm=50.0, weight_kg=3.0))


@pytest.mark.parametrize(
    ("space", "fits"),
    [
        ((300.0, 250.0, 120.0), True),
        ((299.0, 250.0, 120.0), False),
        ((300.0, 249.0, 120.0), False),
        ((300.0, 250.0, 119.0), False),
        ((120.0, 300.0, 250.0), True),  # turned about
        ((250.0, 120.0, 299.0), False),
    ],
)
def test_free_air_on_both_sides_and_in_front(space: tuple[float, float, float], fits: bool) -> None:
    """200 × 150 × 70 mm with 50 mm of air: 300 × 250 × 120 mm, whichever way it is turned."""
    width, height, depth = space
    why = no_room(UNIT, Mount(width_mm=width, height_mm=height, depth_mm=depth))
    assert (why == "") is fits
    assert fits or "needs 300 × 250 × 120 mm with 50 mm of free air" in why


@pytest.mark.parametrize(
    ("space", "spacing_mm", "fits"),
    [
        ((550.0, 250.0, 120.0), None, True),  # 50 + 200 + 50 + 200 + 50
        ((549.0, 449.0, 120.0), None, True),  # one above the other: 50 + 150 + 50 + 150 + 50 is 450; turned about
        ((549.0, 299.0, 120.0), None, False),
        ((449.0, 300.0, 120.0), None, False),
        ((510.0, 250.0, 120.0), 10.0, True),
        ((300.0, 250.0, 120.0), None, False),  # room for one
    ],
)
def test_several_go_side_by_side(space: tuple[float, float, float], spacing_mm: float | None, fits: bool) -> None:
    """Two take twice the width or twice the height, the air between them once, or what is noted; and twice the weight."""
    width, height, depth = space
    place = Mount(width_mm=width, height_mm=height, depth_mm=depth, spacing_mm=spacing_mm)
    assert (no_room(UNIT, place, 2) == "") is fits
    assert "2 of them weigh 6 kg, 5 kg" in no_room(UNIT, Mount(weight_max_kg=5.0), 2)
    two = design(
        charger=UNIT.model_dump(mode="json"),
        units=2,
        mount={"place": "cabin", "width_mm": width, "height_mm": height, "depth_mm": depth, "spacing_mm": spacing_mm},
    )
    assert ("match.space" in findings(two)) is not fits


def test_weight_and_what_nobody_measured() -> None:
    """3 kg where 3 kg are allowed; not where 2.9 are; an unmeasured space, or unit, is not judged."""
    assert no_room(UNIT, Mount(weight_max_kg=3.0)) == ""
    assert "weighs 3 kg, 2.9 kg" in no_room(UNIT, Mount(weight_max_kg=2.9))
    assert no_room(UNIT, Mount(width_mm=10.0, height_mm=10.0)) == ""
    assert no_room(UNIT.model_copy(update={"depth_mm": None}), Mount(width_mm=10, height_mm=10, depth_mm=10)) == ""
    small = design(
        charger=UNIT.model_dump(mode="json"),
        mount={"place": "cabin", "width_mm": 100, "height_mm": 100, "depth_mm": 100},
    )
    assert findings(small)["match.space"].level == "stop"


def stud(rating_a: float | None, **changes: Any) -> Design:
    """A supply run that begins at a fused stud."""
    point = {"kind": "fused_stud", "rating_a": rating_a}
    return design(vehicle=vehicle(source_point=point), **changes)


def test_the_fuse_above_a_stud() -> None:
    """What may linger opens a smaller one; 80 % of its rating is close; a fan's branch is carried by it as well."""
    ctx = Context.of(stud(100.0))
    amps, highest_a = ctx.continuous_a("supply"), ctx.lingering_a("supply")
    assert findings(stud(highest_a - 0.1))["match.stud_small"].level == "stop"
    assert "match.stud_small" not in findings(stud(highest_a + 0.1))
    assert findings(stud(1.25 * amps - 0.1))["match.stud_tight"].level == "caution"
    assert "match.stud_tight" not in findings(stud(1.25 * amps + 0.1))
    fan = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}
    with_fan = {"supply": {"pieces": [fuse(60.0), cable(), fan]}}
    assert findings(stud(highest_a + 5.9, **with_fan))["match.stud_small"].level == "stop"
    assert "match.stud_small" not in findings(stud(highest_a + 6.3, **with_fan))


def test_what_is_noted_of_it() -> None:
    """Without a rating it is asked for; smaller than the run's own device it opens first; at a post nothing is said."""
    unknown = findings(stud(None))
    assert unknown["match.stud_unknown"].level == "caution"
    assert not {"match.stud_small", "match.stud_tight", "match.stud_order"} & set(unknown)
    assert findings(stud(59.0))["match.stud_order"].level == "caution"
    assert "match.stud_order" not in findings(stud(60.0))
    assert not any(key.startswith("match.stud") for key in findings(design()))
    less = findings(stud(20.0))["match.stud_small"].remedies
    assert less[0].label.startswith("Turn the unit down to ")


@pytest.mark.parametrize("nominal_v", [12, 24])
def test_absorption_keeps_clear_of_the_disconnect(nominal_v: int) -> None:
    """0.2 V between them per 12 V: exactly that is clear, less is near, at the disconnect a stop; each remedy clears both."""
    scale = nominal_v / 12

    def job(absorption_v: float, **management: Any) -> Design:
        battery = {
            "chemistry": "lfp",
            "nominal_v": nominal_v,
            "capacity_ah": 100.0,
            "charge_limit_a": 50.0,
            "absorption_v": absorption_v * scale,
            "management": {"high_disconnect_v": 14.6 * scale} | management,
        }
        record = charger(output_nominal_v=nominal_v, output_min_v=11.5 * scale, output_max_v=15.5 * scale)
        return design(auxiliary=battery, charger=record)

    assert not {"match.management_near", "match.management_high"} & set(findings(job(14.39)))
    near, high = findings(job(14.45)), findings(job(14.6))
    assert near["match.management_near"].level == "caution"
    assert "match.management_high" not in near
    assert high["match.management_high"].level == "stop"
    assert "match.management_near" not in high
    for made, name in ((job(14.45), "match.management_near"), (job(14.6), "match.management_high")):
        (offered,) = findings(made)[name].remedies
        cured = findings(apply(made, offered))
        assert not {"match.management_near", "match.management_high"} & set(cured)


def test_a_disconnect_above_the_reserve() -> None:
    """Opening where more rests than the reserve keeps that from being used; below it, nothing is lost."""

    def low(volts: float, reserve: float | None = None) -> bool:
        battery = {
            "chemistry": "agm",
            "nominal_v": 12,
            "capacity_ah": 100.0,
            "charge_limit_a": 30.0,
            "management": {"low_disconnect_v": volts},
        }
        use = {} if reserve is None else {"reserve": reserve}
        return "match.management_low" in findings(design(auxiliary=battery, use=use))

    assert low(12.5)
    assert not low(11.5)
    assert not low(12.5, reserve=0.95)
