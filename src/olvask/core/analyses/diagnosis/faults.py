"""The faults that are tried, each over its plausible sizes in this design.

- `faults_of`: those a design can have; healthy is the first.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from olvask.core.analyses.diagnosis.fault import Change, Fault, Symptom
from olvask.core.analyses.diagnosis.faults_still import asleep_faults, open_faults
from olvask.core.analyses.diagnosis.faults_unit import battery_faults, unit_faults
from olvask.core.analyses.diagnosis.often import JOINT_OHM, WEAK, held_low
from olvask.core.circuit.context import Context
from olvask.core.findings.driven import reword_of, reworded
from olvask.core.stages.prove.unknowns import Name, constants_of, device_of, unknowns_of

CLEAR = 3.0  # spreads of a good leg: what is less is within what good ones differ by, and no finding
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
    found = (
        Fault("healthy", "nothing is wrong", "", 1.0, told={"weak": 0.2, "flat": 0.1}),
        *_joints(ctx),
        *_source(ctx),
        *unit_faults(ctx),
        *asleep_faults(ctx),
        *open_faults(ctx),
        *battery_faults(ctx),
        *_beside(ctx),
    )
    # Where a leg is known no better than any joint is bad, no joint can be told there.
    found = tuple(fault for fault in found if fault.sizes)
    reword = reword_of(ctx.design)
    return (
        found
        if reword is None
        else tuple(reworded(_of_converter(fault), reword) for fault in found if fault.key != "belt")
    )


def _of_converter(fault: Fault) -> Fault:
    """What is said of an alternator's faults, of a DC converter."""
    said = CONVERTER.get(fault.key)
    return fault if said is None else replace(fault, words=said[0], cure=said[1], apart=said[2])


# A DC converter in an alternator's place: words, cure, what tells it from others.
CONVERTER = {
    "alternator": (
        "weak DC converter",
        "Its own output, by a clamp on its 12 V lead; its fuse and its cooling, as the vehicle's maker says. Nothing behind "
        "orange covers is opened.",
        "A clamp on its 12 V lead, lamps and blower on.",
    ),
    "no_charge": (
        "the DC converter gives nothing",
        "Its 12 V fuse and plug, and its cooling, as the vehicle's maker says. Nothing behind orange covers is opened.",
        "What the vehicle's own display says of it; volts at the start battery, the vehicle ready.",
    ),
    "regulator": (
        "the DC converter holds too few volts",
        "Volts at the start battery, lamps and blower on; what its maker lets it hold, and when.",
        "Lamps on: one that saves comes up, one at fault does not.",
    ),
}


def _joints(ctx: Context) -> Iterator[Fault]:
    own = {item.name: item.sigma for item in unknowns_of(ctx)}
    hot: dict[Symptom, float] = {"weak": 0.5, "hot": 0.4, "starts_stops": 0.2, "was_fine": 0.4}
    for name, words in PLACES:
        if name.endswith("device") and device_of(ctx, "supply" if name.startswith("supply") else "delivery") is None:
            continue
        yield Fault(
            f"joint.{name}",
            f"bad joint in the {words}" if not name.endswith("device") else f"bad contact at the {words}",
            "Measure across each joint there under load; make the one that drops anew.",
            0.045,
            tuple((Change(name, 1.0, ohm),) for ohm in JOINT_OHM if ohm > CLEAR * own[name]),
            looks={"hand_warm": 0.45, "follows": 0.75 if name.startswith("delivery") else 0.96},
            told=hot,
            reasons=("input_low",) if name.startswith("supply") else (),
        )
    for run in ("supply", "delivery"):
        out, back = ("supply_out", "supply_back") if run == "supply" else ("delivery_out", "delivery_back")
        mirrored = ctx.design.run("supply" if run == "supply" else "delivery").back.kind == "cable"
        legs: tuple[Name, ...] = (out, back) if mirrored else (out,)  # type: ignore[assignment]  # names of the list
        yield Fault(
            f"thin.{run}",
            f"{run} cable thinner than thought, or copper-clad",
            "Measure the cable's diameter and look at its strands; lay what the design says.",
            0.03,
            tuple(tuple(Change(name, share, 0.0) for name in legs) for share in (1.5, 1.8, 2.3, 3.2)),
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
        yield Fault(
            "low_phase",
            "the alternator is in a low phase",
            "Nothing is broken: lamps on for the test; thresholds that ride through it, or an enable of its own.",
            0.05,
            held_low(ctx),
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
    if ctx.design.left_on and "ignition" not in ctx.design.activation.ways:
        yield Fault(
            "left_on",
            "it charged on with the engine off, as it is wired to",
            "Nothing is broken: switch it off with the engine, or let a signal or its volts start it; see Wake.",
            0.06,
            tuple((Change("rest_start_v", 1.0, -fall * known.scale),) for fall in (0.1, 0.25)),
            told={"flat": 0.9},
            apart="Whether it was on while it stood: its guard lets go only where little is left.",
        )


def _beside(ctx: Context) -> Iterator[Fault]:
    """What lies beside the two runs: an old link, its relay, the battery sensor, the monitor."""
    design = ctx.design
    there = any(item.joins for item in design.still_fed)
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
    if design.monitor.unit is not None and not design.uncounted:
        yield Fault(
            "monitor_bypassed",
            "charge goes past the monitor's shunt",
            "Every negative to the load side of the shunt; none on the battery's own post.",
            0.05,
            ((Change("monitor_share", 0.0, 0.02),), (Change("monitor_share", 0.0, 0.5),)),
            looks={"monitor_full": 0.4},
            told={"wrong_numbers": 0.9},
        )
    if design.monitor.unit is not None:
        yield Fault(
            "monitor_unsynchronised",
            "the monitor was never synchronised",
            "Charge to a true full, then synchronise it.",
            0.04,
            looks={"monitor_full": 0.03},
            told={"wrong_numbers": 0.8},
        )
