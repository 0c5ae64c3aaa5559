"""On a phone what a tap opens comes into sight: nobody looks for it a screen away."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import until_true


@pytest.fixture
def phone(browser: Browser, server: Server) -> Iterator[Page]:
    """As it comes: the line folded, nothing chosen yet."""
    context = browser.new_context(
        base_url=server.address,
        viewport={"width": 390, "height": 844},
        has_touch=True,
        locale="en-GB",
        reduced_motion="reduce",
    )
    yield context.new_page()
    context.close()


def in_sight(page: Page, selector: str) -> None:
    """Its beginning stands in the upper half of the window."""
    until_true(
        page,
        """selector => {
            const at = document.querySelector(selector)?.getBoundingClientRect().top ?? -1
            return at >= -1 && at < innerHeight / 2
        }""",
        selector,
    )


def test_a_test_chosen_far_down_the_list_and_its_conductors(phone: Page) -> None:
    """The list of tests stands two screens below the one that is open."""
    phone.goto("/job/5/prove")
    phone.locator('[data-go="input_v"]').tap()
    in_sight(phone, '[data-test="input_v"]')
    phone.locator("[data-drawn]").tap()
    in_sight(phone, "[data-says]")
    expect(phone.get_by_role("heading", name="On the diagram")).to_be_visible()


def test_a_finding_opens_the_stage_it_belongs_to(phone: Page) -> None:
    """Where the line is folded nothing on it could show the place."""
    phone.goto("/job/4/settings")
    found = phone.locator("[data-finding]", has_text="Above the alternator budget")
    found.get_by_role("button").first.tap()
    phone.wait_for_url("**/job/4/match")
    in_sight(phone, "[data-bench]")


def test_a_source_chosen_is_drawn_in_sight(phone: Page) -> None:
    """The picture stands above the list of all that charges."""
    phone.goto("/job/4/settings")
    source = phone.locator("button.name[aria-pressed=false]").first
    source.tap()
    in_sight(phone, "[data-charge]")


def test_a_page_that_fits_its_window_stays_where_it_is(page: Page, server: Server) -> None:
    """With the line unfolded what is open begins in the lower half, and nothing has to move."""
    page.add_init_script("localStorage.setItem('olvask.line.folded', '{\"prove\":false}')")
    page.goto(f"{server.address}/job/5/prove")
    page.locator('[data-go="input_v"]').click()
    expect(page.locator('[data-test="input_v"]')).to_be_visible()
    page.locator("[data-drawn]").click()
    expect(page.get_by_role("heading", name="On the diagram")).to_be_visible()
    page.wait_for_timeout(600)  # a page that glides takes as long
    tops = page.evaluate(
        "[...document.querySelectorAll('.job, .job *')].filter(item => item.scrollTop && item.tagName !== 'NAV').map(item => item.className)"
    )
    assert tops == []
    assert page.locator(".job").evaluate("job => job.getBoundingClientRect().top") == 0
