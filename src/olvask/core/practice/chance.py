"""Chance that is always the same for the same words, on every machine and in every version of Python.

- `Chance`: draws by SHA-256 of its words and a count.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from statistics import NormalDist
from typing import TypeVar

T = TypeVar("T")
NORMAL = NormalDist()
MOST = 2**64


class Chance:
    """A sequence of draws named by words."""

    def __init__(self, *words: object) -> None:
        """Begin the sequence of these words."""
        self._words = "|".join(str(word) for word in words)
        self._count = 0

    def share(self) -> float:
        """Anywhere from 0 to 1, ends left out."""
        self._count += 1
        digest = hashlib.sha256(f"{self._words}|{self._count}".encode()).digest()
        return (int.from_bytes(digest[:8], "big") + 0.5) / MOST

    def between(self, low: float, high: float) -> float:
        """Anywhere between."""
        return low + (high - low) * self.share()

    def happens(self, often: float) -> bool:
        """True so often, 0 to 1."""
        return self.share() < often

    def one_of(self, items: Sequence[T]) -> T:
        """One of some things, each as often."""
        return items[int(self.share() * len(items))]

    def weighted(self, items: Mapping[T, float]) -> T:
        """One of some things, each as often as its weight says."""
        left = self.share() * sum(items.values())
        for item, weight in items.items():
            left -= weight
            if left <= 0:
                return item
        return list(items)[-1]

    def normal(self, spread: float, most: float = 1.5) -> float:
        """Normal about 0, cut off at `most` spreads."""
        return spread * max(-most, min(most, NORMAL.inv_cdf(self.share())))

    def shuffled(self, items: Sequence[T]) -> list[T]:
        """The same things in another order."""
        left, found = list(items), []
        while left:
            found.append(left.pop(int(self.share() * len(left))))
        return found
