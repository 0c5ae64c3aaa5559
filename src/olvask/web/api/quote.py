"""Routes, labour and quotes."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from flask import Response
from pydantic import Field

from olvask.core.analyses.quote import Quote, QuoteHead, quote_of, to_give
from olvask.core.analyses.routes import Routes, routes_of
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.documents.quote import quote_pdf
from olvask.web.api.blueprint import api
from olvask.web.api.jobs import Variant
from olvask.web.reach import answer_json, attached, house_now, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import Out


class QuoteIn(Described):
    """Options to quote, and whose quote it is."""

    title: str = Field("", title="Title", max_length=120)
    code: str = Field("", title="Job number", max_length=40)
    customer: str = Field("", title="Customer", max_length=120)
    options: tuple[Variant, ...] = Field(title="Options", min_length=1, max_length=4)


class QuotesOut(Out):
    """Every quote given on a job, newest first."""

    quotes: tuple[Quote, ...]


@api.post("/build/routes")
@api.input(Design, arg_name="design")
@api.output(Routes)
def routes(design: Design) -> Response:
    """Every route of a design with the cable its length needs, hours and price."""
    return answer_json(routes_of(design, stores().shelf.prices()))


@api.post("/build/quote")
@api.input(QuoteIn, arg_name="asked")
@api.output(Quote)
def quote(asked: QuoteIn) -> Response:
    """What a quote of these options would say today; nothing is kept."""
    return answer_json(_made(asked))


def _made(asked: QuoteIn) -> Quote:
    today = datetime.now(UTC).date()
    until = today + timedelta(days=asked.options[0].design.terms.valid_days)
    head = QuoteHead(asked.title, asked.code, asked.customer, today.isoformat(), until.isoformat())
    return quote_of(head, [(item.name, item.design) for item in asked.options], stores().shelf.prices())


@api.get("/jobs/<int:job_id>/quotes")
@api.output(QuotesOut)
def quotes(job_id: int) -> Response:
    """Quotes given on a job, as they were given."""
    return answer_json(QuotesOut(quotes=tuple(stores().quotes.all(job_id))))


@api.post("/jobs/<int:job_id>/quotes")
@api.input(QuoteIn, arg_name="asked")
@api.output(Quote)
@once_a_name
def give_quote(job_id: int, asked: QuoteIn) -> Response:
    """Make a quote and keep it as it is given."""
    return answer_json(stores().quotes.give(job_id, to_give(_made(asked))))


@api.get("/jobs/<int:job_id>/quotes/<int:number>.pdf")
def quote_paper(job_id: int, number: int) -> Response:
    """A quote on paper, as it was given."""
    job, found = stores().jobs.get(job_id), stores().quotes.get(job_id, number)
    return Response(
        quote_pdf(found, house_now()), mimetype="application/pdf", headers=attached(job, f"quote-{number}.pdf")
    )
