"""Random days in both simulators: the core's and the fixed tick written apart, start side and all.

Equal starts, ampere-hours and charges within a hundredth; or the difference is a tie: with every threshold a few
millivolts off, the core's own answer is the other's. `make check-days` drives five hundred.
"""

from __future__ import annotations

import os
import random
from dataclasses import replace

import pytest

from olvask.core.circuit.solve import solve
from olvask.core.circuit.thresholds import Rule
from olvask.core.model import Design
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.record import Trip
from olvask.core.simulate.trip import drive
from tests.designs import cable, design, fuse, vehicle
from tests.oracles.brute import Fixed, brute

TWINS = int(os.environ.get("OLVASK_TWINS", "8"))
TIES_V = (0.0, 0.005, -0.005, 0.012, -0.012)
TICK_S = 0.2


def pair(pick: random.Random) -> tuple[Design, Programme]:
    """A vehicle with low phases and a panel on the start side, and an hour or two of its life."""
    rest_v = pick.uniform(12.45, 12.75)
    idle_v = pick.uniform(13.4, 14.3)
    job = design(
        vehicle=vehicle(
            alternator={"rated_a": pick.choice((90.0, 150.0)), "regulation": "managed", "loads_idle_a": 15.0, "loads_cruise_a": 25.0, "sag_mohm": 2.0, "hot_idle_share": 0.6},
            start_battery={"chemistry": pick.choice(("flooded", "agm")), "capacity_ah": pick.choice((60.0, 90.0))},
            readings={"rest_v": rest_v, "after_stop_v": rest_v + pick.uniform(0.05, 0.3), "idle_v": idle_v, "cruise_v": idle_v + 0.1, "low_phase_v": pick.uniform(12.2, 13.2), "low_phase_s": 90.0},
            lifters=[{"kind": "solar", "lifts_to_v": 13.6}],
        ),
        auxiliary={"chemistry": pick.choice(("flooded", "agm", "gel", "lfp")), "capacity_ah": pick.choice((80.0, 160.0)), "absorption_v": 14.3, "charge_limit_a": 40.0},
        supply={"pieces": [fuse(60.0), cable(pick.choice(("10 mm²", "16 mm²", "25 mm²")), pick.uniform(1.5, 5.0))]},
        activation={"ways": [pick.choice(("voltage", "voltage", "d_plus"))], "start_v": round(pick.uniform(13.0, 13.6), 2), "stop_v": round(pick.uniform(12.7, 13.2), 2), "guard_v": round(pick.uniform(11.9, 12.3), 2), "back_v": 13.0},
    )  # fmt: skip
    stretches = []
    for _ in range(pick.randint(3, 7)):
        engine = pick.choice(("off", "idle", "cruise", "cruise", "low"))
        sun_w = pick.choice((0.0, 0.0, 40.0)) if engine == "off" else 0.0
        seconds = pick.choice((60, 240, 900)) * pick.uniform(0.5, 1.5)
        stretches.append(Stretch(engine, round(seconds / TICK_S) * TICK_S, engine != "off", sun_start_w=sun_w))  # type: ignore[arg-type]
    return job, Programme(tuple(stretches), pick.uniform(0.6, 0.97), pick.uniform(0.2, 0.9))


def agree(ours: Trip, theirs: Fixed) -> bool:
    """Equal starts; ampere-hours out and the start battery's least charge within a hundredth.

    Each cycle of a day that hunts adds the tick's own delay: there one start more or less, and a twentieth.
    """
    hunted = len(theirs.starts) > 6
    if abs(ours.starts - len(theirs.starts)) > (1 if hunted else 0):
        return False
    near = pytest.approx(theirs.output_ah, rel=0.05 if hunted else 0.01, abs=0.02)
    return bool(ours.charged_ah == near) and abs(ours.lowest_start_charge - theirs.lowest_start) < 0.01


@pytest.mark.parametrize("part", range(4))
def test_both_simulators_say_the_same(part: int) -> None:
    """Over random days the two agree, or differ by a tie that a few millivolts settle."""
    wrong: list[str] = []
    ties = days = 0
    for seed in range(part, TWINS, 4):
        job, day = pair(random.Random(seed))
        solved = solve(job)
        at, theirs = settings_of(job, solved), brute(job, day, TICK_S)
        days += 1
        for off_v in TIES_V:
            moved = replace(
                at,
                start_rules=tuple(Rule(rule.volts + off_v, rule.held_s) for rule in at.start_rules),
                stop_rules=tuple(Rule(rule.volts + off_v, rule.held_s) for rule in at.stop_rules),
                guard_v=at.guard_v + off_v,
                back_v=at.back_v + off_v,
            )
            ours = drive(job, day, moved, solved)
            if agree(ours, theirs):
                ties += off_v != 0
                break
        else:
            ours = drive(job, day, at, solved)
            wrong.append(
                f"{seed}: {ours.starts} starts {ours.charged_ah:.3f} Ah {ours.lowest_start_charge:.4f}, by the tick "
                f"{len(theirs.starts)} {theirs.output_ah:.3f} Ah {theirs.lowest_start:.4f}"
            )
    print(f"{days} days, {ties} ties, {len(wrong)} disagreements")
    assert not wrong, "\n".join(wrong[:20])
