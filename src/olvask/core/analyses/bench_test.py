"""A bench test before fitting: what a supply does step by step, and what the unit must do at each and when.

- `BenchTest`, `bench_test_of`: the programme, worked by hand as a procedure, or sent to a supply as SCPI.
- `bench_load_a`: what hangs on the unit's output meanwhile.
- `walked`: what the unit's own state machine does with a row of volts; the same machine the road test drives with.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.findings.said import Said
from olvask.core.simulate.machine import Machine, Settings, settings_of
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Flow
from olvask.core.stages.build.procedure.before import SHORT
from olvask.core.stages.build.procedure.order import Procedure, in_order
from olvask.core.stages.build.procedure.step import Expected, Step
from olvask.core.stages.build.procedure.step import Rule as Before

TICK_S = 0.25
SPARE_S = 5.0  # a look longer than what is waited for
REST_S = 30.0  # at rest, long enough for a start rule to be met if it were wrong
BELOW_V, OVER_V = (
    0.15,
    0.10,
)  # past a threshold, per 12 V: more than a supply's and a unit's own error; our own estimate
LOAD_A = 5.0  # on the output, so that charging shows; our own estimate
SUPPLY_A = 10.0  # limit of the supply: what stands on most benches; our own estimate
SUPPLY_SHARE = 0.8  # of it that the load may ask for, so that its volts stay; our own estimate
OUTPUT_SHARE = 0.8  # of what the unit is set to that the load may take, so that it holds its volts; our own estimate
LOAD_STEP_A = 0.5
LONGEST_S = 900.0  # of a low phase on a bench; a longer one proves no more
WORDS = {"off": "off", "waiting": "waiting", "charging": "charging", "guarded": "held off by its guard", "dead": "dead"}


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchStep:
    """One step of the supply, and what the unit does in it."""

    name: str
    volts: float
    seconds: float
    enabled: Annotated[bool, Field(description="whether its enable is given")]
    begins: str
    ends: str
    changes_after_s: Annotated[float | None, Field(description="when it changes; none where it stays as it is")]
    text: str


class BenchTest(Said):
    """The whole programme."""

    steps: tuple[BenchStep, ...]
    procedure: Procedure
    scpi: str
    total_s: float


@dataclass(frozen=True, slots=True)
class _Ask:
    """What the supply shall do."""

    name: str
    volts: float
    seconds: float
    enabled: bool = True


def bench_test_of(ctx: Context) -> BenchTest | None:
    """The programme of a design's unit; `None` without a unit or a way to start it."""
    design = ctx.design
    if design.charger is None or not design.activation.ways:
        return None
    settings = settings_of(design, ctx.solved)
    asks = _asks(ctx, settings)
    steps = tuple(walked(ctx, settings, asks))
    return BenchTest(
        steps=steps,
        procedure=_procedure(ctx, steps),
        scpi=_scpi(ctx, steps),
        total_s=sum(step.seconds for step in steps),
    )


def bench_load_a(ctx: Context, steps: Sequence[BenchStep]) -> float:
    """What to put on the unit's output [A]: less than usual where the unit gives less, or would ask more of the supply.

    Args:
        ctx: the design solved.
        steps: those of the supply, for the lowest volts at which it charges.
    """
    carried = SUPPLY_SHARE * SUPPLY_A / _asked_of_the_supply(ctx, steps, 1.0)
    most = min(LOAD_A, carried, OUTPUT_SHARE * _set_a(ctx))
    return max(LOAD_STEP_A, math.floor(most / LOAD_STEP_A) * LOAD_STEP_A)


def _set_a(ctx: Context) -> float:
    """What one unit is set to give [A]."""
    unit = ctx.design.charger
    return 0.0 if unit is None else min(ctx.design.current_limit_a or unit.output_a, unit.output_a)


def _asked_of_the_supply(ctx: Context, steps: Sequence[BenchStep], load_a: float) -> float:
    """What a load takes from the supply at the lowest volts at which the unit charges [A]."""
    unit = ctx.design.charger
    efficiency = unit.efficiency if unit is not None else 1.0
    lowest = min((step.volts for step in steps if "charging" in (step.begins, step.ends)), default=steps[0].volts)
    return load_a * float(ctx.facts.absorption.value) / efficiency / max(lowest, 1.0)


def _asks(ctx: Context, settings: Settings) -> list[_Ask]:
    """Rest, start, sag, low phase, stop, start again, lockout, release, and the enable taken away."""
    design, facts, scale = ctx.design, ctx.facts, ctx.facts.scale
    unit = design.charger
    most_v = unit.input_max_v if unit is not None else 60.0
    below, over = BELOW_V * scale, OVER_V * scale
    by_volts = "voltage" in settings.ways
    start = min(settings.start_rules, key=lambda rule: rule.volts)
    stop = min(settings.stop_rules, key=lambda rule: rule.held_s)
    start_v = max(start.volts if by_volts else float(facts.idle.value), settings.least_input_v) + over
    start_s = (start.held_s if by_volts else 0.0) + settings.soft_start_s + SPARE_S
    guard_v = max(0.0, settings.guard_v - 2 * below)
    asks = [_Ask("rest", float(facts.rest.value), REST_S, enabled=by_volts and len(settings.ways) == 1)]
    asks.append(_Ask("start", start_v, start_s))
    if by_volts:
        asks.append(_Ask("sag", max(stop.volts, settings.guard_v) + over, 2 * stop.held_s + SPARE_S))
    if facts.low is not None:
        asks.append(_Ask("low phase", float(facts.low.value), min(LONGEST_S, ctx.thresholds.low_phase_s) + SPARE_S))
        asks.append(_Ask("after it", start_v, start_s + settings.guard_least_s))
    if by_volts and stop.volts - below > settings.guard_v:
        asks.append(_Ask("stop", stop.volts - below, stop.held_s + SPARE_S))
        asks.append(_Ask("start again", start_v, start_s))
    asks.append(_Ask("lockout", guard_v, settings.guard_held_s + SPARE_S))
    between = (settings.guard_v + settings.back_v) / 2
    asks.append(_Ask("still locked out", between, settings.guard_least_s + SPARE_S))
    asks.append(_Ask("release", max(settings.back_v, start_v) + over, start_s + settings.guard_least_s))
    if not by_volts or len(settings.ways) > 1:
        asks.append(_Ask("enable taken away", start_v, SPARE_S, enabled=False))
    return [
        replace(ask, volts=round(min(ask.volts, most_v), 2), seconds=float(round(ask.seconds + 0.499))) for ask in asks
    ]


def walked(ctx: Context, settings: Settings, asks: Sequence[_Ask]) -> Iterator[BenchStep]:
    """What the unit does in each step, by the machine the road test drives with.

    Args:
        ctx: the design solved.
        settings: what the unit acts by.
        asks: the supply's steps.
    """
    machine = Machine(settings, profile_of(ctx.design, ctx.solved), lambda _what, _text: None)
    now, low_v = 0.0, 0.5 * float(ctx.facts.absorption.value)
    for ask in asks:
        stretch = Stretch("cruise" if ask.enabled else "off", ask.seconds, ignition=ask.enabled, remote=ask.enabled)
        begins, changed = _word(machine), None
        for at in range(round(ask.seconds / TICK_S) + 1):
            drawn = 1.0 if machine.drawing else 0.0
            flow = Flow(ask.volts, 0.0, drawn * LOAD_A, ask.volts, low_v, 0.0, drawn * LOAD_A, 1.0, False)
            before = machine.drawing
            machine.act(now + at * TICK_S, stretch, flow)
            if machine.drawing != before and changed is None:
                changed = at * TICK_S
        now += ask.seconds
        yield BenchStep(
            name=ask.name,
            volts=ask.volts,
            seconds=ask.seconds,
            enabled=ask.enabled,
            begins=begins,
            ends=_word(machine),
            changes_after_s=changed,
            text=_told(begins, _word(machine), changed),
        )


def _word(machine: Machine) -> str:
    return "off" if machine.state == "waiting" else WORDS[machine.state]


def _told(begins: str, ends: str, changed: float | None) -> str:
    if changed is None:
        return f"it stays {ends}" if begins == ends else f"it is {ends}, and draws nothing"
    return f"after {changed:.0f} s it is {ends}" if changed >= 1 else f"at once it is {ends}"


def _procedure(ctx: Context, steps: Sequence[BenchStep]) -> Procedure:
    unit = ctx.design.charger
    name, most_v = (unit.name, unit.input_max_v) if unit is not None else ("the unit", 60.0)
    laid = f"Lay each {name} on the bench in turn" if ctx.design.units > 1 else f"Lay {name} on the bench"
    full_a = _asked_of_the_supply(ctx, steps, _set_a(ctx))
    set_up = Step(
        key="bench.set_up",
        group="prepare",
        text=f"{laid}: supply on its input, a load of about {bench_load_a(ctx, steps):g} A on its output",
        why="Its own thresholds are tried where nothing else can be wrong. A battery on its output would take all it gives"
        f" until it is full, and that is up to {full_a:.0f} A from the supply.",
        tool="supply, meter, stop-watch",
        number=f"supply held to {SUPPLY_A:g} A, never over {most_v:g} V",
        hazard=SHORT,
    )
    keyed = Step(
        key="bench.keyed",
        group="key_in",
        text="Key the sheet in, and read it back",
        why="What is tried is what it will be set to.",
        leads_to="settings",
    )
    tried = [
        Step(
            key=f"bench.{step.name.replace(' ', '_')}",
            group="connect",
            text=f"{step.name[:1].upper()}{step.name[1:]}: supply to {step.volts:.2f} V"
            + ("" if step.enabled else ", its enable taken away"),
            why=f"{step.text[:1].upper()}{step.text[1:]}.",
            number=f"for {step.seconds:g} s",
            wait_s=step.seconds,
            see=(step.text,),
            expected=_when(step),
        )
        for step in steps
    ]
    held = [set_up, keyed, *tried]
    chain = [
        Before(before=one.key, after=after.key, why="Each begins where the one before ended.", origin="habit")
        for one, after in itertools.pairwise(held)
    ]
    return in_order("Bench test", "What it does otherwise, it will do in the vehicle: mend it here.", held, chain)


def _when(step: BenchStep) -> Expected | None:
    """The seconds to be read off the stop-watch; none where it stays as it is."""
    if step.changes_after_s is None:
        return None
    most = step.changes_after_s * 1.1 + 2.0
    return Expected(
        what="Changed after",
        unit="s",
        least=round(max(0.0, step.changes_after_s * 0.9 - 1.0), 1),
        most=round(most, 1),
        why="A hand on a stop-watch is good to a second or two.",
    )


def _scpi(ctx: Context, steps: Sequence[BenchStep]) -> str:
    """The same for a supply that takes SCPI: SOURce subsystem of SCPI-1999, waits as remarks."""
    unit = ctx.design.charger
    most_v = unit.input_max_v if unit is not None else 60.0
    lines = ["*RST", f"VOLT:PROT {most_v:.1f}", f"CURR {SUPPLY_A:.1f}", f"VOLT {steps[0].volts:.2f}", "OUTP ON"]
    for step in steps:
        enable = "" if step.enabled else ", enable off"
        lines += [f"# {step.name}{enable}: {step.seconds:g} s, {step.text}", f"VOLT {step.volts:.2f}"]
    return "\n".join([*lines, "OUTP OFF", ""])
