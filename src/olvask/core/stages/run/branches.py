"""What is taken off a run, what joins it, and cables laid in parallel.

- `judge_branches`: each tail against the device actually above it.
- `judge_joints`: plugs and connectors by rating, polarity and stowage.
- `judge_parallel`: when parallel cables may share a current.
- `judge_selectivity`: devices in series on one path.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import NoStandardSize, conductor, conductors, device
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import run_state, through_a
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import apart, capital
from olvask.core.findings.remedy import joined, remedy
from olvask.core.model import RUNS, Branch, Cable, Design, Joint, ProtectiveDevice, Run, RunName, fresh_id
from olvask.core.physics.rounding import over, under
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR, SYSTEM_MAX_V, suitable_device
from olvask.core.stages.run.growth import resized, size_path, terminal_index
from olvask.core.stages.run.protection import device_above
from olvask.core.stages.run.shorts import at_work, battery_side, far_end_short_a, prospective_a
from olvask.core.stages.run.terminals import TAIL_JOINT_MOHM, TAIL_M

PARALLEL_MM2 = 50.0  # cables in parallel share only from here up (1/0 AWG is 53.5), NFPA 70-2023 310.10(G)
SELECTIVE = 1.6  # ratio of ratings from which the smaller of two fuses opens first, IEC 60269-2 form


def judge_branches(ctx: Context) -> Judged:
    """Each tail against the device above it: its own, else the run's."""
    for run in RUNS:
        for index, piece in enumerate(ctx.design.run(run).pieces):
            if isinstance(piece, Branch):
                yield from _judge_tail(ctx, run, index, piece)


def _judge_tail(ctx: Context, run: RunName, index: int, piece: Branch) -> Iterator[Found]:
    design = ctx.design
    carries_a = ampacity(piece.cable(), design.choices.ampacity_school)[0]
    name = f"{piece.called} ({piece.size})"

    def remedies() -> list[Remedy | None]:
        return [_protect(design, run, index, piece, carries_a) or _grow(design, run, index, piece)]

    if piece.current_a > carries_a:
        yield stop(
            f"protect.branch_ampacity.{piece.id}",
            piece.id,
            f"The tail of {name} cannot carry its current",
            f"{piece.current_a:g} A against {apart(carries_a, piece.current_a, 1, entered=True)[0]} A by the chosen tables.",
            lambda: [_grow(design, run, index, piece)],
            concerns=(piece.id,),
        )
    if piece.device is None:
        what = _unprotected(design, run, index, carries_a)
        if what:
            yield stop(
                f"protect.branch.{piece.id}",
                piece.id,
                f"The tail of {name} is not protected",
                f"It carries {carries_a:.1f} A and {what}. Fans, signal and sense wires burn like any other.",
                remedies,
                concerns=(piece.id,),
            )
        else:
            yield from _judge_far_end(ctx, run, index, piece)
        return
    yield from _judge_far_end(ctx, run, index, piece)
    if piece.current_a <= piece.device.rating_a and under(piece.device.rating_a, CONTINUOUS_FACTOR * piece.current_a):
        yield caution(
            f"protect.branch_tight.{piece.id}",
            piece.id,
            f"The device of {name} runs close to its rating",
            f"{piece.current_a:g} A through {piece.device.rating_a:g} A; the rule is 80 %.",
            remedies,
            concerns=(piece.id,),
        )
    faults = _device_faults(design, run, index, piece, piece.device, carries_a)
    if faults:
        item = device(piece.device.family, piece.device.rating_a)
        yield stop(
            f"protect.branch_device.{piece.id}",
            piece.id,
            f"{capital(item.label)} {item.rating_a:g} A is wrong for {name}",
            f"It {' and '.join(faults)}.",
            remedies,
            concerns=(piece.id,),
        )


def _judge_far_end(ctx: Context, run: RunName, index: int, piece: Branch) -> Iterator[Found]:
    """Whether a short at the tail's far end opens the device that protects it."""
    guard, fault_a = _guard(ctx.design, run, index, piece), tail_fault_a(ctx, run, index, piece)
    least = ctx.design.choices.fault_multiple
    if guard is None or not under(fault_a, least * guard.rating_a):
        return
    own, times = (
        "its" if guard is piece.device else "the run's",
        apart(fault_a / guard.rating_a, least, 1, entered=True)[0],
    )
    yield caution(
        f"protect.branch_fault.{piece.id}",
        piece.id,
        f"A short at the end of {piece.called} may not open its device promptly",
        f"{piece.length_m:g} m of {piece.size}: it draws {fault_a:.0f} A, {times} times the "
        f"{guard.rating_a:g} A of {own} device; {least:g} times is wanted. More copper, or a smaller device.",
        lambda: [_prompt(ctx, run, index, piece)],
        concerns=(piece.id, "choices.fault_multiple"),
    )


def _guard(design: Design, run: RunName, index: int, piece: Branch) -> ProtectiveDevice | None:
    """The device that opens for a short in a tail: its own, else the run's above it."""
    if piece.device is not None:
        return piece.device
    at = device_above(run, design.run(run), index)
    above = design.run(run).pieces[at] if at is not None else None
    return above if isinstance(above, ProtectiveDevice) else None


def tail_fault_a(ctx: Context, run: RunName, index: int, piece: Branch) -> float:
    """Current of a short at a tail's far end [A], through the run as warm as it works and the tail as warm as its own load.

    Args:
        ctx: the design solved.
        run: the run it leaves.
        index: its position there.
        piece: the tail.
    """
    design = ctx.design
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    states = at_work(ctx, run).pieces
    towards = states[:index] if run == "supply" else states[index + 1 :]
    tail = run_state(Run(pieces=(piece.cable(),)), piece.current_a, design.choices.lug_mohm)
    own_ohm = device(piece.device.family, piece.device.rating_a).resistance_ohm if piece.device is not None else 0.0
    path_ohm = sum(state.out_ohm + state.back_ohm for state in towards) + tail.loop_ohm + own_ohm
    return far_end_short_a(chemistry, capacity_ah, nominal_v, path_ohm)


def _prompt(ctx: Context, run: RunName, index: int, piece: Branch) -> Remedy | None:
    """A smaller device of its own that opens promptly, else the smallest larger tail whose short opens the present one."""
    design, multiple = ctx.design, ctx.design.choices.fault_multiple
    carries_a = ampacity(piece.cable(), design.choices.ampacity_school)[0]
    smaller_a = min(carries_a, tail_fault_a(ctx, run, index, piece) / multiple)
    fitted = _protect(design, run, index, piece, smaller_a)
    if fitted is not None:
        return fitted
    guard, system = _guard(design, run, index, piece), conductor(piece.size).system
    for size in conductors():
        if guard is None or size.system != system or size.area_mm2 <= conductor(piece.size).area_mm2:
            continue
        grown = piece.model_copy(update={"size": size.size})
        if tail_fault_a(ctx, run, index, grown) >= multiple * guard.rating_a:
            return remedy(f"Use a {size.size} tail", (size_path(design, run, index), size.size))
    return None


def _unprotected(design: Design, run: RunName, index: int, carries_a: float) -> str:
    """What leaves a tail without a device of its own unprotected, in words; empty where the run's device will do."""
    described = design.run(run)
    above = device_above(run, described, index)
    found = described.pieces[above] if above is not None else None
    if not isinstance(found, ProtectiveDevice):
        return "nothing stands above it"
    if over(found.rating_a, carries_a):
        return f"the {found.rating_a:g} A device above lets through more"
    return ""


def _device_faults(
    design: Design, run: RunName, index: int, piece: Branch, fitted: ProtectiveDevice, carries_a: float
) -> list[str]:
    """What is wrong with a tail's own device, in words."""
    item, nominal_v = device(fitted.family, fitted.rating_a), battery_side(design, run)[2]
    short_a, faults = prospective_a(design, run, index), []
    if under(fitted.rating_a, piece.current_a):
        faults.append(f"opens in service: {piece.current_a:g} A flow")
    if over(fitted.rating_a, carries_a):
        faults.append(f"lets through more than the {carries_a:.1f} A the tail carries")
    if item.voltage_v < SYSTEM_MAX_V[nominal_v]:
        faults.append(f"stands {item.voltage_v:g} V where {SYSTEM_MAX_V[nominal_v]:g} V may come")
    elif item.interrupt_a(nominal_v) < short_a and not backed_up(design, run, index):
        faults.append(f"breaks {item.interrupt_a(nominal_v):.0f} A where {short_a:.0f} A may flow")
    return faults


def backed_up(design: Design, run: RunName, index: int) -> bool:
    """Whether the run's device above a tail breaks the short circuit there, so that a small holder in the tail may do."""
    at = device_above(run, design.run(run), index)
    above = design.run(run).pieces[at] if at is not None else None
    if not isinstance(above, ProtectiveDevice):
        return False
    nominal_v = battery_side(design, run)[2]
    return device(above.family, above.rating_a).interrupt_a(nominal_v) >= prospective_a(design, run, at or 0)


def _protect(design: Design, run: RunName, index: int, piece: Branch, carries_a: float) -> Remedy | None:
    """The device that suits a tail; behind one that breaks the short circuit, one that does not need to."""
    short_a = 0.0 if backed_up(design, run, index) else prospective_a(design, run, index)
    try:
        found = suitable_device(CONTINUOUS_FACTOR * piece.current_a, carries_a, battery_side(design, run)[2], short_a)
    except NoStandardSize:
        return None
    value = {"kind": "device", "family": found.family, "rating_a": found.rating_a}
    return remedy(f"Protect it with {found.label} {found.rating_a:g} A", (f"{run}.pieces.{piece.id}.device", value))


def _grow(design: Design, run: RunName, index: int, piece: Branch) -> Remedy | None:
    """The smallest tail of the same system for which a device exists, and that device."""
    system = conductor(piece.size).system
    for size in conductors():
        if size.system != system or size.area_mm2 <= conductor(piece.size).area_mm2:
            continue
        grown = piece.model_copy(update={"size": size.size})
        fitted = _protect(design, run, index, grown, ampacity(grown.cable(), design.choices.ampacity_school)[0])
        if fitted is not None:
            label = f"{size.size} tail: {fitted.label[0].lower()}{fitted.label[1:]}"
            return joined(label, [(size_path(design, run, index), size.size)], fitted)
    return None


def judge_joints(ctx: Context) -> Judged:
    """Plugs and connectors: rating against the current through them, polarity, stowage."""
    for run in RUNS:
        described = ctx.design.run(run)
        amps = ctx.continuous_a(run)
        for index, piece in enumerate(described.pieces):
            if isinstance(piece, Joint) and piece.form in ("plug", "connector"):
                supply = run == "supply"
                highest_a = through_a(described, supply, index, ctx.lingering_a(run))
                yield from _judge_plug(piece, through_a(described, supply, index, amps), highest_a)


def _judge_plug(piece: Joint, amps: float, highest_a: float) -> Iterator[Found]:
    concerns = (piece.id,)
    if piece.rating_a is None:
        if piece.form == "plug" and amps > 0:
            yield caution(
                f"run.plug_rating.{piece.id}",
                piece.id,
                f"No rating is noted for the {piece.called}",
                f"{amps:.1f} A go through its contacts. Read the rating off it or its sheet.",
                concerns=concerns,
            )
    elif max(amps, highest_a) > piece.rating_a:
        yield stop(
            f"run.plug.{piece.id}",
            piece.id,
            f"The {piece.called} is rated too low",
            f"Up to {max(amps, highest_a):.1f} A through contacts rated {piece.rating_a:g} A: they heat, and their "
            f"{piece.resistance_mohm:g} mΩ grow.",
            concerns=concerns,
        )
    elif CONTINUOUS_FACTOR * amps > piece.rating_a:
        yield caution(
            f"run.plug_tight.{piece.id}",
            piece.id,
            f"The {piece.called} runs close to its rating",
            f"{amps:.1f} A are {apart(100 * amps / piece.rating_a, 80, 0)[0]} % of its {piece.rating_a:g} A; 80 % is the rule.",
            concerns=concerns,
        )
    if not piece.keyed:
        yield caution(
            f"run.plug_polarity.{piece.id}",
            piece.id,
            f"The {piece.called} can be mated the wrong way round",
            "Reversed, it puts the batteries in series through the cable. Use one that is keyed, or mark and cover it.",
            concerns=concerns,
        )
    if piece.form == "plug":
        yield note(
            f"run.plug_handling.{piece.id}",
            piece.id,
            f"Part the {piece.called} unloaded",
            "Switch charging off first, stow both halves dry and capped; contacts that arc or corrode add milliohms.",
            concerns=concerns,
        )


def judge_parallel(ctx: Context) -> Judged:
    """Cables in parallel: large enough, alike, and protected by what one of them carries if the others break."""
    for run in RUNS:
        for index, piece in enumerate(ctx.design.run(run).pieces):
            if isinstance(piece, Cable) and piece.parallel > 1:
                yield from _judge_parallel_cable(ctx.design, run, index, piece)


def too_small_in_parallel(cable: Cable) -> bool:
    """Whether a cable is laid in parallel with its like though too small to share the current with them."""
    return cable.parallel > 1 and conductor(cable.size).area_mm2 < PARALLEL_MM2


def _judge_parallel_cable(design: Design, run: RunName, index: int, piece: Cable) -> Iterator[Found]:
    described, alike = design.run(run), "Equal length, size and ends, along one path, joined at both ends."
    if too_small_in_parallel(piece):
        yield stop(
            f"run.parallel.{piece.id}",
            piece.id,
            f"{piece.size} is too small to lay in parallel",
            f"Parallel cables share the current only from {PARALLEL_MM2:g} mm² up: below that a poor end overloads the "
            "other. Use one larger cable.",
            [_single(design, run, index, piece)],
            concerns=(piece.id,),
        )
    at = device_above(run, described, index)
    above = described.pieces[at] if at is not None else None
    single_a = ampacity(piece.model_copy(update={"parallel": 1}), design.choices.ampacity_school)[0]
    if isinstance(above, ProtectiveDevice) and above.rating_a > single_a:
        yield caution(
            f"run.parallel_device.{piece.id}",
            piece.id,
            "One device does not protect each of the parallel cables",
            f"{above.rating_a:g} A over cables of {single_a:.0f} A each: with one end loose the others carry it all. "
            f"A device for each at both ends, or inspect the ends. {alike}",
            concerns=(piece.id, above.id),
        )
    else:
        yield note(
            f"run.parallel_alike.{piece.id}", piece.id, "Parallel cables must be alike", alike, concerns=(piece.id,)
        )


def _single(design: Design, run: RunName, index: int, piece: Cable) -> Remedy | None:
    wanted_mm2 = conductor(piece.size).area_mm2 * piece.parallel
    system = conductor(piece.size).system
    larger = next((item for item in conductors() if item.system == system and item.area_mm2 >= wanted_mm2), None)
    if larger is None:
        return None
    return remedy(
        f"One {larger.size} instead",
        *resized(design, run, index, larger.size),
        (f"{run}.pieces.{piece.id}.parallel", 1),
    )


def judge_shared_tail(ctx: Context) -> Judged:
    """Several units on one cable with no bus bar before them."""
    design = ctx.design
    if design.units == 1 or design.charger is None:
        return
    for run in RUNS:
        at = terminal_index(design, run)
        pieces = design.run(run).pieces
        if at is None:
            continue
        before = at - 1 if run == "supply" else at + 1
        if 0 <= before < len(pieces) and isinstance(pieces[before], Joint):
            continue
        yield caution(
            f"run.shared_tail.{run}",
            pieces[at].id,
            f"{design.units} units hang on one tail",
            f"The {run} run ends at the units without a bus bar. Each needs its own tail into its own terminal, with its own "
            "device; the parts list counts them from a bus bar.",
            [_bus_bar(design, run, at)],
            concerns=(pieces[at].id, "units"),
        )


def _bus_bar(design: Design, run: RunName, at: int) -> Remedy:
    """A bus bar before the units, and each one's tail behind it."""
    pieces = [item.model_dump(mode="json") for item in design.run(run).pieces]
    bar = {
        "kind": "joint",
        "id": fresh_id(design, "j"),
        "form": "bus_bar",
        "name": "bus bar",
        "resistance_mohm": TAIL_JOINT_MOHM,
    }
    tail = pieces[at] | {"id": fresh_id(design, "c"), "length_m": TAIL_M, "parallel": 1}
    made = [*pieces[: at + 1], bar, tail] if run == "supply" else [tail, bar, *pieces[at:]]
    return remedy("Put a bus bar before the units", (f"{run}.pieces", made))


def judge_selectivity(ctx: Context) -> Judged:
    """Note devices in series on one path of which either may open first."""
    for run in RUNS:
        pieces = ctx.design.run(run).pieces
        above: ProtectiveDevice | None = None
        for piece in pieces if run == "supply" else pieces[::-1]:
            below = (
                piece if isinstance(piece, ProtectiveDevice) else piece.device if isinstance(piece, Branch) else None
            )
            if above is not None and below is not None and above.rating_a < SELECTIVE * below.rating_a:
                yield note(
                    f"protect.selectivity.{piece.id}",
                    piece.id,
                    "Either of two devices may open first",
                    f"{above.rating_a:g} A above {below.rating_a:g} A: less than {SELECTIVE:g} times apart, a short beyond "
                    "the smaller may open the larger. Look at both when something is dead.",
                    concerns=(piece.id, above.id),
                )
            if isinstance(piece, ProtectiveDevice):
                above = piece
