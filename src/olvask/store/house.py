"""The house rules: one record, with the version it was saved at.

- `HouseStore`: that of one database.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from pydantic import ValidationError

from olvask.core.model.house import House
from olvask.store.engine import Database
from olvask.store.jobs import utc_now
from olvask.store.schema import HouseRow

ONLY = 1  # number of the one record


@dataclass(frozen=True, slots=True)
class KeptHouse:
    """The house rules as they are kept; version 0 where nobody has saved any."""

    version: int
    house: House


class StaleHouse(RuntimeError):
    """The house rules were saved since by somebody else."""

    def __init__(self, stored: KeptHouse) -> None:
        super().__init__(f"the house rules are at version {stored.version}")
        self.stored = stored


class HouseStore:
    """The house rules of one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def get(self) -> KeptHouse:
        """The house rules; the defaults where none were saved, or what was saved cannot be read any more."""
        with self._database.reading() as session:
            return _kept(session.get(HouseRow, ONLY))

    def save(self, house: House, based_on: int) -> KeptHouse:
        """Save house rules.

        Args:
            house: all of them.
            based_on: the version they were made from.

        Raises:
            StaleHouse: somebody else saved since; nothing was changed.
        """
        with self._database.writing() as session:
            row = session.get(HouseRow, ONLY)
            stored = _kept(row)
            if stored.version != based_on:
                raise StaleHouse(stored)
            if row is None:
                row = HouseRow(id=ONLY, version=0, document="", saved_at=self._now())
                session.add(row)
            row.version, row.document, row.saved_at = based_on + 1, house.model_dump_json(), self._now()
            return KeptHouse(row.version, house)


def _kept(row: HouseRow | None) -> KeptHouse:
    if row is None:
        return KeptHouse(0, House())
    try:
        return KeptHouse(row.version, House.model_validate_json(row.document))
    except ValidationError:
        return KeptHouse(row.version, House())
