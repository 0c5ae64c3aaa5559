"""The meter, the bench supply and the vehicle of the rig as SCPI devices.

- `Clock`: time that goes by for the vehicle, as fast as is wanted.
- `meter_of`, `supply_of`: the devices.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial

from olvask.core.analyses.bench_test import LOAD_A, bench_load_a, bench_test_of
from olvask.core.circuit.context import Context
from olvask.core.simulate.machine import Machine, settings_of
from olvask.core.simulate.profile import profile_of
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Flow
from olvask.core.stages.prove.meter import METER
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.rig.faults import FAULTS, Spoilt, spoilt
from olvask.rig.scpi import DATA_OUT, OVERLOAD, Commands, Refused, number_of, quoted, switch_of
from olvask.rig.vehicle import RigVehicle

LONGEST_S = 86400.0  # of vehicle's time in one go: a rig left alone over night is no month older
TICK_S = 0.25  # of a unit on the bench
# What each function reads, in the units SCPI answers in, and how many of the test's units are one of them.
BASE: dict[str, tuple[str, float]] = {
    "V": ("VOLT", 1.0),
    "mV": ("VOLT", 1000.0),
    "A": ("CURR", 1.0),
    "mA": ("CURR", 1000.0),
    "Ω": ("RES", 1.0),
    "mΩ": ("RES", 1000.0),
    "°C": ("TEMP", 1.0),
    "s": ("TIME", 1.0),
}

KNOBS = {"VOLTage[:DC]": "VOLT", "CURRent[:DC]": "CURR", "RESistance": "RES", "TEMPerature": "TEMP", "TIMer": "TIME"}


@dataclass
class Clock:
    """Time of the vehicle, `speed` times as fast as that of the day."""

    speed: float = 1.0
    now: Callable[[], float] = time.monotonic
    last: float = field(default=0.0)

    def __post_init__(self) -> None:
        """Begin now."""
        self.last = self.now()

    def gone_s(self) -> float:
        """Vehicle's time since it was last asked [s]."""
        now = self.now()
        gone, self.last = (now - self.last) * self.speed, now
        return min(LONGEST_S, gone)


@dataclass
class _Meter:
    """A meter with its probes somewhere in the vehicle."""

    vehicle: RigVehicle
    clock: Clock
    pick: random.Random
    function: str = "VOLT"
    most: float | None = None
    probes: ProveTest | None = None

    def put(self, key: str) -> None:
        """Prepare the vehicle for a test, and put the probes where it says."""
        try:
            self.probes = self.vehicle.prepare(key)
        except KeyError as error:
            raise Refused(DATA_OUT[0], str(error.args[0])) from None
        self.clock.gone_s()

    def set(self, function: str, rest: str) -> None:
        """Turn the knob; a range is kept, or found by itself."""
        self.function, self.most = function, number_of(rest) if rest and rest.upper() not in ("AUTO", "DEF") else None

    def measure(self, function: str, rest: str) -> str:
        """Turn the knob, and read."""
        self.set(function, rest)
        return self.read()

    def read(self) -> str:
        """What it shows, in volts, amperes, ohms, degrees or seconds."""
        self.vehicle.wait(self.clock.gone_s())
        test = self.probes
        if test is None:
            return f"{self.pick.gauss(0, 1e-4):.6E}"  # probes in the air
        if test.answers:
            return f"{self.vehicle.read(test):.6E}"
        function, times = BASE[test.unit]
        if function != self.function:
            return f"{self.pick.gauss(0, 1e-4):.6E}"
        exact = self.vehicle.read(test)
        shown = exact + self.pick.gauss(0, METER[test.unit].sigma(exact) / 2) if test.unit not in ("s", "Ω") else exact
        shown /= times
        return f"{OVERLOAD if self.most is not None and abs(shown) > 1.2 * self.most else shown:.6E}"


def meter_of(vehicle: RigVehicle, clock: Clock, seed: int = 1, hidden: bool = False) -> Commands:
    """A meter whose probes go where they are told to, and the hand that drives the vehicle.

    Args:
        vehicle: what it measures in.
        clock: its time.
        seed: of the meter's error.
        hidden: whether the fault is told only after it was cured.
    """
    found, meter = Commands("Olvask,Rig meter,1,1"), _Meter(vehicle, clock, random.Random(seed))  # noqa: S311  # a meter's error
    for word, function in KNOBS.items():
        found.add(f"CONFigure:{word}", partial(meter.set, function))
        found.add(f"MEASure:{word}?", partial(meter.measure, function))
    found.add("READ?", lambda _: meter.read())
    found.add("FETCh?", lambda _: meter.read())
    found.add("ROUTe:CLOSe", lambda rest: meter.put(quoted(rest)))
    found.add("ROUTe:CLOSe?", lambda _: f'"{meter.probes.key if meter.probes is not None else ""}"')
    _driven(found, vehicle, clock, hidden)
    return found


def _driven(found: Commands, vehicle: RigVehicle, clock: Clock, hidden: bool) -> None:
    """Commands that drive and mend the vehicle; a subsystem of the rig's own."""
    cured: list[str] = []

    def put_in(rest: str) -> None:
        try:
            vehicle.spoil(spoilt(quoted(rest)))
        except KeyError as error:
            raise Refused(DATA_OUT[0], str(error.args[0])) from None

    def cure(_: str) -> None:
        cured.append(vehicle.fault.words)
        vehicle.spoil(Spoilt())

    def mend(rest: str) -> None:
        if quoted(rest) == vehicle.fault.key:
            cure(rest)

    def told(_: str) -> str:
        words = cured[-1] if cured else "hidden" if hidden else vehicle.fault.words
        return f'"{words}"'

    def hasten(rest: str) -> None:
        clock.gone_s()
        clock.speed = max(0.1, min(3600.0, number_of(rest)))

    found.add("VEHicle:FAULt", put_in)
    found.add("VEHicle:FAULt?", told)
    found.add("VEHicle:FAULt:CATalog?", lambda _: ",".join(f'"{name}"' for name in FAULTS))
    found.add("VEHicle:CURE", cure)
    found.add("VEHicle:MEND", mend)
    found.add("VEHicle:ENGine?", lambda _: vehicle.engine.upper())
    found.add("VEHicle:SPEed", hasten)
    found.add("VEHicle:SPEed?", lambda _: f"{clock.speed:g}")


@dataclass
class _Supply:
    """A supply with a unit of the design on it, and a load on the unit's output."""

    ctx: Context
    clock: Clock
    volts: float = 0.0
    most_a: float = 1.0
    protect_v: float = 64.0
    on: bool = False
    enabled: bool = True
    now_s: float = 0.0

    def __post_init__(self) -> None:
        """Lay the unit on the bench."""
        ctx = self.ctx
        self.settings = settings_of(ctx.design, ctx.solved)
        self.machine = Machine(self.settings, profile_of(ctx.design, ctx.solved), lambda _what, _text: None)
        self.held_v = float(ctx.facts.absorption.value)
        programme = bench_test_of(ctx)
        self.load_a = LOAD_A if programme is None else bench_load_a(ctx, programme.steps)

    def asked_a(self) -> float:
        """What the unit asks for [A]: its load through its efficiency."""
        unit = self.ctx.design.charger
        if not self.machine.drawing or not self.on or unit is None:
            return 0.0
        return self.held_v * self.load_a / unit.efficiency / max(self.volts, 1.0)

    def given_v(self) -> float:
        """The volts it gives: those it is turned to, less where more is asked than it has."""
        if not self.on:
            return 0.0
        return self.volts * min(1.0, self.most_a / max(self.asked_a(), 1e-9))

    def go(self) -> None:
        """Let the time go by that has: the unit acts on what its terminals show."""
        until_s = self.now_s + self.clock.gone_s()
        while self.now_s < until_s:
            given = self.enabled
            stretch = Stretch("cruise" if given else "off", 1.0, ignition=given, remote=given)
            volts = self.given_v()
            drawn = self.load_a if self.machine.drawing else 0.0
            low_v = 0.5 * self.held_v
            self.machine.act(self.now_s, stretch, Flow(volts, 0.0, drawn, volts, low_v, 0.0, drawn, 1.0, False))
            self.now_s += TICK_S

    def amps(self) -> float:
        """What it gives [A]."""
        return min(self.most_a, self.asked_a())

    def set(self, volts: float) -> None:
        """Turn the volts, below its protection."""
        if not 0 <= volts <= self.protect_v:
            raise Refused(*DATA_OUT)
        self.go()
        self.volts = volts


def supply_of(ctx: Context, clock: Clock) -> Commands:
    """A bench supply with the design's unit on it.

    Args:
        ctx: the design solved.
        clock: its time.
    """
    found, it = Commands("Olvask,Rig supply,1,1"), _Supply(ctx, clock)

    def read(value: Callable[[], float]) -> str:
        it.go()
        return f"{value():.6E}"

    def switch(name: str) -> Callable[[str], None]:
        def turned(rest: str) -> None:
            it.go()
            setattr(it, name, switch_of(rest))

        return turned

    found.add("[SOURce:]VOLTage", lambda rest: it.set(number_of(rest)))
    found.add("[SOURce:]VOLTage?", lambda _: f"{it.volts:.6E}")
    found.add("[SOURce:]CURRent", lambda rest: setattr(it, "most_a", number_of(rest)))
    found.add("[SOURce:]VOLTage:PROTection", lambda rest: setattr(it, "protect_v", number_of(rest)))
    found.add("OUTPut", switch("on"))
    found.add("OUTPut?", lambda _: "1" if it.on else "0")
    found.add("UNIT:ENABle", switch("enabled"))
    found.add("MEASure[:SCALar]:VOLTage[:DC]?", lambda _: read(it.given_v))
    found.add("MEASure[:SCALar]:CURRent[:DC]?", lambda _: read(it.amps))
    found.add("*RST", lambda _: setattr(it, "on", False))
    return found
