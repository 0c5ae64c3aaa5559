"""What is taken out of use is as if it had never been there, but for the work of taking it out."""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import Any

import pytest

from olvask.core.analyses.audit_sources import sources_of
from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design, Existing
from olvask.core.model.base import choices_of
from olvask.core.simulate.trip import drive
from olvask.core.stages.build.bill import bill_of
from olvask.core.stages.build.labour import labour_of
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.settings.monitor import monitor_of
from olvask.core.stages.settings.sheet import devices_of
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.method import advise
from tests.core.analyses.test_recommended import survey

KINDS = sorted(choices_of(Existing, "kind"))
HEAD = QuoteHead("Peat-survey pickup", "PS-064", "Hollin Moss", "2031-05-01", "2031-06-01")
STANDS = {"kind": "link", "name": "relay under the seat", "carries": ["fridge"]}


def pair(seed: int, kind: str, decision: str) -> tuple[Design, Design]:
    """A job as surveyed with an old link in use, and the same with another thing noted whose feed is cut, before it."""
    plain = survey(random.Random(seed))[0].model_dump(mode="json")
    plain |= {"existing": [STANDS | {"id": "e1"}], "old_link": {"decision": decision}}
    plain["use"]["mains_h"] = 0.0
    cut = {"id": "e2", "kind": kind, "cut": True, "charge_a": 12.0, "carries": ["lamp", "upkeep"]}
    return Design.model_validate(plain), Design.model_validate(plain | {"existing": [cut, *plain["existing"]]})


REPORTS: dict[str, Callable[[Design], Any]] = {
    "judged": lambda job: assess(job).model_dump(),
    "tests": lambda job: listed(Context.of(job)),
    "ways to start": advise,
    "old link": plan_existing_link,
    "causes": lambda job: [fault.words for fault in faults_of(Context.of(job))],
    "sources": lambda job: [item.label for item in sources_of(job, Context.of(job).solved)],
    "menus": devices_of,
    "monitor": lambda job: monitor_of(Context.of(job)),
    "offer": lambda job: [option.will_not for option in quote_of(HEAD, [("as surveyed", job)]).options],
    "parts": lambda job: bill_of(Context.of(job)),
}


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("report", REPORTS)
def test_nothing_is_judged_by_it(kind: str, report: str) -> None:
    """Figures, findings, tests, advice, causes and parts are those of the job without it."""
    for seed, decision in ((1, "keep"), (2, "disconnect"), (3, "changeover")):
        without, noted = pair(seed, kind, decision)
        assert REPORTS[report](noted) == REPORTS[report](without)


@pytest.mark.parametrize("kind", KINDS)
def test_the_day_goes_the_same(kind: str) -> None:
    """Driven, it neither gives nor takes."""
    without, noted = pair(1, kind, "keep")
    day = survey(random.Random(1))[1]
    assert drive(noted, day) == drive(without, day)


@pytest.mark.parametrize("kind", KINDS)
def test_it_is_work_to_take_it_out(kind: str) -> None:
    """The work on it is a step more and nothing less, and its hours are paid."""
    without, noted = pair(2, kind, "keep")
    more, less = Context.of(noted), Context.of(without)
    steps = [[item.step.key for item in procedure_of(ctx).procedure.steps] for ctx in (more, less)]
    assert set(steps[0]) > set(steps[1])
    assert sum(row.hours for row in labour_of(more)) > sum(row.hours for row in labour_of(less))


def test_a_link_that_is_disconnected_is_work_as_well() -> None:
    """Decided upon or ticked, taking it out takes the same time."""
    hours = []
    for link, decision in (({}, "disconnect"), ({"cut": True}, "keep"), ({}, "keep")):
        plain = survey(random.Random(2))[0].model_dump(mode="json")
        job = plain | {"existing": [STANDS | {"id": "e1"} | link], "old_link": {"decision": decision}}
        hours.append(sum(row.hours for row in labour_of(Context.of(Design.model_validate(job)))))
    assert hours[0] == hours[1] > hours[2]


@pytest.mark.parametrize("decision", ["disconnect", "changeover", "keep"])
@pytest.mark.parametrize("report", REPORTS)
def test_a_decision_on_no_link_decides_nothing(decision: str, report: str) -> None:
    """Left over from a link that is no longer noted, or whose feed is cut: no relay, no test, no hours."""
    plain = survey(random.Random(3))[0].model_dump(mode="json")
    bare = Design.model_validate(plain | {"existing": [], "old_link": {}})
    left = Design.model_validate(plain | {"existing": [], "old_link": {"decision": decision}})
    if report != "old link":  # it shows what was decided
        assert REPORTS[report](left) == REPORTS[report](bare)
    steps = [[item.step for item in procedure_of(Context.of(job)).procedure.steps] for job in (left, bare)]
    assert steps[0] == steps[1]
    assert labour_of(Context.of(left)) == labour_of(Context.of(bare))
