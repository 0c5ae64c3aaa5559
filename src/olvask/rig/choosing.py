"""Which fault the rig's vehicle has: by name, or any that its design can have and that shows.

- `chosen_fault`: it, and whether it is hidden.
- `NotThere`: there is none of that name.
"""

from __future__ import annotations

import random

from olvask.core.analyses.diagnosis import faults_of
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.rig.faults import FAULTS, Spoilt, spoilt

# The road test's alternator in a low phase, or short, makes a unit hunt that starts by volts: told by symptom, not by one reading.
SELDOM = {"alternator", "low_phase"}


class NotThere(LookupError):
    """There is no fault of that name."""


def chosen_fault(design: Design, name: str, seed: int) -> tuple[Spoilt, bool]:
    """A fault by its name, or any.

    Args:
        design: of the vehicle.
        name: as the rig lists them; `any` picks one.
        seed: which.

    Raises:
        NotThere: no fault is called so.
    """
    if name != "any":
        try:
            return spoilt(name), False
        except KeyError as error:
            raise NotThere(str(error.args[0])) from None
    can = {fault.key for fault in faults_of(Context.of(design))}
    names = [key for key in FAULTS if key in can and key != "healthy" and key not in SELDOM]
    return spoilt(random.Random(seed).choice(names)), True  # noqa: S311  # a drill, no secret
