"""What a finding says against a threshold shows on the mark of that threshold, and only there."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.assess import assess
from olvask.core.model import Design
from tests.core.stages.wake.test_threshold_laws import SEED, job_of
from tests.core.test_laws import COUNT
from tests.designs import design

RANK = {"note": 0, "caution": 1, "stop": 2}
VERDICT = {0: "good", 1: "tight", 2: "wrong"}
# Findings that are about where a threshold stands, whatever else they say.
ABOUT = ("start_", "stop_", "never_stops", "hunts", "rides_", "guard_low", "guard_above_stop", "quick_start", "step")


def typed_at_random(job: Design, seed: int) -> Design:
    """The job with thresholds typed that may be far off."""
    chance = random.Random(seed)
    volts = [round(chance.uniform(11.0, 14.6) * job.vehicle.system_v / 12, 2) for _ in range(5)]
    chosen = job.activation
    return job.model_copy(
        update={
            "activation": chosen.model_copy(
                update={
                    "start_rules": (chosen.start_rules[0].model_copy(update={"at_least_v": volts[0]}),),
                    "stop_rules": (chosen.stop_rules[0].model_copy(update={"below_v": volts[1]}),),
                    "guard": chosen.guard.model_copy(update={"off_below_v": volts[2], "back_at_v": volts[3]}),
                }
            )
        }
    )


@COUNT
@given(SEED, st.booleans())
def test_what_stands_against_a_threshold_shows_on_its_mark(seed: int, typed: bool) -> None:
    """Every mark is as bad as the worst finding that concerns it; a finding about thresholds concerns one at least."""
    job = typed_at_random(job_of(seed), seed) if typed else job_of(seed)
    found = assess(job, remedies=False)
    paths = {mark.path for mark in found.wake.marks}
    for mark in found.wake.marks:
        worst = max((RANK[item.level] for item in found.findings if mark.path in item.concerns), default=0)
        assert mark.verdict == VERDICT[worst], (mark.path, mark.verdict, worst)
    for item in found.findings:
        name = item.id.removeprefix("wake.")
        if item.id.startswith("wake.") and name.startswith(ABOUT) and item.level != "note":
            assert paths & set(item.concerns), (item.id, item.concerns)


@pytest.mark.parametrize(("ways", "by_volts"), [(["voltage"], True), (["d_plus"], False)])
def test_which_marks_act(ways: list[str], by_volts: bool) -> None:
    """The guard and its return act whatever starts it; start and stop only where it goes by volts."""
    found = assess(design(activation={"ways": ways, "start_v": 13.4, "stop_v": 13.0}), remedies=False)
    acts = {mark.kind: mark.acts for mark in found.wake.marks}
    assert acts["guard"]
    assert acts["back"]
    assert {acts[kind] for kind in acts if kind not in ("guard", "back")} == {by_volts}
