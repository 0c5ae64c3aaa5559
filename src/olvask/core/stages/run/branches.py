"""What is taken off a run, what joins it, and cables laid in parallel.

- `judge_branches`: each tail against the device actually above it.
- `judge_joints`: plugs and connectors by rating, polarity and stowage.
- `judge_parallel`: when parallel cables may share a current.
- `judge_selectivity`: devices in series on one path.
"""

from __future__ import annotations

from olvask.core.catalogue import NoStandardSize, conductor, conductors, device
from olvask.core.circuit.solve import RunName, Solved, ampacity
from olvask.core.findings.assessment import WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Branch, Cable, Design, Joint, ProtectiveDevice
from olvask.core.stages.run.cables import RUNS, continuous_a, guard_index, run_of, through_a
from olvask.core.stages.run.protection import CONTINUOUS_FACTOR, battery_side, prospective_a, suitable_device

PARALLEL_MM2 = 50.0  # cables in parallel share only from here up (1/0 AWG is 53.5), NFPA 70-2023 310.10(G)
SELECTIVE = 1.6  # ratio of ratings from which the smaller of two fuses opens first, IEC 60269-2 form


def judge_branches(design: Design, ledger: Ledger) -> None:
    """Each tail against the device above it: its own, else the run's.

    Args:
        design: the design.
        ledger: where findings go.
    """
    for run in RUNS:
        for index, piece in enumerate(run_of(design, run).pieces):
            if isinstance(piece, Branch):
                _judge_tail(design, ledger, run, index, piece)


def _judge_tail(design: Design, ledger: Ledger, run: RunName, index: int, piece: Branch) -> None:
    place = f"{run}.{index}"
    carries_a = ampacity(piece.cable(), design.choices.ampacity_school)[0]
    name = f"{piece.name} ({piece.size})"

    def ways() -> list[WayOut | None]:
        return [_guard(design, run, index, piece, carries_a), _grow(design, run, index, piece)]

    if piece.current_a > carries_a:
        ledger.finding(
            f"protect.branch_ampacity.{place}",
            "stop",
            "run",
            place,
            f"The tail of {name} cannot carry its current",
            f"{piece.current_a:g} A against {carries_a:.1f} A by the chosen tables.",
            lambda: [_grow(design, run, index, piece)],
        )
    guard = piece.device
    if guard is None:
        above = guard_index(run, run_of(design, run), index)
        rating_a = None
        if above is not None:
            found = run_of(design, run).pieces[above]
            rating_a = found.rating_a if isinstance(found, ProtectiveDevice) else None
        if rating_a is None or rating_a > carries_a + 1e-9:
            what = (
                "nothing stands above it" if rating_a is None else f"the {rating_a:g} A device above lets through more"
            )
            ledger.finding(
                f"protect.branch.{place}",
                "stop",
                "run",
                place,
                f"The tail of {name} is not protected",
                f"It carries {carries_a:.1f} A and {what}. Fans, signal and sense wires burn like any other.",
                ways,
            )
        return
    item = device(guard.family, guard.rating_a)
    nominal_v = battery_side(design, run)[2]
    short_a = prospective_a(design, run, index)
    faults = []
    if guard.rating_a < CONTINUOUS_FACTOR * piece.current_a - 1e-9:
        faults.append(f"opens in service: 1.25 · {piece.current_a:g} A")
    if guard.rating_a > carries_a + 1e-9:
        faults.append(f"lets through more than the {carries_a:.1f} A the tail carries")
    if item.interrupt_a(nominal_v) < short_a:
        faults.append(f"breaks {item.interrupt_a(nominal_v):.0f} A where {short_a:.0f} A may flow")
    if faults:
        ledger.finding(
            f"protect.branch_device.{place}",
            "stop",
            "run",
            place,
            f"{item.label} {item.rating_a:g} A is wrong for {name}",
            f"It {' and '.join(faults)}.",
            ways,
        )


def _guard(design: Design, run: RunName, index: int, piece: Branch, carries_a: float) -> WayOut | None:
    try:
        found = suitable_device(
            piece.current_a, carries_a, battery_side(design, run)[2], prospective_a(design, run, index)
        )
    except NoStandardSize:
        return None
    value = {"kind": "device", "family": found.family, "rating_a": found.rating_a}
    return way_out(f"Guard it with {found.label} {found.rating_a:g} A", (f"{run}.pieces.{index}.device", value))


def _grow(design: Design, run: RunName, index: int, piece: Branch) -> WayOut | None:
    """The smallest tail of the same system for which a device exists, and that device."""
    system = conductor(piece.size).system
    for size in conductors():
        if size.system != system or size.area_mm2 <= conductor(piece.size).area_mm2:
            continue
        grown = piece.model_copy(update={"size": size.size})
        guard = _guard(design, run, index, grown, ampacity(grown.cable(), design.choices.ampacity_school)[0])
        if guard is not None:
            return way_out(
                f"{size.size} tail: {guard.label[0].lower()}{guard.label[1:]}",
                (f"{run}.pieces.{index}.size", size.size),
                *((item.path, item.value) for item in guard.changes),
            )
    return None


def judge_joints(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> None:
    """Plugs and connectors: rating against the current through them, polarity, stowage.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where findings go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    for run in RUNS:
        described = run_of(design, run)
        amps = continuous_a(design, solved, run, hold_v)
        for index, piece in enumerate(described.pieces):
            if isinstance(piece, Joint) and piece.form in ("plug", "connector"):
                _judge_plug(ledger, f"{run}.{index}", piece, through_a(design, run, index, amps))


def _judge_plug(ledger: Ledger, place: str, piece: Joint, amps: float) -> None:
    if piece.rating_a is None:
        if piece.form == "plug" and amps > 0:
            ledger.finding(
                f"run.plug_rating.{place}",
                "caution",
                "run",
                place,
                f"No rating is noted for the {piece.name}",
                f"{amps:.1f} A go through its contacts. Read the rating off it or its sheet.",
            )
    elif amps > piece.rating_a:
        ledger.finding(
            f"run.plug.{place}",
            "stop",
            "run",
            place,
            f"The {piece.name} is rated too low",
            f"{amps:.1f} A continuous through contacts rated {piece.rating_a:g} A: they heat, and {piece.resistance_mohm:g} mΩ grow.",
        )
    if not piece.keyed:
        ledger.finding(
            f"run.plug_polarity.{place}",
            "caution",
            "run",
            place,
            f"The {piece.name} can be mated the wrong way round",
            "Reversed, it puts the batteries in series through the cable. Use one that is keyed, or mark and guard it.",
        )
    if piece.form == "plug":
        ledger.finding(
            f"run.plug_handling.{place}",
            "note",
            "run",
            place,
            f"Part the {piece.name} unloaded",
            "Switch charging off first, stow both halves dry and capped; contacts that arc or corrode add milliohms.",
        )


def judge_parallel(design: Design, ledger: Ledger) -> None:
    """Cables in parallel: large enough, alike, and guarded by what one of them carries if the others break."""
    for run in RUNS:
        described = run_of(design, run)
        for index, piece in enumerate(described.pieces):
            if not isinstance(piece, Cable) or piece.parallel == 1:
                continue
            place = f"{run}.{index}"
            alike = "Equal length, size and ends, along one path, joined at both ends."
            area = conductor(piece.size).area_mm2
            if area < PARALLEL_MM2:
                ledger.finding(
                    f"run.parallel.{place}",
                    "stop",
                    "run",
                    place,
                    f"{piece.size} is too small to lay in parallel",
                    f"Parallel cables share the current only from {PARALLEL_MM2:g} mm² up: below that a poor end overloads the "
                    "other. Use one larger cable.",
                    [_single(design, run, index, piece)],
                )
            at = guard_index(run, described, index)
            guard = described.pieces[at] if at is not None else None
            single_a = ampacity(piece.model_copy(update={"parallel": 1}), design.choices.ampacity_school)[0]
            if isinstance(guard, ProtectiveDevice) and guard.rating_a > single_a:
                ledger.finding(
                    f"run.parallel_guard.{place}",
                    "caution",
                    "run",
                    place,
                    "One device does not guard each of the parallel cables",
                    f"{guard.rating_a:g} A over cables of {single_a:.0f} A each: with one end loose the others carry it all. "
                    f"A device for each at both ends, or inspect the ends. {alike}",
                )
            else:
                ledger.finding(
                    f"run.parallel_alike.{place}", "note", "run", place, "Parallel cables must be alike", alike
                )


def _single(design: Design, run: RunName, index: int, piece: Cable) -> WayOut | None:
    wanted_mm2 = conductor(piece.size).area_mm2 * piece.parallel
    system = conductor(piece.size).system
    larger = next((item for item in conductors() if item.system == system and item.area_mm2 >= wanted_mm2), None)
    if larger is None:
        return None
    return way_out(
        f"One {larger.size} instead", (f"{run}.pieces.{index}.size", larger.size), (f"{run}.pieces.{index}.parallel", 1)
    )


def judge_selectivity(design: Design, ledger: Ledger) -> None:
    """Note devices in series on one path of which either may open first."""
    for run in RUNS:
        order = list(enumerate(run_of(design, run).pieces))
        if run == "delivery":
            order.reverse()
        above: ProtectiveDevice | None = None
        for index, piece in order:
            below = (
                piece if isinstance(piece, ProtectiveDevice) else piece.device if isinstance(piece, Branch) else None
            )
            if above is not None and below is not None and above.rating_a < SELECTIVE * below.rating_a:
                ledger.finding(
                    f"protect.selectivity.{run}.{index}",
                    "note",
                    "run",
                    f"{run}.{index}",
                    "Either of two devices may open first",
                    f"{above.rating_a:g} A above {below.rating_a:g} A: less than {SELECTIVE:g} times apart, a short beyond the "
                    "smaller may open the larger. Look at both when something is dead.",
                )
            if isinstance(piece, ProtectiveDevice):
                above = piece
