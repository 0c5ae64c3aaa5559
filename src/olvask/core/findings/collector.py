"""Where the rules write down what they find: figures and findings, in the order they come."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from olvask.core.findings.assessment import Change, Finding, Level, Stage, WayOut
from olvask.core.findings.figure import Figure, Input

Ways = Iterable[WayOut | None] | Callable[[], Iterable[WayOut | None]]


class Ledger:
    """Collects figures by name and findings; a name is written once.

    Ways out cost a search each, figures their words. A ledger kept for its verdicts alone leaves both out:
    ways out given as a function are not searched for, and rules may skip what only writes figures.
    """

    def __init__(self, verdicts_only: bool = False) -> None:
        """Begin empty."""
        self.verdicts_only = verdicts_only
        self.figures: dict[str, Figure] = {}
        self.findings: list[Finding] = []

    def figure(
        self,
        name: str,
        label: str,
        value: float | None,
        unit: str,
        *,
        formula: str = "",
        working: str = "",
        inputs: Iterable[Input | str] = (),
        source: str = "",
        changes: str = "",
    ) -> float | None:
        """Write a figure down and hand its value back.

        Args:
            name: stable dotted name.
            label: what it is.
            value: the number, `None` where there is none.
            unit: unit symbol.
            formula: rule in symbols.
            working: rule in numbers.
            inputs: facts, or names of figures already written.
            source: where the rule comes from.
            changes: what would change the verdict.

        Raises:
            KeyError: an input names a figure not yet written.
        """
        if self.verdicts_only:
            return value
        resolved = tuple(item if isinstance(item, Input) else self._as_input(item) for item in inputs)
        self.figures[name] = Figure(name, label, value, unit, formula, working, resolved, source, changes)
        return value

    def _as_input(self, name: str) -> Input:
        figure = self.figures[name]
        return Input(figure.label, "none" if figure.value is None else figure.value, figure.unit, "computed", name)

    def finding(
        self, id: str, level: Level, stage: Stage, place: str, title: str, text: str, ways_out: Ways = ()
    ) -> None:
        """Write a finding down; ways out that could not be computed are passed over.

        Args:
            id: stable dotted name, ending in the place where it may occur more than once.
            level: stop, caution or note.
            stage: stage of the job it belongs to.
            place: station or piece on the level line.
            title: what, in a few words.
            text: where and why, in numbers.
            ways_out: computed remedies, or a function that searches for them.
        """
        if callable(ways_out):
            ways_out = () if self.verdicts_only else ways_out()
        found = tuple(way for way in ways_out if way is not None)
        self.findings.append(
            Finding(id=id, level=level, stage=stage, place=place, title=title, text=text, ways_out=found)
        )


def way_out(label: str, *changes: tuple[str, object]) -> WayOut:
    """Put a remedy together from (dotted path, value) pairs."""
    return WayOut(label=label, changes=tuple(Change(path=path, value=value) for path, value in changes))
