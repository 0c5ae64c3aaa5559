"""The first sight of the yard: drawn once, with its jobs; what comes late keeps its place."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.e2e.test_late_answers import Held

WATCHED = """new MutationObserver(() => {
  if (/Fetching the yard/.test(document.body?.textContent ?? '')) window.waited = true
}).observe(document, { childList: true, subtree: true })"""


def boxes(page: Page) -> list[object]:
    """Where what stands beside the jobs is: places to choose, and the list itself."""
    return [one.bounding_box() for one in (*page.locator(".tools .p-select").all(), page.locator(".jobs .bench-head"))]


def test_the_yard_is_drawn_once_with_its_jobs(page: Page, server: Server) -> None:
    """Their answer is asked for before there is a screen, and once; no page without jobs is shown before."""
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/api/jobs?sought" in request.url else None)
    page.add_init_script(WATCHED)
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    settle(page)
    assert not page.evaluate("window.waited")
    assert len(asked) == 1
    page.locator("header").get_by_role("link", name="Shelf").click()
    expect(page.locator("tr[data-job]")).to_have_count(0)
    page.locator("header").get_by_role("link", name="Yard").click()
    expect(page.locator("tr[data-job]")).to_have_count(5)
    assert len(asked) == 2  # another visit asks anew: others work here too


def test_jobs_that_are_long_in_coming_are_told_and_nothing_moves(page: Page, server: Server) -> None:
    """The page says that it waits; its choices hold their places until they can be opened."""
    jobs = Held(page, "/api/jobs.sought=")
    page.goto(server.address)
    expect(page.get_by_text("Fetching the yard")).to_be_visible()
    expect(page.get_by_role("combobox")).to_have_count(0)
    page.evaluate("document.fonts.ready.then(() => true)")
    before = boxes(page)
    jobs.let_go()
    expect(page.locator("tr[data-job]")).to_have_count(5)
    expect(page.get_by_role("combobox")).to_have_count(2)
    assert boxes(page) == before
    page.get_by_label("Order").click()
    page.get_by_role("option", name="by vehicle").click()
    jobs.let_go()
    expect(page.locator("tr[data-job]").first).to_contain_text(re.compile("Cold-chain van"))
