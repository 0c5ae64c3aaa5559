"""Photographs as they come from a phone, made anew: smaller, upright, without the place they were taken at.

- `remade`: one photograph.
- `remade_mark`: a workshop's mark for the head of its papers.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from io import BytesIO
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PIL import Image

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 120_000_000  # a phone's largest; our own estimate. More is refused before a pixel is read
MOST_BYTES = 25_000_000  # of a phone's largest picture; our own estimate
LONG_SIDE, THUMBNAIL_SIDE = 1600, 240
QUALITY = 82
MARK_SIDES = ((720, 240), (480, 160), (320, 107), (160, 54))  # px, the first that is small enough
MARK_BYTES = 55_000
MARK_COLOURS = 64  # what a printed mark has, edges smoothed; our own estimate


class BadPhotograph(ValueError):
    """It cannot be taken; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Photograph:
    """A photograph as it is kept; `id` is the hash of what it holds."""

    id: str
    picture: bytes
    thumbnail: bytes


def remade(raw: bytes) -> Photograph:
    """A photograph drawn anew from its pixels: nothing but them is kept.

    Args:
        raw: JPEG, PNG or WebP as it came.

    Raises:
        BadPhotograph: it is none of them, larger than any camera's, or cut short.
    """
    upright = _opened(raw, (LONG_SIDE, LONG_SIDE)).convert("RGB")
    picture, thumbnail = (_jpeg(upright, side) for side in (LONG_SIDE, THUMBNAIL_SIDE))
    return Photograph(hashlib.sha256(picture).hexdigest(), picture, thumbnail)


def remade_mark(raw: bytes) -> bytes:
    """A workshop's mark as a small PNG drawn anew from its pixels, what is clear in it stays clear.

    Args:
        raw: JPEG, PNG or WebP as it came.

    Raises:
        BadPhotograph: it is none of them, larger than any camera's, or cut short.
    """
    from PIL import Image

    upright = _opened(raw, MARK_SIDES[0]).convert("RGBA")
    for sides in MARK_SIDES:
        small = upright.copy()
        small.thumbnail(sides)
        clean = Image.new("RGBA", small.size)
        clean.paste(small)
        out = BytesIO()
        clean.quantize(MARK_COLOURS, method=Image.Quantize.FASTOCTREE).save(out, "PNG", optimize=True)
        if len(out.getvalue()) <= MARK_BYTES:
            break
    return out.getvalue()


def _opened(raw: bytes, sides: tuple[int, int]) -> Image.Image:
    """Read upright, a JPEG not much larger than is wanted."""
    # Only here: what draws pictures is large, and a server may never see one.
    from PIL import Image, ImageOps

    try:
        with Image.open(BytesIO(raw), formats=FORMATS) as found:
            width, height = found.size
            if width * height > MOST_PIXELS:
                raise BadPhotograph(
                    f"The photograph has {width} × {height} pixels; take it smaller, at most {MOST_PIXELS // 1_000_000} million."
                )
            found.draft("RGB", sides)
            upright: Image.Image = ImageOps.exif_transpose(found)
            upright.load()
            return upright
    except BadPhotograph:
        raise
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadPhotograph("The photograph cannot be read; send it as JPEG, PNG or WebP.") from error


def _jpeg(upright: Image.Image, side: int) -> bytes:
    from PIL import Image

    small = upright.copy()
    small.thumbnail((side, side))
    clean = Image.new("RGB", small.size)
    clean.paste(small)  # pixels only: what else came with the file stays behind
    out = BytesIO()
    clean.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()
