"""Reading a log: a while of the simulator's own vehicle, and what happened in it.

- `log_drill`: one.
- `HAPPENED`, `happened`: what can be seen, and what a trip shows of it.
"""

from __future__ import annotations

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.practice.chance import Chance
from olvask.core.practice.drills.drill import Answer, Item, Judged, Made, Series, changed, facts_of
from olvask.core.practice.vehicles import woken_by_volts
from olvask.core.simulate.programme import Programme, read_programme
from olvask.core.simulate.record import Trip
from olvask.core.simulate.report import hunts, report
from olvask.core.simulate.trip import Trial, drive

HAPPENED = {
    "never": "It never starts, though the engine runs.",
    "hunts": "It starts and stops by itself: its own current pulls the volts under the stop.",
    "drains": "It charges on with the engine off, out of the start battery.",
    "low": "A low phase of the alternator stops it.",
    "well": "Nothing: it starts with the engine and stops with it.",
}
DAY = "off 10 min\ncrank 2 s\nidle 6 min\ncruise 10 min\nlow 90 s\ncruise 6 min\noff 25 min\n"
EVERY_S = 15.0  # as a usual monitor writes; our own estimate
LONG_S = 240.0  # charging on so long with the engine off is no delay of the stop any more; our own estimate


def happened(day: Programme, trip: Trip) -> str:
    """What a trip shows, the gravest first.

    Args:
        day: what the vehicle did.
        trip: what came of it.
    """
    stretches = day.stretches
    starts = [event for event in trip.events if event.what == "start"]
    if not any(stretches[event.stretch].running for event in starts):
        return "never" if not starts else "drains"
    if hunts(trip):
        return "hunts"
    if trip.engine_off_charging_s > LONG_S:
        return "drains"
    stops = [event for event in trip.events if event.what in ("stop", "guard", "collapse")]
    if any(stretches[event.stretch].engine == "low" for event in stops):
        return "low"
    return "well"


def log_drill(chance: Chance) -> Made | None:
    """A log of one drive, and what happened in it."""
    woken = woken_by_volts(chance)
    if woken is None:
        return None
    name, design, at = woken
    design = _meant(chance, design, at.start_v, at.stop_v)
    day = read_programme(DAY)
    trip = drive(design, day)
    right = happened(day, trip)
    told = report(design, day, most=2)

    def judge(answer: Answer) -> Judged:
        return Judged(
            right=answer.chosen == right,
            text=HAPPENED[right],
            working=tuple(f"{event.time_s / 60:.1f} min: {event.text}" for event in told.events[:8]),
            better=right,
        )

    return Made(
        vehicle=name,
        design=design,
        question="Ten minutes parked, a drive with one low phase of the alternator, parked again. What happened?",
        facts=facts_of(design),
        items=tuple(Item(key=key, text=text) for key, text in HAPPENED.items()),
        series=_log(design, day),
        judge=judge,
    )


def _meant(chance: Chance, design: Design, start_v: float, stop_v: float) -> Design:
    """Volts that do one thing or the other; which of them it is the simulator says."""
    scale = design.vehicle.system_v / 12
    meant = chance.one_of(tuple(HAPPENED))
    rest_v = design.vehicle.readings.rest_v or 12.6 * scale
    idle_v = design.vehicle.readings.idle_v or 14.0 * scale
    low_v = chance.between(12.3, 12.6) * scale if meant == "low" else idle_v - 0.1 * scale
    volts = {
        "never": (idle_v + 0.6 * scale, stop_v),
        "hunts": (idle_v - 0.1 * scale, _under_load(chance, design, idle_v)),
        "drains": (start_v, rest_v - 1.2 * scale),
        "low": (start_v, max(stop_v, low_v + 0.3 * scale)),
        "well": (start_v, stop_v),
    }[meant]
    return changed(
        design,
        {
            "activation.start_rules.0.at_least_v": round(volts[0], 2),
            "activation.stop_rules.0.below_v": round(volts[1], 2),
            "vehicle.alternator.regulation": "managed",
            "vehicle.readings.low_phase_v": round(low_v, 2),
            "vehicle.readings.low_phase_s": 90.0,
        },
    )


def _under_load(chance: Chance, design: Design, idle_v: float) -> float:
    """Volts that the input has without its load, and not with it."""
    drawn = Context.of(design).solved.running[0].drawn
    loaded_v = drawn.terminal_v if drawn is not None else idle_v - 0.4
    return loaded_v + chance.between(0.3, 0.7) * max(0.02, idle_v - loaded_v)


def _log(design: Design, day: Programme) -> Series:
    """What a monitor at the unit would have written: one row every so often."""
    trial = Trial(design, day, recorded=False)
    rows: list[tuple[float, float, float, bool]] = []
    for stretch in day.stretches:
        left_s = stretch.duration_s
        while left_s > 0:
            step_s = min(EVERY_S, left_s)
            trial.drive_on(stretch, step_s)
            left_s -= step_s
            trial.begin(stretch)
            flow = trial.plant.flow(trial.state, trial.moment(stretch, trial.now_s))
            rows.append((trial.now_s / 60, flow.volts, flow.input_a, stretch.running))
    minutes, volts, amps, running = zip(*rows, strict=True)
    return Series(
        minutes=tuple(round(item, 2) for item in minutes),
        volts=tuple(round(item, 2) for item in volts),
        amps=tuple(round(item, 1) for item in amps),
        running=running,
    )
