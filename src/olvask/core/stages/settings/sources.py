"""Every other source against the battery: what its volts do to it.

- `judge_other_sources`: profiles off the battery's band, and such as are set for another chemistry.
- `stages_of`: what a source's profile comes to.
- `record_of`: the menu of a device.
"""

from __future__ import annotations

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import charge_volts
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import Design
from olvask.core.model.charging import Sourced
from olvask.core.model.settings import SettingsRecord
from olvask.core.stages.match.sources import OtherSource, other_sources
from olvask.core.stages.settings.limits import NAMES, Harm, Held, harms_of


def stages_of(design: Design, place: str) -> Sourced:
    """What is said of a source's stages.

    Args:
        design: the design.
        place: where it stands.
    """
    for item in design.existing:
        if place == f"existing.{item.id}":
            return item.stages
    return design.solar.stages


def _held(design: Design, source: OtherSource, stages: Sourced) -> Held:
    """What a source holds: as said, else usual for what it is set for."""
    battery = design.auxiliary
    name = source.profile or battery.chemistry
    usual, scale = chemistries()[name], battery.nominal_v / 12

    def said(value: float | None, otherwise: float) -> float:
        return otherwise if value is None else value

    absorption_v, float_v = charge_volts(battery, name)
    return Held(
        absorption_v=said(stages.absorption_v, absorption_v),
        float_v=None if stages.after in ("rest", "pulses") else said(stages.float_v, float_v),
        equalise_v=said(stages.equalise_v, usual.equalise_v * scale) if stages.equalise else None,
        compensation_mv_per_k=stages.compensation_mv_per_k,
        cold_c=stages.cold_c,
        hot_c=stages.hot_c,
    )


def judge_other_sources(ctx: Context) -> Judged:
    """Findings on sources whose volts the battery does not stand, or that are set for another kind of battery."""
    chemistry = ctx.design.auxiliary.chemistry
    for source in other_sources(ctx.design):
        harms = harms_of(ctx.design.auxiliary, _held(ctx.design, source, stages_of(ctx.design, source.place)))
        grave = [harm for harm in harms if harm.side == "high" or harm.quantity == "compensation_mv_per_k"]
        foreign = source.profile is not None and (source.profile == "lfp") != (chemistry == "lfp")
        if grave or foreign:
            yield _found(ctx, source, grave)


def _found(ctx: Context, source: OtherSource, harms: list[Harm]) -> Found:
    """One source's finding."""
    fitting = chemistries()[ctx.design.auxiliary.chemistry]
    set_for = chemistries()[source.profile or fitting.chemistry]
    said = stop if any(harm.level == "stop" for harm in harms) else caution
    path = source.place if source.place.startswith("existing.") else "solar"
    told = " ".join(f"{NAMES[harm.quantity]}: {harm.text}" for harm in harms)
    if set_for is fitting:
        title = f"The {source.label} is set wrong for {fitting.label}"
    else:
        title = f"The {source.label} is set for {set_for.label}"
        does = (
            "Whether it still fills it depends on its lead and on how it ends; All that charges, in Settings, shows the hours."
            if fitting.chemistry == "lfp"
            else "It ends absorption early, before lead is full, and holds the float of lithium."
        )
        told = f"The battery is {fitting.label}. {told} {does}".replace("  ", " ")
    return said(
        f"settings.source.{source.place}",
        "auxiliary",
        title,
        told,
        [remedy(f"Note it as set for {fitting.label}", (f"{path}.profile", fitting.chemistry), (f"{path}.stages", {}))],
        concerns=(source.place, f"{path}.profile"),
    )


def record_of(design: Design, place: str) -> SettingsRecord | None:
    """The menu of the unit, or of another device; `None` where nobody wrote it down.

    Args:
        design: the design.
        place: `existing.e1`, `solar` or `monitor`; empty for the unit.
    """
    if place == "":
        return None if design.charger is None else design.charger.settings
    if place == "monitor":
        return None if design.monitor.unit is None else design.monitor.unit.settings
    return stages_of(design, place).settings
