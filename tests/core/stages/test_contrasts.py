"""What hangs on one answer of the survey is said one way with it and another way without."""

from __future__ import annotations

import re
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.cuts import Drum, cut_list
from olvask.core.stages.build.orders import Stock, orders_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.procedure.step import Step
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.run.devices import SYSTEM_MAX_V
from olvask.core.stages.settings.sheet import sheet_of
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.wiring import signal_wire
from tests.designs import cable, charger, design, fuse, plain, vehicle


def step(key: str, **changes: Any) -> Step:
    """One step of a job."""
    return next(
        placed.step for placed in procedure_of(Context.of(design(**changes))).procedure.steps if placed.step.key == key
    )


def finding(found_as: str, **changes: Any) -> Finding | None:
    """One finding of a job, where it stands."""
    found = assess(design(**changes), remedies=False).findings
    return next((item for item in found if item.id == found_as), None)


@pytest.mark.parametrize(("tank", "sign"), [(True, "W021"), (False, "W001")])
def test_a_tank_where_holes_are_drilled_is_warned_of(tank: bool, sign: str) -> None:
    """With a tank there the step says so under the sign for what burns; without, under the general one."""
    drilled = step("mount.holes", site={"drills": True, "tank": tank})
    assert drilled.hazard is not None
    assert drilled.hazard.sign == sign
    assert ("A tank or a line lies there" in drilled.text) is tank


def test_the_reason_for_either_pole_is_its_own() -> None:
    """Positive goes on first, and says why; negative is the last of the two."""
    assert step("join.start_positive").why.startswith("Positive first")
    assert step("join.start_negative").why.startswith("Last of the two")


def test_each_rested_battery_is_read_as_itself() -> None:
    """The quantity that a reading goes to is that of the battery it is taken at."""
    tests = {test.key: test for test in listed(Context.of(design()))}
    assert tests["rest.start"].quantity == "rest_start_v"
    assert tests["rest.auxiliary"].quantity == "rest_auxiliary_v"


@pytest.mark.parametrize(("drive", "ready"), [("converter", True), ("engine", False)])
def test_ignition_of_a_vehicle_without_an_engine_is_its_being_ready(drive: str, ready: bool) -> None:
    """A converter feeds while the vehicle is ready; an engine's ignition is named as such."""
    wire = signal_wire(design(vehicle=vehicle(drive=drive)), "ignition")
    assert (wire.live == "with the vehicle ready") is ready


@pytest.mark.parametrize(("ah", "age", "uneven"), [(95.0, 2.0, False), (94.0, 2.0, True), (100.0, 2.1, True)])
def test_strings_are_apart_by_more_than_a_twentieth_or_two_years(ah: float, age: float, uneven: bool) -> None:
    """5 % and two years apart still match; more of either does not."""
    strings = [{"capacity_ah": 100.0, "age_years": 0.0}, {"capacity_ah": ah, "age_years": age}]
    bank = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 100.0 + ah, "strings": strings}
    assert (finding("survey.bank_uneven", auxiliary=bank) is not None) is uneven


def test_what_is_not_measured_is_missing_and_what_is_is_not() -> None:
    """Of three readings the two that nobody took stand open."""
    found = assess(design(vehicle=vehicle(readings={"idle_v": 13.9})), remedies=False).stages["survey"].missing
    assert {"engine off, rested", "cruise, charger idle"} <= set(found)
    assert not any("idle, charger" in item and "cruise" not in item for item in found)


def test_what_a_meter_of_cable_is_laid_with_has_its_price() -> None:
    """6 m in conduit under the floor: conduit at 1.60 €/m, clips at 0.25 €, two grommets at 0.90 €, a fan kit at 32 €."""
    job = design(
        supply={"pieces": [fuse(60.0), cable("16 mm²", 6.0, conduit=True, place="under_floor")]},
        delivery={"pieces": [fuse(60.0), cable("16 mm²", 1.0)]},
        mount={"fan_m3_h": 40.0},
    )
    parts = {part.what: part for part in bill_of(Context.of(job)).parts}
    assert (parts["Conduit, split, with end caps"].count, parts["Conduit, split, with end caps"].price) == (6.0, 1.6)
    assert parts["Clip with screw"].price == 0.25
    assert (parts["Grommet"].count, parts["Grommet"].price) == (2.0, 0.9)
    assert parts["Fan kit"].price == 32.0


def test_a_drum_just_long_enough_is_cut_and_what_it_lacks_is_ordered() -> None:
    """A drum as long as the cut serves; the order says how many metres are there and how many are not."""
    bill = bill_of(Context.of(design(supply={"pieces": [fuse(60.0), cable("16 mm²", 5.0)]})))
    first = next(item for item in bill.conductors if item.size == "16 mm²")
    used = cut_list([first], [Drum(id="d", size="16 mm²", length_m=first.cut_m)])
    assert [use.in_stock for use in used] == [True]
    orders = orders_of(bill, Stock(drums=[Drum(id="d", size="16 mm²", length_m=first.cut_m)]))
    line = next(
        line
        for group in orders.groups
        for line in group.lines
        if line.unit == "m" and "16 mm²" in line.what + line.detail
    )
    assert line.in_stock == pytest.approx(first.cut_m)
    assert line.to_order == 10.0  # 6.0 + 1.8 + 1.8 m by the whole metre
    assert line.needed == pytest.approx(15.6)


@pytest.mark.parametrize(
    ("profile", "level", "title"),
    [
        ({"profile": "agm", "stages": {"absorption_v": 16.5}}, "stop", "The mains charger is set wrong for AGM"),
        ({"profile": "lfp"}, "caution", "The mains charger is set for LFP"),
    ],
)
def test_an_old_charger_set_wrong_and_one_set_for_another_battery(profile: Any, level: str, title: str) -> None:
    """Its own profile driven to 16.5 V is wrong for AGM and a stop; lithium's profile on AGM is that of another."""
    found = finding(
        "settings.source.existing.e1",
        existing=[{"kind": "mains_charger", "charge_a": 20.0, **profile}],
        auxiliary={"chemistry": "agm", "capacity_ah": 100.0},
    )
    assert found is not None
    assert (found.level, found.title) == (level, title)


def test_a_device_stands_the_highest_volts_of_its_system() -> None:
    """16 V, 32 V and 60 V: charging in the cold with its margin, and the bound of extra-low voltage for 48 V."""
    assert SYSTEM_MAX_V == {12: 16.0, 24: 32.0, 48: 60.0}


def remedies_of(found: Finding | None) -> dict[str, dict[str, Any]]:
    """What a finding offers: its words and the paths it changes."""
    assert found is not None
    return {item.label: {change.path: change.value for change in item.changes} for item in found.remedies}


def worded(found_as: str, **changes: Any) -> Finding | None:
    """One finding of a job with its remedies."""
    return next((item for item in assess(design(**changes)).findings if item.id == found_as), None)


def test_every_link_but_the_first_is_to_be_cut() -> None:
    """Of two old links the second is offered to be cut; one that is cut already is none."""
    links = [{"kind": "link", "name": "front relay"}, {"kind": "link", "name": "rear relay"}]
    assert remedies_of(worded("survey.two_links", existing=links)) == {
        "rear relay: its feed is cut": {"existing.e2.cut": True}
    }
    assert worded("survey.two_links", existing=[links[0], links[1] | {"cut": True}]) is None


def test_a_tail_for_a_small_terminal_is_laid_singly_in_free_air() -> None:
    """The thick cable lies grouped in conduit; its half metre of thinner tail does not."""
    unit = charger(terminal_max_mm2=10.0)
    run = {"pieces": [fuse(60.0), cable("25 mm²", 3.0, conduit=True, grouped=3)]}
    offered = remedies_of(worded("run.terminal.supply", charger=unit, supply=run))
    ((pieces,),) = [change.values() for change in offered.values()]
    assert (pieces[-1]["size"], pieces[-1]["grouped"], pieces[-1]["conduit"]) == ("10 mm²", 1, False)
    assert (pieces[1]["grouped"], pieces[1]["conduit"]) == (3, True)


@pytest.mark.parametrize("chemistry", ["lfp", "agm"])
def test_a_winter_below_freezing_is_lithiums_alone(chemistry: str) -> None:
    """A cut-off keeps lithium from charging through a winter at 15 below; lead takes its charge."""
    battery = {"chemistry": chemistry, "capacity_ah": 100.0, "charge_limit_a": 50.0, "low_temperature_cut_off": True}
    cold = battery | {"charge_min_c": 0.0, "temperature_min_c": -15.0, "temperature_max_c": 30.0}
    assert (finding("settings.cold_days", auxiliary=cold) is not None) is (chemistry == "lfp")


@pytest.mark.parametrize(
    ("means", "seen", "level"), [("absorption_v", "14.9 V", "stop"), ("start_v", "13.1 V", "caution")]
)
def test_charge_volts_read_back_wrong_are_a_stop(means: str, seen: str, level: str) -> None:
    """What harms the battery stops the job; a start a tenth off is a caution; read back as keyed neither is."""
    line = {"id": "it", "label": "it", "means": means, "unit": "V", "from_value": 10.5, "to_value": 15.0, "step": 0.05}
    unit = charger(settings={"lines": [line | {"factory": 12.0}]})
    context = Context.of(design(charger=unit, activation={"ways": ["voltage"]}))
    sheet = sheet_of(context)
    assert sheet is not None
    (keyed,) = [item for item in sheet.lines if item.do == "key"]
    for read, wanted in ((seen, level), (keyed.value, None)):
        back = [{"line": "it", "value": keyed.value, "keyed": True, "seen": read}]
        found = finding("settings.read_back.it", charger=unit, activation={"ways": ["voltage"]}, keyed=back)
        assert (found.level if found is not None else None) == wanted


@pytest.mark.parametrize(("holds", "late"), [((30.0, 1200.0), False), ((1000.0, 1200.0), True)])
def test_the_soonest_of_two_stops_says_how_long_it_runs_on(holds: tuple[float, float], late: bool) -> None:
    """A stop after 30 s beside one after twenty minutes is soon enough; seventeen and twenty are not."""
    rules = [{"below_v": 12.9, "held_s": holds[0]}, {"below_v": 13.0, "held_s": holds[1]}]
    unit = charger()
    unit["stop_rules"] |= {"rows": 2}
    job = plain(charger=unit) | {"activation": {"ways": ["voltage"], "stop_rules": rules}}
    found = {item.id: item for item in assess(Design.model_validate(job)).findings}
    assert ("wake.stop_hold_long" in found) is late
    if late:
        assert "17 min" in found["wake.stop_hold_long"].text
        assert list(remedies_of(found["wake.stop_hold_long"]).values()) == [{"activation.stop_rules.0.held_s": 30.0}]


def test_the_largest_step_that_does_not_hunt_is_offered() -> None:
    """Of four steps, the largest with which the job no longer hunts, as each of them judges when it is chosen."""
    unit = charger(current_limit="steps", limit_steps_a=[10.0, 15.0, 20.0, 25.0])
    thin = {"pieces": [fuse(60.0), cable("6 mm²", 6.0)]}
    hunts: dict[str, Any] = {"charger": unit, "supply": thin, "activation": {"ways": ["voltage"], "stop_v": 13.0}}
    offered = remedies_of(worded("wake.hunts", **hunts))
    (down,) = [change for label, change in offered.items() if label.startswith("Turn the unit down")]
    calm = [amps for amps in unit["limit_steps_a"] if worded("wake.hunts", **hunts, current_limit_a=amps) is None]
    assert calm
    assert len(calm) < 4
    assert down["current_limit_a"] == max(calm)


@pytest.mark.parametrize("decision", ["disconnect", "changeover", "keep"])
def test_what_is_lost_with_a_link_is_what_changes_for_the_worse(decision: str) -> None:
    """Running and standing each have their sentence where they change, and none where they stay."""
    link = {"kind": "link", "carries": ["fridge", "lamp", "upkeep"]}
    plan = plan_existing_link(design(existing=[link], old_link={"decision": decision}))
    wanted = {(row.name, row.after_running, row.before_running) for row in plan.rows if row.lost}
    wanted |= {(row.name, row.after_off, row.before_off) for row in plan.rows if row.lost}
    said = [
        re.fullmatch(r"(.+?): (.+) (?:while the engine runs|with the engine off), was: (.+)", line)
        for line in plan.lost
    ]
    assert {item.groups() for item in said if item} == {(name, now, was) for name, now, was in wanted if now != was}
    assert all(said)
    assert bool(said) is (decision != "keep")
