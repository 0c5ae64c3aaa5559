"""A wrong entry in any field of a job is told at that field, under the name the screen shows."""

from __future__ import annotations

import copy
from typing import Any, Literal, get_args, get_origin

import pytest
from pydantic import BaseModel, ValidationError

from olvask.core.model import Design
from olvask.core.model.entry_errors import entry_errors
from olvask.core.model.form import FormField, _models_in, fields_of
from tests.designs import design, vehicle

PIECES = [
    {"id": "d1", "kind": "device", "family": "class_t", "rating_a": 60.0},
    {"id": "c1", "kind": "cable", "size": "25 mm²", "length_m": 3.0},
    {"id": "j1", "kind": "joint", "name": "stud"},
    {
        "id": "b1",
        "kind": "branch",
        "name": "fan",
        "current_a": 1.0,
        "size": "1.5 mm²",
        "length_m": 1.0,
        "device": {"kind": "device", "family": "blade", "rating_a": 5.0},
    },
]
STRING = {"id": "s1", "series": 1, "block_v": 12.0, "capacity_ah": 100.0}
WHOLE = design(
    vehicle=vehicle(lifters=[{"id": "h1", "kind": "solar"}]),
    existing=[{"id": "e1", "kind": "link"}],
    inherited={"size": "6 mm²", "length_m": 4.0},
    supply={"pieces": PIECES, "back": {"kind": "chassis", "resistance_mohm": 4.0}},
    keyed=[{"line": "absorption"}],
    own_steps=[{"id": "w1", "text": "Wash it"}],
    routes=[{"id": "r1", "name": "short", "length_m": 3.0}],
    use={"loads": [{"id": "l1", "name": "fridge", "current_a": 3.0}]},
).model_dump(mode="json")
WHOLE["auxiliary"] |= {"strings": [STRING], "management": {}}
WHOLE["monitor"]["unit"] = {"settings": {}}
WHOLE["existing"][0]["stages"]["settings"] = {}
WHOLE["solar"]["stages"]["settings"] = {}
OF_KIND = {"device": "d1", "cable": "c1", "joint": "j1", "branch": "b1"}
ONLY = {
    "vehicle.lifters": "h1",
    "existing": "e1",
    "use.loads": "l1",
    "auxiliary.strings": "s1",
    "own_steps": "w1",
    "routes": "r1",
}


def models_under(model: type[BaseModel], seen: set[type[BaseModel]]) -> set[type[BaseModel]]:
    """A model and every one among its fields."""
    if model not in seen:
        seen.add(model)
        for field in model.model_fields.values():
            for inner in _models_in(field.annotation):
                models_under(inner, seen)
    return seen


def literals(annotation: Any) -> list[Any]:
    """Every value that a field can choose from, within tuples and beside None."""
    if get_origin(annotation) is Literal:
        return list(get_args(annotation))
    return [value for inner in get_args(annotation) if inner is not annotation for value in literals(inner)]


@pytest.mark.parametrize("model", sorted(models_under(Design, set()), key=str))
def test_no_choice_is_told_by_its_key(model: type[BaseModel]) -> None:
    """Whatever may be chosen has words declared for each value: "d plus" once stood on a quote."""
    for name, field in model.model_fields.items():
        values = [value for value in literals(field.annotation) if isinstance(value, str)]
        if len(values) < 2 or list(_models_in(field.annotation)):
            continue
        extra = field.json_schema_extra
        assert isinstance(extra, dict), (model.__name__, name)
        declared = {item["value"]: item["label"] for item in extra["choices"]}  # type: ignore[index,union-attr,call-overload]
        assert set(declared) >= set(values), (model.__name__, name)
        assert all("_" not in str(label) for label in declared.values())


FIELDS = [
    field
    for field in fields_of(Design)
    if not field.path.startswith(("charger.", "provenance"))
    and field.path not in ("job", "format")
    and ".settings.lines." not in field.path  # a shelf item's, which a job only carries along
]


def steps(pattern: str) -> list[str]:
    """The path of the one thing in the document that stands under a pattern."""
    found: list[str] = []
    for step in pattern.split("."):
        before = ".".join(found)
        if step == "run":
            found.append("supply")
        elif step == "*":
            found.append(ONLY.get(before, "0"))
        elif before == "supply.pieces":
            found.append(OF_KIND[step])
        else:
            found.append(step)
    return found


def spoiled(path: list[str], value: object) -> dict[str, Any]:
    """The document with one value that makes no sense."""
    whole = copy.deepcopy(WHOLE)
    here: Any = whole
    for step in path[:-1]:
        if isinstance(here, list):
            here = next((item for at, item in enumerate(here) if item.get("id") == step or str(at) == step))
        else:
            here = here[step]
    here[path[-1]] = value
    return whole


@pytest.mark.parametrize("field", FIELDS, ids=[field.path for field in FIELDS])
def test_a_wrong_entry_is_told_at_its_field(field: FormField) -> None:
    """One error, at the path of that field by identity, under its label, in a sentence that is no program's."""
    path = steps(field.path)
    value: object = "x" * 5000 if field.kind == "text" else ["x" * 5000] if field.kind.endswith("s") else "lots"
    document = spoiled(path, value)
    with pytest.raises(ValidationError) as refused:
        Design.model_validate(document)
    found = entry_errors(refused.value, Design, document)
    assert [(item.path.removesuffix(".0"), item.field) for item in found] == [(".".join(path), field.label)]
    assert 10 < len(found[0].message) < 260
    assert "Input should" not in found[0].message


def test_no_two_fields_of_a_page_are_called_alike() -> None:
    """A name on an error leads to one field; a branch's own device, and the stages of another charger, are called what
    every device and the unit's own stages are: they stand under the name of what they belong to."""
    under = ("run.pieces.branch.device", "existing.*.stages", "solar.stages", "monitor.unit.settings")
    labels = [field.label for field in FIELDS if not field.path.startswith(under)]
    assert sorted(labels) == sorted(set(labels))
