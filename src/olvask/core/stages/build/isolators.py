"""Isolators beside the fuses at the batteries, where the shop's way of protecting has them."""

from __future__ import annotations

from olvask.core.model import RUNS, Cable, Design, ProtectiveDevice, RunName

BREAKERS = ("breaker",)  # families that open by hand themselves


def isolated(design: Design) -> tuple[RunName, ...]:
    """Runs whose device at the battery is a fuse with an isolator beside it."""
    if design.choices.protection_school != "fuse_isolator":
        return ()
    return tuple(run for run in RUNS if _fused_at_battery(design, run))


def _fused_at_battery(design: Design, run: RunName) -> bool:
    pieces = design.run(run).pieces
    for piece in pieces if run == "supply" else reversed(pieces):
        if isinstance(piece, ProtectiveDevice):
            return piece.family not in BREAKERS
        if isinstance(piece, Cable):
            return False
    return False
