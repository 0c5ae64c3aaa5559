"""Shelf, ranking, options and sums over HTTP: status, shape, refusals. Values are tested in the core."""

from __future__ import annotations

import json
from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.designs import charger, plain
from tests.web.test_api import problem

CABLES = "id,size,price_per_m,stock_m\nown-16,16 mm²,3.9,25\nown-25,25 mm²,5.5,40\n"
HALF_BAD = CABLES + "own-35,36 mm²,7,10\n"


def items(client: FlaskClient, kind: str) -> dict[str, Any]:
    """What stands on a shelf, by number."""
    return {item["id"]: item for item in client.get(f"/api/shelf/{kind}").get_json()["items"]}


def matched(client: FlaskClient) -> list[dict[str, Any]]:
    """The whole shelf weighed for the plain design: the last line of the answer."""
    lines = client.post("/api/match", json=plain()).get_data(as_text=True).splitlines()
    units: list[dict[str, Any]] = json.loads(lines[-1])["units"]
    return units


class TestShelf:
    def test_add_change_clone_retire(self, client: FlaskClient) -> None:
        """A unit is added, changed from its version, refused from an old one, retired and brought back."""
        made = client.put("/api/shelf/chargers/own-1", json={"document": charger()})
        assert made.status_code == 200
        assert made.get_json()["version"] == 1
        twice = problem(client.put("/api/shelf/chargers/own-1", json={"document": charger()}), 409)
        assert "taken" in twice["detail"]
        changed = client.put("/api/shelf/chargers/own-1", json={"based_on": 1, "document": charger(price=120.0)})
        assert changed.get_json()["document"]["price"] == 120.0
        assert client.put("/api/shelf/chargers/own-1", json={"based_on": 1, "document": charger()}).status_code == 409
        assert client.post("/api/shelf/chargers/own-1/retire", json={"retired": True}).get_json()["retired"]
        assert "own-1" not in {unit["id"] for unit in matched(client)}
        assert "own-1" in items(client, "chargers")

    def test_faults_name_the_field(self, client: FlaskClient) -> None:
        """A unit with letters for amperes is refused at that field and not stored."""
        found = problem(client.put("/api/shelf/chargers/own-2", json={"document": charger(output_a="many")}), 422)
        assert [(fault["path"], fault["field"]) for fault in found["errors"]] == [
            ("document.output_a", "Output current")
        ]
        assert "own-2" not in items(client, "chargers")

    def test_a_job_keeps_what_left_the_shelf(self, client: FlaskClient) -> None:
        """Changing and retiring a unit in use touches no job; the shelf says how many hold it."""
        before = client.get("/api/jobs/5").get_json()["design"]["charger"]
        shelved = items(client, "chargers")[before["id"]]
        assert shelved["used_in"] == 1
        dearer = {"based_on": shelved["version"], "document": shelved["document"] | {"output_a": 35.0}}
        assert client.put(f"/api/shelf/chargers/{before['id']}", json=dearer).status_code == 200
        client.post(f"/api/shelf/chargers/{before['id']}/retire", json={"retired": True})
        assert client.get("/api/jobs/5").get_json()["design"]["charger"] == before

    def test_nothing_is_stored_until_accepted(self, client: FlaskClient) -> None:
        """A file is only judged at first; with a bad row `all` stores nothing and `good` the rest."""
        before = items(client, "cables")
        for accept in ("", "all"):
            report = client.post(f"/api/shelf/cables/import?accept={accept}", data=HALF_BAD.encode()).get_json()
            assert (report["rows"], report["good"], report["bad_rows"], report["stored"]) == (3, 2, 1, False)
            assert (report["errors"][0]["row"], report["errors"][0]["field"]) == (4, "Size")
            assert items(client, "cables") == before
        stored = client.post("/api/shelf/cables/import?accept=good", data=HALF_BAD.encode()).get_json()
        assert stored["stored"]
        assert set(items(client, "cables")) - set(before) == {"own-16", "own-25"}

    def test_taking_the_same_file_again_changes_nothing(self, client: FlaskClient) -> None:
        """A clean file is stored whole, and a second time it is all as it was."""
        first = client.post("/api/shelf/cables/import?accept=all", data=CABLES.encode()).get_json()
        assert (first["new"], first["stored"]) == (2, True)
        again = client.post("/api/shelf/cables/import?accept=all", data=CABLES.encode()).get_json()
        assert (again["new"], again["changed"], again["same"]) == (0, 0, 2)

    @pytest.mark.parametrize("ending", ["csv", "json"])
    def test_a_shelf_goes_out_and_comes_back(self, client: FlaskClient, ending: str) -> None:
        """What was given out is taken in again as the same."""
        out = client.get(f"/api/shelf/chargers/file.{ending}")
        report = client.post("/api/shelf/chargers/import", data=out.data).get_json()
        assert (report["bad_rows"], report["new"], report["changed"]) == (0, 0, 0)
        assert report["same"] == len(items(client, "chargers"))

    def test_no_such_shelf(self, client: FlaskClient) -> None:
        """An unknown shelf, item or form is told apart from a mistake of ours."""
        problem(client.get("/api/shelf/spanners"), 404)
        problem(client.get("/api/shelf/cables/file.xml"), 404)
        problem(client.post("/api/shelf/cables/none/retire", json={"retired": True}), 404)

    def test_the_form_follows_the_model(self, client: FlaskClient) -> None:
        """The form names each field with label and unit, behaviour record included."""
        fields = {field["path"]: field for field in client.get("/api/shelf/chargers/form").get_json()["fields"]}
        assert (fields["output_a"]["label"], fields["output_a"]["unit"]) == ("Output current", "A")
        assert fields["behaviour.lamps"]["kind"] == "texts"
        assert [item["value"] for item in fields["enables"]["choices"]] == ["ignition", "d_plus", "remote", "voltage"]


class TestLarge:
    def test_a_large_shelf_is_paged_searched_and_weighed_as_it_goes(self, client: FlaskClient) -> None:
        """Sixty more units: pages add up, words and orders are the server's, the match tells before it has weighed all."""
        rows = [charger(name=f"Twite {at:02d}", output_a=20 + at, price=300 - at) for at in range(60)]
        for at, row in enumerate(rows):
            client.put(f"/api/shelf/chargers/tw-{at:02d}", json={"document": row})
        first = client.get("/api/shelf/chargers?sought=twite&rows=25&order=price").get_json()
        assert first["total"] == 60
        assert [item["document"]["price"] for item in first["items"]] == sorted(range(241, 301))[:25]
        ids = [
            item["id"]
            for begin in (0, 25, 50)
            for item in client.get(f"/api/shelf/chargers?sought=TWITE&rows=25&begin={begin}&falling=true").get_json()[
                "items"
            ]
        ]
        assert ids == [f"tw-{at:02d}" for at in reversed(range(60))]
        lines = [
            json.loads(line) for line in client.post("/api/match", json=plain()).get_data(as_text=True).splitlines()
        ]
        assert len(lines) > 1
        assert lines[0]["weighed"] < lines[-1]["weighed"] == lines[-1]["of"]
        assert client.get("/api/shelf/chargers/tw-07").get_json()["document"]["name"] == "Twite 07"
        assert client.get("/api/shelf/chargers/no-such").status_code == 404
        for order in ("model_fields", "__class__", "name.upper", "no_such"):  # no fields: by number, as if not asked
            asked = client.get(f"/api/shelf/chargers?sought=twite&order={order}").get_json()["items"]
            assert [item["id"] for item in asked] == [f"tw-{at:02d}" for at in range(60)]

    def test_a_key_steps_to_the_next_unit(self, client: FlaskClient) -> None:
        """Up and down again is where it began; beyond the strongest there is none."""
        design = plain()
        units = sorted(
            (item["document"] for item in client.get("/api/shelf/chargers").get_json()["items"]),
            key=lambda unit: unit["output_a"],
        )
        fitting = [unit for unit in units if (unit["input_nominal_v"], unit["output_nominal_v"]) == (12, 12)]
        design["charger"] = fitting[0]
        up = client.post("/api/match/next", json={"by": 1, "design": design}).get_json()["unit"]
        assert up["output_a"] >= fitting[0]["output_a"]
        down = client.post("/api/match/next", json={"by": -1, "design": design | {"charger": up}}).get_json()["unit"]
        assert down["id"] == fitting[0]["id"]
        top = client.post("/api/match/next", json={"by": 1, "design": design | {"charger": fitting[-1]}}).get_json()
        assert top["unit"] is None


class TestMatch:
    def test_own_prices_reach_the_ranking(self, client: FlaskClient) -> None:
        """A dear drum on the shelf makes the installed choices that use its size dearer."""
        before = {item["id"]: item["price"] for item in matched(client)}
        sizes = (2.5, 4, 6, 10, 16, 25, 35, 50, 70)  # under the numbers of the drums there, which they replace
        dear = "id,size,price_per_m\n" + "".join(f"drum-{area:g},{area:g} mm²,90\n" for area in sizes)
        assert client.post("/api/shelf/cables/import?accept=all", data=dear.encode()).get_json()["stored"]
        after = {item["id"]: item["price"] for item in matched(client)}
        usable = [key for key, price in before.items() if price is not None]
        assert usable
        assert all(after[key] > before[key] for key in usable)

    def test_fit_gives_a_design_to_take(self, client: FlaskClient) -> None:
        """A unit fitted comes back as a whole design; one that cannot be used is refused with why."""
        fitted = client.post("/api/match/fit", json={"unit": "sandling", "design": plain()}).get_json()["design"]
        assert fitted["charger"]["id"] == "sandling"
        assert client.post("/api/assess", json=fitted).status_code == 200
        refused = problem(client.post("/api/match/fit", json={"unit": "ruff", "design": plain()}), 422)
        assert "not a charger" in refused["detail"]
        problem(client.post("/api/match/fit", json={"unit": "no-such", "design": plain()}), 404)

    def test_week_and_unknowns(self, client: FlaskClient) -> None:
        """Both are answered for any design, also one with nothing surveyed."""
        blank = {"vehicle": {"alternator": {"rated_a": 100.0}}}
        assert client.post("/api/week", json=blank).get_json()["verdict"] == "unknown"
        assert client.post("/api/unknowns", json=blank).get_json()["unknowns"]

    def test_options_are_kept_compared_and_dropped(self, client: FlaskClient) -> None:
        """Three variants can be kept beside the design, a fourth is refused, and a dropped one is gone."""
        for name in "ABC":
            assert client.post("/api/jobs/1/options", json={"name": name, "design": plain()}).status_code == 201
        assert (
            "drop one"
            in problem(client.post("/api/jobs/1/options", json={"name": "D", "design": plain()}), 422)["detail"]
        )
        kept = client.get("/api/jobs/1/options").get_json()["options"]
        variants = [{"name": item["name"], "design": item["design"]} for item in kept]
        assert client.post("/api/compare", json={"variants": variants}).get_json()["names"] == ["A", "B", "C"]
        assert client.delete(f"/api/jobs/1/options/{kept[0]['id']}").status_code == 200
        problem(client.delete(f"/api/jobs/1/options/{kept[0]['id']}"), 404)
        problem(client.get("/api/jobs/99/options"), 404)
        problem(client.post("/api/compare", json={"variants": variants[:1]}), 422)

    @pytest.mark.parametrize(
        ("asked", "words"),
        [
            ({"sum": "rest", "chemistry": "agm", "nominal_v": 12, "rest_v": 12.5}, "%"),
            ({"sum": "daily_need", "loads": [{"name": "lamp", "current_a": 2.0, "standing_h": 5.0}]}, "10 Ah"),
            ({"sum": "flat", "capacity_ah": 80.0, "maintainer_a": 1.0, "auxiliary_usable_ah": 40.0}, "with the maintainer"),
            ({"sum": "bonding", "volts_mv": 40.0, "current_a": 10.0}, "4.00 mΩ"),
            ({"sum": "load_average", "capacity_ah": 100.0, "charge_before": 0.9, "charge_after": 0.6, "hours": 10.0}, "3.00 A"),
        ],
    )  # fmt: skip
    def test_sums_are_answered(self, client: FlaskClient, asked: dict[str, Any], words: str) -> None:
        """Each sum gives its answer in words."""
        assert words in client.post("/api/sums", json={"asked": asked}).get_json()["text"]

    def test_a_contradiction_names_its_field(self, client: FlaskClient) -> None:
        """A 24 V reading on a 12 V battery is refused at the reading."""
        asked = {"sum": "rest", "chemistry": "agm", "nominal_v": 12, "rest_v": 25.0}
        found = problem(client.post("/api/sums", json={"asked": asked}), 422)
        assert found["errors"][0]["path"] == "asked.rest_v"
