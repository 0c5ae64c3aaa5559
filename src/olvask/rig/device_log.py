"""Logs as a device in the rig's vehicle would write them: the simulator sampled, with what sensors and clocks do to it.

- `Stage`: a while of driving, with what is wrong in it.
- `Recorder`: how the device records; `Layout`: how it writes.
- `recorded`: the columns, and what really happened.
- `written`: the file.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import polars as pl
from numpy.typing import NDArray

from olvask.core.circuit.solve import Solved, solve
from olvask.core.model import Design
from olvask.core.model.device_log import MEASURES, Measured
from olvask.core.simulate.machine import What, settings_of
from olvask.core.simulate.plant import Plant
from olvask.core.simulate.programme import Programme
from olvask.core.simulate.record import Sample
from olvask.core.simulate.trip import Trial
from olvask.rig.faults import Spoilt, spoilt_plant

Floats = NDArray[np.float64]
# What of a sample a device would log.
LOGGED: dict[Measured, str] = {
    "input_v": "input_v",
    "input_a": "input_a",
    "output_v": "output_v",
    "output_a": "output_a",
    "post_v": "post_v",
    "auxiliary_v": "auxiliary_v",
    "charge_percent": "auxiliary_charge",
    "battery_c": "battery_c",
}
NAMES: dict[Measured, str] = {
    "input_v": "Input [V]",
    "input_a": "Input [A]",
    "output_v": "Output [V]",
    "output_a": "Output [A]",
    "post_v": "Start battery [V]",
    "auxiliary_v": "Aux battery [V]",
    "charge_percent": "SoC [%]",
    "battery_c": "Aux battery temperature [°C]",
}


@dataclass(frozen=True, slots=True)
class Stage:
    """A while of driving: its programme, and what is wrong meanwhile."""

    programme: Programme
    fault: Spoilt = field(default_factory=Spoilt)


@dataclass(frozen=True, slots=True)
class Recorder:
    """How a device records.

    Attributes:
        every_s: from row to row [s].
        noise_v: of each reading, one standard deviation [V].
        noise_a: the same [A].
        gain: what each sensor is out by, share of the reading, by measure.
        step_v: last digit [V].
        step_a: last digit [A].
        drift: seconds its clock gains in a second.
        gaps: from and to, seconds after the beginning, in which nothing is written.
        measures: what it logs.
    """

    every_s: float = 5.0
    noise_v: float = 0.01
    noise_a: float = 0.1
    gain: dict[Measured, float] = field(default_factory=dict)
    step_v: float = 0.01
    step_a: float = 0.1
    drift: float = 0.0
    gaps: tuple[tuple[float, float], ...] = ()
    measures: tuple[Measured, ...] = tuple(LOGGED)


@dataclass(frozen=True, slots=True)
class Truth:
    """What really happened: by the device's own clock.

    Attributes:
        events: what the unit did and when [s since 1970].
        lows: low phases, from and to.
        refused: where the pack refused the cold, from and to.
        exact: the columns without noise, at the rows of the log.
        charging: whether the unit charged at those rows.
    """

    events: tuple[tuple[float, What], ...]
    lows: tuple[tuple[float, float], ...]
    refused: tuple[tuple[float, float], ...]
    exact: dict[Measured, Floats]
    charging: NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Recorded:
    """The columns of a log, and what really happened."""

    time_s: Floats
    values: dict[Measured, Floats]
    truth: Truth


def driven(design: Design, stages: Sequence[Stage]) -> Iterator[tuple[float, Trial]]:
    """Drive the stages one after another in one vehicle: the beginning of each, and how it went.

    Args:
        design: the design.
        stages: in order.
    """
    solved, begun_s = solve(design), 0.0
    start, auxiliary = stages[0].programme.start_charge, stages[0].programme.auxiliary_charge
    for stage in stages:
        programme = replace(stage.programme, start_charge=start, auxiliary_charge=auxiliary)
        trial = _trial(design, solved, programme, stage.fault)
        trial.run()
        yield begun_s, trial
        begun_s += programme.duration_s
        start, auxiliary = trial.state.start_charge, trial.state.auxiliary_charge


def _trial(design: Design, solved: Solved, programme: Programme, fault: Spoilt) -> Trial:
    plant = spoilt_plant(Plant(design, solved), fault)
    settings = settings_of(design, solved)
    scale = solved.facts.scale
    rules = tuple(replace(rule, volts=rule.volts + fault.start_more_v * scale) for rule in settings.start_rules)
    return Trial(design, programme, replace(settings, start_rules=rules), solved=solved, plant=plant)


def recorded(
    design: Design, stages: Sequence[Stage], recorder: Recorder, begins_s: float, chance: np.random.Generator
) -> Recorded:
    """Record a vehicle through some stages.

    Args:
        design: the design.
        stages: in order.
        recorder: how the device records.
        begins_s: by the device's clock [s since 1970].
        chance: of noise.
    """
    samples: list[tuple[float, Sample]] = []
    events: list[tuple[float, What]] = []
    lows: list[tuple[float, float]] = []
    for begun_s, trial in driven(design, stages):
        samples += [(begun_s + sample.time_s, sample) for sample in trial.trip.samples]
        events += [(begun_s + event.time_s, event.what) for event in trial.trip.events]
        at_s = begun_s
        for stretch in trial.programme.stretches:
            if stretch.engine == "low":
                lows.append((at_s, at_s + stretch.duration_s))
            at_s += stretch.duration_s
    times = np.array([at for at, _ in samples])
    rows = np.arange(0.0, times[-1], recorder.every_s)
    for from_s, to_s in recorder.gaps:
        rows = rows[(rows < from_s) | (rows >= to_s)]
    exact = {name: _column(times, [item for _, item in samples], LOGGED[name], rows) for name in recorder.measures}
    exact = {name: 100 * column if name == "charge_percent" else column for name, column in exact.items()}
    at = np.clip(np.searchsorted(times, rows, side="right") - 1, 0, len(times) - 1)
    charging = np.array([item.state == "charging" for _, item in samples])[at]

    def shown(seconds: Floats | float) -> Floats | float:
        return begins_s + seconds * (1 + recorder.drift)

    refused = _refused(times, [item for _, item in samples])
    return Recorded(
        np.asarray(shown(rows)),
        {name: _sensed(name, column, recorder, chance) for name, column in exact.items()},
        Truth(
            tuple((float(shown(when)), what) for when, what in events),
            tuple((float(shown(from_s)), float(shown(to_s))) for from_s, to_s in lows),
            tuple((float(shown(from_s)), float(shown(to_s))) for from_s, to_s in refused),
            exact,
            charging,
        ),
    )


def _column(times: Floats, samples: Sequence[Sample], name: str, rows: Floats) -> Floats:
    """One quantity at the rows: along a straight line within a state, held up to the moment the state changes."""
    values = np.array([float(getattr(sample, name)) for sample in samples])
    held = np.array(
        [one.state != other.state or one.engine != other.engine for one, other in pairwise(samples)] + [True]
    )
    at = np.clip(np.searchsorted(times, rows, side="right") - 1, 0, len(times) - 1)
    following = np.minimum(at + 1, len(times) - 1)
    span = np.maximum(times[following] - times[at], 1e-9)
    share = np.where(held[at], 0.0, (rows - times[at]) / span)
    return np.asarray(values[at] + share * (values[following] - values[at]))


def _refused(times: Floats, samples: Sequence[Sample]) -> list[tuple[float, float]]:
    found: list[tuple[float, float]] = []
    for at, sample in enumerate(samples):
        now = sample.refused and sample.state == "charging" and sample.engine in ("idle", "cruise", "low")
        until = float(times[min(at + 1, len(samples) - 1)])
        if now and found and abs(found[-1][1] - times[at]) < 1:
            found[-1] = (found[-1][0], until)
        elif now:
            found.append((float(times[at]), until))
    return found


def _sensed(name: Measured, column: Floats, recorder: Recorder, chance: np.random.Generator) -> Floats:
    """What the device makes of it: gain, noise, last digit."""
    unit = MEASURES[name].unit
    noise, step = {
        "V": (recorder.noise_v, recorder.step_v),
        "A": (recorder.noise_a, recorder.step_a),
        "°C": (0.2, 1.0),
    }.get(unit, (0.0, 1.0))
    read = column * (1 + recorder.gain.get(name, 0.0)) + chance.normal(0.0, 1.0, len(column)) * noise
    return np.asarray(np.round(read / step) * step)


@dataclass(frozen=True, slots=True)
class Layout:
    """How a device writes its log.

    Attributes:
        delimiter: between cells.
        decimal: in numbers.
        moment: how dates and times are written.
        zone: of its clock.
        preamble: lines above the column names.
        milli: whether volts are written in millivolts.
        ending: of lines.
    """

    delimiter: str = ","
    decimal: str = "."
    moment: Literal["iso", "zulu", "dmy", "mdy_half", "epoch_s", "epoch_ms", "two_columns"] = "iso"
    zone: str = "UTC"
    preamble: tuple[str, ...] = ()
    milli: bool = False
    ending: str = "\n"


FORMS = {"iso": "%Y-%m-%d %H:%M:%S", "zulu": "%Y-%m-%dT%H:%M:%SZ", "dmy": "%d.%m.%Y %H:%M:%S"}
FORMS |= {"mdy_half": "%m/%d/%Y %I:%M:%S %p", "two_columns": "%d/%m/%Y"}


def written(log: Recorded, layout: Layout) -> str:
    """The file.

    Args:
        log: what was recorded.
        layout: how it is written.
    """
    split = layout.moment == "two_columns"
    names = [NAMES[name].replace("[V]", "[mV]") if layout.milli else NAMES[name] for name in log.values]
    header = [*(("Date", "Time") if split else ("Timestamp",)), *names]
    columns = [*_moments(log.time_s, layout)]
    for name, column in log.values.items():
        unit = MEASURES[name].unit
        if unit == "V" and layout.milli:
            columns.append(_cells(column * 1000, 0, "."))
        else:
            columns.append(_cells(column, {"V": 2, "A": 1}.get(unit, 0), layout.decimal))
    rows = map(layout.delimiter.join, zip(*columns, strict=True))
    return layout.ending.join([*layout.preamble, layout.delimiter.join(header), *rows]) + layout.ending


def _cells(column: Floats, digits: int, decimal: str) -> list[str]:
    """A device knows few values, a file has many: each is written out once."""
    values, places = np.unique(column + 0.0, return_inverse=True)  # no zero below zero
    written = f"%.{digits}f"
    cells = [(written % value).replace(".", decimal) for value in values.tolist()]
    return list(map(cells.__getitem__, places.tolist()))


def _moments(times: Floats, layout: Layout) -> Iterator[list[str]]:
    """A column of dates and times, or one of each."""
    if layout.moment in ("epoch_s", "epoch_ms"):
        yield _cells(times * (1000 if layout.moment == "epoch_ms" else 1), 0, ".")
        return
    zone = "UTC" if layout.moment == "zulu" else layout.zone
    shown = pl.from_epoch(pl.Series(np.round(times)).cast(pl.Int64)).dt.convert_time_zone(zone)
    yield shown.dt.strftime(FORMS[layout.moment]).to_list()
    if layout.moment == "two_columns":
        yield shown.dt.strftime("%H:%M:%S").to_list()
