"""The settings sheet: one page to key in by, with boxes to tick and what a reset would lose."""

from __future__ import annotations

from collections.abc import Sequence

from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.model.design import Keyed
from olvask.core.model.house import House
from olvask.core.stages.settings.sheet import Sheet, SheetLine, sheet_of
from olvask.documents.house_units import Verbatim
from olvask.documents.sheet import SheetHead
from olvask.documents.typeset import NO_HOUSE, typeset

NO_UNIT = "No unit is chosen yet."


def settings_pdf(head: SheetHead, design: Design, house: House = NO_HOUSE) -> bytes:
    """Typeset the settings sheet.

    Args:
        head: title block.
        design: the design.
        house: the house rules.
    """
    sheet, unit = sheet_of(Context.of(design)), design.charger
    return typeset(
        "settings.typ",
        {
            "title": head.title,
            "code": head.code,
            "customer": head.customer,
            "version": head.version,
            "printed": head.printed.isoformat(),
            "unit": unit.name if unit is not None else NO_UNIT,
            "code_changed": design.access_code_changed,
            **(_told(sheet, design.keyed) if sheet is not None else EMPTY),
        },
        house=house,
    )


EMPTY = {
    "text": "",
    "enter": "",
    "save": "",
    "lines": [],
    "leave": [],
    "absent": [],
    "misses": [],
    "reset": [],
    "remote": "",
}


def _told(sheet: Sheet, keyed: Sequence[Keyed]) -> dict[str, object]:
    done = {item.line: item for item in keyed}
    return {
        "text": sheet.text,
        "enter": sheet.enter,
        "save": sheet.save,
        "lines": [_line(at, line, done.get(line.key)) for at, line in enumerate(sheet.lines, start=1)],
        "leave": [[Verbatim(item.label), Verbatim(item.value), item.why] for item in sheet.leave],
        "absent": [[Verbatim(item.label), item.why] for item in sheet.absent],
        "misses": list(sheet.misses),
        "reset": list(sheet.reset_loses),
        "remote": sheet.remote_keeps,
    }


def _line(number: int, line: SheetLine, done: Keyed | None) -> dict[str, object]:
    was = "" if line.was in ("", "not known") else line.was
    why = " · ".join((line.why, *line.hints)) if line.why else " · ".join(line.hints)
    return {
        "number": number,
        "label": Verbatim(line.label),
        "value": Verbatim(line.value),
        "was": Verbatim(was),
        "why": why,
        "reads": line.do == "key" and line.last,
        "keyed": done is not None and done.keyed,
        "seen": Verbatim(done.seen if done is not None else ""),
        "by": " ".join(part for part in (done.by, done.at[:10]) if part) if done is not None else "",
    }
