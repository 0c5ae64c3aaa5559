"""What is wrong with a document that does not fit the model, located and in workshop words."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError
from pydantic.fields import FieldInfo

from olvask.core.model.base import as_shown
from olvask.core.model.driven import driven
from olvask.core.model.unclear import unclear

SHOWN = 60  # characters of a bad value repeated in a message


class EntryError(BaseModel):
    """One thing wrong: where (dotted path), the field's label, what and the remedy."""

    model_config = ConfigDict(frozen=True)

    path: str
    field: str
    message: str


def _field_of(model: type[BaseModel], path: tuple[int | str, ...]) -> FieldInfo | None:
    """Follow a location through nested models; a union's tag narrows it to one of them, indexes are passed over."""
    models: list[type[BaseModel]] = [model]
    found: FieldInfo | None = None
    for step in path:
        tagged = [candidate for candidate in models if _tag(candidate) == step]
        if tagged and len(models) > 1:
            models = tagged
            continue
        for candidate in models:
            if step in candidate.model_fields:
                found = candidate.model_fields[str(step)]
                models = list(_models_in(found.annotation))
                break
    return found


def _tag(model: type[BaseModel]) -> str | None:
    """The kind by which a union tells this model from the others."""
    kind = model.model_fields.get("kind")
    return str(kind.default) if kind is not None and len(getattr(kind.annotation, "__args__", ())) == 1 else None


def _models_in(annotation: Any) -> Iterable[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for argument in getattr(annotation, "__args__", ()):
        yield from _models_in(argument)


def label_of(model: type[BaseModel], path: str) -> str:
    """Label of the field at a dotted path, or the last step of the path where it has none.

    Args:
        model: the document's model.
        path: dotted path.
    """
    steps = tuple(path.split("."))
    field = _field_of(model, steps)
    return field.title if field is not None and field.title else steps[-1].replace("_", " ")


UNION_TAGS = {"device", "cable", "joint", "branch", "chassis"}  # kinds of pieces and of returns


def _without_tags(path: tuple[int | str, ...]) -> tuple[int | str, ...]:
    """Drop the discriminator values pydantic puts into a location."""
    kept: list[int | str] = []
    for index, step in enumerate(path):
        before = path[index - 1] if index else None
        if step in UNION_TAGS and (isinstance(before, int) or before == "back"):
            continue
        kept.append(step)
    return tuple(kept)


def _limit_text(field: FieldInfo | None) -> str:
    """Range, unit and example of a numeric field, as "above 0 and up to 60 m, for example 4.9"."""
    if field is None:
        return ""
    words: list[str] = []
    unit = _unit_of(field)
    for rule in field.metadata:
        for name, text in (("gt", "above"), ("ge", "from"), ("lt", "below"), ("le", "up to")):
            limit = getattr(rule, name, None)
            if limit is not None:
                limit = as_shown(limit, unit)[0]
                shown = f"{limit:,}" if isinstance(limit, int) else f"{limit:,.10g}"
                words.append(f"{text} {shown}".replace(",", " "))
    extra = field.json_schema_extra
    example = extra.get("example") if isinstance(extra, Mapping) else None
    text = " and ".join(words)
    if text.startswith("from"):
        text = text.replace(" and up to ", " to ")
    said = as_shown(0.0, unit)[1]
    text += f" {said}" if said else ""
    if not isinstance(example, (int, float)):
        return text.strip()
    if unit == "share":  # screens take it in per cent, files as a part of one
        return f"{text.strip()}, for example {as_shown(example, unit)[0]:g} % ({example:g} in a file)"
    return f"{text.strip()}, for example {example:g}"


def _unit_of(field: FieldInfo | None) -> str:
    extra = field.json_schema_extra if field is not None else None
    return str(extra.get("unit", "")) if isinstance(extra, Mapping) else ""


MOST_TOLD = 200  # of one document's faults
# A thousand, or one and a bit; after a point the page that asks about it puts a question mark.


def _message(error: Mapping[str, Any], field: FieldInfo | None) -> str:
    kind, given = str(error["type"]), error.get("input")
    shown = repr(given) if not isinstance(given, (dict, list)) else "this"
    if _unit_of(field) == "share" and isinstance(given, int | float) and abs(given) < 1e6:
        shown = f"{as_shown(given, 'share')[0]:g} %"
    shown = shown if len(shown) <= SHOWN else shown[:SHOWN] + "…"
    limits = _limit_text(field)
    context = error.get("ctx", {})
    if kind in ("float_parsing", "float_type", "int_parsing", "int_type", "finite_number"):
        if asked := unclear(given):
            return asked
        blank = given in ("", None)
        return ("Nothing entered" if blank else f"{shown} is not a number") + (f"; give one {limits}" if limits else "")
    if kind == "int_from_float":
        return f"{shown} is not a whole number; give one {limits}".rstrip()
    if kind in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        return f"{shown} is out of range; give a number {limits}"
    if kind == "extra_forbidden":
        return "Unknown field; take it out or correct its name"
    if kind == "missing":
        return "Missing; add it" + (f" ({limits})" if limits else "")
    if kind in ("literal_error", "enum"):
        return f"{shown} is not a choice; use {context.get('expected', 'one of the list')}"
    if kind in ("union_tag_invalid", "union_tag_not_found"):
        return f"Say which kind this is: {context.get('expected_tags', 'its kind is missing')}"
    if kind == "value_error":
        return str(context.get("error", error["msg"]))
    if kind in ("string_too_short", "string_type"):
        return "Nothing entered; fill it in" if given in ("", None) else f"{shown} is not text; write it in words"
    if kind == "string_too_long":
        return f"Too long; keep it within {context.get('max_length')} characters"
    if kind == "string_pattern_mismatch":
        return f"{shown} cannot be used here; begin with a letter or digit, then letters, digits, dots, dashes, underscores"
    if kind == "too_long":
        return f"Too many; keep to {context.get('max_length')} at most"
    if kind == "too_short":
        return f"Too few; give {context.get('min_length')} at least"
    if kind in ("bool_parsing", "bool_type"):
        return f"{shown} is neither yes nor no; use true or false"
    if kind in ("tuple_type", "list_type"):
        return f"{shown} is not a list; put it into one"
    if kind in ("model_type", "dict_type", "model_attributes_type"):
        return f"{shown} is not a group of fields; give its fields by name"
    return str(error["msg"])


def _lies_in(place: tuple[int | str, ...], owner: tuple[int | str, ...]) -> bool:
    return len(place) > len(owner) and place[: len(owner)] == owner


def entry_errors(error: ValidationError, model: type[BaseModel], document: Any = None) -> list[EntryError]:
    """List every error of `error`, raised while reading a document as `model`.

    Args:
        error: as raised.
        model: what the document was read as.
        document: the document as plain data, where at hand: things in lists are then named by their identity.
    """
    found = []
    words = words_for(document)
    told = error.errors(include_url=False)
    for item in told:
        if item["type"] == "too_short" and any(_lies_in(other["loc"], item["loc"]) for other in told):
            continue  # a list counts only its sound items; what is wrong with the others is told where it is wrong
        path = _without_tags(item["loc"])
        field = _field_of(model, item["loc"])
        label = field.title if field is not None and field.title else str(path[-1] if path else "document")
        place = ".".join(_named(path, document))
        found.append(EntryError(path=place, field=words(label), message=_message(item, field)))
        if len(found) >= MOST_TOLD and len(told) > MOST_TOLD:
            more = f"And {len(told) - MOST_TOLD} more; mend these first"
            found.append(EntryError(path="", field="document", message=more))
            break
    return found


def words_for(document: Any) -> Callable[[str], str]:
    """How the screens put the name of a field: in the words of a hybrid where the document's vehicle is one.

    Args:
        document: as plain data.
    """
    for key in ("design", "vehicle"):
        if isinstance(document, dict) and key in document:
            document = document[key]
    return driven if isinstance(document, dict) and document.get("drive") == "converter" else str


def _named(path: tuple[int | str, ...], document: Any) -> Iterable[str]:
    """The steps of a location, positions of things with an identity given as that."""
    here = document
    for step in path:
        name = str(step)
        if isinstance(here, list) and isinstance(step, int) and step < len(here):
            here = here[step]
            if isinstance(here, dict) and isinstance(here.get("id"), str) and here["id"]:
                name = here["id"]
        else:
            here = here.get(step) if isinstance(here, dict) else None
        yield name
