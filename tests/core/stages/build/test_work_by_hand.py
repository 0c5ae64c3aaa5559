"""A job with something of every kind: its hours row by row and its bill line by line, written down beforehand."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.bill import Prices, bill_of, cable_price, devices_of
from olvask.core.stages.build.conductors import conductors_of, unit_tails
from olvask.core.stages.build.cuts import Drum, cut_list
from olvask.core.stages.build.labour import hours_of, labour_cost, labour_of, taken
from olvask.core.stages.build.orders import Stock, orders_of
from olvask.core.stages.match.sources import other_sources
from tests.designs import Plain, activation, cable, design, fuse

ROUTE = {"side": "delivery", "name": "along the sill", "length_m": 2.0, "hours": 1.25, "taken": True}
TAIL = {
    "kind": "branch",
    "feeds": "load",
    "name": "cab fridge",
    "current_a": 4.0,
    "size": "2.5 mm²",
    "length_m": 1.0,
    "device": fuse(10.0, "blade"),
}


def full(**changes: Any) -> Plain:
    """Two metres under the floor in conduit, one in the engine bay, a joint, a branch, a relay, a monitor, an old link."""
    return {
        "existing": [{"kind": "link"}, {"kind": "fridge_feed", "cut": True}, {"kind": "mains_charger", "cut": False}],
        "old_link": {"decision": "changeover"},
        "site": {"seats": True, "auxiliary_there": "new"},
        "mount": {
            "place": "cupboard",
            "around": "vents",
            "vent_low_cm2": 60.0,
            "vent_high_cm2": 60.0,
            "fan_m3_h": 40.0,
        },
        "monitor": {"unit": {"name": "Monitor"}},
        "activation": {"ways": ["ignition", "d_plus"], "start_v": 13.3, "stop_v": 12.9},
        "supply": {
            "pieces": [
                fuse(60.0),
                cable("25 mm²", 1.0, place="engine_bay"),
                {"kind": "joint", "form": "bus_bar", "name": "bulkhead post"},
                cable("25 mm²", 2.0, place="under_floor", conduit=True),
                TAIL,
            ]
        },
        "delivery": {"pieces": [cable("16 mm²", 1.5), fuse(40.0)], "back": {"kind": "chassis", "resistance_mohm": 3.0}},
    } | changes


def hours(**changes: Any) -> dict[str, float]:
    """Hours by what is done."""
    return {row.what: row.hours for row in labour_of(Context.of(design(**full(**changes))))}


def test_hours_row_by_row() -> None:
    """Every row by hand.

    Supply run with its own return: 1.3 · (1 m · 0.20 + 2 m · 0.15 · 1.4) = 0.81 h; delivery by the body: 1.5 m · 0.10.
    Ends: four supply cables, one delivery, a branch's two, two straps are nine lengths, 18 ends of 0.08 h.
    """
    found = hours()
    keyed = found.pop("Key in and read back")
    assert found == pytest.approx(
        {
            "Prepare and make safe": 0.9,
            "Take out": 0.5,
            "Seats out and back": 1.0,
            "Mount the unit": 0.5,
            "Set the auxiliary battery in": 0.75,
            "Openings": 0.5,
            "Fan kit": 0.5,
            "Lay the supply run": 0.81,
            "Lay the delivery run": 0.15,
            "Crimp, label, bolt": 1.44,
            "Device holders": 0.5,
            "Branch tails": 0.4,
            "Enable wires": 1.5,
            "Changeover relay": 1.0,
            "Monitor and shunt": 0.6,
            "Dead checks": 0.4,
            "Put back": 0.5,
            "Prove and hand over": 1.5,
        }
    )
    assert 0.3 < keyed < 1.0


def test_what_is_not_done_costs_no_hours() -> None:
    """No row for what the job has not; voltage alone takes no wire; a fan in a closed place cuts no opening."""
    quiet = hours(
        existing=[],
        old_link={},
        site={"auxiliary_there": "there"},
        mount={"place": "cupboard", "around": "shut", "vent_low_cm2": 60.0},
        monitor={},
        activation={"ways": ["voltage"], "start_v": 13.3, "stop_v": 12.9},
    )
    for row in ("Take out", "Seats out and back", "Set the auxiliary battery in", "Openings", "Fan kit"):
        assert row not in quiet
    for row in ("Enable wires", "Changeover relay", "Monitor and shunt"):
        assert row not in quiet
    assert "Mount the unit" not in hours(charger=None)
    assert hours(mount={"place": "cupboard", "around": "vents", "vent_high_cm2": 60.0})["Openings"] == 0.5


def test_words_of_one_and_of_several() -> None:
    """What is taken out stands by its kind and the note on it; how many units and metres stand beside."""
    two = [{"kind": "link", "cut": True}, {"kind": "mains_charger", "name": "8 A, by the seat", "cut": True}]
    details = {row.what: row.detail for row in labour_of(Context.of(design(**full(existing=two, units=2))))}
    assert details["Take out"] == "the old link and the mains charger (8 A, by the seat)"
    assert details["Mount the unit"] == "2 units"
    assert details["Lay the supply run"] == "3 m"
    assert details["Enable wires"] == "ignition feed (15), charge indicator (D+, 61)"
    one = {row.what: row.detail for row in labour_of(Context.of(design(**full())))}
    assert (one["Take out"], one["Mount the unit"], one["Branch tails"]) == ("the fridge's old feed", "", "1")


def test_each_unit_is_keyed() -> None:
    """0.3 h and 0.02 h a line, for each unit."""
    ctx, twice = Context.of(design()), Context.of(design(units=2))
    (row,) = (row for row in labour_of(ctx) if row.what.startswith("Key in"))
    (both,) = (row for row in labour_of(twice) if row.what.startswith("Key in"))
    lines = int(row.detail.split()[0])
    assert row.hours == pytest.approx(0.3 + 0.02 * lines)
    assert both.hours == pytest.approx(2 * (0.3 + 0.02 * int(both.detail.split()[0])))


def test_a_taken_route_brings_its_own_hours() -> None:
    """Only that of its own run, and only where it is taken."""
    ctx = Context.of(design(**full(routes=[ROUTE])))
    assert taken(ctx, "supply") is None
    found = taken(ctx, "delivery")
    assert found is not None
    assert found.name == "along the sill"
    assert hours(routes=[ROUTE])["Lay the delivery run"] == 1.25
    assert hours(routes=[ROUTE])["Lay the supply run"] == pytest.approx(0.81)
    assert hours(routes=[ROUTE | {"taken": False}])["Lay the delivery run"] == pytest.approx(0.15)


def test_hours_and_their_price() -> None:
    """Factor, hours besides and rate: each row to the cent; what is besides is not multiplied."""
    terms = {"rate_per_h": 61.0, "hours_factor": 1.3, "extra_h": 2.0, "extra_for": "Ramp of the lift"}
    ctx = Context.of(design(**full(terms=terms)))
    rows = labour_of(ctx)
    by_name = {row.what: row.hours for row in rows}
    assert by_name["Put back"] == pytest.approx(0.65)
    assert by_name["Ramp of the lift"] == 2.0
    assert hours_of(rows) == pytest.approx(sum(by_name.values()))
    assert labour_cost(ctx, rows) == pytest.approx(sum(round(61.0 * each, 2) for each in by_name.values()))


def test_half_an_hour_besides_counts() -> None:
    """Half an hour for what is not on the list is half an hour; none is no row."""
    rows = {row.what: row.hours for row in labour_of(Context.of(design(**full(terms={"extra_h": 0.5}))))}
    assert rows["Besides"] == 0.5
    assert "Besides" not in hours()


def lines(**changes: Any) -> dict[str, tuple[float, float]]:
    """Count and price by what it is."""
    return {part.what: (part.count, part.price) for part in bill_of(Context.of(design(**full(**changes)))).parts}


def test_the_bill_line_by_line() -> None:
    """Counts by hand, 20 % slack on each length and cut up to 0.1 m.

    25 mm²: two of 1 m and two of 2 m are 2 · 1.2 + 2 · 2.4 = 7.2 m; 16 mm²: 1.8 m and two straps of 0.6 m; the branch's
    2.5 mm² out and back, 2.4 m. Clips one every 0.3 m: 4 + 7 + 5. Grommets: two for each of two cables outside the cabin.
    """
    found = lines()
    counts = {what: count for what, (count, _) in found.items()}
    assert counts["Cable 25 mm²"] == pytest.approx(7.2)
    assert counts["Cable 16 mm²"] == pytest.approx(3.0)
    assert counts["Cable 2.5 mm²"] == pytest.approx(2.4)
    assert counts["Bus bar: bulkhead post"] == 2
    assert counts["Conduit, split, with end caps"] == 2.0
    assert counts["Clip with screw"] == 16
    assert counts["Grommet"] == 4
    assert counts["Fan kit"] == 1
    assert counts["UL Class T 60 A"] == counts["UL Class T 40 A"] == 1
    assert counts["Holder, UL Class T"] == 1  # of the last: one line each
    assert any(what.startswith("Changeover relay 12 V") for what in counts)
    assert "Isolator" not in counts
    assert lines(choices={"protection_school": "fuse_isolator"})["Isolator"] == (2.0, 24.0)


def test_a_joint_in_a_chassis_return_is_one() -> None:
    """With its own return a joint stands in both conductors; with the body it stands in one."""
    back = {"kind": "chassis", "resistance_mohm": 3.0}
    pieces = full()["supply"]["pieces"]
    assert lines(supply={"pieces": pieces, "back": back})["Bus bar: bulkhead post"] == (1.0, 8.0)
    assert lines(supply={"pieces": pieces})["Bus bar: bulkhead post"] == (2.0, 8.0)


def test_ends_and_sleeves_are_counted() -> None:
    """A plain job's eight ends: four lugs with sleeves, four ferrules; 2 € each end, 0.40 € each sleeve."""
    found = {part.what: (part.count, part.price) for part in bill_of(Context.of(design())).parts}
    assert found["Lug 25 mm² M8"] == found["Lug 16 mm² M8"] == (2.0, 2.0)
    assert found["Ferrule 25 mm²"] == found["Ferrule 16 mm²"] == (2.0, 2.0)
    assert found["Heat-shrink 12.7 mm"] == found["Heat-shrink 9.5 mm"] == (2.0, 0.4)
    bare = cable(strand="class_2")
    coarse = bill_of(Context.of(design(supply={"pieces": [fuse(), bare]}))).parts
    assert not any(part.what.startswith("Ferrule 25") or "bare" in part.what for part in coarse)


def test_enable_wires_are_as_long_as_the_way() -> None:
    """As measured to the unit, else as the cables lie, else five metres; each with slack, cut up to 0.1 m."""
    ways = activation(ways=["d_plus"], start_v=13.3, stop_v=12.9)

    def wire(**changes: Any) -> float:
        made = Context.of(Design.model_validate(design(**changes).model_dump(mode="json") | {"activation": ways}))
        (found,) = (part for part in bill_of(made).parts if part.what.startswith("Wire"))
        assert found.price == 0.45
        return found.count

    assert wire() == pytest.approx(3.6)
    assert wire(distances={"supply_m": 4.0}) == pytest.approx(4.8)
    assert wire(supply={"pieces": []}) == pytest.approx(6.0)


def test_own_prices_go_before_the_catalogues() -> None:
    """A size and a device with the workshop's own price; others stay; the total is each line to the cent."""
    ctx = Context.of(design())
    own = bill_of(ctx, Prices(cables={"25 mm²": 5.0}, devices={("class_t", 40.0): 30.0}))
    usual = bill_of(ctx)
    priced = {part.what: part.price for part in own.parts}
    before = {part.what: part.price for part in usual.parts}
    assert (priced["Cable 25 mm²"], priced["UL Class T 40 A"]) == (5.0, 30.0)
    assert (priced["Cable 16 mm²"], priced["UL Class T 60 A"]) == (before["Cable 16 mm²"], before["UL Class T 60 A"])
    moved = 7.2 * (before["Cable 25 mm²"] - 5.0) + before["UL Class T 40 A"] - 30.0
    assert usual.total - own.total == pytest.approx(moved, abs=0.02)
    assert cable_price("25 mm²", 3.0, 0.2, Prices(cables={"25 mm²": 5.0})) == pytest.approx(3.6 * 5.0 + 2 * 2.0)


def test_each_unit_of_several_has_a_device_of_its_own() -> None:
    """Two units: 66.7 A at the lowest running volts are 33.3 A each, 41.7 A by a quarter more: 50 A; out, 31.3 A: 40 A."""
    ctx = Context.of(design(units=2))
    assert ctx.continuous_a("supply") == pytest.approx(66.7, abs=0.2)
    supply, delivery = unit_tails(ctx, "supply"), unit_tails(ctx, "delivery")
    assert supply is not None
    assert delivery is not None
    assert supply.device is not None
    assert delivery.device is not None
    assert (supply.device.rating_a, delivery.device.rating_a) == (50.0, 40.0)
    assert (supply.bus_bars, supply.tail.length_m, supply.laid) == (2, 0.3, None)
    fitted = [device.rating_a for device in devices_of(ctx)]
    assert sorted(fitted) == [40.0, 40.0, 40.0, 50.0, 50.0, 60.0]
    parts = {part.what: part.count for part in bill_of(ctx).parts}
    assert parts["Bus bar: supply, for 2 units"] == 2
    assert unit_tails(Context.of(design()), "supply") is None


def test_every_device_on_the_bill_is_fitted() -> None:
    """A holder for each device of the runs and of every unit's own tails; a branch's is fitted with its tail."""
    branch = {"kind": "branch", "name": "lamp", "current_a": 5.0, "size": "2.5 mm²", "length_m": 2.0}
    pieces = [cable("16 mm²", 1.5), branch | {"device": fuse(10.0, "blade")}, fuse(40.0)]
    for units, delivery in ((1, pieces), (2, [cable("16 mm²", 1.5), fuse(80.0)])):
        ctx = Context.of(design(units=units, delivery={"pieces": delivery}))
        bought = sum(part.count for part in bill_of(ctx).parts if part.detail == "device")
        holders = next(row for row in labour_of(ctx) if row.what == "Device holders")
        branches = sum(piece["kind"] == "branch" for piece in delivery)
        assert int(holders.detail) == bought - branches
        assert holders.hours == pytest.approx(0.25 * (bought - branches))
        assert bought > 2


def test_tails_drawn_in_parallel_are_laid_in_parallel() -> None:
    """Two units behind a bus bar, their tails drawn twice: four conductors of each sign, for the device guards two together."""
    bar = {"kind": "joint", "form": "bus_bar"}
    pieces = [fuse(), cable("35 mm²", 2.0), bar, cable("10 mm²", 0.5, parallel=2)]
    ctx = Context.of(design(units=2, supply={"pieces": pieces, "back": {"kind": "cable"}}))
    tails = unit_tails(ctx, "supply")
    assert tails is not None
    assert tails.laid == 3
    names = [cut.id for cut in conductors_of(ctx) if cut.id.startswith("S2")]
    assert names == [f"S2.{unit}{sign}{mark}" for sign in "+−" for unit in (1, 2) for mark in "ab"]


def test_cable_is_bought_by_the_whole_metre() -> None:
    """1.5 and 1.5 m are 3 m, no fourth; 3.1 m are four with 0.9 over; a drum of 5 m keeps 2 of 3 m cut off it."""

    def used(*metres: float, drums: tuple[Drum, ...] = ()) -> list[tuple[bool, float, float, float]]:
        (any_cut, *_) = conductors_of(Context.of(design()))
        cuts = [replace(any_cut, id=f"S{at}", size="25 mm²", metal="copper", cut_m=m) for at, m in enumerate(metres)]
        return [(item.in_stock, item.length_m, item.used_m, item.left_m) for item in cut_list(cuts, drums)]

    assert used(1.5, 1.5) == [(False, 3.0, 3.0, 0.0)]
    assert used(3.1) == [(False, 4.0, 3.1, 0.9)]
    assert used(1.2, 1.8, drums=(Drum(id="A", size="25 mm²", length_m=5.0),)) == [(True, 5.0, 3.0, 2.0)]


def test_one_grille_or_two() -> None:
    """An opening low and one high are two grilles; one alone is one; an open place has none."""

    def grilles(**mount: Any) -> float | None:
        return lines(mount=mount).get("Grille", (None, 0.0))[0]

    assert grilles(around="vents", vent_low_cm2=60.0, vent_high_cm2=40.0) == 2.0
    assert grilles(around="vents", vent_low_cm2=60.0) == 1.0
    assert grilles(around="vents", vent_high_cm2=40.0) == 1.0
    assert grilles(around="open", vent_low_cm2=60.0, vent_high_cm2=40.0) is None


def test_the_battery_is_bought_by_its_name() -> None:
    """Its name where it has one, else volts, ampere-hours and chemistry."""
    named, plainly = (
        next(
            part.detail
            for part in bill_of(Context.of(design(auxiliary=pack))).parts
            if part.what == "Auxiliary battery"
        )
        for pack in (
            {"name": "Grey box", "chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0},
            {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 110.0},
        )
    )
    assert named == "Grey box"
    assert plainly.startswith("12 V 110 Ah")


def test_a_strap_is_as_thick_as_the_thickest_of_its_run() -> None:
    """16 mm² behind 25 mm² on one way: the body's strap is 25 mm²."""
    pieces = [fuse(), cable("25 mm²", 2.0), {"kind": "joint", "form": "bus_bar"}, cable("16 mm²", 1.0)]
    back = {"kind": "chassis", "resistance_mohm": 3.0}
    ctx = Context.of(design(supply={"pieces": pieces, "back": back}))
    straps = [cut for cut in conductors_of(ctx) if cut.place.startswith("supply")]
    assert straps
    assert {cut.size for cut in straps} == {"25 mm²"}


def test_cables_in_parallel_take_their_hours_each() -> None:
    """Two side by side are twice the work of one, in conduit or not."""

    def laid(parallel: int) -> float:
        pieces = [fuse(), cable("25 mm²", 3.0, parallel=parallel)]
        return hours(supply={"pieces": pieces, "back": {"kind": "chassis", "resistance_mohm": 3.0}})[
            "Lay the supply run"
        ]

    assert laid(2) == pytest.approx(2 * laid(1), abs=0.02)


@pytest.mark.parametrize(("first", "isolators"), [("fuse", 2.0), ("cable", 1.0)])
def test_an_isolator_stands_with_a_fuse_at_the_battery(first: str, isolators: float) -> None:
    """Where a run begins with its cable, or with a breaker, it has none."""
    pieces = [fuse(), cable()] if first == "fuse" else [cable(), fuse()]
    chosen = lines(choices={"protection_school": "fuse_isolator"}, supply={"pieces": pieces})
    assert chosen["Isolator"][0] == isolators


def test_openings_are_paid_for_where_there_are_any() -> None:
    """However small; not in a place with openings of no size."""
    assert "Openings" not in hours(mount={"around": "vents"})
    assert hours(mount={"around": "vents", "vent_low_cm2": 0.5})["Openings"] > 0


def test_what_is_all_on_the_shelf_is_not_ordered() -> None:
    """A drum that holds every metre of a size: none of it is to be bought."""
    bill = bill_of(Context.of(design()))
    orders = orders_of(bill, Stock(drums=[Drum(id="d", size="25 mm²", length_m=100.0)]))
    (line,) = (line for group in orders.groups for line in group.lines if line.unit == "m" and "25 mm²" in line.what)
    assert (line.to_order, line.sum) == (0.0, 0.0)
    assert line.in_stock == pytest.approx(line.needed)


def test_small_prices_add_up() -> None:
    """A Class T holder is 22 €; a tap's blade holder with its fuse 5 € and 1 €; of the battery one is bought."""
    parts = {part.what: part for part in bill_of(Context.of(design(**full()))).parts}
    assert parts["Holder, UL Class T"].price == 22.0
    tap = next(
        part for what, part in parts.items() if what.startswith("ISO 8820-3 blade") and what.endswith("in a holder")
    )
    assert tap.price == 6.0
    assert parts["Auxiliary battery"].count == 1.0


@pytest.mark.parametrize(
    ("kind", "note", "called"),
    [
        ("built_in_charger", "", "built-in charger"),
        ("mains_charger", "", "mains charger"),
        ("mains_charger", " 8 A, by the seat ", "8 A, by the seat"),
    ],
)
def test_what_charges_besides_is_called_by_its_note(kind: str, note: str, called: str) -> None:
    """Else by what it is, as the trade writes it."""
    made = design(existing=[{"kind": kind, "name": note, "charge_a": 8.0}])
    assert [source.label for source in other_sources(made)] == [called]
