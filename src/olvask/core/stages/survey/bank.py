"""The auxiliary bank: strings that do not match, a management system against the profile, cold and heat."""

from __future__ import annotations

from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved
from olvask.core.findings.collector import Ledger, way_out
from olvask.core.model import Design

UNEVEN_AH = 0.05  # capacity apart by more than this share is a mismatch
UNEVEN_YEARS = 2.0


def judge_bank(design: Design, solved: Solved, ledger: Ledger) -> None:
    """Findings on the bank's make-up, its management system and its temperatures."""
    _judge_strings(design, ledger)
    _judge_management(design, solved, ledger)
    _judge_temperature(design, ledger)


def _judge_strings(design: Design, ledger: Ledger) -> None:
    auxiliary, strings = design.auxiliary, design.auxiliary.strings
    if not strings:
        return
    volts = {string.string_v for string in strings}
    if volts != {float(auxiliary.nominal_v)}:
        listed = ", ".join(f"{string.series} × {string.block_v:g} V" for string in strings)
        ledger.finding(
            "survey.bank_volts",
            "stop",
            "survey",
            "auxiliary",
            "The strings do not make the bank's voltage",
            f"{listed}: {' and '.join(f'{value:g} V' for value in sorted(volts))} against {auxiliary.nominal_v} V. "
            "Strings in parallel must each make the nominal voltage.",
        )
    kinds = {string.chemistry or auxiliary.chemistry for string in strings}
    if len(kinds) > 1 or kinds != {auxiliary.chemistry}:
        names = ", ".join(sorted(chemistries()[kind].label for kind in kinds))
        ledger.finding(
            "survey.bank_mixed",
            "stop",
            "survey",
            "auxiliary",
            "Chemistries are mixed in one bank",
            f"{names}, bank charged as {chemistries()[auxiliary.chemistry].label}. No one profile suits them; one overcharges or starves the other.",
        )
    total_ah = sum(string.capacity_ah for string in strings)
    if abs(total_ah - auxiliary.capacity_ah) > 0.005 * total_ah:
        ledger.finding(
            "survey.bank_capacity",
            "caution",
            "survey",
            "auxiliary",
            "Capacity differs from the strings'",
            f"{len(strings)} in parallel add up to {total_ah:g} Ah, {auxiliary.capacity_ah:g} Ah is entered.",
            [way_out(f"Take {total_ah:g} Ah", ("auxiliary.capacity_ah", total_ah))],
        )
    sizes = [string.capacity_ah for string in strings]
    ages = [string.age_years for string in strings if string.age_years is not None]
    uneven = (max(sizes) - min(sizes)) / max(sizes) > UNEVEN_AH
    aged = len(ages) > 1 and max(ages) - min(ages) > UNEVEN_YEARS
    if uneven or aged:
        what = f"{min(sizes):g} to {max(sizes):g} Ah" if uneven else f"{min(ages):g} to {max(ages):g} years old"
        ledger.finding(
            "survey.bank_uneven",
            "caution",
            "survey",
            "auxiliary",
            "The strings do not match",
            f"{what} in parallel: the stronger string carries more than its share, and circulating current flows at rest.",
        )
    if auxiliary.chemistry == "lfp" and any(string.series > 1 and string.block_v >= 12 for string in strings):
        ledger.finding(
            "survey.bank_series",
            "caution",
            "survey",
            "auxiliary",
            "Lithium blocks in series drift apart",
            "Each block's own management knows nothing of its neighbour: charge each full before joining, and fit a balancer "
            "if the maker allows series use at all.",
        )


def _judge_management(design: Design, solved: Solved, ledger: Ledger) -> None:
    management = design.auxiliary.management
    if management is None:
        if design.auxiliary.chemistry == "lfp" and design.auxiliary.strings:
            ledger.finding(
                "survey.no_management",
                "caution",
                "survey",
                "auxiliary",
                "No management system is entered for a lithium bank",
                "Its limits decide what may charge it; read them off the sheet.",
            )
        return
    absorption_v = float(solved.facts.absorption.value)
    high_v = management.high_disconnect_v
    if high_v is not None and absorption_v >= high_v:
        ledger.finding(
            "match.management_high",
            "stop",
            "match",
            "auxiliary",
            "Absorption reaches the management's disconnect",
            f"{absorption_v:.2f} V against {high_v:.2f} V: it opens under full current and leaves the loads on the charger alone.",
            [way_out(f"Charge to {high_v - 0.2:.1f} V", ("auxiliary.absorption_v", round(high_v - 0.2, 2)))],
        )
    if management.needs_waking:
        ledger.finding(
            "survey.needs_waking",
            "note",
            "survey",
            "auxiliary",
            "The pack sleeps when it is empty",
            "It shows no volts then and many sources will not start into it. Plan a limited source that wakes it.",
        )


def _judge_temperature(design: Design, ledger: Ledger) -> None:
    auxiliary = design.auxiliary
    chemistry = chemistries()[auxiliary.chemistry]
    cold_c, warm_c = auxiliary.temperature_min_c, auxiliary.temperature_max_c
    if cold_c is not None and cold_c < chemistry.charge_min_c:
        guarded = auxiliary.low_temperature_cut_off
        ledger.finding(
            "survey.cold",
            "note" if guarded else "stop",
            "survey",
            "auxiliary",
            "It is not charged in the cold" if guarded else "Charging it cold would ruin it",
            f"Down to {cold_c:.0f} °C there; {chemistry.label} is charged from {chemistry.charge_min_c:.0f} °C up. "
            + (
                "Its own cut-off stops charging: plan the use for it."
                if guarded
                else "Fit a cut-off or warm its place."
            ),
            []
            if guarded
            else [way_out("The battery cuts off by itself: note it", ("auxiliary.low_temperature_cut_off", True))],
        )
    if warm_c is not None and warm_c > chemistry.charge_max_c:
        ledger.finding(
            "survey.warm",
            "caution",
            "survey",
            "auxiliary",
            "Too warm to charge",
            f"Up to {warm_c:.0f} °C there; {chemistry.label} is charged up to {chemistry.charge_max_c:.0f} °C unless its maker says otherwise.",
        )
