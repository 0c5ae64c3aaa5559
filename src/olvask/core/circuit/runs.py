"""A run with a current through it: resistance and temperature of every piece, and the return.

- `RunState`, `PieceState`: what a current makes of a run.
- `LaidRun`, `run_state`: work it out.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from olvask.core.catalogue import conductor, device
from olvask.core.circuit.ampacity import cable_ambient_c, surface_resistance
from olvask.core.model import Branch, Cable, ChassisReturn, Joint, Piece, ProtectiveDevice, Run
from olvask.core.physics.conductors import METAL_FACTOR, resistance_ohm
from olvask.core.physics.heat import conductor_c

CHASSIS_MOHM: Final = 5.0  # our own estimate of an unmeasured body with its joints


@dataclass(slots=True)
class PieceState:
    """One piece with the current through it."""

    out_ohm: float
    back_ohm: float
    temperature_c: float | None
    extra_a: float = 0.0  # what branches add to the run's own current here; negative where they take from it


@dataclass(slots=True)
class RunState:
    """A run with the current through it: outgoing conductor and return summed [Ω]."""

    pieces: tuple[PieceState, ...]
    current_a: float
    out_ohm: float
    back_ohm: float

    @classmethod
    def of(cls, pieces: Iterable[PieceState], current_a: float, bare_back_ohm: float = 0.0) -> RunState:
        """Sum the pieces up; `bare_back_ohm` is a return that no piece stands over [Ω]."""
        kept = tuple(pieces)
        back_ohm = sum([piece.back_ohm for piece in kept])
        return cls(kept, current_a, sum([piece.out_ohm for piece in kept]), back_ohm + bare_back_ohm)

    def carrying(self, current_a: float) -> RunState:
        """The same run, as warm as it is, with another current."""
        return RunState(self.pieces, current_a, self.out_ohm, self.back_ohm)

    def without_branches(self) -> RunState:
        """The same run with nothing taken off it."""
        if not any(piece.extra_a for piece in self.pieces):
            return self
        still = tuple(PieceState(piece.out_ohm, piece.back_ohm, piece.temperature_c) for piece in self.pieces)
        return RunState(still, self.current_a, self.out_ohm, self.back_ohm)

    @property
    def loop_ohm(self) -> float:
        """Out and back [Ω]."""
        return self.out_ohm + self.back_ohm

    @property
    def drop_v(self) -> float:
        """Drop out and back [V], branches counted."""
        return self.loop_ohm * self.current_a + self.branch_v

    @property
    def first_extra_a(self) -> float:
        """What branches draw through the first piece beside the run's own current [A]; nothing where none is laid."""
        return next((piece.extra_a for piece in self.pieces), 0.0)

    @property
    def branch_v(self) -> float:
        """Drop that branches cause on the unit's path [V]."""
        return sum([piece.extra_a * (piece.out_ohm + piece.back_ohm) for piece in self.pieces if piece.extra_a])

    @property
    def return_v(self) -> float:
        """Volts of the return between its ends [V], branches counted."""
        return sum([(self.current_a + piece.extra_a) * piece.back_ohm for piece in self.pieces])

    @property
    def loss_w(self) -> float:
        """Heat in the run [W]."""
        if not any(piece.extra_a for piece in self.pieces):
            return self.loop_ohm * self.current_a**2
        return sum((piece.out_ohm + piece.back_ohm) * (self.current_a + piece.extra_a) ** 2 for piece in self.pieces)


def chassis_ohm(run: Run) -> float:
    """Resistance of a chassis return [Ω], its default when not stated; 0 for an own return."""
    if not isinstance(run.back, ChassisReturn):
        return 0.0
    stated = run.back.resistance_mohm
    return (CHASSIS_MOHM if stated is None else stated) / 1000


def branch_currents(run: Run, supply: bool) -> tuple[float, ...]:
    """What branches add to the run's own current at each piece [A].

    Args:
        run: the run.
        supply: whether it is the supply run, whose current reaches a branch before the unit's input; on the
            delivery run a branch takes its current from what goes on to the battery.
    """
    taken = [piece.current_a if isinstance(piece, Branch) else 0.0 for piece in run.pieces]
    extra: list[float] = []
    so_far = 0.0
    for amps in taken:
        so_far += amps
        extra.append(sum(taken) - so_far + amps if supply else -so_far)
    return tuple(extra)


@dataclass(slots=True)
class _LaidCable:
    """What of a cable does not hang on the current."""

    ohm_per_km: float
    metal: str
    length_m: float
    area_mm2: float
    ambient_c: float
    surface: float
    ends_ohm: float
    parallel: int

    @classmethod
    def of(cls, cable: Cable, lug_mohm: float) -> _LaidCable:
        size = conductor(cable.size)
        return cls(
            size.resistance_20c_ohm_per_km,
            cable.metal,
            cable.length_m,
            size.area_mm2,
            cable_ambient_c(cable),
            surface_resistance(cable),
            2 * lug_mohm / 1000,
            cable.parallel,
        )

    def carrying(self, current_a: float, guess_c: float | None) -> tuple[float, float]:
        """Resistance of all its strands together [Ω], and their temperature [°C]."""
        per_m = self.ohm_per_km / 1000 * METAL_FACTOR[self.metal]
        each_a = current_a / self.parallel
        celsius = conductor_c(each_a, per_m, self.area_mm2, self.ambient_c, self.surface, guess_c)
        ohm = resistance_ohm(self.ohm_per_km, self.length_m, celsius, self.metal) + self.ends_ohm
        return ohm / self.parallel, celsius


class LaidRun:
    """A run as it lies; what of it does not hang on the current is worked out once."""

    __slots__ = ("_backs_ohm", "_bare_back_ohm", "_extras_a", "_own", "_pieces")

    def __init__(self, run: Run, lug_mohm: float, supply: bool = True) -> None:
        """Look the pieces up.

        Args:
            run: the run.
            lug_mohm: resistance of each crimped and bolted cable end [mΩ].
            supply: whether it is the supply run; says which side of a branch carries its current.

        A chassis return is shared out over the outgoing pieces by cable length, for drawing; with no
        cable it sits at the last piece, with no piece at all it is the run's alone.
        """
        pieces = run.pieces
        self._own = not isinstance(run.back, ChassisReturn)
        branched = any(isinstance(piece, Branch) for piece in pieces)
        self._extras_a = branch_currents(run, supply) if branched else (0.0,) * len(pieces)
        self._pieces: list[_LaidCable | float] = [
            _LaidCable.of(piece, lug_mohm) if isinstance(piece, Cable) else _fixed_ohm(piece) for piece in pieces
        ]
        self._bare_back_ohm = 0.0
        self._backs_ohm = [
            piece.resistance_mohm / 1000 if self._own and isinstance(piece, Joint) else 0.0 for piece in pieces
        ]
        if not self._own:
            if pieces:
                self._backs_ohm = _chassis_shares(pieces, chassis_ohm(run))
            else:
                self._bare_back_ohm = chassis_ohm(run)

    def carrying(self, current_a: float, near: RunState | None = None) -> RunState:
        """Resistances and temperatures with a current [A] through it.

        Args:
            current_a: current of the unit, through every piece [A].
            near: the same run at a similar current, a start for the temperatures.
        """
        states: list[PieceState] = []
        for index, piece in enumerate(self._pieces):
            extra_a, back_ohm = self._extras_a[index], self._backs_ohm[index]
            if isinstance(piece, float):
                states.append(PieceState(piece, back_ohm, None, extra_a))
                continue
            guess_c = near.pieces[index].temperature_c if near is not None else None
            ohm, celsius = piece.carrying(current_a + extra_a, guess_c)
            states.append(PieceState(ohm, ohm if self._own else back_ohm, celsius, extra_a))
        return RunState.of(states, current_a, self._bare_back_ohm)


def _fixed_ohm(piece: Piece) -> float:
    """Outgoing resistance of a piece that does not warm up [Ω]."""
    if isinstance(piece, ProtectiveDevice):
        return device(piece.family, piece.rating_a).resistance_ohm
    return piece.resistance_mohm / 1000 if isinstance(piece, Joint) else 0.0


def _chassis_shares(pieces: tuple[Piece, ...], ohm: float) -> list[float]:
    lengths = [piece.length_m if isinstance(piece, Cable) else 0.0 for piece in pieces]
    total_m = sum(lengths)
    if total_m == 0:
        return [*[0.0] * (len(pieces) - 1), ohm]
    return [ohm * length / total_m for length in lengths]


def run_state(
    run: Run, current_a: float, lug_mohm: float, near: RunState | None = None, supply: bool = True
) -> RunState:
    """Resistances and temperatures of a run carrying `current_a` [A], for who asks once.

    Args:
        run: the run.
        current_a: current of the unit, through every piece [A].
        lug_mohm: resistance of each crimped and bolted cable end [mΩ].
        near: the same run at a similar current, a start for the temperatures.
        supply: whether it is the supply run.
    """
    return LaidRun(run, lug_mohm, supply).carrying(current_a, near)


def through_a(run: Run, supply: bool, index: int, amps: float) -> float:
    """Continuous current through one piece [A], branches counted.

    Args:
        run: the run.
        supply: whether it is the supply run.
        index: which piece.
        amps: the run's own continuous current [A].

    Towards a branch the supply run carries both. Past a branch the delivery run carries what is left while
    charging, and what the branch takes while not: the larger counts, and never less than the run's own.
    """
    extra_a = branch_currents(run, supply)[index]
    return amps + extra_a if supply else max(amps, -extra_a)
