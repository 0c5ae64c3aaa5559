"""Hand over: the sheet that goes with the vehicle."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Response

from olvask.core.assess import assess
from olvask.documents.sheet import SheetHead, sheet_pdf
from olvask.web.api.blueprint import api
from olvask.web.api.build_log import left_on
from olvask.web.reach import attached, house_now, stores


@api.get("/jobs/<int:job_id>/sheet.pdf")
def sheet(job_id: int) -> Response:
    """The hand-over sheet."""
    job = stores().jobs.get(job_id)
    head = SheetHead(job.heading.title, job.heading.code, job.heading.customer, job.version, datetime.now(UTC).date())
    return Response(
        sheet_pdf(head, job.design, assess(job.design), left_on(job), house_now()),
        mimetype="application/pdf",
        headers=attached(job, "pdf"),
    )
