"""A quote: up to four options side by side in the customer's words, off the one bill and the hours of the work.

- `Quote`, `QuoteOption`: as it is given; kept as it stands, prices and all.
- `quote_of`: makes one.
- `to_give`: whether there is anything in it to give.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from pydantic import Field

from olvask.core.assess import Assessment, assess
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.findings.driven import spoken
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of
from olvask.core.stages.build.labour import hours_of, labour_cost, labour_of
from olvask.core.stages.match.energy import RECOVER_TO, hours_between, put_back_h, rate_ah_per_h
from olvask.core.stages.settings.frost import unstopped
from olvask.core.stages.wake.plainly import behaves

MOST = 4
SHORT_OF = 0.95  # of a day's use, put back by a day's driving: below it a customer is told


class QuoteLine(Said):
    """A line of parts or of work; `sum` is what it adds to the price [€]."""

    what: str
    detail: str
    count: float
    unit: str
    each: float
    sum: float


class QuoteOption(Said):
    """One option, in the customer's words; money in €."""

    name: str
    unit: str
    does: tuple[str, ...]
    will_not: tuple[str, ...]
    refused: str = Field(description="why it is not offered as it stands; empty where it is")
    finished: bool = Field(True, description="whether its unit and both runs are chosen")
    charge_ah_per_h: float | None
    standing_days: float | None
    parts: tuple[QuoteLine, ...]
    work: tuple[QuoteLine, ...]
    unpriced: tuple[str, ...] = Field((), description="parts whose price nobody has noted; they are not in the price")
    parts_total: float
    hours: float
    labour_total: float
    net: float
    tax: float
    total: float


class Quote(Said):
    """A quote as it is given."""

    number: int
    title: str
    code: str
    customer: str
    made: str = Field(description="the day, ISO 8601")
    valid_until: str = Field(description="the last day it holds")
    tax_percent: float
    rate_per_h: float
    options: tuple[QuoteOption, ...]
    excluded: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class QuoteHead:
    """Whose quote it is, the day it is made and the last day it holds, ISO 8601."""

    title: str
    code: str
    customer: str
    made: str
    valid_until: str
    number: int = 0


class NothingToGive(ValueError):
    """No option of a quote has its unit and its runs; says what is lacking."""


class TooManyOptionsQuoted(ValueError):
    """A quote holds one to four options."""


def quote_of(head: QuoteHead, options: Sequence[tuple[str, Design]], prices: Prices = CATALOGUE_PRICES) -> Quote:
    """Make a quote.

    Args:
        head: whose it is.
        options: name and design of each, one to four; the terms are the first one's.
        prices: the workshop's own prices.

    Raises:
        TooManyOptionsQuoted: none, or more than four.
    """
    if not 1 <= len(options) <= MOST:
        raise TooManyOptionsQuoted(f"a quote holds one to {MOST} options, not {len(options)}")
    terms = options[0][1].terms
    return Quote(
        number=head.number,
        title=head.title,
        code=head.code,
        customer=head.customer,
        made=head.made,
        valid_until=head.valid_until,
        tax_percent=terms.tax_percent,
        rate_per_h=terms.rate_per_h,
        options=tuple(_option(name, design.model_copy(update={"terms": terms}), prices) for name, design in options),
        excluded=terms.excluded,
    )


def to_give(quote: Quote) -> Quote:
    """A quote that may be given: one of its options at least has all it needs.

    Args:
        quote: as it would be given.

    Raises:
        NothingToGive: no option is finished.
    """
    if not any(option.finished for option in quote.options):
        raise NothingToGive(f"There is nothing to give. {quote.options[0].refused}")
    return quote


def _option(name: str, design: Design, prices: Prices) -> QuoteOption:
    ctx, terms = Context.of(design), design.terms
    found = assess(design, remedies=False)
    bill, rows = bill_of(ctx, prices), labour_of(ctx)
    hours = hours_of(rows)
    markup = round(bill.total * terms.parts_markup / 100, 2)
    parts = [
        QuoteLine(
            what=part.what,
            detail=part.detail,
            count=part.count,
            unit=part.unit,
            each=part.price,
            sum=round(part.count * part.price, 2),
        )
        for part in bill.parts
    ]
    for what, price in (("Handling of parts", markup), ("Small parts", terms.small_parts)):
        if price > 0:
            parts.append(QuoteLine(what=what, detail="", count=1.0, unit="lot", each=price, sum=price))
    parts_total = round(bill.total + markup + terms.small_parts, 2)
    labour = labour_cost(ctx, rows)
    net = round(parts_total + labour, 2)
    tax = round(net * terms.tax_percent / 100, 2)
    open_ = (*design.unfinished, *(item.title for item in found.stops))
    option = QuoteOption(
        name=name,
        unit=design.unit_named or "no unit chosen",
        does=() if open_ else tuple(_does(ctx, found)),  # nothing is promised of what is not built
        will_not=() if open_ else tuple(_will_not(ctx, found)),
        refused=f"Not offered as it stands: {'; '.join(open_)}." if open_ else "",
        finished=not design.unfinished,
        charge_ah_per_h=_rate(ctx),
        standing_days=_figure(found, "energy.standing_days"),
        parts=tuple(parts),
        work=tuple(
            QuoteLine(
                what=row.what,
                detail=row.detail,
                count=row.hours,
                unit="h",
                each=terms.rate_per_h,
                sum=round(row.hours * terms.rate_per_h, 2),
            )
            for row in rows
        ),
        unpriced=tuple(part.what for part in bill.parts if part.price == 0),
        parts_total=parts_total,
        hours=hours,
        labour_total=labour,
        net=net,
        tax=tax,
        total=round(net + tax, 2),
    )
    return spoken(design, option)


def _figure(found: Assessment, name: str) -> float | None:
    figure = found.figures.get(name)
    return None if figure is None or not isinstance(figure.value, float | int) else float(figure.value)


def _rate(ctx: Context) -> float | None:
    """What an hour's driving puts back [Ah to be had again]; `None` without a unit."""
    return round(rate_ah_per_h(ctx.design, ctx.solved), 1) if ctx.solved.output is not None else None


def _does(ctx: Context, found: Assessment) -> Iterator[str]:
    rate = _rate(ctx)
    if rate:
        yield f"An hour's driving puts about {rate:.0f} Ah back into the battery."
    hours, drive_h = put_back_h(ctx.design, ctx.solved), ctx.design.use.drive_h
    if hours:
        told = f"A day's use is put back in about {hours:.1f} h of driving"
        yield f"{told}; you drive {drive_h:g} h a day." if drive_h is not None else f"{told}."
    days = _figure(found, "energy.standing_days")
    if days is not None and days >= 1:
        yield f"Standing, it lasts about {days:.1f} days."
    yield from behaves(ctx.design)


def _will_not(ctx: Context, found: Assessment) -> Iterator[str]:
    design = ctx.design
    hours, drive_h = put_back_h(design, ctx.solved), design.use.drive_h
    if design.charger is not None and rate_ah_per_h(design, ctx.solved) <= 0:
        yield "While it drives, what runs on board takes all that it gives: the battery does not fill."
    elif hours is not None and drive_h is not None and drive_h < SHORT_OF * hours:
        yield f"{drive_h:g} h of driving does not put a whole day's use back."
    days = _figure(found, "energy.standing_days")
    if days is not None and days < 1:
        yield "Standing, it does not last a whole day as it is used."
    usual = chemistries()[design.auxiliary.chemistry]
    last = hours_between(design, ctx.solved, usual.taper_from, RECOVER_TO) if usual.taper_from < RECOVER_TO else None
    if last is not None and ctx.solved.output is not None:
        yield (
            f"Near full the battery takes less and less: from {percent(usual.taper_from)} to {percent(RECOVER_TO)} takes about "
            f"{last.hours:.1f} h of driving."
        )
    if design.auxiliary.chemistry == "lfp":
        least_c, stops = least_charging_c(design.auxiliary), not unstopped(ctx)
        told = "the battery is not charged, to save it" if stops else "the battery must not be charged"
        yield f"Under {least_c:.0f} °C {told}."
    output = ctx.solved.output
    if output is not None and output.yield_a < output.current_a - 0.5:
        yield f"On a hot day it gives {output.yield_a:.0f} A of its {output.current_a:.0f} A."
    if design.vehicle.low_phased:
        saves = "rests its alternator to save fuel" if design.vehicle.managed else "lowers its volts on the way"
        yield f"While the vehicle {saves}, it charges less or not at all."
    if design.use.mains_h <= 0 and not any(item.kind == "mains_charger" for item in design.still_fed):
        yield "It does not charge from the mains."
    if design.solar.panel_w is None:
        yield "It does not charge from the sun."
