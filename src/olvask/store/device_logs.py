"""Logs of devices that were taken in, and how each kind of them is read.

- `DeviceLogStore`: both, in one database.
- `KeptLog`: one of them without its columns.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime
from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from olvask.core.analyses.device_log import Log
from olvask.core.model.device_log import MEASURED, LogMapping
from olvask.store.engine import Database
from olvask.store.jobs import NoSuchJob, utc_now
from olvask.store.schema import DeviceLogRow, JobRow, LogKindRow

MOST_LOGS, MOST_KINDS = 60, 400  # of a job, of a workshop; our own estimates


class NoSuchLog(LookupError):
    """There is no such log, or no such kind of one."""


class TooManyLogs(ValueError):
    """As many as are kept are there already."""


class LogAbout(BaseModel):
    """What a log is: its file, how it was read, and what was left out of it."""

    model_config = ConfigDict(frozen=True)

    name: str
    rows: int
    begins_s: float
    ends_s: float
    mapping: LogMapping
    troubles: tuple[str, ...]


class KeptLog(LogAbout):
    """A log as it is kept."""

    id: int
    taken_at: datetime


class DeviceLogStore:
    """Logs and their kinds in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def kind_of(self, signature: str) -> tuple[int, LogMapping] | None:
        """The kind of log with these column names, if it was mapped before.

        Args:
            signature: of a mapping.
        """
        with self._database.reading() as session:
            row = session.scalar(select(LogKindRow).where(LogKindRow.signature == _hash(signature)))
            return None if row is None else (row.id, LogMapping.model_validate_json(row.document))

    def kind(self, number: int) -> LogMapping:
        """A kind by its number.

        Raises:
            NoSuchLog: there is none.
        """
        with self._database.reading() as session:
            row = session.get(LogKindRow, number)
            if row is None:
                raise NoSuchLog(f"no kind of log {number}")
            return LogMapping.model_validate_json(row.document)

    def keep_kind(self, mapping: LogMapping) -> int:
        """Keep how a kind is read, in place of how it was before; its number.

        Raises:
            TooManyLogs: as many kinds as are kept are there.
        """
        with self._database.writing() as session:
            signature = _hash(mapping.signature)
            row = session.scalar(select(LogKindRow).where(LogKindRow.signature == signature))
            if row is None:
                if (session.scalar(select(func.count()).select_from(LogKindRow)) or 0) >= MOST_KINDS:
                    raise TooManyLogs(f"{MOST_KINDS} kinds of logs are known already.")
                row = LogKindRow(signature=signature)
                session.add(row)
            row.document = mapping.model_dump_json()
            session.flush()
            return row.id

    def all(self, job_id: int) -> list[KeptLog]:
        """Every log of a job, the latest first.

        Raises:
            NoSuchJob: there is no such job.
        """
        with self._database.reading() as session:
            if session.get(JobRow, job_id) is None:
                raise NoSuchJob(f"no job {job_id}")
            query = select(DeviceLogRow).where(DeviceLogRow.job_id == job_id).order_by(DeviceLogRow.id.desc())
            return [_kept(row) for row in session.scalars(query)]

    def add(self, job_id: int, about: LogAbout, log: Log) -> int:
        """Keep one more; its number.

        Raises:
            NoSuchJob: there is no such job.
            TooManyLogs: the job holds as many as are kept.
        """
        packed = _packed(log)
        with self._database.writing() as session:
            if session.get(JobRow, job_id) is None:
                raise NoSuchJob(f"no job {job_id}")
            own = select(func.count()).select_from(DeviceLogRow).where(DeviceLogRow.job_id == job_id)
            if (session.scalar(own) or 0) >= MOST_LOGS:
                raise TooManyLogs(f"{MOST_LOGS} logs of this job are kept already; take one out first.")
            row = DeviceLogRow(job_id=job_id, taken_at=self._now(), document=about.model_dump_json(), columns=packed)
            session.add(row)
            session.flush()
            return row.id

    def about(self, job_id: int, number: int) -> KeptLog:
        """What one of a job's logs is.

        Raises:
            NoSuchLog: the job has none of that number.
        """
        with self._database.reading() as session:
            return _kept(_own(session, job_id, number))

    def log(self, job_id: int, number: int) -> Log:
        """Its columns.

        Raises:
            NoSuchLog: the job has none of that number.
        """
        with self._database.reading() as session:
            return _unpacked(_own(session, job_id, number).columns)

    def remove(self, job_id: int, number: int) -> None:
        """Take one out.

        Raises:
            NoSuchLog: the job has none of that number.
        """
        with self._database.writing() as session:
            session.delete(_own(session, job_id, number))


def _own(session: Session, job_id: int, number: int) -> DeviceLogRow:
    row = session.get(DeviceLogRow, number)
    if row is None or row.job_id != job_id:
        raise NoSuchLog(f"job {job_id} has no log {number}")
    return row


def _hash(signature: str) -> str:
    return hashlib.sha256(signature.encode()).hexdigest()


def _kept(row: DeviceLogRow) -> KeptLog:
    about = LogAbout.model_validate_json(row.document)
    return KeptLog(id=row.id, taken_at=row.taken_at, **about.model_dump())


def _packed(log: Log) -> bytes:
    """Columns as they are kept: times as steps, so that they pack."""
    out = BytesIO()
    columns: dict[str, NDArray[np.floating]] = {name: log.values[name] for name in log.values}
    columns |= {"begins": log.time_s[:1], "steps": np.diff(log.time_s).astype(np.float32)}
    np.savez_compressed(out, **columns)  # type: ignore[arg-type]  # names of columns, none of them an option's
    return out.getvalue()


def _unpacked(packed: bytes) -> Log:
    with np.load(BytesIO(packed), allow_pickle=False) as found:
        time_s = np.concatenate((found["begins"], found["begins"] + np.cumsum(found["steps"], dtype=np.float64)))
        return Log(time_s, {name: found[name] for name in MEASURED if name in found.files})
