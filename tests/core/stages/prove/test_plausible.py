"""The meter is asked before the wiring: slips that no vehicle can show are queried, what a vehicle can show is not."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.prove import tests as of_job
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plausible import confirmed, queries, sound
from tests.designs import cable, design, fuse

CTX = Context.of(design())
# The plain job at full current: 25 A into 14.4 V at 90 %, some 13.7 V at the unit.
PLAUSIBLE = {
    "posts_v": 13.8,
    "input_a": 29.5,
    "input_v": 13.65,
    "output_a": 25.0,
    "output_v": 14.5,
    "auxiliary_v": 14.4,
}


def asked(twice: Any = (), meters: Any = METER, **readings: float) -> dict[str, str]:
    """What is asked of a job's readings."""
    return queries(CTX, of_job.tests_of(CTX), readings, twice, meters)


def test_what_a_sound_job_shows_is_not_asked() -> None:
    """Nor what a poor one does: volts and amperes a third off are the vehicle's."""
    assert asked(**PLAUSIBLE) == {}
    assert asked(input_a=20.0, output_a=16.0, input_v=12.9, posts_v=13.1) == {}
    assert sound(CTX, PLAUSIBLE) == PLAUSIBLE


@pytest.mark.parametrize(
    ("reading", "words"),
    [
        ({"output_a": 250.0}, "ten times"),
        ({"output_a": 2.5}, "a tenth of"),
        ({"output_v": 1.45}, "a tenth of"),
        ({"output_v": 1450.0}, "a hundred times"),
        ({"input_v": 13650.0}, "a thousand times"),
        ({"posts_v": 0.138}, "a hundredth of"),
    ],
)
def test_a_slip_of_the_comma(reading: dict[str, float], words: str) -> None:
    """Powers of ten beside what is expected, within a quarter; the same again counts."""
    (name,) = reading
    assert words in asked(**reading)[name]
    assert name not in asked(twice=(name,), **reading)
    assert name not in sound(CTX, PLAUSIBLE | reading)
    assert sound(CTX, reading, twice=(name,)) == reading


@pytest.mark.parametrize(("share", "queried"), [(10.0, True), (12.0, True), (13.5, False), (8.0, True), (6.5, False)])
def test_how_near_a_power_of_ten(share: float, queried: bool) -> None:
    """Ten times within a quarter either way: 7.5 to 12.5 times."""
    assert ("output_a" in asked(output_a=25.0 * share)) is queried


def test_nothing_is_no_slip() -> None:
    """A clamp that shows nothing, or next to nothing, tells of the vehicle: no slip of the comma makes that."""
    assert asked(output_a=0.0) == {}
    assert asked(output_a=0.25, meters=dict(METER) | {"A": Accuracy(2.0, 0.3)}) == {}
    assert "hundredth" in asked(output_a=0.25, meters=dict(METER) | {"A": Accuracy(2.0, 0.01)})["output_a"]


@pytest.mark.parametrize("name", ["output_a", "input_v", "supply_out_mv"])
def test_less_than_nothing(name: str) -> None:
    """A clamp or probes the other way round; within the meter's zero it is nothing. Twice the same is still that."""
    assert "other way round" in asked(**{name: -14.0})[name]
    assert "other way round" in asked(twice=(name,), **{name: -14.0})[name]
    zero = METER["V" if name.endswith("_v") else "mV" if name.endswith("mv") else "A"].sigma(0.0)
    assert name not in asked(**{name: -2.9 * zero})
    assert name in asked(**{name: -3.1 * zero})


def test_ohms_below_nothing_and_answers_that_are_none() -> None:
    """An ohmmeter below nothing, and an answer nobody offered; those offered, and degrees below freezing, stand."""
    assert "the zero" in asked(**{"through.supply": -0.1})["through.supply"]
    assert asked(**{"through.supply": 0.1}) == {}
    assert "no such answer" in asked(**{"polarity.supply": 2.0})["polarity.supply"]
    for answer in (0.0, 1.0):
        assert asked(**{"polarity.supply": answer}) == {}
    assert asked(state_read=2.0) == {}
    assert "state_read" in asked(state_read=3.0)
    assert asked(air_c=-8.0) == {}


def test_posts_below_a_rested_battery() -> None:
    """Engine running at 13.9 V: 11 V are asked again, 12.9 V are the vehicle's; so in both conditions."""
    for name in ("posts_v", "idle_posts_v"):
        assert "rested battery" in asked(**{name: 11.0})[name]
        assert name not in asked(**{name: 12.9})
        assert name not in asked(twice=(name,), **{name: 11.0})
    assert asked(input_v=11.0) == {}


def test_more_watts_out_than_in() -> None:
    """25 A at 14.5 V cannot come from 20 A at 13.65 V; within clamp and 3 % it can. One slip already asked is enough."""
    both = PLAUSIBLE | {"input_a": 20.0}
    found = asked(**both)
    assert set(found) == {"input_a", "output_a"}
    assert "More watts" in found["input_a"]
    # 14.5 · (25 − 0.3) = 1.03 · 13.65 · (I + 0.3) at I = 25.17 A.
    assert asked(**(PLAUSIBLE | {"input_a": 25.3})) == {}
    assert set(asked(**(PLAUSIBLE | {"input_a": 25.0}))) == {"input_a", "output_a"}
    assert set(asked(**(both | {"output_v": 145.0}))) == {"output_v"}
    assert asked(**{key: value for key, value in both.items() if key != "output_v"}) == {}
    assert asked(input_v=13.6, input_a=0.0, output_v=14.5, output_a=0.25) == {}


@pytest.mark.parametrize(("current", "side"), [("input_a", "supply"), ("output_a", "delivery")])
def test_a_drop_without_current(current: str, side: str) -> None:
    """Over 20 mV at under half an ampere: on that side's legs and device, not on the other's."""
    for leg in ("out", "back", "device"):
        name = f"{side}_{leg}_mv"
        assert "no current flows" in asked(**{current: 0.4, name: 25.0})[name]
        assert name not in asked(**{current: 0.6, name: 25.0})
        assert name not in asked(**{current: 0.4, name: 19.0})
    other = "delivery" if side == "supply" else "supply"
    assert f"{other}_out_mv" not in asked(**{current: 0.4, f"{other}_out_mv": 25.0})
    assert f"{side}_out_mv" not in asked(**{f"{side}_out_mv": 25.0})


def test_read_twice_with_the_same_result() -> None:
    """The last two within 5 %: confirmed; once, or apart, or confirmed and then different: not."""
    assert confirmed([("a", 10.0), ("b", 3.0), ("a", 10.4)]) == {"a"}
    assert confirmed([("a", 10.0), ("a", 10.6)]) == frozenset()
    assert confirmed([("a", 10.0), ("a", 10.1), ("a", 20.0)]) == frozenset()
    assert confirmed([("a", 20.0), ("a", 10.1), ("a", 10.0)]) == {"a"}
    assert confirmed([("a", -10.0), ("a", -10.2)]) == {"a"}
    assert confirmed([("a", 10.0)]) == frozenset()


def test_what_is_not_of_the_job_is_put_aside() -> None:
    """A reading of a test the job has not is nobody's."""
    assert sound(CTX, {"posts_v": 13.8, "no_such": 1.0}) == {"posts_v": 13.8}


# The plain job charging: some 29 A through 100 mV and more a leg. Readings, and those of them that were of another moment.
MEANWHILE: list[tuple[dict[str, float], set[str]]] = [
    ({"input_a": 29.5, "supply_back_mv": 0.1}, {"supply_back_mv"}),
    ({"input_a": 29.5, "delivery_out_mv": -0.2, "output_a": 0.1}, {"delivery_out_mv", "output_a"}),
    ({"supply_out_mv": 150.0, "delivery_back_mv": 0.0}, {"delivery_back_mv"}),
    ({"output_a": 25.0, "input_a": 0.1}, {"input_a"}),
    ({"input_a": 0.1, "output_a": 0.0, "supply_back_mv": 0.0}, set()),
    ({"input_a": 9.0, "supply_back_mv": 12.0}, set()),
    ({"input_a": 0.1, "supply_out_mv": 150.0}, {"supply_out_mv"}),
]


@pytest.mark.parametrize(("readings", "of_another"), MEANWHILE)
def test_what_flows_through_one_part_flows_through_all(readings: dict[str, float], of_another: set[str]) -> None:
    """No current in one reading and current in another: it stopped meanwhile, and no joint is blamed; the same again counts."""
    found = asked(**readings)
    assert set(found) == of_another
    assert set(sound(CTX, readings)) == set(readings) - of_another
    if of_another and "supply_out_mv" not in of_another:
        assert all("starts and stops" in text for text in found.values())
        assert asked(twice=tuple(of_another), **readings) == {}


# Six metres of 25 mm² out and six back, 29 A: some 0.3 V fall to the unit, ten times what one meter misses between its ends.
LONG = Context.of(design(supply={"pieces": [fuse(60.0), cable(length_m=6.0)]}))
LEVEL: list[tuple[str, dict[str, float], set[str]]] = [
    ("sound: it falls", {"posts_v": 13.82, "input_v": 13.52, "input_a": 29.5}, set()),
    ("both were read while it stood", {"posts_v": 13.9, "input_v": 13.9, "input_a": 29.5}, {"posts_v", "input_v"}),
    ("the far end was", {"posts_v": 13.82, "input_v": 13.9, "input_a": 29.5}, {"input_v"}),
    ("no current is read anywhere", {"posts_v": 13.9, "input_v": 13.9}, set()),
    ("nor does any flow", {"posts_v": 13.9, "input_v": 13.9, "input_a": 0.1}, set()),
    ("a drop along the way tells of current, too", {"posts_v": 13.9, "input_v": 13.9, "supply_back_mv": 140.0}, {"posts_v", "input_v"}),
    ("half the resistance", {"posts_v": 13.82, "input_v": 13.67, "input_a": 29.5}, set()),
    ("a bad joint", {"posts_v": 13.82, "input_v": 12.9, "input_a": 29.5}, set()),
    ("one end alone", {"input_v": 13.9, "input_a": 29.5}, set()),
]  # fmt: skip


@pytest.mark.parametrize(("readings", "of_another"), [case[1:] for case in LEVEL], ids=[case[0] for case in LEVEL])
def test_a_run_that_carries_falls(readings: dict[str, float], of_another: set[str]) -> None:
    """Volts level along a run beside amperes of one that charges were read at another moment; the same again counts."""
    tests = of_job.tests_of(LONG)
    found = queries(LONG, tests, readings)
    assert set(found) == of_another
    assert all("Read both ends again while it charges" in text for text in found.values())
    assert queries(LONG, tests, readings, twice=tuple(of_another)) == {}


def test_volts_of_the_ends_are_the_same_within_a_hundredth() -> None:
    """13.9 and 13.52 V are not: charging alone moves them by less than the twentieth that holds for amperes."""
    assert confirmed([("input_v", 13.52), ("input_v", 13.9), ("input_a", 29.0), ("input_a", 28.0)]) == {"input_a"}
    assert confirmed([("input_v", 13.85), ("input_v", 13.9)]) == {"input_v"}


def test_nothing_is_a_reading_and_less_than_nothing_is_none() -> None:
    """Of what no model stands behind nought is as good as any other; below it the probes are asked."""
    plainly = [test.key for test in of_job.tests_of(CTX) if test.quantity is None and not test.answers]
    assert plainly
    assert asked(**dict.fromkeys(plainly, 0.0)) == {}
    assert asked(**dict.fromkeys(plainly, -0.5)).keys() == set(plainly)
