"""A remedy removes its finding and brings no new stop; the order is a tradesman's; a proposal is never condemned.

`make check-remedies` applies twenty thousand; CI a sample.
"""

from __future__ import annotations

import os
import random
from collections import Counter

import pytest

from olvask.core.assess import assess
from olvask.core.findings.remedy import apply, remedy
from olvask.core.model import Design
from tests.anything import anything
from tests.core.analyses.test_recommended import survey
from tests.designs import cable, charger, design, fuse, vehicle

APPLIED = int(os.environ.get("OLVASK_REMEDIES", "80"))
MOST = 40  # designs tried for each remedy wanted


def some(seed: int) -> Design:
    """A survey somebody might make, or, one in three, anything the model accepts."""
    return anything(seed) if seed % 3 == 0 else survey(random.Random(seed))[0]


@pytest.mark.parametrize("part", range(4))
def test_a_remedy_does_what_it_says(part: int) -> None:
    """Applied, its finding is gone and no stop is new: judged by an assessment of its own."""
    applied, seed, wrong, kinds = 0, part, [], Counter[str]()
    while applied < APPLIED // 4 and seed < APPLIED * MOST:
        job = some(seed)
        before = assess(job)
        stops = {item.id for item in before.stops}
        for finding in before.findings:
            for way in finding.remedies:
                after = assess(apply(job, way), remedies=False)
                new = {item.id for item in after.stops} - stops
                if new:
                    wrong.append(f"{seed} {finding.id}, {way.label}: brings {sorted(new)}")
                if finding.level != "note" and any(item.id == finding.id for item in after.findings):
                    wrong.append(f"{seed} {finding.id}, {way.label}: it stays")
                applied += 1
                kinds[finding.id.split(".")[1]] += 1
        seed += 4
    print(f"{applied} remedies of {len(kinds)} kinds of finding applied, {len(wrong)} wrong")
    assert not wrong, "\n".join(wrong[:20])
    assert applied >= APPLIED // 4


def test_settings_come_first_and_cartridges_last() -> None:
    """A hunting job: a signal and less current before more copper; nothing of the switchboard trade before the rest."""
    job = design(supply={"pieces": [fuse(60.0), cable("10 mm²", 8.0)]}, activation={"stop_v": 13.3})
    ways = next(item for item in assess(job).findings if item.id == "wake.hunts").remedies
    kinds = ["size" in way.changes[0].path for way in ways]
    assert kinds == sorted(kinds)
    assert len(ways) >= 2


def test_none_is_said_where_none_helps() -> None:
    """Held at the resting volts no start can be set: no remedy is offered."""
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 12.65, "cruise_v": 12.65}
    job = design(vehicle=vehicle(readings=readings, signals={}), charger=charger(current_limit="none"))
    found = next(item for item in assess(job).findings if item.id == "wake.no_start_window")
    assert found.remedies == ()


@pytest.mark.parametrize("part", range(4))
def test_a_proposal_is_never_condemned(part: int) -> None:
    """With nothing typed, no start, stop, guard or return that Olvask proposes is called wrong; that a window is shut is said of the window."""
    condemned = {"wake.never_starts", "wake.starts_parked", "wake.never_stops", "wake.hunts", "wake.stop_above_start", "wake.guard_above_stop", "wake.back_low", "wake.back_unreachable"}  # fmt: skip
    wrong: list[str] = []
    for seed in range(part, APPLIED, 4):
        job = survey(random.Random(seed))[0]
        bare = job.activation.model_copy(
            update={
                "start_rules": (job.activation.start_rules[0].model_copy(update={"at_least_v": None}),),
                "stop_rules": (job.activation.stop_rules[0].model_copy(update={"below_v": None}),),
                "guard": job.activation.guard.model_copy(update={"off_below_v": None, "back_at_v": None}),
            }
        )
        volts = job.vehicle.system_v
        unit = charger(settable=(10.0 * volts / 12, 16.0 * volts / 12, 0.05), input_nominal_v=volts, input_max_v=40.0)
        job = Design.model_validate(
            job.model_dump(mode="json") | {"charger": unit, "activation": bare.model_dump(mode="json")}
        )
        wrong += [
            f"{seed}: {item.id}: {item.text}" for item in assess(job, remedies=False).findings if item.id in condemned
        ]
    assert not wrong, "\n".join(wrong[:20])


def test_applying_a_remedy_leaves_the_remedy_as_it_is() -> None:
    """A change that reaches into what an earlier one put in changes the design alone; tried again, it does the same."""
    pieces = [{"kind": "cable", "id": "c1", "size": "10 mm²", "length_m": 2.0}]
    wanted = remedy("Lay it, and thicker", ("supply.pieces", pieces), ("supply.pieces.c1.size", "16 mm²"))
    first = apply(design(), wanted)
    assert [piece.size for piece in first.supply.pieces if piece.kind == "cable"] == ["16 mm²"]
    assert wanted.changes[0].value == [{"kind": "cable", "id": "c1", "size": "10 mm²", "length_m": 2.0}]
    assert apply(design(), wanted) == first
