"""Change a design by path, the way a remedy or a screen does.

A path is dotted; in a list a step is the identity of a thing, or its position where things have none.
"""

from __future__ import annotations

from collections.abc import Iterable
from copy import deepcopy
from typing import Any

from olvask.core.findings.finding import Change, Remedy
from olvask.core.model import Cable, Design, RunName


def remedy(label: str, *changes: tuple[str, object]) -> Remedy:
    """Put a remedy together from (path, value) pairs."""
    return Remedy(label=label, changes=tuple(Change(path=path, value=value) for path, value in changes))


def joined(label: str, *parts: Remedy | Iterable[tuple[str, object]]) -> Remedy:
    """One remedy out of several and further changes, under a new label.

    Args:
        label: what it is called.
        parts: remedies, or (path, value) pairs.
    """
    changes: list[Change] = []
    for part in parts:
        if isinstance(part, Remedy):
            changes += part.changes
        else:
            changes += [Change(path=path, value=value) for path, value in part]
    return Remedy(label=label, changes=tuple(changes))


def position(items: list[Any], step: str) -> int:
    """Where in a list a step of a path leads.

    Args:
        items: the list, as plain data.
        step: an identity, or a position.

    Raises:
        KeyError: nothing there has that identity.
    """
    if step.isdecimal():
        return int(step)
    for at, item in enumerate(items):
        if isinstance(item, dict) and item.get("id") == step:
            return at
    raise KeyError(step)


def with_change(document: dict[str, Any], path: str, value: Any) -> None:
    """Set one place of a design document, in place.

    Args:
        document: design as plain data.
        path: the place.
        value: what to put there.

    Raises:
        KeyError: the path leads nowhere.
        IndexError: a list is shorter than the path says.
    """
    *way, last = path.split(".")
    here: Any = document
    for step in way:
        here = here[position(here, step)] if isinstance(here, list) else here[step]
    if isinstance(here, list):
        here[position(here, last)] = value
    else:
        here[last] = value


def apply(design: Design, wanted: Remedy) -> Design:
    """Return `design` with a remedy applied.

    Args:
        design: the design as it stands.
        wanted: the remedy of one of its findings.

    Raises:
        ValidationError: the remedy makes a design that does not fit the model.
    """
    document = design.model_dump(mode="json")
    for change in wanted.changes:
        # A copy: a later change may reach into what an earlier one put in, and the remedy shall stay as it is.
        with_change(document, change.path, deepcopy(change.value))
    return Design.model_validate(document)


def with_cable(design: Design, run: RunName, index: int, size: str) -> Design:
    """Return `design` with one cable in another size.

    Args:
        design: the design as it stands.
        run: "supply" or "delivery".
        index: which piece of the run; it must be a cable.
        size: standard size label.

    Copies without validating: `size` must come from the catalogue.
    """
    old = design.run(run)
    piece = old.pieces[index]
    if not isinstance(piece, Cable):
        raise TypeError(f"{run}.{index} is not a cable")
    pieces = (*old.pieces[:index], piece.model_copy(update={"size": size}), *old.pieces[index + 1 :])
    return design.model_copy(update={run: old.model_copy(update={"pieces": pieces})})
