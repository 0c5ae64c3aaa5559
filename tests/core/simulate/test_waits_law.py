"""What a unit may never do sooner than its own waits let it, whatever vehicle is driven through whatever day.

Waits are what keeps a vehicle from hunting: one that is passed over now and then, by where a step happens to end, makes
starts out of nothing. Held here against every event of days nobody planned.
"""

from __future__ import annotations

import random
from typing import Any

import pytest

from olvask.core.model import Design
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.trip import Trial
from tests.core.analyses.test_recommended import survey

SEEDS = range(340, 400)  # three of them hunt by the guard on posts that rise, where one passed over its wait
CLOSE_S = 0.11  # a threshold that is crossed is met this closely
AGAIN_S = 60.0


def set_somehow(pick: random.Random, job: Design) -> Design:
    """The same job, its unit set to charge by whatever somebody might key."""
    scale, capacity_ah = job.auxiliary.nominal_v / 12, job.auxiliary.capacity_ah
    charge: dict[str, Any] = {
        "after": pick.choice((None, "float", "rest", "pulses")),
        "absorption_h": pick.choice((None, 0.0, 0.1, 4.0)),
        "tail_a": pick.choice((None, 0.0, 0.3 * capacity_ah)),
        "bulk_h": pick.choice((None, None, 0.05, 0.5)),
        "rebulk_v": pick.choice((None, round(pick.uniform(12.0, 13.6) * scale, 2))),
    }
    whole = job.model_dump(mode="json")
    return Design.model_validate(whole | {"charge": whole["charge"] | charge})


def hard_day(pick: random.Random, capacity_ah: float) -> Programme:
    """Hours of loads from none to the whole battery's, engine on and off, warm and cold."""
    stretches = []
    for _ in range(pick.randint(2, 4)):
        engine = pick.choice(("off", "idle", "cruise", "low"))
        load_a = capacity_ah * pick.choice((0.0, 0.0, 0.03, 0.1, 0.3, 1.0))
        sun_w, air_c = pick.choice((0.0, 0.0, 400.0)), pick.choice((None, None, -15.0, 35.0))
        on = {"load_a": load_a, "sun_auxiliary_w": sun_w, "sun_start_w": pick.choice((0.0, 0.0, 50.0))}
        stretches.append(Stretch(engine, 3600.0, engine != "off", ambient_c=air_c, **on))  # type: ignore[arg-type]
    return Programme(tuple(stretches), pick.uniform(0.4, 1.0), pick.uniform(0.05, 1.0))


def passed_over(trial: Trial) -> list[str]:
    """Waits that something came before."""
    rule, wrong = trial.settings, []
    start_s = min(item.held_s for item in rule.start_rules) if "voltage" in rule.ways else 0.0
    stop_s = min(item.held_s for item in rule.stop_rules)
    last: dict[str, float] = {}
    for event in trial.run().events:
        for what, after, least_s in (
            ("start", "back", start_s),
            ("start", "stop", start_s),
            ("back", "guard", rule.guard_least_s),
            ("bulk", "float", AGAIN_S),
            ("bulk", "start", AGAIN_S),
        ):
            if event.what == what and after in last and event.time_s - last[after] < least_s - CLOSE_S:
                wrong.append(f"{what} {event.time_s - last[after]:.3f} s after {after}, at {event.time_s:.1f} s")
        if event.what == "stop" and "under" in event.text and event.time_s - last["start"] < stop_s - CLOSE_S:
            wrong.append(f"stopped {event.time_s - last['start']:.3f} s after it started, at {event.time_s:.1f} s")
        if event.what == "collapse" and last.get("collapse", -1.0) > last.get("start", -0.5):
            wrong.append(f"collapsed twice in one start, at {event.time_s:.1f} s")
        last[event.what] = event.time_s
    return wrong


@pytest.mark.parametrize("part", range(4))
def test_no_wait_is_passed_over(part: int) -> None:
    """Starts, stops, returns of the guard, charges begun anew and collapses: none sooner than its wait."""
    for seed in SEEDS[part::4]:
        pick = random.Random(f"waits {seed}")
        job = set_somehow(pick, survey(pick)[0])
        assert not passed_over(Trial(job, hard_day(pick, job.auxiliary.capacity_ah))), seed
