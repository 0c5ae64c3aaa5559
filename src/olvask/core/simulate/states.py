"""What a trip is made of at a moment: the slow state, the air, what holds for a while, the volts and amperes that follow.

- `State`, `Air`, `Moment`: what goes in.
- `Flow`: what follows.
- `Variation`: how one vehicle differs from the design.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

from mypy_extensions import mypyc_attr

from olvask.core.simulate.programme import WARM_DAY_C, Stretch


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class State:
    """What changes slowly: charges 0 to 1, heating of the runs (1 is steady at full current), unit over its air [K], and
    the batteries' temperature [°C]."""

    start_charge: float
    auxiliary_charge: float
    supply_heating: float
    delivery_heating: float
    unit_rise_k: float
    battery_c: float

    def __init__(
        self,
        start_charge: float,
        auxiliary_charge: float,
        supply_heating: float = 0.0,
        delivery_heating: float = 0.0,
        unit_rise_k: float = 0.0,
        battery_c: float = WARM_DAY_C,
    ) -> None:
        """Take its parts."""
        self.start_charge = start_charge
        self.auxiliary_charge = auxiliary_charge
        self.supply_heating = supply_heating
        self.delivery_heating = delivery_heating
        self.unit_rise_k = unit_rise_k
        self.battery_c = battery_c

    def within(self) -> State:
        """The same within the bounds of charge."""
        start, auxiliary = self.start_charge, self.auxiliary_charge
        if 0 <= start <= 1 and 0 <= auxiliary <= 1:
            return self
        return replace(self, start_charge=min(1.0, max(0.0, start)), auxiliary_charge=min(1.0, max(0.0, auxiliary)))


@dataclass(slots=True)
class Air:
    """What the air of a stretch does: shift of every temperature of the design, and what the unit gives in it [A]."""

    ambient_c: float
    shift_k: float
    able_a: float


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class Moment:
    """What holds for a while: the stretch, its air, surface volts left, what the unit is doing, which input waits.

    A run that collapsed stays so until the unit lets go: what it asks for cannot come through, whatever cools meanwhile.
    """

    stretch: Stretch
    running: bool
    air: Air
    surface_v: float
    drawing: bool
    ramp: float
    target_v: float
    waits: Literal["", "alternator", "solar"]
    collapsed: bool

    def __init__(
        self,
        stretch: Stretch,
        running: bool,
        air: Air,
        surface_v: float,
        drawing: bool,
        ramp: float,
        target_v: float,
        waits: Literal["", "alternator", "solar"] = "",
        collapsed: bool = False,
    ) -> None:
        """Take its parts."""
        self.stretch = stretch
        self.running = running
        self.air = air
        self.surface_v = surface_v
        self.drawing = drawing
        self.ramp = ramp
        self.target_v = target_v
        self.waits = waits
        self.collapsed = collapsed

    def let_go(self) -> Moment:
        """The same with the unit drawing nothing."""
        return Moment(self.stretch, self.running, self.air, self.surface_v, False, 0.0, self.target_v, self.waits)


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class Flow:
    """Volts and amperes of a moment. Zero volts at the terminals while drawing means that the run collapsed.

    `sun_a` reaches the auxiliary battery beside the unit: by a panel's own controller, by an old built-in charger.
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
    sun_a: float
    load_a: float
    dead: bool
    refused: bool
    limited: bool  # by what the battery takes, rather than by volts
    held: bool  # volts or battery let less through than the unit would give, soft start and all
    all_left: bool  # the start battery takes all that the alternator has left

    def __init__(
        self,
        volts: float,
        input_a: float,
        output_a: float,
        post_v: float,
        auxiliary_v: float,
        start_a: float,
        auxiliary_a: float,
        spare_a: float,
        collapsed: bool,
        sun_a: float = 0.0,
        load_a: float = 0.0,
        dead: bool = False,
        refused: bool = False,
        limited: bool = False,
        held: bool = False,
        all_left: bool = False,
    ) -> None:
        """Take its parts."""
        self.volts = volts
        self.input_a = input_a
        self.output_a = output_a
        self.post_v = post_v
        self.auxiliary_v = auxiliary_v
        self.start_a = start_a
        self.auxiliary_a = auxiliary_a
        self.spare_a = spare_a
        self.collapsed = collapsed
        self.sun_a = sun_a
        self.load_a = load_a
        self.dead = dead
        self.refused = refused
        self.limited = limited
        self.held = held
        self.all_left = all_left

    @property
    def by_volts(self) -> bool:
        """Whether the current is held back by volts or battery rather than by the unit."""
        return self.spare_a < -1e-9

    @property
    def held_by(self) -> int:
        """What the currents follow, a bit each: volts or battery, the battery alone, nothing; all that is left, into or
        out of the start battery."""
        nothing = self.output_a <= 0
        return self.held | self.limited << 1 | nothing << 2 | self.all_left << 3 | (self.start_a > 0) << 4


class Variation(NamedTuple):
    """How one vehicle differs from the design: volts of its battery and regulator, its battery's age, its joints."""

    rest_v: float = 0.0
    alternator_v: float = 0.0
    start_ohm: float = 1.0
    start_ah: float = 1.0
    joint_ohm: float = 0.0
