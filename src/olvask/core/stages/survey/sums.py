"""Sums an installer does on a phone: loads, resting voltage, bonding, days to flat. Each answer shows its working.

- `load_average`: a load's true average from two states of charge.
- `daily_need`: daily use from a list of loads.
- `charge_from_rest`: what a rested voltage says of the state of charge, as a band.
- `days_to_flat`: how long a start battery stands, with and without a maintainer.
- `bonding_from_volts`: resistance between two negatives from volts under a known current.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from olvask.core.catalogue import chemistries, open_circuit_points
from olvask.core.findings.figure import Figure, Input
from olvask.core.findings.listed import counted, percent
from olvask.core.model import Load
from olvask.core.model.vehicle import inverter_a, inverter_h, standing_ah
from olvask.core.physics.battery import charge_at_rest
from olvask.core.physics.rounding import under

TYPED = "entered"


class NoAnswer(ValueError):
    """The numbers contradict each other; `field` says which one to look at."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


def load_average(
    capacity_ah: float, charge_before: float, charge_after: float, hours: float, charged_ah: float, efficiency: float
) -> Figure:
    """Average current of the loads [A] between two states of charge.

    Args:
        capacity_ah: capacity of the battery [Ah].
        charge_before: state of charge at first, 0 to 1.
        charge_after: state of charge later, 0 to 1.
        hours: time between [h].
        charged_ah: what went in meanwhile [Ah].
        efficiency: share of it the battery kept, 0 to 1.

    Raises:
        NoAnswer: the battery rose by more than was charged.
    """
    used_ah = capacity_ah * (charge_before - charge_after) + charged_ah * efficiency
    if under(used_ah, 0.0):
        raise NoAnswer(
            "charged_ah", "The battery rose by more than went in: check both states of charge and the Ah charged"
        )
    average_a = max(0.0, used_ah) / hours
    return Figure(
        "sums.load_average_a",
        "True average of the loads",
        average_a,
        "A",
        formula="(C · (before − after) + Ah in · η) / h",
        working=f"({capacity_ah:g} Ah · ({percent(charge_before)} − {percent(charge_after)}) + {charged_ah:g} Ah · {efficiency:.2f}) / "
        f"{hours:g} h = {average_a:.2f} A, {24 * average_a:.0f} Ah a day",
        inputs=(Input("Capacity", capacity_ah, "Ah", TYPED), Input("Time between", hours, "h", TYPED)),
        source="charge balance of the battery",
        changes="states of charge read from a rested voltage are bands, not points",
    )


def daily_need(loads: Sequence[Load], nominal_v: int) -> Figure:
    """Daily use standing [Ah] of a list of loads on a battery of `nominal_v`; what a converter feeds takes nothing of it."""
    total_ah, on_h = standing_ah(loads, nominal_v), inverter_h(loads)
    each = [f"{round(load.drawn_a(nominal_v), 1):g} A · {percent(load.duty)} · {load.standing_h:g} h" for load in loads]
    if on_h > 0:
        each.append(f"{inverter_a(nominal_v):.2f} A · {on_h:g} h")
    parts = " + ".join(each)
    return Figure(
        "sums.daily_ah",
        "Daily use, standing",
        total_ah,
        "Ah",
        formula="Σ I · share on · h" + (" + the inverter's own · the hours it is on" if on_h > 0 else ""),
        working=f"{parts or 'no loads'} = {total_ah:.0f} Ah",
        inputs=tuple(Input(load.name, load.mean_a(nominal_v) * load.standing_h, "Ah", TYPED) for load in loads),
        source="sum of the loads",
    )


@dataclass(frozen=True, slots=True)
class ChargeBand:
    """What a rested voltage says: the state of charge lies between these, 0 to 1."""

    low: float
    high: float
    text: str


def charge_from_rest(chemistry: str, nominal_v: int, rest_v: float) -> ChargeBand:
    """State of charge a rested voltage points to.

    Args:
        chemistry: key of the chemistry table.
        nominal_v: 12, 24 or 48 [V].
        rest_v: voltage after hours of rest at about 25 °C [V].

    Raises:
        NoAnswer: no battery of that nominal voltage rests there.

    The band is what the rest table allows within the chemistry's tolerance of meter, temperature and rest.
    """
    points = open_circuit_points()[chemistry]
    item = chemistries()[chemistry]
    per_12 = rest_v * 12 / nominal_v
    tolerance = item.rest_tolerance_v
    if not points[0][1] - 2.5 <= per_12 <= points[-1][1] + 0.6:
        raise NoAnswer(
            "rest_v",
            f"No {nominal_v} V {item.label} battery rests at {rest_v:g} V; check the meter and the nominal voltage",
        )

    low, high = (charge_at_rest(chemistry, per_12 + away, 12) for away in (-tolerance, tolerance))
    width = high - low
    if per_12 < points[0][1] - tolerance:
        text = f"Below {points[0][1] * nominal_v / 12:.2f} V it is flat, or its management has switched off."
    elif per_12 > points[-1][1] + tolerance:
        text = "Above the rested voltage of a full battery: it still carries surface charge, or something charges it."
    elif width > 0.35:
        text = f"Between {percent(low)} and {percent(high)}: this chemistry's voltage says little here. A shunt tells more."
    else:
        text = f"Between {percent(low)} and {percent(high)}, rested for hours."
    return ChargeBand(low, high, text)


@dataclass(frozen=True, slots=True)
class DaysToFlat:
    """Days a start battery stands: alone, and with a maintainer that the auxiliary battery feeds."""

    alone: Figure
    maintained: Figure | None
    text: str


def _alone(days: float | None, usable_ah: float, capacity_ah: float, drain_ma: float, loss_ah: float) -> Figure:
    return Figure(
        "sums.flat_days",
        "Stands alone",
        days,
        "days",
        formula="C · (from − keep) / (drain · 24 h + self-discharge)",
        working=f"{usable_ah:.0f} Ah / ({drain_ma / 1000 * 24:.2f} Ah + {loss_ah:.2f} Ah a day)",
        inputs=(Input("Standing drain", drain_ma, "mA", TYPED), Input("Capacity", capacity_ah, "Ah", TYPED)),
        source="charge balance; self-discharge at 20 °C",
        changes="less drain, or a maintainer",
    )


def days_to_flat(
    chemistry: str,
    capacity_ah: float,
    charge_from: float,
    charge_keep: float,
    drain_ma: float,
    maintainer_a: float,
    auxiliary_usable_ah: float,
) -> DaysToFlat:
    """Days until a start battery is down to the charge that still cranks.

    Args:
        chemistry: key of the chemistry table.
        capacity_ah: capacity [Ah].
        charge_from: state of charge to begin with, 0 to 1.
        charge_keep: state of charge to keep, 0 to 1.
        drain_ma: standing drain [mA].
        maintainer_a: most a maintainer gives [A]; 0 for none.
        auxiliary_usable_ah: what the auxiliary battery can spare for it [Ah].

    Raises:
        NoAnswer: it begins below the charge to keep.

    Self-discharge is counted at the chemistry's monthly share.
    """
    if charge_from <= charge_keep:
        raise NoAnswer("charge_from", "It begins at or below the charge to keep: charge it first, or keep less")
    loss_ah = chemistries()[chemistry].self_discharge_per_month * capacity_ah / 30
    daily_ah = drain_ma / 1000 * 24 + loss_ah
    usable_ah = capacity_ah * (charge_from - charge_keep)
    days = usable_ah / daily_ah if daily_ah > 0 else None
    alone = _alone(days, usable_ah, capacity_ah, drain_ma, loss_ah)
    if maintainer_a <= 0:
        words = (
            "No drain at all: only time ages it."
            if days is None
            else f"Down to {percent(charge_keep)} after {counted(days, 'day')}."
        )
        return DaysToFlat(alone, None, words)
    covered_ah = min(daily_ah, maintainer_a * 24)
    short_ah = daily_ah - covered_ah
    by_auxiliary = auxiliary_usable_ah / covered_ah if covered_ah > 0 else 0.0
    left_ah = usable_ah - short_ah * by_auxiliary
    total = usable_ah / short_ah if left_ah <= 0 and short_ah > 0 else by_auxiliary + max(0.0, left_ah) / daily_ah
    maintained = Figure(
        "sums.maintained_days",
        "With the maintainer",
        total,
        "days",
        formula="Ah spared / covered a day, then as alone",
        working=f"{auxiliary_usable_ah:.0f} Ah spared / {covered_ah:.2f} Ah a day + what then stands alone = {counted(total, 'day')}",
        inputs=(
            Input("Maintainer", maintainer_a, "A", TYPED),
            Input("Spared by the auxiliary", auxiliary_usable_ah, "Ah", TYPED),
        ),
        source="charge balance of both batteries",
    )
    alone_days = days or 0.0
    return DaysToFlat(alone, maintained, f"{counted(alone_days, 'day')} alone, {total:.0f} with the maintainer.")


def bonding_from_volts(volts_mv: float, current_a: float) -> Figure:
    """Resistance between two negatives [mΩ] from the volts a known current leaves across them.

    Args:
        volts_mv: measured between the two negatives [mV].
        current_a: through that path [A].
    """
    return Figure(
        "sums.bonding_mohm",
        "Bonding between the negatives",
        volts_mv / current_a,
        "mΩ",
        formula="U / I",
        working=f"{volts_mv:g} mV / {current_a:g} A = {volts_mv / current_a:.2f} mΩ",
        inputs=(Input("Volts across", volts_mv, "mV", TYPED), Input("Current", current_a, "A", TYPED)),
        source="Ohm's law",
    )
