"""Settings driven: old chargers seen to until everything agrees, the sheet printed, keyed and read back on a phone."""

from __future__ import annotations

import re

from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.test_screens import entry, finding
from tests.e2e.test_wake_pages import turn
from tests.papers import leaves

PHONE = {"width": 390, "height": 844}


def open_settings(page: Page, server: Server) -> str:
    """Open the farrier's truck at Settings; its address under the API."""
    jobs = {job["code"]: job["id"] for job in page.request.get(f"{server.address}/api/jobs").json()["jobs"]}
    page.goto(f"{server.address}/job/{jobs['FT-041']}/settings")
    expect(page.locator("[data-audit]")).to_be_visible()
    return f"{server.address}/api/jobs/{jobs['FT-041']}"


def saved(page: Page) -> None:
    """Wait until what was done is stored."""
    expect(page.get_by_text(re.compile(r"^Saved"))).to_be_visible()


def test_old_chargers_are_seen_to_until_everything_agrees(page: Page, server: Server) -> None:
    """Three old sources on a battery that became lithium: one re-set, one replaced off the shelf, one opened by a relay."""
    address = open_settings(page, server)
    expect(page.locator("[data-audit]")).to_contain_text("3 of 4 to see to")
    forge = page.locator('[data-source="existing.e2"]')
    expect(forge).to_contain_text("never")
    forge.get_by_role("button", name=re.compile("forge charger")).click()
    expect(page.get_by_text(re.compile("starts again below 12.60 V"))).to_be_visible()

    page.get_by_role("button", name=re.compile("Note roof panel.* as re-set")).click()
    expect(page.locator('[data-source="solar"]')).to_contain_text("As it is set it fills")

    turn(page, "Other sources")
    page.get_by_label("Take from the shelf").click()
    page.get_by_role("option", name=re.compile("Bullfinch")).click()
    page.locator('[data-path="existing.e2.profile"]').get_by_role("combobox").click()
    page.get_by_role("option", name="LFP").click()
    entry(page, "existing.e2.wire_mm2").fill("16")
    entry(page, "existing.e2.wire_mm2").blur()
    saved(page)

    page.goto(page.url.split("/settings")[0] + "/wake?page=link")
    page.locator('[data-decision="changeover"]').click()
    saved(page)
    page.goto(page.url.split("/wake")[0] + "/settings?page=sheet")
    expect(page.locator("[data-audit]")).to_contain_text("Everything that charges agrees")
    expect(finding(page, "settings.source.existing.e2")).to_have_count(0)

    # The charger off the shelf has a sheet of its own.
    page.get_by_role("group", name="Device to key into").get_by_role("button", name="Bullfinch").click()
    expect(page.locator('[data-line="existing.e2:kind"]')).to_contain_text("lithium")

    paper = page.request.get(f"{address}/settings.pdf")
    (sheet,) = leaves(paper.body())
    assert "To key into Dunlin" in sheet.words
    assert "14.2 V" in sheet.words


def test_the_sheet_is_ticked_on_a_phone_and_kept(browser: Browser, server: Server) -> None:
    """Each line keyed and read back with initials and day; a value read otherwise is a finding; a reload loses nothing."""
    context = browser.new_context(viewport=PHONE)  # type: ignore[arg-type]  # a width and a height
    page = context.new_page()
    address = open_settings(page, server)
    page.get_by_label("Your initials").fill("E.K.")
    first = page.locator('[data-line="equal"]')
    first.get_by_role("checkbox", name=re.compile("keyed")).click()
    first.get_by_role("checkbox", name=re.compile("read back")).click()
    expect(first).to_contain_text("E.K.")
    absorb = page.locator('[data-line="absorb"]')
    absorb.get_by_role("checkbox", name=re.compile("keyed")).click()
    absorb.get_by_role("button", name="reads otherwise").click()
    absorb.get_by_label(re.compile("it shows")).fill("14.6")
    absorb.get_by_label(re.compile("it shows")).press("Enter")
    expect(absorb).to_contain_text("not 14.2 V")
    expect(finding(page, "settings.read_back.absorb")).to_be_visible()
    saved(page)
    page.reload()
    expect(page.locator('[data-line="absorb"]')).to_contain_text("not 14.2 V")
    expect(page.locator('[data-line="equal"]').get_by_role("checkbox", name=re.compile("keyed"))).to_be_checked()
    keyed = {item["line"]: item for item in page.request.get(address).json()["design"]["keyed"]}
    assert keyed["absorb"]["seen"] == "14.6"
    assert keyed["equal"]["by"] == "E.K."
    again = page.locator('[data-line="absorb"]').get_by_label(re.compile("it shows"))
    again.fill("14,2 V")
    again.press("Enter")
    expect(finding(page, "settings.read_back.absorb")).to_have_count(0)
    context.close()
