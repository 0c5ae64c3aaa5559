"""Take the pictures of docs/screenshots from the demo data. Look at each before committing it."""

from __future__ import annotations

import re
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from playwright.sync_api import Page, expect, sync_playwright
from tests.e2e.server import CHROMIUM, FLAGS, Server

FOLDER = ROOT / "docs/screenshots"
DESK, PHONE = (1280, 800), (390, 844)


WORKING = re.compile(r"^(Working|Fetching|Driving)\b.*…$")  # what a panel says while it waits for its answer


@dataclass(frozen=True)
class Shot:
    """One picture: file name, address, size, night or day, and what to do first."""

    name: str
    address: str
    size: tuple[int, int] = DESK
    night: bool = False
    first: Callable[[Page], None] | None = None
    history: bool = False  # of the demo whose jobs have come a year further


def page_of(name: str) -> Callable[[Page], None]:
    """Open one page of a bench."""

    def turn(page: Page) -> None:
        page.locator(f'[data-page="{name}"]').click()
        page.wait_for_timeout(300)  # its part of the program is fetched first

    return turn


def since(page: Page) -> None:
    """The log of a vehicle whose supply run went bad half-way, at that day."""
    page.locator('[data-page="logs"]').click()
    page.locator("[data-log-differs] button").first.click()
    page.locator("[data-log-picture] svg").first.wait_for()
    for _ in range(3):
        page.get_by_role("button", name="wider").click()
    page.wait_for_timeout(1500)


def sought_out(page: Page) -> None:
    """A vehicle of practice with a few readings taken."""
    for at, key in enumerate(("posts_v", "input_v", "supply_out_mv", "output_v"), start=1):
        page.locator(f'[data-measure="{key}"]').click()
        expect(page.locator("[data-told]")).to_have_count(at)


def stalled(page: Page) -> None:
    """Take the charger in hand that stalls."""
    page.locator('[data-source="existing.e2"] button').first.click()
    page.locator("rect.stall").wait_for()


def measured(page: Page) -> None:
    """Readings of a vehicle whose supply return has a bad joint, the line unfolded."""
    address = page.url.split("/job/")[0]
    read = {"rest.start": 25.5, "idle_posts_v": 27.75, "posts_v": 27.62, "input_a": 24.0, "supply_back_mv": 560.0}
    entries = [
        {
            "id": f"reading-{at}",
            "procedure": "Prove",
            "step": test,
            "kind": "reading",
            "value": value,
            "by": "E.K.",
            "at": f"2031-05-01T10:0{at}:00Z",
        }
        for at, (test, value) in enumerate(read.items())
    ]
    page.request.post(f"{address}/api/jobs/4/build", data={"entries": entries})
    page.evaluate("localStorage.setItem('olvask.line.folded', '{\"prove\":false}')")
    page.reload(wait_until="networkidle")
    page.locator('[data-go="supply_back_mv"]').click()
    page.wait_for_timeout(900)


def sought(page: Page) -> None:
    """The same vehicle, its causes asked for."""
    measured(page)
    page.locator("[data-side]").click()
    page.locator('[data-chip="weak"]').click()
    page.locator("[data-cause]").first.wait_for()
    page.locator("[data-cause] button").first.click()
    page.wait_for_timeout(900)


def pointed(page: Page) -> None:
    """Drive a day of ten minutes and point at a moment of it."""
    page_of("road")(page)
    page.get_by_role("combobox", name="Programme from the library").click()
    page.get_by_role("option", name="ten minutes").click()
    page.wait_for_timeout(600)  # typed text settles before it is driven
    page.locator(".picture svg").hover(position={"x": 190, "y": 90})


def step(key: str) -> Callable[[Page], None]:
    """Go to a step of the procedure."""

    def go(page: Page) -> None:
        page.locator("[data-step]").wait_for()
        whole = page.get_by_role("button", name="whole thread")
        if whole.count():
            whole.click()
        page.locator(f'[data-knot="{key}"]').click()
        page.get_by_label("Your initials").fill("E.K.")
        page.keyboard.press("Tab")
        page.wait_for_timeout(500)

    return go


def cupboard(page: Page) -> None:
    """Let the openings decide instead of a typed air."""
    page_of("mount")(page)
    page.locator('[data-path="mount.ambient_c"] input').fill("")
    page.wait_for_timeout(900)


def quoted(page: Page) -> None:
    """Two variants beside the design."""
    design = page.request.get(page.url.split("/job/")[0] + "/api/jobs/5").json()["design"]
    for name, current in (("Gentle on the alternator", 20.0), ("Between the two", 30.0)):
        body = {"name": name, "design": design | {"current_limit_a": current}}
        page.request.post(page.url.split("/job/")[0] + "/api/jobs/5/options", data=body)
    page_of("quote")(page)
    page.reload(wait_until="networkidle")
    page.wait_for_timeout(900)


SHOTS = (
    Shot("yard", "/", history=True),
    Shot("survey", "/job/5/survey"),
    Shot("match", "/job/1/match"),
    Shot("shelf", "/shelf/chargers"),
    Shot("run", "/job/5/run"),
    Shot("wake", "/job/2/wake"),
    Shot("prove", "/job/4/prove", first=measured),
    Shot("causes", "/job/4/prove", night=True, first=sought),
    Shot("house", "/house", history=True),
    Shot("road-test", "/job/2/wake", first=pointed),
    Shot("settings", "/job/1/settings", first=stalled),
    Shot("build", "/job/4/build", first=step("insert.supply")),
    Shot("build-phone", "/job/4/build", PHONE, night=True, first=step("part.start_negative")),
    Shot("diagram", "/job/1/build", first=page_of("diagram")),
    Shot("mounting", "/job/2/build", first=cupboard),
    Shot("quote", "/job/5/build", first=quoted),
    Shot("hand-over", "/job/5/handover", history=True),
    Shot("practice", "/practice/case/2-4", first=sought_out),
    Shot("device-log", "/job/1/handover", first=since, history=True),
)


def take(server: Server, shots: list[Shot]) -> None:
    """Take some pictures, each in a context of its own."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        chromium = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for shot in shots:
            context = chromium.new_context(
                locale="en-GB",
                viewport={"width": shot.size[0], "height": shot.size[1]},
                color_scheme="dark" if shot.night else "light",
                reduced_motion="reduce",
            )
            page = context.new_page()
            page.goto(server.address + shot.address, wait_until="networkidle")
            page.evaluate("document.fonts.ready")
            if shot.first is not None:
                shot.first(page)
            page.wait_for_load_state("networkidle")
            expect(page.get_by_text(WORKING)).to_have_count(0, timeout=60_000)
            page.screenshot(path=FOLDER / f"{shot.name}.png")
            context.close()
        chromium.close()


if __name__ == "__main__":
    for history in (False, True):
        wanted = [shot for shot in SHOTS if shot.history is history]
        with tempfile.TemporaryDirectory() as place, Server(Path(place) / "shots.sqlite", history=history) as running:
            take(running, wanted)
