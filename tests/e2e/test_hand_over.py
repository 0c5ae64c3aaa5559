"""From a finished job to signed papers, a year of logbook, and the next vehicle, as a workshop does it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from olvask.core.simulate.programme import read_programme
from olvask.rig.device_log import Layout, Recorder, Stage, recorded, written
from olvask.rig.faults import Spoilt
from olvask.store.demo import demo_designs
from tests.e2e.server import Server
from tests.e2e.settled import until_true
from tests.papers import leaves


def test_a_job_is_signed_off_and_begun_again_for_the_next_vehicle(page: Page, server: Server) -> None:
    """Each caution is accepted, a name given; the paper is no draft any more; the next vehicle waits to be measured."""
    page.goto(f"{server.address}/job/5/handover")
    signing = page.locator("[data-signing]")
    expect(signing).to_contain_text("a draft")
    expect(page.locator("[data-sign]")).to_be_disabled()
    for box in page.locator("[data-accept]").all():
        box.check()
    expect(page.locator("[data-sign]")).to_be_disabled()
    page.locator("#signed-by").fill("E. Kestrel")
    page.locator("[data-sign]").click()
    expect(signing).to_contain_text("is signed")
    expect(page.locator("[data-signature]")).to_contain_text("E. Kestrel")
    paper = page.request.get(f"{server.address}/api/jobs/5/report.pdf").body()
    assert "Signed off, no. 1, by E. Kestrel" in leaves(paper)[0].words
    page.locator("[data-next-title]").fill("Cold-chain van, the second")
    page.locator("[data-next-code]").fill("KV-119")
    page.locator("[data-next-begin]").click()
    page.wait_for_url("**/survey")
    expect(page.locator('[data-finding="survey.copied"]')).to_contain_text("another vehicle's")


def test_a_vehicle_that_came_back_is_signed_again(page: Page, server: Server) -> None:
    """A visit begun in Prove opens the sign-off; it is told why, and either signature keeps its paper."""

    def sign() -> None:
        expect(page.locator("[data-sign]")).to_be_visible()
        for box in page.locator("[data-accept]").all():
            box.check()
        page.locator("#signed-by").fill("E. Kestrel")
        page.locator("[data-sign]").click()
        expect(page.locator("[data-signing]")).to_contain_text("is signed")

    entry = {
        "id": "entry-0001",
        "procedure": "Prove",
        "step": "posts_v",
        "kind": "reading",
        "value": 13.75,
        "unit": "V",
    }
    entry |= {"by": "E.K.", "at": "2026-01-05T10:00:00Z"}
    assert page.request.post(f"{server.address}/api/jobs/5/build", data={"entries": [entry]}).ok
    page.goto(f"{server.address}/job/5/handover")
    expect(page.locator("[data-since]")).to_have_count(0)
    sign()
    page.get_by_role("link", name="Prove").click()
    page.get_by_role("button", name="Begin a new visit").click()
    page.get_by_role("link", name="Hand over").click()
    expect(page.locator("[data-since]")).to_contain_text("Since no. 1 was signed: the vehicle came back.")
    sign()
    expect(page.locator("[data-signature]")).to_contain_text(["No. 2, version 1", "No. 1, version 1"])
    for number in (1, 2):
        link = page.locator("[data-signature] a").nth(2 - number).get_attribute("href")
        assert f"no. {number}, by E. Kestrel" in leaves(page.request.get(f"{server.address}{link}").body())[0].words


def test_a_year_of_logbook_shows_where_it_leads(page: Page, server: Server) -> None:
    """Three readings typed at three visits; a word that is no number is sent back with its unit; what grows is told."""
    entries = [
        {
            "id": f"log-{at:08}",
            "procedure": "Logbook",
            "step": "loop_mohm",
            "kind": "reading",
            "value": 8.5 + 0.8 * at,
            "unit": "mΩ",
            "by": "E.K.",
            "at": f"2026-{1 + 3 * at:02}-05T10:00:00Z",
        }
        for at in range(3)
    ]
    assert page.request.post(f"{server.address}/api/jobs/5/build", data={"entries": entries}).ok
    page.goto(f"{server.address}/job/5/handover")
    page.get_by_role("tab", name="Logbook").click()
    expect(page.locator('[data-trend="loop_mohm"]')).to_contain_text("grows")
    page.locator("[data-log-text]").fill("Cleaned the earth, tightened the plug")
    page.locator("[data-log-note]").click()
    expect(page.locator("[data-log-entry]").first).to_contain_text("Cleaned the earth")
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Supply run, both ways").click()
    page.locator("[data-log-text]").fill("ten")
    page.locator("[data-log-note]").click()
    expect(page.get_by_role("alert")).to_contain_text("type it in mΩ")
    page.locator("[data-log-text]").fill("8.6")
    page.locator("[data-log-note]").click()
    expect(page.locator("[data-log-entry]").first).to_contain_text("8.6\u00a0mΩ")
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Driver's diary: charge").click()
    page.locator("[data-log-text]").fill("55 %")
    page.locator("#log-driven").fill("300")
    page.locator("[data-log-note]").click()
    expect(page.get_by_role("alert")).to_contain_text("Driven since: ")
    expect(page.get_by_role("alert")).to_contain_text("give a number from 0 to 240 h")
    # What was typed for the diary stays, and is in nobody's way.
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Start battery, rested").click()
    page.locator("[data-log-text]").fill("12,61 V")
    page.locator("[data-log-note]").click()
    expect(page.locator("[data-log-entry]").first).to_contain_text("12.61\u00a0V")
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Driver's diary: charge").click()
    expect(page.locator("#log-driven")).to_have_value("300")


def logged(joint_ohm: float, day: int, path: Path) -> Path:
    """A week of the van's monitor; from some day on its return has a bad joint."""
    design = next(design for heading, design in demo_designs() if heading.code == "KV-118")
    round_ = "crank 2 s\nidle 2 min\ncruise 25 min\noff 90 min load 9 A\n"
    programme = read_programme(f"begin start 85 % auxiliary 50 %\noff 7 h load 3 A\nrepeat 7\n{round_}end\n")
    bad = Spoilt(extra_ohm={"supply_back": joint_ohm})
    stages = [Stage(programme, bad if number >= day else Spoilt()) for number in range(7)]
    log = recorded(design, stages, Recorder(every_s=20.0), 1_780_000_000.0, np.random.default_rng(7))
    path.write_text(written(log, Layout(delimiter=";", decimal=",", moment="dmy", zone="UTC")))
    return path


def test_a_log_tells_when_a_joint_went_bad_and_its_readings_name_it(page: Page, server: Server, tmp_path: Path) -> None:
    """A week's file: mapped, taken in, since when the run is worse, its last full charge as evidence in Prove, the cure."""
    page.goto(f"{server.address}/job/5/handover")
    page.get_by_role("tab", name="Device logs").click()
    page.locator("[data-log-file]").set_input_files(logged(0.015, 4, tmp_path / "week.csv"))
    page.locator("[data-log-how=order]").wait_for()
    page.locator("[data-log-try]").click()
    expect(page.locator("[data-log-rows]")).to_contain_text("Volts at the unit's input [V]")
    page.locator("[data-log-take]").click()
    differs = page.locator("[data-log-differs]")
    expect(differs).to_contain_text("Supply run, both ways: from")
    expect(page.locator("[data-fit=supply_mohm]")).to_contain_text("23.")
    picture = page.locator("[data-log-picture]")
    expect(picture.get_by_role("img", name="Volts at the unit's input, logged and simulated")).to_be_visible()
    differs.get_by_role("button").first.click()
    page.locator("[data-log-evidence]").click()
    expect(page.get_by_text("they stand in Prove")).to_be_visible()
    page.goto(f"{server.address}/job/5/prove")
    page.locator("[data-side]").click()
    cause = page.locator("[data-cause]").first
    expect(cause).to_contain_text("supply")
    if cause.locator("[data-cure]").count() == 0:
        cause.get_by_role("button").first.click()
    cause.locator("[data-cure]").click()
    expect(page.locator("[data-noted]").first).to_contain_text("supply")
    # The same kind of file is known the next time.
    page.goto(f"{server.address}/job/5/handover")
    page.get_by_role("tab", name="Device logs").click()
    page.locator("[data-log-more]").click()
    page.locator("[data-log-file]").set_input_files(logged(0.0, 7, tmp_path / "later.csv"))
    expect(page.get_by_text("a kind that was mapped before")).to_be_visible()
    page.locator("[data-log-take]").click()
    expect(page.locator("[data-log-pick]")).to_have_count(2)
    expect(differs).not_to_contain_text("Supply run")


@pytest.mark.refusals
def test_a_file_that_is_no_log_is_refused_in_words(page: Page, server: Server, tmp_path: Path) -> None:
    """A picture, and a table without volts: each says what to do."""
    page.goto(f"{server.address}/job/2/handover")
    page.get_by_role("tab", name="Device logs").click()
    picture = tmp_path / "photo.csv"
    picture.write_bytes(bytes(range(256)) * 40)
    page.locator("[data-log-file]").set_input_files(picture)
    expect(page.get_by_role("alert")).to_contain_text("no table of text")
    other = tmp_path / "other.csv"
    other.write_text("When;Humidity\n" + "".join(f"2026-03-0{day} 10:00:00;4{day}\n" for day in range(1, 9)))
    page.locator("[data-log-file]").set_input_files(other)
    page.locator("[data-log-try]").click()
    expect(page.locator("[data-log-trouble]")).to_contain_text("no column holds volts")


def test_a_template_begins_a_job_and_a_job_put_away_is_out_of_sight(page: Page, server: Server) -> None:
    """Ticked in Hand over, chosen in the yard; archived it is found only there; the next service stands in its row."""
    page.goto(f"{server.address}/job/2/handover")
    page.locator("[data-shelve=template]").check()
    page.get_by_role("tab", name="Logbook").click()
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Next service due").click()
    page.locator("[data-log-note]").click()
    expect(page.get_by_text("Choose the day of the next service.")).to_be_visible()
    page.locator("[data-log-text]").fill("2031-10-01")  # a field of days, shown as the reader writes them
    page.locator("[data-log-note]").click()
    expect(page.get_by_text("next service 01/10/2031")).to_be_visible()
    expect(page.locator("[data-log-entry]").first).to_contain_text("Next service due 01/10/2031")
    page.goto(f"{server.address}/")
    expect(page.locator('[data-job="2"] [data-service-due]')).to_contain_text("01/10/2031")
    expect(page.locator('[data-job="2"] [data-face]')).to_be_visible()
    page.locator("#new-title").fill("River-rescue estate, the second")
    page.get_by_role("combobox", name="Begin from").click()
    page.get_by_role("option", name="River-rescue estate (RR-031)").click()
    page.get_by_role("button", name="Start the survey").click()
    page.wait_for_url("**/survey")
    expect(page.locator('[data-finding="survey.copied"]')).to_be_visible()
    page.goto(f"{server.address}/job/2/handover")
    page.get_by_role("tab", name="Papers").click()
    page.locator("[data-shelve=archived]").check()
    page.goto(f"{server.address}/")
    expect(page.locator("[data-job]")).to_have_count(5)
    expect(page.locator('[data-job="2"]')).to_have_count(0)
    page.get_by_role("combobox", name="Stands at").click()
    page.get_by_role("option", name="archived").click()
    expect(page.locator('[data-job="2"]')).to_be_visible()


def test_a_photograph_is_kept_in_the_logbook(page: Page, server: Server, tmp_path: Path) -> None:
    """Made anew on the way in, shown small in its row."""
    picture = tmp_path / "lug.png"
    Image.new("RGB", (640, 480), (120, 60, 30)).save(picture)
    page.goto(f"{server.address}/job/2/handover")
    page.get_by_role("tab", name="Logbook").click()
    page.locator("[data-log-text]").fill("The lug as it was found")
    page.locator("[data-log-photo]").set_input_files(picture)
    shown = page.locator("[data-log-entry] img")
    expect(shown).to_have_attribute("alt", "Photograph by somebody: The lug as it was found")
    until_true(page, "document.querySelector('[data-log-entry] img').naturalWidth > 0")
