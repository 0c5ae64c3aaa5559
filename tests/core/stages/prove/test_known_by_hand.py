"""What tests take as known of a design, by hand."""

from __future__ import annotations

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.tests import tests_of as every_test
from olvask.core.stages.prove.unknowns import constants_of
from tests.designs import cable, design, fuse

FAN = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}


@pytest.mark.parametrize("bare", ["supply", "delivery"])
def test_a_job_with_one_run_laid_cannot_be_run(bare: str) -> None:
    """Either missing, nothing that needs the unit charging can be done, and each such test says why."""
    cannot = {item.key: item.cannot for item in every_test(Context.of(design(**{bare: {"pieces": []}})))}
    assert cannot["input_a"] == "A run is not laid yet."
    assert not any(item.cannot for item in every_test(Context.of(design())) if item.key == "input_a")


def test_a_branch_weighs_on_each_leg_by_its_own_resistance() -> None:
    """A fan between two cables of the delivery: its current counts on the part of the return that lies before it."""
    pieces = [cable("16 mm²", 1.0), FAN, cable("16 mm²", 3.0), fuse(40.0)]
    ctx = Context.of(design(delivery={"pieces": pieces}))
    known = constants_of(ctx).extra_a
    legs = {
        "delivery_out": [(piece.out_ohm, piece.extra_a) for piece in ctx.state("delivery").pieces],
        "delivery_back": [(piece.back_ohm, piece.extra_a) for piece in ctx.state("delivery").pieces],
    }
    for leg, parts in legs.items():
        mean = sum(ohm * amps for ohm, amps in parts) / sum(ohm for ohm, _ in parts)
        assert known[leg] == pytest.approx(mean)  # type: ignore[index]
    assert known["delivery_back"] != pytest.approx(known["delivery_out"], rel=1e-3)
