"""Quotes as they were given: kept whole, never worked out again.

- `QuoteStore`: those of one database.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from olvask.core.analyses.quote import Quote
from olvask.store.engine import Database
from olvask.store.jobs import NoSuchJob, utc_now
from olvask.store.schema import JobRow, QuoteRow

MOST_QUOTES = 100  # of a job; our own estimate


class NoSuchQuote(LookupError):
    """The job has no quote of that number."""


class TooManyQuotes(ValueError):
    """The job holds as many quotes as are kept."""


class QuoteStore:
    """Quotes in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def all(self, job_id: int) -> list[Quote]:
        """Every quote of a job, newest first.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            _job(session, job_id)
            rows = session.scalars(select(QuoteRow).where(QuoteRow.job_id == job_id).order_by(QuoteRow.number.desc()))
            return [Quote.model_validate_json(row.document) for row in rows]

    def get(self, job_id: int, number: int) -> Quote:
        """A quote by its number.

        Raises:
            NoSuchQuote: there is none.
        """
        with self._database.reading() as session:
            query = select(QuoteRow).where(QuoteRow.job_id == job_id, QuoteRow.number == number)
            row = session.scalars(query).first()
            if row is None:
                raise NoSuchQuote(f"no quote {number} of job {job_id}")
            return Quote.model_validate_json(row.document)

    def give(self, job_id: int, quote: Quote) -> Quote:
        """Keep a quote under the next number of its job.

        Raises:
            NoSuchJob: there is no such job.
            TooManyQuotes: the job holds as many as are kept.
        """
        with self._database.writing() as session:
            _job(session, job_id)
            last = session.scalar(select(func.max(QuoteRow.number)).where(QuoteRow.job_id == job_id)) or 0
            if last >= MOST_QUOTES:
                raise TooManyQuotes(f"{MOST_QUOTES} quotes were given on this job already")
            numbered = quote.model_copy(update={"number": last + 1})
            session.add(
                QuoteRow(job_id=job_id, number=last + 1, made_at=self._now(), document=numbered.model_dump_json())
            )
            return numbered


def _job(session: Session, job_id: int) -> None:
    if session.get(JobRow, job_id) is None:
        raise NoSuchJob(f"no job {job_id}")
