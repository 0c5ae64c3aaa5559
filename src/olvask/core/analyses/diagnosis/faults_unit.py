"""Faults of the unit and of the battery it charges, while current flows.

- `unit_faults`, `battery_faults`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.analyses.diagnosis.fault import Change, Fault
from olvask.core.analyses.diagnosis.often import ANY_SHARE, ANY_V, WEAK
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import floats_at
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.prove.unknowns import constants_of, set_to_a, unknowns_of


def unit_faults(ctx: Context) -> Iterator[Fault]:
    """What is set wrong, too hot, or ends early."""
    known = constants_of(ctx)
    shares = (0.35, 0.5, 0.65, 0.8)
    unit = ctx.design.charger
    read = unit is not None and unit.current_limit != "none"
    limit_a = set_to_a(ctx)
    if read:
        yield Fault(
            "limited",
            "current limit set lower than designed",
            "Set it as the sheet says, and read it back.",
            0.04,
            tuple((Change("limit_a", share, 0.0), Change("read_limit_a", 0.0, share * limit_a)) for share in shares),
            told=WEAK,
        )
    yield Fault(
        "too_hot",
        "held back by its own heat",
        "Give it air: openings, distance, a fan; see Mounting.",
        0.04,
        tuple(
            (Change("limit_a", share, 0.0), Change("air_c", 1.0, more))
            for share, more in ((0.4, 40.0), (0.6, 30.0), (0.8, 22.0))
        ),
        told={"weak": 0.6, "hot": 0.7},
        reasons=("hot",),
    )
    if ctx.design.units > 1:
        count = ctx.design.units
        yield Fault(
            "one_unit",
            "one of the units does not work",
            "Clamp each unit's own lead; go on with the one that gives nothing.",
            0.04,
            tuple((Change("limit_a", left / count, 0.0),) for left in range(1, count)),
            told=WEAK,
        )
    twelve = known.auxiliary_scale
    yield Fault(
        "wrong_profile",
        "wrong charge volts set",
        "Key the sheet in again, and read it back.",
        0.05,
        (
            *(
                (Change("set_v", 0.0, volts, ANY_V * twelve), Change("read_set_v", 0.0, volts, ANY_V * twelve))
                for volts in _holding_back(ctx)
            ),
            *(
                (Change("set_v", 1.0, volts * twelve), Change("read_set_v", 1.0, volts * twelve))
                for volts in (-0.6, -0.3, 0.3, 0.6)
            ),
        ),
        looks={"monitor_full": 0.5, "follows": 0.6},
        told={"weak": 0.5, "hot": 0.2},
    )
    yield Fault(
        "taper",
        "it ends early: it senses other volts than the battery has",
        "Its sense leads, their fuse and where they end; without them, the delivery run.",
        0.03,
        tuple((Change("set_v", 0.0, volts, ANY_V * twelve),) for volts in _holding_back(ctx)),
        looks={"monitor_full": 0.4, "follows": 0.08},
        told=WEAK,
    )
    yield Fault(
        "role_supply",
        "set to act as a plain supply",
        "Set its role to charge, and read it back.",
        0.03,
        tuple((Change("set_v", 0.0, volts, ANY_V * twelve),) for volts in _holding_back(ctx)),
        looks={"state_read": (0.04, 0.01, 0.95), "monitor_full": 0.3, "follows": 0.08},
        told=WEAK,
    )
    yield Fault(
        "reset",
        "a reset lost its settings",
        "Key the sheet in again, and change its access code.",
        0.03,
        tuple(
            (
                Change("read_set_v", 1.0, volts * twelve, ANY_V * twelve),
                Change("set_v", 1.0, volts * twelve, ANY_V * twelve),
                *(
                    [Change("read_start_v", 1.0, start * known.scale, ANY_V * known.scale)]
                    if "voltage" in ctx.design.activation.ways
                    else []
                ),
                *(
                    [
                        Change("read_limit_a", 0.0, share * limit_a, ANY_SHARE * limit_a),
                        Change("limit_a", share, 0.0, ANY_SHARE * limit_a),
                    ]
                    if read
                    else []
                ),
            )
            for volts, start, share in ((-0.4, 0.4, 1.2), (0.2, -0.4, 1.4), (0.4, 0.6, 0.7))
        ),
        looks={"state_read": (0.6, 0.05, 0.35)},
        told={"was_fine": 0.8, "weak": 0.3, "starts_stops": 0.3},
    )


def _holding_back(ctx: Context) -> tuple[float, ...]:
    """Charge volts at which a unit gives a tenth, a third or two thirds of its current to a battery as it is likely to be [V]."""
    value = {item.name: item.mean for item in unknowns_of(ctx)}
    ohm = value["auxiliary_ohm"] + value["delivery_out"] + value["delivery_device"] + value["delivery_back"]
    return tuple(value["emf_v"] + share * value["limit_a"] * ohm for share in (0.1, 0.35, 0.7))


def battery_faults(ctx: Context) -> Iterator[Fault]:
    """What the battery itself does."""
    known = constants_of(ctx)
    twelve, set_v = known.auxiliary_scale, float(ctx.facts.absorption.value)
    float_v = floats_at(ctx.design)
    auxiliary = ctx.design.auxiliary
    rest_v = open_circuit_v(auxiliary.chemistry, 0.95, auxiliary.nominal_v)
    rested = Change("rest_auxiliary_v", 0.0, rest_v, 0.1 * twelve)
    cure = "Nothing: load it until it is three quarters full, and measure again."
    yield Fault(
        "full",
        "auxiliary battery nearly full",
        cure,
        0.06,
        tuple((Change("emf_v", 1.0, set_v - volts, ANY_V * twelve / 2), rested) for volts in _holding_back(ctx)),
        looks={"follows": 0.08},
        told={"weak": 0.7},
    )
    yield Fault(
        "floating",
        "auxiliary battery full: it is only kept so",
        cure,
        0.015,
        (
            (
                Change("set_v", 0.0, float_v, 0.05 * twelve),
                Change("emf_v", 0.0, float_v - 0.03 * twelve, 0.03 * twelve),
                rested,
            ),
        ),
        looks={"follows": 0.08},
        told={"weak": 0.5},
    )
    yield Fault(
        "tired_auxiliary",
        "tired auxiliary battery",
        "A load test by itself; replace it if it falls again.",
        0.04,
        tuple(
            (
                Change("auxiliary_ohm", times, 0.0),
                Change("fall_auxiliary_v", 1.0, fall * twelve),
                Change("rest_auxiliary_v", 1.0, -0.5 * fall * twelve),
            )
            for times, fall in ((2.0, 0.35), (4.0, 0.7), (7.0, 1.4))
        ),
        looks={"monitor_full": 0.7, "follows": 0.3},
        told={"weak": 0.5, "flat": 0.7, "was_fine": 0.2},
    )
