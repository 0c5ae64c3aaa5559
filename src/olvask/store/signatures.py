"""Signatures: which revision was signed off, by whom, with what accepted; never changed.

- `SignatureStore`: those of one database.
"""

from __future__ import annotations

from sqlalchemy import func, select

from olvask.core.analyses.signing import Signature
from olvask.store.engine import Database
from olvask.store.jobs import NoSuchJob
from olvask.store.noted import vouched
from olvask.store.schema import JobRow, SignatureRow

MOST_SIGNATURES = 200  # of a job; our own estimate


class NoSuchSignature(LookupError):
    """The job bears no such signature."""


class SignedAlready(ValueError):
    """That revision was signed off already."""


class MovedOn(ValueError):
    """The job was saved since the revision that was to be signed."""


class SignatureStore:
    """Signatures in one database."""

    def __init__(self, database: Database) -> None:
        """Use `database`."""
        self._database = database

    def all(self, job_id: int) -> list[Signature]:
        """Every signature of a job, newest first."""
        with self._database.reading() as session:
            query = select(SignatureRow).where(SignatureRow.job_id == job_id).order_by(SignatureRow.number.desc())
            return [Signature.model_validate_json(row.document) for row in session.scalars(query)]

    def one(self, job_id: int, number: int) -> Signature:
        """One signature of a job.

        Raises:
            NoSuchSignature: the job bears none of that number.
        """
        found = next((item for item in self.all(job_id) if item.number == number), None)
        if found is None:
            raise NoSuchSignature(f"no signature {number} of job {job_id}")
        return found

    def sign(self, job_id: int, signature: Signature) -> Signature:
        """Keep a signature under the next number of its job.

        Raises:
            NoSuchJob: there is no such job.
            MovedOn: another revision is the newest.
            SignedAlready: that revision bears a signature, and nothing was mended and no visit begun since.
        """
        with self._database.writing() as session:
            job = session.get(JobRow, job_id)
            if job is None:
                raise NoSuchJob(f"no job {job_id}")
            if job.version != signature.version:
                raise MovedOn(f"The job is at version {job.version} by now; look at it again before you sign.")
            if vouched(session, [job_id]):
                raise SignedAlready(f"Version {signature.version} is signed off already.")
            last = session.scalar(select(func.max(SignatureRow.number)).where(SignatureRow.job_id == job_id)) or 0
            if last >= MOST_SIGNATURES:
                raise SignedAlready(f"This job bears {MOST_SIGNATURES} signatures; begin a new job from it.")
            numbered = signature.model_copy(update={"number": last + 1})
            session.add(
                SignatureRow(
                    job_id=job_id, number=last + 1, version=signature.version, document=numbered.model_dump_json()
                )
            )
            return numbered
