"""What the unit cannot be set to: a charge value that its menu does not reach, by what the one it does reach does.

- `judge_reach`: findings on them.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.model.settings import OFF, Setting
from olvask.core.stages.settings.consequence import consequence
from olvask.core.stages.settings.limits import QUANTITIES, Side, off_band
from olvask.core.stages.settings.sheet import Planned, planned_charge, unknown_lines
from olvask.core.stages.settings.wishes import read


def judge_reach(ctx: Context) -> Judged:
    """Findings on charge values out of the unit's reach, and on such as nobody can know."""
    unit = ctx.design.charger
    if unit is None or unit.settings is None or unit.kind != "charger":
        return
    found = planned_charge(ctx.design, ctx.facts)
    if found is None:
        return
    for line in found.record.lines:
        yield from _judged(ctx, found, line)
    for line in unknown_lines(found):
        yield caution(
            f"settings.unknown.{line.id}",
            "charger",
            f"Nobody knows what {line.label.lower()} acts by",
            "It is not shown, cannot be keyed, and its factory value is not in the record. Look it up, and note it on the shelf.",
            concerns=("charger",),
        )


def _judged(ctx: Context, found: Planned, line: Setting) -> Iterator[Found]:
    value, wanted = found.way.acting.get(line.id), found.wanted.get(line.means)
    if value is None or wanted is None or line.kind == "action" or value == "?":
        return
    reached = read(line, value, found.scales)
    text = consequence(ctx, line, wanted, reached)
    if not text:
        return
    level = _level(ctx, line, reached)
    said = {"stop": stop, "caution": caution, "note": note}[level]
    yield said(
        f"settings.reach.{line.id}",
        "charger",
        f"The unit cannot be set as wanted: {line.label}",
        f"{text} Take another unit, or live with it.",
        concerns=("charger", f"charge.{line.means}"),
    )


def _level(ctx: Context, line: Setting, reached: float | str) -> str:
    """How grave the value reached is."""
    battery = ctx.design.auxiliary
    if line.means == "equalise":
        return "stop" if reached != OFF and battery.chemistry in ("gel", "lfp") else "caution"
    quantity = "tail_share" if line.means == "tail_a" else line.means
    if isinstance(reached, str) or quantity not in QUANTITIES:
        return "note"
    value = reached / battery.capacity_ah if line.means == "tail_a" else reached
    off: tuple[str, Side] | None = off_band(battery.chemistry, quantity, value, battery.nominal_v)
    return "note" if off is None else off[0]
