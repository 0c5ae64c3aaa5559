"""What was noted of jobs' work, as their cards are worked out from it.

- `entry_of`: one thing noted, from its row.
- `vouched`: which jobs are signed off and have not been taken up again.
- `Noted`: the logs of some jobs, and whether a card's is still the same.
"""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Mapping, Sequence

from pydantic import ValidationError
from sqlalchemy import ColumnElement, String, cast, func, literal, select
from sqlalchemy.orm import Session

from olvask.core.analyses.signing import Signature, since_signed
from olvask.core.stages.build.progress import Entry, progress_of
from olvask.core.stages.prove.meter import Accuracy
from olvask.core.stages.prove.noted import CURE, PROVE, VISIT
from olvask.store.cards import Log
from olvask.store.schema import BuildEntryRow, JobRow, SignatureRow


def entry_of(row: BuildEntryRow) -> Entry:
    """One thing noted.

    Args:
        row: as it is kept.
    """
    return Entry(
        id=row.id,
        procedure=row.procedure,
        step=row.step,
        kind=row.kind,  # type: ignore[arg-type]  # written by the same type
        text=row.text,
        value=row.value,
        unit=row.unit,
        photo=row.photo,
        by=row.by,
        at=row.at.isoformat(),
        received=row.received_at.isoformat(),
    )


def vouched(session: Session, ids: Sequence[int]) -> set[int]:
    """Those of some jobs whose newest version is signed off, where nothing was mended and no visit begun since.

    Args:
        session: of the database.
        ids: the jobs.
    """
    newest = (JobRow.id == SignatureRow.job_id) & (JobRow.version == SignatureRow.version)
    signed = select(JobRow.id, SignatureRow.document).join(SignatureRow, newest).where(JobRow.id.in_(ids))
    last = {row[0]: row[1] for row in session.execute(signed.order_by(SignatureRow.number))}
    query = select(BuildEntryRow).where(BuildEntryRow.job_id.in_(last), BuildEntryRow.procedure == PROVE)
    since: defaultdict[int, list[Entry]] = defaultdict(list)
    for row in session.scalars(query.where(BuildEntryRow.step.in_((CURE, VISIT)))):
        since[row.job_id].append(entry_of(row))
    return {job_id for job_id, document in last.items() if not (since[job_id] and _taken_up(document, since[job_id]))}


def _taken_up(document: str, noted: Sequence[Entry]) -> bool:
    """Whether work was taken up again after a signature; one that cannot be read any more stands."""
    try:
        return bool(since_signed(Signature.model_validate_json(document), progress_of(noted)))
    except ValidationError:
        return False


class Noted:
    """Logs of jobs, their readings judged by certain meters. Entries are only ever added, so their number tells them apart."""

    def __init__(self, meters: Mapping[str, Accuracy]) -> None:
        """Judge by `meters`, accuracy by unit."""
        self._meters = meters
        told = repr(sorted(meters.items(), key=lambda item: item[0]))
        self._digest = hashlib.sha256(told.encode()).hexdigest()[:12]

    def key(self, count: int) -> str:
        """What a card made from so many entries bears; empty for none."""
        return f"{count}:{self._digest}" if count else ""

    def key_in_query(self) -> ColumnElement[str]:
        """The same of each job of a query over jobs."""
        count = select(func.count()).where(BuildEntryRow.job_id == JobRow.id).correlate(JobRow).scalar_subquery()
        return func.coalesce(cast(func.nullif(count, 0), String) + literal(f":{self._digest}"), "")

    def keys(self, session: Session, ids: Sequence[int]) -> dict[int, str]:
        """The same of some jobs; of those at which something was noted."""
        query = select(BuildEntryRow.job_id, func.count()).where(BuildEntryRow.job_id.in_(ids))
        return {row[0]: self.key(row[1]) for row in session.execute(query.group_by(BuildEntryRow.job_id))}

    def logs(self, session: Session, ids: Sequence[int]) -> dict[int, Log]:
        """What was noted of some jobs; of those at which something was. What is signed off is done, whatever was noted."""
        keys = self.keys(session, ids)
        query = select(BuildEntryRow).where(BuildEntryRow.job_id.in_(keys.keys() - vouched(session, list(keys))))
        by_job: defaultdict[int, list[Entry]] = defaultdict(list)
        for row in session.scalars(query.order_by(BuildEntryRow.received_at, BuildEntryRow.id)):
            by_job[row.job_id].append(entry_of(row))
        return {job_id: Log(tuple(by_job[job_id]), self._meters, key) for job_id, key in keys.items()}
