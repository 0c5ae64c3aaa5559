"""Lay both runs for a unit: the cheapest cables and devices that pass, over the paths of this job.

- `Paths`: what a job's runs look like without their sizes; made once, used for every unit.
- `lay`: pieces for one unit at one current.

Each size is judged at the temperature its current brings it to; devices for the unit at its lowest voltage.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

from olvask.core.catalogue import Conductor, NoStandardSize, conductor, conductors
from olvask.core.catalogue import Device as Rated
from olvask.core.circuit.ampacity import ampacity, cable_ambient_c, surface_resistance
from olvask.core.circuit.facts import Facts
from olvask.core.circuit.runs import chassis_ohm
from olvask.core.model import Branch, Cable, ChassisReturn, Design, Joint, Piece, ProtectiveDevice, Run, RunName
from olvask.core.physics.battery import prospective_short_a
from olvask.core.physics.conductors import ALPHA_CU_PER_K, resistance_ohm
from olvask.core.physics.heat import conductor_c
from olvask.core.stages.build.bill import JOINT_PRICE, Prices, cable_price
from olvask.core.stages.run.devices import CONTINUOUS_FACTOR, INDUSTRIAL, standing_devices
from olvask.core.stages.run.shorts import battery_side
from olvask.core.stages.run.terminals import TAIL_JOINT_MOHM, TAIL_M

DEFAULT_M = {"supply": 3.0, "delivery": 1.5}  # of a run nobody has measured; our own estimate
LEAST_MM2 = 2.4
WARM_K = 25.0  # conductor above its surroundings when a size is first guessed; the full rules measure it after
CLOSE = 0.99  # of the drop limit, so that the full rules agree
SAGGING = 1.15  # of what branches take: it lowers the source's volts as well, and the unit draws more; our own estimate
TAIL_WARM_K = 40.0
TAIL_OHM = TAIL_JOINT_MOHM / 1000 + 0.0001  # the joint before a tail and the tail's two ends


class Rung(NamedTuple):
    """One size over one path: out-and-back resistance warm [Ω], ampacity [A] and price [€]."""

    size: Conductor
    loop_ohm: float
    ampacity_a: float
    price: float


@dataclass(frozen=True)
class Path:
    """One run of the job without its size."""

    run: RunName
    design: Design
    facts: Facts
    prices: Prices

    @cached_property
    def described(self) -> Run:
        """The run as it is in the design."""
        return self.design.run(self.run)

    @cached_property
    def template(self) -> Cable:
        """A cable laid as the run's longest is, or as the surveyed distance says."""
        cables = [piece for piece in self.described.pieces if isinstance(piece, Cable)]
        if cables:
            longest = max(cables, key=lambda piece: piece.length_m)
            fresh = {"length_m": sum(piece.length_m for piece in cables), "metal": "copper", "parallel": 1, "there": ""}
            return longest.model_copy(update=fresh)
        distances = self.design.distances
        measured = distances.supply_m if self.run == "supply" else distances.delivery_m
        place = "under_floor" if self.run == "supply" else "cabin"
        return Cable(size="10 mm²", length_m=measured or DEFAULT_M[self.run], place=place)

    @cached_property
    def kept(self) -> tuple[tuple[Piece, ...], tuple[tuple[float, Joint | Branch], ...]]:
        """What the path must pass, such as a plug or a branch; not a joint at a thin tail.

        First what stands at the post before the device, then the rest with its share of the way from the battery.
        """
        pieces = self.described.pieces if self.run == "supply" else self.described.pieces[::-1]
        guarded = not any(isinstance(piece, ProtectiveDevice) for piece in pieces)
        whole_m, way_m = sum(piece.length_m for piece in pieces if isinstance(piece, Cable)), 0.0
        at_post: list[Piece] = []
        along: list[tuple[float, Joint | Branch]] = []
        for piece in pieces:
            if isinstance(piece, Cable):
                way_m += piece.length_m
            elif isinstance(piece, ProtectiveDevice):
                guarded = True
            elif isinstance(piece, Branch) or piece.name != "joint":
                if guarded or way_m > 0:
                    along.append((way_m / whole_m if whole_m > 0 else 0.0, piece))
                else:
                    at_post.append(piece)
        return tuple(at_post), tuple(along)

    @property
    def kept_joints(self) -> tuple[Joint, ...]:
        """Joints the path must pass."""
        return tuple(
            piece for piece in (*self.kept[0], *(item for _, item in self.kept[1])) if isinstance(piece, Joint)
        )

    @cached_property
    def branches(self) -> tuple[float, float]:
        """What branches behind the device take [A]; and the same over the whole way, for the drop they make at the unit [A]."""
        taken = [(share, piece.current_a) for share, piece in self.kept[1] if isinstance(piece, Branch)]
        return sum(amps for _, amps in taken), sum(share * amps for share, amps in taken)

    @cached_property
    def parts(self) -> tuple[float, ...]:
        """Lengths of cable between what is kept, from the battery on [m]; nothing where two stand together."""
        edges = [0.0, *(share for share, _ in self.kept[1]), 1.0]
        return tuple(round((after - before) * self.template.length_m, 3) for before, after in pairwise(edges))

    @cached_property
    def rungs(self) -> tuple[Rung, ...]:
        """Every size over this path, cheapest first."""
        own = not isinstance(self.described.back, ChassisReturn)
        both = 2 if own else 1
        template, school = self.template, self.design.choices.ampacity_school
        system = conductor(template.size).system
        warm_c = min(cable_ambient_c(template) + WARM_K, float(template.insulation_c))
        fixed_ohm = both * sum(joint.resistance_mohm for joint in self.kept_joints) / 1000 + chassis_ohm(self.described)
        lugs_ohm = both * 2 * sum(part > 0 for part in self.parts) * self.design.choices.lug_mohm / 1000
        found = []
        for size in conductors():
            if size.area_mm2 < LEAST_MM2 or size.system != system:
                continue
            cable = template.model_copy(update={"size": size.size})
            ohm = (
                both * resistance_ohm(size.resistance_20c_ohm_per_km, template.length_m, warm_c) + lugs_ohm + fixed_ohm
            )
            price = both * cable_price(size.size, template.length_m, self.design.choices.slack, self.prices)
            found.append(Rung(size, ohm, ampacity(cable, school)[0], price))
        return tuple(sorted(found, key=lambda rung: rung.price))

    @cached_property
    def tails(self) -> tuple[Rung, ...]:
        """Every size as a short tail at the unit, largest first."""
        tail = self._tail(self.template.size)
        school = self.design.choices.ampacity_school
        both = 1 if isinstance(self.described.back, ChassisReturn) else 2
        found = []
        for rung in self.rungs:
            size = rung.size
            ohm = both * (
                resistance_ohm(size.resistance_20c_ohm_per_km, TAIL_M, cable_ambient_c(tail) + TAIL_WARM_K) + TAIL_OHM
            )
            amps = ampacity(tail.model_copy(update={"size": size.size}), school)[0]
            price = both * (cable_price(size.size, TAIL_M, self.design.choices.slack, self.prices) + JOINT_PRICE)
            found.append(Rung(size, ohm, amps, price))
        return tuple(sorted(found, key=lambda rung: -rung.size.area_mm2))

    @cached_property
    def tiers(self) -> tuple[tuple[Rated, ...], ...]:
        """Devices that stand the volts and the short circuit at this battery, each tier by rating, then price.

        Those of the chosen school come first, and of each school the trade's own before industrial cartridges.
        """
        chemistry, capacity_ah, nominal_v = battery_side(self.design, self.run)
        short_a = prospective_short_a(chemistry, capacity_ah, nominal_v, 0.0)
        resettable = self.design.choices.protection_school == "breaker"
        tiers: defaultdict[tuple[bool, bool], list[Rated]] = defaultdict(list)
        for item in standing_devices(nominal_v, short_a):
            tiers[item.resettable != resettable, item.family in INDUSTRIAL].append(item)
        return tuple(
            tuple(
                sorted(tiers[at], key=lambda item: (item.rating_a, self.prices.of_device(item.family, item.rating_a)))
            )
            for at in sorted(tiers)
        )

    def devices_for(self, amps: float) -> list[Rated]:
        """Smallest device of each tier for a continuous current [A].

        Raises:
            NoStandardSize: none is large enough.
        """
        least_a = CONTINUOUS_FACTOR * amps
        found = [next((item for item in tier if item.rating_a >= least_a - 1e-9), None) for tier in self.tiers]
        fitting = [item for item in found if item is not None]
        if not fitting:
            raise NoStandardSize(f"no device stands {least_a:.0f} A and the short circuit at this battery")
        return fitting

    def _cut(self, size: str, at: int) -> Cable:
        """One part of the path's cable in a size."""
        known = self._cables.get((size, at))
        if known is None:
            id = f"{self.run[0]}c{at + 1}"
            known = self.template.model_copy(update={"id": id, "size": size, "length_m": self.parts[at]})
            self._cables[size, at] = known
        return known

    @cached_property
    def _cables(self) -> dict[tuple[str, int], Cable]:
        return {}

    @cached_property
    def _tails(self) -> dict[str, Cable]:
        return {}

    def _tail(self, size: str) -> Cable:
        known = self._tails.get(size)
        if known is None:
            laid = {"length_m": TAIL_M, "conduit": False, "grouped": 1, "place": "cabin", "ambient_c": None}
            known = self.template.model_copy(update=laid | {"id": f"{self.run[0]}t", "size": size})
            self._tails[size] = known
        return known

    def warm_ohm(self, rung: Rung, amps: float) -> float:
        """Out-and-back resistance of a rung [Ω] at the temperature `amps` bring it to."""
        template, size = self.template, rung.size
        surface = surface_resistance(template)
        per_m = size.resistance_20c_ohm_per_km / 1000
        ambient_c = cable_ambient_c(template)
        celsius = conductor_c(amps, per_m, size.area_mm2, ambient_c, surface, ambient_c + WARM_K)
        guessed_c = min(ambient_c + WARM_K, float(template.insulation_c))
        both = 1 if isinstance(self.described.back, ChassisReturn) else 2
        return rung.loop_ohm + both * per_m * template.length_m * ALPHA_CU_PER_K * (celsius - guessed_c)

    def choose(self, continuous_a: float, carried_a: float, most_ohm: float, terminal_mm2: float) -> tuple[Run, float]:
        """Cheapest device and cable within a resistance; the run and its resistance [Ω].

        Args:
            continuous_a: current it is protected for [A].
            carried_a: current at which the resistance is judged [A].
            most_ohm: out-and-back resistance allowed [Ω].
            terminal_mm2: largest conductor the unit's terminal takes [mm²].

        What branches take is carried besides: on the delivery run the larger of both flows by the battery.

        Raises:
            NoStandardSize: nothing passes.
        """
        taken_a, spread_a = self.branches
        supply = self.run == "supply"
        through_a = continuous_a + taken_a if supply else max(continuous_a, taken_a)
        warm_a = carried_a + taken_a if supply else max(carried_a, taken_a)
        # What branches take drops volts for the unit as well: all of it in the device, its share of the way in the cable.
        by_device = 1 + SAGGING * taken_a / carried_a if supply and carried_a > 0 else 1.0
        by_cable = 1 + SAGGING * spread_a / carried_a if supply and carried_a > 0 else 1.0
        refused: NoStandardSize | None = None
        for fitted in self.devices_for(through_a):
            try:
                left_ohm = (most_ohm - by_device * fitted.resistance_ohm) / by_cable
                return self._behind(fitted, warm_a, left_ohm, terminal_mm2)
            except NoStandardSize as error:
                refused = refused or error
        raise refused or NoStandardSize("no device fits")

    def _behind(self, fitted: Rated, carried_a: float, most_ohm: float, terminal_mm2: float) -> tuple[Run, float]:
        """Cheapest cable behind a device within a resistance of its own; the run and its resistance [Ω]."""
        if most_ohm <= 0:
            raise NoStandardSize(f"its {fitted.rating_a:g} A device alone drops more than the limit")
        best: tuple[float, float, Rung, Rung | None] | None = None
        for rung in self.rungs:
            if rung.ampacity_a < fitted.rating_a or rung.loop_ohm > 1.1 * most_ohm:
                continue
            warm_ohm = self.warm_ohm(rung, carried_a)
            if warm_ohm > most_ohm:
                continue
            option: tuple[float, float, Rung, Rung | None] = (rung.price, warm_ohm, rung, None)
            if rung.size.area_mm2 > terminal_mm2:
                tail = self._tail_for(rung, fitted.rating_a, terminal_mm2)
                if tail is None or warm_ohm + tail.loop_ohm > most_ohm:
                    continue
                option = (rung.price + tail.price, warm_ohm + tail.loop_ohm, rung, tail)
            if best is None or option[0] < best[0]:
                best = option
            if best[3] is None:
                break  # rungs come cheapest first, and no tail can make a dearer one cheaper
        if best is None:
            raise NoStandardSize(
                f"no size carries {fitted.rating_a:g} A within {most_ohm * 1000:.1f} mΩ over {self.template.length_m:g} m"
            )
        _, ohm, rung, tail = best
        return self._pieces(fitted, rung, tail), ohm + fitted.resistance_ohm

    def _tail_for(self, rung: Rung, rating_a: float, terminal_mm2: float) -> Rung | None:
        return next(
            (
                tail
                for tail in self.tails
                if tail.size.system == rung.size.system
                and tail.size.area_mm2 <= terminal_mm2
                and tail.ampacity_a >= rating_a
            ),
            None,
        )

    def _pieces(self, fitted: Rated, rung: Rung, tail: Rung | None) -> Run:
        values = {"id": f"{self.run[0]}d", "family": fitted.family, "rating_a": fitted.rating_a}
        guard = ProtectiveDevice.model_validate(values)
        pieces: list[Piece] = [*self.kept[0], guard, *self._with_kept(rung.size.size)]
        if tail is not None:
            pieces += [Joint(id=f"{self.run[0]}j"), self._tail(tail.size.size)]
        ordered = pieces if self.run == "supply" else pieces[::-1]
        return self.described.model_copy(update={"pieces": tuple(ordered)})

    def _with_kept(self, size: str) -> list[Piece]:
        """The cable's parts with what they must pass between them."""
        cuts = [self._cut(size, at) if part > 0 else None for at, part in enumerate(self.parts)]
        between = [*(piece for _, piece in self.kept[1]), None]
        return [piece for pair in zip(cuts, between, strict=True) for piece in pair if piece is not None]


@dataclass(frozen=True, slots=True)
class Paths:
    """Both runs of a job without their sizes."""

    supply: Path
    delivery: Path

    @classmethod
    def of(cls, design: Design, facts: Facts, prices: Prices) -> Paths:
        """Read the paths off a design."""
        return cls(Path("supply", design, facts, prices), Path("delivery", design, facts, prices))
