"""Protect: every positive conductor guarded at the battery it leaves, by a device that fits."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from olvask.core.catalogue import Device, NoStandardSize, conductor, conductors, device, devices
from olvask.core.circuit.solve import RunName, Solved, ampacity, run_state
from olvask.core.findings.assessment import GuardFacts, WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.findings.remedy import with_cable
from olvask.core.model import Branch, Cable, Design, ProtectiveDevice
from olvask.core.physics.battery import internal_ohm, open_circuit_v, prospective_short_a
from olvask.core.stages.run.cables import RUN_LABEL, RUNS, continuous_a, guard_index, run_of, state_of, through_a

CONTINUOUS_FACTOR = 1.25  # a device over its continuous current; the ampacity lies above the device
HOLDER_M = 0.2  # unprotected cable allowed between post and holder; ISO 10133:2012 clause 8.2 form
SYSTEM_MAX_V = {12: 16.0, 24: 32.0, 48: 60.0}


def battery_side(design: Design, run: RunName) -> tuple[str, float, int]:
    """Chemistry, capacity [Ah] and nominal voltage [V] of the battery a run is protected from."""
    if run == "supply":
        start = design.vehicle.start_battery
        return start.chemistry, start.capacity_ah, design.vehicle.system_v
    auxiliary = design.auxiliary
    return auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v


def guarded_ampacity_a(design: Design, run: RunName, index: int) -> float | None:
    """Smallest ampacity [A] of the cables that the device at `index` guards; `None` when it guards none."""
    described = run_of(design, run)
    amps = [
        ampacity(piece, design.choices.ampacity_school)[0]
        for at, piece in enumerate(described.pieces)
        if isinstance(piece, Cable) and guard_index(run, described, at) == index
    ]
    return min(amps, default=None)


def prospective_a(design: Design, run: RunName, index: int) -> float:
    """Prospective short-circuit current [A] at the device at `index`, cold path from the post."""
    described = run_of(design, run)
    before = described.pieces[:index] if run == "supply" else described.pieces[index + 1 :]
    path_ohm = 0.0
    if before:
        cold = run_state(described.model_copy(update={"pieces": before}), 0.0, design.choices.lug_mohm)
        path_ohm = cold.out_ohm
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    return prospective_short_a(chemistry, capacity_ah, nominal_v, path_ohm)


@lru_cache(maxsize=512)
def standing_devices(nominal_v: int, short_a: float) -> tuple[Device, ...]:
    """Devices that stand a system's volts [V nominal] and break a short circuit [A]."""
    return tuple(
        item
        for item in devices()
        if item.voltage_v >= SYSTEM_MAX_V[nominal_v] and item.interrupt_a(nominal_v) >= short_a
    )


def suitable_device(amps: float, ceiling_a: float, nominal_v: int, short_a: float, school: str = "fuse") -> Device:
    """Device for a place: smallest rating, then lowest price.

    Args:
        amps: continuous current [A].
        ceiling_a: ampacity of the smallest cable behind it [A].
        nominal_v: system voltage, nominal [V].
        short_a: prospective short-circuit current there [A].
        school: "breaker" wants a resettable device where one breaks that short circuit; the others a fuse.

    Raises:
        NoStandardSize: no standard device lies between 1.25 times the current and the ceiling and
            stands the voltage and the short circuit.
    """
    fitting = [
        item for item in standing_devices(nominal_v, short_a) if CONTINUOUS_FACTOR * amps <= item.rating_a <= ceiling_a
    ]
    if not fitting:
        raise NoStandardSize(
            f"no device between {CONTINUOUS_FACTOR * amps:.1f} A and {ceiling_a:.1f} A for {nominal_v} V and {short_a:.0f} A short circuit"
        )
    wanted = [item for item in fitting if item.resettable == (school == "breaker")]
    return min(wanted or fitting, key=lambda item: (item.rating_a, item.price))


def _device_change(item: Device) -> dict[str, object]:
    return {"kind": "device", "family": item.family, "rating_a": item.rating_a}


def fit_device(design: Design, solved: Solved, run: RunName, index: int, hold_v: float) -> WayOut | None:
    """Way out for the device at `index`: another device, or the cable grown until one fits."""
    amps = through_a(design, run, index, continuous_a(design, solved, run, hold_v))
    nominal_v = battery_side(design, run)[2]
    short_a = prospective_a(design, run, index)
    ceiling_a = guarded_ampacity_a(design, run, index)
    try:
        found = suitable_device(
            amps, ceiling_a if ceiling_a is not None else 1e9, nominal_v, short_a, design.choices.protection_school
        )
    except NoStandardSize:
        return _grow_and_fit(design, run, index, amps, nominal_v, short_a)
    return way_out(f"Use {found.label} {found.rating_a:g} A", (f"{run}.pieces.{index}", _device_change(found)))


def _grow_and_fit(
    design: Design, run: RunName, index: int, amps: float, nominal_v: int, short_a: float
) -> WayOut | None:
    """Grow every too-small cable behind the device to the first size for which a device exists."""
    described = run_of(design, run)
    guarded = [
        at
        for at, piece in enumerate(described.pieces)
        if isinstance(piece, Cable) and guard_index(run, described, at) == index
    ]
    areas = {at: conductor(piece.size) for at in guarded if isinstance(piece := described.pieces[at], Cable)}
    for size in conductors():
        grown = design
        changed = [
            at for at, present in areas.items() if present.system == size.system and present.area_mm2 < size.area_mm2
        ]
        for at in changed:
            grown = with_cable(grown, run, at, size.size)
        if not changed:
            continue
        try:
            found = suitable_device(
                amps, guarded_ampacity_a(grown, run, index) or 0.0, nominal_v, short_a, design.choices.protection_school
            )
        except NoStandardSize:
            continue
        return way_out(
            f"Grow the cable to {size.size} and use {found.label} {found.rating_a:g} A",
            *((f"{run}.pieces.{at}.size", size.size) for at in changed),
            (f"{run}.pieces.{index}", _device_change(found)),
        )
    return None


def judge_devices(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> tuple[GuardFacts, ...]:
    """Judge protection of both runs; facts of every device.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where figures and findings go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    facts: list[GuardFacts] = []
    for run in RUNS:
        described = run_of(design, run)
        if not any(isinstance(piece, Cable) for piece in described.pieces):
            continue
        _judge_presence(design, solved, ledger, run, hold_v)
        for index, piece in enumerate(described.pieces):
            if isinstance(piece, ProtectiveDevice):
                facts.append(_judge_device(design, solved, ledger, run, index, piece, hold_v))
            elif isinstance(piece, Branch) and piece.device is not None:
                facts.append(_tail_facts(design, run, index, piece, piece.device))
    return tuple(facts)


def _tail_facts(design: Design, run: RunName, index: int, piece: Branch, guard: ProtectiveDevice) -> GuardFacts:
    item, nominal_v = device(guard.family, guard.rating_a), battery_side(design, run)[2]
    return GuardFacts(
        place=f"{run}.{index}",
        label=f"{piece.name}: {item.label}",
        rating_a=item.rating_a,
        least_a=CONTINUOUS_FACTOR * piece.current_a,
        ceiling_a=ampacity(piece.cable(), design.choices.ampacity_school)[0],
        system_v=SYSTEM_MAX_V[nominal_v],
        voltage_v=item.voltage_v,
        prospective_a=prospective_a(design, run, index),
        interrupt_a=item.interrupt_a(nominal_v),
        fault_multiple=None,
        holder_m=None,
        verdict="good",
    )


def _bare_m(design: Design, run: RunName, index: int) -> float:
    """Cable between the battery's post and the device at `index` [m]."""
    pieces = run_of(design, run).pieces
    before = pieces[:index] if run == "supply" else pieces[index + 1 :]
    return sum(piece.length_m for piece in before if isinstance(piece, Cable))


def _judge_presence(design: Design, solved: Solved, ledger: Ledger, run: RunName, hold_v: float) -> None:
    described = run_of(design, run)
    order = list(enumerate(described.pieces))
    if run == "delivery":
        order.reverse()
    bare_m, at = 0.0, None
    for index, piece in order:
        if isinstance(piece, ProtectiveDevice):
            at = index
            break
        bare_m += piece.length_m if isinstance(piece, Cable) else 0.0
    if at is not None and bare_m <= HOLDER_M:
        return
    battery = "start battery" if run == "supply" else "auxiliary battery"
    place = "start_battery" if run == "supply" else "auxiliary"
    if at is None:
        text = f"No device guards the {run} run at the {battery}: a short would draw {prospective_a(design, run, order[0][0]):.0f} A through it."
    else:
        text = f"{bare_m:.2f} m of cable leaves the {battery} before its device; at most {HOLDER_M:g} m is held to."
    ledger.finding(
        f"protect.missing.{run}",
        "stop",
        "run",
        place,
        f"{RUN_LABEL[run]} is not protected at the battery",
        text,
        lambda: [_insert_device(design, solved, run, hold_v)],
    )


def _insert_device(design: Design, solved: Solved, run: RunName, hold_v: float) -> WayOut | None:
    placeholder = ProtectiveDevice(family="sf30", rating_a=30)
    described = run_of(design, run)
    pieces = (placeholder, *described.pieces) if run == "supply" else (*described.pieces, placeholder)
    index = 0 if run == "supply" else len(pieces) - 1
    trial = design.model_copy(update={run: described.model_copy(update={"pieces": pieces})})
    fitted = fit_device(trial, solved, run, index, hold_v)
    if fitted is None:
        return None
    dumped = [piece.model_dump(mode="json") for piece in pieces]
    for change in fitted.changes:
        steps = change.path.split(".")
        if len(steps) == 3:
            dumped[int(steps[2])] = change.value
        else:
            dumped[int(steps[2])][steps[3]] = change.value
    return way_out(
        f"Put a device at the battery: {fitted.label[0].lower()}{fitted.label[1:]}", (f"{run}.pieces", dumped)
    )


class _Remedy:
    """The way out of a device's faults, computed when the first of them is written down."""

    def __init__(self, make: Callable[[], WayOut | None]) -> None:
        self._make = make
        self._made: list[WayOut | None] | None = None

    def once(self) -> list[WayOut | None]:
        if self._made is None:
            self._made = [self._make()]
        return self._made


def _device_figures(
    ledger: Ledger,
    run: RunName,
    index: int,
    item: Device,
    amps: float,
    ceiling_a: float | None,
    short_a: float,
    nominal_v: int,
) -> None:
    least_a = CONTINUOUS_FACTOR * amps
    ledger.figure(
        f"{run}.device.{index}.least_rating_a",
        f"Least rating for {item.label} {item.rating_a:g} A",
        least_a,
        "A",
        formula="1.25 · I_continuous",
        working=f"1.25 · {amps:.1f} A = {least_a:.1f} A ≤ {item.rating_a:g} A"
        + (f" ≤ {ceiling_a:.0f} A" if ceiling_a is not None else ""),
        source="fuse guards the cable: 1.25 · I ≤ rating ≤ ampacity",
        changes="a larger device, or less current",
    )
    ledger.figure(
        f"{run}.device.{index}.prospective_a",
        f"Short circuit at {item.label} {item.rating_a:g} A",
        short_a,
        "A",
        formula="max(V / (R_batt + R_path), 10 · Ah for lithium)",
        working=f"{short_a:.0f} A against {item.interrupt_a(nominal_v):.0f} A interrupt rating at {nominal_v} V",
        source="Ohm's law; " + item.source,
        changes="another device family",
    )


def _judge_device(
    design: Design, solved: Solved, ledger: Ledger, run: RunName, index: int, piece: ProtectiveDevice, hold_v: float
) -> GuardFacts:
    item = device(piece.family, piece.rating_a)
    place = f"{run}.{index}"
    amps = through_a(design, run, index, continuous_a(design, solved, run, hold_v))
    before = len(ledger.findings)
    ceiling_a = guarded_ampacity_a(design, run, index)
    nominal_v = battery_side(design, run)[2]
    short_a = prospective_a(design, run, index)
    least_a = CONTINUOUS_FACTOR * amps
    name = f"{item.label} {item.rating_a:g} A"
    if not ledger.verdicts_only:
        _device_figures(ledger, run, index, item, amps, ceiling_a, short_a, nominal_v)
    remedy = _Remedy(lambda: fit_device(design, solved, run, index, hold_v))
    if item.rating_a < least_a - 1e-9:
        ledger.finding(
            f"protect.small.{place}",
            "stop",
            "run",
            place,
            f"{name} is too small",
            f"It opens in service: 1.25 · {amps:.1f} A = {least_a:.1f} A is the least rating.",
            remedy.once,
        )
    if ceiling_a is not None and item.rating_a > ceiling_a + 1e-9:
        ledger.finding(
            f"protect.large.{place}",
            "stop",
            "run",
            place,
            f"{name} does not guard its cable",
            f"The smallest cable behind it carries {ceiling_a:.1f} A by the chosen tables.",
            remedy.once,
        )
    if item.voltage_v < SYSTEM_MAX_V[nominal_v]:
        ledger.finding(
            f"protect.voltage.{place}",
            "stop",
            "run",
            place,
            f"{name} is rated for too little voltage",
            f"{item.voltage_v:g} V against {SYSTEM_MAX_V[nominal_v]:g} V system maximum.",
            remedy.once,
        )
    if item.interrupt_a(nominal_v) < short_a:
        ledger.finding(
            f"protect.interrupt.{place}",
            "stop",
            "run",
            place,
            f"{name} cannot break a short circuit here",
            f"{short_a:.0f} A prospective; it breaks up to {item.interrupt_a(nominal_v):.0f} A at {nominal_v} V.",
            remedy.once,
        )
    if (
        design.choices.protection_school == "breaker"
        and not item.resettable
        and _bare_m(design, run, index) <= HOLDER_M
    ):
        ledger.finding(
            f"protect.school.{place}",
            "note",
            "run",
            place,
            "A fuse, where breakers are the school",
            f"{name}: no breaker of this rating stands the {short_a:.0f} A short circuit, or none is chosen. An isolator beside it.",
        )
    multiple = _judge_fault_current(design, solved, ledger, run, index, item)
    levels = [found.level for found in ledger.findings[before:]]
    return GuardFacts(
        place=place,
        label=item.label,
        rating_a=item.rating_a,
        least_a=least_a,
        ceiling_a=ceiling_a,
        system_v=SYSTEM_MAX_V[nominal_v],
        voltage_v=item.voltage_v,
        prospective_a=short_a,
        interrupt_a=item.interrupt_a(nominal_v),
        fault_multiple=multiple,
        holder_m=_bare_m(design, run, index),
        verdict="stop" if "stop" in levels else "caution" if "caution" in levels else "good",
    )


def _judge_fault_current(
    design: Design, solved: Solved, ledger: Ledger, run: RunName, index: int, item: Device
) -> float:
    chemistry, capacity_ah, nominal_v = battery_side(design, run)
    loop_ohm = state_of(solved, run, solved.worst).loop_ohm
    volts = open_circuit_v(chemistry, 0.5, nominal_v)
    fault_a = volts / (2 * internal_ohm(chemistry, capacity_ah, nominal_v) + loop_ohm)
    multiple = fault_a / item.rating_a
    ledger.figure(
        f"{run}.device.{index}.fault_multiple",
        f"Far-end short over {item.label} {item.rating_a:g} A",
        multiple,
        "×",
        formula="V / (2 · R_batt + R_loop) / rating",
        working=f"{volts:.1f} V / … = {fault_a:.0f} A, {multiple:.1f} × {item.rating_a:g} A",
        source="prompt opening needs several times the rating; battery half charged and aged to twice its resistance",
        changes="more copper, or a smaller device",
    )
    if multiple < design.choices.fault_multiple:
        ledger.finding(
            f"protect.fault.{run}.{index}",
            "caution",
            "run",
            f"{run}.{index}",
            "A far short may not open it promptly",
            f"A short at the far end draws {fault_a:.0f} A, {multiple:.1f} times the {item.rating_a:g} A rating; "
            f"{design.choices.fault_multiple:g} times is held to. More copper or a smaller device.",
        )
    return multiple


FIRST_LAY_M = 3.0


def judge_empty(design: Design, solved: Solved, ledger: Ledger, hold_v: float) -> None:
    """Say which run is not laid yet, and propose a first one to work on.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where findings go.
        hold_v: lowest voltage the unit keeps working at [V].
    """
    for run in RUNS:
        if any(isinstance(piece, Cable) for piece in run_of(design, run).pieces):
            continue
        ledger.finding(
            f"run.empty.{run}",
            "caution",
            "run",
            "charger",
            f"{RUN_LABEL[run]} is not laid",
            "Lay a first run, then set its real length and size on the line.",
            [_first_lay(design, solved, run, hold_v)],
        )


def _first_lay(design: Design, solved: Solved, run: RunName, hold_v: float) -> WayOut | None:
    """Device and the smallest cable that holds the drop limit over a first length."""
    unit, output = design.charger, solved.output
    if unit is None or output is None:
        return None
    amps = continuous_a(design, solved, run, hold_v)
    nominal_v = battery_side(design, run)[2]
    chemistry, capacity_ah, _ = battery_side(design, run)
    short_a = prospective_short_a(chemistry, capacity_ah, nominal_v, 0.0)
    allowed_ohm = design.choices.drop_percent / 100 * nominal_v / amps if amps > 0 else 0.0
    for size in conductors():
        if size.system != "metric" or 2 * FIRST_LAY_M * size.resistance_20c_ohm_per_km / 1000 > 0.8 * allowed_ohm:
            continue
        cable = Cable(size=size.size, length_m=FIRST_LAY_M)
        try:
            found = suitable_device(
                amps,
                ampacity(cable, design.choices.ampacity_school)[0],
                nominal_v,
                short_a,
                design.choices.protection_school,
            )
        except NoStandardSize:
            continue
        pieces = [_device_change(found), cable.model_dump(mode="json")]
        label = f"Lay {FIRST_LAY_M:g} m of {size.size} behind a {found.label} {found.rating_a:g} A"
        return way_out(label, (f"{run}.pieces", pieces if run == "supply" else pieces[::-1]))
    return None
