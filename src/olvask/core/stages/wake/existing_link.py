"""What was there before: two sources of charge must not fight over one battery.

- `plan_existing_link`: the decision with its reasons, every load before and after, what is lost.
- `judge_existing_link`: findings on it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import WORKING_CHARGE, Solved, solve
from olvask.core.findings.collector import Judged
from olvask.core.findings.driven import of_its_drive
from olvask.core.findings.finding import Found, Remedy, caution, stop
from olvask.core.findings.listed import capital
from olvask.core.findings.remedy import remedy
from olvask.core.findings.said import Said
from olvask.core.model import Design, Existing
from olvask.core.model.vehicle import CARRIES
from olvask.core.physics.conductors import geometric_resistance_ohm
from olvask.core.stages.match.direct_link import LINK_RUN_OHM, link_current_a
from olvask.core.stages.survey.sums import NoAnswer, days_to_flat
from olvask.core.stages.wake.relay import RelayDesign, design_relay, existing_link_of, relay_place, thing
from olvask.core.stages.wake.relay_checks import judge_relay

MAINTAINER_A = 1.0  # the usual trickle from the auxiliary side
SPARED = 0.3  # of the auxiliary battery, for a maintainer; our own estimate
Decision = Literal["", "disconnect", "changeover", "keep"]

LABEL = {
    "disconnect": "Disconnect it and make it safe",
    "changeover": "Open it by a relay while the engine runs",
    "keep": "Keep the link, without a charger",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadRow:
    """What powers one thing, engine off and running, before and after."""

    name: str
    before_off: str
    before_running: str
    after_off: str
    after_running: str
    lost: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LinkChoice:
    """One of the three decisions, with what speaks for or against it here."""

    key: Literal["disconnect", "changeover", "keep"]
    label: str
    recommended: bool
    reason: str
    take: Remedy


class ExistingLinkPlan(Said):
    """What becomes of the old link."""

    there: str = Field(description="what was found; empty where there is no link")
    decision: Decision
    choices: tuple[LinkChoice, ...]
    relay: RelayDesign | None
    rows: tuple[LoadRow, ...]
    lost: tuple[str, ...]
    make_safe: tuple[str, ...]
    standing: str = Field(description="how long the start battery stands without upkeep")


def wanted_decision(design: Design, link: Existing) -> tuple[Literal["disconnect", "changeover", "keep"], str]:
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


@dataclass(frozen=True, slots=True)
class _Decided:
    """A decision and what of the old wiring stays alive with it."""

    keep: bool
    disconnect: bool
    behind: bool
    ahead: bool

    @classmethod
    def of(cls, decision: str, place: str) -> _Decided:
        relay = decision == "changeover"
        return cls(
            decision == "keep",
            decision == "disconnect",
            relay and place == "auxiliary_feed",
            relay and place == "start_feed",
        )


def _row(name: str, before: tuple[str, str], after: tuple[str, str], lost: bool = False) -> LoadRow:
    """One load: what powers it engine off and running, before and after."""
    return LoadRow(
        name=name, before_off=before[0], before_running=before[1], after_off=after[0], after_running=after[1], lost=lost
    )


def _rows(design: Design, link: Existing, solved: Solved, decision: str) -> Iterator[LoadRow]:
    output = solved.output
    decided = _Decided.of(decision, relay_place(design, link))
    mains = any(item.kind == "mains_charger" for item in design.still_fed)
    off = "mains charger, while plugged in" if mains else "nothing"
    unit = f"the unit, {output.current_a:.0f} A" if output is not None else "the link"
    linked = f"alternator through the link, {_link_a(design, solved, link):.0f} A at first"
    yield _row("Auxiliary battery, charging", (off, linked), (off, linked if decided.keep else unit))
    together, own = (
        "auxiliary battery and alternator together",
        {"panel": "panel's own link"}.get(link.kind, "old link"),
    )
    for name in _load_names(design):
        off_now = "auxiliary battery, through 30–87a" if decided.behind else "auxiliary battery"
        running = f"alternator, through the {own}" if decided.behind else "auxiliary battery and the unit"
        yield _row(name, ("auxiliary battery", together), (off_now, together if decided.keep else running))
    yield from _carried_rows(design, link, decided)
    yield _row("Start battery, engine running", ("nothing", "the alternator"), ("nothing", "the alternator"))


def _carried_rows(design: Design, link: Existing, decided: _Decided) -> Iterator[LoadRow]:
    """What the old link carries besides charging."""
    stays = decided.keep or decided.behind
    if any(item.kind == "fridge_feed" for item in design.still_fed):
        fed = ("nothing", "alternator, by its own wire")
        yield _row("Fridge on its own feed", fed, fed)
    if "fridge" in link.carries:
        fed = ("nothing", f"alternator through the {thing(link)}")
        yield _row("Fridge fed while driving", fed, fed if stays else ("nothing", "nothing"), not stays)
    if "meter" in link.carries:
        after = ("dead" if decided.disconnect else "reads", "reads" if stays else "dead")
        yield _row("Start battery meter", ("reads", "reads"), after, not stays)
    if "upkeep" in link.carries:
        charger = {"panel": "the panel's charger"}.get(link.kind, "the mains charger, through the old link")
        kept = f"{charger}, through 30–87a" if decided.ahead else charger
        off = "nothing" if decided.disconnect else kept
        before = (charger, "the alternator")
        yield _row("Start battery, upkeep from the mains", before, (off, "the alternator"), decided.disconnect)
    if "lamp" in link.carries:
        behind = "shows its own link, not the unit" if decided.behind else "dead"
        running = "shows charging" if decided.keep else behind
        yield _row(
            f"The {thing(link)}'s charging signal", ("off", "shows charging"), ("off", running), not decided.keep
        )


def _load_names(design: Design) -> list[str]:
    """Loads on the auxiliary side, each by its name and current; all together where none is listed."""
    fed = [
        (item.name, item.drawn_a(design.auxiliary.nominal_v)) for item in design.use.loads if item.fed != "converter"
    ]
    loads = [f"{capital(name)}, {round(amps, 1):g} A" for name, amps in fed]
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
            SPARED * auxiliary.capacity_ah,
        )
    except NoAnswer:
        return ""
    return (
        f"Standing, the start battery keeps its cranking charge: {days.text} A maintainer of about {MAINTAINER_A:g} A from "
        "the auxiliary side is the remedy for weeks."
    )


@of_its_drive
def plan_existing_link(design: Design) -> ExistingLinkPlan:
    """The decision on the old link, and all that follows from it.

    Args:
        design: the design; without a link in its survey the plan says so.
    """
    link = existing_link_of(design)
    if link is None:
        return ExistingLinkPlan(
            there="", decision="", choices=(), relay=None, rows=(), lost=(), make_safe=(), standing=""
        )
    solved = solve(design)
    wanted, why = wanted_decision(design, link)
    decision = design.old_link.decision or wanted
    rows = tuple(_rows(design, link, solved, decision))
    return ExistingLinkPlan(
        there=link.name or ("relay between the batteries" if link.kind == "link" else "panel with a link"),
        decision=design.old_link.decision,
        choices=tuple(
            LinkChoice(
                key=key,  # type: ignore[arg-type]  # the keys of LABEL are the choices
                label=label,
                recommended=key == wanted,
                reason=why if key == wanted else _against(design, link, key),
                take=remedy(label, ("old_link.decision", key)),
            )
            for key, label in LABEL.items()
        ),
        relay=design_relay(design, link) if decision == "changeover" else None,
        rows=rows,
        lost=tuple(_losses(rows)),
        make_safe=_make_safe(decision),
        standing=_standing(design, solved),
    )


def _against(design: Design, link: Existing, key: str) -> str:
    if key == "keep":
        if design.charger is not None:
            return "Link and unit would fight over one battery: the link ties the unit's output to its own input."
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


CONCERNS = ("old_link.decision",)
RELAY = ("old_link.relay_place",)


def judge_existing_link(ctx: Context) -> Judged:
    """Findings on a link that was there before."""
    design, link = ctx.design, existing_link_of(ctx.design)
    if link is None:
        return
    wanted, why = wanted_decision(design, link)
    take = [remedy(LABEL[wanted], ("old_link.decision", wanted))]
    decision = design.old_link.decision
    if not decision:
        if design.charger is not None:
            yield caution(
                "wake.old_link",
                "start_battery",
                "The old link is still connected",
                "It joins the batteries when the engine runs, and link and unit fight over one battery: current circulates "
                f"through both. {why}",
                take,
                CONCERNS,
            )
        return
    yield from _judge_decision(design, link, wanted, take)
    if decision == "changeover":
        relay = design_relay(design, link)
        yield from judge_relay(design, relay)
        if "fridge" in link.carries and relay.place == "start_feed":
            yield caution(
                "wake.relay_starves_fridge",
                "start_battery",
                "The fridge goes dead while driving",
                f"A relay in the start-battery feed opens just when the fridge is to run. Between the {thing(link)} and the "
                "auxiliary battery it does not.",
                [remedy(f"Put the relay behind the {thing(link)}", ("old_link.relay_place", "auxiliary_feed"))],
                RELAY,
            )


def _judge_decision(design: Design, link: Existing, wanted: str, take: list[Remedy]) -> Iterator[Found]:
    decision = design.old_link.decision
    if decision == "keep" and design.charger is not None:
        yield stop(
            "wake.old_link_fights",
            "start_battery",
            "Link and unit fight over one battery",
            "Kept, the link ties the unit's output to its own input while the engine runs: current circulates, no profile "
            "holds, and the alternator feeds the battery past the unit.",
            take,
            CONCERNS,
        )
    elif decision == "keep" and wanted != "keep":
        yield stop(
            "wake.old_link_lithium",
            "start_battery",
            "A bare link does not suit these batteries",
            "Nothing but resistance limits it, and no profile is held. Choose a unit.",
            concerns=CONCERNS,
        )
    elif decision == "disconnect" and wanted == "changeover":
        lost = ", ".join(CARRIES[item] for item in link.carries)
        yield caution(
            "wake.old_link_loses",
            "start_battery",
            "Cutting the link loses more than charging",
            f"It also carries: {lost}. Say so to the customer, or open it by a relay.",
            take,
            CONCERNS,
        )
