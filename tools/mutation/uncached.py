"""A pytest plugin that empties what our modules keep for good before each test, so that each test reaches all it uses.

What is worked out once a process would be reached by the first test alone, and a mistake in it tried on that one.
"""

from __future__ import annotations

import sys
from functools import _lru_cache_wrapper


def pytest_runtest_setup() -> None:
    """Forget what was worked out for the tests before."""
    for name in [name for name in sys.modules if name.startswith("olvask.core")]:
        for kept in list(vars(sys.modules[name]).values()):
            if isinstance(kept, _lru_cache_wrapper) and (kept.__module__ or "").startswith("olvask.core"):
                kept.cache_clear()
