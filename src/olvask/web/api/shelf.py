"""The endpoints of the shelf under /api/shelf."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from apiflask import APIBlueprint
from flask import Response, request
from pydantic import Field, ValidationError

from olvask.core.model.base import Described
from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.core.model.form import FormField, form_of
from olvask.core.model.shelf import KINDS, KindName, ShelfItem
from olvask.documents.shelf_file import RowError, read_shelf, write_shelf_csv, write_shelf_json
from olvask.store.shelf import NoSuchItem, Seek, Shelved
from olvask.web.body import BadInput
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import Out

shelf_api = APIBlueprint("shelf", __name__, url_prefix="/api/shelf", tag="Shelf")
SHOWN_ERRORS = 500
MOST_ROWS = 200


class ItemOut(Out):
    """One thing on the shelf."""

    id: str
    version: int
    retired: bool
    saved_at: datetime
    used_in: int = Field(description="how many jobs hold it")
    document: dict[str, Any]


class ShelfQuery(Described):
    """Which part of a shelf."""

    sought: str = Field("", title="Find", max_length=120, description="words of an item, in any order")
    retired: bool = Field(True, title="Retired too")
    order: str = Field("", title="Order", max_length=60, pattern=r"^[a-z0-9_.]*$", description="field to sort by")
    falling: bool = Field(False, title="Largest first")
    begin: int = Field(0, title="From row", ge=0, le=10_000_000)
    rows: int = Field(MOST_ROWS, title="Rows", ge=1, le=MOST_ROWS)


class ShelfPage(Out):
    """A part of one shelf."""

    kind: str
    total: int = Field(description="how many answer to what was sought")
    retired: int = Field(description="how many on the whole shelf are retired")
    items: tuple[ItemOut, ...]
    unreadable: tuple[str, ...] = Field(
        (), description="numbers under which something else stands than an item of today"
    )


class ShelfForm(Out):
    """The fields of one kind of item."""

    fields: tuple[FormField, ...]


class PutItem(Described):
    """An item to store; `based_on` is absent for a new one."""

    based_on: int | None = Field(None, title="Based on version", ge=1, le=2**53)
    document: dict[str, Any]


class RetireItem(Described):
    """Out of use, or back."""

    retired: bool


class TakenOut(Out):
    """What a file holds and what taking it does."""

    rows: int
    good: int
    bad_rows: int
    errors: tuple[RowError, ...]
    new: int
    changed: int
    same: int
    stored: bool


def _kind(name: str) -> KindName:
    """The kind by its name in the address.

    Raises:
        NoSuchItem: there is no such shelf.
    """
    for kind in KINDS:
        if kind == name:
            return kind
    raise NoSuchItem(f"no shelf called {name}; there are {', '.join(KINDS)}")


MOST_FILE_BYTES = 48 * 1024 * 1024  # five thousand units with their menus are half of that


USED_BY: dict[str, Literal["unit_id", "battery", "alternator"]] = {
    "chargers": "unit_id",
    "batteries": "battery",
    "alternators": "alternator",
}


def _used(kind: KindName) -> dict[str, int]:
    """How many jobs speak of each number or name, in their newest design."""
    return stores().jobs.used(USED_BY[kind]) if kind in USED_BY else {}


def _out(kind: KindName, found: Shelved, used: dict[str, int]) -> ItemOut:
    document = found.item.model_dump(mode="json")
    name = {"batteries": "battery", "alternators": "alternator"}.get(kind)
    key = document[name]["name"] if name is not None else document["id"]
    return ItemOut(
        id=document["id"],
        version=found.version,
        retired=found.retired,
        saved_at=found.saved_at,
        used_in=used.get(key, 0) if key else 0,
        document=document,
    )


@shelf_api.get("/<name>")
@shelf_api.input(ShelfQuery, location="query", arg_name="asked")
@shelf_api.output(ShelfPage)
def shelf(name: str, asked: ShelfQuery) -> Response:
    """A part of one shelf."""
    kind = _kind(name)
    used = _used(kind)
    seek = Seek(asked.sought, asked.retired, asked.order, asked.falling, asked.begin, asked.rows)
    part = stores().shelf.part(kind, seek)
    return answer_json(
        ShelfPage(
            kind=kind,
            total=part.total,
            retired=part.retired,
            items=tuple(_out(kind, found, used) for found in part.items),
            unreadable=tuple(part.unreadable[:MOST_ROWS]),
        )
    )


@shelf_api.get("/<name>/<number>")
@shelf_api.output(ItemOut)
def shelf_item(name: str, number: str) -> Response:
    """One thing on a shelf."""
    kind = _kind(name)
    return answer_json(_out(kind, stores().shelf.get(kind, number), _used(kind)))


@shelf_api.get("/<name>/form")
@shelf_api.output(ShelfForm)
def form(name: str) -> Response:
    """The fields of one kind of item."""
    return answer_json(ShelfForm(fields=form_of(KINDS[_kind(name)])))


def _item(kind: KindName, document: dict[str, object]) -> ShelfItem:
    try:
        item: ShelfItem = KINDS[kind].model_validate(document)  # type: ignore[assignment]  # each kind is one of the union
    except ValidationError as error:
        located = [
            EntryError(path=f"document.{item.path}", field=item.field, message=item.message)
            for item in entry_errors(error, KINDS[kind])
        ]
        raise BadInput(located) from None
    return item


@shelf_api.put("/<name>/<number>")
@shelf_api.input(PutItem, arg_name="put")
@shelf_api.output(ItemOut)
def put_item(name: str, number: str, put: PutItem) -> Response:
    """Add an item, or change one from the version it was read at."""
    kind = _kind(name)
    found = stores().shelf.put(kind, _item(kind, {**put.document, "id": number}), put.based_on)
    return answer_json(_out(kind, found, _used(kind)))


@shelf_api.post("/<name>/<number>/retire")
@shelf_api.input(RetireItem, arg_name="asked")
@shelf_api.output(ItemOut)
def retire_item(name: str, number: str, asked: RetireItem) -> Response:
    """Take an item out of use, or back into it. Jobs keep what they hold."""
    kind = _kind(name)
    return answer_json(_out(kind, stores().shelf.retire(kind, number, asked.retired), _used(kind)))


@shelf_api.post("/<name>/import")
@shelf_api.output(TakenOut)
def import_shelf(name: str) -> Response:
    """Judge a file row by row; store it only when `accept` says so: `all` if none is bad, `good` without the bad ones."""
    kind = _kind(name)
    request.max_content_length = MOST_FILE_BYTES
    accept = request.args.get("accept", "")
    read = read_shelf(kind, request.get_data(cache=False))
    items = [item for _, item in read.items]
    store = accept == "good" or (accept == "all" and not read.errors)
    taken = stores().shelf.take(kind, items, store)
    return answer_json(
        TakenOut(
            rows=read.rows,
            good=len(items),
            bad_rows=len({item.row for item in read.errors}),
            errors=read.errors[:SHOWN_ERRORS],
            new=taken.new,
            changed=taken.changed,
            same=taken.same,
            stored=store,
        )
    )


@shelf_api.post("/sample")
@shelf_api.output(TakenOut)
def take_sample() -> Response:
    """Put the invented sample shelf on."""
    stores().shelf.take_sample()
    return answer_json(TakenOut(rows=0, good=0, bad_rows=0, errors=(), new=0, changed=0, same=0, stored=True))


@shelf_api.get("/<name>/file.<ending>")
def shelf_file(name: str, ending: str) -> Response:
    """A shelf as a CSV or JSON file."""
    kind = _kind(name)
    items = [found.item for found in stores().shelf.all(kind)]
    if ending not in ("csv", "json"):
        raise NoSuchItem("no such form; ask for file.csv or file.json")
    text = write_shelf_csv(kind, items) if ending == "csv" else write_shelf_json(kind, items)
    media = "text/csv" if ending == "csv" else "application/json"
    return Response(
        text, mimetype=media, headers={"Content-Disposition": f'attachment; filename="olvask-{kind}.{ending}"'}
    )
