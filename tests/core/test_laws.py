"""Laws that hold for every design, tried on random ones."""

from __future__ import annotations

import os
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from olvask.core.assess import Assessment, assess
from olvask.core.catalogue import conductors, devices
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from tests.designs import charger, mark, plain, vehicle
from tests.oracles.independent import broken_rules

SIZES = [item.size for item in conductors() if item.area_mm2 > 1.4]
METRIC = [item.size for item in conductors() if item.system == "metric" and item.area_mm2 > 1.4]
DEVICES = [(item.family, item.rating_a) for item in devices()]
COUNT = settings(max_examples=120, deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])


@st.composite
def cables(draw: st.DrawFn) -> dict[str, Any]:
    """Any cable an installer could describe."""
    return {
        "kind": "cable",
        "size": draw(st.sampled_from(SIZES)),
        "length_m": draw(st.floats(0.1, 12.0)),
        "metal": draw(st.sampled_from(["copper", "copper", "cca"])),
        "insulation_c": draw(st.sampled_from([70, 75, 90, 105, 125])),
        "place": draw(st.sampled_from(["cabin", "under_floor", "engine_bay"])),
        "grouped": draw(st.integers(1, 4)),
        "conduit": draw(st.booleans()),
        "parallel": draw(st.sampled_from([1, 1, 1, 1, 2])),
    }


@st.composite
def between(draw: st.DrawFn) -> dict[str, Any]:
    """A plug or a branch to stand among the cables."""
    if draw(st.booleans()):
        rating_a = draw(st.none() | st.floats(10.0, 120.0))
        return {
            "kind": "joint",
            "form": "plug",
            "name": "plug",
            "resistance_mohm": draw(st.floats(0.1, 4.0)),
            "rating_a": rating_a,
        }
    guard = draw(st.none() | st.sampled_from([5.0, 10.0, 15.0, 20.0, 30.0]))
    return {
        "kind": "branch",
        "name": "tail",
        "current_a": draw(st.floats(0.0, 15.0)),
        "size": draw(st.sampled_from(SIZES[:8])),
        "length_m": draw(st.floats(0.1, 4.0)),
        "device": None if guard is None else {"kind": "device", "family": "blade", "rating_a": guard},
    }


@st.composite
def runs(draw: st.DrawFn, supply: bool) -> dict[str, Any]:
    """A run with a device at its battery more often than not."""
    pieces: list[dict[str, Any]] = draw(st.lists(cables(), min_size=1, max_size=3))
    if draw(st.integers(0, 3)) == 0:
        pieces.insert(draw(st.integers(0, len(pieces) - 1)), draw(between()))
    if draw(st.integers(0, 9)) > 1:
        family, rating_a = draw(st.sampled_from(DEVICES))
        device = {"kind": "device", "family": family, "rating_a": rating_a}
        pieces = [device, *pieces] if supply else [*pieces, device]
    chassis = {"kind": "chassis", "resistance_mohm": draw(st.none() | st.floats(0.5, 30.0))}
    return {"pieces": pieces, "back": draw(st.sampled_from([{"kind": "cable"}, {"kind": "cable"}, chassis]))}


@st.composite
def designs(draw: st.DrawFn) -> Design:
    """Designs good and bad, 12 V."""
    idle_v = draw(st.floats(12.4, 14.4))
    return Design.model_validate(
        plain(
            vehicle=vehicle(
                chassis={
                    "body": draw(st.sampled_from(["metal_bonded", "mixed", "unknown"])),
                    "trailer": draw(st.booleans()),
                },
                alternator={
                    "rated_a": draw(st.floats(40.0, 250.0)),
                    "regulation": draw(st.sampled_from(["fixed", "compensated", "managed"])),
                    "loads_idle_a": draw(st.floats(0.0, 40.0)),
                },
                readings={
                    "rest_v": draw(st.floats(12.0, 12.9)),
                    "idle_v": idle_v,
                    "cruise_v": idle_v + draw(st.floats(0.0, 0.5)),
                },
            ),
            charger=charger(
                output_a=draw(st.floats(4.0, 70.0)),
                efficiency=draw(st.floats(0.8, 0.97)),
                terminal_max_mm2=draw(st.sampled_from([10.0, 16.0, 25.0, 35.0])),
            ),
            supply=draw(runs(supply=True)),
            delivery=draw(runs(supply=False)),
            choices={"ampacity_school": draw(st.sampled_from(["enclosed", "free_air"]))},
        )
    )


def lowest(found: Assessment) -> float:
    """Lowest running volts at the charger, zero where it collapses."""
    running = [item for item in found.conditions if item.key != "parked"]
    return min(0.0 if item.collapsed or item.input_v is None else item.input_v for item in running)


def resized(design: Design, size: str) -> Design:
    """The design with its first supply cable in another size."""
    document = design.model_dump(mode="json")
    piece = next(item for item in document["supply"]["pieces"] if item["kind"] == "cable")
    piece["size"] = size
    return Design.model_validate(document)


@COUNT
@given(designs(), st.integers(0, len(METRIC) - 2), st.integers(1, 6))
def test_more_copper_never_lowers_the_charger(design: Design, at: int, more: int) -> None:
    """A thicker supply cable never lowers the volts at the charger."""
    thinner, thicker = METRIC[at], METRIC[min(at + more, len(METRIC) - 1)]
    assert (
        lowest(assess(resized(design, thicker), remedies=False))
        >= lowest(assess(resized(design, thinner), remedies=False)) - 1e-3
    )


@COUNT
@given(designs(), st.floats(0.1, 10.0))
def test_longer_never_raises_the_charger(design: Design, metres: float) -> None:
    """A longer supply cable never raises the volts at the charger."""
    document = design.model_dump(mode="json")
    piece = next(item for item in document["supply"]["pieces"] if item["kind"] == "cable")
    piece["length_m"] += metres
    assert (
        lowest(assess(Design.model_validate(document), remedies=False)) <= lowest(assess(design, remedies=False)) + 1e-3
    )


def repaired(design: Design, nudge: int) -> Design:
    """Take ways out until no stop is left or none helps, then move one device or cable a step: sound or just past it."""
    for _ in range(14):
        remedies = [item.remedies[0] for item in assess(design).stops if item.remedies]
        if not remedies:
            break
        design = apply(design, remedies[0])
    document = design.model_dump(mode="json")
    pieces = [
        piece
        for run in ("supply", "delivery")
        for piece in document[run]["pieces"]
        if piece["kind"] in ("cable", "device")
    ]
    piece = pieces[abs(nudge) % len(pieces)]
    step = (nudge > 0) - (nudge < 0)
    if piece["kind"] == "cable":
        piece["size"] = SIZES[min(max(SIZES.index(piece["size"]) + step, 0), len(SIZES) - 1)]
    else:
        ratings = [rating for family, rating in DEVICES if family == piece["family"]]
        piece["rating_a"] = ratings[min(max(ratings.index(piece["rating_a"]) + step, 0), len(ratings) - 1)]
    return Design.model_validate(document)


def by_signal(design: Design) -> Design:
    """The same design started by the charge indicator, so that cable and protection decide."""
    activation = design.activation.model_copy(update={"ways": ("d_plus",)})
    return design.model_copy(
        update={"activation": activation, "auxiliary": design.auxiliary.model_copy(update={"charge_limit_a": 100.0})}
    )


EXAMPLES = int(os.environ.get("OLVASK_EXAMPLES", "100"))  # `make check-designs` asks for 10,000


def test_nothing_free_of_stops_breaks_a_rule() -> None:
    """What is called free of stops passes an independently written checker of cable and protection rules.

    The random designs hold many free of stops and many that break a rule, so the law is tried both ways.
    """
    seen = {"free of stops": 0, "broken": 0}

    @settings(COUNT, max_examples=EXAMPLES)
    @given(designs(), st.integers(-8, 8))
    def law(design: Design, nudge: int) -> None:
        job = repaired(by_signal(design), nudge)
        found = assess(job, remedies=False)
        hold_v = max(9.0, mark(found, "guard").value_v)
        output_a = found.figures["output.current_a"].value
        assert output_a is not None
        inputs = [item.input_v for item in found.conditions if item.key != "parked" and item.input_v is not None]
        stay_v = max(hold_v, min(inputs, default=hold_v))
        absorption_v = float(found.facts["auxiliary.absorption_v"].value)
        broken = broken_rules(job.model_dump(mode="json"), hold_v, stay_v, output_a, absorption_v)
        seen["free of stops"] += not found.stops
        seen["broken"] += bool(broken)
        assert not broken or found.stops, broken

    law()
    assert seen["free of stops"] > EXAMPLES / 6
    assert seen["broken"] > EXAMPLES / 6


@COUNT
@given(designs())
def test_the_checker_is_not_idle(design: Design) -> None:
    """Taking every device out is always a stop, whatever else the design holds."""
    document = design.model_dump(mode="json")
    for run in ("supply", "delivery"):
        document[run]["pieces"] = [piece for piece in document[run]["pieces"] if piece["kind"] != "device"]
    found = assess(Design.model_validate(document), remedies=False)
    assert {"protect.missing.supply", "protect.missing.delivery"} <= {item.id for item in found.stops}


@settings(COUNT, max_examples=60)
@given(designs())
def test_every_way_out_can_be_taken(design: Design) -> None:
    """Each remedy applies to the design it was computed for and gives a design that can be assessed."""
    for finding in assess(design).findings:
        for remedy in finding.remedies:
            assert assess(apply(design, remedy), remedies=False) is not None


CURED_BY_ITSELF = (
    "run.drop",
    "run.terminal",
    "protect.missing",
    "protect.small",
    "protect.large",
    "protect.interrupt",
    "run.ampacity",
)


@settings(COUNT, max_examples=100)
@given(designs())
def test_a_first_way_out_cures_its_finding(design: Design) -> None:
    """The first remedy of a cable or device finding makes that very finding go."""
    for finding in assess(design).findings:
        if finding.id.startswith(CURED_BY_ITSELF) and finding.remedies:
            after = {item.id for item in assess(apply(design, finding.remedies[0]), remedies=False).findings}
            assert finding.id not in after, (finding.id, finding.remedies[0].label)


@COUNT
@given(designs())
def test_same_design_same_assessment(design: Design) -> None:
    """Assessing twice gives the same answer to the last digit."""
    assert (
        assess(design, remedies=False).model_dump() == assess(design.model_copy(deep=True), remedies=False).model_dump()
    )


@COUNT
@given(designs())
def test_kirchhoff_along_every_line(design: Design) -> None:
    """In every condition the pieces join up, and the line ends at the terminal volts."""
    for line in assess(design, remedies=False).conditions:
        for before, after in zip(line.supply[1:-1], line.supply[2:], strict=True):
            assert after.enter_v == before.exit_v
            assert after.return_enter_mv == before.return_exit_mv
        if line.charging and line.input_v is not None:
            last = line.supply[-1]
            assert abs(last.exit_v - last.return_exit_mv / 1000 - line.input_v) < 2e-3
