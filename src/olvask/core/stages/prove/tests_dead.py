"""Tests with both batteries off: through, no short, the body where it carries current, polarity, each device's rating.

- `dead`: those of a design.
"""

from __future__ import annotations

from collections.abc import Iterator

from olvask.core.circuit.context import Context
from olvask.core.model import RUNS, Branch, Cable, ChassisReturn, Design, ProtectiveDevice, RunName
from olvask.core.stages.build.conductors import supply_ends, unit_tails
from olvask.core.stages.build.procedure.wire import OPEN_OHM, THROUGH_OHM
from olvask.core.stages.prove.prove_test import ProveTest, look

OFF = "both batteries off, every device out"
# of the body from the unit's earth to the battery's; our own estimate: twice what is reckoned with, and never under 5
BODY_TIMES, BODY_MOHM = 2.0, 5.0
RUN_WORDS: dict[RunName, tuple[str, str]] = {
    "supply": ("start battery", "unit's in"),
    "delivery": ("unit's out", "auxiliary battery"),
}


def dead(ctx: Context) -> Iterator[ProveTest]:
    """With both batteries off."""
    for run in RUNS:
        pieces = ctx.design.run(run).pieces
        if any(isinstance(piece, Cable) for piece in pieces):
            yield from _run(ctx.design, run)
            yield from _body(ctx, run)
        yield from _ratings(run, pieces)
        yield from _tail_ratings(ctx, run)


def _run(design: Design, run: RunName) -> Iterator[ProveTest]:
    first, last = RUN_WORDS[run]
    units, begins = design.units, supply_ends(design)[0] if run == "supply" else f"{first} +"
    short = begins.split(",")[0]
    here, there = (
        f"each {words}" if units > 1 and words.startswith("unit") else f"the {words}" for words in (first, last)
    )
    near, far = ("start_battery", "charger") if run == "supply" else ("charger.out", "auxiliary")
    yield ProveTest(
        key=f"through.{run}",
        group="dead",
        text=f"The {run} run from end to end, the worst of its conductors",
        red=begins,
        black="the same conductor's far end",
        red_at=near,
        black_at=far,
        state=f"{OFF}, then in for this one",
        proves="Nothing is crossed or open.",
        needs="meter, ohms",
        unit="Ω",
        minutes=2.0,
        least=0.0,
        most=THROUGH_OHM,
        fewest=True,
    )
    yield ProveTest(
        key=f"short.{run}",
        group="dead",
        text=f"From + to − of the {run} run, its device out",
        red=f"{run} +",
        black=f"{run} −",
        red_at=near,
        black_at=f"{near}-",
        state=OFF,
        proves="No short waits for a battery.",
        needs="meter, ohms",
        unit="Ω",
        minutes=2.0,
        least=OPEN_OHM,
        fewest=True,
    )
    yield look(
        f"polarity.{run}",
        "dead",
        f"Does {f'{here} +' if begins.startswith(first) else f'the {short}'} reach {there} +, and − the −?",
        OFF,
        "Nothing is turned about: a unit seldom forgives it.",
        1.5,
        needs="meter, ohms",
        red_at=near,
        black_at=far,
        fewest=True,
    )


def _body(ctx: Context, run: RunName) -> Iterator[ProveTest]:
    """The body's own resistance, where it is the return; by a current through it, not by the meter's ohms."""
    back = ctx.design.run(run).back
    if not isinstance(back, ChassisReturn):
        return
    most = max(BODY_MOHM, BODY_TIMES * ctx.state(run).back_ohm * 1000)
    yield ProveTest(
        key=f"bonding.{run}",
        group="dead",
        text=f"The body between the two earths of the {run} run",
        red="earth of the unit",
        black="earth of the battery",
        red_at="charger-" if run == "supply" else "charger.out-",
        black_at="start_battery-" if run == "supply" else "auxiliary-",
        state="both batteries off; 5 A from a supply through the body, millivolts across it divided by 5",
        proves="The body carries the current back.",
        needs="supply, meter",
        unit="mΩ",
        minutes=4.0,
        least=0.0,
        most=round(most, 1),
    )


def _ratings(run: RunName, pieces: tuple[object, ...]) -> Iterator[ProveTest]:
    for piece in pieces:
        device = piece.device if isinstance(piece, Branch) else piece
        if isinstance(device, ProtectiveDevice):
            where = f"branch {piece.called}" if isinstance(piece, Branch) else f"{run} run"
            place = piece.id if isinstance(piece, Branch) else device.id
            yield look(
                f"rating.{place}",
                "dead",
                f"Is {device.rating_a:g} A printed on the device of the {where}?",
                OFF,
                "What protects the cable is what the design says.",
                0.5,
                red_at=place,
                fewest=True,
            )


def _tail_ratings(ctx: Context, run: RunName) -> Iterator[ProveTest]:
    """The device of each unit's own tail, where several units hang on a run."""
    tails = unit_tails(ctx, run)
    if tails is None or tails.device is None:
        return
    yield look(
        f"rating.{run}.tails",
        "dead",
        f"Is {tails.device.rating_a:g} A printed on the device of each unit's own tail, at the {run} bus bar?",
        OFF,
        "One unit's tail is protected for itself: the run's device is too large for it.",
        0.5 * ctx.design.units,
        red_at="charger" if run == "supply" else "charger.out",
        fewest=True,
    )
