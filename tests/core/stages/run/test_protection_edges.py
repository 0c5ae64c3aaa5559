"""Every standard device put in one place after another: each fault is said exactly where its own numbers say so."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import devices
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import RUNS, Cable, Design, ProtectiveDevice, RunName
from olvask.core.physics.battery import internal_ohm, open_circuit_v, prospective_short_a
from olvask.core.stages.run.device_facts import device_facts
from olvask.core.stages.run.protection import bare_m, device_above, held_of, protected_ampacity_a
from olvask.core.stages.run.shorts import prospective_a
from tests.designs import cable, charger, design, fuse

ALL = [(item.family, item.rating_a) for item in devices()]


def said(job: Design, place: str) -> set[str]:
    """Kinds of what is said of a device."""
    found = assess(job, remedies=False).findings
    return {item.id.split(".")[1] for item in found if item.id.startswith("protect.") and item.id.endswith(f".{place}")}


def job_with(family: str, rating_a: float, run: str, **changes: Any) -> Design:
    """The plain job, short and thick, with one device on a run."""
    pieces = [fuse(rating_a, family) | {"id": "dx"}, cable("16 mm²", 1.0) | {"id": "cx"}]
    return design(**{run: {"pieces": pieces if run == "supply" else pieces[::-1]}}, **changes)


@pytest.mark.parametrize("run", ["supply", "delivery"])
@pytest.mark.parametrize(("family", "rating_a"), ALL)
def test_every_device_by_its_own_numbers(family: str, rating_a: float, run: str) -> None:
    """Small under what flows, close under 1.25 of it, large above the cable, weak under the volts and the short circuit."""
    job = job_with(family, rating_a, run)
    ctx = Context.of(job)
    amps = 25.0 if run == "delivery" else ctx.solved.output.power_in_w / ctx.stay_v  # type: ignore[union-attr]
    lowest_v = min(ctx.stay_v, ctx.linger_v)
    highest_a = amps if run == "delivery" else max(amps, ctx.solved.output.power_in_w / lowest_v)  # type: ignore[union-attr]
    item = next(one for one in devices() if (one.family, one.rating_a) == (family, rating_a))
    ceiling_a = ampacity(Cable.model_validate(cable("16 mm²", 1.0) | {"id": "c"}), job.choices.ampacity_school)[0]
    battery = ("flooded", 90.0) if run == "supply" else ("agm", 110.0)
    short_a = prospective_short_a(battery[0], battery[1], 12, 0.0)
    expected = {
        "small": rating_a < highest_a,
        "tight": highest_a <= rating_a < 1.25 * amps,
        "large": rating_a > ceiling_a,
        "voltage": item.voltage_v < 16.0,
        "interrupt": item.interrupt_a(12) < short_a,
    }
    found = said(job, "dx") & set(expected)
    assert found == {kind for kind, true in expected.items() if true}
    titles = [item.title for item in assess(job, remedies=False).findings if item.id.startswith("protect.")]
    assert not [title for title in titles if title[0].islower()]  # a family's name begins many of them


def test_a_short_at_the_far_end() -> None:
    """Half-charged volts over twice the battery's own resistance and the warm loop, against the rating, by the wanted multiple."""
    job = job_with("class_t", 60.0, "delivery")
    ctx = Context.of(job)
    loop_ohm = ctx.solved.output.run.loop_ohm  # type: ignore[union-attr]
    fault_a = open_circuit_v("agm", 0.5, 12) / (2 * internal_ohm("agm", 110.0, 12) + loop_ohm)
    for multiple, there in ((fault_a / 60.0 - 0.01, False), (fault_a / 60.0 + 0.01, True)):
        choices = job.choices.model_copy(update={"fault_multiple": multiple})
        assert ("fault" in said(job.model_copy(update={"choices": choices}), "dx")) is there


@pytest.mark.parametrize("run", ["supply", "delivery"])
@pytest.mark.parametrize(("bare", "there"), [(0.0, False), (0.2, False), (0.21, True), (3.0, True)])
def test_cable_before_the_device(run: str, bare: float, there: bool) -> None:
    """Two hand's breadths of cable may leave a battery unguarded, no more; counted from the battery on either run."""
    pieces: list[Any] = [fuse(60.0) | {"id": "dx"}, cable("25 mm²", 1.0) | {"id": "cx"}]
    if bare:
        pieces.insert(0, cable("25 mm²", bare) | {"id": "cb"})
    job = design(**{run: {"pieces": pieces if run == "supply" else pieces[::-1]}})
    found = {item.id for item in assess(job, remedies=False).findings}
    assert (f"protect.missing.{run}" in found) is there
    name: RunName = "supply" if run == "supply" else "delivery"
    at = next(index for index, piece in enumerate(job.run(name).pieces) if piece.id == "dx")
    assert bare_m(job, name, at) == pytest.approx(bare)


def test_no_device_and_no_cable() -> None:
    """A cable without any device is said; a run nobody has laid yet is not."""
    bare = {item.id for item in assess(design(supply={"pieces": [cable()]}), remedies=False).findings}
    assert "protect.missing.supply" in bare
    assert "protect.missing.delivery" not in bare
    empty = {item.id for item in assess(design(supply={"pieces": []}), remedies=False).findings}
    assert "protect.missing.supply" not in empty


def test_which_device_guards_which_cable() -> None:
    """The nearest towards the battery: on the supply run the one before, on the delivery run the one after."""
    pieces = [
        fuse() | {"id": "d1"},
        cable("25 mm²") | {"id": "c1"},
        fuse(40.0) | {"id": "d2"},
        cable("6 mm²", 0.5) | {"id": "c2"},
    ]
    job = design(supply={"pieces": pieces}, delivery={"pieces": pieces[::-1]})
    assert [device_above("supply", job.supply, at) for at in range(4)] == [None, 0, 0, 2]
    assert [device_above("delivery", job.delivery, at) for at in range(4)] == [1, 3, 3, None]
    school = job.choices.ampacity_school
    for run, first, second in (("supply", 0, 2), ("delivery", 3, 1)):
        for at, size in ((first, "25 mm²"), (second, "6 mm²")):
            alone = ampacity(Cable.model_validate(cable(size) | {"id": "c"}), school)[0]
            assert protected_ampacity_a(job, run, at) == pytest.approx(alone)  # type: ignore[arg-type]
    near, far = prospective_a(job, "supply", 0), prospective_a(job, "supply", 2)
    assert far < near
    assert prospective_a(job, "delivery", 3) > prospective_a(job, "delivery", 1)
    # Through 3 m of 25 mm², 0.78 mΩ/m at 20 °C, in the cabin's 30 °C, and two lugs at the job's own.
    bare = design(supply={"pieces": [cable("25 mm²", 3.0), fuse()]})
    path_ohm = 3 * 0.00078 * (1 + 0.00393 * 10) + 2 * bare.choices.lug_mohm / 1000
    short_a = prospective_short_a("flooded", 90.0, 12, path_ohm)
    assert prospective_a(bare, "supply", 1) == pytest.approx(short_a, rel=1e-3)


@pytest.mark.parametrize(
    ("school", "family", "there"),
    [("breaker", "class_t", True), ("fuse", "class_t", False), ("fuse_isolator", "class_t", False)],
)
def test_a_fuse_where_breakers_are_chosen(school: str, family: str, there: bool) -> None:
    """Said once at the battery; a breaker, or another school, is left in peace; so is a device far down the run."""
    job = job_with(family, 60.0, "supply", choices={"protection_school": school})
    assert ("school" in said(job, "dx")) is there
    breakers = [item for item in devices() if item.resettable and item.rating_a >= 40]
    chosen = job_with(breakers[0].family, breakers[0].rating_a, "supply", choices={"protection_school": "breaker"})
    assert "school" not in said(chosen, "dx")
    deep = design(
        supply={"pieces": [fuse(), cable(), fuse(40.0) | {"id": "dx"}, cable("10 mm²", 0.5)]},
        choices={"protection_school": school},
    )
    assert "school" not in said(deep, "dx")


@pytest.mark.parametrize(("bare", "at_the_battery"), [(0.15, True), (0.2, True), (0.25, False)])
def test_a_fuse_as_far_off_as_is_allowed_is_the_batterys(bare: float, at_the_battery: bool) -> None:
    """0.2 m of cable to a holder are allowed, and typed as such: there the fuse is looked at as any at the battery."""
    pieces = [cable("16 mm²", bare), fuse(60.0) | {"id": "dx"}, cable("16 mm²", 1.0)]
    job = design(supply={"pieces": pieces}, choices={"protection_school": "breaker"})
    assert ("school" in said(job, "dx")) is at_the_battery


def test_a_turned_down_unit_is_guarded_for_what_it_is_set_to() -> None:
    """25 A set to 12 A: 15 A is not too close, where 20 A would be too small for the whole."""
    unit = charger(output_a=40.0)
    small = [cable("6 mm²", 1.0), fuse(30.0) | {"id": "dx"}]
    assert "small" in said(design(charger=unit, delivery={"pieces": small}), "dx")
    assert "small" not in said(design(charger=unit, delivery={"pieces": small}, current_limit_a=20.0), "dx")


def test_what_is_wrong_at_the_battery_is_said() -> None:
    """No device at all: what a short would draw; one too far off: how far, and how far it may be."""

    def text(*pieces: Any) -> str:
        found = assess(design(supply={"pieces": list(pieces)}), remedies=False).findings
        return next(item.text for item in found if item.id == "protect.missing.supply")

    assert text(cable()).startswith("No device protects the supply run at the start battery: a short would draw ")
    far = "1.00 m of cable leaves the start battery before its device; 0.2 m is the most allowed."
    assert text(cable("25 mm²", 1.0), fuse(60.0), cable()) == far


def test_what_a_device_carries_with_a_branch_on_its_run() -> None:
    """Towards 8 A of a lamp the supply's device carries both; behind 30 A of a fridge the delivery's what that draws alone."""
    lamp = {"kind": "branch", "name": "lamp", "current_a": 8.0, "size": "6 mm²", "device": fuse(10.0, "blade")}
    fridge = lamp | {"name": "fridge", "current_a": 30.0, "device": fuse(40.0, "sf30")}
    ctx = Context.of(
        design(
            supply={"pieces": [fuse(60.0) | {"id": "ds"}, cable(), lamp, cable()]},
            delivery={"pieces": [cable("16 mm²", 1.0), fridge, cable("16 mm²", 1.0), fuse(40.0) | {"id": "dd"}]},
        )
    )
    least = {item.place: item.least_a for item in device_facts(ctx, ())}
    assert least["ds"] == pytest.approx(1.25 * (ctx.continuous_a("supply") + 8.0))
    assert least["dd"] == pytest.approx(1.25 * 30.0)
    lingers = {
        run: held_of(ctx, run, at, piece).lingering_a
        for run in RUNS
        for at, piece in enumerate(ctx.design.run(run).pieces)
        if isinstance(piece, ProtectiveDevice)
    }
    assert lingers == pytest.approx({"supply": ctx.lingering_a("supply") + 8.0, "delivery": 30.0})


@pytest.mark.parametrize("run", RUNS)
def test_a_run_without_a_device_is_offered_one_at_its_battery(run: RunName) -> None:
    """First of the supply's pieces, last of the delivery's; with it nothing is said of a missing one any more."""
    job = design(**{run: {"pieces": [cable("16 mm²", 1.0)]}})
    (missing,) = [item for item in assess(job).findings if item.id == f"protect.missing.{run}"]
    mended = apply(job, missing.remedies[0])
    kinds = [piece.kind for piece in mended.run(run).pieces]
    assert kinds == (["device", "cable"] if run == "supply" else ["cable", "device"])
    assert not [item for item in assess(mended).findings if item.id.startswith("protect.") and item.level == "stop"]


@pytest.mark.parametrize("run", RUNS)
def test_a_short_that_opens_its_device_late_has_ways_out(run: RunName) -> None:
    """A device a short at the far end does open, and copper for the one that is there; either is the end of it, nothing new comes."""
    pieces = [fuse(100.0, "sf51") | {"id": "dx"}, cable("25 mm²", 18.0) | {"id": "cx"}]
    job = design(
        **{run: {"pieces": pieces if run == "supply" else pieces[::-1]}},
        charger=charger(output_a=20.0, terminal_max_mm2=120.0),
    )
    found = {item.id: item for item in assess(job).findings}
    late = found["protect.fault.dx"]
    assert {remedy.changes[0].path.rsplit(".", 1)[-1] for remedy in late.remedies} == {"dx", "size"}
    for remedy in late.remedies:
        after = {item.id: item for item in assess(apply(job, remedy)).findings}
        assert late.id not in after
        assert {name for name, item in after.items() if item.level == "stop"} <= {*found}
