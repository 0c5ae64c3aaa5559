"""What the survey notes of the vehicle and its batteries that decides whether the job is safe and works.

- `judge_vehicle`: all of it.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import Design, OwnReturn, Vehicle


def judge_vehicle(ctx: Context) -> Judged:
    """A sensor on the start battery's negative, D+ taken for granted, links, cells that vent indoors."""
    design = ctx.design
    yield from _sensor(design)
    yield from _d_plus(design)
    yield from _links(design)
    yield from _venting(design)


def _sensor(design: Design) -> Iterator[Found]:
    if (
        design.vehicle.start_battery.negative_sensor
        and isinstance(design.supply.back, OwnReturn)
        and design.supply.pieces
    ):
        yield caution(
            "survey.negative_sensor",
            "start_battery",
            "Land the negative on the chassis side of the battery sensor",
            "The supply run's negative returns to the start battery, which has a sensor on its post. Landed on the post it "
            "bypasses the sensor and the vehicle miscounts its battery; cut list and labels say where it goes.",
            concerns=("vehicle.start_battery.negative_sensor", "supply.back"),
        )


def _d_plus(design: Design) -> Iterator[Found]:
    vehicle = design.vehicle
    if "d_plus" not in design.activation.ways or not vehicle.managed or not vehicle.signals.d_plus:
        return
    proven = design.provenance.get("vehicle.signals.d_plus") == "measured"
    if not proven:
        yield caution(
            "survey.d_plus_unproven",
            "alternator",
            "D+ on a managed alternator is to be measured",
            "Many engine-managed alternators speak to the engine by a data line and have no charge-indicator line. Measure "
            "that the wire is live only while the alternator charges, and mark it as measured.",
            concerns=("vehicle.signals.d_plus", "activation.ways"),
        )


def _links(design: Design) -> Iterator[Found]:
    links = [item for item in design.still_fed if item.joins]
    concerns = tuple(f"existing.{item.id}" for item in links)
    if len(links) > 1:
        names = ", ".join(item.name or "a link" for item in links)
        yield caution(
            "survey.two_links",
            "alternator",
            "More than one link joins the batteries",
            f"Noted are {names}. The plan deals with the first; while another stays, the batteries are joined past the unit. "
            "Cut the others off and say so at each.",
            [
                remedy(f"{item.name or 'The other'}: its feed is cut", (f"existing.{item.id}.cut", True))
                for item in links[1:]
            ],
            concerns=concerns,
        )
    if not links or design.old_link.decision != "keep":
        return
    away = [remedy("Disconnect the old link", ("old_link.decision", "disconnect"))]
    if design.auxiliary.nominal_v != design.vehicle.system_v:
        yield stop(
            "survey.link_voltages",
            "alternator",
            "A link cannot join batteries of different voltage",
            f"{design.vehicle.system_v} V on one side, {design.auxiliary.nominal_v} V on the other: joined, the lower one is "
            "overcharged at once.",
            away,
            concerns=("old_link.decision", *concerns),
        )
        return
    if design.charger is not None:
        yield stop(
            "survey.link_beside_unit",
            "alternator",
            "The old link stays beside the unit",
            "While it is closed the batteries are joined: the unit charges its own input, and nothing holds the current.",
            away,
            concerns=("old_link.decision", *concerns),
        )
    if design.vehicle.low_phased or design.vehicle.drive == "converter":
        yield caution(
            "survey.link_on_managed",
            "alternator",
            "A plain link on a managed source",
            "In its low phases the start side falls below what charges anything, and the auxiliary battery flows back through "
            "the link. A unit keeps them apart.",
            away,
            concerns=("old_link.decision", _told_low(design.vehicle)),
        )


def _told_low(vehicle: Vehicle) -> str:
    """The entry by which a vehicle is held to have low phases."""
    if vehicle.managed:
        return "vehicle.alternator.regulation"
    return "vehicle.readings.low_phase_v" if vehicle.low_phased else "vehicle.drive"


def _venting(design: Design) -> Iterator[Found]:
    auxiliary = design.auxiliary
    if auxiliary.chemistry == "lfp" or auxiliary.place in ("outside", "vented_box"):
        return
    if not auxiliary.place:
        if auxiliary.chemistry == "flooded":
            yield caution(
                "survey.venting_unknown",
                "auxiliary",
                "Where the flooded cells stand is not noted",
                "They give off hydrogen and acid mist while they charge: in the cabin they may not stand. Look, and note it.",
                [
                    remedy("In a box vented to the outside", ("auxiliary.place", "vented_box")),
                    remedy("Outside", ("auxiliary.place", "outside")),
                ],
                concerns=("auxiliary.place", "auxiliary.chemistry"),
            )
        return
    if auxiliary.chemistry == "flooded":
        yield stop(
            "survey.venting",
            "auxiliary",
            "Flooded cells do not belong in the cabin",
            "They give off hydrogen and acid mist while they charge. A box vented to the outside, another place, or sealed cells.",
            [remedy("In a box vented to the outside", ("auxiliary.place", "vented_box"))],
            concerns=("auxiliary.place", "auxiliary.chemistry"),
        )
        return
    yield note(
        "survey.venting",
        "auxiliary",
        "Sealed lead cells vent when they are overcharged",
        "Give the compartment an opening to the outside, and keep the charge volts to the maker's.",
        concerns=("auxiliary.place",),
    )
