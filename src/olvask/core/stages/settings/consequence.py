"""What follows where a unit cannot be set to what is wanted.

- `consequence`: in a sentence; empty where the difference does not matter.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.listed import percent
from olvask.core.model.settings import OFF, WRITTEN, Setting
from olvask.core.physics.battery import charge_at_rest, internal_ohm
from olvask.core.physics.rounding import under
from olvask.core.stages.settings.wishes import MATTERS, VOLTS, Wanted


def consequence(ctx: Context, line: Setting, wanted: Wanted, value: float | str) -> str:
    """What follows from a value instead of the one wanted, both in the design's own unit.

    Args:
        ctx: the design.
        line: the line.
        wanted: what was wanted.
        value: what it comes to.
    """
    if isinstance(value, str) or isinstance(wanted.value, str):
        return _of_choice(ctx, line, wanted, value)
    battery = ctx.design.auxiliary
    scale = battery.nominal_v / 12 if line.means in VOLTS else 1.0
    off = value - wanted.value
    if under(abs(off), MATTERS.get(line.means, 0.05) * scale):
        return ""
    unit = next(iter(WRITTEN.get(line.means, {"": 1.0})))  # the first it is written in is what it is reckoned in
    both = (f"{f'{amount:.2f}'.removesuffix('.00')} {unit}".strip() for amount in (value, wanted.value))
    return f"{line.label}: {' instead of '.join(both)}{_follows(ctx, line, value, off)}."


def _follows(ctx: Context, line: Setting, value: float, off: float) -> str:
    """What the difference does."""
    battery, lithium = ctx.design.auxiliary, ctx.design.auxiliary.chemistry == "lfp"
    if line.means == "absorption_v":
        if off > 0:
            return ", nearer to its cells' cut-off" if lithium else ", it gasses and needs water sooner"
        ends_a = 0.02 * battery.capacity_ah
        rest_v = value - ends_a * internal_ohm(battery.chemistry, battery.capacity_ah, battery.nominal_v)
        share = charge_at_rest(battery.chemistry, rest_v, battery.nominal_v)
        short = f", it ends near {percent(share)} of charge" if share < 0.995 else ", gentler and slower at the end"
        return short if lithium or share < 0.995 else ", slower at the end, and lead wants it full"
    if line.means == "float_v":
        return ", which ages it" if off > 0 else ", which holds less than a full one"
    if line.means == "rebulk_v":
        share = charge_at_rest(battery.chemistry, value, battery.nominal_v)
        return f": it starts again only below {percent(share)} of charge" if off < 0 else ": it starts again sooner"
    if line.means == "current_limit_a":
        return ", below what was chosen" if off < 0 else ", above what was chosen: mind cable and alternator"
    if line.means == "compensation_mv_per_k":
        return ", its volts move with temperature otherwise than wanted"
    if line.means in ("absorption_h", "bulk_h", "tail_a"):
        return ", it ends at another moment"
    return ""


def _of_choice(ctx: Context, line: Setting, wanted: Wanted, value: float | str) -> str:
    """What a choice other than the one wanted does; of a battery type its volts tell, not its name."""
    if value == wanted.value or line.means == "battery_type":
        return ""
    named = {option.stands_for for option in line.options}
    if line.means == "equalise" and wanted.value == OFF:
        return f"{line.label} stays {value}: it equalises a battery that must not be."
    if line.kind == "switch" or wanted.value in named:
        return f"{line.label} stays {value}."
    return ""
