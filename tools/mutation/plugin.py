"""A pytest plugin that makes one mistake in one module as it is imported: nothing on disk is touched.

Read from the environment: OLVASK_MUTANT, as `module=mistake`.
"""

from __future__ import annotations

import importlib.abc
import importlib.machinery
import importlib.util
import os
import sys
from collections.abc import Sequence
from types import CodeType, ModuleType

from hypothesis import Phase, settings

from tools.mutation.mistakes import Mistake, spoilt

MODULE, _, KEY = os.environ.get("OLVASK_MUTANT", "").partition("=")


class _Loader(importlib.machinery.SourceFileLoader):
    """Loads a module's source with the mistake in it."""

    def get_code(self, fullname: str) -> CodeType:
        """The spoilt module, compiled."""
        source = self.get_source(fullname)
        assert source is not None
        return compile(spoilt(source, Mistake.of(KEY)), self.path, "exec", dont_inherit=True)


class _Finder(importlib.abc.MetaPathFinder):
    """Finds the one module."""

    def find_spec(
        self, fullname: str, path: Sequence[str] | None, target: ModuleType | None = None
    ) -> importlib.machinery.ModuleSpec | None:
        """The spoilt module's specification, or none for any other."""
        if fullname != MODULE:
            return None
        found = importlib.machinery.PathFinder.find_spec(fullname, path)
        assert found is not None
        assert found.origin is not None
        return importlib.util.spec_from_loader(fullname, _Loader(fullname, found.origin))


# A failure has been noticed: nobody reads the smallest example of it.
PHASES = [phase for phase in Phase if phase not in (Phase.shrink, Phase.explain)]
settings.register_profile("mutation", phases=PHASES, database=None)
settings.load_profile("mutation")
if MODULE:
    assert MODULE not in sys.modules, f"{MODULE} is imported already"
    sys.meta_path.insert(0, _Finder())
