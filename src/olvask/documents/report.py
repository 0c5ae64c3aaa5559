"""The installer's report: everything of one revision on paper, with its checksum.

- `report_pdf`: the whole.
- `ReportHead`: whose it is.
"""

from __future__ import annotations

import base64
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from olvask.core.analyses.signing import Signature
from olvask.core.assess import Assessment
from olvask.core.catalogue import chemistries
from olvask.core.circuit.context import Context
from olvask.core.findings.figure import show
from olvask.core.model import Design
from olvask.core.model.house import House
from olvask.core.stages.build.bill import Part, bill_of
from olvask.core.stages.build.progress import Left, StepState
from olvask.core.stages.prove.report import Proof
from olvask.documents.diagram.svg import schematic_svg
from olvask.documents.house_units import Verbatim
from olvask.documents.sheet import cautions_of
from olvask.documents.signs import signs_of
from olvask.documents.test_record import WORDS
from olvask.documents.typeset import NO_HOUSE, typeset

LEVELS = {"stop": "■", "caution": "▲", "note": "●"}


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportHead:
    """Whose report it is, of which revision."""

    title: str
    code: str
    customer: str
    printed: str
    version: int
    checksum: str
    changes: tuple[str, ...]
    since: str


def report_pdf(
    head: ReportHead,
    design: Design,
    assessment: Assessment,
    proof: Proof,
    states: Sequence[StepState],
    left: Left,
    signature: Signature | None,
    pictures: Mapping[str, bytes] | None = None,
    house: House = NO_HOUSE,
) -> bytes:
    """Typeset the report; across each page it says that it is a draft until it is signed off.

    Args:
        head: title block.
        design: the design.
        assessment: what the core says of it.
        proof: its tests judged.
        states: what was noted.
        left: what of the work is not done.
        signature: of this revision; `None` where nobody signed it.
        pictures: names of photographs to small JPEGs of them.
        house: the house rules.
    """
    bill = bill_of(Context.of(design))
    return typeset(
        "report.typ",
        {
            "title": head.title,
            "code": head.code,
            "customer": head.customer,
            "printed": head.printed,
            "version": head.version,
            "checksum": " ".join(head.checksum[at : at + 8] for at in range(0, 64, 8)),
            "changes": list(head.changes),
            "since": head.since,
            "draft": signature is None,
            "signed": _signed(signature),
            "stops": [*design.unfinished, *(item.title for item in assessment.stops)],
            "design": _design(design),
            "figures": [
                {"label": figure.label, "value": show(figure.value, figure.unit), "working": figure.working}
                for figure in assessment.figures.values()
                if figure.value is not None
            ],
            "conductors": [
                {
                    "id": cut.id,
                    "size": cut.size,
                    "length": f"{cut.cut_m:g} m",
                    "from": cut.ends[0].at,
                    "to": cut.ends[1].at,
                }
                for cut in bill.conductors
            ],
            "parts": [{"what": part.what, "detail": part.detail, "count": _count(part)} for part in bill.parts],
            "keyed": [
                {
                    "line": Verbatim(row.line),
                    "value": Verbatim(row.value),
                    "seen": Verbatim(row.seen or "not read back"),
                    "by": row.by,
                    "at": row.at[:16],
                }
                for row in design.keyed
            ],
            "tests": [
                {
                    "text": row.test.text,
                    "read": _read(row.reading, row.test.unit, row.test.answers),
                    "verdict": WORDS[row.verdict],
                    "bad": row.verdict in ("wrong", "doubtful", "query"),
                }
                for row in proof.rows
                if row.test.group != "finding" or row.reading is not None
            ],
            "findings": [
                {"mark": LEVELS[item.level], "title": item.title, "text": item.text} for item in assessment.findings
            ],
            "left": [f"{step.number} {step.text}" + (f": {step.reason}" if step.skipped else "") for step in left.steps]
            if left.begun
            else ["nothing of the work was noted step by step"],
            "photographs": _photographs(states, pictures or {}),
            "cautions": list(cautions_of(design)),
            "signs": signs_of(design),
        },
        schematic_svg(design),
        house=house,
    )


def _signed(signature: Signature | None) -> dict[str, object]:
    if signature is None:
        return {}
    return {
        "number": signature.number,
        "by": signature.by,
        "at": signature.at[:16].replace("T", " "),
        "meter": signature.meter or "not named",
        "proven": signature.proven,
        "accepted": [{"title": item.title, "text": item.text} for item in signature.accepted],
    }


def _design(design: Design) -> list[list[str]]:
    vehicle, battery, unit = design.vehicle, design.auxiliary, design.charger
    rows = [
        ["System", f"{vehicle.system_v} V"],
        list(vehicle.source_words),
        [
            "Start battery",
            f"{vehicle.start_battery.capacity_ah:g} Ah, {chemistries()[vehicle.start_battery.chemistry].label}",
        ],
        [
            "Auxiliary battery",
            f"{battery.capacity_ah:g} Ah, {battery.nominal_v} V, {chemistries()[battery.chemistry].label} {battery.name}".strip(),
        ],
        ["Unit", unit.name if unit is not None else "none chosen"],
    ]
    if unit is not None:
        amps = design.current_limit_a or unit.output_a
        rows.append(["Set to", f"{amps:g} A" + (f", {design.units} units" if design.units > 1 else "")])
    return rows


def _count(part: Part) -> str:
    return f"{part.count:g} {'piece' if part.unit == 'pieces' and part.count == 1 else part.unit}"


def _read(value: float | None, unit: str, answers: Sequence[str]) -> str:
    if value is None:
        return "–"
    if answers:
        return answers[min(max(round(value), 0), len(answers) - 1)]
    if unit == "Ω":
        return show(value, unit)
    return f"{value:.2f} {unit}" if unit == "V" else f"{value:,.1f} {unit}".replace(",", "\u202f")


def _photographs(states: Sequence[StepState], pictures: Mapping[str, bytes]) -> list[dict[str, str]]:
    """Each photograph with where it was taken in the work, when and by whom; its picture as a drawing that holds it."""
    return [
        {
            "words": f"{state.step.replace('_', ' ').replace('.', ', ')}, {entry.at[:16].replace('T', ' ')} {entry.by}",
            "svg": _framed(pictures[entry.photo]) if entry.photo in pictures else "",
        }
        for state in states
        for entry in state.entries
        if entry.kind == "photo"
    ]


def _framed(jpeg: bytes) -> str:
    held = base64.b64encode(jpeg).decode()
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 240 180">'
        f'<image width="240" height="180" preserveAspectRatio="xMidYMid meet" href="data:image/jpeg;base64,{held}"/></svg>'
    )
