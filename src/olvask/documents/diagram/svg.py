"""A drawing as SVG: every conductor and piece carries its name as a title.

- `svg_of`: the document.
- `schematic_svg`: that of a design.
"""

from __future__ import annotations

from xml.sax.saxutils import escape, quoteattr

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.documents.diagram.layout import diagram_of
from olvask.documents.diagram.pen import SIZE, SMALL, SPARE, Drawing, Kind, Line, Ring, Words, width_of

COLOURS: dict[Kind, str] = {
    "supply": "#A4552A",
    "delivery": "#2B6A70",
    "vehicle": "#5A5E5E",
    "link": "#20262B",
    "symbol": "#20262B",
    "signal": "#5A5E5E",
    "old": "#5A5E5E",
    "case": "#20262B",
}
PAPER, INK, MUTED = "#FFFFFF", "#20262B", "#5A5E5E"


def svg_of(drawing: Drawing, title: str = "Wiring diagram") -> str:
    """The drawing as an SVG document; words stay words, no face is embedded.

    Args:
        drawing: what was drawn.
        title: what it is called.
    """
    parts = [_line(item) for item in drawing.lines]
    parts += [_ring(item) for item in drawing.rings]
    parts += [_words(item) for item in drawing.words]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {drawing.width:.0f} {drawing.height:.0f}" '
        f'width="{drawing.width:.0f}" height="{drawing.height:.0f}" '
        f'font-family="Barlow Semi Condensed, Barlow, sans-serif" role="img" aria-label={quoteattr(title)}>'
        f"<title>{escape(title)}</title>{''.join(parts)}</svg>"
    )


def _named(body: str, name: str) -> str:
    return f"<g><title>{escape(name)}</title>{body}</g>" if name else body


def _line(item: Line) -> str:
    points = " ".join(f"{x:.1f},{y:.1f}" for x, y in item.points)
    tag = "polygon" if item.closed else "polyline"
    fill = PAPER if item.filled else "none"
    width = 2.6 if item.bold else 1.4
    dash = ' stroke-dasharray="5 3"' if item.dashed else ""
    conductor = f" data-conductor={quoteattr(item.conductor)}" if item.conductor else ""
    body = (
        f'<{tag} points="{points}" fill="{fill}" stroke="{COLOURS[item.kind]}" stroke-width="{width}"{dash}{conductor} '
        'stroke-linejoin="round"/>'
    )
    return _named(body, item.conductor)


def _ring(item: Ring) -> str:
    fill = INK if item.filled else PAPER
    terminal = f" data-terminal={quoteattr(item.terminal)}" if item.terminal else ""
    body = (
        f'<circle cx="{item.x:.1f}" cy="{item.y:.1f}" r="{item.radius:g}" fill="{fill}" stroke="{COLOURS[item.kind]}" '
        f'stroke-width="1.4"{terminal}/>'
    )
    return _named(body, item.terminal)


def _words(item: Words) -> str:
    size, weight = (SIZE, "600") if item.bold else (SMALL, "400")
    fill = MUTED if item.muted else INK
    wide = (
        width_of(item.text, item.bold) / SPARE
    )  # held to in any face, so that nothing is crossed where ours is not there
    return (
        f'<text x="{item.x:.1f}" y="{item.y:.1f}" font-size="{size:g}" font-weight="{weight}" fill="{fill}" '
        f'text-anchor="{item.anchor}" textLength="{wide:.1f}" lengthAdjust="spacingAndGlyphs">{escape(item.text)}</text>'
    )


def schematic_svg(design: Design) -> str:
    """The wiring of a design as an SVG document."""
    return svg_of(diagram_of(Context.of(design)))
