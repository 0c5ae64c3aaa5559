"""Small rules that no scenario leans on, each by hand: what is asked of the trade's tables, and what is left when nothing is."""

from __future__ import annotations

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.vehicle import Load
from olvask.core.physics.battery import charge_at_rest
from olvask.core.stages.match.direct_link import contrast_link
from olvask.core.stages.settings.ending import ending_of
from olvask.core.stages.settings.monitor import monitor_of
from olvask.core.stages.survey.sums import daily_need, days_to_flat
from olvask.core.stages.wake.method import advise
from tests.designs import cable, charger, design, fuse, vehicle

FAN = {"kind": "branch", "feeds": "fan", "name": "fan", "current_a": 6.0, "device": fuse(10.0, "blade")}


def said(made: Design) -> dict[str, str]:
    """Level of each finding."""
    return {item.id: item.level for item in assess(made, remedies=False).findings}


def test_a_branch_is_carried_by_the_fuse_above_a_stud() -> None:
    """What goes through it is the unit's current and the fan's six amperes, not their difference."""
    point = {"kind": "fused_stud", "rating_a": None}
    made = design(vehicle=vehicle(source_point=point), supply={"pieces": [fuse(60.0), cable(), FAN]})
    text = next(item.text for item in assess(made, remedies=False).findings if item.id == "match.stud_unknown")
    unit_a = Context.of(made).continuous_a("supply")
    assert text.startswith(f"{unit_a + 6.0:.1f} A go through it")


def test_what_a_link_makes_warm() -> None:
    """I²·R of the cables alone, never more than the volts that drive it times its current."""
    ctx = Context.of(design())
    found = contrast_link(ctx)
    assert found is not None
    wire_ohm = sum(ctx.state(run).loop_ohm for run in ("supply", "delivery"))
    assert found.loss_w == pytest.approx(found.link_a**2 * wire_ohm, rel=0.1)  # the runs are a little warmer at work
    assert found.loss_w < found.link_a * 3.0


def test_no_tail_ends_by_the_clock() -> None:
    """A tail of nothing is never met: the longest time ends absorption, as with one that is hardly anything."""

    def ends(tail_a: float) -> float:
        found = ending_of(Context.of(design(charge={"tail_a": tail_a, "absorption_h": 2.0})))
        assert found is not None
        return found[0]

    assert ends(0.0) == pytest.approx(ends(1e-6))
    assert ends(0.0) < ends(20.0)


@pytest.mark.parametrize(("nominal_v", "volts"), [(12, 12.5), (24, 25.0)])
def test_rested_volts_allow_a_band_of_charge(nominal_v: int, volts: float) -> None:
    """The chemistry's tolerance either side, for 12 V as the table has it, twice that for 24 V."""
    battery = {"chemistry": "agm", "nominal_v": nominal_v, "capacity_ah": 110.0, "charge_limit_a": 30.0}
    found = monitor_of(Context.of(design(auxiliary=battery, monitor={"rested_v": volts})))
    tolerance_v = chemistries()["agm"].rest_tolerance_v * nominal_v / 12
    band = [charge_at_rest("agm", volts + sign * tolerance_v, nominal_v) for sign in (-1, 1)]
    assert [found.charge_low, found.charge_high] == pytest.approx(band)


def test_a_tail_reached_is_judged_by_its_share() -> None:
    """5 A wanted, 4 A at most of the menu: 3.6 % of 110 Ah ends it well, and is only worth a note."""
    line = {"id": "tail", "label": "Tail", "means": "tail_a", "unit": "A"}
    menu = {"lines": [line | {"from_value": 1.0, "to_value": 4.0, "step": 0.5, "factory": 2.0}]}
    made = Design.model_validate(design(charger=charger(settings=menu), charge={"tail_a": 5.0}).model_dump(mode="json"))
    assert said(made)["settings.reach.tail"] == "note"


def test_half_an_hour_of_an_inverter_counts_its_own_draw() -> None:
    """It idles while its load runs, however short that is."""
    load = Load(id="l", name="kettle", power_w=800.0, standing_h=0.5, duty=1.0, fed="inverter")
    need = daily_need([load], 12)
    assert "the inverter's own" in need.formula
    assert need.working.count("· 0.5 h") == 2  # the load's and the inverter's
    assert "the inverter's own" not in daily_need([load.model_copy(update={"fed": "battery"})], 12).formula


def test_a_start_battery_alone_is_told_in_days() -> None:
    """30 mA from 100 Ah, 90 to 60 %: 30 Ah at 0.72 Ah a day and what it loses by itself."""
    loss_ah = chemistries()["flooded"].self_discharge_per_month * 100 / 30
    found = days_to_flat("flooded", 100.0, 0.9, 0.6, 30.0, 0.0, 0.0)
    assert f"after {30 / (0.72 + loss_ah):.0f} days" in found.text


@pytest.mark.parametrize(
    ("chemistry", "place", "finding"),
    [
        ("flooded", "cabin", "survey.venting"),
        ("flooded", "", "survey.venting_unknown"),
        ("flooded", "outside", ""),
        ("flooded", "vented_box", ""),
        ("lfp", "cabin", ""),
        ("lfp", "", ""),
    ],
)
def test_where_cells_may_stand(chemistry: str, place: str, finding: str) -> None:
    """Flooded cells give off gas: not in the cabin, and asked for where nothing is noted; lithium does not."""
    battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0, "place": place}
    found = {key for key in said(design(auxiliary=battery)) if key.startswith("survey.venting")}
    assert found == ({finding} if finding else set())


def test_only_a_bridge_closes_the_terminals() -> None:
    """Of ways that work together without one nothing is said of a bridge."""
    for item in advise(design(activation={"ways": ["d_plus"]})).methods:
        assert ("the bridge only closes" in " ".join(item.speaks_for)) is False, item.key
