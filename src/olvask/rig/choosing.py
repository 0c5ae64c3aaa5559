"""Which fault the rig's vehicle has: by name, or any that its design can have and that shows.

- `chosen_fault`: it, and whether it is hidden.
- `case_on_rig`: the vehicle of a practice case, and its fault at the size it has there.
- `NotThere`: there is none of that name.
"""

from __future__ import annotations

import random
import re
from dataclasses import replace
from typing import cast

from olvask.core.analyses.diagnosis import faults_of
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.practice.case import Hidden, Level
from olvask.core.practice.course import case_of
from olvask.rig.faults import FAULTS, LEG_NAMES, Spoilt, spoilt

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


def case_on_rig(name: str) -> tuple[Design, Spoilt]:
    """The vehicle of a practice case, and its fault at the size it has there.

    Args:
        name: level and number, such as 2-17.

    Raises:
        NotThere: there is no such case, or the rig cannot be made to have its fault.
    """
    found = re.fullmatch(r"([1-4])-([1-9]\d{0,5})", name.strip())
    if found is None:
        raise NotThere(f"no case {name!r}: give a level from 1 to 4 and a number, such as 2-17")
    case, _ = case_of(cast(Level, int(found[1])), int(found[2]))
    fault = _sized(case.hidden[0])
    if fault is None:
        raise NotThere(f"case {name} has a fault that the rig cannot be made to have; take another number")
    return case.vehicle.design, fault


def _sized(hidden: Hidden) -> Spoilt | None:
    """A case's fault as the rig has it; `None` where it has none such."""
    key, changes = hidden.fault.key, {change.name: change for change in hidden.size}
    if key not in FAULTS:
        return None
    made = spoilt(key)
    leg = key.removeprefix("joint.")
    if leg in LEG_NAMES:
        return replace(made, extra_ohm={leg: changes[leg].more})
    if key == "limited" and "limit_a" in changes:
        return replace(made, limit_share=changes["limit_a"].times)
    if key == "drain":
        return replace(made, drain_ma=changes["standby_ma"].more)
    if key == "old_link":
        return replace(made, link_a=changes["old_link_a"].more)
    return made
