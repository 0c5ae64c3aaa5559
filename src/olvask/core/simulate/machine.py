"""The unit's own state machine: lockout, permission, start and stop timers, then the stages of the charge.

- `Settings`: what it acts by.
- `Machine`: what it does about what its terminals show.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from operator import attrgetter
from typing import Literal

from olvask.core.circuit.solve import Solved
from olvask.core.model import Design
from olvask.core.model.charger import Behaviour
from olvask.core.simulate.plant import FREE_A, Flow, Profile
from olvask.core.simulate.programme import Stretch
from olvask.core.stages.wake.thresholds import set_thresholds

UnitState = Literal["off", "waiting", "charging", "locked out"]
Stage = Literal["bulk", "absorption", "float"]
What = Literal["start", "stop", "lockout", "release", "collapse", "absorption", "float", "bulk"]

SOFT_START_S = 10.0
FIRST_SHARE = 0.1  # of the current at the moment of starting
LOCKOUT_LEAST_S = 10.0  # least time locked out
CLOSE_S = 0.01  # a crossing is dated this closely while the current ramps up
NEVER = math.inf


@dataclass(frozen=True, slots=True)
class Settings:
    """What the unit acts by, all at its input terminals.

    Attributes:
        methods: what must say yes.
        start_v: starts after `start_delay_s` at or above this [V].
        start_delay_s: that delay [s].
        stop_v: stops after `stop_delay_s` below this [V].
        stop_delay_s: that delay [s].
        lockout_v: is locked out after `lockout_delay_s` below this [V].
        lockout_delay_s: that debounce [s].
        restart_v: is released at or above this [V].
        start_at_once_v: starts without delay at or above this [V]; `None` where not used.
        lockout_least_s: least time locked out [s].
        soft_start_s: the current ramps up over this [s].
        latched: permission by switch or link, once given, sticks until a lockout.
        least_input_v: below this it cannot start [V].
        lockout_ohm: the lockout is judged on V + I·R of this [Ω]; zero where the unit does not allow for its draw.
    """

    methods: frozenset[str]
    start_v: float
    start_delay_s: float
    stop_v: float
    stop_delay_s: float
    lockout_v: float
    lockout_delay_s: float
    restart_v: float
    start_at_once_v: float | None = None
    lockout_least_s: float = LOCKOUT_LEAST_S
    soft_start_s: float = SOFT_START_S
    latched: bool = False
    least_input_v: float = 0.0
    lockout_ohm: float = 0.0

    def lockout_sees(self, flow: Flow) -> float:
        """Volts the lockout is judged on [V]."""
        return flow.volts + flow.input_a * self.lockout_ohm


def settings_of(design: Design, solved: Solved) -> Settings:
    """The unit's settings as chosen or proposed."""
    at, chosen, unit = set_thresholds(design, solved), design.activation, design.charger
    own = unit.behaviour if unit is not None else Behaviour()
    return Settings(
        methods=frozenset(chosen.methods),
        start_v=at.start_v,
        start_delay_s=chosen.start_delay_s,
        stop_v=at.stop_v,
        stop_delay_s=chosen.stop_delay_s,
        lockout_v=at.lockout_v,
        lockout_delay_s=chosen.lockout_delay_s,
        restart_v=at.restart_v,
        start_at_once_v=chosen.start_at_once_v,
        lockout_least_s=LOCKOUT_LEAST_S if own.off_least_s is None else own.off_least_s,
        soft_start_s=own.soft_start_s or SOFT_START_S,
        latched=own.latched,
        least_input_v=max(unit.input_min_v, own.wake_v or 0.0) if unit is not None else NEVER,
        lockout_ohm=at.lockout_ohm,
    )


def _crossed(before: float, was: float, now: float, value: float) -> float:
    """When something came past zero between two looks at it, as a straight line has it [s]."""
    share = was / (was - value) if was != value else 1.0
    return before + (now - before) * min(1.0, max(0.0, share))


class Machine:
    """One unit: feed it what its terminals show, again whenever something changes or `due` comes."""

    def __init__(self, settings: Settings, profile: Profile, say: Callable[[What, str], None]) -> None:
        """Begin off; `say` is told what happens."""
        self.rule, self.profile, self.say = settings, profile, say
        self.by_volts = "voltage" in settings.methods
        self.state: UnitState = "off"
        self.stage: Stage = "bulk"
        self.start_since_s: float | None = None
        self.stop_since_s: float | None = None
        self.low_since_s: float | None = None
        self.locked_since_s = -NEVER
        self.charging_since_s = 0.0
        self.absorbing_since_s = 0.0
        self.held = False
        self.seen: tuple[Stretch, float, Flow] | None = None  # stretch, time and flow looked at before
        self.look: Callable[[float], Flow] | None = None  # the flow at a time just past, where someone can tell

    @property
    def drawing(self) -> bool:
        """Whether current flows."""
        return self.state == "charging"

    @property
    def target_v(self) -> float:
        """Volts it holds at its output in this stage."""
        return self.profile.float_v if self.stage == "float" else self.profile.absorption_v

    def ramp(self, now: float) -> float:
        """Share of the full current the soft start allows."""
        return min(1.0, FIRST_SHARE + (now - self.charging_since_s) / self.rule.soft_start_s)

    @property
    def ramped_s(self) -> float:
        """When the soft start is over [s]."""
        return self.charging_since_s + (1 - FIRST_SHARE) * self.rule.soft_start_s

    def permitted(self, stretch: Stretch) -> bool:
        """Every signal it is wired to says yes; with none wired it does nothing."""
        methods = self.rule.methods
        if not methods:
            return False
        remote = stretch.remote or self.held
        return not (
            ("ignition" in methods and not stretch.ignition)
            or ("d_plus" in methods and not stretch.running)
            or (not remote and ("switch" in methods or "link" in methods))
        )

    def act(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """Act on what the terminals show; true when the current changes."""
        acted = self._acts(now, stretch, flow)
        self.seen = None if acted else (stretch, now, flow)
        return acted

    def _since(
        self, now: float, stretch: Stretch, volts: float, mark: float, of: Callable[[Flow], float] = attrgetter("volts")
    ) -> float:
        """When the volts came past a threshold, between two looks at them.

        As a straight line has it; while the current ramps up by halves, for an alternator at its limit lets go at once.
        """
        if self.seen is None or self.seen[0] is not stretch:
            return now
        _, before, flow = self.seen
        if self.look is None or self.state != "charging" or before >= self.ramped_s:
            return _crossed(before, of(flow) - mark, now, volts - mark)
        after = now
        while after - before > CLOSE_S:
            middle = (before + after) / 2
            if (of(self.look(middle)) < mark) == (volts < mark):
                after = middle
            else:
                before = middle
        return after

    def _acts(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        was = self.state
        if was == "charging" and flow.collapsed:
            self.say("collapse", "the run cannot carry the current")
            self._rest("off")
            return True
        if self._locked(now, stretch, flow):
            return self.state != was
        if self.rule.latched and stretch.remote and stretch.plugged:
            self.held = True  # once given, a switch's or bridge's say sticks
        if not self.permitted(stretch):
            if was == "charging":
                self.say("stop", "the signal went")
            self._rest("off")
            return was == "charging"
        if was == "charging":
            return self._stops(now, stretch, flow.volts) or self._staged(now, stretch, flow)
        return self._starts(now, stretch, flow)

    def _starts(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        rule, volts = self.rule, flow.volts
        at_once = not self.by_volts or (rule.start_at_once_v is not None and volts >= rule.start_at_once_v)
        if volts < rule.least_input_v or not (at_once or volts >= rule.start_v):
            self.start_since_s = None
            self.state = "off"
            return False
        if self.start_since_s is None:
            self.start_since_s = self._since(now, stretch, volts, max(rule.least_input_v, rule.start_v))
        self.state = "waiting"
        if not at_once and now - self.start_since_s < rule.start_delay_s - 1e-9:
            return False
        self.say("start", f"at {volts:.2f} V")
        self.state, self.charging_since_s = "charging", now
        self.start_since_s = self.stop_since_s = None
        full = flow.auxiliary_v >= self.profile.rebulk_v
        self.stage = "float" if full else "bulk"
        return True

    def _stops(self, now: float, stretch: Stretch, volts: float) -> bool:
        rule = self.rule
        if not self.by_volts or volts >= rule.stop_v:
            self.stop_since_s = None
            return False
        if self.stop_since_s is None:
            self.stop_since_s = self._since(now, stretch, volts, rule.stop_v)
        if now - self.stop_since_s < rule.stop_delay_s - 1e-9:
            return False
        self.say("stop", f"{volts:.2f} V, under {rule.stop_v:.2f} V for {rule.stop_delay_s:g} s")
        self._rest("off")
        return True

    def _staged(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """Bulk until the volts hold the current back, absorption for its time or to its tail, then float."""
        if self.stage == "bulk":
            if not flow.by_volts:
                return False
            self.stage, self.absorbing_since_s = "absorption", now
            if self.seen is not None and self.seen[0] is stretch and self.seen[2].spare_a < FREE_A:
                self.absorbing_since_s = _crossed(self.seen[1], self.seen[2].spare_a, now, flow.spare_a)
            self.say("absorption", f"{flow.output_a:.1f} A at {flow.auxiliary_v:.2f} V")
        if self.stage == "absorption":
            if flow.auxiliary_a <= self.profile.tail_a or now >= self.absorbed_s - 1e-9:
                self.stage = "float"
                self.say("float", f"{flow.auxiliary_a:.1f} A left of the charge")
                return True
            return False
        if flow.auxiliary_v < self.profile.rebulk_v and not flow.by_volts:
            self.stage = "bulk"
            self.say("bulk", f"battery at {flow.auxiliary_v:.2f} V")
            return True
        return False

    @property
    def absorbed_s(self) -> float:
        """When absorption is over [s]."""
        return self.absorbing_since_s + self.profile.absorption_for(self.absorbing_since_s - self.charging_since_s)

    def _locked(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """Lockout first: tripped after its debounce, released at its own volts after a least time."""
        rule = self.rule
        volts = rule.lockout_sees(flow)
        if self.state == "locked out":
            if volts < rule.restart_v or now - self.locked_since_s < rule.lockout_least_s - 1e-9:
                return True
            self.say("release", f"at {volts:.2f} V")
            self._rest("off")
            return False
        if volts >= rule.lockout_v:
            self.low_since_s = None
            return False
        if self.low_since_s is None:
            self.low_since_s = self._since(now, stretch, volts, rule.lockout_v, rule.lockout_sees)
        if now - self.low_since_s < rule.lockout_delay_s - 1e-9:
            return False
        self.say("lockout", f"{volts:.2f} V, under {rule.lockout_v:.2f} V for {rule.lockout_delay_s:g} s")
        self._rest("locked out")
        self.held = False
        self.locked_since_s = now
        return True

    def _rest(self, state: UnitState) -> None:
        self.state = state
        self.start_since_s = self.stop_since_s = self.low_since_s = None

    def due(self, now: float) -> float:
        """The next moment a timer of its own comes due [s]; infinity where none runs."""
        rule = self.rule
        timers = (
            (self.start_since_s, rule.start_delay_s),
            (self.stop_since_s, rule.stop_delay_s),
            (self.low_since_s, rule.lockout_delay_s),
            (self.locked_since_s if self.state == "locked out" else None, rule.lockout_least_s),
        )
        soonest = NEVER
        for since_s, lasts_s in timers:
            if since_s is not None and now + 1e-9 < since_s + lasts_s < soonest:
                soonest = since_s + lasts_s
        if self.state == "charging" and self.stage == "absorption" and now < self.absorbed_s < soonest:
            soonest = self.absorbed_s
        return soonest

    def marks(self, input_a: float) -> tuple[float, ...]:
        """Terminal volts whose crossing it would act on now, drawing `input_a` [A]."""
        rule = self.rule
        if self.state == "charging":
            trips_v = rule.lockout_v - input_a * rule.lockout_ohm
            return (rule.stop_v, trips_v) if self.by_volts else (trips_v,)
        if self.state == "locked out":
            return (rule.restart_v,)
        if not self.by_volts:
            return (rule.lockout_v, rule.least_input_v)
        if rule.start_at_once_v is None:
            return (rule.start_v, rule.lockout_v)
        return (rule.start_at_once_v, rule.start_v, rule.lockout_v)
