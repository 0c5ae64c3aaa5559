"""Runs laid for a unit of the shelf: what hangs on them stays, and devices are the trade's own."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from olvask.core.analyses.fit import fit_unit
from olvask.core.analyses.managed_link import managed_link
from olvask.core.analyses.routes import along
from olvask.core.assess import assess
from olvask.core.catalogue import device
from olvask.core.circuit.context import Context
from olvask.core.model import Branch, Cable, Charger, Design, Joint, ProtectiveDevice, Route
from olvask.core.stages.build.conductors import unit_tails
from olvask.core.stages.match.appliance import feed_for
from tests.designs import Plain, cable, charger, design, fuse

UNIT = Charger.model_validate(charger())
LAMP: Plain = {
    "kind": "branch",
    "id": "lamp",
    "name": "lamp",
    "current_a": 12.0,
    "size": "6 mm²",
    "device": fuse(20.0, "blade"),
}
PLUG: Plain = {
    "kind": "joint",
    "id": "plug",
    "form": "plug",
    "name": "tail plug",
    "rating_a": 100.0,
    "resistance_mohm": 1.0,
}


def passed(job: Design, run: Any) -> list[tuple[str, float]]:
    """What is no cable and no device, with the metres of cable between it and the battery."""
    pieces = job.run(run).pieces if run == "supply" else job.run(run).pieces[::-1]
    found, metres = [], 0.0
    for piece in pieces:
        metres += piece.length_m if isinstance(piece, Cable) else 0.0
        if isinstance(piece, Branch) or (isinstance(piece, Joint) and piece.name != "joint"):
            found.append((piece.id, round(metres, 2)))
    return found


@pytest.mark.parametrize("run", ["supply", "delivery"])
@pytest.mark.parametrize(
    "between",
    [
        [fuse(), cable(length_m=1.0), LAMP, cable(length_m=3.0), PLUG, cable(length_m=2.0)],
        [fuse(), LAMP, cable(length_m=3.0)],
        [fuse(), cable(length_m=3.0), LAMP],
        [fuse(), cable(length_m=2.0), PLUG, LAMP, cable(length_m=1.5)],
        [LAMP, fuse(), cable(length_m=3.0)],
        [fuse(), PLUG, cable(length_m=3.0), PLUG | {"id": "second"}],
    ],
)
def test_what_hangs_on_a_run_stays_where_it_was(run: str, between: list[Plain]) -> None:
    """Another unit wants other cables and another device; a lamp's tail and a plug are neither lost nor moved."""
    job = design(**{run: {"pieces": between if run == "supply" else between[::-1]}})
    for laid in (fit_unit(job, UNIT), along(job, Route(id="r", name="r", side=run, length_m=sum_m(job, run)))):
        assert passed(laid, run) == passed(job, run)
        assert sum_m(laid, run) == pytest.approx(sum_m(job, run), abs=0.31)  # a tail into the terminal may come to it


def sum_m(job: Design, run: Any) -> float:
    return sum(piece.length_m for piece in job.run(run).pieces if isinstance(piece, Cable))


@pytest.mark.parametrize("run", ["supply", "delivery"])
@pytest.mark.parametrize("amps", [5.0, 30.0, 60.0])
def test_the_device_bears_what_branches_take(run: str, amps: float) -> None:
    """With any branch behind it, the device laid neither opens in service nor runs close to its rating."""
    tail = LAMP | {"current_a": amps, "size": "16 mm²", "device": fuse(80.0)}
    pieces = [fuse(), cable(), tail, cable(length_m=0.5)]
    job = design(**{run: {"pieces": pieces if run == "supply" else pieces[::-1]}})
    laid = fit_unit(job, UNIT)
    found = {item.id.rsplit(".", 1)[0] for item in assess(laid, remedies=False).findings}
    assert not found & {"protect.small", "protect.tight", "protect.large", "run.ampacity", "run.temperature"}
    (guard,) = (piece for piece in laid.run(run).pieces if isinstance(piece, ProtectiveDevice))  # type: ignore[arg-type]  # a run's name
    set_a = laid.current_limit_a or 25.0  # turned down where a lamp leaves the alternator less
    own_a = set_a * 14.4 / 0.9 / 13.4 if run == "supply" else set_a
    carried_a = own_a + amps if run == "supply" else max(own_a, amps)
    assert guard.rating_a >= 1.24 * carried_a


@settings(deadline=None, max_examples=40)
@given(st.floats(0.5, 6.0), st.floats(0.0, 25.0), st.floats(0.0, 1.0))
def test_a_drop_limit_holds_with_a_branch_anywhere(metres: float, amps: float, share: float) -> None:
    """The branch's part of the drop at the unit is counted when a size is chosen."""
    first = round(0.05 + (metres - 0.1) * share, 3)
    pieces = [fuse(), cable(length_m=first), LAMP | {"current_a": amps, "size": "10 mm²", "device": fuse(40.0)}]
    job = design(supply={"pieces": [*pieces, cable(length_m=round(metres - first + 0.05, 3))]})
    laid = fit_unit(job, UNIT)
    assert "run.drop.supply" not in {item.id for item in assess(laid, remedies=False).findings}


def test_one_new_cable_is_laid() -> None:
    """Two of 50 mm² side by side, or one that was there: what is laid for a unit is a single new cable."""
    for found in ({"parallel": 2, "size": "50 mm²"}, {"there": "both"}):
        laid = fit_unit(design(supply={"pieces": [fuse(), cable() | found]}), UNIT)
        cables = [piece for piece in laid.supply.pieces if isinstance(piece, Cable)]
        assert {(piece.parallel, piece.there) for piece in cables} == {(1, "")}


@pytest.mark.parametrize("school", ["fuse", "fuse_isolator", "breaker"])
@pytest.mark.parametrize("system_v", [12, 24])
@pytest.mark.parametrize("capacity_ah", [40.0, 110.0, 170.0])
def test_devices_are_the_trades_own(school: str, system_v: int, capacity_ah: float) -> None:
    """Cartridges of the switchboard only where nothing else breaks the short; breakers where they are chosen, and only there."""
    unit = Charger.model_validate(
        charger(input_nominal_v=system_v, input_min_v=0.8 * system_v, input_max_v=1.4 * system_v, output_a=15.0)
    )
    job = design(choices={"protection_school": school})
    scale = system_v / 12
    start = job.vehicle.start_battery.model_copy(update={"capacity_ah": capacity_ah})
    readings = job.vehicle.readings.model_copy(
        update={"rest_v": 12.6 * scale, "after_stop_v": 12.7 * scale, "idle_v": 13.9 * scale, "cruise_v": 14.2 * scale}
    )
    changed = {"system_v": system_v, "start_battery": start, "readings": readings}
    laid = fit_unit(job.model_copy(update={"vehicle": job.vehicle.model_copy(update=changed)}), unit)
    families = [piece.family for piece in laid.supply.pieces if isinstance(piece, ProtectiveDevice)]
    # A thermal breaker breaks 3,000 A at 12 V and 2,500 A at 24 V; flooded: V/(0.5 Ω·Ah/C) a block, some 25 A per Ah.
    breaks = capacity_ah * 12.73 / 0.5 <= (3000.0 if system_v == 12 else 2500.0)
    assert ("breaker" in families) is (school == "breaker" and breaks)
    assert not {"nh", "cartridge"} & set(families)


def test_every_device_proposed_follows_the_school() -> None:
    """Units' own tails, an appliance's feed, a managed link, a cable found: breakers where they are chosen and made so small."""
    appliance = {"id": "l1", "name": "cold box", "power_w": 500.0, "fed": "converter", "wire_m": 2.0}
    for school, resettable in (("fuse", False), ("breaker", True)):
        bar = {"kind": "joint", "id": "j1", "form": "bus_bar", "name": "bus bar", "resistance_mohm": 0.2}
        job = design(
            units=2,
            charger=charger(output_a=30.0),
            choices={"protection_school": school},
            use={"loads": [appliance]},
            supply={"pieces": [fuse(125.0), cable("35 mm²"), bar, cable("16 mm²", 0.3)]},
        )
        ctx = Context.of(job)
        tails, feed = unit_tails(ctx, "supply"), feed_for(ctx, job.use.loads[0])
        assert tails is not None
        assert tails.device is not None
        assert feed is not None
        assert device(tails.device.family, tails.device.rating_a).resettable is resettable
        assert feed.device.resettable is resettable
        links = []
        for metres, capacity_ah in ((25.0, 60.0), (10.0, 60.0), (25.0, 110.0)):
            battery = {"chemistry": "agm", "capacity_ah": capacity_ah}
            bare: dict[str, Any] = {"supply": {"pieces": []}, "delivery": {"pieces": []}}
            linked = design(
                auxiliary=battery, choices={"protection_school": school}, distances={"supply_m": metres}, **bare
            )
            link = managed_link(linked)
            assert link is not None
            links.append(link.device)
        assert any(links)
        assert any("breaker" in one for one in links) is resettable
        found = design(
            choices={"protection_school": school}, inherited={"size": "16 mm²", "length_m": 3.0, "metal": "copper"}
        )
        told = next(item for item in assess(found).findings if item.id == "run.inherited")
        laid = [piece for way in told.remedies for change in way.changes for piece in change.value]
        fitted = [device(piece["family"], piece["rating_a"]) for piece in laid if piece["kind"] == "device"]
        assert fitted
        assert {item.resettable for item in fitted} == {resettable}
