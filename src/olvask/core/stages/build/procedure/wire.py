"""The middle of the work: cables laid, ends crimped and bolted, everything checked dead."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.findings.listed import listed
from olvask.core.model import RUNS, Cable
from olvask.core.stages.build.conductors import ConductorEnd, CutConductor
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Expected, Step
from olvask.core.stages.wake.wiring import SignalWire, signal_wire

OPEN_OHM = (
    1000.0  # between + and − of a dead run, nothing in it but insulation and a unit's own bleed; our own estimate
)
THROUGH_OHM = 0.5  # of a sound conductor and the meter's own leads; our own estimate
STRAP_MOHM = 1.0  # a strap to bright metal; trade practice
WHERE = {"cabin": "through the cabin", "under_floor": "under the floor", "engine_bay": "through the engine bay"}


def route(scene: Scene) -> Iterator[Step]:
    """Cables laid, not yet connected."""
    for run in RUNS:
        for piece in scene.design.run(run).pieces:
            if not isinstance(piece, Cable):
                continue
            names = tuple(cut.id for cut in scene.by_place.get(piece.id, ()) if not cut.there)
            if not names:
                continue
            pipe = " in conduit" if piece.conduit else ""
            yield Step(
                key=f"route.{piece.id}",
                group="route",
                text=f"Lay {listed(names)} {WHERE[piece.place]}{pipe}, clipped every 30 cm, a grommet at every edge",
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
            text=f"Lay the branch tails {listed(names)}",
            why="Thin wires are chafed first: conduit, clips, grommets.",
            conductors=names,
            acts=tuple(Act("lay", name) for name in names),
        )
    wires = [signal_wire(scene.design, way) for way in scene.design.activation.ways if scene.design.charger]
    taps = [wire for wire in wires if wire.wire_mm2 is not None and wire.way != "bridge"]
    if taps:
        yield Step(
            key="route.signal",
            group="route",
            text="Lay the enable wire: " + "; ".join(_way_of(wire) for wire in taps),
            why="It says when the unit may charge. It is joined at its tap only when everything else is done.",
            number=", ".join(f"{wire.wire_mm2:g} mm²" for wire in taps),
        )


def _way_of(wire: SignalWire) -> str:
    through = f", through the {wire.through}," if wire.through else ""
    return f"{wire.taken_at}{through} to {wire.ends_at}"


def terminate(scene: Scene) -> Iterator[Step]:
    """Ends crimped and bolted, everything but the batteries' posts and the devices."""
    for place, cuts in scene.by_place.items():
        names = tuple(cut.id for cut in cuts)
        yield Step(
            key=f"end.{place}",
            group="terminate",
            text=f"{_done_to(cuts)} {listed(names)}",
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


def _done_to(cuts: tuple[CutConductor, ...]) -> str:
    """What is done to the ends of new conductors and of those that lie there already."""
    if all(cut.there for cut in cuts):
        return "Give new ends and labels to"
    return "Cut, crimp and label" if not any(cut.there for cut in cuts) else "Cut what is new, crimp and label"


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
        text=f"Fix {listed(names)} at every end but a battery's post",
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
                what="Each conductor", unit="Ω", least=0.0, most=THROUGH_OHM, why="Copper and the meter's own leads."
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
