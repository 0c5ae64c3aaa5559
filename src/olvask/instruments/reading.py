"""Reading by one key: the function and range of a test, read again until it stands still.

- `read_for`: a reading for a test.
- `Settled`, `Unread`: what comes of it, and why nothing does.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

from olvask.core.findings.figure import show
from olvask.core.model.instrument import Function, Instrument
from olvask.core.stages.prove.meter import METER
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.instruments.wire import Silent, Wire

OVERLOAD = 9e37  # SCPI-1999: 9.9E37 stands for a reading beyond the range
PAUSE_S, STILL, MOST = 0.12, 4, 16  # readings that must agree, and how many are tried; our own estimates
AGREE, AGREE_DIGITS = 0.006, 2.0  # of the reading, and of its digits
SWINGS = 8.0  # of a meter's spread: readings farther apart are of two states of the vehicle; our own estimate
RIG = "Olvask,Rig"
# How each function is asked for, by IEEE 488.2 and SCPI-1999, and what a test's unit is of it.
ASKED: dict[Function, str] = {"volts": "VOLT:DC", "amps": "CURR:DC", "ohms": "RES", "celsius": "TEMP", "seconds": "TIM"}
UNIT: dict[str, tuple[Function, float]] = {
    "V": ("volts", 1.0),
    "mV": ("volts", 1000.0),
    "A": ("amps", 1.0),
    "mA": ("amps", 1000.0),
    "Ω": ("ohms", 1.0),
    "mΩ": ("ohms", 1000.0),
    "°C": ("celsius", 1.0),
    "s": ("seconds", 1.0),
}


class Unread(Exception):
    """The instrument answered, but not with a reading that can be used."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Settled:
    """A reading in the test's unit, how far the last ones differed, and whether it stood still."""

    value: float
    spread: float
    still: bool
    count: int


def reads(instrument: Instrument, test: ProveTest) -> bool:
    """Whether an instrument can read a test."""
    return instrument.kind == "meter" and test.unit in UNIT and UNIT[test.unit][0] in instrument.reads


def read_for(
    instrument: Instrument, test: ProveTest, pause: Callable[[float], None] = time.sleep, retry: bool = True
) -> Settled:
    """Read until it stands still; a connection that breaks is made anew once.

    What still swings after that is of two states of the vehicle, and its mean of neither.

    Args:
        instrument: what reads.
        test: what is read.
        pause: waits between two readings.
        retry: whether a broken connection is made anew.

    Raises:
        Silent: it does not answer.
        Unread: it reads something else, or beyond its range, or swings.
    """
    if not reads(instrument, test):
        raise Unread(f"{instrument.name} does not read {test.unit or 'a look'}; type it, or choose another instrument.")
    try:
        with Wire(instrument.name, instrument.host, instrument.port) as wire:
            return _settled(wire, instrument, test, pause)
    except Silent:
        if not retry:
            raise
    return read_for(instrument, test, pause, retry=False)


def _settled(wire: Wire, instrument: Instrument, test: ProveTest, pause: Callable[[float], None]) -> Settled:
    function, times = UNIT[test.unit]
    if wire.ask("*IDN?").startswith(RIG):
        wire.tell(
            f'ROUT:CLOS "{test.key}"'
        )  # the rig's probes go where the test says; a real one's are put there by hand
    question = f"MEAS:{ASKED[function]}?"
    taken: list[float] = []
    count = 1 if function == "seconds" else MOST
    while len(taken) < count:
        taken.append(_number(wire.ask(question), instrument) * times)
        last = taken[-STILL:]
        spread = max(last) - min(last)
        if len(last) == STILL and spread <= _agree(instrument, last[-1], times):
            break
        if len(taken) < count:
            pause(PAUSE_S)
    last = taken[-STILL:]
    spread = max(last) - min(last)
    value = sum(last) / len(last)
    highest = max(map(abs, taken))
    # Probes that are just being put on rise from nothing to where they stand; what falls from there was of another state.
    if max(spread, highest - abs(value)) > SWINGS * METER[test.unit].sigma(highest):
        raise Unread(
            f"{instrument.name} swings between {show(min(taken), test.unit)} and {show(max(taken), test.unit)}: it is just "
            "starting, or it starts and stops. Read again while it stands; if it never does, say that it starts and stops "
            "where a fault is looked for."
        )
    return Settled(
        value=value,
        spread=spread,
        still=function == "seconds" or spread <= _agree(instrument, last[-1], times),
        count=len(taken),
    )


def _agree(instrument: Instrument, value: float, times: float) -> float:
    return max(AGREE * abs(value), AGREE_DIGITS * instrument.digits * (times if times == 1.0 else times / 50), 1e-6)


def _number(answer: str, instrument: Instrument) -> float:
    try:
        value = float(answer.split(",")[0])
    except ValueError:
        raise Unread(
            f"{instrument.name} answered “{answer[:40]}”, which is no reading; see what it is set to."
        ) from None
    if abs(value) > OVERLOAD or value != value:
        raise Unread(f"{instrument.name} is beyond its range: set it to a larger one, or to find it by itself.")
    return value
