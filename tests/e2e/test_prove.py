"""Prove on a phone: readings typed one test at a time, a bad return named, a slip of the comma asked about, all of it kept."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server


def read(page: Page, test: str, value: str) -> None:
    page.locator(f'[data-go="{test}"]').click()
    expect(page.locator("[data-test]")).to_have_attribute("data-test", test)
    page.locator("#prove-reading").fill(value)
    page.locator("#prove-reading").press("Enter")
    expect(page.locator("[data-verdict]")).to_be_visible()


def test_a_bad_return_is_found_on_a_phone(browser: Browser, server: Server) -> None:
    """Volts and amperes as they should be; the return drops far too much: that leg, milliohms and heat; kept over a reload."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, locale="en-GB", has_touch=True)
    page = context.new_page()
    page.goto(f"{server.address}/job/5/prove")
    page.locator("[data-test]").wait_for()
    read(page, "idle_posts_v", "13.88")
    expect(page.locator("[data-verdict]")).to_contain_text("As it should be")
    read(page, "input_a", "47.2")
    read(page, "supply_back_mv", "640")
    expect(page.locator("[data-verdict]")).to_contain_text("Well over")
    expect(page.locator("[data-sum]")).to_contain_text("A bad joint")
    expect(page.locator('[data-leg="supply_back"]')).to_contain_text("mΩ too many")
    read(page, "output_a", "400")
    expect(page.locator("[data-verdict]")).to_contain_text("ask the meter first")
    read(page, "output_a", "40.1")
    expect(page.locator("[data-verdict]")).to_contain_text("As it should be")
    expect(page.locator("[data-verdict]")).to_contain_text("2 readings kept")
    expect(page.get_by_text("kept here, sent when in reach")).to_be_hidden()
    page.reload()
    expect(page.locator("[data-sum]")).to_contain_text("A bad joint")
    steps = page.request.get(f"{server.address}/api/jobs/5/build").json()["steps"]
    kept = {
        step["step"]: [entry["value"] for entry in step["entries"]] for step in steps if step["procedure"] == "Prove"
    }
    assert kept["output_a"] == [400, 40.1]
    context.close()
