"""How it is reached from beyond this machine: its own certificate, and a proxy before it that alone is believed."""

from __future__ import annotations

import http.client
import json
import re
import ssl
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path

import pytest
from click.testing import CliRunner

from olvask.cli import main
from olvask.store.stores import Stores

TLS = Path(__file__).parents[1] / "data/tls"
PASSWORD = "three dull copper lugs"


@contextmanager
def served(database: Path, *more: str) -> Iterator[tuple[int, str]]:
    """A server in a process of its own: its port, and the code by which one becomes the owner."""
    words = [sys.executable, "-m", "olvask", "serve", "--database", str(database), "--port", "0", *more]
    with subprocess.Popen(words, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        said = ""
        while "/join#" not in said:
            said += process.stdout.readline()
        yield int(re.findall(r"://127\.0\.0\.1:(\d+)/", said)[0]), said.partition("/join#")[2].strip()
        process.terminate()
        try:
            process.wait(timeout=30)  # a service has to end when it is told
        finally:
            process.kill()


def join(ask: http.client.HTTPConnection, code: str, **more: str) -> str:
    """The cookie that whoever joins is given."""
    body = json.dumps({"code": code, "name": "Ansa Keld", "password": PASSWORD})
    ask.request("POST", "/api/join", body, {"Content-Type": "application/json"} | more)
    answer = ask.getresponse()
    assert answer.status == 200, answer.read()
    return answer.getheader("Set-Cookie", "")


def test_it_encrypts_by_its_own_certificate(tmp_path: Path) -> None:
    """Over TLS the page answers, and the session's cookie is for TLS alone; plain HTTP gets nothing."""
    own = ("--name", "localhost", "--certificate", str(TLS / "certificate.pem"), "--key", str(TLS / "key.pem"))
    trusted = ssl.create_default_context(cafile=str(TLS / "certificate.pem"))
    with served(tmp_path / "tls.sqlite", *own) as (port, code):
        with closing(http.client.HTTPSConnection("localhost", port, context=trusted, timeout=20)) as ask:
            assert join(ask, code).startswith("__Host-olvask_session=")
        with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=20)) as plain:
            plain.request("GET", "/api/health")
            with suppress(http.client.HTTPException, OSError):  # hung up on: as good
                assert plain.getresponse().status == 400


@pytest.mark.parametrize("proxied", [True, False])
def test_a_proxy_is_believed_only_where_there_is_one(tmp_path: Path, proxied: bool) -> None:
    """Behind it the cookie is for TLS alone; without, what a caller claims changes nothing."""
    more = ("--name", "yard.example", *(("--behind-proxy",) if proxied else ()))
    claims = {"X-Forwarded-Proto": "https", "X-Forwarded-Host": "yard.example", "X-Forwarded-For": "198.51.100.7"}
    with (
        served(tmp_path / "proxied.sqlite", *more) as (port, code),
        closing(http.client.HTTPConnection("127.0.0.1", port, timeout=20)) as ask,
    ):
        assert join(ask, code, **claims).startswith("__Host-" if proxied else "olvask_session=")


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--certificate", str(TLS / "certificate.pem")], "--certificate and --key go together"),
        (["--certificate", str(TLS / "key.pem"), "--key", str(TLS / "key.pem")], "are no certificate and its key"),
    ],
)
def test_what_is_no_certificate_is_said(tmp_path: Path, words: list[str], says: str) -> None:
    done = CliRunner().invoke(main, ["serve", "--database", str(tmp_path / "x.sqlite"), "--port", "0", *words])
    assert done.exit_code != 0
    assert says in done.output


def test_an_invitation_from_the_command_line(tmp_path: Path) -> None:
    """Somebody new, and somebody who forgot the password; nobody by that name is said."""
    database = ["--database", str(tmp_path / "invite.sqlite")]
    run = CliRunner()
    address = run.invoke(main, ["invite", "--owner", *database]).output.strip()
    people = Stores.open(tmp_path / "invite.sqlite").people
    person, _ = people.join(address.partition("#")[2], "desk", "Ansa Keld", "", PASSWORD)
    assert (person.role, person.initials) == ("owner", "AK")
    again = run.invoke(main, ["invite", "--name", "ansa keld", *database]).output.strip()
    assert people.join(again.partition("#")[2], "phone")[0].id == person.id
    nobody = run.invoke(main, ["invite", "--name", "Bor", *database])
    assert "nobody is called Bor here" in nobody.output


@pytest.mark.parametrize("command", [["check"], ["export", "1"], ["serve", "--port", "0"]])
def test_a_server_of_databases_that_is_not_there_is_said(command: list[str]) -> None:
    done = CliRunner().invoke(main, [*command, "--database", "postgresql://nobody@127.0.0.1:1/olvask"])
    assert done.exit_code == 1
    assert "The database server does not answer" in done.output


def test_what_a_servers_database_is_backed_up_with_is_said(tmp_path: Path) -> None:
    for command, instead in (("backup", "pg_dump"), ("restore", "pg_restore")):
        file = tmp_path / "some.backup"
        file.touch()
        done = CliRunner().invoke(main, [command, str(file), "--database", "postgresql://nobody@127.0.0.1:1/olvask"])
        assert f"use {instead}" in done.output
