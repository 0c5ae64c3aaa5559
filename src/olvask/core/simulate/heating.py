"""How warm a run is on a trip: between cold and steadily warm at full current."""

from __future__ import annotations

from typing import Final

from mypy_extensions import mypyc_attr

from olvask.core.catalogue import conductor
from olvask.core.circuit.ampacity import cable_ambient_c, surface_resistance
from olvask.core.circuit.runs import RunState
from olvask.core.model import Cable, Run
from olvask.core.physics.conductors import ALPHA_CU_PER_K
from olvask.core.physics.heat import time_constant_s
from olvask.core.simulate.programme import WARM_DAY_C

RUN_TAU_S: Final = 300.0  # of a run without a cable


@mypyc_attr(serializable=True, allow_interpreted_subclasses=True)  # copied by `copy`
class Heating:
    """A run between cold and steadily warm at full current: resistance, hottest conductor, time constant."""

    def __init__(self, run: Run, cold: RunState, warm: RunState) -> None:
        """Take the two ends; resistances in between follow the heating in proportion."""
        self.cold_ohm, self.more_ohm = cold.loop_ohm, warm.loop_ohm - cold.loop_ohm
        self.full_a = max(warm.current_a, 1e-9)
        self.coolest_c, self.rise_k, self.tau_s = WARM_DAY_C, 0.0, RUN_TAU_S
        weight = held = 0.0
        for piece, state in zip(run.pieces, warm.pieces, strict=False):
            if not isinstance(piece, Cable) or state.temperature_c is None:
                continue
            air_c = cable_ambient_c(piece)
            rise_k = state.temperature_c - air_c
            if rise_k >= self.rise_k:
                self.coolest_c, self.rise_k = air_c, rise_k
            area_mm2 = conductor(piece.size).area_mm2
            weight += state.out_ohm
            held += state.out_ohm * time_constant_s(area_mm2, rise_k, air_c, surface_resistance(piece))
        if weight > 0:
            self.tau_s = held / weight

    def ohm(self, heating: float, shift_k: float) -> float:
        """Loop resistance [Ω] at a heating, the air `shift_k` away from that of the design."""
        return (self.cold_ohm + heating * self.more_ohm) * (1 + ALPHA_CU_PER_K * shift_k)

    def celsius(self, heating: float, shift_k: float) -> float:
        """Hottest conductor [°C]."""
        return self.coolest_c + shift_k + heating * self.rise_k
