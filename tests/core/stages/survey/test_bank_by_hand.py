"""The auxiliary bank as surveyed, its temperatures, and what rested volts say: each edge by hand."""

from __future__ import annotations

from typing import Any

import pytest

from olvask.core.assess import assess
from olvask.core.catalogue import chemistries, open_circuit_points
from olvask.core.findings.finding import Finding
from olvask.core.findings.remedy import apply
from olvask.core.stages.survey.sums import NoAnswer, charge_from_rest
from tests.designs import design


def findings(charge: dict[str, Any] | None = None, /, **battery: Any) -> dict[str, Finding]:
    """Findings on a bank of 200 Ah AGM with parts replaced."""
    plain = {"chemistry": "agm", "nominal_v": 12, "capacity_ah": 200.0, "charge_limit_a": 40.0}
    found = assess(design(auxiliary=plain | battery, charge=charge or {})).findings
    return {item.id: item for item in found if item.id.startswith("survey.")}


def string(**changes: Any) -> dict[str, Any]:
    """One block of 12 V, 100 Ah."""
    return {"series": 1, "block_v": 12.0, "capacity_ah": 100.0} | changes


def test_strings_make_the_banks_volts_and_hours() -> None:
    """Two of 100 Ah are 200; 0.5 % is no difference, more is told with the sum; two of 6 V in series make 12, one does not."""
    assert not {"survey.bank_volts", "survey.bank_capacity", "survey.bank_uneven"} & set(
        findings(strings=[string(), string()])
    )
    assert "survey.bank_capacity" not in findings(strings=[string(capacity_ah=100.9), string()])
    told = findings(strings=[string(capacity_ah=102.0), string()])["survey.bank_capacity"]
    assert [change.value for change in told.remedies[0].changes] == [202.0]
    six = string(series=2, block_v=6.0)
    assert "survey.bank_volts" not in findings(strings=[six, six])
    wrong = findings(strings=[string(block_v=6.0), string()])["survey.bank_volts"]
    assert wrong.level == "stop"
    assert "6 V and 12 V against 12 V" in wrong.text


def test_strings_that_do_not_match() -> None:
    """Within a tenth and a year they do; 80 beside 120 Ah, or four years, they do not; the age of one alone says nothing."""
    assert "survey.bank_uneven" not in findings(strings=[string(age_years=1.0), string(age_years=1.5)])
    uneven = findings(strings=[string(capacity_ah=80.0), string(capacity_ah=120.0)])["survey.bank_uneven"]
    assert uneven.text.startswith("80 to 120 Ah")
    aged = findings(strings=[string(age_years=1.0), string(age_years=5.0)])["survey.bank_uneven"]
    assert aged.text.startswith("1 to 5 years old")
    assert "survey.bank_uneven" not in findings(strings=[string(age_years=5.0), string()])


def test_one_chemistry_to_a_bank() -> None:
    """A string of another chemistry is a stop that names both; left out it is the bank's own."""
    mixed = findings(strings=[string(), string(chemistry="gel")])["survey.bank_mixed"]
    assert mixed.level == "stop"
    for name in ("agm", "gel"):
        assert chemistries()[name].label in mixed.text
    assert "survey.bank_mixed" not in findings(strings=[string(), string(chemistry="agm")])


@pytest.mark.parametrize(
    ("strings", "chemistry", "told"),
    [
        ([string(series=2), string(series=2)], "lfp", True),
        ([string(series=2), string(block_v=24.0)], "lfp", True),  # one of them is enough
        ([string(series=2), string(series=2)], "agm", False),
        ([string(series=8, block_v=3.0)] * 2, "lfp", False),  # cells, one management over all
        ([string(block_v=24.0)] * 2, "lfp", False),
    ],
)
def test_lithium_blocks_in_series(strings: list[dict[str, Any]], chemistry: str, told: bool) -> None:
    """Blocks of 12 V and more, each with a management of its own, drift apart."""
    found = findings(chemistry=chemistry, nominal_v=24, strings=strings)
    assert ("survey.bank_series" in found) is told


def test_management_of_a_lithium_bank() -> None:
    """Asked for where strings are entered; one that sleeps is noted."""
    lithium: dict[str, Any] = {"chemistry": "lfp", "strings": [string(), string()]}
    assert findings(**lithium)["survey.no_management"].level == "caution"
    assert "survey.no_management" not in findings(**lithium, management={})
    assert "survey.no_management" not in findings(chemistry="lfp")
    assert "survey.no_management" not in findings(strings=[string(), string()])
    assert findings(**lithium, management={"needs_waking": True})["survey.needs_waking"].level == "note"
    assert "survey.needs_waking" not in findings(**lithium, management={})


@pytest.mark.parametrize(
    ("battery", "charge", "level"),
    [
        ({"temperature_min_c": 5.0}, {}, None),  # lithium is charged from 5 °C up
        ({"temperature_min_c": 4.0}, {}, "caution"),  # some makers allow it
        ({"temperature_min_c": 0.0}, {}, "caution"),
        ({"temperature_min_c": -0.5}, {}, "stop"),
        ({"temperature_min_c": 4.0, "charge_min_c": 5.0}, {}, "stop"),  # this maker does not
        ({"temperature_min_c": -8.0, "low_temperature_cut_off": True}, {}, "note"),
        ({"temperature_min_c": -8.0}, {"cold_c": 5.0}, "note"),
        ({"temperature_min_c": -8.0}, {"cold_c": 4.0}, "stop"),  # it stops too late
    ],
)
def test_lithium_in_the_cold(battery: dict[str, Any], charge: dict[str, Any], level: str | None) -> None:
    """Below freezing it is ruined; between freezing and usual the maker's word decides; stopped, it is only told."""
    found = findings(charge, chemistry="lfp", **battery)
    told = [item.level for name, item in found.items() if name in ("survey.cold", "survey.cold_stopped")]
    assert told == ([] if level is None else [level])
    assert ("survey.cold_stopped" in found) is (level == "note")


def test_each_way_out_of_the_cold_mends_it() -> None:
    """Noted as cut off by itself, or the unit set to stop: the stop is gone."""
    job = design(
        auxiliary={
            "chemistry": "lfp",
            "nominal_v": 12,
            "capacity_ah": 100.0,
            "charge_limit_a": 50.0,
            "temperature_min_c": -8.0,
        }
    )
    told = next(item for item in assess(job).findings if item.id == "survey.cold")
    assert len(told.remedies) == 2
    for remedy in told.remedies:
        levels = {item.id: item.level for item in assess(apply(job, remedy)).findings}
        assert levels["survey.cold_stopped"] == "note"
        assert "survey.cold" not in levels


def test_too_warm() -> None:
    """At its most it is charged, a degree over it is not; the maker's figure goes before the table's."""
    most_c = chemistries()["agm"].charge_max_c
    assert "survey.warm" not in findings(temperature_max_c=most_c)
    assert findings(temperature_max_c=most_c + 1)["survey.warm"].level == "caution"
    assert "survey.warm" in findings(temperature_max_c=most_c, charge_max_c=most_c - 1)


@pytest.mark.parametrize(
    ("existing", "decision", "told"),
    [
        ([{"kind": "link"}], "keep", {"survey.link_beside_unit"}),
        ([{"kind": "link"}], "", set()),
        ([{"kind": "link"}], "disconnect", set()),
        ([], "keep", set()),
        ([{"kind": "link", "cut": True}], "keep", set()),
        ([{"kind": "link"}, {"kind": "panel"}], "disconnect", {"survey.two_links"}),
        ([{"kind": "link"}, {"kind": "panel", "cut": True}], "disconnect", set()),
    ],
)
def test_old_links(existing: list[dict[str, Any]], decision: str, told: set[str]) -> None:
    """One kept beside a unit is a stop, two that join the batteries a caution; undecided is another page's to ask."""
    job = design(existing=existing, old_link={"decision": decision})
    found = {item.id for item in assess(job, remedies=False).findings}
    assert found & {"survey.link_beside_unit", "survey.two_links", "survey.link_voltages"} == told


class TestRestedVolts:
    @pytest.mark.parametrize("nominal_v", [12, 24])
    @pytest.mark.parametrize("chemistry", ["flooded", "agm", "gel", "lfp"])
    def test_ends_of_the_table(self, chemistry: str, nominal_v: int) -> None:
        """More than its tolerance under the lowest row it is flat, over the highest it is still lifted; between, neither."""
        points, item = open_circuit_points()[chemistry], chemistries()[chemistry]
        scale, tolerance = nominal_v / 12, item.rest_tolerance_v

        def text(volts: float) -> str:
            return charge_from_rest(chemistry, nominal_v, volts * scale).text

        lowest, highest = points[0][1], points[-1][1]
        assert "flat" in text(lowest - tolerance - 0.01)
        assert "flat" not in text(lowest - tolerance + 0.01)
        assert "surface charge" in text(highest + tolerance + 0.01)
        assert "surface charge" not in text(highest + tolerance - 0.01)
        for volts in (lowest - 2.51, highest + 0.61):
            with pytest.raises(NoAnswer, match="check the meter"):
                text(volts)

    def test_a_band_either_way(self) -> None:
        """Lead within a third of its charge is told as that; lithium's middle says little."""
        lead = charge_from_rest("agm", 12, 12.6)
        assert 0 < lead.low < lead.high < 1
        assert "rested for hours" in lead.text
        assert "says little here" in charge_from_rest("lfp", 12, 13.2).text
        assert charge_from_rest("lfp", 24, 26.4).low == pytest.approx(charge_from_rest("lfp", 12, 13.2).low)
