"""What was there before: decisions, relay and loads as the trade reasons them."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import device
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.remedy import apply
from olvask.core.model import Cable, Design
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.cuts import buying
from olvask.core.stages.survey.sums import days_to_flat
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.relay import feed_ampacity
from tests.designs import design, vehicle


def linked(carries: tuple[str, ...] = (), chosen: dict[str, Any] | None = None, **more: Any) -> Design:
    """A sound job with an old panel still in."""
    there = {"kind": "panel", "name": "old panel", "carries": list(carries)}
    return design(existing=[there], old_link=chosen or {}, **more)


@pytest.mark.parametrize(
    ("why", "carries", "charger", "wanted"),
    [
        ("it does nothing but charge", (), True, "disconnect"),
        ("a lamp is not worth a relay", ("lamp",), True, "disconnect"),
        ("the meter would be lost", ("meter",), True, "changeover"),
        ("the fridge would be lost", ("fridge", "lamp"), True, "changeover"),
        ("no charger, lead to lead", ("meter",), False, "keep"),
    ],
)
def test_the_decision_the_trade_would_take(why: str, carries: tuple[str, ...], charger: bool, wanted: str) -> None:
    """One of the three is recommended; taken, the caution about the old link is gone."""
    job = linked(carries) if charger else linked(carries, charger=None)
    plan = plan_existing_link(job)
    recommended = [item for item in plan.choices if item.recommended]
    assert [item.key for item in recommended] == [wanted], why
    decided = apply(job, recommended[0].take)
    assert not {item.id for item in assess(decided).findings} & {
        "wake.old_link",
        "wake.old_link_fights",
        "wake.old_link_loses",
    }


def test_two_regimes_may_not_fight() -> None:
    """Undecided is a caution, kept beside a charger a stop, cut while it carries a meter a caution."""
    levels = {
        choice: {item.id: item.level for item in assess(linked(("meter",), {"decision": choice})).findings}
        for choice in ("", "keep", "disconnect", "changeover")
    }
    assert levels[""]["wake.old_link"] == "caution"
    assert levels["keep"]["wake.old_link_fights"] == "stop"
    assert levels["disconnect"]["wake.old_link_loses"] == "caution"
    assert not [key for key in levels["changeover"] if key.startswith("wake.old_link")]


class TestRelay:
    def relay(self, carries: tuple[str, ...], chosen: dict[str, Any] | None = None, **more: Any) -> Any:
        """The relay of a job that opens its link by one."""
        return plan_existing_link(linked(carries, {"decision": "changeover"} | (chosen or {}), **more)).relay

    def test_its_place_follows_what_must_go_on(self) -> None:
        """A fridge runs while driving through the panel's own link: the relay sits behind the panel, else in the feed."""
        assert self.relay(("meter",)).place == "start_feed"
        assert self.relay(("meter", "fridge")).place == "auxiliary_feed"

    def test_terminals_by_number(self) -> None:
        """30 and 87a pass, 87 is free, 86 from D+, 85 to 31 (DIN 72552)."""
        goes = {item.terminal: item.goes_to for item in self.relay(("meter",)).terminals}
        assert set(goes) == {"30", "87a", "87", "86", "85"}
        assert "start-battery feed" in goes["30"]
        assert "D+ (61)" in goes["86"]
        assert "31" in goes["85"]

    def test_coil_against_d_plus_by_hand(self) -> None:
        """160 mA of coil, 14 V over 680 Ω is 20.6 mA, 10 mA of enable where D+ is used: 190.6 of 300 mA."""
        found = self.relay(("meter",), activation={"ways": ["d_plus"]})
        assert found.total_ma == pytest.approx(190.6, abs=0.1)
        assert found.coil_fits
        assert not self.relay(("meter",), {"coil_ma": 400.0}).coil_fits

    def test_a_24_v_coil_draws_less(self) -> None:
        """90 mA and 28 V over 2.7 kΩ, 10.4 mA: 100.4 mA."""
        lorry = vehicle(system_v=24, readings={"rest_v": 25.2, "idle_v": 27.8})
        assert self.relay(("meter",), vehicle=lorry, charger=None).total_ma == pytest.approx(100.4, abs=0.1)

    @pytest.mark.parametrize(
        ("duty_a", "contact_a", "fuse"),
        [
            (8.0, 10.0, ("blade", 10.0)),
            (8.1, 15.0, ("blade", 15.0)),
            (24.0, 30.0, ("blade", 30.0)),
            (32.0, 40.0, ("blade", 40.0)),
            (32.1, 60.0, ("sf30", 50.0)),  # no blade is made that large
            (48.0, 60.0, ("sf30", 60.0)),
            (48.1, None, (None, None)),  # without a contact there is nothing to guard
        ],
    )
    def test_contact_and_fuse_stand_a_quarter_over_the_load(
        self, duty_a: float, contact_a: float | None, fuse: tuple[str | None, float | None]
    ) -> None:
        """1.25 times the load, rounded up to what is made; whatever contact there is has its fuse, on the bill as well."""
        job = linked(("fridge",), {"decision": "changeover", "living_a": duty_a})
        found = plan_existing_link(job).relay
        assert found is not None
        assert found.contact_a == contact_a
        assert (found.contact_fuse_family, found.contact_fuse_a) == fuse
        bought = [part.what for part in bill_of(Context.of(job)).parts if part.detail == "relay contact, terminal 30"]
        family, rating_a = fuse
        assert bought == (
            [f"{device(family, rating_a).label} {rating_a:g} A in a holder"] if family and rating_a else []
        )

    @pytest.mark.parametrize(
        ("carries", "charge_a", "told"),
        [
            (("meter",), None, (1.0, "default")),
            (("upkeep",), None, (10.0, "default")),
            (("upkeep",), 6.0, (6.0, "entered")),
            (("upkeep",), 0.5, (1.0, "entered")),
        ],
    )
    def test_what_a_feed_carries(
        self, carries: tuple[str, ...], charge_a: float | None, told: tuple[float, str]
    ) -> None:
        """A sense wire an ampere; a panel's charger what its plate says, else ten, and the sense wire's ampere at least."""
        link = {"kind": "panel", "carries": list(carries), "charge_a": charge_a}
        found = plan_existing_link(design(existing=[link], old_link={"decision": "changeover"})).relay
        assert found is not None
        assert (found.duty_a, found.duty_from) == told

    def test_too_large_a_load_is_stopped(self) -> None:
        """60 A behind the panel wants 75 A on a break contact: none is made, and that is said with a way out."""
        job = linked(("fridge",), {"decision": "changeover", "living_a": 60.0})
        found = {item.id: item for item in assess(job).findings}
        assert found["wake.relay_contact"].level == "stop"
        assert found["wake.relay_contact"].remedies

    def test_a_fuse_never_stands_over_its_wire(self) -> None:
        """1.5 mm² under a 30 A fuse is a stop; 10 mm² is not."""
        base = {"decision": "changeover", "living_a": 22.0}
        ids = [
            {item.id for item in assess(linked(("fridge",), base | {"feed_mm2": area})).findings}
            for area in (1.5, 10.0)
        ]
        assert "wake.relay_wire" in ids[0]
        assert "wake.relay_wire" not in ids[1]

    def test_in_the_feed_the_fridge_goes_dead(self) -> None:
        """Said as a caution, and the way out moves the relay."""
        job = linked(("fridge",), {"decision": "changeover", "relay_place": "start_feed"})
        found = next(item for item in assess(job).findings if item.id == "wake.relay_starves_fridge")
        assert plan_existing_link(apply(job, found.remedies[0])).relay.place == "auxiliary_feed"  # type: ignore[union-attr]


class TestLoads:
    @pytest.mark.parametrize(
        ("decision", "carries", "lost"),
        [
            ("disconnect", ("meter", "fridge", "upkeep", "lamp"), {"Start battery meter", "Fridge fed while driving", "Start battery, upkeep from the mains", "The panel's charging signal"}),
            ("changeover", ("meter", "upkeep"), {"Start battery meter"}),
            ("changeover", ("meter", "fridge", "upkeep"), set()),
            ("keep", ("meter", "fridge", "lamp"), set()),
        ],
    )  # fmt: skip
    def test_what_is_lost(self, decision: str, carries: tuple[str, ...], lost: set[str]) -> None:
        """Cut, all is lost; opened in the feed, the meter sleeps while driving; opened behind the panel, nothing is."""
        plan = plan_existing_link(linked(carries, {"decision": decision}))
        assert {row.name for row in plan.rows if row.lost} == lost
        assert bool(plan.lost) is bool(lost)

    def test_behind_the_panel_its_own_link_feeds_the_loads(self) -> None:
        """While driving the alternator carries every load through the panel; the unit charges the battery alone."""
        use = {"loads": [{"name": "sample freezer", "current_a": 4.5}, {"name": "lamps", "current_a": 3.5}]}
        plan = plan_existing_link(linked(("fridge",), {"decision": "changeover"}, use=use))
        rows = {row.name: row for row in plan.rows}
        assert {"Sample freezer, 4.5 A", "Lamps, 3.5 A"} <= set(rows)
        for name in ("Sample freezer, 4.5 A", "Lamps, 3.5 A"):
            assert "panel's own link" in rows[name].after_running
            assert "30–87a" in rows[name].after_off
        assert plan.relay is not None
        assert (plan.relay.duty_a, plan.relay.duty_from) == (8.0, "computed")

    def test_an_inverter_kept_on_by_one_load_of_two_is_carried_too(self) -> None:
        """3.5 A of lamps, and 60 W through an inverter of 12 V: their amperes, and what it takes for itself, once."""
        lamps, drill = {"name": "lamps", "current_a": 3.5}, {"name": "drill", "power_w": 60.0, "fed": "inverter"}
        duty = {}
        for at, loads in enumerate(([lamps], [drill], [lamps, drill])):
            plan = plan_existing_link(linked(("fridge",), {"decision": "changeover"}, use={"loads": loads}))
            assert plan.relay is not None
            duty[at] = plan.relay.duty_a
        assert duty[1] > 60.0 / 12
        assert duty[2] == pytest.approx(duty[0] + duty[1])

    def test_what_the_link_passes_by_hand(self) -> None:
        """16 mm², 4 m out and back, is 8.6 mΩ; with 2 mΩ of source and 3.2 of battery, (13.9 - 11.9) V drive 145 A."""
        job = design(existing=[{"kind": "link", "wire_mm2": 16.0, "wire_m": 4.0}])
        charging = next(row for row in plan_existing_link(job).rows if row.name.startswith("Auxiliary battery"))
        found = float(charging.before_running.split("link, ")[1].split(" A")[0])
        assert found == pytest.approx(2.0 / (0.00862 + 0.002 + 0.35 / 110), abs=1.0)

    def test_without_a_link_there_is_nothing_to_decide(self) -> None:
        """No relay or panel in the survey: no choices, no rows, no findings."""
        plan = plan_existing_link(design())
        assert not plan.there
        assert not plan.choices
        assert not plan.rows


class TestParts:
    def parts(self, job: Design) -> dict[str, float]:
        """What is bought, by name and where it goes, with its count."""
        return {f"{part.what} {part.detail}": part.count for part in buying(job).parts}

    def test_a_signal_brings_its_wire_and_fuse(self) -> None:
        """D+: 3 m of run and a fifth of slack, 3.6 m of 0.75 mm², and a 3 A fuse at terminal 61; by voltage neither."""
        wired = self.parts(design(activation={"ways": ["d_plus"]}))
        assert next(count for name, count in wired.items() if name.startswith("Wire 0.75 mm²")) == pytest.approx(3.6)
        assert any("3 A" in name and "terminal 61" in name for name in wired)
        bare = self.parts(design(activation={"ways": ["voltage"]}))
        assert not [name for name in bare if "Wire" in name or "terminal" in name]

    def test_a_relay_comes_with_both_its_fuses(self) -> None:
        """Opened by a relay: the relay, one fuse in its contact, one in its coil; decided otherwise, none of them."""
        bought = self.parts(linked(("meter",), {"decision": "changeover"}))
        assert [name for name in bought if name.startswith("Changeover relay 12 V, break contact 10 A")]
        assert [name for name in bought if "relay contact" in name]
        assert [name for name in bought if "relay coil" in name]
        assert not [name for name in self.parts(linked(("meter",), {"decision": "disconnect"})) if "relay" in name]


def test_a_coil_is_held_against_what_d_plus_gives() -> None:
    """160 mA and its suppression fit 300 mA; 290 mA do not, nor do 160 where D+ gives 150; by the unit of no relay nothing is said."""

    def told(**chosen: Any) -> bool:
        job = linked(("meter",), {"decision": "changeover"} | chosen)
        return "wake.relay_coil" in {item.id for item in assess(job, remedies=False).findings}

    assert not told()
    assert told(coil_ma=290.0)
    assert told(d_plus_ma=150.0)
    assert not told(coil_ma=290.0, d_plus_ma=500.0)
    assert not told(decision="disconnect", coil_ma=290.0)


def test_what_speaks_against_the_other_decisions() -> None:
    """Kept it fights the unit; cut it costs what it carries, or all charge; a relay for nothing but charge may fail."""

    def reasons(job: Design) -> dict[str, str]:
        return {item.key: item.reason for item in plan_existing_link(job).choices if not item.recommended}

    metered, bare, lead = reasons(linked(("meter",))), reasons(linked(())), reasons(linked((), charger=None))
    assert set(metered) == {"keep", "disconnect"}
    assert metered["keep"].startswith("Link and unit would fight")
    assert metered["disconnect"] == "It would cost: start battery meter."
    assert set(bare) == {"keep", "changeover"}
    assert "one more thing to fail" in bare["changeover"]
    assert lead["disconnect"] == "There would be nothing left to charge the auxiliary battery."
    lithium = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 100.0, "charge_limit_a": 50.0}
    assert reasons(linked((), charger=None, auxiliary=lithium))["keep"].startswith("Nothing limits a link into lithium")


@pytest.mark.parametrize(
    ("feed_mm2", "size"),
    [(None, None), (0.5, None), (6.0, "6 mm²"), (9.9, "6 mm²"), (10.0, "10 mm²"), (26.0, "25 mm²")],
)
def test_what_the_old_feed_carries(feed_mm2: float | None, size: str | None) -> None:
    """By the largest metric size within what was measured; gauges lie between and do not count."""
    job = linked((), {"feed_mm2": feed_mm2})
    wire = None if size is None else Cable(id="x", size=size, length_m=1.0)
    school = job.choices.ampacity_school
    assert feed_ampacity(job) == (None if wire is None else ampacity(wire, school)[0])


def test_what_d_plus_is_supposed_to_give() -> None:
    """300 mA beside the lamp at 12 V, 200 mA at 24 V, where nobody noted it."""
    job = linked(("meter",), {"decision": "changeover"})
    plan = plan_existing_link(job)
    assert plan.relay is not None
    assert plan.relay.d_plus_ma == 300.0
    lorry = job.model_copy(update={"vehicle": job.vehicle.model_copy(update={"system_v": 24})})
    found = plan_existing_link(lorry).relay
    assert found is not None
    assert found.d_plus_ma == 200.0


@pytest.mark.parametrize(("kind", "named", "other"), [("panel", "panel", "old link"), ("link", "old link", "panel")])
@pytest.mark.parametrize("decision", ["disconnect", "changeover", "keep"])
def test_a_relay_is_not_called_a_panel(kind: str, named: str, other: str, decision: str) -> None:
    """What is said of a plain link speaks of no panel, and of a panel by its name."""
    link = {"kind": kind, "carries": ["fridge", "meter", "upkeep", "lamp"]}
    plan = plan_existing_link(design(existing=[link], old_link={"decision": decision}))
    said = " ".join([str(plan.rows), str(plan.relay), " ".join(plan.lost)])
    assert named in said.lower()
    assert other not in said.lower()


def test_how_long_it_stands_by_the_charge_that_is_kept() -> None:
    """Less kept stands longer; a charge kept above a working one counts as just below it: a day."""
    days = []
    for keep in (0.5, 0.7, 0.99):
        text = plan_existing_link(linked(("meter",), choices={"keep_state_of_charge": keep})).standing
        days.append(text.partition("charge: ")[2].partition(" alone")[0].split())
    assert int(days[0][0]) > int(days[1][0]) > 5
    assert days[2] == ["1", "day"]


@pytest.mark.parametrize(
    ("decision", "fridge", "meter", "own_feed"),
    [
        ("disconnect", ("nothing", "nothing", True), ("dead", "dead", True), False),
        ("keep", ("nothing", "alternator through the panel", False), ("reads", "reads", False), True),
    ],
)
def test_what_the_link_carried_afterwards(
    decision: str, fridge: tuple[str, str, bool], meter: tuple[str, str, bool], own_feed: bool
) -> None:
    """Taken out, fridge and meter go dead and are counted lost; kept, all is as it was; a feed of its own never changes."""
    there = [{"kind": "panel", "name": "old panel", "carries": ["fridge", "meter"]}]
    made = design(existing=there + [{"kind": "fridge_feed"}] * own_feed, old_link={"decision": decision})
    rows = {row.name: row for row in plan_existing_link(made).rows}
    told = {name: (row.after_off, row.after_running, row.lost) for name, row in rows.items()}
    assert told["Fridge fed while driving"] == fridge
    assert told["Start battery meter"] == meter
    assert ("Fridge on its own feed" in rows) is own_feed
    mixed = design(
        existing=[*there, {"kind": "fridge_feed"}, {"kind": "mains_charger"}], old_link={"decision": decision}
    )
    assert "Fridge on its own feed" in {row.name for row in plan_existing_link(mixed).rows}


@pytest.mark.parametrize("d_plus", [True, False])
def test_a_relay_wants_the_line_that_is_live_while_the_engine_runs(d_plus: bool) -> None:
    """Without D+ its coil has nothing to hang on, which is said; with it there is nothing to say."""
    job = linked(("meter",), {"decision": "changeover"}, vehicle=vehicle(signals={"ignition": True, "d_plus": d_plus}))
    assert ("wake.relay_signal" in {item.id for item in assess(job).findings}) is not d_plus


def test_a_maintainer_may_take_three_tenths_of_the_auxiliary_battery() -> None:
    """Days the start battery stands by a maintainer are those its own charge and 33 Ah of 110 give."""
    job = linked(("meter",))
    alone = days_to_flat("flooded", 90.0, 0.8, 0.6, 30.0, 1.0, 33.0)
    assert alone.text in " ".join(str(item) for item in plan_existing_link(job).model_dump().values())
