"""What a procedure finds: the design with its conductors, and what of the vehicle the work meets."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from olvask.core.circuit.context import Context
from olvask.core.model import Branch, Cable, Design, ProtectiveDevice, RunName
from olvask.core.physics.battery import open_circuit_v
from olvask.core.stages.build.conductors import CutConductor, conductors_of, unit_tails
from olvask.core.stages.build.procedure.step import Expected

DEAD_V = 0.5  # of a lead that still floats on a meter; our own estimate
LEAST_CHARGE = 0.3  # a start battery below it is not fit to work on; our own estimate
METER_V = 0.05  # what a workshop meter may be out by at a battery's volts; our own estimate


@dataclass(frozen=True, slots=True)
class Scene:
    """One design as a procedure meets it.

    Attributes:
        ctx: the design solved.
        cuts: every conductor.
        by_place: the conductors of a piece, by its identity.
        auxiliary_there: whether the auxiliary battery is fitted already.
    """

    ctx: Context
    cuts: tuple[CutConductor, ...]
    by_place: Mapping[str, tuple[CutConductor, ...]]
    auxiliary_there: bool

    @classmethod
    def of(cls, ctx: Context) -> Scene:
        """Look at a design."""
        cuts = conductors_of(ctx)
        by_place: defaultdict[str, list[CutConductor]] = defaultdict(list)
        for cut in cuts:
            by_place[cut.place].append(cut)
        found = {place: tuple(found) for place, found in by_place.items()}
        return cls(ctx, cuts, found, not ctx.design.auxiliary_new)

    @property
    def design(self) -> Design:
        """The design."""
        return self.ctx.design

    @property
    def inverter(self) -> bool:
        """Whether an inverter hangs on the auxiliary battery."""
        return self.design.site.inverter or any(load.fed == "inverter" for load in self.design.use.loads)

    @property
    def mains(self) -> bool:
        """Whether mains can reach the vehicle."""
        kinds = {item.kind for item in self.design.still_fed}
        return self.design.site.mains or self.design.use.mains_h > 0 or bool(kinds & {"mains_charger"})

    @property
    def delivery_tails(self) -> int:
        """Devices of the units' own delivery tails."""
        tails = unit_tails(self.ctx, "delivery")
        return 0 if tails is None or tails.device is None else self.design.units

    def devices(self, run: RunName) -> list[ProtectiveDevice]:
        """The devices in a run, in the order of the current."""
        return [piece for piece in self.design.run(run).pieces if isinstance(piece, ProtectiveDevice)]

    def holder_at(self, run: RunName) -> str:
        """The holder that stands between a battery's post and the first cable of a run; empty where a cable does."""
        pieces = self.design.run(run).pieces
        for piece in pieces if run == "supply" else reversed(pieces):
            if isinstance(piece, ProtectiveDevice):
                return f"the holder of the {piece.rating_a:g} A device"
            if isinstance(piece, Cable):
                break
        return ""

    def branches(self) -> list[tuple[RunName, Branch]]:
        """Every branch with its run."""
        runs: tuple[RunName, RunName] = ("supply", "delivery")
        return [(run, piece) for run in runs for piece in self.design.run(run).pieces if isinstance(piece, Branch)]

    def names(self, places: Iterable[str], sign: str = "") -> tuple[str, ...]:
        """Names of the conductors of some pieces."""
        return tuple(cut.id for place in places for cut in self.by_place.get(place, ()) if sign in cut.id)

    def rest(self, side: str) -> Expected:
        """What a battery's posts should read with everything off."""
        design = self.design
        if side == "start":
            battery = design.vehicle.start_battery
            nominal: int = design.vehicle.system_v
            chemistry = battery.chemistry
            # Found half full it rests lower than after a drive.
            most_v = max(self.ctx.facts.rest_high_v, open_circuit_v(chemistry, 1.0, nominal))
        else:
            nominal, chemistry = design.auxiliary.nominal_v, design.auxiliary.chemistry
            most_v = open_circuit_v(chemistry, 1.0, nominal) + 0.3 * nominal / 12
        least_v = open_circuit_v(chemistry, LEAST_CHARGE if side == "start" else 0.05, nominal)
        low, high = sorted((least_v, most_v))
        name = "start" if side == "start" else "auxiliary"
        return Expected(
            what=f"Volts of the {name} battery",
            unit="V",
            least=round(low - METER_V, 2),
            most=round(high + METER_V, 2),
            why=f"{nominal} V {chemistry.upper() if chemistry in ('agm', 'lfp') else chemistry}, from nearly empty to just "
            "rested; below it charge it first, above it something still charges it.",
        )
