"""Drills: short questions of design on a made-up vehicle, judged by what judges designs.

- `KINDS`: their kinds.
- `drill_of`, `made_of`: one, by kind and number.
- `judged`: an answer, worked through with this case's numbers.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from olvask.core.practice.chance import Chance
from olvask.core.practice.drills.by_assess import fuse_drill, isolation_drill, keeps_up_drill, size_drill
from olvask.core.practice.drills.by_log import log_drill
from olvask.core.practice.drills.by_order import order_drill
from olvask.core.practice.drills.by_thresholds import thresholds_drill
from olvask.core.practice.drills.drill import (
    KINDS,
    Answer,
    BadAnswer,
    Drill,
    DrillKind,
    Field,
    Item,
    Judged,
    Made,
    Series,
)

__all__ = [
    "KINDS",
    "Answer",
    "BadAnswer",
    "Drill",
    "DrillKind",
    "Field",
    "Item",
    "Judged",
    "Series",
    "drill_of",
    "judged",
    "made_of",
]
MAKERS: dict[DrillKind, Callable[[Chance], Made | None]] = {
    "thresholds": thresholds_drill,
    "size": size_drill,
    "isolation": isolation_drill,
    "fuse": fuse_drill,
    "keeps_up": keeps_up_drill,
    "order": order_drill,
    "log": log_drill,
}
DRAWS = 60


@lru_cache(maxsize=512)
def made_of(kind: DrillKind, number: int) -> Made:
    """A drill with what judges it.

    Args:
        kind: which question.
        number: which vehicle, from 1.

    Raises:
        LookupError: none was met that asks anything, which does not happen.
    """
    for draw in range(DRAWS):
        made = MAKERS[kind](Chance("drill", kind, number, draw))
        if made is not None:
            return made
    raise LookupError(f"drill {kind} {number} cannot be made")


def drill_of(kind: DrillKind, number: int) -> Drill:
    """A drill.

    Args:
        kind: which question.
        number: which vehicle, from 1.

    Raises:
        LookupError: none was met that asks anything, which does not happen.
    """
    made = made_of(kind, number)
    return Drill(
        kind=kind,
        number=number,
        vehicle=made.vehicle,
        question=made.question,
        facts=made.facts,
        fields=made.fields,
        items=made.items,
        ordered=made.ordered,
        series=made.series,
    )


def judged(kind: DrillKind, number: int, answer: Answer) -> Judged:
    """An answer, judged by `assess` and the simulator.

    Args:
        kind: which question.
        number: which vehicle.
        answer: what was answered.

    Raises:
        BadAnswer: it is none to this question.
    """
    made = made_of(kind, number)
    if made.fields and len(answer.numbers) != len(made.fields):
        raise BadAnswer(f"Give {' and '.join(field.label for field in made.fields)}.")
    if made.items and not made.ordered and answer.chosen not in {item.key for item in made.items}:
        raise BadAnswer("Choose one of the answers.")
    if made.ordered and sorted(answer.order) != sorted(item.key for item in made.items):
        raise BadAnswer("Put every step in its place, each once.")
    return made.judge(answer)
