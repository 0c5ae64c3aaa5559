"""What was noted at a step, whatever order it comes in."""

from __future__ import annotations

import itertools
from datetime import UTC, datetime, timedelta

from olvask.core.stages.build.progress import Entry, EntryKind, StepState, progress_of

NOON = datetime(2031, 5, 1, 12, tzinfo=UTC)


def entry(at: int, kind: EntryKind, by: str = "E.K.", text: str = "", value: float | None = None) -> Entry:
    moment = (NOON + timedelta(minutes=at)).isoformat()
    id = f"{kind}-{at}-{by}"
    return Entry(
        id=id, procedure="Build", step="s", kind=kind, text=text, value=value, unit="V", photo="", by=by, at=moment
    )


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


def test_opened_again_it_is_open() -> None:
    """Opening a step again takes ticks away and keeps what was noted."""
    found = state(entry(0, "done"), entry(1, "open"))
    assert (found.state, found.by, found.at, len(found.entries)) == ("open", (), None, 2)


def test_a_reading_alone_does_not_tick() -> None:
    """A reading is evidence, not a tick; every one is kept."""
    found = state(entry(0, "reading", value=12.6), entry(1, "reading", value=12.7))
    assert found.state == "open"
    assert [item.value for item in found.entries] == [12.6, 12.7]
