"""Make mistakes in rules, circuit, physics and simulator, one a run, and count those that a test notices.

    python -m tools.mutation [--count 400] [--seed 1] [--only circuit]

First every test of the core runs once, with which lines each reaches and how long it takes. Each mistake is then given
to the tests that reach its line, those of its own room first, until one fails. Survivors are named as they are met. Which
are drawn hangs on the seed and their own words alone, so a draw stays as it is where the code does. Survivors that
nothing could notice, for the reason in `judged.csv`, are counted apart; what is drawn and noticed is always told with them, too.
"""

from __future__ import annotations

import argparse
import csv
import hashlib
import json
import multiprocessing
import os
import re
import subprocess
import sys
import tempfile
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path
from xml.etree import ElementTree as ET

import pytest
from coverage import CoverageData

from tools.mutation.mistakes import Mistake, told
from tools.mutation.trial import FELL, tried

ROOT = Path(__file__).parents[2]
CORE = ROOT / "src" / "olvask" / "core"
ROOMS = ("stages", "circuit", "physics", "simulate")
MAP = ROOT / ".stamps" / "mutation.json"
JUDGED = Path(__file__).parent / "judged.csv"
LONGEST_S = 150.0  # of one mistake's tests; one that hangs them has been noticed
BUDGET_S = 60.0  # of tests given to one mistake
FIGURES = "tests/core/test_reckoned_with.py"  # holds what a module writes down beside its imports
STEADY = {
    "OLVASK_EXAMPLES": "60",
    "OLVASK_INTERPRETED": "1",
}  # what is compiled is bound together: no mistake reaches it
# Each mistake's tests run in a process forked from one that has the packages of others imported, and nothing of ours.
FORKS = multiprocessing.get_context("forkserver")
FORKS.set_forkserver_preload(["pytest", "hypothesis", "numpy", "scipy.integrate", "pydantic"])


def reach() -> dict[str, dict[str, list[int]]]:
    """Which tests of the core reach which lines: file, test, lines; kept between runs until a test or source changes."""
    newest = max(path.stat().st_mtime for folder in (CORE, ROOT / "tests" / "core") for path in folder.rglob("*.py"))
    if MAP.exists() and MAP.stat().st_mtime > newest:
        found: dict[str, dict[str, list[int]]] = json.loads(MAP.read_text(encoding="utf-8"))
        return found
    with tempfile.TemporaryDirectory() as folder:
        data, report = Path(folder) / "coverage", Path(folder) / "junit.xml"
        words = ["-n", "2", "--dist", "worksteal", "-q", "--cov=olvask.core", "--cov-context=test", "--cov-report="]
        words += ["-p", "tools.mutation.uncached"]
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "tests/core", *words, f"--junitxml={report}"],
            cwd=ROOT,
            env=os.environ | {"COVERAGE_FILE": str(data), "OLVASK_INTERPRETED": "1"},
            check=False,
        )
        if run.returncode:
            raise SystemExit("the tests fail as they are: mend that first")
        took = {
            f"{case.get('classname', '').replace('.', '/')}::{case.get('name')}": float(case.get("time", "0"))
            for case in ET.parse(report).iter("testcase")
        }
        read = CoverageData(str(data))
        read.read()
        lines: dict[str, dict[str, list[int]]] = {"": {}}
        for file in read.measured_files():
            by_test: dict[str, list[int]] = defaultdict(list)
            for line, contexts in read.contexts_by_lineno(file).items():
                for context in contexts:
                    if context:
                        by_test[context.split("|")[0]].append(line)
            lines[file] = dict(by_test)
        seconds = {test: _seconds(test, took) for tests in list(lines.values()) for test in tests}
        lines[""] = {test: [round(value * 1000)] for test, value in seconds.items()}
        MAP.parent.mkdir(exist_ok=True)
        MAP.write_text(json.dumps(lines), encoding="utf-8")
        return lines


def _seconds(test: str, took: dict[str, float]) -> float:
    """How long a test took [s]; the report writes its place another way."""
    file, _, name = test.partition("::")
    key = f"{file.removesuffix('.py')}::{name}" if "::" not in name else f"{file.removesuffix('.py')}/{name}"
    return took.get(key, 1.0)


def _module(file: Path) -> str:
    """A source's name as it is imported."""
    return ".".join(file.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__")


def tests_of(file: Path, mistake: Mistake, lines: dict[str, dict[str, list[int]]], budget_s: float) -> list[str]:
    """The tests that reach a mistake, as many as a time allows; for a constant all of its module."""
    by_test = lines.get(str(file), {})
    at_line = [test for test, reached in by_test.items() if mistake.line in reached]
    found = at_line or list(by_test)
    room, module = "/".join(file.relative_to(CORE).parts[:-1]), _module(file)
    of_file: dict[str, list[str]] = defaultdict(list)
    for test in sorted(found, key=lambda test: lines[""][test][0]):
        of_file[test.partition("::")[0]].append(test)

    def seconds(tests: list[str]) -> float:
        return sum(lines[""][test][0] for test in tests) / 1000

    def turn(name: str) -> tuple[bool, bool, float]:
        """What is meant for the module first, then for its room, then the quickest."""
        asks = f"from {module} import" in (ROOT / name).read_text(encoding="utf-8")
        return not asks, not name.startswith(f"tests/core/{room}"), seconds(of_file[name])

    # File by file, for each takes its time to be gathered.
    taken: list[str] = []
    always = [] if at_line else [FIGURES]
    for name in sorted(of_file, key=turn):
        for test in of_file[name]:
            if taken and seconds(taken) + seconds([test]) > budget_s:
                return always + taken
            taken.append(test)
    return always + taken


def survives(file: Path, mistake: Mistake, tests: list[str]) -> bool:
    """Whether no test notices a mistake."""
    if not tests:
        return True
    words = ["-x", "-q", "-p", "tools.mutation.plugin", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:cov"]
    words += ["-W", "ignore::pytest.PytestAssertRewriteWarning"]  # packages are imported before
    environment = STEADY | {"OLVASK_MUTANT": f"{_module(file)}={mistake.key}"}
    code = _outcome([*words, *tests], environment)
    if code == pytest.ExitCode.USAGE_ERROR:  # a name that a parameter had by what is mistaken: the whole files
        code = _outcome([*words, *dict.fromkeys(test.partition("::")[0] for test in tests)], environment)
    return code == pytest.ExitCode.OK  # where it cannot even be imported it has been noticed, too


def _outcome(words: list[str], environment: dict[str, str]) -> int | None:
    """What pytest says in a process of its own; `None` where it had to be stopped."""
    with tempfile.TemporaryDirectory() as folder:
        said = Path(folder) / "said.txt"
        run = FORKS.Process(target=tried, args=(words, environment, said))
        run.start()
        run.join(LONGEST_S)
        if run.is_alive():
            run.kill()
            run.join()
            return None
        if not said.exists():
            raise RuntimeError("the tests' process did not begin")
        if run.exitcode in (FELL, pytest.ExitCode.NO_TESTS_COLLECTED):
            raise RuntimeError(said.read_text(encoding="utf-8")[-2000:])
        return run.exitcode


def main() -> None:
    """Draw, try, tell."""
    asked = argparse.ArgumentParser()
    asked.add_argument("--count", type=int, default=400)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--only", default="")
    asked.add_argument("--again", type=Path, help="a list of survivors to try again, as this command prints them")
    asked.add_argument("--budget", type=float, default=BUDGET_S, help="seconds of tests given to one mistake")
    options = asked.parse_args()
    lines = reach()
    named = {
        (file, mistake): (str(file.relative_to(CORE)), words)
        for room in ROOMS
        for file in sorted((CORE / room).rglob("*.py"))
        if options.only in str(file)
        for mistake, words in told(file.read_text(encoding="utf-8")).items()
    }
    everything = list(named)
    drawn = sorted(sorted(everything, key=lambda place: _lot(options.seed, *named[place]))[: options.count])
    if options.again:
        wanted = set(re.findall(r"^  (\S+) (\S+)$", options.again.read_text(encoding="utf-8"), re.M))
        drawn = [(file, item) for file, item in everything if (str(file.relative_to(CORE)), item.key) in wanted]
    print(f"{len(everything)} places, {len(drawn)} drawn", flush=True)
    judged = _judged()
    score: dict[str, list[int]] = defaultdict(lambda: [0, 0])
    excused = 0
    with ThreadPoolExecutor(max_workers=2) as workers:
        running = {
            workers.submit(survives, file, item, tests_of(file, item, lines, options.budget)): (file, item)
            for file, item in drawn
        }
        for count, outcome in enumerate(as_completed(running), 1):
            file, item = running[outcome]
            name, words = named[file, item]
            score[name][1] += 1
            if outcome.exception() is not None:
                print(f"  NOT TRIED {name} {item.key}: {outcome.exception()}", flush=True)
            elif outcome.result():
                why = judged.get((name, words), "")
                excused += bool(why)
                print(f"  {name} {item.key}\n      {words}\n      {why or 'not judged'}", flush=True)
            else:
                score[name][0] += 1
            if count % 20 == 0:
                print(f"{count} tried", flush=True)
    noticed = sum(item[0] for item in score.values())
    for name, (killed, drawn_here) in sorted(score.items()):
        print(f"{name:<44} {killed:4} of {drawn_here:4}")
    print(f"noticed {noticed} of {len(drawn)}: {100 * noticed / max(1, len(drawn)):.1f} %")
    left = len(drawn) - excused
    print(f"{excused} could be noticed by nothing; of the other {left}: {100 * noticed / max(1, left):.1f} %")


def _lot(seed: int, module: str, words: str) -> bytes:
    """Where a mistake stands in a draw."""
    return hashlib.sha256(f"{seed}|{module}|{words}".encode()).digest()


def _judged() -> dict[tuple[str, str], str]:
    """Why nothing could notice a mistake: by module and words."""
    with JUDGED.open(encoding="utf-8", newline="") as rows:
        return {(row["module"], row["mistake"]): row["why"] for row in csv.DictReader(rows)}


if __name__ == "__main__":
    main()
