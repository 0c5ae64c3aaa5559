"""A job that lacks its unit or a run is said to be unfinished wherever somebody might build, offer, sign or use it."""

from __future__ import annotations

from datetime import date
from itertools import combinations
from typing import Any

import pytest

from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.analyses.signing import CannotSign, check
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.procedure import procedure_of
from olvask.documents.customer import CustomerHead, customer_pdf
from olvask.documents.sheet import SheetHead, sheet_pdf
from olvask.store.cards import card_of
from olvask.store.demo import demo_designs
from tests.papers import words_of

LACKING: dict[str, tuple[dict[str, Any], str, str]] = {
    "unit": ({"charger": None}, "no unit is chosen", "match"),
    "supply": ({"supply": {"pieces": ()}}, "the supply run is not laid", "run"),
    "delivery": ({"delivery": {"pieces": ()}}, "the delivery run is not laid", "run"),
}
CUSTOMER = CustomerHead("Lamp van", "LV-7", "Hollin Moss", "2031-05-01", "1")


def without(design: Design, names: tuple[str, ...]) -> Design:
    """The design without some of what it needs."""
    document = design.model_dump(mode="json")
    for name in names:
        document |= LACKING[name][0]
    return Design.model_validate(document)


@pytest.mark.parametrize("code", ["RR-031", "KV-118"])
@pytest.mark.parametrize("names", [names for many in (1, 2, 3) for names in combinations(LACKING, many)], ids="+".join)
def test_nothing_is_promised_signed_or_handed_over(code: str, names: tuple[str, ...]) -> None:
    """Quote, signature, procedure, sheet, customer's page, stages and yard agree on what is lacking."""
    whole = next(design for heading, design in demo_designs() if heading.code == code)
    design = without(whole, names)
    wanted = [LACKING[name][1] for name in names]
    found = assess(design, remedies=False)
    assert list(design.unfinished) == wanted
    with pytest.raises(CannotSign, match="not finished") as refused:
        check(design, (), (), (), "E. Kestrel")
    head = QuoteHead("Lamp van", "LV-7", "", "2031-05-01", "2031-06-01")
    (option,) = quote_of(head, [("As designed", design)]).options
    assert option.does == option.will_not == ()
    told = {
        "signing": str(refused.value),
        "quote": option.refused,
        "procedure": procedure_of(Context.of(design)).procedure.text,
        "sheet": words_of(sheet_pdf(SheetHead("Lamp van", "LV-7", "", 1, date(2031, 5, 1)), design, found)),
    }
    for place, text in told.items():
        for words in wanted:
            assert words in " ".join(text.split()), (place, words)
    assert "Not ready to be used" in words_of(customer_pdf(CUSTOMER, design, found))
    for name in names:
        assert found.stages[LACKING[name][2]].missing  # type: ignore[index]
    if "unit" in names:
        assert found.stages["wake"].missing
    assert card_of(design).next_stage in ("survey", "match", "run")


@pytest.mark.parametrize("heading", [heading.code for heading, _ in demo_designs()])
def test_a_whole_job_is_not_called_unfinished(heading: str) -> None:
    """Nothing of it is said where nothing is lacking."""
    design = next(design for head, design in demo_designs() if head.code == heading)
    assert design.unfinished == ()
    assert "Not ready" not in procedure_of(Context.of(design)).procedure.text
