"""One line there, one line back, over a connection that tears lines apart, runs them together, or never ends one."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress

import pytest

from olvask.instruments import wire
from olvask.instruments.wire import Silent, Wire

TICK_S = 0.05


@contextmanager
def instrument(answers: Callable[[socket.socket, str], None]) -> Iterator[int]:
    """The port of one that answers each line it is told."""
    with closing(socket.create_server(("127.0.0.1", 0))) as listening:

        def serve() -> None:
            with suppress(OSError):
                talk, _ = listening.accept()
                with talk, talk.makefile() as lines:
                    for line in lines:
                        answers(talk, line.strip())

        threading.Thread(target=serve, daemon=True).start()
        yield listening.getsockname()[1]


def test_lines_come_whole_however_they_travel() -> None:
    """A line a byte at a time, then two at once: each question gets its own."""

    def answers(talk: socket.socket, line: str) -> None:
        if line == "first?":
            for byte in b"13.8 V\n":
                talk.sendall(bytes([byte]))
                time.sleep(TICK_S / 10)
        elif line == "second?":
            talk.sendall(b"1\r\n2\n")

    with instrument(answers) as port, Wire("meter", "127.0.0.1", port) as asked:
        assert [asked.ask(line) for line in ("first?", "second?", "third?")] == ["13.8 V", "1", "2"]


def test_a_line_that_never_ends_is_given_up(monkeypatch: pytest.MonkeyPatch) -> None:
    """However busily it trickles: the whole answer has one time to come in."""
    monkeypatch.setattr(wire, "ANSWER_S", 8 * TICK_S)

    def answers(talk: socket.socket, line: str) -> None:
        while True:
            talk.sendall(b"1")
            time.sleep(TICK_S)

    with instrument(answers) as port, Wire("meter", "127.0.0.1", port) as asked:
        began = time.monotonic()
        with pytest.raises(Silent, match="stopped answering"):
            asked.ask("first?")
        assert time.monotonic() - began < 100 * TICK_S


def test_a_line_longer_than_any_is_cut() -> None:
    """A stream without an end is not kept for ever."""

    def answers(talk: socket.socket, line: str) -> None:
        talk.sendall(b"9" * (wire.LONGEST + 100))

    with instrument(answers) as port, Wire("meter", "127.0.0.1", port) as asked:
        assert len(asked.ask("first?")) == wire.LONGEST


def test_one_that_hangs_up_in_the_middle_is_told() -> None:
    """Half a reading is none."""

    def answers(talk: socket.socket, line: str) -> None:
        talk.sendall(b"13.")
        talk.shutdown(socket.SHUT_RDWR)

    with (
        instrument(answers) as port,
        Wire("meter", "127.0.0.1", port) as asked,
        pytest.raises(Silent, match="stopped answering"),
    ):
        asked.ask("first?")
