"""A reader with decimal commas meets no point in a figure: not in a sentence, a drawing, a label, or what a field stands at."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, settle

STAGES = ("survey", "match", "run", "wake", "settings", "build", "prove", "handover")
# Dates have two points, clauses of standards a letter before them.
POINT = re.compile(r"(?<![\w.,:/\-#])[-−]?\d+\.\d+(?![\d\w]|\.\d)")
NAMED = ("aria-label", "title", "placeholder")


def halved(design: dict[str, Any]) -> dict[str, Any]:
    """A design whose every kind of figure has decimals: ratings, capacities, lengths, a thin tail, a joint."""
    design["vehicle"]["alternator"]["rated_a"] = 87.5
    design["vehicle"]["start_battery"]["capacity_ah"] = 62.5
    design["auxiliary"]["capacity_ah"] = 97.5
    design["current_limit_a"] = 12.5
    design["use"]["daily_ah"] = 22.5
    fan = {"id": "b9", "kind": "branch", "name": "fan", "feeds": "fan", "current_a": 1.5, "size": "1.5 mm²"}
    blade = {"id": "d9", "family": "blade", "rating_a": 7.5}
    design["supply"]["pieces"].append(fan | {"length_m": 1.25, "device": blade})
    return design


def everything(page: Page) -> str:
    """All a page says: its text, that of its drawings, and what is only said or shown on asking."""
    said = page.evaluate(
        "(names) => [...document.querySelectorAll('*')].flatMap((at) => names.map((name) => at.getAttribute(name) ?? ''))"
        ".concat([...document.querySelectorAll('svg text')].map((at) => at.textContent ?? '')).filter(Boolean).join(' | ')",
        list(NAMED),
    )
    return f"{page.locator('body').inner_text()} | {said}"


def points(page: Page) -> list[str]:
    """Figures with a point, and what stands around them."""
    text = everything(page)
    return [text[max(0, found.start() - 30) : found.end() + 15] for found in POINT.finditer(text)]


@pytest.mark.parametrize("stages", [STAGES[:4], STAGES[4:]], ids=["designed", "built"])
def test_no_page_of_a_job_says_a_figure_with_a_point(browser: Browser, server: Server, stages: tuple[str, ...]) -> None:
    """Every stage and each of its own pages, of a job whose figures have decimals and of one that was signed."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="de-DE")
    page = context.new_page()
    page.set_default_timeout(60_000)  # every page of a job, one after the other, others beside it
    trailer = page.request.get(f"{server.address}/api/jobs/3").json()["design"]
    made = page.request.post(
        f"{server.address}/api/jobs", data={"title": "Meter van", "design": halved(trailer)}
    ).json()
    for job in (made["id"], 5):
        for stage in stages:
            go(page, f"{server.address}/job/{job}/{stage}")
            assert points(page) == [], (job, stage)
            for tab in range(1, page.locator("[data-page]").count()):
                page.locator("[data-page]").nth(tab).click()
                settle(page)
                assert points(page) == [], (job, stage, tab)
    go(page, server.address)
    assert points(page) == []
    context.close()


@pytest.mark.refusals
def test_a_value_of_a_menu_line_is_typed_figure_by_figure(page: Page, server: Server) -> None:
    """0.05 goes through 0.0, which means 0: it stands as it is typed; what may be a thousand or one is asked about."""
    go(page, f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="avocet", exact=True).click()
    page.get_by_role("button", name="Switch 3, 4", exact=False).first.click()
    for name in ("Step", "Factory value"):
        field = page.locator(".menu").get_by_label(name, exact=True)
        field.click()
        field.press("Control+A")
        page.keyboard.type("0.05")
        expect(field).to_have_value("0.05")
    field.press("Control+A")
    page.keyboard.type("1,000")
    expect(field).to_have_value("1,000")
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_role("dialog")).to_contain_text(
        "Switch 3, 4, factory value: 1,000 may mean 1000 or 1.000; write 1000, or 1.0"
    )
    expect(field).to_have_value("1,000")


@pytest.mark.refusals
def test_a_point_before_three_figures_is_asked_about_and_stays(browser: Browser, server: Server) -> None:
    """1.000 is a thousand to this reader, or one: asked about on the shelf, too; a field drawn anew shows what was typed."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, locale="de-DE")
    page = context.new_page()
    go(page, f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="avocet", exact=True).click()
    page.get_by_role("button", name="Switch 3, 4", exact=False).first.click()
    field = page.locator(".menu").get_by_label("Factory value", exact=True)
    field.press("Control+A")
    page.keyboard.type("1.000")
    expect(field).to_have_value("1.000")
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_role("dialog")).to_contain_text(
        "Switch 3, 4, factory value: A point before three figures may set thousands apart; write 1000, or 1,0"
    )
    go(page, f"{server.address}/job/4/run")
    length = page.get_by_role("textbox", name="One-way length")
    length.fill("1.000")
    expect(length).to_have_attribute("aria-invalid", "true")
    page.locator("[data-place]").last.click()  # another piece, and back: its field is drawn anew
    page.keyboard.press("ArrowLeft")
    go(page, f"{server.address}/job/4/run")
    expect(length).to_have_value("1.000")
    context.close()
