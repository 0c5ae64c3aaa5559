"""Graphical symbols of IEC 60617, each drawn on a conductor that runs level through a point.

Fuse, breaker, connector, terminal, battery, machine, resistor with separate terminals (shunt), frame or chassis, switch.
"""

from __future__ import annotations

from olvask.documents.diagram.pen import Kind, Pen

FUSE_W, FUSE_H = 30.0, 11.0


def fuse(pen: Pen, x: float, y: float, place: str = "") -> None:
    """A fuse: an oblong the conductor passes through."""
    pen.box(x - FUSE_W / 2, y - FUSE_H / 2, FUSE_W, FUSE_H, filled=True, place=place)
    pen.line(((x - FUSE_W / 2, y), (x + FUSE_W / 2, y)), "symbol", place=place)


def fuse_upright(pen: Pen, x: float, y: float, place: str = "") -> None:
    """A fuse on a conductor that runs upright."""
    pen.box(x - FUSE_H / 2, y - FUSE_W / 2, FUSE_H, FUSE_W, filled=True, place=place)
    pen.line(((x, y - FUSE_W / 2), (x, y + FUSE_W / 2)), "symbol", place=place)


def breaker(pen: Pen, x: float, y: float, place: str = "") -> None:
    """A circuit breaker: a make contact with a cross at its fixed end."""
    left, right = x - FUSE_W / 2, x + FUSE_W / 2
    pen.line(((left, y), (left + 4, y), (right - 4, y - 11)), "symbol", place=place)
    pen.line(((right - 4, y), (right, y)), "symbol", place=place)
    pen.line(((right - 8, y - 4), (right, y + 4)), "symbol", place=place)
    pen.line(((right - 8, y + 4), (right, y - 4)), "symbol", place=place)


def plug(pen: Pen, x: float, y: float, place: str = "") -> None:
    """Plug and socket: a filled pin that enters a half round."""
    pen.line(((x - 15, y), (x - 4, y)), "symbol", place=place)
    pen.box(x - 4, y - 3, 9, 6, filled=True, place=place)
    pen.line(((x + 4, y - 7), (x + 9, y - 5), (x + 10, y), (x + 9, y + 5), (x + 4, y + 7)), "symbol", place=place)
    pen.line(((x + 10, y), (x + 15, y)), "symbol", place=place)


def bar(pen: Pen, x: float, top: float, bottom: float, place: str = "") -> None:
    """A bus bar."""
    pen.line(((x, top), (x, bottom)), "symbol", bold=True, place=place)


def chassis(pen: Pen, x: float, y: float) -> None:
    """Frame or chassis, hanging at a point."""
    pen.line(((x, y), (x, y + 9)), "vehicle")
    pen.line(((x - 10, y + 9), (x + 10, y + 9)), "vehicle")
    for at in (-10, 0, 10):
        pen.line(((x + at, y + 9), (x + at - 5, y + 16)), "vehicle")


def battery(pen: Pen, x: float, top: float, bottom: float, plus_up: bool, kind: Kind) -> None:
    """Two cells of a battery on an upright conductor, the long plate positive."""
    middle = (top + bottom) / 2
    signs = (True, False, True, False) if plus_up else (False, True, False, True)
    for at, long in enumerate(signs):
        half = 15 if long else 8
        y = middle - 12 + 8 * at
        pen.line(((x - half, y), (x + half, y)), "symbol", bold=not long)
    pen.line(((x, top), (x, middle - 12)), kind)
    pen.line(((x, middle + 12), (x, bottom)), kind)


def machine(pen: Pen, x: float, y: float, converter: bool) -> None:
    """A generator, or the converter that stands in for it."""
    if converter:
        pen.box(x - 18, y - 18, 36, 36, filled=True)
        pen.line(((x - 18, y + 18), (x + 18, y - 18)), "symbol")
        return
    pen.ring(x, y, 18)
    pen.text(x, y + 5, "G", bold=True)


def shunt(pen: Pen, x: float, y: float) -> None:
    """A resistor with separate terminals for current and voltage."""
    pen.box(x - 18, y - 6, 36, 12, filled=True)
    for at in (-10, 10):
        pen.line(((x + at, y + 6), (x + at, y + 13)), "signal")


def switch(pen: Pen, x: float, y: float) -> None:
    """A make contact."""
    pen.line(((x - 15, y), (x - 8, y), (x + 9, y - 9)), "symbol")
    pen.line(((x + 10, y), (x + 15, y)), "symbol")
