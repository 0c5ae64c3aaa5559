"""Hold the core's steady state against the circuit solver ngspice (Debian package `ngspice`) on generated networks.

`python tools/compare_circuits.py` generates networks, solves each both ways and prints the worst differences;
`--write` also stores designs and the solver's answers for the tests. Resistances in the netlists come from the
printed tables by the tests' own arithmetic, at the temperatures the core arrives at; everything else is the solver's.
"""

from __future__ import annotations

import argparse
import json
import random
import re
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.designs import cable, charger, fuse, plain, vehicle
from tests.oracles.independent import piece_ohm

from olvask.core.circuit.solve import Solved, solve
from olvask.core.model import Design

SAMPLE = ROOT / "tests/core/circuit/circuits.json"
METRIC = ["4 mm²", "6 mm²", "10 mm²", "16 mm²", "25 mm²", "35 mm²", "50 mm²", "70 mm²"]
AWG = ["10 AWG", "8 AWG", "6 AWG", "4 AWG", "2 AWG", "1/0 AWG", "2/0 AWG"]
FEATURES = ("plain", "branches", "chassis", "metals", "thin", "everything")
TOLERANCE = 0.005
FLOOR = 0.35  # of the source voltage: below it the load turns into a resistor, and an answer there means collapse


@dataclass(frozen=True)
class Answer:
    """What a solver says: volts and amps at the unit's input, volts at its output; none where it collapses."""

    input_v: float | None
    input_a: float | None
    output_v: float | None


def network(number: int) -> dict[str, Any]:
    """A design as plain data: seeded, so that the same number is always the same network."""
    chance = random.Random(number)
    feature = FEATURES[number % len(FEATURES)]
    every = feature == "everything"

    def run(supply: bool) -> dict[str, Any]:
        pieces: list[dict[str, Any]] = [fuse(chance.choice([60.0, 80.0, 100.0, 125.0]))]
        for _ in range(chance.randint(1, 4)):
            size = chance.choice(METRIC[:2] if feature == "thin" and supply else METRIC[2:] + AWG[2:])
            metal = "cca" if (feature == "metals" or every) and chance.random() < 0.5 else "copper"
            length_m = round(chance.uniform(3.0, 12.0) if feature == "thin" and supply else chance.uniform(0.3, 4.0), 2)
            pieces.append(cable(size, length_m, metal=metal, place=chance.choice(["cabin", "under_floor"])))
            if chance.random() < 0.4:
                pieces.append({"kind": "joint", "name": "link", "resistance_mohm": round(chance.uniform(0.1, 3.0), 2)})
            if (feature == "branches" or every) and chance.random() < 0.7:
                amps = round(chance.uniform(0.5, 25.0), 1)
                pieces.append({"kind": "branch", "name": "tail", "current_a": amps, "size": "4 mm²", "length_m": 1.0})
        body = (feature == "chassis" or every) and chance.random() < 0.8
        back = (
            {"kind": "chassis", "resistance_mohm": round(chance.uniform(0.5, 12.0), 2)} if body else {"kind": "cable"}
        )
        return {"pieces": pieces if supply else pieces[::-1], "back": back}

    idle_v = round(chance.uniform(13.2, 14.4), 2)
    return plain(
        vehicle=vehicle(
            alternator={"rated_a": 500.0, "hot_idle_share": 0.9, "sag_mohm": round(chance.uniform(0.5, 6.0), 2)},
            readings={"rest_v": 12.6, "idle_v": idle_v, "cruise_v": idle_v},
        ),
        charger=charger(
            output_a=round(chance.uniform(15.0, 90.0 if feature == "thin" else 70.0), 1),
            efficiency=round(chance.uniform(0.85, 0.95), 3),
        ),
        auxiliary={
            "chemistry": "lfp",
            "nominal_v": 12,
            "capacity_ah": 300.0,
            "charge_limit_a": 200.0,
            "absorption_v": 14.2,
        },
        supply=run(supply=True),
        delivery=run(supply=False),
    )


def by_core(design: Design) -> tuple[Answer, Solved]:
    """The core's answer at hot idle."""
    solved = solve(design, only=())
    idle, output = solved.running[0], solved.output
    if idle.drawn is None or output is None:
        return Answer(None, None, None), solved
    return Answer(idle.drawn.terminal_v, idle.drawn.current_a, output.terminal_v), solved


def _ladder(document: dict[str, Any], run: str, temperatures: list[float | None], ends: tuple[str, str]) -> list[str]:
    """Resistors and branch sources of one run from its first node pair to `ends`."""
    lug = document["choices"]["lug_mohm"] / 1000
    described = document[run]
    pieces = described["pieces"]
    chassis = described["back"]["kind"] == "chassis"
    total_m = sum(piece["length_m"] for piece in pieces if piece["kind"] == "cable")
    lines = []
    plus, minus = f"{run}p0", f"{run}n0"
    for at, piece in enumerate(pieces):
        last = at == len(pieces) - 1
        to_plus, to_minus = (ends[0], ends[1]) if last else (f"{run}p{at + 1}", f"{run}n{at + 1}")
        celsius = temperatures[at]
        warm = 0.0 if celsius is None else celsius - 20.0
        out = piece_ohm(piece, warm, lug)
        if chassis:
            back = described["back"]["resistance_mohm"] / 1000 * (piece.get("length_m", 0.0) / total_m)
            back = 0.0 if piece["kind"] != "cable" else back
        else:
            back = out if piece["kind"] in ("cable", "joint") else 0.0
        # A resistor of nothing is not allowed; a nanoohm is nothing here.
        lines.append(f"R{run}p{at} {plus} {to_plus} {max(out, 1e-9):.9g}")
        lines.append(f"R{run}n{at} {minus} {to_minus} {max(back, 1e-9):.9g}")
        if piece["kind"] == "branch":
            lines.append(f"I{run}{at} {to_plus} {to_minus} DC {piece['current_a']:.9g}")
        plus, minus = to_plus, to_minus
    return lines


def netlist(document: dict[str, Any], solved: Solved) -> str:
    """The whole design at hot idle as a SPICE deck: source with sag, both runs, the unit as a pair of dependent sources."""
    idle, output = solved.running[0], solved.output
    if output is None:
        raise ValueError("a network needs a unit")
    source = idle.source
    supply_c = [piece.temperature_c for piece in idle.run.pieces]
    delivery_c = [piece.temperature_c for piece in output.run.pieces]
    least_v = FLOOR * source.regulated_v
    unit = document["charger"]
    power = f"V(deliveryp0,deliveryn0)*{output.current_a:.9g}/{unit['efficiency']:.9g}"
    lines = [
        "* one charging circuit at hot idle",
        f"Vs src supplyn0 DC {source.regulated_v:.9g}",
        f"Rsag src supplyp0 {max(source.sag_ohm, 1e-9):.9g}",
        "Rground supplyn0 0 1e-9",
        *_ladder(document, "supply", supply_c, ("inp", "inn")),
        f"Bin inp inn I=(V(inp,inn) > {least_v:.9g}) ? {power}/V(inp,inn) : {power}*V(inp,inn)/{least_v**2:.9g}",
        ".options itl1=1000 itl2=1000",
        f"Iout deliveryn0 deliveryp0 DC {output.current_a:.9g}",
        *_ladder(document, "delivery", delivery_c, ("batp", "batn")),
        f"Vbat batp batn DC {output.battery_v:.9g}",
        "Rground2 batn 0 1e-9",
        ".control",
        "op",
        "print v(inp,inn) v(deliveryp0,deliveryn0) i(Vs)",
        ".endc",
        ".end",
    ]
    return "\n".join(lines) + "\n"


def by_spice(document: dict[str, Any], solved: Solved) -> Answer:
    """The circuit solver's answer."""
    with tempfile.NamedTemporaryFile("w", suffix=".cir", encoding="ascii") as deck:
        deck.write(netlist(document, solved))
        deck.flush()
        done = subprocess.run(["ngspice", "-b", deck.name], capture_output=True, text=True, timeout=60, check=False)
    found = {name: float(value) for name, value in re.findall(r"^(\S+) = (\S+)$", done.stdout, re.MULTILINE)}
    try:
        input_v, output_v = found["v(inp,inn)"], found["v(deliveryp0,deliveryn0)"]
    except KeyError:
        raise RuntimeError(f"ngspice said:\n{done.stdout}\n{done.stderr}") from None
    source = solved.running[0].source
    extra_a = sum(piece["current_a"] for piece in document["supply"]["pieces"] if piece["kind"] == "branch")
    drawn_a = -found["i(vs)"] - extra_a
    # No constant-power answer above half the voltage that reaches an idle input: it has fallen through.
    if input_v <= FLOOR * source.regulated_v * 1.0001:
        return Answer(None, None, None)
    return Answer(input_v, drawn_a, output_v)


def difference(one: Answer, other: Answer) -> float:
    """Largest relative difference; infinite where only one collapses."""
    if one.input_v is None or other.input_v is None:
        return 0.0 if one.input_v is other.input_v else float("inf")
    pairs = ((one.input_v, other.input_v), (one.input_a, other.input_a), (one.output_v, other.output_v))
    return max(abs((a or 0.0) - (b or 0.0)) / abs(b or 1.0) for a, b in pairs)


def main() -> int:
    """Compare and say how far apart they are; exit 1 where they differ by more than the tolerance."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--networks", type=int, default=120)
    asked.add_argument("--write", action="store_true", help=f"store them in {SAMPLE.relative_to(ROOT)}")
    options = asked.parse_args()
    worst, collapsed, kept = 0.0, 0, []
    for number in range(options.networks):
        document = Design.model_validate(network(number)).model_dump(mode="json")
        ours, solved = by_core(Design.model_validate(document))
        theirs = by_spice(document, solved)
        apart = difference(ours, theirs)
        worst, collapsed = max(worst, apart), collapsed + (theirs.input_v is None)
        if apart > TOLERANCE:
            print(f"network {number} ({FEATURES[number % len(FEATURES)]}): {ours} against {theirs}")
        kept.append({"network": number, "feature": FEATURES[number % len(FEATURES)], "solver": theirs.__dict__})
    print(f"{options.networks} networks, {collapsed} collapse; largest difference {100 * worst:.4f} % (held to 0.5 %)")
    if options.write:
        SAMPLE.write_text(json.dumps(kept, indent=1) + "\n", encoding="utf-8")
    return 0 if worst <= TOLERANCE else 1


if __name__ == "__main__":
    sys.exit(main())
