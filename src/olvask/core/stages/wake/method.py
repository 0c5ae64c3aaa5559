"""Which way of starting and stopping the unit suits this job: every way judged, reasons for and against, wiring.

- `advise`: all ways in order, the recommended one first; a combination of the user's own among them.
- `settings_for`: the activation of one way, thresholds left to the proposals.
- `signal_wire`: how a signal reaches the unit.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.assessment import Advice, Finding, MethodAdvice, SignalWire, WayOut
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.findings.remedy import apply
from olvask.core.model import Activation, Design
from olvask.core.model.charger import Method
from olvask.core.stages.wake.activation import judge_activation
from olvask.core.stages.wake.remedies import ENABLE_FOR, METHOD_LABEL, spare_ah
from olvask.core.stages.wake.thresholds import LOW_PHASE_S, Thresholds, set_thresholds

START_DELAY_S, STOP_DELAY_S = 10.0, 30.0
PAST_PHASE_S = 30.0  # a delay that rides a low phase outlasts it by this
SIGNAL_FUSE_A = 3.0  # ISO 8820-3 has 3 A; a signal draws milliamperes
SIGNAL_MM2 = 0.75  # thin, yet strong enough to be routed
BY_HAND = 40.0  # a burden from which a way is never recommended: nothing but the lockout tells a standing engine
CAUTION, STOP, NARROW = 2.0, 3.0, 3.0  # what findings, and a window narrower than the margin, weigh against a way


@dataclass(frozen=True, slots=True)
class Candidate:
    """One way: its methods, what it is called, what speaks against it before anything is computed, a longer delay."""

    key: str
    methods: tuple[Method, ...]
    label: str
    burden: float
    rides: bool = False


CANDIDATES = (
    Candidate("voltage", ("voltage",), "Engine-run detection by voltage", 0.0),
    Candidate("voltage_delayed", ("voltage",), "By voltage, with a stop delay past the low phase", 1.5, rides=True),
    Candidate("d_plus", ("d_plus",), "Charge indicator (D+, 61)", 1.0),
    Candidate("d_plus_voltage", ("d_plus", "voltage"), "D+ and voltage together", 1.4),
    Candidate("ignition_voltage", ("ignition", "voltage"), "Ignition feed (15) and voltage together", 1.2),
    Candidate("ignition", ("ignition",), "Ignition feed (15) alone", BY_HAND),
    Candidate("switch", ("switch",), "Manual switch", BY_HAND + 1),
    Candidate("link", ("link",), "Bridge link, always allowed", BY_HAND + 2),
)


def settings_for(design: Design, candidate: Candidate) -> Activation:
    """The activation of a way, its thresholds left to the proposals, its delays within the unit's.

    Args:
        design: the design.
        candidate: the way.
    """
    behaviour = design.charger.behaviour if design.charger is not None else None
    start_s, stop_s = START_DELAY_S, STOP_DELAY_S
    if candidate.rides:
        phase_s = design.vehicle.readings.low_phase_s
        stop_s = (LOW_PHASE_S if phase_s is None else phase_s) + PAST_PHASE_S
    if behaviour is not None and behaviour.start_delay_max_s is not None:
        start_s = min(start_s, behaviour.start_delay_max_s)
    if behaviour is not None and behaviour.stop_delay_max_s is not None:
        stop_s = min(stop_s, behaviour.stop_delay_max_s)
    return Activation(
        methods=candidate.methods,
        start_delay_s=start_s,
        stop_delay_s=stop_s,
        lockout_delay_s=design.activation.lockout_delay_s,
    )


def advise(design: Design) -> Advice:
    """Judge every way, each with its thresholds proposed anew over the same circuit.

    Args:
        design: the design; what it has set now does not sway the advice.
    """
    if design.charger is None:
        return Advice(text="Choose a unit first: its enable inputs decide what can be used.", methods=(), ways_out=())
    solved = solve(design)
    judged = sorted((_judge(design, solved, item) for item in _candidates(solved)), key=lambda item: item.weight)
    best = judged[0]
    first, *others = (_told(design, solved, item, item is best) for item in judged)
    own = _own(design)
    beside = [] if own is None else [_told(design, solved, _judge(design, solved, own), best=False)]
    methods = (first, *beside, *others)
    if best.unsound:
        text = f"No way is sound as the design stands. Nearest: {best.candidate.label}. But: {best.but}"
        return Advice(text=text, methods=methods, ways_out=tuple(_ways(design, solved, best)))
    if best.candidate.burden >= BY_HAND:
        near = next((item for item in judged if item.candidate.burden < BY_HAND and not item.missing), None)
        lead = f"Nothing that guards itself is sound as the design stands. {best.candidate.label} has only the lockout behind it."
        if near is None:
            return Advice(
                text=f"{lead} Find a signal, or take a unit that watches the voltage.", methods=methods, ways_out=()
            )
        return Advice(
            text=f"{lead} Nearest: {near.candidate.label}. But: {near.but}",
            methods=methods,
            ways_out=tuple(_ways(design, solved, near)),
        )
    reason = first.speaks_for[0]
    against = f" Mind: {first.speaks_against[0]}" if first.speaks_against else ""
    return Advice(text=f"{best.candidate.label}: {reason}{against}", methods=methods, ways_out=())


@dataclass(slots=True)
class _Judged:
    candidate: Candidate
    design: Design
    set_at: Thresholds
    stops: list[Finding]
    cautions: list[Finding]
    missing: str
    weight: float

    @property
    def unsound(self) -> bool:
        return bool(self.stops or self.missing)

    @property
    def but(self) -> str:
        """What first keeps it from being sound."""
        return f"{self.missing}." if self.missing else f"{self.stops[0].title}. {self.stops[0].text}"


def _candidates(solved: Solved) -> Iterator[Candidate]:
    phase = solved.running_by_key("low")
    for item in CANDIDATES:
        if not item.rides or phase is not None:
            yield item


def _own(design: Design) -> Candidate | None:
    """What is set now, where that is a combination no candidate stands for; it never sways the advice."""
    chosen = design.activation.methods
    if not chosen or any(set(chosen) == set(item.methods) for item in CANDIDATES):
        return None
    words = " and ".join(METHOD_LABEL[method] for method in chosen)
    return Candidate(
        "own", chosen, f"{words[0].upper()}{words[1:]}", 0.0 if {"voltage", "d_plus"} & set(chosen) else BY_HAND
    )


def _missing(design: Design, methods: tuple[Method, ...]) -> str:
    """What it would need that is not there; empty where nothing is missing."""
    unit, signals = design.charger, design.vehicle.signals
    if unit is None:
        return "no unit"
    for method in methods:
        if ENABLE_FOR[method] not in unit.enables:
            return f"{unit.name} has no {METHOD_LABEL[method]}"
    if "d_plus" in methods and not signals.d_plus:
        return "no D+ (61) is surveyed"
    if "ignition" in methods and not signals.ignition:
        return "no ignition feed (15) is surveyed"
    return ""


def _judge(design: Design, solved: Solved, candidate: Candidate) -> _Judged:
    tried = design.model_copy(update={"activation": settings_for(design, candidate)})
    set_at = set_thresholds(tried, solved)
    ledger = Ledger(verdicts_only=True)
    judge_activation(tried, solved, set_at, ledger)
    stops = [item for item in ledger.findings if item.level == "stop"]
    cautions = [
        item for item in ledger.findings if item.level == "caution" and not item.id.startswith("wake.signal_absent")
    ]
    missing = _missing(design, candidate.methods)
    weight = candidate.burden + CAUTION * len(cautions) + (100.0 if stops else 0.0) + STOP * len(stops)
    weight += 1000.0 if missing else 0.0
    if "voltage" in candidate.methods and _narrowest(set_at) < set_at.margin_v:
        weight += NARROW
    if candidate.rides and not set_at.stop_high_v:
        weight += NARROW
    return _Judged(candidate, tried, set_at, stops, cautions, missing, weight)


def _narrowest(set_at: Thresholds) -> float:
    """Width of the narrower window beyond its margins [V]; below zero where one is shut."""
    stop_high_v = set_at.floor_v - 1.0 if set_at.stop_high_v is None else set_at.stop_high_v
    return min(set_at.start_high_v, stop_high_v) - set_at.floor_v


def _told(design: Design, solved: Solved, judged: _Judged, best: bool) -> MethodAdvice:
    candidate = judged.candidate
    rides = design.activation.stop_delay_s > judged.set_at.low_phase_s and solved.running_by_key("low") is not None
    chosen = set(design.activation.methods) == set(candidate.methods) and candidate.rides == (
        rides and candidate.methods == ("voltage",)
    )
    take = way_out(f"Use {candidate.label}", *_settings(judged))
    against = list(_against(design, solved, judged))
    verdict = (
        "unavailable"
        if judged.missing
        else "unsound"
        if judged.stops
        else "recommended"
        if best and candidate.burden < BY_HAND
        else "cautious"
        if judged.cautions or candidate.burden >= BY_HAND
        else "sound"
    )
    return MethodAdvice(
        key=candidate.key,
        label=candidate.label,
        verdict=verdict,  # type: ignore[arg-type]
        chosen=chosen,
        speaks_for=tuple(_for(design, solved, judged)),
        speaks_against=tuple(against),
        take=take,
        wires=tuple(signal_wire(design, method) for method in candidate.methods),
    )


def _settings(judged: _Judged) -> list[tuple[str, object]]:
    """What sets a way, as changes of the design."""
    settings = judged.design.activation
    return [
        ("activation.methods", list(settings.methods)),
        ("activation.start_delay_s", settings.start_delay_s),
        ("activation.stop_delay_s", settings.stop_delay_s),
        *((f"activation.{key}", None) for key in ("start_at_once_v", "start_v", "stop_v", "lockout_v", "restart_v")),
    ]


def _input_a(solved: Solved) -> float:
    return max((state.drawn.current_a for state in solved.running if state.drawn is not None), default=0.0)


def _for(design: Design, solved: Solved, judged: _Judged) -> Iterator[str]:
    methods, set_at = judged.candidate.methods, judged.set_at
    phase = solved.running_by_key("low")
    signals = {"d_plus", "ignition"} & set(methods)
    if methods == ("voltage",):
        yield (
            f"no wire to run; rest {set_at.rest_high_v:.2f} V and running {set_at.unloaded_low_v:.2f} V stand "
            f"{set_at.unloaded_low_v - set_at.rest_high_v:.2f} V apart."
        )
        if judged.candidate.rides:
            yield f"the delay outlasts low phases of {set_at.low_phase_s:.0f} s."
    if "d_plus" in methods:
        yield "live only while it generates: nothing is taken from a standing engine."
    if signals and "voltage" not in methods and phase is not None and (set_at.phase_seen_v or 0.0) > set_at.lockout_v:
        yield f"the low phase of {phase.source.regulated_v:.2f} V does not stop it."
    if signals and "voltage" not in methods:
        yield "the sag of the supply run cannot make it hunt."
    if "voltage" in methods and signals:
        yield "both must agree: a panel on the start battery, or a key left on, does not start it."
    if methods == ("ignition",):
        yield "easy to find in any fuse box; on before the engine turns."
    if methods == ("switch",):
        yield "the driver decides; useful beside another way."
    if "switch" in methods and len(methods) > 1:
        yield "the driver can keep it off whatever else says yes."
    if "link" in methods and len(methods) > 1:
        yield "the bridge only closes the remote terminals; the rest decides."
    if methods == ("link",):
        yield "nothing to wire and nothing to fail; for a bench, or where the supply itself is switched."


def _against(design: Design, solved: Solved, judged: _Judged) -> Iterator[str]:
    if judged.missing:
        yield f"{judged.missing}."
    for finding in judged.stops:
        yield f"{finding.title}: {finding.text}"
    for finding in judged.cautions:
        yield f"{finding.title}: {finding.text}"
    methods, set_at, amps = judged.candidate.methods, judged.set_at, _input_a(solved)
    if "voltage" in methods and not judged.stops and _narrowest(set_at) < set_at.margin_v:
        yield f"the windows are {max(0.0, _narrowest(set_at)):.2f} V wide beyond their margins: little for meters and joints."
    if methods == ("voltage",):
        cost_ah = amps * judged.design.activation.stop_delay_s / 3600
        yield f"up to {cost_ah:.2f} Ah out of the start battery in the stop delay after every halt."
        if solved.facts.lifted is not None:
            yield f"the start battery is lifted to {float(solved.facts.lifted.value):.2f} V standing: the start must clear that."
    if {"switch", "link", "ignition"} & set(methods) and not {"voltage", "d_plus"} & set(methods):
        minutes = 60 * spare_ah(design) / amps if amps > 0 else 0.0
        yield (
            f"on with the engine stopped it takes {amps:.0f} A: about {minutes:.0f} min to the charge kept for cranking, "
            "and only the lockout guards."
        )
    if "d_plus" in methods:
        yield "one wire from the alternator with its own small fuse; some vehicles have no such terminal."
    elif "ignition" in methods:
        yield "one wire with its own small fuse."
    if "switch" in methods and len(methods) > 1:
        yield "left off, nothing charges: someone must remember it."


def _ways(design: Design, solved: Solved, judged: _Judged) -> list[WayOut]:
    """Ways out of what keeps the nearest way from being sound, each with that way's settings."""
    ledger = Ledger()
    judge_activation(judged.design, solved, judged.set_at, ledger)
    alone = [list(item.methods) for item in CANDIDATES if item.burden >= BY_HAND]
    found = [
        way
        for item in ledger.findings
        if item.level == "stop" or item.id.startswith("wake.signal_absent")
        for way in item.ways_out
        if not any(change.path == "activation.methods" and change.value in alone for change in way.changes)
    ]
    fresh = [
        way_out(
            way.label,
            *(item for item in _settings(judged) if item[0] not in {change.path for change in way.changes}),
            *((change.path, change.value) for change in way.changes),
        )
        for way in {way.label: way for way in found}.values()
    ]
    whole = [way for way in fresh if _sound(apply(design, way), judged.candidate)]
    return whole or fresh  # where none does it alone, any is a step


def _sound(design: Design, candidate: Candidate) -> bool:
    """Whether a changed design leaves some way that guards itself sound: this one, or that to which a signal led."""
    methods = design.activation.methods
    led_to = next((item for item in CANDIDATES if item.methods == methods), candidate)
    tried = candidate if candidate.methods == methods else led_to
    return not _judge(design, solve(design), tried).unsound


def signal_wire(design: Design, method: Method) -> SignalWire:
    """How a signal reaches the unit, by DIN 72552 terminal numbers.

    Args:
        design: the design.
        method: the signal.
    """
    kept = design.charger.behaviour.keeps_without_remote if design.charger is not None else ""
    latched = design.charger is not None and design.charger.behaviour.latched
    remote_lost = (
        f"it stays as it was{': ' + kept if kept else ''}; only the lockout stops it."
        if latched
        else "it stops and stays off."
    )
    fused = SIGNAL_FUSE_A, SIGNAL_MM2
    hybrid = design.vehicle.drive == "converter"
    rows: dict[Method, tuple[str, str, float | None, float | None, str, str, str, str]] = {
        "ignition": (
            "15",
            "ignition feed in the fuse box",
            *fused,
            "",
            "enable input",
            "with the vehicle ready" if hybrid else "with the key on, engine running or not",
            "it never charges: safe, and the first thing to look for.",
        ),
        "d_plus": (
            "61",
            "alternator D+, the charge lamp's line",
            *fused,
            "",
            "enable input",
            "only while the alternator generates",
            "it never charges. A short to the body lights the charge lamp and can keep the alternator from "
            "exciting: hence the fuse at the tap.",
        ),
        "switch": (
            "",
            "first remote terminal",
            None,
            SIGNAL_MM2,
            "switch",
            "second remote terminal",
            "while switched on",
            remote_lost,
        ),
        "link": (
            "",
            "first remote terminal",
            None,
            SIGNAL_MM2,
            "bridge",
            "second remote terminal",
            "always",
            remote_lost,
        ),
        "voltage": (
            "30",
            "the supply run itself",
            None,
            None,
            "",
            "input terminals",
            "while the input stands over its thresholds",
            "there is no signal wire; with the supply run open it is dead.",
        ),
    }
    terminal, taken_at, fuse_a, wire_mm2, through, ends_at, live, if_broken = rows[method]
    return SignalWire(
        method=method,
        terminal=terminal,
        taken_at=taken_at,
        fuse_a=fuse_a,
        wire_mm2=wire_mm2,
        through=through,  # type: ignore[arg-type]
        ends_at=ends_at,
        live=live,
        if_broken=if_broken,
    )
