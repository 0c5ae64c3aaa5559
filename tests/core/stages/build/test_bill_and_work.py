"""What is bought is built in, and what is built in is bought: every line of the bill has its place in the work.

Each kind of part is told by the words a step must have; a part of a kind unknown here fails, so that nothing comes onto the
bill without its work.
"""

from __future__ import annotations

import os
import random
import re
from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design, Joint
from olvask.core.stages.build.bill import Part, bill_of
from olvask.core.stages.build.labour import labour_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as listed
from tests.designs import design
from tests.documents.test_sheet_alone import random_design

MANY = int(os.environ.get("OLVASK_BILLS", "60"))
# A part's words, and what a step says of it; a match's group stands for itself.
IN_THE_WORK: list[tuple[str, str]] = [
    (r"Cable, shunt to post", r"one short cable to the negative post"),
    (r"Cable .*", r"Cut, crimp and label"),
    (r"(?:Lug|Ferrule|Crimped contact|Heat-shrink) .*", r"Cut, crimp and label"),
    (r"Clip with screw", r"clipped every 30 cm"),
    (r"Conduit.*", r"in conduit"),
    (r"Grommet", r"grommet"),
    (r"Fan kit", r"Fit the fan"),
    (r"Grille", r"Cut the openings"),
    (r"Isolator", r"isolator"),
    (r"Changeover relay .*", r"Fix the changeover relay"),
    (r"Switch", r"Fix the switch"),
    (r"Temperature sensor", r"Lay the unit's temperature sensor"),
    (r"Shunt 300", r"Fix the shunt"),
    (r"Auxiliary battery", r"Set the auxiliary battery in"),
    (r"Bus bar: .*, for \d+ units", r"Fix the bus bars the units hang on"),
    (r"(?:Joint|Bus bar|Connector|Plug): (.*)", r"Fix what the runs pass: .*\1"),
    (r"Holder, .*", r"holder"),
    (r"Test unit", r"Fix Test unit"),
]
WIRES = {
    "D+ to the relay's coil": r"Fix the changeover relay .*, and wire it",
    "relay coil, at D+": r"Put the fuses of the changeover relay in",
    "relay contact, terminal 30": r"Put the fuses of the changeover relay in",
    "the monitor's sense lead, at the post": r"the fused sense lead of the monitor",
}


def everything(pick: random.Random) -> Design:
    """A random job with whatever may be bought for it."""
    plain: dict[str, Any] = random_design(pick).model_dump(mode="json")
    for run in ("supply", "delivery"):
        for piece in plain[run]["pieces"]:
            if piece["kind"] == "cable":
                piece |= {"conduit": pick.random() < 0.4, "place": pick.choice(("cabin", "under_floor"))}
    plain["choices"]["protection_school"] = pick.choice(("fuse", "fuse_isolator", "breaker"))
    plain["mount"] |= {"around": "vents", "vent_low_cm2": pick.choice((0.0, 80.0)), "vent_high_cm2": 80.0}
    plain["mount"]["fan_m3_h"] = pick.choice((0.0, 40.0))
    plain["monitor"]["unit"] = pick.choice((None, {"name": "Shunt 300", "shunt_a": 300.0}))
    plain["charge"]["compensation_mv_per_k"] = pick.choice((None, -24.0))
    plain["activation"]["ways"] = pick.choice((["switch", "ignition"], ["d_plus"], ["bridge"], ["voltage"]))
    plain["site"]["auxiliary_there"] = pick.choice(("", "there", "new"))
    return Design.model_validate(plain)


def wanted(part: Part) -> str:
    """What a step must say of a part."""
    if part.detail in WIRES:
        return WIRES[part.detail]
    if part.what.startswith("Wire ") or part.detail.startswith("at terminal"):
        return r"Lay the enable wire"
    if part.detail == "device":
        rating = " ".join(part.what.split()[-2:])
        return rf"{re.escape(rating)} (?:device|of)|each unit's own device"
    for words, says in IN_THE_WORK:
        found = re.fullmatch(words, part.what)
        if found:
            return found.expand(says) if found.groups() else says
    raise AssertionError(f"{part.what}: nothing says where it goes")


@pytest.mark.parametrize("seed", range(MANY))
def test_every_part_has_its_place_in_the_work(seed: int) -> None:
    """A step speaks of it; and a step that fits something does so of a part on the bill."""
    job = everything(random.Random(seed))
    ctx = Context.of(job)
    steps = [item.step for item in procedure_of(ctx).procedure.steps]
    parts = bill_of(ctx).parts
    said = [step.text for step in steps]
    for part in parts:
        assert any(re.search(wanted(part), text) for text in said), part
    names = [part.what for part in parts]
    for key, bought in (
        ("mount.isolators", "Isolator"),
        ("mount.relay", "Changeover relay"),
        ("mount.switch", "Switch"),
        ("mount.sensor", "Temperature sensor"),
        ("mount.shunt", "Shunt 300"),
        ("mount.auxiliary", "Auxiliary battery"),
        ("mount.fan", "Fan kit"),
        ("mount.vents", "Grille"),
    ):
        fitted, paid = any(step.key == key for step in steps), any(name.startswith(bought) for name in names)
        assert fitted is paid, key


@pytest.mark.parametrize("seed", range(0, MANY, 4))
def test_hours_are_paid_for_what_is_fitted(seed: int) -> None:
    """The battery, the relay and what is taken out have hours where they have a step, and none where they have not."""
    ctx = Context.of(everything(random.Random(seed)))
    keys = {item.step.key for item in procedure_of(ctx).procedure.steps}
    hours = {row.what: row.hours for row in labour_of(ctx)}
    for key, row in (
        ("mount.auxiliary", "Set the auxiliary battery in"),
        ("mount.relay", "Changeover relay"),
        ("mount.shunt", "Monitor and shunt"),
        ("mount.fan", "Fan kit"),
        ("mount.vents", "Openings"),
    ):
        assert (hours.get(row, 0.0) > 0) is (key in keys), row


def _there(job: Design) -> dict[str, bool]:
    """Words, and whether the job has what they name."""
    kinds = {item.kind for item in job.existing}
    forms = {piece.form for run in (job.supply, job.delivery) for piece in run.pieces if isinstance(piece, Joint)}
    lifted = {item.kind for item in job.vehicle.lifters}
    return {
        "relay": bool(kinds & {"link", "panel"}),
        "shunt": job.monitor.unit is not None or "monitor" in kinds,
        "monitor": job.monitor.unit is not None or "monitor" in kinds,
        "isolator": job.choices.protection_school == "fuse_isolator",
        "the fan": job.mount.fan_m3_h > 0,
        "the switch": "switch" in job.activation.ways,
        "trailer": "plug" in forms or job.vehicle.chassis.trailer,
        "sun": job.solar.panel_w is not None or "solar" in lifted,
        "each unit": job.units > 1,
        "inverter": job.site.inverter or any(load.fed == "inverter" for load in job.use.loads),
        "the gas": job.site.gas,
        "seat": job.site.seats,
    }


@pytest.mark.parametrize("seed", range(MANY))
def test_nothing_is_named_that_is_not_there(seed: int) -> None:
    """Steps, tests, parts and hours speak of a relay, a shunt, a trailer or the sun only where the job has one."""
    job = everything(random.Random(seed))
    ctx = Context.of(job)
    steps = [item.step for item in procedure_of(ctx).procedure.steps]
    told = [words for step in steps for words in (step.text, step.why, *step.see)]
    told += [words for test in listed(ctx) for words in (test.text, test.state)]
    told += [f"{part.what} {part.detail}" for part in bill_of(ctx).parts]
    told += [row.what for row in labour_of(ctx)]
    for word, there in _there(job).items():
        named = [words for words in told if re.search(rf"\b{word}\b", words, re.IGNORECASE)]
        assert there or not named, (word, named)


def test_a_bridge_lies_across_its_terminals() -> None:
    """No wire is bought or laid for it; a switch has its wire, led through it."""
    bridged, switched = (Context.of(design(activation={"ways": [way]})) for way in ("bridge", "switch"))
    assert not any(part.what.startswith("Wire") for part in bill_of(bridged).parts)
    assert any(part.what.startswith("Wire") for part in bill_of(switched).parts)
    keys = {item.step.key for item in procedure_of(bridged).procedure.steps}
    assert "route.signal" not in keys
    laid = {item.step.key: item.step.text for item in procedure_of(switched).procedure.steps}["route.signal"]
    assert laid == "Lay the enable wire: first remote terminal, through the switch, to second remote terminal"


def test_every_menu_is_keyed_and_paid_for() -> None:
    """A step and hours for the unit's sheet, the monitor's and a panel's controller's; none for one with nothing to key."""
    size = {
        "id": "s",
        "label": "size",
        "means": "capacity_ah",
        "unit": "Ah",
        "from_value": 1,
        "to_value": 500,
        "step": 1,
    }
    kind: dict[str, Any] = {"id": "k", "label": "kind", "means": "battery_type", "kind": "choice", "factory": "lead"}
    kind |= {"options": [{"label": "lead", "stands_for": "agm"}, {"label": "lithium", "stands_for": "lfp"}]}
    job = {
        "monitor": {"unit": {"name": "Shunt 300", "settings": {"lines": [size | {"factory": 200}]}}},
        "solar": {"panel_w": 120.0, "into": "controller", "stages": {"settings": {"lines": [kind]}}},
    }
    for chemistry, keyed in (("lfp", {"monitor", "solar"}), ("agm", {"monitor"})):
        battery = {"chemistry": chemistry, "capacity_ah": 100.0, "low_temperature_cut_off": True}
        ctx = Context.of(design(**job, auxiliary=battery))
        steps = [item.step.key for item in procedure_of(ctx).procedure.steps]
        assert {key.rpartition(".")[2] for key in steps if key.startswith("key.device")} == keyed
        assert all(steps.index(f"key.device.{place}") > steps.index("join.auxiliary_negative") for place in keyed)
        paid = {row.what for row in labour_of(ctx) if row.what.startswith("Key in and read back, ") and row.hours > 0}
        assert len(paid) == len(keyed)
