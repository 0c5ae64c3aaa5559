"""Addresses are put together as the routing's own rules do it, though only when asked."""

from __future__ import annotations

import pytest
from werkzeug.routing import Map, Rule

from olvask.web.addresses import Address


@pytest.mark.parametrize("more", [{}, {"page": "2 of 3"}])
@pytest.mark.parametrize(
    ("rule", "values"), [("/api/jobs/<int:job>/sheet.pdf", {"job": 7}), ("/<path:path>", {"path": "a b/ç"}), ("/", {})]
)
def test_as_by_the_routing_itself(rule: str, values: dict[str, object], more: dict[str, object]) -> None:
    said = [
        Map([kind(rule, endpoint="here")]).bind("yard.example").build("here", values | more) for kind in (Address, Rule)
    ]
    assert said[0] == said[1]
    assert said[0].startswith("/")
