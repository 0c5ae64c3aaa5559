"""The fields of a model as screens need them: path, title, unit, step, choices, help. A screen draws them, and knows no model.

- `form_of`: the entries of one thing as a form.
- `fields_of`: every field of a document under the pattern of its path.
"""

from __future__ import annotations

import types
from collections.abc import Iterator, Mapping
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, ConfigDict
from pydantic.fields import FieldInfo

EntryKind = Literal["number", "whole", "text", "tick", "choice", "choices", "numbers", "texts"]


class Option(BaseModel):
    """One of a field's choices, with the words shown for it."""

    model_config = ConfigDict(frozen=True)

    value: str | int | None
    label: str


class FormField(BaseModel):
    """One entry of a form."""

    model_config = ConfigDict(frozen=True)

    path: str
    label: str
    unit: str
    kind: EntryKind
    choices: tuple[Option, ...] = ()
    required: bool
    group: str
    step: float | None = None
    help: str = ""


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
        made = _field(path, name, field, group)
        if made is not None:
            found.append(made)
    return tuple(found)


def fields_of(model: type[BaseModel], prefix: str = "") -> Iterator[FormField]:
    """Every field of a document under the pattern of its path.

    In a list a step is `*`, or the kind of a thing where the list holds several kinds; `supply` and `delivery` are `run`.

    Args:
        model: the document's model.
        prefix: pattern of the path to it.
    """
    for name, field in model.model_fields.items():
        path = f"{prefix}.{name}" if prefix else {"supply": "run"}.get(name, name)
        if name == "delivery" and not prefix:
            continue
        models = list(_models_in(field.annotation))
        listed = get_origin(_plain(field.annotation)) is tuple
        if models:
            several = len(models) > 1
            for inner in models:
                step = f".{inner.model_fields['kind'].default}" if several and listed else ".*" if listed else ""
                yield from fields_of(inner, path + step)
            continue
        made = _field(path, name, field, "")
        if made is not None:
            yield made


def _models_in(annotation: Any) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for argument in get_args(annotation):
        yield from _models_in(argument)


def _field(path: str, name: str, field: FieldInfo, group: str) -> FormField | None:
    """One entry; nothing for an identity, or a kind that cannot be chosen."""
    entry = _entry(_plain(field.annotation))
    if entry is None or (name == "id" and field.title == "Identity") or (name == "kind" and len(entry[1]) == 1):
        return None
    extra = field.json_schema_extra if isinstance(field.json_schema_extra, dict) else {}
    unit, step, shown = str(extra.get("unit", "")), extra.get("step"), extra.get("choices")
    labels = (
        {item["value"]: item["label"] for item in shown if isinstance(item, dict)} if isinstance(shown, list) else {}
    )
    values = list(labels) if labels else list(entry[1])
    return FormField(
        path=path,
        label=field.title or name.replace("_", " "),
        unit="" if unit == "-" else unit,
        kind=entry[0],
        choices=tuple(Option(value=value, label=labels.get(value, str(value).replace("_", " "))) for value in values),
        required=field.is_required(),
        group=group,
        step=float(step) if isinstance(step, int | float) else None,
        help=field.description or "",
    )


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
        if get_origin(inner) is Annotated:
            inner = get_args(inner)[0]
        if get_origin(inner) is Literal:
            return "choices", get_args(inner)
        lists: dict[Any, EntryKind] = {float: "numbers", str: "texts"}
        return (lists[inner], ()) if inner in lists else None
    return None


@cache
def _labels() -> Mapping[str, str]:
    from olvask.core.model.design import Design

    return {field.path: field.label for field in fields_of(Design)}


def label_of(path: str) -> str:
    """What the screen calls a place of the design that stands in no list.

    Args:
        path: dotted.
    """
    first, _, rest = path.partition(".")
    pattern = f"run.{rest}" if first in ("supply", "delivery") else path
    words = _labels().get(pattern, path.rsplit(".", 1)[-1].replace("_", " "))
    return words[:1].lower() + words[1:] if words[1:2].islower() else words
