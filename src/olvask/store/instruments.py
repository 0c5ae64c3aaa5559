"""Instruments of the workshop.

- `InstrumentStore`: those of one database.
"""

from __future__ import annotations

from sqlalchemy import func, select

from olvask.core.model.instrument import Instrument
from olvask.store.engine import Database
from olvask.store.schema import InstrumentRow

MOST_INSTRUMENTS = 40  # of a workshop; our own estimate


class NoSuchInstrument(LookupError):
    """There is no instrument of that number."""


class TooManyInstruments(ValueError):
    """As many instruments as are kept are there already."""


class InstrumentStore:
    """Instruments in one database."""

    def __init__(self, database: Database) -> None:
        """Use `database`."""
        self._database = database

    def all(self) -> list[tuple[int, Instrument]]:
        """Every instrument with its number, in the order they were added."""
        with self._database.reading() as session:
            rows = session.scalars(select(InstrumentRow).order_by(InstrumentRow.id))
            return [(row.id, Instrument.model_validate_json(row.document)) for row in rows]

    def get(self, number: int) -> Instrument:
        """One of them.

        Raises:
            NoSuchInstrument: there is none of that number.
        """
        with self._database.reading() as session:
            row = session.get(InstrumentRow, number)
            if row is None:
                raise NoSuchInstrument(f"no instrument {number}")
            return Instrument.model_validate_json(row.document)

    def add(self, instrument: Instrument) -> int:
        """Keep one more; its number.

        Raises:
            TooManyInstruments: as many as are kept are there.
        """
        with self._database.writing() as session:
            if (session.scalar(select(func.count()).select_from(InstrumentRow)) or 0) >= MOST_INSTRUMENTS:
                raise TooManyInstruments(f"{MOST_INSTRUMENTS} instruments are kept already; take one out first")
            row = InstrumentRow(document=instrument.model_dump_json())
            session.add(row)
            session.flush()
            return row.id

    def remove(self, number: int) -> None:
        """Take one out.

        Raises:
            NoSuchInstrument: there is none of that number.
        """
        with self._database.writing() as session:
            row = session.get(InstrumentRow, number)
            if row is None:
                raise NoSuchInstrument(f"no instrument {number}")
            session.delete(row)
