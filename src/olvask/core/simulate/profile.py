"""The stages of a charge as the unit is set to them."""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved
from olvask.core.model import Design


@dataclass(frozen=True, slots=True)
class Profile:
    """Stages of a charge: volts at the unit's output, and when one gives way to the next."""

    absorption_v: float
    float_v: float
    rebulk_v: float
    absorption_s: float
    adaptive: bool
    tail_a: float

    def absorption_for(self, bulk_s: float) -> float:
        """How long absorption lasts after `bulk_s` of bulk [s]; an adaptive one halves the bulk, ten minutes at least."""
        return min(self.absorption_s, max(600.0, bulk_s / 2)) if self.adaptive else self.absorption_s


def profile_of(design: Design, solved: Solved) -> Profile:
    """The profile the unit is set to: the battery's own, or another chemistry's off the table."""
    battery = design.auxiliary
    name = design.charge.profile or battery.chemistry
    own = name == battery.chemistry
    chemistry, scale = chemistries()[name], battery.nominal_v / 12
    return Profile(
        absorption_v=float(solved.facts.absorption.value) if own else chemistry.absorption_v * scale,
        float_v=battery.float_v if own and battery.float_v is not None else chemistry.float_v * scale,
        rebulk_v=chemistry.rebulk_v * scale,
        absorption_s=chemistry.absorption_h * 3600,
        adaptive=name != "lfp",
        tail_a=chemistry.tail_share * battery.capacity_ah,
    )
