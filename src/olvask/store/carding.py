"""Cards of the yard kept: which are outdated, what they are worked out from, what changed by other rules.

- `Stored`: a job's newest revision as it stands in the store, unread.
- `CardStore`: the repository.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

from sqlalchemy import ColumnElement, Row, func, insert, select, update

from olvask.core.stages.prove.meter import Accuracy
from olvask.store.cards import NOTHING, UNKNOWN, Card, Heading, Log, card_of_document, differing, rules, sought_by
from olvask.store.engine import Database
from olvask.store.noted import Noted
from olvask.store.schema import CardRow, JobRow, RevisionRow

REVISION = (
    RevisionRow.job_id,
    RevisionRow.version,
    RevisionRow.title,
    RevisionRow.code,
    RevisionRow.customer,
    RevisionRow.design,
)
NEWEST = (JobRow.id == RevisionRow.job_id) & (JobRow.version == RevisionRow.version)


@dataclass(frozen=True, slots=True)
class Stored:
    """A job's newest revision as it stands in the store, unread, and what was noted of its work."""

    job_id: int
    version: int
    heading: Heading
    document: str
    log: Log = NOTHING


class CardStore:
    """Cards in one database."""

    def __init__(self, database: Database, meters: Callable[[], Mapping[str, Accuracy]]) -> None:
        """Use `database`; `meters` gives the accuracy of the workshop's meters by unit, as they are now."""
        self._database = database
        self._meters = meters

    def noted_of(self, ids: Sequence[int]) -> dict[int, str]:
        """What the cards of some jobs should have been made from; of those at which something was noted.

        Args:
            ids: numbers of jobs.
        """
        with self._database.reading() as session:
            return Noted(self._meters()).keys(session, ids)

    def outdated(self) -> list[int]:
        """Jobs whose card is missing or was made by other rules, those saved last first."""
        old = CardRow.job_id.is_(None) | (CardRow.rules != rules()) | (CardRow.version != JobRow.version)
        old |= CardRow.noted != Noted(self._meters()).key_in_query()
        with self._database.reading() as session:
            query = select(JobRow.id).outerjoin(CardRow, CardRow.job_id == JobRow.id).where(old)
            return list(session.scalars(query.order_by(JobRow.saved_at.desc())))

    def stored(self, ids: Sequence[int]) -> tuple[Stored, ...]:
        """Newest revisions of some jobs; one taken out meanwhile is left out.

        Args:
            ids: numbers of jobs.
        """
        noted = Noted(self._meters())
        with self._database.reading() as session:
            logs = noted.logs(session, ids)
            query = select(*REVISION).join(JobRow, NEWEST).where(JobRow.id.in_(ids)).order_by(JobRow.id)
            return tuple(
                Stored(job_id, version, Heading(title, code, customer), design, logs.get(job_id, NOTHING))
                for job_id, version, title, code, customer, design in session.execute(query)
            )

    def keep(self, judged: Sequence[tuple[Stored, Card]]) -> list[Card]:
        """Keep cards worked out from what was stored; what is saved anew meanwhile keeps its own.

        Args:
            judged: what was judged, with its card.

        Returns the cards as kept, with what changed since the job was last saved.
        """
        ids = [stored.job_id for stored, _ in judged]
        with self._database.writing() as session:
            found = session.execute(select(JobRow.id, JobRow.version).where(JobRow.id.in_(ids)))
            versions = {row[0]: row[1] for row in found}
            before = {row.job_id: row for row in session.execute(BEFORE.where(CardRow.job_id.in_(ids)))}
            kept: list[Card] = []
            new: list[dict[str, Any]] = []
            old: list[dict[str, Any]] = []
            for stored, judged_card in judged:
                was = before.get(stored.job_id)
                card = _beside(judged_card, stored, was)
                kept.append(card)
                if versions.get(stored.job_id) == stored.version:
                    size = len(stored.document)
                    row = _columns(stored.job_id, stored.version, stored.heading, card, size, stored.log.key)
                    (new if was is None else old).append(row)
            # Many rows by one statement each: a yard of ten thousand is written in a second.
            if new:
                session.execute(insert(CardRow), new)
            if old:
                session.execute(update(CardRow), old)
            return kept

    def refresh(self, ids: Sequence[int], logs: float = math.inf) -> None:
        """Work cards out anew; judging is done before the write lock is taken.

        Args:
            ids: numbers of jobs.
            logs: how many at most are judged by what was noted, which takes twenty times as long; the others stay outdated.
        """
        judged = []
        for stored in self.stored(ids):
            logs -= bool(stored.log.entries)
            known = replace(stored, log=NOTHING) if logs < 0 and stored.log.entries else stored
            judged.append((known, card_of_document(known.document, known.log)))
        self.keep(judged)


def _beside(card: Card, stored: Stored, was: Row[int, int, int, str] | None) -> Card:
    """A card with what was found when the job was saved, and what is found otherwise."""
    if was is None or was.version != stored.version or was.size != len(stored.document):
        return card
    base = card.findings if was.findings == UNKNOWN else was.findings
    return replace(card, findings=base, changed=differing(base, card.findings))


def _columns(job_id: int, version: int, heading: Heading, card: Card, size: int, noted: str = "") -> dict[str, Any]:
    named = {field.name: getattr(card, field.name) for field in fields(Card)}
    sought = sought_by(heading, card)
    made_from = {"version": version, "rules": rules(), "size": size, "noted": noted}
    return {"job_id": job_id, "sought": sought} | made_from | named


def card_row(job_id: int, version: int, heading: Heading, card: Card, size: int) -> CardRow:
    """A card as it is kept when a job is saved: what was noted of its work is looked at when it is next asked for.

    Args:
        job_id: which job's.
        version: of the job.
        heading: what it is called.
        card: its verdicts.
        size: characters of the document it was made from.
    """
    return CardRow(**_columns(job_id, version, heading, card, size))


BEFORE = select(CardRow.job_id, CardRow.version, CardRow.size, CardRow.findings)
CHANGED: ColumnElement[bool] = func.length(CardRow.changed) > 0
