"""Nothing typed is lost: servers that fail, tabs that share a job, browsers that keep nothing."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import Page, Route, expect

from tests.e2e.server import Server
from tests.e2e.test_screens import SAVED, entry, open_job

pytestmark = pytest.mark.refusals
LENGTH = "supply.pieces.*.length_m"
MARK = "[data-save]"
BUSY = {
    "type": "about:blank",
    "title": "The store is busy",
    "status": 503,
    "detail": "Another program writes to it. Try again in a moment.",
    "errors": [],
}


def stored(page: Page, server: Server, job: int) -> dict[str, object]:
    """A job as the server has it."""
    found: dict[str, object] = page.request.get(f"{server.address}/api/jobs/{job}").json()
    return found


def length(page: Page, server: Server, job: int) -> float:
    """The first supply cable's length as the server has it."""
    pieces = stored(page, server, job)["design"]["supply"]["pieces"]  # type: ignore[index]
    return next(float(piece["length_m"]) for piece in pieces if piece["kind"] == "cable")


def test_a_save_that_fails_is_said_and_tried_again(page: Page, server: Server) -> None:
    """The store is busy twice: it is said in its words, and saved by itself once it can be."""
    open_job(page, server, "KV-118", "run")
    left = [2]

    def busy(route: Route) -> None:
        left[0] -= 1
        if left[0] >= 0 and route.request.method == "PUT":
            route.fulfill(status=503, json=BUSY, content_type="application/problem+json")
        else:
            route.continue_()

    page.route(re.compile(r"/api/jobs/\d+$"), busy)
    entry(page, LENGTH).fill("5.5")
    expect(page.locator(MARK)).to_contain_text("The store is busy: kept here, trying again")
    expect(page.locator(MARK)).to_have_text(SAVED)
    assert length(page, server, 5) == 5.5


def test_what_cannot_be_judged_is_stored_all_the_same(page: Page, server: Server) -> None:
    """An assessment that falls over does not stand at Saving for ever: it is said, and the entry is stored."""
    open_job(page, server, "KV-118", "run")
    broken = {**BUSY, "title": "Olvask made a mistake", "status": 500}
    page.route("**/api/assess", lambda route: route.fulfill(status=500, json=broken))
    entry(page, LENGTH).fill("5.25")
    expect(page.locator(MARK)).not_to_have_text("Saving…")
    deadline = time.monotonic() + 20
    while length(page, server, 5) != 5.25 and time.monotonic() < deadline:
        page.wait_for_timeout(100)
    assert length(page, server, 5) == 5.25


@pytest.mark.refusals
@pytest.mark.parametrize("more", [False, True], ids=["as it was", "with more typed since"])
def test_a_save_whose_answer_is_lost_is_nobody_elses(page: Page, server: Server, more: bool) -> None:
    """Stored, but the signal went before the answer came: the page goes on from its own save, and asks nothing."""
    open_job(page, server, "KV-118", "run")
    lost: list[str] = []

    def lose(route: Route) -> None:
        if route.request.method != "PUT" or lost:
            route.continue_()
            return
        lost.append(str(route.fetch().status))
        route.abort()

    page.route("**/api/jobs/5", lose)
    entry(page, LENGTH).fill("5.75")
    expect(page.locator(MARK)).to_contain_text("No server")
    if more:
        entry(page, LENGTH).fill("6.25")
    expect(page.locator(MARK)).to_have_text(SAVED)
    assert lost == ["200"]
    assert length(page, server, 5) == (6.25 if more else 5.75)
    assert page.get_by_role("dialog").count() == 0


@pytest.mark.refusals
def test_a_save_whose_answer_is_lost_is_known_after_a_reload(page: Page, server: Server) -> None:
    """Stored, the answer lost, the page left: opened again it is simply saved, and no second time."""
    open_job(page, server, "KV-118", "run")

    def lose(route: Route) -> None:
        if route.request.method == "PUT":
            route.fetch()
            route.abort()
        else:
            route.continue_()

    page.route("**/api/jobs/5", lose)
    entry(page, LENGTH).fill("5.75")
    expect(page.locator(MARK)).to_contain_text("No server")
    page.unroute("**/api/jobs/5", lose)
    page.reload()
    expect(entry(page, LENGTH)).to_have_value("5.75")
    expect(page.locator(MARK)).to_have_text(SAVED)
    assert page.get_by_role("dialog").count() == 0
    assert page.request.get(f"{server.address}/api/jobs/5").json()["version"] == 2


def test_a_slow_save_touches_no_other_job(page: Page, server: Server) -> None:
    """One job's save is answered when another is open: that one keeps its version, and both are stored."""
    open_job(page, server, "KV-118", "run")

    def slow(route: Route) -> None:
        if route.request.method == "PUT":
            time.sleep(1.5)
        route.continue_()

    page.route("**/api/jobs/5", slow)
    entry(page, LENGTH).fill("5.75")
    expect(page.locator(MARK)).to_have_text("Saving…")
    page.wait_for_timeout(600)
    page.get_by_role("link", name="Yard").last.click()
    page.locator('tr[data-job="2"] a').first.click()
    expect(page.locator("[data-strip]")).to_be_visible()
    page.wait_for_timeout(2000)
    page.get_by_role("link", name=re.compile("Run")).click()
    entry(page, LENGTH).fill("3.25")
    expect(page.locator(MARK)).to_have_text(SAVED)
    assert length(page, server, 2) == 3.25
    assert length(page, server, 5) == 5.75
    assert page.locator(".stale").count() == 0


@pytest.mark.parametrize("by_another", [False, True], ids=["by the yard", "by another job"])
def test_a_job_opened_anew_while_it_is_saved_keeps_what_was_typed(page: Page, server: Server, by_another: bool) -> None:
    """Away and back, the save answered after the job was read anew and before it was drawn: what had been read was taken for
    what is to be stored next."""
    open_job(page, server, "KV-118", "run")
    held: dict[str, Route] = {}
    read: list[str] = []

    def hold(route: Route) -> None:
        what = route.request.method if "jobs" in route.request.url else "drawn"
        if what == "GET" and "PUT" in held:
            read.append(route.request.url)
        if what == "GET" or what in held or (what == "drawn" and not read):
            route.continue_()
        else:
            held[what] = route

    page.route(re.compile(r"/api/(jobs/5|assess)$"), hold)
    entry(page, LENGTH).fill("6.25")
    while "PUT" not in held:
        page.wait_for_timeout(50)
    page.get_by_role("link", name="Yard").last.click()
    if by_another:
        page.locator('tr[data-job="2"] a').first.click()
        expect(page.locator("[data-strip]")).to_be_visible()
        page.get_by_role("link", name="Yard").last.click()
    page.locator('tr[data-job="5"] a').first.click()
    page.wait_for_timeout(700)
    held["PUT"].continue_()
    while "drawn" not in held:
        page.wait_for_timeout(50)
    held["drawn"].continue_()
    page.get_by_role("link", name=re.compile("Run")).click()
    expect(entry(page, LENGTH)).to_have_value("6.25")
    expect(page.locator(MARK)).to_have_text(SAVED)
    page.wait_for_timeout(700)
    assert length(page, server, 5) == 6.25


def test_two_tabs_keep_two_drafts(page: Page, server: Server) -> None:
    """What one tab cannot store yet is not taken, nor thrown away, by another tab of the same job; left behind, it is."""
    open_job(page, server, "KV-118", "run")
    entry(page, LENGTH).fill("five")
    expect(page.locator(MARK)).to_contain_text("1 to mend")
    other = page.context.new_page()
    open_job(other, server, "KV-118", "run")
    expect(entry(other, LENGTH)).not_to_have_value("five")
    entry(other, LENGTH).fill("6.5")
    expect(other.locator(MARK)).to_have_text(SAVED)
    page.reload()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("five")
    page.close()
    other.reload()
    expect(other.locator(".frame svg")).to_be_visible()
    expect(other.get_by_role("dialog")).to_contain_text("five")


def test_a_browser_that_keeps_nothing_says_so(page: Page, server: Server) -> None:
    """Storage full or forbidden: the job opens, saves, and says that no copy is kept while it cannot be stored."""
    page.add_init_script(
        "for (const name of ['setItem', 'getItem']) { const real = Storage.prototype[name];"
        "Storage.prototype[name] = function (key, value) { if (/draft|tab/.test(key)) throw new DOMException('full', "
        "'QuotaExceededError'); return real.call(this, key, value); } }"
    )
    open_job(page, server, "KV-118", "run")
    entry(page, LENGTH).fill("5.5")
    expect(page.locator(MARK)).to_have_text(SAVED)
    page.route(re.compile(r"/api/jobs/\d+$"), lambda route: route.abort())
    entry(page, LENGTH).fill("5.6")
    expect(page.locator(MARK)).to_contain_text("do not close this page")


@pytest.mark.parametrize(
    "draft", ['{"design": 3}', "[]", "{", '{"title": "x", "basedOn": 1, "design": {"vehicle": {}}}']
)
def test_a_draft_that_is_none_blocks_nothing(page: Page, server: Server, draft: str) -> None:
    """Whatever stands in the browser's storage, the job opens; what stood there is put aside, not thrown away."""
    page.goto(server.address)
    page.evaluate("(text) => localStorage.setItem('olvask.draft2.5', text)", draft)
    open_job(page, server, "KV-118", "run")
    expect(page.locator(MARK)).to_have_text(SAVED)
    for _ in range(50):
        aside = page.evaluate("localStorage.getItem('olvask.spoilt.olvask.draft2.5')")
        if aside is not None:
            break
        page.wait_for_timeout(100)
    assert aside == draft


def test_taking_the_stored_one_can_be_undone(page: Page, server: Server) -> None:
    """The dialog promises undo: it brings back what was on the screen."""
    open_job(page, server, "KV-118", "run")
    job = stored(page, server, 5)
    other = {"title": "Elsewhere", "code": "KV-118", "customer": "", "based_on": 1, "design": job["design"]}
    page.request.put(f"{server.address}/api/jobs/5", data=other)
    entry(page, LENGTH).fill("7.5")
    page.get_by_role("button", name="Take the stored one").click()
    expect(entry(page, LENGTH)).not_to_have_value("7.5")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(entry(page, LENGTH)).to_have_value("7.5")
    expect(page.locator(MARK)).to_have_text(SAVED)
    assert length(page, server, 5) == 7.5


def test_half_typed_new_jobs_outlive_a_reload(page: Page, server: Server) -> None:
    """A vehicle's name half typed stands there after a reload, and is gone once its job is begun."""
    page.goto(server.address)
    page.get_by_label("Vehicle", exact=True).fill("Verge mow")
    page.reload()
    expect(page.get_by_label("Vehicle", exact=True)).to_have_value("Verge mow")
    page.get_by_role("button", name="Start the survey").click()
    page.wait_for_url("**/survey")
    page.goto(server.address)
    expect(page.get_by_label("Vehicle", exact=True)).to_have_value("")


def test_half_typed_shelf_items_outlive_a_reload(page: Page, server: Server) -> None:
    """A unit half typed stands there after a reload, with what is wrong in it; discarded on purpose, it is gone."""
    page.goto(f"{server.address}/shelf/chargers")
    page.get_by_role("button", name="New unit").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Shelf number").fill("tw-1")
    dialog.locator('[data-field="output_a"] input').fill("forty")
    page.reload()
    expect(dialog.get_by_label("Shelf number")).to_have_value("tw-1")
    expect(dialog.locator('[data-field="output_a"] input')).to_have_value("forty")
    dialog.get_by_role("button", name="Close", exact=True).last.click()
    dialog.get_by_role("button", name="Discard changes").click()
    page.reload()
    expect(page.locator(".number").first).to_be_visible()
    expect(dialog).to_have_count(0)


@pytest.mark.parametrize(
    ("place", "field", "words"),
    [
        ("match?page=options", "#option-name", "with a bigger fuse"),
        ("survey?page=sums", "[data-sum] input >> nth=0", "77"),
        ("build?page=quote", ".quote input[type=text] >> nth=0", "With the long run"),
        ("build?page=steps", "#step-reading", "0.3x"),
        ("prove", "#prove-reading", "13,x"),
        ("handover?page=logbook", "#log-text", "belt squeals"),
        ("handover?page=next", "[data-next-title]", "Mule two"),
    ],
)
def test_half_typed_words_outlive_another_page_and_a_reload(
    page: Page, server: Server, place: str, field: str, words: str
) -> None:
    """Words that are no part of a design: they stand there again after a look at the yard, and after a reload."""
    if field == "#step-reading":  # the page opens at a step that has one
        design = page.request.get(f"{server.address}/api/jobs/5").json()["design"]
        told = page.request.post(f"{server.address}/api/build/procedure", data=design).json()
        told = told["procedure"]
        step = next(item["step"]["key"] for item in told["steps"] if item["step"]["expected"])
        page.goto(f"{server.address}/")
        page.evaluate(
            "kept => sessionStorage.setItem('olvask.build.step', JSON.stringify(kept))", {f"5.{told['title']}": step}
        )
    page.goto(f"{server.address}/job/5/{place}")
    page.locator(field).first.fill(words)
    page.locator(".brand").click()
    expect(page).to_have_url(f"{server.address}/")
    page.go_back()
    expect(page.locator(field).first).to_have_value(words)
    page.reload()
    expect(page.locator(field).first).to_have_value(words)


def test_words_that_were_taken_are_half_typed_no_more(page: Page, server: Server) -> None:
    """An option kept by its name leaves the field empty, also after a reload."""
    page.goto(f"{server.address}/job/5/match?page=options")
    page.locator("#option-name").fill("with a bigger fuse")
    page.keyboard.press("Enter")
    expect(page.locator("#option-name")).to_have_value("")
    expect(page.get_by_text("with a bigger fuse").first).to_be_visible()
    page.reload()
    expect(page.locator("#option-name")).to_have_value("")


def test_the_yard_says_what_is_not_stored_yet(page: Page, server: Server) -> None:
    """A tab closed with a wrong entry: the yard names the job, and opening it shows the entry."""
    open_job(page, server, "KV-118", "run")
    entry(page, LENGTH).fill("five")
    expect(page.locator(MARK)).to_contain_text("1 to mend")
    page.goto(server.address)
    expect(page.locator('tr[data-job="5"] [data-kept]')).to_contain_text("not stored yet")
    page.locator('tr[data-job="5"] a').first.click()
    expect(page.locator(MARK)).to_contain_text("1 to mend")


@pytest.mark.parametrize("title", ["", "x" * 130])
def test_a_title_that_cannot_be_says_why(page: Page, server: Server, title: str) -> None:
    """Emptied or overlong, the title says what is wrong with it where it stands; mended, it is stored."""
    open_job(page, server, "KV-118", "run")
    field = page.get_by_label("Title of the job")
    field.fill(title)
    expect(page.locator(".fault")).to_be_visible()
    expect(page.locator(MARK)).to_contain_text("1 to mend")
    field.fill("Cold-chain van 2")
    expect(page.locator(MARK)).to_have_text(SAVED)
    expect(page.locator(".fault")).to_have_count(0)


def test_a_mistyped_day_has_no_verdict(page: Page, server: Server) -> None:
    """While the programme cannot be read, the verdict of the day before is not on show."""
    open_job(page, server, "KV-118", "wake")
    page.locator('[data-page="road"]').click()
    expect(page.locator("[data-verdict]")).to_be_visible()
    page.get_by_label("Programme, one stretch a line").fill("idle five min")
    expect(page.get_by_role("alert")).to_contain_text("line 1")
    expect(page.locator("[data-verdict]")).to_have_count(0)


def test_a_run_that_breaks_off_says_so(page: Page, server: Server) -> None:
    """The server cuts the thousand vehicles off: it is said, and they can be driven again."""
    page.route("**/api/tolerance", lambda route: route.fulfill(status=200, body='{"done": 0.2}\n') if route.request.method == "POST" else route.continue_())  # fmt: skip
    open_job(page, server, "KV-118", "wake")
    page.locator('[data-page="tolerance"]').click()
    expect(page.get_by_label("A thousand vehicles")).to_contain_text("broke off")
    expect(page.get_by_role("button", name="Drive them again")).to_be_enabled()


def test_pages_have_addresses(page: Page, server: Server) -> None:
    """Back leads to the page before, a link or a reload to the page it names."""
    open_job(page, server, "KV-118", "wake")
    page.locator('[data-page="method"]').click()
    page.locator('[data-page="road"]').click()
    expect(page).to_have_url(re.compile(r"/wake\?page=road$"))
    page.go_back()
    expect(page.locator('[data-page="method"]')).to_have_attribute("aria-selected", "true")
    page.go_back()
    expect(page.locator('[data-page="thresholds"]')).to_have_attribute("aria-selected", "true")
    page.goto(f"{server.address}/job/5/run?page=buy")
    expect(page.locator('[data-page="buy"]')).to_have_attribute("aria-selected", "true")
    page.reload()
    expect(page.locator('[data-page="buy"]')).to_have_attribute("aria-selected", "true")
    page.get_by_role("link", name=re.compile("Survey")).click()
    expect(page.locator('[data-page="found"], [data-page]').first).to_have_attribute("aria-selected", "true")


def test_a_new_job_whose_answer_is_lost_is_there_once(page: Page, server: Server) -> None:
    """The signal goes while the answer is on its way; pressed again, it is the job that was made."""
    page.goto(server.address)
    page.locator("#new-title").fill("Pump float")
    lost = [1]

    def lose(route: Route) -> None:
        if route.request.method != "POST":
            route.continue_()
            return
        answer = route.fetch()
        if lost.pop() if lost else 0:
            route.abort()
        else:
            route.fulfill(response=answer)

    page.route(re.compile(r"/api/jobs$"), lose)
    page.get_by_role("button", name="Start the survey").click()
    expect(page.get_by_text("The server does not answer")).to_be_visible()
    expect(page.locator("#new-title")).to_have_value("Pump float")
    page.get_by_role("button", name="Start the survey").click()
    expect(page).to_have_url(re.compile(r"/job/\d+/survey"))
    jobs = page.request.get(f"{server.address}/api/jobs").json()["jobs"]
    assert [job["title"] for job in jobs].count("Pump float") == 1
