"""Sentences and figures of papers in the units of the house.

The screens do the same in `frontend/src/ui/units.ts`; `tests/data/units.json` holds both to the same words.

- `in_units`: a sentence.
- `data_in_units`: every sentence of a document's data.
- `Verbatim`: what is not turned: labels of a device's menu, what is keyed into it and read back.
- `svg_in_units`: every word of a drawing.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from olvask.core.model.house import Units

NUMBER = r"[-−]?\d+(?:\.\d+)?"
CHAIN = rf"(?<![\w.,/])({NUMBER}(?:(?:\s?(?:to|and|or|–|…|±)\s?){NUMBER})*)(\s?)"  # "20 to 105 °C" is two numbers


class Verbatim(str):
    """What stands so on a device, or was read off it: in no other units, whatever the house reads."""


@dataclass(frozen=True, slots=True)
class Turn:
    """One unit turned into another: what stands in a sentence, what of it becomes, and at how many digits more."""

    unit: str  # a regular expression
    into: str
    factor: float
    more: Callable[[int, float], int]
    offset: float = 0.0


def _length(digits: int, value: float) -> int:
    return 1 if digits == 0 and abs(value) < 100 else digits


def _small(digits: int, value: float) -> int:
    return digits + 2 if abs(value) < 1 else digits + 1


def _same(digits: int, value: float) -> int:
    return digits


def _torque(digits: int, value: float) -> int:
    return max(0, digits - 1)


def _rate(digits: int, value: float) -> int:
    return max(1, digits)


FEET = (
    Turn(r"mΩ/m\b", "mΩ/ft", 0.3048, _rate),
    Turn(r"€/m\b", "€/ft", 0.3048, _same),
    Turn(r"m(?![\w²³Ω·/])", "ft", 1 / 0.3048, _length),
    Turn(r"mm(?![\w²])", "in", 1 / 25.4, _small),
    Turn(r"cm²", "in²", 1 / 6.4516, _length),
)
FAHRENHEIT = (
    Turn(r"mV/(?:°C|K)(?!\w)", "mV/°F", 5 / 9, _rate),
    Turn(r"%/K\b", "%/°F", 5 / 9, _rate),
    Turn(r"°C", "°F", 1.8, _same, 32.0),
    Turn(r"K\b(?!/)", "°F", 1.8, _same),
)
POUNDS = (Turn(r"N·m(?!\w)", "lb·in", 8.850746, _torque),)


def turns(units: Units) -> tuple[Turn, ...]:
    """What is turned for a house."""
    return (
        *(FEET if units.length == "ft" else ()),
        *(FAHRENHEIT if units.temperature == "F" else ()),
        *(POUNDS if units.torque == "lbin" else ()),
    )


def in_units(text: str, units: Units) -> str:
    """A sentence with its figures in the units of the house.

    Args:
        text: in SI units, with decimal points.
        units: of the house.
    """
    for turn in turns(units):
        text = re.sub(CHAIN + f"(?:{turn.unit})", lambda found, turn=turn: _turned(found, turn), text)  # type: ignore[misc]  # the default binds the turn
    if units.currency != "€":
        text = text.replace("€", units.currency)
    return _decimals(text, units)


def _decimals(text: str, units: Units) -> str:
    if units.decimal != "comma":
        return text
    return re.sub(r"(?<![\w.])(\d+)\.(\d+)(?![\d]*\.\d)", r"\1,\2", text)


def _turned(found: re.Match[str], turn: Turn) -> str:
    return re.sub(NUMBER, lambda number: _number(number[0], turn), found[1]) + found[2] + turn.into


def _number(text: str, turn: Turn) -> str:
    value = float(text.replace("−", "-")) * turn.factor + turn.offset
    written = f"{value:.{turn.more(len(text.partition('.')[2]), value)}f}"
    return written.replace("-", "−") if "−" in text or (value < 0 and "-" not in text) else written


def data_in_units(data: Any, units: Units) -> Any:
    """Every sentence of a document's data in the units of the house.

    Args:
        data: as a template reads it.
        units: of the house.
    """
    if isinstance(data, Verbatim):
        return _decimals(data, units)
    if isinstance(data, str):
        return in_units(data, units)
    if isinstance(data, dict):
        return {key: data_in_units(value, units) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [data_in_units(value, units) for value in data]
    return data


def svg_in_units(svg: str, units: Units) -> str:
    """A drawing with its words in the units of the house, each within the room it had.

    Args:
        svg: the drawing.
        units: of the house.
    """
    return re.sub(r"(?<=>)[^<>]+(?=</text>)", lambda found: in_units(found[0], units), svg)
