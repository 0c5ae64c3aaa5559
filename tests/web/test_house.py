"""House rules through the API: kept, refused where stale or odd, taken by new jobs alone, told on every paper."""

from __future__ import annotations

import base64
import io
import re
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image, ImageDraw
from PIL.PngImagePlugin import PngInfo

from tests.papers import leaves, words_of

YARDS = {"length": "ft", "size": "awg", "temperature": "F", "torque": "lbin", "decimal": "comma", "currency": "£"}
# A figure in a unit that such a house does not read.
METRIC = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?\s?(?:°C|K|m|mm|cm²|N·m)(?![\w²³·])|€|mΩ/m(?!\w)|mV/(?:K|°C)")
POINT = re.compile(r"(?<![\w.,])\d+\.\d+(?![\w.])(?!\s?(?:form|:))")
PAPERS = ("sheet.pdf", "settings.pdf", "tests.pdf", "report.pdf", "customer.pdf", "labels.pdf", "diagram-a4.pdf")


def rules(**more: Any) -> dict[str, Any]:
    return {"workshop": {"name": "Brack & Fenn", "address": ["Coldharbour 3"], "contact": "0555 0173"}, **more}


def save(client: FlaskClient, house: dict[str, Any], based_on: int = 0) -> Any:
    return client.put("/api/house", json={"based_on": based_on, "house": house})


def asked(client: FlaskClient, address: str) -> Any:
    return client.get(address).json


def sent(client: FlaskClient, address: str, body: dict[str, Any]) -> Any:
    return client.post(address, json=body).json


def test_they_are_kept_and_a_stale_save_changes_nothing(client: FlaskClient) -> None:
    assert asked(client, "/api/house")["version"] == 0
    assert save(client, rules()).json["version"] == 1
    stale = save(client, {"workshop": {"name": "Another"}})
    assert (stale.status_code, stale.json["title"]) == (409, "Saved elsewhere since")
    assert asked(client, "/api/house")["house"]["workshop"]["name"] == "Brack & Fenn"


@pytest.mark.parametrize(
    ("house", "field"),
    [
        ({"units": {"length": "furlong"}}, "Lengths"),
        ({"units": {"currency": "3.50"}}, "Currency"),
        ({"units": {"currency": "<b>"}}, "Currency"),
        ({"choices": {"drop_percent": 0}}, "Drop limit per run"),
        ({"terms": {"rate_per_h": -1}}, "Labour, an hour"),
        ({"workshop": {"address": ["x"] * 6}}, "Address"),
        ({"workshop": {"picture": "not base64!"}}, "Picture on papers"),
    ],
)
def test_what_is_odd_is_refused_by_its_name(client: FlaskClient, house: dict[str, Any], field: str) -> None:
    answer = save(client, house)
    assert answer.status_code == 422
    assert [error["field"] for error in answer.json["errors"]] == [field]
    assert field != "Currency" or "such as € or CHF" in answer.json["errors"][0]["message"]
    assert asked(client, "/api/house")["version"] == 0


def test_new_jobs_take_them_and_old_jobs_keep_theirs(client: FlaskClient) -> None:
    old = sent(client, "/api/jobs", {"title": "Milk float", "design": None})
    save(client, rules(choices={"drop_percent": 2, "holder_m": 0.15}, terms={"rate_per_h": 82}))
    new = sent(client, "/api/jobs", {"title": "Milk float, the second", "design": None})
    assert (new["design"]["choices"]["drop_percent"], new["design"]["terms"]["rate_per_h"]) == (2, 82)
    assert asked(client, f"/api/jobs/{old['id']}")["design"]["choices"]["drop_percent"] == 3
    differs = sent(client, "/api/house/differs", old["design"])["differs"]
    assert {(item["path"], item["here"], item["house"]) for item in differs} == {
        ("choices.drop_percent", "3", "2"),
        ("choices.holder_m", "0.2", "0.15"),
        ("terms.rate_per_h", "65", "82"),
    }
    assert sent(client, "/api/house/differs", new["design"])["differs"] == []


def printed(client: FlaskClient, address: str) -> str:
    answer = client.get(address)
    assert answer.status_code == 200, (address, answer.json)
    return words_of(answer.data)


@pytest.mark.parametrize("job", range(1, 6))
def test_every_paper_is_the_workshops_and_in_its_units(client: FlaskClient, job: int) -> None:
    """No figure of a demo job's papers is left in metres, degrees Celsius, newton metres or euros, none with a point."""
    sheet = sent(client, "/api/settings/sheet", {"device": "", "design": asked(client, f"/api/jobs/{job}")["design"]})[
        "sheet"
    ]
    rows = [*sheet["lines"], *sheet["leave"]] if sheet is not None else []
    of_device = {row["value"].replace(".", ",") for row in rows if METRIC.search(row["value"])}
    in_si = {paper: printed(client, f"/api/jobs/{job}/{paper}") for paper in PAPERS}
    design = asked(client, f"/api/jobs/{job}")["design"]
    quoted = {"title": "Float", "options": [{"name": "one", "design": design}]}
    assert client.post(f"/api/jobs/{job}/quotes", json=quoted).status_code == 200
    save(client, rules(units=YARDS))
    for paper in (*PAPERS, "quotes/1.pdf"):
        text = printed(client, f"/api/jobs/{job}/{paper}")
        for kept in of_device if paper == "settings.pdf" else ():
            assert kept in text, kept  # keyed as the device has it, in no other units
            text = text.replace(kept, "")
        assert METRIC.findall(text) == [], paper
        assert POINT.findall(text) == [], paper
        if paper != "labels.pdf":
            assert "Brack & Fenn" in text, paper
    assert sum(len(METRIC.findall(text)) for text in in_si.values()) > 20  # so it is something that is not found now
    drawing = client.get(f"/api/jobs/{job}/schematic.svg").text
    assert METRIC.findall(re.sub(r"<[^>]+>", " ", drawing)) == []


def drawn(width: int = 900, height: int = 500, kind: str = "PNG") -> bytes:
    """A disk on nothing, with words beside the pixels."""
    image = Image.new("RGBA", (width, height), (0, 0, 0, 0))
    ImageDraw.Draw(image).ellipse((40, 40, height - 40, height - 40), fill=(164, 85, 42, 255))
    out, info = io.BytesIO(), PngInfo()
    info.add_text("Comment", "taken at Coldharbour")
    image.save(out, kind, pnginfo=info)
    return out.getvalue()


def test_the_mark_stands_on_every_paper_and_is_pixels_alone(client: FlaskClient) -> None:
    """Chosen as a file, drawn small with its clear ground and without what came beside it; saved so whatever is sent."""
    mark = (client.post("/api/house/picture", data=drawn()).json or {})["picture"]
    small = Image.open(io.BytesIO(base64.b64decode(mark)))
    assert small.format == "PNG"
    assert (max(small.size) <= 720, small.info.get("Comment")) == (True, None)
    assert small.convert("RGBA").getchannel("A").getpixel((2, 2)) == 0
    without = {paper: pictures(client, f"/api/jobs/4/{paper}") for paper in PAPERS}
    raw = base64.b64encode(drawn(3000, 2000)).decode()
    kept = save(client, rules(workshop={"name": "Brack & Fenn", "picture": raw})).json["house"]["workshop"]["picture"]
    assert len(kept) < len(raw)
    assert b"Coldharbour" not in base64.b64decode(kept)
    for paper in PAPERS:
        assert pictures(client, f"/api/jobs/4/{paper}") == without[paper] + (paper != "labels.pdf"), paper


def test_what_is_no_picture_is_no_mark(client: FlaskClient) -> None:
    """Words, half a file, a bomb: refused in a sentence, chosen or sent with the rules; what stood there stays."""
    bomb = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(bomb, "PNG")
    assert save(client, rules()).json["version"] == 1
    for raw in (b"", b"hello", drawn()[:300], bomb.getvalue()):
        assert client.post("/api/house/picture", data=raw).status_code == 422, raw[:20]
        if raw and len(raw) < 1000:
            sent_along = rules(workshop={"name": "Other", "picture": base64.b64encode(raw).decode()})
            assert save(client, sent_along, 1).status_code == 422
    assert asked(client, "/api/house")["house"]["workshop"]["name"] == "Brack & Fenn"


def pictures(client: FlaskClient, address: str) -> int:
    """How many a paper's first page holds."""
    return len(leaves(client.get(address).data)[0].pictures)


def test_the_page_brings_the_units_along(client: FlaskClient) -> None:
    save(client, rules(units=YARDS))
    page = client.get("/").text
    assert "&quot;length&quot;:&quot;ft&quot;" in page or "not built yet" in page
