"""Tails, plugs, parallel cables, devices in series, drop and collapse: each finding at its edge, worked out by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.circuit.solve import solve
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.model import Branch, Cable, Design
from olvask.core.stages.run.drop import drop_percent
from tests.designs import Plain, cable, charger, design, fuse, vehicle


def findings(job: Design) -> dict[str, Finding]:
    """Findings by name."""
    return {item.id: item for item in assess(job).findings}


def changed(found: Finding) -> dict[str, Any]:
    """What its remedies set."""
    return {change.path: change.value for remedy in found.remedies for change in remedy.changes}


def tailed(run: str = "supply", above: Plain | None = None, **branch: Any) -> Design:
    """A tail behind the run's device; 16 A through 2.5 mm² with 20 A of its own unless said otherwise."""
    tail = {
        "kind": "branch",
        "id": "b1",
        "feeds": "load",
        "name": "lamp",
        "current_a": 16.0,
        "size": "2.5 mm²",
        "device": fuse(20.0, "blade"),
    } | branch
    if run == "supply":
        return design(supply={"pieces": [above or fuse(60.0), cable(), tail]})
    return design(delivery={"pieces": [tail, cable("16 mm²", 1.5), above or fuse(60.0)]})


CARRIES_A = ampacity(Branch(size="2.5 mm²").cable(), "enclosed")[0]


class TestTails:
    @pytest.mark.parametrize("run", ["supply", "delivery"])
    def test_its_current_against_its_copper(self, run: str) -> None:
        """Exactly what the tables allow is carried; a tenth of an ampere more is not, and a larger tail is offered."""
        at = tailed(run, current_a=round(CARRIES_A - 0.05, 2), device=None)
        assert "protect.branch_ampacity.b1" not in findings(at)
        over = findings(tailed(run, current_a=CARRIES_A + 0.1))["protect.branch_ampacity.b1"]
        assert over.level == "stop"
        sizes = [value for path, value in changed(over).items() if path.endswith(".size")]
        assert sizes
        assert all(str(size).endswith(" mm²") and float(str(size).split()[0]) > 2.5 for size in sizes)

    @pytest.mark.parametrize("run", ["supply", "delivery"])
    def test_a_tail_without_a_device(self, run: str) -> None:
        """The 60 A above lets through more than it carries; a 30 A device above it, or thick copper, protects it."""
        bare = findings(tailed(run, device=None))["protect.branch.b1"]
        assert bare.level == "stop"
        assert "60 A device above lets through more" in bare.text
        assert "protect.branch.b1" not in findings(tailed(run, device=None, size="25 mm²"))
        assert "protect.branch.b1" not in findings(tailed(run, above=fuse(30.0), device=None))
        alone = design(supply={"pieces": [cable(), {"kind": "branch", "id": "b1", "name": "lamp", "current_a": 3.0}]})
        assert "nothing stands above it" in findings(alone)["protect.branch.b1"].text

    def test_eighty_per_cent_of_its_device(self) -> None:
        """16 A through 20 A is the rule; 16.5 A is close, 20 A is close, 20.5 A opens it in service."""
        for amps, close, opens in ((16.0, False, False), (16.5, True, False), (20.0, True, False), (20.5, False, True)):
            found = findings(tailed(current_a=amps))
            assert ("protect.branch_tight.b1" in found) is close, amps
            text = found["protect.branch_device.b1"].text if "protect.branch_device.b1" in found else ""
            assert ("opens in service" in text) is opens, amps

    def test_a_device_above_what_the_tail_carries(self) -> None:
        """The next standard rating over its ampacity is too large, the one below is not."""
        assert 30.0 < CARRIES_A < 40.0
        assert "lets through more" in findings(tailed(device=fuse(40.0, "blade")))["protect.branch_device.b1"].text
        assert "protect.branch_device.b1" not in findings(tailed(current_a=24.0, device=fuse(30.0, "blade")))

    def test_a_small_device_behind_a_large_one_may_break_less(self) -> None:
        """Behind Class T, which breaks what the battery gives, a blade will do; with nothing above it breaks too little."""
        branch = {"kind": "branch", "id": "b1", "name": "lamp", "current_a": 3.0, "device": fuse(5.0, "blade")}
        big = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 300.0, "charge_limit_a": 100.0}
        backed = design(auxiliary=big, delivery={"pieces": [branch, cable("16 mm²", 1.5), fuse(40.0)]})
        assert "protect.branch_device.b1" not in findings(backed)
        bare = design(auxiliary=big, delivery={"pieces": [cable("16 mm²", 1.5), branch]})
        assert "may flow" in findings(bare)["protect.branch_device.b1"].text

    def test_a_device_must_stand_the_volts(self) -> None:
        """A blade is made for 32 V: behind Class T it may do on 12 V, never on 48 V, where 60 V may come."""
        branch = {"kind": "branch", "id": "b1", "name": "lamp", "current_a": 1.0, "device": fuse(5.0, "blade")}
        for nominal_v, word in ((12, None), (24, None), (48, "stands 32 V where 60 V may come")):
            job = design(
                charger=charger(
                    output_nominal_v=nominal_v, output_min_v=0.9 * nominal_v, output_max_v=1.25 * nominal_v
                ),
                auxiliary={"chemistry": "lfp", "nominal_v": nominal_v, "capacity_ah": 100.0, "charge_limit_a": 50.0},
                delivery={"pieces": [branch, cable("16 mm²", 1.5), fuse(40.0)]},
            )
            found = findings(job)
            said = found["protect.branch_device.b1"].text if "protect.branch_device.b1" in found else None
            assert said == (f"It {word}." if word else None), nominal_v
            if said:
                mended = apply(job, found["protect.branch_device.b1"].remedies[0])
                assert "protect.branch_device.b1" not in findings(mended)

    def test_behind_a_device_that_breaks_the_short_a_blade_is_proposed(self) -> None:
        """A bare sense wire behind 110 A of Class T on a large pack: 1 A of blade, and no thicker wire."""
        big = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 300.0, "charge_limit_a": 100.0}
        wire = {"kind": "branch", "id": "b1", "feeds": "sense", "name": "sense", "current_a": 0.1, "size": "1.5 mm²"}
        job = design(auxiliary=big, delivery={"pieces": [wire, cable("25 mm²", 1.5), fuse(110.0)]})
        first = findings(job)["protect.branch.b1"].remedies[0]
        assert [(change.path.split(".")[-1], change.value) for change in first.changes] == [
            ("device", {"kind": "device", "family": "blade", "rating_a": 1.0})
        ]
        assert "protect.branch_device.b1" not in findings(apply(job, first))


class TestFarEnd:
    # Half charged an AGM of 110 Ah stands at 12.4 V or so, and twice its resistance is 11 mΩ; 1.5 mm² of class 5 has 13.3 Ω/km.
    LOOP_OHM_PER_M = 2 * 0.0133

    def of(self, metres: float, **branch: Any) -> dict[str, Finding]:
        tail = {"kind": "branch", "id": "b1", "name": "pump", "current_a": 8.0, "size": "1.5 mm²", "length_m": metres}
        pieces = [tail | {"device": fuse(10.0, "blade")} | branch, cable("16 mm²", 1.5), fuse(40.0)]
        return findings(design(delivery={"pieces": pieces}))

    def test_a_short_at_the_end_of_a_long_thin_tail(self) -> None:
        """12.4 V through 50 A wants 248 mΩ: some 8 m of loop beside battery and run; 7 m are told well, 10 m are not."""
        assert "protect.branch_fault.b1" not in self.of(7.0)
        found = self.of(10.0)["protect.branch_fault.b1"]
        assert found.level == "caution"
        amps = 12.4 / (0.011 + 10.0 * self.LOOP_OHM_PER_M + 0.011)
        told = float(found.text.split("draws ")[1].split(" A")[0])
        assert told == pytest.approx(amps, rel=0.08)
        assert f"{told / 10:.1f}"[:3] in found.text

    def test_its_way_out_opens_promptly(self) -> None:
        """A smaller device where the load leaves room for one, else a larger tail; either cures it."""
        for amps in (8.0, 1.0):
            tail = {
                "kind": "branch",
                "id": "b1",
                "name": "pump",
                "current_a": amps,
                "size": "1.5 mm²",
                "length_m": 12.0,
            }
            pieces = [tail | {"device": fuse(10.0, "blade")}, cable("16 mm²", 1.5), fuse(40.0)]
            job = design(delivery={"pieces": pieces})
            (way,) = findings(job)["protect.branch_fault.b1"].remedies
            assert way.label.startswith("Use a 2.5 mm²" if amps == 8.0 else "Protect it with ISO 8820-3 blade 2 A")
            assert "protect.branch_fault.b1" not in findings(apply(job, way))

    def test_a_tail_under_the_runs_own_device(self) -> None:
        """10 mm² under 40 A of the run's: 62 mΩ to 200 A; 14 m are too long, 8 m are not, and the other school's figure moves it."""
        assert "protect.branch_fault.b1" not in self.of(8.0, size="10 mm²", device=None)
        assert "of the run's device" in self.of(20.0, size="10 mm²", device=None)["protect.branch_fault.b1"].text

    def test_nothing_twice(self) -> None:
        """Where a tail is not protected at all that is said alone."""
        found = self.of(30.0, device=None)
        assert "protect.branch.b1" in found
        assert "protect.branch_fault.b1" not in found

    def test_the_table_has_its_multiple(self) -> None:
        """The row of a tail's device shows what the finding says."""
        tail = {"kind": "branch", "id": "b1", "name": "pump", "current_a": 8.0, "size": "1.5 mm²", "length_m": 10.0}
        pieces = [tail | {"device": fuse(10.0, "blade")}, cable("16 mm²", 1.5), fuse(40.0)]
        found = assess(design(delivery={"pieces": pieces}))
        (row,) = (row for row in found.devices if row.place == "b1")
        said = next(item.text for item in found.findings if item.id == "protect.branch_fault.b1")
        assert f"{row.fault_multiple:.1f} times" in said
        assert row.verdict == "caution"
        assert row.backed


def plugged(amps: float | None = 50.0, **joint: Any) -> Design:
    """A plug in the supply run."""
    plug = {"kind": "joint", "id": "j1", "form": "plug", "name": "tail plug", "rating_a": amps} | joint
    return design(supply={"pieces": [fuse(60.0), cable(), plug]})


class TestPlugs:
    def test_rating_against_current(self) -> None:
        """Some 26.7 A at the lowest running volts: 26 A is too low, 30 A close, 40 A sound; what lingers counts for the stop."""
        ctx = Context.of(plugged())
        amps, highest_a = ctx.continuous_a("supply"), ctx.lingering_a("supply")
        assert findings(plugged(highest_a - 0.1))["run.plug.j1"].level == "stop"
        assert findings(plugged(max(amps, highest_a) + 0.1))["run.plug_tight.j1"].level == "caution"
        assert findings(plugged(1.25 * amps - 0.1))["run.plug_tight.j1"].level == "caution"
        assert 1.25 * amps > highest_a
        assert "run.plug_tight.j1" not in findings(plugged(1.25 * amps))
        sound = findings(plugged(max(1.25 * amps, highest_a) + 0.1))
        assert not {"run.plug.j1", "run.plug_tight.j1", "run.plug_rating.j1"} & set(sound)

    def test_what_nobody_read_off_it(self) -> None:
        """A plug without a rating is asked about where current flows; a connector is not; nor without a unit."""
        assert findings(plugged(None))["run.plug_rating.j1"].level == "caution"
        assert "run.plug_rating.j1" not in findings(plugged(None, form="connector"))
        silent = plugged(None).model_copy(update={"charger": None})
        assert "run.plug_rating.j1" not in findings(silent)

    def test_polarity_and_handling(self) -> None:
        """Mated the wrong way round is said of either; parting it unloaded of a plug alone; a bolted joint is neither."""
        assert findings(plugged(keyed=False))["run.plug_polarity.j1"].level == "caution"
        assert "run.plug_polarity.j1" not in findings(plugged())
        assert "run.plug_handling.j1" in findings(plugged())
        assert "run.plug_handling.j1" not in findings(plugged(form="connector"))
        assert "run.plug_polarity.j1" not in findings(plugged(keyed=False, form="bus_bar"))


def side_by_side(size: str, rating_a: float, parallel: int = 2) -> Design:
    """Cables in parallel behind a device."""
    return design(supply={"pieces": [fuse(rating_a), cable(size, parallel=parallel)]})


class TestParallel:
    def test_from_fifty_square_up(self) -> None:
        """Two of 35 mm² may not share; two of 50 mm² may. Instead of two of 16 mm², one of 35."""
        assert findings(side_by_side("35 mm²", 60.0))["run.parallel.c1"].level == "stop"
        assert "run.parallel.c1" not in findings(side_by_side("50 mm²", 60.0))
        small = changed(findings(side_by_side("16 mm²", 60.0))["run.parallel.c1"])
        assert (small["supply.pieces.c1.size"], small["supply.pieces.c1.parallel"]) == ("35 mm²", 1)
        assert "run.parallel.c1" not in findings(side_by_side("16 mm²", 60.0, parallel=1))

    def test_a_device_for_each_or_one_that_each_can_bear(self) -> None:
        """50 mm² carries more than 60 A alone: a note to lay them alike; behind more than one carries, a caution."""
        one_a = ampacity(Cable(size="50 mm²", length_m=3.0, place="cabin"), "enclosed")[0]
        assert 60.0 < one_a < 250.0
        assert findings(side_by_side("50 mm²", 60.0))["run.parallel_alike.c1"].level == "note"
        over = findings(side_by_side("50 mm²", 250.0))
        assert over["run.parallel_device.c1"].level == "caution"
        assert "run.parallel_alike.c1" not in over


@pytest.mark.parametrize(("above", "told"), [(60.0, True), (80.0, False), (70.0, False)])
def test_devices_in_series(above: float, told: bool) -> None:
    """40 A below 60 A, one and a half times: either may open first; from 1.6 times, 64 A, the smaller does."""
    job = design(supply={"pieces": [fuse(above), cable(), fuse(40.0) | {"id": "d9"}]})
    assert ("protect.selectivity.d9" in findings(job)) is told


def test_several_units_on_one_tail() -> None:
    """Two units and no bus bar: told for both runs, and the remedy puts one in; with a joint before them it is well."""
    job = design(units=2)
    found = findings(job)
    assert found["run.shared_tail.supply"].level == found["run.shared_tail.delivery"].level == "caution"
    made = changed(found["run.shared_tail.supply"])["supply.pieces"]
    assert [item["kind"] for item in made] == ["device", "cable", "joint", "cable"]
    assert made[2]["form"] == "bus_bar"
    assert (made[3]["parallel"], made[3]["length_m"]) == (1, 0.3)
    other = changed(found["run.shared_tail.delivery"])["delivery.pieces"]
    assert [item["kind"] for item in other] == ["cable", "joint", "cable", "device"]
    barred = design(units=2, supply={"pieces": made}, delivery={"pieces": other})
    assert not {"run.shared_tail.supply", "run.shared_tail.delivery"} & set(findings(barred))
    assert "run.shared_tail.supply" not in findings(design())


class TestDrop:
    def test_percent_of_its_own_side(self) -> None:
        """The supply's at hot idle over 12 V, the delivery's over the auxiliary battery's nominal."""
        job = design()
        solved = solve(job)
        assert solved.output is not None
        idle = solved.running[0]
        assert drop_percent(job, solved, "supply") == pytest.approx(100 * idle.run.drop_v / 12)
        assert drop_percent(job, solved, "delivery") == pytest.approx(100 * solved.output.run.drop_v / 12)
        amps = solved.output.current_a
        assert solved.output.run.drop_v == pytest.approx(amps * solved.output.run.loop_ohm)
        found = assess(job).figures
        assert found["supply.loss_w"].value == pytest.approx(idle.run.current_a**2 * idle.run.loop_ohm)
        assert found["delivery.drop_v"].value == pytest.approx(solved.output.run.drop_v)
        assert found["supply.resistance_mohm"].value == pytest.approx(1000 * idle.run.loop_ohm)

    def test_the_limit_is_within(self) -> None:
        """Exactly the limit is within it; a hundredth less and it is told, with the copper that keeps it."""
        wide = charger(terminal_max_mm2=95.0)
        percent = drop_percent(design(charger=wide), solve(design(charger=wide)), "supply")
        assert percent is not None
        assert "run.drop.supply" not in findings(design(charger=wide, choices={"drop_percent": percent}))
        found = findings(design(charger=wide, choices={"drop_percent": percent - 0.01}))["run.drop.supply"]
        assert found.level == "caution"
        assert changed(found)["supply.pieces.c1.size"] == "35 mm²"

    @pytest.mark.parametrize(("length_m", "offered"), [(8.0, True), (14.0, False)])
    def test_a_little_more_may_be_allowed(self, length_m: float, offered: bool) -> None:
        """Up to 6 % the job may allow it, in halves of a per cent rounded up; beyond, only copper helps."""
        job = design(supply={"pieces": [fuse(60.0), cable("25 mm²", length_m)]})
        percent = drop_percent(job, solve(job), "supply")
        assert percent is not None
        assert (percent <= 6.0) is offered
        raised = changed(findings(job)["run.drop.supply"]).get("choices.drop_percent")
        if offered:
            assert raised is not None
            assert 0 <= raised - percent < 0.5
            assert (2 * raised) % 1 == 0
        else:
            assert raised is None

    def test_a_return_nobody_measured(self) -> None:
        """The body without a figure is asked about and counts 5 mΩ; measured, or with a cable of its own, it is not."""
        body = {"pieces": [fuse(60.0), cable()], "back": {"kind": "chassis"}}
        found = findings(design(supply=body))["run.chassis_unmeasured.supply"]
        assert "5 mΩ is assumed" in found.text
        assert changed(found) == {"supply.back": {"kind": "cable"}}
        assumed = solve(design(supply=body)).running[0].run.back_ohm
        measured = body | {"back": {"kind": "chassis", "resistance_mohm": 5.0}}
        assert solve(design(supply=measured)).running[0].run.back_ohm == pytest.approx(assumed)
        assert "run.chassis_unmeasured.supply" not in findings(design(supply=measured))


class TestCarrying:
    def test_collapse_and_the_unit_s_own_range(self) -> None:
        """Thin and long it collapses; a little thicker it runs below the unit's 9 V; the remedy is copper for which it runs."""
        thin = findings(design(supply={"pieces": [fuse(60.0), cable("4 mm²", 20.0)]}))
        assert thin["run.collapse"].level == "stop"
        assert "run.below_minimum" not in thin
        low = charger(input_min_v=13.5)
        found = findings(design(charger=low, supply={"pieces": [fuse(60.0), cable("16 mm²", 4.0)]}))
        assert found["run.below_minimum"].level == "stop"
        assert "run.collapse" not in found
        assert "run.below_minimum" not in findings(design())

    def test_above_its_highest_input(self) -> None:
        """14.2 V at cruise: a unit that takes 14.2 V is within, one that takes 14.1 is not."""
        assert "run.above_maximum" not in findings(design(charger=charger(input_max_v=14.2)))
        assert findings(design(charger=charger(input_max_v=14.1)))["run.above_maximum"].level == "stop"

    def test_the_current_to_protect_for(self) -> None:
        """Input watts over the lowest running volts, which are those of hot idle."""
        job = design(vehicle=vehicle())
        ctx = Context.of(job)
        assert ctx.solved.output is not None
        drawn = ctx.solved.running[0].drawn
        assert drawn is not None
        expected = ctx.solved.output.power_in_w / drawn.terminal_v
        assert assess(job).figures["supply.continuous_a"].value == pytest.approx(expected)


@pytest.mark.parametrize("run", ["supply", "delivery"])
def test_a_plug_beside_a_branch(run: str) -> None:
    """A 16 A tail flows through a plug between it and its battery; past it the unit's current alone, for a fan may be off."""
    plug = {"kind": "joint", "id": "j1", "form": "plug", "name": "tail plug", "rating_a": 1.0}
    tail = {
        "kind": "branch",
        "id": "b1",
        "feeds": "fan",
        "name": "fan",
        "current_a": 16.0,
        "device": fuse(20.0, "blade"),
    }

    def amps(pieces: list[Plain]) -> float:
        told = findings(design(**{run: {"pieces": pieces}}))["run.plug.j1"]
        return float(told.text.split("Up to ")[1].split(" A")[0])

    ctx = Context.of(design(**{run: {"pieces": [fuse(), plug, cable(), tail, cable()]}}))
    highest_a = max(ctx.continuous_a(run), ctx.lingering_a(run))  # type: ignore[arg-type]  # one of the two
    before, after = amps([fuse(), plug, cable(), tail, cable()]), amps([fuse(), cable(), tail, cable(), plug])
    assert before == pytest.approx(highest_a + (16.0 if run == "supply" else 0.0), abs=0.1)
    assert after == pytest.approx(highest_a, abs=0.1)


def test_what_a_drop_does_is_said_of_its_own_run() -> None:
    """Into the unit it draws more; out of it the battery sees less, and the charge takes longer."""
    long = {"pieces": [fuse(), cable("10 mm²", 8.0)]}
    supply, delivery = findings(design(supply=long)), findings(design(delivery=long))
    assert "The charger sees" in supply["run.drop.supply"].text
    assert "more than without the drop" in supply["run.drop.supply"].text
    assert "At full current the battery sees" in delivery["run.drop.delivery"].text
    ctx = Context.of(design(supply=long))
    idle, output = ctx.solved.running[0], ctx.solved.output
    assert idle.drawn is not None
    assert output is not None
    more_a = idle.drawn.current_a - output.power_in_w / idle.source.regulated_v
    assert more_a > 1
    assert f"{more_a:.1f} A more" in supply["run.drop.supply"].text


def test_a_cable_proposed_carries_a_quarter_more() -> None:
    """Too thin for the current: what is proposed has an ampacity of 1.25 times it at least, the next size down has not."""
    found = findings(design(supply={"pieces": [fuse(40.0), cable("2.5 mm²", 3.0)]}))["run.ampacity.c1"]
    size = changed(found)["supply.pieces.c1.size"]
    amps = Context.of(design()).continuous_a("supply")
    carried = {
        name: ampacity(Cable(id="x", size=name, length_m=3.0, place="cabin"), design().choices.ampacity_school)[0]
        for name in ("4 mm²", "6 mm²", "10 mm²", "16 mm²")
    }
    assert carried[size] >= 1.25 * amps
