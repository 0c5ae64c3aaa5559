"""One cause, as it changes the vehicle, and what is seen and heard with it.

- `Fault`, `Change`: a cause and what a size of it changes.
- `Symptom`, `SYMPTOMS`: as a customer tells them.
- `ReasonKind`, `reason_kind`: what an off-reason or a lamp of the unit's record speaks of.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from olvask.core.stages.prove.plant import Mode
from olvask.core.stages.prove.unknowns import Name

Symptom = Literal["does_nothing", "starts_stops", "weak", "flat", "hot", "was_fine", "wrong_numbers"]
SYMPTOMS: dict[Symptom, str] = {
    "does_nothing": "it does nothing",
    "starts_stops": "it starts and stops",
    "weak": "it charges weakly",
    "flat": "flat in the morning",
    "hot": "something gets hot",
    "wrong_numbers": "the monitor's numbers are wrong",
    "was_fine": "it was fine until lately",
}
ReasonKind = Literal["input_low", "enable", "hot", "cold", "battery", "off", "reverse", "none"]
# What the words of a record speak of; the first that is met counts. Our own list of plain English words.
REASON_WORDS: tuple[tuple[ReasonKind, tuple[str, ...]], ...] = (
    ("reverse", ("revers", "polarity")),
    ("cold", ("cold", "low temperature", "freez")),
    ("hot", ("temperature", "hot", "heat", "warm")),
    ("enable", ("remote", "enable", "engine", "signal", "ignition", "d+")),
    ("input_low", ("low input", "input low", "under", "lockout", "input volt", "too low", "start battery")),
    ("battery", ("output", "battery", "open circuit", "no load")),
    ("off", ("switched off", "standby", "asleep", "sleep", "off by", "app")),
)


class Change(NamedTuple):
    """What a size of a fault does to one unknown: a factor on its mean, a sum on top, and how far it may lie from there."""

    name: Name
    times: float
    more: float
    spread: float = 0.0


@dataclass(frozen=True, slots=True)
class Fault:
    """One cause.

    Attributes:
        key: its name.
        words: what it is.
        cure: what is done about it.
        prior: how common it is beside the others; our own estimates.
        sizes: what it changes, from barely to badly.
        mode: what flows with it.
        looks: how often each look gets its first answer, or each of its answers; what is not named is as it should be.
        told: how often each symptom comes with it; what is not named comes seldom.
        reasons: what the unit may report.
        apart: what tells it from causes that read alike.
    """

    key: str
    words: str
    cure: str
    prior: float
    sizes: tuple[tuple[Change, ...], ...] = ((),)
    mode: Mode = "charging"
    looks: Mapping[str, float | tuple[float, ...]] = field(default_factory=dict)
    told: Mapping[Symptom, float] = field(default_factory=dict)
    reasons: tuple[ReasonKind, ...] = ()
    apart: str = ""


def reason_kind(text: str) -> ReasonKind:
    """What an off-reason or lamp speaks of, by its words.

    Args:
        text: as it stands in the unit's record.
    """
    low = text.casefold()
    return next((kind for kind, words in REASON_WORDS if any(word in low for word in words)), "none")
