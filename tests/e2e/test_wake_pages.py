"""Wake's other pages driven: the method taken, the old link decided, tolerances run, a day built and two designs on it."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.e2e.test_screens import finding, open_job, station


def turn(page: Page, name: str) -> None:
    """Open one page of the bench."""
    page.get_by_role("tab", name=re.compile(name)).click()


def test_the_recommended_way_is_taken_with_one_press(page: Page, server: Server) -> None:
    """Reasons and wiring are shown, one press sets it, and undo brings the old one back."""
    open_job(page, server, "FT-041", "wake")
    turn(page, "Method and wiring")
    expect(page.locator("[data-advice]")).to_contain_text("by voltage")
    page.locator('[data-way="d_plus"]').click()
    expect(page.get_by_label(re.compile("alternator D"))).to_be_visible()
    expect(page.get_by_text("If the wire breaks")).to_be_visible()
    page.locator('[data-way="voltage"]').click()
    page.get_by_role("button", name="Use this").click()
    expect(page.locator('[data-way="voltage"]')).to_contain_text("in use")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-way="d_plus"]')).to_contain_text("in use")


def test_the_old_link_is_decided(page: Page, server: Server) -> None:
    """Undecided it is a finding; decided it is none, the relay is drawn, and what is lost stands in the table."""
    open_job(page, server, "FT-041", "wake")
    finding(page, "wake.old_link")
    turn(page, "Old link")
    page.locator('[data-decision="changeover"]').click()
    expect(page.get_by_label(re.compile("Changeover relay in the start-battery feed"))).to_be_visible()
    expect(page.locator('[data-finding="wake.old_link"]')).to_have_count(0)
    loads = page.get_by_label("Loads before and after")
    expect(loads).to_contain_text("Lost")
    page.locator('[data-carries="fridge"]').click()
    expect(page.get_by_label(re.compile("Changeover relay between the panel"))).to_be_visible()
    page.locator('[data-decision="keep"]').click()
    finding(page, "wake.old_link_fights")


def few(page: Page, vehicles: int = 250) -> None:
    """Have fewer vehicles driven, for time's sake."""

    def fewer(route: Route) -> None:
        if route.request.method == "POST":
            route.continue_(post_data=json.dumps((route.request.post_data_json or {}) | {"vehicles": vehicles}))
        else:
            route.continue_()

    page.route("**/api/tolerance*", fewer)
    page.route("**/api/tolerance/cures", fewer)


def test_a_thousand_vehicles_are_driven_and_the_work_can_be_stopped(page: Page, server: Server) -> None:
    """The share at fault and what matters most are told; a run can be stopped, and says so."""
    few(page, 600)
    open_job(page, server, "KV-118", "wake")
    turn(page, "Tolerances")
    said = page.locator("[data-said]")
    expect(said).to_contain_text("of vehicles fail")
    expect(page.locator("[data-matters]").first).to_contain_text("joints")
    cure = page.locator("[data-cure]").filter(has_text="50 mm²")
    expect(cure).to_contain_text("%")
    before = said.inner_text()
    cure.get_by_role("button").click()
    expect(said).not_to_have_text(before)
    expect(station(page, "supply.1")).to_contain_text("50 mm²")
    page.get_by_label("Joints gain up to mΩ").fill("0")
    page.get_by_label("Joints gain up to mΩ").press("Tab")
    expect(page.get_by_text("changed since")).to_be_visible()
    page.get_by_role("button", name="Drive them again").click()
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.get_by_text("stopped ·")).to_be_visible()


@pytest.mark.refusals
def test_a_tolerance_out_of_range_is_named_and_the_old_answer_called_old(page: Page, server: Server) -> None:
    """Nine volts for the alternator: the field is named with its range, the shares shown are those from before."""
    few(page)
    open_job(page, server, "KV-118", "wake")
    turn(page, "Tolerances")
    said = page.locator("[data-said]")
    expect(said).to_contain_text("of vehicles fail")
    field = page.get_by_label("Alternator, regulator V")
    field.fill("9")
    field.press("Tab")
    page.get_by_role("button", name="Drive them again").click()
    expect(page.get_by_role("alert")).to_contain_text("from 0 to 2 V")
    expect(page.get_by_text("changed since")).to_be_visible()
    expect(page.get_by_text("What would cut it")).to_have_count(0)
    page.get_by_role("button", name="defaults").click()
    page.get_by_role("button", name="Drive them again").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.locator("[data-cure]").first).to_be_visible()


@pytest.mark.refusals
def test_a_tolerance_is_a_number_only_for_certain(page: Page, server: Server) -> None:
    """Forms of 0.08 V are that and no 8 or 80; what may be a thousand stays as typed and is asked about by the field's name."""
    few(page)
    open_job(page, server, "KV-118", "wake")
    turn(page, "Tolerances")
    field = page.get_by_label("Survey meter V")
    for typed in ("0,08", "0.08", "80 mV", ".08 V", "8e-2"):
        field.press("Control+A")
        field.press_sequentially(typed)
        expect(field).to_have_value(typed)
        field.press("Tab")
        expect(field).to_have_value("0.08")
    field.press("ArrowUp")
    expect(field).to_have_value("0.09")
    field.fill("1,000")
    field.press("Tab")
    expect(field).to_have_value("1,000")
    page.get_by_role("button", name="Drive them again").click()
    expect(page.get_by_role("alert")).to_contain_text("Survey meter: 1,000 may mean 1000 or 1.000")


def test_a_day_is_built_and_the_line_follows_the_cursor(page: Page, server: Server) -> None:
    """Blocks are added, stretched and taken out by key; the text says the same, and the level line shows the moment."""
    open_job(page, server, "RR-031", "wake")
    turn(page, "Road test")
    page.get_by_label("Programme, one stretch a line").fill("off 1 min\ncruise 10 min\n")
    page.get_by_role("tab", name="on a timeline").click()
    blocks = page.locator("[data-block]")
    expect(blocks).to_have_count(2)
    page.get_by_role("button", name="low", exact=True).click()
    expect(blocks).to_have_count(3)
    long = page.get_by_label("How long")
    for typed in ("1,000", "-5", "a while", "1 h 30 min"):  # only the last is a time for certain
        long.fill(typed)
        long.press("Tab")
        expect(long).to_have_value("90" if typed == "1 h 30 min" else typed)
        expect(page.get_by_role("alert")).to_have_count(0 if typed == "1 h 30 min" else 1)
    page.get_by_role("tab", name="as text").click()
    expect(page.get_by_label("Programme, one stretch a line")).to_have_value("off 1 min\nlow 90 min\ncruise 10 min\n")
    page.get_by_role("tab", name="on a timeline").click()
    blocks.nth(1).click()
    page.keyboard.press("Delete")
    expect(blocks).to_have_count(2)
    chart = page.locator(".chart").first
    expect(chart).to_have_attribute("aria-label", re.compile(r"1 start\b"))
    chart.focus()
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_label("Level line")).to_contain_text("road test:")


def test_two_designs_drive_the_same_day(page: Page, server: Server) -> None:
    """An option kept in Match is driven beside the design, and both totals stand side by side."""
    open_job(page, server, "ML-207", "match")
    turn(page, "Options")
    page.get_by_role("button", name="Keep as option").click()
    page.get_by_role("columnheader", name="Option A").wait_for()
    page.goto(page.url.replace("/match", "/wake"))
    turn(page, "Road test")
    page.get_by_role("combobox", name="Option driven beside it").click()
    page.get_by_role("option", name="Option A").click()
    expect(page.get_by_role("columnheader", name="Option A")).to_be_visible()
    expect(page.locator("path.other").first).to_be_attached()


def test_a_quick_start_is_taken_dragged_and_taken_out(page: Page, server: Server) -> None:
    """One press takes the proposal; its mark stands on the ladder and at the unit, and dragging it changes what is set."""
    open_job(page, server, "KV-118", "wake")
    page.get_by_role("button", name="Add a quick start, 14.20 V").click()
    handle = page.locator('[data-threshold="activation.start_rules.1.at_least_v"]')
    expect(handle).to_have_attribute("aria-valuenow", "14.2")
    expect(page.get_by_label("Level line")).to_contain_text("14.20")
    settle(page)
    box = handle.locator(".chip").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 30)
    page.mouse.up()
    field = page.locator('[data-path="activation.start_rules.1.at_least_v"] input')
    expect(field).not_to_have_value("14.2")
    assert 12.5 < float(field.input_value()) < 14.2
    page.get_by_role("button", name=re.compile("take out Start")).click()
    expect(handle).to_have_count(0)


def test_a_profile_for_another_chemistry_is_named_and_undone(page: Page, server: Server) -> None:
    """Chosen on the road test it fills less and is a finding; the way out sets the battery's own again."""
    open_job(page, server, "RR-031", "wake")
    turn(page, "Road test")
    page.get_by_label("Programme, one stretch a line").fill("begin auxiliary 60 %\ncruise 1 h\n")
    comes_to = page.get_by_label("What the day comes to")
    expect(comes_to).to_contain_text(re.compile(r"Into the battery\s*(2[6-9]|30)\."))
    page.get_by_role("combobox", name="Unit's profile").click()
    page.get_by_role("option", name="flooded lead-acid").click()
    expect(comes_to).to_contain_text(re.compile(r"Into the battery\s*(1\d|2[0-4])\."))
    page.get_by_role("link", name=re.compile("Settings")).click()
    finding(page, "settings.profile_other").get_by_role("button", name="Set the LFP profile").click()
    expect(finding(page, "settings.profile_other")).to_have_count(0)
