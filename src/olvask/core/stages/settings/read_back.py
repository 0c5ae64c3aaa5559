"""What was keyed and read back at the unit, against what the sheet says now.

- `judge_read_back`: values read otherwise, lines keyed to what the sheet no longer says, lines the unit cannot be set to.
- `same_value`: whether a value read back is the one on the sheet.
- `named_lines`: what each line of each menu is called.
"""

from __future__ import annotations

import re

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution, stop
from olvask.core.model import Design
from olvask.core.stages.settings.sheet import devices_of, planned_device, sheet_of
from olvask.core.stages.settings.sources import record_of

NUMBER = re.compile(r"^\s*([-+]?\d+(?:[.,]\d+)?)\s*(.*?)\s*$")
# What reads otherwise and can overcharge, drain or not charge at all is a stop.
GRAVE = (
    "absorption_v",
    "float_v",
    "equalise",
    "equalise_v",
    "battery_type",
    "stop_v",
    "guard_v",
    "role",
    "detection",
    "cold_c",
)


def same_value(seen: str, wanted: str) -> bool:
    """Whether a value read back is the one wanted: numbers by their worth, a missing unit allowed, words but for case.

    Args:
        seen: as read and typed.
        wanted: as on the sheet.
    """
    read, sheet = NUMBER.match(seen), NUMBER.match(wanted)
    if read is None or sheet is None:
        return seen.strip().casefold() == wanted.strip().casefold()
    units_fit = read[2] == "" or read[2].casefold() == sheet[2].casefold()
    return units_fit and abs(float(read[1].replace(",", ".")) - float(sheet[1].replace(",", "."))) < 1e-6


def named_lines(design: Design) -> dict[str, str]:
    """What each line of each menu is called, by the key it is ticked under; those of other devices with the device's name.

    Args:
        design: the design.
    """
    places = [("", ""), *((f"{place}:", f"{name}, ") for place, name in devices_of(design))]
    records = [(key, of, record_of(design, key.removesuffix(":"))) for key, of in places]
    return {
        f"{key}{line.id}": f"{of}{line.label}"
        for key, of, record in records
        if record is not None
        for line in record.lines
    }


def judge_read_back(ctx: Context) -> Judged:
    """Findings on lines read otherwise, and on lines keyed before the sheet changed."""
    places = {done.line.partition(":")[0] if ":" in done.line else "" for done in ctx.design.keyed}
    sheets = {place: sheet_of(ctx, place) for place in sorted(places)}
    lines = {line.key: (place, line) for place, sheet in sheets.items() if sheet is not None for line in sheet.lines}
    names = named_lines(ctx.design) if ctx.design.keyed else {}
    for done in ctx.design.keyed:
        place, line = lines.get(done.line, ("", None))
        name = names.get(done.line.partition("@")[0], "a line of another menu")
        name = f"{name[:1].upper()}{name[1:]}"
        if line is None:
            if done.keyed:
                yield caution(
                    f"settings.keyed.{done.line}",
                    "charger",
                    "A line was keyed that the sheet no longer has",
                    f"{name} was keyed to {done.value or 'another value'}; as the design stands now it is left as it came. Set "
                    "it back.",
                    concerns=("keyed",),
                )
            continue
        if line.do != "key":
            continue
        if done.seen and line.last and not same_value(done.seen, line.value):
            found = planned_device(ctx, place)
            said = stop if found is not None and found.record.line(line.line).means in GRAVE else caution
            yield said(
                f"settings.read_back.{done.line}",
                "charger",
                f"{name} reads otherwise",
                f"The sheet says {line.value}; it shows {done.seen}. Key it again, save it, and read it back.",
                concerns=("keyed",),
            )
        elif done.keyed and done.value and not same_value(done.value, line.value):
            yield caution(
                f"settings.keyed.{done.line}",
                "charger",
                f"{name} was keyed before the sheet changed",
                f"Keyed to {done.value}; the sheet now says {line.value}. Key it again.",
                concerns=("keyed",),
            )
