"""The yard: jobs, their revisions and kept options, and job files in and out."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from flask import Response, request
from pydantic import Field

from olvask.core.analyses.next_vehicle import next_vehicle
from olvask.core.findings.finding import Stage
from olvask.core.model import Alternator, Design, Vehicle
from olvask.core.model.base import Described, tick
from olvask.core.model.house import begin_with
from olvask.documents.job_file import JobFile, read_job_file, write_job_file
from olvask.store.cards import MOST_ROWS, CardedJob, Heading, Order, Stands, Wanted
from olvask.store.jobs import Job, UnreadableJob
from olvask.store.options import Option
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import Out
from olvask.web.signing_in import person_name

STAGE_LABEL: dict[Stage, str] = {
    "survey": "Survey",
    "match": "Match",
    "run": "Run",
    "wake": "Wake",
    "settings": "Settings",
    "build": "Build",
    "prove": "Prove",
    "handover": "Hand over",
}


MOST_VERSIONS = 2**53  # what a browser counts to


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

    based_on: int = Field(title="Based on version", ge=1, le=MOST_VERSIONS)
    design: Design


class Headed(Out):
    """What a job is called, and how far it is saved."""

    id: int
    title: str
    code: str
    customer: str
    version: int
    saved_at: datetime


def _headed(job: Job) -> dict[str, Any]:
    head = job.heading
    return {
        "id": job.id,
        "title": head.title,
        "code": head.code,
        "customer": head.customer,
        "version": job.version,
        "saved_at": job.saved_at,
    }


class JobOut(Headed):
    """One revision of a job."""

    design: Design

    @classmethod
    def of(cls, job: Job) -> JobOut:
        """From the store's job."""
        return cls(**_headed(job), design=job.design)


class Saved(Out):
    """A save that went through."""

    version: int
    saved_at: datetime


class JobCard(Headed):
    """A job in the yard."""

    vehicle: str = ""
    unit: str = ""
    stops: int = 0
    cautions: int = 0
    next_stage: str = STAGE_LABEL["survey"]
    next_action: str = ""
    changed: tuple[str, ...] = Field(
        (), description="what other rules find otherwise since it was saved: + or −, then the title"
    )
    spoilt: str = Field("", description="why the job cannot be read or judged; empty where it can")
    line: tuple[float, ...] = Field(
        (), description="volts at hot idle: start battery, input, output, auxiliary battery"
    )
    archived: bool = False
    template: bool = False
    service_due: str = Field("", description="ISO 8601 date; empty for none")
    signed: bool = Field(False, description="whether the newest revision is signed off")


class ShelveIn(Described):
    """Whether a job is put away, and whether it is a template."""

    archived: bool = tick("Archived")
    template: bool = tick("A template for new jobs")


class ShelvedOut(Out):
    """How a job is kept."""

    archived: bool
    template: bool
    service_due: str


class YardQuery(Described):
    """Which part of the yard."""

    sought: str = Field("", title="Find", max_length=120, description="words in vehicle, number, customer or unit")
    stands: Stands = Field("", title="Stands at")
    order: Order = Field("saved", title="Order")
    begin: int = Field(0, title="From row", ge=0, le=10_000_000)
    rows: int = Field(50, title="Rows", ge=1, le=MOST_ROWS)


class Yard(Out):
    """A part of the yard, and how many jobs answer to what was sought."""

    total: int
    jobs: tuple[JobCard, ...]


class RevisionOut(Out):
    """A revision without its design."""

    version: int
    saved_at: datetime
    title: str
    by: str = Field(description="who saved it; empty where nobody was asked")


class Revisions(Out):
    """Every revision of a job, newest first."""

    revisions: tuple[RevisionOut, ...]


class Variant(Described):
    """One variant to compare."""

    name: str = Field(title="Option", min_length=1, max_length=80)
    design: Design


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


def blank_design() -> Design:
    """What a new job starts from: a 12 V engine vehicle, everything else open."""
    return Design(vehicle=Vehicle(alternator=Alternator(rated_a=120.0)))


def _row(job: CardedJob) -> JobCard:
    head, card = job.heading, job.card
    return JobCard(
        id=job.id,
        title=head.title,
        code=head.code,
        customer=head.customer,
        version=job.version,
        saved_at=job.saved_at,
        vehicle=card.vehicle,
        unit=card.unit,
        stops=card.stops,
        cautions=card.cautions,
        next_stage=STAGE_LABEL["handover" if job.signed else card.next_stage],
        next_action="Signed off" if job.signed else card.next_action,
        changed=tuple(card.changed.splitlines()),
        spoilt=card.spoilt,
        line=tuple(float(volts) for volts in card.line.split()),
        archived=job.archived,
        template=job.template,
        service_due=job.service_due,
        signed=job.signed,
    )


@api.get("/jobs")
@api.input(YardQuery, location="query", arg_name="asked")
@api.output(Yard)
def yard(asked: YardQuery) -> Response:
    """A part of the yard, each job with its next action."""
    page = stores().jobs.page(Wanted(asked.sought, asked.stands, asked.order, asked.begin, asked.rows))
    return answer_json(Yard(total=page.total, jobs=tuple(_row(job) for job in page.jobs)))


@api.post("/jobs")
@api.input(NewJob, arg_name="new")
@api.output(JobOut, status_code=201)
@once_a_name
def create_job(new: NewJob) -> Response:
    """Begin a job; without a design, by the house rules."""
    design = new.design or begin_with(stores().house.get().house, blank_design())
    return answer_json(JobOut.of(stores().jobs.create(new.heading(), design, person_name())), 201)


@api.get("/jobs/<int:job_id>/shelved")
@api.output(ShelvedOut)
def shelved(job_id: int) -> Response:
    """Whether a job is put away or a template, and when its next service is due."""
    archived, template, due = stores().jobs.shelved(job_id)
    return answer_json(ShelvedOut(archived=archived, template=template, service_due=due))


@api.put("/jobs/<int:job_id>/shelved")
@api.input(ShelveIn, arg_name="asked")
@api.output(ShelvedOut)
def shelve(job_id: int, asked: ShelveIn) -> Response:
    """Put a job away or take it out; have it stand as a template or not. Nothing of it changes."""
    stores().jobs.shelve(job_id, asked.archived, asked.template)
    return shelved(job_id)


@api.post("/jobs/import")
@api.output(JobOut, status_code=201)
@once_a_name
def import_job() -> Response:
    """Take a job file as a new job; the body is the file."""
    file = read_job_file(request.get_data(cache=False))
    return answer_json(
        JobOut.of(stores().jobs.create(Heading(file.title, file.code, file.customer), file.design, person_name())), 201
    )


@api.get("/jobs/<int:job_id>")
@api.output(JobOut)
def get_job(job_id: int) -> Response:
    """A job at its newest revision."""
    return answer_json(JobOut.of(stores().jobs.get(job_id)))


@api.put("/jobs/<int:job_id>")
@api.input(SaveJob, arg_name="save")
@api.output(Saved)
def save_job(job_id: int, save: SaveJob) -> Response:
    """Store a new revision; refused when it is based on an older one."""
    job = stores().jobs.save(job_id, save.based_on, save.heading(), save.design, person_name())
    return answer_json(Saved(version=job.version, saved_at=job.saved_at))


@api.get("/jobs/<int:job_id>/revisions")
@api.output(Revisions)
def revisions(job_id: int) -> Response:
    """Every revision of a job."""
    heads = stores().jobs.revisions(job_id)
    return answer_json(
        Revisions(
            revisions=tuple(
                RevisionOut(version=item.version, saved_at=item.saved_at, title=item.title, by=item.by)
                for item in heads
            )
        )
    )


@api.post("/jobs/<int:job_id>/next")
@api.input(HeadingIn, arg_name="head")
@api.output(JobOut, status_code=201)
@once_a_name
def next_job(job_id: int, head: HeadingIn) -> Response:
    """A new job for the next vehicle: the same work, what was measured on this one to be measured again."""
    job = stores().jobs.get(job_id)
    made = stores().jobs.create(head.heading(), next_vehicle(job.design), person_name())
    return answer_json(JobOut.of(made), 201)


@api.get("/jobs/<int:job_id>/revisions/<int:version>")
@api.output(JobOut)
def revision(job_id: int, version: int) -> Response:
    """One revision of a job."""
    return answer_json(JobOut.of(stores().jobs.get(job_id, version)))


@api.get("/jobs/<int:job_id>/options")
@api.output(Options)
def options(job_id: int) -> Response:
    """Kept variants of a job."""
    return answer_json(Options(options=tuple(OptionOut.of(item) for item in stores().options.all(job_id))))


@api.post("/jobs/<int:job_id>/options")
@api.input(KeepOption, arg_name="kept")
@api.output(OptionOut, status_code=201)
@once_a_name
def keep_option(job_id: int, kept: KeepOption) -> Response:
    """Keep a variant beside the design."""
    return answer_json(OptionOut.of(stores().options.keep(job_id, kept.name, kept.design)), 201)


@api.delete("/jobs/<int:job_id>/options/<int:option_id>")
def drop_option(job_id: int, option_id: int) -> dict[str, str]:
    """Drop a kept variant."""
    stores().options.drop(job_id, option_id)
    return {"status": "dropped"}


@api.get("/jobs/<int:job_id>/file")
def job_file(job_id: int) -> Response:
    """The job as a JSON file; one that cannot be read as it is stored."""
    try:
        job = stores().jobs.get(job_id)
    except UnreadableJob as error:  # as it stands, so that it can be mended by hand
        return Response(error.spoilt.document, mimetype="application/json", headers=attached(error.spoilt, "json"))
    head = job.heading
    text = write_job_file(JobFile(title=head.title, code=head.code, customer=head.customer, design=job.design))
    return Response(text, mimetype="application/json", headers=attached(job, "json"))
