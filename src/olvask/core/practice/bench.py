"""Working on a case: each step answered, minutes and money counted, until the vehicle is handed back.

- `Move`, `Told`, `Seen`, `Standing`: what is done, what comes of it, where one stands.
- `play`: a course from its beginning, always the same for the same steps.
- `BadMove`: a step that this case does not have.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from olvask.core.analyses.diagnosis import HANDLING_MIN, Symptom, offered
from olvask.core.findings.listed import percent
from olvask.core.practice.case import Case
from olvask.core.practice.cures import Cure, cures_of
from olvask.core.stages.prove.prove_test import ProveTest

MoveKind = Literal["measure", "check_meter", "mend", "hand_back"]
CHECK_MIN = 3.0  # the meter on a battery that another meter has read just now; our own estimate
MOST_STEPS = 60
# Where on the level line volts are read with the engine running: one state of the vehicle alone.
STATIONS = (
    ("start battery", "posts_v"),
    ("supply device", "supply_far_v"),
    ("input", "input_v"),
    ("output", "output_v"),
    ("delivery device", "delivery_far_v"),
    ("auxiliary", "auxiliary_v"),
)
PER_MIN = 1.0  # € a minute of work: 60 an hour, a usual rate; our own estimate


class BadMove(ValueError):
    """A step that this case does not have, or after its end; the message says which."""


@dataclass(frozen=True, slots=True)
class Move:
    """What is done: a test's key to measure, a cure's key to mend; nothing for the meter and the hand-back.

    `value` is a reading taken by oneself, on a bench or a rig; the case's own where left out.
    """

    kind: MoveKind
    what: str = ""
    value: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What came of a step.

    Attributes:
        step: what was done.
        words: that, in words.
        value: what was read; `None` where nothing is.
        unit: its unit.
        answer: how a look was answered; empty for a reading.
        minutes: how long it took.
        price: what its parts cost [€].
        counts: whether what was read still counts: not after a cure, nor by a meter that lied.
    """

    step: Move
    words: str
    value: float | None = None
    unit: str = ""
    answer: str = ""
    minutes: float = 0.0
    price: float = 0.0
    counts: bool = True


@dataclass(frozen=True, slots=True)
class Seen:
    """A station of the level line; no volts where nobody has measured."""

    place: str
    volts: float | None


@dataclass
class Standing:
    """Where one stands in a case.

    Attributes:
        case: the vehicle.
        told: everything done, oldest first.
        readings: what counts: test keys to readings; of a look the number of its answer.
        mended: keys of what was done to it.
        sound: whether the meter was checked.
        over: whether it was handed back.
    """

    case: Case
    told: list[Told] = field(default_factory=list)
    readings: dict[str, float] = field(default_factory=dict)
    mended: frozenset[str] = frozenset()
    sound: bool = False
    over: bool = False

    @property
    def minutes(self) -> float:
        """Spent so far."""
        return sum(item.minutes for item in self.told)

    @property
    def price(self) -> float:
        """Spent on parts so far [€]."""
        return sum(item.price for item in self.told)

    @property
    def cost(self) -> float:
        """Work and parts together [€]."""
        return PER_MIN * self.minutes + self.price

    @property
    def solved(self) -> bool:
        """Whether it was handed back with nothing wrong any more."""
        return self.over and not self.case.left(self.mended)

    @property
    def shown(self) -> tuple[str, ...]:
        """What the unit shows now."""
        return self.case.shown(self.mended)

    @property
    def symptoms(self) -> tuple[Symptom, ...]:
        """What the customer told: of the vehicle as it came, so nothing once something was mended."""
        return () if self.mended else self.case.symptoms

    @property
    def line(self) -> tuple[Seen, ...]:
        """The level line, as far as it was measured."""
        return tuple(Seen(place, self.readings.get(key)) for place, key in STATIONS)

    @cached_property
    def tests(self) -> Mapping[str, ProveTest]:
        """What can be measured, by key."""
        return {test.key: test for test in offered(self.case.ctx) if test.quantity is not None or test.answers}

    @cached_property
    def cures(self) -> Mapping[str, Cure]:
        """What can be done to it, by key."""
        return cures_of(self.case.ctx)

    def do(self, step: Move) -> Told:
        """Do one thing.

        Args:
            step: what.

        Raises:
            BadMove: there is no such thing here, it is over, or it goes on without end.
        """
        if self.over:
            raise BadMove("The vehicle was handed back; begin another.")
        if len(self.told) >= MOST_STEPS:
            raise BadMove(f"After {MOST_STEPS} steps the customer has fetched the vehicle; begin anew.")
        told = {"measure": self._measure, "check_meter": self._check, "mend": self._mend, "hand_back": self._hand_back}[
            step.kind
        ](step)
        self.told.append(told)
        return told

    def _measure(self, step: Move) -> Told:
        test = self.tests.get(step.what)
        if test is None:
            raise BadMove(f"“{step.what}” cannot be measured on this vehicle; choose one of the list.")
        value = self.case.read(test, self.mended, len(self.told), self.sound) if step.value is None else step.value
        if test.answers and value not in range(len(test.answers)):
            raise BadMove(f"“{test.text}” is answered by {' or '.join(test.answers)}.")
        self.readings[test.key] = value
        minutes = test.minutes + HANDLING_MIN
        if test.answers:
            return Told(step=step, words=test.text, answer=test.answers[int(value)], minutes=minutes)
        return Told(step=step, words=test.text, value=value, unit=test.unit, minutes=minutes)

    def _check(self, step: Move) -> Told:
        lied = self.case.meter.lies != 1.0 and not self.sound
        self.sound = True
        if not lied:
            return Told(step=step, words="Check the meter against another", answer="they agree", minutes=CHECK_MIN)
        self._forget(lambda test: test.unit in ("V", "mV"))
        share = f"{percent(abs(self.case.meter.lies - 1), 1)} {'high' if self.case.meter.lies > 1 else 'low'}"
        return Told(
            step=step,
            words="Check the meter against another",
            answer=f"it reads volts {share}; the other is used from here on, and what it read does not count",
            minutes=CHECK_MIN,
        )

    def _mend(self, step: Move) -> Told:
        cure = self.cures.get(step.what)
        if cure is None:
            raise BadMove(f"“{step.what}” is nothing that can be done to this vehicle; choose one of the list.")
        self.mended |= {cure.key}
        self._forget(lambda _test: True)
        return Told(step=step, words=cure.text, answer="done", minutes=cure.minutes, price=cure.price)

    def _hand_back(self, step: Move) -> Told:
        self.over = True
        back = "" if self.solved else "it comes back the next day, no better"
        return Told(step=step, words="Hand the vehicle back", answer=back or "nothing is wrong any more", minutes=0.0)

    def _forget(self, which: Callable[[ProveTest], bool]) -> None:
        """Readings that do not count any more."""
        gone = {key for key in self.readings if which(self.tests[key])}
        self.readings = {key: value for key, value in self.readings.items() if key not in gone}
        self.told = [
            replace(item, counts=False) if item.step.kind == "measure" and item.step.what in gone else item
            for item in self.told
        ]


def play(case: Case, steps: Sequence[Move]) -> Standing:
    """A course from its beginning.

    Args:
        case: the vehicle.
        steps: what was done.

    Raises:
        BadMove: one of them is none of this case.
    """
    standing = Standing(case)
    for step in steps:
        standing.do(step)
    return standing
