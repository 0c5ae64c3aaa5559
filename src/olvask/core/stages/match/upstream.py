"""The vehicle's own fuse above a fused stud: whether it stands what the unit draws.

- `judge_upstream`: its rating against the current, and against the run's first device.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution, stop
from olvask.core.model import ProtectiveDevice
from olvask.core.physics.rounding import under
from olvask.core.stages.match.limits import output_for_input_a, turn_down
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR

PATH = "vehicle.source_point.rating_a"


def judge_upstream(ctx: Context) -> Judged:
    """A fused stud smaller than the unit draws opens; one without a noted rating is to be read."""
    design, output, source = ctx.design, ctx.solved.output, ctx.design.vehicle.source_point
    if source.kind != "fused_stud" or output is None or design.charger is None:
        return
    amps, highest_a = ctx.continuous_a("supply"), ctx.lingering_a("supply")
    branch_a = ctx.solved.running[0].run.first_extra_a
    amps, highest_a = amps + branch_a, max(amps, highest_a) + branch_a
    if source.rating_a is None:
        yield caution(
            "match.stud_unknown",
            "start_battery",
            "The fuse above the stud is not noted",
            f"{amps:.1f} A go through it. Read its rating, and what else hangs on it.",
            concerns=(PATH,),
        )
        return
    allowed_a = output_for_input_a(design, ctx.solved, output, source.rating_a / CONTINUOUS_FACTOR - branch_a)
    less = [turn_down(design.charger, allowed_a, design.units)]
    if under(source.rating_a, highest_a):
        yield stop(
            "match.stud_small",
            "start_battery",
            "The fuse above the stud is too small",
            f"{source.rating_a:g} A in the vehicle, {highest_a:.1f} A drawn through it: it opens. Take the feed from the battery "
            "post, or draw less.",
            less,
            concerns=(PATH, "current_limit_a"),
        )
    elif under(source.rating_a, CONTINUOUS_FACTOR * amps):
        yield caution(
            "match.stud_tight",
            "start_battery",
            "The fuse above the stud runs close to its rating",
            f"{amps:.1f} A through {source.rating_a:g} A; the rule is 80 %, {CONTINUOUS_FACTOR * amps:.1f} A.",
            less,
            concerns=(PATH, "current_limit_a"),
        )
    first = next((piece for piece in design.supply.pieces if isinstance(piece, ProtectiveDevice)), None)
    if first is not None and source.rating_a < first.rating_a:
        yield caution(
            "match.stud_order",
            "start_battery",
            "The vehicle's fuse is smaller than the run's own",
            f"{source.rating_a:g} A above {first.rating_a:g} A: a fault in the run opens the vehicle's fuse, and takes what else "
            "hangs on it.",
            concerns=(PATH, first.id),
        )
