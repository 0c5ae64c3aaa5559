"""A server that asks: become the owner, invite somebody, join a phone, sign out and in without losing what was typed."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from olvask.store.stores import Stores
from tests.e2e.server import Server
from tests.e2e.settled import settle

PASSWORD = "three dull copper lugs"
# Several browsers and a server that goes and comes: on a busy machine their patience runs out now and then.
pytestmark = pytest.mark.skipif("OLVASK_AWAY" not in os.environ, reason="make check-away")


@pytest.fixture
def asking(tmp_path: Path) -> Iterator[Server]:
    """A demo that listens beyond this machine, and so asks."""
    server = Server(tmp_path / "asking.sqlite")
    server.more += ["--host", "0.0.0.0"]  # noqa: S104  # what is tested
    with server:
        yield server


def code(server: Server, role: str = "owner") -> str:
    return Stores.open(server.database).people.invite("owner" if role == "owner" else "fitter")


def joined(page: Page, server: Server, name: str, role: str = "owner") -> None:
    page.goto(f"{server.address}/join#{code(server, role)}")
    page.locator("#join-name").fill(name)
    page.locator("#join-password").fill(PASSWORD)
    page.get_by_role("button", name="Join").click()
    expect(page.locator("[data-job]").first).to_be_visible()


@pytest.mark.refusals
def test_from_stranger_to_owner_to_a_phone_that_joins(browser: Browser, asking: Server) -> None:
    """Nothing shows before a sign-in; the owner invites, sees who is in and who did what; a fitter cannot."""
    desk = browser.new_context().new_page()
    desk.goto(asking.address)
    expect(desk.locator("[data-sign-in]")).to_be_visible()
    expect(desk.locator("[data-job]")).to_have_count(0)
    joined(desk, asking, "Ansa Keld")
    desk.get_by_role("link", name="House rules").click()
    desk.locator("#invite-name").fill("Bor Tarn")
    desk.locator("[data-invite]").click()
    address = desk.locator("[data-join-address]").input_value()
    assert "/join#" in address
    phone = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    phone.goto(f"{asking.address}/join#{address.partition('#')[2]}")
    expect(phone.locator("#join-name")).to_have_value("Bor Tarn")
    phone.locator("#join-password").fill("short")
    phone.get_by_role("button", name="Join").click()
    expect(phone.get_by_role("alert")).to_contain_text("10 characters")
    phone.locator("#join-password").fill(PASSWORD)
    phone.get_by_role("button", name="Join").click()
    expect(phone.locator("[data-job]").first).to_be_visible()
    phone.goto(f"{asking.address}/house")
    expect(phone.get_by_text("An owner may save these.")).to_be_visible()
    expect(phone.locator("[data-person]")).to_have_count(0)
    desk.keyboard.press("Escape")
    desk.reload()
    expect(desk.locator('[data-person="Bor Tarn"]')).to_contain_text("BT")
    desk.get_by_text("Who did what").click()
    expect(desk.locator("[data-deed]").first).to_contain_text("Invite somebody")
    desk.get_by_role("button", name="Sign out for good Bor Tarn").click()
    expect(desk.locator('[data-person="Bor Tarn"]')).to_contain_text("does not work here any more")
    phone.goto(asking.address)
    expect(phone.locator("[data-sign-in]")).to_be_visible()


@pytest.mark.refusals
def test_a_session_that_ends_takes_nothing_typed_along(browser: Browser, asking: Server) -> None:
    """Signed out from elsewhere while typing: the sign-in comes over the screen, and beneath it everything stands and is saved."""
    page = browser.new_context().new_page()
    joined(page, asking, "Ansa Keld")
    page.goto(f"{asking.address}/job/2/run")
    length = page.get_by_role("textbox", name="One-way length")
    length.wait_for()
    settle(page)  # nothing else is asked for any more: what finds out that the session ended is the entry itself
    people = Stores.open(asking.database).people
    for device in people.sessions():
        people.sign_out(device.id)
    length.fill("7.35")
    expect(page.locator("[data-sign-in]")).to_be_visible()
    page.locator("#sign-name").fill("Ansa Keld")
    page.locator("#sign-password").fill("not this one")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert").first).to_contain_text("do not fit")
    page.locator("#sign-password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.locator("[data-sign-in]")).to_have_count(0)
    expect(length).to_have_value("7.35")
    page.locator("[data-save=saved]").wait_for()
    page.reload()
    expect(length).to_have_value("7.35")


@pytest.mark.refusals
def test_without_signal_whoever_was_in_works_on_and_a_stranger_does_not(browser: Browser, asking: Server) -> None:
    """A phone that holds the job opens it with the server gone; another browser gets no further than its own emptiness."""
    phone = browser.new_context(viewport={"width": 390, "height": 844})
    page = phone.new_page()
    joined(page, asking, "Ansa Keld")
    page.goto(f"{asking.address}/job/4/handover")
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.locator("[data-hold]").click()
    expect(page.locator("[data-held]")).to_be_visible()
    asking.kill()
    page.goto(f"{asking.address}/job/4/build")
    page.locator("[data-step]").wait_for()
    expect(page.locator("[data-sign-in]")).to_have_count(0)
    asking.start()
    page.goto(asking.address)
    page.locator("[data-sign-out]").click()
    expect(page.locator("[data-sign-in]")).to_be_visible()
    assert page.evaluate("caches.has('olvask-kept')") is False


@pytest.mark.refusals
def test_a_fitter_joins_a_phone_and_changes_the_password(browser: Browser, asking: Server) -> None:
    """What is one's own needs no owner: a code for another device, and a password that is asked for the next time."""
    desk = browser.new_context().new_page()
    joined(desk, asking, "Bor Tarn", "fitter")
    desk.goto(f"{asking.address}/house")
    desk.locator("[data-my-device]").click()
    address = desk.locator("[data-join-address]").input_value()
    phone = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    phone.goto(f"{asking.address}/join#{address.partition('#')[2]}")
    expect(phone.get_by_text("signed in as")).to_contain_text("Bor Tarn")
    phone.get_by_role("button", name="Join").click()
    expect(phone.locator("[data-job]").first).to_be_visible()
    desk.keyboard.press("Escape")
    desk.locator("#my-password").fill("short")
    desk.get_by_role("button", name="Change it").click()
    expect(desk.get_by_role("alert")).to_contain_text("10 characters")
    desk.locator("#my-password").fill("four bright brass studs")
    desk.get_by_role("button", name="Change it").click()
    expect(desk.locator("[data-my-told]")).to_be_visible()
    phone.goto(asking.address)
    phone.locator("#sign-name").fill("Bor Tarn")
    phone.locator("#sign-password").fill("four bright brass studs")
    phone.get_by_role("button", name="Sign in").click()
    expect(phone.locator("[data-job]").first).to_be_visible()
