"""Cables: drop, ampacity, temperature and terminals, and the size that would do."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from olvask.core.catalogue import Conductor, NoStandardSize, conductor, conductors
from olvask.core.circuit.solve import (
    CHASSIS_MOHM,
    ConditionState,
    RunName,
    RunState,
    Solved,
    ampacity,
    branch_currents,
    cable_ambient_c,
    run_state,
    solve,
)
from olvask.core.findings.assessment import PieceFacts, WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.findings.figure import Input
from olvask.core.findings.remedy import with_cable
from olvask.core.model import Cable, ChassisReturn, Design, ProtectiveDevice, Run

RUNS: tuple[RunName, RunName] = ("supply", "delivery")
OTHER_SCHOOL = {"enclosed": "free_air", "free_air": "enclosed"}
TAIL_M = 0.3  # tail from a joint near the unit into a terminal too small for the cable
RUN_LABEL = {"supply": "Supply run", "delivery": "Delivery run"}


def run_of(design: Design, run: RunName) -> Run:
    """The run by its name."""
    return design.supply if run == "supply" else design.delivery


def continuous_a(design: Design, solved: Solved, run: RunName, hold_v: float) -> float:
    """Continuous current [A] a run is sized and protected for.

    Args:
        design: the design.
        solved: its circuit.
        run: "supply" or "delivery".
        hold_v: lowest voltage the unit keeps working at [V].

    The input of a constant-power unit is largest at its lowest voltage: P_in / V_hold.
    """
    output = solved.output
    if output is None:
        return 0.0
    return output.power_in_w / hold_v if run == "supply" else output.current_a


def through_a(design: Design, run: RunName, index: int, amps: float) -> float:
    """Continuous current through one piece [A], branches counted.

    Args:
        design: the design.
        run: "supply" or "delivery".
        index: which piece.
        amps: the run's own continuous current [A].

    Towards a branch the supply run carries both. Past a branch the delivery run carries what is left while
    charging, and what the branch takes while not: the larger counts, and never less than the run's own.
    """
    extra_a = branch_currents(run_of(design, run), run == "supply")[index]
    return amps + extra_a if run == "supply" else max(amps, -extra_a)


def state_of(solved: Solved, run: RunName, condition: ConditionState) -> RunState:
    """The run with current, in a condition; the delivery run is the same in all."""
    if run == "supply" or solved.output is None:
        return condition.run
    return solved.output.run


def drop_percent(design: Design, solved: Solved, run: RunName) -> float | None:
    """Drop of a run at full current, percent of its side's nominal; supply at hot idle. `None` on collapse."""
    idle = solved.running[0]
    if run == "supply":
        if idle.drawn is None:
            return None
        return 100 * idle.run.drop_v / design.vehicle.system_v
    return None if solved.output is None else 100 * solved.output.run.drop_v / design.auxiliary.nominal_v


def smallest_size(design: Design, run: RunName, index: int, accept: Callable[[Design], bool]) -> Conductor:
    """Smallest size, of the piece's own system, above the present one that `accept` takes.

    Args:
        design: the design.
        run: "supply" or "delivery".
        index: which piece; a cable.
        accept: judges the design with that size put in; once true it stays true for more copper.

    Raises:
        NoStandardSize: not even the largest will do.
    """
    return _smallest(design, run, index, lambda size: accept(with_cable(design, run, index, size.size)))


def _smallest(design: Design, run: RunName, index: int, accept: Callable[[Conductor], bool]) -> Conductor:
    piece = run_of(design, run).pieces[index]
    if not isinstance(piece, Cable):
        raise TypeError(f"{run}.{index} is not a cable")
    present = conductor(piece.size)
    larger = [item for item in conductors() if item.system == present.system and item.area_mm2 > present.area_mm2]
    low, high = 0, len(larger)
    while low < high:
        middle = (low + high) // 2
        if accept(larger[middle]):
            high = middle
        else:
            low = middle + 1
    if low == len(larger):
        raise NoStandardSize(f"no size up to {conductors()[-1].size} will do for {run}.{index}")
    return larger[low]


def _raised(design: Design, run: RunName, size: Conductor) -> list[tuple[int, str]]:
    """Every cable of a run smaller than `size`, raised to it; into a terminal only what it takes."""
    raised: list[tuple[int, str]] = []
    at_terminal = terminal_index(design, run)
    for index, piece in enumerate(run_of(design, run).pieces):
        if not isinstance(piece, Cable):
            continue
        present = conductor(piece.size)
        wanted = size
        if index == at_terminal and design.charger is not None:
            most = design.charger.terminal_max_mm2
            wanted = next(
                item
                for item in reversed(conductors())
                if item.system == size.system and item.area_mm2 <= min(most, size.area_mm2)
            )
        if present.area_mm2 < wanted.area_mm2:
            raised.append((index, wanted.size))
    return raised


def _with_cables(design: Design, run: RunName, sizes: list[tuple[int, str]]) -> Design:
    for index, size in sizes:
        design = with_cable(design, run, index, size)
    return design


def thickest_need(design: Design, run: RunName, state: RunState) -> int | None:
    """Index of the cable with the most resistance in a run, where more copper does most."""
    cables = [index for index, piece in enumerate(run_of(design, run).pieces) if isinstance(piece, Cable)]
    return max(cables, key=lambda index: state.pieces[index].out_ohm, default=None)


def grow(
    design: Design, run: RunName, index: int | None, accept: Callable[[Design], bool], purpose: str
) -> WayOut | None:
    """Way out: the smallest larger size that `accept` takes, for one cable or else for all of the run."""
    if index is None:
        return None
    try:
        size = smallest_size(design, run, index, accept)
        return way_out(f"Use {size.size} {purpose}", (f"{run}.pieces.{index}.size", size.size))
    except NoStandardSize:
        pass
    try:
        size = _smallest(design, run, index, lambda size: accept(_with_cables(design, run, _raised(design, run, size))))
    except NoStandardSize:
        return None
    changes = [(f"{run}.pieces.{at}.size", label) for at, label in _raised(design, run, size)]
    return way_out(f"Use {size.size} throughout {purpose}", *changes)


def drop_within(limit_percent: float, run: RunName, solved: Solved) -> Callable[[Design], bool]:
    """Judge of designs that differ from the solved one in this run: the run's drop within `limit_percent`."""
    like = solved if run == "supply" else None

    def accept(candidate: Design) -> bool:
        percent = drop_percent(candidate, solve(candidate, like, only=()), run)
        return percent is not None and percent <= limit_percent

    return accept


def judge_runs(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> None:
    """Figures of both runs, and findings on drop, collapse and the return.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    for run in RUNS:
        pieces = run_of(design, run).pieces
        if not any(isinstance(piece, Cable) for piece in pieces):
            continue
        if not ledger.verdicts_only:
            _run_figures(design, solved, ledger, run)
        _judge_return(design, ledger, run)
        if solved.output is not None:
            _judge_drop(design, solved, ledger, run)
    _judge_carrying(design, solved, ledger)
    if solved.output is not None:
        ledger.figure(
            "supply.continuous_a",
            "Continuous input for protection",
            continuous_a(design, solved, "supply", hold_v),
            "A",
            formula="P_in / V_hold",
            working=f"{solved.output.power_in_w:.0f} W / {hold_v:.2f} V",
            inputs=["input.power_w"],
            source="constant-power input at the lowest voltage the unit keeps working at",
        )


def _run_figures(design: Design, solved: Solved, ledger: Ledger, run: RunName) -> None:
    idle = solved.running[0]
    state = state_of(solved, run, idle)
    lengths = sum(piece.length_m for piece in run_of(design, run).pieces if isinstance(piece, Cable))
    ledger.figure(
        f"{run}.resistance_mohm",
        f"{RUN_LABEL[run]}, out and back",
        state.loop_ohm * 1000,
        "mΩ",
        formula="Σ R_out + Σ R_back",
        working=f"{state.out_ohm * 1000:.2f} mΩ out + {state.back_ohm * 1000:.2f} mΩ back, {lengths:.1f} m one-way",
        inputs=[Input("Each cable end", design.choices.lug_mohm, "mΩ", "default", "choices.lug_mohm")],
        source="IEC 60228 class 5 or AWG geometry, copper +0.393 %/K at working temperature",
    )
    if solved.output is None:
        return
    flowing = run == "delivery" or idle.drawn is not None
    drop_v = state.drop_v if flowing else None
    where = "" if run == "delivery" else f", {idle.label.lower()}"
    ledger.figure(
        f"{run}.drop_v",
        f"{RUN_LABEL[run]} drop{where}",
        drop_v,
        "V",
        formula="I · R",
        working=(
            f"{state.current_a:.1f} A · {state.loop_ohm * 1000:.2f} mΩ"
            + (f" + {state.branch_v:.3f} V by branches" if state.branch_v else "")
        )
        if flowing
        else "the run cannot carry the power",
        inputs=[f"{run}.resistance_mohm"],
        source="Ohm's law",
    )
    percent = drop_percent(design, solved, run)
    nominal_v = design.vehicle.system_v if run == "supply" else design.auxiliary.nominal_v
    ledger.figure(
        f"{run}.drop_percent",
        f"{RUN_LABEL[run]} drop",
        percent,
        "%",
        formula="100 · V_drop / V_nominal",
        working="none" if drop_v is None else f"100 · {drop_v:.3f} V / {nominal_v} V = {percent:.1f} %",
        inputs=[
            f"{run}.drop_v",
            Input(
                "Drop limit",
                design.choices.drop_percent,
                "%",
                str(design.provenance.get("choices.drop_percent", "default")),
                "choices.drop_percent",
            ),
        ],
        source="percent of nominal, rule of thumb",
        changes="more copper, a shorter way, or another limit",
    )
    ledger.figure(
        f"{run}.loss_w",
        f"Lost in the {run} run",
        None if drop_v is None else state.loss_w,
        "W",
        formula="Σ I² · R",
        working=f"({state.current_a:.1f} A)² · {state.loop_ohm * 1000:.2f} mΩ"
        + (", branches counted" if state.branch_v else ""),
        inputs=[f"{run}.resistance_mohm"],
        source="Joule's law",
    )


def _judge_return(design: Design, ledger: Ledger, run: RunName) -> None:
    back = run_of(design, run).back
    if isinstance(back, ChassisReturn) and back.resistance_mohm is None:
        ledger.finding(
            f"run.chassis_unmeasured.{run}",
            "caution",
            "run",
            f"{run}.back",
            "Chassis return not measured",
            f"Body joints are an unknown resistance; {CHASSIS_MOHM:.0f} mΩ is assumed. Measure it, or use a dedicated cable.",
            [way_out("Use a dedicated negative cable", (f"{run}.back", {"way": "cable"}))],
        )


def _judge_drop(design: Design, solved: Solved, ledger: Ledger, run: RunName) -> None:
    percent = drop_percent(design, solved, run)
    limit = design.choices.drop_percent
    if percent is None or percent <= limit + 1e-9:
        return
    state, output = state_of(solved, run, solved.running[0]), solved.output
    index = thickest_need(design, run, state)
    consequence = (
        f"The charger sees {solved.running[0].drawn.terminal_v:.2f} V and draws {solved.running[0].drawn.current_a:.1f} A, "
        f"{solved.running[0].drawn.current_a - output.power_in_w / solved.running[0].source.regulated_v:.1f} A more than without the "
        f"drop; the charge takes no longer while it holds. "
        if run == "supply" and solved.running[0].drawn and output is not None
        else f"At full current the battery sees {state.drop_v:.2f} V less than the unit's terminals: unless the unit senses at the "
        "battery, charging tapers early and takes longer. "
    )
    ledger.finding(
        f"run.drop.{run}",
        "caution",
        "run",
        f"{run}.{index}",
        f"{RUN_LABEL[run]} drops {percent:.1f} %",
        f"{consequence}{state.loss_w:.0f} W are lost in the run. {state.drop_v:.2f} V against a limit of {limit:g} %.",
        lambda: [
            grow(design, run, index, drop_within(limit, run, solved), f"to stay within {limit:g} %"),
            way_out(f"Hold {_rounded_up(percent)} % on this job", ("choices.drop_percent", _rounded_up(percent)))
            if percent <= 6
            else None,
        ],
    )


def _rounded_up(percent: float) -> float:
    return -(-percent * 2 // 1) / 2


def _judge_carrying(design: Design, solved: Solved, ledger: Ledger) -> None:
    unit, output = design.charger, solved.output
    if unit is None or output is None:
        return
    state = solved.worst

    def runs(candidate: Design) -> bool:
        now = solve(candidate, solved).worst
        return now.drawn is not None and now.drawn.terminal_v >= unit.input_min_v

    def ways() -> list[WayOut | None]:
        index = thickest_need(design, "supply", state.run)
        return [grow(design, "supply", index, runs, "so that it runs")]

    if state.collapsed:
        ledger.finding(
            "run.collapse",
            "stop",
            "run",
            "charger",
            "The supply run cannot carry this power",
            f"{output.power_in_w:.0f} W through {state.run.loop_ohm * 1000:.1f} mΩ from {state.source.regulated_v:.2f} V has no stable "
            f"voltage ({state.label.lower()}): the unit collapses, cycles or throttles.",
            ways,
        )
    elif state.drawn is not None and state.drawn.terminal_v < unit.input_min_v:
        ledger.finding(
            "run.below_minimum",
            "stop",
            "run",
            "charger",
            "Below the unit's lowest input",
            f"{state.drawn.terminal_v:.2f} V at the terminals in {state.label.lower()}; {unit.name} needs {unit.input_min_v:.1f} V.",
            ways,
        )
    highest_v = max(item.source.regulated_v for item in solved.running)
    if highest_v > unit.input_max_v:
        ledger.finding(
            "run.above_maximum",
            "stop",
            "run",
            "charger",
            "Above the unit's highest input",
            f"{highest_v:.2f} V running; {unit.name} takes up to {unit.input_max_v:.1f} V.",
        )


def judge_cables(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> tuple[PieceFacts, ...]:
    """Judge each cable for ampacity, temperature and terminal; facts of every piece.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where findings go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    facts: list[PieceFacts] = []
    for run in RUNS:
        amps = continuous_a(design, solved, run, hold_v)
        described = run_of(design, run)
        state = state_of(solved, run, solved.worst)
        hot = run_state(described, amps, design.choices.lug_mohm) if run == "supply" and amps > 0 else state
        for index, (piece, now, held) in enumerate(zip(described.pieces, state.pieces, hot.pieces, strict=True)):
            place = f"{run}.{index}"
            ohm = now.out_ohm + now.back_ohm
            drop_v = (state.current_a + now.extra_a) * ohm
            if not isinstance(piece, Cable):
                facts.append(PieceFacts(place=place, drop_v=drop_v, resistance_mohm=ohm * 1000))
                continue
            limit_a, source = ampacity(piece, design.choices.ampacity_school)
            other_a, other_source = ampacity(piece, OTHER_SCHOOL[design.choices.ampacity_school])
            facts.append(
                PieceFacts(
                    place=place,
                    drop_v=drop_v,
                    resistance_mohm=ohm * 1000,
                    temperature_c=held.temperature_c,
                    ambient_c=cable_ambient_c(piece),
                    ampacity_a=limit_a,
                    table_source=source,
                    other_ampacity_a=other_a,
                    other_source=other_source,
                    continuous_a=through_a(design, run, index, amps),
                )
            )
            if amps > 0:
                _judge_cable(
                    design, ledger, run, index, through_a(design, run, index, amps), limit_a, held.temperature_c or 0.0
                )
        _judge_terminal(design, ledger, run)
    return tuple(facts)


def cable_fault(
    amps: float, limit_a: float, celsius: float, insulation_c: float
) -> Literal["ampacity", "temperature"] | None:
    """What is wrong with a cable under its continuous current, if anything.

    Args:
        amps: continuous current [A].
        limit_a: ampacity by the chosen tables [A].
        celsius: conductor temperature by heat balance [°C].
        insulation_c: what the insulation stands [°C].
    """
    if amps > limit_a:
        return "ampacity"
    return "temperature" if celsius > insulation_c else None


def _judge_cable(
    design: Design, ledger: Ledger, run: RunName, index: int, amps: float, limit_a: float, celsius: float
) -> None:
    piece = run_of(design, run).pieces[index]
    if not isinstance(piece, Cable):
        return

    def carries(candidate: Design) -> bool:
        grown = run_of(candidate, run).pieces[index]
        return isinstance(grown, Cable) and ampacity(grown, design.choices.ampacity_school)[0] >= 1.25 * amps

    fault = cable_fault(amps, limit_a, celsius, piece.insulation_c)
    if fault is None:
        return

    def ways() -> list[WayOut | None]:
        return [grow(design, run, index, carries, "to carry it")]

    if fault == "ampacity":
        ledger.finding(
            f"run.ampacity.{run}.{index}",
            "stop",
            "run",
            f"{run}.{index}",
            f"{piece.size} cannot carry the current",
            f"{amps:.1f} A continuous against {limit_a:.1f} A ({design.choices.ampacity_school.replace('_', '-')} tables, "
            f"{piece.insulation_c} °C insulation, {cable_ambient_c(piece):.0f} °C ambient).",
            ways,
        )
    else:
        ledger.finding(
            f"run.temperature.{run}.{index}",
            "stop",
            "run",
            f"{run}.{index}",
            f"{piece.size} runs too hot",
            f"About {celsius:.0f} °C by heat balance at {amps:.1f} A; the insulation stands {piece.insulation_c} °C.",
            ways,
        )


def terminal_index(design: Design, run: RunName) -> int | None:
    """Index of the cable that enters the unit's terminal, if the last piece there is a cable."""
    pieces = run_of(design, run).pieces
    index = len(pieces) - 1 if run == "supply" else 0
    return index if pieces and isinstance(pieces[index], Cable) else None


def _judge_terminal(design: Design, ledger: Ledger, run: RunName) -> None:
    unit, index = design.charger, terminal_index(design, run)
    if unit is None or index is None:
        return
    piece = run_of(design, run).pieces[index]
    if not isinstance(piece, Cable) or conductor(piece.size).area_mm2 <= unit.terminal_max_mm2:
        return
    ledger.finding(
        f"run.terminal.{run}",
        "stop",
        "run",
        f"{run}.{index}",
        f"{piece.size} will not go in the terminal",
        f"{unit.name} takes up to {unit.terminal_max_mm2:g} mm². Bring the cable to a joint near the unit and step down "
        "with a short tail.",
        [_tail(design, run, index, unit.terminal_max_mm2)],
    )


def _tail(design: Design, run: RunName, index: int, terminal_mm2: float) -> WayOut | None:
    pieces = list(run_of(design, run).pieces)
    piece = pieces[index]
    if not isinstance(piece, Cable):
        return None
    system = conductor(piece.size).system
    fitting = [item for item in conductors() if item.system == system and item.area_mm2 <= terminal_mm2]
    tail = piece.model_copy(update={"size": fitting[-1].size, "length_m": TAIL_M, "conduit": False, "grouped": 1})
    joint: dict[str, object] = {"kind": "joint", "name": "joint", "resistance_mohm": 0.2}
    dumped = [item.model_dump(mode="json") for item in pieces]
    added = [joint, tail.model_dump(mode="json")]
    new = dumped + added if run == "supply" else added[::-1] + dumped
    return way_out(f"Add a joint and a {fitting[-1].size} tail of {TAIL_M:g} m", (f"{run}.pieces", new))


def guard_index(run: RunName, described: Run, index: int) -> int | None:
    """Index of the device that guards piece `index`: the nearest towards the battery."""
    towards = range(index - 1, -1, -1) if run == "supply" else range(index + 1, len(described.pieces))
    return next((at for at in towards if isinstance(described.pieces[at], ProtectiveDevice)), None)
