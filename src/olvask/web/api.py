"""The endpoints under /api."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import UTC, datetime

from apiflask import APIBlueprint
from flask import Response, request

from olvask.core.analyses.compare import compare
from olvask.core.analyses.cures import curing
from olvask.core.analyses.rank import fit_unit, rank_units
from olvask.core.analyses.size_ladder import size_ladder
from olvask.core.analyses.tolerance import analysing
from olvask.core.analyses.unknowns import unknowns
from olvask.core.analyses.week import week_of
from olvask.core.assess import STAGES, assess
from olvask.core.catalogue import conductors, devices
from olvask.core.findings.assessment import (
    Advice,
    Assessment,
    Buying,
    Comparison,
    OldLinkPlan,
    SizeLadder,
    TripReport,
    WeekPicture,
)
from olvask.core.model import Alternator, Design, Vehicle
from olvask.core.model.entry_errors import Fault
from olvask.core.simulate.programme import LIBRARY, BadProgramme, Programme, read_programme
from olvask.core.simulate.report import report, reporting
from olvask.core.stages.build.buying import buying
from olvask.core.stages.wake.existing_link import plan_old_link
from olvask.core.stages.wake.method import advise
from olvask.documents.job_file import JobFile, read_job_file, write_job_file
from olvask.documents.schedules import WRITERS, labels_pdf
from olvask.documents.schematic import schematic_svg
from olvask.documents.sheet import SheetHead, sheet_pdf
from olvask.store.jobs import Heading, Job, JobStore
from olvask.store.shelf import NoSuchItem
from olvask.web import body
from olvask.web.body import BadInput
from olvask.web.reach import answer_json, answer_lines, stores
from olvask.web.shapes import (
    BuyingIn,
    CatalogueOut,
    CompareIn,
    CuresProgress,
    FamilyOut,
    FitIn,
    FitOut,
    JobCard,
    JobOut,
    KeepOption,
    LadderIn,
    NewJob,
    OptionOut,
    Options,
    Programmes,
    RevisionOut,
    Revisions,
    Saved,
    SaveJob,
    SizeOut,
    ToleranceFields,
    ToleranceIn,
    ToleranceProgress,
    TripIn,
    TripProgress,
    Unknowns,
    Verdicts,
    Yard,
)
from olvask.web.sums import SumIn, SumOut, work_out

body.install()  # before the first endpoint is declared
api = APIBlueprint("api", __name__, url_prefix="/api", tag="Olvask")
LONGEST_TRIP_S = 35 * 86400.0
TELL_EVERY = 0.05  # of a long run
STAGE_LABEL = {
    "survey": "Survey",
    "match": "Match",
    "run": "Run",
    "wake": "Wake",
    "settings": "Settings",
    "build": "Build",
    "prove": "Prove",
    "handover": "Hand over",
}


def _store() -> JobStore:
    return stores().jobs


def blank_design() -> Design:
    """What a new job starts from: a 12 V engine vehicle, everything else open."""
    return Design(vehicle=Vehicle(alternator=Alternator(rated_a=120.0)))


@api.get("/health")
def health() -> dict[str, str]:
    """Say that the server is there."""
    return {"status": "ok"}


@api.get("/catalogue")
@api.output(CatalogueOut)
def catalogue() -> Response:
    """Standard sizes, device ratings and the shelf."""
    families: dict[str, FamilyOut] = {}
    for item in devices():
        earlier = families[item.family].ratings_a if item.family in families else ()
        families[item.family] = FamilyOut(
            family=item.family, label=item.label, ratings_a=(*earlier, item.rating_a), source=item.source
        )
    return answer_json(
        CatalogueOut(
            sizes=tuple(SizeOut(size=item.size, system=item.system, area_mm2=item.area_mm2) for item in conductors()),
            families=tuple(families.values()),
            chargers=tuple(stores().shelf.chargers()),
            batteries=tuple(stores().shelf.batteries()),
            alternators=tuple(stores().shelf.alternators()),
            blank=blank_design(),
        )
    )


@api.post("/assess")
@api.input(Design, arg_name="design")
@api.output(Assessment)
def assess_design(design: Design) -> Response:
    """Assess a design without storing anything."""
    return answer_json(assess(design))


@api.post("/ladder")
@api.input(LadderIn, arg_name="asked")
@api.output(SizeLadder)
def ladder(asked: LadderIn) -> Response:
    """Judge one cable in every standard size."""
    shelf = stores().shelf
    stock = {item.size for item in shelf.cables() if item.stock_m is None or item.stock_m > 0}
    return answer_json(size_ladder(asked.design, asked.place, shelf.prices(), stock))


@api.post("/match")
@api.input(Design, arg_name="design")
@api.output(Verdicts)
def match(design: Design) -> Response:
    """Judge every unit of the shelf for a design, each with its own cables and devices, and rank them."""
    shelf = stores().shelf
    return answer_json(Verdicts(units=tuple(rank_units(design, shelf.chargers(), shelf.prices()))))


@api.post("/match/fit")
@api.input(FitIn, arg_name="asked")
@api.output(FitOut)
def match_fit(asked: FitIn) -> Response:
    """The design with one unit of the shelf, its setting, and runs laid for it."""
    shelf = stores().shelf
    unit = next((item for item in shelf.chargers() if item.id == asked.unit), None)
    if unit is None:
        raise NoSuchItem(f"no unit {asked.unit} in use on the shelf")
    return answer_json(FitOut(design=fit_unit(asked.design, unit, shelf.prices())))


@api.post("/week")
@api.input(Design, arg_name="design")
@api.output(WeekPicture)
def week(design: Design) -> Response:
    """The auxiliary battery's charge over a typical week."""
    return answer_json(week_of(design))


@api.get("/programmes")
@api.output(Programmes)
def programmes() -> Response:
    """Day programmes to begin with."""
    return answer_json(Programmes(programmes=LIBRARY))


@api.post("/trip")
@api.input(TripIn, arg_name="asked")
@api.output(TripReport)
def trip(asked: TripIn) -> Response:
    """Drive a design's vehicle through a programme."""
    return answer_json(report(asked.design, _day(asked.programme), most=asked.samples))


@api.post("/trip/run")
@api.input(TripIn, arg_name="asked")
@api.output(TripProgress)
def trip_run(asked: TripIn) -> Response:
    """The same told line by line as it goes: each line a share done, the last one the report. Hang up to stop it."""
    day = _day(asked.programme)

    def lines() -> Iterator[TripProgress]:
        last = 0.0
        for told in reporting(asked.design, day, most=asked.samples):
            if not isinstance(told, float):
                yield TripProgress(done=1.0, report=told)
            elif told - last >= TELL_EVERY:
                last = told
                yield TripProgress(done=told)

    return answer_lines(lines())


@api.get("/tolerance")
@api.output(ToleranceFields)
def usual_tolerances() -> Response:
    """How far vehicles differ where nobody says."""
    return answer_json(ToleranceFields())


@api.post("/tolerance")
@api.input(ToleranceIn, arg_name="asked")
@api.output(ToleranceProgress)
def tolerance(asked: ToleranceIn) -> Response:
    """The same settings over many vehicles, told line by line: each a share done, the last one the report."""
    _needs_unit(asked.design)

    def lines() -> Iterator[ToleranceProgress]:
        for told in analysing(asked.design, tolerances=asked.tolerances, vehicles=asked.vehicles):
            yield ToleranceProgress(done=told) if isinstance(told, float) else ToleranceProgress(done=1.0, report=told)

    return answer_lines(lines())


@api.post("/tolerance/cures")
@api.input(ToleranceIn, arg_name="asked")
@api.output(CuresProgress)
def cures(asked: ToleranceIn) -> Response:
    """What would cut the share at fault, told line by line; over a quarter of the vehicles for each change tried."""
    _needs_unit(asked.design)

    def lines() -> Iterator[CuresProgress]:
        for told in curing(asked.design, tolerances=asked.tolerances, vehicles=max(1, asked.vehicles // 4)):
            yield CuresProgress(done=told) if isinstance(told, float) else CuresProgress(done=1.0, report=told)

    return answer_lines(lines())


def _needs_unit(design: Design) -> None:
    """Nothing can be driven without a unit.

    Raises:
        BadInput: none is chosen.
    """
    if design.charger is None:
        message = "choose a unit first; nothing starts without one"
        raise BadInput([Fault(path="design.charger", field="Unit", message=message)])


@api.post("/methods")
@api.input(Design, arg_name="design")
@api.output(Advice)
def methods(design: Design) -> Response:
    """Every way of starting and stopping the unit judged, the best one first."""
    return answer_json(advise(design))


@api.post("/old-link")
@api.input(Design, arg_name="design")
@api.output(OldLinkPlan)
def old_link(design: Design) -> Response:
    """What becomes of a link that was there before: decision, relay, loads before and after."""
    return answer_json(plan_old_link(design))


def _day(text: str) -> Programme:
    """A programme as typed.

    Raises:
        BadInput: lines nobody understands, or a day too long to drive here.
    """
    try:
        day = read_programme(text)
    except BadProgramme as error:
        found = [
            Fault(path="programme", field=f"Programme, line {fault.line}", message=fault.message)
            for fault in error.faults
        ]
        raise BadInput(found) from None
    if day.duration_s > LONGEST_TRIP_S:
        message = "longer than 35 days; shorten it here, or use the command line"
        raise BadInput([Fault(path="programme", field="Programme", message=message)])
    return day


@api.post("/unknowns")
@api.input(Design, arg_name="design")
@api.output(Unknowns)
def what_is_unknown(design: Design) -> Response:
    """What is still unknown, and what it would change."""
    return answer_json(Unknowns(unknowns=unknowns(design)))


@api.post("/compare")
@api.input(CompareIn, arg_name="asked")
@api.output(Comparison)
def compare_variants(asked: CompareIn) -> Response:
    """Two to four variants side by side, differences only."""
    variants = [(item.name, item.design) for item in asked.variants]
    return answer_json(compare(variants, stores().shelf.prices()))


@api.post("/sums")
@api.input(SumIn, arg_name="asked")
@api.output(SumOut)
def sums(asked: SumIn) -> Response:
    """A sum done on the side: loads, rest volts, days to flat, bonding."""
    return answer_json(work_out(asked))


@api.get("/jobs/<int:job_id>/options")
@api.output(Options)
def options(job_id: int) -> Response:
    """Kept variants of a job."""
    return answer_json(Options(options=tuple(OptionOut.of(item) for item in stores().options.all(job_id))))


@api.post("/jobs/<int:job_id>/options")
@api.input(KeepOption, arg_name="kept")
@api.output(OptionOut, status_code=201)
def keep_option(job_id: int, kept: KeepOption) -> Response:
    """Keep a variant beside the design."""
    return answer_json(OptionOut.of(stores().options.keep(job_id, kept.name, kept.design)), 201)


@api.delete("/jobs/<int:job_id>/options/<int:option_id>")
def drop_option(job_id: int, option_id: int) -> dict[str, str]:
    """Drop a kept variant."""
    stores().options.drop(job_id, option_id)
    return {"status": "dropped"}


def _card(job: Job) -> JobCard:
    found = assess(job.design)
    stage, action = _next_action(found)
    vehicle = job.design.vehicle
    return JobCard(
        id=job.id,
        title=job.heading.title,
        code=job.heading.code,
        customer=job.heading.customer,
        version=job.version,
        saved_at=job.saved_at,
        vehicle=f"{vehicle.system_v} V · {'DC converter' if vehicle.drive == 'converter' else 'alternator'} {vehicle.alternator.rated_a:g} A",
        unit=job.design.charger.name if job.design.charger else "",
        stops=len(found.stops),
        cautions=sum(item.level == "caution" for item in found.findings),
        next_stage=STAGE_LABEL[stage],
        next_action=action,
    )


def _next_action(found: Assessment) -> tuple[str, str]:
    for level in ("stop", "caution"):
        for item in found.findings:
            if item.level == level:
                return item.stage, item.title
    for stage in STAGES:
        if found.stages[stage].missing:
            return stage, f"Still open: {found.stages[stage].missing[0]}"
    return "handover", "Print the hand-over sheet"


@api.get("/jobs")
@api.output(Yard)
def yard() -> Response:
    """Every job with its next action."""
    return answer_json(Yard(jobs=tuple(_card(job) for job in _store().all())))


@api.post("/jobs")
@api.input(NewJob, arg_name="new")
@api.output(JobOut, status_code=201)
def create_job(new: NewJob) -> Response:
    """Begin a job."""
    return answer_json(JobOut.of(_store().create(new.heading(), new.design or blank_design())), 201)


@api.post("/jobs/import")
@api.output(JobOut, status_code=201)
def import_job() -> Response:
    """Take a job file as a new job; the body is the file."""
    file = read_job_file(request.get_data(cache=False))
    return answer_json(JobOut.of(_store().create(Heading(file.title, file.code, file.customer), file.design)), 201)


@api.get("/jobs/<int:job_id>")
@api.output(JobOut)
def get_job(job_id: int) -> Response:
    """A job at its newest revision."""
    return answer_json(JobOut.of(_store().get(job_id)))


@api.put("/jobs/<int:job_id>")
@api.input(SaveJob, arg_name="save")
@api.output(Saved)
def save_job(job_id: int, save: SaveJob) -> Response:
    """Store a new revision; refused when it is based on an older one."""
    job = _store().save(job_id, save.based_on, save.heading(), save.design)
    return answer_json(Saved(version=job.version, saved_at=job.saved_at))


@api.get("/jobs/<int:job_id>/revisions")
@api.output(Revisions)
def revisions(job_id: int) -> Response:
    """Every revision of a job."""
    heads = _store().revisions(job_id)
    return answer_json(
        Revisions(
            revisions=tuple(
                RevisionOut(version=item.version, saved_at=item.saved_at, title=item.title) for item in heads
            )
        )
    )


@api.get("/jobs/<int:job_id>/revisions/<int:version>")
@api.output(JobOut)
def revision(job_id: int, version: int) -> Response:
    """One revision of a job."""
    return answer_json(JobOut.of(_store().get(job_id, version)))


def _bought(job: Job) -> Buying:
    shelf = stores().shelf
    return buying(job.design, job.heading.code or f"job {job.id}", shelf.drums(), shelf.prices())


@api.post("/buying")
@api.input(BuyingIn, arg_name="asked")
@api.output(Buying)
def buying_list(asked: BuyingIn) -> Response:
    """Conductors with their ends, cuts off the drums, parts and labels of a design."""
    shelf = stores().shelf
    return answer_json(buying(asked.design, asked.code, shelf.drums(), shelf.prices()))


@api.get("/jobs/<int:job_id>/<any(cuts, parts, labels):what>.csv")
def schedule(job_id: int, what: str) -> Response:
    """The cut list, the parts or the labels of a job as CSV."""
    job = _store().get(job_id)
    return Response(WRITERS[what](_bought(job)), mimetype="text/csv", headers=_attached(job, f"{what}.csv"))


@api.get("/jobs/<int:job_id>/labels.pdf")
def labels(job_id: int) -> Response:
    """Labels for both ends of every conductor, to print and cut."""
    job = _store().get(job_id)
    return Response(labels_pdf(_bought(job)), mimetype="application/pdf", headers=_attached(job, "labels.pdf"))


def _attached(job: Job, ending: str) -> dict[str, str]:
    plain = re.sub(r"[^A-Za-z0-9]+", "-", job.heading.code or f"job-{job.id}").strip("-").lower()
    return {"Content-Disposition": f'inline; filename="{plain or "job"}.{ending}"'}


@api.get("/jobs/<int:job_id>/file")
def job_file(job_id: int) -> Response:
    """The job as a JSON file."""
    job = _store().get(job_id)
    head = job.heading
    text = write_job_file(JobFile(title=head.title, code=head.code, customer=head.customer, design=job.design))
    return Response(text, mimetype="application/json", headers=_attached(job, "json"))


@api.get("/jobs/<int:job_id>/schematic.svg")
def schematic(job_id: int) -> Response:
    """The wiring diagram."""
    job = _store().get(job_id)
    return Response(schematic_svg(job.design), mimetype="image/svg+xml", headers=_attached(job, "svg"))


@api.get("/jobs/<int:job_id>/sheet.pdf")
def sheet(job_id: int) -> Response:
    """The hand-over sheet."""
    job = _store().get(job_id)
    head = SheetHead(job.heading.title, job.heading.code, job.heading.customer, job.version, datetime.now(UTC).date())
    return Response(
        sheet_pdf(head, job.design, assess(job.design)), mimetype="application/pdf", headers=_attached(job, "pdf")
    )
