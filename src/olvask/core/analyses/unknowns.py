"""What is still unknown, and what it would change: each gap probed at the two ends of what it may be."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import Field

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries, regulations
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts, gather
from olvask.core.findings.figure import show
from olvask.core.findings.listed import listed
from olvask.core.findings.remedy import with_change
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.match.isolation import common_negative

# What a gap may lie between, per 12 V; our own estimates. Just after stopping the volts of a charge still stand on a battery.
REST_V = {"lfp": (13.1, 13.6)}  # others are of lead
LEAD_REST_V = (12.2, 12.9)
STOPPED_V = (0.3, 0.4)  # over the lower and the upper of these
IDLE_SHARE = {"engine": (0.35, 0.7), "converter": (0.8, 1.0)}
NO_WINDOW = "wake.no_stop_window"  # where that stop comes or goes, nothing more is said of the window


class Unknown(Said):
    """A gap in the survey and what filling it would change."""

    path: str
    label: str
    standing: str = Field(description="what is assumed meanwhile")
    effect: str
    matters: bool


@dataclass(frozen=True, slots=True)
class _Gap:
    path: str
    label: str
    unit: str
    standing: float | None
    ends: tuple[float, float]


def _gaps(design: Design, facts: Facts) -> list[_Gap]:
    """Values that stand at a default or are open, each with the range it may lie in."""
    vehicle, scale = design.vehicle, facts.scale
    band = regulations()["converter" if vehicle.drive == "converter" else vehicle.alternator.regulation]
    low_v, high_v = REST_V.get(vehicle.start_battery.chemistry, LEAD_REST_V)
    rate = chemistries()[design.auxiliary.chemistry].charge_c_rate * design.auxiliary.capacity_ah
    ranges = {
        "vehicle.readings.rest_v": (low_v * scale, high_v * scale),
        "vehicle.readings.after_stop_v": ((low_v + STOPPED_V[0]) * scale, (high_v + STOPPED_V[1]) * scale),
        "vehicle.readings.idle_v": (band.least_v * scale, band.most_v * scale),
        "vehicle.readings.cruise_v": (max(band.least_v, 13.2) * scale, band.most_v * scale),
        "vehicle.readings.low_phase_v": (12.2 * scale, 13.0 * scale),
        "vehicle.alternator.hot_idle_share": IDLE_SHARE[vehicle.drive],
        "vehicle.alternator.sag_mohm": (1.0 * scale, 8.0 * scale),
        "auxiliary.charge_limit_a": (0.5 * rate, 2 * rate),
        "mount.ambient_c": (15.0, 60.0),
    }
    facts_by_path = facts.by_path()
    gaps = []
    for path, (least, most) in ranges.items():
        fact = facts_by_path.get(path)
        if fact is not None and fact.provenance == "default":
            stands = float(fact.value)
            gaps.append(_Gap(path, fact.label, fact.unit, stands, (min(least, stands), max(most, stands))))
    chassis = vehicle.chassis
    if chassis.bonding_mohm is None and not chassis.trailer:
        gaps.append(_Gap("vehicle.chassis.bonding_mohm", "Bonding between the negatives", "mΩ", None, (2.0, 2000.0)))
    if design.use.daily_ah is None and not design.use.loads:
        capacity = design.auxiliary.capacity_ah
        gaps.append(_Gap("use.daily_ah", "Daily use, standing", "Ah", None, (0.15 * capacity, 0.6 * capacity)))
    if design.use.drive_h is None:
        gaps.append(_Gap("use.drive_h", "Driving per day", "h", None, (0.5, 6.0)))
    if not design.supply.pieces and design.distances.supply_m is None:
        gaps.append(_Gap("distances.supply_m", "Start battery to unit", "m", None, (1.5, 8.0)))
    return gaps


@cache
def _limits(path: str) -> tuple[float, float]:
    """Least and most that a place of the design takes; what is supposed from a reading at its limit may lie beyond."""
    *above, last = path.split(".")
    model: Any = Design
    for name in above:
        model = model.model_fields[name].annotation
    limits = model.model_fields[last].metadata
    least = (getattr(limit, end) for limit in limits for end in ("ge", "gt") if hasattr(limit, end))
    most = (getattr(limit, end) for limit in limits for end in ("le", "lt") if hasattr(limit, end))
    return max(least, default=-math.inf), min(most, default=math.inf)


@dataclass(frozen=True, slots=True)
class _Outcome:
    allowed_a: float | None
    binding: str
    start_v: float
    stop_open: bool
    isolated: bool
    floor_a: float | None
    stops: dict[str, str]  # titles by identity


def _outcome(design: Design) -> _Outcome:
    found, at = assess(design, remedies=False, words=False), Context.of(design, worded=False).thresholds
    ruler, stops = found.ruler, {item.id: item.title for item in found.stops}
    binding = next(item.label[0].lower() + item.label[1:] for item in ruler.limits if item.binding)
    proven, _ = common_negative(design)
    return _Outcome(ruler.allowed_a, binding, at.start_v, at.stop_window_open, not proven, ruler.floor_a, stops)


def _stops_changed(now: _Outcome, low: _Outcome, high: _Outcome) -> tuple[list[str], int]:
    """Stops that come or go at either end, in words, and how many."""
    brought = {at: title for at, title in (low.stops | high.stops).items() if at not in now.stops}
    gone = {at: title for at, title in now.stops.items() if at not in low.stops or at not in high.stops}
    told = (("bring", brought), ("clear", gone))
    return [f"may {does} {_named(list(stops.values()))}" for does, stops in told if stops], len(brought) + len(gone)


def _named(titles: list[str]) -> str:
    """Stops by their titles."""
    return f"the stop{'' if len(titles) == 1 else 's'} {listed([f'“{title}”' for title in titles])}"


def _change(now: _Outcome, low: _Outcome, high: _Outcome, used: bool) -> tuple[str, float]:
    """What differs between two outcomes, and from what stands meanwhile, in words, and how heavily it weighs."""
    words, stops = _stops_changed(now, low, high)
    weight = 2.0 * stops
    if low.isolated != high.isolated:
        words.append("decides isolated or non-isolated")
        weight += 3
    if low.allowed_a is not None and high.allowed_a is not None and abs(low.allowed_a - high.allowed_a) > 0.5:
        least, most = sorted((low.allowed_a, high.allowed_a))
        names = f"{low.binding} or {high.binding} binds" if low.binding != high.binding else f"{low.binding} binds"
        words.append(f"moves the output allowed between {least:.0f} and {most:.0f} A ({names})")
        weight += 2 * (most - least) / max(most, 1.0)
    said = NO_WINDOW in now.stops | low.stops | high.stops
    if used and low.stop_open != high.stop_open and not said:
        words.append("decides whether the stop window is open")
        weight += 2
    if used and abs(low.start_v - high.start_v) > 0.04:
        least, most = sorted((low.start_v, high.start_v))
        words.append(f"moves the start between {least:.2f} and {most:.2f} V")
        weight += 1
    if low.floor_a is not None and high.floor_a is not None and abs(low.floor_a - high.floor_a) > 0.5:
        least, most = sorted((low.floor_a, high.floor_a))
        words.append(f"the day then needs {least:.0f} to {most:.0f} A")
        weight += 1
    return "; ".join(words), weight


def unknowns(design: Design) -> tuple[Unknown, ...]:
    """Every gap of the survey with what it would change, the weightiest first.

    Args:
        design: the design.
    """
    used = "voltage" in design.activation.ways
    document = design.model_dump(mode="json")
    now, found = _outcome(design), list[tuple[float, Unknown]]()
    for gap in _gaps(design, gather(design)):
        ends = []
        low, high = _limits(gap.path)
        for end in gap.ends:
            value, changed = min(max(end, low), high), {**document}
            for key in gap.path.split(".")[:1]:
                changed[key] = _copied(document[key])
            with_change(changed, gap.path, value)
            ends.append(_outcome(Design.model_validate(changed)))
        effect, weight = _change(now, ends[0], ends[1], used)
        if not effect and gap.path.startswith("use."):
            other = "driving hours" if gap.path == "use.daily_ah" else "daily use"
            effect, weight = f"with the {other}, says whether the week keeps up", 0.5
        found.append(
            (
                weight,
                Unknown(
                    path=gap.path,
                    label=gap.label,
                    standing="open" if gap.standing is None else f"{show(gap.standing, gap.unit)} assumed",
                    effect=effect or "would change nothing here",
                    matters=weight > 0,
                ),
            )
        )
    return tuple(item for _, item in sorted(found, key=lambda pair: -pair[0]))


def _copied(value: object) -> object:
    if isinstance(value, dict):
        return {key: _copied(item) for key, item in value.items()}
    return [_copied(item) for item in value] if isinstance(value, list) else value
