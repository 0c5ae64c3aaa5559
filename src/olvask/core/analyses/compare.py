"""Two to four variants of a job side by side: what differs, what it costs, what follows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from olvask.core.analyses.changes import Changed, changes_between
from olvask.core.analyses.week import week_of
from olvask.core.assess import Assessment, assess
from olvask.core.circuit.context import Context
from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import show
from olvask.core.findings.listed import percent
from olvask.core.findings.said import Said
from olvask.core.model import Design
from olvask.core.model.entry_errors import label_of
from olvask.core.stages.build.bill import CATALOGUE_PRICES, Prices, bill_of

MOST = 4
ABSENT = "–"
# figure, and whether more of it is better, worse or neither
CONSEQUENCES: tuple[tuple[str, str | None], ...] = (
    ("output.current_a", None),
    ("idle.input_a", None),
    ("idle.input_v", None),
    ("match.alternator_load_percent", "less"),
    ("supply.drop_percent", "less"),
    ("supply.loss_w", None),
    ("charger.heat_w", None),
    ("energy.recover_h", "less"),
    ("energy.standing_days", "more"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparedRow:
    """One line of a comparison: a value of each variant."""

    path: str
    label: str
    values: tuple[str, ...]
    best: Annotated[tuple[int, ...] | None, Field(description="which variants do best; none where none can be said to")]


class Comparison(Said):
    """Variants of a job side by side, differences only."""

    names: tuple[str, ...]
    differences: tuple[ComparedRow, ...]
    consequences: tuple[ComparedRow, ...]


class TooMany(ValueError):
    """A comparison holds two to four variants."""


def compare(variants: Sequence[tuple[str, Design]], prices: Prices = CATALOGUE_PRICES) -> Comparison:
    """Lay variants side by side.

    Args:
        variants: name and design of each, two to four.
        prices: the workshop's own prices.

    Raises:
        TooMany: fewer than two or more than four.
    """
    if not 2 <= len(variants) <= MOST:
        raise TooMany(f"compare two to {MOST} variants, not {len(variants)}")
    designs = [design for _, design in variants]
    found = [assess(design) for design in designs]
    answer = Comparison(
        names=tuple(name for name, _ in variants),
        differences=tuple(_differences(designs)),
        consequences=tuple(_consequences(designs, found, prices)),
    )
    return spoken(designs[0], answer)


def _differences(designs: Sequence[Design]) -> Iterator[ComparedRow]:
    """Places of the design that are not the same in all, in the screens' words; the unit by its name."""
    names = [design.charger.name if design.charger is not None else "none" for design in designs]
    if len(set(names)) > 1:
        yield ComparedRow(path="charger", label="Unit", values=tuple(names), best=None)
    first, *others = designs
    found = [{one.path: one for one in changes_between(first, other) if one.path != "charger"} for other in others]
    for path in dict.fromkeys(path for one in found for path in one):
        here = next(one[path] for one in found if path in one)
        values = (_before(here), *(_after(one, here) for one in found))
        yield ComparedRow(path=path, label=_label(designs, here), values=values, best=None)


def _before(change: Changed) -> str:
    """What the first variant says of what another changed."""
    return {"added": ABSENT, "removed": "there", "moved": "in this order"}.get(change.how, change.before)


def _after(changes: Mapping[str, Changed], told: Changed) -> str:
    """What a variant says where another differs from the first."""
    change = changes.get(told.path)
    if change is None:
        gone = any(one.how == "removed" and told.path.startswith(f"{one.path}.") for one in changes.values())
        return ABSENT if gone else _before(told)
    return {"added": "there", "removed": ABSENT, "moved": "in another"}.get(change.how, change.after)


def _label(designs: Sequence[Design], change: Changed) -> str:
    """A place in words: of a piece its run and what it is, of anything else what the screens call it."""
    run, _, rest = change.path.partition(".pieces.")
    id, _, key = rest.partition(".")
    found = next((found for design in designs if (found := design.piece(id)) is not None), None) if rest else None
    if found is None:
        return change.what if change.how == "changed" else f"{change.area}: {change.what}"
    name = label_of(type(found[2]), key).lower() if key else change.what
    return f"{run.capitalize()}, piece {found[1] + 1}: {name}"


def _consequences(designs: Sequence[Design], found: Sequence[Assessment], prices: Prices) -> Iterator[ComparedRow]:
    costs = [bill_of(Context.of(design, worded=False), prices).total for design in designs]
    yield _row("cost", "Everything on the bill", [f"{cost:.0f} €" for cost in costs], costs, "less")
    for name, better in CONSEQUENCES:
        figures = [one.figures.get(name) for one in found]
        if all(figure is None for figure in figures):
            continue
        first = next(figure for figure in figures if figure is not None)
        words = ["–" if figure is None else show(figure.value, figure.unit) for figure in figures]
        yield _row(name, first.label, words, [None if item is None else item.value for item in figures], better)
    weeks = [week_of(design) for design in designs]
    yield _row(
        "week",
        "Lowest charge in the week",
        ["–" if week.lowest is None else f"{percent(week.lowest)}" for week in weeks],
        [week.lowest for week in weeks],
        "more",
    )
    binding = [next((limit.label for limit in one.ruler.limits if limit.binding), "") for one in found]
    yield ComparedRow(path="binding", label="What binds", values=tuple(binding), best=None)
    for level in ("stop", "caution"):
        counts = [sum(item.level == level for item in one.findings) for one in found]
        titles = [[item.title for item in one.findings if item.level == level] for one in found]
        words = [
            f"{count}: {'; '.join(names)}" if names else "none" for count, names in zip(counts, titles, strict=True)
        ]
        yield _row(level, f"{level.capitalize()}s", words, [float(count) for count in counts], "less")


def _row(
    path: str, label: str, words: Sequence[str], values: Sequence[float | None], better: str | None
) -> ComparedRow:
    known = [value for value in values if value is not None]
    best = None
    if better is not None and len(known) > 1 and max(known) - min(known) > 1e-9:
        wanted = min(known) if better == "less" else max(known)
        best = tuple(at for at, value in enumerate(values) if value == wanted)
    return ComparedRow(path=path, label=label, values=tuple(words), best=best)
