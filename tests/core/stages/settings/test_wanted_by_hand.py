"""What a job asks its unit to be set to, what an unknown menu comes to, and what another profile does: by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.model import Charger, Design
from olvask.core.model.settings import OFF, ON
from olvask.core.stages.settings.generic import menu_of
from olvask.core.stages.settings.sheet import devices_of, sheet_of
from olvask.core.stages.settings.wishes import charge_wanted, wanted_of
from tests.designs import charger, design, vehicle

LFP = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}


def wanted(**changes: Any) -> dict[str, float | str]:
    """Everything a job's unit is to be set to."""
    ctx = Context.of(design(**changes))
    return {means: item.value for means, item in wanted_of(ctx.design, ctx.facts, ctx.thresholds).items()}


def test_a_plain_job() -> None:
    """110 Ah AGM whose maker says 14.4 V, by volts from 13.3 to 12.9 V; the rest is its chemistry's usual."""
    usual = chemistries()["agm"]
    found = wanted(activation={"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9, "guard_v": 12.2, "back_v": 13.2})
    assert found == pytest.approx(
        {
            "battery_type": "agm",
            "absorption_v": 14.4,
            "absorption_h": usual.absorption_h,
            "absorbed_by": "adaptive",
            "tail_a": usual.tail_share * 110,
            "after": "float",
            "float_v": found["float_v"],
            "rebulk_v": usual.rebulk_v,
            "equalise": OFF,
            "compensation_mv_per_k": usual.compensation_mv_per_k,
            "role": "charger",
            "detection": ON,
            "signal_mode": "voltage",
            "current_limit_a": 25.0,
            "start_v": 13.3,
            "start_held_s": 10.0,
            "stop_v": 12.9,
            "stop_held_s": 30.0,
            "guard_v": 12.2,
            "guard_held_s": found["guard_held_s"],
            "back_v": 13.2,
        }
    )
    assert 13.2 <= float(found["float_v"]) <= 13.8


def test_what_is_typed_goes_before_what_is_usual() -> None:
    """Each as typed, with that as its reason."""
    typed = {
        "absorption_v": 14.6,
        "absorption_h": 3.0,
        "absorbed_by": "time",
        "tail_a": 4.0,
        "after": "rest",
        "float_v": 13.5,
        "rebulk_v": 12.6,
        "equalise": True,
        "equalise_v": 15.3,
        "equalise_days": 60,
        "bulk_h": 9.0,
        "compensation_mv_per_k": -20.0,
        "cold_c": -5.0,
        "hot_c": 45.0,
    }
    made = design(charge=typed, current_limit_a=15.0)
    ctx = Context.of(made)
    found = wanted_of(made, ctx.facts, ctx.thresholds)
    for means, value in typed.items():
        assert found[means].value == (ON if means == "equalise" else value), means
    assert found["absorption_v"].why == found["bulk_h"].why == "as you typed it"
    assert found["current_limit_a"].value == 15.0


def test_lithium_is_absorbed_by_time_and_stopped_in_the_cold() -> None:
    """No cut-off of its own: the unit is to stop it at its least; with one, nothing is asked. No compensation, no equalising."""
    usual = chemistries()["lfp"]
    found = wanted(auxiliary=LFP)
    assert (found["absorbed_by"], found["cold_c"], found["equalise"]) == ("time", usual.charge_min_c, OFF)
    assert found["compensation_mv_per_k"] == usual.compensation_mv_per_k == 0.0
    assert wanted(auxiliary=LFP | {"charge_min_c": 3.0})["cold_c"] == 3.0
    assert "cold_c" not in wanted(auxiliary=LFP | {"low_temperature_cut_off": True})
    assert "cold_c" not in wanted()
    assert "equalise_v" not in wanted()


def test_another_profile_and_another_voltage() -> None:
    """Set for gel its volts are gel's, not the maker's; at 24 V everything in volts counts twice."""
    other = wanted(charge={"profile": "gel"})
    assert other["battery_type"] == "gel"
    assert other["absorption_v"] == chemistries()["gel"].absorption_v
    battery = {"chemistry": "agm", "nominal_v": 24, "capacity_ah": 110.0, "charge_limit_a": 30.0}
    made = design(auxiliary=battery, charger=charger(output_nominal_v=24, output_min_v=23.0, output_max_v=31.0))
    found = {means: item.value for means, item in charge_wanted(made, Context.of(made).facts).items()}
    usual = chemistries()["agm"]
    assert found["absorption_v"] == pytest.approx(2 * usual.absorption_v)
    assert found["rebulk_v"] == pytest.approx(2 * usual.rebulk_v)
    assert found["compensation_mv_per_k"] == pytest.approx(2 * usual.compensation_mv_per_k)


def test_by_signal_no_volts_are_asked() -> None:
    """Detection off, the signal named, no start or stop; the guard is asked always. A setting above the rating is its rating."""
    found = wanted(activation={"ways": ["d_plus"], "start_v": None, "stop_v": None})
    assert (found["detection"], found["signal_mode"]) == (OFF, "d_plus")
    assert not {"start_v", "stop_v", "start_held_s", "stop_held_s"} & set(found)
    assert {"guard_v", "guard_held_s", "back_v"} <= set(found)
    both = wanted(activation={"ways": ["ignition", "voltage"], "start_v": 13.3, "quick_start_v": 13.8})
    assert (both["signal_mode"], both["start_v.2"], both["start_held_s.2"]) == ("ignition", 13.8, 0.0)
    assert wanted(current_limit_a=40.0)["current_limit_a"] == 25.0
    assert "role" not in wanted(charger=None)


class TestUnknownMenu:
    def lines(self, **record: Any) -> dict[str, Any]:
        """Lines of a unit without a menu of its own."""
        return {line.id: line for line in menu_of(Charger.model_validate(charger(**record))).lines}

    def test_of_its_ranges(self) -> None:
        """Output volts, a limit in tenths, as many start rows as it takes, guard and return; nothing hidden, no factory value."""
        found = self.lines()
        assert list(found) == ["absorption", "float", "limit", "start", "start2", "stop", "guard", "back"]
        for id in ("absorption", "float"):
            assert (found[id].from_value, found[id].to_value, found[id].step) == (11.5, 15.5, 0.01)
            assert (found[id].factory, found[id].hidden) == (None, False)
        limit = found["limit"]
        assert (limit.from_value, limit.to_value, limit.factory) == (5.0, 25.0, 25.0)
        assert limit.step == pytest.approx(0.1)
        assert (found["start2"].label, found["start2"].means) == ("Start 2", "start_v")
        assert (found["stop"].from_value, found["stop"].to_value, found["stop"].step) == (10.5, 15.0, 0.05)
        assert len(self.lines(start_rows=1)) == 7

    def test_of_what_cannot_be_set(self) -> None:
        """One output voltage is fixed, hidden, and its factory value; no limit where it has none, steps where it has steps."""
        fixed = self.lines(output_min_v=14.4, output_max_v=14.4)["absorption"]
        assert (fixed.factory, fixed.hidden) == (14.4, True)
        assert "limit" not in self.lines(current_limit="none")
        steps = self.lines(current_limit="steps", limit_steps_a=[10.0, 20.0])["limit"]
        assert list(steps.steps) == [10.0, 20.0, 25.0]
        assert "limit" not in self.lines(limit_min_a=24.85)
        assert "limit" in self.lines(limit_min_a=24.7)
        plain = self.lines(settable=None)
        assert list(plain) == ["absorption", "float", "limit"]
        assert "absorption" not in self.lines(kind="converter")


class TestProfile:
    @pytest.mark.parametrize(
        ("profile", "chemistry", "finding"),
        [
            ("flooded", "gel", "settings.profile_too_high"),
            ("gel", "flooded", "settings.profile_other"),
            ("agm", "lfp", "settings.profile_other"),
            ("agm", "agm", None),
            (None, "agm", None),
        ],
    )
    def test_another_chemistrys(self, profile: str | None, chemistry: str, finding: str | None) -> None:
        """Over what the battery stands a stop, else a caution; its own is none."""
        battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 30.0}
        made = design(auxiliary=battery, charge={"profile": profile})
        levels = {item.id: item.level for item in assess(made).findings if item.id.startswith("settings.profile")}
        assert levels == ({} if finding is None else {finding: "stop" if "too_high" in finding else "caution"})

    def test_at_24_volts(self) -> None:
        """Twice the volts on both sides: the same is too high, and the same is not."""
        battery = {"chemistry": "gel", "nominal_v": 24, "capacity_ah": 100.0, "charge_limit_a": 30.0}
        record = charger(output_nominal_v=24, output_min_v=23.0, output_max_v=31.0)
        for profile, finding in (("flooded", "settings.profile_too_high"), ("gel", None)):
            found = assess(
                design(auxiliary=battery, charger=record, charge={"profile": profile}), remedies=False
            ).findings
            told = {item.id: item.text for item in found if item.id.startswith("settings.profile")}
            assert set(told) == ({finding} if finding else set())
            if finding:
                assert f"{2 * chemistries()['flooded'].absorption_v:.2f} V" in told[finding]
        lithium = battery | {"chemistry": "lfp"}
        other = assess(design(auxiliary=lithium, charger=record, charge={"profile": "agm"}), remedies=False).findings
        assert {item.id for item in other if item.id.startswith("settings.profile")} == {"settings.profile_other"}

    def test_lead_on_lithium_is_told_to_switch_off_what_lead_wants(self) -> None:
        """At 90 % it rests over what lead's profile starts again under: straight to float. On lead it is told by its volts."""

        def text(chemistry: str, profile: str) -> str:
            battery = {"chemistry": chemistry, "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 30.0}
            made = design(auxiliary=battery, charge={"profile": profile}, vehicle=vehicle())
            return next(item.text for item in assess(made).findings if item.id == "settings.profile_other")

        lithium = text("lfp", "agm")
        assert "must be off on lithium" in lithium
        assert "straight to float" in lithium
        lead = text("flooded", "gel")
        assert "must be off on lithium" not in lead
        assert lead == "It holds 14.20 V where the battery wants 14.60 V."


def test_reach_is_told_by_what_the_value_does() -> None:
    """A menu whose absorption ends at 13.8 V leaves AGM short: told with its level; a design it reaches is not."""

    def reach(most_v: float) -> dict[str, str]:
        line = {"id": "absorb", "label": "Absorption", "means": "absorption_v", "unit": "V"}
        menu = {"lines": [line | {"from_value": 13.0, "to_value": most_v, "step": 0.1, "factory": 13.2}]}
        made = Design.model_validate(design(charger=charger(settings=menu)).model_dump(mode="json"))
        return {item.id: item.level for item in assess(made).findings if item.id.startswith("settings.reach")}

    assert reach(14.4) == {}
    assert reach(13.4) == {"settings.reach.absorb": "caution"}


def test_the_reason_beside_each_value() -> None:
    """The battery's maker where its figure is noted, else the chemistry; another profile is never the maker's."""

    def why(**changes: Any) -> str:
        made = design(**changes)
        return charge_wanted(made, Context.of(made).facts)["absorption_v"].why

    assert why() == "this battery's maker"
    bare = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0, "charge_limit_a": 30.0}
    assert why(auxiliary=bare) == f"usual for {chemistries()['agm'].label}"
    assert why(charge={"profile": "gel"}) == f"usual for {chemistries()['gel'].label}"
    floats = charge_wanted(design(auxiliary=bare | {"float_v": 13.4}), Context.of(design()).facts)["float_v"]
    assert (floats.value, floats.why) == (13.4, "this battery's maker")
    after, colder, again = (
        {name: charge_wanted(made, Context.of(made).facts)[name].why for name in ("after", "compensation_mv_per_k")}
        for made in (design(), design(charge={"profile": "lfp"}), design(charge={"profile": "flooded"}))
    )
    assert after == again == {"after": "holds it for the loads", "compensation_mv_per_k": "colder lead wants more"}
    assert colder == {"after": "a storage level, no float", "compensation_mv_per_k": "none on lithium"}


def test_devices_with_a_sheet_of_their_own() -> None:
    """Old gear with a menu that is not cut, a controller with a panel, a monitor; the generic sheet is told as that."""
    menu: dict[str, Any] = {"settings": {}}
    job = design(
        existing=[
            {"id": "e1", "kind": "mains_charger", "stages": menu},
            {"id": "e2", "kind": "portable_charger", "stages": menu, "cut": True},
            {"id": "e3", "kind": "built_in_charger"},
        ],
        solar={"panel_w": 120.0, "stages": menu},
        monitor={"unit": {"name": "Shunt", "settings": {}}},
    )
    assert devices_of(job) == [("existing.e1", "mains charger"), ("solar", "solar controller"), ("monitor", "Shunt")]
    assert devices_of(design()) == []
    generic = sheet_of(Context.of(design()))
    own = sheet_of(Context.of(design(charger=charger(settings={}))))
    assert generic is not None
    assert generic.generic
    assert own is not None
    assert not own.generic
    assert own.text == "Nothing in it can be set."
