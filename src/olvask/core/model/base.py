"""The common base of every described thing, and how a field says its title, unit, range, choices and help.

Screens, error messages, the API document and the job file's schema all take these words from here.

- `quantity`, `whole`, `choice`, `several`, `tick`: declare a field.
- `Identified`: a thing in a list that keeps its identity through inserts, moves and undo.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from olvask.core.catalogue import NoStandardSize, conductor


class Described(BaseModel):
    """Immutable; unknown fields and infinities are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Identified(Described):
    """A thing in a list of the design, with an identity that outlives its position.

    An absent identity is given by the design. Provenance, findings, figures, labels and readings refer to it.
    """

    id: str = Field("", title="Identity", max_length=24, pattern=r"^([a-z][a-z0-9]*)?$")


# The least of what cannot be nothing, by unit: below it a figure is a slip of the finger, and sums over- and underflow.
# Our own estimates, an order of magnitude under anything fitted or measured in a vehicle.
LEAST = {
    "A": 0.01,
    "mA": 0.1,
    "V": 0.5,
    "Ah": 0.1,
    "W": 0.1,
    "m": 0.01,
    "mm": 1.0,
    "mm²": 0.05,
    "kg": 0.01,
    "h": 0.01,
    "N·m": 0.01,
    "%": 0.01,
    "share": 0.001,
}


def as_shown(value: float, unit: str) -> tuple[float, str]:
    """A value and its unit as screens and sentences give them: a share in per cent, nothing where there is no unit.

    Args:
        value: as the models have it.
        unit: as its field was declared.
    """
    if unit == "share":
        return round(100 * value, 7), "%"
    return value, "" if unit == "-" else unit


def quantity(
    title: str,
    unit: str,
    *,
    default: Any = ...,
    example: float | None = None,
    step: float | None = None,
    help: str = "",
    **limits: float,
) -> Any:
    """Declare a numeric field by its title, unit and the range physics gives it.

    Args:
        title: what the screen and error messages call it.
        unit: unit symbol as shown; "-" for none, "share" for a part of one, which screens and sentences give in per cent.
        default: value when absent; `...` makes the field required.
        example: a sensible value for the error message.
        step: what an arrow key changes it by.
        help: one sentence that explains it.
        limits: `ge`, `gt`, `le`, `lt` as pydantic takes them; `gt=0` means the least of that unit.
    """
    if limits.get("gt") == 0:
        del limits["gt"]
        limits["ge"] = LEAST[unit]
    extra: dict[str, Any] = {"unit": unit}
    extra |= {key: value for key, value in (("example", example), ("step", step)) if value is not None}
    return Field(default, title=title, description=help or None, json_schema_extra=extra, **limits)  # type: ignore[call-overload]  # limits are checked by pydantic when the class is made


def whole(title: str, unit: str, *, default: int | None, example: int = 1, help: str = "", **limits: int) -> Any:
    """Declare a field of whole numbers, as `quantity` does for others.

    Args:
        title: what the screen and error messages call it.
        unit: unit symbol or word.
        default: value when absent.
        example: a sensible value for the error message.
        help: one sentence that explains it.
        limits: `ge`, `gt`, `le`, `lt` as pydantic takes them.
    """
    extra: dict[str, Any] = {"unit": unit, "example": example, "step": 1}
    return Field(default, title=title, description=help or None, json_schema_extra=extra, **limits)  # type: ignore[call-overload]  # as above


def choice(title: str, labels: Mapping[Any, str], *, default: Any = ..., help: str = "") -> Any:
    """Declare a field of a few choices, each with the words the screen shows for it.

    Args:
        title: what the screen and error messages call it.
        labels: words for every value, in the order shown; `None` where nothing may be chosen.
        default: value when absent; `...` makes the field required.
        help: one sentence that explains it.
    """
    return Field(default, title=title, description=help or None, json_schema_extra={"choices": _told(labels)})


def several(title: str, labels: Mapping[Any, str], *, default: Any = (), help: str = "") -> Any:
    """Declare a field that takes several of a few choices, each with its words.

    Args:
        title: what the screen and error messages call it.
        labels: words for every value, in the order shown.
        default: values when absent.
        help: one sentence that explains it.
    """
    return Field(
        default,
        title=title,
        description=help or None,
        max_length=len(labels),
        json_schema_extra={"choices": _told(labels)},
    )


def _told(labels: Mapping[Any, str]) -> Any:
    """Values with their words, as screens and `choices_of` read them."""
    return [{"value": value, "label": label} for value, label in labels.items()]


def _once(values: tuple[Any, ...]) -> tuple[Any, ...]:
    return tuple(dict.fromkeys(values))


ONCE = AfterValidator(_once)  # of several: what is named twice is meant once


def choices_of(model: type[BaseModel], name: str) -> dict[Any, str]:
    """Words for every value of a field of choices.

    Args:
        model: whose field.
        name: which.
    """
    extra: Any = model.model_fields[name].json_schema_extra
    return {item["value"]: item["label"] for item in extra["choices"]}


def word_of(thing: BaseModel, name: str) -> str:
    """The words for what is chosen in a field of choices.

    Args:
        thing: whose field.
        name: which.
    """
    return choices_of(type(thing), name)[getattr(thing, name)]


def tick(title: str, *, default: bool = False, help: str = "") -> Any:
    """Declare a yes or no.

    Args:
        title: what the screen and error messages call it.
        default: value when absent.
        help: one sentence that explains it.
    """
    return Field(default, title=title, description=help or None)


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
