"""The one page and its parts, as they were built.

- `top`, `rest`: the page, in the two pieces in which it may be sent.
- `packed`: a part as packed when it was built, where the browser takes that.
"""

from __future__ import annotations

import mimetypes
from collections.abc import Container
from dataclasses import dataclass
from html import escape
from pathlib import Path

BUILT = Path(__file__).parent / "app"
PACKED = (("br", ".br"), ("gzip", ".gz"))  # the smaller first
NOT_BUILT = "<!doctype html><title>Olvask</title><p>The screens are not built yet. Run <code>make demo</code>.</p>"
BODY = "<body>"  # what the store tells stands behind it
PAGE_KEPT = "no-store"
PARTS_KEPT = "public, max-age=31536000, immutable"  # their names change with what is in them


def _pieces() -> tuple[str, str]:
    index = BUILT / "index.html"
    text = index.read_text(encoding="utf-8") if index.exists() else NOT_BUILT
    before, mark, behind = text.partition(BODY)
    return before + mark, behind


def top(nonce: str) -> str:
    """The page up to what the store tells: the browser fetches its parts already.

    Args:
        nonce: what the page marks its styles with.
    """
    return _pieces()[0].replace("__NONCE__", nonce)


def rest(units: str, asks: bool) -> str:
    """The page from there on.

    Args:
        units: the house's units, as JSON.
        asks: whether whoever opens it has to sign in.
    """
    text = _pieces()[1].replace("__UNITS__", escape(units, quote=True))
    return text.replace("__ASKS__", "yes" if asks else "no")


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the page as it goes over the wire."""

    file: str  # below `BUILT`
    kind: str | None
    coding: str | None


def packed(path: str, codings: Container[str]) -> Part:
    """A part, as packed when it was built where the browser takes that.

    Args:
        path: its file below `BUILT`.
        codings: what the browser takes.
    """
    kind = mimetypes.guess_type(path)[0]
    for coding, ending in PACKED:
        if coding in codings and (BUILT / f"{path}{ending}").is_file():
            return Part(f"{path}{ending}", kind, coding)
    return Part(path, kind, None)


def is_page(path: str) -> bool:
    """Whether an address is one that the screens route themselves.

    Args:
        path: without the slash it begins with.
    """
    return not path.startswith(("api/", "assets/")) and "." not in path.rsplit("/", 1)[-1]
