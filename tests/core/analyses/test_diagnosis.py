"""Faults put into a vehicle that shares no code with the product are found, and the measurement asked for is worth asking."""

from __future__ import annotations

import os
import random
from functools import cache

import pytest

from olvask.core.analyses.diagnosis import FAULTS, diagnose
from olvask.core.circuit.context import Context
from olvask.core.stages.prove import tests as proving
from olvask.core.stages.prove.likely import LEGS, unknowns_of
from olvask.store.demo import demo_designs
from tests.oracles.running import Running

MANY = int(os.environ.get("OLVASK_FAULTS", "20"))  # of each kind; `make check-faults` asks for 150
ERROR = {"V": (0.005, 0.02), "mV": (0.005, 0.3), "A": (0.02, 0.3)}
KINDS = [*(f"joint.{leg}" for leg in LEGS), "alternator", "limited", "no_enable", "open.supply", "healthy"]


@cache
def context(at: int) -> Context:
    return Context.of(demo_designs()[at][1])


def broken(pick: random.Random, at: int, kind: str) -> dict[str, float]:
    """True readings of a vehicle with one fault, by its own arithmetic."""
    values = {item.name: pick.gauss(item.mean, 0.6 * item.sigma) for item in unknowns_of(context(at))}
    vehicle = Running(**values)
    if kind.startswith("joint."):
        leg = kind.removeprefix("joint.")
        setattr(vehicle, leg, getattr(vehicle, leg) + pick.uniform(0.006, 0.04))
    elif kind == "alternator":
        vehicle.sag_ohm *= pick.uniform(5, 12)
    elif kind == "limited":
        vehicle.output_a *= pick.uniform(0.4, 0.7)
    shown = vehicle.meter()
    if kind in ("no_enable", "open.supply"):
        still = {key: 0.0 for key in shown if key.endswith(("_a", "_mv"))}
        input_v = 0.0 if kind == "open.supply" else vehicle.regulated_v
        shown |= still | {"posts_v": vehicle.regulated_v, "input_v": input_v, "output_v": vehicle.auxiliary_v}
    return shown


def course(pick: random.Random, kind: str, follow: bool) -> tuple[list[str], int]:
    """Causes by rank after at most six readings, and how many it took until the first was sure."""
    at = pick.choice([0, 1, 3, 4])
    shown = broken(pick, at, kind)
    tests = {test.key: test for test in proving.tests_of(context(at)) if test.quantity is not None}
    order, readings, key = list(tests), {}, "posts_v"
    for _ in range(6):
        percent, besides = ERROR[tests[key].unit]
        value = shown[key]
        readings[key] = value + pick.gauss(0, (percent * abs(value) + besides) / 2)
        found = diagnose(context(at), readings)
        waiting = [name for name in order if name not in readings]
        if found.causes[0].share > 0.9 or not waiting:
            break
        key = (found.next if follow else "") or waiting[0]
    return [cause.key for cause in found.causes], len(readings)


@pytest.mark.parametrize("kind", KINDS)
def test_a_fault_is_found_in_six_measurements(kind: str) -> None:
    """First in nine of ten, among the first three nearly always."""
    pick = random.Random(kind)
    courses = [course(pick, kind, follow=True) for _ in range(MANY)]
    first = sum(found[0] == kind for found, _ in courses) / MANY
    three = sum(kind in found[:3] for found, _ in courses) / MANY
    print(
        f"{kind}: first {first:.1%}, in three {three:.1%}, {sum(count for _, count in courses) / MANY:.1f} measurements"
    )
    assert first >= 0.85
    assert three >= 0.95


def test_asking_beats_going_down_the_list() -> None:
    """The measurement that is asked for gets there in fewer than the order of the list does."""
    kinds = [f"joint.{leg}" for leg in LEGS]
    asked = sum(course(random.Random(seed), kinds[seed % 4], follow=True)[1] for seed in range(40))
    listed = sum(course(random.Random(seed), kinds[seed % 4], follow=False)[1] for seed in range(40))
    assert asked < 0.85 * listed


def test_shares_are_shares_and_the_working_is_shown() -> None:
    """They add up to 1 less what is not shown; each cause says what it expects beside what was read."""
    found = diagnose(context(0), {"posts_v": 13.7, "input_a": 47.0, "supply_back_mv": 640.0})
    assert found.causes[0].key == "joint.supply_back"
    assert sum(cause.share for cause in found.causes) <= 1 + 1e-9
    (row,) = [row for row in found.causes[0].explained if row.test == "supply_back_mv"]
    assert (row.read, row.unit) == (640.0, "mV")
    assert row.expected == pytest.approx(640, rel=0.1)


def test_before_anything_is_read_causes_stand_as_common_as_they_are() -> None:
    """No reading, no judgement: the shares are the priors, and a measurement is asked for."""
    found = diagnose(context(0), {})
    total = sum(fault.prior for fault in FAULTS)
    shares = {cause.key: cause.share for cause in found.causes}
    for fault in FAULTS:
        assert shares[fault.key] == pytest.approx(fault.prior / total, abs=1e-6)
    assert found.next
