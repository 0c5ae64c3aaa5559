"""Energy of a day and the other sources, against charge balances by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from olvask.core.analyses.audit_sources import bank_of
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.physics.charging import tapered
from olvask.core.simulate.charging import charged
from olvask.core.simulate.profile import Profile
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.sources import Source
from olvask.core.simulate.trip import drive
from olvask.core.stages.match.energy import (
    between_drives_ah,
    daily_floor_a,
    net_driving_a,
    put_back_h,
    rate_ah_per_h,
    reserve_of,
    standing_ah,
)
from olvask.core.stages.match.sources import (
    combined,
    driving_now,
    driving_peak_a,
    maintainer_of,
    other_sources,
    solar_peak_a,
    solar_standing_a,
)
from olvask.core.stages.match.week import budget_of, currents, segments, step
from tests.designs import charger, design, vehicle

MAINS = {"kind": "mains_charger", "charge_a": 12.0}
PANEL = {"panel_w": 160.0, "into": "controller", "sun_h": 4.0, "share_driving": 0.25}
SUN_A = 160 * 0.9 / 14.4  # nine tenths of its watts at the battery's absorption volts: 10 A
USE = {"daily_ah": 60.0, "drive_h": 2.0, "mains_h": 1.5}


def figures(job: Design) -> dict[str, float | None]:
    """Figures of an assessment by name."""
    return {name: figure.value for name, figure in assess(job).figures.items()}


def levels(job: Design) -> dict[str, str]:
    """Findings with their level."""
    return {item.id: item.level for item in assess(job, remedies=False).findings}


def test_sources_with_and_without_a_plate() -> None:
    """What is noted counts; else 10 A of a built-in, 20 A of a mains, 5 A of a portable charger; what is cut gives nothing."""
    kinds = ("built_in_charger", "mains_charger", "portable_charger", "monitor")
    plain = design(existing=[{"kind": kind} for kind in kinds])
    assert [(source.peak_a, source.driving_a, source.driving) for source in other_sources(plain)] == [
        (10.0, 10.0, True),
        (20.0, 0.0, False),
        (5.0, 0.0, False),
    ]
    noted = design(existing=[{"kind": kind, "charge_a": 7.0, "name": f"old {kind}"} for kind in kinds])
    assert [(source.peak_a, source.label) for source in other_sources(noted)] == [
        (7.0, "old built_in_charger"),
        (7.0, "old mains_charger"),
        (7.0, "old portable_charger"),
    ]
    assert other_sources(design(existing=[{"kind": kind, "cut": True} for kind in kinds])) == []
    assert driving_peak_a(plain) == 10.0
    assert [source.label for source in other_sources(plain)][1] == "mains charger"


def test_a_panel() -> None:
    """160 W: 10 A in full sun, a quarter of it driving; only by a controller of its own is it another source."""
    job = design(solar=PANEL)
    assert solar_peak_a(job) == pytest.approx(SUN_A)
    (source,) = other_sources(job)
    assert (source.peak_a, source.driving_a, source.driving) == pytest.approx((SUN_A, SUN_A / 4, 1))
    assert other_sources(design(solar=PANEL | {"into": "start_side"})) == []
    assert solar_peak_a(design()) == 0.0


def test_what_keeps_the_start_battery_up() -> None:
    """1 A without a plate; fed from the auxiliary side it takes 1/0.85 A there, twice that from 24 V to 12; two add."""
    fed = design(existing=[{"kind": "maintainer"}])
    assert maintainer_of(fed) == pytest.approx((1.0, 1 / 0.85))
    two = design(existing=[{"kind": "maintainer"}, {"kind": "maintainer", "charge_a": 3.0}])
    assert maintainer_of(two) == pytest.approx((4.0, 4 / 0.85))
    assert maintainer_of(design(existing=[{"kind": "maintainer", "cut": True}])) == (0.0, 0.0)
    lifted = design(vehicle=vehicle(lifters=[{"kind": "maintainer"}]))
    assert maintainer_of(lifted) == (1.0, 0.0)
    assert maintainer_of(design(vehicle=vehicle(lifters=[{"kind": "solar"}]))) == (0.0, 0.0)
    readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
    truck = design(vehicle=vehicle(system_v=24, readings=readings), existing=[{"kind": "maintainer"}], charger=None)
    assert maintainer_of(truck) == pytest.approx((1.0, 2 / 0.85))


def test_what_comes_in_while_it_stands() -> None:
    """10 A for 4 h of sun and 12 A for 1.5 h of mains: 58 Ah; a panel on the start side gives the auxiliary battery none."""
    job = design(solar=PANEL, existing=[MAINS], use=USE)
    assert standing_ah(job) == pytest.approx(SUN_A * 4 + 12 * 1.5)
    assert standing_ah(design(solar=PANEL | {"into": "start_side"}, existing=[MAINS], use=USE)) == pytest.approx(18.0)
    assert standing_ah(design(existing=[{"kind": "built_in_charger"}], use=USE)) == 0.0


def test_what_comes_in_between_drives() -> None:
    """Of the 40 Ah between 9 and 15 an hour's share falls into the drive from 8 to 10; the longer it drives the less is left."""
    assert between_drives_ah(design(solar=PANEL, existing=[MAINS], use=USE)) == pytest.approx(
        SUN_A * 4 * 5 / 6 + 12 * 1.5
    )
    assert between_drives_ah(design(solar=PANEL | {"into": "start_side"}, use=USE)) == 0.0
    # From 8 to 16 on the road it has no sun standing; from 8 till 20 mains from 18 on wait for two of their three hours.
    assert between_drives_ah(design(solar=PANEL, use={"daily_ah": 60.0, "drive_h": 8.0})) == 0.0
    late = {"daily_ah": 60.0, "drive_h": 12.0, "mains_h": 3.0}
    assert between_drives_ah(design(existing=[MAINS], use=late)) == pytest.approx(12 * 1.0)
    # Plugged in round the clock: all day but for what it drives next morning.
    assert between_drives_ah(design(existing=[MAINS], use=USE | {"mains_h": 24.0})) == pytest.approx(12 * 22.0)


@given(drive_h=st.floats(0.25, 23), mains_h=st.floats(0, 24), sun_h=st.floats(0, 12))
@settings(deadline=None)
def test_the_day_and_the_week_count_the_same_sun_and_mains(drive_h: float, mains_h: float, sun_h: float) -> None:
    """What comes in while it stands on a Tuesday that it drives is what the week's stretches add up to: no hour counts twice."""
    use = {"daily_ah": 60.0, "drive_h": drive_h, "drive_days": 7, "mains_h": mains_h}
    job = design(solar=PANEL | {"sun_h": sun_h}, existing=[MAINS], use=use)
    week = budget_of(job, solve(job))
    assert week is not None
    tuesday = [part for part in segments(week) if 24 <= part[0] < 48]
    driven = [currents(week, 1, (begins + hours / 2) % 24)[0] for begins, hours, _, _ in tuesday]
    came_ah = sum(part[1] * part[2] for part, drives in zip(tuesday, driven, strict=True) if not drives)
    assert came_ah == pytest.approx(between_drives_ah(job), abs=0.01)  # a stretch of a second counts as none


def test_the_day_has_to_be_put_back() -> None:
    """60 Ah into AGM at 0.85 in 2 h: 35.3 A; sun and mains of 51 Ah leave 60 − 43.6 Ah; loads and other sources count."""
    plain = design(use=USE)
    assert daily_floor_a(plain, solve(plain)) == pytest.approx(60 / 0.85 / 2)
    helped = design(solar=PANEL, existing=[MAINS], use=USE)
    expected = (60 - (SUN_A * 4 * 5 / 6 + 18) * 0.85) / 0.85 / 2 - SUN_A / 4
    assert daily_floor_a(helped, solve(helped)) == pytest.approx(expected)
    loaded = design(use=USE | {"loads_driving_a": 6.0})
    assert daily_floor_a(loaded, solve(loaded)) == pytest.approx(60 / 0.85 / 2 + 6.0)
    covered = design(solar=PANEL | {"sun_h": 12.0}, use=USE)
    assert daily_floor_a(covered, solve(covered)) == 0.0
    for unsurveyed in ({"daily_ah": 60.0}, {"drive_h": 2.0}):
        job = design(use=unsurveyed)
        assert daily_floor_a(job, solve(job)) is None
        assert "match.daily_floor_a" not in figures(job)


def test_whether_a_unit_could_and_does() -> None:
    """30 A is what the battery takes: 25.5 Ah ask 15 A, given; 46.75 Ah ask 27.5 A, more than 25; 60 Ah more than any unit."""
    assert not {"match.daily_need", "match.need_unreachable"} & set(levels(design(use=USE | {"daily_ah": 25.5})))
    wanted = levels(design(use=USE | {"daily_ah": 46.75}))
    assert wanted["match.daily_need"] == "caution"
    assert "match.need_unreachable" not in wanted
    never = levels(design(use=USE))
    assert never["match.need_unreachable"] == "caution"
    assert "match.daily_need" not in never
    assert "match.need_unreachable" in levels(design(use=USE, charger=None))


def test_net_current_and_hours_to_recover() -> None:
    """25 A of the unit, 2.5 A of sun, 4 A of loads: 23.5 A into 110 Ah of AGM that take 30 A up to 80 %.

    They are taken whole up to 1 - 0.2 * 23.5 / 30 = 84.3 %: 48.8 Ah / (23.5 A · 0.85) = 2.44 h. What is missing then falls from
    15.7 to 5 %, ln 3.13 = 1.142, at 30 A · 0.85 of the 22 Ah above the taper an hour: 0.99 h.
    """
    job = design(solar=PANEL, use={"loads_driving_a": 4.0})
    assert net_driving_a(job, solve(job)) == pytest.approx(25 + SUN_A / 4 - 4)
    assert figures(job)["energy.recover_h"] == pytest.approx(2.441 + 0.985, abs=0.002)
    assert "match.loads_exceed" not in levels(job)
    for loads_a, told in ((27.4, False), (27.5, True), (40.0, True)):
        heavy = design(solar=PANEL, use={"loads_driving_a": loads_a})
        assert ("match.loads_exceed" in levels(heavy)) is told
        assert (figures(heavy)["energy.recover_h"] is None) is told


def test_days_of_standing() -> None:
    """AGM keeps half: 55 Ah over 60 Ah a day; a reserve as chosen; without end where the sun brings as much as is used."""
    assert reserve_of(design()) == 0.5
    assert reserve_of(design(use={"reserve": 0.3})) == 0.3
    assert figures(design(use=USE))["energy.standing_days"] == pytest.approx(55 / 60)
    assert figures(design(use=USE | {"reserve": 0.3}))["energy.standing_days"] == pytest.approx(77 / 60)
    sunny = design(solar=PANEL, use={"daily_ah": 60.0})
    assert figures(sunny)["energy.standing_days"] == pytest.approx(55 / (60 - 40 * 0.85))
    assert figures(design(solar=PANEL, use={"daily_ah": 34.0}))["energy.standing_days"] is None
    assert "energy.standing_days" not in figures(design())
    resting = design(use=USE | {"rest_day_ah": 2.0})  # used as ever, not as when nobody is there
    assert figures(resting)["energy.standing_days"] == pytest.approx(55 / 60)


def test_a_maintainer_costs_what_the_drain_costs_it() -> None:
    """30 mA of drain through 0.85 are 0.85 Ah a day out of the auxiliary battery, not the ampere it could give."""
    fed = {"existing": [{"kind": "maintainer", "charge_a": 1.0}]}
    taken_ah = 24 * 0.03 / 0.85
    assert figures(design(use=USE, **fed))["energy.standing_days"] == pytest.approx(55 / (60 + taken_ah))
    alone, kept = design(use=USE | {"mains_h": 0.0}), design(use=USE | {"mains_h": 0.0}, **fed)
    floor_a = daily_floor_a(alone, solve(alone))
    assert floor_a is not None
    assert daily_floor_a(kept, solve(kept)) == pytest.approx(floor_a + taken_ah * 22 / 24 / 0.85 / 2.0)
    week = budget_of(kept, solve(kept))
    assert week is not None
    assert week.rest_day_load_a == pytest.approx(60 / 24 + taken_ah / 24)
    trip = drive(design(**fed), read_programme("begin start 100 %\noff 4 d\n"))
    assert trip.auxiliary_out_ah == pytest.approx(4 * taken_ah, rel=0.05)
    assert trip.start_charge > 0.99


def test_input_and_output_at_a_glance() -> None:
    """Two units of 25 A at 0.9: their watts in are a ninth more than out, and that is heat."""
    job = design(units=2)
    found, output = figures(job), solve(job).output
    assert output is not None
    assert found["output.current_a"] == 50.0
    out_w = output.terminal_v * 50.0
    assert found["output.voltage_v"] == pytest.approx(14.4 + 50.0 * output.run.loop_ohm)
    assert found["input.power_w"] == pytest.approx(out_w / 0.9)
    assert found["charger.heat_w"] == pytest.approx(out_w * (1 / 0.9 - 1))
    working = assess(job).figures["output.current_a"].working
    assert working == "2 units of 25 A = 50.0 A"
    assert assess(design()).figures["output.current_a"].working == "25 A = 25.0 A"


SPLIT: dict[str, Any] = {"dual_input": "split"}
SECOND = PANEL | {"into": "second_input"}


@pytest.mark.parametrize(
    ("unit", "solar", "finding"),
    [
        ({}, SECOND, "match.no_second_input"),
        (SPLIT, SECOND, "match.split_loses"),
        ({"dual_input": "priority", "dual_first": "solar"}, SECOND, "match.priority_loses"),
        ({"dual_input": "priority", "dual_first": "alternator"}, SECOND, None),
        (SPLIT, SECOND | {"share_driving": 1.0, "panel_w": 220.0}, None),
        (SPLIT, PANEL, None),
    ],
)
def test_a_second_input(unit: dict[str, Any], solar: dict[str, Any], finding: str | None) -> None:
    """A split gives 12.5 A and 2.5 A of sun, less than 25 A alone; as much sun as half of it loses nothing."""
    found = levels(design(charger=charger(**unit), solar=solar))
    told = {
        key: level
        for key, level in found.items()
        if key in ("match.no_second_input", "match.split_loses", "match.priority_loses")
    }
    assert set(told) == ({finding} if finding else set())
    if finding:
        assert told[finding] == ("stop" if finding == "match.no_second_input" else "caution")


def test_one_input_alone() -> None:
    """With nothing from the alternator a second input gives its sun; a unit without one gives none."""
    for record, sun_a in ((SPLIT, 5.0), ({}, 0.0)):
        unit = design(charger=charger(**record)).charger
        assert unit is not None
        found = combined(unit, 0.0, 5.0)
        assert (found.alternator_a, found.solar_a) == (0.0, sun_a)
        assert combined(unit, 0.0, 90.0).solar_a == (unit.output_a if record else 0.0)  # never more than the unit gives
        assert combined(unit, 20.0, 0.0).total_a == 20.0


def test_both_inputs_while_driving() -> None:
    """The unit's own current where its panel goes elsewhere; a split with the sun of the drive where it feeds it."""
    job = design(charger=charger(**SPLIT), solar=SECOND)
    for made, both in (
        (job, (12.5, SUN_A / 4)),
        (design(charger=charger(**SPLIT), solar=PANEL), (25.0, 0.0)),
        (design(solar=SECOND, charger=None), (25.0, 0.0)),
    ):
        now = driving_now(made, 25.0)
        assert (now.alternator_a, now.solar_a) == pytest.approx(both)
    assert figures(job)["match.dual_total_a"] == pytest.approx(12.5 + SUN_A / 4)
    assert Context.of(job).solved.output is not None


@pytest.mark.parametrize(
    ("into", "unit", "standing_a"),
    [
        ("controller", {}, 25.0),
        ("second_input", SPLIT | {"output_a": 12.0}, 12.0),
        ("second_input", SPLIT | {"output_a": 40.0}, 25.0),
        ("second_input", {}, 0.0),
        ("start_side", SPLIT, 0.0),
    ],
)
def test_what_the_sun_puts_in_while_it_stands(into: str, unit: dict[str, Any], standing_a: float) -> None:
    """400 W are 25 A in full sun; through the unit's second input no more than the unit gives, and nothing without one."""
    job = design(solar=PANEL | {"panel_w": 400.0, "into": into}, charger=charger(**unit), use=USE | {"mains_h": 0.0})
    assert solar_standing_a(job) == pytest.approx(standing_a)
    assert standing_ah(job) == pytest.approx(standing_a * 4.0)
    side = " on start" if into == "start_side" else ""
    trip = drive(job, read_programme(f"begin auxiliary 20 %\noff 1 h sun 400 W{side}\n"))
    assert trip.auxiliary_in_ah == pytest.approx(standing_a, abs=0.3)


@settings(deadline=None)
@given(st.floats(0.05, 0.9), st.floats(0.5, 60.0), st.sampled_from(["flooded", "agm", "gel", "lfp"]))
def test_hours_of_a_charge_are_the_weeks_and_the_audits(begun: float, amps: float, chemistry: str) -> None:
    """A steady current from a state of charge to 95 %: the week's closed form is there after those hours; a charger that
    holds absorption volts without end at the posts, stepped in time, within a twentieth."""
    job = design(auxiliary={"chemistry": chemistry, "capacity_ah": 110.0}, use=USE)
    week = budget_of(job, solve(job))
    assert week is not None
    found = tapered(begun, 0.95, amps, 110.0, week.limit_a, week.taper_from, week.efficiency)
    assert step(week, begun, amps, 0.0, found.hours) == pytest.approx(0.95, abs=1e-9)
    bank = bank_of(job, solve(job), 25.0)
    held = Profile(bank.cell.full_v, bank.cell.full_v, 0.0, math.inf, adaptive=False, tail_a=0.0)
    reached_s = charged([Source("", amps, 0.0, held)], bank, begun, found.hours * 7200, until=0.95).reaches(0.95)
    assert reached_s is not None
    assert reached_s / 3600 == pytest.approx(found.hours, rel=0.05, abs=0.02)


def test_what_a_battery_does_not_take_is_not_put_back() -> None:
    """60 A into AGM of 110 Ah that takes 30 A: 25.5 Ah an hour to be had again, from 40 to 80 % in 44 Ah / 25.5 A."""
    job = design(charger=charger(output_a=60.0), use=USE | {"loads_driving_a": 0.0})
    assert rate_ah_per_h(job, solve(job)) == pytest.approx(30 * 0.85)
    assert figures(job)["energy.recover_h"] == pytest.approx(44 / 25.5 + math.log(4) * 22 / 25.5, rel=1e-6)


def test_hours_that_put_the_day_back() -> None:
    """60 Ah a day by 25 A net at 0.85 are 2.8 h; a day nobody surveyed has none, nor where the road's loads take it all."""
    use: dict[str, Any] = {"daily_ah": 60.0, "drive_h": 3.0}

    def hours(**changes: Any) -> float | None:
        made = design(**changes)
        return put_back_h(made, solve(made))

    assert hours(use=use) == pytest.approx(60 / (25 * 0.85), rel=0.01)
    assert hours(use={"drive_h": 3.0}) is None
    eaten = [{"name": "winch", "current_a": 90.0, "standing_h": 0.0, "driving": True}]
    assert hours(use=use | {"loads": eaten}) is None
    faint = [{"name": "fan", "current_a": 24.3, "standing_h": 0.0, "driving": True}]
    assert (hours(use=use | {"loads": faint}) or 0.0) > 60


def test_both_parts_of_a_charge_are_told() -> None:
    """A pack that takes everything to the end has one part in its working, one that tapers from the start the other."""
    for chemistry, limit_a, signs in (("lfp", 100.0, "Ah /"), ("agm", 25.0, "+")):
        battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": limit_a}
        working = assess(design(auxiliary=battery)).figures["energy.recover_h"].working
        assert signs in working
