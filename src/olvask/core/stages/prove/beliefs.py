"""What is thought likely of a vehicle, for many suppositions at once; every reading narrows it.

Around what is thought likely the circuit is straight enough for Kalman updates, made straight anew where the readings lead.

- `Beliefs`: means and covariances, one row a supposition; `after` narrows them, `told` predicts readings.
- `Reading`: one that was taken.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from olvask.core.stages.prove.plant import BESIDE, MODES, QUANTITIES, READ, Floats, Mode, Plant, Quantity, Whole
from olvask.core.stages.prove.unknowns import AT, NAMES, Unknown

STEP = 0.01  # of the finite differences, in standard deviations
ROUNDS = 5  # after which the means stand to a thousandth
FARTHEST = 40.0  # spreads
HELD_SHARE = 0.4  # of the limit: where a unit that is held back is looked for
LEAST = 1e-9  # of a spread, so that nothing is divided by none
STILL = 1e-3  # of a spread: a mean that moves by less stands


def _moves() -> tuple[Floats, Whole, Floats]:
    """Which unknowns are moved at once, a row each; the row of every unknown; and which readings it reaches."""
    places = np.eye(len(NAMES))
    alone = [(name,) for name in NAMES if not any(name in group for group in BESIDE)]
    groups = [*alone, *(tuple(group) for group in BESIDE)]
    moved = np.array([places[[AT[name] for name in group]].sum(axis=0) for group in groups])
    reached = np.ones((len(NAMES), len(QUANTITIES)))
    for name, quantities in ((name, reaches) for group in BESIDE for name, reaches in group.items()):
        reached[AT[name]] = [float(quantity in quantities) for quantity in QUANTITIES]
    return moved, np.argmax(moved, axis=0), reached


MOVED, MOVED_IN, REACHED = _moves()


class Reading(NamedTuple):
    """What was read, the reading, its standard deviation."""

    quantity: Quantity
    value: float
    sigma: float


class Straight(NamedTuple):
    """Readings, shape (suppositions, quantities), and their slopes, shape (suppositions, quantities, unknowns)."""

    shown: Floats
    slopes: Floats


@dataclass(frozen=True, slots=True)
class Told:
    """What each supposition says of every reading: its value and spread, shape (suppositions, quantities), and slopes."""

    value: Floats
    spread: Floats
    slope: Floats


@dataclass(frozen=True, slots=True)
class Beliefs:
    """Means (suppositions, unknowns), covariance, what flows, and the logarithm of how likely the readings were."""

    plant: Plant
    means: Floats
    covariance: Floats
    scales: Floats
    mode: Whole
    logged: Floats

    @classmethod
    def of(cls, plant: Plant, suppositions: Sequence[tuple[Sequence[Unknown], Mode]]) -> Beliefs:
        """Before anything was read.

        Args:
            plant: the circuit.
            suppositions: what is not known of each, in the order of `NAMES`, and what flows in it.
        """
        means = np.array([[item.mean for item in unknowns] for unknowns, _ in suppositions], dtype=np.float64)
        sigmas = np.array([[item.sigma for item in unknowns] for unknowns, _ in suppositions])
        return cls.at(plant, means, sigmas, np.array([MODES.index(mode) for _, mode in suppositions]))

    @classmethod
    def at(cls, plant: Plant, means: Floats, sigmas: Floats, mode: Whole) -> Beliefs:
        """The same by arrays.

        Args:
            plant: the circuit.
            means: shape (suppositions, unknowns), in the order of `NAMES`.
            sigmas: their standard deviations.
            mode: what flows in each.
        """
        scales = np.maximum(sigmas, LEAST)
        covariance = (scales**2)[:, :, None] * np.eye(len(NAMES))
        return cls(plant, means, covariance, scales, mode, np.zeros(len(means)))

    def repeated(self, times: int) -> Beliefs:
        """The first supposition so many times."""

        def of(array: Floats) -> Floats:
            return np.repeat(array[:1], times, axis=0)

        mode = np.repeat(self.mode[:1], times)
        return Beliefs(self.plant, of(self.means), of(self.covariance), of(self.scales), mode, of(self.logged))

    def after(
        self, read: Sequence[Reading], counts: NDArray[np.bool_] | None = None, first: Straight | None = None
    ) -> Beliefs:
        """What is likely once readings were taken: Gauss and Newton, the circuit made straight anew where it was found to be.

        Args:
            read: the readings.
            counts: which of them each supposition knows of, shape (suppositions, readings); all by default.
            first: the circuit made straight at the means, where it is at hand.
        """
        return self._from(self.means, read, counts, first) if read else self

    def settled(self, read: Sequence[Reading], counts: NDArray[np.bool_] | None = None) -> Beliefs:
        """The same, begun twice: at its limit, and held back by its charge volts; whichever meets the readings better is kept.

        Args:
            read: the readings.
            counts: as for `after`.
        """
        if not read:
            return self
        held = self.means.copy()
        ohm = sum(held[:, AT[name]] for name in ("auxiliary_ohm", "delivery_out", "delivery_device", "delivery_back"))
        held[:, AT["emf_v"]] = held[:, AT["set_v"]] - HELD_SHARE * held[:, AT["limit_a"]] * ohm
        first, second = self._from(self.means, read, counts), self._from(held, read, counts)
        better = (self._missed(second, read, counts) < self._missed(first, read, counts))[:, None]
        return replace(
            first,
            means=np.where(better, second.means, first.means),
            covariance=np.where(better[:, :, None], second.covariance, first.covariance),
            logged=np.where(better[:, 0], second.logged, first.logged),
        )

    def _missed(self, found: Beliefs, read: Sequence[Reading], counts: NDArray[np.bool_] | None) -> Floats:
        """How far each had to be bent to meet the readings, and what is left over, in squared spreads."""
        shown = self.plant.read(found.means, found.mode)
        over = np.stack([((item.value - shown[:, READ[item.quantity]]) / item.sigma) ** 2 for item in read], axis=1)
        bent = np.sum(((found.means - self.means) / self.scales) ** 2, axis=1)
        return np.asarray(np.sum(over if counts is None else over * counts, axis=1) + bent)

    def _from(
        self, at: Floats, read: Sequence[Reading], counts: NDArray[np.bool_] | None, first: Straight | None = None
    ) -> Beliefs:
        """What is likely, the circuit first made straight at `at`; a supposition that stands is left there."""
        means, covariance, logged = self.means.copy(), self.covariance.copy(), self.logged.copy()
        places = [READ[item.quantity] for item in read]
        values, sigmas = np.array([item.value for item in read]), np.array([item.sigma for item in read])
        rows = np.arange(len(means))
        for _ in range(ROUNDS):
            part = self.rows(rows)
            shown, slopes = part.straight(at) if first is None else first
            first = None
            known = None if counts is None else counts[rows]
            found = part._updated(slopes[:, places], values - shown[:, places], at, sigmas, known)
            means[rows], covariance[rows], logged[rows] = found.means, found.covariance, found.logged
            moves = np.max(np.abs(found.means - at) / part.scales, axis=1) >= STILL
            # The circuit is made straight no farther away than anything likely lies: beyond, it has no current to speak of.
            at = np.clip(found.means, part.means - FARTHEST * part.scales, part.means + FARTHEST * part.scales)[moves]
            rows = rows[moves]
            if not rows.size:
                break
        return replace(self, means=means, covariance=covariance, logged=logged)

    def _updated(
        self, slopes: Floats, missed: Floats, at: Floats, sigmas: Floats, known: NDArray[np.bool_] | None
    ) -> Beliefs:
        """One Kalman update of each supposition by all readings, which missed what its circuit at `at` shows."""
        counted = np.ones(missed.shape) if known is None else known.astype(np.float64)
        weighed = counted / sigmas  # in spreads of the meter; one that is not known of moves nothing
        missed = (missed - (slopes @ (self.means - at)[:, :, None])[:, :, 0]) * weighed
        slopes = slopes * weighed[:, :, None]
        gained = slopes @ self.covariance
        spread = gained @ np.swapaxes(slopes, 1, 2) + np.eye(len(sigmas))
        shares = np.linalg.solve(spread, gained)
        worth = np.sum(missed * np.linalg.solve(spread, missed[:, :, None])[:, :, 0], axis=1)
        worth += np.linalg.slogdet(spread)[1] + counted @ np.log(2 * np.pi * sigmas**2)
        return replace(
            self,
            means=self.means + (missed[:, None, :] @ shares)[:, 0],
            covariance=self.covariance - np.swapaxes(gained, 1, 2) @ shares,
            logged=self.logged - 0.5 * worth,
        )

    def told(self) -> Told:
        """What each supposition says of every reading, the meter apart."""
        shown, slopes = self.straight(self.means)
        gained = slopes @ self.covariance
        variance = np.einsum("hqi,hqi->hq", gained, slopes)
        return Told(shown, np.sqrt(np.maximum(0.0, variance)), slopes)

    def rows(self, rows: Whole) -> Beliefs:
        """Some of the suppositions.

        Args:
            rows: their numbers.
        """
        return Beliefs(
            self.plant, self.means[rows], self.covariance[rows], self.scales[rows], self.mode[rows], self.logged[rows]
        )

    def straight(self, at: Floats) -> Straight:
        """Readings there, and how each moves with each unknown.

        Args:
            at: where, shape (suppositions, unknowns).
        """
        step = np.maximum(self.scales, LEAST) * STEP
        moved = MOVED[None, :, :] * step[:, None, :]
        mode = self.mode[:, None]
        high = self.plant.read(at[:, None, :] + moved, mode)
        low = self.plant.read(at[:, None, :] - moved, mode)
        slopes = (high - low)[:, MOVED_IN, :] * REACHED / (2 * step[:, :, None])
        return Straight(self.plant.read(at, self.mode), np.swapaxes(slopes, 1, 2))


def narrowed(beliefs: Beliefs, row: int, told: Told, quantity: Quantity, sigmas: Floats) -> Floats:
    """Standard deviation of a reading once each other one was taken, whatever it says; shape (quantities).

    Args:
        beliefs: what is likely.
        row: of which supposition.
        told: what it says of every reading.
        quantity: the reading that shall be narrower.
        sigmas: of the meter at each reading, shape (quantities).
    """
    slopes, covariance = told.slope[row], beliefs.covariance[row]
    gained = slopes @ covariance
    spread = np.einsum("qi,qi->q", gained, slopes) + sigmas**2
    shared = gained @ slopes[READ[quantity]]
    found: Floats = np.sqrt(np.maximum(0.0, told.spread[row, READ[quantity]] ** 2 - shared**2 / spread))
    return found
