"""Ways to start and how long a rule holds: what is wrong with them, and what would mend it.

- `judge_ways`: signals, switches and bridges.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, note, stop
from olvask.core.findings.listed import listed
from olvask.core.findings.remedy import remedy
from olvask.core.model import Charger, Design, StartWay
from olvask.core.model.charger import ENABLE_FOR, ENABLE_WORDS, WAY_WORDS
from olvask.core.stages.wake.remedies import signal_instead, signals_at_hand
from olvask.core.stages.wake.wiring import TAPPED, stopped_by

WAYS = ("activation.ways",)
LEAST_GUARD_S, USUAL_GUARD_S, MOST_GUARD_S = 0.5, 2.0, 60.0  # holds of the guard [s]; our own estimates
MOST_STOP_S, MOST_START_S = 900.0, 600.0  # holds beyond which a rule does not do its work; our own estimates


def judge_ways(ctx: Context) -> Judged:
    """Signals the unit or the vehicle has not, ways that only the battery guard stands behind."""
    design, unit, ways = ctx.design, ctx.design.charger, ctx.design.activation.ways
    if unit is None:
        return
    if not ways:
        possible = signals_at_hand(design) or (["voltage"] if "voltage" in unit.enables else ["bridge"])
        yield stop(
            "wake.no_way",
            "charger",
            "Nothing lets it charge",
            "A unit with no enable connected does nothing: the commonest call for a dead unit.",
            [remedy(f"Use the {WAY_WORDS[possible[0]]}", ("activation.ways", [possible[0]]))],
            concerns=WAYS,
        )
    for way in ways:
        yield from _judge_way(design, unit, way)
    yield from _holds(ctx)
    yield from _together(design)
    if design.left_on:
        always = "ignition" not in ways
        alone: StartWay = "ignition" if not always else "bridge" if "bridge" in ways else "switch"
        yield (caution if always else note)(
            f"wake.guard_alone.{alone}",
            "charger",
            f"Only the battery guard stands behind the {WAY_WORDS[alone]}",
            "It is on with the engine stopped as well: it empties the start battery down to the guard every time it stands."
            if always
            else "It may be on with the engine stopped; then only the guard keeps charge for cranking.",
            [signal_instead(design)] if always else [],
            concerns=WAYS,
        )
    if unit.behaviour.latched and not {"switch", "bridge"}.isdisjoint(ways):
        kept = unit.behaviour.keeps_without_remote
        yield (note if design.kept_off or "voltage" in ways else caution)(
            "wake.latched",
            "charger",
            "It keeps charging when its remote is lost",
            f"{unit.name} keeps a mode until it is reset: losing the remote or its wire does not stop it"
            + (f" ({kept})" if kept else "")
            + f". Then only {stopped_by(design)}.",
            [signal_instead(design)],
            concerns=WAYS,
        )


def _together(design: Design) -> Iterator[Found]:
    """Ways that are no use beside one another, or harm."""
    ways = design.activation.ways

    def without(way: StartWay) -> Remedy:
        kept = [other for other in ways if other != way]
        return remedy(f"Leave the {WAY_WORDS[way]} out", ("activation.ways", kept))

    if {"switch", "bridge"} <= set(ways):
        yield caution(
            "wake.bridged_switch",
            "charger",
            "The bridge leaves the switch without effect",
            "Both sit between the remote terminals: bridged, they stay closed whatever the switch does.",
            [without("bridge"), without("switch")],
            concerns=WAYS,
        )
    if {"d_plus", "ignition"} <= set(ways) and not design.vehicle.ready_fed:
        yield caution(
            "wake.two_signals",
            "charger",
            "Two signals need an input each",
            "Joined at one input the ignition feed runs into the charge lamp's line: the lamp stays dark and the alternator may "
            "not excite. Where the engine charges the key is on, so the charge indicator says all that the ignition feed does.",
            [without("ignition")],
            concerns=WAYS,
        )


def _holds(ctx: Context) -> Iterator[Found]:
    """Holds so short that every crank counts, or so long that they guard nothing."""
    activation, at = ctx.design.activation, ctx.thresholds
    guard_s, path = activation.guard.held_s, "activation.guard.held_s"
    amps = at.input_w / at.guard_v
    capacity_ah = ctx.design.vehicle.start_battery.capacity_ah  # no more can be taken
    usual = [remedy(f"Hold it for {USUAL_GUARD_S:g} s", (path, USUAL_GUARD_S))]
    if guard_s < LEAST_GUARD_S:
        text = f"{guard_s:g} s: every crank and every load that comes on trips it. A second or two is usual."
        yield caution("wake.guard_hold_short", "charger", "The battery guard acts at once", text, usual, (path,))
    elif guard_s > MOST_GUARD_S:
        taken_ah = min(amps * guard_s / 3600, capacity_ah)
        text = f"{guard_s:g} s under {at.guard_v:.2f} V take up to {taken_ah:.1f} Ah more from a low start battery."
        yield caution("wake.guard_hold_long", "charger", "The battery guard acts late", text, usual, (path,))
    if "voltage" not in activation.ways or ctx.solved.output is None:
        return
    stop_s = min(rule.held_s for rule in at.stop_rules)
    row = next(index for index, rule in enumerate(at.stop_rules) if rule.held_s == stop_s)
    taken_ah = min(at.input_w / at.stop_v * stop_s / 3600, capacity_ah)
    if stop_s > MOST_STOP_S and not at.beside_signal:
        text = f"It runs on for {stop_s / 60:.0f} min after every stop of the engine: up to {taken_ah:.1f} Ah of the start battery."
        shorter = [remedy("Hold it for 30 s", (f"activation.stop_rules.{row}.held_s", 30.0))]
        concerns = (f"activation.stop_rules.{row}.held_s",)
        yield caution("wake.stop_hold_long", "charger", "It stops very late", text, shorter, concerns)
    start_s = min(rule.held_s for rule in at.start_rules)
    if start_s > MOST_START_S:
        text = f"It waits {start_s / 60:.0f} min with the engine running before it starts; short drives charge nothing."
        sooner = [remedy("Hold it for 30 s", ("activation.start_rules.0.held_s", 30.0))]
        yield caution(
            "wake.start_hold_long", "charger", "It starts very late", text, sooner, ("activation.start_rules.0.held_s",)
        )


def _judge_way(design: Design, unit: Charger, way: StartWay) -> Iterator[Found]:
    signals = design.vehicle.signals
    if ENABLE_FOR[way] not in unit.enables:
        yield stop(
            f"wake.unsupported.{way}",
            "charger",
            f"The unit has no {WAY_WORDS[way]}",
            f"{unit.name} takes {listed([ENABLE_WORDS[item] for item in unit.enables]) or 'no enable at all'}.",
            [signal_instead(design)],
            concerns=WAYS,
        )
    if way in TAPPED and design.plugged and not design.activation.plug_contact:
        yield caution(
            f"wake.plug_contact.{way}",
            "charger",
            f"No contact for the {WAY_WORDS[way]} in the plug",
            "The unit sits behind the plug: its enable wire needs a contact of its own there. Find a free one and note it. A "
            "feed that is live with the key is not proof that the engine runs.",
            concerns=(*WAYS, "activation.plug_contact"),
        )
    if way == "d_plus" and design.vehicle.ready_fed:
        yield stop(
            "wake.no_d_plus",
            "charger",
            "It waits for a D+ that is never there",
            "A hybrid or electric drive has no charge-indicator line: the unit never starts. Take the feed that is live when the "
            "vehicle is ready, or its voltage.",
            [
                remedy(f"Use the {WAY_WORDS[other]}", ("activation.ways", [other]))
                for other in (*signals_at_hand(design), *(item for item in unit.enables if item == "voltage"))
            ],
            concerns=WAYS,
        )
    elif (way == "ignition" and not signals.ignition) or (way == "d_plus" and not signals.d_plus):
        yield caution(
            f"wake.signal_absent.{way}",
            "charger",
            f"No {WAY_WORDS[way]} surveyed",
            "The design relies on a signal the survey does not list. Find it and note it, or choose another way to start.",
            [remedy("It is there: note it in the survey", (f"vehicle.signals.{way}", True))],
            concerns=(*WAYS, f"vehicle.signals.{way}"),
        )
