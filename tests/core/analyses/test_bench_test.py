"""The bench test against the rules read by hand: when it starts, stops, is held off and comes back."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.bench_test import BenchStep, BenchTest, bench_test_of
from olvask.core.circuit.context import Context
from tests.designs import charger, design


def tried(**changes: Any) -> BenchTest:
    found = bench_test_of(Context.of(design(**changes)))
    assert found is not None
    return found


def steps(found: BenchTest) -> dict[str, BenchStep]:
    return {step.name: step for step in found.steps}


RULES = {
    "ways": ["voltage"],
    "start_rules": [{"at_least_v": 13.3, "held_s": 12.0}],
    "stop_rules": [{"below_v": 12.9, "held_s": 40.0}],
    "guard": {"off_below_v": 12.1, "held_s": 3.0, "back_at_v": 12.7},
}


def test_by_volts() -> None:
    """Start at 13.3 V held 12 s, stop under 12.9 V held 40 s, guard under 12.1 V held 3 s, back at 12.7 V: as entered."""
    found = steps(tried(activation=RULES))
    assert found["rest"].ends == "off"
    assert found["start"].volts > 13.3
    assert found["start"].changes_after_s == pytest.approx(12.0, abs=0.3)
    assert 12.9 < found["sag"].volts < 13.3
    assert found["sag"].ends == "charging"
    assert found["stop"].volts < 12.9
    assert found["stop"].changes_after_s == pytest.approx(40.0, abs=0.3)
    assert found["lockout"].volts < 12.1
    assert found["lockout"].changes_after_s == pytest.approx(3.0, abs=0.3)
    assert 12.1 < found["still locked out"].volts < 12.7
    assert found["still locked out"].ends == "held off by its guard"
    assert found["release"].ends == "charging"


def test_by_a_signal() -> None:
    """Without rules of volts it follows its enable: nothing at rest without it, at once with it, at once without it again."""
    found = steps(tried(activation={"ways": ["ignition"], "guard": RULES["guard"]}))
    assert found["rest"].ends == "off"
    assert not found["rest"].enabled
    assert found["start"].changes_after_s == 0
    assert found["enable taken away"].ends == "off"
    assert "sag" not in found


def test_a_low_phase_is_tried_where_the_vehicle_has_one() -> None:
    """An engine-managed alternator's low phase stands in the programme, with what the unit does in it."""
    managed = {
        "alternator": {"rated_a": 150.0, "regulation": "managed"},
        "readings": {"low_phase_v": 12.5, "low_phase_s": 60.0},
    }
    found = steps(tried(vehicle=managed, activation=RULES))
    assert found["low phase"].volts == 12.5
    assert found["low phase"].changes_after_s == pytest.approx(40.0, abs=0.3)
    assert "low phase" not in steps(tried(activation=RULES))


def test_never_over_what_the_unit_stands() -> None:
    """No step asks for more volts than its input takes, and the supply is told so first."""
    made = tried(activation=RULES, charger=charger(input_max_v=13.5))
    assert max(step.volts for step in made.steps) <= 13.5
    lines = made.scpi.splitlines()
    assert lines[:2] == ["*RST", "VOLT:PROT 13.5"]
    assert lines[-1] == "OUTP OFF"
    assert [line for line in lines if line.startswith("VOLT ")][1:] == [f"VOLT {step.volts:.2f}" for step in made.steps]


def test_by_hand_it_is_the_same_programme() -> None:
    """Each step is one of the procedure, in order, with its seconds to wait and the seconds it may change after."""
    made = tried(activation=RULES)
    tried_steps = [placed.step for placed in made.procedure.steps][2:]
    assert [step.wait_s for step in tried_steps] == [step.seconds for step in made.steps]
    start = next(step for step in tried_steps if step.key == "bench.start")
    assert start.expected is not None
    assert start.expected.least is not None
    assert start.expected.most is not None
    assert start.expected.least <= 12.0 <= start.expected.most


STEP_UP = charger(output_nominal_v=24, output_min_v=20.0, output_max_v=32.0)
BANK = {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 28.8}


@pytest.mark.parametrize(
    ("changes", "load", "full"),
    [
        # 14.4 V into 5 A at 0.9 from the 11.8 V of the lockout's step: 6.8 A of the supply's 10; 25 A take 33.9 A.
        ({}, "a load of about 5 A", "up to 34 A"),
        # 28.8 V there: 5 A would ask for 13.6 A, of the 8 A that may be asked for 2.95 A are fed.
        ({"charger": STEP_UP, "auxiliary": BANK}, "a load of about 2.5 A", "up to 68 A"),
        # Four fifths of the 4 A it gives.
        ({"charger": charger(output_a=4.0)}, "a load of about 3 A", "up to 5 A"),
        # Set to 2 A.
        ({"charger": charger(limit_min_a=1.0), "current_limit_a": 2.0}, "a load of about 1.5 A", "up to 3 A"),
    ],
)
def test_the_supply_carries_the_load(changes: dict[str, Any], load: str, full: str) -> None:
    """The load is what unit and supply carry without its volts falling; what a battery there would take is said."""
    made = tried(activation=RULES, **changes).procedure.steps[0].step
    assert load in made.text
    assert full in made.why
    assert made.number == "supply held to 10 A, never over 17 V"


def test_of_several_units_each_is_tried() -> None:
    """They are laid on the bench in turn."""
    made = tried(activation=RULES, units=2)
    assert made.procedure.steps[0].step.text.startswith("Lay each Test unit on the bench in turn: ")


def test_nothing_to_try_without_a_unit_or_a_way() -> None:
    """Neither a unit nor a way to start it: no programme."""
    assert bench_test_of(Context.of(design(charger=None))) is None
    assert bench_test_of(Context.of(design(activation={"ways": []}))) is None
