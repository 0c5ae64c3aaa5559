"""The menu of a unit whose shelf item has none: what its ranges say it can be set to, factory values not known.

- `menu_of`: a unit's own record, or the generic one.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from olvask.core.model import Charger
from olvask.core.model.charger import VoltRange
from olvask.core.model.settings import Setting, SettingsRecord

FINE_A = 0.1
FINE_V = 0.01  # the step where none is known: no value a sheet may want is lost to it


def menu_of(unit: Charger) -> SettingsRecord:
    """The menu of a unit: its record, or what its ranges come to."""
    return unit.settings if unit.settings is not None else _generic(unit)


@lru_cache(maxsize=256)
def _generic(unit: Charger) -> SettingsRecord:
    return SettingsRecord(lines=tuple(_lines(unit)), enter="As its manual has it.")


def _volts(id: str, label: str, means: str, from_v: float, to_v: float, step_v: float) -> Setting:
    fixed = from_v == to_v
    return Setting.model_validate(
        {
            "id": id,
            "label": label,
            "means": means,
            "unit": "V",
            "from_value": from_v,
            "to_value": to_v,
            "step": step_v,
            "factory": from_v if fixed else None,
            "hidden": fixed,
        }
    )


def _lines(unit: Charger) -> Iterator[Setting]:
    if unit.kind == "charger":
        yield _volts("absorption", "Absorption", "absorption_v", unit.output_min_v, unit.output_max_v, FINE_V)
        yield _volts("float", "Float or storage", "float_v", unit.output_min_v, unit.output_max_v, FINE_V)
    limit = {"label": "Current limit", "means": "current_limit_a", "unit": "A", "id": "limit"}
    if unit.current_limit == "steps":
        steps = sorted({*unit.limit_steps_a, unit.output_a})
        yield Setting.model_validate(limit | {"steps": steps, "factory": unit.output_a})
    elif unit.current_limit == "continuous":
        least_a = min(unit.limit_min_a or 1.0, unit.output_a)
        span_a = unit.output_a - least_a
        if span_a >= 2 * FINE_A:
            step_a = span_a / round(span_a / FINE_A)
            bounds = {"from_value": least_a, "to_value": unit.output_a, "step": step_a, "factory": unit.output_a}
            yield Setting.model_validate(limit | bounds)
    rules: tuple[tuple[str, str, str, VoltRange, int], ...] = (
        ("start", "Start", "start_v", unit.start_rules, unit.start_rules.rows),
        ("stop", "Stop", "stop_v", unit.stop_rules, unit.stop_rules.rows),
        ("guard", "Lockout", "guard_v", unit.guard, 1),
        ("back", "Release", "back_v", unit.guard, 1),
    )
    for id, label, means, record, rows in rules:
        if record.from_v is None or record.to_v is None:
            continue
        for row in range(1, rows + 1):
            name, after = (id, "") if row == 1 else (f"{id}{row}", f" {row}")
            yield _volts(name, label + after, means, record.from_v, record.to_v, record.step_v or FINE_V)
