"""The wiring diagram: nothing crosses its words, every conductor of the cut list and every terminal is drawn once."""

from __future__ import annotations

import os
from collections import Counter

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.conductors import conductors_of
from olvask.documents.diagram.layout import diagram_of
from olvask.documents.diagram.pen import Drawing
from olvask.documents.diagram.svg import svg_of
from tests.anything import anything
from tests.designs import cable, charger, design, fuse
from tests.oracles.boxes import faults_of

MANY = int(os.environ.get("OLVASK_DIAGRAMS", "80"))
POSTS = {
    "battery_post": "start battery +",
    "alternator_stud": "alternator stud, B+ (30)",
    "fused_stud": "fused stud in the vehicle",
}
BRANCH = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 1.0, "size": "1.5 mm²", "length_m": 1.0}


def drawn(made: Design) -> Drawing:
    return diagram_of(Context.of(made))


def terminals(made: Design) -> Counter[str]:
    """What must be drawn once: posts, every unit's own terminals, its enable terminals."""
    sensor = ", chassis side of its sensor" if made.vehicle.start_battery.negative_sensor else ""
    found = [
        POSTS[made.vehicle.source_point.kind],
        f"start battery −{sensor}",
        "auxiliary battery +",
        "auxiliary battery −",
    ]
    isolated = made.charger is None or made.charger.isolated
    sides = ["in +", "in −", "out −", "out +"] if isolated else ["in +", "−", "out +"]
    several = made.units > 1
    numbers = [f" {at}" for at in range(1, made.units + 1)] if several else [""]
    found += [f"unit{number} {side}" for number in numbers for side in sides]
    if made.charger is not None:
        found += [f"enable {way}" for way in made.activation.ways if way != "voltage"]
    links = [item for item in made.existing if item.kind in ("link", "panel")]
    if links and made.old_link.decision == "changeover":
        found += [f"relay {terminal}" for terminal in ("30", "87a", "87", "86", "85")]
    return Counter(found)


def check(made: Design) -> None:
    found = drawn(made)
    assert faults_of(found) == []
    cuts = [cut.id for cut in conductors_of(Context.of(made))]
    assert {line.conductor for line in found.lines if line.conductor} == set(cuts)
    told = Counter(word for words in found.words for word in words.text.replace(" · ", " ").split())
    assert [id for id in cuts if told[id] != 1] == []
    rings = Counter(ring.terminal for ring in found.rings if ring.terminal and "bus bar" not in ring.terminal)
    assert rings == terminals(made)


@pytest.mark.parametrize("batch", range(8))
def test_any_design_is_drawn_clear(batch: int) -> None:
    """Random designs with any number of units, branches, trailers and names: no words touched, nothing left out."""
    for seed in range(batch * MANY // 8, (batch + 1) * MANY // 8):
        try:
            check(anything(seed))
        except AssertionError as error:
            raise AssertionError(f"seed {seed}: {error}") from error


@pytest.mark.parametrize("units", [1, 2, 3, 6])
@pytest.mark.parametrize("isolated", [True, False])
@pytest.mark.parametrize("back", ["cable", "chassis"])
@pytest.mark.parametrize("shunt", [False, True])
def test_units_and_returns(units: int, isolated: bool, back: str, shunt: bool) -> None:
    """One unit or six, isolated or not, own return or the body, with a shunt in the negative or without."""
    run = {
        "pieces": [fuse(), cable(), BRANCH | {"device": fuse(5.0, "blade")}, cable("16 mm²", 1.0)],
        "back": {"kind": back},
    }
    check(
        design(
            charger=charger(isolated=isolated),
            units=units,
            supply=run,
            delivery=run,
            activation={"ways": ["ignition", "d_plus", "switch", "voltage"]},
            existing=[{"id": "e1", "kind": "link"}, {"id": "e2", "kind": "monitor", "cut": True}],
            old_link={"decision": "changeover"},
            solar={"panel_w": 120.0},
            monitor={"unit": {"name": "Shunt 300"} if shunt else None},
        )
    )


def test_what_goes_past_the_shunt_is_named() -> None:
    """The unit on the post is drawn past it; each that goes past has its own."""
    past = design(monitor={"unit": {"name": "Shunt 300"}, "bypassed_by": ["unit", "loads"]})
    told = [words.text for words in drawn(past).words]
    assert told.count("Past the shunt") == 2
    assert {"the unit", "loads"} <= set(told)
    assert not any(words.text == "shunt" for words in drawn(past).words)
    assert any(words.text == "shunt" for words in drawn(design(monitor={"unit": {"name": "Shunt 300"}})).words)


def test_what_the_check_is_worth() -> None:
    """The same drawing with one line of words moved onto a conductor is found out."""
    found = drawn(design())
    label = next(words for words in found.words if words.conductor)
    line = next(line for line in found.lines if line.conductor == label.conductor)
    moved = label.model_copy(update={"y": line.points[0][1] + 3})
    spoilt = found.model_copy(update={"words": tuple(moved if words is label else words for words in found.words)})
    assert any("under a" in fault for fault in faults_of(spoilt))


def test_old_gear_stays_dashed_or_is_crossed() -> None:
    """What stays is dashed; what is cut has its cross."""
    made = design(existing=[{"id": "e1", "kind": "maintainer"}, {"id": "e2", "kind": "built_in_charger", "cut": True}])
    lines = drawn(made).lines
    assert any(line.dashed and line.place == "existing.e1" for line in lines)
    assert not any(line.dashed and line.place == "existing.e2" for line in lines)
    assert sum(line.place == "existing.e2" and not line.closed for line in lines) == 2


def test_each_conductor_has_a_title_and_nothing_is_markup() -> None:
    """A reader of the SVG is told each conductor; a name with angle brackets stays words."""
    text = svg_of(drawn(design(charger=charger(name="<script>&"))))
    assert "<title>S1+</title>" in text
    assert "<script>" not in text


def test_a_shared_negative_is_one_terminal() -> None:
    """Three terminals of a unit that shares its negative, and both returns lead to it."""
    rings = [ring.terminal for ring in drawn(design(charger=charger(isolated=False))).rings]
    assert rings.count("unit −") == 1
    assert "unit in −" not in rings
