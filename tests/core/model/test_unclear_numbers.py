"""What cannot be understood for certain is refused with what it may mean."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from olvask.core.model import Design
from olvask.core.model.entry_errors import entry_errors


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("1,000", ("may mean 1000 or 1.000", "write 1000, or 1.0")),
        ("12,500", ("may mean 12500 or 12.500", "write 12500, or 12.5")),
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
