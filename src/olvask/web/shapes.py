"""Shapes that more than one group of endpoints speaks in."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from olvask.core.model.entry_errors import EntryError

MOST_READING = 1e7  # in any unit of a test, ohms of a meter over its range among them; our own estimate


class Out(BaseModel):
    """Something answered."""

    model_config = ConfigDict(frozen=True)


class Problem(Out):
    """Problem details, RFC 9457."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: tuple[EntryError, ...] = ()
