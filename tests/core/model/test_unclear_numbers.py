"""What cannot be understood for certain is refused with what it may mean."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from olvask.core.model import Choices, Design
from olvask.core.model.entry_errors import entry_errors
from olvask.core.simulate.programme import BadProgramme, read_programme
from olvask.documents.shelf_file import read_shelf


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("1,000", ("may mean 1000 or 1.000", "write 1000, or 1.0")),
        ("12,500", ("may mean 12500 or 12.500", "write 12500, or 12.5")),
        ("12.500 ?", ("A point before three figures", "write 12500, or 12.5")),
        ("12.500 V", ("is not a number", "for example")),
        ("1/2", ("is a fraction", "write 0.5")),
        ("1/0", ("is not a number", "for example")),
        ("1.2.3", ("is not a number", "for example")),
        ("four", ("is not a number", "for example")),
    ],
)
def test_what_it_may_mean_is_said(typed: str, said: tuple[str, str]) -> None:
    """A thousand or one and a bit, a fraction, or no number at all: each with what to write."""
    with pytest.raises(ValidationError) as caught:
        Design.model_validate({"vehicle": {"alternator": {"rated_a": typed}}})
    (error,) = entry_errors(caught.value, Design)
    assert all(words in error.message for words in said)


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("0.4 ?", "0.4 may be a part of one or per cent; write 40 %, or 0.4 %"),
        (",075 ?", "0.075 may be a part of one or per cent; write 7.5 %, or 0.075 %"),
        (1.3, "130 % is out of range; give a number from 0 to 100 %, for example 20 % (0.2 in a file)"),
        ("four", "'four' is not a number; give one from 0 to 100 %, for example 20 % (0.2 in a file)"),
    ],
)
def test_a_share_is_told_in_per_cent(typed: str | float, said: str) -> None:
    """As its field shows it; a bare part of one in a field of per cent is asked about."""
    with pytest.raises(ValidationError) as caught:
        Choices.model_validate({"slack": typed})
    assert [item.message for item in entry_errors(caught.value, Choices)] == [said]


def test_a_table_and_a_day_read_commas_alike() -> None:
    """What begins with a nought is certain, in a shelf's file and in a programme; what may be a thousand is asked about."""
    for typed, good in (("0,125", True), ("12,5", True), ("1,000", False)):
        table = read_shelf("cables", f"id;size;price_per_m\nd1;16 mm²;{typed}\n".encode())
        assert bool(table.items) is good, typed
        try:
            read = read_programme(f"off {typed} h").stretches[0].duration_s
        except BadProgramme:
            read = None
        assert read == (3600 * float(typed.replace(",", ".")) if good else None), typed
