"""What a value off its band does, said of lead and of lithium; what is not measured yet, by name."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.settings.limits import Held, makers_own, said_of
from olvask.core.stages.survey.readings import assumed
from tests.designs import design, vehicle

HELD = Held(absorption_v=14.4, float_v=13.6)


def battery(chemistry: str, **more: Any) -> Design:
    """A job with that battery."""
    return design(
        auxiliary={"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 30.0} | more
    )


@pytest.mark.parametrize(
    ("quantity", "side", "lead", "lithium"),
    [
        ("absorption_v", "high", "gasses and dries", "into their cut-off"),
        ("absorption_v", "low", "lead sulphates", "never gets it full."),
        ("float_v", "high", "corrodes its plates", "ages it fast"),
        ("float_v", "low", "against its own losses", "sinks to what that holds"),
        ("absorption_h", "high", "gasses it for nothing", "lithium kept full ages"),
        ("equalise_v", "high", "more than it stands", "no equalising on gel or lithium"),
    ],
)
def test_lead_and_lithium_are_told_apart(quantity: Any, side: Any, lead: str, lithium: str) -> None:
    """Each in its own words, and never in the other's; gel is lead but for equalising."""
    on_lead = said_of(battery("flooded").auxiliary, HELD, quantity, 15.0, side)
    on_lithium = said_of(battery("lfp").auxiliary, HELD, quantity, 15.0, side)
    assert lead in on_lead
    assert lithium in on_lithium
    assert (lithium in on_lead, lead in on_lithium) == (False, False)
    gel = said_of(battery("gel").auxiliary, HELD, quantity, 15.0, side)
    assert (lithium if quantity == "equalise_v" else lead) in gel


def test_compensation_is_told_where_it_hurts() -> None:
    """At the coldest the battery gets, else at −10 °C: 14.4 V + 35 K · 50 mV = 16.15 V; 45 K: 16.65 V. Too little: 14.4 V."""
    plain, cold = battery("agm").auxiliary, battery("agm", temperature_min_c=-20.0).auxiliary
    assert "16.15 V at -10 °C" in said_of(plain, HELD, "compensation_mv_per_k", -50.0, "low")
    assert "16.65 V at -20 °C" in said_of(cold, HELD, "compensation_mv_per_k", -50.0, "low")
    assert "still holds 14.40 V, too little for a cold lead battery" in said_of(
        plain, HELD, "compensation_mv_per_k", 0.0, "high"
    )


def missing(**changes: Any) -> set[str]:
    """What is not measured yet."""
    made = design(**changes)
    return set(assumed(made, Context.of(made).solved))


def test_what_would_sharpen_the_design() -> None:
    """Bonding only where the body does not bond by itself and nobody measured it; use and driving, unless both are known."""
    bonding, use = "bonding between the negatives", "daily use and driving hours"
    for chassis, asked in (
        ({"body": "metal_bonded"}, False),
        ({"body": "mixed"}, True),
        ({"body": "mixed", "bonding_mohm": 2.0}, False),
    ):
        assert (bonding in missing(vehicle=vehicle(chassis=chassis))) is asked
    assert use in missing(use={})
    assert use in missing(use={"daily_ah": 30.0})
    assert use in missing(use={"drive_h": 2.0})
    assert use not in missing(use={"daily_ah": 30.0, "drive_h": 2.0})
    bare = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0}
    assert "battery's charge limit" in missing(auxiliary=bare)
    assert "battery's charge limit" not in missing(auxiliary=bare | {"charge_limit_a": 30.0})


@pytest.mark.parametrize(
    ("nominal_v", "off_v", "own"), [(12, 0.05, True), (12, 0.055, False), (24, 0.1, True), (24, 0.11, False)]
)
def test_themakers_own_volts_within_half_a_tenth(nominal_v: int, off_v: float, own: bool) -> None:
    """A setting a twentieth of a volt beside the battery maker's is still theirs; twice that at 24 V."""
    pack = battery("agm", nominal_v=nominal_v, absorption_v=15.2 * nominal_v / 12).auxiliary
    assert makers_own(pack, "absorption_v", 15.2 * nominal_v / 12 + off_v) is own
    assert makers_own(pack, "float_v", 13.6 * nominal_v / 12) is False
