"""A unit says that it acted when, and only when, what it does has changed: steps of time end there, and nowhere else."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from olvask.core.circuit.thresholds import Rule
from olvask.core.simulate.charging import _Runner as Runner
from olvask.core.simulate.machine import Machine
from olvask.core.simulate.profile import Profile
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.sources import Source
from olvask.core.simulate.states import Flow
from tests.core.simulate.test_machine import LEAD, RULE
from tests.core.test_laws import COUNT

TWO = replace(RULE, start_rules=(Rule(13.3, 10.0), Rule(13.9, 0.0)), stop_rules=(Rule(13.0, 30.0), Rule(12.5, 5.0)))
KEYED = replace(RULE, ways=frozenset({"voltage", "ignition", "switch"}), latched=True)
SHORT = replace(LEAD, absorption_s=240.0, bulk_s=300.0)
RESTING = replace(SHORT, rests=True)
LOOKS = st.lists(
    st.tuples(
        st.sampled_from([1.0, 20.0, 70.0, 400.0]),  # seconds later, and again and again
        st.sampled_from([1, 2, 4]),
        st.sampled_from([*[14.0] * 6, 13.5, 13.5, 12.9, 12.4, 11.5]),  # volts at its input
        st.sampled_from([12.4, 12.4, 12.9, 14.4]),  # volts of the auxiliary battery
        st.sampled_from([False, False, True]),  # whether the volts hold the current back
        st.sampled_from([1.0, 25.0]),  # what reaches the battery
        st.sampled_from([*["running"] * 6, "key", "lost", "parted"]),
        st.sampled_from([False] * 9 + [True]),  # whether the run collapses
    ),
    min_size=5,
    max_size=30,
)
STRETCHES = {
    "running": Stretch("cruise", 9999.0, True),
    "key": Stretch("off", 9999.0, True),
    "lost": Stretch("cruise", 9999.0, True, remote=False),
    "parted": Stretch("cruise", 9999.0, True, plugged=False),
}


@COUNT
@given(st.sampled_from([RULE, TWO, KEYED]), st.sampled_from([LEAD, SHORT, RESTING]), LOOKS)
def test_it_tells_when_it_acts(rule: object, profile: Profile, looks: list[Any]) -> None:
    """Current or held volts never change untold; nothing is told without a change of state or stage."""
    said: list[str] = []
    unit = Machine(rule, profile, lambda what, _: said.append(what))  # type: ignore[arg-type]
    now = 0.0
    for later_s, volts, auxiliary_v, by_volts, amps, where, collapsed in (
        look for each, times, *rest in looks for look in [(each, *rest)] * times
    ):
        now += later_s
        dead = where == "parted"
        flow = Flow(
            volts, amps, amps, volts, auxiliary_v, 0.0, amps, -5.0 if by_volts else 5.0, bool(collapsed), dead=dead
        )
        before, held = (unit.state, unit.stage), (unit.drawing, unit.drawing and unit.stage == "float")
        spoken = len(said)
        acted = unit.act(now, STRETCHES[where], flow)
        after = (unit.state, unit.stage)
        assert acted >= (held != (unit.drawing, unit.drawing and unit.stage == "float"))
        assert not acted or before != after
        # What it says is a change too: but for a run that collapses and stages that hold the same volts.
        assert len(said) == spoken or acted or {*said[spoken:]} <= {"collapse", "absorption", "dead", "guard", "back"}


@COUNT
@given(
    st.booleans(),
    st.booleans(),
    st.lists(
        st.tuples(st.sampled_from([10.0, 70.0, 700.0, 4000.0]), st.sampled_from([0.0, 1.0, 10.0, 20.0]),
                  st.sampled_from([0.0, 20.0]), st.sampled_from([12.0, 12.9, 13.6, 14.4])),
        min_size=5, max_size=30,
    ),
)  # fmt: skip
def test_a_source_tells_when_its_stage_changes(rests: bool, pulses: bool, looks: list[tuple[float, ...]]) -> None:
    """Of anything that charges: it goes on exactly where it says so, and says its new stage once."""
    profile = replace(SHORT, rests=rests, pulses=pulses, equalise_v=15.0, adaptive=False)
    said: list[tuple[float, str, str]] = []
    runner = Runner(Source("mains", 20.0, 0.0, profile, equalises_s=2000.0), 12.3, said)  # type: ignore[arg-type]
    now = 0.0
    for later_s, amps, able_a, volts in looks:
        now += later_s
        before, spoken = runner.stage, len(said)
        went = runner.look(now, amps, able_a, volts, 14.4)
        assert went == (runner.stage != before)
        assert len(said) - spoken == went
