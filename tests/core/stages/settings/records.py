"""Random menus: lines that show, rewrite, hide, save, restart, latch and count in ways real ones do, in any mixture."""

from __future__ import annotations

import random
from typing import Any

Plain = dict[str, Any]
KINDS = ("flooded", "agm", "gel", "lfp")
ABSORB = {"flooded": 14.6, "agm": 14.4, "gel": 14.2, "lfp": 14.2}
FLOAT = {"flooded": 13.6, "agm": 13.6, "gel": 13.7, "lfp": 13.5}


def on_grid(pick: random.Random, low: float, high: float, step: float) -> float:
    """Some value a knob can stop at."""
    return round(low + step * pick.randint(0, int((high - low) / step + 1e-6)), 4)


def ways(pick: random.Random) -> Plain:
    """How a line behaves besides its value."""
    return {
        "needs_saving": pick.random() < 0.35,
        "restarts": pick.random() < 0.12,
        "at_power_up": pick.random() < 0.15,
        "latches": pick.random() < 0.08,
        "lost_at_reset": pick.random() < 0.8,
    }


def number(pick: random.Random, id: str, means: str, unit: str, low: float, high: float, step: float) -> Plain:
    """A line with a number, its factory value anywhere, now and then nowhere written down."""
    line: Plain = {"id": id, "label": f"{id} here", "means": means, "unit": unit}
    factory = None if pick.random() < 0.1 else on_grid(pick, low, high, step)
    return line | {"from_value": low, "to_value": high, "step": step, "factory": factory} | ways(pick)


def record(pick: random.Random, nominal_v: int, output_a: float, volts: tuple[float, float, float]) -> Plain:
    """A menu for a unit that charges so many volts, with start and stop lines of its rules' range."""
    block = pick.random() < 0.4
    scale = 1.0 if block else nominal_v / 12
    step = pick.choice((0.05, 0.1, 0.2))
    low, high = round(12.0 * scale, 2), round(15.4 * scale, 2)
    high = round(low + step * int((high - low) / step), 4)
    absorb = number(pick, "absorb", "absorption_v", "V", low, high, step) | {"per_block": block}
    hold = number(pick, "hold", "float_v", "V", low, high, step) | {"per_block": block}
    lines = [absorb, hold]
    if pick.random() < 0.8:
        _typed(pick, lines, absorb, hold, scale, (low, high, step))
    if pick.random() < 0.5:
        lines.append(_equalise(pick, lines))
    if pick.random() < 0.5:
        unit, top = pick.choice((("h", 8.0), ("min", 480.0)))
        lines.append(number(pick, "time", "absorption_h", unit, 0.0, top, top / 16))
    if pick.random() < 0.4:
        lines.append(number(pick, "again", "rebulk_v", "V", low, high, step) | {"per_block": block})
    if pick.random() < 0.4:
        lines.append(number(pick, "tail", "tail_a", "A", 0.0, 20.0, 0.5))
    if pick.random() < 0.6:
        lines += _limit(pick, output_a)
    if pick.random() < 0.6:
        lines += _rules(pick, volts)
    if pick.random() < 0.3:
        lines.append(
            {"id": "role", "label": "role here", "means": "role", "kind": "choice", "factory": "supply"} | ways(pick)
        )
        lines[-1]["options"] = [{"label": word, "stands_for": word} for word in ("supply", "charger")]
    pick.shuffle(lines)
    return {"lines": lines}


def _typed(
    pick: random.Random, lines: list[Plain], absorb: Plain, hold: Plain, scale: float, grid: tuple[float, float, float]
) -> None:
    """A kind of battery that rewrites the volts, and perhaps shows or hides their lines."""
    low, high, step = grid

    def near(value: float) -> float:
        return round(low + step * round((min(max(value, low), high) - low) / step), 4)

    options = [
        {
            "label": f"type {kind}",
            "stands_for": kind if pick.random() < 0.8 else "",
            "rewrites": [
                {"line": "absorb", "value": near(ABSORB[kind] * scale)},
                {"line": "hold", "value": near(FLOAT[kind] * scale)},
            ],
        }
        for kind in KINDS
    ]
    own = pick.random() < 0.6
    if own:
        options.append({"label": "own"})
    line = {"id": "kind", "label": "kind here", "means": "battery_type", "options": options} | ways(pick)
    lines.append(line | {"kind": pick.choice(("choice", "coded")), "factory": pick.choice(options)["label"]})
    for target in (absorb, hold):
        way = pick.random()
        if way < 0.3 and target["factory"] is not None:
            target["hidden"] = True
        elif way < 0.8 and own:
            target |= {"shown_line": "kind", "shown_values": ["own"], "acts_hidden": True}


def _equalise(pick: random.Random, lines: list[Plain]) -> Plain:
    """A switch that may show only under some kind of battery."""
    line: Plain = {
        "id": "equal",
        "label": "equal here",
        "means": "equalise",
        "kind": "switch",
        "factory": pick.choice(("on", "off")),
    }
    kinds = next((item for item in lines if item["id"] == "kind"), None)
    if kinds is not None and pick.random() < 0.6:
        shown = [option["label"] for option in kinds["options"] if pick.random() < 0.5] or ["type flooded"]
        line |= {"shown_line": "kind", "shown_values": shown, "acts_hidden": pick.random() < 0.7}
    return line | ways(pick)


def _limit(pick: random.Random, output_a: float) -> list[Plain]:
    if pick.random() < 0.5:
        return [number(pick, "limit", "current_limit_a", "%", 20, 100, 5)]
    steps = [round(output_a * share, 2) for share in (0.4, 0.6, 0.8, 1.0)]
    line: Plain = {"id": "limit", "label": "limit here", "means": "current_limit_a", "unit": "A", "steps": steps}
    return [line | {"factory": pick.choice(steps)} | ways(pick)]


def _rules(pick: random.Random, volts: tuple[float, float, float]) -> list[Plain]:
    low, high, step = volts
    found = [
        number(pick, f"{name}_at", f"{name}_v", "V", low, high, step) for name in ("start", "stop", "guard", "back")
    ]
    if pick.random() < 0.5:
        found.append(number(pick, "start_after", "start_held_s", "s", 0, 600, 5))
        found.append(number(pick, "stop_after", "stop_held_s", "s", 0, 600, 5))
    if pick.random() < 0.4:
        detect = {
            "id": "detect",
            "label": "detect here",
            "means": "detection",
            "kind": "switch",
            "factory": "on",
        } | ways(pick)
        for line in found[:2]:
            line |= {"shown_line": "detect", "shown_values": ["on"], "acts_hidden": pick.random() < 0.5}
        found.append(detect)
    return found
