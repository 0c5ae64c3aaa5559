"""A step of a procedure, what it does to the circuit, and the rules that say which comes first.

- `Step`: one thing to do, with everything the person at the vehicle needs for it.
- `Act`: what a step does, in terms a rule can read: it parts, proves dead, lays hands on, joins.
- `Rule`, `Law`: this before that, because; between two steps, or between all steps that do something.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.model.site import Group

Does = Literal[
    "read",
    "off",
    "on",
    "part",
    "join",
    "prove_dead",
    "wait",
    "discharge",
    "hands",
    "lay",
    "check",
    "insert",
    "key",
    "enable",
    "plug",
    "unplug",
    "seat_out",
    "seat_plugs",
]
Origin = Literal["physics", "record", "habit", "shop"]
RANK: dict[Origin, int] = {"physics": 0, "record": 1, "habit": 2, "shop": 3}  # the least of a contradiction gives way


@dataclass(frozen=True, slots=True)
class Act:
    """What a step does, and to what: `Act("part", "start −")`."""

    does: Does
    to: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hazard:
    """What can hurt here: a sign of ISO 7010 and a sentence."""

    sign: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected:
    """A reading to be taken at a step, and where it should lie."""

    what: str
    unit: str
    least: float | None
    most: float | None
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing to do.

    Attributes:
        key: identity of its ticks; stays while the design keeps what the step is about.
        group: the part of the work it belongs to.
        text: what to do.
        why: why it is done.
        tool: what is needed in the hand.
        number: torque, size or setting to hold to.
        see: what is to be seen then.
        hazard: what can hurt, if anything.
        expected: the reading to be taken, if any.
        photo: whether a photograph is worth having.
        wait_s: seconds to hold or to wait; 0 for none [s].
        conductors: their names, as on the diagram and the labels.
        acts: what it does to the circuit.
        leads_to: stage where it is worked through, if another one.
    """

    key: str
    group: Group
    text: str
    why: str
    tool: str = ""
    number: str = ""
    see: tuple[str, ...] = ()
    hazard: Hazard | None = None
    expected: Expected | None = None
    photo: bool = False
    wait_s: float = 0.0
    conductors: tuple[str, ...] = ()
    acts: tuple[Act, ...] = ()
    leads_to: str = ""

    def does(self, does: Does, to: str | None = None) -> bool:
        """Whether it does this, to anything or to `to`."""
        return any(act.does == does and (to is None or act.to == to) for act in self.acts)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rule:
    """One step before another, and why.

    Attributes:
        before: key of the step that comes first.
        after: key of the step that comes later.
        why: the reason, as it is shown.
        origin: who says so.
    """

    before: str
    after: str
    why: str
    origin: Annotated[Origin, Field(description="what nature asks, the unit's record, the trade's habit, the shop")]


@dataclass(frozen=True, slots=True)
class Law:
    """Every step that does one thing before every step that does another; `to` empty for anything."""

    before: Act
    after: Act
    why: str
    origin: Origin = "physics"

    def rules(self, steps: Iterable[Step]) -> Iterator[Rule]:
        """The rules it makes between these steps."""
        held = tuple(steps)
        for first in held:
            if not first.does(self.before.does, self.before.to or None):
                continue
            for later in held:
                if later is not first and later.does(self.after.does, self.after.to or None):
                    yield Rule(before=first.key, after=later.key, why=self.why, origin=self.origin)
