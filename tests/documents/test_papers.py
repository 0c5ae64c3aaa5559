"""What stands on the papers of Prove and of Hand over: every reading kept, what is draft and what is signed, plain words."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import pytest
from pypdfium2 import PdfDocument

from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.analyses.signing import Acceptance, CannotSign, Signature, acceptances, check, proven
from olvask.core.assess import assess
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.build.progress import Entry, EntryKind, StepState, left_of, progress_of
from olvask.core.stages.prove.noted import readings_of
from olvask.core.stages.prove.report import Proof, prove
from olvask.documents.customer import CustomerHead, customer_pdf
from olvask.documents.report import ReportHead, report_pdf
from olvask.documents.schedules import tests_csv as record_csv
from olvask.documents.test_record import RecordHead, record_pdf
from olvask.store.demo import demo_designs
from tests.papers import leaves, words_of


@cache
def van() -> Design:
    return next(design for heading, design in demo_designs() if heading.code == "KV-118")


Row = tuple[str, EntryKind, float | None, str, str]


def noted(*rows: Row) -> tuple[StepState, ...]:
    """Entries of Prove: step, kind, value, words, minute."""
    return progress_of(
        Entry(
            id=f"entry-{at:04}",
            procedure="Prove",
            step=step,
            kind=kind,
            text=text,
            value=value,
            unit="V",
            photo="",
            by="E.K.",
            at=f"2031-05-01T10:{minute}:00+00:00",
        )
        for at, (step, kind, value, text, minute) in enumerate(rows)
    )


READ: tuple[Row, ...] = (
    ("supply_back_mv", "reading", 640.0, "Rig meter, 4 readings", "01"),
    ("cure", "note", None, "Mended: bad joint in the return of the supply", "05"),
    ("supply_back_mv", "reading", 171.0, "", "09"),
    ("posts_v", "reading", 13.7, "", "10"),
    ("posts_v", "reading", 13.74, "", "11"),
)


def judged(states: tuple[StepState, ...]) -> Proof:
    return prove(Context.of(van()), dict(readings_of(states)))


def test_readings_before_the_cure_are_kept_and_no_longer_count() -> None:
    """They stand on paper and in the file with their meter; the verdict is that of what was read after."""
    states = noted(*READ)
    assert readings_of(states) == [("supply_back_mv", 171.0), ("posts_v", 13.7), ("posts_v", 13.74)]
    found = judged(states)
    paper = words_of(
        record_pdf(RecordHead(title="Van", code="V-1", customer="C", printed="2031-05-02"), van(), found, states)
    )
    for words in (
        "640 mV",
        "before the cure",
        "Rig meter",
        "171 mV",
        "measured again",
        "Mended: bad joint",
        "engine at hot idle, lights and blower on",
        "measured by E.K.",
    ):
        assert words in paper
    rows = record_csv(found, states).splitlines()
    assert [row.rsplit(",", 1)[1] for row in rows[1:]] == ["measured again", "right", "before the cure", "right"]


CAME_BACK: tuple[Row, ...] = (("visit", "done", None, "", "20"), ("posts_v", "reading", 12.9, "", "21"))


def test_a_new_visit_judges_what_is_read_from_then_on() -> None:
    """A year later the vehicle is another: what was read before stays on paper with its reason; taken back, it counts again."""
    states = noted(*READ, *CAME_BACK)
    assert readings_of(states) == [("posts_v", 12.9)]
    found = judged(states)
    paper = words_of(
        record_pdf(RecordHead(title="Van", code="V-1", customer="C", printed="2031-05-02"), van(), found, states)
    )
    for words in ("Came back", "640 mV", "before the cure", "171 mV", "an earlier visit"):
        assert words in paper
    last = [row.rsplit(",", 1)[1] for row in record_csv(found, states).splitlines()[1:]]
    assert last[:2] == ["an earlier visit", "an earlier visit"]
    assert last[2] in ("right", "doubtful", "wrong")
    assert last[3:] == ["before the cure", "an earlier visit"]
    taken_back = noted(*READ, *CAME_BACK, ("visit", "open", None, "", "22"))
    assert readings_of(taken_back)[0] == ("supply_back_mv", 171.0)


def test_only_the_last_visit_is_taken_back() -> None:
    twice: tuple[Row, ...] = (
        CAME_BACK[0],
        CAME_BACK[1],
        ("visit", "done", None, "", "30"),
        ("posts_v", "reading", 13.1, "", "31"),
    )
    assert readings_of(noted(*READ, *twice)) == [("posts_v", 13.1)]
    assert readings_of(noted(*READ, *twice, ("visit", "open", None, "", "32"))) == [
        ("posts_v", 12.9),
        ("posts_v", 13.1),
    ]


def test_of_two_cures_the_last_counts_and_none_of_another_book() -> None:
    """What was read between them is of a vehicle still broken; a visit of the logbook, or a cure told elsewhere, is only a note."""
    cured_again: Row = ("cure", "note", None, "Mended: the other joint", "12")
    after: Row = ("posts_v", "reading", 13.8, "", "13")
    assert readings_of(noted(*READ, cured_again, after)) == [("posts_v", 13.8)]
    elsewhere = [replace(state, procedure="Logbook") for state in noted(cured_again, ("visit", "done", None, "", "14"))]
    assert readings_of([*noted(*READ), *elsewhere]) == readings_of(noted(*READ))


def report(signature: Signature | None, changes: tuple[str, ...] = ()) -> str:
    left = left_of(procedure_of(Context.of(van())).procedure, ())
    head = ReportHead(
        title="Van",
        code="V-1",
        customer="C",
        printed="2031-05-02",
        version=3,
        checksum="0123456789abcdef" * 4,
        changes=changes,
        since="version 2, signed by M.T.",
    )
    return words_of(report_pdf(head, van(), assess(van()), judged(noted(*READ)), (), left, signature))


def test_a_report_is_a_draft_until_it_is_signed() -> None:
    """Everything stands in it; the signature, what was accepted and what changed only where they are."""
    draft = report(None)
    for words in (
        "Draft: this revision",
        "checksum 01234567 89abcdef",
        "S1+",
        "Redshank",
        "Near plastic or cloth",
        "Workings",
    ):
        assert words in draft
    signed = Signature(
        number=4,
        version=3,
        by="E. Kestrel",
        at="2031-05-02T11:00:00+00:00",
        meter="Bench meter 2",
        accepted=(Acceptance(id="x", title="Near plastic or cloth", text="Board between."),),
        proven=True,
        checksum="0123456789abcdef" * 4,
    )
    done = report(signed, ("Supply run, 35 mm²: One-way length: 4.9 m → 5.6 m",))
    assert "Draft" not in done
    for words in (
        "Signed off, no. 4, by E. Kestrel",
        "Bench meter 2",
        "Accepted one by one",
        "Board between",
        "Changed since version 2",
    ):
        assert words in done


def test_a_report_has_bookmarks_and_a_title() -> None:
    """A reader's program finds its way: title, outline, tags."""
    left = left_of(procedure_of(Context.of(van())).procedure, ())
    head = ReportHead(
        title="Van", code="", customer="", printed="2031-05-02", version=1, checksum="00" * 32, changes=(), since=""
    )
    pdf = PdfDocument(report_pdf(head, van(), assess(van()), judged(()), (), left, None))
    assert pdf.get_metadata_value("Title") == "Report Van"
    assert len(list(pdf.get_toc())) >= 1
    assert pdf.is_tagged()


@pytest.mark.parametrize("at", range(5))
def test_the_customers_page_is_one_page_for_every_demo_job(at: int) -> None:
    """And says what to mind on a plug where there is one."""
    heading, design = demo_designs()[at]
    head = CustomerHead(heading.title, heading.code, heading.customer, "2031-05-02", "version 1")
    pdf = customer_pdf(head, design, assess(design))
    assert len(leaves(pdf)) == 1
    words = words_of(pdf)
    plug = any(getattr(piece, "form", "") == "plug" for run in (design.supply, design.delivery) for piece in run.pieces)
    assert ("before the plug is joined" in words) is plug


def test_what_has_to_be_accepted_is_all_that_is_not_as_it_might_be() -> None:
    """Cautions, tests not done, tests not right; nothing else forbids, and nothing of it may be left out."""
    found = assess(van())
    wrong = prove(Context.of(van()), {"supply_back_mv": 640.0, "input_a": 47.0})
    wanted = acceptances(found.findings, wrong, None, ())
    kinds = [item.id.split(".")[0] for item in wanted]
    assert kinds.count("finding") == sum(item.level == "caution" for item in found.findings)
    assert "test.supply_back_mv" in {item.id for item in wanted}
    assert "tests.open" in {item.id for item in wanted}
    assert not proven(wrong)
    every = {item.id for item in wanted}
    check(van(), found.findings, wanted, every, "E. Kestrel")
    for one in every:
        with pytest.raises(CannotSign, match="Not accepted yet"):
            check(van(), found.findings, wanted, every - {one}, "E. Kestrel")


@pytest.mark.parametrize(
    ("drive", "regulation", "low_v", "told"),
    [
        ("engine", "managed", None, "saves fuel"),
        ("engine", "fixed", 12.5, "lowers its volts"),
        ("converter", "managed", None, ""),
        ("converter", "fixed", 12.5, "lowers its volts"),
        ("engine", "fixed", None, ""),
    ],
)
def test_the_customer_is_told_of_low_phases_where_there_are_some(
    drive: str, regulation: str, low_v: float | None, told: str
) -> None:
    """By what charges the vehicle or was read on it; a hybrid's converter is no managed alternator, whatever was chosen."""
    plain = van().model_dump(mode="json")
    plain["vehicle"]["drive"], plain["vehicle"]["alternator"]["regulation"] = drive, regulation
    plain["vehicle"]["readings"]["low_phase_v"] = low_v
    job = Design.model_validate(plain)
    text = words_of(customer_pdf(CustomerHead("Van", "V-1", "C", "2031-05-02", "1"), job, assess(job)))
    assert ("may pause charging" in text) == bool(told)
    assert told in text
    option = quote_of(QuoteHead("Van", "V-1", "C", "2031-05-02", "2031-06-02"), [("A", job)]).options[0]
    assert any("charges less or not at all" in line for line in option.will_not) == bool(told)
