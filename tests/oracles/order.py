"""Walks through a procedure as if on the vehicle, and says where somebody or something is hurt.

Knows nothing of the rules that made the order: only what each step does, what stands connected at the start, and what must
never be so when a hand, a device or a source meets it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from olvask.core.model import Design
from olvask.core.stages.build.procedure.step import Step


@dataclass
class Vehicle:
    """What is connected and switched on, as the walk goes."""

    design: Design
    auxiliary_there: bool
    on: set[str] = field(default_factory=set)  # sources and draws that are on
    joined: set[str] = field(default_factory=set)  # poles that are on their battery
    closed: set[str] = field(default_factory=set)  # sides whose device is in
    proven: set[str] = field(default_factory=set)
    did: list[tuple[str, str]] = field(default_factory=list)
    parted: set[str] = field(default_factory=set)
    faults: list[str] = field(default_factory=list)

    def has(self, does: str, to: str | None = None) -> bool:
        return any(one == does and (to is None or what == to) for one, what in self.did)


FEEDS = ("mains", "solar", "trailer")
POLES = {"start −", "start +", "auxiliary −", "auxiliary +"}


def faults_of(design: Design, steps: Iterable[Step], auxiliary_there: bool) -> list[str]:
    """What goes wrong when the steps are done in this order; empty where nothing does."""
    told = list(steps)
    acts: list[tuple[str, str]] = [(act.does, act.to) for step in told for act in step.acts]
    at = Vehicle(design, auxiliary_there)
    at.joined = {"start −", "start +"} | ({"auxiliary −", "auxiliary +"} if auxiliary_there else set())
    at.on = {"loads"} | {name for does, name in acts if does == "off"}
    for step in told:
        for act in step.acts:
            fault = _meets(at, act.does, act.to, acts)
            at.faults += [f"{step.key}: {word}" for word in fault]
            _happens(at, act.does, act.to)
    at.faults += _left(at, acts)
    return at.faults


def _live(at: Vehicle) -> list[str]:
    """What still feeds a conductor somewhere."""
    found = [name for name in at.on if name in FEEDS or name.startswith("lifter")]
    if "start −" in at.joined:
        found.append("start battery")
    if "auxiliary −" in at.joined and at.auxiliary_there:
        found.append("auxiliary battery")
    return found


def _meets(at: Vehicle, does: str, to: str, acts: list[tuple[str, str]]) -> list[str]:
    """What is wrong about doing this now."""
    wrong: list[str] = []
    if does == "hands":
        wrong += [f"a hand on it while live from {source}" for source in _live(at)]
        wrong += [f"a hand on it before {side} was proven dead" for side in _sides(at) if side not in at.proven]
        if to == "drill" and "gas" in at.on:
            wrong.append("drilled with the gas on")
    if does == "part" and to in POLES:
        wrong += _parting(at, to)
    if does == "prove_dead" and to in ("start", "auxiliary"):
        wrong += [f"proven dead while live from {source}" for source in _live(at)]
        if to == "auxiliary" and ("wait", "inverter") in acts and not at.has("wait", "inverter"):
            wrong.append("an inverter's capacitors still hold it up")
    if does == "discharge":
        both = {f"{to} +", f"{to} −"}
        wrong += [] if both <= at.parted else ["capacitors emptied with a lead still on"]
        wrong += [] if to in at.proven else ["capacitors emptied before the leads were proven dead"]
    if does == "seat_out":
        wrong += ["seat unplugged with the battery on"] if "start −" in at.joined else []
        wrong += ["airbag not waited for"] if at.design.site.airbags and not at.has("wait", "airbag") else []
    if does == "wait" and to == "airbag" and "start −" in at.joined:
        wrong.append("airbag waited for with the battery on")
    if does == "join":
        wrong += _joining(at, to, acts)
    if does == "insert":
        wrong += _inserting(at, to, acts)
    if does == "on":
        wrong += _switching(at, to)
    if does == "key":
        wrong += _keying(at)
    if does == "enable":
        wrong += _enabling(at, acts)
    return wrong


def _sides(at: Vehicle) -> list[str]:
    return ["start", "auxiliary"] if at.auxiliary_there else ["start"]


def _parting(at: Vehicle, pole: str) -> list[str]:
    wrong = [f"{pole} parted with {name} on" for name in ("loads", "inverter", "mains", "gas") if name in at.on]
    side, sign = pole.split()
    if sign == "+" and f"{side} −" in at.joined:
        wrong.append("positive taken off before the negative")
    if "solar" in at.on and (at.design.solar.into == "start_side") == (side == "start"):
        wrong.append(f"{pole} parted with the sun on its controller")
    return wrong


def _joining(at: Vehicle, pole: str, acts: list[tuple[str, str]]) -> list[str]:
    if pole not in POLES:
        return []
    side, sign = pole.split()
    wrong = []
    if sign == "−" and (("join", f"{side} +") in acts) and f"{side} +" not in at.joined:
        wrong.append("negative on before the positive")
    if at.closed:
        wrong.append("a battery joined with a device in")
    if side == "start" and sign == "−" and at.has("seat_out") and not at.has("seat_plugs"):
        wrong.append("battery on with a seat unplugged")
    for name in ("through supply", "short supply", "through delivery", "short delivery", "torque"):
        if ("check", name) in acts and not at.has("check", name):
            wrong.append(f"battery on before it was checked: {name}")
    return wrong


def _inserting(at: Vehicle, side: str, acts: list[tuple[str, str]]) -> list[str]:
    wrong = []
    if side in ("start", "auxiliary"):
        poles = [f"{side} −"] + ([f"{side} +"] if ("join", f"{side} +") in acts else [])
        if ("join", f"{side} −") in acts:
            wrong += [f"device in with {pole} off" for pole in poles if pole not in at.joined]
        if not at.has("check", f"polarity {side}"):
            wrong.append("device in before its polarity was measured")
        first = at.design.charger.behaviour.connect_first if at.design.charger is not None else ""
        if first == "auxiliary_side" and side == "start" and "auxiliary" not in at.closed:
            wrong.append("start side closed before the auxiliary side its record asks for first")
        if first != "auxiliary_side" and side == "auxiliary" and "start" not in at.closed:
            wrong.append("auxiliary side closed before the start side")
    if "loads" in at.on or "mains" in at.on:
        wrong.append("device in with loads or mains on")
    return wrong


def _switching(at: Vehicle, what: str) -> list[str]:
    wrong = []
    if what == "solar":
        side = "start" if at.design.solar.into == "start_side" else "auxiliary"
        if f"{side} −" not in at.joined:
            wrong.append("sun on a controller that has no battery")
        nothing = at.design.charger is None and not (at.design.supply.pieces or at.design.delivery.pieces)
        if at.design.solar.into == "second_input" and not nothing and not {"start", "auxiliary"} <= at.closed:
            wrong.append("sun on the unit before both its batteries")
    if what.startswith("lifter") and "start −" not in at.joined:
        wrong.append("a source on with its battery off")
    return wrong


def _keying(at: Vehicle) -> list[str]:
    unit = at.design.charger
    wrong = [] if at.closed else ["keyed in with no volts"]
    if unit is not None and unit.behaviour.wake_v is not None and "start" not in at.closed:
        wrong.append("keyed in while it sleeps")
    return wrong


def _enabling(at: Vehicle, acts: list[tuple[str, str]]) -> list[str]:
    wrong = [] if "start" in at.closed else ["enabled with its start side open"]
    unit = at.design.charger
    if unit is not None and unit.behaviour.enable_when == "before_keying":
        return wrong
    for does, to in acts:
        if does in ("insert", "key", "plug") or (does == "on" and to == "solar"):
            wrong += [] if at.has(does, to) else [f"enabled before {does} {to}"]
    return wrong


def _happens(at: Vehicle, does: str, to: str) -> None:
    at.did.append((does, to))
    if does == "off":
        at.on.discard(to)
    elif does == "on":
        at.on.add(to)
    elif does == "part":
        at.parted.add(to)
        at.joined.discard(to)
    elif does == "join":
        at.joined.add(to)
        at.proven.clear()
    elif does == "prove_dead":
        at.proven.add(to)
    elif does == "insert":
        at.closed.add(to)
    elif does == "plug":
        at.on.add(to)


def _left(at: Vehicle, acts: list[tuple[str, str]]) -> list[str]:
    """What is not as it should be when all is done."""
    wrong = [
        f"left off: {name}"
        for name in ("loads", "mains", "solar", "gas")
        if ("off", name) in acts and name not in at.on
    ]
    wrong += [
        f"left parted: {pole}" for pole in ("start −", "auxiliary −") if pole in at.parted and pole not in at.joined
    ]
    if at.has("seat_out") and not at.has("seat_plugs"):
        wrong.append("a seat left out")
    unit = at.design.charger
    if unit is not None and not at.has("enable"):
        wrong.append("never enabled")
    return wrong
