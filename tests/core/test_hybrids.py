"""A hybrid or an electric vehicle has no engine at idle and no alternator: nothing said of it speaks of them."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from typing import Any

import pytest
from pydantic import BaseModel

from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.analyses.managed_link import managed_link
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.driven import reworded
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.model.driven import driven
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.simulate.trip import drive as drive_it
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.settings.climate import climate_of
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.method import advise
from olvask.documents.sheet import cautions_of
from tests.core.analyses.test_recommended import survey
from tests.designs import design, vehicle

OF_AN_ENGINE = re.compile(
    r"\bengine\b(?! bay)|alternator|hot idle|\bat idle\b|\bcruise\b|\bbelt\b|\bcrank", re.IGNORECASE
)
SLIPS = re.compile(
    r"\b[Aa]n DC\b|\b[a-z]+ (?:A [a-z]|An )"
)  # an article that no longer fits, or a capital within a sentence
WAYS = (["voltage"], ["ignition"], ["switch"], ["bridge"], ["ignition", "voltage"])


def sentences(item: Any) -> Iterator[str]:
    """Every text of several words in an answer."""
    if isinstance(item, str):
        if " " in item:
            yield item
    elif isinstance(item, tuple | list):
        for each in item:
            yield from sentences(each)
    elif isinstance(item, dict):
        yield from sentences(list(item.values()))
    elif isinstance(item, BaseModel):
        for name in type(item).model_fields:
            yield from sentences(getattr(item, name))
    elif is_dataclass(item):
        for field in fields(item):
            yield from sentences(getattr(item, field.name))


def vars_of(row: Any) -> Iterator[str]:
    """Every word of a row, alone or not."""
    for field in fields(row):
        yield str(getattr(row, field.name))


def hybrid(seed: int) -> Design:
    """A random job of a vehicle with a DC converter, its loads, old gear and ways to start at random."""
    pick = random.Random(seed)
    document = survey(pick)[0].model_dump(mode="json")
    document["vehicle"]["drive"] = "converter"
    document["vehicle"]["alternator"][pick.choice(("loads_idle_a", "loads_cruise_a"))] = pick.uniform(10, 150)
    document["activation"]["ways"] = pick.choice(WAYS)
    document["existing"] = [{"kind": pick.choice(("link", "panel", "fridge_feed")), "carries": ["fridge", "meter"]}]
    document["old_link"] = {"decision": pick.choice(("", "keep", "changeover", "disconnect"))}
    document["choices"]["alternator_school"] = pick.choice(("share", "surplus"))
    return Design.model_validate(document)


@pytest.mark.parametrize("part", range(4))
def test_nothing_speaks_of_an_engine(part: int) -> None:
    """Findings, figures and their workings, limits, tests, steps, faults, ways to start, the old link."""
    for seed in range(part, 48, 4):
        job = hybrid(seed)
        ctx = Context.of(job)
        answers = (
            assess(job), listed(ctx), procedure_of(ctx), faults_of(ctx), advise(job), plan_existing_link(job),
            climate_of(ctx), managed_link(job),
        )  # fmt: skip
        spoken = [text for answer in answers for text in sentences(answer)]
        assert [text for text in spoken if OF_AN_ENGINE.search(text)] == [], seed
        assert [text for text in spoken if SLIPS.search(text)] == [], seed


def test_of_an_engine_all_stays_as_it_is() -> None:
    """The same work on a vehicle with an engine names it."""
    ctx = Context.of(design())
    assert any("engine at hot idle" in text for text in sentences(listed(ctx)))
    assert any("alternator" in text for text in sentences(faults_of(ctx)))
    assert "off.traction" not in [placed.step.key for placed in procedure_of(ctx).procedure.steps]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("Engine off, rested", "Vehicle off, rested"),
        ("engine at hot idle, lights and blower on", "vehicle ready and standing, lights and blower on"),
        ("At cruise 28.0 A are left after the vehicle's loads", "Driving 28.0 A are left after the vehicle's loads"),
        ("It waits for the engine.", "It waits until the vehicle is ready."),
        ("above the 12.70 V of a stopped engine", "above the 12.70 V of a vehicle that is off"),
        ("The alternator cannot feed this", "The DC converter cannot feed this"),
        ("lamp in the engine bay", "lamp in the engine bay"),
        ("Hot idle, charger idle", "Standing ready, charger idle"),
        ("It needs an alternator protected", "It needs a DC converter protected"),
        (
            "The contactor is driven by D+ or engine-run, never by",
            "The contactor is driven by a signal that it is ready, never by",
        ),
        ("D+ or engine-run", "A signal that it is ready"),
        ("keeps 60 % to crank", "keeps 60 % to get ready"),
        ("down to what is kept for cranking in 20 min", "down to what is kept to get ready in 20 min"),
    ],
)
def test_phrases(text: str, said: str) -> None:
    """Each as an installer would say it of a hybrid."""
    assert driven(text) == said


READY = vehicle(drive="converter", signals={"ignition": True, "d_plus": False})
KEY_LEFT_ON = read_programme("off 2 h ignition on\nidle 10 min\noff 2 h ignition on\n")


def test_a_ready_feed_is_dead_with_the_vehicle_off() -> None:
    """On 15 a hybrid's unit charges while it is ready, and no key left on takes anything; an engine's goes on to its guard."""
    for drive, left_on in ((READY, False), (vehicle(), True)):
        job = design(vehicle=drive, activation={"ways": ["ignition"]})
        trip = drive_it(job, KEY_LEFT_ON)
        assert trip.starts >= 1
        assert (trip.engine_off_charging_s > 60) is left_on
        told = {item.id for item in assess(job, remedies=False).findings}
        assert ("wake.guard_alone.ignition" in told) is left_on
        ways = {item.key: item for item in advise(job).methods}
        assert (ways["ignition"].verdict in ("sound", "recommended")) is not left_on
        assert {"d_plus", "d_plus_voltage"} <= set(ways) or drive is READY


def test_a_converter_gives_no_d_plus() -> None:
    """A unit that waits for it never starts: a stop, which the ready feed mends, and the road test says the same."""
    job = design(vehicle=vehicle(drive="converter"), activation={"ways": ["d_plus"]})
    assert drive_it(job, read_programme(LIBRARY["ten minutes"])).starts == 0
    stop = next(item for item in assess(job).findings if item.id == "wake.no_d_plus")
    assert stop.level == "stop"
    mended = apply(job, stop.remedies[0])
    assert mended.activation.ways == ("ignition",)
    assert drive_it(mended, read_programme(LIBRARY["ten minutes"])).starts == 1
    assert not {item.key for item in advise(job).methods} & {"d_plus", "d_plus_voltage"}


def test_its_relay_hangs_on_the_ready_feed() -> None:
    """The old link is opened by the feed that is live when ready, however heavy the coil; it asks for that to be noted."""
    old = {"existing": [{"kind": "link"}], "old_link": {"decision": "changeover", "coil_ma": 900.0}}
    job = design(vehicle=vehicle(drive="converter", signals={"ignition": False, "d_plus": False}), **old)
    plan = plan_existing_link(job)
    assert plan.relay is not None
    assert {pin.terminal: pin.goes_to for pin in plan.relay.terminals}["86"].startswith("ready feed (15)")
    found = {item.id: item for item in assess(job).findings}
    assert "wake.relay_coil" not in found
    assert apply(job, found["wake.relay_signal"].remedies[0]).vehicle.signals.ignition
    assert "the DC converter" in {cell for row in plan.rows for cell in vars_of(row)}
    assert not {"alternator", "the alternator"} & {cell for row in plan.rows for cell in vars_of(row)}
    told = [text for part in (plan, bill_of(Context.of(job))) for text in sentences(part)]
    assert [text for text in told if "D+" in text] == []
    assert any("D+" in text for text in sentences(plan_existing_link(design(**old))))


def test_keys_stay() -> None:
    """What other answers refer to is no sentence: names, places and paths keep their words."""
    found = assess(hybrid(3))
    assert {line.key for line in found.conditions} <= {"parked", "idle", "cruise", "low"}
    assert any(limit.key.startswith("alternator") for limit in found.ruler.limits)
    assert reworded(("alternator", "the alternator's lead")) == ("alternator", "the DC converter's lead")


def test_its_high_voltage_is_respected() -> None:
    """Switched right off before a battery comes off or is proven dead, with the caution on step and papers."""
    job = design(vehicle=vehicle(drive="converter", signals={"ignition": True, "d_plus": False}))
    steps = [placed.step for placed in procedure_of(Context.of(job)).procedure.steps]
    at = {step.key: place for place, step in enumerate(steps)}
    assert at["off.traction"] < at["part.start_negative"] < at["prove.start"]
    hazard = steps[at["off.traction"]].hazard
    assert hazard is not None
    assert "licensed" in hazard.text
    assert any("orange" in line for line in cautions_of(job))
    assert not any("orange" in line for line in cautions_of(design()))
