"""What keeps a job from being saved is named wherever one is, also where its field is folded away or on another page."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle, turn

pytestmark = pytest.mark.refusals  # an entry that is none is refused, and said to be


def test_an_entry_out_of_sight_is_found_and_put_back(page: Page, server: Server) -> None:
    """Typed in a field that its tick takes away again: the mark says what it is, and puts back what was there."""
    go(page, f"{server.address}/job/4/settings")
    turn(page, "profile")
    equalises = page.get_by_role("checkbox", name="Equalise").first
    equalises.check()
    settle(page)
    page.locator('[data-path="charge.equalise_v"] input').fill("abc")
    settle(page)
    equalises.uncheck()
    settle(page)
    expect(page.locator("[data-save]")).to_have_text("1 to mend, not saved yet")
    page.locator("[data-save] button").click()
    told = page.get_by_role("dialog").locator('[data-mend="charge.equalise_v"]')
    expect(told).to_contain_text("Equalise at")
    expect(told).to_contain_text("'abc' is not a number")
    expect(told.get_by_role("button", name="Go to it")).to_have_count(0)
    told.get_by_role("button", name="Put back what was there").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.locator("[data-save=saved]")).to_be_visible()
    expect(page.locator("[data-save]")).to_be_focused()


def test_an_entry_in_sight_is_gone_to(page: Page, server: Server) -> None:
    """From the mark to its field; from another page it can still be put back."""
    go(page, f"{server.address}/job/3/settings")
    turn(page, "profile")
    field = page.locator('[data-path="charge.absorption_v"] input')
    field.fill("abc")
    settle(page)
    page.locator("[data-save] button").click()
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("[data-save] button")).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Go to it").click()
    expect(field).to_be_focused()
    expect(field).to_have_value("abc")
    page.get_by_role("link", name="Run").click()
    settle(page)
    page.locator("[data-save] button").click()
    expect(page.get_by_role("button", name="Go to it")).to_have_count(0)
    page.get_by_role("button", name="Put back what was there").click()
    expect(page.locator("[data-save=saved]")).to_be_visible()


def test_a_long_form_comes_back_to_what_was_refused(page: Page, server: Server) -> None:
    """Stored from its far end: the first entry to mend has the focus and is in sight, on the shelf and in the house rules."""
    go(page, f"{server.address}/shelf/chargers")
    page.locator("button.number").first.click()
    wrong = page.locator("#f-output_a")
    wrong.fill("abc")
    page.locator("#item-form input[type=text]").last.scroll_into_view_if_needed()
    page.get_by_role("button", name="Store").click()
    expect(wrong).to_be_focused()
    expect(wrong).to_be_in_viewport()
    expect(page.locator("#item-form .error")).to_contain_text("'abc' is not a number")
    go(page, f"{server.address}/house")
    name = page.locator("[data-house] input[type=text]").first
    name.fill("x" * 300)
    page.locator("[data-house] input[type=text]").last.scroll_into_view_if_needed()
    page.locator("[data-house-save]").click()
    expect(name).to_be_focused()
    expect(name).to_be_in_viewport()
    expect(page.locator(".foot")).to_contain_text("1 entry to mend, not saved")
