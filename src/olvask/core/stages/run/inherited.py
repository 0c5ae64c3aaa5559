"""A cable found in the vehicle: keep it for the supply run or replace it, by the rules a new one is held to."""

from __future__ import annotations

from olvask.core.catalogue import NoStandardSize
from olvask.core.circuit.solve import Solved, ampacity, solve
from olvask.core.findings.assessment import WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Cable, Design, ProtectiveDevice, Run
from olvask.core.physics.battery import prospective_short_a
from olvask.core.stages.run.cables import continuous_a, drop_percent
from olvask.core.stages.run.protection import battery_side, suitable_device

TOLERABLE_PERCENT = 6.0  # a drop above the limit that practice still lives with


def judge_inherited(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> None:
    """Say keep or replace, and why.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where the finding goes.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    found, unit = design.inherited, design.charger
    if found is None or unit is None or solved.output is None:
        return
    cable = Cable(size=found.size, length_m=found.length_m, metal=found.metal)
    amps = continuous_a(design, solved, "supply", hold_v) + found.shared_a
    limit_a = ampacity(cable, design.choices.ampacity_school)[0]
    reasons: list[str] = []
    if not found.sound:
        reasons.append("it does not look sound")
    if found.shared_a > 0:
        reasons.append(f"{found.shared_a:g} A of something else hangs on it")
    if amps > limit_a:
        reasons.append(f"{amps:.1f} A continuous against {limit_a:.1f} A it carries")
    guard = None
    chemistry, capacity_ah, nominal_v = battery_side(design, "supply")
    try:
        guard = suitable_device(amps, limit_a, nominal_v, prospective_short_a(chemistry, capacity_ah, nominal_v, 0.0))
    except NoStandardSize:
        if amps <= limit_a:
            reasons.append(f"no device lies between 1.25 × {amps:.1f} A and {limit_a:.1f} A")
    pieces = (ProtectiveDevice(family=guard.family, rating_a=guard.rating_a), cable) if guard is not None else (cable,)
    tried = design.model_copy(update={"supply": Run(pieces=pieces, back=design.supply.back)})
    again = solve(tried, facts=solved.facts)
    percent = drop_percent(tried, again, "supply")
    if again.worst.drawn is None:
        reasons.append("it cannot carry the power at all: the voltage collapses")
    elif again.worst.drawn.terminal_v < hold_v:
        reasons.append(f"the unit would see {again.worst.drawn.terminal_v:.2f} V and drop out at {hold_v:.2f} V")
    elif percent is not None and percent > TOLERABLE_PERCENT:
        reasons.append(f"it drops {percent:.1f} %")
    name = f"{found.size}, {found.length_m:g} m"
    if reasons:
        text = f"{name}: {'; '.join(reasons)}."
        ledger.finding("run.inherited", "note", "run", "supply.0", "Replace the inherited cable", text)
        return
    over = percent is not None and percent > design.choices.drop_percent
    cost = f" It drops {percent:.1f} %, more than the limit, and that is its price." if over else ""
    ledger.finding(
        "run.inherited",
        "note",
        "run",
        "supply.0",
        "The inherited cable can stay",
        f"{name}: {amps:.1f} A continuous, it carries {limit_a:.1f} A.{cost}",
        [_use_it(tried)],
    )


def _use_it(tried: Design) -> WayOut:
    return way_out("Lay it as the supply run", ("supply.pieces", tried.supply.model_dump(mode="json")["pieces"]))
