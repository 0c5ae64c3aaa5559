"""Remedies in the order a tradesman tries them, and grown by a few sizes of the same system."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.remedy import remedy
from olvask.core.stages.proven import _larger, _turn, proven
from tests.designs import design


@pytest.mark.parametrize(
    ("path", "value", "turn"),
    [
        ("activation.guard.off_below_v", 12.0, 0),
        ("charge.absorption_v", 14.4, 0),
        ("current_limit_a", 20.0, 0),
        ("choices.drop_percent", 3.0, 0),
        ("auxiliary.charge_limit_a", 30.0, 0),
        ("vehicle.alternator.loads_idle_a", 20.0, 0),
        ("old_link.decision", "disconnect", 0),
        ("solar.into", "battery", 0),
        ("mount.place", "cabin", 1),
        ("existing.e1.cut", True, 1),
        ("supply.pieces.c1.size", "35 mm²", 2),
        ("supply.pieces.c1.metal", "copper", 2),
        ("supply.pieces.c1.parallel", 2, 2),
        ("delivery.pieces.c2.length_m", 1.5, 2),
        ("supply.pieces.d1.rating_a", 80.0, 3),
        ("supply.pieces", [{"kind": "device", "family": "class_t"}], 3),
        ("charger", None, 4),
        ("charger.isolated", True, 4),
        ("supply.pieces.d1.family", "nh", 5),
        ("supply.pieces", [{"kind": "device", "family": "nh"}], 5),
    ],
)
def test_whose_turn(path: str, value: Any, turn: int) -> None:
    """Settings, another place, a cable, a device, another unit, an industrial cartridge; two changes by the weightier."""
    assert _turn(remedy("Do it", (path, value))) == turn
    both = remedy("Do both", ("activation.ways", ["d_plus"]), (path, value), ("choices.drop_percent", 3.0))
    assert _turn(both) == turn


def test_a_cable_grows_within_its_system() -> None:
    """Six sizes up, metric stays metric and gauge stays gauge; what it changes besides stays."""
    grown = list(
        _larger(remedy("Lay 16 mm²", ("supply.pieces.c1.size", "16 mm²"), ("supply.pieces.c1.metal", "copper")))
    )
    sizes = [item.changes[0].value for item in grown]
    assert sizes == ["25 mm²", "35 mm²", "50 mm²", "70 mm²", "95 mm²", "120 mm²"]
    assert [item.label for item in grown] == [f"Lay {size}" for size in sizes]
    assert {item.changes[1].value for item in grown} == {"copper"}
    gauge = [item.changes[0].value for item in _larger(remedy("Lay 4 AWG", ("supply.pieces.c1.size", "4 AWG")))]
    assert gauge[:3] == ["3 AWG", "2 AWG", "1 AWG"]


def test_what_cannot_grow() -> None:
    """The largest there is, and what has no cable in it: nothing more is offered."""
    assert list(_larger(remedy("Lay 120 mm²", ("supply.pieces.c1.size", "120 mm²")))) == []
    assert list(_larger(remedy("Use D+", ("activation.ways", ["d_plus"])))) == []


def test_those_that_mend_nothing_are_counted() -> None:
    """Of three ways out of a typed absorption two are none: one is kept, two were tried."""
    job = design(charge={"absorption_v": 15.4})
    found = next(item for item in assess(job).findings if item.id == "settings.absorption_high")
    ways = (
        remedy("Set it to 14.4 V", ("charge.absorption_v", 14.4)),
        remedy("Set it to 15.3 V", ("charge.absorption_v", 15.3)),
        remedy("Use D+", ("activation.ways", ["d_plus"])),
    )
    (told,) = proven(job, [replace(found, remedies=ways, tried=0)])
    assert [way.label for way in told.remedies] == ["Set it to 14.4 V"]
    assert told.tried == 2
