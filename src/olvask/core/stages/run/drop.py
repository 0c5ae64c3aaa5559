"""Volts lost in a run, and what cannot be carried at all.

- `judge_drop`: figures of both runs; drop over the limit, a chassis return nobody measured.
- `judge_carrying`: collapse, and input volts out of the unit's range.
- `drop_percent`, `drop_within`: the drop, and designs held to it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import CHASSIS_MOHM
from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Input, Reckoned, Words, by_branches, computed
from olvask.core.findings.finding import Found, Remedy, caution, stop
from olvask.core.findings.listed import apart
from olvask.core.findings.remedy import remedy
from olvask.core.model import RUNS, Cable, ChassisReturn, Design, RunName
from olvask.core.physics.rounding import over
from olvask.core.stages.run.growth import RUN_LABEL, grow, thickest_need

TOLERABLE_PERCENT = 6.0  # a drop above the limit that practice still lives with on long runs


def drop_percent(design: Design, solved: Solved, run: RunName) -> float | None:
    """Drop of a run at full current, percent of its side's nominal; supply at hot idle. `None` on collapse."""
    idle = solved.running[0]
    if run == "supply":
        if idle.drawn is None:
            return None
        return 100 * idle.run.drop_v / design.vehicle.system_v
    return None if solved.output is None else 100 * solved.output.run.drop_v / design.auxiliary.nominal_v


def drop_within(limit_percent: float, run: RunName, solved: Solved) -> Callable[[Design], bool]:
    """Judge of designs that differ from the solved one in this run: the run's drop within `limit_percent`."""
    like = solved if run == "supply" else None

    def accept(candidate: Design) -> bool:
        percent = drop_percent(candidate, solve(candidate, like, only=()), run)
        return percent is not None and percent <= limit_percent

    return accept


def judge_drop(ctx: Context) -> Judged:
    """Figures of both runs, and findings on their drop and their return."""
    for run in RUNS:
        if not any(isinstance(piece, Cable) for piece in ctx.design.run(run).pieces):
            continue
        if ctx.worded:
            yield _resistance(ctx, run)
            yield from _drop_figures(ctx, run)
        yield from _judge_return(ctx.design, run)
        if ctx.solved.output is not None:
            yield from _judge_limit(ctx, run)


def _resistance(ctx: Context, run: RunName) -> Reckoned:
    state = ctx.state(run)
    length_m = sum(piece.length_m for piece in ctx.design.run(run).pieces if isinstance(piece, Cable))
    return Reckoned(
        f"{run}.resistance_mohm",
        f"{RUN_LABEL[run]}, out and back",
        state.loop_ohm * 1000,
        "mΩ",
        words=lambda: Words(
            formula="Σ R_out + Σ R_back",
            working=f"{state.out_ohm * 1000:.2f} mΩ out + {state.back_ohm * 1000:.2f} mΩ back, {length_m:.1f} m one-way",
            inputs=(Input("Each cable end", ctx.design.choices.lug_mohm, "mΩ", "default", "choices.lug_mohm"),),
            source="IEC 60228 class 5 or AWG geometry, copper +0.393 %/K at working temperature",
        ),
    )


def _drop_figures(ctx: Context, run: RunName) -> Iterator[Reckoned]:
    design, idle, state = ctx.design, ctx.solved.running[0], ctx.state(run)
    if ctx.solved.output is None:
        return
    flowing = run == "delivery" or idle.drawn is not None
    drop_v = state.drop_v if flowing else None
    where = "" if run == "delivery" else f", {idle.label.lower()}"
    amps = f"{state.current_a:.1f} A"
    yield Reckoned(
        f"{run}.drop_v",
        f"{RUN_LABEL[run]} drop{where}",
        drop_v,
        "V",
        words=lambda: Words(
            formula="I · R",
            working=f"{amps} · {state.loop_ohm * 1000:.2f} mΩ{by_branches(state.branch_v)}"
            if flowing
            else "the run cannot carry the power",
            inputs=(computed(f"{run}.resistance_mohm"),),
            source="Ohm's law",
        ),
    )
    percent, limit = drop_percent(design, ctx.solved, run), design.choices.drop_percent
    nominal_v = design.vehicle.system_v if run == "supply" else design.auxiliary.nominal_v
    origin = str(design.provenance.get("choices.drop_percent", "default"))
    yield Reckoned(
        f"{run}.drop_percent",
        f"{RUN_LABEL[run]} drop",
        percent,
        "%",
        words=lambda: Words(
            formula="100 · V_drop / V_nominal",
            working="none" if drop_v is None else f"100 · {drop_v:.3f} V / {nominal_v} V = {percent:.1f} %",
            inputs=(computed(f"{run}.drop_v"), Input("Drop limit", limit, "%", origin, "choices.drop_percent")),
            source="percent of nominal, rule of thumb",
            changes="more copper, a shorter route, or another limit",
        ),
    )
    yield Reckoned(
        f"{run}.loss_w",
        f"Lost in the {run} run",
        None if drop_v is None else state.loss_w,
        "W",
        words=lambda: Words(
            formula="Σ I² · R",
            working=f"({amps})² · {state.loop_ohm * 1000:.2f} mΩ" + (", branches counted" if state.branch_v else ""),
            inputs=(computed(f"{run}.resistance_mohm"),),
            source="Joule's law",
        ),
    )


def _judge_return(design: Design, run: RunName) -> Iterator[Found]:
    back = design.run(run).back
    if isinstance(back, ChassisReturn) and back.resistance_mohm is None:
        yield caution(
            f"run.chassis_unmeasured.{run}",
            f"{run}.back",
            "Chassis return not measured",
            f"Body joints are an unknown resistance; {CHASSIS_MOHM:.0f} mΩ is assumed. Measure it, or use a dedicated "
            "cable.",
            [remedy("Use a dedicated negative cable", (f"{run}.back", {"kind": "cable"}))],
            concerns=(f"{run}.back",),
        )


def _consequence(ctx: Context, run: RunName) -> str:
    """What the drop does, in numbers."""
    idle, output, state = ctx.solved.running[0], ctx.solved.output, ctx.state(run)
    if run == "delivery" or idle.drawn is None or output is None:
        return (
            f"At full current the battery sees {state.drop_v:.2f} V less than the unit's terminals: unless the unit senses "
            "at the battery, charging tapers early and takes longer."
        )
    more_a = idle.drawn.current_a - output.power_in_w / idle.source.regulated_v
    return (
        f"The charger sees {idle.drawn.terminal_v:.2f} V and draws {idle.drawn.current_a:.1f} A, {more_a:.1f} A more than "
        "without the drop. As long as the thresholds hold, charging takes no longer."
    )


def _judge_limit(ctx: Context, run: RunName) -> Iterator[Found]:
    design, solved, state = ctx.design, ctx.solved, ctx.state(run)
    percent, limit = drop_percent(design, solved, run), design.choices.drop_percent
    if percent is None or not over(percent, limit):
        return
    index = thickest_need(design.run(run), state)
    piece = design.run(run).pieces[index or 0].id

    def remedies() -> list[Remedy | None]:
        raised = -(-percent * 2 // 1) / 2
        return [
            grow(design, run, index, drop_within(limit, run, solved), f"to stay within {limit:g} %"),
            remedy(f"Allow {raised} % on this job", ("choices.drop_percent", raised))
            if percent <= TOLERABLE_PERCENT
            else None,
        ]

    yield caution(
        f"run.drop.{run}",
        piece,
        f"{RUN_LABEL[run]} drops {apart(percent, limit, 1, entered=True)[0]} %",
        f"{state.drop_v:.2f} V against a limit of {limit:g} %. {_consequence(ctx, run)} {state.loss_w:.0f} W are lost in "
        "the run.",
        remedies,
        concerns=(piece, "choices.drop_percent"),
    )


def judge_carrying(ctx: Context) -> Judged:
    """What the supply run cannot carry, and input volts out of the unit's range."""
    unit, output, solved = ctx.design.charger, ctx.solved.output, ctx.solved
    if unit is None or output is None:
        return
    state, least_v = solved.worst, unit.input_min_v

    def runs(candidate: Design) -> bool:
        now = solve(candidate, solved).worst
        return now.drawn is not None and now.drawn.terminal_v >= least_v

    def remedies() -> list[Remedy | None]:
        return [grow(ctx.design, "supply", thickest_need(ctx.design.supply, state.run), runs, "so that it runs")]

    if state.collapsed:
        yield stop(
            "run.collapse",
            "charger",
            "The supply run cannot carry this power",
            f"{output.power_in_w:.0f} W through {state.run.loop_ohm * 1000:.1f} mΩ from {state.source.regulated_v:.2f} V has "
            f"no stable voltage ({state.label.lower()}): the unit collapses, cycles or throttles.",
            remedies,
        )
    elif state.drawn is not None and state.drawn.terminal_v < least_v:
        sees, needs = apart(state.drawn.terminal_v, least_v, 2, entered=True)
        yield stop(
            "run.below_minimum",
            "charger",
            "Below the unit's lowest input",
            f"{sees} V at the terminals in {state.label.lower()}; {unit.name} needs {needs} V.",
            remedies,
        )
    highest_v = max(item.source.regulated_v for item in solved.running)
    if highest_v > unit.input_max_v:
        runs_at, takes = apart(highest_v, unit.input_max_v, 2, entered=True)
        yield stop(
            "run.above_maximum",
            "charger",
            "Above the unit's highest input",
            f"{runs_at} V running; {unit.name} takes up to {takes} V.",
        )
    if ctx.worded:
        yield Reckoned(
            "supply.continuous_a",
            "Continuous input for protection",
            ctx.continuous_a("supply"),
            "A",
            words=lambda: Words(
                formula="P_in / V_lowest",
                working=f"{output.power_in_w:.0f} W / {ctx.stay_v:.2f} V",
                inputs=(computed("input.power_w"),),
                source="constant-power input at the lowest surveyed running voltage, at full current",
            ),
        )
