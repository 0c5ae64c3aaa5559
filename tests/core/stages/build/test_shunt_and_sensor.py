"""A monitor's shunt and the unit's sensor, in the work, on the labels and on the bill, as Settings has them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.conductors import conductors_of
from olvask.core.stages.build.procedure import procedure_of
from tests.designs import cable, charger, design, fuse

NEW = {"monitor": {"unit": {"name": "Shunt 300", "shunt_a": 300.0}}}
FOUND: dict[str, Any] = {"existing": [{"kind": "monitor"}]}
POST, LOAD = "auxiliary battery −", "shunt, load side"
BODY = {"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis"}}


def negatives(**changes: Any) -> set[str]:
    """Where negatives of the delivery side end at the battery."""
    cuts = conductors_of(Context.of(design(**changes)))
    return {end.at for cut in cuts for end in cut.ends if end.at in (POST, LOAD)}


@pytest.mark.parametrize(
    ("job", "lands"),
    [
        ({}, {POST}),
        (NEW, {LOAD}),
        (FOUND, {LOAD}),
        ({"existing": [{"kind": "monitor", "cut": True}]}, {POST}),
        ({"monitor": NEW["monitor"] | {"bypassed_by": ["unit"]}}, {POST}),
        (NEW | {"delivery": BODY}, {LOAD}),
        ({"monitor": NEW["monitor"] | {"bypassed_by": ["chassis"]}, "delivery": BODY}, {POST}),
    ],
)
def test_negatives_land_where_the_shunt_counts_them(job: dict[str, Any], lands: set[str]) -> None:
    """On its load side, a strap to the body as well; on the post where there is none, or where it is noted to go past."""
    assert negatives(**job) == lands


def steps(**changes: Any) -> dict[str, Any]:
    placed = procedure_of(Context.of(design(**changes))).procedure.steps
    return {item.step.key: (at, item.step) for at, item in enumerate(placed)}


def test_a_new_shunt_is_fixed_dead_and_alone_goes_on_the_post() -> None:
    """Before any end is bolted; then its own cable is the only thing put on the negative, its sense lead on the positive."""
    found = steps(**NEW, site={"auxiliary_there": "there"})
    shunt, negative, positive = found["mount.shunt"], found["join.auxiliary_negative"], found["join.auxiliary_positive"]
    assert shunt[0] < found["bolt.c2"][0] < negative[0]
    assert negative[1].text == "Put the shunt's own cable on the auxiliary battery's negative"
    assert "the fused sense lead of the monitor" in positive[1].text
    assert any("shunt, load side" in line for line in found["bolt.c2"][1].see)
    before = steps(**FOUND, site={"auxiliary_there": "there"})
    assert "mount.shunt" not in before
    assert before["join.auxiliary_negative"][1].text == "Put what was there on the auxiliary battery's negative"


COMPENSATION = {
    "id": "k",
    "label": "k",
    "means": "compensation_mv_per_k",
    "unit": "mV/K",
    "from_value": -60,
    "to_value": 0,
    "step": 1,
}
PACK = {"chemistry": "lfp", "capacity_ah": 100.0}
COLD = {"id": "c", "label": "c", "means": "cold_c", "unit": "°C", "from_value": -5, "to_value": 10, "step": 1}


@pytest.mark.parametrize(
    ("job", "wanted"),
    [
        ({}, False),  # its menu is not on the shelf and nothing is chosen
        ({"charge": {"compensation_mv_per_k": -24.0}}, True),
        ({"charger": charger(settings={"lines": [COMPENSATION]})}, True),  # lead: keyed to what is usual
        ({"charger": charger(settings={"lines": [COMPENSATION]}), "auxiliary": PACK}, False),  # lithium: keyed to none
        ({"charger": charger(settings={"lines": [COLD]}), "auxiliary": PACK}, True),  # it stops in the cold
        ({"charger": charger(settings={"lines": [COMPENSATION]}), "auxiliary": PACK, "charge": {"cold_c": 5.0}}, False),
    ],
)
def test_a_sensor_is_laid_where_the_unit_goes_by_it(job: dict[str, Any], wanted: bool) -> None:
    """In the work and on the bill where what is keyed needs it, and nowhere else."""
    assert ("mount.sensor" in steps(**job)) is wanted
    parts = {part.what for part in bill_of(Context.of(design(**job))).parts}
    assert ("Temperature sensor" in parts) is wanted


@pytest.mark.parametrize(
    ("battery", "fuse_called"),
    [
        ({"capacity_ah": 30.0}, "ISO 8820-3 blade 1 A"),  # 12.7 V over 16.7 mΩ: 760 A, and a blade breaks 1,000 A
        ({"capacity_ah": 60.0}, "10 × 38 gPV 1 A"),  # 12.7 V over 8.3 mΩ: 1,520 A
        ({"capacity_ah": 20.0, "nominal_v": 48}, "10 × 38 gPV 1 A"),  # 510 A, but a blade is made for 32 V
    ],
)
def test_the_bill_has_what_a_monitor_takes(battery: dict[str, Any], fuse_called: str) -> None:
    """The monitor, the cable to the post, a 1 A fuse for its sense lead that stands the volts and breaks a short there."""
    auxiliary = {"chemistry": "flooded", "nominal_v": 12, "charge_limit_a": 10.0} | battery
    parts = {(part.what, part.detail) for part in bill_of(Context.of(design(auxiliary=auxiliary, **NEW))).parts}
    assert ("Shunt 300", "with its shunt, 300 A") in parts
    assert any(what == "Cable, shunt to post" for what, _ in parts)
    assert (f"{fuse_called} in a holder", "the monitor's sense lead, at the post") in parts
