"""Working through the steps over the air: entries merged by identity, photographs made anew, quotes kept as given."""

from __future__ import annotations

import io
import threading
import time
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from tests.designs import design
from tests.papers import leaves, words_of

ENTRY = {"step": "part.start_negative", "kind": "done", "by": "E.K.", "at": "2031-05-01T10:00:00Z"}


@pytest.fixture
def job(client: FlaskClient) -> int:
    """A stored job."""
    body = {"title": "Van", "code": "V-1", "customer": "", "design": design().model_dump(mode="json")}
    made = client.post("/api/jobs", json=body)
    assert made.status_code in (200, 201)
    return int(made.get_json()["id"])


def noted(client: FlaskClient, job: int, *entries: dict[str, Any]) -> Any:
    return client.post(f"/api/jobs/{job}/build", json={"entries": list(entries)})


def picture(size: tuple[int, int] = (2400, 1200), form: str = "JPEG") -> bytes:
    """A photograph with a place and a turned camera noted in it."""
    image, out = Image.new("RGB", size, (160, 90, 40)), io.BytesIO()
    known = image.getexif()
    known[0x0112] = 6  # turned by a quarter
    known.get_ifd(0x8825)[1] = "N"
    known.get_ifd(0x8825)[2] = (54.0, 11.0, 9.0)
    image.save(out, form, exif=known)
    return out.getvalue()


def test_an_entry_sent_twice_is_one(client: FlaskClient, job: int) -> None:
    """A phone that did not hear the answer sends it again."""
    for _ in range(2):
        answer = noted(client, job, ENTRY | {"id": "aaaaaaaa-0001"})
    (step,) = answer.get_json()["steps"]
    assert (step["state"], len(step["entries"])) == ("done", 1)
    assert client.get(f"/api/jobs/{job}/build").get_json() == answer.get_json()


def test_sixteen_hands_lose_nothing(client: FlaskClient, job: int) -> None:
    """Many at once, none overwritten, none doubled."""
    app = client.application

    def work(hand: int) -> None:
        with app.test_client() as own:
            for at in range(6):
                entry = ENTRY | {"id": f"hand-{hand:02d}-{at:04d}", "by": f"P{hand}", "kind": "reading", "value": at}
                while noted(own, job, entry).status_code == 503:  # busy: sent again, as a phone does
                    time.sleep(0.1)

    hands = [threading.Thread(target=work, args=(hand,)) for hand in range(16)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    (step,) = client.get(f"/api/jobs/{job}/build").get_json()["steps"]
    assert len(step["entries"]) == 96
    assert len({item["id"] for item in step["entries"]}) == 96


@pytest.mark.parametrize(
    ("changes", "field"),
    [({"id": "x"}, "Identity"), ({"kind": "burnt"}, "What"), ({"at": "noon"}, "When"), ({"value": 1e12}, "Reading")],
)
def test_a_wrong_entry_is_told_by_its_field(client: FlaskClient, job: int, changes: dict[str, Any], field: str) -> None:
    """The field by its name; nothing is kept."""
    answer = noted(client, job, ENTRY | {"id": "aaaaaaaa-0001"} | changes)
    assert answer.status_code == 422
    assert field in {item["field"] for item in answer.get_json()["errors"]}
    assert client.get(f"/api/jobs/{job}/build").get_json()["steps"] == []


def test_a_photograph_is_made_anew(client: FlaskClient, job: int) -> None:
    """Smaller, upright, and without the place it was taken at; kept once however often it is sent."""
    raw = picture()
    assert b"Exif" in raw
    names = [client.post(f"/api/jobs/{job}/build/photographs", data=raw).get_json()["photo"] for _ in range(2)]
    assert names[0] == names[1]
    answer = client.get(f"/api/jobs/{job}/build/photographs/{names[0]}.jpg")
    with Image.open(io.BytesIO(answer.data)) as found:
        assert found.size == (800, 1600)
        assert dict(found.getexif()) == {}
    assert b"Exif" not in answer.data
    small = client.get(f"/api/jobs/{job}/build/thumbnails/{names[0]}.jpg").data
    assert len(small) < len(answer.data) < len(raw) * 4
    assert noted(client, job, ENTRY | {"id": "aaaaaaaa-0002", "kind": "photo", "photo": names[0]}).status_code == 200
    pages = leaves(client.get(f"/api/jobs/{job}/report.pdf").data)
    assert [size for page in pages for size in page.pictures] == [Image.open(io.BytesIO(small)).size]


def test_what_is_no_photograph_is_refused(client: FlaskClient, job: int) -> None:
    """No picture, one cut short, one of another kind, one too large to open: said, not kept, and no mistake of ours."""
    bomb = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(bomb, "PNG")
    gif = io.BytesIO()
    Image.new("RGB", (20, 20)).save(gif, "GIF")
    for raw in (b"", b"hello", picture()[:2000], gif.getvalue(), bomb.getvalue()):
        answer = client.post(f"/api/jobs/{job}/build/photographs", data=raw)
        assert answer.status_code == 422, raw[:20]
    assert client.get(f"/api/jobs/{job}/build/photographs/{'0' * 64}.jpg").status_code == 404
    assert noted(client, job, ENTRY | {"id": "aaaaaaaa-0003", "photo": "0" * 64}).status_code == 404


def test_another_jobs_photograph_is_not_shown(client: FlaskClient, job: int) -> None:
    """A name known from one job opens nothing in another."""
    body = {"title": "Other", "code": "", "customer": "", "design": design().model_dump(mode="json")}
    other = client.post("/api/jobs", json=body).get_json()["id"]
    name = client.post(f"/api/jobs/{job}/build/photographs", data=picture()).get_json()["photo"]
    assert client.get(f"/api/jobs/{other}/build/photographs/{name}.jpg").status_code == 404


def test_a_quote_given_stays_as_it_was(client: FlaskClient, job: int) -> None:
    """Prices of the shelf move; today's quote follows, the one that was given does not, nor does its paper."""
    plain = design().model_dump(mode="json")
    body = {"title": "Van", "code": "V-1", "options": [{"name": "A", "design": plain}, {"name": "B", "design": plain}]}
    given = client.post(f"/api/jobs/{job}/quotes", json=body).get_json()
    paper = client.get(f"/api/jobs/{job}/quotes/1.pdf").data
    size = design().supply.pieces[1].size  # type: ignore[union-attr]  # the second piece is the cable
    drum = {"id": "drum-x", "size": size, "price_per_m": 0.01}
    assert client.put("/api/shelf/cables/drum-x", json={"document": drum}).status_code in (200, 201)
    today = client.post("/api/build/quote", json=body).get_json()
    assert today["options"][0]["total"] < given["options"][0]["total"]
    (kept,) = client.get(f"/api/jobs/{job}/quotes").get_json()["quotes"]
    assert kept == given
    assert kept["number"] == 1
    assert len(client.get(f"/api/jobs/{job}/quotes/1.pdf").data) == len(paper)
    assert client.get(f"/api/jobs/{job}/quotes/2.pdf").status_code == 404


@pytest.mark.parametrize("what", ["procedure", "mount", "diagram", "routes", "orders", "bench"])
def test_every_page_of_build_is_answered(client: FlaskClient, what: str) -> None:
    """With a unit and without one."""
    for made in (design(), design(charger=None)):
        assert client.post(f"/api/build/{what}", json=made.model_dump(mode="json")).status_code == 200


@pytest.mark.parametrize("paper", ["a4", "a3"])
def test_the_diagram_on_paper(client: FlaskClient, job: int, paper: str) -> None:
    """A PDF of the size asked for."""
    answer = client.get(f"/api/jobs/{job}/diagram-{paper}.pdf")
    assert round(leaves(answer.data)[0].size[0]) == {"a4": 842, "a3": 1191}[paper]
    assert "S1+" in words_of(answer.data)
    assert "N·m" in words_of(answer.data)
