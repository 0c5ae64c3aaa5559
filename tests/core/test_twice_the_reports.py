"""Whole reports of a job with everything in volts, watts and ohms twice over: each volt in them twice, all else the same.

Every figure is compared and every sentence, by its words and by the quantities in it, so that whatever is built of
volts of one system is seen to be built of that of the other as well.
"""

from __future__ import annotations

import random
import re
from collections.abc import Callable, Iterator
from dataclasses import fields, is_dataclass
from typing import Any

import pytest

from olvask.core.analyses.diagnosis.faults import faults_of
from olvask.core.circuit.context import Context
from olvask.core.model import Design
from olvask.core.stages.build.procedure import procedure_of
from olvask.core.stages.prove.tests import tests_of as listed
from olvask.core.stages.prove.unknowns import unknowns_of
from olvask.core.stages.settings.climate import climate_of
from olvask.core.stages.settings.monitor import monitor_of
from olvask.core.stages.settings.sheet import sheet_of
from olvask.core.stages.wake.existing_link import plan_existing_link
from olvask.core.stages.wake.method import advise
from tests.core.analyses.test_recommended import survey
from tests.core.test_twice_the_volts import DOUBLED, QUANTITY, twice

JOBS = 24
VOLTS = ("_v", "_w", "_wh", "_mohm", "_ohm", "_mv")
NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
# A dead terminal, an open management and a dropper for a capacitor are the same in any system.
AS_IT_IS = {"W: 100 Ω, 10 W, on insulated leads", "V: 0 to 2 V: its management is open."}
BY_OHMS = (".expected.", ": 'Does it let go below")  # a guard's return hangs on the ohms of fuses as well
OF_THE_WORLD = {".most: 5.0 became 6.4"}  # a bonded body is a few milliohms in any system, or twice what was measured


@pytest.fixture(scope="module")
def pairs() -> list[tuple[Context, Context, Context]]:
    """Jobs of 12 V, the same twice over, and these without the joints that stand for the ohms of their fuses."""
    found: list[tuple[Context, Context, Context]] = []
    for seed in range(200):
        job, _ = survey(random.Random(seed))
        if (job.vehicle.system_v, job.auxiliary.nominal_v) == (12, 12) and len(found) < JOBS:
            plain = job.model_dump(mode="json")
            double, bare = twice(plain), twice(plain)
            for run in ("supply", "delivery"):
                bare[run]["pieces"] = [piece for piece in bare[run]["pieces"] if not piece["id"].endswith("again")]
            jobs = (job, Design.model_validate(double), Design.model_validate(bare))
            found.append((Context.of(jobs[0]), Context.of(jobs[1]), Context.of(jobs[2])))
    assert len(found) == JOBS
    return found


def differs(one: Any, two: Any, within: float, at: str = "", unit: str = "") -> Iterator[str]:
    """Where a report of the doubled job is not that of the job with every volt doubled."""
    if is_dataclass(one):
        assert type(one) is type(two), at
        for field in fields(one):
            pair = getattr(one, field.name), getattr(two, field.name)
            own = one.unit if field.name in ("least", "most", "apart") and hasattr(one, "unit") else ""
            yield from differs(*pair, within, f"{at}.{field.name}", own)
    elif isinstance(one, dict):
        yield from differs(list(one), list(two), within, at)
        for key in set(one) & set(two):
            yield from differs(one[key], two[key], within, f"{at}.{key}")
    elif isinstance(one, list | tuple):
        if len(one) != len(two):
            yield f"{at}: {one} became {two}"
        for each, other in zip(one, two, strict=False):
            yield from differs(each, other, within, at, unit)
    elif isinstance(one, str):
        yield from _said(one, two, at)
    elif isinstance(one, int | float) and not isinstance(one, bool):
        wanted = one * (2 if at.endswith(VOLTS) or unit in DOUBLED else 1)
        if two != pytest.approx(wanted, rel=1e-3, abs=max(within, 1e-3)):
            yield f"{at}: {one} became {two}"
    elif (one is None or isinstance(one, bool)) and one is not two:
        yield f"{at}: {one} became {two}"


def _said(one: str, two: str, at: str) -> Iterator[str]:
    if NUMBER.sub("#", one) != NUMBER.sub("#", two):
        yield f"{at}: {one!r} became {two!r}"
        return
    for (figure, unit), (double, _) in zip(QUANTITY.findall(one), QUANTITY.findall(two), strict=True):
        wanted = float(figure) * (2 if unit in DOUBLED else 1)
        rounded = 1.6 * 10.0 ** -len(figure.partition(".")[2])
        if float(double) != pytest.approx(wanted, rel=1e-3, abs=rounded) and f"{unit}: {one}" not in AS_IT_IS:
            yield f"{at}: {one!r} became {two!r}"


def _unknowns(ctx: Context) -> dict[str, dict[str, float]]:
    """Means and spreads under names that end as their unit does; crimps and fuses have the ohms of the world."""
    legs = ("supply_", "delivery_")
    found = [item for item in unknowns_of(ctx) if not item.name.startswith(legs)]
    return {"mean": {item.name: item.mean for item in found}, "sigma": {item.name: item.sigma for item in found}}


@pytest.mark.parametrize(
    "report",
    [
        _unknowns,
        sheet_of,
        monitor_of,
        climate_of,
        lambda ctx: advise(ctx.design),
        lambda ctx: plan_existing_link(ctx.design),
        lambda ctx: [fault.key for fault in faults_of(ctx)],
    ],
    ids=["unknowns", "sheet", "monitor", "climate", "ways to start", "old link", "faults"],
)
def test_a_report(pairs: list[tuple[Context, Context, Context]], report: Callable[[Context], Any]) -> None:
    """What is wanted, advised and expected of the doubled job is that of the job."""
    for once, again, _ in pairs:
        assert list(differs(report(once), report(again), 0.0)) == []


@pytest.mark.parametrize("report", [procedure_of, listed], ids=["steps", "tests"])
def test_a_list_of_work(pairs: list[tuple[Context, Context, Context]], report: Callable[[Context], Any]) -> None:
    """The same steps and the same readings, to the digits of the meter and the ohms of fuses and bodywork."""
    for once, _, again in pairs:
        found = differs(report(once), report(again), 0.12)
        assert [item for item in found if item not in OF_THE_WORLD and not any(map(item.__contains__, BY_OHMS))] == []
