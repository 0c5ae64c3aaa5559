"""Cells and rows by hand: numbers as people and devices write them, what is left out, what is refused, what is asked."""

from __future__ import annotations

import io

import numpy as np
import pytest

from olvask.core.model.device_log import Column, LogMapping
from olvask.logs.gathered import LogRead
from olvask.logs.reading import read
from olvask.logs.sniff import BadLog, cells_of, sniff

ROWS = 120
NAN = float("nan")


def mapping(decimal: str = ".", unit: str = "V", role: str = "input_v", delimiter: str = ";") -> LogMapping:
    columns = (
        {"name": "When", "role": "moment"},
        {"name": "Cell", "role": role, "unit": unit},
        {"name": "Out", "role": "output_v", "unit": "V"},
    )
    plain = {"delimiter": delimiter, "decimal": decimal, "columns": columns, "order": "epoch_s"}
    return LogMapping.model_validate(plain)


def column(
    cells: list[str], how: LogMapping, role: str = "input_v", filler: str | None = None
) -> tuple[list[float], LogRead]:
    """Values of some cells, read among enough good ones."""
    good = filler or ("12,5" if how.decimal == "," else "12.5")
    other = "13,5" if how.decimal == "," else "13.5"
    mark = how.delimiter
    rows = [*cells, *[good] * ROWS]
    text = f"When{mark}Cell{mark}Out\n" + "".join(
        f"{1_770_000_000 + at}{mark}{cell}{mark}{other}\n" for at, cell in enumerate(rows)
    )
    last = list(read(io.BytesIO(text.encode()), how, len(text)))[-1]
    assert isinstance(last, LogRead)
    return [float(value) for value in last.log.values[role][: len(cells)]], last  # type: ignore[index]  # a measure


@pytest.mark.parametrize(
    ("cell", "decimal", "is_v"),
    [
        ("12.34", ".", 12.34),
        (" 12.34 ", ".", 12.34),
        ("+12.34", ".", 12.34),
        ("12.34 V", ".", 12.34),
        ("12.34V", ".", 12.34),
        ("1.234e1", ".", 12.34),
        ('"12.34"', ".", 12.34),
        ("12,34", ",", 12.34),
        ("12", ",", 12.0),
        (".5", ".", 0.5),
        ("", ".", NAN),
        ("---", ".", NAN),
        ("NaN", ".", NAN),
        ("n/a", ".", NAN),
        ("inf", ".", NAN),
        ("12.34 A", ".", NAN),  # another measure
        ("12,34", ".", NAN),  # may be a thousand's mark: not silently another number
        ("12.34", ",", NAN),
        ("12:34", ".", NAN),
        ("6553.5", ".", NAN),  # what a device writes for nothing
    ],
)
def test_a_cell_is_its_number_or_none(cell: str, decimal: str, is_v: float) -> None:
    values, _ = column([cell], mapping(decimal))
    assert values == pytest.approx([is_v], abs=1e-5, nan_ok=True)


@pytest.mark.parametrize(
    ("cell", "unit", "role", "filler", "comes_to"),
    [
        ("12340", "mV", "input_v", "12500", 12.34),
        ("2500", "mA", "input_a", "900", 2.5),
        ("50", "°F", "battery_c", "68", 10.0),
        ("293.15", "K", "battery_c", "283", 20.0),
        ("0.8", "0 to 1", "charge_percent", "0.5", 80.0),
        ("1,234.5", "mV", "input_v", "12500", 1.2345),
    ],
)
def test_units_come_to_the_measures_own(cell: str, unit: str, role: str, filler: str, comes_to: float) -> None:
    values, _ = column([cell], mapping(unit=unit, role=role), role, filler)
    assert values == pytest.approx([comes_to], rel=1e-5)


def test_what_is_left_out_is_told_by_its_first_line() -> None:
    _, found = column(["12.1", "twelve", "12.3", "dozen"], mapping())
    told = {trouble.words: (trouble.count, trouble.line, trouble.cell) for trouble in found.troubles}
    assert told["cells are no numbers and are left out"] == (2, 3, "twelve")


def test_too_much_left_out_is_refused() -> None:
    with pytest.raises(BadLog, match=r"line 2.*how the columns are mapped"):
        column(["x"] * 10, mapping())


def test_a_log_of_volts_that_stay_at_nothing_is_no_change_of_unit() -> None:
    """An input whose run is open reads a few hundredths for days: that is a finding, and no fault of the file."""
    values, _ = column(["0.00", "0.02"] * 60, mapping())
    assert np.isfinite(values).all()


def test_a_thousandth_from_some_row_on_is_refused_by_its_line() -> None:
    with pytest.raises(BadLog, match="From line 2 on “Cell” is about a thousandth"):
        column(["0.0125"] * 100, mapping())


def test_rows_whose_cells_are_another_columns_are_left_out() -> None:
    """Both columns jump away and back at once; a lone spike of one column stands as it was read."""
    cells = ["12.5"] * 6 + ["2.5"] + ["12.5"] * 6
    values, found = column(cells, mapping())
    assert values[6] == 2.5
    text = "When;Cell;Out\n" + "".join(
        f"{1_770_000_000 + at};{'0.2;30.1' if at == 60 else '12.5;13.5'}\n" for at in range(ROWS)
    )
    found = next(part for part in read(io.BytesIO(text.encode()), mapping()) if isinstance(part, LogRead))
    assert np.isnan(found.log.values["input_v"][60])
    assert any("jump away" in trouble.text for trouble in found.troubles)


def test_a_gap_is_more_than_a_row_missed() -> None:
    moments = [*range(0, 600, 10), 625, *range(650, 900, 10), *range(3000, 3600, 10)]
    text = "When;Cell;Out\n" + "".join(f"{1_770_000_000 + at};12.5;13.5\n" for at in moments)
    found = next(part for part in read(io.BytesIO(text.encode()), mapping()) if isinstance(part, LogRead))
    assert [(to_s - from_s) for from_s, to_s in found.log.gaps] == [2110.0]


@pytest.mark.parametrize(
    ("line", "delimiter", "cells"),
    [
        ("a;b;c", ";", ["a", "b", "c"]),
        ('a,"b, still b",c', ",", ["a", "b, still b", "c"]),
        ('"say ""so""",b', ",", ['say "so"', "b"]),
        ("a||c", "|", ["a", "", "c"]),
    ],
)
def test_a_line_is_cut_at_its_delimiters(line: str, delimiter: str, cells: list[str]) -> None:
    assert cells_of(line, delimiter) == cells


HEADERS = [
    ("Vin [V]", "input_v", "V"),
    ("Vout(mV)", "output_v", "mV"),
    ("input_current_a", "input_a", "A"),
    ("Output Amps", "output_a", "A"),
    ("Starter battery voltage", "post_v", "V"),
    ("House battery V", "auxiliary_v", "V"),
    ("Battery current [A]", "auxiliary_a", "A"),
    ("SOC %", "charge_percent", "%"),
    ("Battery temp °F", "battery_c", "°F"),
    ("Output power [W]", "output_a", "W"),
    ("Power in", "input_a", "W"),  # watts, though it does not say so: never amperes
    ("Firmware", "", ""),
    ("Panel yield kWh", "", ""),
]


@pytest.mark.parametrize(("name", "role", "unit"), HEADERS)
def test_a_columns_name_says_what_it_holds_or_nothing(name: str, role: str, unit: str) -> None:
    text = f"Time;{name}\n" + "".join(f"2026-02-{14 + at} 10:00:00;12\n" for at in range(9))
    found = sniff(text.encode()).columns[1]
    assert (found.role, found.unit) == (role, unit)


def test_what_is_doubtful_is_asked() -> None:
    """Two columns that may be the same, and dates that may be either way about."""
    text = "Time,Vin [V],Input voltage [V]\n" + "".join(f"0{day}/04/2026 10:00,12.5,12.6\n" for day in range(1, 9))
    found = sniff(text.encode())
    assert found.order == "dmy"
    assert any("may be day and month" in doubt for doubt in found.doubts)
    assert any("“Input voltage [V]” is left out" in doubt for doubt in found.doubts)


@pytest.mark.parametrize(
    "raw", [b"", b"\n\n", b"one line only", b"\x89PNG\r\n\x1a\n\x00\x00", b"1;2;3\n4;5;6\n", b"a;b;c\n"]
)
def test_no_table_is_refused_in_words(raw: bytes) -> None:
    with pytest.raises(BadLog, match=r"CSV|cut short"):
        sniff(raw)


ONE, TWO, THREE = (Column(name=name, role="input_v", unit="V") for name in "abc")
WHEN = Column(name="When", role="moment")


@pytest.mark.parametrize(
    ("columns", "words"),
    [
        ((WHEN, ONE, TWO), "is given to “a” and “b”"),
        ((ONE, Column(name="d", role="output_v", unit="V")), "no column holds date and time"),
        ((WHEN, Column(name="d", role="date"), ONE), "in one column or in two"),
        ((WHEN, Column(name="x", role="output_a", unit="A")), "no column holds volts"),
    ],
)
def test_a_mapping_that_cannot_be_says_which_column(columns: tuple[Column, ...], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        LogMapping(columns=columns)


def test_a_column_in_no_unit_of_its_measure_is_refused() -> None:
    with pytest.raises(ValueError, match="is in V or mV; choose one for “x”"):
        Column(name="x", role="input_v", unit="A")


def test_watts_become_amperes_by_the_volts_of_their_place() -> None:
    """560 W at 14 V are 40 A; at no volts they are none; 9 kW are no vehicle's."""
    columns = (WHEN, ONE, Column(name="p", role="input_a", unit="W"))
    text = "When;a;p\n" + "".join(
        f"{1_770_000_000 + at};{cells}\n" for at, cells in enumerate(["14.0;560"] * 300 + ["0;560", "14.0;9000"])
    )
    found = next(
        part
        for part in read(io.BytesIO(text.encode()), LogMapping(columns=columns, delimiter=";", order="epoch_s"))
        if isinstance(part, LogRead)
    )
    assert found.log.values["input_a"][:300] == pytest.approx(40.0)
    assert np.isnan(found.log.values["input_a"][300:]).all()
    assert [(trouble.line, trouble.cell) for trouble in found.troubles] == [(303, "9000")]


def test_watts_without_volts_of_their_place_are_no_mapping() -> None:
    with pytest.raises(ValueError, match="“p” is in watts, which become amperes by volts at the unit's output or"):
        LogMapping(columns=(WHEN, ONE, Column(name="p", role="output_a", unit="W")))


STATES = ["Off", "Bulk", "Bulk", "Absorption", "Not charging", "Off"]


def _states(words: list[str]) -> tuple[LogMapping, LogRead]:
    text = "Time;Vin [V];Charger state\n" + "".join(
        f"2026-02-14 10:{at // 6:02d}:{at % 6 * 10:02d};13.8;{word}\n" for at, word in enumerate(words)
    )
    guess = sniff(text.encode())
    assert guess.columns[2].role == "charging"
    assert guess.charging == ("Absorption", "Bulk")
    resting = tuple(word for word in guess.words[2] if word not in guess.charging)
    how = LogMapping(columns=guess.columns, delimiter=";", charging=guess.charging, resting=("Off", "Not charging"))
    assert set(resting) >= set(how.resting)
    found = next(part for part in read(io.BytesIO(text.encode()), how) if isinstance(part, LogRead))
    return how, found


def test_a_units_words_say_whether_it_charges() -> None:
    _, found = _states(STATES * 10)
    assert list(found.log.values["charging"][:6]) == [0, 1, 1, 1, 0, 0]


def test_a_word_never_marked_is_left_out_and_told() -> None:
    _, found = _states(STATES * 20 + ["Zurück"])
    assert np.isnan(found.log.values["charging"][-1])
    assert any("states are in no list" in trouble.text and "Zurück" in trouble.text for trouble in found.troubles)
    with pytest.raises(BadLog, match="states are in no list"):
        _states(STATES + ["Zurück"] * 60)


def test_a_state_is_in_one_list_and_one_must_mean_charging() -> None:
    state = Column(name="s", role="charging")
    with pytest.raises(ValueError, match="no state is marked as charging"):
        LogMapping(columns=(WHEN, ONE, state))
    with pytest.raises(ValueError, match="'Bulk' is among the states in which it charges and among the others"):
        LogMapping(columns=(WHEN, ONE, state), charging=("Bulk",), resting=("Bulk", "Off"))
