"""The sheet: what to key into the unit, in which order, what to leave, what to read back, what a reset would lose.

- `Sheet`, `SheetLine`: as it is told.
- `planned`, `planned_charge`: the way through the unit's menu, and what acts after it.
- `sheet_of`: the sheet of the unit, or of another device of a design.
- `devices_of`: which those are.
"""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field

from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import Facts
from olvask.core.circuit.thresholds import Thresholds
from olvask.core.findings.said import Said
from olvask.core.model import AuxiliaryBattery, ChargeSettings, Design
from olvask.core.model.settings import Setting, SettingsRecord, Value
from olvask.core.stages.settings.consequence import consequence
from olvask.core.stages.settings.generic import menu_of
from olvask.core.stages.settings.menu import UNKNOWN, Menu, Step
from olvask.core.stages.settings.monitor import monitor_wanted
from olvask.core.stages.settings.plan import Plan, plan
from olvask.core.stages.settings.sources import record_of
from olvask.core.stages.settings.unlisted import unlisted, unsaid
from olvask.core.stages.settings.wishes import Scales, Wanted, charge_wanted, read, scales_of, wanted_of, wishes_for


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetLine:
    """One thing to do at the unit."""

    key: Annotated[str, Field(description="identity of its ticks")]
    line: str
    do: Literal["key", "save", "power"]
    label: str
    value: str
    was: str
    why: str
    shows: Annotated[tuple[str, ...], Field(description="lines that appear by it")]
    hints: tuple[str, ...]
    consequence: str
    last: Annotated[bool, Field(description="whether this is the line's final value, to be read back")]


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftLine:
    """A line that is not touched, and why."""

    line: str
    label: str
    value: str
    why: str


class Sheet(Said):
    """What to do at the unit."""

    text: str
    enter: str
    save: str
    generic: bool = Field(description="the unit has no settings record: only what its ranges say")
    lines: tuple[SheetLine, ...]
    leave: tuple[LeftLine, ...]
    absent: tuple[LeftLine, ...] = Field(description="lines that do not act as it is set up here")
    misses: tuple[str, ...] = Field(description="what the unit cannot be set to, with what follows")
    reset_loses: tuple[str, ...]
    remote_keeps: str
    acting: dict[str, str] = Field(description="value each line acts by when all is done")


@dataclass(frozen=True, slots=True)
class Planned:
    """A device's menu, what is wanted of it, the way to it; `place` is empty for the unit."""

    place: str
    record: SettingsRecord
    wanted: Mapping[str, Wanted]
    scales: Scales
    way: Plan

    def acting(self, meaning: str) -> float | str | None:
        """What the n-th line of a meaning (`start_v`, `start_v.2`) comes to, in the design's own unit."""
        name, _, number = meaning.partition(".")
        lines = [line for line in self.record.lines if line.means == name and line.kind != "action"]
        at = int(number or 1) - 1
        if at >= len(lines):
            return None
        value = self.way.acting.get(lines[at].id)
        return None if value is None or value == UNKNOWN else read(lines[at], value, self.scales)


def planned(design: Design, facts: Facts, at: Thresholds) -> Planned | None:
    """The way through the unit's menu; `None` without a unit.

    Args:
        design: the design.
        facts: its survey values.
        at: its thresholds in force.
    """
    return _planned(design, wanted_of(design, facts, at))


def planned_charge(design: Design, facts: Facts) -> Planned | None:
    """The same for the charge alone, without start, stop and limit: what changes seldom.

    Args:
        design: the design.
        facts: its survey values.
    """
    return _planned(design, dict(charge_wanted(design, facts)))


def _planned(design: Design, wanted: dict[str, Wanted]) -> Planned | None:
    if design.charger is None:
        return None
    return _through("", menu_of(design.charger), wanted, scales_of(design), design.auxiliary)


def _through(
    place: str, record: SettingsRecord, wanted: dict[str, Wanted], scales: Scales, battery: AuxiliaryBattery
) -> Planned:
    if "equalise_v" not in wanted and record.meaning("equalise_v") and not record.meaning("equalise"):
        wanted["equalise_v"] = Wanted(wanted["absorption_v"].value, "it cannot be switched off: the same as absorption")
    return Planned(place, record, wanted, scales, _way(record, tuple(wanted.items()), scales, battery))


def planned_device(ctx: Context, place: str) -> Planned | None:
    """The way through the menu of another device; `None` where it is not there or has no record.

    Args:
        ctx: the design.
        place: `existing.e1`, `solar` or `monitor`; empty for the unit.
    """
    if place == "":
        return planned_of(ctx)
    design, facts = ctx.design, ctx.facts
    scales = Scales(design.auxiliary.nominal_v / 12, design.auxiliary.nominal_v / 12, 1.0, design.auxiliary.capacity_ah)
    record = record_of(design, place)
    if record is None or not any(place == name for name, _ in devices_of(design)):
        return None
    if place == "monitor":
        return _through(place, record, monitor_wanted(ctx), scales, design.auxiliary)
    own = design.model_copy(update={"charge": ChargeSettings()})
    return _through(place, record, charge_wanted(own, facts), scales, design.auxiliary)


def devices_of(design: Design) -> list[tuple[str, str]]:
    """Devices with a menu on the sheet, besides the unit: their place and name."""
    found = [(f"existing.{item.id}", item.called) for item in design.still_fed if item.stages.settings is not None]
    if design.solar.stages.settings is not None and design.solar.panel_w is not None:
        found.append(("solar", "solar controller"))
    if design.monitor.unit is not None and design.monitor.unit.settings is not None:
        found.append(("monitor", design.monitor.unit.name or "battery monitor"))
    return found


@lru_cache(maxsize=128)
def _way(
    record: SettingsRecord, wanted: tuple[tuple[str, Wanted], ...], scales: Scales, battery: AuxiliaryBattery
) -> Plan:
    return plan(record, wishes_for(record.lines, dict(wanted), scales, battery))


def shown(line: Setting, value: Value | None) -> str:
    """A line's value as it stands on the device, with its unit."""
    if value is None or value == UNKNOWN:
        return "not known"
    if line.kind != "number":
        return str(value)
    if line.steps:
        return f"{float(value):g} {line.unit}".strip()
    digits = min(3, len(f"{line.step or 0.01:.6f}".rstrip("0").partition(".")[2]))
    return f"{float(value):.{digits}f} {line.unit}".strip()


def _meaning_keys(record: SettingsRecord) -> dict[str, str]:
    """The wanted key (`start_v.2`) of each line."""
    seen: dict[str, int] = {}
    found = {}
    for line in record.lines:
        seen[line.means] = seen.get(line.means, 0) + 1
        found[line.id] = line.means if seen[line.means] == 1 else f"{line.means}.{seen[line.means]}"
    return found


def sheet_of(ctx: Context, place: str = "") -> Sheet | None:
    """The sheet of a device; `None` where there is none, or its menu is not known.

    Args:
        ctx: the design.
        place: of the device; empty for the unit.
    """
    return ctx.once(f"settings.sheet.{place}", lambda: _sheet_of(ctx, planned_device(ctx, place)))


def lines_of(ctx: Context, place: str = "") -> int:
    """How many lines the sheet of a device has; 0 where it has none."""
    sheet = sheet_of(ctx, place)
    return 0 if sheet is None else len(sheet.lines)


def planned_of(ctx: Context) -> Planned | None:
    """The way through the unit's menu, worked out once."""
    return ctx.once("settings.planned", lambda: planned(ctx.design, ctx.facts, ctx.thresholds))


def _sheet_of(ctx: Context, found: Planned | None) -> Sheet | None:
    if found is None:
        return None
    unit = ctx.design.charger
    record, steps = found.record, found.way.steps
    menus, keys = _walked(record, steps), _meaning_keys(record)
    lines = tuple(_line(ctx, found, at, menus, keys) for at in range(len(steps)))
    keyed = dict.fromkeys(step.line for step in steps if step.do == "key")
    loses = tuple(dict.fromkeys(record.line(id).label for id in keyed if record.line(id).lost_at_reset))
    without = [record.line(id).label for id in keyed if not record.line(id).kept_without_remote]
    leave, absent = _left(ctx, found, keyed, menus[-1])
    total = len([line for line in record.lines if line.kind != "action" and not line.hidden])
    misses = tuple(item.consequence for item in lines if item.consequence)
    misses += _fixed_misses(ctx, found, keyed)
    if found.place == "":
        misses += tuple(f"No line for {item.text}." for item in (*unlisted(ctx.design), *unsaid(ctx)))
    return Sheet(
        text=f"{len(keyed)} of {total} lines to key" if total else "Nothing in it can be set.",
        enter=record.enter,
        save=record.save,
        generic=found.place == "" and unit is not None and unit.settings is None,
        lines=lines,
        leave=leave,
        absent=absent,
        misses=misses,
        reset_loses=loses,
        remote_keeps=f"Without its remote it loses {', '.join(without)}."
        if without
        else "Without its remote it keeps them.",
        acting={id: shown(record.line(id), value) for id, value in found.way.acting.items()},
    )


def _line(ctx: Context, found: Planned, at: int, menus: Sequence[Menu], keys: Mapping[str, str]) -> SheetLine:
    """One step as the sheet tells it; `menus` as they stand before each, `keys` by which each line is wanted."""
    record, steps = found.record, found.way.steps
    step = steps[at]
    earlier = sum(1 for item in steps[:at] if (item.do, item.line) == (step.do, step.line))
    later = any(item.do == "key" and item.line == step.line for item in steps[at + 1 :])
    key = f"{step.line or step.do}{f'@{earlier + 1}' if earlier else ''}"
    key = f"{found.place}:{key}" if found.place else key
    if step.do != "key":
        label = "Save" if step.do == "save" else "Switch off and on"
        why = record.save or "or all is lost on leaving" if step.do == "save" else "some of it is read only then"
        return SheetLine(
            key=key,
            line="",
            do=step.do,
            label=label,
            value="",
            was="",
            why=why,
            shows=(),
            hints=(),
            consequence="",
            last=True,
        )
    line = record.line(step.line)
    before, after = menus[at], menus[at + 1]
    wanted = found.wanted.get(keys[line.id])
    shows = tuple(item.label for item in record.lines if after.visible(item) and not before.visible(item))
    why = wanted.why if wanted is not None and not later else ""
    if wanted is not None and line.means == "battery_type" and read(line, step.value, found.scales) != wanted.value:
        why = "its volts come nearest"
    if later:
        why = "for the time being; set back further down"
    elif not why and shows:
        why = "shows what follows"
    elif not why:
        why = "brings the rest with it"
    missed = "" if later or wanted is None else consequence(ctx, line, wanted, read(line, step.value, found.scales))
    return SheetLine(
        key=key,
        line=line.id,
        do="key",
        label=line.label,
        value=shown(line, step.value),
        was=shown(line, before.shown[line.id]),
        why=why,
        shows=shows,
        hints=_hints(line),
        consequence=missed,
        last=not later,
    )


def _walked(record: SettingsRecord, steps: tuple[Step, ...]) -> list[Menu]:
    """The menu as it stands before the first step, and after each."""
    menus = [Menu(record)]
    for step in steps:
        menu = menus[-1].copy()
        if step.do == "key":
            menu.key(step.line, step.value)
        elif step.do == "save":
            menu.save()
        else:
            menu.power()
        menus.append(menu)
    return menus


def _hints(line: Setting) -> tuple[str, ...]:
    """What to mind about a line."""
    told = [
        (line.note != "", line.note),
        (line.latches, "A signal seen before may have changed it: look, whatever the factory value."),
        (line.restarts, "The unit starts anew."),
        (line.at_power_up, "It acts only once the unit is switched off and on."),
        (line.per_block, "Counted per 12 V block."),
        (line.kind == "coded", "A switch or jumper: set it with the unit dead."),
    ]
    return tuple(text for holds, text in told if holds)


def _left(
    ctx: Context, found: Planned, keyed: Container[str], menu: Menu
) -> tuple[tuple[LeftLine, ...], tuple[LeftLine, ...]]:
    """Lines left as they are, and lines that do not act here."""
    record, keys = found.record, _meaning_keys(found.record)
    leave, absent = [], []
    for line in record.lines:
        if line.id in keyed or line.kind == "action" or line.hidden:
            continue
        value = shown(line, found.way.acting.get(line.id))
        idle = _idle(ctx, line, keys[line.id], found.wanted)
        if idle:
            absent.append(LeftLine(line=line.id, label=line.label, value="", why=idle))
        elif not menu.visible(line):
            above = record.line(line.shown_line).label
            why = f"not shown under this {above.lower()}" + (", acts as it is" if line.acts_hidden else "")
            absent.append(LeftLine(line=line.id, label=line.label, value=value, why=why))
        else:
            wanted = keys[line.id] in found.wanted
            why = "already as wanted" if wanted else "as you like it"
            leave.append(LeftLine(line=line.id, label=line.label, value=value, why=why))
    return tuple(leave), tuple(absent)


def _idle(ctx: Context, line: Setting, key: str, wanted: Mapping[str, Wanted]) -> str:
    """Why a line does nothing as the unit is set up here; empty where it acts."""
    if line.means in ("start_v", "start_held_s", "stop_v", "stop_held_s") and key not in wanted:
        if "voltage" not in ctx.design.activation.ways:
            return "does nothing here: the signal decides alone"
        return "one rule fewer is used"
    if line.means in ("equalise_v", "equalise_days") and not ctx.design.charge.equalise and key not in wanted:
        return "equalising is off"
    if line.means == "float_v" and ctx.design.charge.after in ("rest", "pulses"):
        return "it rests after absorption"
    return ""


def _fixed_misses(ctx: Context, found: Planned, keyed: Container[str]) -> tuple[str, ...]:
    """What acts other than wanted without being keyed: fixed, or out of reach as the menu is built."""
    told = []
    keys = _meaning_keys(found.record)
    for line in found.record.lines:
        wanted, value = found.wanted.get(keys[line.id]), found.way.acting.get(line.id)
        if line.id in keyed or wanted is None or value is None or value == UNKNOWN or line.kind == "action":
            continue
        if _idle(ctx, line, keys[line.id], found.wanted):
            continue
        text = consequence(ctx, line, wanted, read(line, value, found.scales))
        if text:
            told.append(text)
    return tuple(told)


def unknown_lines(found: Planned) -> list[Setting]:
    """Lines that are wanted, yet nobody knows what they act by: not shown, not keyed, factory value not written down."""
    keys = _meaning_keys(found.record)
    return [
        line
        for line in found.record.lines
        if keys[line.id] in found.wanted and found.way.acting.get(line.id) == UNKNOWN
    ]
