"""The menu of one device as CSV, a row a line: written, and read back with every error at its row and column.

Several values of a cell are parted by semicolons. A choice is `label = stands for > line: value, line: value`, of which
all but the label may be left out.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.core.model.form import FormField, form_of
from olvask.core.model.settings import Setting, SettingsRecord
from olvask.documents.csv_text import defused, restored

MOST_LINES = 60
NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?")
BETWEEN = re.compile(r",(?=\s|[a-z])")  # a comma between figures is a decimal mark
MANY = ("steps", "shown_values")
EXTRA = ("factory", "options")
FIELDS: Mapping[str, FormField] = {field.path: field for field in form_of(Setting)}
COLUMNS = (*FIELDS, *(name for name in EXTRA if name not in FIELDS))
YES, NO = ("yes", "true", "1", "x"), ("no", "false", "0", "")


@dataclass(frozen=True, slots=True)
class ReadMenu:
    """Lines that can be used, and every error with the row it stands in; the header is row 1."""

    lines: tuple[dict[str, Any], ...]
    errors: tuple[EntryError, ...]


def _worth(text: str) -> float | str:
    """A value as a number where it reads as one."""
    return float(text.replace(",", ".")) if NUMBER.fullmatch(text) else text


def write_menu(record: SettingsRecord) -> str:
    """A menu as CSV.

    Args:
        record: the menu.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for line in record.lines:
        document = line.model_dump(mode="json")
        writer.writerow([defused(_cell(name, document[name])) for name in COLUMNS])
    return out.getvalue()


def _cell(name: str, value: Any) -> str:
    if name == "options":
        return "; ".join(_choice(option) for option in value)
    if isinstance(value, list):
        return "; ".join(_cell("", item) for item in value)
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else str(value)


def _choice(option: Mapping[str, Any]) -> str:
    stands = f" = {option['stands_for']}" if option["stands_for"] else ""
    rewrites = ", ".join(f"{item['line']}: {_cell('', item['value'])}" for item in option["rewrites"])
    return f"{option['label']}{stands}{f' > {rewrites}' if rewrites else ''}"


def read_menu(raw: bytes) -> ReadMenu:
    """Read a menu from CSV; what is sound comes back even where other rows are not.

    Args:
        raw: the file's bytes, parted by commas or semicolons.
    """
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        return _whole(f"not text in UTF-8 (byte {error.start}); save the file as UTF-8")
    if not text.strip():
        return _whole("the file is empty; write one out to see its form")
    try:
        rows = list(csv.reader(io.StringIO(text)))
    except csv.Error as error:
        return _whole(f"not CSV: {error}")
    header = [cell.strip() for cell in rows[0]]
    unknown = [name for name in header if name and name not in COLUMNS]
    if unknown or "id" not in header:
        wrong = f"unknown column {unknown[0]!r}" if unknown else "the column id is missing"
        return _whole(f"{wrong}; columns are {', '.join(COLUMNS)}")
    if len(rows) > MOST_LINES + 1:
        return _whole(f"{len(rows) - 1} lines; a menu holds {MOST_LINES} at most")
    return _judged(header, rows[1:])


def _whole(message: str) -> ReadMenu:
    return ReadMenu((), (EntryError(path="row 1", field="File", message=message),))


def _judged(header: list[str], rows: list[list[str]]) -> ReadMenu:
    lines: list[dict[str, Any]] = []
    errors: list[EntryError] = []
    for number, cells in enumerate(rows, start=2):
        if not any(cell.strip() for cell in cells):
            continue
        document = {
            name: _value(name, restored(cell.strip()))
            for name, cell in zip(header, cells, strict=False)
            if name and cell.strip() != ""
        }
        try:
            lines.append(Setting.model_validate(document).model_dump(mode="json"))
        except ValidationError as error:
            errors += [
                EntryError(path=f"row {number}", field=item.field, message=item.message)
                for item in entry_errors(error, Setting)
            ]
    if not errors:
        try:
            SettingsRecord.model_validate({"lines": lines})
        except ValidationError as error:
            errors = [
                EntryError(path="rows", field=item.field, message=item.message)
                for item in entry_errors(error, SettingsRecord)
            ]
    return ReadMenu(tuple(lines), tuple(errors))


def _value(name: str, text: str) -> Any:
    """A cell as the model takes it; what does not read stays text for the model to refuse."""
    if name == "options":
        return [_option(part.strip()) for part in text.split(";") if part.strip()]
    if name in MANY:
        parts = [part.strip() for part in text.split(";") if part.strip()]
        return [_worth(part) for part in parts] if name == "steps" else parts
    if name == "factory":
        return _worth(text)
    if FIELDS[name].kind == "tick":
        return True if text.casefold() in YES else False if text.casefold() in NO else text
    return text.replace(",", ".") if FIELDS[name].kind == "number" else text


def _option(text: str) -> dict[str, Any]:
    """One choice from its text."""
    head, _, tail = text.partition(">")
    label, _, stands = head.partition("=")
    rewrites = []
    for part in BETWEEN.split(tail):
        line, _, value = part.partition(":")
        if line.strip():
            rewrites.append({"line": line.strip(), "value": _worth(value.strip())})
    return {"label": label.strip(), "stands_for": stands.strip(), "rewrites": rewrites}
