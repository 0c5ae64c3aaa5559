"""A first run to work on, a cable found in the vehicle, and which devices stand where: sums by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import NoStandardSize, devices
from olvask.core.circuit.ampacity import ampacity
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Cable, Design
from olvask.core.stages.run.devices import least_rating_a, standing_devices, suitable_device
from tests.designs import charger, design


def findings(job: Design) -> dict[str, Finding]:
    """Findings by name."""
    return {item.id: item for item in assess(job).findings}


def proposed(run: str, **changes: Any) -> list[dict[str, Any]] | None:
    """Pieces of the first run proposed for an empty one."""
    found = findings(design(**{run: {"pieces": []}} | changes))[f"run.empty.{run}"]
    pieces = [change.value for remedy in found.remedies for change in remedy.changes]
    return pieces[0] if pieces else None


class TestFirstRun:
    def test_supply(self) -> None:
        """3 % of 12 V over some 29 A are 12.4 mΩ, 2.1 Ω/km over 6 m: 10 mm² has 1.91 and no room for ends and warmth; 16 mm², 1.21."""
        pieces = proposed("supply")
        assert pieces is not None
        device, cable = pieces
        assert (cable["size"], cable["length_m"]) == ("16 mm²", 3.0)
        ctx = Context.of(design(supply={"pieces": []}))
        least_a = max(1.25 * ctx.continuous_a("supply"), ctx.lingering_a("supply"))
        carries_a = ampacity(Cable(size="16 mm²", length_m=3.0), "enclosed")[0]
        assert least_a <= device["rating_a"] <= carries_a
        assert device["family"] != "nh"

    def test_delivery_is_the_other_way_round(self) -> None:
        """25 A: 14.4 mΩ, 2.4 Ω/km; with a device, ends and warmth 10 mm² comes over it; its device stands at the battery's end."""
        pieces = proposed("delivery")
        assert pieces is not None
        cable, device = pieces
        assert cable["size"] == "16 mm²"
        assert device["kind"] == "device"
        assert device["rating_a"] >= 1.25 * 25.0

    def test_a_tighter_limit_takes_more_copper(self) -> None:
        """Half the drop, twice the copper; with no unit there is nothing to size it by, and a laid run is not told."""
        pieces = proposed("delivery", choices={"drop_percent": 1.5})
        assert pieces is not None
        assert pieces[0]["size"] == "35 mm²"
        assert proposed("supply", charger=None) is None
        assert "run.empty.supply" not in findings(design())

    def test_it_passes_what_it_is_held_to(self) -> None:
        """Laid as proposed neither drop nor protection is found fault with."""
        supply, delivery = proposed("supply"), proposed("delivery")
        laid = design(supply={"pieces": supply}, delivery={"pieces": delivery})
        told = findings(laid)
        assert not [key for key in told if key.startswith(("run.drop", "run.empty", "protect."))]


def found(**changes: Any) -> Finding:
    """What is said of a cable found in the vehicle: 25 mm², 3 m, sound."""
    cable = {"size": "25 mm²", "length_m": 3.0, "sound": True} | changes.pop("cable", {})
    return findings(design(**({"inherited": cable} | changes)))["run.inherited"]


class TestFound:
    def test_it_can_stay(self) -> None:
        """It carries what flows, behind a device that fits: laid as the supply run by one press."""
        kept = found()
        assert kept.title == "The inherited cable can stay"
        assert kept.level == "note"
        (change,) = kept.remedies[0].changes
        assert change.path == "supply.pieces"
        assert isinstance(change.value, list)
        assert [piece["kind"] for piece in change.value] == ["device", "cable"]
        assert "price of keeping it" not in kept.text

    @pytest.mark.parametrize(
        ("cable", "words"),
        [
            ({"sound": False}, "does not look sound"),
            ({"shared_a": 2.0}, "also feeds something else, 2 A"),
            ({"size": "2.5 mm²"}, "A it carries"),
            ({"size": "25 mm²", "length_m": 16.0}, "it drops"),
            ({"size": "10 mm²", "length_m": 25.0}, "drop out at"),
            ({"size": "4 mm²", "length_m": 40.0}, "the voltage collapses"),
            ({"size": "6 mm²", "length_m": 1.0, "shared_a": 12.0}, "1.25 ×"),
        ],
    )
    def test_why_it_has_to_go(self, cable: dict[str, Any], words: str) -> None:
        """One reason is enough, and each is said."""
        replaced = found(cable=cable)
        assert replaced.title == "Replace the inherited cable"
        assert words in replaced.text
        assert replaced.remedies == ()

    def test_a_drop_over_the_limit_that_practice_lives_with(self) -> None:
        """Between 3 and 6 % it may stay at a price."""
        kept = found(cable={"length_m": 8.0})
        assert kept.title == "The inherited cable can stay"
        assert "price of keeping it" in kept.text

    def test_nothing_to_say(self) -> None:
        """No cable, or no unit to feed by it."""
        assert "run.inherited" not in findings(design())
        cable = {"size": "25 mm²", "length_m": 3.0, "sound": True}
        assert "run.inherited" not in findings(design(inherited=cable, charger=None))


class TestDevices:
    @pytest.mark.parametrize(("nominal_v", "most_v"), [(12, 16.0), (24, 32.0), (48, 60.0)])
    def test_they_stand_the_systems_highest_volts(self, nominal_v: int, most_v: float) -> None:
        """While charging a system stands a third above its nominal."""
        standing = standing_devices(nominal_v, 0.0)
        assert standing
        assert {item for item in devices() if item.voltage_v >= most_v} == set(standing)
        assert all(item.interrupt_a(nominal_v) >= 5000.0 for item in standing_devices(nominal_v, 5000.0))

    def test_least_rating(self) -> None:
        """A quarter over what flows, or what can linger, whichever is more."""
        assert least_rating_a(40.0) == pytest.approx(50.0)
        assert least_rating_a(40.0, 49.0) == pytest.approx(50.0)
        assert least_rating_a(40.0, 55.0) == pytest.approx(55.0)

    def test_the_smallest_of_what_is_usual(self) -> None:
        """Between 41 and 60 A a 50; a breaker where that school is kept; both bounds belong to it; none in between is told."""
        assert suitable_device(41.0, 60.0, 12, 1000.0).rating_a == 50.0
        assert suitable_device(50.0, 50.0, 12, 1000.0).rating_a == 50.0
        assert suitable_device(41.0, 60.0, 12, 1000.0, "breaker").resettable
        assert not suitable_device(41.0, 60.0, 12, 1000.0).resettable
        with pytest.raises(NoStandardSize, match=r"between 51\.0 A and 54\.0 A for 12 V and 1000 A"):
            suitable_device(51.0, 54.0, 12, 1000.0)

    def test_a_unit_that_can_be_anything_still_gets_a_device_that_breaks(self) -> None:
        """Behind a large lithium bank only what breaks its short circuit is offered."""
        big = {"chemistry": "lfp", "nominal_v": 12, "capacity_ah": 600.0, "charge_limit_a": 200.0}
        pieces = proposed("delivery", auxiliary=big, charger=charger())
        assert pieces is not None
        item = next(
            item for item in devices() if (item.family, item.rating_a) == (pieces[1]["family"], pieces[1]["rating_a"])
        )
        assert item.interrupt_a(12) >= 6000.0
