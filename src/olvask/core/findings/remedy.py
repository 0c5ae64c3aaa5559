"""Change a design by dotted path, the way a remedy or a screen does."""

from __future__ import annotations

from typing import Any

from olvask.core.findings.assessment import WayOut
from olvask.core.model import Cable, Design


def with_change(document: dict[str, Any], path: str, value: Any) -> None:
    """Set one place of a design document, in place.

    Args:
        document: design as plain data.
        path: dotted path; numbers index lists.
        value: what to put there.

    Raises:
        KeyError: the path leads nowhere.
        IndexError: a list is shorter than the path says.
    """
    *way, last = path.split(".")
    here: Any = document
    for step in way:
        here = here[int(step)] if isinstance(here, list) else here[step]
    if isinstance(here, list):
        here[int(last)] = value
    else:
        here[last] = value


def apply(design: Design, remedy: WayOut) -> Design:
    """Return `design` with a way out applied.

    Args:
        design: the design as it stands.
        remedy: the way out of one of its findings.

    Raises:
        ValidationError: the remedy makes a design that does not fit the model.
    """
    document = design.model_dump(mode="json")
    for change in remedy.changes:
        with_change(document, change.path, change.value)
    return Design.model_validate(document)


def with_cable(design: Design, run: str, index: int, size: str) -> Design:
    """Return `design` with one cable in another size.

    Args:
        design: the design as it stands.
        run: "supply" or "delivery".
        index: which piece of the run; it must be a cable.
        size: standard size label.

    Copies without validating: `size` must come from the catalogue.
    """
    old = design.supply if run == "supply" else design.delivery
    piece = old.pieces[index]
    if not isinstance(piece, Cable):
        raise TypeError(f"{run}.{index} is not a cable")
    pieces = (*old.pieces[:index], piece.model_copy(update={"size": size}), *old.pieces[index + 1 :])
    return design.model_copy(update={run: old.model_copy(update={"pieces": pieces})})
