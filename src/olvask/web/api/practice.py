"""Practice: cases and drills, what was done of them, and sets that a teacher fixed."""

from __future__ import annotations

import csv
import io
import re
from datetime import datetime
from typing import Annotated, Literal

from flask import Response
from pydantic import Field, StringConstraints, field_validator

from olvask.core.model import Design
from olvask.core.model.base import Described, choice, whole
from olvask.core.practice.bench import Move, Seen, Standing, Told, play
from olvask.core.practice.case import LEVELS, Level
from olvask.core.practice.course import Review, case_of, review
from olvask.core.practice.drills import KINDS, Answer, Drill, DrillKind, Judged, drill_of, judged
from olvask.core.practice.drills.drill import NoSuchDrill, facts_of
from olvask.documents.csv_text import defused
from olvask.store.practice import Attempt
from olvask.web.api.blueprint import api
from olvask.web.reach import answer_json, in_turn, stores
from olvask.web.repeated import once_a_name
from olvask.web.shapes import MOST_READING, Out
from olvask.web.signing_in import owner_only, person

MOST_NUMBER = 1_000_000
EXERCISE = rf"case [1-6]-[1-9][0-9]{{0,6}}|(?:{'|'.join(KINDS)}) [1-9][0-9]{{0,6}}"


class MoveIn(Described):
    """One thing done to a vehicle."""

    kind: Literal["measure", "check_meter", "mend", "hand_back"] = choice(
        "Step", {"measure": "measure", "check_meter": "check the meter", "mend": "mend", "hand_back": "hand it back"}
    )
    what: str = Field("", title="What", max_length=60)
    value: float | None = Field(None, title="Own reading", ge=-MOST_READING, le=MOST_READING)


class CourseIn(Described):
    """A case and everything done to it so far."""

    level: Literal[1, 2, 3, 4, 5, 6] = choice("Level", LEVELS)
    number: int = whole("Number", "", default=1, example=1, ge=1, le=MOST_NUMBER)
    steps: tuple[MoveIn, ...] = Field((), title="Steps", max_length=60)
    by: str = Field("", title="Your name or initials", max_length=80)

    @property
    def course(self) -> list[Move]:
        """The steps."""
        return [Move(item.kind, item.what, item.value) for item in self.steps]


class PracticeTest(Out):
    """Something that can be measured."""

    key: str
    text: str
    group: str
    where: str
    state: str
    unit: str
    minutes: float


class PracticeCure(Out):
    """Something that can be done to the vehicle."""

    key: str
    words: str
    text: str
    minutes: float
    price: float


class CaseOut(Out):
    """A vehicle in practice, as far as one knows it."""

    name: str
    vehicle: str
    story: str
    shown: tuple[str, ...]
    facts: tuple[str, ...]
    tests: tuple[PracticeTest, ...]
    cures: tuple[PracticeCure, ...]
    told: tuple[Told, ...]
    minutes: float
    price: float
    over: bool
    line: tuple[Seen, ...]
    design: Design


class PracticeOut(Out):
    """What there is to practise."""

    levels: dict[int, str]
    drills: dict[str, str]


class DrillIn(Described):
    """An answer to a drill."""

    kind: DrillKind = choice("Drill", KINDS)
    number: int = whole("Number", "", default=1, example=1, ge=1, le=MOST_NUMBER)
    numbers: tuple[float, ...] = Field((), title="Numbers", max_length=4)
    chosen: str = Field("", title="Answer", max_length=80)
    order: tuple[str, ...] = Field((), title="Order", max_length=12)
    by: str = Field("", title="Your name or initials", max_length=80)


class AttemptOut(Out):
    """One exercise done."""

    at: datetime
    by: str
    name: str
    right: bool
    score: int
    minutes: float
    price: float

    @classmethod
    def of(cls, attempt: Attempt) -> AttemptOut:
        """From the store's."""
        return cls(**{name: getattr(attempt, name) for name in cls.model_fields})


class Attempts(Out):
    """What was done, newest first."""

    attempts: tuple[AttemptOut, ...]


class WhoseQuery(Described):
    """Whose attempts."""

    by: str = Field("", title="Your name or initials", max_length=80)


class SetIn(Described):
    """A set of exercises to fix."""

    name: str = Field(title="Name of the set", min_length=1, max_length=80)
    items: tuple[Annotated[str, StringConstraints(max_length=40)], ...] = Field(
        title="Exercises", min_length=1, max_length=100
    )

    @field_validator("items")
    @classmethod
    def _named(cls, items: tuple[str, ...]) -> tuple[str, ...]:
        for item in items:
            if not re.fullmatch(EXERCISE, item):
                raise ValueError(
                    f"“{item}” names no exercise; write a case by level and number, such as case 3-17, or a drill and its "
                    "number, such as size 4"
                )
        return items


class SetOut(Out):
    """A set of exercises."""

    id: int
    name: str
    items: tuple[str, ...]


class Sets(Out):
    """Every set, by name."""

    sets: tuple[SetOut, ...]


def _who(by: str) -> str:
    signed = person()
    return signed.name if signed is not None else by.strip()


def _attempts(by: str) -> list[Attempt]:
    """What somebody has done; nothing where nobody is named."""
    who = _who(by)
    return stores().practice.attempts(who) if who else []


def _case_out(level: Level, number: int, standing: Standing) -> CaseOut:
    case = standing.case
    return CaseOut(
        name=f"{level}-{number}",
        vehicle=case.vehicle.name,
        story=case.story,
        shown=standing.shown,
        facts=facts_of(case.vehicle.design),
        tests=tuple(
            PracticeTest(
                key=test.key,
                text=test.text,
                group=test.group,
                where=", ".join(
                    filter(None, (f"red: {test.red}" if test.red else "", f"black: {test.black}" if test.black else ""))
                ),
                state=test.state,
                unit=test.unit,
                minutes=test.minutes,
            )
            for test in standing.tests.values()
        ),
        cures=tuple(
            PracticeCure(key=cure.key, words=cure.words, text=cure.text, minutes=cure.minutes, price=cure.price)
            for cure in standing.cures.values()
        ),
        told=tuple(standing.told),
        minutes=standing.minutes,
        price=standing.price,
        over=standing.over,
        design=case.vehicle.design,
        line=standing.line,
    )


@api.get("/practice")
@api.output(PracticeOut)
def practice() -> Response:
    """Levels of cases and kinds of drills."""
    return answer_json(PracticeOut(levels=dict(LEVELS), drills=dict(KINDS)))


@api.post("/practice/case")
@api.input(CourseIn, arg_name="asked")
@api.output(CaseOut)
def practice_case(asked: CourseIn) -> Response:
    """A case with everything done so far; nothing is kept."""
    with in_turn():  # a vehicle is made and tried before it is shown
        case, _ = case_of(asked.level, asked.number)
    return answer_json(_case_out(asked.level, asked.number, play(case, asked.course)))


@api.post("/practice/case/ended")
@api.input(CourseIn, arg_name="asked")
@api.output(Review)
def practice_ended(asked: CourseIn) -> Response:
    """Read a whole course against the best next step at each, and keep what came of it for whoever is named."""
    with in_turn():
        found = review(asked.level, asked.number, asked.course)
    if who := _who(asked.by):
        name, document = f"case {asked.level}-{asked.number}", asked.model_dump_json(include={"steps"})
        stores().practice.note(who, name, found.solved, found.score, found.minutes, found.price, document)
    return answer_json(found)


@api.get("/practice/drill/<string:kind>/<int:number>")
@api.output(Drill)
def practice_drill(kind: str, number: int) -> Response:
    """A drill's question."""
    if kind not in KINDS or not 1 <= number <= MOST_NUMBER:
        raise NoSuchDrill(f"no drill {kind} {number}")
    return answer_json(drill_of(kind, number))  # type: ignore[arg-type]  # one of the kinds


@api.post("/practice/drill")
@api.input(DrillIn, arg_name="asked")
@api.output(Judged)
def practice_answer(asked: DrillIn) -> Response:
    """Judge an answer by what judges designs, work it through, and keep what came of it for whoever is named."""
    found = judged(asked.kind, asked.number, Answer(numbers=asked.numbers, chosen=asked.chosen, order=asked.order))
    if who := _who(asked.by):
        name, document = f"{asked.kind} {asked.number}", asked.model_dump_json(include={"numbers", "chosen", "order"})
        stores().practice.note(who, name, found.right, 100 if found.right else 0, 0.0, 0.0, document)
    return answer_json(found)


@api.get("/practice/attempts")
@api.input(WhoseQuery, location="query", arg_name="query")
@api.output(Attempts)
def practice_attempts(query: WhoseQuery) -> Response:
    """What somebody has done, newest first."""
    return answer_json(Attempts(attempts=tuple(AttemptOut.of(item) for item in _attempts(query.by))))


@api.get("/practice/attempts.csv")
@api.input(WhoseQuery, location="query", arg_name="query")
def practice_attempts_file(query: WhoseQuery) -> Response:
    """What somebody has done, as CSV."""
    return _csv(_attempts(query.by))


@api.get("/practice/sets")
@api.output(Sets)
def practice_sets() -> Response:
    """Every set."""
    found = stores().practice.sets()
    return answer_json(Sets(sets=tuple(SetOut(id=item.id, name=item.name, items=item.items) for item in found)))


@api.post("/practice/sets")
@api.input(SetIn, arg_name="asked")
@api.output(SetOut)
@owner_only
@once_a_name
def fix_set(asked: SetIn) -> Response:
    """Fix a set of exercises by their names."""
    found = stores().practice.fix(asked.name.strip(), asked.items)
    return answer_json(SetOut(id=found.id, name=found.name, items=found.items))


@api.delete("/practice/sets/<int:set_id>")
@api.output({}, status_code=204)
@owner_only
def drop_set(set_id: int) -> Response:
    """Take a set out; what was done of it stays."""
    stores().practice.drop(set_id)
    return Response(status=204)


@api.get("/practice/sets/<int:set_id>/results.csv")
@owner_only
def set_results(set_id: int) -> Response:
    """What everybody has done of a set, as CSV."""
    found = stores().practice.set(set_id)
    return _csv(stores().practice.attempts(names=found.items))


def _csv(attempts: list[Attempt]) -> Response:
    out = io.StringIO()
    write = csv.writer(out)
    write.writerow(["when", "who", "exercise", "solved", "score", "minutes", "parts"])
    for item in reversed(attempts):
        solved = "yes" if item.right else "no"
        cells = (
            item.at.isoformat(timespec="seconds"),
            item.by,
            item.name,
            solved,
            item.score,
            item.minutes,
            item.price,
        )
        write.writerow([defused(cell) for cell in cells])
    return Response(out.getvalue(), mimetype="text/csv")
