"""The order list: what the bill asks for, less what is in stock, by supplier.

- `Stock`: what the workshop has, and who sells it.
- `Orders`, `orders_of`: the list.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from olvask.core.findings.said import Said
from olvask.core.stages.build.bill import Bill, Part
from olvask.core.stages.build.cuts import Drum, cut_list

NOBODY = "no supplier named"


@dataclass(frozen=True, slots=True)
class Stock:
    """What the workshop has.

    Attributes:
        pieces: how many of a part are there, by its key; a part not named is not counted.
        suppliers: who sells a part, by its key.
        drums: cable in stock.
    """

    pieces: Mapping[str, int] = field(default_factory=dict)
    suppliers: Mapping[str, str] = field(default_factory=dict)
    drums: Sequence[Drum] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderLine:
    """A part: what the job needs, what is there, what is to be ordered."""

    what: str
    detail: str
    unit: str
    needed: float
    in_stock: float
    to_order: float
    each: float
    sum: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderGroup:
    """What one supplier is asked for."""

    supplier: str
    lines: tuple[OrderLine, ...]
    total: float


class Orders(Said):
    """The order list of a job."""

    groups: tuple[OrderGroup, ...]
    total: float


def orders_of(bill: Bill, stock: Stock) -> Orders:
    """What has to be ordered, by supplier; those without one come last.

    Args:
        bill: everything the design takes.
        stock: what the workshop has.

    Cable is taken off the drums as the cut list lays it, and bought by the whole metre.
    """
    bought, off_drums = _cable_m(bill, stock)
    by_supplier: defaultdict[str, list[OrderLine]] = defaultdict(list)
    for part in bill.parts:
        by_supplier[stock.suppliers.get(part.key, NOBODY)].append(_line(part, stock, bought, off_drums))
    groups = tuple(
        OrderGroup(supplier=name, lines=tuple(lines), total=round(sum(line.sum for line in lines), 2))
        for name, lines in sorted(by_supplier.items(), key=lambda item: (item[0] == NOBODY, item[0].lower()))
    )
    return Orders(groups=groups, total=round(sum(group.total for group in groups), 2))


def _cable_m(bill: Bill, stock: Stock) -> tuple[Mapping[str, float], Mapping[str, float]]:
    """Metres of each cable that no drum has, and those that are cut off drums."""
    metal = {cut.id: cut.metal for cut in bill.conductors}
    bought: defaultdict[str, float] = defaultdict(float)
    off_drums: defaultdict[str, float] = defaultdict(float)
    for use in cut_list(bill.conductors, stock.drums):
        key = f"cable:{use.size}:{metal[use.cuts[0]]}"
        if use.in_stock:
            off_drums[key] += use.used_m
        else:
            bought[key] += use.length_m
    return bought, off_drums


def _line(part: Part, stock: Stock, bought: Mapping[str, float], off_drums: Mapping[str, float]) -> OrderLine:
    if part.key.startswith("cable:"):
        to_order, there = bought.get(part.key, 0.0), round(off_drums.get(part.key, 0.0), 2)
    else:
        there = float(min(stock.pieces.get(part.key, 0), math.floor(part.count)))
        to_order = round(part.count - there, 2)
    return OrderLine(
        what=part.what,
        detail=part.detail,
        unit=part.unit,
        needed=part.count,
        in_stock=there,
        to_order=to_order,
        each=part.price,
        sum=round(to_order * part.price, 2),
    )
