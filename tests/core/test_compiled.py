"""The core as machine code: the same answers to the last bit, and never from sources other than those that lie here."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from olvask import compiled
from olvask.compiled import LISTED, SUFFIX, Finder, hashed, source_of, usable

STEPS = "olvask.core.simulate.steps"
# Days of every kind on every demo job, and designs at random with their circuits; printed to the last bit.
ANSWERS = """
import json, random
from dataclasses import asdict
from olvask.core.circuit.solve import solve
from olvask.core.simulate import trip
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.analyses.tolerance import analyse
from olvask.store.demo import demo_designs
from tests.core.analyses.test_recommended import survey
designs = [design for _, design in demo_designs()] + [survey(random.Random(seed))[0] for seed in range(8)]
said = [asdict(trip.drive(design, read_programme(text))) for design in designs for text in LIBRARY.values()]
said += [repr(solve(design)) for design in designs]
said.append(analyse(designs[0], vehicles=60).model_dump_json())
print(trip.__spec__.origin.endswith(".py"), json.dumps(said))
"""


def answers(**environment: str) -> tuple[bool, str]:
    """Whether they were interpreted, and the answers."""
    said = subprocess.run(
        [sys.executable, "-c", ANSWERS],
        cwd=Path(__file__).parents[2],
        env=os.environ | environment,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    interpreted, _, found = said.partition(" ")
    return interpreted == "True", found


@pytest.mark.skipif(not usable(), reason="not compiled here: no C compiler, or sources changed since `make fast`")
def test_the_same_answers_to_the_last_bit() -> None:
    """What is compiled and what can be read are one thing."""
    as_code, found = answers(OLVASK_INTERPRETED="")
    as_read, expected = answers(OLVASK_INTERPRETED="1")
    assert (as_code, as_read) == (False, True)
    assert len(found) > 100_000
    assert found == expected


class TestWhichAreUsed:
    @staticmethod
    def made(folder: Path, digest: str, suffix: str = SUFFIX) -> Path:
        """A folder with one module in it, compiled from sources of that hash."""
        (folder / f"{STEPS}{suffix}").write_bytes(b"")
        (folder / f"{SUFFIX}.{LISTED}").write_text(json.dumps({STEPS: digest}), encoding="utf-8")
        return folder

    def test_from_the_sources_that_lie_here(self, tmp_path: Path) -> None:
        """One file for the one module, and the finder gives it for that name alone."""
        found = usable(self.made(tmp_path, hashed(source_of(STEPS))))
        assert found == {STEPS: tmp_path / f"{STEPS}{SUFFIX}"}
        finder = Finder(found)
        spec = finder.find_spec(STEPS, None)
        assert spec is not None
        assert spec.origin == str(found[STEPS])
        assert finder.find_spec("olvask.core.simulate.trip", None) is None

    def test_none_from_others(self, tmp_path: Path) -> None:
        """A source that was edited since, a module of another Python, a list that is broken, no folder: none is used."""
        assert usable(self.made(tmp_path, "0" * 64)) == {}
        (tmp_path / "other").mkdir()
        assert usable(self.made(tmp_path / "other", hashed(source_of(STEPS)), ".cpython-39-other.so")) == {}
        (tmp_path / f"{SUFFIX}.{LISTED}").write_text("{", encoding="utf-8")
        assert usable(tmp_path) == {}
        assert usable(tmp_path / "nothing") == {}

    def test_a_source_that_is_gone(self, tmp_path: Path) -> None:
        """Listed, but nowhere to be read: none is used."""
        made = self.made(tmp_path, hashed(source_of(STEPS)))
        (made / f"{SUFFIX}.{LISTED}").write_text(json.dumps({"olvask.core.no_such": "0" * 64}), encoding="utf-8")
        assert usable(made) == {}

    def test_left_aside_where_asked(self, monkeypatch: pytest.MonkeyPatch) -> None:
        """OLVASK_INTERPRETED=1 puts no finder in."""
        monkeypatch.setattr(sys, "meta_path", list(sys.meta_path))
        before = len(sys.meta_path)
        monkeypatch.setattr(compiled, "usable", lambda: {STEPS: Path("steps.so")})
        monkeypatch.setenv("OLVASK_INTERPRETED", "1")
        compiled.use()
        assert len(sys.meta_path) == before
        monkeypatch.setenv("OLVASK_INTERPRETED", "")
        compiled.use()
        assert len(sys.meta_path) == before + 1
