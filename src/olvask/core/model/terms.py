"""What a quote rests on: routes a run could take, what an hour costs, tax, validity, what is not included."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from olvask.core.model.base import Described, Identified, choice, quantity, tick, whole


class Route(Identified):
    """One way a run could be laid: hidden, short, along what is there."""

    side: Literal["supply", "delivery"] = choice(
        "Route of", {"supply": "supply run", "delivery": "delivery run"}, default="supply"
    )
    name: str = Field(title="Route", min_length=1, max_length=60)
    length_m: float = quantity("Route, one-way", "m", gt=0, le=60, example=5.5, step=0.1)
    hours: float = quantity("Hours to lay it", "h", default=1.0, ge=0, le=200, example=2.5, step=0.25)
    notes: str = Field("", title="Route note", max_length=200)
    taken: bool = tick("Taken")


class Terms(Described):
    """Rates of the workshop and the terms of its quote."""

    rate_per_h: float = quantity("Labour, an hour", "€/h", default=65.0, ge=0, le=1000, example=65, step=5)
    hours_factor: float = quantity(
        "Hours, times", "×", default=1.0, ge=0.2, le=5, example=1, step=0.1, help="A cramped vehicle takes longer."
    )
    extra_h: float = quantity("Hours besides", "h", default=0.0, ge=0, le=500, example=2, step=0.5)
    extra_for: str = Field("", title="Besides, for", max_length=120)
    parts_markup: float = quantity("On parts", "%", default=0.0, ge=0, le=200, example=15, step=5)
    small_parts: float = quantity("Small parts", "€", default=0.0, ge=0, le=5000, example=20, step=5)
    tax_percent: float = quantity("Tax", "%", default=20.0, ge=0, le=50, example=20, step=1)
    valid_days: int = whole("Valid for", "days", default=30, ge=1, le=365, example=30)
    excluded: tuple[Annotated[str, Field(max_length=160)], ...] = Field(
        ("work on mains, gas and airbags", "repair of what is found faulty on opening"),
        title="Not included",
        max_length=12,
    )
