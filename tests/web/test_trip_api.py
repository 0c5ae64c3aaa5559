"""The simulator over HTTP and on the command line: shape and refusals."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from olvask.cli import main
from olvask.core.analyses.tolerance import Tolerances
from olvask.documents.job_file import JobFile, write_job_file
from tests.designs import design, plain
from tests.web.test_api import problem

DAY = "crank 2 s\nidle 10 min\noff 5 min\n"


def test_a_trip_is_answered_and_thinned(client: FlaskClient) -> None:
    """Series of one length within the samples asked for, events in order, totals beside them."""
    found = client.post("/api/trip", json={"programme": DAY, "samples": 30, "design": plain()}).get_json()
    assert len({len(values) for values in found["series"].values()}) == 1
    assert len(found["series"]["time_s"]) <= 45
    assert [event["what"] for event in found["events"]] == ["start", "stop"]
    assert found["totals"]["starts"] == 1


def test_programmes_to_begin_with(client: FlaskClient) -> None:
    """Each programme of the library can be driven."""
    for text in client.get("/api/programmes").get_json()["programmes"].values():
        assert client.post("/api/trip", json={"programme": text, "design": plain()}).status_code == 200


@pytest.mark.parametrize(
    ("day", "words"), [("fly 5 min", "line 1"), ("", "line 1"), ("off 60 d\n", "35 days"), ("x" * 30000, "Programme")]
)
def test_a_bad_programme_is_refused(client: FlaskClient, day: str, words: str) -> None:
    """A line nobody understands, an empty day, one too long, and a heap of text are refused at the programme."""
    found = problem(client.post("/api/trip", json={"programme": day, "design": plain()}), 422)
    assert found["errors"][0]["path"] == "programme"
    assert words in found["errors"][0]["field"] + found["errors"][0]["message"]


class TestCommand:
    def files(self, folder: Path, day: str) -> list[str]:
        """A job file and a programme on disk, as the command takes them."""
        job, programme = folder / "job.json", folder / "day.txt"
        job.write_text(write_job_file(JobFile(title="Gritter", design=design())), encoding="utf-8")
        programme.write_text(day, encoding="utf-8")
        return ["simulate", str(job), "--programme", str(programme)]

    def test_states_events_and_totals_as_json(self, tmp_path: Path) -> None:
        """What comes out is one JSON document with all three."""
        done = CliRunner().invoke(main, self.files(tmp_path, DAY))
        assert done.exit_code == 0
        found = json.loads(done.output)
        assert found["totals"]["starts"] == 1
        assert {"off", "waiting", "charging"} <= set(found["series"]["state"])

    def test_a_bad_line_exits_two_with_its_number(self, tmp_path: Path) -> None:
        """The line and the remedy go to standard error."""
        done = CliRunner().invoke(main, self.files(tmp_path, "idle 5 min\nfly 1 s\n"))
        assert done.exit_code == 2
        assert "line 2" in done.output

    def test_a_bad_job_exits_two(self, tmp_path: Path) -> None:
        """A job file that is none is refused before anything is driven."""
        words = self.files(tmp_path, DAY)
        Path(words[1]).write_text("[]", encoding="utf-8")
        assert CliRunner().invoke(main, words).exit_code == 2


class TestToldAsItGoes:
    """Long answers, one JSON document a line."""

    def lines(self, text: str) -> list[dict[str, Any]]:
        """Each line read."""
        return [json.loads(line) for line in text.splitlines()]

    @pytest.mark.parametrize(
        ("path", "body"),
        [
            ("/api/trip/run", {"programme": DAY * 8, "samples": 50}),
            ("/api/tolerance", {"vehicles": 100}),
            ("/api/tolerance/cures", {"vehicles": 200, "rest_v": 1.0}),
        ],
    )
    def test_shares_rise_and_the_report_comes_last(self, client: FlaskClient, path: str, body: dict[str, Any]) -> None:
        """Progress first, never falling; the last line alone holds the report."""
        found = self.lines(client.post(path, json=body | {"design": plain()}).get_data(as_text=True))
        shares = [line["done"] for line in found]
        assert len(found) >= 3
        assert shares == sorted(shares)
        assert [line["report"] is not None for line in found] == [False] * (len(found) - 1) + [True]

    def test_the_told_trip_is_the_same_trip(self, client: FlaskClient) -> None:
        """Driven in one go or told as it goes, the day comes out the same."""
        body = {"programme": DAY, "samples": 80, "design": plain()}
        told = self.lines(client.post("/api/trip/run", json=body).get_data(as_text=True))[-1]["report"]
        assert told == client.post("/api/trip", json=body).get_json()

    def test_hanging_up_ends_the_work(self, client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
        """A caller that goes away after the first line leaves nothing running."""
        ended = []

        def slow(*_: Any, **__: Any) -> Iterator[float]:
            try:
                for part in range(1000):
                    yield part / 1000
                ended.append("to the end")
            finally:
                ended.append("ended")

        monkeypatch.setattr("olvask.web.api.wake.analysing", slow)
        response = client.post("/api/tolerance", json={"design": plain()})
        next(iter(response.response))
        response.close()
        assert ended == ["ended"]

    def test_without_a_unit_the_field_is_named(self, client: FlaskClient) -> None:
        """Nothing starts without one, and that is said before any vehicle is driven."""
        for path in ("/api/tolerance", "/api/tolerance/cures"):
            found = problem(client.post(path, json={"design": plain(charger=None)}), 422)
            assert found["errors"][0]["field"] == "Unit"

    def test_the_usual_tolerances_are_the_cores(self, client: FlaskClient) -> None:
        """What the screen begins with is what the core takes where nothing is said."""
        assert client.get("/api/tolerance").get_json() == asdict(Tolerances())

    def test_a_tolerance_out_of_range_is_refused(self, client: FlaskClient) -> None:
        """A negative spread has no meaning."""
        found = problem(client.post("/api/tolerance", json={"meter_v": -1, "design": plain()}), 422)
        assert found["errors"][0]["path"] == "meter_v"


def test_ways_and_the_old_link_are_answered(client: FlaskClient) -> None:
    """Both take a design and say what the core says; a design without unit or link is answered too."""
    ways = client.post("/api/methods", json=plain()).get_json()
    assert [item["verdict"] for item in ways["methods"]].count("recommended") == 1
    assert client.post("/api/methods", json=plain(charger=None)).get_json()["methods"] == []
    there = plain(existing=[{"kind": "link", "carries": ["meter"]}], old_link={"decision": "changeover"})
    assert client.post("/api/old-link", json=there).get_json()["relay"]["place"] == "start_feed"
    assert client.post("/api/old-link", json=plain()).get_json()["relay"] is None
