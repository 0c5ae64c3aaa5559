"""The start side as the charger sees it: regulator, current limit, battery behind."""

from __future__ import annotations

from dataclasses import dataclass

from mypy_extensions import mypyc_attr

from olvask.core.physics.dc_path import constant_power_volts


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)
class Source:
    """Start side in one operating condition, seen from the start battery posts.

    Attributes:
        regulated_v: volts at the posts with the charger idle [V].
        sag_ohm: fall of those volts per ampere drawn, regulator and lead [Ω].
        available_a: alternator current left after the vehicle's own loads [A]; None for no limit.
        battery_v: volts the start battery holds with no charge current [V].
        battery_ohm: internal resistance of the start battery [Ω].
    """

    regulated_v: float
    sag_ohm: float
    available_a: float | None
    battery_v: float
    battery_ohm: float

    def __init__(
        self, regulated_v: float, sag_ohm: float, available_a: float | None, battery_v: float, battery_ohm: float
    ) -> None:
        """Take its parts."""
        self.regulated_v = regulated_v
        self.sag_ohm = sag_ohm
        self.available_a = available_a
        self.battery_v = battery_v
        self.battery_ohm = battery_ohm


@mypyc_attr(acyclic=True)
@dataclass(slots=True, init=False)  # written out, it is made in an eighth of the time where compiled
class Draw:
    """What a constant-power charger draws: volts at posts and terminals, amps, limit reached or not."""

    post_v: float
    terminal_v: float
    current_a: float
    alternator_limited: bool

    def __init__(self, post_v: float, terminal_v: float, current_a: float, alternator_limited: bool) -> None:
        """Take its parts."""
        self.post_v = post_v
        self.terminal_v = terminal_v
        self.current_a = current_a
        self.alternator_limited = alternator_limited


def draw(source: Source, run_ohm: float, power_w: float, extra_a: float = 0.0, extra_v: float = 0.0) -> Draw:
    """Solve a constant-power load on `source` through a run.

    Args:
        source: the start side in this condition.
        run_ohm: supply run, both ways [Ω].
        power_w: input power of the charger [W].
        extra_a: what branches take off the run besides [A].
        extra_v: drop those branches cause along the charger's way [V].

    Raises:
        Collapse: the power cannot be carried.

    Up to its limit the alternator holds its voltage less the sag; beyond it the start battery
    supplies the rest and the voltage falls to what the battery holds.
    """
    open_v, ohm = behind(source, False, extra_a, extra_v)
    terminal_v = constant_power_volts(open_v, ohm + run_ohm, power_w)
    current_a = power_w / terminal_v
    total_a = current_a + extra_a
    if not short_of(source, total_a):
        return Draw(source.regulated_v - total_a * source.sag_ohm, terminal_v, current_a, False)
    open_v, ohm = behind(source, True, extra_a, extra_v)
    terminal_v = constant_power_volts(open_v, ohm + run_ohm, power_w)
    current_a = power_w / terminal_v
    return Draw(open_v + extra_v - current_a * ohm, terminal_v, current_a, True)


def unloaded_v(source: Source, extra_a: float = 0.0, extra_v: float = 0.0) -> float:
    """Volts at a charger that draws nothing [V]: where branches alone are more than the alternator has, the battery's.

    Args:
        source: the start side in this condition.
        extra_a: what branches take off the run [A].
        extra_v: drop those branches cause along the charger's way [V].
    """
    return behind(source, short_of(source, extra_a), extra_a, extra_v)[0]


def short_of(source: Source, amps: float) -> bool:
    """Whether an alternator has less than is drawn [A]: it gives what it has, and no longer holds its volts."""
    return source.available_a is not None and amps > source.available_a


def _held_v(source: Source, available_a: float) -> float:
    """What an alternator at its limit holds the posts at [V]: a battery EMF lifted by a fixed current through its resistance."""
    return min(source.battery_v, source.regulated_v) + available_a * source.battery_ohm


def behind(source: Source, limited: bool, extra_a: float = 0.0, extra_v: float = 0.0) -> tuple[float, float]:
    """Volts with nothing drawn and ohms of the line that a charger meets at its run's beginning [V, Ω].

    Args:
        source: the start side in this condition.
        limited: whether the alternator gives all that it has, and the battery the rest.
        extra_a: what branches take off the run besides [A].
        extra_v: drop those branches cause along the charger's way [V].
    """
    if limited and source.available_a is not None:
        held_v, ohm = _held_v(source, source.available_a), source.battery_ohm
    else:
        held_v, ohm = source.regulated_v, source.sag_ohm
    return held_v - ohm * extra_a - extra_v, ohm
