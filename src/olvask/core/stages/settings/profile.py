"""The charge profile the unit is set to, against the battery it charges."""

from __future__ import annotations

from olvask.core.catalogue import Chemistry, chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import charge_volts
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution, stop
from olvask.core.findings.listed import percent
from olvask.core.findings.remedy import remedy
from olvask.core.physics.battery import open_circuit_v
from olvask.core.physics.rounding import over

RESTING_AT = 0.6  # state of charge at which resting volts are compared
CONCERNS = ("charge.profile",)


def judge_profile(ctx: Context) -> Judged:
    """What a profile made for another chemistry does to this battery."""
    battery, name = ctx.design.auxiliary, ctx.design.charge.profile
    if ctx.design.charger is None or name is None or name == battery.chemistry:
        return
    scale = battery.nominal_v / 12
    set_to, fitting = chemistries()[name], chemistries()[battery.chemistry]
    remedies = [remedy(f"Set the {fitting.label} profile", ("charge.profile", None))]
    absorption_v, most_v = set_to.absorption_v * scale, fitting.absorption_max_v * scale
    if over(absorption_v, most_v):
        yield stop(
            "settings.profile_too_high",
            "charger",
            "The profile overcharges the battery",
            f"The {set_to.label} profile goes to {absorption_v:.2f} V; {fitting.label} stands {most_v:.2f} V at most.",
            remedies,
            concerns=CONCERNS,
        )
        return
    off = " Equalising and temperature compensation meant for lead must be off on lithium."
    yield caution(
        "settings.profile_other",
        "charger",
        f"Set for {set_to.label}, and the battery is {fitting.label}",
        _why(ctx, set_to, fitting) + (off if battery.chemistry == "lfp" else ""),
        remedies,
        concerns=CONCERNS,
    )


def _why(ctx: Context, set_to: Chemistry, fitting: Chemistry) -> str:
    """What the other profile does, in numbers."""
    battery = ctx.design.auxiliary
    scale = battery.nominal_v / 12
    rest_v, again_v = open_circuit_v(battery.chemistry, RESTING_AT, battery.nominal_v), set_to.rebulk_v * scale
    if rest_v >= again_v:
        return (
            f"At {percent(RESTING_AT)} the battery rests at {rest_v:.2f} V, over the {again_v:.2f} V under which this profile "
            f"starts again: it goes straight to float at {set_to.float_v * scale:.2f} V and fills slowly, until a big load "
            "pulls it down."
        )
    wanted_v, _ = charge_volts(battery)
    return f"It holds {set_to.absorption_v * scale:.2f} V where the battery wants {wanted_v:.2f} V."
