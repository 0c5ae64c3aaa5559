"""What a trip is made of at a moment: the slow state, the air, what holds for a while, the volts and amperes that follow.

- `State`, `Air`, `Moment`: what goes in.
- `Flow`: what follows.
- `Variation`: how one vehicle differs from the design.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from olvask.core.simulate.programme import WARM_DAY_C, Stretch


class State(NamedTuple):
    """What changes slowly: charges 0 to 1, heating of the runs (1 is steady at full current), unit over its air [K], and
    the batteries' temperature [°C]."""

    start_charge: float
    auxiliary_charge: float
    supply_heating: float = 0.0
    delivery_heating: float = 0.0
    unit_rise_k: float = 0.0
    battery_c: float = WARM_DAY_C

    def within(self) -> State:
        """The same within the bounds of charge."""
        start, auxiliary = self.start_charge, self.auxiliary_charge
        if 0 <= start <= 1 and 0 <= auxiliary <= 1:
            return self
        return self._replace(start_charge=min(1.0, max(0.0, start)), auxiliary_charge=min(1.0, max(0.0, auxiliary)))


class Air(NamedTuple):
    """What the air of a stretch does: shift of every temperature of the design, and what the unit gives in it [A]."""

    ambient_c: float
    shift_k: float
    able_a: float


class Moment(NamedTuple):
    """What holds for a while: the stretch, its air, surface volts left, what the unit is doing, which input waits."""

    stretch: Stretch
    running: bool
    air: Air
    surface_v: float
    drawing: bool
    ramp: float
    target_v: float
    waits: Literal["", "alternator", "solar"] = ""


class Flow(NamedTuple):
    """Volts and amperes of a moment. Zero volts at the terminals while drawing means that the run collapsed.

    `spare_a` is what volts or battery would let through beyond what the unit can give; below zero they hold it back.
    """

    volts: float
    input_a: float
    output_a: float
    post_v: float
    auxiliary_v: float
    start_a: float
    auxiliary_a: float
    spare_a: float
    collapsed: bool
    sun_a: float = 0.0
    load_a: float = 0.0
    dead: bool = False
    refused: bool = False
    limited: bool = False  # by what the battery takes, rather than by volts
    held: bool = False  # volts or battery let less through than the unit would give, soft start and all
    all_left: bool = False  # the start battery takes all that the alternator has left

    @property
    def by_volts(self) -> bool:
        """Whether the current is held back by volts or battery rather than by the unit."""
        return self.spare_a < -1e-9

    @property
    def held_by(self) -> tuple[bool, ...]:
        """What the currents follow: volts or battery, the battery alone, nothing; all that is left, into or out of."""
        return self.held, self.limited, self.output_a <= 0, self.all_left, self.start_a > 0


class Variation(NamedTuple):
    """How one vehicle differs from the design: volts of its battery and regulator, its battery's age, its joints."""

    rest_v: float = 0.0
    alternator_v: float = 0.0
    start_ohm: float = 1.0
    start_ah: float = 1.0
    joint_ohm: float = 0.0
