"""What is done over the whole yard, told job by job with the share that is done.

- `Told`: one line of it.
- `reassess`: every job judged anew by the rules of this Olvask, and what changed since it was saved.
- `sweep`: every job driven as many vehicles that differ within tolerances.
- `recall`: every job that holds a thing, and what the shelf's unit as it is now would change.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from pydantic import ValidationError

from olvask.core.analyses.recall import Holds, Recalled, What, holds, with_item
from olvask.core.analyses.tolerance import analyse
from olvask.core.model import Charger, Design
from olvask.store.carding import Stored
from olvask.store.cards import Card, Heading, card_of_document
from olvask.store.stores import Stores
from olvask.work.spread import Batch, Here, Spread

TOGETHER = 50  # jobs of one batch: a tenth of a second of judging, a few hundred kB on the way; our own estimate
SOME = 4  # the same for jobs that are driven
FEW = 120  # jobs that are done before worker processes have started; our own estimate
NOBODY = Heading("")
LOST = "It takes whoever judges it along: Olvask made a mistake. Its entries are kept; open it to see them."


@dataclass(frozen=True, slots=True)
class Shares:
    """Of many vehicles of one design within tolerances, the shares that do not start, hunt, drain; any of these."""

    start: float
    hunt: float
    drain: float
    any: float


@dataclass(frozen=True, slots=True)
class Told:
    """How far it is; and what is to be told of a job.

    Attributes:
        done: share, 0 to 1.
        job_id: whose line it is; 0 where only the share is told.
        heading: what the job is called.
        unreadable: why it cannot be read or judged; empty where it can.
        changed: what came and went since it was saved, as a card keeps it.
        where: places that hold what is recalled.
        recalled: what the shelf's unit would change.
        shares: of its vehicles within tolerances.
    """

    done: float
    job_id: int = 0
    heading: Heading = NOBODY
    unreadable: str = ""
    changed: str = ""
    where: tuple[Holds, ...] = ()
    recalled: Recalled | None = None
    shares: Shares | None = None


def judge(batch: Batch[Stored]) -> tuple[Card, ...]:
    """Cards of some jobs.

    Args:
        batch: the jobs.
    """
    return tuple(card_of_document(stored.document, stored.log) for stored in batch)


def drive(vehicles: int, batch: Batch[Stored]) -> tuple[Shares | str | None, ...]:
    """Shares at fault of some jobs; why one cannot be read; nothing where no unit is chosen.

    Args:
        vehicles: of each job.
        batch: the jobs.
    """
    return tuple(_driven(vehicles, stored) for stored in batch)


def _driven(vehicles: int, stored: Stored) -> Shares | str | None:
    design = _read(stored)
    if not isinstance(design, Design):
        return design
    if design.charger is None:
        return None
    found = analyse(design, vehicles=vehicles)
    return Shares(found.fail_to_start, found.hunt, found.drain, found.any_fault)


def look(what: What, key: str, unit: Charger | None, batch: Batch[Stored]) -> tuple[Holding | str | None, ...]:
    """Where some jobs hold a thing; why one cannot be read; nothing where it does not.

    Args:
        what: of which kind it is.
        key: which.
        unit: the shelf's own, where it is a unit.
        batch: the jobs.
    """
    return tuple(_looked(what, key, unit, stored) for stored in batch)


@dataclass(frozen=True, slots=True)
class Holding:
    """Where a job holds a thing, and what the shelf's would change."""

    where: tuple[Holds, ...]
    recalled: Recalled | None


def _looked(what: What, key: str, unit: Charger | None, stored: Stored) -> Holding | str | None:
    design = _read(stored)
    if not isinstance(design, Design):
        return design
    where = holds(design, what, key)
    if not where:
        return None
    return Holding(where, with_item(design, unit) if unit is not None else None)


def _read(stored: Stored) -> Design | str:
    try:
        return Design.model_validate_json(stored.document)
    except ValidationError:
        return card_of_document(stored.document).spoilt


def reassess(stores: Stores, spread: Spread, ids: Sequence[int] | None = None) -> Iterator[Told]:
    """Judge jobs anew and keep their cards; tells those whose findings are others than when they were saved.

    Args:
        stores: the store.
        spread: where the work is done.
        ids: which jobs; all where left out.

    Raises:
        OtherOlvask: a worker's rules are not this server's.
        NoScheduler: the scheduler is gone.
        StorageFault: the storage failed.
    """

    def tell(batch: Batch[Stored], cards: tuple[Card, ...]) -> Iterator[Told]:
        kept = stores.jobs.cards.keep(list(zip(batch, cards, strict=True)))
        for stored, card in zip(batch, kept, strict=True):
            if card.changed or card.spoilt:
                yield Told(0.0, stored.job_id, stored.heading, unreadable=card.spoilt, changed=card.changed)

    return _over(stores, spread, _Work(judge, tell, Card(spoilt=LOST)), ids)


def sweep(stores: Stores, spread: Spread, vehicles: int, ids: Sequence[int] | None = None) -> Iterator[Told]:
    """Drive every job as many vehicles that differ within tolerances; tells those that are at fault in some.

    Args:
        stores: the store.
        spread: where the work is done.
        vehicles: of each job.
        ids: which jobs; all where left out.

    Raises:
        OtherOlvask: a worker's rules are not this server's.
        NoScheduler: the scheduler is gone.
        StorageFault: the storage failed.
    """

    def tell(batch: Batch[Stored], found: tuple[Shares | str | None, ...]) -> Iterator[Told]:
        for stored, shares in zip(batch, found, strict=True):
            if isinstance(shares, str):
                yield Told(0.0, stored.job_id, stored.heading, unreadable=shares)
            elif shares is not None and shares.any:
                yield Told(0.0, stored.job_id, stored.heading, shares=shares)

    return _over(stores, spread, _Work(partial(drive, vehicles), tell, LOST, together=1, few=SOME), ids)


def recall(stores: Stores, spread: Spread, what: What, key: str, unit: Charger | None) -> Iterator[Told]:
    """Tell every job that holds a thing.

    Args:
        stores: the store.
        spread: where the work is done.
        what: of which kind it is.
        key: which.
        unit: the shelf's own, where it is a unit.

    Raises:
        OtherOlvask: a worker's rules are not this server's.
        NoScheduler: the scheduler is gone.
        StorageFault: the storage failed.
    """

    def tell(batch: Batch[Stored], found: tuple[Holding | str | None, ...]) -> Iterator[Told]:
        for stored, held in zip(batch, found, strict=True):
            if isinstance(held, str):
                yield Told(0.0, stored.job_id, stored.heading, unreadable=held)
            elif held is not None:
                yield Told(0.0, stored.job_id, stored.heading, where=held.where, recalled=held.recalled)

    return _over(stores, spread, _Work(partial(look, what, key, unit), tell, LOST), None)


@dataclass(frozen=True, slots=True)
class _Work:
    """What is done to a batch, what is told of it, what stands for a job that takes its worker along."""

    task: Callable[[Batch[Stored]], tuple[Any, ...]]
    tell: Callable[[Batch[Stored], tuple[Any, ...]], Iterator[Told]]
    lost: Any
    together: int = TOGETHER
    few: int = FEW


def _over(stores: Stores, spread: Spread, work: _Work, ids: Sequence[int] | None) -> Iterator[Told]:
    every = stores.jobs.ids() if ids is None else ids
    where = Here() if len(every) < work.few else spread
    done = 0
    for batch, found in where.each(work.task, _batches(stores, every, work.together)):
        done += len(batch)
        share = done / len(every)
        for told in work.tell(batch, (work.lost,) * len(batch) if found is None else found):
            yield replace(told, done=share)
        yield Told(share)
    yield Told(1.0)


def _batches(stores: Stores, ids: Sequence[int], together: int) -> Iterator[Batch[Stored]]:
    """Jobs as they stand in the store, a few at a time; those taken out meanwhile are left out."""
    for at in range(0, len(ids), together):
        found = stores.jobs.cards.stored(ids[at : at + together])
        if found:
            yield found
