"""Settings: the sheet to key into the unit, and the audit of everything that charges."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Response
from pydantic import Field

from olvask.core.analyses.audit import Audit, audit
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described, quantity
from olvask.core.stages.settings.sheet import Sheet, sheet_of
from olvask.documents.settings_sheet import settings_pdf
from olvask.documents.sheet import SheetHead
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, stores
from olvask.web.shapes import Out


class SheetOut(Out):
    """The sheet; none without a unit."""

    sheet: Sheet | None


class AuditIn(Described):
    """A design, and the battery's charge and temperature to begin with."""

    charge_from: float = Field(0.4, title="From a charge of", ge=0, le=0.94)
    celsius: float = quantity("Battery and air at", "°C", default=25.0, ge=-40, le=70, example=20, step=5)
    design: Design


@api.post("/settings/sheet")
@api.input(Design, arg_name="design")
@api.output(SheetOut)
def settings_sheet(design: Design) -> Response:
    """What to key into the unit, in which order, what to leave and what to read back."""
    return answer_json(SheetOut(sheet=sheet_of(Context.of(design))))


@api.post("/settings/audit")
@api.input(AuditIn, arg_name="asked")
@api.output(Audit)
def settings_audit(asked: AuditIn) -> Response:
    """Every source driven alone on the battery, and all together."""
    return answer_json(audit(asked.design, asked.charge_from, asked.celsius))


@api.get("/jobs/<int:job_id>/settings.pdf")
def settings_paper(job_id: int) -> Response:
    """The sheet on one page, to key in by."""
    job = stores().jobs.get(job_id)
    head = SheetHead(job.heading.title, job.heading.code, job.heading.customer, job.version, datetime.now(UTC).date())
    return Response(settings_pdf(head, job.design), mimetype="application/pdf", headers=attached(job, "settings.pdf"))
