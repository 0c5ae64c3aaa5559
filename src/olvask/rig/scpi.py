"""Commands of SCPI-1999 and IEEE 488.2 over a socket: headers in long or short form, answers and the error queue.

- `Commands`: a device's table of commands; `answer` takes one line.
- `Quoted`, `number_of`: what stands behind a header.
"""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Callable

OVERLOAD = 9.9e37  # what SCPI-1999 gives for a reading beyond the range
UNDEFINED, DATA_OUT, MISSING = (-113, "Undefined header"), (-222, "Data out of range"), (-109, "Missing parameter")
NO_ERROR = '0,"No error"'
Handler = Callable[[str], str | None]


class Refused(Exception):
    """A command that cannot be done, with its number and words for the error queue."""

    def __init__(self, number: int, words: str) -> None:
        super().__init__(words)
        self.number, self.words = number, words


def pattern_of(header: str) -> re.Pattern[str]:
    """What a header matches: each word long or short, what stands in brackets or not, in any case.

    Args:
        header: as manuals write it, such as `MEASure:VOLTage[:DC]?`; capitals are the short form.
    """

    def word(found: re.Match[str]) -> str:
        text = found.group()
        short = "".join(letter for letter in text if letter.isupper() or letter.isdigit())
        rest = text[len(short) :]
        return f"{short}(?:{rest})?" if rest else short

    plain = header.removesuffix("?")
    wanted = plain.replace("[", "(?:").replace("]", ")?").replace("*", r"\*")
    wanted = re.sub(r"[A-Z][A-Za-z0-9]*", word, wanted)
    return re.compile(wanted + (r"\?" if header.endswith("?") else "") + "$", re.IGNORECASE)


def number_of(text: str) -> float:
    """A number behind a header.

    Raises:
        Refused: there is none.
    """
    try:
        return float(text.split(",")[0])
    except ValueError:
        raise Refused(*MISSING) from None


def switch_of(text: str) -> bool:
    """ON or OFF, 1 or 0.

    Raises:
        Refused: it is neither.
    """
    word = text.strip().upper()
    if word not in ("ON", "OFF", "1", "0"):
        raise Refused(*DATA_OUT)
    return word in ("ON", "1")


def quoted(text: str) -> str:
    """A string behind a header, without its quotes."""
    return text.strip().strip("\"'")


class Commands:
    """One device's commands, tried in order; what no command is goes to its error queue."""

    def __init__(self, name: str) -> None:
        """Begin with the common commands.

        Args:
            name: what it answers to `*IDN?`.
        """
        self.errors: deque[str] = deque(maxlen=20)
        self._table: list[tuple[re.Pattern[str], Handler]] = []
        self.add("*IDN?", lambda _: name)
        self.add("*CLS", lambda _: self.errors.clear())
        self.add("*OPC?", lambda _: "1")
        self.add("*RST", lambda _: None)
        self.add("SYSTem:ERRor[:NEXT]?", lambda _: self.errors.popleft() if self.errors else NO_ERROR)

    def add(self, header: str, handler: Handler) -> None:
        """Take a command; a later one of the same header wins.

        Args:
            header: as manuals write it.
            handler: what is done with what stands behind it; returns the answer of a question.
        """
        self._table.insert(0, (pattern_of(header), handler))

    def answer(self, line: str) -> str | None:
        """Do what a line says; several commands stand apart by semicolons.

        Args:
            line: without its end.

        Returns:
            What is answered; `None` for nothing.
        """
        told = [found for part in line.split(";") if part.strip() and (found := self._one(part.strip())) is not None]
        return ";".join(told) if told else None

    def _one(self, part: str) -> str | None:
        header, _, rest = part.partition(" ")
        header = header.lstrip(":")
        for pattern, handler in self._table:
            if pattern.match(header):
                try:
                    return handler(rest.strip())
                except Refused as error:
                    self.errors.append(f'{error.number},"{error.words}"')
                    return None
        self.errors.append(f'{UNDEFINED[0]},"{UNDEFINED[1]}: {header}"')
        return None
