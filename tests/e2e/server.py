"""A real server in a process of its own, and the browser's flags. Used by browser tests, bench and screenshots.

- `Server`: begun as a user begins it.
- `ForkedServer`: the same command in a process forked from one that has everything imported: a fifth of a second
  instead of two, which counts where every test has one of its own.
"""

from __future__ import annotations

import io
import multiprocessing
import re
import signal
import subprocess
import sys
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path
from types import TracebackType

from olvask import cli

# The shell has no windows to draw, which is a third of the work.
CHROMIUM = next(
    (path for path in ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium") if Path(path).exists()), "chromium"
)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--in-process-gpu",
    "--disable-quic",
    "--disable-background-networking",
    "--no-first-run",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",  # else small letters lose their dots
]


class Server:
    """`olvask demo` or `olvask serve` on a free port; `kill` ends it the hard way and `start` brings it back."""

    def __init__(self, database: Path | str, command: str = "demo", history: bool = False) -> None:
        self.database, self.command, self.port = database, command, 0
        self.more = ["--bare"] if command == "demo" and not history else []
        self.process: subprocess.Popen[str] | None = None

    def begin(self) -> None:
        """Begin, without waiting until it says where it is."""
        words = [
            sys.executable,
            "-m",
            "olvask",
            self.command,
            "--database",
            str(self.database),
            "--port",
            str(self.port),
            *self.more,
        ]
        self.process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)

    def start(self) -> None:
        """Start on a free port, or on the one had before."""
        self.begin()
        assert self.process is not None
        assert self.process.stdout is not None
        said = self.process.stdout.readline()
        found = re.search(r"http://127\.0\.0\.1:(\d+)/", said)
        assert found, said
        self.port = int(found[1])

    def kill(self) -> None:
        """End it with SIGKILL: nothing can be put in order first."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
            assert self.process.stdout is not None
            self.process.stdout.close()

    @property
    def address(self) -> str:
        """Where it serves."""
        return f"http://127.0.0.1:{self.port}"

    def __enter__(self) -> Server:
        self.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.kill()


FORKS = multiprocessing.get_context("forkserver")
FORKS.set_forkserver_preload(
    ["olvask.cli", "olvask.web.app", "olvask.store.demo", "olvask.documents.sheet", "waitress"]
)


class _Teller(io.StringIO):
    """A standard output that sends what is written to whoever began the process."""

    def __init__(self, told: Connection) -> None:
        super().__init__()
        self.told = told

    def write(self, text: str) -> int:
        written = super().write(text)  # refuses bytes, as a text stream should
        self.told.send(text)
        return written


def _run(words: list[str], told: Connection) -> None:
    sys.stdout = _Teller(told)
    cli.main(words)


class ForkedServer(Server):
    """A server begun by forking; otherwise a process like any other."""

    forked: BaseProcess | None = None

    def start(self) -> None:
        """Start on a free port, or on the one had before."""
        words = [self.command, "--database", str(self.database), "--port", str(self.port), *self.more]
        told, teller = FORKS.Pipe(duplex=False)
        self.forked = FORKS.Process(target=_run, args=(words, teller), daemon=True)
        self.forked.start()
        teller.close()
        said = ""
        while not (found := re.search(r"http://127\.0\.0\.1:(\d+)/", said)):
            said += told.recv()
        self.port = int(found[1])

    def kill(self) -> None:
        """End it with SIGKILL: nothing can be put in order first."""
        if self.forked is not None:
            self.forked.kill()
            self.forked.join()
