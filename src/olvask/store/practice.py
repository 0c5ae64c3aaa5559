"""What was practised: attempts by person, and sets of exercises that a teacher fixed by their numbers.

- `Attempt`, `ExerciseSet`: as they are kept.
- `PracticeStore`: those of one database.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from olvask.store.engine import Database
from olvask.store.jobs import utc_now
from olvask.store.schema import PracticeAttemptRow, PracticeSetRow

MOST_SETS, MOST_TOLD = 200, 2000  # sets kept, attempts told at once; our own estimates


class NoSuchSet(LookupError):
    """There is no set of that number."""


class SetExists(ValueError):
    """There is a set of that name, or there are as many as are kept."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Attempt:
    """One exercise done.

    Attributes:
        at: when.
        by: who, by name or initials.
        name: of the exercise, such as `case 3-17` or `size 4`.
        right: whether it was solved.
        score: 0 to 100.
        minutes: spent, of the vehicle's own time; 0 for a drill.
        price: spent on parts [€].
        document: the course or the answer as JSON.
    """

    at: datetime
    by: str
    name: str
    right: bool
    score: int
    minutes: float
    price: float
    document: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ExerciseSet:
    """Exercises that a teacher fixed, by their names."""

    id: int
    name: str
    made_at: datetime
    items: tuple[str, ...]


class PracticeStore:
    """Practice in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def note(self, by: str, name: str, right: bool, score: int, minutes: float, price: float, document: str) -> Attempt:
        """Keep an attempt; the same course of the same person once more is the one that is kept.

        Args:
            by: who did it.
            name: of the exercise.
            right: whether it was solved.
            score: 0 to 100.
            minutes: spent.
            price: spent on parts [€].
            document: the course or the answer as JSON.
        """
        attempt = Attempt(
            at=self._now(), by=by, name=name, right=right, score=score, minutes=minutes, price=price, document=document
        )
        row = PracticeAttemptRow
        same = select(row.id).where(row.by == by, row.name == name, row.document == document, row.right == right)
        with self._database.writing() as session:
            if session.scalars(same.limit(1)).first() is not None:
                return attempt
            session.add(PracticeAttemptRow(**{key: getattr(attempt, key) for key in Attempt.__slots__}))
        return attempt

    def attempts(self, by: str = "", names: Sequence[str] = ()) -> list[Attempt]:
        """What was done, newest first.

        Args:
            by: whose; everybody's where left out.
            names: of which exercises; any where left out.
        """
        query = select(PracticeAttemptRow).order_by(PracticeAttemptRow.at.desc(), PracticeAttemptRow.id.desc())
        if by:
            query = query.where(PracticeAttemptRow.by == by)
        if names:
            query = query.where(PracticeAttemptRow.name.in_(list(names)))
        with self._database.reading() as session:
            rows = session.scalars(query.limit(MOST_TOLD))
            return [Attempt(**{key: getattr(row, key) for key in Attempt.__slots__}) for row in rows]

    def sets(self) -> list[ExerciseSet]:
        """Every set, by name."""
        with self._database.reading() as session:
            return [_set(row) for row in session.scalars(select(PracticeSetRow).order_by(PracticeSetRow.name))]

    def set(self, set_id: int) -> ExerciseSet:
        """A set by its number.

        Raises:
            NoSuchSet: there is none.
        """
        with self._database.reading() as session:
            row = session.get(PracticeSetRow, set_id)
            if row is None:
                raise NoSuchSet(f"no set {set_id}")
            return _set(row)

    def fix(self, name: str, items: Sequence[str]) -> ExerciseSet:
        """Keep a set.

        Args:
            name: what it is called.
            items: names of its exercises.

        Raises:
            SetExists: there is one of that name, or as many as are kept.
        """
        with self._database.writing() as session:
            there = list(session.scalars(select(PracticeSetRow.name)))
            if name in there:
                raise SetExists(f"a set is called “{name}” already; choose another name")
            if len(there) >= MOST_SETS:
                raise SetExists(f"{MOST_SETS} sets are kept already; take one out first")
            row = PracticeSetRow(name=name, made_at=self._now(), items=json.dumps(list(items)))
            session.add(row)
            session.flush()
            return _set(row)

    def drop(self, set_id: int) -> None:
        """Take a set out; what was done of it stays.

        Raises:
            NoSuchSet: there is none.
        """
        with self._database.writing() as session:
            row = session.get(PracticeSetRow, set_id)
            if row is None:
                raise NoSuchSet(f"no set {set_id}")
            session.delete(row)


def _set(row: PracticeSetRow) -> ExerciseSet:
    return ExerciseSet(id=row.id, name=row.name, made_at=row.made_at, items=tuple(json.loads(row.items)))
