"""What of each device's sheet is keyed in: ticked line by line, or all of it with its step.

- `Keying`: one device's.
- `keying_of`: the unit's, then those of whatever else has a menu.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from olvask.core.circuit.context import Context
from olvask.core.stages.build.procedure import BUILD
from olvask.core.stages.build.procedure.after import key_step
from olvask.core.stages.build.progress import StepState
from olvask.core.stages.settings.sheet import devices_of, sheet_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Keying:
    """What of a device's sheet is keyed in.

    Attributes:
        place: of the device, as its sheet has it; empty for the unit.
        name: what it is called.
        lines: how many its sheet has.
        left: how many of them nobody has ticked; none once the step that keys the whole sheet is done.
    """

    place: str
    name: str
    lines: int
    left: int


def keying_of(ctx: Context, states: Sequence[StepState] = ()) -> tuple[Keying, ...]:
    """What of each sheet is keyed in; of devices whose sheet has lines.

    Args:
        ctx: the design solved.
        states: what was noted at the steps of the work.
    """
    ticked = {item.line for item in ctx.design.keyed if item.keyed}
    done = {state.step for state in states if state.procedure == BUILD and state.state == "done"}
    found = []
    for place, name in _sheets(ctx):
        sheet = sheet_of(ctx, place)
        if sheet is not None and sheet.lines:
            left = 0 if key_step(place) in done else sum(line.key not in ticked for line in sheet.lines)
            found.append(Keying(place=place, name=name, lines=len(sheet.lines), left=left))
    return tuple(found)


def _sheets(ctx: Context) -> Iterator[tuple[str, str]]:
    """Place and name of each device with a sheet."""
    unit = ctx.design.charger
    if unit is not None and unit.kind != "converter":
        yield "", unit.name
    yield from devices_of(ctx.design)
