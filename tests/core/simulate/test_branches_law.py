"""Whatever hangs on a supply run: the road test and the thresholds see the same volts, and an alternator gives what it has."""

from __future__ import annotations

import random
from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Moment, State
from tests.core.analyses.test_recommended import survey
from tests.designs import fuse

LARGE: dict[str, Any] = {"kind": "branch", "name": "inverter", "size": "16 mm²", "device": fuse(60.0)}


def laden(seed: int) -> Design:
    """A survey with up to 30 A branched off the supply run, now and then an old charger or a fridge besides, or two units."""
    pick = random.Random(seed)
    document = survey(pick)[0].model_dump(mode="json")
    pieces = document["supply"]["pieces"]
    pieces.insert(pick.randint(1, max(1, len(pieces))), LARGE | {"current_a": round(pick.uniform(1.0, 30.0), 1)})
    if pick.random() < 0.4:
        kind = pick.choice(("built_in_charger", "fridge_feed"))
        document["existing"] = [{"kind": kind, "charge_a": round(pick.uniform(4.0, 20.0), 1)}]
    document["units"] = pick.choice((1, 1, 2))
    return Design.model_validate(document)


@pytest.mark.parametrize("part", range(4))
def test_one_circuit_two_ways(part: int) -> None:
    """Unit idle or charging, engine idling, cruising or in a low phase: 40 vehicles, of which some are short of amperes."""
    short = 0
    for seed in range(part, 40, 4):
        ctx = Context.of(laden(seed))
        plant, full_v = Plant(ctx.design, ctx.solved), float(ctx.facts.absorption.value)
        for state in ctx.solved.running:
            stretch, has_a = Stretch(state.key, 60.0, True), state.source.available_a  # type: ignore[arg-type]
            assert has_a is not None
            for drawing in (False, True):
                moment = Moment(stretch, True, plant.air(25.0), 0.0, drawing, float(drawing), full_v)
                flow = plant.flow(State(0.8, 0.5), moment)
                given_a = flow.start_a + flow.input_a + plant.branch_a
                assert given_a <= has_a + 1e-6, (seed, state.key, drawing)
                short += flow.start_a < 0
                if not drawing:
                    assert flow.volts == pytest.approx(ctx.solved.unloaded_v(state), abs=0.002), (seed, state.key)
    assert short
