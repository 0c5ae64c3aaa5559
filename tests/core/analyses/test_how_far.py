"""How far a job is: what is done of its work and what comes next, in the order in which a workshop does it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from olvask.core.analyses.how_far import Count, HowFar, how_far
from olvask.core.analyses.signing import acceptances
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.keying import keying_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Entry, EntryKind, progress_of
from olvask.core.stages.prove.noted import CURE, PROVE
from olvask.core.stages.prove.report import Row, prove
from olvask.core.stages.settings.sheet import sheet_of
from olvask.store.demo import demo_designs
from tests.designs import design

NOON = datetime(2031, 5, 1, 12, tzinfo=UTC)
DESIGNS = {heading.code: job for heading, job in demo_designs()}
SOUND, CAUTIONED, STOPPED = DESIGNS["RR-031"], DESIGNS["FT-041"], DESIGNS["PS-064"]


class Work:
    """What somebody notes, a minute apart."""

    def __init__(self, job: Design) -> None:
        self.ctx, self.found = Context.of(job), assess(job, remedies=False)
        self.steps = [placed.step for placed in procedure_of(self.ctx).procedure.steps]
        self.entries: list[Entry] = []

    def note(self, step: str, kind: EntryKind = "done", procedure: str = "Build", value: float | None = None) -> Work:
        at = (NOON + timedelta(minutes=len(self.entries))).isoformat()
        id = f"entry-{len(self.entries):04}"
        self.entries.append(
            Entry(
                id=id, procedure=procedure, step=step, kind=kind, text="", value=value, unit="", photo="", by="", at=at
            )
        )
        return self

    def read(self, readings: dict[str, float]) -> Work:
        for test, value in readings.items():
            self.note(test, "reading", PROVE, value)
        return self

    def built(self) -> Work:
        for step in self.steps:
            self.note(step.key)
        return self

    def right(self) -> dict[str, float]:
        """A reading as it should be of every test it is signed off by."""
        rows = [row for row in prove(self.ctx, {}).rows if row.test.fewest and row.verdict == "open"]
        return {row.test.key: within(row) for row in rows}

    def far(self) -> HowFar:
        return how_far(self.ctx, self.found, progress_of(self.entries))


def within(row: Row) -> float:
    """What is expected, or else a value between what it may be at the least and the most; 0 is yes."""
    if row.expected is not None or row.test.answers:
        return row.expected or 0.0
    low, high = row.least, row.most
    return 2 * low + 1 if low is not None and high is None else ((low or 0.0) + (high or 0.0)) / 2


def test_before_anything_is_noted_the_design_says_what_is_next() -> None:
    """A stop; a caution; the lines to key. Of steps and tests nothing is counted."""
    assert Work(STOPPED).far().next_stage == "run"
    cautioned = Work(CAUTIONED)
    assert cautioned.far().next_action in [item.title for item in cautioned.found.findings if item.level == "caution"]
    sound = Work(SOUND)
    sheet = sheet_of(sound.ctx)
    assert sheet is not None
    assert sound.far().next_action == f"Key {len(sheet.lines)} lines into Dunlin"
    assert (sound.far().build.of, sound.far().prove.of) == (0, 0)


@pytest.mark.parametrize("job", [SOUND, CAUTIONED], ids=["sound", "with cautions"])
def test_from_the_first_step_to_the_signature(job: Design) -> None:
    """Step by step whatever cautions stand; the sheet's own step keys all its lines; then test by test; then it is signed."""
    work = Work(job)
    total = len(work.steps)
    for done, step in enumerate(work.steps):
        if done:
            assert work.far().next_stage == "build"
            assert work.far().next_action == f"Step {done + 1} of {total}: {step.text}"
            assert (work.far().build.done, work.far().build.of) == (done, total)
        work.note(step.key)
    assert work.far().settings.done == work.far().settings.of > 0
    assert work.far().next_stage == "prove"
    readings = work.right()
    for at, (key, value) in enumerate(readings.items()):
        if at:
            assert work.far().next_stage == "prove"
            assert work.far().next_action.startswith("Test: ")
            assert work.far().prove.done < work.far().prove.of
        work.read({key: value})
    assert (work.far().next_stage, work.far().next_action) == ("handover", "Sign it off and hand it over")
    assert work.far().prove.done == work.far().prove.of


def test_a_step_skipped_is_settled_and_one_opened_again_is_next() -> None:
    """The first step that is neither ticked nor skipped."""
    work = Work(SOUND)
    first, second, third = (step.key for step in work.steps[:3])
    work.note(first).note(second, "skip")
    assert work.far().next_action.startswith("Step 3 of ")
    work.note(third).note(first, "open")
    assert work.far().next_action.startswith("Step 1 of ")
    assert work.far().build.done == 2


def test_a_wrong_reading_comes_before_the_next_step() -> None:
    """Nobody screws the panels on over it; once it is cured the readings before it count no more."""
    work = Work(SOUND)
    readings = work.right()
    work.note(work.steps[0].key).read(readings | {"rest.start": 9.0})
    far = work.far()
    assert (far.prove.wrong, far.prove.doubtful) == (1, 0)
    assert far.next_stage == "prove"
    assert far.next_action.startswith("Volts of the start battery, rested: ")
    work.note(CURE, "note", PROVE)
    assert work.far().prove.wrong + work.far().prove.doubtful == 0
    assert work.far().next_action.startswith("Step 2 of ")


def test_a_stop_and_what_is_not_chosen_come_before_all_work() -> None:
    """However much of it is ticked."""
    stopped = Work(STOPPED).built()
    assert stopped.far().next_action == stopped.found.stops[0].title
    work = Work(SOUND.model_copy(update={"charger": None})).built()
    assert work.far().next_action.startswith("Still open: ")


def test_readings_alone_are_work_too() -> None:
    """A vehicle that is only measured, its steps never ticked: nobody is sent to its first step; the settings are left."""
    work = Work(SOUND)
    work.read(work.right())
    assert work.far().next_action.startswith("Key ")
    assert work.far().build.of == 0


def test_whatever_has_a_menu_is_keyed() -> None:
    """The unit's sheet, then that of a solar controller and a monitor; each by its lines or by its own step of the work."""

    def line(id: str, means: str) -> dict[str, Any]:
        volts = {"unit": "V", "from_value": 10.0, "to_value": 16.0, "step": 0.1, "factory": 12.0}
        return {"id": id, "label": id, "means": means} | volts

    solar = {"panel_w": 120.0, "stages": {"settings": {"lines": [line("a", "absorption_v"), line("b", "float_v")]}}}
    monitor = {"unit": {"name": "Shunt", "settings": {"lines": [line("c", "full_v")]}}}
    work = Work(design(solar=solar, monitor=monitor, keyed=[{"line": "solar:a", "keyed": True}]))

    def left() -> list[tuple[str, int, int]]:
        return [(item.name, item.lines, item.left) for item in keying_of(work.ctx, progress_of(work.entries))]

    unit = left()[0]
    assert left() == [unit, ("solar controller", 2, 1), ("Shunt", 1, 1)]
    assert (unit[0], unit[1]) == ("Test unit", unit[2])
    assert work.far().settings == Count(done=1, of=unit[1] + 3)
    work.note("key.sheet").note("key.device.solar")
    assert left() == [("Test unit", unit[1], 0), ("solar controller", 2, 0), ("Shunt", 1, 1)]
    assert {"key.sheet", "key.device.solar", "key.device.monitor"} <= {step.key for step in work.steps}
    asked = acceptances((), prove(work.ctx, {}), None, keying_of(work.ctx, progress_of(work.entries)))
    assert [(item.id, item.title) for item in asked if item.id.startswith("keyed.")] == [
        ("keyed.monitor", "Shunt: 1 line not ticked as keyed")
    ]
