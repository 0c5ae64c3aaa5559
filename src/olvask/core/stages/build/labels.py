"""Labels: one for each end of each conductor."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from olvask.core.stages.build.conductors import CutConductor


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A label for one end of a conductor."""

    conductor: str
    end: str
    lines: tuple[str, ...]


def labels_of(cuts: Iterable[CutConductor], code: str) -> tuple[Label, ...]:
    """Two labels a conductor: its name, where the other end goes, its size.

    Args:
        cuts: the conductors.
        code: job number, put before the name.
    """
    return tuple(
        Label(conductor=cut.id, end=side, lines=(f"{code} {cut.id}".strip(), f"to {other.at}", cut.size))
        for cut in cuts
        for side, other in (("A", cut.ends[1]), ("B", cut.ends[0]))
    )
