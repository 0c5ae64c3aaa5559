"""A menu worked by hand: what is shown, kept, lost and read."""

from __future__ import annotations

from typing import Any

from olvask.core.model.settings import SettingsRecord
from olvask.core.stages.settings.menu import UNKNOWN, Menu, Step, outcome


def number(id: str, factory: float | None = 14.0, **more: Any) -> dict[str, Any]:
    """A line from 12 to 15 in halves."""
    line = {"id": id, "label": id, "means": "absorption_v", "unit": "V", "from_value": 12, "to_value": 15, "step": 0.5}
    return line | {"factory": factory} | more


def menu(*lines: dict[str, Any]) -> SettingsRecord:
    return SettingsRecord.model_validate({"lines": lines})


def test_unsaved_is_lost_on_leaving() -> None:
    """Saved it stays."""
    record = menu(number("a", needs_saving=True))
    assert outcome(record, [Step("key", "a", 13.0)]) == {"a": 14.0}
    assert outcome(record, [Step("key", "a", 13.0), Step("save")]) == {"a": 13.0}


def test_read_at_power_up() -> None:
    """Until it is switched off and on the old value acts."""
    record = menu(number("a", at_power_up=True))
    assert outcome(record, [Step("key", "a", 13.0)]) == {"a": 14.0}
    assert outcome(record, [Step("key", "a", 13.0), Step("power")]) == {"a": 13.0}


def test_a_restart_throws_away_what_is_not_saved() -> None:
    """Keyed, then a line that restarts: the first is gone."""
    record = menu(number("a", needs_saving=True), number("b", restarts=True))
    assert outcome(record, [Step("key", "a", 13.0), Step("key", "b", 12.0), Step("save")]) == {"a": 14.0, "b": 12.0}


def test_a_value_off_the_steps_or_a_hidden_line_is_refused() -> None:
    """13.3 V is no stop of the knob."""
    assert outcome(menu(number("a")), [Step("key", "a", 13.3)]) is None
    assert outcome(menu(number("a", hidden=True)), [Step("key", "a", 13.0)]) is None


def test_what_latches_is_not_known_until_it_is_keyed() -> None:
    """Whatever its factory value."""
    record = menu(number("a", latches=True))
    assert outcome(record, []) == {"a": UNKNOWN}
    assert outcome(record, [Step("key", "a", 14.0)]) == {"a": 14.0}


def test_a_line_that_is_not_shown_acts_or_does_not() -> None:
    """As its record says."""
    kind = {"id": "k", "label": "k", "kind": "switch", "factory": "off"}
    shown: dict[str, Any] = {"shown_line": "k", "shown_values": ["on"]}
    record = menu(kind, number("a", **shown), number("b", acts_hidden=False, **shown))
    assert outcome(record, []) == {"k": "off", "a": 14.0}
    assert outcome(record, [Step("key", "k", "on")]) == {"k": "on", "a": 14.0, "b": 14.0}
    assert not Menu(record).visible(Menu(record).lines["a"])


def test_what_is_not_read_yet() -> None:
    """Only what was changed, and only of what is read at power-up; a menu nobody touched is as it acts."""
    record = menu(number("a", at_power_up=True), number("b"))
    for line, unread in (("", False), ("b", False), ("a", True)):
        opened = Menu(record)
        if line:
            assert opened.key(line, 13.0)
        opened.leave()
        assert opened.unread is unread


def test_what_is_thrown_away_on_leaving_does_not_act() -> None:
    """A line read at power-up that was changed and not saved: what acts is what acted, before and after it is left."""
    record = menu(number("a", at_power_up=True, needs_saving=True), number("b", needs_saving=True))
    opened = Menu(record)
    assert opened.key("a", 13.0)
    assert opened.key("b", 13.0)
    opened.leave()
    assert opened.acting() == {"a": 14.0, "b": 14.0}
    assert opened.key("a", 13.0)
    opened.save()
    assert opened.key("a", 12.5)
    opened.leave()
    assert opened.acting()["a"] == 14.0  # saved, but not read yet; the second value is gone
    opened.power()
    assert opened.acting() == {"a": 13.0, "b": 14.0}
