"""The running vehicle as it is likely to be: what is not known of it has a spread, and every reading narrows it.

The circuit is the design's own: source behind its resistance, supply run, constant-power unit, delivery run, battery. Around
what is thought likely it is straight enough for Kalman updates, made straight anew where the readings lead.

- `Unknown`, `unknowns_of`: what is not known, with its spread and where that comes from.
- `Likely`: means and covariance; `after` narrows them by readings, `told` predicts others.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import run_state
from olvask.core.physics.dc_path import Collapse, constant_power_volts

Name = Literal[
    "regulated_v",
    "sag_ohm",
    "supply_out",
    "supply_back",
    "delivery_out",
    "delivery_back",
    "efficiency",
    "output_a",
    "auxiliary_v",
]
LEGS: tuple[Name, ...] = ("supply_out", "supply_back", "delivery_out", "delivery_back")
Quantity = Literal[
    "idle_posts_v",
    "posts_v",
    "input_v",
    "input_a",
    "output_v",
    "output_a",
    "auxiliary_v",
    "supply_out_mv",
    "supply_back_mv",
    "delivery_out_mv",
    "delivery_back_mv",
]
# Spreads, standard deviations, all our own estimates.
MEASURED_V, ASSUMED_V = (
    0.06,
    0.25,
)  # per 12 V: volts measured at the survey move with temperature; assumed ones differ by vehicle
MEASURED_SAG, ASSUMED_SAG = 0.15, 0.4  # of itself
LEG_SHARE, LEG_OHM = 0.07, 0.00025  # lengths, strands and temperature; crimps
OWN_OHM = 0.0012  # a chassis return nobody has measured
EFFICIENCY, OUTPUT_SHARE = 0.02, 0.02
AUXILIARY_V = 0.45  # per 12 V, of a battery whose charge is not known
PUSHED_V = 0.9  # a unit that meets no battery stands about so far above what it last saw; our own estimate
LOOSE_OHM = 0.04  # of a leg that may hold anything
STEP = 0.01  # of the finite differences, in standard deviations
ROUNDS = 4  # after which the means stand to a thousandth


@dataclass(frozen=True, slots=True)
class Unknown:
    """One thing not known: where it most likely lies, and how far from there."""

    name: Name
    words: str
    mean: float
    sigma: float


def unknowns_of(ctx: Context) -> tuple[Unknown, ...]:
    """What is not known of a healthy vehicle built as designed, charging at the current it is set to."""
    facts, output, scale = ctx.facts, ctx.solved.output, ctx.facts.scale
    idle = ctx.solved.running[0]
    supply = idle.run
    output_a = output.current_a if output is not None else 0.0
    delivery = (
        output.run
        if output is not None
        else run_state(ctx.design.delivery, 0.0, ctx.design.choices.lug_mohm, supply=False)
    )
    measured = facts.idle.provenance in ("measured", "datasheet")
    sag = float(facts.sag.value) / 1000
    spread = MEASURED_SAG if facts.sag.provenance == "measured" else ASSUMED_SAG
    auxiliary_scale = ctx.design.auxiliary.nominal_v / 12
    absorption_v = float(facts.absorption.value)
    return (
        Unknown(
            "regulated_v",
            "volts the engine holds",
            float(facts.idle.value),
            (MEASURED_V if measured else ASSUMED_V) * scale,
        ),
        Unknown("sag_ohm", "how far the posts fall under load", sag, max(1e-4, spread * sag)),
        _leg("supply_out", "supply run, outgoing", supply.out_ohm, ctx, "supply"),
        _leg("supply_back", "supply run, return", supply.back_ohm, ctx, "supply"),
        _leg("delivery_out", "delivery run, outgoing", delivery.out_ohm, ctx, "delivery"),
        _leg("delivery_back", "delivery run, return", delivery.back_ohm, ctx, "delivery"),
        Unknown(
            "efficiency",
            "the unit's efficiency",
            ctx.design.charger.efficiency if ctx.design.charger else 0.9,
            EFFICIENCY,
        ),
        Unknown("output_a", "what the unit gives", output_a, max(0.1, OUTPUT_SHARE * output_a)),
        Unknown(
            "auxiliary_v",
            "volts of the auxiliary battery",
            absorption_v - 0.8 * auxiliary_scale,
            AUXILIARY_V * auxiliary_scale,
        ),
    )


def _leg(name: Name, words: str, ohm: float, ctx: Context, run: Literal["supply", "delivery"]) -> Unknown:
    back = ctx.design.run(run).back
    body = name.endswith("back") and back.kind == "chassis" and back.resistance_mohm is None
    return Unknown(name, words, ohm, OWN_OHM if body else LEG_SHARE * ohm + LEG_OHM)


Mode = Literal["charging", "idle", "no_input", "no_output", "pack_off"]


def readings_of(values: Sequence[float], mode: Mode = "charging") -> dict[Quantity, float]:
    """What a meter would read everywhere, in a vehicle of these values.

    Args:
        values: in the order of `unknowns_of`.
        mode: charging; idle, with volts everywhere and no current; a supply run that is open; a delivery run that is
            open, or a battery whose management is, under a unit that pushes all the same.
    """
    regulated_v, sag, s_out, s_back, d_out, d_back, efficiency, output_a, auxiliary_v = values
    if mode != "charging":
        return _resting(regulated_v, auxiliary_v, mode)
    output_v = auxiliary_v + output_a * (d_out + d_back)
    power_w = max(0.0, output_v * output_a / max(efficiency, 0.05))
    ohm = max(0.0, sag + s_out + s_back)
    try:
        input_v = constant_power_volts(regulated_v, ohm, power_w)
    except Collapse:
        input_v = regulated_v / 2
    input_a = power_w / max(input_v, 0.5)
    return {
        "idle_posts_v": regulated_v,
        "posts_v": regulated_v - sag * input_a,
        "input_v": input_v,
        "input_a": input_a,
        "output_v": output_v,
        "output_a": output_a,
        "auxiliary_v": auxiliary_v,
        "supply_out_mv": 1000 * input_a * s_out,
        "supply_back_mv": 1000 * input_a * s_back,
        "delivery_out_mv": 1000 * output_a * d_out,
        "delivery_back_mv": 1000 * output_a * d_back,
    }


def _resting(regulated_v: float, auxiliary_v: float, mode: Mode) -> dict[Quantity, float]:
    """Readings where nothing flows."""
    pushed_v = auxiliary_v + PUSHED_V if mode in ("no_output", "pack_off") else auxiliary_v
    return {
        "idle_posts_v": regulated_v,
        "posts_v": regulated_v,
        "input_v": 0.0 if mode == "no_input" else regulated_v,
        "input_a": 0.0,
        "output_v": pushed_v,
        "output_a": 0.0,
        "auxiliary_v": 0.0 if mode == "pack_off" else auxiliary_v,
        "supply_out_mv": 0.0,
        "supply_back_mv": 0.0,
        "delivery_out_mv": 0.0,
        "delivery_back_mv": 0.0,
    }


Matrix = tuple[tuple[float, ...], ...]


@dataclass(frozen=True, slots=True)
class Likely:
    """What is thought likely: means and covariance of the unknowns."""

    means: tuple[float, ...]
    covariance: Matrix
    scales: tuple[float, ...]
    mode: Mode = "charging"
    logged: float = 0.0  # logarithm of how likely the readings were

    @classmethod
    def of(cls, unknowns: Sequence[Unknown], loose: bool = False, mode: Mode = "charging") -> Likely:
        """Before anything was read.

        Args:
            unknowns: what is not known.
            loose: whether a leg may hold anything, as when one looks for a bad joint.
            mode: what flows.
        """
        sigmas = tuple(
            math.hypot(item.sigma, LOOSE_OHM) if loose and item.name in LEGS else item.sigma for item in unknowns
        )
        count = range(len(sigmas))
        covariance = tuple(tuple(sigmas[row] ** 2 if row == column else 0.0 for column in count) for row in count)
        return cls(tuple(item.mean for item in unknowns), covariance, sigmas, mode)

    def after(self, read: Sequence[tuple[Quantity, float, float]]) -> Likely:
        """What is likely once readings were taken: Gauss and Newton, the circuit made straight anew where it was found to be.

        Args:
            read: what was read, the reading, its standard deviation.
        """
        if not read:
            return self
        at = self.means
        found = self
        for _ in range(ROUNDS):
            slopes, shown = _slopes(at, self.scales, self.mode), readings_of(at, self.mode)
            found = self
            for quantity, value, sigma in read:
                found = found._updated(slopes[quantity], value - shown[quantity], at, sigma)
            at = found.means
        return found

    def _updated(self, slope: Sequence[float], missed: float, at: Sequence[float], sigma: float) -> Likely:
        """One Kalman update by a reading that missed what the circuit at `at` shows."""
        count = range(len(slope))
        gained = [sum(row[place] * slope[place] for place in count) for row in self.covariance]
        spread = sum(slope[place] * gained[place] for place in count) + sigma**2
        missed -= sum(slope[place] * (self.means[place] - at[place]) for place in count)
        means = tuple(mean + gain / spread * missed for mean, gain in zip(self.means, gained, strict=True))
        covariance = tuple(
            tuple(self.covariance[row][column] - gained[row] * gained[column] / spread for column in count)
            for row in count
        )
        logged = self.logged - 0.5 * (missed * missed / spread + math.log(2 * math.pi * spread))
        return Likely(means, covariance, self.scales, self.mode, logged)

    def told(self) -> dict[Quantity, tuple[float, float, tuple[float, ...]]]:
        """What each reading would most likely be, its standard deviation (the meter apart) and its slope."""
        slopes, shown = _slopes(self.means, self.scales, self.mode), readings_of(self.means, self.mode)
        return {
            quantity: (value, math.sqrt(max(0.0, _quadratic(slopes[quantity], self.covariance))), slopes[quantity])
            for quantity, value in shown.items()
        }

    def narrowed(self, wanted: Sequence[float], by: Sequence[float], sigma: float) -> float:
        """Standard deviation of a reading of slope `wanted` once one of slope `by` was taken, whatever it says."""
        count = range(len(by))
        gained = [sum(row[place] * by[place] for place in count) for row in self.covariance]
        spread = sum(by[place] * gained[place] for place in count) + sigma**2
        shared = sum(wanted[place] * gained[place] for place in count)
        return math.sqrt(max(0.0, _quadratic(wanted, self.covariance) - shared**2 / spread))

    def leg(self, name: Name, at: Mapping[Name, int]) -> tuple[float, float]:
        """A leg's resistance [Ω] and its standard deviation."""
        place = at[name]
        return self.means[place], math.sqrt(max(0.0, self.covariance[place][place]))


def _slopes(means: Sequence[float], scales: Sequence[float], mode: Mode) -> dict[Quantity, tuple[float, ...]]:
    """How every reading moves with every unknown, by finite differences."""
    columns = []
    for at, scale in enumerate(scales):
        step = max(scale, 1e-9) * STEP
        high, low = list(means), list(means)
        high[at] += step
        low[at] -= step
        more, less = readings_of(high, mode), readings_of(low, mode)
        columns.append({quantity: (more[quantity] - less[quantity]) / (2 * step) for quantity in more})
    return {quantity: tuple(column[quantity] for column in columns) for quantity in columns[0]}


def _quadratic(slope: Sequence[float], covariance: Matrix) -> float:
    count = range(len(slope))
    return sum(slope[row] * covariance[row][column] * slope[column] for row in count for column in count)
