"""The battery's management system against what the unit would charge it to."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, stop
from olvask.core.findings.listed import percent
from olvask.core.findings.remedy import remedy
from olvask.core.model import Management
from olvask.core.physics.battery import charge_at_rest
from olvask.core.stages.match.energy import reserve_of

CLEAR_V = 0.2  # absorption under the disconnect; our own estimate, above what cells differ by near full


def judge_management(ctx: Context) -> Judged:
    """Where the management system would disconnect in normal use: at absorption, or with charge still to be used."""
    management = ctx.design.auxiliary.management
    if management is None:
        return
    yield from _low(ctx, management)
    high_v = management.high_disconnect_v
    absorption_v = float(ctx.facts.absorption.value)
    if high_v is None:
        return
    clear_v = CLEAR_V * ctx.design.auxiliary.nominal_v / 12
    if high_v - clear_v < absorption_v < high_v:
        yield caution(
            "match.management_near",
            "auxiliary",
            "Absorption comes close to the management's disconnect",
            f"{absorption_v:.2f} V against {high_v:.2f} V: near full one cell runs ahead and opens it. {clear_v:.1f} V between "
            "them is wanted.",
            [_lower(ctx, high_v - clear_v)],
            concerns=(ctx.facts.absorption.path, "auxiliary.management.high_disconnect_v"),
        )
    if absorption_v < high_v:
        return
    yield stop(
        "match.management_high",
        "auxiliary",
        "Absorption reaches the management's disconnect",
        f"{absorption_v:.2f} V against {high_v:.2f} V: it opens under full current and leaves the loads on the charger "
        "alone.",
        [_lower(ctx, high_v - clear_v)],
        concerns=(ctx.facts.absorption.path, "auxiliary.management.high_disconnect_v"),
    )


def _lower(ctx: Context, volts: float) -> Remedy:
    """Absorption lowered where it is said: at the battery, or at the unit, which outranks it."""
    path = "auxiliary.absorption_v" if ctx.facts.absorption.path == "auxiliary.absorption_v" else "charge.absorption_v"
    return remedy(f"Charge to {volts:.1f} V", (path, round(volts, 2)))


def _low(ctx: Context, management: Management) -> Iterator[Found]:
    """A low disconnect that cuts into what is meant to be used."""
    battery, low_v = ctx.design.auxiliary, management.low_disconnect_v
    if low_v is None:
        return
    charge = charge_at_rest(battery.chemistry, low_v, battery.nominal_v)
    reserve = reserve_of(ctx.design)
    if charge > reserve:
        yield caution(
            "match.management_low",
            "auxiliary",
            "The management disconnects before the reserve is reached",
            f"It opens below {low_v:.2f} V, where {percent(charge)} rest; the reserve is {percent(reserve)}. Under load it opens sooner "
            "still: that part of the battery cannot be used.",
            concerns=("auxiliary.management.low_disconnect_v", "use.reserve"),
        )
