"""Waiting until a page stands still: nothing asked for, nothing moving, nothing written anew. No guessed pauses."""

from __future__ import annotations

import time
from weakref import WeakKeyDictionary

from playwright.sync_api import Page, Request

# How often the document was changed since it was first asked, or null while something still moves.
CHANGES = """
() => {
  window.__changes ??= (() => {
    const count = { made: 0 };
    const told = { subtree: true, childList: true, attributes: true, characterData: true };
    new MutationObserver((all) => { count.made += all.length; }).observe(document, told);
    return count;
  })();
  const moving = document.getAnimations().some((one) => one.playState === 'running' &&
    one.effect?.getComputedTiming().iterations !== Infinity);
  return moving || document.readyState !== 'complete' ? null : window.__changes.made;
}
"""
TICK_MS, TICKS = 80, 4  # as long as nothing may change: longer than any pause after typing but that of saving
PATIENCE_S = 30.0

_under_way: WeakKeyDictionary[Page, set[Request]] = WeakKeyDictionary()


def _asked(page: Page) -> set[Request]:
    """Requests of a page under way, from when it was first asked."""
    if page not in _under_way:
        asked: set[Request] = set()
        _under_way[page] = asked
        page.on("request", lambda made: asked.add(made))
        page.on("requestfinished", lambda made: asked.discard(made))
        page.on("requestfailed", lambda made: asked.discard(made))
    return _under_way[page]


def settle(page: Page) -> None:
    """Return once the page has stood still for a third of a second; a page that never does fails."""
    asked, until = _asked(page), time.monotonic() + PATIENCE_S
    still, before = 0, -1
    while still < TICKS:
        assert time.monotonic() < until, f"{page.url} never stands still: {[one.url for one in asked]}"
        page.wait_for_timeout(TICK_MS)
        now = page.evaluate(CHANGES)
        still = still + 1 if not asked and now is not None and now == before else 0
        before = -1 if now is None else now


def until_true(page: Page, script: str, arg: object = None) -> None:
    """Return once a script says true. Asked from outside each time: a page's own policy forbids what watches it from within."""
    end = time.monotonic() + PATIENCE_S
    while not page.evaluate(script, arg):
        assert time.monotonic() < end, f"{page.url}: never {script}"
        page.wait_for_timeout(TICK_MS / 4)


def go(page: Page, address: str) -> None:
    """Open an address and wait until its page stands still."""
    _asked(page)
    page.goto(address)
    settle(page)


def turn(page: Page, name: str | None) -> None:
    """Go to a page of a bench, unless the view has none, and wait until it stands still."""
    if name is not None:
        page.locator(f'[data-page="{name}"]').first.click()
        settle(page)
