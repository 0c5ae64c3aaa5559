"""A vehicle with hidden faults, what its customer tells, what its unit shows, and the meter at hand.

- `LEVELS`: from one dead thing to two faults and a lying meter.
- `Case`, `drawn`: one, by level, number and draw.
- `Meter`: how far the one at hand is out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from olvask.core.analyses.diagnosis import SYMPTOMS, Symptom, faults_of
from olvask.core.analyses.diagnosis.evidence import answered
from olvask.core.analyses.diagnosis.fault import Change, Fault, ReasonKind
from olvask.core.circuit.context import Context
from olvask.core.practice.chance import Chance
from olvask.core.practice.vehicles import TRADES, MadeUp, vehicle_of
from olvask.core.stages.prove.meter import METER
from olvask.core.stages.prove.plant import MODES, READ, Floats, Plant
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.unknowns import AT, Unknown, constants_of, unknowns_of

Level = Literal[1, 2, 3, 4, 5, 6]
LEVELS: Mapping[Level, str] = {
    1: "one thing is dead",
    2: "one bad joint or weak part",
    3: "one fault, whatever flows",
    4: "one fault, hardly there",
    5: "two faults, one behind the other",
    6: "two faults, and a meter that lies",
}
MAY_LIE: Level = 6  # as its words say
HARMLESS = {"healthy", "floating", "full", "too_cold"}  # nothing that could be mended
PLAIN_TELLS = 0.5  # a symptom at least as usual with the fault is told at the lower levels; our own estimate
SURE_LOOK = 0.9  # a look this certain is always answered so
LIES = (0.955, 1.045)  # volts of a meter whose battery is low, or whose reference has drifted; our own estimates
DECIMALS = {"V": 2, "mV": 1, "A": 1, "mA": 0, "s": 0, "°C": 0, "Ω": 1, "mΩ": 1}
SHOWS: Mapping[ReasonKind, str] = {
    "input_low": "input volts too low",
    "enable": "waiting for its enable",
    "hot": "too hot",
    "cold": "battery too cold",
    "battery": "no battery at its output",
    "off": "switched off",
    "reverse": "polarity reversed",
}
SAYS: Mapping[Symptom, tuple[str, str]] = {
    "does_nothing": (
        "The second battery gets nothing, however long we drive.",
        "The engine runs and the box just sits there.",
    ),
    "starts_stops": ("It comes on and goes off again, all day.", "It charges for a bit, stops, and starts again."),
    "weak": ("It charges, but never as it did on paper.", "We drive all day and the battery is still half empty."),
    "flat": ("In the morning everything is dark.", "Overnight it goes flat."),
    "hot": ("Something smells warm when we drive.", "There is a spot one does not like to touch."),
    "wrong_numbers": ("The monitor says things that cannot be.", "The numbers do not add up."),
    "was_fine": ("It was fine until last month.", "Nobody has touched it, and it worked."),
}


@dataclass(frozen=True, slots=True)
class Meter:
    """How far the meter at hand is out, by unit: a factor, and so much besides."""

    gain: Mapping[str, float]
    besides: Mapping[str, float]
    lies: float = 1.0

    def shows(self, value: float, unit: str, moved: float, sound: bool) -> float:
        """What it shows.

        Args:
            value: what is there.
            unit: of the reading.
            moved: what the vehicle moved by since, as a share.
            sound: whether it was checked, and another taken where it lied.
        """
        lies = self.lies if unit in ("V", "mV") and not sound else 1.0
        shown = value * (1 + moved) * self.gain.get(unit, 1.0) * lies + self.besides.get(unit, 0.0)
        return round(shown, DECIMALS.get(unit, 2)) + 0.0


@dataclass(frozen=True, slots=True)
class Hidden:
    """One fault that is in it, at the size it has there."""

    fault: Fault
    size: tuple[Change, ...]


@dataclass(frozen=True, slots=True)
class Case:
    """A vehicle with something wrong.

    Attributes:
        level: how hard.
        number: which.
        draw: how many draws of that number were passed over.
        vehicle: as it was designed.
        ctx: that, solved.
        hidden: what is wrong.
        healthy: its unknowns without that, in the order of `NAMES`.
        symptoms: as the customer tells.
        story: the same in the customer's words.
        meter: the one at hand.
    """

    level: Level
    number: int
    draw: int
    vehicle: MadeUp
    ctx: Context
    hidden: tuple[Hidden, ...]
    healthy: Floats
    symptoms: tuple[Symptom, ...]
    story: str
    meter: Meter

    @property
    def name(self) -> str:
        """As it is asked for: level and number."""
        return f"{self.level}-{self.number}"

    def left(self, mended: frozenset[str]) -> tuple[Hidden, ...]:
        """What is still wrong once some things were mended."""
        return tuple(item for item in self.hidden if item.fault.key not in mended)

    def shown(self, mended: frozenset[str]) -> tuple[str, ...]:
        """What the unit shows: the first reason of what is wrong, where it has words for one; less at the upper levels."""
        kinds = [kind for item in self.left(mended) for kind in item.fault.reasons if kind in SHOWS]
        often = 1.0 if self.level <= 2 else 0.5 if self.level == 3 else 0.25
        if not kinds or not Chance(self.name, self.draw, "shows", kinds[0]).happens(often):
            return ()
        return (SHOWS[kinds[0]],)

    def quantities(self, mended: frozenset[str]) -> Floats:
        """What a perfect meter would read everywhere."""
        values, mode = self.healthy.copy(), "charging"
        for item in self.left(mended):
            for change in item.size:
                values[AT[change.name]] = values[AT[change.name]] * change.times + change.more
            mode = item.fault.mode if item.fault.mode != "charging" else mode
        plant = Plant(constants_of(self.ctx))
        found: Floats = plant.read(values[None, :], np.array([MODES.index(mode)]))[0]
        return found

    def read(self, test: ProveTest, mended: frozenset[str], count: int, sound: bool) -> float:
        """What is read: the meter's error in it; of a look the number of its answer.

        Args:
            test: which.
            mended: what was mended before.
            count: how many readings were taken before.
            sound: whether the meter was checked.
        """
        if test.quantity is None:
            return float(self._look(test, mended))
        moves = METER[test.unit].moves if test.unit in METER else 0.0
        moved = Chance(self.name, self.draw, "moved", count, test.key).normal(moves)
        return self.meter.shows(float(self.quantities(mended)[READ[test.quantity]]), test.unit, moved, sound)

    def _look(self, test: ProveTest, mended: frozenset[str]) -> int:
        count = len(test.answers)
        often = [1.0] + [0.0] * (count - 1)
        for item in self.left(mended):
            if test.key in item.fault.looks:
                own = answered(item.fault, test.key, count)
                often = [a * b for a, b in zip(often, own, strict=True)] if max(often) < 1 else list(own)
        if max(often) >= SURE_LOOK:
            return often.index(max(often))
        keys = sorted(item.fault.key for item in self.left(mended))
        return Chance(self.name, self.draw, test.key, *keys).weighted(dict(enumerate(often)))


def drawn(level: Level, number: int, draw: int = 0) -> Case | None:
    """One draw of a case; `None` where its vehicle cannot have what was drawn.

    Args:
        level: how hard.
        number: which, from 1.
        draw: which of its draws.
    """
    chance = Chance("case", level, number, draw)
    made = replace(vehicle_of(chance), name=TRADES[number % len(TRADES)])
    ctx = Context.of(made.design)
    faults = {fault.key: fault for fault in faults_of(ctx) if fault.key not in HARMLESS}
    hidden = _hidden(level, number, draw, chance, faults)
    if hidden is None:
        return None
    symptoms = _symptoms(level, chance, hidden[0].fault)
    story = " ".join(chance.one_of(SAYS[symptom]) for symptom in symptoms)
    healthy = np.array([_healthy(item, chance) for item in unknowns_of(ctx)])
    return Case(level, number, draw, made, ctx, hidden, healthy, symptoms, story, _meter(level, chance))


def _hidden(
    level: Level, number: int, draw: int, chance: Chance, faults: Mapping[str, Fault]
) -> tuple[Hidden, ...] | None:
    """What is wrong: kinds go round, so that neighbours differ."""
    dead = [key for key, fault in faults.items() if fault.mode != "charging"]
    joints = [key for key in faults if key.startswith(("joint.", "thin.", "alternator", "regulator", "limited"))]
    running = [key for key, fault in faults.items() if fault.mode == "charging"]
    sized = [key for key in running if len(faults[key].sizes) > 2]
    pools = {1: dead, 2: joints, 3: running, 4: sized, 5: dead, 6: dead}
    first = faults[_turn(level, number + draw, pools[level])]
    found = [Hidden(first, _size(level, chance, first))]
    if level >= 5:
        # What does not flow shows no joint: the second comes to light when the first is mended.
        others = joints if level == 5 else sized
        second = faults[_turn(level + 10, number + draw, others)]
        found.append(Hidden(second, _size(3 if level == 5 else 4, chance, second)))
    names = [{change.name for change in item.size} for item in found]
    if len(found) > 1 and names[0] & names[1]:
        return None
    return tuple(found)


def _turn(level: int, number: int, keys: list[str]) -> str:
    """The kinds one after the other, each round in another order."""
    round_, at = divmod(number, len(keys))
    return Chance("round", level, round_).shuffled(sorted(keys))[at]


def _size(level: int, chance: Chance, fault: Fault) -> tuple[Change, ...]:
    """From badly at the lower levels to barely at the fourth."""
    count = len(fault.sizes)
    low, high = {1: (0.7, 1.0), 2: (0.65, 1.0), 3: (0.3, 0.8), 4: (0.1, 0.45)}.get(level, (0.4, 0.9))
    return fault.sizes[min(count - 1, math.floor(chance.between(low, high) * count))]


def _symptoms(level: Level, chance: Chance, fault: Fault) -> tuple[Symptom, ...]:
    """What is told: the usual at the lower levels, one thing alone at the upper ones."""
    usual = {symptom: often for symptom, often in fault.told.items() if often > 0}
    if not usual:
        return ("weak",)
    if level >= 3:
        return (chance.weighted(usual),)
    told = [symptom for symptom, often in usual.items() if often >= PLAIN_TELLS]
    told += [symptom for symptom, often in usual.items() if often < PLAIN_TELLS and chance.happens(often)]
    named = told or [max(usual, key=lambda symptom: usual[symptom])]
    return tuple(symptom for symptom in SYMPTOMS if symptom in named)


def _healthy(item: Unknown, chance: Chance) -> float:
    """One thing not known, somewhere in what healthy vehicles differ by."""
    value = item.mean + chance.normal(0.8 * item.sigma)
    if item.name.endswith("_device"):
        return max(value, 0.5 * item.mean)  # a device has no less than half of what is printed of it
    never_less = item.name.endswith("_ohm") or item.name.startswith(("supply_", "delivery_"))
    return max(value, 0.0) if never_less or item.name in ("standby_ma", "spare_a") else value


def _meter(level: Level, chance: Chance) -> Meter:
    """The meter at hand: within its record, and at the last level now and then far out."""
    gain = {unit: 1 + chance.normal(of.percent / 200) for unit, of in METER.items()}
    besides = {
        unit: chance.normal(of.besides / 2) for unit, of in METER.items() if unit in ("V", "mV", "A", "mA", "°C")
    }
    return Meter(gain, besides, chance.one_of(LIES) if level == MAY_LIE else 1.0)
