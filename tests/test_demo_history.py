"""The demo's history: every job has one, kept as the application keeps its own, and laid out once."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

import pytest

from olvask.core.analyses.device_log import log_report
from olvask.core.circuit.context import Context
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import left_of, progress_of
from olvask.core.stages.prove.noted import cured_at, readings_of
from olvask.core.stages.prove.report import prove
from olvask.demo_history import STORIES, designed, seed_history
from olvask.store.demo import seed
from olvask.store.stores import Stores
from olvask.web.app import Config, create_app
from tests.papers import leaves

NOW = datetime(2032, 6, 1, 15, 30, tzinfo=UTC)


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A store with the demo and its history."""
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    stores = Stores.open(path)
    seed(stores, designed(NOW))
    seed_history(stores, NOW)
    stores.database.close()
    return path


@pytest.fixture
def stores(place: Path) -> Stores:
    return Stores.open(place)


def test_nothing_was_given_or_signed_before_it_was_designed(stores: Stores) -> None:
    """Saved, quoted, signed: in that order, on their days."""
    for number in stores.jobs.ids():
        saved = stores.jobs.get(number).saved_at.date().isoformat()
        assert all(saved < quote.made for quote in stores.quotes.all(number))
        assert all(saved < signature.at[:10] for signature in stores.signatures.all(number))
    assert len({stores.jobs.get(number).saved_at.date() for number in stores.jobs.ids()}) == 5


def test_each_job_was_quoted_and_logged_and_those_without_stops_built_and_signed(stores: Stores) -> None:
    for number in stores.jobs.ids():
        job = stores.jobs.get(number)
        built = job.heading.code != "PS-064"  # its stops are open: nobody builds it
        assert len(stores.quotes.all(number)) == 1
        assert len(stores.device_logs.all(number)) == 1
        # When it was fitted, and when it had come back, was mended and proven again.
        assert [item.proven for item in stores.signatures.all(number)] == ([True, True] if built else [])
        states = progress_of(stores.build.entries(number))
        left = left_of(procedure_of(Context.of(job.design)).procedure, states)
        assert (left.steps == ()) == built


def test_the_fault_shows_in_what_was_read_and_is_gone_after_the_cure(stores: Stores) -> None:
    """Of the van: a return that had 12 mΩ too many; the readings that count are those since."""
    job = next(job for job in map(stores.jobs.get, stores.jobs.ids()) if job.heading.code == "KV-118")
    states = progress_of(stores.build.entries(job.id))
    ctx, cured = Context.of(job.design), cured_at(states)
    assert cured.startswith("2032-02")
    before = {
        state.step: [entry.value for entry in state.entries if entry.kind == "reading" and entry.at < cured][-1]
        for state in states
        if state.procedure == "Prove" and state.step != "cure"
    }
    bad = [
        leg.leg
        for leg in prove(ctx, {key: value for key, value in before.items() if value is not None}).legs
        if leg.bad
    ]
    good = prove(ctx, dict(readings_of(states)))
    assert bad == ["supply_back"]
    assert [leg.leg for leg in good.legs if leg.bad] == []


def test_a_log_tells_of_the_joint_that_its_story_has(stores: Stores) -> None:
    for number in stores.jobs.ids():
        job = stores.jobs.get(number)
        story = STORIES[job.heading.code]
        kept = stores.device_logs.all(number)[0]
        report, _ = log_report(Context.of(job.design), stores.device_logs.log(number, kept.id))
        since = [item.since_s for item in report.differs if item.key == "supply_mohm"]
        assert (since != []) == (story.joint_from is not None)
        if story.joint_from is not None:
            assert since[0] is not None
            assert 0 <= since[0] - kept.begins_s - 86400 * story.joint_from < 86400


def test_it_is_laid_out_once(place: Path) -> None:
    stores = Stores.open(place)
    before = [len(stores.build.entries(number)) for number in stores.jobs.ids()]
    seed_history(stores, NOW)
    assert [len(stores.build.entries(number)) for number in stores.jobs.ids()] == before


def test_its_papers_and_its_yard_open(place: Path) -> None:
    """The report is that of a signed revision; logbook, yard and sheet answer."""
    client = create_app(Config(place)).test_client()
    assert {bool(job["service_due"]) for job in client.get("/api/jobs").get_json()["jobs"]} == {True, False}
    assert "by Edda Kvist" in leaves(client.get("/api/jobs/5/report.pdf").data)[0].words
    book = client.get("/api/jobs/1/logbook").get_json()
    assert {trend["key"] for trend in book["trends"]} >= {"loop_mohm", "rest_start_v", "standby_ma"}
    assert book["use"]["use"]["value"] == pytest.approx(STORIES["FT-041"].used_ah, rel=0.35)
