"""Volts along the path the current takes, in one operating condition.

- `ConditionLine`, `LinePiece`: the line.
- `line_of`: draws it from a solved condition.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.runs import RunState
from olvask.core.circuit.solve import ConditionState, Solved
from olvask.core.findings.said import Sealed
from olvask.core.model import Design, Run
from olvask.core.physics.battery import open_circuit_v

RESTING_CHARGE = 0.6  # of the auxiliary battery while nothing charges it; our own estimate


@dataclass(slots=True, kw_only=True)
class LinePiece:
    """Volts where the current enters and leaves one station or piece; the return in millivolts.

    Voltages stand against the negative post of the battery on the same side.
    """

    place: str
    enter_v: float
    exit_v: float
    return_enter_mv: float
    return_exit_mv: float


class SealedPiece(Sealed, LinePiece):
    """A piece of the line as it leaves the core."""

    __slots__ = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class ConditionLine:
    """The level line in one operating condition."""

    key: Literal["parked", "idle", "cruise", "low"]
    label: str
    charging: bool
    collapsed: Annotated[bool, Field(description="the run cannot carry the power: no stable voltage exists")]
    below_minimum: Annotated[bool, Field(description="the terminals lie below the unit's lowest input")]
    alternator_limited: bool
    supply: tuple[LinePiece, ...]
    delivery: tuple[LinePiece, ...]
    source_v: float
    input_v: float | None
    input_a: float | None
    output_v: float | None
    output_a: float | None
    auxiliary_v: float | None


def _piece(place: str, enter_v: float, exit_v: float, return_enter_mv: float, return_exit_mv: float) -> LinePiece:
    piece = LinePiece(
        place=place, enter_v=enter_v, exit_v=exit_v, return_enter_mv=return_enter_mv, return_exit_mv=return_exit_mv
    )
    piece.__class__ = SealedPiece
    return piece


def walk(
    described: Run, run: RunState, start_v: float, return_start_mv: float, back_sign: int
) -> tuple[LinePiece, ...]:
    """Step along a run in the order of the current: positive volts fall, the return moves by `back_sign`.

    Args:
        described: the run.
        run: the same with its current.
        start_v: volts where it begins [V].
        return_start_mv: volts of the return there [mV].
        back_sign: +1 where the return rises along the run, −1 where it falls.
    """
    volts, return_mv = start_v, return_start_mv
    pieces = []
    for piece, state in zip(described.pieces, run.pieces, strict=True):
        through_a = run.current_a + state.extra_a
        leave_v = volts - through_a * state.out_ohm
        leave_mv = return_mv + back_sign * through_a * state.back_ohm * 1000
        pieces.append(_piece(piece.id, volts, leave_v, return_mv, leave_mv))
        volts, return_mv = leave_v, leave_mv
    return tuple(pieces)


def station(place: str, volts: float) -> LinePiece:
    """A station, at which no volts are lost."""
    return _piece(place, volts, volts, 0, 0)


def _delivery(design: Design, solved: Solved, charging: bool) -> tuple[tuple[LinePiece, ...], float]:
    """The delivery side, and the volts of the auxiliary battery."""
    output, described = solved.output, design.delivery
    if output is not None and charging:
        # Against the auxiliary negative the charger's own negative lies below by the return's drop.
        return_v = output.run.return_v
        line = walk(described, output.run, output.terminal_v - return_v, return_v * 1000, -1)
        return line, output.battery_v
    resting_v = open_circuit_v(design.auxiliary.chemistry, RESTING_CHARGE, design.auxiliary.nominal_v)
    if output is None:
        return (), resting_v
    return walk(described, output.run.without_branches().carrying(0.0), resting_v, 0.0, -1), resting_v


def line_of(design: Design, solved: Solved, state: ConditionState) -> ConditionLine:
    """The level line of one condition.

    Args:
        design: the design.
        solved: its circuit.
        state: one of its conditions.
    """
    drawn, output, unit = state.drawn, solved.output, design.charger
    source_v = state.source.regulated_v
    post_v = drawn.post_v if drawn is not None else source_v
    flowing = state.run if drawn is not None else state.run.without_branches().carrying(0.0)
    charging = drawn is not None and output is not None
    delivery, auxiliary_v = _delivery(design, solved, charging)
    return ConditionLine(
        key=state.key,
        label=state.label,
        charging=charging,
        collapsed=state.collapsed,
        below_minimum=drawn is not None and unit is not None and drawn.terminal_v < unit.input_min_v,
        alternator_limited=drawn is not None and drawn.alternator_limited,
        supply=(
            station("alternator", source_v),
            station("start_battery", post_v),
            *walk(design.supply, flowing, post_v, 0.0, +1),
        ),
        delivery=delivery,
        source_v=source_v,
        input_v=None if state.collapsed else drawn.terminal_v if drawn is not None else source_v,
        input_a=None if drawn is None else drawn.current_a,
        output_v=output.terminal_v if output is not None and charging else None,
        output_a=output.current_a if output is not None and charging else None,
        auxiliary_v=auxiliary_v,
    )
