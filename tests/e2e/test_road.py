"""Wake driven: the next minutes follow a threshold, a hunting job is seen to hunt and cured, the day is given out."""

from __future__ import annotations

import csv
import re

import pytest
from playwright.sync_api import Page, expect

from tests.designs import cable, fuse, plain
from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.e2e.test_screens import finding, open_job


def test_a_hunting_job_is_seen_cured_and_given_out(page: Page, server: Server) -> None:
    """The road test shows it hunt; one way out later it runs clean, and the day comes out as CSV."""
    design = plain(
        supply={"pieces": [fuse(60.0), cable("10 mm²", 6.0)]},
        activation={"ways": ["voltage"], "start_v": 13.4, "stop_v": 13.3},
    )
    made = page.request.post(f"{server.address}/api/jobs", data={"title": "Gritter", "code": "GR-4", "design": design})
    page.goto(f"{server.address}/job/{made.json()['id']}/wake")
    expect(page.locator("[data-minutes]")).to_contain_text("hunts")
    page.get_by_role("tab", name="Road test").click()
    page.get_by_label("Programme, one stretch a line").fill("crank 2 s\nidle 15 min\ncruise 10 min\noff 5 min\n")
    verdict = page.locator("[data-verdict]")
    expect(verdict).to_contain_text("It hunts")
    finding(page, "wake.hunts").get_by_role("button", name=re.compile("charge indicator")).click()
    expect(verdict).to_contain_text("It runs clean")
    expect(page.get_by_label("What the day comes to")).to_contain_text(re.compile(r"Starts\s*1"))
    with page.expect_download() as held:
        page.get_by_role("button", name="CSV").click()
    rows = list(csv.DictReader(held.value.path().read_text(encoding="utf-8").splitlines()))
    assert held.value.suggested_filename == "gr-4-road-test.csv"
    assert {"charging", "off"} <= {row["state"] for row in rows}
    assert float(rows[-1]["time_s"]) > 1500


def test_the_next_minutes_follow_a_threshold(page: Page, server: Server) -> None:
    """A start threshold stepped above the running volts is never reached: no start in the next ten minutes."""
    open_job(page, server, "RR-031", "wake")
    said = page.locator("[data-minutes]")
    expect(said).to_contain_text("1 start")
    field = page.locator('[data-path="activation.start_rules.0.at_least_v"] input')
    field.fill("15")
    expect(said).to_contain_text("0 starts")
    field.fill("")
    expect(said).to_contain_text("1 start")


@pytest.mark.refusals
def test_a_bad_line_is_told_and_the_text_kept(page: Page, server: Server) -> None:
    """Two bad lines are both named; the text stays, also over a change of page."""
    open_job(page, server, "ML-207", "wake")
    page.get_by_role("tab", name="Road test").click()
    day = page.get_by_label("Programme, one stretch a line")
    day.fill("fly 5 min\nidle 5 min\nswim 1 h")
    alert = page.locator(".errors")
    expect(alert).to_contain_text("line 1")
    expect(alert).to_contain_text("line 3")
    expect(page.get_by_text("the last day that could be read")).to_be_visible()
    page.get_by_role("tab", name="Thresholds").click()
    page.get_by_role("tab", name="Road test").click()
    expect(day).to_have_value("fly 5 min\nidle 5 min\nswim 1 h")


def test_the_picture_is_walked_by_keys(page: Page, server: Server) -> None:
    """In the picture the arrows move the cursor, and what stood there is said."""
    open_job(page, server, "ML-207", "wake")
    page.get_by_role("tab", name="Road test").click()
    page.get_by_role("combobox", name="Programme from the library").click()
    page.get_by_role("option", name="workshop idle").click()
    chart = page.locator(".chart").first
    expect(chart).to_have_attribute("aria-label", re.compile(r"1 start\b"))
    chart.focus()
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("region", name="Road test")).to_contain_text("idle")
    expect(page.get_by_role("region", name="Road test")).to_contain_text("aux")


def test_the_picture_is_looked_at_closer(page: Page, server: Server) -> None:
    """A drag across the picture shows just that part, keys go closer and back, one press shows the whole."""
    open_job(page, server, "KV-118", "wake")
    page.get_by_role("tab", name="Road test").click()
    page.get_by_label("Programme, one stretch a line").fill("off 6 h\nrepeat 6\ncruise 9 min\noff 6 min\nend\noff 8 h")
    chart = page.locator(".picture .chart")
    whole_day = chart.get_by_text("4 h", exact=True)
    expect(whole_day).to_be_visible()
    settle(page)
    box = chart.locator("svg").bounding_box()
    assert box is not None
    across = (box["width"] - 90) / 15.5  # an hour
    page.mouse.move(box["x"] + 38 + 6 * across, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + 38 + 7.5 * across, box["y"] + 60)
    page.mouse.up()
    expect(chart.get_by_text("6 h 30 min")).to_be_visible()
    expect(whole_day).to_have_count(0)
    expect(chart.locator(".band.charging")).to_have_count(6)
    chart.focus()
    page.keyboard.press("+")
    expect(chart.locator(".band.charging")).not_to_have_count(6)
    page.keyboard.press("-")
    expect(chart.locator(".band.charging")).to_have_count(6)
    page.get_by_role("button", name="whole").click()
    expect(whole_day).to_be_visible()
