"""Causes ranked, told with their working, and the measurement that would tell most for each minute it takes.

- `Cause`, `Diagnosis`: as it is told.
- `diagnose`: ranks them.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from typing import Annotated

import numpy as np
from pydantic import Field

from olvask.core.analyses.diagnosis.evidence import Evidence, Suspects, Weighed, answered, strays, weigh
from olvask.core.analyses.diagnosis.fault import Symptom
from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.circuit.context import Context
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.stages.prove.beliefs import Told
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plant import READ, Floats, Plant, Whole
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.tests import tests_of
from olvask.core.stages.prove.unknowns import constants_of, unknowns_of

LIKELY = 0.5  # a cause less likely than not is told as not clear
MOST_ALIKE = 3  # more causes that read alike are no finding, only too little read
SMALL = 0.02  # a cause less likely than this is not worth its line
LIVE = 1e-3  # of weight: less does not move what is asked next
HANDLING_MIN = 3.0  # meter up, read, written down, whatever is measured; our own estimate
ALIKE = 0.7  # two causes whose readings speak for them alike, within this factor, are told together
WORTH = 0.004  # of a bit for each minute: less is not worth getting up for
NEAR = 0.02  # of a spread: readings told nearer to each other than this are one
LEAST = 1e-6  # of a spread, in the reading's own unit
POINTS = ((-1.3, 0.3), (0.0, 0.4), (1.3, 0.3))  # of a normal spread, and their weight: where a next reading may lie


class Explained(Said):
    """One reading: what this cause expects, and what was read."""

    test: str
    words: str
    expected: float
    spread: float
    read: float
    unit: str


class Cause(Said):
    """One cause and how well it explains what was read."""

    key: str
    words: str
    cure: str
    share: Annotated[float, Field(description="how likely it is beside the others, 0 to 1")]
    together: Annotated[bool, Field(description="whether no reading so far tells it from the first")]
    explained: tuple[Explained, ...]


class Diagnosis(Said):
    """Causes by how well they explain, and what to measure next."""

    causes: tuple[Cause, ...]
    next: str = Field(description="key of the test to do next; empty where none would tell")
    next_text: str = Field(description="what that test is, and what it would tell apart")
    apart: str = Field(description="what would tell causes apart that read alike; empty for none")
    text: str


def diagnose(
    ctx: Context,
    readings: Mapping[str, float],
    symptoms: Sequence[Symptom] = (),
    reports: Sequence[str] = (),
    meters: Mapping[str, Accuracy] = METER,
    twice: Collection[str] = (),
) -> Diagnosis:
    """Rank causes.

    Args:
        ctx: the design solved.
        readings: test keys to readings that were not put aside.
        symptoms: what the customer tells.
        reports: off-reasons and lamps the unit shows, in the words of its record.
        meters: accuracy by unit.
        twice: tests that were read twice with the same result.
    """
    return diagnosed(ctx, readings, symptoms, reports, meters, twice)[0]


def diagnosed(
    ctx: Context,
    readings: Mapping[str, float],
    symptoms: Sequence[Symptom] = (),
    reports: Sequence[str] = (),
    meters: Mapping[str, Accuracy] = METER,
    twice: Collection[str] = (),
) -> tuple[Diagnosis, Mapping[str, float]]:
    """Rank causes, and say what each test would tell [bit/min].

    Args:
        ctx: the design solved.
        readings: as for `diagnose`.
        symptoms: as for `diagnose`.
        reports: as for `diagnose`.
        meters: as for `diagnose`.
        twice: as for `diagnose`.
    """
    evidence = Evidence(offered(ctx), readings, tuple(symptoms), tuple(reports), meters)
    suspects = ctx.once(
        "diagnosis.suspects", lambda: Suspects.of(Plant(constants_of(ctx)), unknowns_of(ctx), faults_of(ctx))
    )
    weighed = weigh(suspects, evidence)
    hint = "" if weighed.explains else _astray(evidence, *strays(suspects, evidence, twice))
    shares = weighed.shares
    order = [int(number) for number in np.argsort(-shares, kind="stable") if shares[number] >= SMALL]
    told = _told(weighed, order)
    known = bool(evidence.read or evidence.looks)
    alike = _alike(weighed, order) if known else []
    causes = tuple(_cause(weighed, number, told, evidence, len(alike) > 1 and number in alike) for number in order)
    worth = _worths(weighed, told, evidence)
    best = max(worth, key=lambda key: worth[key], default="")
    following = (
        next((test for test in evidence.tests if test.key == best), None) if worth.get(best, 0.0) > WORTH else None
    )
    apart = [weighed.faults[number].apart for number in alike if weighed.faults[number].apart]
    found = Diagnosis(
        causes=causes,
        next=following.key if following is not None else "",
        next_text=_next_text(following, causes),
        apart=" ".join(dict.fromkeys(apart)) if len(alike) > 1 else "",
        text=hint or _text(causes, weighed.explains, known),
    )
    return found, worth


def offered(ctx: Context) -> tuple[ProveTest, ...]:
    """The tests of a design that tell causes apart.

    Args:
        ctx: the design solved.
    """
    return ctx.once(
        "diagnosis.offered", lambda: tuple({test.key: test for test in tests_of(ctx) if not test.cannot}.values())
    )


def _told(weighed: Weighed, order: Sequence[int]) -> Told:
    """What those say that have weight, and the best of each cause that is told; none of the others is asked."""
    rows = np.union1d(np.flatnonzero(weighed.weight > LIVE), [_best(weighed, number) for number in order]).astype(int)
    asked, count = weighed.beliefs.rows(rows).told(), len(weighed.weight)
    value, spread, slope = (
        np.full((count, *part.shape[1:]), np.nan) for part in (asked.value, asked.spread, asked.slope)
    )
    value[rows], spread[rows], slope[rows] = asked.value, asked.spread, asked.slope
    return Told(value, spread, slope)


def _best(weighed: Weighed, number: int) -> int:
    """The size of a cause that weighs most."""
    mine = np.flatnonzero(weighed.owner == number)
    return int(mine[np.argmax(weighed.weight[mine])])


def _alike(weighed: Weighed, order: Sequence[int]) -> list[int]:
    """The first cause and those that everything known speaks for just as well."""
    if not order:
        return []
    shares, faults = weighed.shares, weighed.faults
    first = shares[order[0]] / faults[order[0]].prior
    found = []
    for number in order:
        worth = shares[number] / faults[number].prior
        if min(first, worth) >= ALIKE * max(first, worth):
            found.append(number)
    return found if len(found) <= MOST_ALIKE else [order[0]]


def _cause(weighed: Weighed, number: int, told: Told, evidence: Evidence, alike: bool) -> Cause:
    fault = weighed.faults[number]
    best = _best(weighed, number)
    return Cause(
        key=fault.key,
        words=fault.words,
        cure=fault.cure,
        share=float(weighed.shares[number]),
        together=alike,
        explained=tuple(
            Explained(
                test=test.key,
                words=test.text,
                expected=float(told.value[best, READ[test.quantity]]),
                spread=math.hypot(
                    float(told.spread[best, READ[test.quantity]]),
                    evidence.meters[test.unit].sigma(evidence.readings[test.key], test.apart),
                ),
                read=evidence.readings[test.key],
                unit=test.unit,
            )
            for test in evidence.tests
            if test.quantity is not None and test.key in evidence.readings
        ),
    )


def _worths(weighed: Weighed, told: Told, evidence: Evidence) -> dict[str, float]:
    """What each test that was not done would tell for each minute it takes [bit/min]."""
    now = _entropy(weighed.shares[None, :])[0]
    live = weighed.weight > LIVE
    owner, weight = weighed.owner[live], weighed.weight[live] / weighed.weight[live].sum()
    found: dict[str, float] = {}
    for test in evidence.tests:
        if test.key in evidence.readings or (test.quantity is None and not test.answers):
            continue
        if test.quantity is not None:
            mean, spread = told.value[live, READ[test.quantity]], told.spread[live, READ[test.quantity]]
            sigma = np.maximum(np.hypot(spread, evidence.meters[test.unit].sigmas(mean)), LEAST)
            left = _left(owner, weight, len(weighed.faults), mean, sigma)
        else:
            left = _left_by_look(weighed, test)
        found[test.key] = float(now - left) / (test.minutes + HANDLING_MIN)
    return found


def _left(owner: Whole, weight: Floats, faults: int, mean: Floats, sigma: Floats) -> float:
    """Entropy over the faults that is left, on the average, once a reading was taken, by where each size tells it to lie.

    Sizes that tell the same reading are asked as one.
    """
    near = NEAR * sigma.min()
    alike = 1e6 * np.round(mean / near) + np.round(np.log(sigma / near) / NEAR)
    _, first, group = np.unique(alike, return_index=True, return_inverse=True)
    count = len(first)
    owned = np.bincount(group * faults + owner, weights=weight, minlength=count * faults).reshape(count, faults)
    mean, sigma = mean[first], sigma[first]
    points = np.array([at for at, _ in POINTS])
    values = (mean[:, None] + points[None, :] * sigma[:, None]).ravel()
    away = (values[:, None] - mean[None, :]) / sigma[None, :]
    by_fault = (np.exp(-0.5 * away * away) / sigma[None, :]) @ owned
    by_fault /= np.maximum(by_fault.sum(axis=1, keepdims=True), 1e-300)
    chance = (owned.sum(axis=1)[:, None] * np.array([share for _, share in POINTS])[None, :]).ravel()
    return float(chance @ _entropy(by_fault))


def _left_by_look(weighed: Weighed, test: ProveTest) -> float:
    """The same for a look."""
    shares, left = weighed.shares, 0.0
    often = np.array([answered(fault, test.key, len(test.answers)) for fault in weighed.faults])
    for number in range(len(test.answers)):
        likely = shares * often[:, number]
        chance = float(likely.sum())
        if chance > 0:
            left += chance * float(_entropy((likely / chance)[None, :])[0])
    return left


def _entropy(shares: Floats) -> Floats:
    """In bits, of each row."""
    return np.asarray(-np.sum(shares * np.log2(np.maximum(shares, 1e-12)), axis=1))


def _next_text(following: ProveTest | None, causes: Sequence[Cause]) -> str:
    if following is None:
        return ""
    split = " and ".join(cause.words for cause in causes[:2]) if len(causes) > 1 else ""
    would = f" would tell most between: {split}" if split else " would tell most"
    return f"{following.text} ({following.minutes:g} min){would}."


def _astray(evidence: Evidence, keys: Sequence[str], without: Weighed | None) -> str:
    """Which reading fits none of the others, and what they say without it; empty for none. It may be the one that is right."""
    if without is None:
        return ""
    words = [f"“{test.text}”" for key in keys for test in evidence.tests if test.key == key]
    which = words[0] if len(words) == 1 else f"either {', '.join(words[:-1])} or {words[-1]}"
    likeliest = int(np.argmax(without.shares))
    rest = f"{without.faults[likeliest].words}, {percent(without.shares[likeliest])}"
    return f"Nothing here explains all of these readings. Measure {which} again: without it the others say {rest}."


def _text(causes: Sequence[Cause], explains: bool, known: bool) -> str:
    if not known:
        return "Nothing read yet: causes stand as common as they are."
    if not causes or not explains:
        return "Nothing here explains these readings well, not even two faults at once: measure them again, one by one."
    alike = [cause for cause in causes if cause.together]
    if len(alike) > 1:
        words = " or ".join(cause.words for cause in alike)
        return f"{words[:1].upper()}{words[1:]}: {percent(sum(cause.share for cause in alike))} together; nothing read so far tells them apart."
    first = causes[0]
    sure = "" if first.share > LIKELY else "Not clear yet. Likeliest: "
    return f"{sure}{first.words if sure else first.words[:1].upper() + first.words[1:]}, {percent(first.share)}."
