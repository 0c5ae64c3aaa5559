"""House rules: keyed once, they show on every screen; what is typed in either unit comes to the same."""

from __future__ import annotations

import io
import os
import re
from collections.abc import Sequence

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle

STAGES = ("survey", "match", "run", "wake", "settings", "build", "prove", "handover")
METRIC = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?\s?(?:°C|K|m|mm|cm²|N·m)(?![\w²³·])|€|mΩ/m(?!\w)|mV/(?:K|°C)")
# A column of a standard's table has its own name; a programme is written in its own words.
NAMES = re.compile(r"\d+ °C column|ambient -5 °C")


def left_over(page: Page) -> list[str]:
    """Figures on a screen, its labels and titles among them, that are in no unit of such a house."""
    labels = page.evaluate(
        "[...document.querySelectorAll('[aria-label],[title],[placeholder]')]"
        ".map(one => ['aria-label', 'title', 'placeholder'].map(name => one.getAttribute(name) ?? '').join(' ')).join(' | ')"
    )
    return METRIC.findall(NAMES.sub("", f"{page.locator('body').inner_text()} | {labels}"))


def in_feet(page: Page, server: Server) -> None:
    """House rules typed on their page: feet, °F, lb·in, £."""
    page.goto(f"{server.address}/house")
    page.locator("#f-workshop\\.name").fill("Brack & Fenn")
    for name, option in (("Lengths", "feet and inches"), ("Temperatures", "°F"), ("Torques", "lb·in")):
        page.get_by_role("combobox", name=name).click()
        page.get_by_role("option", name=option, exact=True).click()
    page.locator("#f-units\\.currency").fill("£")


def save_house(page: Page) -> None:
    """Keep them; the page comes anew in their units."""
    with page.expect_navigation():
        page.locator("[data-house-save]").click()


def look_through(page: Page, server: Server, places: Sequence[str]) -> None:
    """No page of these, and none of its own pages, says a metric figure."""
    for place in places:
        go(page, f"{server.address}{place}")
        assert left_over(page) == [], place
        for tab in range(1, page.locator("[data-page]").count()):
            page.locator("[data-page]").nth(tab).click()
            settle(page)
            assert left_over(page) == [], (place, tab)


def test_a_house_that_reads_feet_reads_them_everywhere(page: Page, server: Server) -> None:
    """Saved on the page; a run's length typed as 12 is 12 ft, as "2 m" 6.56 ft; no screen of the job says a metric figure."""
    page.set_default_timeout(60_000)  # every page of a job, one after the other, others beside it
    in_feet(page, server)
    expect(page.locator("[data-house-sample]")).to_contain_text("14.76 ft")
    expect(page.locator("[data-house-sample]")).to_contain_text("Brack & Fenn")
    page.reload()  # half typed, it outlives a reload
    expect(page.locator("#f-workshop\\.name")).to_have_value("Brack & Fenn")
    save_house(page)
    page.goto(f"{server.address}/job/5/run")
    length = page.get_by_role("textbox", name="One-way length")
    length.fill("12")
    length.blur()
    expect(length).to_have_value("12")
    saved = page.locator("[data-save=saved]")
    saved.wait_for()
    page.reload()
    expect(length).to_have_value("12")
    length.fill("2 m")
    length.blur()
    expect(length).to_have_value("6.56")
    look_through(page, server, [f"/job/5/{stage}" for stage in STAGES])


@pytest.mark.skipif("OLVASK_REACH" not in os.environ, reason="make check-reach")
@pytest.mark.refusals  # the third demo job holds stops: what cannot be bought is refused
def test_every_job_of_such_a_house(page: Page, server: Server) -> None:
    """The other demo jobs, yard, shelf and practice."""
    page.set_default_timeout(60_000)
    in_feet(page, server)
    save_house(page)
    practice = ["/practice/case/2-4", "/practice/drill/size/3", "/practice/drill/thresholds/2"]
    look_through(page, server, ["/", "/shelf/chargers", *practice])
    look_through(page, server, [f"/job/{job}/{stage}" for job in (1, 2, 3, 4) for stage in STAGES])


@pytest.mark.refusals
def test_a_workshops_mark_is_chosen_seen_and_taken_out(page: Page, server: Server) -> None:
    """Drawn on the sample at once, there after a reload and after saving; what is no picture is said."""
    page.goto(f"{server.address}/house")
    mark = page.locator("[data-house-sample] img")
    picture = io.BytesIO()
    Image.new("RGB", (300, 100), (164, 85, 42)).save(picture, "PNG")
    page.locator("[data-picture]").set_input_files(
        {"name": "mark.png", "mimeType": "image/png", "buffer": picture.getvalue()}
    )
    expect(mark).to_be_visible()
    page.reload()  # chosen and not saved, it outlives a reload
    expect(mark).to_be_visible()
    page.locator("[data-house-save]").click()
    expect(page.locator("[data-house-told]")).to_be_visible()
    assert page.request.get(f"{server.address}/api/house").json()["house"]["workshop"]["picture"]
    page.locator("[data-picture]").set_input_files(
        {"name": "mark.png", "mimeType": "image/png", "buffer": b"no picture"}
    )
    expect(page.get_by_role("alert")).to_contain_text("send it as JPEG, PNG or WebP")
    expect(mark).to_be_visible()  # the one before stays
    page.locator("[data-picture-out]").click()
    expect(mark).to_have_count(0)
    expect(page.locator("[data-house-save]")).to_be_enabled()


def test_a_job_that_keeps_to_others_is_told_and_takes_the_houses(page: Page, server: Server) -> None:
    """What differs is named in Hand over; one press takes it over, and undo gives it back."""
    page.goto(f"{server.address}/house")
    page.locator("#f-choices\\.drop_percent").fill("2.5")
    page.locator("#f-terms\\.rate_per_h").fill("72")
    page.locator("[data-house-save]").click()
    expect(page.locator("[data-house-told]")).to_be_visible()
    page.goto(f"{server.address}/job/2/handover")
    differs = page.locator("[data-differs]")
    expect(differs).to_have_count(2)
    page.get_by_role("button", name="take the house's Drop limit per run").click()
    expect(differs).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(differs).to_have_count(2)
    page.locator("[data-house-all]").click()
    expect(page.locator("[data-house-same]")).to_be_visible()
    page.goto(f"{server.address}/")
    page.locator("#new-title").fill("Milk float")
    page.get_by_role("button", name="Start the survey").click()
    page.wait_for_url("**/survey")
    page.goto(page.url.replace("survey", "handover"))
    expect(page.locator("[data-house-same]")).to_be_visible()


@pytest.mark.refusals
def test_a_customers_data_is_taken_along_and_erased(page: Page, server: Server) -> None:
    """One file of everything; erased only when the name is typed once more."""
    page.goto(f"{server.address}/house")
    page.locator("#customer").fill("Marrow Valley Dispensary")
    with page.expect_download() as taken:
        page.locator("[data-dossier]").click()
    assert taken.value.suggested_filename == "dossier.zip"
    page.locator("[data-erase]").click()
    page.locator("#customer-again").fill("Marrow")
    page.get_by_role("button", name="Erase for good").click()
    expect(page.get_by_role("alert")).to_contain_text("the two names are not the same")
    page.locator("#customer-again").fill("Marrow Valley Dispensary")
    page.get_by_role("button", name="Erase for good").click()
    expect(page.locator("[data-erased]")).to_contain_text("1 job is erased")
    page.goto(server.address)
    expect(page.locator("[data-job]")).to_have_count(4)
