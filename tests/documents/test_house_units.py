"""Sentences in the units of the house: the same words as the screens say, from one table."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import pytest

from olvask.core.model.house import House, Units
from olvask.documents.house_units import Verbatim, data_in_units, in_units
from olvask.documents.settings_sheet import settings_pdf
from olvask.documents.sheet import SheetHead
from tests.designs import charger, design
from tests.papers import words_of

CASES = json.loads((Path(__file__).parents[1] / "data/units.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["from"])
def test_a_sentence_says_the_same_in_other_units(case: dict[str, object]) -> None:
    assert in_units(str(case["from"]), Units.model_validate(case["units"])) == case["to"]


def test_what_is_no_sentence_stays() -> None:
    data = {"rows": [("4.5 m", 3), {"n": None, "ok": True}], "x": 4.5}
    assert data_in_units(data, Units(length="ft")) == {"rows": [["14.8 ft", 3], {"n": None, "ok": True}], "x": 4.5}


def test_what_is_keyed_into_a_device_is_as_the_device_has_it() -> None:
    """A menu in degrees Celsius is keyed in degrees Celsius, whatever the house reads."""
    assert data_in_units([Verbatim("0 °C"), "0 °C"], Units(temperature="F")) == ["0 °C", "32 °F"]
    cold = {
        "id": "cold",
        "label": "Charge stop 0 °C",
        "means": "cold_c",
        "kind": "number",
        "unit": "°C",
        "from_value": -20.0,
        "to_value": 20.0,
        "step": 1.0,
        "factory": -20.0,
    }
    job = design(charger=charger(settings={"lines": [cold]}), charge={"cold_c": 3.0})
    head = SheetHead("Van", "V-1", "", 1, date(2031, 5, 1))
    pdf = settings_pdf(head, job, House(units=Units(temperature="F")))
    text = words_of(pdf)
    assert "Charge stop 0 °C" in text
    assert "3 °C" in text
    assert "37 °F" not in text
