"""Fault finding: each fault put into the same running vehicle, weighed by how well it explains what was read.

- `Cause`, `Diagnosis`: as it is told.
- `diagnose`: ranks causes, and says what to measure next.

A fault has sizes; each is a vehicle of its own whose unknowns are narrowed by the readings, and whose likelihood is what they
were worth on the way. Healthy is a cause like any other.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.stages.prove.likely import LEGS, Likely, Mode, Name, Quantity, Unknown, unknowns_of
from olvask.core.stages.prove.meter import METER
from olvask.core.stages.prove.tests import ProveTest, tests_of

SMALL = 0.02  # a cause less likely than this is not worth its line
FLOOR = 1e-12
POINTS = ((-1.3, 0.3), (0.0, 0.4), (1.3, 0.3))  # of a normal spread, and their weight: where a next reading may lie


@dataclass(frozen=True, slots=True)
class Fault:
    """One cause: how common it is, what it changes, what cures it.

    Attributes:
        key: its name.
        words: what it is.
        cure: what is done about it.
        prior: how common it is among such calls; our own estimates.
        sizes: what it changes: an unknown, a factor on its mean and a sum on top.
        mode: what flows with it.
    """

    key: str
    words: str
    cure: str
    prior: float
    sizes: tuple[tuple[tuple[Name, float, float], ...], ...] = ((),)
    mode: Mode = "charging"


LEG_WORDS: dict[Name, str] = {
    "supply_out": "outgoing supply",
    "supply_back": "return of the supply",
    "delivery_out": "outgoing delivery",
    "delivery_back": "return of the delivery",
}
JOINTS = tuple(
    Fault(
        key=f"joint.{leg}",
        words=f"bad joint in the {words}",
        cure="Measure across each joint of that leg under load; make the one that drops anew.",
        prior=0.06,
        sizes=tuple(((leg, 1.0, ohm),) for ohm in (0.002, 0.004, 0.008, 0.016, 0.032, 0.06)),
    )
    for leg, words in LEG_WORDS.items()
)
FAULTS: tuple[Fault, ...] = (
    Fault("healthy", "nothing is wrong", "", 0.35),
    *JOINTS,
    Fault(
        "thin.supply",
        "supply cable thinner than thought, or copper-clad",
        "Measure the cable's diameter and look at its strands; lay what the design says.",
        0.04,
        tuple((("supply_out", share, 0.0), ("supply_back", share, 0.0)) for share in (1.4, 1.7, 2.5)),
    ),
    Fault(
        "alternator",
        "weak alternator, or a belt that slips",
        "Belt first: tension, glaze, a squeal under load. Then the alternator's own output.",
        0.07,
        tuple((("sag_ohm", share, 0.0),) for share in (4.0, 8.0, 16.0)),
    ),
    Fault(
        "limited",
        "current limit set, or held back by heat",
        "Read the limit back; feel the case, and give it air.",
        0.06,
        tuple((("output_a", share, 0.0),) for share in (0.35, 0.5, 0.75)),
    ),
    Fault(
        "full",
        "auxiliary battery nearly full",
        "Nothing: load it, and measure again.",
        0.08,
        tuple((("output_a", share, 0.0), ("auxiliary_v", 1.0, 0.7)) for share in (0.06, 0.15, 0.35)),
    ),
    Fault(
        "no_enable",
        "no leave to charge: enable missing, switched off, or its thresholds are not met",
        "Volts at the enable terminal; then the thresholds as read back; then whether it is switched on.",
        0.1,
        mode="idle",
    ),
    Fault(
        "open.supply",
        "supply run open: device, plug or joint",
        "Volts on both sides of each device, from the battery on.",
        0.05,
        mode="no_input",
    ),
    Fault(
        "open.delivery",
        "delivery run open: device or joint",
        "Volts on both sides of each device, from the unit on.",
        0.04,
        mode="no_output",
    ),
    Fault(
        "pack_off",
        "the battery's own management is open",
        "Wake it as its maker says; see why it opened.",
        0.03,
        mode="pack_off",
    ),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Explained:
    """One reading: what this cause expects, and what was read."""

    test: str
    expected: float
    read: float
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """One cause and how well it explains what was read."""

    key: str
    words: str
    cure: str
    share: Annotated[float, Field(description="how likely it is beside the others, 0 to 1")]
    explained: tuple[Explained, ...]


class Diagnosis(Said):
    """Causes by how well they explain, and what to measure next."""

    causes: tuple[Cause, ...]
    next: str = Field(description="key of the test to do next; empty where none would tell")
    text: str


@dataclass(frozen=True, slots=True)
class _Weighed:
    """A size of a fault, narrowed by the readings."""

    fault: Fault
    likely: Likely
    weight: float


def diagnose(ctx: Context, readings: Mapping[str, float]) -> Diagnosis:
    """Rank causes.

    Args:
        ctx: the design solved.
        readings: test keys to readings that were not put aside.
    """
    tests = [test for test in tests_of(ctx) if test.quantity is not None and not test.cannot]
    read = [
        (test.quantity, readings[test.key], METER[test.unit].sigma(readings[test.key]))
        for test in tests
        if test.quantity is not None and test.key in readings
    ]
    weighed = _weighed(unknowns_of(ctx), read)
    shares: dict[str, float] = {}
    for item in weighed:
        shares[item.fault.key] = shares.get(item.fault.key, 0.0) + item.weight
    causes = tuple(
        _cause(fault, shares[fault.key], weighed, tests, readings)
        for fault in sorted(FAULTS, key=lambda fault: -shares[fault.key])
        if shares[fault.key] >= SMALL
    )
    following = _next(weighed, tests, readings, shares)
    return Diagnosis(causes=causes, next=following, text=_text(causes, following, tests))


def _weighed(unknowns: Sequence[Unknown], read: Sequence[tuple[Quantity, float, float]]) -> list[_Weighed]:
    """Every size of every fault by prior and likelihood, together 1."""
    found: list[tuple[Fault, Likely, float]] = []
    for fault in FAULTS:
        for size in fault.sizes:
            changed = [_changed(item, size) for item in unknowns]
            likely = Likely.of(changed, mode=fault.mode).after(read)
            found.append((fault, likely, math.log(fault.prior / len(fault.sizes)) + likely.logged))
    most = max(logged for _, _, logged in found)
    weights = [math.exp(max(-700.0, logged - most)) for _, _, logged in found]
    total = sum(weights)
    return [_Weighed(fault, likely, weight / total) for (fault, likely, _), weight in zip(found, weights, strict=True)]


def _changed(item: Unknown, size: Sequence[tuple[Name, float, float]]) -> Unknown:
    """An unknown as a fault has it; what is added has a spread of its own, so that sizes between are met."""
    for name, share, more in size:
        if name == item.name:
            mean = item.mean * share + more
            between = 0.25 * more if item.name in LEGS else 0.2 * abs(mean - item.mean)
            return replace(item, mean=mean, sigma=math.hypot(item.sigma * max(share, 0.2), between))
    return item


def _cause(
    fault: Fault, share: float, weighed: Sequence[_Weighed], tests: Sequence[ProveTest], readings: Mapping[str, float]
) -> Cause:
    best = max((item for item in weighed if item.fault is fault), key=lambda item: item.weight)
    told = best.likely.told()
    return Cause(
        key=fault.key,
        words=fault.words,
        cure=fault.cure,
        share=share,
        explained=tuple(
            Explained(test=test.key, expected=told[test.quantity][0], read=readings[test.key], unit=test.unit)
            for test in tests
            if test.quantity is not None and test.key in readings
        ),
    )


def _next(
    weighed: Sequence[_Weighed], tests: Sequence[ProveTest], readings: Mapping[str, float], shares: Mapping[str, float]
) -> str:
    """The test that tells most for each minute it takes; empty where none tells anything."""
    live = [item for item in weighed if item.weight > 1e-3]
    told = [item.likely.told() for item in live]
    now = _entropy(shares.values())
    best, key = 0.01, ""
    for test in tests:
        if test.quantity is None or test.key in readings:
            continue
        spreads = [
            (
                told_of[test.quantity][0],
                math.hypot(told_of[test.quantity][1], METER[test.unit].sigma(told_of[test.quantity][0])),
            )
            for told_of in told
        ]
        gained = (now - _left(live, spreads)) / test.minutes
        if gained > best:
            best, key = gained, test.key
    return key


def _left(live: Sequence[_Weighed], spreads: Sequence[tuple[float, float]]) -> float:
    """Entropy left, on the average, once a reading was taken."""
    left = 0.0
    for item, (mean, sigma) in zip(live, spreads, strict=True):
        for at, weight in POINTS:
            value = mean + at * sigma
            after: dict[str, float] = {}
            for other, (there, spread) in zip(live, spreads, strict=True):
                away = (value - there) / spread
                after[other.fault.key] = (
                    after.get(other.fault.key, 0.0) + other.weight * math.exp(-0.5 * away * away) / spread
                )
            total = sum(after.values()) or 1.0
            left += item.weight * weight * _entropy([share / total for share in after.values()])
    return left


def _entropy(shares: Iterable[float]) -> float:
    return -sum(share * math.log(max(share, FLOOR)) for share in shares)


def _text(causes: Sequence[Cause], following: str, tests: Sequence[ProveTest]) -> str:
    if not causes:
        return "Nothing explains these readings: measure again."
    first = causes[0]
    words = f"{first.words[:1].upper()}{first.words[1:]}: {first.share:.0%}."
    test = next((item for item in tests if item.key == following), None)
    if test is None or first.share > 0.97:
        return words
    told = f"would tell that from: {causes[1].words}" if len(causes) > 1 else "would tell most"
    return f"{words} {test.text}, {test.minutes:g} min, {told}."
