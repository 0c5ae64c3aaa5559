"""The unit's own state machine: battery guard, permission, start and stop rules, then the stages of the charge.

- `Settings`: what it acts by.
- `Machine`: what it does about what its terminals show.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from operator import attrgetter
from typing import Final, Literal

from olvask.core.circuit.solve import Solved
from olvask.core.circuit.thresholds import Rule, set_thresholds
from olvask.core.model import Behaviour, Design
from olvask.core.simulate.plant import FREE_A
from olvask.core.simulate.profile import AGAIN_HELD_S, Profile
from olvask.core.simulate.programme import Stretch
from olvask.core.simulate.states import Flow
from olvask.core.stages.settings.sheet import Planned, planned

UnitState = Literal["off", "waiting", "charging", "guarded", "dead"]
Stage = Literal["bulk", "absorption", "float"]
What = Literal["start", "stop", "guard", "back", "collapse", "dead", "flat", "uncranked", "absorption", "float", "bulk"]

SOFT_START_S: Final = 10.0  # our own estimate, where the record says nothing
FIRST_SHARE: Final = 0.1  # of the current at the moment of starting
GUARD_LEAST_S: Final = 10.0  # least time the battery guard keeps it off; our own estimate
CLOSE_S: Final = 0.01  # a crossing is dated this closely while the current ramps up
NEVER: Final = math.inf


@dataclass(frozen=True, slots=True)
class Settings:
    """What the unit acts by, all at its input terminals.

    Attributes:
        ways: what must allow charging.
        start_rules: any of them met starts it.
        stop_rules: any of them met stops it.
        guard_v: the battery guard switches it off after `guard_held_s` below this [V].
        guard_held_s: that hold [s].
        back_v: it comes back at or above this [V].
        guard_least_s: least time it stays off [s].
        soft_start_s: the current ramps up over this [s].
        latched: permission by switch or bridge, once given, stays until the guard trips.
        least_input_v: below this it cannot start [V].
        guard_ohm: the guard is judged on V + I·R of this [Ω]; zero where the unit does not allow for its draw.
    """

    ways: frozenset[str]
    start_rules: tuple[Rule, ...]
    stop_rules: tuple[Rule, ...]
    guard_v: float
    guard_held_s: float
    back_v: float
    guard_least_s: float = GUARD_LEAST_S
    soft_start_s: float = SOFT_START_S
    latched: bool = False
    least_input_v: float = 0.0
    guard_ohm: float = 0.0

    def guard_sees(self, flow: Flow) -> float:
        """Volts the battery guard is judged on [V]."""
        return flow.volts + flow.input_a * self.guard_ohm

    @property
    def stop_held_s(self) -> float:
        """Longest hold of a stop rule [s]."""
        return max(rule.held_s for rule in self.stop_rules)


def _acting(found: Planned | None, means: str, otherwise: float) -> float:
    """What the unit's own line comes to once the sheet is keyed; as entered or proposed where it has none."""
    value = found.acting(means) if found is not None else None
    return value if isinstance(value, float) else otherwise


def _acting_rules(found: Planned | None, means: str, rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
    return tuple(
        Rule(_acting(found, f"{means}_v{after}", rule.volts), _acting(found, f"{means}_held_s{after}", rule.held_s))
        for rule, after in zip(rules, ("", ".2", ".3"), strict=False)
    )


def settings_of(design: Design, solved: Solved) -> Settings:
    """The unit's settings as its sheet ends in."""
    at, chosen, unit = set_thresholds(design, solved), design.activation, design.charger
    found = planned(design, solved.facts, at) if unit is not None and unit.settings is not None else None
    behaviour = unit.behaviour if unit is not None else Behaviour()
    least_s = unit.guard.off_least_s if unit is not None else None
    return Settings(
        ways=frozenset(design.waits_for),
        start_rules=_acting_rules(found, "start", at.start_rules),
        stop_rules=_acting_rules(found, "stop", at.stop_rules),
        guard_v=_acting(found, "guard_v", at.guard_v),
        guard_held_s=_acting(found, "guard_held_s", chosen.guard.held_s),
        back_v=_acting(found, "back_v", at.back_v),
        guard_least_s=GUARD_LEAST_S if least_s is None else least_s,
        soft_start_s=behaviour.soft_start_s or SOFT_START_S,
        latched=behaviour.latched,
        least_input_v=max(unit.input_min_v, behaviour.wake_v or 0.0) if unit is not None else NEVER,
        guard_ohm=at.guard_ohm,
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
        self.by_volts = "voltage" in settings.ways
        least_v = settings.least_input_v
        # Without detection by voltage any input the unit wakes at will do, at once.
        starts = settings.start_rules if self.by_volts else (Rule(least_v, 0.0),)
        self.starts = tuple((max(rule.volts, least_v), rule.held_s) for rule in starts)
        self.stops = tuple((rule.volts, rule.held_s) for rule in settings.stop_rules) if self.by_volts else ()
        self._start_marks = (*(volts for volts, _ in self.starts), settings.guard_v)
        self._stop_marks = tuple(volts for volts, _ in self.stops)
        self.state: UnitState = "off"
        self.stage: Stage = "bulk"
        self.start_since_s: list[float | None] = [None] * len(self.starts)
        self.stop_since_s: list[float | None] = [None] * len(self.stops)
        self.low_since_s: float | None = None
        self.guarded_since_s = -NEVER
        self.charging_since_s = 0.0
        self.absorbing_since_s = self.bulk_since_s = 0.0
        self.again_since_s: float | None = None  # since when the battery stands under its restart volts after a charge
        self.held = self.collapsed = False
        self.second_input = self.by_sun = False  # it has one for a panel; it charges by that alone
        self.allowed = True  # false where its enable does not reach it, or it was switched off by hand
        self.seen: Stretch | None = None  # the stretch it was looked at in before, and when and at what flow
        self.seen_s, self.seen_flow = 0.0, Flow(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, False)
        self.look: Callable[[float], Flow] | None = None  # the flow at a time just past, where someone can tell

    @property
    def drawing(self) -> bool:
        """Whether current flows."""
        return self.state == "charging"

    @property
    def working(self) -> bool:
        """Whether it goes through the stages of a charge, by either input."""
        return self.by_sun or self.state == "charging"

    @property
    def target_v(self) -> float:
        """Volts it holds at its output in this stage."""
        if self.stage != "float":
            return self.profile.absorption_v
        return 0.0 if self.profile.rests else self.profile.float_v

    def ramp(self, now: float) -> float:
        """Share of the full current the soft start allows."""
        return min(1.0, FIRST_SHARE + (now - self.charging_since_s) / self.rule.soft_start_s)

    @property
    def ramped_s(self) -> float:
        """When the soft start is over [s]."""
        return self.charging_since_s + (1 - FIRST_SHARE) * self.rule.soft_start_s

    def permitted(self, stretch: Stretch) -> bool:
        """Every signal it is wired to allows it; with none wired it does nothing."""
        ways = self.rule.ways
        if not ways or not self.allowed:
            return False
        remote = stretch.remote or self.held
        return not (
            ("ignition" in ways and not stretch.ignition)
            or ("d_plus" in ways and not stretch.running)
            or (not remote and ("switch" in ways or "bridge" in ways))
        )

    def act(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """Act on what the terminals show; true when the current changes."""
        acted = self._acts(now, stretch, flow)
        if self.second_input:
            acted = self._sunned(now, stretch, flow) or acted
        self.seen, self.seen_s, self.seen_flow = None if acted else stretch, now, flow
        return acted

    def _sunned(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """The stages of a charge by the sun alone; each time it comes they begin anew. True when the current changes."""
        was, self.by_sun = self.by_sun, stretch.sun_auxiliary_w > 0 and self.state != "charging" and not flow.dead
        if not self.by_sun:
            return False
        if was:
            return self._staged(now, stretch, flow)
        self.stage, self.bulk_since_s, self.again_since_s = "bulk", now, None
        return True

    def _since(
        self, now: float, stretch: Stretch, volts: float, mark: float, of: Callable[[Flow], float] = attrgetter("volts")
    ) -> float:
        """When the volts came past a threshold, between two looks at them.

        As a straight line has it; while the current ramps up that is looked at, and halved where the line is not right,
        for an alternator at its limit lets go at once.
        """
        before, flow = self.seen_s, self.seen_flow
        if self.seen is not stretch or volts <= 0:
            return now  # a run that collapses is no line
        if self.look is None or self.state != "charging" or before >= self.ramped_s:
            return _crossed(before, of(flow) - mark, now, volts - mark)
        after, straight = now, _crossed(before, of(flow) - mark, now, volts - mark)
        looks = [straight - CLOSE_S / 2, straight + CLOSE_S / 2]  # mostly the line is right; then these two will do
        while after - before > CLOSE_S:
            at = looks.pop(0) if looks else (before + after) / 2
            if not before < at < after:
                continue
            if (of(self.look(at)) < mark) == (volts < mark):
                after = at
            else:
                before = at
        return after

    def _acts(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        was = self.state
        if flow.dead:
            return self._dies()
        if was == "dead":
            self._rest("off")
        if flow.collapsed and not self.collapsed:
            self.say("collapse", "the run cannot carry the current")
        self.collapsed = flow.collapsed
        if self._guarded(now, stretch, flow):
            return self.state != was
        if self.rule.latched and stretch.remote and stretch.plugged:
            self.held = True  # once given by switch or bridge, it stays
        if not self.permitted(stretch):
            if was == "charging":
                self.say("stop", "the signal went")
            self._rest("off")
            return was == "charging"
        if was == "charging":
            return self._stops(now, stretch, flow.volts) or (not flow.collapsed and self._staged(now, stretch, flow))
        return self._starts(now, stretch, flow)

    def _dies(self) -> bool:
        """Without its feed it is off, and forgets what it held."""
        was = self.state
        if was == "dead":
            return False
        self.say("dead", "the plug is out: nothing feeds it")
        self._rest("dead")
        self.held = self.collapsed = False
        return was == "charging"

    def _starts(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        volts, since, waiting, met = flow.volts, self.start_since_s, False, False
        for at, (least_v, held_s) in enumerate(self.starts):
            if volts < least_v:
                since[at] = None
                continue
            began_s = since[at]
            if began_s is None:
                began_s = since[at] = self._since(now, stretch, volts, least_v)
            waiting = True
            met = met or now - began_s >= held_s - 1e-9
        if not met:
            self.state = "waiting" if waiting else "off"
            return False
        self.say("start", f"at {volts:.2f} V")
        self.state, self.charging_since_s, self.bulk_since_s = "charging", now, now
        self._forget()
        full = flow.auxiliary_v >= self.profile.rebulk_v
        self.stage = "float" if full else "bulk"
        return True

    def _stops(self, now: float, stretch: Stretch, volts: float) -> bool:
        since = self.stop_since_s
        for at, (below_v, held_s) in enumerate(self.stops):
            if volts >= below_v:
                since[at] = None
                continue
            began_s = since[at]
            if began_s is None:
                began_s = since[at] = self._since(now, stretch, volts, below_v)
            if now - began_s >= held_s - 1e-9:
                self.say("stop", f"{volts:.2f} V, under {below_v:.2f} V for {held_s:g} s")
                self._rest("off")
                return True
        return False

    def _staged(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """Bulk until the volts hold the current back, absorption for its time or to its tail, then float."""
        if self.stage == "bulk":
            if not flow.by_volts:
                return self._capped(now, flow)
            self.stage, self.absorbing_since_s = "absorption", now
            if self.seen is stretch and self.seen_flow.spare_a < FREE_A:
                self.absorbing_since_s = _crossed(self.seen_s, self.seen_flow.spare_a, now, flow.spare_a)
            self.say("absorption", f"{flow.output_a:.1f} A at {flow.auxiliary_v:.2f} V")
        if self.stage == "absorption":
            if flow.auxiliary_a <= self.profile.tail_a or now >= self.absorbed_s - 1e-9:
                self.stage = "float"
                self.say("float", f"{flow.auxiliary_a:.1f} A left of the charge")
                return True
            return False
        return self._again(now, flow)

    def _again(self, now: float, flow: Flow) -> bool:
        """Bulk anew once the battery has stood under its restart volts for long enough; true where it begins."""
        if flow.auxiliary_v >= self.profile.rebulk_v or (flow.by_volts and not self.profile.rests):
            self.again_since_s = None
            return False
        if self.again_since_s is None:
            self.again_since_s = now
        if now - self.again_since_s < AGAIN_HELD_S - 1e-9:
            return False
        self.stage, self.bulk_since_s, self.again_since_s = "bulk", now, None
        self.say("bulk", f"battery at {flow.auxiliary_v:.2f} V")
        return True

    def _capped(self, now: float, flow: Flow) -> bool:
        """Bulk ended by the clock; true where it is."""
        if now < self.bulk_since_s + self.profile.bulk_s - 1e-9:
            return False
        self.stage = "float"
        self.say("float", f"bulk ended by its clock, {flow.output_a:.1f} A flowed")
        return True

    @property
    def absorbed_s(self) -> float:
        """When absorption is over [s]."""
        return self.absorbing_since_s + self.profile.absorption_for(self.absorbing_since_s - self.bulk_since_s)

    def _guarded(self, now: float, stretch: Stretch, flow: Flow) -> bool:
        """The guard first: tripped after its hold, back at its own volts after a least time."""
        rule = self.rule
        volts = rule.guard_sees(flow)
        if self.state == "guarded":
            if volts < rule.back_v or now - self.guarded_since_s < rule.guard_least_s - 1e-9:
                return True
            self.say("back", f"at {volts:.2f} V")
            self._rest("off")
            self.seen = None  # what the terminals showed while it was out does not count
            return False
        if volts >= rule.guard_v:
            self.low_since_s = None
            return False
        if self.low_since_s is None:
            self.low_since_s = self._since(now, stretch, volts, rule.guard_v, rule.guard_sees)
        if now - self.low_since_s < rule.guard_held_s - 1e-9:
            return False
        self.say("guard", f"{volts:.2f} V, under {rule.guard_v:.2f} V for {rule.guard_held_s:g} s")
        self._rest("guarded")
        self.held = False
        self.guarded_since_s = now
        return True

    def _rest(self, state: UnitState) -> None:
        self.state = state
        self._forget()
        self.low_since_s = None

    def _forget(self) -> None:
        """Begin the holds of start and stop rules anew."""
        self.start_since_s = [None] * len(self.starts)
        self.stop_since_s = [None] * len(self.stops)
        self.again_since_s = None

    def due(self, now: float) -> float:
        """The next moment a timer of its own comes due [s]; infinity where none runs."""
        rule, soonest = self.rule, NEVER
        since, rules = (
            (self.stop_since_s, self.stops) if self.state == "charging" else (self.start_since_s, self.starts)
        )
        for at, began_s in enumerate(since):
            if began_s is not None and now + 1e-9 < began_s + rules[at][1] < soonest:
                soonest = began_s + rules[at][1]
        if self.low_since_s is not None and now + 1e-9 < self.low_since_s + rule.guard_held_s < soonest:
            soonest = self.low_since_s + rule.guard_held_s
        if self.state == "guarded" and now + 1e-9 < self.guarded_since_s + rule.guard_least_s < soonest:
            soonest = self.guarded_since_s + rule.guard_least_s
        if self.working and self.stage == "absorption" and now < self.absorbed_s < soonest:
            soonest = self.absorbed_s
        if self.working and self.stage == "bulk" and now < self.bulk_since_s + self.profile.bulk_s < soonest:
            soonest = self.bulk_since_s + self.profile.bulk_s
        if self.again_since_s is not None and now + 1e-9 < self.again_since_s + AGAIN_HELD_S < soonest:
            soonest = self.again_since_s + AGAIN_HELD_S
        return soonest

    def marks(self, input_a: float) -> tuple[float, ...]:
        """Terminal volts whose crossing it would act on now, drawing `input_a` [A]."""
        rule = self.rule
        if self.state == "charging":
            return (*self._stop_marks, rule.guard_v - input_a * rule.guard_ohm)
        return (rule.back_v,) if self.state == "guarded" else self._start_marks
