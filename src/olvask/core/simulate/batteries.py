"""The two batteries of a trip as the simulator has them: what they rest at, what they take, what they give.

- `Cell`: rested volts, resistance, acceptance; the same law for either battery.
- `StartSide`: the posts of the start battery, with what feeds and draws at them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from mypy_extensions import mypyc_attr

from olvask.core.catalogue import chemistries
from olvask.core.model import Vehicle
from olvask.core.physics.battery import (
    REFERENCE_C,
    Rested,
    cold_acceptance_factor,
    cold_resistance_factor,
    internal_ohm,
    rested_volts,
)
from olvask.core.physics.dc_path import Collapse, constant_power_volts
from olvask.core.physics.rounding import over

CRANK_C: Final = 4.0  # cranking amperes per ampere-hour
READY_A: Final = 30.0  # contactors, pumps and control units of a hybrid as it is made ready; our own estimate
START_ACCEPT_C: Final = 0.25  # what a start battery takes per ampere-hour, before its taper; our own estimate
EMPTY: Final = 1e-9  # charge below which a battery gives nothing


def cranks_a(vehicle: Vehicle) -> float:
    """What a vehicle draws while it cranks [A]; a DC converter's has no starter, and is made ready."""
    return READY_A if vehicle.drive == "converter" else CRANK_C * vehicle.start_battery.capacity_ah


@dataclass(slots=True)
class Cold:
    """What a battery's temperature does: factors on its resistance and on what it takes."""

    ohm: float
    takes: float


WARM = Cold(1.0, 1.0)


@mypyc_attr(serializable=True, allow_interpreted_subclasses=True)  # copied by `copy`
class Cell:
    """A battery as the simulator has it.

    Above its taper the resistance against charging is such that at its own absorption volts it takes its tapered limit;
    below, it grows to that from the internal resistance.
    """

    def __init__(self, chemistry: str, capacity_ah: float, nominal_v: int, limit_a: float, full_v: float) -> None:
        """Take its constants.

        Args:
            chemistry: key of the chemistry table.
            capacity_ah: capacity [Ah].
            nominal_v: 12, 24 or 48 [V].
            limit_a: most it takes below its taper [A].
            full_v: absorption volts, at which it takes what limit and taper say [V].
        """
        data = chemistries()[chemistry]
        self.chemistry, self.capacity_ah, self.limit_a, self.full_v = chemistry, capacity_ah, limit_a, full_v
        self.rested: Rested = rested_volts(chemistry, nominal_v)
        self.inner_ohm = internal_ohm(chemistry, capacity_ah, nominal_v)
        self.taper, self.kept = data.taper_from, data.charge_efficiency
        self._taper_head_v = full_v - self.ocv(self.taper)
        self._asked: tuple[float, Cold] = (REFERENCE_C, WARM)  # last, for it is asked again and again

    def ocv(self, charge: float) -> float:
        """Volts it rests at, by its state of charge [V]."""
        return self.rested.volts(charge)

    def cold(self, celsius: float) -> Cold:
        """What its temperature [°C] does."""
        if celsius >= REFERENCE_C:
            return WARM
        asked_c, cold = self._asked
        if celsius != asked_c:
            cold = Cold(
                cold_resistance_factor(self.chemistry, celsius), cold_acceptance_factor(self.chemistry, celsius)
            )
            self._asked = celsius, cold
        return cold

    def against(self, charge: float, cold: Cold = WARM) -> tuple[float, float]:
        """What stands against charging [Ω], and the most the battery takes [A].

        Args:
            charge: state of charge, 0 to 1.
            cold: what its temperature does.
        """
        inner = self.inner_ohm * cold.ohm
        most_a = self.limit_a * cold.takes
        if most_a <= 0:
            return inner, 0.0
        if charge >= self.taper:
            most_a *= max(0.0, 1 - charge) / (1 - self.taper)
            head_v = self.full_v - self.ocv(charge)
            return max(inner, head_v / most_a if most_a > 1e-6 else 1e3), most_a
        full = max(inner, self._taper_head_v / most_a)
        share = charge / self.taper
        return inner + (full - inner) * share * share, most_a

    def hourly(self, charge: float, amps: float) -> float:
        """How fast its charge changes by a current into it [1/s]; never past full or empty."""
        if (amps < 0 and charge <= 0) or (amps > 0 and charge >= 1):
            return 0.0
        return amps * (self.kept if amps > 0 else 1.0) / (3600 * self.capacity_ah)


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class Posts:
    """The start battery's posts at rest or under the unit's draw: volts there and at the unit, amperes."""

    post_v: float
    terminal_v: float
    input_a: float
    start_a: float

    def __init__(self, post_v: float, terminal_v: float, input_a: float, start_a: float) -> None:
        """Take its parts."""
        self.post_v = post_v
        self.terminal_v = terminal_v
        self.input_a = input_a
        self.start_a = start_a


@dataclass(slots=True)
class StartSide:
    """The start battery and what feeds and draws at its posts with the engine off.

    Attributes:
        cell: the battery.
        drain_a: standing drain of the vehicle [A].
        ceiling_v: volts at which a panel or a maintainer backs off [V].
        maintainer_a: current of a maintainer, wherever it is fed from [A]; 0 without one.
        shift_v: by how much this vehicle's battery rests off the table [V].
        cranks_a: drawn while it cranks, or is made ready [A].
    """

    cell: Cell
    drain_a: float
    ceiling_v: float
    maintainer_a: float = 0.0
    shift_v: float = 0.0
    cranks_a: float = 0.0

    def open_v(self, charge: float) -> float:
        """Open-circuit volts, surface charge apart [V]."""
        return self.cell.ocv(charge) + self.shift_v

    def running_a(self, charge: float, post_v: float, left_a: float, load_a: float, cold: Cold) -> float:
        """Current into the battery with the engine running [A], negative out of it.

        Args:
            charge: its state of charge.
            post_v: volts at its posts [V].
            left_a: what the alternator has left for it [A].
            load_a: everything that draws at the posts [A]: more than that it cannot give.
            cold: what its temperature does.

        Above its open-circuit volts it is charged, within what it takes and what is left; below, it discharges through
        its own resistance: the alternator, its field taken back, leaves part of the load to it.
        """
        head_v = post_v - self.open_v(charge)
        if head_v >= 0:
            ohm, most_a = self.cell.against(charge, cold)
            return max(0.0, min(left_a, min(most_a, head_v / ohm)))  # in pairs: three are looked at as objects
        if charge <= EMPTY:
            return 0.0
        return max(head_v / (self.cell.inner_ohm * cold.ohm), -load_a)

    def standing(
        self, charge: float, surface_v: float, feed_a: float, draw_a: float, cold: Cold, power_w: float, run_ohm: float
    ) -> Posts:
        """Posts with the engine off: a feed that backs off at its ceiling, the drain, the unit's draw.

        Args:
            charge: state of charge of the battery.
            surface_v: surface charge left [V].
            feed_a: what panel and maintainer would give [A].
            draw_a: what else draws: drain and starter [A].
            cold: what the battery's temperature does.
            power_w: input power of the unit [W]; 0 where it draws nothing.
            run_ohm: supply run, both ways [Ω].

        Raises:
            Collapse: the unit's power cannot be had.

        The posts follow three lines: at the ceiling while the feed has more than enough; above the open-circuit volts
        by what the battery takes; below them by what it gives. The first that fits, from above, is where they stand.
        """
        open_v, inner = self.open_v(charge) + surface_v, self.cell.inner_ohm * cold.ohm
        spare_a = feed_a - draw_a
        if self.ceiling_v <= open_v:
            spare_a = -draw_a  # the surface charge holds the feed off
        elif spare_a > 0:
            found = self._fed(open_v, charge, spare_a, cold, power_w, run_ohm)
            if found is not None:
                return found
        if charge <= EMPTY:
            if power_w > 0:
                raise Collapse("the start battery is empty")
            return Posts(open_v, open_v, 0.0, max(0.0, spare_a))
        if power_w <= 0:
            post_v = open_v + spare_a * inner
            if post_v < 0:
                return Posts(0.0, 0.0, 0.0, -open_v / inner)  # as shorted: it cannot give what is asked
            return Posts(post_v, post_v, 0.0, spare_a)
        terminal_v = constant_power_volts(open_v + spare_a * inner, inner + run_ohm, power_w)
        input_a = power_w / terminal_v
        if over(spare_a, input_a):
            raise Collapse("no volts of the feed carry the unit's power, and the battery has no cause to give")
        return Posts(terminal_v + input_a * run_ohm, terminal_v, input_a, spare_a - input_a)

    def _fed(
        self, open_v: float, charge: float, spare_a: float, cold: Cold, power_w: float, run_ohm: float
    ) -> Posts | None:
        """Posts on the two lines above the open-circuit volts; `None` where the feed does not reach them.

        Raises:
            Collapse: the run cannot carry the unit's power even from the ceiling.
        """
        ohm, most_a = self.cell.against(charge, cold)
        full_a = max(0.0, min(most_a, (self.ceiling_v - open_v) / ohm))  # what it takes at the ceiling
        terminal_v = constant_power_volts(self.ceiling_v, run_ohm, power_w) if power_w > 0 else self.ceiling_v
        input_a = power_w / terminal_v if power_w > 0 else 0.0
        if input_a + full_a <= spare_a:
            return Posts(self.ceiling_v, terminal_v, input_a, full_a)
        lifted_v = open_v + spare_a * ohm
        try:
            terminal_v = constant_power_volts(lifted_v, ohm + run_ohm, power_w) if power_w > 0 else lifted_v
        except Collapse:
            return None
        input_a = power_w / terminal_v if power_w > 0 else 0.0
        post_v = terminal_v + input_a * run_ohm
        if input_a > spare_a or over(post_v, self.ceiling_v):
            return None
        return Posts(post_v, terminal_v, input_a, spare_a - input_a)
