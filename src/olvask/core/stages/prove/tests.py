"""What is measured on the finished work, in working order: where, in what state, what it proves.

- `ProveTest`: one measurement.
- `tests_of`: those of a design; each is left out with a reason where it cannot be done.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Cable, Design
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.wire import OPEN_OHM, THROUGH_OHM
from olvask.core.stages.prove.likely import Quantity

Group = Literal["dead", "engine_off", "running", "after"]
RUNNING = "engine at hot idle, lights and blower on, the unit charging"


@dataclass(frozen=True, slots=True, kw_only=True)
class ProveTest:
    """One measurement.

    Attributes:
        key: its identity; readings refer to it.
        group: when it is done.
        text: what to measure.
        red: where the red probe or the clamp goes: a place of the level line.
        black: where the black probe goes; empty for a clamp or a stop-watch.
        state: what to bring about first.
        proves: what a right reading shows.
        needs: what is needed.
        unit: of the reading.
        minutes: how long it takes; our own estimate.
        quantity: what of the running vehicle it reads; `None` where its band is fixed.
        least, most: the fixed band.
        cannot: why it cannot be done here; empty where it can.
    """

    key: str
    group: Group
    text: str
    red: str
    black: str
    state: str
    proves: str
    needs: str
    unit: str
    minutes: float
    quantity: Quantity | None = None
    least: float | None = None
    most: float | None = None
    cannot: str = ""


def tests_of(ctx: Context) -> tuple[ProveTest, ...]:
    """Every test of a design, in working order."""
    return (*_dead(ctx), *_off(ctx), *_running(ctx), *_after(ctx))


def _dead(ctx: Context) -> Iterator[ProveTest]:
    """With both batteries off: through, no short, and the body where it carries the current."""
    for run in RUNS:
        if not any(isinstance(piece, Cable) for piece in ctx.design.run(run).pieces):
            continue
        for key, text, proves, least, most in (
            (
                "through",
                f"The {run} run from end to end, the worst of its conductors",
                "Nothing is crossed or open.",
                0.0,
                THROUGH_OHM,
            ),
            ("short", f"From + to − of the {run} run, its device out", "No short waits for a battery.", OPEN_OHM, None),
        ):
            yield ProveTest(
                key=f"{key}.{run}",
                group="dead",
                text=text,
                red=f"{run} +",
                black="the same conductor's far end" if key == "through" else f"{run} −",
                state="both batteries off, every device out",
                proves=proves,
                needs="meter, ohms",
                unit="Ω",
                minutes=2.0,
                least=least,
                most=most,
            )


def _off(ctx: Context) -> Iterator[ProveTest]:
    scene = Scene.of(ctx)
    for side, place in (("start", "start_battery"), ("auxiliary", "auxiliary")):
        band = scene.rest(side)
        yield ProveTest(
            key=f"rest.{side}",
            group="engine_off",
            text=f"Volts of the {side} battery, rested",
            red=place,
            black="its negative post",
            state="engine off for an hour, everything off",
            proves="A battery that is fit to go on with.",
            needs="meter",
            unit="V",
            minutes=1.0,
            least=band.least,
            most=band.most,
        )
    link = next((item for item in ctx.design.existing if item.kind in ("link", "panel") and not item.cut), None)
    if link is not None and ctx.design.old_link.decision in ("disconnect", "changeover"):
        yield ProveTest(
            key="link.current",
            group="engine_off",
            text="Current through the old link's feed",
            red="the old link's feed, clamp",
            black="",
            state="engine running, the unit charging",
            proves="No second way of charging is left.",
            needs="clamp",
            unit="A",
            minutes=2.0,
            least=-0.5,
            most=0.5,
        )


# key, words, red, black, what it proves, unit, minutes
ROWS: tuple[tuple[Quantity, str, str, str, str, str, float], ...] = (
    (
        "idle_posts_v",
        "Volts at the start battery, the unit not charging",
        "start_battery",
        "its negative post",
        "What the engine holds, to which all else refers.",
        "V",
        1.0,
    ),
    (
        "posts_v",
        "Volts at the start battery, the unit charging",
        "start_battery",
        "its negative post",
        "How far the alternator lets them fall.",
        "V",
        1.0,
    ),
    ("input_a", "Current into the unit", "the supply run, clamp", "", "What the unit draws.", "A", 1.0),
    (
        "input_v",
        "Volts at the unit's input",
        "charger, in +",
        "in −",
        "What is left of the volts after the run.",
        "V",
        1.5,
    ),
    (
        "output_a",
        "Current out of the unit",
        "the delivery run, clamp",
        "",
        "That it gives what it is set to.",
        "A",
        1.0,
    ),
    ("output_v", "Volts at the unit's output", "charger, out +", "out −", "What it pushes with.", "V", 1.5),
    (
        "auxiliary_v",
        "Volts at the auxiliary battery",
        "auxiliary",
        "its negative post",
        "What arrives at the battery.",
        "V",
        1.0,
    ),
    (
        "supply_out_mv",
        "Millivolts from the start battery's + to the unit's in +",
        "start_battery",
        "charger, in +",
        "Every joint of the outgoing supply.",
        "mV",
        2.0,
    ),
    (
        "supply_back_mv",
        "Millivolts from the unit's in − to the start battery's −",
        "charger, in −",
        "start battery −",
        "Every joint of the supply's return.",
        "mV",
        2.0,
    ),
    (
        "delivery_out_mv",
        "Millivolts from the unit's out + to the auxiliary battery's +",
        "charger, out +",
        "auxiliary",
        "Every joint of the outgoing delivery.",
        "mV",
        2.0,
    ),
    (
        "delivery_back_mv",
        "Millivolts from the auxiliary battery's − to the unit's out −",
        "auxiliary battery −",
        "charger, out −",
        "Every joint of the delivery's return.",
        "mV",
        2.0,
    ),
)


def _running(ctx: Context) -> Iterator[ProveTest]:
    cannot = _cannot(ctx.design)
    for quantity, text, red, black, proves, unit, minutes in ROWS:
        resting = quantity == "idle_posts_v"
        yield ProveTest(
            key=quantity,
            group="running",
            text=text,
            red=red,
            black=black,
            state="engine at hot idle, lights and blower on, its enable taken away" if resting else RUNNING,
            proves=proves,
            needs="clamp" if unit == "A" else "meter",
            unit=unit,
            minutes=minutes,
            quantity=quantity,
            cannot="" if resting else cannot,
        )


def _cannot(design: Design) -> str:
    if design.charger is None:
        return "No unit is chosen."
    if not design.supply.pieces or not design.delivery.pieces:
        return "A run is not laid yet."
    return ""


def _after(ctx: Context) -> Iterator[ProveTest]:
    """Seconds to start and to stop, where volts decide."""
    if ctx.design.charger is None or "voltage" not in ctx.design.activation.ways:
        return
    start, stop = ctx.thresholds.start_rules[0], ctx.thresholds.stop_rules[0]
    for key, text, held_s, state in (
        ("start_s", "Seconds from engine start to charging", start.held_s, "engine started, everything allowed"),
        ("stop_s", "Seconds from engine stop to no current", stop.held_s, "charging, then the engine stopped"),
    ):
        yield ProveTest(
            key=key,
            group="after",
            text=text,
            red="the supply run, clamp",
            black="",
            state=state,
            proves="Its start rule works." if key == "start_s" else "It lets go, and leaves the start battery alone.",
            needs="clamp, stop-watch",
            unit="s",
            minutes=(held_s + 60) / 60,
            least=max(0.0, held_s - 3.0),
            most=held_s + 15.0 if key == "start_s" else held_s + 8.0,
        )
