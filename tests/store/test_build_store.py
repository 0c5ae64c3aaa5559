"""What is noted while building, photographs and quotes in the store: added, never changed, gone with their job."""

from __future__ import annotations

import io
import sqlite3
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest
from PIL import Image
from sqlalchemy import text

from olvask.core.analyses.quote import Quote, QuoteHead, quote_of
from olvask.core.model.instrument import Instrument
from olvask.core.stages.build.progress import Entry
from olvask.store.backup import restore_backup, write_backup
from olvask.store.build_log import NoSuchPhotograph, TooMuchNoted
from olvask.store.cards import Heading
from olvask.store.jobs import NoSuchJob
from olvask.store.photographs import BadPhotograph, Photograph, remade
from olvask.store.quotes import NoSuchQuote, TooManyQuotes
from olvask.store.stores import Stores
from tests.designs import design
from tests.store.test_instruments_and_signatures import SIGNED

NOTED = Entry(
    id="aaaaaaaa-0001",
    procedure="Build",
    step="part.start_negative",
    kind="done",
    text="",
    value=None,
    unit="",
    photo="",
    by="E.K.",
    at="2031-05-01T10:00:00+00:00",
)


@pytest.fixture
def stores(tmp_path: Path) -> Stores:
    """An empty store."""
    return Stores.open(tmp_path / "s.sqlite")


@pytest.fixture
def job(stores: Stores) -> int:
    """A job in it."""
    return stores.jobs.create(Heading("Van", "V-1", ""), design()).id


def jpeg(colour: tuple[int, int, int] = (10, 20, 30), size: tuple[int, int] = (64, 48)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG")
    return out.getvalue()


def quote() -> Quote:
    return quote_of(QuoteHead("Van", "V-1", "", "2031-05-01", "2031-05-31"), [("A", design())])


@pytest.mark.file
def test_an_entry_comes_back_as_it_was_noted(stores: Stores, job: int) -> None:
    """Every field, its moment to the second, in a store opened anew."""
    entry = replace(NOTED, kind="reading", value=12.62, unit="V", text="cold")
    stores.build.add(job, [entry])
    assert Stores.open(stores.database.path).build.entries(job) == [entry]


def test_the_same_entry_twice_is_one_and_is_not_changed(stores: Stores, job: int) -> None:
    """What is known stays as it was, whatever comes under its name."""
    stores.build.add(job, [NOTED, NOTED])
    stores.build.add(job, [replace(NOTED, by="M.T.")])
    assert stores.build.entries(job) == [NOTED]


def test_an_entry_of_another_job_is_not_taken_over(stores: Stores, job: int) -> None:
    """An identity belongs to the job it came in with."""
    other = stores.jobs.create(Heading("Other", "", ""), design()).id
    stores.build.add(job, [NOTED])
    assert stores.build.add(other, [NOTED]) == []
    assert stores.build.entries(job) == [NOTED]


def test_where_there_is_no_job(stores: Stores) -> None:
    """Nothing is kept for a job that is not there."""
    for ask in (
        lambda: stores.build.entries(9),
        lambda: stores.build.add(9, [NOTED]),
        lambda: stores.build.keep(9, remade(jpeg())),
        lambda: stores.quotes.all(9),
        lambda: stores.quotes.give(9, quote()),
    ):
        with pytest.raises(NoSuchJob):
            ask()


def test_there_is_an_end_to_it(stores: Stores, job: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """A job cannot fill the store: entries, photographs and quotes have their most; the last is refused whole."""
    monkeypatch.setattr("olvask.store.build_log.MOST_ENTRIES", 3)
    monkeypatch.setattr("olvask.store.build_log.MOST_PHOTOGRAPHS", 2)
    monkeypatch.setattr("olvask.store.quotes.MOST_QUOTES", 2)
    three = [replace(NOTED, id=f"entry-{at:04d}") for at in range(3)]
    stores.build.add(job, three)
    stores.build.add(job, three)  # known already: nothing more
    with pytest.raises(TooMuchNoted):
        stores.build.add(job, [replace(NOTED, id="entry-0009")])
    assert len(stores.build.entries(job)) == 3
    for at in range(2):
        stores.build.keep(job, remade(jpeg((at * 90, 0, 0))))
    stores.build.keep(job, remade(jpeg((90, 0, 0))))  # known already
    with pytest.raises(TooMuchNoted):
        stores.build.keep(job, remade(jpeg((0, 200, 0))))
    for number in (1, 2):
        assert stores.quotes.give(job, quote()).number == number
    with pytest.raises(TooManyQuotes):
        stores.quotes.give(job, quote())


def test_quotes_are_numbered_within_their_job(stores: Stores, job: int) -> None:
    """Each job counts its own; the newest comes first."""
    other = stores.jobs.create(Heading("Other", "", ""), design()).id
    assert [stores.quotes.give(at, quote()).number for at in (job, other, job)] == [1, 1, 2]
    assert [item.number for item in stores.quotes.all(job)] == [2, 1]
    assert stores.quotes.get(job, 2).number == 2
    with pytest.raises(NoSuchQuote):
        stores.quotes.get(other, 2)


@pytest.mark.file
def test_all_of_it_goes_with_its_job_and_into_a_backup(stores: Stores, job: int, tmp_path: Path) -> None:
    """A backup holds it and brings it back; a job that is deleted leaves none of it behind."""
    picture = remade(jpeg())
    stores.build.keep(job, picture)
    stores.build.add(job, [NOTED, replace(NOTED, id="aaaaaaaa-0002", kind="photo", photo=picture.id)])
    stores.quotes.give(job, quote())
    write_backup(stores.database.path, tmp_path / "b.sqlite")
    restore_backup(tmp_path / "b.sqlite", tmp_path / "again" / "s.sqlite")
    again = Stores.open(tmp_path / "again" / "s.sqlite")
    assert len(again.build.entries(job)) == 2
    assert again.build.photograph(job, picture.id) == picture
    assert again.quotes.get(job, 1).number == 1
    with again.database.writing() as session:
        session.execute(text("DELETE FROM job WHERE id = :id"), {"id": job})
    again.database.close()
    with closing(sqlite3.connect(tmp_path / "again" / "s.sqlite")) as connection:
        for table in ("build_entry", "photograph", "quote"):
            assert connection.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)  # noqa: S608 - three names above


def test_an_entry_whose_photograph_is_missing_is_refused_whole(stores: Stores, job: int) -> None:
    """Neither it nor what came with it is kept."""
    with pytest.raises(NoSuchPhotograph):
        stores.build.add(job, [NOTED, replace(NOTED, id="aaaaaaaa-0003", photo="f" * 64)])
    assert stores.build.entries(job) == []


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
@pytest.mark.parametrize(
    ("size", "kept"), [((4000, 1000), (1600, 400)), ((300, 200), (300, 200)), ((10, 3000), (5, 1600))]
)
def test_photographs_are_made_smaller_never_larger(form: str, size: tuple[int, int], kept: tuple[int, int]) -> None:
    """The long side at most 1600, in proportion; a small one stays as it is; always JPEG."""
    out = io.BytesIO()
    Image.new("RGBA" if form != "JPEG" else "RGB", size, (200, 100, 50)).save(out, form)
    found = remade(out.getvalue())
    with Image.open(io.BytesIO(found.picture)) as picture, Image.open(io.BytesIO(found.thumbnail)) as small:
        assert picture.format == small.format == "JPEG"
        assert abs(picture.width - kept[0]) <= 1
        assert abs(picture.height - kept[1]) <= 1
        assert max(small.size) <= 240
    assert remade(out.getvalue()).id == found.id


def test_a_camera_held_on_its_side_is_put_upright() -> None:
    """Turned by what the camera noted, which is then left out."""
    image, out = Image.new("RGB", (400, 200), (0, 0, 0)), io.BytesIO()
    image.paste((255, 255, 255), (0, 0, 200, 200))  # the left half is white
    known = image.getexif()
    known[0x0112] = 6
    image.save(out, "JPEG", exif=known)
    found: Photograph = remade(out.getvalue())
    with Image.open(io.BytesIO(found.picture)) as picture:
        assert picture.size == (200, 400)
        top, bottom = picture.getpixel((100, 50)), picture.getpixel((100, 350))
    assert isinstance(top, tuple)
    assert isinstance(bottom, tuple)
    assert top[0] > 240
    assert bottom[0] < 15


@pytest.mark.parametrize("raw", [b"", b"\xff\xd8\xff", b"GIF89a" + b"\0" * 40, b"<svg/>", jpeg()[:150]])
def test_what_cannot_be_read_is_refused_in_a_sentence(raw: bytes) -> None:
    """Never a fall: a sentence with what to send instead."""
    with pytest.raises(BadPhotograph, match="JPEG, PNG or WebP"):
        remade(raw)


def test_the_yard_goes_by_what_was_noted(stores: Stores, job: int) -> None:
    """What is next is worked out anew once something was noted, also for who renews cards behind the page; then it rests."""

    def next_of(job_id: int) -> str:
        return next(row for row in stores.jobs.page().jobs if row.id == job_id).card.next_action

    other = stores.jobs.create(Heading("Other", "V-2", ""), design()).id
    before = next_of(job)
    assert (next_of(other), stores.jobs.cards.outdated()) == (before, [])
    stores.build.add(job, [NOTED])
    assert stores.jobs.cards.outdated() == [job]
    assert next_of(job) != before
    assert next_of(job).startswith("Step 1 of ")
    assert (next_of(other), stores.jobs.cards.outdated()) == (before, [])
    stores.jobs.save(job, 1, Heading("Van", "V-1", ""), design())
    assert next_of(job).startswith("Step 1 of ")  # a save takes nothing back


def test_another_meter_judges_anew(stores: Stores, job: int) -> None:
    """Readings lie within what the meter may be out: with a coarser one they are judged again, where there are any."""
    stores.jobs.create(Heading("Other", "V-2", ""), design())
    stores.build.add(job, [replace(NOTED, procedure="Prove", step="rest.start", kind="reading", value=12.3, unit="V")])
    stores.jobs.page()
    assert stores.jobs.cards.outdated() == []
    stores.instruments.add(Instrument(name="Old needle", reads=("volts",), percent=5.0))
    assert stores.jobs.cards.outdated() == [job]
    stores.jobs.page()
    assert stores.jobs.cards.outdated() == []


def test_a_page_waits_for_few_logs(stores: Stores) -> None:
    """Of many at which something was noted four are judged by it before a page is shown; it catches up page by page."""
    jobs = [stores.jobs.create(Heading(f"Van {at}", f"V-{at}", ""), design()).id for at in range(10)]
    for at, job_id in enumerate(jobs):
        stores.build.add(job_id, [replace(NOTED, id=f"aaaaaaaa-{at:04}")])
    told = []
    for _ in range(4):
        stores.jobs.page()
        told.append(len(stores.jobs.cards.outdated()))
    assert told == [6, 2, 0, 0]


def test_what_is_signed_is_not_judged_by_its_log(stores: Stores, job: int) -> None:
    """It is done, whatever was noted; a later revision is work again."""
    stores.build.add(job, [NOTED])
    stores.signatures.sign(job, SIGNED)
    (stored,) = stores.jobs.cards.stored([job])
    assert (stored.log.entries, stored.log.key[:2]) == ((), "1:")
    stores.jobs.page()
    assert stores.jobs.cards.outdated() == []
    stores.jobs.save(job, 1, Heading("Van", "V-1", ""), design())
    (stored,) = stores.jobs.cards.stored([job])
    assert len(stored.log.entries) == 1
    assert next(iter(stores.jobs.page().jobs)).card.next_action.startswith("Step 1 of ")
