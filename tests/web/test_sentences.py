"""Sentences of answers stand under names that the page turns into the house's numbers and units."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

LOCALE = Path(__file__).parents[2] / "frontend/src/ui/locale.ts"
FIGURE = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?\s?(?:°C|K|m|mm|cm²|N·m|kg)(?![\w²³·/])|€")
OWN = re.compile(r"\d+ °C column")  # a column of a standard's table has its own name
# What stands so on a device, in a file, or is somebody's own word.
DRAWN = {"number", "see", "advice", "stop"}  # turned where they are drawn: a step, a mounting, a charge in the cold
THERE = {"title", "key", "id", "example", "scpi", "programme", "svg", "name", "code", "customer", "notes", "path"}


def names(of: str) -> set[str]:
    """A set of names in the page's source."""
    found = re.search(rf"const {of} = new Set\(\[(.*?)\]\)", LOCALE.read_text(encoding="utf-8"), re.DOTALL)
    assert found is not None
    return set(re.findall(r"'(\w+)'", found[1]))


def untold(value: Any, key: str, turned: set[str], kept: set[str]) -> Iterator[tuple[str, str]]:
    """Strings with a figure that the page would leave as they are."""
    if isinstance(value, list):
        for item in value:
            yield from untold(item, key, turned, kept)
    elif isinstance(value, dict):
        for name, item in value.items():
            judged = {"title"} if "level" in value else set()
            if name not in kept and not (isinstance(item, str) and name in turned | judged) and name not in DRAWN:
                yield from untold(item, name, turned, kept)
    elif isinstance(value, str) and key not in THERE and FIGURE.search(OWN.sub("", value)):
        yield key, value


@pytest.mark.parametrize("job", range(1, 6))
def test_every_figure_in_words_is_turned(client: FlaskClient, job: int) -> None:
    """Every address that a design alone is handed to, for each demo job."""
    design = client.get(f"/api/jobs/{job}").get_json()["design"]
    turned, kept, answered = names("WORDS") | DRAWN, names("KEPT"), 0
    found: set[tuple[str, str, str]] = set()
    rules = client.application.url_map.iter_rules()
    for address in sorted(str(rule) for rule in rules if "POST" in (rule.methods or ()) and not rule.arguments):
        for body in (design, {"design": design, "vehicles": 50}, {"design": design}):
            answer = client.post(address, json=body)
            if answer.status_code == 200:
                break
        else:
            continue
        answered += 1
        lines = answer.get_data(as_text=True).splitlines() if "json" in answer.content_type else []
        for line in lines:
            found |= {(address, *item) for item in untold(json.loads(line), "", turned, kept)}
    assert answered >= 10
    assert found == set()
