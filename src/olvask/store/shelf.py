"""The repository of the shelf: add, change, retire, take a whole file or nothing."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import datetime

from pydantic import BaseModel, ValidationError
from sqlalchemy import func, select

from olvask.core.model.charger import Charger
from olvask.core.model.shelf import (
    KINDS,
    KindName,
    ShelfAlternator,
    ShelfBattery,
    ShelfCable,
    ShelfDevice,
    ShelfItem,
    sample_items,
)
from olvask.core.stages.build.bill import Prices
from olvask.core.stages.build.cuts import Drum
from olvask.core.stages.build.orders import Stock
from olvask.store.engine import Database
from olvask.store.jobs import utc_now
from olvask.store.schema import ShelfRow

FEW = 500  # items read by number; where more changed, the whole shelf is read


class NoSuchItem(LookupError):
    """Nothing stands under that number."""


class StaleItem(RuntimeError):
    """The item was changed since, or a new one takes a number that is given already."""


@dataclass(frozen=True, slots=True)
class Shelved:
    """One thing on the shelf and how it stands there."""

    item: BaseModel
    version: int
    retired: bool
    saved_at: datetime


@dataclass(frozen=True, slots=True)
class _Read:
    """An item as it was last read: which version and length, what it holds, and its words."""

    version: int
    length: int
    item: BaseModel | None
    words: str


@dataclass(frozen=True, slots=True)
class Seek:
    """Which part of a shelf is wanted.

    Attributes:
        sought: words that all must occur, in any order and case.
        retired: retired things too.
        order: dotted path into the document to sort by; by number where empty.
        falling: the largest first.
        begin: first row.
        rows: at most so many; all where `None`.
    """

    sought: str = ""
    retired: bool = True
    order: str = ""
    falling: bool = False
    begin: int = 0
    rows: int | None = None


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a shelf.

    Attributes:
        items: what answers to what was sought, the part asked for.
        total: how many answer.
        retired: how many on the whole shelf are retired.
        unreadable: numbers under which something else stands than an item of today; they hide no other.
    """

    items: list[Shelved]
    total: int
    retired: int
    unreadable: list[str]


@dataclass(frozen=True, slots=True)
class Taken:
    """What taking a file did, or would do."""

    new: int
    changed: int
    same: int


class ShelfStore:
    """The shelf in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now
        self._known: dict[KindName, dict[str, _Read]] = {}
        self._lock = threading.Lock()

    def part(self, kind: KindName, seek: Seek) -> Part:
        """A part of a shelf.

        Args:
            kind: which shelf.
            seek: which part.
        """
        words = seek.sought.lower().split()
        stood = self._standing(kind)
        items = [
            Shelved(read.item, read.version, retired, saved_at)
            for read, retired, saved_at in stood.values()
            if read.item is not None and (seek.retired or not retired) and all(word in read.words for word in words)
        ]
        if seek.order:
            items.sort(key=lambda item: _sorting(item.item, seek.order), reverse=seek.falling)
        elif seek.falling:
            items.reverse()
        ends = None if seek.rows is None else seek.begin + seek.rows
        unreadable = [number for number, (read, _, _) in stood.items() if read.item is None]
        retired = sum(is_retired for read, is_retired, _ in stood.values() if read.item is not None)
        return Part(items[seek.begin : ends], len(items), retired, unreadable)

    def _standing(self, kind: KindName) -> dict[str, tuple[_Read, bool, datetime]]:
        """Everything of a kind by number; only what changed since it was last read is read again."""
        head = select(
            ShelfRow.id, ShelfRow.version, func.length(ShelfRow.document), ShelfRow.retired, ShelfRow.saved_at
        ).where(ShelfRow.kind == kind)
        with self._database.reading() as session, self._lock:
            known = self._known.setdefault(kind, {})
            rows = session.execute(head.order_by(ShelfRow.id)).all()
            changed = [
                number
                for number, version, length, _, _ in rows
                if (read := known.get(number)) is None or (read.version, read.length) != (version, length)
            ]
            documents = select(ShelfRow).where(ShelfRow.kind == kind)
            if len(changed) <= FEW:
                documents = documents.where(ShelfRow.id.in_(changed))
            if changed:
                for row in session.scalars(documents):
                    shelved = _shelved_or_none(row)
                    item = None if shelved is None else shelved.item
                    known[row.id] = _Read(row.version, len(row.document), item, f"{row.id} {row.document}".lower())
            return {
                number: (known[number], retired, saved_at)
                for number, _, _, retired, saved_at in rows
                if number in known
            }

    def all(self, kind: KindName, retired: bool = True) -> list[Shelved]:
        """Everything of a kind by number; `retired` says whether retired things are wanted."""
        return self.part(kind, Seek(retired=retired)).items

    def get(self, kind: KindName, number: str) -> Shelved:
        """One item.

        Raises:
            NoSuchItem: nothing that can be read stands under that number.
        """
        with self._database.reading() as session:
            row = session.get(ShelfRow, (kind, number))
            found = None if row is None else _shelved_or_none(row)
        if found is None:
            raise NoSuchItem(f"nothing called {number} on the shelf of {kind}")
        return found

    def chargers(self) -> list[Charger]:
        """Units in use."""
        return [found.item for found in self.all("chargers", retired=False) if isinstance(found.item, Charger)]

    def batteries(self) -> list[ShelfBattery]:
        """Batteries in use."""
        return [found.item for found in self.all("batteries", retired=False) if isinstance(found.item, ShelfBattery)]

    def alternators(self) -> list[ShelfAlternator]:
        """Alternators in use."""
        return [item.item for item in self.all("alternators", retired=False) if isinstance(item.item, ShelfAlternator)]

    def cables(self) -> list[ShelfCable]:
        """Drums in use."""
        return [found.item for found in self.all("cables", retired=False) if isinstance(found.item, ShelfCable)]

    def drums(self) -> list[Drum]:
        """Drums with a known length in stock."""
        return [Drum(item.id, item.size, item.stock_m) for item in self.cables() if item.stock_m]

    def prices(self) -> Prices:
        """The workshop's own prices of cables and devices in use; of two drums or makes alike, the cheaper."""
        cables: dict[str, float] = {}
        rated: dict[tuple[str, float], float] = {}
        for drum in self.cables():
            cables[drum.size] = min(drum.price_per_m, cables.get(drum.size, drum.price_per_m))
        for found in self.all("devices", retired=False):
            if isinstance(found.item, ShelfDevice):
                key = (found.item.family, found.item.rating_a)
                rated[key] = min(found.item.price, rated.get(key, found.item.price))
        return Prices(cables, rated)

    def stock(self) -> Stock:
        """What is in stock, and who sells it: units, cables and devices in use."""
        pieces: dict[str, int] = {}
        suppliers: dict[str, str] = {}
        for unit in self.chargers():
            suppliers[f"unit:{unit.id}"] = unit.supplier
        for drum in self.cables():
            suppliers.setdefault(f"cable:{drum.size}:copper", drum.supplier)
        for found in self.all("devices", retired=False):
            if isinstance(found.item, ShelfDevice):
                key = f"device:{found.item.family}:{found.item.rating_a:g}"
                pieces[key] = pieces.get(key, 0) + (found.item.stock or 0)
                suppliers.setdefault(key, found.item.supplier)
        return Stock(pieces, {key: name for key, name in suppliers.items() if name}, self.drums())

    def put(self, kind: KindName, item: ShelfItem, based_on: int | None) -> Shelved:
        """Store an item.

        Args:
            kind: which shelf.
            item: the item.
            based_on: the version it was changed from; `None` for a new one.

        Raises:
            StaleItem: it has another version by now, or the number is taken.
        """
        with self._database.writing() as session:
            row = session.get(ShelfRow, (kind, item.id))
            if row is None:
                if based_on is not None:
                    raise StaleItem(f"{item.id} is not on the shelf any more; add it as new")
                row = ShelfRow(kind=kind, id=item.id, version=0, retired=False)
                session.add(row)
            elif based_on is None:
                raise StaleItem(f"The number {item.id} is taken; choose another, or edit that one")
            elif row.version != based_on:
                raise StaleItem(f"{item.id} was changed elsewhere since; look at it again")
            self._write(row, item)
            return _shelved(row)

    def _write(self, row: ShelfRow, item: ShelfItem) -> None:
        row.version += 1
        row.saved_at = self._now()
        row.document = item.model_dump_json()

    def retire(self, kind: KindName, number: str, retired: bool) -> Shelved:
        """Take an item out of use, or back into it; it is never deleted.

        Raises:
            NoSuchItem: nothing stands under that number.
        """
        with self._database.writing() as session:
            row = session.get(ShelfRow, (kind, number))
            if row is None:
                raise NoSuchItem(f"nothing called {number} on the shelf of {kind}")
            row.retired = retired
            row.saved_at = self._now()
            return _shelved(row)

    def take(self, kind: KindName, items: Iterable[ShelfItem], store: bool) -> Taken:
        """Take items in one transaction, adding new ones and replacing those of the same number.

        Args:
            kind: which shelf.
            items: the items.
            store: false only counts what would happen.
        """
        new = changed = same = 0
        with self._database.writing() as session:
            rows = {row.id: row for row in session.scalars(select(ShelfRow).where(ShelfRow.kind == kind))}
            for item in items:
                row = rows.get(item.id)
                if row is not None and row.document == item.model_dump_json():
                    same += 1
                    continue
                new, changed = new + (row is None), changed + (row is not None)
                if not store:
                    continue
                if row is None:
                    row = ShelfRow(kind=kind, id=item.id, version=0, retired=False)
                    session.add(row)
                self._write(row, item)
        return Taken(new, changed, same)

    def empty(self) -> bool:
        """Whether nothing stands on any shelf."""
        with self._database.reading() as session:
            return session.scalar(select(func.count()).select_from(ShelfRow)) == 0

    def take_sample(self) -> None:
        """Put the invented shelf of the demo on."""
        for kind, items in sample_items().items():
            self.take(kind, items, store=True)


def _shelved_or_none(row: ShelfRow) -> Shelved | None:
    try:
        return _shelved(row)
    except ValidationError:
        return None


def _shelved(row: ShelfRow) -> Shelved:
    model = next(model for kind, model in KINDS.items() if kind == row.kind)
    return Shelved(model.model_validate_json(row.document), row.version, row.retired, row.saved_at)


def _sorting(item: BaseModel, path: str) -> tuple[int, float, str]:
    """What an item is sorted by: nothing first, then numbers, then words; what is no field of it is nothing."""
    value: object = item
    for step in path.split("."):
        value = getattr(value, step) if isinstance(value, BaseModel) and step in type(value).model_fields else None
    if isinstance(value, (int, float)):
        return 1, float(value), ""
    return (0, 0.0, "") if value is None else (2, 0.0, str(value).lower())
