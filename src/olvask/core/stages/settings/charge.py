"""The charge profile, of the battery's own data and of what the unit is set to, against what the battery stands and needs.

- `judge_charge`: every quantity against its band, float against absorption, where it starts again, bulk by the clock, cold.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.circuit.facts import charge_volts, floats_at, resumes_v, set_for_another
from olvask.core.findings.collector import Judged
from olvask.core.findings.finding import Found, Remedy, caution, stop
from olvask.core.findings.listed import capital, percent
from olvask.core.findings.remedy import remedy
from olvask.core.physics.battery import charge_at_rest, open_circuit_v
from olvask.core.physics.rounding import over
from olvask.core.stages.match.energy import charging_a, put_back_h
from olvask.core.stages.settings.limits import Held, Quantity, makers_own, off_band, said_of

# What a finding is called, and what it says first, by quantity and side.
TITLES: dict[tuple[Quantity, str], tuple[str, str]] = {
    ("absorption_v", "high"): ("settings.absorption_high", "Absorption is too high"),
    ("absorption_v", "low"): ("settings.absorption_low", "Absorption is too low"),
    ("float_v", "high"): ("settings.float_high", "Float is too high"),
    ("float_v", "low"): ("settings.float_low", "Float is too low"),
    ("absorption_h", "high"): ("settings.absorption_long", "Absorption lasts too long"),
    ("absorption_h", "low"): ("settings.absorption_short", "Absorption is too short"),
    ("tail_share", "high"): ("settings.tail_high", "The tail current is too high"),
    ("tail_share", "low"): ("settings.tail_low", "The tail current is too low"),
    ("equalise_v", "high"): ("settings.equalise_high", "Equalising is too high"),
    ("equalise_v", "low"): ("settings.equalise_low", "Equalising does nothing"),
    ("compensation_mv_per_k", "high"): ("settings.compensation_weak", "Temperature compensation is too weak"),
    ("compensation_mv_per_k", "low"): ("settings.compensation_strong", "Temperature compensation is too strong"),
    ("cold_c", "high"): ("settings.cold_high", "The cold cut-off is too high"),
    ("cold_c", "low"): ("settings.cold_low", "The cold cut-off is too low"),
    ("hot_c", "high"): ("settings.hot_high", "The hot cut-off is too high"),
    ("hot_c", "low"): ("settings.hot_low", "The hot cut-off is too low"),
}
RESUMES_LATE, RESUMES_NEVER = 0.5, 0.2  # of charge: starts again only below; our own estimates
REBULK_NEAR_V = 0.05  # per 12 V: this close under float it comes and goes


class _Value(NamedTuple):
    """A quantity as somebody set it: its value, where, and the battery's own data or the unit's setting."""

    quantity: Quantity
    value: float
    path: str


def judge_charge(ctx: Context) -> Judged:
    """What is set off its band either way."""
    far = _float_too_far(ctx)
    for item in _set(ctx):
        if far is None or item.path != far.path:
            yield from _judged(ctx, item)
    if far is not None:
        yield _float(ctx, far)
    yield from _rebulk(ctx)
    yield from _bulk(ctx)


def _set(ctx: Context) -> Iterator[_Value]:
    """What is typed of the profile; the usual of a chemistry is right by its making."""
    battery, charge = ctx.design.auxiliary, ctx.design.charge
    if battery.absorption_v is not None:
        yield _Value("absorption_v", battery.absorption_v, "auxiliary.absorption_v")
    if battery.float_v is not None:
        yield _Value("float_v", battery.float_v, "auxiliary.float_v")
    if charge.absorption_v is not None and not makers_own(battery, "absorption_v", charge.absorption_v):
        yield _Value("absorption_v", charge.absorption_v, "charge.absorption_v")
    if (
        charge.float_v is not None
        and charge.after not in ("rest", "pulses")
        and not makers_own(battery, "float_v", charge.float_v)
    ):
        yield _Value("float_v", charge.float_v, "charge.float_v")
    if charge.absorption_h is not None:
        yield _Value("absorption_h", charge.absorption_h, "charge.absorption_h")
    if charge.tail_a:
        yield _Value("tail_share", charge.tail_a / battery.capacity_ah, "charge.tail_a")
    if charge.equalise:
        scale = battery.nominal_v / 12
        usual_v = chemistries()[charge.profile or battery.chemistry].equalise_v * scale
        path = "charge.equalise" if charge.equalise_v is None else "charge.equalise_v"
        yield _Value("equalise_v", usual_v if charge.equalise_v is None else charge.equalise_v, path)
    if charge.compensation_mv_per_k is not None:
        yield _Value("compensation_mv_per_k", charge.compensation_mv_per_k, "charge.compensation_mv_per_k")
    if charge.cold_c is not None:
        yield _Value("cold_c", charge.cold_c, "charge.cold_c")
    if charge.hot_c is not None:
        yield _Value("hot_c", charge.hot_c, "charge.hot_c")


def _judged(ctx: Context, item: _Value) -> Iterator[Found]:
    """One quantity against its band."""
    battery = ctx.design.auxiliary
    off = off_band(battery.chemistry, item.quantity, item.value, battery.nominal_v)
    if off is None or (item.quantity == "cold_c" and off[1] == "low" and battery.low_temperature_cut_off):
        return
    level, side = off
    name, title = TITLES[item.quantity, side]
    if name == "settings.absorption_low" and level == "stop":
        title = "Absorption does not charge it"
    if name == "settings.float_high" and level == "stop":
        title = "Float is far too high"
    if item.path.startswith("auxiliary.") and getattr(ctx.design.charge, item.quantity) is not None:
        name, title = f"{name}.battery", f"The battery's own {title[0].lower()}{title[1:]}"
    held = Held(absorption_v=float(ctx.facts.absorption.value), float_v=None)
    text = said_of(battery, held, item.quantity, item.value, side)
    said = stop if level == "stop" else caution
    back = _usual(ctx, item)
    yield said(name, "auxiliary", title, f"{capital(text)} {_own(ctx, item)}".strip(), [back], (item.path,))


def _own(ctx: Context, item: _Value) -> str:
    """What is usual, where that is worth saying."""
    battery = ctx.design.auxiliary
    usual, scale = chemistries()[battery.chemistry], battery.nominal_v / 12
    if item.quantity == "absorption_v":
        return (
            f"{usual.label[:1].upper()}{usual.label[1:]} takes {usual.absorption_min_v * scale:.1f} to {usual.absorption_max_v * scale:.1f} V. The battery "
            "maker's own figure, if it is this, outranks ours."
        )
    if item.quantity == "float_v":
        return f"Usual is {usual.float_v * scale:.1f} V."
    return ""


def _usual(ctx: Context, item: _Value) -> Remedy:
    """Back to what is said otherwise: by the battery's maker, or by the chemistry that the unit is set for."""
    battery, charge = ctx.design.auxiliary, ctx.design.charge
    usual, scale = chemistries()[charge.profile or battery.chemistry], battery.nominal_v / 12
    if item.quantity == "equalise_v":
        return remedy("Do not equalise", ("charge.equalise", False), ("charge.equalise_v", None))
    if item.quantity in ("absorption_v", "float_v"):
        return remedy(_back_to(ctx, item), (item.path, None))
    label = {
        "absorption_h": f"Absorb for the usual {usual.absorption_h:g} h",
        "tail_share": f"End at the usual {percent(usual.tail_share)} of its capacity",
        "compensation_mv_per_k": f"Compensate by the usual {usual.compensation_mv_per_k * scale:.0f} mV/K",
        "cold_c": "Leave the cold cut-off open",
        "hot_c": "Leave the hot cut-off open",
    }[item.quantity]
    return remedy(label, (item.path, None))


def _back_to(ctx: Context, item: _Value) -> str:
    """The absorption or float in force once what is typed is taken out: its maker's, or the usual."""
    at, does = (0, "Charge to") if item.quantity == "absorption_v" else (1, "Float at")
    battery, charge = ctx.design.auxiliary, ctx.design.charge
    if item.path.startswith("auxiliary."):
        own = chemistries()[battery.chemistry]
        usual_v = (own.absorption_v, own.float_v)[at] * battery.nominal_v / 12
        outranked = getattr(charge, item.quantity) is not None or set_for_another(ctx.design)
        return f"{'Take the usual' if outranked else f'{does} the usual'} {usual_v:.1f} V" + (
            " for the battery" if outranked else ""
        )
    makers = not set_for_another(ctx.design) and getattr(battery, item.quantity) is not None
    volts = charge_volts(battery, charge.profile)[at]
    return f"{does} {volts:.2f} V, as its maker says" if makers else f"{does} the usual {volts:.1f} V"


def _float_too_far(ctx: Context) -> _Value | None:
    """The float in force, where it was typed above absorption or opens the battery's management: wrong whatever its band."""
    battery, charge = ctx.design.auxiliary, ctx.design.charge
    volts = charge.float_v if charge.float_v is not None or set_for_another(ctx.design) else battery.float_v
    if volts is None or charge.after in ("rest", "pulses"):
        return None
    if off_band(battery.chemistry, "float_v", volts, battery.nominal_v) == ("stop", "high"):
        return None  # said by its band
    path = "charge.float_v" if charge.float_v is not None else "auxiliary.float_v"
    over_all = volts > float(ctx.facts.absorption.value) or volts >= _cut_v(ctx)
    return _Value("float_v", volts, path) if over_all else None


def _cut_v(ctx: Context) -> float:
    """Where the battery's management opens [V]; endless for nowhere."""
    management = ctx.design.auxiliary.management
    return math.inf if management is None or management.high_disconnect_v is None else management.high_disconnect_v


def _float(ctx: Context, typed: _Value) -> Found:
    """A float above absorption, or where the battery's management opens."""
    volts, cut_v = typed.value, _cut_v(ctx)
    text = f"{volts:.2f} V held for days, and absorption is {float(ctx.facts.absorption.value):.2f} V."
    if volts >= cut_v:
        text += f" The battery's management opens at {cut_v:.2f} V."
    return stop(
        "settings.float_high",
        "auxiliary",
        "Float is far too high",
        text,
        [remedy("Float as usual", (typed.path, None))],
        (typed.path,),
    )


def _rebulk(ctx: Context) -> Iterator[Found]:
    """Where charging starts again: too late to matter, or so soon that it comes and goes, or never rests."""
    battery, charge = ctx.design.auxiliary, ctx.design.charge
    volts, path = charge.rebulk_v, "charge.rebulk_v"
    scale = battery.nominal_v / 12
    if charge.after in ("rest", "pulses"):
        usual_v = resumes_v(charge.profile or battery.chemistry, battery.nominal_v, rests=True)
        again_v = usual_v if volts is None else volts
        full_v = open_circuit_v(battery.chemistry, 1.0, battery.nominal_v)
        if not over(full_v, again_v):
            yield _never_rests(ctx, again_v, full_v)
            return
    if volts is None:
        return
    float_v = floats_at(ctx.design)
    back = [remedy("Start again at the usual volts", (path, None))]
    if charge.after not in ("rest", "pulses") and volts > float_v - REBULK_NEAR_V * scale:
        said = stop if volts >= float_v else caution
        text = f"It starts again below {volts:.2f} V and floats at {float_v:.2f} V: it comes and goes between the two."
        yield said("settings.rebulk_high", "auxiliary", "It starts again too soon", text, back, (path,))
        return
    share = charge_at_rest(battery.chemistry, volts, battery.nominal_v)
    if share < RESUMES_LATE:
        said = stop if share <= RESUMES_NEVER else caution
        text = f"Rested, the battery shows {volts:.2f} V only at {percent(share)} of charge: until then nothing starts again by itself."
        yield said("settings.rebulk_low", "auxiliary", "It starts again too late", text, back, (path,))


def _never_rests(ctx: Context, again_v: float, full_v: float) -> Found:
    """A unit that is to rest, and would start again on a full battery."""
    battery, path = ctx.design.auxiliary, "charge.rebulk_v"
    usual_v = resumes_v(battery.chemistry, battery.nominal_v, rests=True)
    return stop(
        "settings.rebulk_high",
        "auxiliary",
        "It never rests",
        f"It starts again below {again_v:.2f} V, and this battery stands at {full_v:.2f} V when full: within minutes it is "
        "charged anew, again and again, and held at absorption volts as long as the unit is on.",
        [remedy(f"Start again at {usual_v:.2f} V", (path, usual_v if set_for_another(ctx.design) else None))],
        concerns=(path, "charge.after"),
    )


def _bulk(ctx: Context) -> Iterator[Found]:
    """A cap on bulk that is over before the day's use is put back."""
    cap_h, refill_h = ctx.design.charge.bulk_h, put_back_h(ctx.design, ctx.solved)
    if cap_h is None or refill_h is None or ctx.solved.output is None or cap_h >= refill_h:
        return
    said = stop if cap_h < refill_h / 2 else caution
    yield said(
        "settings.bulk_short",
        "charger",
        "Bulk ends before the day is put back",
        f"The day's use takes {refill_h:.1f} h at {charging_a(ctx.design, ctx.solved):.0f} A; bulk is over after "
        f"{cap_h:.1f} h, and float does the rest slowly, if at all.",
        [remedy("Take the cap away", ("charge.bulk_h", None))],
        ("charge.bulk_h",),
    )
