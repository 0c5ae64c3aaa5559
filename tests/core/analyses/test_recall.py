"""Recall by hand: every place that holds a thing, and no other thing whose words only look alike."""

from __future__ import annotations

import pytest

from olvask.core.analyses.recall import What, holds
from tests.designs import cable, design, fuse


def words(what: What, key: str, **changes: object) -> list[str]:
    return [held.words for held in holds(design(**changes), what, key)]


SIXTEEN = {
    "supply": {"pieces": [fuse(60.0, "sf30"), cable("16 mm²", 4.0)]},
    "delivery": {"pieces": [fuse(40.0, "sf30"), cable("2.5 mm²", 1.0)]},
}


@pytest.mark.parametrize(
    ("key", "found"),
    [
        ("16 mm²", 1),
        ("16mm2", 1),
        ("6 mm²", 0),  # another size that ends alike
        ("2,5 mm²", 1),
        ("5 mm²", 0),
        ("mm²", 2),
        ("  ", 0),
    ],
)
def test_a_size_is_meant_whole(key: str, found: int) -> None:
    assert len(words("cable", key, **SIXTEEN)) == found


@pytest.mark.parametrize(
    ("key", "found"), [("SF30 strip 60 A", 1), ("60a", 1), ("0 A", 0), ("SF30 strip 6", 0), ("sf30", 2)]
)
def test_a_rating_is_meant_whole(key: str, found: int) -> None:
    assert len(words("device", key, **SIXTEEN)) == found


def test_devices_of_branches_tails_and_small_ones_count() -> None:
    """Whatever is on the bill can be called back: each unit's own device, that of a branch, the fuse of an enable's wire."""
    branch = {
        "kind": "branch",
        "name": "fan",
        "current_a": 3.0,
        "size": "2.5 mm²",
        "length_m": 1.0,
        "device": fuse(10.0, "blade"),
    }
    held = {
        "supply": {"pieces": [fuse(60.0, "sf30"), branch, cable("16 mm²", 4.0)]},
        "activation": {"ways": ["d_plus"]},
    }
    assert len(words("device", "10 A", **held)) == 1
    assert [found for found in words("device", "3 A", **held) if found.endswith("in a holder")]
    assert "2.5 mm² copper" in words("cable", "2.5 mm²", **held)
    alone, both = (set(words("device", "A", **SIXTEEN, units=count)) for count in (1, 2))
    assert len(both - alone) == 1  # a tail's, for the current of one unit


def test_old_gear_is_found_by_its_name() -> None:
    old = [{"kind": "mains_charger", "name": "Forge 20", "id": "e1"}]
    assert words("unit", "forge", existing=old) == ["Forge 20"]
    assert words("unit", "orge", existing=old) == []
