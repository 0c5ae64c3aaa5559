"""The middle of the work: holes, openings, the unit, what goes by the battery, holders and bars."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.findings.listed import listed
from olvask.core.model import RUNS, Charger, Joint, RunName
from olvask.core.stages.build.isolators import isolated
from olvask.core.stages.build.procedure.before import GASSING, SHORT
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Hazard, Step
from olvask.core.stages.settings.sensor import senses
from olvask.core.stages.wake.relay import relay_of

SIDE_WORDS: dict[RunName, str] = {"supply": "the start battery", "delivery": "the auxiliary battery"}


def mount(scene: Scene) -> Iterator[Step]:
    """Holes, openings, the unit, the batteries, holders and bars."""
    design, unit = scene.design, scene.design.charger
    if design.site.drills:
        tank = " A tank or a line lies there: drill with a stop, from the safe side." if design.site.tank else ""
        yield Step(
            key="mount.holes",
            group="mount",
            text=f"Look behind, then drill; file the edges, paint them, set grommets.{tank}",
            why="What is behind the sheet is what is drilled into.",
            tool="drill with depth stop, grommets",
            hazard=Hazard(
                sign="W021" if design.site.tank else "W001", text="Lines, tanks and looms lie behind panels."
            ),
            acts=(Act("hands", "drill"),),
        )
    place = design.mount
    if place.around == "vents" and place.vent_low_cm2 + place.vent_high_cm2 > 0:
        yield Step(
            key="mount.vents",
            group="mount",
            text="Cut the openings of the unit's place",
            why="Its own heat has to go out at the top and cool air come in at the bottom.",
            number=f"{place.vent_low_cm2:g} cm² low, {place.vent_high_cm2:g} cm² high",
        )
    if unit is not None:
        yield from _unit(scene, unit)
    if place.fan_m3_h > 0:
        yield Step(
            key="mount.fan",
            group="mount",
            text="Fit the fan so that it blows along the fins, and its own fuse at the tap",
            why="Without its air the unit gives less.",
            number=f"{place.fan_m3_h:g} m³/h",
        )
    if not scene.auxiliary_there:
        yield Step(
            key="mount.auxiliary",
            group="mount",
            text="Set the auxiliary battery in and strap it down, posts covered",
            why="Loose, it is a missile in a crash. Its posts are always live: covered until they are needed.",
            hazard=GASSING if design.auxiliary.chemistry != "lfp" else SHORT,
            photo=True,
        )
    for run in ("supply", "delivery"):
        for item in scene.devices(run):
            yield Step(
                key=f"mount.{item.id}",
                group="mount",
                text=f"Fix the holder of the {item.rating_a:g} A device in the {run} run, and leave it open",
                why="It goes in last: until then the whole run is dead.",
                see=("holder empty, or breaker open",),
            )
    yield from _at_the_battery(scene)
    yield from _beside_the_runs(scene)
    if design.units > 1:
        yield Step(
            key="mount.bars",
            group="mount",
            text="Fix the bus bars the units hang on, with their covers, and the holder of each unit's own device, open",
            why="Each unit has its own tail and its own device from there.",
        )


def _beside_the_runs(scene: Scene) -> Iterator[Step]:
    """Isolators, joints, holders of branches, the relay of the old link, the switch."""
    design = scene.design
    apart = isolated(design)
    if apart:
        where = " and at ".join(SIDE_WORDS[run] for run in apart)
        one = len(apart) == 1
        yield Step(
            key="mount.isolators",
            group="mount",
            text=f"Fix an isolator beside the fuse at {where}, and leave {'it' if one else 'both'} open",
            why="By it a side is taken off by hand, without a tool.",
            see=("open",),
        )
    joints = dict.fromkeys(piece.called for run in RUNS for piece in design.run(run).pieces if isinstance(piece, Joint))
    if joints:
        yield Step(
            key="mount.joints",
            group="mount",
            text=f"Fix what the runs pass: {listed(tuple(joints))}, with cover or cap",
            why="What two cables meet in carries the whole current: held still, and out of reach of a spanner.",
        )
    fed = [piece for _, piece in scene.branches() if piece.device is not None]
    if fed:
        holders = listed(tuple(f"{piece.device.rating_a:g} A of {piece.called}" for piece in fed if piece.device))
        yield Step(
            key="mount.branches",
            group="mount",
            text=f"Fix the holders of the branches, and leave them empty: {holders}",
            why="A thin wire is protected where it leaves the thick one.",
            see=("holders empty",),
        )
    relay = relay_of(design)
    if relay is not None:
        yield Step(
            key="mount.relay",
            group="mount",
            text=f"Fix the changeover relay {relay.place_text}, and wire it; its fuses stay out",
            why="It opens the old link while the engine runs: two sources of charge never share one battery.",
            see=tuple(f"{item.terminal}: {item.goes_to}" for item in relay.terminals),
            number="" if relay.contact_a is None else f"break contact {relay.contact_a:g} A",
            acts=(Act("hands", "relay"),),
        )
    if "switch" in design.activation.ways and design.charger is not None:
        yield Step(
            key="mount.switch",
            group="mount",
            text="Fix the switch within the driver's reach, and leave it off",
            why="Switched on once it stays on until it is reset: leave that to the end."
            if design.charger.behaviour.latched
            else "Off, nothing charges whatever the rest allows.",
        )


def _at_the_battery(scene: Scene) -> Iterator[Step]:
    """A new monitor's shunt, and the unit's sensor."""
    monitor = scene.design.monitor.unit
    if monitor is not None:
        past = ", but for those noted to go past it," if scene.design.monitor.bypassed_by else ""
        yield Step(
            key="mount.shunt",
            group="mount",
            text=f"Fix the shunt by the auxiliary battery: one short cable to the negative post, every other negative{past} to "
            "its load side",
            why="What does not go through it is not counted. Its cable is as thick as the thickest that hung on the post.",
            number="" if monitor.shunt_a is None else f"{monitor.shunt_a:g} A",
            photo=True,
            acts=(Act("hands", "shunt"),),
        )
    if senses(scene.ctx):
        yield Step(
            key="mount.sensor",
            group="mount",
            text="Lay the unit's temperature sensor to one post of the auxiliary battery",
            why="The unit goes by that battery's own temperature: on a post, never on a bus bar or in the air.",
            photo=True,
            acts=(Act("hands", "sensor"),),
        )


def _unit(scene: Scene, unit: Charger) -> Iterator[Step]:
    design = scene.design
    turned = {"sideways": "as planned, fins level", "lying": "as planned, lying", "hanging": "as planned, hanging"}
    stands = turned.get(design.mount.orientation, "fins upright")
    for at in range(1, design.units + 1):
        name = unit.name if design.units == 1 else f"{unit.name}, {at} of {design.units}"
        yield Step(
            key=f"mount.unit{'' if at == 1 else at}",
            group="mount",
            text=f"Fix {name}: {stands}, on metal or fireproof board, never on plastic",
            why="It gives off heat, and air has to pass it.",
            number=f"{unit.clearance_mm:g} mm free all round",
            photo=True,
            acts=(Act("hands", "unit"),),
        )
