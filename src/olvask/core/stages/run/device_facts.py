"""Every protective device against the rules for it, as the table shows it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.catalogue import device
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding, Level, about, worst_level
from olvask.core.model import RUNS, Branch, Cable, ProtectiveDevice, RunName
from olvask.core.stages.run.branches import backed_up, tail_fault_a
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR, SYSTEM_MAX_V
from olvask.core.stages.run.protection import bare_m, held_of
from olvask.core.stages.run.shorts import battery_side, prospective_a


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceFacts:
    """One protective device against everything it is held to."""

    place: str
    run: RunName
    label: str
    rating_a: float
    least_a: Annotated[float, Field(description="1.25 times the continuous current")]
    ceiling_a: Annotated[float | None, Field(description="smallest ampacity behind it; none where no cable is")]
    system_v: float
    voltage_v: float
    prospective_a: float
    interrupt_a: float
    backed: Annotated[bool, Field(description="whether the device above a tail breaks the short circuit for it")]
    fault_multiple: Annotated[float, Field(description="far-end short over the rating")]
    holder_m: Annotated[float | None, Field(description="bare cable between post and holder; none where not at a post")]
    verdict: Level | Literal["good"]


def device_facts(ctx: Context, findings: Sequence[Finding]) -> tuple[DeviceFacts, ...]:
    """Every device against everything it is held to, its verdict from the findings that concern it.

    Args:
        ctx: the design solved.
        findings: what was found.
    """
    rows: list[DeviceFacts] = []
    for run in RUNS:
        pieces = ctx.design.run(run).pieces
        if not any(isinstance(piece, Cable) for piece in pieces):
            continue
        for index, piece in enumerate(pieces):
            verdict = worst_level(item for item in about(findings, piece.id) if item.id.startswith("protect."))
            if isinstance(piece, ProtectiveDevice):
                rows.append(_row(ctx, run, index, piece, verdict or "good"))
            elif isinstance(piece, Branch) and piece.device is not None:
                rows.append(_tail_row(ctx, run, index, piece, piece.device, verdict or "good"))
    return tuple(rows)


def _row(
    ctx: Context, run: RunName, index: int, piece: ProtectiveDevice, verdict: Level | Literal["good"]
) -> DeviceFacts:
    held = held_of(ctx, run, index, piece)
    return DeviceFacts(
        place=piece.id,
        run=run,
        label=held.item.label,
        rating_a=held.item.rating_a,
        least_a=held.least_a,
        ceiling_a=held.ceiling_a,
        system_v=SYSTEM_MAX_V[held.nominal_v],
        voltage_v=held.item.voltage_v,
        prospective_a=held.short_a,
        interrupt_a=held.item.interrupt_a(held.nominal_v),
        backed=False,
        fault_multiple=held.multiple,
        holder_m=bare_m(ctx.design, run, index),
        verdict=verdict,
    )


def _tail_row(
    ctx: Context, run: RunName, index: int, piece: Branch, fitted: ProtectiveDevice, verdict: Level | Literal["good"]
) -> DeviceFacts:
    item, nominal_v = device(fitted.family, fitted.rating_a), battery_side(ctx.design, run)[2]
    return DeviceFacts(
        place=piece.id,
        run=run,
        label=f"{piece.called}: {item.label}",
        rating_a=item.rating_a,
        least_a=CONTINUOUS_FACTOR * piece.current_a,
        ceiling_a=ampacity(piece.cable(), ctx.design.choices.ampacity_school)[0],
        system_v=SYSTEM_MAX_V[nominal_v],
        voltage_v=item.voltage_v,
        prospective_a=prospective_a(ctx.design, run, index),
        interrupt_a=item.interrupt_a(nominal_v),
        backed=backed_up(ctx.design, run, index),
        fault_multiple=tail_fault_a(ctx, run, index, piece) / item.rating_a,
        holder_m=None,
        verdict=verdict,
    )
