"""By the stop-watch: how long a unit that its volts decide on takes to start and to stop.

- `starts_within_s`: from engine start to charging.
- `stops_after_s`, `stops_by_s`: from engine stop to no current, as a rule and at the latest.
"""

from __future__ import annotations

import math

from olvask.core.circuit.context import Context
from olvask.core.circuit.thresholds import Rule
from olvask.core.physics.battery import SURFACE_TAU_S, open_circuit_v
from olvask.core.stages.prove.allowed import by_signal

CLOSE_V = 0.01  # per 12 V: volts that a meter does not tell apart
HELD_V = 0.1  # per 12 V: what an engine holds on the day, against the survey; our own estimate


def starts_within_s(ctx: Context) -> tuple[float, float]:
    """The soonest and the latest [s]: the start rule whose volts are met counts that is held the shortest."""
    at, solved, tie_v = ctx.thresholds, ctx.solved, HELD_V * ctx.facts.scale
    idle_v = solved.unloaded_v(solved.running[0])
    first_s = at.start_rules[0].held_s
    maybe = [rule.held_s for rule in at.start_rules if rule.volts <= max(idle_v, at.unloaded_high_v) + tie_v]
    surely = [rule.held_s for rule in at.start_rules if rule.volts <= idle_v - tie_v]
    return min(maybe, default=first_s), min(surely, default=max(maybe, default=first_s))


def stops_after_s(ctx: Context) -> float:
    """At once where a signal goes with the engine, else by the first stop rule that a stopped engine meets [s]."""
    if by_signal(ctx.design):
        return 0.0
    met = [rule.held_s for rule in ctx.thresholds.stop_rules if rule.volts > ctx.facts.settled_v]
    return min(met, default=max(rule.held_s for rule in ctx.thresholds.stop_rules))


def stops_by_s(ctx: Context) -> float | None:
    """The same with the start battery full: its surface charge leaks away first, where that holds it over a stop.

    `None` where a full battery rests above every stop: it is drawn down to one.
    """
    if by_signal(ctx.design):
        return 0.0
    latest = [seconds for rule in ctx.thresholds.stop_rules if (seconds := _by_s(ctx, rule)) is not None]
    return min(latest, default=None)


def _by_s(ctx: Context, rule: Rule) -> float | None:
    facts, start = ctx.facts, ctx.design.vehicle.start_battery
    rest_v = max(facts.settled_v, open_circuit_v(start.chemistry, 1.0, ctx.design.vehicle.system_v))
    surface_v = max(0.0, float(facts.after_stop.value) - float(facts.rest.value))
    over_v = rule.volts - rest_v
    if over_v < CLOSE_V * facts.scale:
        return None
    return rule.held_s + (SURFACE_TAU_S * math.log(surface_v / over_v) if surface_v > over_v else 0.0)
