"""What a log shows that is not as designed, and since when.

- `Differs`, `differing`: all of it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from olvask.core.analyses.device_log.fitted import Fit, Fitted
from olvask.core.analyses.device_log.happened import HAPPENINGS, Happened, Happening
from olvask.core.analyses.device_log.stepped import Step
from olvask.core.findings.finding import Level
from olvask.core.findings.said import Said

# How far a fitted value may lie from the designed one and be as designed, one way or both; share and sum: our own estimates.
ALLOWED: dict[Fitted, tuple[float, float]] = {
    "supply_mohm": (0.2, 1.0),
    "delivery_mohm": (0.2, 1.0),
    "source_v": (0.015, 0.0),
    "efficiency": (0.0, 3.0),
    "limit_a": (0.06, 0.5),
    "start_v": (0.0, 0.1),
    "stop_v": (0.0, 0.1),
}
WORSE_HIGH: tuple[Fitted, ...] = ("supply_mohm", "delivery_mohm")
WORSE_LOW: tuple[Fitted, ...] = ("efficiency", "limit_a")
TELLING: tuple[Happening, ...] = ("frost", "hunting", "lockout", "cold", "early_taper", "unfinished")


LEVEL: dict[Happening, Level] = {"frost": "stop", "cold": "note"}


class Differs(Said):
    """Something that is not as designed."""

    key: str
    level: Level
    text: str
    since_s: Annotated[float | None, Field(description="seconds since 1970; none where it was so from the beginning")]


def differing(found: Sequence[Fit], step: Step | None, happened: Sequence[Happened]) -> tuple[Differs, ...]:
    """What lies outside of what was designed.

    Args:
        found: what was fitted.
        step: since when the supply run has more.
        happened: what happened.
    """
    differs = [item for fit in found if (item := _differs(fit, step)) is not None]
    for what in TELLING:
        those = [item for item in happened if item.what == what]
        if those:
            times = "once" if len(those) == 1 else f"{len(those)} times"
            words = HAPPENINGS[what]
            differs.append(
                Differs(
                    key=what,
                    level=LEVEL.get(what, "caution"),
                    text=f"{words[:1].upper()}{words[1:]}: {times}.",
                    since_s=those[0].at_s,
                )
            )
    return tuple(differs)


def _differs(fit: Fit, step: Step | None) -> Differs | None:
    if fit.designed is None:
        return None
    share, more = ALLOWED[fit.key]
    allowed = share * abs(fit.designed) + more + fit.spread
    away = fit.value - fit.designed
    changed = step if fit.key == "supply_mohm" else None
    if abs(away) <= allowed and changed is None:
        return None
    worse = (fit.key in WORSE_HIGH and away > 0) or (fit.key in WORSE_LOW and away < 0)
    worse = worse or fit.key not in (*WORSE_HIGH, *WORSE_LOW)
    value = f"{fit.value:.{fit.digits}f} ± {fit.spread:.{fit.digits}f} {fit.unit}"
    text = f"{fit.label}: {value}, designed {fit.designed:.{fit.digits}f} {fit.unit}."
    if changed is not None:
        before, after = 1000 * changed.before, 1000 * changed.after
        text = f"Supply run, both ways: from {before:.1f} to {after:.1f} {fit.unit}, designed {fit.designed:.1f}."
        return Differs(key=fit.key, level="caution", text=text, since_s=changed.since_s)
    return Differs(key=fit.key, level="caution" if worse else "note", text=text, since_s=None)
