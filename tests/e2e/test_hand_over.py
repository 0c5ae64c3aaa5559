"""From a finished job to signed papers, a year of logbook, and the next vehicle, as a workshop does it."""

from __future__ import annotations

import io

from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.e2e.server import Server


def test_a_job_is_signed_off_and_begun_again_for_the_next_vehicle(page: Page, server: Server) -> None:
    """Each caution is accepted, a name given; the paper is no draft any more; the next vehicle waits to be measured."""
    page.goto(f"{server.address}/job/5/handover")
    signing = page.locator("[data-signing]")
    expect(signing).to_contain_text("a draft")
    expect(page.locator("[data-sign]")).to_be_disabled()
    for box in page.locator("[data-accept]").all():
        box.check()
    expect(page.locator("[data-sign]")).to_be_disabled()
    page.locator("#signed-by").fill("E. Kestrel")
    page.locator("[data-sign]").click()
    expect(signing).to_contain_text("is signed")
    expect(page.locator("[data-signature]")).to_contain_text("E. Kestrel")
    paper = PdfReader(io.BytesIO(page.request.get(f"{server.address}/api/jobs/5/report.pdf").body()))
    assert "Signed off, no. 1, by E. Kestrel" in " ".join(paper.pages[0].extract_text().split())
    page.locator("[data-next-title]").fill("Cold-chain van, the second")
    page.locator("[data-next-code]").fill("KV-119")
    page.locator("[data-next-begin]").click()
    page.wait_for_url("**/survey")
    expect(page.locator('[data-finding="survey.copied"]')).to_contain_text("another vehicle's")


def test_a_year_of_logbook_shows_where_it_leads(page: Page, server: Server) -> None:
    """Three readings typed at three visits; a word that is no number is sent back with its unit; what grows is told."""
    entries = [
        {
            "id": f"log-{at:08}",
            "procedure": "Logbook",
            "step": "loop_mohm",
            "kind": "reading",
            "value": 8.5 + 0.8 * at,
            "unit": "mΩ",
            "by": "E.K.",
            "at": f"2026-{1 + 3 * at:02}-05T10:00:00Z",
        }
        for at in range(3)
    ]
    assert page.request.post(f"{server.address}/api/jobs/5/build", data={"entries": entries}).ok
    page.goto(f"{server.address}/job/5/handover")
    page.get_by_role("tab", name="Logbook").click()
    expect(page.locator('[data-trend="loop_mohm"]')).to_contain_text("grows")
    page.locator("[data-log-text]").fill("Cleaned the earth, tightened the plug")
    page.locator("[data-log-note]").click()
    expect(page.locator("[data-log-entry]").first).to_contain_text("Cleaned the earth")
    page.get_by_role("combobox", name="What").click()
    page.get_by_role("option", name="Supply run, both ways").click()
    page.locator("[data-log-text]").fill("ten")
    page.locator("[data-log-note]").click()
    expect(page.get_by_role("alert")).to_contain_text("type it in mΩ")
    page.locator("[data-log-text]").fill("8.6")
    page.locator("[data-log-note]").click()
    expect(page.locator("[data-log-entry]").first).to_contain_text("8.6 mΩ")
