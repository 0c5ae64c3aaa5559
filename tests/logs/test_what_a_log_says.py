"""What is read off columns made up by hand, and that no design and no columns break it."""

from __future__ import annotations

import math
import os
import random
from typing import Any

import numpy as np
import pytest

from olvask.core.analyses.device_log import Happened, Log, LogReport, log_report, window
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.charger import StartWay
from olvask.core.model.device_log import MEASURED, MEASURES, Measured
from olvask.store.demo import demo_designs
from tests.anything import anything
from tests.designs import design

VAN = next(
    design for heading, design in demo_designs() if heading.code == "KV-118"
)  # stops at 13.1 V, starts at 13.35 V
ANY = int(os.environ.get("OLVASK_ANYTHING", "40"))
BEGIN_S = 1_770_000_000.0
EVERY_S = 10.0
REST_V, RUN_V, AUXILIARY_V, FULL_A, EFFICIENCY, OUT_OHM = 12.68, 14.23, 13.12, 40.0, 0.92, 0.004


class Day:
    """A log as it grows: each call adds a while of one thing."""

    def __init__(self, ohm: float = 0.009) -> None:
        self.ohm = ohm
        self.rows: list[tuple[float, float, float, float, float, float]] = []

    def add(self, seconds: float, volts: float, amps: float = 0.0, auxiliary_v: float = AUXILIARY_V) -> Day:
        """Volts at the posts, current out of the unit; the rest follows by Ohm and the unit's efficiency."""
        out_v = auxiliary_v + amps * OUT_OHM
        power_w = amps * out_v / EFFICIENCY
        in_v = (volts + math.sqrt(volts**2 - 4 * self.ohm * power_w)) / 2  # V² − V·V_s + R·P = 0
        row = (volts, in_v, power_w / in_v, out_v, amps, auxiliary_v)
        self.rows += [row] * round(seconds / EVERY_S)
        return self

    def parked(self, hours: float = 1.0) -> Day:
        return self.add(3600 * hours, REST_V)

    def drive(self, minutes: float, amps: float = FULL_A, auxiliary_v: float = AUXILIARY_V) -> Day:
        return self.add(30, RUN_V).add(60 * minutes, RUN_V, amps, auxiliary_v)

    @property
    def log(self) -> Log:
        names: tuple[Measured, ...] = ("post_v", "input_v", "input_a", "output_v", "output_a", "auxiliary_v")
        columns = np.array(self.rows).T
        moments = BEGIN_S + EVERY_S * np.arange(len(self.rows), dtype=np.float64)
        return Log(moments, {name: column.astype(np.float32) for name, column in zip(names, columns, strict=True)})


def said(day: Day, of: Design = VAN) -> LogReport:
    return log_report(Context.of(of), day.log)[0]


def found(report: LogReport, what: str) -> list[Happened]:
    return [item for item in report.happened if item.what == what]


def test_starts_and_stops_are_dated_to_their_row() -> None:
    report = said(Day().parked().drive(20).parked())
    assert [(item.what, item.at_s - BEGIN_S) for item in report.happened] == [("start", 3630.0), ("stop", 4830.0)]


def test_the_runs_efficiency_and_current_come_out_as_they_were_made() -> None:
    report = said(Day(0.0137).parked().drive(60).parked())
    fits = {str(fit.key): fit for fit in report.fits}
    for key, real in (
        ("supply_mohm", 13.7),
        ("delivery_mohm", 4.0),
        ("efficiency", 92.0),
        ("limit_a", 40.0),
        ("source_v", RUN_V),
    ):
        assert fits[key].value == pytest.approx(real, rel=1e-3), key
        assert 0 < fits[key].spread < 0.08 * real, key
    assert [item.key for item in report.differs] == ["supply_mohm"]  # 8.5 designed


@pytest.mark.parametrize(("seconds", "is_low"), [(0, False), (60, True), (200, True), (600, False)])
def test_volts_that_fall_under_way_are_low_for_seconds_and_off_for_longer(seconds: float, is_low: bool) -> None:
    day = Day().parked().drive(10).add(seconds, 12.8, FULL_A).drive(10).parked()
    lows = found(said(day), "low_phase")
    assert len(lows) == is_low
    if is_low:
        assert lows[0].until_s is not None
        assert lows[0].until_s - lows[0].at_s == pytest.approx(seconds, abs=EVERY_S)


def test_three_starts_while_the_vehicle_does_nothing_new_hunt_and_two_do_not() -> None:
    for starts in (2, 3, 6):
        day = Day().parked().add(60, RUN_V)
        for _ in range(starts):
            day.add(120, RUN_V, FULL_A).add(60, RUN_V)
        hunts = found(said(day.add(300, RUN_V).parked()), "hunting")
        assert len(hunts) == (starts >= 3)
        if hunts:
            assert hunts[0].text.startswith(f"{starts} starts")


def test_starts_at_every_drive_do_not_hunt() -> None:
    day = Day().parked()
    for _ in range(6):
        day.drive(5).parked(0.5)
    assert found(said(day), "hunting") == []


def test_a_charge_that_fades_ends_with_the_engine_and_starts_no_second_time() -> None:
    day = Day().parked().drive(20)
    for amps in (30.0, 20.0, 12.0, 8.0, 5.0, 3.0, 1.5, 0.5, 0.2):
        day.add(120, RUN_V, amps, 14.1)
    report = said(day.add(1200, RUN_V, 0.2, 14.1).add(300, RUN_V, 4.0, 14.0).parked())
    assert [item.what for item in report.happened if item.what in ("start", "stop")] == ["start", "stop"]
    stop = found(report, "stop")[0].at_s
    assert stop >= BEGIN_S + 3600 + 30 + 1200 + 9 * 120


def test_an_early_taper_is_below_the_set_volts_and_a_late_one_is_none() -> None:
    early = said(Day().parked().drive(30).add(900, RUN_V, 15.0, 13.5).parked())
    late = said(Day().parked().drive(30).add(900, RUN_V, 15.0, 14.15).parked())
    assert [len(found(report, "early_taper")) for report in (early, late)] == [1, 0]
    assert "set to 14.20 V" in found(early, "early_taper")[0].text


def test_float_after_absorption_is_no_early_taper() -> None:
    """Once up to its volts a charge may fall to fewer and less: that is how it ends."""
    day = Day().parked().drive(30).add(600, RUN_V, 20.0, 14.15).add(2400, RUN_V, 12.0, 13.5)
    assert found(said(day.parked()), "early_taper") == []


@pytest.mark.parametrize(("celsius", "told"), [(40.0, 0), (25.0, 1), (None, 0)])
def test_a_unit_that_compensates_holds_fewer_volts_on_a_hot_day(celsius: float | None, told: int) -> None:
    """24 mV for each of 15 K: 13.98 V are what it is to hold at 40 °C, and too few at 25 °C; unlogged, it may have been hot."""
    hot = design(auxiliary=SMALL | {"absorption_v": 14.34}, charge={"compensation_mv_per_k": -24.0})
    log = Day().parked().drive(30, 25.0, 13.0).add(300, RUN_V, 20.0, 13.98).add(1800, RUN_V, 12.0, 13.4).parked().log
    warmth: dict[Measured, Any] = {} if celsius is None else {"battery_c": np.full(len(log), celsius, dtype=np.float32)}
    report = log_report(Context.of(hot), Log(log.time_s, {**log.values, **warmth}))[0]
    assert len(found(report, "early_taper")) == told


SMALL = {"chemistry": "agm", "capacity_ah": 80.0, "charge_limit_a": 20.0, "absorption_v": 14.4}


@pytest.mark.parametrize(
    ("volts", "amps", "told_a"),
    [
        ((14.45, 14.45, 14.45), 20.0, None),  # up to its volts from the first row: what flows is what the battery takes
        ((13.6, 13.6, 13.6), 20.0, None),  # held at the volts of another battery
        ((12.8, 13.2, 13.6), 18.0, 18.0),  # it rises under a current that something limits
        ((12.8, 13.2, 13.6), 25.0, 25.0),
    ],
)
def test_what_a_battery_takes_is_not_what_the_unit_gives(
    volts: tuple[float, ...], amps: float, told_a: float | None
) -> None:
    """A unit of 25 A on a battery that takes 20 A: at volts that stand nobody can tell whose limit it is."""
    day = Day().parked(2)
    day.add(30, RUN_V)
    for at_v in volts:
        day.add(900, RUN_V, amps, at_v)
    report = said(day.parked(2), design(auxiliary=SMALL))
    fits = [fit.value for fit in report.fits if fit.key == "limit_a"]
    assert fits == ([] if told_a is None else [pytest.approx(told_a, abs=0.1)])
    assert ("limit_a" in [item.key for item in report.differs]) is (told_a == 18.0)


@pytest.mark.parametrize(("volts", "days", "times"), [(13.6, 7, 1), (14.2, 7, 0), (13.6, 4, 0)])
def test_charges_that_never_reach_absorption_are_told_after_days(volts: float, days: int, times: int) -> None:
    day = Day()
    for _ in range(days):
        day.drive(45, FULL_A if volts < 14 else 20.0, volts).parked(23.2)
    assert len(found(said(day), "unfinished")) == times


def test_a_lockout_comes_at_the_guards_volts_just_reached() -> None:
    """12.40 V for 2 s is the guard; volts that lay there for a minute were ended by the stop rule instead."""
    at_once = said(Day().parked().drive(10).add(10, 12.3, FULL_A).add(300, RUN_V).parked())
    slowly = said(Day().parked().drive(10).add(120, 12.9, FULL_A).add(300, RUN_V).parked())
    assert [len(found(report, "lockout")) for report in (at_once, slowly)] == [1, 0]


WAYS_BY_HAND: tuple[StartWay, ...] = ("switch", "bridge")


def by_hand(*ways: StartWay) -> Design:
    """The van, let go by other ways than its volts."""
    return VAN.model_copy(update={"activation": VAN.activation.model_copy(update={"ways": ways})})


def test_the_guard_of_a_unit_left_on_acts_on_volts_that_sink_for_hours() -> None:
    """Nothing else stops a unit on a switch; a battery at 12.43 V for ten minutes is no sign that the guard was not it."""
    day = Day(0.0).parked().drive(10)
    for volts in (12.62, 12.56, 12.5, 12.46, 12.43):
        day.add(600, volts, FULL_A)
    left = day.add(10, 12.39, FULL_A).parked()
    assert [len(found(said(left, by_hand(way)), "lockout")) for way in WAYS_BY_HAND] == [1, 1]


def test_a_parked_vehicle_that_starts_again_and_again_hunts() -> None:
    """On the guard alone a resting battery comes back each time that the current is gone."""
    day = Day().drive(10).parked(0.2)
    for _ in range(5):
        day.add(20, REST_V, FULL_A).add(60, REST_V)
    assert [item.text[:8] for item in found(said(day.parked(), by_hand("switch")), "hunting")] == ["5 starts"]


def test_a_trickle_about_what_counts_as_current_does_not_hunt() -> None:
    day = Day().parked().drive(10)
    for _ in range(20):
        day.add(20, RUN_V, 2.8, 13.6).add(20, RUN_V, 0.6, 13.6)
    assert found(said(day.add(300, RUN_V, 0.6, 13.6).parked(), by_hand("switch")), "hunting") == []


def test_a_faded_charge_of_a_unit_left_on_does_not_end_with_the_engine() -> None:
    def faded(*ways: StartWay) -> LogReport:
        day = Day().parked().drive(20)
        for amps in (30.0, 20.0, 12.0, 8.0, 5.0, 3.0, 1.5, 0.5, 0.2):
            day.add(120, RUN_V, amps, 14.1)
        return said(day.parked(2).drive(20), by_hand(*ways))

    assert [len(found(report, "stop")) for report in (faded("d_plus"), faded("switch"))] == [1, 0]


def test_stops_by_the_guard_do_not_place_the_stop_rule() -> None:
    """Volts that fall to 12.0 V between two rows end a charge at once: the row before tells nothing of the rule's 13.1 V."""
    day = Day().parked()
    for _ in range(4):
        day.drive(20).add(60, 12.0).drive(20).add(40, 13.1, FULL_A).parked(0.5)
    report = said(day)
    fit = next(fit for fit in report.fits if fit.key == "stop_v")
    assert abs(fit.value - 13.1) <= fit.spread
    assert "stop_v" not in [item.key for item in report.differs]


def test_since_when_a_run_is_worse_is_told_by_the_charge() -> None:
    day = Day(0.0085)
    for number in range(14):
        day.ohm = 0.0085 if number < 8 else 0.021
        day.parked(3).drive(20)
    report = said(day.parked())
    differs = next(item for item in report.differs if item.key == "supply_mohm")
    eighth_s = BEGIN_S + 8 * (3 * 3600 + 30 + 1200) + 3 * 3600 + 30
    assert differs.since_s == pytest.approx(eighth_s, abs=EVERY_S)
    assert "from 8.5 to 21.0 mΩ" in differs.text
    fit = next(fit for fit in report.fits if fit.key == "supply_mohm")
    assert fit.value == pytest.approx(21.0, rel=0.002)


def test_what_was_never_designed_is_no_difference() -> None:
    """Runs not laid and no unit chosen: what the log gives is told, and nothing held against it."""
    bare = design(charger=None, supply={"pieces": []}, delivery={"pieces": []})
    report = said(Day().parked().drive(60).parked(), bare)
    assert {fit.key for fit in report.fits} >= {"supply_mohm", "delivery_mohm"}
    assert all(fit.designed is None for fit in report.fits if fit.key.endswith("mohm"))
    assert report.differs == ()


def test_what_a_log_cannot_tell_is_said() -> None:
    log = Day().parked().drive(20).parked().log
    volts = Log(log.time_s, {"input_v": log.values["input_v"]})
    report = log_report(Context.of(VAN), volts)[0]
    assert any("No current" in text for text in report.unsaid)
    assert report.happened == ()
    assert report.fits == ()


def test_words_tell_starts_and_stops_where_no_current_does() -> None:
    log = Day().parked().drive(20).parked().log
    said_so = (log.values["output_a"] > 1).astype(np.float32)
    report = log_report(Context.of(VAN), Log(log.time_s, {"input_v": log.values["input_v"], "charging": said_so}))[0]
    assert [(item.what, item.at_s - BEGIN_S) for item in report.happened] == [("start", 3630.0), ("stop", 4830.0)]
    assert report.fits == ()


def test_the_simulation_follows_the_logs_own_day() -> None:
    """Two drives an hour apart: it starts within two minutes of each, and rests in between."""
    ctx, log = Context.of(VAN), Day().parked().drive(20).parked().drive(20).parked().log
    report, course = log_report(ctx, log)
    seen = window(ctx, log, course, report.happened, 0.0, 1e11)
    current = next(curve for curve in seen.simulated if curve.measure == "output_a")
    at, amps = np.array(current.time_s), np.array(current.value)
    for start in found(report, "start"):
        assert amps[np.searchsorted(at, start.at_s + 120)] > 0.9 * FULL_A
        assert amps[np.searchsorted(at, start.at_s - 120)] == 0


@pytest.mark.parametrize("part", range(4))
def test_no_design_and_no_columns_break_it(part: int) -> None:
    """Extremes of every field of a design, columns of noise, steps or nothing at all, and any window of them."""
    for seed in range(part, ANY, 4):
        pick, chance = random.Random(seed), np.random.default_rng(seed)
        rows = pick.choice((2, 3, 50, 2000))
        moments = BEGIN_S + np.cumsum(chance.choice([1.0, 5.0, 900.0], rows, p=[0.5, 0.49, 0.01]))
        values = {}
        for name in MEASURED:
            if pick.random() < 0.3 and name != "input_v":
                continue
            measure = MEASURES[name]
            column = pick.choice(
                (
                    chance.uniform(measure.least, measure.most, rows),
                    13.0 + chance.normal(0, 0.5, rows),
                    np.repeat(chance.uniform(10, 15, rows // 50 + 1), 50)[:rows],
                )
            )
            values[name] = np.where(chance.random(rows) < pick.choice((0.0, 0.1, 1.0)), np.nan, column).astype(
                np.float32
            )
        ctx, log = Context.of(anything(seed)), Log(moments, values)
        report, course = log_report(ctx, log)
        assert report.rows == rows
        assert all(np.isfinite([fit.value, fit.spread]).all() for fit in report.fits), seed
        ends = (moments[0] + pick.uniform(-1e4, 1e4), moments[-1] + pick.uniform(-1e4, 1e4))
        assert len(window(ctx, log, course, report.happened, *ends).logged) <= len(values)


PACK = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0}


def at_celsius(celsius: float, amps: float, **changes: Any) -> LogReport:
    """Parked, then half an hour under way with a battery of so many degrees and so many amperes into it."""
    log = Day().parked().drive(30, amps).log
    besides: dict[Measured, Any] = {
        "battery_c": np.full(len(log), celsius, dtype=np.float32),
        "auxiliary_a": log.values["output_a"],
    }
    return log_report(Context.of(design(**changes)), Log(log.time_s, {**log.values, **besides}))[0]


@pytest.mark.parametrize(
    ("celsius", "amps", "chemistry", "harmed"),
    [(-8.0, 20.0, "lfp", True), (12.0, 20.0, "lfp", False), (-8.0, 0.4, "lfp", False), (-8.0, 20.0, "agm", False)],
)
def test_lithium_charged_in_frost_is_told_as_a_stop(celsius: float, amps: float, chemistry: str, harmed: bool) -> None:
    """Current into a frozen pack, whatever was meant to stop it; lead takes it, and a trickle is the meter's."""
    for cut_off in (False, True):
        report = at_celsius(
            celsius, amps, auxiliary=PACK | {"chemistry": chemistry, "low_temperature_cut_off": cut_off}
        )
        assert bool(found(report, "frost")) is harmed
        assert [item.level for item in report.differs if item.key == "frost"] == (["stop"] if harmed else [])
        if harmed:
            assert "down to -8 °C, up to 20 A" in found(report, "frost")[0].text


@pytest.mark.parametrize(("stops_c", "told"), [(5.0, True), (None, False)])
def test_a_unit_that_stops_in_the_cold_keeps_it_from_charging(stops_c: float | None, told: bool) -> None:
    """A pack without a cut-off of its own, under way at -2 °C with nothing flowing: the unit stopped it, if it is set to."""
    report = at_celsius(-2.0, 0.0, auxiliary=PACK, charge={"cold_c": stops_c}, activation={"ways": ["d_plus"]})
    assert bool(found(report, "cold")) is told
