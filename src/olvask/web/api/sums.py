"""Sums on the side over the wire: one question, its answers with their working."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

import olvask.core.stages.survey.sums as sums
from olvask.core.findings.figure import Figure
from olvask.core.model import Load
from olvask.core.model.base import Described, choice, quantity
from olvask.core.model.chemistry import CHEMISTRIES, ChemistryName
from olvask.core.model.entry_errors import EntryError
from olvask.web.body import BadInput


class LoadAverageIn(Described):
    """A load's true average from two states of charge."""

    sum: Literal["load_average"] = "load_average"
    capacity_ah: float = quantity("Capacity", "Ah", gt=0, le=5000, example=100)
    charge_before: float = quantity("State of charge before", "share", ge=0, le=1, example=0.9)
    charge_after: float = quantity("State of charge after", "share", ge=0, le=1, example=0.6)
    hours: float = quantity("Hours between", "h", gt=0, le=8760, example=12)
    charged_ah: float = quantity("Charged meanwhile", "Ah", default=0.0, ge=0, le=20000, example=0)
    efficiency: float = quantity("Share of it kept", "share", default=0.9, gt=0, le=1, example=0.95)


class DailyNeedIn(Described):
    """Daily use from a list of loads."""

    sum: Literal["daily_need"] = "daily_need"
    nominal_v: Literal[12, 24, 48] = 12
    loads: tuple[Load, ...] = Field((), title="Loads", max_length=40)


class RestIn(Described):
    """What a rested voltage says."""

    sum: Literal["rest"] = "rest"
    chemistry: ChemistryName = choice("Battery type", CHEMISTRIES, default="agm")
    nominal_v: Literal[12, 24, 48] = choice("Nominal voltage", {12: "12 V", 24: "24 V", 48: "48 V"}, default=12)
    rest_v: float = quantity("Rested", "V", gt=0, le=64, example=12.6)


class FlatIn(Described):
    """Days until a start battery is flat."""

    sum: Literal["flat"] = "flat"
    chemistry: ChemistryName = choice("Start battery type", CHEMISTRIES, default="flooded")
    capacity_ah: float = quantity("Capacity", "Ah", gt=0, le=1000, example=80)
    charge_from: float = quantity("State of charge when parked", "share", default=0.9, ge=0, le=1, example=0.9)
    charge_keep: float = quantity("State of charge to keep", "share", default=0.6, ge=0, le=1, example=0.6)
    drain_ma: float = quantity("Standing drain", "mA", default=30.0, ge=0, le=20000, example=30)
    maintainer_a: float = quantity("Maintainer", "A", default=0.0, ge=0, le=50, example=1)
    auxiliary_usable_ah: float = quantity("Auxiliary can spare", "Ah", default=0.0, ge=0, le=5000, example=60)


class BondingIn(Described):
    """Bonding from volts under a known current."""

    sum: Literal["bonding"] = "bonding"
    volts_mv: float = quantity("Between the negatives", "mV", ge=0, le=100000, example=40)
    current_a: float = quantity("Current through it", "A", gt=0, le=1000, example=10)


class SumIn(Described):
    """One sum to work out."""

    asked: Annotated[LoadAverageIn | DailyNeedIn | RestIn | FlatIn | BondingIn, Field(discriminator="sum")]


class SumOut(BaseModel):
    """Its answer in words, and the figures behind it."""

    model_config = ConfigDict(frozen=True)

    text: str
    low: float | None = None
    high: float | None = None
    figures: tuple[Figure, ...] = ()


def work_out(question: SumIn) -> SumOut:
    """Answer a sum.

    Raises:
        BadInput: the numbers contradict each other; the error names the field.
    """
    asked = question.asked
    try:
        if isinstance(asked, LoadAverageIn):
            figure = sums.load_average(
                asked.capacity_ah,
                asked.charge_before,
                asked.charge_after,
                asked.hours,
                asked.charged_ah,
                asked.efficiency,
            )
            average = figure.value or 0.0
            return SumOut(text=f"{average:.2f} A on average, {24 * average:.0f} Ah a day.", figures=(figure,))
        if isinstance(asked, DailyNeedIn):
            figure = sums.daily_need(asked.loads, asked.nominal_v)
            return SumOut(text=f"{figure.value or 0:.0f} Ah a day.", figures=(figure,))
        if isinstance(asked, RestIn):
            band = sums.charge_from_rest(asked.chemistry, asked.nominal_v, asked.rest_v)
            return SumOut(text=band.text, low=band.low, high=band.high)
        if isinstance(asked, FlatIn):
            days = sums.days_to_flat(
                asked.chemistry,
                asked.capacity_ah,
                asked.charge_from,
                asked.charge_keep,
                asked.drain_ma,
                asked.maintainer_a,
                asked.auxiliary_usable_ah,
            )
            figures = (days.alone,) if days.maintained is None else (days.alone, days.maintained)
            return SumOut(text=days.text, figures=figures)
        figure = sums.bonding_from_volts(asked.volts_mv, asked.current_a)
        return SumOut(text=f"{figure.value or 0:.2f} mΩ between the negatives.", figures=(figure,))
    except sums.NoAnswer as error:
        path = f"asked.{error.field}"
        raise BadInput([EntryError(path=path, field=error.field.replace("_", " "), message=str(error))]) from None
