"""Faults with which no current flows: asleep, or open somewhere.

- `asleep_faults`, `open_faults`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.analyses.diagnosis.fault import Change, Fault
from olvask.core.analyses.diagnosis.often import DEAD, STILL, held_low
from olvask.core.circuit.context import Context
from olvask.core.stages.prove.allowed import by_remote, is_wired
from olvask.core.stages.prove.unknowns import constants_of, device_of


def asleep_faults(ctx: Context) -> Iterator[Fault]:
    """Everything that leaves it off with both sides whole."""
    known = constants_of(ctx)
    ways = set(ctx.design.activation.ways)
    if is_wired(ctx.design):
        tapped = not by_remote(ctx.design)
        yield Fault(
            "no_enable",
            "enable missing, or at the wrong level" if tapped else "its remote terminals are not joined",
            "Follow the enable wire back: its fuse, its contact, what it is fed from."
            if tapped
            else "Join them at the unit to try it; then the switch or bridge, its wires and their ends.",
            0.08,
            tuple(
                (Change("enable_v", 0.0, volts * known.scale),)
                for volts in ((0.05, 3.0, 7.0) if tapped else (2.0, 5.0, 11.0))
            ),
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
        f"Take its {'enable' if is_wired(ctx.design) else 'supply'} away and give it again; then look why the volts were so low.",
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
        rest_v = float(ctx.facts.rest.value)
        yield Fault(
            "no_charge",
            "the alternator gives nothing",
            "Its charge lamp, belt and plug; volts at its own stud at raised idle; then the alternator.",
            0.03,
            tuple(
                (Change("regulated_v", 0.0, rest_v - volts * known.scale, 0.1 * known.scale),) for volts in (0.05, 0.25)
            ),
            "idle",
            looks=STILL | {"lamps_lift": 0.05, "belt_quiet": 0.75},
            told={"does_nothing": 0.6, "flat": 0.6, "was_fine": 0.6},
            reasons=("enable",),  # the battery stays above the guard for a while
            apart="Its charge lamp with the engine running; volts at its own stud.",
        )
        if ctx.facts.low is not None and float(ctx.facts.low.value) < ctx.thresholds.stop_v:
            yield Fault(
                "waits_low",
                "the alternator is in a low phase, and the unit waits",
                "Nothing is broken: lamps on for the test, and it starts. Where it waits too often: an enable of its own.",
                0.05,
                held_low(ctx),
                "idle",
                looks=STILL | {"lamps_lift": 0.92},
                told={"starts_stops": 0.5, "weak": 0.3, "does_nothing": 0.3},
                reasons=("enable",),  # above its guard: no lockout
                apart="Lamps on: a low phase ends.",
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


def open_faults(ctx: Context) -> Iterator[Fault]:
    """A run that is open, or a battery that is."""
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
