"""What is not known of a vehicle that is about to be measured, each with its spread and where that comes from.

- `Unknown`, `unknowns_of`: of a healthy vehicle built as designed.
- `Constants`, `constants_of`: what of its circuit is taken as known.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import RunState
from olvask.core.circuit.solve import felt_c
from olvask.core.model import ProtectiveDevice, RunName
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.stages.prove.allowed import by_remote, draws_left_on
from olvask.core.stages.prove.timing import starts_within_s

Name = Literal[
    "regulated_v",
    "sag_ohm",
    "spare_a",
    "battery_v",
    "supply_out",
    "supply_device",
    "supply_back",
    "delivery_out",
    "delivery_device",
    "delivery_back",
    "efficiency",
    "limit_a",
    "set_v",
    "emf_v",
    "auxiliary_ohm",
    "rest_start_v",
    "fall_start_v",
    "rest_auxiliary_v",
    "fall_auxiliary_v",
    "standby_ma",
    "old_link_a",
    "key_on_a",
    "enable_v",
    "sensor_share",
    "monitor_share",
    "zero_a",
    "air_c",
    "battery_c",
    "read_limit_a",
    "read_set_v",
    "read_start_v",
    "start_s",
]
NAMES: tuple[Name, ...] = Name.__args__  # type: ignore[attr-defined]
AT: dict[Name, int] = {name: place for place, name in enumerate(NAMES)}
Leg = Literal["supply_out", "supply_back", "delivery_out", "delivery_back"]
LEGS: tuple[Leg, ...] = ("supply_out", "supply_back", "delivery_out", "delivery_back")

# Spreads, standard deviations. All are our own estimates: of vehicles built as designed, none is quite like another.
MEASURED_V, ASSUMED_V = (
    0.06,
    0.25,
)  # per 12 V: volts of the survey move with temperature; assumed ones differ by vehicle
MEASURED_SAG, ASSUMED_SAG = 0.15, 0.4  # of itself
MEASURED_SHARE, ASSUMED_SHARE = 0.03, 0.06  # of the alternator's rating, at hot idle
LEG_SHARE, LEG_OHM = 0.07, 0.00025  # lengths, strands and temperature; crimps
OWN_OHM = 0.0012  # a chassis return nobody has measured
DEVICE_SHARE = 0.2  # a device's resistance within its kind
EFFICIENCY, OUTPUT_SHARE = 0.02, 0.02
# Per 12 V, a battery that is no more than three quarters full, under charge, below the volts it is charged to: lithium is flat
# there, lead is not.
BELOW_SET_V = {"lithium": (0.8, 0.2), "lead": (1.0, 0.35)}
CHARGED_OHM = 1.5  # times its internal resistance: charging meets more than a short load does
SET_V = 0.04  # per 12 V: what a unit holds, against what it is set to
REST_V = 0.12  # per 12 V: by charge and by hours of rest
FALL_V, FALL_SPREAD_V = 0.35, 0.1  # per 12 V, head lamps on for three minutes
DRAIN_SHARE = 0.25
BATTERY_V = 0.15  # per 12 V: by its charge and how long it has helped
AIR_K, BATTERY_C, BATTERY_K = 5.0, 16.0, 7.0
STEP_V = 0.02  # a value read back: what it was keyed, but for its last digit
SECONDS = 2.0
ENABLE_LOSS_V, ENABLE_V = 0.15, 0.2  # per 12 V: a thin wire and its fuse
JOINED_V = 0.05  # across a closed contact and its wires, which carry next to nothing


@dataclass(frozen=True, slots=True)
class Unknown:
    """One thing not known: where it most likely lies, and how far from there."""

    name: Name
    words: str
    mean: float
    sigma: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Constants:
    """What of the circuit is taken as known: branches by what they add to each leg's current, the battery behind [Ω, A]."""

    scale: float
    auxiliary_scale: float
    extra_source_a: float
    extra_a: dict[Leg, float]
    taken_a: float
    battery_ohm: float
    full_a: float


def constants_of(ctx: Context) -> Constants:
    """The known part of a design's circuit."""
    supply, delivery = ctx.state("supply"), ctx.state("delivery")
    source = ctx.solved.running[0].source
    taken = [-piece.extra_a for piece in delivery.pieces]
    return Constants(
        scale=ctx.facts.scale,
        auxiliary_scale=ctx.design.auxiliary.nominal_v / 12,
        extra_source_a=supply.first_extra_a,
        extra_a={
            "supply_out": _extra(supply, back=False),
            "supply_back": _extra(supply, back=True),
            "delivery_out": _extra(delivery, back=False),
            "delivery_back": _extra(delivery, back=True),
        },
        taken_a=max(taken, default=0.0),
        battery_ohm=max(source.battery_ohm, 1e-5),
        full_a=ctx.solved.output.yield_a if ctx.solved.output is not None else 0.0,
    )


def _extra(run: RunState, back: bool) -> float:
    """What branches add to a leg's current, on the average of its resistance [A]."""
    ohms = [piece.back_ohm if back else piece.out_ohm for piece in run.pieces]
    total = sum(ohms)
    return sum(ohm * piece.extra_a for ohm, piece in zip(ohms, run.pieces, strict=True)) / total if total > 0 else 0.0


def device_of(ctx: Context, run: RunName) -> tuple[int, ProtectiveDevice] | None:
    """The first protective device of a run and its place in it."""
    for place, piece in enumerate(ctx.design.run(run).pieces):
        if isinstance(piece, ProtectiveDevice):
            return place, piece
    return None


def set_to_a(ctx: Context) -> float:
    """What each unit is set to give, as its menu shows it whatever heat leaves of it [A]."""
    unit = ctx.design.charger
    return ctx.design.current_limit_a or (unit.output_a if unit is not None else 0.0)


def unknowns_of(ctx: Context) -> tuple[Unknown, ...]:
    """What is not known of a healthy vehicle built as designed, in the order of `NAMES`."""
    facts, scale = ctx.facts, ctx.facts.scale
    known = constants_of(ctx)
    auxiliary, twelve = ctx.design.auxiliary, ctx.design.auxiliary.nominal_v / 12
    source = ctx.solved.running[0].source
    measured = facts.idle.provenance in ("measured", "datasheet")
    sag = float(facts.sag.value) / 1000
    share = MEASURED_SHARE if facts.share.provenance == "measured" else ASSUMED_SHARE
    set_v, full_a = float(facts.absorption.value), known.full_a
    ohm = CHARGED_OHM * internal_ohm(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v)
    below_v, spread_v = BELOW_SET_V["lithium" if auxiliary.chemistry == "lfp" else "lead"]
    start = ctx.design.vehicle.start_battery
    rest_v = open_circuit_v(auxiliary.chemistry, 0.6, auxiliary.nominal_v)
    drain = float(facts.standing_drain.value)
    fall_ohm = internal_ohm(start.chemistry, start.capacity_ah, ctx.design.vehicle.system_v)
    return (
        Unknown(
            "regulated_v",
            "volts the engine holds",
            float(facts.idle.value),
            (MEASURED_V if measured else ASSUMED_V) * scale,
        ),
        Unknown("sag_ohm", "how far the posts fall under load", sag, max(1e-4, _sag_share(ctx) * sag)),
        Unknown(
            "spare_a",
            "what the alternator has left at hot idle",
            source.available_a if source.available_a is not None else 1e4,
            max(1.0, share * ctx.design.vehicle.alternator.rated_a),
        ),
        Unknown(
            "battery_v",
            "what the start battery holds once the alternator has no more",
            min(source.battery_v, source.regulated_v),
            BATTERY_V * scale,
        ),
        *_legs(ctx, "supply"),
        *_legs(ctx, "delivery"),
        Unknown(
            "efficiency",
            "the unit's efficiency",
            ctx.design.charger.efficiency if ctx.design.charger else 0.9,
            EFFICIENCY,
        ),
        Unknown("limit_a", "what the unit gives", full_a, max(0.1, OUTPUT_SHARE * full_a)),
        Unknown("set_v", "volts it charges to", set_v, SET_V * twelve),
        Unknown(
            "emf_v",
            "what the auxiliary battery holds against it",
            set_v - below_v * twelve - ohm * full_a,
            spread_v * twelve,
        ),
        Unknown("auxiliary_ohm", "the auxiliary battery's resistance", ohm, 0.4 * ohm),
        Unknown("rest_start_v", "the start battery at rest", float(facts.rest.value), REST_V * scale),
        Unknown(
            "fall_start_v", "how far it falls under the lamps", FALL_V * scale + 10 * fall_ohm, FALL_SPREAD_V * scale
        ),
        Unknown("rest_auxiliary_v", "the auxiliary battery at rest", rest_v, 1.5 * REST_V * twelve),
        Unknown("fall_auxiliary_v", "how far it falls under load", 0.25 * twelve, 0.09 * twelve),
        Unknown("standby_ma", "what is drawn parked", drain, max(4.0, DRAIN_SHARE * drain)),
        Unknown("old_link_a", "current through the old link", 0.0, 0.05),
        Unknown("key_on_a", "what the unit draws, key on and engine off", *draws_left_on(ctx)),
        Unknown(
            "enable_v", "volts at its enable", _enable_v(ctx), JOINED_V if by_remote(ctx.design) else ENABLE_V * scale
        ),
        Unknown("sensor_share", "of the unit's current past the battery sensor", 0.0, 0.02),
        Unknown("monitor_share", "of the current that the monitor sees", 0.0 if ctx.design.uncounted else 1.0, 0.015),
        Unknown("zero_a", "what the monitor counts with nothing flowing", 0.0, _zero_a(ctx)),
        Unknown("air_c", "air at the unit", felt_c(ctx.design, facts), AIR_K),
        Unknown("battery_c", "the auxiliary battery's temperature", BATTERY_C, BATTERY_K),
        Unknown("read_limit_a", "limit as read back", set_to_a(ctx), 0.02 * max(1.0, set_to_a(ctx))),
        Unknown("read_set_v", "charge volts as read back", set_v, STEP_V * twelve),
        Unknown("read_start_v", "start volts as read back", ctx.thresholds.start_v, STEP_V * scale),
        Unknown("start_s", "seconds to start", starts_within_s(ctx)[1], SECONDS),
    )


def _sag_share(ctx: Context) -> float:
    return MEASURED_SAG if ctx.facts.sag.provenance == "measured" else ASSUMED_SAG


def _legs(ctx: Context, run: RunName) -> tuple[Unknown, ...]:
    """The outgoing conductor less its first device, that device, and the return [Ω]."""
    state, found, design = ctx.state(run), device_of(ctx, run), ctx.design.run(run)
    device = state.pieces[found[0]].out_ohm if found is not None else 0.0
    body = design.back.kind == "chassis" and design.back.resistance_mohm is None
    names: tuple[Name, Name, Name] = (
        ("supply_out", "supply_device", "supply_back")
        if run == "supply"
        else ("delivery_out", "delivery_device", "delivery_back")
    )
    out = max(0.0, state.out_ohm - device)
    return (
        Unknown(names[0], f"{run} run, outgoing", out, LEG_SHARE * out + LEG_OHM),
        Unknown(names[1], f"{run} run, its device", device, DEVICE_SHARE * device + 2e-5),
        Unknown(
            names[2], f"{run} run, return", state.back_ohm, OWN_OHM if body else LEG_SHARE * state.back_ohm + LEG_OHM
        ),
    )


def _enable_v(ctx: Context) -> float:
    """At an enable nearly what the engine holds; between two remote terminals that are joined nothing."""
    return 0.0 if by_remote(ctx.design) else float(ctx.facts.idle.value) - ENABLE_LOSS_V * ctx.facts.scale


def _zero_a(ctx: Context) -> float:
    unit = ctx.design.monitor.unit
    return max(0.02, (unit.zero_error_ma or 0.0) / 1000) if unit is not None else 0.05
