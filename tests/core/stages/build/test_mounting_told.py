"""What is told of the place a unit sits in: figures by hand, advice exactly where it helps, remedies that are enough."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.mounting import MountReport, enough_cm2, mount_of
from tests.designs import cable, charger, design, fuse

SMALL = {"width_mm": 400.0, "height_mm": 300.0, "depth_mm": 200.0}


def made(units: int = 1, record: dict[str, Any] | None = None, **mount: Any) -> Design:
    """A 25 A unit of 90 % in a room of 35 °C; it loses 2 % a kelvin above 40 °C."""
    unit = charger(derating_percent_per_k=2.0, rated_ambient_c=40.0, clearance_mm=80.0, **(record or {}))
    return design(charger=unit, units=units, mount={"place": "cupboard", "room_c": 35.0} | SMALL | mount)


def told(units: int = 1, record: dict[str, Any] | None = None, **mount: Any) -> MountReport:
    """Its report."""
    found = mount_of(Context.of(made(units, record, **mount)))
    assert found is not None
    return found


def test_in_the_open_room() -> None:
    """25 A at the battery's 14.4 V leave 40 W in each unit; nothing is lost at 35 °C, and no opening is asked for."""
    found = told(around="open")
    assert (found.room_c, found.air_c, found.felt_c) == (35.0, 35.0, 35.0)
    assert found.heat_w == pytest.approx(40.0, abs=0.5)
    assert told(units=2, around="open").heat_w == pytest.approx(80.0, abs=1.0)
    assert (found.wanted_a, found.yield_a, found.in_room_a) == (25.0, 25.0, 25.0)
    assert found.enough_cm2 is None
    assert found.curve == ()
    assert found.text == "The air at it is 35 °C: it gives all of its 25 A."
    assert mount_of(Context.of(design(charger=None))) is None


def test_sheet_metal_behind_it_sheds_heat() -> None:
    """Wood insulates its back; the case stands hotter above the same air, the more so beside a second unit."""
    metal, wood = (told(around="open", backing=backing) for backing in ("metal", "wood"))
    assert metal.case_c < wood.case_c - 2.0
    assert metal.air_c == wood.air_c == 35.0


def test_shut_in_it_gives_less_and_says_how_much() -> None:
    """Closed in, its own heat takes the air to where 25·(1 − 0.02·(T − 40))·14.4·(1/0.9 − 1) = 2.97·0.4·(T − 35)."""
    found = told(around="shut")
    full_w = found.heat_w / found.yield_a * 25.0
    meets_c = (full_w * 1.8 + 2.97 * 0.4 * 35) / (full_w * 0.02 + 2.97 * 0.4)
    assert found.air_c == pytest.approx(meets_c, abs=0.2)
    assert found.yield_a == pytest.approx(25.0 * (1 - 0.02 * (found.felt_c - 40.0)), rel=1e-3)
    assert found.text == f"The air at it is {found.air_c:.0f} °C: it gives {found.yield_a:.1f} A of 25 A."
    assert [point.each_cm2 for point in found.curve] == sorted(point.each_cm2 for point in found.curve)
    assert found.curve[0].yield_a == pytest.approx(found.yield_a, rel=1e-3)  # no opening is none


def test_enough_is_a_round_figure_and_the_least() -> None:
    """In steps of 5 cm²; one step less is not enough."""
    shut = made(around="shut")
    each = enough_cm2(shut, 35.0, 14.4)
    assert each is not None
    assert each % 5 == 0
    whole = 0.995 * 25.0
    assert told(around="vents", vent_low_cm2=each, vent_high_cm2=each).yield_a >= whole - 0.01
    assert told(around="vents", vent_low_cm2=each - 7.5, vent_high_cm2=each - 7.5).yield_a < whole
    two = enough_cm2(made(units=2, around="shut"), 35.0, 14.4)
    assert two is not None
    assert two > each
    assert told(units=2, around="vents", vent_low_cm2=two, vent_high_cm2=two).yield_a >= 2 * whole - 0.02
    assert told(units=2, around="vents", vent_low_cm2=0.9 * two, vent_high_cm2=0.9 * two).yield_a < 2 * whole


def test_enough_is_as_it_stands_there() -> None:
    """Ribs down it gives less than 25 A in the room itself: what the opening has to bring back is that, and no more."""

    def placed(**mount: Any) -> Design:
        unit = charger(derating_percent_per_k=0.1, rated_ambient_c=30.0)
        return design(
            charger=unit, mount={"place": "cupboard", "room_c": 39.0, "orientation": "hanging"} | SMALL | mount
        )

    def gives(**mount: Any) -> float:
        found = mount_of(Context.of(placed(**mount)))
        assert found is not None
        return found.yield_a

    free, shut = gives(around="open"), placed(around="shut")
    each = enough_cm2(shut, 39.0, Context.of(shut).solved.output.battery_v)  # type: ignore[union-attr]
    assert each is not None
    assert gives(around="shut") < 0.995 * free < free < 25.0
    assert 0.995 * free - 0.01 <= gives(around="vents", vent_low_cm2=each, vent_high_cm2=each) <= free
    assert gives(around="vents", vent_low_cm2=each - 7.5, vent_high_cm2=each - 7.5) < 0.995 * free


@pytest.mark.parametrize(
    ("words", "said", "unsaid"),
    [
        ("that counts", {"around": "shut", "ambient_c": 41.0}, {"around": "open", "ambient_c": 41.0}),
        ("would be enough", {"around": "shut"}, {"around": "open"}),
        ("No opening is enough", {"around": "shut", "room_c": 95.0}, {"around": "shut"}),
        ("fins upright", {"around": "open", "orientation": "lying"}, {"around": "open", "orientation": "upright"}),
        ("wears out", {"around": "vents", "fan_m3_h": 40.0}, {"around": "vents"}),
        ("a guard where a hand", {"around": "open", "room_c": 60.0}, {"around": "open", "room_c": 20.0}),
    ],
)
def test_advice_stands_where_it_helps(words: str, said: dict[str, Any], unsaid: dict[str, Any]) -> None:
    """Each sentence, and a place beside it where it does not stand."""
    assert any(words in item for item in told(**said).advice)
    assert not any(words in item for item in told(**unsaid).advice)


def test_openings_that_are_enough_are_not_asked_for_again() -> None:
    """With wide ones nothing is lost, and no size is told; two units are told to keep their distance."""
    wide = told(around="vents", vent_low_cm2=400.0, vent_high_cm2=400.0, room_c=25.0)
    assert wide.yield_a == wide.wanted_a
    assert not any("enough" in item for item in wide.advice)
    assert any("Keep 80 mm" in item for item in told(units=2, around="open").advice)
    assert not any("Keep" in item for item in told(around="open").advice)


def findings(job: Design) -> dict[str, str]:
    """Level by finding."""
    return {item.id: item.level for item in assess(job, remedies=False).findings}


def test_a_fan_needs_its_feed_and_an_opening() -> None:
    """A branch that feeds a fan, on either run, is its feed; a lamp's branch is none. In a shut box it only stirs."""

    def fed(feeds: str, run: str) -> dict[str, str]:
        branch = {"kind": "branch", "feeds": feeds, "name": "tail", "current_a": 1.0, "device": fuse(5.0, "blade")}
        document = made(around="vents", fan_m3_h=40.0).model_dump(mode="json")
        document[run]["pieces"].append(branch)
        return findings(Design.model_validate(document))

    assert "build.fan" not in fed("fan", "supply")
    assert "build.fan" not in fed("fan", "delivery")
    assert fed("load", "supply")["build.fan"] == "caution"
    assert "build.fan_shut" not in fed("fan", "supply")
    assert findings(made(around="shut", fan_m3_h=40.0))["build.fan_shut"] == "caution"
    assert "build.fan" not in findings(made(around="vents"))
    assert findings(made(around="open", fan_m3_h=40.0))["build.fan_open"] == "note"
    for around in ("vents", "shut"):
        assert "build.fan_open" not in findings(made(around=around, fan_m3_h=40.0))


@pytest.mark.parametrize("near", ["fuel", "exhaust", "airbag", "plastic", "moving", "water"])
def test_only_fuel_forbids(near: str) -> None:
    """A stop beside fuel or gas, a caution beside anything else; nothing where nobody found it."""
    assert findings(made(near=[near]))[f"build.near_{near}"] == ("stop" if near == "fuel" else "caution")
    assert not any(key.startswith("build.near") for key in findings(made()))


def test_shut_in_is_said_where_it_costs_and_its_openings_are_enough() -> None:
    """The remedy cuts both; a unit that loses nothing in there, or a thin wall of openings, is not told."""
    shut = made(around="shut")
    (found,) = (item for item in assess(shut).findings if item.id == "build.shut")
    changes = {change.path: change.value for remedy in found.remedies for change in remedy.changes}
    assert changes["mount.around"] == "vents"
    assert changes["mount.vent_low_cm2"] == changes["mount.vent_high_cm2"] == enough_cm2(shut, 35.0, 14.4)
    calm = made(around="shut", room_c=25.0, record={"output_a": 6.0, "limit_min_a": 2.0})
    assert "build.shut" not in findings(calm)
    hot = made(around="shut", room_c=95.0)
    (hopeless,) = (item for item in assess(hot).findings if item.id == "build.shut")
    assert hopeless.remedies == ()


def test_a_thick_run_is_not_the_mounts_concern() -> None:
    """The place alone decides what is told of it: another cable leaves its report as it was."""
    other = made(around="shut").model_copy(
        update={"supply": design(supply={"pieces": [fuse(60.0), cable("50 mm²")]}).supply}
    )
    found = mount_of(Context.of(other))
    assert found is not None
    assert found.air_c == pytest.approx(told(around="shut").air_c)
