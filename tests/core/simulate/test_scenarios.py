"""Cases an installer meets, each with the finding the trade would name. Expectations are reasoned, not recorded."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from tests.designs import cable, charger, design, fuse, vehicle

LITHIUM = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 200.0, "charge_limit_a": 100.0, "absorption_v": 14.2}
CHASSIS = {"kind": "chassis", "resistance_mohm": 4.0}
LOW_PHASE = {
    "rest_v": 12.6,
    "after_stop_v": 12.7,
    "idle_v": 13.9,
    "cruise_v": 14.2,
    "low_phase_v": 12.6,
    "low_phase_s": 60.0,
}
MANAGED = {"rated_a": 180.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6}


def on(**changes: Any) -> dict[str, Any]:
    """Changes that only touch the vehicle."""
    return {"vehicle": vehicle(**changes)}


# (why it should be so, changes to a sound job, finding, level)
CASES: list[tuple[str, dict[str, Any], str, str]] = [
    # Match
    ("composite body, non-isolated unit", on(chassis={"body": "mixed"}) | {"charger": charger(isolated=False)}, "match.isolated_wanted", "caution"),
    ("composite body, isolated unit is right", on(chassis={"body": "mixed"}), "match.isolation", "note"),
    ("bonded body, non-isolated is right", {"charger": charger(isolated=False)}, "match.isolation", "note"),
    ("unknown bonding is not proven", on(chassis={"body": "unknown"}) | {"charger": charger(isolated=False)}, "match.isolated_wanted", "caution"),
    ("trailer, although bonded", on(chassis={"body": "metal_bonded", "trailer": True}) | {"charger": charger(isolated=False)}, "match.isolated_wanted", "caution"),
    ("measured 2.4 Ω beats a metal body", on(chassis={"body": "metal_bonded", "bonding_mohm": 2400.0}) | {"charger": charger(isolated=False)}, "match.isolated_wanted", "caution"),
    ("chassis return on an unproven body", on(chassis={"body": "boat"}) | {"supply": {"pieces": [fuse(), cable()], "back": CHASSIS}}, "match.no_common_negative", "stop"),
    ("a converter is no charger", {"charger": charger(kind="converter", output_min_v=13.8, output_max_v=13.8)}, "match.converter", "stop"),
    ("24 V unit in a 12 V vehicle", {"charger": charger(input_nominal_v=24, input_min_v=18.0, input_max_v=34.0)}, "match.input_voltage", "stop"),
    ("24 V battery on a 12 V output", {"auxiliary": {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 100.0}}, "match.output_voltage", "stop"),
    ("absorption beyond the unit's range", {"charger": charger(output_max_v=14.2)}, "match.absorption_range", "stop"),
    ("15.1 V into AGM without a datasheet", {"auxiliary": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 15.1}}, "match.absorption_high", "caution"),
    ("25 A into a battery that allows 20", {"auxiliary": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 20.0}}, "match.battery_limit", "stop"),
    ("fixed unit asked to turn down", {"charger": charger(current_limit="none"), "current_limit_a": 15.0}, "match.setting", "stop"),
    ("12 A between steps of 10 and 20", {"charger": charger(current_limit="steps", limit_steps_a=[10.0, 20.0]), "current_limit_a": 12.0}, "match.setting", "stop"),
    ("alternator has 5 A left at hot idle", on(alternator={"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 30.0, "hot_idle_share": 0.5}), "match.alternator_overrun", "stop"),
    ("over the surplus, within the alternator", on(alternator={"rated_a": 100.0, "regulation": "fixed", "loads_idle_a": 18.0, "hot_idle_share": 0.5}), "match.alternator_budget", "caution"),
    # Survey
    ("24 V reading on a 12 V vehicle", on(readings={"rest_v": 25.2, "idle_v": 27.6, "cruise_v": 28.0}), "survey.implausible.rest_v", "caution"),
    ("idle under rest: low phase or wrong meter", on(readings={"rest_v": 12.8, "idle_v": 12.5, "cruise_v": 14.2}), "survey.idle_not_charging", "caution"),
    ("loads eat the alternator at idle", on(alternator={"rated_a": 60.0, "regulation": "fixed", "loads_idle_a": 40.0, "hot_idle_share": 0.5}), "survey.idle_deficit", "caution"),
    # Run
    ("6 mm² over 5 m drops far over 3 %", {"supply": {"pieces": [fuse(60.0), cable("6 mm²", 5.0)]}}, "run.drop.supply", "caution"),
    ("1.5 mm² cannot carry 30 A", {"supply": {"pieces": [fuse(60.0), cable("1.5 mm²", 1.0)]}}, "run.ampacity.c1", "stop"),
    ("35 mm² into a 25 mm² terminal", {"supply": {"pieces": [fuse(60.0), cable("35 mm²", 3.0)]}}, "run.terminal.supply", "stop"),
    ("70 °C cable in a 70 °C engine bay", {"supply": {"pieces": [fuse(60.0), cable("25 mm²", 2.0, insulation_c=70, place="engine_bay")]}}, "run.ampacity.c1", "stop"),
    ("chassis return nobody measured", {"supply": {"pieces": [fuse(60.0), cable()], "back": {"kind": "chassis", "resistance_mohm": None}}}, "run.chassis_unmeasured.supply", "caution"),
    ("nothing laid yet", {"supply": {"pieces": []}}, "run.empty.supply", "caution"),
    ("cruise volts above the unit's input", {"charger": charger(input_max_v=14.0)}, "run.above_maximum", "stop"),
    # Protect
    ("no device at the auxiliary battery", {"delivery": {"pieces": [cable("16 mm²", 1.5)]}}, "protect.missing.delivery", "stop"),
    ("device at the wrong end", {"supply": {"pieces": [cable(), fuse(60.0)]}}, "protect.missing.supply", "stop"),
    ("25 A device on 29 A continuous", {"supply": {"pieces": [fuse(25.0, "blade"), cable()]}}, "protect.small.d1", "stop"),
    ("30 A device on 25.5 A continuous", {"current_limit_a": 22.0, "supply": {"pieces": [fuse(30.0), cable()]}}, "protect.tight.d1", "caution"),
    ("110 A over 10 mm²", {"supply": {"pieces": [fuse(110.0), cable("10 mm²", 1.0)]}}, "protect.large.d1", "stop"),
    ("strip fuse at a 200 Ah lithium post", {"auxiliary": LITHIUM, "delivery": {"pieces": [cable("16 mm²", 1.5), fuse(40.0, "sf30")]}}, "protect.interrupt.d2", "stop"),
    ("32 V fuse on a 48 V bank", {"auxiliary": {"chemistry": "agm", "nominal_v": 48, "capacity_ah": 60.0}, "charger": charger(output_nominal_v=48, output_a=5.0, output_max_v=60.0, output_min_v=44.0), "delivery": {"pieces": [cable("6 mm²", 1.0), fuse(30.0, "sf30")]}}, "protect.voltage.d2", "stop"),
    ("far short over a long thin run", {"supply": {"pieces": [fuse(60.0), cable("10 mm²", 12.0)]}}, "protect.fault.d1", "caution"),
    # Wake
    ("nothing enables it", {"activation": {"ways": []}}, "wake.no_way", "stop"),
    ("unit without voltage detection", {"charger": charger(enables=["ignition", "d_plus"])}, "wake.unsupported.voltage", "stop"),
    ("D+ wanted, none surveyed", on(signals={"ignition": True, "d_plus": False}) | {"activation": {"ways": ["d_plus"]}}, "wake.signal_absent.d_plus", "caution"),
    ("ignition alone: only the guard stops it", {"activation": {"ways": ["ignition"]}}, "wake.guard_alone.ignition", "note"),
    ("start at 14.0 over 13.9 running", {"activation": {"start_v": 14.0}}, "wake.never_starts", "stop"),
    ("start at 12.6 under 12.7 rest", {"activation": {"start_v": 12.6, "stop_v": 12.5}}, "wake.starts_parked", "stop"),
    ("start 0.05 above rest is tight", {"activation": {"start_v": 12.75, "stop_v": 12.72}}, "wake.start_tight", "caution"),
    ("stop under rest never stops", {"activation": {"stop_v": 12.6}}, "wake.never_stops", "stop"),
    ("stop above the loaded run hunts", {"supply": {"pieces": [fuse(60.0), cable("10 mm²", 8.0)]}, "activation": {"stop_v": 13.3}}, "wake.hunts", "stop"),
    ("stop above start", {"activation": {"start_v": 13.0, "stop_v": 13.3}}, "wake.stop_above_start", "stop"),
    ("guard above stop", {"activation": {"guard_v": 13.2, "stop_v": 13.0}}, "wake.guard_above_stop", "stop"),
    ("guard at 11.2 keeps too little", {"activation": {"guard_v": 11.2}}, "wake.guard_low", "caution"),
    ("guard above the loaded volts", {"activation": {"guard_v": 13.7, "ways": ["d_plus"]}}, "wake.guarded_running", "stop"),
    ("back right at the guard chatters on a live signal", {"activation": {"back_v": 12.3, "ways": ["ignition"]}}, "wake.back_low", "caution"),
    ("release above what the engine holds", {"activation": {"back_v": 14.5}}, "wake.back_unreachable", "stop"),
    ("threshold outside the unit's range", {"charger": charger(settable=(10.5, 13.0, 0.05)), "activation": {"start_v": 13.4}}, "wake.range.start.0", "stop"),
    ("smart low phase at rest volts", on(alternator=MANAGED, readings=LOW_PHASE), "wake.low_phase", "caution"),
    ("a long delay rides the low phase", on(alternator=MANAGED, readings=LOW_PHASE) | {"activation": {"stop_held_s": 120.0, "guard_v": 11.9}}, "wake.rides_low_phase", "note"),
]  # fmt: skip


def found(changes: dict[str, Any]) -> dict[str, Finding]:
    """Findings of a sound job with changes, by id."""
    return {item.id: item for item in assess(design(**changes)).findings}


def test_the_sound_job_is_sound() -> None:
    """The job every case starts from has neither stop nor caution, so each finding is the change's own."""
    assert [item.id for item in found({}).values() if item.level != "note"] == []


@pytest.mark.parametrize(("changes", "id", "level"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_case(changes: dict[str, Any], id: str, level: str) -> None:
    """The finding the trade would name is there, at its level, with numbers in its text where it stops."""
    items = found(changes)
    assert id in items, sorted(items)
    assert items[id].level == level
    assert items[id].title
    assert not items[id].text.endswith("..")


CURES = [
    case
    for case in CASES
    if case[2].startswith(("match.battery_limit", "match.setting", "match.no_common", "run.", "protect.", "wake."))
]


@pytest.mark.parametrize("case", CURES, ids=[case[0] for case in CURES])
def test_each_remedy_cures(case: tuple[str, dict[str, Any], str, str]) -> None:
    """Taking a way out of a finding makes that finding go; findings without one say so by offering none."""
    _, changes, id, level = case
    if level == "note":
        return
    job = design(**changes)
    finding = next(item for item in assess(job).findings if item.id == id)
    for remedy in finding.remedies:
        after = {item.id for item in assess(apply(job, remedy)).findings}
        assert id not in after, remedy.label


def test_every_wake_stop_of_voltage_has_a_way_out() -> None:
    """A hunting job is offered a signal, a cable and a lower current, each computed."""
    items = found({"supply": {"pieces": [fuse(60.0), cable("6 mm²", 8.0)]}})
    labels = " / ".join(way.label for way in items["wake.no_stop_window"].remedies)
    assert "D+" in labels
    assert "mm²" in labels
    assert "Turn the unit down" in labels


def test_low_phase_cost_is_stated_in_ampere_hours() -> None:
    """120 s at about 33 A is 1.1 Ah from the start battery after every stop (hand calculation)."""
    changes = on(alternator=MANAGED, readings=LOW_PHASE) | {"activation": {"stop_held_s": 120.0, "guard_v": 11.9}}
    assert "1.1 Ah" in found(changes)["wake.rides_low_phase"].text


def test_isolation_is_never_sold_as_better_charging() -> None:
    """Whatever the verdict, the belief that isolation charges better is answered."""
    for changes in ({}, on(chassis={"body": "mixed"}), {"charger": charger(isolated=False)}):
        assert "does not make it charge better" in found(changes)["match.isolation"].text


@pytest.mark.parametrize(
    ("changes", "binding"),
    [
        ({}, "heat"),  # 25 A unit; every other limit allows more
        (
            {"auxiliary": {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 60.0}},
            "battery",
        ),  # 0.25 C of 60 Ah is 15 A
        ({"choices": {"alternator_school": "share", "share_fraction": 0.1}}, "alternator_share"),  # 12 A at the input
        (
            on(alternator={"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 15.0, "hot_idle_share": 0.5}),
            "alternator_surplus",
        ),
        ({"supply": {"pieces": [fuse(60.0), cable("2.5 mm²", 2.0)]}}, "supply_cable"),
        ({"delivery": {"pieces": [cable("1.5 mm²", 1.0), fuse(40.0)]}}, "delivery_cable"),  # 23 A by B.52.3
        ({"supply": {"pieces": [fuse(60.0), cable("10 mm²", 14.0)]}}, "supply_volts"),
        ({"mount": {"place": "cupboard", "ambient_c": 60.0}}, "heat"),
    ],
)
def test_the_binding_limit_is_named(changes: dict[str, Any], binding: str) -> None:
    """The limits ruler names the limit that binds."""
    ruler = assess(design(**changes)).ruler
    assert ruler.binding == binding
    assert [item.key for item in ruler.limits if item.binding] == [binding]


def test_a_hybrid_is_ready_rather_than_idling() -> None:
    """With a DC converter holding up the 12 V side "ready" takes the place of idling and nothing is lost at idle."""
    found = assess(design(vehicle=vehicle(drive="converter", alternator={"rated_a": 130.0, "loads_idle_a": 40.0})))
    assert [item.label for item in found.conditions] == ["Parked", "Ready", "Driving"]
    assert found.figures["match.alternator_surplus_a"].value == pytest.approx(0.8 * (130 - 40))


def test_measured_wins_and_says_so() -> None:
    """A reading recorded as measured carries that word into the working; an absent one says default."""
    measured = design(provenance={"vehicle.readings.idle_v": "measured"})
    inputs = {item.path: item for item in assess(measured).figures["wake.run_unloaded_v"].inputs}
    assert inputs["vehicle.readings.idle_v"].provenance == "measured"
    open_job = design(vehicle=vehicle(readings={}))
    assessment = assess(open_job)
    assert assessment.facts["vehicle.readings.idle_v"].provenance == "default"
    assert "hot idle, charger idle" in assessment.stages["survey"].missing
