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

from olvask.core.stages.prove.plant import MODES, READ, Floats, Mode, Plant, Quantity, Whole
from olvask.core.stages.prove.unknowns import AT, NAMES, Unknown

STEP = 0.01  # of the finite differences, in standard deviations
ROUNDS = 5  # after which the means stand to a thousandth
FARTHEST = 40.0  # spreads
HELD_SHARE = 0.4  # of the limit: where a unit that is held back is looked for
LEAST = 1e-9  # of a spread, so that nothing is divided by none


class Reading(NamedTuple):
    """What was read, the reading, its standard deviation."""

    quantity: Quantity
    value: float
    sigma: float


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
        scales = np.array([[max(item.sigma, LEAST) for item in unknowns] for unknowns, _ in suppositions])
        covariance = np.einsum("hi,ij->hij", scales**2, np.eye(len(NAMES)))
        mode = np.array([MODES.index(mode) for _, mode in suppositions])
        return cls(plant, means, covariance, scales, mode, np.zeros(len(suppositions)))

    def repeated(self, times: int) -> Beliefs:
        """The first supposition so many times."""

        def of(array: Floats) -> Floats:
            return np.repeat(array[:1], times, axis=0)

        mode = np.repeat(self.mode[:1], times)
        return Beliefs(self.plant, of(self.means), of(self.covariance), of(self.scales), mode, of(self.logged))

    def after(self, read: Sequence[Reading], counts: NDArray[np.bool_] | None = None) -> Beliefs:
        """What is likely once readings were taken: Gauss and Newton, the circuit made straight anew where it was found to be.

        Args:
            read: the readings.
            counts: which of them each supposition knows of, shape (suppositions, readings); all by default.
        """
        return self._from(self.means, read, counts) if read else self

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

    def _from(self, at: Floats, read: Sequence[Reading], counts: NDArray[np.bool_] | None) -> Beliefs:
        """What is likely, the circuit first made straight at `at`."""
        found = self
        places = [READ[item.quantity] for item in read]
        for _ in range(ROUNDS):
            shown, slopes = self._straight(at)
            found = self
            for number, (place, item) in enumerate(zip(places, read, strict=True)):
                known = counts[:, number] if counts is not None else None
                found = found._updated(slopes[:, place], item.value - shown[:, place], at, item.sigma, known)
            moved = np.max(np.abs(found.means - at) / self.scales)
            # The circuit is made straight no farther away than anything likely lies: beyond, it has no current to speak of.
            at = np.clip(found.means, self.means - FARTHEST * self.scales, self.means + FARTHEST * self.scales)
            if moved < 1e-3:
                break
        return found

    def _updated(
        self, slope: Floats, missed: Floats, at: Floats, sigma: float, known: NDArray[np.bool_] | None
    ) -> Beliefs:
        """One Kalman update of each supposition by a reading that missed what its circuit at `at` shows."""
        gained = np.einsum("hij,hj->hi", self.covariance, slope)
        spread = np.einsum("hi,hi->h", slope, gained) + sigma**2
        missed = missed - np.einsum("hi,hi->h", slope, self.means - at)
        share = gained / spread[:, None]
        worth = -0.5 * (missed * missed / spread + np.log(2 * np.pi * spread))
        if known is not None:
            share, worth = share * known[:, None], worth * known
        return replace(
            self,
            means=self.means + share * missed[:, None],
            covariance=self.covariance - share[:, :, None] * gained[:, None, :],
            logged=self.logged + worth,
        )

    def told(self) -> Told:
        """What each supposition says of every reading, the meter apart."""
        shown, slopes = self._straight(self.means)
        variance = np.einsum("hqi,hij,hqj->hq", slopes, self.covariance, slopes, optimize=True)
        return Told(shown, np.sqrt(np.maximum(0.0, variance)), slopes)

    def _straight(self, at: Floats) -> tuple[Floats, Floats]:
        """Readings there, and how each moves with each unknown: finite differences where they hang together."""
        count = len(NAMES)
        step = np.maximum(self.scales, LEAST) * STEP
        moved = np.eye(count)[None, :, :] * step[:, None, :]
        mode = self.mode[:, None]
        high = self.plant.read(at[:, None, :] + moved, mode)
        low = self.plant.read(at[:, None, :] - moved, mode)
        slopes = (high - low) / (2 * step[:, :, None])
        return self.plant.read(at, self.mode), np.swapaxes(slopes, 1, 2)


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
