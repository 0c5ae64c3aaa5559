"""Tables. A job points at its newest revision by number; revisions are never changed."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import ClassVar

from sqlalchemy import DateTime, Dialect, Float, ForeignKey, LargeBinary, String, Text, false
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator


class Moment(TypeDecorator[datetime]):
    """A moment in UTC: stored without a zone, read with it."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Into the table."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Out of it."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Declarative base."""

    type_annotation_map: ClassVar = {datetime: Moment}


class JobRow(Base):
    """One vehicle's job."""

    __tablename__ = "job"

    id: Mapped[int] = mapped_column(primary_key=True)
    code: Mapped[str] = mapped_column(String(40))
    title: Mapped[str] = mapped_column(String(120))
    customer: Mapped[str] = mapped_column(String(120))
    version: Mapped[int]
    created_at: Mapped[datetime]
    saved_at: Mapped[datetime] = mapped_column(index=True)
    archived: Mapped[bool] = mapped_column(default=False, server_default=false())
    template: Mapped[bool] = mapped_column(default=False, server_default=false())
    service_due: Mapped[str] = mapped_column(String(10), default="", server_default="")  # ISO 8601 date; empty for none


class CardRow(Base):
    """What the yard shows of a job, as its version was judged by certain rules."""

    __tablename__ = "card"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int]
    rules: Mapped[str] = mapped_column(String(16))
    size: Mapped[int]  # characters of the design it was made from: one changed underneath is noticed
    vehicle: Mapped[str] = mapped_column(String(80))
    unit: Mapped[str] = mapped_column(String(80))
    unit_id: Mapped[str] = mapped_column(String(60))
    battery: Mapped[str] = mapped_column(String(80))
    alternator: Mapped[str] = mapped_column(String(80))
    stops: Mapped[int]
    cautions: Mapped[int]
    next_stage: Mapped[str] = mapped_column(String(20))
    next_action: Mapped[str] = mapped_column(String(200))
    spoilt: Mapped[str] = mapped_column(String(400))
    sought: Mapped[str] = mapped_column(
        String(400), default="", server_default=""
    )  # what a job is found by, small letters
    line: Mapped[str] = mapped_column(String(60), default="", server_default="")  # volts at hot idle, along the line
    # Stops and cautions as they were found when the job was saved, and what other rules find otherwise.
    findings: Mapped[str] = mapped_column(Text, default="?", server_default="?")
    changed: Mapped[str] = mapped_column(Text, default="", server_default="")
    noted: Mapped[str] = mapped_column(String(24), default="", server_default="")  # how much, and read by which meters


class RevisionRow(Base):
    """One saved state of a job: title and all, and its design as a document."""

    __tablename__ = "revision"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    code: Mapped[str] = mapped_column(String(40))
    title: Mapped[str] = mapped_column(String(120))
    customer: Mapped[str] = mapped_column(String(120))
    saved_at: Mapped[datetime]
    design: Mapped[str] = mapped_column(Text)
    by: Mapped[str] = mapped_column(String(80), default="", server_default="")


class ShelfRow(Base):
    """One thing on the shelf; retired ones stay, since old jobs speak of them."""

    __tablename__ = "shelf_item"

    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    id: Mapped[str] = mapped_column(String(60), primary_key=True)
    version: Mapped[int]
    retired: Mapped[bool]
    saved_at: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class OptionRow(Base):
    """A variant of a job kept beside its design."""

    __tablename__ = "option"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    kept_at: Mapped[datetime]
    design: Mapped[str] = mapped_column(Text)


class BuildEntryRow(Base):
    """One thing noted at a step of the work; never changed."""

    __tablename__ = "build_entry"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    procedure: Mapped[str] = mapped_column(String(80))
    step: Mapped[str] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(12))
    text: Mapped[str] = mapped_column(String(400))
    value: Mapped[float | None] = mapped_column(Float)
    unit: Mapped[str] = mapped_column(String(8))
    photo: Mapped[str] = mapped_column(String(64))
    by: Mapped[str] = mapped_column(String(12))
    at: Mapped[datetime]
    received_at: Mapped[datetime]


class PhotographRow(Base):
    """A photograph as it was made anew here, under the hash of what it holds."""

    __tablename__ = "photograph"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), primary_key=True)
    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    taken_in: Mapped[datetime]
    picture: Mapped[bytes] = mapped_column(LargeBinary)
    thumbnail: Mapped[bytes] = mapped_column(LargeBinary)


class QuoteRow(Base):
    """A quote as it was given."""

    __tablename__ = "quote"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    made_at: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class InstrumentRow(Base):
    """A meter or a bench supply of the workshop."""

    __tablename__ = "instrument"

    id: Mapped[int] = mapped_column(primary_key=True)
    document: Mapped[str] = mapped_column(Text)


class PersonRow(Base):
    """Somebody who works here."""

    __tablename__ = "person"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    initials: Mapped[str] = mapped_column(String(12))
    role: Mapped[str] = mapped_column(String(10))
    active: Mapped[bool]
    password: Mapped[str] = mapped_column(String(200))  # Argon2id
    slips: Mapped[int]  # wrong passwords in a row
    locked_until: Mapped[datetime | None]


class SessionRow(Base):
    """A device somebody is signed in with."""

    __tablename__ = "session"

    id: Mapped[int] = mapped_column(primary_key=True)
    token: Mapped[str] = mapped_column(String(64), unique=True)  # hash of its secret
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"), index=True)
    device: Mapped[str] = mapped_column(String(80))
    made_at: Mapped[datetime]
    seen_at: Mapped[datetime]


class JoinCodeRow(Base):
    """A one-time code: for a device of somebody's, or for somebody new."""

    __tablename__ = "join_code"

    code: Mapped[str] = mapped_column(String(64), primary_key=True)  # its hash
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id", ondelete="CASCADE"))
    role: Mapped[str] = mapped_column(String(10))
    name: Mapped[str] = mapped_column(String(80))
    initials: Mapped[str] = mapped_column(String(12))
    expires_at: Mapped[datetime]


class DeedRow(Base):
    """Who did what; outlives the job."""

    __tablename__ = "deed"

    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime]
    person: Mapped[str] = mapped_column(String(80))
    what: Mapped[str] = mapped_column(String(200))
    job_id: Mapped[int | None] = mapped_column(index=True)


class HouseRow(Base):
    """The house rules: one row."""

    __tablename__ = "house"

    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    saved_at: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)


class SignatureRow(Base):
    """A revision that was signed off; never changed."""

    __tablename__ = "signature"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    version: Mapped[int]
    document: Mapped[str] = mapped_column(Text)


class LogKindRow(Base):
    """How one kind of log is read, known by its column names."""

    __tablename__ = "log_kind"

    id: Mapped[int] = mapped_column(primary_key=True)
    signature: Mapped[str] = mapped_column(String(64), unique=True)
    document: Mapped[str] = mapped_column(Text)


class DeviceLogRow(Base):
    """A log that was taken in: what it is, and its columns packed."""

    __tablename__ = "device_log"

    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id", ondelete="CASCADE"), index=True)
    taken_at: Mapped[datetime]
    document: Mapped[str] = mapped_column(Text)
    columns: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)


class PracticeAttemptRow(Base):
    """An exercise done."""

    __tablename__ = "practice_attempt"

    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime]
    by: Mapped[str] = mapped_column(String(80), index=True)
    name: Mapped[str] = mapped_column(String(40), index=True)
    right: Mapped[bool]
    score: Mapped[int]
    minutes: Mapped[float] = mapped_column(Float)
    price: Mapped[float] = mapped_column(Float)
    document: Mapped[str] = mapped_column(Text)


class PracticeSetRow(Base):
    """A set of exercises."""

    __tablename__ = "practice_set"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    made_at: Mapped[datetime]
    items: Mapped[str] = mapped_column(Text)
