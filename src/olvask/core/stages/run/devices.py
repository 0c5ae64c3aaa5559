"""Which standard device suits a place: by rating, cable, volts, short circuit and trade.

- `least_rating_a`: what it must at least be rated.
- `suitable_device`: the device that fits.
- `small_fuse`: the one of a thin lead.
- `standing_devices`: those that stand a system's volts and break a short circuit.
"""

from __future__ import annotations

from functools import lru_cache

from olvask.core.catalogue import Device, NoStandardSize, device, devices
from olvask.core.physics.rounding import under

INDUSTRIAL = frozenset({"nh", "cartridge"})  # of the switchboard and the solar trade
SYSTEM_MAX_V = {12: 16.0, 24: 32.0, 48: 60.0}
CONTINUOUS_FACTOR = 1.25  # a device over its continuous current; the ampacity lies above the device


@lru_cache(maxsize=512)
def standing_devices(nominal_v: int, short_a: float) -> tuple[Device, ...]:
    """Devices that stand a system's volts [V nominal] and break a short circuit [A]."""
    return tuple(
        item
        for item in devices()
        if item.voltage_v >= SYSTEM_MAX_V[nominal_v] and item.interrupt_a(nominal_v) >= short_a
    )


def least_rating_a(amps: float, lingering_a: float = 0.0) -> float:
    """Least rating of a device [A]: 1.25 times the continuous current, and what can linger.

    Args:
        amps: continuous current [A].
        lingering_a: current at the lowest voltage the unit can linger at [A].
    """
    return max(CONTINUOUS_FACTOR * amps, lingering_a)


def suitable_device(least_a: float, ceiling_a: float, nominal_v: int, short_a: float, school: str = "fuse") -> Device:
    """Device for a place: of what is usual there the smallest rating, then the lowest price.

    Args:
        least_a: least rating [A], as `least_rating_a` has it.
        ceiling_a: ampacity of the smallest cable behind it [A].
        nominal_v: system voltage, nominal [V].
        short_a: prospective short-circuit current there [A].
        school: "breaker" wants a resettable device where one breaks that short circuit; the others a fuse.

    Raises:
        NoStandardSize: no standard device lies between the least rating and the ceiling and
            stands the voltage and the short circuit.
    """
    fitting = [
        item
        for item in standing_devices(nominal_v, short_a)
        if not under(item.rating_a, least_a) and item.rating_a <= ceiling_a
    ]
    if not fitting:
        raise NoStandardSize(
            f"no device between {least_a:.1f} A and {ceiling_a:.1f} A for {nominal_v} V and "
            f"{short_a:.0f} A short circuit"
        )
    wanted = [item for item in fitting if item.resettable == (school == "breaker")]
    # Industrial cartridges last: they are no vehicle's usual part.
    return min(wanted or fitting, key=lambda item: (item.family in INDUSTRIAL, item.rating_a, item.price))


def small_fuse(rating_a: float, nominal_v: int, short_a: float) -> Device:
    """Fuse of a thin lead: a blade where one stands the volts and breaks the short circuit, else a cartridge.

    Args:
        rating_a: a rating that both have [A].
        nominal_v: system voltage, nominal [V].
        short_a: prospective short-circuit current there [A].
    """
    stands = device("blade", rating_a) in standing_devices(nominal_v, short_a)
    return device("blade" if stands else "cartridge", rating_a)


def device_value(item: Device, id: str) -> dict[str, object]:
    """A device as plain data of a design, under an identity."""
    return {"kind": "device", "id": id, "family": item.family, "rating_a": item.rating_a}
