"""Gathers what the judges yield: figures by name, and findings, in the order they come.

- `Collector`: takes them, stage by stage.
- `collect`: runs judges over one context.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import TypeVar

from olvask.core.findings.driven import reworded
from olvask.core.findings.figure import Figure, Input, Reckoned, seal
from olvask.core.findings.finding import Finding, Found, Stage

Judged = Iterator[Reckoned | Found]
Context = TypeVar("Context")


class Collector:
    """Figures and findings of one design."""

    def __init__(self, remedies: bool = True, words: bool = True, reword: Callable[[str], str] | None = None) -> None:
        """Begin empty; `remedies` says whether remedies left to a function are searched for, `words` whether figures
        are put into words, `reword` how every sentence is said of this vehicle."""
        self.remedies, self.words, self.reword = remedies, words, reword
        self.figures: dict[str, Figure] = {}
        self.findings: list[Finding] = []

    def take(self, stage: Stage, judged: Iterable[Reckoned | Found]) -> None:
        """Take what a judge yields.

        Args:
            stage: stage of the job the judge stands in.
            judged: its figures and findings.

        Raises:
            KeyError: a figure's input names a figure not yet taken.
        """
        for said in judged:
            if isinstance(said, Reckoned):
                self.figures[said.name] = self._figure(said)
            else:
                self.findings.append(self._finding(stage, said))

    def _figure(self, said: Reckoned) -> Figure:
        """A figure as it leaves: with its words where they are wanted, the figures it names as inputs put in, sealed."""
        label = said.label if self.reword is None else self.reword(said.label)
        if not self.words:
            return seal(Figure(said.name, label, said.value, said.unit))
        told = said.words() if self.reword is None else reworded(said.words(), self.reword)
        inputs = tuple([self._input(item) for item in told.inputs])
        return seal(
            Figure(
                said.name, label, said.value, said.unit, told.formula, told.working, inputs, told.source, told.changes
            )
        )

    def _input(self, item: Input) -> Input:
        if item.label:
            return item
        named = self.figures[item.path]
        return Input(named.label, "none" if named.value is None else named.value, named.unit, "computed", item.path)

    def _finding(self, stage: Stage, found: Found) -> Finding:
        remedies = found.remedies
        if not self.remedies:
            remedies = ()
        elif callable(remedies):
            remedies = remedies()
        title, text = found.title, found.text
        if self.reword is not None:
            title, text = self.reword(title), self.reword(text)
            remedies = [replace(item, label=self.reword(item.label)) for item in remedies if item is not None]
        return Finding(
            id=found.id,
            level=found.level,
            stage=stage,
            place=found.place,
            title=title,
            text=text,
            concerns=found.concerns,
            remedies=tuple(item for item in remedies if item is not None),
        )


def collect(
    ctx: Context,
    judges: Mapping[Stage, Sequence[Callable[[Context], Judged]]],
    remedies: bool = True,
    words: bool = True,
    reword: Callable[[str], str] | None = None,
) -> Collector:
    """Run judges over one context, in their order.

    Args:
        ctx: what each judge gets.
        judges: by stage.
        remedies: whether remedies left to a function are searched for.
        words: whether figures are put into words.
        reword: how every sentence is said of this vehicle; `None` where it has an engine.
    """
    collector = Collector(remedies, words, reword)
    for stage, ordered in judges.items():
        for judge in ordered:
            collector.take(stage, judge(ctx))
    return collector
