"""Work over the yard is the same wherever it is done, and a worker that dies takes nothing along.

The long form is `make check-yard`.
"""

from __future__ import annotations

import os
import random
import re
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

import pytest
from distributed import LocalCluster
from sqlalchemy import text

from olvask.core.assess import assess
from olvask.store.cards import Heading, rules
from olvask.store.stores import Stores
from olvask.work import spread as spread_module
from olvask.work import yard
from olvask.work.spread import Here, NoScheduler, OtherOlvask, Processes, Scheduler, Spread, spread_of
from tests.anything import anything
from tests.work.tasks import deadly, double, slow

LONG = "OLVASK_YARD" in os.environ
JOBS = int(os.environ.get("OLVASK_YARD", "150"))
COLUMNS = (
    "job_id, version, rules, vehicle, unit, battery, stops, cautions, next_action, spoilt, line, findings, changed"
)


def filled(path: Path, jobs: int = JOBS) -> Stores:
    """A yard of designs of any kind, one of them spoilt underneath."""
    stores = Stores.open(path)
    made = [anything(seed) for seed in range(min(jobs, 150))]
    with stores.database.writing() as session:
        # As if by SQL from elsewhere: ten thousand are not to be judged before the test begins.
        for at in range(1, jobs + 1):
            design = made[at % len(made)].model_dump_json()
            row = {"at": at, "title": f"job {at}", "design": "{}" if at == 7 else design}
            session.execute(
                text(
                    "INSERT INTO job (id, code, title, customer, version, created_at, saved_at, archived, template, service_due)"
                    " VALUES (:at, '', :title, '', 1, '2031-05-01', '2031-05-01', 0, 0, '')"
                ),
                row,
            )
            session.execute(
                text(
                    "INSERT INTO revision (job_id, version, code, title, customer, saved_at, design, by)"
                    " VALUES (:at, 1, '', :title, '', '2031-05-01', :design, '')"
                ),
                row,
            )
    return stores


def cards(stores: Stores) -> list[tuple[Any, ...]]:
    with stores.database.reading() as session:
        return [tuple(row) for row in session.execute(text(f"SELECT {COLUMNS} FROM card ORDER BY job_id"))]  # noqa: S608  # our own names


@contextmanager
def dask() -> Iterator[Spread]:
    with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster:  # type: ignore[no-untyped-call]
        yield Scheduler(cluster.scheduler_address)


def children() -> list[int]:
    """Worker processes of this one, at whatever depth."""
    found, asked = [], [os.getpid()]
    while asked:
        said = subprocess.run(["/usr/bin/pgrep", "-P", str(asked.pop())], capture_output=True, text=True, check=False)
        below = [int(number) for number in said.stdout.split()]
        asked += below
        for pid in below:
            with suppress(OSError):  # gone meanwhile
                found += [pid] if "spawn_main" in Path(f"/proc/{pid}/cmdline").read_text(encoding="utf-8") else []
    return found


def timed(name: str, work: Callable[[], Any]) -> Any:
    began = time.perf_counter()
    done = work()
    print(f"{name}: {time.perf_counter() - began:.1f} s")
    return done


@pytest.mark.skipif(sys.platform != "linux", reason="looks at /proc")
def test_the_same_findings_wherever_it_is_done(tmp_path: Path) -> None:
    """Here, on one process, on two, on a dask cluster of two; one of two killed half-way."""
    stores = filled(tmp_path / "yard.sqlite")
    told: dict[str, list[tuple[int, str]]] = {}
    kept: dict[str, list[tuple[Any, ...]]] = {}

    def run(name: str, on: Spread, kill: bool = False) -> None:
        with stores.database.writing() as session:
            session.execute(text("DELETE FROM card"))
        lines: list[yard.Told] = []
        for line in yard.reassess(stores, on):
            lines.append(line)
            if kill and line.done >= 0.4:
                kill = False
                os.kill(children()[-1], signal.SIGKILL)
        shares = [line.done for line in lines]
        assert shares == sorted(shares)
        assert shares[-1] == 1.0
        assert not kill
        told[name] = sorted((line.job_id, line.unreadable) for line in lines if line.job_id)
        kept[name] = cards(stores)

    timed("one process", lambda: run("one", Processes(1) if LONG else Here()))
    if LONG:  # what is killed half-way begins as this does
        timed("two processes", lambda: run("two", Processes(2)))
    timed("two, one killed half-way", lambda: run("killed", Processes(2), kill=True))
    with dask() as on:
        if LONG:
            timed("dask, two workers", lambda: run("dask", on))
        timed("dask, one killed half-way", lambda: run("dask, killed", on, kill=True))
    assert told["one"][0][0] == 7
    assert len(kept["one"]) == JOBS
    for name, rows in kept.items():
        assert [(a, b) for a, b in zip(kept["one"], rows, strict=True) if a != b] == [], name
    assert all(lines == told["one"] for lines in told.values())
    for row in kept["one"][:6]:
        found = assess(stores.jobs.get(row[0]).design, remedies=False)
        assert row[6:8] == (len(found.stops), sum(item.level == "caution" for item in found.findings))


BATCHES = [tuple(range(at, at + 5)) for at in range(0, 40 if LONG else 20, 5)]


def test_one_that_takes_its_worker_along_takes_no_other() -> None:
    """Thirteen ends whatever process works on it: it alone is told as lost, all others are done once."""
    found: dict[int, int | None] = {}
    for batch, results in Processes(2).each(deadly, BATCHES):
        for at, result in zip(batch, results or (None,) * len(batch), strict=True):
            assert at not in found
            found[at] = result
    assert found == {at: None if at == 13 else 2 * at for batch in BATCHES for at in batch}


def test_whoever_stops_ends_the_work() -> None:
    """The first answer in hand, the rest is given up: no process works on."""
    before = set(children())
    work = Processes(2).each(slow, [(0,), (1,), (2,)])
    assert next(iter(work))[0] == (0,)
    assert set(children()) - before
    work.close()
    for _ in range(50):
        if not set(children()) - before:
            return
        time.sleep(0.1)
    raise AssertionError("a process works on")


def test_a_worker_with_other_rules_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    """What judges otherwise than this server would mix two verdicts in one yard."""
    monkeypatch.setattr(spread_module, "rules", lambda: "others")
    with pytest.raises(OtherOlvask):
        list(Processes(1).each(double, BATCHES))
    assert list(Here().each(double, BATCHES))  # nobody else is asked there


def test_no_scheduler_is_said() -> None:
    """Nobody listens there: a sentence, not a wait for ever."""
    with pytest.raises(NoScheduler, match="127\\.0\\.0\\.1:9"):
        spread_of(0, "tcp://127.0.0.1:9")


def test_what_other_rules_find_otherwise(tmp_path: Path) -> None:
    """A card of other rules with one finding more and one less than now: both are told, and gone with the next save."""
    stores = filled(tmp_path / "yard.sqlite", 3)
    list(yard.reassess(stores, Here()))
    (row,) = [row for row in cards(stores) if row[0] == 2]
    kept = row[11].splitlines()
    assert kept
    with stores.database.writing() as session:
        findings = "\n".join([*kept[1:], "old.rule\tAn old rule's finding"])
        session.execute(text("UPDATE card SET rules = 'older', findings = :f WHERE job_id = 2"), {"f": findings})
    assert stores.jobs.cards.outdated() == [2]
    (line,) = [line for line in yard.reassess(stores, Here()) if line.job_id]
    assert line.changed.splitlines() == [f"+{kept[0].partition(chr(9))[2]}", "−An old rule's finding"]
    again = [line.changed for line in yard.reassess(stores, Here()) if line.job_id]
    assert again == [line.changed]  # until somebody has saved it, it is told
    job = stores.jobs.get(2)
    stores.jobs.save(2, 1, Heading("seen"), job.design)
    assert [line for line in yard.reassess(stores, Here()) if line.job_id] == []
    assert {row[2] for row in cards(stores)} == {rules()}


def test_a_whole_yard_within_tolerances(tmp_path: Path) -> None:
    """As each job by itself."""
    stores = filled(tmp_path / "yard.sqlite", 12)
    here = [(line.job_id, line.shares, line.unreadable) for line in yard.sweep(stores, Here(), 3) if line.job_id]
    there = [(line.job_id, line.shares, line.unreadable) for line in yard.sweep(stores, Processes(2), 3) if line.job_id]
    assert sorted(here, key=lambda item: item[0]) == sorted(there, key=lambda item: item[0])
    assert any(shares is not None for _, shares, _ in here)


@pytest.mark.parametrize("seed", range(3 if LONG else 1))
def test_whenever_a_worker_is_lost(seed: int) -> None:
    """Killed at any moment, also between two batches that are being handed out: every batch comes back, once."""
    pick = random.Random(seed)
    batches = [(at,) for at in range(400)]
    found: list[int] = []
    for batch, results in Processes(2).each(double, batches):
        assert results == (2 * batch[0],)
        found.append(batch[0])
        if pick.random() < 0.01 and (there := children()):
            with suppress(ProcessLookupError):  # one that was lost before may be gone by now
                os.kill(pick.choice(there), signal.SIGKILL)
            if pick.random() < 0.5:
                time.sleep(0.05)  # so that the pool knows before the next one is handed out
    assert sorted(found) == list(range(400))


@pytest.mark.parametrize(
    ("address", "words"),
    [
        ("tcp://127.0.0.1:9", "no scheduler answers at tcp://127.0.0.1:9"),
        ("127.0.0.1:9", "no scheduler answers at 127.0.0.1:9"),
        ("tcp://yard.invalid:8786", "no scheduler answers at tcp://yard.invalid:8786"),
        ("the big one", "an address is such as tcp://yard.example:8786"),
        ("tcp://127.0.0.1", "an address is such as tcp://yard.example:8786"),
        ("tcp://127.0.0.1:8o86", "no scheduler answers at tcp://127.0.0.1:8o86"),
    ],
)
def test_nobody_at_the_address(address: str, words: str) -> None:
    """Said at once, whatever is written there."""
    with pytest.raises(NoScheduler, match=re.escape(words)):
        spread_of(2, address)
