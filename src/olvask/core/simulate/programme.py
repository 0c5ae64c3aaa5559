"""Day programmes: what the vehicle does, one line a stretch, as text a person writes.

    begin start 90 % auxiliary 50 % ambient 20 °C
    off 10 min
    crank 2 s
    idle 5 min load 4 A
    repeat 6
      cruise 8 min
      low 60 s
    end
    off 1 h ignition on
    off 8 h sun 80 W

- `read_programme`: text to a programme, every error with its line.
- `write_programme`: back to text.
- `LIBRARY`: programmes to begin with.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final, Literal, get_args

from olvask.core.model.unclear import THOUSAND

Engine = Literal["off", "crank", "idle", "cruise", "low"]
UNIT_S = {"s": 1.0, "min": 60.0, "h": 3600.0, "d": 86400.0}
LONGEST_S: Final = 60 * 86400.0
WARM_DAY_C: Final = 30.0
COLDEST_C, WARMEST_C = -50.0, 60.0
MOST_STRETCHES: Final = 5000
MODIFIER = re.compile(
    r"(?P<load>load\s+(?P<load_a>[\d.,]+)\s*A)|(?P<sun>sun\s+(?P<sun_w>[\d.,]+)\s*W(?:\s+on\s+(?P<side>start|auxiliary))?)|"
    r"(?P<ignition>ignition\s+(?P<key>on|off))|(?P<unplugged>unplugged)|(?P<remote>remote\s+lost)|"
    r"(?P<ambient>ambient\s+(?P<celsius>-?[\d.,]+)\s*°?\s*C)"
)
DURATION = re.compile(r"([\d.,]+)\s*(s|min|h|d)(?![a-z])\s*")
STRETCH = re.compile(r"^(?P<engine>[a-z]+)\s+(?P<time>(?:[\d.,]+\s*(?:s|min|h|d)(?![a-z])\s*)+)(?P<rest>.*)$")
BEGIN = re.compile(
    r"^begin(?:\s+start\s+(?P<start>[\d.,]+)\s*%)?(?:\s+auxiliary\s+(?P<auxiliary>[\d.,]+)\s*%)?(?:\s+ambient\s+(?P<ambient>-?[\d.,]+)\s*°?\s*C)?$"
)


@dataclass(frozen=True, slots=True)
class Stretch:
    """One stretch of a day in which nothing but the unit changes anything.

    Attributes:
        engine: what the engine does.
        duration_s: how long [s].
        ignition: terminal 15 live; follows the engine unless said.
        load_a: on the auxiliary battery [A].
        sun_auxiliary_w: a panel's power on the auxiliary side [W].
        sun_start_w: a panel's power on the start battery [W].
        plugged: false with the trailer's plug out.
        remote: false with the remote's wire lost.
        ambient_c: air [°C]; `None` for the programme's.
    """

    engine: Engine
    duration_s: float
    ignition: bool
    load_a: float = 0.0
    sun_auxiliary_w: float = 0.0
    sun_start_w: float = 0.0
    plugged: bool = True
    remote: bool = True
    ambient_c: float | None = None

    @property
    def running(self) -> bool:
        """Whether the alternator turns."""
        return self.engine in ("idle", "cruise", "low")


@dataclass(frozen=True, slots=True)
class Programme:
    """A day: states of charge to begin with, the air, and its stretches in order.

    Attributes:
        stretches: in order.
        start_charge: of the start battery, 0 to 1.
        auxiliary_charge: of the auxiliary battery, 0 to 1.
        ambient_c: air [°C]; 30 is the warm day a design is made for, and leaves its own temperatures as they are.
    """

    stretches: tuple[Stretch, ...]
    start_charge: float = 0.9
    auxiliary_charge: float = 0.5
    ambient_c: float = WARM_DAY_C

    @property
    def duration_s(self) -> float:
        """How long it is [s]."""
        return sum(stretch.duration_s for stretch in self.stretches)


@dataclass(frozen=True, slots=True)
class LineError:
    """What is wrong with a line, and the remedy."""

    line: int
    message: str


class BadProgramme(ValueError):
    """The text is no programme; `errors` says why, line by line."""

    def __init__(self, errors: Sequence[LineError]) -> None:
        super().__init__("; ".join(f"line {item.line}: {item.message}" for item in errors))
        self.errors = tuple(errors)


class _Unclear(ValueError):
    """A number that may mean more than one, or none."""


def _number(text: str) -> float:
    """A number with a point or a comma.

    Raises:
        _Unclear: it is none, or may be a thousand as well as one and a bit.
    """
    if THOUSAND.fullmatch(text):
        raise _Unclear(f"{text} may mean {text.replace(',', '')} or {text.replace(',', '.')}; write one of them")
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise _Unclear(f"{text!r} is not a number; write such as 5 or 2.5") from None


def _seconds(text: str) -> float:
    """Durations that add up, as "7 h 30 min" [s].

    Raises:
        _Unclear: a number in it is none, or a unit comes twice or after a smaller one.
    """
    parts = DURATION.findall(text)
    sizes = [UNIT_S[unit] for _, unit in parts]
    if any(after >= before for before, after in pairwise(sizes)):
        raise _Unclear(f"{text.strip()!r} does not add up; write larger units first, such as 7 h 30 min")
    return sum(_number(amount) * UNIT_S[unit] for amount, unit in parts)


class _Reader:
    """Reads line by line; errors are gathered, not thrown."""

    def __init__(self) -> None:
        self.stretches: list[Stretch] = []
        self.errors: list[LineError] = []
        self.open: list[tuple[int, int, list[Stretch]]] = []  # line, times, what stood before
        self.start_charge, self.auxiliary_charge, self.ambient_c = 0.9, 0.5, WARM_DAY_C

    def wrong(self, line: int, message: str) -> None:
        self.errors.append(LineError(line, message))

    def take(self, line: int, text: str) -> None:
        if text == "end":
            self._end(line)
        elif text.startswith("repeat"):
            self._repeat(line, text)
        elif text.startswith("begin"):
            self._begin(line, text)
        else:
            self._stretch(line, text)

    def _end(self, line: int) -> None:
        if not self.open:
            self.wrong(line, "end without a repeat before it; take it out")
            return
        _, times, before = self.open.pop()
        if len(before) + times * len(self.stretches) > MOST_STRETCHES:
            self.wrong(line, f"more than {MOST_STRETCHES} stretches; repeat fewer times")
            self.stretches = before
            return
        self.stretches = before + self.stretches * times

    def _repeat(self, line: int, text: str) -> None:
        found = re.fullmatch(r"repeat\s+(\d{1,4})", text)
        times = int(found[1]) if found else 1
        if found is None or times < 1:
            self.wrong(line, "say how often, such as repeat 6")
        self.open.append((line, max(1, times), self.stretches))
        self.stretches = []

    def _begin(self, line: int, text: str) -> None:
        found = BEGIN.fullmatch(text)
        charges = [_number(found[key]) / 100 for key in ("start", "auxiliary") if found[key]] if found else []
        bare = found is None or not any(found.groups())
        if found is None or bare or any(not 0 <= value <= 1 for value in charges):
            self.wrong(line, "write what it begins with as: begin start 90 % auxiliary 50 % ambient 20 °C")
            return
        if self.stretches or self.open:
            self.wrong(line, "begin stands before the first stretch; move it up")
        self.start_charge = _number(found["start"]) / 100 if found["start"] else self.start_charge
        self.auxiliary_charge = _number(found["auxiliary"]) / 100 if found["auxiliary"] else self.auxiliary_charge
        if found["ambient"]:
            self.ambient_c = self._air(line, found["ambient"])

    def _air(self, line: int, text: str) -> float:
        celsius = _number(text)
        if not COLDEST_C <= celsius <= WARMEST_C:
            self.wrong(line, f"the air lies between {COLDEST_C:g} and {WARMEST_C:g} °C")
        return celsius

    def _stretch(self, line: int, text: str) -> None:
        found = STRETCH.fullmatch(text)
        engines = get_args(Engine)
        if found is None:
            self.wrong(
                line, f"not understood: {text[:40]!r}; write such as idle 5 min, with one of {', '.join(engines)}"
            )
            return
        engine = next((item for item in engines if item == found["engine"]), None)
        if engine is None:
            self.wrong(line, f"{found['engine']!r} is nothing a vehicle does here; use {', '.join(engines)}")
            return
        try:
            duration_s = _seconds(found["time"])
        except _Unclear as error:
            self.wrong(line, str(error))
            return
        if not 0 < duration_s <= LONGEST_S:
            self.wrong(line, "a stretch lasts above 0 s and up to 60 days")
            return
        stretch = Stretch(engine, duration_s, ignition=engine != "off")
        changed = self._modified(line, stretch, found["rest"].strip())
        if changed is not None:
            self.stretches.append(changed)

    def _modified(self, line: int, stretch: Stretch, rest: str) -> Stretch | None:
        at = 0
        while at < len(rest):
            found = MODIFIER.match(rest, at)
            if found is None:
                self.wrong(
                    line,
                    f"not understood: {rest[at : at + 30]!r}; a stretch may have load 4 A, sun 80 W (on start), ignition on, "
                    "unplugged, remote lost, ambient -5 °C",
                )
                return None
            if found["load"]:
                stretch = replace(stretch, load_a=_number(found["load_a"]))
            elif found["sun"] and found["side"] == "start":
                stretch = replace(stretch, sun_start_w=_number(found["sun_w"]))
            elif found["sun"]:
                stretch = replace(stretch, sun_auxiliary_w=_number(found["sun_w"]))
            elif found["ignition"]:
                stretch = replace(stretch, ignition=found["key"] == "on")
            elif found["ambient"]:
                stretch = replace(stretch, ambient_c=self._air(line, found["celsius"]))
            elif found["unplugged"]:
                stretch = replace(stretch, plugged=False)
            else:
                stretch = replace(stretch, remote=False)
            at = found.end()
            while at < len(rest) and rest[at] in " ,":
                at += 1
        return stretch


def read_programme(text: str) -> Programme:
    """Read a programme from its text form.

    Args:
        text: one stretch a line; `#` begins a remark.

    Raises:
        BadProgramme: some lines cannot be understood; all are listed.
    """
    reader = _Reader()
    for line, raw in enumerate(text.splitlines(), start=1):
        words = raw.split("#", 1)[0].strip()
        if not words:
            continue
        try:
            reader.take(line, words)
        except _Unclear as error:
            reader.wrong(line, str(error))
    for line, _, _ in reader.open:
        reader.wrong(line, "this repeat has no end; add a line that says end")
    if not reader.stretches and not reader.errors:
        reader.wrong(1, "the programme is empty; write such as idle 5 min")
    if reader.errors:
        raise BadProgramme(sorted(reader.errors, key=lambda item: item.line))
    return Programme(tuple(reader.stretches), reader.start_charge, reader.auxiliary_charge, reader.ambient_c)


def _time(seconds: float) -> str:
    for unit, size in (("h", 3600.0), ("min", 60.0)):
        if seconds >= size and seconds % size == 0:
            return f"{seconds / size:g} {unit}"
    return f"{seconds:g} s"


def write_programme(programme: Programme) -> str:
    """Write a programme as text that reads back the same; repeats come out written in full."""
    lines = [f"begin start {programme.start_charge * 100:g} % auxiliary {programme.auxiliary_charge * 100:g} %"]
    if programme.ambient_c != WARM_DAY_C:
        lines[0] += f" ambient {programme.ambient_c:g} °C"
    for stretch in programme.stretches:
        words = [stretch.engine, _time(stretch.duration_s)]
        if stretch.load_a:
            words.append(f"load {stretch.load_a:g} A")
        if stretch.sun_auxiliary_w:
            words.append(f"sun {stretch.sun_auxiliary_w:g} W on auxiliary")
        if stretch.sun_start_w:
            words.append(f"sun {stretch.sun_start_w:g} W on start")
        if stretch.ignition != (stretch.engine != "off"):
            words.append(f"ignition {'on' if stretch.ignition else 'off'}")
        if not stretch.plugged:
            words.append("unplugged")
        if not stretch.remote:
            words.append("remote lost")
        if stretch.ambient_c is not None:
            words.append(f"ambient {stretch.ambient_c:g} °C")
        lines.append(" ".join(words))
    return "\n".join(lines) + "\n"


LIBRARY = {
    "ten minutes": "off 1 min\ncrank 2 s\nidle 2 min\ncruise 3 min\nlow 60 s\ncruise 58 s\noff 2 min\n",
    "commute": "off 7 h\ncrank 2 s\nidle 3 min\ncruise 35 min\noff 9 h\ncrank 2 s\nidle 2 min\ncruise 40 min\noff 6 h\n",
    "delivery round": "off 6 h\nrepeat 24\n  crank 2 s\n  idle 2 min\n  cruise 9 min\n  off 8 min\nend\noff 10 h\n",
    "motorway": "off 5 h\ncrank 2 s\nidle 2 min\nrepeat 8\n  cruise 20 min\n  low 90 s\nend\noff 15 h\n",
    "town, stop-start": "crank 2 s\nidle 1 min\nrepeat 20\n  cruise 90 s\n  off 40 s ignition on\n  crank 1 s\nend\noff 1 h\n",
    "cold morning": "begin start 80 % auxiliary 40 % ambient -10 °C\noff 8 h load 1 A\ncrank 4 s\nidle 5 min\ncruise 45 min\noff 3 h\n",
    "sunny weekend": "repeat 2\n  off 9 h\n  off 6 h sun 80 W\n  off 9 h load 2 A\nend\ncrank 2 s\ncruise 30 min\noff 1 h\n",
    "ferry queue": "crank 2 s\ncruise 40 min\nrepeat 10\n  off 12 min ignition on\n  crank 2 s\n  idle 3 min\nend\noff 4 h\n",
    "workshop idle": "off 1 h\ncrank 2 s\nidle 3 h\noff 4 h\n",
    "three weeks standing": "crank 2 s\ncruise 1 h\noff 21 d\ncrank 3 s\nidle 10 min\n",
}
