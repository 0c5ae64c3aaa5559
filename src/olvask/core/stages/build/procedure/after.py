"""The last part of the work: power, key in, connect, enable, put back."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.thresholds import Thresholds
from olvask.core.findings.listed import listed
from olvask.core.model import RUNS, Cable, Design, RunName
from olvask.core.model.site import Group
from olvask.core.stages.build.isolators import isolated
from olvask.core.stages.build.procedure.before import AIRBAG, GASSING, SHORT, TOOLS
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Hazard, Step
from olvask.core.stages.settings.sheet import devices_of, lines_of
from olvask.core.stages.wake.relay import relay_of
from olvask.core.stages.wake.wiring import signal_wire

SIDE = {"supply": "start", "delivery": "auxiliary"}


def _laid(design: Design) -> bool:
    """Whether there is anything to close: a unit, or something of a run."""
    return design.charger is not None or any(design.run(run).pieces for run in RUNS)


def posts(scene: Scene) -> Iterator[Step]:
    """The batteries back on: positive, then negative, devices still out."""
    design = scene.design
    if design.site.seats:
        plugs = ": its earth first, then its plugs" if design.site.airbags else ""
        yield Step(
            key="seats.plugs",
            group="first_power",
            text=f"Set the seats back{plugs}",
            why="An airbag's computer that wakes without its seat stores a fault, and nobody plugs it in live."
            if design.site.airbags
            else "Nobody reaches past a bare post for a seat bolt.",
            hazard=AIRBAG if design.site.airbags else None,
            photo=True,
            acts=(Act("seat_plugs"),),
        )
    for side in ("start", "auxiliary"):
        run: RunName = "supply" if side == "start" else "delivery"
        for sign, word in (("+", "positive"), ("−", "negative")):
            yield from _post(scene, side, run, sign, word)
        if not _laid(design):
            continue  # nothing is open there, and nothing is put in later
        gas = side == "auxiliary" and design.auxiliary.chemistry != "lfp"
        yield Step(
            key=f"volts.{side}",
            group="first_power",
            text=f"Measure at the open device of the {run} run: red on the battery's side, black on its return",
            why="Right way round and alive, before a device goes in.",
            tool="meter",
            hazard=GASSING if gas else None,
            expected=scene.rest(side),
            acts=(Act("check", f"polarity {side}"),),
        )


def _post(scene: Scene, side: str, run: RunName, sign: str, word: str) -> Iterator[Step]:
    design = scene.design
    ours = tuple(cut.id for cut in scene.cuts if any(end.at.startswith(f"{side} battery {sign}") for end in cut.ends))
    torque = {
        end.torque_nm
        for cut in scene.cuts
        for end in cut.ends
        if end.at.startswith(f"{side} battery {sign}") and end.torque_nm is not None
    }
    parted = scene.auxiliary_there or side == "start"
    if side == "start" and sign == "+" and design.vehicle.source_point.kind != "battery_post":
        return
    first = scene.holder_at(run)
    monitor = design.monitor.unit is not None and side == "auxiliary"
    metered = [{"+": "the fused sense lead of the monitor", "−": "the shunt's own cable"}[sign]] if monitor else []
    stayed = parted and not (monitor and sign == "−" and not design.monitor.bypassed_by)
    new = [*ours, *([first] if first and sign == "+" else []), *metered, *(["what was there"] if stayed else [])]
    what = listed(tuple(new)) or "its lead"
    sensor = side == "start" and sign == "−" and design.vehicle.start_battery.negative_sensor
    land = "the body side of its sensor, never the post itself" if sensor else f"the {side} battery's {word}"
    yield Step(
        key=f"join.{side}_{word}",
        group="first_power",
        text=f"Put {what} on {land}",
        why="Positive first, negative last: until the negative is on, a spanner closes nothing."
        if sign == "+"
        else "Last of the two, with every device still out. Expect no spark: if there is one, take it off and look.",
        tool=TOOLS,
        number=", ".join(f"{item:g} N·m" for item in sorted(torque)),
        hazard=SHORT,
        conductors=ours,
        acts=(Act("join", f"{side} {sign}"),),
    )


def first_power(scene: Scene) -> Iterator[Step]:
    """Devices in, one side at a time, in the unit's own order."""
    groups: dict[RunName, Group] = {"supply": "first_power", "delivery": "connect"}
    for run, group in groups.items() if _laid(scene.design) else ():
        yield from _insert(scene, run, group)


def _insert(scene: Scene, run: RunName, group: Group) -> Iterator[Step]:
    design, side = scene.design, SIDE[run]
    fitted = scene.devices(run)
    names = scene.names([piece.id for piece in design.run(run).pieces if isinstance(piece, Cable)])
    shown = tuple(design.charger.behaviour.lamps[:1]) if design.charger is not None and side == "start" else ()
    at = "its input" if side == "start" else "its output"
    device = f"the {fitted[0].rating_a:g} A device" if fitted else "the last link"
    more = f", then {'the one' if len(fitted) == 2 else 'those'} at the far end" if len(fitted) > 1 else ""
    apart = ", then its isolator" if run in isolated(design) else ""
    tails = "; each unit's own device after it, one at a time" if design.units > 1 else ""
    yield Step(
        key=f"insert.{run}",
        group=group,
        text=f"Close the {side} side: {device} of the {run} run{apart}{more}{tails}",
        why="The device goes in last, with nothing drawing. Expect one small spark as capacitors fill.",
        tool="insulated puller",
        see=(*shown, f"volts at {at}", "nothing warm, nothing heard"),
        hazard=SHORT,
        expected=scene.rest(side),
        conductors=names,
        acts=(Act("insert", side),),
    )


def key_in(scene: Scene) -> Iterator[Step]:
    """Set up, and read back: the unit, then whatever else has a menu."""
    yield from _key_unit(scene)
    for place, name in devices_of(scene.design):
        lines = lines_of(scene.ctx, place)
        if lines:
            yield Step(
                key=key_step(place),
                group="key_in",
                text=f"Key in the sheet of the {name}, {_many(lines)}, and read it back",
                why="What charges or counts beside the unit goes by this battery too.",
                see=("each value read back is the one on the sheet",),
                leads_to="settings",
                acts=(Act("key", "device"),),
            )


def key_step(place: str) -> str:
    """The step that keys the whole sheet of a device.

    Args:
        place: of the device; empty for the unit.
    """
    return f"key.device.{place}" if place else "key.sheet"


def _many(lines: int) -> str:
    return f"{lines} {'line' if lines == 1 else 'lines'}"


def _key_unit(scene: Scene) -> Iterator[Step]:
    design, unit = scene.design, scene.design.charger
    if unit is None or unit.kind == "converter":
        return
    lines = lines_of(scene.ctx)
    if unit.settings is not None:
        yield Step(
            key="key.firmware",
            group="key_in",
            text="Bring its firmware up to date, if it takes updates, and note the version",
            why="An update can throw settings away: before they are keyed in, not after.",
            acts=(Act("key", "firmware"),),
        )
    one = "" if design.units == 1 else " of each unit"
    yield Step(
        key=key_step(""),
        group="key_in",
        text=f"Key in the sheet{one}, {_many(lines)}, and read it back"
        if lines
        else f"Set {unit.name} for this battery as its maker says, and read it back",
        why="Factory values are for another battery and another vehicle.",
        see=("each value read back is the one on the sheet",),
        leads_to="settings",
        acts=(Act("key", "sheet"),),
    )
    yield Step(
        key="key.code",
        group="key_in",
        text="Change its access code, if it has one, and write down that it was changed, never the code",
        why="The maker's code is known to everybody.",
        acts=(Act("key", "code"),),
    )


def connect(scene: Scene) -> Iterator[Step]:
    """What else comes back, each after its battery."""
    design = scene.design
    if relay_of(design) is not None:
        yield Step(
            key="on.relay",
            group="connect",
            text="Put the fuses of the changeover relay in: contact first, coil last",
            why="With its coil dead the relay rests closed, as the old link was.",
            see=("no volts from 30 to 87a with the coil live",),
            acts=(Act("insert", "relay"),),
        )
    for run, piece in scene.branches():
        if piece.device is not None and piece.feeds in ("fan", "load"):
            yield Step(
                key=f"insert.{piece.id}",
                group="connect",
                text=f"Put the {piece.device.rating_a:g} A device of {piece.called} in",
                why="A tail is closed once its run is alive and right.",
                conductors=scene.names((piece.id,)),
                acts=(Act("insert", f"tail {run}"),),
            )
    if design.vehicle.chassis.trailer or design.plugged:
        yield Step(
            key="on.trailer",
            group="connect",
            text="Plug the trailer in",
            why="Only what is proven on both sides meets at the plug.",
            acts=(Act("plug", "trailer"),),
        )
    if scene.design.solar.panel_w is not None:
        yield _on("solar", "Let the sun in again", "A controller must find its battery before it finds its panel.")
    for item in design.vehicle.lifters:
        if not (item.kind == "solar" and design.solar.panel_w is not None and design.solar.into == "start_side"):
            yield _on(f"lifter.{item.id}", "Switch the start battery's own source on again", "Its battery is there.")
    if scene.mains:
        yield Step(
            key="on.mains",
            group="put_back",
            text="Plug the mains in again and see its charger start",
            why="After everything on the direct-current side is closed up.",
            hazard=Hazard(sign="W012", text="230 V behind the inlet."),
            acts=(Act("on", "mains"),),
        )


def _on(what: str, text: str, why: str) -> Step:
    return Step(key=f"on.{what}", group="connect", text=text, why=why, acts=(Act("on", what),))


def _resting(design: Design) -> str:
    """What is seen of it with the engine off, once it may charge."""
    if not design.left_on:
        return "engine off, key out: it rests"
    if "ignition" in design.activation.ways:
        return "key out: it rests; with the key on it charges, the engine off too, until its guard lets go"
    if "switch" in design.activation.ways and design.charger is not None and design.charger.behaviour.latched:
        return "once switched on it charges, the engine off too, until it is reset or its guard lets go"
    if "switch" in design.activation.ways:
        return "switched off it rests; switched on it charges, the engine off too, until its guard lets go"
    return "it charges at once, the engine off too, until its guard lets go"


def enable(scene: Scene) -> Iterator[Step]:
    """The one thing that lets it charge."""
    design, unit = scene.design, scene.design.charger
    if unit is None:
        return
    at: Thresholds = scene.ctx.thresholds
    ways = [way for way in design.activation.ways if way != "voltage"]
    if not ways:
        yield Step(
            key="enable",
            group="enable",
            text="Switch it on as a charger",
            why="It charges by its own volts from now on: everything else is in place.",
            number=f"starts at {at.start_v:.2f} V" if "voltage" in design.activation.ways else "",
            see=("engine off, it rests",),
            acts=(Act("enable"),),
        )
        return
    wires = [signal_wire(design, way) for way in ways]
    fuses = [f"{wire.fuse_a:g} A at its tap" for wire in wires if wire.fuse_a is not None]
    yield Step(
        key="enable",
        group="enable",
        text="Give it leave to charge: "
        + " and ".join(
            f"enable wire from {wire.terminal}" if wire.terminal else f"the {wire.through} at its remote terminals"
            for wire in wires
        ),
        why="Last of all: from now on it charges by itself.",
        number=", ".join(fuses),
        see=(_resting(design),),
        acts=(Act("enable"),),
    )


def put_back(scene: Scene) -> Iterator[Step]:
    """What was disturbed, and a last look."""
    design = scene.design
    if design.site.seats:
        yield Step(
            key="back.seats",
            group="put_back",
            text="Bolt the seats down to the maker's torque, straps and earths with them, and sign for it",
            why="A seat that is loose is worse than no charger.",
            tool="torque wrench",
            photo=True,
        )
    yield Step(
        key="back.panels",
        group="put_back",
        text="Put panels, mats and covers back; pin the diagram where the next one will look",
        why="Whoever opens it next finds what is there.",
        photo=True,
    )
    yield Step(
        key="on.loads",
        group="put_back",
        text="Switch the loads on again, one after the other" + (", the inverter last" if scene.inverter else ""),
        why="One at a time shows which one is wrong.",
        acts=(Act("on", "loads"), *((Act("on", "inverter"),) if scene.inverter else ())),
    )
    if design.site.gas:
        yield Step(
            key="on.gas",
            group="put_back",
            text="Open the gas again, and smell",
            why="It was shut for the drilling and the sparks, and those are over.",
            acts=(Act("on", "gas"),),
        )
    if design.site.codes:
        yield Step(
            key="back.codes",
            group="put_back",
            text="Radio code, clock, windows; look for stored faults and clear them",
            why="The customer notices these first.",
        )
    yield Step(
        key="back.prove",
        group="put_back",
        text="Go to Prove: engine off, then running",
        why="Built is not proven.",
        leads_to="prove",
    )
