"""One cable of a design in every standard size, judged by the same rules as the design itself."""

from __future__ import annotations

from collections.abc import Container
from typing import Literal

from olvask.core.catalogue import Conductor, NoStandardSize, chemistries, conductor, conductors
from olvask.core.circuit.solve import RunName, Solved, ampacity, run_state, solve
from olvask.core.findings.assessment import LadderRow, Level, SizeLadder, Suggestion
from olvask.core.findings.remedy import with_cable
from olvask.core.model import Cable, Design, OwnReturn, ProtectiveDevice
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices
from olvask.core.stages.run.cables import (
    cable_fault,
    continuous_a,
    drop_percent,
    guard_index,
    run_of,
    state_of,
    terminal_index,
    through_a,
)
from olvask.core.stages.run.protection import battery_side, guarded_ampacity_a, prospective_a, suitable_device
from olvask.core.stages.wake.thresholds import Thresholds, hold_voltage, set_thresholds

LEAST_LADDER_MM2 = 2.4  # smaller sizes are signal wires
YEARS, WEEKS = 10, 48
TYPICAL_H = 400.0  # at full current in a year, when driving is not surveyed


class NotACable(ValueError):
    """The place named is not a cable of this design."""


def find_cable(design: Design, place: str) -> tuple[RunName, int, Cable]:
    """Find the cable at a place such as "supply.1".

    Raises:
        NotACable: no cable stands there.
    """
    run_name, _, position = place.partition(".")
    run: RunName | None = "supply" if run_name == "supply" else "delivery" if run_name == "delivery" else None
    if run is not None and position.isdecimal():
        pieces = run_of(design, run).pieces
        index = int(position)
        if index < len(pieces) and isinstance(piece := pieces[index], Cable):
            return run, index, piece
    raise NotACable(f"{place!r} is not a cable of this design; name one such as supply.1")


def size_ladder(
    design: Design, place: str, prices: Prices = CATALOGUE_PRICES, stock: Container[str] = ()
) -> SizeLadder:
    """Judge one cable of `design` in every standard size, and suggest some.

    Args:
        design: the design.
        place: which cable, such as "supply.1".
        prices: the workshop's own prices.
        stock: sizes that stand on the shelf.

    Raises:
        NotACable: no cable stands there.
    """
    run, index, present = find_cable(design, place)
    unit = design.charger
    solved = solve(design)
    like = solved if run == "supply" else None
    hours = charging_hours(design, solved)
    rows = [
        _row(design, run, index, size, like, prices, hours)
        for size in conductors()
        if size.area_mm2 >= LEAST_LADDER_MM2
    ]
    amps = None
    if unit is not None:
        amps = continuous_a(design, solved, run, hold_voltage(design, set_thresholds(design, solved)))
    return SizeLadder(
        place=place,
        limit_percent=design.choices.drop_percent,
        continuous_a=amps,
        condition=solved.running[0].label,
        rows=tuple(rows),
        suggestions=_suggestions(design, run, rows, present, stock, hours),
        note=_note(design, present),
    )


def charging_hours(design: Design, solved: Solved) -> float:
    """Hours at full current over ten years: what the day needs, at most what it drives; a typical figure when unknown."""
    use, output = design.use, solved.output
    if use.drive_h is None or output is None or output.current_a <= 0:
        return YEARS * TYPICAL_H
    daily = solved.facts.daily
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    needed_h = use.drive_h / 2 if daily is None else float(daily.value) / efficiency / output.current_a
    return YEARS * WEEKS * use.drive_days * min(use.drive_h, needed_h)


def _suggestions(
    design: Design, run: RunName, rows: list[LadderRow], present: Cable, stock: Container[str], hours: float
) -> tuple[Suggestion, ...]:
    unit = design.charger
    system = conductor(present.size).system
    either = [row for row in rows if row.verdict in ("good", "note")]
    passing = [row for row in either if row.system == system] or either  # in the piece's own system where it can be
    if unit is None:
        return ()
    found: list[Suggestion] = []
    if not passing:
        return (
            Suggestion(
                key="smallest",
                size="",
                text="No size passes here: shorten the way, turn the unit down, or lay its run anew.",
            ),
        )
    least = passing[0]
    found.append(
        Suggestion(key="smallest", size=least.size, text=f"Smallest that passes: {least.size}, {least.cost:.0f} €")
    )
    valued = [row for row in passing if row.years_cost is not None]
    if valued:
        best = min(valued, key=lambda row: row.years_cost or 0.0)
        found.append(
            Suggestion(
                key="value",
                size=best.size,
                text=f"Best over ten years: {best.size}, {best.years_cost:.0f} € with the energy lost in {hours:.0f} h",
            )
        )
    held = next((row for row in either if row.size in stock), None)
    if held is not None:
        found.append(Suggestion(key="stock", size=held.size, text=f"On the shelf: {held.size}"))
    makers = unit.maker_cable_mm2
    if run == "supply" and makers is not None:
        theirs = next((row for row in rows if row.makers), None)
        size = theirs.size if theirs is not None else ""
        if least.area_mm2 < makers:
            why = f"one size for every length; at {present.length_m:g} m {least.size} already passes. Following it does no harm but cost"
        elif least.area_mm2 > makers:
            why = f"too thin here: it knows neither these {present.length_m:g} m nor this alternator"
        else:
            why = "the same as ours"
        found.append(Suggestion(key="maker", size=size, text=f"The maker's table: {makers:g} mm², {why}"))
    return tuple(found)


def _row(
    design: Design, run: RunName, index: int, size: Conductor, like: Solved | None, prices: Prices, hours: float
) -> LadderRow:
    candidate = with_cable(design, run, index, size.size)
    piece = run_of(candidate, run).pieces[index]
    if not isinstance(piece, Cable):
        raise NotACable(f"{run}.{index} is not a cable")
    solved = solve(candidate, like)
    thresholds = set_thresholds(candidate, solved)
    hold_v = hold_voltage(candidate, thresholds)
    own_a = continuous_a(candidate, solved, run, hold_v)
    warm = run_state(run_of(candidate, run), own_a, candidate.choices.lug_mohm, supply=run == "supply")
    celsius = warm.pieces[index].temperature_c or 0.0
    amps = through_a(candidate, run, index, own_a)
    limit_a = ampacity(piece, candidate.choices.ampacity_school)[0]
    unit = candidate.charger
    enters = unit is None or size.area_mm2 <= unit.terminal_max_mm2
    at_terminal = terminal_index(candidate, run) == index
    device_text = _device_text(candidate, run, index, amps)
    fault = cable_fault(amps, limit_a, celsius, piece.insulation_c) if amps > 0 else None
    level, text = _verdict(candidate, solved, thresholds, fault, run, device_text)
    percent = drop_percent(candidate, solved, run)
    idle = solved.running[0]
    flowing = run == "delivery" or idle.drawn is not None
    worst = solved.worst
    both = 2 if isinstance(run_of(candidate, run).back, OwnReturn) else 1
    if level == "good" and at_terminal and not enters:
        level, text = "note", "joint + tail"
    cost = prices.per_m(size.size) * piece.length_m * both * piece.parallel
    run_now = state_of(solved, run, idle)
    loss_w = years_cost = None
    if flowing and unit is not None:
        loss_w = run_now.loss_w
        own = run_now.pieces[index]
        here_w = (own.out_ohm + own.back_ohm) * (run_now.current_a + own.extra_a) ** 2
        years_cost = cost + here_w / 1000 * hours * candidate.choices.energy_price
    window_open = None
    if run == "supply" and "voltage" in candidate.activation.methods and unit is not None:
        window_open = thresholds.stop_high_v is not None and thresholds.stop_high_v >= thresholds.floor_v
    return LadderRow(
        size=size.size,
        system="awg" if size.system == "awg" else "metric",
        area_mm2=size.area_mm2,
        drop_v=state_of(solved, run, idle).drop_v if flowing and unit is not None else None,
        drop_percent=percent,
        input_low_v=worst.drawn.terminal_v if worst.drawn is not None else None,
        temperature_c=celsius,
        ampacity_a=limit_a,
        in_hand_a=limit_a - amps,
        device=device_text,
        enters_terminal=enters or not at_terminal,
        cost=round(cost, 2),
        loss_w=loss_w,
        window_open=window_open,
        years_cost=years_cost,
        verdict=level,
        verdict_text=text,
        chosen=size.size == _present(design, run, index),
        makers=unit is not None and run == "supply" and size.area_mm2 == unit.maker_cable_mm2,
    )


def _present(design: Design, run: RunName, index: int) -> str:
    piece = run_of(design, run).pieces[index]
    return piece.size if isinstance(piece, Cable) else ""


def _device_text(design: Design, run: RunName, index: int, amps: float) -> str:
    guard = guard_index(run, run_of(design, run), index)
    if guard is None or amps <= 0:
        return ""
    ceiling_a = guarded_ampacity_a(design, run, guard)
    present = run_of(design, run).pieces[guard]
    try:
        found = suitable_device(amps, ceiling_a or 0.0, battery_side(design, run)[2], prospective_a(design, run, guard))
    except NoStandardSize:
        return ""
    if isinstance(present, ProtectiveDevice) and 1.25 * amps <= present.rating_a <= (ceiling_a or 0.0):
        return f"{present.rating_a:g} A"
    return f"{found.rating_a:g} A"


def _verdict(
    design: Design, solved: Solved, set_at: Thresholds, fault: str | None, run: RunName, device_text: str
) -> tuple[Level | Literal["good"], str]:
    """Worst thing to say of this size, worst first."""
    if design.charger is None:
        return "good", "no unit yet"
    if solved.worst.collapsed:
        return "stop", "cannot carry it"
    if fault is not None:
        return "stop", "too little ampacity" if fault == "ampacity" else "too hot"
    if solved.worst.drawn is not None and solved.worst.drawn.terminal_v < design.charger.input_min_v:
        return "stop", "below unit's lowest input"
    if run == "supply" and "voltage" in design.activation.methods:
        loaded_v = set_at.loaded_low_v
        if loaded_v is not None and set_at.stop_v > loaded_v:
            return "stop", "hunts"
    if set_at.loaded_seen_v is not None and set_at.lockout_v >= set_at.loaded_seen_v:
        return "stop", "locked out running"
    if not device_text:
        return "stop", "no device fits"
    percent = drop_percent(design, solved, run)
    if percent is not None and percent > design.choices.drop_percent:
        return "caution", "drop over limit"
    return "good", "passes"


def _note(design: Design, present: Cable) -> str:
    unit = design.charger
    if unit is None:
        return "Choose a unit in Match to see drop and verdicts."
    school = "enclosed-wiring" if design.choices.ampacity_school == "enclosed" or present.conduit else "free-air"
    return f"{unit.name} takes up to {unit.terminal_max_mm2:g} mm². Ampacity: {school} tables, IEC 60364-5-52 for mm², NFPA 70 for AWG."
