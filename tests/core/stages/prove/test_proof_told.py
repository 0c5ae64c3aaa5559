"""How readings are judged and told: right, doubtful, wrong, the meter first; what is offered to the survey; the summary."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.stages.prove.legs import LegFound
from olvask.core.stages.prove.report import Proof, Row, prove
from tests.designs import charger, design, vehicle

CTX = Context.of(design())


def row(key: str, **readings: float) -> Row:
    """One test's row."""
    return next(item for item in prove(CTX, readings).rows if item.test.key == key)


def leg(proof: Proof, name: str) -> LegFound:
    """One leg as found."""
    return next(item for item in proof.legs if item.leg == name)


@pytest.mark.parametrize("key", ["posts_v", "input_v", "output_a", "supply_out_mv"])
def test_bands_are_95_in_a_hundred_and_doubt_ends_at_3_6_sigma(key: str) -> None:
    """Within 1.96 standard deviations right, within 3.6 doubtful, beyond wrong; on either side, and said which."""
    band = row(key)
    assert band.expected is not None
    assert band.least is not None
    assert band.most is not None
    sigma = (band.most - band.expected) / 1.96
    assert band.expected - band.least == pytest.approx(1.96 * sigma)
    for sigmas, verdict in ((1.9, "right"), (2.1, "doubtful"), (3.5, "doubtful"), (3.7, "wrong")):
        for sign, side in ((1, "over"), (-1, "under")):
            found = row(key, **{key: band.expected + sign * sigmas * sigma})
            assert found.verdict == verdict, (sigmas, side)
            assert verdict == "right" or side in found.text
            assert found.reading == pytest.approx(band.expected + sign * sigmas * sigma)


def test_answers_and_bounds() -> None:
    """The first answer is the good one; ohms have a bound of their own and no doubt beside it."""
    assert row("polarity.supply", **{"polarity.supply": 0.0}).verdict == "right"
    assert row("polarity.supply", **{"polarity.supply": 1.0}).verdict == "wrong"
    through = row("through.supply")
    assert through.verdict == "open"
    assert through.most is not None
    assert through.expected is None
    assert row("through.supply", **{"through.supply": through.most}).verdict == "right"
    assert row("through.supply", **{"through.supply": through.most + 0.1}).verdict == "wrong"
    short = row("short.supply")
    assert short.least is not None
    assert row("short.supply", **{"short.supply": short.least}).verdict == "right"
    assert "under" in row("short.supply", **{"short.supply": short.least - 1.0}).text


def test_a_reading_judges_others_not_itself() -> None:
    """Its own band stays as it was without it; what it says of the vehicle moves the bands of others."""
    before, after = row("posts_v"), row("posts_v", posts_v=13.6)
    assert (after.least, after.most) == pytest.approx((before.least, before.most))
    moved = row("input_v", posts_v=13.6)
    assert moved.expected is not None
    assert moved.expected < (row("input_v").expected or 0.0)
    assert moved.most is not None
    assert moved.least is not None
    unread = row("input_v")
    assert moved.most - moved.least < (unread.most or 0.0) - (unread.least or 0.0)


def bad_supply(mohm: float, amps: float = 27.5) -> dict[str, float]:
    """Readings of the plain job with so many milliohms too many in the supply's outgoing leg."""
    healthy = {item.test.key: item.expected for item in prove(CTX, {}).rows if item.expected is not None}
    keys = ("posts_v", "input_a", "input_v", "output_a", "output_v", "supply_out_mv", "supply_back_mv")
    found = {key: float(healthy[key] or 0.0) for key in keys}
    lost_v = mohm / 1000 * amps
    return found | {"input_v": found["input_v"] - lost_v, "supply_out_mv": found["supply_out_mv"] + 1000 * lost_v}


def test_a_bad_leg_is_named_with_its_heat() -> None:
    """8 mΩ too many are 7 W at 29.6 A; the leg of that reading is bad, its neighbours are not."""
    proof = prove(CTX, bad_supply(8.0))
    found = leg(proof, "supply_out")
    assert found.bad
    assert found.excess_mohm == pytest.approx(8.0, abs=0.8)
    assert found.found_mohm == pytest.approx(found.designed_mohm + (found.excess_mohm or 0.0))
    assert found.heat_w == pytest.approx((found.excess_mohm or 0.0) / 1000 * 29.6**2, rel=0.02)
    assert found.spread_mohm is not None
    assert 0 < found.spread_mohm < 2.0
    assert "too many in the supply run, outgoing" in found.text
    assert not leg(proof, "supply_back").bad
    assert leg(proof, "supply_back").text == "as designed"
    assert proof.text.startswith("A bad joint: ")


def test_half_a_milliohm_is_within_what_crimps_differ_by() -> None:
    """Well measured or not, a leg within a milliohm of its design is not accused."""
    found = leg(prove(CTX, bad_supply(0.8), meters=_fine()), "supply_out")
    assert found.excess_mohm == pytest.approx(0.8, abs=0.3)
    assert not found.bad


def _fine() -> dict[str, Any]:
    from olvask.core.stages.prove.meter import METER, Accuracy

    return {unit: Accuracy(0.01, meter.besides / 100) for unit, meter in METER.items()}


def test_a_leg_nobody_read_is_not_told() -> None:
    """Its figures stay empty, and a device is told of only where it was read apart."""
    proof = prove(CTX, {"posts_v": 13.8})
    assert leg(proof, "supply_out").text == "not measured"
    assert leg(proof, "supply_out").found_mohm is None
    assert leg(proof, "supply_out").heat_w is None
    assert "supply_device" not in {item.leg for item in proof.legs}
    assert "supply_device" in {item.leg for item in prove(CTX, {"supply_device_mv": 4.0}).legs}


def test_a_run_whose_ends_were_read_and_no_leg() -> None:
    """Volts lost between its ends are told of the run, until both its legs are read."""
    readings = bad_supply(12.0)
    ends = {key: readings[key] for key in ("posts_v", "input_v", "input_a")}
    assert prove(CTX, ends).text.startswith("Volts are lost on the way: ")
    assert "somewhere in the supply run" in prove(CTX, ends).text
    assert not prove(CTX, readings).text.startswith("Volts are lost")
    assert not prove(CTX, {key: ends[key] for key in ("posts_v", "input_v")}).text.startswith("Volts are lost")


def offers(job: Context | None = None, **readings: float) -> dict[str, float]:
    """What is offered to the survey."""
    return {item.path: item.value for item in prove(job or CTX, readings).offers}


def test_what_was_measured_is_offered_to_the_survey() -> None:
    """Rest and idle as read; the source's milliohms from how far the posts fall, (13.9 − 13.83) V / 27.5 A = 2.5 mΩ."""
    found = offers(idle_posts_v=13.9, posts_v=13.83, input_a=27.5)
    assert found["vehicle.readings.idle_v"] == 13.9
    assert found["vehicle.alternator.sag_mohm"] == 2.5
    assert offers(None, **{"rest.start": 12.58})["vehicle.readings.rest_v"] == 12.58
    assert "vehicle.alternator.sag_mohm" not in offers(idle_posts_v=13.9, posts_v=13.83)
    for limit_a, amps, told in ((5.0, 5.8, True), (4.0, 4.6, False)):  # below five the fall is lost in the meter
        small = Context.of(design(current_limit_a=limit_a, charger=charger(limit_min_a=2.0)))
        fallen = offers(small, idle_posts_v=13.9, posts_v=13.88, input_a=amps)
        assert ("vehicle.alternator.sag_mohm" in fallen) is told, amps
    assert offers(posts_v=13.83, input_a=27.5) == {}
    assert "vehicle.readings.idle_v" not in offers(idle_posts_v=11.0)  # the meter is asked first


def test_what_stands_as_measured_is_offered_only_where_it_differs() -> None:
    """A survey measured at 13.9 V stays beside 13.92; 13.75 differs by more than 0.03 V but within a tenth: it stays."""
    surveyed = design().model_dump(mode="json") | {"provenance": {"vehicle.readings.idle_v": "measured"}}
    ctx = Context.of(type(design()).model_validate(surveyed))
    assert offers(ctx, idle_posts_v=13.92) == {}
    assert offers(ctx, idle_posts_v=13.75) == {}
    assert offers(CTX, idle_posts_v=13.92) == {"vehicle.readings.idle_v": 13.92}


def test_the_summary_counts() -> None:
    """The meter first, then joints, then what is wrong, then what is left to do."""
    assert prove(CTX, {"output_a": 250.0}).text.startswith("1 reading asks for the meter first")
    assert prove(CTX, {"output_a": 250.0, "input_v": 136.5}).text.startswith("2 readings ask for the meter first")
    assert prove(CTX, {"hand_warm": 1.0}).text == "1 reading is not as this design expects."
    both = prove(CTX, {"hand_warm": 1.0, "lockout": 1.0}).text
    assert both == "2 readings are not as this design expects."
    plain = prove(CTX, {})
    few = [item.test.key for item in plain.rows if item.test.fewest and item.verdict == "open"]
    assert plain.text.startswith(f"{len(few)} tests to do, ")
    assert plain.next in {item.test.key for item in plain.rows if item.verdict == "open"}


def test_all_done() -> None:
    """Every reading as expected: nothing left, nothing next; all but one that signing off asks for: one to do."""
    healthy = prove(CTX, {}).rows
    values: dict[str, float] = {}
    for item in healthy:
        if item.test.cannot:
            continue
        if item.test.answers:
            values[item.test.key] = 0.0
        elif item.expected is not None:
            values[item.test.key] = item.expected
        else:
            bounds = [bound for bound in (item.least, item.most) if bound is not None]
            values[item.test.key] = sum(bounds) / len(bounds) if bounds else 0.0
    # Batteries rest at what their loaded readings suppose.
    values |= {"rest.start": 12.52, "rest.auxiliary": values["output_rest_v"]}
    done = prove(CTX, values)
    assert {item.verdict for item in done.rows} <= {"right", "cannot"}
    assert done.text == "Every test is as it should be."
    assert done.next == ""
    last = next(item.test.key for item in healthy if item.test.fewest and item.test.key in values)
    left = prove(CTX, {key: value for key, value in values.items() if key != last})
    assert left.text.startswith("1 test to do; nothing wrong so far.")
    assert left.next == last


def test_nothing_measured_running_draws_no_line() -> None:
    """The level line as it was read stands only once something was read with the engine running, and with a unit."""
    assert prove(CTX, {"rest.start": 12.6}).measured is None
    line = prove(CTX, {"posts_v": 13.8}).measured
    assert line is not None
    assert (line.charging, line.collapsed, line.below_minimum, line.alternator_limited) == (True, False, False, False)
    assert not any(item is None for item in (line.input_v, line.output_v, line.auxiliary_v))
    idle = prove(CTX, {"posts_v": 13.8, "output_a": 0.0, "input_a": 0.0}).measured
    assert idle is not None
    assert prove(Context.of(design(charger=None, vehicle=vehicle())), {"posts_v": 13.8}).measured is None
