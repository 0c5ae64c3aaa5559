"""The voltage ladder: bands, windows and rules at the unit's input, each mark with the verdict of the findings.

- `ladder_bands`: all of it.
- `beneath`: what start and stop must stand above.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.thresholds import Thresholds, terminal_v
from olvask.core.findings.finding import Finding, about, worst_level
from olvask.core.findings.listed import away, percent
from olvask.core.physics.battery import charge_at_rest
from olvask.core.stages.wake.remedies import BACK_PATH, GUARD_PATH

MarkKind = Literal["start", "stop", "guard", "back"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """A range of volts at the unit's input."""

    low_v: float
    high_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One rule on the ladder: what is set, whether proposed, and how far it stands from its window's edges."""

    kind: MarkKind
    path: Annotated[str, Field(description="where its volts stand in the design")]
    label: str
    value_v: float
    held_s: Annotated[float | None, Field(description="how long it must be held; none for the guard's return")]
    proposed: bool
    acts: Annotated[bool, Field(description="false where the ways to start leave it without effect")]
    verdict: Literal["good", "tight", "wrong"]
    margin_text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WakeBands:
    """The voltage ladder: bands, windows and marks at the unit's input."""

    rest: Band
    unloaded: Band
    loaded: Band | None
    low_phase: Band | None
    start_window: Band | None
    stop_window: Band | None
    marks: tuple[Mark, ...]
    step_v: float
    quick_start_proposal_v: Annotated[
        float | None,
        Field(description="a second start rule worth setting; none where running volts lie close together"),
    ]
    start_rules_most: Annotated[int, Field(description="start rules the unit takes")]
    stop_rules_most: Annotated[int, Field(description="stop rules the unit takes")]
    voltage_used: bool
    adjustable: bool


def beneath(at: Thresholds) -> tuple[float, str]:
    """What start and stop must stand above [V], and its name: parked volts, or the guard where a signal keeps it off parked."""
    return (
        (at.guard_v, "the guard") if at.beside_signal and at.guard_v < at.rest_high_v else (at.rest_high_v, "resting")
    )


def _window(low_v: float, high_v: float | None) -> Band | None:
    return Band(low_v=low_v, high_v=high_v) if high_v is not None and high_v >= low_v else None


def _marks(ctx: Context, findings: Sequence[Finding]) -> Iterator[Mark]:
    at, chosen, start = ctx.thresholds, ctx.design.activation, ctx.design.vehicle.start_battery
    by_volts = "voltage" in chosen.ways

    def above(volts: float) -> str:
        low_v, low = (at.rest_high_v, "resting") if volts > at.rest_high_v else beneath(at)
        return away(volts - low_v, low)

    def mark(
        kind: MarkKind, path: str, label: str, value_v: float, held_s: float | None, typed: float | None, margin: str
    ) -> Mark:
        level = worst_level(about(findings, path))
        return Mark(
            kind=kind,
            path=path,
            label=label,
            value_v=value_v,
            held_s=held_s,
            proposed=typed is None,
            acts=by_volts or kind in ("guard", "back"),
            verdict="wrong" if level == "stop" else "tight" if level == "caution" else "good",
            margin_text=margin,
        )

    for row, (rule, start_rule) in enumerate(zip(at.start_rules, chosen.start_rules, strict=True)):
        under = away(rule.volts - at.unloaded_low_v, "running")
        path, label = f"activation.start_rules.{row}.at_least_v", "Start" if row == 0 else f"Start {row + 1}"
        yield mark(
            "start", path, label, rule.volts, rule.held_s, start_rule.at_least_v, above(rule.volts) if row else under
        )
    for row, (rule, stop_rule) in enumerate(zip(at.stop_rules, chosen.stop_rules, strict=True)):
        path, label = f"activation.stop_rules.{row}.below_v", "Stop" if row == 0 else f"Stop {row + 1}"
        yield mark("stop", path, label, rule.volts, rule.held_s, stop_rule.below_v, above(rule.volts))
    least = f"least {at.back_least_v:.2f} V"
    yield mark("back", BACK_PATH, "Guard back", at.back_v, None, chosen.guard.back_at_v, least)
    keeps = f"keeps {percent(charge_at_rest(start.chemistry, at.guard_v, ctx.design.vehicle.system_v))} to crank"
    yield mark("guard", GUARD_PATH, "Guard off", at.guard_v, chosen.guard.held_s, chosen.guard.off_below_v, keeps)


def ladder_bands(ctx: Context, findings: Sequence[Finding]) -> WakeBands:
    """Bands, windows and marks for the voltage ladder.

    Args:
        ctx: the design solved.
        findings: what was found; a mark is as good as the worst that concerns it.
    """
    facts, at, unit = ctx.facts, ctx.thresholds, ctx.design.charger
    healthy, phase = ctx.solved.healthy, ctx.solved.running_by_key("low")
    loaded = [volts for state in healthy if (volts := terminal_v(state)) is not None]
    low_phase = None
    if phase is not None:
        open_v = phase.source.regulated_v
        low_phase = Band(low_v=open_v if phase.drawn is None else phase.drawn.terminal_v, high_v=open_v)
    return WakeBands(
        rest=Band(low_v=min(float(facts.rest.value), float(facts.after_stop.value)), high_v=at.rest_high_v),
        unloaded=Band(low_v=at.unloaded_low_v, high_v=max(state.source.regulated_v for state in healthy)),
        loaded=Band(low_v=min(loaded), high_v=max(loaded)) if len(loaded) == len(healthy) else None,
        low_phase=low_phase,
        start_window=_window(at.floor_v, at.start_high_v),
        stop_window=_window(at.floor_v, at.stop_high_v),
        marks=tuple(_marks(ctx, findings)),
        step_v=at.step_v,
        quick_start_proposal_v=at.quick_start_proposal_v,
        start_rules_most=unit.start_rules.rows if unit is not None else 3,
        stop_rules_most=unit.stop_rules.rows if unit is not None else 2,
        voltage_used="voltage" in ctx.design.activation.ways,
        adjustable=unit is None or unit.adjustable,
    )
