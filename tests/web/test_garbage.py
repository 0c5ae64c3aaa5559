"""Whatever is sent to the sums of the core: an answer or a located refusal, never a crash."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.designs import plain

SUMS = ("/api/assess", "/api/methods", "/api/old-link", "/api/week", "/api/unknowns", "/api/match")
WRAPPED: dict[str, dict[str, Any]] = {
    "/api/trip": {"programme": "crank 2 s\nidle 3 min\noff 1 min\n", "samples": 20},
    "/api/trip/run": {"programme": "crank 2 s\nidle 3 min\noff 1 min\n", "samples": 20},
    "/api/tolerance": {"vehicles": 50},
    "/api/tolerance/cures": {"vehicles": 50},
    "/api/buying": {"code": "GR-1"},
    "/api/ladder": {"place": "c1"},
}
JUNK = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**6), 10**6),
    st.floats(allow_nan=False, allow_infinity=False),
    st.text(max_size=12),
    st.lists(st.integers(), max_size=3),
    st.dictionaries(st.text(max_size=5), st.integers(), max_size=2),
)
MANY = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
FULL = plain(
    existing=[{"kind": "panel", "carries": ["meter", "fridge"]}],
    old_link={"decision": "changeover", "living_a": 12.0},
    charge={"profile": "gel"},
    activation={"ways": ["d_plus", "voltage"], "start_v": 13.3},
    use={"daily_ah": 30.0, "drive_h": 2.0, "loads": [{"name": "lamps", "current_a": 2.0}]},
)


def leaves(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The path of every leaf of plain data."""
    if isinstance(value, dict):
        return [leaf for key, part in value.items() for leaf in leaves(part, (*path, key))]
    if isinstance(value, list):
        return [leaf for at, part in enumerate(value) for leaf in leaves(part, (*path, at))]
    return [path]


LEAVES = leaves(FULL)


def spoilt(path: tuple[Any, ...], junk: Any) -> dict[str, Any]:
    """A sound design with one leaf replaced."""
    design: dict[str, Any] = json.loads(json.dumps(FULL))
    here: Any = design
    for step in path[:-1]:
        here = here[step]
    here[path[-1]] = junk
    return design


def told(response: Any) -> None:
    """An answer, or a refusal that names a field and says what is wrong with it."""
    assert response.status_code in (200, 422, 400), response.get_data(as_text=True)[:300]
    if response.status_code != 200:
        found = response.get_json()
        assert found["detail"]
        assert all(fault["field"] and fault["message"] for fault in found["errors"])


@MANY
@given(path=st.sampled_from(LEAVES), junk=JUNK, address=st.sampled_from((*SUMS, *WRAPPED)))
def test_one_spoilt_value_is_answered_or_located(
    client: FlaskClient, path: tuple[Any, ...], junk: Any, address: str
) -> None:
    """Any value of a design replaced by anything: worked out, or refused at that very field."""
    design = spoilt(path, junk)
    response = client.post(address, json=WRAPPED[address] | {"design": design} if address in WRAPPED else design)
    told(response)
    if response.status_code == 422:
        last = str([step for step in path if isinstance(step, str)][-1])
        faults = response.get_json()["errors"]
        assert any(last in fault["path"] or str(path[0]) in fault["path"] for fault in faults), (path, faults)


@MANY
@given(junk=JUNK, address=st.sampled_from((*SUMS, *WRAPPED)))
def test_no_design_at_all_is_refused(client: FlaskClient, junk: Any, address: str) -> None:
    """Numbers, words, lists and empty objects are no design."""
    response = client.post(address, json=junk)
    assert response.status_code in (400, 422), response.get_data(as_text=True)[:300]
    assert response.get_json()["detail"]


@MANY
@given(text=st.text(st.sampled_from("begin off crank idle repeat end 0123456789 .,%°C\nAWhsmind-"), max_size=120))
def test_any_text_is_a_programme_or_told_line_by_line(client: FlaskClient, text: str) -> None:
    """Letters of programmes thrown together: driven, or refused with the line."""
    response = client.post("/api/trip", json={"programme": text, "samples": 10, "design": plain()})
    told(response)
    if response.status_code == 422:
        assert all(fault["field"].startswith("Programme") for fault in response.get_json()["errors"])


@pytest.mark.parametrize("address", [*SUMS, *WRAPPED])
def test_the_sound_design_is_answered(client: FlaskClient, address: str) -> None:
    """The design the others are spoilt from is itself taken everywhere."""
    body = WRAPPED[address] | {"design": FULL} if address in WRAPPED else FULL
    assert client.post(address, json=body).status_code == 200
