"""Heat of a unit where it is fixed, against sums done by hand and laws that any cupboard keeps."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as some

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.physics.enclosure import Box, air_rise_k, case_rise_k, flow_m3_s
from olvask.core.stages.build.mounting import MountReport, mount_of
from tests.designs import charger, design

SIZE = (0.2, 0.15, 0.06)


def constant(heat_w: float):  # type: ignore[no-untyped-def]  # a function of one number
    return lambda _rise_k: heat_w


def test_sealed_by_hand() -> None:
    """20 W through 0.5 m² of 10 mm plywood: U = 1 / (0.13 + 0.010/0.13 + 0.13) = 2.97, rise 20 / (2.97 · 0.5) = 13.5 K."""
    assert air_rise_k(Box(0.5), 30.0, constant(20.0)) == pytest.approx(13.5, abs=0.05)


def test_two_openings_by_hand() -> None:
    """Walls that shed nothing, 50 cm² low and high, 0.3 m apart, 30 W in a room of 30 °C.

    Q = 0.6 · 35.4 cm² · √(2 · 9.81 · 0.3 · ΔT / 303) = 2.96e-4 · √ΔT m³/s; 30 W = 1.15 · 1006 · Q · ΔT gives
    ΔT^1.5 = 87.6, ΔT = 19.7 K.
    """
    box = Box(1e-9, low_m2=50e-4, high_m2=50e-4, apart_m=0.3)
    assert air_rise_k(box, 30.0, constant(30.0)) == pytest.approx(19.7, abs=0.1)


def test_a_fan_by_hand() -> None:
    """A fan of 40 m³/h, 25 Pa shut off, through 100 cm² in and out: 0.575·(Q/0.00424)² = 25·(1 − Q/0.0111) Pa.

    31 984·Q² + 2 250·Q − 25 = 0 gives Q = 9.75 l/s; 60 W then warm it by 60 / (1.15 · 1006 · 0.00975) = 5.3 K.
    """
    box = Box(1e-9, low_m2=0.01, high_m2=0.01, apart_m=1e-6, fan_m3_s=40 / 3600)
    assert flow_m3_s(box, 5.3, 30.0) == pytest.approx(0.00975, rel=0.01)
    assert air_rise_k(box, 30.0, constant(60.0)) == pytest.approx(5.3, abs=0.1)


def test_a_case_in_free_air_by_hand() -> None:
    """25 W from a box of 200 × 150 × 60 mm, back on board, at 30 °C: by hand about 21 K.

    Sides and front 0.072 m², ribbed 0.102 m². At 21 K, film 40.5 °C: ν 1.71e-5, Ra 5.6e6, Nu 0.68 + 0.515 · 48.7 = 25.7,
    h 4.7 W/m²K; radiation 0.9 · 4σ · 313.6³ = 6.3 W/m²K. (4.7 · 0.102 + 6.3 · 0.072) · 21 = 19.6 W; at 26 K, 25.2 W.
    """
    assert case_rise_k(25.0, SIZE, 30.0) == pytest.approx(26.0, abs=1.0)


def test_metal_behind_it_sheds_heat() -> None:
    """Sheet steel carries it 56 mm beyond its edge, on both faces: 0.312 · 0.262 · 2 − 0.03 = 0.133 m² more."""
    on_board, on_metal = case_rise_k(25.0, SIZE, 30.0), case_rise_k(25.0, SIZE, 30.0, metal=True)
    assert on_metal == pytest.approx(25.0 / (4.3 * (0.102 + 0.133) + 6.0 * (0.072 + 0.133)), rel=0.08)
    assert on_metal < on_board


def test_ribs_down_are_the_worst() -> None:
    """Hanging traps the warm air; upright is best."""
    rises = [case_rise_k(25.0, SIZE, 30.0, turned) for turned in ("upright", "lying", "sideways", "hanging")]
    assert rises == sorted(rises)


@pytest.mark.parametrize(("turned", "nusselt"), [("lying", 0.54), ("hanging", 0.27)])
def test_turned_it_sheds_as_plates_do(turned: str, nusselt: float) -> None:
    """Where radiation is put back in, what convection sheds for a kelvin is McAdams's number over the upright plate's 0.59.

    At the same rise the two differ by convection alone: that of a unit crowded to that share of it upright.
    """
    share = nusselt / 0.59
    assert case_rise_k(25.0, SIZE, 30.0, turned) == pytest.approx(
        case_rise_k(25.0, SIZE, 30.0, crowded=share), rel=1e-9
    )


opening = some.floats(0.0, 0.05)


@settings(max_examples=200, deadline=None)
@given(
    low=opening,
    high=opening,
    more=some.floats(0.0, 0.05),
    fan=some.floats(0.0, 0.05),
    apart=some.floats(0.05, 1.0),
    heat=some.floats(0.0, 400.0),
)
def test_more_opening_is_never_hotter(
    low: float, high: float, more: float, fan: float, apart: float, heat: float
) -> None:
    """A larger opening low or high, a stronger fan, a greater height: the air is never warmer for it."""
    plain = air_rise_k(Box(0.4, low, high, apart, fan), 30.0, constant(heat))
    for wider in (
        Box(0.4, low + more, high, apart, fan),
        Box(0.4, low, high + more, apart, fan),
        Box(0.4, low, high, apart, fan + more),
        Box(0.4, low, high, apart * 1.5, fan),
        Box(0.6, low, high, apart, fan),
    ):
        assert air_rise_k(wider, 30.0, constant(heat)) <= plain + 1e-6


@settings(max_examples=200, deadline=None)
@given(low=opening, high=opening, heat=some.floats(0.1, 400.0))
def test_what_is_given_off_is_shed(low: float, high: float, heat: float) -> None:
    """Walls and air together carry exactly the heat away."""
    box = Box(0.4, low, high, 0.3)
    rise = air_rise_k(box, 30.0, constant(heat))
    shed = (2.97 * 0.4 + 1.15 * 1006 * flow_m3_s(box, rise, 30.0)) * rise
    assert shed == pytest.approx(heat, rel=1e-3)


def placed(**mount: object) -> MountReport:
    """A 30 A unit in a cupboard of a hot cabin."""
    found = mount_of(Context.of(_made(**mount)))
    assert found is not None
    return found


def _made(**mount: object) -> Design:
    place = {"place": "cupboard", "room_c": 35.0, "width_mm": 400, "height_mm": 300, "depth_mm": 200}
    return design(charger=charger(output_a=30.0, efficiency=0.88, rated_ambient_c=40.0), mount=place | mount)


def test_the_opening_that_is_enough_is_enough_and_hardly_more() -> None:
    """With it the unit gives what it gives in the room; with two thirds of it, less."""
    shut = placed(around="shut")
    assert shut.enough_cm2 is not None
    assert shut.yield_a < shut.in_room_a
    each = shut.enough_cm2
    assert placed(around="vents", vent_low_cm2=each, vent_high_cm2=each).yield_a >= 0.995 * shut.in_room_a
    assert placed(around="vents", vent_low_cm2=each * 0.66, vent_high_cm2=each * 0.66).yield_a < 0.995 * shut.in_room_a


def test_the_curve_never_falls() -> None:
    """Each larger opening gives as much or more, in cooler air."""
    curve = placed(around="shut").curve
    assert [point.yield_a for point in curve] == sorted(point.yield_a for point in curve)
    assert [point.air_c for point in curve] == sorted((point.air_c for point in curve), reverse=True)


def test_where_the_room_itself_is_too_hot_no_opening_is_promised() -> None:
    """In a room where it gives nothing, none is enough."""
    assert placed(around="shut", room_c=95.0).enough_cm2 is None


def test_a_measured_air_outranks_what_is_worked_out() -> None:
    """What the thermometer said stays, and the report says so."""
    found = placed(around="shut", ambient_c=41.0)
    assert found.air_c == 41.0
    assert any("that counts" in item for item in found.advice)


def test_the_air_worked_out_is_the_air_everything_uses() -> None:
    """Match's heat limit and the simulator's unit see the same air as Mounting tells."""
    from olvask.core.assess import assess
    from olvask.core.circuit.solve import solve
    from olvask.core.simulate.plant import Plant

    made = _made(around="shut")
    told, solved = placed(around="shut"), solve(made)
    assert float(assess(made).facts["mount.ambient_c"].value) == pytest.approx(told.air_c)
    assert Plant(made, solved).unit_air_c == pytest.approx(told.felt_c)
    assert not math.isclose(told.air_c, 45.0)


@pytest.mark.parametrize(
    ("mount", "finding", "level"),
    [
        ({"backing": "plastic"}, "build.plastic", "stop"),
        ({"near": ["fuel"]}, "build.near_fuel", "stop"),
        ({"near": ["exhaust"]}, "build.near_exhaust", "caution"),
        ({"near": ["airbag"]}, "build.near_airbag", "caution"),
        ({"fan_m3_h": 40.0, "around": "vents"}, "build.fan", "caution"),
        ({"around": "shut"}, "build.shut", "caution"),
    ],
)
def test_what_it_must_not_sit_on_or_near(mount: dict[str, object], finding: str, level: str) -> None:
    """Each is said, at its level, and not where nothing of it is so."""
    from olvask.core.assess import assess

    found = {item.id: item.level for item in assess(_made(**mount), remedies=False).findings}
    assert found.get(finding) == level
    assert finding not in {item.id for item in assess(_made(), remedies=False).findings}
