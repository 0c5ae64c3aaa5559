"""A case of practice on the rig: found by readings of the rig's own meter, mended there by its name."""

from __future__ import annotations

import pytest

from olvask.core.model.instrument import Instrument
from olvask.core.practice.bench import Move, Standing
from olvask.core.practice.case import Level, drawn
from olvask.core.practice.course import advised, case_of
from olvask.core.stages.prove.prove_test import ProveTest
from olvask.instruments.reading import read_for, reads
from olvask.instruments.wire import Wire
from olvask.rig.choosing import NotThere, case_on_rig
from olvask.rig.faults import FAULTS
from olvask.rig.serving import Rig


def first(level: Level, key: str) -> int:
    """The first case of a level with a fault."""
    for number in range(1, 400):
        case = drawn(level, number)
        if case is not None and case.hidden[0].fault.key == key and case_of(level, number)[0].draw == 0:
            return number
    raise AssertionError("none was met")


def measured(rig: Rig, test: ProveTest) -> float:
    """By the rig's meter over its socket; a look is answered by looking, what no meter shows is read off."""
    meter = Instrument(name="Rig", host="127.0.0.1", port=rig.ports[0], reads=("volts", "amps", "ohms", "celsius"))
    if reads(meter, test):
        return read_for(meter, test, pause=lambda _: None).value
    found = rig.vehicle.read(rig.vehicle.prepare(test.key))
    return float(int(found)) if test.answers else found


@pytest.mark.parametrize(("level", "key"), [(2, "joint.supply_back"), (1, "open.delivery_device")])
def test_a_case_is_solved_on_the_rig(level: Level, key: str) -> None:
    """Readings come from the rig's meter over its socket; the cure named mends it, another name does not."""
    number = first(level, key)
    case, _ = case_of(level, number)
    design, fault = case_on_rig(f"{level}-{number}")
    assert design == case.vehicle.design
    assert fault.key == key
    rig = Rig(design, fault, speed=3600.0, hidden=True)
    standing = Standing(case)
    try:
        with Wire("rig", "127.0.0.1", rig.ports[0]) as wire:
            for _ in range(20):
                move = advised(standing).step
                if move.kind == "measure":
                    move = Move("measure", move.what, measured(rig, standing.tests[move.what]))
                if move.kind == "mend":
                    wire.tell('VEH:MEND "another_unit"')
                    assert wire.ask("*OPC?") == "1"
                    assert rig.vehicle.fault.key == key
                    wire.tell(f'VEH:MEND "{move.what}"')
                    wire.ask("*OPC?")
                standing.do(move)
                if standing.over or key in standing.mended:
                    break
            assert key in standing.mended
            assert rig.vehicle.fault.key == ""
            assert wire.ask("VEH:FAUL?").strip('"') == fault.words
    finally:
        rig.close()


def test_what_the_rig_cannot_have_is_said() -> None:
    """A case of two faults, a number that is none, a fault the rig does not know: each in a sentence."""
    for name in ("5-1", "moon", "2-0"):
        with pytest.raises(NotThere, match="level from 1 to 4"):
            case_on_rig(name)
    number = next(at for at in range(1, 200) if case_of(2, at)[0].hidden[0].fault.key not in FAULTS)
    with pytest.raises(NotThere, match="another number"):
        case_on_rig(f"2-{number}")
