"""The week, the day's need and the feeds of appliances, each against a sum done by hand."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import pytest

from olvask.core.assess import Assessment, assess
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.model import Design
from olvask.core.physics.battery import internal_ohm
from olvask.core.stages.match.appliance import feed_for
from olvask.core.stages.match.energy import between_drives_ah, daily_floor_a, standing_ah
from olvask.core.stages.match.week import Budget, budget_of, currents, segments, step, weeks_of
from tests.designs import design, plain, vehicle

LFP = {"chemistry": "lfp", "capacity_ah": 100.0, "charge_limit_a": 50.0, "absorption_v": 14.2}
AGM = {"chemistry": "agm", "capacity_ah": 110.0, "charge_limit_a": 20.0, "absorption_v": 14.4}
WEEK = Budget(
    capacity_ah=100.0,
    efficiency=0.8,
    limit_a=20.0,
    taper_from=0.8,
    standing_load_a=2.0,
    rest_day_load_a=1.0,
    driving_load_a=3.0,
    driving_source_a=23.0,
    sun_a=4.0,
    mains_a=6.0,
    drive_h=2.0,
    drive_days=5,
    mains_h=3.0,
)


def job(**changes: Any) -> Design:
    return Design.model_validate(plain() | changes)


def found(design: Design) -> Assessment:
    return assess(design, remedies=False)


class TestStep:
    """Steady currents, in closed form: 20 A of 23 less 3 go in at 0.8 * 20 / 100 = 16 % an hour below the bend."""

    def test_below_the_bend(self) -> None:
        """From 40 %, two hours: 72 %."""
        assert step(WEEK, 0.4, 23.0, 3.0, 2.0) == pytest.approx(0.72)

    def test_up_to_the_bend_exactly(self) -> None:
        """From 48 to 80 % take two hours, to the minute."""
        assert step(WEEK, 0.48, 23.0, 3.0, 2.0) == pytest.approx(0.8)

    def test_past_the_bend(self) -> None:
        """An hour past it: what is missing shrinks by exp(-20 * 0.8 / 0.2 / 100) = exp(-0.8)."""
        assert step(WEEK, 0.48, 23.0, 3.0, 3.0) == pytest.approx(1 - 0.2 * math.exp(-0.8))

    def test_a_smaller_current_bends_later(self) -> None:
        """10 A of 20 bend at 90 %: from 50 % the 8 % an hour last five hours."""
        assert step(WEEK, 0.5, 13.0, 3.0, 5.0) == pytest.approx(0.9)

    def test_more_drawn_than_given(self) -> None:
        """5 A short for four hours: 20 %; never under empty."""
        assert step(WEEK, 0.5, 1.0, 6.0, 4.0) == pytest.approx(0.3)
        assert step(WEEK, 0.1, 1.0, 6.0, 4.0) == 0.0

    def test_as_much_given_as_drawn_and_a_little_more(self) -> None:
        """Nothing moves; half an ampere more for ten hours is 0.8 * 5 / 100 = 4 %."""
        assert step(WEEK, 0.5, 6.0, 6.0, 10.0) == pytest.approx(0.5)
        assert step(WEEK, 0.5, 6.5, 6.0, 10.0) == pytest.approx(0.54)


class TestCurrents:
    """Monday is day 0; driving 08:00 to 10:00 on five days, sun 09:00 to 15:00, mains 18:00 to 21:00."""

    @pytest.mark.parametrize(
        ("day", "clock", "wanted"),
        [
            (0, 7.9, (False, 0.0, 2.0)),
            (0, 8.0, (True, 23.0, 3.0)),
            (4, 9.9, (True, 23.0, 3.0)),
            (4, 10.0, (False, 4.0, 2.0)),
            (5, 9.0, (False, 4.0, 1.0)),
            (0, 14.9, (False, 4.0, 2.0)),
            (0, 15.0, (False, 0.0, 2.0)),
            (0, 18.0, (False, 6.0, 2.0)),
            (6, 20.9, (False, 6.0, 1.0)),
            (0, 21.0, (False, 0.0, 2.0)),
            (0, 17.9, (False, 0.0, 2.0)),
        ],
    )
    def test_at_a_time(self, day: int, clock: float, wanted: tuple[bool, float, float]) -> None:
        assert currents(WEEK, day, clock) == wanted

    def test_mains_past_midnight(self) -> None:
        """Ten hours from 18:00 reach to 04:00."""
        long = Budget(**{name: getattr(WEEK, name) for name in Budget.__slots__} | {"mains_h": 10.0})
        assert currents(long, 0, 3.9)[1] == 6.0
        assert currents(long, 0, 4.0)[1] == 0.0

    def test_the_week_has_no_gaps(self) -> None:
        """Stretches follow one another to 168 h, and every change of current is an edge of one."""
        parts = segments(WEEK)
        assert parts[0][0] == 0
        for (begins, lasts, *_), (after, *_) in pairwise(parts):
            assert begins + lasts == pytest.approx(after)
        assert parts[-1][0] + parts[-1][1] == pytest.approx(168)
        for begins, lasts, sources, loads in parts:
            for share in (0.01, 0.5, 0.99):
                day, clock = divmod(begins + share * lasts, 24)
                assert currents(WEEK, int(day), clock)[1:] == (sources, loads)


class TestWeeks:
    def test_it_runs_down_on_the_day_it_does(self) -> None:
        """1 A short for ever from 100 Ah: 24 % a day; under 50 % after 50 h, on the third day."""
        budget = Budget(100.0, 1.0, 20.0, 0.8, 1.0, 1.0, 1.0, 0.0, 0.0, 0.0, 1.0, 5, 0.0)
        weeks = weeks_of(budget, 0.5)
        assert weeks.below_h is not None
        assert weeks.below_h == pytest.approx(50.0, abs=0.01)
        assert weeks.lowest == 0.0
        assert weeks.end == 0.0
        use = {"daily_ah": 30.0, "drive_h": 0.1, "drive_days": 1}
        text = next(item.text for item in found(job(use=use)).findings if item.id == "match.week")
        assert "on day 2" in text  # 30 of 110 Ah a day: under a half on the second day

    def test_it_runs_down_to_the_end_of_the_week(self) -> None:
        """A quarter of an ampere short for ever from 100 Ah: 42 % in its 168 hours, lowest at the last."""
        weeks = weeks_of(Budget(100.0, 1.0, 20.0, 0.8, 0.25, 0.25, 0.25, 0.0, 0.0, 0.0, 1.0, 5, 0.0), 0.5)
        assert (weeks.lowest, weeks.lowest_h, weeks.end) == pytest.approx((0.58, 168.0, 0.58))
        assert weeks.below_h == pytest.approx(200.0, abs=0.01)

    def test_it_keeps_up(self) -> None:
        """24 Ah a day against 46 A for two hours."""
        budget = Budget(100.0, 1.0, 50.0, 0.8, 1.0, 1.0, 1.0, 47.0, 0.0, 0.0, 2.0, 7, 0.0)
        weeks = weeks_of(budget, 0.5)
        assert weeks.below_h is None
        assert weeks.end > 0.6


class TestNeed:
    def test_the_floor(self) -> None:
        """(60 Ah / 0.85) / 3 h + 5 A of loads = 28.5 A; off it what the sun of 100 W * 0.9 / 14.4 V * 2 h = 12.5 Ah, from 9 to
        15, gives after 11, when it stands, and what the panel gives while driving, 40 % of 6.25 A."""
        use = {"daily_ah": 60.0, "drive_h": 3.0, "loads_driving_a": 5.0}
        assert daily_floor_a(job(use=use), solve(job(use=use))) == pytest.approx(60 / 0.85 / 3 + 5)
        sunny = job(use=use, solar={"panel_w": 100.0, "sun_h": 2.0, "share_driving": 0.4})
        sun_a = 100 * 0.9 / 14.4
        assert between_drives_ah(sunny) == pytest.approx(2 * sun_a * 4 / 6)
        floor = (60 - 2 * sun_a * 4 / 6 * 0.85) / 0.85 / 3 + 5 - 0.4 * sun_a
        assert daily_floor_a(sunny, solve(sunny)) == pytest.approx(floor)

    def test_a_panel_on_the_start_side_gives_the_auxiliary_nothing(self) -> None:
        """Neither in the day's sum nor in the week's."""
        use = {"daily_ah": 60.0, "drive_h": 3.0}
        astray = job(use=use, solar={"panel_w": 100.0, "sun_h": 2.0, "into": "start_side"})
        assert standing_ah(astray) == 0
        budget = budget_of(astray, solve(astray))
        assert budget is not None
        assert budget.sun_a == 0
        own = budget_of(job(use=use, solar={"panel_w": 100.0, "sun_h": 2.0}), solve(astray))
        assert own is not None
        assert own.sun_a == pytest.approx(100 * 0.9 / 14.4 * 2 / 6)

    def test_its_words(self) -> None:
        """Each figure as it is summed; what a unit takes while it stands only where it takes any."""

        def words(**changes: Any) -> dict[str, str]:
            use = {"daily_ah": 60.0, "drive_h": 3.0, "loads_driving_a": 5.0}
            figures = assess(job(use=use, **changes), remedies=False).figures
            return {key: figures[key].working for key in ("match.daily_floor_a", "energy.recover_h")}

        assert words()["match.daily_floor_a"].startswith("60 Ah / (0.85 · 3.0 h) + 5.0 A")
        # A maintainer gives the 85 mA that the start battery loses, at 85 %: 0.1 A for the 21 h it stands.
        kept = words(existing=[{"kind": "maintainer"}], vehicle=vehicle(standing_drain_ma=85.0))["match.daily_floor_a"]
        assert kept.startswith("(60 Ah + 2.1 Ah) / (0.85 · 3.0 h)")
        # From 40 % to the taper at 80 % of 110 Ah are 44 Ah; then ln(20 % / 5 %) times of the 22 Ah above it.
        taken = words(auxiliary=AGM)["energy.recover_h"]
        assert taken == "44.0 Ah / (20.0 A · 0.85) + 1.39 · 22.0 Ah / (20.0 A · 0.85) = 4.4 h"
        # At 20 A of the 50 A it takes, it bends where 8 % is missing: ln(8 % / 5 %) is under one.
        assert " + 0.47 · 22.0 Ah" in words(auxiliary=AGM | {"charge_limit_a": 50.0})["energy.recover_h"]
        assert " + " not in words(auxiliary=LFP | {"charge_limit_a": 20.0})["energy.recover_h"]


class TestAppliance:
    """A cold box of 120 W by a converter (88 %), at the lower of 13.9 and 14.2 V: 9.81 A."""

    def fed(self, **load: Any) -> Design:
        whole = {"name": "cold box", "power_w": 120.0, "fed": "converter", "wire_m": 4.0} | load
        return job(use={"loads": [{"id": "l1"} | whole]})

    def test_its_cable(self) -> None:
        """3 % of 12 V nominal, as of any run, are 0.36 V, at 9.81 A 36.7 mΩ over 8 m: 4.59 mΩ/m at 50 °C. 2.5 mm² has 7.98 *
        1.118 = 8.92, 4 mm² 4.95 * 1.118 = 5.53, 6 mm² 3.30 * 1.118 = 3.69: 6 mm² it is, at 2.41 %."""
        feed = feed_for(Context.of(self.fed()), self.fed().use.loads[0])
        assert feed is not None
        assert feed.input_a == pytest.approx(120 / (0.88 * 13.9))
        assert feed.size.size == "6 mm²"
        assert feed.drop_percent == pytest.approx(2.41, abs=0.04)
        assert feed.device.rating_a >= 1.25 * feed.input_a

    def test_its_device_breaks_what_a_battery_beside_it_can_give(self) -> None:
        """A short circuit at the post itself meets the start battery's own resistance alone."""
        large = vehicle(start_battery={"chemistry": "agm", "capacity_ah": 200.0})
        made = self.fed().model_copy(update={"vehicle": design(vehicle=large).vehicle})
        feed = feed_for(Context.of(made), made.use.loads[0])
        assert feed is not None
        short_a = 12.85 / internal_ohm("agm", 200.0, 12)
        assert feed.device.interrupt_a(12) >= 0.9 * short_a
        small = feed_for(Context.of(self.fed()), self.fed().use.loads[0])
        assert small is not None
        assert small.device.interrupt_a(12) >= 0.9 * 12.7 / internal_ohm("flooded", 90.0, 12)

    @pytest.mark.parametrize(("hours", "level"), [(0.0, None), (3.0, "caution"), (4.0, "stop")])
    def test_standing_it_comes_out_of_the_start_battery(self, hours: float, level: str | None) -> None:
        """10.8 A at 12.6 V rested: three hours are 36 % of 90 Ah, four 48 %; 40 % are above the 60 % kept to crank."""
        levels = {item.id: item.level for item in found(self.fed(standing_h=hours)).findings}
        assert levels.get("match.appliance_parked.l1") == level
