"""What is asked at every keypress goes straight to the server; where it does not answer, what was kept does."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Response, expect

from tests.e2e.server import Server


@pytest.mark.refusals
def test_straight_out_and_held(browser: Browser, server: Server) -> None:
    """With the server there the worker sees no assessment; with it gone the kept one is shown, and one never asked is not."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB")
    page = context.new_page()
    page.goto(f"{server.address}/job/4/handover")
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()  # from here on the worker sees what is asked
    answers: list[Response] = []
    page.on("response", lambda answer: answers.append(answer) if re.search(r"/api/assess\b", answer.url) else None)
    page.locator("[data-hold]").click()
    expect(page.locator("[data-held]")).to_be_visible()
    answers.clear()
    page.goto(f"{server.address}/job/4/run")
    page.locator("tr[data-size]").first.wait_for()
    assert answers
    assert not any(answer.from_service_worker for answer in answers)
    answers.clear()
    server.kill()
    page.reload()
    expect(page.locator("[data-no-signal]")).to_be_visible()
    expect(page.locator(".frame svg [data-place]").first).to_be_visible()
    held = [answer for answer in answers if answer.from_service_worker]
    assert held
    assert all("x-olvask-as-of" in answer.headers for answer in held)
    answers.clear()
    page.locator('[data-run="supply"]').nth(1).focus()
    with page.expect_event("requestfailed", lambda request: request.url.endswith("/api/assess?held")):
        page.keyboard.press("ArrowUp")
    assert not answers  # a design that nobody assessed is not answered for another
    context.close()
