"""Names one after the other, as a sentence has them."""

from __future__ import annotations

from collections.abc import Sequence


def listed(names: Sequence[str]) -> str:
    """Names with commas between them, an “and” before the last; empty for none."""
    return " and ".join((", ".join(names[:-1]), names[-1])) if len(names) > 1 else "".join(names)
