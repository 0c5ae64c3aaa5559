"""A remedy does what it says: its numbers are those that it sets, and volts it goes back to are in force afterwards."""

from __future__ import annotations

import random
import re
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from olvask.core.assess import assess
from olvask.core.circuit.facts import gather
from olvask.core.circuit.solve import solve
from olvask.core.findings.finding import Remedy
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.profile import profile_of
from olvask.core.stages.settings.wishes import charge_wanted
from tests.anything import anything
from tests.core.analyses.test_recommended import survey
from tests.designs import design, plain

NUMBER = re.compile(r"(?<![\w.])-?\d+(?:\.\d+)?(?= ?(?:V|A|h|s|mV/K|°C|%|mΩ|mm²|AWG|Ah|m)\b)")
BACK = re.compile(r"(Charge to|Float at) (?:the usual )?([\d.]+) V")


def numbers(value: Any) -> list[float]:
    """Every number in what is set."""
    if isinstance(value, bool):
        return []
    if isinstance(value, (int, float)):
        return [float(value)]
    if isinstance(value, str):
        return [float(item) for item in re.findall(r"\d+(?:\.\d+)?", value)]
    parts = value.values() if isinstance(value, dict) else value if isinstance(value, (list, tuple)) else ()
    return [found for part in parts for found in numbers(part)]


def says_what_it_sets(item: Remedy) -> None:
    """Every number with a unit in its words is set, as it is rounded there; going back to what is usual sets nothing."""
    if all(change.value is None for change in item.changes):
        return
    told = numbers([change.value for change in item.changes])
    for said in NUMBER.findall(item.label):
        half = 0.5001 * 10.0 ** -len(said.partition(".")[2])
        scale = 100.0 if f"{said} %" in item.label or f"{said}%" in item.label else 1.0
        near = [value for value in told if abs(value - float(said)) <= half or abs(scale * value - float(said)) <= half]
        assert near, (item.label, told)


def jobs(seed: int) -> list[Design]:
    """A few surveys, and designs nobody would draw."""
    return [survey(random.Random(seed))[0], anything(seed), anything(seed + 1000)]


@pytest.mark.parametrize("batch", range(8))
def test_its_numbers_are_those_it_sets(batch: int) -> None:
    """Of whatever is designed."""
    for seed in range(8 * batch, 8 * batch + 8):
        for job in jobs(seed):
            for found in assess(job).findings:
                for item in found.remedies:
                    says_what_it_sets(item)
                    _is_in_force(job, item)


def _is_in_force(job: Design, item: Remedy) -> None:
    """Volts it charges to or floats at from then on."""
    said = BACK.match(item.label)
    if said is None or len(item.changes) != 1:
        return
    after = apply(job, item)
    wanted = charge_wanted(after, gather(after))["absorption_v" if said[1] == "Charge to" else "float_v"]
    assert float(wanted.value) == pytest.approx(float(said[2]), abs=0.0501), item.label


BATTERY = plain()["auxiliary"]


@pytest.mark.parametrize(
    ("changes", "label", "path", "value"),
    [
        ({"charge": {"absorption_v": 15.9}}, "Charge to 14.40 V, as its maker says", "charge.absorption_v", None),
        (
            {"charge": {"absorption_v": 15.9}, "auxiliary": BATTERY | {"absorption_v": None}},
            "Charge to the usual 14.5 V",
            "charge.absorption_v",
            None,
        ),
        (
            {"charge": {"float_v": 14.6}, "auxiliary": BATTERY | {"float_v": 13.3}},
            "Float at 13.30 V, as its maker says",
            "charge.float_v",
            None,
        ),
        ({"charge": {"equalise": True}}, "Do not equalise", "charge.equalise", False),
    ],
)
def test_back_to_what_is_said_otherwise(changes: dict[str, Any], label: str, path: str, value: object) -> None:
    """What is typed taken out leaves what the battery's maker says, and what is usual only where that is not known."""
    offered = [item for found in assess(design(**changes)).findings for item in found.remedies]
    chosen = next(item for item in offered if item.label == label)
    assert (chosen.changes[0].path, chosen.changes[0].value) == (path, value)


def test_a_disconnect_is_cleared_where_absorption_is_said() -> None:
    """14.4 V against a disconnect at 14.4 V: lowered at the unit where it is told its volts, else at the battery."""
    guarded = BATTERY | {"chemistry": "lfp", "absorption_v": 14.4, "management": {"high_disconnect_v": 14.4}}
    for charge, path in (({}, "auxiliary.absorption_v"), ({"absorption_v": 14.5}, "charge.absorption_v")):
        job = design(auxiliary=guarded, charge=charge)
        found = next(item for item in assess(job).findings if item.id == "match.management_high")
        assert [(item.label, item.changes[0].path, item.changes[0].value) for item in found.remedies] == [
            ("Charge to 14.2 V", path, 14.2)
        ]


@given(
    profile=st.sampled_from([None, "agm", "gel", "flooded", "lfp"]),
    typed=st.none() | st.floats(13.0, 15.0),
    maker=st.none() | st.floats(13.0, 15.0),
)
@settings(deadline=None, max_examples=60)
def test_one_absorption(profile: str | None, typed: float | None, maker: float | None) -> None:
    """Circuit, sheet and simulated unit charge to the same volts, whoever says them: as typed, by profile, by its maker."""
    job = design(auxiliary=BATTERY | {"absorption_v": maker}, charge={"profile": profile, "absorption_v": typed})
    facts = gather(job)
    volts = float(facts.absorption.value)
    assert volts == pytest.approx(float(charge_wanted(job, facts)["absorption_v"].value))
    assert volts == pytest.approx(profile_of(job, solve(job)).absorption_v, abs=0.0501)  # on the sheet's steps
    if typed is not None:
        assert volts == typed
    elif profile in (None, "agm"):
        assert volts == (14.5 if maker is None else maker)
    else:
        assert volts == {"gel": 14.2, "flooded": 14.6, "lfp": 14.2}[profile]  # whatever this battery's maker says
