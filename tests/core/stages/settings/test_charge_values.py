"""Every absurd charge value gets its level, in every chemistry and at every voltage; every right one gets none."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.solve import solve
from olvask.core.findings.remedy import apply
from olvask.core.model import AuxiliaryBattery, Design
from olvask.core.physics.battery import open_circuit_v
from olvask.core.simulate.profile import profile_of
from olvask.core.stages.settings.limits import Held, harms_of, off_band
from tests.designs import charger, plain

Table = dict[str, dict[str, tuple[tuple[float | None, ...], str]]]
# Per 12 V and 100 Ah: far low, low, right, high, far high, with what each is called. Makers' sheets and the trade's
# rules of thumb, reasoned one by one: `!` a stop, `?` a caution, `-` nothing, `.` there is no such value.
VOLTS: Table = {
    # quantity: chemistry: five values, five levels
    "absorption_v": {
        "flooded": ((12.6, 14.0, 14.6, 14.95, 15.6), "!?-?!"),  # 12.6 V is under a full one's rest; 15.6 V boils it
        "agm": ((12.8, 14.0, 14.5, 14.9, 15.5), "!?-?!"),
        "gel": ((12.8, 13.7, 14.2, 14.6, 15.2), "!?-?!"),
        "lfp": ((13.0, 13.7, 14.2, 14.8, 15.4), "!?-?!"),  # 13.0 V is a resting plateau; cells open past 3.65 V
    },
    "float_v": {
        "flooded": ((12.0, 12.7, 13.6, 14.1, 15.0), "!?-?!"),
        "agm": ((12.0, 12.8, 13.6, 14.05, 15.0), "!?-?!"),
        "gel": ((12.0, 12.8, 13.7, 14.0, 15.0), "!?-?!"),
        "lfp": ((12.0, 12.8, 13.5, 14.0, 15.0), "??-?!"),  # a low store only stores less
    },
    "equalise_v": {
        "flooded": ((13.5, 14.7, 15.5, 16.2, 17.0), "!?-?!"),
        "agm": ((13.5, 14.6, 14.7, 15.0, 16.0), "!?-?!"),
        "gel": ((14.0, 14.2, None, 15.0, 16.0), "!!.!!"),  # none at all on gel
        "lfp": ((14.0, 14.2, None, 15.0, 16.0), "!!.!!"),
    },
    "compensation_mv_per_k": {
        "flooded": ((-90, -50, -24, -6, 0), "!?-??"),
        "agm": ((-90, -50, -24, -6, 0), "!?-??"),
        "gel": ((-90, -50, -24, -6, 0), "!?-??"),
        "lfp": ((-24, -4, 0, None, None), "!?-.."),  # 24 mV/K at -10 °C is 0.84 V too much
    },
    "rebulk_v": {
        "flooded": ((11.7, 12.0, 12.8, 13.58, 13.7), "!?-?!"),  # 12.0 V is a third full; over float it comes and goes
        "agm": ((11.7, 12.1, 12.8, 13.58, 13.7), "!?-?!"),
        "gel": ((11.7, 12.1, 12.8, 13.68, 13.8), "!?-?!"),
        "lfp": ((12.5, 13.05, 13.3, 13.47, 13.6), "!?-?!"),
    },
}
PLAIN: Table = {
    "absorption_h": {
        "flooded": ((0.0, 0.5, 2.0, 10.0, 20.0), "!?-?!"),
        "agm": ((0.0, 0.5, 2.0, 10.0, 20.0), "!?-?!"),
        "gel": ((0.0, 0.5, 2.5, 12.0, 24.0), "!?-?!"),
        "lfp": ((0.0, 0.25, 0.5, 6.0, 20.0), "---?!"),  # lithium needs none
    },
    "tail_a": {
        "flooded": ((0.1, 0.2, 2.0, 10.0, 40.0), "??-?!"),
        "agm": ((0.1, 0.2, 2.0, 10.0, 40.0), "??-?!"),
        "gel": ((0.1, 0.2, 2.0, 10.0, 40.0), "??-?!"),
        "lfp": ((0.1, 0.4, 5.0, 25.0, 60.0), "??-?!"),
    },
    "cold_c": {
        "flooded": ((None, None, -20.0, 10.0, 30.0), "..-?!"),
        "agm": ((None, None, -20.0, 10.0, 30.0), "..-?!"),
        "gel": ((None, None, -20.0, 10.0, 30.0), "..-?!"),
        "lfp": ((-20.0, -4.0, 3.0, 18.0, 30.0), "!?-?!"),
    },
    "hot_c": {
        "flooded": ((22.0, 30.0, 45.0, 58.0, 75.0), "!?-?!"),
        "agm": ((22.0, 30.0, 45.0, 58.0, 75.0), "!?-?!"),
        "gel": ((22.0, 30.0, 45.0, 58.0, 75.0), "!?-?!"),
        "lfp": ((22.0, 30.0, 45.0, 55.0, 75.0), "!?-?!"),
    },
}
LEVELS = {"!": "stop", "?": "caution", "-": None}
NAMED = {"absorption_v": "settings.absorption_", "float_v": "settings.float_", "equalise_v": "settings.equalise_"}
NAMED |= {"compensation_mv_per_k": "settings.compensation_", "rebulk_v": "settings.rebulk_"}
NAMED |= {
    "absorption_h": "settings.absorption_",
    "tail_a": "settings.tail_",
    "cold_c": "settings.cold_",
    "hot_c": "settings.hot_",
}
ROWS = [
    (nominal_v, quantity, chemistry, value * (nominal_v / 12 if table is VOLTS else 1.0), LEVELS[mark])
    for table in (VOLTS, PLAIN)
    for quantity, by_chemistry in table.items()
    for chemistry, (values, marks) in by_chemistry.items()
    for value, mark in zip(values, marks, strict=True)
    if value is not None
    for nominal_v in (12, 24, 48)
]


def job(nominal_v: int, quantity: str, chemistry: str, value: float) -> Design:
    """A sound job with one quantity of the unit's profile set."""
    scale = nominal_v / 12
    battery: dict[str, Any] = {"chemistry": chemistry, "nominal_v": nominal_v, "capacity_ah": 100.0}
    battery |= {"low_temperature_cut_off": False, "temperature_min_c": 5.0}
    charge: dict[str, Any] = {quantity: value}
    if quantity == "equalise_v":
        charge["equalise"] = True
    unit = charger(output_nominal_v=nominal_v, output_min_v=11.5 * scale, output_max_v=17.0 * scale)
    return Design.model_validate(plain(auxiliary=battery, charger=unit, charge=charge))


def level_of(design: Design, quantity: str) -> str | None:
    """The gravest level that speaks of a quantity of the unit's profile."""
    found = assess(design, remedies=False).findings
    own = [item for item in found if item.id.startswith(NAMED[quantity]) and f"charge.{quantity}" in item.concerns]
    levels = {item.level for item in own}
    return "stop" if "stop" in levels else "caution" if "caution" in levels else None


@pytest.mark.parametrize(("nominal_v", "quantity", "chemistry", "value", "level"), ROWS)
def test_a_charge_value_gets_its_level(
    nominal_v: int, quantity: str, chemistry: str, value: float, level: str | None
) -> None:
    """Far off is a stop or a caution, near off a caution, right nothing; twice the volts at 24 V, four times at 48 V."""
    assert level_of(job(nominal_v, quantity, chemistry, value), quantity) == level


@pytest.mark.parametrize(("hours", "level"), [(1.0, "stop"), (2.5, "caution"), (12.0, None)])
def test_a_cap_on_bulk_is_held_against_the_refill(hours: float, level: str | None) -> None:
    """60 Ah / 0.85 at 25 A net take 2.8 h: a cap of 1 h leaves most of it out, one of 2.5 h some, one of 12 h nothing."""
    whole = plain(use={"daily_ah": 60.0, "drive_h": 3.0}, charge={"bulk_h": hours})
    found = assess(Design.model_validate(whole), remedies=False).findings
    assert next((item.level for item in found if item.id == "settings.bulk_short"), None) == level


def test_the_makers_own_figure_outranks_the_table() -> None:
    """An AGM whose maker says 14.9 V: the datum is judged once, where it stands; setting the unit to it adds nothing."""
    battery = {"chemistry": "agm", "capacity_ah": 100.0, "absorption_v": 14.9}
    whole = Design.model_validate(plain(auxiliary=battery, charge={"absorption_v": 14.9}))
    found = [item for item in assess(whole, remedies=False).findings if item.id.startswith("settings.absorption")]
    assert [(item.level, item.concerns) for item in found] == [("caution", ("auxiliary.absorption_v",))]


def test_a_day_that_the_mains_cover_leaves_bulk_nothing_to_do() -> None:
    """20 A of mains for 4 h put back 68 Ah of 60: an hour of bulk leaves nothing out; for an hour they leave 43 Ah, 2 h."""
    for mains_h, level in ((4.0, None), (1.0, "caution")):
        use = {"daily_ah": 60.0, "drive_h": 3.0, "mains_h": mains_h}
        whole = plain(use=use, existing=[{"kind": "mains_charger"}], charge={"bulk_h": 1.1})
        found = assess(Design.model_validate(whole), remedies=False).findings
        assert next((item.level for item in found if item.id == "settings.bulk_short"), None) == level


@pytest.mark.parametrize(("share", "level"), [(0.55, None), (0.45, "caution"), (0.23, "caution"), (0.17, "stop")])
def test_starting_again_late_or_never(share: float, level: str | None) -> None:
    """Rested volts at half of charge are late, at a fifth so late that nothing starts again by itself."""
    whole = plain(charge={"rebulk_v": open_circuit_v("agm", share, 12)})
    found = assess(Design.model_validate(whole), remedies=False).findings
    assert next((item.level for item in found if item.id == "settings.rebulk_low"), None) == level


@pytest.mark.parametrize("chemistry", ["flooded", "agm", "gel", "lfp"])
def test_what_rests_rests_where_nothing_is_said_of_when_it_starts_again(chemistry: str) -> None:
    """A flooded battery full stands at 12.70 V, under the 12.8 V that are usual beside a float: it would never rest."""
    battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 110.0}
    design = Design.model_validate(plain(auxiliary=battery, charge={"after": "rest"}))
    assert all(item.id != "settings.rebulk_high" for item in assess(design, remedies=False).findings)
    assert profile_of(design, solve(design)).rebulk_v < open_circuit_v(chemistry, 1.0, 12)


@pytest.mark.parametrize("nominal_v", [12, 24])
@pytest.mark.parametrize("after", ["rest", "pulses"])
@pytest.mark.parametrize(
    ("charge", "never"),
    [
        ({}, False),
        ({"rebulk_v": 12.7}, False),
        ({"rebulk_v": 12.85}, True),
        ({"rebulk_v": 13.3}, True),
        ({"profile": "lfp"}, True),
        ({"profile": "lfp", "rebulk_v": 12.8}, False),
    ],
)
def test_what_starts_again_on_a_full_battery_never_rests(
    nominal_v: int, after: str, charge: dict[str, Any], never: bool
) -> None:
    """A full AGM battery stands at 12.85 V: under that it may rest. Lithium's own 13.4 V are never under it."""
    scale = nominal_v / 12
    battery = {"chemistry": "agm", "nominal_v": nominal_v, "capacity_ah": 110.0}
    keyed = {key: value * scale if key == "rebulk_v" else value for key, value in charge.items()}
    design = Design.model_validate(plain(auxiliary=battery, charge={"after": after} | keyed))
    (*found,) = (item for item in assess(design, remedies=True).findings if item.id == "settings.rebulk_high")
    assert [item.level for item in found] == (["stop"] if never else [])
    for item in found:
        mended = apply(design, item.remedies[0])
        assert all(other.id != "settings.rebulk_high" for other in assess(mended, remedies=False).findings)


@pytest.mark.parametrize(
    ("quantity", "value", "title"),
    [
        ("absorption_v", 12.5, "Absorption does not charge it"),
        ("absorption_v", 14.1, "Absorption is too low"),
        ("float_v", 15.2, "Float is far too high"),
        ("float_v", 14.0, "Float is too high"),
    ],
)
def test_how_far_off_is_in_the_title(quantity: str, value: float, title: str) -> None:
    """A stop says what it does, a caution only which way it is off."""
    found = assess(job(12, quantity, "agm", value), remedies=False).findings
    titles = [item.title for item in found if f"charge.{quantity}" in item.concerns]
    assert any(item.startswith(title) for item in titles), titles


@pytest.mark.parametrize(
    ("float_v", "opens_v", "told"),
    [(14.1, None, False), (14.1, 14.0, True), (14.1, 14.5, False), (14.6, None, True), (14.6, 15.5, True)],
)
def test_a_float_above_absorption_or_where_the_management_opens(
    float_v: float, opens_v: float | None, told: bool
) -> None:
    """Against 14.4 V of absorption: over it, or at the volts its management opens at, it is far too high; else it is not."""
    battery: dict[str, Any] = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "absorption_v": 14.4}
    if opens_v is not None:
        battery["management"] = {"high_disconnect_v": opens_v}
    whole = Design.model_validate(plain(auxiliary=battery, charge={"float_v": float_v}))
    found = [item for item in assess(whole, remedies=False).findings if item.title == "Float is far too high"]
    assert bool(found) is told
    assert ("management opens" in " ".join(item.text for item in found)) is (opens_v is not None and float_v >= opens_v)


def test_the_usual_is_said_of_float_alone() -> None:
    """Float that is too low is told what is usual; of absorption the range is, of where it starts again nothing."""

    def text(id: str, **charge: float) -> str:
        found = assess(Design.model_validate(plain(charge=charge)), remedies=False).findings
        return next(item.text for item in found if item.id == id)

    assert text("settings.float_low", float_v=12.8).endswith("Usual is 13.6 V.")
    assert "Usual is" not in text("settings.absorption_low", absorption_v=14.0)
    assert "Usual is" not in text("settings.rebulk_low", rebulk_v=12.1)


def test_a_battery_is_of_12_v_unless_said() -> None:
    """14.2 V on lithium of 12 V is right, and 28.4 V on one of 24 V."""
    assert off_band("lfp", "absorption_v", 14.2) is None
    assert off_band("lfp", "absorption_v", 28.4, 24) is None
    assert off_band("lfp", "absorption_v", 28.4) == ("stop", "high")


def test_a_tail_counts_by_its_share_of_the_battery() -> None:
    """8 A of 200 Ah are four hundredths; without a tail there is none to judge."""
    assert dict(Held(absorption_v=14.2, float_v=None, tail_a=8.0).values(200.0))["tail_share"] == pytest.approx(0.04)
    assert "tail_share" not in dict(Held(absorption_v=14.2, float_v=None).values(200.0))


@pytest.mark.parametrize(("absorption_v", "opens"), [(14.4, True), (14.39, False)])
def test_volts_that_reach_the_managements_limit_open_it(absorption_v: float, opens: bool) -> None:
    """To the very volts at which it opens is too much."""
    pack = AuxiliaryBattery.model_validate(
        {"chemistry": "lfp", "capacity_ah": 100.0, "management": {"high_disconnect_v": 14.4}}
    )
    harms = harms_of(pack, Held(absorption_v=absorption_v, float_v=None))
    assert any("management opens" in harm.text for harm in harms) is opens


def test_what_is_off_in_two_places_is_told_of_each() -> None:
    """The battery's own 15.4 V and the unit's 15.5: two places to mend, and neither hides the other."""
    auxiliary = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "absorption_v": 15.4}
    made = Design.model_validate(plain(auxiliary=auxiliary, charge={"absorption_v": 15.5}))
    found = {item.id: item for item in assess(made).findings if item.id.startswith("settings.absorption_high")}
    assert set(found) == {"settings.absorption_high", "settings.absorption_high.battery"}
    assert found["settings.absorption_high.battery"].title == "The battery's own absorption is too high"
    # Back to the battery's own would leave as much wrong: that is mended first, then the unit's.
    for name in ("settings.absorption_high.battery", "settings.absorption_high"):
        (said,) = [item for item in assess(made).findings if item.id == name]
        made = apply(made, said.remedies[0])
    assert not [item for item in assess(made).findings if "absorption_high" in item.id]
