"""How something is set to charge: the stages of its profile, and how it goes about them.

- `ChargeStages`: what is absent is the usual of the chemistry it is set for.
- `ChargeSettings`: of the unit.
- `Sourced`: of any other charger, with what of its making decides how it charges.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from olvask.core.model.base import Described, choice, quantity, tick, whole
from olvask.core.model.chemistry import CHEMISTRIES, ChemistryName
from olvask.core.model.settings import SettingsRecord

AbsorbedBy = Literal["time", "adaptive"]
After = Literal["float", "rest", "pulses"]
Said = Literal["", "yes", "no"]
SAID: dict[Said, str] = {"": "not known", "yes": "yes", "no": "no"}
ABSORBED_BY: dict[AbsorbedBy | None, str] = {
    None: "as is usual for it",
    "time": "its time",
    "adaptive": "how long bulk took",
}
AFTER: dict[After | None, str] = {
    None: "as is usual for it",
    "float": "float",
    "rest": "rest until it starts again",
    "pulses": "rest, with five minutes of pulse an hour",
}


class ChargeStages(Described):
    """The stages of a charge; volts are for the whole battery, at the terminals where they are sensed."""

    absorption_v: float | None = quantity("Absorb at", "V", default=None, gt=0, le=80, example=14.2, step=0.1)
    absorption_h: float | None = quantity("Absorb for", "h", default=None, ge=0, le=24, example=2, step=0.25)
    absorbed_by: AbsorbedBy | None = choice("Absorption ends by", ABSORBED_BY, default=None)
    tail_a: float | None = quantity(
        "Ends at tail current", "A", default=None, ge=0, le=500, example=4, step=0.5, help="0 where no tail ends it."
    )
    after: After | None = choice("After absorption", AFTER, default=None)
    float_v: float | None = quantity("Float or store at", "V", default=None, gt=0, le=80, example=13.5, step=0.1)
    rebulk_v: float | None = quantity("Starts again below", "V", default=None, gt=0, le=80, example=13.2, step=0.1)
    bulk_h: float | None = quantity("Longest bulk", "h", default=None, gt=0, le=240, example=10, step=1)
    equalise: bool = tick("Equalises", help="A raised voltage by the calendar; for flooded batteries alone.")
    equalise_v: float | None = quantity("Equalise at", "V", default=None, gt=0, le=80, example=15.5, step=0.1)
    equalise_days: int = whole("Equalise every", "days", default=30, ge=1, le=365, example=30)
    compensation_mv_per_k: float | None = quantity(
        "Temperature compensation",
        "mV/K",
        default=None,
        ge=-400,
        le=0,
        example=-24,
        step=1,
        help="Of the whole battery's volts, from 25 °C; 0 for none.",
    )
    cold_c: float | None = quantity("Stops charging below", "°C", default=None, ge=-50, le=40, example=3, step=1)
    hot_c: float | None = quantity("Stops charging above", "°C", default=None, ge=20, le=90, example=50, step=1)

    @model_validator(mode="after")
    def _temperatures_in_order(self) -> ChargeStages:
        if self.cold_c is not None and self.hot_c is not None and self.cold_c >= self.hot_c:
            raise ValueError("it must stop below a lower temperature than above; swap the two")
        return self


class ChargeSettings(ChargeStages):
    """How the unit is set to charge; what is absent is the battery's own."""

    profile: ChemistryName | None = choice("Unit's profile", {None: "the battery's own"} | CHEMISTRIES, default=None)


class Sourced(ChargeStages):
    """The profile of another charger, and what of its making decides how it charges."""

    senses: Literal["itself", "battery"] = choice(
        "Senses volts at", {"itself": "its own terminals", "battery": "the battery, by a wire"}, default="itself"
    )
    wakes: Said = choice(
        "Wakes a sleeping battery",
        SAID,
        default="",
        help="Whether it puts volts on posts that show none; most lead chargers take that for a fault.",
    )
    back_off_v: float | None = quantity(
        "Backs off from",
        "V",
        default=None,
        gt=0,
        le=80,
        example=13.4,
        step=0.1,
        help="Volts from which it lets its current fall, to nothing where it absorbs.",
    )
    rated_at_v: float | None = quantity(
        "Its current holds up to",
        "V",
        default=None,
        gt=0,
        le=80,
        example=12.5,
        step=0.1,
        help="Above these volts it gives no more power, so its current falls.",
    )
    rated_ambient_c: float = quantity("Full current up to", "°C", default=40.0, ge=-20, le=100, example=40)
    derating_percent_per_k: float = quantity("Loses above it", "%/K", default=2.5, ge=0, le=100, example=2.5)
    adjustable: Said = choice("Can be set", SAID, default="", help="Whether its profile can be changed.")
    settings: SettingsRecord | None = Field(None, title="Settings record")
