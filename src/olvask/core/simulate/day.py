"""The day a job is driven through where no other is chosen: a working day that holds the low phases of its own survey.

- `day_of`: as the text of a programme.
"""

from __future__ import annotations

from olvask.core.circuit.facts import gather
from olvask.core.circuit.thresholds import LOW_PHASE_S
from olvask.core.model import Design
from olvask.core.simulate.programme import LIBRARY

USUAL = "delivery round"
ROUNDS = 12


def day_of(design: Design) -> str:
    """A working day of short rounds; in each, where the vehicle has them, one low phase as long as surveyed.

    Args:
        design: the design.
    """
    if gather(design).low is None:
        return LIBRARY[USUAL]
    phase_s = design.vehicle.readings.low_phase_s
    seconds = phase_s or LOW_PHASE_S
    return (
        f"off 6 h\nrepeat {ROUNDS}\n  crank 2 s\n  idle 2 min\n  cruise 9 min\n  low {seconds:g} s\n  cruise 9 min\n"
        "  off 16 min\nend\noff 10 h\n"
    )
