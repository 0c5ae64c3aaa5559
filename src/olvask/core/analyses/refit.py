"""What the vehicle really uses and gets, from readings a driver took day by day, beside what the design supposed.

- `DayReading`: one of them.
- `refit`, `Refit`, `Fitted`: consumption and charge rate with their uncertainty, and the days it can stand as it is used.

Between two readings the charge changes by hours driven times the rate, less days times the use. Each reading has an error,
shared with opposite sign by the spans before and after it; use differs from day to day. Both are found with the rest, by
generalised least squares over their ratio. A span in which the battery was, or must have been, full tells nothing and is left out.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from olvask.core.circuit.facts import gather
from olvask.core.circuit.solve import solve
from olvask.core.findings.driven import of_its_drive
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.stages.match.energy import net_daily_ah, rate_ah_per_h, reserve_of

Floats = NDArray[np.float64]
# Of charge: a charger holds back, or must have been held back in between, or the battery gives no more; our own estimates.
FULL, PEAK, EMPTY = 0.97, 0.88, 0.06
LEAST_SPANS = 5
ROUNDS = 4  # of leaving out spans that must have been full in between
RATIOS = (0.0, 0.1, 0.3, 1.0, 3.0, 10.0, 30.0)  # of the daily spread's variance to the readings'
LEAST_SPREAD = 0.004  # of capacity: no driver reads better; our own estimate
# Student's t, 97.5 %, by degrees of freedom; Fisher and Yates, Statistical Tables, table III.
T975 = {1: 12.71, 2: 4.30, 3: 3.18, 4: 2.78, 5: 2.57, 6: 2.45, 7: 2.36, 8: 2.31, 9: 2.26, 10: 2.23, 12: 2.18, 15: 2.13}
T975 |= {20: 2.09, 25: 2.06, 30: 2.04, 40: 2.02, 60: 2.00}
DIFFERS = 0.15  # of what was supposed: a gap worth its sentence


class DayReading(Said):
    """One reading of the auxiliary battery, and what was driven since the one before."""

    day: Annotated[float, Field(description="days since any day, fractions for hours")]
    percent: Annotated[float, Field(ge=0, le=100)]
    driven_h: Annotated[float, Field(ge=0, le=240)]


class Fitted(Said):
    """A value as it was used, half the width of its 95 % interval, and what the design supposes."""

    label: str
    unit: str
    value: float
    spread: float
    supposed: float | None


class Refit(Said):
    """What the readings say."""

    use: Fitted | None
    rate: Fitted | None
    days: Fitted | None
    spans: int
    left_out: int
    text: str
    why: tuple[str, ...]


@of_its_drive
def refit(design: Design, readings: Sequence[DayReading]) -> Refit:
    """Fit consumption and charge rate.

    Args:
        design: whose battery it is.
        readings: in any order.
    """
    ordered = sorted(readings, key=lambda item: item.day)
    capacity_ah = design.auxiliary.capacity_ah
    spans = _spans(ordered, capacity_ah)
    found: tuple[Floats, Floats, int] | None = None
    kept = _inside(spans, _supposed_rate(design) or 0.0, capacity_ah)
    for _ in range(ROUNDS):
        if kept.sum() < LEAST_SPANS:
            return _nothing(
                len(spans), "Too few readings below full yet: note the charge each morning for a week or two."
            )
        found = _fit(spans, kept)
        if found is None:
            return _nothing(len(spans), "The readings do not tell driving from standing: some days of each are needed.")
        again = _inside(spans, found[0][0], capacity_ah)
        if (again == kept).all() or again.sum() < LEAST_SPANS:
            break
        kept = again
    if found is None:
        return _nothing(len(spans), "No readings yet.")
    return _told(design, found, int(kept.sum()), len(spans))


def _spans(ordered: Sequence[DayReading], capacity_ah: float) -> list[tuple[float, float, float, float, float]]:
    """Between readings: days, hours driven, change [Ah], charge before and after."""
    return [
        (
            after.day - before.day,
            after.driven_h,
            (after.percent - before.percent) / 100 * capacity_ah,
            before.percent / 100,
            after.percent / 100,
        )
        for before, after in itertools.pairwise(ordered)
        if after.day > before.day
    ]


def _inside(
    spans: Sequence[tuple[float, float, float, float, float]], rate_a: float, capacity_ah: float
) -> NDArray[np.bool_]:
    """Spans in which the battery was neither full nor empty, by where they began, so that no lucky end is picked.

    Nobody drives more hours than there are.
    """
    peaks = [before + max(0.0, rate_a) * hours / capacity_ah for _, hours, _, before, _ in spans]
    return np.array(
        [
            hours <= 24 * days
            and before > EMPTY
            and after > EMPTY
            and before < FULL
            and peak < (PEAK if hours > 0 else FULL)
            for (days, hours, _, before, after), peak in zip(spans, peaks, strict=True)
        ],
        dtype=bool,
    )


def _fit(
    spans: Sequence[tuple[float, float, float, float, float]], kept: NDArray[np.bool_]
) -> tuple[Floats, Floats, int] | None:
    """Rate [A] and use [Ah a day], half widths of their 95 % intervals, degrees of freedom."""
    at = np.flatnonzero(kept)
    days, hours, change = (np.array([spans[int(place)][column] for place in at]) for column in range(3))
    shape = np.stack([hours, -days], axis=1)
    if (
        np.linalg.matrix_rank(shape) < 2
        or np.count_nonzero(hours) == 0
        or np.count_nonzero(hours == 0) + np.ptp(hours) == 0
    ):
        return None
    # A reading's error stands in the spans on both its sides, with opposite sign.
    shared = 2 * np.eye(len(at))
    for one in range(len(at) - 1):
        if at[one + 1] == at[one] + 1:
            shared[one, one + 1] = shared[one + 1, one] = -1.0
    worth, values, squares = [], [], []
    count = len(at) - 2
    for ratio in RATIOS:
        covariance = shared + ratio * np.diag(days) + 1e-9 * np.eye(len(at))
        inverse = np.linalg.inv(covariance)
        normal = np.linalg.inv(shape.T @ inverse @ shape)
        fitted = normal @ shape.T @ inverse @ change
        missed = change - shape @ fitted
        variance = float(missed @ inverse @ missed) / count
        _, logdet = np.linalg.slogdet(covariance)
        _, tight = np.linalg.slogdet(shape.T @ inverse @ shape)
        worth.append(-0.5 * (count * math.log(max(variance, 1e-12)) + logdet + tight))
        values.append(fitted)
        squares.append(np.diag(normal) * variance)
    # No ratio is known for certain: each counts by its likelihood, and what they differ by is uncertainty too.
    weight = np.exp(np.array(worth) - max(worth))
    weight /= weight.sum()
    mean = weight @ np.array(values)
    square = weight @ (np.array(squares) + (np.array(values) - mean) ** 2)
    return mean, t975(max(1, count - 1)) * np.sqrt(square), count  # the ratio was found from them too


def t975(count: int) -> float:
    """Student's t for a two-sided 95 % interval, of the next fewer degrees of freedom that the table has.

    Args:
        count: degrees of freedom.
    """
    return next((T975[degrees] for degrees in sorted(T975, reverse=True) if degrees <= count), T975[1])


def _told(design: Design, found: tuple[Floats, Floats, int], spans: int, of: int) -> Refit:
    values, half, _ = found
    capacity_ah, reserve = design.auxiliary.capacity_ah, reserve_of(design)
    supposed_use = net_daily_ah(design, gather(design))
    supposed_rate = _supposed_rate(design)
    rate = Fitted(
        label="Charge rate, driving", unit="A", value=float(values[0]), spread=float(half[0]), supposed=supposed_rate
    )
    use = Fitted(label="Daily use", unit="Ah", value=float(values[1]), spread=float(half[1]), supposed=supposed_use)
    days = None
    usable_ah = capacity_ah * (1 - reserve)
    if use.value > 2 * LEAST_SPREAD * capacity_ah and use.value > use.spread:
        stands, relative = usable_ah / use.value, use.spread / use.value
        supposed = usable_ah / supposed_use if supposed_use is not None and supposed_use > 0 else None
        days = Fitted(label="Days it can stand", unit="days", value=stands, spread=stands * relative, supposed=supposed)
    return Refit(
        use=use,
        rate=rate,
        days=days,
        spans=spans,
        left_out=of - spans,
        text=_text(days, use),
        why=tuple(_why(use, rate)),
    )


def _supposed_rate(design: Design) -> float | None:
    """What the design itself reckons an hour's driving puts in: every source, less loads and what charging loses."""
    return None if design.charger is None else rate_ah_per_h(design, solve(design))


def _text(days: Fitted | None, use: Fitted) -> str:
    if days is None:
        return f"It uses {use.value:.0f} ± {use.spread:.0f} Ah a day: too little to say how long it stands."
    before = f"predicted {days.supposed:.1f}, " if days.supposed is not None else ""
    return f"Days it can stand: {before}as used {days.value:.1f} ± {days.spread:.1f}."


def _why(use: Fitted, rate: Fitted) -> list[str]:
    """What explains the gap between what was supposed and what is."""
    found = []
    for fitted, more, less in (
        (
            use,
            "More is used than was noted: ask what was added, or measure what draws while standing.",
            "Less is used than was noted, or more comes by sun or a socket while it stands.",
        ),
        (
            rate,
            "It gets more than was reckoned with: fewer loads while driving, or more sun.",
            "It gets less than was reckoned with: more loads while driving, low phases, a battery near full, or a fault; prove it.",
        ),
    ):
        if fitted.supposed is None or abs(fitted.value - fitted.supposed) <= max(
            fitted.spread, DIFFERS * abs(fitted.supposed)
        ):
            continue
        side = more if fitted.value > fitted.supposed else less
        found.append(
            f"{fitted.label}: {fitted.value:.0f} ± {fitted.spread:.0f} {fitted.unit}, supposed {fitted.supposed:.0f} {fitted.unit}. {side}"
        )
    return found


def _nothing(spans: int, text: str) -> Refit:
    return Refit(use=None, rate=None, days=None, spans=0, left_out=spans, text=text, why=())
