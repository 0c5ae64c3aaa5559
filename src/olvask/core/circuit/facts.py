"""Survey values a judge may use: defaults filled in, each with where it came from.

- `Facts`, `gather`: all of them.
- `fact`: one of them.
- `charge_volts`: what something set for a chemistry holds.
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Final

from olvask.core.catalogue import chemistries, regulations
from olvask.core.circuit.mounted import air_of
from olvask.core.findings.figure import Input
from olvask.core.model import AuxiliaryBattery, Design
from olvask.core.model.base import word_of
from olvask.core.model.driven import driven
from olvask.core.model.vehicle import driving_a, standing_ah
from olvask.core.physics.battery import open_circuit_v

LIFTED_V = {
    "solar": 13.8,
    "maintainer": 13.4,
    "other": 13.4,
}  # per 12 V, when not measured; our own estimate: usual float volts
STANDING_DRAIN_MA: Final = 30.0  # our own estimate: clock, alarm and locks of a working vehicle
SURFACE_CHARGE_V: Final = 0.1  # our own estimate for the first minutes after stopping
SAG_MOHM: Final = 3.0  # our own estimate: regulator droop and the alternator's own lead, per 12 V
HOT_IDLE_SHARE: Final = 0.5  # our own estimate: an alternator gives about half its rating at hot idle
CRUISE_SHARE: Final = 0.9  # our own estimate: hot windings cost a tenth of the rating
RESUMES_AT: Final = 0.8  # of charge; our own estimate: a fifth used is worth a new charge
# Air by place, our own estimates for a summer's day.
PLACE_C = {"cabin": 30.0, "cupboard": 45.0, "under_floor": 40.0, "engine_bay": 70.0}


@dataclass(frozen=True, slots=True)
class Facts:
    """Survey values a rule may use, defaults filled in, each with its provenance."""

    rest: Input
    after_stop: Input
    full: Input | None  # of lithium
    idle: Input
    cruise: Input
    low: Input | None
    sag: Input
    share: Input
    charge_limit: Input
    absorption: Input
    unit_ambient: Input
    margin: Input
    lifted: Input | None
    daily: Input | None
    loads_driving: Input
    standing_drain: Input
    scale: float

    @property
    def rest_high_v(self) -> float:
        """Highest engine-off voltage [V]: rested, just after stopping, lifted, or of lithium that a drive has filled."""
        seen = (self.rest, self.after_stop, self.full, self.lifted)
        return max(float(item.value) for item in seen if item is not None)

    @property
    def settled_v(self) -> float:
        """Engine-off voltage [V] once the surface charge has leaked away: rested, lifted, or of full lithium."""
        return max(float(item.value) for item in (self.rest, self.full, self.lifted) if item is not None)

    def by_path(self) -> dict[str, Input]:
        """Each value under its path in the design."""
        known = (getattr(self, name) for name in VALUES)
        return {item.path: item for item in known if item is not None and item.path}


VALUES = tuple(item.name for item in fields(Facts) if item.name != "scale")


def fact(design: Design, path: str, label: str, unit: str, value: float | None, default: float) -> Input:
    """A survey value with its provenance: as recorded, "entered" where typed without one, or a default.

    Args:
        design: for its provenance record.
        path: dotted path of the value.
        label: what it is.
        unit: unit symbol.
        value: as described, `None` when absent.
        default: stands in for an absent value.
    """
    if value is None:
        return Input(label, default, unit, "default", path)
    return Input(label, value, unit, str(design.provenance.get(path, "entered")), path)


def charge_volts(battery: AuxiliaryBattery, set_for: str | None = None) -> tuple[float, float]:
    """Absorption and float that something set for a chemistry holds [V]: the battery maker's where it is the battery's own.

    Args:
        battery: what is charged.
        set_for: key of the chemistry table; `None` for the battery's own.
    """
    name = set_for or battery.chemistry
    usual, scale = chemistries()[name], battery.nominal_v / 12
    absorption_v, float_v = usual.absorption_v * scale, usual.float_v * scale
    if name != battery.chemistry:
        return absorption_v, float_v
    return (
        absorption_v if battery.absorption_v is None else battery.absorption_v,
        float_v if battery.float_v is None else battery.float_v,
    )


def least_charging_c(battery: AuxiliaryBattery) -> float:
    """Coldest at which a battery may be charged: its maker's figure, else its chemistry's usual [°C]."""
    return chemistries()[battery.chemistry].charge_min_c if battery.charge_min_c is None else battery.charge_min_c


def resumes_v(set_for: str, nominal_v: int, rests: bool) -> float:
    """Volts under which what is set for a chemistry begins a charge anew, where nothing is said of it [V].

    The usual of the chemistry; a flooded battery's stands over what it rests at when full, so what rests on one would never.

    Args:
        set_for: key of the chemistry table.
        nominal_v: of the battery [V].
        rests: gives nothing after absorption, instead of holding float.
    """
    volts = chemistries()[set_for].rebulk_v * nominal_v / 12
    if rests and volts >= open_circuit_v(set_for, 1.0, nominal_v):
        return round(open_circuit_v(set_for, RESUMES_AT, nominal_v), 2)
    return volts


def gather(design: Design) -> Facts:
    """Fill in defaults for what the survey left open."""
    vehicle, readings, auxiliary = design.vehicle, design.vehicle.readings, design.auxiliary
    alternator, scale = vehicle.alternator, vehicle.system_v / 12
    hybrid = vehicle.drive == "converter"
    band = regulations()["converter" if hybrid else alternator.regulation]
    chemistry = chemistries()[auxiliary.chemistry]
    full_v = open_circuit_v(vehicle.start_battery.chemistry, 1.0, vehicle.system_v)

    def reading(key: str, label: str, value: float | None, default: float) -> Input:
        return fact(design, f"vehicle.readings.{key}", driven(label) if hybrid else label, "V", value, default)

    rest = reading("rest_v", "Engine off, rested", readings.rest_v, full_v)
    surface_v = float(rest.value) + SURFACE_CHARGE_V * scale
    low = None
    if vehicle.low_phased:
        low = reading("low_phase_v", "Low phase", readings.low_phase_v, band.low_phase_v * scale)
    limit_a, absorption = chemistry.charge_c_rate * auxiliary.capacity_ah, _absorption(design)
    share, idle_share = alternator.hot_idle_share, 1.0 if hybrid else HOT_IDLE_SHARE
    share_label = "Share left standing ready" if hybrid else "Share left at hot idle"
    sag, drain = alternator.sag_mohm, vehicle.standing_drain_ma
    margin = design.choices.margin_v
    return Facts(
        rest=rest,
        after_stop=reading("after_stop_v", "Just after stopping", readings.after_stop_v, surface_v),
        full=_full(vehicle.start_battery.chemistry, full_v),
        idle=reading("idle_v", "Hot idle, charger idle", readings.idle_v, band.idle_v * scale),
        cruise=reading("cruise_v", "Cruise, charger idle", readings.cruise_v, band.cruise_v * scale),
        low=low,
        sag=fact(design, "vehicle.alternator.sag_mohm", "Source resistance", "mΩ", sag, SAG_MOHM * scale),
        share=fact(design, "vehicle.alternator.hot_idle_share", share_label, "share", share, idle_share),
        charge_limit=fact(
            design, "auxiliary.charge_limit_a", "Battery's charge limit", "A", auxiliary.charge_limit_a, limit_a
        ),
        absorption=absorption,
        unit_ambient=_unit_air(design, float(absorption.value)),
        lifted=_lifted(design, scale),
        daily=_daily(design),
        loads_driving=_loads_driving(design),
        standing_drain=fact(design, "vehicle.standing_drain_ma", "Standing drain", "mA", drain, STANDING_DRAIN_MA),
        margin=fact(design, "choices.margin_v", "Threshold margin", "V", margin, 0.15 * scale),
        scale=scale,
    )


def _full(chemistry: str, full_v: float) -> Input | None:
    """What a full start battery of lithium rests at [V]: its last fifth lifts it as a panel lifts lead, whatever it was found at."""
    return Input("Full, rested", full_v, "V", "computed", "") if chemistry == "lfp" else None


def room_c(design: Design) -> float:
    """Air outside the place that closes the unit in [°C]: as typed, else the usual one; a cupboard stands in a cabin."""
    mount = design.mount
    if mount.room_c is not None:
        return mount.room_c
    return PLACE_C["cabin" if mount.place == "cupboard" else mount.place]


def set_for_another(design: Design) -> bool:
    """Whether the unit is set for another chemistry's profile, to which this battery's own volts are nothing."""
    return design.charge.profile not in (None, design.auxiliary.chemistry)


def floats_at(design: Design) -> float:
    """Volts the unit floats at [V]: as it is told, else its profile's; of the battery's own profile what its maker says."""
    charge = design.charge
    return charge_volts(design.auxiliary, charge.profile)[1] if charge.float_v is None else charge.float_v


def _absorption(design: Design) -> Input:
    """Volts the unit absorbs at [V]: as it is told, else its profile's; of the battery's own profile what its maker says."""
    battery, charge = design.auxiliary, design.charge
    volts, _ = charge_volts(battery, charge.profile)
    if charge.absorption_v is not None:
        return fact(design, "charge.absorption_v", "Absorb at", "V", charge.absorption_v, volts)
    if set_for_another(design):
        return fact(design, "charge.profile", "Absorption of the unit's profile", "V", volts, volts)
    return fact(design, "auxiliary.absorption_v", "Absorption", "V", battery.absorption_v, volts)


def _unit_air(design: Design, charged_v: float) -> Input:
    """Air at the unit [°C]: as measured; closed in, by its own heat; in an open room that; else the usual of its place."""
    mount = design.mount
    if mount.ambient_c is None and mount.around in ("vents", "shut") and design.charger is not None:
        return Input(
            "Air at the unit, closed in", air_of(design, room_c(design), charged_v), "°C", "computed", "mount.ambient_c"
        )
    usual_c = room_c(design) if mount.around == "open" else PLACE_C[mount.place]
    return fact(design, "mount.ambient_c", "Air at the unit", "°C", mount.ambient_c, usual_c)


def _lifted(design: Design, scale: float) -> Input | None:
    """Highest engine-off voltage that a panel or a maintainer gives the start battery."""
    lifted = [
        fact(
            design,
            f"vehicle.lifters.{item.id}.lifts_to_v",
            f"Lifted by {word_of(item, 'kind')}",
            "V",
            item.lifts_to_v,
            LIFTED_V[item.kind] * scale,
        )
        for item in design.vehicle.lifters
    ]
    lifted += [
        Input(
            f"Lifted by {item.name or 'maintainer'}",
            LIFTED_V["maintainer"] * scale,
            "V",
            "default",
            f"existing.{item.id}",
        )
        for item in design.still_fed
        if item.kind == "maintainer"
    ]
    if design.solar.panel_w is not None and design.solar.into == "start_side" and not lifted:
        lifted.append(Input("Lifted by solar", LIFTED_V["solar"] * scale, "V", "default", "solar.into"))
    return max(lifted, key=lambda item: float(item.value), default=None)


def _daily(design: Design) -> Input | None:
    """Daily use standing [Ah]: as given, else what the loads add up to."""
    use = design.use
    if use.daily_ah is not None:
        return fact(design, "use.daily_ah", "Daily use, standing", "Ah", use.daily_ah, 0.0)
    if not use.loads:
        return None
    return Input(
        "Daily use, from the loads",
        standing_ah(use.loads, design.auxiliary.nominal_v),
        "Ah",
        "computed",
        "use.daily_ah",
    )


def _loads_driving(design: Design) -> Input:
    """Loads on the auxiliary battery while driving [A]."""
    use = design.use
    summed_a = driving_a(use.loads, design.auxiliary.nominal_v)
    if use.loads_driving_a is None and use.loads:
        return Input("Loads while driving, from the loads", summed_a, "A", "computed", "use.loads_driving_a")
    return fact(design, "use.loads_driving_a", "Loads while driving", "A", use.loads_driving_a, 0.0)
