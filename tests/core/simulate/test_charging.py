"""What charges a battery, by its mechanism: scenarios with their reasons, each held against small steps of another hand."""

from __future__ import annotations

import json
import math
import os
import random
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest

from olvask.core.simulate.batteries import Cell
from olvask.core.simulate.charging import charged, falling_root
from olvask.core.simulate.profile import Profile
from olvask.core.simulate.sources import Bank, Charge, Draw, Source
from tests.oracles.charging import stepped

CASES: list[dict[str, Any]] = json.loads((Path(__file__).parent / "charges.json").read_text(encoding="utf-8"))


def source(key: str, given: dict[str, Any]) -> Source:
    """A source of a scenario as the core takes it."""
    profile = Profile(
        given["absorb"],
        given["float"],
        given["again"],
        given["hours"] * 3600,
        given.get("adaptive", False),
        given["tail"],
        rests=given.get("rests", False),
        bulk_s=given.get("cap", math.inf) * 3600,
        equalise_v=given.get("equalise", 0.0),
        pulses=given.get("pulses", False),
    )
    return Source(
        key,
        given["amps"],
        given["lead"],
        profile,
        rated_at_v=given.get("rated_at", 0.0),
        back_off_v=given.get("back_off", 0.0),
        derating_percent_per_k=given.get("derates", 0.0),
        rated_ambient_c=given.get("ambient", 40.0),
        compensation_mv_per_k=given.get("mv_per_k", 0.0),
        sensor=True,
        cold_c=given.get("cold", -math.inf),
        sun_s=given.get("sun", 0.0) * 3600,
    )


def run(case: dict[str, Any]) -> Charge:
    """A scenario by the core."""
    battery, celsius = case["battery"], case.get("celsius", 25.0)
    cell = Cell(battery["chemistry"], battery["ah"], battery.get("volts", 12), battery["limit"], battery["absorb"])
    bank = Bank(cell, celsius, celsius, opens_v=battery.get("opens", math.inf), least_c=battery.get("cold", -math.inf))
    draws = [Draw(begin * 3600, end * 3600, amps) for begin, end, amps in case.get("loads", [])]
    sources = [source(f"s{at}", given) for at, given in enumerate(case["sources"])]
    return charged(sources, bank, case["from"], case["hours"] * 3600, draws)


def within(value: float | None, band: list[float] | None) -> bool:
    """Whether hours lie in a band, or are never reached where none is."""
    return value is None if band is None else value is not None and band[0] <= value <= band[1]


def by_the_hour(found: Charge, hour: int) -> float:
    """The charge at a full hour, along the line between the samples around it."""
    at = next(n for n, time in enumerate(found.times_s) if time >= hour * 3600 - 1e-6)
    before = max(0, at - 1)
    span = found.times_s[at] - found.times_s[before]
    share = 1.0 if span == 0 else (hour * 3600 - found.times_s[before]) / span
    return found.charge[before] + (found.charge[at] - found.charge[before]) * share


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_a_source_does_what_its_mechanism_does(case: dict[str, Any]) -> None:
    """As reasoned by hand in the scenario's own words."""
    found = run(case)
    assert case["end"][0] - 1e-6 <= found.charge[-1] <= case["end"][1] + 1e-6
    hours = {share: at / 3600 for share in (0.8, 0.95) if (at := found.reaches(share)) is not None}
    assert within(hours.get(0.95), case["h95"]), hours
    if "h80" in case:
        assert within(hours.get(0.8), case["h80"]), hours
    assert case["stage"] in ("any", found.stages[-1][0])
    assert (found.opened_s is not None) == case.get("opened", False)


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_it_agrees_with_small_steps_of_another_hand(case: dict[str, Any]) -> None:
    """Charge at every full hour within 1 % of capacity, hours to 50, 80 and 95 % within 2 %; the same end."""
    case = case | {"hours": min(case["hours"], 12)}
    found, theirs = run(case), stepped(case)
    for hour, charge in enumerate(theirs.hourly):
        assert by_the_hour(found, hour) == pytest.approx(charge, abs=0.01), hour
    for share, hours in theirs.reached_h.items():
        reached = found.reaches(share)
        assert reached is not None
        assert reached / 3600 == pytest.approx(hours, rel=0.02, abs=0.02)
    assert (found.opened_s is not None) == theirs.opened


FLOAT_V = {"flooded": 13.6, "agm": 13.6, "gel": 13.5, "lfp": 13.5}
ABSORBS_V = {"flooded": 14.4, "agm": 14.5, "gel": 14.1, "lfp": 14.2}


def drawn(pick: random.Random) -> dict[str, Any]:
    """A scenario of any kind: one to three sources with any of the habits they can have, on any battery, with a load or none."""
    chemistry, blocks, ah = pick.choice(sorted(ABSORBS_V)), pick.choice([1, 1, 2]), pick.choice([60, 110, 200, 300])
    sources = []
    for _ in range(pick.choice([1, 1, 2, 3])):
        absorb = blocks * (ABSORBS_V[chemistry] + pick.uniform(-0.3, 0.1))
        one = {"amps": pick.uniform(5, 60), "lead": pick.uniform(0.002, 0.03), "absorb": absorb}
        one |= {"float": blocks * (FLOAT_V[chemistry] + pick.uniform(-0.2, 0.1)), "hours": pick.uniform(0.3, 4)}
        one |= {"again": blocks * (pick.uniform(13.0, 13.2) if chemistry == "lfp" else pick.uniform(12.2, 12.6))}
        one |= {"tail": pick.choice([0, 0.02, 0.05]) * ah}
        habits: list[dict[str, Any]] = [
            {"adaptive": True},
            {"rests": True},
            {"rests": True, "pulses": True},
            {"cap": pick.uniform(1, 5)},
            {"equalise": absorb + 0.8 * blocks},
            {"derates": pick.uniform(1, 4), "ambient": pick.choice([20, 30, 40])},
            {"sun": pick.uniform(8, 14)},
            {"mv_per_k": -24.0 * blocks},
            {"cold": pick.choice([0, -10])},
            {"rated_at": blocks * pick.uniform(12.5, 13.8)},
            {"back_off": absorb - blocks * pick.uniform(0.3, 1.2)},
        ]
        for habit in pick.sample(habits, pick.randint(0, 4)):
            one |= habit
        if "back_off" in one:  # its absorption begins within a margin that takes hours
            one |= {"rests": False, "pulses": False}
        sources.append(one)
    battery = {"chemistry": chemistry, "ah": ah, "volts": 12 * blocks, "absorb": blocks * ABSORBS_V[chemistry]}
    battery["limit"] = ah * pick.choice([0.25, 0.4, 1])
    begin, lasts = pick.uniform(0, 5), pick.uniform(0.5, 5)
    loads = [[begin, begin + lasts, pick.uniform(1, 30)]] if pick.random() < 0.5 else []
    return {
        "battery": battery,
        "from": pick.uniform(0.1, 0.95),
        "hours": 8,
        "celsius": pick.choice([25, 25, 5, -8, 40]),
        "sources": sources,
        "loads": loads,
    }


@pytest.mark.parametrize("seed", range(int(os.environ.get("OLVASK_EXAMPLES", "100")) // 3))
def test_whatever_charges_it_agrees_with_small_steps_of_another_hand(seed: int) -> None:
    """Charge at every hour within 0.6 % of capacity, absorption over within a step of a quarter of an hour, but where it begins anew all the time: there each of the other hand's
    beginnings waits for its next step."""
    case = drawn(random.Random(seed))
    found, theirs = run(case), stepped(case)
    if len(found.events) > 8 * len(case["sources"]):
        return
    for hour, charge in enumerate(theirs.hourly):
        assert by_the_hour(found, hour) == pytest.approx(charge, abs=0.006), hour
    for at, hours in theirs.absorbed_h.items():
        if "back_off" in case["sources"][at]:
            continue
        stages = [(time, stage) for time, key, stage in found.events if key == f"s{at}"]
        over = next((time for (_, before), (time, _) in pairwise(stages) if before == "absorption"), math.inf)
        assert over / 3600 == pytest.approx(hours, abs=0.25), at


def test_charge_given_is_charge_got() -> None:
    """What the sources gave, less the loads, times what the battery keeps, is what it gained, in every scenario."""
    for case in CASES:
        found = run(case)
        kept = {"lfp": 0.99, "agm": 0.85, "gel": 0.85, "flooded": 0.80}[case["battery"]["chemistry"]]
        got = 0.0
        for at in range(1, len(found.times_s)):
            seconds = found.times_s[at] - found.times_s[at - 1]
            middle = (found.times_s[at] + found.times_s[at - 1]) / 2
            load = sum(amps for begin, end, amps in case.get("loads", []) if begin * 3600 <= middle < end * 3600)
            given, before = sum(found.amps[at]), sum(found.amps[at - 1])
            steady = found.stages[at] == found.stages[at - 1]  # a stage begun at the end of a step gave nothing in it
            net = ((given + before) / 2 if steady else before) - load
            got += net * (kept if net > 0 else 1.0) * seconds / 3600 / case["battery"]["ah"]
        assert found.charge[-1] - case["from"] == pytest.approx(got, abs=0.02), case["name"]


def test_more_resistance_in_the_lead_never_fills_sooner() -> None:
    """For any source without loads: the thicker lead reaches every share no later."""
    pick = random.Random(7)
    for _ in range(60):
        case = json.loads(
            json.dumps(pick.choice([item for item in CASES if "loads" not in item and len(item["sources"]) == 1]))
        )
        thin, thick = pick.uniform(0.01, 0.06), 0.0
        case["sources"][0]["lead"], case["sources"][0]["adaptive"], thick = thin, False, thin / pick.uniform(1.5, 6)
        slow = run(case)
        case["sources"][0]["lead"] = thick
        quick = run(case)
        for share in (0.5, 0.8, 0.95):
            late, soon = slow.reaches(share), quick.reaches(share)
            if late is not None and quick.opened_s is None:
                assert soon is not None
                assert soon <= late + 60, case["name"]


@pytest.mark.parametrize("slope", [0.01, 1.0, 250.0])
def test_the_root_of_what_falls_is_found(slope: float) -> None:
    """A line that falls to 3, then two thousand times as steep: its root lies where the steep part meets zero."""

    def function(at: float) -> float:
        return slope * (3.2 - at) if at < 3 else slope * 0.2 - 2000 * slope * (at - 3)

    assert falling_root(function, 0.0, 20.0) == pytest.approx(3 + 0.2 / 2000, abs=1e-4)


def test_a_source_warms_up_in_half_an_hour() -> None:
    """In 45 °C, rated at 25 °C, 2.5 %/K lost: all of its 40 A until a fifth of 25 K, after 1,800 s · ln(1 / 0.8) = 402 s.

    Then heat h follows dh/dt = (1.125 − 1.625 h) / 1,800 s towards 0.692: 0.553 after half an hour, 31.2 A.
    """
    hot = {"amps": 40, "lead": 0.004, "absorb": 14.2, "float": 13.5, "again": 13.2, "hours": 0.5, "tail": 5}
    pack = {"chemistry": "lfp", "ah": 200, "limit": 100, "absorb": 14.2}
    case = {"battery": pack, "from": 0.2, "hours": 0.5, "celsius": 45}
    found = run(case | {"sources": [hot | {"ambient": 25, "derates": 2.5}]})
    by_time = dict(zip(found.times_s, (amps[0] for amps in found.amps), strict=True))
    assert {amps for when, amps in by_time.items() if when < 400} == {40.0}
    assert all(amps < 40.0 for when, amps in by_time.items() if when > 440)
    end = 0.6923 - (0.6923 - 0.2) * math.exp(-1.625 * (1800 - 401.7) / 1800)
    assert by_time[1800.0] == pytest.approx(40 * (1 - 0.025 * (25 * end - 5)), abs=0.15)


def test_what_rests_cools_down() -> None:
    """Warmed for half an hour as above, then at rest: h falls by exp(−t / 1,800 s), so that after an hour and a half, where
    a load pulls the battery down, it begins anew at 0.553 · exp(−3) = 0.0275 of its warmth, all of its 40 A, as when cold."""
    pack = {"chemistry": "lfp", "ah": 200, "limit": 100, "absorb": 14.2}
    hot = {"amps": 40, "lead": 0.004, "absorb": 14.2, "float": 13.5, "again": 13.1, "hours": 0.5, "tail": 5}
    hot |= {"ambient": 25, "derates": 2.5, "rests": True, "cap": 0.5}
    found = run({"battery": pack, "from": 0.4, "hours": 3, "celsius": 45, "sources": [hot], "loads": [[2, 3, 60]]})
    again_s = next(when for when, _, stage in found.events if stage == "bulk")
    at = found.times_s.index(next(when for when in found.times_s if when >= again_s))
    assert 2 * 3600 <= again_s < 2.1 * 3600
    assert found.amps[at] == (40.0,)


def test_a_source_without_a_derating_gives_all_of_it_in_the_heat() -> None:
    """None is noted of it: 20 A at 40 °C and at 70 °C alike, into a battery that takes far more."""
    profile = Profile(14.4, 13.6, 12.8, 3600.0, False, 1.0)
    given = []
    for air_c in (40.0, 70.0):
        bank = Bank(Cell("agm", 500.0, 12, 250.0, 14.4), 25.0, air_c)
        given.append(charged([Source("s", 20.0, 0.0, profile)], bank, 0.3, 3600.0, []).amps[0][0])
    assert given == pytest.approx([20.0, 20.0])


def test_a_load_pulls_a_cold_battery_further_down() -> None:
    """20 A beyond a source of hardly any: at 0 °C lithium has twice the ohms it has at 25 °C, and falls twice as far."""
    fallen = []
    for celsius in (25.0, 0.0):
        cell = Cell("lfp", 100.0, 12, 50.0, 14.2)
        weak = Source("s", 0.01, 0.0, Profile(14.2, 13.5, 13.2, 3600.0, False, 1.0))
        volts = charged([weak], Bank(cell, celsius, celsius), 0.5, 60.0, [Draw(0.0, 60.0, 20.0)]).volts[0]
        fallen.append(cell.ocv(0.5) - volts)
    assert fallen[1] == pytest.approx(2 * fallen[0], rel=0.02)
