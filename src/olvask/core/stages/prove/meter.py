"""How far a reading may be out: a meter's record, and the one taken where nothing is said.

- `Accuracy`, `METER`: of one kind of reading; a usual workshop meter with a clamp.
- `meters_of`: the workshop's own instruments in its place.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from olvask.core.model.instrument import Function, Instrument

Floats = NDArray[np.float64]


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

    def bound(self, value: float) -> float:
        """What the maker gives for a reading, both ways."""
        return self.percent / 100 * abs(value) + self.besides

    def sigma(self, value: float, apart: float = 0.0) -> float:
        """Standard deviation at a reading: the bound as two of them, and what moves meanwhile.

        Args:
            value: the reading.
            apart: what moves besides where it is read at another time than the others, in its unit.
        """
        return math.hypot(self.bound(value) / 2, self.moves * value, apart)

    def sigmas(self, values: Floats) -> Floats:
        """The same at many readings."""
        return np.hypot((self.percent / 100 * np.abs(values) + self.besides) / 2, self.moves * values)


# A handheld meter of the workshop class and a direct-current clamp; our own estimate of usual records.
METER: Mapping[str, Accuracy] = {
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
UNITS: dict[Function, tuple[str, ...]] = {"volts": ("V", "mV"), "amps": ("A",), "ohms": ("Ω",), "celsius": ("°C",)}
SMALL_RANGE = 50.0  # a millivolt range has digits so much finer than a volt range, in its own unit; our own estimate


def meters_of(instruments: Iterable[Instrument], usual: str = "") -> Mapping[str, Accuracy]:
    """Accuracy by unit: of the first instrument that reads it, else the usual one.

    Args:
        instruments: the workshop's own, in its order.
        usual: name of the one that is taken before the others; empty for none.
    """
    found = dict(METER)
    held = sorted(instruments, key=lambda item: item.name != usual)  # the usual one first, the others in their order
    for instrument in held[::-1]:
        if instrument.kind != "meter":
            continue
        for function in instrument.reads:
            for unit in UNITS.get(function, ()):
                digits = instrument.digits * (1000 / SMALL_RANGE if unit == "mV" else 1.0)
                found[unit] = replace(METER[unit], percent=instrument.percent, besides=max(digits, 1e-4))
    return found
