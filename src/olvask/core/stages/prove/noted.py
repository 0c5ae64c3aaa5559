"""What was noted while proving: readings, cures, and which readings count.

- `readings_noted`: every reading with its test.
- `cures_noted`, `cured_at`: what was cured, and when last.
- `visits_noted`: when the vehicle came back.
- `counts_since`, `bygone_of`: from when on readings count, and why one no longer does.
- `readings_of`: the readings that do.
- `proof_of`: the tests judged by those.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from olvask.core.circuit.context import Context
from olvask.core.stages.build.progress import Entry, StepState
from olvask.core.stages.prove.meter import METER, Accuracy
from olvask.core.stages.prove.plausible import confirmed
from olvask.core.stages.prove.report import Proof, prove

PROVE, CURE, VISIT = "Prove", "cure", "visit"


def cures_noted(state: StepState) -> list[Entry]:
    """The cures among what was noted at one step, oldest first."""
    if state.procedure != PROVE or state.step != CURE:
        return []
    return [entry for entry in state.entries if entry.kind == "note"]


def cured_at(states: Sequence[StepState]) -> str:
    """When the last cure was noted, ISO 8601; empty for none."""
    return max((entry.at for state in states for entry in cures_noted(state)), default="")


def visits_noted(states: Sequence[StepState]) -> list[Entry]:
    """Visits begun and not taken back, oldest first."""
    begun: list[Entry] = []
    for state in states:
        for entry in state.entries if (state.procedure, state.step) == (PROVE, VISIT) else ():
            if entry.kind == "done":
                begun.append(entry)
            elif entry.kind == "open" and begun:
                begun.pop()
    return begun


def counts_since(states: Sequence[StepState]) -> str:
    """From when on readings count, ISO 8601; empty for always.

    What was read before a fault was mended, or before the vehicle came back, is of a vehicle that was another.
    """
    return max((cured_at(states), *(entry.at for entry in visits_noted(states))))


def bygone_of(states: Sequence[StepState]) -> Callable[[Entry], str]:
    """Says of a reading why it no longer counts; empty where it does.

    Args:
        states: what was noted.
    """
    cured, since = cured_at(states), counts_since(states)
    return lambda entry: "before the cure" if entry.at <= cured else "an earlier visit" if entry.at <= since else ""


def readings_noted(states: Sequence[StepState]) -> list[tuple[str, Entry]]:
    """Every reading with its test, oldest first."""
    found = [
        (state.step, entry)
        for state in states
        if state.procedure == PROVE
        for entry in state.entries
        if entry.kind == "reading" and entry.value is not None
    ]
    return sorted(found, key=lambda item: item[1].at)


def readings_of(states: Sequence[StepState]) -> list[tuple[str, float]]:
    """Readings that count, oldest first: those since the last cure, and of this visit.

    Args:
        states: what was noted.
    """
    since = counts_since(states)
    found = readings_noted(states)
    return [(step, entry.value) for step, entry in found if entry.at > since and entry.value is not None]


def proof_of(ctx: Context, states: Sequence[StepState], meters: Mapping[str, Accuracy] = METER) -> Proof:
    """The tests of a design, judged by the readings that count.

    Args:
        ctx: the design solved.
        states: what was noted.
        meters: accuracy by unit.
    """
    read = readings_of(states)
    return prove(ctx, dict(read), confirmed(read), meters)
