"""What a drawing is made of: lines, rings and words, each knowing the conductor and the piece it belongs to.

- `Drawing`: all of them, with their size.
- `Pen`: collects them.
- `width_of`: how wide words come out.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from importlib.resources import as_file, files
from typing import Literal

from pydantic import Field

from olvask.core.findings.said import Said

Kind = Literal["supply", "delivery", "vehicle", "link", "symbol", "signal", "old", "case"]
Anchor = Literal["start", "middle", "end"]
SIZE, SMALL = 13.0, 12.0  # of names and of the rest; nothing smaller is read in a van
SPARE = 1.04  # a browser's own face may come out a little wider
Point = tuple[float, float]


class Line(Said):
    """A run of straight strokes; closed and filled where it is an outline."""

    points: tuple[Point, ...]
    kind: Kind
    closed: bool = False
    filled: bool = False
    dashed: bool = False
    bold: bool = False
    conductor: str = ""
    place: str = ""


class Ring(Said):
    """A circle: a terminal, a machine, a dot where conductors meet."""

    x: float
    y: float
    radius: float
    kind: Kind
    filled: bool = False
    terminal: str = Field("", description="what ends here, by the name of the cut list; empty where nothing does")
    place: str = ""


class Words(Said):
    """A line of text on its baseline."""

    x: float
    y: float
    text: str
    anchor: Anchor
    bold: bool
    muted: bool
    conductor: str = ""
    place: str = ""


class Drawing(Said):
    """A wiring diagram; lengths in points of its own."""

    width: float
    height: float
    lines: tuple[Line, ...]
    rings: tuple[Ring, ...]
    words: tuple[Words, ...]


@lru_cache(maxsize=2)
def _advances(weight: int) -> dict[str, float]:
    """Widths of single letters at a size of one."""
    from PIL import ImageFont

    file = files("olvask.documents").joinpath("fonts", f"barlow-semi-condensed-{weight}.ttf")
    with as_file(file) as path:
        face = ImageFont.truetype(str(path), 100)
        letters = {chr(code) for code in (*range(32, 127), *range(160, 256))} | set("−·×Ω↔→…“”–°±≥≤✓")
        return {letter: face.getlength(letter) / 100 for letter in letters}


@lru_cache(maxsize=8192)
def width_of(text: str, bold: bool = False) -> float:
    """How wide words come out, at most.

    Args:
        text: the words.
        bold: whether they are a name.
    """
    known = _advances(600 if bold else 400)
    return sum(known.get(letter, 0.75) for letter in text) * (SIZE if bold else SMALL) * SPARE


class Pen:
    """Collects what is drawn."""

    def __init__(self) -> None:
        """Start with an empty sheet."""
        self.lines: list[Line] = []
        self.rings: list[Ring] = []
        self.words: list[Words] = []

    def line(
        self,
        points: Iterable[Point],
        kind: Kind,
        *,
        closed: bool = False,
        filled: bool = False,
        dashed: bool = False,
        bold: bool = False,
        conductor: str = "",
        place: str = "",
    ) -> None:
        """Straight strokes from point to point."""
        self.lines.append(
            Line.model_construct(
                points=tuple(points),
                kind=kind,
                closed=closed,
                filled=filled,
                dashed=dashed,
                bold=bold,
                conductor=conductor,
                place=place,
            )
        )

    def box(self, x: float, y: float, width: float, height: float, kind: Kind = "symbol", **more: bool | str) -> None:
        """An outline with two sides level."""
        corners = ((x, y), (x + width, y), (x + width, y + height), (x, y + height))
        self.line(corners, kind, closed=True, **more)  # type: ignore[arg-type]  # passed on as they came

    def ring(
        self,
        x: float,
        y: float,
        radius: float,
        kind: Kind = "symbol",
        *,
        filled: bool = False,
        terminal: str = "",
        place: str = "",
    ) -> None:
        """A circle."""
        self.rings.append(
            Ring.model_construct(x=x, y=y, radius=radius, kind=kind, filled=filled, terminal=terminal, place=place)
        )

    def text(
        self,
        x: float,
        y: float,
        text: str,
        anchor: Anchor = "middle",
        *,
        bold: bool = False,
        muted: bool = False,
        conductor: str = "",
        place: str = "",
    ) -> None:
        """A line of words; nothing where there are none."""
        if text.strip():
            self.words.append(
                Words.model_construct(
                    x=x, y=y, text=text, anchor=anchor, bold=bold, muted=muted, conductor=conductor, place=place
                )
            )

    def drawing(self, width: float, height: float) -> Drawing:
        """What was drawn."""
        return Drawing.model_construct(
            width=width, height=height, lines=tuple(self.lines), rings=tuple(self.rings), words=tuple(self.words)
        )
