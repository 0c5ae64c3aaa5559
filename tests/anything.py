"""Designs that nobody would draw but the model accepts: every field at its extremes, absent, or anywhere between.

Made from the model's own annotations, so that a new field is tried from the day it is added.

- `anything`: one such design from a source of chance.
"""

from __future__ import annotations

import math
import random
import string
import types
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt, MaxLen, MinLen
from pydantic import BaseModel, ValidationError
from pydantic.fields import FieldInfo

from olvask.core.catalogue import conductors, devices
from olvask.core.model import Design, ProtectiveDevice

SIZES = {"size"}  # fields that hold a standard size


def number(pick: random.Random, field: FieldInfo, whole: bool) -> float:
    """A number within a field's limits: often an extreme, else anywhere, by size or by order of magnitude."""
    low, high = -1e6, 1e6
    open_low = open_high = False
    for limit in field.metadata:
        if isinstance(limit, Ge):
            low = float(limit.ge)  # type: ignore[arg-type]
        elif isinstance(limit, Gt):
            low, open_low = float(limit.gt), True  # type: ignore[arg-type]
        elif isinstance(limit, Le):
            high = float(limit.le)  # type: ignore[arg-type]
        elif isinstance(limit, Lt):
            high, open_high = float(limit.lt), True  # type: ignore[arg-type]
    if whole:
        return pick.randint(int(low) + open_low, int(high) - open_high)
    way = pick.random()
    if way < 0.12:
        return math.nextafter(low, high) if open_low else low
    if way < 0.24:
        return math.nextafter(high, low) if open_high else high
    example = (field.json_schema_extra or {}).get("example") if isinstance(field.json_schema_extra, dict) else None
    if way < 0.6 and isinstance(example, (int, float)):
        return min(max(example * pick.uniform(0.5, 2.0), low + 1e-9), high - 1e-9)
    if way < 0.75 and low >= 0:
        return min(high, max(math.nextafter(low, high), high * 10 ** -pick.uniform(0, 6)))
    return pick.uniform(math.nextafter(low, high), math.nextafter(high, low))


def text(pick: random.Random, field: FieldInfo) -> str:
    """Words within a field's lengths."""
    most = next((item.max_length for item in field.metadata if isinstance(item, MaxLen)), 12)
    least = next((item.min_length for item in field.metadata if isinstance(item, MinLen)), 0)
    return "".join(pick.choices(string.ascii_letters + " -<&'\"Ωµ²", k=pick.randint(least, min(most, 12))))


def value(pick: random.Random, annotation: Any, field: FieldInfo, name: str) -> Any:
    """A value for an annotation."""
    origin = get_origin(annotation)
    if origin is Annotated:
        return value(pick, get_args(annotation)[0], field, name)
    if origin in (Union, types.UnionType):
        kinds = [kind for kind in get_args(annotation) if kind is not type(None)]
        if len(kinds) < len(get_args(annotation)) and pick.random() < 0.35:
            return None
        return value(pick, pick.choice(kinds), field, name)
    if origin is Literal:
        return pick.choice(get_args(annotation))
    if origin is tuple:
        most = next((item.max_length for item in field.metadata if isinstance(item, MaxLen)), 6)
        least = next((item.min_length for item in field.metadata if isinstance(item, MinLen)), 0)
        inner = get_args(annotation)[0]
        bare = FieldInfo(annotation=inner)
        return [value(pick, inner, bare, name) for _ in range(pick.randint(least, min(most, pick.choice((1, 3, 6)))))]
    if origin is dict:
        return {}
    if annotation is bool:
        return pick.random() < 0.5
    if annotation in (int, float):
        return number(pick, field, annotation is int)
    if name in SIZES:
        return pick.choice(conductors()).size
    if annotation is str:
        named = any(isinstance(item, MinLen) for item in field.metadata)
        return ("unit" if named else "") if name == "id" else text(pick, field)
    if annotation is ProtectiveDevice:
        found = pick.choice(devices())
        return {"kind": "device", "family": found.family, "rating_a": found.rating_a}
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return document(pick, annotation)
    raise TypeError(f"{name}: nothing known of {annotation}")


def document(pick: random.Random, model: type[BaseModel]) -> dict[str, Any]:
    """A document of a model; fields with a default are often left out."""
    made: dict[str, Any] = {}
    for name, field in model.model_fields.items():
        if field.is_required() or name in ("kind", "supply", "delivery", "charger") or pick.random() < 0.6:
            made[name] = value(pick, field.annotation, field, name)
    return made


def repaired(made: dict[str, Any], error: ValidationError) -> None:
    """Take out what the model refuses for reasons between fields, so that the rest is tried all the same."""
    for item in error.errors():
        here: Any = made
        *way, last = [step for step in item["loc"] if not (isinstance(step, str) and step in KINDS)] or ["charger"]
        for step in way:
            here = here[step]
        if isinstance(here, dict):
            here.pop(last, None)
        elif isinstance(here, list) and isinstance(last, int) and last < len(here):
            del here[last]
            return


KINDS = ("device", "cable", "joint", "branch", "chassis")


def anything(seed: int) -> Design:
    """A design the model accepts, reproducible by its number."""
    pick = random.Random(seed)
    made = document(pick, Design)
    for _ in range(60):
        try:
            return Design.model_validate(made)
        except ValidationError as error:
            repaired(made, error)
    return Design.model_validate({"vehicle": {"alternator": {"rated_a": 100}}})
