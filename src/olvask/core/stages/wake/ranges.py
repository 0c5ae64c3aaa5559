"""What the unit can be set to: how many rules, which volts in which steps, how long a hold.

- `judge_ranges`: entries the unit cannot take.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import Activation, Charger, Design
from olvask.core.model.charger import VoltRange
from olvask.core.physics.rounding import over, under
from olvask.core.stages.wake.remedies import BACK_PATH, GUARD_PATH


class _Entry(NamedTuple):
    """One setting: what it is called, where it stands, what is in force, entered, fixed in the unit, and its record."""

    key: str
    words: str
    path: str
    volts: float
    entered: float | None
    fixed: float | None
    record: VoltRange
    first: bool = True


def judge_ranges(ctx: Context) -> Judged:
    """Findings on rules, volts and holds the unit cannot be set to."""
    unit = ctx.design.charger
    if unit is None or ctx.solved.output is None:
        return
    by_volts = "voltage" in ctx.design.activation.ways
    if by_volts:  # else no start or stop rule acts
        yield from _judge_holds(ctx.design.activation, unit)
        yield from _judge_rows(ctx.design, unit)
    for entry in _entries(ctx, unit, by_volts):
        if entry.record.settable:
            yield from _judge_settable(unit, entry)
        elif entry.first:
            yield from _judge_fixed(unit, entry)
    known = unit.start_rules.fixed_v is not None and unit.stop_rules.fixed_v is not None
    if by_volts and not unit.adjustable and not known:
        yield caution(
            "wake.thresholds_unknown",
            "charger",
            "This unit's start and stop are not on the shelf",
            f"{unit.name} detects the running engine by volts of its own, and its record does not say which. Enter start and "
            "stop from its manual; until then they are only guessed here.",
            concerns=("activation.start_rules.0.at_least_v", "activation.stop_rules.0.below_v"),
        )


def _entries(ctx: Context, unit: Charger, by_volts: bool) -> Iterator[_Entry]:
    at, chosen = ctx.thresholds, ctx.design.activation
    guard, off_v = unit.guard, chosen.guard.off_below_v
    fixed_off = guard.fixed_off_v or (unit.input_min_v if not guard.settable else None)
    yield _Entry("guard", "battery guard", GUARD_PATH, at.guard_v, off_v, fixed_off, guard)
    if by_volts:
        for row, (rule, start) in enumerate(zip(at.start_rules, chosen.start_rules, strict=True)):
            path, words = f"activation.start_rules.{row}.at_least_v", "start" if row == 0 else f"start {row + 1}"
            key, fixed = f"start.{row}", unit.start_rules.fixed
            yield _Entry(key, words, path, rule.volts, start.at_least_v, fixed, unit.start_rules, row == 0)
        for row, (rule, halt) in enumerate(zip(at.stop_rules, chosen.stop_rules, strict=True)):
            path, words = f"activation.stop_rules.{row}.below_v", "stop" if row == 0 else f"stop {row + 1}"
            key, fixed = f"stop.{row}", unit.stop_rules.fixed
            yield _Entry(key, words, path, rule.volts, halt.below_v, fixed, unit.stop_rules, row == 0)
    back_v = chosen.guard.back_at_v
    if back_v is not None:
        yield _Entry("back", "guard's return", BACK_PATH, at.back_v, back_v, guard.fixed_back, guard)


def _judge_settable(unit: Charger, entry: _Entry) -> Iterator[Found]:
    record = entry.record
    if record.from_v is None or record.to_v is None:
        return
    if under(entry.volts, record.from_v) or over(entry.volts, record.to_v):
        yield stop(
            f"wake.range.{entry.key}",
            "charger",
            f"The unit cannot be set to this {entry.words}",
            f"{entry.volts:.2f} V; {unit.name} takes {record.from_v:.1f} to {record.to_v:.1f} V.",
            [remedy(f"Propose the {entry.words}", (entry.path, None))] if entry.first else (),
            (entry.path,),
        )
    elif record.step_v is not None and entry.volts not in (record.from_v, record.to_v):
        settable_v = round(round(entry.volts / record.step_v) * record.step_v, 4)
        if abs(settable_v - entry.volts) >= 1e-6:
            yield caution(
                f"wake.step.{entry.key}",
                "charger",
                f"The unit has no step at this {entry.words}",
                f"{entry.volts:.3f} V lies between two steps; {unit.name} is set in steps of {record.step_v:g} V.",
                [remedy(f"Set it to {settable_v:.2f} V", (entry.path, settable_v))],
                (entry.path,),
            )


def _judge_fixed(unit: Charger, entry: _Entry) -> Iterator[Found]:
    """A setting nobody can change: what is entered has to be what the unit has."""
    if entry.entered is None or (entry.fixed is not None and abs(entry.entered - entry.fixed) <= 1e-6):
        return
    at = f", it is fixed at {entry.fixed:.2f} V." if entry.fixed is not None else "."
    yield stop(
        f"wake.range.{entry.key}",
        "charger",
        f"The unit cannot be set to this {entry.words}",
        f"{entry.entered:.2f} V; {unit.name} has no {entry.words} to set{at}",
        [remedy(f"Leave the {entry.words} to the unit", (entry.path, None))],
        (entry.path,),
    )


def _judge_rows(design: Design, unit: Charger) -> Iterator[Found]:
    """More rules than the unit takes."""
    chosen = design.activation
    rows = (
        ("start", "activation.start_rules", chosen.start_rules, unit.start_rules.rows),
        ("stop", "activation.stop_rules", chosen.stop_rules, unit.stop_rules.rows),
    )
    for word, path, rules, most in rows:
        if len(rules) > most:
            value = [rule.model_dump(mode="json") for rule in rules[:most]]
            first = "the first" if most == 1 else f"the first {most}"
            yield stop(
                f"wake.rules.{word}",
                "charger",
                f"The unit takes fewer {word} rules",
                f"{len(rules)} are set; {unit.name} takes {most}.",
                [remedy(f"Keep {first}", (path, value))],
                tuple(
                    f"{path}.{row}.{'at_least_v' if word == 'start' else 'below_v'}" for row in range(most, len(rules))
                ),
            )


def _judge_holds(chosen: Activation, unit: Charger) -> Iterator[Found]:
    """Holds against what the unit's manual says it can be set to."""
    rows: tuple[tuple[str, list[float], float | None], ...] = (
        ("start", [rule.held_s for rule in chosen.start_rules], unit.start_rules.held_most_s),
        ("stop", [rule.held_s for rule in chosen.stop_rules], unit.stop_rules.held_most_s),
    )
    for word, holds_s, most_s in rows:
        for row, held_s in enumerate(holds_s):
            if most_s is None or held_s <= most_s:
                continue
            path = f"activation.{word}_rules.{row}.held_s"
            yield stop(
                f"wake.range.{word}.{row}.held",
                "charger",
                f"The unit cannot hold its {word} that long",
                f"{held_s:g} s; {unit.name} takes up to {most_s:g} s.",
                [remedy(f"Hold the {word} for {most_s:g} s", (path, most_s))],
                (path,),
            )
