"""The unit, or several: each with its real terminals, its own tails and devices, its straps and enable wires.

- `Port`: a terminal of a unit, and what ends there.
- `draw_units`: all of them, right of the rows.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from olvask.core.catalogue import device
from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Design, OwnReturn, RunName
from olvask.core.stages.build.conductors import LETTERS, CutConductor, unit_tails
from olvask.core.stages.wake.wiring import SignalWire, signal_wire
from olvask.documents.diagram.pen import Pen, width_of
from olvask.documents.diagram.slots import Rows, about, named
from olvask.documents.diagram.symbols import breaker, chassis, fuse, switch

Side = tuple[RunName, str]
SIDES: tuple[Side, ...] = (("supply", "+"), ("supply", "−"), ("delivery", "−"), ("delivery", "+"))
BAR_STEP = 16.0  # between bus bars
PITCH = 42.0  # between terminals of one of several units
WIRE_STEP = 44.0
TAIL_DEVICE = 76.0
PORT_W = 84.0  # room for the names of a unit's terminals


@dataclass(frozen=True, slots=True)
class Port:
    """A terminal of a unit: its words, its height, the sides it serves."""

    name: str
    terminal: str
    y: float
    ends: tuple[Side, ...]


def ports_of(design: Design, number: str, heights: Sequence[float]) -> list[Port]:
    """The real terminals of a unit: four, or three where one negative is shared.

    Args:
        design: the design.
        number: which unit, as the cut list writes it; empty for a single one.
        heights: of in +, in −, out −, out +.
    """
    plus_in, minus_in, minus_out, plus_out = heights
    unit = f"unit{number}"
    first = Port("in +", f"{unit} in +", plus_in, (("supply", "+"),))
    last = Port("out +", f"{unit} out +", plus_out, (("delivery", "+"),))
    if design.charger is None or design.charger.isolated:
        return [
            first,
            Port("in −", f"{unit} in −", minus_in, (("supply", "−"),)),
            Port("out −", f"{unit} out −", minus_out, (("delivery", "−"),)),
            last,
        ]
    shared = Port("common −", f"{unit} −", (minus_in + minus_out) / 2, (("supply", "−"), ("delivery", "−")))
    return [first, shared, last]


def _told_of(design: Design, number: str) -> tuple[str, str]:
    """What stands in a unit's box: its name, and how it is."""
    unit = design.charger
    if unit is None:
        return f"no unit chosen{number}", ""
    current = design.current_limit_a or unit.output_a
    return unit.name + number, f"{'isolated' if unit.isolated else 'non-isolated'}, {current:g} A"


def unit_width(design: Design) -> float:
    """How wide a unit's box is: the names of its terminals, and its own beside them."""
    name, how = _told_of(design, f", {design.units} of {design.units}" if design.units > 1 else "")
    return PORT_W + max(70.0, width_of(name, True), width_of(how)) + 14


def body(pen: Pen, design: Design, x: float, top: float, bottom: float, ports: Sequence[Port], number: str) -> None:
    """The box of a unit with its terminals and what it is."""
    pen.box(x, top, unit_width(design), bottom - top, "case", filled=True, place="charger")
    for port in ports:
        pen.ring(x, port.y, 4.5, terminal=port.terminal, place="charger")
        pen.text(x + 11, port.y + 4, port.name, "start", muted=True, place="charger")
    name, how = _told_of(design, number)
    middle = (top + bottom) / 2
    pen.text(x + PORT_W, middle - 3, name, "start", bold=True, place="charger")
    pen.text(x + PORT_W, middle + 13, how, "start", muted=True, place="charger")


def join_ports(pen: Pen, ports: Sequence[Port], rows: dict[RunName, Rows], x: float, has: set[RunName]) -> None:
    """Lead the rows' returning conductors to the terminals of a single unit; a shared one gathers both."""
    for port in ports:
        if len(port.ends) < 2:
            continue
        ends = [rows[run].minus_y for run, _ in port.ends if run in has]
        if not ends:
            continue
        bend = x - 24
        pen.line(((bend, min([*ends, port.y])), (bend, max([*ends, port.y]))), "link")
        pen.line(((bend, port.y), (x, port.y)), "link")


def strap(pen: Pen, cut: CutConductor, x: float, y: float, flat: bool = False, leftwards: bool = True) -> None:
    """A strap from a terminal at (x, y) to the body, going left or right; flat, its words take one line."""
    if flat:
        words = f"{cut.id} · {about((cut,))}"
        left = x - width_of(words) - 8
        pen.line(((x, y), (left, y)), "link", bold=True, conductor=cut.id, place=cut.place)
        chassis(pen, left, y)
        pen.text(x - 4, y - 6, words, "end", conductor=cut.id, place=cut.place)
        return
    width = max(width_of(named((cut,)), True), width_of(about((cut,)))) + 8
    end = x - width if leftwards else x + width
    middle = (x + end) / 2
    pen.line(((x, y), (end, y)), "link", bold=True, conductor=cut.id, place=cut.place)
    chassis(pen, end, y)
    pen.text(middle, y - 22, cut.id, bold=True, conductor=cut.id, place=cut.place)
    pen.text(middle, y - 8, about((cut,)), muted=True, conductor=cut.id, place=cut.place)


def strap_width(cuts: Sequence[CutConductor]) -> float:
    """Room a strap wants beside a terminal."""
    return max((max(width_of(cut.id, True), width_of(about((cut,)))) for cut in cuts), default=0.0) + 40


def _guards_w(ctx: Context) -> float:
    """Room for the devices of the tails."""
    guards = [tails.device for run in RUNS if (tails := unit_tails(ctx, run)) is not None]
    told = [width_of(_guard(item.family, item.rating_a)) + 24 for item in guards if item is not None]
    return max(TAIL_DEVICE, *told) if told else 0.0


def tails_width(ctx: Context, cuts: Sequence[CutConductor]) -> float:
    """Room for the tails of several units: bars, devices, words."""
    words = [width_of(f"{cut.id} · {about((cut,))}") for cut in cuts if "." in cut.id or cut.id[0] == "C"]
    return 5 * BAR_STEP + _guards_w(ctx) + max(words, default=0.0) + 50


def _guard(family: str, rating_a: float) -> str:
    return f"{rating_a:g} A {device(family, rating_a).label}"


def heights_of(top: float, taken: Sequence[float]) -> list[float]:
    """Heights of the four terminals of one of several units, none level with a row."""
    heights = [top + 26 + PITCH * at for at in range(4)]
    while any(abs(height - row) < 9 for height in heights for row in taken):
        heights = [height + 3 for height in heights]
    return heights


@dataclass
class _Hung:
    """Several units on their bars: where each bar stands, which heights it reaches, where devices and units stand."""

    pen: Pen
    ctx: Context
    cuts: Sequence[CutConductor]
    columns: dict[Side, float]
    reach: dict[Side, list[float]]
    guard_x: float
    unit_x: float

    def tails(self, number: int, port: Port) -> None:
        """The tails of one terminal: one, or two at a shared negative, a little apart; its strap."""
        straps = [cut for cut in self.cuts if cut.id[0] == "C" and cut.ends[0].at == port.terminal]
        mine = [
            (side, cut)
            for side in port.ends
            for cut in self.cuts
            if cut.id[0] == LETTERS[side[0]] and cut.id.endswith(f".{number}{side[1]}")
        ]
        for side in port.ends:
            self._bare(side, port.y)
        offsets = [0.0] if len(mine) + len(straps) < 2 else [-13.0, 13.0, 26.0]
        for offset, (side, cut) in zip(offsets, mine, strict=False):
            self._tail(side, cut, port.y + offset)
            self._bend(port.y, offset)
        for offset, cut in zip(offsets[len(mine) :] or [0.0], straps, strict=False):
            strap(self.pen, cut, self.unit_x - 12 if offset else self.unit_x, port.y + offset, flat=True)
            self._bend(port.y, offset)

    def _bend(self, y: float, offset: float) -> None:
        if offset:
            self.pen.line(((self.unit_x - 12, y + offset), (self.unit_x, y)), "link")

    def _bare(self, side: Side, y: float) -> None:
        """Where no tail is drawn in the run, the bar itself leads to the terminal."""
        own = isinstance(self.ctx.design.run(side[0]).back, OwnReturn)
        if unit_tails(self.ctx, side[0]) is None and (own or side[1] == "+"):
            self.reach[side].append(y)
            self.pen.line(((self.columns[side], y), (self.unit_x, y)), "link")
            self.pen.ring(self.columns[side], y, 3.5, filled=True)

    def _tail(self, side: Side, cut: CutConductor, y: float) -> None:
        x, end, tails = self.columns[side], self.unit_x - 12, unit_tails(self.ctx, side[0])
        self.reach[side].append(y)
        self.pen.ring(x, y, 3.5, filled=True)
        begin = x
        if tails is not None and tails.device is not None and side[1] == "+":
            self.pen.line(((x, y), (self.guard_x - 15, y)), "link")
            (breaker if tails.device.family == "breaker" else fuse)(self.pen, self.guard_x, y)
            self.pen.text(self.guard_x, y - 9, _guard(tails.device.family, tails.device.rating_a), muted=True)
            begin = self.guard_x + 15
        self.pen.line(((begin, y), (end, y)), side[0], bold=True, conductor=cut.id, place=cut.place)
        self.pen.line(((end, y), (self.unit_x, y)), "link")
        self.pen.text(end - 4, y - 6, f"{cut.id} · {about((cut,))}", "end", conductor=cut.id, place=cut.place)

    def bars(self, rows: dict[RunName, Rows], left: float) -> None:
        """The bars themselves, each joined to its row."""
        for side, heights in self.reach.items():
            row = rows[side[0]]
            y = row.plus_y if side[1] == "+" else row.minus_y
            if heights and (side[1] == "+" or row.own):
                x = self.columns[side]
                self.pen.line(((x, min([y, *heights])), (x, max([y, *heights]))), "symbol", bold=True)
                self.pen.line(((left, y), (x, y)), "link")
                self.pen.ring(x, y, 3.5, filled=True, terminal=self._named(side))

    def _named(self, side: Side) -> str:
        tails = unit_tails(self.ctx, side[0])
        return f"{side[0]} bus bar {side[1]}" if tails is not None and tails.laid is None else ""


def several(
    pen: Pen,
    ctx: Context,
    cuts: Sequence[CutConductor],
    rows: dict[RunName, Rows],
    bars_x: float,
    unit_x: float,
    top: float,
) -> float:
    """Several units, each hung on the bars by its own tails; where they end.

    Args:
        pen: where to.
        ctx: the design solved.
        cuts: every conductor.
        rows: the rows of the runs.
        bars_x: where the bars stand.
        unit_x: where the units stand.
        top: where the first begins.
    """
    columns: dict[Side, float] = {side: bars_x + BAR_STEP * at for at, side in enumerate(SIDES, start=1)}
    hung = _Hung(
        pen, ctx, cuts, columns, {side: [] for side in SIDES}, bars_x + 5 * BAR_STEP + _guards_w(ctx) / 2, unit_x
    )
    taken, bottom = [y for row in rows.values() for y in (row.plus_y, row.minus_y)], top
    for number in range(1, ctx.design.units + 1):
        ports = ports_of(ctx.design, f" {number}", heights_of(bottom, taken))
        foot = ports[-1].y + 26
        body(pen, ctx.design, unit_x, ports[0].y - 26, foot, ports, f", {number} of {ctx.design.units}")
        for port in ports:
            hung.tails(number, port)
        bottom = foot + 16
    hung.bars(rows, bars_x)
    return bottom


def wires_of(design: Design) -> list[SignalWire]:
    """The enable wires, and what stands for one."""
    if design.charger is None:
        return []
    return [signal_wire(design, way) for way in design.activation.ways if way != "voltage"]


def wires_width(design: Design) -> float:
    """Room the enable wires want right of the unit."""
    told = [max(width_of(head, True), width_of(detail)) for head, detail in map(_told, wires_of(design))]
    return 130.0 + max(told, default=0.0) if told else 20.0


def _told(wire: SignalWire) -> tuple[str, str]:
    head = f"{wire.terminal} · {wire.taken_at}" if wire.terminal else f"{wire.through} at its remote terminals"
    size = f"{wire.wire_mm2:g} mm²" if wire.wire_mm2 is not None else ""
    fused = f", {wire.fuse_a:g} A at the tap" if wire.fuse_a is not None else ""
    through = f", plug {wire.plug}" if wire.plug else ""
    return head, f"{size}{fused}{through}"


def draw_wires(pen: Pen, design: Design, x: float, top: float) -> float:
    """Enable wires from the unit's right side; where they end.

    Args:
        pen: where to.
        design: the design.
        x: the unit's right side.
        top: where the first goes.
    """
    y = top
    for wire in wires_of(design):
        pen.ring(x, y, 4.5, terminal=f"enable {wire.way}", place="charger")
        if wire.fuse_a is not None:
            pen.line(((x + 4.5, y), (x + 45, y)), "signal")
            fuse(pen, x + 60, y)
            pen.line(((x + 75, y), (x + 95, y)), "signal")
        elif wire.through == "switch":
            pen.line(((x + 4.5, y), (x + 45, y)), "signal")
            switch(pen, x + 60, y)
            pen.line(((x + 75, y), (x + 95, y)), "signal")
        else:
            pen.line(((x + 4.5, y), (x + 95, y)), "signal")
        pen.ring(x + 99, y, 4)
        head, detail = _told(wire)
        pen.text(x + 110, y - 2, head, "start", bold=True)
        pen.text(x + 110, y + 13, detail, "start", muted=True)
        y += WIRE_STEP
    return y
