"""What a bill and a step say of small things, by hand."""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.procedure import procedure_of
from tests.designs import design


def test_a_new_battery_without_a_price_is_no_money() -> None:
    """It stands on the bill as one whose price is not noted; with one it counts."""
    for price, stands in ((None, 0.0), (480.0, 480.0)):
        bill = bill_of(Context.of(design(site={"auxiliary_price": price, "auxiliary_there": "new"})))
        (part,) = [item for item in bill.parts if item.what == "Auxiliary battery"]
        assert (part.count, part.price) == (1.0, stands)


def test_one_switch() -> None:
    """However many ways there are beside it."""
    bill = bill_of(Context.of(design(activation={"ways": ["switch", "d_plus"]})))
    assert [item.count for item in bill.parts if item.what == "Switch"] == [1.0]


def test_seats_set_back_are_photographed() -> None:
    """Evidence of what was disturbed."""
    ctx = Context.of(design(site={"seats": True, "airbags": True}))
    (step,) = [item.step for item in procedure_of(ctx).procedure.steps if item.step.key == "seats.plugs"]
    assert step.photo
