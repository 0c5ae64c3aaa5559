"""Immutable answers.

- `Said`: the base of those that are models.
- `Sealed`: a mixin for the many small records that are filled in first and frozen as they leave.
"""

from __future__ import annotations

from dataclasses import FrozenInstanceError

from pydantic import BaseModel, ConfigDict


class Said(BaseModel):
    """Immutable output."""

    model_config = ConfigDict(frozen=True)


class Sealed:
    """Refuses every change.

    A record is made as its plain class, which costs a quarter of making a frozen one, and becomes its sealed
    subclass when it is finished: `record.__class__ = SealedRecord`.
    """

    __slots__ = ()

    def __setattr__(self, name: str, value: object) -> None:
        """Refuse to set an attribute."""
        raise FrozenInstanceError(f"cannot assign to field {name!r}")

    def __delattr__(self, name: str) -> None:
        """Refuse to delete an attribute."""
        raise FrozenInstanceError(f"cannot delete field {name!r}")
