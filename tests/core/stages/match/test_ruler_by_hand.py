"""The limits ruler bar by bar, against sums by hand; resistances of the runs are taken as the circuit has them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import Cable
from olvask.core.stages.match.limits import Limit, alternator_budgets, ruler_of, site_a, turn_down
from tests.designs import cable, charger, design, fuse, vehicle

ALTERNATOR = {
    "rated_a": 120.0,
    "regulation": "fixed",
    "loads_idle_a": 15.0,
    "loads_cruise_a": 35.0,
    "sag_mohm": 2.0,
    "hot_idle_share": 0.6,
}


def bars(**changes: Any) -> tuple[dict[str, Limit], Context]:
    """Every bar of the plain job with parts replaced."""
    ctx = Context.of(design(**changes))
    return {limit.key: limit for limit in ruler_of(ctx, None).limits}, ctx


def test_what_the_alternator_may_give() -> None:
    """Half of 120 A; eight tenths of 0.6 · 120 − 15 A at hot idle, of 0.9 · 120 − 35 A at cruise; a converter gives all."""
    plain = Context.of(design(vehicle=vehicle(alternator=ALTERNATOR)))
    assert alternator_budgets(plain.design, plain.facts) == pytest.approx((60.0, 45.6, 58.4))
    converter = Context.of(design(vehicle=vehicle(alternator=ALTERNATOR, drive="converter")))
    assert alternator_budgets(converter.design, converter.facts).cruise_a == pytest.approx(0.8 * (120 - 35))
    spent = ALTERNATOR | {"loads_idle_a": 90.0, "loads_cruise_a": 130.0}
    heavy = Context.of(design(vehicle=vehicle(alternator=spent)))
    assert alternator_budgets(heavy.design, heavy.facts) == pytest.approx((60.0, 0.0, 0.0))
    budgets = alternator_budgets(plain.design, plain.facts)
    assert (budgets.of("share"), budgets.of("surplus")) == pytest.approx((60.0, 45.6))


def test_alternator_bars_are_output_amperes() -> None:
    """13.9 V less what sag and run lose, times the amperes, times 0.9, over the output's volts."""
    found, ctx = bars(vehicle=vehicle(alternator=ALTERNATOR))
    output = ctx.solved.output
    assert output is not None
    idle, cruise = ctx.solved.running
    for key, input_a, state, regulated_v in (
        ("alternator_share", 60.0, idle, 13.9),
        ("alternator_surplus", 45.6, idle, 13.9),
        ("alternator_cruise", 58.4, cruise, 14.2),
    ):
        terminal_v = regulated_v - input_a * (0.002 + state.run.loop_ohm)
        assert found[key].amps == pytest.approx(terminal_v * input_a * 0.9 / output.terminal_v, rel=1e-6)
    assert [found[key].governs for key in ("alternator_share", "alternator_surplus", "alternator_cruise")] == [
        False,
        True,
        False,
    ]
    by_share, _ = bars(choices={"alternator_school": "share"})
    assert by_share["alternator_share"].governs
    assert not by_share["alternator_surplus"].governs


def test_what_the_supply_run_holds() -> None:
    """(13.9 − hold) / R at the hold's volts, as output; nothing where the regulator itself is below the hold."""
    found, ctx = bars()
    output, worst = ctx.solved.output, ctx.solved.worst_healthy
    assert output is not None
    run_ohm = 0.002 + worst.run.loop_ohm
    power_w = ctx.hold_v * (worst.source.regulated_v - ctx.hold_v) / run_ohm
    assert found["supply_volts"].amps == pytest.approx(power_w * 0.9 / output.terminal_v, rel=1e-6)
    unlaid, _ = bars(supply={"pieces": []})
    assert "supply_volts" not in unlaid
    assert "supply_cable" not in unlaid


def test_stud_cable_and_terminal() -> None:
    """A stud of 80 A carries 64 A; cables four fifths of their ampacity, the smallest counts; units share the terminals' sum."""
    stud = vehicle(source_point={"kind": "fused_stud", "rating_a": 80.0})
    found, ctx = bars(
        vehicle=stud,
        supply={"pieces": [fuse(60.0), cable("35 mm²", 1.0), cable("16 mm²", 1.0)]},
        delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)]},
    )
    output = ctx.solved.output
    assert output is not None
    per_ampere = ctx.stay_v * 0.9 / output.terminal_v
    assert found["source"].amps == pytest.approx(80 / 1.25 * per_ampere, rel=1e-6)
    delivery_a = found["delivery_cable"].amps
    assert delivery_a is not None
    # The same cable in the same air carries the same on either run: at the input as many amperes as at the output.
    assert found["supply_cable"].amps == pytest.approx(delivery_a * per_ampere, rel=1e-6)
    two, other = bars(units=2)
    assert other.solved.output is not None
    one, _ = bars()
    share = min(1.0, other.stay_v * 0.9 / other.solved.output.terminal_v)
    single, single_ctx = bars()
    assert single_ctx.solved.output is not None
    single_share = min(1.0, single_ctx.stay_v * 0.9 / single_ctx.solved.output.terminal_v)
    assert two["terminal"].amps == pytest.approx(2 * (one["terminal"].amps or 0) / single_share * share, rel=1e-6)
    assert "source" not in single
    assert "source" not in bars(vehicle=vehicle(source_point={"kind": "battery_post", "rating_a": 80.0}))[0]


def test_a_step_down_unit_is_bound_by_its_output_terminal() -> None:
    """Where an ampere in gives more than one out (24 V to 12 V), the terminal's own amperes are the most."""
    down = charger(
        settable=None, input_nominal_v=24, input_min_v=18.0, input_max_v=34.0, enables=["ignition", "d_plus"]
    )
    readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
    found, ctx = bars(charger=down, vehicle=vehicle(system_v=24, readings=readings), activation={"ways": ["d_plus"]})
    assert ctx.solved.output is not None
    assert ctx.stay_v * 0.9 / ctx.solved.output.terminal_v > 1.5
    carried_a, _ = ampacity(Cable(size="25 mm²", length_m=0.3, ambient_c=25.0), "enclosed")
    assert found["terminal"].amps == pytest.approx(carried_a / 1.25, rel=1e-6)


@pytest.mark.parametrize(("celsius", "units", "amps"), [(25.0, 1, 25.0), (50.0, 1, 18.75), (50.0, 2, 37.5)])
def test_its_own_heat(celsius: float, units: int, amps: float) -> None:
    """25 A, 2.5 % a kelvin less above 40 °C; units add."""
    record = charger(derating_percent_per_k=2.5, rated_ambient_c=40.0)
    found, _ = bars(charger=record, units=units, mount={"place": "cabin", "ambient_c": celsius})
    assert found["heat"].amps == pytest.approx(amps)
    assert found["heat"].text.startswith("2 × full" if units == 2 else "full")


def test_the_battery_and_what_guards_it() -> None:
    """30 A as entered; 20 A where its management cuts there; a looser one changes nothing."""
    battery = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 30.0, "absorption_v": 14.2}
    assert bars(auxiliary=battery)[0]["battery"].amps == 30.0
    tight, _ = bars(auxiliary=battery | {"management": {"charge_max_a": 20.0}})
    assert tight["battery"].amps == 20.0
    assert "cuts charging above" in tight["battery"].text
    assert bars(auxiliary=battery | {"management": {"charge_max_a": 60.0}})[0]["battery"].amps == 30.0


def test_what_others_take_of_the_battery() -> None:
    """30 A less 12 A of a built-in charger are 18 A; 40 A of it leave nothing, and less than nothing is not told."""
    for charge_a, left_a in ((12.0, 18.0), (29.5, 0.5), (40.0, 0.0)):
        found, _ = bars(existing=[{"kind": "built_in_charger", "charge_a": charge_a}])
        assert found["battery"].amps == pytest.approx(left_a)
        assert f"less {charge_a:.1f} A of other sources" in found["battery"].text


def test_alternator_bars_by_their_names() -> None:
    """Share of the rating, what hot idle leaves: each under its own name, and the school's one governs."""
    found, _ = bars(choices={"alternator_school": "surplus"})
    assert (found["alternator_share"].label, found["alternator_share"].governs) == (
        "Alternator, share of rating",
        False,
    )
    assert (found["alternator_surplus"].label, found["alternator_surplus"].governs) == (
        "Alternator, left at hot idle",
        True,
    )


def test_the_least_that_governs_binds_alone() -> None:
    """One bar binds, it is the least of those that govern, and the ruler allows its amperes."""
    for changes in ({}, {"units": 2}, {"current_limit_a": 10.0}, {"vehicle": vehicle(alternator=ALTERNATOR)}):
        ctx = Context.of(design(**changes))
        ruler = ruler_of(ctx, 7.0)
        (binding,) = (limit for limit in ruler.limits if limit.binding)
        assert binding.amps == min(limit.amps for limit in ruler.limits if limit.governs and limit.amps is not None)
        assert (ruler.binding, ruler.allowed_a, ruler.floor_a) == (binding.key, binding.amps, 7.0)
        of_site = [limit.amps for limit in ruler.limits if limit.key in ("battery", "alternator_surplus")]
        assert ruler.site_a == site_a(ctx) == min(amps for amps in of_site if amps is not None)


def test_without_a_unit_the_battery_alone_is_told() -> None:
    """Nothing else can be worked out."""
    found, _ = bars(charger=None)
    assert set(found) == {"battery"}


@pytest.mark.parametrize(
    ("wanted_a", "units", "words"),
    [
        (12.0, 1, "Turn the unit down to 12 A"),
        (24.0, 2, "Turn each unit down to 12 A"),
        (12.3456, 1, "Turn the unit down to 12.34 A"),
        (25.0, 1, None),
        (40.0, 1, None),
        (3.0, 1, None),
    ],
)
def test_turned_down_as_far_as_it_goes(wanted_a: float, units: int, words: str | None) -> None:
    """Down to its least of 5 A in hundredths, never up; nothing where its full output is wanted."""
    unit = design().charger
    assert unit is not None
    found = turn_down(unit, wanted_a, units)
    assert (found.label if found is not None else None) == words


def test_how_much_of_the_alternator_is_taken() -> None:
    """What the unit draws at hot idle and the vehicle's own 15 A, of 120 A."""
    job = design(vehicle=vehicle(alternator=ALTERNATOR))
    drawn = Context.of(job).solved.running[0].drawn
    assert drawn is not None
    percent = assess(job, remedies=False).figures["match.alternator_load_percent"].value
    assert percent == pytest.approx(100 * (drawn.current_a + 15.0) / 120.0)


LAMP = {"kind": "branch", "name": "lamp", "current_a": 12.0, "size": "6 mm²", "device": fuse(30.0, "blade")}
BESIDE: list[tuple[str, dict[str, Any]]] = [
    ("a fridge", {"existing": [{"kind": "fridge_feed", "charge_a": 12.0}]}),
    ("a branch", {"supply": {"pieces": [fuse(60.0), cable(), LAMP]}}),
]


@pytest.mark.parametrize(("what", "job"), BESIDE, ids=[what for what, _ in BESIDE])
def test_whatever_else_draws_is_no_longer_left(what: str, job: dict[str, Any]) -> None:
    """12 A on 120 A: eight tenths of them less to spare at idle and cruise, a tenth more load; a share leaves the rest alone."""
    plain, laden = assess(design()), assess(design(**job))
    without, besides = Context.of(design()), Context.of(design(**job))
    budgets = alternator_budgets(without.design, without.facts)
    left = alternator_budgets(besides.design, besides.facts)
    assert budgets.share_a == left.share_a
    assert budgets.surplus_a - left.surplus_a == pytest.approx(9.6)
    assert budgets.cruise_a - left.cruise_a == pytest.approx(9.6)
    worked = [found.figures["match.alternator_surplus_a"].working for found in (plain, laden)]
    assert "− 12.0 A)" in worked[1]
    assert "− 0.0 A" not in worked[0]
    percent = [found.figures["match.alternator_load_percent"].value or 0.0 for found in (plain, laden)]
    assert percent[1] - percent[0] == pytest.approx(10.0, abs=0.4)


def test_what_the_supply_run_holds_is_what_a_branch_leaves() -> None:
    """At the output that the bar allows the unit stands right at the volts it has to hold, its branch drawing too."""
    supply = {"pieces": [fuse(100.0), cable("6 mm²", 5.0), LAMP]}
    found, ctx = bars(supply=supply)
    amps = found["supply_volts"].amps
    assert amps is not None
    unit = charger(output_a=round(amps, 3), current_limit="none")
    at_most = Context.of(design(supply=supply, charger=unit))
    drawn = at_most.solved.worst_healthy.drawn
    assert drawn is not None
    assert drawn.terminal_v == pytest.approx(ctx.hold_v, abs=0.6)


@pytest.mark.parametrize("key", ["source", "supply_cable"])
def test_cable_and_stud_carry_what_branches_take_as_well(key: str) -> None:
    """12 A more on both: the unit's own share is the less by them, as the judges of cable and stud reckon."""
    stud = vehicle(source_point={"kind": "fused_stud", "rating_a": 80.0})
    bare = {"pieces": [fuse(60.0), cable()]}
    without, ctx = bars(vehicle=stud, supply=bare)
    besides, laden = bars(vehicle=stud, supply={"pieces": [*bare["pieces"], LAMP]})
    output = ctx.solved.output
    assert output is not None
    per_input = 0.9 / output.terminal_v
    for found, seen, branches_a in ((without, ctx, 0.0), (besides, laden, 12.0)):
        carried = 80.0 if key == "source" else ampacity(Cable.model_validate(cable()), "enclosed")[0]
        assert found[key].amps == pytest.approx((carried / 1.25 - branches_a) * seen.stay_v * per_input, rel=1e-3)


def test_the_tightest_cable_is_the_one_that_leaves_least() -> None:
    """A thick one ahead of a 60 A branch may leave less than a thinner one behind it."""
    heavy = LAMP | {"current_a": 60.0, "size": "25 mm²", "device": fuse(80.0)}
    found, ctx = bars(supply={"pieces": [fuse(100.0), cable("25 mm²"), heavy, cable("16 mm²", 1.0)]})
    first, second = (ampacity(Cable.model_validate(cable(size)), "enclosed")[0] for size in ("25 mm²", "16 mm²"))
    assert first / 1.25 - 60.0 < second / 1.25
    assert ctx.solved.output is not None
    assert found["supply_cable"].amps == pytest.approx(
        (first / 1.25 - 60.0) * ctx.stay_v * 0.9 / ctx.solved.output.terminal_v, rel=1e-3
    )


def on_the_road(loads_a: float, **changes: Any) -> Any:
    """The plain job, started by D+, with more or less drawn at cruise than at idle."""
    return design(
        vehicle=vehicle(alternator=ALTERNATOR | {"loads_cruise_a": loads_a}), activation={"ways": ["d_plus"]}, **changes
    )


def test_the_road_may_leave_less_than_idle() -> None:
    """0.8 · (0.9 · 120 − 85 A) are 18.4 A at cruise, 45.6 A at idle: the less of both is the budget, and its bar governs."""
    ctx = Context.of(on_the_road(85.0))
    budgets = alternator_budgets(ctx.design, ctx.facts)
    assert (budgets.of("surplus"), budgets.of("share")) == pytest.approx((18.4, 60.0))
    ruler = ruler_of(ctx, None)
    bar = next(limit for limit in ruler.limits if limit.key == "alternator_cruise")
    assert (bar.governs, bar.binding, bar.text) == (True, True, "18.4 A left at cruise; less than at hot idle")
    assert ruler.site_a == bar.amps
    shared = ruler_of(Context.of(on_the_road(85.0, choices={"alternator_school": "share"})), None)
    assert not next(limit for limit in shared.limits if limit.key == "alternator_cruise").governs


@pytest.mark.parametrize(
    ("loads_a", "said"),
    [
        (60.0, None),  # 48 A left, 38.4 A the budget; the unit takes some 28 A
        (75.0, "match.alternator_budget"),  # 33 A left, 26.4 A the budget
        (90.0, "match.alternator_overrun"),  # 18 A left
    ],
)
def test_what_cruise_cannot_feed_is_told_and_turned_down(loads_a: float, said: str | None) -> None:
    """Idle leaves 57 A in each; the way out is a setting that the road feeds within its budget."""
    job = on_the_road(loads_a)
    found = {item.id: item for item in assess(job).findings if item.id.startswith("match.alternator")}
    assert set(found) == ({said} if said else set())
    if said is None:
        return
    left_a = 108 - loads_a
    assert (f"At cruise {left_a:.1f} A are left" if said.endswith("overrun") else f"is {0.8 * left_a:.1f} A") in found[
        said
    ].text
    assert "cruise" in found[said].text
    (way,) = found[said].remedies
    again = assess(apply(job, way))
    assert not [item.id for item in again.findings if item.id.startswith("match.alternator")]


def test_a_share_of_the_rating_says_nothing_of_the_road_until_it_cannot_feed_it() -> None:
    """By share 60 A are allowed at any loads; what 18 A cannot feed is a stop by either school."""
    for loads_a, said in ((75.0, set()), (90.0, {"match.alternator_overrun"})):
        found = assess(on_the_road(loads_a, choices={"alternator_school": "share"}), remedies=False).findings
        assert {item.id for item in found if item.id.startswith("match.alternator")} == said


def test_a_shut_box_hotter_than_any_cable_stands_is_answered() -> None:
    """A large, lossy unit that heat takes nothing off comes to far over 120 °C in a small shut box: no terminal carries there."""
    shut = {"place": "cupboard", "around": "shut", "width_mm": 300.0, "height_mm": 300.0, "depth_mm": 200.0}
    found, ctx = bars(charger=charger(output_a=200.0, efficiency=0.7, derating_percent_per_k=0.0), mount=shut)
    assert float(ctx.facts.unit_ambient.value) > 120.0
    assert found["terminal"].amps == 0.0
