"""What can be wrong with the vehicle of the rig: each changes the simulator's own vehicle, or what reaches its unit.

- `Spoilt`: what is off.
- `FAULTS`, `spoilt`: by name, as the diagnosis names them.
- `spoilt_plant`: a vehicle with it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from olvask.core.simulate.plant import Plant

LegName = Literal["supply_out", "supply_device", "supply_back", "delivery_out", "delivery_device", "delivery_back"]
LEG_NAMES: tuple[LegName, ...] = LegName.__args__  # type: ignore[attr-defined]


@dataclass(frozen=True, slots=True)
class Spoilt:
    """What is off in a vehicle.

    Attributes:
        extra_ohm: too many, by leg [Ω].
        spare_share: of what the alternator has left.
        limit_share: of what the unit gives.
        held_share: of the volts that its profile holds.
        enable_share: of the volts at its enable.
        off: whether the unit is switched off.
        start_more_v: by how much its start rules lie too high, per 12 V [V].
        parted: what is open: a device, a run beyond it, a return; empty for nothing.
        low: whether the alternator holds a low phase.
        auxiliary_charge: of the auxiliary battery; `None` as begun.
        drain_ma: drawn besides while parked.
        link_a: through an old link.
        air_k: warmer than it should be at the unit.
        words: what it is, once it is found.
        key: the name the diagnosis has for it; empty for nothing.
    """

    extra_ohm: Mapping[LegName, float] = field(default_factory=dict)
    spare_share: float = 1.0
    limit_share: float = 1.0
    held_share: float = 1.0
    enable_share: float = 1.0
    off: bool = False
    start_more_v: float = 0.0
    parted: Literal["", "supply_device", "supply", "supply_back", "delivery_device", "delivery"] = ""
    low: bool = False
    auxiliary_charge: float | None = None
    drain_ma: float = 0.0
    link_a: float = 0.0
    air_k: float = 0.0
    words: str = "nothing is wrong"
    key: str = ""


def _joint(leg: LegName, ohm: float) -> Spoilt:
    run, part = leg.split("_")
    where = {"out": f"outgoing {run}", "device": f"device of the {run} run", "back": f"return of the {run}"}[part]
    return Spoilt(extra_ohm={leg: ohm}, words=f"{1000 * ohm:g} mΩ too many in the {where}")


FAULTS: Mapping[str, Callable[[], Spoilt]] = {
    "healthy": Spoilt,
    "joint.supply_out": lambda: _joint("supply_out", 0.011),
    "joint.supply_device": lambda: _joint("supply_device", 0.009),
    "joint.supply_back": lambda: _joint("supply_back", 0.012),
    "joint.delivery_out": lambda: _joint("delivery_out", 0.012),
    "joint.delivery_device": lambda: _joint("delivery_device", 0.010),
    "joint.delivery_back": lambda: _joint("delivery_back", 0.012),
    "alternator": lambda: Spoilt(spare_share=0.25, words="the alternator gives a quarter of what it should have left"),
    "limited": lambda: Spoilt(limit_share=0.5, words="its limit is set to half"),
    "too_hot": lambda: Spoilt(limit_share=0.6, air_k=32.0, words="it is held back by its own heat"),
    "wrong_profile": lambda: Spoilt(held_share=0.95, words="it is set to the volts of another battery"),
    "no_enable": lambda: Spoilt(enable_share=0.0, words="nothing arrives at its enable"),
    "unit_off": lambda: Spoilt(off=True, words="the unit is switched off"),
    "thresholds": lambda: Spoilt(start_more_v=1.2, words="its start volts lie above what arrives"),
    "open.supply_device": lambda: Spoilt(parted="supply_device", words="the device of the supply run is open"),
    "open.supply": lambda: Spoilt(parted="supply", words="the supply run is open beyond its device"),
    "open.supply_back": lambda: Spoilt(parted="supply_back", words="the return of the supply is open"),
    "open.delivery_device": lambda: Spoilt(parted="delivery_device", words="the device of the delivery run is open"),
    "open.delivery": lambda: Spoilt(parted="delivery", words="the delivery run is open beyond its device"),
    "low_phase": lambda: Spoilt(low=True, words="the alternator is in a low phase"),
    "full": lambda: Spoilt(auxiliary_charge=0.985, words="the auxiliary battery is nearly full"),
    "drain": lambda: Spoilt(drain_ma=420.0, words="something draws 420 mA while parked"),
    "old_link": lambda: Spoilt(link_a=9.0, words="the old link is still in"),
}


def spoilt_plant(plant: Plant, fault: Spoilt) -> Plant:
    """A vehicle with what is off in it.

    Args:
        plant: as designed.
        fault: what is off.
    """
    made = plant.spoilt(
        supply_ohm=sum(ohm for leg, ohm in fault.extra_ohm.items() if leg.startswith("supply")),
        delivery_ohm=sum(ohm for leg, ohm in fault.extra_ohm.items() if leg.startswith("delivery")),
        limit_share=fault.limit_share,
        drain_a=fault.drain_ma / 1000,
    )
    profile, share = plant.profile, fault.held_share
    made.profile = replace(profile, absorption_v=share * profile.absorption_v, float_v=share * profile.float_v)
    return made


def spoilt(name: str) -> Spoilt:
    """A fault by its name.

    Args:
        name: as in `FAULTS`.

    Raises:
        KeyError: there is no such fault.
    """
    if name not in FAULTS:
        raise KeyError(f"no fault is called {name!r}; there are: {', '.join(FAULTS)}")
    return replace(FAULTS[name](), key=name)
