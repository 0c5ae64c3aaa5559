"""What the yard shows of each job: worked out when it is saved and kept, so that a yard of thousands opens at once.

- `Card`, `card_of`: the verdicts of one design in a row.
- `RULES`: which rules a card was worked out by; another Olvask works it out anew.
- `Heading`: what a job is called.
- `Wanted`, `Page`, `CardedJob`: a part of the yard, searched, sorted and paged.
"""

from __future__ import annotations

import hashlib
import logging
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Literal

from olvask.core.assess import Assessment, assess
from olvask.core.findings.finding import STAGES, Stage
from olvask.core.model import Design

MOST_ROWS = 200  # of one page


@dataclass(frozen=True, slots=True)
class Card:
    """The verdicts of one design in a row."""

    vehicle: str = ""
    unit: str = ""
    unit_id: str = ""
    battery: str = ""
    alternator: str = ""
    stops: int = 0
    cautions: int = 0
    next_stage: Stage = "survey"
    next_action: str = ""
    spoilt: str = ""  # why it cannot be read or judged; empty where it can


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which part of the yard: text sought, how it stands, order, where the page begins and how long it is."""

    sought: str = ""
    stands: Literal["", "stop", "caution", "clear", "spoilt"] = ""
    order: Literal["saved", "title", "code", "stops"] = "saved"
    begin: int = 0
    rows: int = 50


@dataclass(frozen=True, slots=True)
class Heading:
    """What a job is called."""

    title: str
    code: str = ""
    customer: str = ""


@dataclass(frozen=True, slots=True)
class CardedJob:
    """A job in the yard without its design."""

    id: int
    heading: Heading
    version: int
    saved_at: datetime
    card: Card


@dataclass(frozen=True, slots=True)
class Page:
    """A part of the yard, and how many jobs answer to what was sought."""

    total: int
    jobs: tuple[CardedJob, ...]


def _digest(folder: Traversable, into: hashlib._Hash) -> None:
    for entry in sorted(folder.iterdir(), key=lambda item: item.name):
        if entry.is_dir():
            _digest(entry, into)
        elif entry.name.endswith((".py", ".csv", ".json")):
            into.update(entry.name.encode())
            into.update(entry.read_bytes())


@cache
def rules() -> str:
    """A name for the rules and tables of this Olvask: it changes whenever one of them does."""
    found = hashlib.sha256()
    _digest(files("olvask.core"), found)
    return found.hexdigest()[:16]


def card_of(design: Design) -> Card:
    """Judge a design for its row; one that cannot be judged says so, and hides no other.

    Args:
        design: the design.
    """
    vehicle, unit = design.vehicle, design.charger
    named = Card(
        unit=unit.name if unit else "",
        unit_id=unit.id if unit else "",
        battery=design.auxiliary.name,
        alternator=vehicle.alternator.name,
    )
    try:
        found = assess(design, remedies=False)
    except Exception:  # whatever it is, the other rows must come
        logging.getLogger("olvask").exception("a job cannot be judged")
        why = "It cannot be judged: Olvask made a mistake. Its entries are kept; open it to see them."
        return replace(named, spoilt=why)
    stage, action = _next_action(found)
    source = "DC converter" if vehicle.drive == "converter" else "alternator"
    return replace(
        named,
        vehicle=f"{vehicle.system_v} V · {source} {vehicle.alternator.rated_a:g} A",
        stops=len(found.stops),
        cautions=sum(item.level == "caution" for item in found.findings),
        next_stage=stage,
        next_action=action,
    )


def _next_action(found: Assessment) -> tuple[Stage, str]:
    for level in ("stop", "caution"):
        for item in found.findings:
            if item.level == level:
                return item.stage, item.title
    for stage in STAGES:
        if found.stages[stage].missing:
            return stage, f"Still open: {found.stages[stage].missing[0]}"
    return "handover", "Print the hand-over sheet"
