"""What the screens call every field, as TypeScript: titles, units, steps, choices and help come from the models."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel

from olvask.core.model import Design
from olvask.core.model.device_log import LogMapping
from olvask.core.model.driven import driven
from olvask.core.model.form import FormField, fields_of
from olvask.core.model.house import House
from olvask.core.model.instrument import Instrument
from olvask.core.model.settings import Setting
from olvask.web.api.jobs import HeadingIn, ShelveIn
from olvask.web.api.practice import CourseIn, SetIn
from olvask.web.api.prove import CausesIn
from olvask.web.api.recall import RecallIn, YardWorkIn
from olvask.web.api.signing import SignIn
from olvask.web.api.sums import BondingIn, FlatIn, LoadAverageIn, RestIn
from olvask.web.api.wake import ToleranceFields

SHOWN: tuple[tuple[str, type[BaseModel]], ...] = (
    ("", Design),
    ("heading", HeadingIn),
    ("tolerance", ToleranceFields),
    ("sum.load_average", LoadAverageIn),
    ("sum.rest", RestIn),
    ("sum.flat", FlatIn),
    ("sum.bonding", BondingIn),
    ("menu", Setting),
    ("instrument", Instrument),
    ("causes", CausesIn),
    ("signing", SignIn),
    ("recall", RecallIn),
    ("yard_work", YardWorkIn),
    ("practice", CourseIn),
    ("practice_set", SetIn),
    ("log", LogMapping),
    ("shelve", ShelveIn),
    ("house", House),
)
# What the design's own copy of a unit says is edited on the shelf, not in a job.
LEFT_OUT = ("charger.", "provenance", "causes.design", "causes.readings")
HEAD = """/** Made by `make api` from the models: what the screens call every field. */
export interface Choice { value: unknown; label: string }
export interface Field { label: string; unit?: string; step?: number; help?: string; choices?: Choice[]; ready?: Field }
export const FIELDS: Record<string, Field> = """


def _shown(field: FormField) -> dict[str, Any]:
    """A field as the screens show it; of a vehicle with a DC converter in other words, where they differ."""
    found = _said(field)
    ready = json.loads(json.dumps(found), object_hook=_driven)
    return found if ready == found else found | {"ready": ready}


def _driven(item: dict[str, Any]) -> dict[str, Any]:
    return item | {key: driven(item[key]) for key in ("label", "help") if key in item}


def _said(field: FormField) -> dict[str, Any]:
    found: dict[str, Any] = {"label": field.label}
    if field.unit:
        found["unit"] = field.unit
    if field.step is not None:
        found["step"] = field.step
    if field.help:
        found["help"] = field.help
    if field.choices and field.kind in ("choice", "choices"):
        found["choices"] = [choice.model_dump() for choice in field.choices]
    return found


def fields_typescript() -> str:
    """The whole module, ending in a newline."""
    found = {
        field.path: _shown(field)
        for prefix, model in SHOWN
        for field in fields_of(model, prefix)
        if not field.path.startswith(LEFT_OUT) and ".settings." not in field.path
    }
    rows = [f"  {json.dumps(path)}: {json.dumps(field, ensure_ascii=False)}," for path, field in found.items()]
    return HEAD + "\n".join(["{", *rows, "}"]) + "\n"
