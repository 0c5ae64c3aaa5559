"""House rules: who the workshop is, its units, what new jobs begin with, and where a job keeps to others."""

from __future__ import annotations

from base64 import b64decode, b64encode

from flask import Response, request
from pydantic import Field

from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.model.design import Choices
from olvask.core.model.form import FormField, form_of
from olvask.core.model.house import ITS_OWN, House, OtherRule, Units, Workshop, differing
from olvask.core.model.terms import Terms
from olvask.store.house import KeptHouse
from olvask.store.photographs import MOST_BYTES, remade_mark
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, stores
from olvask.web.shapes import Out
from olvask.web.signing_in import owner_only

# Headings of the page, and what stands under each.
GROUPS = (
    ("workshop", "Workshop, as papers name it", Workshop),
    ("units", "Units and figures", Units),
    ("choices", "Schools and margins of new jobs", Choices),
    ("terms", "Rates and terms of new jobs", Terms),
)
MOST_VERSIONS = 2**53
APART = frozenset({"workshop.picture", "begin_from"})  # chosen on the page, not typed


class HouseOut(Out):
    """The house rules."""

    version: int = Field(description="0 where nobody has saved any")
    house: House


class HouseForm(Out):
    """The entries of the house rules."""

    fields: tuple[FormField, ...]


class SaveHouse(Described):
    """House rules to save."""

    based_on: int = Field(title="Based on version", ge=0, le=MOST_VERSIONS)
    house: House


class Picture(Out):
    """The workshop's mark as papers show it."""

    picture: str = Field(description="a PNG in base64")


class HouseDiffers(Out):
    """Where a job keeps to other rules than the house."""

    differs: tuple[OtherRule, ...]


def _out(kept: KeptHouse) -> HouseOut:
    return HouseOut(version=kept.version, house=kept.house)


@api.get("/house")
@api.output(HouseOut)
def house_rules() -> Response:
    """The house rules."""
    return answer_json(_out(stores().house.get()))


@api.get("/house/form")
@api.output(HouseForm)
def house_form() -> Response:
    """The entries of the house rules, group by group."""
    fields = [
        field
        for prefix, group, model in GROUPS
        for field in form_of(model, prefix, group)
        if field.path not in ITS_OWN | APART
    ]
    own = [field for field in form_of(House, "", GROUPS[-1][1]) if "." not in field.path and field.path not in APART]
    return answer_json(HouseForm(fields=(*fields, *own)))


@api.put("/house")
@api.input(SaveHouse, arg_name="asked")
@api.output(HouseOut)
@owner_only
def save_house(asked: SaveHouse) -> Response:
    """Save the house rules; jobs there are keep theirs."""
    shop = asked.house.workshop
    if shop.picture:  # whatever was sent, pixels alone are kept
        shop = shop.model_copy(update={"picture": _drawn(b64decode(shop.picture))})
    house = asked.house.model_copy(update={"workshop": shop})
    return answer_json(_out(stores().house.save(house, asked.based_on)))


@api.post("/house/picture")
@api.output(Picture)
def house_picture() -> Response:
    """Draw a mark anew as papers would show it; nothing is kept until the house rules are saved."""
    request.max_content_length = MOST_BYTES
    return answer_json(Picture(picture=_drawn(request.get_data(cache=False))))


def _drawn(raw: bytes) -> str:
    return b64encode(remade_mark(raw)).decode()


@api.post("/house/differs")
@api.input(Design, arg_name="design")
@api.output(HouseDiffers)
def house_differs(design: Design) -> Response:
    """Where a job keeps to other rules than the house."""
    return answer_json(HouseDiffers(differs=differing(stores().house.get().house, design)))
