"""What the quantities of a charge profile may be for a battery, and what a value beyond that does to it.

- `Harm`: a value off its band, with what follows.
- `off_band`: one value against its band.
- `makers_own`: whether a value is what the battery's maker says.
- `said_of`: what it does, in a sentence.
- `harms_of`: a whole profile, of the unit or any other source.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, get_args

from olvask.core.catalogue import charge_limits
from olvask.core.findings.listed import percent
from olvask.core.model import AuxiliaryBattery
from olvask.core.physics.charging import compensated_v

Quantity = Literal[
    "absorption_v", "float_v", "absorption_h", "tail_share", "equalise_v", "compensation_mv_per_k", "cold_c", "hot_c"
]
QUANTITIES: tuple[Quantity, ...] = get_args(Quantity)
SCALED = ("absorption_v", "float_v", "equalise_v", "compensation_mv_per_k")
NAMES: dict[Quantity, str] = {
    "absorption_v": "Absorption",
    "float_v": "Float",
    "absorption_h": "Absorption time",
    "tail_share": "Tail current",
    "equalise_v": "Equalising",
    "compensation_mv_per_k": "Temperature compensation",
    "cold_c": "Cold cut-off",
    "hot_c": "Hot cut-off",
}
Side = Literal["low", "high"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Harm:
    """A value of a profile that is off its band.

    Attributes:
        quantity: which.
        level: stop or caution.
        side: whether it lies below or above.
        text: the value, and what it does, in a sentence.
    """

    quantity: Quantity
    level: Literal["stop", "caution"]
    side: Side
    text: str


def off_band(
    chemistry: str, quantity: Quantity, value: float, nominal_v: int = 12
) -> tuple[Literal["stop", "caution"], Side] | None:
    """How far a value is off, and to which side; `None` where it is right.

    Args:
        chemistry: key of the chemistry table.
        quantity: of the table `charge_limits`.
        value: as set, for the whole battery.
        nominal_v: of the battery [V].
    """
    band = charge_limits()[chemistry, quantity]
    scale = nominal_v / 12 if quantity in SCALED else 1.0
    slack = 1e-9 * max(1.0, abs(value))
    if band.far_high is not None and value > band.far_high * scale + slack:
        return "stop", "high"
    if band.high is not None and value > band.high * scale + slack:
        return "caution", "high"
    if band.far_low is not None and value < band.far_low * scale - slack:
        return "stop", "low"
    if band.low is not None and value < band.low * scale - slack:
        return "caution", "low"
    return None


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """A profile in plain values; what it does not have is `None`.

    Attributes:
        absorption_v, float_v, equalise_v: held volts at 25 °C [V]; no float where it rests, no equalising where off.
        absorption_h: longest absorption [h].
        tail_a: its end [A]; `None` where no tail ends it.
        compensation_mv_per_k: of the whole battery [mV/K].
        cold_c, hot_c: where the source stops [°C].
    """

    absorption_v: float
    float_v: float | None
    equalise_v: float | None = None
    absorption_h: float | None = None
    tail_a: float | None = None
    compensation_mv_per_k: float | None = None
    cold_c: float | None = None
    hot_c: float | None = None

    def values(self, capacity_ah: float) -> Iterator[tuple[Quantity, float]]:
        """Each quantity it has with its value."""
        shares = None if not self.tail_a else self.tail_a / capacity_ah
        for quantity, value in (
            ("absorption_v", self.absorption_v),
            ("float_v", self.float_v),
            ("absorption_h", self.absorption_h),
            ("tail_share", shares),
            ("equalise_v", self.equalise_v),
            ("compensation_mv_per_k", self.compensation_mv_per_k),
            ("cold_c", self.cold_c),
            ("hot_c", self.hot_c),
        ):
            if value is not None:
                yield quantity, value  # type: ignore[misc]  # the names are those of the type


def harms_of(battery: AuxiliaryBattery, held: Held) -> tuple[Harm, ...]:
    """Everything of a profile that is off its band for a battery, the gravest first.

    Args:
        battery: what it charges.
        held: the profile.
    """
    found = [*_off(battery, held)]
    return tuple(sorted(found, key=lambda harm: harm.level != "stop"))


def _off(battery: AuxiliaryBattery, held: Held) -> Iterator[Harm]:
    for quantity, value in held.values(battery.capacity_ah):
        off = off_band(battery.chemistry, quantity, value, battery.nominal_v)
        if off is not None and not makers_own(battery, quantity, value):
            level, side = off
            yield Harm(quantity=quantity, level=level, side=side, text=said_of(battery, held, quantity, value, side))
    management = battery.management
    high_v = management.high_disconnect_v if management is not None else None
    peak_v = max(held.absorption_v, held.equalise_v or 0.0)
    if high_v is not None and peak_v >= high_v:
        text = f"{peak_v:.2f} V reaches the {high_v:.2f} V at which the battery's management opens."
        yield Harm(quantity="absorption_v", level="stop", side="high", text=text)


def makers_own(battery: AuxiliaryBattery, quantity: Quantity, value: float) -> bool:
    """Whether a value is what the battery's maker says: theirs outranks ours."""
    said = {"absorption_v": battery.absorption_v, "float_v": battery.float_v}.get(quantity)
    return said is not None and abs(said - value) < 0.051 * battery.nominal_v / 12


def said_of(battery: AuxiliaryBattery, held: Held, quantity: Quantity, value: float, side: Side) -> str:
    """A value off its band and what it does, in a sentence that may follow a name.

    Args:
        battery: what is charged.
        held: the profile it belongs to.
        quantity: which.
        value: as set.
        side: to which side it is off.
    """
    lead = battery.chemistry != "lfp"
    if quantity == "compensation_mv_per_k":
        cold_c = -10.0 if battery.temperature_min_c is None else battery.temperature_min_c
        there_v = compensated_v(held.absorption_v, value, cold_c)
        if side == "low":
            return f"{value:.0f} mV/K takes absorption to {there_v:.2f} V at {cold_c:.0f} °C."
        return f"{value:.0f} mV/K: at {cold_c:.0f} °C it still holds {there_v:.2f} V, too little for a cold lead battery, and too much for a hot one."
    told: dict[tuple[Quantity, Side], str] = {
        ("absorption_v", "high"): f"{value:.2f} V "
        + ("gasses and dries it out." if lead else "drives cells into their cut-off."),
        ("absorption_v", "low"): f"{value:.2f} V never gets it full" + ("; lead sulphates." if lead else "."),
        ("float_v", "high"): f"{value:.2f} V held for days "
        + ("dries it out and corrodes its plates." if lead else "ages it fast."),
        ("float_v", "low"): f"{value:.2f} V does not hold a full one"
        + (" against its own losses." if lead else "; it sinks to what that holds."),
        ("absorption_h", "high"): f"{value:.1f} h at absorption volts "
        + ("gasses it for nothing." if lead else "keep it full, and lithium kept full ages."),
        ("absorption_h", "low"): f"{value:.1f} h of absorption leave lead short of full every time.",
        ("tail_share", "high"): f"ending at {percent(value)} of its capacity cuts the charge short.",
        (
            "tail_share",
            "low",
        ): f"{percent(value, 1)} of its capacity is hardly ever reached: only the clock ends absorption.",
        ("equalise_v", "high"): f"{value:.2f} V: "
        + ("no equalising on gel or lithium, ever." if battery.chemistry in ("gel", "lfp") else "more than it stands."),
        ("equalise_v", "low"): f"{value:.2f} V is no more than absorption: it equalises nothing.",
        ("cold_c", "high"): f"below {value:.0f} °C nothing charges: most of a winter.",
        ("cold_c", "low"): f"down to {value:.0f} °C it charges lithium that must not be charged in frost.",
        ("hot_c", "high"): f"up to {value:.0f} °C it charges a battery that is hotter than its maker allows.",
        ("hot_c", "low"): f"above {value:.0f} °C nothing charges: a summer's day is enough.",
    }
    return told[quantity, side]
