"""Everything of one customer as one file, and its erasure."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Iterator

import numpy as np
from flask import Response
from pydantic import Field

from olvask.core.model.base import Described
from olvask.documents.csv_text import defused
from olvask.documents.job_file import JobFile, write_job_file
from olvask.store.customers import NoSuchCustomer
from olvask.store.jobs import UnreadableJob
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import Out
from olvask.web.signing_in import owner_only

ENTRY = ("procedure", "step", "kind", "text", "value", "unit", "photo", "by", "at")


class CustomerQuery(Described):
    """Which customer."""

    customer: str = Field(title="Customer", min_length=1, max_length=120)


class EraseIn(CustomerQuery):
    """Which customer, typed once more."""

    again: str = Field(title="The name once more", min_length=1, max_length=120)


class Erased(Out):
    """How many jobs were erased."""

    jobs: int


@api.get("/customers/dossier.zip")
@api.input(CustomerQuery, location="query", arg_name="asked")
@owner_only
def dossier(asked: CustomerQuery) -> Response:
    """Everything kept of one customer: each job's every revision, options, quotes, signatures, notes, photographs, logs."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for job_id in stores().customers.jobs(asked.customer):
            for name, content in _of_job(job_id):
                packed.writestr(f"job-{job_id}/{name}", content)
    headers = {"Content-Disposition": 'attachment; filename="dossier.zip"', "Cache-Control": "no-store"}
    return Response(out.getvalue(), mimetype="application/zip", headers=headers)


def _of_job(job_id: int) -> Iterator[tuple[str, str | bytes]]:
    """Every file of a job's part of the dossier; a revision that cannot be read is given as it is stored."""
    kept = stores()
    for head in kept.jobs.revisions(job_id):
        try:
            job = kept.jobs.get(job_id, head.version)
        except UnreadableJob as error:
            yield f"revision-{head.version}.txt", error.spoilt.document
            continue
        top = job.heading
        file = JobFile(title=top.title, code=top.code, customer=top.customer, design=job.design)
        yield f"revision-{head.version}.json", write_job_file(file)
    for option in kept.options.all(job_id):
        yield f"option-{option.id}.json", option.design.model_dump_json(indent=2)
    for quote in kept.quotes.all(job_id):
        yield f"quote-{quote.number}.json", quote.model_dump_json(indent=2)
    signed = [item.model_dump(mode="json") for item in kept.signatures.all(job_id)]
    yield "signatures.json", json.dumps(signed, ensure_ascii=False, indent=2)
    notes = io.StringIO()
    writer = csv.writer(notes, lineterminator="\n")
    writer.writerow(ENTRY)
    for entry in kept.build.entries(job_id):
        writer.writerow([defused("" if (cell := getattr(entry, name)) is None else cell) for name in ENTRY])
    yield "notes.csv", notes.getvalue()
    for name, picture in kept.customers.photographs(job_id):
        yield f"photographs/{name}.jpg", picture
    for log in kept.device_logs.all(job_id):
        yield f"device-log-{log.id}.csv", _log_csv(job_id, log.id)


def _log_csv(job_id: int, number: int) -> str:
    log = stores().device_logs.log(job_id, number)
    names = list(log.values)
    columns = np.column_stack([log.time_s, *(log.values[name] for name in names)])
    out = io.StringIO()
    np.savetxt(
        out,
        columns,
        fmt=["%.3f", *["%.4g"] * len(names)],
        delimiter=",",
        header=",".join(["time_s", *names]),
        comments="",
    )
    return out.getvalue()


@api.post("/customers/erase")
@api.input(EraseIn, arg_name="asked")
@api.output(Erased)
@owner_only
def erase(asked: EraseIn) -> Response:
    """Erase every job of a customer with all that belongs to it."""
    if asked.again.strip().lower() != asked.customer.strip().lower():
        raise NoSuchCustomer("no erasure: the two names are not the same")
    return answer_json(Erased(jobs=stores().customers.erase(asked.customer)))
