"""How far a reading may be out: a meter's record, and the one taken where nothing is said.

- `Accuracy`: of one kind of reading.
- `METER`: a usual workshop meter with a clamp.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Accuracy:
    """Percent of the reading and so much besides; both together are the bound the maker gives."""

    percent: float
    besides: float

    def sigma(self, value: float) -> float:
        """Standard deviation at a reading: the bound as two of them."""
        return (self.percent / 100 * abs(value) + self.besides) / 2


# A handheld meter of the workshop class and a direct-current clamp; our own estimate of usual records.
METER: dict[str, Accuracy] = {
    "V": Accuracy(0.5, 0.02),
    "mV": Accuracy(0.5, 0.3),
    "A": Accuracy(2.0, 0.3),
    "mA": Accuracy(1.5, 2.0),
    "s": Accuracy(0.0, 2.0),
    "Ω": Accuracy(1.0, 0.3),
}
