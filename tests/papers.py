"""What a PDF holds, read with the library that browsers print and show papers with."""

from __future__ import annotations

from dataclasses import dataclass

from pypdfium2 import PdfDocument, PdfPage
from pypdfium2.raw import FPDF_PAGEOBJ_IMAGE


@dataclass(frozen=True)
class Leaf:
    """One page: its lines of text, its width and height [pt], the pixels of its pictures."""

    lines: tuple[str, ...]
    size: tuple[float, float]
    pictures: tuple[tuple[int, int], ...]

    @property
    def words(self) -> str:
        """Its text, in one line."""
        return " ".join(" ".join(self.lines).split())


def _leaf(page: PdfPage) -> Leaf:
    text = page.get_textpage().get_text_bounded()
    pictures = tuple(item.get_px_size() for item in page.get_objects([FPDF_PAGEOBJ_IMAGE]))
    return Leaf(tuple(line.strip() for line in text.splitlines()), page.get_size(), pictures)


def leaves(pdf: bytes) -> list[Leaf]:
    """Every page of a PDF; raises `PdfiumError` where it is none."""
    return [_leaf(page) for page in PdfDocument(pdf)]


def words_of(pdf: bytes) -> str:
    """The text of a whole PDF, in one line."""
    return " ".join(leaf.words for leaf in leaves(pdf))
