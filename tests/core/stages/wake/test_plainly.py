"""What a customer is told of when it charges: no more than the findings bear out."""

from __future__ import annotations

from itertools import combinations

import pytest

from olvask.core.analyses.quote import QuoteHead, quote_of
from olvask.core.assess import assess
from olvask.core.model import StartWay
from olvask.core.model.driven import driven
from olvask.core.stages.wake.plainly import behaves
from tests.designs import charger, design, vehicle

WAYS: tuple[StartWay, ...] = ("ignition", "d_plus", "switch", "bridge", "voltage")
EVERY = [ways for many in (1, 2, 3) for ways in combinations(WAYS, many)]
HEAD = QuoteHead(title="", code="", customer="", made="2026-01-01", valid_until="2026-02-01")


@pytest.mark.parametrize("ways", EVERY)
@pytest.mark.parametrize("drive", ["engine", "converter"])
def test_nothing_is_promised_that_a_finding_denies(ways: tuple[StartWay, ...], drive: str) -> None:
    """It leaves the start battery alone only where its way tells a running engine; quote and page say the same."""
    job = design(activation={"ways": list(ways)}, vehicle=vehicle(drive=drive), charger=charger())
    told = " ".join(behaves(job))
    words = told.replace(",", "").split()
    runs = [" ".join(words[at : at + 3]) for at in range(len(words) - 2)]
    assert len(runs) == len(set(runs)), told  # nothing is said twice
    findings = {item.id: item for item in assess(job, remedies=False).findings}
    if any(name.startswith("wake.guard_alone.") and item.level == "caution" for name, item in findings.items()):
        assert "start battery alone" not in told
        assert "guard" in told
    knows = bool({"voltage", "d_plus"} & set(ways)) or (drive == "converter" and "ignition" in ways)
    assert ("leaves the start battery alone" in told) is knows
    (option,) = quote_of(HEAD, [("one", job)]).options
    if option.does:
        assert {driven(text) if drive == "converter" else text for text in behaves(job)} <= set(option.does)


def test_the_key_left_on_is_told() -> None:
    """Ignition alone is live with the engine off; on a hybrid it stands for the vehicle being ready."""
    key = " ".join(behaves(design(activation={"ways": ["ignition"]})))
    assert "do not leave the key on" in key
    hybrid = design(activation={"ways": ["ignition"]}, vehicle=vehicle(drive="converter"))
    assert behaves(hybrid) == (
        "It charges while the vehicle is ready, and stops by itself. It leaves the start battery alone otherwise.",
    )


def test_nothing_starts_it() -> None:
    """Without a unit or a way nothing is told."""
    assert behaves(design(charger=None)) == ()
    assert behaves(design(activation={"ways": []})) == ()


def test_a_switch_that_does_nothing_is_not_spoken_of() -> None:
    """Bridged, it is as without it; where a mode stays, it only begins."""
    assert behaves(design(activation={"ways": ["switch", "bridge"]})) == behaves(
        design(activation={"ways": ["bridge"]})
    )
    stays = charger(behaviour={"latched": True})
    (told,) = behaves(design(charger=stays, activation={"ways": ["switch", "d_plus"]}))
    assert told.startswith("Once switched on, it charges while the engine runs, and stops by itself.")
    assert "its switch" not in told
