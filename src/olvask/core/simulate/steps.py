"""One step through time: what the rates at its ends come to.

- `approached`: how far something comes to its end.
- `moved`: the state after a time at given rates.
- `mean_rates`: rates that stand for a whole step.
- `end_share`: the weight of the end among them.
"""

from __future__ import annotations

import math

from olvask.core.simulate.plant import BATTERY_TAU_S, Plant
from olvask.core.simulate.states import State


def approached(seconds: float, tau_s: float) -> float:
    """Share of the way to its end that something has gone after a time.

    Args:
        seconds: how long [s].
        tau_s: its time constant [s].
    """
    return 1 - math.exp(-seconds / tau_s)


def end_share(began: float, changed: float) -> float:
    """The weight of the end in the mean rate of a step, for what decays as it moves.

    Args:
        began: rate at the beginning.
        changed: by how much the rate differs at the end foretold by the beginning.

    Half of a steady slope; less where a rate decays within the step, so that the mean is that of the exponential whose
    slope both ends tell (the exponentially fitted Euler step).
    """
    if changed * began >= 0:  # what grows does so by the clock: soft starts, warming
        return 0.5
    decay = -changed / began
    if decay < 1e-3:
        return 0.5 - decay / 6
    return (1 - (1 - math.exp(-decay)) / decay) / decay


def moved(plant: Plant, state: State, rates: State, seconds: float) -> State:
    """The state after a time, bounds of charge left aside; heating approaches its end exactly.

    Args:
        plant: the vehicle.
        state: its state.
        rates: how fast it changes.
        seconds: how long [s].
    """
    supply_s, delivery_s, unit_s = plant.supply.tau_s, plant.delivery.tau_s, plant.unit_tau_s
    return State(
        state.start_charge + rates.start_charge * seconds,
        state.auxiliary_charge + rates.auxiliary_charge * seconds,
        state.supply_heating + rates.supply_heating * supply_s * approached(seconds, supply_s),
        state.delivery_heating + rates.delivery_heating * delivery_s * approached(seconds, delivery_s),
        state.unit_rise_k + rates.unit_rise_k * unit_s * approached(seconds, unit_s),
        state.battery_c + rates.battery_c * BATTERY_TAU_S * approached(seconds, BATTERY_TAU_S)
        if rates.battery_c
        else state.battery_c,
    )


def mean_rates(
    plant: Plant, state: State, rates: State, ended: State, foretold: State, shares: tuple[float, float]
) -> State:
    """Rates that stand for a whole step; for what approaches an end, by the mean of its ends.

    Args:
        plant: the vehicle.
        state: its state at the beginning.
        rates: how fast it changes there.
        ended: how fast at the foretold end.
        foretold: the state there.
        shares: weight of the end, for the start battery and for the auxiliary battery.
    """
    supply_k, delivery_k = (
        foretold.supply_heating - state.supply_heating,
        foretold.delivery_heating - state.delivery_heating,
    )
    return State(
        rates.start_charge + (ended.start_charge - rates.start_charge) * shares[0],
        rates.auxiliary_charge + (ended.auxiliary_charge - rates.auxiliary_charge) * shares[1],
        (rates.supply_heating + ended.supply_heating + supply_k / plant.supply.tau_s) / 2,
        (rates.delivery_heating + ended.delivery_heating + delivery_k / plant.delivery.tau_s) / 2,
        (rates.unit_rise_k + ended.unit_rise_k + (foretold.unit_rise_k - state.unit_rise_k) / plant.unit_tau_s) / 2,
        rates.battery_c,
    )
