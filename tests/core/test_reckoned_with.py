"""The figures that the core holds by itself are those of `docs/figures.md`, each with what it is and where it comes from."""

from __future__ import annotations

import ast
import dataclasses
import importlib
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = ROOT / "src" / "olvask" / "core"
ROW = re.compile(r"^\| `(\w+)` \| `(.+)` \| (.+) \| (.+) \|$")


def told() -> Iterator[tuple[str, str, object, str, str]]:
    """The document's rows: module, name, value, what it is, where it comes from."""
    module = ""
    for line in (ROOT / "docs" / "figures.md").read_text(encoding="utf-8").splitlines():
        if line.startswith("### "):
            module = line.removeprefix("### ")
        elif row := ROW.match(line):
            yield module, row[1], ast.literal_eval(row[2]), row[3], row[4]


def numbers(value: object) -> object:
    """A record as its plain numbers; anything else as it is."""
    if isinstance(value, dict):
        return {key: numbers(item) for key, item in value.items()}
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return dataclasses.astuple(value)
    return value


def plain(value: object) -> bool:
    """Whether something is numbers and names alone, which a table can show."""
    if isinstance(value, dict):
        return all(plain(item) for item in (*value, *value.values()))
    if type(value) is tuple:
        return all(plain(item) for item in value)
    return isinstance(value, (int, float, str))


def held() -> Iterator[tuple[str, str]]:
    """Module and name of every figure that a source of the four rooms writes down beside its imports."""
    for room in ("stages", "circuit", "physics", "simulate"):
        for file in sorted((CORE / room).rglob("*.py")):
            module = file.relative_to(CORE).with_suffix("").as_posix()
            for node in ast.parse(file.read_text(encoding="utf-8")).body:
                if isinstance(node, (ast.Assign, ast.AnnAssign)) and node.value is not None:
                    written = (item.value for item in ast.walk(node.value) if isinstance(item, ast.Constant))
                    if any(type(value) in (int, float) for value in written):
                        target = node.targets[0] if isinstance(node, ast.Assign) else node.target
                        yield from (
                            (module, item.id)
                            for item in ast.walk(target)
                            if isinstance(item, ast.Name) and plain(numbers(_value(module, item.id)))
                        )


def _value(module: str, name: str) -> object:
    return getattr(importlib.import_module("olvask.core." + module.replace("/", ".")), name)


TOLD = list(told())


@pytest.mark.parametrize("module", dict.fromkeys(row[0] for row in TOLD))
def test_each_figure_is_the_one_the_document_tells(module: str) -> None:
    """A figure of the trade is not changed in the code alone: the document says where it comes from."""
    for name, value in ((row[1], row[2]) for row in TOLD if row[0] == module):
        assert numbers(_value(module, name)) == value, name


def test_every_figure_is_told_once_with_its_source() -> None:
    """None is missing, none is left over, and none stands without saying what it is and where it comes from."""
    assert sorted(row[:2] for row in TOLD) == sorted(held())
    assert not [row[:2] for row in TOLD if len(row[3].strip()) < 3 or len(row[4].strip()) < 3]
