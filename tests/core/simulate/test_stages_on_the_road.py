"""A trip's unit charges by what its sheet ends in: capped, resting, stopped by cold, compensated."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from olvask.core.analyses.audit_sources import bank_of, sources_of
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.simulate.charging import charged
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.trip import drive
from tests.designs import charger, plain

LFP = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2}


def road(text: str, charge: dict[str, Any], **changes: Any) -> Trip:
    """A job with a charge profile driven through a programme, started by D+."""
    whole = plain(auxiliary=LFP, charge=charge, activation={"ways": ["d_plus"]}) | changes
    return drive(Design.model_validate(whole), read_programme(text))


def test_bulk_ends_by_its_clock() -> None:
    """One hour at 25 A from 20 % are 25 Ah; then a float of 13.2 V, at which a battery near 45 % takes little."""
    trip = road("begin auxiliary 20 %\ncruise 4 h\n", {"bulk_h": 1.0, "float_v": 13.2})
    floats = [event.time_s for event in trip.events if event.what == "float"]
    assert floats[0] == pytest.approx(3600, abs=30)
    assert trip.samples[-1].auxiliary_charge < 0.65
    uncapped = road("begin auxiliary 20 %\ncruise 4 h\n", {"float_v": 13.2})
    assert uncapped.samples[-1].auxiliary_charge > 0.97


@pytest.mark.parametrize(("chemistry", "by", "adaptive"), [
    ("agm", None, True), ("flooded", None, True), ("lfp", None, False), ("agm", "time", False), ("lfp", "adaptive", True),
])  # fmt: skip
def test_lead_absorbs_by_how_long_bulk_took(chemistry: str, by: str | None, adaptive: bool) -> None:
    """Unless it is told otherwise: half of 40 min of bulk; lithium for its whole time."""
    battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 110.0}
    job = Design.model_validate(plain(auxiliary=battery, charge={"absorbed_by": by}))
    profile = profile_of(job, solve(job))
    assert profile.adaptive is adaptive
    assert profile.absorption_for(2400.0) == (1200.0 if adaptive else profile.absorption_s)


def test_it_rests_and_starts_again_where_a_load_pulls_it_down() -> None:
    """Rested, not an ampere flows; 30 A of load pull the posts to 13.5 - 30 * 0.006 V and lower, under 13.3 V: bulk again."""
    charge = {"after": "rest", "rebulk_v": 13.3}
    quiet = road("begin auxiliary 90 %\ncruise 3 h\n", charge)
    assert quiet.samples[-1].stage == "float"
    assert quiet.samples[-1].output_a == 0.0
    pulled = road("begin auxiliary 90 %\ncruise 3 h\ncruise 30 min load 30 A\n", charge)
    assert [event.what for event in pulled.events].count("bulk") >= 1


def test_a_steady_load_does_not_chase_it_through_its_stages() -> None:
    """Rested at 98 %, 15 A pull an AGM battery under 12.8 V for good: it begins anew, each time after a minute at least.

    Without that minute it came and went within milliseconds: 14.5 V at once, next to no tail, rest, low at once.
    """
    agm = {"chemistry": "agm", "capacity_ah": 110.0, "charge_limit_a": 30.0}
    trip = road("begin auxiliary 98 %\ncruise 6 h\ncruise 3 h load 15 A\n", {"after": "rest"}, auxiliary=agm)
    began = [event.time_s for event in trip.events if event.what == "bulk"]
    rested = [6 * 3600.0] + [event.time_s for event in trip.events if event.what == "float"]
    assert began
    assert all(begin - max(at for at in rested if at < begin) >= 60 for begin in began)
    assert min(sample.auxiliary_charge for sample in trip.samples[-100:]) > 0.95


@pytest.mark.parametrize("after", ["float", "rest"])
def test_the_sun_alone_goes_through_the_stages_each_day(after: str) -> None:
    """Full in the evening, 2 A of load day and night, 10 h of 100 W by the second input: absorption once a day, and full again.

    The unit had stood where the last drive left it: one that rests gave nothing of the sun for days, until all was flat.
    """
    unit = charger(dual_input="priority", dual_first="alternator")
    days = "off 14 h load 2 A\noff 10 h load 2 A sun 100 W\n" * 3
    trip = road(
        f"begin auxiliary 95 %\ncruise 4 h\n{days}",
        {"after": after},
        charger=unit,
        solar={"panel_w": 200.0, "into": "second_input"},
        auxiliary={"chemistry": "agm", "capacity_ah": 110.0, "charge_limit_a": 30.0},
    )
    absorbed = [event for event in trip.events if event.what == "absorption"]
    assert [event.stretch for event in absorbed] == [0, 2, 4, 6]
    evening = [sample for sample in trip.samples if sample.time_s == pytest.approx((4 + 24 * 2) * 3600)]
    assert evening[0].auxiliary_charge > 0.95
    assert min(sample.auxiliary_charge for sample in trip.samples) == pytest.approx(1 - 14 * 2 / 110, abs=0.06)
    peak_v = max(sample.auxiliary_v for sample in trip.samples if sample.time_s > 5 * 3600)
    assert peak_v == pytest.approx(14.5, abs=0.05)  # what is usual on AGM


def test_it_stops_for_the_cold() -> None:
    """Set to stop under 5 °C, at -5 °C it gives nothing; warm, it does."""
    text = "begin auxiliary 40 % ambient {} °C\ncruise 2 h\n"
    assert road(text.format(-5), {"cold_c": 5.0}).charged_ah == pytest.approx(0.0, abs=0.01)
    assert road(text.format(20), {"cold_c": 5.0}).charged_ah > 40


def test_compensation_moves_its_volts() -> None:
    """-24 mV/K at 5 °C are 0.48 V more than the 14.4 V of 25 °C, at the battery's posts as the run has next to no current."""
    agm = {"chemistry": "agm", "capacity_ah": 110.0, "charge_limit_a": 30.0, "absorption_v": 14.4}
    text = "begin auxiliary 99 % ambient 5 °C\ncruise 20 min\n"
    plain_v = max(sample.auxiliary_v for sample in road(text, {}, auxiliary=agm).samples)
    raised_v = max(sample.auxiliary_v for sample in road(text, {"compensation_mv_per_k": -24.0}, auxiliary=agm).samples)
    assert raised_v - plain_v == pytest.approx(0.48, abs=0.05)


@pytest.mark.parametrize("set_to", [None, 13.6, 14.6])
def test_what_the_unit_is_set_to_does_not_change_the_battery(set_to: float | None) -> None:
    """At 95 % it stands (14.2 - 13.34) V / 50 A = 17.2 mΩ against charging, by its maker's volts, whatever is keyed."""
    job = Design.model_validate(plain(auxiliary=LFP, charge={"absorption_v": set_to}))
    solved = solve(job)
    for cell in (Plant(job, solved).auxiliary, bank_of(job, solved, 25.0).cell):
        assert cell.against(0.95)[0] == pytest.approx(0.0172, rel=1e-3)


@pytest.mark.parametrize("after", ["float", "rest"])
@pytest.mark.parametrize("air_c", [25.0, -10.0])
@pytest.mark.parametrize(("chemistry", "limit_a"), [("flooded", 25.0), ("agm", 30.0), ("gel", 25.0), ("lfp", 50.0)])
def test_the_road_and_the_audit_of_sources_agree(chemistry: str, limit_a: float, air_c: float, after: str) -> None:
    """The same unit on the same battery, as a day is driven and as sources are audited: two simulators, one charge.

    In the cold the road had the battery stand at its own volts while the audit held it at the unit's; and of every charge
    after the first it had an adaptive absorption last by the hours since the unit had started.
    """
    battery = {"chemistry": chemistry, "capacity_ah": 110.0, "charge_limit_a": limit_a}
    job = Design.model_validate(plain(auxiliary=battery, charge={"after": after}, activation={"ways": ["d_plus"]}))
    solved = solve(job)
    trip = drive(job, read_programme(f"begin auxiliary 30 % ambient {air_c} °C\ncruise 14 h\n"), None, solved)
    (unit,) = (item.source for item in sources_of(job, solved) if item.kind == "unit")
    alone = charged([unit], bank_of(job, solved, air_c), 0.3, 14 * 3600.0)
    driven = [sample.time_s for sample in trip.samples], [sample.auxiliary_charge for sample in trip.samples]
    for hours in (1.0, 3.0, 6.0, 13.9):
        on_the_road, audited = np.interp(hours * 3600, *driven), np.interp(hours * 3600, alone.times_s, alone.charge)
        assert on_the_road == pytest.approx(audited, abs=0.02)
    if after == "float":
        last = trip.samples[-1]
        assert last.auxiliary_v == pytest.approx(alone.volts[-1], abs=0.02)
        assert last.output_a == pytest.approx(alone.amps[-1][0], abs=0.1)
        assert last.stage == alone.stages[-1][0] == "float"
    assert max(sample.auxiliary_v for sample in trip.samples) == pytest.approx(max(alone.volts), abs=0.03)
