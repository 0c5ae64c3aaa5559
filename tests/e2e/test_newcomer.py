"""A newcomer's path from a blank survey to a chosen unit, by what the screens say; and the shelf, used."""

from __future__ import annotations

import re
import sqlite3
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.documents.test_shelf_file import large_shelf
from tests.e2e.server import Server
from tests.e2e.test_screens import SAVED, entry, open_job, station


def test_from_a_blank_survey_to_a_chosen_unit(page: Page, server: Server) -> None:
    """The survey names its gaps by weight; each is filled where it sends one; the ranking then offers a clean fit."""
    page.goto(server.address)
    page.get_by_label("Vehicle").fill("Ditch-clearing tractor unit")
    page.get_by_role("button", name="Start the survey").click()
    page.get_by_role("tab", name=re.compile("Still unknown")).click()
    first = page.locator("tr[data-gap]").first
    expect(first).to_contain_text("Bonding")
    expect(first).to_contain_text("isolated or non-isolated")
    first.get_by_role("button", name=re.compile("fill in")).click()
    expect(entry(page, "vehicle.chassis.bonding_mohm")).to_be_focused()
    page.keyboard.type("3.5")
    expect(page.locator(".verdict")).to_contain_text("Non-isolated will do")

    for path, text in (
        ("vehicle.readings.rest_v", "12.6"),
        ("vehicle.readings.after_stop_v", "12.75"),
        ("vehicle.readings.idle_v", "13.9"),
        ("vehicle.readings.cruise_v", "14.2"),
        ("distances.supply_m", "2.4"),
        ("distances.delivery_m", "1.1"),
        ("auxiliary.charge_limit_a", "30"),
    ):
        entry(page, path).fill(text)
    page.get_by_role("tab", name="Loads and bank").click()
    page.get_by_role("button", name="Add load").click()
    entry(page, "use.loads.*.name").fill("sample fridge")
    entry(page, "use.loads.*.current_a").fill("4")
    entry(page, "use.loads.*.duty").fill("40")
    entry(page, "use.loads.*.standing_h").fill("20")
    entry(page, "use.drive_h").fill("3")
    entry(page, "use.rest_day_ah").fill("4")
    expect(page.get_by_label("Loads", exact=True)).to_contain_text("32 Ah a day")

    page.get_by_role("link", name=re.compile("Match")).click()
    best = page.locator("tr[data-unit]").first
    expect(best).to_contain_text(re.compile("fits|turned down"))
    expect(best).not_to_contain_text("caution")
    name = best.locator(".unit-name").inner_text().split("\n")[0]
    best.get_by_role("button", name=re.compile("with these runs")).click()
    expect(station(page, "charger")).to_contain_text(name)
    expect(station(page, "supply.1")).to_contain_text("2.4 m")
    page.get_by_role("tab", name="Will it keep up").click()
    expect(page.locator("[data-week]")).to_contain_text("It keeps up")
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    expect(page.locator("[data-finding] .stop, .findings .stop")).to_have_count(0)


def test_every_gap_leads_to_where_it_is_filled_in(page: Page, server: Server) -> None:
    """Whatever a blank survey leaves open, "fill in" puts the cursor in its entry, on whichever page that is."""
    page.goto(server.address)
    page.get_by_label("Vehicle").fill("Tide-gauge skiff's trailer")
    page.get_by_role("button", name="Start the survey").click()
    unknown = page.get_by_role("tab", name=re.compile("Still unknown"))
    unknown.click()
    gaps = page.locator("tr[data-gap]")
    expect(gaps.first).to_be_visible()
    paths = [gap.get_attribute("data-gap") or "" for gap in gaps.all()]
    assert len(paths) > 8
    for path in paths:
        unknown.click()
        page.locator(f'tr[data-gap="{path}"]').get_by_role("button", name=re.compile("fill in")).click()
        expect(entry(page, path)).to_be_focused()


def test_options_are_compared_and_one_becomes_the_design(page: Page, server: Server) -> None:
    """Keep, change, see the difference, and take the kept one back; undo brings the change again."""
    open_job(page, server, "KV-118", "match")
    page.get_by_role("tab", name="Options compared").click()
    page.get_by_role("button", name="Keep as option").click()
    expect(page.get_by_role("columnheader", name=re.compile("Option A"))).to_be_visible()
    station(page, "charger").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator('tr[data-row="charger"]')).to_contain_text("Oystercatcher")
    expect(page.locator('tr[data-row="cost"] td').first).to_contain_text("✓")
    page.get_by_role("button", name="make Option A the design").click()
    expect(station(page, "charger")).to_contain_text("Redshank")
    expect(page.locator('tr[data-row="charger"]')).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(station(page, "charger")).to_contain_text("Oystercatcher")


def test_a_cable_before_any_unit(page: Page, server: Server) -> None:
    """In a new job the Cable button of Run comes first: the run is drawn, the job stays usable, the yard opens."""
    page.goto(server.address)
    page.get_by_label("Vehicle").fill("Hedge-laying wagon")
    page.get_by_role("button", name="Start the survey").click()
    page.get_by_role("link", name=re.compile("Run")).click()
    page.get_by_role("button", name="Cable", exact=True).first.click()
    expect(station(page, "supply.0")).to_be_visible()
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(6)


@pytest.mark.refusals
def test_a_broken_job_file_stands_beside_good_ones(page: Page, server: Server) -> None:
    """One stored job that cannot be read says so in its own row; the others open, and its file can be taken."""
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    with sqlite3.connect(server.database) as stored:
        stored.execute("update revision set design = '{\"vehicle\": 3}' where job_id = 2")
    page.reload()
    row = page.locator('tr[data-job="2"]')
    expect(row).to_contain_text("cannot be read")
    expect(row.get_by_role("link", name="Take the job file")).to_be_visible()
    row.get_by_role("rowheader").get_by_role("link").click()
    expect(page.locator("main.lost")).to_contain_text("does not fit")
    page.get_by_role("link", name="Back to the yard").click()
    page.locator('tr[data-job="1"]').get_by_role("rowheader").get_by_role("link").click()
    expect(station(page, "charger")).to_be_visible()


@pytest.mark.refusals
def test_a_unit_is_added_wrong_put_right_and_retired(page: Page, server: Server) -> None:
    """A wrong figure is told at its field and stays as typed; closing asks first; the stored unit is offered, then retired."""
    page.goto(f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="clone sandling").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Shelf number").fill("own-22")
    field = dialog.locator('[data-field="output_a"] input')
    field.fill("twenty-two")
    dialog.get_by_role("button", name="Store").click()
    expect(dialog.locator('[data-field="output_a"] [role=alert]')).to_contain_text("not a number")
    expect(field).to_have_value("twenty-two")
    dialog.get_by_role("button", name="Close").last.click()
    expect(dialog).to_contain_text("not stored")
    dialog.get_by_role("button", name="Keep editing").click()
    field.fill("22")
    dialog.get_by_role("button", name="Store").click()
    expect(dialog).to_have_count(0)
    page.get_by_label("Find on this shelf").fill("own-22")
    retire = page.get_by_role("button", name=re.compile("^retire "))
    expect(retire).to_have_count(1)  # until then the rows are still moving
    page.route("**/retire", lambda route: route.abort())
    retire.click()
    expect(page.get_by_role("alert")).to_contain_text("nothing was changed")
    page.unroute("**/retire")
    retire.click()
    expect(page.get_by_text("show 1 retired")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.get_by_role("button", name="own-22", exact=True)).to_have_count(0)


def test_a_large_file_is_judged_before_it_is_stored(page: Page, server: Server, tmp_path: Path) -> None:
    """Of 5,000 rows 37 are bad: all are listed, nothing is stored until the good ones are accepted."""
    raw, wrong = large_shelf()
    file = tmp_path / "units.csv"
    file.write_bytes(raw)
    page.goto(f"{server.address}/shelf/chargers")
    page.locator("input[type=file]").set_input_files(file)
    report = page.locator(".report")
    expect(report).to_contain_text("5000 rows read")
    expect(report).to_contain_text("37 with errors")
    expect(report.locator("tr[data-error]")).to_have_count(len(wrong))
    held = page.request.get(f"{server.address}/api/shelf/chargers").json()["items"]
    assert len(held) < 100
    report.get_by_role("button", name="Store the 4963 good rows").click()
    expect(report).to_contain_text("Stored: 4963 new")
