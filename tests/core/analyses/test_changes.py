"""What changed between two designs is told completely, in the screen's own words, and nothing else is told."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.changes import AREAS, changes_between
from olvask.core.model import Design
from olvask.store.demo import demo_designs
from tests.anything import anything

VAN = next(design for heading, design in demo_designs() if heading.code == "KV-118")


def changed(**places: Any) -> Design:
    """The van with values at dotted places."""
    found: dict[str, Any] = VAN.model_dump(mode="json")
    for place, value in places.items():
        at: Any = found
        *steps, last = place.split("__")
        for step in steps:
            at = at[int(step)] if isinstance(at, list) else at[step]
        at[int(last) if isinstance(at, list) else last] = value
    return Design.model_validate(found)


SAID: list[tuple[dict[str, Any], str, str]] = [
    ({"supply__pieces__1__length_m": 5.5}, "Supply run", "One-way length: 4.9 m → 5.5 m"),
    ({"supply__pieces__1__size": "25 mm²"}, "Supply run", "Cable size: 35 mm² → 25 mm²"),
    ({"vehicle__alternator__regulation": "fixed"}, "Vehicle", "Regulation: "),
    ({"current_limit_a": 30.0}, "Unit", "Unit set to: not said → 30 A"),
    (
        {"activation__ways": ["voltage", "ignition"]},
        "Activation",
        "Ways to start: engine-run detection by voltage → engine-run detection by voltage, ignition feed (15)",
    ),
    ({"units": 2}, "Unit", "Units in parallel: 1 unit → 2 units"),
    ({"choices__slack": 0.25}, "Choices", "Slack on cable: 20 % → 25 %"),
    ({"charger": None}, "Unit", "Unit: Redshank → not said"),
    ({"existing": []}, "What is there already", "removed"),
]


@pytest.mark.parametrize(("places", "area", "text"), SAID, ids=[item[2] for item in SAID])
def test_a_change_is_told_in_the_screens_words(places: dict[str, Any], area: str, text: str) -> None:
    """Label, value before and after with their unit; one change, one line."""
    (found,) = changes_between(VAN, changed(**places))
    assert found.area == area
    assert text in found.text


def test_a_line_is_called_as_on_the_device() -> None:
    """By its label in the unit's menu, not by its short name there, the second time too; without a unit it has none."""
    assert VAN.charger is not None
    assert VAN.charger.settings is not None
    for line in VAN.charger.settings.lines:
        keyed = {"line": line.id, "value": "1", "keyed": True}
        bare, with_it = changed(keyed=[]), changed(keyed=[keyed])
        assert [item.text for item in changes_between(bare, with_it)] == [f"{line.label} added"]
        (seen,) = changes_between(with_it, changed(keyed=[keyed | {"seen": "2"}]))
        assert seen.text == f"{line.label}: Read back: not said → 2"
        (gone,) = changes_between(changed(charger=None, keyed=[keyed]), changed(charger=None, keyed=[]))
        assert gone.text == "a line of another menu removed"
    line = VAN.charger.settings.lines[0]
    (again,) = changes_between(
        changed(keyed=[]), changed(keyed=[{"line": f"{line.id}@2", "value": "1", "keyed": True}])
    )
    assert again.text == f"{line.label} added"
    solar = {"panel_w": 120.0, "stages": {"settings": {"lines": [line.model_dump(mode="json")]}}}
    elsewhere = {"line": f"solar:{line.id}", "value": "1", "keyed": True}
    (other,) = changes_between(changed(solar=solar, keyed=[]), changed(solar=solar, keyed=[elsewhere]))
    assert other.text == f"solar controller, {line.label} added"


def test_every_part_of_a_design_has_a_name() -> None:
    """None is called by what it is called in the file; where a value came from is told with the value."""
    assert set(Design.model_fields) - set(AREAS) == {"provenance"}
    assert all(area[0].isupper() and "_" not in area for area in AREAS.values())


def test_a_piece_put_in_or_moved_is_one_change() -> None:
    """Identity decides: what stands behind it has not changed."""
    pieces = VAN.model_dump(mode="json")["supply"]["pieces"]
    put_in = changed(
        supply__pieces=[*pieces[:1], {"kind": "joint", "name": "service plug", "resistance_mohm": 1.0}, *pieces[1:]]
    )
    assert [item.text for item in changes_between(VAN, put_in)] == ["service plug added"]
    assert [item.text for item in changes_between(put_in, VAN)] == ["service plug removed"]
    turned = changed(supply__pieces=[pieces[1], pieces[0], *pieces[2:]])
    assert [item.how for item in changes_between(VAN, turned)] == ["moved"]


def test_nothing_changed_tells_nothing_and_anything_changed_tells_something() -> None:
    """Over designs of any kind: silent exactly where the two say the same."""
    for seed in range(60):
        one, two = anything(seed), anything(1000 + seed)
        assert changes_between(one, one) == ()
        same = one.model_dump(exclude={"provenance"}) == two.model_dump(exclude={"provenance"})
        found = changes_between(one, two)
        assert bool(found) is not same
        assert all(item.text and item.area for item in found)
