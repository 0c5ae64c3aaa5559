"""A real server in a process of its own, and the browser's flags. Used by browser tests, bench and screenshots."""

from __future__ import annotations

import re
import signal
import subprocess
import sys
from pathlib import Path
from types import TracebackType

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-background-networking",
    "--no-first-run",
    "--disable-component-update",
    "--disable-sync",
    "--font-render-hinting=none",  # else small letters lose their dots
]


class Server:
    """`olvask demo` or `olvask serve` on a free port; `kill` ends it the hard way and `start` brings it back."""

    def __init__(self, database: Path, command: str = "demo") -> None:
        self.database, self.command, self.port = database, command, 0
        self.process: subprocess.Popen[str] | None = None

    def start(self) -> None:
        """Start on a free port, or on the one had before."""
        words = [
            sys.executable,
            "-m",
            "olvask",
            self.command,
            "--database",
            str(self.database),
            "--port",
            str(self.port),
        ]
        self.process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
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
