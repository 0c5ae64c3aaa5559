"""A run that is not laid yet, and a first one to work on."""

from __future__ import annotations

from dataclasses import replace

from olvask.core.catalogue import NoStandardSize, conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Remedy, caution
from olvask.core.findings.remedy import apply, remedy
from olvask.core.model import RUNS, Cable, RunName, fresh_id
from olvask.core.physics.battery import prospective_short_a
from olvask.core.stages.run.devices import INDUSTRIAL, device_value, least_rating_a, suitable_device
from olvask.core.stages.run.drop import drop_within
from olvask.core.stages.run.growth import RUN_LABEL
from olvask.core.stages.run.shorts import battery_side

FIRST_LAY_M = 3.0  # length of a first run to work on; our own estimate


def judge_not_laid(ctx: Context) -> Judged:
    """Say which run is not laid yet, and propose a first one to work on."""
    for run in RUNS:
        if ctx.design.laid(run):
            continue
        first = _first_lay(ctx, run) if ctx.worded else None
        yield caution(
            f"run.empty.{run}",
            "charger",
            f"{RUN_LABEL[run]} is not laid",
            "Lay a first run, then set its real length and size on the line."
            if ctx.design.charger is not None
            else "Choose a unit in Match: what it draws says how thick; it can be chosen with its runs.",
            [first],
            concerns=(f"{run}.pieces",),
        )


def _first_lay(ctx: Context, run: RunName) -> Remedy | None:
    """Device and the smallest cable that holds the drop limit over a first length."""
    design = ctx.design
    amps = ctx.continuous_a(run)
    least_a = least_rating_a(amps, ctx.lingering_a(run))
    if design.charger is None or ctx.solved.output is None:
        return None
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    short_a = prospective_short_a(chemistry, capacity_ah, nominal_v, 0.0)
    allowed_ohm = design.choices.drop_percent / 100 * nominal_v / amps if amps > 0 else 0.0
    school, within = design.choices, drop_within(design.choices.drop_percent, run, ctx.solved)
    industrial: Remedy | None = None
    for size in conductors():
        loop_ohm = 2 * FIRST_LAY_M * size.resistance_20c_ohm_per_km / 1000
        if size.system != "metric" or loop_ohm > allowed_ohm:
            continue  # too thin by its copper alone; ends, device and warmth come on top
        cable = Cable(id=fresh_id(design, "c"), size=size.size, length_m=FIRST_LAY_M)
        limit_a, _ = ampacity(cable, school.ampacity_school)
        try:
            found = suitable_device(least_a, limit_a, nominal_v, short_a, school.protection_school)
        except NoStandardSize:
            continue
        pieces = [device_value(found, fresh_id(design, "d")), cable.model_dump(mode="json")]
        proposed = remedy("", (f"{run}.pieces", pieces if run == "supply" else pieces[::-1]))
        if not within(apply(design, proposed)):
            continue
        label = f"Lay {FIRST_LAY_M:g} m of {size.size} behind a {found.label} {found.rating_a:g} A"
        laid = replace(proposed, label=label)
        if found.family not in INDUSTRIAL:
            return laid
        industrial = industrial or laid
    return industrial
