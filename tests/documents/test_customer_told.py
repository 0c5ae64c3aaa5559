"""What the customer's page tells of how long it charges on, and of a reset."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.documents.customer import CustomerHead, customer_pdf
from tests.designs import charger, design
from tests.papers import words_of

HEAD = CustomerHead(title="Van", code="V-1", customer="C", printed="2031-05-02", revision="1")


def told(**changes: Any) -> str:
    made = design(**changes)
    return words_of(customer_pdf(HEAD, made, assess(made)))


@pytest.mark.parametrize(
    ("rules", "words"),
    [
        ({"ways": ["voltage"], "stop_held_s": 30.0}, "it may go on for some seconds;"),
        ({"ways": ["switch", "voltage"], "stop_held_s": 300.0}, "it may go on for about 5 minutes;"),
        (
            {"ways": ["voltage"], "stop_v": 12.65},
            "it may go on for a while, until the start battery has fallen a little;",
        ),
        ({"ways": ["d_plus", "voltage"], "stop_held_s": 300.0}, ""),
        ({"ways": ["ignition"]}, ""),
    ],
)
def test_how_long_it_goes_on_after_a_stop(rules: dict[str, Any], words: str) -> None:
    """By the hold of its stop; a signal ends it at once; a full battery may rest on a low stop."""
    text = told(activation={"start_v": 13.3, "stop_v": 13.0} | rules)
    assert ("it may go on for" in text) is bool(words)
    assert words in text


@pytest.mark.parametrize("ways", [["switch"], ["d_plus"]])
@pytest.mark.parametrize("reset", ["", "all of its menu."])
def test_a_reset_is_forbidden_but_where_nothing_else_stops_it(ways: list[str], reset: str) -> None:
    """A mode that stays is ended by a reset alone: the page cannot both forbid it and send the customer to it."""
    text = told(charger=charger(behaviour={"latched": True, "reset": reset}), activation={"ways": ways})
    assert ("Do not reset the unit" in text) is (ways == ["d_plus"])
    assert ("only as the workshop has shown" in text) is (ways == ["switch"])
    assert (reset or "it would forget what it was set to") in text


@pytest.mark.parametrize(("daily_ah", "words"), [(44.0, "lasts 2.0 days"), (176.0, "lasts less than a day")])
def test_how_long_it_stands(daily_ah: float, words: str) -> None:
    """110 Ah, of which a fifth is kept: two days, and half a one."""
    assert words in told(use={"daily_ah": daily_ah, "reserve": 0.2, "drive_h": 4.0})


@pytest.mark.parametrize(("chemistry", "told_of"), [("flooded", True), ("agm", False), ("lfp", False)])
def test_only_cells_with_caps_are_topped_up(chemistry: str, told_of: bool) -> None:
    auxiliary = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0}
    assert ("distilled water" in told(auxiliary=auxiliary)) is told_of


def test_without_a_unit_nothing_is_said_of_one() -> None:
    """No lamps, no reset, no warm unit, no charge that may be missing; with one all four are there."""
    words = ("lamps mean", "reset", "A warm unit", "does not charge after half an hour")
    assert [word for word in words if word.lower() in told(charger=None).lower()] == []
    assert [word for word in words if word.lower() in told().lower()] == list(words)
