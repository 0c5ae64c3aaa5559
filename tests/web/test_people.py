"""Who may do what on a server that asks, and that none of the usual ways around it works."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from olvask.store.demo import seed
from olvask.store.faults import LOCKED, StorageFault
from olvask.store.passwords import CannotJoin
from olvask.store.people import MOST_LOCK_S, SLIPS, UNUSED, PeopleStore, SignInRefused
from olvask.store.stores import Stores
from olvask.web.app import Config, bare_app, create_app
from olvask.web.signing_in import TRIES, WITHIN_S, TooOften, Tries
from tests.seeded import seeded

PASSWORD = "three dull copper lugs"
HOST = "yard.example"


@pytest.fixture
def app(tmp_path: Path) -> Flask:
    made = create_app(Config(seeded(tmp_path / "people.sqlite"), frozenset({HOST}), sign_in=True))
    seed(made.extensions["olvask.stores"])
    return made


def stores_of(app: Flask) -> Stores:
    found = app.extensions["olvask.stores"]
    assert isinstance(found, Stores)
    return found


def browser(app: Flask) -> FlaskClient:
    return app.test_client()


def joined(app: Flask, name: str, role: str = "fitter") -> FlaskClient:
    """A browser that somebody new has signed in with."""
    client = browser(app)
    code = stores_of(app).people.invite("owner" if role == "owner" else "fitter")
    answer = client.post("/api/join", json={"code": code, "name": name, "password": PASSWORD})
    assert answer.status_code == 200, answer.text
    return client


def operations() -> list[tuple[str, str]]:
    spec = bare_app()
    with spec.app_context():
        paths: dict[str, dict[str, Any]] = json.loads(json.dumps(spec.spec))["paths"]
    return [(verb, path) for path, verbs in paths.items() for verb in verbs if verb in ("get", "post", "put", "delete")]


OPEN = {("get", "/api/health"), ("get", "/api/me"), ("post", "/api/sign-in"), ("post", "/api/join")}
OPEN |= {("post", "/api/join/look")}
OWNERS = {("put", "/api/house"), ("get", "/api/people"), ("post", "/api/people"), ("get", "/api/deeds")}
OWNERS |= {("put", "/api/people/{number}"), ("post", "/api/people/{number}/code")}
OWNERS |= {("get", "/api/customers/dossier.zip"), ("post", "/api/customers/erase")}
OWNERS |= {("post", "/api/practice/sets"), ("delete", "/api/practice/sets/{set_id}")}
OWNERS |= {("get", "/api/practice/sets/{set_id}/results.csv")}


def filled(path: str) -> str:
    for name, value in {"name": "chargers", "ending": "csv", "paper": "a4"}.items():
        path = path.replace(f"{{{name}}}", value)
    return re.sub(r"\{\w+\}", "1", path)


def test_nothing_of_the_document_answers_a_stranger(app: Flask) -> None:
    """Every operation, from the document: 401 and nothing else, whatever is sent; also the document itself."""
    client = browser(app)
    asked = [(verb, path) for verb, path in operations() if (verb, path) not in OPEN]
    assert len(asked) > 80
    for verb, path in asked:
        answer = getattr(client, verb)(filled(path), json={} if verb != "get" else None)
        assert answer.status_code == 401, (verb, path, answer.status_code)
    assert client.get("/api/openapi.json").status_code == 401
    assert client.get("/api/jobs/1/nothing").status_code in (401, 404)


def test_a_fitter_does_everything_but_what_owners_do(app: Flask) -> None:
    client = joined(app, "Ansa Keld")
    for verb, path in operations():
        answer = getattr(client, verb)(filled(path), json={} if verb != "get" else None)
        refused = answer.status_code == 403 and (answer.json or {}).get("title") == "For owners"
        assert refused == ((verb, path) in OWNERS), (verb, path, answer.status_code)
        if (client.get("/api/me").json or {})["person"] is None:  # it was among what a fitter may do
            client = joined(app, f"Ansa Keld after {verb} {path}")
    assert client.get("/api/jobs").status_code == 200


def test_on_loopback_nobody_is_asked(tmp_path: Path) -> None:
    client = create_app(Config(tmp_path / "own.sqlite")).test_client()
    answer = client.get("/api/me").json
    assert answer == {"required": False, "person": None}
    assert client.get("/api/jobs").status_code == 200
    assert client.get("/api/people").status_code == 200


def test_a_guesser_is_locked_out_and_the_lock_grows(app: Flask) -> None:
    """Five slips, then waits that double up to a quarter of an hour; not even the right password is taken meanwhile."""
    clock = [datetime(2031, 5, 1, tzinfo=UTC)]
    people = PeopleStore(stores_of(app).database, lambda: clock[0])
    people.join(people.invite("owner"), "desk", "Ansa Keld", "AK", PASSWORD)
    waits = []
    for guess in range(SLIPS + 8):
        with pytest.raises(SignInRefused) as refused:
            people.sign_in("ansa keld", f"guess number {guess}", "x")
        waits.append(refused.value.wait_s)
        if refused.value.wait_s:
            with pytest.raises(SignInRefused):
                people.sign_in("Ansa Keld", PASSWORD, "x")
            clock[0] += timedelta(seconds=refused.value.wait_s)
    assert waits[: SLIPS - 1] == [0.0] * (SLIPS - 1)
    assert waits[SLIPS - 1 :] == [min(MOST_LOCK_S, 30.0 * 2**n) for n in range(len(waits) - SLIPS + 1)]
    person, _ = people.sign_in("Ansa Keld", PASSWORD, "desk")
    assert person.initials == "AK"


def test_a_name_nobody_has_and_a_wrong_password_are_answered_alike(app: Flask) -> None:
    joined(app, "Ansa Keld")
    answers = [
        browser(app).post("/api/sign-in", json={"name": name, "password": "not the right one"})
        for name in ("Ansa Keld", "Nobody")
    ]
    assert [answer.status_code for answer in answers] == [401, 401]
    assert answers[0].json == answers[1].json
    assert all("Set-Cookie" not in answer.headers for answer in answers)


def test_an_address_that_tries_too_often_waits() -> None:
    now = [0.0]
    tries = Tries(lambda: now[0])
    for _ in range(TRIES):
        tries.count("192.0.2.7")
        now[0] += 1
    with pytest.raises(TooOften):
        tries.count("192.0.2.7")
    tries.count("192.0.2.8")
    now[0] += WITHIN_S
    tries.count("192.0.2.7")


def test_a_session_is_made_here_and_never_taken_over(app: Flask) -> None:
    """A planted token is not adopted; signing in gives another; signing out ends it wherever it was copied to."""
    client = browser(app)
    client.set_cookie("olvask_session", "planted-by-somebody")
    joined(app, "Ansa Keld")
    answer = client.post("/api/sign-in", json={"name": "Ansa Keld", "password": PASSWORD})
    cookie = answer.headers["Set-Cookie"]
    assert "planted" not in cookie
    assert all(word in cookie for word in ("HttpOnly", "SameSite=Strict", "Path=/"))
    token = cookie.split("olvask_session=")[1].split(";")[0]
    thief = browser(app)
    thief.set_cookie("olvask_session", token)
    assert thief.get("/api/jobs").status_code == 200
    client.post("/api/sign-out")
    assert thief.get("/api/jobs").status_code == 401
    assert client.get("/api/jobs").status_code == 401


def test_over_tls_the_cookie_is_for_tls_alone(app: Flask) -> None:
    joined(app, "Ansa Keld")
    answer = browser(app).post(
        "/api/sign-in", json={"name": "Ansa Keld", "password": PASSWORD}, base_url=f"https://{HOST}"
    )
    assert answer.headers["Set-Cookie"].startswith("__Host-olvask_session=")
    assert "Secure" in answer.headers["Set-Cookie"]


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "https://elsewhere.example"},
        {"Origin": "null"},
        {"Host": "elsewhere.example"},
        {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "cors"},
    ],
)
def test_another_site_cannot_use_a_session(app: Flask, headers: dict[str, str]) -> None:
    client = joined(app, "Ansa Keld", "owner")
    answer = client.put("/api/house", json={"based_on": 0, "house": {}}, headers=headers)
    assert answer.status_code == 403
    assert client.get("/api/house").status_code == 200


def test_a_code_is_good_once_and_for_a_while(app: Flask) -> None:
    clock = [datetime(2031, 5, 1, tzinfo=UTC)]
    people = PeopleStore(stores_of(app).database, lambda: clock[0])
    owner, _ = people.join(people.invite("owner"), "desk", "Ansa Keld", "AK", PASSWORD)
    code = people.code_for(owner.id)
    people.join(code, "phone")
    with pytest.raises(CannotJoin, match="used up"):
        people.join(code, "another phone")
    late = people.code_for(owner.id)
    clock[0] += timedelta(hours=1)
    with pytest.raises(CannotJoin, match="too old"):
        people.join(late, "phone")
    with pytest.raises(CannotJoin):
        people.join("made-up-by-somebody", "phone")


def test_a_code_that_failed_for_its_password_can_be_used_still(app: Flask) -> None:
    client, code = browser(app), stores_of(app).people.invite("fitter", "Bor Tarn", "BT")
    short = client.post("/api/join", json={"code": code, "password": "short"})
    assert short.status_code == 422
    assert "10 characters" in short.json["detail"] if short.json else False
    assert client.post("/api/join", json={"code": code, "password": PASSWORD}).status_code == 200


def test_whoever_leaves_is_out_at_once_and_one_owner_stays(app: Flask) -> None:
    owner, fitter = joined(app, "Ansa Keld", "owner"), joined(app, "Bor Tarn")
    numbers = {person["name"]: person["id"] for person in (owner.get("/api/people").json or {})["people"]}
    gone = owner.put(f"/api/people/{numbers['Bor Tarn']}", json={"role": "fitter", "active": False})
    assert gone.status_code == 200
    assert fitter.get("/api/jobs").status_code == 401
    alone = owner.put(f"/api/people/{numbers['Ansa Keld']}", json={"role": "fitter", "active": True})
    assert (alone.status_code, (alone.json or {})["title"]) == (422, "Not possible as it stands")


def test_a_session_unused_for_long_ends(app: Flask) -> None:
    clock = [datetime(2031, 5, 1, tzinfo=UTC)]
    people = PeopleStore(stores_of(app).database, lambda: clock[0])
    _, token = people.join(people.invite("owner"), "desk", "Ansa Keld", "AK", PASSWORD)
    for _ in range(3):
        clock[0] += UNUSED - timedelta(hours=1)
        assert people.who(token) is not None
    clock[0] += UNUSED + timedelta(hours=1)
    assert people.who(token) is None


@pytest.mark.file
def test_the_database_holds_no_password_code_or_token(app: Flask) -> None:
    stores = stores_of(app)
    code = stores.people.invite("fitter")
    _, token = stores.people.join(stores.people.invite("owner"), "desk", "Ansa Keld", "AK", PASSWORD)
    stores.database.close()
    raw = stores.database.path.read_bytes()
    assert not any(secret.encode() in raw for secret in (PASSWORD, code, token))
    assert b"$argon2id$" in raw


def test_every_change_is_noted_by_whom_and_questions_are_not(app: Flask) -> None:
    """A save, a reading, a sign-off: who did it stands with it and in the list of deeds."""
    owner, fitter = joined(app, "Ansa Keld", "owner"), joined(app, "Bor Tarn")
    job = fitter.get("/api/jobs/2").json or {}
    saved = fitter.put(
        "/api/jobs/2",
        json={"based_on": job["version"], "title": "Estate", "code": "", "customer": "", "design": job["design"]},
    )
    assert saved.status_code == 200
    entry = {"id": "entry-0001", "step": "s1", "kind": "done", "by": "XX", "at": "2031-05-01T10:00:00Z"}
    noted = fitter.post("/api/jobs/2/build", json={"entries": [entry]}).json or {}
    assert noted["steps"][0]["entries"][0]["by"] == "BT"
    assert fitter.post("/api/assess", json=job["design"]).status_code == 200
    revisions = (fitter.get("/api/jobs/2/revisions").json or {})["revisions"]
    assert revisions[0]["by"] == "Bor Tarn"
    deeds = (owner.get("/api/deeds").json or {})["deeds"]
    own = [deed["what"] for deed in deeds if deed["person"] == "Bor Tarn"]
    assert len(own) == 2
    assert own[1].startswith("Store a new revision")
    assert all(deed["job"] == 2 for deed in deeds if deed["person"] == "Bor Tarn")


def test_a_phone_joins_by_what_it_sees(app: Flask) -> None:
    owner = joined(app, "Ansa Keld", "owner")
    shown = owner.post("/api/me/code").json or {}
    assert shown["svg"].startswith("<svg")
    address, _, code = shown["address"].partition("#")
    assert address == f"http://{HOST}/join"
    phone = browser(app)
    looked = phone.post("/api/join/look", json={"code": code}).json
    assert looked == {"fresh": False, "name": "Ansa Keld", "role": "owner"}
    assert phone.post("/api/join", json={"code": code}).status_code == 200
    assert (phone.get("/api/me").json or {})["person"]["name"] == "Ansa Keld"
    devices = (owner.get("/api/people").json or {})["devices"]
    other = next(device for device in devices if not device["here"])
    assert owner.delete(f"/api/devices/{other['id']}").status_code == 200
    assert phone.get("/api/jobs").status_code == 401


def test_a_deed_that_cannot_be_noted_spoils_nothing(app: Flask, monkeypatch: pytest.MonkeyPatch) -> None:
    """The store is busy just after a save: the save stands, and is answered as one."""
    fitter = joined(app, "Bor Tarn")

    def busy(*_: object) -> None:
        raise StorageFault(LOCKED)

    monkeypatch.setattr(stores_of(app).people, "note", busy)
    made = fitter.post("/api/jobs", json={"title": "Milk float", "design": None})
    assert made.status_code == 201
    assert fitter.get(f"/api/jobs/{(made.json or {})['id']}").status_code == 200
