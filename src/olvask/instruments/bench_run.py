"""The bench test run on a supply: volts set step by step, and the unit's own current watched.

- `bench_run`: each step with what the unit did.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from olvask.core.analyses.bench_test import SUPPLY_A, BenchStep, BenchTest
from olvask.instruments.wire import Wire

DRAWS_A = 0.3  # more than a unit takes to be awake; our own estimate
LOOKS = 40  # in each step
LATE, LATE_S = 0.15, 3.0  # of the time a change is due, and besides: a unit's own clock and the looks
RIG_SUPPLY = "Olvask,Rig supply"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepRun:
    """One step as it went."""

    name: str
    volts: float
    right: bool
    text: str


def bench_run(
    test: BenchTest,
    host: str,
    port: int,
    most_v: float,
    speed: float = 1.0,
    pause: Callable[[float], None] = time.sleep,
) -> Iterator[StepRun]:
    """Run every step; the supply is switched off at the end, whatever happened.

    Args:
        test: the programme.
        host, port: of the supply.
        most_v: the unit's highest input: the supply's protection [V].
        speed: how much faster a rig's time goes; 1 for a real supply.
        pause: waits between two looks.

    Raises:
        Silent: the supply does not answer.
    """
    with Wire("The supply", host, port) as wire:
        simulated = wire.ask("*IDN?").startswith(RIG_SUPPLY)
        for line in ("*RST", f"VOLT:PROT {most_v:.1f}", f"CURR {SUPPLY_A:.1f}", f"VOLT {test.steps[0].volts:.2f}"):
            wire.tell(line)
        wire.tell("OUTP ON")
        try:
            for step in test.steps:
                if simulated:
                    wire.tell(f"UNIT:ENAB {'ON' if step.enabled else 'OFF'}")
                yield _run(wire, step, speed, pause)
        finally:
            wire.tell("OUTP OFF")


def _run(wire: Wire, step: BenchStep, speed: float, pause: Callable[[float], None]) -> StepRun:
    """One step: when its current came or went, and how it ended."""
    before = step.begins == "charging"
    wire.tell(f"VOLT {step.volts:.2f}")
    began, gone_s = time.monotonic(), 0.0
    changed, charging = None, before
    while gone_s < step.seconds:
        pause(step.seconds / LOOKS / speed)
        charging = float(wire.ask("MEAS:CURR?")) > DRAWS_A
        gone_s = (time.monotonic() - began) * speed
        if changed is None and charging is not before:
            changed = gone_s
    ends = charging is (step.ends == "charging")
    due = step.changes_after_s
    slack_s = step.seconds / LOOKS + LATE_S + (LATE * due if due is not None else 0.0)
    timely = (due is None) is (changed is None) and (due is None or changed is None or abs(changed - due) <= slack_s)
    did = "no change" if changed is None else f"changed after {changed:.0f} s"
    return StepRun(name=step.name, volts=step.volts, right=ends and timely, text=f"{did}; {step.text}")
