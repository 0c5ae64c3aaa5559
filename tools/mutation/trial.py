"""One mistake's tests, in a process forked for them."""

from __future__ import annotations

import os
import sys
import traceback
from pathlib import Path

import pytest

FELL = 70  # where pytest itself fell over: nothing was noticed by a test


def tried(words: list[str], environment: dict[str, str], said: Path) -> None:
    """Run tests in this process and end it with what pytest says.

    Args:
        words: for pytest.
        environment: of the process.
        said: file that takes what is printed; it is there from the beginning on.
    """
    os.environ.update(environment)
    with said.open("w", encoding="utf-8") as out:
        os.dup2(out.fileno(), 1)
        os.dup2(out.fileno(), 2)
        try:
            code = int(pytest.main(words))
        except BaseException:
            traceback.print_exc()
            code = FELL
        sys.stdout.flush()
        sys.stderr.flush()
    os._exit(code)
