"""What goes to the bench: cut list, parts and labels as CSV, labels as a sheet to print."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Mapping, Sequence

from olvask.core.model.house import House
from olvask.core.stages.build.conductors import ConductorEnd
from olvask.core.stages.build.cuts import Buying
from olvask.core.stages.build.orders import Orders
from olvask.core.stages.build.progress import StepState
from olvask.core.stages.prove.noted import bygone_of
from olvask.core.stages.prove.report import Proof
from olvask.documents.csv_text import defused
from olvask.documents.typeset import NO_HOUSE, typeset


def _csv(header: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    writer.writerows([defused(cell) for cell in row] for row in rows)
    return out.getvalue()


def _number(value: float | None, digits: int) -> str:
    return "" if value is None else f"{value:.{digits}f}"


def _end(end: ConductorEnd) -> list[str]:
    return [end.at, end.kind, _number(end.torque_nm, 1), _number(end.torque_lb_in, 0), _number(end.heat_shrink_mm, 1)]


def cuts_csv(found: Buying) -> str:
    """One row a conductor: both lengths, its drum, and both ends with torque in N·m and lb·in."""
    drum_of = {cut: use.drum for use in found.drums for cut in use.cuts}
    side = ("at", "fitting", "torque_nm", "torque_lb_in", "heat_shrink_mm")
    header = ["conductor", "size", "metal", "length_m", "cut_m", "drum"]
    header += [f"{letter}_{name}" for letter in "ab" for name in side]
    rows = [
        [
            cut.id,
            cut.size,
            cut.metal,
            f"{cut.length_m:g}",
            f"{cut.cut_m:g}",
            drum_of.get(cut.id, ""),
            *_end(cut.ends[0]),
            *_end(cut.ends[1]),
        ]
        for cut in found.conductors
    ]
    return _csv(header, rows)


def parts_csv(found: Buying) -> str:
    """One row a part: count, unit, price of one and of all in €."""
    rows = [
        [part.what, part.detail, f"{part.count:g}", part.unit, f"{part.price:.2f}", f"{part.count * part.price:.2f}"]
        for part in found.parts
    ]
    return _csv(["part", "detail", "count", "unit", "price_each", "price"], rows)


def labels_csv(found: Buying) -> str:
    """One row a label, for a label printer."""
    return _csv(
        ["conductor", "end", "line_1", "line_2", "line_3"],
        [[label.conductor, label.end, *label.lines] for label in found.labels],
    )


def orders_csv(found: Orders) -> str:
    """One row a part to order, by supplier."""
    rows = [
        [
            group.supplier,
            line.what,
            line.detail,
            f"{line.needed:g}",
            f"{line.in_stock:g}",
            f"{line.to_order:g}",
            line.unit,
            f"{line.each:.2f}",
            f"{line.sum:.2f}",
        ]
        for group in found.groups
        for line in group.lines
    ]
    return _csv(["supplier", "part", "detail", "needed", "in_stock", "to_order", "unit", "price_each", "price"], rows)


def tests_csv(found: Proof, states: Sequence[StepState]) -> str:
    """One row a reading of Prove, every one that was kept, with the band and the verdict of the last.

    Args:
        found: the tests judged.
        states: what was noted.
    """
    bygone = bygone_of(states)
    kept = {state.step: state.entries for state in states if state.procedure == "Prove"}
    rows = [
        [
            row.test.group,
            row.test.text,
            _number(entry.value, 3),
            row.test.unit,
            entry.by,
            entry.at,
            entry.text,
            _number(row.least, 3),
            _number(row.most, 3),
            bygone(entry) or (row.verdict if entry is last else "measured again"),
        ]
        for row in found.rows
        for entries in [[entry for entry in kept.get(row.test.key, ()) if entry.kind == "reading"]]
        for last in entries[-1:]
        for entry in entries
    ]
    return _csv(["group", "test", "reading", "unit", "by", "at", "with", "least", "most", "verdict"], rows)


WRITERS: Mapping[str, Callable[[Buying], str]] = {"cuts": cuts_csv, "parts": parts_csv, "labels": labels_csv}


def labels_pdf(found: Buying, house: House = NO_HOUSE) -> bytes:
    """Typeset the labels as a sheet of flags to print, cut and fold round the cable."""
    return typeset("labels.typ", {"labels": [label.lines for label in found.labels]}, house=house)
