"""Batteries charged by small fixed steps: the same physics written down anew, with a search of the table by halves and plain bisection.

Shares no code with the core but the table of rested volts. Steps of twenty seconds; every balance is bisected.
"""

from __future__ import annotations

import csv
import math
from bisect import bisect_right
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np

DATA = Path(__file__).parents[2] / "src/olvask/core/catalogue/data"
STEP_S = 20.0
# Written down anew: resistance [Ω·Ah per 12 V], what it keeps of a charge, where it tapers.
MAKE = {"flooded": (0.50, 0.80, 0.80), "agm": (0.35, 0.85, 0.80), "gel": (0.55, 0.85, 0.80), "lfp": (0.60, 0.99, 0.95)}


def rest_table(chemistry: str) -> tuple[list[float], list[float]]:
    """Rested volts per 12 V by share of charge."""
    with (DATA / "open_circuit_volts.csv").open(encoding="utf-8") as file:
        rows = [row for row in csv.DictReader(file) if row["chemistry"] == chemistry]
    return [float(row["state_of_charge_percent"]) / 100 for row in rows], [float(row["open_circuit_v"]) for row in rows]


@dataclass
class Stepped:
    """The charge at each full hour, when it reached shares, when each source's first absorption was over, and how it ended."""

    hourly: list[float] = field(default_factory=list)
    reached_h: dict[float, float] = field(default_factory=dict)
    end: float = 0.0
    stage: str = ""
    absorbed_h: dict[int, float] = field(default_factory=dict)
    opened: bool = False


def _target_v(source: dict[str, Any], stage: str, celsius: float) -> float:
    """Volts it holds in a stage; none where it rests."""
    told = {"bulk": "absorb", "absorption": "absorb", "equalise": "equalise", "float": "float", "pulse": "absorb"}.get(
        stage
    )
    return 0.0 if told is None else float(source[told] + source.get("mv_per_k", 0.0) / 1000 * (celsius - 25))


def _source_a(source: dict[str, Any], target: float, post_v: float, able_a: float) -> float:
    """What a source sends into posts at some volts: the least of what each of its limits allows."""
    if target == 0.0 or able_a <= 0 or post_v >= target:
        return 0.0
    lead = source["lead"]
    most = min(able_a, (target - post_v) / lead)
    if source.get("rated_at") and post_v + most * lead > source["rated_at"]:
        roots = np.roots([lead, post_v, -able_a * source["rated_at"]])  # (V + I R) I = P
        most = min(most, float(max(roots.real)))
    if source.get("back_off", target) < target:
        fall = able_a / (target - source["back_off"])  # amperes a volt at its own terminals
        most = min(most, (target - post_v) / (lead + 1 / fall))  # a resistance in series with the lead
    return max(0.0, float(most))


def stepped(case: dict[str, Any]) -> Stepped:
    """One scenario, step by step."""
    battery, sources = case["battery"], case["sources"]
    ohm_ah, kept, taper = MAKE[battery["chemistry"]]
    blocks, size = float(battery.get("volts", 12) / 12), battery["ah"]
    shares, volts = rest_table(battery["chemistry"])
    celsius, air = case.get("celsius", 25.0), case.get("celsius", 25.0)
    below = max(0.0, 25 - celsius)
    lithium = battery["chemistry"] == "lfp"
    ohm_factor = 2 ** (below / 25) if lithium else 1 + 0.012 * below
    takes_factor = max(0.1, 1 / ohm_factor if lithium else 1 - 0.018 * below)
    inner = ohm_ah / size * blocks * ohm_factor
    limit = battery["limit"] * takes_factor

    def rest(share: float) -> float:
        at = min(max(bisect_right(shares, share), 1), len(shares) - 1)
        along = (share - shares[at - 1]) / (shares[at] - shares[at - 1])
        return (volts[at - 1] + along * (volts[at] - volts[at - 1])) * blocks

    def against(share: float) -> tuple[float, float]:
        if share >= taper:
            most = float(limit * max(0.0, 1 - share) / (1 - taper))
            return float(max(inner, (battery["absorb"] - rest(share)) / most if most > 1e-6 else 1e3)), most
        full = max(inner, (battery["absorb"] - rest(taper)) / limit)
        return float(inner + (full - inner) * (share / taper) ** 2), float(limit)

    found, charge, now = Stepped(), case["from"], 0.0
    stage = ["bulk" for _ in sources]
    since, bulk, heat = [0.0] * len(sources), [0.0] * len(sources), [0.0] * len(sources)
    equalised, under = [False] * len(sources), [-1.0] * len(sources)
    while now <= case["hours"] * 3600:
        load = sum(amps for begin, end, amps in case.get("loads", []) if begin * 3600 <= now < end * 3600)
        ohm, most = against(charge)
        if found.opened or celsius < battery.get("cold", -99):
            most = 0.0
        ables = []
        for at, source in enumerate(sources):
            over = max(0.0, air + 25 * heat[at] - source.get("ambient", 40) - 25)
            able = source["amps"] * max(0.0, 1 - source.get("derates", 0.0) / 100 * over)
            if source.get("sun"):
                day = now % 86400
                able *= math.sin(math.pi * day / (source["sun"] * 3600)) if day < source["sun"] * 3600 else 0.0
            ables.append(0.0 if celsius < source.get("cold", -99) else able)
        targets = [_target_v(source, stage[at], celsius) for at, source in enumerate(sources)]
        rested = rest(charge)
        low, high = rested - load * inner - 0.1, max(rested, 17 * blocks)
        for _ in range(26):
            middle = (low + high) / 2
            given = sum(_source_a(source, targets[at], middle, ables[at]) for at, source in enumerate(sources))
            net = (middle - rested) / (ohm if middle > rested else inner)
            low, high = (middle, high) if given - load > min(net, most) else (low, middle)
        post = (low + high) / 2
        amps = [_source_a(source, targets[at], post, ables[at]) for at, source in enumerate(sources)]
        if post >= battery.get("opens", 99) and not found.opened:
            found.opened = True
        for at, source in enumerate(sources):
            lasted, terminal = now - since[at], post + amps[at] * source["lead"]
            after = "rest" if source.get("rests") else "float"
            longest = source["hours"] * 3600
            if source.get("adaptive"):
                longest = min(longest, max(600.0, bulk[at] / 2))
            held = ables[at] > 0 and terminal >= targets[at] - 0.005
            if stage[at] == "bulk" and (held or lasted >= source.get("cap", 1e9) * 3600):
                bulk[at], stage[at], since[at] = lasted, "absorption" if held else after, now
            elif stage[at] == "absorption" and (
                lasted >= longest
                or (
                    source.get("tail", 0.0) > 0
                    and amps[at] <= source["tail"]
                    and (not source.get("sun") or ables[at] > source["tail"])
                )
            ):
                due = source.get("equalise") and not equalised[at]
                found.absorbed_h.setdefault(at, now / 3600)
                stage[at], since[at] = "equalise" if due else after, now
            elif stage[at] == "equalise" and lasted >= 3600:
                stage[at], since[at], equalised[at] = after, now, True
            elif stage[at] == "pulse" and lasted >= 300:
                stage[at], since[at] = "rest", now
            elif stage[at] == "rest" and source.get("pulses") and lasted >= 3600:
                stage[at], since[at] = "pulse", now
            elif (
                stage[at] in ("rest", "float")
                and terminal < source["again"] - 1e-4
                and (stage[at] == "rest" or amps[at] >= 0.999 * ables[at] > 0)
            ):
                under[at] = under[at] if under[at] >= 0 else now
                if now - under[at] >= 60:
                    stage[at], since[at], under[at] = "bulk", now, -1.0
                continue
            under[at] = -1.0
        if now >= 3600 * len(found.hourly):
            found.hourly.append(charge)
        for share in (0.5, 0.8, 0.95):
            if charge >= share:
                found.reached_h.setdefault(share, now / 3600)
        net = sum(amps) - load
        charge = min(1.0, max(0.0, charge + net * (kept if net > 0 else 1.0) * STEP_S / 3600 / size))
        heat = [was + (amps[at] / sources[at]["amps"] - was) * STEP_S / 1800 for at, was in enumerate(heat)]
        now += STEP_S
    found.end, found.stage = charge, stage[0]
    return found
