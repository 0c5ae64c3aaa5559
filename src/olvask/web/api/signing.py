"""Signing off: what has to be accepted, signatures, what changed between revisions, the report and the customer's page."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from flask import Response
from pydantic import Field

from olvask.core.analyses.changes import Changed, changes_between
from olvask.core.analyses.signing import Acceptance, Signature, acceptances, by_then, check, proven, since_signed
from olvask.core.assess import Assessment, assess
from olvask.core.circuit.context import Context
from olvask.core.model.base import Described
from olvask.core.stages.build.keying import keying_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Entry, left_of, progress_of
from olvask.core.stages.prove.noted import proof_of
from olvask.core.stages.prove.report import Proof
from olvask.documents.customer import CustomerHead, customer_pdf
from olvask.documents.job_file import JobFile, checksum
from olvask.documents.report import ReportHead, report_pdf
from olvask.store.jobs import Job
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, house_now, stores
from olvask.web.shapes import Out
from olvask.web.signing_in import person_name


class SignIn(Described):
    """Whose signature it is, of which version, and what is accepted."""

    version: int = Field(title="Version", ge=1)
    by: str = Field(title="Signed by", min_length=1, max_length=80)
    meter: str = Field("", title="Meter", max_length=80)
    accepted: tuple[Annotated[str, Field(max_length=120)], ...] = Field((), title="Accepted", max_length=200)


class SigningOut(Out):
    """What signing a job off would take, and every signature it bears."""

    version: int
    unfinished: tuple[str, ...] = Field(description="what has to be chosen first; with any it cannot be signed")
    stops: int
    wanted: tuple[Acceptance, ...]
    proven: bool
    signatures: tuple[Signature, ...]
    since: tuple[str, ...] = Field(
        description="what has happened to the vehicle since this version was last signed; with any it is signed again"
    )


class ChangesOut(Out):
    """What changed from one revision to another."""

    earlier: int
    later: int
    changes: tuple[Changed, ...]


def checksum_of(job: Job) -> str:
    """SHA-256 of a revision's job file."""
    head = job.heading
    return checksum(JobFile(title=head.title, code=head.code, customer=head.customer, design=job.design))


def vouching(job: Job) -> Signature | None:
    """The signature that vouches for a job as it stands; `None` where its newest revision bears none, or it was taken up since."""
    signature, since = _last_of(job)
    return None if since else signature


def _last_of(job: Job) -> tuple[Signature | None, tuple[str, ...]]:
    """The last signature of a revision, and what has happened to the vehicle since."""
    signature = next((item for item in stores().signatures.all(job.id) if item.version == job.version), None)
    if signature is None:
        return None, ()
    return signature, since_signed(signature, progress_of(stores().build.entries(job.id)))


def _as_it_stands(job: Job) -> tuple[Assessment, Proof, tuple[Acceptance, ...]]:
    """A job's findings and tests, and what has to be accepted of them and of its work."""
    ctx, states = Context.of(job.design), progress_of(stores().build.entries(job.id))
    found, proof = assess(job.design), proof_of(ctx, states, stores().meters())
    left = left_of(procedure_of(ctx).procedure, states)
    return found, proof, acceptances(found.findings, proof, left, keying_of(ctx, states))


@api.get("/jobs/<int:job_id>/signing")
@api.output(SigningOut)
def signing(job_id: int) -> Response:
    """What has to be accepted one by one before a job is signed off, and the signatures there are."""
    job = stores().jobs.get(job_id)
    found, proof, wanted = _as_it_stands(job)
    return answer_json(
        SigningOut(
            version=job.version,
            unfinished=job.design.unfinished,
            stops=len(found.stops),
            wanted=wanted,
            proven=proven(proof),
            signatures=tuple(stores().signatures.all(job_id)),
            since=_last_of(job)[1],
        )
    )


@api.post("/jobs/<int:job_id>/sign")
@api.input(SignIn, arg_name="asked")
@api.output(Signature)
def sign(job_id: int, asked: SignIn) -> Response:
    """Sign a job's newest revision off; it stays as it is for good."""
    job, at = stores().jobs.get(job_id), datetime.now(UTC)
    found, proof, wanted = _as_it_stands(job)
    by = person_name() or asked.by  # whoever is signed in signs with their own name
    check(job.design, found.findings, wanted, asked.accepted, by)
    made = Signature(
        number=0,
        version=asked.version,
        by=by.strip(),
        at=at.isoformat(timespec="microseconds"),
        meter=asked.meter.strip(),
        accepted=wanted,
        proven=proven(proof),
        checksum=checksum_of(stores().jobs.get(job_id, asked.version)),
    )
    return answer_json(stores().signatures.sign(job_id, made))


@api.get("/jobs/<int:job_id>/changes/<int:earlier>/<int:later>")
@api.output(ChangesOut)
def changes(job_id: int, earlier: int, later: int) -> Response:
    """What changed between two revisions, in the words of the design."""
    old, new = stores().jobs.get(job_id, earlier), stores().jobs.get(job_id, later)
    found = changes_between(old.design, new.design)
    return answer_json(ChangesOut(earlier=earlier, later=later, changes=found))


@api.get("/jobs/<int:job_id>/report.pdf")
def report(job_id: int) -> Response:
    """The installer's report of the newest revision; a draft until it is signed off."""
    job = stores().jobs.get(job_id)
    return _report(job, vouching(job))


@api.get("/jobs/<int:job_id>/revisions/<int:version>/report.pdf")
def old_report(job_id: int, version: int) -> Response:
    """The report of an earlier revision, as it was signed last; a draft where it never was."""
    job = stores().jobs.get(job_id, version)
    return _report(job, _last_of(job)[0])


@api.get("/jobs/<int:job_id>/signatures/<int:number>/report.pdf")
def signed_report(job_id: int, number: int) -> Response:
    """The report of one signature, as it was signed."""
    signature = stores().signatures.one(job_id, number)
    return _report(stores().jobs.get(job_id, signature.version), signature)


def _noted(job_id: int, signature: Signature | None) -> list[Entry]:
    """What was noted on a job: of a signed revision what was by then, so that its paper stays as it was."""
    entries = stores().build.entries(job_id)
    return [entry for entry in entries if signature is None or by_then(entry, signature)]


def _report(job: Job, signature: Signature | None) -> Response:
    """A revision's report, signed or a draft, with what changed since the signature before it."""
    signatures, states = stores().signatures.all(job.id), progress_of(_noted(job.id, signature))
    earlier = [item for item in signatures if item.version <= job.version]
    before = next((item for item in earlier if signature is None or item.number < signature.number), None)
    changed: tuple[str, ...] = ()
    if before is not None:
        old = stores().jobs.get(job.id, before.version)
        changed = tuple(f"{item.area}, {item.text}" for item in changes_between(old.design, job.design))
        changed += since_signed(before, states)
    head = ReportHead(
        title=job.heading.title,
        code=job.heading.code,
        customer=job.heading.customer,
        printed=datetime.now(UTC).date().isoformat(),
        version=job.version,
        checksum=checksum_of(job),
        changes=changed,
        since=f"version {before.version}, signed by {before.by}" if before is not None else "",
    )
    taken = {entry.photo for state in states for entry in state.entries if entry.photo}
    pictures = {photo: stores().build.photograph(job.id, photo).thumbnail for photo in sorted(taken)}
    ctx, found = Context.of(job.design), assess(job.design)
    proof, left = proof_of(ctx, states, stores().meters()), left_of(procedure_of(ctx).procedure, states)
    paper = report_pdf(head, job.design, found, proof, states, left, signature, pictures, house_now())
    return Response(paper, mimetype="application/pdf", headers=attached(job, "report.pdf"))


@api.get("/jobs/<int:job_id>/customer.pdf")
def customer(job_id: int) -> Response:
    """The customer's page, in plain words."""
    job = stores().jobs.get(job_id)
    head = CustomerHead(
        title=job.heading.title,
        code=job.heading.code,
        customer=job.heading.customer,
        printed=datetime.now(UTC).date().isoformat(),
        revision=f"version {job.version}" + ("" if vouching(job) else ", draft"),
    )
    return Response(
        customer_pdf(head, job.design, assess(job.design), house_now()),
        mimetype="application/pdf",
        headers=attached(job, "customer.pdf"),
    )
