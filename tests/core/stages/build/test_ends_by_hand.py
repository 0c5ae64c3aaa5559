"""Where each conductor ends, what is crimped on it, how tight: named one by one."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.catalogue import conductors
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.physics.heat import cable_diameters_m
from olvask.core.stages.build.conductors import SHRINK_MM, CutConductor, conductors_of, cut_length_m, unit_tails
from olvask.core.stages.build.labels import labels_of
from tests.designs import cable, charger, fuse, plain, vehicle


def cut(**changes: Any) -> dict[str, CutConductor]:
    """Every conductor of a job by its name."""
    return {item.id: item for item in conductors_of(Context.of(Design.model_validate(plain(**changes))))}


def ends(item: CutConductor) -> list[str]:
    return [end.at for end in item.ends]


def test_a_plain_job() -> None:
    """Post to fuse is bare on the piece list; the cable goes fuse to unit, unit to fuse, and its negatives post to unit."""
    found = cut()
    assert set(found) == {"S1+", "S1−", "D1+", "D1−"}
    assert ends(found["S1+"]) == ["UL Class T 60 A", "unit in +"]
    assert ends(found["S1−"]) == ["start battery −", "unit in −"]
    assert ends(found["D1+"]) == ["unit out +", "UL Class T 40 A"]
    assert ends(found["D1−"]) == ["unit out −", "auxiliary battery −"]


def test_a_unit_that_shares_its_negative_has_one() -> None:
    """Not isolated: both runs end at the same terminal."""
    found = cut(charger=charger(isolated=False))
    assert ends(found["S1−"])[1] == ends(found["D1−"])[0] == "unit −"


@pytest.mark.parametrize(
    ("kind", "post"), [("alternator_stud", "alternator stud, B+ (30)"), ("fused_stud", "fused stud in the vehicle")]
)
def test_where_the_supply_run_begins(kind: str, post: str) -> None:
    """With no device before it the cable lands on what the survey says."""
    found = cut(vehicle=vehicle(source_point={"kind": kind}), supply={"pieces": [cable()]})
    assert ends(found["S1+"])[0] == post


def test_past_a_battery_sensor_the_negative_lands_on_its_chassis_side() -> None:
    """Only that of the supply run; the auxiliary battery has none."""
    battery = {"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": True}
    found = cut(vehicle=vehicle(start_battery=battery))
    assert ends(found["S1−"])[0] == "start battery −, chassis side of its sensor"
    assert ends(found["D1−"])[1] == "auxiliary battery −"


@pytest.mark.parametrize(("stud", "torque"), [("M4", 1.5), ("M5", 3.0), ("M6", 5.0), ("M8", 12.0), ("M10", 22.0)])
def test_torque_by_stud(stud: str, torque: float) -> None:
    """Where the unit's sheet says nothing; its own figure goes before. In pounds by 8.851 lb·in to the N·m."""
    end = cut(charger=charger(terminal_stud=stud))["S1+"].ends[1]
    assert end.torque_nm == torque
    assert end.torque_lb_in == pytest.approx(torque * 8.8507, abs=0.6)
    assert end.kind == f"lug 25 mm² {stud}"
    assert cut(charger=charger(terminal_stud=stud, terminal_torque_nm=7.5))["S1+"].ends[1].torque_nm == 7.5


def test_a_clamp_takes_a_ferrule_on_fine_strands() -> None:
    """No stud: fine strands get a ferrule, coarse ones go in bare; no torque that nobody gave."""
    fine = cut(supply={"pieces": [fuse(), cable(strand="class_5")]})["S1+"].ends[1]
    coarse = cut(supply={"pieces": [fuse(), cable(strand="class_2")]})["S1+"].ends[1]
    assert fine.kind == "ferrule 25 mm²"
    assert coarse.kind == "bare, as the clamp takes it"
    assert fine.torque_nm is None


@pytest.mark.parametrize(("size", "sleeve"), [("2.5 mm²", 4.8), ("16 mm²", 9.5), ("70 mm²", 19.0)])
def test_heat_shrink_goes_over_the_end(size: str, sleeve: float) -> None:
    """The next of the common diameters that is a quarter larger than the cable: ISO 6722 thin
    walls have about 3.0 mm over 2.5 mm², 7.2 over 16, 15 over 70."""
    end = cut(supply={"pieces": [fuse(60.0), cable(size)]})["S1+"].ends[0]
    assert end.heat_shrink_mm == sleeve


def test_heat_shrink_is_of_the_common_sizes() -> None:
    """Over every metric cable: an eighth to two inches, as nominal sizes are, and the least of them a quarter wider."""
    common = [round(25.4 * inch, 1) for inch in (1 / 8, 3 / 16, 1 / 4, 3 / 8, 1 / 2, 3 / 4, 1, 1.5, 2)]
    for size in (item for item in conductors() if item.system == "metric"):
        wide_mm = 1.25 * 1000 * cable_diameters_m(size.area_mm2)[1]
        sleeve = cut(supply={"pieces": [fuse(60.0), cable(size.size)]})["S1+"].ends[0].heat_shrink_mm
        assert sleeve == pytest.approx(next(item for item in common if item > wide_mm), abs=0.2)


def test_two_cables_in_a_row_meet_at_a_splice() -> None:
    """Where nothing stands between them."""
    found = cut(supply={"pieces": [fuse(), cable("35 mm²", 2.0), cable("16 mm²", 1.0)]})
    assert ends(found["S1+"])[1] == ends(found["S2+"])[0] == "splice +"
    assert ends(found["S2−"])[0] == "splice −"


def test_a_joint_is_on_both_conductors_a_fuse_on_one() -> None:
    """The negative passes the fuse by, and meets the joint."""
    joint = {"kind": "joint", "name": "stud", "resistance_mohm": 0.2}
    found = cut(supply={"pieces": [cable("35 mm²", 1.0), fuse(), cable("35 mm²", 1.0), joint, cable("16 mm²", 0.5)]})
    assert ends(found["S2+"]) == ["UL Class T 60 A", "stud +"]
    assert ends(found["S1−"])[1] == "splice −"
    assert ends(found["S3−"])[0] == "stud −"


def test_parallel_cables_are_cut_one_by_one() -> None:
    """Two of them: a and b on each conductor."""
    found = cut(supply={"pieces": [fuse(), cable(parallel=2)]})
    assert {"S1+a", "S1+b", "S1−a", "S1−b"} <= set(found)


def test_units_in_parallel_hang_on_bus_bars() -> None:
    """Two units on a run without a joint: two bus bars, a tail each with its own device; on a chassis return one bus bar."""
    two = Design.model_validate(plain(units=2))
    tails = unit_tails(Context.of(two), "supply")
    assert tails is not None
    assert tails.bus_bars == 2
    found = cut(units=2)
    assert ends(found["S2.1+"])[1] == "unit 1 in +"
    assert ends(found["S2.2−"]) == ["supply bus bar −", "unit 2 in −"]
    assert "at the supply bus bar" in ends(found["S2.1+"])[0]
    assert ends(found["D2.1+"])[0] == "unit 1 out +"
    body = {"pieces": [fuse(), cable()], "back": {"kind": "chassis", "resistance_mohm": 4.0}}
    one = unit_tails(Context.of(Design.model_validate(plain(units=2, supply=body))), "supply")
    assert one is not None
    assert one.bus_bars == 1
    joined = {
        "pieces": [fuse(), cable(), {"kind": "joint", "name": "bar", "resistance_mohm": 0.1}, cable("10 mm²", 0.3)]
    }
    none = unit_tails(Context.of(Design.model_validate(plain(units=2, supply=joined))), "supply")
    assert none is not None
    assert none.bus_bars == 0


def test_straps_of_a_chassis_return() -> None:
    """An isolated unit has one for each run it leaves to the body, and the auxiliary battery its own; each unit of two has."""
    body = {"kind": "chassis", "resistance_mohm": 4.0}
    supply, delivery = (
        {"pieces": [fuse(), cable()], "back": body},
        {"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": body},
    )
    found = {name: ends(item)[0] for name, item in cut(supply=supply, delivery=delivery).items() if name[0] == "C"}
    assert found == {"C1−": "unit in −", "C2−": "unit out −", "C3−": "auxiliary battery −"}
    shared = cut(supply=supply, delivery=delivery, charger=charger(isolated=False))
    assert {name: ends(item)[0] for name, item in shared.items() if name[0] == "C"} == {
        "C1−": "unit −",
        "C2−": "auxiliary battery −",
    }
    pair = cut(supply=supply, units=2)
    assert [ends(pair[name])[0] for name in ("C1−", "C2−")] == ["unit 1 in −", "unit 2 in −"]


def test_tails_that_are_drawn_hang_on_the_joint_before_them() -> None:
    """A bar in either run: the run's own cable ends there, each unit's tail begins there, its plus behind its own device."""
    bar = {"kind": "joint", "form": "bus_bar", "name": "bar"}
    found = cut(
        units=2,
        supply={"pieces": [fuse(), cable(), bar, cable("10 mm²", 0.3)]},
        delivery={"pieces": [cable("10 mm²", 0.3), bar, cable("16 mm²", 1.5), fuse(40.0)]},
    )
    assert ends(found["S1+"]) == ["UL Class T 60 A", "bar +"]
    assert ends(found["S2.2−"]) == ["bar −", "unit 2 in −"]
    assert ends(found["S2.1+"])[0].endswith("at the supply bus bar")
    assert ends(found["D1.2−"]) == ["unit 2 out −", "bar −"]
    assert ends(found["D2+"]) == ["bar +", "UL Class T 40 A"]
    assert found["S2.1+"].size == found["D1.1+"].size == "10 mm²"


def test_a_shared_negative_on_the_delivery_s_body_alone_is_strapped() -> None:
    """The supply has its own return: the unit's one negative still needs the strap on the delivery side."""
    body = {"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis", "resistance_mohm": 4.0}}
    found = cut(delivery=body, charger=charger(isolated=False))
    assert [ends(found[name])[0] for name in ("C1−", "C2−")] == ["unit −", "auxiliary battery −"]
    assert (found["C1−"].size, found["C1−"].length_m) == ("16 mm²", 0.5)
    assert ends(found["C1−"])[1] == "body, cleaned to bright metal"


def test_labels_say_where_the_other_end_goes() -> None:
    """Two for each conductor; a job without a number leaves it out."""
    (first, second, *_) = labels_of([cut()["S1+"]], "KV-118")
    assert (first.end, first.lines) == ("A", ("KV-118 S1+", "to unit in +", "25 mm²"))
    assert (second.end, second.lines) == ("B", ("KV-118 S1+", "to UL Class T 60 A", "25 mm²"))
    assert labels_of([cut()["S1+"]], "")[0].lines[0] == "S1+"


def test_branch_tails_bring_their_negative_back() -> None:
    """A fan's goes to the run's negative, or to the body where the run returns by it."""
    branch = {"kind": "branch", "name": "fan", "current_a": 1.0, "size": "1.5 mm²", "length_m": 1.0}
    branch["device"] = {"kind": "device", "family": "blade", "rating_a": 5.0}
    found = cut(supply={"pieces": [fuse(), cable(), branch]})
    assert ends(found["BS1+"]) == ["fan, tapped supply", "fan"]
    assert ends(found["BS1−"]) == ["fan, supply negative", "fan"]
    body = {"kind": "chassis", "resistance_mohm": 4.0}
    earthed = cut(supply={"pieces": [fuse(), cable(), branch], "back": body})
    assert ends(earthed["BS1−"])[0] == "fan, body"
    sense = cut(supply={"pieces": [fuse(), cable(), branch | {"feeds": "sense"}]})
    assert "BS1+" in sense
    assert "BS1−" not in sense  # a sense wire carries nothing back


@pytest.mark.parametrize(
    ("length_m", "slack", "cut_m"), [(3.0, 0.2, 3.6), (3.01, 0.2, 3.7), (1.0, 0.0, 1.0), (0.5, 0.1, 0.6)]
)
def test_cut_lengths_round_up_to_a_tenth(length_m: float, slack: float, cut_m: float) -> None:
    """3.01 m and a fifth are 3.612 m: 3.7 m off the drum."""
    assert cut_length_m(length_m, slack) == pytest.approx(cut_m)


def test_heat_shrink_comes_in_inches() -> None:
    """An eighth to two inches, before it is shrunk, as it is sold."""
    inches = (1 / 8, 3 / 16, 1 / 4, 3 / 8, 1 / 2, 3 / 4, 1.0, 1.5, 2.0)
    assert [inch * 25.4 for inch in inches] == pytest.approx(SHRINK_MM, abs=0.21)
