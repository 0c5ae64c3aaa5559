"""docs/programme.md is true: its example reads, every word in its table is understood, every event is listed."""

from __future__ import annotations

import re
from pathlib import Path
from typing import get_args

import pytest

from olvask.core.simulate.machine import What
from olvask.core.simulate.programme import BadProgramme, Engine, Programme, read_programme

TEXT = (Path(__file__).parents[3] / "docs/programme.md").read_text(encoding="utf-8")
EXAMPLE = "\n".join(line[4:] for line in TEXT.splitlines() if line.startswith("    "))
WORDS = [row.split("|")[1] for row in TEXT.splitlines() if row.startswith("| `")]


def test_the_example_reads_as_it_says() -> None:
    """Six repeats of two stretches and the rest: sixteen; charges and air as written."""
    day = read_programme(EXAMPLE)
    assert len(day.stretches) == 3 + 6 * 2 + 2
    assert (day.start_charge, day.auxiliary_charge, day.ambient_c) == (0.9, 0.5, 20.0)
    assert day.stretches[-1].sun_auxiliary_w == 80.0


def test_what_is_taken_where_nothing_is_said() -> None:
    """A start battery in daily use, an auxiliary battery half full, the warm day a design is made for."""
    for found in (read_programme("off 1 h"), Programme(())):
        assert (found.start_charge, found.auxiliary_charge, found.ambient_c) == (0.9, 0.5, 30.0)


@pytest.mark.parametrize("modifier", [
    word for row in WORDS for word in re.findall(r"`([^`]+)`", row) if re.match(r"load|sun|ignition|unplugged|remote|ambient", word)
])  # fmt: skip
def test_every_modifier_in_the_table_is_understood(modifier: str) -> None:
    """As written in the table it changes the stretch it stands on."""
    bare, changed = (
        read_programme(f"idle 5 min {words}\n").stretches[0] for words in ("ignition on", f"ignition on {modifier}")
    )
    assert changed != bare or modifier == "ignition on"


def test_every_engine_and_every_event_is_told() -> None:
    """What a vehicle does and what can happen are all on the page."""
    told = set(re.findall(r"`([a-z]+)`", TEXT))
    assert set(get_args(Engine)) <= told
    assert set(get_args(What)) <= told


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("idle 7 h 30 min", 27000),
        ("idle 1h30min load 4 A", 5400),
        ("off 2 d 3 h 4 min 5 s", 183845),
        ("idle 2,5 min", 150),
    ],
)
def test_durations_add_up(text: str, seconds: float) -> None:
    """Days, hours, minutes and seconds in that order are summed."""
    assert read_programme(text).stretches[0].duration_s == seconds


@pytest.mark.parametrize(
    "line",
    ["idle 1.2.3 min", "idle 5 min load 1.2.3 A", "idle 1,000 s", "off 1 h sun 1,500 W", "begin start 1.2.3 %", "begin ambient 1..2 °C",
     "idle 5 min 2 h", "idle 5 min 5 min", "idle . min", "idle 5 min load , A", "off 9 d ambient -.,1 °C"],
)  # fmt: skip
def test_a_number_that_is_none_is_located(line: str) -> None:
    """Whatever a number is written like, the line is named and nothing falls over."""
    with pytest.raises(BadProgramme) as caught:
        read_programme(f"idle 5 min\n{line}\n")
    assert {error.line for error in caught.value.errors} == {2}


@pytest.mark.parametrize(("days", "taken"), [(60, True), (60.5, False)])
def test_a_stretch_of_two_months_at_most(days: float, taken: bool) -> None:
    """Sixty days; longer is refused with the bound."""
    if taken:
        assert read_programme(f"off {days * 24:g} h").duration_s == pytest.approx(days * 86400)
    else:
        with pytest.raises(BadProgramme, match="up to 60 days"):
            read_programme(f"off {days * 24:g} h")
