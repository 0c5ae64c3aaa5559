"""The contract over the layers is in force, and it bites."""

from __future__ import annotations

import shutil
import subprocess
import sys
from fnmatch import fnmatch
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PLANTED = (
    ("core/physics/joints_planted.py", "from olvask.core.model import Design"),
    ("core/stages/run/planted.py", "from olvask.core.stages.wake.method import advise"),
    ("core/circuit/planted.py", "from olvask.core.analyses import rank"),
    ("core/model/planted.py", "import sqlalchemy"),
    ("store/planted.py", "from olvask.web.app import bare_app"),
)


def lint(root: Path) -> subprocess.CompletedProcess[str]:
    """Hold the package under `root` to the contracts."""
    words = [str(Path(sys.executable).with_name("lint-imports")), "--no-cache"]
    return subprocess.run(words, cwd=root, capture_output=True, text=True, env={"PYTHONPATH": str(root / "src")})


@pytest.fixture(scope="module")
def copy(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The package without what is built into it."""
    root = tmp_path_factory.mktemp("layers")
    shutil.copytree(ROOT / "src/olvask", root / "src/olvask", ignore=shutil.ignore_patterns("app", "__pycache__"))
    shutil.copy(ROOT / "pyproject.toml", root)
    return root


def test_the_layers_stand(copy: Path) -> None:
    """As it is, nothing imports from above."""
    done = lint(copy)
    assert done.returncode == 0, done.stdout


@pytest.mark.parametrize(("file", "line"), PLANTED)
def test_an_import_from_above_is_refused(copy: Path, file: str, line: str) -> None:
    """One wrong import planted anywhere breaks the contract, and it is named."""
    planted = copy / "src/olvask" / file
    planted.write_text(f"{line}\n", encoding="utf-8")
    try:
        done = lint(copy)
        assert done.returncode == 1
        assert "BROKEN" in done.stdout
        assert file.removesuffix(".py").replace("/", ".") in done.stdout
    finally:
        planted.unlink()


def test_no_file_is_long() -> None:
    """A file is read in one sitting: at most 400 lines of Python, 250 of the front end; made ones aside."""
    root = Path(__file__).parents[2]
    long = [
        f"{path.relative_to(root)}: {lines}"
        for folder, endings, most in (("src", (".py",), 400), ("frontend/src", (".vue", ".ts"), 250))
        for path in sorted((root / folder).rglob("*"))
        if path.suffix in endings and ".gen." not in path.name
        if (lines := len(path.read_text().splitlines())) > most
    ]
    assert long == []


def test_no_folder_of_tests_is_passed_over(request: pytest.FixtureRequest) -> None:
    """Of itself pytest leaves folders named build or dist out: those of the stage Build were once never run."""
    passed_over = request.config.getini("norecursedirs")
    folders = {folder for file in (ROOT / "tests").rglob("test_*.py") for folder in file.relative_to(ROOT).parts[:-1]}
    assert "build" in folders
    assert not [(name, mask) for name in folders for mask in passed_over if fnmatch(name, mask)]
