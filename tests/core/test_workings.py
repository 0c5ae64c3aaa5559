"""The sums that a figure shows are done again, as somebody at the vehicle would with a pocket calculator: they come out.

Every number stands for all that rounds to it, so that a sum comes out where its figure lies between the least and the
most that it can be.
"""

from __future__ import annotations

import math
import random
import re
from typing import Any, NamedTuple

import pytest

from olvask.core.assess import assess
from olvask.core.findings.figure import Figure
from olvask.core.stages.survey.sums import bonding_from_volts, daily_need, days_to_flat, load_average
from olvask.store.demo import demo_designs
from tests.core.analyses.test_recommended import survey
from tests.designs import cable, design, fuse, plain, vehicle

SCALE = {"mΩ": 1e-3, "mV": 1e-3, "mA": 1e-3, "%": 0.01}
NUMBER = re.compile(r"(?<![\w.])(\d+(?:\.\d+)?)(?: ?(mΩ|mV|mA|%|Ω|Ah|V|A|W|h|days|×)(?![\w]))?")
FILLED = (" by branches", " a day", " on", " out", " back", " spared", " units of", " from the panel", " at least")
NOMINAL = ("12", "24", "48")


class Span(NamedTuple):
    """All that a shown number may stand for."""

    low: float
    high: float

    def _each(self, other: Any, of: Any) -> Span:
        low, high = other if isinstance(other, Span) else (other, other)
        found = [of(a, b) for a in (self.low, self.high) for b in (low, high)]
        return Span(min(found), max(found))

    def __add__(self, other: Any) -> Span:
        return self._each(other, lambda a, b: a + b)

    def __sub__(self, other: Any) -> Span:
        return self._each(other, lambda a, b: a - b)

    def __mul__(self, other: Any) -> Span:
        return self._each(other, lambda a, b: a * b)

    def __truediv__(self, other: Any) -> Span:
        return self._each(other, lambda a, b: a / b)


def largest(*spans: Span) -> Span:
    return Span(max(each.low for each in spans), max(each.high for each in spans))


def least(*spans: Span) -> Span:
    return Span(min(each.low for each in spans), min(each.high for each in spans))


def shown(text: str, unit: str | None) -> Span:
    """What rounds to a number; whole numbers that are no quantity are meant exactly."""
    value, scale = float(text), SCALE.get(unit or "", 1.0)
    exact = "." not in text and (unit is None or (unit == "V" and text in NOMINAL))
    half = 0.0 if exact else 0.5 * 10.0 ** -len(text.partition(".")[2])
    return Span((value - half) * scale, (value + half) * scale)


def reckoned(text: str) -> Span | None:
    """A shown sum, done again; `None` where it is no sum but a sentence."""
    text = re.sub(r", [\d.]+ m one-way$", "", text)
    for word in FILLED:
        text = text.replace(word, "")
    spans: list[Span] = []

    def take(match: re.Match[str]) -> str:
        spans.append(shown(match[1], match[2] if match[2] != "×" else None))
        return f"_[{len(spans) - 1}]" + ("*" if match[2] == "×" else "")

    text = NUMBER.sub(take, text)
    text = re.sub(r"\(([^()]*)\)²", r"(\1)*(\1)", text)
    text = (
        text.replace("·", "*").replace("×", "*").replace("−", "-").replace("max(", "largest(").replace("min(", "least(")
    )
    if not re.fullmatch(r"(?:_\[\d+\]|largest|least|[-+*/(),\s])+", text) or not re.search(r"[-+*/,]", text):
        return None
    found = eval(text, {"_": spans, "largest": largest, "least": least})  # noqa: S307  # digits and signs alone, see above
    return found if isinstance(found, Span) else None


def comes_out(figure: Figure) -> bool:
    """A figure's sum gives the figure, and what stands behind the equals sign is the figure; whether it is a sum."""
    if figure.value is None:
        return False
    left, _, right = figure.working.partition(" = ")
    lower = "set to what the engine reaches" in right
    least_alone = lower or right.endswith(" at least")  # what is set lies on the unit's steps above it
    hundred = left.startswith("100 · ")  # the share is told in per cent by the sum itself
    value = float(figure.value) * (1.0 if hundred else SCALE.get(figure.unit, 1.0))
    found = reckoned(left)
    if found is not None:
        slack = 1e-9 + 1e-6 * abs(value)
        assert found.low - slack <= value or lower, f"{figure.name}: {figure.working} is more than {figure.value}"
        assert value <= found.high + slack or least_alone, f"{figure.name}: {figure.working} is not {figure.value}"
    if right and (told := NUMBER.search(right)) is not None and (told[2] or "") == figure.unit:
        span = shown(told[1], None if hundred else told[2])
        if least_alone and found is not None:  # the sum itself, then
            assert found.low - 1e-9 <= span.high, figure.working
            assert span.low - 1e-9 <= found.high, figure.working
            return True
        assert span.low - 1e-9 <= value <= span.high + 1e-9, f"{figure.name}: {figure.working} tells not {figure.value}"
    return found is not None


ROOT = re.compile(
    r"V_s ([\d.]+) V, R ([\d.]+) mΩ with the [^,]+(?:, which gives what the alternator has not)?, P (\d+) W"
)
OPENS = re.compile(r"([\d.]+) V / … = (\d+) A, ([\d.]+) × ([\d.]+) A")


def root_comes_out(figure: Figure) -> bool:
    """Volts at the terminals are the upper root for the volts, ohms and watts shown; whether they are shown."""
    told = ROOT.fullmatch(figure.working)
    if told is None or figure.value is None:
        return False
    source, ohm, watts = (shown(told[1], "V"), shown(told[2], "mΩ"), shown(told[3], "W"))

    def upper(volts: float, ohms: float, power: float) -> float:
        return (volts + math.sqrt(max(0.0, volts**2 - 4 * ohms * power))) / 2

    assert (
        upper(source.low, ohm.high, watts.high) - 1e-9 <= figure.value <= upper(source.high, ohm.low, watts.low) + 1e-9
    )
    return True


def multiple_comes_out(figure: Figure) -> bool:
    """How many times its rating a fault drives through a device; whether it is shown."""
    told = OPENS.fullmatch(figure.working)
    if told is None or figure.value is None:
        return False
    fault, rating = shown(told[2], "A"), float(told[4])
    assert fault.low / rating - 1e-9 <= figure.value <= fault.high / rating + 1e-9
    assert shown(told[3], "A").low - 1e-9 <= figure.value <= shown(told[3], "A").high + 1e-9
    return True


def some_way(figure: Figure) -> bool:
    """Whether a figure shows a sum of any kind; it comes out."""
    return comes_out(figure) or root_comes_out(figure) or multiple_comes_out(figure)


@pytest.mark.parametrize("seed", range(0, 200, 20))
def test_of_any_survey(seed: int) -> None:
    """Of surveys drawn at random."""
    for each in range(seed, seed + 20):
        for figure in assess(survey(random.Random(each))[0], remedies=False).figures.values():
            some_way(figure)


PANEL = {"panel_w": 160.0, "into": "controller", "sun_h": 4.0, "share_driving": 0.25}
MAINS = [{"kind": "mains_charger", "charge_a": 12.0}]
USE = {"daily_ah": 60.0, "drive_h": 2.5, "mains_h": 1.5, "loads_driving_a": 3.0}
FRIDGE = {"kind": "branch", "feeds": "load", "name": "cold box", "current_a": 6.0, "device": fuse(10.0, "blade")}


LIFTED = {"kind": "maintainer", "lifts_to_v": 13.4}
JOBS = [
    *(item[1] if isinstance(item, tuple) else item for item in demo_designs()),
    design(solar=PANEL, existing=MAINS, use=USE),
    design(solar=PANEL, existing=MAINS, use=USE | {"mains_h": 8.0}),  # all of it comes in standing
    design(existing=[{"kind": "built_in_charger", "charge_a": 60.0}], use=USE | {"daily_ah": 20.0}),
    design(units=2, use=USE | {"loads_driving_a": 60.0}),
    design(vehicle=vehicle(lifters=[LIFTED])),
    design(supply={"pieces": [fuse(60.0), cable(length_m=2.0), FRIDGE, cable(length_m=1.0)]}),
    design(delivery={"pieces": [cable("16 mm²", 1.0), FRIDGE, cable("16 mm²", 0.5), fuse(40.0)]}),
    design(auxiliary=plain()["auxiliary"] | {"capacity_ah": 400.0}, use=USE | {"reserve": 0.3}),
]


@pytest.mark.parametrize("at", range(len(JOBS)))
def test_of_a_job(at: int) -> None:
    """Of the demo's jobs, of days with sun, mains and more than is used, of a battery that is kept up."""
    for figure in assess(JOBS[at], remedies=False).figures.values():
        some_way(figure)


def test_of_the_sums() -> None:
    """Of what is worked out aside: bonding, what loads take on average, a day's loads, days to flat."""
    assert comes_out(bonding_from_volts(120.0, 31.0))
    assert comes_out(load_average(110.0, 0.8, 0.55, 36.0, 12.0, 0.85))
    kept_up = days_to_flat("flooded", 90.0, 0.95, 0.6, 35.0, 0.02, 20.0)
    assert comes_out(kept_up.alone)
    loads = [
        {"name": "cold box", "current_a": 4.0, "duty": 0.4, "standing_h": 20.0},
        {"name": "lamps", "power_w": 18.0, "standing_h": 4.0},
        {"name": "saw", "power_w": 600.0, "fed": "converter", "standing_h": 0.5},
    ]
    for nominal_v in (12, 24):
        assert comes_out(daily_need(design(use={"loads": loads}).use.loads, nominal_v))


def test_there_are_sums_to_do() -> None:
    """They are found: these figures show one, each in some job."""
    found = {item.name for job in JOBS for item in assess(job, remedies=False).figures.values() if some_way(item)}
    assert found >= {
        "charger.heat_w",
        "cruise.input_a",
        "cruise.input_v",
        "delivery.drop_percent",
        "delivery.drop_v",
        "delivery.loss_w",
        "delivery.resistance_mohm",
        "device.d1.fault_multiple",
        "energy.recover_h",
        "energy.standing_days",
        "input.power_w",
        "match.alternator_load_percent",
        "match.alternator_share_a",
        "match.alternator_surplus_a",
        "match.daily_floor_a",
        "match.direct_link_a",
        "match.direct_link_percent",
        "match.managed_link_a",
        "output.voltage_v",
        "supply.continuous_a",
        "supply.drop_v",
        "supply.loss_w",
        "wake.back_v",
        "wake.rest_v",
        "wake.run_unloaded_v",
        "wake.start_window_low_v",
        "wake.stop_window_high_v",
    }


@pytest.mark.parametrize(
    ("value", "working"),
    [
        (31.0, "10.0 A · 3.00 Ω = 30.0 V"),
        (30.0, "10.0 A · 3.00 Ω = 31.0 V"),
        (30.0, "(2.0 A)² · 3.00 Ω"),
        (0.5, "100 · 0.5 V / 12 V"),
    ],
)
def test_a_sum_that_is_wrong_is_noticed(value: float, working: str) -> None:
    """The law itself can fail."""
    unit = "%" if working.startswith("100") else "V"
    with pytest.raises(AssertionError):
        comes_out(Figure("made.up", "Made up", value, unit, formula="-", working=working))
