"""A charge value for which the unit's menu has no line is said to be without effect, and drives nothing."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.findings.remedy import apply
from olvask.core.model import Charger, Design
from olvask.core.simulate.profile import acting_stages, profile_of
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.trip import drive
from olvask.core.stages.settings.generic import menu_of
from olvask.core.stages.settings.sheet import sheet_of
from tests.designs import charger, design

# Each value with its line: what it means, the value typed, its unit and range.
LINES: dict[str, tuple[Any, str, float, float, float]] = {
    "absorption_v": (14.6, "V", 13.0, 15.0, 0.1),
    "absorption_h": (1.0, "h", 0.5, 8.0, 0.5),
    "tail_a": (12.0, "A", 1.0, 20.0, 1.0),
    "float_v": (13.8, "V", 13.0, 14.0, 0.1),
    "rebulk_v": (13.1, "V", 12.0, 13.5, 0.1),
    "bulk_h": (1.0, "h", 1.0, 20.0, 1.0),
    "compensation_mv_per_k": (-30.0, "mV/K", -60.0, 0.0, 1.0),
    "cold_c": (12.0, "°C", -10.0, 15.0, 1.0),
    "hot_c": (40.0, "°C", 20.0, 60.0, 1.0),
}
DAY = read_programme("begin start 80 % auxiliary 40 % ambient 8 °C\nidle 10 min\ncruise 2 h\n")


def lines(without: str = "") -> list[dict[str, Any]]:
    return [
        {
            "id": f"line{at}",
            "label": means,
            "means": means,
            "unit": unit,
            "from_value": low,
            "to_value": high,
            "step": step,
        }
        for at, (means, (_, unit, low, high, step)) in enumerate(LINES.items())
        if means != without
    ]


def job(means: str, value: Any, menu: list[dict[str, Any]] | None) -> Design:
    unit = charger(settings=None if menu is None else {"lines": menu})
    return design(charger=unit, charge={means: value}, activation={"ways": ["d_plus"]})


def driven(made: Design) -> tuple[Any, ...]:
    """What the simulator charges by."""
    solved = solve(made)
    stages = acting_stages(made, solved)
    return profile_of(made, solved, stages), stages.cold_c, stages.hot_c, stages.compensation_mv_per_k


@pytest.mark.parametrize("means", LINES)
def test_without_a_line_it_does_nothing_and_that_is_said(means: str) -> None:
    """Chosen for a unit without that line, it charges as with nothing chosen; a caution says so, and clears by leaving it."""
    value = LINES[means][0]
    typed, bare = job(means, value, lines(means)), job(means, None, lines(means))
    assert driven(typed) == driven(bare)
    found = next(item for item in assess(typed).findings if item.id == f"settings.unlisted.{means}")
    assert found.level == "caution"
    for remedy in found.remedies:
        assert apply(typed, remedy) == bare
    sheet = sheet_of(Context.of(typed))
    assert sheet is not None
    assert any(text.startswith("No line for") for text in sheet.misses)


@pytest.mark.parametrize("means", LINES)
def test_with_a_line_it_is_keyed(means: str) -> None:
    """With the line it is on the sheet, is charged by, and nothing is said."""
    typed = job(means, LINES[means][0], lines())
    assert driven(typed) != driven(job(means, None, lines()))
    sheet = sheet_of(Context.of(typed))
    assert sheet is not None
    assert [line.label for line in sheet.lines if line.label == means] == [means]
    assert not [item.id for item in assess(typed).findings if item.id.startswith("settings.unlisted")]


@pytest.mark.parametrize("means", ["cold_c", "tail_a", "compensation_mv_per_k"])
def test_nought_is_a_value_too(means: str) -> None:
    """0 °C, 0 A and 0 mV/K are chosen like any other: without a line they are said and do nothing."""
    typed = job(means, 0.0, lines(means))
    assert f"settings.unlisted.{means}" in {item.id for item in assess(typed, remedies=False).findings}
    assert driven(typed) == driven(job(means, None, lines(means)))


def test_a_cold_stop_it_does_not_have_stops_nothing() -> None:
    """At 8 °C a unit set to stop under 12 °C gives nothing; one without that line charges as if it were not chosen."""
    charged = [drive(job("cold_c", 12.0, menu), DAY).charged_ah for menu in (lines(), lines("cold_c"))]
    assert charged[0] == 0.0
    assert charged[1] > 20.0


def test_a_menu_not_on_the_shelf_is_asked_about_once() -> None:
    """Two values that its ranges do not speak of are one note; its volts are among its ranges."""
    made = design(charge={"absorption_h": 2.0, "tail_a": 4.0, "absorption_v": 14.5})
    (found,) = [item for item in assess(made).findings if item.id.startswith("settings.unlisted")]
    assert (found.id, found.level) == ("settings.unlisted", "note")
    assert found.text.startswith("Absorption time 2 h, tail current 4 A.")


def volts(means: str) -> dict[str, Any]:
    """A line for one of the volts in Wake, of the range that the unit has."""
    return {
        "id": means.replace("_", ""),
        "label": means,
        "means": means,
        "unit": "V",
        "from_value": 10.5,
        "to_value": 15.0,
        "step": 0.05,
    }


@pytest.mark.parametrize(
    ("has", "ways", "limit_a", "left"),
    [
        (
            (),
            ["voltage"],
            12.0,
            ["Start volts 13.30 V", "stop volts", "lockout volts 12.25 V", "release volts", "current limit 12 A"],
        ),
        (("start_v", "stop_v"), ["voltage"], None, ["Lockout volts 12.25 V", "release volts"]),
        (("guard_v", "back_v"), ["d_plus"], None, []),
        (("guard_v", "back_v"), ["d_plus"], 25.0, []),
    ],
)
def test_volts_that_no_line_of_the_menu_takes(
    has: tuple[str, ...], ways: list[str], limit_a: float | None, left: list[str]
) -> None:
    """By its ranges it can be set, and the sheet leaves it out: one caution names all of it, and so does the sheet."""
    unit = charger(settings={"lines": [*lines(), *(volts(means) for means in has)]})
    made = design(charger=unit, activation={"ways": ways}, current_limit_a=limit_a)
    told = [item for item in assess(made, remedies=False).findings if item.id == "settings.unsaid"]
    assert len(told) == bool(left)
    for item in told:
        assert item.level == "caution"
        named = item.text.split(": by its")[0].split(", ")
        assert [word.startswith(wanted) for word, wanted in zip(named, left, strict=True)] == [True] * len(left)
    sheet = sheet_of(Context.of(made))
    assert sheet is not None
    assert len([text for text in sheet.misses if text.startswith("No line for")]) == len(left)


@pytest.mark.parametrize("known", [{"from_v": 11.0}, {"to_v": 15.0}, {}])
def test_half_a_range_makes_no_line(known: dict[str, float]) -> None:
    """Volts whose lowest or highest setting nobody knows are not put on the sheet."""
    unit = Charger.model_validate(
        charger(settable=None) | {"start_rules": known, "stop_rules": {"from_v": 11.0, "to_v": 15.0}}
    )
    means = [item.means for item in menu_of(unit).lines]
    assert "start_v" not in means
    assert "stop_v" in means
