"""The base of immutable answers."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Said(BaseModel):
    """Immutable output."""

    model_config = ConfigDict(frozen=True)
