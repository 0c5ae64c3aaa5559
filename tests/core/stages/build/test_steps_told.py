"""What each step of the work says, counts and waits for: the plain job's whole course, and what changes its words."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.findings.listed import listed
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.procedure.before import GASSING, SHORT
from olvask.core.stages.build.procedure.order import Procedure
from olvask.core.stages.build.procedure.rules import _sun
from olvask.core.stages.build.procedure.step import Act, Step
from tests.designs import cable, charger, design, fuse, vehicle

BODY = {"kind": "chassis", "resistance_mohm": 3.0}


def steps(**changes: Any) -> dict[str, Step]:
    """Every step of a job by its key."""
    made = design(**({"site": {"auxiliary_there": "there"}} | changes))
    return {placed.step.key: placed.step for placed in procedure_of(Context.of(made)).procedure.steps}


def ways_back(**changes: Any) -> dict[str, Procedure]:
    """Every way back by its title."""
    return {found.title: found for found in procedure_of(Context.of(design(**changes))).recoveries}


COURSE = [
    "prepare.read",
    "prepare.parts",
    "prepare.bench",
    "prepare.park",
    "prepare.photo",
    "off.loads",
    "part.start_negative",
    "part.start_positive",
    "part.auxiliary_negative",
    "part.auxiliary_positive",
    "prove.start",
    "prove.auxiliary",
    "mount.unit",
    "mount.d1",
    "mount.d2",
    "route.c1",
    "route.c2",
    "end.c1",
    "bolt.c1",
    "end.c2",
    "bolt.c2",
    "check.through.supply",
    "check.short.supply",
    "check.through.delivery",
    "check.short.delivery",
    "check.torque",
    "join.start_positive",
    "join.start_negative",
    "volts.start",
    "join.auxiliary_positive",
    "join.auxiliary_negative",
    "volts.auxiliary",
    "insert.supply",
    "key.sheet",
    "key.code",
    "insert.delivery",
    "enable",
    "back.panels",
    "on.loads",
    "back.prove",
]


def test_the_whole_course_of_a_plain_job() -> None:
    """Forty steps, each safe only after those before it."""
    assert list(steps()) == COURSE


@pytest.mark.parametrize(
    ("key", "text", "number"),
    [
        ("prepare.parts", "Lay out the parts: 4 conductors to cut, labels printed for both ends", ""),
        ("route.c1", "Lay S1+ and S1− through the cabin, clipped every 30 cm, a grommet at every edge", "25 mm², 3 m one-way"),
        ("end.c1", "Cut, crimp and label S1+ and S1−", "25 mm², 3.6 m"),
        ("join.start_positive", "Put the holder of the 60 A device and what was there on the start battery's positive", ""),
        ("join.start_negative", "Put S1− and what was there on the start battery's negative", "12 N·m"),
        ("insert.supply", "Close the start side: the 60 A device of the supply run", ""),
        ("insert.delivery", "Close the auxiliary side: the 40 A device of the delivery run", ""),
        ("key.sheet", "Key in the sheet, 6 lines, and read it back", ""),
        ("enable", "Switch it on as a charger", "starts at 13.30 V"),
        ("on.loads", "Switch the loads on again, one after the other", ""),
    ],
)  # fmt: skip
def test_words_and_numbers(key: str, text: str, number: str) -> None:
    """As a fitter reads them."""
    found = steps()[key]
    assert (found.text, found.number) == (text, number)


def test_readings_of_the_dead_checks() -> None:
    """Half an ohm through at most, a kiloohm between at least; dead is within half a volt."""
    found = steps()
    for run in ("supply", "delivery"):
        through, short = found[f"check.through.{run}"].expected, found[f"check.short.{run}"].expected
        assert through is not None
        assert short is not None
        assert (through.least, through.most, through.unit) == (0.0, 0.5, "Ω")
        assert (short.least, short.most, short.unit) == (1000.0, None, "Ω")
    dead = found["prove.start"].expected
    assert dead is not None
    assert (dead.least, dead.most) == (-0.5, 0.5)


def test_devices_at_both_ends_and_of_each_unit() -> None:
    """One device closes a side; of two the far one follows, of three the others; several units have each its own."""

    def close(*devices: float, **changes: Any) -> str:
        pieces = [fuse(devices[0]), cable(), *[fuse(rating) for rating in devices[1:]]] if devices else [cable()]
        return steps(supply={"pieces": pieces}, **changes)["insert.supply"].text

    assert close(60.0) == "Close the start side: the 60 A device of the supply run"
    assert close(60.0, 50.0).endswith("run, then the one at the far end")
    assert close(60.0, 50.0, 40.0).endswith("run, then those at the far end")
    assert close() == "Close the start side: the last link of the supply run"
    assert close(60.0, units=2).endswith("; each unit's own device after it, one at a time")
    assert steps(charger=None)["insert.supply"].text.startswith("Close the start side")


def test_where_no_run_is_laid_nothing_is_measured_or_put_in() -> None:
    """Without a unit and without a piece nothing is open and nothing to close; with nothing to cut that is said."""
    found = steps(charger=None, supply={"pieces": []}, delivery={"pieces": []})
    assert not {"volts.start", "volts.auxiliary", "insert.supply", "insert.delivery"} & set(found)
    assert found["prepare.parts"].text == "Lay out the parts: no conductor is to be cut"
    assert {"volts.start", "insert.supply"} <= set(steps(charger=None, delivery={"pieces": []}))


def test_posts_with_what_belongs_on_them() -> None:
    """A new battery has nothing on it yet; with no device first the cable goes on; a stud elsewhere leaves the post alone."""
    new = steps(site={"auxiliary_there": "new"})
    assert new["join.auxiliary_negative"].text == "Put D1− on the auxiliary battery's negative"
    assert (
        new["join.auxiliary_positive"].text == "Put the holder of the 40 A device on the auxiliary battery's positive"
    )
    bare = steps(supply={"pieces": [cable()]})
    assert bare["join.start_positive"].text == "Put S1+ and what was there on the start battery's positive"
    assert bare["join.start_positive"].number == "12 N·m"
    body = steps(supply={"pieces": [fuse(), cable()], "back": BODY})
    assert body["join.start_negative"].text == "Put what was there on the start battery's negative"
    assert body["join.start_negative"].number == ""
    stud = steps(vehicle=vehicle(source_point={"kind": "alternator_stud"}))
    assert "join.start_positive" not in stud
    inline = steps(supply={"pieces": [cable(length_m=0.1), fuse(60.0), cable()]})["join.start_positive"].text
    assert inline == "Put S1+ and what was there on the start battery's positive"
    sensed = vehicle(start_battery={"chemistry": "flooded", "capacity_ah": 90.0, "negative_sensor": True})
    assert "the body side of its sensor" in steps(vehicle=sensed)["join.start_negative"].text
    assert "sensor and all" in steps(vehicle=sensed)["part.start_negative"].text


def test_gases_stand_by_lead_alone() -> None:
    """The auxiliary battery's gases are warned of at lead, not at lithium; nor at the closed start side."""
    assert steps()["volts.auxiliary"].hazard is not None
    assert steps()["volts.start"].hazard is None
    lithium = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}
    assert steps(auxiliary=lithium)["volts.auxiliary"].hazard is None


def test_seats_and_their_airbags() -> None:
    """Back before the battery; with airbags their earth first, and the warning with them."""
    seats = steps(site={"seats": True, "auxiliary_there": "there"})
    assert seats["seats.plugs"].text == "Set the seats back"
    assert seats["seats.plugs"].hazard is None
    assert seats["seats.out"].text == "Take the seats out: note each earth strap and bolt"
    assert "back.seats" in seats
    bags = steps(site={"seats": True, "airbags": True, "auxiliary_there": "there"})
    assert bags["seats.plugs"].text == "Set the seats back: its earth first, then its plugs"
    assert bags["seats.plugs"].hazard is not None
    assert "unplug them as the maker says" in bags["seats.out"].text
    assert "seats.plugs" not in steps()


def test_a_trailer_by_survey_or_by_plug() -> None:
    """Either is enough to unplug it first and plug it in at the end."""
    plug = {"kind": "joint", "form": "plug", "name": "tail plug", "rating_a": 60.0}
    for changes in (
        {"vehicle": vehicle(chassis={"body": "metal_bonded", "bonding_mohm": 3.0, "trailer": True})},
        {"supply": {"pieces": [fuse(), cable(), plug, cable()]}},
    ):
        found = steps(**changes)
        assert {"off.trailer", "on.trailer"} <= set(found)
    assert not {"off.trailer", "on.trailer"} & set(steps())


def test_what_gives_leave_to_charge() -> None:
    """By volts it is switched on; by a wire from its terminal, with the fuse at its tap; by a switch at its remote terminals."""
    wired = steps(activation={"ways": ["ignition", "d_plus"], "start_v": None})["enable"]
    assert wired.text == "Give it leave to charge: enable wire from 15 and enable wire from 61"
    assert wired.number.count("A at its tap") == 2
    switched = steps(activation={"ways": ["switch"], "start_v": None})["enable"]
    assert switched.text == "Give it leave to charge: the switch at its remote terminals"
    assert switched.number == ""
    both = steps(activation={"ways": ["ignition", "voltage"]})["enable"]
    assert both.text == "Give it leave to charge: enable wire from 15"
    assert "enable" not in steps(charger=None)


def test_keying_in() -> None:
    """Firmware only where the unit has a menu; a unit without lines is set as its maker says; a converter is not keyed."""
    assert "key.firmware" not in steps()
    found = steps(charger=charger(settings={}))
    assert "key.firmware" in found
    assert "of each unit" in steps(units=2)["key.sheet"].text
    assert not any(key.startswith("key.") for key in steps(charger=charger(kind="converter")))


def test_loads_and_inverter_come_back() -> None:
    """The inverter last, and only where there is one."""
    with_inverter = steps(site={"inverter": True, "auxiliary_there": "there"})
    assert with_inverter["on.loads"].text.endswith("one after the other, the inverter last")
    assert [act.to for act in with_inverter["on.loads"].acts] == ["loads", "inverter"]
    assert [act.to for act in steps()["on.loads"].acts] == ["loads"]


def test_tails_are_closed_after_their_run() -> None:
    """A fan and a load have their device put in; a sense wire's stays with its sensor; one without a device has none."""

    def tail(id: str, feeds: str, device: Any) -> dict[str, Any]:
        return {"kind": "branch", "id": id, "feeds": feeds, "name": f"{feeds} wire", "current_a": 1.0, "device": device}

    small = fuse(5.0, "blade")
    found = steps(
        supply={
            "pieces": [
                fuse(),
                cable(),
                tail("b1", "fan", small),
                tail("b2", "load", small),
                tail("b3", "sense", small),
                tail("b4", "load", None),
            ]
        }
    )
    assert found["insert.b1"].text == "Put the 5 A device of fan wire in"
    assert "insert.b2" in found
    assert not {"insert.b3", "insert.b4"} & set(found)
    assert found["route.branches"].text.startswith("Lay the branch tails ")


def test_conduit_and_places() -> None:
    """Where each cable goes, in conduit or not; a photograph of what will not be seen again."""
    found = steps(
        supply={"pieces": [fuse(), cable(place="under_floor", conduit=True), cable(place="engine_bay"), cable()]}
    )
    assert "under the floor in conduit" in found["route.c1"].text
    assert "through the engine bay, clipped" in found["route.c2"].text
    assert [found[f"route.c{at}"].photo for at in (1, 2, 3)] == [True, True, False]


def test_a_strap_is_greased_and_measured() -> None:
    """A milliohm at most, with a photograph; a bolted cable has neither."""
    strapped = steps(delivery={"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": BODY})
    strap = strapped["bolt.delivery.back"]
    assert strap.expected is not None
    assert (strap.expected.most, strap.expected.unit, strap.photo) == (1.0, "mΩ", True)
    assert "grease" in strap.why
    assert strapped["bolt.c1"].expected is None
    assert not strapped["bolt.c1"].photo


@pytest.mark.parametrize(
    ("names", "said"), [((), ""), (("a",), "a"), (("a", "b"), "a and b"), (("a", "b", "c"), "a, b and c")]
)
def test_names_one_after_the_other(names: tuple[str, ...], said: str) -> None:
    """As one says them aloud."""
    assert listed(names) == said


class TestWaysBack:
    def test_waking_by_the_input(self) -> None:
        """A volt over what wakes it per 12 V, never over what it stands; ten seconds; what it shows first is looked for."""
        found = ways_back(charger=charger(behaviour={"wake_v": 9.5, "lamps": ["green", "amber"]}))
        told = {placed.step.key: placed.step for placed in found["Wake the unit by its input"].steps}
        assert told["raise.hold"].text.startswith("Give its input 10.5 V:")
        assert told["raise.hold"].number == "never over 17 V"
        assert told["raise.hold"].wait_s == 10.0
        assert told["raise.hold"].see == ("green", "it answers")
        asleep = told["raise.measure"].expected
        assert asleep is not None
        assert (asleep.least, asleep.most) == (0.0, 9.5)
        high = ways_back(charger=charger(behaviour={"wake_v": 16.5}))["Wake the unit by its input"].steps
        assert any("Give its input 17.0 V" in placed.step.text for placed in high)
        assert "Wake the unit by its input" not in ways_back()

    def test_emptying(self) -> None:
        """Its capacitors' own time, a second at least, else two minutes; the shared negative is looked at, not taken off twice."""

        def emptied(**record: Any) -> dict[str, Step]:
            found = ways_back(charger=charger(**record))["Take every lead off the unit, and let it empty"]
            return {placed.step.key: placed.step for placed in found.steps}

        assert emptied()["empty.capacitors"].wait_s == 120.0
        empty = emptied()["empty.capacitors"].expected
        assert empty is not None
        assert (empty.least, empty.most) == (-1.0, 1.0)
        assert emptied(behaviour={"capacitor_wait_s": 45.0})["empty.capacitors"].wait_s == 45.0
        assert emptied(behaviour={"capacitor_wait_s": 0.0})["empty.capacitors"].wait_s == 1.0
        own, shared = emptied(), emptied(isolated=False)
        for key in ("empty.start_negative", "empty.auxiliary_negative"):
            assert own[key].text.startswith("Take the negative")
        assert shared["empty.start_negative"].text.startswith("Take the negative")
        assert shared["empty.auxiliary_negative"].text.startswith("See that its shared negative")
        assert "second input" in emptied(dual_input="split")["empty.start_device"].text
        assert "second input" not in own["empty.start_device"].text

    def test_the_button(self) -> None:
        """Held for as long as its record says, for its own reason; no button, no such way."""
        title = "Reset the unit by its button"
        record = {"button_hold_s": 8.0, "button": "Five short flashes say that it forgot.", "lamps": ["red"]}
        (step,) = (
            placed.step
            for placed in ways_back(charger=charger(behaviour=record))[title].steps
            if placed.step.key == "hold.button"
        )
        assert (step.text, step.wait_s) == ("Hold its button for 8 seconds, and let go", 8.0)
        assert (step.why, step.see) == ("Five short flashes say that it forgot.", ("red",))
        assert title not in ways_back()

    def test_a_pack_that_shows_nothing(self) -> None:
        """Ten seconds on the posts and no longer; shorts are warned of where leads are parted and where volts go on."""
        told = {placed.step.key: placed.step for placed in ways_back()["Wake a battery that shows nothing"].steps}
        assert [step.wait_s for step in told.values()] == [0.0, 0.0, 0.0, 10.0, 0.0, 0.0]
        assert [step.hazard is not None for step in told.values()] == [True, False, False, True, False, False]
        assert [step.group for step in told.values()] == ["prepare"] * 3 + ["first_power"] * 3
        assert "Wake a battery that shows nothing" in ways_back(charger=None)


def test_own_sources_of_the_start_battery_go_off_and_come_back() -> None:
    """A panel on the start side and the lifter that stands for it are one thing; any other goes off and on by itself."""
    lifters = [{"id": "l1", "kind": "solar"}, {"id": "l2", "kind": "maintainer"}]
    for into, panel_w, sources in (
        ("start_side", 80.0, {"solar", "lifter.l2"}),
        ("controller", 80.0, {"solar", "lifter.l1", "lifter.l2"}),
        ("start_side", None, {"lifter.l1", "lifter.l2"}),
    ):
        told = steps(vehicle=vehicle(lifters=lifters), solar={"panel_w": panel_w, "into": into})
        for way in ("off", "on"):
            turned = {key.removeprefix(f"{way}.") for key in told if key.startswith((f"{way}.solar", f"{way}.lifter"))}
            assert turned == sources


def test_what_is_reset_is_photographed_before() -> None:
    """A reset throws the settings away: they are noted with a photograph; holding the button needs none."""
    found = ways_back(charger=charger(behaviour={"button_hold_s": 8.0, "button": "Two beeps."}))
    told = {placed.step.key: placed.step for placed in found["Reset the unit by its button"].steps}
    assert told["hold.note"].photo
    assert not told["hold.button"].photo


@pytest.mark.parametrize(
    ("changes", "there"),
    [
        ({}, False),
        ({"solar": {"panel_w": 120.0, "into": "controller"}}, True),
        ({"solar": {"panel_w": 120.0, "into": "second_input"}, "charger": charger(dual_input="split")}, False),
        ({"solar": {"panel_w": 120.0, "into": "start_side"}}, False),
        ({"existing": [{"kind": "monitor"}]}, True),
    ],
)
def test_whether_the_auxiliary_battery_seems_to_be_in(changes: dict[str, Any], there: bool) -> None:
    """Something that only makes sense at one: a monitor, a controller of its own; a panel elsewhere says nothing."""
    assert design(**changes).auxiliary_new is not there


def test_why_the_sun_goes_off_first() -> None:
    """A controller that loses its battery under sun is ruined; a panel without one only feeds the leads."""

    def reason(into: str) -> str:
        made = design(solar={"panel_w": 120.0, "into": into}, charger=charger(dual_input="split"))
        (law,) = (law for law in _sun(made) if law.before == Act("off", "solar") and law.after.to.endswith("−"))
        return law.why

    assert reason("controller") == "Sun off before its controller loses its battery."
    assert reason("second_input") == reason("start_side") == "It feeds the leads."


def test_a_reset_says_what_it_throws_away() -> None:
    """What its menu calls lost has to be keyed in again; where nothing is, every line is looked at after."""
    line = {"id": "a", "label": "Charge volts", "means": "absorption_v", "unit": "V", "from_value": 12, "to_value": 15}

    def said(lost: bool) -> str:
        menu = {"enter": "Hold.", "save": "Leave.", "lines": [line | {"step": 0.1, "lost_at_reset": lost}]}
        unit = charger(behaviour={"button_hold_s": 8.0, "button": "Two beeps."}, settings=menu)
        return ways_back(charger=unit)["Reset the unit by its button"].text

    assert said(True) == "This loses: Charge volts. All of it is keyed in again from Settings."
    assert said(False) == "Check every line of the sheet after it."


def test_a_battery_that_is_set_in_gasses_if_it_is_lead() -> None:
    """Lead gasses, lithium does not: there what can hurt is a short across its posts."""
    lithium = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}
    found = [
        steps(site={"auxiliary_there": "new"}, **what)["mount.auxiliary"].hazard
        for what in ({"auxiliary": lithium}, {})
    ]
    assert found == [SHORT, GASSING]


def test_the_smallest_openings_are_cut() -> None:
    """Half a square centimetre low and high is one to cut."""
    small = {"around": "vents", "vent_low_cm2": 0.5, "vent_high_cm2": 0.5}
    assert steps(mount=small)["mount.vents"].number == "0.5 cm² low, 0.5 cm² high"


def test_the_first_lamp_shows_on_the_start_side_alone() -> None:
    """What the unit shows as its input gets volts is looked for there; its output shows nothing of the kind."""
    found = steps(charger=charger(behaviour={"lamps": ["green, steady: it has volts", "red: it has none"]}))
    assert found["insert.supply"].see[0] == "green, steady: it has volts"
    assert found["insert.delivery"].see[0] == "volts at its output"


@pytest.mark.parametrize(
    ("units", "unit", "named"), [(1, True, "Test unit"), (2, True, "each of the 2 × Test unit"), (1, False, None)]
)
def test_what_is_tried_on_a_bench(units: int, unit: bool, named: str | None) -> None:
    """The unit by its name, each of several; without one there is nothing to try."""
    found = steps(units=units) if unit else steps(charger=None)
    assert found["prepare.bench"].text == f"Try {named} on a bench supply" if named else "prepare.bench" not in found


def test_a_battery_before_work_reads_between_nearly_empty_and_just_rested() -> None:
    """The plain job's start battery: a flooded one at three tenths rests at some 11.9 V; 12.7 V just after stopping; a meter's 0.05 V on either side."""
    told = [
        step.expected
        for step in steps().values()
        if step.expected and step.expected.what == "Volts of the start battery"
    ]
    assert told
    for expected in told:
        assert expected.most == 12.75
        assert expected.least is not None
        assert expected.least == pytest.approx(open_circuit_v("flooded", 0.3, 12) - 0.05, abs=0.006)


def test_what_will_not_be_seen_again_is_photographed() -> None:
    """As it was before, what comes out, what is covered up, the torque marks and the panels put back; nothing else."""
    found = steps(
        existing=[{"kind": "link"}], old_link={"decision": "disconnect"}, monitor={"unit": {"name": "M"}},
        mount={"place": "cabin", "around": "vents", "vent_low_cm2": 50, "vent_high_cm2": 50},
    )  # fmt: skip
    taken = {"prepare.photo", "out.e1", "mount.unit", "mount.shunt", "check.torque", "back.panels"}
    assert {key for key, step in found.items() if step.photo} == taken
