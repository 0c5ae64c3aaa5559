"""Run and Protect: the circuit against a solver, copper against tables, edges of every selection, ends and cuts."""

from __future__ import annotations

import json
import math
from typing import Any

import pytest
from tools.compare_circuits import FEATURES, SAMPLE, TOLERANCE, Answer, by_core, difference, network

from olvask.core.analyses.size_ladder import size_ladder
from olvask.core.assess import Assessment, assess
from olvask.core.catalogue import NoStandardSize, ampacity_table, conductors, devices
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Cable, Design
from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.heat import conductor_c
from olvask.core.stages.build.conductors import conductors_of, cut_length_m
from olvask.core.stages.build.cuts import Drum, buying, cut_list
from olvask.core.stages.run.devices import least_rating_a, suitable_device
from olvask.store.demo import demo_designs
from tests.designs import cable, charger, design, fuse, vehicle

CIRCUITS: list[dict[str, Any]] = json.loads(SAMPLE.read_text(encoding="utf-8"))


def found_by(job: Design) -> dict[str, Finding]:
    """Findings by id."""
    return {item.id: item for item in assess(job).findings}


class TestCircuitSolver:
    @pytest.mark.parametrize("feature", FEATURES)
    def test_steady_state_agrees_with_the_solver(self, feature: str) -> None:
        """Input volts, amps and output volts lie within 0.5 % of ngspice's stored answers, collapses included."""
        held = [row for row in CIRCUITS if row["feature"] == feature]
        assert len(held) >= 7
        for row in held:
            ours, _ = by_core(Design.model_validate(network(row["network"])))
            assert difference(ours, Answer(**row["solver"])) <= TOLERANCE, row["network"]

    def test_the_sample_holds_what_it_is_meant_to(self) -> None:
        """At least forty networks, with collapses, chassis returns, mixed metals and branches among them."""
        assert len(CIRCUITS) >= 40
        assert sum(row["solver"]["input_v"] is None for row in CIRCUITS) >= 5
        kinds = {
            feature: [network(row["network"]) for row in CIRCUITS if row["feature"] == feature] for feature in FEATURES
        }
        assert any(job["supply"]["back"]["kind"] == "chassis" for job in kinds["chassis"])
        assert any(piece.get("metal") == "cca" for job in kinds["metals"] for piece in job["supply"]["pieces"])
        assert any(piece["kind"] == "branch" for job in kinds["branches"] for piece in job["supply"]["pieces"])

    def test_a_branch_by_hand(self) -> None:
        """12 V behind 10 mΩ, 20 A taken off half way, 100 W at the end: V = 11.9 V source side less sag, by the quadratic."""
        source = Source(12.0, 0.0, None, 12.0, 0.01)
        drawn = draw(source, 0.010, 100.0, extra_a=20.0, extra_v=20.0 * 0.005)
        by_hand = (11.9 + math.sqrt(11.9**2 - 4 * 0.010 * 100.0)) / 2
        assert drawn.terminal_v == pytest.approx(by_hand)
        assert drawn.current_a == pytest.approx(100.0 / by_hand)


FREE_AIR = [
    (size, limit, amps)
    for size in conductors()
    if 1.4 < size.area_mm2 < 96 and size.size not in ("3/0 AWG", "16 AWG")
    for limit, (amps, _) in ampacity_table()[size.size, "free_air"].items()
]
# Method E is for cables of two or three loaded cores in one sheath; a core alone in air carries more than its share.
SHEATHED = {("50 mm²", 70): 0.17}


@pytest.mark.parametrize(
    ("size", "limit", "amps"), FREE_AIR, ids=[f"{size.size} {limit}" for size, limit, _ in FREE_AIR]
)
def test_the_heat_balance_lands_on_the_free_air_table(size: Any, limit: int, amps: float) -> None:
    """The current that heats a cable to its rating at 30 °C is within 15 % of the published one."""
    low, high = 1.0, 2000.0
    for _ in range(50):
        middle = (low + high) / 2
        hot = conductor_c(middle, size.resistance_20c_ohm_per_km / 1000, size.area_mm2, 30.0) > limit
        low, high = (low, middle) if hot else (middle, high)
    assert low == pytest.approx(amps, rel=SHEATHED.get((size.size, limit), 0.15))


class TestSelectionEdges:
    def test_exactly_at_a_rating_is_enough(self) -> None:
        """48 A continuous wants 60 A: the 60 A device itself, not the next."""
        assert suitable_device(least_rating_a(48.0), 100.0, 12, 500.0).rating_a == 60.0

    def test_a_hair_above_takes_the_next(self) -> None:
        """48.01 A continuous wants 60.0125 A: 60 no longer does."""
        assert suitable_device(least_rating_a(48.01), 100.0, 12, 500.0).rating_a > 60.0

    def test_a_ceiling_a_hair_below_refuses(self) -> None:
        """Where the cable carries 59.9 A no 60 A device may stand over it."""
        with pytest.raises(NoStandardSize, match=r"between 60\.0 A and 59\.9 A"):
            suitable_device(least_rating_a(48.0), 59.9, 12, 500.0)

    def test_off_the_table_is_an_error_not_the_largest(self) -> None:
        """More than the largest device there is raises; it does not settle for the largest."""
        most = max(item.rating_a for item in devices())
        with pytest.raises(NoStandardSize):
            suitable_device(least_rating_a(most / 1.25 + 1), 1e6, 12, 500.0)

    def test_a_short_circuit_a_hair_above_needs_another_family(self) -> None:
        """A strip fuse that breaks 2000 A is not taken at 2001 A."""
        at = suitable_device(30.0, 60.0, 12, 2000.0)
        above = suitable_device(30.0, 60.0, 12, 2001.0)
        assert at.interrupt_a(12) >= 2000.0
        assert above.interrupt_a(12) >= 2001.0

    def test_gauge_and_metric_are_never_taken_for_each_other(self) -> None:
        """8 AWG is 8.37 mm² and goes in a 10 mm² terminal, 7 AWG does not exist, 6 AWG at 13.3 mm² does not go in."""
        job = design(charger=charger(terminal_max_mm2=10.0), supply={"pieces": [fuse(40.0), cable("8 AWG", 0.5)]})
        ladder = {row.size: row for row in size_ladder(job, "c1").rows}
        assert ladder["8 AWG"].area_mm2 == pytest.approx(8.37, abs=0.01)
        assert ladder["8 AWG"].enters_terminal
        assert ladder["10 mm²"].enters_terminal
        assert not ladder["6 AWG"].enters_terminal
        assert "7 AWG" not in ladder

    def test_a_breaker_where_breakers_are_the_school_and_break_it(self) -> None:
        """A breaker is taken at 500 A prospective, but a lithium post beyond its interrupt rating gets a fuse."""
        assert suitable_device(30.0, 60.0, 12, 500.0, "breaker").resettable
        assert not suitable_device(30.0, 60.0, 12, 9000.0, "breaker").resettable
        assert not suitable_device(30.0, 60.0, 12, 500.0, "fuse").resettable


def with_branch(**changes: Any) -> Design:
    """The sound job with a fan taken off its supply run."""
    branch = {
        "kind": "branch",
        "feeds": "fan",
        "name": "fan",
        "current_a": 4.0,
        "size": "1.5 mm²",
        "length_m": 1.0,
        "device": fuse(5.0, "blade"),
    }
    return design(supply={"pieces": [fuse(70.0), cable("25 mm²", 2.0), branch | changes, cable("25 mm²", 1.0)]})


class TestBranches:
    def test_the_way_to_the_branch_carries_both(self) -> None:
        """Before the branch flow the unit's amps and the fan's, after it the unit's alone."""
        solved = solve(with_branch())
        extras = [piece.extra_a for piece in solved.running[0].run.pieces]
        assert extras == [4.0, 4.0, 4.0, 0.0]
        without = solve(design(supply={"pieces": [fuse(70.0), cable("25 mm²", 2.0), cable("25 mm²", 1.0)]}))
        lower = solved.running[0].drawn
        higher = without.running[0].drawn
        assert lower is not None
        assert higher is not None
        assert lower.terminal_v < higher.terminal_v

    def test_an_unprotected_tail_is_a_stop_with_a_device_as_remedy(self) -> None:
        """A 1.5 mm² tail under a 70 A device burns before it opens; the first remedy protects it."""
        job = with_branch(device=None)
        finding = found_by(job)["protect.branch.b1"]
        assert finding.level == "stop"
        assert "protect.branch.b1" not in found_by(apply(job, finding.remedies[0]))

    def test_the_device_above_may_protect_a_thick_tail(self) -> None:
        """A 25 mm² tail needs no device of its own under 70 A."""
        assert "protect.branch.b1" not in found_by(with_branch(device=None, size="25 mm²"))

    def test_a_tail_device_too_small_or_too_large(self) -> None:
        """5 A on 5.5 A opens in service, on 4.5 A it runs close to its rating; 30 A over 1.5 mm² protects nothing."""
        assert "opens in service" in found_by(with_branch(current_a=5.5))["protect.branch_device.b1"].text
        assert found_by(with_branch(current_a=4.5))["protect.branch_tight.b1"].level == "caution"
        assert "more than" in found_by(with_branch(device=fuse(30.0, "blade")))["protect.branch_device.b1"].text

    def test_the_main_device_carries_the_branch_too(self) -> None:
        """40 A more than the unit's 29 A make a 60 A device too small that was large enough."""
        small = with_branch(current_a=40.0, size="16 mm²", device=fuse(50.0))
        assert "protect.small.d1" in {item.id for item in assess(small).stops}

    def test_between_the_current_and_its_quarter_more_is_a_caution(self) -> None:
        """Set to 22 A it draws 25.5: a 40 A device is right, a 30 A one runs close to its rating, a 25 A one opens."""
        levels = []
        for rating, family in ((40.0, "class_t"), (30.0, "class_t"), (25.0, "blade")):
            job = design(supply={"pieces": [fuse(rating, family), cable()]}, current_limit_a=22.0)
            found = {item.id: item.level for item in assess(job).findings if item.place == "d1"}
            levels.append((found.get("protect.tight.d1"), found.get("protect.small.d1")))
        assert levels == [(None, None), ("caution", None), (None, "stop")]

    def test_devices_close_together_are_noted(self) -> None:
        """70 A above 50 A may open first: noted as not selective; 5 A below it is."""
        assert "protect.selectivity.b1" in found_by(with_branch(current_a=30.0, size="16 mm²", device=fuse(50.0)))
        assert "protect.selectivity.b1" not in found_by(with_branch())


class TestJoinsAndParallel:
    def plugged(self, **changes: Any) -> Design:
        """The sound job through a plug."""
        plug = {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 1.0, "rating_a": 50.0}
        return design(supply={"pieces": [fuse(60.0), cable("25 mm²", 1.5), plug | changes, cable("25 mm²", 1.5)]})

    def test_a_plug_is_held_to_its_rating(self) -> None:
        """32 A continuous: 50 A contacts do, 25 A contacts stop, no rating is asked for."""
        assert "run.plug.j1" not in found_by(self.plugged())
        assert found_by(self.plugged(rating_a=25.0))["run.plug.j1"].level == "stop"
        assert found_by(self.plugged(rating_a=None))["run.plug_rating.j1"].level == "caution"

    def test_polarity_and_stowage_are_said(self) -> None:
        """A plug that mates both ways round is cautioned; any plug is to be parted unloaded."""
        assert "run.plug_polarity.j1" in found_by(self.plugged(keyed=False))
        assert "unloaded" in found_by(self.plugged())["run.plug_handling.j1"].title

    def test_two_in_parallel_halve_the_resistance_and_double_the_ampacity(self) -> None:
        """Ohm's law and the table, times two."""
        one, two = Cable(size="50 mm²", length_m=4.0), Cable(size="50 mm²", length_m=4.0, parallel=2)
        assert ampacity(two, "enclosed")[0] == pytest.approx(2 * ampacity(one, "enclosed")[0])
        single = solve(design(supply={"pieces": [fuse(60.0), cable("50 mm²")]})).running[0].run.pieces[1].out_ohm
        double = (
            solve(design(supply={"pieces": [fuse(60.0), cable("50 mm²", parallel=2)]})).running[0].run.pieces[1].out_ohm
        )
        assert double == pytest.approx(single / 2, rel=0.01)

    def test_small_cables_do_not_share(self) -> None:
        """Two 16 mm² in parallel are refused and one 35 mm² offered; two 50 mm² may, with a word on their device."""
        pieces = [fuse(60.0), cable("16 mm²", parallel=2)]
        (only,) = found_by(design(supply={"pieces": pieces}))["run.parallel.c1"].remedies
        assert only.label == "One 35 mm² instead, and add a joint and a 25 mm² tail of 0.3 m"  # 35 mm² does not go in
        job = design(supply={"pieces": pieces}, charger=charger(terminal_max_mm2=50.0))
        finding = found_by(job)["run.parallel.c1"]
        assert finding.level == "stop"
        assert finding.remedies[0].label == "One 35 mm² instead"
        large = design(supply={"pieces": [fuse(200.0), cable("50 mm²", parallel=2)]})
        assert "run.parallel_device.c1" in found_by(large)

    def test_what_a_socket_wire_would_deliver(self) -> None:
        """2.5 mm² over 7 m and four contacts is about 139 mΩ: held at 12.25 V from 13.9 V that is some 141 W, 10 A out."""
        job = design(
            vehicle=vehicle(chassis={"body": "metal_bonded", "trailer": True}),
            existing=[{"kind": "socket_wire", "wire_mm2": 2.5, "wire_m": 7.0}],
            supply={"pieces": []},
        )
        finding = found_by(job)["run.socket_wire"]
        assert finding.level == "caution"
        loop = 2 * 7.98e-3 * 7.0 * (1 + 0.00393 * 40) + 0.008 + 0.002
        hold_v = 12.25
        watts = assess(job).figures["run.socket_wire_w"].value
        assert watts == pytest.approx(hold_v * (13.9 - hold_v) / loop, rel=0.02)


class TestLadder:
    def test_rows_say_what_is_lost_and_whether_the_window_survives(self) -> None:
        """Thicker copper loses less; a thin one shuts the stop window."""
        rows = {row.size: row for row in size_ladder(demo_designs()[0][1], "c1").rows}
        assert (rows["16 mm²"].loss_w or 0) > (rows["50 mm²"].loss_w or 99)
        assert rows["10 mm²"].window_open is False
        assert rows["50 mm²"].window_open is True

    def test_suggestions_are_rows_that_pass(self) -> None:
        """Smallest, best value and what is in stock all pass; the value one costs no more over ten years than any other."""
        ladder = size_ladder(demo_designs()[0][1], "c1", stock={"70 mm²"})
        rows = {row.size: row for row in ladder.rows}
        said = {item.key: item.size for item in ladder.suggestions}
        assert said["stock"] == "70 mm²"
        passing = [row for row in ladder.rows if row.verdict in ("good", "note") and row.system == "metric"]
        assert said["smallest"] == passing[0].size
        assert rows[said["value"]].years_cost == min(row.years_cost for row in passing if row.years_cost is not None)
        # What is smallest or best is so of all that passes in the table, or says of which.
        told = {item.key: item.text for item in ladder.suggestions}
        every = [row for row in ladder.rows if row.verdict in ("good", "note")]
        least, best = every[0].size, min(every, key=lambda row: row.years_cost or 1e9).size
        assert (" in mm² that passes" in told["smallest"]) is (said["smallest"] != least)
        assert ("Best in mm²" in told["value"]) is (said["value"] != best)
        assert said["smallest"] != least


class TestBuying:
    def test_lengths_round_up_with_slack(self) -> None:
        """3.0 m and 20 % is 3.6 m exactly; 3.01 m is 3.7 m, never 3.6."""
        assert cut_length_m(3.0, 0.2) == 3.6
        assert cut_length_m(3.01, 0.2) == 3.7

    def test_every_conductor_has_two_ends_that_say_what_goes_on(self) -> None:
        """Own returns double the cables; the end at the unit's clamp takes a ferrule, the one at the post a lug."""
        cuts = {cut.id: cut for cut in conductors_of(Context.of(design()))}
        assert set(cuts) == {"S1+", "S1−", "D1+", "D1−"}
        assert cuts["S1+"].ends[1].at == "unit in +"
        assert cuts["S1+"].ends[1].kind == "ferrule 25 mm²"
        assert cuts["S1−"].ends[0].kind == "lug 25 mm² M8"
        assert cuts["S1−"].ends[0].torque_lb_in == pytest.approx(12.0 * 8.8507)

    def test_a_chassis_return_needs_no_negative_cable(self) -> None:
        """Where the body carries it back only the positive is cut, and the unit's negative has a strap of half a metre."""
        job = design(supply={"pieces": [fuse(), cable()], "back": {"kind": "chassis", "resistance_mohm": 3.0}})
        cuts = conductors_of(Context.of(job))
        assert [cut.id for cut in cuts if not cut.id.startswith("D")] == ["S1+", "C1−"]
        assert (cuts[-1].ends[0].at, cuts[-1].ends[1].kind, cuts[-1].cut_m) == ("unit in −", "lug 25 mm² M8", 0.6)

    def test_cuts_go_on_the_shortest_rest_that_takes_them(self) -> None:
        """Cuts of 3.6, 3.6 m off drums of 4 and 10 m: one each way would waste; the 4 m rest is used up first."""
        cuts = [cut for cut in conductors_of(Context.of(design())) if cut.size == "25 mm²"]
        uses = {use.drum: use for use in cut_list(cuts, [Drum("long", "25 mm²", 10.0), Drum("rest", "25 mm²", 4.0)])}
        assert uses["rest"].cuts == ("S1+",)
        assert uses["rest"].left_m == pytest.approx(0.4)
        assert uses["long"].cuts == ("S1−",)
        assert uses["long"].left_m == pytest.approx(6.4)

    def test_what_is_not_in_stock_is_bought_whole_metres(self) -> None:
        """No drum of 16 mm²: 2 × 1.8 m is 3.6 m, bought as 4."""
        uses = [use for use in buying(design()).drums if use.size == "16 mm²"]
        assert [(use.in_stock, use.length_m, use.used_m) for use in uses] == [(False, 4.0, 3.6)]

    def test_parts_add_up_and_labels_name_both_ends(self) -> None:
        """The total is the sum of its lines; each conductor has a label for either end that names the other."""
        found = buying(design(), "MF-001")
        assert found.total == pytest.approx(sum(part.count * part.price for part in found.parts), abs=0.006)
        assert len(found.labels) == 2 * len(found.conductors)
        first = next(label for label in found.labels if label.conductor == "S1+" and label.end == "A")
        assert first.lines == ("MF-001 S1+", "to unit in +", "25 mm²")

    def test_isolators_are_bought_where_they_are_the_school(self) -> None:
        """Fuse and isolator means an isolator at each battery on the list."""
        job = design(choices={"protection_school": "fuse_isolator"})
        assert [part.count for part in buying(job).parts if part.what == "Isolator"] == [2.0]


def test_every_device_is_listed_with_what_it_is_held_to() -> None:
    """The protection table holds each device, tails too, with the verdict of its findings."""
    found: Assessment = assess(with_branch())
    assert {item.place for item in found.devices} == {"d1", "b1", "d2"}
    wrong = assess(design(supply={"pieces": [fuse(30.0), cable()]}))
    assert next(item for item in wrong.devices if item.place == "d1").verdict == "stop"
