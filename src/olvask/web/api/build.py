"""Build: the bill with its cuts and labels, and the wiring diagram."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Response
from pydantic import Field

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.cuts import Buying, buying
from olvask.core.stages.build.mounting import MountReport, mount_of
from olvask.core.stages.build.orders import Orders, orders_of
from olvask.documents.diagram.layout import diagram_of
from olvask.documents.diagram.paper import Paper, diagram_pdf
from olvask.documents.diagram.pen import Drawing
from olvask.documents.diagram.svg import schematic_svg
from olvask.documents.house_units import svg_in_units
from olvask.documents.schedules import WRITERS, labels_pdf, orders_csv
from olvask.documents.sheet import SheetHead
from olvask.store.jobs import Job
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, attached, house_now, stores
from olvask.web.shapes import Out


class BuyingIn(Described):
    """A design to cut and buy for."""

    code: str = Field("", title="Job number", max_length=40)
    design: Design


class MountOut(Out):
    """The unit where it is mounted; none without a unit."""

    mount: MountReport | None


@api.post("/build/mount")
@api.input(Design, arg_name="design")
@api.output(MountOut)
def mounting(design: Design) -> Response:
    """Air, case and yield of the unit where it sits, and the opening that would be enough."""
    return answer_json(MountOut(mount=mount_of(Context.of(design))))


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
    job = stores().jobs.get(job_id)
    return Response(WRITERS[what](_bought(job)), mimetype="text/csv", headers=attached(job, f"{what}.csv"))


def _orders(design: Design) -> Orders:
    shelf = stores().shelf
    return orders_of(bill_of(Context.of(design), shelf.prices()), shelf.stock())


@api.post("/build/orders")
@api.input(Design, arg_name="design")
@api.output(Orders)
def orders(design: Design) -> Response:
    """What the bill asks for, less what is in stock, by supplier."""
    return answer_json(_orders(design))


@api.get("/jobs/<int:job_id>/orders.csv")
def orders_file(job_id: int) -> Response:
    """The order list of a job as CSV."""
    job = stores().jobs.get(job_id)
    return Response(orders_csv(_orders(job.design)), mimetype="text/csv", headers=attached(job, "orders.csv"))


@api.get("/jobs/<int:job_id>/labels.pdf")
def labels(job_id: int) -> Response:
    """Labels for both ends of every conductor, to print and cut."""
    job = stores().jobs.get(job_id)
    return Response(
        labels_pdf(_bought(job), house_now()), mimetype="application/pdf", headers=attached(job, "labels.pdf")
    )


@api.post("/build/diagram")
@api.input(Design, arg_name="design")
@api.output(Drawing)
def diagram(design: Design) -> Response:
    """The wiring diagram as lines, rings and words, each with its conductor and its place in the design."""
    return answer_json(diagram_of(Context.of(design)))


@api.get("/jobs/<int:job_id>/diagram-<any(a4, a3):paper>.pdf")
def diagram_paper(job_id: int, paper: Paper) -> Response:
    """The wiring diagram and its schedules on paper."""
    job = stores().jobs.get(job_id)
    head = SheetHead(job.heading.title, job.heading.code, job.heading.customer, job.version, datetime.now(UTC).date())
    count = len(assess(job.design, remedies=False, words=False).stops)
    state = f"Not to be built as it stands: {count} {'stop' if count == 1 else 'stops'} open" if count else ""
    found = diagram_pdf(head, job.design, paper, state, house_now())
    return Response(found, mimetype="application/pdf", headers=attached(job, f"diagram-{paper}.pdf"))


@api.get("/jobs/<int:job_id>/schematic.svg")
def schematic(job_id: int) -> Response:
    """The wiring diagram."""
    job = stores().jobs.get(job_id)
    return Response(
        svg_in_units(schematic_svg(job.design), house_now().units),
        mimetype="image/svg+xml",
        headers=attached(job, "svg"),
    )
