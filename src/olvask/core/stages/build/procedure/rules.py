"""What comes before what, and why: laws over what steps do, and what this design's records and shop ask besides.

- `laws_for`: all that hold for a design.
- `rules_for`: the rules they make between its steps, and the shop's own.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from olvask.core.model import Design
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Does, Law, Rule, Step

SIDES = ("start", "auxiliary")


def _law(before: tuple[Does, str], after: tuple[Does, str], why: str) -> Law:
    return Law(Act(*before), Act(*after), why)


ALWAYS = (
    _law(("off", "loads"), ("part", ""), "A clamp taken off under load draws an arc."),
    _law(("off", "inverter"), ("part", ""), "An inverter at work draws hundreds of amperes through that clamp."),
    _law(("off", "mains"), ("part", ""), "A mains charger would feed the leads with no battery to hold it."),
    _law(("off", "traction"), ("part", ""), "Its DC converter would hold the leads up with no battery to steady it."),
    _law(("off", "traction"), ("prove_dead", ""), "A DC converter that wakes makes the 12 V side live again."),
    _law(("off", "trailer"), ("prove_dead", ""), "A battery on the trailer feeds back."),
    _law(("off", "gas"), ("part", ""), "No spark while gas can be about."),
    _law(("off", "gas"), ("hands", "drill"), "Nothing is drilled while gas can be about."),
    *(
        law
        for side in SIDES
        for law in (
            _law(
                ("part", f"{side} −"), ("part", f"{side} +"), "Negative first: a spanner that slips then does nothing."
            ),
            _law(("join", f"{side} +"), ("join", f"{side} −"), "Positive first, negative last."),
        )
    ),
    _law(("part", "start −"), ("prove_dead", "auxiliary"), "A link would hold the auxiliary side live."),
    _law(("part", "auxiliary −"), ("prove_dead", "start"), "A link would hold the start side live."),
    _law(("part", "start −"), ("prove_dead", "start"), "With its battery on it is not dead."),
    _law(("part", "start +"), ("prove_dead", "start"), "Proof comes after the last clamp."),
    _law(("part", "auxiliary −"), ("prove_dead", "auxiliary"), "With its battery on it is not dead."),
    _law(("part", "auxiliary +"), ("prove_dead", "auxiliary"), "Proof comes after the last clamp."),
    _law(("part", "auxiliary −"), ("wait", "inverter"), "Its capacitors only fall once the battery is off."),
    _law(("wait", "inverter"), ("prove_dead", "auxiliary"), "Its capacitors hold the leads up."),
    _law(("prove_dead", "start"), ("hands", ""), "No hand on a conductor that is not proven dead."),
    _law(("prove_dead", "auxiliary"), ("hands", ""), "No hand on a conductor that is not proven dead."),
    _law(("part", "start −"), ("wait", "airbag"), "Its store empties only once the battery is off."),
    _law(("wait", "airbag"), ("seat_out", ""), "An airbag can fire until its store is empty."),
    _law(("part", "start −"), ("seat_out", ""), "No seat is unplugged with the battery on."),
    _law(("seat_out", ""), ("seat_plugs", ""), "What is out goes back."),
    _law(("seat_plugs", ""), ("join", "start −"), "No seat is plugged in with the battery on."),
    _law(("hands", ""), ("join", ""), "No battery goes on while hands are in it."),
    _law(("check", "torque"), ("join", ""), "The last look is with nothing live."),
    *(
        law
        for run, side in (("supply", "start"), ("delivery", "auxiliary"))
        for law in (
            _law(("check", f"through {run}"), ("join", ""), "Crossed ends cost the unit once a battery is on."),
            _law(("check", f"short {run}"), ("join", ""), "A short flashes once a battery is on."),
            _law(("join", f"{side} +"), ("check", f"polarity {side}"), "There are no volts before the battery is on."),
            _law(("join", f"{side} −"), ("check", f"polarity {side}"), "There are no volts before the battery is on."),
            _law(("check", f"polarity {side}"), ("insert", side), "Right way round before the device goes in."),
            _law(("insert", side), ("insert", f"tail {run}"), "The run is alive and right before its tails."),
            _law(("join", f"{side} −"), ("insert", side), "The device goes in last."),
        )
    ),
    _law(("hands", ""), ("check", ""), "What is checked is finished."),
    _law(("join", "auxiliary −"), ("on", "mains"), "A charger finds its battery first."),
    _law(("insert", ""), ("on", "mains"), "Mains comes after everything on the other side is closed up."),
    _law(("join", ""), ("on", "loads"), "Loads come back to a battery."),
    _law(("insert", ""), ("on", "loads"), "Loads come back when everything is closed up."),
    _law(("insert", "start"), ("insert", "relay"), "The relay gets its volts when the runs are right."),
    _law(("join", "start −"), ("on", ""), "A source comes back to its battery."),
    _law(("insert", ""), ("on", "gas"), "The last spark is over."),
    _law(("key", "firmware"), ("key", "sheet"), "An update can throw settings away."),
    _law(("join", "auxiliary −"), ("key", "device"), "It has no volts before its battery is on."),
    _law(("key", "sheet"), ("key", "code"), "Set up first, locked after."),
)


def laws_for(scene: Scene) -> Iterator[Law]:
    """Every law that holds for a design."""
    yield from ALWAYS
    yield from _sun(scene.design)
    yield from _order_of_sides(scene.design)
    yield from _leave(scene.design)


def _sun(design: Design) -> Iterator[Law]:
    solar = design.solar
    if solar.panel_w is not None:
        side = "start" if solar.into == "start_side" else "auxiliary"
        ruin = "Sun off before its controller loses its battery."
        yield Law(
            Act("off", "solar"), Act("part", f"{side} −"), ruin if solar.into == "controller" else "It feeds the leads."
        )
        yield Law(Act("off", "solar"), Act("part", f"{side} +"), "It feeds the leads.")
        yield Law(Act("off", "solar"), Act("prove_dead"), "It holds the leads live.")
        yield Law(Act("join", f"{side} −"), Act("on", "solar"), "A controller must find its battery before its panel.")
        if solar.into == "second_input":
            why = "A unit with two inputs gets the sun last."
            yield Law(Act("insert", "start"), Act("on", "solar"), why, "record")
            yield Law(Act("insert", "auxiliary"), Act("on", "solar"), why, "record")
    for item in design.vehicle.lifters:
        for law in ("part", "prove_dead"):
            to = "start −" if law == "part" else "start"
            yield Law(Act("off", f"lifter.{item.id}"), Act(law, to), "It holds the start side live.")


def _order_of_sides(design: Design) -> Iterator[Law]:
    """Which side the unit meets first, and when it can be keyed in."""
    unit = design.charger
    if unit is None:
        yield Law(Act("insert", "start"), Act("insert", "auxiliary"), "Start side first.", "habit")
        return
    behaviour = unit.behaviour
    if behaviour.connect_first == "auxiliary_side":
        why = f"{unit.name} wants the auxiliary battery first, as its record says."
        yield Law(Act("insert", "auxiliary"), Act("insert", "start"), why, "record")
        first, second = "auxiliary", "start"
    else:
        said = behaviour.connect_first == "start_side"
        why = (
            f"{unit.name} wants the start side first, as its record says."
            if said
            else "Start side first, so that it can be set up."
        )
        yield Law(Act("insert", "start"), Act("insert", "auxiliary"), why, "record" if said else "habit")
        first, second = "start", "auxiliary"
    yield Law(Act("insert", first), Act("key"), "It is set up once it has volts.")
    if behaviour.wake_v is not None:
        asleep = f"It sleeps until its input has {behaviour.wake_v:g} V."
        yield Law(Act("insert", "start"), Act("key"), asleep, "record")
    alone = behaviour.wake_v is None and behaviour.enable_when == "" and not design.plugged
    if first == "start" or alone:  # the auxiliary side alone is enough to key it in
        why = f"Set for this battery before it meets the {second} side."
        yield Law(Act("key", "sheet"), Act("insert", second), why, "habit")
    if design.plugged:
        yield Law(Act("insert", "start"), Act("plug", "trailer"), "The plug is joined with nothing drawing.")
        yield Law(Act("plug", "trailer"), Act("key"), "It has no volts before the plug is in.")


def _leave(design: Design) -> Iterator[Law]:
    """When it is given leave to charge."""
    unit = design.charger
    behaviour = unit.behaviour if unit is not None else None
    yield Law(Act("insert", "start"), Act("enable"), "Leave to charge comes after the volts.")
    if behaviour is not None and behaviour.enable_when == "before_keying":
        why = "It can be set up only while it is enabled, as its record says."
        yield Law(Act("enable"), Act("key"), why, "record")
        return
    why = "Leave to charge comes last, when everything else is in place."
    for act in (Act("insert"), Act("key"), Act("plug"), Act("on", "solar")):
        yield Law(act, Act("enable"), why, "habit" if act.does == "on" else "physics")
    for item in design.vehicle.lifters:
        yield Law(Act("on", f"lifter.{item.id}"), Act("enable"), why, "habit")


def rules_for(scene: Scene, steps: Sequence[Step]) -> Iterator[Rule]:
    """The rules between these steps."""
    for law in laws_for(scene):
        yield from law.rules(steps)
    yield from _work(steps)
    yield from _old_chargers(scene)
    for own in scene.design.own_steps:
        key, why = f"own.{own.id}", own.why or "As the shop does it."
        if own.after:
            yield Rule(before=own.after, after=key, why=why, origin="shop")
        if own.before:
            yield Rule(before=key, after=own.before, why=why, origin="shop")


def _work(steps: Sequence[Step]) -> Iterator[Rule]:
    """Cables laid before their ends are crimped, ends crimped before they are bolted; a unit is fixed before it is wired."""
    keys = {step.key for step in steps}
    for step in steps:
        kind, _, place = step.key.partition(".")
        if kind == "end" and f"route.{place}" in keys:
            yield Rule(
                before=f"route.{place}",
                after=step.key,
                why="Laid first: its length is what the route asks.",
                origin="habit",
            )
        if kind == "bolt":
            yield Rule(before=f"end.{place}", after=step.key, why="A crimped end before a bolted one.", origin="habit")
            yield Rule(before="mount.unit", after=step.key, why="What it goes to is fixed first.", origin="habit")
        if kind == "route" and "mount.holes" in keys:
            yield Rule(before="mount.holes", after=step.key, why="Grommets before cables.", origin="habit")


def _old_chargers(scene: Scene) -> Iterator[Rule]:
    """Capacitors only after every positive and every negative is off and proven dead."""
    for item in scene.design.taken_out:
        at = f"out.{item.id}"
        for before, after, why in (
            (f"{at}.positives", f"{at}.proof", "Every positive is off before the proof."),
            (f"{at}.negatives", f"{at}.proof", "Every return is off before the proof."),
            (f"{at}.proof", f"{at}.capacitors", "Capacitors only after every lead is off and proven dead."),
            (f"{at}.capacitors", at, "Empty before it is handled."),
        ):
            yield Rule(before=before, after=after, why=why, origin="physics")
