"""A job taken over for the next vehicle: what was measured on this one is copied, and said to be.

- `next_vehicle`: the design for it.
- `MEASURED_HERE`: what belongs to one vehicle alone, whatever was said of it.
"""

from __future__ import annotations

from typing import Any

from olvask.core.model import Design
from olvask.core.model.design import Provenance

# Places of the design that are of one vehicle: read on it, or as its body and its use have it.
MEASURED_HERE = (
    "vehicle.readings.rest_v",
    "vehicle.readings.after_stop_v",
    "vehicle.readings.idle_v",
    "vehicle.readings.cruise_v",
    "vehicle.readings.low_phase_v",
    "vehicle.readings.low_phase_s",
    "vehicle.chassis.bonding_mohm",
    "vehicle.alternator.sag_mohm",
    "vehicle.alternator.hot_idle_share",
    "vehicle.standing_drain_ma",
    "mount.ambient_c",
    "mount.room_c",
    "distances.supply_m",
    "distances.delivery_m",
    "supply.back.resistance_mohm",
    "delivery.back.resistance_mohm",
)
DONE_THERE: dict[str, Any] = {"keyed": [], "access_code_changed": False}  # what was done at that vehicle's devices


def next_vehicle(design: Design) -> Design:
    """The same work for another vehicle.

    Args:
        design: of the vehicle it was made for.

    Values measured there stay, so that there is something to begin from, but count as copied; what was keyed is to key again.
    """
    found: dict[str, Any] = design.model_dump(mode="json") | DONE_THERE
    found["monitor"] |= {"shows_percent": None, "rested_v": None, "synchronised": False}
    provenance = {path: str(origin) for path, origin in design.provenance.items()}
    for path, origin in provenance.items():
        if origin == Provenance.MEASURED:
            provenance[path] = str(Provenance.COPIED)
    for path in MEASURED_HERE:
        if _at(found, path) is not None:
            provenance[path] = str(Provenance.COPIED)
    found["provenance"] = provenance
    return Design.model_validate(found)


def _at(document: dict[str, Any], path: str) -> Any:
    here: Any = document
    for step in path.split("."):
        here = here.get(step) if isinstance(here, dict) else None
    return here
