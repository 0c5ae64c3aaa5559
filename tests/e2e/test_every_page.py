"""Every view and page, looked at where it stands: the checker of WCAG 2.2 AA, sizes, names, the Tab key, sideways scroll.

Each is opened once for all looks, day at the desk and night on the phone. `OLVASK_REACH=all` (make check-reach) takes
every page in both themes at both sizes with every look; the everyday run leaves out looks that cost most.
"""

from __future__ import annotations

import os

import pytest
from playwright.sync_api import Browser, Page

from tests.e2e.looks import (
    cramped,
    cut_rings,
    enlarging,
    filed,
    hollow,
    inaccessible,
    nameless,
    out_of_reach,
    sideways,
    small,
    struck,
    too_tall,
    unreached,
)
from tests.e2e.server import Server
from tests.e2e.settled import go, settle, turn

ALL = os.environ.get("OLVASK_REACH") == "all"
WAYS = [(1280, 800, "light"), (390, 844, "dark")] + ([(1280, 800, "dark"), (390, 844, "light")] if ALL else [])
PRACTICE = ("/practice", "/practice/case/1-1", "/practice/drill/log/1", "/practice/drill/order/1")
STAGES = (
    "/job/5/survey",
    "/job/5/match",
    "/job/5/run",
    "/job/1/wake",
    "/job/1/settings",
    "/job/4/build",
    "/job/5/prove",
)
PLACES = (*STAGES, "/job/5/handover", "/", "/shelf/chargers", "/house", *PRACTICE)
THUMB, POINTER = 44, 24  # px: at the vehicle, at the desk
WALKED = 2  # pages of a bench that Tab walks through in the everyday run


def looked_at(page: Page, place: str, number: int, phone: bool) -> list[str]:
    """What is wrong with one page of a place."""
    at_vehicle = phone and place.startswith("/job")
    # Before any look that takes the focus: a row that scrolls sideways would stand half-way.
    checked = inaccessible(page) if ALL or number == 0 or (not phone and number <= WALKED) else []
    found = [
        *checked,
        *small(page, THUMB if at_vehicle else POINTER),
        *nameless(page),
        *sideways(page),
        *hollow(page),
        *cut_rings(page),
        *cramped(page),
        *filed(page),
        *struck(page),
    ]
    if phone:
        found += enlarging(page)
    elif place.startswith("/job"):
        found += too_tall(page)
    if ALL or (not phone and number < WALKED and place not in PRACTICE[1:]):
        found += unreached(page)
    return found


@pytest.mark.parametrize("half", [0, 1])
@pytest.mark.parametrize(("width", "height", "scheme"), WAYS)
def test_every_view_and_page(browser: Browser, server: Server, width: int, height: int, scheme: str, half: int) -> None:
    """Yard, shelf, house, practice, hand-over, and each page of each bench."""
    context = browser.new_context(
        viewport={"width": width, "height": height},
        color_scheme="dark" if scheme == "dark" else "light",
        reduced_motion="reduce",
        bypass_csp=True,  # the checker is put into the page, which the page's own policy forbids
    )
    page = context.new_page()
    found: list[str] = []
    for place in PLACES[half::2]:
        go(page, server.address + place)
        names = [tab.get_attribute("data-page") for tab in page.locator("[data-page]").all()] or [None]
        for number, name in enumerate(names):
            turn(page, name)
            found += [f"{place} {name}: {item}" for item in looked_at(page, place, number, phone=width < 700)]
    context.close()
    assert found == [], "\n".join(dict.fromkeys(found))


def test_a_job_with_stops_leaves_nothing_nameless(browser: Browser, server: Server) -> None:
    """Where findings and ways out are many: each control of each page has a name."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    page = context.new_page()
    found: list[str] = []
    for stage in ("survey", "match", "run", "wake", "handover"):
        go(page, f"{server.address}/job/3/{stage}")
        for name in [tab.get_attribute("data-page") for tab in page.locator("[data-page]").all()] or [None]:
            turn(page, name)
            found += [f"{stage} {name}: {item}" for item in nameless(page)]
    context.close()
    assert found == []


def test_dialogs(browser: Browser, server: Server) -> None:
    """A working, the keys, the form of an item of each shelf."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce", bypass_csp=True)
    page = context.new_page()
    go(page, f"{server.address}/job/5/run")
    page.locator('dl [data-figure="input.power_w"]').click()
    page.locator("[data-working]").wait_for()
    settle(page)
    found = inaccessible(page)
    page.keyboard.press("Escape")
    settle(page)
    page.get_by_role("button", name="Keys").click()
    settle(page)
    found += inaccessible(page)
    for kind in ("chargers", "batteries", "alternators", "cables", "devices"):
        go(page, f"{server.address}/shelf/{kind}")
        page.locator("button.number").first.click()
        page.get_by_role("dialog").wait_for()
        settle(page)
        found += nameless(page)
        if ALL or kind == "chargers":
            found += inaccessible(page)
    context.close()
    assert found == []


def test_a_small_laptop_stacks_the_panels(browser: Browser, server: Server) -> None:
    """At 1024×768 nothing of the voltage ladder covers its band's labels, and no page scrolls sideways."""
    context = browser.new_context(viewport={"width": 1024, "height": 768})
    page = context.new_page()
    for place in STAGES:
        go(page, server.address + place)
        assert sideways(page) == [], place
        if place.endswith("wake"):
            ladder = page.locator(".ladder, [aria-label='Voltage ladder']").first.bounding_box()
            assert ladder is not None
            assert ladder["width"] > 600
    context.close()


# WCAG 2.2, 1.4.12: what a reader may set, and nothing is lost by it.
SPACED = "* { line-height: 1.5 !important; letter-spacing: .12em !important; word-spacing: .16em !important }"


def test_small_phones_wide_letters_and_long_titles(browser: Browser, server: Server) -> None:
    """At 320 px (1.4.10), with letters set apart, and with a title longer than the bar has room for: nothing scrolls sideways."""
    context = browser.new_context(viewport={"width": 320, "height": 640}, bypass_csp=True)
    page = context.new_page()
    for place in STAGES:
        go(page, server.address + place)
        assert sideways(page) == [], place
    go(page, f"{server.address}/job/3/survey")
    page.get_by_label("Title of the job").fill("Harbour crane inspection lorry, second of three")
    for width in (320, 390, 1024, 1181, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        settle(page)
        assert sideways(page) == [], width
    page.add_style_tag(content=SPACED)
    settle(page)
    assert sideways(page) == []
    context.close()


@pytest.mark.parametrize("half", [0, 1])
def test_in_a_low_window_all_that_scrolls_is_reached(browser: Browser, server: Server, half: int) -> None:
    """A panel of text alone, too long for a window of 560 px, can be read to its end without a pointer."""
    page = browser.new_page(viewport={"width": 1280, "height": 560}, bypass_csp=True)
    found: list[str] = []
    for place in (*STAGES, "/job/1/match", "/job/2/settings")[half::2]:
        go(page, server.address + place)
        for name in [tab.get_attribute("data-page") for tab in page.locator("[data-page]").all()]:
            turn(page, name)
            found += [f"{place} {name}: {item}" for item in out_of_reach(page)]
    page.close()
    assert found == []
