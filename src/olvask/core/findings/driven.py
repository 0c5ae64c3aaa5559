"""Answers about an engine and its alternator, for a vehicle that has a DC converter in their place.

- `reworded`: every sentence of an answer.
- `reword_of`, `spoken`, `of_its_drive`: where a design's vehicle wants them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass, replace
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

from pydantic import BaseModel

from olvask.core.model import Design
from olvask.core.model.driven import driven

T = TypeVar("T")
P = ParamSpec("P")


def reword_of(design: Design) -> Callable[[str], str] | None:
    """How sentences are said of a design's vehicle: `None` where it has an engine with an alternator.

    Args:
        design: the design.
    """
    return driven if design.vehicle.drive == "converter" else None


def spoken(design: Design, answer: T) -> T:
    """An answer about a design in words of the vehicle it is for.

    Args:
        design: the design.
        answer: in words of an engine.
    """
    reword = reword_of(design)
    return answer if reword is None else reworded(answer, reword)


def of_its_drive(made: Callable[Concatenate[Design, P], T]) -> Callable[Concatenate[Design, P], T]:
    """What makes an answer about a design, made to give it as `spoken`.

    Args:
        made: makes it, in words of an engine.
    """

    @wraps(made)
    def said(design: Design, /, *rest: P.args, **named: P.kwargs) -> T:
        return spoken(design, made(design, *rest, **named))

    return cast(Callable[Concatenate[Design, P], T], said)


def reworded(answer: T, reword: Callable[[str], str] = driven) -> T:
    """An answer with its sentences put in other words; keys, names of one word and paths stay.

    Args:
        answer: a sentence, a record, a model, or a tuple or list of them.
        reword: puts one sentence.
    """
    return cast(T, _reworded(answer, reword))


def _reworded(item: Any, reword: Callable[[str], str]) -> Any:
    if isinstance(item, str):
        return reword(item) if " " in item else item
    if isinstance(item, tuple | list):
        if hasattr(item, "_fields"):
            return type(item)(*(_reworded(each, reword) for each in item))
        return type(item)(_reworded(each, reword) for each in item)
    if is_dataclass(item) and not isinstance(item, type):
        changed = {field.name: getattr(item, field.name) for field in fields(item) if field.init}
        return replace(item, **{name: _reworded(value, reword) for name, value in changed.items()})
    if isinstance(item, BaseModel):
        return item.model_copy(
            update={name: _reworded(getattr(item, name), reword) for name in type(item).model_fields}
        )
    return item
