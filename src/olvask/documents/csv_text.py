"""Cells of a CSV file that a spreadsheet would take for a formula: defused on the way out, restored on the way in."""

from __future__ import annotations

import re

ACTS = ("=", "+", "-", "@", "\t", "\r")
NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?(?:e[+-]?\d+)?", re.IGNORECASE)


def defused(cell: object) -> str:
    """A cell that no spreadsheet calculates with: text that would act stands behind an apostrophe.

    Args:
        cell: text or number.
    """
    text = str(cell)
    acts = text.startswith(ACTS) or (text.startswith("'") and text[1:].startswith((*ACTS, "'")))
    return f"'{text}" if acts and not NUMBER.fullmatch(text) else text


def restored(cell: str) -> str:
    """A cell as it was before `defused`.

    Args:
        cell: as read from a file.
    """
    return cell[1:] if cell.startswith("'") and cell[1:].startswith((*ACTS, "'")) else cell
