"""One battery and what charges it, alone or together, through hours and days: what an audit of sources looks at.

The state is what changes slowly: the battery's charge and how far each source has warmed up. Volts and amperes follow
at once: every source holds a voltage at its own terminals, gives no more than its rating lets it, and sits behind its
own lead; the battery stands behind a resistance that grows as it fills, and takes no more than it accepts.

- `charged`: sources on a battery, from a state of charge; `sources` has what goes in and comes out.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final, NamedTuple

from olvask.core.physics.charging import CHARGER_TAU_S, backed_off_a, compensated_v, derated, held_a, powered_a
from olvask.core.simulate.profile import AGAIN_HELD_S, EQUALISED_S, PULSE_EVERY_S, PULSE_S
from olvask.core.simulate.sources import Bank, Charge, Draw, Source, Stage

LONGEST_S, SHORTEST_S = 900.0, 5.0  # of a step
MOST_MOVED: Final = 0.004  # of the charge in one step
OF_THE_REST: Final = 0.2  # of what is left to full in one step
BY_VOLTS: Final = 0.999  # of the rating: less is held back by volts
SENSED_OHM: Final = 1e-3  # between a sense wire's end and the post; regulators droop about as much
CLOSE_V, CLOSE_A = 1e-4, 1e-4
HELD_V: Final = 0.005  # of its target: it holds its volts, and bulk is over
WHAT_IT_GIVES: tuple[Stage, ...] = ("bulk", "absorption", "equalise", "float", "pulse")


class Offer(NamedTuple):
    """What a source would give at a moment: its rating then [A], its target [V], its lead [Ω], where it falls off [V]."""

    able_a: float
    target_v: float
    lead_ohm: float
    rated_at_v: float
    back_off_v: float

    def given_a(self, behind_v: float, ohm: float = 0.0) -> float:
        """What it gives against volts behind a resistance beyond its own lead [A]."""
        able_a = self.able_a
        if able_a <= 0:
            return 0.0
        ohm += self.lead_ohm
        amps = min(able_a, held_a(self.target_v, behind_v, ohm))
        if self.rated_at_v > 0:
            amps = min(amps, powered_a(able_a, self.rated_at_v, behind_v, ohm))
        if self.back_off_v > 0:
            amps = min(amps, backed_off_a(able_a, self.back_off_v, self.target_v, behind_v, ohm))
        return amps


class Flow(NamedTuple):
    """Volts at the posts, what each source gives and could give, what the battery gets [V, A]."""

    volts: float
    amps: tuple[float, ...]
    ables: tuple[float, ...]
    net_a: float


def falling_root(function: Callable[[float], float], low: float, high: float) -> float:
    """Where a function that falls comes to zero; the Illinois variant of regula falsi, halving each third time.

    Args:
        function: falls from `low` to `high`.
        low: zero or more there.
        high: zero or less there.
    """
    at_low, at_high = function(low), function(high)
    if at_low <= 0:
        return low
    if at_high >= 0:
        return high
    side = 0
    for turn in range(90):
        middle = (low * at_high - high * at_low) / (at_high - at_low) if turn % 3 != 2 else (low + high) / 2
        value = function(middle)
        if abs(value) < CLOSE_A or high - low < 1e-9:
            return middle
        if value > 0:
            low, at_low = middle, value
            at_high = at_high / 2 if side == 1 else at_high
            side = 1
        else:
            high, at_high = middle, value
            at_low = at_low / 2 if side == -1 else at_low
            side = -1
    return (low + high) / 2


class _Runner:
    """One source at work: its stage, and since when."""

    def __init__(self, source: Source, rest_v: float, say: list[tuple[float, str, Stage]]) -> None:
        self.source, self.say = source, say
        begins = source.fresh or rest_v < source.profile.rebulk_v
        self.stage: Stage = "bulk" if begins else self.after
        self.bulk_s = self.since_s = 0.0
        self.low_s: float | None = None  # since when it stands under its restart volts
        self.equalises_s = source.equalises_s

    @property
    def after(self) -> Stage:
        return "rest" if self.source.profile.rests else "float"

    def target_v(self, bank: Bank) -> float:
        """Volts it holds now; 0 where it gives nothing [V]."""
        profile = self.source.profile
        volts = {
            "bulk": profile.absorption_v,
            "absorption": profile.absorption_v,
            "pulse": profile.absorption_v,
            "equalise": profile.equalise_v,
            "float": profile.float_v,
        }.get(self.stage, 0.0)
        mv = self.source.compensation_mv_per_k
        return compensated_v(volts, mv, bank.celsius if self.source.sensor else bank.air_c) if volts and mv else volts

    def go(self, now: float, stage: Stage) -> None:
        """Begin a stage."""
        self.stage, self.since_s, self.low_s = stage, now, None
        self.say.append((now, self.source.key, stage))

    def look(self, now: float, amps: float, able_a: float, terminal_v: float, target_v: float) -> bool:
        """Go on to the next stage where it is time; true where it did."""
        profile, stage = self.source.profile, self.stage
        lasted_s = now - self.since_s + 1e-6
        if stage == "bulk":
            if able_a > 0 and terminal_v >= target_v - HELD_V:
                self.bulk_s = lasted_s
                self.go(now, "absorption")
                return True
            if lasted_s >= profile.bulk_s:
                self.go(now, self.after)
                return True
        elif stage == "absorption":
            dusk = self.source.sun_s > 0 and able_a <= profile.tail_a  # too little sun to tell
            ended = amps <= profile.tail_a and profile.tail_a > 0 and not dusk
            if ended or lasted_s >= profile.absorption_for(self.bulk_s):
                due = profile.equalise_v > 0 and now >= self.equalises_s
                self.go(now, "equalise" if due else self.after)
                return True
        elif stage == "equalise":
            if lasted_s >= EQUALISED_S:
                self.equalises_s = math.inf
                self.go(now, self.after)
                return True
        elif stage == "pulse":
            if lasted_s >= PULSE_S:
                self.go(now, "rest")
                return True
        elif stage == "rest" and profile.pulses and lasted_s >= PULSE_EVERY_S:
            self.go(now, "pulse")
            return True
        elif terminal_v < profile.rebulk_v - CLOSE_V and (stage == "rest" or amps >= able_a * BY_VOLTS > 0):
            return self.again(now)
        else:
            self.low_s = None
        return False

    def again(self, now: float) -> bool:
        """Bulk anew once it has stood under its restart volts for long enough; true where it begins."""
        if self.low_s is None:
            self.low_s = now
        if now - self.low_s < AGAIN_HELD_S - 1e-6:
            return False
        self.go(now, "bulk")
        return True

    def left_s(self, now: float) -> float:
        """Until its next stage is due by the clock [s]."""
        profile = self.source.profile
        longest_s = {
            "bulk": profile.bulk_s,
            "absorption": profile.absorption_for(self.bulk_s),
            "equalise": EQUALISED_S,
            "pulse": PULSE_S,
            "rest": PULSE_EVERY_S if profile.pulses else math.inf,
        }.get(self.stage, math.inf)
        due_s = self.since_s + longest_s
        if self.low_s is not None:
            due_s = min(due_s, self.low_s + AGAIN_HELD_S)
        return max(SHORTEST_S, due_s - now)


class _Charging:
    """Sources at work on a battery."""

    def __init__(self, sources: Sequence[Source], bank: Bank, draws: Sequence[Draw], charge: float) -> None:
        self.bank, self.draws, self.said = bank, draws, Charge()
        rest_v = bank.cell.ocv(charge)
        self.runners = [_Runner(source, rest_v, self.said.events) for source in sources]
        self.cold = bank.cell.cold(bank.celsius)
        self.refused = not bank.least_c <= bank.celsius <= bank.most_c

    def able(self, runner: _Runner, now: float, heat: float) -> float:
        """What a source could give now, volts apart [A]."""
        source, bank = runner.source, self.bank
        if runner.stage not in WHAT_IT_GIVES or not source.cold_c <= bank.celsius <= source.hot_c:
            return 0.0
        share = derated(source.derating_percent_per_k, source.rated_ambient_c, bank.air_c, heat)
        return source.rated_a * share * source.sun(now)

    def offer(self, runner: _Runner, now: float, heat: float) -> Offer:
        """What a source would give now."""
        source = runner.source
        return Offer(
            self.able(runner, now, heat),
            runner.target_v(self.bank),
            source.lead_ohm,
            source.rated_at_v,
            source.back_off_v,
        )

    def flow(self, now: float, charge: float, heats: Sequence[float]) -> Flow:
        """What follows from a state."""
        cell = self.bank.cell
        load_a = sum(draw.amps for draw in self.draws if draw.from_s <= now < draw.to_s)
        offers = [self.offer(runner, now, heat) for runner, heat in zip(self.runners, heats, strict=True)]
        ables = tuple(offer.able_a for offer in offers)
        open_v, inner = cell.ocv(charge), cell.inner_ohm * self.cold.ohm
        ohm, most_a = cell.against(charge, self.cold)
        if self.refused or self.said.opened_s is not None:
            most_a = 0.0
        if len(offers) == 1 and load_a == 0:
            alone_a = offers[0].given_a(open_v, ohm)
            if alone_a <= most_a:
                return Flow(open_v + alone_a * ohm, (alone_a,), ables, alone_a)

        def over(volts: float) -> float:
            """What is given at these volts beyond what load and battery take [A]; it falls as the volts rise."""
            net_a = (volts - open_v) / (ohm if volts > open_v else inner)
            return sum([offer.given_a(volts) for offer in offers]) - load_a - min(net_a, most_a)

        highest_v = max(open_v, *(offer.target_v for offer in offers)) + CLOSE_V
        volts = falling_root(over, open_v - load_a * inner - CLOSE_V, highest_v)
        amps = tuple(offer.given_a(volts) for offer in offers)
        return Flow(volts, amps, ables, sum(amps) - load_a)

    def rate(self, charge: float, net_a: float) -> float:
        """How fast the charge changes [1/s]."""
        return self.bank.cell.hourly(charge, net_a)

    def run(self, charge: float, for_s: float, until: float) -> Charge:
        """Let time pass until the end, or until it is charged."""
        said, now = self.said, 0.0
        heats = [0.0] * len(self.runners)
        edges = sorted({at for draw in self.draws for at in (draw.from_s, draw.to_s)})
        while True:
            flow = self.settled(now, charge, heats)
            said.times_s.append(now)
            said.charge.append(charge)
            said.volts.append(flow.volts)
            said.amps.append(flow.amps)
            said.stages.append(tuple(runner.stage for runner in self.runners))
            if now >= for_s or charge >= until:
                return said
            step_s = self.step(now, charge, flow, min([for_s, *(at for at in edges if at > now + 1e-9)]) - now)
            charge, heats = self.moved(now, charge, heats, flow, step_s)
            now += step_s

    def settled(self, now: float, charge: float, heats: Sequence[float]) -> Flow:
        """The flow once every source has gone to the stage it belongs in."""
        for _ in range(4 * len(self.runners) + 1):
            flow = self.flow(now, charge, heats)
            self.guard(now, flow)
            gone = [
                runner.look(now, amps, able, flow.volts + amps * runner.source.lead_ohm, runner.target_v(self.bank))
                for runner, amps, able in zip(self.runners, flow.amps, flow.ables, strict=True)
            ]
            if not any(gone):
                break
        return flow

    def guard(self, now: float, flow: Flow) -> None:
        """The battery's own management opens at its volts or above its current; it stays open here."""
        bank = self.bank
        if self.said.opened_s is None and (flow.volts >= bank.opens_v or flow.net_a > bank.opens_a):
            self.said.opened_s = now

    def step(self, now: float, charge: float, flow: Flow, left_s: float) -> float:
        """How far to go before anything looks different [s]."""
        fastest = abs(self.rate(charge, flow.net_a))
        seconds = min(left_s, LONGEST_S, *(runner.left_s(now) for runner in self.runners))
        if fastest > 0:
            seconds = min(seconds, MOST_MOVED / fastest, max(30.0, OF_THE_REST * (1.0 - charge) / fastest))
        if any(runner.source.sun_s > 0 for runner in self.runners):
            seconds = min(seconds, 600.0)
        return max(min(SHORTEST_S, left_s), seconds)

    def moved(
        self, now: float, charge: float, heats: list[float], flow: Flow, seconds: float
    ) -> tuple[float, list[float]]:
        """Charge and heat after a step, by the rates at its middle; how warm a source is approaches its end exactly."""
        half = min(1.0, max(0.0, charge + self.rate(charge, flow.net_a) * seconds / 2))
        share = -math.expm1(-seconds / CHARGER_TAU_S)
        warmed = [
            heat + ((amps / runner.source.rated_a if amps > 0 else 0.0) - heat) * share
            for heat, amps, runner in zip(heats, flow.amps, self.runners, strict=True)
        ]
        middle = self.flow(
            now + seconds / 2, half, [(was + now_at) / 2 for was, now_at in zip(heats, warmed, strict=True)]
        )
        return min(1.0, max(0.0, charge + self.rate(half, middle.net_a) * seconds)), warmed


def charged(
    sources: Sequence[Source],
    bank: Bank,
    charge: float,
    for_s: float,
    draws: Sequence[Draw] = (),
    until: float = math.inf,
) -> Charge:
    """Let sources charge a battery.

    Args:
        sources: each by its mechanism; together they share the battery's posts.
        bank: the battery.
        charge: its state of charge to begin with, 0 to 1.
        for_s: for how long [s].
        draws: loads on it meanwhile.
        until: state of charge at which there is no more to see.
    """
    return _Charging(sources, bank, draws, charge).run(charge, for_s, until)
