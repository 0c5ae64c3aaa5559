"""Tests with the engine off: both batteries rested and loaded, what is drawn parked, what the monitor counts at nothing.

- `engine_off`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.prove.allowed import left_on_words
from olvask.core.stages.prove.prove_test import ProveTest, look

RESTED = "engine off for an hour, everything off"
OWN = "its negative post"


def engine_off(ctx: Context) -> Iterator[ProveTest]:
    """With the engine off."""
    scene = Scene.of(ctx)
    _, off = left_on_words(ctx.design)
    for side, place in (("start", "start_battery"), ("auxiliary", "auxiliary")):
        band = scene.rest(side)
        yield ProveTest(
            key=f"rest.{side}",
            group="engine_off",
            text=f"Volts of the {side} battery, rested",
            red=f"{side} battery +",
            black=OWN,
            red_at=place,
            black_at=f"{place}-",
            state=RESTED + off,
            proves="A battery that is fit to go on with.",
            unit="V",
            minutes=1.0,
            quantity="rest_start_v" if side == "start" else "rest_auxiliary_v",
            least=band.least,
            most=band.most,
            fewest=True,
        )
    yield ProveTest(
        key="loaded.start",
        group="engine_off",
        text="Volts of the start battery, head lamps on for three minutes",
        red="start battery +",
        black=OWN,
        red_at="start_battery",
        black_at="start_battery-",
        state=f"engine off, head lamps on{off}",
        proves="It still carries a load: a tired one falls far.",
        unit="V",
        minutes=4.0,
        quantity="loaded_start_v",
    )
    yield ProveTest(
        key="loaded.auxiliary",
        group="engine_off",
        text="Volts of the auxiliary battery under its usual load for three minutes",
        red="auxiliary battery +",
        black=OWN,
        red_at="auxiliary",
        black_at="auxiliary-",
        state=f"engine off, pump, lamps and fan of the living side on{off}",
        proves="It still carries a load: a tired one falls far.",
        unit="V",
        minutes=4.0,
        quantity="loaded_auxiliary_v",
    )
    yield from _parked(ctx)
    yield from _monitor(ctx)
    if ctx.design.auxiliary.management is not None and ctx.design.auxiliary.management.needs_waking:
        yield look(
            "wakes",
            "engine_off",
            "Does the unit wake the battery after its management has opened?",
            "battery put to sleep as its maker says, then the unit enabled",
            "A battery that was run empty comes back by itself.",
            6.0,
            needs_unit=True,
        )


def _parked(ctx: Context) -> Iterator[ProveTest]:
    design = ctx.design
    on, off = left_on_words(design)
    beside = f"{on} and " if on else ""
    yield ProveTest(
        key="key_on_a",
        group="engine_off",
        text=f"Current into the unit, {beside}engine off",
        red="the supply run, clamp",
        red_at="charger",
        state=f"{f'{on}, ' if on else ''}engine off, {'two' if design.left_on else 'five'} minutes",
        proves="It is on with the engine off, as chosen: it charges, or its guard has let go."
        if design.left_on
        else "It waits for the engine, and leaves the start battery alone.",
        needs="clamp",
        unit="A",
        minutes=3.0 if design.left_on else 6.0,
        quantity="key_on_a",
        needs_unit=True,
        fewest="voltage" in design.activation.ways or "ignition" in design.activation.ways,
    )
    yield ProveTest(
        key="standby_ma",
        group="engine_off",
        text="What is drawn from the start battery, parked and asleep",
        red="the start battery's negative lead, milliamp clamp",
        red_at="start_battery-",
        state=f"locked{off}, everything asleep for half an hour",
        proves="It can stand as long as the design says.",
        needs="milliamp clamp",
        unit="mA",
        minutes=5.0,
        quantity="standby_ma",
        fewest=True,
    )
    yield ProveTest(
        key="output_rest_v",
        group="engine_off",
        text="Volts at the unit's output, engine off",
        red="unit's out +",
        black="out −",
        red_at="charger.out",
        black_at="charger.out-",
        state=RESTED + off,
        proves="The auxiliary battery reaches the unit.",
        unit="V",
        minutes=1.5,
        quantity="output_rest_v",
        needs_unit=True,
    )


def _monitor(ctx: Context) -> Iterator[ProveTest]:
    if ctx.design.monitor.unit is None:
        return
    _, off = left_on_words(ctx.design)
    yield ProveTest(
        key="zero_a",
        group="engine_off",
        text="What the monitor counts with nothing flowing",
        red="the monitor's display",
        red_at="auxiliary-",
        state=f"engine off{off}, every load off, its shunt's load side off",
        proves="It counts nothing where there is nothing.",
        needs="eyes",
        unit="A",
        minutes=2.0,
        quantity="zero_a",
    )
