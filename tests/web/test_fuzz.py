"""Whatever the served document allows, and files spoilt at random: an answer it foretells, small and soon, and no crash.

The long form is `make check-fuzz`.
"""

from __future__ import annotations

import json
import os
import random
import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, seed, settings
from schemathesis.checks import not_a_server_error
from schemathesis.core.result import Ok
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from olvask.store.demo import seed as put_demo
from olvask.web.app import Config, create_app
from olvask.web.reach import LINES
from olvask.web.spec import FILES

EXAMPLES = int(os.environ.get("OLVASK_FUZZ", "2"))  # requests of each operation
FILES_TRIED = int(os.environ.get("OLVASK_FILES", "150"))
SECONDS = float(os.environ.get("OLVASK_FUZZ_S", "0"))  # at least so long, over and over with new chance
# Looking through our own sources for words to send takes as long as all requests of the short form.
FUZZING = schemathesis.Config.from_dict({"analysis": {"constants": {"enabled": SECONDS > 0}}})
LONGEST_S, TIMES = 2.0, 3
LARGEST = 1_000_000
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
CHECKS_OF_LINES = CHECKS[:3]  # a line is described, not the lines together
# long questions, told as they go
SLOW = {"/api/tolerance", "/api/tolerance/cures", "/api/trip/run", "/api/trip", "/api/yard/work"}
SLOW |= {"/api/practice/case", "/api/practice/case/ended"}  # a vehicle is made and tried first


@pytest.fixture
def app(tmp_path: Path) -> Iterator[Any]:
    """An application with the demo jobs, made quiet about what is refused."""
    made = create_app(Config(tmp_path / "fuzz.sqlite"))
    put_demo(made.extensions["olvask.stores"])
    yield made
    made.extensions["olvask.stores"].database.close()


def asked(ask: Callable[[], Any], where: str) -> Any:
    """The first answer, held to come soon; what was late is asked again, for a machine that stood still meanwhile."""
    answers: list[Any] = []
    took: list[float] = []
    while not took or (took[-1] > LONGEST_S and len(took) < TIMES and where not in SLOW):
        began = time.perf_counter()
        answers.append(ask())
        took.append(time.perf_counter() - began)
    assert min(took) <= LONGEST_S or where in SLOW, (where, took)
    return answers[0]


def test_everything_the_document_allows(app: Any) -> None:
    """Bodies, addresses and queries drawn from the served document: answered as it says."""
    document = schemathesis.openapi.from_wsgi("/api/openapi.json", app, config=FUZZING)
    operations = [found.ok() for found in document.get_all_operations() if isinstance(found, Ok)]
    assert len(operations) > 35
    ends = time.monotonic() + SECONDS
    for round_ in range(100_000):
        for operation in operations:

            @seed(round_)
            @settings(max_examples=EXAMPLES, deadline=None, database=None, suppress_health_check=list(HealthCheck))
            @given(case=operation.as_strategy())
            def one(case: Any) -> None:
                answer = asked(case.call, case.path)
                assert len(answer.content) <= LARGEST, (case.path, len(answer.content))
                kind = answer.headers.get("content-type", [""])[0]
                case.validate_response(answer, checks=CHECKS_OF_LINES if LINES in kind else CHECKS)

            if operation.path not in FILES:  # files are spoilt below
                one()
        if time.monotonic() >= ends:
            break


def spoilt(pick: random.Random, text: bytes) -> bytes:
    """A file with a few things wrong: bytes changed, cut, doubled, swapped, or a value of another kind."""
    data = bytearray(text)
    for _ in range(pick.choice((1, 1, 2, 5, 30))):
        at = pick.randrange(len(data) or 1)
        way = pick.randrange(7)
        if way == 0 and data:
            data[at] = pick.randrange(256)
        elif way == 1:
            del data[at : at + pick.choice((1, 5, 400))]
        elif way == 2:
            data[at:at] = data[at : at + pick.choice((1, 20, 2000))]
        elif way == 3:
            data[at:at] = pick.choice((b'"', b"{", b"}", b"[", b",", b"\n", b"\0", b"\xff\xfe", b"1e999", b"=1+1"))
        elif way == 4:
            del data[at:]
        else:
            digit = next((here for here in range(at, len(data)) if 48 <= data[here] <= 57), None)
            if digit is not None:
                new = (b"-1", b"0", b"1e308", b"9" * 40, b"null", b'"x"', b"[]", b"NaN", b"0.0000001")
                data[digit : digit + 1] = pick.choice(new)
    return bytes(data)


def test_spoilt_files(client: FlaskClient) -> None:
    """Job files and shelf files damaged every way: taken or refused in a small answer, and what was there stays."""
    pick = random.Random(3)
    job = client.get("/api/jobs/4/file").data
    files = [("/api/jobs/import", job), ("/api/assess", json.dumps(json.loads(job)["design"]).encode())]
    for kind in ("chargers", "batteries", "cables"):
        for ending in ("csv", "json"):
            files.append((f"/api/shelf/{kind}/import?accept=good", client.get(f"/api/shelf/{kind}/file.{ending}").data))
    for at in range(FILES_TRIED):
        where, text = files[at % len(files)]
        spoilt_text = spoilt(pick, text)
        answer = asked(partial(client.post, where, data=spoilt_text, content_type="application/json"), where)
        assert answer.status_code < 500, (at, where, answer.get_data(as_text=True)[:300])
        assert len(answer.data) <= LARGEST, (at, where, len(answer.data))
    assert client.get("/api/jobs/4/file").data == job
