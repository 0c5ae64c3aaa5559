"""At the vehicle without signal: two phones and the desk, the server gone, everything noted arrives once and nothing is lost."""

from __future__ import annotations

import os
import re
from collections import Counter
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.e2e.server import Server

DONE = re.compile("^Done")
# Several browsers and a server that goes and comes: on a busy machine their patience runs out now and then.
pytestmark = pytest.mark.skipif("OLVASK_AWAY" not in os.environ, reason="make check-away")


def held(context: BrowserContext, server: Server, initials: str) -> Page:
    """A phone that holds the lorry's job, at its procedure."""
    page = context.new_page()
    page.goto(f"{server.address}/job/4/handover")
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()  # from here on the worker sees what is asked
    page.locator("[data-hold]").click()
    expect(page.locator("[data-held]")).to_be_visible()
    page.goto(f"{server.address}/job/4/build")
    page.locator("[data-step]").wait_for()
    field = page.get_by_label("Your initials")
    field.fill(initials)
    field.press("Tab")
    return page


def noted(page: Page, server: Server) -> list[dict[str, Any]]:
    """What the server holds of the job, whatever it belongs to."""
    steps = page.request.get(f"{server.address}/api/jobs/4/build").json()["steps"]
    return [dict(entry, step=step["step"]) for step in steps for entry in step["entries"]]


def tick(page: Page) -> str:
    """Tick the step that is open; its name."""
    name = page.locator("[data-step]").get_attribute("data-step") or ""
    page.get_by_role("button", name=DONE).click()
    expect(page.locator(f'[data-step="{name}"]')).to_have_count(0)
    return name


def test_an_hour_without_signal_loses_nothing(browser: Browser, server: Server) -> None:
    """Both phones reload with the server killed, tick the same step and read; it comes back, and each entry is there once."""
    contexts = [browser.new_context(viewport={"width": 390, "height": 844}, locale="en-GB") for _ in range(2)]
    one, two = (held(context, server, who) for context, who in zip(contexts, ("AK", "BT"), strict=True))
    before = len(noted(one, server))
    server.kill()
    for page in (one, two):
        page.reload()
        expect(page.locator("[data-no-signal]")).to_be_visible()
        page.locator("[data-step]").wait_for()
    ticked = [tick(one), tick(one), tick(two)]
    assert ticked[2] == ticked[0]  # both did the first: neither knows of the other
    one.goto(f"{server.address}/job/4/prove")
    one.locator("#prove-reading").fill("25.61")
    one.locator("#prove-reading").press("Enter")
    expect(one.get_by_text("cannot be judged")).to_be_visible()
    one.reload()  # what was noted outlives it
    expect(one.get_by_text("cannot be judged")).to_be_visible()
    # What was never asked before is said not to be known, not made up.
    two.goto(f"{server.address}/job/4/match")
    expect(two.get_by_text("The server does not answer").first).to_be_visible()
    two.goto(f"{server.address}/job/4/build")
    server.start()
    desk = browser.new_context(service_workers="block").new_page()
    desk.goto(f"{server.address}/job/4/build")
    for page in (one, two):
        expect(page.locator("[data-no-signal]")).to_have_count(0)
    expect(desk.get_by_text("AK").first).to_be_visible()
    for _ in range(40):
        found = noted(desk, server)
        if len(found) == before + 4:
            break
        desk.wait_for_timeout(500)
    fresh = [entry for entry in noted(desk, server) if entry["by"] in ("AK", "BT")]
    assert Counter(
        (entry["step"], entry["kind"], entry["by"]) for entry in fresh if entry["kind"] == "done"
    ) == Counter([(ticked[0], "done", "AK"), (ticked[1], "done", "AK"), (ticked[0], "done", "BT")])
    assert [entry["value"] for entry in fresh if entry["kind"] == "reading"] == [25.61]
    for context in contexts:
        context.close()
