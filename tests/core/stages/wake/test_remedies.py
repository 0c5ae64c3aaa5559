"""The other ways and the papers: links for contrast, inherited cable, both schools, and what a schematic shows of a run."""

from __future__ import annotations

from typing import Any
from xml.etree import ElementTree

import pytest

from olvask.core.assess import Assessment, assess
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.stages.build.cuts import buying
from olvask.core.stages.wake.remedies import less_current
from olvask.documents.diagram.svg import schematic_svg
from olvask.documents.job_file import JobFile, read_job_file, write_job_file
from olvask.documents.schedules import cuts_csv, labels_csv, parts_csv
from tests.designs import cable, charger, design, fuse, vehicle

LITHIUM = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 200.0, "charge_limit_a": 100.0, "absorption_v": 14.2}
RICH = {
    "pieces": [
        fuse(80.0),
        cable("25 mm²", 2.0),
        {"kind": "joint", "form": "bus_bar", "name": "bar", "resistance_mohm": 0.1},
        {"kind": "branch", "name": "fan", "current_a": 2.0, "size": "1.5 mm²", "device": fuse(5.0, "blade")},
        cable("50 mm²", 1.0, parallel=2),
        {"kind": "joint", "form": "plug", "name": "trailer plug", "resistance_mohm": 1.5, "rating_a": 80.0},
        cable("16 mm²", 0.4, strand="class_2"),
    ]
}


def texts(svg: str) -> list[str]:
    """Words of an SVG document."""
    return [at.text or "" for at in ElementTree.fromstring(svg).iter() if at.tag.endswith("text")]  # noqa: S314  # our own


class TestLinks:
    def link(self, **changes: Any) -> Any:
        """The contrast of a design."""
        return assess(design(**changes)).link

    def test_a_plain_link_by_hand(self) -> None:
        """(13.9 − V_ocv) over runs, source and battery: with 0 Ω of runs assumed 10 mΩ, AGM 20 % rests at 11.9 V, 110 Ah: 3.18 mΩ."""
        found = self.link(supply={"pieces": []}, delivery={"pieces": []})
        assert not found.laid
        assert found.link_a == pytest.approx((13.9 - 11.9) / (0.010 + 0.002 + 0.35 / 110), rel=0.02)

    def test_timed_rests_keep_the_average_within_the_budget(self) -> None:
        """Whatever the link draws, its average is no more than the job's school allows."""
        small = {"rated_a": 70.0, "regulation": "fixed", "loads_idle_a": 20.0, "hot_idle_share": 0.5, "sag_mohm": 1.0}
        found = self.link(vehicle=vehicle(alternator=small), auxiliary=LITHIUM)
        budget = 0.8 * (70.0 * 0.5 - 20.0)
        assert found.duty < 1
        assert found.managed_a == pytest.approx(budget)
        assert found.alternator_percent > 60

    def test_what_speaks_against_it_is_said_of_this_job(self) -> None:
        """Lithium disconnects, a long cable never fills, a low phase flows back: each only where it is so."""
        managed = {"rated_a": 150.0, "regulation": "managed", "loads_idle_a": 20.0, "sag_mohm": 2.0}
        lithium = " ".join(self.link(auxiliary=LITHIUM, vehicle=vehicle(alternator=managed)).risks)
        assert "surge" in lithium
        assert "flows back" in lithium
        assert "surge" not in " ".join(self.link().risks)

    def test_no_link_joins_different_voltages(self) -> None:
        """12 V and 24 V batteries cannot be linked."""
        job = design(
            auxiliary={"chemistry": "agm", "nominal_v": 24, "capacity_ah": 100.0, "absorption_v": 28.8},
            charger=charger(output_nominal_v=24, output_a=10.0, output_min_v=23.0, output_max_v=30.0),
        )
        assert assess(job).link is None


class TestInherited:
    def verdict(self, **changes: Any) -> str:
        """Title of the verdict on an inherited cable."""
        job = design(inherited={"size": "25 mm²", "length_m": 3.0} | changes)
        return next(item.title for item in assess(job).findings if item.id == "run.inherited")

    @pytest.mark.parametrize(
        ("why", "changes", "keep"),
        [
            ("sound, thick and short", {}, True),
            ("the same, but frayed", {"sound": False}, False),
            ("something else hangs on it", {"shared_a": 8.0}, False),
            ("2.5 mm² does not carry 32 A", {"size": "2.5 mm²"}, False),
            ("copper-clad carries less, still enough", {"metal": "cca"}, True),
            ("30 m drops far too much", {"length_m": 30.0}, False),
        ],
    )
    def test_keep_or_replace(self, why: str, changes: dict[str, Any], keep: bool) -> None:
        """By the rules a new cable is held to."""
        assert ("can stay" in self.verdict(**changes)) is keep, why

    def test_keeping_it_lays_it(self) -> None:
        """The way out puts the inherited cable into the run, with a device that guards it."""
        job = design(inherited={"size": "25 mm²", "length_m": 2.2}, supply={"pieces": []})
        finding = next(item for item in assess(job).findings if item.id == "run.inherited")
        laid = apply(job, finding.remedies[0])
        assert [piece.kind for piece in laid.supply.pieces] == ["device", "cable"]
        assert not [item for item in assess(laid).stops if item.place.startswith("supply")]


class TestSchools:
    def facts(self, school: str) -> Any:
        """Facts of the supply cable under one school."""
        found = assess(design(choices={"ampacity_school": school}))
        return next(item for item in found.pieces if item.place == "c1")

    def test_both_stand_beside_each_other(self) -> None:
        """What one school calls the other's is what the other calls its own; free air allows more; each names its table."""
        enclosed, free = self.facts("enclosed"), self.facts("free_air")
        assert enclosed.other_ampacity_a == pytest.approx(free.ampacity_a)
        assert free.other_ampacity_a == pytest.approx(enclosed.ampacity_a)
        assert free.ampacity_a > enclosed.ampacity_a
        assert "B.52.3" in enclosed.table_source
        assert "B.52.12" in free.table_source

    def test_conduit_always_takes_the_enclosed_table(self) -> None:
        """In conduit there is no free air, whatever the school."""
        job = design(supply={"pieces": [fuse(60.0), cable(conduit=True)]}, choices={"ampacity_school": "free_air"})
        fact = next(item for item in assess(job).pieces if item.place == "c1")
        assert fact.ampacity_a == pytest.approx(fact.other_ampacity_a)


class TestPapersOfARichRun:
    def job(self) -> Design:
        """A run with everything in it."""
        return design(supply=RICH)

    def test_it_is_assessed_whole(self) -> None:
        """Every piece has its facts, every device its row, and the line walks them all."""
        found: Assessment = assess(self.job())
        assert [item.place for item in found.pieces][:7] == [piece.id for piece in self.job().supply.pieces]
        assert {item.place for item in found.devices} >= {"d1", "b1"}
        assert all(len(line.supply) == 9 for line in found.conditions)

    def test_the_schematic_shows_every_piece(self) -> None:
        """Each size, the branch with its device, the plug and the bar by name."""
        words = " | ".join(texts(schematic_svg(self.job())))
        for part in ("25 mm²", "50 mm²", "16 mm²", "fan", "1.5 mm²", "5 A ISO 8820-3 blade", "trailer plug", "bar"):
            assert part in words, part

    def test_the_job_file_carries_it(self) -> None:
        """Out and in again the same."""
        file = JobFile(title="Rich", design=self.job())
        assert read_job_file(write_job_file(file).encode()) == file

    def test_conductors_are_named_and_ended(self) -> None:
        """Parallel cables get letters, plugs contacts, coarse strands no ferrule, the tail its own name."""
        found = buying(self.job(), "R-1")
        cuts = {cut.id: cut for cut in found.conductors}
        assert {"S2+a", "S2+b", "S2−a", "S2−b", "BS1+", "BS1−"} <= set(cuts)
        assert cuts["S2+a"].ends[1].kind.startswith("crimped contact")
        assert cuts["S3+"].ends[1].kind.startswith("bare")
        assert cuts["S1+"].ends[1].at == "bar +"

    def test_schedules_have_a_row_for_each(self) -> None:
        """As many rows as conductors, parts and labels, below one header."""
        found = buying(self.job(), "R-1")
        assert len(cuts_csv(found).splitlines()) == 1 + len(found.conductors)
        assert len(parts_csv(found).splitlines()) == 1 + len(found.parts)
        assert len(labels_csv(found).splitlines()) == 1 + len(found.labels)


def test_the_unit_is_turned_down_no_further_than_it_must() -> None:
    """Where every smaller current will do, by one ampere; by the next of its steps; not at all where it has one current."""
    for record, amps in (
        ({"current_limit": "continuous", "limit_min_a": 5.0}, 24.0),
        ({"current_limit": "steps", "limit_steps_a": [5.0, 10.0, 20.0]}, 20.0),
    ):
        found = less_current(design(charger=charger(**record)), lambda _: True)
        assert found is not None
        assert found.changes[0].value == amps
    assert less_current(design(charger=charger(current_limit="none")), lambda _: True) is None
