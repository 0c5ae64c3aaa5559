"""Every view and page holds to WCAG 2.2 AA as far as a checker sees it: day at the desk, night on the phone.

`OLVASK_REACH=all` (make check-reach) checks every page in both themes at both sizes.
"""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page

from tests.e2e.server import Server
from tests.e2e.settled import go, settle, turn

AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
RULES = "['wcag2a','wcag2aa','wcag21a','wcag21aa','wcag22aa','best-practice']"
ASK = (
    # The library's focus traps are hidden from readers and reached by Tab on purpose.
    "axe.run({exclude: ['.p-hidden-focusable']}, {runOnly: "
    + RULES
    + ", resultTypes: ['violations']}).then((found) => found.violations.flatMap("
    "(rule) => rule.nodes.map((node) => rule.id + ': ' + node.html.slice(0, 160))))"
)
ALL = os.environ.get("OLVASK_REACH") == "all"
WAYS = [(1280, 800, "light"), (390, 844, "dark")] + ([(1280, 800, "dark"), (390, 844, "light")] if ALL else [])
PRACTICE = ("/practice", "/practice/case/1-1", "/practice/drill/log/1", "/practice/drill/order/1")
STAGES = (
    "/job/5/survey",
    "/job/5/match",
    "/job/5/run",
    "/job/1/wake",
    "/job/1/settings",
    "/job/4/build",
    "/job/5/prove",
)


def pages_of(page: Page, most: int = 3) -> list[str | None]:
    """Names of a bench's pages, the first of them for time's sake; of a view without pages one without a name."""
    names = [tab.get_attribute("data-page") for tab in page.locator("[data-page]").all()] or [None]
    return names if ALL else names[:most]


def wrong(page: Page, where: str) -> list[str]:
    """What the checker finds on the page as it stands."""
    page.evaluate(AXE.read_text(encoding="utf-8"))
    found: list[str] = page.evaluate(ASK)
    return [f"{where}: {item}" for item in found]


@pytest.mark.parametrize(("width", "height", "scheme"), WAYS)
def test_every_view_and_page(browser: Browser, server: Server, width: int, height: int, scheme: str) -> None:
    """Yard, shelf, hand-over, and each page of each bench."""
    context = browser.new_context(
        viewport={"width": width, "height": height},
        color_scheme="dark" if scheme == "dark" else "light",
        reduced_motion="reduce",
        bypass_csp=True,  # the checker is put into the page, which the page's own policy forbids
    )
    page = context.new_page()
    found: list[str] = []
    for address in ("/", "/shelf/chargers", "/house", *PRACTICE, "/job/5/handover", *STAGES):
        go(page, server.address + address)
        found += wrong(page, address)
        if address in ("/", "/shelf/chargers", "/house", *PRACTICE) or (
            width < 700 and not ALL
        ):  # of the phone the first page of each, for time's sake
            continue
        for name in pages_of(page)[1:]:
            turn(page, name)
            found += wrong(page, f"{address} {name}")
    context.close()
    assert found == []


def test_dialogs(browser: Browser, server: Server) -> None:
    """A working, the keys, a shelf item's form."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", bypass_csp=True)
    page = context.new_page()
    found: list[str] = []
    go(page, f"{server.address}/job/5/run")
    page.locator('dl [data-figure="input.power_w"]').click()
    page.locator("[data-working]").wait_for()
    settle(page)
    found += wrong(page, "working")
    page.keyboard.press("Escape")
    settle(page)
    page.get_by_role("button", name="Keys").click()
    settle(page)
    found += wrong(page, "keys")
    go(page, f"{server.address}/shelf/chargers")
    page.locator(".number").first.click()
    settle(page)
    found += wrong(page, "shelf item")
    context.close()
    assert found == []
