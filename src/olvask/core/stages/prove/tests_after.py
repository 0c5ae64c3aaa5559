"""Tests after the drive: seconds to start and to stop, lockout, values read back, and what happens when things are taken away.

- `after`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from olvask.core.circuit.context import Context
from olvask.core.model import Design, Joint
from olvask.core.stages.prove.allowed import latches
from olvask.core.stages.prove.plant import Quantity
from olvask.core.stages.prove.prove_test import ProveTest, look
from olvask.core.stages.prove.timing import starts_within_s, stops_after_s, stops_by_s
from olvask.core.stages.wake.relay import relay_of

READ_BACK = "read from the unit, by its app or its menu"


def after(ctx: Context) -> Iterator[ProveTest]:
    """Once it has charged."""
    if ctx.design.charger is None:
        return
    by_volts = "voltage" in ctx.design.activation.ways
    if by_volts:
        yield from _seconds(ctx)
    else:
        kept = latches(ctx.design)
        yield look(
            "lets_go",
            "after",
            f"Does it stop within two seconds once its {'mode is reset' if kept else 'enable is taken away'}?",
            "charging, its remote taken away, then reset as its maker says"
            if kept
            else "charging, then the enable taken away",
            "A reset stops it; losing its remote does not."
            if kept
            else "It lets go, and leaves the start battery alone.",
            1.0,
            needs="clamp",
            red_at="charger",
            needs_unit=True,
            fewest=True,
        )
    yield look(
        "lockout",
        "after",
        f"Does it let go below {ctx.thresholds.guard_v:.2f} V, and come back at {ctx.thresholds.back_v:.2f} V?",
        "its input on a bench supply, turned down and up again; or lamps on until the posts fall",
        "The start battery is guarded whatever else goes wrong.",
        6.0,
        needs="supply, meter",
        red_at="charger",
        needs_unit=True,
    )
    yield from _read_back(ctx, by_volts)
    yield look(
        "restarts",
        "after",
        "After an automatic engine stop and start, does it charge again by itself?",
        "charging, engine stopped for half a minute, started again",
        "Short stops cost no charge.",
        3.0,
        needs="clamp",
        red_at="charger",
        needs_unit=True,
    )
    yield from _taken_away(ctx)


def _seconds(ctx: Context) -> Iterator[ProveTest]:
    """Where volts decide."""
    (soonest_s, start_s), stop_s, by_s = starts_within_s(ctx), stops_after_s(ctx), stops_by_s(ctx)
    timed = partial(
        ProveTest,
        group="after",
        red="the supply run, clamp",
        red_at="charger",
        needs="clamp, stop-watch",
        unit="s",
        fewest=True,
        needs_unit=True,
    )
    yield timed(
        key="start_s",
        text="Seconds from engine start to charging",
        state="engine started, everything allowed",
        proves="Its start rule works.",
        minutes=(start_s + 60) / 60,
        quantity="start_s",
        least=max(0.0, soonest_s - 3.0),
        most=start_s + 15.0,
    )
    yield timed(
        key="stop_s",
        text="Seconds from engine stop to no current",
        state="charging, then the engine stopped and the key taken out",
        proves="It lets go, and leaves the start battery alone.",
        minutes=(stop_s + 60) / 60,
        least=0.0,  # its guard may let go sooner
        most=None if by_s is None else by_s + 8.0,
    )


def _read_back(ctx: Context, by_volts: bool) -> Iterator[ProveTest]:
    """Values that the unit holds, against those it was to be keyed with."""
    unit = ctx.design.charger
    rows: list[tuple[str, Quantity, str, str, bool]] = [
        ("read_set_v", "read_set_v", "Charge volts as read back", "V", True),
        (
            "read_limit_a",
            "read_limit_a",
            "Current limit as read back",
            "A",
            unit is not None and unit.current_limit != "none",
        ),
        (
            "read_start_v",
            "read_start_v",
            "Start volts as read back",
            "V",
            by_volts and unit is not None and unit.adjustable,
        ),
    ]
    for key, quantity, text, measure, there in rows:
        if there:
            yield ProveTest(
                key=key,
                group="after",
                text=text,
                red=READ_BACK,
                red_at="charger",
                state="key on",
                proves="What was keyed is what it holds.",
                needs="eyes",
                unit=measure,
                minutes=1.0,
                quantity=quantity,
                needs_unit=True,
                fewest=True,
            )


def _second_input(design: Design) -> Iterator[ProveTest]:
    """A panel on the unit's own second input: that it charges by it, and which of the two waits."""
    unit = design.charger
    if unit is None or unit.dual_input == "none" or design.solar.panel_w is None or design.solar.into != "second_input":
        return
    yield look(
        "by_sun",
        "after",
        "With the engine off, does it charge from the panel?",
        "engine off, the panel in the sun, the auxiliary battery not full",
        "Its second input works, and by itself.",
        2.0,
        needs="clamp",
        red_at="charger.out",
        needs_unit=True,
    )
    if unit.dual_input == "priority":
        first, other = ("the panel", "start side") if unit.dual_first == "solar" else ("the start side", "panel")
        yield look(
            "one_waits",
            "after",
            f"With the sun on the panel and the engine running, does it charge from {first} alone?",
            f"engine at hot idle, the panel in the sun, {unit.dual_delay_s:g} s after both are there",
            f"The {other} waits, as it was designed.",
            3.0,
            needs="clamp",
            red_at="charger",
            needs_unit=True,
        )


def _taken_away(ctx: Context) -> Iterator[ProveTest]:
    """What happens when a plug parts or a relay has to open."""
    for run in (ctx.design.supply, ctx.design.delivery):
        plug = next((piece for piece in run.pieces if isinstance(piece, Joint) and piece.form == "plug"), None)
        if plug is not None:
            yield look(
                f"parted.{plug.id}",
                "after",
                "With the plug parted, are the open contacts on the vehicle dead once the engine is off?",
                "trailer parted, engine off for a minute",
                "Nobody meets live contacts.",
                2.0,
                needs="meter",
                red_at=plug.id,
            )
    yield from _second_input(ctx.design)
    if relay_of(ctx.design) is not None:
        yield look(
            "relay_opens",
            "after",
            "Does the changeover relay open: no volts past its contact while charging?",
            "charging; meter from its contact 87a to the body",
            "The old link is out while the unit works.",
            2.0,
            needs="meter",
            red_at="start_battery",
            fewest=True,
        )
    if ctx.design.monitor.unit is not None:
        yield look(
            "monitor_full",
            "after",
            "After a true full, does the monitor show 100 %?",
            "charged until it holds its last stage",
            "It is synchronised.",
            1.0,
            red_at="auxiliary-",
            needs_unit=True,
        )
