"""A second opinion on a design, written from the rules and the printed tables. Shares no code with the core.

It reads the same CSV tables (they are data, checked on their own) and the design as plain JSON. Currents are
found by bisection on the terminal voltage, not by the quadratic; resistances stand at 20 °C and at 90 °C, so
that every answer is a bracket rather than a point.
"""

from __future__ import annotations

import csv
import math
from pathlib import Path
from typing import Any

DATA = Path(__file__).parents[2] / "src/olvask/core/catalogue/data"
AIR = {"cabin": 30.0, "under_floor": 40.0, "engine_bay": 70.0}
BUNCH = [0.0, 1.0, 0.8, 0.7, 0.65, 0.6, 0.57]


def _table(name: str) -> list[dict[str, str]]:
    with (DATA / f"{name}.csv").open(encoding="utf-8") as text:
        return list(csv.DictReader(text))[1:]


OHM_PER_M = {row["size"]: float(row["resistance_20c_ohm_per_km"]) / 1000 for row in _table("conductors")}
AREA = {row["size"]: float(row["area_mm2"]) for row in _table("conductors")}
AMPS = {
    (row["size"], row["school"], int(row["insulation_c"])): float(row["ampacity_a"]) for row in _table("ampacities")
}
REST = _table("open_circuit_volts")
CHEMISTRY = {row["chemistry"]: row for row in _table("chemistries")}
DEVICES = {(row["family"], float(row["rating_a"])): row for row in _table("devices")}


def piece_ohm(piece: dict[str, Any], kelvin_over_20: float, lug_ohm: float) -> float:
    """Resistance of one piece of the outgoing conductor."""
    if piece["kind"] == "cable":
        metal = 1.6 if piece["metal"] == "cca" else 1.0
        length_m = float(piece["length_m"])
        one = OHM_PER_M[piece["size"]] * length_m * metal * (1 + 0.00393 * kelvin_over_20) + 2 * lug_ohm
        return one / int(piece["parallel"])
    if piece["kind"] == "device":
        row = DEVICES[piece["family"], piece["rating_a"]]
        return float(row["drop_at_rating_mv"]) / 1000 / float(piece["rating_a"])
    return float(piece["resistance_mohm"]) / 1000 if piece["kind"] == "joint" else 0.0


def loop_ohm(run: dict[str, Any], kelvin_over_20: float, lug_ohm: float) -> float:
    """Out and back; an own return repeats cables and joints but not devices."""
    out = sum(piece_ohm(piece, kelvin_over_20, lug_ohm) for piece in run["pieces"])
    if run["back"]["kind"] == "chassis":
        stated = run["back"]["resistance_mohm"]
        return out + (5.0 if stated is None else stated) / 1000
    return out + sum(
        piece_ohm(piece, kelvin_over_20, lug_ohm) for piece in run["pieces"] if piece["kind"] in ("cable", "joint")
    )


def spared_v(run: dict[str, Any], lug_ohm: float) -> float:
    """Volts a delivery run does not drop, since its branches take their current off what goes on to the battery."""
    both = 2 if run["back"]["kind"] == "cable" else 1
    taken_a = volts = 0.0
    for piece in run["pieces"]:
        taken_a += piece["current_a"] if piece["kind"] == "branch" else 0.0
        volts += taken_a * piece_ohm(piece, 70.0, lug_ohm) * (1 if piece["kind"] == "device" else both)
    return volts


def terminal_volts(source_v: float, ohm: float, power_w: float) -> float | None:
    """Highest voltage at which supply meets demand, searched from above; none when there is no such voltage."""
    volts, step = source_v, source_v / 4000
    while volts > 0:
        if (source_v - volts) / ohm * volts >= power_w:
            low, high = volts, min(volts + step, source_v)
            for _ in range(60):
                middle = (low + high) / 2
                low, high = (middle, high) if (source_v - middle) / ohm * middle >= power_w else (low, middle)
            return low
        volts -= step
    return None


def ampacity(cable: dict[str, Any], school: str) -> float:
    """Ampacity by the printed tables: conduit takes the enclosed table; ambient, grouping and metal factors."""
    kind = "enclosed" if cable["conduit"] else school
    columns = sorted(limit for size, table, limit in AMPS if size == cable["size"] and table == kind)
    under = [limit for limit in columns if limit <= cable["insulation_c"]]
    column = under[-1] if under else columns[0]
    air = AIR[cable["place"]] if cable["ambient_c"] is None else cable["ambient_c"]
    limit = cable["insulation_c"]
    if air >= limit:
        return 0.0
    allowed = (limit - air) / (1 + 0.00393 * (limit - 20))
    made_for = (column - 30) / (1 + 0.00393 * (column - 20))
    metal = 1.6 if cable["metal"] == "cca" else 1.0
    squared = float(allowed / made_for / metal)
    one = AMPS[cable["size"], kind, column] * math.sqrt(squared) * BUNCH[int(cable["grouped"])]
    return one * int(cable.get("parallel", 1))


def broken_rules(
    design: dict[str, Any], hold_v: float, stay_v: float, output_a: float, absorption_v: float
) -> list[str]:
    """Safety rules of cable and protection a design breaks, in words; empty when it breaks none.

    Args:
        design: as plain data.
        hold_v: lowest voltage the unit can linger at.
        stay_v: lowest surveyed running voltage at its input.
        output_a: output current as set.
        absorption_v: absorption voltage in force.
    """
    broken: list[str] = []
    lug = design["choices"]["lug_mohm"] / 1000
    school = design["choices"]["ampacity_school"]
    # The coldest delivery run gives the least power, so every bound here is on the lenient side.
    lifted_v = output_a * loop_ohm(design["delivery"], 0.0, lug) - spared_v(design["delivery"], lug)
    power_w = (absorption_v + lifted_v) * output_a / design["charger"]["efficiency"]
    for name, own_a, worst_a in (("supply", power_w / stay_v, power_w / hold_v), ("delivery", output_a, output_a)):
        pieces = design[name]["pieces"]
        order = pieces if name == "supply" else pieces[::-1]  # from the battery on
        if not any(piece["kind"] == "cable" for piece in order):
            continue
        guard: dict[str, Any] | None = None
        bare_m = 0.0
        for at, piece in enumerate(order):
            # What is taken off at or beyond this piece comes through it; on the delivery run only while not charging.
            beyond_a = sum(item["current_a"] for item in order[at:] if item["kind"] == "branch")
            amps = own_a + beyond_a if name == "supply" else max(own_a, beyond_a)
            most_a = max(amps, worst_a + beyond_a if name == "supply" else max(worst_a, beyond_a))
            if piece["kind"] == "device":
                guard = piece
                if piece["rating_a"] < most_a - 1e-6:
                    broken.append(f"{name}: {piece['rating_a']} A device for {most_a:.2f} A")
                if bare_m == 0 and not breaks_at_the_post(design, name, piece):
                    broken.append(f"{name}: {piece['family']} cannot break the short circuit at the post")
            elif piece["kind"] == "cable":
                limit_a = ampacity(piece, school)
                if amps > limit_a + 1e-6:
                    broken.append(f"{name}: {piece['size']} carries {limit_a:.2f} A of {amps:.2f} A")
                if piece["parallel"] > 1 and AREA[piece["size"]] < 50:
                    broken.append(f"{name}: {piece['size']} in parallel")
                if guard is None:
                    bare_m += piece["length_m"]
                elif guard["rating_a"] > limit_a + 1e-6:
                    broken.append(f"{name}: {guard['rating_a']} A over {limit_a:.2f} A of {piece['size']}")
            elif piece["kind"] == "branch":
                broken += [f"{name}: {fault}" for fault in tail_faults(piece, guard, school)]
            elif (
                piece["form"] in ("plug", "connector") and piece["rating_a"] is not None and most_a > piece["rating_a"]
            ):
                broken.append(f"{name}: {most_a:.2f} A through a plug of {piece['rating_a']} A")
        if guard is None or bare_m > 0.2 + 1e-9:
            broken.append(f"{name}: not protected at the battery")
        beside_unit = pieces[-1] if name == "supply" else pieces[0]
        if beside_unit["kind"] == "cable" and AREA[beside_unit["size"]] > design["charger"]["terminal_max_mm2"]:
            broken.append(f"{name}: {beside_unit['size']} into the terminal")
    return broken


def tail_faults(branch: dict[str, Any], above: dict[str, Any] | None, school: str) -> list[str]:
    """What is wrong with a branch's tail: against its own device, else the one above it."""
    tail = {
        "size": branch["size"],
        "metal": "copper",
        "insulation_c": branch["insulation_c"],
        "place": "cabin",
        "ambient_c": branch["ambient_c"],
        "grouped": 1,
        "conduit": False,
    }
    carries_a = ampacity(tail, school)
    guard = branch["device"] or above
    faults = []
    if branch["current_a"] > carries_a + 1e-6:
        faults.append(f"tail carries {carries_a:.2f} A of {branch['current_a']:.2f} A")
    if guard is None or guard["rating_a"] > carries_a + 1e-6:
        faults.append(f"tail of {branch['size']} is not protected")
    own = branch["device"]
    if own is not None and own["rating_a"] < branch["current_a"] - 1e-6:
        faults.append(f"tail device {own['rating_a']} A for {branch['current_a']:.2f} A")
    return faults


def breaks_at_the_post(design: dict[str, Any], run: str, guard: dict[str, Any]) -> bool:
    """Whether a device at a 12 V battery's post breaks the short circuit there: V / R, and 10 A per Ah of lithium."""
    battery = design["vehicle"]["start_battery"] if run == "supply" else design["auxiliary"]
    row = CHEMISTRY[battery["chemistry"]]
    full_v = max(float(point["open_circuit_v"]) for point in REST if point["chemistry"] == battery["chemistry"])
    short_a = full_v / (float(row["resistance_ohm_ah"]) / battery["capacity_ah"])
    if battery["chemistry"] == "lfp":
        short_a = max(short_a, 10 * battery["capacity_ah"])
    breaks_a = float(DEVICES[guard["family"], guard["rating_a"]]["interrupt_12v_a"])
    return bool(breaks_a >= short_a - 1e-6)
