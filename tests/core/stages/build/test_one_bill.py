"""There is one bill: whoever says what a design takes or costs says the same."""

from __future__ import annotations

import os
import re
from collections import Counter

from hypothesis import given, settings
from hypothesis import strategies as st

from olvask.core.analyses.compare import compare
from olvask.core.circuit.context import Context
from olvask.core.model import Branch, Cable, Design
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.cuts import buying
from tests.core.test_laws import COUNT, designs
from tests.designs import cable, design, fuse

MANY = settings(COUNT, max_examples=int(os.environ.get("OLVASK_EXAMPLES", "80")))


def with_units(design: Design, units: int) -> Design:
    """The same job with several units."""
    return design.model_copy(update={"units": units})


@MANY
@given(designs(), st.integers(1, 3))
def test_everybody_reads_the_same_bill(job: Design, units: int) -> None:
    """Buying list, comparison and bill agree on the sum; the cuts name each conductor once, the labels both its ends."""
    job = with_units(job, units)
    bill, bought = bill_of(Context.of(job)), buying(job)
    assert bought.total == bill.total
    cost = next(row for row in compare([("a", job), ("b", job)]).consequences if row.path == "cost")
    assert set(cost.values) == {f"{bill.total:.0f} €"}
    names = Counter(cut.id for cut in bill.conductors)
    assert set(names.values()) <= {1}
    assert Counter(name for drum in bought.drums for name in drum.cuts) == names
    assert len(bought.labels) == 2 * len(bill.conductors)


@MANY
@given(designs(), st.integers(1, 3))
def test_every_conductor_that_is_described_is_on_the_bill(job: Design, units: int) -> None:
    """Counted from the description alone: each cable as often as it is laid, out and, by cable, back; each branch out and back."""
    job = with_units(job, units)
    bill = bill_of(Context.of(job))
    for run, letter in (("supply", "S"), ("delivery", "D")):
        described = job.supply if run == "supply" else job.delivery
        ways = 2 if described.back.kind == "cable" else 1
        laid = sum(piece.parallel * ways for piece in described.pieces if isinstance(piece, Cable))
        named = [cut for cut in bill.conductors if re.match(rf"{letter}\d", cut.id)]
        exact = len(named) == laid if units == 1 else len(named) >= laid
        assert exact, (run, laid, [cut.id for cut in bill.conductors])
        branches = sum(isinstance(piece, Branch) for piece in described.pieces)
        tails = [cut for cut in bill.conductors if re.match(rf"B{letter}\d", cut.id)]
        assert len(tails) == 2 * branches
    fitted = sum(piece.kind == "device" for run in (job.supply, job.delivery) for piece in run.pieces)
    guarded = sum(
        isinstance(p, Branch) and p.device is not None for run in (job.supply, job.delivery) for p in run.pieces
    )
    assert len(bill.devices) >= fitted + guarded
    if units > 1:
        alone = bill_of(Context.of(with_units(job, 1)))
        assert bill.total > alone.total
        assert len(bill.conductors) > len(alone.conductors)


def test_copper_costs_what_is_cut_of_it() -> None:
    """Twice the length is dearer by exactly what that much more of the cable costs, both ways, slack and all."""

    def job(length_m: float) -> Design:
        return design(supply={"pieces": [fuse(), cable("25 mm²", length_m)], "back": {"kind": "cable"}})

    short, long = (bill_of(Context.of(job(length_m))) for length_m in (2.0, 4.0))
    more_m = sum(cut.cut_m for cut in long.conductors) - sum(cut.cut_m for cut in short.conductors)
    assert abs(more_m - 2 * (4.0 - 2.0) * 1.2) < 0.21  # 0.1 m rounding up, two conductors
    per_m = (long.total - short.total) / more_m
    assert 1.0 < per_m < 20.0
