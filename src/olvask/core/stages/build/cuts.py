"""The cut list: lengths laid out on the drums there are, fewest off-cuts, and everything the bench needs in one answer.

- `cut_list`: which length comes off which drum.
- `buying`: bill, drums and labels of a design.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from olvask.core.catalogue import conductor
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Part, Prices, bill_of
from olvask.core.stages.build.conductors import CutConductor
from olvask.core.stages.build.labels import Label, labels_of


@dataclass(frozen=True, slots=True)
class Drum:
    """A length of cable in stock."""

    id: str
    size: str
    length_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DrumUse:
    """What is cut off one drum, or has to be bought."""

    drum: str
    size: str
    in_stock: bool
    length_m: float
    cuts: tuple[str, ...]
    used_m: float
    left_m: float


class Buying(Said):
    """From the design to the bench."""

    conductors: tuple[CutConductor, ...]
    drums: tuple[DrumUse, ...]
    parts: tuple[Part, ...]
    total: float
    labels: tuple[Label, ...]


def _bought(size: str, metal: str, wanted: Sequence[CutConductor]) -> DrumUse:
    """Cable that has to be bought, by the whole metre."""
    total_m = round(sum(cut.cut_m for cut in wanted), 3)
    bought_m = float(math.ceil(total_m - 1e-9))
    return DrumUse(
        drum=f"to buy{'' if metal == 'copper' else ', copper-clad'}",
        size=size,
        in_stock=False,
        length_m=bought_m,
        cuts=tuple(cut.id for cut in wanted),
        used_m=total_m,
        left_m=round(bought_m - total_m, 3),
    )


def cut_list(cuts: Iterable[CutConductor], drums: Sequence[Drum]) -> tuple[DrumUse, ...]:
    """Lay the cuts out on the drums, longest first, each on the shortest rest that takes it; buy what does not go.

    Args:
        cuts: conductors to cut.
        drums: what is in stock.
    """
    left = {drum.id: drum.length_m for drum in drums}
    used: dict[str, list[CutConductor]] = {}
    to_buy: dict[tuple[str, str], list[CutConductor]] = {}
    for cut in sorted((item for item in cuts if not item.there), key=lambda item: -item.cut_m):
        fitting = [
            drum
            for drum in drums
            if drum.size == cut.size and cut.metal == "copper" and left[drum.id] >= cut.cut_m - 1e-9
        ]
        if not fitting:
            to_buy.setdefault((cut.size, cut.metal), []).append(cut)
            continue
        drum = min(fitting, key=lambda item: (left[item.id], item.id))
        left[drum.id] -= cut.cut_m
        used.setdefault(drum.id, []).append(cut)
    found = [
        DrumUse(
            drum=drum.id,
            size=drum.size,
            in_stock=True,
            length_m=drum.length_m,
            cuts=tuple(cut.id for cut in used[drum.id]),
            used_m=round(drum.length_m - left[drum.id], 3),
            left_m=round(left[drum.id], 3),
        )
        for drum in drums
        if drum.id in used
    ]
    found += [_bought(size, metal, wanted) for (size, metal), wanted in to_buy.items()]
    return tuple(sorted(found, key=lambda item: (conductor(item.size).area_mm2, not item.in_stock, item.drum)))


def buying(design: Design, code: str = "", drums: Sequence[Drum] = (), prices: Prices = CATALOGUE_PRICES) -> Buying:
    """Bill, drums and labels of a design.

    Args:
        design: the design.
        code: job number, put on every label.
        drums: what is in stock.
        prices: the workshop's own prices.
    """
    bill = bill_of(Context.of(design), prices)
    return Buying(
        conductors=bill.conductors,
        drums=cut_list(bill.conductors, drums),
        parts=bill.parts,
        total=bill.total,
        labels=labels_of(bill.conductors, code),
    )
