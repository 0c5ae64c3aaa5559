"""Readings that are implausible or contradict each other, and what is still assumed.

- `judge_readings`: queries readings before anything is built on them.
- `assumed`: what is not measured yet and would sharpen the design.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import regulations
from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import beside_a
from olvask.core.circuit.facts import CRUISE_SHARE, Facts
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Input
from olvask.core.findings.finding import Found, caution, note
from olvask.core.findings.listed import capital, percent
from olvask.core.findings.remedy import remedy
from olvask.core.model import Design
from olvask.core.physics.battery import charge_at_rest

PLAUSIBLE_V = {12: (10.5, 15.6), 24: (21.0, 31.2)}  # beyond it no lead start battery is found alive
FLAT_V = 11.9  # per 12 V, rested: a start battery below it is flat or failing
HALF = 0.5  # a lead start battery found below this charge is not what the design counts on
LITHIUM_LOW = 0.2  # where the volts of lithium begin to fall off; above, they tell no charge; our own estimate
LITHIUM_REST_V = 13.1  # per 12 V: no lead battery rests as high
READ_TO_V = 0.02  # per 12 V: two readings closer than this are the same


def assumed(design: Design, solved: Solved) -> tuple[str, ...]:
    """Labels of what is not measured yet and would sharpen the design."""
    facts = solved.facts
    open_items = [item.label.lower() for item in (facts.rest, facts.idle, facts.cruise) if item.provenance == "default"]
    if facts.low is not None and facts.low.provenance == "default":
        open_items.append("low phase volts")
    if design.vehicle.chassis.bonding_mohm is None and design.vehicle.chassis.body != "metal_bonded":
        open_items.append("bonding between the negatives")
    if facts.charge_limit.provenance == "default":
        open_items.append("battery's charge limit")
    if facts.share.provenance == "default":
        open_items.append("share left at hot idle")
    if facts.daily is None or design.use.drive_h is None:
        open_items.append("daily use and driving hours")
    return tuple(open_items)


def judge_readings(ctx: Context) -> Judged:
    """Query readings that cannot be right before anything is built on them."""
    design, facts = ctx.design, ctx.facts
    implausible = list(_implausible(design, facts))
    yield from implausible
    if not implausible:
        yield from _regulation(design, facts)
    yield from _contradictions(facts)
    yield from _rested(design, facts)
    yield from _lifted(design, facts)
    yield from _nothing_left(design, facts)
    if design.vehicle.drive == "converter" and design.vehicle.signals.d_plus:
        yield caution(
            "survey.d_plus_converter",
            "alternator",
            "A DC converter gives no D+",
            "A hybrid or electric drive has no charge-indicator line; take the feed that is live when the vehicle is ready.",
            [remedy("There is none: take it out", ("vehicle.signals.d_plus", False))],
            concerns=("vehicle.signals.d_plus",),
        )


def _nothing_left(design: Design, facts: Facts) -> Iterator[Found]:
    """Loads of the vehicle that take all its alternator gives, at idle or on the road."""
    alternator, others_a = design.vehicle.alternator, beside_a(design, facts)
    beside = f", with {others_a:.1f} A that draw besides," if others_a else ""
    if alternator.loads_idle_a + others_a > alternator.rated_a * float(facts.share.value):
        yield caution(
            "survey.idle_deficit",
            "alternator",
            "Nothing is left at hot idle",
            f"The vehicle's own loads{beside} are more than the alternator gives at hot idle. Check the share and the loads.",
            concerns=("vehicle.alternator.loads_idle_a", "vehicle.alternator.hot_idle_share"),
        )
    gives_a = alternator.rated_a * (1.0 if design.vehicle.drive == "converter" else CRUISE_SHARE)
    if alternator.loads_cruise_a + others_a > gives_a:
        yield caution(
            "survey.cruise_deficit",
            "alternator",
            "Nothing is left at cruise",
            f"The vehicle's own loads{beside} are more than the {gives_a:.0f} A that the alternator gives on the road. Check the "
            "loads at cruise and its rated current.",
            concerns=("vehicle.alternator.loads_cruise_a", "vehicle.alternator.rated_a"),
        )


def _key(item: Input) -> str:
    return item.path.rsplit(".", 1)[-1]


def _implausible(design: Design, facts: Facts) -> Iterator[Found]:
    low_v, high_v = PLAUSIBLE_V[design.vehicle.system_v]
    for item in (facts.rest, facts.after_stop, facts.idle, facts.cruise, facts.low):
        if item is None or item.provenance == "default" or low_v <= float(item.value) <= high_v:
            continue
        yield caution(
            f"survey.implausible.{_key(item)}",
            "start_battery",
            f"{item.label}: {float(item.value):.2f} V is hard to believe",
            f"On a {design.vehicle.system_v} V vehicle it lies between {low_v:g} and {high_v:g} V. Check the meter, its leads "
            "and the system voltage.",
            concerns=(item.path,),
        )


def _regulation(design: Design, facts: Facts) -> Iterator[Found]:
    converter = design.vehicle.drive == "converter"
    kind = "converter" if converter else design.vehicle.alternator.regulation
    again = "look at what drives it" if converter else "look at the regulation once more: a managed alternator wanders"
    band, scale = regulations()[kind], facts.scale
    for item in (facts.idle, facts.cruise):
        volts = float(item.value)
        if item.provenance == "default" or band.least_v * scale <= volts <= band.most_v * scale:
            continue
        yield caution(
            f"survey.regulation.{_key(item)}",
            "alternator",
            f"{item.label}: {volts:.2f} V does not fit {'a DC converter' if converter else 'the regulation'}",
            f"{capital(band.label)} holds {band.least_v * scale:.1f} to {band.most_v * scale:.1f} V. Read "
            f"again, or {again}.",
            concerns=(item.path, "vehicle.drive" if converter else "vehicle.alternator.regulation"),
        )


def _contradictions(facts: Facts) -> Iterator[Found]:
    rest_v, idle_v, cruise_v = float(facts.rest.value), float(facts.idle.value), float(facts.cruise.value)
    after_v = float(facts.after_stop.value)
    if idle_v <= rest_v:
        yield caution(
            "survey.idle_not_charging",
            "alternator",
            "Idle is not above resting voltage",
            f"{idle_v:.2f} V running against {rest_v:.2f} V rested: the alternator is in a low phase, not charging, or one "
            "reading is wrong.",
            concerns=(facts.idle.path, facts.rest.path),
        )
    if facts.cruise.provenance != "default" and cruise_v <= rest_v:
        yield caution(
            "survey.cruise_not_charging",
            "alternator",
            "Cruise is not above resting voltage",
            f"{cruise_v:.2f} V at cruise against {rest_v:.2f} V rested: nothing charges, or the reading was taken in a low "
            "phase.",
            concerns=(facts.cruise.path, facts.rest.path),
        )
    if facts.after_stop.provenance != "default" and after_v < rest_v - READ_TO_V * facts.scale:
        yield caution(
            "survey.after_stop_low",
            "start_battery",
            "Lower just after stopping than rested",
            f"{after_v:.2f} V just after stopping, {rest_v:.2f} V rested. Surface charge only falls: the two may be swapped, "
            "or something drew current.",
            concerns=(facts.after_stop.path, facts.rest.path),
        )
    low, healthy_v = facts.low, min(idle_v, cruise_v)
    if low is not None and low.provenance != "default" and float(low.value) >= healthy_v:
        yield caution(
            "survey.low_phase_high",
            "alternator",
            "The low phase is not low",
            f"{float(low.value):.2f} V in the low phase, {healthy_v:.2f} V outside it. The two readings may be swapped.",
            concerns=(low.path,),
        )


def _rested(design: Design, facts: Facts) -> Iterator[Found]:
    rest_v = float(facts.rest.value)
    per_12, start = rest_v / facts.scale, design.vehicle.start_battery
    if facts.rest.provenance == "default":
        return
    charge = charge_at_rest(start.chemistry, rest_v, design.vehicle.system_v)
    if start.chemistry == "lfp":
        if PLAUSIBLE_V[12][0] <= per_12 and charge < LITHIUM_LOW:
            yield _low(facts, f"{rest_v:.2f} V rested is next to nothing for lithium, or it is a lead battery.")
        return
    if PLAUSIBLE_V[12][0] <= per_12 < FLAT_V:
        yield caution(
            "survey.start_flat",
            "start_battery",
            "The start battery is flat or failing",
            f"{rest_v:.2f} V rested. Charge and test it before any threshold is set by it.",
            concerns=(facts.rest.path,),
        )
    elif per_12 >= FLAT_V and charge < HALF:
        yield _low(facts, f"{rest_v:.2f} V rested is about {percent(charge)} of charge.")
    elif LITHIUM_REST_V <= per_12 <= PLAUSIBLE_V[12][1]:
        yield caution(
            "survey.rest_high",
            "start_battery",
            "Resting voltage is too high for lead",
            f"{rest_v:.2f} V: it has not rested, something charges it with the engine off, or it is lithium. Note what lifts "
            "it.",
            concerns=(facts.rest.path, "vehicle.lifters"),
        )


def _low(facts: Facts, seen: str) -> Found:
    return caution(
        "survey.start_low",
        "start_battery",
        "The start battery is low or tired",
        f"{seen} Charge and test it before thresholds are set by it: the design counts on a battery in daily use.",
        concerns=(facts.rest.path,),
    )


def _lifted(design: Design, facts: Facts) -> Iterator[Found]:
    if facts.lifted is None:
        return
    lifted_v, idle_v = float(facts.lifted.value), float(facts.idle.value)
    highest_v = max(float(facts.rest.value), float(facts.after_stop.value))
    if lifted_v > highest_v:
        yield note(
            "survey.lifted",
            "start_battery",
            "The start battery is held up with the engine off",
            f"{facts.lifted.label} to {lifted_v:.2f} V ({facts.lifted.provenance}), {highest_v:.2f} V without. Voltage alone "
            "may take that for a running engine; the thresholds allow for it.",
            concerns=(facts.lifted.path,),
        )
    by_volts = "voltage" in design.activation.ways and not design.kept_off
    if design.charger is not None and by_volts and lifted_v >= idle_v:
        keyed = "ignition" in design.activation.ways
        yield caution(
            "survey.lifted_over_running",
            "start_battery",
            "Held up above the running voltage",
            f"{lifted_v:.2f} V engine off against {idle_v:.2f} V at hot idle: voltage cannot tell whether the engine runs. "
            + ("Only the key does." if keyed else "Use a signal."),
            concerns=(facts.lifted.path, "activation.ways"),
        )
