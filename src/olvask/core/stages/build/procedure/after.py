"""The second half of the work: route, terminate, check, power, key in, connect, enable, put back."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.thresholds import Thresholds
from olvask.core.model import RUNS, Cable, RunName
from olvask.core.stages.build.conductors import ConductorEnd, CutConductor
from olvask.core.stages.build.procedure.before import AIRBAG, GASSING, SHORT, TOOLS
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Expected, Hazard, Step
from olvask.core.stages.settings.sheet import sheet_of
from olvask.core.stages.wake.wiring import signal_wire

SIDE = {"supply": "start", "delivery": "auxiliary"}
OPEN_OHM = (
    1000.0  # between + and − of a dead run, nothing in it but insulation and a unit's own bleed; our own estimate
)
STRAP_MOHM = 1.0  # a strap to bright metal; trade practice
WHERE = {"cabin": "through the cabin", "under_floor": "under the floor", "engine_bay": "through the engine bay"}


def route(scene: Scene) -> Iterator[Step]:
    """Cables laid, not yet connected."""
    for run in RUNS:
        for piece in scene.design.run(run).pieces:
            if not isinstance(piece, Cable):
                continue
            names = scene.names((piece.id,))
            pipe = " in conduit" if piece.conduit else ""
            yield Step(
                key=f"route.{piece.id}",
                group="route",
                text=f"Lay {_list(names)} {WHERE[piece.place]}{pipe}, clipped every 30 cm, a grommet at every edge",
                why="Clear of exhaust, moving parts, fuel and airbags, with slack where the body moves.",
                number=f"{piece.size}, {piece.length_m:g} m one-way",
                conductors=names,
                photo=piece.place != "cabin",
                acts=tuple(Act("lay", name) for name in names),
            )
    tails = [scene.names((piece.id,)) for _, piece in scene.branches()]
    if any(tails):
        names = tuple(name for found in tails for name in found)
        yield Step(
            key="route.branches",
            group="route",
            text=f"Lay the branch tails {_list(names)}",
            why="Thin wires are chafed first: conduit, clips, grommets.",
            conductors=names,
            acts=tuple(Act("lay", name) for name in names),
        )
    wires = [signal_wire(scene.design, way) for way in scene.design.activation.ways if scene.design.charger]
    taps = [wire for wire in wires if wire.wire_mm2 is not None]
    if taps:
        yield Step(
            key="route.signal",
            group="route",
            text="Lay the enable wire: " + "; ".join(f"{wire.taken_at} to {wire.ends_at}" for wire in taps),
            why="It says when the unit may charge. It is joined at its tap only when everything else is done.",
            number=", ".join(f"{wire.wire_mm2:g} mm²" for wire in taps),
        )


def _list(names: tuple[str, ...]) -> str:
    return " and ".join((", ".join(names[:-1]), names[-1])) if len(names) > 1 else "".join(names)


def terminate(scene: Scene) -> Iterator[Step]:
    """Ends crimped and bolted, everything but the batteries' posts and the devices."""
    for place, cuts in scene.by_place.items():
        names = tuple(cut.id for cut in cuts)
        yield Step(
            key=f"end.{place}",
            group="terminate",
            text=f"Cut, crimp and label {_list(names)}",
            why="The right die, a pull on each, no solder. The label says where the other end is.",
            tool="crimping tool with the die of the lug",
            number=", ".join(dict.fromkeys(f"{cut.size}, {cut.cut_m:g} m" for cut in cuts)),
            see=tuple(dict.fromkeys(f"{end.kind}" for cut in cuts for end in cut.ends)),
            conductors=names,
            acts=tuple(Act("hands", f"ends {name}") for name in names),
        )
        bolted = [(cut, end) for cut in cuts for end in cut.ends if not _waits(end.at)]
        if bolted:
            yield _bolt(place, names, bolted)


def _waits(at: str) -> bool:
    """Whether an end is one that goes on later: a battery's post."""
    return at.startswith(("start battery", "auxiliary battery"))


def _bolt(place: str, names: tuple[str, ...], ends: list[tuple[CutConductor, ConductorEnd]]) -> Step:
    told = []
    for cut, end in ends:
        held = f", {end.torque_nm:g} N·m" if end.torque_nm is not None else ""
        told.append(f"{cut.id} to {end.at}{held}")
    strap = place.endswith(".back")
    return Step(
        key=f"bolt.{place}",
        group="terminate",
        text=f"Fix {_list(names)} at every end but a battery's post",
        why="To torque and marked: a loose end is the commonest fault, and it warms."
        if not strap
        else "Bright metal, to torque, then grease: the body carries the whole current back.",
        tool="torque wrench",
        see=tuple(told),
        expected=Expected(
            what="Strap, stud to body", unit="mΩ", least=0.0, most=STRAP_MOHM, why="Bright metal under a tight lug."
        )
        if strap
        else None,
        photo=strap,
        conductors=names,
        acts=tuple(Act("hands", side) for side in ("unit", "strap" if strap else "run")),
    )


def dead_checks(scene: Scene) -> Iterator[Step]:
    """Before a battery goes on."""
    for run in RUNS:
        cables = [piece.id for piece in scene.design.run(run).pieces if isinstance(piece, Cable)]
        names = scene.names(cables)
        if not names:
            continue
        yield Step(
            key=f"check.through.{run}",
            group="dead_checks",
            text=f"Ring out the {run} run by its labels: each conductor from end to end",
            why="Crossed ends are found here for nothing, with a battery on they cost the unit.",
            tool="meter, ohms",
            conductors=names,
            expected=Expected(
                what="Each conductor", unit="Ω", least=0.0, most=0.5, why="Copper and the meter's own leads."
            ),
            acts=(Act("check", f"through {run}"),),
        )
        yield Step(
            key=f"check.short.{run}",
            group="dead_checks",
            text=f"Measure from + to − of the {run} run, its device out",
            why="A short shows itself now, and not as a flash. A unit's capacitors may let the meter climb slowly.",
            tool="meter, ohms",
            conductors=names,
            expected=Expected(
                what="+ to −", unit="Ω", least=OPEN_OHM, most=None, why="Nothing but insulation and a unit's own bleed."
            ),
            acts=(Act("check", f"short {run}"),),
        )
    yield Step(
        key="check.torque",
        group="dead_checks",
        text="Go round once: every stud marked, every cover on, nothing pinched, no tool left",
        why="The last look with nothing live.",
        photo=True,
        acts=(Act("check", "torque"),),
    )


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
    new = [*ours, *([first] if first and sign == "+" else []), *(["what was there"] if parted else [])]
    what = _list(tuple(new)) or "its lead"
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
    yield from _insert(scene, "supply", "first_power")
    yield from _insert(scene, "delivery", "connect")


def _insert(scene: Scene, run: RunName, group: str) -> Iterator[Step]:
    design, side = scene.design, SIDE[run]
    fitted = scene.devices(run)
    names = scene.names([piece.id for piece in design.run(run).pieces if isinstance(piece, Cable)])
    shown = tuple(design.charger.behaviour.lamps[:1]) if design.charger is not None and side == "start" else ()
    at = "its input" if side == "start" else "its output"
    device = f"the {fitted[0].rating_a:g} A device" if fitted else "the last link"
    more = f", then {'the one' if len(fitted) == 2 else 'those'} at the far end" if len(fitted) > 1 else ""
    tails = "; each unit's own device after it, one at a time" if design.units > 1 else ""
    yield Step(
        key=f"insert.{run}",
        group=group,  # type: ignore[arg-type]  # one of two groups named above
        text=f"Close the {side} side: {device} of the {run} run{more}{tails}",
        why="The device goes in last, with nothing drawing. Expect one small spark as capacitors fill.",
        tool="insulated puller",
        see=(*shown, f"volts at {at}", "nothing warm, nothing heard"),
        hazard=SHORT,
        expected=scene.rest(side),
        conductors=names,
        acts=(Act("insert", side),),
    )


def key_in(scene: Scene) -> Iterator[Step]:
    """Set up, and read back."""
    design, unit = scene.design, scene.design.charger
    if unit is None or unit.kind == "converter":
        return
    sheet = sheet_of(scene.ctx)
    if unit.settings is not None:
        yield Step(
            key="key.firmware",
            group="key_in",
            text="Bring its firmware up to date, if it takes updates, and note the version",
            why="An update can throw settings away: before they are keyed in, not after.",
            acts=(Act("key", "firmware"),),
        )
    lines = len(sheet.lines) if sheet is not None else 0
    one = "" if design.units == 1 else " of each unit"
    yield Step(
        key="key.sheet",
        group="key_in",
        text=f"Key in the sheet{one}, {lines} {'line' if lines == 1 else 'lines'}, and read it back"
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
    if design.old_link.decision == "changeover":
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
                text=f"Put the {piece.device.rating_a:g} A device of {piece.name} in",
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
        see=("engine off, key out: it rests",),
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
