"""A quote off the one bill, hours that follow the work, routes that each get their own cable, and the order list."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.analyses.quote import NothingToGive, Quote, QuoteHead, TooManyOptionsQuoted, quote_of, to_give
from olvask.core.analyses.routes import along, routes_of
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Cable, Design
from olvask.core.stages.build.bill import Prices, bill_of
from olvask.core.stages.build.cuts import Drum, buying
from olvask.core.stages.build.labour import hours_of, labour_of
from olvask.core.stages.build.orders import Stock, orders_of
from olvask.documents.quote import quote_pdf
from olvask.store.demo import demo_designs
from tests.designs import charger, design

HEAD = QuoteHead("Library lorry", "ML-207", "Quillmoor", "2031-05-01", "2031-05-31")
DEMO: list[Design] = [item[1] if isinstance(item, tuple) else item for item in demo_designs()]


def euro(quote: Quote) -> list[float]:
    return [option.total for option in quote.options]


@pytest.mark.parametrize("at", range(len(DEMO)))
def test_the_parts_are_the_one_bill_to_the_cent(at: int) -> None:
    """The bill's total, buying's, and the sum of a quote's lines are one number; the rest adds up by hand."""
    made, prices = DEMO[at], Prices(cables={"16 mm²": 3.333}, devices={("class_t", 60.0): 17.777})
    (option,) = quote_of(HEAD, [("As designed", made)], prices).options
    bill = bill_of(Context.of(made), prices)
    assert option.parts_total == bill.total == buying(made, prices=prices).total
    assert round(sum(line.sum for line in option.parts), 2) == bill.total
    assert round(sum(line.sum for line in option.work), 2) == option.labour_total
    assert option.net == round(option.parts_total + option.labour_total, 2)
    assert option.total == round(option.net + round(option.net * 0.2, 2), 2)


def test_terms_count_once() -> None:
    """Ten per cent on parts, 25 € of small parts, 19 % tax, 72 € an hour, two hours besides: by hand."""
    terms = {"parts_markup": 10.0, "small_parts": 25.0, "tax_percent": 19.0, "rate_per_h": 72.0, "extra_h": 2.0}
    made = design(terms=terms)
    (option,) = quote_of(HEAD, [("A", made)]).options
    bill, hours = bill_of(Context.of(made)).total, hours_of(labour_of(Context.of(made)))
    assert option.parts_total == round(bill + round(bill * 0.1, 2) + 25.0, 2)
    assert round(sum(line.sum for line in option.parts), 2) == option.parts_total
    assert option.labour_total == pytest.approx(hours * 72.0, abs=0.1)
    assert option.tax == round(option.net * 0.19, 2)
    assert any(line.count == 2.0 and line.what == "Besides" for line in option.work)


def test_options_stand_side_by_side_on_one_set_of_terms() -> None:
    """Three options, terms of the first; none and five are refused."""
    three = [(f"Option {at}", made.model_copy(update={"terms": made.terms})) for at, made in enumerate(DEMO[:3])]
    quote = quote_of(HEAD, three)
    assert [option.name for option in quote.options] == ["Option 0", "Option 1", "Option 2"]
    assert quote.valid_until == "2031-05-31"
    for wrong in ([], [*three, *three]):
        with pytest.raises(TooManyOptionsQuoted):
            quote_of(HEAD, wrong)


def test_what_is_not_to_be_built_is_not_promised() -> None:
    """An option with a stop says so, by name, and promises nothing."""
    made = design(mount={"backing": "plastic"})
    quote = quote_of(HEAD, [("A", made)])
    (option,) = quote.options
    assert to_give(quote) == quote  # it may be given, with its reason
    bare = design(charger=None)
    with pytest.raises(NothingToGive, match="Not offered as it stands: no unit is chosen"):
        to_give(quote_of(HEAD, [("A", bare)]))
    beside = quote_of(HEAD, [("A", bare), ("B", design())])
    assert to_give(beside) == beside
    stops = [item.title for item in assess(made).stops]
    assert stops
    assert all(title in option.refused for title in stops)
    assert option.does == ()


def test_what_is_promised_of_a_day_is_the_days_balance() -> None:
    """25 A less 5 A of loads into AGM at 0.85 are 17 Ah an hour; 25.5 Ah a day take 1.5 h, 51 Ah take 3 h, whatever is stored."""
    promised: dict[float, tuple[str, ...]] = {}
    for daily_ah in (25.5, 51.0):
        use = {"daily_ah": daily_ah, "drive_h": 2.0, "loads_driving_a": 5.0}
        (option,) = quote_of(HEAD, [("A", design(use=use))]).options
        assert option.charge_ah_per_h == pytest.approx(17.0)
        promised[daily_ah] = (*option.does, *option.will_not)
        assert "An hour's driving puts about 17 Ah back into the battery." in option.does
    assert "A day's use is put back in about 1.5 h of driving; you drive 2 h a day." in promised[25.5]
    assert "A day's use is put back in about 3.0 h of driving; you drive 2 h a day." in promised[51.0]
    short = "2 h of driving does not put a whole day's use back."
    assert short not in promised[25.5]
    assert short in promised[51.0]
    larger = design(use={"daily_ah": 25.5, "drive_h": 2.0, "loads_driving_a": 5.0}, auxiliary={"capacity_ah": 220.0})
    (option,) = quote_of(HEAD, [("A", larger)]).options
    assert "A day's use is put back in about 1.5 h of driving; you drive 2 h a day." in option.does


def test_the_last_fifth_is_told() -> None:
    """20 A into AGM of 110 Ah that takes 30 A: 7.3 Ah at 20 A · 0.85, then ln(13.3 / 5) of 22 Ah at 30 A · 0.85: 1.28 h."""
    use = {"daily_ah": 25.5, "drive_h": 2.0, "loads_driving_a": 5.0}
    (option,) = quote_of(HEAD, [("A", design(use=use))]).options
    told = "Near full the battery takes less and less: from 80 % to 95 % takes about 1.3 h of driving."
    assert told in option.will_not
    lithium = {"chemistry": "lfp", "capacity_ah": 110.0, "low_temperature_cut_off": True}
    (other,) = quote_of(HEAD, [("A", design(use=use, auxiliary=lithium))]).options
    assert not any("Near full" in line for line in other.will_not)


def test_what_has_no_price_is_said_not_to_be_in_it() -> None:
    """A new battery and a unit without a price are named; with theirs they are in the sum."""
    bare = design(site={"auxiliary_there": "new"}, charger=charger())
    priced = design(site={"auxiliary_there": "new", "auxiliary_price": 640.0}, charger=charger(price=210.0))
    old = design(site={"auxiliary_there": "there"}, charger=charger(price=210.0))
    found = {item.name: item for item in quote_of(HEAD, [("bare", bare), ("priced", priced), ("old", old)]).options}
    assert found["bare"].unpriced == ("Test unit", "Auxiliary battery")
    assert found["priced"].unpriced == found["old"].unpriced == ()
    sums = {name: sum(line.sum for line in item.parts if line.unit == "pieces") for name, item in found.items()}
    assert sums["priced"] - sums["bare"] == pytest.approx(850.0)
    assert sums["priced"] - sums["old"] == pytest.approx(640.0)


def test_no_customer_is_told_that_frost_is_seen_to_where_nothing_stops() -> None:
    """With a cut-off of its own it is not charged in the cold; without one, and a panel that goes on, it must not be."""
    pack = {"chemistry": "lfp", "capacity_ah": 110.0, "charge_min_c": 2.0}
    for cut_off, told in ((True, "is not charged, to save it"), (False, "must not be charged")):
        made = design(auxiliary=pack | {"low_temperature_cut_off": cut_off}, solar={"panel_w": 100.0})
        (option,) = quote_of(HEAD, [("A", made)]).options
        assert f"Under 2 °C the battery {told}." in option.will_not


def test_loads_that_take_it_all_are_not_promised_a_charge() -> None:
    """30 A of loads on 25 A: nothing goes back, and it says so."""
    (option,) = quote_of(HEAD, [("A", design(use={"daily_ah": 20.0, "drive_h": 2.0, "loads_driving_a": 30.0}))]).options
    assert option.charge_ah_per_h == 0.0
    assert not any("puts about" in line or "put back" in line for line in option.does)
    assert any("takes all that it gives" in line for line in option.will_not)


@pytest.mark.parametrize(("daily_ah", "days"), [(44.0, "2.0"), (88.0, "1.0"), (176.0, "")])
def test_what_does_not_last_a_day_is_not_told_as_a_fraction_of_one(daily_ah: float, days: str) -> None:
    """110 Ah, of which a fifth is kept: two days, one, and half a one."""
    use = {"daily_ah": daily_ah, "reserve": 0.2, "drive_h": 4.0}
    (option,) = quote_of(HEAD, [("A", design(use=use))]).options
    told = [line for line in option.does if line.startswith("Standing")]
    assert told == ([f"Standing, it lasts about {days} days."] if days else [])
    assert ("Standing, it does not last a whole day as it is used." in option.will_not) is (days == "")


def test_a_quote_prints_the_same_after_prices_changed() -> None:
    """What was given is kept: out of the store's own document it is the same quote and the same paper."""
    quote = quote_of(HEAD, [("A", DEMO[0]), ("B", DEMO[1])])
    dearer = quote_of(
        HEAD, [("A", DEMO[0]), ("B", DEMO[1])], Prices(cables={"16 mm²": 99.0, "25 mm²": 99.0, "35 mm²": 99.0})
    )
    kept = Quote.model_validate_json(quote.model_dump_json())
    assert kept == quote
    assert euro(dearer) != euro(kept)
    assert len(quote_pdf(kept)) == len(quote_pdf(quote)) > 10_000


def rows(**changes: Any) -> dict[str, float]:
    return {row.what: row.hours for row in labour_of(Context.of(design(**changes)))}


def test_hours_follow_the_work() -> None:
    """Seats, openings, a relay, a second unit each add theirs; a factor multiplies all; a route's hours replace the metres."""
    plain = rows()
    assert "Seats out and back" not in plain
    assert rows(site={"seats": True})["Seats out and back"] == 1.0
    assert rows(units=2)["Mount the unit"] == 2 * plain["Mount the unit"]
    assert rows(terms={"hours_factor": 1.5})["Mount the unit"] == 1.5 * plain["Mount the unit"]
    route = {"side": "supply", "name": "under the bed", "length_m": 6.0, "hours": 7.5, "taken": True}
    assert rows(routes=[route])["Lay the supply run"] == 7.5
    assert rows(routes=[route | {"taken": False}])["Lay the supply run"] == plain["Lay the supply run"]


def test_each_route_gets_the_cable_its_length_needs() -> None:
    """A long way round takes a thicker cable than a short one, and the design along it has no stop that the short one lacks."""
    made = design(
        routes=[
            {"side": "supply", "name": "short", "length_m": 1.5, "hours": 1.0},
            {"side": "supply", "name": "hidden", "length_m": 14.0, "hours": 8.0},
        ]
    )
    short, hidden = routes_of(made).options
    area = [max(float(size.split()[0]) for size in item.cable.split(", ")) for item in (short, hidden)]
    assert area[1] > area[0]
    assert hidden.total > short.total
    assert hidden.hours == pytest.approx(short.hours + 7.0, abs=0.5)
    laid = along(made, made.routes[1])
    assert sum(piece.length_m for piece in laid.supply.pieces if isinstance(piece, Cable)) == pytest.approx(
        14.0, abs=0.6
    )
    assert [route.taken for route in laid.routes] == [False, True]
    assert laid.delivery == made.delivery


def test_a_route_without_a_unit_says_why() -> None:
    """No unit, no current, no cable: told, not guessed."""
    made = design(charger=None, routes=[{"side": "supply", "name": "short", "length_m": 2.0}])
    assert "choose a unit first" in routes_of(made).options[0].refused


def test_the_order_list_takes_what_is_there() -> None:
    """One device of two in stock, cable off the drum, and everything under its supplier."""
    made = design()
    bill = bill_of(Context.of(made))
    guard = next(part for part in bill.parts if part.key.startswith("device:"))
    size = next(cut.size for cut in bill.conductors)
    key = f"cable:{size}:copper"
    none = orders_of(bill, Stock())
    assert none.groups[0].supplier == "no supplier named"
    some = orders_of(
        bill, Stock({guard.key: 1}, {key: "Brackenford Cable", guard.key: "Sallow Bridge"}, [Drum("d", size, 100.0)])
    )
    lines = {line.what: (group.supplier, line) for group in some.groups for line in group.lines}
    assert lines[guard.what][0] == "Sallow Bridge"
    assert lines[guard.what][1].to_order == guard.count - 1
    assert lines[f"Cable {size}"][1].to_order == 0
    assert lines[f"Cable {size}"][1].in_stock == lines[f"Cable {size}"][1].needed > 0
    assert some.total < none.total
    assert [group.supplier for group in some.groups][-1] == "no supplier named"
    assert len(lines) == len({part.what for part in bill.parts})
    plain = [line for group in none.groups for line in group.lines]
    pieces = [line for line in plain if not line.what.startswith("Cable")]
    assert all((line.in_stock, line.to_order) == (0.0, line.needed) for line in pieces)
    assert next(line.sum for line in plain if line.what == guard.what) == pytest.approx(guard.count * guard.price)
    assert none.total == pytest.approx(sum(line.sum for line in plain))
