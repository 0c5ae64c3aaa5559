"""The record of a job's tests on paper: who, when, with which meter, the band and the verdict; faults and cures.

- `record_pdf`: the whole.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from olvask.core.findings.driven import spoken
from olvask.core.findings.figure import show
from olvask.core.model import Design
from olvask.core.model.house import House
from olvask.core.stages.build.progress import Entry, StepState
from olvask.core.stages.prove.noted import bygone_of, cures_noted, readings_noted, visits_noted
from olvask.core.stages.prove.report import Proof, Row
from olvask.documents.typeset import NO_HOUSE, typeset

GROUPS = {
    "dead": "Dead",
    "engine_off": "Engine off",
    "running": "Running",
    "after": "After",
    "finding": "To tell causes apart",
}
WORDS = {
    "right": "✓ as it should be",
    "doubtful": "▲ doubtful",
    "wrong": "■ wrong",
    "query": "▲ meter asked",
    "open": "not done",
    "cannot": "cannot be done",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordHead:
    """Whose record it is, and when it was printed."""

    title: str
    code: str
    customer: str
    printed: str


def record_pdf(
    head: RecordHead, design: Design, found: Proof, states: Sequence[StepState], house: House = NO_HOUSE
) -> bytes:
    """Typeset the record.

    Args:
        head: whose it is.
        design: what was tested.
        found: every test, judged by the readings that count.
        states: what was noted.
        house: the house rules.
    """
    bygone = bygone_of(states)
    by_test: dict[str, list[Entry]] = {}
    for step, entry in readings_noted(states):
        by_test.setdefault(step, []).append(entry)
    shown = [row for row in found.rows if row.test.group != "finding" or row.test.key in by_test]
    groups = [
        {
            "name": name,
            "rows": [_row(row, by_test.get(row.test.key, []), bygone) for row in shown if row.test.group == key],
        }
        for key, name in zip(GROUPS, spoken(design, tuple(GROUPS.values())), strict=True)
    ]
    people = sorted({entry.by for entries in by_test.values() for entry in entries if entry.by})
    return typeset(
        "test_record.typ",
        {
            "title": head.title,
            "code": head.code,
            "customer": head.customer,
            "printed": head.printed,
            "people": people or ["nobody gave initials"],
            "text": found.text,
            "groups": [group for group in groups if group["rows"]],
            "legs": [
                {
                    "words": leg.words,
                    "designed": f"{leg.designed_mohm:.1f}",
                    "found": "–" if leg.found_mohm is None else f"{leg.found_mohm:.1f} ± {leg.spread_mohm or 0:.1f}",
                    "text": leg.text,
                    "bad": leg.bad,
                }
                for leg in found.legs
            ],
            "visits": [
                {
                    "at": _when(entry.at),
                    "by": entry.by,
                    "text": "Came back: what was read before is kept and no longer counts.",
                }
                for entry in visits_noted(states)
            ],
            "cures": [
                {"at": _when(entry.at), "by": entry.by, "text": entry.text}
                for state in states
                for entry in cures_noted(state)
            ],
        },
        house=house,
    )


def _row(row: Row, entries: Sequence[Entry], bygone: Callable[[Entry], str]) -> dict[str, object]:
    unit = row.test.unit
    band = ""
    if row.least is not None or row.most is not None:
        low, high = _value(row, row.least), _value(row, row.most)
        band = f"{low} to {high} {unit}" if low and high else f"from {low} {unit}" if low else f"up to {high} {unit}"
    return {
        "text": row.test.text,
        "where": "; ".join(part for part in (_where(row), row.test.state) if part),
        "band": band if not row.test.answers else row.test.answers[0],
        "verdict": WORDS[row.verdict],
        "bad": row.verdict in ("wrong", "query", "doubtful"),
        "note": row.text if row.verdict in ("cannot", "query") else "",
        "readings": [
            {
                "value": _shown(row, entry.value),
                "by": entry.by or "–",
                "at": _when(entry.at),
                "with": entry.text or "typed",
                "bygone": bygone(entry),
                "last": entry is entries[-1],
            }
            for entry in entries
        ],
    }


def _where(row: Row) -> str:
    """Where the probes went."""
    return f"{row.test.red} to {row.test.black}" if row.test.black else row.test.red


def _shown(row: Row, value: float | None) -> str:
    if value is None:
        return "–"
    if row.test.answers:
        return row.test.answers[min(max(round(value), 0), len(row.test.answers) - 1)]
    return show(value, "Ω") if row.test.unit == "Ω" else f"{_value(row, value)} {row.test.unit}"


def _value(row: Row, value: float | None) -> str:
    if value is None:
        return ""
    if row.test.unit == "Ω" and value >= 100:
        return f"{value:,.0f}".replace(",", "\u202f")
    digits = {"V": 2, "A": 1, "Ω": 1, "mΩ": 1}.get(row.test.unit, 0)
    return f"{value:.{digits}f}"


def _when(at: str) -> str:
    return at[:16].replace("T", " ")
