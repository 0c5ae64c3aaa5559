"""Moments as logs write them: every usual form, the hour that comes twice, the hour that never was; held against zoneinfo."""

from __future__ import annotations

import io
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from olvask.core.model.device_log import Column, LogMapping, Order
from olvask.logs.gathered import LogRead
from olvask.logs.moments import utc
from olvask.logs.reading import read
from olvask.logs.sniff import BadLog


def mapping(order: Order = "ymd", zone: str = "UTC", **changes: object) -> LogMapping:
    columns = (Column(name="When", role="moment"), Column(name="In", role="input_v", unit="V"))
    plain = {"delimiter": ";", "columns": columns, "order": order, "zone": zone}
    return LogMapping.model_validate(plain | changes)


def read_rows(moments: list[str], how: LogMapping) -> LogRead:
    text = "When;In\n" + "".join(f"{moment};{12 + at / 1000:.3f}\n" for at, moment in enumerate(moments))
    last = list(read(io.BytesIO(text.encode()), how))[-1]
    assert isinstance(last, LogRead)
    return last


def second(*parts: int) -> float:
    return datetime(*parts, tzinfo=UTC).timestamp()  # type: ignore[arg-type,misc]  # year to second


@pytest.mark.parametrize(
    ("text", "order", "is_at"),
    [
        ("2026-02-03 04:05:06", "ymd", second(2026, 2, 3, 4, 5, 6)),
        ("2026-02-03T04:05:06Z", "ymd", second(2026, 2, 3, 4, 5, 6)),
        ("2026/02/03 04:05", "ymd", second(2026, 2, 3, 4, 5)),
        ("2026-02-03T04:05:06.25", "ymd", second(2026, 2, 3, 4, 5, 6) + 0.25),
        ("2026-02-03 04:05:06+02:00", "ymd", second(2026, 2, 3, 2, 5, 6)),
        ("2026-02-03 04:05:06-0330", "ymd", second(2026, 2, 3, 7, 35, 6)),
        ("03.02.2026 04:05:06", "dmy", second(2026, 2, 3, 4, 5, 6)),
        ("3/2/26 4:05", "dmy", second(2026, 2, 3, 4, 5)),
        ("02/03/2026 12:05:06 AM", "mdy", second(2026, 2, 3, 0, 5, 6)),
        ("02/03/2026 12:05:06 PM", "mdy", second(2026, 2, 3, 12, 5, 6)),
        ("02/03/2026 04:05:06 p.m.", "mdy", second(2026, 2, 3, 16, 5, 6)),
        ("29.02.2028 00:00:00", "dmy", second(2028, 2, 29)),
        ("1770091506", "epoch_s", 1770091506.0),
        ("1770091506250", "epoch_ms", 1770091506.25),
    ],
)
def test_every_usual_form_is_read(text: str, order: Order, is_at: float) -> None:
    later = text.replace("26", "27", 1).replace("2028", "2032").replace("1770", "1771")
    found = read_rows([text, later], mapping(order))
    assert found.log.time_s[0] == pytest.approx(is_at, abs=1e-3)


@pytest.mark.parametrize(
    "text",
    ["2026-02-29 00:00:00", "2026-13-01 00:00:00", "2026-01-01 24:00:00", "2026-01-01 10:60:00", "yesterday", ""],
)
def test_what_is_no_moment_is_left_out_and_told_by_its_line(text: str) -> None:
    """One row in two hundred."""
    good = [f"2026-01-01 {at // 60:02}:{at % 60:02}:00" for at in range(200)]
    found = read_rows([*good[:100], text, *good[100:]], mapping())
    assert len(found.log) == 200
    assert [(trouble.count, trouble.line) for trouble in found.troubles] == [(1, 102)]


@pytest.mark.parametrize("zone", ["Europe/Lisbon", "America/St_Johns", "Australia/Lord_Howe", "Asia/Kathmandu", "UTC"])
@pytest.mark.parametrize("month", range(1, 13))
def test_a_clock_of_any_zone_is_read_back(zone: str, month: int) -> None:
    """Ten-minute rows of a whole month, as that clock shows them, summer time coming and going; newest first too."""
    begin = datetime(2026, month, 1, tzinfo=UTC)
    moments = [begin + timedelta(minutes=10 * at) for at in range(31 * 144)]
    shown = [moment.astimezone(ZoneInfo(zone)).strftime("%d.%m.%Y %H:%M:%S") for moment in moments]
    wanted = np.array([moment.timestamp() for moment in moments])
    for written in (shown, shown[::-1]):
        found = read_rows(written, mapping("dmy", zone))
        assert found.troubles == (), [trouble.text for trouble in found.troubles]
        np.testing.assert_allclose(found.log.time_s, wanted)


def test_an_hour_that_never_was_says_that_the_zone_is_another() -> None:
    """Half past one on the night that Lisbon springs forward from one to two."""
    shown = [f"2026-03-29 {at // 60:02}:{at % 60:02}:00" for at in range(0, 300, 5)]
    found = read_rows(shown, mapping(zone="Europe/Lisbon"))
    told = [trouble.text for trouble in found.troubles]
    assert any("leaves out in spring" in text and "12 rows" in text for text in told)


def test_nothing_but_missing_moments_is_no_moment() -> None:
    found, never = utc(np.array([np.nan, np.nan]), "Europe/Lisbon")
    assert np.isnan(found).all()
    assert not never.any()


def test_days_taken_for_months_are_refused() -> None:
    """A week in March written day first, read month first: dates jump by months at each midnight."""
    shown = [f"{day:02}/03/2026 {hour:02}:00:00" for day in range(1, 9) for hour in range(24)]
    assert len(read_rows(shown, mapping("dmy")).log) == len(shown)
    with pytest.raises(BadLog, match="Dates jump by months"):
        read_rows(shown, mapping("mdy"))
