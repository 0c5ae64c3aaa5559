"""The fields of a model as a form: dotted path, label, unit, kind of entry. A screen draws it, and knows no model."""

from __future__ import annotations

import types
from typing import Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, ConfigDict
from pydantic.fields import FieldInfo

EntryKind = Literal["number", "whole", "text", "tick", "choice", "choices", "numbers", "texts"]


class FormField(BaseModel):
    """One entry of a form."""

    model_config = ConfigDict(frozen=True)

    path: str
    label: str
    unit: str
    kind: EntryKind
    choices: tuple[str | int, ...] = ()
    required: bool
    group: str


def form_of(model: type[BaseModel], prefix: str = "", group: str = "") -> tuple[FormField, ...]:
    """Every scalar and list-of-scalars field of a model, nested models walked through; other lists left out.

    Args:
        model: the model.
        prefix: dotted path to it.
        group: heading the fields stand under.
    """
    found: list[FormField] = []
    for name, field in model.model_fields.items():
        path = f"{prefix}.{name}" if prefix else name
        kind = _plain(field.annotation)
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            found += form_of(kind, path, field.title or name.replace("_", " ").capitalize())
            continue
        entry = _entry(kind)
        if entry is None or (name == "kind" and entry[0] == "choice" and len(entry[1]) == 1):
            continue
        extra = field.json_schema_extra
        unit = str(extra.get("unit", "")) if isinstance(extra, dict) else ""
        found.append(
            FormField(
                path=path,
                label=field.title or name.replace("_", " "),
                unit="" if unit == "-" else unit,
                kind=entry[0],
                choices=entry[1],
                required=_required(field),
                group=group,
            )
        )
    return tuple(found)


def _required(field: FieldInfo) -> bool:
    return field.is_required()


def _plain(annotation: Any) -> Any:
    """An annotation without its None."""
    if get_origin(annotation) in (Union, types.UnionType):
        kept = [item for item in get_args(annotation) if item is not type(None)]
        return kept[0] if len(kept) == 1 else annotation
    return annotation


def _entry(kind: Any) -> tuple[EntryKind, tuple[str | int, ...]] | None:
    simple: dict[Any, EntryKind] = {float: "number", int: "whole", str: "text", bool: "tick"}
    if kind in simple:
        return simple[kind], ()
    if get_origin(kind) is Literal:
        return "choice", get_args(kind)
    if get_origin(kind) is tuple:
        inner = get_args(kind)[0]
        if get_origin(inner) is Literal:
            return "choices", get_args(inner)
        lists: dict[Any, EntryKind] = {float: "numbers", str: "texts"}
        return (lists[inner], ()) if inner in lists else None
    return None
