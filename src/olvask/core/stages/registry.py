"""Every judge of every stage, in the order they are asked. A new stage is a folder and a line here."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Stage
from olvask.core.stages import build, match, run, settings, survey, wake

Judge = Callable[[Context], Judged]
REGISTRY: Mapping[Stage, Sequence[Judge]] = {
    "survey": (*survey.JUDGES, settings.judge_frost),  # how cold it gets is surveyed, what stops is set
    "match": match.JUDGES,
    "run": run.JUDGES,
    "wake": wake.JUDGES,
    "settings": settings.JUDGES,
    "build": build.JUDGES,
}
