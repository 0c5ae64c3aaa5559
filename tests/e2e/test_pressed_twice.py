"""Pressed twice is pressed once: a cold thumb taps again, and the answer takes its time."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.e2e.server import Server
from tests.e2e.test_late_answers import Held, kept


def button(name: str) -> Callable[[Page], Locator]:
    return lambda page: page.get_by_role("button", name=name, exact=True)


def fill(page: Page, **entries: str) -> None:
    for name, text in entries.items():
        page.get_by_label(name.replace("_", " ")).first.fill(text)


def new_job(page: Page) -> None:
    page.locator("#new-title").fill("Pump float")


def new_set(page: Page) -> None:
    fill(page, Name_of_the_set="Tuesday")
    page.locator("[data-set-items]").fill("case 1-4")


def new_meter(page: Page) -> None:
    page.locator("[data-instruments]").click()
    page.get_by_role("dialog").get_by_label("Instrument", exact=True).fill("Bench meter")


# Where; what is typed; what is pressed; what that asks of the server.
MADE: list[tuple[str, Callable[[Page], None], Callable[[Page], Locator], str]] = [
    ("/", new_job, button("Start the survey"), r"/api/jobs$"),
    ("/job/5/match?page=options", lambda _: None, button("Keep as option"), r"/options$"),
    ("/job/5/build?page=quote", lambda _: None, lambda page: page.locator("button.give"), r"/quotes$"),
    ("/job/5/prove", new_meter, button("Keep it"), r"/api/instruments$"),
    ("/practice", new_set, button("Fix this set"), r"/api/practice/sets$"),
]


@pytest.mark.parametrize(("where", "typed", "pressed", "asks"), MADE, ids=["job", "option", "quote", "meter", "set"])
def test_what_is_made_is_made_once(
    page: Page, server: Server, where: str, typed: Callable[[Page], None], pressed: Callable[[Page], Locator], asks: str
) -> None:
    """Tapped twice before the answer is there: one is asked for."""
    page.goto(server.address + where)
    typed(page)
    wanted = pressed(page)
    expect(wanted).to_be_enabled()
    held = Held(page, asks, "POST")
    wanted.dblclick(delay=20)
    held.asked()
    page.wait_for_timeout(500)
    assert len(held.routes) == 1


def test_a_step_is_not_done_by_the_tap_on_the_one_before(page: Page, server: Server) -> None:
    """The button stays where it was and the next step comes over it: it is pressed for that one once it has been read."""
    page.goto(f"{server.address}/job/4/build")
    page.get_by_label("Your initials").fill("MB")
    page.get_by_label("Your initials").press("Tab")
    step = page.locator("[data-step]")
    for count in range(1, 4):
        name = step.get_attribute("data-step")
        page.locator(".finish button.done").dblclick(delay=20)
        expect(page.locator(f'[data-step="{name}"]')).to_have_count(0)
        page.wait_for_timeout(700)
        assert len(kept(page, server, 4)) == count
