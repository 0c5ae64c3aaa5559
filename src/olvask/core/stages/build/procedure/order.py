"""The order of a procedure: its steps sorted so that every rule holds; rules that contradict are told, with both reasons.

- `Procedure`, `Placed`, `Contradiction`: as it is told.
- `in_order`: steps and rules in, procedure out.
"""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter
from heapq import heappop, heappush

from pydantic import Field

from olvask.core.findings.said import Said
from olvask.core.model.site import GROUPS
from olvask.core.stages.build.procedure.step import RANK, Rule, Step

PLACE = {group: at for at, group in enumerate(GROUPS)}


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderReason:
    """Why a step stands where it does, seen from it: the other step, and the sentence."""

    step: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A step in its place: what it waits for, what waits for it."""

    number: int
    step: Step
    waits_for: tuple[OrderReason, ...]
    needed_by: tuple[OrderReason, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Contradiction:
    """Rules that cannot all hold, and which was let go so that there is an order at all."""

    rules: tuple[Rule, ...]
    dropped: Rule
    text: str


class Procedure(Said):
    """Steps in an order that keeps every rule."""

    title: str
    text: str
    steps: tuple[Placed, ...]
    contradictions: tuple[Contradiction, ...]
    unknown: tuple[str, ...] = Field((), description="rules of the shop that name a step which is not there")


def in_order(title: str, text: str, steps: Sequence[Step], rules: Iterable[Rule]) -> Procedure:
    """Sort steps so that every rule holds; between rules the order of groups and of `steps` themselves decides.

    Args:
        title: what the procedure is called.
        text: one sentence on it.
        steps: in the order they would naturally be done.
        rules: this before that; those that name a step that is not there are passed over.

    A circle of rules is broken at its weakest, and told: nature before the unit's record before habit before the shop.
    """
    rules = tuple(rules)
    known = {step.key: (PLACE[step.group], at) for at, step in enumerate(steps)}
    held = [rule for rule in dict.fromkeys(rules) if rule.before in known and rule.after in known]
    told: list[Contradiction] = []
    while (circle := _circle(known, held)) is not None:
        dropped = max(circle, key=lambda rule: RANK[rule.origin])
        held = [rule for rule in held if (rule.before, rule.after) != (dropped.before, dropped.after)]
        told.append(_contradiction(circle, dropped, {step.key: step for step in steps}))
    by_key = {step.key: step for step in steps}
    order = _sorted(known, held)
    return Procedure(
        title=title,
        text=text,
        steps=tuple(_placed(at, by_key[key], held, order) for at, key in enumerate(order, start=1)),
        contradictions=tuple(told),
        unknown=tuple(_unknown(known, rules, by_key)),
    )


def _unknown(known: Collection[str], rules: Iterable[Rule], steps: dict[str, Step]) -> Iterator[str]:
    """What the shop's own rules name that is not there."""
    for rule in rules:
        for own, name, side in ((rule.after, rule.before, "after"), (rule.before, rule.after, "before")):
            if rule.origin == "shop" and own in known and name not in known:
                yield f"“{steps[own].text}” is to stand {side} “{name}”, and no step of this job has that name: choose another."


def _circle(known: dict[str, tuple[int, int]], rules: Sequence[Rule]) -> list[Rule] | None:
    """Rules that lead round in a circle; `None` where none do."""
    sorter: TopologicalSorter[str] = TopologicalSorter(dict.fromkeys(known, ()))
    for rule in rules:
        sorter.add(rule.after, rule.before)
    try:
        sorter.prepare()
    except CycleError as error:
        round_about: list[str] = error.args[1]  # each waits for the one before it
        strongest: dict[tuple[str, str], Rule] = {}
        for rule in rules:
            pair = (rule.before, rule.after)
            if pair not in strongest or RANK[rule.origin] < RANK[strongest[pair].origin]:
                strongest[pair] = rule
        return [strongest[pair] for pair in itertools.pairwise(round_about)]
    return None


def _sorted(known: dict[str, tuple[int, int]], rules: Sequence[Rule]) -> list[str]:
    """Keys in order: of those whose rules are met, the one that comes first by group and nature."""
    sorter: TopologicalSorter[str] = TopologicalSorter(dict.fromkeys(known, ()))
    for rule in rules:
        sorter.add(rule.after, rule.before)
    sorter.prepare()
    waiting: list[tuple[tuple[int, int], str]] = []
    order: list[str] = []
    while sorter.is_active():
        for key in sorter.get_ready():
            heappush(waiting, (known[key], key))
        _, key = heappop(waiting)
        order.append(key)
        sorter.done(key)
    return order


def _placed(number: int, step: Step, rules: Sequence[Rule], order: Sequence[str]) -> Placed:
    at = {key: place for place, key in enumerate(order)}
    before: defaultdict[str, dict[str, None]] = defaultdict(dict)
    after: defaultdict[str, dict[str, None]] = defaultdict(dict)
    for rule in rules:
        if rule.after == step.key:
            before[rule.before][rule.why] = None
        elif rule.before == step.key:
            after[rule.after][rule.why] = None
    return Placed(
        number=number,
        step=step,
        waits_for=tuple(_reasons(before, sorted(before, key=lambda key: -at[key]))),
        needed_by=tuple(_reasons(after, sorted(after, key=lambda key: at[key]))),
    )


def _reasons(found: dict[str, dict[str, None]], keys: Sequence[str]) -> list[OrderReason]:
    return [OrderReason(step=key, why=why) for key in keys for why in found[key]]


def _contradiction(circle: Sequence[Rule], dropped: Rule, steps: dict[str, Step]) -> Contradiction:
    said = "; ".join(
        f"“{steps[rule.before].text}” before “{steps[rule.after].text}”: {rule.why[:1].lower()}{rule.why[1:].rstrip('.')}"
        for rule in circle
    )
    if dropped.origin in ("physics", "record"):
        settled = "Settle it with the makers before work begins."
    else:
        settled = f"The order below leaves out “{steps[dropped.before].text}” before “{steps[dropped.after].text}”."
        if all(rule.origin == dropped.origin for rule in circle):
            settled += " Settle which of them holds."
    return Contradiction(rules=tuple(circle), dropped=dropped, text=f"These cannot all hold: {said}. {settled}")
