"""More copper as a remedy: the smallest larger size that does, for one cable or for all of a run.

- `grow`: the remedy.
- `smallest_size`: the size.
- `thickest_need`: where more copper does most.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from olvask.core.catalogue import Conductor, NoStandardSize, conductor, conductors
from olvask.core.circuit.runs import RunState
from olvask.core.findings.finding import Remedy
from olvask.core.findings.remedy import remedy, with_cable
from olvask.core.model import Cable, Design, Run, RunName

RUN_LABEL: dict[RunName, str] = {"supply": "Supply run", "delivery": "Delivery run"}


def size_path(design: Design, run: RunName, index: int) -> str:
    """Path of a cable's size in the design."""
    return f"{run}.pieces.{design.run(run).pieces[index].id}.size"


def resized(design: Design, run: RunName, index: int, size: str) -> list[tuple[str, object]]:
    """Changes that give a piece another size; a cable that was there already is replaced by a new one."""
    piece = design.run(run).pieces[index]
    changes: list[tuple[str, object]] = [(size_path(design, run, index), size)]
    if isinstance(piece, Cable) and piece.there:
        changes.append((f"{run}.pieces.{piece.id}.there", ""))
    return changes


def smallest_size(design: Design, run: RunName, index: int, accept: Callable[[Design], bool]) -> Conductor:
    """Smallest size, of the piece's own system, above the present one that `accept` takes.

    Args:
        design: the design.
        run: "supply" or "delivery".
        index: which piece; a cable. One that enters the unit's terminal grows no further than that takes.
        accept: judges the design with that size put in; once true it stays true for more copper.

    Raises:
        NoStandardSize: not even the largest will do.
    """
    unit = design.charger
    most_mm2 = unit.terminal_max_mm2 if unit is not None and index == terminal_index(design, run) else math.inf
    return _smallest(design, run, index, lambda size: accept(with_cable(design, run, index, size.size)), most_mm2)


def _smallest(
    design: Design, run: RunName, index: int, accept: Callable[[Conductor], bool], most_mm2: float = math.inf
) -> Conductor:
    piece = design.run(run).pieces[index]
    if not isinstance(piece, Cable):
        raise TypeError(f"{run}.{index} is not a cable")
    present = conductor(piece.size)
    larger = [
        item for item in conductors() if item.system == present.system and present.area_mm2 < item.area_mm2 <= most_mm2
    ]
    low, high = 0, len(larger)
    while low < high:
        middle = (low + high) // 2
        if accept(larger[middle]):
            high = middle
        else:
            low = middle + 1
    if low == len(larger):
        raise NoStandardSize(f"no size up to {conductors()[-1].size} will do in the {run} run")
    return larger[low]


def _raised(design: Design, run: RunName, size: Conductor) -> list[tuple[int, str]]:
    """Every cable of a run smaller than `size`, raised to it; into a terminal only what it takes."""
    raised: list[tuple[int, str]] = []
    at_terminal = terminal_index(design, run)
    for index, piece in enumerate(design.run(run).pieces):
        if not isinstance(piece, Cable):
            continue
        present = conductor(piece.size)
        wanted = size
        if index == at_terminal and design.charger is not None:
            most = design.charger.terminal_max_mm2
            enters = [
                item
                for item in conductors()
                if item.system == size.system and item.area_mm2 <= min(most, size.area_mm2)
            ]
            wanted = enters[-1] if enters else present
        if present.area_mm2 < wanted.area_mm2:
            raised.append((index, wanted.size))
    return raised


def _with_cables(design: Design, run: RunName, sizes: list[tuple[int, str]]) -> Design:
    for index, size in sizes:
        design = with_cable(design, run, index, size)
    return design


def terminal_index(design: Design, run: RunName) -> int | None:
    """Index of the cable that enters the unit's terminal, if the last piece there is a cable."""
    pieces = design.run(run).pieces
    index = len(pieces) - 1 if run == "supply" else 0
    return index if pieces and isinstance(pieces[index], Cable) else None


def thickest_need(described: Run, state: RunState) -> int | None:
    """Index of the cable with the most resistance in a run, where more copper does most."""
    cables = [index for index, piece in enumerate(described.pieces) if isinstance(piece, Cable)]
    return max(cables, key=lambda index: state.pieces[index].out_ohm, default=None)


def grow(
    design: Design, run: RunName, index: int | None, accept: Callable[[Design], bool], purpose: str
) -> Remedy | None:
    """Remedy: the smallest larger size that `accept` takes, for one cable or else for all of the run.

    Args:
        design: the design.
        run: "supply" or "delivery".
        index: which cable; `None` where the run has none.
        accept: judges the design with more copper in it.
        purpose: what it is for, to end the label.
    """
    if index is None:
        return None
    try:
        size = smallest_size(design, run, index, accept)
        return remedy(f"Use {size.size} {purpose}", *resized(design, run, index, size.size))
    except NoStandardSize:
        pass
    try:
        size = _smallest(design, run, index, lambda size: accept(_with_cables(design, run, _raised(design, run, size))))
    except NoStandardSize:
        return None
    changes = [item for at, label in _raised(design, run, size) for item in resized(design, run, at, label)]
    return remedy(f"Use {size.size} throughout {purpose}", *changes)
