"""A vehicle of given volts and ohms, and what a meter reads everywhere in it; many vehicles at once.

The circuit is the design's own: alternator behind its resistance until it has no more to give, then the start battery; the
supply run with its branches; a unit of constant power that gives its limit until its charge volts are reached; the delivery
run; a battery behind its resistance.

- `Plant`: of one design; `read` takes an array of vehicles.
- `QUANTITIES`, `Quantity`: what can be read. `MODES`, `Mode`: what flows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from olvask.core.stages.prove.unknowns import AT, Constants, Name

Floats = NDArray[np.float64]
Whole = NDArray[np.int_]
Quantity = Literal[
    "rest_start_v",
    "loaded_start_v",
    "rest_auxiliary_v",
    "loaded_auxiliary_v",
    "output_rest_v",
    "standby_ma",
    "key_on_a",
    "zero_a",
    "idle_posts_v",
    "enable_v",
    "posts_v",
    "input_a",
    "supply_far_v",
    "in_plus_v",
    "input_v",
    "output_a",
    "output_v",
    "delivery_far_v",
    "auxiliary_v",
    "supply_out_mv",
    "supply_device_mv",
    "supply_back_mv",
    "delivery_out_mv",
    "delivery_device_mv",
    "delivery_back_mv",
    "old_link_a",
    "sensor_a",
    "monitor_a",
    "air_c",
    "battery_c",
    "read_limit_a",
    "read_set_v",
    "read_start_v",
    "start_s",
]
QUANTITIES: tuple[Quantity, ...] = Quantity.__args__  # type: ignore[attr-defined]
READ: dict[Quantity, int] = {name: place for place, name in enumerate(QUANTITIES)}
Mode = Literal[
    "charging",
    "idle",
    "open_supply_device",
    "open_supply",
    "open_supply_back",
    "open_delivery_device",
    "open_delivery",
    "pack_off",
    "reversed",
]
MODES: tuple[Mode, ...] = Mode.__args__  # type: ignore[attr-defined]
# What stands beside the circuit and the readings it reaches, in sets of which no two reach the same one: a set is moved at
# once, and what a reading moves by is owed to the one that reaches it.
BESIDE: tuple[dict[Name, tuple[Quantity, ...]], ...] = (
    {
        "rest_start_v": ("rest_start_v", "loaded_start_v"),
        "rest_auxiliary_v": (
            "rest_auxiliary_v",
            "loaded_auxiliary_v",
            "output_rest_v",
            "output_v",
            "delivery_far_v",
            "auxiliary_v",
        ),
        "standby_ma": ("standby_ma",),
        "old_link_a": ("old_link_a",),
        "key_on_a": ("key_on_a",),
        "enable_v": ("enable_v",),
        "sensor_share": ("sensor_a",),
        "monitor_share": ("monitor_a",),
        "air_c": ("air_c",),
        "battery_c": ("battery_c",),
        "read_limit_a": ("read_limit_a",),
        "read_set_v": ("read_set_v",),
        "read_start_v": ("read_start_v",),
        "start_s": ("start_s",),
    },
    {
        "fall_start_v": ("loaded_start_v",),
        "fall_auxiliary_v": ("loaded_auxiliary_v",),
        "zero_a": ("zero_a", "monitor_a"),
    },
)
PUSHED_V = 0.9  # per 12 V: a unit that meets no battery stands about so far above what it last saw; our own estimate
ROUND = 0.02  # of a current: corners of the circuit are so wide; our own estimate
MOST_A = 1e4  # no wire in a vehicle carries more
OPEN_V = 0.02  # of a lead that hangs on nothing, through the meter
NEVER_S = 900.0  # what does not start within a quarter of an hour does not start


@dataclass(frozen=True, slots=True)
class Plant:
    """One design's circuit with its unknowns open."""

    known: Constants

    def read(self, values: Floats, mode: Whole) -> Floats:
        """What a perfect meter reads.

        Args:
            values: vehicles, shape (..., unknowns) in the order of `NAMES`.
            mode: what flows in each, indices of `MODES`, of a shape that fits (...).

        Returns:
            Readings, shape (..., quantities) in the order of `QUANTITIES`.
        """

        def of(name: Name) -> Floats:
            return values[..., AT[name]]

        def among(*names: Mode) -> NDArray[np.bool_]:
            table = np.zeros(len(MODES), dtype=bool)
            table[[MODES.index(name) for name in names]] = True
            return table[mode]

        flows = among("charging")
        output_a, output_v, auxiliary_v = self._delivered(values, flows)
        posts_v, input_v, input_a = self._drawn(values, output_a * output_v, flows)
        drops = self._drops(values, input_a, output_a, among("open_supply_device", "open_supply", "open_supply_back"))
        rest_v = np.where(among("pack_off"), OPEN_V, of("rest_auxiliary_v"))
        # A unit that meets no battery pushes all the same; one that is off shows the battery behind it.
        cut = among("open_delivery_device", "open_delivery", "pack_off")
        pushed_v = of("rest_auxiliary_v") + PUSHED_V * self.known.auxiliary_scale
        still_v = np.where(cut, pushed_v, rest_v)
        dead = among("open_supply_device", "open_supply", "open_supply_back")
        still_in_v = np.where(dead, OPEN_V, np.where(among("reversed"), -posts_v, posts_v))
        out_drop, device_drop = drops["supply_out"], drops["supply_device"]
        found: dict[Quantity, Floats] = {
            "rest_start_v": of("rest_start_v"),
            "loaded_start_v": of("rest_start_v") - of("fall_start_v"),
            "rest_auxiliary_v": rest_v,
            "loaded_auxiliary_v": np.where(among("pack_off"), OPEN_V, rest_v - of("fall_auxiliary_v")),
            "output_rest_v": np.where(cut, OPEN_V, rest_v),
            "standby_ma": of("standby_ma"),
            "key_on_a": of("key_on_a"),
            "zero_a": of("zero_a"),
            "idle_posts_v": self._idle_posts(values, np.maximum(0.0, of("spare_a"))),
            "enable_v": of("enable_v"),
            "posts_v": posts_v,
            "input_a": input_a,
            "supply_far_v": np.where(among("open_supply_device"), OPEN_V, posts_v - device_drop),
            "in_plus_v": np.where(
                among("open_supply_device", "open_supply", "reversed"), OPEN_V, posts_v - out_drop - device_drop
            ),
            "input_v": np.where(flows, input_v, still_in_v),
            "output_a": output_a,
            "output_v": np.where(flows, output_v, still_v),
            "delivery_far_v": np.where(
                flows,
                output_v - drops["delivery_device"],
                np.where(among("open_delivery"), pushed_v, np.where(among("open_delivery_device"), rest_v, still_v)),
            ),
            "auxiliary_v": np.where(flows, auxiliary_v, rest_v),
            "supply_out_mv": 1000 * (out_drop + device_drop),
            "supply_device_mv": 1000 * device_drop,
            "supply_back_mv": 1000 * drops["supply_back"],
            "delivery_out_mv": 1000 * (drops["delivery_out"] + drops["delivery_device"]),
            "delivery_device_mv": 1000 * drops["delivery_device"],
            "delivery_back_mv": 1000 * drops["delivery_back"],
            "old_link_a": of("old_link_a"),
            "sensor_a": of("sensor_share") * input_a,
            "monitor_a": of("monitor_share") * np.maximum(0.0, output_a - self.known.taken_a) + of("zero_a"),
            "air_c": of("air_c"),
            "battery_c": of("battery_c"),
            "read_limit_a": of("read_limit_a"),
            "read_set_v": of("read_set_v"),
            "read_start_v": of("read_start_v"),
            "start_s": np.where(flows, of("start_s"), NEVER_S),
        }
        shape = np.broadcast_shapes(values.shape[:-1], mode.shape)
        read = np.empty((*shape, len(QUANTITIES)))
        for at, name in enumerate(QUANTITIES):
            read[..., at] = found[name]
        return read

    def _delivered(self, values: Floats, flows: NDArray[np.bool_]) -> tuple[Floats, Floats, Floats]:
        """Current out [A], volts at the output, volts of the battery."""
        extra, taken_a = self.known.extra_a, self.known.taken_a
        out = values[..., AT["delivery_out"]] + values[..., AT["delivery_device"]]
        back = values[..., AT["delivery_back"]]
        ohm, emf_v = values[..., AT["auxiliary_ohm"]], values[..., AT["emf_v"]]
        branch_v = out * extra["delivery_out"] + back * extra["delivery_back"]
        room_v = values[..., AT["set_v"]] - emf_v + ohm * taken_a - branch_v
        most_a = np.clip(room_v / np.maximum(1e-4, ohm + out + back), -MOST_A, MOST_A)
        limit_a = np.maximum(0.0, values[..., AT["limit_a"]])
        # The corner between limit and charge volts is a little round, as a unit's own is.
        round_a = np.maximum(1e-3, ROUND * limit_a)
        lesser_a = -round_a * np.logaddexp(-most_a / round_a, -limit_a / round_a)
        output_a = np.where(flows, round_a * np.logaddexp(0.0, lesser_a / round_a), 0.0)
        auxiliary_v = emf_v + ohm * (output_a - taken_a)
        return output_a, auxiliary_v + (out + back) * output_a + branch_v, auxiliary_v

    def _drawn(self, values: Floats, watts: Floats, flows: NDArray[np.bool_]) -> tuple[Floats, Floats, Floats]:
        """Volts at the posts and at the input, and the current in [A]."""
        known, extra = self.known, self.known.extra_a
        out, back = values[..., AT["supply_out"]] + values[..., AT["supply_device"]], values[..., AT["supply_back"]]
        regulated_v, sag = values[..., AT["regulated_v"]], np.maximum(0.0, values[..., AT["sag_ohm"]])
        spare_a = np.maximum(0.0, values[..., AT["spare_a"]])
        power_w = watts / np.maximum(values[..., AT["efficiency"]], 0.05)
        branch_v = out * extra["supply_out"] + back * extra["supply_back"]
        run = np.maximum(0.0, out + back)
        input_v = _held(regulated_v - sag * known.extra_source_a - branch_v, sag + run, power_w)
        input_a = power_w / np.maximum(input_v, 0.5)
        posts_v = regulated_v - sag * (input_a + known.extra_source_a)
        # Beyond what the alternator has left the start battery gives the rest, at its own volts.
        # How much of it is past that point: a fan's or a lamp's worth either way is no corner.
        past = (input_a + known.extra_source_a - spare_a) / max(0.1, ROUND * known.full_a)
        over = 0.5 * (1 + np.tanh(past))
        held_v = np.minimum(values[..., AT["battery_v"]], regulated_v) + spare_a * known.battery_ohm
        low_v = _held(held_v - known.battery_ohm * known.extra_source_a - branch_v, known.battery_ohm + run, power_w)
        low_a = power_w / np.maximum(low_v, 0.5)
        low_posts_v = held_v - (low_a + known.extra_source_a) * known.battery_ohm
        return (
            np.where(flows, posts_v + over * (low_posts_v - posts_v), self._idle_posts(values, spare_a)),
            input_v + over * (low_v - input_v),
            np.where(flows, input_a + over * (low_a - input_a), 0.0),
        )

    def _idle_posts(self, values: Floats, spare_a: Floats) -> Floats:
        """Volts at the posts while the unit draws nothing: the battery's own where branches alone are more than is left."""
        known, extra_a = self.known, self.known.extra_source_a
        regulated_v, sag = values[..., AT["regulated_v"]], np.maximum(0.0, values[..., AT["sag_ohm"]])
        held_v = np.minimum(values[..., AT["battery_v"]], regulated_v) + (spare_a - extra_a) * known.battery_ohm
        return np.where(extra_a > spare_a, held_v, regulated_v - sag * extra_a)

    def _drops(
        self, values: Floats, input_a: Floats, output_a: Floats, open_supply: NDArray[np.bool_]
    ) -> dict[Name, Floats]:
        """What is lost in each part of the runs [V], branches counted; nothing in a supply run that is open."""
        extra = self.known.extra_a
        through: dict[Name, Floats] = {
            "supply_out": np.where(open_supply, 0.0, input_a + extra["supply_out"]),
            "supply_device": np.where(open_supply, 0.0, input_a + extra["supply_out"]),
            "supply_back": np.where(open_supply, 0.0, input_a + extra["supply_back"]),
            "delivery_out": np.where(output_a > 0, output_a + extra["delivery_out"], 0.0),
            "delivery_device": np.where(output_a > 0, output_a + extra["delivery_out"], 0.0),
            "delivery_back": np.where(output_a > 0, output_a + extra["delivery_back"], 0.0),
        }
        return {name: amps * values[..., AT[name]] for name, amps in through.items()}


def _held(open_v: Floats, ohm: Floats, power_w: Floats) -> Floats:
    """Upper stable volts of a load of constant power; where the run cannot carry it, half of what stands open."""
    return 0.5 * (open_v + np.sqrt(np.maximum(0.0, open_v * open_v - 4 * power_w * ohm)))
