"""Papers and files: the job file out and in, the schematic, the sheet."""

from __future__ import annotations

import json
from datetime import date
from typing import Any
from xml.etree import ElementTree

import pytest

from olvask.core.assess import assess
from olvask.core.model import Design
from olvask.documents.diagram.svg import schematic_svg
from olvask.documents.job_file import BadJobFile, JobFile, job_file_schema, read_job_file, write_job_file
from olvask.documents.sheet import SheetHead, sheet_pdf
from olvask.store.demo import demo_designs
from tests.designs import cable, charger, design, fuse, vehicle
from tests.papers import leaves

HEAD = SheetHead("Milk float", "MF-001", "Alderbeck Dairy", 3, date(2031, 5, 2))


def as_file(**changes: Any) -> bytes:
    """A job file as bytes, its top level changed."""
    document = json.loads(write_job_file(JobFile(title="Milk float", design=design())))
    return json.dumps(document | changes, ensure_ascii=False).encode()


def errors_of(raw: bytes) -> dict[str, str]:
    """Messages of a refused file by path."""
    with pytest.raises(BadJobFile) as caught:
        read_job_file(raw)
    return {fault.path: fault.message for fault in caught.value.errors}


class TestJobFile:
    def test_there_and_back(self) -> None:
        """Every demo job written and read again is the same job."""
        for heading, job in demo_designs():
            file = JobFile(title=heading.title, code=heading.code, customer=heading.customer, design=job)
            assert read_job_file(write_job_file(file).encode()) == file

    def test_a_byte_order_mark_is_no_fault(self) -> None:
        """A file saved by a text editor with a byte-order mark is taken."""
        assert read_job_file(b"\xef\xbb\xbf" + as_file()).title == "Milk float"

    def test_broken_json_is_located_by_line(self) -> None:
        """A missing comma is told with its line and column."""
        assert "line 2, column" in errors_of(b'{"format": "olvask-job"\n "title": 3}')[""]

    @pytest.mark.parametrize("raw", [b"", b"\x00\x01\xff\xfe", b"%PDF-1.7 not a job", b"[" * 100_000])
    def test_what_is_no_text_or_no_json_is_refused(self, raw: bytes) -> None:
        """An empty file, bytes, another format and a nest of brackets each give one plain fault."""
        assert list(errors_of(raw)) == [""]

    @pytest.mark.parametrize("raw", [b"3", b"[]", b"null", b'"text"', b"{}", b'{"format": "else"}'])
    def test_json_that_is_no_job_is_refused(self, raw: bytes) -> None:
        """JSON of another kind is told so, at the format field."""
        assert list(errors_of(raw)) == ["format"]

    def test_every_error_is_located(self) -> None:
        """Four errors in one file are all told, each at its path."""
        document = json.loads(as_file())
        document["design"]["supply"]["pieces"][1]["length_m"] = -4
        document["design"]["vehicle"]["chassis"]["bonding_mohm"] = "low"
        document["design"]["wings"] = 2
        document["title"] = ""
        found = errors_of(json.dumps(document).encode())
        assert set(found) == {
            "design.supply.pieces.c1.length_m",
            "design.vehicle.chassis.bonding_mohm",
            "design.wings",
            "title",
        }

    def test_a_later_version_is_not_half_read(self) -> None:
        """A file of version 3 is refused at its version, not read as far as it goes."""
        assert "version" in errors_of(as_file(version=3))

    def test_the_schema_says_what_the_reader_takes(self) -> None:
        """The published schema names the format, forbids unknown fields and carries limits and units."""
        schema = job_file_schema()
        assert schema["$schema"].endswith("2020-12/schema")
        assert schema["properties"]["format"]["const"] == "olvask-job"
        assert schema["additionalProperties"] is False
        length = schema["$defs"]["Cable"]["properties"]["length_m"]
        assert (length["minimum"], length["maximum"], length["unit"]) == (0.01, 60, "m")


def words(svg: str) -> str:
    """All text of a drawing."""
    return " | ".join(node.text or "" for node in ElementTree.fromstring(svg).iter() if node.tag.endswith("text"))  # noqa: S314  # our own drawing


class TestSchematic:
    def test_it_draws_this_job(self) -> None:
        """Sizes, lengths, ratings and the unit's name of the job stand in the drawing."""
        text = words(schematic_svg(design()))
        for word in ("25 mm² · 3 m", "16 mm² · 1.5 m", "60 A", "40 A", "Test unit", "Start battery", "12 V 110 Ah AGM"):
            assert word in text

    def test_isolation_shows_at_the_terminals(self) -> None:
        """An isolated unit has two negatives, a non-isolated one a common negative."""
        assert "in − | out −" in words(schematic_svg(design()))
        assert "common −" in words(schematic_svg(design(charger=charger(isolated=False))))

    def test_the_way_back_is_named(self) -> None:
        """A chassis return and an own cable read differently, a missing measurement shows."""
        chassis = {"pieces": [fuse(60.0), cable()], "back": {"kind": "chassis", "resistance_mohm": None}}
        text = words(schematic_svg(design(supply=chassis)))
        assert "chassis return, not measured" in text
        assert "D1−" in text

    def test_enable_wires_carry_terminal_numbers(self) -> None:
        """A signal is drawn with its terminal number."""
        text = words(schematic_svg(design(activation={"ways": ["ignition", "d_plus"]})))
        assert "15 · ignition feed" in text
        assert "61 · alternator D+" in text

    def test_names_are_escaped(self) -> None:
        """A name with markup in it stays text."""
        svg = schematic_svg(design(charger=charger(name="<script>&")))
        assert "<script>" not in svg
        assert "<script>&" in words(svg)

    def test_an_empty_job_draws_too(self) -> None:
        """A job with nothing chosen has a drawing that says so."""
        assert "no unit chosen" in words(
            schematic_svg(Design.model_validate({"vehicle": {"alternator": {"rated_a": 90}}}))
        )


def pages(job: Design) -> list[str]:
    """Text of each page of a job's sheet."""
    return [leaf.words for leaf in leaves(sheet_pdf(HEAD, job, assess(job)))]


class TestSheet:
    def test_activation_is_on_it_in_full(self) -> None:
        """Where the enable is taken, its fuse, the second start rule, another profile, and what became of the old link."""
        text = pages(
            design(
                activation={"ways": ["d_plus", "voltage"], "quick_start_v": 13.6},
                charge={"profile": "gel"},
                existing=[{"kind": "link"}],
                old_link={"decision": "disconnect"},
            )
        )[0]
        for words in ("Enable from 61", "fuse 3 A", "Start 2", "13.60 V for 0 s", "gel", "disconnected and made safe"):
            assert words in text, words

    def test_every_demo_job_fits_one_page(self) -> None:
        """One page, whatever the findings."""
        for _, job in demo_designs():
            assert len(pages(job)) == 1

    def test_it_carries_the_figures_of_the_assessment(self) -> None:
        """The volts on paper are the volts of the core."""
        job = design()
        volts = assess(job).figures["idle.input_v"].value
        text = pages(job)[0]
        assert f"{volts:.2f} V" in text
        for word in ("Milk float", "MF-001", "Alderbeck Dairy", "version 3", "Test unit", "Local code and the makers"):
            assert word in text

    def test_a_stop_is_not_handed_over_quietly(self) -> None:
        """A design with a stop says at its head that it is not to be built."""
        assert (
            "Not to be built as it stands: 1 stop open" in pages(design(delivery={"pieces": [cable("16 mm²", 1.0)]}))[0]
        )
        assert "Not to be built" not in pages(design())[0]

    def test_chemistry_brings_its_caution(self) -> None:
        """Lithium is never charged frozen, flooded lead-acid vents hydrogen."""
        lithium = {
            "chemistry": "lfp",
            "nominal_v": 12,
            "capacity_ah": 100.0,
            "charge_limit_a": 50.0,
            "absorption_v": 14.2,
        }
        agm_only = vehicle(start_battery={"chemistry": "agm", "capacity_ah": 90.0})
        assert "below freezing" in pages(design(auxiliary=lithium))[0]
        assert "hydrogen" in pages(design())[0]
        assert "hydrogen" not in pages(design(vehicle=agm_only))[0]

    def test_wild_names_do_not_break_it(self) -> None:
        """Typesetting marks in a title are printed, not obeyed."""
        job = design(charger=charger(name='#panic("x") $ * _ @'))
        head = SheetHead('#panic("no") *bold*', "", "", 1, date(2031, 5, 2))
        text = leaves(sheet_pdf(head, job, assess(job)))[0].words
        assert '#panic("no") *bold*' in text
