"""Whether a cable enters the unit's terminal, and the short tail that does where it does not."""

from __future__ import annotations

from olvask.core.catalogue import conductor, conductors
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Remedy, caution, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import RUNS, Cable, Design, RunName, fresh_id
from olvask.core.stages.run.growth import terminal_index

TAIL_M = 0.3  # tail from a joint near the unit into a terminal too small for the cable; our own estimate
TAIL_JOINT_MOHM = 0.2  # a bolted joint, sound; our own estimate


def judge_metal(ctx: Context) -> Judged:
    """Copper-clad aluminium: more resistance, and ends that must be made for it."""
    for run in RUNS:
        for piece in ctx.design.run(run).pieces:
            if isinstance(piece, Cable) and piece.metal == "cca":
                yield caution(
                    f"run.cca.{piece.id}",
                    piece.id,
                    f"{piece.size} of copper-clad aluminium",
                    "It has 1.6 times the resistance of copper, creeps under a crimp and corrodes in the wet: ends must be made "
                    "for it. Copper is the rule in a vehicle.",
                    [remedy("Use copper", (f"{run}.pieces.{piece.id}.metal", "copper"))],
                    concerns=(piece.id,),
                )


def judge_terminals(ctx: Context) -> Judged:
    """A stop where the cable at the unit is larger than its terminal takes."""
    unit = ctx.design.charger
    if unit is None:
        return
    for run in RUNS:
        index = terminal_index(ctx.design, run)
        piece = ctx.design.run(run).pieces[index] if index is not None else None
        if not isinstance(piece, Cable) or conductor(piece.size).area_mm2 <= unit.terminal_max_mm2:
            continue
        yield stop(
            f"run.terminal.{run}",
            piece.id,
            f"{piece.size} will not go in the terminal",
            f"{unit.name} takes up to {unit.terminal_max_mm2:g} mm². Bring the cable to a joint near the unit and step "
            "down with a short tail.",
            [_tail(ctx.design, run, piece, unit.terminal_max_mm2)],
            concerns=(piece.id,),
        )


def _tail(design: Design, run: RunName, piece: Cable, terminal_mm2: float) -> Remedy | None:
    system = conductor(piece.size).system
    fitting = [item for item in conductors() if item.system == system and item.area_mm2 <= terminal_mm2]
    if not fitting:
        return None
    tail = piece.model_copy(
        update={
            "id": fresh_id(design, "c"),
            "size": fitting[-1].size,
            "length_m": TAIL_M,
            "conduit": False,
            "grouped": 1,
        }
    )
    joint = {"kind": "joint", "id": fresh_id(design, "j"), "name": "joint", "resistance_mohm": TAIL_JOINT_MOHM}
    present = [item.model_dump(mode="json") for item in design.run(run).pieces]
    added = [joint, tail.model_dump(mode="json")]
    pieces = present + added if run == "supply" else added[::-1] + present
    return remedy(f"Add a joint and a {fitting[-1].size} tail of {TAIL_M:g} m", (f"{run}.pieces", pieces))
