"""Over plain HTTP, as phones of the workshop reach it, browsers leave things out: everything is noted and kept all the same."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.test_build import photograph
from tests.e2e.test_late_answers import kept
from tests.e2e.test_nothing_lost import length
from tests.e2e.test_screens import SAVED, entry

# What secure contexts alone have, by the specifications of W3C and WHATWG; this machine's own address counts as secure.
PLAIN = """
  delete Crypto.prototype.randomUUID; delete Crypto.prototype.subtle
  for (const name of ['locks', 'serviceWorker', 'clipboard', 'mediaDevices', 'storage', 'wakeLock']) delete Navigator.prototype[name]
  delete globalThis.caches
"""


@pytest.fixture
def phone(browser: Browser, server: Server) -> Iterator[Page]:
    """A phone that reaches it over plain HTTP; whatever it is told on the console fails the test.

    It needs the server, so that it is closed first: what it asks for last is still answered.
    """
    context = browser.new_context(
        base_url=server.address, viewport={"width": 390, "height": 844}, locale="en-GB", has_touch=True
    )
    context.add_init_script(PLAIN)
    page, wrong = context.new_page(), list[str]()
    page.on("console", lambda said: wrong.append(said.text) if said.type == "error" else None)
    page.on("pageerror", lambda error: wrong.append(str(error)))
    yield page
    context.close()
    assert wrong == []


def test_everything_is_noted_and_kept(phone: Page, server: Server) -> None:
    """A step, a photograph, a reading, a visit and a length arrive at the server."""
    phone.goto("/job/4/build")
    assert phone.evaluate("[typeof crypto.randomUUID, 'locks' in navigator, typeof caches]") == [
        "undefined",
        False,
        "undefined",
    ]
    step = phone.locator("[data-step]")
    name = step.get_attribute("data-step") or ""
    step.locator("input[type=file]").set_input_files(photograph())
    expect(phone.get_by_alt_text("Photograph by")).to_be_visible()
    phone.locator(".finish button.done").click()
    expect(phone.locator(f'[data-step="{name}"]')).to_have_count(0)
    phone.wait_for_timeout(500)
    assert kept(phone, server, 4) == {name: ["photo", "done"]}
    phone.goto("/job/5/prove")
    phone.locator('[data-go="posts_v"]').click()
    phone.locator("#prove-reading").fill("13.7")
    phone.locator("#prove-reading").press("Enter")
    expect(phone.locator("[data-verdict]")).to_be_visible()
    assert kept(phone, server, 5) == {"posts_v": [13.7]}
    phone.goto("/job/5/run")
    entry(phone, "supply.pieces.*.length_m").fill("5.5")
    expect(phone.locator("[data-save]")).to_have_text(SAVED)
    assert length(phone, server, 5) == 5.5
