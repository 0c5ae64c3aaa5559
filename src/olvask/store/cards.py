"""What the yard shows of each job: worked out when it is saved and kept, so that a yard of thousands opens at once.

- `Card`, `card_of`, `card_of_document`: the verdicts of one design in a row.
- `Log`: what was noted of its work.
- `differing`: what came and went between two lists of findings.
- `RULES`: which rules a card was worked out by; another Olvask works it out anew.
- `Heading`: what a job is called.
- `sought_by`: what a job is found by.
- `Wanted`, `Page`, `CardedJob`: a part of the yard, searched, sorted and paged.
"""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from textwrap import shorten
from typing import Literal

from pydantic import ValidationError

from olvask.core.analyses.how_far import how_far
from olvask.core.assess import Assessment, assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Stage
from olvask.core.model import Design
from olvask.core.model.entry_errors import EntryError, entry_errors
from olvask.core.stages.build.progress import Entry, progress_of
from olvask.core.stages.prove.meter import METER, Accuracy

MOST_ROWS = 200  # of one page
MOST_LETTERS = 200  # of a next action
UNKNOWN = "?"  # findings of a card made before they were kept
Stands = Literal["", "stop", "caution", "clear", "spoilt", "service", "archived", "template", "changed"]
Order = Literal["saved", "title", "code", "stops", "service"]


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
    line: str = ""  # volts along the line at hot idle: start battery, input, output, auxiliary battery
    findings: str = ""  # stops and cautions, a line each: identity, tab, title
    changed: str = ""  # what other rules find otherwise since it was saved, a line each: + or −, title


@dataclass(frozen=True, slots=True)
class Log:
    """What was noted of a job's work, and the meters it was read by.

    Attributes:
        entries: everything, in the order it came in.
        meters: accuracy by unit.
        key: tells whether it is the same as before; empty where nothing was noted.
    """

    entries: tuple[Entry, ...] = ()
    meters: Mapping[str, Accuracy] = field(default_factory=lambda: METER)
    key: str = ""


NOTHING = Log()


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which part of the yard: text sought, how it stands, order, where the page begins and how long it is."""

    sought: str = ""
    stands: Stands = ""
    order: Order = "saved"
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
    archived: bool = False
    template: bool = False
    service_due: str = ""
    signed: bool = False  # its newest revision is signed off


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


def card_of(design: Design, log: Log = NOTHING) -> Card:
    """Judge a design for its row; one that cannot be judged says so, and hides no other.

    Args:
        design: the design.
        log: what was noted of its work.
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
        far = how_far(Context.of(design), found, progress_of(log.entries), log.meters)
    except Exception:  # whatever it is, the other rows must come
        logging.getLogger("olvask").exception("a job cannot be judged")
        why = "It cannot be judged: Olvask made a mistake. Its entries are kept; open it to see them."
        return replace(named, spoilt=why)
    source = "DC converter" if vehicle.drive == "converter" else "alternator"
    return replace(
        named,
        vehicle=f"{vehicle.system_v} V · {source} {vehicle.alternator.rated_a:g} A",
        stops=len(found.stops),
        cautions=sum(item.level == "caution" for item in found.findings),
        next_stage=far.next_stage,
        next_action=shorten(far.next_action, MOST_LETTERS, placeholder="…"),
        line=_line(found),
        findings="\n".join(f"{item.id}\t{item.title}" for item in found.findings if item.level != "note"),
    )


def card_of_document(document: str, log: Log = NOTHING) -> Card:
    """Judge what is stored; what cannot be read says so.

    Args:
        document: a design as JSON.
        log: what was noted of its work.
    """
    try:
        design = Design.model_validate_json(document)
    except ValidationError as error:
        return unreadable(tuple(entry_errors(error, Design)))
    return card_of(design, log)


def unreadable(why: tuple[EntryError, ...]) -> Card:
    """The row of what is no design.

    Args:
        why: what is wrong with it; at least one.
    """
    more = f", and {len(why) - 1} more" if len(why) > 1 else ""
    return Card(spoilt=f"What is stored cannot be read: {why[0].field} {why[0].message}{more}."[:400])


def differing(before: str, after: str) -> str:
    """What came and went, a line each: + or −, then its title.

    Args:
        before: findings of a card, as it keeps them.
        after: the same of a later one.
    """
    old, new = _by_identity(before), _by_identity(after)
    came = [f"+{title}" for key, title in new.items() if key not in old]
    went = [f"−{title}" for key, title in old.items() if key not in new]
    return "\n".join(came + went)


def _by_identity(findings: str) -> dict[str, str]:
    return {key: title for key, _, title in (line.partition("\t") for line in findings.splitlines())}


def _line(found: Assessment) -> str:
    """Volts along the line at hot idle, as the row draws them; empty where nothing charges."""
    idle = next((item for item in found.conditions if item.key == "idle"), None)
    if idle is None or idle.output_v is None:
        return ""
    return " ".join(f"{volts:.2f}" for volts in (idle.source_v, idle.input_v, idle.output_v, idle.auxiliary_v))


def sought_by(heading: Heading, card: Card) -> str:
    """What a job is found by, in small letters.

    Args:
        heading: what it is called.
        card: its row.
    """
    return " ".join((heading.title, heading.code, heading.customer, card.unit)).casefold()[:400]
