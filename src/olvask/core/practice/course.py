"""The app's own course through a case, and how another's compares with it.

- `advised`: what is best done next, with the reason.
- `case_of`: a case by level and number: the first draw that its measurements can solve and its symptom alone cannot.
- `Review`, `review`: a whole course against the best next step at each of its steps.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from olvask.core.analyses.diagnosis import Cause, Diagnosis, diagnosed
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.practice.bench import PER_MIN, BadMove, Move, Standing, play
from olvask.core.practice.case import MAY_LIE, Case, Level, drawn

SURE = (
    0.8  # a cause this likely is acted on: one wrong repair in five costs more than another reading; our own estimate
)
ALONE = 0.5  # a cause that the symptom alone makes likelier than not is no case for the upper levels
UPPER: Level = 3
MOST = 30  # steps of the app's own course
DRAWS = 40
GOOD, LITTLE = 0.7, 0.25  # of what the best step would have told; our own estimates


@dataclass(frozen=True, slots=True)
class Advice:
    """What is best done next, why, and what each test would tell [bit/min]."""

    step: Move
    why: str
    worth: Mapping[str, float]


def advised(standing: Standing) -> Advice:
    """What is best done next, by everything known so far.

    Args:
        standing: where one stands.
    """
    case = standing.case
    if case.level == MAY_LIE and not standing.sound:
        return Advice(
            Move("check_meter"), "A meter may lie: three minutes settle it before anything is judged by it.", {}
        )
    found, worth = diagnosed(case.ctx, standing.readings, standing.symptoms, standing.shown)
    acted = _acted_on(standing, found)
    if acted is not None:
        return Advice(*acted, worth)
    if found.next:
        apart = " and ".join(cause.words for cause in found.causes[:2])
        why = f"It tells most between: {apart}." if len(found.causes) > 1 else "It tells most."
        return Advice(Move("measure", found.next), why, worth)
    likeliest = next((cause for cause in found.causes if cause.key not in standing.mended), None)
    if likeliest is None or likeliest.key == "healthy":
        return Advice(Move("hand_back"), "Nothing that could be measured speaks against it.", worth)
    return Advice(Move("mend", _single(standing, likeliest)), f"Likeliest of what is left: {likeliest.words}.", worth)


def _acted_on(standing: Standing, found: Diagnosis) -> tuple[Move, str] | None:
    """The cure or the hand-back that what was read makes sure of; `None` where nothing is sure yet."""
    if not standing.readings:
        return None
    open_ = [cause for cause in found.causes if cause.key not in standing.mended]
    if not open_:
        return None
    alike = [cause for cause in open_ if cause.together] or open_[:1]
    share = sum(cause.share for cause in alike)
    if share < SURE:
        return None
    if alike[0].key == "healthy":
        return Move("hand_back"), f"What was read since says, {percent(share)}, that nothing is wrong any more."
    cheapest = min(alike, key=lambda cause: _price(standing, cause))
    words = " or ".join(cause.words for cause in alike)
    return Move(
        "mend", _single(standing, cheapest)
    ), f"{words[:1].upper()}{words[1:]}: {percent(share)} by what was read."


def _single(standing: Standing, cause: Cause) -> str:
    """The cure of a cause; of two at once the one that is not done yet."""
    return next((key for key in cause.key.split("+") if key not in standing.mended), cause.key.split("+")[0])


def _price(standing: Standing, cause: Cause) -> float:
    cure = standing.cures.get(_single(standing, cause))
    return float("inf") if cure is None else PER_MIN * cure.minutes + cure.price


def own_course(case: Case) -> Standing:
    """The app's own course through a case, to the hand-back or to where it goes on without end.

    Args:
        case: the vehicle.
    """
    standing = Standing(case)
    while not standing.over and len(standing.told) < MOST:
        standing.do(advised(standing).step)
    return standing


def finding_min(standing: Standing) -> float:
    """Minutes until the last thing that was wrong was named: cures and proof apart.

    Args:
        standing: a course that is over.
    """
    wrong = {item.fault.key for item in standing.case.hidden}
    last = max((at for at, told in enumerate(standing.told) if told.step.what in wrong), default=len(standing.told))
    return sum(told.minutes for told in standing.told[:last] if told.step.kind in ("measure", "check_meter"))


@lru_cache(maxsize=32)
def case_of(level: Level, number: int) -> tuple[Case, Standing]:
    """A case and the app's own course through it.

    Args:
        level: how hard.
        number: which, from 1.

    Raises:
        LookupError: no draw of it will do, which does not happen.
    """
    for draw in range(DRAWS):
        case = drawn(level, number, draw)
        if case is None or (level >= UPPER and _told_alone(case)):
            continue
        course = own_course(case)
        if course.solved:
            return case, course
    raise LookupError(f"case {level}-{number} cannot be made")


def _told_alone(case: Case) -> bool:
    """Whether symptom and display alone say what it is."""
    found, _ = diagnosed(case.ctx, {}, case.symptoms, case.shown(frozenset()))
    first = next((cause for cause in found.causes if cause.key != "healthy"), None)
    return first is not None and first.share >= ALONE


class Reviewed(Said):
    """One step of a course beside the best next one."""

    words: str
    best: str
    why: str
    told: float | None
    text: str


class Review(Said):
    """A whole course.

    `score` is 100 for what costs no more than the app's own course, and falls as minutes and money are lost; a vehicle
    that comes back scores nothing.
    """

    solved: bool
    score: int
    minutes: float
    price: float
    best_minutes: float
    best_price: float
    wrong: tuple[str, ...]
    steps: tuple[Reviewed, ...]
    best: tuple[str, ...]


def scored(standing: Standing, best: Standing) -> int:
    """0 to 100.

    Args:
        standing: a course that is over.
        best: the app's own.
    """
    return round(100 * min(1.0, best.cost / max(standing.cost, 1e-9))) if standing.solved else 0


def review(level: Level, number: int, steps: Sequence[Move]) -> Review:
    """A course that is over, step by step.

    Args:
        level: how hard.
        number: which case.
        steps: what was done.

    Raises:
        BadMove: one of them is none of this case, or it is not over.
    """
    case, best = case_of(level, number)
    ended = play(case, steps)
    if not ended.over:
        raise BadMove("Hand the vehicle back first; then the course is read.")
    standing, read = Standing(case), []
    for step in steps:
        advice = advised(standing)
        told = standing.do(step)
        read.append(_reviewed(standing, step, told.words, advice))
    return Review(
        solved=ended.solved,
        score=scored(ended, best),
        minutes=ended.minutes,
        price=ended.price,
        best_minutes=best.minutes,
        best_price=best.price,
        wrong=tuple(item.fault.words for item in case.hidden),
        steps=tuple(read),
        best=tuple(told.words for told in best.told),
    )


def _reviewed(standing: Standing, step: Move, words: str, advice: Advice) -> Reviewed:
    named = _named(standing, advice.step)
    worth = [advice.worth[key] for key in (step.what, advice.step.what) if key in advice.worth]
    told = None
    if (step.kind, step.what) == (advice.step.kind, advice.step.what):
        text = "As good as any."
        told = 1.0
    elif step.kind == "mend":
        right = step.what in {item.fault.key for item in standing.case.hidden}
        text = "Right, and sooner than what was read made sure." if right else "It was not that: time and money lost."
    elif step.kind == "hand_back":
        text = (
            "Nothing was wrong any more, though it was not proven." if standing.solved else "Something was still wrong."
        )
    elif step.kind == "check_meter":
        text = "A check costs three minutes; it was not needed again."
    elif len(worth) == 2 and worth[1] > 0:
        told = max(0.0, min(1.0, worth[0] / worth[1]))
        text = (
            "Nearly as good."
            if told >= GOOD
            else "It told something."
            if told >= LITTLE
            else "It told next to nothing."
        )
    else:
        text = "It told next to nothing that was not known."
    return Reviewed(words=words, best=named, why=advice.why, told=told, text=text)


def _named(standing: Standing, step: Move) -> str:
    if step.kind == "measure":
        return standing.tests[step.what].text
    if step.kind == "mend":
        return standing.cures[step.what].text
    return "Check the meter against another" if step.kind == "check_meter" else "Hand the vehicle back"
