"""A vehicle by Ohm's law in small steps, sharing nothing with the product: what a perfect meter reads in it, broken or whole."""

from __future__ import annotations

from dataclasses import dataclass

HANGING = 0.02  # volts on a lead that is joined to nothing


@dataclass
class Running:
    """Volts, ohms and amperes of one vehicle, and what in it is parted."""

    regulated_v: float
    sag_ohm: float
    spare_a: float
    battery_v: float
    supply_out: float
    supply_device: float
    supply_back: float
    delivery_out: float
    delivery_device: float
    delivery_back: float
    efficiency: float
    limit_a: float
    set_v: float
    emf_v: float
    auxiliary_ohm: float
    rest_start_v: float
    fall_start_v: float
    rest_auxiliary_v: float
    fall_auxiliary_v: float
    standby_ma: float
    old_link_a: float
    key_on_a: float
    enable_v: float
    sensor_share: float
    monitor_share: float
    zero_a: float
    air_c: float
    battery_c: float
    read_limit_a: float
    read_set_v: float
    read_start_v: float
    start_s: float
    battery_ohm: float = 0.005
    push_v: float = 0.9
    off: bool = False
    parted: str = ""  # supply_device, supply, supply_back, delivery_device, delivery, pack
    reversed: bool = False

    def charge(self) -> tuple[float, float, float]:
        """Amperes, volts at the output, volts of the battery: current is turned up until limit or charge volts are met."""
        if self.off or self.parted or self.reversed:
            return 0.0, 0.0, 0.0
        wire = self.delivery_out + self.delivery_device + self.delivery_back
        amps, step = 0.0, self.limit_a / 2
        for _ in range(60):
            wanted = amps + step
            if wanted <= self.limit_a and self.emf_v + wanted * (self.auxiliary_ohm + wire) <= self.set_v:
                amps = wanted
            step /= 2 if wanted > amps or step < 1e-9 else 1
        battery_v = self.emf_v + amps * self.auxiliary_ohm
        return amps, battery_v + amps * wire, battery_v

    def drawn(self, watts: float) -> tuple[float, float, float]:
        """Volts at the posts, volts at the input, amperes: the unit takes a little more until it has its watts."""
        run = self.supply_out + self.supply_device + self.supply_back

        def stands(amps: float) -> float:
            if amps <= self.spare_a:
                return self.regulated_v - amps * self.sag_ohm
            return min(self.battery_v, self.regulated_v) - (amps - self.spare_a) * self.battery_ohm

        amps = 0.0
        for _ in range(4000):
            posts_v = stands(amps)
            volts = posts_v - amps * run
            short = watts - volts * amps
            if short <= 1e-6 * max(watts, 1.0) or volts < 0.45 * posts_v:  # there, or past where it can ever be
                break
            amps += short / posts_v / 1.5
        return stands(amps), stands(amps) - amps * run, amps

    def meter(self) -> dict[str, float]:
        """Readings by what they are of."""
        still = bool(self.off or self.parted or self.reversed)
        out_a, out_v, battery_v = self.charge()
        posts_v, in_v, in_a = self.drawn(out_v * out_a / self.efficiency) if not still else (self.regulated_v, 0.0, 0.0)
        rest_v = HANGING if self.parted == "pack" else self.rest_auxiliary_v
        behind_v = (
            self.rest_auxiliary_v + self.push_v if self.parted in ("delivery_device", "delivery", "pack") else rest_v
        )
        if still:
            in_v = HANGING if self.parted.startswith("supply") else self.regulated_v
            in_v = -in_v if self.reversed else in_v
            out_v, battery_v = behind_v, rest_v
        far = out_v - out_a * self.delivery_device
        if self.parted == "delivery_device":
            far = rest_v
        return {
            "rest_start_v": self.rest_start_v,
            "loaded_start_v": self.rest_start_v - self.fall_start_v,
            "rest_auxiliary_v": rest_v,
            "loaded_auxiliary_v": rest_v if self.parted == "pack" else rest_v - self.fall_auxiliary_v,
            "output_rest_v": HANGING if self.parted in ("delivery_device", "delivery", "pack") else rest_v,
            "standby_ma": self.standby_ma,
            "key_on_a": self.key_on_a,
            "zero_a": self.zero_a,
            "idle_posts_v": self.regulated_v,
            "enable_v": self.enable_v,
            "posts_v": posts_v,
            "input_a": in_a,
            "input_v": in_v,
            "supply_far_v": HANGING if self.parted == "supply_device" else posts_v - in_a * self.supply_device,
            "in_plus_v": HANGING
            if self.parted in ("supply_device", "supply") or self.reversed
            else posts_v - in_a * (self.supply_out + self.supply_device),
            "output_a": out_a,
            "output_v": out_v,
            "delivery_far_v": far,
            "auxiliary_v": battery_v,
            "supply_out_mv": 1e3 * in_a * (self.supply_out + self.supply_device),
            "supply_device_mv": 1e3 * in_a * self.supply_device,
            "supply_back_mv": 1e3 * in_a * self.supply_back,
            "delivery_out_mv": 1e3 * out_a * (self.delivery_out + self.delivery_device),
            "delivery_device_mv": 1e3 * out_a * self.delivery_device,
            "delivery_back_mv": 1e3 * out_a * self.delivery_back,
            "old_link_a": self.old_link_a,
            "sensor_a": self.sensor_share * in_a,
            "monitor_a": self.monitor_share * out_a + self.zero_a,
            "air_c": self.air_c,
            "battery_c": self.battery_c,
            "read_limit_a": self.read_limit_a,
            "read_set_v": self.read_set_v,
            "read_start_v": self.read_start_v,
            "start_s": 900.0 if still else self.start_s,
        }
