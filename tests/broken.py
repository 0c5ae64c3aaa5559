"""Random vehicles as they come into the workshop: designed as recommended, built within what crimps and lengths differ by,
and with one fault of any size that matters.

- `vehicle_of`: a random design whose way to start is the recommended one.
- `whole`: a healthy vehicle built by it.
- `KINDS`, `broken`: what can be wrong, and a vehicle with it.
- `Bench`: measures in it, with a meter that errs and a vehicle that moves between two readings.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from olvask.core.analyses.diagnosis import Symptom
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.unknowns import constants_of, unknowns_of
from olvask.core.stages.wake.method import advise
from tests.core.analyses.test_recommended import survey
from tests.designs import cable, fuse
from tests.oracles.running import Running

# Bounds of the meter, percent and digits, as two deviations; and what the vehicle moves by meanwhile.
ERROR = {
    "V": (0.005, 0.02),
    "mV": (0.005, 0.3),
    "A": (0.02, 0.3),
    "mA": (0.015, 2.0),
    "°C": (0.0, 4.0),
    "s": (0.0, 2.0),
}
MOVES_V, MOVES_A = 0.012, 0.004


def vehicle_of(pick: random.Random) -> Context:
    """A design nobody has seen that charges at idle, some with an old link, a battery sensor or a monitor."""
    while True:
        job = _also(survey(pick)[0], pick)
        best = advise(job).methods[0]
        if best.verdict == "recommended":
            job = apply(job, best.take)
        ctx = Context.of(job)
        idle = ctx.solved.running[0]
        unit = job.charger
        if idle.drawn is None or unit is None or idle.drawn.terminal_v < unit.input_min_v + 0.5 * ctx.facts.scale:
            continue
        if idle.drawn.current_a < 0.8 * (idle.source.available_a or 0.0):
            return ctx


def _also(job: Design, pick: random.Random) -> Design:
    found: dict[str, Any] = job.model_dump(mode="json")
    amps = pick.uniform(1.2, 1.6) * (job.charger.output_a if job.charger else 30)
    rating = next(size for size in (30, 40, 50, 60, 80, 100, 125, 150) if size >= min(amps, 150))
    found["delivery"]["pieces"] = [
        cable(pick.choice(("10 mm²", "16 mm²", "25 mm²")), round(pick.uniform(0.8, 3.0), 1)),
        *([fuse(float(rating), "sf30")] if pick.random() < 0.8 else []),
        cable("16 mm²", 0.3),
    ]
    if pick.random() < 0.4:
        found["existing"] = [{"kind": "link"}]
        found["old_link"]["decision"] = pick.choice(("disconnect", "changeover"))
    found["vehicle"]["start_battery"]["negative_sensor"] = pick.random() < 0.4
    if pick.random() < 0.4:
        found["monitor"]["unit"] = {"name": "Shunt 300", "shunt_a": 300.0, "zero_error_ma": 20.0}
    return Design.model_validate(found)


def whole(pick: random.Random, ctx: Context, spread: float = 1.0) -> Running:
    """A healthy vehicle of a design: each thing not known somewhere in its spread."""
    while True:
        found = _drawn(pick, ctx, spread)
        # As designed: the alternator carries it, and the battery is not so full that the unit already holds back.
        amps, _, _ = found.charge()
        if (
            amps > 0.999 * found.limit_a
            and found.drawn(1.05 * found.set_v * amps / found.efficiency)[2] < found.spare_a
        ):
            return found


def _drawn(pick: random.Random, ctx: Context, spread: float) -> Running:
    known = constants_of(ctx)
    values: dict[str, Any] = {item.name: pick.gauss(item.mean, spread * item.sigma) for item in unknowns_of(ctx)}
    for name in values:
        if name.endswith("_ohm") or name.startswith(("supply_", "delivery_")) or name in ("standby_ma", "spare_a"):
            values[name] = max(values[name], 0.0)
    for item in unknowns_of(ctx):  # a fuse has no less than half of what is printed of it
        if item.name.endswith("_device"):
            values[item.name] = max(values[item.name], 0.5 * item.mean)
    return Running(**values, battery_ohm=known.battery_ohm, push_v=0.9 * known.auxiliary_scale)


@dataclass(frozen=True)
class Broken:
    """A vehicle, and how its looks are answered where not as they should be."""

    vehicle: Running
    looks: dict[str, int]


Spoil = Callable[[random.Random, Context, Running], dict[str, int]]


def _between(pick: random.Random, low: float, high: float) -> float:
    """Anywhere between, as often in each doubling."""
    return 10 ** pick.uniform(math.log10(low), math.log10(high))


def _joint(leg: str) -> Spoil:
    def spoil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
        # Barely: what its own reading tells from a good one; badly: 50 mΩ, or what the unit can still work through.
        own = next(item.sigma for item in unknowns_of(ctx) if item.name == leg)
        idle = ctx.solved.running[0].drawn
        most = (
            0.05 if leg.startswith("delivery") or idle is None else min(0.05, 0.12 * idle.terminal_v / idle.current_a)
        )
        more = _between(pick, max(0.002, min(5 * own, 0.5 * most)), most)
        setattr(it, leg, getattr(it, leg) + more)
        return {"hand_warm": int(pick.random() < 0.5)}

    return spoil


def _thin(run: str) -> Spoil:
    def spoil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
        times = pick.uniform(1.5, 2.6)
        setattr(it, f"{run}_out", getattr(it, f"{run}_out") * times)
        if ctx.design.run("supply" if run == "supply" else "delivery").back.kind == "cable":
            setattr(it, f"{run}_back", getattr(it, f"{run}_back") * times)
        return {}

    return spoil


def _parted(what: str, mode: bool = False) -> Spoil:
    def spoil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
        it.parted = what
        return {"toggled": 1}

    return spoil


def _off(**looks: int) -> Spoil:
    def spoil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
        it.off = True
        return {"toggled": 1, **looks}

    return spoil


def _alternator(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    drawn = ctx.solved.running[0].drawn
    assert drawn is not None
    it.spare_a = min(it.spare_a, drawn.current_a) * pick.uniform(0.05, 0.8)
    return {"lamps_lift": 1}


def _belt(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    return _alternator(pick, ctx, it) | {"belt_quiet": 1}


def _set(**how: Callable[[random.Random, Context, Running], float]) -> Spoil:
    def spoil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
        for name, value in {name: how[name](pick, ctx, it) for name in how if name != "looks"}.items():
            setattr(it, name, value)
        return {}

    return spoil


def _limited(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    share = pick.uniform(0.35, 0.85)
    it.limit_a, it.read_limit_a = it.limit_a * share, it.read_limit_a * share
    return {}


def _hot(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    share = pick.uniform(0.4, 0.85)
    it.limit_a, it.air_c = it.limit_a * share, it.air_c + 15 + 45 * (1 - share)
    return {}


def _profile(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    volts = pick.choice((-1, 1)) * pick.uniform(0.3, 0.9) * constants_of(ctx).auxiliary_scale
    it.set_v, it.read_set_v = it.set_v + volts, it.read_set_v + volts
    return {}


def _supply_role(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.set_v -= pick.uniform(0.7, 1.1) * constants_of(ctx).auxiliary_scale
    return {"state_read": 2}


def _reset(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    known = constants_of(ctx)
    volts, share = pick.uniform(0.2, 0.5) * pick.choice((-1, 1)) * known.auxiliary_scale, pick.choice((0.7, 1.2, 1.4))
    it.set_v, it.read_set_v = it.set_v + volts, it.read_set_v + volts
    it.read_start_v += pick.choice((-0.4, 0.4, 0.6)) * known.scale
    if ctx.design.charger is not None and ctx.design.charger.current_limit != "none":
        it.limit_a, it.read_limit_a = it.limit_a * share, it.read_limit_a * share
    return {}


def _thresholds(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.off = True
    it.read_start_v += pick.uniform(0.3, 1.2) * ctx.facts.scale
    return {"toggled": 1}


def _no_enable(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    signals = {"ignition", "d_plus"} & set(ctx.design.activation.ways)
    volts = pick.choice((0.02, pick.uniform(1, 7.5))) if signals else pick.uniform(1.5, 12.0)
    it.off, it.enable_v = True, volts * ctx.facts.scale
    return {"toggled": 1}


def _cold(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.off, it.battery_c = True, pick.uniform(-12, 2)
    return {"toggled": 1}


def _low_phase(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    assert ctx.facts.low is not None
    it.regulated_v = float(ctx.facts.low.value) + pick.uniform(-0.1, 0.2) * ctx.facts.scale
    return {}


def _waits_low(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.off = True
    return _low_phase(pick, ctx, it) | {"toggled": 1}


def _no_charge(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    """Nothing comes of the alternator: the start battery carries the vehicle, and a unit that goes by its volts rests."""
    it.off = True
    it.regulated_v = it.rest_start_v - pick.uniform(0.05, 0.35) * ctx.facts.scale
    return {"toggled": 1, "lamps_lift": 1, "belt_quiet": int(pick.random() < 0.3)}


def _regulator(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.regulated_v -= pick.uniform(0.5, 1.2) * ctx.facts.scale
    return {"lamps_lift": 1}


def _tired_auxiliary(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    much, twelve = pick.uniform(0.4, 1.4), constants_of(ctx).auxiliary_scale
    it.auxiliary_ohm *= 1 + 4 * much
    it.fall_auxiliary_v += much * twelve
    it.rest_auxiliary_v -= 0.5 * much * twelve
    return {}


def _tired_start(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    much = pick.uniform(1.0, 3.0)
    it.rest_start_v -= 0.25 * much * ctx.facts.scale
    it.fall_start_v += 0.45 * much * ctx.facts.scale
    return {}


def _drain(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.standby_ma += _between(pick, 70, 1200)
    it.rest_start_v -= pick.uniform(0.0, 0.35) * ctx.facts.scale
    return {}


def _reversed(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.reversed = True
    return {"polarity.supply": 1, "toggled": 1, "state_read": 1}


def _unsynchronised(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    return {"monitor_full": 1}


def _full(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    twelve = constants_of(ctx).auxiliary_scale
    it.emf_v = it.set_v - pick.uniform(0.03, 0.2) * twelve
    it.rest_auxiliary_v = (13.35 if ctx.design.auxiliary.chemistry == "lfp" else 12.72) * twelve + pick.gauss(0, 0.06)
    return {}


def _taper(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.set_v -= pick.uniform(0.5, 1.1) * constants_of(ctx).auxiliary_scale
    return {}


def _link(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    it.old_link_a = _between(pick, 2.0, 30.0)
    return {}


def _coil(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    return _link(pick, ctx, it) | {"relay_clicks": 1, "relay_opens": 1}


def _contact(pick: random.Random, ctx: Context, it: Running) -> dict[str, int]:
    return _link(pick, ctx, it) | {"relay_opens": 1}


KINDS: dict[str, Spoil] = {
    "healthy": lambda pick, ctx, it: {},
    **{
        f"joint.{leg}": _joint(leg)
        for leg in ("supply_out", "supply_device", "supply_back", "delivery_out", "delivery_device", "delivery_back")
    },
    "thin.supply": _thin("supply"),
    "thin.delivery": _thin("delivery"),
    "alternator": _alternator,
    "belt": _belt,
    "low_phase": _low_phase,
    "waits_low": _waits_low,
    "no_charge": _no_charge,
    "regulator": _regulator,
    "tired_start": _tired_start,
    "drain": _drain,
    "limited": _limited,
    "too_hot": _hot,
    "wrong_profile": _profile,
    "taper": _taper,
    "role_supply": _supply_role,
    "reset": _reset,
    "no_enable": _no_enable,
    "unit_off": _off(state_read=1),
    "latched": _off(state_read=2),
    "lockout": _off(toggled=0),
    "thresholds": _thresholds,
    "too_cold": _cold,
    "reversed": _reversed,
    "open.supply_device": _parted("supply_device"),
    "open.supply": _parted("supply"),
    "open.supply_back": _parted("supply_back"),
    "open.delivery_device": _parted("delivery_device"),
    "open.delivery": _parted("delivery"),
    "pack_off": _parted("pack"),
    "full": _full,
    "tired_auxiliary": _tired_auxiliary,
    "old_link": _link,
    "relay_coil": _coil,
    "relay_contact": _contact,
    "sensor": _set(sensor_share=lambda pick, ctx, it: 1.0),
    "monitor_bypassed": _set(monitor_share=lambda pick, ctx, it: pick.uniform(0.0, 0.4)),
    "monitor_unsynchronised": _unsynchronised,
}


# What a customer says who brings a vehicle with it: our own guess at a hundred phone calls, apart from the product's.
TOLD: dict[str, dict[Symptom, float]] = {
    "healthy": {"weak": 0.3},
    "joint": {"weak": 0.7, "hot": 0.3, "was_fine": 0.5, "starts_stops": 0.2},
    "thin": {"weak": 0.8},
    "alternator": {"weak": 0.4, "starts_stops": 0.5, "flat": 0.3},
    "belt": {"weak": 0.4, "starts_stops": 0.5, "was_fine": 0.5},
    "low_phase": {"starts_stops": 0.7, "weak": 0.3},
    "no_charge": {"does_nothing": 0.5, "flat": 0.6, "was_fine": 0.6},
    "waits_low": {"starts_stops": 0.6, "weak": 0.3, "does_nothing": 0.3},
    "regulator": {"weak": 0.5, "flat": 0.5, "starts_stops": 0.3},
    "tired_start": {"flat": 0.8},
    "drain": {"flat": 0.95},
    "tired_auxiliary": {"flat": 0.7, "weak": 0.5},
    "too_hot": {"hot": 0.6, "weak": 0.7},
    "reset": {"was_fine": 0.9, "weak": 0.3},
    "sensor": {"weak": 0.2, "starts_stops": 0.3, "flat": 0.3},
    "old_link": {"starts_stops": 0.4},
    "relay_coil": {"starts_stops": 0.4},
    "relay_contact": {"starts_stops": 0.4},
    "monitor_bypassed": {"wrong_numbers": 0.95},
    "monitor_unsynchronised": {"wrong_numbers": 0.9},
    "still": {"does_nothing": 0.9, "was_fine": 0.4, "flat": 0.3},
    "charging": {"weak": 0.8},
}


def told(pick: random.Random, kind: str, vehicle: Running) -> tuple[Symptom, ...]:
    """What the customer says; who brings a broken vehicle says something."""
    still = bool(vehicle.off or vehicle.parted or vehicle.reversed)
    says = TOLD.get(kind) or TOLD.get(kind.split(".")[0]) or TOLD["still" if still else "charging"]
    while True:
        said = tuple(symptom for symptom, often in says.items() if pick.random() < often)
        if said or kind == "healthy":
            return said


# What units show that can say why they are off; which of them is the designs' own record.
SHOWN: dict[str, str] = {
    "no_enable": "waiting for its remote signal",
    "lockout": "input lockout",
    "thresholds": "engine not running",
    "no_charge": "engine not running",
    "waits_low": "engine not running",
    "too_cold": "battery low temperature",
    "too_hot": "temperature too high",
    "unit_off": "switched off",
    "reversed": "reverse polarity",
    "pack_off": "no battery on the output",
    "open.delivery": "no battery on the output",
    "open.delivery_device": "no battery on the output",
}


def shown(pick: random.Random, kind: str) -> tuple[str, ...]:
    """What the unit shows: two of three units say why, and seldom wrongly."""
    if pick.random() < 0.02:
        return (pick.choice(tuple(SHOWN.values())),)
    return (SHOWN[kind],) if kind in SHOWN and pick.random() < 0.66 else ()


# Faults that show only where the unit is held back, or the alternator is short of what is drawn: barely is a tenth less.
SHOWS_IN_CURRENT = {"taper", "role_supply", "full", "tired_auxiliary"}
SHOWS_IN_SOURCE = {"alternator", "belt"}


def _shows(kind: str, it: Running) -> bool:
    amps, volts, _ = it.charge()
    if kind in SHOWS_IN_CURRENT:
        return 0.02 * it.limit_a < amps < 0.9 * it.limit_a
    if kind in SHOWS_IN_SOURCE:
        return it.drawn(volts * amps / it.efficiency)[2] > 1.1 * it.spare_a
    return True


def broken(pick: random.Random, ctx: Context, kind: str) -> Broken:
    """A vehicle of a design with one fault, from barely to badly."""
    for _ in range(400):
        vehicle = whole(pick, ctx)
        looks = KINDS[kind](pick, ctx, vehicle)
        if _shows(kind, vehicle):
            break
    return Broken(vehicle, looks)


@dataclass
class Bench:
    """Measures in one vehicle."""

    pick: random.Random
    ctx: Context
    it: Broken

    def read(self, test: ProveTest) -> float:
        """What the meter shows, or how the look is answered."""
        if test.key == "follows":
            return float(self._follows())
        if test.answers:
            return float(self.it.looks.get(test.key, 0))
        assert test.quantity is not None
        scale = self.ctx.facts.scale
        moved = replace(
            self.it.vehicle,
            regulated_v=self.it.vehicle.regulated_v + self.pick.gauss(0, MOVES_V * scale),
            emf_v=self.it.vehicle.emf_v + self.pick.gauss(0, MOVES_V * scale),
            limit_a=self.it.vehicle.limit_a * self.pick.gauss(1, MOVES_A),
        )
        value = moved.meter()[test.quantity]
        percent, besides = ERROR[test.unit]
        return value + self.pick.gauss(0, (percent * abs(value) + besides) / 2)

    def _follows(self) -> bool:
        """Whether the unit gives more once a load of 10 A is put on the battery."""
        it = self.it.vehicle
        loaded = replace(it, emf_v=it.emf_v - 10 * it.auxiliary_ohm)
        return loaded.charge()[0] > it.charge()[0] + 2
