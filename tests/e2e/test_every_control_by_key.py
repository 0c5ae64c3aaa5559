"""Whatever a pointer can do a key can do: each control is reached by Tab, shows that it is, and gives the focus back."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, turn
from tests.e2e.test_axe import STAGES, pages_of

# Everything that takes a press: by its role, or because the page listens to presses on it. One of a set walked by
# arrows is enough, and what only repeats a control beside it needs no stop of its own.
MARK = """
() => {
  const roles = 'button,a[href],input,select,textarea,[role=button],[role=combobox],[role=slider],[role=option],[role=tab]';
  const sets = '[role=tablist],[role=listbox],[role=radiogroup],[role=grid],[data-keys],.p-paginator,.p-selectbutton';
  let count = 0;
  for (const item of document.querySelectorAll('#app *, .p-drawer *, .p-dialog *')) {
    const key = Object.getOwnPropertySymbols(item).find((one) => one.description === '_vei');
    const listens = key && item[key].onClick && !item.closest('[data-also], td[role=cell], th:not([tabindex])');
    if (!item.matches(roles) && !listens) continue;
    if (!item.checkVisibility({ visibilityProperty: true }) || item.disabled || item.type === 'file') continue;
    if (item.closest('[aria-hidden=true], .visually-hidden, label, .p-disabled, [aria-disabled=true]')) continue;
    if (item.querySelector(roles)) continue; // a row whose own control does it
    const set = item.closest(sets);
    if (item.tabIndex < 0 && set && (set.tabIndex >= 0 || set.querySelector('[tabindex="0"], button, input'))) continue;
    if (item.tabIndex < 0 && item.closest('[tabindex="0"], button')) continue;
    item.dataset.wanted = String(count += 1);
  }
  return count;
}
"""
HERE = """
() => {
  const at = document.activeElement;
  if (!at || at === document.body) return null;
  const held = at.closest('.p-togglebutton, .p-checkbox, .p-select, .entry, label') ?? at;
  const ring = (item) => { const style = getComputedStyle(item);
    return style.outlineStyle !== 'none' || style.boxShadow !== 'none'; };
  const shown = ring(at) || ring(held) || [...held.querySelectorAll('*')].slice(0, 6).some(ring) ||
    at.matches('input, .p-select, [role=combobox], [role=option], svg *') || held.matches('.p-select');
  for (const item of [at, ...at.querySelectorAll('[data-wanted]')]) if (item === at) item.dataset.walked = '1';
  const inner = at.closest('[data-wanted]'); if (inner) inner.dataset.walked = '1';
  return shown ? '' : at.outerHTML.slice(0, 120);
}
"""
MISSED = """
() => [...document.querySelectorAll('[data-wanted]:not([data-walked])')].map((item) => item.outerHTML.slice(0, 160))
"""


def walk(page: Page, where: str) -> list[str]:
    """What Tab does not reach on the page as it stands, and what does not show that it is in focus."""
    wanted = page.evaluate(MARK)
    assert wanted > 3
    page.evaluate("document.activeElement?.blur(); getSelection()?.removeAllRanges()")
    faults: list[str] = []
    for _ in range(wanted + 60):
        page.keyboard.press("Tab")
        said = page.evaluate(HERE)
        if said:
            faults.append(f"{where}: no ring: {said}")
    return faults + [f"{where}: never reached: {item}" for item in page.evaluate(MISSED)]


@pytest.mark.parametrize("stage", [*STAGES, "/job/5/handover", "/", "/shelf/chargers", "/house", "/practice"])
def test_tab_reaches_everything(browser: Browser, server: Server, stage: str) -> None:
    """Every page of the view."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    go(page, server.address + stage)
    names = pages_of(page, 2)
    faults: list[str] = []
    for name in names:
        turn(page, name)
        faults += walk(page, f"{stage} {name}")
    context.close()
    assert faults == [], "\n".join(dict.fromkeys(faults))


def test_focus_comes_back_to_what_opened(page: Page, server: Server) -> None:
    """A working, the list of keys, a shelf item: closed by Escape, the focus is where it was."""
    go(page, f"{server.address}/job/5/run")
    for opener, opened in (
        (page.locator('dl [data-figure="input.power_w"]'), page.locator("[data-working]")),
        (page.get_by_role("button", name="Keys"), page.get_by_role("dialog")),
    ):
        opener.focus()
        page.keyboard.press("Enter")
        expect(opened).to_be_visible()
        page.keyboard.press("Escape")
        expect(opened).to_have_count(0)
        expect(opener).to_be_focused()
    go(page, f"{server.address}/shelf/chargers")
    opener = page.locator(".number").first
    opener.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(opener).to_be_focused()
