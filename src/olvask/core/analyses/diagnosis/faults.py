"""The faults that are tried, each over its plausible sizes in this design.

- `faults_of`: those a design can have; healthy is the first.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.analyses.diagnosis.fault import Change, Fault, Symptom
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import charge_volts
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.prove.tests_running import WIRED
from olvask.core.stages.prove.unknowns import Name, constants_of, device_of, unknowns_of

ANY_V, ANY_SHARE = 0.25, 0.15  # a value that is nobody's choice lies anywhere thereabouts; our own estimates
JOINT_OHM = (0.001, 0.002, 0.004, 0.008, 0.016, 0.032, 0.06)
WEAK: dict[Symptom, float] = {"weak": 0.8, "flat": 0.3, "was_fine": 0.4}
DEAD: dict[Symptom, float] = {"does_nothing": 0.9, "flat": 0.4, "was_fine": 0.4}
STILL = {"toggled": 0.03, "rides_low": 0.2, "restarts": 0.1, "monitor_full": 0.3}
PLACES: tuple[tuple[Name, str], ...] = (
    ("supply_out", "outgoing supply"),
    ("supply_device", "device of the supply run or its ends"),
    ("supply_back", "return of the supply"),
    ("delivery_out", "outgoing delivery"),
    ("delivery_device", "device of the delivery run or its ends"),
    ("delivery_back", "return of the delivery"),
)


def faults_of(ctx: Context) -> tuple[Fault, ...]:
    """Every fault that this design can have.

    Args:
        ctx: the design solved.
    """
    return (
        Fault("healthy", "nothing is wrong", "", 0.3, told={"weak": 0.1, "flat": 0.1}),
        *_joints(ctx),
        *_source(ctx),
        *_unit(ctx),
        *_asleep(ctx),
        *_open(ctx),
        *_battery(ctx),
        *_beside(ctx),
    )


def _joints(ctx: Context) -> Iterator[Fault]:
    hot: dict[Symptom, float] = {"weak": 0.5, "hot": 0.4, "starts_stops": 0.2, "was_fine": 0.4}
    for name, words in PLACES:
        if name.endswith("device") and device_of(ctx, "supply" if name.startswith("supply") else "delivery") is None:
            continue
        yield Fault(
            f"joint.{name}",
            f"bad joint in the {words}" if not name.endswith("device") else f"bad contact at the {words}",
            "Measure across each joint there under load; make the one that drops anew.",
            0.045,
            tuple((Change(name, 1.0, ohm),) for ohm in JOINT_OHM),
            looks={"hand_warm": 0.45, "follows": 0.75 if name.startswith("delivery") else 0.96},
            told=hot,
            reasons=("input_low",) if name.startswith("supply") else (),
        )
    for run in ("supply", "delivery"):
        out, back = ("supply_out", "supply_back") if run == "supply" else ("delivery_out", "delivery_back")
        own = ctx.design.run("supply" if run == "supply" else "delivery").back.kind == "cable"
        legs: tuple[Name, ...] = (out, back) if own else (out,)  # type: ignore[assignment]  # names of the list
        yield Fault(
            f"thin.{run}",
            f"{run} cable thinner than thought, or copper-clad",
            "Measure the cable's diameter and look at its strands; lay what the design says.",
            0.03,
            tuple(tuple(Change(name, share, 0.0) for name in legs) for share in (1.35, 1.6, 2.2, 3.2)),
            looks={"hand_warm": 0.8, "follows": 0.85 if run == "delivery" else 0.96},
            told=WEAK,
            reasons=("input_low",) if run == "supply" else (),
            apart="The print on the cable, and its diameter.",
        )


def _source(ctx: Context) -> Iterator[Fault]:
    known = constants_of(ctx)
    drawn = ctx.solved.running[0].drawn
    amps = (drawn.current_a if drawn is not None else known.full_a) + known.extra_source_a
    spare_a = ctx.solved.running[0].source.available_a or 0.0
    weak = tuple(
        (Change("spare_a", 0.0, share * min(amps, max(spare_a, 0.1 * amps))),) for share in (0.05, 0.3, 0.6, 0.85)
    )
    held = tuple((Change("regulated_v", 1.0, -volts * known.scale),) for volts in (0.5, 1.0))
    yield Fault(
        "alternator",
        "weak alternator",
        "Its own output, by a clamp on its lead at raised idle; then its diodes and regulator.",
        0.04,
        weak,
        looks={"belt_quiet": 0.92, "lamps_lift": 0.05},
        told={"weak": 0.4, "flat": 0.4, "starts_stops": 0.4, "was_fine": 0.3},
        reasons=("input_low",),
        apart="The belt's tension and glaze; a clamp on the alternator's lead.",
    )
    yield Fault(
        "regulator",
        "the alternator's regulator holds too few volts",
        "Volts at its own stud at raised idle, lamps on; then the regulator and its sense lead.",
        0.03,
        held,
        looks={"lamps_lift": 0.05},
        told={"weak": 0.4, "flat": 0.4, "starts_stops": 0.3, "was_fine": 0.3},
        reasons=("input_low",),
        apart="Lamps on: a low phase ends, a regulator stays.",
    )
    yield Fault(
        "belt",
        "belt that slips",
        "Tension it, or change it, as the vehicle's maker says.",
        0.03,
        weak,
        looks={"belt_quiet": 0.1, "lamps_lift": 0.05},
        told={"weak": 0.4, "flat": 0.3, "starts_stops": 0.5, "was_fine": 0.4},
        reasons=("input_low",),
        apart="A squeal or a shine on the belt when lamps and blower go on.",
    )
    if ctx.facts.low is not None:
        low_v = float(ctx.facts.low.value)
        yield Fault(
            "low_phase",
            "the alternator is in a low phase",
            "Nothing is broken: lamps on for the test; thresholds that ride through it, or an enable of its own.",
            0.05,
            ((Change("regulated_v", 0.0, low_v),), (Change("regulated_v", 0.0, low_v + 0.3 * known.scale),)),
            looks={"lamps_lift": 0.92, "rides_low": 0.7},
            told={"starts_stops": 0.5, "weak": 0.3},
            reasons=("input_low",),
            apart="Lamps on: a low phase ends.",
        )
    yield Fault(
        "tired_start",
        "tired start battery",
        "Test it by itself, charge it, and replace it if it falls again.",
        0.04,
        tuple(
            (
                Change("rest_start_v", 1.0, -0.25 * much * known.scale),
                Change("fall_start_v", 1.0, 0.45 * much * known.scale),
            )
            for much in (1.0, 1.8, 3.0)
        ),
        told={"flat": 0.7},
    )
    yield Fault(
        "drain",
        "something draws while parked",
        "Take fuses out one after the other, everything asleep, until the current falls.",
        0.04,
        tuple(
            (Change("standby_ma", 1.0, more), Change("rest_start_v", 1.0, -fall * known.scale))
            for more, fall in ((80.0, 0.05), (250.0, 0.15), (900.0, 0.35))
        ),
        told={"flat": 0.9},
    )


def _unit(ctx: Context) -> Iterator[Fault]:
    known = constants_of(ctx)
    shares = (0.35, 0.5, 0.65, 0.8)
    unit = ctx.design.charger
    read = unit is not None and unit.current_limit != "none"
    limit_a = ctx.design.current_limit_a or known.full_a
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


def _asleep(ctx: Context) -> Iterator[Fault]:
    """Everything that leaves it off with both sides whole."""
    known = constants_of(ctx)
    ways = set(ctx.design.activation.ways)
    if ways & WIRED:
        yield Fault(
            "no_enable",
            "enable missing, or at the wrong level",
            "Follow the enable wire back: its fuse, its contact, what it is fed from.",
            0.08,
            tuple((Change("enable_v", 0.0, volts * known.scale),) for volts in (0.05, 3.0, 7.0)),
            "idle",
            looks=STILL,
            told=DEAD,
            reasons=("enable",),
        )
    yield Fault(
        "unit_off",
        "the unit is switched off or asleep",
        "Switch it on by its own switch or app; wake it as its maker says.",
        0.04,
        mode="idle",
        looks=STILL | {"state_read": (0.03, 0.94, 0.03)},
        told=DEAD,
        reasons=("off",),
    )
    yield Fault(
        "latched",
        "latched in another mode",
        "Reset the mode as its maker says, then read it back.",
        0.03,
        mode="idle",
        looks=STILL | {"state_read": (0.05, 0.1, 0.85)},
        told=DEAD,
        reasons=("off",),
    )
    yield Fault(
        "lockout",
        "its lockout was never released",
        "Take its enable away and give it again; then look why the volts were so low.",
        0.04,
        mode="idle",
        looks=STILL | {"toggled": 0.92, "lockout": 0.3},
        told=DEAD | {"was_fine": 0.7},
        reasons=("input_low",),
    )
    if "voltage" in ways:
        yield Fault(
            "thresholds",
            "its thresholds lie above what arrives",
            "Set start and stop as the sheet says, for the volts that arrive here.",
            0.06,
            (
                *((Change("read_start_v", 1.0, volts * known.scale),) for volts in (0.3, 0.6, 1.2)),
                (Change("regulated_v", 0.0, ctx.thresholds.start_v - 0.15 * known.scale),),
            ),
            "idle",
            looks=STILL | {"rides_low": 0.1},
            told=DEAD | {"does_nothing": 0.6, "starts_stops": 0.5},
            reasons=("input_low", "enable"),
        )
    yield Fault(
        "too_cold",
        "the battery is too cold to take charge",
        "Warm it, or wait: nothing is broken. See that the drawing of its heater is in the plan.",
        0.03,
        ((Change("battery_c", 0.0, -8.0),), (Change("battery_c", 0.0, 0.0),)),
        "idle",
        looks=STILL,
        told={"does_nothing": 0.7, "was_fine": 0.6},
        reasons=("cold",),
    )
    yield Fault(
        "reversed",
        "supply leads turned about at the unit",
        "Both batteries off, turn them round, and see whether the unit still lives.",
        0.02,
        mode="reversed",
        looks=STILL | {"polarity.supply": 0.03, "state_read": (0.1, 0.85, 0.05)},
        told=DEAD,
        reasons=("reverse",),
    )


def _open(ctx: Context) -> Iterator[Fault]:
    gone = STILL | {"state_read": (0.3, 0.65, 0.05)}
    if device_of(ctx, "supply") is not None:
        yield Fault(
            "open.supply_device",
            "device of the supply run open",
            "Find why it opened before a new one goes in; then volts past it.",
            0.04,
            mode="open_supply_device",
            looks=gone,
            told=DEAD,
            reasons=("input_low",),
        )
    yield Fault(
        "open.supply",
        "outgoing supply open beyond its device: plug, joint or lug",
        "Volts along the run, one joint after the other.",
        0.03,
        mode="open_supply",
        looks=gone,
        told=DEAD,
        reasons=("input_low",),
    )
    yield Fault(
        "open.supply_back",
        "return of the supply open: lug, strap or earth",
        "From the unit's − to the battery's −: the joint that is through on one side only.",
        0.03,
        mode="open_supply_back",
        looks=gone,
        told=DEAD,
        reasons=("input_low",),
    )
    if device_of(ctx, "delivery") is not None:
        yield Fault(
            "open.delivery_device",
            "device of the delivery run open",
            "Find why it opened before a new one goes in; then volts past it.",
            0.03,
            mode="open_delivery_device",
            looks=STILL,
            told=DEAD,
            reasons=("battery",),
        )
    yield Fault(
        "open.delivery",
        "auxiliary battery not connected, or its run open beyond the device",
        "Isolator, lugs and earth between the unit and the battery.",
        0.04,
        mode="open_delivery",
        looks=STILL,
        told=DEAD,
        reasons=("battery",),
    )
    if ctx.design.auxiliary.chemistry == "lfp" or ctx.design.auxiliary.management is not None:
        yield Fault(
            "pack_off",
            "the battery's own management is open",
            "Wake it as its maker says; see why it opened.",
            0.03,
            mode="pack_off",
            looks=STILL,
            told=DEAD,
            reasons=("battery",),
        )


def _battery(ctx: Context) -> Iterator[Fault]:
    known = constants_of(ctx)
    twelve, set_v = known.auxiliary_scale, float(ctx.facts.absorption.value)
    float_v = charge_volts(ctx.design.auxiliary)[1] if ctx.design.charge.float_v is None else ctx.design.charge.float_v
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


def _beside(ctx: Context) -> Iterator[Fault]:
    """What lies beside the two runs: an old link, its relay, the battery sensor, the monitor."""
    design = ctx.design
    there = any(item.kind in ("link", "panel") and not item.cut for item in design.existing)
    in_use = tuple((Change("old_link_a", 0.0, amps),) for amps in (3.0, 8.0, 20.0))
    if there and design.old_link.decision == "disconnect":
        yield Fault(
            "old_link",
            "the old link is still in",
            "Open it, and make its end safe.",
            0.05,
            in_use,
            told={"starts_stops": 0.3, "wrong_numbers": 0.2},
        )
    if there and design.old_link.decision == "changeover":
        for key, words, cure, clicks in (
            (
                "relay_coil",
                "the changeover relay's coil is not fed, or dead",
                "Volts across 85 and 86, engine running.",
                0.05,
            ),
            (
                "relay_contact",
                "the changeover relay's contact is stuck",
                "Change the relay; see what it carried.",
                0.95,
            ),
        ):
            yield Fault(
                key,
                words,
                cure,
                0.04,
                in_use,
                looks={"relay_clicks": clicks, "relay_opens": 0.04},
                told={"starts_stops": 0.3, "wrong_numbers": 0.2},
                apart="Whether it clicks; volts across its coil.",
            )
    if design.vehicle.start_battery.negative_sensor:
        yield Fault(
            "sensor",
            "the unit's return goes round the battery sensor",
            "Move it to the body side of the sensor.",
            0.05,
            ((Change("sensor_share", 0.0, 1.0),),),
            told={"weak": 0.2, "flat": 0.3, "starts_stops": 0.2},
        )
    if design.monitor.unit is not None:
        yield Fault(
            "monitor_bypassed",
            "charge goes past the monitor's shunt",
            "Every negative to the load side of the shunt; none on the battery's own post.",
            0.05,
            ((Change("monitor_share", 0.0, 0.02),), (Change("monitor_share", 0.0, 0.5),)),
            looks={"monitor_full": 0.4},
            told={"wrong_numbers": 0.9},
        )
        yield Fault(
            "monitor_unsynchronised",
            "the monitor was never synchronised",
            "Charge to a true full, then synchronise it.",
            0.04,
            looks={"monitor_full": 0.03},
            told={"wrong_numbers": 0.8},
        )
