"""Sentences in the units of the house: the same words as the screens say, from one table."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from olvask.core.model.house import Units
from olvask.documents.house_units import data_in_units, in_units

CASES = json.loads((Path(__file__).parents[1] / "data/units.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["from"])
def test_a_sentence_says_the_same_in_other_units(case: dict[str, object]) -> None:
    assert in_units(str(case["from"]), Units.model_validate(case["units"])) == case["to"]


def test_what_is_no_sentence_stays() -> None:
    data = {"rows": [("4.5 m", 3), {"n": None, "ok": True}], "x": 4.5}
    assert data_in_units(data, Units(length="ft")) == {"rows": [["14.8 ft", 3], {"n": None, "ok": True}], "x": 4.5}
