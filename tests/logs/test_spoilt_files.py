"""A log's file spoilt in every way a device, a program or a hand spoils files: refused by its place, or read right."""

from __future__ import annotations

import io
import os
import random
from collections.abc import Callable

import numpy as np
import pytest

from olvask.core.model.device_log import LogMapping
from olvask.logs.gathered import LogRead
from olvask.logs.reading import read
from olvask.logs.sniff import BadLog, sniff
from tests.device_logs import Made, made

MANY = int(os.environ.get("OLVASK_SPOILT", "42"))  # `make check-logs` asks for 300
Spoil = Callable[[random.Random, list[str], Made], list[str] | bytes]


def mapping_of(text: bytes, zone: str) -> LogMapping:
    """As somebody would confirm it who looks at the preview."""
    found = sniff(sample_of(text))
    return LogMapping(
        encoding=found.encoding,
        delimiter=found.delimiter,
        decimal=found.decimal,
        header_line=found.header_line,
        columns=found.columns,
        order=found.order,
        zone=zone,
    )


def sample_of(text: bytes) -> bytes:
    """Its beginning, and whole lines from seven places further on, as the page sends them."""
    if len(text) < 200_000:
        return text
    pieces = [text[len(text) * part // 8 :][:8000] for part in range(1, 8)]
    return b"".join(piece[piece.find(b"\n") + 1 : piece.rfind(b"\n") + 1] for piece in (b"\n" + text[:60000], *pieces))


def read_all(text: bytes, mapping: LogMapping) -> LogRead:
    last = list(read(io.BytesIO(text), mapping, len(text)))[-1]
    assert isinstance(last, LogRead)
    return last


def _cells(change: Callable[[random.Random, list[str]], list[str]], often: float) -> Spoil:
    """Some rows with their cells changed."""

    def spoil(pick: random.Random, lines: list[str], case: Made) -> list[str]:
        mark = case.layout.delimiter
        return [
            mark.join(change(pick, line.split(mark))) if at > 4 and pick.random() < often else line
            for at, line in enumerate(lines)
        ]

    return spoil


def _from_some_row(change: Callable[[str, Made], str]) -> Spoil:
    """Every row from one on changed."""

    def spoil(pick: random.Random, lines: list[str], case: Made) -> list[str]:
        at = pick.randint(len(lines) // 4, len(lines) // 2)
        return lines[:at] + [change(line, case) for line in lines[at:]]

    return spoil


def _cut(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = pick.randint(10, len(lines) - 100)
    return [*lines[:at], lines[at][: pick.randint(1, 12)] + lines[at + pick.randint(1, 50)], *lines[at + 51 :]]


def _twice(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = pick.randint(10, len(lines) - 500)
    return lines[: at + 400] + lines[at:]


def _shuffled(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = pick.randint(10, len(lines) - 500)
    return lines[:at] + lines[at + 200 : at + 400] + lines[at : at + 200] + lines[at + 400 :]


def _header(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = next(place for place, line in enumerate(lines) if "Input" in line)
    cells = lines[at].split(case.layout.delimiter)
    one, other = pick.sample(range(1, len(cells)), 2)
    cells[one], cells[other] = cells[other], cells[one]
    return [*lines[:at], case.layout.delimiter.join(cells), *lines[at + 1 :]]


def _again(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = next(place for place, line in enumerate(lines) if "Input" in line)
    middle = len(lines) // 2
    return lines[:middle] + lines[at : at + 1] + lines[middle:]


def _garbage(pick: random.Random, lines: list[str], case: Made) -> bytes:
    raw = bytearray(case.layout.ending.join(lines).encode())
    for _ in range(pick.randint(1, 30)):
        raw[pick.randrange(2000, len(raw))] = pick.randrange(256)
    return bytes(raw)


def _otherwise(encoding: str) -> Spoil:
    return lambda pick, lines, case: case.layout.ending.join(lines).encode(encoding, errors="replace")


def _short(pick: random.Random, lines: list[str], case: Made) -> bytes:
    raw = case.layout.ending.join(lines).encode()
    return raw[: pick.randrange(len(raw) // 3, len(raw))]


def _other_comma(line: str, case: Made) -> str:
    return line.replace(case.layout.decimal, "\0").replace("\0", "," if case.layout.decimal == "." else ".")


def _thousandfold(line: str, case: Made) -> str:
    cells = line.split(case.layout.delimiter)
    times = 0.001 if case.layout.milli else 1000
    try:
        cells[-4] = f"{float(cells[-4].replace(',', '.')) * times:.2f}".replace(".", case.layout.decimal)
    except ValueError:
        return line
    return case.layout.delimiter.join(cells)


def _quoted(pick: random.Random, lines: list[str], case: Made) -> list[str]:
    at = pick.randint(10, len(lines) - 10)
    cells = lines[at].split(case.layout.delimiter)
    cells[-2] = f'"{cells[-2]}'
    return [*lines[:at], case.layout.delimiter.join(cells), *lines[at + 1 :]]


SPOILS: dict[str, Spoil] = {
    "cut and joined rows": _cut,
    "a stretch twice": _twice,
    "stretches in the wrong order": _shuffled,
    "column names changed about": _header,
    "column names again half-way": _again,
    "bytes of garbage": _garbage,
    "UTF-16": _otherwise("utf-16"),
    "Western European": _otherwise("latin-1"),
    "cut short": _short,
    "the other decimal mark from some row on": _from_some_row(_other_comma),
    "volts a thousandfold from some row on": _from_some_row(_thousandfold),
    "another delimiter from some row on": _from_some_row(lambda line, case: line.replace(case.layout.delimiter, "~")),
    "a column lost from some row on": _from_some_row(lambda line, case: line.rpartition(case.layout.delimiter)[0]),
    "a quotation mark left open": _quoted,
    "words for numbers": _cells(
        lambda pick, cells: [*cells[:-3], pick.choice(("ERR", "---", "", "nan", "OVL")), *cells[-2:]], 0.005
    ),
    "a cell too many": _cells(lambda pick, cells: [*cells, "7"], 0.005),
    "shifted cells": _cells(lambda pick, cells: [*cells[:2], "", *cells[2:-1]], 0.004),
    "spaces around cells": _cells(lambda pick, cells: [f"  {cell} " for cell in cells], 0.5),
    "blank lines": lambda pick, lines, case: [
        item for line in lines for item in ((line, "") if pick.random() < 0.1 else (line,))
    ],
    "newest first": lambda pick, lines, case: lines[: _first(lines)] + lines[: _first(lines) - 1 : -1],
    "impossible dates": _cells(lambda pick, cells: ["00/00/0000 25:61:00", *cells[1:]], 0.005),
}


def _first(lines: list[str]) -> int:
    return next(place for place, line in enumerate(lines) if "Input" in line) + 1


@pytest.fixture(scope="module")
def cases() -> list[Made]:
    """A few vehicles' logs of a day, rows of ten seconds."""
    found = []
    for seed in range(100):
        case = made(random.Random(f"spoilt {seed}"), days=1)
        if case.recorder.every_s == 10.0:
            found.append(case)
        if len(found) == 4:
            break
    return found


@pytest.mark.parametrize("number", range(MANY))
def test_a_spoilt_file_is_refused_by_its_place_or_read_right(number: int, cases: list[Made]) -> None:
    pick = random.Random(number)
    case = cases[number % len(cases)]
    name = sorted(SPOILS)[number % len(SPOILS)]
    plain = case.text.encode()
    mapping = mapping_of(plain, case.layout.zone)
    good = read_all(plain, mapping)
    changed = SPOILS[name](pick, case.text.split(case.layout.ending)[:-1], case)
    text = changed if isinstance(changed, bytes) else (case.layout.ending.join(changed) + case.layout.ending).encode()
    try:
        got = read_all(text, mapping)
    except BadLog as error:
        refused = str(error)
    else:
        _same(good, got, name)
        return
    assert any(word in refused for word in ("line", "Line", "Column", "column", "“")), (name, refused)


def _same(good: LogRead, got: LogRead, name: str) -> None:
    """Every value that was read is one of the unspoilt log, and what is missing was told."""
    at = np.searchsorted(good.log.time_s, got.log.time_s)
    at = np.minimum(at, len(good.log) - 1)
    stray = int(np.count_nonzero(np.abs(good.log.time_s[at] - got.log.time_s) > 0.5))
    wrong = 0
    for measure, column in got.log.values.items():
        real = good.log.values[measure][at]
        wrong += int(np.count_nonzero(np.isfinite(column) & (np.abs(column - real) > 1e-4)))
    told = sum(trouble.count for trouble in got.troubles)
    missing = len(good.log) - len(got.log)
    if name == "bytes of garbage":  # one digit for another is a number like any
        assert wrong + stray <= 30
        return
    if name == "cut short":
        assert (wrong, stray) <= (1, 0)
        return
    if name == "cut and joined rows":  # the cells of two halves may make a row
        assert wrong + stray <= 9
        return
    assert (wrong, stray) == (0, 0), (name, got.troubles)
    assert missing <= told, (name, missing, told)
