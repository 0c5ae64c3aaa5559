"""The model refuses what cannot be, says where and how to mend it, and never changes."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from olvask.core.assess import assess
from olvask.core.findings.collector import Collector
from olvask.core.findings.figure import Reckoned, Words, computed
from olvask.core.findings.remedy import apply, remedy, with_cable, with_change
from olvask.core.model import Design
from olvask.core.model.entry_errors import EntryError, entry_errors
from tests.designs import cable, charger, design, fuse, plain, vehicle


def refused(document: dict[str, Any]) -> dict[str, EntryError]:
    """Errors of a document by path."""
    with pytest.raises(ValidationError) as caught:
        Design.model_validate(document)
    return {item.path: item for item in entry_errors(caught.value, Design)}


# (what is typed where, path of the error, words the message must hold)
WRONG: list[tuple[dict[str, Any], str, tuple[str, ...]]] = [
    (
        {"supply": {"pieces": [cable(length_m="four")]}},
        "supply.pieces.0.length_m",
        ("'four' is not a number", "60 m", "for example 4.9"),
    ),
    (
        {"supply": {"pieces": [cable(length_m=-3)]}},
        "supply.pieces.0.length_m",
        ("-3 is out of range", "from 0.01 to 60 m"),
    ),
    ({"supply": {"pieces": [cable(length_m=0)]}}, "supply.pieces.0.length_m", ("out of range",)),
    ({"supply": {"pieces": [cable(length_m=1e9)]}}, "supply.pieces.0.length_m", ("from 0.01 to 60 m",)),
    ({"supply": {"pieces": [cable(length_m=None)]}}, "supply.pieces.0.length_m", ("Nothing entered",)),
    ({"supply": {"pieces": [cable(length_m="")]}}, "supply.pieces.0.length_m", ("Nothing entered",)),
    ({"supply": {"pieces": [cable(length_m=float("nan"))]}}, "supply.pieces.0.length_m", ("not a number",)),
    ({"supply": {"pieces": [cable("9 mm²")]}}, "supply.pieces.0.size", ("not a standard size", "35 mm²")),
    ({"supply": {"pieces": [fuse(33.0, "sf30")]}}, "supply.pieces.0", ("no 33 A rating", "choose 30")),
    ({"supply": {"pieces": [{"kind": "spring"}]}}, "supply.pieces.0", ("Say which kind",)),
    ({"supply": {"pieces": [{"size": "16 mm²"}]}}, "supply.pieces.0", ("Say which kind",)),
    ({"vehicle": vehicle(system_v=13)}, "vehicle.system_v", ("not a choice", "12 or 24")),
    (
        {"vehicle": vehicle(readings={"idle_v": 1300})},
        "vehicle.readings.idle_v",
        ("from 0.5 to 64 V", "for example 13.6"),
    ),
    ({"vehicle": vehicle(colour="blue")}, "vehicle.colour", ("Unknown field",)),
    ({"vehicle": {"system_v": 12}}, "vehicle.alternator", ("Missing",)),
    ({"charger": charger(efficiency=92)}, "charger.efficiency", ("out of range", "up to 1")),
    ({"charger": charger(input_min_v=18.0)}, "charger", ("lowest input must lie below",)),
    ({"charger": charger(current_limit="steps")}, "charger", ("needs its steps",)),
    ({"charger": charger(name="x" * 200)}, "charger.name", ("within 80 characters",)),
    ({"auxiliary": {"capacity_ah": [1, 2]}}, "auxiliary.capacity_ah", ("not a number",)),
    ({"charger": charger(name="")}, "charger.name", ("Nothing entered", "fill it in")),
    ({"charger": charger(id="a/b")}, "charger.id", ("'a/b' cannot be used here", "letters, digits")),
    ({"charger": charger(isolated="maybe")}, "charger.isolated", ("neither yes nor no",)),
    ({"charger": "none"}, "charger", ("not a group of fields",)),
    ({"supply": {"pieces": 4}}, "supply.pieces", ("not a list",)),
    ({"supply": {"pieces": [fuse()] * 500}}, "supply.pieces", ("Too many", "at most")),
    ({"use": {"loads": [{"name": 7, "current_a": 1.0}]}}, "use.loads.0.name", ("not text",)),
    ({"provenance": {"use.daily_ah": "guessed"}}, "provenance.use.daily_ah", ("not a choice",)),
]


@pytest.mark.parametrize(("changes", "path", "words"), WRONG, ids=[f"{case[1]}-{at}" for at, case in enumerate(WRONG)])
def test_wrong_input_is_located_and_explained(changes: dict[str, Any], path: str, words: tuple[str, ...]) -> None:
    """Each wrong entry is refused at its own place with the reason and the remedy."""
    found = refused(plain(**changes))
    assert path in found
    for word in words:
        assert word in found[path].message


def test_all_errors_are_told_at_once() -> None:
    """Three wrong entries give three errors, not the first one."""
    found = refused(plain(supply={"pieces": [cable(length_m=-1), cable("7 mm²")]}, vehicle=vehicle(system_v=48)))
    assert {"supply.pieces.0.length_m", "supply.pieces.1.size", "vehicle.system_v"} <= set(found)


def test_the_label_of_the_field_is_named() -> None:
    """An error carries the label the screen shows."""
    assert refused(plain(supply={"pieces": [cable(length_m=-1)]}))["supply.pieces.0.length_m"].field == "One-way length"
    assert refused(plain(use={"drive_h": 30}))["use.drive_h"].field == "Driving a day"


def test_a_huge_value_is_not_repeated_whole() -> None:
    """A message shows the start of an absurd entry, not all of it."""
    assert len(refused(plain(use={"drive_h": "9" * 5000 + "x"}))["use.drive_h"].message) < 200


def test_designs_are_immutable() -> None:
    """Nothing about a design can be changed in place."""
    job = design()
    with pytest.raises(ValidationError):
        setattr(job.vehicle.alternator, "rated_a", 5.0)  # noqa: B010  # the type checker knows it is read-only


def test_a_design_survives_the_round_trip() -> None:
    """Written as JSON and read again a design is the same."""
    job = design(use={"daily_ah": 40.0, "drive_h": 2.0}, provenance={"use.daily_ah": "entered"})
    assert Design.model_validate_json(job.model_dump_json()) == job


def test_a_typed_number_as_text_is_taken() -> None:
    """A number that arrives as text is read as the number."""
    assert design(use={"drive_h": "2.5"}).use.drive_h == 2.5


def test_missing_is_none_never_zero() -> None:
    """What was not entered stays `None`: a zero would be a reading."""
    job = Design.model_validate({"vehicle": {"alternator": {"rated_a": 90.0}}})
    assert job.use.daily_ah is None
    assert job.vehicle.readings.rest_v is None
    assert job.charger is None
    assert assess(job).figures.get("input.power_w") is None


def test_paths_reach_into_lists() -> None:
    """A remedy's path names a piece by its identity, a rule by its position."""
    document = design().model_dump(mode="json")
    with_change(document, "supply.pieces.c1.size", "50 mm²")
    assert document["supply"]["pieces"][1]["size"] == "50 mm²"
    with_change(document, "activation.start_rules.0.held_s", 20.0)
    assert document["activation"]["start_rules"][0]["held_s"] == 20.0
    with pytest.raises(IndexError):
        with_change(document, "activation.start_rules.7.held_s", 20.0)
    for nowhere in ("supply.pieces.c9.size", "supplies.pieces"):
        with pytest.raises(KeyError):
            with_change(document, nowhere, "50 mm²")


def test_applying_leaves_the_original_alone() -> None:
    """A remedy gives a new design; the old one stands."""
    job = design()
    after = apply(job, remedy("thicker", ("supply.pieces.c1.size", "35 mm²")))
    assert after != job
    assert job == design()


def test_a_senseless_remedy_is_refused() -> None:
    """A remedy that would make an impossible design raises instead of passing it on."""
    with pytest.raises(ValidationError):
        apply(design(), remedy("x", ("supply.pieces.c1.size", "9 mm²")))


def test_only_cables_take_a_size() -> None:
    """Putting a size on a device is a mistake of the caller."""
    with pytest.raises(TypeError, match="not a cable"):
        with_cable(design(), "supply", 0, "35 mm²")


def test_figures_only_cite_what_is_written() -> None:
    """A figure cannot name an input that nobody wrote down."""

    def reckoned(name: str, value: float, *named: str) -> Reckoned:
        return Reckoned(name, name.upper(), value, "V", lambda: Words(inputs=tuple(computed(item) for item in named)))

    collector = Collector()
    collector.take("run", [reckoned("a", 1.0), reckoned("b", 2.0, "a")])
    assert (collector.figures["b"].inputs[0].label, collector.figures["b"].inputs[0].value) == ("A", 1.0)
    with pytest.raises(KeyError):
        collector.take("run", [reckoned("c", 3.0, "missing")])


def test_words_are_found_only_where_they_are_wanted() -> None:
    """Without words nobody asks a figure for them; its name, label, value and unit are the same."""

    def told() -> Words:
        raise AssertionError

    wordless = Collector(words=False)
    wordless.take("run", [Reckoned("a", "A", 1.0, "V", told)])
    found = wordless.figures["a"]
    assert (found.name, found.label, found.value, found.unit, found.working) == ("a", "A", 1.0, "V", "")
    slim, whole = assess(design(), remedies=False, words=False).figures, assess(design(), remedies=False).figures
    assert {name: (item.label, item.value, item.unit) for name, item in slim.items()} == {
        name: (item.label, item.value, item.unit) for name, item in whole.items()
    }
    assert not any(item.working or item.formula or item.inputs for item in slim.values())


def test_what_is_named_twice_is_meant_once() -> None:
    """A file may name a way, or what lies near, several times; a screen cannot. In the order it was named first."""
    keyed = [{"line": line, "value": value, "keyed": True} for line, value in (("a", "1"), ("b", "2"), ("a", "3"))]
    made = design(activation={"ways": ["voltage", "d_plus", "voltage"]}, mount={"near": ["fuel", "fuel"]}, keyed=keyed)
    assert [(item.line, item.value) for item in made.keyed] == [("a", "3"), ("b", "2")]
    assert made.activation.ways == ("voltage", "d_plus")
    assert made.mount.near == ("fuel",)
