"""Whatever the design, the order hurts nobody; rules that cannot all hold are told with both reasons."""

from __future__ import annotations

import os
import random
from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design, OwnStep
from olvask.core.model.site import GROUPS, Site
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.procedure.order import Procedure, _circle, in_order
from olvask.core.stages.build.procedure.rules import _leave, _order_of_sides
from olvask.core.stages.build.procedure.scene import Scene
from olvask.core.stages.build.procedure.step import Act, Origin, Rule, Step
from tests.anything import anything
from tests.designs import charger, design, vehicle
from tests.oracles.order import faults_of

MANY = int(os.environ.get("OLVASK_ORDERS", "120"))


def _made(seed: int) -> Design:
    """A design of any kind; half of them with seats, gas, sun and the rest for certain."""
    pick, made = random.Random(seed), anything(seed)
    if pick.random() < 0.5:
        on_board = {
            name: pick.random() < 0.6 for name in Site.model_fields if name not in ("airbag_wait_s", "auxiliary_there")
        }
        made = made.model_copy(update={"site": Site(auxiliary_there=pick.choice(["", "there", "new"]), **on_board)})
    return made.model_copy(update={"own_steps": ()})


def _steps(made: Design) -> tuple[Procedure, bool]:
    ctx = Context.of(made)
    return procedure_of(ctx).procedure, Scene.of(ctx).auxiliary_there


@pytest.mark.parametrize("batch", range(10))
def test_no_order_hurts_anybody(batch: int) -> None:
    """An independent walk through the vehicle finds nothing live under a hand, nothing joined or enabled too early."""
    for seed in range(batch * MANY // 10, (batch + 1) * MANY // 10):
        made = _made(seed)
        procedure, there = _steps(made)
        assert faults_of(made, [placed.step for placed in procedure.steps], there) == [], f"seed {seed}"
        assert procedure.contradictions == (), f"seed {seed}"
        keys = [placed.step.key for placed in procedure.steps]
        assert len(set(keys)) == len(keys), f"seed {seed}"


def test_the_walk_finds_what_is_wrong() -> None:
    """Two steps that a rule keeps apart, turned about: the walk says so for most of them, so it can fail."""
    made = design(
        solar={"panel_w": 120.0},
        site={"mains": True, "seats": True, "airbags": True, "gas": True, "drills": True},
        existing=[{"id": "e1", "kind": "built_in_charger", "cut": True}],
    )
    procedure, there = _steps(made)
    steps = [placed.step for placed in procedure.steps]
    at = {step.key: place for place, step in enumerate(steps)}
    missed = []
    turned = 0
    for placed in procedure.steps:
        for reason in placed.waits_for:
            if at[placed.step.key] - at[reason.step] > 40:
                continue
            order = [step for step in steps if step.key != placed.step.key]
            order.insert(at[reason.step], placed.step)
            turned += 1
            if not faults_of(made, order, there):
                missed.append((placed.step.key, reason.step))
    assert turned > 60
    assert len(missed) < turned * 0.45, missed


@pytest.mark.parametrize("number", range(4))
def test_recoveries_part_everything_before_capacitors(number: int) -> None:
    """Capacitors are emptied only when every positive and every return is off and proven dead."""
    made = design(charger=charger(isolated=bool(number % 2), behaviour={"wake_v": 8.0, "button_hold_s": 10.0}))
    found = procedure_of(Context.of(made)).recoveries
    assert next(item.title for item in found) == "Wake the unit by its input"
    emptied = next(item for item in found if "let it empty" in item.title)
    order = [act for placed in emptied.steps for act in placed.step.acts]
    at = next(place for place, act in enumerate(order) if act.does == "discharge")
    parted = {act.to for act in order[:at] if act.does == "part"}
    assert {"unit start +", "unit auxiliary +", "unit start −", "unit auxiliary −"} <= parted
    assert [act.does for act in order[:at]][-1] == "prove_dead"
    assert "loses" in emptied.text or "Check" in emptied.text or "lost" in emptied.text


def test_a_contradiction_is_told_with_both_reasons() -> None:
    """A shop that wants the battery off after the work: the reason of nature and that of the shop stand side by side."""
    own = OwnStep(
        id="w1", text="Fit the unit", why="We fit first.", group="mount", after="end.c1", before="prove.start"
    )
    made = design().model_copy(update={"own_steps": (own,)})
    cable = next(piece.id for piece in made.supply.pieces if piece.kind == "cable")
    own = own.model_copy(update={"after": f"end.{cable}"})
    made = made.model_copy(update={"own_steps": (own,)})
    procedure, there = _steps(made)
    (told,) = procedure.contradictions
    assert "We fit first" in told.text or "we fit first" in told.text
    assert "no hand on a conductor" in told.text
    assert told.dropped.origin == "shop"
    assert "makers" not in told.text
    assert "The order below leaves out" in told.text
    assert faults_of(made, [placed.step for placed in procedure.steps], there) == []


def test_a_record_against_itself_is_to_be_settled_with_the_maker() -> None:
    """It must be enabled to be keyed in, and has volts only from the side it wants last: told, not guessed."""
    own = OwnStep(
        id="w1", text="Key it before it has volts", why="Habit here.", after="key.sheet", before="insert.supply"
    )
    made = design().model_copy(update={"own_steps": (own,)})
    procedure, _ = _steps(made)
    assert procedure.contradictions
    assert all(item.dropped.origin == "shop" for item in procedure.contradictions)


def test_the_shop_against_itself_settles_it_itself() -> None:
    """Two steps that each want to be last: no maker is asked, and what the order leaves out is named."""
    own = tuple(
        OwnStep(id=f"w{at}", text=f"Wipe {what}", why=f"{what} last", after=f"own.w{3 - at}")
        for at, what in ((1, "sills"), (2, "seats"))
    )
    procedure, _ = _steps(design().model_copy(update={"own_steps": own}))
    (told,) = procedure.contradictions
    assert "makers" not in told.text
    assert "The order below leaves out “Wipe s" in told.text
    assert told.text.endswith("Settle which of them holds.")


def test_a_step_of_the_shop_that_names_nothing_is_told() -> None:
    """A name mistyped is not passed over in silence."""
    own = OwnStep(id="w1", text="Wash hands", after="no.such", group="put_back")
    procedure, _ = _steps(design().model_copy(update={"own_steps": (own,)}))
    assert any("no.such" in text for text in procedure.unknown)
    assert "own.w1" in [placed.step.key for placed in procedure.steps]


def test_where_a_record_asks_otherwise_the_order_follows() -> None:
    """Auxiliary battery first, and enabled before it is keyed in, where the unit's record says so."""
    plain = [placed.step.key for placed in _steps(design())[0].steps]
    assert (
        plain.index("insert.supply") < plain.index("key.sheet") < plain.index("insert.delivery") < plain.index("enable")
    )
    turned = design(charger=charger(behaviour={"connect_first": "auxiliary_side", "enable_when": "before_keying"}))
    keys = [placed.step.key for placed in _steps(turned)[0].steps]
    assert keys.index("insert.delivery") < keys.index("insert.supply") < keys.index("enable") < keys.index("key.sheet")


@pytest.mark.parametrize(("first", "origin"), [("", "habit"), ("start_side", "record"), ("auxiliary_side", "record")])
def test_who_asks_for_the_order_of_sides(first: str, origin: Origin) -> None:
    """The unit's record where it says so, habit where it does not: that is what gives way first."""
    made = design(charger=charger(behaviour={"connect_first": first} if first else {}))
    sides = {Act("insert", "start"), Act("insert", "auxiliary")}
    (law,) = (item for item in _order_of_sides(made) if {item.before, item.after} == sides)
    assert law.origin == origin


@pytest.mark.parametrize(
    ("behaviour", "keyed_first"),
    [
        ({}, True),
        ({"wake_v": 12.8}, True),  # the start side is in already
        ({"connect_first": "auxiliary_side"}, True),
        ({"connect_first": "auxiliary_side", "wake_v": 12.8}, False),  # it sleeps until the start side is in
        ({"connect_first": "auxiliary_side", "enable_when": "before_keying"}, False),
    ],
)
def test_it_is_set_before_it_meets_the_second_side_where_it_can_be(
    behaviour: dict[str, Any], keyed_first: bool
) -> None:
    """Keyed in on the first side's volts, where those are enough to key it in."""
    laws = list(_order_of_sides(design(charger=charger(behaviour=behaviour))))
    second = "start" if behaviour.get("connect_first") == "auxiliary_side" else "auxiliary"
    assert any((law.before, law.after) == (Act("key", "sheet"), Act("insert", second)) for law in laws) is keyed_first


def test_who_says_that_leave_to_charge_comes_last() -> None:
    """Volts, keying and the plug before it: physics, so that the shop cannot turn it about; what is only switched on may be."""
    made = design(vehicle=vehicle(lifters=[{"id": "l1"}]))
    origins = {law.before: law.origin for law in _leave(made) if law.after == Act("enable")}
    assert {act.does: origin for act, origin in origins.items()} == {
        "insert": "physics",
        "key": "physics",
        "plug": "physics",
        "on": "habit",
    }


def test_a_seat_with_airbags_waits_and_is_back_before_the_battery() -> None:
    """Battery off, wait, seat out; plugs in before the battery is on; bolted at the end."""
    made = design(site={"seats": True, "airbags": True, "airbag_wait_s": 180.0})
    procedure, _ = _steps(made)
    keys = [placed.step.key for placed in procedure.steps]
    order = ["part.start_negative", "wait.airbag", "seats.out", "seats.plugs", "join.start_negative", "back.seats"]
    assert [key for key in keys if key in order] == order
    assert next(placed.step.wait_s for placed in procedure.steps if placed.step.key == "wait.airbag") == 180


def test_groups_come_in_the_order_of_the_work() -> None:
    """Where no rule speaks, the work goes from preparing to putting back."""
    procedure, _ = _steps(design(vehicle=vehicle()))
    groups = [placed.step.group for placed in procedure.steps]
    places = [list(GROUPS).index(group) for group in groups]
    assert places == sorted(places)


@pytest.mark.parametrize("first", ["physics", "shop"])
def test_of_two_reasons_for_one_pair_the_stronger_is_told(first: Origin) -> None:
    """In a circle a pair is named with what nature asks, whichever of its rules was written first."""
    live = Rule(before="a", after="b", why="It is live.", origin="physics")
    pair = [live, Rule(before="a", after="b", why="We like it.", origin="shop")]
    if first == "shop":
        pair.reverse()
    circle = _circle(
        {"a": (0, 0), "b": (1, 0)}, [*pair, Rule(before="b", after="a", why="Its record says so.", origin="record")]
    )
    assert circle is not None
    assert {rule.origin for rule in circle} == {"physics", "record"}
    assert _circle({"a": (0, 0), "b": (1, 0)}, pair) is None


def test_a_circle_takes_no_other_rule_with_it() -> None:
    """Two rules against each other: the shop's goes, and what else was to come first still does."""
    steps = [Step(key=key, group="connect", text=key, why="It is.") for key in ("a", "b", "c")]
    rules = [
        Rule(before="a", after="b", why="Nature.", origin="physics"),
        Rule(before="b", after="a", why="The shop.", origin="shop"),
        Rule(before="c", after="a", why="Nature.", origin="physics"),
    ]
    found = in_order("Three", "", steps, rules)
    assert [placed.step.key for placed in found.steps] == ["c", "a", "b"]
    assert len(found.contradictions) == 1
