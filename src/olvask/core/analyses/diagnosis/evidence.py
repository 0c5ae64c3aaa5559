"""How well each fault explains what was read, seen and told.

- `Evidence`: readings, looks, symptoms and reports.
- `Suspects`: every size of every fault a design can have.
- `Weighed`, `weigh`: those by prior and likelihood; pairs where no single one explains.
- `strays`: where none does, the reading that fits none of the others.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from olvask.core.analyses.diagnosis.fault import SYMPTOMS, Change, Fault, ReasonKind, Symptom, reason_kind
from olvask.core.stages.prove.beliefs import Beliefs, Reading, Straight
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plant import MODES, READ, Floats, Plant
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.unknowns import AT, LEGS, Unknown

# Our own estimates: how often a look is answered as it should be though it has nothing to do with the fault, how often a
# symptom is told without cause, how often a unit reports the right reason, and a wrong one.
AS_IT_SHOULD, SELDOM, REPORTED, MISREPORTED = 0.96, 0.06, 0.7, 0.03
OF_NOTHING = 0.09  # who complains has seldom a healthy vehicle; who does not, most often
TOGETHER = 0.35  # two faults at once, against chance: what broke one thing may have broken another
MOST_PAIRED = 14  # of the singles, by how well they explain; pairs of those are tried
PAIR_SIZES = 3
FEWEST = 5  # readings, before one of them is told to fit none of the others
TRIED = 6  # of the readings, those furthest from what the others let expect
AS_LIKELY = 6.0  # chi-square: readings that could each be the one astray, within this of the likeliest
BETWEEN_OHM, BETWEEN = 0.3, 0.25  # of what is added: sizes between those that are tried


@dataclass(frozen=True, slots=True)
class Evidence:
    """What is known so far.

    Attributes:
        tests: those of the design that can be done.
        readings: test keys to readings; of a look the number of its answer, 0 for the first.
        symptoms: as the customer tells them.
        reports: off-reasons and lamps, as they stand in the unit's record.
        meters: accuracy by unit.
    """

    tests: tuple[ProveTest, ...]
    readings: Mapping[str, float]
    symptoms: tuple[Symptom, ...] = ()
    reports: tuple[str, ...] = ()
    meters: Mapping[str, Accuracy] = field(default_factory=lambda: METER)

    @property
    def read(self) -> list[Reading]:
        """Readings of the vehicle, with their spread."""
        return [
            Reading(
                test.quantity,
                self.readings[test.key],
                self.meters[test.unit].sigma(self.readings[test.key], test.apart),
            )
            for test in self.tests
            if test.quantity is not None and test.key in self.readings
        ]

    def without(self, key: str) -> Evidence:
        """The same but for one reading.

        Args:
            key: of its test.
        """
        return replace(self, readings={other: value for other, value in self.readings.items() if other != key})

    @property
    def looks(self) -> dict[str, tuple[int, int]]:
        """Looks that were answered: the number of the answer, and how many there are."""
        return {
            test.key: (round(self.readings[test.key]), len(test.answers))
            for test in self.tests
            if test.answers and round(self.readings.get(test.key, -1)) in range(len(test.answers))
        }

    @property
    def kinds(self) -> set[ReasonKind]:
        """What the unit's reports speak of."""
        return {reason_kind(text) for text in self.reports} - {"none"}


@dataclass(frozen=True, slots=True)
class Weighed:
    """Every size of every fault: which fault it is of, what is likely with it, and its weight; together 1.

    Attributes:
        faults: by number.
        owner: number of the fault of each size.
        beliefs: what is likely with each.
        weight: of each.
        missed: how far the readings lie from the best of them, chi-square, and how many there were.
    """

    faults: tuple[Fault, ...]
    owner: np.ndarray[tuple[int], np.dtype[np.int_]]
    beliefs: Beliefs
    weight: Floats
    missed: tuple[float, int]

    @property
    def shares(self) -> Floats:
        """Weight of each fault, its sizes together."""
        return np.asarray(np.bincount(self.owner, weights=self.weight, minlength=len(self.faults)), dtype=np.float64)

    @property
    def explains(self) -> bool:
        """Whether the best of them lies near what was read."""
        far, count = self.missed
        return far <= count + 3.5 * math.sqrt(2 * count) + 3


@dataclass(frozen=True, slots=True)
class Suspects:
    """All that may be wrong, whatever was read: every size of every fault, and what is likely with each beforehand.

    Attributes:
        plant: the circuit.
        unknowns: of the healthy vehicle.
        faults: by number.
        owner: number of the fault of each size.
        beliefs: what is likely with each.
        first: the circuit made straight there.
    """

    plant: Plant
    unknowns: tuple[Unknown, ...]
    faults: tuple[Fault, ...]
    owner: np.ndarray[tuple[int], np.dtype[np.int_]]
    beliefs: Beliefs
    first: Straight

    @classmethod
    def of(cls, plant: Plant, unknowns: Sequence[Unknown], faults: Sequence[Fault]) -> Suspects:
        """Before anything is known.

        Args:
            plant: the circuit.
            unknowns: of the healthy vehicle.
            faults: those that are tried.
        """
        sized = [(number, size) for number, fault in enumerate(faults) for size in fault.sizes]
        own = np.array([[item.mean, item.sigma] for item in unknowns])
        changed = np.array([_changed(own, size) for _, size in sized])
        mode = np.array([MODES.index(faults[number].mode) for number, _ in sized])
        beliefs = Beliefs.at(plant, changed[:, :, 0], changed[:, :, 1], mode)
        owner = np.array([number for number, _ in sized])
        return cls(plant, tuple(unknowns), tuple(faults), owner, beliefs, beliefs.straight(beliefs.means))


def weigh(suspects: Suspects, evidence: Evidence) -> Weighed:
    """Weigh single faults, and pairs of them where no single one explains.

    Args:
        suspects: single faults.
        evidence: what is known.
    """
    single = _weighed(suspects, evidence)
    if single.explains or len(evidence.read) < 2:
        return single
    pairs = _pairs(single)
    return _weighed(Suspects.of(suspects.plant, suspects.unknowns, (*suspects.faults, *pairs)), evidence)


def strays(
    suspects: Suspects, evidence: Evidence, twice: Collection[str] = ()
) -> tuple[tuple[str, ...], Weighed | None]:
    """Readings any one of which, left out, lets a single fault explain the others; and what explains them without the first.

    Args:
        suspects: single faults.
        evidence: what is known, which nothing explains.
        twice: tests that were read twice with the same result; those are no slips.

    Likeliest first; none where it takes more than one, or where too few are left to say so.
    """
    found: list[tuple[float, str, Weighed]] = []
    for key in [key for key in _furthest(suspects, evidence) if key not in twice][:TRIED]:
        weighed = _weighed(suspects, evidence.without(key))
        if weighed.explains:
            found.append((weighed.missed[0], key, weighed))
    if not found:
        return (), None
    found.sort(key=lambda one: one[0])
    return tuple(key for far, key, _ in found if far - found[0][0] <= AS_LIKELY), found[0][2]


def _furthest(suspects: Suspects, evidence: Evidence) -> list[str]:
    """Readings, those first that lie furthest from what all others let expect of a healthy vehicle; none where they are few."""
    keys = [test.key for test in evidence.tests if test.quantity is not None and test.key in evidence.readings]
    read = evidence.read
    if len(read) < FEWEST:
        return []
    healthy = Beliefs.of(suspects.plant, [(suspects.unknowns, "charging")]).repeated(len(read))
    told = healthy.after(read, ~np.eye(len(read), dtype=bool)).told()
    far = [
        abs(item.value - told.value[row, READ[item.quantity]])
        / math.hypot(item.sigma, told.spread[row, READ[item.quantity]])
        for row, item in enumerate(read)
    ]
    return [keys[row] for row in np.argsort(far)[::-1]]


def _weighed(suspects: Suspects, evidence: Evidence) -> Weighed:
    beliefs = suspects.beliefs.after(evidence.read, first=suspects.first)
    seen = [math.log(fault.prior / len(fault.sizes)) + _seen(fault, evidence) for fault in suspects.faults]
    logged = np.array(seen)[suspects.owner] + beliefs.logged
    weight = np.exp(np.maximum(-700.0, logged - np.max(logged)))
    missed = _missed(suspects, beliefs, int(np.argmax(logged)), evidence)
    return Weighed(suspects.faults, suspects.owner, beliefs, weight / weight.sum(), missed)


def _missed(suspects: Suspects, beliefs: Beliefs, best: int, evidence: Evidence) -> tuple[float, int]:
    """How far the best supposition had to be bent to meet the readings: what is left over, and what bending it cost."""
    read, before = evidence.read, suspects.beliefs
    if not read:
        return 0.0, 0
    shown = suspects.plant.read(beliefs.means[best : best + 1], beliefs.mode[best : best + 1])[0]
    over = sum(((item.value - shown[READ[item.quantity]]) / item.sigma) ** 2 for item in read)
    bent = np.sum(((beliefs.means[best] - before.means[best]) / before.scales[best]) ** 2)
    return float(over + bent), len(read)


def _changed(own: Floats, size: Sequence[Change]) -> Floats:
    """Means and spreads once a fault is there; what it adds has a spread of its own, so that sizes between are met."""
    found = own.copy()
    for change in size:
        mean, sigma = found[AT[change.name]]
        bad = mean * change.times + change.more
        joint = change.name in LEGS or change.name.endswith("_device")
        between = change.spread or (BETWEEN_OHM * change.more if joint else BETWEEN * abs(bad - mean))
        found[AT[change.name]] = bad, math.hypot(sigma * max(change.times, 0.2), between)
    return found


def _seen(fault: Fault, evidence: Evidence) -> float:
    """Logarithm of how likely the looks, symptoms and reports are with a fault."""
    found = sum(math.log(answered(fault, key, count)[number]) for key, (number, count) in evidence.looks.items())
    if evidence.symptoms:
        for symptom in SYMPTOMS:
            often = max(SELDOM, fault.told.get(symptom, SELDOM))
            found += math.log(often if symptom in evidence.symptoms else 1 - 0.5 * often)
        if fault.key == "healthy":
            found += math.log(OF_NOTHING)
    for kind in evidence.kinds:
        found += math.log(REPORTED if kind in fault.reasons else MISREPORTED)
    return found


def answered(fault: Fault, key: str, count: int) -> tuple[float, ...]:
    """How often a look gets each of its answers with a fault.

    Args:
        fault: the cause.
        key: of the look.
        count: of its answers.
    """
    often = fault.looks.get(key, AS_IT_SHOULD)
    if isinstance(often, tuple):
        return often
    return (often, *[(1 - often) / (count - 1)] * (count - 1))


def _pairs(single: Weighed) -> list[Fault]:
    """Pairs of faults that can be at once: of the likeliest singles, and of all that charge with something else."""
    shares = single.shares
    order = [number for number in np.argsort(-shares) if single.faults[number].key != "healthy"]
    best = [single.faults[number] for number in order[:MOST_PAIRED]]
    taken = {fault.key for fault in best}
    best += [fault for fault in single.faults if fault.key.startswith("joint.") and fault.key not in taken]
    return [_pair(one, other) for one, other in itertools.combinations(best, 2) if _both(one, other)]


def _both(one: Fault, other: Fault) -> bool:
    """Whether both can be, and be seen: one state only is other than charging, and they do not change the same thing."""
    if one.mode != "charging" and other.mode != "charging":
        return False
    changed = [{change.name for size in fault.sizes for change in size} for fault in (one, other)]
    return not changed[0] & changed[1]


def _pair(one: Fault, other: Fault) -> Fault:
    def few(fault: Fault) -> list[tuple[Change, ...]]:
        last = len(fault.sizes) - 1
        return [
            fault.sizes[place] for place in sorted({round(last * at / (PAIR_SIZES - 1)) for at in range(PAIR_SIZES)})
        ]

    keys = set(one.looks) | set(other.looks)
    return Fault(
        f"{one.key}+{other.key}",
        f"{one.words}, and {other.words}",
        f"{one.cure} {other.cure}",
        TOGETHER * one.prior * other.prior,
        tuple((*first, *second) for first in few(one) for second in few(other)),
        one.mode if one.mode != "charging" else other.mode,
        looks={key: _firsts(one, key) * _firsts(other, key) for key in keys},
        told={key: max(one.told.get(key, SELDOM), other.told.get(key, SELDOM)) for key in {*one.told, *other.told}},
        reasons=(*one.reasons, *other.reasons),
    )


def _firsts(fault: Fault, key: str) -> float:
    return answered(fault, key, 2)[0]
