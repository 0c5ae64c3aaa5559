"""Variants of a job kept beside its design, to be compared and perhaps chosen."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from olvask.core.model import Design
from olvask.store.engine import Database
from olvask.store.jobs import NoSuchJob, utc_now
from olvask.store.schema import JobRow, OptionRow

MOST = 3  # beside the design itself


class TooManyOptions(ValueError):
    """The job holds as many variants as can be compared."""


class NoSuchOption(LookupError):
    """The job has no such variant."""


@dataclass(frozen=True, slots=True)
class Option:
    """A kept variant."""

    id: int
    name: str
    kept_at: datetime
    design: Design


class OptionStore:
    """Variants in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC, without zone."""
        self._database = database
        self._now = now

    def all(self, job_id: int) -> list[Option]:
        """Every variant of a job, oldest first.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            self._job(session, job_id)
            rows = session.scalars(select(OptionRow).where(OptionRow.job_id == job_id).order_by(OptionRow.id))
            return [_option(row) for row in rows]

    def keep(self, job_id: int, name: str, design: Design) -> Option:
        """Keep a variant.

        Raises:
            NoSuchJob: there is no such job.
            TooManyOptions: the job holds three already.
        """
        with self._database.writing() as session:
            self._job(session, job_id)
            held = session.scalars(select(OptionRow.id).where(OptionRow.job_id == job_id)).all()
            if len(held) >= MOST:
                raise TooManyOptions(f"{MOST} options are kept already; drop one first")
            row = OptionRow(job_id=job_id, name=name, kept_at=self._now(), design=design.model_dump_json())
            session.add(row)
            session.flush()
            return _option(row)

    def drop(self, job_id: int, option_id: int) -> None:
        """Drop a variant.

        Raises:
            NoSuchOption: the job has no such variant.
        """
        with self._database.writing() as session:
            gone = session.execute(
                delete(OptionRow).where(OptionRow.id == option_id, OptionRow.job_id == job_id).returning(OptionRow.id)
            ).first()
            if gone is None:
                raise NoSuchOption(f"no option {option_id} of job {job_id}")

    @staticmethod
    def _job(session: Session, job_id: int) -> None:
        if session.get(JobRow, job_id) is None:
            raise NoSuchJob(f"no job {job_id}")


def _option(row: OptionRow) -> Option:
    return Option(row.id, row.name, row.kept_at, Design.model_validate_json(row.design))
