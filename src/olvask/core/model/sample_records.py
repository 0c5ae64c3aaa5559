"""Settings records of the invented shelf: menus built in different ways, as makers build them.

- `record_for`: the record of a sample unit; `None` where it is left bare on purpose.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Plain = dict[str, Any]
Row = Mapping[str, Any]

# Volts per 12 V that the invented devices bring for each kind of battery: absorption, float.
PRESETS = {"flooded": (14.6, 13.6), "agm": (14.4, 13.5), "gel": (14.2, 13.6), "lfp": (14.2, 13.5)}
NAMES = {"flooded": "wet", "agm": "AGM", "gel": "gel", "lfp": "lithium"}


def _scale(row: Row) -> float:
    return float(row["output_nominal_v"]) / 12


def _volts(id: str, label: str, means: str, low: float, high: float, step: float, factory: float, **more: Any) -> Plain:
    return {
        "id": id,
        "label": label,
        "means": means,
        "unit": "V",
        "from_value": round(low, 3),
        "to_value": round(high, 3),
        "step": step,
        "factory": round(factory, 3),
        **more,
    }


def _number(
    id: str, label: str, means: str, unit: str, bounds: tuple[float, float, float], factory: float, **more: Any
) -> Plain:
    low, high, step = bounds
    return {
        "id": id,
        "label": label,
        "means": means,
        "unit": unit,
        "from_value": low,
        "to_value": high,
        "step": step,
        "factory": factory,
        **more,
    }


def _switch(id: str, label: str, means: str, factory: str, **more: Any) -> Plain:
    return {"id": id, "label": label, "means": means, "kind": "switch", "factory": factory, **more}


def _type_options(scale: float, absorb: str, hold: str, names: Mapping[str, str] = NAMES) -> list[Plain]:
    """Choices of battery kind that rewrite the volts of two lines."""
    return [
        {
            "label": label,
            "stands_for": kind,
            "rewrites": [
                {"line": absorb, "value": round(PRESETS[kind][0] * scale, 3)},
                {"line": hold, "value": round(PRESETS[kind][1] * scale, 3)},
            ],
        }
        for kind, label in names.items()
    ]


def _rules(row: Row, held: bool = True, **more: Any) -> list[Plain]:
    """Lines of start, stop and lockout as the unit's rules have them."""
    found: list[Plain] = []
    blocks = float(row["input_nominal_v"]) / 12 if more.get("per_block") else 1.0
    for group, means, label, factory in (
        ("start_rules", "start", "Charge on at", 13.4),
        ("stop_rules", "stop", "Charge off below", 12.8),
        ("guard", "guard", "Spare the starter below", 12.0),
        ("guard", "back", "Back at", 12.8),
    ):
        rule = row[group]
        if rule.get("from_v") is None:
            continue
        low, high, step = (round(rule[key] / blocks, 4) for key in ("from_v", "to_v", "step_v"))
        nominal = float(row["input_nominal_v"]) / 12 / blocks
        for n in range(1, rule.get("rows", 1) + 1):
            after = "" if n == 1 else str(n)
            found.append(
                _volts(
                    f"{means}{after}",
                    f"{label} {after}".strip(),
                    f"{means}_v",
                    low,
                    high,
                    step,
                    factory * nominal,
                    **more,
                )
            )
            if held and group != "guard":
                label_held = f"{'On' if means == 'start' else 'Off'} after {after}".strip()
                seconds = 15.0 if means == "start" else 60.0
                found.append(_number(f"{means}{after}_held", label_held, f"{means}_held_s", "s", (0, 600, 1), seconds))
    return found


def _application(row: Row) -> Plain:
    """An application with profiles: an own one opens the lines, and everything wants sending to the unit."""
    scale, saved = _scale(row), {"needs_saving": True}
    own = {"shown_line": "profile", "shown_values": ["own"], "needs_saving": True}
    low, high = row["output_min_v"], row["output_max_v"]
    options = [*_type_options(scale, "absorb", "hold"), {"label": "own", "stands_for": "own"}]
    for option in options[:3]:
        option["rewrites"] += [{"line": "comp", "value": round(-24 * scale, 1)}, {"line": "cold", "value": "off"}]
    options[3]["rewrites"] += [{"line": "comp", "value": 0.0}, {"line": "cold", "value": "off"}]
    lines = [
        {"id": "role", "label": "Use as", "means": "role", "kind": "choice", "factory": "charger", "restarts": True}
        | {"options": [{"label": "charger", "stands_for": "charger"}, {"label": "supply", "stands_for": "supply"}]}
        | saved,
        {"id": "profile", "label": "Battery profile", "means": "battery_type", "kind": "choice", "factory": "wet"}
        | {"options": options}
        | saved,
        _volts("absorb", "Absorption voltage", "absorption_v", low, high, 0.05, 14.6 * scale, **own),
        _number("absorb_for", "Absorption, at most", "absorption_h", "min", (0, 480, 5), 120, **own),
        _volts("hold", "Storage voltage", "float_v", low, high, 0.05, 13.6 * scale, **own),
        _number("comp", "Compensation", "compensation_mv_per_k", "mV/K", (-60 * scale, 0, 1), -24 * scale, **own),
        _switch("cold", "Cold stop", "other", "off", **own),
        _number("cold_at", "Cold stop at", "cold_c", "°C", (-10, 10, 1), 5)
        | {"shown_line": "cold", "shown_values": ["on"], "acts_hidden": False, "needs_saving": True},
        _number(
            "limit", "Charge current", "current_limit_a", "A", (row["limit_min_a"], row["output_a"], 1), row["output_a"]
        )
        | saved,
        _switch("detect", "Watch the engine by voltage", "detection", "on", **saved),
        *_rules(row, needs_saving=True),
        {"id": "code", "label": "Access code", "means": "access_code", "kind": "choice", "factory": "as delivered"}
        | {"options": [{"label": "as delivered"}, {"label": "own"}]},
    ]
    return {
        "lines": lines,
        "enter": "Join the unit with the application; code on its side.",
        "save": "Send to unit, wait for the tick.",
    }


def _buttons(row: Row) -> Plain:
    """One button and four lamps: everything follows from the kind of battery."""
    scale = _scale(row)
    hidden = {"hidden": True}
    lamps = {"flooded": "first lamp", "agm": "second lamp", "gel": "third lamp", "lfp": "fourth lamp"}
    return {
        "enter": "Press until a lamp blinks; each press goes on to the next.",
        "save": "",
        "lines": [
            {
                "id": "kind",
                "label": "Battery button",
                "means": "battery_type",
                "kind": "choice",
                "factory": "first lamp",
            }
            | {"options": _type_options(scale, "absorb", "hold", lamps), "lost_at_reset": False},
            _volts(
                "absorb",
                "Absorption",
                "absorption_v",
                row["output_min_v"],
                row["output_max_v"],
                0.1,
                14.6 * scale,
                **hidden,
            ),
            _volts("hold", "Float", "float_v", row["output_min_v"], row["output_max_v"], 0.1, 13.6 * scale, **hidden),
        ],
    }


def _menu(row: Row) -> Plain:
    """A knob and a small display: equalising shows under lead alone, and leaving without saving loses all."""
    scale, saved = _scale(row), {"needs_saving": True}
    lead = {"shown_line": "kind", "shown_values": ["lead"], "needs_saving": True}
    low, high = row["output_min_v"], row["output_max_v"]
    kinds = [{"label": "lead", "stands_for": "flooded"}, {"label": "lithium", "stands_for": "lfp"}]
    limit: list[Plain] = []
    if row["current_limit"] == "steps":
        limit = [
            {"id": "limit", "label": "Output to", "means": "current_limit_a", "unit": "A", "factory": row["output_a"]}
            | {"steps": sorted({*row["limit_steps_a"], row["output_a"]})}
            | saved
        ]
    return {
        "enter": "Turn the knob past the stop and hold.",
        "save": "Choose SAVE before leaving, or all is lost.",
        "lines": [
            {"id": "kind", "label": "Battery kind", "means": "battery_type", "kind": "choice", "factory": "lead"}
            | {"options": kinds}
            | saved,
            _switch("equal", "Equalise", "equalise", "on", **lead),
            _volts("absorb", "Absorb at", "absorption_v", low, high, 0.1, 14.6 * scale, **saved),
            _number("absorb_for", "Absorb for", "absorption_h", "h", (0, 8, 0.5), 3, **saved),
            _volts("hold", "Store at", "float_v", low, high, 0.1, 13.8 * scale, **saved),
            _volts("again", "Begin again below", "rebulk_v", 12.0 * scale, 13.6 * scale, 0.1, 12.6 * scale, **saved),
            *limit,
            _switch("cold", "Cold stop", "other", "off", **saved),
            _number("cold_at", "Cold stop at", "cold_c", "°C", (0, 10, 1), 3)
            | {"shown_line": "cold", "shown_values": ["on"], "acts_hidden": False}
            | saved,
            *_rules(row, needs_saving=True),
            {"id": "beep", "label": "Key sound", "means": "display", "kind": "switch", "factory": "on"} | saved,
        ],
    }


def _coded(row: Row) -> Plain:
    """Coded switches read at power-up, volts in fixed pairs; the start and stop by jumper or fixed."""
    scale, dead = _scale(row), {"at_power_up": True, "lost_at_reset": False}
    labels = {"flooded": "both down", "agm": "1 up", "gel": "2 up", "lfp": "both up"}
    limit: list[Plain] = []
    if row["current_limit"] == "steps":
        limit = [
            {"id": "limit", "label": "Switch 3, 4", "means": "current_limit_a", "unit": "A", "factory": row["output_a"]}
            | {"steps": sorted({*row["limit_steps_a"], row["output_a"]}), "note": "Its table is on the lid."}
            | dead
        ]
    hidden = {"hidden": True, "at_power_up": True}
    low, high = row["output_min_v"], row["output_max_v"]
    return {
        "enter": "Under the lid; unit dead.",
        "save": "",
        "lines": [
            {"id": "pair", "label": "Switch 1, 2", "means": "battery_type", "kind": "coded", "factory": "both down"}
            | {"options": _type_options(scale, "absorb", "hold", labels)}
            | dead,
            *limit,
            _volts("absorb", "Absorption", "absorption_v", low, high, 0.1, 14.6 * scale, **hidden),
            _volts("hold", "Float", "float_v", low, high, 0.1, 13.6 * scale, **hidden),
            {
                "id": "signal",
                "label": "Jumper J2, signal",
                "means": "signal_mode",
                "kind": "coded",
                "factory": "ignition",
            }
            | {"latches": True, "lost_at_reset": False}
            | {
                "options": [
                    {"label": "ignition", "stands_for": "ignition"},
                    {"label": "charge lamp", "stands_for": "d_plus"},
                    {"label": "none", "stands_for": "voltage"},
                ]
            },
            *_rules(row, held=False, kept_without_remote=False),
        ],
    }


def _per_block(row: Row) -> Plain:
    """A display unit that counts volts per 12 V block and current in per cent."""
    scale = _scale(row)
    least = row["limit_min_a"] / row["output_a"] * 100 if row["limit_min_a"] else 100
    step = 5.0
    lowest = min(100.0, (int(least / step) + (1 if least % step else 0)) * step)
    block = {"per_block": True}
    limit: list[Plain] = []
    if row["current_limit"] == "continuous":
        limit = [_number("limit", "Current", "current_limit_a", "%", (lowest, 100, step), 100)]
    low, high = row["output_min_v"] / scale, row["output_max_v"] / scale
    return {
        "enter": "Hold both arrows for three seconds.",
        "save": "",
        "lines": [
            {"id": "kind", "label": "Batt", "means": "battery_type", "kind": "choice", "factory": "wet"}
            | {"options": _type_options(1.0, "absorb", "hold")},
            _volts("absorb", "Boost", "absorption_v", low, high, 0.05, 14.6, **block),
            _volts("hold", "Keep", "float_v", low, high, 0.05, 13.6, **block),
            _number("comp", "Temp", "compensation_mv_per_k", "mV/K", (-40, 0, 1), -24, **block),
            *limit,
            *_rules(row, per_block=True),
            {"id": "lamp", "label": "Lamp", "means": "display", "kind": "switch", "factory": "on"},
        ],
    }


def _nothing(_: Row) -> Plain:
    return {"lines": [], "enter": "Nothing in it can be set.", "save": ""}


MENUS: Mapping[str, Callable[[Row], Plain]] = {
    "sandling": _application,
    "redshank": _application,
    "fieldfare": _application,
    "wagtail": _buttons,
    "dunlin": _menu,
    "turnstone": _coded,
    "whimbrel": _application,
    "plover": _menu,
    "knot": _per_block,
    "sanderling": _per_block,
    "godwit": _per_block,
    "lapwing": _per_block,
    "avocet": _coded,
    "oystercatcher": _menu,
    "phalarope": _menu,
    "stint": _nothing,
    "ruff": _nothing,
}


def record_for(row: Row) -> Plain | None:
    """The settings record of a sample unit as plain data.

    Args:
        row: the unit as plain data, every field given.
    """
    menu = MENUS.get(str(row["id"]))
    return menu(row) if menu is not None else None


def _source_menu(nominal_v: int, lead_only: bool) -> Plain:
    """A charger with a knob for the kind of battery and, unless for lead alone, lines of its own."""
    scale = nominal_v / 12
    names = {key: name for key, name in NAMES.items() if key != "lfp" or not lead_only}
    lines = [
        {"id": "kind", "label": "Type knob", "means": "battery_type", "kind": "coded", "factory": "wet"}
        | {"options": _type_options(scale, "absorb", "hold", names)},
        _volts("absorb", "Absorption", "absorption_v", 13.0 * scale, 15.0 * scale, 0.1, 14.6 * scale),
        _volts("hold", "Float", "float_v", 13.0 * scale, 14.4 * scale, 0.1, 13.6 * scale),
    ]
    if lead_only:
        lines = [line | ({"hidden": True} if line["id"] != "kind" else {}) for line in lines]
    else:
        lines.append(_switch("equal", "Equalise", "equalise", "on"))
        lines.append(_number("comp", "Temp. comp.", "compensation_mv_per_k", "mV/K", (-40 * scale, 0, 1), -24 * scale))
    return {"lines": lines, "enter": "Behind the cover.", "save": ""}


def sample_sources() -> list[Plain]:
    """The invented solar controllers and mains chargers of the demo shelf."""
    made = "invented for the demo shelf"
    rows = (
        ("linnet", "Linnet", "solar_controller", 12, 15.0, False, "yes", 64.0),
        ("linnet-24", "Linnet 24", "solar_controller", 24, 15.0, False, "yes", 78.0),
        ("siskin", "Siskin", "solar_controller", 12, 10.0, True, "no", 31.0),
        ("bullfinch", "Bullfinch", "mains_charger", 12, 20.0, False, "yes", 188.0),
        ("bullfinch-24", "Bullfinch 24", "mains_charger", 24, 12.0, False, "yes", 214.0),
        ("brambling", "Brambling", "mains_charger", 12, 30.0, True, "no", 142.0),
        ("serin", "Serin", "portable_charger", 12, 5.0, True, "no", 39.0),
    )
    return [
        {
            "id": id,
            "name": name,
            "maker": "Thornfield",
            "kind": kind,
            "nominal_v": nominal_v,
            "output_a": amps,
            "stages": {"adjustable": "yes", "wakes": wakes, "settings": _source_menu(nominal_v, lead_only)},
            "price": price,
            "source": made,
        }
        for id, name, kind, nominal_v, amps, lead_only, wakes, price in rows
    ]


def sample_monitors() -> list[Plain]:
    """The invented battery monitors of the demo shelf."""
    volts = _volts("full", "Full at", "full_v", 8.0, 60.0, 0.1, 13.2)
    lines = [
        _number("size", "Bank size", "capacity_ah", "Ah", (1, 2000, 1), 200),
        volts,
        _number("tail", "Full under", "full_tail_percent", "%", (0.5, 10, 0.5), 4),
        _number("minutes", "Full for", "full_min", "min", (1, 50, 1), 3),
        _number("keeps", "Charge kept", "efficiency_percent", "%", (50, 100, 1), 85),
        _number("exponent", "Exponent", "lead_exponent", "", (1, 1.5, 0.01), 1.25),
        {"id": "zero", "label": "Set zero", "means": "zero", "kind": "action"},
    ]
    record = {"lines": lines, "enter": "Hold the ring for two seconds.", "save": "It keeps each line as it is left."}
    return [
        {
            "id": "redpoll-300",
            "monitor": {
                "name": "Redpoll 300",
                "maker": "Thornfield",
                "shunt_a": 300.0,
                "zero_error_ma": 20.0,
                "own_draw_ma": 4.0,
                "settings": record,
            },
            "price": 96.0,
            "source": "invented for the demo shelf",
        }
    ]
