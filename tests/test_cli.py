"""The command line."""

from __future__ import annotations

import json
import os
import socket
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from olvask.cli import main
from olvask.documents.job_file import JobFile, write_job_file
from tests.designs import cable, design


def run(*words: str) -> Result:
    """Run a command."""
    return CliRunner().invoke(main, list(words))


@pytest.fixture
def sound(tmp_path: Path) -> Path:
    """A job file without a stop."""
    path = tmp_path / "sound.json"
    path.write_text(write_job_file(JobFile(title="Sound", code="S-1", design=design())), encoding="utf-8")
    return path


def test_assess_prints_the_assessment(sound: Path) -> None:
    """A sound job exits 0 and prints figures under their dotted names."""
    done = run("assess", str(sound))
    assert done.exit_code == 0
    found = json.loads(done.output)
    assert found["figures"]["idle.input_v"]["unit"] == "V"
    assert not [item for item in found["findings"] if item["level"] == "stop"]


def test_assess_exits_one_on_a_stop(tmp_path: Path) -> None:
    """A job with a stop prints the same and exits 1."""
    path = tmp_path / "stop.json"
    job = JobFile(title="Bare", design=design(delivery={"pieces": [cable("16 mm²", 1.0)]}))
    path.write_text(write_job_file(job), encoding="utf-8")
    done = run("assess", str(path))
    assert done.exit_code == 1
    assert "protect.missing.delivery" in done.output


def test_assess_exits_two_on_a_bad_file(tmp_path: Path) -> None:
    """A file that is no job exits 2 and says where it is wrong."""
    path = tmp_path / "bad.json"
    path.write_text('{"format": "olvask-job", "title": "x", "design": {}}', encoding="utf-8")
    done = run("assess", str(path))
    assert done.exit_code == 2
    assert "design.vehicle: Missing" in done.output


def test_schema_is_json() -> None:
    """The schema command prints the JSON Schema."""
    assert json.loads(run("schema").output)["title"] == "JobFile"


def test_openapi_lists_the_addresses() -> None:
    """The OpenAPI document lists every address the screens use."""
    paths = json.loads(run("openapi").output)["paths"]
    assert {"/api/assess", "/api/ladder", "/api/match", "/api/jobs", "/api/jobs/{job_id}"} <= set(paths)


def test_import_then_export(sound: Path, tmp_path: Path) -> None:
    """A file stored and written out again is the same file."""
    database, out = str(tmp_path / "jobs.sqlite"), tmp_path / "out.json"
    assert run("import", str(sound), "--database", database).output.strip() == "job 1"
    assert run("export", "1", "--output", str(out), "--database", database).exit_code == 0
    assert out.read_text(encoding="utf-8") == sound.read_text(encoding="utf-8")
    assert run("export", "1", "--database", database).output == sound.read_text(encoding="utf-8")


def test_what_is_written_is_read_again_on_any_machine(sound: Path, tmp_path: Path) -> None:
    """A machine that writes by itself in code page 1252, and a file whose name is no text: the job file comes out in UTF-8."""
    store = tmp_path / os.fsdecode(b"yard \xff.sqlite")
    olvask, there = [sys.executable, "-m", "olvask"], ["--database", str(store)]
    assert run("import", str(sound), "--database", str(store)).exit_code == 0
    other = {**os.environ, "PYTHONIOENCODING": "cp1252"}
    done = subprocess.run([*olvask, "export", "1", *there], env=other, capture_output=True, check=True)
    assert "mm²".encode() in done.stdout
    assert done.stdout == sound.read_bytes()
    told = subprocess.run([*olvask, "check", *there], env=other, capture_output=True, check=True)
    assert b"yard \xff.sqlite: 1 jobs, everything can be read" in told.stdout


def test_a_day_as_any_editor_saves_it(sound: Path, tmp_path: Path) -> None:
    """With a byte order mark and the line ends of another system it is the same day."""
    day, other = tmp_path / "day.txt", tmp_path / "other.txt"
    day.write_bytes(b"idle 5 min load 4 A\n")
    other.write_bytes(b"\xef\xbb\xbfidle 5 min load 4 A\r\n")
    driven = [run("simulate", str(sound), "--programme", str(file)) for file in (day, other)]
    assert [done.exit_code for done in driven] == [0, 0]
    assert driven[0].output == driven[1].output


@pytest.mark.parametrize("name", ["shop #1", "50% of 100%25", "what?mode=memory", "Łódź 車", "a&b=c;d", "~x'y\"z"])
def test_a_store_lies_in_any_folder(sound: Path, tmp_path: Path, name: str) -> None:
    """Whatever its folder and its file are called: stored, read, backed up, put back, and nothing is made beside it."""
    folder = tmp_path / "shops" / name
    folder.mkdir(parents=True)
    store, copy, other = folder / f"{name}.sqlite", folder / f"{name}.backup", folder / f"other {name}.sqlite"
    database = ("--database", str(store))
    for words, told in (
        (("import", str(sound), *database), "job 1"),
        (("export", "1", *database), '"title": "Sound"'),
        (("reassess", *database), ""),
        (("check", *database), "everything can be read"),
        (("backup", str(copy), *database), "1 jobs, checked"),
        (("restore", str(copy), "--database", str(other)), "1 jobs restored"),
        (("export", "1", "--database", str(other)), '"title": "Sound"'),
    ):
        done = run(*words)
        assert (done.exit_code, told in done.output) == (0, True), (words, done.output, done.exception)
    assert [path.name for path in (tmp_path / "shops").iterdir()] == [name]
    assert {path.name.removesuffix("-wal").removesuffix("-shm") for path in folder.iterdir()} == {
        store.name,
        copy.name,
        other.name,
    }


def test_export_of_nothing_says_so(sound: Path, tmp_path: Path) -> None:
    """A job that is not there is an error with its number, not an empty file."""
    assert run("import", str(sound), "--database", str(tmp_path / "jobs.sqlite")).exit_code == 0
    done = run("export", "7", "--database", str(tmp_path / "jobs.sqlite"))
    assert done.exit_code == 1
    assert "no job 7" in done.output


def test_importing_a_bad_file_stores_nothing(tmp_path: Path) -> None:
    """A refused file leaves no database where there was none."""
    path, database = tmp_path / "bad.json", tmp_path / "jobs.sqlite"
    path.write_text("{", encoding="utf-8")
    assert run("import", str(path), "--database", str(database)).exit_code == 2
    assert not database.exists()


def test_a_rig_runs_until_it_is_stopped_and_a_bench_test_on_it() -> None:
    """The meter answers on its port; the unit does on the supply what the programme says; the end is clean."""
    with socket.create_server(("127.0.0.1", 0)) as probe:
        port = probe.getsockname()[1]
    words = [
        str(Path(sys.executable).with_name("olvask")),
        "rig",
        "--demo",
        "FT-041",
        "--port",
        str(port),
        "--speed",
        "60",
    ]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as served:
        assert served.stdout is not None
        assert f":{port}" in served.stdout.readline()
        with socket.create_connection(("127.0.0.1", port), 5) as meter, meter.makefile("rw") as lines:
            lines.write("*IDN?\n")
            lines.flush()
            assert lines.readline().startswith("Olvask,Rig meter")
        found = run("bench", "--demo", "FT-041", "--port", str(port + 1), "--speed", "60")
        assert found.exit_code == 0, found.output
        assert "WRONG" not in found.output
        served.terminate()
        assert served.wait(10) == 0


def test_every_job_judged_anew(sound: Path, tmp_path: Path) -> None:
    """Nothing to say of a job that is judged as when it was saved; what other rules find otherwise is said by name."""
    database = str(tmp_path / "yard.sqlite")
    assert run("import", str(sound), "--database", database).exit_code == 0
    done = run("reassess", "--database", database)
    assert (done.exit_code, done.stdout) == (0, "")
    with closing(sqlite3.connect(database)) as connection, connection:
        connection.execute("UPDATE card SET findings = 'old.rule\tAn old finding'")
    told = run("reassess", "--database", database)
    assert told.exit_code == 0
    assert told.stdout.startswith("job 1, Sound: ")
    assert "− An old finding" in told.stdout
    driven = run("reassess", "--vehicles", "8", "--database", database)
    assert driven.exit_code == 0
    refused = run("reassess", "--scheduler", "tcp://127.0.0.1:9", "--database", database)
    assert refused.exit_code == 1
    assert "no scheduler answers at tcp://127.0.0.1:9" in refused.stderr
