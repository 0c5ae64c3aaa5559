"""The built application in headless Chromium. Every page fails its test on a foreign request or a console error."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, ConsoleMessage, Error, Page, Request, expect, sync_playwright

from tests.e2e.server import CHROMIUM, FLAGS, ForkedServer, Server
from tests.seeded import seeded

# Tests work on the line; what is folded at first has a test of its own.
UNFOLDED = """
  localStorage.getItem('olvask.line.folded') ?? localStorage.setItem('olvask.line.folded', '{"survey":false,"match":false,"run":false,"wake":false,"handover":false}');
"""
PATIENCE_MS = 60_000  # a busy machine is slow, not wrong
expect.set_options(timeout=PATIENCE_MS / 2)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """One browser for all tests."""
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield found
        found.close()


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    """A server with the demo jobs, fresh for each test."""
    with ForkedServer(seeded(tmp_path / "e2e.sqlite")) as running:
        yield running


@pytest.fixture
def page(browser: Browser, server: Server, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page at 1280×800 in a context of its own; what it did wrong is told at the end."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        color_scheme="light",
        locale="en-GB",
        accept_downloads=True,
        service_workers="block",
    )
    wrong: list[str] = []
    expected = request.node.get_closest_marker("refusals") is not None

    def asked(made: Request) -> None:
        if not made.url.startswith((server.address, "data:", "blob:", "chrome-extension:", "chrome:")):
            wrong.append(f"foreign: {made.url}")

    def said(message: ConsoleMessage) -> None:
        if message.type == "error" and not (expected and "Failed to load resource" in message.text):
            wrong.append(message.text)

    def broke(error: Error) -> None:
        wrong.append(str(error))

    context.add_init_script(UNFOLDED)
    context.on("request", asked)
    opened = context.new_page()
    opened.set_default_timeout(PATIENCE_MS)
    opened.on("console", said)
    opened.on("pageerror", broke)
    yield opened
    context.close()
    assert wrong == []
