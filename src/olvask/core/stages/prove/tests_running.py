"""Tests with the engine running.

- `running`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import least_charging_c
from olvask.core.model import Design, RunName
from olvask.core.stages.build.conductors import supply_ends
from olvask.core.stages.prove.allowed import by_remote, is_wired, taken_away
from olvask.core.stages.prove.plant import Quantity
from olvask.core.stages.prove.prove_test import ProveTest, look
from olvask.core.stages.prove.unknowns import device_of
from olvask.core.stages.settings.frost import stops_c

RUNNING = "engine at hot idle, lights and blower on, the unit charging"
RESTING = "engine at hot idle, lights and blower on"
WARM = "thirty minutes of charging"


class _Row(NamedTuple):
    """One measurement around the unit."""

    quantity: Quantity
    text: str
    red: str
    black: str
    red_at: str
    black_at: str
    proves: str
    unit: str
    minutes: float
    fewest: bool = True


# Minutes are our own estimates: a clamp moved, a cover lifted, a seat pushed back.
ROWS: tuple[_Row, ...] = (
    _Row(
        "posts_v",
        "Volts at the start battery, the unit charging",
        "start battery +",
        "its negative post",
        "start_battery",
        "start_battery-",
        "How far the alternator lets them fall.",
        "V",
        1.0,
    ),
    _Row(
        "input_a", "Current into the unit", "the supply run, clamp", "", "charger", "", "What the unit draws.", "A", 1.0
    ),
    _Row(
        "input_v",
        "Volts at the unit's input",
        "unit's in +",
        "in −",
        "charger",
        "charger-",
        "What is left of the volts after the run.",
        "V",
        1.5,
    ),
    _Row(
        "output_a",
        "Current out of the unit",
        "the delivery run, clamp",
        "",
        "charger.out",
        "",
        "That it gives what it is set to.",
        "A",
        1.0,
    ),
    _Row(
        "output_v",
        "Volts at the unit's output",
        "unit's out +",
        "out −",
        "charger.out",
        "charger.out-",
        "What it pushes with.",
        "V",
        1.5,
    ),
    _Row(
        "auxiliary_v",
        "Volts at the auxiliary battery",
        "auxiliary battery +",
        "its negative post",
        "auxiliary",
        "auxiliary-",
        "What arrives at the battery.",
        "V",
        1.0,
    ),
    _Row(
        "supply_out_mv",
        "Millivolts from the start battery's + to the unit's in +",
        "start battery +",
        "unit's in +",
        "start_battery",
        "charger",
        "Every joint of the outgoing supply.",
        "mV",
        1.5,
    ),
    _Row(
        "supply_back_mv",
        "Millivolts from the unit's in − to the start battery's −",
        "unit's in −",
        "start battery −",
        "charger-",
        "start_battery-",
        "Every joint of the supply's return.",
        "mV",
        1.5,
    ),
    _Row(
        "delivery_out_mv",
        "Millivolts from the unit's out + to the auxiliary battery's +",
        "unit's out +",
        "auxiliary battery +",
        "charger.out",
        "auxiliary",
        "Every joint of the outgoing delivery.",
        "mV",
        1.5,
    ),
    _Row(
        "delivery_back_mv",
        "Millivolts from the auxiliary battery's − to the unit's out −",
        "auxiliary battery −",
        "unit's out −",
        "auxiliary-",
        "charger.out-",
        "Every joint of the delivery's return.",
        "mV",
        1.5,
    ),
)


def running(ctx: Context) -> Iterator[ProveTest]:
    """With the engine running: first without the unit, then with it, then warm."""
    yield ProveTest(
        key="idle_posts_v",
        group="running",
        text="Volts at the start battery, the unit not charging",
        red="start battery +",
        black="its negative post",
        red_at="start_battery",
        black_at="start_battery-",
        state=f"{RESTING}, {taken_away(ctx.design)}",
        proves="What the engine holds, to which all else refers.",
        unit="V",
        minutes=1.0,
        quantity="idle_posts_v",
        fewest=True,
    )
    if is_wired(ctx.design):
        tapped, switch = not by_remote(ctx.design), "switch" in ctx.design.activation.ways
        yield ProveTest(
            key="enable_v",
            group="running",
            text="Volts at the unit's enable terminal" if tapped else "Volts across the unit's two remote terminals",
            red="enable terminal" if tapped else "first remote terminal",
            black="in −" if tapped else "second remote terminal",
            red_at="charger",
            black_at="charger-",
            state=f"engine at hot idle, {'its enable given' if tapped else 'its switch on' if switch else 'its bridge in'}",
            proves="The leave to charge arrives, and at its full level."
            if tapped
            else f"Its {'switch joins' if switch else 'bridge joins'} them: that is its leave to charge.",
            unit="V",
            minutes=1.5,
            quantity="enable_v",
            needs_unit=True,
        )
    for row in _from_its_source(ctx.design):
        yield ProveTest(
            key=row.quantity,
            group="running",
            state=RUNNING,
            needs="clamp" if row.unit == "A" else "meter",
            needs_unit=True,
            **row._asdict(),
        )
    for run in ("supply", "delivery"):
        yield from _device(ctx, "supply" if run == "supply" else "delivery")
    yield from _others(ctx)
    yield from _cold_stop(ctx)
    yield from _warm()


def _from_its_source(design: Design) -> Iterator[_Row]:
    """The rows, the supply's legs measured from where it takes its current and to where that returns."""
    begins, ends = supply_ends(design)
    for row in ROWS:
        if row.quantity == "supply_out_mv" and design.vehicle.source_point.kind != "battery_post":
            yield row._replace(text=f"Millivolts from the {begins.split(',')[0]} to the unit's in +", red=begins)
        elif row.quantity == "supply_back_mv" and design.vehicle.start_battery.negative_sensor:
            yield row._replace(text=f"Millivolts from the unit's in − to the {ends}", black=ends)
        else:
            yield row


def _device(ctx: Context, run: RunName) -> Iterator[ProveTest]:
    """Across the first device of a run with its ends."""
    found = device_of(ctx, run)
    if found is None:
        return
    place = found[1].id
    yield ProveTest(
        key=f"{run}_device_mv",
        group="running",
        text=f"Millivolts across the device of the {run} run, its ends included",
        red="its end towards the battery" if run == "supply" else "its end towards the unit",
        black="its other end",
        red_at=place,
        black_at=place,
        state=RUNNING,
        proves="It is clean and tight where it is bolted.",
        unit="mV",
        minutes=1.5,
        quantity="supply_device_mv" if run == "supply" else "delivery_device_mv",
        needs_unit=True,
    )


def _cold_stop(ctx: Context) -> Iterator[ProveTest]:
    """Lithium that gets colder than it may be charged, or nobody knows how cold: what stops it is tried once."""
    battery = ctx.design.auxiliary
    low_c = battery.temperature_min_c
    cold = battery.chemistry == "lfp" and (low_c is None or low_c < least_charging_c(battery))
    if not cold or stops_c(ctx) is None:
        return
    yield look(
        "cold_stop",
        "running",
        "With cold spray on its sensor, does the charge stop, and go on once it is warm?",
        RUNNING,
        "What keeps it from being charged frozen works: one charge in frost ruins it for good.",
        3.0,
        needs="clamp",
        red_at="charger",
        needs_unit=True,
        fewest=not battery.low_temperature_cut_off,  # a sensor of its own lies within the pack
    )


def _others(ctx: Context) -> Iterator[ProveTest]:
    design = ctx.design
    link = next((item for item in design.still_fed if item.joins), None)
    if link is not None and design.old_link.decision in ("disconnect", "changeover"):
        yield ProveTest(
            key="link.current",
            group="running",
            text="Current through the old link's feed",
            red="the old link's feed, clamp",
            red_at="start_battery",
            state=RUNNING,
            proves="No second way of charging is left.",
            needs="clamp",
            unit="A",
            minutes=2.0,
            quantity="old_link_a",
            fewest=True,
        )
    if design.vehicle.start_battery.negative_sensor:
        yield ProveTest(
            key="sensor_a",
            group="running",
            text="What the current on the battery sensor's lead changes by, once the unit charges",
            red="lead from the sensor to the body, clamp",
            red_at="start_battery-",
            state="engine at hot idle: clamp set to nothing without the unit, then charging",
            proves="The unit's return does not go round the sensor.",
            needs="clamp",
            unit="A",
            minutes=1.5,
            quantity="sensor_a",
            needs_unit=True,
            fewest=True,
        )
    if design.monitor.unit is not None:
        yield ProveTest(
            key="monitor_a",
            group="running",
            text="What the monitor shows going into the battery, its loads off",
            red="the monitor's display",
            red_at="auxiliary-",
            state=RUNNING,
            proves="The unit goes past its shunt, as it is noted: of that it counts nothing."
            if design.uncounted
            else "All that charges goes through its shunt.",
            needs="eyes",
            unit="A",
            minutes=1.0,
            quantity="monitor_a",
            needs_unit=True,
            fewest=True,
        )
    if ctx.facts.low is not None:
        yield look(
            "rides_low",
            "running",
            "Does it do as designed in a low phase of the alternator?",
            "a stretch of even driving, lamps off, until the volts are let down",
            "It neither hunts nor empties the start battery there.",
            15.0,
            needs="clamp",
            red_at="charger",
            needs_unit=True,
        )


def _warm() -> Iterator[ProveTest]:
    yield ProveTest(
        key="air_c",
        group="running",
        text="Air beside the unit",
        red="thermometer a hand's breadth from its fins",
        red_at="charger",
        state=WARM,
        proves="It gets the air it was reckoned with.",
        needs="thermometer",
        unit="°C",
        minutes=2.0,
        quantity="air_c",
        needs_unit=True,
    )
    yield look(
        "hand_warm",
        "running",
        "Can each joint and device be held in the hand?",
        WARM,
        "None loses volts that make heat.",
        3.0,
        needs="hand",
        needs_unit=True,
        fewest=True,
    )
