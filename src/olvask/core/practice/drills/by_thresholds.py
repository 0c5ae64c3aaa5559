"""Placing start and stop volts: judged by `assess`, then driven in the simulator.

- `thresholds_drill`: one, or `None` where no pair of volts will do.
"""

from __future__ import annotations

from olvask.core.assess import assess
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.practice.chance import Chance
from olvask.core.practice.drills.drill import Answer, BadAnswer, Field, Judged, Made, changed, facts_of, said
from olvask.core.practice.vehicles import woken_by_volts
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.simulate.report import hunts
from olvask.core.simulate.trip import drive

DAY = read_programme(LIBRARY["commute"])
LEAST_V, MOST_V = 5.0, 64.0  # what a rule may hold


def placed(design: Design, start_v: float, stop_v: float) -> Design:
    """A design with these volts for start and stop.

    Args:
        design: the design.
        start_v: it starts at or above [V].
        stop_v: it stops below [V].
    """
    return changed(design, {"activation.start_rules.0.at_least_v": start_v, "activation.stop_rules.0.below_v": stop_v})


def wrong_with(design: Design) -> list[Finding]:
    """Stops and cautions on waking.

    Args:
        design: with its thresholds.
    """
    return [item for item in assess(design, remedies=False).findings if item.stage == "wake" and item.level != "note"]


def drives_well(design: Design) -> bool:
    """Whether it starts, and does not hunt, on an ordinary day in the simulator.

    Args:
        design: with its thresholds.
    """
    trip = drive(design, DAY)
    return not hunts(trip) and any(event.what == "start" for event in trip.events)


def thresholds_drill(chance: Chance) -> Made | None:
    """Start and stop volts for a unit that wakes by voltage."""
    woken = woken_by_volts(chance)
    if woken is None:
        return None
    name, design, at = woken
    good = placed(design, at.start_v, at.stop_v)
    usual = {item.id for item in wrong_with(good)}  # what has nothing to do with the two volts asked for
    if not drives_well(good):
        return None

    def judge(answer: Answer) -> Judged:
        start_v, stop_v = answer.numbers
        for label, volts in (("Start", start_v), ("Stop", stop_v)):
            if not LEAST_V <= volts <= MOST_V:
                raise BadAnswer(f"{label}: give volts between {LEAST_V:g} and {MOST_V:g}.")
        tried = placed(design, start_v, stop_v)
        found = [item for item in wrong_with(tried) if item.id not in usual]
        well = drives_well(tried)
        driven = "" if well else "Driven in the simulator it does not start, or starts and stops by itself."
        right = not found and well
        text = "They ride out everything this vehicle does." if right else found[0].title if found else driven
        return Judged(
            right=right,
            text=text,
            working=(*said(found), *((driven,) if driven and found else ())),
            better=f"{at.start_v:.2f} V and {at.stop_v:.2f} V, for instance",
        )

    return Made(
        vehicle=name,
        design=design,
        question="The unit wakes by voltage alone. At what volts shall it start, and below which stop?",
        facts=facts_of(design),
        fields=(Field(label="Start at or above", unit="V"), Field(label="Stop below", unit="V")),
        judge=judge,
    )
