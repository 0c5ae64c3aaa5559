"""What is recommended holds in the simulator: random surveys, the recommended way taken, ways out applied blindly."""

from __future__ import annotations

import os
import random
from collections import Counter
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.programme import Programme, read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.report import hunts
from olvask.core.simulate.trip import drive
from olvask.core.stages.wake.method import advise
from tests.designs import cable, charger, design, fuse, vehicle
from tests.oracles.brute import brute

SURVEYS = int(os.environ.get("OLVASK_SURVEYS", "120"))
EVERY = "OLVASK_SURVEYS" in os.environ  # the long form drives each in both simulators
BATCH = 20
DAY = """begin start {charge} % auxiliary 40 %
off 20 min ignition off{sun}
crank 2 s
idle 10 min
cruise 25 min
{phases}off 30 min ignition off
crank 2 s
cruise 12 min
off 2 h ignition off{sun}
"""
PHASES = "repeat 2\ncruise 5 min\nlow {seconds:.0f} s\nend\ncruise 5 min\n"


AUXILIARY = {"flooded": (14.6, 0.2), "agm": (14.5, 0.25), "gel": (14.2, 0.2), "lfp": (14.2, 0.5)}


def unit(pick: random.Random, start_scale: int, auxiliary_scale: int) -> dict[str, Any]:
    """A unit nobody has seen: power, limits, enables, thresholds or none, delays as its manual allows."""
    adjustable = pick.random() < 0.9
    limit = pick.choice(("continuous", "continuous", "steps", "none"))
    amps = float(pick.choice((12, 18, 25, 30, 40, 50)) // auxiliary_scale)
    found = charger(
        isolated=pick.random() < 0.5,
        input_nominal_v=12 * start_scale,
        output_nominal_v=12 * auxiliary_scale,
        output_a=amps,
        current_limit=limit,
        limit_steps_a=[round(amps * share, 1) for share in (0.3, 0.5, 0.75)] if limit == "steps" else [],
        limit_min_a=round(amps * 0.2, 1) if limit == "continuous" else None,
        efficiency=round(pick.uniform(0.88, 0.95), 3),
        input_min_v=9.0 * start_scale,
        input_max_v=17.0 * start_scale,
        output_min_v=11.0 * auxiliary_scale,
        output_max_v=15.5 * auxiliary_scale,
        enables=["ignition", "d_plus", "remote", *(["voltage"] if adjustable else [])],
        settable=(10.5 * start_scale, 15.0 * start_scale, pick.choice((0.05, 0.1)) * start_scale)
        if adjustable
        else None,
    )
    if pick.random() < 0.4:
        found["stop_rules"]["held_most_s"] = pick.choice((60.0, 120.0, 300.0))
        found["start_rules"]["held_most_s"] = 60.0
    if not adjustable and pick.random() < 0.6:  # engine-run detection with thresholds of its own
        found["enables"].append("voltage")
        fixed = (
            ("start_rules", "fixed_v", 13.1, 13.3),
            ("stop_rules", "fixed_v", 12.7, 13.0),
            ("guard", "fixed_off_v", 11.8, 12.3),
        )
        for place, field, low_v, high_v in fixed:
            found[place][field] = round(pick.uniform(low_v, high_v) * start_scale, 1)
    if pick.random() < 0.3:
        found["behaviour"] = {"soft_start_s": pick.choice((4.0, 25.0))}
        found["guard"]["off_least_s"] = pick.choice((5.0, 30.0))
    if adjustable and pick.random() < 0.2:
        found["guard"]["compensated"] = True
    return found


def survey(pick: random.Random) -> tuple[Design, Programme]:
    """A vehicle nobody has seen: volts, cables, batteries, unit and signals at random, and a day that suits it."""
    scale, auxiliary_scale = pick.choice(((1, 1), (1, 1), (1, 1), (2, 2), (1, 2), (2, 1)))
    agm = pick.random() < 0.4
    rest = pick.uniform(12.40, 12.80) if agm else pick.uniform(12.35, 12.65)
    idle = pick.uniform(13.2, 14.4)
    managed = pick.random() < 0.4
    phase_s = pick.choice((45.0, 90.0, 150.0))
    lifted = pick.uniform(12.9, 13.6) if pick.random() < 0.25 else None
    readings = {
        "rest_v": rest,
        "after_stop_v": rest + pick.uniform(0.0, 0.35),
        "idle_v": idle,
        "cruise_v": idle + pick.uniform(-0.1, 0.4),
    }
    if managed:
        readings["low_phase_v"] = pick.uniform(12.3, 13.2)
    readings = {key: round(volts * scale, 2) for key, volts in readings.items()}
    if managed:
        readings["low_phase_s"] = phase_s
    found: dict[str, Any] = {
        "system_v": 12 * scale,
        "alternator": {
            "rated_a": float(pick.choice((90, 120, 150, 200))),
            "regulation": "managed" if managed else pick.choice(("fixed", "compensated")),
            "loads_idle_a": 15.0,
            "sag_mohm": pick.uniform(1.0, 4.0) * scale,
            "hot_idle_share": pick.uniform(0.5, 0.8),
        },
        "start_battery": {
            "chemistry": "agm" if agm else "flooded",
            "capacity_ah": float(pick.choice((60, 80, 110, 170))),
        },
        "readings": readings,
        "lifters": [] if lifted is None else [{"kind": "solar", "lifts_to_v": round(lifted * scale, 2)}],
        "signals": {"ignition": pick.random() < 0.6, "d_plus": pick.random() < 0.4},
    }
    chemistry = pick.choice(tuple(AUXILIARY))
    absorption_v, c_rate = AUXILIARY[chemistry]
    capacity_ah = float(pick.choice((80, 110, 160, 230)))
    job = design(
        vehicle=vehicle(**found),
        auxiliary={
            "chemistry": chemistry,
            "nominal_v": 12 * auxiliary_scale,
            "capacity_ah": capacity_ah,
            "charge_limit_a": c_rate * capacity_ah,
            "absorption_v": absorption_v * auxiliary_scale,
        },
        charger=unit(pick, scale, auxiliary_scale),
        supply={
            "pieces": [
                fuse(80.0),
                cable(pick.choice(("10 mm²", "16 mm²", "25 mm²", "35 mm²")), pick.uniform(1.5, 7.0)),
            ],
            "back": pick.choice(
                ({"kind": "cable"}, {"kind": "cable"}, {"kind": "chassis", "resistance_mohm": pick.uniform(1, 8)})
            ),
        },
    )
    # Charge by rested volts, between the table's rows: flooded 12.28 at 60 %, 12.48 at 80 %; AGM 12.40 and 12.62.
    low_v, high_v, full_v = (12.40, 12.62, 12.85) if agm else (12.28, 12.48, 12.70)
    charge = (
        0.6 + 0.2 * (rest - low_v) / (high_v - low_v)
        if rest < high_v
        else 0.8 + 0.2 * (rest - high_v) / (full_v - high_v)
    )
    phases = PHASES.format(seconds=phase_s) if managed else ""
    sun = "" if lifted is None else " sun 60 W on start"
    return job, read_programme(DAY.format(charge=round(charge * 100, 1), phases=phases, sun=sun))


def wrong(job: Design) -> list[Finding]:
    """What the Wake stage calls wrong."""
    return [item for item in assess(job, remedies=False).findings if item.stage == "wake" and item.level == "stop"]


def follow(job: Design, pick: random.Random) -> tuple[Design, list[str], bool]:
    """Take the recommended way; where none is sound any way out, again and again, as a user in a hurry would.

    Says also whether something was recommended in the end.
    """
    met: list[str] = []
    for _ in range(6):
        advice = advise(job)
        best = advice.methods[0]
        if best.verdict == "recommended":
            return apply(job, best.take), met, True
        if not advice.remedies:
            break
        met.append("mended")
        job = apply(job, pick.choice(advice.remedies))
    return job, met, False


def broken(job: Design, day: Programme, trip: Trip) -> list[str]:
    """Which promises a trip breaks."""
    broke = ["it hunts"] if hunts(trip) else []
    engines = [stretch.engine for stretch in day.stretches]
    if any(event.what == "start" and engines[event.stretch] in ("off", "crank") for event in trip.events):
        broke.append("it starts with the engine off")
    if any(event.what == "collapse" for event in trip.events):
        broke.append("the run collapses")
    # The keep is where the lockout is set, counted in charge; one percent for the cranking itself.
    floor = min(job.choices.keep_state_of_charge, day.start_charge) - 0.01
    if trip.lowest_start_charge < floor:
        broke.append(f"the start battery falls to {trip.lowest_start_charge:.0%}")
    begun = 0.0
    for stretch in day.stretches:
        end = begun + stretch.duration_s
        # Started within two minutes of healthy running, delay and soft start included.
        if stretch.engine in ("idle", "cruise") and stretch.duration_s >= 300.0:
            # A sample holds until the next: the last one before counts too.
            before = [item for item in trip.samples if item.time_s < begun + 120.0][-1:]
            inside = before + [item for item in trip.samples if begun + 120.0 <= item.time_s < end]
            if any(item.state != "charging" for item in inside):
                broke.append(f"not charging through {stretch.engine} at {begun / 60:.0f} min")
        begun = end
    return broke


def broken_at_a_tick(job: Design, day: Programme) -> list[str]:
    """The same promises in the simulator of the fixed tick."""
    fixed = brute(job, day, tick=1.0)
    engines = [stretch.engine for stretch in day.stretches]
    broke = ["it hunts at a fixed tick"] if fixed.hunts else []
    if any(engines[at] in ("off", "crank") for at in fixed.starts):
        broke.append("it starts with the engine off at a fixed tick")
    if fixed.lowest_start < min(job.choices.keep_state_of_charge, day.start_charge) - 0.01:
        broke.append(f"the start battery falls to {fixed.lowest_start:.0%} at a fixed tick")
    # Of each drive, a first stretch: the unit comes on in it.
    for first in (at + 1 for at, engine in enumerate(engines) if engine == "crank"):
        if first not in fixed.starts:
            broke.append(f"it does not start in {engines[first]} at a fixed tick")
    return broke


MET: Counter[str] = Counter()
ENOUGH = 40  # surveys, for shares to mean anything; tests run side by side see only their own


@pytest.mark.parametrize("batch", range(SURVEYS // BATCH))
def test_what_is_recommended_never_hunts_and_always_starts(batch: int) -> None:
    """Where nothing is called wrong, the day goes well: running it charges, parked it never starts, and it can crank."""
    failures: list[str] = []
    for seed in range(batch * BATCH, (batch + 1) * BATCH):
        pick = random.Random(seed)
        job, day = survey(pick)
        job, met, recommended = follow(job, pick)
        if not recommended:
            MET["nothing to recommend"] += 1
            continue
        MET.update(["mended" if met else "at once", *job.activation.ways])
        assert not wrong(job), (seed, [item.id for item in wrong(job)])
        broke = broken(job, day, drive(job, day))
        if EVERY or seed % 8 == 0:
            broke += broken_at_a_tick(job, day)
        if broke:
            failures.append(f"{seed}: {', '.join(broke)} after {met}, {job.activation}")
    assert not failures, "\n".join(failures)


def kept(document: dict[str, Any], day: Programme, pick: random.Random) -> Design | None:
    """What is recommended for a survey, having kept its promises on its day; `None` where nothing is."""
    job, _, recommended = follow(Design.model_validate(document), pick)
    if not recommended:
        return None
    assert not wrong(job)
    assert not broken(job, day, drive(job, day)), job.activation
    return job


@pytest.mark.parametrize("batch", range(2))
def test_the_same_of_hybrids(batch: int) -> None:
    """A ready feed or its volts: what is recommended charges while it is ready, and leaves one that is off alone."""
    for seed in range(8 * batch, 8 * batch + 8):
        pick = random.Random(f"hybrid {seed}")
        job, day = survey(pick)
        document = job.model_dump(mode="json")
        document["vehicle"]["drive"] = "converter"
        document["vehicle"]["signals"]["ignition"] = pick.random() < 0.8
        found = kept(document, day, pick)
        assert found is None or "d_plus" not in found.activation.ways


@pytest.mark.parametrize("batch", range(3))
def test_the_same_with_a_lithium_start_battery(batch: int) -> None:
    """Found at half charge it rests at 13.2 V; filled by a drive, at 13.5 V: what is recommended does not take that for running."""
    for seed in range(8 * batch, 8 * batch + 8):
        pick = random.Random(f"lithium {seed}")
        job, day = survey(pick)
        document = job.model_dump(mode="json")
        van = document["vehicle"]
        rest, idle = pick.uniform(13.15, 13.3), pick.uniform(13.7, 14.3)
        van["signals"] = {"ignition": False, "d_plus": False}
        found = {"rest_v": rest, "after_stop_v": rest + pick.uniform(0.0, 0.2), "idle_v": idle, "cruise_v": idle + 0.1}
        van["readings"] |= {key: round(volts * van["system_v"] / 12, 2) for key, volts in found.items()}
        van["start_battery"] = {"chemistry": "lfp", "capacity_ah": float(pick.choice((40, 60, 100)))}
        van["lifters"] = []
        phases = PHASES.format(seconds=60.0) if van["readings"].get("low_phase_v") else ""
        day = read_programme(DAY.format(charge=90.0, phases=phases, sun=""))
        kept(document, day, pick)


def test_the_surveys_were_not_all_easy() -> None:
    """Some were right at once, some had to be mended, few could not be; voltage and signal were both recommended."""
    seen = MET["at once"] + MET["mended"] + MET["nothing to recommend"]
    if seen < ENOUGH:
        pytest.skip("too few surveys were driven beside this test to say so")
    assert MET["at once"] >= seen * 0.2, MET
    assert MET["mended"] >= seen * (0.1 if seen >= SURVEYS else 0.05), MET  # half of them, run side by side, say less
    assert MET["nothing to recommend"] <= seen * 0.25, MET
    assert min(MET["voltage"], MET["d_plus"]) >= seen * 0.05, MET
