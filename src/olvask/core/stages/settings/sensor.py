"""Whether the unit's temperature sensor is needed: it compensates, or stops by the battery's temperature, once keyed."""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.stages.settings.sheet import planned_charge
from olvask.core.stages.settings.unlisted import charge_acting


def senses(ctx: Context) -> bool:
    """Whether anything the unit ends up set to goes by the temperature of the auxiliary battery."""
    return ctx.once("settings.senses", lambda: _senses(ctx))


def _senses(ctx: Context) -> bool:
    unit = ctx.design.charger
    if unit is None or unit.kind != "charger":
        return False
    acting = charge_acting(ctx.design)
    found = planned_charge(ctx.design, ctx.facts) if unit.settings is not None else None
    if found is not None:
        acting |= {means: found.acting(means) for means in ("compensation_mv_per_k", "cold_c", "hot_c")}
    stops = acting["cold_c"] is not None or acting["hot_c"] is not None
    return bool(acting["compensation_mv_per_k"]) or stops
