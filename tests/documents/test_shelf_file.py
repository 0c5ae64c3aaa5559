"""Shelf files: out and in again the same, and every fault of a bad one located."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import pytest

from olvask.core.model.charger import Charger
from olvask.core.model.shelf import KINDS, KindName, sample_items
from olvask.documents.shelf_file import read_shelf, write_shelf_csv, write_shelf_json

ROWS, BAD = 5000, 37


@pytest.mark.parametrize("kind", KINDS)
def test_both_forms_come_back_as_they_went_out(kind: KindName) -> None:
    """Every sample item survives CSV and JSON unchanged."""
    items = sample_items()[kind]
    for text in (write_shelf_csv(kind, items), write_shelf_json(kind, items)):
        read = read_shelf(kind, text.encode())
        assert read.errors == ()
        assert tuple(item for _, item in read.items) == items


def large_shelf() -> tuple[bytes, set[int]]:
    """5,000 units as CSV, 37 of them wrong in five different ways; the rows that are."""
    base = sample_items()["chargers"]
    out = io.StringIO()
    writer = csv.DictWriter(out, next(csv.reader([write_shelf_csv("chargers", [])])), lineterminator="\n")
    writer.writeheader()
    template = dict(next(csv.DictReader(io.StringIO(write_shelf_csv("chargers", base[:1])))))
    breaks: list[dict[str, Any]] = [
        {"output_a": "forty"},
        {"efficiency": "1.4"},
        {"input_nominal_v": "36"},
        {"isolated": "perhaps"},
        {"input_min_v": "20"},
    ]
    wrong: set[int] = set()
    for at in range(ROWS):
        row = template | {"id": f"unit-{at}", "name": f"Unit {at}"}
        if at % 10:  # most have only their ranges
            row |= {name: "" for name in row if name.startswith("settings.")}
        if at % 135 == 7 and len(wrong) < BAD:
            row |= breaks[len(wrong) % len(breaks)]
            wrong.add(at + 2)  # the header is row 1
        writer.writerow(row)
    return out.getvalue().encode(), wrong


def test_thirty_seven_bad_rows_of_five_thousand_are_all_located() -> None:
    """Each bad row is named with its field and a remedy, and the others are read."""
    raw, wrong = large_shelf()
    assert len(wrong) == BAD
    read = read_shelf("chargers", raw)
    assert {fault.row for fault in read.errors} == wrong
    assert len(read.items) == ROWS - BAD
    by_row = {fault.row: fault for fault in read.errors}
    first = by_row[min(wrong)]
    assert first.field == "Output current"
    assert "not a number" in first.message


@pytest.mark.parametrize(
    ("raw", "words"),
    [
        (b"", "empty"),
        (b"\xff\xfe\x00", "UTF-8"),
        (b"id,colour\na,red\n", "unknown column 'colour'"),
        (b"name,price\na,3\n", "column id is missing"),
        (b"[{", "not JSON"),
        (b'{"kind": "batteries", "items": []}', "holds batteries"),
        (b'{"things": []}', "list of items"),
        (b"[" * 100_000, "nested too deeply"),
    ],
)
def test_a_file_of_the_wrong_kind_says_so(raw: bytes, words: str) -> None:
    """Nothing is read from it, and the fault names the remedy."""
    read = read_shelf("chargers", raw)
    assert read.items == ()
    assert any(words in fault.message for fault in read.errors)


def test_twice_the_same_number_is_a_fault_of_the_second() -> None:
    """A number given twice in one file is refused where it comes again."""
    text = "id,size,price_per_m\ndrum,16 mm²,4\ndrum,25 mm²,6\n"
    read = read_shelf("cables", text.encode())
    assert [(fault.row, fault.path) for fault in read.errors] == [(3, "id")]
    assert "row 2" in read.errors[0].message


def test_a_stray_comma_is_found() -> None:
    """A row with more cells than columns is refused rather than shifted."""
    read = read_shelf("cables", "id,size,price_per_m\na,16 mm²,4,20\n".encode())
    assert read.errors[0].row == 2
    assert "stray comma" in read.errors[0].message


def test_semicolons_and_decimal_commas_are_read() -> None:
    """A file saved by a spreadsheet with semicolons and decimal commas reads the same."""
    read = read_shelf("cables", "id;size;price_per_m\na;16 mm²;4,20\n".encode())
    assert read.errors == ()
    assert json.loads(read.items[0][1].model_dump_json())["price_per_m"] == 4.2


def test_a_behaviour_record_comes_through() -> None:
    """What the user noted of a unit's lamps and off-reasons survives the CSV."""
    unit = sample_items()["chargers"][0]
    assert isinstance(unit, Charger)
    noted = unit.behaviour.model_copy(update={"lamps": ("steady: charging", "two blinks: input low"), "latched": True})
    text = write_shelf_csv("chargers", [unit.model_copy(update={"behaviour": noted})])
    back = read_shelf("chargers", text.encode()).items[0][1]
    assert isinstance(back, Charger)
    assert back.behaviour == noted
