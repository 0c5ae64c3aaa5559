"""Drills that `assess` and the size ladder answer.

- `size_drill`, `isolation_drill`, `fuse_drill`, `keeps_up_drill`: one each, or `None` where a vehicle asks nothing.
"""

from __future__ import annotations

from collections.abc import Sequence

from olvask.core.analyses.size_ladder import LadderRow, size_ladder
from olvask.core.assess import assess
from olvask.core.catalogue import device
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.model.base import word_of
from olvask.core.practice.chance import Chance
from olvask.core.practice.drills.drill import Answer, Item, Judged, Made, changed, facts_of, said
from olvask.core.practice.vehicles import vehicle_of

ROWS = 6  # sizes to choose from
FORGETS = {
    "protect.small": "It is too small for the current that flows.",
    "protect.large": "It lets more through than its cable may carry.",
    "protect.interrupt": "It cannot break a short circuit here.",
    "protect.missing": "The cable's end at the battery has none.",
    "nothing": "Nothing: it suits this run.",
}
PUT_BACK = ("match.daily_need", "match.need_unreachable")


def _found(design: Design, prefixes: Sequence[str]) -> list[Finding]:
    return [
        item
        for item in assess(design, remedies=False).findings
        if item.level != "note" and item.id.startswith(tuple(prefixes))
    ]


def size_drill(chance: Chance) -> Made | None:
    """The smallest size that will do for the supply run, as the ladder has it."""
    made = vehicle_of(chance)
    design = changed(made.design, {"choices.drop_percent": chance.one_of((2.0, 3.0, 4.0))})
    cable = max((item for item in design.supply.pieces if item.kind == "cable"), key=lambda item: item.length_m or 0.0)
    ladder = size_ladder(design, cable.id)
    metric = [row for row in ladder.rows if row.system == "metric"]
    right = next((item.size for item in ladder.suggestions if item.key == "smallest"), "")
    at = next((place for place, row in enumerate(metric) if row.size == right), -1)
    if at < 1 or not metric[at].enters_terminal:
        return None  # no plain question: the least that will do needs a tail
    begin = max(0, min(at - chance.one_of((1, 2, 3)), len(metric) - ROWS))
    rows = metric[begin : begin + ROWS]

    def judge(answer: Answer) -> Judged:
        row = next(item for item in rows if item.size == answer.chosen)
        best = next(item for item in rows if item.size == right)
        good = row.size == right
        text = "The smallest that will do." if good else _too(row, best)
        return Judged(right=good, text=text, working=(_worked(row), *(() if good else (_worked(best),))), better=right)

    amps = f"{ladder.continuous_a:.1f} A flow" if ladder.continuous_a is not None else ""
    return Made(
        vehicle=made.name,
        design=design,
        question=f"The supply run is {cable.length_m:g} m one-way, {word_of(cable, 'place')}; {amps}. The smallest cable that will do?",
        facts=(*facts_of(design), f"Drop allowed: {ladder.limit_percent:g} % of the system's volts"),
        items=tuple(Item(key=row.size, text=row.size) for row in rows),
        judge=judge,
    )


def _too(row: LadderRow, best: LadderRow) -> str:
    return (
        row.verdict_text
        if row.verdict in ("stop", "caution")
        else f"It will do, and so does {best.size}, which is smaller."
    )


def _worked(row: LadderRow) -> str:
    drop = f"{row.drop_v:.2f} V, {row.drop_percent:.1f} %" if row.drop_v is not None else "nothing flows"
    return f"{row.size}: drop {drop}; may carry {row.ampacity_a:.0f} A. {row.verdict_text}"


def isolation_drill(chance: Chance) -> Made:
    """Whether a unit that joins the negatives may go here."""
    made = vehicle_of(chance)
    body = chance.one_of(("metal_bonded", "metal_bonded", "mixed", "boat", "unknown"))
    trailer = chance.happens(0.25)
    bonding = chance.one_of((None, None, 2.5, 6.0, 45.0))
    design = changed(
        made.design,
        {
            "vehicle.chassis.body": body,
            "vehicle.chassis.trailer": trailer,
            "vehicle.chassis.bonding_mohm": bonding,
            "charger.isolated": False,
        },
    )
    wanted = _found(design, ("match.isolated_wanted", "match.isolation_needed", "match.no_common_negative"))
    notes = [item for item in assess(design, remedies=False).findings if item.id == "match.isolation"]
    needs = bool(wanted)

    def judge(answer: Answer) -> Judged:
        return Judged(
            right=(answer.chosen == "isolated") == needs,
            text=(wanted or notes)[0].title if wanted or notes else "Either kind suits.",
            working=said(wanted or notes),
            better="isolated" if needs else "either",
        )

    words = {"metal_bonded": "metal, bonded", "mixed": "mixed or composite", "boat": "a boat's", "unknown": "not known"}
    measured = f"{bonding:g} mΩ between the negatives, measured" if bonding is not None else "negatives not measured"
    return Made(
        vehicle=made.name,
        design=design,
        question="Has the unit to be isolated here, or may one that joins the negatives go in?",
        facts=(
            facts_of(design)[0],
            f"Body: {words[body]}; {measured}",
            "The auxiliary battery rides on a trailer" if trailer else "Both batteries are in the vehicle",
        ),
        items=(
            Item(key="isolated", text="Isolated: the negatives are not one, or nobody has proven it"),
            Item(key="either", text="Either kind: the negatives are one"),
        ),
        judge=judge,
    )


def fuse_drill(chance: Chance) -> Made | None:
    """What the device of the supply run forgets, if anything."""
    made = vehicle_of(chance)
    at = next(place for place, item in enumerate(made.design.supply.pieces) if item.kind == "device")
    family, rating = chance.one_of(
        (
            ("blade", 30.0),
            ("sf30", 30.0),
            ("cube", 30.0),
            ("cube", 200.0),
            ("cube", 60.0),
            ("", 0.0),
            ("blade", 40.0),
            ("sf30", 60.0),
        )
    )
    pieces = made.design.model_dump(mode="json")["supply"]["pieces"]
    if family:
        pieces[at] |= {"family": family, "rating_a": rating}
        what = f"{device(family, rating).label} {rating:g} A"
    else:
        pieces = [item for place, item in enumerate(pieces) if place != at]
        what = "no device at all"
    design = changed(made.design, {"supply.pieces": pieces})
    found = _found(design, tuple(key for key in FORGETS if key != "nothing"))
    keys = {key for key in FORGETS if any(item.id.startswith(key) for item in found)} or {"nothing"}
    others = _found(design, ("protect.",))
    if keys == {"nothing"} and others:
        return None  # something lesser speaks against it: no plain question

    def judge(answer: Answer) -> Judged:
        words = " ".join(FORGETS[key] for key in FORGETS if key in keys)
        return Judged(right=answer.chosen in keys, text=words, working=said(found), better=next(iter(sorted(keys))))

    cables = [item for item in design.supply.pieces if item.kind == "cable"]
    longest = max(cables, key=lambda item: item.length_m or 0.0)
    idle = assess(design, remedies=False).conditions
    amps = next((item.input_a for item in idle if item.key == "idle" and item.input_a), 0.0)
    return Made(
        vehicle=made.name,
        design=design,
        question=f"The supply run is {longest.size}, {longest.length_m:g} m, and has {what} at the start battery. What does it forget?",
        facts=(*facts_of(design), f"{amps:.1f} A flow at full current, hot idle"),
        items=tuple(Item(key=key, text=text) for key, text in FORGETS.items()),
        judge=judge,
    )


def keeps_up_drill(chance: Chance) -> Made:
    """Whether a day's driving puts a day's use back."""
    made = vehicle_of(chance)
    use = {
        "use.daily_ah": float(round(chance.between(15, 110))),
        "use.drive_h": chance.one_of((0.5, 1.0, 1.5, 2.0, 3.0, 4.5)),
        "use.loads_driving_a": chance.one_of((0.0, 0.0, 3.0, 8.0)),
    }
    design = changed(made.design, use)
    short = _found(design, PUT_BACK)
    floor = assess(design, remedies=False).figures.get("match.daily_floor_a")

    def judge(answer: Answer) -> Judged:
        gives = f"It takes {floor.value:.1f} A all the while." if floor is not None and floor.value is not None else ""
        text = "A day's use is not put back." if short else "A day's use is put back."
        return Judged(
            right=(answer.chosen == "no") == bool(short),
            text=f"{text} {gives}".strip(),
            working=(*((floor.working,) if floor is not None else ()), *said(short)),
            better="no" if short else "yes",
        )

    loads = f", {use['use.loads_driving_a']:g} A of it while driving" if use["use.loads_driving_a"] else ""
    return Made(
        vehicle=made.name,
        design=design,
        question=f"{use['use.daily_ah']:g} Ah are used a day{loads}; it is driven {use['use.drive_h']:g} h a day. Does it keep up?",
        facts=facts_of(design),
        items=(Item(key="yes", text="Yes: driving puts it back"), Item(key="no", text="No: it runs down")),
        judge=judge,
    )
