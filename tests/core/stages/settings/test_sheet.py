"""The sheet of the demo units and of hand-made menus: order, detours, what is left, what cannot be had."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.settings import SettingsRecord
from olvask.core.model.shelf import chargers
from olvask.core.stages.settings.read_back import same_value
from olvask.core.stages.settings.sheet import Sheet, sheet_of
from tests.designs import charger, plain

LFP = {
    "chemistry": "lfp",
    "capacity_ah": 100.0,
    "charge_limit_a": 50.0,
    "absorption_v": 14.2,
    "low_temperature_cut_off": True,
}


def volts(id: str, means: str, factory: float | None, **more: Any) -> dict[str, Any]:
    """A line of volts, 12.0 to 15.0 in tenths."""
    line = {"id": id, "label": id, "means": means, "unit": "V", "from_value": 12.0, "to_value": 15.0, "step": 0.1}
    return line | {"factory": factory} | more


def job(lines: list[dict[str, Any]], **changes: Any) -> Design:
    """A lithium job whose unit has these lines and is started by D+."""
    unit = charger(settings={"lines": lines})
    return Design.model_validate(plain(auxiliary=LFP, charger=unit, activation={"ways": ["d_plus"]}) | changes)


def sheet(design: Design, place: str = "") -> Sheet:
    found = sheet_of(Context.of(design), place)
    assert found is not None
    return found


KIND: dict[str, Any] = {"id": "kind", "label": "kind", "means": "battery_type", "kind": "choice", "factory": "lead"}
KIND |= {"options": [{"label": "lead", "stands_for": "flooded"}, {"label": "lithium", "stands_for": "lfp"}]}


def test_what_shows_only_under_lead_is_set_off_before_the_kind_is_changed() -> None:
    """Equalise shows under lead alone and acts all the same: off first, then lithium; no detour back is needed."""
    equal: dict[str, Any] = {"id": "equal", "label": "equal", "means": "equalise", "kind": "switch", "factory": "on"}
    equal |= {"shown_line": "kind", "shown_values": ["lead"]}
    steps = [(line.label, line.value) for line in sheet(job([KIND, equal])).lines]
    assert steps == [("equal", "off"), ("kind", "lithium")]


def test_a_detour_comes_back() -> None:
    """It left the factory on lithium with equalise on behind it: to lead, off, and back to lithium."""
    equal: dict[str, Any] = {"id": "equal", "label": "equal", "means": "equalise", "kind": "switch", "factory": "on"}
    equal |= {"shown_line": "kind", "shown_values": ["lead"]}
    steps = [(line.label, line.value, line.last) for line in sheet(job([KIND | {"factory": "lithium"}, equal])).lines]
    assert steps == [("kind", "lead", False), ("equal", "off", True), ("kind", "lithium", True)]
    keyed = sheet(job([KIND | {"factory": "lithium"}, equal])).lines
    assert [line.key for line in keyed] == ["kind", "equal", "kind@2"]  # ticked apart, by where it is met again


def test_a_kind_that_only_comes_near_says_so() -> None:
    """No option stands for lithium: the one whose volts come nearest is keyed, and that is the reason beside it."""
    kinds = [{"label": "one", "stands_for": "flooded"}, {"label": "two", "stands_for": "gel"}]
    near = KIND | {"options": kinds, "factory": "one"}
    own = volts("absorb", "absorption_v", 14.4, shown_line="kind", shown_values=["two"])
    found = {line.line: (line.value, line.why) for line in sheet(job([near, own])).lines}
    assert found["kind"] == ("two", "its volts come nearest")
    assert sheet(job([KIND])).lines[0].why == "the battery is LFP"


def test_how_many_of_its_lines_are_keyed() -> None:
    """Lines nobody can key count for nothing: an action, one that is never shown; why stands beside each that is."""
    action = {"id": "reset", "label": "reset", "kind": "action"}
    unseen = volts("trim", "other", 13.0, hidden=True)
    found = sheet(job([KIND, volts("absorb", "absorption_v", 14.4), volts("spare", "other", 13.0), action, unseen]))
    assert found.text == "2 of 3 lines to key"
    assert [(line.line, line.why) for line in found.lines] == [
        ("kind", "the battery is LFP"),
        ("absorb", "this battery's maker"),
    ]
    back = sheet(job([KIND | {"factory": "lithium"}, volts("absorb", "absorption_v", 14.2)]))
    assert back.text == "0 of 2 lines to key"


def test_what_is_saved_is_saved_before_it_starts_anew() -> None:
    """The role starts the unit anew at once; volts keyed before it want saving first, or are lost."""
    role: dict[str, Any] = {
        "id": "role",
        "label": "role",
        "means": "role",
        "kind": "choice",
        "factory": "supply",
        "restarts": True,
    }
    role |= {"options": [{"label": "supply", "stands_for": "supply"}, {"label": "charger", "stands_for": "charger"}]}
    lines = sheet(job([volts("absorb", "absorption_v", 14.6, needs_saving=True), role])).lines
    done = [(line.do, line.label) for line in lines]
    assert done in (
        [("key", "absorb"), ("save", "Save"), ("key", "role")],
        [("key", "role"), ("key", "absorb"), ("save", "Save")],
    )


def test_a_line_that_latches_is_keyed_whatever_the_factory_value() -> None:
    """A signal seen before may have changed it."""
    mode: dict[str, Any] = {
        "id": "mode",
        "label": "mode",
        "means": "signal_mode",
        "kind": "choice",
        "factory": "lamp",
        "latches": True,
    }
    mode |= {"options": [{"label": "lamp", "stands_for": "d_plus"}, {"label": "key", "stands_for": "ignition"}]}
    (line,) = sheet(job([mode])).lines
    assert (line.value, line.hints) == (
        "lamp",
        ("A signal seen before may have changed it: look, whatever the factory value.",),
    )


def test_lines_that_do_not_act_here_are_not_asked_for() -> None:
    """By D+ alone neither start volts nor their delay do anything."""
    start = volts("start", "start_v", 13.4) | {"from_value": 10.5, "to_value": 15.0, "step": 0.05}
    held = {
        "id": "held",
        "label": "held",
        "means": "start_held_s",
        "unit": "s",
        "from_value": 0,
        "to_value": 600,
        "step": 1,
    }
    found = sheet(job([start, held | {"factory": 60}]))
    assert [line.line for line in found.lines] == []
    assert {item.line for item in found.absent} == {"start", "held"}


def test_what_cannot_be_reached_goes_to_the_safe_side_and_is_said() -> None:
    """Wanted 14.2 V; 13.8 and 14.4 V can be had: 14.4 V is within what lithium takes, 13.8 V never harms it. 14.9 V would be
    a stop: then 13.8 V."""
    near = volts("absorb", "absorption_v", 13.8) | {
        "from_value": None,
        "to_value": None,
        "step": None,
        "steps": [13.8, 14.9],
    }
    found = sheet(job([near]))
    assert found.acting["absorb"] == "13.8 V"
    assert "instead of 14.20 V" in found.misses[0]


def test_a_fixed_lead_charger_on_lithium_is_a_finding() -> None:
    """14.9 V that nobody can change is a stop; equalising that cannot be switched off, too."""
    found = assess(job([volts("absorb", "absorption_v", 15.0, hidden=True)]), remedies=False).findings
    assert [item.level for item in found if item.id == "settings.reach.absorb"] == ["stop"]
    equal: dict[str, Any] = {
        "id": "equal",
        "label": "equal",
        "means": "equalise",
        "kind": "switch",
        "factory": "on",
        "hidden": True,
    }
    found = assess(job([equal]), remedies=False).findings
    assert [item.level for item in found if item.id == "settings.reach.equal"] == ["stop"]


def test_what_nobody_knows_is_asked_for() -> None:
    """Hidden, and its factory value not written down."""
    found = assess(job([volts("absorb", "absorption_v", None, hidden=True)]), remedies=False).findings
    assert "settings.unknown.absorb" in {item.id for item in found}


def test_volts_per_block_are_divided() -> None:
    """28.4 V on two blocks of 12 V are keyed as 14.2 V."""
    battery = LFP | {"nominal_v": 24, "absorption_v": 28.4}
    unit = charger(
        output_nominal_v=24,
        output_min_v=23.0,
        output_max_v=31.0,
        settings={"lines": [volts("absorb", "absorption_v", 14.6, per_block=True)]},
    )
    found = sheet(Design.model_validate(plain(auxiliary=battery, charger=unit)))
    assert [line.value for line in found.lines] == ["14.2 V"]


def test_a_current_limit_in_per_cent_of_its_rating() -> None:
    """15 A of 25 A are 60 %; 14 A are 55 %, the step below."""
    limit = {"id": "limit", "label": "limit", "means": "current_limit_a", "unit": "%", "factory": 100}
    limit |= {"from_value": 20, "to_value": 100, "step": 5}
    assert [line.value for line in sheet(job([limit], current_limit_a=15.0)).lines] == ["60 %"]
    assert [line.value for line in sheet(job([limit], current_limit_a=14.0)).lines] == ["55 %"]


def test_every_sample_unit_is_keyed_to_its_battery() -> None:
    """On each unit of the sample shelf that charges 12 V, lithium ends at 14.2 V or within what it takes, never equalising."""
    for unit in chargers():
        if unit.kind != "charger" or unit.output_nominal_v != 12 or unit.settings is None:
            continue
        whole = plain(auxiliary=LFP, charger=unit.model_dump(mode="json"))
        whole["vehicle"]["system_v"] = unit.input_nominal_v
        found = sheet(Design.model_validate(whole))
        absorb = next(line.id for line in unit.settings.lines if line.means == "absorption_v")
        scale = 1.0
        assert 13.8 <= float(found.acting[absorb].split()[0]) * scale <= 14.6, unit.id
        assert all(
            found.acting[line.id] != "on"
            for line in unit.settings.lines
            if line.means == "equalise" and line.id in found.acting
        )


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        ([volts("a", "absorption_v", 14.65)], "factory value 14.65 is none it can have"),
        ([volts("a", "absorption_v", 14.6), volts("a", "float_v", 13.6)], "stands twice"),
        ([volts("a", "absorption_v", 14.6, shown_line="b", shown_values=["x"])], "which is no line of this menu"),
        ([volts("a", "absorption_v", 14.6, shown_line="b")], "say both the line it depends on"),
        ([{"id": "a", "label": "a", "kind": "choice", "options": [{"label": "one"}]}], "at least two choices"),
        ([volts("a", "absorption_h", 14.6)], "absorption time is written in h or min"),
        ([KIND | {"shown_line": "kind", "shown_values": ["lead"]}], "depends on itself"),
        ([{"id": "a", "label": "a", "unit": "V", "from_value": 15, "to_value": 12, "step": 1}], "range runs backwards"),
        (
            [KIND | {"options": [{"label": "lead", "rewrites": [{"line": "no", "value": 1}]}, {"label": "lithium"}]}],
            "it rewrites no to 1",
        ),
    ],
)
def test_a_menu_that_contradicts_itself_is_refused(lines: list[dict[str, Any]], said: str) -> None:
    """In a sentence that names the line and the remedy."""
    with pytest.raises(ValidationError, match=said):
        SettingsRecord.model_validate({"lines": lines})


def test_a_line_agrees_with_the_rule_it_sets() -> None:
    """Start volts are said once: another range in the menu than in the rules is refused."""
    with pytest.raises(ValidationError, match="give its line the same range and step"):
        Design.model_validate(plain(charger=charger(settings={"lines": [volts("start", "start_v", 13.4)]})))


@pytest.mark.parametrize(
    ("seen", "wanted", "same"),
    [
        ("14.2", "14.2 V", True),
        ("14,2 V", "14.20 V", True),
        ("14.2 A", "14.2 V", False),
        ("14.3 V", "14.2 V", False),
        ("Lithium", "lithium", True),
        ("lead", "lithium", False),
        ("ON", "on", True),
        ("-24 mV/K", "-24 mV/K", True),
    ],
)
def test_a_value_read_back_is_compared_by_its_worth(seen: str, wanted: str, same: bool) -> None:
    """Decimal marks, missing units and case do not matter; another unit, number or word does."""
    assert same_value(seen, wanted) is same


def test_what_was_keyed_before_the_sheet_changed_is_told() -> None:
    """Keyed to 14.2 V; the battery's maker says 14.4 V now: key it again. A line no longer on the sheet: set it back."""
    lines = [volts("absorb", "absorption_v", 14.6), volts("hold", "float_v", 13.5)]
    keyed = [{"line": "absorb", "value": "14.2 V", "keyed": True}, {"line": "hold", "value": "13.8 V", "keyed": True}]
    now = job(lines, keyed=keyed, auxiliary=LFP | {"absorption_v": 14.4})
    found = {
        item.id: item.level for item in assess(now, remedies=False).findings if item.id.startswith("settings.keyed")
    }
    assert found == {"settings.keyed.absorb": "caution", "settings.keyed.hold": "caution"}


def test_a_line_that_left_the_sheet_is_told_by_its_name_on_the_device() -> None:
    """As the unit's menu has it; with the device's name before it elsewhere; of another unit's menu no name is known."""
    solar = {"panel_w": 120.0, "stages": {"settings": {"lines": [KIND, volts("hold", "float_v", 13.5)]}}}
    keyed = [
        {"line": line, "value": "9 V", "keyed": True}
        for line in ("extra_knob", "extra_knob@2", "solar:hold@2", "of_another_unit")
    ]
    extra = volts("extra_knob", "other", 14.6) | {"label": "Night saving"}
    found = assess(job([extra], solar=solar, keyed=keyed), remedies=False).findings
    said = {item.id: item.text.partition(" was keyed")[0] for item in found if item.id.startswith("settings.keyed")}
    assert said == {
        "settings.keyed.extra_knob": "Night saving",
        "settings.keyed.extra_knob@2": "Night saving",
        "settings.keyed.solar:hold@2": "Solar controller, hold",
        "settings.keyed.of_another_unit": "A line of another menu",
    }


def test_other_devices_have_their_sheet() -> None:
    """A solar controller's knob to lithium; a monitor's capacity, full volts and efficiency."""
    knob = {"lines": [KIND]}
    size = {
        "id": "size",
        "label": "size",
        "means": "capacity_ah",
        "unit": "Ah",
        "from_value": 1,
        "to_value": 500,
        "step": 1,
    }
    full = volts("full", "full_v", 13.2)
    design = job(
        [],
        solar={"panel_w": 120.0, "stages": {"settings": knob}},
        monitor={"unit": {"settings": {"lines": [size | {"factory": 200}, full]}}},
    )
    assert [(line.key, line.value) for line in sheet(design, "solar").lines] == [("solar:kind", "lithium")]
    assert [line.value for line in sheet(design, "monitor").lines] == ["100 Ah", "14.1 V"]
    assert sheet_of(Context.of(design), "existing.e9") is None


def test_what_another_device_reads_is_held_against_its_own_sheet() -> None:
    """A solar controller keyed to lithium that shows lead: a finding, as of the unit; what it shows as it should be is none."""
    solar = {"panel_w": 120.0, "stages": {"settings": {"lines": [KIND]}}}
    for seen, wrong in (("lead", True), ("lithium", False)):
        keyed = [{"line": "solar:kind", "value": "lithium", "keyed": True, "seen": seen}]
        found = assess(job([], solar=solar, keyed=keyed), remedies=False).findings
        told = [item.text for item in found if item.id == "settings.read_back.solar:kind"]
        assert told == (
            ["The sheet says lithium; it shows lead. Key it again, save it, and read it back."] if wrong else []
        )


def test_volts_per_block_of_another_device() -> None:
    """A solar controller on 24 V whose menu counts by the block: 28.4 V are keyed as 14.2 V."""
    pack = LFP | {"nominal_v": 24, "absorption_v": 28.4}
    lines = [volts("absorb", "absorption_v", 14.6, per_block=True)]
    solar = {"panel_w": 120.0, "stages": {"settings": {"lines": lines}}}
    there = Design.model_validate(plain(auxiliary=pack, charger=None, solar=solar))
    assert [line.value for line in sheet(there, "solar").lines] == ["14.2 V"]
