"""What was found in the vehicle, in the words of a step and of a bill.

- `called`: one of them.
"""

from __future__ import annotations

from olvask.core.model import Existing

CALLED = {
    "link": "the old link",
    "panel": "the panel's own link",
    "fridge_feed": "the fridge's old feed",
    "socket_wire": "the trailer socket's charge wire",
    "built_in_charger": "the small built-in charger",
    "mains_charger": "the mains charger",
    "portable_charger": "the portable charger",
    "monitor": "the battery monitor",
    "maintainer": "the maintainer",
}


def called(item: Existing) -> str:
    """What was found, by its kind; with the note that was made of it, which tells two of a kind apart.

    Args:
        item: as surveyed.
    """
    note = item.name.strip()
    return f"{CALLED[item.kind]} ({note})" if note else CALLED[item.kind]
