"""The battery's management system against what the unit would charge it to."""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import stop
from olvask.core.findings.remedy import remedy

CLEAR_V = 0.2  # absorption under the disconnect; our own estimate, above what cells differ by near full


def judge_management(ctx: Context) -> Judged:
    """A stop where absorption reaches the volts at which the management system disconnects."""
    management = ctx.design.auxiliary.management
    high_v = management.high_disconnect_v if management is not None else None
    absorption_v = float(ctx.facts.absorption.value)
    if high_v is None or absorption_v < high_v:
        return
    yield stop(
        "match.management_high",
        "auxiliary",
        "Absorption reaches the management's disconnect",
        f"{absorption_v:.2f} V against {high_v:.2f} V: it opens under full current and leaves the loads on the charger "
        "alone.",
        [remedy(f"Charge to {high_v - CLEAR_V:.1f} V", ("auxiliary.absorption_v", round(high_v - CLEAR_V, 2)))],
        concerns=("auxiliary.absorption_v", "auxiliary.management.high_disconnect_v"),
    )
