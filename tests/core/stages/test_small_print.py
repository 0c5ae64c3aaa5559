"""The small print of the rules: where each speaks, of what, and where it is silent; by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import gather
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Design, Load
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.match.direct_link import contrast_link
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.prove.unknowns import AT, unknowns_of
from olvask.core.stages.settings.climate import climate_of
from olvask.core.stages.settings.monitor import monitor_of
from olvask.core.stages.settings.unlisted import unlisted
from olvask.core.stages.settings.wishes import charge_wanted
from olvask.core.stages.wake.existing_link import plan_existing_link
from tests.designs import REFUSES_COLD, cable, charger, design, vehicle


def found(job: Design) -> dict[str, Finding]:
    """Findings by identity."""
    return {item.id: item for item in assess(job).findings}


def test_a_missing_device_is_shown_at_its_battery() -> None:
    """Each run is protected at the battery it could drain through a short."""
    bare = found(design(supply={"pieces": [cable()]}, delivery={"pieces": [cable("16 mm²", 1.5)]}))
    assert bare["protect.missing.supply"].place == "start_battery"
    assert bare["protect.missing.delivery"].place == "auxiliary"


def test_a_first_lay_takes_what_the_trade_uses() -> None:
    """A run not laid is proposed with an automotive device, an industrial cartridge only where nothing else will do."""
    for run in ("supply", "delivery"):
        ways = [item for item in found(design(**{run: {"pieces": []}})).values() if f"{run}.pieces" in item.concerns]
        labels = [way.label for item in ways for way in item.remedies if way.label.startswith("Lay ")]
        assert labels
        assert not any("artridge" in label for label in labels)


@pytest.mark.parametrize(("battery", "told"), [
    (REFUSES_COLD, False), (REFUSES_COLD | {"low_temperature_cut_off": False}, True),
    ({"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0}, False),
])  # fmt: skip
def test_what_stops_the_cold_is_asked_of_bare_lithium_alone(battery: dict[str, Any], told: bool) -> None:
    """Lead may be charged in frost, and a pack that cuts off by itself needs nobody else to."""
    assert bool(climate_of(Context.of(design(auxiliary=battery))).stops) is told


def test_a_link_without_a_name_is_the_old_link() -> None:
    """It stays joined in the cold, and is called what it is."""
    old = {"existing": [{"kind": "link"}], "old_link": {"decision": "keep"}}
    battery = REFUSES_COLD | {"low_temperature_cut_off": False}
    assert "old link" in [item.label for item in climate_of(Context.of(design(auxiliary=battery, **old))).stops]


def test_what_goes_past_the_shunt_is_counted_in_or_out() -> None:
    """Half an ampere-hour a day from the mains was never counted in; loads were never counted out."""
    job = design(
        existing=[{"kind": "mains_charger", "charge_a": 1.0}],
        use={"mains_h": 0.5, "daily_ah": 0.5},
        monitor={"unit": {"name": "Monitor"}, "bypassed_by": ["mains", "loads", "chassis"]},
    )
    mains, loads, chassis = monitor_of(Context.of(job)).passed
    assert [mains.ah_day, loads.ah_day] == pytest.approx([0.5, -0.5])
    assert chassis.ah_day is None
    assert "never counted in" in mains.text
    assert "never counted out" in loads.text
    assert "never counted out" in chassis.text


def test_volts_of_equalising_are_not_missed_beside_equalising_itself() -> None:
    """A menu that cannot equalise lacks one line, not two."""
    ranges = design(charge={"equalise": True, "equalise_v": 15.2})
    assert [item.means for item in unlisted(ranges) if item.means.startswith("equalise")] == ["equalise"]


def test_a_tail_is_shared_by_several_units_alone() -> None:
    """One unit ends where it is told; two end at half of it each, and the sheet says so."""
    for units, shared in ((1, False), (2, True)):
        job = design(units=units)
        assert ("shared by" in charge_wanted(job, gather(job))["tail_a"].why) is shared


def test_only_what_draws_besides_is_said_to() -> None:
    """Loads beyond the alternator: a fridge on its own feed is named with its amperes, none is not."""
    greedy = vehicle(alternator={"rated_a": 60.0, "loads_idle_a": 80.0, "hot_idle_share": 0.5})
    alone, beside = (
        found(design(vehicle=greedy, existing=old))["survey.idle_deficit"].text
        for old in ([], [{"kind": "fridge_feed", "charge_a": 8.0}])
    )
    assert "besides" not in alone
    assert "8.0 A that draw besides" in beside


def test_a_unit_that_latches_says_what_it_keeps_where_that_is_known() -> None:
    """In brackets, or not at all."""
    for kept, said in (("its last mode", "does not stop it (its last mode)."), ("", "does not stop it. ")):
        record = charger(behaviour={"latched": True, "keeps_without_remote": kept})
        assert said.strip() in found(design(charger=record, activation={"ways": ["switch"]}))["wake.latched"].text


def test_a_start_near_either_edge_is_tight() -> None:
    """0.02 V inside a margin above resting, or below running, is cautioned; the middle is not."""
    at = Context.of(design(activation={"ways": ["voltage"]})).thresholds
    for volts, tight in (
        (round(at.floor_v - 0.02, 2), True), (round((at.floor_v + at.start_high_v) / 2, 2), False),
        (round(at.start_high_v + 0.02, 2), True),
    ):  # fmt: skip
        assert ("wake.start_tight" in found(design(activation={"ways": ["voltage"], "start_v": volts}))) is tight


def test_a_second_start_as_patient_as_the_first_hides_it() -> None:
    """Lower volts after the same hold: the first is never the one that starts it. A longer hold leaves it its use."""
    at = Context.of(design(activation={"ways": ["voltage"]})).thresholds
    for held_s, hides in ((10.0, True), (30.0, False)):
        rules = [{"at_least_v": at.unloaded_low_v - 0.05, "held_s": 10.0}, {"at_least_v": at.floor_v, "held_s": held_s}]
        job = design(activation={"ways": ["voltage"], "start_rules": rules})
        assert ("wake.start_hides.1" in found(job)) is hides


def test_upkeep_from_the_mains_ends_with_a_link_that_is_disconnected() -> None:
    """Disconnected the start battery gets nothing from it; kept or changed over, what charged it before."""
    for decision, upkept in (("disconnect", False), ("keep", True), ("changeover", True)):
        job = design(existing=[{"kind": "panel", "carries": ["upkeep"]}], old_link={"decision": decision})
        plan = plan_existing_link(job)
        row = next(row for row in plan.rows if "upkeep" in row.name)
        assert (row.after_off != "nothing") is upkept
        assert plan.there == "panel with a link"


@pytest.mark.parametrize(("under_v", "low"), [(0.5, False), (0.7, True)])
def test_a_guard_too_low_is_measured_by_the_systems_volts(under_v: float, low: bool) -> None:
    """On 24 V a guard may stand twice as far under the volts of the charge to keep as on 12 V: 0.6 V."""
    keep_v = open_circuit_v("flooded", design().choices.keep_state_of_charge, 24)
    truck = vehicle(system_v=24, readings={"rest_v": 25.4, "after_stop_v": 25.6, "idle_v": 27.8, "cruise_v": 28.2})
    unit = charger((20.0, 30.0, 0.01), input_nominal_v=24, input_min_v=18.0, input_max_v=32.0)
    job = design(vehicle=truck, charger=unit, activation={"ways": ["voltage"], "guard_v": round(keep_v - under_v, 2)})
    assert ("wake.guard_low" in found(job)) is low


def test_the_resting_band_begins_at_the_lower_of_rest_and_just_after() -> None:
    """12.6 V rested and 12.7 V just after stopping: it begins at 12.6 V."""
    assert assess(design()).wake.rest.low_v == pytest.approx(12.6)


def test_lamps_are_tried_where_there_are_low_phases() -> None:
    """A fixed alternator has none that lamps could end."""
    fixed = {test.key for test in listed(Context.of(design()))}
    managed = {test.key: test for test in listed(Context.of(design(vehicle=vehicle(readings={"low_phase_v": 12.5}))))}
    assert "lamps_lift" not in fixed
    assert "lamps_lift" in managed
    assert managed["output_rest_v"].needs_unit


def test_a_plain_link_is_said_to_fall_short_of_the_best_there_is() -> None:
    """13.9 V at idle and 14.2 V at cruise against 14.6 V: it sees 14.2 V at most."""
    high = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "absorption_v": 14.9}
    link = contrast_link(Context.of(design(auxiliary=high)))
    assert link is not None
    assert any("at most 14.20 V" in risk for risk in link.risks)


def test_an_appliance_standing_takes_its_share_of_the_time() -> None:
    """Half the time on, it takes half; told to run with the engine only, it still runs then."""
    kettle = {"id": "k", "name": "kettle", "current_a": 5.0, "fed": "converter", "standing_h": 8.0}
    whole, half = (
        found(design(use={"loads": [kettle | {"duty": duty}]}))["match.appliance_parked.k"] for duty in (1.0, 0.5)
    )
    amps = [float(item.text.split(" A over")[0]) for item in (whole, half)]
    assert amps[1] == pytest.approx(amps[0] / 2, abs=0.06)
    job = design(use={"loads": [kettle]})
    way = next(way for way in whole.remedies if way.label.startswith("Only with the engine"))
    load: Load = apply(job, way).use.loads[0]
    assert (load.standing_h, load.driving) == (0.0, True)


def test_no_step_up_from_twelve_to_twelve() -> None:
    """The note on stepping up is for a unit that does."""
    assert "match.step_up" not in found(design())


def test_what_a_unit_holds_is_as_sure_on_any_volts() -> None:
    """0.04 V for each 12 V: 0.08 V on 24 V."""
    batteries = [{"chemistry": "agm", "nominal_v": volts, "capacity_ah": 110.0} for volts in (12, 24)]
    units = [charger(), charger(output_nominal_v=24, output_min_v=22.0, output_max_v=31.0)]
    spreads = [
        unknowns_of(Context.of(design(auxiliary=battery, charger=unit)))[AT["set_v"]].sigma
        for battery, unit in zip(batteries, units, strict=True)
    ]
    assert spreads == pytest.approx([0.04, 0.08])
