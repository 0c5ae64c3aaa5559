"""The level line point by point, and what old gear draws from the start side: by Ohm's law and by hand."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest

from olvask.core.circuit.engine_side import engine_side, feed_is_cut
from olvask.core.circuit.facts import CRUISE_SHARE, gather
from olvask.core.circuit.level_line import ConditionLine, LinePiece, line_of
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.physics.battery import open_circuit_v
from tests.designs import cable, charger, design, fuse, vehicle


def drawn_by(**changes: Any) -> dict[str, float]:
    """Amperes from the start side by what draws them."""
    made = design(**changes)
    return {item.label: item.current_a for item in engine_side(made, gather(made))}


class TestEngineSide:
    def test_old_gear_with_and_without_a_plate(self) -> None:
        """A built-in charger of 10 A at 14.4 V and 85 % takes 12.2 A at 13.9 V; a fridge 8 A; each as its plate says."""
        plain = drawn_by(existing=[{"kind": "built_in_charger"}, {"kind": "fridge_feed"}])
        assert plain == pytest.approx({"built-in charger": 10 * 14.4 / 0.85 / 13.9, "fridge": 8.0})
        noted = [
            {"kind": "built_in_charger", "name": "old box", "charge_a": 5.0},
            {"kind": "fridge_feed", "name": "cold box", "charge_a": 4.0},
            {"kind": "mains_charger", "charge_a": 20.0},
        ]
        assert drawn_by(existing=noted) == pytest.approx({"old box": 5 * 14.4 / 0.85 / 13.9, "cold box": 4.0})

    def test_a_converters_load(self) -> None:
        """4 A at 12.5 V need 50 W, through 0.88 at 13.9 V for its share of time; standing loads and direct ones do not count."""
        loads = [
            {"name": "screen", "current_a": 4.0, "fed": "converter", "driving": True, "duty": 0.5},
            {"name": "parked", "current_a": 4.0, "fed": "converter", "driving": False},
            {"name": "lamp", "current_a": 4.0, "driving": True},
        ]
        found = drawn_by(use={"loads": loads})
        needs_w = design(use={"loads": loads}).use.loads[0].needs_w(12)
        assert found == pytest.approx({"screen": needs_w / 0.88 / 13.9 * 0.5})

    @pytest.mark.parametrize(
        ("existing", "decision", "cut"),
        [
            ([{"kind": "link"}], "disconnect", True),
            ([{"kind": "panel"}], "changeover", True),
            ([{"kind": "link"}], "keep", False),
            ([{"kind": "link"}], "", False),
            ([{"kind": "link", "cut": True}], "disconnect", False),
            ([{"kind": "fridge_feed"}], "disconnect", False),
            ([], "disconnect", False),
        ],
    )
    def test_whose_feed_is_cut(self, existing: list[dict[str, Any]], decision: str, cut: bool) -> None:
        """A link or panel that is taken out or opened while driving takes what hangs behind it along."""
        job = {"existing": [*existing, {"kind": "built_in_charger"}], "old_link": {"decision": decision}}
        assert feed_is_cut(design(**job)) is cut
        assert ("built-in charger" in drawn_by(**job)) is not cut

    def test_what_is_cut_itself_draws_nothing(self) -> None:
        """Each alone."""
        assert (
            drawn_by(existing=[{"kind": "built_in_charger", "cut": True}, {"kind": "fridge_feed", "cut": True}]) == {}
        )


BODY = {"kind": "chassis", "resistance_mohm": 3.0}


def lines(job: Design) -> dict[str, ConditionLine]:
    """The level line of each condition."""
    solved = solve(job)
    return {state.key: line_of(job, solved, state) for state in (solved.parked, *solved.running)}


def falls(pieces: tuple[LinePiece, ...]) -> None:
    """Each piece begins where the one before it ended, on both lines."""
    for before, after in pairwise(pieces):
        assert after.enter_v == pytest.approx(before.exit_v)
        assert after.return_enter_mv == pytest.approx(before.return_exit_mv)


class TestLine:
    def test_charging(self) -> None:
        """From the posts down to the unit and from its output down to the battery, 14.4 V; the difference is the return's."""
        job = design()
        line, solved = lines(job)["idle"], solve(job)
        output, idle = solved.output, solved.running[0]
        assert output is not None
        assert idle.drawn is not None
        assert (line.charging, line.collapsed, line.below_minimum, line.alternator_limited) == (
            True,
            False,
            False,
            False,
        )
        assert (line.source_v, line.input_v, line.input_a) == (13.9, idle.drawn.terminal_v, idle.drawn.current_a)
        assert (line.output_v, line.output_a, line.auxiliary_v) == (
            output.terminal_v,
            output.current_a,
            output.battery_v,
        )
        alternator, start, *pieces = line.supply
        assert (alternator.enter_v, start.enter_v) == (13.9, idle.drawn.post_v)
        falls(tuple(pieces))
        assert pieces[0].enter_v == pytest.approx(idle.drawn.post_v)
        far = pieces[-1]
        assert far.exit_v - far.return_exit_mv / 1000 == pytest.approx(idle.drawn.terminal_v)
        assert far.return_exit_mv > 0
        falls(line.delivery)
        assert line.delivery[-1].exit_v == pytest.approx(14.4)
        assert line.delivery[-1].return_exit_mv == pytest.approx(0.0, abs=1e-9)
        first = line.delivery[0]
        assert first.enter_v + first.return_enter_mv / 1000 == pytest.approx(output.terminal_v)
        assert first.return_enter_mv > 0

    def test_parked(self) -> None:
        """Nothing flows: the posts' volts up to the unit, the auxiliary battery at rest, 60 % charged, up to its output."""
        line = lines(design())["parked"]
        assert (line.charging, line.input_a, line.output_v, line.output_a) == (False, None, None, None)
        assert line.input_v == line.source_v
        assert {piece.exit_v for piece in line.supply} == {line.source_v}
        rest_v = open_circuit_v("agm", 0.6, 12)
        assert line.auxiliary_v == pytest.approx(rest_v)
        assert all(piece.exit_v == pytest.approx(rest_v) for piece in line.delivery)
        assert all(piece.return_exit_mv == 0 for piece in (*line.supply, *line.delivery))

    def test_without_a_unit(self) -> None:
        """The supply at rest volts in every condition, no delivery to draw."""
        for line in lines(design(charger=None)).values():
            assert (line.charging, line.input_a, line.output_v) == (False, None, None)
            assert line.delivery == ()
            assert not line.below_minimum

    def test_what_is_wrong_stands_on_it(self) -> None:
        """Below the unit's lowest input, collapsed, or over what the alternator has."""
        low = lines(design(charger=charger(input_min_v=13.65), supply={"pieces": [fuse(), cable("16 mm²", 3.0)]}))[
            "idle"
        ]
        assert (low.below_minimum, low.collapsed, low.charging) == (True, False, True)
        thin = lines(design(supply={"pieces": [fuse(), cable("4 mm²", 20.0)]}))["idle"]
        assert (thin.collapsed, thin.charging, thin.input_v, thin.input_a) == (True, False, None, None)
        weak = {"rated_a": 60.0, "regulation": "fixed", "loads_idle_a": 20.0, "hot_idle_share": 0.5}
        limited = lines(design(vehicle=vehicle(alternator=weak)))["idle"]
        assert limited.alternator_limited

    def test_a_branch_takes_its_own_on_the_way(self) -> None:
        """Before the branch unit and fan flow, after it the unit alone: the first cable loses more than the same cable after."""
        fan = {
            "kind": "branch",
            "feeds": "fan",
            "name": "fan",
            "current_a": 20.0,
            "size": "6 mm²",
            "device": fuse(30.0, "blade"),
        }
        line = lines(design(supply={"pieces": [fuse(), cable(), fan, cable()]}))["idle"]
        pieces = {piece.place: piece for piece in line.supply}
        first, second = pieces["c1"], pieces["c2"]
        lost = [piece.enter_v - piece.exit_v for piece in (first, second)]
        amps = line.input_a
        assert amps is not None
        assert lost[0] / lost[1] == pytest.approx((amps + 20.0) / amps, rel=0.05)
        back = [piece.return_exit_mv - piece.return_enter_mv for piece in (first, second)]
        assert back[0] > back[1] > 0

    @pytest.mark.parametrize("back", [{"kind": "cable"}, {"kind": "chassis", "resistance_mohm": 3.0}])
    def test_the_return_ends_at_the_batterys_post(self, back: dict[str, Any]) -> None:
        """A lamp on the way takes its amperes off: the unit's own negative lies above the post by what is left of them."""
        lamp = {"kind": "branch", "name": "lamp", "current_a": 12.0, "size": "6 mm²", "device": fuse(20.0, "blade")}
        pieces = [cable("16 mm²", 1.5, id="c8"), lamp, cable("16 mm²", 1.5, id="c9"), fuse()]
        line = lines(design(delivery={"pieces": pieces, "back": back}))["idle"]
        assert line.delivery[-1].return_exit_mv == pytest.approx(0.0, abs=1e-6)
        assert line.delivery[-1].exit_v == pytest.approx(line.auxiliary_v)
        lost = [piece.return_enter_mv - piece.return_exit_mv for piece in line.delivery if piece.place in ("c8", "c9")]
        assert line.output_a is not None
        assert lost[1] / lost[0] == pytest.approx((line.output_a - 12.0) / line.output_a, rel=0.05)

    def test_a_run_without_cable_has_its_body_at_the_end(self) -> None:
        """Device alone: three milliohms of body stand behind it, none before."""
        line = lines(
            design(supply={"pieces": [fuse(), fuse(80.0)], "back": {"kind": "chassis", "resistance_mohm": 3.0}})
        )
        first, last = line["idle"].supply[-2:]
        amps = line["idle"].input_a
        assert amps is not None
        assert first.return_exit_mv == first.return_enter_mv
        assert last.return_exit_mv - last.return_enter_mv == pytest.approx(3.0 * amps)


def test_what_is_left_for_the_unit() -> None:
    """At idle 120 A · 0.6 less 15 A of loads and 8 A of an old fridge; cruising 120 A · its share less 20 A and the same 8 A."""
    plant = {
        "rated_a": 120.0,
        "regulation": "fixed",
        "hot_idle_share": 0.6,
        "loads_idle_a": 15.0,
        "loads_cruise_a": 20.0,
    }
    solved = solve(design(vehicle=vehicle(alternator=plant), existing=[{"kind": "fridge_feed"}]))
    left = {state.key: state.source.available_a for state in solved.running}
    assert left == pytest.approx({"idle": 49.0, "cruise": 120 * CRUISE_SHARE - 28.0})


def test_the_worst_condition() -> None:
    """The lowest volts at the unit; without one those of the source; a run that cannot carry it is worse than any volts."""
    cruising_low = vehicle(readings={"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 14.2, "cruise_v": 13.9})
    assert solve(design(vehicle=cruising_low)).worst.key == "cruise"
    assert solve(design(vehicle=cruising_low, charger=None)).worst.key == "cruise"
    thin = {"pieces": [fuse(60.0), cable("4 mm²", 9.0)]}
    readings = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 15.0, "cruise_v": 12.9}
    solved = solve(design(vehicle=vehicle(readings=readings), supply=thin))
    assert [state.collapsed for state in solved.running] == [False, True]
    assert solved.worst.key == solved.worst_healthy.key == "cruise"
