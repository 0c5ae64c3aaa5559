"""Laws of the parts: heat, source, branches, cuts, weeks, ranking. Random inputs, expectations from physics or counting."""

from __future__ import annotations

import math
from collections import Counter
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from olvask.core.analyses.lay import Path
from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.week import week_of
from olvask.core.assess import assess
from olvask.core.catalogue import NoStandardSize, conductors, devices
from olvask.core.circuit.facts import Facts, gather
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.model.form import form_of
from olvask.core.model.shelf import KINDS, chargers
from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.battery import internal_ohm, open_circuit_v, prospective_short_a
from olvask.core.physics.dc_path import Collapse, constant_power_volts, greatest_power_w
from olvask.core.physics.heat import conductor_c, thermal_resistance_km_per_w
from olvask.core.stages.build.bill import CATALOGUE_PRICES
from olvask.core.stages.build.conductors import ConductorEnd, CutConductor, cut_length_m
from olvask.core.stages.build.cuts import Drum, cut_list
from olvask.core.stages.match.sources import combined, other_sources
from olvask.core.stages.match.week import Budget, budget_of, step
from tests.core.test_laws import COUNT
from tests.designs import cable, charger, design, fuse, vehicle

AMPS = st.floats(0.5, 300.0)
AREAS = st.sampled_from([item.area_mm2 for item in conductors() if item.area_mm2 > 1])
END = ConductorEnd(at="x", kind="lug", torque_nm=None, torque_lb_in=None, heat_shrink_mm=None)


def ohm_per_m(area_mm2: float) -> float:
    """Copper of that area at 20 °C, by its definition."""
    return 1.724e-8 / (area_mm2 * 1e-6)


class TestHeat:
    @COUNT
    @given(AMPS, AREAS, st.floats(-20.0, 80.0))
    def test_more_current_is_never_cooler(self, amps: float, area: float, ambient: float) -> None:
        """Temperature rises with the current, and never lies under the air."""
        cool, warm = (conductor_c(now, ohm_per_m(area), area, ambient) for now in (amps, amps * 1.3))
        assert ambient - 1e-6 <= cool <= warm + 0.05

    @COUNT
    @given(st.floats(5.0, 60.0), AREAS, st.floats(0.0, 60.0), st.floats(1.0, 3.0))
    def test_hindrance_never_cools(self, amps: float, area: float, ambient: float, hindrance: float) -> None:
        """Conduit and bundling keep heat in."""
        free = conductor_c(amps, ohm_per_m(area), area, ambient)
        assert conductor_c(amps, ohm_per_m(area), area, ambient, hindrance) >= free - 0.05

    @COUNT
    @given(AREAS, st.floats(1.0, 150.0), st.floats(0.0, 60.0))
    def test_the_balance_is_one(self, area: float, amps: float, ambient: float) -> None:
        """At the temperature found, the heat made is the heat that leaves: I²R(T) · R_th = rise."""
        celsius = conductor_c(amps, ohm_per_m(area), area, ambient)
        if celsius > 400:
            return
        rise = celsius - ambient
        made = amps**2 * ohm_per_m(area) * (1 + 0.00393 * (celsius - 20))
        assert made * thermal_resistance_km_per_w(area, rise, ambient, 1.0) == pytest.approx(rise, rel=0.02, abs=0.05)

    def test_a_thick_bare_wire_by_hand(self) -> None:
        """Churchill and Chu at Ra = 1e4 for air: Nu = (0.60 + 0.387·1e4^(1/6)/1.205)² = 4.36, worked by hand."""
        assert (
            pytest.approx((0.60 + 0.321 * 10 ** (4 / 6)) ** 2, rel=0.01) == (0.60 + 0.387 * 10 ** (4 / 6) / 1.205) ** 2
        )
        assert pytest.approx(4.36, abs=0.05) == (0.60 + 0.321 * 10 ** (4 / 6)) ** 2


class TestSource:
    @COUNT
    @given(st.floats(11.0, 15.0), st.floats(1e-4, 0.2), st.floats(1.0, 2000.0))
    def test_the_load_gets_its_power_or_collapses(self, volts: float, ohm: float, watts: float) -> None:
        """Either the terminal volts times the current are the power, in the upper half, or V² < 4·R·P."""
        try:
            terminal = constant_power_volts(volts, ohm, watts)
        except Collapse:
            assert volts**2 < 4 * ohm * watts
            return
        assert terminal * (volts - terminal) / ohm == pytest.approx(watts, rel=1e-6)
        assert terminal >= volts / 2

    @COUNT
    @given(st.floats(12.0, 15.0), st.floats(1e-3, 0.2), st.floats(9.0, 11.9))
    def test_the_greatest_power_leaves_exactly_the_floor(self, volts: float, ohm: float, floor: float) -> None:
        """At the greatest power the load sees the floor, and a percent more puts it under."""
        watts = greatest_power_w(volts, ohm, floor)
        assert constant_power_volts(volts, ohm, watts) == pytest.approx(max(floor, volts / 2), rel=1e-6)

    @COUNT
    @given(st.floats(20.0, 120.0), st.floats(100.0, 900.0), st.floats(0.0, 30.0))
    def test_what_the_alternator_cannot_give_the_battery_does(self, left: float, watts: float, extra: float) -> None:
        """Beyond its limit the posts fall under the regulated volts; within it they only sag."""
        source = Source(13.9, 0.002, left, 12.5, 0.006)
        drawn = draw(source, 0.004, watts, extra_a=extra)
        total = drawn.current_a + extra
        if drawn.alternator_limited:
            assert drawn.post_v < 13.9 - 0.002 * left
        else:
            assert total <= left + 1e-6
            assert drawn.post_v == pytest.approx(13.9 - 0.002 * total)

    @COUNT
    @given(st.sampled_from(["flooded", "agm", "gel", "lfp"]), st.floats(0.0, 1.0), st.floats(0.0, 1.0))
    def test_rest_volts_rise_with_charge(self, chemistry: str, one: float, other: float) -> None:
        """A fuller battery never rests lower, and 24 V is twice 12 V."""
        low, high = sorted((one, other))
        assert open_circuit_v(chemistry, low, 12) <= open_circuit_v(chemistry, high, 12)
        assert open_circuit_v(chemistry, high, 24) == pytest.approx(2 * open_circuit_v(chemistry, high, 12))

    @COUNT
    @given(st.sampled_from(["flooded", "agm", "gel", "lfp"]), st.floats(20.0, 800.0), st.floats(0.0, 0.05))
    def test_a_longer_way_never_shorts_harder(self, chemistry: str, capacity: float, ohm: float) -> None:
        """Resistance lowers the prospective short circuit; lithium keeps its 10 A per Ah."""
        at_post = prospective_short_a(chemistry, capacity, 12, 0.0)
        away = prospective_short_a(chemistry, capacity, 12, ohm)
        assert away <= at_post
        if chemistry == "lfp":
            assert away >= 10 * capacity
        else:
            assert away == pytest.approx(
                open_circuit_v(chemistry, 1.0, 12) / (internal_ohm(chemistry, capacity, 12) + ohm)
            )


class TestBranchLaws:
    @COUNT
    @given(st.floats(0.0, 40.0), st.floats(0.2, 6.0), st.sampled_from(["cable", "chassis"]))
    def test_a_branch_never_raises_the_charger(self, amps: float, metres: float, kind: str) -> None:
        """What is taken off on the way only lowers the volts at the end, by own cable or by the body."""
        back: dict[str, Any] = {"kind": kind} if kind == "cable" else {"kind": kind, "resistance_mohm": 4.0}

        def job(taken: float) -> Design:
            branch = {"kind": "branch", "name": "tail", "current_a": taken, "size": "10 mm²"}
            pieces = [fuse(100.0), cable("35 mm²", metres), branch, cable("35 mm²", 1.0)]
            return design(supply={"pieces": pieces, "back": back})

        without, taken = (solve(job(now)).running[0].drawn for now in (0.0, amps))
        assert without is not None
        assert taken is not None
        assert taken.terminal_v <= without.terminal_v + 1e-6

    def test_the_line_joins_up_with_branches(self) -> None:
        """Kirchhoff along a run with two branches: pieces meet, the end is the terminal, by own cable and by the body."""
        branch = {"kind": "branch", "name": "tail", "current_a": 9.0, "size": "4 mm²"}
        for back in ({"kind": "cable"}, {"kind": "chassis", "resistance_mohm": 5.0}):
            pieces = [fuse(100.0), cable("25 mm²", 2.0), branch, cable("25 mm²", 1.0), branch, cable("25 mm²", 0.5)]
            for line in assess(design(supply={"pieces": pieces, "back": back}), remedies=False).conditions:
                if line.charging and line.input_v is not None:
                    last = line.supply[-1]
                    assert last.exit_v - last.return_exit_mv / 1000 == pytest.approx(line.input_v, abs=2e-3)

    def test_a_branch_on_the_delivery_run_leaves_less_for_the_battery(self) -> None:
        """8 A taken beside the battery do not flow on: less drop past the branch, none of it before."""
        branch = {"kind": "branch", "name": "tail", "current_a": 8.0, "size": "4 mm²"}
        run = {"pieces": [cable("16 mm²", 1.0), branch, cable("16 mm²", 1.0), fuse(40.0)]}
        line = next(item for item in assess(design(delivery=run), remedies=False).conditions if item.key == "idle")
        first, past = line.delivery[0], line.delivery[2]
        assert (past.enter_v - past.exit_v) == pytest.approx((first.enter_v - first.exit_v) * 17 / 25, rel=0.02)


class TestCutList:
    @COUNT
    @given(
        st.lists(st.tuples(st.sampled_from(["16 mm²", "25 mm²"]), st.floats(0.1, 12.0)), min_size=1, max_size=12),
        st.lists(st.tuples(st.sampled_from(["16 mm²", "25 mm²"]), st.floats(0.5, 60.0)), max_size=6),
    )
    def test_every_cut_once_and_no_drum_overdrawn(
        self, lengths: list[tuple[str, float]], stock: list[tuple[str, float]]
    ) -> None:
        """Each conductor lies on exactly one drum of its size, and no drum gives more than it holds."""
        cuts = [
            CutConductor(id=f"c{at}", place="", size=size, metal="copper", length_m=metres, cut_m=cut_length_m(metres, 0.2), ends=(END, END))
            for at, (size, metres) in enumerate(lengths)
        ]  # fmt: skip
        drums = [Drum(f"d{at}", size, metres) for at, (size, metres) in enumerate(stock)]
        uses = cut_list(cuts, drums)
        assert Counter(cut for use in uses for cut in use.cuts) == Counter(cut.id for cut in cuts)
        by_id = {cut.id: cut for cut in cuts}
        for use in uses:
            assert all(by_id[cut].size == use.size for cut in use.cuts)
            assert use.used_m == pytest.approx(sum(by_id[cut].cut_m for cut in use.cuts), abs=1e-6)
            assert -1e-6 <= use.left_m <= use.length_m

    @COUNT
    @given(st.floats(0.01, 60.0), st.floats(0.0, 1.0))
    def test_a_cut_is_never_short_and_never_a_step_too_long(self, metres: float, slack: float) -> None:
        """At least path and slack, at most a decimetre more."""
        cut = cut_length_m(metres, slack)
        assert metres * (1 + slack) - 1e-6 <= cut < metres * (1 + slack) + 0.1 + 1e-6


WEEKS = st.fixed_dictionaries(
    {
        "daily_ah": st.floats(1.0, 120.0),
        "drive_h": st.floats(0.25, 10.0),
        "drive_days": st.integers(0, 7),
        "loads_driving_a": st.floats(0.0, 20.0),
    }
)


class TestWeek:
    @COUNT
    @given(WEEKS)
    def test_charge_stays_between_empty_and_full(self, use: dict[str, Any]) -> None:
        """Whatever the use, the state of charge stays within 0 and 1, hour by hour for a week."""
        week = week_of(design(use=use))
        assert len(week.charge) == 169
        assert all(0 <= value <= 1 for value in week.charge)
        assert week.lowest == min(week.charge) or week.lowest == pytest.approx(min(week.charge), abs=1e-5)

    @COUNT
    @given(WEEKS, st.floats(1.0, 60.0))
    def test_using_more_never_leaves_more(self, use: dict[str, Any], more: float) -> None:
        """A heavier day never ends the week fuller."""
        heavier = use | {"daily_ah": use["daily_ah"] + more}
        ends = [week_of(design(use=now)).end or 0.0 for now in (heavier, use)]
        assert ends[0] <= ends[1] + 1e-6

    def test_a_step_conserves_charge(self) -> None:
        """10 A for an hour into 100 Ah at 0.9 is 9 %; 10 A out is 10 %; half way up the taper the rest fades by 1.8 an hour."""
        budget = Budget(100.0, 0.9, 40.0, 0.8, 0, 0, 0, 0, 0, 0, 0, 0, 0)
        assert step(budget, 0.5, 10.0, 0.0, 1.0) == pytest.approx(0.59)
        assert step(budget, 0.5, 0.0, 10.0, 1.0) == pytest.approx(0.40)
        # What is missing shrinks at 40 A · 0.9 / (0.2 · 100 Ah) = 1.8 an hour.
        assert step(budget, 0.9, 40.0, 0.0, 0.1) == pytest.approx(1 - 0.1 * math.exp(-0.18))
        # 10 A are 0.09 an hour up to 0.95, where the battery takes no more than 10 A; then it fades.
        assert step(budget, 0.9, 10.0, 0.0, 1.0) == pytest.approx(1 - 0.05 * math.exp(-1.8 * (1 - 0.05 / 0.09)))
        assert step(budget, 0.02, 0.0, 10.0, 1.0) == 0.0

    def test_the_loads_are_fed_first(self) -> None:
        """Sources of 15 A under loads of 12 A leave 3 A for the battery."""
        budget = Budget(100.0, 1.0, 40.0, 0.8, 0, 0, 0, 0, 0, 0, 0, 0, 0)
        assert step(budget, 0.5, 15.0, 12.0, 1.0) == pytest.approx(0.53)

    def test_the_budget_says_what_flows(self) -> None:
        """25 A unit, 142 W panel at 90 % into 14.2 V is 9 A peak, 4.5 A at half sun; 30 Ah over 20 standing hours 1.5 A."""
        job = design(
            auxiliary={"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2},
            use={"daily_ah": 30.0, "drive_h": 4.0},
            solar={"panel_w": 142.0, "into": "controller", "sun_h": 3.0, "share_driving": 0.5},
        )  # fmt: skip
        budget = budget_of(job, solve(job))
        assert budget is not None
        assert budget.driving_source_a == pytest.approx(29.5)
        assert budget.standing_load_a == pytest.approx(1.5)
        assert budget.sun_a == pytest.approx(9.0 * 3.0 / 6.0)


class TestSourcesAndRanking:
    @COUNT
    @given(
        st.floats(5.0, 60.0),
        st.floats(0.0, 60.0),
        st.sampled_from(["split", "priority"]),
        st.sampled_from(["alternator", "solar"]),
    )
    def test_two_inputs_never_give_more_than_the_unit(self, output: float, sun: float, kind: str, first: str) -> None:
        """By any rule the two inputs together stay within the unit's output, and no source gives more than it has."""
        unit = Design.model_validate(
            design(charger=charger(output_a=output, dual_input=kind, dual_first=first))
        ).charger
        assert unit is not None
        now = combined(unit, output, sun)
        assert now.total_a <= output + 1e-9
        assert now.solar_a <= sun + 1e-9

    def test_each_source_is_counted_where_it_runs(self) -> None:
        """A built-in charger counts while driving, a mains charger does not, a panel on the second input is the unit's."""
        job = design(
            existing=[{"kind": "built_in_charger", "charge_a": 8.0}, {"kind": "mains_charger"}, {"kind": "monitor"}],
            solar={"panel_w": 100.0, "into": "second_input"},
        )
        found = other_sources(job)
        assert [(source.driving, source.peak_a) for source in found] == [(True, 8.0), (False, 20.0)]

    @pytest.mark.parametrize("limit", [8.0, 14.0, 22.0, 31.0, 48.0])
    def test_nothing_ranked_usable_exceeds_the_battery(self, limit: float) -> None:
        """Whatever the battery takes, each usable unit is set to no more, in a step it has."""
        job = design(
            auxiliary={
                "chemistry": "lfp",
                "nominal_v": 12,
                "capacity_ah": 200.0,
                "charge_limit_a": limit,
                "absorption_v": 14.2,
            }
        )
        by_id = {unit.id: unit for unit in chargers()}
        for verdict in rank_units(job, chargers()):
            if verdict.fit == "no":
                continue
            unit = by_id[verdict.id]
            amps = verdict.set_to_a or unit.output_a
            assert amps <= limit + 1e-9
            if verdict.set_to_a is not None and unit.current_limit == "steps":
                assert amps in unit.limit_steps_a

    @COUNT
    @given(st.floats(5.0, 60.0), st.floats(1.0, 12.0), st.floats(0.002, 0.03))
    def test_what_is_laid_carries_and_stays_within_its_ohms(self, amps: float, metres: float, most_ohm: float) -> None:
        """The cheapest choice keeps the resistance it was given and a device between 1.25 · I and the ampacity, or refuses."""
        job = design(supply={"pieces": [fuse(60.0), cable("16 mm²", metres)]})
        facts: Facts = gather(job)
        path = Path("supply", job, facts, CATALOGUE_PRICES)
        try:
            run, ohm = path.choose(amps, amps, most_ohm, 50.0)
        except NoStandardSize:
            return
        laid = job.model_copy(update={"supply": run, "charger": job.charger})
        assert ohm <= most_ohm + 1e-9
        guard = run.pieces[0]
        assert guard.kind == "device"
        assert guard.rating_a >= 1.25 * amps - 1e-6
        stops = {item.id for item in assess(laid, remedies=False).stops}
        assert not {item for item in stops if item.startswith("protect.large.supply")}


class TestForms:
    @pytest.mark.parametrize("kind", KINDS)
    def test_every_field_of_a_form_is_labelled(self, kind: str) -> None:
        """No field without words, no two with the same path, and every choice field has choices."""
        fields = form_of(next(model for name, model in KINDS.items() if name == kind))
        assert len({field.path for field in fields}) == len(fields)
        assert all(field.label for field in fields)
        assert all(field.choices for field in fields if field.kind in ("choice", "choices"))

    def test_families_of_devices_climb(self) -> None:
        """Within a family ratings ascend and the drop at rating never makes a larger device the more resistive."""
        for family in {item.family for item in devices()}:
            members = [item for item in devices() if item.family == family]
            assert [item.rating_a for item in members] == sorted(item.rating_a for item in members)
            ohms = [item.resistance_ohm for item in members]
            assert all(later <= earlier + 1e-9 for earlier, later in pairwise(ohms))


class TestSurveyQueries:
    CASES = (
        ("swapped readings", {"rest_v": 12.9, "after_stop_v": 12.6, "idle_v": 13.9, "cruise_v": 14.2}, "survey.after_stop_low"),
        ("flat start battery", {"rest_v": 11.7, "after_stop_v": 11.9, "idle_v": 13.9, "cruise_v": 14.2}, "survey.start_flat"),
        ("something charges it", {"rest_v": 13.3, "after_stop_v": 13.4, "idle_v": 13.9, "cruise_v": 14.2}, "survey.rest_high"),
        ("cruise read in a low phase", {"rest_v": 12.6, "idle_v": 13.9, "cruise_v": 12.5}, "survey.cruise_not_charging"),
        ("a low phase that is not low", {"rest_v": 12.6, "idle_v": 13.4, "cruise_v": 13.6, "low_phase_v": 14.0}, "survey.low_phase_high"),
        ("a fixed regulator at 15.2 V", {"rest_v": 12.6, "idle_v": 13.9, "cruise_v": 15.2}, "survey.regulation.cruise_v"),
    )  # fmt: skip

    @pytest.mark.parametrize(("why", "readings", "id"), CASES, ids=[case[0] for case in CASES])
    def test_contradictions_are_queried(self, why: str, readings: dict[str, float], id: str) -> None:
        """Each reading that cannot stand beside the others is asked about; the sound job raises none of them."""
        assert id in {
            item.id for item in assess(design(vehicle=vehicle(readings=readings)), remedies=False).findings
        }, why
        assert id not in {item.id for item in assess(design(), remedies=False).findings}
