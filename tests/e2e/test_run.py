"""Run, worked on the line: a trailer run built by keyboard, lengths dragged, protection read, papers read back."""

from __future__ import annotations

import csv
import io
import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.designs import plain
from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.e2e.test_late_answers import Held
from tests.e2e.test_screens import SAVED, entry, open_job, station
from tests.papers import words_of

NINE = ["device", "cable", "joint", "cable", "joint", "cable", "branch", "joint", "cable"]
KEY = {"device": "d", "cable": "Insert", "joint": "j", "branch": "b"}


def bare_job(page: Page, server: Server) -> int:
    """A stored job with a unit and no supply run."""
    design = plain(supply={"pieces": []})
    made = page.request.post(
        f"{server.address}/api/jobs", data={"title": "Instrument trailer", "code": "IT-9", "design": design}
    )
    number: int = made.json()["id"]
    return number


def test_a_nine_piece_trailer_run_by_keyboard(page: Page, server: Server) -> None:
    """Nine pieces are inserted, stretched, stepped, split and moved by keys alone; cut list and labels name them all."""
    job = bare_job(page, server)
    page.goto(f"{server.address}/job/{job}/run")
    expect(page.locator(".frame svg")).to_be_visible()
    station(page, "start_battery").focus()
    for at, kind in enumerate(NINE):
        page.keyboard.press(KEY[kind])
        expect(station(page, f"supply.{at}")).to_be_focused()
    expect(page.locator('[data-run="supply"]')).to_have_count(9)

    # The first cable: a metre longer by Shift, two decimetres shorter, three sizes up.
    station(page, "supply.1").focus()
    page.keyboard.press(">")
    page.keyboard.press(",")
    page.keyboard.press(",")
    expect(station(page, "supply.1")).to_contain_text("1.8 m")
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    expect(station(page, "supply.1")).not_to_contain_text("16 mm²")

    # Split the last cable in two with a joint, move the joint back and forth, take both new pieces out again.
    station(page, "supply.8").focus()
    page.keyboard.press("s")
    expect(page.locator('[data-run="supply"]')).to_have_count(11)
    expect(station(page, "supply.9")).to_be_focused()
    page.keyboard.press("Alt+ArrowRight")
    expect(station(page, "supply.10")).to_contain_text("joint")
    page.keyboard.press("Alt+ArrowLeft")
    expect(station(page, "supply.9")).to_contain_text("joint")
    page.keyboard.press("Delete")
    page.keyboard.press("Delete")
    expect(page.locator('[data-run="supply"]')).to_have_count(9)
    expect(page.locator("[data-save]")).to_have_text(SAVED)

    stored = page.request.get(f"{server.address}/api/jobs/{job}").json()["design"]["supply"]["pieces"]
    assert [piece["kind"] for piece in stored] == NINE
    cuts = list(csv.DictReader(io.StringIO(page.request.get(f"{server.address}/api/jobs/{job}/cuts.csv").text())))
    supply = [row for row in cuts if row["conductor"].startswith("S")]
    assert len(supply) == 8  # four cables, there and back
    first = next(row for row in supply if row["conductor"] == "S1+")
    assert (first["length_m"], first["cut_m"]) == ("1.8", "2.2")  # 1.8 · 1.2 = 2.16, rounded up
    assert {row["conductor"] for row in cuts} >= {"BS1+"}
    labels = list(csv.DictReader(io.StringIO(page.request.get(f"{server.address}/api/jobs/{job}/labels.csv").text())))
    assert len(labels) == 2 * len(cuts)
    assert all(row["line_1"].startswith("IT-9 ") for row in labels)
    text = words_of(page.request.get(f"{server.address}/api/jobs/{job}/labels.pdf").body())
    assert all(row["conductor"] in text for row in cuts)


def test_focus_goes_to_a_new_piece_though_answers_are_late(page: Page, server: Server) -> None:
    """The answer to a change made before the split comes first and knows no joint: focus waits for the one that does."""
    open_job(page, server, "ML-207", "run")
    station(page, "supply.1").focus()
    count = page.locator('[data-run="supply"]').count()

    def late(route: Route) -> None:
        page.wait_for_timeout(250)
        route.continue_()

    page.route("**/api/assess", late)
    page.keyboard.press("ArrowUp")
    page.keyboard.press("s")
    expect(page.locator('[data-run="supply"]')).to_have_count(count + 2)
    expect(station(page, "supply.2")).to_contain_text("joint")
    expect(station(page, "supply.2")).to_be_focused()


@pytest.mark.refusals
def test_the_next_size_is_judged_ahead_and_drawn_at_once(page: Page, server: Server) -> None:
    """After one step the sizes on either side are at hand: with the server away the next step and the way back are drawn
    whole, each with its own volts; a step that nobody asked for waits for the server, and is stored."""
    open_job(page, server, "ML-207", "run")
    drawn = page.locator(".frame svg")
    station(page, "supply.1").focus()

    def stands() -> tuple[str, str]:
        settle(page)
        return station(page, "supply.1").text_content() or "", drawn.text_content() or ""

    first = stands()
    page.keyboard.press("ArrowUp")
    second = stands()
    page.route("**/api/assess", lambda route: route.abort())
    page.keyboard.press("ArrowUp")
    expect(station(page, "supply.1")).not_to_contain_text(second[0])
    third = stands()
    page.keyboard.press("ArrowDown")
    expect(drawn).to_have_text(second[1])
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-save]")).to_contain_text("No server")
    assert drawn.text_content() == second[1]
    page.unroute("**/api/assess")
    expect(page.locator("[data-save]")).to_have_text(SAVED)
    expect(drawn).to_have_text(first[1])  # asked again in a while of its own
    assert stands() == first
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    expect(drawn).to_have_text(third[1])
    assert len({first, second, third}) == 3


@pytest.mark.refusals
def test_a_length_pressed_on_the_line_stands_in_its_field_with_the_line(page: Page, server: Server) -> None:
    """No field is ahead of the line while the answer is on its way; what is typed stands as it is typed, and where the
    server is away the field shows what will be saved."""
    open_job(page, server, "ML-207", "run")
    station(page, "supply.1").focus()
    field, drawn = entry(page, "supply.pieces.*.length_m"), page.locator(".frame svg")
    settle(page)
    before = drawn.text_content() or ""
    assess = Held(page, "/api/assess$")
    page.keyboard.press(".")
    assess.asked()
    page.wait_for_timeout(300)
    assert (field.input_value(), drawn.text_content()) == ("6.2", before)
    assess.let_go()
    expect(field).to_have_value("6.3")
    expect(station(page, "supply.1")).to_contain_text("6.3 m")
    assess.let_go()  # what the next step would be answered
    page.keyboard.press("Shift+Period")
    assess.asked()
    field.fill("9,5")
    expect(field).to_have_value("9,5")
    page.unroute(re.compile("/api/assess$"))  # what was held goes on to the server, and what comes after it
    settle(page)
    expect(station(page, "supply.1")).to_contain_text("9.5 m")
    expect(field).to_have_value("9,5")
    page.route("**/api/assess", lambda route: route.abort())
    station(page, "supply.1").focus()
    page.keyboard.press("Shift+Comma")
    expect(field).to_have_value("8.5")
    expect(page.locator("[data-save]")).to_contain_text("No server")


def test_a_length_is_dragged_on_the_line(page: Page, server: Server) -> None:
    """The end of the selected cable, pulled to the right, makes it longer; one undo takes the whole drag back."""
    open_job(page, server, "ML-207", "run")
    station(page, "supply.1").click()
    grip = station(page, "supply.1").locator(".grip")
    settle(page)
    box = grip.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 5, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] + 60, box["y"] + 12, steps=5)
    page.mouse.up()
    field = entry(page, "supply.pieces.*.length_m")
    expect(field).not_to_have_value("6.2")
    assert float(field.input_value()) > 6.2
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(field).to_have_value("6.2")


def test_protection_shows_what_is_wrong_and_cures_it(page: Page, server: Server) -> None:
    """The table marks the strip fuse that cannot break the short circuit; the way out beside it puts it right."""
    open_job(page, server, "PS-064", "run")
    page.get_by_role("tab", name=re.compile("Protection")).click()
    row = page.locator("tr[data-device]").first
    expect(row).to_contain_text("wrong")
    page.get_by_label("Protection", exact=True).get_by_role("button", name=re.compile("^Use ")).first.click()
    expect(row).not_to_contain_text("wrong")
    expect(page.locator('[data-finding^="protect.interrupt."]')).to_have_count(0)


def test_an_unguarded_tail_is_found_and_guarded(page: Page, server: Server) -> None:
    """A branch set to no device of its own becomes a stop; its way out puts a device in."""
    open_job(page, server, "ML-207", "run")
    station(page, "supply.1").focus()
    page.keyboard.press("b")
    expect(station(page, "supply.2")).to_be_focused()
    page.get_by_role("combobox", name="Device family").click()
    page.get_by_role("option", name="none of its own").click()
    stop = page.locator('[data-finding^="protect.branch."]')
    expect(stop).to_contain_text("not protected")
    stop.get_by_role("button", name=re.compile("protect it with", re.IGNORECASE)).click()
    expect(stop).to_have_count(0)


def test_suggestions_and_buying(page: Page, server: Server) -> None:
    """A suggestion under the ladder sets its size; the buying page lists the cuts and gives out the papers."""
    open_job(page, server, "KV-118", "run")
    suggestion = page.locator('[data-suggestion="stock"]')
    expect(suggestion).to_contain_text("On the shelf")
    size = suggestion.inner_text().split(": ")[1]
    suggestion.click()
    expect(station(page, "supply.1")).to_contain_text(size)
    page.get_by_role("tab", name="Ends and buying").click()
    expect(page.locator('tr[data-cut="S1+"]')).to_contain_text("N·m")
    expect(page.locator('[data-paper="labels.pdf"]')).to_be_visible()


def test_every_key_of_the_list_is_told(page: Page, server: Server) -> None:
    """The key list names each key the run is worked with."""
    open_job(page, server, "KV-118", "run")
    station(page, "supply.1").focus()
    page.keyboard.press("?")
    for words in ("split", "branch", "move the selected piece", "lengthen"):
        expect(page.get_by_role("dialog")).to_contain_text(words)
