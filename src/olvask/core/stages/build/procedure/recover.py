"""Getting a unit or a pack back: procedures made by the same engine as the work itself.

- `recoveries_of`: those that a design's unit and battery have.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from olvask.core.model import Charger
from olvask.core.stages.build.procedure.before import DEAD, SHORT, TOOLS
from olvask.core.stages.build.procedure.order import Procedure, in_order
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Expected, Hazard, Rule, Step
from olvask.core.stages.settings.climate import climate_of
from olvask.core.stages.settings.sheet import sheet_of

CAPACITOR_WAIT_S = 120.0  # through a unit's own bleed, where its record says nothing; our own estimate
WAKE_HOLD_S = 10.0  # of volts at the input before it answers; our own estimate
WAKE_OVER_V = 1.0  # above what wakes it, so that a long lead cannot spoil it; our own estimate


def recoveries_of(scene: Scene) -> tuple[Procedure, ...]:
    """Every way back that this design's unit and battery have; none without either."""
    found: list[Procedure] = []
    unit = scene.design.charger
    if unit is not None:
        if unit.behaviour.wake_v is not None:
            found.append(_procedure(scene, "Wake the unit by its input", _raised(scene, unit, unit.behaviour.wake_v)))
        found.append(_procedure(scene, "Take every lead off the unit, and let it empty", _emptied(scene, unit)))
        if unit.behaviour.button_hold_s is not None:
            found.append(_procedure(scene, "Reset the unit by its button", _held(scene, unit.behaviour.button_hold_s)))
    found.append(_procedure(scene, "Wake a battery that shows nothing", _pack(scene)))
    return tuple(found)


def _procedure(scene: Scene, title: str, steps: Iterator[Step]) -> Procedure:
    held = list(steps)
    chain = [
        Rule(before=one.key, after=next_.key, why="Each is safe only after the one before it.", origin="physics")
        for one, next_ in itertools.pairwise(held)
    ]
    return in_order(title, _loses(_lost(scene)) if any(step.does("key", "reset") for step in held) else "", held, chain)


def _lost(scene: Scene) -> tuple[str, ...]:
    """Lines of the sheet that a reset throws away."""
    sheet = sheet_of(scene.ctx)
    return () if sheet is None else sheet.reset_loses


def _loses(lost: tuple[str, ...]) -> str:
    """What a reset throws away."""
    if not lost:
        return "Check every line of the sheet after it."
    return f"This loses: {', '.join(lost)}. All of it is keyed in again from Settings."


def _again(scene: Scene) -> Step:
    return Step(
        key="recover.key",
        group="key_in",
        text="Key in the sheet again and read it back",
        why="After this it may stand at its factory values.",
        see=_lost(scene),
        leads_to="settings",
        acts=(Act("key", "sheet"),),
    )


def _raised(scene: Scene, unit: Charger, wake_v: float) -> Iterator[Step]:
    volts = min(wake_v + WAKE_OVER_V * unit.input_nominal_v / 12, unit.input_max_v)
    yield Step(
        key="raise.measure",
        group="prepare",
        text="Measure at the unit's input, + to −",
        why="Below what wakes it the unit is no more than asleep.",
        tool="meter",
        expected=Expected(
            what="Volts at the input", unit="V", least=0.0, most=wake_v, why=f"It wakes at {wake_v:g} V."
        ),
    )
    wired = set(scene.design.activation.ways) - {"voltage"}
    yield Step(
        key="raise.off",
        group="make_safe",
        text=f"Switch off its loads{' and take its enable away' if wired else ''}",
        why="It is to wake, not to charge.",
        acts=(Act("off", "loads"),),
    )
    yield Step(
        key="raise.hold",
        group="first_power",
        text=f"Give its input {volts:.1f} V: start the engine, or a fused supply held to 5 A",
        why="Over what wakes it at its own terminals, under what it stands.",
        number=f"never over {unit.input_max_v:g} V",
        wait_s=WAKE_HOLD_S,
        see=(*unit.behaviour.lamps[:1], "it answers"),
        hazard=SHORT,
    )
    yield _again(scene)


def _emptied(scene: Scene, unit: Charger) -> Iterator[Step]:
    wait_s = unit.behaviour.capacitor_wait_s
    inputs = "start side, second input" if unit.dual_input != "none" else "start side"
    positives = (("start", inputs), ("auxiliary", "auxiliary side"))
    yield Step(
        key="empty.off",
        group="make_safe",
        text="Everything off: loads, inverter, mains, sun",
        why="Nothing feeds a lead that comes off.",
        acts=(Act("off", "loads"), Act("off", "inverter"), Act("off", "mains"), Act("off", "solar")),
    )
    yield Step(
        key="empty.enable",
        group="make_safe",
        text="Take its enable, sensors and data leads off",
        why="Each of them has a return of its own.",
        acts=(Act("part", "unit signals"),),
    )
    for side, words in positives:
        yield Step(
            key=f"empty.{side}_device",
            group="make_safe",
            text=f"Open the device of the {words} at its battery",
            why="Dead leads at the unit, and no battery has to be undone.",
            tool=TOOLS,
            hazard=SHORT,
            acts=(Act("part", f"unit {side} +"),),
        )
    for side, words in positives:
        shared = not unit.isolated and side == "auxiliary"
        yield Step(
            key=f"empty.{side}_negative",
            group="make_safe",
            text=f"Take the negative of the {words} off the unit, and every other return: body, case, sensor"
            if not shared
            else "See that its shared negative has no second lead: body, case, shield of a data lead",
            why="One return left on closes a circuit through whoever empties its capacitors.",
            tool=TOOLS,
            acts=(Act("part", f"unit {side} −"),),
        )
    yield Step(
        key="empty.proof",
        group="make_safe",
        text="Prove each lead that came off dead, against the body and against each other",
        why="A forgotten source shows itself on the meter.",
        tool="meter",
        expected=DEAD,
        acts=(Act("prove_dead", "unit"),),
    )
    yield Step(
        key="empty.capacitors",
        group="make_safe",
        text="Let its capacitors empty: a resistor from + to − of each side",
        why="Only when they are empty does it forget.",
        tool="100 Ω, 10 W, on insulated leads",
        wait_s=CAPACITOR_WAIT_S if wait_s is None else max(1.0, wait_s),
        hazard=Hazard(sign="W012", text="A stored charge: no fingers, no screwdriver."),
        expected=Expected(what="Volts, + to −", unit="V", least=-1.0, most=1.0, why="They are empty."),
        acts=(Act("discharge", "unit"), Act("key", "reset")),
    )
    yield Step(
        key="empty.back",
        group="first_power",
        text="Everything back as in the procedure: negatives on the unit, then the devices in its own order",
        why="The same order as when it was new.",
        acts=(Act("join", "unit"),),
    )
    yield _again(scene)


def _held(scene: Scene, hold_s: float) -> Iterator[Step]:
    behaviour = scene.design.charger.behaviour if scene.design.charger is not None else None
    yield Step(
        key="hold.note",
        group="prepare",
        text="Note what it is set to, if it still tells",
        why="A reset throws it away.",
        photo=True,
    )
    yield Step(
        key="hold.button",
        group="key_in",
        text=f"Hold its button for {hold_s:g} seconds, and let go",
        why=behaviour.button
        if behaviour is not None and behaviour.button
        else "Counted, not guessed: shorter may mean something else.",
        wait_s=hold_s,
        see=tuple(behaviour.lamps[:1]) if behaviour is not None else (),
        acts=(Act("key", "reset"),),
    )
    yield _again(scene)


def _pack(scene: Scene) -> Iterator[Step]:
    """The steps of Settings, with what to see and when to stop."""
    for at, item in enumerate(climate_of(scene.ctx).waking):
        yield Step(
            key=f"wake.{at}",
            group="first_power" if at >= 3 else "prepare",
            text=item.do,
            why=f"Stop: {item.stop[:1].lower()}{item.stop[1:]}"
            if item.stop
            else "Gently, with a source that cannot give much.",
            see=(item.see,),
            wait_s=10.0 if "ten seconds" in item.do else 0.0,
            hazard=SHORT if at in (0, 3) else None,
        )
