"""Every conductor a design needs: name, size, length as measured and as cut, both ends.

Supply S, delivery D, branch tails B, chassis straps C; + and −; parallel cables a, b and so on; with several units each
unit's tail is numbered after a dot. The unit's real terminals: four of an isolated unit, three of one that shares its
negative.

- `conductors_of`: all of them.
- `unit_tails`: how several units are joined to one run.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, NamedTuple

from olvask.core.catalogue import NoStandardSize, conductor, device
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.model import (
    RUNS,
    Branch,
    Cable,
    ChassisReturn,
    Design,
    Joint,
    OwnReturn,
    Piece,
    ProtectiveDevice,
    Run,
    RunName,
)
from olvask.core.physics.heat import cable_diameters_m
from olvask.core.stages.run.devices import least_rating_a, suitable_device
from olvask.core.stages.run.growth import terminal_index
from olvask.core.stages.run.shorts import battery_side, prospective_a
from olvask.core.stages.run.terminals import TAIL_M

Sign = Literal["+", "−"]
LB_IN_PER_NM = 8.8507
LETTERS: dict[RunName, str] = {"supply": "S", "delivery": "D"}
CUT_STEP_M = 0.1
SHRINK_MM = (3.2, 4.8, 6.4, 9.5, 12.7, 19.0, 25.4, 38.0, 51.0)  # nominal before shrinking, 2:1
# Dry steel or brass studs of electrical equipment; the sheet of the part rules.
TORQUE_NM = {"M4": 1.5, "M5": 3.0, "M6": 5.0, "M8": 12.0, "M10": 22.0}
POST_STUD = "M8"
DEVICE_STUD = {"sf30": "M5", "sf51": "M8", "class_t": "M8", "nh": "M8", "cube": "M8", "breaker": "M6"}
STRAP_M = 0.5  # from a negative to the body beside it; our own estimate
SOURCE_WORDS = {
    "battery_post": "start battery +",
    "alternator_stud": "alternator stud, B+ (30)",
    "fused_stud": "fused stud in the vehicle",
}
RETURNING = ("unit", "fan", "load")  # branches that carry a current back; signal and sense wires do not


@dataclass(frozen=True, slots=True, kw_only=True)
class ConductorEnd:
    """One end of a conductor: where it goes and what is crimped on it."""

    at: str
    kind: str
    torque_nm: float | None
    torque_lb_in: float | None
    heat_shrink_mm: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CutConductor:
    """One length of cable to cut, with both its ends.

    Attributes:
        id: its name on labels, cut list and diagram.
        place: identity of the piece it is part of; the run's return where it is a chassis strap.
        size: standard size.
        metal: copper, or cca.
        length_m: measured path [m].
        cut_m: measured path and slack, rounded up [m].
        ends: A and B.
        there: it lies in the vehicle already; it gets its ends and its label.
    """

    id: str
    place: str
    size: str
    metal: str
    length_m: float
    cut_m: float
    ends: tuple[ConductorEnd, ConductorEnd]
    there: bool = False


class _At(NamedTuple):
    """Where an end goes: its name, stud (empty for a clamp or a crimped contact), torque."""

    name: str
    stud: str = POST_STUD
    torque_nm: float | None = TORQUE_NM[POST_STUD]
    clamp: bool = False


@dataclass(frozen=True, slots=True)
class UnitTails:
    """How several units hang on one run: each its own tail and device from a bus bar.

    Attributes:
        tail: the cable each unit has of its own.
        laid: index of that cable in the run, where it is drawn there; `None` where the run ends at the units.
        device: what protects each tail; `None` where no standard device fits.
        bus_bars: bus bars to be added, one for each sign, where no joint stands before the tails.
    """

    tail: Cable
    laid: int | None
    device: ProtectiveDevice | None
    bus_bars: int


def laid_signs(described: Run, cable: Cable) -> tuple[Sign, ...]:
    """Which conductors of a cable are laid in this job: not those that lie there, nor a return that is the body.

    Args:
        described: the run it is in.
        cable: the cable.
    """
    both: tuple[Sign, ...] = ("+", "−") if isinstance(described.back, OwnReturn) else ("+",)
    there = {"": "", "out": "+", "both": "+−"}[cable.there]
    return tuple(sign for sign in both if sign not in there)


def cut_length_m(length_m: float, slack: float) -> float:
    """Length to cut [m]: measured path and slack, rounded up to 0.1 m.

    Args:
        length_m: measured path [m].
        slack: share added.
    """
    return round(math.ceil(length_m * (1 + slack) / CUT_STEP_M - 1e-9) * CUT_STEP_M, 3)


@lru_cache(maxsize=4096)
def _end(size: str, at: _At, strand: str) -> ConductorEnd:
    _, outer_m = cable_diameters_m(conductor(size).area_mm2)
    shrink = next((item for item in SHRINK_MM if item >= 1.25 * outer_m * 1000), SHRINK_MM[-1])
    if at.stud:
        kind = f"lug {size} {at.stud}"
    elif at.clamp:
        kind = f"ferrule {size}" if strand == "class_5" else "bare, as the clamp takes it"
    else:
        kind = f"crimped contact {size}"
    return ConductorEnd(
        at=at.name,
        kind=kind,
        torque_nm=at.torque_nm,
        torque_lb_in=None if at.torque_nm is None else at.torque_nm * LB_IN_PER_NM,
        heat_shrink_mm=shrink if at.stud else None,
    )


def unit_tails(ctx: Context, run: RunName) -> UnitTails | None:
    """How several units hang on one run; `None` with a single unit, or where no cable is laid.

    Args:
        ctx: the design solved.
        run: "supply" or "delivery".
    """
    design = ctx.design
    index = terminal_index(design, run)
    if design.units == 1 or design.charger is None or index is None:
        return None
    described = design.run(run)
    last, before = described.pieces[index], index - 1 if run == "supply" else index + 1
    if not isinstance(last, Cable):
        return None
    neighbour = described.pieces[before] if 0 <= before < len(described.pieces) else None
    joined = isinstance(neighbour, Joint)
    tail = last if joined else last.model_copy(update={"length_m": TAIL_M, "parallel": 1})
    own = isinstance(described.back, OwnReturn)
    return UnitTails(
        tail=tail,
        laid=index if joined else None,
        device=_tail_device(ctx, run, tail, index),
        bus_bars=0 if joined else 2 if own else 1,
    )


def _tail_device(ctx: Context, run: RunName, tail: Cable, index: int) -> ProtectiveDevice | None:
    design = ctx.design
    least_a = least_rating_a(ctx.continuous_a(run) / design.units, ctx.lingering_a(run) / design.units)
    limit_a, _ = ampacity(tail, design.choices.ampacity_school)
    try:
        nominal_v, short_a = battery_side(design, run)[2], prospective_a(design, run, index)
        found = suitable_device(least_a, limit_a, nominal_v, short_a, design.choices.protection_school)
    except NoStandardSize:
        return None
    return ProtectiveDevice.model_construct(id="", kind="device", family=found.family, rating_a=found.rating_a)  # type: ignore[arg-type]  # the catalogue's families are the model's


def conductors_of(ctx: Context) -> tuple[CutConductor, ...]:
    """Every conductor to be cut, in the order of the runs."""
    found: list[CutConductor] = []
    for run in RUNS:
        signs: tuple[Sign, ...] = ("+", "−") if isinstance(ctx.design.run(run).back, OwnReturn) else ("+",)
        for sign in signs:
            found += _run_conductors(ctx, run, sign)
        found += _branch_tails(ctx.design, run)
    found += _straps(ctx.design)
    return tuple(found)


def supply_ends(design: Design) -> tuple[str, str]:
    """Where the supply run takes its current from, and where that returns to."""
    sensor = ", chassis side of its sensor" if design.vehicle.start_battery.negative_sensor else ""
    return SOURCE_WORDS[design.vehicle.source_point.kind], f"start battery −{sensor}"


def _post(design: Design, run: RunName, sign: Sign) -> _At:
    """The battery's post, or what stands for it: a negative lands past a battery sensor, and on a shunt's load side."""
    if run == "delivery" and sign == "−" and design.shunted:
        return _At("shunt, load side")
    if run == "delivery":
        return _At(f"auxiliary battery {sign}")
    begins, ends = supply_ends(design)
    return _At(begins if sign == "+" else ends)


def _terminal(design: Design, run: RunName, sign: Sign, number: str = "") -> _At:
    """The unit's real terminal: one shared negative where it is not isolated."""
    unit = design.charger
    stud = unit.terminal_stud if unit is not None else ""
    torque = unit.terminal_torque_nm if unit is not None else None
    if torque is None and stud:
        torque = TORQUE_NM[stud]
    shared = sign == "−" and unit is not None and not unit.isolated
    port = "" if shared else "in " if run == "supply" else "out "
    return _At(f"unit{number} {port}{sign}", stud, torque, clamp=not stud)


def _between(piece: Piece, sign: Sign) -> _At | None:
    """A piece as a place where cables end; `None` where the conductor passes it by."""
    if isinstance(piece, ProtectiveDevice):
        if sign == "−":
            return None
        stud = DEVICE_STUD.get(piece.family, "")
        return _At(f"{device(piece.family, piece.rating_a).label} {piece.rating_a:g} A", stud, TORQUE_NM.get(stud))
    if isinstance(piece, Joint):
        stud = "" if piece.form in ("plug", "connector") else POST_STUD
        return _At(f"{piece.called} {sign}", stud, TORQUE_NM.get(stud))
    return None


def _next_end(pieces: tuple[Piece, ...], index: int, sign: Sign, last: _At) -> _At:
    """Where the cable at `index` ends: the next place on the path, a splice where a cable follows at once."""
    there: _At | None = None
    for after in pieces[index + 1 :]:
        if isinstance(after, Cable):
            return there or _At(f"splice {sign}")
        there = there or _between(after, sign)
    return there or last


def _cut(
    design: Design, id: str, place: str, cable: tuple[str, str, float, str], ends: tuple[_At, _At], there: bool = False
) -> CutConductor:
    """One conductor; `cable` is size, metal, length [m] and strands."""
    size, metal, length_m, strand = cable
    return CutConductor(
        id=id,
        place=place,
        size=size,
        metal=metal,
        length_m=length_m,
        cut_m=cut_length_m(length_m, design.choices.slack),
        ends=(_end(size, ends[0], strand), _end(size, ends[1], strand)),
        there=there,
    )


def _run_conductors(ctx: Context, run: RunName, sign: Sign) -> Iterator[CutConductor]:
    design, letter = ctx.design, LETTERS[run]
    pieces, tails = design.run(run).pieces, unit_tails(ctx, run)
    meeting = _At(f"{run} bus bar {sign}") if tails is not None else None
    post, unit_end = _post(design, run, sign), meeting or _terminal(design, run, sign)
    here, last = (post, unit_end) if run == "supply" else (unit_end, post)
    number = 0
    for index, piece in enumerate(pieces):
        if not isinstance(piece, Cable):
            here = _between(piece, sign) or here
            continue
        number += 1
        there = _next_end(pieces, index, sign, last)
        cable = (piece.size, piece.metal, piece.length_m, piece.strand)
        if tails is not None and tails.laid == index:
            joint = here if run == "supply" else there
            yield from _tails(ctx, run, sign, f"{letter}{number}", tails, joint)
        else:
            for mark in _marks(piece):
                found = sign not in laid_signs(design.run(run), piece)
                yield _cut(design, f"{letter}{number}{sign}{mark}", piece.id, cable, (here, there), found)
        here = there
    if tails is not None and tails.laid is None and meeting is not None:
        yield from _tails(ctx, run, sign, f"{letter}{number + 1}", tails, meeting)


def _tails(ctx: Context, run: RunName, sign: Sign, name: str, tails: UnitTails, joint: _At) -> Iterator[CutConductor]:
    """Each unit's own tail, as many in parallel as are drawn; the positive one begins at its own device."""
    fitted, tail = tails.device, tails.tail
    start = joint
    if sign == "+" and fitted is not None:
        stud = DEVICE_STUD.get(fitted.family, "")
        label = device(fitted.family, fitted.rating_a).label
        start = _At(f"{label} {fitted.rating_a:g} A at the {run} bus bar", stud, TORQUE_NM.get(stud))
    for number in range(1, ctx.design.units + 1):
        terminal = _terminal(ctx.design, run, sign, f" {number}")
        ends = (start, terminal) if run == "supply" else (terminal, start)
        cable = (tail.size, tail.metal, tail.length_m, tail.strand)
        for mark in _marks(tail):
            yield _cut(ctx.design, f"{name}.{number}{sign}{mark}", tail.id, cable, ends)


def _marks(cable: Cable) -> list[str]:
    """What tells cables laid in parallel apart."""
    return [""] if cable.parallel == 1 else [chr(ord("a") + at) for at in range(cable.parallel)]


def _branch_tails(design: Design, run: RunName) -> Iterator[CutConductor]:
    """Each branch's tail, and its negative where a current comes back."""
    described, number = design.run(run), 0
    own = isinstance(described.back, OwnReturn)
    for piece in described.pieces:
        if not isinstance(piece, Branch):
            continue
        number += 1
        cable = (piece.size, "copper", piece.length_m, "class_5")
        there = _At(piece.called, "", None, clamp=True)
        name = f"B{LETTERS[run]}{number}"
        yield _cut(design, f"{name}+", piece.id, cable, (_At(f"{piece.called}, tapped {run}"), there))
        if piece.feeds in RETURNING:
            back = _At(f"{piece.called}, {run} negative" if own else f"{piece.called}, body")
            yield _cut(design, f"{name}−", piece.id, cable, (back, there))


def _straps(design: Design) -> Iterator[CutConductor]:
    """Straps of a chassis return: each negative that relies on the body has one beside it.

    The start battery has its own from the vehicle's maker. A unit that shares its negative has one strap.
    """
    unit, number, strapped = design.charger, 0, False
    for run in RUNS:
        described = design.run(run)
        cables = [piece for piece in described.pieces if isinstance(piece, Cable)]
        if not isinstance(described.back, ChassisReturn) or not cables:
            continue
        largest = max(cables, key=lambda piece: conductor(piece.size).area_mm2)
        ends = []
        if not strapped or unit is None or unit.isolated:
            names = [""] if design.units == 1 else [f" {at}" for at in range(1, design.units + 1)]
            ends += [_terminal(design, run, "−", name) for name in names]
            strapped = True
        if run == "delivery":
            past = "chassis" in design.monitor.bypassed_by
            ends.append(_At("auxiliary battery −") if past else _post(design, run, "−"))
        for end in ends:
            number += 1
            cable = (largest.size, largest.metal, STRAP_M, largest.strand)
            yield _cut(design, f"C{number}−", f"{run}.back", cable, (end, _At("body, cleaned to bright metal")))
