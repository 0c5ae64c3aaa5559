"""What goes past a monitor's shunt, what it counts and what volts say beside it: one by one, by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.settings.monitor import MonitorReport, monitor_of
from tests.designs import design

OLD = [
    {"kind": "mains_charger", "charge_a": 12.0},
    {"kind": "portable_charger", "charge_a": 5.0},
    {"kind": "built_in_charger", "charge_a": 8.0},
]
# 600 W by an inverter of nine tenths with its own idling, for half an hour a day, a quarter of it on.
KETTLE = {"name": "kettle", "power_w": 600.0, "fed": "inverter", "duty": 0.25, "standing_h": 2.0}
USE = {"daily_ah": 60.0, "drive_h": 2.8, "drive_days": 5, "mains_h": 1.5}
SUN = {"panel_w": 160.0, "into": "controller", "sun_h": 4.0}


def job(bypassed: tuple[str, ...] = (), **changes: Any) -> Design:
    """The plain job, 110 Ah AGM, with a monitor."""
    monitor = {"unit": {"own_draw_ma": 50.0, "zero_error_ma": 0.0}, "bypassed_by": list(bypassed)}
    return design(**({"monitor": monitor, "use": USE, "existing": OLD, "solar": SUN} | changes))


def told(bypassed: tuple[str, ...] = (), **changes: Any) -> MonitorReport:
    """Its report."""
    return monitor_of(Context.of(job(bypassed, **changes)))


@pytest.mark.parametrize(
    ("what", "ah_day"),
    [
        ("unit", 25 * 2.8 * 5 / 7),
        ("solar", 160 * 0.9 / 14.4 * 4),
        ("mains", (12 + 5) * 1.5),
        ("built_in", 8 * 2.8 * 5 / 7),
        ("loads", -60.0),
        ("monitor_feed", -24 * 0.050),
        ("chassis", None),
    ],
)
def test_each_is_worth_its_day(what: str, ah_day: float | None) -> None:
    """Charge past the shunt is never counted in, what draws past it never out; a strap is worth nobody knows what."""
    (found,) = told((what,)).passed
    assert found.ah_day == (None if ah_day is None else pytest.approx(ah_day))
    assert ("counted in" in found.text) is ((ah_day or 0) > 0)
    assert ("Ah a day" in found.text) is (ah_day is not None)
    assert told((what,)).drift_percent_day == pytest.approx(100 * abs(ah_day or 0) / 110)


def test_an_inverter_on_the_post() -> None:
    """(600 W / 0.9 · 0.25 + 8 W of its own) · 2 h / 12.5 V: 27.9 Ah; other loads are not the inverter's."""
    lamp = {"name": "lamp", "current_a": 3.0, "standing_h": 5.0}
    (found,) = told(("inverter",), use={"loads": [KETTLE, lamp]}).passed
    assert found.ah_day == pytest.approx(-(600 / 0.9 * 0.25 + 8) * 2.0 / 12.5)


def test_small_things_are_notes() -> None:
    """Under half an ampere-hour a day a note, from there a caution; so is what nobody can tell. The remedy moves it alone."""
    small = job(("monitor_feed",), monitor={"unit": {"own_draw_ma": 20.0}, "bypassed_by": ["monitor_feed", "loads"]})
    found = {item.id: item for item in assess(small).findings}
    assert found["settings.shunt.monitor_feed"].level == "note"
    assert found["settings.shunt.loads"].level == "caution"
    (remedy,) = found["settings.shunt.monitor_feed"].remedies
    assert [change.value for change in remedy.changes] == [["loads"]]
    strap = {item.id: item.level for item in assess(job(("chassis",))).findings}
    assert strap["settings.shunt.chassis"] == "caution"


def test_drift_without_a_record() -> None:
    """10 mA where its sheet says nothing: 0.24 Ah a day of 110 Ah, 5 % after 23 days; none at all never drifts."""
    found = told(monitor={"unit": {}})
    assert found.drift_percent_day == pytest.approx(100 * 0.24 / 110)
    assert found.days_to_drift == pytest.approx(5 * 110 / 24)
    assert "5 % off after 23 days" in found.drift_text
    still = told()
    assert (still.drift_percent_day, still.days_to_drift, still.drift_text) == (0.0, None, "It does not drift.")


def test_how_long_it_lasts() -> None:
    """Half of 110 Ah: by 3 A for 5 of 24 hours 88 h, by 60 Ah a day 22 h; a load that never stands counts nothing."""
    lamp = {"name": "lamp", "current_a": 3.0, "standing_h": 5.0}
    cab = {"name": "cab fan", "current_a": 9.0, "standing_h": 0.0, "driving": True}
    found = told(use=USE | {"loads": [lamp, cab]})
    assert found.hours_by_loads == pytest.approx(55 / (3 * 5 / 24))
    assert found.hours_by_average == pytest.approx(24 * 55 / 60)
    assert found.go_text == "From full to the reserve: 88 h by the list of loads, 22 h by the daily use."
    empty = told(use={})
    assert (empty.hours_by_loads, empty.hours_by_average) == (None, None)
    assert empty.go_text.startswith("Enter loads")


def test_what_rested_volts_allow() -> None:
    """Within the table's tolerance either way; the count may lie five points beside it and no more."""
    spread_v = chemistries()["agm"].rest_tolerance_v
    band = told(monitor={"unit": {}, "rested_v": 12.5})
    assert band.charge_low is not None
    assert band.charge_high is not None
    narrow = told(monitor={"unit": {}, "rested_v": 12.5 - spread_v})
    assert narrow.charge_high is not None
    assert band.charge_low < narrow.charge_high < band.charge_high

    def off(shows: float) -> bool:
        monitor = {"unit": {}, "rested_v": 12.5, "shows_percent": shows}
        return "settings.monitor_off" in {item.id for item in assess(job(monitor=monitor), remedies=False).findings}

    assert not off(100 * band.charge_low - 4.9)
    assert off(100 * band.charge_low - 5.1)
    assert not off(100 * band.charge_high + 4.9)
    assert off(100 * band.charge_high + 5.1)
    assert told().volts_text == "Rest it for hours before volts say anything."
    lithium = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0}
    assert told(auxiliary=lithium).volts_text.startswith("Between 20 and 80 %")


def test_whether_there_is_one_and_can_be_believed() -> None:
    """Noted here, or found in the survey and not cut; believed once it has seen a true full."""
    assert told().there
    assert not told(monitor={}).there
    assert told(monitor={}, existing=[{"kind": "monitor"}]).there
    assert not told(monitor={}, existing=[{"kind": "monitor", "cut": True}]).there
    assert "can be believed" in told(monitor={"unit": {}, "synchronised": True}).first_text
    assert "means nothing" in told().first_text


@pytest.mark.parametrize(
    ("auxiliary", "values"),
    [
        (
            {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "absorption_v": 14.4},
            (110.0, 14.2, 2.0, 3.0, 85, 1.15),
        ),
        (
            {"chemistry": "lfp", "nominal_v": 24, "capacity_ah": 80.0, "absorption_v": 28.4},
            (80.0, 28.2, 4.0, 3.0, 99, 1.05),
        ),
        (
            {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 90.0, "absorption_v": 14.6},
            (90.0, 14.4, 2.0, 3.0, 80, 1.25),
        ),
    ],
)
def test_what_to_key_in(auxiliary: dict[str, Any], values: tuple[float, ...]) -> None:
    """Capacity, full from, tail, minutes, efficiency, exponent; a tenth or two under absorption per 12 V."""
    found = told(auxiliary=auxiliary, charger=None)
    assert tuple(item.value for item in found.values) == pytest.approx(values)


def test_percent_without_rested_volts_says_nothing() -> None:
    """Only beside volts at rest can what it shows be held against something."""
    shown = {"unit": {"own_draw_ma": 50.0}, "shows_percent": 20.0}
    ids = {item.id for item in assess(job(monitor=shown)).findings}
    assert "settings.monitor_off" not in ids
    assert "settings.monitor_off" in {item.id for item in assess(job(monitor=shown | {"rested_v": 12.85})).findings}
