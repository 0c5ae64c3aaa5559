"""Vehicles with a device that logs, driven for days by the rig, and what of it anybody could see in the log.

- `made`: one vehicle's log and what really happened.
- `visible`: what of that shows in the columns, judged on them without their noise.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import Programme, Stretch
from olvask.rig.device_log import Layout, Recorded, Recorder, Stage, recorded, written
from olvask.rig.faults import Spoilt
from tests.broken import vehicle_of

ZONES = ("UTC", "America/St_Johns")
BEGINS_S = 1_772_000_000.0  # late in a February
MOMENTS = ("iso", "zulu", "dmy", "mdy_half", "epoch_s", "epoch_ms", "two_columns")


@dataclass(frozen=True)
class Made:
    """One log."""

    ctx: Context
    stages: tuple[Stage, ...]
    log: Recorded
    recorder: Recorder
    layout: Layout

    @property
    def text(self) -> str:
        """As a file."""
        return written(self.log, self.layout)


def made(pick: random.Random, days: int = 3) -> Made:
    """A vehicle as recommended, sometimes with something wrong from some day on, driven and logged."""
    ctx = _vehicle(pick)
    joint = pick.choice((0.0, 0.0, 0.004, 0.01, 0.02))
    leg = pick.choice(("supply_out", "delivery_out"))
    fault = Spoilt(
        extra_ohm={leg: joint},  # type: ignore[dict-item]
        limit_share=pick.choice((1.0, 1.0, 0.7)),
        held_share=pick.choice((1.0, 1.0, 0.95)),
    )
    cold_c = -12.0 if ctx.design.auxiliary.low_temperature_cut_off and pick.random() < 0.6 else 20.0
    hungry = pick.random() < HUNGRY
    stages = [Stage(_day(pick, ctx, cold_c, hungry), fault) for _ in range(11 if hungry else days)]
    whole_s = sum(stage.programme.duration_s for stage in stages)
    gaps = tuple(
        (at, at + pick.uniform(300, 7200)) for at in (pick.uniform(0, whole_s) for _ in range(pick.choice((0, 0, 2))))
    )
    recorder = Recorder(
        every_s=pick.choice((1.0, 2.0, 5.0, 10.0)),
        noise_v=pick.choice((0.005, 0.01, 0.02)),
        noise_a=pick.choice((0.05, 0.1, 0.2)),
        gain={name: pick.gauss(0, 0.0025 if name.endswith("_v") else 0.0075) for name in GAINS},  # type: ignore[misc]
        drift=pick.uniform(-5e-5, 5e-5),
        gaps=gaps,
    )
    log = recorded(ctx.design, stages, recorder, BEGINS_S, np.random.default_rng(pick.randrange(2**32)))
    layout = Layout(
        delimiter=pick.choice((";", "\t", "|")),
        decimal=pick.choice((".", ",")),
        moment=pick.choice(MOMENTS),  # type: ignore[arg-type]
        zone=pick.choice(ZONES),
        preamble=pick.choice(((), ("Monitor log", ""), ("Serial 0017",))),
        milli=pick.random() < 0.3,
        ending=pick.choice(("\n", "\r\n")),
    )
    return Made(ctx, tuple(stages), log, recorder, layout)


HUNGRY = 0.08  # of vehicles: six days in which loads take what the charge brings
GAINS = ("input_v", "input_a", "output_v", "output_a", "post_v", "auxiliary_v")


def _vehicle(pick: random.Random) -> Context:
    """One in which engine on and off can be told by volts: no log of volts shows what is the same."""
    while True:
        ctx = vehicle_of(pick)
        found: dict[str, Any] = ctx.design.model_dump(mode="json")
        if found["auxiliary"]["chemistry"] == "lfp":
            found["auxiliary"]["low_temperature_cut_off"] = True
        drawn, scale = ctx.solved.running[0].drawn, ctx.facts.scale
        if pick.random() < 0.4 and drawn is not None and ctx.design.activation.ways == ("voltage",):
            # Thresholds that somebody set without looking at the drop: some hunt.
            below_v = round(drawn.terminal_v + 0.12 * scale, 2)
            found["activation"]["stop_rules"] = [{"below_v": below_v, "held_s": 20.0}]
            found["activation"]["start_rules"] = [{"at_least_v": round(below_v + 0.05 * scale, 2), "held_s": 10.0}]
        ctx = Context.of(Design.model_validate(found))
        loaded = [state.drawn.post_v for state in ctx.solved.healthy if state.drawn is not None]
        if loaded and min(loaded) - ctx.facts.rest_high_v > 0.4 * ctx.facts.scale:
            return ctx


def _day(pick: random.Random, ctx: Context, ambient_c: float, hungry: bool) -> Programme:
    """A day of rounds, with low phases where the vehicle has them, and loads that take the charge out again, or more."""
    load_a = pick.uniform(8.0, 16.0) if hungry else pick.uniform(1.0, 6.0)
    stretches = [Stretch("off", 3600 * pick.uniform(6, 9), ignition=False, load_a=load_a, ambient_c=ambient_c)]
    for _ in range(pick.randint(3, 8)):
        stretches += [Stretch("crank", 2.0, ignition=True), Stretch("idle", pick.uniform(40, 240), ignition=True)]
        for _ in range(pick.randint(0, 3) if ctx.facts.low is not None else 0):
            stretches += [
                Stretch("cruise", pick.uniform(120, 900), ignition=True),
                Stretch("low", pick.uniform(40, 180), ignition=True),
            ]
        stretches.append(Stretch("cruise", pick.uniform(240, 2400), ignition=True))
        stretches.append(Stretch("off", pick.uniform(600, 5400), ignition=False, load_a=load_a))
    stretches = [item if item.ambient_c is not None else replace(item, ambient_c=ambient_c) for item in stretches]
    return Programme(tuple(stretches), 0.85, pick.uniform(0.2, 0.7), ambient_c)


@dataclass(frozen=True)
class Seen:
    """What can be seen of one thing that happened, and whether it must be."""

    what: str
    at_s: float
    must: bool
    until_s: float | None = None


def visible(case: Made) -> list[Seen]:
    """Everything that really happened, and whether it shows in the columns without their noise."""
    truth, ctx, rows = case.log.truth, case.ctx, case.log.time_s
    amps = truth.exact["output_a"]
    full_a = ctx.solved.output.yield_a if ctx.solved.output is not None else 0.0
    found: list[Seen] = []
    for at_s, what in truth.events:
        if what == "start":
            following = amps[(rows >= at_s) & (rows < at_s + 20 + 3 * case.recorder.every_s)]
            found.append(
                Seen("start", at_s, bool(len(following)) and following.max() > 0.2 * full_a and _covered(case, at_s))
            )
        elif what in ("stop", "guard"):
            before = amps[(rows < at_s) & (rows > at_s - 30 - 3 * case.recorder.every_s)]
            strong = len(before) > 1 and before[-2:].min() > 0.3 * full_a
            found.append(Seen("stop", at_s, bool(strong) and _covered(case, at_s)))
            if what == "guard":
                found.append(Seen("lockout", at_s, _guarded(case, at_s) and bool(strong) and _covered(case, at_s)))
    for from_s, to_s in truth.lows:
        found.append(Seen("low_phase", from_s, _low(case, from_s, to_s)))
    for from_s, to_s in truth.refused:
        found.append(
            Seen("cold", from_s, to_s - from_s > 150 and _covered(case, from_s) and _covered(case, to_s), to_s)
        )
    return [
        *found,
        *_hunting(case, [item for item in found if item.what == "start"]),
        *_early(case),
        *_unfinished(case),
    ]


def _hunting(case: Made, starts: list[Seen]) -> list[Seen]:
    """Three starts or more between two things the vehicle did."""
    begun_s, runs = 0.0, [0.0]
    for stage in case.stages:
        kept = "off"
        for stretch in stage.programme.stretches:
            engine = "run" if stretch.engine in ("idle", "cruise") else stretch.engine
            if engine != kept:
                runs.append(begun_s)
            kept, begun_s = engine, begun_s + stretch.duration_s
    edges = [BEGINS_S + at * (1 + case.recorder.drift) for at in (*runs, begun_s)]
    found = []
    for from_s, to_s in pairwise(edges):
        inside = [item for item in starts if from_s <= item.at_s < to_s]
        if len(inside) >= 3:
            whole = case.log.time_s[(case.log.time_s > from_s) & (case.log.time_s < to_s)]
            missing = len(whole) < 2 or np.diff(whole).max() > 30
            found.append(
                Seen("hunting", from_s, len(inside) > 3 and all(item.must for item in inside) and not missing, to_s)
            )
    return found


def _early(case: Made) -> list[Seen]:
    """Current well below what flowed before in that charge, which never was up to its volts; must be seen where plainly so."""
    exact, ctx, rows = case.log.truth.exact, case.ctx, case.log.time_s
    twelve = ctx.design.auxiliary.nominal_v / 12
    most = np.zeros(len(rows))  # that flows for a minute in the charge a row belongs to
    minute = int(60 / case.recorder.every_s)
    edges = np.flatnonzero(np.diff(np.concatenate(([0], case.log.truth.charging.astype(int), [0])))).reshape(-1, 2)
    for first, last in edges:
        falling = np.sort(exact["output_a"][first:last])[::-1]
        most[first:last] = falling[min(minute, len(falling) - 1)]
    missing = np.diff(rows, prepend=rows[0] - 3600) > 30
    found = []
    for share, below_v, least_s, near_v, must in ((0.62, 0.33, 300.0, 0.14, True), (0.78, 0.18, 100.0, 0.06, False)):
        low = case.log.truth.charging & (exact["output_a"] > 0.1 * exact["output_a"].max())
        low &= exact["output_a"] < share * most
        low &= exact["auxiliary_v"] < reached_v(case) - below_v * twelve
        up = (exact["output_v"] > reached_v(case) - near_v * twelve) | (missing & must)
        for first, last in edges:
            low[first:last] &= ~np.logical_or.accumulate(up[first:last])
        spans = np.flatnonzero(np.diff(np.concatenate(([0], low.astype(int), [0]))))
        for first, last in spans.reshape(-1, 2):
            from_s, to_s = float(rows[first]), float(rows[min(last, len(rows) - 1)])
            plain = must and last - first > 2 and np.diff(rows[first:last]).max() < 30
            if to_s - from_s > least_s:
                found.append(Seen("early_taper", from_s, bool(plain), to_s))
    return found


def _unfinished(case: Made) -> list[Seen]:
    """Days on end of charging below the volts that the unit is set to; must be seen where plainly so."""
    truth, rows, twelve = case.log.truth, case.log.time_s, case.ctx.design.auxiliary.nominal_v / 12
    steps = np.append(np.diff(rows), 0.0)
    flows = truth.charging & (truth.exact["output_a"] > 0.2 * truth.exact["output_a"].max())
    found = []
    for below_v, days, hours, must in ((0.15, 5.3, 4.0, True), (0.05, 4.7, 2.0, False)):
        near = truth.charging & (truth.exact["output_v"] > reached_v(case) - below_v * twelve)
        edges = [rows[0], *rows[near], rows[-1]]
        for from_s, to_s in pairwise(edges):
            inside = (rows >= from_s) & (rows < to_s) & flows & (steps < 60)
            if to_s - from_s > days * 86400 and steps[inside].sum() > hours * 3600:
                found.append(Seen("unfinished", from_s, must, to_s))
    return found


def _covered(case: Made, at_s: float, margin_s: float = 40.0) -> bool:
    """Whether rows were written around a moment."""
    rows, every_s = case.log.time_s, case.recorder.every_s
    near = rows[(rows > at_s - margin_s - 5 * every_s) & (rows < at_s + margin_s + 5 * every_s)]
    return bool(len(near) > 2 and np.diff(near).max() < 2 * every_s and near[0] < at_s - 10 and near[-1] > at_s + 10)


def _guarded(case: Made, at_s: float) -> bool:
    """Whether a row shows the guard's volts before it acted."""
    rows, ctx = case.log.time_s, case.ctx
    before = (rows < at_s) & (rows > at_s - 2 * case.recorder.every_s - 1)
    seen = case.log.truth.exact["input_v"] + case.log.truth.exact["input_a"] * ctx.thresholds.guard_ohm
    return bool(before.any() and seen[before].min() < ctx.thresholds.guard_v)


def _low(case: Made, from_s: float, to_s: float) -> bool:
    """Whether volts fall well below those before and after, long enough, with rows around."""
    rows, posts = case.log.time_s, case.log.truth.exact["post_v"]
    inside = posts[(rows > from_s + 3) & (rows < to_s - 1)]
    around = posts[((rows > from_s - 30) & (rows < from_s)) | ((rows > to_s + 3) & (rows < to_s + 30))]
    if len(inside) < 3 or len(around) < 4 or not _covered(case, from_s, 60) or not _covered(case, to_s, 60):
        return False
    return bool(around.min() - inside.max() > 0.4 * case.ctx.facts.scale)


def reached_v(case: Made) -> float:
    """Volts the unit is set to hold."""
    return profile_of(case.ctx.design, case.ctx.solved).absorption_v
