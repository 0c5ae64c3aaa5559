"""One measurement of the finished work.

- `ProveTest`: where, in what state, what it proves.
- `GROUPS`: when it is done, in working order.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.stages.prove.plant import Quantity

Group = Literal["dead", "engine_off", "running", "after", "finding"]
YES_NO = ("yes", "no")


@dataclass(frozen=True, slots=True, kw_only=True)
class ProveTest:
    """One measurement.

    Attributes:
        key: its identity; readings refer to it.
        group: when it is done; the last only where causes are to be told apart.
        text: what to measure, or the question to answer.
        red: where the red probe or the clamp goes.
        black: where the black probe goes; empty for a clamp, a stop-watch or a look.
        state: what to bring about first.
        proves: what a right reading shows.
        needs: what is needed.
        unit: of the reading; empty for a look.
        minutes: how long it takes; our own estimate.
        quantity: what of the vehicle it reads; `None` where its band is fixed.
        apart: what it may have moved by since the others were read, in its unit.
        least, most: the fixed band.
        conductors: names of those it looks at, as on the diagram.
        red_at, black_at: the places of the level line; `.out` says the unit's output, a minus behind the return there.
        answers: the answers of a look, the right one first; a reading is the number of the answer, from 0.
        fewest: whether it belongs to the fewest that a job is signed off by.
        needs_unit: whether a unit has to be there, between runs that are laid.
        cannot: why it cannot be done here; empty where it can.
    """

    key: str
    group: Group
    text: str
    red: str = ""
    black: str = ""
    state: str
    proves: str
    needs: str = "meter"
    unit: str = ""
    minutes: float
    quantity: Quantity | None = None
    apart: float = 0.0
    least: float | None = None
    most: float | None = None
    conductors: tuple[str, ...] = ()
    red_at: str = ""
    black_at: str = ""
    answers: Annotated[tuple[str, ...], Field(max_length=4)] = ()
    fewest: bool = False
    needs_unit: bool = False
    cannot: str = ""


def look(
    key: str,
    group: Group,
    text: str,
    state: str,
    proves: str,
    minutes: float,
    *,
    needs: str = "eyes",
    red_at: str = "",
    black_at: str = "",
    fewest: bool = False,
    needs_unit: bool = False,
    answers: tuple[str, ...] = YES_NO,
) -> ProveTest:
    """A test that is answered by looking.

    Its arguments are the attributes of the test.
    """
    return ProveTest(
        key=key,
        group=group,
        text=text,
        state=state,
        proves=proves,
        minutes=minutes,
        needs=needs,
        red_at=red_at,
        black_at=black_at,
        fewest=fewest,
        needs_unit=needs_unit,
        answers=answers,
    )
