"""The repository of jobs: saves carry the version they were based on, every revision stays."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields
from datetime import UTC, datetime
from typing import Any, Literal

from pydantic import ValidationError
from sqlalchemy import ColumnElement, Select, func, select, update
from sqlalchemy.orm import Session

from olvask.core.model import Design
from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.store.carding import CHANGED, CardStore, card_row
from olvask.store.cards import MOST_ROWS, Card, CardedJob, Heading, Page, Wanted, card_of, rules
from olvask.store.engine import Database
from olvask.store.noted import vouched
from olvask.store.schema import CardRow, JobRow, RevisionRow

WHOLE = Wanted()
SOON = 4  # jobs judged by what was noted before their page is shown: a quarter of a second; our own estimate


class NoSuchJob(LookupError):
    """No job, or no revision of it, under that number."""


class StaleSave(RuntimeError):
    """The job was saved by someone else since; carries what is stored now."""

    def __init__(self, stored: Job) -> None:
        super().__init__(f"job {stored.id} is at version {stored.version}")
        self.stored = stored


@dataclass(frozen=True, slots=True)
class Job:
    """One revision of a job, whole."""

    id: int
    heading: Heading
    version: int
    saved_at: datetime
    design: Design


@dataclass(frozen=True, slots=True)
class SpoiltJob:
    """A stored revision that is no design; `document` is what stands there."""

    id: int
    heading: Heading
    version: int
    saved_at: datetime
    document: str
    why: tuple[EntryError, ...]


class UnreadableJob(Exception):
    """What is stored is no design; `spoilt` tells what stands there."""

    def __init__(self, spoilt: SpoiltJob) -> None:
        super().__init__(f"job {spoilt.id} cannot be read")
        self.spoilt = spoilt


@dataclass(frozen=True, slots=True)
class RevisionHead:
    """A revision without its design."""

    version: int
    saved_at: datetime
    title: str
    by: str = ""


def utc_now() -> datetime:
    """The time in UTC."""
    return datetime.now(UTC)


class JobStore:
    """Jobs in one database."""

    def __init__(
        self,
        database: Database,
        now: Callable[[], datetime] = utc_now,
        meters: Callable[[], Mapping[str, Accuracy]] = lambda: METER,
    ) -> None:
        """Use `database`; `now` gives the time in UTC, without zone, `meters` the accuracy of the workshop's by unit."""
        self._database = database
        self._now = now
        self.cards = CardStore(database, meters)

    def page(self, wanted: Wanted = WHOLE) -> Page:
        """A part of the yard: searched, filtered, sorted and paged by the database, cards as they were kept.

        Args:
            wanted: which part.

        A card worked out by other rules, or none, is worked out anew for the rows asked for; of those at which something was
        noted since, a few at a time.
        """
        total, rows = self._rows(wanted)
        noted = self.cards.noted_of([row.id for row, *_ in rows])
        stale = [row.id for row, card, size, _ in rows if _stale(row, card, size)]
        behind = [row.id for row, card, *_ in rows if card is not None and card.noted != noted.get(row.id, "")]
        if stale or behind:
            self.cards.refresh(list(dict.fromkeys((*stale, *behind[:SOON]))), SOON)
            total, rows = self._rows(wanted)
        return Page(total, tuple(_carded(row, card, signed) for row, card, _, signed in rows))

    def _rows(self, wanted: Wanted) -> tuple[int, list[tuple[JobRow, CardRow | None, int, bool]]]:
        query = _sought(wanted)
        with self._database.reading() as session:
            total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
            part = query.order_by(*ORDER[wanted.order]).offset(wanted.begin).limit(min(wanted.rows, MOST_ROWS))
            newest = (RevisionRow.job_id == JobRow.id) & (RevisionRow.version == JobRow.version)
            whole = part.join(RevisionRow, newest).add_columns(func.length(RevisionRow.design))
            rows = list(session.execute(whole))
            signed = vouched(session, [row[0].id for row in rows])
            return total, [(row[0], row[1], row[2], row[0].id in signed) for row in rows]

    def refresh(self, most: int = 50) -> int:
        """Work out cards that other rules made, or that are missing; how many are left to do.

        Args:
            most: how many at once.
        """
        found = self.cards.outdated()
        self.cards.refresh(found[:most])
        return max(0, len(found) - most)

    def used(self, by: Literal["unit_id", "battery", "alternator"]) -> dict[str, int]:
        """How many jobs hold each unit, battery or alternator.

        Args:
            by: what is counted.
        """
        column = getattr(CardRow, by)
        with self._database.reading() as session:
            found = session.execute(select(column, func.count()).where(column != "").group_by(column))
            return {row[0]: row[1] for row in found}

    def ids(self) -> list[int]:
        """Every job's number, in order."""
        with self._database.reading() as session:
            return list(session.scalars(select(JobRow.id).order_by(JobRow.id)))

    def get(self, job_id: int, version: int | None = None) -> Job:
        """A job at its newest revision, or at `version`.

        Raises:
            NoSuchJob: there is none.
            UnreadableJob: what is stored is no design.
        """
        try:
            with self._database.reading() as session:
                return _job(self._revision(session, job_id, version))
        except UnreadableJob:
            self.cards.refresh([job_id])  # its row in the yard says so from now on
            raise

    def revisions(self, job_id: int) -> list[RevisionHead]:
        """Every revision of a job, newest first.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            query = (
                select(RevisionRow.version, RevisionRow.saved_at, RevisionRow.title, RevisionRow.by)
                .where(RevisionRow.job_id == job_id)
                .order_by(RevisionRow.version.desc())
            )
            found = [RevisionHead(*row) for row in session.execute(query)]
        if not found:
            raise NoSuchJob(f"no job {job_id}")
        return found

    def create(self, heading: Heading, design: Design, by: str = "") -> Job:
        """Store a new job as its version 1.

        Args:
            heading: title, code and customer.
            design: the whole design.
            by: who does; empty where nobody is asked.
        """
        now, card = self._now(), card_of(design)
        with self._database.writing() as session:
            row = JobRow(
                code=heading.code,
                title=heading.title,
                customer=heading.customer,
                version=1,
                created_at=now,
                saved_at=now,
            )
            session.add(row)
            session.flush()
            revision = _revision_row(row.id, 1, heading, now, design, by)
            session.add(revision)
            session.merge(card_row(row.id, 1, heading, card, len(revision.design)))
            return _job(revision)

    def save(self, job_id: int, based_on: int, heading: Heading, design: Design, by: str = "") -> Job:
        """Store a new revision of a job; the very save that made the newest one is answered with it once more.

        Args:
            job_id: which job.
            based_on: the version the change was made to.
            heading: title, code and customer.
            design: the whole design.
            by: who does; empty where nobody is asked.

        Raises:
            NoSuchJob: there is no such job.
            StaleSave: the stored version is another; nothing is written.
        """
        now, card = self._now(), card_of(design)
        with self._database.writing() as session:
            # One statement both checks and takes the version, so two savers cannot both pass.
            taken = session.execute(
                update(JobRow)
                .where(JobRow.id == job_id, JobRow.version == based_on)
                .values(
                    version=based_on + 1,
                    saved_at=now,
                    title=heading.title,
                    code=heading.code,
                    customer=heading.customer,
                )
                .returning(JobRow.id)
            ).first()
            revision = _revision_row(job_id, based_on + 1, heading, now, design, by)
            if taken is None:
                stored = self._revision(session, job_id, None)
                if not _same_save(stored, revision):
                    raise StaleSave(_job(stored))
                return _job(stored)
            session.add(revision)
            session.merge(card_row(job_id, based_on + 1, heading, card, len(revision.design)))
            return _job(revision)

    def shelve(self, job_id: int, archived: bool, template: bool) -> None:
        """Put a job away, or take it out again; have it stand as a template, or not.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.writing() as session:
            row = session.get(JobRow, job_id)
            if row is None:
                raise NoSuchJob(f"no job {job_id}")
            row.archived, row.template = archived, template

    def shelved(self, job_id: int) -> tuple[bool, bool, str]:
        """Whether a job is put away, whether it is a template, and when its next service is due.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            row = session.get(JobRow, job_id)
            if row is None:
                raise NoSuchJob(f"no job {job_id}")
            return row.archived, row.template, row.service_due

    @staticmethod
    def _revision(session: Session, job_id: int, version: int | None) -> RevisionRow:
        query = select(RevisionRow).where(RevisionRow.job_id == job_id).order_by(RevisionRow.version.desc()).limit(1)
        if version is not None:
            query = query.where(RevisionRow.version == version)
        row = session.scalars(query).first()
        if row is None:
            raise NoSuchJob(f"no job {job_id}" if version is None else f"no version {version} of job {job_id}")
        return row


CARDED = select(JobRow, CardRow).outerjoin(CardRow, CardRow.job_id == JobRow.id)
ORDER: dict[str, tuple[ColumnElement[Any], ...]] = {
    "saved": (JobRow.saved_at.desc(), JobRow.id.asc()),
    "title": (func.lower(JobRow.title).asc(), JobRow.id.asc()),
    "code": (func.lower(JobRow.code).asc(), JobRow.id.asc()),
    "stops": (CardRow.stops.desc(), CardRow.cautions.desc(), JobRow.saved_at.desc()),
    "service": ((JobRow.service_due == "").asc(), JobRow.service_due.asc(), JobRow.id.asc()),
}


def _sought(wanted: Wanted) -> Select[JobRow, CardRow]:
    """The jobs that answer to what is sought."""
    query = CARDED.where(JobRow.archived == (wanted.stands == "archived"))
    for word in wanted.sought.split():
        query = query.where(CardRow.sought.contains(word.casefold(), autoescape=True))
    if wanted.stands == "stop":
        query = query.where(CardRow.stops > 0)
    elif wanted.stands == "caution":
        query = query.where(CardRow.stops == 0, CardRow.cautions > 0)
    elif wanted.stands == "clear":
        query = query.where(CardRow.stops == 0, CardRow.cautions == 0, CardRow.spoilt == "")
    elif wanted.stands == "spoilt":
        query = query.where(CardRow.spoilt != "")
    elif wanted.stands == "changed":
        query = query.where(CHANGED)
    elif wanted.stands == "template":
        query = query.where(JobRow.template)
    elif wanted.stands == "service":
        query = query.where(JobRow.service_due != "")
    return query


def _carded(row: JobRow, card: CardRow | None, signed: bool) -> CardedJob:
    heading = Heading(row.title, row.code, row.customer)
    return CardedJob(
        row.id, heading, row.version, row.saved_at, _card(card), row.archived, row.template, row.service_due, signed
    )


def _same_save(stored: RevisionRow, again: RevisionRow) -> bool:
    """Whether a save comes a second time, its first answer lost on the way."""
    return (stored.version, stored.title, stored.code, stored.customer, stored.design) == (
        again.version,
        again.title,
        again.code,
        again.customer,
        again.design,
    )


def _stale(job: JobRow, card: CardRow | None, size: int) -> bool:
    return card is None or card.version != job.version or card.rules != rules() or card.size != size


def _card(row: CardRow | None) -> Card:
    if row is None:
        return Card()
    return Card(**{field.name: getattr(row, field.name) for field in fields(Card)})


def _revision_row(job_id: int, version: int, heading: Heading, now: datetime, design: Design, by: str) -> RevisionRow:
    return RevisionRow(
        job_id=job_id,
        version=version,
        code=heading.code,
        title=heading.title,
        customer=heading.customer,
        saved_at=now,
        design=design.model_dump_json(),
        by=by,
    )


def _job(row: RevisionRow) -> Job:
    found = _job_or_spoilt(row)
    if isinstance(found, SpoiltJob):
        raise UnreadableJob(found)
    return found


def _job_or_spoilt(row: RevisionRow) -> Job | SpoiltJob:
    heading = Heading(row.title, row.code, row.customer)
    try:
        return Job(row.job_id, heading, row.version, row.saved_at, Design.model_validate_json(row.design))
    except ValidationError as error:
        why = tuple(entry_errors(error, Design))
        return SpoiltJob(row.job_id, heading, row.version, row.saved_at, row.design, why)
