"""Work so small that only who does it matters; in a module of its own, so that a process has little to import."""

from __future__ import annotations

import os
import time

from olvask.work.spread import Batch

SLOW_S = 30


def double(batch: Batch[int]) -> tuple[int, ...]:
    """Twice each."""
    return tuple(2 * at for at in batch)


def deadly(batch: Batch[int]) -> tuple[int, ...]:
    """The same, but for the process that works on thirteen: it ends."""
    if 13 in batch:
        os._exit(1)
    return double(batch)


def slow(batch: Batch[int]) -> tuple[int, ...]:
    """The first at once, the others not while anybody waits."""
    time.sleep(0.2 if batch == (0,) else SLOW_S)
    return batch
