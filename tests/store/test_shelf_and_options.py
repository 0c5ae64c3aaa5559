"""Shelf and options on disk: versions, retirement, whole files, and what belongs to a job."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from olvask.core.model.shelf import KINDS, ShelfCable, ShelfDevice
from olvask.store.cards import Heading
from olvask.store.jobs import NoSuchJob
from olvask.store.options import NoSuchOption, TooManyOptions
from olvask.store.shelf import NoSuchItem, Seek, StaleItem
from olvask.store.stores import Stores
from tests.designs import design


@pytest.fixture
def stores(tmp_path: Path) -> Stores:
    """Empty stores."""
    return Stores.open(tmp_path / "s.sqlite")


def drum(number: str = "d1", size: str = "16 mm²", price: float = 4.0, stock_m: float | None = 20.0) -> ShelfCable:
    """A drum of cable."""
    return ShelfCable(id=number, size=size, price_per_m=price, stock_m=stock_m)


class TestShelf:
    def test_a_version_at_a_time(self, stores: Stores) -> None:
        """An item is new once; a change names the version it was made from, and an older one is refused."""
        assert stores.shelf.put("cables", drum(), None).version == 1
        with pytest.raises(StaleItem, match="taken"):
            stores.shelf.put("cables", drum(), None)
        assert stores.shelf.put("cables", drum(price=5.0), 1).version == 2
        with pytest.raises(StaleItem, match="elsewhere"):
            stores.shelf.put("cables", drum(price=6.0), 1)
        with pytest.raises(StaleItem, match="not on the shelf"):
            stores.shelf.put("cables", drum("d9"), 3)
        assert stores.shelf.prices().per_m("16 mm²") == 5.0

    def test_retired_is_kept_but_not_offered(self, stores: Stores) -> None:
        """A retired drum neither sets a price nor is cut from, and comes back as it was."""
        stores.shelf.put("cables", drum(price=1.0), None)
        stores.shelf.retire("cables", "d1", True)
        assert stores.shelf.drums() == []
        assert stores.shelf.prices().per_m("16 mm²") != 1.0
        assert [found.retired for found in stores.shelf.all("cables")] == [True]
        stores.shelf.retire("cables", "d1", False)
        assert [found.length_m for found in stores.shelf.drums()] == [20.0]
        with pytest.raises(NoSuchItem):
            stores.shelf.retire("cables", "none", True)

    def test_of_two_alike_the_cheaper_counts(self, stores: Stores) -> None:
        """Two drums and two devices alike: the price is the lower; a drum without a length is not cut from."""
        stores.shelf.take("cables", [drum("a", price=6.0), drum("b", price=4.5, stock_m=None)], store=True)
        fuses = [
            ShelfDevice(id=f"f{at}", family="class_t", rating_a=60.0, price=price)
            for at, price in enumerate((50.0, 41.0))
        ]
        stores.shelf.take("devices", fuses, store=True)
        prices = stores.shelf.prices()
        assert (prices.per_m("16 mm²"), prices.of_device("class_t", 60.0)) == (4.5, 41.0)
        assert [found.id for found in stores.shelf.drums()] == ["a"]

    def test_counting_stores_nothing(self, stores: Stores) -> None:
        """A file looked at only says what it would do."""
        taken = stores.shelf.take("cables", [drum("a"), drum("b")], store=False)
        assert (taken.new, taken.changed, taken.same) == (2, 0, 0)
        assert stores.shelf.empty()

    def test_a_file_is_taken_whole_or_not(self, stores: Stores) -> None:
        """An item that cannot be written takes the whole file back with it."""

        class Broken(ShelfCable):
            def model_dump_json(self, **_: object) -> str:
                raise OSError("disk full")

        with pytest.raises(OSError, match="disk full"):
            stores.shelf.take("cables", [drum("a"), Broken(id="b", size="16 mm²", price_per_m=1.0)], store=True)
        assert stores.shelf.empty()

    def test_the_sample_can_be_taken_twice(self, stores: Stores) -> None:
        """Putting the sample shelf on again changes nothing that is there."""
        stores.shelf.take_sample()
        before = {kind: len(stores.shelf.all(kind)) for kind in KINDS}
        assert all(before.values())
        stores.shelf.take_sample()
        assert before == {kind: len(stores.shelf.all(kind)) for kind in KINDS}
        assert {found.version for found in stores.shelf.all("chargers")} == {1}


class TestOptions:
    def test_kept_listed_and_dropped(self, stores: Stores) -> None:
        """Options come back whole in the order they were kept; a fourth and a stranger's are refused."""
        job = stores.jobs.create(Heading("Milk float"), design())
        other = stores.jobs.create(Heading("Gritter"), design())
        kept = [
            stores.options.keep(job.id, name, design(current_limit_a=amps))
            for name, amps in (("a", 10.0), ("b", 20.0), ("c", 15.0))
        ]
        assert [(item.name, item.design.current_limit_a) for item in stores.options.all(job.id)] == [
            ("a", 10.0),
            ("b", 20.0),
            ("c", 15.0),
        ]
        with pytest.raises(TooManyOptions, match="drop one"):
            stores.options.keep(job.id, "d", design())
        with pytest.raises(NoSuchOption):
            stores.options.drop(other.id, kept[0].id)
        stores.options.drop(job.id, kept[0].id)
        assert [item.name for item in stores.options.all(job.id)] == ["b", "c"]
        assert stores.options.all(other.id) == []

    def test_no_job_no_options(self, stores: Stores) -> None:
        """Options belong to a job that is there."""
        with pytest.raises(NoSuchJob):
            stores.options.keep(7, "a", design())
        with pytest.raises(NoSuchJob):
            stores.options.all(7)


@pytest.mark.file
def test_one_unreadable_item_hides_no_other(tmp_path: Path) -> None:
    """Something else stands where a drum was: the others are offered, its number is told, and it can be stored anew."""
    stores = Stores.open(tmp_path / "u.sqlite")
    for number in ("a", "b", "c"):
        stores.shelf.put("cables", drum(number), None)
    with closing(sqlite3.connect(tmp_path / "u.sqlite")) as made:
        made.execute("update shelf_item set document = '{}' where id = 'b'")
        made.commit()
    assert [drum_.item.id for drum_ in stores.shelf.all("cables")] == ["a", "c"]  # type: ignore[attr-defined]
    assert stores.shelf.part("cables", Seek()).unreadable == ["b"]
    assert stores.shelf.prices().per_m("16 mm²") == 4.0
    stores.shelf.put("cables", drum("b"), 1)
    assert stores.shelf.part("cables", Seek()).unreadable == []
