"""Instruments and signatures in the store: kept, numbered, refused beyond their number, gone with their job."""

from __future__ import annotations

from pathlib import Path

import pytest

from olvask.core.analyses.signing import Acceptance, Signature
from olvask.core.model.instrument import Instrument
from olvask.store.backup import restore_backup, write_backup
from olvask.store.cards import Heading
from olvask.store.instruments import MOST_INSTRUMENTS, NoSuchInstrument, TooManyInstruments
from olvask.store.jobs import NoSuchJob
from olvask.store.signatures import MovedOn, SignedAlready
from olvask.store.stores import Stores
from tests.designs import design

SIGNED = Signature(
    number=0,
    version=1,
    by="E. Kestrel",
    at="2031-05-01T10:00:00+00:00",
    meter="Bench meter 2",
    accepted=(Acceptance(id="finding.near", title="Near plastic", text="Kept clear."),),
    proven=False,
    checksum="ab" * 32,
)


@pytest.fixture
def stores(tmp_path: Path) -> Stores:
    return Stores.open(tmp_path / "olvask.sqlite")


def test_instruments_are_kept_in_their_order(stores: Stores) -> None:
    """Number, order, and one taken out."""
    first = stores.instruments.add(Instrument(name="One"))
    second = stores.instruments.add(Instrument(name="Two", kind="supply", port=5026))
    assert [item.name for _, item in stores.instruments.all()] == ["One", "Two"]
    assert stores.instruments.get(second).port == 5026
    stores.instruments.remove(first)
    assert [number for number, _ in stores.instruments.all()] == [second]
    for act in (stores.instruments.get, stores.instruments.remove):
        with pytest.raises(NoSuchInstrument):
            act(first)


def test_a_workshop_has_no_hundred_instruments(stores: Stores) -> None:
    """One more than are kept is refused, and the others stand."""
    for at in range(MOST_INSTRUMENTS):
        stores.instruments.add(Instrument(name=f"Meter {at}"))
    with pytest.raises(TooManyInstruments):
        stores.instruments.add(Instrument(name="One more"))
    assert len(stores.instruments.all()) == MOST_INSTRUMENTS


def test_signatures_are_numbered_and_never_doubled(stores: Stores) -> None:
    """One a version, the newest version only, newest first."""
    job = stores.jobs.create(Heading("Van"), design())
    assert stores.signatures.sign(job.id, SIGNED).number == 1
    with pytest.raises(SignedAlready):
        stores.signatures.sign(job.id, SIGNED)
    stores.jobs.save(job.id, 1, Heading("Van"), design(current_limit_a=20.0))
    with pytest.raises(MovedOn):
        stores.signatures.sign(job.id, SIGNED)
    second = stores.signatures.sign(job.id, SIGNED.model_copy(update={"version": 2}))
    assert second.number == 2
    assert [item.number for item in stores.signatures.all(job.id)] == [2, 1]
    assert stores.signatures.all(job.id)[1] == SIGNED.model_copy(update={"number": 1})
    with pytest.raises(NoSuchJob):
        stores.signatures.sign(99, SIGNED)


@pytest.mark.file
def test_both_come_back_from_a_backup(stores: Stores, tmp_path: Path) -> None:
    """Written while open, restored elsewhere."""
    job = stores.jobs.create(Heading("Van"), design())
    stores.signatures.sign(job.id, SIGNED)
    stores.instruments.add(Instrument(name="Bench meter"))
    write_backup(tmp_path / "olvask.sqlite", tmp_path / "yard.backup")
    restore_backup(tmp_path / "yard.backup", tmp_path / "elsewhere.sqlite")
    other = Stores.open(tmp_path / "elsewhere.sqlite")
    assert other.signatures.all(job.id)[0].by == "E. Kestrel"
    assert [item.name for _, item in other.instruments.all()] == ["Bench meter"]
