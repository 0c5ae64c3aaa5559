"""The common base of every described thing, and how a field says its unit."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from olvask.core.catalogue import NoStandardSize, conductor


class Described(BaseModel):
    """Immutable; unknown fields and infinities are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


def quantity(title: str, unit: str, *, default: Any = ..., example: float | None = None, **limits: float) -> Any:
    """Declare a numeric field by its label, unit and the range physics gives it.

    Args:
        title: label on the screen and in error messages.
        unit: unit symbol as shown.
        default: value when absent; `...` makes the field required.
        example: a sensible value for the error message.
        limits: `ge`, `gt`, `le`, `lt` as pydantic takes them.
    """
    extra: dict[str, Any] = {"unit": unit}
    if example is not None:
        extra["example"] = example
    return Field(default, title=title, json_schema_extra=extra, **limits)  # type: ignore[call-overload]  # limits are checked by pydantic when the class is made


def standard_size(size: str) -> str:
    """Return a size label if it is a standard one.

    Raises:
        ValueError: it is not; the message names sizes that are.
    """
    try:
        conductor(size)
    except NoStandardSize as error:
        raise ValueError(f"{error}; give one such as 35 mm² or 2 AWG") from None
    return size
