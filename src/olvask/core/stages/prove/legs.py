"""Every leg as it was measured beside what was designed: milliohms too many, how sure, and the heat they make.

- `LegFound`, `LoopFound`: as it is told.
- `legs_of`, `loops_of`: those of a design by what was read.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.beliefs import Beliefs
from olvask.core.stages.prove.plant import Quantity
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.core.stages.prove.unknowns import AT, Name, Unknown

BAND, BEYOND = 1.96, 3.6  # 95 % and 99.97 % of a normal spread: a healthy vehicle is seldom accused
LOOSE_OHM = 0.04  # of a leg that may hold anything
LIMIT_MOHM = 1.0  # of a leg: less is within what crimps differ by; our own estimate
# A part of the path: what it is made of, the reading from end to end, what it is called.
PARTS: dict[str, tuple[tuple[Name, ...], Quantity, str]] = {
    "supply_out": (("supply_out", "supply_device"), "supply_out_mv", "supply run, outgoing"),
    "supply_device": (("supply_device",), "supply_device_mv", "device of the supply run"),
    "supply_back": (("supply_back",), "supply_back_mv", "supply run, return"),
    "delivery_out": (("delivery_out", "delivery_device"), "delivery_out_mv", "delivery run, outgoing"),
    "delivery_device": (("delivery_device",), "delivery_device_mv", "device of the delivery run"),
    "delivery_back": (("delivery_back",), "delivery_back_mv", "delivery run, return"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class LegFound:
    """One leg as it was measured beside what was designed."""

    leg: str
    words: str
    designed_mohm: float
    found_mohm: float | None
    spread_mohm: float | None
    excess_mohm: float | None
    heat_w: float | None
    bad: bool
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LoopFound:
    """A whole run whose ends were read, but not its legs: too many milliohms somewhere in it."""

    run: str
    text: str


# What the two ends of a run show between them, and the readings of the legs that say where it sits.
LOOPS: dict[str, tuple[tuple[Quantity, ...], tuple[Quantity, ...], tuple[str, ...]]] = {
    "supply": (
        ("posts_v", "input_v", "input_a"),
        ("supply_out_mv", "supply_back_mv"),
        ("supply_out", "supply_device", "supply_back"),
    ),
    "delivery": (
        ("output_v", "auxiliary_v", "output_a"),
        ("delivery_out_mv", "delivery_back_mv"),
        ("delivery_out", "delivery_device", "delivery_back"),
    ),
}


def loops_of(unknowns: Sequence[Unknown], free: Beliefs, read: Sequence[Quantity]) -> Iterator[LoopFound]:
    """Runs that hold too many milliohms though no reading says in which leg.

    Args:
        unknowns: of the healthy vehicle.
        free: what is likely where nothing is supposed of the legs, one row.
        read: what was read.
    """
    for run, (ends, legs, parts) in LOOPS.items():
        if not set(ends) <= set(read) or set(legs) <= set(read):
            continue
        excess, bound = _excess([name for part in parts for name in PARTS[part][0][:1]], unknowns, free)
        if excess > BEYOND * bound and excess * 1000 > LIMIT_MOHM:
            words = f"{1000 * excess:.1f} ± {1000 * BAND * bound:.1f} mΩ too many"
            yield LoopFound(
                run=run,
                text=f"{words} somewhere in the {run} run: measure the millivolts of its outgoing leg and of its return.",
            )


def _excess(names: Sequence[Name], unknowns: Sequence[Unknown], free: Beliefs) -> tuple[float, float]:
    """What some parts together have too many, and its spread [Ω]."""
    places = [AT[name] for name in names]
    found = float(sum(free.means[0, place] for place in places))
    spread = math.sqrt(max(0.0, float(sum(free.covariance[0, one, two] for one in places for two in places))))
    own = math.hypot(*(unknowns[place].sigma for place in places))
    return found - sum(unknowns[place].mean for place in places), math.hypot(spread, own)


def loosened(unknowns: Sequence[Unknown], parts: Sequence[str]) -> list[Unknown]:
    """What is not known once some parts of the path may hold anything.

    Args:
        unknowns: of the healthy vehicle.
        parts: keys of `PARTS`.
    """
    names = {name for part in parts for name in PARTS[part][0]}
    return [replace(item, sigma=math.hypot(item.sigma, LOOSE_OHM)) if item.name in names else item for item in unknowns]


def legs_of(
    ctx: Context, tests: Sequence[ProveTest], unknowns: Sequence[Unknown], free: Beliefs, used: Mapping[str, float]
) -> Iterator[LegFound]:
    """Every leg as it was measured; a device apart only where it was read apart.

    Args:
        ctx: the design solved.
        tests: those of the design.
        unknowns: of the healthy vehicle.
        free: what is likely where nothing is supposed of the legs, one row.
        used: test keys to sound readings.
    """
    idle = ctx.solved.running[0]
    full = {
        "supply": idle.drawn.current_a if idle.drawn else 0.0,
        "delivery": ctx.solved.output.current_a if ctx.solved.output else 0.0,
    }
    keys = {test.quantity: test.key for test in tests if test.quantity is not None}
    for part, (names, quantity, words) in PARTS.items():
        seen = keys.get(quantity) in used
        if part.endswith("device") and not seen:
            continue
        yield _found(part, words, names, unknowns, free, full[part.split("_")[0]], seen)


def _found(
    part: str, words: str, names: Sequence[Name], unknowns: Sequence[Unknown], free: Beliefs, amps: float, seen: bool
) -> LegFound:
    places = [AT[name] for name in names]
    designed = sum(unknowns[place].mean for place in places)
    own = math.hypot(*(unknowns[place].sigma for place in places))
    found = float(sum(free.means[0, place] for place in places))
    spread = math.sqrt(max(0.0, float(sum(free.covariance[0, one, two] for one in places for two in places))))
    excess, bound = found - designed, math.hypot(spread, own)
    bad = seen and excess > BEYOND * bound and excess * 1000 > LIMIT_MOHM
    return LegFound(
        leg=part,
        words=words,
        designed_mohm=designed * 1000,
        found_mohm=found * 1000 if seen else None,
        spread_mohm=BAND * spread * 1000 if seen else None,
        excess_mohm=excess * 1000 if seen else None,
        heat_w=excess * amps**2 if seen else None,
        bad=bad,
        text=_text(words, excess, bound, amps, bad) if seen else "not measured",
    )


def _text(words: str, excess: float, bound: float, amps: float, bad: bool) -> str:
    if not bad:
        return "as designed"
    return (
        f"{1000 * excess:.1f} ± {1000 * BAND * bound:.1f} mΩ too many in the {words}: {excess * amps**2:.0f} W of heat there at "
        "full current. Feel each joint, then measure across each."
    )
