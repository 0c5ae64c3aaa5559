"""The vehicle of the rig: the road test's own simulator, stepped on as time goes by, with probes in it.

- `RigVehicle`: prepares the state a test asks for, lets time go by, and says what a perfect meter reads.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from olvask.core.circuit.context import Context
from olvask.core.circuit.runs import RunState, run_state
from olvask.core.circuit.thresholds import Rule
from olvask.core.model import Design, RunName
from olvask.core.physics.alternator import Source
from olvask.core.simulate.machine import settings_of
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.programme import Engine, Programme, Stretch
from olvask.core.simulate.states import Flow
from olvask.core.simulate.trip import Trial
from olvask.core.stages.prove.allowed import WIRED, by_remote
from olvask.core.stages.prove.tests import ProveTest, tests_of
from olvask.core.stages.prove.unknowns import device_of, unknowns_of
from olvask.rig.faults import Spoilt, spoilt_plant

WARM_S = 240.0  # after which start rules are held and the soft start is over
LONG_S = 1800.0
OPEN_REMOTE_V = 5.0  # a unit's own, between remote terminals that are not joined; our own estimate
ENOUGH = 0.8  # of the volts at an enable that still count as given; our own estimate
CATCH = 60  # looks, two seconds apart
BEGIN_START, BEGIN_AUXILIARY, MOST_AUXILIARY = 0.9, 0.4, 0.5
HANGING_V = 0.02
OPEN_OHM = 1e6
LAMPS_V = 0.35  # per 12 V: a start battery under its lamps; our own estimate
LOADED_V = 0.25  # per 12 V: an auxiliary battery under its usual load; our own estimate


@dataclass(slots=True)
class _Legs:
    """Resistance of each leg of a run [Ω], and what branches add to its current [A]."""

    out: float
    device: float
    back: float
    extra_a: float

    @classmethod
    def of(cls, state: RunState, device: int | None) -> _Legs:
        """The legs of a run with its current."""
        own = state.pieces[device].out_ohm if device is not None else 0.0
        extra = state.branch_v / state.loop_ohm if state.loop_ohm > 0 else 0.0
        return cls(state.out_ohm - own, own, state.back_ohm, extra)


class RigVehicle:
    """One vehicle: what it does now, and what a meter would read in it."""

    def __init__(self, design: Design, fault: Spoilt | None = None) -> None:
        """Build it as designed, and spoil it.

        Args:
            design: the design.
            fault: what is wrong with it.
        """
        self.ctx = Context.of(design)
        self.fault = Spoilt()
        self.engine: Engine = "off"
        self.key = self.enabled = False
        self.lamps = False
        self._begin()
        if fault is not None:
            self.spoil(fault)

    def _begin(self) -> None:
        programme = Programme((), BEGIN_START, BEGIN_AUXILIARY)
        self.trial = Trial(self.ctx.design, programme, solved=self.ctx.solved, recorded=False)
        self.whole = self.trial.plant
        self.settings = settings_of(self.ctx.design, self.ctx.solved)

    def spoil(self, fault: Spoilt) -> None:
        """Put a fault in, or take it out: a healthy one cures.

        Args:
            fault: what is wrong from now on.
        """
        if self.fault.auxiliary_charge is not None and fault.auxiliary_charge is None:
            self.trial.state = replace(self.trial.state, auxiliary_charge=BEGIN_AUXILIARY)
            self.trial.machine.stage = "bulk"
        self.fault = fault
        self.trial.plant = self._plant(fault)
        self.trial.machine.profile = self.trial.plant.profile
        if fault.auxiliary_charge is not None:
            self.trial.state = replace(self.trial.state, auxiliary_charge=fault.auxiliary_charge)
        more_v = fault.start_more_v * self.ctx.facts.scale
        rules = tuple(Rule(rule.volts + more_v, rule.held_s) for rule in self.settings.start_rules)
        machine = self.trial.machine
        machine.rule = replace(self.settings, start_rules=rules)
        if machine.by_volts:
            machine.starts = tuple((max(rule.volts, self.settings.least_input_v), rule.held_s) for rule in rules)
        self.trial.ahead = None

    def _plant(self, fault: Spoilt) -> Plant:
        """The simulator's vehicle with what is off in it."""
        plant = spoilt_plant(self.whole, fault)
        plant.sources = {key: _short(source, fault.spare_share) for key, source in plant.sources.items()}
        plant.plug_run = (
            "delivery" if fault.parted.startswith("delivery") else "supply" if fault.parted else plant.plug_run
        )
        return plant

    @property
    def stretch(self) -> Stretch:
        """What holds now."""
        fault, engine = self.fault, self.engine
        engine = "low" if fault.low and engine in ("idle", "cruise") and "low" in self.whole.sources else engine
        return Stretch(
            engine, math.inf, ignition=self.key or engine != "off", plugged=not fault.parted, remote=self._allow()
        )

    def wait(self, seconds: float) -> None:
        """Let time go by.

        Args:
            seconds: how long.
        """
        self._allow()
        self.trial.drive_on(self.stretch, seconds)
        self.trial.trip.events.clear()

    def _allow(self) -> bool:
        """Whether its enable reaches the unit and it is switched on; told to the unit."""
        fault = self.fault
        wired = bool(WIRED & self.settings.ways)
        given = self.enabled and not fault.off and (fault.enable_share > ENOUGH or not wired)
        self.trial.machine.allowed = given
        return given

    def prepare(self, key: str) -> ProveTest:
        """Bring about what a test asks for, and put the probes where it says.

        Args:
            key: of the test.

        Raises:
            KeyError: this design has no such test.
        """
        found = next((test for test in tests_of(self.ctx) if test.key == key), None)
        if found is None:
            raise KeyError(f"this design has no test {key!r}")
        self.lamps = False
        self._unload()
        if found.group in ("dead", "engine_off"):
            self.key = key == "key_on_a"
            self.engine, self.enabled = "off", self.key or not self.ctx.design.left_on
            self.lamps = key == "loaded.start"
            self.wait(LONG_S if key.startswith("rest") else WARM_S)
        else:
            self.engine, self.key = "idle", True
            self.enabled = key != "idle_posts_v"
            self.wait(LONG_S if key in ("air_c", "hand_warm") else WARM_S)
            if self.enabled:
                self._catch()
        return found

    def _catch(self) -> None:
        """Where it starts and stops, the moment at which it has just begun to give all it can is waited for."""
        machine, trial = self.trial.machine, self.trial
        stopped = False
        for _ in range(CATCH):
            full = machine.drawing and machine.ramp(trial.now_s) >= 1.0
            if full and stopped:
                return
            stopped = stopped or not full
            self.wait(2.0)

    def _unload(self) -> None:
        """Loads take out what it was charged with meanwhile, as one does before the next measurement."""
        trial = self.trial
        if self.fault.auxiliary_charge is None and trial.state.auxiliary_charge > MOST_AUXILIARY:
            trial.state = replace(trial.state, auxiliary_charge=BEGIN_AUXILIARY)
            trial.machine.stage = "bulk"

    def flow(self) -> Flow:
        """Volts and amperes of now."""
        trial = self.trial
        trial.begin(self.stretch)
        return trial.plant.flow(trial.state, trial.moment(self.stretch, trial.now_s))

    def read(self, test: ProveTest) -> float:
        """What a perfect meter reads with its probes where a test says; of a look the number of its answer.

        Args:
            test: one of the design.
        """
        flow = self.flow()
        if test.unit == "s":
            return self._seconds(test.key == "start_s")
        if test.quantity is not None:
            return self._quantities(flow)[test.quantity]
        if test.answers:
            return self._look(test.key)
        return self._dead(test.key)

    def _quantities(self, flow: Flow) -> dict[str, float]:
        fault, scale = self.fault, self.ctx.facts.scale
        supply, delivery = self._legs("supply", flow.input_a), self._legs("delivery", flow.output_a)
        in_a, out_a = flow.input_a, flow.output_a
        through_in, through_out = (
            0.0 if fault.parted.startswith("supply") else in_a + supply.extra_a,
            out_a + delivery.extra_a if out_a > 0 else 0.0,
        )
        twelve = self.ctx.design.auxiliary.nominal_v / 12
        drop_out = through_out * (delivery.out + delivery.device + delivery.back)
        out_v = flow.auxiliary_v + drop_out
        dead_v = HANGING_V if fault.parted.startswith("supply") else flow.volts
        if fault.parted.startswith("delivery") and self.trial.machine.drawing:
            out_v += 0.9 * twelve
        past_v = flow.post_v - through_in * supply.device
        known = {item.name: item.mean for item in unknowns_of(self.ctx)}
        return {
            "rest_start_v": flow.post_v,
            "loaded_start_v": flow.post_v - (LAMPS_V * scale if self.lamps else 0.0),
            "rest_auxiliary_v": flow.auxiliary_v,
            "loaded_auxiliary_v": flow.auxiliary_v - LOADED_V * twelve,
            "output_rest_v": HANGING_V if fault.parted.startswith("delivery") else out_v,
            "standby_ma": known["standby_ma"] + fault.drain_ma,
            "key_on_a": in_a,
            "zero_a": 0.0,
            "idle_posts_v": flow.post_v,
            "enable_v": OPEN_REMOTE_V * (1.0 - fault.enable_share)
            if by_remote(self.ctx.design)
            else known["enable_v"] * fault.enable_share,
            "posts_v": flow.post_v,
            "input_a": in_a,
            "input_v": dead_v,
            "supply_far_v": HANGING_V if fault.parted == "supply_device" else past_v,
            "in_plus_v": HANGING_V
            if fault.parted in ("supply_device", "supply")
            else flow.post_v - through_in * (supply.out + supply.device),
            "output_a": out_a,
            "output_v": out_v,
            "delivery_far_v": flow.auxiliary_v
            if fault.parted == "delivery_device"
            else out_v - through_out * delivery.device,
            "auxiliary_v": flow.auxiliary_v,
            "supply_out_mv": 1000 * through_in * (supply.out + supply.device),
            "supply_device_mv": 1000 * through_in * supply.device,
            "supply_back_mv": 1000 * through_in * supply.back,
            "delivery_out_mv": 1000 * through_out * (delivery.out + delivery.device),
            "delivery_device_mv": 1000 * through_out * delivery.device,
            "delivery_back_mv": 1000 * through_out * delivery.back,
            "old_link_a": fault.link_a,
            "sensor_a": 0.0,
            "monitor_a": 0.0 if self.ctx.design.uncounted else out_a,
            "air_c": known["air_c"] + fault.air_k,
            "battery_c": 18.0,
            "read_limit_a": known["read_limit_a"] * (fault.limit_share if not fault.air_k else 1.0),
            "read_set_v": known["read_set_v"] * fault.held_share,
            "read_start_v": known["read_start_v"] + fault.start_more_v * scale,
        }

    def _legs(self, run: RunName, amps: float) -> _Legs:
        """The legs of a run as warm as its current makes them, and what is too many in them."""
        design = self.ctx.design
        state = run_state(design.run(run), amps, design.choices.lug_mohm, supply=run == "supply")
        found = device_of(self.ctx, run)
        legs = _Legs.of(state, found[0] if found is not None else None)
        heating = self.trial.plant.supply if run == "supply" else self.trial.plant.delivery
        slow = self.trial.state.supply_heating if run == "supply" else self.trial.state.delivery_heating
        extra = {name.split("_")[1]: ohm for name, ohm in self.fault.extra_ohm.items() if name.startswith(run)}
        # As warm as the simulator has it: all of a run by the same share, what is too many apart.
        total = heating.ohm(slow, self.trial.air.shift_k) - sum(extra.values())
        share = total / max(1e-9, legs.out + legs.device + legs.back)
        return _Legs(
            legs.out * share + extra.get("out", 0.0),
            legs.device * share + extra.get("device", 0.0),
            legs.back * share + extra.get("back", 0.0),
            legs.extra_a,
        )

    def _seconds(self, start: bool) -> float:
        """By a stop-watch: from engine start to charging, or from its stop to no current."""
        self.enabled = True
        if start:
            self.engine, self.key = "off", False
            self.wait(LONG_S)
            self.engine, self.key = "idle", True
        else:
            self.engine, self.key = "idle", True
            self.wait(WARM_S)
            self.engine, self.key = "off", False
        return self._until(lambda: (self.flow().input_a > 0.5) is start)

    def _until(self, happened: Callable[[], bool]) -> float:
        for tick in range(1, 1801):
            self.wait(0.5)
            if happened():
                return tick * 0.5
        return 900.0

    def _look(self, key: str) -> float:
        """How a look is answered: 0 as it should be, else the number of the answer."""
        fault, charging = self.fault, self.trial.machine.drawing
        if key == "state_read":
            return 1.0 if fault.off or fault.parted.startswith("supply") else 0.0
        if key == "toggled":
            return 0.0 if charging else 1.0
        if key == "follows":
            return 1.0 if fault.auxiliary_charge is not None else 0.0
        if key == "belt_quiet":
            return 0.0
        if key == "lamps_lift":
            return 0.0 if fault.low else 1.0 if fault.spare_share < 1 else 0.0
        return 0.0

    def _dead(self, key: str) -> float:
        """Ohms, both batteries off."""
        kind, _, run = key.partition(".")
        if kind == "short":
            return OPEN_OHM
        if kind == "bonding":
            return 1000 * self._legs("supply" if run == "supply" else "delivery", 5.0).back
        open_here = self.fault.parted.startswith(run) and not self.fault.parted.endswith("device")
        return OPEN_OHM if open_here else 0.1


def _short(source: Source, share: float) -> Source:
    if source.available_a is None or share == 1.0:
        return source
    return replace(source, available_a=source.available_a * share)
