"""The page and its assets: packed, kept by their hash, and found under every name this machine goes by."""

from __future__ import annotations

import gzip

import pytest
from flask.testing import FlaskClient

from olvask.cli_serve import _served_names
from olvask.web.page import BUILT

ASSETS = sorted(BUILT.glob("assets/*.js")) if BUILT.exists() else []


@pytest.mark.skipif(not ASSETS, reason="the screens are not built")
def test_assets_come_packed(client: FlaskClient) -> None:
    """The same text packed or not; the type stays that of the text; kept for ever."""
    path = max(ASSETS, key=lambda item: item.stat().st_size)
    address = f"/assets/{path.name}"
    texts = []
    for taken, coding in (("", None), ("gzip", "gzip"), ("br, gzip", "br")):
        with client.get(address, headers={"Accept-Encoding": taken}) as answer:
            assert answer.headers.get("Content-Encoding") == coding
            assert answer.mimetype in ("text/javascript", "application/javascript")
            assert "immutable" in answer.headers["Cache-Control"]
            assert "Accept-Encoding" in answer.headers["Vary"]
            texts.append(answer.data)
    assert gzip.decompress(texts[1]) == texts[0]
    assert len(texts[2]) < len(texts[1]) < len(texts[0])


def test_names_that_are_served() -> None:
    """On loopback no more than that; on an address that one; on every interface this machine's own, and no other."""
    assert _served_names("127.0.0.1") == frozenset()
    assert _served_names("192.0.2.7") == {"192.0.2.7"}
    assert _served_names("2001:db8::7") == {"[2001:db8::7]"}
    names = _served_names("0.0.0.0")  # noqa: S104
    assert names
    assert "0.0.0.0" not in names  # noqa: S104
