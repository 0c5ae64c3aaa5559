"""Every unit of a shelf judged for a design, in one line each."""

from __future__ import annotations

from collections.abc import Iterable

from olvask.core.assessment import Finding, UnitVerdict
from olvask.core.circuit import solve
from olvask.core.ledger import Ledger
from olvask.core.model import Charger, Design
from olvask.core.rules.match import judge_match
from olvask.core.rules.thresholds import hold_voltage, set_thresholds

FIT_ORDER = {"fits": 0, "turned_down": 1, "no": 2}


def judge_units(design: Design, units: Iterable[Charger]) -> list[UnitVerdict]:
    """Judge each unit in the design's vehicle, at full current and, where it must be, turned down.

    Args:
        design: the design; its own unit and setting are left aside.
        units: the shelf.

    Only Match findings decide: cables and devices follow the unit, not the other way about.
    """
    verdicts = [_judge(design, unit) for unit in units]
    return sorted(verdicts, key=lambda item: (FIT_ORDER[item.fit], item.cautious, -item.output_a, item.price))


def _unit_alone(design: Design, unit: Charger, set_to_a: float | None) -> tuple[list[Finding], str]:
    """Match findings above a note, and the limit that binds, for one unit in the design's place."""
    candidate = design.model_copy(update={"charger": unit, "current_limit_a": set_to_a})
    solved = solve(candidate)
    ledger = Ledger()
    ruler = judge_match(candidate, solved, ledger, hold_voltage(candidate, set_thresholds(candidate, solved)))
    binding = next(item for item in ruler.limits if item.binding)
    return [
        item for item in ledger.findings if item.level != "note"
    ], f"{_lower(binding.label)} binds at {binding.amps:.0f} A"


def _judge(design: Design, unit: Charger) -> UnitVerdict:
    if unit.input_nominal_v != design.vehicle.system_v or unit.output_nominal_v != design.auxiliary.nominal_v:
        return _say(unit, "no", None, f"wrong voltage: {unit.input_nominal_v} V in, {unit.output_nominal_v} V out")
    trouble, binding = _unit_alone(design, unit, None)
    if not trouble:
        return _say(unit, "fits", None, binding)
    settings = [
        change.value
        for item in trouble
        for way in item.ways_out
        for change in way.changes
        if change.path == "current_limit_a" and change.value is not None
    ]
    if settings:
        turned_a = min(settings)
        again, binding = _unit_alone(design, unit, turned_a)
        if not any(item.level == "stop" for item in again):
            doubt = f"; caution: {_lower(again[0].title)}" if again else ""
            return _say(unit, "turned_down", turned_a, f"{binding}{doubt}", bool(again))
    worst = min(trouble, key=lambda item: item.level != "stop")
    if worst.level != "stop":
        return _say(unit, "fits", None, f"caution: {_lower(worst.title)}", True)
    return _say(unit, "no", None, _lower(worst.title))


def _lower(title: str) -> str:
    return title[0].lower() + title[1:]


def _say(unit: Charger, fit: str, set_to_a: float | None, reason: str, cautious: bool = False) -> UnitVerdict:
    return UnitVerdict.model_validate(
        {
            "id": unit.id,
            "name": unit.name,
            "isolated": unit.isolated,
            "output_a": unit.output_a,
            "price": unit.price,
            "fit": fit,
            "set_to_a": set_to_a,
            "cautious": cautious,
            "reason": reason,
        }
    )
