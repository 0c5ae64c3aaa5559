"""What was noted at a step, whatever order it comes in."""

from __future__ import annotations

import dataclasses
import itertools
from datetime import UTC, datetime, timedelta

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Entry, EntryKind, StepState, left_of, progress_of
from tests.designs import design

NOON = datetime(2031, 5, 1, 12, tzinfo=UTC)


def entry(at: int, kind: EntryKind, by: str = "E.K.", text: str = "", value: float | None = None) -> Entry:
    moment = (NOON + timedelta(minutes=at)).isoformat()
    id = f"{kind}-{at}-{by}"
    return Entry(
        id=id, procedure="Build", step="s", kind=kind, text=text, value=value, unit="V", photo="", by=by, at=moment
    )


def arrived(at: int, noted: Entry) -> Entry:
    """As the server has it, told so many minutes after noon."""
    return dataclasses.replace(noted, received=(NOON + timedelta(minutes=at)).isoformat())


def state(*entries: Entry) -> StepState:
    (found,) = progress_of(entries)
    return found


def test_two_who_tick_both_stand_there() -> None:
    """Two people at once: neither overwrites the other."""
    found = state(entry(0, "done", "E.K."), entry(1, "done", "M.T."))
    assert (found.state, found.by, len(found.entries)) == ("done", ("E.K.", "M.T."), 2)


def test_the_order_they_come_in_does_not_matter() -> None:
    """Handed in late from a phone, the same entries come to the same state; one sent twice is one."""
    told = [
        entry(0, "reading", value=12.6),
        entry(1, "done"),
        entry(2, "open", "M.T."),
        entry(3, "skip", "M.T.", "no seat"),
    ]
    states = {state(*order, *order[:1]) for order in itertools.permutations(told)}
    assert len(states) == 1
    (found,) = states
    assert (found.state, found.reason, found.by) == ("skipped", "no seat", ("M.T.",))


def test_of_a_tick_and_a_skip_at_one_moment_the_tick_counts() -> None:
    """Whichever was noted by whom; a later skip counts all the same."""
    for ticks, skips in (("A.A.", "Z.Z."), ("Z.Z.", "A.A.")):
        assert state(entry(5, "skip", skips, "no seat"), entry(5, "done", ticks)).state == "done"
        assert state(entry(5, "done", ticks), entry(6, "skip", skips, "no seat")).state == "skipped"


def test_opened_again_it_is_open() -> None:
    """Opening a step again takes ticks away and keeps what was noted."""
    found = state(entry(0, "done"), entry(1, "open"))
    assert (found.state, found.by, found.at, len(found.entries)) == ("open", (), None, 2)


def test_a_reading_alone_does_not_tick() -> None:
    """A reading is evidence, not a tick; every one is kept."""
    found = state(entry(0, "reading", value=12.6), entry(1, "reading", value=12.7))
    assert found.state == "open"
    assert [item.value for item in found.entries] == [12.6, 12.7]


def test_what_is_left_is_carried_on() -> None:
    """Open steps and skipped ones with their reason, in the order of the work; a work not begun says so."""
    procedure = procedure_of(Context.of(design())).procedure
    first, second = procedure.steps[0].step.key, procedure.steps[1].step.key
    done = dataclasses.replace(entry(0, "done"), step=first)
    skip = dataclasses.replace(entry(1, "skip", text="parts come tomorrow"), step=second)
    left = left_of(procedure, progress_of([done, skip]))
    assert (left.begun, left.total) == (True, len(procedure.steps))
    assert first not in [step.step for step in left.steps]
    assert (left.steps[0].step, left.steps[0].reason) == (second, "parts come tomorrow")
    assert (left.steps[0].by, left.steps[0].skipped, left.steps[0].number) == (("E.K.",), True, 2)
    assert (left.steps[1].by, left.steps[1].skipped, left.steps[1].reason) == ((), False, "")
    assert len(left.steps) == left.total - 1
    assert not left_of(procedure, ()).begun


APART = [
    # what each noted, in minutes and when it arrived; whether they are at odds, and why
    ((0, 60, 12.6), (5, 61, 12.1), True, "both out of reach, read otherwise"),
    ((0, 60, 12.6), (5, 61, 12.63), False, "as far apart as two meters are"),
    ((0, 1, 12.6), (5, 6, 12.1), False, "the second saw the first: it is a new reading"),
    ((0, 60, 12.6), (70, 71, 12.1), False, "the second was noted after the first had arrived"),
    ((5, 6, 12.6), (0, 90, 12.1), True, "the earlier one came in last: the later one could not have seen it"),
    ((0, 60, 0.0), (5, 61, 0.3), True, "nothing, and something"),
]


@pytest.mark.parametrize(("one", "other", "at_odds", "why"), APART)
def test_two_accounts(one: tuple[int, int, float], other: tuple[int, int, float], at_odds: bool, why: str) -> None:
    """Two readings stand side by side where neither could know of the other's, whatever order they come in."""
    two = [
        arrived(late, entry(at, "reading", who, value=value))
        for who, (at, late, value) in zip(("E.K.", "M.T."), (one, other), strict=True)
    ]
    for order in (two, two[::-1]):
        found = state(*order)
        assert bool(found.accounts) is at_odds, why
        assert {item.id for item in found.accounts} in (set(), {item.id for item in two})
    # One who has seen both settles it.
    assert state(*two, arrived(101, entry(100, "reading", "A.B.", value=12.6))).accounts == ()


def test_ticked_by_one_and_skipped_by_the_other() -> None:
    """Both accounts stand until somebody settles it; one person alone is never at odds with themselves."""
    done, skip = arrived(60, entry(0, "done", "E.K.")), arrived(61, entry(2, "skip", "M.T.", "no seat"))
    assert {item.kind for item in state(done, skip).accounts} == {"done", "skip"}
    assert state(done, skip, arrived(71, entry(70, "done", "M.T."))).accounts == ()
    assert state(done, skip, arrived(71, entry(70, "open", "M.T."))).accounts == ()
    assert state(done, dataclasses.replace(skip, by="E.K.")).accounts == ()


@pytest.mark.parametrize(("value", "at_odds"), [(102.035, False), (102.043, True)])
def test_two_meters_differ_by_a_hundredth_of_the_larger_and_two_counts(value: float, at_odds: bool) -> None:
    """Beside 101 V two sound meters show up to 1.01 V less or, by the larger reading, 1.04 V more."""
    one = arrived(10, entry(0, "reading", "E.K.", value=101.0))
    other = arrived(11, entry(1, "reading", "M.T.", value=value))
    assert bool(state(one, other).accounts) is at_odds
