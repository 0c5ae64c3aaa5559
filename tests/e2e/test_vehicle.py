"""At the vehicle without signal: two phones and the desk, the server gone, everything noted arrives once and nothing is lost."""

from __future__ import annotations

import os
import re
from collections import Counter
from datetime import UTC, datetime, timedelta
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


def read(page: Page, server: Server, value: str) -> None:
    """A reading in Prove of what both read."""
    page.goto(f"{server.address}/job/4/prove")
    page.locator("#prove-reading").fill(value)
    page.locator("#prove-reading").press("Enter")
    expect(page.locator("[data-unjudged]")).to_contain_text("band held here")


FILL = """() => {
  for (let size = 1 << 20; size > 4; size >>= 1)
    for (;;) try { localStorage.setItem('filler', (localStorage.getItem('filler') ?? '') + 'x'.repeat(size)) } catch { break }
}"""


def test_an_hour_without_signal_loses_nothing(browser: Browser, server: Server) -> None:
    """Two phones and the desk, the server killed: an hour's ticks and readings, reloads, storage full; each is there once."""
    contexts = [browser.new_context(viewport={"width": 390, "height": 844}, locale="en-GB") for _ in range(2)]
    for context in contexts:
        # They set out an hour ago, so that what they note over the hour lies before it comes in.
        context.clock.install(time=datetime.now(UTC) - timedelta(hours=1))
    one, two = (held(context, server, who) for context, who in zip(contexts, ("AK", "BT"), strict=True))
    desk = browser.new_context(service_workers="block").new_page()
    desk.goto(f"{server.address}/job/4/build")
    desk.locator("[data-step]").wait_for()
    desk.get_by_label("Your initials").fill("DK")
    desk.get_by_label("Your initials").press("Tab")
    before = {entry["id"] for entry in noted(one, server)}
    server.kill()
    for page in (one, two):
        page.reload()
        expect(page.locator("[data-no-signal]")).to_be_visible()
        page.locator("[data-step]").wait_for()
    ticked: list[tuple[str, str]] = []
    for round_ in range(8):
        for who, page in (("AK", one), ("BT", two), ("DK", desk)):
            ticked.append((who, tick(page)))
            if page is not desk:
                page.clock.fast_forward(7 * 60 * 1000)
        if round_ == 3:
            one.reload()  # what was noted outlives it
            one.locator("[data-step]").wait_for()
    assert ticked[0][1] == ticked[1][1] == ticked[2][1]  # nobody knows of the others
    read(one, server, "25.61")
    read(two, server, "24.9")
    one.reload()
    expect(one.locator("[data-unjudged]")).to_contain_text("25.61")
    # What was never asked before is said not to be known, not made up.
    two.goto(f"{server.address}/job/4/match")
    expect(two.get_by_text("The server does not answer").first).to_be_visible()
    two.goto(f"{server.address}/job/4/build")
    two.locator("[data-step]").wait_for()
    two.evaluate(FILL)
    ticked += [("BT", tick(two)), ("BT", tick(two))]
    expect(two.locator("[data-full]")).to_contain_text("held by this page alone")
    server.start()
    for _ in range(60):
        fresh = [entry for entry in noted(desk, server) if entry["id"] not in before]
        if len(fresh) >= len(ticked) + 2:
            break
        desk.wait_for_timeout(500)
    for page in (one, two):
        expect(page.locator("[data-no-signal]")).to_have_count(0)
    done = Counter((entry["by"], entry["step"]) for entry in fresh if entry["kind"] == "done")
    assert done == Counter(ticked)
    assert sorted(entry["value"] for entry in fresh if entry["kind"] == "reading") == [24.9, 25.61]
    expect(two.locator("[data-full]")).to_have_count(0)
    # Both accounts of the one reading stand side by side until somebody says whose counts.
    test = next(entry["step"] for entry in fresh if entry["kind"] == "reading")
    desk.evaluate("test => sessionStorage.setItem('olvask.prove.test', JSON.stringify({ 4: test }))", test)
    desk.goto(f"{server.address}/job/4/prove")
    expect(desk.locator("[data-accounts] [data-account]")).to_have_count(2)
    expect(desk.locator('[data-account="BT"]')).to_contain_text("24.9")
    desk.locator('[data-account="AK"]').click()
    expect(desk.locator("[data-accounts]")).to_have_count(0)
    for _ in range(60):  # a page asks nothing more to be shown: the record itself is looked at
        readings = [entry for entry in noted(desk, server) if entry["step"] == test and entry["kind"] == "reading"]
        last = max(readings, key=lambda entry: entry["at"])["value"]
        if last == 25.61:
            break
        desk.wait_for_timeout(500)
    assert last == 25.61
    for context in contexts:
        context.close()
