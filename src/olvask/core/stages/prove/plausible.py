"""Readings that cannot be: the meter is asked before the wiring.

- `queries`: which, and why, in words.
- `sound`: the others.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping, Sequence

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.beliefs import Beliefs, Told
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plant import READ, Plant, Quantity
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.tests import tests_of
from olvask.core.stages.prove.unknowns import constants_of, unknowns_of

NEAR = 0.25  # of what is expected, once the slip is undone; our own estimate
NOTHING = 5.0  # times the last digits: less is nothing, which no slip of the comma makes
SAME = 0.05  # of each other: two readings that say the same
SAME_V = 0.01  # the same of volts at the ends of a run: what charging moves them by is no more than a few percent
# A reading shows current from this share of what charging moves it by; where that is so many digits, a few of them are none.
FLOWS, CLEAR = 0.25, 50.0
BODY_V = 0.9  # of what is expected: lower than any rested battery, while the engine runs
FACTORS = (
    (10, "ten times", "a tenth of"),
    (100, "a hundred times", "a hundredth of"),
    (1000, "a thousand times", "a thousandth of"),
)
PAIRS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("input_a", ("supply_out_mv", "supply_back_mv", "supply_device_mv")),
    ("output_a", ("delivery_out_mv", "delivery_back_mv", "delivery_device_mv")),
)
CARRIED = frozenset(key for amps, legs in PAIRS for key in (amps, *legs))
# Volts at both ends of a run: what flows through it falls between them. One meter reads both, so what it is out by in
# percent falls out; its digits and what the vehicle moves by remain. A fall is missed where it should be so many of
# those and is not a few: a run of half the resistance reckoned with still shows four. Our own estimate.
ENDS: tuple[tuple[Quantity, Quantity], ...] = (("posts_v", "input_v"), ("output_v", "auxiliary_v"))
FALLS, LEVEL = 8.0, 3.0
ENDING = frozenset(key for ends in ENDS for key in ends)


def confirmed(readings: Sequence[tuple[str, float]]) -> frozenset[str]:
    """Tests that were read twice with the same result: no slip any more.

    Args:
        readings: test and reading, oldest first.
    """
    last: dict[str, list[float]] = {}
    for test, value in readings:
        last.setdefault(test, []).append(value)
    return frozenset(
        test
        for test, values in last.items()
        if len(values) > 1
        and abs(values[-1] - values[-2]) <= (SAME_V if test in ENDING else SAME) * max(abs(values[-1]), abs(values[-2]))
    )


def sound(
    ctx: Context, readings: Mapping[str, float], twice: Collection[str] = (), meters: Mapping[str, Accuracy] = METER
) -> dict[str, float]:
    """The readings that can be: those that ask for the meter first are put aside.

    Args:
        ctx: the design solved.
        readings: test keys to readings.
        twice: tests that were read twice with the same result.
        meters: accuracy by unit.
    """
    tests = tests_of(ctx)
    known = {test.key: readings[test.key] for test in tests if test.key in readings and not test.cannot}
    asked = queries(ctx, tests, known, twice, meters)
    return {key: value for key, value in known.items() if key not in asked}


def queries(
    ctx: Context,
    tests: Sequence[ProveTest],
    known: Mapping[str, float],
    twice: Collection[str] = (),
    meters: Mapping[str, Accuracy] = METER,
) -> dict[str, str]:
    """Readings that cannot be, each with the question to the meter.

    Args:
        ctx: the design solved.
        tests: those of the design.
        known: test keys to readings.
        twice: tests that were read twice with the same result.
        meters: accuracy by unit.
    """
    found: dict[str, str] = {}
    blank = Beliefs.of(Plant(constants_of(ctx)), [(unknowns_of(ctx), "charging"), (unknowns_of(ctx), "idle")]).told()
    for test in tests:
        if test.key not in known:
            continue
        if test.answers:
            if known[test.key] not in range(len(test.answers)):
                found[test.key] = "There is no such answer: choose one of those shown."
            continue
        if test.quantity is None:
            if known[test.key] < 0:
                found[test.key] = "Less than nothing: the probes, or the zero."
            continue
        value, place = known[test.key], READ[test.quantity]
        expected, spread = float(blank.value[0, place]), float(blank.spread[0, place])
        meter = meters[test.unit]
        text = _slip(
            test, value, expected, math.hypot(spread, meter.sigma(expected, test.apart)), test.key in twice, meter
        )
        if text:
            found[test.key] = text
    found |= _together(known, found, meters["A"].besides)
    return found | dict(
        _off_meanwhile(tests, {key: known[key] for key in known if key not in found}, twice, blank, meters)
    )


def _off_meanwhile(
    tests: Sequence[ProveTest],
    known: Mapping[str, float],
    twice: Collection[str],
    blank: Told,
    meters: Mapping[str, Accuracy],
) -> Iterator[tuple[str, str]]:
    """Readings of no current beside some of current: what flows through one part flows through all, unless it stopped meanwhile."""
    flowing, still = [], []
    for test in tests:
        if test.key not in known or test.quantity is None or test.quantity not in CARRIED:
            continue
        charging, idle = (float(value) for value in blank.value[:, READ[test.quantity]])
        moved, digits = known[test.key] - idle, meters[test.unit].besides
        if moved > FLOWS * (charging - idle):
            flowing.append(test)
        elif abs(moved) <= NOTHING * digits and charging - idle > CLEAR * digits and test.key not in twice:
            still.append(test)
    if not flowing:
        return
    for test in still:
        yield (
            test.key,
            f"No current here, though there was some at “{flowing[0].text}”: it starts and stops, or the "
            f"{'probes sit' if test.black else 'clamp sits'} elsewhere. Read again while it charges. The same again counts.",
        )
    for test in _level(tests, known, blank, meters["V"]):
        if test.key not in twice:
            yield (
                test.key,
                f"Volts of a run without current, though there was some at “{flowing[0].text}”: it starts and stops. "
                "Read both ends again while it charges. The same again counts.",
            )


def _level(tests: Sequence[ProveTest], known: Mapping[str, float], blank: Told, meter: Accuracy) -> Iterator[ProveTest]:
    """Volts that lie level along a run though they should fall by far more than a meter misses: of its ends those that stood."""
    at = {test.quantity: test for test in tests if test.quantity is not None and test.key in known}
    read = {quantity: known[test.key] for quantity, test in at.items()}
    for near, far in ENDS:
        if near not in at or far not in at:
            continue
        charging, idle = ({key: float(blank.value[state, READ[key]]) for key in (near, far)} for state in (0, 1))
        least = math.sqrt(2) * math.hypot(meter.besides / 2, meter.moves * charging[near])
        should = (charging[near] - charging[far]) - (idle[near] - idle[far])
        fell = (read[near] - read[far]) - (idle[near] - idle[far])
        if should > FALLS * least and fell <= LEVEL * least:
            for key in (near, far):
                if abs(read[key] - idle[key]) < abs(read[key] - charging[key]):
                    yield at[key]


def _slip(test: ProveTest, value: float, expected: float, spread: float, twice: bool, least: Accuracy) -> str:
    """The question to the meter that one reading alone asks; empty for none."""
    if value < -3 * least.sigma(0.0) and expected > 0 and test.unit in ("V", "A", "mV", "s", "mA"):
        return "Less than nothing: the clamp or the probes are the other way round."
    if twice:
        return ""
    if test.unit in ("V", "A") and (factor := _factor(value, expected, 6 * spread, least.besides)) is not None:
        return f"About {factor} what is expected: the range or the comma? The same again counts."
    if test.quantity in ("idle_posts_v", "posts_v") and value < BODY_V * expected - spread:
        return "Lower than a rested battery, though the engine runs: the meter, or the engine is not charging it. The same again counts."
    return ""


def _factor(value: float, expected: float, wide: float, digits: float) -> str | None:
    if abs(value - expected) <= wide or value <= NOTHING * digits or expected <= NOTHING * digits:
        return None
    for times, more, less in FACTORS:
        if abs(value / times - expected) < NEAR * expected:
            return more
        if abs(value * times - expected) < NEAR * expected:
            return less
    return None


def _together(known: Mapping[str, float], found: Mapping[str, str], slack_a: float) -> dict[str, str]:
    """Readings that cannot both be."""
    told: dict[str, str] = {}
    power = [known.get(key) for key in ("input_v", "input_a", "output_v", "output_a")]
    if all(value is not None for value in power) and not {"input_v", "input_a", "output_v", "output_a"} & set(found):
        input_v, input_a, output_v, output_a = (value or 0.0 for value in power)
        if output_v * (output_a - slack_a) > 1.03 * input_v * (input_a + slack_a) and output_a > slack_a:
            told["output_a"] = told["input_a"] = (
                "More watts come out than go in: one of the two clamps is out, or was not set to nothing."
            )
    for amps, legs in PAIRS:
        current = known.get(amps)
        for leg in legs:
            if current is not None and abs(current) < 0.5 and known.get(leg, 0.0) > 20.0:
                told[leg] = "A drop where no current flows: the probes, or the current was not there any more."
    return told
