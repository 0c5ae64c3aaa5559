"""Drills: what is accepted is what `assess`, the procedure's own rules and the simulator say, asked here once more.

The long form is part of `make check-practice`.
"""

from __future__ import annotations

import os
import random
from collections.abc import Iterator
from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.findings.finding import Finding
from olvask.core.model import Design
from olvask.core.practice.drills import KINDS, Answer, BadAnswer, DrillKind, drill_of, judged, made_of
from olvask.core.simulate.programme import LIBRARY, read_programme
from olvask.core.simulate.report import report
from olvask.core.simulate.trip import drive
from olvask.core.stages.build.procedure import procedure_of

MANY = int(os.environ.get("OLVASK_DRILLS", "5"))
LOG_DAY = "off 10 min\ncrank 2 s\nidle 6 min\ncruise 10 min\nlow 90 s\ncruise 6 min\noff 25 min\n"


def against(design: Design, *prefixes: str) -> list[Finding]:
    """Stops and cautions of these names."""
    found = assess(design, remedies=False).findings
    return [item for item in found if item.level != "note" and item.id.startswith(prefixes)]


def with_(design: Design, change: Any) -> Design:
    document = design.model_dump(mode="json")
    change(document)
    return Design.model_validate(document)


def right_ones(kind: DrillKind, number: int) -> set[str]:
    """Answers that are accepted."""
    return {item.key for item in drill_of(kind, number).items if judged(kind, number, Answer(chosen=item.key)).right}


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_the_smallest_size_that_assess_lets_pass(number: int) -> None:
    """One size is accepted; every smaller one is spoken against by a stop or a caution of its run, it is not."""
    drill, design = drill_of("size", number), made_of("size", number).design
    cables = [(at, item) for at, item in enumerate(design.supply.pieces) if item.kind == "cable"]
    at, _ = max(cables, key=lambda item: item[1].length_m or 0.0)
    sizes = [item.key for item in drill.items]

    def spoken(size: str, *more: str) -> bool:
        tried = with_(design, lambda document: document["supply"]["pieces"][at].update(size=size))
        found = against(tried, "run.", "protect.large", "protect.fault", "protect.small", "wake.", *more)
        return any(not item.id.endswith(".delivery") for item in found)

    (right,) = right_ones("size", number)
    assert not spoken(right)
    # A device that runs close to its rating speaks against a size that no larger device would protect.
    assert all(spoken(size, "protect.tight") for size in sizes[: sizes.index(right)])


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_isolated_where_assess_wants_it(number: int) -> None:
    """Accepted is “isolated” exactly where a unit that joins the negatives is spoken against."""
    design = with_(made_of("isolation", number).design, lambda document: document["charger"].update(isolated=False))
    wanted = bool(against(design, "match.isolated_wanted", "match.isolation_needed", "match.no_common_negative"))
    assert right_ones("isolation", number) == {"isolated" if wanted else "either"}


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_what_the_fuse_forgets(number: int) -> None:
    """Every fault that assess finds with it is accepted, and nothing else; “nothing” where it finds none."""
    design = made_of("fuse", number).design
    keys = ("protect.small", "protect.large", "protect.interrupt", "protect.missing")
    found = {key for key in keys if against(design, key)}
    assert right_ones("fuse", number) == (found or {"nothing"})


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_what_keeps_up(number: int) -> None:
    """“No” exactly where assess says that the day's use is not put back."""
    design = made_of("keeps_up", number).design
    short = against(design, "match.daily_need", "match.need_unreachable")
    assert right_ones("keeps_up", number) == {"no" if short else "yes"}


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_volts_that_assess_and_the_simulator_take(number: int) -> None:
    """Whatever volts are given: accepted exactly where no new stop or caution on waking comes, and a day is driven well."""
    design, pick = made_of("thresholds", number).design, random.Random(number)
    scale = design.vehicle.system_v / 12
    own = Context.of(design).thresholds
    day = read_programme(LIBRARY["commute"])

    def placed(start_v: float, stop_v: float) -> Design:
        def change(document: dict[str, Any]) -> None:
            document["activation"]["start_rules"][0]["at_least_v"] = start_v
            document["activation"]["stop_rules"][0]["below_v"] = stop_v

        return with_(design, change)

    def spoken(tried: Design) -> set[str]:
        found = assess(tried, remedies=False).findings
        return {item.id for item in found if item.stage == "wake" and item.level != "note"}

    usual = spoken(placed(own.start_v, own.stop_v))
    answers = [(own.start_v, own.stop_v)]
    answers += [
        (round(pick.uniform(12.4, 14.8) * scale, 2), round(pick.uniform(12.0, 14.2) * scale, 2)) for _ in range(3)
    ]
    for start_v, stop_v in answers:
        tried = placed(start_v, stop_v)
        totals = report(tried, day).totals
        starts = [event.stretch for event in drive(tried, day).events if event.what == "start"]
        well = totals.starts > 0 and max((starts.count(at) for at in set(starts)), default=0) < 3
        right = not spoken(tried) - usual and well
        assert judged("thresholds", number, Answer(numbers=(start_v, stop_v))).right == right, (start_v, stop_v)
    assert judged("thresholds", number, Answer(numbers=answers[0])).right


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_orders_that_break_no_rule(number: int) -> None:
    """Any order: accepted exactly where no step stands before one it waits for, however far along the chain."""
    drill, design = drill_of("order", number), made_of("order", number).design
    waits = {
        placed.step.key: {item.step for item in placed.waits_for}
        for placed in procedure_of(Context.of(design)).procedure.steps
    }

    def reached(key: str) -> Iterator[str]:
        for other in waits[key]:
            yield other
            yield from reached(other)

    needs = {item.key: set(reached(item.key)) for item in drill.items}
    keys, pick = [item.key for item in drill.items], random.Random(number)
    for _ in range(6):
        pick.shuffle(keys)
        fine = not any(later in needs[key] for at, key in enumerate(keys) for later in keys[at:])
        assert judged("order", number, Answer(order=tuple(keys))).right == fine
    natural = sorted(keys, key=lambda key: list(waits).index(key))
    assert judged("order", number, Answer(order=tuple(natural))).right


@pytest.mark.parametrize("number", range(1, 1 + MANY))
def test_what_a_log_shows(number: int) -> None:
    """One answer is accepted: what the trip's own events come to, read here from starts, stops and the engine."""
    design = made_of("log", number).design
    trip = drive(design, read_programme(LOG_DAY))
    engines = ["off", "crank", "idle", "cruise", "low", "cruise", "off"]
    starts = [event.stretch for event in trip.events if event.what == "start"]
    running = [at for at in starts if engines[at] in ("idle", "cruise", "low")]
    in_low = [event for event in trip.events if event.what in ("stop", "guard", "collapse") and event.stretch == 4]
    if not running:
        expected = "drains" if starts else "never"
    elif max(starts.count(at) for at in starts) >= 3:
        expected = "hunts"
    elif trip.engine_off_charging_s > 240:
        expected = "drains"
    else:
        expected = "low" if in_low else "well"
    assert right_ones("log", number) == {expected}
    series = drill_of("log", number).series
    assert series is not None
    assert len(series.minutes) == len(series.volts) == len(series.amps) == len(series.running) > 150
    flows = any(amps > 1 for amps, on in zip(series.amps, series.running, strict=True) if on)
    assert flows == bool(running)


def test_what_is_no_answer_is_refused() -> None:
    """Too few numbers, a choice that is not there, a step twice: each with what to do."""
    with pytest.raises(BadAnswer, match="Start at or above"):
        judged("thresholds", 1, Answer(numbers=(13.0,)))
    with pytest.raises(BadAnswer, match="Stop: give volts"):
        judged("thresholds", 1, Answer(numbers=(13.0, 1000.0)))
    with pytest.raises(BadAnswer, match="Choose"):
        judged("size", 1, Answer(chosen="9 mm²"))
    keys = [item.key for item in drill_of("order", 1).items]
    with pytest.raises(BadAnswer, match="each once"):
        judged("order", 1, Answer(order=(*keys[:-1], keys[0])))


@pytest.mark.parametrize("kind", KINDS)
def test_the_same_number_is_the_same_drill(kind: DrillKind) -> None:
    """Made anew it asks the same of the same vehicle; its neighbour is another."""
    first, design = drill_of(kind, 3), made_of(kind, 3).design
    made_of.cache_clear()
    assert (drill_of(kind, 3), made_of(kind, 3).design) == (first, design)
    assert made_of(kind, 4).design != design
