"""Measurements and looks that are done only where causes are to be told apart.

- `finding`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from olvask.core.circuit.context import Context
from olvask.core.model import Design, RunName
from olvask.core.stages.prove.allowed import is_wired
from olvask.core.stages.prove.plant import Quantity
from olvask.core.stages.prove.prove_test import ProveTest, look
from olvask.core.stages.prove.tests_running import RUNNING
from olvask.core.stages.prove.unknowns import device_of
from olvask.core.stages.wake.relay import relay_of

# Per run: what is read past its device, what lies that way, and where the black probe goes.
# Per 12 V: half an hour and more of charging lies between; our own estimate.
RISEN_V = {"lithium": 0.05, "lead": 0.15}
PAST_DEVICES: tuple[tuple[RunName, Quantity, str, str], ...] = (
    ("supply", "supply_far_v", "unit", "start_battery-"),
    ("delivery", "delivery_far_v", "battery", "auxiliary-"),
)


def finding(ctx: Context) -> Iterator[ProveTest]:
    """Measurements and looks that only tell causes apart."""
    for run, key, towards, black in PAST_DEVICES:
        found = device_of(ctx, run)
        if found is not None:
            text, red = f"Volts past the device of the {run} run", f"its end towards the {towards}"
            test = _against(ctx, key, key, text, red, black, found[1].id)
            yield test if run == "supply" else replace(test, apart=_filled_v(ctx.design))
    yield _against(
        ctx,
        "in_plus_v",
        "in_plus_v",
        "Volts at the unit's in +, against the start battery",
        "unit's in +",
        "start_battery-",
        "charger",
    )
    yield ProveTest(
        key="battery_c",
        group="finding",
        text="Temperature of the auxiliary battery",
        red="thermometer on its case",
        red_at="auxiliary",
        state="as it stands",
        proves="It is warm enough to take charge, and cool enough.",
        needs="thermometer",
        unit="°C",
        minutes=1.5,
        quantity="battery_c",
    )
    yield look(
        "state_read",
        "finding",
        "Read its state, from the unit or its app: what does it show?",
        "engine at hot idle",
        "It is awake, and in the role it was designed for.",
        1.0,
        needs_unit=True,
        answers=STATES,
    )
    yield look(
        "follows",
        "finding",
        "With another 10 A of load on the auxiliary battery, does the current out of the unit stay as it was?",
        RUNNING,
        "It was at its limit; one that follows the load is held back by its charge volts.",
        1.5,
        needs="clamp",
        red_at="charger",
        needs_unit=True,
        answers=("it stays", "it rises with the load"),
    )
    yield look(
        "toggled",
        "finding",
        f"Does it charge once its {'enable' if is_wired(ctx.design) else 'supply'} is taken away and given again?",
        "engine at hot idle",
        "A lockout lets go.",
        1.5,
        needs_unit=True,
    )
    if ctx.facts.low is not None:
        yield look(
            "lamps_lift",
            "finding",
            "With the head lamps on, do the volts come up within a minute?",
            "engine at hot idle",
            "A low phase of the alternator ends when the lamps are on; a weak alternator does not mend.",
            2.0,
        )
    if relay_of(ctx.design) is not None:
        yield look(
            "relay_clicks",
            "finding",
            "Does the changeover relay click when the engine is started?",
            "engine started",
            "Its coil is fed; whether its contact opens is another matter.",
            1.0,
        )
    yield look(
        "belt_quiet",
        "finding",
        "Is the belt tight, dry and quiet when the blower and lamps go on?",
        "engine at idle",
        "It carries the alternator's load.",
        2.0,
    )


def _filled_v(design: Design) -> float:
    """What the auxiliary battery's volts may have risen by since it was measured with the unit charging [V]."""
    risen_v = RISEN_V["lithium" if design.auxiliary.chemistry == "lfp" else "lead"]
    return risen_v * design.auxiliary.nominal_v / 12


STATES = ("on, set to charge", "off or asleep", "another mode or role")


def _against(ctx: Context, key: str, quantity: Quantity, text: str, red: str, black_at: str, red_at: str) -> ProveTest:
    black = "start battery −" if black_at.startswith("start") else "auxiliary battery −"
    return ProveTest(
        key=key,
        group="finding",
        text=text,
        red=red,
        black=black,
        red_at=red_at,
        black_at=black_at,
        state=f"engine at hot idle{', its enable given' if is_wired(ctx.design) else ''}",
        proves="How far along the volts reach.",
        unit="V",
        minutes=1.5,
        quantity=quantity,
        needs_unit=True,
    )
