"""Match against written scenarios, the week against a hand sheet, the ranking, and the sums on the side."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest

from olvask.core.analyses.compare import TooMany, compare
from olvask.core.analyses.fit import CannotFit, fit_unit
from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.unknowns import unknowns
from olvask.core.analyses.week import week_of
from olvask.core.assess import assess
from olvask.core.catalogue import NoStandardSize
from olvask.core.circuit.context import Context
from olvask.core.model import Design, Load
from olvask.core.model.shelf import chargers
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of
from olvask.core.stages.match.sources import combined
from olvask.core.stages.survey.sums import (
    NoAnswer,
    bonding_from_volts,
    charge_from_rest,
    daily_need,
    days_to_flat,
    load_average,
)
from olvask.store.demo import demo_designs
from tests.designs import cable, charger, design, fuse, plain, vehicle

SCENARIOS: list[dict[str, Any]] = json.loads((Path(__file__).parent / "scenarios.json").read_text(encoding="utf-8"))
LITHIUM = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2}


def scenario_design(changes: dict[str, Any]) -> Design:
    """The sound job with a scenario's changes; vehicle and unit are changed field by field."""
    over = {key: value for key, value in changes.items() if key not in ("vehicle", "charger")}
    return design(vehicle=vehicle(**changes.get("vehicle", {})), charger=charger(**changes.get("charger", {})), **over)


@pytest.mark.parametrize("case", SCENARIOS, ids=[case["name"] for case in SCENARIOS])
def test_match_says_what_the_trade_would(case: dict[str, Any]) -> None:
    """Binding limit, isolation verdict and findings are those reasoned in the scenario."""
    found = assess(scenario_design(case["changes"]))
    assert found.ruler.binding == case["binding"], case["reason"]
    assert (found.figures["match.isolation_needed"].value == 1) is case["isolated"], case["reason"]
    ids = {item.id for item in found.findings}
    assert set(case.get("findings", [])) <= ids, case["reason"]
    assert not set(case.get("absent", [])) & ids, case["reason"]
    if "says" in case:
        assert any(case["says"] in item.text for item in found.findings), case["reason"]


def test_there_are_enough_scenarios_and_each_has_its_reason() -> None:
    """At least two dozen, no name twice, every one reasoned."""
    assert len({case["name"] for case in SCENARIOS}) == len(SCENARIOS) >= 24
    assert all(len(case["reason"]) > 20 for case in SCENARIOS)


def hand_sheet(
    *,
    capacity: float,
    eta: float,
    limit: float,
    taper: float,
    day: float,
    rest_day: float,
    drive_h: float,
    days: float,
    loads: float,
    source: float,
    sun: float,
    mains: float,
    mains_h: float,
) -> list[float]:
    """An hour-by-hour sheet, written apart from the core: whole hours, the taper solved as an exponential."""

    def charge_hour(soc: float, offered: float) -> float:
        amps = min(offered, limit)
        left = 1.0
        bend = 1 - amps * (1 - taper) / limit if amps < limit else taper  # above it the battery takes less than offered
        if soc < bend:
            needed = (bend - soc) * capacity / (amps * eta)
            if needed >= 1:
                return soc + amps * eta / capacity
            soc, left = bend, 1 - needed
        rate = limit * eta / ((1 - taper) * capacity)
        return 1 - (1 - soc) * math.exp(-rate * left)

    soc, out = 1.0, [1.0]
    for hour in range(168):
        weekday, clock = divmod(hour, 24)
        road = weekday < days
        if road and 8 <= clock < 8 + drive_h:
            offered = source - loads
        else:
            use = day / (24 - drive_h) if road else rest_day / 24
            offered = (sun if 9 <= clock < 15 else 0.0) + (mains if 18 <= clock < 18 + mains_h else 0.0) - use
        soc = charge_hour(soc, offered) if offered > 0 else max(0.0, soc + offered / capacity)
        out.append(soc)
    return out


WEEKS = {
    "lead, driving only": (
        plain(use={"daily_ah": 40.0, "drive_h": 3.0, "drive_days": 5, "rest_day_ah": 6.0, "loads_driving_a": 4.0}),
        {"capacity": 110.0, "eta": 0.85, "limit": 30.0, "taper": 0.8, "day": 40.0, "rest_day": 6.0, "drive_h": 3, "days": 5, "loads": 4.0, "source": 25.0, "sun": 0.0, "mains": 0.0, "mains_h": 0},
    ),
    "lithium with a panel": (
        plain(auxiliary=LITHIUM, use={"daily_ah": 55.0, "drive_h": 2.0, "drive_days": 6, "loads_driving_a": 5.0}, solar={"panel_w": 142.0, "into": "controller", "sun_h": 3.0, "share_driving": 0.5}),
        {"capacity": 100.0, "eta": 0.95, "limit": 50.0, "taper": 0.95, "day": 55.0, "rest_day": 55.0, "drive_h": 2, "days": 6, "loads": 5.0, "source": 25.0 + 4.5, "sun": 4.5, "mains": 0.0, "mains_h": 0},
    ),
    "mains at night, a heavy week": (
        plain(use={"daily_ah": 70.0, "drive_h": 1.0, "drive_days": 4, "mains_h": 5.0}, existing=[{"kind": "mains_charger", "charge_a": 10.0}]),
        {"capacity": 110.0, "eta": 0.85, "limit": 30.0, "taper": 0.8, "day": 70.0, "rest_day": 70.0, "drive_h": 1, "days": 4, "loads": 0.0, "source": 25.0, "sun": 0.0, "mains": 10.0, "mains_h": 5},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", WEEKS)
def test_the_week_agrees_with_a_hand_sheet(name: str) -> None:
    """Every hour of the week lies within 1 % of capacity of a sheet worked out hour by hand."""
    document, sheet = WEEKS[name]
    week = week_of(Design.model_validate(document))
    by_hand = hand_sheet(**sheet)
    assert len(week.charge) == len(by_hand) == 169
    assert max(abs(ours - hand) for ours, hand in zip(week.charge, by_hand, strict=True)) < 0.01
    assert min(by_hand) < 0.9  # the sheet exercises something


def test_a_week_that_runs_down_says_when() -> None:
    """50 Ah a day with half an hour of driving: 110 Ah to half is gone within the second day."""
    week = week_of(design(use={"daily_ah": 50.0, "drive_h": 0.5, "drive_days": 5}))
    assert week.verdict == "runs_down"
    assert week.below_reserve_day == 2
    assert week_of(design()).verdict == "unknown"


def test_a_split_shares_in_halves_and_priority_waits() -> None:
    """40 A split with 3 A of sun: 20 + 3. Alternator first: 40 + 0. Solar first: 0 + 3. No sun: all 40. Hand calculation."""
    unit = Design.model_validate(plain(charger=charger(output_a=40.0, dual_input="split"))).charger
    assert unit is not None
    now = combined(unit, 40.0, 3.0)
    assert (now.alternator_a, now.solar_a) == (20.0, 3.0)
    assert combined(unit, 40.0, 0.0).total_a == 40.0
    assert combined(unit.model_copy(update={"dual_input": "priority"}), 40.0, 3.0).total_a == 40.0
    assert combined(unit.model_copy(update={"dual_input": "priority", "dual_first": "solar"}), 40.0, 3.0).total_a == 3.0
    assert combined(unit, 80.0, 3.0, units=2).total_a == 63.0  # the second unit has no panel


class TestRanking:
    @pytest.mark.parametrize("at", range(5))
    def test_what_is_laid_for_a_usable_unit_passes_the_full_rules(self, at: int) -> None:
        """Each unit called usable, fitted with its own runs, gives a design without a stop and with its own price."""
        job = demo_designs()[at][1]
        units = {item.id: item for item in chargers()}
        usable = [item for item in rank_units(job, chargers()) if item.fit != "no"]
        assert usable
        for verdict in usable:
            fitted = fit_unit(job, units[verdict.id])
            found = assess(fitted)
            assert [item.title for item in found.stops if item.stage != "survey"] == []
            percent = {name: found.figures[f"{name}.drop_percent"].value or 99 for name in ("supply", "delivery")}
            assert max(percent.values()) <= fitted.choices.drop_percent + 0.1
            assert verdict.price == pytest.approx(bill_of(Context.of(fitted)).total, abs=0.01)

    def test_weights_turn_the_order(self) -> None:
        """Weighing cost alone puts the cheapest installed choice first; charge alone the strongest."""
        job = design(auxiliary=LITHIUM)
        for weights, key, least in (
            ({"rank_cost": 1.0, "rank_rate": 0.0, "rank_margin": 0.0}, "price", True),
            ({"rank_cost": 0.0, "rank_rate": 1.0, "rank_margin": 0.0}, "rate_ah_per_h", False),
        ):
            weighed = job.model_copy(update={"choices": job.choices.model_copy(update=weights)})
            clean = [item for item in rank_units(weighed, chargers()) if item.fit != "no" and not item.cautious]
            values = [getattr(item, key) for item in clean]
            assert values[0] == (min(values) if least else max(values))

    def test_on_a_composite_body_isolated_units_come_first(self) -> None:
        """What every unit suffers speaks against none; a shared negative on a composite body is the unit's own fault."""
        usable = [item for item in rank_units(demo_designs()[0][1], chargers()) if item.fit != "no"]
        clean = [item for item in usable if not item.cautious]
        assert clean
        assert all(item.isolated for item in clean)

    def test_own_prices_count(self) -> None:
        """A dearer drum makes the installed choice dearer by its metres, slack included: 2 × 3 m × 1.2 × 10 €."""
        job = design()
        cheap, dear = Prices(), Prices(cables={"25 mm²": 18.04})
        rise = 18.04 - cheap.per_m("25 mm²")
        totals = [bill_of(Context.of(job), prices).total for prices in (CATALOGUE_PRICES, cheap, dear)]
        assert totals[0] == totals[1]
        assert totals[2] - totals[1] == pytest.approx(2 * 3 * 1.2 * rise, abs=0.011)  # each 3.6 m, two of them

    def test_a_unit_that_cannot_be_used_is_refused_with_why(self) -> None:
        """Fitting a converter or a 24 V unit fails with the reason instead of giving a design."""
        by_id = {item.id: item for item in chargers()}
        with pytest.raises(CannotFit, match="not a charger"):
            fit_unit(design(), by_id["ruff"])
        with pytest.raises(CannotFit, match="wrong voltage"):
            fit_unit(design(), by_id["knot"])
        far = design(supply={"pieces": [{"kind": "cable", "size": "95 mm²", "length_m": 60.0}]})
        with pytest.raises(NoStandardSize, match="no size carries"):
            fit_unit(far, by_id["redshank"])


class TestSums:
    def test_a_load_from_two_states_of_charge(self) -> None:
        """100 Ah from 90 to 60 % in 10 h with 5 Ah charged at 80 %: (30 + 4) / 10 = 3.4 A. Hand calculation."""
        assert load_average(100.0, 0.9, 0.6, 10.0, 5.0, 0.8).value == pytest.approx(3.4)
        with pytest.raises(NoAnswer, match="rose by more"):
            load_average(100.0, 0.5, 0.9, 10.0, 5.0, 0.8)

    def test_daily_need_adds_up(self) -> None:
        """4 A half the time for 10 h and 1 A for 5 h: 20 + 5 = 25 Ah. Hand calculation."""
        loads = [
            Load(name="fridge", current_a=4.0, duty=0.5, standing_h=10.0),
            Load(name="lamp", current_a=1.0, standing_h=5.0),
        ]
        assert daily_need(loads, 12).value == pytest.approx(25.0)

    def test_rest_volts_are_a_band_and_wide_for_lithium(self) -> None:
        """Lead at 12.4 V is somewhere around 70 %; lithium at 13.2 V could be almost anything in the middle."""
        lead = charge_from_rest("flooded", 12, 12.4)
        assert 0.55 < lead.low < 0.72 < lead.high < 0.85
        lithium = charge_from_rest("lfp", 12, 13.2)
        assert lithium.high - lithium.low > 2 * (lead.high - lead.low)
        assert "little" in lithium.text
        assert charge_from_rest("flooded", 24, 24.8).low == pytest.approx(lead.low)
        with pytest.raises(NoAnswer, match="nominal voltage"):
            charge_from_rest("agm", 12, 25.4)

    def test_days_to_flat_with_and_without_a_maintainer(self) -> None:
        """80 Ah from 90 to 60 % is 24 Ah; 30 mA is 0.72 Ah a day and 5 % a month 0.133: 28.1 days. Hand calculation."""
        alone = days_to_flat("flooded", 80.0, 0.9, 0.6, 30.0, 0.0, 0.0)
        assert alone.alone.value == pytest.approx(24 / (0.72 + 80 * 0.05 / 30), rel=1e-6)
        kept = days_to_flat("flooded", 80.0, 0.9, 0.6, 30.0, 1.0, 60.0)
        assert kept.maintained is not None
        assert kept.maintained.value == pytest.approx(60 / (0.72 + 0.1333333) + 28.125, rel=1e-3)
        with pytest.raises(NoAnswer, match="charge it first"):
            days_to_flat("flooded", 80.0, 0.5, 0.6, 30.0, 0.0, 0.0)

    def test_bonding_from_volts(self) -> None:
        """40 mV under 10 A is 4 mΩ."""
        assert bonding_from_volts(40.0, 10.0).value == pytest.approx(4.0)


class TestUnknowns:
    def test_a_gap_says_what_it_would_change(self) -> None:
        """Unmeasured bonding decides the kind of unit; what is measured is no gap."""
        open_job = design(vehicle=vehicle(chassis={"body": "mixed"}))
        gaps = {item.path: item for item in unknowns(open_job)}
        assert "isolated" in gaps["vehicle.chassis.bonding_mohm"].effect
        assert gaps["use.daily_ah"].standing == "open"
        assert "vehicle.readings.rest_v" not in gaps

    def test_the_weightiest_comes_first(self) -> None:
        """Gaps that change nothing stand at the end."""
        matters = [
            item.matters for item in unknowns(Design.model_validate({"vehicle": {"alternator": {"rated_a": 120.0}}}))
        ]
        assert matters == sorted(matters, reverse=True)
        assert matters[0]


class TestCompare:
    def test_only_differences_are_shown(self) -> None:
        """Two variants that differ in one length and the unit show those rows and no other."""
        one = design()
        other = design(
            charger=charger(id="b", name="Other unit"),
            delivery={
                "pieces": [one.delivery.pieces[0].model_dump() | {"length_m": 2.5}, one.delivery.pieces[1].model_dump()]
            },
        )
        rows = {row.path: row for row in compare([("A", one), ("B", other)]).differences}
        assert set(rows) == {"charger", "delivery.pieces.c2.length_m"}
        assert rows["delivery.pieces.c2.length_m"].values == ("1.5 m", "2.5 m")
        assert "piece 1" in rows["delivery.pieces.c2.length_m"].label

    def test_values_are_the_screens_words_with_their_units(self) -> None:
        """Three variants: words of a choice, figures with units, a thing that one has and the others have not."""
        first = design()
        second = design(
            mount={"place": "cupboard", "ambient_c": 35.0},
            supply={"pieces": [fuse(60.0), cable()], "back": {"kind": "chassis", "resistance_mohm": 3.0}},
            activation={"ways": ["d_plus"], "start_v": 13.3},
        )
        third = design(existing=[{"kind": "mains_charger", "name": "Old charger", "charge_a": 10.0}])
        rows = {row.label: row.values for row in compare([("A", first), ("B", second), ("C", third)]).differences}
        assert rows["Air at the unit"] == ("25 °C", "35 °C", "25 °C")
        assert rows["Unit mounted in"] == ("cabin, free air", "cupboard", "cabin, free air")
        assert rows["Return"] == ("own cable", "chassis", "own cable")
        assert rows["Ways to start"][1] == "charge indicator (D+, 61)"
        assert rows["What is there already: Old charger"] == ("–", "–", "there")

    def test_what_one_took_out_the_others_still_have(self) -> None:
        """A thing changed in one variant and taken out of another: there, otherwise there, gone."""
        old = {"id": "e1", "kind": "link", "charge_a": 10.0}
        first, second, third = (design(existing=items) for items in ([old], [old | {"charge_a": 15.0}], []))
        rows = {row.path: row.values for row in compare([("A", first), ("B", second), ("C", third)]).differences}
        assert rows == {"existing.e1.charge_a": ("10 A", "15 A", "–"), "existing.e1": ("there", "there", "–")}

    def test_the_better_one_is_marked(self) -> None:
        """A thicker cable costs more and drops less: each row marks the right variant."""
        thick = design(
            supply={
                "pieces": [
                    {"kind": "device", "family": "class_t", "rating_a": 60.0},
                    {"kind": "cable", "size": "50 mm²", "length_m": 3.0, "place": "cabin"},
                ]
            }
        )
        rows = {row.path: row for row in compare([("thin", design()), ("thick", thick)]).consequences}
        assert rows["cost"].best == (0,)
        assert rows["supply.drop_percent"].best == (1,)

    @pytest.mark.parametrize("count", [1, 5])
    def test_two_to_four(self, count: int) -> None:
        """One variant is no comparison, five do not fit."""
        with pytest.raises(TooMany, match="two to 4"):
            compare([(str(at), design()) for at in range(count)])
