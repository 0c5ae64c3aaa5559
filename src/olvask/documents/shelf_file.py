"""A shelf as CSV or JSON: written, and read back row by row with every error located. Nothing is stored here.

CSV columns are the dotted paths of the model. An empty cell leaves a value out; lists are parted by semicolons;
`yes` and `no` stand for ticks.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from olvask.core.model.entry_checks import first_faults
from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.core.model.form import FormField, form_of
from olvask.core.model.settings import Setting
from olvask.core.model.shelf import KINDS, KindName, ShelfItem
from olvask.core.model.unclear import THOUSAND
from olvask.documents.csv_text import defused, restored

MOST_ROWS = 20_000
WORDS = {"yes": True, "no": False, "true": True, "false": False}


class RowError(EntryError):
    """An error and the row it stands in; the header is row 1."""

    row: int


@dataclass(frozen=True, slots=True)
class ReadShelf:
    """What a file holds: good items with their rows, and every error of the others."""

    rows: int
    items: tuple[tuple[int, ShelfItem], ...]
    errors: tuple[RowError, ...]


MENU_PATH = "settings.lines"


def _menu(prefix: str) -> FormField:
    """The lines of a menu are things with parts of their own: a cell holds them as JSON."""
    return FormField(
        path=f"{prefix}{MENU_PATH}", label="Lines", unit="", kind="texts", required=False, group="Settings record"
    )


MENUS: Mapping[KindName, FormField] = {
    "chargers": _menu(""),
    "other_chargers": _menu("stages."),
    "monitors": _menu("monitor."),
}


def _fields(kind: KindName) -> tuple[FormField, ...]:
    return form_of(KINDS[kind]) + ((MENUS[kind],) if kind in MENUS else ())


def read_shelf(kind: KindName, raw: bytes) -> ReadShelf:
    """Read a shelf file, CSV or JSON by its first character.

    Args:
        kind: which shelf it is meant for.
        raw: the file's bytes.

    Every row is judged; an error in one leaves the others alone.
    """
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        return _whole(f"not text in UTF-8 (byte {error.start}); save the file as UTF-8")
    if not text.strip():
        return _whole("the file is empty; export a shelf to see its form")
    if text.lstrip()[0] in "[{":
        return _read_json(kind, text)
    return _read_csv(kind, text)


def _whole(message: str, row: int = 1) -> ReadShelf:
    return ReadShelf(0, (), (RowError(row=row, path="", field="File", message=message),))


def _read_json(kind: KindName, text: str) -> ReadShelf:
    try:
        found = json.loads(text)
    except json.JSONDecodeError as error:
        return _whole(f"not JSON: {error.msg}, column {error.colno}", error.lineno)
    except ValueError:
        return _whole("a number in it has thousands of digits")
    except RecursionError:
        return _whole("nested too deeply to be a shelf file")
    if isinstance(found, dict):
        if found.get("kind") not in (None, kind):
            return _whole(f"this file holds {found['kind']}, not {kind}; choose the other shelf")
        found = found.get("items")
    if not isinstance(found, list):
        return _whole('a list of items is wanted, or an object with "items"')
    return _judge(kind, ((at + 1, item) for at, item in enumerate(found)), len(found))


def _read_csv(kind: KindName, text: str) -> ReadShelf:
    sample = text.splitlines()[0]
    reader = csv.reader(io.StringIO(text), delimiter=";" if sample.count(";") > sample.count(",") else ",")
    try:
        header = [cell.strip() for cell in next(reader)]
        fields = {field.path: field for field in _fields(kind)}
        unknown = [name for name in header if name and name not in fields]
        if unknown:
            return _whole(f"unknown column {unknown[0]!r}; columns are {', '.join(list(fields)[:6])} and so on")
        if "id" not in header:
            return _whole("the column id is missing; each row needs its shelf number")
        return _judge_rows(kind, header, fields, reader)
    except csv.Error as error:
        return _whole(f"not CSV: {error}", reader.line_num)


def _judge_rows(
    kind: KindName, header: list[str], fields: Mapping[str, FormField], reader: Iterable[list[str]]
) -> ReadShelf:
    documents: list[tuple[int, Any]] = []
    for row, cells in enumerate(reader, start=2):
        if not any(cell.strip() for cell in cells):
            continue
        extra = [cell for cell in cells[len(header) :] if cell.strip()]
        documents.append((row, _TooWide(len(header), len(cells)) if extra else _nested(header, fields, cells)))
    return _judge(kind, documents, len(documents))


@dataclass(frozen=True, slots=True)
class _TooWide:
    columns: int
    cells: int


def _nested(header: list[str], fields: Mapping[str, FormField], cells: list[str]) -> dict[str, Any]:
    """A row as a document."""
    document: dict[str, Any] = {}
    for path, cell in zip(header, cells, strict=False):
        text = restored(cell.strip())
        if not path or text == "":
            continue
        here = document
        *way, last = path.split(".")
        for step in way:
            here = here.setdefault(step, {})
        here[last] = _value(fields[path], text)
    return document


def _value(field: FormField, text: str) -> Any:
    """A cell as the model takes it; what does not read stays text for the model to refuse."""
    if field.path.endswith(MENU_PATH):
        try:
            return json.loads(text)
        except (ValueError, RecursionError):
            return text
    if field.kind == "tick":
        return WORDS.get(text.lower(), text)
    if field.kind in ("choices", "texts", "numbers"):
        return [part.strip() for part in text.split(";") if part.strip()]
    if field.kind in ("number", "whole"):
        return text if THOUSAND.fullmatch(text) else text.replace(",", ".")
    if field.kind == "choice" and text.isdecimal():
        return int(text)
    return text


def _judge(kind: KindName, documents: Iterable[tuple[int, Any]], rows: int) -> ReadShelf:
    model: type[BaseModel] = KINDS[kind]
    if rows > MOST_ROWS:
        return _whole(f"{rows} rows; at most {MOST_ROWS} at once, part the file")
    good: list[tuple[int, Any]] = []
    wrong: list[RowError] = []
    seen: dict[str, int] = {}
    for row, document in documents:
        if isinstance(document, _TooWide):
            message = f"{document.cells} cells under {document.columns} columns; look for a stray comma"
            wrong.append(RowError(row=row, path="", field="Row", message=message))
            continue
        odd = first_faults(document, model)
        if odd:
            wrong += [RowError(row=row, **item.model_dump()) for item in odd]
            continue
        try:
            item = model.model_validate(document)
        except ValidationError as error:
            wrong += [RowError(row=row, **item.model_dump()) for item in entry_errors(error, model)]
            continue
        number = str(getattr(item, "id", ""))
        if number in seen:
            message = f"{number!r} stands in row {seen[number]} already; give each its own number"
            wrong.append(RowError(row=row, path="id", field="Shelf number", message=message))
            continue
        seen[number] = row
        good.append((row, item))
    return ReadShelf(rows, tuple(good), tuple(wrong))


def write_shelf_json(kind: KindName, items: Iterable[BaseModel]) -> str:
    """Write a shelf as JSON, ending in a newline."""
    document = {"format": "olvask-shelf", "kind": kind, "items": [item.model_dump(mode="json") for item in items]}
    return json.dumps(document, ensure_ascii=False, indent=1) + "\n"


def write_shelf_csv(kind: KindName, items: Iterable[BaseModel]) -> str:
    """Write a shelf as CSV with one column for each field of the form."""
    fields = _fields(kind)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([field.path for field in fields])
    for item in items:
        document = item.model_dump(mode="json")
        writer.writerow([defused(_cell(_at(document, field.path))) for field in fields])
    return out.getvalue()


def _at(document: Any, path: str) -> Any:
    for step in path.split("."):
        if document is None:
            return None
        document = document.get(step)
    return document


def _lean(line: dict[str, Any]) -> dict[str, Any]:
    """A menu's line without what is as usual."""
    usual = {name: field.default for name, field in Setting.model_fields.items()}
    empty: tuple[Any, ...] = ([], None, "")
    return {name: value for name, value in line.items() if value != usual.get(name) and value not in empty}


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list) and any(isinstance(item, dict) for item in value):
        return json.dumps([_lean(item) for item in value], ensure_ascii=False, separators=(",", ":"))
    if isinstance(value, list):
        return "; ".join(_cell(item) for item in value)
    return f"{value:g}" if isinstance(value, float) and value == round(value, 6) else str(value)
