"""The one door: a design goes in, its assessment comes out."""

from __future__ import annotations

from olvask.core.circuit.solve import ConditionState, RunState, Solved, solve
from olvask.core.findings.assessment import Assessment, ConditionLine, Finding, LinePiece, Stage, StageState
from olvask.core.findings.collector import Ledger
from olvask.core.model import Cable, Design
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.match.judge import judge_match
from olvask.core.stages.run.branches import judge_branches, judge_joints, judge_parallel, judge_selectivity
from olvask.core.stages.run.cables import judge_cables, judge_runs
from olvask.core.stages.run.inherited import judge_inherited
from olvask.core.stages.run.protection import judge_devices, judge_empty
from olvask.core.stages.run.socket import judge_socket
from olvask.core.stages.settings.profile import judge_profile
from olvask.core.stages.survey.readings import assumed, judge_readings
from olvask.core.stages.wake.activation import judge_activation
from olvask.core.stages.wake.existing_link import judge_old_link
from olvask.core.stages.wake.thresholds import hold_voltage, ladder_bands, set_thresholds

STAGES: tuple[Stage, ...] = ("survey", "match", "run", "wake", "settings", "build", "prove", "handover")
LEVEL_ORDER = {"stop": 0, "caution": 1, "note": 2}


def assess(design: Design) -> Assessment:
    """Assess a design: figures with working, findings with ways out, level lines, bands and limits.

    Args:
        design: the whole design; nothing else influences the result.

    Pure: the same design always gives the same assessment.
    """
    solved = solve(design)
    ledger = Ledger()
    thresholds = set_thresholds(design, solved)
    hold_v = hold_voltage(design, thresholds)
    judge_readings(design, solved, ledger)
    ruler, link = judge_match(design, solved, ledger, hold_v)
    judge_runs(design, solved, ledger, hold_v)
    pieces = judge_cables(design, solved, ledger, hold_v)
    guards = judge_devices(design, solved, ledger, hold_v)
    judge_branches(design, ledger)
    judge_joints(design, solved, ledger, hold_v)
    judge_parallel(design, ledger)
    judge_selectivity(design, ledger)
    judge_socket(design, solved, ledger, hold_v)
    judge_inherited(design, solved, ledger, hold_v)
    judge_empty(design, solved, ledger, hold_v)
    judge_activation(design, solved, thresholds, ledger)
    judge_old_link(design, ledger)
    judge_profile(design, solved, ledger)
    wake = ladder_bands(design, solved, thresholds, ledger)
    _condition_figures(solved, ledger)
    findings = tuple(sorted(ledger.findings, key=lambda item: LEVEL_ORDER[item.level]))
    return Assessment(
        figures=ledger.figures,
        facts=solved.facts.by_path(),
        findings=findings,
        conditions=tuple(_line(state, solved, design) for state in (solved.parked, *solved.running)),
        worst=solved.worst.key,
        pieces=pieces,
        guards=guards,
        wake=wake,
        ruler=ruler,
        link=link,
        stages=_stages(design, solved, findings),
    )


def _condition_figures(solved: Solved, ledger: Ledger) -> None:
    for state in solved.running:
        drawn = state.drawn
        if solved.output is None:
            continue
        power_w = solved.output.power_in_w
        run_ohm = (state.source.sag_ohm + state.run.loop_ohm) * 1000
        ledger.figure(
            f"{state.key}.input_v",
            f"Charger terminals, {state.label.lower()}",
            None if drawn is None else drawn.terminal_v,
            "V",
            formula="(V_s + √(V_s² − 4·R·P_in)) / 2",
            working=f"V_s {state.source.regulated_v:.2f} V, R {run_ohm:.2f} mΩ with the source, P {power_w:.0f} W"
            + (" → no root" if drawn is None else ""),
            inputs=["input.power_w", solved.facts.sag],
            source="constant-power load on a resistive path",
            changes="more copper, less current",
        )
        ledger.figure(
            f"{state.key}.input_a",
            f"Input current, {state.label.lower()}",
            None if drawn is None else drawn.current_a,
            "A",
            formula="P_in / V_in",
            working="none"
            if drawn is None
            else f"{power_w:.0f} W / {drawn.terminal_v:.2f} V = {drawn.current_a:.1f} A",
            inputs=[f"{state.key}.input_v", "input.power_w"],
            source="definition of power",
        )


def _walk(run: RunState, name: str, start_v: float, return_start_mv: float, back_sign: int) -> tuple[LinePiece, ...]:
    """Step along a run in the order of the current: positive volts fall, the return moves by `back_sign`."""
    volts, return_mv = start_v, return_start_mv
    pieces = []
    for index, piece in enumerate(run.pieces):
        through_a = run.current_a + piece.extra_a
        leave_v = volts - through_a * piece.out_ohm
        leave_mv = return_mv + back_sign * through_a * piece.back_ohm * 1000
        pieces.append(
            LinePiece(
                place=f"{name}.{index}",
                enter_v=volts,
                exit_v=leave_v,
                return_enter_mv=return_mv,
                return_exit_mv=leave_mv,
            )
        )
        volts, return_mv = leave_v, leave_mv
    return tuple(pieces)


def _line(state: ConditionState, solved: Solved, design: Design) -> ConditionLine:
    drawn, output = state.drawn, solved.output
    source_v = state.source.regulated_v
    post_v = drawn.post_v if drawn is not None else source_v
    flowing = state.run if drawn is not None else state.run.without_branches().carrying(0.0)
    supply = (
        LinePiece(place="alternator", enter_v=source_v, exit_v=source_v, return_enter_mv=0, return_exit_mv=0),
        LinePiece(place="start_battery", enter_v=post_v, exit_v=post_v, return_enter_mv=0, return_exit_mv=0),
        *_walk(flowing, "supply", post_v, 0.0, +1),
    )
    unit = design.charger
    charging = drawn is not None and output is not None
    if output is not None and charging:
        # Against the auxiliary negative the charger's own negative lies below by the return's drop.
        return_mv = sum((output.run.current_a + piece.extra_a) * piece.back_ohm for piece in output.run.pieces) * 1000
        delivery = _walk(output.run, "delivery", output.terminal_v - return_mv / 1000, return_mv, -1)
        auxiliary_v = output.battery_v
    else:
        auxiliary_v = _resting_auxiliary_v(design)
        still = solved.output.run.without_branches().carrying(0.0) if solved.output else RunState.of((), 0.0)
        delivery = _walk(still, "delivery", auxiliary_v, 0.0, -1)
    return ConditionLine(
        key=state.key,
        label=state.label,
        charging=charging,
        collapsed=state.collapsed,
        below_minimum=drawn is not None and unit is not None and drawn.terminal_v < unit.input_min_v,
        alternator_limited=drawn is not None and drawn.alternator_limited,
        supply=supply,
        delivery=delivery,
        source_v=source_v,
        input_v=None if state.collapsed else drawn.terminal_v if drawn is not None else source_v,
        input_a=None if drawn is None else drawn.current_a,
        output_v=output.terminal_v if output is not None and charging else None,
        output_a=output.current_a if output is not None and charging else None,
        auxiliary_v=auxiliary_v,
    )


def _resting_auxiliary_v(design: Design) -> float:
    return open_circuit_v(design.auxiliary.chemistry, 0.6, design.auxiliary.nominal_v)


def _stages(design: Design, solved: Solved, findings: tuple[Finding, ...]) -> dict[Stage, StageState]:
    missing: dict[str, tuple[str, ...]] = {"survey": assumed(design, solved)}
    if design.charger is None:
        missing["match"] = ("no unit chosen",)
    empty = tuple(
        f"no cable in the {run} run"
        for run in ("supply", "delivery")
        if not any(isinstance(piece, Cable) for piece in getattr(design, run).pieces)
    )
    missing["run"] = empty
    missing["wake"] = () if design.activation.methods else ("no way chosen",)
    return {
        stage: StageState(
            missing=missing.get(stage, ()),
            stops=sum(item.level == "stop" and item.stage == stage for item in findings),
            cautions=sum(item.level == "caution" and item.stage == stage for item in findings),
        )
        for stage in STAGES
    }
