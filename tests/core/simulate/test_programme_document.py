"""docs/programme.md is true: its example reads, every word in its table is understood, every event is listed."""

from __future__ import annotations

import re
from pathlib import Path
from typing import get_args

import pytest

from olvask.core.simulate.machine import What
from olvask.core.simulate.programme import Engine, read_programme

TEXT = (Path(__file__).parents[3] / "docs/programme.md").read_text(encoding="utf-8")
EXAMPLE = "\n".join(line[4:] for line in TEXT.splitlines() if line.startswith("    "))
WORDS = [row.split("|")[1] for row in TEXT.splitlines() if row.startswith("| `")]


def test_the_example_reads_as_it_says() -> None:
    """Six repeats of two stretches and the rest: sixteen; charges and air as written."""
    day = read_programme(EXAMPLE)
    assert len(day.stretches) == 3 + 6 * 2 + 2
    assert (day.start_charge, day.auxiliary_charge, day.ambient_c) == (0.9, 0.5, 20.0)
    assert day.stretches[-1].sun_auxiliary_w == 80.0


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
