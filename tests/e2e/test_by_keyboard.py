"""One job from nothing to the sheet of paper, by keyboard alone, through a killed server."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from tests.e2e.server import Server
from tests.e2e.test_screens import open_job, station
from tests.papers import leaves


class Keyboard:
    """Hands that own no mouse: they tab to a thing by its name and type."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def tab_to(self, name: str, back: bool = False) -> None:
        """Press Tab until the element in focus carries this accessible name."""
        for _ in range(160):
            self.page.keyboard.press("Shift+Tab" if back else "Tab")
            found = self.page.evaluate(
                """() => { const at = document.activeElement; if (!at || at === document.body) return '';
                const words = [at.labels?.[0]?.textContent, at.getAttribute('aria-label'), at.textContent];
                return words.map((text) => (text ?? '').replace(/\\s+/g, ' ')).join('|') }"""
            )
            if any(name in part for part in found.split("|")):
                return
        raise AssertionError(f"Tab never reaches {name!r}")

    def fill(self, name: str, text: str) -> None:
        """Go to a field and type."""
        self.tab_to(name)
        self.page.keyboard.type(text)

    def press(self, *keys: str) -> None:
        """Press keys one after another."""
        for key in keys:
            self.page.keyboard.press(key)

    def choose(self, name: str, *downs: str) -> None:
        """Open a list by its name and walk it."""
        self.tab_to(name)
        self.press("Enter")
        expect(self.page.locator(".p-select-overlay")).to_be_visible()
        self.press(*downs, "Enter")
        expect(self.page.locator(".p-select-overlay")).to_have_count(0)


def test_from_nothing_to_the_sheet(page: Page, server: Server) -> None:
    """Survey, unit, runs, activation and PDF without a mouse or a reload; all there after SIGKILL and a new start."""
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    hands = Keyboard(page)
    hands.fill("Vehicle", "Milk float")
    hands.fill("Job number", "MF-001")
    hands.press("Enter")
    expect(page).to_have_url(re.compile(r"/job/\d+/survey$"))
    expect(page.locator(".frame svg")).to_be_visible()

    # Survey: readings as measured; the line follows.
    for label, text in (
        ("Engine off, rested", "12.6"),
        ("Just after stopping", "12.7"),
        ("Hot idle, loads on", "14.0"),
        ("Cruise", "14.2"),
    ):
        hands.fill(label, text)
    expect(page.locator(".frame svg")).to_contain_text("14.00 V")

    # Match: by the key 2, then along the units to one that fits.
    hands.press("Escape", "2")
    expect(page.locator("tr[data-unit]").first).to_be_visible()
    hands.tab_to("choose Sandling")
    hands.press("Enter")
    expect(page.locator('[data-place="charger"]')).to_contain_text("Sandling")

    # Run: take the proposals that lay both runs, then set the true length and step the size on the line.
    hands.press("Escape", "3")
    for run in ("supply", "delivery"):
        # Ways out come a breath behind their findings; before this one's are there, Tab would find the other run's.
        page.locator(f'[data-finding="run.empty.{run}"]').get_by_role("button", name="Lay 3 m of").wait_for()
        hands.tab_to("Lay 3 m of")
        hands.press("Enter")
        expect(page.locator(f'[data-finding="run.empty.{run}"]')).to_have_count(0)
    hands.press("Escape", "ArrowLeft")
    expect(station(page, "supply.1")).to_be_focused()
    before = station(page, "supply.1").text_content() or ""
    hands.press("ArrowUp", "ArrowUp")
    expect(station(page, "supply.1")).not_to_have_text(before)
    hands.fill("One-way", "")
    hands.press("Control+a")
    page.keyboard.type("3.6")
    expect(station(page, "supply.1")).to_contain_text("3.6 m")

    # Wake: the ignition is there; note it in the survey's words and choose it.
    hands.press("Escape", "4")
    hands.tab_to("Ignition feed (15)")
    hands.press("Space")
    expect(page.locator('[data-method="ignition"]')).to_have_attribute("aria-checked", "true")
    expect(page.locator("[data-save]")).to_have_text(re.compile("^Saved"))

    # Hand over: the sheet, opened by keyboard.
    hands.press("Escape", "8")
    expect(page.locator('[data-paper="sheet.pdf"]')).to_be_visible()
    hands.tab_to("Hand-over sheet")
    with page.context.expect_page() as opened:
        hands.press("Enter")
    address = opened.value.url or f"{page.url.replace('/job/', '/api/jobs/').replace('/handover', '')}/sheet.pdf"
    assert address.endswith("/sheet.pdf")
    (sheet,) = leaves(page.request.get(address).body())
    assert "Milk float" in sheet.words
    assert "3.6 m" in sheet.words

    job = int(re.search(r"/jobs/(\d+)/", address)[1])  # type: ignore[index]  # the address was checked above
    before_kill = page.request.get(f"{server.address}/api/jobs/{job}").json()
    page.goto(f"{server.address}/api/health")  # a page that asks nobody while there is no server
    server.kill()
    server.start()
    after = page.request.get(f"{server.address}/api/jobs/{job}").json()
    assert after == before_kill
    assert after["design"]["supply"]["pieces"][1]["length_m"] == 3.6
    assert set(after["design"]["activation"]["ways"]) == {"voltage", "ignition"}


def test_choices_and_limits_are_walked_by_keys(page: Page, server: Server) -> None:
    """A group of choices is one stop of Tab and walked by the arrows; a bar of the ruler opens its working by Enter."""
    open_job(page, server, "FT-041", "wake")
    page.locator('[data-page="link"]').click()
    choices = page.get_by_role("radiogroup", name="What becomes of it").get_by_role("radio")
    expect(choices).to_have_count(3)
    choices.first.focus()
    page.keyboard.press("ArrowDown")
    expect(choices.nth(1)).to_have_attribute("aria-checked", "true")
    expect(choices.nth(1)).to_be_focused()
    expect(page.locator("[data-save]")).to_have_text(re.compile("^Saved"))
    open_job(page, server, "FT-041", "match")
    bar = page.locator(".ruler").get_by_role("button", name=re.compile("Alternator, left at hot idle"))
    bar.focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-working]")).to_be_visible()


def test_escape_leaves_a_field_though_the_line_is_folded(page: Page, server: Server) -> None:
    """Keys for stages work again after Escape; the field keeps what was typed."""
    open_job(page, server, "KV-118", "survey")
    page.keyboard.press("l")
    expect(page.locator(".frame svg")).to_have_count(0)
    field = page.get_by_role("textbox", name="Start battery to unit")
    field.fill("4.5")
    field.press("Escape")
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/run"))
    page.keyboard.press("1")
    expect(page.get_by_role("textbox", name="Start battery to unit")).to_have_value("4.5")


def test_enter_on_the_line_waits_for_its_stage(page: Page, server: Server) -> None:
    """Enter on the battery opens the survey on the page it was left on and begins at its first entry, come that late."""
    open_job(page, server, "ML-207", "survey")
    page.get_by_role("tab", name="Loads and bank").click()
    expect(page.get_by_role("button", name="Add load")).to_be_visible()
    page.goto(re.sub(r"/survey.*", "/run", page.url))

    def late(route: Route) -> None:
        page.wait_for_timeout(400)
        route.continue_()

    page.route("**/assets/SurveyBank*", late)
    station(page, "auxiliary").focus()
    page.keyboard.press("Enter")
    page.wait_for_url("**/survey*")
    expect(page.get_by_role("button", name="Add load")).to_be_visible()
    expect(page.locator(".bench").locator("input, [role=combobox]").first).to_be_focused()
