"""What a command cannot do is said in a sentence with its remedy, and nothing is made or written over meanwhile."""

from __future__ import annotations

import os
import socket
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import click
import pytest
from click.testing import CliRunner, Result

from olvask import cli_serve
from olvask.cli import main
from olvask.documents.job_file import JobFile, write_job_file
from olvask.store.backup import write_backup
from olvask.store.cards import Heading
from olvask.store.faults import StorageFault
from olvask.store.stores import Stores
from tests.designs import design
from tests.web.test_reached import TLS

HERE = "127.0.0.1 for this machine alone"
NO_STORE = "there is no store at none.sqlite; name the one you mean with --database"
ABSURD = (
    *(
        "",
        " ",
        "nan",
        "-1",
        "0",
        "1e400",
        str(2**63),
        "9" * 5000,
        "a b",
        "https://yard.example/x",
        "é\n",
        "none/none",
        ".",
    ),
    *("plain.txt", "binary", "job.json", "store.sqlite"),
)


@pytest.fixture(autouse=True)
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A folder with a store of one job, its job file, a text, bytes that are no text, and a pipe."""
    monkeypatch.chdir(tmp_path)
    monkeypatch.delenv("OLVASK_DATABASE", raising=False)
    stores = Stores.open(Path("store.sqlite"))
    stores.jobs.create(Heading("Sound", "S-1"), design())
    stores.database.close()
    Path("job.json").write_text(write_job_file(JobFile(title="Sound", design=design())), encoding="utf-8")
    Path("plain.txt").write_text("idle 5 min\n", encoding="utf-8")
    Path("binary").write_bytes(b"\xff\xfe\x00")
    os.mkfifo("pipe")
    return tmp_path


def run(*words: str) -> Result:
    """Run a command."""
    return CliRunner().invoke(main, list(words))


def held(folder: Path) -> dict[str, bytes]:
    """Every file there; what is beside a store while it is open left out."""
    return {
        path.name: path.read_bytes()
        for path in folder.iterdir()
        if path.is_file() and not path.name.endswith(("-wal", "-shm"))
    }


STORE = ("--database", "store.sqlite")
NONE = ("--database", "none.sqlite")
REFUSED: list[tuple[tuple[str, ...], int, str]] = [
    (("export", "1", *NONE), 1, NO_STORE),
    (("backup", "out", *NONE), 1, NO_STORE),
    (("check", *NONE), 1, NO_STORE),
    (("reassess", *NONE), 1, NO_STORE),
    (("invite", "--name", "Ansa Keld", *NONE), 1, NO_STORE),
    (("invite", "--address", "yard.example", *STORE), 2, "begins with http:// or https://"),
    (("export", str(2**63), *STORE), 2, "JOB_ID"),
    (("export", "1", "--output", "none/out.json", *STORE), 1, "none/out.json: No such file"),
    (("export", "1", "--output", "/dev/full", *STORE), 1, "/dev/full: No space left"),
    (("backup", "none/out", *STORE), 1, "none/out: The backup cannot be written. Check that its folder exists"),
    (("backup", "store.sqlite", *STORE), 1, "store.sqlite: The file is there already and is not a backup"),
    (("backup", "plain.txt", *STORE), 1, "plain.txt: The file is there already and is not a backup"),
    (("backup", "pipe", *STORE), 1, "pipe: The file is there already and is not a backup"),
    (("restore", "plain.txt", *STORE), 1, "plain.txt: The file is not a backup of Olvask"),
    (("restore", "store.sqlite", *STORE), 1, "store.sqlite: The file is not a backup of Olvask"),
    (
        ("serve", "--host", "192.0.2.77", *STORE),
        1,
        f"192.0.2.77 is no address of this machine. Choose one with --host: {HERE}",
    ),
    (("serve", "--host", "a b", *STORE), 1, "a b is no address of this machine"),
    (("serve", "--name", "https://yard.example", *STORE), 2, "a name alone, such as yard.example"),
    (("serve", "--nightly", "plain.txt/x", *STORE), 1, "no backup can be written in plain.txt/x: Not a directory"),
    (("rig", "--host", "192.0.2.77"), 1, "192.0.2.77 is no address of this machine"),
    (("rig", "--speed", "nan"), 2, "nan is not a number"),
    (("rig", "--fault", "gremlin"), 1, "no fault is called 'gremlin'"),
    (("rig", "--demo", "XX-000"), 1, "no demo job XX-000"),
    (("rig", "--case", "6-1"), 1, "level from 1 to 4"),
    (("bench", "--port", "1"), 1, "does not answer"),
]


@pytest.mark.parametrize(("words", "code", "told"), REFUSED)
def test_it_says_what_is_wrong_and_leaves_everything_as_it_was(
    folder: Path, words: tuple[str, ...], code: int, told: str
) -> None:
    """The sentence, the exit code; every file of the folder is as before and none came."""
    before = held(folder)
    found = run(*words)
    assert (found.exit_code, told in " ".join(found.output.split())) == (code, True), found.output
    assert held(folder) == before


ENCRYPTED = ("--certificate", str(TLS / "certificate.pem"), "--key", str(TLS / "key.pem"))


@pytest.mark.parametrize("how", [(), ENCRYPTED], ids=["plain", "encrypted"])
def test_a_server_that_cannot_listen_says_why(how: tuple[str, ...]) -> None:
    """A port taken and an address of another machine are told apart, by either server."""
    with closing(socket.create_server(("127.0.0.1", 0))) as taken:
        port = str(taken.getsockname()[1])
        assert f"port {port} is taken" in run("serve", "--port", port, *STORE, *how).output
    assert "192.0.2.77 is no address of this machine" in run("serve", "--host", "192.0.2.77", *STORE, *how).output


def test_the_second_port_of_the_rig_is_taken() -> None:
    """Both are named."""
    with closing(socket.create_server(("127.0.0.1", 0))) as taken:
        port = taken.getsockname()[1]
        assert f"port {port - 1} or {port} is taken" in run("rig", "--port", str(port - 1)).output


NEEDED = {
    **{name: ["job.json"] for name in ("assess", "import", "restore")},
    "simulate": ["job.json", "--programme", "plain.txt"],
    "export": ["1"],
    "backup": ["out"],
}


def invocations() -> Iterator[tuple[str, list[str]]]:
    """Every command with each option and argument it has, as something absurd."""
    for name, command in main.commands.items():
        for param in command.params:
            if isinstance(param, click.Option) and param.is_flag:
                continue
            for value in ABSURD:
                if isinstance(param, click.Option):
                    yield name, [*NEEDED.get(name, []), param.opts[-1], value]
                else:
                    yield name, [value, *NEEDED.get(name, [])[1:]]


@pytest.mark.parametrize("name", sorted(main.commands))
def test_whatever_is_typed_no_command_falls(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Absurd values for every option and argument end in an exit code, never in an exception; none serves for ever."""

    def no_more(*_: object) -> None:
        raise SystemExit(0)

    monkeypatch.setattr(cli_serve, "_load", no_more)
    monkeypatch.setattr("olvask.rig.serving.Rig.close", lambda rig: None)
    monkeypatch.setattr("olvask.rig.serving.Rig.ports", property(no_more))
    store = (
        [] if "--database" not in {opt for param in main.commands[name].params for opt in param.opts} else list(STORE)
    )
    tried = 0
    for command, words in invocations():
        if command == name:
            given = words if "--database" in words else [*words, *store]
            found = run(name, *given)
            assert found.exception is None or isinstance(found.exception, SystemExit), (given, found.exception)
            assert found.exit_code in (0, 1, 2), given
            tried += 1
    assert tried >= len(ABSURD) or not main.commands[name].params


def test_a_backup_never_takes_the_store_s_own_place(folder: Path) -> None:
    """By its name, by a link or by another path: a running server would find its file gone. One backup
    takes another's place, also of a backup."""
    os.symlink("store.sqlite", "link")
    os.link("store.sqlite", "twin")
    before = held(folder)
    for name in ("store.sqlite", "link", "twin", "../" + folder.name + "/store.sqlite"):
        with pytest.raises(StorageFault, match="is not a backup"):
            write_backup(Path("store.sqlite"), Path(name))
    assert held(folder) == before
    assert write_backup(Path("store.sqlite"), Path("out")) == write_backup(Path("store.sqlite"), Path("out")) == 1
    Path("again").touch()  # as a script reserves a name
    assert write_backup(Path("out"), Path("again")) == 1
    assert run("restore", "again", "--database", "new.sqlite").exit_code == 0
