"""Files and databases of version 1 still open, and mean what they meant: the same figures, the same findings."""

from __future__ import annotations

import json
import re
import sqlite3
from pathlib import Path
from typing import Any

import pytest

from olvask.core.assess import Assessment, assess
from olvask.core.model import Design
from olvask.documents.job_file import read_job_file, write_job_file
from olvask.store.stores import Stores

DATA = Path(__file__).parents[1] / "data/version_1"
EXPECTED: dict[str, dict[str, Any]] = json.loads((DATA / "expected.json").read_text(encoding="utf-8"))
# What version 1 called a figure that version 2 calls otherwise.
FIGURES = {
    "wake.at_once_proposal_v": "wake.quick_start_v",
    "wake.lockout_v": "wake.guard_v",
    "wake.restart_v": "wake.back_v",
    "wake.lockout_mohm": "wake.guard_mohm",
}
MARKS = {"at_once": "start", "start": "start", "stop": "stop", "lockout": "guard", "restart": "back"}


# Rules that have changed since: coulombic efficiency, the current a run is sized for, the guard's return. Nothing else has.
CHANGED = re.compile(
    r"energy\.recover_h|match\.daily_floor_a|supply\.continuous_a|supply\.device\.\d+\.least_rating_a|wake\.restart_v"
)
GONE = {"wake.restart_unreachable"}  # said of a return that a guard which starts nothing again need not have
GONE_BESIDE = {"wake.lockout_nuisance"}  # said of an engine stop at full current, which a signal ends at once


def _id(design: Design, place: str) -> str:
    """The identity of what version 1 called by run and position."""
    run, _, position = place.partition(".")
    return design.run(run).pieces[int(position)].id if position.isdigit() else place  # type: ignore[arg-type]


def _figure(design: Design, name: str) -> str:
    piece = re.fullmatch(r"((?:supply|delivery))\.device\.(\d+)\.(.+)", name)
    return f"device.{_id(design, f'{piece[1]}.{piece[2]}')}.{piece[3]}" if piece else FIGURES.get(name, name)


def _means_the_same(found: Assessment, design: Design, expected: dict[str, Any]) -> None:
    for name, value in expected["figures"].items():
        if CHANGED.fullmatch(name):
            continue
        now = found.figures[_figure(design, name)].value
        assert now == (None if value is None else pytest.approx(value, rel=1e-9, abs=1e-12)), name
    gone = GONE | (GONE_BESIDE if design.kept_off else set())
    assert sorted((item.level, item.place) for item in found.findings) == sorted(
        (level, _id(design, place)) for id, level, place in expected["findings"] if id not in gone
    )
    for key, value in expected["thresholds"].items():
        if key == "restart":
            continue
        marks = [mark.value_v for mark in found.wake.marks if mark.kind == MARKS[key]]
        assert any(abs(volts - value) < 1e-6 for volts in marks), (key, marks)


@pytest.mark.parametrize("code", sorted(EXPECTED))
def test_a_file_of_version_1_means_what_it_meant(code: str) -> None:
    """Read, assessed, written as version 2 and read again: every figure, finding and threshold whose rule stands is the same."""
    job = read_job_file((DATA / f"{code}.json").read_bytes())
    _means_the_same(assess(job.design), job.design, EXPECTED[code])
    again = read_job_file(write_job_file(job).encode())
    assert again.design == job.design
    _means_the_same(assess(again.design), again.design, EXPECTED[code])


def test_a_database_of_version_1_is_brought_up_and_means_what_it_meant(tmp_path: Path) -> None:
    """Every stored job is there after the migration, assessed as before; units on the shelf are in today's shape."""
    file = tmp_path / "old.sqlite"
    with sqlite3.connect(file) as old:
        old.executescript((DATA / "database.sql").read_text(encoding="utf-8"))
    old.close()
    stores = Stores.open(file)
    jobs = {job.heading.code: job for job in (stores.jobs.get(id) for id in stores.jobs.ids())}
    assert set(jobs) >= set(EXPECTED)
    for code, expected in EXPECTED.items():
        _means_the_same(assess(jobs[code].design), jobs[code].design, expected)
    assert stores.shelf.chargers()
