"""Readings judged: bands from what this design expects now, plausibility first, legs with milliohms too many.

- `Proof`, `Row`, `Offer`: as it is told.
- `prove`: judges a set of readings.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.level_line import ConditionLine
from olvask.core.findings.figure import Input
from olvask.core.findings.said import Said
from olvask.core.stages.prove.beliefs import Beliefs, Reading, Told, narrowed
from olvask.core.stages.prove.legs import BAND, BEYOND, LOOPS, PARTS, LegFound, LoopFound, legs_of, loops_of, loosened
from olvask.core.stages.prove.measured import measured_line
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plant import QUANTITIES, READ, Plant
from olvask.core.stages.prove.plausible import queries
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.tests import tests_of
from olvask.core.stages.prove.unknowns import Unknown, constants_of, unknowns_of

Verdict = Literal["open", "right", "doubtful", "wrong", "query", "cannot"]
WIDE = 1.25  # a band this many times what one more reading would leave is told to be wide
LEGS_READ = frozenset(quantity for _, quantity, _ in PARTS.values())
STRAYS, TRIED = (
    2,
    3,
)  # readings put aside at most, more of them are no slips any more; and tried for each; our own estimate
LEAST_DRAW_A = 5.0  # below it the fall of the posts is lost in the meter; our own estimate


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One test with what was read, where it should lie and what follows."""

    test: ProveTest
    expected: float | None
    least: float | None
    most: float | None
    doubtful: Annotated[
        float | None,
        Field(description="how far beyond its band a reading is no more than doubtful; none for a fixed band"),
    ]
    reading: float | None
    out_by: Annotated[float | None, Field(description="what the meter may be out by at the reading, both ways")]
    verdict: Verdict
    text: str
    narrowed_by: Annotated[
        str, Field(description="the test whose reading would narrow a wide band most; empty for none")
    ]


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


@dataclass(frozen=True)
class _Bench:
    """A design's tests and circuit, and what was read."""

    tests: tuple[ProveTest, ...]
    unknowns: tuple[Unknown, ...]
    plant: Plant
    known: Mapping[str, float]
    asked: Mapping[str, str]  # what asks for the meter first, and why
    twice: Collection[str]
    meters: Mapping[str, Accuracy]
    aside: frozenset[str] = frozenset()  # what fits none of the others, and counts for none of them

    @cached_property
    def used(self) -> dict[str, float]:
        """The readings that are sound."""
        return {key: value for key, value in self.known.items() if key not in self.asked}

    @cached_property
    def counted(self) -> dict[str, float]:
        """Those by which others are judged."""
        return {key: value for key, value in self.used.items() if key not in self.aside}

    @cached_property
    def read(self) -> list[tuple[str, Reading]]:
        """Each reading of the vehicle with the key of its test."""
        return [
            (
                test.key,
                Reading(
                    test.quantity, self.used[test.key], self.meters[test.unit].sigma(self.used[test.key], test.apart)
                ),
            )
            for test in self.tests
            if test.quantity is not None and test.key in self.counted
        ]

    def likely(self, loose: Sequence[str]) -> Beliefs:
        """What is likely by every reading, where some parts may hold anything."""
        beliefs = Beliefs.of(self.plant, [(loosened(self.unknowns, loose), "charging")])
        return beliefs.settled([reading for _, reading in self.read])


def prove(
    ctx: Context, readings: Mapping[str, float], twice: Collection[str] = (), meters: Mapping[str, Accuracy] = METER
) -> Proof:
    """Judge readings.

    Args:
        ctx: the design solved.
        readings: test keys to the newest reading of each; keys of no test are passed over.
        twice: tests that were read twice with the same result.
        meters: accuracy by unit.
    """
    tests, unknowns = tests_of(ctx), unknowns_of(ctx)
    known = {test.key: readings[test.key] for test in tests if test.key in readings and not test.cannot}
    asked = queries(ctx, tests, known, twice, meters)
    bench = _Bench(tests, unknowns, Plant(constants_of(ctx)), known, asked, twice, meters)
    bench, judged = _without_strays(ctx, bench)
    rows = judged.rows
    waiting = [row.test.key for row in rows if row.verdict == "open" and row.test.group != "finding"]
    running = any(test.group == "running" and test.quantity is not None and test.key in bench.used for test in tests)
    measured = measured_line(ctx, bench.likely(judged.bad)) if running and ctx.design.charger else None
    return Proof(
        rows=rows,
        legs=judged.legs,
        offers=tuple(_offers(ctx, bench.used, {row.test.key: row.verdict for row in rows})),
        measured=measured,
        next=waiting[0] if waiting else "",
        text=_summary(rows, judged.legs, judged.loops),
    )


@dataclass(frozen=True, slots=True)
class _Judged:
    """What follows from the readings that count: legs, whole runs, the parts among them that are bad, and every row."""

    legs: tuple[LegFound, ...]
    loops: tuple[LoopFound, ...]
    bad: tuple[str, ...]
    rows: tuple[Row, ...]

    @property
    def wrong(self) -> list[Row]:
        """Those that lie far from what the others let expect."""
        return [row for row in self.rows if row.verdict == "wrong" and row.expected is not None]


def _judged(ctx: Context, bench: _Bench) -> _Judged:
    free = bench.likely(tuple(PARTS))
    legs = tuple(legs_of(ctx, bench.tests, bench.unknowns, free, bench.counted))
    loops = tuple(loops_of(bench.unknowns, free, [reading.quantity for _, reading in bench.read]))
    bad = [leg.leg for leg in legs if leg.bad]
    bad += [part for loop in loops for part in LOOPS[loop.run][2] if part not in bad]
    return _Judged(legs, loops, tuple(bad), tuple(_rows(bench, bad)))


def _without_strays(ctx: Context, bench: _Bench) -> tuple[_Bench, _Judged]:
    """The readings judged, one that fits none of the others put aside: it makes them wrong, and they are not.

    Those furthest out are tried; one is put aside where fewer of the others are wrong without it. The millivolts of a leg
    never are, for a bad joint is just what others may be blind to; nor is what was read twice with the same result.
    """
    judged = _judged(ctx, bench)
    for _ in range(STRAYS):
        wrong = [row for row in judged.wrong if row.test.key not in bench.aside]
        tried = [row for row in wrong if row.test.quantity not in LEGS_READ and row.test.key not in bench.twice]
        if len(wrong) < 2 or not tried:
            break
        best, fewest = None, len(wrong) - 1
        for row in sorted(tried, key=_far, reverse=True)[:TRIED]:
            without = replace(bench, aside=bench.aside | {row.test.key})
            again = _judged(ctx, without)
            left = sum(other.test.key not in without.aside for other in again.wrong)
            if left < fewest:
                best, fewest = (without, again), left
            if not left:
                break
        if best is None:
            break
        bench, judged = best
    return bench, judged


def _far(row: Row) -> float:
    """How far a reading lies from what is expected, in widths of its band."""
    if row.reading is None or row.expected is None or row.least is None or row.most is None:
        return 0.0
    return abs(row.reading - row.expected) / max(row.most - row.least, 1e-9)


def _rows(bench: _Bench, bad: Sequence[str]) -> Iterator[Row]:
    """Every test, its band by every reading but its own."""
    modelled = [test for test in bench.tests if test.quantity is not None and test.least is None and not test.cannot]
    read = bench.read
    suppositions = [(_supposed(bench.unknowns, bad, test), "charging") for test in modelled]
    told: Told | None = None
    beliefs: Beliefs | None = None
    if modelled:
        counts = np.array([[key != test.key for key, _ in read] for test in modelled], dtype=bool)
        beliefs = Beliefs.of(bench.plant, suppositions).settled([reading for _, reading in read], counts)  # type: ignore[arg-type]  # all are charging
        told = beliefs.told()
    place = {test.key: row for row, test in enumerate(modelled)}
    for test in bench.tests:
        expected, least, most, narrowed_by, sigma = None, test.least, test.most, "", 0.0
        row = place.get(test.key)
        if row is not None and told is not None and beliefs is not None and test.quantity is not None:
            expected = float(told.value[row, READ[test.quantity]])
            sigma = math.hypot(
                float(told.spread[row, READ[test.quantity]]), bench.meters[test.unit].sigma(expected, test.apart)
            )
            least, most = expected - BAND * sigma, expected + BAND * sigma
            narrowed_by = _narrowing(bench, test, beliefs, told, row, sigma)
        reading = bench.known.get(test.key)
        verdict, text = _verdict(test, reading, (least, most), expected, sigma, bench.asked)
        if test.key in bench.aside:
            text = f"{text.removesuffix('.')}; the others fit each other without it. Measure it again."
        yield Row(
            test=test,
            expected=expected,
            least=least,
            most=most,
            doubtful=(BEYOND - BAND) * sigma if expected is not None else None,
            reading=reading,
            out_by=None if reading is None or test.answers else bench.meters[test.unit].bound(reading),
            verdict=verdict,
            text=text,
            narrowed_by=narrowed_by,
        )


def _supposed(unknowns: Sequence[Unknown], bad: Sequence[str], test: ProveTest) -> list[Unknown]:
    """What is not known once some parts are known to be bad: they may hold anything, but for the test that reads them."""
    ends = {"input_v": "supply", "output_v": "delivery"}
    whole = ends.get(test.quantity or "", "-")
    own = {name for names, quantity, _ in PARTS.values() if quantity == test.quantity for name in names}
    return loosened(unknowns, [part for part in bad if not own & set(PARTS[part][0]) and not part.startswith(whole)])


def _narrowing(bench: _Bench, test: ProveTest, beliefs: Beliefs, told: Told, row: int, sigma: float) -> str:
    """The reading not taken yet that would narrow this band most, where that is worth its while."""
    if test.quantity is None:
        return ""
    units = {other.quantity: other.unit for other in bench.tests if other.quantity is not None}
    meters = np.array(
        [
            bench.meters[units.get(quantity, "V")].sigma(float(told.value[row, at]))
            for at, quantity in enumerate(QUANTITIES)
        ]
    )
    left = narrowed(beliefs, row, told, test.quantity, np.maximum(meters, 1e-9))
    own = bench.meters[test.unit].sigma(float(told.value[row, READ[test.quantity]]), test.apart)
    best, key = sigma / WIDE, ""
    for other in bench.tests:
        if other.quantity is None or other.cannot or other.key == test.key or other.key in bench.used:
            continue
        if other.quantity == test.quantity or other.group == "finding":
            continue
        after = math.hypot(float(left[READ[other.quantity]]), own)
        if after < best:
            best, key = after, other.key
    return key


def _verdict(
    test: ProveTest,
    reading: float | None,
    band: tuple[float | None, float | None],
    expected: float | None,
    sigma: float,
    asked: Mapping[str, str],
) -> tuple[Verdict, str]:
    if test.cannot:
        return "cannot", test.cannot
    if reading is None:
        return "open", ""
    if test.key in asked:
        return "query", asked[test.key]
    if test.answers:
        return ("right", "As it should be.") if reading < 0.5 else ("wrong", "Not as designed.")
    least, most = band
    low = least is not None and reading < least
    high = most is not None and reading > most
    if not low and not high:
        return "right", "As it should be."
    side = "under" if low else "over"
    if expected is not None and abs(reading - expected) <= BEYOND * sigma:
        return "doubtful", f"A little {side} what is expected: measure it again."
    return "wrong", f"Well {side} what is expected."


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


def _summary(rows: tuple[Row, ...], legs: tuple[LegFound, ...], loops: tuple[LoopFound, ...]) -> str:
    bad = [leg for leg in legs if leg.bad]
    asked = sum(row.verdict == "query" for row in rows)
    wrong = sum(row.verdict == "wrong" for row in rows)
    waiting = [row for row in rows if row.verdict == "open" and row.test.group != "finding"]
    left = sum(row.test.fewest for row in waiting)
    more = len(waiting) - left
    if asked:
        return (
            f"{asked} {'reading asks' if asked == 1 else 'readings ask'} for the meter first; nothing is judged by it."
        )
    if bad:
        return f"A bad joint: {bad[0].text}"
    if loops:
        return f"Volts are lost on the way: {loops[0].text}"
    if wrong:
        return f"{wrong} {'reading is' if wrong == 1 else 'readings are'} not as this design expects."
    if left:
        beside = f", {more} more if wanted" if more else ""
        return f"{left} {'test' if left == 1 else 'tests'} to do{beside}; nothing wrong so far."
    if more:
        return f"Every test it is signed off by is as it should be; {more} more if wanted."
    return "Every test is as it should be."
