"""No sentence, label or remedy holds a key of the model: what is chosen has its own words everywhere."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator

import pytest

from olvask.core.analyses.changes import changes_between
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.labour import labour_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as every_test
from tests.anything import anything
from tests.core.analyses.test_recommended import survey

KEY = re.compile(r"\b[a-z]+(_[a-z0-9]+)+\b")


def sentences(design: Design) -> Iterator[str]:
    """Everything that is said of a design."""
    ctx = Context.of(design)
    found = assess(design)
    for item in found.findings:
        yield from (item.title, item.text, *(remedy.label for remedy in item.remedies))
    for figure in found.figures.values():
        yield from (
            figure.label,
            figure.working,
            figure.formula,
            figure.changes,
            *(item.label for item in figure.inputs),
        )
    for fact in found.facts.values():
        yield fact.label
    for placed in procedure_of(ctx).procedure.steps:
        yield from (placed.step.text, placed.step.why, placed.step.number, *placed.step.see)
    for row in labour_of(ctx):
        yield from (row.what, row.detail)
    for part in bill_of(ctx).parts:
        yield from (part.what, part.detail)
    for test in every_test(ctx):
        yield from (test.text, test.red, test.black, test.state, test.proves, *test.answers)


@pytest.mark.parametrize("batch", range(4))
def test_no_key_is_said_aloud(batch: int) -> None:
    """ "d plus" stood on a quote, "under_floor" in a drill: of designs of any kind no sentence holds such a word."""
    for at in range(6):
        seed = 10 * batch + at
        for design in (anything(seed), survey(random.Random(seed))[0]):
            for text in sentences(design):
                assert not KEY.search(text), text


def test_nor_in_what_changed() -> None:
    """Labels and values of everything that differs between two designs."""
    for seed in range(12):
        for change in changes_between(anything(seed), anything(100 + seed)):
            assert not KEY.search(f"{change.what} {change.before} {change.after}"), change
