"""A moment of a trip as a level line: its amperes through the runs as warm as they then are.

- `moment_line`: the line.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from olvask.core.circuit.level_line import ConditionLine, LinePiece, station, walk
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.record import Sample

Key = Literal["parked", "idle", "cruise", "low"]
KEY: dict[str, Key] = {"idle": "idle", "cruise": "cruise", "low": "low"}


def _as_warm(run: RunState, drop_v: float) -> RunState:
    """A run whose conductors are as warm as a drop from end to end says [V]; all by the same share."""
    share = drop_v / run.drop_v if run.drop_v > 1e-9 else 0.0
    pieces = [
        replace(piece, out_ohm=piece.out_ohm * share, back_ohm=piece.back_ohm * share) if share else piece
        for piece in run.pieces
    ]
    return RunState.of(pieces, run.current_a)


def _at_its_limit(design: Design, sample: Sample, supply: RunState) -> bool:
    """Whether the alternator gives all it can, and the start battery the rest."""
    if sample.engine not in KEY:
        return False
    sources = {state.key: state.source for state in solve(design).running}
    able_a = sources[sample.engine if sample.engine in sources else "cruise"].available_a
    return able_a is not None and sample.input_a + supply.first_extra_a > able_a + 1e-9


def moment_line(design: Design, sample: Sample) -> ConditionLine:
    """The level line at one sample of a trip.

    Args:
        design: the design that was driven.
        sample: the moment.
    """
    lug = design.choices.lug_mohm
    charging = sample.state == "charging" and sample.output_a > 0
    start_v = sample.post_v if charging else sample.input_v
    supply = run_state(design.supply, sample.input_a if charging else 0.0, lug)
    supply = _as_warm(supply, sample.post_v - sample.input_v) if charging else supply.without_branches()
    output_a = sample.output_a if charging else 0.0
    delivery = run_state(design.delivery, output_a, lug, supply=False)
    if not charging:
        delivery = delivery.without_branches()
    return_v = delivery.return_v
    terminal_v = sample.auxiliary_v + delivery.drop_v
    line: tuple[LinePiece, ...] = walk(design.delivery, delivery, terminal_v - return_v, return_v * 1000, -1)
    return ConditionLine(
        key=KEY.get(sample.engine, "parked"),
        label=sample.state,
        charging=charging,
        collapsed=False,
        below_minimum=False,
        alternator_limited=charging and _at_its_limit(design, sample, supply),
        supply=(
            station("alternator", start_v),
            station("start_battery", start_v),
            *walk(design.supply, supply, start_v, 0.0, +1),
        ),
        delivery=line,
        source_v=start_v,
        input_v=sample.input_v,
        input_a=sample.input_a if charging else None,
        output_v=terminal_v if charging else None,
        output_a=output_a if charging else None,
        auxiliary_v=sample.auxiliary_v,
    )
