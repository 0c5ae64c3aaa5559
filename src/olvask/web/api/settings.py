"""Settings: the sheet to key into the unit, and the audit of everything that charges."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Response
from pydantic import Field

from olvask.core.analyses.audit import Audit, audit
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described, quantity
from olvask.core.stages.build.procedure.after import key_step
from olvask.core.stages.settings.climate import ClimateReport, climate_of
from olvask.core.stages.settings.monitor import MonitorReport, monitor_of
from olvask.core.stages.settings.sheet import Sheet, devices_of, sheet_of
from olvask.documents.settings_sheet import settings_pdf
from olvask.documents.sheet import SheetHead
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, house_now, stores
from olvask.web.shapes import Out


class SheetIn(Described):
    """A design, and which of its devices."""

    device: str = Field("", title="Device", max_length=40, description="Its place; empty for the unit.")
    design: Design


class DeviceOut(Out):
    """A device with a menu."""

    place: str
    name: str


class SheetOut(Out):
    """The sheet, none without a unit; and which other devices have one."""

    sheet: Sheet | None
    devices: tuple[DeviceOut, ...]
    step: str = Field(description="the step of the work that keys all of it")


class AuditIn(Described):
    """A design, and the battery's charge and temperature to begin with."""

    charge_from: float = Field(0.4, title="From a charge of", ge=0, le=0.94)
    celsius: float = quantity("Battery and air at", "°C", default=25.0, ge=-40, le=70, example=20, step=5)
    design: Design


@api.post("/settings/sheet")
@api.input(SheetIn, arg_name="asked")
@api.output(SheetOut)
def settings_sheet(asked: SheetIn) -> Response:
    """What to key into a device, in which order, what to leave and what to read back."""
    devices = tuple(DeviceOut(place=place, name=name) for place, name in devices_of(asked.design))
    return answer_json(
        SheetOut(sheet=sheet_of(Context.of(asked.design), asked.device), devices=devices, step=key_step(asked.device))
    )


@api.post("/settings/climate")
@api.input(Design, arg_name="design")
@api.output(ClimateReport)
def settings_climate(design: Design) -> Response:
    """How often cold and heat keep the battery from charging, and how a sleeping one is woken."""
    return answer_json(climate_of(Context.of(design)))


@api.post("/settings/monitor")
@api.input(Design, arg_name="design")
@api.output(MonitorReport)
def settings_monitor(design: Design) -> Response:
    """What the battery monitor needs, and how far it can be trusted."""
    return answer_json(monitor_of(Context.of(design)))


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
    return Response(
        settings_pdf(head, job.design, house_now()), mimetype="application/pdf", headers=attached(job, "settings.pdf")
    )
