"""The simulator over HTTP and on the command line: shape and refusals."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from olvask.cli import main
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
    assert found["faults"][0]["path"] == "programme"
    assert words in found["faults"][0]["field"] + found["faults"][0]["message"]


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
