"""Who works here: people, what they signed in with, one-time codes by which a person or a phone joins, and who did what.

Passwords are kept as Argon2id hashes (RFC 9106), sessions and codes as SHA-256 hashes of 32 random bytes: what is read off
the database opens nothing.

- `PeopleStore`: all of it, in one database.
"""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from olvask.store.engine import Database
from olvask.store.faults import StorageFault
from olvask.store.jobs import utc_now
from olvask.store.passwords import CannotJoin, check_new, fits, hashed
from olvask.store.schema import DeedRow, JoinCodeRow, PersonRow, SessionRow

Role = Literal["owner", "fitter"]
ROLES: dict[Role, str] = {"owner": "owner", "fitter": "fitter"}
# Our own estimates, in the spirit of NIST SP 800-63B: a handful of slips cost nothing, a guesser gets nowhere.
SLIPS, FIRST_LOCK_S, MOST_LOCK_S = 5, 30.0, 900.0
UNUSED = timedelta(days=14)
CODE_LASTS = timedelta(minutes=15)
INVITATION_LASTS = timedelta(days=3)
MOST_PEOPLE, MOST_SESSIONS, MOST_DEEDS = 200, 40, 200_000
USED_UP = "this code is used up or too old; ask for a new one"
TOUCH_S = 300.0  # a session's last use is noted so often, not at every request


class NoSuchPerson(LookupError):
    """There is nobody of that number."""


class SignInRefused(RuntimeError):
    """Name and password do not fit, or too many did not; `wait_s` says how long to wait."""

    def __init__(self, wait_s: float) -> None:
        super().__init__("name and password do not fit")
        self.wait_s = wait_s


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody who works here."""

    id: int
    name: str
    initials: str
    role: Role
    active: bool


@dataclass(frozen=True, slots=True)
class SignedIn:
    """A device somebody is signed in with."""

    id: int
    person_id: int
    device: str
    made_at: datetime
    seen_at: datetime


@dataclass(frozen=True, slots=True)
class Deed:
    """Who did what, and when."""

    at: datetime
    person: str
    what: str
    job_id: int | None


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


class PeopleStore:
    """People, sessions, codes and deeds in one database."""

    def __init__(self, database: Database, now: Callable[[], datetime] = utc_now) -> None:
        """Use `database`; `now` gives the time in UTC."""
        self._database = database
        self._now = now

    def all(self) -> list[Person]:
        """Everybody, by name."""
        with self._database.reading() as session:
            return [_person(row) for row in session.scalars(select(PersonRow).order_by(PersonRow.name))]

    def has_owner(self) -> bool:
        """Whether somebody can sign in as an owner."""
        with self._database.reading() as session:
            return _owners(session) > 0

    def sign_in(self, name: str, password: str, device: str) -> tuple[Person, str]:
        """Sign somebody in: who it is, and the secret of the session.

        Args:
            name: as they are called here.
            password: theirs.
            device: what they sign in with.

        Raises:
            SignInRefused: they do not fit, or too many were tried.
        """
        with self._database.reading() as session:
            row = _named(session, name)
            found = None if row is None or not row.active else (row.id, row.password, row.locked_until)
        if found is not None and found[2] is not None and found[2] > self._now():
            raise SignInRefused((found[2] - self._now()).total_seconds())
        if not fits(found[1] if found is not None else "", password) or found is None:
            raise SignInRefused(0.0 if found is None else self._slipped(found[0]))
        with self._database.writing() as session:
            row = session.get(PersonRow, found[0])
            if row is None or not row.active:
                raise SignInRefused(0.0)
            row.slips, row.locked_until = 0, None
            return _person(row), self._begun(session, row, device)

    def _slipped(self, person: int) -> float:
        """Count a wrong password; how long to wait before the next [s]."""
        with self._database.writing() as session:
            row = session.get(PersonRow, person)
            if row is None:
                return 0.0
            row.slips += 1
            if row.slips < SLIPS:
                return 0.0
            wait_s = min(MOST_LOCK_S, FIRST_LOCK_S * 2.0 ** (row.slips - SLIPS))
            row.locked_until = self._now() + timedelta(seconds=wait_s)
            return wait_s

    def _begun(self, session: Session, row: PersonRow, device: str) -> str:
        token = secrets.token_urlsafe(32)
        now = self._now()
        own = select(SessionRow.id).where(SessionRow.person_id == row.id).order_by(SessionRow.seen_at.desc())
        old = list(session.scalars(own))[MOST_SESSIONS - 1 :]
        session.execute(delete(SessionRow).where(SessionRow.id.in_(old)))
        session.add(SessionRow(token=_hashed(token), person_id=row.id, device=device[:80], made_at=now, seen_at=now))
        return token

    def who(self, token: str) -> tuple[Person, int] | None:
        """Who a session is, and its number; `None` where it is not one, or not any more.

        Args:
            token: its secret.
        """
        with self._database.reading() as session:
            row = session.scalar(select(SessionRow).where(SessionRow.token == _hashed(token)))
            person = None if row is None else session.get(PersonRow, row.person_id)
            if row is None or person is None or not person.active or self._now() - row.seen_at > UNUSED:
                return None
            found, stale = (_person(person), row.id), (self._now() - row.seen_at).total_seconds() > TOUCH_S
        if stale:
            with suppress(StorageFault), self._database.writing() as session:  # noted the next time, then
                again = session.get(SessionRow, found[1])
                if again is not None:
                    again.seen_at = self._now()
        return found

    def sign_out(self, number: int, person: int | None = None) -> None:
        """End a session.

        Args:
            number: of the session.
            person: whose it must be; `None` for anybody's.

        Raises:
            NoSuchPerson: there is none of that number, or it is somebody else's.
        """
        with self._database.writing() as session:
            row = session.get(SessionRow, number)
            if row is None or (person is not None and row.person_id != person):
                raise NoSuchPerson(f"no device {number} signed in")
            session.delete(row)

    def sessions(self, person: int | None = None) -> list[SignedIn]:
        """Devices signed in, the last used first.

        Args:
            person: whose; `None` for everybody's.
        """
        with self._database.reading() as session:
            query = select(SessionRow).order_by(SessionRow.seen_at.desc())
            rows = session.scalars(query if person is None else query.where(SessionRow.person_id == person))
            return [SignedIn(row.id, row.person_id, row.device, row.made_at, row.seen_at) for row in rows]

    def invite(self, role: Role, name: str = "", initials: str = "") -> str:
        """A one-time code by which somebody new joins.

        Args:
            role: what they may do.
            name: as they will be called; they choose it themselves where it is empty.
            initials: theirs.

        Raises:
            CannotJoin: somebody is called so already, or there are as many as can be.
        """
        with self._database.writing() as session:
            self._room(session, name)
            return self._code(session, INVITATION_LASTS, role=role, name=name.strip(), initials=initials.strip())

    def code_for(self, person: int) -> str:
        """A one-time code by which a device of somebody's joins.

        Args:
            person: whose.

        Raises:
            NoSuchPerson: there is nobody of that number.
        """
        with self._database.writing() as session:
            row = session.get(PersonRow, person)
            if row is None or not row.active:
                raise NoSuchPerson(f"nobody of number {person}")
            return self._code(session, CODE_LASTS, person_id=person, role=row.role, name="", initials="")

    def _code(self, session: Session, lasts: timedelta, **more: object) -> str:
        code = secrets.token_urlsafe(24)
        session.execute(delete(JoinCodeRow).where(JoinCodeRow.expires_at < self._now()))
        session.add(JoinCodeRow(code=_hashed(code), expires_at=self._now() + lasts, **more))
        return code

    def _room(self, session: Session, name: str) -> None:
        if name and _named(session, name) is not None:
            raise CannotJoin(f"somebody is called {name.strip()} here already; choose another name")
        if (session.scalar(select(func.count()).select_from(PersonRow)) or 0) >= MOST_PEOPLE:
            raise CannotJoin(f"{MOST_PEOPLE} people are known here already")

    def look(self, code: str) -> tuple[bool, str, Role]:
        """What a code is for: whether for somebody new, their name, what they may do.

        Args:
            code: as it was given.

        Raises:
            CannotJoin: it is used up, too old or none.
        """
        with self._database.reading() as session:
            row = session.get(JoinCodeRow, _hashed(code))
            if row is None or row.expires_at < self._now():
                raise CannotJoin(USED_UP)
            person = session.get(PersonRow, row.person_id) if row.person_id is not None else None
            name = person.name if person is not None else row.name
            return person is None, name, "owner" if row.role == "owner" else "fitter"

    def join(
        self, code: str, device: str, name: str = "", initials: str = "", password: str = ""
    ) -> tuple[Person, str]:
        """Use a code, once: who joined, and the secret of the session.

        Args:
            code: as it was given.
            device: what they join with.
            name: of somebody new.
            initials: theirs.
            password: theirs.

        Raises:
            CannotJoin: the code is used up, too old or none, or what goes with it does not do.
        """
        with self._database.reading() as session:
            row = session.get(JoinCodeRow, _hashed(code))
            fresh = row is not None and row.person_id is None
            if row is None or row.expires_at < self._now():
                raise CannotJoin(USED_UP)
            called = (name.strip() or row.name, initials.strip() or row.initials)
        secret = ""
        if fresh:
            check_new(called[0], password)
            secret = hashed(password)
        with self._database.writing() as session:
            row = session.get(JoinCodeRow, _hashed(code))
            if row is None:
                raise CannotJoin(USED_UP)
            session.delete(row)
            if row.person_id is None:
                self._room(session, called[0])
                person = PersonRow(
                    name=called[0], initials=_initials(*called), role=row.role, active=True, password=secret, slips=0
                )
                session.add(person)
                session.flush()
            else:
                known = session.get(PersonRow, row.person_id)
                if known is None or not known.active:
                    raise CannotJoin("whoever this code was for does not work here any more")
                person = known
            return _person(person), self._begun(session, person, device)

    def change_password(self, person: int, password: str, keep: int) -> None:
        """Give somebody another password; every session but one ends.

        Args:
            person: whose.
            password: the new one.
            keep: number of the session that stays.

        Raises:
            CannotJoin: it is too short.
            NoSuchPerson: there is nobody of that number.
        """
        check_new("somebody", password)
        secret = hashed(password)
        with self._database.writing() as session:
            row = session.get(PersonRow, person)
            if row is None:
                raise NoSuchPerson(f"nobody of number {person}")
            row.password, row.slips, row.locked_until = secret, 0, None
            session.execute(delete(SessionRow).where(SessionRow.person_id == person, SessionRow.id != keep))

    def set_role(self, person: int, role: Role, active: bool) -> Person:
        """What somebody may do, and whether they work here; whoever does not is signed out everywhere.

        Args:
            person: whose.
            role: what they may do.
            active: whether they work here.

        Raises:
            CannotJoin: nobody would be left who could change it back.
            NoSuchPerson: there is nobody of that number.
        """
        with self._database.writing() as session:
            row = session.get(PersonRow, person)
            if row is None:
                raise NoSuchPerson(f"nobody of number {person}")
            row.role, row.active = role, active
            session.flush()
            if not _owners(session):
                raise CannotJoin("one owner has to stay; make somebody else an owner first")
            if not active:
                session.execute(delete(SessionRow).where(SessionRow.person_id == person))
                session.execute(delete(JoinCodeRow).where(JoinCodeRow.person_id == person))
            return _person(row)

    def note(self, person: str, what: str, job_id: int | None) -> None:
        """Keep who did what; the oldest give way.

        Args:
            person: by name.
            what: in words.
            job_id: on which job.
        """
        with self._database.writing() as session:
            row = DeedRow(at=self._now(), person=person, what=what[:200], job_id=job_id)
            session.add(row)
            session.flush()
            if row.id % 1000 == 0:
                session.execute(delete(DeedRow).where(DeedRow.id <= row.id - MOST_DEEDS))

    def deeds(self, begin: int = 0, rows: int = 100, job_id: int | None = None) -> tuple[int, list[Deed]]:
        """Who did what, the latest first: how many there are, and a part of them.

        Args:
            begin: rows passed over.
            rows: rows at most.
            job_id: of one job alone; `None` for all.
        """
        with self._database.reading() as session:
            query = select(DeedRow) if job_id is None else select(DeedRow).where(DeedRow.job_id == job_id)
            total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
            found = session.scalars(query.order_by(DeedRow.id.desc()).offset(begin).limit(rows))
            return total, [Deed(row.at, row.person, row.what, row.job_id) for row in found]


def _initials(name: str, initials: str) -> str:
    return initials[:12] or "".join(word[0] for word in name.split())[:12].upper()


def _named(session: Session, name: str) -> PersonRow | None:
    return session.scalar(select(PersonRow).where(func.lower(PersonRow.name) == name.strip().lower()))


def _owners(session: Session) -> int:
    query = select(func.count()).select_from(PersonRow).where(PersonRow.role == "owner", PersonRow.active)
    return session.scalar(query) or 0


def _person(row: PersonRow) -> Person:
    return Person(row.id, row.name, row.initials, "owner" if row.role == "owner" else "fitter", row.active)
