"""What is looked at before a document is read as a design: characters nobody can print, lists of absurd length.

- `first_faults`: what is found, with its place.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from olvask.core.model.entry_errors import EntryError, label_of, words_for

MOST_ITEMS = 1000  # of any list in a document; the longest a design takes is 400
MOST_FAULTS = 20
DEEPEST = 60  # levels of a document; a job has ten
HOLDS = frozenset({str, dict, list})
# Controls, surrogates and what is no character: they break drawings, papers and tables. So do signs that turn the writing
# round (bidirectional controls, Unicode Standard Annex 9): what stands behind them on a line is then read from its end.
# Line ends and tabs may stand.
UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufffe\uffff]")


def _clean(document: Any) -> bool:
    """Whether a whole document holds nothing of the kind; quicker than naming places, which most documents do not need."""
    waiting, clean = [(document, 0)], UNPRINTABLE.search
    while waiting:
        here, depth = waiting.pop()
        if depth > DEEPEST:
            return False
        if isinstance(here, str):
            if clean(here):
                return False
        elif isinstance(here, dict):
            if clean("".join(map(str, here))):
                return False
            waiting.extend([(value, depth + 1) for value in here.values() if value.__class__ in HOLDS])
        elif isinstance(here, list):
            if len(here) > MOST_ITEMS:
                return False
            waiting.extend([(value, depth + 1) for value in here if value.__class__ in HOLDS])
    return True


def _found(document: Any, path: str) -> Iterator[EntryError]:
    if isinstance(document, str):
        if UNPRINTABLE.search(document):
            yield _fault(path, "Holds a character that cannot be printed; type it again")
    elif isinstance(document, dict):
        for key, value in document.items():
            name = str(key)
            if UNPRINTABLE.search(name):
                yield _fault(path, "A name in it holds a character that cannot be printed; take it out")
                continue
            yield from _found(value, f"{path}.{name}" if path else name)
    elif isinstance(document, list):
        if len(document) > MOST_ITEMS:
            yield _fault(path, f"Too many, {len(document)}; keep to {MOST_ITEMS} at most")
            return
        for at, value in enumerate(document):
            yield from _found(value, f"{path}.{at}")


def _fault(path: str, message: str) -> EntryError:
    return EntryError(path=path, field="", message=message)


def first_faults(document: Any, model: type[BaseModel]) -> list[EntryError]:
    """What no document may hold, the first of it.

    Args:
        document: as plain data.
        model: what it is to be read as, for the names of its fields.
    """
    if _clean(document):
        return []
    found: list[EntryError] = []
    words = words_for(document)
    try:
        for fault in _found(document, ""):
            found.append(
                fault.model_copy(update={"field": words(label_of(model, fault.path)) if fault.path else "document"})
            )
            if len(found) >= MOST_FAULTS:
                break
    except RecursionError:
        found.append(EntryError(path="", field="document", message="nested too deeply"))
    return found
