"""Reach: every control has a name, every colour its contrast, what is used at the vehicle is large enough."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle
from tests.e2e.test_screens import SAVED, entry, finding, open_job, station

CSS = (Path(__file__).parents[2] / "frontend/src/app/theme/base.css").read_text(encoding="utf-8")
TEXTS = ("ink", "muted", "copper", "teal", "madder", "ochre", "verdigris")


def tokens(theme: str) -> dict[str, str]:
    """Colour tokens of a theme."""
    block = re.search(rf"{re.escape(theme)} \{{(.*?)\}}", CSS, re.DOTALL)
    assert block is not None
    return dict(re.findall(r"--([\w-]+): (#[0-9a-fA-F]{6})", block[1]))


def luminance(colour: str) -> float:
    """Relative luminance, WCAG 2.2 definition."""
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Contrast ratio, WCAG 2.2 definition."""
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", [":root", ".night"])
@pytest.mark.parametrize("ground", ["panel", "paper", "copper-wash"])
def test_every_text_colour_can_be_read(theme: str, ground: str) -> None:
    """Each text colour stands at 4.5 to 1 on each ground it is used on, by day and by night."""
    colours = tokens(theme)
    for name in TEXTS:
        assert contrast(colours[name], colours[ground]) >= 4.5, (name, ground)


@pytest.mark.parametrize("stage", ["survey", "match", "run", "wake", "settings", "build", "prove"])
def test_the_first_entry_is_in_reach_on_the_phone(browser: Browser, server: Server, stage: str) -> None:
    """Without scrolling: the line is folded to its strip, and unfolds where it is wanted."""
    context = browser.new_context(viewport={"width": 390, "height": 844})
    page = context.new_page()
    page.goto(f"{server.address}/job/5/{stage}")
    entry = page.locator(
        ".bench .field, .bench .way, .bench [data-line], .bench [data-step], .bench [data-test], .bench svg"
    ).first
    expect(entry).to_be_visible()
    settle(page)
    box = entry.bounding_box()
    assert box is not None
    assert box["y"] < 700
    if stage not in ("build", "prove"):  # there the step has the phone to itself
        page.get_by_role("button", name="Unfold").click()
        expect(page.locator(".frame svg")).to_be_visible()
    context.close()


def test_focus_comes_back_to_what_opened(page: Page, server: Server) -> None:
    """A working, the list of keys, a shelf item: closed by Escape, the focus is where it was."""
    go(page, f"{server.address}/job/5/run")
    for opener, opened in (
        (page.locator('dl [data-figure="input.power_w"]'), page.locator("[data-working]")),
        (page.get_by_role("button", name="Keys"), page.get_by_role("dialog")),
    ):
        opener.focus()
        page.keyboard.press("Enter")
        expect(opened).to_be_visible()
        page.keyboard.press("Escape")
        expect(opened).to_have_count(0)
        expect(opener).to_be_focused()
    go(page, f"{server.address}/shelf/chargers")
    opener = page.locator(".number").first
    opener.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(opener).to_be_focused()


def test_pages_of_a_bench_are_walked_with_arrows(page: Page, server: Server) -> None:
    """In the strip of pages the arrows move on and round, and the tab in focus is the open one."""
    open_job(page, server, "KV-118", "survey")
    page.get_by_role("tab", name="As found").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("tab", name="Loads and bank")).to_be_focused()
    expect(page.get_by_role("tab", name="Loads and bank")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("tab", name="Sums")).to_be_focused()


def test_sums_answer_as_they_are_typed_and_go_into_the_survey(page: Page, server: Server) -> None:
    """A sum follows its entries, says what cannot be, and its answer goes into the survey as measured."""
    open_job(page, server, "FT-041", "survey")
    page.get_by_role("tab", name="Sums").click()
    bonding = page.locator('[data-sum="bonding"]')
    bonding.get_by_label("Between the negatives").fill("36")
    expect(bonding).to_contain_text("3.60 mΩ")
    bonding.get_by_role("button", name="Use as bonding").click()
    page.get_by_role("tab", name="As found").click()
    expect(entry(page, "vehicle.chassis.bonding_mohm")).to_have_value("3.6")
    expect(page.locator('[data-path="vehicle.chassis.bonding_mohm"] .origin')).to_have_text("measured")


@pytest.mark.refusals
def test_a_sum_that_cannot_be_is_told_at_its_field(page: Page, server: Server) -> None:
    """25 V on a 12 V battery is refused at the reading; letters are, too; what is typed stays."""
    open_job(page, server, "FT-041", "survey")
    page.get_by_role("tab", name="Sums").click()
    rest = page.locator('[data-sum="rest"]')
    rest.get_by_label("Rested").fill("25")
    expect(rest.get_by_role("alert")).to_contain_text("nominal voltage")
    rest.get_by_label("Rested").fill("twelve")
    expect(rest.get_by_role("alert")).to_contain_text("not a number")
    expect(rest.get_by_label("Rested")).to_have_value("twelve")


@pytest.mark.refusals
def test_a_list_in_the_survey_keeps_a_wrong_entry(page: Page, server: Server) -> None:
    """A load with letters for amperes is explained in its row and stays; taking the row out clears it."""
    open_job(page, server, "KV-118", "survey")
    page.get_by_role("tab", name="Loads and bank").click()
    cell = page.locator('[data-path^="use.loads."][data-path$=".current_a"]').first
    cell.locator("input").fill("lots")
    expect(cell.get_by_role("alert")).to_contain_text("not a number")
    expect(page.locator("[data-save]")).to_contain_text("1 to mend")
    page.get_by_role("button", name="take out load 1").click()
    expect(page.locator("[data-save]")).to_have_text(SAVED)


def test_what_is_already_there_is_reckoned_with(page: Page, server: Server) -> None:
    """A built-in charger noted in the survey takes its amperes off the battery's limit on the ruler."""
    open_job(page, server, "RR-031", "survey")
    page.get_by_role("tab", name="Already there, space").click()
    page.get_by_role("button", name="Add thing").click()
    page.get_by_role("combobox", name="thing 1, What is there").click()
    page.get_by_role("option", name="small built-in charger").click()
    entry(page, "existing.*.charge_a").fill("30")
    expect(finding(page, "match.battery_limit")).to_be_visible()
    page.get_by_role("link", name=re.compile("Match")).click()
    expect(page.get_by_label("Limits ruler", exact=True)).to_contain_text("20.0 A binds")
    finding(page, "match.battery_limit").get_by_role("button", name="Turn the unit down to 20 A").click()
    expect(station(page, "charger")).to_contain_text("20 A")


def test_the_other_ways_are_in_numbers(page: Page, server: Server) -> None:
    """The plain link's amperes open their working, and the way back is changed where it is explained."""
    open_job(page, server, "KV-118", "match")
    page.get_by_role("tab", name="Other ways").click()
    panel = page.get_by_label("A link without a charger")
    expect(panel).to_contain_text("Plain link, first moment")
    panel.get_by_role("button", name="Working").click()
    expect(page.locator("[data-working]")).to_contain_text("(V_alt − V_ocv) / (R_link + R_batt)")
    page.keyboard.press("Escape")
    supply = page.get_by_role("group", name="Return of the supply run")
    supply.get_by_role("button", name="through the body").click()
    expect(finding(page, "match.no_common_negative")).to_be_visible()
    supply.get_by_role("button", name="own negative cable").click()
    expect(finding(page, "match.no_common_negative")).to_have_count(0)


def test_reduced_motion_is_kept(page: Page, server: Server) -> None:
    """Who asks for less motion gets none."""
    page.emulate_media(reduced_motion="reduce")
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    moving = "() => [...document.querySelectorAll('*')].filter((at) => parseFloat(getComputedStyle(at).transitionDuration) > 0.001).length"
    assert page.evaluate(moving) == 0


def test_a_reader_with_decimal_commas(browser: Browser, server: Server) -> None:
    """Figures, sentences and entries with commas; what is typed with one is stored as the number; the file has points."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="de-DE")
    page = context.new_page()
    open_job(page, server, "FT-041", "run")
    expect(page.locator('[data-figure="supply.resistance_mohm"]').first).to_contain_text("10,48")
    expect(page.get_by_label("Findings")).to_contain_text("3,1 %")
    length = entry(page, "supply.pieces.*.length_m")
    length.fill("3,45")
    expect(page.locator("[data-save]")).to_contain_text(SAVED)
    page.reload()
    expect(entry(page, "supply.pieces.*.length_m")).to_have_value("3,45")
    stored = page.request.get(f"{server.address}/api/jobs/1").json()["design"]["supply"]["pieces"]
    assert 3.45 in [piece.get("length_m") for piece in stored]
    length.fill("3,125")  # one that has three figures after its comma is as certain
    expect(page.locator("[data-save]")).to_contain_text(SAVED)
    page.reload()
    expect(length).to_have_value("3,125")
    length.fill("1.250")  # a thousand and a quarter to this reader, or one and a quarter: asked, kept as it was typed
    expect(length).to_have_attribute("aria-invalid", "true")
    expect(
        page.get_by_text("A point before three figures may set thousands apart; write 1250, or 1,25")
    ).to_be_visible()
    expect(length).to_have_value("1.250")
    expect(page.locator("[data-save]")).to_contain_text("1 to mend")
    context.close()


CLIPPED = """() => {
  const measure = document.createElement('canvas').getContext('2d')
  return [...document.querySelectorAll('.field .entry input')].filter((entry) => entry.offsetParent).filter((entry) => {
    const style = getComputedStyle(entry)
    measure.font = style.font
    const room = entry.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight)
    return measure.measureText(entry.value || entry.placeholder).width > room + 0.5
  }).map((entry) => entry.labels[0]?.innerText)
}"""


def test_a_narrow_entry_shows_its_figures(page: Page, server: Server) -> None:
    """Before its unit there is room for what stands in it: “12” before “×”, “2” before “circuits”."""
    open_job(page, server, "KV-118", "run")
    for name in ("Pieces and sizes", "Protection"):
        page.get_by_role("tab", name=name).click()
        if name == "Protection":
            page.get_by_label("Far-end short, least").fill("12")
        settle(page)
        assert page.evaluate(CLIPPED) == [], name
