"""Signing off: a stop forbids it, cautions are accepted one by one, a signed revision stays, and its paper bears its checksum."""

from __future__ import annotations

import hashlib
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.papers import words_of

JOB = 5


def wanted(client: FlaskClient, job: int = JOB) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/jobs/{job}/signing").get_json()
    return found


def sign(client: FlaskClient, job: int = JOB, **more: Any) -> Any:
    asked = wanted(client, job)
    body = {"version": asked["version"], "by": "E. Kestrel", "meter": "Bench meter 2"}
    body["accepted"] = [item["id"] for item in asked["wanted"]]
    return client.post(f"/api/jobs/{job}/sign", json=body | more)


def text_of(client: FlaskClient, path: str) -> str:
    answer = client.get(path)
    assert answer.status_code == 200
    return words_of(answer.data)


def save(client: FlaskClient, length_m: float) -> int:
    job = client.get(f"/api/jobs/{JOB}").get_json()
    job["design"]["supply"]["pieces"][1]["length_m"] = length_m
    head = {key: job[key] for key in ("title", "code", "customer", "design")}
    answer = client.put(f"/api/jobs/{JOB}", json=head | {"based_on": job["version"]})
    assert answer.status_code == 200
    version: int = answer.get_json()["version"]
    return version


def test_a_signed_revision_stays_and_its_paper_matches(client: FlaskClient) -> None:
    """Number, name, what was accepted; the checksum is that of the job file; a later save begins a draft that says what changed."""
    assert "draft" in text_of(client, f"/api/jobs/{JOB}/report.pdf").casefold()
    made = sign(client)
    assert made.status_code == 200, made.get_json()
    signature = made.get_json()
    exported = client.get(f"/api/jobs/{JOB}/file").data
    assert signature["checksum"] == hashlib.sha256(exported).hexdigest()
    before = text_of(client, f"/api/jobs/{JOB}/report.pdf")
    assert signature["checksum"][:8] in before
    assert "Signed off, no. 1, by E. Kestrel" in before
    assert "Near plastic or cloth" in before
    stood = client.get(f"/api/jobs/{JOB}/revisions/{signature['version']}").get_json()["design"]
    later = save(client, 5.6)
    assert later == signature["version"] + 1
    assert client.get(f"/api/jobs/{JOB}/revisions/{signature['version']}").get_json()["design"] == stood
    now = text_of(client, f"/api/jobs/{JOB}/report.pdf")
    assert "Draft: this revision is not signed off" in now
    assert "One-way length: 4.9 m → 5.6 m" in now
    old = text_of(client, f"/api/jobs/{JOB}/revisions/{signature['version']}/report.pdf")
    assert signature["checksum"][:8] in old
    assert wanted(client)["signatures"][0] == signature


def proven_by(client: FlaskClient, step: str, kind: str, at: str, **more: Any) -> None:
    entry = {
        "id": f"entry-{abs(hash((step, at, kind)))}",
        "procedure": "Prove",
        "step": step,
        "kind": kind,
        "by": "E.K.",
        "at": at,
    } | more
    assert client.post(f"/api/jobs/{JOB}/build", json={"entries": [entry]}).status_code == 200


def test_what_is_noted_later_does_not_change_a_signed_paper(client: FlaskClient) -> None:
    """Years on a fault is mended, the vehicle comes back, another reads other volts: the signed report says what it said."""
    proven_by(client, "posts_v", "reading", "2026-01-05T10:00:00+00:00", value=13.75, unit="V")
    version = sign(client).get_json()["version"]
    path = f"/api/jobs/{JOB}/revisions/{version}/report.pdf"
    before = text_of(client, path)
    later = f"{datetime.now(UTC).year + 2}-03-01T10:0"
    proven_by(client, "cure", "note", f"{later}0:00+00:00", text="Mended: a joint")
    proven_by(client, "visit", "done", f"{later}1:00+00:00")
    proven_by(client, "posts_v", "reading", f"{later}2:00+00:00", value=12.11, unit="V")
    assert text_of(client, path) == before
    save(client, 5.6)
    assert "12.11" in text_of(client, f"/api/jobs/{JOB}/report.pdf")


def test_what_comes_in_late_does_not_change_a_signed_paper(client: FlaskClient) -> None:
    """A phone out of reach read and ticked an hour before it was signed, and tells of it after."""
    number = sign(client).get_json()["number"]
    path = f"/api/jobs/{JOB}/signatures/{number}/report.pdf"
    before = text_of(client, path)
    earlier = (datetime.now(UTC) - timedelta(hours=1)).isoformat(timespec="seconds")
    proven_by(client, "posts_v", "reading", earlier, value=12.11, unit="V")
    step = client.get(f"/api/jobs/{JOB}/build/left").get_json()["steps"][0]
    proven_by(client, step["step"], "done", earlier, procedure="Build")
    assert text_of(client, path) == before
    assert client.get(f"/api/jobs/{JOB}/signatures/{number + 1}/report.pdf").status_code == 404


@pytest.mark.parametrize(
    ("step", "kind", "text", "said"),
    [("visit", "done", "", "the vehicle came back"), ("cure", "note", "Lug crimped anew.", "mended: Lug crimped anew")],
)
def test_a_vehicle_that_comes_back_is_signed_again(
    client: FlaskClient, step: str, kind: str, text: str, said: str
) -> None:
    """Its design is as it was, yet what was signed vouches for it no longer; either paper stays as it was signed."""
    first = sign(client).get_json()
    assert sign(client).status_code == 409
    assert row(client)["signed"]
    assert wanted(client)["since"] == []
    before = text_of(client, f"/api/jobs/{JOB}/signatures/1/report.pdf")
    today = datetime.now(UTC).isoformat()
    proven_by(client, step, kind, today, text=text)
    assert wanted(client)["since"] == [said]
    assert not row(client)["signed"]
    assert row(client)["next_action"] != "Signed off"
    proven_by(client, "posts_v", "reading", "2026-01-05T10:00:00+00:00", value=13.75, unit="V")
    for left in client.get(f"/api/jobs/{JOB}/build/left").get_json()["steps"]:
        proven_by(client, left["step"], "done", today, procedure="Build")
    assert row(client)["next_action"] == "Prove it again: nothing has been read since"
    assert not client.get(f"/api/jobs/{JOB}/how-far").get_json()["signed"]
    draft = text_of(client, f"/api/jobs/{JOB}/report.pdf")
    assert "Draft: this revision is not signed off" in draft
    assert f"Changed since version {first['version']}, signed by {first['by']}: {said}." in draft
    assert "draft" in text_of(client, f"/api/jobs/{JOB}/customer.pdf")

    again = sign(client).get_json()
    assert (again["number"], again["version"]) == (2, first["version"])
    assert row(client)["signed"]
    assert sign(client).status_code == 409
    now = text_of(client, f"/api/jobs/{JOB}/report.pdf")
    assert "Signed off, no. 2" in now
    assert said in now
    assert text_of(client, f"/api/jobs/{JOB}/signatures/1/report.pdf") == before


def test_a_visit_taken_back_leaves_what_was_signed(client: FlaskClient) -> None:
    sign(client)
    proven_by(client, "visit", "done", datetime.now(UTC).isoformat())
    assert not row(client)["signed"]
    proven_by(client, "visit", "open", (datetime.now(UTC) + timedelta(seconds=5)).isoformat())
    assert row(client)["signed"]
    assert sign(client).status_code == 409


def row(client: FlaskClient, job: int = JOB) -> dict[str, Any]:
    found: dict[str, Any] = next(item for item in client.get("/api/jobs").get_json()["jobs"] if item["id"] == job)
    return found


def test_the_yard_knows_what_is_signed(client: FlaskClient) -> None:
    """Nothing is next once it is signed, whatever was accepted with it; a later save is work again."""
    before = row(client)
    assert not before["signed"]
    assert before["next_action"].startswith("The battery guard")
    assert sign(client).status_code == 200
    assert row(client)["signed"]
    assert row(client)["next_action"] == "Signed off"
    save(client, 5.6)
    assert not row(client)["signed"]


def test_what_is_sound_is_keyed_then_built(client: FlaskClient) -> None:
    """Next of a design that nothing stands against: its settings, as many lines as nobody has ticked; then the work."""
    job = client.get("/api/jobs/2").get_json()
    sheet = client.post("/api/settings/sheet", json={"device": "", "design": job["design"]}).get_json()["sheet"]
    assert row(client, 2)["next_stage"] == "Settings"
    assert row(client, 2)["next_action"] == f"Key {len(sheet['lines'])} lines into Dunlin"
    head = {key: job[key] for key in ("title", "code", "customer")}
    ticked = [{"line": line["key"], "keyed": True} for line in sheet["lines"]]
    for keyed, stage, action in ((ticked[1:], "Settings", "Key 1 line into Dunlin"), (ticked, "Build", "Build it")):
        newest = client.get("/api/jobs/2").get_json()["version"]
        body = head | {"design": job["design"] | {"keyed": keyed}, "based_on": newest}
        assert client.put("/api/jobs/2", json=body).status_code == 200
        assert row(client, 2)["next_stage"] == stage
        assert row(client, 2)["next_action"].startswith(action)


def noted(at: int, **more: Any) -> dict[str, Any]:
    entry = {"id": f"entry-{at:04}", "at": f"2031-05-01T10:{at:02}:00Z", "by": "E.K.", "procedure": "Build"}
    return entry | more


def test_the_yard_and_the_job_say_the_same_is_next(client: FlaskClient) -> None:
    """Once work is begun it is the next step, whatever cautions stand; a wrong reading; what is signed is done."""
    assert not client.get(f"/api/jobs/{JOB}/how-far").get_json()["signed"]
    steps = [
        (noted(1, step="own.first", kind="done"), "build", "Step 1 of "),
        (
            noted(2, step="rest.start", kind="reading", procedure="Prove", value=2.0),
            "prove",
            "Volts of the start battery",
        ),
    ]
    for entry, stage, action in steps:
        if stage == "build":
            work = client.post(
                "/api/build/procedure", json=client.get(f"/api/jobs/{JOB}").get_json()["design"]
            ).get_json()
            entry["step"] = work["procedure"]["steps"][-1]["step"]["key"]
        assert client.post(f"/api/jobs/{JOB}/build", json={"entries": [entry]}).status_code == 200
        far = client.get(f"/api/jobs/{JOB}/how-far").get_json()
        assert (far["next_stage"], row(client)["next_stage"].lower()) == (stage, stage)
        assert far["next_action"].startswith(action)
        assert row(client)["next_action"] == far["next_action"]
    assert (far["build"]["done"], far["prove"]["wrong"] + far["prove"]["doubtful"]) == (1, 1)
    assert sign(client).status_code == 200
    assert client.get(f"/api/jobs/{JOB}/how-far").get_json()["signed"]


def test_lines_nobody_keyed_are_accepted_or_keyed(client: FlaskClient) -> None:
    """A unit with the values it came with: said before the signature, until each line or the whole sheet is ticked."""

    def unkeyed() -> list[str]:
        return [item["title"] for item in wanted(client, 2)["wanted"] if item["id"].startswith("keyed.")]

    job = client.get("/api/jobs/2").get_json()
    sheet = client.post("/api/settings/sheet", json={"device": "", "design": job["design"]}).get_json()["sheet"]
    assert unkeyed() == [f"Dunlin: {len(sheet['lines'])} lines not ticked as keyed"]
    without = [item["id"] for item in wanted(client, 2)["wanted"] if not item["id"].startswith("keyed.")]
    assert "not ticked as keyed" in sign(client, 2, accepted=without).get_json()["detail"]
    keyed = [{"line": line["key"], "keyed": True} for line in sheet["lines"][1:]]
    head = {key: job[key] for key in ("title", "code", "customer")} | {"based_on": job["version"]}
    assert client.put("/api/jobs/2", json=head | {"design": job["design"] | {"keyed": keyed}}).status_code == 200
    assert unkeyed() == ["Dunlin: 1 line not ticked as keyed"]
    client.post("/api/jobs/2/build", json={"entries": [noted(1, step="key.sheet", kind="done")]})
    assert unkeyed() == []
    client.post("/api/jobs/2/build", json={"entries": [noted(2, step="key.sheet", kind="open")]})
    assert unkeyed() == ["Dunlin: 1 line not ticked as keyed"]


def test_a_job_without_a_unit_is_not_signed(client: FlaskClient) -> None:
    """Nothing stands against what is not there: next is the choice, and there is nothing to sign."""
    job = client.get("/api/jobs/2").get_json()
    body = {key: job[key] for key in ("title", "code", "customer")} | {"based_on": job["version"]}
    assert client.put("/api/jobs/2", json=body | {"design": job["design"] | {"charger": None}}).status_code == 200
    assert row(client, 2)["next_action"] == "Still open: no unit chosen"
    assert "not finished: no unit is chosen" in sign(client, 2).get_json()["detail"]


def test_it_is_signed_once_and_only_as_it_stands(client: FlaskClient) -> None:
    """Twice is refused, and so is a version that is no longer the newest."""
    assert sign(client).status_code == 200
    again = sign(client)
    assert again.status_code == 409
    assert "signed off already" in again.get_json()["detail"]
    version = save(client, 5.4)
    stale = sign(client, version=version - 1)
    assert stale.status_code == 409
    assert "look at it again" in stale.get_json()["detail"]


def test_a_stop_or_a_caution_not_accepted_forbids_it(client: FlaskClient) -> None:
    """The sentence names the first; a name is needed."""
    stopped = sign(client, job=3)
    assert stopped.status_code == 422
    assert "open" in stopped.get_json()["detail"]
    missing = sign(client, accepted=[])
    assert missing.status_code == 422
    assert "Not accepted yet" in missing.get_json()["detail"]
    nameless = sign(client, by="  ")
    assert nameless.status_code == 422


@pytest.mark.parametrize("method", ["put", "delete", "patch", "post"])
def test_no_address_changes_a_signature_or_a_revision(client: FlaskClient, method: str) -> None:
    """Neither is there to be written."""
    assert sign(client).status_code == 200
    call = getattr(client, method)
    for path in (f"/api/jobs/{JOB}/revisions/1", f"/api/jobs/{JOB}/signing"):
        assert call(path, json={}).status_code in (404, 405)


def test_the_customers_page_is_plain(client: FlaskClient) -> None:
    """What was fitted, how long it lasts, what to mind; no word a customer would have to look up."""
    page = text_of(client, f"/api/jobs/{JOB}/customer.pdf")
    for words in ("Redshank", "vaccine cabinet", "lasts 2.1 days like that", "exhaust kills", "When to call"):
        assert words in page
    for number in (JOB, 1, 2):
        page = text_of(client, f"/api/jobs/{number}/customer.pdf")
        for word in ("mΩ", "absorption", "threshold", "LFP battery chemistry", "alternator load", "isolated"):
            assert word not in page


def test_the_customers_page_points_at_nothing_that_is_not_there(client: FlaskClient) -> None:
    """Days it lasts refer to the loads above, where there are any; without a list to the usual use."""
    page = text_of(client, "/api/jobs/1/customer.pdf")
    assert "days of its usual use without driving" in page
    assert "like that" not in page


def test_changes_between_revisions_are_told(client: FlaskClient) -> None:
    """From any one to any other."""
    version = save(client, 5.5)
    found = client.get(f"/api/jobs/{JOB}/changes/1/{version}").get_json()
    assert [item["after"] for item in found["changes"]] == ["5.5 m"]
    assert client.get(f"/api/jobs/{JOB}/changes/1/99").status_code == 404


def test_the_next_vehicle_begins_from_this_one(client: FlaskClient) -> None:
    """A new number, the same unit and cables, a caution for what was measured on the other; the first job is left alone."""
    before = client.get(f"/api/jobs/{JOB}").get_json()
    made = client.post(f"/api/jobs/{JOB}/next", json={"title": "Cold-chain van 2", "code": "KV-119"})
    assert made.status_code == 201
    job = made.get_json()
    assert job["id"] != JOB
    assert job["design"]["charger"] == before["design"]["charger"]
    assert set(job["design"]["provenance"].values()) & {"copied"}
    found = client.post("/api/assess", json=job["design"]).get_json()["findings"]
    assert "survey.copied" in {item["id"] for item in found}
    assert client.get(f"/api/jobs/{JOB}").get_json() == before
