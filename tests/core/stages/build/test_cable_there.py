"""A cable that lies in the vehicle already is neither bought, cut off a drum nor laid; it is tested, ended and labelled."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.conductors import conductors_of
from olvask.core.stages.build.cuts import buying
from olvask.core.stages.build.labour import labour_of
from olvask.core.stages.build.procedure import procedure_of
from tests.designs import cable, design, fuse


def job(there: str, back: str = "cable", **changes: Any) -> Design:
    run = {
        "pieces": [fuse(60.0), cable("25 mm²", 4.0, there=there, place="under_floor", conduit=True)],
        "back": {"kind": back},
    }
    return design(supply=run, delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)]}, **changes)


def bought(made: Design) -> dict[str, float]:
    return {part.what: part.count for part in bill_of(Context.of(made)).parts}


@pytest.mark.parametrize(
    ("there", "back", "metres", "piped"),
    [
        ("", "cable", 9.6, 4.0),
        ("out", "cable", 4.8, 4.0),
        ("both", "cable", None, None),
        ("out", "chassis", None, None),
    ],
)
def test_what_is_bought(there: str, back: str, metres: float | None, piped: float | None) -> None:
    """4 m and a fifth of slack each way; conduit once, where anything is laid in it. A strap of the body has its own."""
    made = job(there, back)
    parts = bought(made)
    strap_m = 0.6 if back == "chassis" else 0.0
    assert parts.get("Cable 25 mm²", 0.0) == pytest.approx((metres or 0.0) + strap_m)
    assert parts.get("Conduit, split, with end caps") == piped
    used = sum(item.used_m for item in buying(made).drums if item.size == "25 mm²")
    assert used == pytest.approx((metres or 0.0) + strap_m)


def test_it_keeps_its_name_and_gets_its_ends() -> None:
    """On labels and diagram it is what it was; its lugs are bought; its circuit is the same."""
    new, old = job(""), job("both")
    names = [cut.id for cut in conductors_of(Context.of(old))]
    assert names == [cut.id for cut in conductors_of(Context.of(new))]
    assert [cut.id for cut in conductors_of(Context.of(old)) if cut.there] == ["S1+", "S1−"]
    assert bought(old)["Lug 25 mm² M8"] == bought(new)["Lug 25 mm² M8"]
    assert assess(old, remedies=False).figures == assess(new, remedies=False).figures


@pytest.mark.parametrize("there", ["", "out", "both"])
def test_the_work(there: str) -> None:
    """Laid as far as it is new, tested as far as it is old, and the hours go with what is laid."""
    ctx = Context.of(job(there))
    steps = {item.step.key: item.step for item in procedure_of(ctx).procedure.steps}
    laid = [name for key, step in steps.items() if key.startswith("route.c") for name in step.conductors]
    assert {"S1+", "S1−"} & set(laid) == {"": {"S1+", "S1−"}, "out": {"S1−"}, "both": set()}[there]
    tested = steps["out.inherited"].text if "out.inherited" in steps else ""
    assert ("S1+" in tested, "S1−" in tested) == (there != "", there == "both")
    hours = {row.what: row.hours for row in labour_of(ctx)}.get("Lay the supply run", 0.0)
    every_m = 0.15 * 4.0 * 1.25 if there != "both" else 0.0
    assert (hours > 0) is (every_m > 0)


def test_taken_over_it_is_not_bought_and_more_copper_is() -> None:
    """The way out that keeps it marks it as there; one that asks for more copper replaces it by a new one."""
    found = {"size": "25 mm²", "length_m": 3.0}
    start = design(inherited=found, supply={"pieces": []})
    told = next(item for item in assess(start).findings if item.id == "run.inherited")
    kept = apply(start, told.remedies[0])
    assert "Cable 25 mm²" not in {what for what, count in bought(kept).items() if count > 3.7}
    thin = design(supply={"pieces": [fuse(60.0), cable("10 mm²", 6.0, there="both")]})
    grown = [
        apply(thin, remedy)
        for item in assess(thin).findings
        for remedy in item.remedies
        if any(change.path.endswith(".size") for change in remedy.changes)
    ]
    assert grown
    assert all(piece.there == "" for made in grown for piece in made.supply.pieces if piece.kind == "cable")


@pytest.mark.parametrize(("shared_a", "step"), [(0.0, True), (4.0, False)])
def test_an_old_cable_that_is_not_used_is_made_dead(shared_a: float, step: bool) -> None:
    """One that nothing hangs on goes, or its ends do; one that feeds something else stays as it is."""
    made = design(inherited={"size": "6 mm²", "length_m": 4.0, "shared_a": shared_a})
    keys = {item.step.key for item in procedure_of(Context.of(made)).procedure.steps}
    assert ("out.cable" in keys) is step
    assert "out.inherited" not in keys


@pytest.mark.parametrize(
    ("there", "words"),
    [
        ("", "Cut, crimp and label"),
        ("out", "Cut what is new, crimp and label"),
        ("both", "Give new ends and labels to"),
    ],
)
def test_what_is_done_to_its_ends(there: str, words: str) -> None:
    """All of it cut, the new half alone, or nothing cut at all."""
    steps = {item.step.key: item.step.text for item in procedure_of(Context.of(job(there))).procedure.steps}
    assert steps["end.c1"].startswith(f"{words} S1")


def test_conduit_is_bought_by_the_tenth_of_a_metre() -> None:
    """2.26 m of cable in conduit: 2.3 m of it."""
    piped = design(supply={"pieces": [fuse(60.0), cable("25 mm²", 2.26, conduit=True)]})
    (conduit,) = (part for part in bill_of(Context.of(piped)).parts if part.what.startswith("Conduit"))
    assert conduit.count == 2.3
