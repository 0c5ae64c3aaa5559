"""Everything else that charges the auxiliary battery, and what two inputs on one unit come to.

- `other_sources`: chargers besides the unit, each with its current and when it runs.
- `combined`: what a dual-input unit gives with its panel in some sun.
- `judge_sources`: findings on second inputs.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, NamedTuple

from olvask.core.circuit.context import Context
from olvask.core.circuit.engine_side import BUILT_IN_A, feed_is_cut
from olvask.core.circuit.facts import charge_volts
from olvask.core.findings.collector import Judged
from olvask.core.findings.figure import Reckoned, Words, computed
from olvask.core.findings.finding import caution, stop
from olvask.core.findings.listed import percent
from olvask.core.findings.remedy import remedy
from olvask.core.model import Charger, Design

MAINS_A = 20.0  # a mains charger, likewise
PORTABLE_A = 5.0  # a portable charger, likewise
MAINTAINER_A = 1.0  # a start-battery maintainer, when its current is not on a plate; our own estimate
MAINTAINER_EFFICIENCY = 0.85  # from the auxiliary battery, where it is fed from there; our own estimate
HARVEST: Final = 0.9  # of the panel's watts, through wiring, heat and controller; our own estimate
OWN_CONTROLLER = remedy("Give the panel its own controller", ("solar.into", "controller"))


class OtherSource(NamedTuple):
    """A charger besides the unit.

    Attributes:
        label: what it is.
        peak_a: most it gives into the battery [A].
        driving_a: what it gives on average while driving [A].
        driving: it may run while the unit does.
        profile: chemistry it is set for, where known.
        place: path in the design.
    """

    label: str
    peak_a: float
    driving_a: float
    driving: bool
    profile: str | None
    place: str


class Maintainer(NamedTuple):
    """What keeps the start battery up while it stands: its current there, and what it takes from the auxiliary side [A]."""

    current_a: float
    taken_a: float


def maintainer_of(design: Design) -> Maintainer:
    """The start-battery maintainer, noted among what is there or among what holds the start battery up."""
    fed = [item for item in design.still_fed if item.kind == "maintainer"]
    if fed:
        amps = sum(item.charge_a or MAINTAINER_A for item in fed)
        return Maintainer(amps, amps * design.vehicle.system_v / design.auxiliary.nominal_v / MAINTAINER_EFFICIENCY)
    lifted = any(item.kind == "maintainer" for item in design.vehicle.lifters)
    return Maintainer(MAINTAINER_A if lifted else 0.0, 0.0)


def solar_peak_a(design: Design) -> float:
    """Current [A] of the panel in full sun at the auxiliary battery's absorption volts; 0 without one."""
    panel_w = design.solar.panel_w
    if panel_w is None:
        return 0.0
    return panel_w * HARVEST / charge_volts(design.auxiliary)[0]


def solar_standing_a(design: Design) -> float:
    """What the panel gives the auxiliary battery in full sun while the vehicle stands [A].

    Nothing on the start side, or into a unit without an input for it; through a second input no more than the unit gives.
    """
    unit, into = design.charger, design.solar.into
    if into == "start_side":
        return 0.0
    if into == "second_input":
        return 0.0 if unit is None or unit.dual_input == "none" else min(solar_peak_a(design), unit.output_a)
    return solar_peak_a(design)


def other_sources(design: Design) -> list[OtherSource]:
    """Every charger besides the unit, from the survey."""
    found: list[OtherSource] = []
    for item in design.still_fed:
        if item.kind == "built_in_charger" and feed_is_cut(design):
            continue
        place = f"existing.{item.id}"
        if item.kind == "built_in_charger":
            amps = item.charge_a or BUILT_IN_A
            found.append(OtherSource(item.called, amps, amps, True, item.profile, place))
        elif item.kind in ("mains_charger", "portable_charger"):
            amps = item.charge_a or (MAINS_A if item.kind == "mains_charger" else PORTABLE_A)
            found.append(OtherSource(item.called, amps, 0.0, False, item.profile, place))
    solar = design.solar
    if solar.panel_w is not None and solar.into == "controller":
        peak_a = solar_peak_a(design)
        found.append(
            OtherSource("solar controller", peak_a, peak_a * solar.share_driving, True, solar.profile, "solar.panel_w")
        )
    return found


def driving_peak_a(design: Design) -> float:
    """Most that other sources give while the unit charges [A]."""
    return sum(source.peak_a for source in other_sources(design) if source.driving)


@dataclass(frozen=True, slots=True)
class Combined:
    """What a dual-input unit gives: from each source, and together [A]."""

    alternator_a: float
    solar_a: float

    @property
    def total_a(self) -> float:
        """Both together [A]."""
        return self.alternator_a + self.solar_a


def combined(unit: Charger, alternator_a: float, solar_a: float, units: int = 1) -> Combined:
    """Share a dual-input unit's output between alternator and panel.

    Args:
        unit: the unit; `dual_input` says by what rule it shares.
        alternator_a: what it gives from the alternator alone [A].
        solar_a: what the panel could give at this sun [A].
        units: how many of it stand in parallel; one of them has the panel.

    Fixed split: each source is capped at half the unit while both are there. Priority: the source that
    goes first has the unit to itself, the other waits.
    """
    if unit.dual_input == "none" or solar_a <= 0 or alternator_a <= 0:
        alone_a = min(solar_a, unit.output_a) if unit.dual_input != "none" and alternator_a <= 0 else 0.0
        return Combined(alternator_a, alone_a)
    one_a = alternator_a / units
    if unit.dual_input == "split":
        half_a = unit.output_a / 2
        return Combined(alternator_a - one_a + min(one_a, half_a), min(solar_a, half_a))
    if unit.dual_first == "alternator":
        return Combined(alternator_a, 0.0)
    return Combined(alternator_a - one_a, min(solar_a, unit.output_a))


def driving_now(design: Design, output_a: float) -> Combined:
    """What the unit gives while driving in the surveyed sun [A], its second input counted.

    Args:
        design: the design.
        output_a: output from the alternator alone [A].
    """
    unit, solar = design.charger, design.solar
    if unit is None or solar.panel_w is None or solar.into != "second_input":
        return Combined(output_a, 0.0)
    return combined(unit, output_a, solar_peak_a(design) * solar.share_driving, design.units)


def judge_sources(ctx: Context) -> Judged:
    """Findings on a panel with nowhere to go, and a split that loses."""
    unit, solar, output = ctx.design.charger, ctx.design.solar, ctx.solved.output
    if unit is None or output is None or solar.panel_w is None or solar.into != "second_input":
        return
    if unit.dual_input == "none":
        yield stop(
            "match.no_second_input",
            "charger",
            "The panel has no input to feed",
            f"{unit.name} has one input. A {solar.panel_w:.0f} W panel needs a controller of its own, or a unit with a "
            "second input.",
            [OWN_CONTROLLER],
            concerns=("solar.into",),
        )
        return
    alone_a, sun_a = output.current_a, solar_peak_a(ctx.design) * solar.share_driving
    now = combined(unit, alone_a, sun_a, ctx.design.units)
    told = f"{now.alternator_a:.1f} A from the alternator"
    if ctx.worded:
        yield Reckoned(
            "match.dual_total_a",
            "Both inputs together, driving",
            now.total_a,
            "A",
            words=lambda: Words(
                formula="split: min(I_alt, I/2) + min(I_sun, I/2); priority: the first alone",
                working=f"{told} + {now.solar_a:.1f} A from the panel = {now.total_a:.1f} A",
                inputs=(computed("output.current_a"),),
                source="unit's rule for two inputs",
                changes="more sun, a larger panel, or a controller of its own",
            ),
        )
    if now.total_a < alone_a - 0.05:
        waits = unit.dual_input == "priority"
        why = (
            f"The alternator waits while the sun goes first, {unit.dual_delay_s:.0f} s more after it."
            if waits
            else f"Each source is capped at {unit.output_a / 2:g} A."
        )
        yield caution(
            "match.priority_loses" if waits else "match.split_loses",
            "charger",
            "The panel lowers the charge while driving",
            f"At {percent(solar.share_driving)} of full sun {unit.name} gives {told} and {now.solar_a:.1f} A from the panel, "
            f"{now.total_a:.1f} A together; from the alternator alone {alone_a:.1f} A. {why}",
            [OWN_CONTROLLER],
            concerns=("solar.into", "charger"),
        )
