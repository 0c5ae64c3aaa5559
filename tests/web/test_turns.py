"""Short answers are worked out one after another, in the order in which they were asked for."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

import pytest
from flask.testing import FlaskClient

from olvask.store.demo import demo_designs
from olvask.turns import Turns

JSON = {"Content-Type": "application/json"}
BODY = demo_designs()[0][1].model_dump_json()


def until(holds: Callable[[], bool]) -> None:
    """Wait until something holds, half a minute at most."""
    deadline = time.monotonic() + 30
    while not holds():
        assert time.monotonic() < deadline
        time.sleep(0.002)


def test_whoever_came_first_goes_first() -> None:
    """Eight come one after another while it is taken, a ninth as it is handed on: they go in that order, one at a time."""
    turns, went = Turns(), []
    within = threading.Semaphore(1)
    hold = threading.Event()

    def comes(name: int) -> None:
        with turns:
            assert within.acquire(blocking=False), "two at once"
            went.append(name)
            if name == 0:
                hold.wait(30)
            within.release()

    asked = []
    for name in range(9):
        asked.append(threading.Thread(target=comes, args=(name,), daemon=True))
        asked[-1].start()
        until(lambda name=name: went == [0] and turns.waiting == name)  # type: ignore[misc]
    hold.set()
    comes(9)
    for one in asked:
        one.join(30)
    assert went == list(range(10))
    assert turns.waiting == 0


def test_patience_lasts_as_long_as_others_come_to_an_end() -> None:
    """Six who each take two thirds of it are waited for; one who takes for ever is not."""
    patient = Turns(patience_s=0.6)

    def takes() -> None:
        with patient:
            time.sleep(0.4)

    ahead = [threading.Thread(target=takes, daemon=True) for _ in range(6)]
    for one in ahead:
        one.start()
    until(lambda: patient.waiting == 5)
    with patient:
        pass
    for one in ahead:
        one.join(30)
    told: list[str] = []

    def waits() -> None:
        try:
            with patient:
                told.append("went")
        except TimeoutError:
            told.append("gave up")

    with patient:
        waiting = threading.Thread(target=waits, daemon=True)
        waiting.start()
        waiting.join(30)
        assert told == ["gave up"]
    waits()
    assert told == ["gave up", "went"]


def test_what_fails_hands_on_too() -> None:
    """An exception in one turn leaves the next one free."""
    turns = Turns()
    with pytest.raises(ZeroDivisionError), turns:
        raise ZeroDivisionError
    with turns:
        pass


@pytest.mark.parametrize(
    ("verb", "path", "body", "waits"),
    [
        ("POST", "/api/assess", BODY, True),
        ("POST", "/api/figures", BODY, True),
        ("POST", "/api/assess", "x" * 300_000, False),
        ("GET", "/api/health", None, False),
        ("GET", "/api/jobs", None, False),
    ],
)
def test_only_what_is_short_for_certain_waits(
    client: FlaskClient, verb: str, path: str, body: str | None, waits: bool
) -> None:
    """While a turn is taken, an assessment waits for it; what asks the store, or is of absurd size, does not."""
    turns: Turns = client.application.extensions["olvask.turns"]
    answered: list[int] = []

    def ask() -> None:
        answered.append(client.application.test_client().open(path, method=verb, data=body, headers=JSON).status_code)

    with turns:
        asking = threading.Thread(target=ask, daemon=True)
        asking.start()
        until(lambda: bool(answered) or turns.waiting > 0)
        assert bool(answered) is not waits
    asking.join(30)
    assert answered == [422 if body is not None and body.startswith("x") else 200]
