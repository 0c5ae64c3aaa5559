"""The first part of the work: prepare, make safe, take out."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.findings.listed import counted
from olvask.core.stages.build.found import called
from olvask.core.stages.build.procedure.scene import DEAD_V, Scene
from olvask.core.stages.build.procedure.step import Act, Expected, Hazard, Step

AIRBAG_WAIT_S = 600.0  # longest a vehicle's maker asks for in what we have read; our own estimate where nothing is said
INVERTER_WAIT_S = 120.0  # capacitors of a large inverter through its own bleed; our own estimate
TOOLS = "insulated spanners, gloves"
SHORT = Hazard(
    sign="W012", text="A battery drives thousands of amperes into a spanner. Tools insulated, ring and watch off."
)
AIRBAG = Hazard(sign="W001", text="An airbag can fire by a meter or a spark. Only as the vehicle's maker says.")
GASSING = Hazard(sign="W002", text="Charging lead-acid vents hydrogen. Air the place, keep sparks away.")
DEAD = Expected(what="Volts, lead to body", unit="V", least=-DEAD_V, most=DEAD_V, why="Nothing feeds it from anywhere.")


def prepare(scene: Scene) -> Iterator[Step]:
    """Before anything is undone."""
    design, to_cut = scene.design, sum(not cut.there for cut in scene.cuts)
    yield Step(
        key="prepare.read",
        group="prepare",
        text="Read the makers' instructions and the findings of this design",
        why="Where a maker says otherwise, the maker is right. A design with a stop is not built.",
        acts=(Act("read"),),
    )
    yield Step(
        key="prepare.parts",
        group="prepare",
        text=f"Lay out the parts: {counted(to_cut, 'conductor')} to cut, labels printed for both ends"
        if to_cut
        else "Lay out the parts: no conductor is to be cut",
        why="A missing lug found now costs a walk, found later it costs a day.",
        see=("everything on the parts list is on the bench",),
    )
    if design.charger is not None:
        yield Step(
            key="prepare.bench",
            group="prepare",
            text=f"Try {_units(scene)} on a bench supply",
            why="A unit that is dead or set for something else is found before it is screwed down.",
            tool="bench supply, meter",
            leads_to="bench",
        )
    yield Step(
        key="prepare.park",
        group="prepare",
        text="Park level, chock it, engine off and cold, key out and away from the vehicle",
        why="Nobody starts it while hands are in it, and no key in a pocket wakes it.",
    )
    yield Step(
        key="prepare.photo",
        group="prepare",
        text="Photograph both batteries and every place that will be opened, as they are",
        why="It shows what was there before, and how it goes back.",
        photo=True,
    )
    if design.site.codes:
        yield Step(
            key="prepare.codes",
            group="prepare",
            text="Note the radio's code and the clock, close the windows, leave a door open",
            why="With the battery off they are lost, and a locked vehicle stays locked.",
        )
    if design.site.gas:
        yield Step(
            key="prepare.gas",
            group="prepare",
            text="Shut the gas at the bottle and air the vehicle",
            why="Drilling and the spark of the last connection must not meet gas. Work on gas itself is for licensed people.",
            hazard=Hazard(sign="W021", text="Gas lies low and is lit by a spark."),
            acts=(Act("off", "gas"),),
        )


def _units(scene: Scene) -> str:
    unit = scene.design.charger
    name = unit.name if unit is not None else "the unit"
    return name if scene.design.units == 1 else f"each of the {scene.design.units} × {name}"


def make_safe(scene: Scene) -> Iterator[Step]:
    """Everything off, then the batteries, negative first, then proof."""
    yield from _switch_off(scene)
    yield from _part(scene, "start", scene.design.vehicle.source_point.kind == "battery_post")
    if scene.auxiliary_there:
        yield from _part(scene, "auxiliary", True)
    if scene.inverter and scene.auxiliary_there:
        yield Step(
            key="wait.inverter",
            group="make_safe",
            text="Wait for the inverter's capacitors",
            why="They hold the auxiliary side up after its battery is off.",
            wait_s=INVERTER_WAIT_S,
            see=("volts at its leads fall towards nothing",),
            hazard=SHORT,
            acts=(Act("wait", "inverter"),),
        )
    yield _proof("start", "the start side")
    if scene.auxiliary_there:
        yield _proof("auxiliary", "the auxiliary side")
    if scene.design.site.seats:
        yield from _seats(scene)


def _switch_off(scene: Scene) -> Iterator[Step]:
    design = scene.design
    yield _off("loads", "Switch off every load on both batteries", "A clamp taken off under load draws an arc.")
    if scene.inverter:
        yield _off("inverter", "Switch the inverter off, at the inverter itself", "Its draw is the largest on board.")
    if design.vehicle.drive == "converter":
        yield Step(
            key="off.traction",
            group="make_safe",
            text="Switch the vehicle right off, pull its charging plug, and wait until it sleeps, as its maker says",
            why="Its DC converter feeds the 12 V side from the traction battery, and wakes by itself to charge or to keep the 12 V "
            "battery up.",
            see=("no lamp says ready", "0 A at the start battery"),
            hazard=Hazard(
                sign="W012",
                text="High voltage under orange covers and in orange leads: not opened, cut or probed. Work on it is for "
                "licensed people.",
            ),
            acts=(Act("off", "traction"),),
        )
    if scene.mains:
        yield Step(
            key="off.mains",
            group="make_safe",
            text="Unplug the mains lead and keep the plug in sight",
            why="A mains charger feeds the leads though both batteries are off. Mains work itself is for licensed people.",
            hazard=Hazard(sign="W012", text="230 V behind the inlet and at the charger."),
            acts=(Act("off", "mains"),),
        )
    into = design.solar.into
    if design.solar.panel_w is not None:
        where = "at the panel's own switch, or cover the panel"
        why = {
            "controller": "A controller that loses its battery while the sun shines can be ruined, and keeps its leads live.",
            "second_input": "The panel holds the unit's second input live.",
            "start_side": "The panel holds the start side live though its battery is off.",
        }[into]
        yield Step(
            key="off.solar",
            group="make_safe",
            text=f"Switch the sun off {where}",
            why=why,
            see=("0 A from the panel",),
            acts=(Act("off", "solar"),),
        )
    for item in design.vehicle.lifters:
        if item.kind == "solar" and design.solar.panel_w is not None and into == "start_side":
            continue
        name = {"solar": "panel", "maintainer": "maintainer", "other": "source"}[item.kind]
        yield _off(
            f"lifter.{item.id}",
            f"Switch off the {name} on the start battery",
            "It holds the start side live though its battery is off.",
        )
    if design.vehicle.chassis.trailer or design.plugged:
        yield Step(
            key="off.trailer",
            group="make_safe",
            text="Unplug the trailer, and cover the plug",
            why="Its battery feeds back through the plug.",
            acts=(Act("unplug", "trailer"), Act("off", "trailer")),
        )


def _off(what: str, text: str, why: str) -> Step:
    return Step(key=f"off.{what}", group="make_safe", text=text, why=why, acts=(Act("off", what),))


def _part(scene: Scene, side: str, positive: bool) -> Iterator[Step]:
    sensor = side == "start" and scene.design.vehicle.start_battery.negative_sensor
    yield Step(
        key=f"part.{side}_negative",
        group="make_safe",
        text=f"Take the negative off the {side} battery and cover it" + (", sensor and all" if sensor else ""),
        why="Negative first: a spanner that slips from it onto the body does nothing.",
        tool=TOOLS,
        hazard=SHORT,
        acts=(Act("part", f"{side} −"),),
    )
    if positive:
        yield Step(
            key=f"part.{side}_positive",
            group="make_safe",
            text=f"Take the positive off the {side} battery and cover the post",
            why="The new cable goes on it, and a covered post cannot be touched by mistake.",
            tool=TOOLS,
            hazard=SHORT,
            acts=(Act("part", f"{side} +"),),
        )


def _proof(side: str, words: str) -> Step:
    return Step(
        key=f"prove.{side}",
        group="make_safe",
        text=f"Prove {words} dead: try the meter on a live battery, measure, try it again",
        why="A forgotten source shows itself on the meter and not in a hand.",
        tool="meter",
        expected=DEAD,
        acts=(Act("prove_dead", side),),
    )


def _seats(scene: Scene) -> Iterator[Step]:
    site = scene.design.site
    if site.airbags:
        wait_s = AIRBAG_WAIT_S if site.airbag_wait_s is None else site.airbag_wait_s
        said = (
            "as the vehicle's maker says" if site.airbag_wait_s is not None else "the vehicle's maker may say otherwise"
        )
        yield Step(
            key="wait.airbag",
            group="make_safe",
            text=f"Wait for the airbag's own store to empty, {said}",
            why="It can fire for minutes after the battery is off.",
            wait_s=max(1.0, wait_s),
            hazard=AIRBAG,
            acts=(Act("wait", "airbag"),),
        )
    plugs = "unplug them as the maker says, then " if site.airbags else ""
    yield Step(
        key="seats.out",
        group="make_safe",
        text=f"Take the seats out: {plugs}note each earth strap and bolt",
        why="A seat's earth that is forgotten makes its airbag a matter of luck.",
        hazard=AIRBAG if site.airbags else None,
        photo=True,
        acts=(Act("seat_out"),),
    )


def take_out(scene: Scene) -> Iterator[Step]:
    """What goes, and what is used again."""
    for item in scene.design.taken_out:
        name = called(item)
        if item.kind in ("built_in_charger", "mains_charger", "portable_charger"):
            yield from _old_charger(item.id, name)
            continue
        yield Step(
            key=f"out.{item.id}",
            group="take_out",
            text=f"Cut {name} out: both ends of its feed off, insulated and labelled",
            why="Two ways of charging must not fight over one battery, and a loose live end is a fire.",
            photo=True,
            see=("no volts on either end later, when both batteries are on",),
            acts=(Act("hands", "start"), Act("hands", "auxiliary")),
        )
    yield from _old_cables(scene)


def _old_cables(scene: Scene) -> Iterator[Step]:
    """Cables that lie there: those used again are tested, one that is not goes, or is made dead."""
    again = tuple(cut.id for cut in scene.cuts if cut.there)
    found = scene.design.inherited
    if found is not None and not again and found.shared_a == 0:
        yield Step(
            key="out.cable",
            group="take_out",
            text=f"Take the old {found.size} cable out, or take both its ends off and insulate them",
            why="A cable nobody uses and nobody has made dead is a fire.",
            photo=True,
            acts=(Act("hands", "start"),),
        )
    if again:
        yield Step(
            key="out.inherited",
            group="take_out",
            text=f"Test what lies there already and is used again, {' and '.join(again)}: through from end to end, and not to "
            "the body",
            why="A chafed cable found now is a cable; found later it is a fire.",
            tool="meter, ohms",
            expected=Expected(
                what="Conductor to body", unit="MΩ", least=1.0, most=None, why="Sound insulation in the dry."
            ),
            acts=(Act("hands", "start"),),
        )


def _old_charger(id: str, name: str) -> Iterator[Step]:
    """A charger that goes: positives, negatives, proof, capacitors, and only then out."""
    leads = Act("hands", "start"), Act("hands", "auxiliary")
    yield Step(
        key=f"out.{id}.positives",
        group="take_out",
        text=f"Take every positive off {name} and insulate each",
        why="Its own capacitors come after its leads.",
        acts=(*leads, Act("part", f"{id} +")),
    )
    yield Step(
        key=f"out.{id}.negatives",
        group="take_out",
        text=f"Take every negative off {name}: body, battery, sensor",
        why="One return left on is enough to close a circuit through the hand that empties its capacitors.",
        acts=(*leads, Act("part", f"{id} −")),
    )
    yield Step(
        key=f"out.{id}.proof",
        group="take_out",
        text=f"Prove every lead that came off {name} dead",
        why="One that is still live is found on the meter.",
        tool="meter",
        expected=DEAD,
        acts=(Act("prove_dead", id),),
    )
    yield Step(
        key=f"out.{id}.capacitors",
        group="take_out",
        text=f"Empty the capacitors of {name} through a resistor, terminal to terminal",
        why="They hold enough to weld a tool.",
        tool="100 Ω, 10 W, on insulated leads",
        wait_s=60.0,
        hazard=Hazard(sign="W012", text="A stored charge: no fingers, no screwdriver."),
        expected=Expected(what="Volts, terminal to terminal", unit="V", least=-1.0, most=1.0, why="They are empty."),
        acts=(Act("discharge", id),),
    )
    yield Step(
        key=f"out.{id}",
        group="take_out",
        text=f"Take {name} out and tag it",
        why="Out of use is out of reach.",
        photo=True,
        acts=(Act("hands", id),),
    )
