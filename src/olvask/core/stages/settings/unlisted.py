"""What is wanted of a unit and its menu has no line for.

A charge value it has no line for cannot be keyed, so it does not act. Volts and current that it can be set to, by its own
ranges, can be keyed; only the sheet cannot say where.

- `unlisted`: charge values.
- `unsaid`: volts and current.
- `charge_acting`: the charge as chosen, less what a menu on record has no line for.
- `judge_unlisted`: findings on them.
"""

from __future__ import annotations

from collections import Counter
from typing import Any, NamedTuple

from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import caution, note
from olvask.core.findings.listed import capital
from olvask.core.findings.remedy import remedy
from olvask.core.model import Design
from olvask.core.model.charging import ABSORBED_BY, AFTER, ChargeStages
from olvask.core.model.settings import MEANINGS, WRITTEN, Meaning
from olvask.core.stages.settings.generic import menu_of

CHOSEN: tuple[Meaning, ...] = (
    "absorption_v", "absorption_h", "absorbed_by", "tail_a", "after", "float_v", "rebulk_v", "bulk_h", "equalise",
    "equalise_v", "compensation_mv_per_k", "cold_c", "hot_c",
)  # fmt: skip
WORDS = ABSORBED_BY | AFTER


class Unlisted(NamedTuple):
    """A value of the charge that is chosen and has no line: its meaning, and it as a sentence names it."""

    means: Meaning
    text: str


def unlisted(design: Design) -> tuple[Unlisted, ...]:
    """Values of the charge that are chosen and for which the unit's menu, or what its ranges come to, has no line."""
    unit, charge = design.charger, design.charge
    chosen = [means for means in CHOSEN if (value := getattr(charge, means)) is not None and value is not False]
    if not chosen or unit is None or unit.kind != "charger":
        return ()
    has = {line.means for line in menu_of(unit).lines}
    chosen = [means for means in chosen if means not in has]
    if not charge.equalise or "equalise" in chosen:
        chosen = [means for means in chosen if means != "equalise_v"]
    return tuple(Unlisted(means, _words(means, getattr(charge, means))) for means in chosen)


def unsaid(ctx: Context) -> tuple[Unlisted, ...]:
    """What a unit with a menu on record can be set to by its ranges, and for which that menu has no line."""
    unit, design, at = ctx.design.charger, ctx.design, ctx.thresholds
    if unit is None or unit.settings is None:
        return ()
    by_volts = "voltage" in design.activation.ways
    wanted: list[tuple[Meaning, list[float]]] = [
        ("start_v", [rule.volts for rule in at.start_rules] if by_volts and unit.start_rules.settable else []),
        ("stop_v", [rule.volts for rule in at.stop_rules] if by_volts and unit.stop_rules.settable else []),
        ("guard_v", [at.guard_v] if unit.guard.settable else []),
        ("back_v", [at.back_v] if unit.guard.settable else []),
    ]
    limit_a = design.current_limit_a
    if limit_a is not None and limit_a < unit.output_a and unit.current_limit != "none":
        wanted.append(("current_limit_a", [limit_a]))
    lines = Counter(line.means for line in unit.settings.lines)
    return tuple(Unlisted(means, _words(means, value)) for means, values in wanted for value in values[lines[means] :])


def _words(means: Meaning, value: float | str | bool) -> str:
    if means == "equalise":
        return "equalising"
    if isinstance(value, str):
        return f"{MEANINGS[means]}: {WORDS[value]}"  # type: ignore[index]  # the two tables have every such word
    unit = next(unit for unit, factor in WRITTEN[means].items() if factor == 1.0)
    return f"{MEANINGS[means]} {value:.2f} V" if unit == "V" else f"{MEANINGS[means]} {value:g} {unit}"


def charge_acting(design: Design) -> dict[str, Any]:
    """The charge as chosen; what a menu on record has no line for is as if it were not."""
    unit, chosen = design.charger, dict(design.charge)
    if unit is not None and unit.settings is not None:
        for item in unlisted(design):
            chosen[item.means] = ChargeStages.model_fields[item.means].default
    return chosen


def judge_unlisted(ctx: Context) -> Judged:
    """What the unit cannot be set to for want of a line; one note of all that is not on record; what the sheet leaves out."""
    unit, found = ctx.design.charger, unsaid(ctx)
    if found and unit is not None:
        names = ", ".join(item.text for item in found)
        yield caution(
            "settings.unsaid",
            "charger",
            "The sheet cannot say where to key this",
            f"{capital(names)}: by its ranges {unit.name} can be set so, and its menu on the shelf has no line for it. "
            "Find it in its manual, and note it on the shelf.",
            concerns=("charger",),
        )
    yield from _judge_charge(ctx)


def _judge_charge(ctx: Context) -> Judged:
    found, unit = unlisted(ctx.design), ctx.design.charger
    if not found or unit is None:
        return
    if unit.settings is None:
        frost = ctx.design.auxiliary.chemistry == "lfp" and not ctx.design.auxiliary.low_temperature_cut_off
        found = tuple([item for item in found if not (frost and item.means == "cold_c")])  # `frost` speaks of that
        if not found:
            return
        names = ", ".join(item.text for item in found)
        yield note(
            "settings.unlisted",
            "charger",
            "Not on record whether the unit can be set to this",
            f"{capital(names)}. Its menu is not on the shelf: look it up, and key it where it can be.",
            concerns=("charger", *(f"charge.{item.means}" for item in found)),
        )
        return
    for item in found:
        path = f"charge.{item.means}"
        yield caution(
            f"settings.unlisted.{item.means}",
            "charger",
            f"The unit has no setting “{MEANINGS[item.means]}”",
            f"Its menu has no such line, so what is chosen changes nothing: {item.text}. Take another unit, or leave it to the unit.",
            [remedy("Leave it to the unit", (path, ChargeStages.model_fields[item.means].default))],
            concerns=("charger", path),
        )
