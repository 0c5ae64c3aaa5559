"""The charge profile the unit is set to, against the battery it charges.

- `judge_profile`: what a profile made for another chemistry does.
"""

from __future__ import annotations

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Design
from olvask.core.physics.battery import open_circuit_v

HALF = 0.6  # state of charge at which resting volts are compared


def judge_profile(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Findings on a profile that is not the battery's own.

    Args:
        design: the design.
        solved: its circuit.
        ledger: where findings go.
    """
    battery, name = design.auxiliary, design.charge.profile
    if design.charger is None or name is None or name == battery.chemistry:
        return
    scale = battery.nominal_v / 12
    set_to, own = chemistries()[name], chemistries()[battery.chemistry]
    way = [way_out(f"Set the {own.label} profile", ("charge.profile", None))]
    absorption_v, most_v = set_to.absorption_v * scale, own.absorption_max_v * scale
    if absorption_v > most_v + 1e-9:
        ledger.finding(
            "settings.profile_too_high",
            "stop",
            "settings",
            "charger",
            "The profile overcharges the battery",
            f"The {set_to.label} profile goes to {absorption_v:.2f} V; {own.label} stands {most_v:.2f} V at most.",
            way,
        )
        return
    rest_v, again_v = open_circuit_v(battery.chemistry, HALF, battery.nominal_v), set_to.rebulk_v * scale
    wanted_v = float(solved.facts.absorption.value)
    if rest_v >= again_v:
        why = (
            f"At {HALF:.0%} {own.label} rests at {rest_v:.2f} V, over the {again_v:.2f} V under which this profile begins anew: "
            f"it goes straight to float at {set_to.float_v * scale:.2f} V and fills slowly, until a big load pulls it down."
        )
    else:
        why = f"It holds {absorption_v:.2f} V where the battery wants {wanted_v:.2f} V."
    ledger.finding(
        "settings.profile_other",
        "caution",
        "settings",
        "charger",
        f"A {set_to.label} profile on {own.label}",
        f"{why} Equalising and temperature compensation meant for lead must be off on lithium."
        if battery.chemistry == "lfp"
        else why,
        way,
    )
