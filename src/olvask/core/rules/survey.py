"""Survey: what is still assumed, and readings that contradict each other."""

from __future__ import annotations

from olvask.core.circuit import Solved
from olvask.core.ledger import Ledger
from olvask.core.model import Design

PLAUSIBLE_V = {12: (10.5, 15.6), 24: (21.0, 31.2)}


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
    return tuple(open_items)


def judge_readings(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Query readings that cannot be right before anything is built on them."""
    facts, system_v = solved.facts, design.vehicle.system_v
    low_v, high_v = PLAUSIBLE_V[system_v]
    present = [item for item in (facts.rest, facts.after_stop, facts.idle, facts.cruise, facts.low) if item is not None]
    for item in present:
        volts = float(item.value)
        if item.provenance != "default" and not low_v <= volts <= high_v:
            ledger.finding(
                f"survey.implausible.{item.path.rsplit('.', 1)[-1]}",
                "caution",
                "survey",
                "start_battery",
                f"{item.label}: {volts:.2f} V is hard to believe",
                f"On a {system_v} V vehicle it lies between {low_v:g} and {high_v:g} V. Check the meter, its leads and the system voltage.",
            )
    rest_v, idle_v = float(facts.rest.value), float(facts.idle.value)
    if idle_v <= rest_v:
        ledger.finding(
            "survey.idle_not_charging",
            "caution",
            "survey",
            "alternator",
            "Idle volts are not above rest",
            f"{idle_v:.2f} V running against {rest_v:.2f} V rested: the alternator is in a low phase, not charging, or one reading is wrong.",
        )
    if design.vehicle.alternator.loads_idle_a > design.vehicle.alternator.rated_a * float(facts.share.value):
        ledger.finding(
            "survey.idle_deficit",
            "caution",
            "survey",
            "alternator",
            "Nothing is left at hot idle",
            "The vehicle's own loads are more than the alternator gives at hot idle. Check the share and the loads.",
        )
