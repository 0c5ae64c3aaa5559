"""A running vehicle by Ohm's law in small steps, sharing nothing with the product: what a perfect meter reads in it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass
class Running:
    """Volts, ohms and amperes of one vehicle."""

    regulated_v: float
    sag_ohm: float
    supply_out: float
    supply_back: float
    delivery_out: float
    delivery_back: float
    efficiency: float
    output_a: float
    auxiliary_v: float

    def meter(self) -> dict[str, float]:
        """Readings by test; the unit draws what it needs, so its input current is found by going round until it stands."""
        output_v = self.auxiliary_v + self.output_a * (self.delivery_out + self.delivery_back)
        watts = output_v * self.output_a / self.efficiency
        amps = watts / self.regulated_v
        for _ in range(400):
            volts = self.regulated_v - amps * (self.sag_ohm + self.supply_out + self.supply_back)
            amps += 0.3 * (watts / volts - amps)
        return {
            "idle_posts_v": self.regulated_v,
            "posts_v": self.regulated_v - amps * self.sag_ohm,
            "input_v": volts,
            "input_a": amps,
            "output_v": output_v,
            "output_a": self.output_a,
            "auxiliary_v": self.auxiliary_v,
            "supply_out_mv": 1e3 * amps * self.supply_out,
            "supply_back_mv": 1e3 * amps * self.supply_back,
            "delivery_out_mv": 1e3 * self.output_a * self.delivery_out,
            "delivery_back_mv": 1e3 * self.output_a * self.delivery_back,
        }
