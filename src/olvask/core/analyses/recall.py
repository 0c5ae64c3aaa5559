"""Which jobs hold a thing, and what would change if the shelf's own item stood in place of the job's copy.

- `Holds`, `holds`: where a design holds what is looked for.
- `Recalled`, `with_item`: findings that would come or go with the shelf's unit.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, Literal

from olvask.core.assess import assess
from olvask.core.catalogue import device
from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.model import Charger, Design
from olvask.core.model.base import choices_of
from olvask.core.model.run import Cable
from olvask.core.stages.build.bill import IN_A_HOLDER, bill_of
from olvask.core.stages.build.conductors import conductors_of

What = Literal["unit", "battery", "cable", "device", "monitor"]
WHAT: dict[What, str] = {
    "unit": "unit",
    "battery": "battery",
    "cable": "cable size",
    "device": "device",
    "monitor": "battery monitor",
}


METALS = choices_of(Cable, "metal")


class Holds(Said):
    """One place of a design that holds it."""

    path: str
    words: str


class Recalled(Said):
    """What is different with the shelf's item as it is now."""

    differs: bool
    come: tuple[str, ...]
    go: tuple[str, ...]


def holds(design: Design, what: What, key: str) -> tuple[Holds, ...]:
    """Where a design holds a thing, each once.

    Args:
        design: the design.
        what: of which kind it is.
        key: a unit's shelf number or name, a battery's or monitor's name, a cable's size, a device's family and rating, or
            the beginning of one of their words; a number is meant whole: 6 mm² is not 16 mm².
    """
    wanted = _plain(key)
    if not wanted:
        return ()
    whole = re.compile(rf"(?<![\w.]){re.escape(wanted)}" + (r"(?!\d|\.\d)" if wanted[-1].isdigit() else ""))
    found = (held for held in _things(design, what) if whole.search(_plain(held.words)))
    return tuple({held.words: held for held in found}.values())


def _plain(words: str) -> str:
    """Words as they are compared: "2,5mm2" is 2.5 mm²."""
    plain = " ".join(words.casefold().replace("mm2", "mm²").split())
    plain = re.sub(r"(?<=\d),(?=\d)", ".", plain)
    return re.sub(r"(?<=\d) ?(?=(mm²|a\b))", " ", plain)


def _things(design: Design, what: What) -> Iterator[Holds]:
    if what == "unit":
        if design.charger is not None:
            yield Holds(path="charger", words=f"{design.charger.id} {design.charger.name}")
        for item in design.existing:
            if item.name:
                yield Holds(path=f"existing.{item.id}", words=item.name)
    elif what == "battery" and design.auxiliary.name:
        yield Holds(path="auxiliary", words=design.auxiliary.name)
    elif what == "monitor" and design.monitor.unit is not None:
        yield Holds(path="monitor", words=design.monitor.unit.name)
    elif what == "cable":
        for cut in conductors_of(Context.of(design)):
            yield Holds(path=cut.place, words=f"{cut.size} {METALS[cut.metal]}")
    elif what == "device":
        bill = bill_of(Context.of(design))  # those of branches and tails, and small ones in a holder, among them
        for piece in bill.devices:
            yield Holds(path=piece.id, words=f"{device(piece.family, piece.rating_a).label} {piece.rating_a:g} A")
        for part in bill.parts:
            if part.what.endswith(IN_A_HOLDER):
                yield Holds(path="", words=part.what)


def with_item(design: Design, item: Charger) -> Recalled:
    """What would come and go with the shelf's unit in place of the copy the job was made with.

    Args:
        design: the job's.
        item: as it stands on the shelf now.
    """
    if design.charger is None or design.charger == item:
        return Recalled(differs=False, come=(), go=())
    document: dict[str, Any] = design.model_dump(mode="json") | {"charger": item.model_dump(mode="json")}
    before = _wrong(design)
    after = _wrong(Design.model_validate(document))
    return Recalled(
        differs=True,
        come=tuple(title for key, title in after.items() if key not in before),
        go=tuple(title for key, title in before.items() if key not in after),
    )


def _wrong(design: Design) -> dict[str, str]:
    """Stops and cautions of a design, by their identity."""
    return {item.id: item.title for item in assess(design, remedies=False).findings if item.level != "note"}
