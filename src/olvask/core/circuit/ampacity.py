"""Continuous current of a cable by the chosen tables, corrected for its surroundings.

- `ampacity`: the current, and the table it came from.
- `surface_resistance`: what conduit and neighbours do to a cable's cooling.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Final

from olvask.core.catalogue import ampacity_table
from olvask.core.circuit.facts import PLACE_C
from olvask.core.model import Cable
from olvask.core.physics.conductors import METAL_FACTOR
from olvask.core.physics.heat import ambient_factor

# Circuits bunched together, IEC 60364-5-52:2009 Table B.52.17 item 1.
GROUP_FACTOR = {1: 1.0, 2: 0.80, 3: 0.70, 4: 0.65, 5: 0.60, 6: 0.57}
CONDUIT_FACTOR: Final = 1.3  # table current in conduit over free air, squared and inverted


def cable_ambient_c(cable: Cable) -> float:
    """Air around a cable [°C]: as given, else the default of its place."""
    return PLACE_C[cable.place] if cable.ambient_c is None else cable.ambient_c


def ampacity(cable: Cable, school: str) -> tuple[float, str]:
    """Continuous current [A] of a cable and the table it came from.

    Args:
        cable: the cable.
        school: "enclosed" or "free_air"; a cable in conduit always takes the enclosed table.

    Table at 30 °C, times ambient, grouping and metal factors. The table for the highest
    conductor temperature at or under the insulation's is used, else the coolest corrected down.
    """
    return _ampacity(
        cable.size,
        "enclosed" if cable.conduit else school,
        cable.insulation_c,
        cable_ambient_c(cable),
        cable.grouped,
        cable.metal,
        cable.parallel,
    )


@lru_cache(maxsize=4096)
def _ampacity(
    size: str, school: str, insulation_c: int, ambient_c: float, grouped: int, metal: str, parallel: int
) -> tuple[float, str]:
    table = ampacity_table()[size, school]
    usable = [limit for limit in table if limit <= insulation_c]
    table_c = max(usable) if usable else min(table)
    amps, source = table[table_c]
    factor = ambient_factor(insulation_c, table_c, ambient_c) * GROUP_FACTOR[grouped]
    return amps * parallel * factor / METAL_FACTOR[metal] ** 0.5, f"{source}, {table_c} °C column"


def surface_resistance(cable: Cable) -> float:
    """Surface resistance to heat over that of one cable in free air, for conduit and grouping."""
    return (CONDUIT_FACTOR if cable.conduit else 1.0) / GROUP_FACTOR[cable.grouped] ** 2
