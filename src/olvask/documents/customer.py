"""The customer's page: what was fitted and how to live with it, in plain words.

- `customer_pdf`: the page.
"""

from __future__ import annotations

from dataclasses import dataclass

from olvask.core.assess import Assessment
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import show
from olvask.core.findings.listed import counted
from olvask.core.model import Design, Joint
from olvask.core.model.house import House
from olvask.core.stages.build.bill import devices_of
from olvask.core.stages.prove.allowed import by_signal, latches
from olvask.core.stages.prove.timing import stops_by_s
from olvask.core.stages.settings.frost import unstopped
from olvask.core.stages.wake.plainly import behaves
from olvask.documents.typeset import NO_HOUSE, typeset

LINGERS_S = 90.0  # up to this a customer counts seconds; our own estimate
CLOSED_ROOM = {
    "engine": "Never let the engine idle for long to charge, and never in a closed room: exhaust kills.",
    "converter": "Never leave the vehicle ready in a closed room: a hybrid starts its engine by itself, and exhaust kills.",
}
WARM = "A warm unit is usual; one you cannot touch, or a smell of burning, is not: engine off, and call."
FUSE = "A fuse that has opened has a reason. Let it be found before a new one goes in."


@dataclass(frozen=True, slots=True)
class CustomerHead:
    """What stands at the top of the page."""

    title: str
    code: str
    customer: str
    printed: str
    revision: str


def customer_pdf(head: CustomerHead, design: Design, assessment: Assessment, house: House = NO_HOUSE) -> bytes:
    """Typeset the page.

    Args:
        head: title block.
        design: the design.
        assessment: what the core says of it.
        house: the house rules.
    """
    return typeset(
        "customer.typ",
        {
            "title": head.title,
            "code": head.code,
            "customer": head.customer,
            "printed": head.printed,
            "revision": head.revision,
            "stops": len(assessment.stops) + len(design.unfinished),
            "parts": [
                {"head": title, "lines": lines}
                for title, lines in (
                    ("What was fitted", spoken(design, _fitted(design))),
                    ("How it behaves", spoken(design, _behaves(design))),
                    ("What its lamps mean", _lamps(design)),
                    ("What it runs, and for how long", _runs(design, assessment)),
                    ("What to mind", _mind(design)),
                    ("When to call", _call(design)),
                )
                if lines
            ],
        },
        house=house,
    )


def _fitted(design: Design) -> list[str]:
    unit, battery = design.charger, design.auxiliary
    found = []
    if unit is not None:
        amps = design.current_limit_a or unit.output_a
        several = design.units > 1
        kind = f"chargers of up to {amps:g} A each" if several else f"a charger of up to {amps:g} A"
        found.append(
            f"{design.unit_named}, {kind}, that charge{'' if several else 's'} the second battery from the engine."
        )
    name = f"{battery.name}, " if battery.name else ""
    found.append(f"A second battery: {name}{battery.capacity_ah:g} Ah, {battery.nominal_v} V.")
    devices = dict.fromkeys(f"{item.rating_a:g} A" for item in devices_of(Context.of(design)))
    if devices:
        found.append(f"Fuses or breakers of {', '.join(devices)}; a spare of each belongs on board.")
    return found


def _behaves(design: Design) -> list[str]:
    ways = design.activation.ways
    if design.charger is None:
        return ["Nothing charges the second battery from the engine yet: ask the workshop."]
    if not ways:
        return ["Nothing starts it yet: ask the workshop."]
    found = [*behaves(design)]
    unit = design.charger
    if unit is not None and unit.behaviour.soft_start_s:
        found.append(f"It comes up slowly, over about {unit.behaviour.soft_start_s:g} s.")
    if "voltage" in ways and not by_signal(design):
        found.append(f"After a stop it may go on for {_lingers(design)}; that is as it should be.")
    if design.vehicle.low_phased:
        saves = "saves fuel" if design.vehicle.managed else "lowers its volts"
        found.append(f"On even roads the vehicle {saves} and may pause charging for a while: nothing is broken.")
    return found


def _lingers(design: Design) -> str:
    """How long it may charge on after a stop of the engine, as a customer would count it."""
    by_s = stops_by_s(Context.of(design, worded=False))
    if by_s is None:
        return "a while, until the start battery has fallen a little"
    return "some seconds" if by_s < LINGERS_S else f"about {counted(max(1.0, by_s / 60), 'minute')}"


def _lamps(design: Design) -> list[str]:
    if design.charger is None:
        return []
    return list(design.charger.behaviour.lamps) or ["As its maker's leaflet says, which belongs on board."]


def _runs(design: Design, assessment: Assessment) -> list[str]:
    found = [
        f"{load.name or 'a load'}: {load.standing_h:g} h a day while standing"
        for load in design.use.loads
        if load.standing_h > 0
    ]
    days = assessment.figures.get("energy.standing_days")
    if days is not None and days.value is not None:
        stands = float(days.value)
        told = "less than a day" if stands < 1 else show(round(stands, 1), days.unit)
        use = "like that" if found else "of its usual use"
        found.append(f"Full, it lasts {told} {use} without driving.")
    hours = assessment.figures.get("energy.recover_h")
    if hours is not None and hours.value is not None:
        found.append(
            f"Run low, it takes about {show(round(float(hours.value), 1), hours.unit)} of driving to fill again."
        )
    return found or ["What runs on it was not noted."]


def _mind(design: Design) -> list[str]:
    found = []
    unit, battery = design.charger, design.auxiliary
    if battery.chemistry == "lfp":
        least = show(least_charging_c(battery), "°C")
        found.append(
            f"Never let it be charged under {least}: warm the room it is in first, then drive or plug in."
            if unstopped(Context.of(design))
            else f"Under {least} this battery takes no charge; warm the room it is in, then drive."
        )
    else:
        found.append(
            "Do not leave it empty: a lead battery left flat over night is harmed. Air the place it stands in."
        )
    if battery.chemistry == "flooded":
        found.append(
            "If its cells have caps, look at their level each season, charged and at rest: top up with distilled water "
            "alone, goggles and gloves on."
        )
    if unit is not None:
        only = "Reset the unit only as the workshop has shown" if latches(design) else "Do not reset the unit"
        reset = unit.behaviour.reset or "it would forget what it was set to for this vehicle."
        found += [f"{only}: {reset}", WARM]
    plug = any(
        isinstance(piece, Joint) and piece.form == "plug"
        for run in (design.supply, design.delivery)
        for piece in run.pieces
    )
    if plug:
        found.append("Engine off before the plug is joined or parted; caps on when it is parted.")
    return [*spoken(design, found), CLOSED_ROOM[design.vehicle.drive], FUSE]


def _call(design: Design) -> list[str]:
    charges = "It does not charge after half an hour of driving, or starts and stops all the time."
    return [
        "The start battery is flat in the morning, or the vehicle's own charge warning lamp comes on.",
        *([charges] if design.charger is not None else []),
        "Anything on the vehicle's electrics was changed, or it stood in water.",
    ]
