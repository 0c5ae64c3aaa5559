"""What is filled in and worked out before anybody judges, against numbers worked by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest

from olvask.core.circuit.ampacity import ampacity, cable_ambient_c, surface_resistance
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts, gather
from olvask.core.circuit.level_line import line_of
from olvask.core.circuit.runs import PieceState, RunState, run_state
from olvask.core.circuit.solve import solve
from olvask.core.model import Cable, Design, Run
from tests.designs import cable, charger, design, fuse, plain, vehicle

AT_24 = {
    "auxiliary": {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 100.0},
    "charger": charger(
        settable=None,
        input_nominal_v=24,
        output_nominal_v=24,
        input_min_v=18.0,
        input_max_v=34.0,
        output_min_v=23.0,
        output_max_v=31.0,
    ),
}


def facts(**changes: Any) -> Facts:
    """Facts of the plain job with parts replaced."""
    return gather(design(**changes))


def known(**changes: Any) -> dict[str, Any]:
    """A 24 V vehicle nobody has measured."""
    return {"system_v": 24, "alternator": {"rated_a": 100.0}, "start_battery": {"chemistry": "flooded"}} | changes


class TestDefaults:
    """Per 12 V where they are volts or milliohms, as docs and constants say; entered values stand as they are."""

    def test_of_a_24_v_vehicle(self) -> None:
        """Twice those of 12 V: surface charge 0.1 V, source 3 mΩ, margin 0.15 V, the fixed regulator's volts."""
        at_12 = gather(Design.model_validate(plain(vehicle=known(system_v=12))))
        at_24 = gather(Design.model_validate(plain(**AT_24, vehicle=known())))
        assert float(at_12.after_stop.value) - float(at_12.rest.value) == pytest.approx(0.1)
        assert float(at_24.after_stop.value) - float(at_24.rest.value) == pytest.approx(0.2)
        assert (at_12.sag.value, at_24.sag.value) == (3.0, 6.0)
        assert (at_12.margin.value, at_24.margin.value) == (0.15, 0.3)
        for name in ("rest", "idle", "cruise"):
            assert float(getattr(at_24, name).value) == pytest.approx(2 * float(getattr(at_12, name).value))
        assert (at_12.share.value, at_12.standing_drain.value) == (0.5, 30.0)

    def test_the_low_phase_is_a_managed_alternators(self) -> None:
        """Fixed: none; managed, or measured: there is one; a converter's only where it is measured."""
        assert facts(vehicle=vehicle(alternator={"rated_a": 100.0, "regulation": "fixed"})).low is None
        managed = {"rated_a": 100.0, "regulation": "managed"}
        assert facts(vehicle=vehicle(alternator=managed)).low is not None
        assert facts(vehicle=vehicle(alternator=managed, drive="converter")).low is None
        measured = vehicle()["readings"] | {"low_phase_v": 12.4}
        found = facts(vehicle=vehicle(alternator=managed, drive="converter", readings=measured)).low
        assert found is not None
        assert (found.value, found.provenance) == (12.4, "entered")

    def test_of_batteries(self) -> None:
        """AGM of 80 Ah: a fifth to a third of its hours in amperes; 14.7 V at most; twice the volts at 24 V."""
        small = facts(auxiliary={"chemistry": "agm", "nominal_v": 12, "capacity_ah": 80.0})
        large = facts(auxiliary={"chemistry": "agm", "nominal_v": 12, "capacity_ah": 160.0})
        assert float(large.charge_limit.value) == pytest.approx(2 * float(small.charge_limit.value))
        assert 0.15 * 80 <= float(small.charge_limit.value) <= 0.35 * 80
        assert float(gather(Design.model_validate(plain(**AT_24))).absorption.value) == pytest.approx(
            2 * float(small.absorption.value)
        )
        assert 14.2 <= float(small.absorption.value) <= 14.8

    def test_of_air(self) -> None:
        """By place where nobody has measured: cabin 30, cupboard 45, under the floor 40, engine bay 70 °C."""
        for place, air_c in (("cabin", 30.0), ("cupboard", 45.0), ("under_floor", 40.0), ("engine_bay", 70.0)):
            assert facts(mount={"place": place}).unit_ambient.value == air_c
        for place, air_c in (("cabin", 30.0), ("under_floor", 40.0), ("engine_bay", 70.0)):
            assert cable_ambient_c(Cable.model_validate(cable(place=place) | {"id": "c1"})) == air_c
        battery, shut = plain()["auxiliary"], {"place": "cupboard", "room_c": 25.0, "around": "shut"}
        warmed: list[float] = []
        for volts, told in (
            (None, None),
            (13.8, None),
            (15.0, None),
            (13.8, 15.0),
        ):  # what the unit is told outranks it
            charge = {} if told is None else {"charge": {"absorption_v": told}}
            found = facts(auxiliary=battery | {"absorption_v": volts}, mount=shut, **charge)
            warmed.append(float(found.unit_ambient.value) - 25.0)
        usual, low, high, set_high = warmed
        assert high > low > 0.0
        assert set_high == pytest.approx(high)  # the heat goes with the volts it charges at
        assert low < usual < high  # 14.7 V, AGM's own
        assert cable_ambient_c(Cable.model_validate(cable(ambient_c=12.0) | {"id": "c1"})) == 12.0


class TestLifted:
    """A panel holds 13.8 V, a maintainer 13.4 V per 12 V; measured volts stand; the highest counts."""

    def test_each_and_the_highest(self) -> None:
        """Of several the highest; cut maintainers and panels on the other battery lift nothing."""
        lifters = [{"kind": "maintainer"}, {"kind": "solar"}]
        both = facts(vehicle=vehicle(lifters=lifters)).lifted
        assert both is not None
        assert both.value == 13.8
        measured = facts(
            vehicle=vehicle(lifters=[{"kind": "solar", "lifts_to_v": 13.1}, {"kind": "maintainer"}])
        ).lifted
        assert measured is not None
        assert measured.value == 13.4
        there = [{"kind": "maintainer", "name": "wall box"}]
        noted = facts(existing=there).lifted
        assert noted is not None
        assert (noted.value, noted.label) == (13.4, "Lifted by wall box")
        assert facts(existing=[there[0] | {"cut": True}]).lifted is None
        assert facts(solar={"panel_w": 100.0, "into": "controller"}).lifted is None
        sun = facts(solar={"panel_w": 100.0, "into": "start_side"}).lifted
        assert sun is not None
        assert sun.value == 13.8

    def test_at_24_v(self) -> None:
        """Twice as much."""
        found = gather(Design.model_validate(plain(**AT_24, vehicle=known(), existing=[{"kind": "maintainer"}]))).lifted
        assert found is not None
        assert found.value == pytest.approx(26.8)

    def test_the_highest_engine_off_volts(self) -> None:
        """12.6 rested and 12.7 after stopping: 12.7, settled 12.6; lifted to 13.4 both are that."""
        bare, held = facts(), facts(vehicle=vehicle(lifters=[{"kind": "maintainer"}]))
        assert (bare.rest_high_v, bare.settled_v) == (12.7, 12.6)
        assert (held.rest_high_v, held.settled_v) == (13.4, 13.4)


class TestUse:
    """Loads: amperes by hours standing; those that run while driving summed."""

    LOADS = (
        {"name": "fridge", "current_a": 4.0, "standing_h": 6.0, "driving": True},
        {"name": "lamps", "current_a": 2.0, "standing_h": 3.0, "driving": False},
    )

    def test_summed(self) -> None:
        """4·6 + 2·3 = 30 Ah; 4 A while driving."""
        found = facts(use={"loads": list(self.LOADS)})
        assert found.daily is not None
        assert (found.daily.value, found.daily.provenance) == (30.0, "computed")
        assert (found.loads_driving.value, found.loads_driving.provenance) == (4.0, "computed")

    def test_entered_sums_stand(self) -> None:
        """What is entered is not summed over; with nothing at all there is no use, and nothing runs."""
        found = facts(use={"loads": list(self.LOADS), "daily_ah": 50.0, "loads_driving_a": 1.5})
        assert found.daily is not None
        assert (found.daily.value, found.loads_driving.value) == (50.0, 1.5)
        bare = facts(use={})
        assert bare.daily is None
        assert (bare.loads_driving.value, bare.loads_driving.provenance) == (0.0, "default")


def laid(**changes: Any) -> Cable:
    """A 16 mm² cable in 30 °C."""
    return Cable.model_validate(cable("16 mm²", 2.0, ambient_c=30.0) | {"id": "c1"} | changes)


class TestAmpacity:
    """IEC 60364-5-52:2009, 16 mm²: enclosed 76 and 100 A, free air 94 and 115 A, for 70 and 90 °C."""

    @pytest.mark.parametrize(
        ("changes", "school", "amps"),
        [
            ({"insulation_c": 90}, "enclosed", 100.0),
            ({"insulation_c": 70}, "enclosed", 76.0),
            ({"insulation_c": 90}, "free_air", 115.0),
            ({"insulation_c": 90, "conduit": True}, "free_air", 100.0),  # conduit takes the enclosed table
            ({"insulation_c": 90, "grouped": 2}, "enclosed", 80.0),  # Table B.52.17: 0.80
            ({"insulation_c": 90, "grouped": 6}, "enclosed", 57.0),
            ({"insulation_c": 90, "parallel": 2}, "enclosed", 200.0),
            # A hotter insulation than the table's: √(75/60) for the rise, hot resistances 1.27510 and 1.33405 of 20 °C.
            ({"insulation_c": 105}, "enclosed", 100 * math.sqrt(75 / 60 * 1.27510 / 1.33405)),
            # A cooler one than the coolest column, NFPA 70 Table 310.16, 65 A at 75 °C: √(40/45), 1.21615 over 1.19650.
            ({"size": "6 AWG", "insulation_c": 70}, "enclosed", 65 * math.sqrt(40 / 45 * 1.21615 / 1.19650)),
            # 50 °C around it: √(40/60).
            ({"insulation_c": 90, "ambient_c": 50.0}, "enclosed", 100 * math.sqrt(40 / 60)),
        ],
    )
    def test_by_the_table(self, changes: dict[str, Any], school: str, amps: float) -> None:
        """Table value times its factors."""
        assert ampacity(laid(**changes), school)[0] == pytest.approx(amps, rel=2e-4)

    def test_copper_clad_carries_less(self) -> None:
        """Loss counts: by the root of the resistance, some 0.77 to 0.83."""
        clad = ampacity(laid(metal="cca", insulation_c=90), "enclosed")[0]
        assert 77 < clad < 83

    def test_surroundings_hold_heat(self) -> None:
        """Conduit 1.3 times; n circuits together by their factor, squared: two 1/0.64, three 1/0.49."""
        assert surface_resistance(laid()) == 1.0
        assert surface_resistance(laid(conduit=True)) == pytest.approx(1.3)
        assert surface_resistance(laid(grouped=2)) == pytest.approx(1 / 0.64)
        assert surface_resistance(laid(grouped=3, conduit=True)) == pytest.approx(1.3 / 0.49)


class TestRuns:
    """Milliohms that add up."""

    def test_pieces_and_return(self) -> None:
        """Cold: 16 mm², 2 m out and back, 1.21 mΩ/m: 2.42 mΩ each way, two lugs of 0.1 mΩ each; joint 0.4 mΩ each way."""
        run = Run.model_validate(
            {
                "pieces": [
                    cable("16 mm²", 2.0, ambient_c=20.0) | {"id": "c1"},
                    {"id": "j1", "kind": "joint", "resistance_mohm": 0.4},
                ]
            }
        )
        found = run_state(run, 0.0, 0.1, supply=True)
        assert found.out_ohm == pytest.approx(0.00242 + 0.0002 + 0.0004, rel=1e-6)
        assert found.back_ohm == pytest.approx(0.00242 + 0.0002 + 0.0004, rel=1e-6)
        assert found.loop_ohm == pytest.approx(found.out_ohm + found.back_ohm)
        ten = found.carrying(10.0)
        assert ten.drop_v == pytest.approx(10 * found.loop_ohm)
        assert ten.loss_w == pytest.approx(100 * found.loop_ohm)

    def test_heat_where_a_branch_is_fed_by_part_of_the_run(self) -> None:
        """6 A more through fuse and first cable than through the second: each piece heats by the square of its own current."""
        box = {"kind": "branch", "feeds": "load", "name": "cold box", "current_a": 6.0, "device": fuse(10.0, "blade")}
        pieces = [fuse(60.0), cable(length_m=2.0), box, cable(length_m=1.0)]
        run = solve(design(supply={"pieces": pieces})).running[0].run
        ohms = [piece.out_ohm + piece.back_ohm for piece in run.pieces]
        more = [6.0, 6.0, 6.0, 0.0]
        by_hand = sum(ohm * (run.current_a + extra_a) ** 2 for ohm, extra_a in zip(ohms, more, strict=True))
        assert run.loss_w == pytest.approx(by_hand, rel=1e-6)
        assert run.loss_w > 1.1 * run.loop_ohm * run.current_a**2

    def test_parallel_cables_share(self) -> None:
        """Two side by side: half the copper's ohms, half the lugs'."""
        one, two = (
            run_state(
                Run.model_validate({"pieces": [cable("16 mm²", 2.0, ambient_c=20.0, parallel=count) | {"id": "c1"}]}),
                0.0,
                0.1,
                supply=True,
            )
            for count in (1, 2)
        )
        assert two.out_ohm == pytest.approx(one.out_ohm / 2, rel=1e-6)

    def test_a_branch_is_left_out_wherever_it_is(self) -> None:
        """Of two pieces one carries a branch's 5 A more: 1 mΩ · 5 A; without branches nothing of it is left."""
        run = RunState.of([PieceState(0.001, 0.0, None), PieceState(0.0005, 0.0005, None, 5.0)], 10.0)
        assert run.branch_v == pytest.approx(0.005)
        assert run.drop_v == pytest.approx(0.02 + 0.005)
        still = run.without_branches()
        assert still.branch_v == 0.0
        assert still.drop_v == pytest.approx(0.02)


class TestContext:
    """The lowest volts a unit can linger at: the stop where volts stop it, the guard where nothing else does."""

    def test_lingering(self) -> None:
        """Stop 13.1 V, guard 12.0 V, power P: P over 13.1 by voltage; on D+ alone P over 12.0."""
        rules = {"start_v": 13.4, "stop_v": 13.1, "guard_v": 12.0, "back_v": 12.9}
        by_volts = Context.of(design(activation={"ways": ["voltage"], **rules}))
        by_signal = Context.of(design(activation={"ways": ["d_plus"], **rules}))
        assert by_volts.linger_v == pytest.approx(13.1)
        assert by_signal.linger_v == pytest.approx(12.0)
        power_w = by_signal.solved.output.power_in_w  # type: ignore[union-attr]
        assert by_signal.lingering_a("supply") == pytest.approx(power_w / 12.0)
        assert by_signal.continuous_a("supply") == pytest.approx(power_w / by_signal.stay_v)
        assert by_signal.continuous_a("delivery") == pytest.approx(25.0)


class TestLine:
    """The level line's steps are the volts of the solved run."""

    def test_it_ends_where_the_unit_and_the_battery_are(self) -> None:
        """Supply falls from the source to the unit by its drop; delivery from the unit to absorption; the return takes its part."""
        job = design(
            supply={"pieces": [fuse(60.0), cable(), {"kind": "joint", "resistance_mohm": 0.5}, cable("16 mm²", 0.5)]}
        )
        solved = solve(job)
        state = solved.running[0]
        assert state.drawn is not None
        assert solved.output is not None
        found = line_of(job, solved, state)
        assert found.input_v == pytest.approx(state.drawn.terminal_v)
        assert found.output_v == pytest.approx(solved.output.terminal_v)
        assert found.auxiliary_v == pytest.approx(14.4)
        for side, run, sign in ((found.supply[2:], state.run, 1), (found.delivery, solved.output.run, -1)):
            amps = run.current_a
            for step, piece in zip(side, run.pieces, strict=True):
                assert step.exit_v is not None
                assert step.enter_v - step.exit_v == pytest.approx(amps * piece.out_ohm)
                assert step.return_exit_mv - step.return_enter_mv == pytest.approx(sign * amps * piece.back_ohm * 1000)
            assert [step.enter_v for step in side[1:]] == pytest.approx([step.exit_v for step in side[:-1]])
        assert found.supply[2].return_enter_mv == 0
        assert found.delivery[-1].return_exit_mv == pytest.approx(0, abs=1e-9)
        assert (found.supply[0].return_enter_mv, found.supply[0].return_exit_mv) == (0, 0)

    def test_what_the_alternator_has_left(self) -> None:
        """120 A: 0.6 of it less 15 A at hot idle, 57 A; nine tenths less 35 A at cruise, 73 A; a converter its whole rating."""
        left = {state.key: state.source.available_a for state in solve(design()).running}
        assert left == {"idle": pytest.approx(57.0), "cruise": pytest.approx(73.0)}
        converter = vehicle(drive="converter", alternator=vehicle()["alternator"] | {"hot_idle_share": None})
        left = {state.key: state.source.available_a for state in solve(design(vehicle=converter)).running}
        assert left == {"idle": pytest.approx(105.0), "cruise": pytest.approx(85.0)}

    def test_without_power_nothing_flows(self) -> None:
        """No unit: the line is flat at the source's volts, and parked at the highest engine-off ones."""
        solved = solve(design(charger=None))
        state = solved.running[0]
        assert (state.drawn, state.collapsed) == (None, False)
        found = line_of(design(charger=None), solved, state)
        assert (found.input_v, found.input_a, found.output_v, found.charging) == (13.9, None, None, False)
        assert solved.parked.source.regulated_v == 12.7


def test_what_nobody_has_measured_is_taken_as_the_constants_say() -> None:
    """A maintainer or another helper lifts the start battery to 13.4 V, a panel to 13.8; a body takes five milliohms."""
    for kind, volts in (("solar", 13.8), ("maintainer", 13.4), ("other", 13.4)):
        lifted = facts(vehicle=vehicle(lifters=[{"kind": kind}])).lifted
        assert lifted is not None
        assert float(lifted.value) == volts
    back = {"kind": "chassis"}
    state = Context.of(design(supply={"pieces": [fuse(), cable()], "back": back})).state("supply")
    assert state.back_ohm == pytest.approx(0.005, abs=0.0005)


@pytest.mark.parametrize(("chemistry", "high_v"), [("lfp", 13.5), ("flooded", 13.3)])
def test_full_lithium_stands_above_what_it_was_found_at(chemistry: str, high_v: float) -> None:
    """13.2 V found at half charge become 13.5 V once a drive has filled it; lead is taken as it was read."""
    start = {"chemistry": chemistry, "capacity_ah": 60.0}
    readings = {"rest_v": 13.2, "after_stop_v": 13.3, "idle_v": 14.2, "cruise_v": 14.3}
    found = gather(design(vehicle=vehicle(start_battery=start, readings=readings)))
    assert found.rest_high_v == pytest.approx(high_v)
    assert (found.full is None) is (chemistry != "lfp")
