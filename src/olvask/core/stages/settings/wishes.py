"""What a design wants a device set to, line by line: from the meaning of a line and the design's own numbers.

- `Wanted`: a value in the design's own unit, with the reason.
- `wanted_of`: everything the unit is to be set to.
- `wish_for`: one line's candidates, and how bad each would be.
- `read`: what a line's value comes to in the design's own unit.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from olvask.core.catalogue import chemistries
from olvask.core.circuit.facts import Facts, charge_volts, resumes_v
from olvask.core.circuit.thresholds import Thresholds
from olvask.core.findings.listed import percent
from olvask.core.model import AuxiliaryBattery, Design
from olvask.core.model.settings import OFF, ON, WRITTEN, Meaning, Setting, Value
from olvask.core.stages.settings.limits import QUANTITIES, off_band
from olvask.core.stages.settings.plan import Wish

# How far a value may be off before it matters, in the design's own unit; our own estimates of what a meter or a clock
# on the wall would notice.
MATTERS: dict[Meaning, float] = {
    "absorption_v": 0.05,
    "float_v": 0.05,
    "equalise_v": 0.1,
    "rebulk_v": 0.1,
    "absorption_h": 0.25,
    "bulk_h": 1.0,
    "tail_a": 1.0,
    "equalise_days": 7.0,
    "compensation_mv_per_k": 3.0,
    "cold_c": 1.0,
    "hot_c": 2.0,
    "current_limit_a": 1.0,
    "start_held_s": 5.0,
    "stop_held_s": 5.0,
    "guard_held_s": 1.0,
    "capacity_ah": 5.0,
    "efficiency_percent": 2.0,
}
VOLTS = ("absorption_v", "float_v", "equalise_v", "rebulk_v", "full_v")
INPUT_VOLTS = ("start_v", "stop_v", "guard_v", "back_v")
# Beyond what is wanted on this side a value is worse than as far off on the other.
DOWN = ("absorption_v", "float_v", "equalise_v", "current_limit_a", "hot_c", "tail_a", "full_v")
UP = ("cold_c", "start_v", "stop_v", "guard_v", "back_v", "bulk_h", "rebulk_v")
WRONG_SIDE = 20.0  # times as bad, then: the safe side, unless it is far off or harms
HARM = {"caution": 100.0, "stop": 10_000.0}


@dataclass(frozen=True, slots=True)
class Wanted:
    """A value wanted, in the design's own unit or as a word, and why in a few words."""

    value: float | str
    why: str = ""


@dataclass(frozen=True, slots=True)
class Scales:
    """What turns a line's number into the design's: blocks of 12 V, the current that per cent are of [A], and how many units
    share the battery's current, each with its own tail."""

    output_blocks: float = 1.0
    input_blocks: float = 1.0
    rated_a: float = 1.0
    capacity_ah: float = 100.0
    units: int = 1

    def blocks(self, line: Setting) -> float:
        """By how many blocks a line's volts count."""
        if not line.per_block:
            return 1.0
        return self.input_blocks if line.means in INPUT_VOLTS else self.output_blocks

    def factor(self, line: Setting) -> float:
        """What one of a line's own unit is in the design's."""
        sharing = self.units if line.means == "tail_a" else 1
        if line.unit == "%" and line.means in ("current_limit_a", "tail_a"):
            return self.rated_a / 100 * sharing
        return sharing * WRITTEN.get(line.means, {}).get(line.unit, 1.0) * self.blocks(line)


def scales_of(design: Design) -> Scales:
    """The scales of a design's unit."""
    unit = design.charger
    return Scales(
        output_blocks=design.auxiliary.nominal_v / 12,
        input_blocks=design.vehicle.system_v / 12,
        rated_a=unit.output_a if unit is not None else 1.0,
        capacity_ah=design.auxiliary.capacity_ah,
        units=design.units,
    )


def charge_wanted(design: Design, facts: Facts) -> dict[str, Wanted]:
    """How the battery is to be charged: as typed, else its maker's, else its chemistry's usual."""
    charge, battery = design.charge, design.auxiliary
    name = charge.profile or battery.chemistry
    usual, scale, own = chemistries()[name], battery.nominal_v / 12, name == battery.chemistry
    lead = name != "lfp"
    told, shared = "as you typed it", f", shared by {design.units} units" if design.units > 1 else ""

    def said(value: float | None, otherwise: float, why: str) -> Wanted:
        return Wanted(otherwise, why) if value is None else Wanted(value, told)

    by_maker = "this battery's maker"
    absorption_v, float_v = charge_volts(battery, name)
    again_v = resumes_v(name, battery.nominal_v, charge.after in ("rest", "pulses"))
    least_c = battery.charge_min_c if battery.charge_min_c is not None else usual.charge_min_c
    found: dict[str, Wanted] = {
        "battery_type": Wanted(name, f"the battery is {usual.label}" if own else f"set for {usual.label}"),
        "absorption_v": said(
            charge.absorption_v,
            absorption_v,
            by_maker if own and battery.absorption_v is not None else f"usual for {usual.label}",
        ),
        "absorption_h": said(charge.absorption_h, usual.absorption_h, f"usual for {usual.label}"),
        "absorbed_by": Wanted(charge.absorbed_by or ("adaptive" if lead else "time"), "usual for it"),
        "tail_a": said(
            charge.tail_a,
            usual.tail_share * battery.capacity_ah,
            f"{percent(usual.tail_share)} of its capacity{shared}",
        ),
        "after": Wanted(charge.after or "float", "holds it for the loads" if lead else "a storage level, no float"),
        "float_v": said(
            charge.float_v, float_v, by_maker if own and battery.float_v is not None else f"usual for {usual.label}"
        ),
        "rebulk_v": said(charge.rebulk_v, again_v, "so that it resumes in use"),
        "equalise": Wanted(ON if charge.equalise else OFF, "by hand, when wanted" if lead else "never on it"),
        "compensation_mv_per_k": said(
            charge.compensation_mv_per_k,
            usual.compensation_mv_per_k * scale,
            "colder lead wants more" if lead else "none on lithium",
        ),
    }
    if charge.equalise:
        found["equalise_v"] = said(charge.equalise_v, usual.equalise_v * scale, f"usual for {usual.label}")
        found["equalise_days"] = Wanted(charge.equalise_days, told)
    if charge.bulk_h is not None:
        found["bulk_h"] = Wanted(charge.bulk_h, told)
    if charge.cold_c is not None:
        found["cold_c"] = Wanted(charge.cold_c, told)
    elif not lead and not battery.low_temperature_cut_off:
        found["cold_c"] = Wanted(least_c, "the battery has no cut-off of its own")
    if charge.hot_c is not None:
        found["hot_c"] = Wanted(charge.hot_c, told)
    return found


def wanted_of(design: Design, facts: Facts, at: Thresholds) -> dict[str, Wanted]:
    """Everything the unit is to be set to, by meaning; of several rules of a kind the second has `.2` after it.

    Args:
        design: the design.
        facts: its survey values.
        at: its thresholds in force.
    """
    unit, chosen = design.charger, design.activation
    found = charge_wanted(design, facts)
    if unit is None:
        return found
    found["role"] = Wanted("charger", "it charges a battery")
    found["detection"] = Wanted(ON if "voltage" in chosen.ways else OFF, "as chosen in Wake")
    if chosen.ways:
        signal = next((way for way in chosen.ways if way != "voltage"), "voltage")
        found["signal_mode"] = Wanted(signal, "as chosen in Wake")
    if design.current_limit_a is not None:
        found["current_limit_a"] = Wanted(min(design.current_limit_a, unit.output_a), "as chosen in Match")
    else:
        found["current_limit_a"] = Wanted(unit.output_a, "all it gives")
    if "voltage" in chosen.ways:
        for n, rule in enumerate(at.start_rules, start=1):
            found[f"start_v{'' if n == 1 else f'.{n}'}"] = Wanted(rule.volts, "as set in Wake")
            found[f"start_held_s{'' if n == 1 else f'.{n}'}"] = Wanted(rule.held_s, "as set in Wake")
        for n, rule in enumerate(at.stop_rules, start=1):
            found[f"stop_v{'' if n == 1 else f'.{n}'}"] = Wanted(rule.volts, "as set in Wake")
            found[f"stop_held_s{'' if n == 1 else f'.{n}'}"] = Wanted(rule.held_s, "as set in Wake")
    found["guard_v"] = Wanted(at.guard_v, "as set in Wake")
    found["guard_held_s"] = Wanted(chosen.guard.held_s, "as set in Wake")
    found["back_v"] = Wanted(at.back_v, "as set in Wake")
    return found


def wish_for(line: Setting, wanted: Wanted, scales: Scales, battery: AuxiliaryBattery) -> Wish:
    """A line's candidates for what is wanted, the best one first.

    Args:
        line: the line.
        wanted: in the design's own unit.
        scales: between the two.
        battery: for what a value would do to it.
    """
    if line.kind != "number":
        return _wish_of_choice(line, wanted)
    factor, goal = scales.factor(line), float(wanted.value)

    def badness(value: Value) -> float:
        return _badness(line, float(value) * factor, goal, battery)

    near = {line.nearest(goal / factor, side) for side in ("down", "up", "near")}
    return Wish(line.id, tuple(sorted(near, key=badness)), badness)


def _badness(line: Setting, value: float, goal: float, battery: AuxiliaryBattery) -> float:
    """How bad a number is instead of another, both in the design's own unit."""
    means = line.means
    matters = MATTERS.get(means, 0.05) * (battery.nominal_v / 12 if means in VOLTS else 1.0)
    off = abs(value - goal) / matters
    if off < 1e-9:
        return 0.0
    if (means in DOWN and value > goal) or (means in UP and value < goal):
        off *= WRONG_SIDE
    quantity = "tail_share" if means == "tail_a" else means
    if quantity in QUANTITIES:
        judged = value / battery.capacity_ah if means == "tail_a" else value
        harm = off_band(battery.chemistry, quantity, judged, battery.nominal_v)
        was = goal / battery.capacity_ah if means == "tail_a" else goal
        if harm is not None and off_band(battery.chemistry, quantity, was, battery.nominal_v) is None:
            off += HARM[harm[0]]
    return off


def _wish_of_choice(line: Setting, wanted: Wanted) -> Wish:
    """The choice that stands for what is wanted; where none does, any is as good, and its volts decide."""
    standing = tuple(option.label for option in line.options if option.stands_for == wanted.value)
    if line.kind == "switch":
        standing = (str(wanted.value),) if wanted.value in (ON, OFF) else ()
    weight = 0.5 if line.means == "battery_type" else 50.0  # a type is a name: what it sets is what counts

    def badness(value: Value) -> float:
        return 0.0 if not standing or value in standing else weight

    others = tuple(value for value in line.values() if value not in standing)
    return Wish(line.id, standing + others, badness)


def read(line: Setting, value: Value, scales: Scales) -> float | str:
    """What a line's value comes to in the design's own unit, or the word it stands for.

    Args:
        line: the line.
        value: as the device shows it.
        scales: between the two.
    """
    if line.kind == "number":
        return float(value) * scales.factor(line)
    option = line.option(value)
    return option.stands_for if option is not None and option.stands_for else str(value)


def wishes_for(
    lines: tuple[Setting, ...], wanted: Mapping[str, Wanted], scales: Scales, battery: AuxiliaryBattery
) -> list[Wish]:
    """Wishes for every line whose meaning is wanted; the n-th line of a meaning is the n-th rule of its kind."""
    seen: dict[str, int] = {}
    found = []
    for line in lines:
        if line.kind == "action" or line.means in ("other", "access_code", "display"):
            continue
        seen[line.means] = seen.get(line.means, 0) + 1
        key = line.means if seen[line.means] == 1 else f"{line.means}.{seen[line.means]}"
        if key in wanted:
            found.append(wish_for(line, wanted[key], scales, battery))
    return found
