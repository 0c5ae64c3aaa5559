"""What was there before: two regimes must not fight over one battery.

- `plan_old_link`: the decision with its reasons, the relay, every load before and after, what is lost.
- `judge_old_link`: findings on it.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import conductors, devices
from olvask.core.circuit.solve import WORKING_CHARGE, Solved, ampacity, solve
from olvask.core.findings.assessment import LinkChoice, LoadRow, OldLinkPlan, RelayDesign, RelayTerminal
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Cable, Design
from olvask.core.model.vehicle import Existing
from olvask.core.physics.conductors import geometric_resistance_ohm
from olvask.core.stages.match.direct_link import LINK_RUN_OHM, link_current_a
from olvask.core.stages.run.protection import CONTINUOUS_FACTOR
from olvask.core.stages.survey.sums import NoAnswer, days_to_flat

# Break contacts (30-87a) of changeover relays for vehicles; forms of ISO 7588-1 up to 30 A, power relays above.
BREAK_CONTACT_A = (10.0, 15.0, 20.0, 30.0, 40.0, 60.0)
COIL_MA = {12: 160.0, 24: 90.0}  # about 85 and 300 ohms
D_PLUS_MA = {12: 300.0, 24: 200.0}  # beside the charge lamp; the alternator's maker says more
SUPPRESSION_OHM = {12: 680.0, 24: 2700.0}
ENABLE_MA = 10.0  # a unit's enable input
COIL_FUSE_A = 3.0
METER_A = 1.0  # a sense wire, with room
LIVING_A = 20.0
RUNNING_V = 14.0  # per 12 V, across a coil
MAINTAINER_A = 1.0

LABEL = {
    "disconnect": "Disconnect it and make it safe",
    "changeover": "Open it by a relay while the engine runs",
    "keep": "Keep the link, without a charger",
}
PLACE_TEXT = {
    "start_feed": "in the start-battery feed of the panel",
    "auxiliary_feed": "between the panel and the auxiliary battery",
}
CARRIES = {
    "meter": "start battery meter",
    "fridge": "fridge feed while driving",
    "upkeep": "upkeep of the start battery from the mains",
    "lamp": "the panel's charging signal",
}


def old_link_of(design: Design) -> Existing | None:
    """The link found in the survey, a relay or a panel with one."""
    return next((item for item in design.existing if item.kind in ("link", "panel")), None)


def wanted_decision(design: Design, link: Existing) -> tuple[str, str]:
    """What should become of it, and why.

    Args:
        design: the design.
        link: what was found.
    """
    lead = design.auxiliary.chemistry != "lfp" and design.vehicle.start_battery.chemistry != "lfp"
    if design.charger is None and lead and design.auxiliary.nominal_v == design.vehicle.system_v:
        return "keep", "No charger is chosen and both batteries are lead: the link may stay, unregulated as it is."
    needed = [CARRIES[item] for item in link.carries if item != "lamp"]
    if needed:
        return "changeover", f"Besides charging it carries: {', '.join(needed)}. Cut, that would be lost."
    return "disconnect", "Its start-battery feed does nothing but charge, and the unit does that now."


def _relay_place(design: Design, link: Existing) -> str:
    """Where the relay has to sit: a fridge fed while driving needs the panel's own link left in."""
    if design.old_link.relay_place:
        return design.old_link.relay_place
    return "auxiliary_feed" if "fridge" in link.carries else "start_feed"


def _duty(design: Design, link: Existing, place: str) -> tuple[float, str]:
    """Continuous current of the contact [A], and where it comes from."""
    chosen = design.old_link
    if place == "start_feed":
        if chosen.feed_a is not None:
            return chosen.feed_a, "own"
        if "upkeep" in link.carries:
            return max(METER_A, link.charge_a or 10.0), "own" if link.charge_a is not None else "default"
        return METER_A, "default"
    if chosen.living_a is not None:
        return chosen.living_a, "own"
    summed_a = sum(load.current_a for load in design.use.loads)
    return (summed_a, "computed") if summed_a > 0 else (LIVING_A, "default")


def design_relay(design: Design, link: Existing) -> RelayDesign:
    """The changeover relay: contact, coil, fuses, suppression, terminals.

    Args:
        design: the design.
        link: the link it opens.
    """
    system_v, chosen = design.vehicle.system_v, design.old_link
    place = _relay_place(design, link)
    duty_a, duty_from = _duty(design, link, place)
    coil_ma = chosen.coil_ma if chosen.coil_ma is not None else COIL_MA[system_v]
    d_plus_ma = chosen.d_plus_ma if chosen.d_plus_ma is not None else D_PLUS_MA[system_v]
    across_v = RUNNING_V * system_v / 12
    suppression_ohm = SUPPRESSION_OHM[system_v]
    enable_ma = ENABLE_MA if "d_plus" in design.activation.methods else 0.0
    total_ma = coil_ma + 1000 * across_v / suppression_ohm + enable_ma
    contact_a = next((rating for rating in BREAK_CONTACT_A if rating >= CONTINUOUS_FACTOR * duty_a - 1e-9), None)
    ratings = sorted(item.rating_a for item in devices() if item.family == "blade")
    fuse_a = next((rating for rating in ratings if rating >= CONTINUOUS_FACTOR * duty_a - 1e-9), None)
    coming, going = (
        ("start-battery feed, behind its fuse", "the panel's start-battery terminal")
        if place == "start_feed"
        else ("auxiliary battery, behind its fuse", "the panel's battery terminal")
    )
    return RelayDesign(
        place=place,  # type: ignore[arg-type]
        place_text=PLACE_TEXT[place],
        duty_a=duty_a,
        duty_from=duty_from,
        contact_a=contact_a,
        contact_fuse_a=fuse_a,
        coil_ma=coil_ma,
        total_ma=total_ma,
        d_plus_ma=d_plus_ma,
        coil_fits=total_ma <= d_plus_ma,
        coil_fuse_a=COIL_FUSE_A,
        suppression=f"{suppression_ohm:.0f} Ω across 86 and 85, or a diode with its cathode at 86: else the coil kicks back into D+",
        terminals=(
            RelayTerminal(terminal="30", goes_to=coming),
            RelayTerminal(terminal="87a", goes_to=going),
            RelayTerminal(terminal="87", goes_to="nothing; insulated"),
            RelayTerminal(terminal="86", goes_to=f"D+ (61), behind a {COIL_FUSE_A:g} A fuse at the tap"),
            RelayTerminal(terminal="85", goes_to="negative (31)"),
        ),
        if_broken="With the D+ wire broken the relay rests and the link stays closed while the engine runs: both regimes feed one "
        "battery again. Prove it: running, no volts may pass from 30 to 87a.",
    )


def _rows(design: Design, link: Existing, solved: Solved, decision: str) -> Iterator[LoadRow]:
    carries, output = set(link.carries), solved.output
    mains = any(item.kind == "mains_charger" for item in design.existing)
    off = "mains charger, while plugged in" if mains else "nothing"
    unit = f"the unit, {output.current_a:.0f} A" if output is not None else "the link"
    linked = f"alternator through the link, {_link_a(design, solved, link):.0f} A at first"
    place = _relay_place(design, link)
    kept = decision == "keep"
    behind = decision == "changeover" and place == "auxiliary_feed"
    ahead = decision == "changeover" and place == "start_feed"
    yield LoadRow(
        name="Auxiliary battery, charging",
        before_off=off,
        before_running=linked,
        after_off=off,
        after_running=linked if kept else unit,
        lost=False,
    )
    together = "auxiliary battery and alternator together"
    for name in _load_names(design):
        yield LoadRow(
            name=name,
            before_off="auxiliary battery",
            before_running=together,
            after_off="auxiliary battery, through 30–87a" if behind else "auxiliary battery",
            after_running=together
            if kept
            else "alternator, through the panel's own link"
            if behind
            else "auxiliary battery and the unit",
            lost=False,
        )
    if any(item.kind == "fridge_feed" for item in design.existing):
        own = "alternator, by its own wire"
        yield LoadRow(
            name="Fridge on its own feed",
            before_off="nothing",
            before_running=own,
            after_off="nothing",
            after_running=own,
            lost=False,
        )
    if "fridge" in carries:
        fed = "alternator through the panel"
        lost = not (kept or behind)
        yield LoadRow(
            name="Fridge fed while driving",
            before_off="nothing",
            before_running=fed,
            after_off="nothing",
            after_running="nothing" if lost else fed,
            lost=lost,
        )
    if "meter" in carries:
        yield LoadRow(
            name="Start battery meter",
            before_off="reads",
            before_running="reads",
            after_off="dead" if decision == "disconnect" else "reads",
            after_running="reads" if kept or behind else "dead",
            lost=not (kept or behind),
        )
    if "upkeep" in carries:
        yield LoadRow(
            name="Start battery, upkeep from the mains",
            before_off="the panel's charger",
            before_running="alternator",
            after_off="nothing"
            if decision == "disconnect"
            else "the panel's charger, through 30–87a"
            if ahead
            else "the panel's charger",
            after_running="alternator",
            lost=decision == "disconnect",
        )
    if "lamp" in carries:
        yield LoadRow(
            name="The panel's charging signal",
            before_off="off",
            before_running="shows charging",
            after_off="off",
            after_running="shows charging" if kept else "shows its own link, not the unit" if behind else "dead",
            lost=not kept,
        )
    yield LoadRow(
        name="Start battery, engine running",
        before_off="nothing",
        before_running="alternator",
        after_off="nothing",
        after_running="alternator",
        lost=False,
    )


def _load_names(design: Design) -> list[str]:
    """Loads on the auxiliary side, each by its name and current; all together where none is listed."""
    loads = [f"{load.name[0].upper()}{load.name[1:]}, {load.current_a:g} A" for load in design.use.loads]
    return loads or ["Loads on the auxiliary side"]


def _link_a(design: Design, solved: Solved, link: Existing) -> float:
    """What the link passes at hot idle at first [A]; its wire as surveyed, out and back alike."""
    wire_ohm = LINK_RUN_OHM
    if link.wire_m is not None and link.wire_mm2 is not None:
        wire_ohm = geometric_resistance_ohm(2 * link.wire_m, link.wire_mm2)
    return link_current_a(design, solved, wire_ohm)[0]


def _standing(design: Design, solved: Solved) -> str:
    start, auxiliary = design.vehicle.start_battery, design.auxiliary
    try:
        days = days_to_flat(
            start.chemistry,
            start.capacity_ah,
            WORKING_CHARGE,
            min(design.choices.keep_state_of_charge, WORKING_CHARGE - 0.01),
            float(solved.facts.standing_drain.value),
            MAINTAINER_A,
            0.3 * auxiliary.capacity_ah,
        )
    except NoAnswer:
        return ""
    return f"Standing, the start battery keeps its cranking charge: {days.text} A maintainer of about {MAINTAINER_A:g} A from the auxiliary side is the remedy for weeks."


def plan_old_link(design: Design) -> OldLinkPlan:
    """The decision on the old link, and all that follows from it.

    Args:
        design: the design; without a link in its survey the plan says so.
    """
    link = old_link_of(design)
    if link is None:
        return OldLinkPlan(there="", decision="", choices=(), relay=None, rows=(), lost=(), make_safe=(), standing="")
    solved = solve(design)
    wanted, why = wanted_decision(design, link)
    decision = design.old_link.decision or wanted
    rows = tuple(_rows(design, link, solved, decision))
    relay = design_relay(design, link) if decision == "changeover" else None
    return OldLinkPlan(
        there=link.name or ("relay between the batteries" if link.kind == "link" else "panel with a link"),
        decision=design.old_link.decision,
        choices=tuple(
            LinkChoice(
                key=key,  # type: ignore[arg-type]
                label=LABEL[key],
                recommended=key == wanted,
                reason=why if key == wanted else _against(design, link, key),
                take=way_out(LABEL[key], ("old_link.decision", key)),
            )
            for key in LABEL
        ),
        relay=relay,
        rows=rows,
        lost=tuple(_losses(rows)),
        make_safe=_make_safe(decision),
        standing=_standing(design, solved),
    )


def _against(design: Design, link: Existing, key: str) -> str:
    if key == "keep":
        if design.charger is not None:
            return "Two regimes would fight over one battery: the link shorts the unit's output back to its own input."
        return "Nothing limits a link into lithium but resistance: more than the alternator stands at hot idle."
    if key == "disconnect":
        lost = [CARRIES[item] for item in link.carries]
        return (
            f"It would cost: {', '.join(lost)}."
            if lost
            else "There would be nothing left to charge the auxiliary battery."
        )
    return "A relay for a feed that does nothing but charge: one more thing to fail."


def _losses(rows: tuple[LoadRow, ...]) -> Iterator[str]:
    for row in rows:
        if row.lost and row.before_running != row.after_running:
            yield f"{row.name}: {row.after_running} while the engine runs, was: {row.before_running}"
        if row.lost and row.before_off != row.after_off:
            yield f"{row.name}: {row.after_off} with the engine off, was: {row.before_off}"


def _make_safe(decision: str) -> tuple[str, ...]:
    if decision == "disconnect":
        return (
            "Take the fuse of the old feed out at the start battery first, then the feed off its stud.",
            "Insulate and tie back both ends; label them as dead, with the date.",
            "Take the relay's coil wire off too: a relay left to click misleads the next fitter.",
            "Prove it: engine running, no volts on the old feed.",
        )
    if decision == "changeover":
        return (
            "Isolate both batteries, negative first, before the feed is cut.",
            "Fuse the feed at each battery it leaves, the coil at its tap.",
            "Prove it: engine off, 30 to 87a closed; running, open.",
        )
    return ("Check the link's fuse at both ends and the size of its cable against what it passes at first.",)


def judge_old_link(design: Design, ledger: Ledger) -> None:
    """Findings on a link that was there before.

    Args:
        design: the design.
        ledger: where findings go.
    """
    link = old_link_of(design)
    if link is None:
        return
    wanted, why = wanted_decision(design, link)
    chosen = design.old_link.decision
    take = [way_out(LABEL[wanted], ("old_link.decision", wanted))]
    if not chosen:
        if design.charger is not None:
            ledger.finding(
                "wake.old_link",
                "caution",
                "wake",
                "start_battery",
                "The old link is still in",
                "It joins the batteries when the engine runs and fights the unit over one battery: current goes round through "
                f"both. {why}",
                take,
            )
        return
    if chosen == "keep" and design.charger is not None:
        ledger.finding(
            "wake.old_link_fights",
            "stop",
            "wake",
            "start_battery",
            "Link and unit fight over one battery",
            "Kept, the link ties the unit's output to its own input while the engine runs: current circulates, no profile "
            "holds, and the alternator feeds the battery past the unit.",
            take,
        )
    elif chosen == "keep" and wanted != "keep":
        ledger.finding(
            "wake.old_link_lithium",
            "stop",
            "wake",
            "start_battery",
            "A bare link does not suit these batteries",
            "Nothing but resistance limits it, and no profile is held. Choose a unit.",
        )
    elif chosen == "disconnect" and wanted == "changeover":
        lost = ", ".join(CARRIES[item] for item in link.carries)
        ledger.finding(
            "wake.old_link_loses",
            "caution",
            "wake",
            "start_battery",
            "Cutting the link loses more than charging",
            f"It also carries: {lost}. Say so to the customer, or open it by a relay.",
            take,
        )
    if chosen == "changeover":
        relay = design_relay(design, link)
        _judge_relay(design, relay, ledger)
        _judge_feed(design, relay, ledger)
        if "fridge" in link.carries and _relay_place(design, link) == "start_feed":
            ledger.finding(
                "wake.relay_starves_fridge",
                "caution",
                "wake",
                "start_battery",
                "The fridge goes dead while driving",
                "A relay in the start-battery feed opens just when the fridge is to run. Between panel and auxiliary battery it does not.",
                [way_out("Put the relay behind the panel", ("old_link.relay_place", "auxiliary_feed"))],
            )


def _judge_relay(design: Design, relay: RelayDesign, ledger: Ledger) -> None:
    if relay.contact_a is None:
        ledger.finding(
            "wake.relay_contact",
            "stop",
            "wake",
            "start_battery",
            "No break contact is made that large",
            f"{relay.duty_a:.0f} A asks for {CONTINUOUS_FACTOR * relay.duty_a:.0f} A on 87a; {BREAK_CONTACT_A[-1]:.0f} A is the largest. "
            "Split the loads over two relays, or put it in the start-battery feed.",
            [way_out("Put the relay in the start-battery feed", ("old_link.relay_place", "start_feed"))]
            if relay.place == "auxiliary_feed"
            else [],
        )
    if not relay.coil_fits:
        ledger.finding(
            "wake.relay_coil",
            "caution",
            "wake",
            "alternator",
            "The coil is too much for D+",
            f"Coil, suppression and enable draw {relay.total_ma:.0f} mA, D+ gives {relay.d_plus_ma:.0f} mA: the charge lamp may glow "
            "or the alternator not excite. Take a relay with a lighter coil, or drive it by a small one.",
        )
    if not design.vehicle.signals.d_plus:
        ledger.finding(
            "wake.relay_signal",
            "caution",
            "wake",
            "alternator",
            "No D+ surveyed for the relay's coil",
            "The relay opens by a line that is live only while the engine runs. Find it and note it; an ignition feed opens it "
            "with the key on and the engine off as well.",
            [way_out("It is there: note it in the survey", ("vehicle.signals.d_plus", True))],
        )


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


def _judge_feed(design: Design, relay: RelayDesign, ledger: Ledger) -> None:
    carries_a = feed_ampacity(design)
    if carries_a is None or relay.contact_fuse_a is None or relay.contact_fuse_a <= carries_a:
        return
    ledger.finding(
        "wake.relay_wire",
        "stop",
        "wake",
        "start_battery",
        "The feed's wire is too thin for its fuse",
        f"{relay.duty_a:.0f} A wants a {relay.contact_fuse_a:.0f} A fuse; {design.old_link.feed_mm2:g} mm² carries {carries_a:.0f} A. "
        "Take a thicker wire through the relay.",
    )
