"""Whoever keys the sheet in ends with what the simulator drives with, in any menu; and no line of it is one too many."""

from __future__ import annotations

import os
import random
from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.profile import profile_of
from olvask.core.stages.settings.sheet import Sheet, SheetLine, sheet_of
from tests.core.stages.settings.records import record
from tests.designs import charger, plain
from tests.oracles.menu import Device, Refused

SHEETS = int(os.environ.get("OLVASK_SHEETS", "160"))  # `make check-sheets` asks for 5,000
PARTS = 8
PRESENT = 6  # states a device is found in, of lines nobody can know
LFP = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2}


def drawn(seed: int) -> Design:
    """A random design with a random menu."""
    pick = random.Random(seed)
    nominal_v = pick.choice((12, 12, 24, 48))
    scale = nominal_v / 12
    chemistry = pick.choice(("flooded", "agm", "gel", "lfp"))
    battery: dict[str, Any] = {
        "chemistry": chemistry,
        "nominal_v": nominal_v,
        "capacity_ah": pick.choice((60.0, 100.0, 200.0)),
    }
    if pick.random() < 0.5:
        battery["absorption_v"] = round(pick.uniform(14.0, 14.8) * scale, 1)
    charge: dict[str, Any] = {}
    for name, value in (
        ("absorption_v", round(pick.uniform(13.4, 14.8) * scale, 2)),
        ("float_v", round(pick.uniform(13.0, 13.9) * scale, 2)),
        ("absorption_h", pick.choice((0.5, 1.0, 2.5, 6.0))),
        ("tail_a", pick.choice((1.0, 4.0, 8.0))),
        ("rebulk_v", round(pick.uniform(12.6, 13.4) * scale, 2)),
    ):
        if pick.random() < 0.25:
            charge[name] = value
    charge["equalise"] = chemistry == "flooded" and pick.random() < 0.3
    unit = charger(
        output_nominal_v=nominal_v,
        output_min_v=11.5 * scale,
        output_max_v=15.5 * scale,
        settings=record(pick, nominal_v, 25.0, (10.5, 15.0, 0.05)),
    )
    ways = pick.choice((["voltage"], ["voltage"], ["d_plus"], ["ignition", "voltage"]))
    more = {"current_limit_a": pick.choice((6.0, 12.0, 20.0))} if pick.random() < 0.4 else {}
    return Design.model_validate(
        plain(auxiliary=battery, charger=unit, charge=charge, activation={"ways": ways}, **more)
    )


def keyed(record: dict[str, Any], lines: list[SheetLine], present: dict[str, Any]) -> dict[str, Any] | None:
    """What a device acts by after the sheet's lines are done to it, by their text; nothing where one cannot be."""
    device = Device(record, present)
    try:
        for line in lines:
            if line.do == "key":
                device.key(line.line, line.value)
            elif line.do == "save":
                device.save()
            else:
                device.off_and_on()
    except Refused:
        return None
    return device.left()


def unknowable(record: dict[str, Any], sheet: Sheet, n: int) -> dict[str, Any]:
    """The `n`-th present value of every line that latches or whose factory value nobody wrote down.

    The first two differ; the last is by chance already what the sheet says, the one before it so where that starts the
    device anew.
    """
    device, found = Device(record, {}), {}
    for line in record["lines"]:
        if not line["latches"] and (line["factory"] is not None or line["kind"] == "action"):
            continue
        whole = line["kind"] == "number" and not line["steps"]
        count = round((line["to_value"] - line["from_value"]) / line["step"]) if whole else 0
        some: list[Any] = ["on", "off"] if line["kind"] == "switch" else [option["label"] for option in line["options"]]
        some = some or line["steps"] or [line["from_value"] + at * line["step"] for at in range(count + 1)]
        said = sheet.acting.get(line["id"], "not known")
        there = n == PRESENT - 1 or (n == PRESENT - 2 and line["restarts"])
        there = there and said != "not known"
        found[line["id"]] = device.read(line, said) if there else some[n * 29 % len(some)]
    return found


def sheet_for(job: Design) -> Sheet:
    found = sheet_of(Context.of(job))
    assert found is not None
    return found


def driven_with(job: Design) -> dict[str, float]:
    """What the simulator drives with, by meaning, in volts, hours, amperes and seconds."""
    solved = solve(job)
    profile, rule = profile_of(job, solved), settings_of(job, solved)
    found = {
        "absorption_v": profile.absorption_v,
        "absorption_h": profile.absorption_s / 3600,
        "rebulk_v": profile.rebulk_v,
        "tail_a": profile.tail_a,
        "float_v": profile.float_v,
        "guard_v": rule.guard_v,
        "back_v": rule.back_v,
    }
    if "voltage" in job.activation.ways:
        found |= {"start_v": rule.start_rules[0].volts, "stop_v": rule.stop_rules[0].volts}
        found |= {"start_held_s": rule.start_rules[0].held_s, "stop_held_s": rule.stop_rules[0].held_s}
    return found


def worth(line: dict[str, Any], value: Any, nominal_v: int) -> float:
    """A line's value in volts, hours, amperes or seconds, by what its manual says of its unit."""
    factor = {"min": 1 / 60 if line["means"] == "absorption_h" else 60.0}.get(line["unit"], 1.0)
    return float(value) * factor * (nominal_v / 12 if line["per_block"] else 1.0)


@pytest.mark.parametrize("part", range(PARTS))
def test_keying_the_sheet_gives_what_the_simulator_drives_with(part: int) -> None:
    """By an interpreter of its own, from any present value of what latches; dropping any line changes what is wanted."""
    for seed in range(part, SHEETS, PARTS):
        job = drawn(seed)
        assert job.charger is not None
        menu = job.charger.settings
        assert menu is not None
        plain_menu, sheet = menu.model_dump(mode="json"), sheet_for(job)
        lines, drives = list(sheet.lines), driven_with(job)
        seen = [keyed(plain_menu, lines, unknowable(plain_menu, sheet, n)) for n in range(PRESENT)]
        acting = seen[0]
        assert acting is not None, (seed, "a line cannot be keyed")
        settled = {line["id"] for line in plain_menu["lines"] if line["means"] in drives}
        for other in seen[1:]:
            assert other is not None
            assert {id: other.get(id) for id in keyed_ids(lines)} == {id: acting.get(id) for id in keyed_ids(lines)}, (
                seed
            )
        for line in plain_menu["lines"]:
            means = line["means"]
            if means in drives and line["id"] in acting and sheet.acting[line["id"]] != "not known":
                assert worth(line, acting[line["id"]], job.auxiliary.nominal_v) == pytest.approx(
                    drives[means], abs=1e-6
                ), (seed, means)
        wanted = settled | keyed_ids(lines)
        for at in range(len(lines)):
            less = [
                keyed(plain_menu, lines[:at] + lines[at + 1 :], unknowable(plain_menu, sheet, n))
                for n in range(PRESENT)
            ]
            same = all(
                item is not None and {id: item.get(id) for id in wanted} == {id: acting.get(id) for id in wanted}
                for item in less
            )
            assert not same, (seed, lines[at].label, "one line too many")


@pytest.mark.parametrize("part", range(PARTS))
def test_what_a_line_showed_and_what_it_brings_to_light(part: int) -> None:
    """Beside the device keyed along with the sheet: what stood there before, and which lines come into its menu."""
    for seed in range(part, SHEETS, PARTS):
        job = drawn(seed)
        assert job.charger is not None
        assert job.charger.settings is not None
        menu = job.charger.settings.model_dump(mode="json")
        labels = {line["id"]: line["label"] for line in menu["lines"]}
        device = Device(menu, {line["id"]: None for line in menu["lines"] if line["latches"]})
        for line in sheet_for(job).lines:
            there = {id for id in labels if device.in_menu(id)}
            if line.do == "key":
                of = device.line(line.line)
                stood = device.display[line.line]
                was = "not known" if stood is None else stood if of["kind"] != "number" else pytest.approx(stood)
                read = line.was if line.was == "not known" else device.read(of, line.was)
                assert read == was, (seed, line.label)
                device.key(line.line, line.value)
                new = [labels[id] for id in labels if device.in_menu(id) and id not in there]
                assert list(line.shows) == new, (seed, line.label)
            elif line.do == "save":
                device.save()
            else:
                device.off_and_on()


def keyed_ids(lines: list[SheetLine]) -> set[str]:
    """The lines a sheet keys."""
    return {line.line for line in lines if line.do == "key"}
