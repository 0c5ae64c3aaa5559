"""Each way to start: what it would be set to, what is missing for it, what speaks for and against, in this job's numbers."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.stages.wake.method import CANDIDATES, MethodAdvice, advise, settings_for
from tests.designs import cable, charger, design, fuse, vehicle

MANAGED = {"rated_a": 150.0, "regulation": "managed", "loads_idle_a": 20.0, "hot_idle_share": 0.6}
LOW = {"rest_v": 12.6, "after_stop_v": 12.7, "idle_v": 13.9, "cruise_v": 14.2, "low_phase_v": 13.0, "low_phase_s": 60.0}
NONE = {"ignition": False, "d_plus": False}
BY_KEY = {item.key: item for item in CANDIDATES}


def ways(**changes: Any) -> dict[str, MethodAdvice]:
    """Every way of a job by its key."""
    return {item.key: item for item in advise(design(**changes)).methods}


def holds(key: str, **changes: Any) -> tuple[float, float]:
    """Holds of start and stop that a way would be set to [s]."""
    chosen = settings_for(design(**changes), BY_KEY[key])
    assert chosen.ways == BY_KEY[key].ways
    return chosen.start_rules[0].held_s, chosen.stop_rules[0].held_s


def test_holds_of_each_way() -> None:
    """Ten seconds to start, thirty to stop; past a low phase half a minute longer than it lasts, an hour at most."""
    assert holds("voltage") == holds("d_plus") == (10.0, 30.0)
    assert holds("voltage_held", vehicle=vehicle(readings=LOW)) == (10.0, 90.0)
    assert holds("voltage_held") == (10.0, Context.of(design()).thresholds.low_phase_s + 30.0)
    long = LOW | {"low_phase_s": 3600.0}
    assert holds("voltage_held", vehicle=vehicle(readings=long)) == (10.0, 3600.0)
    short = charger(start_held_most_s=5.0, stop_held_most_s=60.0)
    assert holds("voltage_held", vehicle=vehicle(readings=LOW), charger=short) == (5.0, 60.0)
    roomy = charger(start_held_most_s=60.0, stop_held_most_s=600.0)
    assert holds("voltage", charger=roomy) == (10.0, 30.0)
    kept = settings_for(design(activation={"guard_held_s": 7.0}), BY_KEY["voltage"])
    assert kept.guard.held_s == 7.0
    assert (kept.start_rules[0].at_least_v, kept.guard.off_below_v) == (None, None)


@pytest.mark.parametrize(
    ("key", "changes", "words"),
    [
        ("d_plus", {"charger": charger(enables=["voltage"])}, "has no charge indicator (D+, 61)"),
        ("ignition", {"charger": charger(enables=["voltage"])}, "has no ignition feed (15)"),
        ("switch", {"charger": charger(enables=["voltage"])}, "has no manual switch"),
        ("voltage", {"charger": charger(enables=["d_plus"])}, "has no engine-run detection by voltage"),
        ("d_plus", {"vehicle": vehicle(signals=NONE)}, "no D+ (61) is surveyed"),
        ("ignition", {"vehicle": vehicle(signals=NONE)}, "no ignition feed (15) is surveyed"),
    ],
)
def test_what_is_not_there(key: str, changes: dict[str, Any], words: str) -> None:
    """A way that wants what neither unit nor vehicle has cannot be had, and says what it wants."""
    found = ways(**changes)[key]
    assert found.verdict == "unavailable"
    assert any(words in reason for reason in found.speaks_against)
    assert ways()[key].verdict != "unavailable"


def test_a_longer_hold_is_offered_where_there_is_a_phase_to_ride() -> None:
    """Without low phases there is nothing to hold past."""
    assert "voltage_held" not in ways()
    assert "voltage_held" in ways(vehicle=vehicle(alternator=MANAGED, readings=LOW))


def test_reasons_for() -> None:
    """By voltage no wire, and how far apart rest and running stand; a signal is not fooled by sag; both must agree."""
    found = ways()
    at = Context.of(design()).thresholds
    apart = at.unloaded_low_v - at.rest_high_v
    assert f"running {at.unloaded_low_v:.2f} V stands {apart:.2f} V above resting" in found["voltage"].speaks_for[0]
    assert any("live only while it generates" in item for item in found["d_plus"].speaks_for)
    assert any("cannot make it hunt" in item for item in found["d_plus"].speaks_for)
    assert not any("cannot make it hunt" in item for item in found["d_plus_voltage"].speaks_for)
    assert any("both must agree" in item for item in found["d_plus_voltage"].speaks_for)
    assert not any("both must agree" in item for item in found["voltage"].speaks_for)
    assert any("on before the engine turns" in item for item in found["ignition"].speaks_for)
    riding = ways(vehicle=vehicle(alternator=MANAGED, readings=LOW))
    assert any("held past low phases of 60 s" in item for item in riding["voltage_held"].speaks_for)
    assert not any("held past" in item for item in riding["voltage"].speaks_for)
    assert any("low phase of 13.00 V does not stop it" in item for item in riding["d_plus"].speaks_for)
    assert not any("low phase" in item for item in found["d_plus"].speaks_for)


def test_reasons_against_by_hand() -> None:
    """Thirty seconds at some 29.6 A are 0.25 Ah after every halt; a signal wants its wire and fuse; by hand it is minutes."""
    found = ways()
    drawn = Context.of(design()).solved.running[0].drawn
    assert drawn is not None
    cost_ah = drawn.current_a * 30 / 3600
    assert cost_ah == pytest.approx(0.25, abs=0.01)
    assert any(f"up to {cost_ah:.2f} Ah out of the start battery" in item for item in found["voltage"].speaks_against)
    assert any("some vehicles have no such terminal" in item for item in found["d_plus"].speaks_against)
    assert found["ignition_voltage"].speaks_against[-1] == "one wire with its own small fuse."
    # What lies between a working charge of 80 % and the 60 % to keep, 18 Ah of 90, at that current.
    spare_ah = (0.8 - 0.6) * 90
    minutes = 60 * spare_ah / drawn.current_a
    against = next(
        item for item in found["bridge"].speaks_against if item.startswith("on with the engine stopped it takes")
    )
    told = float(against.split("about ")[1].split(" min")[0])
    assert told == round(minutes)
    lifted = ways(vehicle=vehicle(lifters=[{"kind": "solar", "lifts_to_v": 13.3}]))["voltage"]
    assert any("held up to 13.30 V standing" in item for item in lifted.speaks_against)
    assert not any("held up" in item for item in found["voltage"].speaks_against)


def test_which_is_in_use() -> None:
    """As chosen, without typed volts; with them the way as typed stands beside, named as such."""
    plain = ways(activation={"ways": ["d_plus"], "start_v": None, "stop_v": None})
    assert [key for key, item in plain.items() if item.chosen] == ["d_plus"]
    assert "entered" not in plain
    typed = ways(activation={"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9})
    assert [key for key, item in typed.items() if item.chosen] == ["entered"]
    assert typed["entered"].label.endswith(", as typed")
    own = ways(activation={"ways": ["ignition", "switch"], "start_v": None, "stop_v": None})
    assert own["entered"].label == "Ignition feed (15) and manual switch"
    guard = ways(activation={"ways": ["d_plus"], "start_v": None, "stop_v": None, "guard_v": 12.0})
    assert guard["entered"].chosen


def test_no_unit_no_advice() -> None:
    """Its enable inputs decide."""
    found = advise(design(charger=None))
    assert found.methods == ()
    assert found.text.startswith("Choose a unit first")


class TestHolds:
    def findings(self, **changes: Any) -> dict[str, Finding]:
        """Findings of the wake stage; by voltage unless said otherwise."""
        activation = {"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9} | changes
        return {item.id: item for item in assess(design(activation=activation)).findings}

    @pytest.mark.parametrize(
        ("field", "fine", "far", "finding"),
        [
            ("guard_held_s", 0.5, 0.4, "wake.guard_hold_short"),
            ("guard_held_s", 60.0, 61.0, "wake.guard_hold_long"),
            ("stop_held_s", 900.0, 901.0, "wake.stop_hold_long"),
            ("start_held_s", 600.0, 601.0, "wake.start_hold_long"),
        ],
    )
    def test_each_at_its_edge(self, field: str, fine: float, far: float, finding: str) -> None:
        """The edge itself is lived with; beyond, a caution whose remedy sets what is usual."""
        assert finding not in self.findings(**{field: fine})
        told = self.findings(**{field: far})[finding]
        assert told.level == "caution"
        (change,) = told.remedies[0].changes
        assert change.value == (2.0 if "guard" in finding else 30.0)

    def test_by_signal_only_the_guard_holds(self) -> None:
        """Holds of volts that are not watched do no harm."""
        late = {"ways": ["d_plus"], "start_held_s": 700.0, "stop_held_s": 1000.0}
        assert not {"wake.stop_hold_long", "wake.start_hold_long"} & set(self.findings(**late))

    def test_what_a_late_stop_costs(self) -> None:
        """Twenty minutes at what the input takes at the stop's volts: some 30 A, 10 Ah."""
        told = self.findings(stop_held_s=1200.0)["wake.stop_hold_long"]
        at = Context.of(design(activation={"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9})).thresholds
        assert f"for 20 min after every stop of the engine: up to {at.input_w / 12.9 / 3:.1f} Ah" in told.text

    def test_nothing_lets_it_charge(self) -> None:
        """No way at all is a stop that offers one at hand; a way its unit has not is one that names what it takes."""
        told = self.findings(ways=[])["wake.no_way"]
        assert told.level == "stop"
        few = design(charger=charger(enables=["d_plus", "remote"]), activation={"ways": ["ignition"]})
        found = {item.id: item for item in assess(few).findings}["wake.unsupported.ignition"]
        assert "takes charge indicator (D+, 61) and remote terminals" in found.text

    @pytest.mark.parametrize(("way", "level"), [("ignition", "note"), ("switch", "caution"), ("bridge", "caution")])
    def test_what_only_the_guard_stands_behind(self, way: str, level: str) -> None:
        """A key is on for a while, a bridge always."""
        assert self.findings(ways=[way])[f"wake.guard_alone.{way}"].level == level
        assert f"wake.guard_alone.{way}" not in self.findings(ways=[way, "voltage"])


def test_the_ladders_marks() -> None:
    """Each rule with its own name, its hold, and how far it stands from rest or running."""
    job = design(
        activation={"ways": ["voltage"], "start_v": 13.3, "quick_start_v": 13.8, "stop_v": 12.9, "guard_v": 12.2}
    )
    marks = {mark.label: mark for mark in assess(job).wake.marks}
    assert set(marks) == {"Start", "Start 2", "Stop", "Guard back", "Guard off"}
    at = Context.of(job).thresholds
    assert marks["Start"].margin_text == f"{at.unloaded_low_v - 13.3:.2f} V under running"
    assert marks["Start 2"].margin_text == f"{13.8 - at.rest_high_v:.2f} V above resting"
    assert marks["Stop"].margin_text == f"{12.9 - at.rest_high_v:.2f} V above resting"
    assert (marks["Start"].held_s, marks["Start 2"].held_s, marks["Stop"].held_s) == (10.0, 0.0, 30.0)
    assert marks["Guard off"].margin_text.endswith("to crank")
    assert (marks["Start"].proposed, marks["Guard back"].proposed) == (False, True)
    assert (marks["Start"].path, marks["Start 2"].path) == (
        "activation.start_rules.0.at_least_v",
        "activation.start_rules.1.at_least_v",
    )


def test_reasons_of_ways_taken_together() -> None:
    """A switch beside another way keeps it off whatever the rest allows; alone it is the driver's."""
    both = ways(activation={"ways": ["switch", "voltage"], "start_v": None, "stop_v": None})["entered"]
    assert any("whatever the rest allows" in item for item in both.speaks_for)
    alone = ways()["switch"]
    assert any("the driver decides" in item for item in alone.speaks_for)
    assert not any("whatever the rest allows" in item for item in alone.speaks_for)
    bridged = ways(activation={"ways": ["bridge", "voltage"], "start_v": None, "stop_v": None})["entered"]
    assert any("the bridge only closes" in item for item in bridged.speaks_for)
    assert any("nothing to wire" in item for item in ways()["bridge"].speaks_for)


def test_narrow_windows_speak_against_voltage() -> None:
    """Rest and running 0.4 V apart leave 0.1 V beyond the margins: told where voltage is watched, and D+ goes before it."""
    close = {"rest_v": 13.3, "after_stop_v": 13.4, "idle_v": 13.9, "cruise_v": 14.0}
    thick = {"pieces": [fuse(60.0), cable("95 mm²", 0.5)]}
    found = advise(design(vehicle=vehicle(readings=close), supply=thick))
    told = {item.key: item for item in found.methods}
    assert any("0.09 V wide beyond their margins" in item for item in told["voltage"].speaks_against)
    assert not any("beyond their margins" in item for item in told["d_plus"].speaks_against)
    assert (found.methods[0].key, told["voltage"].verdict) == ("d_plus", "sound")
    without = advise(design(vehicle=vehicle(readings=close, signals=NONE), supply=thick))
    assert (without.methods[0].key, without.methods[0].verdict) == ("voltage", "recommended")
