"""Where the unit's charge ends, and what a battery monitor has to be told so that it takes that for a full.

- `Ending`, `ending_of`: the current at the end of absorption, and some minutes before.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.stages.settings.unlisted import charge_acting

FULL_MIN = 3.0  # minutes under its tail after which a monitor counts a battery as full; trade practice


class Ending(NamedTuple):
    """Currents into the battery as a full absorption ends, as shares of its capacity [A per Ah].

    Attributes:
        share: when it ends.
        before: `FULL_MIN` minutes earlier: a monitor whose tail lies above this sees them pass.
        drop_v: lost in the delivery run at that current [V].
    """

    share: float
    before: float
    drop_v: float


def ending_of(ctx: Context) -> Ending | None:
    """How the unit's absorption ends, by its tail or its longest time; `None` without a unit.

    Above its taper a battery at absorption volts takes current in proportion to what is missing, so that it falls by the same
    share each minute.
    """
    design, output = ctx.design, ctx.solved.output
    if design.charger is None or output is None or output.current_a <= 0:
        return None
    battery, acting = design.auxiliary, charge_acting(design)
    own, usual = chemistries()[battery.chemistry], chemistries()[design.charge.profile or battery.chemistry]
    limit_a = float(ctx.facts.charge_limit.value)
    amps = min(output.current_a, limit_a)
    falls_h = (1 - own.taper_from) * battery.capacity_ah / (limit_a * own.charge_efficiency)
    longest_h = usual.absorption_h if acting["absorption_h"] is None else acting["absorption_h"]
    tail_a = usual.tail_share * battery.capacity_ah if acting["tail_a"] is None else acting["tail_a"]
    by_tail_h = falls_h * math.log(max(1.0, amps / tail_a)) if tail_a > 0 else math.inf
    falling_h = min(longest_h, by_tail_h)  # from where absorption begins
    ends_a = amps * math.exp(-falling_h / falls_h)
    before_a = amps * math.exp(-max(0.0, falling_h - FULL_MIN / 60) / falls_h)
    capacity_ah = battery.capacity_ah
    return Ending(ends_a / capacity_ah, before_a / capacity_ah, before_a * output.run.loop_ohm)
