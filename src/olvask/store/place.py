"""Where a store lies."""

from __future__ import annotations

from pathlib import Path

SCHEMES = ("postgresql://", "postgresql+psycopg://")


def is_address(place: Path | str) -> bool:
    """Whether a place is a server's address and no file.

    Args:
        place: of a store.
    """
    return isinstance(place, str) and place.startswith(SCHEMES)
