"""The wiring diagram on paper, with its schedules.

- `diagram_pdf`: A4 or A3.
"""

from __future__ import annotations

from typing import Literal

from olvask.core.catalogue import device
from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Branch, Design, ProtectiveDevice
from olvask.core.model.house import House
from olvask.core.stages.build.conductors import ConductorEnd, conductors_of, unit_tails
from olvask.documents.diagram.layout import diagram_of
from olvask.documents.diagram.svg import svg_of
from olvask.documents.sheet import SheetHead
from olvask.documents.typeset import NO_HOUSE, typeset

Paper = Literal["a4", "a3"]
CAUTION = "Work is for a competent person; local code and the makers' instructions rule."


def diagram_pdf(
    head: SheetHead, design: Design, paper: Paper = "a4", state: str = "", house: House = NO_HOUSE
) -> bytes:
    """Typeset the diagram and its schedules.

    Args:
        head: title block.
        design: the design.
        paper: size of the sheet.
        state: what speaks against building it as it stands; empty where nothing does.
        house: the house rules.
    """
    ctx = Context.of(design)
    return typeset(
        "diagram.typ",
        {
            "title": head.title,
            "code": head.code,
            "customer": head.customer,
            "version": head.version,
            "printed": head.printed.isoformat(),
            "paper": paper,
            "state": state,
            "caution": CAUTION,
            "conductors": [
                {
                    "id": cut.id,
                    "size": cut.size if cut.metal == "copper" else f"{cut.size}, copper-clad",
                    "length": f"{cut.length_m:g} m",
                    "cut": f"{cut.cut_m:g} m",
                    "a": cut.ends[0].at,
                    "a_torque": _torque(cut.ends[0]),
                    "b": cut.ends[1].at,
                    "b_torque": _torque(cut.ends[1]),
                }
                for cut in conductors_of(ctx)
            ],
            "devices": _devices(ctx),
        },
        svg_of(diagram_of(ctx)),
        house=house,
    )


def _torque(end: ConductorEnd) -> str:
    return "" if end.torque_nm is None else f"{end.torque_nm:g} N·m"


def _devices(ctx: Context) -> list[tuple[str, str, str]]:
    found: list[tuple[str, str, str]] = []
    for run in RUNS:
        for piece in ctx.design.run(run).pieces:
            if isinstance(piece, ProtectiveDevice):
                found.append((*_told(piece), f"{run} run"))
            elif isinstance(piece, Branch) and piece.device is not None:
                found.append((*_told(piece.device), f"{piece.called}, {run} run"))
        tails = unit_tails(ctx, run)
        if tails is not None and tails.device is not None:
            found.append((*_told(tails.device), f"each unit's own, {run} run: {ctx.design.units}"))
    return found


def _told(item: ProtectiveDevice) -> tuple[str, str]:
    return f"{item.rating_a:g} A", device(item.family, item.rating_a).label
