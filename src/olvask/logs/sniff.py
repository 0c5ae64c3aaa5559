"""What a log's file looks like, from its beginning and a few places further on: guesses, each with what it rests on.

- `Sniffed`, `sniff`: the guess, its doubts, and cells to look at.
"""

from __future__ import annotations

import codecs
import re
from collections.abc import Sequence
from itertools import pairwise
from statistics import median
from typing import Literal

from pydantic import Field

from olvask.core.findings.said import Said
from olvask.core.model.device_log import (
    DELIMITERS,
    MEASURED,
    MEASURES,
    MOST_STATES,
    UNITS,
    Column,
    Delimiter,
    Measured,
    Order,
    Role,
)
from olvask.logs.moments import EPOCH, parts_of

HEAD_LINES, SHOWN = 800, 12  # looked at for the header; shown of what follows
LIKE_ONE, MOST_LINE = 0.9, 100_000
Encoding = Literal["utf-8", "utf-16", "latin-1"]
# Words of headers and what they say of a column; the words are the trade's own plain English.
SIDES: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("post", ("start", "starter", "vehicle", "crank", "engine")),
    ("auxiliary", ("aux", "auxiliary", "house", "service", "second", "body", "battery", "batt", "bat")),
    ("input", ("in", "input", "supply", "source", "alternator")),
    ("output", ("out", "output", "charge", "charger", "delivery")),
)
QUANTITY_WORDS = {
    "v": ("v", "volt", "volts", "voltage", "mv", "u"),
    "a": ("a", "amp", "amps", "ampere", "amperes", "current", "ma", "i", "w", "kw", "watt", "watts", "power"),
    "percent": ("%", "soc", "percent", "level"),
    "c": ("c", "°c", "f", "°f", "k", "temp", "temperature", "celsius", "fahrenheit"),
}
UNIT_WORDS = {
    "v": "V",
    "mv": "mV",
    "a": "A",
    "ma": "mA",
    "w": "W",
    "kw": "kW",
    "%": "%",
    "c": "°C",
    "°c": "°C",
    "f": "°F",
    "°f": "°F",
}
POWER_WORDS = {"w", "kw", "watt", "watts", "power"}
STATE_WORDS = {"state", "status", "mode", "stage", "phase"}
CHARGES, RESTS = r"bulk|absor|float|charg|boost|equali|\bon\b", r"\bnot?\b|\bdis|off|idle|fault|error|stop|wait|block"
OWN: dict[tuple[str, str], Measured] = {
    ("input", "v"): "input_v",
    ("input", "a"): "input_a",
    ("output", "v"): "output_v",
    ("output", "a"): "output_a",
    ("post", "v"): "post_v",
    ("auxiliary", "v"): "auxiliary_v",
    ("auxiliary", "a"): "auxiliary_a",
}


class BadLog(ValueError):
    """The file cannot be read as a log; the message says where and what to do."""


class Sniffed(Said):
    """How a file is likely to be read.

    What is doubtful is asked, not assumed: `doubts` names it.
    """

    encoding: Encoding
    delimiter: Delimiter
    decimal: Literal[".", ","]
    header_line: int
    columns: tuple[Column, ...]
    order: Order
    zone_written: bool = Field(description="whether its times say their own offset from UTC")
    doubts: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...] = Field(description="its first rows, as they stand")
    words: tuple[tuple[str, ...], ...] = Field(description="by column, the words it has where they are few")
    charging: tuple[str, ...] = Field(description="of its words, those likely to say that it charges")


def encoding_of(head: bytes) -> Encoding:
    """How characters are written.

    Args:
        head: the file's beginning.
    """
    if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    try:
        codecs.getincrementaldecoder("utf-8")().decode(head)
    except UnicodeDecodeError:
        return "latin-1"
    return "utf-8"


def cells_of(line: str, delimiter: str) -> list[str]:
    """The cells of a line; a delimiter within quotation marks parts nothing.

    Args:
        line: without its end.
        delimiter: what parts cells.
    """
    if '"' not in line:
        return [cell.strip() for cell in line.split(delimiter)]
    found = re.findall(rf'(?:^|{re.escape(delimiter)})\s*(?:"((?:[^"]|"")*)"|([^{re.escape(delimiter)}]*))', line)
    return [(quoted.replace('""', '"') if quoted else bare).strip() for quoted, bare in found]


def sniff(sample: bytes) -> Sniffed:
    """Guess how a log is to be read.

    Args:
        sample: the file's beginning, some tens of kilobytes, and whole lines from further on behind it.

    Raises:
        BadLog: it is no table of text.
    """
    encoding = encoding_of(sample)
    text = sample.decode(encoding, errors="replace").removeprefix("\ufeff")
    lines = text.splitlines()
    if len(lines) > 1 and not text.endswith("\n"):
        lines.pop()
    if "\x00" in text or not any(line.strip() for line in lines) or max(map(len, lines)) > MOST_LINE:
        raise BadLog(
            "This is no table of text: save the log as CSV from the device's own program, and choose that file."
        )
    delimiter, header_at = _table(lines[:HEAD_LINES])
    names = cells_of(lines[header_at], delimiter)
    wide = [cells for line in lines[header_at + 1 :] if len(cells := cells_of(line, delimiter)) == len(names)]
    if not wide:
        raise BadLog(f"Below the column names in line {header_at + 1} no row has as many cells; is the file cut short?")
    decimal = _decimal(wide)
    doubts: list[str] = []
    words = tuple(_few([row[place] for row in wide]) for place in range(len(names)))
    roles = _roles(names, wide, words, doubts)
    if any(role == "charging" for role, _ in roles):
        doubts.append("The unit's states are words; look at which of them mean that it charges.")
    order, written = _order(wide, roles, doubts)
    return Sniffed(
        encoding=encoding,
        delimiter=delimiter,
        decimal=decimal,
        header_line=header_at + 1,
        columns=tuple(
            Column(name=name[:120], role=role, unit=unit) for name, (role, unit) in zip(names, roles, strict=True)
        ),
        order=order,
        zone_written=written,
        doubts=tuple(doubts),
        rows=tuple(tuple(row) for row in wide[:SHOWN]),
        words=words,
        charging=tuple(sorted({word for column in words for word in column if charges(word)})),
    )


def charges(word: str) -> bool:
    """Whether a state's word is likely to say that the unit charges."""
    low = word.casefold()
    return re.search(CHARGES, low) is not None and re.search(RESTS, low) is None


def _few(cells: Sequence[str]) -> tuple[str, ...]:
    """The words of a column where they are so few that they may be states; none where they are numbers with a fraction."""
    found = {cell for cell in cells if cell}
    if len(found) > MOST_STATES or any(re.search(r"\d[.,:]\d", cell) for cell in found):
        return ()
    return tuple(sorted(found))


def _table(lines: Sequence[str]) -> tuple[Delimiter, int]:
    """What parts the columns, and the line of their names: the first of a stretch of lines with as many cells each."""
    best: tuple[float, Delimiter, int] | None = None
    for delimiter in DELIMITERS:
        counts = [len(cells_of(line, delimiter)) for line in lines]
        usual = int(median([count for count in counts if count > 1] or [1]))
        if usual < 2:
            continue
        same = [place for place, count in enumerate(counts) if count == usual]
        header = next((place for place in same if _names(cells_of(lines[place], delimiter))), None)
        if header is None:
            continue
        after = counts[header + 1 :]
        alike = sum(count == usual for count in after) / max(1, len(after))
        worth = alike * (1 + 0.01 * usual) + (0.2 if delimiter in ";\t" else 0.0)
        if alike > LIKE_ONE / 2 and (best is None or worth > best[0]):
            best = (worth, delimiter, header)
    if best is None:
        raise BadLog(
            "No line with names of columns over rows with as many cells is found; save the log as CSV with its column names."
        )
    return best[1], best[2]


def _names(cells: Sequence[str]) -> bool:
    """Whether a line's cells are names: hardly a number among them, and no moment."""
    numbers = sum(bool(re.fullmatch(r"[-+\d.,:\s/]+", cell)) for cell in cells if cell)
    return any(cells) and numbers <= 0.2 * len(cells)


def _decimal(rows: Sequence[Sequence[str]]) -> Literal[".", ","]:
    """What most numbers with a fraction are written with."""
    cells = [cell for row in rows for cell in row]
    commas, points = (
        sum(bool(re.fullmatch(rf"[-+]?\d+{mark}\d+\s*\D{{0,3}}", cell)) for cell in cells) for mark in (",", r"\.")
    )
    return "," if commas > points else "."


def _words(name: str) -> list[str]:
    """The words of a column's name, units among them: “Vin [mV]” gives v, in, mv."""
    apart = re.sub(r"(?<=[a-z]{2})(?=[A-Z])", " ", name)
    apart = re.sub(r"^([VIU])(in|out|bat|batt|aux|start)\b", r"\1 \2", apart, flags=re.IGNORECASE)
    return [word for word in re.split(r"[^a-z%°]+", apart.casefold()) if word]


def _roles(
    names: Sequence[str], rows: Sequence[Sequence[str]], states: Sequence[tuple[str, ...]], doubts: list[str]
) -> list[tuple[Role, str]]:
    """What each column is likely to hold, and in which unit; each role once."""
    found: list[tuple[Role, str]] = []
    for place, name in enumerate(names):
        cells = [row[place] for row in rows if row[place]]
        role, unit = _moment(cells), ""
        if not role:
            role, unit = _measured(name)
        if not role and STATE_WORDS & set(_words(name)) and any(charges(word) for word in states[place]):
            role = "charging"
        if role and any(role == taken for taken, _ in found):
            doubts.append(f"More than one column may be {_label(role)}; “{name}” is left out unless you choose it.")
            role, unit = "", ""
        found.append((role, unit))
    if any(role == "moment" for role, _ in found):
        found = [("", "") if role in ("date", "clock") else (role, unit) for role, unit in found]
    return found


def _label(role: Role) -> str:
    return MEASURES[role].label.lower() if role in MEASURED else "the date and time"


def _moment(cells: Sequence[str]) -> Role:
    """Whether a column's cells are moments, dates or times of day."""
    if not cells:
        return ""
    kinds: tuple[Role, ...] = ("moment", "date", "clock")
    for kind in kinds:
        if sum(parts_of(cell, kind) is not None for cell in cells) >= LIKE_ONE * len(cells):
            return kind
    numbers = [float(found[1]) for cell in cells if (found := re.match(EPOCH, cell))]
    if len(numbers) >= LIKE_ONE * len(cells) and 6e8 < numbers[0] < 5e9:
        return "moment"
    if len(numbers) >= LIKE_ONE * len(cells) and 6e11 < numbers[0] < 5e12:
        return "moment"
    return ""


def _measured(name: str) -> tuple[Role, str]:
    """What a column's name says it holds; empty where it does not say for certain."""
    words = _words(name)
    kind = next((key for key, known in QUANTITY_WORDS.items() if any(word in known for word in words)), "")
    side = next((key for key, known in SIDES if any(word in known for word in words)), "")
    unit = next((UNIT_WORDS[word] for word in reversed(words) if word in UNIT_WORDS), "")
    role: Role = ""
    if kind == "percent":
        role = "charge_percent"
    elif kind == "c" and side == "auxiliary":
        role = "battery_c"
    elif (side, kind) in OWN:
        role = OWN[side, kind]
    if role not in MEASURED:
        return "", ""
    own = "W" if POWER_WORDS & set(words) else MEASURES[role].unit
    return role, unit if unit in UNITS[MEASURES[role].unit] else own


def _order(rows: Sequence[Sequence[str]], roles: Sequence[tuple[Role, str]], doubts: list[str]) -> tuple[Order, bool]:
    """Which number of a date is which, and whether times say their offset; a doubt is told."""
    place = next((at for at, (role, _) in enumerate(roles) if role in ("moment", "date")), None)
    if place is None:
        doubts.append("No column of dates is found; choose it.")
        return "ymd", False
    cells = [row[place] for row in rows if row[place]]
    first = cells[0] if cells else ""
    if number := re.match(EPOCH, first):
        return ("epoch_ms" if float(number[1]) > 1e11 else "epoch_s"), True
    kind = "moment" if roles[place][0] == "moment" else "date"
    parts = [found for cell in cells if (found := parts_of(cell, kind)) is not None]
    written = kind == "moment" and bool(parts) and all(part[7] for part in parts)
    dates = [tuple(int(number) for number in part[:3]) for part in parts]
    if not dates or dates[0][0] > 31:
        return "ymd", written
    if any(date[0] > 12 for date in dates):
        return "dmy", written
    if any(date[1] > 12 for date in dates):
        return "mdy", written
    # Days go on one by one; months stay.
    moves = [sum(before[at] != after[at] for before, after in pairwise(dates)) for at in (0, 1)]
    doubts.append(
        f"“{first}” may be day and month or month and day; choose how dates are written, and look at the first rows."
    )
    return ("dmy" if moves[0] >= moves[1] else "mdy"), written
