"""The size ladder and the shelf: the same rules seen over many sizes and units."""

from __future__ import annotations

import random
from itertools import pairwise

import pytest

from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.size_ladder import LadderRow, NotACable, size_ladder
from olvask.core.assess import assess
from olvask.core.findings.remedy import with_cable
from olvask.core.model import RUNS, Charger, Design
from olvask.core.model.shelf import chargers
from olvask.store.demo import demo_designs
from tests.designs import cable, charger, design, fuse, vehicle
from tests.documents.test_sheet_alone import random_design

JOB = design(supply={"pieces": [fuse(60.0), cable("16 mm²", 5.0)]})


def rows(job: Design = JOB, place: str = "c1") -> dict[str, LadderRow]:
    """Ladder rows by size."""
    return {row.size: row for row in size_ladder(job, place).rows}


def test_both_systems_side_by_side_in_order_of_area() -> None:
    """AWG and mm² stand together, smallest first, none rounded onto the other."""
    ladder = size_ladder(JOB, "c1").rows
    assert {row.system for row in ladder} == {"metric", "awg"}
    assert all(before.area_mm2 < after.area_mm2 for before, after in pairwise(ladder))
    assert [row.size for row in ladder if row.chosen] == ["16 mm²"]


def test_a_row_is_the_design_in_that_size() -> None:
    """What a row says is what assessing the design in that size says."""
    for size in ("10 mm²", "2 AWG", "35 mm²"):
        row = rows()[size]
        found = assess(with_cable(JOB, "supply", 1, size))
        assert row.drop_percent == pytest.approx(found.figures["supply.drop_percent"].value)
        assert row.input_low_v == pytest.approx(
            min(item.input_v or 0 for item in found.conditions if item.key != "parked")
        )


def test_drop_falls_down_the_ladder_within_a_system() -> None:
    """Within a system each larger size drops less, runs cooler and costs more."""
    for system in ("metric", "awg"):
        steps = [row for row in rows().values() if row.system == system and row.drop_v is not None]
        for smaller, larger in pairwise(steps):
            assert larger.drop_v is not None
            assert smaller.drop_v is not None
            assert larger.drop_v < smaller.drop_v
            assert larger.cost > smaller.cost
            assert (larger.temperature_c or 0) < (smaller.temperature_c or 0)


def test_own_return_is_paid_twice() -> None:
    """5 m and 20 % are cut at 6.0 m: 16 mm² at 0.60 + 0.26 · 16 = 4.76 €/m is 28.56 €, two ends at 2 €: 32.56 € each way."""
    assert rows()["16 mm²"].cost == pytest.approx(65.12)
    chassis = design(
        supply={"pieces": [fuse(60.0), cable("16 mm²", 5.0)], "back": {"kind": "chassis", "resistance_mohm": 2.0}}
    )
    assert rows(chassis)["16 mm²"].cost == pytest.approx(32.56)


def test_verdicts_name_what_is_wrong() -> None:
    """Small sizes fail for a named reason, the large ones pass, sizes over the terminal say joint and tail."""
    by_size = rows()
    assert by_size["2.5 mm²"].verdict == "stop"
    assert by_size["25 mm²"].verdict_text == "passes"
    assert by_size["50 mm²"].verdict_text == "joint + tail"
    assert not by_size["50 mm²"].enters_terminal


def test_small_cables_in_parallel_do_not_pass() -> None:
    """Two of 35 mm² may not share a current, two of 50 mm² may, with a unit and before one is chosen."""
    pair = [fuse(60.0), cable("16 mm²", 5.0, parallel=2)]
    for job in (design(supply={"pieces": pair}), design(supply={"pieces": pair}, charger=None)):
        by_size = rows(job)
        assert by_size["35 mm²"].verdict_text == "too small in parallel"
        assert by_size["50 mm²"].verdict != "stop"


@pytest.mark.parametrize("seed", range(10))
def test_a_size_that_passes_brings_no_stop_but_of_a_device(seed: int) -> None:
    """In a size that passes a design has only those stops that it has in some other size too, devices apart: which of
    them to change then is said beside the size."""
    job = random_design(random.Random(f"ladder {seed}"))
    for run in RUNS:
        for index, piece in enumerate(job.run(run).pieces):
            if piece.kind != "cable":
                continue
            ladder = size_ladder(job, piece.id).rows
            stops = [
                {item.id for item in assess(with_cable(job, run, index, row.size), remedies=False, words=False).stops}
                for row in ladder
            ]
            for row, found in zip(ladder, stops, strict=True):
                own = {
                    item for item in found if not item.startswith("protect.") and any(item not in at for at in stops)
                }
                assert row.verdict != "good" or not own, (run, row.size, own)


def test_delivery_ladder_holds_the_delivery_drop() -> None:
    """On the delivery run the ladder shows that run's own drop, against the auxiliary side's nominal."""
    ladder = rows(place="c2")
    found = assess(JOB)
    assert ladder["16 mm²"].drop_percent == pytest.approx(found.figures["delivery.drop_percent"].value)


def test_makers_table_is_marked_and_answered() -> None:
    """Where the maker's one size is larger than needed the ladder says so and why."""
    job = design(
        charger=charger(maker_cable_mm2=35.0, terminal_max_mm2=35.0),
        supply={"pieces": [fuse(60.0), cable("16 mm²", 2.0)]},
    )
    ladder = size_ladder(job, "c1")
    assert [row.size for row in ladder.rows if row.makers] == ["35 mm²"]
    said = {item.key: item for item in ladder.suggestions}
    assert said["maker"].size == "35 mm²"
    assert "already passes" in said["maker"].text


@pytest.mark.parametrize("place", ["d1", "supply.9", "charger", "delivery", "supply.-1", "supply.x", ""])
def test_only_cables_have_a_ladder(place: str) -> None:
    """A device, a station or nonsense has no size ladder, and the error says what would."""
    with pytest.raises(NotACable, match="name one by its identity"):
        size_ladder(JOB, place)


def verdict(job: Design, unit: Charger) -> tuple[str, float | None, str]:
    """Fit, setting and reason of one unit."""
    judged = rank_units(job, [unit])[0]
    return judged.fit, judged.set_to_a, judged.reason


def unit(id: str) -> Charger:
    """A unit of the demo shelf."""
    return next(item for item in chargers() if item.id == id)


def test_every_unit_gets_a_verdict_and_what_does_not_fit_comes_last() -> None:
    """The whole shelf is judged; clean fits stand above doubtful ones, and those above what cannot be used."""
    judged = rank_units(JOB, chargers())
    assert {item.id for item in judged} == {item.id for item in chargers()}
    order = [(item.fit == "no", item.cautious) for item in judged]
    assert order == sorted(order)
    assert all(item.reason for item in judged)


def test_turned_down_to_what_the_battery_takes() -> None:
    """60 A into a battery that allows 30 A: turned down, to 30 A and no more."""
    assert verdict(JOB, unit("fieldfare"))[:2] == ("turned_down", 30.0)


def test_steps_round_to_the_safe_side() -> None:
    """A unit of 20, 30, 40, 50 A steps under a 28 A battery limit goes to 20, not 30."""
    job = design(auxiliary={"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 28.0})
    assert verdict(job, unit("turnstone"))[:2] == ("turned_down", 20.0)


def test_a_fixed_unit_too_large_does_not_fit() -> None:
    """Without a current limit a 25 A unit cannot go onto a 20 A battery."""
    job = design(auxiliary={"chemistry": "agm", "nominal_v": 12, "capacity_ah": 80.0, "charge_limit_a": 20.0})
    fit, _, reason = verdict(job, unit("phalarope"))
    assert fit == "no"
    assert "battery" in reason


def test_converter_and_wrong_voltage_are_turned_away() -> None:
    """A fixed converter and a 24 V unit are refused with the reason."""
    assert verdict(JOB, unit("ruff"))[0] == "no"
    assert "converter" in verdict(JOB, unit("ruff"))[2]
    assert "wrong voltage" in verdict(JOB, unit("knot"))[2]


def test_non_isolated_on_composite_is_cautioned() -> None:
    """On an unproven body a non-isolated unit that otherwise fits carries its caution."""
    job = design(vehicle=vehicle(chassis={"body": "mixed"}))
    judged = rank_units(job, [unit("wagtail")])[0]
    assert (judged.fit, judged.cautious) == ("fits", True)
    assert "isolated" in judged.reason


def test_ranking_hangs_on_no_unit_chosen_and_on_nothing_before() -> None:
    """The unit in the design, its setting and an earlier question change no verdict; other weights change scores alone."""
    for _, job in demo_designs():
        shelf = list(chargers())
        first = rank_units(job, shelf)
        fitting = [unit for unit in shelf if unit.id != (job.charger.id if job.charger else "")][:2]
        for other in fitting:
            fresh = [unit.model_copy() for unit in shelf]  # nothing remembered of these
            again = rank_units(job.model_copy(update={"charger": other, "current_limit_a": None}), fresh)
            assert [item.model_dump() for item in again] == [item.model_dump() for item in first]
        heavier = job.model_copy(update={"choices": job.choices.model_copy(update={"rank_margin": 2.0})})
        known = rank_units(heavier, shelf)
        anew = rank_units(heavier, [unit.model_copy() for unit in shelf])
        assert [item.model_dump() for item in known] == [item.model_dump() for item in anew]
        assert {item.id: item.price for item in known} == {item.id: item.price for item in first}


def test_what_no_unit_can_help_is_held_against_none() -> None:
    """A kettle on a converter empties the parked start battery whichever unit there is: the shelf is ranked as without it."""
    kettle = {"name": "kettle", "power_w": 700.0, "fed": "converter", "standing_h": 3.0}
    job = design(use={"loads": [kettle]})
    assert any(item.id.startswith("match.appliance_parked") for item in assess(job, remedies=False).findings)
    shelf = list(chargers())
    told = [[(item.id, item.fit, item.reason) for item in rank_units(some, shelf)] for some in (job, design())]
    assert told[0] == told[1]
    assert any(fit != "no" for _, fit, _ in told[0])
