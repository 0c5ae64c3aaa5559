"""House rules: who the workshop is, how it reads figures, and what its new jobs begin with.

- `House`: all of it.
- `Units`: which of two units stands on screens and papers; everything is kept in SI.
- `begin_with`: a design as new jobs of a house begin; `OtherRule`, `differing`: where a job keeps to others.
"""

from __future__ import annotations

import re
from base64 import b64decode
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import BaseModel, Field, field_validator

from olvask.core.model.base import Described, as_shown, choice, choices_of
from olvask.core.model.design import Choices, Design
from olvask.core.model.terms import Terms

MOST_PICTURE = 80_000  # characters: a mark at the head of a paper needs no more; our own estimate


class Workshop(Described):
    """Who signs the papers."""

    name: str = Field("", title="Workshop", max_length=80)
    address: tuple[Annotated[str, Field(max_length=80)], ...] = Field((), title="Address", max_length=5)
    contact: str = Field("", title="Telephone, mail", max_length=120)
    mark: str = Field("", title="Under the name", max_length=120, description="Such as a registration or a trade.")
    picture: str = Field(
        "",
        title="Picture on papers",
        max_length=MOST_PICTURE,
        description="A PNG in base64; drawn anew when it is saved.",
    )

    @field_validator("picture")
    @classmethod
    def _bytes(cls, value: str) -> str:
        """Bytes in base64, whatever they are."""
        try:
            b64decode(value, validate=True)
        except ValueError:
            raise ValueError("a picture is chosen as a file; choose it again") from None
        return value


class Units(Described):
    """Which of two units stands on screens and papers; either is understood when typed."""

    length: Literal["m", "ft"] = choice("Lengths", {"m": "metres", "ft": "feet and inches"}, default="m")
    size: Literal["mm2", "awg"] = choice("Cable sizes", {"mm2": "mm² first", "awg": "AWG first"}, default="mm2")
    temperature: Literal["C", "F"] = choice("Temperatures", {"C": "°C", "F": "°F"}, default="C")
    torque: Literal["Nm", "lbin"] = choice("Torques", {"Nm": "N·m", "lbin": "lb·in"}, default="Nm")
    decimal: Literal["reader", "point", "comma"] = choice(
        "Decimals",
        {"reader": "as the reader's device has them", "point": "point", "comma": "comma"},
        default="reader",
        help="On papers, as the reader's device has them means a point.",
    )
    currency: str = Field("€", title="Currency", min_length=1, max_length=4)

    @field_validator("currency")
    @classmethod
    def _a_sign(cls, value: str) -> str:
        """Nothing that reads as part of a number or of markup."""
        if re.search(r"[\d\s.,;<>&=+@-]", value):
            raise ValueError("a currency is a sign or letters, such as € or CHF")
        return value


class House(Described):
    """The house rules of a workshop. New jobs take choices and terms from here; old jobs keep theirs."""

    workshop: Workshop = Workshop()
    units: Units = Units()
    choices: Choices = Choices()
    terms: Terms = Terms()
    meter: str = Field(
        "",
        title="Meter, unless said",
        max_length=40,
        description="The instrument that reads first, and that sign-offs name.",
    )
    begin_from: int | None = Field(
        None, title="Jobs begin from", ge=1, description="Number of a template; none for a blank one."
    )


class OtherRule(BaseModel):
    """One of a job's rules that is not the house's."""

    path: str
    label: str
    unit: str
    here: str
    house: str


def begin_with(house: House, design: Design) -> Design:
    """A design with a house's choices and terms.

    Args:
        house: the house rules.
        design: what else it begins with.
    """
    return design.model_copy(update={"choices": house.choices, "terms": house.terms})


def differing(house: House, design: Design) -> tuple[OtherRule, ...]:
    """Which of a job's choices and terms are not those of the house.

    Args:
        house: the house rules.
        design: the job's design.
    """
    return (*_differing("choices", house.choices, design.choices), *_differing("terms", house.terms, design.terms))


# What belongs to one vehicle and not to the house.
ITS_OWN = frozenset({"terms.extra_h", "terms.extra_for", "terms.hours_factor"})


def _differing(prefix: str, house: Described, job: Described) -> Iterator[OtherRule]:
    for name, field in type(house).model_fields.items():
        path, mine, theirs = f"{prefix}.{name}", getattr(job, name), getattr(house, name)
        if mine == theirs or path in ITS_OWN:
            continue
        extra = field.json_schema_extra if isinstance(field.json_schema_extra, dict) else {}
        unit = as_shown(0.0, str(extra.get("unit", "")))[1]
        yield OtherRule(
            path=path,
            label=field.title or name,
            unit=unit,
            here=_words(type(house), name, mine),
            house=_words(type(house), name, theirs),
        )


def _words(model: type[Described], name: str, value: object) -> str:
    """A value as the screens say it."""
    extra = model.model_fields[name].json_schema_extra
    if isinstance(extra, dict) and "choices" in extra:
        return choices_of(model, name)[value]
    if isinstance(extra, dict) and isinstance(value, float):
        value = as_shown(value, str(extra.get("unit", "")))[0]
    if value is None:
        return "as worked out"
    if isinstance(value, tuple):
        return "; ".join(str(item) for item in value) or "nothing"
    return f"{value:g}" if isinstance(value, float) else str(value)
