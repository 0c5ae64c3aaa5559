"""Whether everything stored can be read: not the file alone, but what stands in it.

- `unsound`: what cannot.
"""

from __future__ import annotations

import io
import shutil
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from PIL import Image, UnidentifiedImageError
from sqlalchemy import select

from olvask.core.analyses.quote import Quote
from olvask.core.analyses.signing import Signature
from olvask.core.model import Design
from olvask.core.model.house import House
from olvask.core.model.instrument import Instrument
from olvask.store.backup import sealed
from olvask.store.jobs import UnreadableJob
from olvask.store.schema import (
    DeviceLogRow,
    HouseRow,
    InstrumentRow,
    OptionRow,
    PhotographRow,
    QuoteRow,
    ShelfRow,
    SignatureRow,
)
from olvask.store.stores import Stores

DOCUMENTS: tuple[tuple[Any, str, Callable[[str], object]], ...] = (
    (QuoteRow, "quote", Quote.model_validate_json),
    (SignatureRow, "signature", Signature.model_validate_json),
    (InstrumentRow, "instrument", Instrument.model_validate_json),
    (HouseRow, "house rules", House.model_validate_json),
)


def unsound(database: Path | str) -> Iterator[str]:
    """What of a store cannot be read, each with its place.

    Args:
        database: the store, in use or not.

    Raises:
        StorageFault: the file itself cannot be read.
    """
    if isinstance(database, Path) and sealed(database):
        with tempfile.TemporaryDirectory() as folder:  # a backup stays sealed
            yield from _unsound(shutil.copy(database, Path(folder) / "copy.sqlite"))
    else:
        yield from _unsound(database)


def _unsound(database: Path | str) -> Iterator[str]:
    stores = Stores.open(database)
    for job_id in stores.jobs.ids():
        for head in stores.jobs.revisions(job_id):
            try:
                stores.jobs.get(job_id, head.version)
            except UnreadableJob as error:
                why = "; ".join(item.message for item in error.spoilt.why[:2])
                yield f"job {job_id}, revision {head.version}: {why}"
    with stores.database.reading() as session:
        for table, name, read in DOCUMENTS:
            for number, document in session.execute(select(table.id, table.document)).all():
                yield from _tried(f"{name} {number}", read, document)
        for number, design in session.execute(select(OptionRow.id, OptionRow.design)).all():
            yield from _tried(f"option {number}", Design.model_validate_json, design)
        for shelf_kind, item in session.execute(select(ShelfRow.kind, ShelfRow.id)).all():
            yield from _tried(f"shelf {shelf_kind} {item}", lambda pair: stores.shelf.get(*pair), (shelf_kind, item))
        for job_id, photo in session.execute(select(PhotographRow.job_id, PhotographRow.id)).all():
            picture = session.get_one(PhotographRow, (job_id, photo)).picture
            yield from _tried(f"photograph {photo[:12]} of job {job_id}", _picture, picture)
        logs = session.execute(select(DeviceLogRow.job_id, DeviceLogRow.id)).all()
    for job_id, number in logs:
        yield from _tried(f"log {number} of job {job_id}", lambda pair: stores.device_logs.log(*pair), (job_id, number))
    stores.database.close()


def _tried(name: str, read: Callable[[Any], object], what: object) -> Iterator[str]:
    try:
        read(what)
    except Exception as error:  # whatever it is, the rest is looked at too
        yield f"{name}: {str(error).splitlines()[0][:160] if str(error) else type(error).__name__}"


def _picture(raw: bytes) -> None:
    try:
        with Image.open(io.BytesIO(raw)) as picture:
            picture.load()
    except UnidentifiedImageError:
        raise ValueError("no picture") from None
