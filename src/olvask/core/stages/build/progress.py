"""How far the work is: what was noted at each step, by whom, and what is still open.

- `Entry`: one thing noted; it is never changed, only followed by another.
- `progress_of`: what they come to, step by step.
- `left_of`: what is not done, for whoever takes the vehicle over.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from itertools import combinations
from typing import Literal

from olvask.core.findings.said import Said
from olvask.core.stages.build.procedure.order import Procedure

EntryKind = Literal["done", "skip", "open", "reading", "photo", "note"]
METERS_SHARE, METERS_LEAST = 0.01, 0.02  # two meters of 0.5 %, two counts of two decimals each; our own estimate
SETTLES: tuple[EntryKind, ...] = ("done", "skip", "open")


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One thing noted at a step.

    Attributes:
        id: identity given where it was noted; the same entry sent twice is one.
        procedure: title of the procedure.
        step: key of the step.
        kind: ticked, skipped, opened again, a reading, a photograph, a remark.
        text: the reason, or the remark.
        value: the reading; `None` where there is none.
        unit: its unit.
        photo: name of the photograph; empty for none.
        by: initials.
        at: when it was noted, ISO 8601 in UTC.
        received: when the server was told, the same way; empty before that.
    """

    id: str
    procedure: str
    step: str
    kind: EntryKind
    text: str
    value: float | None
    unit: str
    photo: str
    by: str
    at: str
    received: str = field(default="", compare=False)  # the same entry, whenever it came


@dataclass(frozen=True, slots=True, kw_only=True)
class StepState:
    """What was noted at one step.

    Attributes:
        procedure: title of the procedure.
        step: key of the step.
        state: open, done or skipped, by the last that said so.
        by: initials of everyone who ticked or skipped it since it was last opened.
        at: when it was last settled, ISO 8601; `None` while open.
        reason: why it was skipped.
        entries: everything noted, oldest first.
        accounts: two who noted otherwise, neither knowing of the other, and nobody has settled it since; else empty.
    """

    procedure: str
    step: str
    state: Literal["open", "done", "skipped"]
    by: tuple[str, ...]
    at: str | None
    reason: str
    entries: tuple[Entry, ...]
    accounts: tuple[Entry, ...] = ()


def progress_of(entries: Iterable[Entry]) -> tuple[StepState, ...]:
    """The state of every step at which something was noted.

    Args:
        entries: in any order; those with one identity count once.

    Two who tick one step both stand there. Of a tick and a skip the later counts; at one moment the tick does.
    """
    by_step: defaultdict[tuple[str, str], list[Entry]] = defaultdict(list)
    for entry in {entry.id: entry for entry in entries}.values():
        by_step[entry.procedure, entry.step].append(entry)
    return tuple(_state(key, found) for key, found in by_step.items())


def _state(key: tuple[str, str], found: list[Entry]) -> StepState:
    told = sorted(found, key=lambda entry: (entry.at, entry.kind == "done", entry.id))
    settled: list[Entry] = []
    for entry in told:
        if entry.kind == "open":
            settled = []
        elif entry.kind in SETTLES:
            settled.append(entry)
    last = settled[-1] if settled else None
    return StepState(
        procedure=key[0],
        step=key[1],
        state="open" if last is None else "done" if last.kind == "done" else "skipped",
        by=tuple(dict.fromkeys(entry.by for entry in settled if entry.by)),
        at=None if last is None else last.at,
        reason=last.text if last is not None and last.kind == "skip" else "",
        entries=tuple(told),
        accounts=_at_odds(settled, _tick_and_skip) or _at_odds(_readings(told), _read_otherwise),
    )


def _readings(told: list[Entry]) -> list[Entry]:
    return [entry for entry in told if entry.kind == "reading" and entry.value is not None]


def _tick_and_skip(one: Entry, other: Entry) -> bool:
    return one.kind != other.kind


def _read_otherwise(one: Entry, other: Entry) -> bool:
    """Two readings that two sound meters would not differ by."""
    a, b = one.value or 0.0, other.value or 0.0
    return abs(a - b) > METERS_SHARE * max(abs(a), abs(b)) + METERS_LEAST


def _at_odds(told: list[Entry], differ: Callable[[Entry, Entry], bool]) -> tuple[Entry, ...]:
    """The last two who noted otherwise, each before the other's had arrived; nobody who knew of both noted anything since."""
    last = {entry.by: entry for entry in told}
    for one, other in combinations(last.values(), 2):
        if not (one.received and other.received) or not differ(one, other):
            continue
        arrived = max(one.received, other.received)
        # Whoever notes before the first had arrived cannot have seen it; a device's clock is taken to be right.
        unseen = max(one.at, other.at) < min(one, other, key=lambda entry: entry.at).received
        if unseen and not any(entry.at >= arrived for entry in told):
            return (one, other)
    return ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftStep:
    """A step that is not done: open, or skipped with its reason."""

    number: int
    step: str
    text: str
    skipped: bool
    reason: str
    by: tuple[str, ...]


class Left(Said):
    """What of a procedure is not done; nothing noted at all is a work not begun."""

    begun: bool
    total: int
    steps: tuple[LeftStep, ...]


def left_of(procedure: Procedure, states: Iterable[StepState]) -> Left:
    """What of a procedure is not done.

    Args:
        procedure: its steps in order.
        states: what was noted, of any procedure.
    """
    known = {state.step: state for state in states if state.procedure == procedure.title}
    left = []
    for placed in procedure.steps:
        state = known.get(placed.step.key)
        if state is not None and state.state == "done":
            continue
        left.append(
            LeftStep(
                number=placed.number,
                step=placed.step.key,
                text=placed.step.text,
                skipped=state is not None and state.state == "skipped",
                reason=state.reason if state is not None else "",
                by=state.by if state is not None else (),
            )
        )
    return Left(begun=bool(known), total=len(procedure.steps), steps=tuple(left))
