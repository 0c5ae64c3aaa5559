"""The same said in another way comes to the same: lists reordered, a load or a day in halves, what is assumed typed in."""

from __future__ import annotations

import copy
import random
from dataclasses import asdict
from typing import Any

import pytest

from olvask.core.assess import Assessment, assess
from olvask.core.model import Design
from olvask.core.simulate.programme import read_programme
from olvask.core.simulate.report import totals_of
from olvask.core.simulate.trip import drive
from tests.core.analyses.test_recommended import survey

Plain = dict[str, Any]
FEEDS = ("battery", "battery", "inverter", "converter")


def put(whole: Plain, path: str, value: object) -> None:
    """Set one field of a design's plain data; pieces of a list go by their identity."""
    *way, last = path.split(".")
    at: Any = whole
    for name in way:
        at = next(item for item in at if item["id"] == name) if isinstance(at, list) else at[name]
    at[last] = value


def sparse(seed: int) -> Plain:
    """A survey of which half was left out, with up to four loads on it."""
    pick = random.Random(seed)
    whole: Plain = survey(random.Random(seed))[0].model_dump(mode="json")
    for fact in assess(Design.model_validate(whole), remedies=False).facts.values():
        if fact.path and pick.random() < 0.5:
            fewer = copy.deepcopy(whole)
            put(fewer, fact.path, None)
            try:
                Design.model_validate(fewer)
            except ValueError:
                continue  # it has to be there
            whole = fewer
    for at in range(pick.randrange(1, 5)):
        drawn = pick.choice(
            ({"current_a": pick.choice((0.5, 4.0, 20.0))}, {"power_w": pick.choice((10.0, 60.0, 400.0))})
        )
        hours = {
            "standing_h": pick.choice((0.0, 2.0, 10.0)),
            "duty": pick.choice((1.0, 0.4)),
            "driving": pick.random() < 0.5,
        }
        whole["use"]["loads"].append({"id": f"l{at}", "name": f"load {at}", "fed": pick.choice(FEEDS)} | drawn | hours)
    whole["use"]["daily_ah"] = None
    return Design.model_validate(whole).model_dump(mode="json")


def told(whole: Plain) -> Assessment:
    """What is said of it."""
    return assess(Design.model_validate(whole), remedies=False)


def alike(one: Assessment, other: Assessment, besides: str = "\0") -> None:
    """The same findings at the same level, and the same figures; those of one thing by its name apart."""
    levels = [{(item.id, item.level) for item in found.findings if besides not in item.id} for found in (one, other)]
    assert levels[0] == levels[1]
    for name, figure in one.figures.items():
        if besides not in name and isinstance(figure.value, float):
            assert other.figures[name].value == pytest.approx(figure.value, rel=2e-3, abs=2e-3), name


@pytest.mark.parametrize("seed", range(10))
def test_in_another_order(seed: int) -> None:
    """Loads, sources and what holds the start battery up, shuffled."""
    whole = sparse(seed)
    other, pick = copy.deepcopy(whole), random.Random(seed)
    for some in (other["use"]["loads"], other["existing"], other["vehicle"]["lifters"]):
        pick.shuffle(some)
    alike(told(whole), told(other))


@pytest.mark.parametrize("seed", range(10))
def test_in_two_halves(seed: int) -> None:
    """One load as two of half its draw; two on an inverter keep it on one after the other, so those are left out."""
    whole = sparse(seed)
    first = whole["use"]["loads"][0]
    first["fed"] = "battery" if first["fed"] == "inverter" else first["fed"]
    other = copy.deepcopy(whole)
    half = other["use"]["loads"][0]
    for name in ("current_a", "power_w"):
        half[name] = half[name] and half[name] / 2
    other["use"]["loads"].append(half | {"id": "l9"})
    one, two = told(whole), told(other)
    alike(one, two, besides="appliance")
    parked = [[i.level for i in found.findings if i.id.startswith("match.appliance_parked.")] for found in (one, two)]
    assert ("stop" in parked[0]) is ("stop" in parked[1])


@pytest.mark.parametrize("seed", range(10))
def test_what_is_assumed_typed_in(seed: int) -> None:
    """Every figure that is taken for want of a better, entered as it is: nothing new is said, and no figure moves."""
    whole = sparse(seed)
    before = told(whole)
    for fact in before.facts.values():
        if fact.provenance == "default" and fact.path and isinstance(fact.value, float | int):
            typed = copy.deepcopy(whole)
            put(typed, fact.path, fact.value)
            after = told(typed)
            known = {(item.id, item.level) for item in before.findings}
            assert {(item.id, item.level) for item in after.findings} <= known, fact.path
            for name, figure in before.figures.items():
                if isinstance(figure.value, float):
                    assert after.figures[name].value == pytest.approx(figure.value, rel=2e-3, abs=2e-3), (
                        fact.path,
                        name,
                    )


@pytest.mark.parametrize("seed", range(8))
def test_a_day_told_in_halves(seed: int) -> None:
    """Every stretch as two of half its length: the same starts and totals, and the heat at the end of a charge."""
    pick, made = random.Random(seed), Design.model_validate(sparse(seed))
    parts = [(pick.choice(("off", "idle", "cruise")), pick.choice((10, 30, 60, 240))) for _ in range(6)]
    whole = "\n".join(f"{engine} {minutes} min" for engine, minutes in parts)
    halves = "\n".join(f"{engine} {minutes * 30} s\n{engine} {minutes * 30} s" for engine, minutes in parts)
    one, two = (asdict(totals_of(made, drive(made, read_programme(text)))) for text in (whole, halves))
    for name, value in one.items():
        if isinstance(value, float):
            assert two[name] == pytest.approx(value, rel=5e-3, abs=0.05), name
        elif not isinstance(value, list | tuple | dict):
            assert two[name] == value, name
