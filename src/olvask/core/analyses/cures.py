"""What would cut the share of vehicles at fault: changes of the design, each driven over the same vehicles.

- `candidates`: changes that may help, beside those that findings offer.
- `curing`: every change worth trying, tried, with its progress.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import Field

from olvask.core.analyses.tolerance import Fleet, Tolerances, vehicles_of
from olvask.core.assess import assess
from olvask.core.circuit.solve import Solved
from olvask.core.circuit.thresholds import Thresholds, own_step_v, set_thresholds, step_down, step_up
from olvask.core.findings.driven import spoken
from olvask.core.findings.finding import Remedy
from olvask.core.findings.remedy import apply, remedy
from olvask.core.findings.said import Said
from olvask.core.model import Charger, Design
from olvask.core.simulate.programme import Programme
from olvask.core.stages.match.limits import turn_down
from olvask.core.stages.run.growth import grow, thickest_need
from olvask.core.stages.wake.method import advise
from olvask.core.stages.wake.remedies import START_PATH, STOP_PATH

VEHICLES = 250
WORTH = 0.8  # a change that leaves more of the share at fault is not worth naming
LESS = 0.8  # of the current, where it is turned down
BATCH = 10


@dataclass(frozen=True, slots=True, kw_only=True)
class ToleranceCure:
    """A change of the design, and the share of the same vehicles then at fault."""

    remedy: Remedy
    any_fault: float


class ToleranceCures(Said):
    """What would cut the share at fault, the most helpful first; nothing where nothing was tried or helps."""

    vehicles: int
    before: float = Field(description="share at fault as the design stands, over these vehicles")
    cures: tuple[ToleranceCure, ...]


def curing(
    design: Design, day: Programme | None = None, tolerances: Tolerances | None = None, vehicles: int = VEHICLES
) -> Iterator[float | ToleranceCures]:
    """Try what might cut the share at fault, telling the share done from time to time and at the end what helps.

    Args:
        design: the design; it needs a unit.
        day: what each vehicle does; ten minutes of everything where left out.
        tolerances: how far vehicles differ.
        vehicles: how many; the same ones for every change.

    Raises:
        ValueError: the design has no unit.
    """
    fleet = Fleet(design, day, tolerances)
    changed = [
        (item, Fleet(apply(design, item), fleet.day, fleet.tolerances)) for item in _changes(design, fleet.solved)
    ]
    tried = [(None, fleet), *changed]
    shares: list[float] = []
    for at, (_, candidate) in enumerate(tried):
        failing = 0
        for index, drawn in enumerate(vehicles_of(vehicles)):
            failing += any(candidate.faults(drawn))
            if index % BATCH == BATCH - 1:
                yield (at + (index + 1) / vehicles) / len(tried)
        shares.append(failing / vehicles)
        if at == 0 and failing == 0:
            break
    before = shares[0]
    better = sorted(
        (
            ToleranceCure(remedy=change, any_fault=share)
            for (change, _), share in zip(tried, shares, strict=False)
            if change is not None and share <= WORTH * before
        ),
        key=lambda cure: cure.any_fault,
    )
    yield spoken(design, ToleranceCures(vehicles=vehicles, before=before, cures=tuple(better)))


def _changes(design: Design, solved: Solved) -> list[Remedy]:
    """Changes worth trying, each once; what would bring a new stop with it is left out."""
    found = assess(design).findings
    stops = {item.id for item in found if item.level == "stop"}
    wake = [change for item in found if item.stage == "wake" and item.level == "stop" for change in item.remedies[:2]]
    worth = {_does(change): change for change in (*wake[:3], *candidates(design, solved)) if change is not None}
    return [change for change in worth.values() if _stops(apply(design, change)) <= stops]


def _does(tried: Remedy) -> str:
    """What tells two changes apart: the signals they turn to, or else their words."""
    for change in tried.changes:
        if change.path == "activation.ways":
            return str(change.value)
        if change.path == "activation":
            return str(change.value["ways"])
    return tried.label


def _stops(design: Design) -> set[str]:
    return {item.id for item in assess(design).findings if item.level == "stop"}


def candidates(design: Design, solved: Solved) -> Iterator[Remedy | None]:
    """Thresholds to the edges of their windows, more copper, less current, another way to start.

    Args:
        design: the design.
        solved: it, solved.
    """
    if design.charger is not None and "voltage" in design.activation.ways:
        yield from _thresholds(design.charger, set_thresholds(design, solved))
    index = thickest_need(design.supply, solved.running[0].run)
    yield grow(design, "supply", index, lambda _: True, "in the supply run")
    if design.charger is not None and solved.output is not None:
        yield turn_down(design.charger, LESS * solved.output.current_a, design.units)
    for advised in advise(design).methods:
        if advised.verdict in ("recommended", "sound") and not advised.chosen:
            yield advised.take
            return


def _thresholds(unit: Charger, at: Thresholds) -> Iterator[Remedy]:
    """Stop and start as low and as high as their windows let them, each on the unit's own steps; what is fixed stays."""
    starts, stops = unit.start_rules.settable, unit.stop_rules.settable
    stop_step_v = own_step_v(unit.stop_rules, at.step_v)
    low_v, lowest_v = step_up(at.floor_v, stop_step_v), step_up(at.stop_v, at.step_v)
    high_v = step_down(at.start_high_v, at.step_v)
    if stops and low_v < at.stop_v - 1e-6:
        yield remedy(f"Stop at {low_v:.2f} V", (STOP_PATH, low_v))
    if starts and lowest_v < at.start_v - 1e-6:
        yield remedy(f"Start at {lowest_v:.2f} V", (START_PATH, lowest_v))
    if starts and at.start_v < high_v - 1e-6:
        yield remedy(f"Start at {high_v:.2f} V", (START_PATH, high_v))
    if not stops or at.stop_high_v is None:
        return
    stop_v = step_down(at.stop_high_v, stop_step_v)
    if stop_v > at.stop_v + 1e-6 and (starts or stop_v <= at.start_v):
        start_v = max(step_up(stop_v, at.step_v), at.start_v)
        changes = [(STOP_PATH, stop_v), (START_PATH, start_v)] if starts else [(STOP_PATH, stop_v)]
        yield remedy(f"Stop at {stop_v:.2f} V", *changes)
