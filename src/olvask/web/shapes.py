"""What goes over the wire around the core's own models."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from olvask.core.analyses.tolerance import Tolerances
from olvask.core.findings.assessment import ToleranceCures, ToleranceReport, TripReport, UnitVerdict, Unknown
from olvask.core.model import Charger, Design
from olvask.core.model.base import Described, quantity
from olvask.core.model.entry_errors import Fault
from olvask.core.model.form import FormField
from olvask.core.model.shelf import ShelfAlternator, ShelfBattery
from olvask.documents.shelf_file import RowFault
from olvask.store.jobs import Heading, Job
from olvask.store.options import Option


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

    title: str = Field(title="Vehicle", min_length=1, max_length=120)
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


class BuyingIn(Described):
    """A design to cut and buy for."""

    code: str = Field("", title="Job number", max_length=40)
    design: Design


class TripIn(Described):
    """A design and the day to drive it through."""

    programme: str = Field(title="Programme", max_length=20000)
    samples: int = Field(400, title="Samples", ge=2, le=5000)
    design: Design


USUAL = Tolerances()


class ToleranceFields(Described):
    """How far vehicles differ; volts per 12 V."""

    meter_v: float = quantity("Meter of the survey", "V", default=USUAL.meter_v, ge=0, le=1, example=0.05)
    threshold_v: float = quantity("The unit's own thresholds", "V", default=USUAL.threshold_v, ge=0, le=1, example=0.05)
    alternator_v: float = quantity("Alternator and regulator", "V", default=USUAL.alternator_v, ge=0, le=2, example=0.2)
    rest_v: float = quantity("Rest volts", "V", default=USUAL.rest_v, ge=0, le=1, example=0.1)
    age: float = quantity("Battery's resistance grows by", "×", default=USUAL.age, ge=0, le=5, example=1)
    coldest_c: float = quantity("Coldest day", "°C", default=USUAL.coldest_c, ge=-50, le=30, example=-10)
    joint_mohm: float = quantity("Joints gain up to", "mΩ", default=USUAL.joint_mohm, ge=0, le=100, example=6)


class ToleranceIn(ToleranceFields):
    """A design, how many vehicles, and how far they differ."""

    vehicles: int = Field(1000, title="Vehicles", ge=50, le=5000)
    design: Design

    @property
    def tolerances(self) -> Tolerances:
        """How far they differ, as the core takes it."""
        return Tolerances(**{name: getattr(self, name) for name in Tolerances.__slots__})


class TripProgress(Out):
    """One line of a long answer: the share done, or at the end the report."""

    done: float = Field(description="0 to 1")
    report: TripReport | None = None


class ToleranceProgress(Out):
    """One line of a long answer: the share done, or at the end the report."""

    done: float = Field(description="0 to 1")
    report: ToleranceReport | None = None


class CuresProgress(Out):
    """One line of a long answer: the share done, or at the end what would cut the share at fault."""

    done: float = Field(description="0 to 1")
    report: ToleranceCures | None = None


class Programmes(Out):
    """Programmes to begin with, by name."""

    programmes: dict[str, str]


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


class FitIn(Described):
    """Which unit to fit."""

    unit: str = Field(title="Unit", max_length=60)
    design: Design


class FitOut(Out):
    """A design with a unit fitted."""

    design: Design


class Unknowns(Out):
    """What is still unknown."""

    unknowns: tuple[Unknown, ...]


class Variant(Described):
    """One variant to compare."""

    name: str = Field(title="Option", min_length=1, max_length=80)
    design: Design


class CompareIn(Described):
    """Variants to compare."""

    variants: tuple[Variant, ...] = Field(title="Options", min_length=2, max_length=4)


class KeepOption(Variant):
    """A variant to keep beside the design."""


class OptionOut(Out):
    """A kept variant."""

    id: int
    name: str
    kept_at: datetime
    design: Design

    @classmethod
    def of(cls, option: Option) -> OptionOut:
        """From the store's option."""
        return cls(id=option.id, name=option.name, kept_at=option.kept_at, design=option.design)


class Options(Out):
    """Kept variants of a job, oldest first."""

    options: tuple[OptionOut, ...]


class ItemOut(Out):
    """One thing on the shelf."""

    id: str
    version: int
    retired: bool
    saved_at: datetime
    used_in: int = Field(description="how many jobs hold it")
    document: dict[str, Any]


class ShelfPage(Out):
    """Everything on one shelf."""

    kind: str
    items: tuple[ItemOut, ...]


class ShelfForm(Out):
    """The fields of one kind of item."""

    fields: tuple[FormField, ...]


class PutItem(Described):
    """An item to store; `based_on` is absent for a new one."""

    based_on: int | None = Field(None, title="Based on version", ge=1)
    document: dict[str, Any]


class RetireItem(Described):
    """Out of use, or back."""

    retired: bool


class TakenOut(Out):
    """What a file holds and what taking it does."""

    rows: int
    good: int
    bad_rows: int
    faults: tuple[RowFault, ...]
    new: int
    changed: int
    same: int
    stored: bool
