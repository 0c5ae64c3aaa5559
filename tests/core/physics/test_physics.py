"""Physics against standards and hand calculation. No expected value comes from the code."""

from __future__ import annotations

import math

import pytest

from olvask.core.physics.alternator import Source, draw
from olvask.core.physics.battery import charge_at_rest, internal_ohm, open_circuit_v, prospective_short_a, rested_volts
from olvask.core.physics.conductors import awg_area_mm2, geometric_resistance_ohm, resistance_ohm
from olvask.core.physics.dc_path import Collapse, constant_power_volts, greatest_power_w
from olvask.core.physics.heat import ambient_factor, conductor_c


class TestConductors:
    def test_geometric_resistance_of_the_annealed_standard(self) -> None:
        """1 m of 1 mm² annealed copper at 20 °C is 1/58 Ω (IEC 60028)."""
        assert geometric_resistance_ohm(1.0, 1.0) == pytest.approx(1 / 58, rel=1e-4)

    def test_ten_square_class_5_four_metres(self) -> None:
        """4 m of 10 mm² class 5 at 20 °C: 1.91 Ω/km gives 7.64 mΩ (IEC 60228 Table 3, hand calculation)."""
        assert resistance_ohm(1.91, 4.0, 20.0) == pytest.approx(7.64e-3)

    def test_copper_gains_a_fifth_over_fifty_kelvin(self) -> None:
        """From 20 to 70 °C: 1 + 0.00393 · 50 = 1.1965 (hand calculation)."""
        assert resistance_ohm(1.91, 1.0, 70.0) / resistance_ohm(1.91, 1.0, 20.0) == pytest.approx(1.1965)

    def test_copper_clad_aluminium_resists_more(self) -> None:
        """Copper-clad aluminium has about 1.6 times copper's resistance (trade figure)."""
        assert resistance_ohm(1.21, 2.0, 20.0, "cca") == pytest.approx(1.6 * 1.21e-3 * 2.0)

    @pytest.mark.parametrize(
        ("gauge", "area_mm2"),
        [(14, 2.08), (10, 5.26), (8, 8.37), (6, 13.3), (4, 21.15), (2, 33.6), (0, 53.5), (-1, 67.4), (-3, 107.2)],
    )
    def test_awg_areas(self, gauge: int, area_mm2: float) -> None:
        """Areas as printed in ASTM B258 Table 1."""
        assert awg_area_mm2(gauge) == pytest.approx(area_mm2, rel=2e-3)


class TestConstantPower:
    def test_worked_example(self) -> None:
        """25 A at 13.8 V, 90 % from 12.6 V over 15.28 mΩ: 383.33 W, √(158.76 − 23.43) = 11.633, V = 12.117 (hand calculation)."""
        power_w = 13.8 * 25 / 0.9
        volts = constant_power_volts(12.6, 15.28e-3, power_w)
        assert power_w == pytest.approx(383.33, abs=0.01)
        assert volts == pytest.approx(12.1166, abs=1e-4)
        assert power_w / volts == pytest.approx(31.637, abs=1e-3)

    def test_the_answer_obeys_ohm(self) -> None:
        """Source less current times resistance gives the load's volts back."""
        volts = constant_power_volts(27.0, 0.04, 900.0)
        assert 27.0 - 900.0 / volts * 0.04 == pytest.approx(volts, rel=1e-12)

    def test_stable_root_above_half_the_source(self) -> None:
        """The operating point is the upper root: at least half the source voltage."""
        assert constant_power_volts(12.0, 0.09, 399.0) >= 6.0

    def test_exactly_at_the_limit(self) -> None:
        """Greatest transfer: P = V²/4R at V/2 (maximum power theorem)."""
        assert constant_power_volts(12.0, 0.09, 400.0) == pytest.approx(6.0)

    def test_thin_wire_collapses(self) -> None:
        """9 m of 0.75 mm² there and back is 468 mΩ at 20 °C: at most 12.6²/(4 · 0.468) = 84.8 W, so 383 W collapses (hand)."""
        loop_ohm = 2 * resistance_ohm(26.0, 9.0, 20.0)
        assert loop_ohm == pytest.approx(0.468)
        with pytest.raises(Collapse):
            constant_power_volts(12.6, loop_ohm, 383.33)
        assert constant_power_volts(12.6, loop_ohm, 84.8) == pytest.approx(6.3, abs=0.1)

    def test_greatest_power_above_a_floor(self) -> None:
        """From 13.8 V over 20 mΩ with 12 V held: 12 · 1.8/0.02 = 1080 W (hand calculation)."""
        assert greatest_power_w(13.8, 0.020, 12.0) == pytest.approx(1080.0)

    def test_a_floor_under_half_is_no_help(self) -> None:
        """Below half the source nothing more is passed: 12²/(4 · 0.1) = 360 W (maximum power theorem)."""
        assert greatest_power_w(12.0, 0.1, 2.0) == pytest.approx(360.0)


class TestAlternator:
    SOURCE = Source(regulated_v=14.0, sag_ohm=0.002, available_a=50.0, battery_v=12.6, battery_ohm=0.006)

    def test_within_its_limit_it_holds_the_voltage(self) -> None:
        """400 W over 5 mΩ and 2 mΩ sag: √(196 − 11.2) = 13.594, V = 13.797, I = 28.99 A (hand calculation)."""
        drawn = draw(self.SOURCE, 0.005, 400.0)
        assert not drawn.alternator_limited
        assert drawn.terminal_v == pytest.approx(13.797, abs=1e-3)
        assert drawn.current_a == pytest.approx(28.99, abs=0.01)
        assert drawn.post_v == pytest.approx(14.0 - 28.99 * 0.002, abs=1e-3)

    def test_beyond_its_limit_the_battery_holds_the_voltage(self) -> None:
        """800 W wants 60 A of 50: volts fall to 12.6 − (I − 50) · 6 mΩ (hand: KCL at the posts)."""
        drawn = draw(self.SOURCE, 0.005, 800.0)
        assert drawn.alternator_limited
        assert drawn.post_v == pytest.approx(12.6 - (drawn.current_a - 50.0) * 0.006, abs=1e-9)
        assert drawn.terminal_v * drawn.current_a == pytest.approx(800.0)
        assert drawn.post_v < 12.6

    def test_no_limit_means_a_voltage_source(self) -> None:
        """A source without a current limit never falls back on its battery."""
        stiff = Source(13.0, 0.0, None, 12.5, 0.01)
        assert not draw(stiff, 0.001, 2000.0).alternator_limited


class TestBattery:
    def test_flooded_rest_points(self) -> None:
        """12.28 V at 60 % and the middle between 80 and 100 % at 12.59 V (table and linear interpolation by hand)."""
        assert open_circuit_v("flooded", 0.6, 12) == pytest.approx(12.28)
        assert open_circuit_v("flooded", 0.9, 12) == pytest.approx((12.48 + 12.70) / 2)
        assert charge_at_rest("flooded", 12.38, 12) == pytest.approx(0.7)  # half way from 12.28 V to 12.48 V
        assert [charge_at_rest("agm", volts, 24) for volts in (20.0, 24.8, 27.0)] == pytest.approx([0.0, 0.6, 1.0])

    def test_past_full_its_last_line_goes_on(self) -> None:
        """Where a step of the simulator reaches over full: 12.48 V at 80 % and 12.70 V at 100 % are 12.81 V at 110 %."""
        assert rested_volts("flooded", 12).volts(1.1) == pytest.approx(12.81)

    def test_twice_the_blocks_twice_the_volts(self) -> None:
        """A 24 V bank rests at twice a 12 V one."""
        assert open_circuit_v("agm", 0.37, 24) == pytest.approx(2 * open_circuit_v("agm", 0.37, 12))

    def test_lfp_is_flat_in_the_middle(self) -> None:
        """Between 20 and 80 % an LFP bank moves by under 0.4 V per 12 V (known shape of the curve)."""
        assert open_circuit_v("lfp", 0.8, 12) - open_circuit_v("lfp", 0.2, 12) < 0.4

    def test_state_of_charge_beyond_full_is_refused(self) -> None:
        """A state of charge above one is an error, not an extrapolation."""
        with pytest.raises(ValueError, match="outside"):
            open_circuit_v("agm", 1.2, 12)

    def test_big_lithium_short_circuit(self) -> None:
        """600 Ah LFP behind 5 mΩ: 10 · Ah = 6 kA beats 13.5/(1 + 5 mΩ) = 2.25 kA (hand calculation)."""
        assert internal_ohm("lfp", 600.0, 12) == pytest.approx(0.001)
        assert prospective_short_a("lfp", 600.0, 12, 0.005) == pytest.approx(6000.0)

    def test_at_the_post_resistance_decides(self) -> None:
        """200 Ah LFP at the post: 13.5 V/3 mΩ = 4.5 kA, above 2 kA by capacity (hand calculation)."""
        assert prospective_short_a("lfp", 200.0, 12, 0.0) == pytest.approx(4500.0)


class TestHeat:
    def test_no_current_no_rise(self) -> None:
        """A cable without current stands at ambient."""
        assert conductor_c(0.0, 1.91e-3, 10.0, 42.0) == 42.0

    @pytest.mark.parametrize(
        ("area_mm2", "ohm_per_km", "table_a"),
        [
            (2.5, 7.98, 36),
            (4, 4.95, 49),
            (6, 3.30, 63),
            (10, 1.91, 86),
            (16, 1.21, 115),
            (25, 0.780, 149),
            (35, 0.554, 185),
            (50, 0.386, 225),
        ],
    )
    def test_free_air_table_current_heats_to_its_rating(
        self, area_mm2: float, ohm_per_km: float, table_a: float
    ) -> None:
        """Table current of IEC 60364-5-52 B.52.12 method E brings 90 °C insulation to 90 ± 18 °C at 30 °C ambient."""
        assert conductor_c(table_a, ohm_per_km / 1000, area_mm2, 30.0) == pytest.approx(90.0, abs=18.0)

    def test_bundled_is_hotter(self) -> None:
        """The same current in a bundle of two (0.8 of the current allowed) is hotter."""
        alone = conductor_c(60.0, 1.91e-3, 10.0, 30.0)
        assert conductor_c(60.0, 1.91e-3, 10.0, 30.0, surface=1 / 0.8**2) > alone + 10

    def test_runaway_is_reported_not_looped(self) -> None:
        """A hundred amperes through 0.75 mm² has no balance below copper's melting point."""
        assert conductor_c(100.0, 26e-3, 0.75, 30.0) == pytest.approx(1083.0)

    def test_where_to_begin_does_not_move_the_answer(self) -> None:
        """The first guess saves rounds only."""
        answers = [conductor_c(70.0, 1.21e-3, 16.0, 40.0, 1.3, guess) for guess in (None, 41.0, 300.0)]
        assert max(answers) - min(answers) < 0.1

    @pytest.mark.parametrize(
        ("ambient_c", "factor"), [(30.0, 1.0), (40.0, 0.91), (50.0, 0.82), (60.0, 0.71), (70.0, 0.58), (80.0, 0.41)]
    )
    def test_ambient_factors_of_the_table(self, ambient_c: float, factor: float) -> None:
        """IEC 60364-5-52 Table B.52.14, 90 °C insulation in air."""
        assert ambient_factor(90.0, 90.0, ambient_c) == pytest.approx(factor, abs=0.005)

    def test_at_its_limit_a_cable_carries_nothing(self) -> None:
        """Ambient at the insulation's limit leaves no ampacity."""
        assert ambient_factor(70.0, 70.0, 70.0) == 0.0

    def test_better_insulation_gains_less_than_its_kelvins(self) -> None:
        """125 °C insulation on the 90 °C table at 30 °C: √(95/60 · 1.2751/1.41265) = 1.195 (hand calculation)."""
        assert ambient_factor(125.0, 90.0, 30.0) == pytest.approx(math.sqrt(95 / 60 * 1.2751 / 1.41265), rel=1e-4)
