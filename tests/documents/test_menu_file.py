"""A menu as CSV: every sample menu comes back as it went; errors are told at their row and column."""

from __future__ import annotations

import pytest

from olvask.core.model.settings import SettingsRecord
from olvask.core.model.shelf import chargers, sample_items
from olvask.documents.menu_file import read_menu, write_menu


@pytest.mark.parametrize("unit", [unit for unit in chargers() if unit.settings], ids=lambda unit: str(unit.id))
def test_there_and_back(unit: object) -> None:
    """Lines, choices and what they rewrite."""
    record = unit.settings  # type: ignore[attr-defined]
    found = read_menu(write_menu(record).encode())
    assert found.errors == ()
    assert SettingsRecord.model_validate({"lines": found.lines}).lines == record.lines


def test_errors_stand_at_their_row_and_the_others_come_in() -> None:
    """Row 3 has a factory value off its steps, row 4 a kind there is not; row 2 is taken."""
    text = (
        "id,label,means,kind,unit,from_value,to_value,step,factory\n"
        "a,Absorb,absorption_v,number,V,12,15,0.1,14.6\n"
        "b,Hold,float_v,number,V,12,15,0.1,13.65\n"
        "c,Beep,display,noise,,,,,on\n"
    )
    found = read_menu(text.encode())
    assert [line["id"] for line in found.lines] == ["a"]
    assert [error.path for error in found.errors] == ["row 3", "row 4"]
    assert "none it can have" in found.errors[0].message
    assert found.errors[1].field == "Kind"


def test_a_decimal_comma_in_a_rewrite() -> None:
    """It parts no rewrites: 14,6 is one number."""
    text = 'id,label,kind,options\nkind,Kind,choice,"lead > absorb: 14,6, hold: 13,6; own"\n'
    (line,) = read_menu(text.encode()).lines
    assert [item["value"] for item in line["options"][0]["rewrites"]] == [14.6, 13.6]


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "empty"),
        (b"\xff\xfe\x00", "not text in UTF-8"),
        (b"label,means\nA,other\n", "column id is missing"),
        (b"id,colour\na,red\n", "unknown column 'colour'"),
        (b"id,label\n" + b"a,A\n" * 70, "60 at most"),
    ],
)
def test_a_file_that_is_none(raw: bytes, said: str) -> None:
    """One sentence for the whole file."""
    found = read_menu(raw)
    assert found.lines == ()
    assert said in found.errors[0].message


def test_every_sample_device_has_a_menu_and_they_are_built_differently() -> None:
    """Units, solar controllers, mains chargers, monitors; buttons alone, dependent lines, coded switches, saving, per cent,
    steps, per block, nothing at all."""
    shelf = sample_items()
    records = [unit.settings for unit in chargers()]
    assert all(record is not None for record in records)
    assert all(item.stages.settings is not None for item in shelf["other_chargers"])  # type: ignore[union-attr]
    lines = [line for record in records if record is not None for line in record.lines]
    assert any(line.kind == "coded" and line.at_power_up for line in lines)
    assert any(line.unit == "%" for line in lines)
    assert any(line.steps for line in lines)
    assert any(line.per_block for line in lines)
    assert any(line.hidden for line in lines)
    assert any(line.shown_line and line.needs_saving for line in lines)
    assert any(record is not None and not record.lines for record in records)
