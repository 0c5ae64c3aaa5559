"""What goes into a charge simulation, and what comes out of it.

- `Source`: what charges, by its mechanism.
- `Bank`: the battery, its management, its temperature.
- `Draw`: a load on it for a time.
- `Charge`: what came of it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Final, Literal, NamedTuple

from olvask.core.simulate.batteries import Cell
from olvask.core.simulate.profile import Profile

DAY_S: Final = 86400.0
Stage = Literal["bulk", "absorption", "equalise", "float", "rest", "pulse"]


@dataclass(frozen=True, slots=True)
class Source:
    """A charger by its mechanism.

    Attributes:
        key: its identity.
        rated_a: what it gives at most [A].
        lead_ohm: between the terminals whose volts it holds and the battery's posts, both ways [Ω].
        profile: its stages.
        rated_at_v: its rating holds up to these volts, its power above [V]; 0 for at any.
        back_off_v: from here its current falls to nothing at its target [V]; 0 where it holds full current up to it.
        derating_percent_per_k: what it loses above its rated air [%/K].
        rated_ambient_c: that air [°C].
        compensation_mv_per_k: its targets move by temperature [mV/K].
        sensor: it senses the battery's temperature; otherwise it takes its own air for it.
        cold_c: it does not charge below this battery temperature [°C].
        hot_c: nor above this one [°C].
        fresh: switched on, it begins with bulk whatever the battery shows; otherwise its volts decide.
        sun_s: half a sine of sun this long begins each day [s]; 0 for a source that is always there.
        equalises_s: first equalisation is due from here on [s].
    """

    key: str
    rated_a: float
    lead_ohm: float
    profile: Profile
    rated_at_v: float = 0.0
    back_off_v: float = 0.0
    derating_percent_per_k: float = 0.0
    rated_ambient_c: float = 40.0
    compensation_mv_per_k: float = 0.0
    sensor: bool = False
    cold_c: float = -math.inf
    hot_c: float = math.inf
    fresh: bool = True
    sun_s: float = 0.0
    equalises_s: float = 0.0

    def sun(self, now: float) -> float:
        """Share of its rating that is there at a time of the day, which begins at sunrise."""
        if self.sun_s <= 0:
            return 1.0
        at = now % DAY_S
        return math.sin(math.pi * at / self.sun_s) if at < self.sun_s else 0.0


@dataclass(frozen=True, slots=True)
class Bank:
    """The battery that is charged.

    Attributes:
        cell: what it rests at, takes and gives.
        celsius: its temperature [°C].
        air_c: the air at the sources [°C].
        opens_v: its management opens at these volts [V].
        opens_a: and above this current [A].
        least_c: below this temperature its own cut-off takes no charge [°C].
        most_c: nor above this one [°C].
    """

    cell: Cell
    celsius: float
    air_c: float
    opens_v: float = math.inf
    opens_a: float = math.inf
    least_c: float = -math.inf
    most_c: float = math.inf


class Draw(NamedTuple):
    """A load on the battery from a time to a time [s], its current [A]."""

    from_s: float
    to_s: float
    amps: float


@dataclass(slots=True)
class Charge:
    """What came of it: a row each step.

    Attributes:
        times_s: when [s].
        charge: state of charge, 0 to 1.
        volts: at the battery's posts [V].
        amps: of each source [A].
        stages: of each source.
        events: time, source and the stage it went to.
        opened_s: when the battery's management opened; `None` where it never did.
    """

    times_s: list[float] = field(default_factory=list)
    charge: list[float] = field(default_factory=list)
    volts: list[float] = field(default_factory=list)
    amps: list[tuple[float, ...]] = field(default_factory=list)
    stages: list[tuple[Stage, ...]] = field(default_factory=list)
    events: list[tuple[float, str, Stage]] = field(default_factory=list)
    opened_s: float | None = None

    def reaches(self, share: float) -> float | None:
        """When a state of charge is first reached [s]; `None` where it never is."""
        for at, charge in enumerate(self.charge):
            if charge >= share:
                if at == 0:
                    return 0.0
                before, was = self.times_s[at - 1], self.charge[at - 1]
                return before + (self.times_s[at] - before) * (share - was) / (charge - was)
        return None
