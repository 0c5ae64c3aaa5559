"""What a monitor is told counts as full happens as the unit ends its charge: by hand, and in the simulator."""

from __future__ import annotations

import random
from itertools import pairwise
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.trip import drive
from olvask.core.stages.settings.monitor import monitor_wanted
from tests.designs import cable, charger, design, fuse

SHUNT = {"unit": {"name": "Shunt 300", "shunt_a": 300.0}}
PACK = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}


def keyed(job: Design) -> dict[str, float]:
    """What to key into the monitor."""
    return {name: float(item.value) for name, item in monitor_wanted(Context.of(job)).items()}


@pytest.mark.parametrize(
    ("battery", "charge", "tail"),
    [
        # 5 Ah above the taper at 50 A: falls by e in 6.06 min, so 3 min before 5 A it is 8.2 A; a clear 15 % more.
        (PACK, {}, 9.5),
        (PACK, {"tail_a": 2.0}, 4.0),  # 3.3 A, and 4 % is usual anyway
        (PACK | {"charge_limit_a": 25.0}, {}, 7.5),  # 12.1 min: 6.4 A
        # 22 Ah above the taper at 30 A of 0.85: 25 A fall by e in 51.8 min, to 2.46 A in two hours; 2.6 A before.
        ({"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0}, {}, 3.0),
        (
            {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0},
            {"absorption_h": 8.0},
            2.5,
        ),
    ],
)
def test_its_tail_lies_over_where_the_unit_ends(battery: dict[str, Any], charge: dict[str, Any], tail: float) -> None:
    """By its tail or its time, whichever comes first, and for three minutes before."""
    assert keyed(design(auxiliary=battery, charge=charge))["full_tail_percent"] == tail


def test_its_volts_lie_under_what_the_run_leaves() -> None:
    """A tenth of a volt under absorption, or what the run still loses at that current and half a tenth."""
    short = keyed(design(auxiliary=PACK))
    assert short["full_v"] == pytest.approx(14.1)
    long = design(auxiliary=PACK, delivery={"pieces": [cable("6 mm²", 4.0), fuse(40.0)]})
    lost_v = 8.2 * (
        2 * 4.0 * 3.3e-3 * 1.06 + 0.0019 + 0.0002
    )  # 8 m of 6 mm² at 35 °C, its fuse of 75 mV at 40 A, four ends
    assert 14.2 - keyed(long)["full_v"] == pytest.approx(lost_v + 0.05, abs=0.02)


def counted_min(job: Design) -> float:
    """Longest that the monitor sees what it counts as full while a deep discharge is charged [min]."""
    wanted = keyed(job)
    full_v, most_a = wanted["full_v"], wanted["full_tail_percent"] / 100 * job.auxiliary.capacity_ah
    trip = drive(job, read_programme("begin start 95 % auxiliary 30 %\ncrank 2 s\ncruise 40 h\n"))
    longest_s = so_far_s = 0.0
    for before, after in pairwise(trip.samples):
        if after.auxiliary_v < full_v or after.output_a > most_a:
            so_far_s = 0.0
            continue
        span_s, share = after.time_s - before.time_s, 1.0
        if before.output_a > most_a:  # it passes under the tail in between
            share = (most_a - after.output_a) / (before.output_a - after.output_a)
        so_far_s += span_s * share
        longest_s = max(longest_s, so_far_s)
    return longest_s / 60


@pytest.mark.parametrize("seed", range(12))
def test_the_simulated_charge_is_counted_as_full(seed: int) -> None:
    """Any chemistry, size, limit, run and end: it stays under the tail and over the volts for long enough, or that is told."""
    pick = random.Random(seed)
    chemistry = pick.choice(("lfp", "lfp", "agm", "gel", "flooded"))
    capacity_ah = pick.choice((60.0, 100.0, 160.0, 220.0))
    share = pick.uniform(0.3, 0.8) if chemistry == "lfp" else pick.uniform(0.18, 0.25)
    battery = {
        "chemistry": chemistry,
        "nominal_v": 12,
        "capacity_ah": capacity_ah,
        "charge_limit_a": share * capacity_ah,
    }
    charge: dict[str, Any] = {"absorbed_by": "time"}
    if pick.random() < 0.5:
        charge["tail_a"] = round(pick.uniform(0.005, 0.08) * capacity_ah, 1)
    if pick.random() < 0.5:
        charge["absorption_h"] = round(pick.uniform(0.2, 6.0), 2)
    amps = min(round(share * capacity_ah * pick.uniform(0.4, 0.95), 1), 60.0)
    delivery = {"pieces": [cable("16 mm²", round(pick.uniform(0.5, 3.0), 1)), fuse(100.0)]}
    job = design(
        auxiliary=battery, charge=charge, charger=charger(output_a=amps), delivery=delivery, monitor=SHUNT,
        use={"loads_driving_a": 0.0},
    )  # fmt: skip
    told = {item.id for item in assess(job, remedies=False).findings}
    if "settings.monitor_never" in told:
        return
    assert counted_min(job) >= 2.9


def test_a_charge_that_ends_too_early_is_told() -> None:
    """Lead absorbed for a quarter of an hour ends at many amperes: no tail should count that as full."""
    agm = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0}
    short = {"absorption_h": 0.25, "absorbed_by": "time"}
    job = design(auxiliary=agm, charge=short, monitor=SHUNT)
    found = {item.id: item for item in assess(job).findings}
    said = found["settings.monitor_never"]
    assert said.level == "caution"
    assert "ends absorption at 17.0 % of capacity" in said.text  # 25 A · e^(−0.25 h / 0.863 h) = 18.7 A
    (way,) = said.remedies
    assert "settings.monitor_never" not in {item.id for item in assess(apply(job, way)).findings}
    without = assess(design(auxiliary=agm, charge=short), remedies=False)
    assert "settings.monitor_never" not in {item.id for item in without.findings}
    helped = design(auxiliary=agm, charge=short, monitor=SHUNT, existing=[{"kind": "mains_charger"}])
    level = {item.id: item.level for item in assess(helped, remedies=False).findings}["settings.monitor_never"]
    assert level == "note"
