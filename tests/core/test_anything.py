"""Whatever the model accepts is assessed, driven, drawn, billed and advised on; never an exception.

`make check-anything` runs a hundred thousand; CI a sample.
"""

from __future__ import annotations

import itertools
import math
import os
from collections.abc import Callable

import pytest

from olvask.core.analyses.diagnosis import diagnose
from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.size_ladder import size_ladder
from olvask.core.analyses.unknowns import unknowns
from olvask.core.analyses.week import week_of
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Cable, Design
from olvask.core.model.shelf import chargers
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.report import report
from olvask.core.stages.build.cuts import buying
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.method import advise
from olvask.documents.diagram.svg import schematic_svg
from tests.anything import anything

COUNT = int(os.environ.get("OLVASK_ANYTHING", "120"))
RARE = 20  # analyses of many solves each are tried on one design in so many
DAY = read_programme("off 1 min\ncrank 2 s\nidle 2 min\ncruise 3 min\nlow 60 s\noff 5 min\n")


def ladders(job: Design) -> None:
    """The size ladder of the first cable of each run."""
    for run in RUNS:
        found = next((piece.id for piece in job.run(run).pieces if isinstance(piece, Cable)), None)
        if found is not None:
            size_ladder(job, found)


def assessed(job: Design) -> None:
    """Assessed; no figure is infinite or no number, and each finding has a name of its own."""
    found = assess(job)
    for name, figure in found.figures.items():
        assert figure.value is None or math.isfinite(figure.value), name
    names = [item.id for item in found.findings]
    assert len(set(names)) == len(names), sorted(names)


ALWAYS: dict[str, Callable[[Design], object]] = {
    "assessed": assessed,
    "billed": buying,
    "drawn": schematic_svg,
    "driven": lambda job: report(job, DAY),
}
AT_TIMES: dict[str, Callable[[Design], object]] = {
    "week": week_of,
    "ladders": ladders,
    "advice": advise,
    "existing link": plan_existing_link,
    "unknowns": unknowns,
    "causes": lambda job: diagnose(Context.of(job), {}, ("does_nothing", "weak"), ()),
    "ranked": lambda job: rank_units(job, itertools.islice(chargers(), 6)),
}


@pytest.mark.parametrize("part", range(4))
def test_everything_the_model_accepts_is_answered(part: int) -> None:
    """Extremes, blanks and nonsense that is well formed get an answer from every question."""
    fell: list[str] = []
    for seed in range(part, COUNT, 4):
        job = anything(seed)
        asked = ALWAYS | (AT_TIMES if seed // 4 % RARE == 0 else {})
        for name, ask in asked.items():
            try:
                ask(job)
            except Exception as error:  # any at all is what this looks for
                fell.append(f"design {seed}, {name}: {type(error).__name__}: {error}")
    print(f"{len(range(part, COUNT, 4))} designs, {len(fell)} fell over")
    assert not fell, "\n".join(fell[:20])
