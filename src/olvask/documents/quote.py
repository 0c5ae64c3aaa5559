"""A quote on paper, printed from what was kept, never from today's prices.

- `quote_pdf`: the whole.
"""

from __future__ import annotations

from olvask.core.analyses.quote import Quote, QuoteLine, QuoteOption
from olvask.core.model.house import House
from olvask.documents.typeset import NO_HOUSE, typeset


def quote_pdf(quote: Quote, house: House = NO_HOUSE) -> bytes:
    """Typeset a quote: options side by side, then what each is made of."""
    return typeset(
        "quote.typ",
        {
            "number": quote.number,
            "title": quote.title,
            "code": quote.code,
            "customer": quote.customer,
            "made": quote.made,
            "valid": quote.valid_until,
            "tax": f"{quote.tax_percent:g} %",
            "currency": "€",
            "excluded": list(quote.excluded) or ["nothing named"],
            "options": [_option(option) for option in quote.options],
        },
        house=house,
    )


def _euro(value: float) -> str:
    return f"{value:,.2f} €".replace(",", "\u202f")  # the house's currency takes the euro's place


def _option(option: QuoteOption) -> dict[str, object]:
    return {
        "name": option.name,
        "unit": option.unit,
        "refused": option.refused,
        "does": list(option.does),
        "will_not": list(option.will_not),
        "unpriced": ", ".join(dict.fromkeys(option.unpriced)),
        "parts_total": _euro(option.parts_total),
        "hours": f"{option.hours:g} h",
        "labour": _euro(option.labour_total),
        "net": _euro(option.net),
        "tax": _euro(option.tax),
        "total": _euro(option.total),
        "parts": [_line(line) for line in option.parts],
        "work": [_line(line) for line in option.work],
    }


def _line(line: QuoteLine) -> dict[str, str]:
    return {
        "what": line.what,
        "detail": line.detail,
        "count": f"{line.count:g} {'piece' if line.unit == 'pieces' and line.count == 1 else line.unit}",
        "each": f"{line.each:.2f}",
        "sum": f"{line.sum:.2f}",
    }
