"""Current and heat of each cable.

- `judge_ampacity`: cables that carry too much by the chosen tables, or run too hot by heat balance.
- `piece_facts`: what the current does to every piece.
- `cable_fault`: what is wrong with one cable.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.ampacity import ampacity, cable_ambient_c
from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import RunState, run_state, through_a
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, stop
from olvask.core.findings.listed import apart
from olvask.core.model import RUNS, Cable, Design, RunName
from olvask.core.stages.run.growth import grow

OTHER_SCHOOL = {"enclosed": "free_air", "free_air": "enclosed"}


@dataclass(frozen=True, slots=True, kw_only=True)
class PieceFacts:
    """What the current does to one piece, at its worst running condition."""

    place: str
    drop_v: float
    resistance_mohm: Annotated[float, Field(description="out and back")]
    temperature_c: float | None = None
    ambient_c: float | None = None
    ampacity_a: float | None = None
    table_source: str = ""
    other_ampacity_a: Annotated[float | None, Field(description="by the school not chosen")] = None
    other_source: str = ""
    continuous_a: float | None = None


def held_state(ctx: Context, run: RunName) -> tuple[RunState, RunState]:
    """A run at its worst running condition, and at its continuous current."""

    def made() -> tuple[RunState, RunState]:
        amps = ctx.continuous_a(run)
        state = ctx.state(run) if run == "delivery" else ctx.solved.worst.run
        if run == "supply" and amps > 0:
            return state, run_state(ctx.design.supply, amps, ctx.design.choices.lug_mohm)
        return state, state

    return ctx.once(f"run.held.{run}", made)


def cable_fault(
    amps: float, limit_a: float, celsius: float, insulation_c: float
) -> Literal["ampacity", "temperature"] | None:
    """What is wrong with a cable under its continuous current, if anything.

    Args:
        amps: continuous current [A].
        limit_a: ampacity by the chosen tables [A].
        celsius: conductor temperature by heat balance [°C].
        insulation_c: what the insulation stands [°C].
    """
    if amps > limit_a:
        return "ampacity"
    return "temperature" if celsius > insulation_c else None


def judge_ampacity(ctx: Context) -> Judged:
    """Each cable against its ampacity and its insulation."""
    for run in RUNS:
        own_a = ctx.continuous_a(run)
        if own_a <= 0:
            continue
        described = ctx.design.run(run)
        _, hot = held_state(ctx, run)
        for index, (piece, held) in enumerate(zip(described.pieces, hot.pieces, strict=True)):
            if isinstance(piece, Cable):
                amps = through_a(described, run == "supply", index, own_a)
                yield from _judge_cable(ctx.design, run, index, piece, amps, held.temperature_c or 0.0)


def _judge_cable(
    design: Design, run: RunName, index: int, piece: Cable, amps: float, celsius: float
) -> Iterator[Found]:
    school = design.choices.ampacity_school
    limit_a, _ = ampacity(piece, school)
    fault = cable_fault(amps, limit_a, celsius, piece.insulation_c)

    def carries(candidate: Design) -> bool:
        grown = candidate.run(run).pieces[index]
        return isinstance(grown, Cable) and ampacity(grown, school)[0] >= 1.25 * amps

    def remedies() -> list[Remedy | None]:
        return [grow(design, run, index, carries, "to carry it")]

    if fault == "ampacity":
        flows, carried = apart(amps, limit_a, 1)
        yield stop(
            f"run.ampacity.{piece.id}",
            piece.id,
            f"{piece.size} cannot carry the current",
            f"{flows} A continuous against {carried} A ({school.replace('_', '-')} tables, "
            f"{piece.insulation_c} °C insulation, {cable_ambient_c(piece):.0f} °C around it).",
            remedies,
            concerns=(piece.id,),
        )
    elif fault == "temperature":
        yield stop(
            f"run.temperature.{piece.id}",
            piece.id,
            f"{piece.size} runs too hot",
            f"About {celsius:.0f} °C by heat balance at {amps:.1f} A; the insulation stands {piece.insulation_c} °C.",
            remedies,
            concerns=(piece.id,),
        )


def piece_facts(ctx: Context) -> tuple[PieceFacts, ...]:
    """What the current does to every piece of both runs."""
    return tuple(fact for run in RUNS for fact in _facts_of(ctx, run))


def _facts_of(ctx: Context, run: RunName) -> Iterator[PieceFacts]:
    described, school = ctx.design.run(run), ctx.design.choices.ampacity_school
    amps = ctx.continuous_a(run)
    state, hot = held_state(ctx, run)
    for index, (piece, now, held) in enumerate(zip(described.pieces, state.pieces, hot.pieces, strict=True)):
        ohm = now.out_ohm + now.back_ohm
        drop_v = (state.current_a + now.extra_a) * ohm
        if not isinstance(piece, Cable):
            yield PieceFacts(place=piece.id, drop_v=drop_v, resistance_mohm=ohm * 1000)
            continue
        limit_a, source = ampacity(piece, school)
        other_a, other_source = ampacity(piece, OTHER_SCHOOL[school])
        yield PieceFacts(
            place=piece.id,
            drop_v=drop_v,
            resistance_mohm=ohm * 1000,
            temperature_c=held.temperature_c,
            ambient_c=cable_ambient_c(piece),
            ampacity_a=limit_a,
            table_source=source,
            other_ampacity_a=other_a,
            other_source=other_source,
            continuous_a=through_a(described, run == "supply", index, amps),
        )
