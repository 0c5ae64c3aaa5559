"""Speed and size, measured and printed as percentiles against what they are held to. Not a test: machines differ."""

from __future__ import annotations

import gc
import http.client
import json
import random
import socket
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from contextlib import closing, suppress
from datetime import date
from pathlib import Path
from typing import Literal

sys.path.insert(0, str(Path(__file__).parents[1]))

import numpy as np
from playwright.sync_api import Browser, Page, Response, sync_playwright
from tests.core.analyses.test_recommended import survey
from tests.e2e.server import CHROMIUM, FLAGS, Server
from tests.oracles.ivp import integrate

from olvask.core.analyses.audit import audit
from olvask.core.analyses.diagnosis import diagnose
from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.analyses.rank import rank_units
from olvask.core.analyses.size_ladder import size_ladder
from olvask.core.analyses.tolerance import analyse
from olvask.core.analyses.week import week_of
from olvask.core.assess import Assessment, assess
from olvask.core.circuit.context import Context
from olvask.core.model import Charger, Design
from olvask.core.model.shelf import chargers
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.simulate.report import report
from olvask.core.simulate.trip import drive
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.report import prove
from olvask.documents.diagram.layout import diagram_of
from olvask.documents.diagram.paper import diagram_pdf
from olvask.documents.diagram.svg import svg_of
from olvask.documents.sheet import SheetHead, sheet_pdf
from olvask.rig.device_log import Layout, Recorder, Stage, recorded, written
from olvask.store.demo import demo_designs, seed
from olvask.store.stores import Stores
from olvask.web.api.assessment import WORDS
from olvask.web.app import Config, create_app

PRESSES = 120
DRAGS = 80
# Time from the keydown event until the frame with the newly assessed line has been painted: once the line stands in
# the document the next frame draws it, and a message posted while that frame is made is read right after its paint.
WATCH = """
([kind, drawing, mark]) => {
  window.took = [];
  let began = 0;
  window.addEventListener(kind, (event) => {
    if (event.key !== 'Shift') began = performance.now();
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
    surveys = [survey(random.Random(seed))[0] for seed in range(300)]
    taken = [min(milliseconds(lambda one=one: assess(one, remedies=False, words=False), 3)) for one in surveys]  # type: ignore[misc]
    say("assess, 300 surveys, p50", percentile(taken, 0.5), "ms", 0.6)
    say("assess, 300 surveys, p95", percentile(taken, 0.95), "ms", 1.6)
    answers = [assess(one, remedies=False) for one in surveys]
    say("its answer, without words, mean", statistics.mean(len(slim(one)) for one in answers) / 1000, "kB")
    taken = [one for design in designs for one in milliseconds(lambda design=design: assess(design), 100)]  # type: ignore[misc]
    say("assess with remedies, demo jobs, p50", percentile(taken, 0.5), "ms")
    cables = [
        next(item.id for item in run.pieces if item.kind == "cable") for run in (designs[0].supply, designs[0].delivery)
    ]
    ladder = milliseconds(lambda: (size_ladder(designs[0], cables[0]), size_ladder(designs[0], cables[1])), 30)
    say("size ladders of both runs, p50", percentile(ladder, 0.5), "ms", 30)
    large = large_shelf(designs[0])
    say(
        f"{len(large)} units fitted, judged and ranked, p50",
        percentile(milliseconds(lambda: rank_units(designs[0], [unit.model_copy() for unit in large]), 7), 0.5),
        "ms",
        250,
    )
    say("a typical week, p50", percentile(milliseconds(lambda: week_of(designs[0]), 30), 0.5), "ms")
    five = five_sources(designs[-1])
    say("audit of five sources, p50", percentile(milliseconds(lambda: audit(five), 15), 0.5), "ms", 150)
    build_lines(designs[0])


def build_lines(design: Design) -> None:
    """The procedure, the diagram drawn and on paper, the hand-over sheet, a quote of three."""
    ctx = Context.of(design)
    say(
        "procedure with its ways back, p50",
        percentile(milliseconds(lambda: procedure_of(Context.of(design)), 20), 0.5),
        "ms",
    )
    drawn = milliseconds(lambda: svg_of(diagram_of(ctx)), 30)
    say("diagram drawn as SVG, p95", percentile(drawn, 0.95), "ms", 60)
    head = SheetHead("Van", "V-1", "", 1, date(2031, 5, 1))
    assessed = assess(design)
    say("hand-over sheet, p50", percentile(milliseconds(lambda: sheet_pdf(head, design, assessed), 5), 0.5), "ms", 500)
    say("diagram on paper, p50", percentile(milliseconds(lambda: diagram_pdf(head, design), 5), 0.5), "ms", 500)
    readings = {"posts_v": 13.7, "input_a": 47.0, "input_v": 12.9}
    say("readings judged, p50", percentile(milliseconds(lambda: prove(ctx, readings), 10), 0.5), "ms")
    say(
        "causes and next measurement, p50",
        percentile(milliseconds(lambda: diagnose(ctx, readings), 10), 0.5),
        "ms",
        150,
    )
    three = [(f"Option {at}", design) for at in range(3)]
    asked = QuoteHead("Van", "V-1", "", "2031-05-01", "2031-05-31")
    say("quote of three options, p50", percentile(milliseconds(lambda: quote_of(asked, three), 10), 0.5), "ms")


def five_sources(design: Design) -> Design:
    """A design with the unit and four old chargers of different kinds."""
    kinds = ("mains_charger", "portable_charger", "built_in_charger")
    old = [{"kind": kind, "charge_a": 20.0, "profile": "flooded", "wire_mm2": 2.5, "wire_m": 3.0} for kind in kinds]
    document = design.model_dump(mode="json")
    document |= {"existing": old, "solar": {"panel_w": 200.0, "profile": "agm"}, "old_link": {}}
    found = Design.model_validate(document)
    if len(audit(found).sources) != 5:
        raise ValueError("five sources were meant")
    return found


def slim(answer: Assessment) -> str:
    """As the screen is answered."""
    return answer.model_dump_json(exclude={"figures": {"__all__": WORDS}})


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


# What a keypress costs that changes nothing but one attribute.
FLOOR = """
(asks) => window.addEventListener('keydown', async (event) => {
  event.stopImmediatePropagation();
  if (asks) await (await fetch('/api/health')).json();
  document.querySelector('.frame svg').setAttribute('data-floor', performance.now());
}, true)
"""


Floor = Literal["alone", "asking"]


STEPPED = ["ArrowDown"] * 4 + ["ArrowUp"] * 4  # through the sizes and back: a step like the last is judged ahead
UNFORESEEN = [
    "Period",
    "Shift+Period",
    "Comma",
    "Shift+Comma",
]  # a cable longer and shorter, each time by another length


REPEAT_S = 0.033  # a key held down


def nudge(page: Page, keys: list[str], floor: Floor | None = None) -> list[float]:
    """Press keys on a cable of the line and time each repaint [ms].

    With `floor` they change an attribute and nothing else, at once or behind a question that nobody has to think about.
    """
    page.locator('[data-run="supply"]').nth(1).focus()
    page.evaluate(WATCH, ["keydown", ".frame svg", "data-floor" if floor else "data-assessed"])
    if floor:
        page.evaluate(FLOOR, floor == "asking")
    due = 0.0
    for press in range(PRESSES):
        page.wait_for_timeout(max(0.0, (due - time.perf_counter()) * 1000))
        due = time.perf_counter() + REPEAT_S
        page.keyboard.press(keys[press % len(keys)])
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
    """Days against scipy's integrator on the same equations, three weeks standing, and the tolerance analysis."""
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
    faster = [there / here for here, there in zip(ours, theirs, strict=True)]
    for word, value in (("median", statistics.median(faster)), ("worst", min(faster))):
        print(
            f"{f'times faster than solve_ivp (LSODA), {word}':<58} {value:8.1f} ×    at least 20: {'yes' if value >= 20 else 'NO'}"
        )
    standing = read_programme(LIBRARY["three weeks standing"])
    taken = []
    for _, design in demo_designs():
        taken += milliseconds(lambda design=design: drive(design, standing), 5)  # type: ignore[misc]
    say("three weeks standing, worst of the demo jobs", max(taken), "ms", 10)
    year = read_programme("repeat 365\nidle 20 min\ncruise 40 min\noff 23 h\nend")
    taken = milliseconds(lambda: report(demo_designs()[0][1], year), 2)
    say("a year of days", min(taken) / 1000, "s", 1)
    design = demo_designs()[0][1]
    took = [one / 1000 for one in milliseconds(lambda: analyse(design), 5)]
    say("tolerances: 1,000 vehicles of ten minutes, p50", percentile(took, 0.5), "s", 0.35)


def shelf(count: int = 5_000) -> None:
    """A shelf of many units: its page, and a job matched with it."""
    with tempfile.TemporaryDirectory() as folder, Server(Path(folder) / "shelf.sqlite") as server:
        with closing(sqlite3.connect(Path(folder) / "shelf.sqlite")) as made:
            made.execute(
                "with recursive k(i) as (select 1 union all select i + 1 from k where i < ?) insert into shelf_item "
                "select kind, id || '-' || i, 1, 0, saved_at, json_set(document, '$.id', id || '-' || i, '$.price', "
                "json_extract(document, '$.price') + i % 97) from k join (select *, row_number() over () at from shelf_item "
                "where kind = 'chargers') on at = 1 + i % (select count(*) from shelf_item where kind = 'chargers')",
                (count,),
            )
            made.commit()
        with closing(http.client.HTTPConnection("127.0.0.1", server.port)) as client:
            taken = milliseconds(lambda: asked(client, "GET", "/api/shelf/chargers"), 5)
            say(f"shelf of {count} units, its data, p50", percentile(taken, 0.5), "ms", 300)
            design = demo_designs()[0][1].model_dump_json()
            taken = milliseconds(lambda: first_line(server.port, design), 5)
            say("matched with it: first answer, p50", percentile(taken, 0.5), "ms", 300)
            taken = milliseconds(lambda: asked(client, "POST", "/api/match", design), 2)
            say("the whole answer", min(taken), "ms")


def asked(client: http.client.HTTPConnection, verb: str, path: str, body: str | None = None) -> bytes:
    """An answer."""
    client.request(verb, path, None if body is None else body.encode(), {"Content-Type": "application/json"})
    answer = client.getresponse()
    assert answer.status == 200, answer.read()[:300]
    return answer.read()


def first_line(port: int, design: str) -> bytes:
    """The first line of the match; then hang up."""
    with closing(http.client.HTTPConnection("127.0.0.1", port)) as client:
        client.request("POST", "/api/match", design.encode(), {"Content-Type": "application/json"})
        return client.getresponse().readline()


def crowd(clients: int = 16, rounds: int = 40) -> None:
    """Many who assess at once, and one long question under way."""
    with tempfile.TemporaryDirectory() as folder, Server(Path(folder) / "crowd.sqlite") as server:
        bodies = [design.model_dump_json() for _, design in demo_designs()]
        taken: list[float] = []

        def one(at: int) -> None:
            with closing(http.client.HTTPConnection("127.0.0.1", server.port)) as client:
                for round_ in range(rounds):
                    began = time.perf_counter()
                    asked(client, "POST", "/api/assess", bodies[(at + round_) % len(bodies)])
                    taken.append((time.perf_counter() - began) * 1000)

        threads = [threading.Thread(target=one, args=(at,)) for at in range(clients)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        say(f"{clients} clients assessing without a pause, p95", percentile(taken, 0.95), "ms", 150)
        hunting = json.dumps({"vehicles": 5000, "design": json.loads(bodies[1])}).encode()
        wanted = urllib.request.Request(
            f"{server.address}/api/tolerance", hunting, {"Content-Type": "application/json"}
        )

        def ask_long() -> None:
            with suppress(OSError, http.client.HTTPException):  # turned away, or cut off at the end
                urllib.request.urlopen(wanted).read()

        long = [threading.Thread(target=ask_long, daemon=True) for _ in range(6)]
        for thread in long:
            thread.start()
        time.sleep(1)
        taken.clear()
        one(0)
        say("one client while six long questions are asked, p95", percentile(taken, 0.95), "ms", 150)


def second_start() -> None:
    """From the command to the page's first byte, and to the first answer, the second time."""
    with tempfile.TemporaryDirectory() as folder:
        first, answered = [], []
        for _ in range(4):
            with socket.create_server(("127.0.0.1", 0)) as free:
                port = free.getsockname()[1]
            server = Server(Path(folder) / "start.sqlite", "serve")
            server.port = port
            began = time.perf_counter()
            server.begin()
            try:
                client = None
                while client is None:
                    try:
                        client = urllib.request.urlopen(f"{server.address}/")
                    except urllib.error.URLError:
                        time.sleep(0.005)  # it does not listen yet
                with client:
                    client.read(1)
                    first.append(time.perf_counter() - began)
                urllib.request.urlopen(f"{server.address}/api/health").read()
                answered.append(time.perf_counter() - began)
            finally:
                server.kill()
        say("second start, to the first byte", min(first[1:]), "s", 0.5)
        say("second start, to the first answer of the application", min(answered[1:]), "s")


def yard(count: int = 10_000) -> None:
    """A yard of many jobs: one page of it, in every order and searched."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "yard.sqlite"
        stores = Stores.open(path)
        seed(stores)
        with closing(sqlite3.connect(path)) as made:
            made.execute(
                "with recursive k(i) as (select 6 union all select i + 1 from k where i < ?) insert into job "
                "(id, code, title, customer, version, created_at, saved_at, archived, template, service_due) select i, code || i, title || ' ' || i, customer, 1, created_at, datetime(saved_at, '+' || i || ' seconds'), 0, 0, '' "
                "from k join job j on j.id = 1 + i % 5",
                (count,),
            )
            made.execute(
                "insert into revision (job_id, version, code, title, customer, saved_at, design) select j.id, 1, j.code, j.title, j.customer, j.saved_at, "
                "(select design from revision r where r.job_id = 1 + j.id % 5) from job j where j.id > 5"
            )
            made.execute(
                "insert into card (job_id, version, rules, size, vehicle, unit, unit_id, battery, alternator, stops, "
                "cautions, next_stage, next_action, spoilt, sought, line) select j.id, 1, c.rules, c.size, vehicle, unit, "
                "unit_id, battery, alternator, stops, cautions, next_stage, next_action, spoilt, "
                "lower(j.title || ' ' || j.code || ' ' || j.customer || ' ' || unit), line from job j join card c on c.job_id = 1 + j.id % 5 where j.id > 5"
            )
            made.commit()
        client = create_app(Config(path)).test_client()
        for what, asked in (("as it opens", ""), ("by vehicle", "?order=title"), ("searched", "?sought=lorry%2099")):
            took = milliseconds(lambda asked=asked: client.get(f"/api/jobs{asked}"), 20)  # type: ignore[misc]
            say(f"yard of {count} jobs, {what}, p95", percentile(took, 0.95), "ms", 100)
        say("its answer", len(client.get("/api/jobs").data) / 1024, "kB", 300)
        work = stores.jobs.get(5).design
        steps = [placed.step.key for placed in procedure_of(Context.of(work)).procedure.steps]
        with closing(sqlite3.connect(path)) as noted:
            newest = [row[0] for row in noted.execute("select id from job order by saved_at desc limit 50")]
            rows = [(f"{job}-{at}", job, step) for job in newest for at, step in enumerate(steps)]
            noted.executemany(
                "insert into build_entry values (?, ?, 'Build', ?, 'done', '', null, '', '', '', '2031-05-01 10:00:00', '2031-05-01 10:00:00')",
                rows,
            )
            noted.commit()
        took = milliseconds(lambda: client.get("/api/jobs"), 12)
        say("it opens while at all 50 of a page something was noted, worst", max(took), "ms", 1000)
        begun = time.perf_counter()
        answer = client.post("/api/recall", json={"what": "unit", "key": "redshank"})
        held = sum('"job":' in line and '"job":null' not in line for line in answer.get_data(as_text=True).splitlines())
        say(f"recall over {count} jobs, {held} of them held it", time.perf_counter() - begun, "s", 60)


def device_log() -> None:
    """A log of a million rows from file to findings, in a process of its own: time and memory."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "million.csv"
        design = next(design for heading, design in demo_designs() if heading.code == "KV-118")
        day = read_programme(f"off 6 h load 3 A\nrepeat 10\n{ROUND}end\noff 7 h load 3 A\n")
        log = recorded(design, [Stage(day)] * 2, Recorder(every_s=1.0), 1_790_000_000.0, np.random.default_rng(1))
        lines = written(log, Layout(moment="epoch_s", delimiter=";", decimal=",")).splitlines(keepends=True)
        with path.open("w", encoding="utf-8") as out:
            out.write(lines[0])
            for row in range(1_000_000):
                moment, _, rest = lines[1 + row % (len(lines) - 1)].partition(";")
                out.write(f"{1_790_000_000 + row};{rest}" if moment else "")
        done = subprocess.run(
            [sys.executable, "-c", READ_LOG, str(path)], capture_output=True, text=True, check=True
        ).stdout.split()
        say("a log of a million rows, read and fitted", float(done[0]), "s", 10)
        say("its memory", float(done[1]), "MB", 400)


# Its peak is read from its own memory: what the system counts for a process begins with that of whoever began it.
READ_LOG = """
import sys, time
from olvask.core.analyses.device_log import log_report
from olvask.core.circuit.context import Context
from olvask.core.model.device_log import LogMapping
from olvask.logs.gathered import LogRead
from olvask.logs.reading import read
from olvask.logs.sniff import sniff
from olvask.store.demo import demo_designs
design = next(design for heading, design in demo_designs() if heading.code == "KV-118")
begun = time.perf_counter()
with open(sys.argv[1], "rb") as file:
    found = sniff(file.read(60000))
names = ("encoding", "delimiter", "decimal", "header_line", "columns", "order")
mapping = LogMapping(zone="UTC", **{name: getattr(found, name) for name in names})
with open(sys.argv[1], "rb") as file:
    log = next(part.log for part in read(file, mapping) if isinstance(part, LogRead))
report, _ = log_report(Context.of(design), log)
assert report.fits and report.rows == 1_000_000
took = time.perf_counter() - begun
with open("/proc/self/status") as told:
    peak_kb = next(int(line.split()[1]) for line in told if line.startswith("VmHWM"))
print(took, peak_kb * 1.024e-3)
"""
ROUND = "crank 2 s\nidle 2 min\ncruise 20 min\nlow 90 s\ncruise 10 min\noff 40 min load 9 A\n"


def browser() -> None:
    """The built application in Chromium against a real server."""
    weights: dict[str, int] = {}

    def weigh(response: Response) -> None:
        weights[response.url] = int(response.headers.get("content-length", "0"))

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
        scripts = [size for url, size in weights.items() if url.endswith(".js")]
        say("on the wire, a job opened: scripts", sum(scripts) / 1000, "kB", 250)
        say("the largest script", max(scripts) / 1000, "kB", 120)
        say("everything", sum(weights.values()) / 1000, "kB")
        floors: dict[Floor, str] = {
            "alone": "to the next painted frame",
            "asking": "behind an empty question to the server",
        }
        for floor, what in floors.items():
            taken = nudge(page, STEPPED, floor)
            page.reload()
            page.locator("tr[data-size]").first.wait_for()
            say(f"floor: keypress {what}, p50", percentile(taken, 0.5), "ms")
            say(f"floor: keypress {what}, p95", percentile(taken, 0.95), "ms")
        for keys, what in (
            (STEPPED, "keypress to repainted level line"),
            (UNFORESEEN, "the same, a change that nothing foresaw"),
        ):
            taken = nudge(page, keys)
            page.reload()
            page.locator("tr[data-size]").first.wait_for()
            say(f"{what}, p50", percentile(taken, 0.5), "ms", 25)
            say(f"{what}, p95", percentile(taken, 0.95), "ms", 45)
        page.goto(f"{server.address}/job/2/wake")
        taken = drag(page)
        say("threshold dragged to repainted ten minutes, p50", percentile(taken, 0.5), "ms")
        say("threshold dragged to repainted ten minutes, p95", percentile(taken, 0.95), "ms", 100)
        page.request.get(f"{server.address}/api/jobs/5/sheet.pdf")
        assert server.process is not None
        say("resident memory of the server, after a sheet", resident_mb(server.process.pid), "MB", 200)
        for address, mark, most in (("/", "[data-job]", 1.0), ("/job/5/run", ".frame svg [data-place]", 2.5)):
            taken = [ready(chromium, server.address + address, mark) for _ in range(3)]
            say(f"ready at a quarter of the speed: {address}", min(taken), "s", most)
        chromium.close()


def ready(chromium: Browser, address: str, mark: str) -> float:
    """How long a fresh visitor with a slow processor waits for a mark on the page [s]."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
    began = time.perf_counter()
    page.goto(address, wait_until="commit")
    page.locator(mark).first.wait_for()
    took = time.perf_counter() - began
    context.close()
    return took


PARTS = {
    "core": core,
    "simulator": simulator,
    "yard": yard,
    "logs": device_log,
    "shelf": shelf,
    "crowd": crowd,
    "start": second_start,
    "browser": browser,
}

if __name__ == "__main__":
    gc.freeze()  # as the server does once it has imported everything
    for name in sys.argv[1:] or PARTS:
        PARTS[name]()
