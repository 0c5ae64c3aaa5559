"""The repository of jobs: saves carry the version they were based on, every revision stays."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime

from pydantic import ValidationError
from sqlalchemy import Engine, select, update
from sqlalchemy.orm import Session

from olvask.core.model import Design
from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.store.schema import JobRow, RevisionRow


class NoSuchJob(LookupError):
    """No job, or no revision of it, under that number."""


class StaleSave(RuntimeError):
    """The job was saved by someone else since; carries what is stored now."""

    def __init__(self, stored: Job) -> None:
        super().__init__(f"job {stored.id} is at version {stored.version}")
        self.stored = stored


@dataclass(frozen=True, slots=True)
class Heading:
    """What a job is called."""

    title: str
    code: str = ""
    customer: str = ""


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


def utc_now() -> datetime:
    """The time in UTC, without zone."""
    return datetime.now(UTC).replace(tzinfo=None)


class JobStore:
    """Jobs in one database."""

    def __init__(self, engine: Engine, now: Callable[[], datetime] = utc_now) -> None:
        """Use `engine`; `now` gives the time in UTC, without zone."""
        self._engine = engine
        self._now = now

    def all(self) -> list[Job | SpoiltJob]:
        """Every job at its newest revision, last saved first; one that cannot be read hides no other."""
        with Session(self._engine) as session:
            query = (
                select(RevisionRow)
                .join(JobRow, (JobRow.id == RevisionRow.job_id) & (JobRow.version == RevisionRow.version))
                .order_by(JobRow.saved_at.desc(), JobRow.id)
            )
            return [_job_or_spoilt(row) for row in session.scalars(query)]

    def get(self, job_id: int, version: int | None = None) -> Job:
        """A job at its newest revision, or at `version`.

        Raises:
            NoSuchJob: there is none.
            UnreadableJob: what is stored is no design.
        """
        with Session(self._engine) as session:
            return _job(self._revision(session, job_id, version))

    def revisions(self, job_id: int) -> list[RevisionHead]:
        """Every revision of a job, newest first.

        Raises:
            NoSuchJob: there is no such job.
        """
        with Session(self._engine) as session:
            query = (
                select(RevisionRow.version, RevisionRow.saved_at, RevisionRow.title)
                .where(RevisionRow.job_id == job_id)
                .order_by(RevisionRow.version.desc())
            )
            found = [RevisionHead(version, saved_at, title) for version, saved_at, title in session.execute(query)]
        if not found:
            raise NoSuchJob(f"no job {job_id}")
        return found

    def create(self, heading: Heading, design: Design) -> Job:
        """Store a new job as its version 1."""
        now = self._now()
        with Session(self._engine) as session, session.begin():
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
            revision = _revision_row(row.id, 1, heading, now, design)
            session.add(revision)
            return _job(revision)

    def save(self, job_id: int, based_on: int, heading: Heading, design: Design) -> Job:
        """Store a new revision of a job.

        Args:
            job_id: which job.
            based_on: the version the change was made to.
            heading: title, code and customer.
            design: the whole design.

        Raises:
            NoSuchJob: there is no such job.
            StaleSave: the stored version is another; nothing is written.
        """
        now = self._now()
        with Session(self._engine) as session, session.begin():
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
            if taken is None:
                raise StaleSave(_job(self._revision(session, job_id, None)))
            revision = _revision_row(job_id, based_on + 1, heading, now, design)
            session.add(revision)
            return _job(revision)

    @staticmethod
    def _revision(session: Session, job_id: int, version: int | None) -> RevisionRow:
        query = select(RevisionRow).where(RevisionRow.job_id == job_id).order_by(RevisionRow.version.desc()).limit(1)
        if version is not None:
            query = query.where(RevisionRow.version == version)
        row = session.scalars(query).first()
        if row is None:
            raise NoSuchJob(f"no job {job_id}" if version is None else f"no version {version} of job {job_id}")
        return row


def _revision_row(job_id: int, version: int, heading: Heading, now: datetime, design: Design) -> RevisionRow:
    return RevisionRow(
        job_id=job_id,
        version=version,
        code=heading.code,
        title=heading.title,
        customer=heading.customer,
        saved_at=now,
        design=design.model_dump_json(),
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
