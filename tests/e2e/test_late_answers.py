"""What is answered late counts where it was asked: not on the job, test, step or question that is open by then."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, Route, expect

from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.e2e.test_build import photograph
from tests.e2e.test_nothing_lost import stored
from tests.e2e.test_screens import SAVED, entry, open_job


class Held:
    """Answers to addresses that match are held back, oldest first, until they are let go."""

    def __init__(self, page: Page, address: str, method: str = "") -> None:
        """Begin to hold.

        Args:
            page: whose requests.
            address: pattern of what is held.
            method: only what is asked by it; all by default.
        """
        self.page, self.routes = page, list[Route]()

        def hold(route: Route) -> None:
            if method in ("", route.request.method):
                self.routes.append(route)
            else:
                route.continue_()

        page.route(re.compile(address), hold)

    def asked(self, count: int = 1) -> None:
        """Wait until so many have been asked for."""
        for _ in range(600):
            if len(self.routes) >= count:
                return
            self.page.wait_for_timeout(50)
        raise AssertionError(f"{len(self.routes)} were asked for")

    def let_go(self, which: int = 0, json: dict[str, Any] | None = None) -> None:
        """Answer one: as the server does, or so."""
        self.asked()
        route = self.routes.pop(which)
        if json is None:
            route.fulfill(response=route.fetch())
        else:
            route.fulfill(json=json)


def elsewhere(page: Page, job: int) -> None:
    """Over the yard to another job, without a reload."""
    page.locator("header").get_by_role("link", name="Yard").click()
    page.locator(f'a[href^="/job/{job}"]').first.click()
    expect(page).to_have_url(re.compile(rf"/job/{job}/"))
    expect(page.locator("main")).to_be_visible()
    settle(page)


def go_to(page: Page, address: str) -> None:
    """To an address of the application without a reload, as its links and the browser's arrows do."""
    page.evaluate(
        "address => { history.pushState({ ...history.state }, '', address); dispatchEvent(new PopStateEvent('popstate', { state: history.state })) }",
        address,
    )


def chooses(name: str) -> Callable[[Page], None]:
    return lambda page: page.get_by_role("button", name=name, exact=True).click()


def restores(page: Page) -> None:
    page.get_by_role("button", name="restore version 1").click()


# Where, what is pressed, and what of it is answered late.
PRESSED: list[tuple[str, Callable[[Page], None], str]] = [
    ("match", chooses("choose Fieldfare"), r"/api/shelf/chargers/\w+"),
    ("match", chooses("choose Fieldfare with these runs"), r"/api/match/fit$"),
    ("handover", restores, r"/revisions/1$"),
]


@pytest.mark.parametrize(("stage", "press", "address"), PRESSED, ids=["unit", "whole", "revision"])
def test_no_other_job_is_changed(
    page: Page, server: Server, stage: str, press: Callable[[Page], None], address: str
) -> None:
    """Pressed in one job and answered in another: that one stays as it was, in the store and on the screen."""
    open_job(page, server, "KV-118", "run")
    entry(page, "supply.pieces.*.length_m").fill("5.5")  # a second revision
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    before = stored(page, server, 2)
    page.goto(f"{server.address}/job/5/{stage}")
    held = Held(page, address)
    press(page)
    held.asked()
    elsewhere(page, 2)
    held.let_go()
    page.wait_for_timeout(1000)
    expect(page.get_by_role("button", name="undo")).to_be_disabled()
    assert stored(page, server, 2) == before


def test_of_two_units_the_later_stands(page: Page, server: Server) -> None:
    """Chosen one after the other, answered the other way round."""
    open_job(page, server, "KV-118", "match")
    held = Held(page, r"/api/shelf/chargers/\w+")
    names = ["choose Fieldfare", "choose Sandling"]
    for count, name in enumerate(names, 1):
        page.get_by_role("button", name=name, exact=True).click()
        held.asked(count)
    held.let_go(1)
    expect(page.locator("tr.chosen")).to_contain_text("Sandling")
    held.let_go(0)
    page.wait_for_timeout(1000)
    expect(page.locator("tr.chosen")).to_contain_text("Sandling")


def kept(page: Page, server: Server, job: int) -> dict[str, list[Any]]:
    """What was noted at each step of a job."""
    steps = page.request.get(f"{server.address}/api/jobs/{job}/build").json()["steps"]
    return {step["step"]: [entry["value"] or entry["kind"] for entry in step["entries"]] for step in steps}


@pytest.mark.parametrize("where", ["test", "job"])
def test_a_reading_belongs_to_the_test_it_was_taken_for(page: Page, server: Server, where: str) -> None:
    """The meter takes its time, and another test or job is opened meanwhile."""
    made = {"name": "Meter", "port": 5025, "reads": ["volts", "amps"]}
    assert page.request.post(f"{server.address}/api/instruments", data=made).ok
    page.goto(f"{server.address}/job/5/prove")
    page.locator('[data-go="input_a"]').click()
    held = Held(page, r"/api/instruments/\d+/read")
    page.locator("[data-read]").click()
    held.asked()
    if where == "test":
        page.locator('[data-go="posts_v"]').click()
        expect(page.locator("[data-test]")).to_have_attribute("data-test", "posts_v")
    else:
        elsewhere(page, 2)
    held.let_go(json={"value": 45.2, "spread": 0.1, "still": True, "count": 4, "text": "Meter, 4 readings"})
    page.wait_for_timeout(1000)
    assert kept(page, server, 5) == {"input_a": [45.2]}
    assert kept(page, server, 2) == {}


@pytest.mark.refusals
def test_what_a_meter_could_not_read_is_said_at_its_test(page: Page, server: Server) -> None:
    """Not at the next one, and not beside a reading that was typed since."""
    made = {"name": "Meter", "port": 9, "reads": ["volts", "amps"]}
    assert page.request.post(f"{server.address}/api/instruments", data=made).ok
    page.goto(f"{server.address}/job/5/prove")
    page.locator('[data-go="input_a"]').click()
    page.locator("[data-read]").click()
    expect(page.get_by_role("alert")).to_contain_text("Meter does not answer")
    page.locator('[data-go="posts_v"]').click()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.locator('[data-go="input_a"]').click()
    expect(page.get_by_role("alert")).to_contain_text("Meter does not answer")
    page.locator("#prove-reading").fill("45")
    page.locator("#prove-reading").press("Enter")
    expect(page.locator("[data-verdict]")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)


SLOW_PICTURES = "const swift = createImageBitmap; window.createImageBitmap = async (...given) => { await new Promise((done) => setTimeout(done, 1500)); return swift(...given) }"


@pytest.mark.parametrize("where", ["step", "stage", "job"])
def test_a_photograph_belongs_to_the_step_it_was_taken_at(page: Page, server: Server, where: str) -> None:
    """A phone needs a moment to make it small; another step, page or job is opened meanwhile."""
    page.add_init_script(SLOW_PICTURES)
    page.goto(f"{server.address}/job/4/build")
    step = page.locator("[data-step]").first
    name = step.get_attribute("data-step") or ""
    step.locator("input[type=file]").set_input_files(photograph())
    if where == "step":
        page.locator("[data-knot]").nth(3).click()
        expect(page.locator(f'[data-step="{name}"]')).to_have_count(0)
    elif where == "stage":
        page.get_by_role("link", name="Survey").first.click()
    else:
        elsewhere(page, 2)
    page.wait_for_timeout(2500)
    assert kept(page, server, 4) == {name: ["photo"]}
    assert kept(page, server, 2) == {}


def test_what_is_typed_into_the_rules_while_they_are_saved_is_kept(page: Page, server: Server) -> None:
    """The answer takes its time; what came after it was sent still stands there, to be saved."""
    page.goto(f"{server.address}/house")
    page.locator("#f-terms\\.rate_per_h").fill("72")
    held = Held(page, r"/api/house$")
    page.locator("[data-house-save]").click()
    held.asked()
    page.locator("#f-workshop\\.name").fill("Brack & Fenn")
    held.let_go()
    expect(page.locator("[data-house-told]")).to_be_visible()
    expect(page.locator("#f-workshop\\.name")).to_have_value("Brack & Fenn")
    expect(page.locator("#f-terms\\.rate_per_h")).to_have_value("72")
    expect(page.locator("[data-house-save]")).to_be_enabled()


@pytest.mark.refusals
def test_a_job_that_could_not_be_opened_does_not_cover_the_next(page: Page, server: Server) -> None:
    """No such job, told late: the one that is open by then stays."""
    open_job(page, server, "KV-118", "run")
    held = Held(page, r"/api/jobs/999$")
    go_to(page, "/job/999/run")
    held.asked()
    page.go_back()
    expect(page.locator(".frame svg")).to_be_visible()
    held.let_go()
    page.wait_for_timeout(1000)
    expect(page.locator(".frame svg")).to_be_visible()
    expect(page.locator(".lost")).to_have_count(0)


def test_an_answer_of_a_drill_is_judged_at_its_question(page: Page, server: Server) -> None:
    """Answered late, with the next one open: nothing is said of that one yet."""
    page.goto(f"{server.address}/practice/drill/order/3")
    question = page.locator("[data-question]")
    question.wait_for()
    held = Held(page, r"/api/practice/drill$")
    page.locator("[data-answer]").click()
    held.asked()
    go_to(page, "/practice/drill/order/4")
    expect(page.get_by_text("order 4")).to_be_visible()
    held.let_go()
    page.wait_for_timeout(1000)
    expect(page.locator("[data-judged]")).to_have_count(0)
    page.locator("[data-answer]").click()
    held.let_go()
    expect(page.locator("[data-judged]")).to_be_visible()


@pytest.mark.refusals
def test_a_form_takes_nothing_while_it_is_stored(page: Page, server: Server) -> None:
    """What is typed before the answer would be in neither: the form stands still; refused, one goes on where one was."""
    page.goto(f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="New unit").click()
    number, form = page.locator("#shelf-number"), page.locator("#item-form")
    number.fill("held-1")
    held = Held(page, "/api/shelf/chargers/", "PUT")
    number.press("Enter")
    held.asked()
    expect(form).to_have_attribute("inert", "")
    page.keyboard.type("999")
    expect(number).to_have_value("held-1")
    held.let_go()
    expect(form).not_to_have_attribute("inert", "")
    expect(page.locator("#item-form [role=alert]").first).to_be_visible()
    expect(number).to_be_focused()
    expect(number).to_have_value("held-1")


def test_a_stage_pressed_before_the_job_has_come_is_of_that_job(page: Page, server: Server) -> None:
    """Neither job 0, which there is none of, nor the one that was open before."""
    held = Held(page, r"/api/jobs/4$")
    page.goto(f"{server.address}/job/4/survey")
    held.asked()
    page.get_by_role("link", name=re.compile("Run")).click()
    page.wait_for_url("**/job/4/run")
    held.let_go()
    expect(page.locator("[data-place=charger]")).to_be_visible()
    page.keyboard.press("4")
    page.wait_for_url("**/job/4/wake")


def test_who_begins_to_type_while_a_dialog_opens_goes_on(page: Page, server: Server) -> None:
    """It gives the focus to a button once it has glided in: not away from an entry that was begun."""
    page.goto(f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="New unit").click()
    number = page.locator("#shelf-number")
    number.focus()
    page.keyboard.type("be")
    page.wait_for_timeout(900)
    page.keyboard.type("gun")
    expect(number).to_have_value("begun")
    expect(number).to_be_focused()
