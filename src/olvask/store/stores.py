"""All repositories over one database."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from olvask.core.stages.prove.meter import Accuracy, meters_of
from olvask.store.build_log import BuildStore
from olvask.store.customers import CustomerStore
from olvask.store.device_logs import DeviceLogStore
from olvask.store.engine import Database, open_store
from olvask.store.house import HouseStore
from olvask.store.instruments import InstrumentStore
from olvask.store.jobs import JobStore
from olvask.store.options import OptionStore
from olvask.store.people import PeopleStore
from olvask.store.practice import PracticeStore
from olvask.store.quotes import QuoteStore
from olvask.store.shelf import ShelfStore
from olvask.store.signatures import SignatureStore


@dataclass(frozen=True, slots=True)
class Stores:
    """The repositories over one database."""

    database: Database
    jobs: JobStore
    options: OptionStore
    shelf: ShelfStore
    build: BuildStore
    quotes: QuoteStore
    instruments: InstrumentStore
    signatures: SignatureStore
    device_logs: DeviceLogStore
    house: HouseStore
    people: PeopleStore
    customers: CustomerStore
    practice: PracticeStore

    @classmethod
    def open(cls, path: Path | str) -> Stores:
        """Open, create or migrate the database at `path`.

        Raises:
            StorageFault: it cannot be opened; what to do is said.
        """
        database = open_store(path)
        instruments, house = InstrumentStore(database), HouseStore(database)
        return cls(
            database,
            JobStore(database, meters=lambda: _meters(instruments, house)),
            OptionStore(database),
            ShelfStore(database),
            BuildStore(database),
            QuoteStore(database),
            instruments,
            SignatureStore(database),
            DeviceLogStore(database),
            house,
            PeopleStore(database),
            CustomerStore(database),
            PracticeStore(database),
        )

    def meters(self) -> Mapping[str, Accuracy]:
        """Accuracy by unit of the workshop's own instruments, as they are now."""
        return _meters(self.instruments, self.house)


def _meters(instruments: InstrumentStore, house: HouseStore) -> Mapping[str, Accuracy]:
    return meters_of((instrument for _, instrument in instruments.all()), house.get().house.meter)
