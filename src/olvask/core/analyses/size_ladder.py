"""One cable of a design in every standard size, judged by the same rules as the design itself."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.catalogue import Conductor, NoStandardSize, chemistries, conductor, conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import run_state, through_a
from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.finding import Level
from olvask.core.findings.remedy import with_cable
from olvask.core.findings.said import Said
from olvask.core.model import Cable, Design, OwnReturn, ProtectiveDevice, RunName
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, cable_price
from olvask.core.stages.run.ampacity import cable_fault
from olvask.core.stages.run.branches import too_small_in_parallel
from olvask.core.stages.run.devices import least_rating_a, suitable_device
from olvask.core.stages.run.drop import drop_percent
from olvask.core.stages.run.growth import terminal_index
from olvask.core.stages.run.protection import device_above, protected_ampacity_a
from olvask.core.stages.run.shorts import battery_side, prospective_a

LEAST_LADDER_MM2 = 2.4  # smaller sizes are signal wires
YEARS, WEEKS = 10, 48
SMALL_TOGETHER = "too small in parallel"
TYPICAL_H = 400.0  # at full current in a year, when driving is not surveyed


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderRow:
    """One standard size on the size ladder, everything recomputed with it."""

    size: str
    system: Literal["metric", "awg"]
    area_mm2: float
    drop_v: float | None
    drop_percent: float | None
    input_low_v: Annotated[float | None, Field(description="volts at the charger at the lowest running voltage")]
    temperature_c: float | None
    ampacity_a: float
    spare_a: Annotated[float, Field(description="ampacity less continuous current, by the chosen school")]
    loss_w: Annotated[float | None, Field(description="lost in the whole run at full current, hot idle")]
    window_open: Annotated[
        bool | None, Field(description="whether the stop window survives it; none without voltage detection")
    ]
    years_cost: Annotated[float | None, Field(description="€ over ten years: the cable and the energy lost in it")]
    device: Annotated[str, Field(description="device that protects it; empty where none fits")]
    enters_terminal: bool
    cost: Annotated[float, Field(description="€ for this piece, own return included")]
    verdict: Level | Literal["good"]
    verdict_text: str
    chosen: bool
    makers: Annotated[bool, Field(description="where the unit maker's table points")]


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """A size worth looking at, and why."""

    key: Literal["smallest", "value", "stock", "maker"]
    size: str
    text: str


class SizeLadder(Said):
    """One cable in every standard size."""

    place: str
    limit_percent: float
    continuous_a: float | None
    condition: str
    rows: tuple[LadderRow, ...]
    suggestions: tuple[Suggestion, ...]
    note: str


class NotACable(ValueError):
    """The place named is not a cable of this design."""


def find_cable(design: Design, place: str) -> tuple[RunName, int, Cable]:
    """Find the cable with an identity such as "c1".

    Raises:
        NotACable: no cable has it.
    """
    found = design.piece(place)
    if found is None or not isinstance(found[2], Cable):
        raise NotACable(f"{place!r} is not a cable of this design; name one by its identity, such as c1")
    return found[0], found[1], found[2]


def size_ladder(
    design: Design, place: str, prices: Prices = CATALOGUE_PRICES, stock: Container[str] = ()
) -> SizeLadder:
    """Judge one cable of `design` in every standard size, and suggest some.

    Args:
        design: the design.
        place: identity of the cable, such as "c1".
        prices: the workshop's own prices.
        stock: sizes that stand on the shelf.

    Raises:
        NotACable: no cable has that identity.
    """
    run, index, present = find_cable(design, place)
    ctx = Context.of(design, worded=False)
    solved = ctx.solved
    hours = charging_hours(design, solved)
    sizes = [size for size in conductors() if size.area_mm2 >= LEAST_LADDER_MM2]
    ends = (with_cable(design, run, index, size.size) for size in (sizes[0], sizes[-1]))
    blamed = run == "supply" or not all(_hunts(Context.of(end, worded=False)) for end in ends)
    question = _Question(run, index, present.size, solved if run == "supply" else None, prices, hours, blamed)
    rows = [_row(design, question, size) for size in sizes]
    return SizeLadder(
        place=place,
        limit_percent=design.choices.drop_percent,
        continuous_a=ctx.continuous_a(run) if design.charger is not None else None,
        condition=solved.running[0].label,
        rows=tuple(rows),
        suggestions=_suggestions(design, run, rows, present, stock, hours),
        note=_note(design, present),
    )


@dataclass(frozen=True, slots=True)
class _Question:
    """Which cable is asked about, and what holds for every size."""

    run: RunName
    index: int
    present: str
    like: Solved | None
    prices: Prices
    hours: float
    blamed: bool  # whether this cable is blamed where it hunts: not one of the delivery run if it hunts in every size


def charging_hours(design: Design, solved: Solved) -> float:
    """Hours at full current over ten years: what the day needs, at most what it drives; a typical figure when unknown."""
    use, output = design.use, solved.output
    if use.drive_h is None or output is None or output.yield_a <= 0:
        return YEARS * TYPICAL_H
    daily = solved.facts.daily
    efficiency = chemistries()[design.auxiliary.chemistry].charge_efficiency
    needed_h = use.drive_h / 2 if daily is None else float(daily.value) / efficiency / output.yield_a
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
                text="No size passes here: shorten the route, turn the unit down, or lay its run anew.",
            ),
        )
    least, own = passing[0], " in mm²" if system == "metric" else " in AWG"
    among = own if least is not either[0] else ""
    found.append(
        Suggestion(
            key="smallest", size=least.size, text=f"Smallest{among} that passes: {least.size}, {least.cost:.0f} €"
        )
    )
    best, cheapest = (
        min((row for row in some if row.years_cost is not None), key=lambda row: row.years_cost or 0.0, default=None)
        for some in (passing, either)
    )
    if best is not None:
        among = own if best is not cheapest else ""
        found.append(
            Suggestion(
                key="value",
                size=best.size,
                text=f"Best{among} over ten years: {best.size}, {best.years_cost:.0f} € with the energy lost in {hours:.0f} h",
            )
        )
    held = next((row for row in either if row.size in stock), None)
    if held is not None:
        found.append(Suggestion(key="stock", size=held.size, text=f"On the shelf: {held.size}"))
    if run == "supply" and unit.maker_cable_mm2 is not None:
        found.append(_makers(rows, least, present, unit.maker_cable_mm2))
    return tuple(found)


def _makers(rows: list[LadderRow], least: LadderRow, present: Cable, makers_mm2: float) -> Suggestion:
    """Where the maker's table points, and why ours differs."""
    theirs = next((row for row in rows if row.makers), None)
    if least.area_mm2 < makers_mm2:
        why = (
            f"one size for every length; at {present.length_m:g} m {least.size} already passes. Following it does no harm "
            "but cost"
        )
    elif least.area_mm2 > makers_mm2:
        why = f"too thin here: it knows neither these {present.length_m:g} m nor this alternator"
    else:
        why = "the same as ours"
    size = theirs.size if theirs is not None else ""
    return Suggestion(key="maker", size=size, text=f"The maker's table: {makers_mm2:g} mm², {why}")


def _row(design: Design, asked: _Question, size: Conductor) -> LadderRow:
    run, index = asked.run, asked.index
    candidate = with_cable(design, run, index, size.size)
    described = candidate.run(run)
    piece, unit = described.pieces[index], candidate.charger
    if not isinstance(piece, Cable):
        raise NotACable(f"{run}.{index} is not a cable")
    ctx = Context.of(candidate, solve(candidate, asked.like), worded=False)
    own_a = ctx.continuous_a(run)
    warm = run_state(described, own_a, candidate.choices.lug_mohm, supply=run == "supply")
    celsius = warm.pieces[index].temperature_c or 0.0
    amps = through_a(described, run == "supply", index, own_a)
    limit_a = ampacity(piece, candidate.choices.ampacity_school)[0]
    lingering_a = through_a(described, run == "supply", index, ctx.lingering_a(run))
    device_text = _device_text(candidate, run, index, least_rating_a(amps, lingering_a))
    fault = cable_fault(amps, limit_a, celsius, piece.insulation_c) if amps > 0 else None
    level, text = _verdict(ctx, asked, fault, device_text, too_small_in_parallel(piece))
    at_terminal = terminal_index(candidate, run) == index
    enters = not at_terminal or unit is None or size.area_mm2 <= unit.terminal_max_mm2
    if level == "good" and not enters:
        level, text = "note", "joint + tail"
    both = 2 if isinstance(described.back, OwnReturn) else 1
    cost = both * piece.parallel * cable_price(size.size, piece.length_m, candidate.choices.slack, asked.prices)
    flowing = unit is not None and (run == "delivery" or ctx.solved.running[0].drawn is not None)
    state, worst = ctx.state(run), ctx.solved.worst
    here_w = (state.pieces[index].out_ohm + state.pieces[index].back_ohm) * (
        state.current_a + state.pieces[index].extra_a
    ) ** 2
    return LadderRow(
        size=size.size,
        system="awg" if size.system == "awg" else "metric",
        area_mm2=size.area_mm2,
        drop_v=state.drop_v if flowing else None,
        drop_percent=drop_percent(candidate, ctx.solved, run),
        input_low_v=worst.drawn.terminal_v if worst.drawn is not None else None,
        temperature_c=celsius,
        ampacity_a=limit_a,
        spare_a=limit_a - amps,
        device=device_text,
        enters_terminal=enters,
        cost=round(cost, 2),
        loss_w=state.loss_w if flowing else None,
        window_open=_window_open(ctx, run),
        years_cost=cost + here_w / 1000 * asked.hours * candidate.choices.energy_price if flowing else None,
        verdict=level,
        verdict_text=text,
        chosen=size.size == asked.present,
        makers=unit is not None and run == "supply" and size.area_mm2 == unit.maker_cable_mm2,
    )


def _window_open(ctx: Context, run: RunName) -> bool | None:
    if run != "supply" or ctx.design.charger is None or "voltage" not in ctx.design.activation.ways:
        return None
    return ctx.thresholds.stop_window_open


def _device_text(design: Design, run: RunName, index: int, least_a: float) -> str:
    above = device_above(run, design.run(run), index)
    if above is None or least_a <= 0:
        return ""
    ceiling_a = protected_ampacity_a(design, run, above) or 0.0
    present = design.run(run).pieces[above]
    try:
        nominal_v, short_a = battery_side(design, run)[2], prospective_a(design, run, above)
        found = suitable_device(least_a, ceiling_a, nominal_v, short_a, design.choices.protection_school)
    except NoStandardSize:
        return ""
    if isinstance(present, ProtectiveDevice) and least_a <= present.rating_a <= ceiling_a:
        return f"{present.rating_a:g} A"
    return f"{found.rating_a:g} A"


def _hunts(ctx: Context) -> bool:
    loaded_v = ctx.thresholds.loaded_low_v
    return "voltage" in ctx.design.activation.ways and loaded_v is not None and ctx.thresholds.stop_v > loaded_v


def _verdict(
    ctx: Context, asked: _Question, fault: str | None, device_text: str, too_small: bool
) -> tuple[Level | Literal["good"], str]:
    """Worst thing to say of this size, worst first."""
    design, worst, at = ctx.design, ctx.solved.worst, ctx.thresholds
    if design.charger is None:
        return ("stop", SMALL_TOGETHER) if too_small else ("good", "no unit yet")
    if worst.collapsed:
        return "stop", "cannot carry it"
    if fault is not None:
        return "stop", "too little ampacity" if fault == "ampacity" else "too hot"
    if worst.drawn is not None and worst.drawn.terminal_v < design.charger.input_min_v:
        return "stop", "below unit's lowest input"
    if asked.blamed and _hunts(ctx):
        return "stop", "hunts"
    if at.loaded_seen_v is not None and at.guard_v >= at.loaded_seen_v:
        return "stop", "guard trips running"
    if too_small:
        return "stop", SMALL_TOGETHER
    if not device_text:
        return "stop", "no device fits"
    percent = drop_percent(design, ctx.solved, asked.run)
    if percent is not None and percent > design.choices.drop_percent:
        return "caution", "drop over limit"
    return "good", "passes"


def _note(design: Design, present: Cable) -> str:
    unit = design.charger
    if unit is None:
        return "Choose a unit in Match to see drop and verdicts."
    school = "enclosed-wiring" if design.choices.ampacity_school == "enclosed" or present.conduit else "free-air"
    return f"{unit.name} takes up to {unit.terminal_max_mm2:g} mm². Ampacity: {school} tables, IEC 60364-5-52 for mm², NFPA 70 for AWG."
