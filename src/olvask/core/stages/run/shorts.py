"""What a short circuit draws: at a device, and at the far end of what it protects.

- `prospective_a`: the most, which the device has to break.
- `far_end_short_a`: the least, which has to open it; `far_end_v` behind it.
- `battery_side`: the battery that feeds it; `at_work`: the run it flows through.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.model import Design, RunName
from olvask.core.physics.battery import internal_ohm, open_circuit_v, prospective_short_a

HALF = 0.5  # state of charge at which a short is expected to draw least, our own estimate


def battery_side(design: Design, run: RunName) -> tuple[str, float, int]:
    """Chemistry, capacity [Ah] and nominal voltage [V] of the battery a run is protected from."""
    if run == "supply":
        start = design.vehicle.start_battery
        return start.chemistry, start.capacity_ah, design.vehicle.system_v
    auxiliary = design.auxiliary
    return auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v


def prospective_a(design: Design, run: RunName, index: int) -> float:
    """Prospective short-circuit current [A] at the device at `index`, cold path from the post."""
    described = design.run(run)
    before = described.pieces[:index] if run == "supply" else described.pieces[index + 1 :]
    path_ohm = 0.0
    if before:
        cold = run_state(described.model_copy(update={"pieces": before}), 0.0, design.choices.lug_mohm)
        path_ohm = cold.out_ohm
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    return prospective_short_a(chemistry, capacity_ah, nominal_v, path_ohm)


def far_end_v(chemistry: str, nominal_v: int) -> float:
    """Volts that drive a short at the far end [V]: the battery half charged."""
    return open_circuit_v(chemistry, HALF, nominal_v)


def far_end_short_a(chemistry: str, capacity_ah: float, nominal_v: int, path_ohm: float) -> float:
    """Least current of a short circuit behind `path_ohm` [A]: battery half charged, aged to twice its resistance."""
    inner_ohm = 2 * internal_ohm(chemistry, capacity_ah, nominal_v)
    return far_end_v(chemistry, nominal_v) / (inner_ohm + path_ohm)


def at_work(ctx: Context, run: RunName) -> RunState:
    """A run as warm as it gets: the supply run in the condition with the lowest terminals."""
    return ctx.state(run) if run == "delivery" else ctx.solved.worst.run
