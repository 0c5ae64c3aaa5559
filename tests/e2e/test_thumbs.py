"""Sizes: what a thumb can hit at the vehicle, what an eye can read, what is in reach without scrolling."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle, turn
from tests.e2e.test_axe import PRACTICE, STAGES, pages_of

# Controls shown, each with the box that takes the press: a label for a tick, the whole select for its words.
SMALL = """
(least) => {
  const found = new Set();
  const controls = 'button,a,input,textarea,[role=button],[role=tab],[role=combobox],[role=slider]';
  for (const item of document.querySelectorAll(controls)) {
    const held = item.closest('.p-select, label, [role=slider], .p-togglebutton') ?? item;
    const box = held.getBoundingClientRect();
    const shown = item.checkVisibility({ visibilityProperty: true, opacityProperty: false });
    if (!shown || box.width === 0 || item.closest('.visually-hidden, svg, p')) continue;
    if (Math.round(Math.max(box.height, item.getBoundingClientRect().height)) < least || box.width < 24)
      found.add(`${Math.round(box.width)}×${Math.round(box.height)} ${(item.ariaLabel || item.textContent).trim().slice(0, 30)}`);
  }
  return [...found];
}
"""
TINY = """
() => {
  const found = new Set();
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const text = walker.currentNode, owner = text.parentElement;
    if (text.textContent.trim() && owner.checkVisibility() && parseFloat(getComputedStyle(owner).fontSize) < 12)
      found.add(text.textContent.trim().slice(0, 30));
  }
  return [...found];
}
"""


@pytest.mark.parametrize(("width", "height", "least"), [(390, 844, 44), (1280, 800, 24)], ids=["phone", "desk"])
def test_targets_and_text(browser: Browser, server: Server, width: int, height: int, least: int) -> None:
    """Nothing to press is smaller than a thumb at the vehicle, than a pointer at the desk; no text is under 12 px."""
    context = browser.new_context(viewport={"width": width, "height": height})
    page = context.new_page()
    found: list[str] = []
    for address in (*STAGES, *PRACTICE, "/job/5/handover", "/", "/shelf/chargers", "/house"):
        go(page, server.address + address)
        for name in pages_of(page, 9 if least > 24 else 1):
            turn(page, name)
            wide = least if address.startswith("/job") else 24
            found += [f"{address} {name}: {item}" for item in page.evaluate(SMALL, wide)]
            found += [f"{address} {name}: text {item}" for item in page.evaluate(TINY)]
    context.close()
    assert found == [], "\n".join(found)


@pytest.mark.parametrize("stage", ["survey", "match", "run", "wake", "settings", "build", "prove"])
def test_the_first_entry_is_in_reach_on_the_phone(browser: Browser, server: Server, stage: str) -> None:
    """Without scrolling: the line is folded to its strip, and unfolds where it is wanted."""
    context = browser.new_context(viewport={"width": 390, "height": 844})
    page = context.new_page()
    page.goto(f"{server.address}/job/5/{stage}")
    entry = page.locator(
        ".bench .field, .bench .way, .bench [data-line], .bench [data-step], .bench [data-test], .bench svg"
    ).first
    expect(entry).to_be_visible()
    settle(page)
    box = entry.bounding_box()
    assert box is not None
    assert box["y"] < 700
    if stage not in ("build", "prove"):  # there the step has the phone to itself
        page.get_by_role("button", name="Unfold").click()
        expect(page.locator(".frame svg")).to_be_visible()
    context.close()


def test_a_small_laptop_stacks_the_panels(browser: Browser, server: Server) -> None:
    """At 1024×768 nothing of the voltage ladder covers its band's labels, and no page scrolls sideways."""
    context = browser.new_context(viewport={"width": 1024, "height": 768})
    page: Page = context.new_page()
    for address in STAGES:
        go(page, server.address + address)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    go(page, f"{server.address}/job/1/wake")
    ladder = page.locator(".ladder, [aria-label='Voltage ladder']").first.bounding_box()
    assert ladder is not None
    assert ladder["width"] > 600
    context.close()
