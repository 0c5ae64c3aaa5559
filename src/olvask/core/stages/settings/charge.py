"""Charge volts and temperatures against what the battery stands and needs.

- `judge_charge`: absorption, float, cold.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, stop
from olvask.core.findings.remedy import remedy
from olvask.core.physics.battery import open_circuit_v

# Volts per 12 V. A tenth over the chemistry's range is makers' spread; three tenths gas lead and trip lithium. A quarter
# under it is the gentler school. Our own estimates from makers' sheets, which differ by tenths.
OVER_V, FAR_OVER_V, UNDER_V = 0.05, 0.3, 0.25
REST_CLEAR_V = 0.15  # absorption or float this little above the full battery's rested volts charges next to nothing
FLOAT_HIGH_V = {"flooded": 13.9, "agm": 13.9, "gel": 13.9, "lfp": 13.8}  # held for days, above it wears
FLOAT_FAR_V = {"flooded": 14.3, "agm": 14.2, "gel": 14.1, "lfp": 14.2}  # held for days, above it ruins


def judge_charge(ctx: Context) -> Judged:
    """Absorption and float off the battery's range either way, and lithium that nothing keeps from charging in the cold."""
    yield from _absorption(ctx)
    yield from _float(ctx)
    yield from _cold(ctx)


def _absorption(ctx: Context) -> Iterator[Found]:
    battery, path = ctx.design.auxiliary, "auxiliary.absorption_v"
    if battery.absorption_v is None:
        return
    chemistry, scale = chemistries()[battery.chemistry], battery.nominal_v / 12
    volts, low_v, high_v = battery.absorption_v, chemistry.absorption_min_v * scale, chemistry.absorption_max_v * scale
    full_v = open_circuit_v(battery.chemistry, 1.0, battery.nominal_v)
    usual = f"{chemistry.label} takes {low_v:.1f} to {high_v:.1f} V"
    back = [remedy(f"Charge to the usual {chemistry.absorption_v * scale:.1f} V", (path, None))]
    if volts > high_v + OVER_V * scale:
        far = volts > high_v + FAR_OVER_V * scale
        does = "cells are driven into their cut-off" if battery.chemistry == "lfp" else "it gasses and dries out"
        said = stop if far else caution
        text = f"{volts:.2f} V; {usual}: {does}. The battery maker's own figure, if it is this, outranks ours."
        yield said("settings.absorption_high", "auxiliary", "Absorption is too high", text, back, (path,))
    elif volts < full_v + REST_CLEAR_V * scale:
        text = f"{volts:.2f} V is next to the {full_v:.2f} V a full one rests at: it never gets there. {usual}."
        yield stop("settings.absorption_low", "auxiliary", "Absorption does not charge it", text, back, (path,))
    elif volts < low_v - UNDER_V * scale:
        text = f"{volts:.2f} V; {usual}. It fills slowly and stays short of full; lead sulphates."
        yield caution("settings.absorption_low", "auxiliary", "Absorption is too low", text, back, (path,))


def _float(ctx: Context) -> Iterator[Found]:
    battery, path = ctx.design.auxiliary, "auxiliary.float_v"
    if battery.float_v is None:
        return
    chemistry, scale, name = chemistries()[battery.chemistry], battery.nominal_v / 12, battery.chemistry
    volts, full_v = battery.float_v, open_circuit_v(name, 1.0, battery.nominal_v)
    back = [remedy(f"Float at the usual {chemistry.float_v * scale:.1f} V", (path, None))]
    absorption_v = float(ctx.facts.absorption.value)
    management = battery.management
    cut_v = management.high_disconnect_v if management is not None else None
    if volts > FLOAT_FAR_V[name] * scale or volts > absorption_v or (cut_v is not None and volts >= cut_v):
        text = f"{volts:.2f} V held for days: {_ruins(name)}. Absorption is {absorption_v:.2f} V."
        yield stop("settings.float_high", "auxiliary", "Float is far too high", text, back, (path,))
    elif volts > FLOAT_HIGH_V[name] * scale:
        text = f"{volts:.2f} V held for days: {_ruins(name)}. Up to {FLOAT_HIGH_V[name] * scale:.1f} V is usual."
        yield caution("settings.float_high", "auxiliary", "Float is too high", text, back, (path,))
    elif name != "lfp" and volts < full_v + REST_CLEAR_V * scale:
        text = f"{volts:.2f} V does not hold a full one, which rests at {full_v:.2f} V, against its own losses."
        yield caution("settings.float_low", "auxiliary", "Float is too low", text, back, (path,))


def _ruins(chemistry: str) -> str:
    return "lithium kept full ages fast" if chemistry == "lfp" else "it gasses, dries out and corrodes its plates"


def _cold(ctx: Context) -> Iterator[Found]:
    battery = ctx.design.auxiliary
    if battery.chemistry != "lfp" or battery.low_temperature_cut_off or battery.temperature_min_c is not None:
        return
    has_it: list[Remedy | None] = [
        remedy("Its management stops charging in the cold", ("auxiliary.low_temperature_cut_off", True))
    ]
    yield caution(
        "settings.cold_unknown",
        "auxiliary",
        "Nothing keeps it from charging frozen",
        "Lithium charged in the frost is ruined for good. Neither a cut-off of its own nor how cold it gets is noted: ask, and "
        "note it.",
        has_it,
        concerns=("auxiliary.low_temperature_cut_off", "auxiliary.temperature_min_c"),
    )
