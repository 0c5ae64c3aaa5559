"""What many faults have in common: how they are told, which looks they answer, how far a stray value lies; our own estimates."""

from __future__ import annotations

from olvask.core.analyses.diagnosis.fault import Change, Symptom
from olvask.core.circuit.context import Context

ANY_V, ANY_SHARE = 0.25, 0.15  # a value that is nobody's choice lies anywhere thereabouts; our own estimates
JOINT_OHM = (0.001, 0.002, 0.004, 0.008, 0.016, 0.032, 0.06)
WEAK: dict[Symptom, float] = {"weak": 0.8, "flat": 0.3, "was_fine": 0.4}
DEAD: dict[Symptom, float] = {"does_nothing": 0.9, "flat": 0.4, "was_fine": 0.4}
STILL = {"toggled": 0.03, "rides_low": 0.2, "restarts": 0.1, "monitor_full": 0.3}


def held_low(ctx: Context) -> tuple[tuple[Change, ...], ...]:
    """What a low phase of the alternator changes: volts as surveyed, and a little above; nothing where none is known.

    Args:
        ctx: the design solved.
    """
    low = ctx.facts.low
    sizes = () if low is None else (float(low.value), float(low.value) + 0.3 * ctx.facts.scale)
    return tuple((Change("regulated_v", 0.0, volts),) for volts in sizes)
