"""The screens, used. Values are tested in the core; here a task is done."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.e2e.server import Server
from tests.e2e.settled import settle

SAVED = re.compile(r"^Saved")


def open_job(page: Page, server: Server, code: str, stage: str) -> None:
    """Open a demo job at a stage, the line drawn."""
    jobs = {job["code"]: job["id"] for job in page.request.get(f"{server.address}/api/jobs").json()["jobs"]}
    page.goto(f"{server.address}/job/{jobs[code]}/{stage}")
    expect(page.locator(".frame svg")).to_be_visible()


def entry(page: Page, path: str) -> Locator:
    """The entry field at a path of the design; of a piece, that of the selected one: `supply.pieces.*.length_m`."""
    before, within, after = path.partition("*")
    wanted = f'[data-path^="{before}"][data-path$="{after}"]' if within else f'[data-path="{path}"]'
    return page.locator(f"{wanted} input").first


def finding(page: Page, id: str) -> Locator:
    """A finding in the panel."""
    return page.locator(f'[data-finding="{id}"]')


def station(page: Page, place: str) -> Locator:
    """A station on the line, or a piece by its run and position: `supply.1`."""
    run, _, position = place.partition(".")
    return page.locator(f'[data-run="{run}"]').nth(int(position)) if position else page.locator(f'[data-place="{run}"]')


def test_the_yard_shows_five_jobs_and_loads_nothing_foreign(page: Page, server: Server) -> None:
    """Five jobs stand in the yard, each with what is next; fonts and icons come from this server."""
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    expect(page.get_by_role("row", name="Peat-survey pickup")).to_contain_text("3 stops")
    assert page.evaluate("document.fonts.ready.then(() => document.fonts.check('600 14px Barlow'))")


def test_walking_and_stepping_the_line(page: Page, server: Server) -> None:
    """Arrows walk the line and step sizes; everything is recomputed and can be undone and redone."""
    open_job(page, server, "KV-118", "run")
    chosen = station(page, "supply.1")
    expect(chosen).to_have_attribute("aria-selected", "true")
    chosen.focus()
    head = page.locator('[data-figure="supply.resistance_mohm"]').first
    before = head.inner_text()
    page.keyboard.press("ArrowUp")
    expect(chosen).to_contain_text("1 AWG")
    expect(head).not_to_have_text(before)
    page.keyboard.press("Control+z")
    expect(chosen).to_contain_text("35 mm²")
    expect(head).to_have_text(before)
    page.keyboard.press("Control+Shift+z")
    expect(chosen).to_contain_text("1 AWG")
    page.keyboard.press("ArrowRight")
    expect(station(page, "supply.2")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowUp")
    expect(station(page, "supply.0")).to_contain_text("90 A")


def test_keys_for_stages_conditions_working_and_help(page: Page, server: Server) -> None:
    """Digits change the stage, c the condition, w opens a working, ? the list of keys, n the night."""
    open_job(page, server, "KV-118", "survey")
    station(page, "charger").focus()
    page.keyboard.press("4")
    expect(page).to_have_url(re.compile("/wake$"))
    page.keyboard.press("c")
    expect(page.get_by_role("button", name="Cruise")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("w")
    expect(page.locator("[data-working]")).to_contain_text("Where the numbers come from")
    page.keyboard.press("Escape")
    expect(page.locator("[data-working]")).to_have_count(0)
    station(page, "charger").focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("walk the line")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    station(page, "charger").focus()
    page.keyboard.press("n")
    expect(page.locator("html")).to_have_class(re.compile("night"))


def test_a_working_leads_to_its_inputs(page: Page, server: Server) -> None:
    """From a figure's working one goes to the figures it was computed from."""
    open_job(page, server, "KV-118", "run")
    page.locator('dl [data-figure="input.power_w"]').click()
    drawer = page.locator("[data-working]")
    expect(drawer).to_contain_text("V_out · I_out / η")
    drawer.get_by_role("button", name="Output terminals").click()
    expect(drawer).to_have_attribute("data-working", "output.voltage_v")
    expect(drawer).to_contain_text("datasheet")


def test_a_way_out_cures_and_is_saved(page: Page, server: Server) -> None:
    """One click on the way out takes the caution away, and the job is stored so."""
    open_job(page, server, "FT-041", "wake")
    finding(page, "wake.old_link").get_by_role("button", name=re.compile("by a relay")).click()
    expect(finding(page, "wake.old_link")).to_have_count(0)
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    page.reload()
    expect(finding(page, "wake.old_link")).to_have_count(0)
    page.get_by_role("tab", name="Old link").click()
    expect(page.locator('[data-decision="changeover"]')).to_have_attribute("aria-checked", "true")


def test_a_collapsing_run_falls_off_the_line(page: Page, server: Server) -> None:
    """Thin wire has no stable voltage: the line falls off and the finding offers a size that runs, and what that needs."""
    open_job(page, server, "PS-064", "run")
    row = page.locator('tr[data-size="2.5 mm²"]')
    row.click()
    expect(page.locator(".state")).to_have_text("collapses at full current")
    expect(page.locator("path.fall").first).to_be_visible()
    finding(page, "run.collapse").get_by_role("button", name=re.compile("so that it runs, and")).click()
    expect(page.locator("path.fall")).to_have_count(0)


def test_the_ladder_chooses_a_size(page: Page, server: Server) -> None:
    """A click on a rung puts that size into the design; AWG keeps its own area beside it."""
    open_job(page, server, "ML-207", "run")
    rung = page.locator('tr[data-size="4 AWG"]')
    expect(rung).to_contain_text("21.1 mm²")
    rung.click()
    expect(rung).to_have_class(re.compile("chosen"))
    expect(station(page, "supply.1")).to_contain_text("4 AWG")


def test_choosing_a_unit_from_the_shelf(page: Page, server: Server) -> None:
    """A unit that must be turned down goes in with its setting."""
    open_job(page, server, "RR-031", "match")
    row = page.locator('tr[data-unit="fieldfare"]')
    expect(row).to_contain_text("turned down to 50 A")
    row.get_by_role("button", name="choose Fieldfare", exact=True).click()
    expect(row).to_contain_text("in the design")
    expect(entry(page, "current_limit_a")).to_have_value("50")
    expect(station(page, "charger")).to_contain_text("50 A")


def settled(handle: Locator) -> float:
    """Where a handle stands once the last of a drag has arrived."""
    was, now = None, handle.get_attribute("aria-valuenow")
    while was != now:
        handle.page.wait_for_timeout(250)
        was, now = now, handle.get_attribute("aria-valuenow")
    return float(now or 0)


def test_dragging_a_threshold(page: Page, server: Server) -> None:
    """A threshold dragged or stepped is held to and loses its proposal; it can be proposed again."""
    open_job(page, server, "RR-031", "wake")
    handle = page.locator('[data-threshold="activation.stop_rules.0.below_v"]')
    settle(page)
    was = handle.get_attribute("aria-valuenow")
    box = handle.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 20, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 20, box["y"] + 60, steps=6)
    page.mouse.up()
    expect(handle).not_to_have_attribute("aria-valuenow", was or "")
    expect(handle).to_have_attribute("aria-valuetext", re.compile("set"))
    settle(page)  # a busy machine draws the drag's last step after its button is up
    handle.focus()
    dragged = float(handle.get_attribute("aria-valuenow") or 0)
    page.keyboard.press("ArrowUp")
    expect(handle).to_have_attribute("aria-valuetext", re.compile(f"^{dragged + 0.1:.2f} V"))
    page.get_by_role("button", name="propose all").click()
    expect(handle).to_have_attribute("aria-valuenow", was or "")


@pytest.mark.refusals
@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("four", "not a number"),
        ("-3", "out of range"),
        ("0", "out of range"),
        ("99999", "from 0.01 to 60 m"),
        ("", "Nothing entered"),
    ],
)
def test_wrong_entries_stay_and_are_explained(page: Page, server: Server, typed: str, words: str) -> None:
    """A wrong length is kept as typed, explained at the field, not stored, and survives stage changes and a reload."""
    open_job(page, server, "ML-207", "run")
    field = entry(page, "supply.pieces.*.length_m")
    field.fill(typed)
    alert = page.locator('[data-path$=".length_m"] [role=alert]')
    expect(alert).to_contain_text(words)
    expect(page.locator("[data-save]")).to_contain_text("1 to mend")
    page.get_by_role("link", name=re.compile("Wake")).click()
    page.get_by_role("link", name=re.compile("Run")).click()
    expect(field).to_have_value(typed)
    page.reload()
    expect(page.locator("[data-save]")).to_contain_text("1 to mend")
    station(page, "supply.1").click()
    expect(field).to_have_value(typed)
    field.fill("5.5")
    expect(alert).to_have_count(0)
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    expect(station(page, "supply.1")).to_contain_text("5.5 m")


def test_a_comma_is_a_decimal_point(page: Page, server: Server) -> None:
    """5,5 is five and a half metres."""
    open_job(page, server, "ML-207", "run")
    entry(page, "supply.pieces.*.length_m").fill("5,5")
    expect(station(page, "supply.1")).to_contain_text("5.5 m")


@pytest.mark.refusals
def test_a_stale_save_shows_both_sides(page: Page, server: Server) -> None:
    """A job saved elsewhere is not overwritten: both are shown, mine can be kept as the newer version."""
    open_job(page, server, "ML-207", "survey")
    address = page.url.split("/job/")[1].split("/")[0]
    stored = page.request.get(f"{server.address}/api/jobs/{address}").json()
    other = {"title": "Renamed elsewhere", "code": "ML-207", "customer": "", "based_on": 1, "design": stored["design"]}
    assert page.request.put(f"{server.address}/api/jobs/{address}", data=other).ok
    entry(page, "use.daily_ah").fill("41")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Renamed elsewhere")
    expect(dialog).to_contain_text("Daily use")
    dialog.get_by_role("button", name="Keep mine as the newer version").click()
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    kept = page.request.get(f"{server.address}/api/jobs/{address}").json()
    assert (kept["version"], kept["design"]["use"]["daily_ah"], kept["title"]) == (3, 41, "Mobile library lorry")


@pytest.mark.refusals
def test_a_bad_job_file_is_refused_with_its_faults(page: Page, server: Server, tmp_path: Path) -> None:
    """A file with two faults shows both with their paths; a huge one says it is too large; the yard is unchanged."""
    bad, huge = tmp_path / "bad.json", tmp_path / "huge.json"
    bad.write_text(
        '{"format": "olvask-job", "title": "", "design": {"vehicle": {"alternator": {"rated_a": "big"}}}}',
        encoding="utf-8",
    )
    huge.write_bytes(b" " * (10 * 1024 * 1024))
    page.goto(server.address)
    expect(page.locator("tr[data-job]")).to_have_count(5)
    picker = page.locator("input[type=file]")
    picker.set_input_files(bad)
    refused = page.locator(".refused")
    expect(refused).to_contain_text("design.vehicle.alternator.rated_a")
    expect(refused.locator("li")).to_have_count(2)
    picker.set_input_files(huge)
    expect(refused).to_contain_text("too large")
    expect(page.locator("tr[data-job]")).to_have_count(5)


@pytest.mark.refusals
def test_a_dead_server_loses_nothing(page: Page, server: Server) -> None:
    """With the server gone what is typed stays, is said to be kept here, and is stored when it comes back."""
    open_job(page, server, "ML-207", "survey")
    server.kill()
    entry(page, "use.daily_ah").fill("52")
    expect(page.locator("[data-save]")).to_contain_text("kept here")
    server.start()
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    page.reload()
    expect(entry(page, "use.daily_ah")).to_have_value("52")


def test_revisions_come_back(page: Page, server: Server) -> None:
    """Every save is a revision, and an old one can be brought back as the newest."""
    open_job(page, server, "ML-207", "survey")
    entry(page, "use.daily_ah").fill("99")
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    page.get_by_role("link", name=re.compile("Hand over")).click()
    settle(page)  # what comes in above would move the button from under the pointer
    page.get_by_role("button", name="restore version 1").click()
    page.get_by_role("link", name=re.compile("Survey")).click()
    expect(entry(page, "use.daily_ah")).to_have_value("40")


def test_the_line_and_the_findings_fold_and_are_remembered(page: Page, server: Server) -> None:
    """A key folds the line to a strip of volts and the findings to their counts; a reload keeps both so."""
    open_job(page, server, "KV-118", "wake")
    station(page, "charger").focus()
    page.keyboard.press("l")
    expect(page.locator(".frame svg")).to_have_count(0)
    expect(page.locator("[data-strip]")).to_contain_text("input 13.34 V")
    page.keyboard.press("f")
    expect(page.locator("[data-finding]").first).to_be_hidden()
    page.reload()
    expect(page.locator("[data-strip]")).to_be_visible()
    expect(page.locator("[data-finding]").first).to_be_hidden()
    page.get_by_role("button", name="Unfold the findings").click()
    page.get_by_role("button", name="Unfold", exact=True).click()
    expect(page.locator(".frame svg")).to_be_visible()
    expect(page.locator("[data-finding]").first).to_be_visible()


def test_entry_pages_begin_folded(browser: Browser, server: Server) -> None:
    """The survey begins with the line as a strip, and nothing on its first page is cut off at 1280×800."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{server.address}/job/1/survey")
    expect(page.locator("[data-strip]")).to_be_visible()
    cut = "(all) => all.filter((at) => at.scrollHeight > at.clientHeight + 1).map((at) => at.ariaLabel)"
    assert page.locator(".bench .survey > section").evaluate_all(cut) == []
    context.close()


@pytest.mark.refusals
def test_no_panel_claims_to_be_empty_under_a_wrong_entry(page: Page, server: Server) -> None:
    """With letters in one field what is computed beside it says that it waits; what was computed before stays."""
    open_job(page, server, "KV-118", "match")
    expect(page.locator("tr[data-unit]").first).to_be_visible()
    entry(page, "current_limit_a").fill("lots")
    expect(page.locator("[data-trouble]")).to_contain_text("1 entry to mend first")
    expect(page.locator("tr[data-unit]").first).to_be_visible()
    page.get_by_role("tab", name="Will it keep up").click()
    expect(page.locator("[data-trouble]")).to_contain_text("1 entry to mend first")
    page.reload()
    page.get_by_role("tab", name="Limits and shelf").click()
    expect(page.locator("[data-trouble]")).to_contain_text("1 entry to mend first")
    expect(page.locator("main")).not_to_contain_text("shelf is empty")
    page.get_by_role("link", name=re.compile("Wake")).click()
    expect(page.locator(".minutes")).to_contain_text("driven as soon as every entry is mended")
    page.get_by_role("tab", name="Method and wiring").click()
    expect(page.locator("[data-trouble]")).to_be_visible()
    expect(page.locator("main")).not_to_contain_text("Judging")


@pytest.mark.refusals
def test_a_wrong_entry_widens_nothing(page: Page, server: Server) -> None:
    """What is said of a wrong entry is broken into lines: no panel scrolls sideways, and the entry keeps its width."""
    open_job(page, server, "KV-118", "survey")
    field = entry(page, "vehicle.alternator.rated_a")
    settle(page)
    width = field.evaluate("(at) => at.clientWidth")
    field.fill("eighty")
    entry(page, "auxiliary.capacity_ah").fill("-5")
    expect(page.locator("main [role=alert]")).to_have_count(2)
    wide = "(all) => all.filter((at) => at.scrollWidth > at.clientWidth + 1).map((at) => at.ariaLabel)"
    assert page.locator("main section").evaluate_all(wide) == []
    assert field.evaluate("(at) => at.clientWidth") == width


@pytest.mark.parametrize(("scheme", "copper"), [("light", "rgb(164, 85, 42)"), ("dark", "rgb(219, 138, 88)")])
def test_the_theme_comes_with_the_page(browser: Browser, server: Server, scheme: str, copper: str) -> None:
    """Made when the screens were built: no style is worked out in the page, and each part has its own all the same."""
    context = browser.new_context(color_scheme="dark" if scheme == "dark" else "light")
    page = context.new_page()
    page.goto(f"{server.address}/shelf/chargers")
    button = page.get_by_role("button", name="New unit")
    expect(button).to_have_css("background-color", copper)
    page.locator("button.number").first.click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_have_css("border-style", "solid")
    expect(dialog.locator(".p-select").first).to_have_css("cursor", "pointer")
    assert page.locator("head style").count() == 0
    context.close()


@pytest.mark.parametrize("open_at", ["survey", "build", "handover", "build?page=recover"])
def test_a_phone_shows_where_one_is(browser: Browser, server: Server, open_at: str) -> None:
    """The strips of stages and pages are wider than a phone: what is open in each stands in the window, title and mark."""
    page = browser.new_page(viewport={"width": 390, "height": 844})
    steps = [
        ("Build", "off.loads", "done", None),
        ("Prove", "rest.start", "reading", 2.0),
    ]  # marks come late and take room
    entries = [
        {"id": f"strip-{step}".replace(".", "-"), "procedure": procedure, "step": step, "kind": kind, "value": value}
        | {"at": "2031-05-01T10:00:00Z", "by": "E.K."}
        for procedure, step, kind, value in steps
    ]
    assert page.request.post(f"{server.address}/api/jobs/5/build", data={"entries": entries}).ok
    page.goto(f"{server.address}/job/5/{open_at}")
    expect(page.get_by_label("Stages").locator("[aria-current]")).to_be_visible()
    settle(page)
    opened = page.locator('.stages [aria-current], [role="tab"][aria-selected="true"]')
    assert opened.count() == 2
    for at in range(opened.count()):
        box = opened.nth(at).bounding_box()
        assert box is not None
        assert box["x"] >= -1
        assert box["x"] + box["width"] <= 391, opened.nth(at).inner_text()
    page.close()


def test_on_a_phone_the_jobs_are_in_reach(browser: Browser, server: Server) -> None:
    """A new job waits behind its name; begun it stays open, also after a reload, and what is typed with it."""
    page = browser.new_page(viewport={"width": 390, "height": 844})
    page.goto(f"{server.address}/")
    first = page.locator('a[href*="/job/"]').first
    expect(first).to_be_in_viewport()
    expect(page.get_by_label("Vehicle", exact=True)).to_be_hidden()
    page.get_by_role("button", name="New job").click()
    expect(page.get_by_label("Vehicle", exact=True)).to_be_focused()
    page.keyboard.type("Milk float")
    page.reload()
    expect(page.get_by_label("Vehicle", exact=True)).to_have_value("Milk float")
    page.get_by_role("button", name="Start the survey").click()
    expect(page).to_have_url(re.compile("/survey"))
    page.close()
