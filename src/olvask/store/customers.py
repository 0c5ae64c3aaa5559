"""Everything of one customer: found, and erased.

- `CustomerStore`: that of one database.
"""

from __future__ import annotations

from collections.abc import Iterator

from sqlalchemy import delete, func, select, text
from sqlalchemy.orm import Session

from olvask.store.engine import Database
from olvask.store.schema import DeedRow, JobRow, PhotographRow


class NoSuchCustomer(LookupError):
    """No job is of that customer."""


class CustomerStore:
    """Customers by the name their jobs bear."""

    def __init__(self, database: Database) -> None:
        """Use `database`."""
        self._database = database

    def jobs(self, customer: str) -> list[int]:
        """Numbers of a customer's jobs, archived ones and templates among them.

        Args:
            customer: by name; letters may be small or large.

        Raises:
            NoSuchCustomer: there is none.
        """
        with self._database.reading() as session:
            found = _jobs(session, customer)
        if not found:
            raise NoSuchCustomer(f"no job of a customer called {customer.strip()!r}")
        return found

    def photographs(self, job_id: int) -> Iterator[tuple[str, bytes]]:
        """Name and picture of each photograph of a job."""
        with self._database.reading() as session:
            names = list(session.scalars(select(PhotographRow.id).where(PhotographRow.job_id == job_id)))
        for name in names:
            with self._database.reading() as session:
                row = session.get(PhotographRow, (job_id, name))
                if row is not None:
                    yield name, row.picture

    def erase(self, customer: str) -> int:
        """Erase every job of a customer with all that belongs to it; how many. Backups hold them still.

        Args:
            customer: by name.

        Raises:
            NoSuchCustomer: there is none; nothing was changed.
        """
        with self._database.writing() as session:
            if session.get_bind().dialect.name == "sqlite":
                session.execute(text("PRAGMA secure_delete=ON"))  # what was there is overwritten, not only let go
            found = _jobs(session, customer)
            if not found:
                raise NoSuchCustomer(f"no job of a customer called {customer.strip()!r}")
            session.execute(delete(DeedRow).where(DeedRow.job_id.in_(found)))
            session.execute(delete(JobRow).where(JobRow.id.in_(found)))
            return len(found)


def _jobs(session: Session, customer: str) -> list[int]:
    name = customer.strip().lower()
    if not name:
        return []
    return list(session.scalars(select(JobRow.id).where(func.lower(JobRow.customer) == name).order_by(JobRow.id)))
