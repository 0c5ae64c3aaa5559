"""The audit of everything that charges: each source alone on this battery, all together, and what to do about each.

- `Audit`, `SourceVerdict`: what it says.
- `audit`: runs it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from pydantic import Field

from olvask.core.analyses.audit_sources import Audited, bank_of, kwh_week, own_profile, sources_of
from olvask.core.catalogue import chemistries
from olvask.core.circuit.solve import Solved, solve
from olvask.core.findings.driven import of_its_drive
from olvask.core.findings.finding import Remedy
from olvask.core.findings.listed import percent
from olvask.core.findings.remedy import remedy
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.simulate.charging import charged
from olvask.core.simulate.sources import Bank, Charge
from olvask.core.stages.settings.limits import Harm, Held, harms_of

FULL = 0.995  # of charge: from here on it counts as full
FILLED = 0.95
ALL = 0.999  # beyond it there is no more to see
HORIZON_S = 48 * 3600.0
SUN_HORIZON_S = 7 * 86400.0
SETTLED = 0.005  # of charge: what comes after is not worth waiting for
LONG_LEAD_OHM = 0.025  # 30 A lose three quarters of a volt in it; our own estimate
POINTS = 160  # of a curve
# Our own estimates of a workshop's time and prices, until the house says its own.
RESET_H, REPLACE_H, DISCONNECT_H = 0.3, 1.5, 0.5
LABOUR_PER_H, PRICE_PER_A = 60.0, 7.0
Verdict = Literal["keep", "reset", "replace", "disconnect"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve:
    """Amperes of a source, or of all, and the battery's volts and charge against time."""

    hours: tuple[float, ...]
    amps: tuple[float, ...]
    volts: tuple[float, ...]
    charge: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceVerdict:
    """One source alone on this battery, and what to do about it."""

    key: str
    kind: Literal["unit", "solar", "built_in_charger", "mains_charger", "portable_charger", "link"]
    path: str
    stages_path: str
    label: str
    set_for: str
    rated_a: float
    lead_mohm: float
    lead_known: bool
    absorption_v: float
    float_v: float
    rests: bool
    rebulk_v: float
    hours_80: float | None
    hours_95: float | None
    hours_full: float | None
    stalls_at: float | None
    stalls_h: float | None
    why: str
    wakes: Literal["yes", "no", "unknown", "not_needed"]
    peak_v: float
    harms: tuple[Harm, ...]
    verdict: Verdict
    text: str
    hours: float
    cost: float
    kwh_week: float | None
    after_hours_95: float | None
    remedy: Remedy | None
    curve: Curve


class Audit(Said):
    """Every source alone, and all together."""

    text: str
    charge_from: float
    celsius: float
    high_v: float | None = Field(description="volts at which the battery's management opens, or its chemistry gasses")
    sources: tuple[SourceVerdict, ...]
    together: Curve | None
    together_text: str
    order: tuple[str, ...] = Field(description="keys of sources to see to, in order, by the school chosen")
    order_text: str


@of_its_drive
def audit(design: Design, charge_from: float = 0.4, celsius: float = 25.0) -> Audit:
    """Drive every source alone on the battery, and all of them together.

    Args:
        design: the design.
        charge_from: state of charge to begin with, 0 to 1.
        celsius: the battery's temperature, and the air's [°C].
    """
    solved = solve(design)
    bank, found = bank_of(design, solved, celsius), sources_of(design, solved)
    told = tuple(_told(design, solved, bank, item, charge_from) for item in found)
    together, together_text = _together(bank, found, told, charge_from)
    order, order_text = _order(design, told)
    usual, scale = chemistries()[design.auxiliary.chemistry], design.auxiliary.nominal_v / 12
    return Audit(
        text=_summary(told),
        charge_from=charge_from,
        celsius=celsius,
        high_v=bank.opens_v if math.isfinite(bank.opens_v) else usual.absorption_max_v * scale,
        sources=told,
        together=together,
        together_text=together_text,
        order=order,
        order_text=order_text,
    )


def held_by(item: Audited) -> Held:
    """What a source holds, as its limits are judged."""
    source, profile = item.source, item.source.profile
    return Held(
        absorption_v=profile.absorption_v,
        float_v=None if profile.rests or item.kind == "link" else profile.float_v,  # a link is there while it drives
        equalise_v=profile.equalise_v or None,
        compensation_mv_per_k=source.compensation_mv_per_k or None,  # none is no fault of a simple charger
        cold_c=source.cold_c if math.isfinite(source.cold_c) else None,
        hot_c=source.hot_c if math.isfinite(source.hot_c) else None,
    )


def _in_cold(harm: Harm) -> bool:
    """Whether a value below its band hurts all the same: compensation that lithium must not have."""
    return harm.quantity == "compensation_mv_per_k" and harm.side == "low"


def _curve(charge: Charge, until_s: float, which: int | None) -> Curve:
    """A curve thinned out to what a picture shows; `which` source, or all."""
    last = next((at for at, time in enumerate(charge.times_s) if time >= until_s), len(charge.times_s) - 1)
    every = max(1, math.ceil((last + 1) / POINTS))
    turns = [at for at in range(1, last + 1) if charge.stages[at] != charge.stages[at - 1]]
    kept = sorted({*range(0, last + 1, every), last, *turns, *(at - 1 for at in turns)})
    amps = [sum(charge.amps[at]) if which is None else charge.amps[at][which] for at in kept]
    return Curve(
        hours=tuple(round(charge.times_s[at] / 3600, 3) for at in kept),
        amps=tuple(round(value, 2) for value in amps),
        volts=tuple(round(charge.volts[at], 3) for at in kept),
        charge=tuple(round(charge.charge[at], 4) for at in kept),
    )


def _hours(seconds: float | None) -> float | None:
    return None if seconds is None else seconds / 3600


def _settled_s(charge: Charge) -> float:
    """When nothing worth waiting for came any more [s]."""
    end = charge.charge[-1]
    return next(time for time, share in zip(charge.times_s, charge.charge, strict=True) if share >= end - SETTLED)


def _told(design: Design, solved: Solved, bank: Bank, item: Audited, charge_from: float) -> SourceVerdict:
    """One source driven alone, judged."""
    horizon_s = SUN_HORIZON_S if item.kind == "solar" else HORIZON_S
    found = charged([item.source], bank, charge_from, horizon_s, until=ALL)
    h95, full = found.reaches(FILLED), found.reaches(FULL)
    stalls = h95 is None
    harms = tuple(harm for harm in harms_of(design.auxiliary, held_by(item)) if harm.side == "high" or _in_cold(harm))
    settled_s = _settled_s(found)
    why = _why(item, bank, found, settled_s) if stalls else ""
    fits = replace(item.source, profile=own_profile(design), back_off_v=0.0, compensation_mv_per_k=0.0)
    after = charged([fits], bank, charge_from, horizon_s, until=FILLED).reaches(FILLED) if stalls or harms else h95
    verdict = _verdict(item, stalls, harms, after, alone=design.charger is None)
    hours, cost = _cost(verdict, item)
    until_s = max(settled_s * 1.25, 3600.0) if full is None else max(full * 1.15, 3600.0)
    return SourceVerdict(
        key=item.source.key,
        kind=item.kind,
        path=item.path,
        stages_path=item.stages_path,
        label=item.label,
        set_for=item.set_for,
        rated_a=item.source.rated_a,
        lead_mohm=item.source.lead_ohm * 1000,
        lead_known=item.lead_known,
        absorption_v=item.source.profile.absorption_v,
        float_v=item.source.profile.float_v,
        rests=item.source.profile.rests,
        rebulk_v=item.source.profile.rebulk_v,
        hours_80=_hours(found.reaches(0.8)),
        hours_95=_hours(h95),
        hours_full=_hours(full),
        stalls_at=found.charge[-1] if stalls else None,
        stalls_h=settled_s / 3600 if stalls else None,
        why=why,
        wakes=_wakes(design, item),
        peak_v=max(found.volts),
        harms=harms,
        verdict=verdict,
        text=_text(design, solved, item, verdict, harms, stalls, after),
        hours=hours,
        cost=cost,
        kwh_week=kwh_week(design, item),
        after_hours_95=_hours(after) if verdict in ("reset", "replace") else None,
        remedy=_remedy(design, item) if verdict == "reset" else None,
        curve=_curve(found, until_s, 0),
    )


def _why(item: Audited, bank: Bank, found: Charge, settled_s: float) -> str:
    """Why it stalls, from what it was doing when nothing more came."""
    profile, stage, volts = item.source.profile, found.stages[-1][0], found.volts[-1]
    at = f"{settled_s / 3600:.1f} h"
    if found.opened_s is not None:
        return f"The battery's own management opens after {found.opened_s / 3600:.1f} h, at {max(found.volts):.2f} V."
    if not bank.least_c <= bank.celsius <= bank.most_c:
        return f"At {bank.celsius:.0f} °C the battery's own cut-off takes no charge."
    if not item.source.cold_c <= bank.celsius <= item.source.hot_c:
        return f"At {bank.celsius:.0f} °C it is set not to charge."
    if item.kind == "link" and item.source.rated_a <= 0:
        return "The start side has nothing left for it once the vehicle's own loads run."
    if stage == "rest":
        if volts >= profile.rebulk_v:
            return (
                f"Done after {at}, it starts again below {profile.rebulk_v:.2f} V; the battery stands at {volts:.2f} V, "
                "so not until a load pulls it down."
            )
        return f"It rests from {at} on."
    if stage == "float":
        return f"It holds {profile.float_v:.2f} V from then on, and the battery stands at {volts:.2f} V: next to nothing flows."
    if item.source.back_off_v > 0:
        return (
            f"From {item.source.back_off_v:.2f} V on it lets its current fall, and the battery stands at {volts:.2f} V."
        )
    if item.source.sun_s > 0:
        return "The sun of a week does not fill it."
    return f"It is still at it after {found.times_s[-1] / 3600:.0f} h, at {found.amps[-1][0]:.1f} A."


def _wakes(design: Design, item: Audited) -> Literal["yes", "no", "unknown", "not_needed"]:
    management = design.auxiliary.management
    if management is None or not management.needs_waking:
        return "not_needed"
    if item.kind == "unit":
        return "unknown"
    if item.kind == "link":
        return "yes"  # it puts the alternator's volts on the posts whatever they show
    said = item.stages.wakes if item.stages is not None else ""
    if said == "":
        return "unknown" if item.set_for == "lfp" else "no"
    return said


def _verdict(item: Audited, stalls: bool, harms: Sequence[Harm], after: float | None, alone: bool) -> Verdict:
    """Keep, re-set, replace or disconnect."""
    hurts = any(harm.level == "stop" for harm in harms)
    if item.kind == "link":  # beside a unit the two fight over the battery, whatever it holds
        return "keep" if alone and not hurts and not stalls else "disconnect"
    if not stalls and not harms:
        return "keep"
    adjustable = item.stages.adjustable if item.stages is not None else "yes"
    if adjustable != "no" and (after is not None or hurts):
        return "reset"
    if hurts:
        return "disconnect" if item.kind in ("built_in_charger", "portable_charger") else "replace"
    if item.kind == "solar" and after is None:
        return "keep"  # a small panel is no fault of its controller
    return "replace" if stalls else "keep"


def _cost(verdict: Verdict, item: Audited) -> tuple[float, float]:
    hours = {"keep": 0.0, "reset": RESET_H, "replace": REPLACE_H, "disconnect": DISCONNECT_H}[verdict]
    parts = PRICE_PER_A * item.source.rated_a if verdict == "replace" else 0.0
    return hours, round(hours * LABOUR_PER_H + parts)


def _text(
    design: Design,
    solved: Solved,
    item: Audited,
    verdict: Verdict,
    harms: Sequence[Harm],
    stalls: bool,
    after: float | None,
) -> str:
    """What to do, in a sentence."""
    own = own_profile(design)
    if verdict == "keep":
        if harms:
            return f"Leave it, but mind: {harms[0].text}"
        if stalls:
            return "It only helps along: too small to fill the battery alone."
        return (
            "As it is set it fills the battery."
            if item.kind != "link"
            else "It fills the battery, with nothing to hold it."
        )
    to = f"absorb {own.absorption_v:.1f} V, {'float' if design.auxiliary.chemistry != 'lfp' else 'store'} {own.float_v:.1f} V"
    gains = f" It then reaches 95 % in {after / 3600:.1f} h." if after is not None else ""
    if item.source.lead_ohm > LONG_LEAD_OHM:
        gains += f" Its lead of {item.source.lead_ohm * 1000:.0f} mΩ holds it back: a thicker one first."
    if verdict == "reset":
        maybe = (
            "" if item.stages is None or item.stages.adjustable == "yes" else ", if it can be set; replace it if not"
        )
        return (
            f"Re-set: {to}, no equalising, no compensation{maybe}.{gains}"
            if design.auxiliary.chemistry == "lfp"
            else (f"Re-set: {to}{maybe}.{gains}")
        )
    if verdict == "replace":
        return f"Replace by one for {chemistries()[design.auxiliary.chemistry].label}.{gains}"
    if item.kind == "link":
        return "It must not fight the unit: open it by a relay, or disconnect it; Wake decides which."
    return "Disconnect it and make its feed safe."


def _remedy(design: Design, item: Audited) -> Remedy | None:
    """What re-setting it changes in the design: set for the battery, nothing said of its stages."""
    if item.kind == "unit":
        return remedy("Set the unit to the battery's own", ("charge", {}))
    stages = item.stages.model_dump(mode="json", exclude_unset=True) if item.stages is not None else {}
    making = ("senses", "wakes", "rated_at_v", "rated_ambient_c", "derating_percent_per_k", "adjustable")
    kept = {key: value for key, value in stages.items() if key in making}
    return remedy(
        f"Note {item.label} as re-set", (f"{item.path}.profile", design.auxiliary.chemistry), (item.stages_path, kept)
    )


def _together(
    bank: Bank, found: Sequence[Audited], told: Sequence[SourceVerdict], charge_from: float
) -> tuple[Curve | None, str]:
    """All sources at once: that they add, and which tapers first."""
    if len(found) < 2:
        return None, ""
    joint = charged([item.source for item in found], bank, charge_from, HORIZON_S, until=ALL)
    full = joint.reaches(FULL)
    at = next((n for n, amps in enumerate(joint.amps) if sum(amps) < 0.98 * max(map(sum, joint.amps))), None)
    text = f"Together {max(map(sum, joint.amps)):.0f} A at most"
    h95 = joint.reaches(FILLED)
    text += (
        f"; 95 % after {h95 / 3600:.1f} h." if h95 is not None else f"; they leave it at {percent(joint.charge[-1])}."
    )
    if at is not None:
        shares = [
            amps / max(1e-9, item.source.rated_a * item.source.sun(joint.times_s[at]))
            for amps, item in zip(joint.amps[at], found, strict=True)
        ]
        first = min(range(len(found)), key=shares.__getitem__)
        text += f" Near full {told[first].label} tapers first, for it holds the lowest volts at the battery."
    until_s = HORIZON_S / 2 if full is None else max(3600.0, full * 1.15)
    return _curve(joint, until_s, None), text


def _order(design: Design, told: Sequence[SourceVerdict]) -> tuple[tuple[str, ...], str]:
    """Which sources to see to, in the order of the school chosen."""
    wanted = [item for item in told if item.verdict != "keep"]
    if not wanted:
        return (), "Nothing to see to: they agree."
    weekly = ", ".join(f"{item.label} {item.kwh_week:.1f}" for item in told if item.kwh_week is not None)
    why = f" What each could give in this job's week, in kWh: {weekly}." if weekly else ""
    if design.choices.upgrade_school == "at_once":
        return tuple(item.key for item in wanted), f"All at once, before the battery goes in.{why}"
    rank = {"solar": 0, "unit": 1, "link": 1, "built_in_charger": 1}
    ordered = sorted(wanted, key=lambda item: rank.get(item.kind, 2))
    return tuple(item.key for item in ordered), f"Sun first, vehicle second, mains last.{why}"


def _summary(told: Sequence[SourceVerdict]) -> str:
    """How many agree, in a sentence."""
    if not told:
        return "Nothing charges this battery yet: choose a unit in Match, or survey what is there."
    off = [item for item in told if item.verdict != "keep"]
    if not off:
        return (
            "Everything that charges agrees with this battery."
            if len(told) > 1
            else "It fills this battery as it is set."
        )
    names = ", ".join(item.label for item in off)
    return f"{len(off)} of {len(told)} to see to: {names}."
