"""Speed and size, measured and printed as percentiles against what they are held to. Not a test: machines differ."""

from __future__ import annotations

import gzip
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from playwright.sync_api import Page, Response, sync_playwright
from tests.e2e.server import CHROMIUM, FLAGS, Server

from olvask.core.assess import assess
from olvask.core.model import Charger, Design
from olvask.core.model.shelf import chargers
from olvask.core.rules.rank import rank_units
from olvask.core.rules.size_ladder import size_ladder
from olvask.core.simulate.week import week_of
from olvask.store.demo import demo_designs

PRESSES = 120
# Time from the keydown event until the frame with the newly assessed line has been painted: once the line stands in
# the document the next frame draws it, and a message posted while that frame is made is read right after its paint.
WATCH = """
() => {
  window.took = [];
  let began = 0;
  window.addEventListener('keydown', (event) => {
    if (event.key === 'ArrowUp' || event.key === 'ArrowDown') began = performance.now();
  }, true);
  const painted = new MessageChannel();
  painted.port1.onmessage = () => window.took.push(performance.now() - began);
  const line = document.querySelector('.frame svg');
  new MutationObserver(() => requestAnimationFrame(() => painted.port2.postMessage(null)))
    .observe(line, { attributes: true, attributeFilter: ['data-assessed'] });
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
    taken = [one for design in designs for one in milliseconds(lambda design=design: assess(design), 100)]  # type: ignore[misc]
    say("assess, demo jobs, p50", percentile(taken, 0.5), "ms", 2)
    say("assess, demo jobs, p95", percentile(taken, 0.95), "ms")
    ladder = milliseconds(lambda: (size_ladder(designs[0], "supply.1"), size_ladder(designs[0], "delivery.0")), 30)
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
    page.locator('[data-place="supply.1"]').focus()
    page.evaluate(WATCH)
    for press in range(PRESSES):
        page.keyboard.press("ArrowUp" if press % 2 else "ArrowDown")
        page.evaluate(WAIT, press)
    taken: list[float] = page.evaluate("window.took")
    return taken


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
        page.request.get(f"{server.address}/api/jobs/5/sheet.pdf")
        assert server.process is not None
        say("resident memory of the server, after a sheet", resident_mb(server.process.pid), "MB", 200)
        chromium.close()


if __name__ == "__main__":
    core()
    browser()
