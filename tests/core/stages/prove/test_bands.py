"""Bands hold healthy vehicles, a bad joint is named by its leg, and nonsense asks for the meter."""

from __future__ import annotations

import math
import random
from functools import cache

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.prove.likely import LEGS, unknowns_of
from olvask.core.stages.prove.report import LegFound, Proof, Row, prove
from olvask.store.demo import demo_designs
from tests.designs import charger, design
from tests.oracles.running import Running

ERROR = {"V": (0.005, 0.02), "mV": (0.005, 0.3), "A": (0.02, 0.3)}  # bounds of the meter, as two deviations
DEMO: list[Design] = [made for _, made in demo_designs()]


@cache
def context(at: int) -> Context:
    return Context.of(DEMO[at])


def drawn(pick: random.Random, at: int) -> Running:
    """A healthy vehicle of a design: each thing not known somewhere in its spread."""
    values = {item.name: pick.gauss(item.mean, item.sigma) for item in unknowns_of(context(at))}
    return Running(**values)


def read(pick: random.Random, vehicle: Running, at: int) -> dict[str, float]:
    """What a real meter shows in it."""
    units = {row.test.key: row.test.unit for row in prove(context(at), {}).rows}
    found = {}
    for key, value in vehicle.meter().items():
        percent, besides = ERROR[units[key]]
        found[key] = value + pick.gauss(0, (percent * abs(value) + besides) / 2)
    return found


def rows(found: Proof) -> dict[str, Row]:
    return {row.test.key: row for row in found.rows}


def legs(found: Proof) -> dict[str, LegFound]:
    return {leg.leg: leg for leg in found.legs}


def test_bands_hold_healthy_vehicles_and_accuse_hardly_any() -> None:
    """95 of 100 readings of healthy vehicles lie in their band; under 2 in 100 vehicles are told that something is wrong."""
    pick, inside, count, accused = random.Random(14), 0, 0, 0
    for at in range(len(DEMO)):
        if at == 2:
            continue  # its run collapses: there is no healthy vehicle of it
        for _ in range(30):
            found = prove(context(at), read(pick, drawn(pick, at), at))
            judged = [row for row in found.rows if row.test.quantity is not None]
            count += len(judged)
            inside += sum(row.least <= row.reading <= row.most for row in judged)  # type: ignore[operator]  # all were read
            accused += any(row.verdict == "wrong" for row in judged) or any(leg.bad for leg in found.legs)
    assert inside / count == pytest.approx(0.95, abs=0.02)
    assert accused / 120 <= 0.02


@pytest.mark.parametrize("leg", LEGS)
def test_a_bad_joint_is_named_by_its_leg(leg: str) -> None:
    """Anywhere from 3 to 50 mΩ: that leg and no other, its milliohms within the uncertainty told in 95 of 100."""
    pick, held, named, count = random.Random(str(leg)), 0, 0, 0
    for _ in range(40):
        at = pick.choice([0, 1, 3, 4])
        vehicle, excess = drawn(pick, at), 10 ** pick.uniform(math.log10(0.003), math.log10(0.05))
        true = getattr(vehicle, leg) + excess
        setattr(vehicle, leg, true)
        found = legs(prove(context(at), read(pick, vehicle, at)))
        count += 1
        named += [name for name, item in found.items() if item.bad] == [leg]
        one = found[leg]
        assert one.found_mohm is not None
        assert one.spread_mohm is not None
        held += abs(one.found_mohm - true * 1000) <= one.spread_mohm
    assert named / count >= 0.95
    assert held / count >= 0.9


def test_a_bad_leg_does_not_accuse_its_neighbours() -> None:
    """What else is read in a vehicle with one bad joint is judged with that joint in mind."""
    pick = random.Random(3)
    vehicle = drawn(pick, 0)
    vehicle.supply_back += 0.011
    found = rows(prove(context(0), read(pick, vehicle, 0)))
    assert found["supply_back_mv"].verdict == "wrong"
    assert {key for key, row in found.items() if row.verdict == "wrong"} == {"supply_back_mv"}


def test_a_reading_narrows_the_others() -> None:
    """Battery volts first: the band of the unit's input is narrower once the posts were read, and says what would do it."""
    before = rows(prove(context(4), {}))["input_v"]
    after = rows(prove(context(4), {"posts_v": 13.7, "idle_posts_v": 13.85}))["input_v"]
    assert before.most is not None
    assert before.least is not None
    assert after.most is not None
    assert after.least is not None
    assert after.most - after.least < 0.8 * (before.most - before.least)
    assert before.narrowed_by in {"posts_v", "idle_posts_v"}


HEALTHY = {
    "idle_posts_v": 13.86,
    "posts_v": 13.74,
    "input_a": 46.8,
    "input_v": 13.34,
    "output_a": 40.0,
    "output_v": 13.7,
}
NONSENSE: list[tuple[dict[str, float], str, str]] = [
    ({"posts_v": 10.9}, "posts_v", "engine runs"),
    ({"input_a": -46.8}, "input_a", "other way round"),
    ({"input_a": 4.68}, "input_a", "comma"),
    ({"output_a": 400.0}, "output_a", "comma"),
    ({"input_v": 1.334}, "input_v", "comma"),
    ({"input_v": 13340.0}, "input_v", "comma"),
    ({"output_a": 52.0, "input_a": 41.0}, "output_a", "watts"),
    ({"input_a": 0.1, "supply_out_mv": 180.0}, "supply_out_mv", "no current"),
]


@pytest.mark.parametrize(("changes", "key", "word"), NONSENSE, ids=[f"{case[1]} {case[2]}" for case in NONSENSE])
def test_nonsense_asks_for_the_meter_and_judges_nothing(changes: dict[str, float], key: str, word: str) -> None:
    """The reading is queried in words, and no leg is called bad by it."""
    found = prove(context(0), HEALTHY | changes)
    assert rows(found)[key].verdict == "query"
    assert word in rows(found)[key].text
    assert not any(leg.bad for leg in found.legs)
    assert "meter" in found.text


def test_a_healthy_set_asks_nothing() -> None:
    """The same readings without a slip are as they should be."""
    found = rows(prove(context(0), HEALTHY))
    assert {found[key].verdict for key in HEALTHY} == {"right"}


def test_what_cannot_be_done_says_why() -> None:
    """Without a unit there is nothing to measure around it; what can be done still is."""
    found = rows(prove(Context.of(design(charger=None)), {}))
    assert found["input_v"].verdict == "cannot"
    assert found["input_v"].text == "No unit is chosen."
    assert found["rest.start"].verdict == "open"


def test_seconds_to_stop_follow_the_rule() -> None:
    """Held 40 s: stopped after 41 s is right, after 80 s wrong, and a unit by signal alone has no such test."""
    rules = {
        "ways": ["voltage"],
        "start_rules": [{"at_least_v": 13.3, "held_s": 10.0}],
        "stop_rules": [{"below_v": 12.9, "held_s": 40.0}],
    }
    ctx = Context.of(design(activation=rules, charger=charger()))
    assert rows(prove(ctx, {"stop_s": 41.0}))["stop_s"].verdict == "right"
    assert rows(prove(ctx, {"stop_s": 80.0}))["stop_s"].verdict == "wrong"
    assert "stop_s" not in rows(prove(Context.of(design(activation={"ways": ["ignition"]})), {}))


def test_the_measured_line_shows_the_gap_where_it_was_read() -> None:
    """13.76 V at the posts, 640 mV lost in the return, 12.75 V at the input: as read; the delivery stays as designed."""
    read_so_far = {"idle_posts_v": 13.88, "posts_v": 13.76, "input_a": 48.5, "supply_back_mv": 640.0, "input_v": 12.85}
    found = prove(context(0), read_so_far).measured
    assert found is not None
    assert found.supply[1].exit_v == pytest.approx(13.76, abs=0.03)
    assert found.supply[-1].return_exit_mv == pytest.approx(640, abs=10)
    assert found.input_v == pytest.approx(12.85, abs=0.05)
    assert found.output_v is not None
    assert found.delivery[0].enter_v + found.delivery[0].return_enter_mv / 1000 == pytest.approx(
        found.output_v, abs=0.01
    )
    assert found.delivery[0].return_enter_mv < 100
    assert prove(context(0), {}).measured is None


def test_dead_checks_have_their_bands() -> None:
    """Half an ohm from end to end, a thousand between the two sides; a run not laid has none."""
    ctx = Context.of(design())
    found = rows(prove(ctx, {"through.supply": 0.2, "short.supply": 3.0, "short.delivery": 5200.0}))
    assert [found[key].verdict for key in ("through.supply", "short.supply", "short.delivery")] == [
        "right",
        "wrong",
        "right",
    ]
    assert "through.supply" not in rows(prove(Context.of(design(supply={"pieces": []})), {}))
