"""The auxiliary bank: strings that do not match, its management system, heat."""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, caution, note, stop
from olvask.core.findings.remedy import remedy
from olvask.core.model import AuxiliaryBattery

UNEVEN_AH = 0.05  # capacity apart by more than this share is a mismatch; our own estimate
UNEVEN_YEARS = 2.0  # likewise
STRINGS = ("auxiliary.strings",)


def judge_bank(ctx: Context) -> Judged:
    """Findings on the bank's make-up, its management system and how warm it gets."""
    auxiliary = ctx.design.auxiliary
    if auxiliary.strings:
        yield from _judge_voltage(auxiliary)
        yield from _judge_match(auxiliary)
    yield from _judge_management(auxiliary)
    yield from _judge_heat(auxiliary)


def _judge_voltage(auxiliary: AuxiliaryBattery) -> Iterator[Found]:
    strings = auxiliary.strings
    volts = {string.string_v for string in strings}
    if volts != {float(auxiliary.nominal_v)}:
        listed = ", ".join(f"{string.series} × {string.block_v:g} V" for string in strings)
        made = " and ".join(f"{value:g} V" for value in sorted(volts))
        yield stop(
            "survey.bank_volts",
            "auxiliary",
            "The strings do not make the bank's voltage",
            f"{listed}: {made} against {auxiliary.nominal_v} V. Strings in parallel must each make the nominal voltage.",
            concerns=(*STRINGS, "auxiliary.nominal_v"),
        )
    total_ah = sum(string.capacity_ah for string in strings)
    if abs(total_ah - auxiliary.capacity_ah) > 0.005 * total_ah:
        made = (
            f"One string has {total_ah:g} Ah"
            if len(strings) == 1
            else f"{len(strings)} strings in parallel add up to {total_ah:g} Ah"
        )
        yield caution(
            "survey.bank_capacity",
            "auxiliary",
            "Capacity differs from the strings'",
            f"{made}, {auxiliary.capacity_ah:g} Ah is entered.",
            [remedy(f"Take {total_ah:g} Ah", ("auxiliary.capacity_ah", total_ah))],
            concerns=(*STRINGS, "auxiliary.capacity_ah"),
        )


def _judge_match(auxiliary: AuxiliaryBattery) -> Iterator[Found]:
    strings = auxiliary.strings
    kinds = {string.chemistry or auxiliary.chemistry for string in strings}
    if kinds != {auxiliary.chemistry}:
        names = ", ".join(sorted(chemistries()[kind].label for kind in kinds))
        yield stop(
            "survey.bank_mixed",
            "auxiliary",
            "Chemistries are mixed in one bank",
            f"{names}, bank charged as {chemistries()[auxiliary.chemistry].label}. No one profile suits them; one overcharges "
            "or starves the other.",
            concerns=STRINGS,
        )
    sizes = [string.capacity_ah for string in strings]
    ages = [string.age_years for string in strings if string.age_years is not None]
    uneven = (max(sizes) - min(sizes)) / max(sizes) > UNEVEN_AH
    aged = len(ages) > 1 and max(ages) - min(ages) > UNEVEN_YEARS
    if uneven or aged:
        what = f"{min(sizes):g} to {max(sizes):g} Ah" if uneven else f"{min(ages):g} to {max(ages):g} years old"
        yield caution(
            "survey.bank_uneven",
            "auxiliary",
            "The strings do not match",
            f"{what} in parallel: the stronger string carries more than its share, and circulating current flows at rest.",
            concerns=STRINGS,
        )
    if auxiliary.chemistry == "lfp" and any(string.series > 1 and string.block_v >= 12 for string in strings):
        yield caution(
            "survey.bank_series",
            "auxiliary",
            "Lithium blocks in series drift apart",
            "Each block's own management knows nothing of its neighbour: charge each full before joining, and fit a balancer "
            "if the maker allows series use at all.",
            concerns=STRINGS,
        )


def _judge_management(auxiliary: AuxiliaryBattery) -> Iterator[Found]:
    management = auxiliary.management
    if management is None and auxiliary.chemistry == "lfp" and auxiliary.strings:
        yield caution(
            "survey.no_management",
            "auxiliary",
            "No management system is entered for a lithium bank",
            "Its limits decide what may charge it; read them off the sheet.",
            concerns=("auxiliary.management",),
        )
    if management is not None and management.needs_waking:
        yield note(
            "survey.needs_waking",
            "auxiliary",
            "The pack sleeps when it is empty",
            "It shows no volts then, and many sources will not start into it. Plan a limited source that wakes it.",
            concerns=("auxiliary.management.needs_waking",),
        )


def _judge_heat(auxiliary: AuxiliaryBattery) -> Iterator[Found]:
    chemistry, warm_c = chemistries()[auxiliary.chemistry], auxiliary.temperature_max_c
    most_c = chemistry.charge_max_c if auxiliary.charge_max_c is None else auxiliary.charge_max_c
    if warm_c is not None and warm_c > most_c:
        yield caution(
            "survey.warm",
            "auxiliary",
            "Too warm to charge",
            f"Up to {warm_c:.0f} °C there; {chemistry.label} is charged up to {most_c:.0f} °C unless its maker "
            "says otherwise.",
            concerns=("auxiliary.temperature_max_c",),
        )
