"""The shortest way through a device's menu to the values wanted.

- `Wish`: a value wanted of a line, and how bad each value it can have would be.
- `Plan`: the steps, and what acts after them.
- `plan`: finds it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice, product

from olvask.core.model.settings import Setting, SettingsRecord, Value
from olvask.core.stages.settings.menu import UNKNOWN, Menu, Step, outcome

TOO_BAD = 10.0  # a choice that is not even tried where it shows or rewrites other lines
MOST_COMBINATIONS = 2000  # of choices that rewrite or show other lines
NOT_ACTING = 200.0  # how bad it is that a line wanted does not act as the menu stands
NOWHERE = 1e6  # how bad it is not to know what acts


@dataclass(frozen=True, slots=True)
class Wish:
    """What is wanted of one line.

    Attributes:
        line: its name.
        candidates: values it can have that come into question, the best one first.
        badness: how bad a value is; 0 for what is wanted.
    """

    line: str
    candidates: tuple[Value, ...]
    badness: Callable[[Value], float]


@dataclass(frozen=True, slots=True)
class Plan:
    """Steps at the device, and what acts afterwards; `badness` of what could not be had."""

    steps: tuple[Step, ...]
    acting: Mapping[str, Value]
    badness: float

    @property
    def rank(self) -> tuple[float, int]:
        """What the better of two plans has less of: badness, rounding apart, then steps."""
        return round(self.badness, 6), len(self.steps)


def plan(record: SettingsRecord, wishes: Sequence[Wish]) -> Plan:
    """Steps from the factory state to what is wanted, as near as the menu lets it come; none of them could be left out.

    Args:
        record: the menu.
        wishes: at most one a line.
    """
    wanted = {wish.line: wish for wish in wishes}
    best: Plan | None = None
    for chosen in _choices(record, wanted):
        steps = _way(record, wanted, chosen)
        if steps is None:
            continue
        acting = outcome(record, steps)
        if acting is None:
            continue
        bad = sum(_bad(wish, acting) for wish in wishes)
        found = Plan(tuple(steps), acting, bad)
        if best is None or found.rank < best.rank:
            best = found
    if best is None:
        acting = outcome(record, ()) or {}
        best = Plan((), acting, sum(_bad(wish, acting) for wish in wishes))
    return _shortened(record, wishes, best)


def _bad(wish: Wish, acting: Mapping[str, Value]) -> float:
    value = acting.get(wish.line)
    if value is None:
        return NOT_ACTING
    return NOWHERE if value == UNKNOWN else wish.badness(value)


def _choices(record: SettingsRecord, wanted: Mapping[str, Wish]) -> Iterator[dict[str, Value]]:
    """Every combination of lines that show or rewrite others; `None` stands for leaving one as it is."""
    parents = {line.shown_line for line in record.lines if line.shown_line}
    free = [
        line
        for line in record.lines
        if not line.hidden
        and line.kind in ("choice", "coded", "switch")
        and (line.id in parents or any(option.rewrites for option in line.options))
    ]
    ranges: list[list[Value | None]] = []
    for line in free:
        wish = wanted.get(line.id)
        worth = line.values() if wish is None else [value for value in wish.candidates if wish.badness(value) < TOO_BAD]
        ranges.append([None, *worth])
    for combination in islice(product(*ranges), MOST_COMBINATIONS):
        yield {line.id: value for line, value in zip(free, combination, strict=True) if value is not None}


def _way(record: SettingsRecord, wanted: Mapping[str, Wish], chosen: Mapping[str, Value]) -> list[Step] | None:
    """Steps that bring chosen values about, then every wish that can be keyed; first those that are hidden in the end."""
    builder = _Builder(record)
    final = Menu(record)
    ordered = _depth_first(record, chosen)
    for id in ordered:
        final.key(id, chosen[id])
    for line in record.lines:
        wish = wanted.get(line.id)
        if wish is None or line.hidden or line.id in chosen or final.visible(line) or not line.acts_hidden:
            continue
        builder.bring(line, wish.candidates[0])
    for id in ordered:
        if not builder.bring(builder.menu.lines[id], chosen[id], again=True):
            return None
    for line in record.lines:
        wish = wanted.get(line.id)
        if wish is not None and line.id not in chosen and builder.menu.visible(line):
            builder.bring(line, wish.candidates[0])
    builder.close()
    return builder.steps


def _depth_first(record: SettingsRecord, chosen: Mapping[str, Value]) -> list[str]:
    """Chosen lines, each after the one it depends on, else in menu order."""
    done: list[str] = []
    by_id = {line.id: line for line in record.lines}

    def take(id: str) -> None:
        above = by_id[id].shown_line
        if above in chosen and above not in done:
            take(above)
        if id not in done:
            done.append(id)

    for line in record.lines:
        if line.id in chosen:
            take(line.id)
    return done


class _Builder:
    """Steps as they are put together, with the menu as it stands after them."""

    def __init__(self, record: SettingsRecord) -> None:
        self.menu, self.steps = Menu(record, "same_restarts"), list[Step]()

    def bring(self, line: Setting, value: Value, again: bool = False) -> bool:
        """Key a line, showing it first where it is hidden; false where that cannot be done."""
        if line.shown_line and not self.menu.visible(line):
            above = self.menu.lines[line.shown_line]
            if above.hidden or not self.bring(above, line.shown_values[0], again=True):
                return False
        if self.menu.shown[line.id] == value and not again:
            return True
        if line.restarts and self.menu.pending:
            self.save()
        if not self.menu.key(line.id, value):
            return False
        self.steps.append(Step("key", line.id, value))
        return True

    def save(self) -> None:
        self.menu.save()
        self.steps.append(Step("save"))

    def close(self) -> None:
        """Save what wants saving, and switch off and on where something is read only then."""
        if self.menu.pending:
            self.save()
        if self.menu.unread:
            self.steps.append(Step("power"))


def _shortened(record: SettingsRecord, wishes: Sequence[Wish], found: Plan) -> Plan:
    """The same outcome of what is wanted with every step left out that changes nothing of it."""
    steps = list(found.steps)

    def told(acting: Mapping[str, Value]) -> list[Value | None]:
        return [acting.get(wish.line) for wish in wishes]

    goal = told(found.acting)
    again = True
    while again:
        again = False
        for at in reversed(range(len(steps))):
            fewer = steps[:at] + steps[at + 1 :]
            acting = outcome(record, fewer)
            if acting is not None and told(acting) == goal:
                steps, again = fewer, True
    return Plan(tuple(steps), outcome(record, steps) or {}, found.badness)
