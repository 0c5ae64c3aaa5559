"""What is noted while building: entries that are only ever added, and photographs.

- `BuildStore`: both, in one database.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import asdict
from datetime import date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from olvask.core.stages.build.progress import Entry
from olvask.store.engine import Database
from olvask.store.jobs import NoSuchJob, utc_now
from olvask.store.noted import entry_of
from olvask.store.photographs import Photograph
from olvask.store.schema import BuildEntryRow, JobRow, PhotographRow

MOST_ENTRIES = 5000  # a job's; a year of two people noting everything, with room. Our own estimate
MOST_PHOTOGRAPHS = 300


class NoSuchPhotograph(LookupError):
    """The job has no such photograph."""


class TooMuchNoted(ValueError):
    """The job holds as much as can be kept."""


class BuildStore:
    """Entries and photographs in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def entries(self, job_id: int) -> list[Entry]:
        """Everything noted on a job, in the order it came in.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            _job(session, job_id)
            query = select(BuildEntryRow).where(BuildEntryRow.job_id == job_id)
            rows = session.scalars(query.order_by(BuildEntryRow.received_at, BuildEntryRow.id))
            return [entry_of(row) for row in rows]

    def add(self, job_id: int, entries: Iterable[Entry]) -> list[Entry]:
        """Add what was noted; what is known already is passed over. Everything noted, as it stands then.

        Raises:
            NoSuchJob: there is no such job.
            NoSuchPhotograph: an entry names one that is not kept.
            TooMuchNoted: the job holds as much as can be kept.
        """
        now = self._now()
        with self._database.writing() as session:
            _job(session, job_id)
            held = set(session.scalars(select(BuildEntryRow.id).where(BuildEntryRow.job_id == job_id)))
            fresh = {entry.id: entry for entry in entries if entry.id not in held}
            if len(held) + len(fresh) > MOST_ENTRIES:
                raise TooMuchNoted(f"{MOST_ENTRIES} entries are noted on this job already; nothing was added")
            taken = set(session.scalars(select(BuildEntryRow.id).where(BuildEntryRow.id.in_(list(fresh)))))
            pictures = set(session.scalars(select(PhotographRow.id).where(PhotographRow.job_id == job_id)))
            for entry in fresh.values():
                if entry.photo and entry.photo not in pictures:
                    raise NoSuchPhotograph(f"no photograph {entry.photo[:12]} of job {job_id}")
                if entry.id not in taken:  # an identity another job has is not taken twice
                    values = asdict(entry) | {"at": datetime.fromisoformat(entry.at)}
                    values.pop("received")
                    session.add(BuildEntryRow(job_id=job_id, received_at=now, **values))
            _note_service(session, job_id, fresh.values())
        return self.entries(job_id)

    def keep(self, job_id: int, photograph: Photograph) -> None:
        """Keep a photograph; the same one twice is one.

        Raises:
            NoSuchJob: there is no such job.
            TooMuchNoted: the job holds as many as can be kept.
        """
        with self._database.writing() as session:
            _job(session, job_id)
            held = set(session.scalars(select(PhotographRow.id).where(PhotographRow.job_id == job_id)))
            if photograph.id in held:
                return
            if len(held) >= MOST_PHOTOGRAPHS:
                raise TooMuchNoted(f"{MOST_PHOTOGRAPHS} photographs are kept on this job already")
            session.add(
                PhotographRow(
                    job_id=job_id,
                    id=photograph.id,
                    taken_in=self._now(),
                    picture=photograph.picture,
                    thumbnail=photograph.thumbnail,
                )
            )

    def photograph(self, job_id: int, id: str) -> Photograph:
        """A photograph.

        Raises:
            NoSuchPhotograph: the job has none of that name.
        """
        with self._database.reading() as session:
            row = session.get(PhotographRow, (job_id, id))
            if row is None:
                raise NoSuchPhotograph(f"no photograph {id[:12]} of job {job_id}")
            return Photograph(row.id, row.picture, row.thumbnail)


def _job(session: Session, job_id: int) -> None:
    if session.get(JobRow, job_id) is None:
        raise NoSuchJob(f"no job {job_id}")


def _note_service(session: Session, job_id: int, entries: Iterable[Entry]) -> None:
    """Keep with the job when its next service is due, as the newest that was noted says."""
    noted = sorted((entry.at, entry.text.strip()) for entry in entries if entry.step == "service_due")
    job = session.get(JobRow, job_id)
    if not noted or job is None:
        return
    try:
        job.service_due = date.fromisoformat(noted[-1][1]).isoformat()
    except ValueError:  # words, such as "when the belt is changed": they stay in the logbook
        job.service_due = ""
