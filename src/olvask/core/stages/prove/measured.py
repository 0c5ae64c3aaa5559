"""The measured line: the level line as the readings have it, to be laid over the designed one.

- `measured_line`: that line.
"""

from __future__ import annotations

from dataclasses import replace

from olvask.core.circuit.context import Context
from olvask.core.circuit.level_line import ConditionLine, station, walk
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.stages.prove.beliefs import Beliefs
from olvask.core.stages.prove.plant import READ
from olvask.core.stages.prove.unknowns import AT


def measured_line(ctx: Context, likely: Beliefs) -> ConditionLine:
    """The level line of the vehicle as it is likely to be.

    Args:
        ctx: the design solved.
        likely: what the readings say of it, legs free; one row.

    Each piece of a leg has its share of what the leg has too much: a reading from end to end does not say where.
    """
    value = {name: float(likely.means[0, place]) for name, place in AT.items()}
    read = likely.plant.read(likely.means[:1], likely.mode[:1])[0]
    shown = {quantity: float(read[place]) for quantity, place in READ.items()}
    lug = ctx.design.choices.lug_mohm
    supply = _as_found(
        run_state(ctx.design.supply, shown["input_a"], lug),
        value["supply_out"] + value["supply_device"],
        value["supply_back"],
    )
    delivery = _as_found(
        run_state(ctx.design.delivery, shown["output_a"], lug, supply=False),
        value["delivery_out"] + value["delivery_device"],
        value["delivery_back"],
    )
    return_v = shown["delivery_back_mv"] / 1000
    return ConditionLine(
        key="idle",
        label="measured",
        charging=shown["output_a"] > 0,
        collapsed=False,
        below_minimum=False,
        alternator_limited=False,
        supply=(
            station("alternator", shown["idle_posts_v"]),
            station("start_battery", shown["posts_v"]),
            *walk(ctx.design.supply, supply, shown["posts_v"], 0.0, +1),
        ),
        delivery=walk(ctx.design.delivery, delivery, shown["output_v"] - return_v, return_v * 1000, -1),
        source_v=shown["idle_posts_v"],
        input_v=shown["input_v"],
        input_a=shown["input_a"],
        output_v=shown["output_v"],
        output_a=shown["output_a"],
        auxiliary_v=shown["auxiliary_v"],
    )


def _as_found(run: RunState, out_ohm: float, back_ohm: float) -> RunState:
    """A run whose legs have the resistance that was found, each piece its share."""
    out = max(0.0, out_ohm) / run.out_ohm if run.out_ohm > 0 else 0.0
    back = max(0.0, back_ohm) / run.back_ohm if run.back_ohm > 0 else 0.0
    pieces = [
        replace(piece, out_ohm=piece.out_ohm * out, back_ohm=piece.back_ohm * back, extra_a=0.0) for piece in run.pieces
    ]
    return RunState.of(pieces, run.current_a)
