"""From the design to the bench: conductors with their ends, cuts off the drums, parts and labels.

- `conductors_of`: every length of cable with both its ends.
- `cut_list`: the lengths laid out on the drums there are, fewest off-cuts.
- `buying`: all of it, with parts and prices.
"""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from olvask.core.catalogue import conductor, device
from olvask.core.circuit.solve import RunName
from olvask.core.findings.assessment import Buying, ConductorEnd, CutConductor, DrumUse, Label, Part
from olvask.core.model import Branch, Cable, Design, Joint, OwnReturn, ProtectiveDevice
from olvask.core.physics.heat import cable_diameters_m
from olvask.core.stages.build.bill import CATALOGUE_PRICES, END_PRICE, JOINT_PRICE, Prices
from olvask.core.stages.run.cables import run_of
from olvask.core.stages.wake.existing_link import design_relay, old_link_of
from olvask.core.stages.wake.method import signal_wire

LB_IN_PER_NM = 8.8507
LETTERS: dict[RunName, str] = {"supply": "S", "delivery": "D"}
CUT_STEP_M = 0.1
SHRINK_MM = (3.2, 4.8, 6.4, 9.5, 12.7, 19.0, 25.4, 38.0, 51.0)  # nominal before shrinking, 2:1
# Dry steel or brass studs of electrical equipment; the sheet of the part rules.
TORQUE_NM = {"M4": 1.5, "M5": 3.0, "M6": 5.0, "M8": 12.0, "M10": 22.0}
POST_STUD = "M8"
DEVICE_STUD = {"sf30": "M5", "sf51": "M8", "class_t": "M8", "nh": "M8", "cube": "M8", "breaker": "M6"}
ISOLATOR_PRICE = 24.0
SIGNAL_WIRE_PRICE, SMALL_FUSE_PRICE, RELAY_PRICE = 0.45, 1.0, 11.0  # € a metre, a piece
SIGNAL_M = 5.0  # of a wire whose way is not known yet
HOLDER_PRICE = {"blade": 5.0, "sf30": 9.0, "sf51": 14.0, "class_t": 22.0, "nh": 26.0, "cube": 12.0, "breaker": 0.0}


@dataclass(frozen=True, slots=True)
class Drum:
    """A length of cable in stock."""

    id: str
    size: str
    length_m: float


@dataclass(frozen=True, slots=True)
class _At:
    """Where an end goes: its name, stud (empty for a clamp or a crimped contact), torque."""

    name: str
    stud: str
    torque_nm: float | None
    clamp: bool = False


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


def _stations(design: Design, run: RunName, sign: str) -> list[_At]:
    """What lies between the cables of a run, in the order of its pieces: both ends and everything that is no cable."""
    unit = design.charger
    battery = "start battery" if run == "supply" else "auxiliary battery"
    port = "in" if run == "supply" else "out"
    stud = unit.terminal_stud if unit is not None else ""
    torque = unit.terminal_torque_nm if unit is not None else None
    if torque is None and stud:
        torque = TORQUE_NM[stud]
    terminal = _At(f"unit {port} {sign}", stud, torque, clamp=not stud)
    post = _At(f"{battery} {sign}", POST_STUD, TORQUE_NM[POST_STUD])
    return [post, terminal] if run == "supply" else [terminal, post]


def _between(piece: object, sign: str) -> _At | None:
    """A piece as a place where cables end; `None` where the negative passes it by."""
    if isinstance(piece, ProtectiveDevice):
        if sign == "−":
            return None
        stud = DEVICE_STUD.get(piece.family, "")
        return _At(f"{device(piece.family, piece.rating_a).label} {piece.rating_a:g} A", stud, TORQUE_NM.get(stud))
    if isinstance(piece, Joint):
        plugged = piece.form in ("plug", "connector")
        stud = "" if plugged else POST_STUD
        return _At(f"{piece.name} {sign}", stud, TORQUE_NM.get(stud))
    return None


def conductors_of(design: Design) -> tuple[CutConductor, ...]:
    """Every conductor to be cut: name, size, length as measured and as bought, both ends.

    Supply S, delivery D, branch tails B; + and −; parallel cables a, b and so on.
    """
    found: list[CutConductor] = []
    for run, letter in LETTERS.items():
        described = run_of(design, run)
        signs = ("+", "−") if isinstance(described.back, OwnReturn) else ("+",)
        for sign in signs:
            found += _run_conductors(design, run, letter, sign)
        found += _tails(design, run)
    return tuple(found)


def _run_conductors(design: Design, run: RunName, letter: str, sign: str) -> list[CutConductor]:
    pieces = run_of(design, run).pieces
    first, last = _stations(design, run, sign)
    found: list[CutConductor] = []
    number = 0
    here = first
    for index, piece in enumerate(pieces):
        if not isinstance(piece, Cable):
            here = _between(piece, sign) or here
            continue
        number += 1
        there: _At | None = None
        for after in pieces[index + 1 :]:
            if isinstance(after, Cable):
                there = there or _At(f"splice {sign}", POST_STUD, TORQUE_NM[POST_STUD])
                break
            there = there or _between(after, sign)
        there = there or last
        marks = [""] if piece.parallel == 1 else [chr(ord("a") + at) for at in range(piece.parallel)]
        for mark in marks:
            found.append(
                CutConductor(
                    id=f"{letter}{number}{sign}{mark}",
                    place=f"{run}.{index}",
                    size=piece.size,
                    metal=piece.metal,
                    length_m=piece.length_m,
                    cut_m=cut_length_m(piece.length_m, design.choices.slack),
                    ends=(_end(piece.size, here, piece.strand), _end(piece.size, there, piece.strand)),
                )
            )
        here = there
    return found


def _tails(design: Design, run: RunName) -> list[CutConductor]:
    pieces = run_of(design, run).pieces
    letter = LETTERS[run]
    found: list[CutConductor] = []
    for index, piece in enumerate(pieces):
        if isinstance(piece, Branch):
            at = _At(f"{piece.name}, tapped {run}", POST_STUD, TORQUE_NM[POST_STUD])
            there = _At(piece.name, "", None, clamp=True)
            found.append(
                CutConductor(
                    id=f"B{letter}{index}+",
                    place=f"{run}.{index}",
                    size=piece.size,
                    metal="copper",
                    length_m=piece.length_m,
                    cut_m=cut_length_m(piece.length_m, design.choices.slack),
                    ends=(_end(piece.size, at, "class_5"), _end(piece.size, there, "class_5")),
                )
            )
    return found


def cut_length_m(length_m: float, slack: float) -> float:
    """Length to cut [m]: measured path and slack, rounded up to 0.1 m.

    Args:
        length_m: measured path [m].
        slack: share added.
    """
    return round(math.ceil(length_m * (1 + slack) / CUT_STEP_M - 1e-9) * CUT_STEP_M, 3)


def cut_list(cuts: Iterable[CutConductor], drums: Sequence[Drum]) -> tuple[DrumUse, ...]:
    """Lay the cuts out on the drums, longest first, each on the shortest rest that takes it; buy what does not go.

    Args:
        cuts: conductors to cut.
        drums: what is in stock.
    """
    left = {drum.id: drum.length_m for drum in drums}
    used: dict[str, list[CutConductor]] = {}
    to_buy: dict[tuple[str, str], list[CutConductor]] = {}
    for cut in sorted(cuts, key=lambda item: -item.cut_m):
        fitting = [
            drum
            for drum in drums
            if drum.size == cut.size and cut.metal == "copper" and left[drum.id] >= cut.cut_m - 1e-9
        ]
        if not fitting:
            to_buy.setdefault((cut.size, cut.metal), []).append(cut)
            continue
        drum = min(fitting, key=lambda item: (left[item.id], item.id))
        left[drum.id] -= cut.cut_m
        used.setdefault(drum.id, []).append(cut)
    found = [
        DrumUse(
            drum=drum.id,
            size=drum.size,
            in_stock=True,
            length_m=drum.length_m,
            cuts=tuple(cut.id for cut in used[drum.id]),
            used_m=round(drum.length_m - left[drum.id], 3),
            left_m=round(left[drum.id], 3),
        )
        for drum in drums
        if drum.id in used
    ]
    for (size, metal), wanted in to_buy.items():
        total_m = round(sum(cut.cut_m for cut in wanted), 3)
        bought_m = float(math.ceil(total_m - 1e-9))
        found.append(
            DrumUse(
                drum=f"to buy{'' if metal == 'copper' else ', copper-clad'}",
                size=size,
                in_stock=False,
                length_m=bought_m,
                cuts=tuple(cut.id for cut in wanted),
                used_m=total_m,
                left_m=round(bought_m - total_m, 3),
            )
        )
    return tuple(sorted(found, key=lambda item: (conductor(item.size).area_mm2, not item.in_stock, item.drum)))


def _parts(design: Design, cuts: Sequence[CutConductor], prices: Prices) -> list[Part]:
    parts: list[Part] = []
    unit = design.charger
    if unit is not None:
        parts.append(
            Part(what=unit.name, detail=unit.maker, count=float(design.units), unit="pieces", price=unit.price)
        )
    metres: defaultdict[tuple[str, str], float] = defaultdict(float)
    for cut in cuts:
        metres[cut.size, cut.metal] += cut.cut_m
    for (size, metal), total_m in sorted(metres.items(), key=lambda item: conductor(item[0][0]).area_mm2):
        detail = "copper" if metal == "copper" else "copper-clad aluminium"
        parts.append(
            Part(what=f"Cable {size}", detail=detail, count=round(total_m, 2), unit="m", price=prices.per_m(size))
        )
    guards = [
        guard
        for run in (design.supply, design.delivery)
        for piece in run.pieces
        for guard in (
            [piece] if isinstance(piece, ProtectiveDevice) else [piece.device] if isinstance(piece, Branch) else []
        )
        if guard is not None
    ]
    for (family, rating_a), count in Counter((guard.family, guard.rating_a) for guard in guards).items():
        label = device(family, rating_a).label
        parts.append(
            Part(
                what=f"{label} {rating_a:g} A",
                detail="device",
                count=float(count),
                unit="pieces",
                price=prices.of_device(family, rating_a),
            )
        )
        if HOLDER_PRICE[family]:
            parts.append(
                Part(what=f"Holder, {label}", detail="", count=float(count), unit="pieces", price=HOLDER_PRICE[family])
            )
    if design.choices.protection_school == "fuse_isolator":
        parts.append(
            Part(
                what="Isolator", detail="beside each fuse at a battery", count=2.0, unit="pieces", price=ISOLATOR_PRICE
            )
        )
    joints: Counter[str] = Counter()
    for run in (design.supply, design.delivery):
        both = 2 if isinstance(run.back, OwnReturn) else 1
        for piece in run.pieces:
            if isinstance(piece, Joint):
                joints[f"{piece.form.replace('_', ' ').capitalize()}: {piece.name}"] += both
    parts += [
        Part(what=name, detail="", count=float(count), unit="pieces", price=JOINT_PRICE)
        for name, count in joints.items()
    ]
    ends = [end for cut in cuts for end in cut.ends]
    for kind, count in sorted(Counter(end.kind for end in ends if not end.kind.startswith("bare")).items()):
        parts.append(
            Part(what=f"{kind[0].upper()}{kind[1:]}", detail="", count=float(count), unit="pieces", price=END_PRICE)
        )
    sleeves = Counter(end.heat_shrink_mm for end in ends if end.heat_shrink_mm is not None)
    for shrink, count in sorted(sleeves.items()):
        parts.append(
            Part(what=f"Heat-shrink {shrink:g} mm", detail="50 mm each", count=float(count), unit="pieces", price=0.4)
        )
    return parts


def _signal_parts(design: Design) -> list[Part]:
    """What the unit's enable wires take: wire to the unit's side of the run, and a fuse at each live tap."""
    if design.charger is None:
        return []
    wires = [signal_wire(design, method) for method in design.activation.methods]
    laid_m = sum(piece.length_m for piece in design.supply.pieces if isinstance(piece, Cable))
    each_m = cut_length_m(design.distances.supply_m or laid_m or SIGNAL_M, design.choices.slack)
    parts: list[Part] = []
    for wire in wires:
        if wire.wire_mm2 is not None:
            detail = f"{wire.taken_at} to {wire.ends_at}"
            parts.append(
                Part(what=f"Wire {wire.wire_mm2:g} mm²", detail=detail, count=each_m, unit="m", price=SIGNAL_WIRE_PRICE)
            )
        if wire.fuse_a is not None:
            parts.append(_tap(wire.fuse_a, f"at terminal {wire.terminal}"))
    return parts


def _tap(rating_a: float, where: str) -> Part:
    """A small fuse in its holder."""
    price = HOLDER_PRICE["blade"] + SMALL_FUSE_PRICE
    return Part(
        what=f"ISO 8820-3 blade {rating_a:g} A in a holder", detail=where, count=1.0, unit="pieces", price=price
    )


def _relay_parts(design: Design) -> list[Part]:
    """What opening the old link takes: the relay, a fuse in its contact, one in its coil."""
    link = old_link_of(design)
    if link is None or design.old_link.decision != "changeover":
        return []
    relay = design_relay(design, link)
    rating = "" if relay.contact_a is None else f", break contact {relay.contact_a:g} A"
    parts = [
        Part(
            what=f"Changeover relay {design.vehicle.system_v} V{rating}",
            detail=f"30, 87a, 87, 86, 85; {relay.place_text}",
            count=1.0,
            unit="pieces",
            price=RELAY_PRICE,
        ),
        _tap(relay.coil_fuse_a, "relay coil, at D+"),
    ]
    if relay.contact_fuse_a is not None:
        parts.append(_tap(relay.contact_fuse_a, "relay contact, terminal 30"))
    return parts


def buying(design: Design, code: str = "", drums: Sequence[Drum] = (), prices: Prices = CATALOGUE_PRICES) -> Buying:
    """Cuts, drums, parts and labels of a design.

    Args:
        design: the design.
        code: job number, put on every label.
        drums: what is in stock.
        prices: the workshop's own prices.
    """
    cuts = conductors_of(design)
    parts = _parts(design, cuts, prices) + _signal_parts(design) + _relay_parts(design)
    labels = [
        Label(conductor=cut.id, end=side, lines=(f"{code} {cut.id}".strip(), f"to {other.at}", cut.size))
        for cut in cuts
        for side, other in (("A", cut.ends[1]), ("B", cut.ends[0]))
    ]
    return Buying(
        conductors=cuts,
        drums=cut_list(cuts, drums),
        parts=tuple(parts),
        total=round(sum(part.count * part.price for part in parts), 2),
        labels=tuple(labels),
    )
