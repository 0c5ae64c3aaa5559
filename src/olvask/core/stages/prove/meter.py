"""How far a reading may be out: a meter's record, and the one taken where nothing is said.

- `Accuracy`, `METER`: of one kind of reading; a usual workshop meter with a clamp.
- `sigma_of`: the meter and what moves between two readings, together.
"""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Accuracy:
    """Percent of the reading and so much besides; both together are the bound the maker gives.

    Attributes:
        percent: of the reading.
        besides: digits, in the reading's unit.
        moves: what the vehicle itself moves by between one reading and the next, of the reading: batteries fill, copper
            and alternator warm, hands take their time.
    """

    percent: float
    besides: float
    moves: float = 0.0

    def sigma(self, value: float) -> float:
        """Standard deviation at a reading: the bound as two of them, and what moves meanwhile."""
        return math.hypot((self.percent / 100 * abs(value) + self.besides) / 2, self.moves * value)


# A handheld meter of the workshop class and a direct-current clamp; our own estimate of usual records.
METER: dict[str, Accuracy] = {
    "V": Accuracy(0.5, 0.02, 0.001),
    "mV": Accuracy(0.5, 0.3, 0.006),
    "A": Accuracy(2.0, 0.3, 0.006),
    "mA": Accuracy(1.5, 2.0, 0.02),
    "s": Accuracy(0.0, 2.0),
    "Ω": Accuracy(1.0, 0.3),
    "mΩ": Accuracy(1.0, 0.3),
    "°C": Accuracy(0.0, 4.0),
    "": Accuracy(0.0, 0.0),
}
