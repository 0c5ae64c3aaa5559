"""A trailer socket's charge wire by hand, and more copper as a remedy: the smallest that does, no more than a terminal takes."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import NoStandardSize, conductor
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Cable, Design
from olvask.core.physics.battery import internal_ohm, open_circuit_v
from olvask.core.stages.run.growth import grow, smallest_size, terminal_index, thickest_need
from tests.designs import cable, charger, design, fuse, vehicle


def socket(**changes: Any) -> Design:
    """A job with a socket's charge wire found in it."""
    wire = {"kind": "socket_wire"} | changes.pop("wire", {})
    return design(**({"existing": [wire]} | changes))


def told(job: Design) -> Finding:
    """What is said of it."""
    return next(item for item in assess(job).findings if item.id == "run.socket_wire")


def loop_ohm(area_ohm_per_km: float, metres: float) -> float:
    """Out and back at 60 °C, and two worn contacts of 4 mΩ."""
    return 2 * area_ohm_per_km / 1000 * metres * (1 + 0.00393 * 40) + 0.008


class TestSocket:
    @pytest.mark.parametrize(
        ("wire", "ohm_per_km", "metres", "most_a"),
        [
            ({}, 7.98, 7.0, 15.0),  # a factory wire: 2.5 mm², 7 m
            ({"wire_mm2": 6.0, "wire_m": 9.0}, 3.30, 9.0, 15.0),
            # Between two sizes it has its own resistance, 1.5/1.2 of the larger's, and carries as the smaller does.
            ({"wire_mm2": 1.2, "wire_m": 4.0}, 16.6, 4.0, 10.0),
            ({"wire_mm2": 1.2, "wire_m": 14.0}, 16.6, 14.0, 10.0),
        ],
    )
    def test_watts_it_carries(self, wire: dict[str, float], ohm_per_km: float, metres: float, most_a: float) -> None:
        """V_hold · (V_s − V_hold) / R, and no more than a contact of 15 A or the wire passes at those volts."""
        job = socket(wire=wire)
        ctx = Context.of(job)
        run_ohm = loop_ohm(ohm_per_km, metres) + 0.002
        by_volts = ctx.hold_v * (13.9 - ctx.hold_v) / run_ohm
        watts = assess(job).figures["run.socket_wire_w"].value
        assert watts == pytest.approx(min(by_volts, ctx.hold_v * most_a), rel=0.01)
        assert f"{wire.get('wire_mm2', 2.5):g} mm² over {metres:g} m" in told(job).text

    def test_length_from_the_survey(self) -> None:
        """Not measured itself, it is as long as the way to the unit."""
        far = socket(distances={"supply_m": 12.0})
        near = socket(distances={"supply_m": 5.0})
        assert " over 12 m" in told(far).text
        assert (assess(far).figures["run.socket_wire_w"].value or 0) < (
            assess(near).figures["run.socket_wire_w"].value or 0
        )

    def test_too_thin_is_a_caution_only_where_nothing_else_is_laid(self) -> None:
        """25 A are wanted, it gives some 9: a note beside a run of its own, a caution in place of one; 3 A it would do."""
        beside = told(socket())
        assert (beside.level, beside.title) == ("note", "The socket's charge wire is too thin")
        assert told(socket(supply={"pieces": []})).level == "caution"
        small = charger(output_a=3.0, limit_min_a=1.0)
        assert told(socket(charger=small)).title == "The socket's charge wire would do"
        assert told(socket(charger=None)).title == "The socket's charge wire is too thin"
        assert "run.socket_wire" not in {item.id for item in assess(design()).findings}

    def test_what_it_would_push_by_itself(self) -> None:
        """13.9 V against a half-charged battery, through wire, sag and the battery; nothing said across two voltages."""
        ohm = loop_ohm(7.98, 7.0) + 0.002 + internal_ohm("agm", 110.0, 12)
        amps = (13.9 - open_circuit_v("agm", 0.5, 12)) / ohm
        assert f"push {amps:.1f} A" in told(socket()).text
        readings = {"rest_v": 25.2, "after_stop_v": 25.4, "idle_v": 27.8, "cruise_v": 28.4}
        assert "push" not in told(socket(vehicle=vehicle(system_v=24, readings=readings), charger=None)).text


def sized(*sizes: str, run: str = "supply", **record: Any) -> Design:
    """A job with these cables in a run, the last into the unit on the supply side."""
    pieces = [fuse(60.0), *[cable(size) for size in sizes]]
    return design(charger=charger(**record), **{run: {"pieces": pieces if run == "supply" else pieces[::-1]}})


def at_least(run: str, index: int, area_mm2: float) -> Any:
    """Accepts a design whose cable there has the area."""

    def accept(candidate: Design) -> bool:
        piece = candidate.run(run).pieces[index]  # type: ignore[arg-type]
        return isinstance(piece, Cable) and conductor(piece.size).area_mm2 >= area_mm2

    return accept


class TestGrowth:
    @pytest.mark.parametrize(
        ("wanted", "size"), [(10.1, "16 mm²"), (16.0, "16 mm²"), (16.1, "25 mm²"), (120.0, "120 mm²")]
    )
    def test_the_smallest_of_its_own_system(self, wanted: float, size: str) -> None:
        """Above the present one, metric for metric; gauge for gauge."""
        job = sized("10 mm²", "25 mm²")
        assert smallest_size(job, "supply", 1, at_least("supply", 1, wanted)).size == size
        gauge = sized("8 AWG", "25 mm²")
        assert smallest_size(gauge, "supply", 1, at_least("supply", 1, 10.0)).size == "6 AWG"

    def test_no_more_than_the_terminal_takes(self) -> None:
        """Into a terminal of 25 mm² nothing thicker; none beyond the largest that is made."""
        job = sized("10 mm²", "10 mm²", terminal_max_mm2=25.0)
        assert terminal_index(job, "supply") == 2
        assert terminal_index(job, "delivery") == 0
        assert smallest_size(job, "supply", 2, at_least("supply", 2, 25.0)).size == "25 mm²"
        with pytest.raises(NoStandardSize, match="in the supply run"):
            smallest_size(job, "supply", 2, at_least("supply", 2, 25.1))
        with pytest.raises(NoStandardSize):
            smallest_size(job, "supply", 1, lambda _candidate: False)
        with pytest.raises(TypeError):
            smallest_size(job, "supply", 0, lambda _candidate: True)

    def test_one_cable_or_all_of_the_run(self) -> None:
        """Where one will do it alone grows; where the terminal stops it the others grow too, it as far as it may."""
        job = sized("10 mm²", "10 mm²", terminal_max_mm2=16.0)
        one = grow(job, "supply", 1, at_least("supply", 1, 35.0), "to try")
        assert one is not None
        assert [(change.path, change.value) for change in one.changes] == [("supply.pieces.c1.size", "35 mm²")]
        assert "to try" in one.label

        def both(candidate: Design) -> bool:
            return bool(at_least("supply", 1, 35.0)(candidate) and at_least("supply", 2, 16.0)(candidate))

        all_of_it = grow(job, "supply", 1, both, "to try")
        assert all_of_it is not None
        assert {change.path: change.value for change in all_of_it.changes} == {
            "supply.pieces.c1.size": "35 mm²",
            "supply.pieces.c2.size": "16 mm²",
        }
        assert grow(job, "supply", 1, at_least("supply", 2, 25.0), "to try") is None
        assert grow(job, "supply", None, lambda _candidate: True, "to try") is None

    def test_where_copper_does_most(self) -> None:
        """The piece with the most resistance: the long thin one; none where no cable is laid."""
        job = design(supply={"pieces": [fuse(60.0), cable("25 mm²", 1.0), cable("10 mm²", 4.0), cable("25 mm²", 2.0)]})
        ctx = Context.of(job)
        assert thickest_need(job.supply, ctx.state("supply")) == 2
        bare = design(supply={"pieces": []})
        assert thickest_need(bare.supply, Context.of(bare).state("supply")) is None
