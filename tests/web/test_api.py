"""The web interface: status, shape, refusals. Values are tested in the core."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from olvask.core.assess import assess
from olvask.documents.job_file import JobFile, write_job_file
from olvask.web.app import MOST_BYTES
from olvask.web.spec import share_schemas
from tests.designs import cable, design, plain


def save(client: FlaskClient, job_id: int, based_on: int, **changes: Any) -> TestResponse:
    """Save the sound job over a stored one."""
    return client.put(
        f"/api/jobs/{job_id}", json={"title": "Renamed", "based_on": based_on, "design": plain()} | changes
    )


def problem(response: TestResponse, status: int) -> dict[str, Any]:
    """The problem document of a refusal."""
    assert response.status_code == status
    assert response.content_type == "application/problem+json"
    document: dict[str, Any] = json.loads(response.data)
    assert document["status"] == status
    assert document["title"]
    assert document["detail"]
    return document


class TestJobs:
    def test_the_yard_lists_five_with_their_next_action(self, client: FlaskClient) -> None:
        """Each demo job is listed with where it stands and what is next."""
        jobs = client.get("/api/jobs").get_json()["jobs"]
        assert [job["code"] for job in jobs] == ["KV-118", "ML-207", "PS-064", "RR-031", "FT-041"]
        assert all(job["next_action"] and job["next_stage"] for job in jobs)
        assert {job["code"] for job in jobs if job["stops"]} == {"PS-064"}

    def test_a_new_job_starts_from_defaults(self, client: FlaskClient) -> None:
        """A job made of nothing but a title can be opened and assessed."""
        made = client.post("/api/jobs", json={"title": "Milk float"})
        assert made.status_code == 201
        job = made.get_json()
        assert (job["version"], job["design"]["charger"]) == (1, None)
        assert client.post("/api/assess", json=job["design"]).status_code == 200

    def test_save_and_read_back(self, client: FlaskClient) -> None:
        """A save raises the version and is there on the next reading; the old revision still is."""
        assert save(client, 1, 1).get_json()["version"] == 2
        assert client.get("/api/jobs/1").get_json()["title"] == "Renamed"
        assert client.get("/api/jobs/1/revisions/1").get_json()["title"] == "Farrier's truck"
        assert [item["version"] for item in client.get("/api/jobs/1/revisions").get_json()["revisions"]] == [2, 1]

    def test_a_stale_save_is_refused_with_both_sides(self, client: FlaskClient) -> None:
        """The second save from version 1 is a conflict that brings the stored job along and changes nothing."""
        save(client, 1, 1)
        answer = problem(save(client, 1, 1, title="Mine"), 409)
        assert (answer["stored"]["version"], answer["stored"]["title"]) == (2, "Renamed")
        assert client.get("/api/jobs/1").get_json()["title"] == "Renamed"

    @pytest.mark.parametrize(
        "address",
        ["/api/jobs/99", "/api/jobs/1/revisions/9", "/api/jobs/99/revisions", "/api/jobs/99/sheet.pdf", "/api/nothing"],
    )
    def test_what_is_not_there(self, client: FlaskClient, address: str) -> None:
        """An unknown job, revision or address is a 404 problem."""
        problem(client.get(address), 404)

    def test_the_papers(self, client: FlaskClient) -> None:
        """Sheet, drawing and file come with their types and a name made from the job number."""
        kinds = {"sheet.pdf": "application/pdf", "schematic.svg": "image/svg+xml", "file": "application/json"}
        for paper, kind in kinds.items():
            answer = client.get(f"/api/jobs/5/{paper}")
            assert answer.status_code == 200
            assert answer.mimetype == kind
            assert 'filename="kv-118.' in answer.headers["Content-Disposition"]
        assert client.get("/api/jobs/5/sheet.pdf").data.startswith(b"%PDF-")


class TestImport:
    def test_a_file_becomes_a_job(self, client: FlaskClient) -> None:
        """What the file endpoint gives the import endpoint takes, as a new job."""
        raw = client.get("/api/jobs/5/file").data
        made = client.post("/api/jobs/import", data=raw)
        assert made.status_code == 201
        assert made.get_json()["design"] == client.get("/api/jobs/5").get_json()["design"]
        assert len(client.get("/api/jobs").get_json()["jobs"]) == 6

    def test_a_bad_file_is_refused_whole(self, client: FlaskClient) -> None:
        """Two faults are both told and no job is made."""
        document = json.loads(write_job_file(JobFile(title="x", design=design())))
        document["design"]["supply"]["pieces"][1]["size"] = "9 mm²"
        document["code"] = 7
        answer = problem(client.post("/api/jobs/import", data=json.dumps(document)), 422)
        assert {fault["path"] for fault in answer["errors"]} == {"design.supply.pieces.c1.size", "code"}
        assert len(client.get("/api/jobs").get_json()["jobs"]) == 5

    def test_ten_megabytes_are_too_many(self, client: FlaskClient) -> None:
        """A file far beyond any job is refused before it is read, with the reason."""
        answer = problem(client.post("/api/jobs/import", data=b" " * (10 * 1024 * 1024)), 413)
        assert "too large" in answer["detail"]
        assert MOST_BYTES < 10 * 1024 * 1024


class TestAssessment:
    def test_it_is_the_cores(self, client: FlaskClient) -> None:
        """The answer is the core's assessment and nothing else; the words of its figures are answered apart."""
        answer = client.post("/api/assess", json=plain()).get_json()
        whole = json.loads(assess(design()).model_dump_json())
        worded = client.post("/api/figures", json=plain()).get_json()["figures"]
        assert worded == whole["figures"]
        short = {"name", "label", "value", "unit"}
        kept = {name: {key: item[key] for key in short} for name, item in worded.items()}
        assert answer == whole | {"figures": kept}

    @pytest.mark.parametrize(
        ("body", "path"),
        [
            (plain(supply={"pieces": [cable(length_m="four metres")]}), "supply.pieces.0.length_m"),
            (plain(supply={"pieces": [cable(length_m=-1)]}), "supply.pieces.0.length_m"),
            (plain(supply={"pieces": [cable(length_m=0)]}), "supply.pieces.0.length_m"),
            (plain(use={"daily_ah": 1e12}), "use.daily_ah"),
            (plain(colour="blue"), "colour"),
            ({}, "vehicle"),
        ],
    )
    def test_wrong_entries_are_located(self, client: FlaskClient, body: Any, path: str) -> None:
        """Letters, negatives, zero, absurd, unknown and empty are refused at the place, with a label and a remedy."""
        answer = problem(client.post("/api/assess", json=body), 422)
        fault = next(item for item in answer["errors"] if item["path"] == path)
        assert fault["field"]
        assert len(fault["message"]) > 10

    @pytest.mark.parametrize("raw", [b"", b"not json", b"[]", b"3", b"\xff\xfe\x00", b'{"vehicle":' + b"[" * 5000])
    def test_what_is_no_design(self, client: FlaskClient, raw: bytes) -> None:
        """Bodies that are no JSON object at all are refused the same way, never with a 500."""
        for address in ("/api/assess", "/api/match", "/api/ladder", "/api/jobs"):
            assert problem(client.post(address, data=raw, content_type="application/json"), 422)["errors"]

    def test_the_ladder_wants_a_cable(self, client: FlaskClient) -> None:
        """A ladder of a cable comes; of a device it is refused with the place named."""
        rows = client.post("/api/ladder", json={"place": "c1", "design": plain()}).get_json()["rows"]
        assert sum(row["chosen"] for row in rows) == 1
        answer = problem(client.post("/api/ladder", json={"place": "supply.0", "design": plain()}), 422)
        assert answer["errors"][0]["path"] == "place"

    def test_match_judges_the_shelf(self, client: FlaskClient) -> None:
        """Every unit of the shelf gets a verdict."""
        (line,) = client.post("/api/match", json=plain()).get_data(as_text=True).splitlines()
        shelf = client.get("/api/shelf/chargers").get_json()["items"]
        assert {unit["id"] for unit in json.loads(line)["units"]} == {unit["id"] for unit in shelf}

    def test_wrong_method(self, client: FlaskClient) -> None:
        """A method an address does not take is a problem, too."""
        problem(client.delete("/api/jobs/1"), 405)


class TestGuard:
    def test_foreign_hosts_are_refused(self, client: FlaskClient) -> None:
        """Only loopback names are answered, with any port."""
        problem(client.get("/api/jobs", headers={"Host": "yard.example"}), 403)
        problem(client.get("/api/jobs", headers={"Host": "127.0.0.1.example:80"}), 403)
        for host in ("localhost:9000", "127.0.0.1", "[::1]:8127"):
            assert client.get("/api/jobs", headers={"Host": host}).status_code == 200

    def test_foreign_origins_are_refused(self, client: FlaskClient) -> None:
        """A page of another site cannot save."""
        problem(client.post("/api/jobs", json={"title": "x"}, headers={"Origin": "http://yard.example"}), 403)
        assert client.post("/api/jobs", json={"title": "x"}, headers={"Origin": "http://localhost"}).status_code == 201

    def test_pages_may_load_nothing_from_elsewhere(self, client: FlaskClient) -> None:
        """The policy allows this server alone, and each page has a nonce of its own."""
        first, second = (client.get("/").headers["Content-Security-Policy"] for _ in range(2))
        assert "default-src 'none'" in first
        assert "script-src 'self';" in first
        assert "http" not in first
        assert first != second

    def test_addresses_of_screens_give_the_page(self, client: FlaskClient) -> None:
        """A reload inside a job gives the page; a missing file is missing."""
        assert client.get("/job/5/run").mimetype == "text/html"
        problem(client.get("/assets/none.js"), 404)
        problem(client.get("/../pyproject.toml"), 404)


def test_an_unforeseen_error_is_no_bare_500(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Even a mistake of ours answers as a problem that says the entries are kept."""
    monkeypatch.setattr("olvask.web.api.assessment.assess", lambda design: 1 / 0)
    assert "kept" in problem(client.post("/api/assess", json=plain()), 500)["detail"]


class TestDocument:
    """The OpenAPI document the screens' types are made from."""

    def test_every_refusal_is_told_as_it_is_answered(self, client: FlaskClient) -> None:
        """What a refused save answers fits the schema the document gives for it, and no other shape is promised."""
        spec = client.get("/api/openapi.json").get_json()
        promised = spec["components"]["schemas"]["Problem"]
        refused = problem(client.put("/api/jobs/1", json={"title": ""}), 422)
        assert set(promised["required"]) <= set(refused) == set(promised["properties"])
        kinds = {
            media
            for operations in spec["paths"].values()
            for operation in operations.values()
            for status, answer in operation["responses"].items()
            if not status.startswith("2")
            for media in answer["content"]
        }
        assert kinds == {"application/problem+json"}

    def test_a_schema_stands_once(self) -> None:
        """What two bodies nest is told once; two different things of one name are refused."""
        nested = {"type": "object", "properties": {"inner": {"$ref": "#/components/schemas/A.Inner"}}}
        other = {"type": "object", "properties": {"inner": {"$ref": "#/components/schemas/B.Inner"}}}
        whole: dict[str, Any] = {
            "A.Inner": {"type": "string"},
            "B.Inner": {"type": "string"},
            "A.X": nested,
            "B.X": other,
        }
        shared = share_schemas({"components": {"schemas": whole}})["components"]["schemas"]
        assert set(shared) == {"Inner", "X"}
        assert shared["X"]["properties"]["inner"] == {"$ref": "#/components/schemas/Inner"}
        with pytest.raises(ValueError, match="Inner"):
            share_schemas({"components": {"schemas": whole | {"B.Inner": {"type": "number"}}}})
