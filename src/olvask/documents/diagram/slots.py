"""The stretches of a run as they stand side by side in the drawing: each draws itself between two places on the rows.

- `Slot`: one of them.
- `slots_of`: those of a run, in the order they are drawn.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from olvask.core.catalogue import device
from olvask.core.model import Branch, Cable, Design, Joint, Piece, ProtectiveDevice, RunName
from olvask.core.stages.build.conductors import CutConductor
from olvask.documents.diagram.pen import Pen, width_of
from olvask.documents.diagram.symbols import FUSE_W, breaker, fuse, fuse_upright, plug

AIR = 14.0  # between neighbouring words
APART = 4.0  # between cables laid side by side
TAIL_UP = 112.0  # how far a branch stands off its row
PLACES = {"cabin": "cabin", "under_floor": "under the floor", "engine_bay": "engine bay"}


@dataclass
class Slot:
    """One stretch of a run.

    Attributes:
        piece: what it shows.
        width: at least this wide.
        plus: conductors of the outgoing row.
        minus: conductors of the returning row.
        number: of a branch, in its run.
    """

    piece: Piece
    width: float
    plus: tuple[CutConductor, ...] = ()
    minus: tuple[CutConductor, ...] = ()
    number: int = 0
    at: float = field(default=0.0)


@dataclass(frozen=True, slots=True)
class Rows:
    """Where the rows of a run lie, and which way its branches stand off.

    Attributes:
        run: which run.
        plus_y: outgoing row.
        minus_y: returning row.
        own: whether the run has a return of its own.
        up: −1 where branches stand above, 1 where they hang below.
    """

    run: RunName
    plus_y: float
    minus_y: float
    own: bool
    up: int


THERE = "there already"


def about(cuts: Sequence[CutConductor]) -> str:
    """Size and length of conductors that are alike."""
    if not cuts:
        return ""
    cut = cuts[0]
    metal = "" if cut.metal == "copper" else ", copper-clad"
    return f"{cut.size}{metal} · {cut.length_m:g} m"


def named(cuts: Sequence[CutConductor]) -> str:
    """Names of conductors side by side."""
    return " ".join(cut.id for cut in cuts)


def slots_of(
    design: Design, run: RunName, by_place: Mapping[str, Sequence[CutConductor]], without: str, own: bool
) -> list[Slot]:
    """The stretches of a run in the order of the drawing: from its battery to the unit.

    Args:
        design: the design.
        run: which run.
        by_place: conductors by piece.
        without: identity of a cable that each unit has of its own; empty for none.
        own: whether the run has a return of its own.
    """
    found: list[Slot] = []
    number = 0
    for piece in design.run(run).pieces:
        if piece.id == without:
            continue
        cuts = by_place.get(piece.id, ())
        plus = tuple(cut for cut in cuts if "+" in cut.id)
        minus = tuple(cut for cut in cuts if "−" in cut.id)
        if isinstance(piece, Branch):
            number += 1
        found.append(
            Slot(piece, _width(piece, plus, minus, own), plus, minus, number if isinstance(piece, Branch) else 0)
        )
    return found if run == "supply" else found[::-1]


def _width(piece: Piece, plus: Sequence[CutConductor], minus: Sequence[CutConductor], own: bool) -> float:
    if isinstance(piece, Cable):
        told = [
            width_of(named(plus), True),
            width_of(about(plus)),
            width_of(_laid(piece)),
            width_of(named(minus), True),
        ]
        return max(told) + AIR
    if isinstance(piece, ProtectiveDevice):
        return (
            max(width_of(f"{piece.rating_a:g} A", True), width_of(device(piece.family, piece.rating_a).label), FUSE_W)
            + AIR
        )
    if isinstance(piece, Joint):
        told = [
            width_of(piece.called, True),
            width_of(_rated(piece)),
            width_of(f"{piece.called} −", True) if own else 0.0,
        ]
        return max(*told, 34.0) + AIR
    tail = max(width_of(named(plus), True), width_of(about(plus)), width_of(_guarded(piece)), 30.0) + 28
    back = max(width_of(named(minus), True), width_of(about(minus))) + 16 if minus else 0.0
    return max(tail + back, width_of(piece.called, True) + 16) + AIR


def _laid(piece: Cable) -> str:
    words = PLACES[piece.place] + (", in conduit" if piece.conduit else "")
    return words + {"": "", "out": f", + {THERE}", "both": f", {THERE}"}[piece.there]


def _rated(piece: Joint) -> str:
    return f"{piece.rating_a:g} A" if piece.rating_a is not None else ""


def _guarded(piece: Branch) -> str:
    if piece.device is None:
        return "no device"
    return f"{piece.device.rating_a:g} A {device(piece.device.family, piece.device.rating_a).label}"


def draw(pen: Pen, slot: Slot, rows: Rows, left: float, right: float) -> None:
    """Draw one stretch between two places.

    Args:
        pen: where to.
        slot: what.
        rows: the rows of its run.
        left: where it begins.
        right: where it ends.
    """
    piece = slot.piece
    if isinstance(piece, Cable):
        _cable(pen, slot, piece, rows, left, right)
    elif isinstance(piece, Branch):
        _branch(pen, slot, piece, rows, left, right)
    else:
        _symbol(pen, piece, rows, left, right)


def _cable(pen: Pen, slot: Slot, piece: Cable, rows: Rows, left: float, right: float) -> None:
    middle = (left + right) / 2
    for cuts, y in ((slot.plus, rows.plus_y), (slot.minus, rows.minus_y)):
        if not cuts:
            continue
        for at, cut in enumerate(cuts):
            level = y + at * APART
            pen.line(((left, level), (right, level)), rows.run, bold=True, conductor=cut.id, place=piece.id)
        if len(cuts) > 1:
            for x in (left, right):
                pen.line(((x, y), (x, y + (len(cuts) - 1) * APART)), rows.run, bold=True)
        pen.text(middle, y - 22, named(cuts), bold=True, conductor=cuts[0].id, place=piece.id)
        pen.text(middle, y - 8, about(cuts), muted=True, conductor=cuts[0].id, place=piece.id)
    below = rows.plus_y + 17 + max(0, len(slot.plus) - 1) * APART
    pen.text(middle, below, _laid(piece), muted=True, place=piece.id)


def _through(pen: Pen, rows: Rows, y: float, left: float, right: float, gap: float, place: str) -> None:
    """The conductor on both sides of a symbol."""
    middle = (left + right) / 2
    pen.line(((left, y), (middle - gap, y)), "link", place=place)
    pen.line(((middle + gap, y), (right, y)), "link", place=place)


def _symbol(pen: Pen, piece: ProtectiveDevice | Joint, rows: Rows, left: float, right: float) -> None:
    middle = (left + right) / 2
    if isinstance(piece, ProtectiveDevice):
        _through(pen, rows, rows.plus_y, left, right, FUSE_W / 2, piece.id)
        (breaker if piece.family == "breaker" else fuse)(pen, middle, rows.plus_y, piece.id)
        pen.text(middle, rows.plus_y - 30, f"{piece.rating_a:g} A", bold=True, place=piece.id)
        pen.text(middle, rows.plus_y - 16, device(piece.family, piece.rating_a).label, muted=True, place=piece.id)
        if rows.own:
            pen.line(((left, rows.minus_y), (right, rows.minus_y)), "link")
        return
    for y, sign in ((rows.plus_y, ""), (rows.minus_y, " −")):
        if sign and not rows.own:
            continue
        if piece.form in ("plug", "connector"):
            _through(pen, rows, y, left, right, 15, piece.id)
            plug(pen, middle, y, piece.id)
        else:
            pen.line(((left, y), (right, y)), "link", place=piece.id)
            if piece.form == "bus_bar":
                pen.line(((middle, y - 10), (middle, y + 10)), "symbol", bold=True, place=piece.id)
            else:
                pen.ring(middle, y, 4.5, place=piece.id)
        pen.text(middle, y - 30, f"{piece.called}{sign}", bold=True, place=piece.id)
        pen.text(middle, y - 16, _rated(piece), muted=True, place=piece.id)


def _branch(pen: Pen, slot: Slot, piece: Branch, rows: Rows, left: float, right: float) -> None:
    """A tail that stands off its row to what it feeds, and its negative back to the row or to the body."""
    for y in (rows.plus_y, rows.minus_y) if rows.own else (rows.plus_y,):
        pen.line(((left, y), (right, y)), "link")
    x, far = left + AIR / 2 + 4, rows.plus_y + rows.up * TAIL_UP
    pen.ring(x, rows.plus_y, 3.5, filled=True, place=piece.id)
    guard_y = rows.plus_y + rows.up * 34
    for cut in slot.plus:
        pen.line(((x, rows.plus_y), (x, far)), rows.run, conductor=cut.id, place=piece.id)
        _beside(pen, x + 9, rows.plus_y + rows.up * 88, rows.up, (named(slot.plus), about(slot.plus)), cut.id, piece.id)
    if piece.device is not None:
        fuse_upright(pen, x, guard_y, piece.id)
    pen.text(x + 11, guard_y + 4, _guarded(piece), "start", muted=True, place=piece.id)
    wide = right - left - AIR
    top = far - 24 if rows.up < 0 else far
    pen.box(left + AIR / 2, top, wide, 24, filled=True, place=piece.id)
    pen.text(left + AIR / 2 + wide / 2, top + 16, piece.called, bold=True, place=piece.id)
    if slot.minus:
        _back(pen, slot, piece, rows, right, far)


def _beside(pen: Pen, x: float, y: float, up: int, told: tuple[str, str], conductor: str, place: str) -> None:
    """Two lines of words beside an upright conductor."""
    first = y if up < 0 else y - 6
    pen.text(x, first, told[0], "start", bold=True, conductor=conductor, place=place)
    pen.text(x, first + 14, told[1], "start", muted=True, conductor=conductor, place=place)


def _back(pen: Pen, slot: Slot, piece: Branch, rows: Rows, right: float, far: float) -> None:
    cut = slot.minus[0]
    width = max(width_of(named(slot.minus), True), width_of(about(slot.minus)))
    x = right - AIR / 2 - width - 8
    end = rows.minus_y if rows.own else rows.plus_y + rows.up * 30
    pen.line(((x, far), (x, end)), rows.run, conductor=cut.id, place=piece.id)
    _beside(pen, x + 7, rows.plus_y + rows.up * 88, rows.up, (named(slot.minus), about(slot.minus)), cut.id, piece.id)
    if rows.own:
        pen.ring(x, end, 3.5, filled=True, place=piece.id)
    else:
        # the frame's symbol lies along the tail, clear of the row
        pen.line(((x - 9, end), (x + 9, end)), "vehicle")
        for at in (-9, 0, 9):
            pen.line(((x + at, end), (x + at - 4, end - rows.up * 6)), "vehicle")
