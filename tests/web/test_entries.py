"""What a job holds can be entered on a screen: nothing is judged by that nobody can say."""

from __future__ import annotations

import re
import typing
from collections.abc import Iterator
from pathlib import Path

from pydantic import BaseModel

from olvask.core.model import Design

PAGES = Path(__file__).parents[2] / "frontend" / "src"
# These are entered on forms that are laid out from their model: the shelf's, the house rules'.
BY_FORM = ("charger", "monitor.unit", "choices", "terms")


def models_in(annotation: object) -> Iterator[type[BaseModel]]:
    """Every model that an annotation names."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for part in typing.get_args(annotation):
        yield from models_in(part)


def leaves(model: type[BaseModel], place: str = "") -> Iterator[str]:
    """Paths of the single values of a model."""
    for name, field in model.model_fields.items():
        parts = list(models_in(field.annotation))
        for part in parts:
            yield from leaves(part, f"{place}{name}.")
        if not parts:
            yield place + name


def test_every_value_of_a_job_has_an_entry() -> None:
    """The pages name it; the API's own types, which name everything, do not count."""
    sources = [
        file for file in PAGES.rglob("*") if file.suffix in (".vue", ".ts") and not file.name.endswith(".gen.ts")
    ]
    named = set(re.findall(r"\w+", "\n".join(file.read_text(encoding="utf-8") for file in sources)))
    paths = set(leaves(Design))
    assert "vehicle.alternator.sag_mohm" in paths
    assert len(paths) > 150
    assert sorted(path for path in paths if not path.startswith(BY_FORM) and path.split(".")[-1] not in named) == []
