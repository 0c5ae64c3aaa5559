"""Whole assessments against numbers worked by hand; the working stands beside each."""

from __future__ import annotations

import pytest

from olvask.core.assess import Assessment, assess
from tests.designs import cable, charger, design, fuse, mark, plain, vehicle
from tests.oracles.independent import loop_ohm, terminal_volts


def value(found: Assessment, name: str) -> float:
    """A figure's value; it must be there and be a number."""
    number = found.figures[name].value
    assert number is not None, name
    return number


def bare_vehicle(volts: float) -> dict[str, object]:
    """A stiff source of `volts` in every running condition: no sag, no alternator limit in reach."""
    stiff = {
        "rated_a": 900.0,
        "regulation": "fixed",
        "loads_idle_a": 0.0,
        "loads_cruise_a": 0.0,
        "sag_mohm": 0.0,
        "hot_idle_share": 1.0,
    }
    return vehicle(
        alternator=stiff, readings={"rest_v": 12.0, "after_stop_v": 12.0, "idle_v": volts, "cruise_v": volts}
    )


class TestTwentyFiveAmperes:
    """25 A at 13.8 V out, 90 %, 12.6 V at the start battery, 4 m one-way of 10 mm² there and back."""

    FOUND = assess(
        design(
            vehicle=bare_vehicle(12.6),
            auxiliary={
                "chemistry": "agm",
                "nominal_v": 12,
                "capacity_ah": 110.0,
                "charge_limit_a": 30.0,
                "absorption_v": 13.8,
            },
            # Ambient 20 °C and a 200 mm² class of heat path are not to be had: heating is bracketed below.
            supply={"pieces": [cable("10 mm²", 4.0, ambient_c=20.0)]},
            delivery={"pieces": []},
            choices={"lug_mohm": 0.0},
        )
    )

    def test_input_power(self) -> None:
        """P = 13.8 · 25/0.9 = 383.33 W (hand calculation)."""
        assert value(self.FOUND, "input.power_w") == pytest.approx(383.33, abs=0.01)

    def test_volts_and_amps_at_the_charger(self) -> None:
        """Cold: 15.28 mΩ, 12.117 V, 31.64 A; at 60 °C copper: 17.68 mΩ, 12.034 V, 31.85 A (hand, quadratic). The warm run lies between."""
        assert 12.034 < value(self.FOUND, "idle.input_v") < 12.117
        assert 31.64 < value(self.FOUND, "idle.input_a") < 31.85

    def test_drop_in_each_leg(self) -> None:
        """Out and back drop alike: 31.7 A · 7.64 mΩ = 0.242 V cold, 0.282 V at 60 °C, in each leg (hand calculation)."""
        line = next(item for item in self.FOUND.conditions if item.key == "idle")
        piece = line.supply[-1]
        assert 0.242 < piece.enter_v - piece.exit_v < 0.282
        assert piece.return_exit_mv / 1000 == pytest.approx(piece.enter_v - piece.exit_v)

    def test_the_line_closes(self) -> None:
        """Kirchhoff: battery volts less both legs are the terminal volts."""
        line = next(item for item in self.FOUND.conditions if item.key == "idle")
        assert line.input_v is not None
        assert line.supply[-1].exit_v - line.supply[-1].return_exit_mv / 1000 == pytest.approx(line.input_v, abs=1e-3)

    def test_thermal_balance_agrees_with_resistance(self) -> None:
        """Conductor at about 30 A in free 20 °C air: 8 to 20 K up (IEC B.52.12: 86 A makes 60 K; (31.7/86)² · 60 = 8.2 K and some less film)."""
        warm = next(item for item in self.FOUND.pieces if item.temperature_c is not None)
        assert warm.temperature_c is not None
        assert 28 < warm.temperature_c < 40


def test_thin_wire_collapses_and_says_so() -> None:
    """9 m of 0.75 mm²: 468 mΩ passes at most 84.8 W at 12.6 V; 383 W has no stable voltage (hand calculation)."""
    found = assess(design(vehicle=bare_vehicle(12.6), supply={"pieces": [fuse(), cable("0.75 mm²", 9.0)]}))
    line = next(item for item in found.conditions if item.key == "idle")
    assert line.collapsed
    assert line.input_v is None
    assert found.figures["idle.input_v"].value is None
    stop = next(item for item in found.stops if item.id == "run.collapse")
    assert (stop.remedies, stop.tried) == ((), 1)  # a size that runs would hunt: 12.6 V running is what it rests at
    strong = assess(design(supply={"pieces": [fuse(), cable("0.75 mm²", 9.0)]}))
    labels = [way.label for item in strong.stops if item.id == "run.collapse" for way in item.remedies]
    assert labels, "from 13.9 V a size that runs exists and must be offered"


def test_no_rating_fits_so_the_cable_grows() -> None:
    """40 A continuous wants 50 A of fuse; 10 AWG enclosed at 75 °C carries 35 A, so nothing fits and the cable must grow (NFPA 70 310.16)."""
    run = {"pieces": [cable("10 AWG", 1.0, insulation_c=75), fuse(50.0)]}
    found = assess(design(charger=charger(output_a=40.0), delivery=run))
    finding = next(item for item in found.stops if item.id == "protect.large.d2")
    way = finding.remedies[0]
    assert "Grow the cable to 8 AWG" in way.label  # it carries exactly 50 A at 30 °C: the first that fits
    assert [change.value for change in way.changes if change.path.endswith("size")] == ["8 AWG"]


def test_stepping_up_doubles_and_more() -> None:
    """15 A at 28.8 V, 89 % from 12.6 V stiff: 485.4 W, 38.5 A and the run's sag on top: over 2.5 times the output amps (hand)."""
    found = assess(
        design(
            vehicle=bare_vehicle(12.6),
            auxiliary={
                "chemistry": "agm",
                "nominal_v": 24,
                "capacity_ah": 100.0,
                "charge_limit_a": 30.0,
                "absorption_v": 28.8,
            },
            charger=charger(output_nominal_v=24, output_a=15.0, output_min_v=23.0, output_max_v=30.0, efficiency=0.89),
            delivery={"pieces": []},
        )
    )
    assert value(found, "input.power_w") == pytest.approx(28.8 * 15 / 0.89)
    assert value(found, "idle.input_a") > 38.5
    assert value(found, "idle.input_a") / 15 > 2.5


def test_alternator_budgets_both_schools() -> None:
    """120 A, 60 % at hot idle, 15 A of loads: share 0.5 · 120 = 60 A; surplus 0.8 · (72 − 15) = 45.6 A (hand calculation)."""
    found = assess(design())
    assert value(found, "match.alternator_share_a") == pytest.approx(60.0)
    assert value(found, "match.alternator_surplus_a") == pytest.approx(45.6)


def test_daily_floor() -> None:
    """60 Ah at 85 % back in 3 h with 2 A of loads: 60/0.85/3 + 2 = 25.53 A (hand calculation)."""
    found = assess(design(use={"daily_ah": 60.0, "drive_h": 3.0, "loads_driving_a": 2.0}))
    assert value(found, "match.daily_floor_a") == pytest.approx(25.53, abs=0.01)
    assert any(item.id == "match.daily_need" for item in found.findings)


def test_direct_link_at_hot_idle() -> None:
    """Link over both runs: (13.9 − 11.9)/(R_loops + 2 mΩ sag + 3.18 mΩ battery), 110 Ah AGM at 20 % (hand calculation, cold copper)."""
    found = assess(design())
    as_plain = design().model_dump(mode="json")
    ohm = loop_ohm(as_plain["supply"], 5.0, 5e-5) + loop_ohm(as_plain["delivery"], 5.0, 5e-5) + 0.002 + 0.35 / 110
    assert value(found, "match.direct_link_a") == pytest.approx((13.9 - 11.9) / ohm, rel=0.03)


def test_heat_given_off() -> None:
    """383 W in, 345 W out at 13.8 V: the unit gives off 38.3 W (energy balance by hand)."""
    found = assess(
        design(
            auxiliary={
                "chemistry": "agm",
                "nominal_v": 12,
                "capacity_ah": 110.0,
                "charge_limit_a": 30.0,
                "absorption_v": 13.8,
            },
            delivery={"pieces": []},
        )
    )
    assert value(found, "charger.heat_w") == pytest.approx(38.33, abs=0.01)


def test_derating_in_a_hot_cupboard() -> None:
    """10 K over a 40 °C rating at 2.5 %/K leaves 75 % of 25 A (hand calculation): of the yield, not of what is sized for."""
    found = assess(design(mount={"place": "cupboard", "ambient_c": 50.0}))
    assert value(found, "output.current_a") == pytest.approx(25.0)
    heat = next(item for item in found.findings if item.id == "match.heat")
    assert "18.8 A of 25 A, 25 % less" in heat.text
    assert next(item for item in found.ruler.limits if item.key == "heat").amps == pytest.approx(18.75)


def test_start_and_stop_windows() -> None:
    """Rest 12.7 just after stopping, idle 13.9, margin 0.15: start window 12.85 to 13.75 V (hand calculation)."""
    found = assess(design())
    assert value(found, "wake.start_window_low_v") == pytest.approx(12.85)
    assert value(found, "wake.start_window_high_v") == pytest.approx(13.75)
    loaded_v = value(found, "idle.input_v")
    assert value(found, "wake.stop_window_high_v") == pytest.approx(loaded_v - 0.15)


def test_guard_keeps_sixty_percent() -> None:
    """Flooded lead-acid rests at 12.28 V at 60 %; down to a 0.05 V step that is 12.25 V (table)."""
    found = assess(design())
    guard = mark(found, "guard")
    assert guard.value_v == pytest.approx(12.25)
    assert guard.proposed


def test_guard_return_clears_the_rebound() -> None:
    """V_lock + P/V_lock · (R_batt + R_run) + m with 0.5/90 Ω and the run as drawn (hand calculation with bracketed copper)."""
    found = assess(design())
    power_w = value(found, "input.power_w")
    supply = design().model_dump(mode="json")["supply"]
    least = [12.25 + power_w / 12.25 * (0.5 / 90 + loop_ohm(supply, kelvin, 5e-5)) + 0.15 for kelvin in (0.0, 70.0)]
    release_v = value(found, "wake.back_v")
    assert least[0] < release_v < least[1] + 0.05


def test_twenty_four_volts_scale() -> None:
    """At 24 V the default margin is twice 0.15 V, and defaults of a fixed regulator are 27.6 and 28.2 V (table of defaults)."""
    job = plain(vehicle=vehicle(system_v=24, readings={}))
    job["charger"] = charger(input_nominal_v=24, input_min_v=18.0, input_max_v=34.0, settable=(21.0, 30.0, 0.05))
    found = assess(design(**job))
    assert found.facts["choices.margin_v"].value == pytest.approx(0.30)
    assert found.facts["vehicle.readings.idle_v"].value == pytest.approx(27.6)
    assert found.facts["vehicle.readings.idle_v"].provenance == "default"


@pytest.mark.parametrize(
    ("size", "length_m", "volts"),
    [("6 mm²", 2.0, 13.9), ("16 mm²", 8.0, 13.2), ("2 AWG", 5.0, 12.9), ("35 mm²", 9.0, 14.2)],
)
def test_terminal_volts_lie_in_the_independent_bracket(size: str, length_m: float, volts: float) -> None:
    """A bisection over cold and over 90 °C copper brackets the core's terminal volts."""
    job = design(vehicle=bare_vehicle(volts), supply={"pieces": [fuse(), cable(size, length_m)]})
    found = assess(job)
    supply = job.model_dump(mode="json")["supply"]
    power_w = value(found, "input.power_w")
    coldest, hottest = (terminal_volts(volts, loop_ohm(supply, kelvin, 5e-5), power_w) for kelvin in (0.0, 70.0))
    assert coldest is not None
    assert hottest is not None
    assert hottest < value(found, "idle.input_v") < coldest
