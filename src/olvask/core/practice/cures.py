"""What can be done to a vehicle in practice, and what that costs in minutes and money.

- `Cure`, `cures_of`: everything that can be tried on a vehicle, right or wrong.
"""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.analyses.diagnosis import faults_of
from olvask.core.circuit.context import Context

ANOTHER_UNIT = "another_unit"
UNIT_MIN, UNIT_PRICE = 45.0, 250.0  # to change a unit; its price where its record has none; our own estimates
# Minutes and money [€] by what is mended, the first that fits counts: our own estimates of a workshop's usual work.
COSTS: tuple[tuple[str, float, float], ...] = (
    ("joint.", 20.0, 4.0),
    ("thin.", 90.0, 45.0),
    ("alternator", 120.0, 380.0),
    ("no_charge", 120.0, 380.0),
    ("regulator", 60.0, 90.0),
    ("belt", 40.0, 35.0),
    ("tired_start", 20.0, 140.0),
    ("tired_auxiliary", 30.0, 600.0),
    ("drain", 45.0, 0.0),
    ("too_hot", 60.0, 30.0),
    ("no_enable", 30.0, 6.0),
    ("reversed", 25.0, 0.0),
    ("open.supply_device", 10.0, 15.0),
    ("open.delivery_device", 10.0, 15.0),
    ("open.", 30.0, 8.0),
    ("pack_off", 20.0, 0.0),
    ("monitor_bypassed", 30.0, 4.0),
    ("sensor", 30.0, 4.0),
    ("old_link", 20.0, 4.0),
    ("relay", 25.0, 12.0),
)
SETTING = (8.0, 0.0)  # what is keyed in, switched on or explained


@dataclass(frozen=True, slots=True, kw_only=True)
class Cure:
    """Something that can be done.

    Attributes:
        key: the fault it mends, or what else it changes.
        words: what is wrong where it helps.
        text: what is done.
        minutes: how long it takes.
        price: of its parts [€].
    """

    key: str
    words: str
    text: str
    minutes: float
    price: float


def cures_of(ctx: Context) -> dict[str, Cure]:
    """Everything that can be done to a vehicle, by key.

    Args:
        ctx: the design solved.
    """
    found = {}
    for fault in faults_of(ctx):
        if fault.key == "healthy":
            continue
        minutes, price = next(
            ((minutes, price) for start, minutes, price in COSTS if fault.key.startswith(start)), SETTING
        )
        found[fault.key] = Cure(key=fault.key, words=fault.words, text=fault.cure, minutes=minutes, price=price)
    unit = ctx.design.charger
    price = unit.price if unit is not None and unit.price else UNIT_PRICE
    found[ANOTHER_UNIT] = Cure(
        key=ANOTHER_UNIT, words="the unit itself is broken", text="Fit another unit.", minutes=UNIT_MIN, price=price
    )
    return found
