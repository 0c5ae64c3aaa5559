"""The one door: a design goes in, its assessment comes out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.level_line import ConditionLine, line_of
from olvask.core.circuit.solve import ConditionState
from olvask.core.findings.collector import Collector, collect
from olvask.core.findings.driven import reword_of, spoken
from olvask.core.findings.figure import Figure, Input, Reckoned, Words, computed
from olvask.core.findings.finding import LEVEL_ORDER, STAGES, Finding, Stage
from olvask.core.findings.said import Said
from olvask.core.model import RUNS, Design
from olvask.core.physics.alternator import behind
from olvask.core.stages.match.direct_link import LinkContrast, contrast_link
from olvask.core.stages.match.energy import daily_floor_a
from olvask.core.stages.match.limits import Ruler, ruler_of
from olvask.core.stages.proven import proven
from olvask.core.stages.registry import REGISTRY
from olvask.core.stages.run.ampacity import PieceFacts, piece_facts
from olvask.core.stages.run.device_facts import DeviceFacts, device_facts
from olvask.core.stages.survey.readings import assumed
from olvask.core.stages.wake.thresholds import WakeBands, ladder_bands


@dataclass(frozen=True, slots=True, kw_only=True)
class StageState:
    """What a stage still misses, and how many findings of each level it holds."""

    missing: tuple[str, ...]
    stops: int
    cautions: int


class Assessment(Said):
    """Everything that follows from a design."""

    figures: dict[str, Figure]
    facts: dict[str, Input] = Field(description="survey values in force by path, defaults filled in")
    findings: tuple[Finding, ...]
    conditions: tuple[ConditionLine, ...]
    worst: Literal["parked", "idle", "cruise", "low"] = Field(description="running condition with the lowest terminals")
    pieces: tuple[PieceFacts, ...]
    devices: tuple[DeviceFacts, ...]
    wake: WakeBands
    ruler: Ruler
    link: LinkContrast | None = Field(description="none where no link could join the batteries")
    stages: dict[Stage, StageState]

    @property
    def stops(self) -> tuple[Finding, ...]:
        """Findings that forbid building the design as it stands."""
        return tuple(finding for finding in self.findings if finding.level == "stop")


def assess(design: Design, remedies: bool = True, words: bool = True) -> Assessment:
    """Assess a design: figures with working, findings with remedies, level lines, bands and limits.

    Args:
        design: the whole design; nothing else influences the result.
        remedies: whether remedies are searched for and tried, which takes many times as long as all the rest.
        words: whether figures are put into words.

    Pure: the same design always gives the same assessment.
    """
    ctx = Context.of(design)
    solved = ctx.solved
    collector = collect(ctx, REGISTRY, remedies, words, reword_of(design))
    _condition_figures(ctx, collector)
    findings = tuple(sorted(collector.findings, key=lambda item: LEVEL_ORDER[item.level]))
    if remedies:
        findings = proven(design, findings)
    return Assessment(
        figures=collector.figures,
        facts=solved.facts.by_path(),
        findings=findings,
        conditions=tuple(line_of(design, solved, state) for state in (solved.parked, *solved.running)),
        worst=solved.worst.key,
        pieces=piece_facts(ctx),
        devices=device_facts(ctx, findings),
        wake=spoken(design, ladder_bands(ctx, findings)),
        ruler=ruler_of(ctx, daily_floor_a(design, solved)),
        link=contrast_link(ctx),
        stages=_stages(ctx, findings),
    )


def _condition_figures(ctx: Context, collector: Collector) -> None:
    """Volts and amperes at the unit's input in each running condition."""
    if ctx.solved.output is not None:
        collector.take("run", _input_figures(ctx))


def _input_figures(ctx: Context) -> Iterator[Reckoned]:
    power_w = ctx.solved.output.power_in_w if ctx.solved.output is not None else 0.0
    for state in ctx.solved.running:
        yield from _input_of(ctx, state, power_w)


def _input_of(ctx: Context, state: ConditionState, power_w: float) -> Iterator[Reckoned]:
    drawn = state.drawn
    yield Reckoned(
        f"{state.key}.input_v",
        f"Charger terminals, {state.label.lower()}",
        None if drawn is None else drawn.terminal_v,
        "V",
        words=lambda: Words(
            formula="(V_s + √(V_s² − 4·R·P_in)) / 2",
            working=_root(state, power_w),
            inputs=(computed("input.power_w"), ctx.facts.sag),
            source="constant-power load on a resistive path",
            changes="more copper, less current",
        ),
    )
    yield Reckoned(
        f"{state.key}.input_a",
        f"Input current, {state.label.lower()}",
        None if drawn is None else drawn.current_a,
        "A",
        words=lambda: Words(
            formula="P_in / V_in",
            working="none"
            if drawn is None
            else f"{power_w:.0f} W / {drawn.terminal_v:.2f} V = {drawn.current_a:.1f} A",
            inputs=(computed(f"{state.key}.input_v"), computed("input.power_w")),
            source="definition of power",
        ),
    )


def _root(state: ConditionState, power_w: float) -> str:
    """What the volts at the unit are the root of, in this job's numbers."""
    limited = state.drawn is not None and state.drawn.alternator_limited
    open_v, ohm = behind(state.source, limited, state.run.first_extra_a, state.run.branch_v)
    through = "with the battery, which gives what the alternator has not" if limited else "with the source"
    worked = f"V_s {open_v:.2f} V, R {(ohm + state.run.loop_ohm) * 1000:.2f} mΩ {through}, P {power_w:.0f} W"
    return worked if state.drawn is not None else f"{worked} → no root"


def _without_unit(design: Design) -> tuple[str, ...]:
    return () if design.charger is not None else ("no unit chosen",)


def _stages(ctx: Context, findings: tuple[Finding, ...]) -> dict[Stage, StageState]:
    design = ctx.design
    missing: dict[Stage, tuple[str, ...]] = {
        "survey": assumed(design, ctx.solved),
        "match": _without_unit(design),
        "run": tuple(f"no cable in the {run} run" for run in RUNS if not design.laid(run)),
        "wake": ("no way to start chosen",) if not design.activation.ways else _without_unit(design),
    }
    counted = Counter((item.stage, item.level) for item in findings)
    return {
        stage: StageState(
            missing=missing.get(stage, ()), stops=counted[stage, "stop"], cautions=counted[stage, "caution"]
        )
        for stage in STAGES
    }
