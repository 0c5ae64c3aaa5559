"""Readings judged: bands from what this design expects now, plausibility first, legs with milliohms too many.

- `Proof`, `Row`, `LegFound`: as it is told.
- `prove`: judges a set of readings.
- `sound`: those that can be at all.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.level_line import ConditionLine
from olvask.core.findings.figure import Input
from olvask.core.findings.said import Said
from olvask.core.stages.prove.likely import LEGS, LOOSE_OHM, Likely, Name, Quantity, Unknown, unknowns_of
from olvask.core.stages.prove.measured import measured_line
from olvask.core.stages.prove.meter import METER
from olvask.core.stages.prove.tests import ProveTest, tests_of

Told = dict[Quantity, tuple[float, float, tuple[float, ...]]]
Verdict = Literal["open", "right", "doubtful", "wrong", "query", "cannot"]
BAND, BEYOND = 1.96, 3.6  # 95 % and 99.97 % of a normal spread: a healthy vehicle is seldom accused
WIDE = 1.25  # a band this many times what one more reading would leave is told to be wide
NEAR = 0.25  # of what is expected, once the slip is undone; our own estimate
FACTORS = (
    (10, "ten times", "a tenth of"),
    (100, "a hundred times", "a hundredth of"),
    (1000, "a thousand times", "a thousandth of"),
)
LEAST_DRAW_A = 5.0  # below it the fall of the posts is lost in the meter; our own estimate
LIMIT_MOHM = 1.0  # of a leg: less is within what crimps differ by; our own estimate


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One test with what was read, where it should lie and what follows."""

    test: ProveTest
    expected: float | None
    least: float | None
    most: float | None
    reading: float | None
    verdict: Verdict
    text: str
    narrowed_by: Annotated[
        str, Field(description="the test whose reading would narrow a wide band most; empty for none")
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class LegFound:
    """One leg as it was measured beside what was designed."""

    leg: str
    words: str
    designed_mohm: float
    found_mohm: float | None
    spread_mohm: float | None
    excess_mohm: float | None
    heat_w: float | None
    bad: bool
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A value measured here that the survey only supposes, or has otherwise."""

    path: str
    label: str
    unit: str
    value: float
    stands: float
    origin: str


class Proof(Said):
    """Every test of a design, judged by what was read so far."""

    rows: tuple[Row, ...]
    legs: tuple[LegFound, ...]
    offers: tuple[Offer, ...]
    measured: ConditionLine | None = Field(
        description="the level line as it was read; none before anything was read running"
    )
    next: str = Field(description="key of the test to do next; empty when all are done")
    text: str


def prove(ctx: Context, readings: Mapping[str, float]) -> Proof:
    """Judge readings.

    Args:
        ctx: the design solved.
        readings: test keys to the newest reading of each; keys of no test are passed over.
    """
    tests, unknowns = tests_of(ctx), unknowns_of(ctx)
    known = {test.key: readings[test.key] for test in tests if test.key in readings and not test.cannot}
    queries = _queries(tests, unknowns, known)
    used = {key: value for key, value in known.items() if key not in queries}
    legs = tuple(_legs(ctx, tests, unknowns, used))
    bad = {leg.leg for leg in legs if leg.bad}
    rows = tuple(_row(test, tests, _loosened(unknowns, bad, test), used, known, queries) for test in tests)
    waiting = [row.test.key for row in rows if row.verdict == "open"]
    at: dict[Name, int] = {item.name: place for place, item in enumerate(unknowns)}
    running = [test.key for test in tests if test.quantity is not None and test.key in used]
    measured = (
        measured_line(ctx, _likely(tests, _loosened(unknowns, bad, None), used), at)
        if running and ctx.design.charger
        else None
    )
    offers = tuple(_offers(ctx, used, {row.test.key: row.verdict for row in rows}))
    return Proof(
        rows=rows,
        legs=legs,
        offers=offers,
        measured=measured,
        next=waiting[0] if waiting else "",
        text=_summary(rows, legs),
    )


def sound(ctx: Context, readings: Mapping[str, float]) -> dict[str, float]:
    """The readings that can be: those that ask for the meter first are put aside.

    Args:
        ctx: the design solved.
        readings: test keys to readings.
    """
    tests = tests_of(ctx)
    known = {test.key: readings[test.key] for test in tests if test.key in readings and not test.cannot}
    queries = _queries(tests, unknowns_of(ctx), known)
    return {key: value for key, value in known.items() if key not in queries}


def _loosened(unknowns: tuple[Unknown, ...], bad: Collection[str], test: ProveTest | None) -> tuple[Unknown, ...]:
    """What is not known once some legs are known to be bad: they may hold anything, but for the test that reads them."""
    own = {name for name, (quantity, _) in LEG_QUANTITY.items() if test is not None and quantity == test.quantity}
    return tuple(
        replace(item, sigma=math.hypot(item.sigma, LOOSE_OHM)) if item.name in bad and item.name not in own else item
        for item in unknowns
    )


def _likely(
    tests: tuple[ProveTest, ...],
    unknowns: tuple[Unknown, ...],
    used: Mapping[str, float],
    but: str = "",
    loose: bool = False,
) -> Likely:
    """What is likely by every reading but one."""
    read = [
        (test.quantity, used[test.key], METER[test.unit].sigma(used[test.key]))
        for test in tests
        if test.quantity is not None and test.key in used and test.key != but
    ]
    return Likely.of(unknowns, loose).after(read)


def _row(
    test: ProveTest,
    tests: tuple[ProveTest, ...],
    unknowns: tuple[Unknown, ...],
    used: Mapping[str, float],
    known: Mapping[str, float],
    queries: Mapping[str, str],
) -> Row:
    reading = known.get(test.key)
    expected: float | None = None
    least, most, narrowed_by, sigma = test.least, test.most, "", 0.0
    if test.quantity is not None and not test.cannot:
        likely = _likely(tests, unknowns, used, but=test.key)
        told = likely.told()
        expected, spread, _ = told[test.quantity]
        sigma = math.hypot(spread, METER[test.unit].sigma(expected))
        least, most = expected - BAND * sigma, expected + BAND * sigma
        narrowed_by = _narrowing(test, tests, likely, told, sigma, used)
    verdict, text = _verdict(test, reading, (least, most), expected, sigma, queries)
    return Row(
        test=test,
        expected=expected,
        least=least,
        most=most,
        reading=reading,
        verdict=verdict,
        text=text,
        narrowed_by=narrowed_by,
    )


def _narrowing(
    test: ProveTest, tests: tuple[ProveTest, ...], likely: Likely, told: Told, sigma: float, used: Mapping[str, float]
) -> str:
    """The reading not taken yet that would narrow this band most, where that is worth its while."""
    if test.quantity is None:
        return ""
    best, key = sigma / WIDE, ""
    own = METER[test.unit].sigma(told[test.quantity][0])
    for other in tests:
        if other.quantity is None or other.cannot or other.key == test.key or other.key in used:
            continue
        value, _, slope = told[other.quantity]
        left = math.hypot(likely.narrowed(told[test.quantity][2], slope, METER[other.unit].sigma(value)), own)
        if left < best:
            best, key = left, other.key
    return key


def _verdict(
    test: ProveTest,
    reading: float | None,
    band: tuple[float | None, float | None],
    expected: float | None,
    sigma: float,
    queries: Mapping[str, str],
) -> tuple[Verdict, str]:
    if test.cannot:
        return "cannot", test.cannot
    if reading is None:
        return "open", ""
    if test.key in queries:
        return "query", queries[test.key]
    least, most = band
    low = least is not None and reading < least
    high = most is not None and reading > most
    if not low and not high:
        return "right", "As it should be."
    side = "under" if low else "over"
    if expected is not None and abs(reading - expected) <= BEYOND * sigma:
        return "doubtful", f"A little {side} what is expected: measure it again."
    return "wrong", f"Well {side} what is expected."


def _queries(tests: tuple[ProveTest, ...], unknowns: tuple[Unknown, ...], known: Mapping[str, float]) -> dict[str, str]:
    """Readings that cannot be: the meter is asked before the wiring."""
    found: dict[str, str] = {}
    blank = Likely.of(unknowns).told()
    for test in tests:
        if test.quantity is None or test.key not in known:
            continue
        value, (expected, spread, _) = known[test.key], blank[test.quantity]
        wide = 6 * math.hypot(spread, METER[test.unit].sigma(expected))
        if value < 0 and expected > 0:
            found[test.key] = "Less than nothing: the clamp or the probes are the other way round."
        elif test.unit in ("V", "A") and (factor := _factor(value, expected, wide)) is not None:
            found[test.key] = f"About {factor} what is expected: the range or the comma?"
        elif test.unit == "V" and test.quantity in ("idle_posts_v", "posts_v") and value < 0.9 * expected - wide / 6:
            found[test.key] = (
                "Lower than a rested battery, though the engine runs: the meter, or the engine is not charging it."
            )
    found |= _together(known, found)
    return found


def _factor(value: float, expected: float, wide: float) -> str | None:
    if abs(value - expected) <= wide or value <= 0 or expected <= 0:
        return None
    for times, more, less in FACTORS:
        if abs(value / times - expected) < NEAR * expected:
            return more
        if abs(value * times - expected) < NEAR * expected:
            return less
    return None


def _together(known: Mapping[str, float], found: Mapping[str, str]) -> dict[str, str]:
    """Readings that cannot both be."""
    told: dict[str, str] = {}
    power = [known.get(key) for key in ("input_v", "input_a", "output_v", "output_a")]
    if all(value is not None for value in power) and not {"input_v", "input_a", "output_v", "output_a"} & set(found):
        input_v, input_a, output_v, output_a = (value or 0.0 for value in power)
        if output_v * output_a > 1.03 * input_v * input_a:
            told["output_a"] = told["input_a"] = (
                "More watts come out than go in: one of the two clamps is out, or was not set to nothing."
            )
    for amps, legs in (
        ("input_a", ("supply_out_mv", "supply_back_mv")),
        ("output_a", ("delivery_out_mv", "delivery_back_mv")),
    ):
        current = known.get(amps)
        for leg in legs:
            if current is not None and abs(current) < 0.5 and known.get(leg, 0.0) > 20.0:
                told[leg] = "A drop where no current flows: the probes, or the current was not there any more."
    return told


def _offers(ctx: Context, used: Mapping[str, float], verdicts: Mapping[str, Verdict]) -> Iterator[Offer]:
    """What was measured here and could stand in the survey; a reading that is queried or wrong is not offered."""
    good = {key: value for key, value in used.items() if verdicts.get(key) in ("right", "doubtful")}
    facts = ctx.facts
    found: list[tuple[Input, float]] = []
    if "rest.start" in good:
        found.append((facts.rest, good["rest.start"]))
    if "idle_posts_v" in good:
        found.append((facts.idle, good["idle_posts_v"]))
    if {"idle_posts_v", "posts_v", "input_a"} <= set(good) and good["input_a"] > LEAST_DRAW_A:
        found.append((facts.sag, 1000 * (good["idle_posts_v"] - good["posts_v"]) / good["input_a"]))
    for fact, value in found:
        stands = float(fact.value)
        rounded = round(value, 2 if fact.unit == "V" else 1)
        if not fact.path or rounded < 0:
            continue
        if fact.provenance != "measured" or abs(rounded - stands) > max(0.03, 0.1 * abs(stands)):
            yield Offer(
                path=fact.path, label=fact.label, unit=fact.unit, value=rounded, stands=stands, origin=fact.provenance
            )


LEG_QUANTITY: dict[Name, tuple[Quantity, str]] = {
    "supply_out": ("supply_out_mv", "input_a"),
    "supply_back": ("supply_back_mv", "input_a"),
    "delivery_out": ("delivery_out_mv", "output_a"),
    "delivery_back": ("delivery_back_mv", "output_a"),
}


def _legs(
    ctx: Context, tests: tuple[ProveTest, ...], unknowns: tuple[Unknown, ...], used: Mapping[str, float]
) -> Iterator[LegFound]:
    """Every leg as it was measured; nothing supposed of it but what was read."""
    likely = _likely(tests, unknowns, used, loose=True)
    at: dict[Name, int] = {item.name: place for place, item in enumerate(unknowns)}
    idle = ctx.solved.running[0]
    full = {
        "supply": idle.drawn.current_a if idle.drawn else 0.0,
        "delivery": ctx.solved.output.current_a if ctx.solved.output else 0.0,
    }
    for name in LEGS:
        item = unknowns[at[name]]
        found, spread = likely.leg(name, at)
        seen = LEG_QUANTITY[name][0] in used
        amps = full["supply" if name.startswith("supply") else "delivery"]
        excess = found - item.mean
        bound = math.hypot(spread, item.sigma)
        bad = seen and excess > BEYOND * bound and excess * 1000 > LIMIT_MOHM
        yield LegFound(
            leg=name,
            words=item.words,
            designed_mohm=item.mean * 1000,
            found_mohm=found * 1000 if seen else None,
            spread_mohm=BAND * spread * 1000 if seen else None,
            excess_mohm=excess * 1000 if seen else None,
            heat_w=excess * amps**2 if seen else None,
            bad=bad,
            text=_leg_text(item.words, excess, bound, amps, bad) if seen else "not measured",
        )


def _leg_text(words: str, excess: float, bound: float, amps: float, bad: bool) -> str:
    if not bad:
        return "as designed"
    return (
        f"{1000 * excess:.1f} ± {1000 * BAND * bound:.1f} mΩ too many in the {words}: {excess * amps**2:.0f} W of heat there at "
        "full current. Feel each joint, then measure across each."
    )


def _summary(rows: tuple[Row, ...], legs: tuple[LegFound, ...]) -> str:
    bad = [leg for leg in legs if leg.bad]
    asked = sum(row.verdict == "query" for row in rows)
    wrong = sum(row.verdict == "wrong" for row in rows)
    left = sum(row.verdict == "open" for row in rows)
    if asked:
        return (
            f"{asked} {'reading asks' if asked == 1 else 'readings ask'} for the meter first; nothing is judged by it."
        )
    if bad:
        return f"A bad joint: {bad[0].text}"
    if wrong:
        return f"{wrong} {'reading is' if wrong == 1 else 'readings are'} not as this design expects."
    if left:
        return f"{left} {'test' if left == 1 else 'tests'} to do; nothing wrong so far."
    return "Every test is as it should be."
