"""What a drill is made of.

- `Drill`, `Answer`, `Judged`: asked, answered, judged.
- `Made`: a drill with what judges it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import Field as Entry

from olvask.core.findings.finding import Finding
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.model.base import word_of
from olvask.core.model.chemistry import CHEMISTRIES

DrillKind = Literal["thresholds", "size", "isolation", "fuse", "keeps_up", "order", "log"]
KINDS: Mapping[DrillKind, str] = {
    "thresholds": "place the start and stop volts",
    "size": "size this run",
    "isolation": "isolated, or not",
    "fuse": "what does this fuse forget",
    "keeps_up": "will it keep up",
    "order": "order these steps",
    "log": "read this log",
}


class BadAnswer(ValueError):
    """It is no answer to this question; the message says what is."""


class NoSuchDrill(LookupError):
    """There is no drill of that kind or number."""


class Field(Said):
    """A number to give."""

    label: str
    unit: str


class Item(Said):
    """An answer to choose, or a step to put in its place."""

    key: str
    text: str


class Series(Said):
    """What a log shows: minutes, volts at the unit, amperes into it, and whether the engine runs."""

    minutes: tuple[float, ...]
    volts: tuple[float, ...]
    amps: tuple[float, ...]
    running: tuple[bool, ...]


class Drill(Said):
    """A question on a made-up vehicle."""

    kind: DrillKind
    number: int
    vehicle: str
    question: str
    facts: tuple[str, ...]
    fields: tuple[Field, ...]
    items: tuple[Item, ...]
    ordered: bool
    series: Series | None


class Answer(Said):
    """Numbers, one of the items, or the items in order."""

    numbers: tuple[float, ...] = Entry((), max_length=4)
    chosen: str = Entry("", max_length=80)
    order: tuple[str, ...] = Entry((), max_length=12)


class Judged(Said):
    """Whether it is right, and the working with this vehicle's numbers."""

    right: bool
    text: str
    working: tuple[str, ...]
    better: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """A drill with what judges it, and the design it asks about."""

    vehicle: str
    design: Design
    question: str
    facts: tuple[str, ...]
    judge: Callable[[Answer], Judged]
    fields: tuple[Field, ...] = ()
    items: tuple[Item, ...] = ()
    ordered: bool = False
    series: Series | None = None


def changed(design: Design, values: Mapping[str, Any]) -> Design:
    """A design with some places set.

    Args:
        design: the design.
        values: dotted paths to values.
    """
    document = design.model_dump(mode="json")
    for path, value in values.items():
        *way, last = path.split(".")
        place: Any = document
        for key in way:
            place = place[int(key)] if isinstance(place, list) else place[key]
        place[int(last) if isinstance(place, list) else last] = value
    return Design.model_validate(document)


def said(findings: list[Finding]) -> tuple[str, ...]:
    """Findings as working: what, and where and why in numbers.

    Args:
        findings: of this design.
    """
    return tuple(f"{item.title}: {item.text}" for item in findings)


def facts_of(design: Design) -> tuple[str, ...]:
    """What an installer would have written down of a vehicle.

    Args:
        design: the design.
    """
    vehicle, unit, auxiliary = design.vehicle, design.charger, design.auxiliary
    read = vehicle.readings
    kind = "isolated" if unit is not None and unit.isolated else "non-isolated"
    gives = f"{unit.output_a:g} A, {kind}" if unit is not None else ""
    return (
        f"{vehicle.system_v} V vehicle, alternator {vehicle.alternator.rated_a:g} A, {word_of(vehicle.alternator, 'regulation')}",
        f"Start battery: {read.rest_v} V rested, {read.after_stop_v} V just after stopping, {read.idle_v} V at hot idle",
        f"Unit: {gives}",
        f"Auxiliary battery: {auxiliary.nominal_v} V {auxiliary.capacity_ah:g} Ah {CHEMISTRIES[auxiliary.chemistry]}, charged at {auxiliary.absorption_v:g} V",
    )
