"""Speed and size, measured and printed as percentiles against what they are held to. Not a test: machines differ."""

from __future__ import annotations

import gzip
import sqlite3
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from playwright.sync_api import Page, Response, sync_playwright
from tests.e2e.server import CHROMIUM, FLAGS, Server
from tests.oracles.ivp import integrate

from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.size_ladder import size_ladder
from olvask.core.analyses.tolerance import analyse
from olvask.core.analyses.week import week_of
from olvask.core.assess import assess
from olvask.core.model import Charger, Design
from olvask.core.model.shelf import chargers
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.simulate.trip import drive
from olvask.store import Stores
from olvask.store.demo import demo_designs, seed
from olvask.web import create_app
from olvask.web.app import Config

PRESSES = 120
DRAGS = 80
# Time from the keydown event until the frame with the newly assessed line has been painted: once the line stands in
# the document the next frame draws it, and a message posted while that frame is made is read right after its paint.
WATCH = """
([kind, drawing, mark]) => {
  window.took = [];
  let began = 0;
  window.addEventListener(kind, (event) => {
    if (kind !== 'keydown' || event.key === 'ArrowUp' || event.key === 'ArrowDown') began = performance.now();
  }, true);
  const painted = new MessageChannel();
  painted.port1.onmessage = () => window.took.push(performance.now() - began);
  new MutationObserver(() => requestAnimationFrame(() => painted.port2.postMessage(null)))
    .observe(document.querySelector(drawing), { attributes: true, attributeFilter: [mark] });
}
"""
# Asked as a promise, since the page's own policy forbids evaluating text again and again.
WAIT = """
(taken) => new Promise((done) => {
  const look = () => { if (window.took.length > taken) done(true); else requestAnimationFrame(look); };
  look();
})
"""


def percentile(values: list[float], share: float) -> float:
    """The value below which `share` (0..1) of `values` lies."""
    return statistics.quantiles(values, n=100, method="inclusive")[round(share * 100) - 1]


def milliseconds(work: Callable[[], object], rounds: int) -> list[float]:
    """Time `work` `rounds` times [ms], after one round to warm up."""
    work()
    taken = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        taken.append((time.perf_counter() - began) * 1000)
    return taken


def say(what: str, value: float, unit: str, held_to: float | None = None) -> None:
    """Print one line: what, how much, and whether it is within what it is held to."""
    verdict = "" if held_to is None else f"held to {held_to:g} {unit}: {'within' if value <= held_to else 'OVER'}"
    print(f"{what:<58} {value:8.2f} {unit:<4} {verdict}")


def core() -> None:
    """The core alone."""
    designs = [design for _, design in demo_designs()]
    plain = milliseconds(lambda: sum(at * at for at in range(1_000_000)), 7)
    say("for comparing machines: a million squares summed, p50", percentile(plain, 0.5), "ms")
    taken = [one for design in designs for one in milliseconds(lambda design=design: assess(design), 100)]  # type: ignore[misc]
    say("assess, demo jobs, p50", percentile(taken, 0.5), "ms", 2)
    say("assess, demo jobs, p95", percentile(taken, 0.95), "ms")
    cables = [
        next(item.id for item in run.pieces if item.kind == "cable") for run in (designs[0].supply, designs[0].delivery)
    ]
    ladder = milliseconds(lambda: (size_ladder(designs[0], cables[0]), size_ladder(designs[0], cables[1])), 30)
    say("size ladders of both runs, p50", percentile(ladder, 0.5), "ms", 30)
    large = large_shelf(designs[0])
    say(
        f"{len(large)} units fitted, judged and ranked, p50",
        percentile(milliseconds(lambda: rank_units(designs[0], large), 15), 0.5),
        "ms",
        250,
    )
    say("a typical week, p50", percentile(milliseconds(lambda: week_of(designs[0]), 30), 0.5), "ms")


def large_shelf(design: Design, count: int = 200) -> list[Charger]:
    """Units of the job's own voltages in many sizes, so that each is fitted to the end and none is passed over early."""
    fitting = [
        unit
        for unit in chargers()
        if unit.input_nominal_v == design.vehicle.system_v
        and unit.output_nominal_v == design.auxiliary.nominal_v
        and unit.kind == "charger"
    ]
    return [
        unit.model_copy(update={"id": f"{unit.id}-{at}", "output_a": unit.output_a + at % 7, "price": unit.price + at})
        for at in range(count)
        for unit in [fitting[at % len(fitting)]]
    ]


def resident_mb(pid: int) -> float:
    """Resident memory of a process [MB]."""
    pages = int(Path(f"/proc/{pid}/statm").read_text(encoding="ascii").split()[1])
    return pages * 4096 / 1e6


def nudge(page: Page) -> list[float]:
    """Step a cable up and down and time each repaint [ms]."""
    page.locator('[data-run="supply"]').nth(1).focus()
    page.evaluate(WATCH, ["keydown", ".frame svg", "data-assessed"])
    for press in range(PRESSES):
        page.keyboard.press("ArrowUp" if press % 2 else "ArrowDown")
        page.evaluate(WAIT, press)
    taken: list[float] = page.evaluate("window.took")
    return taken


def drag(page: Page) -> list[float]:
    """Drag the start threshold up and down and time each repaint of the next ten minutes [ms]."""
    page.locator(".minutes[data-driven] .chart svg").wait_for()
    handle = page.locator('[data-threshold="activation.start_rules.0.at_least_v"] .chip')
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(WATCH, ["pointermove", ".minutes", "data-driven"])
    for step in range(DRAGS):
        page.mouse.move(x, y + (24 if step % 2 else 48))
        page.evaluate(WAIT, step)
    page.mouse.up()
    taken: list[float] = page.evaluate("window.took")
    return taken


def simulator() -> None:
    """Days against scipy's integrator on the same equations, and the tolerance analysis."""
    ours: list[float] = []
    theirs: list[float] = []
    apart = 0.0
    for name in ("commute", "delivery round", "motorway"):
        day = read_programme(LIBRARY[name])
        for _, design in demo_designs():
            ours += milliseconds(lambda design=design, day=day: drive(design, day), 5)  # type: ignore[misc]
            began = time.perf_counter()
            exact = integrate(design, day, "LSODA")
            theirs += [(time.perf_counter() - began) * 1000] * 5
            trip = drive(design, day)
            pairs = (
                (trip.charged_ah, exact.charged_ah),
                (trip.input_wh, exact.input_wh),
                (trip.start_charge, exact.start_charge),
                (trip.auxiliary_charge, exact.auxiliary_charge),
            )
            apart = max(apart, *(abs(mine / other - 1) * 100 for mine, other in pairs if other > 0))
    say("a day of 24 h, demo jobs, p50", percentile(ours, 0.5), "ms", 30)
    say("a day of 24 h, demo jobs, p95", percentile(ours, 0.95), "ms")
    say("furthest from solve_ivp: energy, Ah, states of charge", apart, "%", 1)
    faster = statistics.median(there / here for here, there in zip(ours, theirs, strict=True))
    print(
        f"{'times faster than solve_ivp (LSODA), median':<58} {faster:8.1f} ×    at least 5: {'yes' if faster >= 5 else 'NO'}"
    )
    design = demo_designs()[0][1]
    took = [one / 1000 for one in milliseconds(lambda: analyse(design), 5)]
    say("tolerances: 1,000 vehicles of ten minutes, p50", percentile(took, 0.5), "s", 2)


def yard(count: int = 10_000) -> None:
    """A yard of many jobs: one page of it, in every order and searched."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "yard.sqlite"
        stores = Stores.open(path)
        seed(stores)
        with closing(sqlite3.connect(path)) as made:
            made.execute(
                "with recursive k(i) as (select 6 union all select i + 1 from k where i < ?) insert into job "
                "select i, code || i, title || ' ' || i, customer, 1, created_at, datetime(saved_at, '+' || i || ' seconds') "
                "from k join job j on j.id = 1 + i % 5",
                (count,),
            )
            made.execute(
                "insert into revision select j.id, 1, j.code, j.title, j.customer, j.saved_at, "
                "(select design from revision r where r.job_id = 1 + j.id % 5) from job j where j.id > 5"
            )
            made.execute(
                "insert into card select j.id, 1, c.rules, c.size, vehicle, unit, unit_id, battery, alternator, stops, "
                "cautions, next_stage, next_action, spoilt from job j join card c on c.job_id = 1 + j.id % 5 where j.id > 5"
            )
            made.commit()
        client = create_app(Config(path)).test_client()
        for what, asked in (("as it opens", ""), ("by vehicle", "?order=title"), ("searched", "?sought=lorry%2099")):
            took = milliseconds(lambda asked=asked: client.get(f"/api/jobs{asked}"), 20)  # type: ignore[misc]
            say(f"yard of {count} jobs, {what}, p95", percentile(took, 0.95), "ms", 100)
        say("its answer", len(client.get("/api/jobs").data) / 1024, "kB", 300)


def browser() -> None:
    """The built application in Chromium against a real server."""
    scripts: dict[str, int] = {}

    def weigh(response: Response) -> None:
        if response.url.endswith(".js"):
            scripts[response.url] = len(gzip.compress(response.body(), 9))

    with (
        tempfile.TemporaryDirectory() as folder,
        Server(Path(folder) / "bench.sqlite") as server,
        sync_playwright() as play,
    ):
        chromium = play.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        page.on("response", weigh)
        page.goto(f"{server.address}/job/5/run")
        page.locator("tr[data-size]").first.wait_for()
        say("JavaScript of the first load, a job opened, gzipped", sum(scripts.values()) / 1000, "kB", 250)
        taken = nudge(page)
        say("keypress to repainted level line, p50", percentile(taken, 0.5), "ms")
        say("keypress to repainted level line, p95", percentile(taken, 0.95), "ms", 60)
        page.goto(f"{server.address}/job/2/wake")
        taken = drag(page)
        say("threshold dragged to repainted ten minutes, p50", percentile(taken, 0.5), "ms")
        say("threshold dragged to repainted ten minutes, p95", percentile(taken, 0.95), "ms", 100)
        page.request.get(f"{server.address}/api/jobs/5/sheet.pdf")
        assert server.process is not None
        say("resident memory of the server, after a sheet", resident_mb(server.process.pid), "MB", 200)
        chromium.close()


if __name__ == "__main__":
    core()
    simulator()
    yard()
    browser()
