"""Names one after the other, and numbers with their noun, as a sentence has them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

MOST_DECIMALS: Final = 5  # what is nearer than that is the same to any meter; our own estimate


def listed(names: Sequence[str]) -> str:
    """Names with commas between them, an “and” before the last; empty for none."""
    return " and ".join((", ".join(names[:-1]), names[-1])) if len(names) > 1 else "".join(names)


def capital(words: str) -> str:
    """Words as a sentence begins; empty stays so."""
    return words[:1].upper() + words[1:]


def counted(number: float, one: str, many: str = "") -> str:
    """A number, rounded to a whole one, with its noun: “1 day”, “2 days”.

    Args:
        number: how many.
        one: the noun of one.
        many: the noun of none or several; `one` with an s where it is empty.
    """
    return f"{number:.0f} {one if round(number) == 1 else many or f'{one}s'}"


def apart(value: float, bound: float, decimals: int, entered: bool = False) -> tuple[str, str]:
    """A value and the bound it is past, both with so many decimals, or more where else they would read alike.

    Args:
        value: what is judged, in any unit.
        bound: what it is held against, in the same.
        decimals: as many as are enough for the eye.
        entered: whether the bound is a figure that was typed, and is told as it was.
    """

    def told(more: int) -> tuple[str, str]:
        return f"{value:.{more}f}", f"{bound:g}" if entered else f"{bound:.{more}f}"

    for more in range(decimals, MOST_DECIMALS):
        text, limit = told(more)
        if float(text) != float(limit):
            return text, limit
    return told(decimals)


def percent(share: float, decimals: int = 0) -> str:
    """A share as a sentence has it, its sign apart from it as after any unit (ISO 80000-1): “60 %”.

    Args:
        share: of one.
        decimals: behind the mark.
    """
    return f"{100 * share:.{decimals}f} %"


def away(by_v: float, what: str, over: str = "above", under: str = "under") -> str:
    """How far volts stand from others: “0.30 V above resting”, “0.30 V under resting”, “level with resting”.

    Args:
        by_v: by how much they are higher [V]; lower where negative.
        what: what they stand above or under.
        over: the word for higher.
        under: the word for lower.
    """
    if abs(by_v) < 0.005:  # two decimals show none
        return f"level with {what}"
    return f"{abs(by_v):.2f} V {over if by_v > 0 else under} {what}"
