"""What is pasted from a telephone or a chat comes without the signs that nobody sees."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, Locator, expect

from tests.e2e.server import Server
from tests.e2e.settled import go, until_true

PASTE = """(entry, text) => {
  const clipboardData = new DataTransfer()
  clipboardData.setData('text/plain', text)
  return entry.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }))
}"""


def paste(entry: Locator, text: str) -> bool:
    """Paste a text; whether it was left to the browser, which would put it in as it is."""
    entry.focus()
    return bool(entry.evaluate(PASTE, text))


@pytest.mark.parametrize(
    ("label", "stands", "becomes", "kept"),
    [("Title of the job", "ab", "a25", '"title":"a25"'), ("Rated current", "10", "125", '"rated_a":125.0')],
)
def test_a_pasted_entry_is_what_is_seen_of_it(
    browser: Browser, server: Server, label: str, stands: str, becomes: str, kept: str
) -> None:
    """In the place of what is chosen of it; it is saved like what is typed."""
    page = browser.new_page()
    made = page.request.post(f"{server.address}/api/jobs", data={"title": "Pasted"}).json()["id"]
    go(page, f"{server.address}/job/{made}/survey")
    entry = page.get_by_label(label).first
    entry.fill(stands)
    entry.evaluate("(at) => at.setSelectionRange(1, 2)")
    assert not paste(entry, "\u202a2\u200b5\u202c")
    expect(entry).to_have_value(becomes)
    assert paste(entry, "12,5 A")  # nothing unseen in it: the browser's own way, undone by its own key
    entry.blur()
    until_true(
        page,
        "([job, text]) => fetch(`/api/jobs/${job}`).then((answer) => answer.text()).then((all) => all.includes(text))",
        [made, kept],
    )
    page.close()
