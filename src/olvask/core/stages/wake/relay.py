"""The changeover relay that opens an old link while the engine runs: contact, coil, fuses, suppression, terminals.

- `design_relay`: all of it.
- `relay_place`: where it sits.
- `feed_ampacity`: what the old feed's wire carries.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.catalogue import Device, conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.model import Cable, Design, Existing
from olvask.core.model.vehicle import inverter_a
from olvask.core.physics.rounding import under
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR, INDUSTRIAL, standing_devices

# Break contacts (30-87a) of changeover relays for vehicles; forms of ISO 7588-1 up to 30 A, power relays above.
BREAK_CONTACT_A = (10.0, 15.0, 20.0, 30.0, 40.0, 60.0)
COIL_MA = {12: 160.0, 24: 90.0}  # about 85 and 300 ohms
D_PLUS_MA = {12: 300.0, 24: 200.0}  # beside the charge lamp; the alternator's maker says more
SUPPRESSION_OHM = {12: 680.0, 24: 2700.0}
ENABLE_MA = 10.0  # a unit's enable input
COIL_FUSE_A = 3.0
METER_A = 1.0  # a sense wire, with room
UPKEEP_A = 10.0  # a panel's charger, when its current is not on a plate
LIVING_A = 20.0  # loads behind a panel, when none is listed; our own estimate
RUNNING_V = 14.0  # per 12 V, across a coil

RelayPlace = Literal["start_feed", "auxiliary_feed"]
PLACE_TEXT: dict[RelayPlace, str] = {
    "start_feed": "in the start-battery feed of the {it}",
    "auxiliary_feed": "between the {it} and the auxiliary battery",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class RelayTerminal:
    """One terminal of the relay and what goes on it."""

    terminal: str
    goes_to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RelayDesign:
    """A five-terminal changeover relay that opens the link while the engine runs."""

    place: RelayPlace
    place_text: str
    duty_a: float
    duty_from: Annotated[str, Field(description="default, entered, or computed from the loads")]
    contact_a: Annotated[
        float | None, Field(description="rating of the break contact; none where none is made that large")
    ]
    contact_fuse_a: float | None
    contact_fuse_family: str | None
    coil_ma: float
    total_ma: Annotated[float, Field(description="coil, suppression and the unit's enable together")]
    d_plus_ma: float
    coil_fits: bool
    driven_by: Annotated[str, Field(description="the line that is live while the engine runs, or the vehicle is ready")]
    coil_fuse_a: float
    suppression: str
    terminals: tuple[RelayTerminal, ...]
    if_broken: str


def relay_place(design: Design, link: Existing) -> RelayPlace:
    """Where the relay has to sit: a fridge fed while driving needs the panel's own link left in.

    Args:
        design: the design.
        link: the link it opens.
    """
    if design.old_link.relay_place:
        return design.old_link.relay_place
    return "auxiliary_feed" if "fridge" in link.carries else "start_feed"


def _duty(design: Design, link: Existing, place: RelayPlace) -> tuple[float, str]:
    """Continuous current of the contact [A], and where it comes from."""
    chosen = design.old_link
    if place == "start_feed":
        if chosen.feed_a is not None:
            return chosen.feed_a, "entered"
        if "upkeep" in link.carries:
            origin = "entered" if link.charge_a is not None else "default"
            return max(METER_A, link.charge_a or UPKEEP_A), origin
        return METER_A, "default"
    if chosen.living_a is not None:
        return chosen.living_a, "entered"
    loads, nominal_v = design.use.loads, design.auxiliary.nominal_v
    summed_a = sum(load.drawn_a(nominal_v) for load in loads)
    summed_a += inverter_a(nominal_v) if any(load.keeps_inverter_on for load in loads) else 0.0
    return (summed_a, "computed") if summed_a > 0 else (LIVING_A, "default")


def thing(link: Existing) -> str:
    """What joins the batteries, as a sentence calls it."""
    return "panel" if link.kind == "panel" else "old link"


def _terminals(place: RelayPlace, it: str, line: str) -> tuple[RelayTerminal, ...]:
    coming, going = (
        ("start-battery feed, behind its fuse", f"the {it}'s start-battery terminal")
        if place == "start_feed"
        else ("auxiliary battery, behind its fuse", f"the {it}'s battery terminal")
    )
    return (
        RelayTerminal(terminal="30", goes_to=coming),
        RelayTerminal(terminal="87a", goes_to=going),
        RelayTerminal(terminal="87", goes_to="nothing; insulated"),
        RelayTerminal(terminal="86", goes_to=f"{line}, behind a {COIL_FUSE_A:g} A fuse at the tap"),
        RelayTerminal(terminal="85", goes_to="negative (31)"),
    )


def design_relay(design: Design, link: Existing) -> RelayDesign:
    """The changeover relay: contact, coil, fuses, suppression, terminals.

    Args:
        design: the design.
        link: the link it opens.
    """
    system_v, chosen, ready = design.vehicle.system_v, design.old_link, design.vehicle.ready_fed
    short, line = ("the ready feed", "ready feed (15)") if ready else ("D+", "D+ (61)")
    place = relay_place(design, link)
    duty_a, duty_from = _duty(design, link, place)
    coil_ma = chosen.coil_ma if chosen.coil_ma is not None else COIL_MA[system_v]
    d_plus_ma = chosen.d_plus_ma if chosen.d_plus_ma is not None else D_PLUS_MA[system_v]
    suppression_ohm = SUPPRESSION_OHM[system_v]
    enable_ma = ENABLE_MA if "d_plus" in design.activation.ways else 0.0
    total_ma = coil_ma + 1000 * RUNNING_V * system_v / 12 / suppression_ohm + enable_ma
    least_a = CONTINUOUS_FACTOR * duty_a
    contact_a = next((rating for rating in BREAK_CONTACT_A if not under(rating, least_a)), None)
    fuse = _contact_fuse(system_v, least_a) if contact_a is not None else None
    return RelayDesign(
        place=place,
        place_text=PLACE_TEXT[place].format(it=thing(link)),
        duty_a=duty_a,
        duty_from=duty_from,
        contact_a=contact_a,
        contact_fuse_a=fuse.rating_a if fuse is not None else None,
        contact_fuse_family=fuse.family if fuse is not None else None,
        coil_ma=coil_ma,
        total_ma=total_ma,
        d_plus_ma=d_plus_ma,
        coil_fits=ready or total_ma <= d_plus_ma,  # a feed behind its fuse gives more than a charge lamp's line
        driven_by=line,
        coil_fuse_a=COIL_FUSE_A,
        suppression=f"{suppression_ohm:.0f} Ω across 86 and 85, or a diode with its cathode at 86: else the coil kicks back "
        f"into {short}",
        terminals=_terminals(place, thing(link), line),
        if_broken=f"With the wire from {short} broken the relay rests and the link stays closed while the engine runs: two sources of "
        "charge share one battery again. Prove it: running, no volts may pass from 30 to 87a.",
    )


def _contact_fuse(system_v: int, least_a: float) -> Device | None:
    """The fuse at terminal 30: a blade as far as they go, a strip above; what feeds it has broken the short before."""
    fuses = [item for item in standing_devices(system_v, 0.0) if not item.resettable and item.family not in INDUSTRIAL]
    fitting = [item for item in fuses if not under(item.rating_a, least_a)]
    return min(fitting, key=lambda item: (item.rating_a, item.price), default=None)


def existing_link_of(design: Design) -> Existing | None:
    """The link found in the survey, a relay or a panel with one."""
    return next((item for item in design.still_fed if item.joins), None)


def relay_of(design: Design) -> RelayDesign | None:
    """The relay that opens the old link while the engine runs; `None` where none is decided on, or no link is in use."""
    link = existing_link_of(design) if design.old_link.decision == "changeover" else None
    return None if link is None else design_relay(design, link)


def feed_ampacity(design: Design) -> float | None:
    """What the old feed's wire carries [A], by the largest standard size within it; `None` where it is not surveyed.

    Args:
        design: the design.
    """
    area_mm2 = design.old_link.feed_mm2
    sizes = [
        item for item in conductors() if item.system == "metric" and area_mm2 is not None and item.area_mm2 <= area_mm2
    ]
    if not sizes:
        return None
    amps, _ = ampacity(Cable(kind="cable", size=sizes[-1].size, length_m=1.0), design.choices.ampacity_school)
    return amps
