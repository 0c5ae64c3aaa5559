"""The sheet alone: what is read off its text rebuilds every conductor, device, setting and threshold of a random design.

The reader knows nothing of how the sheet is made, nor of the code that lists conductors: what must be there is worked out
from the design as plain data.
"""

from __future__ import annotations

import os
import random
import re
from collections import Counter
from datetime import date
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.model import Design
from olvask.documents.sheet import SheetHead, sheet_pdf
from tests.core.analyses.test_recommended import survey
from tests.designs import cable, design, fuse
from tests.papers import leaves

MANY = int(os.environ.get("OLVASK_PAPERS", "16"))  # `make check-papers` asks for 500
BATCHES = 4
HEAD = SheetHead("Peat-survey pickup", "PS-064", "Hollin Moss", 3, date(2031, 5, 1))
BUS_BAR = {"kind": "joint", "name": "bus bar", "form": "joint"}
ROW = re.compile(r"^([SDBC][A-Z]?\d+(?:\.\d+)?[+−][a-z]?) (.+?) ([\d.]+) m, cut ([\d.]+) m (.+)$")
SIZE = re.compile(r"^(?:[\d.]+ mm²|[\d/]+ AWG)(?: copper-clad)?$")


def random_design(pick: random.Random) -> Design:
    """A survey with runs of several pieces, parallels, joints, branches, units and a link."""
    found: dict[str, Any] = survey(pick)[0].model_dump(mode="json")
    for run in ("supply", "delivery"):
        size = pick.choice(("10 mm²", "16 mm²", "25 mm²", "2 AWG"))
        pieces = [cable(size, round(pick.uniform(0.5, 6.0), 1), parallel=pick.choice((1, 1, 2)))]
        if pick.random() < 0.5:
            pieces += [BUS_BAR, cable("16 mm²", 0.4)]
        if pick.random() < 0.4:
            pieces.insert(
                1, {"kind": "branch", "feeds": "load", "name": "beacon", "current_a": 2.0, "device": fuse(5.0, "blade")}
            )
        where = 0 if run == "supply" else len(pieces)
        pieces.insert(where, fuse(float(pick.choice((60, 80, 100))), pick.choice(("sf51", "class_t"))))
        found[run]["pieces"] = pieces
        if pick.random() < 0.3:
            found[run]["back"] = {"kind": "chassis", "resistance_mohm": 3.0}
    if pick.random() < 0.3:
        found["existing"] = [{"kind": "link"}]
        found["old_link"]["decision"] = pick.choice(("disconnect", "changeover", "keep"))
    found["current_limit_a"] = None
    if pick.random() < 0.3:  # two units, each on its own tail from a bus bar
        found["units"] = 2
        for run, end in (("supply", [BUS_BAR, cable("16 mm²", 0.4)]), ("delivery", [cable("16 mm²", 0.4), BUS_BAR])):
            rest = [piece for piece in found[run]["pieces"] if piece["kind"] in ("cable", "device")][:2]
            found[run]["pieces"] = [*rest, *end] if run == "supply" else [*end, *rest]
    return Design.model_validate(found)


def lines_of(job: Design) -> tuple[list[str], int]:
    """The sheet's text and its pages."""
    pages = leaves(sheet_pdf(HEAD, job, assess(job)))
    return [line for page in pages for line in page.lines], len(pages)


def wanted(design: Design) -> Counter[tuple[str, str, float]]:
    """Letter, size and length of every conductor, from the plain data."""
    plain, found = design.model_dump(mode="json"), Counter[tuple[str, str, float]]()
    for run, letter in (("supply", "S"), ("delivery", "D")):
        own = plain[run]["back"]["kind"] == "cable"
        cables = [piece for piece in plain[run]["pieces"] if piece["kind"] == "cable"]
        tail = cables[-1] if run == "supply" else cables[0]
        for piece in plain[run]["pieces"]:
            if piece["kind"] == "cable":
                clad = "" if piece["metal"] == "copper" else " copper-clad"
                each = plain["units"] if piece is tail else 1
                found[letter, piece["size"] + clad, piece["length_m"]] += each * piece["parallel"] * (2 if own else 1)
            if piece["kind"] == "branch":
                found["B", piece["size"], piece["length_m"]] += 2 if piece["feeds"] in ("unit", "fan", "load") else 1
    return found


def read_conductors(lines: list[str]) -> Counter[tuple[str, str, float]]:
    """The same off the sheet; straps of a chassis return stand on it besides."""
    found = Counter[tuple[str, str, float]]()
    for line, following in zip(lines, [*lines[1:], ""], strict=True):
        row = ROW.match(line)
        if row and SIZE.match(row[2]) and row[1][0] != "C":
            assert "→" in row[5] + following, line  # long ends go on in the next line
            assert float(row[4]) >= float(row[3]), line
            found[row[1][0], row[2], float(row[3])] += 1
    return found


@pytest.mark.parametrize("batch", range(BATCHES))
def test_the_sheet_alone_rebuilds_the_vehicle(batch: int) -> None:
    for seed in range(batch, MANY, BATCHES):
        design = random_design(random.Random(f"sheet {seed}"))
        lines, pages = lines_of(design)
        text = "\n".join(lines)
        assert pages == 1, (seed, pages)
        assert read_conductors(lines) == wanted(design), seed
        for device in devices(design):
            assert any(device in line for line in lines), (seed, device)
        _settings_stand(design, text, seed)


def devices(design: Design) -> list[str]:
    """Rating and place of every device, from the plain data."""
    plain = design.model_dump(mode="json")
    found = [
        f"{piece['rating_a']:g} A {run} run"
        for run in ("supply", "delivery")
        for piece in plain[run]["pieces"]
        if piece["kind"] == "device"
    ]
    tails = [
        f"{piece['device']['rating_a']:g} A tail of {piece['name']}"
        for run in ("supply", "delivery")
        for piece in plain[run]["pieces"]
        if piece["kind"] == "branch" and piece["device"]
    ]
    return found + tails


def _settings_stand(design: Design, text: str, seed: int) -> None:
    """Limit, charge volts, ways to start, and every threshold that acts with its hold."""
    assert design.charger is not None
    limit_a = design.current_limit_a or design.charger.output_a
    assert f"Current limit {limit_a:.1f} A" in text, seed
    for label in ("Absorb at", "Float or store at", "Starts by"):
        assert label in text, (seed, label)
    for mark in assess(design).wake.marks:
        if mark.acts:
            held = "" if mark.held_s is None else f" for {mark.held_s:g} s"
            assert f"{mark.label} {mark.value_v:.2f} V{held}" in text, (seed, mark.label)
    if design.existing and design.old_link.decision == "changeover":
        for pin in ("30", "85", "86", "87", "87a"):
            assert f"Relay {pin} " in text, (seed, pin)
    for way, word in (("ignition", "15"), ("d_plus", "61")):
        if way in design.activation.ways:
            assert f"({word})" in text, (seed, way)


def test_volts_are_those_of_the_profile_it_is_set_for() -> None:
    """Of a unit set for AGM on lithium the sheet says volts of AGM, not what the battery itself would be charged to."""
    agm, lithium = chemistries()["agm"], chemistries()["lfp"]
    battery = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0}
    lines, _ = lines_of(design(auxiliary=battery, charge={"profile": "agm"}))
    assert f"Absorb at {agm.absorption_v:.2f} V" in lines
    assert f"Float or store at {agm.float_v:.2f} V" in lines
    assert agm.absorption_v != lithium.absorption_v
    lines, _ = lines_of(design(auxiliary=battery, charge={"after": "rest"}))
    assert f"Absorb at {lithium.absorption_v:.2f} V" in lines
    assert "After absorption rest until it starts again" in lines
    assert not any(line.startswith("Float") for line in lines)
