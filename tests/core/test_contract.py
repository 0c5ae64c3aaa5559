"""What the core promises of itself: purity, docstrings, documented figure names."""

from __future__ import annotations

import ast
import inspect
import pkgutil
import re
import subprocess
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest

import olvask.core
from olvask.core.assess import assess
from olvask.core.findings.figure import DIGITS, show
from olvask.store.demo import demo_designs

ROOT = Path(__file__).parents[2]
CORE = ROOT / "src/olvask/core"
MODULES = sorted(CORE.rglob("*.py"))
FORBIDDEN = (
    "flask",
    "apiflask",
    "sqlalchemy",
    "alembic",
    "typst",
    "random",
    "time",
    "datetime",
    "socket",
    "os",
    "secrets",
)
ABOVE = ("olvask.web", "olvask.store", "olvask.documents", "olvask.cli", "olvask.rig")


def imported(path: Path) -> Iterator[str]:
    """Every module a file imports, wherever in it."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            yield from (name.name for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module


@pytest.mark.parametrize("path", MODULES, ids=lambda path: str(path.relative_to(CORE)))
def test_the_core_imports_nothing_above_it(path: Path) -> None:
    """No interface, no store, no clock, no chance: read from the source, not trusted."""
    for name in imported(path):
        assert name.split(".")[0] not in FORBIDDEN, name
        assert not name.startswith(ABOVE), name


def test_physics_knows_no_model() -> None:
    """Physics takes plain numbers: it imports neither the model nor the rules."""
    for path in (CORE / "physics").glob("*.py"):
        assert not [name for name in imported(path) if name.startswith(("olvask.core.model", "olvask.core.rules"))], (
            path.name
        )


def test_loading_the_core_loads_no_web_server() -> None:
    """A fresh interpreter that assesses a design never loads Flask or SQLAlchemy."""
    script = (
        "import sys, olvask.core.assess; print([m for m in ('flask', 'apiflask', 'sqlalchemy') if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def public_functions() -> Iterator[tuple[str, object]]:
    """Public functions of the core's modules, each where it is defined."""
    for info in pkgutil.walk_packages(olvask.core.__path__, "olvask.core."):
        module = import_module(info.name)
        for name, thing in vars(module).items():
            if inspect.isfunction(thing) and thing.__module__ == info.name and not name.startswith("_"):
                yield f"{info.name}.{name}", thing


FUNCTIONS = dict(public_functions())


@pytest.mark.parametrize("name", sorted(FUNCTIONS))
def test_docstrings_name_their_arguments(name: str) -> None:
    """A docstring exists; where it lists arguments it lists exactly those of the signature."""
    function = FUNCTIONS[name]
    assert inspect.isfunction(function)
    text = inspect.getdoc(function) or ""
    assert text, name
    if "Args:" not in text:
        return
    block = text.split("Args:", 1)[1].split("\n\n", 1)[0]
    documented = [
        line.split(":")[0].strip() for line in block.splitlines() if line.startswith("    ") and line[4] != " "
    ]
    assert documented == list(inspect.signature(function).parameters)


def test_every_figure_is_documented() -> None:
    """docs/job-file.md lists each dotted name the demo jobs give (a device's identity shown as ID)."""
    text = (ROOT / "docs/job-file.md").read_text(encoding="utf-8")
    for _, design in demo_designs():
        for name in assess(design).figures:
            shown = re.sub(r"^device\.[a-z0-9]+\.", "device.ID.", name)
            assert f"`{shown}`" in text, shown


def test_every_figure_has_a_unit_and_a_working() -> None:
    """No number without its unit, its rule's source and how it came about."""
    for _, design in demo_designs():
        for figure in assess(design).figures.values():
            assert figure.unit in DIGITS or figure.unit == "-", figure.name
            assert figure.working, figure.name
            assert figure.source, figure.name


@pytest.mark.parametrize(
    ("value", "unit", "shown"),
    [
        (1.0, "yes/no", "yes"),
        (0.0, "yes/no", "no"),
        (999.96, "A", "1000.0 A"),
        (1000.0, "A", "1000 A"),
        (4038.6, "A", "4039 A"),
        (-2159.2, "A", "-2159 A"),
        (0.9, "-", "0.90"),
        (None, "V", "none"),
    ],
)
def test_how_a_value_is_written(value: float | None, unit: str, shown: str) -> None:
    """What holds or not is no number, and thousands have no decimals."""
    assert show(value, unit) == shown


def test_the_demo_shows_something_true_everywhere() -> None:
    """Five jobs: at least one with a stop, at least two with cautions and no stop, at least one clear."""
    found = {heading.code: assess(design) for heading, design in demo_designs()}
    assert len(found) == 5
    levels = {code: {item.level for item in assessment.findings} for code, assessment in found.items()}
    assert sum("stop" in seen for seen in levels.values()) >= 1
    assert sum("caution" in seen and "stop" not in seen for seen in levels.values()) >= 2
    assert sum(seen <= {"note"} for seen in levels.values()) >= 1
