"""What of a line's values comes into question, and what follows where the wanted one is none of them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import gather
from olvask.core.model import AuxiliaryBattery, Design
from olvask.core.model.settings import Setting
from olvask.core.stages.settings.consequence import consequence
from olvask.core.stages.settings.wishes import Scales, Wanted, charge_wanted, read, scales_of, wish_for
from tests.designs import design, plain, vehicle

LFP = AuxiliaryBattery(chemistry="lfp", capacity_ah=100.0, absorption_v=14.2)
AGM = AuxiliaryBattery(chemistry="agm", capacity_ah=100.0)
ONE = Scales()


def line(means: str, unit: str = "V", **more: Any) -> Setting:
    """A line of numbers, 12 to 15 by 0.5 unless said otherwise."""
    made: dict[str, Any] = {
        "id": "it",
        "label": "It",
        "means": means,
        "unit": unit,
        "from_value": 12,
        "to_value": 15,
        "step": 0.5,
    }
    return Setting.model_validate(made | more)


@pytest.mark.parametrize(
    ("means", "wanted", "best"),
    [
        ("absorption_v", 14.2, 14.0),  # down: never above what was wanted, where both serve
        ("float_v", 13.4, 13.0),
        ("start_v", 13.2, 13.5),  # up: a start under the window starts on a resting battery
        ("stop_v", 13.1, 13.5),
        ("guard_v", 12.1, 12.5),
        ("rebulk_v", 13.2, 13.5),  # up: rather too soon than never
    ],
)
def test_the_safe_side(means: str, wanted: float, best: float) -> None:
    """Of the two neighbours the one on the side that harms less."""
    assert wish_for(line(means), Wanted(wanted), ONE, LFP).candidates[0] == best


def test_harm_outweighs_distance() -> None:
    """12.5 V never charge AGM, 14.8 V are a tenth over its range: wanted 14.4 V, 14.8 V it is; with 15.5 V instead, 13.9 V."""
    near = wish_for(line("absorption_v", steps=[12.5, 14.8]), Wanted(14.4), ONE, AGM)
    assert near.candidates[0] == 14.8
    far = wish_for(line("absorption_v", steps=[13.9, 15.5]), Wanted(14.4), ONE, AGM)
    assert far.candidates[0] == 13.9


@pytest.mark.parametrize(
    ("setting", "scales", "value", "worth"),
    [
        (line("absorption_v", per_block=True), Scales(output_blocks=2.0), 14.0, 28.0),
        (line("stop_v", per_block=True), Scales(output_blocks=1.0, input_blocks=2.0), 13.0, 26.0),
        (line("absorption_h", "min", from_value=0, to_value=480, step=30), ONE, 90.0, 1.5),
        (line("start_held_s", "min", from_value=0, to_value=10, step=1), ONE, 2.0, 120.0),
        (line("current_limit_a", "%", from_value=10, to_value=100, step=10), Scales(rated_a=40.0), 50.0, 20.0),
        (line("full_min", "s", from_value=0, to_value=600, step=30), ONE, 180.0, 3.0),
    ],
)
def test_what_a_line_is_worth(setting: Setting, scales: Scales, value: float, worth: float) -> None:
    """Blocks, minutes, per cent and seconds in the design's own units; what the wish asks for comes back the same."""
    assert read(setting, value, scales) == pytest.approx(worth)
    wish = wish_for(setting, Wanted(worth), scales, LFP)
    assert wish.candidates[0] == value
    assert wish.badness(value) == 0.0


@pytest.mark.parametrize(
    ("means", "wanted", "value", "said"),
    [
        ("absorption_v", 14.2, 14.2, ""),
        ("absorption_v", 14.2, 14.22, ""),  # a fiftieth of a volt is no difference
        ("absorption_v", 14.2, 14.5, "nearer to its cells' cut-off"),
        ("absorption_v", 14.2, 13.4, "it ends near 96 % of charge"),
        ("absorption_v", 14.2, 13.9, "gentler and slower at the end"),  # rests as full as can be
        ("float_v", 13.5, 13.9, "which ages it"),
        ("rebulk_v", 13.3, 12.8, "only below 10 % of charge"),
        ("current_limit_a", 20.0, 15.0, "below what was chosen"),
        ("current_limit_a", 20.0, 25.0, "mind cable and alternator"),
    ],
)
def test_what_follows(means: str, wanted: float, value: float, said: str) -> None:
    """13.4 V less 2 A over 6 mΩ are 13.388 V, at which lithium rests 30 % of the way from 95 % to full: 96.5 %."""
    job = Design.model_validate(plain(auxiliary=LFP.model_dump(mode="json")))
    unit = "A" if means == "current_limit_a" else "V"
    setting = line(means, unit, from_value=5, to_value=50, step=0.01) if unit == "A" else line(means, step=0.01)
    text = consequence(Context.of(job), setting, Wanted(wanted), value)
    assert (text == "") is (said == "")
    assert said in text


def test_what_follows_on_lead() -> None:
    """14.0 V for 14.4 V fills it, later; 12.7 V leaves it part empty; a word where a number is wanted is a choice."""
    ctx = Context.of(Design.model_validate(plain(auxiliary=AGM.model_dump(mode="json"))))
    setting = line("absorption_v", step=0.01)
    assert "slower at the end, and lead wants it full" in consequence(ctx, setting, Wanted(14.4), 14.0)
    assert "it ends near" in consequence(ctx, setting, Wanted(14.4), 12.7)
    assert consequence(ctx, setting, Wanted("agm"), "gel") == ""
    assert consequence(ctx, setting, Wanted("agm"), 14.0) == ""
    switch = line("absorption_v", kind="switch")
    assert consequence(ctx, switch, Wanted("on"), "off") == "It stays off."
    timed = line("absorption_h", "h", from_value=0, to_value=20, step=0.5)
    assert consequence(ctx, timed, Wanted(2.0), 8.0).endswith(", it ends at another moment.")
    frozen = line("cold_c", "°C", from_value=-30, to_value=20, step=1)
    assert "moment" not in consequence(ctx, frozen, Wanted(0.0), -20.0)


def test_a_tail_is_weighed_as_a_share_of_the_battery() -> None:
    """20 A of tail on 100 Ah end absorption at a fifth: harm, where 4 A wanted are none; 5 A for 4 A are an ampere off."""
    setting = line("tail_a", "A", from_value=0, to_value=50, step=0.1)
    wish = wish_for(setting, Wanted(4.0), ONE, AGM)
    assert wish.badness(5.0) < wish.badness(20.0)
    assert wish.badness(20.0) > 16.0 + wish.badness(4.0)


@pytest.mark.parametrize(
    ("means", "unit", "wanted", "value", "bad"),
    [
        ("absorption_v", "V", 14.4, 14.3, 2.0),  # two of what a meter would notice, on the safe side
        ("absorption_v", "V", 14.4, 14.5, 40.0),  # twenty times as bad above
        ("float_v", "V", 13.5, 13.4, 2.0),
        ("rebulk_v", "V", 12.8, 12.9, 1.0),
        ("rebulk_v", "V", 12.8, 12.7, 20.0),
        ("absorption_h", "h", 2.0, 2.5, 2.0),
        ("bulk_h", "h", 8.0, 10.0, 2.0),
        ("bulk_h", "h", 8.0, 7.0, 20.0),
        ("current_limit_a", "A", 20.0, 19.0, 1.0),
        ("current_limit_a", "A", 20.0, 21.0, 20.0),
        ("equalise_v", "V", 15.5, 15.4, 1.0),
        ("equalise_v", "V", 15.5, 15.7, 40.0),
        ("equalise_days", "days", 30.0, 37.0, 1.0),
        ("start_held_s", "s", 10.0, 15.0, 1.0),
        ("stop_held_s", "s", 30.0, 25.0, 1.0),
        ("guard_held_s", "s", 2.0, 3.0, 1.0),
        ("start_v", "V", 13.3, 13.4, 2.0),
        ("start_v", "V", 13.3, 13.2, 40.0),
        ("guard_v", "V", 12.2, 12.1, 40.0),
        ("capacity_ah", "Ah", 100.0, 105.0, 1.0),
        ("efficiency_percent", "%", 85.0, 87.0, 1.0),
        ("full_v", "V", 14.2, 14.3, 40.0),
    ],
)
def test_how_bad_a_neighbour_is(means: str, unit: str, wanted: float, value: float, bad: float) -> None:
    """In steps of what would be noticed; on the side that harms twenty times as much; nothing where it is met."""
    setting = line(means, unit, from_value=0, to_value=200, step=0.01)
    wish = wish_for(setting, Wanted(wanted), ONE, AGM)
    assert wish.badness(value) == pytest.approx(bad)
    assert wish.badness(wanted) == 0.0


def test_twice_the_volts_are_noticed_half_as_soon() -> None:
    """At 24 V what matters of the battery's volts is twice as much; of the input's it stays."""
    large = AuxiliaryBattery(chemistry="agm", capacity_ah=100.0, nominal_v=24)
    setting = line("absorption_v", from_value=0, to_value=60, step=0.01)
    assert wish_for(setting, Wanted(28.8), ONE, large).badness(28.7) == pytest.approx(1.0)
    start = line("start_v", from_value=0, to_value=60, step=0.01)
    assert wish_for(start, Wanted(26.6), ONE, large).badness(26.7) == pytest.approx(2.0)


def test_harm_is_added_where_the_wanted_value_does_none() -> None:
    """A hundred for what is cautioned against, ten thousand for a stop; a tail by its share of the capacity."""
    setting = line("absorption_v", from_value=0, to_value=60, step=0.01)
    wish = wish_for(setting, Wanted(14.4), ONE, AGM)
    assert wish.badness(12.5) > 10_000
    assert wish.badness(14.3) < 100
    tail = line("tail_a", "A", from_value=0, to_value=200, step=0.1)
    assert wish_for(tail, Wanted(2.0), ONE, AGM).badness(60.0) > 100


def test_scales_of_a_job() -> None:
    """Blocks of 12 V on either side, the unit's amperes, the battery's hours."""
    readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
    truck = Design.model_validate(plain(vehicle=vehicle(system_v=24, readings=readings)))
    assert scales_of(truck) == Scales(output_blocks=1.0, input_blocks=2.0, rated_a=25.0, capacity_ah=110.0)
    assert scales_of(Design.model_validate(plain(charger=None))).rated_a == 1.0


def test_what_differs_is_told_in_its_unit() -> None:
    """Hours, amperes, days, volts, seconds, mV/K, degrees: each figure bears its own."""
    ctx = Context.of(Design.model_validate(plain(auxiliary=AGM.model_dump(mode="json"))))
    for means, unit in (
        ("absorption_h", "h"),
        ("tail_a", "A"),
        ("equalise_days", "days"),
        ("guard_v", "V"),
        ("start_held_s", "s"),
        ("compensation_mv_per_k", "mV/K"),
        ("cold_c", "°C"),
    ):
        text = consequence(ctx, line(means, unit=unit, from_value=0, to_value=500, step=1), Wanted(10.0), 90.0)
        assert text.startswith(f"It: 90 {unit} instead of 10 {unit}")


@pytest.mark.parametrize(("nominal_v", "told"), [(12, True), (24, False)])
def test_what_matters_counts_by_blocks(nominal_v: int, told: bool) -> None:
    """Seven hundredths of a volt are worth a word on 12 V, and on twice the volts are half as much."""
    scale = nominal_v / 12
    job = Design.model_validate(plain(auxiliary={"chemistry": "lfp", "capacity_ah": 100.0, "nominal_v": nominal_v}))
    said = consequence(Context.of(job), line("absorption_v"), Wanted(14.2 * scale), 14.2 * scale - 0.07)
    assert bool(said) is told


def test_a_source_counts_its_battery_by_blocks_of_12_v() -> None:
    """A solar controller of a 24 V bank that is keyed per block takes 14.2 V for 28.4 V."""
    assert Scales(output_blocks=2.0).factor(line("absorption_v", per_block=True)) == 2.0
    assert Scales().capacity_ah == 100.0


def test_each_of_several_units_ends_at_its_share_of_the_tail() -> None:
    """5 A of tail into 100 Ah by two units are 2.5 A of each, in amperes or in per cent of its 25 A; volts are not shared."""
    job = design(units=2, auxiliary={"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 60.0})
    scales = scales_of(job)
    wanted = charge_wanted(job, gather(job))["tail_a"]
    assert (wanted.value, wanted.why) == (5.0, "5 % of its capacity, shared by 2 units")
    for unit, each in (("A", 2.5), ("%", 10.0)):
        setting = line("tail_a", unit, from_value=0, to_value=50, step=0.5)
        assert wish_for(setting, wanted, scales, job.auxiliary).candidates[0] == each
        assert read(setting, each, scales) == pytest.approx(5.0)
    assert scales.factor(line("absorption_v")) == 1.0
