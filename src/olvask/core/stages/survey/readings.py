"""Survey: what is still assumed, and readings that are implausible or contradict each other."""

from __future__ import annotations

from olvask.core.catalogue import regulations
from olvask.core.circuit.solve import Facts, Solved
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Design

PLAUSIBLE_V = {12: (10.5, 15.6), 24: (21.0, 31.2)}
FLAT_V = 11.9  # per 12 V, rested: a start battery below it is flat or failing
LITHIUM_REST_V = 13.1  # per 12 V


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
        open_items.append("alternator share at hot idle")
    if facts.daily is None or design.use.drive_h is None:
        open_items.append("daily use and driving hours")
    return tuple(open_items)


def judge_readings(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Query readings that cannot be right before anything is built on them."""
    facts = solved.facts
    _judge_range(design, facts, ledger)
    _judge_contradictions(design, facts, ledger)
    _judge_lifted(design, facts, ledger)
    alternator = design.vehicle.alternator
    if alternator.loads_idle_a > alternator.rated_a * float(facts.share.value):
        ledger.finding(
            "survey.idle_deficit",
            "caution",
            "survey",
            "alternator",
            "Nothing is left at hot idle",
            "The vehicle's own loads are more than the alternator gives at hot idle. Check the share and the loads.",
        )
    if design.vehicle.drive == "converter" and design.vehicle.signals.d_plus:
        ledger.finding(
            "survey.d_plus_converter",
            "caution",
            "survey",
            "alternator",
            "A DC converter gives no D+",
            "A hybrid or electric drive has no charge-indicator line; take the feed that is live when the vehicle is ready.",
            [way_out("There is none: take it out", ("vehicle.signals.d_plus", False))],
        )


def _judge_range(design: Design, facts: Facts, ledger: Ledger) -> None:
    system_v = design.vehicle.system_v
    low_v, high_v = PLAUSIBLE_V[system_v]
    readings = (facts.rest, facts.after_stop, facts.idle, facts.cruise, facts.low)
    present = [item for item in readings if item is not None and item.provenance != "default"]
    for item in present:
        volts = float(item.value)
        key = item.path.rsplit(".", 1)[-1]
        if not low_v <= volts <= high_v:
            ledger.finding(
                f"survey.implausible.{key}",
                "caution",
                "survey",
                "start_battery",
                f"{item.label}: {volts:.2f} V is hard to believe",
                f"On a {system_v} V vehicle it lies between {low_v:g} and {high_v:g} V. Check the meter, its leads and the system voltage.",
            )
    if any(item.id.startswith("survey.implausible") for item in ledger.findings):
        return
    band = regulations()["converter" if design.vehicle.drive == "converter" else design.vehicle.alternator.regulation]
    for item in (facts.idle, facts.cruise):
        volts = float(item.value)
        if item.provenance != "default" and not band.least_v * facts.scale <= volts <= band.most_v * facts.scale:
            ledger.finding(
                f"survey.regulation.{item.path.rsplit('.', 1)[-1]}",
                "caution",
                "survey",
                "alternator",
                f"{item.label}: {volts:.2f} V does not fit the regulation",
                f"{band.label[0].upper()}{band.label[1:]} holds {band.least_v * facts.scale:.1f} to {band.most_v * facts.scale:.1f} V. "
                "Read again, or look at the regulation once more: a managed alternator wanders.",
            )


def _judge_contradictions(design: Design, facts: Facts, ledger: Ledger) -> None:
    rest_v, idle_v, cruise_v = float(facts.rest.value), float(facts.idle.value), float(facts.cruise.value)
    measured = {item.path for item in (facts.rest, facts.after_stop, facts.cruise) if item.provenance != "default"}
    if idle_v <= rest_v:
        ledger.finding(
            "survey.idle_not_charging",
            "caution",
            "survey",
            "alternator",
            "Idle volts are not above rest",
            f"{idle_v:.2f} V running against {rest_v:.2f} V rested: the alternator is in a low phase, not charging, or one reading is wrong.",
        )
    if "vehicle.readings.cruise_v" in measured and cruise_v <= rest_v:
        ledger.finding(
            "survey.cruise_not_charging",
            "caution",
            "survey",
            "alternator",
            "Cruise volts are not above rest",
            f"{cruise_v:.2f} V at cruise against {rest_v:.2f} V rested: nothing charges, or the reading was taken in a low phase.",
        )
    if "vehicle.readings.after_stop_v" in measured and float(facts.after_stop.value) < rest_v - 0.02 * facts.scale:
        ledger.finding(
            "survey.after_stop_low",
            "caution",
            "survey",
            "start_battery",
            "Lower just after stopping than rested",
            f"{float(facts.after_stop.value):.2f} V just after stopping, {rest_v:.2f} V rested. Surface charge only falls: the two may be "
            "swapped, or something drew current.",
        )
    if facts.low is not None and facts.low.provenance != "default" and float(facts.low.value) >= min(idle_v, cruise_v):
        ledger.finding(
            "survey.low_phase_high",
            "caution",
            "survey",
            "alternator",
            "The low phase is not low",
            f"{float(facts.low.value):.2f} V in the low phase, {min(idle_v, cruise_v):.2f} V outside it. One of them was read in the other's place.",
        )
    per_12 = rest_v / facts.scale
    if "vehicle.readings.rest_v" in measured and design.vehicle.start_battery.chemistry != "lfp":
        if 10.5 <= per_12 < FLAT_V:
            ledger.finding(
                "survey.start_flat",
                "caution",
                "survey",
                "start_battery",
                "The start battery is flat or failing",
                f"{rest_v:.2f} V rested. Charge and test it before any threshold is set by it.",
            )
        elif LITHIUM_REST_V <= per_12 <= 15.6:
            ledger.finding(
                "survey.rest_high",
                "caution",
                "survey",
                "start_battery",
                "Rested volts are too high for lead",
                f"{rest_v:.2f} V: it has not rested, something charges it with the engine off, or it is lithium. Note what lifts it.",
            )


def _judge_lifted(design: Design, facts: Facts, ledger: Ledger) -> None:
    if facts.lifted is None:
        return
    lifted_v = float(facts.lifted.value)
    highest = max(float(facts.rest.value), float(facts.after_stop.value))
    if lifted_v > highest:
        ledger.finding(
            "survey.lifted",
            "note",
            "survey",
            "start_battery",
            "The start battery is lifted with the engine off",
            f"{facts.lifted.label} to {lifted_v:.2f} V ({facts.lifted.provenance}), {highest:.2f} V without. Voltage alone may take that for "
            "a running engine; the thresholds reckon with it.",
        )
    if design.charger is not None and "voltage" in design.activation.methods and lifted_v >= float(facts.idle.value):
        ledger.finding(
            "survey.lifted_over_running",
            "caution",
            "survey",
            "start_battery",
            "Lifted above the running volts",
            f"{lifted_v:.2f} V engine off against {float(facts.idle.value):.2f} V at hot idle: voltage cannot tell whether the engine runs. "
            "Use a signal.",
        )
