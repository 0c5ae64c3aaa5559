"""Practice by keyboard: a case of each level and a drill of each kind; one case on a phone, through a reload."""

from __future__ import annotations

import os

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from olvask.core.practice.bench import Move
from olvask.core.practice.case import Level
from olvask.core.practice.course import case_of
from olvask.core.practice.drills import KINDS, Answer, DrillKind, drill_of, judged, made_of
from tests.e2e.server import Server


def press(page: Page, there: Locator, key: str = "Enter") -> None:
    """By the keyboard alone."""
    there.focus()
    page.keyboard.press(key)


def do(page: Page, move: Move, count: int) -> None:
    """One step of a course, by key; it stands among what was done."""
    if move.kind == "measure":
        press(page, page.locator(f'[data-measure="{move.what}"]'))
    elif move.kind == "check_meter":
        press(page, page.locator("[data-check]"))
    elif move.kind == "mend":
        cure = page.locator("[data-cure]")
        words = cure.locator(f'option[value="{move.what}"]').inner_text()
        cure.focus()
        page.keyboard.type(words)  # as far as it takes
        if cure.input_value() != move.what:  # the machine stood still between two letters: once more, from the first
            page.wait_for_timeout(1500)
            page.keyboard.type(words)
        expect(cure).to_have_value(move.what)
        press(page, page.locator("[data-mend]"))
    else:
        press(page, page.locator("[data-hand-back]"))
    expect(page.locator("[data-told]")).to_have_count(count, timeout=30_000)


@pytest.mark.parametrize("level", (1, 2, 3, 4, 5, 6) if "OLVASK_PLAYS" in os.environ else (1, 6))
def test_a_case_of_each_level_by_keyboard(page: Page, server: Server, level: Level) -> None:
    """Begun from the list, worked to the end by the best course: a hundred, and it stands among what was done."""
    case, course = case_of(level, 2)
    page.set_default_timeout(30_000)
    page.goto(f"{server.address}/practice")
    field = page.get_by_label("Your initials")
    field.fill("AK")
    number = page.get_by_label(f"Number, Level {level}")
    number.fill("2")
    press(page, number)
    expect(page.get_by_text(case.story)).to_be_visible()
    for at, told in enumerate(course.told, start=1):
        do(page, told.step, at)
    expect(page.locator("[data-score]")).to_have_text("100")
    for item in case.hidden:
        expect(page.locator("[data-review]")).to_contain_text(item.fault.words)
    press(page, page.get_by_role("link", name="all exercises"))
    expect(page.locator(f'[data-attempt="case {level}-2"]')).to_be_visible()


def right(kind: DrillKind, number: int) -> Answer:
    """An answer that is accepted."""
    drill = drill_of(kind, number)
    if drill.fields:
        volts = made_of(kind, number).judge(Answer(numbers=(60.0, 59.0))).better.split()
        return Answer(numbers=(float(volts[0]), float(volts[3])))
    if drill.ordered:
        better = made_of(kind, number).judge(Answer(order=tuple(item.key for item in drill.items))).better
        texts = {item.text: item.key for item in drill.items}
        return Answer(order=tuple(texts[text] for text in better.split(" → ")))
    return Answer(chosen=next(item.key for item in drill.items if judged(kind, number, Answer(chosen=item.key)).right))


@pytest.mark.parametrize("kind", list(KINDS))
def test_a_drill_of_each_kind_by_keyboard(page: Page, server: Server, kind: DrillKind) -> None:
    """Answered by key; a wrong one is worked through first where there is one to choose."""
    answer = right(kind, 3)
    page.goto(f"{server.address}/practice/drill/{kind}/3")
    page.locator("[data-question]").wait_for()
    if answer.numbers:
        for field, volts in zip(page.locator(".fields input").all(), answer.numbers, strict=True):
            field.focus()
            page.keyboard.type(str(volts))
    elif answer.order:
        for at, key in enumerate(answer.order):
            while (now := [item.get_attribute("data-step") for item in page.locator("[data-step]").all()]) and now[
                at
            ] != key:
                press(page, page.locator(f'[data-step="{key}"] [data-way="-1"]'))
    else:
        wrong = next(item.key for item in drill_of(kind, 3).items if item.key != answer.chosen)
        press(page, page.locator(f'input[value="{wrong}"]'), "Space")
        press(page, page.locator("[data-answer]"))
        expect(page.locator("[data-judged]")).to_contain_text("Not so")
        press(page, page.locator(f'input[value="{answer.chosen}"]'), "Space")
    press(page, page.locator("[data-answer]"))
    expect(page.locator("[data-judged]")).to_contain_text("Right")


def test_a_case_on_a_phone(browser: Browser, server: Server) -> None:
    """Two readings, a reload in the middle, the rest; a wrong part first costs what it costs."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, locale="en-GB", has_touch=True)
    page = context.new_page()
    _, course = case_of(1, 4)
    page.goto(f"{server.address}/practice/case/1-4")
    page.locator("[data-measure]").first.wait_for()
    do(page, Move("mend", "another_unit"), 1)
    do(page, course.told[0].step, 2)
    page.reload()
    expect(page.locator("[data-told]")).to_have_count(2)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    for at, told in enumerate(course.told, start=3):
        do(page, told.step, at)
    expect(page.locator("[data-review]")).to_contain_text("nothing is wrong any more")
    assert 0 < int(page.locator("[data-score]").inner_text()) < 100
    context.close()
