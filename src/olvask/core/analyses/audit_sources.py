"""Everything in a design that charges the auxiliary battery, each as the charging simulation takes it.

- `Audited`: one of them, with where it stands in the design.
- `sources_of`: all of them, the unit first.
- `bank_of`: the battery they charge.
- `own_profile`: what fits the battery.
- `kwh_week`: what a source could give in a week.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from olvask.core.circuit.facts import charge_volts, least_charging_c
from olvask.core.circuit.solve import Solved
from olvask.core.model import Design, Existing
from olvask.core.model.charging import ChargeStages, Sourced
from olvask.core.physics.conductors import geometric_resistance_ohm
from olvask.core.simulate.batteries import Cell
from olvask.core.simulate.profile import Profile, acting_stages, profile_from, profile_of
from olvask.core.simulate.sources import Bank, Source
from olvask.core.stages.match.direct_link import LINK_RUN_OHM
from olvask.core.stages.match.sources import HARVEST, other_sources

Kind = Literal["unit", "solar", "built_in_charger", "mains_charger", "portable_charger", "link"]
# Out and back with ends, where no wire is surveyed; our own estimates: a caravan's 2.5 mm² over 3 m, a short stout
# lead, clamps on a thin cord, 4 mm² over a metre and a half.
LEAD_OHM: dict[str, float] = {
    "built_in_charger": 0.045,
    "mains_charger": 0.010,
    "portable_charger": 0.030,
    "solar": 0.015,
}
FULL_SUN = math.pi / 2  # a half sine of so many full-sun hours lasts this many times as long


@dataclass(frozen=True, slots=True)
class Audited:
    """A source with its place in the design.

    Attributes:
        source: by its mechanism.
        kind: what it is.
        label: its name.
        path: where it stands in the design.
        stages_path: where its stages stand.
        set_for: chemistry it is set for; empty where it holds one voltage and knows none.
        stages: what is said of it; `None` for the unit and a link.
        lead_known: whether its lead is surveyed.
    """

    source: Source
    kind: Kind
    label: str
    path: str
    stages_path: str
    set_for: str
    stages: Sourced | None = None
    lead_known: bool = True


def bank_of(design: Design, solved: Solved, celsius: float) -> Bank:
    """The battery that is charged.

    Args:
        design: the design.
        solved: its circuit.
        celsius: the battery's temperature, and the air's [°C].
    """
    battery, facts = design.auxiliary, solved.facts
    management = battery.management
    cell = Cell(
        battery.chemistry,
        battery.capacity_ah,
        battery.nominal_v,
        float(facts.charge_limit.value),
        charge_volts(battery)[0],
    )
    high_v = management.high_disconnect_v if management is not None else None
    most_a = management.charge_max_a if management is not None else None
    return Bank(
        cell,
        celsius=celsius,
        air_c=celsius,
        opens_v=math.inf if high_v is None else high_v,
        opens_a=math.inf if most_a is None else most_a,
        least_c=least_charging_c(battery) if battery.low_temperature_cut_off else -math.inf,
        most_c=math.inf if battery.charge_max_c is None else battery.charge_max_c,
    )


def own_profile(design: Design) -> Profile:
    """The profile that fits the battery: its maker's volts, its chemistry's times."""
    battery = design.auxiliary
    return profile_from(
        ChargeStages(), battery.chemistry, battery.nominal_v, battery.capacity_ah, *charge_volts(battery)
    )


def sources_of(design: Design, solved: Solved) -> list[Audited]:
    """Everything that charges the battery, the unit first."""
    found = [*_unit(design, solved)]
    by_place = {f"existing.{item.id}": item for item in design.existing}
    for other in other_sources(design):
        if other.place in by_place:
            found.append(_existing(design, solved, by_place[other.place], other.peak_a, other.label))
        else:
            found.append(_solar(design, solved, other.peak_a))
    found += _links(design, solved)
    return found


def _unit(design: Design, solved: Solved) -> list[Audited]:
    output, unit = solved.output, design.charger
    if output is None or unit is None:
        return []
    name = design.charge.profile or design.auxiliary.chemistry
    charge = acting_stages(design, solved)
    source = Source(
        "unit",
        output.yield_a,
        output.run.out_ohm + output.run.back_ohm,
        profile_of(design, solved),
        compensation_mv_per_k=charge.compensation_mv_per_k or 0.0,
        cold_c=-math.inf if charge.cold_c is None else charge.cold_c,
        hot_c=math.inf if charge.hot_c is None else charge.hot_c,
        fresh=False,
        sensor=True,
    )
    return [Audited(source, "unit", unit.name, "charger", "charge", name)]


def _existing(design: Design, solved: Solved, item: Existing, amps: float, label: str) -> Audited:
    known = item.wire_m is not None and item.wire_mm2 is not None
    ohm = LEAD_OHM[item.kind]
    if item.wire_m is not None and item.wire_mm2 is not None:
        ohm = geometric_resistance_ohm(2 * item.wire_m, item.wire_mm2)
    source = _mechanism(design, solved, f"existing.{item.id}", item.profile, item.stages, amps, ohm)
    return Audited(
        source,
        item.kind,  # type: ignore[arg-type]  # only chargers come from other_sources
        label,
        f"existing.{item.id}",
        f"existing.{item.id}.stages",
        item.profile or design.auxiliary.chemistry,
        item.stages,
        known,
    )


def _solar(design: Design, solved: Solved, amps: float) -> Audited:
    solar = design.solar
    known = solar.wire_m is not None and solar.wire_mm2 is not None
    ohm = LEAD_OHM["solar"]
    if solar.wire_m is not None and solar.wire_mm2 is not None:
        ohm = geometric_resistance_ohm(2 * solar.wire_m, solar.wire_mm2)
    source = _mechanism(design, solved, "solar", solar.profile, solar.stages, amps, ohm)
    source = replace(source, sun_s=max(0.1, solar.sun_h) * 3600 * FULL_SUN)
    label = f"roof panel, {solar.panel_w or 0:g} W"
    set_for = solar.profile or design.auxiliary.chemistry
    return Audited(source, "solar", label, "solar", "solar.stages", set_for, solar.stages, known)


def _mechanism(
    design: Design, solved: Solved, key: str, profile: str | None, stages: Sourced, amps: float, lead_ohm: float
) -> Source:
    """A source as its record has it; set for the battery where nothing is said."""
    battery = design.auxiliary
    name = profile or battery.chemistry
    return Source(
        key,
        amps,
        1e-3 if stages.senses == "battery" else lead_ohm,
        profile_from(stages, name, battery.nominal_v, battery.capacity_ah, *charge_volts(battery, name)),
        rated_at_v=stages.rated_at_v or 0.0,
        back_off_v=stages.back_off_v or 0.0,
        derating_percent_per_k=stages.derating_percent_per_k,
        rated_ambient_c=stages.rated_ambient_c,
        compensation_mv_per_k=stages.compensation_mv_per_k or 0.0,  # a simple charger senses no temperature
        sensor=stages.senses == "battery",
        cold_c=-math.inf if stages.cold_c is None else stages.cold_c,
        hot_c=math.inf if stages.hot_c is None else stages.hot_c,
    )


def _links(design: Design, solved: Solved) -> list[Audited]:
    """Old links that still join the batteries while the engine runs: the alternator's volts, held for ever."""
    if design.vehicle.system_v != design.auxiliary.nominal_v or design.old_link.decision in (
        "disconnect",
        "changeover",
    ):
        return []
    cruise = solved.running_by_key("cruise") or solved.running[0]
    engine = cruise.source
    held = Profile(engine.regulated_v, engine.regulated_v, 0.0, math.inf, adaptive=False, tail_a=0.0)
    found = []
    for item in design.still_fed:
        if not item.joins:
            continue
        wire_ohm = LINK_RUN_OHM
        if item.wire_m is not None and item.wire_mm2 is not None:
            wire_ohm = geometric_resistance_ohm(2 * item.wire_m, item.wire_mm2)
        amps = design.vehicle.alternator.rated_a if cruise.left_a is None else cruise.left_a
        source = Source(f"existing.{item.id}", amps, wire_ohm + engine.sag_ohm, held)
        path = f"existing.{item.id}"
        found.append(Audited(source, "link", item.name or "old link", path, path, ""))
    return found


def kwh_week(design: Design, item: Audited) -> float | None:
    """What a source could give in this job's week [kWh]; `None` where its hours are not surveyed.

    Args:
        design: the design.
        item: the source.
    """
    use, volts = design.use, item.source.profile.absorption_v
    watts = item.source.rated_a * volts
    drive_h = None if use.drive_h is None else use.drive_h * use.drive_days
    if item.kind == "solar":
        return (design.solar.panel_w or 0.0) * HARVEST * design.solar.sun_h * 7 / 1000
    if item.kind in ("unit", "built_in_charger"):
        return None if drive_h is None else watts * drive_h / 1000
    if item.kind in ("mains_charger", "portable_charger"):
        return watts * use.mains_h * 7 / 1000
    return None
