"""A log read by its mapping, piece by piece: numbers checked cell by cell, rows put in order, troubles told by their place.

- `read`: the file to columns, telling how far it is.
"""

from __future__ import annotations

import codecs
import re
from collections.abc import Iterator
from typing import BinaryIO

import numpy as np
import polars as pl
from numpy.typing import NDArray

from olvask.core.model.device_log import MEASURED, LogMapping
from olvask.logs.cells import amperes_of_watts, moments, numbers, states, used
from olvask.logs.gathered import Gathered, LogRead, bearable
from olvask.logs.order import ordered
from olvask.logs.sniff import HEAD_LINES, BadLog, cells_of

PIECE = 3 << 20  # bytes read at a time: some ten thousand rows
MOST_ROWS = 5_000_000  # our own estimate: two months of a row a second


def read(stream: BinaryIO, mapping: LogMapping, size: int = 0) -> Iterator[float | LogRead]:
    """Read a log, telling the share done from time to time and the columns at the end; to stop, ask for no more.

    Args:
        stream: the file.
        mapping: how its columns are read.
        size: of the file [bytes]; 0 where nobody knows.

    Raises:
        BadLog: it does not fit its mapping; the message says where.
    """
    gathered = Gathered()
    line, taken = 1, 0
    for text, ended in _pieces(stream, mapping.encoding):
        taken = ended
        if line == 1:
            mapping = _with_header(text, mapping)
        line = _take(text, line, mapping, gathered)
        if gathered.rows > MOST_ROWS:
            raise BadLog(f"The log has more than {MOST_ROWS:,} rows; save it in parts, a month each.")
        yield min(0.9, 0.9 * taken / size) if size else 0.0
    if not gathered.rows:
        raise BadLog(f"Below line {mapping.header_line} there is no row; is the file cut short?")
    yield ordered(gathered, mapping, line - 1)


def _pieces(stream: BinaryIO, encoding: str) -> Iterator[tuple[bytes, int]]:
    """Whole lines as UTF-8, and how many bytes were read."""
    decode = None if encoding == "utf-8" else codecs.getincrementaldecoder(encoding)(errors="replace")
    kept, taken = b"", 0
    while raw := stream.read(PIECE):
        taken += len(raw)
        piece = kept + (raw if decode is None else decode.decode(raw).encode())
        at = piece.rfind(b"\n") + 1
        if not at and len(piece) > 4 * PIECE:
            raise BadLog("The file has no ends of lines; save the log as CSV from the device's own program.")
        kept = piece[at:]
        if at:
            yield piece[:at], taken
    if kept:
        yield kept + b"\n", taken


def _with_header(text: bytes, mapping: LogMapping) -> LogMapping:
    """The mapping with the line at which this file names its columns: what stands above them differs by file."""
    wanted = [column.name for column in mapping.columns]
    for number, raw in enumerate(text.split(b"\n", HEAD_LINES)[:HEAD_LINES], start=1):
        if [name[:120] for name in _names(raw, mapping)] == wanted:
            return mapping.model_copy(update={"header_line": number})
    return mapping


def _names(raw: bytes, mapping: LogMapping) -> list[str]:
    return cells_of(raw.decode("utf-8", errors="replace").removeprefix("\ufeff").rstrip("\r"), mapping.delimiter)


def _take(text: bytes, line: int, mapping: LogMapping, gathered: Gathered) -> int:
    """Read a piece that begins at a line; the number of the line after it."""
    raw = np.frombuffer(text, dtype=np.uint8)
    ends = np.flatnonzero(raw == 10)
    starts = np.concatenate(([0], ends[:-1] + 1))
    place = line + np.arange(len(ends))
    following = int(line + len(ends))
    if line <= mapping.header_line < following:
        at = mapping.header_line - line
        _check_header(text[starts[at] : ends[at]], mapping)
    blank = ends - starts - (raw[np.maximum(ends - 1, 0)] == 13) <= 0
    use = (place > mapping.header_line) & ~blank
    use &= _whole(text, raw, (starts, ends), place, use, mapping, gathered)
    if not use.any():
        return following
    clean = text if use.all() else b"".join(text[starts[at] : ends[at] + 1] for at in np.flatnonzero(use))
    frame = pl.read_csv(
        clean,
        has_header=False,
        separator=mapping.delimiter,
        infer_schema=False,
        columns=used(mapping),
        encoding="utf8-lossy",
    )
    kept = place[use]
    if frame.height != len(kept):
        raise BadLog(
            f"Between lines {int(kept[0]):,} and {int(kept[-1]):,} a quotation mark is opened and not closed; "
            "take it out, and choose the file again."
        )
    moments(frame, kept, mapping, gathered)
    found = {
        column.role: (states if column.role == "charging" else numbers)(frame, kept, mapping, column.role, gathered)
        for column in mapping.columns
        if column.role in MEASURED
    }
    amperes_of_watts(found, frame, kept, mapping, gathered)
    for name, values in found.items():
        gathered.values.setdefault(name, []).append(values.astype(np.float32))
    gathered.lines.append(kept)
    gathered.rows += len(kept)
    bearable(gathered)
    return following


def _check_header(raw: bytes, mapping: LogMapping) -> None:
    """The names of the columns are those that were mapped."""
    names = _names(raw, mapping)
    wanted = [column.name for column in mapping.columns]
    if len(names) != len(wanted):
        raise BadLog(
            f"Line {mapping.header_line} names {len(names)} columns, and {len(wanted)} are mapped; map this file anew."
        )
    for at, (name, want) in enumerate(zip(names, wanted, strict=True), start=1):
        if name[:120] != want:
            raise BadLog(f"Column {at} is called “{name[:40]}”, and “{want[:40]}” is mapped; map this file anew.")


def _whole(
    text: bytes,
    raw: NDArray[np.uint8],
    spans: tuple[NDArray[np.int64], NDArray[np.int64]],
    place: NDArray[np.int64],
    use: NDArray[np.bool_],
    mapping: LogMapping,
    gathered: Gathered,
) -> NDArray[np.bool_]:
    """Which lines have as many cells as there are columns; a header that comes again is no row."""
    starts, ends = spans
    mark = raw == ord(mapping.delimiter)
    quotes = raw == ord('"')
    if quotes.any():
        inside = (np.cumsum(quotes) & 1).astype(bool)
        mark &= ~inside
    counted = np.concatenate(([0], np.cumsum(mark)))
    cells = counted[ends] - counted[starts] + 1
    good = cells == len(mapping.columns)
    wrong = np.flatnonzero(use & ~good)
    if len(wrong):
        first = int(wrong[0])
        gathered.trouble(
            f"rows have more or fewer than {len(mapping.columns)} cells and are left out", len(wrong), int(place[first])
        )
    return np.asarray(good & ~_headers(text, (starts, ends), place, mapping))


def _headers(
    text: bytes, spans: tuple[NDArray[np.int64], NDArray[np.int64]], place: NDArray[np.int64], mapping: LogMapping
) -> NDArray[np.bool_]:
    """Which lines name the columns once more, as where files were joined.

    Raises:
        BadLog: they name others.
    """
    starts, ends = spans
    found = np.zeros(len(starts), dtype=bool)
    opening = re.escape(mapping.columns[0].name[:20].encode())
    for again in re.finditer(rb"^" + opening, text, re.MULTILINE) if opening else ():
        row = int(np.searchsorted(starts, again.start()))
        if place[row] > mapping.header_line:
            _check_header(text[starts[row] : ends[row]], mapping)
        found[row] = True
    return found
