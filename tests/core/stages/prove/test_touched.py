"""The conductors a test looks at are those between its probes, and every test says where it goes."""

from __future__ import annotations

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.store.demo import demo_designs

VAN = [
    ("supply_out_mv", {"S1+", "S2+"}),
    ("supply_back_mv", {"S1−", "S2−"}),
    ("delivery_back_mv", {"D1−"}),
    ("posts_v", {"S1+", "S1−"}),
    ("input_v", {"S2+", "S2−"}),
    ("auxiliary_v", {"D1+", "D1−"}),
    ("standby_ma", {"S1−"}),
    ("supply_device_mv", {"S1+"}),
    ("state_read", set()),
    ("air_c", set()),
]


@pytest.mark.parametrize(("key", "names"), VAN)
def test_conductors_between_the_probes(key: str, names: set[str]) -> None:
    """The cold-chain van's: two cables to the unit with their own return, one to the battery."""
    design = next(design for heading, design in demo_designs() if heading.code == "KV-118")
    found = {test.key: test for test in listed(Context.of(design))}
    assert set(found[key].conductors) == names


@pytest.mark.parametrize("at", range(5))
def test_every_measurement_says_where_its_probes_go(at: int) -> None:
    """A place of the line under each probe, a word for each; keys are unique within what is done once."""
    ctx = Context.of(demo_designs()[at][1])
    places = {
        "start_battery",
        "charger",
        "auxiliary",
        *(piece.id for run in (ctx.design.supply, ctx.design.delivery) for piece in run.pieces),
    }
    for test in listed(ctx):
        if not test.answers:
            assert test.red, test.key
            assert test.red_at.rstrip("-").removesuffix(".out") in places, test.key
            assert bool(test.black) is bool(test.black_at), test.key
    measured = [test.key for test in listed(ctx) if not test.answers]
    assert len(measured) == len(set(measured))
