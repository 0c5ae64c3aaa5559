"""One step through time: what the rates at its ends come to.

- `moved`: the state after a time at given rates.
- `mean_rates`: rates that stand for a whole step.
- `end_share`: the weight of the end among them.
"""

from __future__ import annotations

import math

from olvask.core.simulate.plant import BATTERY_TAU_S, Plant
from olvask.core.simulate.states import State


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
    return (1 + math.expm1(-decay) / decay) / decay


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
        state.supply_heating + rates.supply_heating * supply_s * -math.expm1(-seconds / supply_s),
        state.delivery_heating + rates.delivery_heating * delivery_s * -math.expm1(-seconds / delivery_s),
        state.unit_rise_k + rates.unit_rise_k * unit_s * -math.expm1(-seconds / unit_s),
        state.battery_c + rates.battery_c * BATTERY_TAU_S * -math.expm1(-seconds / BATTERY_TAU_S)
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
    start, auxiliary, supply, delivery, unit, battery = rates
    start_then, auxiliary_then, supply_then, delivery_then, unit_then, _ = ended
    _, _, supply_heating, delivery_heating, unit_rise_k, _ = state
    _, _, supply_there, delivery_there, unit_there, _ = foretold
    return State(
        start + (start_then - start) * shares[0],
        auxiliary + (auxiliary_then - auxiliary) * shares[1],
        (supply + supply_then + (supply_there - supply_heating) / plant.supply.tau_s) / 2,
        (delivery + delivery_then + (delivery_there - delivery_heating) / plant.delivery.tau_s) / 2,
        (unit + unit_then + (unit_there - unit_rise_k) / plant.unit_tau_s) / 2,
        battery,
    )
