"""Everything in volts, watts and ohms twice over, the amperes as they are: the same job, with twice the volts in its answers.

A 24 V vehicle with cables twice as long is a 12 V one to whoever counts in amperes, in shares and in hours.
"""

from __future__ import annotations

import random
import re
from dataclasses import replace
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import devices
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.simulate.programme import Programme, Stretch
from olvask.core.simulate.trip import drive
from tests.core.analyses.test_recommended import survey
from tests.core.simulate.test_scenarios import CASES
from tests.core.test_judgement import SPEAKS
from tests.designs import design

VOLTS = {"nominal_v", "input_nominal_v", "output_nominal_v", "system_v", "compensation_mv_per_k"}
MORE = {
    "length_m",
    "wire_m",
    "supply_m",
    "delivery_m",
    "weight_kg",
}  # ohms of cables; a unit of twice the watts warms as fast
DOUBLED = {"V", "W", "Wh", "mΩ", "mV"}
JOBS = 24


def twice(part: Any) -> Any:
    """A part of a job with everything in volts, watts and ohms doubled; lengths stand for the ohms of cables."""
    if isinstance(part, list):
        return [twice(item) for item in part]
    if not isinstance(part, dict):
        return part
    double = {key: 2 * value if _doubles(key, value) else twice(value) for key, value in part.items()}
    for run in ("supply", "delivery"):
        if run in double:
            # A fuse has the ohms of its table, so a joint of as many lies beside it, on the unit's side.
            ways = 1 if double[run]["back"]["kind"] == "chassis" else 2  # a joint lies in a cable back as well
            beside = 1 if run == "supply" else -1
            double[run]["pieces"] = [
                each for piece in double[run]["pieces"] for each in [piece, *_ohms_of(piece, ways)][::beside]
            ]
    return double


def _doubles(key: str, value: Any) -> bool:
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return False
    return key in VOLTS | MORE or key.endswith(("_v", "_w", "_mohm"))


def _ohms_of(piece: dict[str, Any], ways: int) -> list[dict[str, Any]]:
    """A joint with the ohms of a fuse; nothing for other pieces."""
    if piece["kind"] != "device":
        return []
    own = next(one for one in devices() if (one.family, one.rating_a) == (piece["family"], piece["rating_a"]))
    return [{"kind": "joint", "id": f"{piece['id']}again", "resistance_mohm": 1000 * own.resistance_ohm / ways}]


Pair = tuple[tuple[Design, Programme], tuple[Design, Programme]]


@pytest.fixture(scope="module")
def pairs() -> list[Pair]:
    """Jobs of 12 V drawn at random with a day, and the same twice over."""
    found: list[Pair] = []
    for seed in range(200):
        job, day = survey(random.Random(seed))
        if (job.vehicle.system_v, job.auxiliary.nominal_v) == (12, 12) and len(found) < JOBS:
            plain = job.model_dump(mode="json")
            plain["charger"]["weight_kg"] = 1.5
            job, double = Design.model_validate(plain), Design.model_validate(twice(plain))
            found.append(((job, day), (double, replace(day, stretches=tuple(map(_twice_the_sun, day.stretches))))))
    assert len(found) == JOBS
    return found


def _twice_the_sun(stretch: Stretch) -> Stretch:
    return replace(stretch, sun_auxiliary_w=2 * stretch.sun_auxiliary_w, sun_start_w=2 * stretch.sun_start_w)


def test_figures(pairs: list[Pair]) -> None:
    """Volts, watts and ohms are twice as many; amperes, shares, hours and temperatures stay."""
    for (job, _), (double, _) in pairs:
        ones, twos = assess(job).figures, assess(double).figures
        assert list(ones) == list(twos)
        for name, one in ones.items():
            if isinstance(one.value, float):
                wanted = one.value * (2 if one.unit in DOUBLED else 1)
                assert twos[name].value == pytest.approx(wanted, rel=1e-4, abs=1e-4), name
            else:
                assert twos[name].value == one.value, name


def test_findings(pairs: list[Pair]) -> None:
    """The same is found, at the same places, as bad, with as many ways out; some jobs have none, some have stops."""
    levels = set()
    for (job, _), (double, _) in pairs:
        ones, twos = assess(job).findings, assess(double).findings
        assert {(one.id, one.level, one.place) for one in ones} == {(two.id, two.level, two.place) for two in twos}
        levels |= {one.level for one in ones}
    assert levels == {"stop", "caution", "note"}


# Sentences that name ohms of the world, which stay, or what is laid by the metre.
OF_THEIR_OWN = {"match.isolation", "match.isolated_wanted", "match.appliance.l1", "run.chassis_unmeasured.supply", "run.empty.supply", "run.shared_tail.supply", "run.shared_tail.delivery"}  # fmt: skip
# Cases that are about 24 or 48 V as it is, and one whose ohms nobody measured.
NOT_DOUBLED = {"24 V unit in a 12 V vehicle", "a 24 V link to a 12 V battery", "24 V battery on a 12 V output", "32 V fuse on a 48 V bank", "chassis return nobody measured"}  # fmt: skip
FAULTS = [case for case in SPEAKS + CASES if case[0] not in NOT_DOUBLED]
QUANTITY = re.compile(r"(-?\d+(?:\.\d+)?) (V|A|Ah|Wh|W|mΩ|mV|%|h|s|min|°C|K|mm²)\b")


@pytest.mark.parametrize("changes", [case[1] for case in FAULTS], ids=[case[0] for case in FAULTS])
def test_sentences(changes: dict[str, Any]) -> None:
    """Jobs with one thing wrong each: the same is said, with every volt in it twice."""
    job = design(**changes)
    assert (job.vehicle.system_v, job.auxiliary.nominal_v) == (12, 12)
    double = Design.model_validate(twice(job.model_dump(mode="json")))
    ones = {one.id: one for one in assess(job).findings if one.id not in OF_THEIR_OWN}
    twos = {two.id: two for two in assess(double).findings if two.id not in OF_THEIR_OWN}
    assert {id: one.level for id, one in ones.items()} == {id: two.level for id, two in twos.items()}
    for id, one in ones.items():
        for said, again in zip(_words(one), _words(twos[id]), strict=True):
            figures, doubles = QUANTITY.findall(said), QUANTITY.findall(again)
            assert [unit for _, unit in figures] == [unit for _, unit in doubles], (said, again)
            for (figure, unit), (twofold, _) in zip(figures, doubles, strict=True):
                digits = len(figure.partition(".")[2])
                wanted = float(figure) * (2 if unit in DOUBLED else 1)
                assert float(twofold) == pytest.approx(wanted, rel=1e-3, abs=1.6 * 10**-digits), (said, again)


def _words(found: Finding) -> list[str]:
    return [found.title, found.text, *(item.label for item in found.remedies)]


def test_days(pairs: list[Pair]) -> None:
    """Driven, the unit starts and stops as often, and moves the same ampere-hours with twice the watt-hours."""
    started = 0
    for one, two in pairs:
        once, again = drive(*one), drive(*two)
        started += once.starts
        assert (again.starts, len(again.events)) == (once.starts, len(once.events))
        for name in (
            "charged_ah",
            "input_ah",
            "start_out_ah",
            "auxiliary_in_ah",
            "charging_s",
            "start_charge",
            "hottest_unit_c",
        ):
            assert getattr(again, name) == pytest.approx(getattr(once, name), rel=1e-3, abs=1e-3), name
        for name in ("input_wh", "output_wh"):
            assert getattr(again, name) == pytest.approx(2 * getattr(once, name), rel=1e-3, abs=1e-2), name
    assert started > JOBS
