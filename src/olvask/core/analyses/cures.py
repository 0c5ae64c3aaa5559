"""What would cut the share of vehicles at fault: changes of the design, each driven over the same vehicles.

- `curing`: every change worth trying, tried, with its progress.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.analyses.tolerance import Fleet, Tolerances, vehicles_of
from olvask.core.assess import assess
from olvask.core.circuit.solve import Solved
from olvask.core.findings.assessment import ToleranceCure, ToleranceCures, WayOut
from olvask.core.findings.collector import way_out
from olvask.core.findings.remedy import apply
from olvask.core.model import Design
from olvask.core.simulate.programme import Programme
from olvask.core.stages.match.limits import turn_down
from olvask.core.stages.run.cables import grow, thickest_need
from olvask.core.stages.wake.method import advise
from olvask.core.stages.wake.thresholds import Thresholds, set_thresholds, step_down, step_up

VEHICLES = 250
WORTH = 0.8  # a change that leaves more of the share at fault is not worth naming
LESS = 0.8  # of the current, where it is turned down
BATCH = 50


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
    changed = [(way, Fleet(apply(design, way), fleet.day, fleet.tolerances)) for way in _ways(design, fleet.solved)]
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
            ToleranceCure(way_out=way, any_fault=share)
            for (way, _), share in zip(tried, shares, strict=False)
            if way is not None and share <= WORTH * before
        ),
        key=lambda cure: cure.any_fault,
    )
    yield ToleranceCures(vehicles=vehicles, before=before, cures=tuple(better))


def _ways(design: Design, solved: Solved) -> list[WayOut]:
    """Changes worth trying, each once; what would bring a new stop with it is left out."""
    found = assess(design).findings
    stops = {item.id for item in found if item.level == "stop"}
    wake = [way for item in found if item.stage == "wake" and item.level == "stop" for way in item.ways_out[:2]]
    worth = {_does(way): way for way in (*wake[:3], *_candidates(design, solved)) if way is not None}
    return [way for way in worth.values() if _stops(apply(design, way)) <= stops]


def _does(way: WayOut) -> str:
    """What tells two ways apart: the signals it turns to, or else its words."""
    methods = next((change.value for change in way.changes if change.path == "activation.methods"), None)
    return way.label if methods is None else str(methods)


def _stops(design: Design) -> set[str]:
    return {item.id for item in assess(design).findings if item.level == "stop"}


def _candidates(design: Design, solved: Solved) -> Iterator[WayOut | None]:
    """Thresholds to the edges of their windows, more copper, less current, another way to start."""
    if "voltage" in design.activation.methods:
        yield from _thresholds(set_thresholds(design, solved))
    index = thickest_need(design, "supply", solved.running[0].run)
    yield grow(design, "supply", index, lambda _: True, "in the supply run")
    if design.charger is not None and solved.output is not None:
        yield turn_down(design.charger, LESS * solved.output.current_a, design.units)
    for advised in advise(design).methods:
        if advised.verdict in ("recommended", "sound") and not advised.chosen:
            yield advised.take
            return


def _thresholds(at: Thresholds) -> Iterator[WayOut]:
    """Stop and start as low and as high as their windows let them, on the unit's steps."""
    low_v, high_v = step_up(at.floor_v, at.step_v), step_down(at.start_high_v, at.step_v)
    if low_v < at.stop_v - 1e-6:
        yield way_out(f"Stop at {low_v:.2f} V", ("activation.stop_v", low_v))
    if at.stop_v < at.start_v - 1e-6:
        yield way_out(f"Start at {at.stop_v:.2f} V", ("activation.start_v", at.stop_v))
    if at.start_v < high_v - 1e-6:
        yield way_out(f"Start at {high_v:.2f} V", ("activation.start_v", high_v))
    if at.stop_high_v is not None and (stop_v := step_down(at.stop_high_v, at.step_v)) > at.stop_v + 1e-6:
        start_v = max(stop_v, at.start_v)
        yield way_out(f"Stop at {stop_v:.2f} V", ("activation.stop_v", stop_v), ("activation.start_v", start_v))
