"""What goes over the wire around the core's own models."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field

from olvask.core.assessment import UnitVerdict
from olvask.core.model import Charger, Design
from olvask.core.model.base import Described
from olvask.core.model.faults import Fault
from olvask.core.model.shelf import ShelfAlternator, ShelfBattery
from olvask.store.jobs import Heading, Job


class Out(BaseModel):
    """Something answered."""

    model_config = ConfigDict(frozen=True)


class Problem(Out):
    """Problem details, RFC 9457."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    faults: tuple[Fault, ...] = ()


class HeadingIn(Described):
    """What a job is called."""

    title: str = Field(title="Title", min_length=1, max_length=120)
    code: str = Field("", title="Job number", max_length=40)
    customer: str = Field("", title="Customer", max_length=120)

    def heading(self) -> Heading:
        """As the store takes it."""
        return Heading(self.title, self.code, self.customer)


class NewJob(HeadingIn):
    """A job to begin; without a design it starts from the defaults."""

    design: Design | None = None


class SaveJob(HeadingIn):
    """A new revision and the version it was made from."""

    based_on: int = Field(title="Based on version", ge=1)
    design: Design


class JobOut(Out):
    """One revision of a job."""

    id: int
    title: str
    code: str
    customer: str
    version: int
    saved_at: datetime
    design: Design

    @classmethod
    def of(cls, job: Job) -> JobOut:
        """From the store's job."""
        head = job.heading
        return cls(
            id=job.id,
            title=head.title,
            code=head.code,
            customer=head.customer,
            version=job.version,
            saved_at=job.saved_at,
            design=job.design,
        )


class StaleProblem(Problem):
    """A refused save, with what is stored."""

    stored: JobOut


class Saved(Out):
    """A save that went through."""

    version: int
    saved_at: datetime


class JobCard(Out):
    """A job in the yard."""

    id: int
    title: str
    code: str
    customer: str
    version: int
    saved_at: datetime
    vehicle: str
    unit: str
    stops: int
    cautions: int
    next_stage: str
    next_action: str


class Yard(Out):
    """All jobs."""

    jobs: tuple[JobCard, ...]


class RevisionOut(Out):
    """A revision without its design."""

    version: int
    saved_at: datetime
    title: str


class Revisions(Out):
    """Every revision of a job, newest first."""

    revisions: tuple[RevisionOut, ...]


class LadderIn(Described):
    """Which cable to put on the size ladder."""

    place: str = Field(max_length=40)
    design: Design


class Verdicts(Out):
    """Every unit of the shelf judged."""

    units: tuple[UnitVerdict, ...]


class SizeOut(Out):
    """A standard size."""

    size: str
    system: str
    area_mm2: float


class FamilyOut(Out):
    """A device family and its ratings."""

    family: str
    label: str
    ratings_a: tuple[float, ...]
    source: str


class CatalogueOut(Out):
    """Standard sizes, ratings and the shelf."""

    sizes: tuple[SizeOut, ...]
    families: tuple[FamilyOut, ...]
    chargers: tuple[Charger, ...]
    batteries: tuple[ShelfBattery, ...]
    alternators: tuple[ShelfAlternator, ...]
    blank: Design = Field(description="what a new job starts from")
