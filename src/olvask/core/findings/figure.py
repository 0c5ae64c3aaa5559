"""A computed value with its unit, its working and where its inputs came from.

- `Figure`, `Input`: the value and what it was computed from.
- `Reckoned`, `Words`: as a judge yields it; rule and numbers are put into words only where somebody wants to read them.
- `seal`: both frozen, once they are finished.
- `computed`: another figure as an input.
- `by_branches`: their part of a drop in a sum.
- `show`: a value written with its unit.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from olvask.core.findings.said import Sealed

YES_NO = "yes/no"  # unit of what holds or does not: 1 or 0
DIGITS = {
    YES_NO: 0,
    "V": 2,
    "A": 1,
    "W": 0,
    "mΩ": 2,
    "Ω": 1,
    "%": 1,
    "°C": 0,
    "h": 1,
    "Ah": 0,
    "mV": 0,
    "s": 0,
    "×": 1,
    "mm²": 2,
    "days": 1,
    "mA": 0,
    "Ah/h": 1,
    "€": 0,
}
OVER_RANGE_OHM = 1e6  # from here on a meter's ohms tell no more than that nothing conducts; our own estimate
LARGE = 1000  # from here on no decimals: they are beyond what anything here is known to


@dataclass(slots=True)
class Input:
    """One number a figure was computed from.

    Attributes:
        label: what it is, in workshop words.
        value: the number, or a word where the input is a choice.
        unit: unit symbol, "-" for none.
        provenance: default, datasheet, measured, entered or computed.
        path: dotted path into the design, or the name of another figure; empty for constants.
    """

    label: str
    value: float | str
    unit: str
    provenance: str
    path: str = ""


@dataclass(slots=True)
class Figure:
    """A computed value.

    Attributes:
        name: stable dotted name, listed in docs/job-file.md.
        label: what it is, in workshop words.
        value: the number, `None` where it cannot be computed (collapse).
        unit: unit symbol.
        formula: the rule in symbols.
        working: the rule with this job's numbers.
        inputs: what went in.
        source: standard, physics or school the rule comes from.
        changes: what would change the verdict; empty where none hangs on it.
    """

    name: str
    label: str
    value: float | None
    unit: str
    formula: str = ""
    working: str = ""
    inputs: tuple[Input, ...] = ()
    source: str = ""
    changes: str = ""


@dataclass(slots=True)
class Words:
    """How a figure came about; as in `Figure`."""

    formula: str = ""
    working: str = ""
    inputs: tuple[Input, ...] = ()
    source: str = ""
    changes: str = ""


@dataclass(slots=True)
class Reckoned:
    """A figure as a judge yields it, its words still to be found; the rest as in `Figure`."""

    name: str
    label: str
    value: float | None
    unit: str
    words: Callable[[], Words]


class SealedInput(Sealed, Input):
    """An input as it leaves the core."""

    __slots__ = ()


class SealedFigure(Sealed, Figure):
    """A figure as it leaves the core."""

    __slots__ = ()


def seal(figure: Figure) -> Figure:
    """Freeze a finished figure with its inputs.

    Args:
        figure: made, with all its inputs known.
    """
    for item in figure.inputs:
        if item.__class__ is Input:  # a survey value goes into many figures
            item.__class__ = SealedInput
    figure.__class__ = SealedFigure
    return figure


def computed(name: str) -> Input:
    """Name another figure as an input; the collector puts in what that figure says.

    Args:
        name: dotted name of a figure collected before.
    """
    return Input("", "", "", "computed", name)


def by_branches(volts: float) -> str:
    """What branches add to a drop or take off it, as it stands in a sum; empty where there are none.

    Args:
        volts: drop that they cause on the unit's way [V].
    """
    return f" {'+' if volts > 0 else '−'} {abs(volts):.3f} V by branches" if volts else ""


def show(value: float | None, unit: str) -> str:
    """Write a value with its unit at the digits this product uses everywhere.

    Args:
        value: number, or `None` for one that cannot be computed.
        unit: unit symbol; a part of one, "share", is written in per cent.
    """
    if value is None:
        return "none"
    if unit == YES_NO:
        return "yes" if value else "no"
    if unit == "share":
        return f"{round(100 * value, 1):g} %"
    if unit == "Ω" and value >= LARGE:
        return "over 1 MΩ" if value >= OVER_RANGE_OHM else f"{value / 1000:.1f} kΩ"
    text = f"{value:.{0 if abs(value) >= LARGE else DIGITS.get(unit, 2)}f}"
    return text if unit == "-" else f"{text} {unit}"
