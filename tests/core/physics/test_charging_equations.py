"""What a source gives against volts behind a resistance, by hand."""

from __future__ import annotations

import pytest

from olvask.core.physics.charging import backed_off_a, compensated_v, derated, held_a, powered_a


@pytest.mark.parametrize(
    ("target", "behind", "ohm", "amps"), [(14.4, 13.2, 0.04, 30.0), (13.2, 13.2, 0.04, 0.0), (13.0, 13.2, 0.04, 0.0)]
)
def test_held_volts(target: float, behind: float, ohm: float, amps: float) -> None:
    """1.2 V over 40 mΩ are 30 A; at and under the volts behind nothing flows, and nothing flows back."""
    assert held_a(target, behind, ohm) == pytest.approx(amps)


def test_power_beyond_a_rating() -> None:
    """30 A up to 12.5 V are 375 W: straight on posts of 15 V 25 A; behind 0.1 Ω and 12 V, (12 + 0.1 I) I = 375 has I = 25.7 A."""
    assert powered_a(30.0, 12.5, 15.0, 0.0) == pytest.approx(25.0)
    assert powered_a(30.0, 12.5, 12.0, 0.1) == pytest.approx((-12 + (144 + 4 * 0.1 * 375) ** 0.5) / 0.2)
    assert powered_a(30.0, 12.5, 9.0, 0.1) == 30.0  # 9 V + 3 V are under 12.5 V


@pytest.mark.parametrize(
    ("behind", "ohm", "amps"),
    [(13.0, 0.0, 20.0), (13.4, 0.0, 20.0), (13.6, 0.0, 10.0), (13.8, 0.0, 0.0), (13.9, 0.0, 0.0), (13.6, 0.02, 5.0)],
)
def test_backing_off(behind: float, ohm: float, amps: float) -> None:
    """20 A up to 13.4 V, none at 13.8 V: 50 A a volt. Behind 20 mΩ the same slope and the lead share 0.2 V: 50 * 0.2 / 2."""
    assert backed_off_a(20.0, 13.4, 13.8, behind, ohm) == pytest.approx(amps)


def test_backing_off_from_above_its_target_is_none() -> None:
    """Where it would begin past its own target it never does."""
    assert backed_off_a(20.0, 14.0, 13.8, 13.7, 0.0) == 20.0


def test_compensation() -> None:
    """-24 mV/K: 0.48 V more at 5 °C, 0.48 V less at 45 °C, nothing at 25 °C; twice that on 24 V."""
    assert compensated_v(14.4, -24.0, 5.0) == pytest.approx(14.88)
    assert compensated_v(14.4, -24.0, 45.0) == pytest.approx(13.92)
    assert compensated_v(28.8, -48.0, 5.0) == pytest.approx(29.76)
    assert compensated_v(14.4, -24.0, 25.0) == 14.4


@pytest.mark.parametrize(
    ("air", "heat", "share"),
    [(40.0, 1.0, 1.0), (50.0, 1.0, 0.75), (90.0, 1.0, 0.0), (60.0, 0.2, 1.0), (60.0, 0.6, 0.75)],
)
def test_heat(air: float, heat: float, share: float) -> None:
    """2.5 %/K over 40 °C, once warm: 10 K over cost a quarter. Cold inside it may stand in 60 °C; at 0.6 of its 25 K it is
    20 + 15 - 25 = 10 K over."""
    assert derated(2.5, 40.0, air, heat) == pytest.approx(share)
