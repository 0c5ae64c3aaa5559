"""What is asked again under the same name is done once: by one after the other, by two at a time, and by nobody else's name."""

from __future__ import annotations

import re
import threading
from pathlib import Path
from typing import Any

import pytest
from flask import Flask, Response
from flask.testing import FlaskClient

from olvask.store.demo import demo_designs
from olvask.web.repeated import HEADER, KEPT_S, LONGEST, MOST, Answers
from tests.web.test_people import app, browser, joined

__all__ = ["app"]
DESIGN = demo_designs()[4][1].model_dump(mode="json")
# Each address that makes something: what is asked, and the address and name of what there is of it.
MADE: list[tuple[str, dict[str, Any], str, str]] = [
    ("/api/jobs", {"title": "Pump float", "design": None}, "/api/jobs", "jobs"),
    ("/api/jobs/5/next", {"title": "Pump float"}, "/api/jobs", "jobs"),
    ("/api/jobs/5/options", {"name": "A", "design": DESIGN}, "/api/jobs/5/options", "options"),
    ("/api/jobs/5/quotes", {"options": [{"name": "As designed", "design": DESIGN}]}, "/api/jobs/5/quotes", "quotes"),
    ("/api/instruments", {"name": "Meter", "port": 5025, "reads": ["volts"]}, "/api/instruments", "instruments"),
]


@pytest.mark.parametrize(("address", "body", "there", "what"), MADE, ids=[case[0] for case in MADE])
def test_under_one_name_one_is_made(
    client: FlaskClient, address: str, body: dict[str, Any], there: str, what: str
) -> None:
    """The second answer is the first; another name, or none, makes another."""

    def count() -> int:
        return len(client.get(there).get_json()[what])

    before = count()
    first, again = (client.post(address, json=body, headers={HEADER: "one"}) for _ in range(2))
    assert first.status_code < 300, first.get_json()
    assert (again.status_code, again.get_data(), again.mimetype) == (
        first.status_code,
        first.get_data(),
        first.mimetype,
    )
    assert count() == before + 1
    client.post(address, json=body, headers={HEADER: "two"})
    client.post(address, json=body)
    assert count() == before + 3


def test_what_is_refused_is_judged_again(client: FlaskClient) -> None:
    """A name under which nothing was made is free; one that is too long is none."""
    refused = client.post("/api/jobs", json={"title": ""}, headers={HEADER: "one"})
    assert refused.status_code == 422
    assert client.post("/api/jobs", json={"title": "Pump float"}, headers={HEADER: "one"}).status_code == 201
    long = {HEADER: "x" * (LONGEST + 1)}
    first, second = (client.post("/api/jobs", json={"title": "Pump float"}, headers=long).get_json() for _ in range(2))
    assert first["id"] != second["id"]


def test_a_name_is_ones_own(app: Flask) -> None:
    """Two people who happen on the same name, or one who has overheard it: each is given his own."""
    given = [
        joined(app, name, "owner").post("/api/jobs", json={"title": name}, headers={HEADER: "one"}).get_json()
        for name in ("Ansa Keld", "Bor Tarn")
    ]
    assert [job["title"] for job in given] == ["Ansa Keld", "Bor Tarn"]
    assert browser(app).post("/api/jobs", json={"title": "x"}, headers={HEADER: "one"}).status_code == 401


def test_who_asks_while_it_is_made_waits_for_it() -> None:
    """Four at a time: one works, and all have its answer; where it fails the next one works."""
    answers, works, go = Answers(), list[int](), threading.Event()

    def work() -> Response:
        works.append(1)
        go.wait(10)
        if len(works) == 1:
            raise OSError("the disk is full")
        return Response(f"made {len(works)}", 201)

    heard: list[str] = []

    def ask() -> None:
        try:
            heard.append(answers.of("one", work).get_data(as_text=True))
        except OSError as error:
            heard.append(str(error))

    asking = [threading.Thread(target=ask) for _ in range(4)]
    for one in asking:
        one.start()
    go.set()
    for one in asking:
        one.join(10)
    assert sorted(heard) == ["made 2", "made 2", "made 2", "the disk is full"]


def test_answers_are_let_go() -> None:
    """After an hour, and the oldest where there are too many."""
    now, made = [0.0], [0]

    def work() -> Response:
        made[0] += 1
        return Response(str(made[0]))

    answers = Answers(lambda: now[0])
    assert [answers.of("one", work).data for _ in range(2)] == [b"1", b"1"]
    now[0] = KEPT_S - 1
    assert answers.of("one", work).data == b"1"
    now[0] = KEPT_S
    assert answers.of("one", work).data == b"2"
    for number in range(MOST):
        answers.of(number, work)
    assert answers.of(MOST - 1, work).data == str(made[0]).encode()
    before = made[0]
    answers.of("one", work)
    assert made[0] == before + 1


def test_the_browser_names_what_the_server_makes_once(client: FlaskClient) -> None:
    """One list on each side, of the same addresses."""
    source = (Path(__file__).parents[2] / "frontend" / "src" / "api" / "repeated.ts").read_text(encoding="utf-8")
    names = re.compile(next(iter(re.findall(r"MAKES = /(.*)/\n", source))).replace(r"\/", "/"))
    posts = [rule for rule in client.application.url_map.iter_rules() if "POST" in (rule.methods or ())]
    once = {rule.rule for rule in posts if getattr(client.application.view_functions[rule.endpoint], "once_a_name", 0)}
    named = {rule.rule for rule in posts if names.match(re.sub(r"<[^>]*>", "1", rule.rule))}
    assert once == named
    assert {address.replace("/5/", "/<int:job_id>/") for address, *_ in MADE} < once
