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


def working(page: Page) -> None:
    """Open the working of the input power."""
    page.locator('dl [data-figure="input.power_w"]').click()
    page.locator("[data-working]").wait_for()
    page.wait_for_timeout(400)  # the drawer slides in


def collapse(page: Page) -> None:
    """Make the supply cable far too thin."""
    page.locator('tr[data-size="2.5 mm²"]').click()
    page.locator("path.fall").first.wait_for()


def page_of(name: str) -> Callable[[Page], None]:
    """Open one page of a bench."""

    def turn(page: Page) -> None:
        page.locator(f'[data-page="{name}"]').click()
        page.wait_for_timeout(300)  # its part of the program is fetched first

    return turn


def stalled(page: Page) -> None:
    """Take the charger in hand that stalls."""
    page.locator('[data-source="existing.e2"] button').first.click()
    page.locator("rect.stall").wait_for()


def decided(page: Page) -> None:
    """Open the old link by a relay."""
    page_of("link")(page)
    page.locator('[data-decision="changeover"]').click()
    page.locator('[data-decision="changeover"][aria-checked="true"]').wait_for()
    page.locator("[data-save]").get_by_text("Saved").wait_for()


def tolerated(page: Page) -> None:
    """Drive the thousand vehicles to the end."""
    page_of("tolerance")(page)
    page.locator("[data-said]").wait_for()
    page.locator("[data-cure]").first.wait_for()


def pointed(page: Page) -> None:
    """Drive a day of ten minutes and point at a moment of it."""
    page_of("road")(page)
    page.get_by_role("combobox", name="Programme from the library").click()
    page.get_by_role("option", name="ten minutes").click()
    page.wait_for_timeout(600)  # typed text settles before it is driven
    page.locator(".picture svg").hover(position={"x": 190, "y": 90})


def hunting(page: Page) -> None:
    """Type a stop above what full current leaves, and drive."""
    page.locator('[data-path="activation.stop_rules.0.below_v"] input').fill("14.1")
    page.locator('[data-path="activation.start_rules.0.at_least_v"] input').fill("14.2")
    page.wait_for_timeout(300)
    pointed(page)
    page.locator("[data-verdict]").get_by_text("hunts").wait_for()


SHOTS = (
    Shot("yard", "/"),
    Shot("survey", "/job/5/survey"),
    Shot("match", "/job/1/match"),
    Shot("shelf", "/shelf/chargers"),
    Shot("run", "/job/5/run"),
    Shot("run-collapse", "/job/3/run", first=collapse),
    Shot("buying", "/job/3/run", first=page_of("buy")),
    Shot("wake", "/job/2/wake"),
    Shot("old-link", "/job/1/wake", first=decided),
    Shot("tolerances", "/job/5/wake", first=tolerated),
    Shot("road-test", "/job/2/wake", first=pointed),
    Shot("settings", "/job/1/settings", first=stalled),
    Shot("settings-monitor", "/job/1/settings", first=page_of("monitor")),
    Shot("settings-phone", "/job/1/settings", PHONE, night=True),
    Shot("hand-over", "/job/4/handover"),
    Shot("working", "/job/5/run", first=working),
    Shot("run-night", "/job/5/run", night=True),
    Shot("run-phone", "/job/5/run", PHONE),
    Shot("road-test-hunting", "/job/2/wake", first=hunting),  # last: what it types is stored
)


def take(server: Server) -> None:
    """Take every picture, each in a context of its own."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        chromium = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for shot in SHOTS:
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
    with tempfile.TemporaryDirectory() as folder, Server(Path(folder) / "shots.sqlite") as running:
        take(running)
