"""A trip thinned for a picture keeps what matters; one moment of it stands on the level line as its sample says."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest

from olvask.core.model import Design
from olvask.core.simulate.machine import UnitState
from olvask.core.simulate.moment import moment_line
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.record import Sample, Trip
from olvask.core.simulate.report import report, thinned
from tests.designs import cable, design, fuse, plain


def sample(time_s: float, state: UnitState = "off", **changes: Any) -> Sample:
    """A moment at cruise."""
    values: dict[str, Any] = {"stage": "bulk", "engine": "cruise", "input_v": 13.6, "input_a": 20.0, "output_a": 16.0}
    values |= {"post_v": 14.0, "auxiliary_v": 14.2, "start_charge": 0.9, "auxiliary_charge": 0.5}
    return Sample(time_s=time_s, state=state, supply_c=30.0, unit_c=40.0, **(values | changes))


def trip_of(samples: list[Sample]) -> Trip:
    """A trip of these samples alone."""
    job = Design.model_validate(plain())
    found = report(job, read_programme("off 1 min\n"))  # any trip, for its class
    assert found.duration_s == 60
    made = Trip.__new__(Trip)
    object.__setattr__(made, "samples", samples)
    return made


class TestThinned:
    def test_few_are_left_alone(self) -> None:
        """As many as are wanted, to the one."""
        ten = [sample(float(at)) for at in range(10)]
        assert thinned(trip_of(ten), 10) == ten
        assert len(thinned(trip_of(ten), 9)) <= 10

    def test_every_change_is_kept_with_its_neighbour(self) -> None:
        """Of ten thousand moments, one in which the unit charges for two seconds: before, both, and after it remain."""
        many = [sample(float(at), "charging" if at in (5000, 5001) else "off") for at in range(10_000)]
        kept = {item.time_s for item in thinned(trip_of(many), 50)}
        assert {4999.0, 5000.0, 5001.0, 5002.0} <= kept
        assert {0.0, 9999.0} <= kept

    def test_the_rest_is_even_in_time(self) -> None:
        """Dense at first and sparse later, no gap in what remains is over twice the even share."""
        times = [at * 0.1 for at in range(5000)] + [500.0 + at * 10 for at in range(1, 200)]
        kept = [item.time_s for item in thinned(trip_of([sample(time) for time in times]), 60)]
        gaps = [after - before for before, after in pairwise(kept)]
        assert max(gaps) < 2 * times[-1] / 50
        assert 40 < len(kept) <= 64


class TestMoment:
    def test_charging(self) -> None:
        """Posts at the start of the line, the unit's volts at its end; 0.4 V lost by 20 A, whatever the run's own ohms."""
        line = moment_line(Design.model_validate(plain()), sample(0.0, "charging"))
        assert line.charging
        assert not line.collapsed
        assert (line.source_v, line.input_v, line.input_a) == (14.0, 13.6, 20.0)
        assert line.output_a == 16.0
        assert line.output_v is not None
        assert line.auxiliary_v == 14.2
        assert line.output_v > 14.2
        assert line.supply[-1].exit_v == pytest.approx(13.6, abs=0.35)
        falls = [piece.enter_v - piece.exit_v for piece in line.delivery]
        assert all(fall >= -1e-9 for fall in falls)
        assert line.delivery[-1].exit_v == pytest.approx(14.2, abs=0.06)

    @pytest.mark.parametrize(("state", "output_a"), [("off", 0.0), ("charging", 0.0), ("guarded", 16.0)])
    def test_nothing_flows(self, state: UnitState, output_a: float) -> None:
        """Off, guarded, or charging with nothing to give: one level, no output."""
        line = moment_line(Design.model_validate(plain()), sample(0.0, state, output_a=output_a))
        assert not line.charging
        assert line.output_v is None
        assert line.output_a is None
        assert line.source_v == 13.6
        assert {piece.enter_v for piece in line.delivery} == {piece.exit_v for piece in line.delivery} == {14.2}
        assert not line.alternator_limited


def test_a_moment_with_a_branch_behind_the_unit() -> None:
    """4 A to a lamp half way: what is lost behind it is lost by 12 of the 16 A, and the return ends at nothing."""
    lamp = {"kind": "branch", "name": "lamp", "current_a": 4.0, "size": "6 mm²", "device": fuse(10.0, "blade")}
    pieces = [cable("16 mm²", 1.5, id="c8"), lamp, cable("16 mm²", 1.5, id="c9"), fuse()]
    made = design(delivery={"pieces": pieces, "back": {"kind": "cable"}})
    line = moment_line(made, sample(0.0, "charging"))
    lost = [piece.enter_v - piece.exit_v for piece in line.delivery if piece.place in ("c8", "c9")]
    assert lost[1] / lost[0] == pytest.approx(12 / 16, rel=0.02)
    assert line.delivery[-1].return_exit_mv == pytest.approx(0.0, abs=1e-6)


def test_totals_in_minutes() -> None:
    """Two minutes of charging with the engine off are two minutes, and what never charged has no warmest hour."""
    ways = {"ways": ["bridge"]}
    trip = report(Design.model_validate(plain(activation=ways)), read_programme("off 2 min\n"))
    assert trip.totals.engine_off_charging_min == pytest.approx(trip.totals.charging_min)
    assert trip.totals.charging_min <= 2.0
    still = report(Design.model_validate(plain(activation={"ways": ["d_plus"]})), read_programme("off 2 min\n"))
    assert still.totals.charging_min == 0
    assert still.totals.hottest_unit_c is None
    assert still.totals.hottest_supply_c is None
