"""A managed link beside the design: a contactor closed and opened by time, with its cable, devices and a day's charge.

- `managed_link`: how it would be built over this job's distances, what it charges in a drive, and what speaks against it.

Its equations are those of the simulator's auxiliary battery; the link is volts and resistance, nothing else.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

from pydantic import Field

from olvask.core.catalogue import Conductor, Device, NoStandardSize, conductors
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.facts import charge_volts, gather
from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.driven import of_its_drive
from olvask.core.findings.finding import Level
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.model import Cable, Design
from olvask.core.physics.battery import prospective_short_a
from olvask.core.physics.conductors import resistance_ohm
from olvask.core.simulate.batteries import Cell
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.trip import Trial
from olvask.core.stages.match.direct_link import LINK_RUN_OHM, SHORT_V, held_a, link_current_a
from olvask.core.stages.match.limits import alternator_budgets
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR, INDUSTRIAL, suitable_device

PERIOD_MIN = 20.0  # on and off together: long beside a bounce, short beside an alternator's warming; our own estimate
CONTACTS_A = (
    70.0,
    100.0,
    150.0,
    200.0,
    300.0,
    500.0,
)  # continuous ratings of contactors, R10 preferred numbers or near
BEGUN = 0.5  # charge a drive begins with, for the comparison
DRIVE_H = 3.0  # a drive, where none is surveyed; our own estimate
RUN_M = 5.0  # battery to battery, where nothing is measured; our own estimate
STEP_S = 60.0
MOST_EVENTS = 40  # a unit that starts and stops more often in one drive is no measure
RUSH = 1.5  # times what it goes on with: worth a word; our own estimate
HOT_W = 50.0  # worth a word; our own estimate
WARM_C = 60.0  # the cable under its load; our own estimate


class Reason(Said):
    """Something that speaks against it, and how gravely."""

    level: Level
    text: str


class ManagedLink(Said):
    """A managed link as it would be built, and what it does in one drive beside the design's unit."""

    verdict: Literal["possible", "not_here"]
    on_min: float = Field(description="minutes closed in each period")
    off_min: float
    first_a: float = Field(description="at the moment of closing, hot idle, auxiliary battery at 20 %")
    held_a: float = Field(
        description="once the first rush is past: what a lead battery takes, lithium as much as at first"
    )
    mean_a: float = Field(description="the same over on and off")
    contact_a: float | None = Field(description="continuous rating of the contactor; none where none is large enough")
    device: str = Field(description="the device at either end; empty where none fits")
    cable: str
    length_m: float
    drive_h: float
    charged_ah: float = Field(description="in one drive from half full")
    ended: float = Field(description="charge at its end")
    unit_ah: float | None = Field(description="what the design's unit charges in the same drive")
    reasons: tuple[Reason, ...]


class _Built(NamedTuple):
    """A cable with its device, and what the link passes through it at first [A]."""

    size: Conductor
    device: Device
    amps: float
    wire_ohm: float


@of_its_drive
def managed_link(design: Design) -> ManagedLink | None:
    """The managed link of a design; `None` where the batteries differ in nominal voltage.

    Args:
        design: the design.
    """
    if design.auxiliary.nominal_v != design.vehicle.system_v:
        return None
    facts = gather(design)
    solved = solve(design, facts=facts)
    length_m = _length_m(design)
    built = _built(design, solved, length_m)
    amps = built.amps if built is not None else link_current_a(design, solved, LINK_RUN_OHM)[0]
    budget_a = alternator_budgets(design, facts).of(design.choices.alternator_school)
    kept_a = held_a(design, facts, amps)
    duty = 1.0 if kept_a <= budget_a else budget_a / kept_a
    on_min = PERIOD_MIN if duty >= 1 else max(0.5, round(duty * PERIOD_MIN * 2) / 2)
    contact_a = next((rated for rated in CONTACTS_A if rated >= CONTINUOUS_FACTOR * amps), None)
    drive_h = design.use.drive_h or DRIVE_H
    wire_ohm = built.wire_ohm if built is not None else LINK_RUN_OHM
    ended, charged_ah = _driven(design, solved, wire_ohm, on_min / PERIOD_MIN, drive_h)
    reasons = tuple(_reasons(design, solved, (amps, kept_a), wire_ohm, ended, contact_a is None or built is None))
    return ManagedLink(
        verdict="not_here" if any(item.level == "stop" for item in reasons) else "possible",
        on_min=on_min,
        off_min=PERIOD_MIN - on_min,
        first_a=amps,
        held_a=kept_a,
        mean_a=kept_a * on_min / PERIOD_MIN,
        contact_a=contact_a,
        device=f"{built.device.label} {built.device.rating_a:g} A" if built is not None else "",
        cable=built.size.size if built is not None else "",
        length_m=length_m,
        drive_h=drive_h,
        charged_ah=charged_ah,
        ended=ended,
        unit_ah=_unit_ah(design, solved, drive_h),
        reasons=reasons,
    )


def _length_m(design: Design) -> float:
    """Battery to battery, one way [m]: as laid, as measured, or a usual length."""
    laid_m = sum(
        piece.length_m for run in (design.supply, design.delivery) for piece in run.pieces if isinstance(piece, Cable)
    )
    measured_m = (design.distances.supply_m or 0.0) + (design.distances.delivery_m or 0.0)
    return laid_m or measured_m or RUN_M


def _built(design: Design, solved: Solved, length_m: float) -> _Built | None:
    """The thinnest cable within the drop limit whose device stands 1.25 times what the link passes through that cable.

    Where none keeps the limit, the thickest that can be protected.
    """
    best: _Built | None = None
    battery = design.vehicle.start_battery
    short_a = prospective_short_a(battery.chemistry, battery.capacity_ah, design.vehicle.system_v, 0.0)
    for size in conductors():
        if size.system != "metric":
            continue
        wire_ohm = resistance_ohm(size.resistance_20c_ohm_per_km, 2 * length_m, WARM_C)
        amps = link_current_a(design, solved, wire_ohm)[0]
        try:
            carries_a = ampacity(Cable(size=size.size, length_m=length_m), design.choices.ampacity_school)[0]
            fitted = suitable_device(
                CONTINUOUS_FACTOR * amps, carries_a, design.vehicle.system_v, short_a, design.choices.protection_school
            )
        except NoStandardSize:
            continue
        if fitted.family in INDUSTRIAL:
            continue  # no part of a link between batteries
        best = _Built(size, fitted, amps, wire_ohm)
        if 100 * amps * wire_ohm / design.vehicle.system_v <= design.choices.drop_percent:
            break
    return best


def _cell(design: Design, solved: Solved) -> Cell:
    auxiliary, facts = design.auxiliary, solved.facts
    limit_a, full_v = float(facts.charge_limit.value), charge_volts(auxiliary)[0]
    return Cell(auxiliary.chemistry, auxiliary.capacity_ah, auxiliary.nominal_v, limit_a, full_v)


def _driven(design: Design, solved: Solved, wire_ohm: float, duty: float, drive_h: float) -> tuple[float, float]:
    """Charge at the end of a drive, and what went in [Ah]: cruising, the link closed for its share of the time."""
    cell = _cell(design, solved)
    cruise = solved.running_by_key("cruise") or solved.running[0]
    source, left_a, charge, into_ah = cruise.source, cruise.left_a, BEGUN, 0.0
    for _ in range(round(drive_h * 3600 / STEP_S)):
        ohm, most_a = cell.against(charge)
        amps = (source.regulated_v - cell.ocv(charge)) / (ohm + wire_ohm + source.sag_ohm)
        amps = max(0.0, min(amps, most_a, amps if left_a is None else left_a)) * duty
        into_ah += amps * STEP_S / 3600
        charge = min(1.0, charge + cell.hourly(charge, amps) * STEP_S)
    return charge, into_ah


def _unit_ah(design: Design, solved: Solved, drive_h: float) -> float | None:
    """What the design's own unit charges in the same drive [Ah]; `None` without one, or where it hunts."""
    if design.charger is None or solved.output is None:
        return None
    cruising = Stretch(engine="cruise", duration_s=drive_h * 3600, ignition=True)
    trial = Trial(design, Programme(stretches=(cruising,), auxiliary_charge=BEGUN), solved=solved, recorded=False)
    for _ in trial.parts():
        if len(trial.trip.events) > MOST_EVENTS:
            return None
    return trial.trip.charged_ah


def _reasons(
    design: Design, solved: Solved, flows: tuple[float, float], wire_ohm: float, ended: float, unbuilt: bool
) -> Iterator[Reason]:
    """What speaks against it, gravest first; it flows so at first, and then."""
    (amps, kept_a), idle = flows, solved.running[0]
    if unbuilt:
        yield Reason(level="stop", text=f"No contactor, device and cable carry the {amps:.0f} A of its first moment.")
    if design.auxiliary.chemistry != design.vehicle.start_battery.chemistry and design.auxiliary.chemistry == "lfp":
        yield Reason(
            level="stop",
            text="Lithium takes whatever the alternator gives, and when its management opens under charge the alternator "
            "answers with a voltage surge. It needs an alternator protected against that by its maker's word.",
        )
    if solved.running_by_key("low") is not None:
        yield Reason(
            level="stop" if design.vehicle.managed else "caution",
            text="In a low phase the auxiliary battery feeds the vehicle: the link has to open by voltage as well as by time.",
        )
    left_a = idle.left_a
    if left_a is not None and kept_a > left_a:
        yield Reason(
            level="caution",
            text=f"While closed it takes {kept_a:.0f} A where hot idle leaves {left_a:.0f} A; only the rests between let the "
            "alternator cool.",
        )
    absorption_v, _ = charge_volts(design.auxiliary)
    most_v = max(state.source.regulated_v for state in solved.healthy)
    if most_v < absorption_v - SHORT_V * solved.facts.scale:
        yield Reason(
            level="caution",
            text=f"The battery wants {absorption_v:.2f} V and is offered {most_v:.2f} V: {percent(ended)} after the drive, and never "
            "full.",
        )
    if amps > RUSH * kept_a:
        yield Reason(
            level="note",
            text=f"In its first moment {amps:.0f} A flow, for the most part out of the start battery; then what the battery takes, "
            f"{kept_a:.0f} A at most.",
        )
    if not unbuilt and amps**2 * wire_ohm > HOT_W:
        yield Reason(level="note", text=f"{amps**2 * wire_ohm:.0f} W heat its cable in the first moment.")
    yield Reason(
        level="note",
        text="The contactor is driven by D+ or engine-run, never by the key alone; it welds when it fails, so both ends keep "
        "their device.",
    )
