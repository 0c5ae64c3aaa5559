"""Small rules at their edges, by hand: each of these could be turned round before without a test noticing."""

from __future__ import annotations

import math

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.circuit.thresholds import set_thresholds
from olvask.core.model import Design, StopRule
from olvask.core.simulate.programme import BadProgramme, read_programme, write_programme
from olvask.core.stages.build.conductors import unit_tails
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove import tests as proving
from olvask.core.stages.run.ampacity import piece_facts
from olvask.core.stages.wake.method import advise
from tests.designs import Plain, cable, charger, design, fuse, plain, vehicle


def findings(made: Design) -> dict[str, str]:
    """Every finding's text by its name."""
    return {item.id: item.text for item in assess(made, remedies=False).findings}


def test_what_a_piece_drops_counts_the_branch_that_hangs_behind_it() -> None:
    """I·R with the branch's amperes added on the piece before it, for a device as for a cable; milliohms as R."""
    branch = {"kind": "branch", "name": "beacon", "current_a": 10.0, "size": "2.5 mm²", "device": fuse(15.0, "blade")}
    bare = {fact.place: fact for fact in piece_facts(Context.of(design()))}
    laden = {
        fact.place: fact for fact in piece_facts(Context.of(design(supply={"pieces": [fuse(60.0), cable(), branch]})))
    }
    for place in ("d1", "c1"):
        amps = bare[place].drop_v / bare[place].resistance_mohm * 1000
        assert laden[place].drop_v / laden[place].resistance_mohm * 1000 > amps + 9.0
    fused = bare["d1"]
    assert 0.2 < fused.resistance_mohm < 3.0


def test_repeat_once_is_once() -> None:
    """A repeat of one is a repeat; of none it is refused."""
    assert read_programme("repeat 1\nidle 5 min\nend").duration_s == 300.0
    with pytest.raises(BadProgramme):
        read_programme("repeat 0\nidle 5 min\nend")


@pytest.mark.parametrize(("seconds", "words"), [(90, "90 s"), (60, "1 min"), (3600, "1 h"), (5400, "90 min")])
def test_a_time_is_written_in_whole_units(seconds: int, words: str) -> None:
    """What is no whole number of minutes stays in seconds, of hours in minutes."""
    assert f"idle {words}" in write_programme(read_programme(f"idle {seconds} s"))


@pytest.mark.parametrize("run", ["supply", "delivery"])
def test_volts_past_a_device_are_asked_of_its_own_run(run: str) -> None:
    """The far end of a run's device is at that device; without one in that run it is not asked."""
    both = {test.key: test for test in proving.tests_of(Context.of(design()))}
    assert both[f"{run}_far_v"].red_at == {"supply": "d1", "delivery": "d2"}[run]
    pieces = [cable()] if run == "supply" else [cable("16 mm²", 1.5)]
    without = {test.key for test in proving.tests_of(Context.of(design(**{run: {"pieces": pieces}})))}
    assert f"{run}_far_v" not in without
    assert {"supply": "delivery_far_v", "delivery": "supply_far_v"}[run] in without


@pytest.mark.parametrize(("held_s", "told"), [(10.0, True), (10.5, False)])
def test_a_second_start_that_comes_first_hides_the_first(held_s: float, told: bool) -> None:
    """Lower volts held as long as the first rule's, or shorter: the first never acts."""
    rules = {"start_rules": [{"at_least_v": 13.6, "held_s": 10.0}, {"at_least_v": 13.4, "held_s": held_s}]}
    made = design(activation={"ways": ["voltage"]} | rules | {"stop_rules": [{"below_v": 13.0}]})
    assert ("wake.start_hides.1" in findings(made)) is told


def test_equalising_at_the_usual_volts_is_usual_at_twice_the_volts() -> None:
    """24 V flooded lead equalised without volts of its own takes the usual ones, twice those of 12 V."""
    doubled: Plain = {
        "auxiliary": {"chemistry": "flooded", "nominal_v": 24, "capacity_ah": 110.0, "charge_limit_a": 30.0},
        "vehicle": vehicle(system_v=24, readings={}),
        "charger": charger(None, input_nominal_v=24, output_nominal_v=24, input_min_v=18.0, input_max_v=34.0)
        | {"output_min_v": 23.0, "output_max_v": 34.0, "output_a": 15.0},
        "charge": {"equalise": True},
    }
    single: Plain = {
        "auxiliary": {"chemistry": "flooded", "nominal_v": 12, "capacity_ah": 110.0},
        "charge": {"equalise": True},
    }
    told = [
        {name for name in findings(Design.model_validate(plain(**of))) if "equalise" in name}
        for of in (single, doubled)
    ]
    assert told[0] == told[1]
    assert not any("equalise_v" in name for name in told[0])


@pytest.mark.parametrize(("mains_h", "wanted"), [(0.0, False), (0.5, True)])
def test_mains_for_half_an_hour_a_day_are_mains(mains_h: float, wanted: bool) -> None:
    """Whoever plugs in at all has mains on board, and they are parted first."""
    steps = procedure_of(Context.of(design(use={"mains_h": mains_h}))).procedure.steps
    assert any("mains" in step.step.text.casefold() for step in steps) is wanted


def test_a_late_stop_says_when_the_surface_charge_has_gone() -> None:
    """An exponential of the surface charge's own time, 15 min to 1/e, from rest, after-stop and stop volts.

    Until then, and for the 5 s it is held, the unit's watts flow at the volts just after stopping.
    """
    readings = {"rest_v": 12.60, "after_stop_v": 13.05, "idle_v": 13.9, "cruise_v": 14.2}
    made = design(
        vehicle=vehicle(readings=readings),
        activation={
            "ways": ["voltage"],
            "start_rules": [{"at_least_v": 13.4}],
            "stop_rules": [{"below_v": 12.75, "held_s": 5.0}],
        },
    )
    text, minutes = findings(made)["wake.stops_late"], 15.0 * math.log(0.45 / 0.15)
    assert float(text.partition("after about ")[2].partition(" min")[0]) == pytest.approx(minutes, abs=0.6)
    taken_ah = Context.of(made).thresholds.input_w / 13.05 * (minutes / 60 + 5 / 3600)
    assert float(text.partition("at most ")[2].partition(" Ah")[0]) == pytest.approx(taken_ah, abs=0.06)
    rules = (StopRule(below_v=13.04),)
    near = made.model_copy(update={"activation": made.activation.model_copy(update={"stop_rules": rules})})
    assert "leaked away, within a minute;" in findings(near)["wake.stops_late"]


def test_a_switch_beside_another_way_may_be_left_off() -> None:
    """It is said against a switch with another way, and not of a way without one."""
    methods = advise(design(activation={"ways": ["switch", "d_plus"]})).methods
    told = {item.key: "left off, nothing charges" in " ".join(item.speaks_against) for item in methods}
    assert {key for key, said in told.items() if said} == {"entered"}


@pytest.mark.parametrize("fixed_v", [None, 12.0])
def test_a_guard_that_cannot_be_set_stands_at_its_own_volts(fixed_v: float | None) -> None:
    """Fixed where its record says so, else where the unit gives up by itself; another wish is a stop."""
    unit = charger(None, fixed_off_v=fixed_v)
    made = design(charger=unit, activation={"ways": ["ignition"], "guard_v": 12.4})
    text = " ".join(text for name, text in findings(made).items() if name.startswith("wake.") and "guard" in name)
    assert f"{fixed_v or 9.0:.2f}" in text


def test_what_is_left_of_an_alternator_is_told_by_its_amperes() -> None:
    """Six tenths of 40 A less the vehicle's 15 A are 9 A: less than the unit takes, by the post's own sum."""
    weak = plain()["vehicle"]["alternator"] | {"rated_a": 40.0}
    text = findings(design(vehicle=vehicle(alternator=weak)))["match.alternator_overrun"]
    assert "9.0 A are left after the vehicle's loads" in text


@pytest.mark.parametrize("place", ["cabin", "under_floor", "cupboard"])
def test_heat_sends_the_unit_to_another_place_only(place: str) -> None:
    """Never to the one it sits in, nor to one that is no cooler."""
    unit = charger(rated_ambient_c=35.0)
    hot = assess(design(mount={"place": place, "ambient_c": 50.0}, charger=unit))
    (found,) = [item for item in hot.findings if item.id == "match.heat"]
    places = {change.value for item in found.remedies for change in item.changes if change.path == "mount.place"}
    assert places == {"cabin"} - {place}
    assert found.tried == 0


STIFF = charger(settable=None, fixed_start_v=13.3, fixed_stop_v=13.1, fixed_off_v=12.1, fixed_back_v=12.9)


def test_a_return_fixed_in_the_unit_is_the_one_that_acts() -> None:
    """The record's, where nobody can set it; not what would be proposed."""
    made = design(charger=STIFF, activation={"ways": ["voltage"]})
    assert set_thresholds(made, solve(made)).back_v == 12.9


def test_a_fixed_stop_over_the_loaded_volts_hunts() -> None:
    """Nobody set it and no other can be: it hunts, there is more to say than that no stop would do."""
    low = vehicle(readings={"rest_v": 12.6, "idle_v": 13.6, "cruise_v": 13.7})
    made = design(
        charger=STIFF, activation={"ways": ["voltage"]}, vehicle=low, supply={"pieces": [fuse(), cable("16 mm²", 9.0)]}
    )
    assert {"wake.hunts", "wake.no_stop_window"} & findings(made).keys() == {"wake.hunts"}


@pytest.mark.parametrize(("cuts_off", "said"), [(True, False), (False, True)])
def test_a_cold_limit_left_low_matters_without_the_batterys_own(cuts_off: bool, said: bool) -> None:
    """-20 °C on lithium: ruin, unless its management refuses to be charged in the frost."""
    pack = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "low_temperature_cut_off": cuts_off}
    found = findings(design(auxiliary=pack, charge={"cold_c": -20.0}))
    assert ("settings.cold_low" in found) is said


@pytest.mark.parametrize(("float_v", "level"), [(14.2, "caution"), (14.21, "stop")])
def test_a_float_as_high_as_absorption_is_not_above_it(float_v: float, level: str) -> None:
    """Too high for days by its band; above what it is charged to, it is no float at all."""
    pack = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 100.0, "absorption_v": 14.2}
    found = assess(design(auxiliary=pack, charge={"float_v": float_v}), remedies=False).findings
    assert [item.level for item in found if item.id == "settings.float_high"] == [level]


def test_each_of_two_units_hangs_on_the_bar_before_it() -> None:
    """A bus bar is there, first of the run, too: the cable behind it is each unit's tail, and no other bar is bought."""
    bar = {"kind": "joint", "id": "j1", "form": "bus_bar", "name": "bus bar", "resistance_mohm": 0.1}
    run = {"pieces": [bar, cable("16 mm²", 0.5) | {"id": "cx"}]}
    tails = unit_tails(Context.of(design(units=2, supply=run)), "supply")
    assert tails is not None
    assert (tails.laid, tails.bus_bars) == (1, 0)
