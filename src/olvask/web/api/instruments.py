"""Instruments of the workshop: kept, read by one key, set; the rig's vehicle cured."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.findings.listed import counted
from olvask.core.model import Design
from olvask.core.model.base import Described
from olvask.core.model.instrument import Instrument
from olvask.core.stages.prove.tests import tests_of
from olvask.instruments.reading import RIG, Unread, read_for
from olvask.instruments.wire import Wire
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import Out


class KeptInstrument(Out):
    """An instrument and its number."""

    id: int
    instrument: Instrument


class InstrumentsOut(Out):
    """Every instrument of the workshop, in the order they were added."""

    instruments: tuple[KeptInstrument, ...]


class ReadIn(Described):
    """What is to be read."""

    test: str = Field(title="Test", min_length=1, max_length=60)
    design: Design


class ReadOut(Out):
    """A reading that stood still, or did not."""

    value: float
    spread: float
    still: Annotated[bool, Field(description="whether the last readings agreed")]
    count: int
    text: str


class CalledOut(Out):
    """What an instrument calls itself."""

    name: str
    rig: Annotated[bool, Field(description="whether it is the simulated one")]


class CuredOut(Out):
    """What was wrong with the rig's vehicle."""

    words: str


def _all() -> InstrumentsOut:
    kept = stores().instruments.all()
    return InstrumentsOut(instruments=tuple(KeptInstrument(id=number, instrument=item) for number, item in kept))


@api.get("/instruments")
@api.output(InstrumentsOut)
def instruments() -> Response:
    """Every meter and supply of the workshop."""
    return answer_json(_all())


@api.post("/instruments")
@api.input(Instrument, arg_name="instrument")
@api.output(InstrumentsOut)
@once_a_name
def add_instrument(instrument: Instrument) -> Response:
    """Keep one more."""
    stores().instruments.add(instrument)
    return answer_json(_all())


@api.delete("/instruments/<int:number>")
@api.output(InstrumentsOut)
def remove_instrument(number: int) -> Response:
    """Take one out."""
    stores().instruments.remove(number)
    return answer_json(_all())


@api.post("/instruments/<int:number>/name")
@api.output(CalledOut)
def call_instrument(number: int) -> Response:
    """Ask an instrument what it is: that it is on, and its cable in."""
    kept = stores().instruments.get(number)
    with Wire(kept.name, kept.host, kept.port) as wire:
        name = wire.ask("*IDN?")
    return answer_json(CalledOut(name=name[:120], rig=name.startswith(RIG)))


@api.post("/instruments/<int:number>/read")
@api.input(ReadIn, arg_name="asked")
@api.output(ReadOut)
def read_instrument(number: int, asked: ReadIn) -> Response:
    """Read a test: function by the test, read again until it stands still."""
    kept = stores().instruments.get(number)
    test = next((item for item in tests_of(Context.of(asked.design)) if item.key == asked.test), None)
    if test is None:
        raise Unread("This design has no such test any more; reload the page.")
    found = read_for(kept, test)
    text = f"{kept.name}, {counted(found.count, 'reading')}" + ("" if found.still else ", not standing still")
    return answer_json(ReadOut(value=found.value, spread=found.spread, still=found.still, count=found.count, text=text))


@api.post("/instruments/<int:number>/cure")
@api.output(CuredOut)
def cure_rig(number: int) -> Response:
    """Tell the rig that its vehicle was mended; it says what had been wrong."""
    kept = stores().instruments.get(number)
    with Wire(kept.name, kept.host, kept.port) as wire:
        if not wire.ask("*IDN?").startswith(RIG):
            raise Unread(f"{kept.name} is no rig: what was wrong is mended by hand.")
        wire.tell("VEH:CURE")
        return answer_json(CuredOut(words=wire.ask("VEH:FAUL?").strip('"')[:200]))


class MendIn(Described):
    """What was done to a vehicle of practice."""

    what: str = Field(title="What", min_length=1, max_length=60)


@api.post("/instruments/<int:number>/mend")
@api.input(MendIn, arg_name="asked")
@api.output({}, status_code=204)
def mend_rig(number: int, asked: MendIn) -> Response:
    """Tell the rig what was done to its vehicle; whether it was that shows only when it is measured again."""
    kept = stores().instruments.get(number)
    with Wire(kept.name, kept.host, kept.port) as wire:
        if not wire.ask("*IDN?").startswith(RIG):
            raise Unread(f"{kept.name} is no rig: what was wrong is mended by hand.")
        wire.tell(f'VEH:MEND "{asked.what}"')
        wire.ask("*OPC?")
    return Response(status=204)
