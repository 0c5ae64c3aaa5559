"""Which way to start suits this job: every one judged, reasons for and against, wiring.

- `advise`: all of them in order, the recommended one first; a combination of the user's own among them.
- `settings_for`: the activation of one of them, rules left to the proposals.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import Solved, solve
from olvask.core.circuit.thresholds import LOW_PHASE_S, Thresholds
from olvask.core.findings.collector import collect
from olvask.core.findings.driven import of_its_drive
from olvask.core.findings.finding import Finding, Remedy
from olvask.core.findings.listed import away, capital
from olvask.core.findings.remedy import apply, joined, remedy
from olvask.core.findings.said import Said
from olvask.core.model import Activation, Design, Guard, StartRule, StartWay, StopRule
from olvask.core.model.charger import ENABLE_FOR, WAY_WORDS
from olvask.core.stages.wake import ACTIVATION
from olvask.core.stages.wake.low_phase import LONGEST_HOLD_S, PAST_PHASE_S
from olvask.core.stages.wake.remedies import signals_at_hand, spare_ah
from olvask.core.stages.wake.wiring import SignalWire, signal_wire

START_HELD_S, STOP_HELD_S = 10.0, 30.0  # our own estimate: the start battery recovers first; a gear change is no halt
READY_BURDEN = 1.1  # of a feed that is live only while a hybrid is ready: a wire, as D+ is
BY_HAND = 40.0  # a burden from which a way to start is never recommended: nothing but the guard tells a standing engine
CAUTION, STOP, NARROW = 2.0, 3.0, 3.0  # what findings, and a window narrower than the margin, weigh against one
MISSING, UNSOUND = 1000.0, 100.0
SPREAD_V = 0.3  # per 12 V: regulators 0.20, batteries 0.10, meters and units 0.05 each, and joints; our own estimates
Verdict = Literal["recommended", "sound", "cautious", "unsound", "unavailable"]


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodAdvice:
    """One way to start and stop the unit, alone or combined, judged with its rules proposed anew."""

    key: str
    label: str
    verdict: Verdict
    chosen: bool
    speaks_for: tuple[str, ...]
    speaks_against: tuple[str, ...]
    take: Remedy
    wires: tuple[SignalWire, ...]


class Advice(Said):
    """Every way to start judged, the best one first."""

    text: str
    methods: tuple[MethodAdvice, ...]
    remedies: tuple[Remedy, ...] = Field(description="what would make one sound, where none is")


@dataclass(frozen=True, slots=True)
class Candidate:
    """One way to start: what it uses, its name, what speaks against it before anything is computed, a longer hold."""

    key: str
    ways: tuple[StartWay, ...]
    label: str
    burden: float
    rides: bool = False


# What speaks against a way before anything is computed: a wire, a signal that may not be there; our own estimates.
BURDEN = {
    "voltage": 0.0,
    "voltage_held": 1.5,
    "d_plus": 1.0,
    "d_plus_voltage": 1.4,
    "ignition_voltage": 1.2,
    "ignition": BY_HAND,
    "switch": BY_HAND + 1,
    "bridge": BY_HAND + 2,
}
CANDIDATES = (
    Candidate("voltage", ("voltage",), "Engine-run detection by voltage", BURDEN["voltage"]),
    Candidate(
        "voltage_held",
        ("voltage",),
        "By voltage, with a stop held past the low phase",
        BURDEN["voltage_held"],
        rides=True,
    ),
    Candidate("d_plus", ("d_plus",), "Charge indicator (D+, 61)", BURDEN["d_plus"]),
    Candidate("d_plus_voltage", ("d_plus", "voltage"), "D+ and voltage together", BURDEN["d_plus_voltage"]),
    Candidate(
        "ignition_voltage",
        ("ignition", "voltage"),
        "Ignition feed (15) and voltage together",
        BURDEN["ignition_voltage"],
    ),
    Candidate("ignition", ("ignition",), "Ignition feed (15) alone", BURDEN["ignition"]),
    Candidate("switch", ("switch",), "Manual switch", BURDEN["switch"]),
    Candidate("bridge", ("bridge",), "Bridged remote terminals, always allowed", BURDEN["bridge"]),
)


def settings_for(design: Design, candidate: Candidate) -> Activation:
    """The activation of a way to start, its rules left to the proposals, its holds within the unit's.

    Args:
        design: the design.
        candidate: the way to start.
    """
    start_s, stop_s = START_HELD_S, STOP_HELD_S
    if candidate.rides:
        phase_s = design.vehicle.readings.low_phase_s
        stop_s = min(LONGEST_HOLD_S, (LOW_PHASE_S if phase_s is None else phase_s) + PAST_PHASE_S)
    if design.charger is not None:
        most_start_s, most_stop_s = design.charger.start_rules.held_most_s, design.charger.stop_rules.held_most_s
        start_s = start_s if most_start_s is None else min(start_s, most_start_s)
        stop_s = stop_s if most_stop_s is None else min(stop_s, most_stop_s)
    return Activation(
        ways=candidate.ways,
        start_rules=(StartRule(held_s=start_s),),
        stop_rules=(StopRule(held_s=stop_s),),
        guard=Guard(held_s=design.activation.guard.held_s),
    )


@of_its_drive
def advise(design: Design) -> Advice:
    """Judge every way to start, each with its rules proposed anew over the same circuit.

    Args:
        design: the design; what it has set now does not sway the advice.
    """
    if design.charger is None:
        return Advice(text="Choose a unit first: its enable inputs decide what can be used.", methods=(), remedies=())
    solved = solve(design)
    judged = sorted(
        (_judge(design, solved, item) for item in _candidates(design, solved)), key=lambda item: item.weight
    )
    best = judged[0]
    first, *others = (_told(design, item, item is best) for item in judged)
    entered = _entered(design)
    beside = [] if entered is None else [_told(design, _judge(design, solved, entered), best=False)]
    methods = (first, *beside, *others)
    if best.unsound:
        text = f"No way to start is sound as the design stands. Nearest: {best.candidate.label}. But: {best.but}"
        return Advice(text=text, methods=methods, remedies=tuple(_remedies(design, best)))
    if best.candidate.burden >= BY_HAND:
        return _only_guarded(design, judged, methods)
    against = f" Mind: {first.speaks_against[0]}" if first.speaks_against else ""
    return Advice(text=f"{best.candidate.label}: {first.speaks_for[0]}{against}", methods=methods, remedies=())


def _only_guarded(design: Design, judged: list[_Judged], methods: tuple[MethodAdvice, ...]) -> Advice:
    """The best is one that only the battery guard stands behind: what would make another sound."""
    near = next((item for item in judged if item.candidate.burden < BY_HAND and not item.missing), None)
    lead = (
        f"As the design stands, only the battery guard would stop it: {judged[0].candidate.label} does not tell a "
        "standing engine."
    )
    if near is None:
        text = f"{lead} Find a signal, or take a unit that watches the voltage."
        return Advice(text=text, methods=methods, remedies=())
    text = f"{lead} Nearest: {near.candidate.label}. But: {near.but}"
    return Advice(text=text, methods=methods, remedies=tuple(_remedies(design, near)))


@dataclass(frozen=True, slots=True)
class _Judged:
    candidate: Candidate
    ctx: Context
    stops: tuple[Finding, ...]
    cautions: tuple[Finding, ...]
    missing: str
    weight: float

    @property
    def at(self) -> Thresholds:
        return self.ctx.thresholds

    @property
    def unsound(self) -> bool:
        return bool(self.stops or self.missing)

    @property
    def but(self) -> str:
        """What first keeps it from being sound."""
        return f"{self.missing}." if self.missing else f"{self.stops[0].title}. {self.stops[0].text}"


def _candidates(design: Design, solved: Solved) -> Iterator[Candidate]:
    phase = solved.running_by_key("low")
    for item in CANDIDATES:
        if (item.rides and phase is None) or ("d_plus" in item.ways and design.vehicle.ready_fed):
            continue
        ready = item.ways == ("ignition",) and design.vehicle.ready_fed
        yield replace(item, label="Feed live when ready (15)", burden=READY_BURDEN) if ready else item


def _entered(design: Design) -> Candidate | None:
    """What is set now, where its volts are typed or no candidate stands for it; it never sways the advice."""
    chosen, typed = design.activation.ways, _typed(design.activation)
    if not chosen or (not typed and any(set(chosen) == set(item.ways) for item in CANDIDATES)):
        return None
    words = " and ".join(WAY_WORDS[way] for way in chosen)
    burden = 0.0 if design.tells_running else BY_HAND
    return Candidate("entered", chosen, f"{capital(words)}{', as typed' if typed else ''}", burden)


def _typed(activation: Activation) -> bool:
    """Whether any volts are typed rather than proposed."""
    volts = [*(rule.at_least_v for rule in activation.start_rules), *(rule.below_v for rule in activation.stop_rules)]
    return any(value is not None for value in (*volts, activation.guard.off_below_v, activation.guard.back_at_v))


def _missing(design: Design, ways: tuple[StartWay, ...]) -> str:
    """What it would need that is not there; empty where nothing is missing."""
    unit, signals = design.charger, design.vehicle.signals
    if unit is None:
        return "no unit"
    for way in ways:
        if ENABLE_FOR[way] not in unit.enables:
            return f"{unit.name} has no {WAY_WORDS[way]}"
    if "d_plus" in ways and design.vehicle.ready_fed:
        return "a DC converter gives no D+"
    if "d_plus" in ways and not signals.d_plus:
        return "no D+ (61) is surveyed"
    if "ignition" in ways and not signals.ignition:
        return "no ignition feed (15) is surveyed"
    return ""


def _judge(design: Design, solved: Solved, candidate: Candidate) -> _Judged:
    as_typed = candidate.key == "entered" and _typed(design.activation)
    chosen = design.activation if as_typed else settings_for(design, candidate)
    tried = design.model_copy(update={"activation": chosen})
    ctx = Context.of(tried, solved, worded=False)
    found = collect(ctx, {"wake": ACTIVATION}, remedies=False).findings
    stops = tuple(item for item in found if item.level == "stop")
    cautions = tuple(item for item in found if item.level == "caution" and not item.id.startswith("wake.signal_absent"))
    missing = _missing(design, candidate.ways)
    weight = candidate.burden + CAUTION * len(cautions) + (UNSOUND if stops else 0.0) + STOP * len(stops)
    weight += MISSING if missing else 0.0
    # Where D+ is there, windows that regulators, batteries and meters of like vehicles overrun speak for it.
    wanted_v = ctx.thresholds.margin_v
    if "d_plus" in signals_at_hand(design):
        wanted_v = max(wanted_v, SPREAD_V * ctx.facts.scale)
    if "voltage" in candidate.ways and _narrowest(ctx.thresholds) < wanted_v:
        weight += NARROW
    if candidate.rides and not ctx.thresholds.stop_high_v:
        weight += NARROW
    return _Judged(candidate, ctx, stops, cautions, missing, weight)


def _narrowest(at: Thresholds) -> float:
    """Width of the narrower window beyond its margins [V]; below zero where one is shut."""
    stop_high_v = at.floor_v - 1.0 if at.stop_high_v is None else at.stop_high_v
    return min(at.start_high_v, stop_high_v) - at.floor_v


def _verdict(judged: _Judged, best: bool) -> Verdict:
    by_hand = judged.candidate.burden >= BY_HAND
    if judged.missing:
        return "unavailable"
    if judged.stops:
        return "unsound"
    if best and not by_hand:
        return "recommended"
    return "cautious" if judged.cautions or by_hand else "sound"


def _told(design: Design, judged: _Judged, best: bool) -> MethodAdvice:
    candidate, chosen = judged.candidate, design.activation
    phase = judged.ctx.solved.running_by_key("low")
    rides = min(rule.held_s for rule in chosen.stop_rules) > judged.at.low_phase_s and phase is not None
    in_use = set(chosen.ways) == set(candidate.ways) and candidate.rides == (rides and candidate.ways == ("voltage",))
    in_use = candidate.key == "entered" if _typed(chosen) else in_use
    return MethodAdvice(
        key=candidate.key,
        label=candidate.label,
        verdict=_verdict(judged, best),
        chosen=in_use,
        speaks_for=tuple(_for(judged)),
        speaks_against=tuple(_against(judged)),
        take=_take(judged, f"Use {candidate.label}"),
        wires=tuple(signal_wire(judged.ctx.design, way) for way in candidate.ways),
    )


def _take(judged: _Judged, label: str) -> Remedy:
    """What sets a way to start, as changes of the design."""
    return remedy(label, ("activation", judged.ctx.design.activation.model_dump(mode="json")))


def _input_a(solved: Solved) -> float:
    return max((state.drawn.current_a for state in solved.running if state.drawn is not None), default=0.0)


def _for(judged: _Judged) -> Iterator[str]:
    ways, at = judged.candidate.ways, judged.at
    phase = judged.ctx.solved.running_by_key("low")
    signals = {"d_plus", "ignition"} & set(ways)
    if ways == ("voltage",):
        running = f"running {at.unloaded_low_v:.2f} V stands {away(at.unloaded_low_v - at.rest_high_v, 'resting')}"
        yield f"no wire to run; {running} {at.rest_high_v:.2f} V."
        if judged.candidate.rides:
            yield f"the stop is held past low phases of {at.low_phase_s:.0f} s."
    if "d_plus" in ways:
        yield "live only while it generates: nothing is taken from a standing engine."
    if signals and "voltage" not in ways and phase is not None and (at.phase_seen_v or 0.0) > at.guard_v:
        yield f"the low phase of {phase.source.regulated_v:.2f} V does not stop it."
    if signals and "voltage" not in ways:
        yield "the sag of the supply run cannot make it hunt."
    if ways == ("ignition",) and judged.ctx.design.vehicle.ready_fed:
        yield "live only while the vehicle is ready: nothing is taken from one that is off."
        return
    if "voltage" in ways and signals:
        yield "both must agree: a panel on the start battery, or a key left on, does not start it."
    yield from _for_by_hand(judged.ctx.design)


def _for_by_hand(design: Design) -> Iterator[str]:
    ways, unit = design.activation.ways, design.charger
    latched = unit is not None and unit.behaviour.latched
    if ways == ("ignition",):
        yield "easy to find in any fuse box; on before the engine turns."
    if ways == ("switch",):
        yield "the driver decides; useful beside another way to start."
    if "switch" in ways and "bridge" not in ways and len(ways) > 1 and not latched:
        yield "the driver can keep it off whatever the rest allows."
    if "bridge" in ways and len(ways) > 1:
        yield "the bridge only closes the remote terminals; the rest decides."
    if ways == ("bridge",):
        yield "nothing to wire and nothing to fail; for a bench, or where the supply itself is switched."


def _against(judged: _Judged) -> Iterator[str]:
    if judged.missing:
        yield f"{judged.missing}."
    for finding in (*judged.stops, *judged.cautions):
        yield f"{finding.title}: {finding.text}"
    ways, at, solved = judged.candidate.ways, judged.at, judged.ctx.solved
    amps, design = _input_a(solved), judged.ctx.design
    narrow = _narrowest(at)
    if "voltage" in ways and not judged.stops and narrow < at.margin_v:
        yield f"the windows are {max(0.0, narrow):.2f} V wide beyond their margins: little for meters and joints."
    if ways == ("voltage",):
        cost_ah = amps * design.activation.stop_rules[0].held_s / 3600
        yield f"up to {cost_ah:.2f} Ah out of the start battery while the stop is held, after every halt."
        if solved.facts.lifted is not None:
            lifted_v = float(solved.facts.lifted.value)
            yield f"the start battery is held up to {lifted_v:.2f} V standing: the start must clear that."
    if not design.tells_running:
        minutes = 60 * spare_ah(design) / amps if amps > 0 else 0.0
        yield (
            f"on with the engine stopped it takes {amps:.0f} A: about {minutes:.0f} min to the charge kept for cranking, "
            "and only the battery guard stops it."
        )
    if "d_plus" in ways:
        yield "one wire from the alternator with its own small fuse; some vehicles have no such terminal."
    elif "ignition" in ways:
        yield "one wire with its own small fuse."
    if "switch" in ways and len(ways) > 1:
        yield "left off, nothing charges: someone must remember it."


def _remedies(design: Design, judged: _Judged) -> list[Remedy]:
    """Remedies of what keeps the nearest from being sound, each with that one's settings."""
    found = collect(judged.ctx, {"wake": ACTIVATION}).findings
    alone = [list(item.ways) for item in _candidates(design, judged.ctx.solved) if item.burden >= BY_HAND]
    wanted = [
        item
        for finding in found
        if finding.level == "stop" or finding.id.startswith("wake.signal_absent")
        for item in finding.remedies
        if not any(change.path == "activation.ways" and change.value in alone for change in item.changes)
    ]
    fresh = [joined(item.label, _take(judged, ""), item) for item in {item.label: item for item in wanted}.values()]
    whole = [item for item in fresh if _sound(apply(design, item), judged.candidate)]
    return whole or fresh  # where none does it alone, any is a step


def _sound(design: Design, candidate: Candidate) -> bool:
    """Whether a changed design leaves some way to start sound that knows the engine: this one, or one it was led to."""
    ways = design.activation.ways
    led_to = next((item for item in CANDIDATES if item.ways == ways), candidate)
    tried = candidate if candidate.ways == ways else led_to
    return not _judge(design, solve(design), tried).unsound
