"""Measures a drawing as it is seen: how wide its words come out in the face that ships, and whether anything crosses them."""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise
from pathlib import Path

from PIL import ImageFont

import olvask.documents
from olvask.documents.diagram.pen import Drawing, Words

FONTS = Path(olvask.documents.__file__).parent / "fonts"
Box = tuple[float, float, float, float]


@lru_cache(maxsize=8)
def _face(weight: int, size: int) -> ImageFont.FreeTypeFont:
    return ImageFont.truetype(str(FONTS / f"barlow-semi-condensed-{weight}.ttf"), size * 10)


def box_of(words: Words) -> Box:
    """Left, top, right, bottom of a line of words, measured by the outlines of its letters."""
    left, top, right, bottom = _face(600 if words.bold else 400, 13 if words.bold else 12).getbbox(
        words.text, anchor="ls"
    )
    width = (right - left) / 10
    start = {"start": words.x, "middle": words.x - width / 2, "end": words.x - width}[words.anchor]
    return start, words.y + top / 10, start + width, words.y + bottom / 10


def _apart(a: Box, b: Box) -> bool:
    return a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]


def _crosses(box: Box, one: tuple[float, float], two: tuple[float, float]) -> bool:
    """Whether a stroke enters a box, by clipping it against the four sides."""
    (x, y), (dx, dy) = one, (two[0] - one[0], two[1] - one[1])
    enter, leave = 0.0, 1.0
    for step, near, far in ((dx, box[0] - x, box[2] - x), (dy, box[1] - y, box[3] - y)):
        if step == 0:
            if near > 0 or far < 0:
                return False
            continue
        first, last = sorted((near / step, far / step))
        enter, leave = max(enter, first), min(leave, last)
    return enter < leave


def faults_of(drawing: Drawing) -> list[str]:
    """Words over words, words under a stroke or a ring, anything off the sheet."""
    boxes = [(box_of(words), words) for words in drawing.words]
    wrong = []
    for at, (box, words) in enumerate(boxes):
        wrong += [f"“{words.text}” over “{other.text}”" for far, other in boxes[at + 1 :] if not _apart(box, far)]
        for line in drawing.lines:
            points = (*line.points, line.points[0]) if line.closed else line.points
            if any(_crosses(box, one, two) for one, two in pairwise(points)):
                wrong.append(f"“{words.text}” under a {line.kind} stroke {line.conductor}")
        for ring in drawing.rings:
            if ring.radius > 10 and words.text == "G":
                continue
            near = (max(box[0], min(ring.x, box[2])), max(box[1], min(ring.y, box[3])))
            if (near[0] - ring.x) ** 2 + (near[1] - ring.y) ** 2 < ring.radius**2:
                wrong.append(f"“{words.text}” under a ring")
        if box[0] < 0 or box[1] < 0 or box[2] > drawing.width or box[3] > drawing.height:
            wrong.append(f"“{words.text}” off the sheet")
    return wrong
