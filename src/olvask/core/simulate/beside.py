"""What charges the auxiliary battery beside the unit, and between which of its temperatures each of them does.

- `Bounds`: a battery's temperatures outside of which something does not charge.
- `Beside`: chargers that run with the engine, and the sun through a controller of its own.
"""

from __future__ import annotations

import math

from olvask.core.model import Design
from olvask.core.model.charging import ChargeStages
from olvask.core.stages.match.sources import other_sources
from olvask.core.stages.settings.sources import stages_of


class Bounds:
    """Temperatures of the battery between which something charges [°C]."""

    __slots__ = ("cold_c", "hot_c")

    def __init__(self, stages: ChargeStages) -> None:
        """As its stages say; without end where they say nothing."""
        self.cold_c = -math.inf if stages.cold_c is None else stages.cold_c
        self.hot_c = math.inf if stages.hot_c is None else stages.hot_c

    def charges(self, battery_c: float) -> bool:
        """Whether it charges a battery of a temperature."""
        return self.cold_c <= battery_c <= self.hot_c


class Beside:
    """A design's chargers besides the unit that run with the engine, and its panel."""

    def __init__(self, design: Design) -> None:
        """From the survey."""
        unit = design.charger
        self.second_input = unit is not None and unit.dual_input != "none" and design.solar.into == "second_input"
        self.wasted_sun = design.solar.into == "second_input" and not self.second_input
        self.panel = Bounds(design.solar.stages)
        others = [item for item in other_sources(design) if item.place != "solar.panel_w"]
        self.built_in = [(item.driving_a, Bounds(stages_of(design, item.place))) for item in others]

    def driving_a(self, battery_c: float) -> float:
        """What runs with the engine gives a battery of a temperature [A]."""
        amps = 0.0
        for given_a, bounds in self.built_in:
            if bounds.charges(battery_c):
                amps += given_a
        return amps

    def sun_a(self, panel_a: float, battery_c: float) -> float:
        """What of a panel's current its own controller gives a battery of a temperature [A]."""
        return 0.0 if self.second_input or self.wasted_sun or not self.panel.charges(battery_c) else panel_a
