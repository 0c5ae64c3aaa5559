"""Prove on a phone: readings typed or taken by one key from the rig, faults found, mended, proven again, all of it kept."""

from __future__ import annotations

import threading
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import Browser, Page, expect

from olvask.rig.faults import spoilt
from olvask.rig.serving import Rig
from olvask.store.demo import demo_designs
from tests.e2e.server import Server
from tests.e2e.settled import settle
from tests.papers import words_of

READS = ["volts", "amps", "ohms", "celsius", "seconds"]
JOBS = {"KV-118": 5, "RR-031": 2}


@pytest.fixture
def phone(browser: Browser, server: Server) -> Iterator[Page]:
    """Closed before its server is: what it asks for last is still answered."""
    context = browser.new_context(
        base_url=server.address, viewport={"width": 390, "height": 844}, locale="en-GB", has_touch=True
    )
    yield context.new_page()
    context.close()


@contextmanager
def rig_of(page: Page, server: Server, code: str, fault: str = "healthy") -> Iterator[Rig]:
    """A rig of a demo job, kept as an instrument."""
    design = next(design for heading, design in demo_designs() if heading.code == code)
    made = Rig(design, spoilt(fault), speed=1.0, seed=11, hidden=True)
    try:
        answer = page.request.post(
            f"{server.address}/api/instruments", data={"name": "Rig meter", "port": made.ports[0], "reads": READS}
        )
        assert answer.ok
        page.goto(f"{server.address}/job/{JOBS[code]}/prove")
        page.locator("[data-test]").wait_for()
        yield made
    finally:
        made.close()


def read(page: Page, test: str, value: str) -> None:
    """Go to a test and type its reading."""
    page.locator(f'[data-go="{test}"]').click()
    expect(page.locator("[data-test]")).to_have_attribute("data-test", test)
    page.locator("#prove-reading").fill(value)
    page.locator("#prove-reading").press("Enter")
    expect(page.locator("[data-verdict]")).to_be_visible()


def by_one_key(page: Page, answer: int = 0) -> str:
    """Read the test that is open, or answer its look; the verdict."""
    if page.locator("[data-answer]").count():
        page.locator(f'[data-answer="{answer}"]').click()
    else:
        page.locator("[data-read]").click()
    expect(page.locator("[data-verdict]")).to_be_visible()
    return page.locator("[data-verdict]").inner_text()


def test_a_bad_return_is_found_on_a_phone(phone: Page, server: Server) -> None:
    """Volts and amperes as they should be; the return drops far too much: that leg, milliohms and heat; kept over a reload."""
    page = phone
    page.goto(f"{server.address}/job/5/prove")
    page.locator("[data-test]").wait_for()
    read(page, "idle_posts_v", "13.88")
    expect(page.locator("[data-verdict]")).to_contain_text("As it should be")
    read(page, "input_a", "47.2")
    read(page, "supply_back_mv", "640")
    expect(page.locator("[data-verdict]")).to_contain_text("Well over")
    expect(page.locator("[data-sum]")).to_contain_text("A bad joint")
    expect(page.locator('[data-leg="supply_back"]')).to_contain_text("mΩ too many")
    read(page, "output_a", "400")
    expect(page.locator("[data-verdict]")).to_contain_text("ask the meter first")
    read(page, "output_a", "40.1")
    expect(page.locator("[data-verdict]")).to_contain_text("As it should be")
    expect(page.locator("[data-verdict]")).to_contain_text("2 readings kept")
    expect(page.get_by_text("kept here, sent when in reach")).to_be_hidden()
    page.reload()
    expect(page.locator("[data-sum]")).to_contain_text("A bad joint")
    steps = page.request.get(f"{server.address}/api/jobs/5/build").json()["steps"]
    kept = {
        step["step"]: [entry["value"] for entry in step["entries"]] for step in steps if step["procedure"] == "Prove"
    }
    assert kept["output_a"] == [400, 40.1]


def test_a_meter_over_its_range_is_a_reading(phone: Page, server: Server) -> None:
    """Nothing conducts between + and − of a dead run: one press says so. Volts are taken with their unit, or asked about."""
    page = phone
    page.goto(f"{server.address}/job/3/prove")
    page.locator("[data-test]").wait_for()
    page.locator('[data-go="short.supply"]').click()
    page.locator("[data-over]").click()
    expect(page.locator("[data-verdict]")).to_contain_text("As it should be")
    expect(page.locator(".scale")).to_contain_text("over 1")
    read(page, "through.supply", "OL")
    expect(page.locator("[data-verdict]")).not_to_contain_text("As it should be")
    page.locator('[data-go="rest.start"]').click()
    expect(page.locator("[data-over]")).to_have_count(0)
    page.locator("#prove-reading").fill("OL")
    page.locator("#prove-reading").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("take a larger range")
    page.locator("#prove-reading").fill("12,61 V")
    page.locator("#prove-reading").press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    settle(page)
    steps = page.request.get(f"{server.address}/api/jobs/3/build").json()["steps"]
    kept = {step["step"]: [entry["value"] for entry in step["entries"]] for step in steps}
    assert (kept["short.supply"], kept["through.supply"], kept["rest.start"]) == ([1e6], [1e6], [12.61])


def test_a_healthy_van_passes_by_one_key(phone: Page, server: Server) -> None:
    """From the first dead check to the last value read back, each by one key or one answer; nothing is wrong; no keyboard jumps up."""
    with rig_of(phone, server, "KV-118"):
        for _ in range(60):
            verdict = by_one_key(phone)
            assert "■" not in verdict, phone.locator("[data-test]").get_attribute("data-test")
            assert phone.evaluate("document.activeElement?.tagName") != "INPUT"
            following = phone.locator(".next")
            if following.count() == 0:
                break
            following.click()
        expect(phone.locator("[data-sum]")).to_contain_text("Every test it is signed off by is as it should be")
        fewest = phone.locator("[data-go]").count()
        phone.locator("[data-fewest]").uncheck()
        expect(phone.locator('[data-go="loaded.start"]')).to_be_visible()
        assert phone.locator("[data-go]").count() > fewest


FOUND = [("KV-118", "joint.supply_back", "weak"), ("RR-031", "no_enable", "does_nothing")]


def asked_next(phone: Page, fault: str) -> str:
    """What is to be measured next; nothing once the fault is named. Until an answer is in there may be neither."""
    for _ in range(300):
        settle(phone)  # what was read last may have decided it
        named = phone.locator(f'[data-cause="{fault}"] b').all_inner_texts()
        if named and "%" in named[0] and int(named[0].split()[0]) >= 90:
            return ""
        keys = phone.locator("[data-next]").evaluate_all("all => all.map((one) => one.dataset.next)")
        if keys:
            return str(keys[0])
    raise AssertionError(phone.locator("[data-diagnosis]").inner_text())


@pytest.mark.parametrize(("code", "fault", "told"), FOUND, ids=[item[1] for item in FOUND])
def test_a_hidden_fault_is_found_mended_and_proven_again(
    phone: Page, server: Server, code: str, fault: str, told: str
) -> None:
    """What is asked for is measured, the meter's cable pulled out on the way; mended, the same test is right; all of it on paper."""
    with rig_of(phone, server, code, fault) as rig:
        phone.locator("[data-side]").click()
        phone.locator(f'[data-chip="{told}"]').click()
        last = ""
        for turn in range(9):
            expect(phone.locator("[data-diagnosis]")).to_be_visible()
            key = asked_next(phone, fault)
            if key == "":
                break
            phone.locator("[data-next]").click()
            expect(phone.locator("[data-test]")).to_have_attribute("data-test", key)
            cut = threading.Timer(0.2, rig.hang_up)
            if turn == 1:
                cut.start()
            answer = {"state_read": 0, "toggled": 1}.get(key, 0)
            by_one_key(phone, answer)
            last = key
            expect(phone.locator(f'[data-next="{key}"]')).to_have_count(0)
        cause = phone.locator(f'[data-cause="{fault}"]')
        cause.locator("button").first.click()
        cause.locator("[data-cure]").click()
        expect(phone.locator("[data-cured]")).to_contain_text("The rig says")
        phone.locator(f'[data-go="{last}"]').click()
        assert "✓" in by_one_key(phone)
        job = JOBS[code]
        text = words_of(phone.request.get(f"{server.address}/api/jobs/{job}/tests.pdf").body())
        assert "Mended:" in text
        assert "before the cure" in text
        assert "as it should be" in text
        assert "Rig meter" in text


def test_readings_taken_without_a_connection_are_handed_in_later(phone: Page, server: Server) -> None:
    """Out of reach a reading is kept on the phone and said to be; back in reach it arrives once, judged."""
    phone.goto(f"{server.address}/job/2/prove")
    phone.locator("[data-test]").wait_for()
    phone.locator('[data-go="rest.start"]').click()
    phone.context.set_offline(True)
    phone.locator("#prove-reading").fill("12.7")
    phone.locator("#prove-reading").press("Enter")
    expect(phone.get_by_text("kept here, sent when in reach")).to_be_visible()
    phone.context.set_offline(False)
    expect(phone.get_by_text("kept here, sent when in reach")).to_be_hidden(timeout=15000)
    expect(phone.locator("[data-verdict]")).to_contain_text("As it should be")
    steps = phone.request.get(f"{server.address}/api/jobs/2/build").json()["steps"]
    kept = [entry["value"] for step in steps if step["step"] == "rest.start" for entry in step["entries"]]
    assert kept == [12.7]


def test_a_vehicle_that_comes_back_is_proven_by_what_is_read_now(phone: Page, server: Server) -> None:
    """Of readings of months ago it is asked whether they count; a new visit leaves them out, and can be taken back."""
    then = datetime.now(UTC) - timedelta(days=200)
    old = {"id": str(uuid.uuid4()), "procedure": "Prove", "step": "posts_v", "kind": "reading", "value": 12.1}
    old |= {"unit": "V", "by": "MB", "at": then.isoformat()}
    assert phone.request.post(f"{server.address}/api/jobs/2/build", data={"entries": [old]}).ok
    phone.goto(f"{server.address}/job/2/prove")
    banner, kept = phone.locator("[data-visit]"), phone.locator('[data-go="posts_v"]')
    expect(banner).to_contain_text(f"{then:%d/%m/%Y}")
    expect(kept).to_contain_text("ask the meter")
    banner.get_by_role("button", name="Begin a new visit").click()
    expect(banner).to_contain_text("no longer counts")
    expect(kept).not_to_contain_text("ask the meter")
    banner.get_by_role("button", name="Take it back").click()
    expect(kept).to_contain_text("ask the meter")
    banner.get_by_role("button", name="Begin a new visit").click()
    read(phone, "rest.start", "12.70")
    expect(banner).to_be_hidden()
    text = words_of(phone.request.get(f"{server.address}/api/jobs/2/tests.pdf").body())
    assert "Came back" in text
    assert "an earlier visit" in text


HOUR_BEHIND = """
  const Right = Date
  Date = class extends Right {
    constructor(...given) { given.length ? super(...given) : super(Right.now() - 3600e3) }
    static now() { return Right.now() - 3600e3 }
  }
"""


def test_a_phone_whose_clock_is_wrong_is_judged_all_the_same(phone: Page, server: Server) -> None:
    """An hour behind, after a cure that another has just noted: what is read now was read after it."""
    cure = {"id": str(uuid.uuid4()), "procedure": "Prove", "step": "cure", "kind": "note", "text": "Mended: a joint"}
    cure |= {"by": "MB", "at": datetime.now(UTC).isoformat()}
    assert phone.request.post(f"{server.address}/api/jobs/5/build", data={"entries": [cure]}).ok
    phone.add_init_script(HOUR_BEHIND)
    phone.goto(f"{server.address}/job/5/prove")
    phone.locator("[data-test]").wait_for()
    read(phone, "posts_v", "13.75")
    expect(phone.locator("[data-verdict]")).to_contain_text("As it should be")
