"""Modules of the core as machine code, where they have been compiled from the very sources that lie here.

`make fast` compiles them (mypyc) into the folder `fast`, with the sources' hashes. As soon as one source differs none is
used: what runs is always what can be read. Without them everything answers the same, the simulator in four to eight times the time.
OLVASK_INTERPRETED=1 leaves them aside.
"""

from __future__ import annotations

import hashlib
import importlib.machinery
import importlib.util
import json
import os
import sys
from collections.abc import Sequence
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec
from pathlib import Path
from types import ModuleType

PACKAGE = Path(__file__).parent
FOLDER = PACKAGE / "fast"
SUFFIX = importlib.machinery.EXTENSION_SUFFIXES[0]  # of this Python on this kind of machine alone
LISTED = "sources.json"


class Finder(MetaPathFinder):
    """Finds modules that have been compiled."""

    def __init__(self, files: dict[str, Path]) -> None:
        """Take which file each module lies in."""
        self.files = files

    def find_spec(
        self, fullname: str, path: Sequence[str] | None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        """The compiled module's specification; `None` for any other."""
        file = self.files.get(fullname)
        return None if file is None else importlib.util.spec_from_file_location(fullname, file)


def source_of(module: str) -> Path:
    """Where a module's source lies.

    Args:
        module: its full name, such as `olvask.core.simulate.plant`.
    """
    return PACKAGE.parent.joinpath(*module.split(".")).with_suffix(".py")


def hashed(file: Path) -> str:
    """SHA-256 of a file.

    Args:
        file: the file.

    Raises:
        OSError: it cannot be read.
    """
    return hashlib.sha256(file.read_bytes()).hexdigest()


def usable(folder: Path = FOLDER) -> dict[str, Path]:
    """The modules compiled for this Python and machine from today's sources, and their files; empty where one differs.

    Args:
        folder: where they were put.
    """
    try:
        listed: dict[str, str] = json.loads((folder / f"{SUFFIX}.{LISTED}").read_text(encoding="utf-8"))
        if any(hashed(source_of(module)) != digest for module, digest in listed.items()):
            return {}
    except (OSError, ValueError):
        return {}
    files = {file.name.removesuffix(SUFFIX): file for file in folder.glob(f"*{SUFFIX}")}
    return files if listed.keys() <= files.keys() else {}


def use() -> None:
    """From now on import what has been compiled; to be called before anything of the core is."""
    if os.environ.get("OLVASK_INTERPRETED") != "1" and (files := usable()):
        sys.meta_path.insert(0, Finder(files))
