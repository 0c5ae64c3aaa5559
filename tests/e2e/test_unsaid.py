"""What fails is said, whatever it is: an answer that no screen speaks of, a press that came to nothing, a lost part."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle

WHY = "The database is busy; try again in a moment."
REFUSAL = json.dumps({"type": "about:blank", "title": "Busy", "status": 503, "detail": WHY, "errors": []})


def refuse(route: Route) -> None:
    """Answer as a server out of order does."""
    route.fulfill(status=503, content_type="application/problem+json", body=REFUSAL)


@pytest.mark.refusals
@pytest.mark.parametrize(
    ("place", "name", "asked"),
    [
        ("/job/5/handover", None, "**/api/jobs/5/revisions"),
        ("/job/5/handover", None, "**/api/jobs/5/signing*"),
        ("/job/5/match", "options", "**/api/jobs/5/options"),
        ("/job/5/run", None, "**/api/remedies"),
        ("/job/1/wake", None, "**/api/programmes"),
        ("/shelf/chargers", None, "**/api/shelf/chargers?*"),
        ("/practice", None, "**/api/practice/sets"),
    ],
)
def test_an_answer_that_does_not_come_is_said_and_asked_again(
    page: Page, server: Server, place: str, name: str | None, asked: str
) -> None:
    """Why stands on the page; once the server answers, the page is whole, and nothing is said any more."""
    page.route(asked, refuse)
    page.goto(server.address + place)
    if name is not None:
        page.locator(f'[data-page="{name}"]').first.click()
    said = page.get_by_text(WHY).first
    expect(said).to_be_visible()
    page.unroute(asked, refuse)
    page.get_by_role("button", name=re.compile("Ask again|Try again")).first.click()
    expect(page.get_by_text(WHY)).to_have_count(0)


@pytest.mark.refusals
def test_a_press_that_comes_to_nothing_is_said(page: Page, server: Server) -> None:
    """An old version that cannot be fetched: said, until it is closed; the job stays as it is."""
    go(page, f"{server.address}/job/4/survey")
    entry = page.locator('[data-path="use.daily_ah"] input').first
    entry.fill("99")
    expect(page.locator("[data-save]")).to_have_text(re.compile("^Saved"))
    page.get_by_role("link", name=re.compile("Hand over")).click()
    settle(page)
    page.route("**/api/jobs/4/revisions/1", refuse)
    page.get_by_role("button", name="restore version 1").click()
    said = page.locator("[data-undone]")
    expect(said).to_contain_text(WHY)
    said.get_by_role("button", name="Close").click()
    expect(said).to_have_count(0)
    page.get_by_role("link", name=re.compile("Survey")).click()
    expect(entry).to_have_value("99")


@pytest.mark.refusals
def test_a_part_of_the_program_that_is_gone_is_said(page: Page, server: Server) -> None:
    """A page left open over an update asks for scripts that are no longer there: it says to reload."""
    go(page, f"{server.address}/job/4/survey")
    page.route("**/assets/BuildBench*", lambda route: route.fulfill(status=404, body="gone"))
    page.get_by_role("link", name=re.compile("Build")).click()
    expect(page.locator("[data-undone]")).to_contain_text(
        "it was renewed. Reload the page once the server answers; what you typed is kept"
    )


@pytest.mark.refusals
def test_a_screen_that_is_gone_is_said(page: Page, server: Server) -> None:
    """The same for a whole screen: the reason stays, whatever fails because of it."""
    go(page, f"{server.address}/")
    page.route("**/assets/ShelfView*", lambda route: route.fulfill(status=404, body="gone"))
    page.get_by_role("link", name="Shelf").click()
    expect(page.locator("[data-undone]")).to_contain_text("A part of the program could not be fetched")


def test_every_stage_shows_what_stands_against_it(page: Page, server: Server) -> None:
    """The stages in the bar count the findings of each, the later ones like the first."""
    for number in (1, 2, 3, 4, 5):
        go(page, f"{server.address}/job/{number}/survey")
        job = page.request.get(f"{server.address}/api/jobs/{number}").json()
        answer = page.request.post(f"{server.address}/api/assess", data=job["design"]).json()
        for name, state in answer["stages"].items():
            mark = page.get_by_label("Stages").locator(f'a[href$="/{name}"]')
            word = "■" if state["stops"] else "▲" if state["cautions"] else ""
            count = state["stops"] or state["cautions"]
            if word:
                expect(mark).to_contain_text(f"{word} {count}")
            else:
                expect(mark).not_to_contain_text(re.compile("[■▲]"))


def test_the_bar_counts_the_work_too(page: Page, server: Server) -> None:
    """Steps settled as they are ticked, a wrong reading like a stop, and a tick once the job is signed off."""
    job = page.request.get(f"{server.address}/api/jobs/2").json()
    work = page.request.post(f"{server.address}/api/build/procedure", data=job["design"]).json()["procedure"]["steps"]
    go(page, f"{server.address}/job/2/build")
    bar = page.get_by_label("Stages")
    expect(bar.locator('a[href$="/build"]')).not_to_contain_text("/")
    page.get_by_role("button", name=re.compile("^Done")).first.click()
    expect(bar.locator('a[href$="/build"]')).to_contain_text(f"1/{len(work)}")
    page.goto(f"{server.address}/job/2/settings")
    expect(page.get_by_label("To key in")).to_contain_text(re.compile(r"0 of \d+ done"))
    keyed = {"id": "keyed-sheet-0001", "step": "key.sheet", "kind": "done", "at": "2031-05-01T09:00:00Z", "by": "E.K."}
    assert page.request.post(f"{server.address}/api/jobs/2/build", data={"entries": [keyed]}).ok
    expect(page.locator("[data-whole]")).to_contain_text("all of it ticked in Build, E.K.")
    expect(bar.locator('a[href$="/settings"]')).to_contain_text("✓")
    read = {"id": "reading-0001", "procedure": "Prove", "step": "rest.start", "kind": "reading", "value": 2.0}
    read |= {"at": "2031-05-01T10:00:00Z", "by": "E.K.", "unit": "V"}
    assert page.request.post(f"{server.address}/api/jobs/2/build", data={"entries": [read]}).ok
    expect(bar.locator('a[href$="/prove"]')).to_contain_text(re.compile("[■▲] 1"))
    expect(bar.locator('a[href$="/prove"]')).to_have_attribute("title", re.compile("1 reading (wrong|to take again)"))
    # What the yard says is next is what its link opens.
    page.goto(f"{server.address}/")
    line = page.get_by_role("row").filter(has=page.locator('a[href="/job/2/prove"]'))
    expect(line).to_contain_text("Volts of the start battery, rested: ")
    line.get_by_role("link").first.click()
    expect(page.get_by_role("heading", name="Volts of the start battery, rested")).to_be_visible()
    signing = page.request.get(f"{server.address}/api/jobs/2/signing").json()
    accepted = [item["id"] for item in signing["wanted"]]
    body = {"version": signing["version"], "by": "E. Kestrel", "meter": "Bench meter 2", "accepted": accepted}
    assert page.request.post(f"{server.address}/api/jobs/2/sign", data=body).ok
    go(page, f"{server.address}/job/2/handover")
    expect(bar.locator('a[href$="/handover"]')).to_contain_text("✓")
