"""While the application is still being loaded: the page and its parts come as they do afterwards, the rest waits."""

from __future__ import annotations

import http.client
import re
import signal
import socket
import ssl
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from olvask.web.app import Config, create_app
from olvask.web.early import Early
from olvask.web.page import BUILT
from olvask.web.serving import Tls, server_of

TLS = Path(__file__).parents[1] / "data/tls"
NAMES = sorted(item.name for item in BUILT.glob("assets/*.js")) if BUILT.exists() else []
pytestmark = pytest.mark.skipif(not NAMES, reason="the screens are not built")
# What is another with each answer, and what only the application's own files carry.
CHANGES = {
    *("date", "transfer-encoding", "content-length", "content-security-policy", "content-disposition"),
    *("etag", "last-modified", "accept-ranges"),
}


class Begun:
    """A server on which nothing but the early one answers, until `load`."""

    def __init__(self, database: Path, tls: Tls | None = None) -> None:
        self.database, self.early, self.tls = database, Early(frozenset()), tls
        self.server = server_of(self.early, "127.0.0.1", 0, tls)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        self.stores: list[object] = []

    def load(self) -> None:
        app = create_app(Config(self.database))
        self.app = app
        self.early.ready(app)

    def ask(self, path: str, method: str = "GET", **headers: str) -> http.client.HTTPResponse:
        port = self.server.effective_port
        client = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        if self.tls is not None:
            trusted = ssl.create_default_context(cafile=str(self.tls.certificate))
            client = http.client.HTTPSConnection("localhost", port, timeout=20, context=trusted)
        client.request(method, path, headers={"Connection": "close", **headers})
        return client.getresponse()


@pytest.fixture(params=["plain", "encrypting"])
def begun(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Begun]:
    """One that has just begun to listen."""
    tls = Tls(TLS / "certificate.pem", TLS / "key.pem") if request.param == "encrypting" else None
    server = Begun(tmp_path / "early.sqlite", tls)
    yield server
    server.early.give_up()
    server.server.stop()
    server.thread.join(10)
    assert not server.thread.is_alive()
    if hasattr(server, "app"):
        server.app.extensions["olvask.stores"].database.close()


def told(answer: http.client.HTTPResponse) -> dict[str, str]:
    """The headers that do not differ from one answer to the next."""
    return {name.lower(): value for name, value in answer.getheaders() if name.lower() not in CHANGES}


@pytest.mark.parametrize("taken", ["", "gzip", "gzip, deflate, br, zstd"])
def test_parts_come_as_they_do_later(begun: Begun, taken: str) -> None:
    """A part of the page, byte for byte and header for header."""
    with closing(begun.ask(f"/assets/{NAMES[0]}", **{"Accept-Encoding": taken})) as answer:
        early = answer.status, told(answer), answer.read()
    begun.load()
    with closing(begun.ask(f"/assets/{NAMES[0]}", **{"Accept-Encoding": taken})) as answer:
        assert (answer.status, told(answer), answer.read()) == early
    assert early[0] == 200


@pytest.mark.parametrize("path", ["/", "/jobs/1/run"])
def test_the_page_begins_at_once_and_is_the_page(begun: Begun, path: str) -> None:
    """Its top names the parts to fetch; with the rest it is what the application sends, under one nonce."""
    with closing(begun.ask(path)) as answer:
        begins = answer.read(600)
        assert b"/assets/" in begins
        begun.load()
        page = (begins + answer.read()).decode()
        early, policy = told(answer), answer.getheader("Content-Security-Policy", "")
    nonce = re.search(r'style-nonce" content="([^"]+)"', page)
    assert nonce
    assert f"'nonce-{nonce[1]}'" in policy
    with closing(begun.ask(path)) as answer:
        whole = answer.read().decode()
        later = re.search(r'style-nonce" content="([^"]+)"', whole)
        assert later
        assert whole.replace(later[1], nonce[1]) == page
        assert told(answer) == early
        assert answer.getheader("Content-Security-Policy", "").replace(later[1], nonce[1]) == policy
    assert "data-units" in page


@pytest.mark.parametrize(
    ("path", "headers"),
    [
        ("/api/health", {}),
        ("/", {"Host": "elsewhere.example"}),
        (f"/assets/{NAMES[0] if NAMES else ''}", {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "cors"}),
        ("/", {"Origin": "http://elsewhere.example"}),
        ("/assets/../app.py", {}),
        ("/sw.js", {}),
    ],
)
def test_all_else_waits_and_is_answered_by_the_application(begun: Begun, path: str, headers: dict[str, str]) -> None:
    """Also whoever may not be answered: who that is, one place says."""
    got: list[int] = []
    asking = threading.Thread(target=lambda: got.append(begun.ask(path, **headers).status), daemon=True)
    asking.start()
    asking.join(0.3)
    assert not got
    begun.load()
    asking.join(10)
    assert got == [403 if "elsewhere" in str(headers) or "cross" in str(headers) else 404 if ".." in path else 200]


def test_one_that_cannot_be_started_sends_away_who_waits(begun: Begun) -> None:
    """A request that waits is answered; a page under way breaks off, so that no device keeps half of it."""
    got: list[int] = []
    asking = threading.Thread(target=lambda: got.append(begun.ask("/api/health").status), daemon=True)
    asking.start()
    with closing(begun.ask("/")) as answer:
        assert answer.read(15) == b"<!doctype html>"
        begun.early.give_up()
        with pytest.raises(http.client.IncompleteRead):
            answer.read()
    asking.join(10)
    assert got == [503]


def test_nothing_heavy_is_read_before_it_listens() -> None:
    """What the command, the early application and the server import: none of what takes a second to read."""
    heavy = {"flask", "werkzeug", "apiflask", "sqlalchemy", "pydantic", "numpy", "polars", "scipy"}
    asked = f"import sys, olvask.cli, olvask.web.early, olvask.web.serving; print(*({heavy} & set(sys.modules)))"
    said = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert said.stdout.split() == []


@pytest.mark.parametrize("how", [signal.SIGINT, signal.SIGTERM])
@pytest.mark.parametrize("loaded", [True, False])
def test_it_is_stopped_quietly(tmp_path: Path, how: signal.Signals, loaded: bool) -> None:
    """By Ctrl+C as by the system, once it serves as while it is being loaded: no word of it, and no failure."""
    with socket.create_server(("127.0.0.1", 0)) as free:
        port = free.getsockname()[1]
    words = ["serve", "--port", str(port), "--database", str(tmp_path / "stopped.sqlite")]
    with subprocess.Popen(
        [sys.executable, "-m", "olvask", *words],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),  # what runs behind a shell ignores it
    ) as running:
        assert running.stdout is not None
        if loaded:
            assert "stop with Ctrl+C" in running.stdout.readline()
        else:
            until = time.monotonic() + 20
            while time.monotonic() < until:
                try:
                    with socket.create_connection(("127.0.0.1", port), timeout=1) as met:
                        if (
                            met.getsockname() != met.getpeername()
                        ):  # before anybody listens it may be given that very port
                            break
                except OSError:
                    time.sleep(0.02)
        running.send_signal(how)
        _, complaint = running.communicate(timeout=20)
    assert (running.returncode, complaint) == (0, "")


HURRIED = """
import sys
from olvask import cli, cli_serve
MADE = "import os, signal\\nos.kill(os.getpid(), signal.SIGINT)\\nfor _ in range(1000): pass"
cli_serve._load = lambda *_: exec(MADE)
cli.main(sys.argv[1:])
"""


def test_ctrl_c_while_a_class_is_made_is_no_failure(tmp_path: Path) -> None:
    """Python makes dataclasses and the like from text; what interrupts that marks the process as failed, even if caught."""
    (tmp_path / "hurried.py").write_text(HURRIED, encoding="utf-8")
    words = ["serve", "--port", "0", "--database", str(tmp_path / "stopped.sqlite")]
    ended = subprocess.run(
        [sys.executable, "-m", "hurried", *words],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )
    assert (ended.returncode, ended.stderr) == (0, "")
