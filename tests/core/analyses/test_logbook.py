"""A drift is found before it matters, scatter is not taken for one, and the date is that of a line by hand."""

from __future__ import annotations

import random
from collections.abc import Sequence

import pytest

from olvask.core.analyses.logbook import SPREAD, Followed, Noted, Trend, trends_of
from olvask.core.circuit.context import Context
from olvask.core.physics.alternator import draw
from olvask.core.physics.dc_path import Collapse
from olvask.store.demo import demo_designs
from tests.core.analyses.test_recommended import survey
from tests.designs import design, vehicle

CTX = Context.of(next(design for heading, design in demo_designs() if heading.code == "KV-118"))


def trend(
    key: Followed, rows: Sequence[tuple[float, float]], changed: Sequence[float] = (), ctx: Context = CTX
) -> Trend:
    (found,) = trends_of(ctx, {key: [Noted(day=day, value=value) for day, value in rows]}, changed)
    return found


def test_a_growing_loop_is_told_with_when_it_matters() -> None:
    """8.5 mΩ and a fifth more every 30 days, read exactly: the limit over the slope by hand, in days from the last reading."""
    found = trend("loop_mohm", [(day, 8.5 + 0.2 * day / 30) for day in (0, 90, 180, 270, 360)])
    assert found.per_month == pytest.approx(0.2 * 30.44 / 30, rel=1e-6)
    assert found.limit is not None
    assert found.in_days == pytest.approx((found.limit - 10.9) / (0.2 / 30), rel=1e-6)
    assert found.level == "caution"
    assert "months" in found.text


@pytest.mark.parametrize("seed", range(60))
def test_with_the_loop_beyond_its_limit_the_unit_lets_go_and_before_it_not(seed: int) -> None:
    """The circuit solved with a little less and a little more: more current flows than today, for the unit's power stays."""
    ctx = Context.of(survey(random.Random(seed))[0])
    limit, idle, output = trend("loop_mohm", [(0, 5.0)], ctx=ctx).limit, ctx.solved.running[0], ctx.solved.output
    assert output is not None
    lets_go_v = ctx.linger_v if "voltage" in ctx.design.activation.ways else ctx.hold_v

    def terminal_v(mohm: float) -> float:
        try:
            there = draw(idle.source, mohm / 1000, output.power_in_w, idle.run.first_extra_a, idle.run.branch_v)
        except Collapse:
            return 0.0
        return there.terminal_v

    if limit is None:
        assert terminal_v(0.01) <= lets_go_v
    else:
        assert terminal_v(limit * 0.999) >= lets_go_v >= terminal_v(limit * 1.001)


BEFORE = [(day, 8.5 + 0.4 * day / 30) for day in (0, 90, 180, 270)]


@pytest.mark.parametrize(
    ("after", "changed", "begins"),
    [
        ([(280, 8.5), (370, 8.5), (460, 8.5)], [275], 280),  # mended: steady since
        ([(280, 8.5)], [275], 280),  # once read since: no line yet
        ([(280, 8.5), (370, 8.5), (460, 8.5)], [], 0),  # nobody noted a change
        ([(360, 13.3), (450, 14.5)], [300], 0),  # a change that changed nothing here: it grows on
        ([(280, 8.5), (370, 8.5), (460, 4.0), (550, 4.0)], [275, 400, 300], 460),  # the last of three that shows
        ([(280, 8.5), (370, 8.5), (460, 8.5)], [900], 0),  # nothing was read since
    ],
)
def test_a_line_begins_anew_where_a_change_that_was_noted_shows(
    after: list[tuple[float, float]], changed: list[float], begins: float
) -> None:
    """A loop grew by 0.4 mΩ a month; what was read before it was mended is of another vehicle."""
    found = trend("loop_mohm", BEFORE + after, changed)
    assert found.begins == begins
    assert ("left out" in found.text) is (begins > 0)
    assert len(found.points) == len(BEFORE) + len(after)
    if begins > 0:
        assert found.in_days is None


def test_scatter_of_a_day_is_no_step() -> None:
    """Of two hundred steady vehicles, each changed in the midst of it, hardly any begins anew."""
    pick, anew = random.Random(3), 0
    for _ in range(200):
        share, digits = SPREAD["loop_mohm"]
        rows = [(day, pick.gauss(8.5, share * 8.5 + digits)) for day in range(0, 720, 90)]
        anew += trend("loop_mohm", rows, [400.0]).begins > 0
    assert anew / 200 <= 0.05


@pytest.mark.parametrize(
    ("chemistry", "system_v", "rest_v", "level"),
    [("flooded", 12, 12.1, "stop"), ("lfp", 12, 13.1, ""), ("lfp", 12, 12.9, "stop"), ("flooded", 24, 24.2, "stop")],
)
def test_a_lithium_start_battery_is_low_at_other_volts(
    chemistry: str, system_v: int, rest_v: float, level: str
) -> None:
    """13.1 V are half of it by the table, and within 0.1 V of nearly full: nothing that it could be told by."""
    battery = {"chemistry": chemistry, "capacity_ah": 90.0}
    made = vehicle(system_v=system_v, start_battery=battery, readings={})
    found = trend("rest_start_v", [(0, rest_v)], ctx=Context.of(design(vehicle=made, charger=None)))
    assert found.level == level


def test_scatter_is_no_drift() -> None:
    """Two hundred steady vehicles read with the meter's own error: hardly any is said to drift."""
    pick, accused = random.Random(8), 0
    for _ in range(200):
        share, digits = SPREAD["standby_ma"]
        rows = [(day, pick.gauss(28.0, share * 28 + digits)) for day in range(0, 720, 90)]
        accused += trend("standby_ma", rows).in_days is not None
    assert accused / 200 <= 0.05


CASES: list[tuple[Followed, list[tuple[float, float]], str]] = [
    ("rest_start_v", [(0, 12.7), (1, 12.7)], "third reading"),
    ("rest_start_v", [(0, 12.7), (200, 12.68), (400, 12.71)], "steady"),
    ("standby_ma", [(0, 30.0), (100, 900.0)], "see to it now"),
    ("capacity_ah", [(0, 200.0), (400, 190.0), (800, 181.0), (1200, 156.0)], "counts as worn"),
]


@pytest.mark.parametrize(("key", "rows", "words"), CASES)
def test_each_case_has_its_sentence(key: Followed, rows: list[tuple[float, float]], words: str) -> None:
    """Too few, steady, past its limit, on the way there."""
    assert words in trend(key, rows).text
