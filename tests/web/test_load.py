"""Many at once, long questions among them, and connections that dawdle: short questions are answered all the same."""

from __future__ import annotations

import http.client
import json
import socket
import threading
import time
from contextlib import closing
from pathlib import Path

import pytest

from olvask.store.demo import demo_designs
from olvask.web import serving
from tests.e2e.server import ForkedServer

LONG = json.dumps({"vehicles": 5000, "design": json.loads(demo_designs()[0][1].model_dump_json())}).encode()
JSON = {"Content-Type": "application/json"}


def health(port: int) -> float:
    """How long the server takes to say that it is there [s]."""
    began = time.monotonic()
    with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=30)) as client:
        client.request("GET", "/api/health")
        assert client.getresponse().status == 200
    return time.monotonic() - began


def test_long_questions_leave_room_for_short_ones(tmp_path: Path) -> None:
    """Twelve long ones: a few are worked on, the rest told when to ask again; health answers; hung up, all is quiet soon."""
    with ForkedServer(tmp_path / "load.sqlite", "serve") as server:
        asked = [http.client.HTTPConnection("127.0.0.1", server.port, timeout=60) for _ in range(12)]
        for client in asked:
            client.request("POST", "/api/tolerance", LONG, JSON)
        refused: list[http.client.HTTPResponse] = []
        waiting = threading.Lock()

        def read(client: http.client.HTTPConnection) -> None:
            try:
                answer = client.getresponse()
            except OSError:
                return  # hung up below
            if answer.status == 503:
                with waiting:
                    refused.append(answer)

        readers = [threading.Thread(target=read, args=(client,), daemon=True) for client in asked]
        for reader in readers:
            reader.start()
        assert health(server.port) < 5
        deadline = time.monotonic() + 30
        while len(refused) < 6 and time.monotonic() < deadline:
            time.sleep(0.05)
        assert len(refused) == 6
        assert {answer.getheader("Retry-After") for answer in refused} == {"2"}
        for client in asked:
            if client.sock is not None:
                client.sock.shutdown(socket.SHUT_RDWR)
            client.close()
        # Hung up, their places are free again: a seventh is let in.
        deadline = time.monotonic() + 60
        status = 503
        while status == 503 and time.monotonic() < deadline:
            with closing(http.client.HTTPConnection("127.0.0.1", server.port, timeout=60)) as client:
                client.request("POST", "/api/tolerance", json.dumps(json.loads(LONG) | {"vehicles": 50}).encode(), JSON)
                answer = client.getresponse()
                status = answer.status
                answer.read()
            time.sleep(0.2)
        assert status == 200


def test_a_hundred_half_open_connections(tmp_path: Path) -> None:
    """A hundred and fifty that have sent half a request each: health answers."""
    with ForkedServer(tmp_path / "half.sqlite", "serve") as server:
        open_ = [socket.create_connection(("127.0.0.1", server.port)) for _ in range(150)]
        for connection in open_:
            connection.sendall(b"POST /api/assess HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n")
        assert health(server.port) < 5
        for connection in open_:
            connection.close()


def test_what_trickles_in_is_given_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A request sent a letter at a time is hung up on, however busily it trickles."""
    monkeypatch.setattr(serving, "SLOWEST_S", 1.0)
    from olvask.web.app import Config, create_app

    app = create_app(Config(tmp_path / "slow.sqlite"))
    server = serving.server_of(app, "127.0.0.1", 0)
    serving_thread = threading.Thread(target=server.run, daemon=True)
    serving_thread.start()
    with closing(socket.create_connection(("127.0.0.1", server.effective_port))) as connection:
        connection.settimeout(10)
        connection.sendall(b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ")
        began = time.monotonic()
        ended = False
        while not ended and time.monotonic() - began < 10:
            try:
                connection.sendall(b"a")
                connection.settimeout(0.2)
                ended = connection.recv(1) == b""
            except TimeoutError:
                continue
            except OSError:
                ended = True
    server.stop()
    serving_thread.join(10)
    assert not serving_thread.is_alive()
    app.extensions["olvask.stores"].database.close()
    assert ended
