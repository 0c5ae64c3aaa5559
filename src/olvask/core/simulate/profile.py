"""The stages of a charge as something is set to them.

- `Profile`: volts, times and ends of the stages.
- `profile_of`: what the unit is set to.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from olvask.core.catalogue import chemistries
from olvask.core.circuit.facts import charge_volts, resumes_v
from olvask.core.circuit.solve import Solved
from olvask.core.circuit.thresholds import set_thresholds
from olvask.core.model import Design
from olvask.core.model.charging import ChargeStages
from olvask.core.model.settings import OFF, ON, Meaning
from olvask.core.stages.settings.sheet import planned
from olvask.core.stages.settings.unlisted import charge_acting

ADAPTIVE_SHARE: Final = 0.5  # of the time bulk took; our own estimate
ADAPTIVE_LEAST_S: Final = 600.0  # an adaptive absorption is never shorter; our own estimate
EQUALISED_S: Final = 3600.0  # an hour of it; our own estimate
AGAIN_HELD_S: Final = 60.0  # under its restart volts; our own estimate: the start of a pump passes
PULSE_S, PULSE_EVERY_S = 300.0, 3600.0  # a pulse, and from one's end to the next; our own estimates


@dataclass(frozen=True, slots=True)
class Profile:
    """Stages of a charge: volts at the terminals of what charges, and when one gives way to the next.

    Attributes:
        absorption_v: held in absorption [V].
        float_v: held afterwards [V].
        rebulk_v: below these volts for a minute it begins anew [V].
        absorption_s: longest absorption [s].
        adaptive: absorption lasts by how long bulk took.
        tail_a: absorption ends at this current [A]; 0 where no tail ends it.
        rests: afterwards it gives nothing instead of holding float.
        bulk_s: longest bulk; after it, it goes on as after absorption [s].
        pulses: while it rests it holds absorption volts for five minutes of every hour.
        equalise_v: held for an hour after absorption, where it is due [V]; 0 for never.
    """

    absorption_v: float
    float_v: float
    rebulk_v: float
    absorption_s: float
    adaptive: bool
    tail_a: float
    rests: bool = False
    bulk_s: float = math.inf
    equalise_v: float = 0.0
    pulses: bool = False

    def absorption_for(self, bulk_s: float) -> float:
        """How long absorption lasts after `bulk_s` of bulk [s]; an adaptive one halves the bulk, ten minutes at least."""
        if not self.adaptive:
            return self.absorption_s
        return min(self.absorption_s, max(ADAPTIVE_LEAST_S, bulk_s * ADAPTIVE_SHARE))


def profile_from(
    stages: ChargeStages, chemistry_name: str, nominal_v: int, capacity_ah: float, absorption_v: float, float_v: float
) -> Profile:
    """A profile with what is not said filled in from the chemistry it is set for.

    Args:
        stages: what is said.
        chemistry_name: key of the chemistry table.
        nominal_v: of the battery [V].
        capacity_ah: of the battery [Ah].
        absorption_v: where nothing is said of it [V].
        float_v: where nothing is said of it [V].
    """
    usual, scale = chemistries()[chemistry_name], nominal_v / 12

    def said(value: float | None, otherwise: float) -> float:
        return otherwise if value is None else value

    by, rests = stages.absorbed_by, stages.after in ("rest", "pulses")
    return Profile(
        absorption_v=said(stages.absorption_v, absorption_v),
        float_v=said(stages.float_v, float_v),
        rebulk_v=said(stages.rebulk_v, resumes_v(chemistry_name, nominal_v, rests)),
        absorption_s=said(stages.absorption_h, usual.absorption_h) * 3600,
        adaptive=chemistry_name != "lfp" if by is None else by == "adaptive",
        tail_a=said(stages.tail_a, usual.tail_share * capacity_ah),
        rests=rests,
        pulses=stages.after == "pulses",
        bulk_s=math.inf if stages.bulk_h is None else stages.bulk_h * 3600,
        equalise_v=said(stages.equalise_v, usual.equalise_v * scale) if stages.equalise else 0.0,
    )


STAGES: tuple[Meaning, ...] = (
    "absorption_v",
    "absorption_h",
    "tail_a",
    "float_v",
    "rebulk_v",
    "bulk_h",
    "equalise_v",
    "compensation_mv_per_k",
    "cold_c",
    "hot_c",
)


def acting_stages(design: Design, solved: Solved) -> ChargeStages:
    """What the unit charges by once the sheet is keyed: its own lines where it has a menu on record, else as wanted."""
    found = planned(design, solved.facts, set_thresholds(design, solved))
    if found is None:
        return design.charge
    acting: dict[str, object] = {}
    for meaning in STAGES:
        value = found.acting(meaning)
        if isinstance(value, float):
            acting[meaning] = value
    after, by, equalise = found.acting("after"), found.acting("absorbed_by"), found.acting("equalise")
    if after in ("float", "rest", "pulses"):
        acting["after"] = after
    if by in ("time", "adaptive"):
        acting["absorbed_by"] = by
    if equalise in (OFF, ON):
        acting["equalise"] = equalise == ON
    elif found.record.meaning("equalise_v"):
        acting["equalise"] = True  # a line of volts and none to switch it off: it equalises
    return ChargeStages.model_construct(**(charge_acting(design) | acting))


def profile_of(design: Design, solved: Solved, stages: ChargeStages | None = None) -> Profile:
    """The profile the unit is set to: what its sheet ends in, else the battery's own or another chemistry's off the table.

    Args:
        design: the design.
        solved: the design solved.
        stages: its `acting_stages`, where they are at hand.
    """
    battery = design.auxiliary
    name = design.charge.profile or battery.chemistry
    stages = acting_stages(design, solved) if stages is None else stages
    return profile_from(stages, name, battery.nominal_v, battery.capacity_ah, *charge_volts(battery, name))
