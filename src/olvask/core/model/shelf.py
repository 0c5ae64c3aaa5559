"""What stands on a shelf: units, batteries, alternators, cables, devices, other chargers, monitors, each under its number.

- `KINDS`: the kinds and their models.
- `chargers`, `batteries`, `alternators`, `sample_items`: the invented shelf of the demo.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any, Literal

from pydantic import Field, field_validator, model_validator

from olvask.core.catalogue import conductors, device, devices, shelf_rows
from olvask.core.model.base import Described, choice, quantity, standard_size, whole
from olvask.core.model.battery import AuxiliaryBattery
from olvask.core.model.charger import Charger
from olvask.core.model.charging import Sourced
from olvask.core.model.monitor import MonitorUnit
from olvask.core.model.run import FAMILIES, FamilyName
from olvask.core.model.sample_records import record_for, sample_monitors, sample_sources
from olvask.core.model.vehicle import Alternator

LISTS = {"limit_steps_a", "enables"}
SAMPLE_SIZES = ("6 mm²", "10 mm²", "16 mm²", "25 mm²", "35 mm²", "50 mm²", "70 mm²")
SAMPLE_FAMILIES = ("class_t", "sf30")
KindName = Literal["chargers", "batteries", "alternators", "cables", "devices", "other_chargers", "monitors"]


def _values(row: dict[str, str], model: type[Described]) -> dict[str, Any]:
    """Cells of a CSV row as the model takes them: empty cells left out, lists split at spaces, dots nested."""
    found: dict[str, Any] = {}
    for key, cell in row.items():
        group, _, name = key.rpartition(".")
        if cell == "" or (group or name) not in model.model_fields:
            continue
        value = cell.split() if key in LISTS else cell == "yes" if cell in ("yes", "no") else cell
        if group:
            found.setdefault(group, {})[name] = value
        else:
            found[name] = value
    return found


class Numbered(Described):
    """Anything with a shelf number."""

    id: str = Field(title="Shelf number", min_length=1, max_length=60, pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]*$")


class ShelfBattery(Numbered):
    """A battery on the shelf: what goes into a design, its maker and price."""

    maker: str = Field("", title="Maker", max_length=80)
    price: float = quantity("Price", "€", default=0.0, ge=0, le=1e6)
    battery: AuxiliaryBattery


class ShelfAlternator(Numbered):
    """An alternator on the shelf: what goes into a design, and its voltage."""

    nominal_v: Literal[12, 24] = choice("Nominal voltage", {12: "12 V", 24: "24 V"}, default=12)
    alternator: Alternator


class ShelfCable(Numbered):
    """A drum of cable in stock, with the workshop's own price."""

    size: str = Field(title="Size", max_length=20)
    price_per_m: float = quantity("Price", "€/m", ge=0, le=1e4, example=4.2)
    stock_m: float | None = quantity("In stock", "m", default=None, ge=0, le=1e5, example=50)
    supplier: str = Field("", title="Supplier", max_length=80)
    source: str = Field("", title="Source", max_length=200)

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)


class ShelfDevice(Numbered):
    """A protective device in stock, with the workshop's own price."""

    family: FamilyName = choice("Device family", FAMILIES, default="class_t")
    rating_a: float = quantity("Rating", "A", gt=0, le=1000, example=60)
    price: float = quantity("Price", "€", ge=0, le=1e4, example=24)
    stock: int | None = whole("In stock", "pieces", default=None, ge=0, le=100000, example=4)
    supplier: str = Field("", title="Supplier", max_length=80)
    source: str = Field("", title="Source", max_length=200)

    @model_validator(mode="after")
    def _rating_exists(self) -> ShelfDevice:
        device(self.family, self.rating_a)
        return self


class ShelfSource(Numbered):
    """A solar controller, mains charger or portable charger: how it charges, and its menu."""

    name: str = Field(title="Charger", min_length=1, max_length=80)
    maker: str = Field("", title="Maker", max_length=80)
    kind: Literal["solar_controller", "mains_charger", "portable_charger"] = choice(
        "Kind",
        {
            "solar_controller": "solar controller",
            "mains_charger": "mains charger",
            "portable_charger": "portable charger",
        },
        default="mains_charger",
    )
    nominal_v: Literal[12, 24, 48] = choice("Battery voltage", {12: "12 V", 24: "24 V", 48: "48 V"}, default=12)
    output_a: float = quantity("Output current", "A", gt=0, le=500, example=20)
    stages: Sourced = Field(Sourced(), title="Its stages")
    price: float = quantity("Price", "€", default=0.0, ge=0, le=1e6)
    source: str = Field("", title="Source", max_length=200)


class ShelfMonitor(Numbered):
    """A battery monitor with its shunt, and its menu."""

    monitor: MonitorUnit
    price: float = quantity("Price", "€", default=0.0, ge=0, le=1e6)
    source: str = Field("", title="Source", max_length=200)


ShelfItem = Charger | ShelfBattery | ShelfAlternator | ShelfCable | ShelfDevice | ShelfSource | ShelfMonitor
KINDS: Mapping[KindName, type[Charger | Numbered]] = {
    "chargers": Charger,
    "batteries": ShelfBattery,
    "alternators": ShelfAlternator,
    "cables": ShelfCable,
    "devices": ShelfDevice,
    "other_chargers": ShelfSource,
    "monitors": ShelfMonitor,
}


@cache
def chargers() -> tuple[Charger, ...]:
    """Every unit on the demo shelf."""
    return tuple(_charger(row) for row in shelf_rows("chargers"))


def _charger(row: dict[str, str]) -> Charger:
    values = _values(row, Charger)
    for key in ("input_nominal_v", "output_nominal_v"):
        values[key] = int(str(values[key]))
    bare = Charger.model_validate(values)
    return Charger.model_validate(values | {"settings": record_for(bare.model_dump(mode="json"))})


@cache
def batteries() -> tuple[ShelfBattery, ...]:
    """Every auxiliary battery on the demo shelf."""
    return tuple(
        ShelfBattery(
            id=row["id"],
            maker=row["maker"],
            price=float(row["price"]),
            battery=AuxiliaryBattery.model_validate(
                _values(row, AuxiliaryBattery) | {"nominal_v": int(row["nominal_v"])}
            ),
        )
        for row in shelf_rows("batteries")
    )


@cache
def alternators() -> tuple[ShelfAlternator, ...]:
    """Every alternator on the demo shelf."""
    return tuple(
        ShelfAlternator.model_validate(
            {
                "id": row["id"],
                "nominal_v": int(row["nominal_v"]),
                "alternator": Alternator.model_validate(_values(row, Alternator)),
            }
        )
        for row in shelf_rows("alternators")
    )


def sample_items() -> dict[KindName, tuple[ShelfItem, ...]]:
    """The invented shelf of the demo, every kind."""
    stock = [item for item in conductors() if item.size in SAMPLE_SIZES]
    rated = [item for item in devices() if item.family in SAMPLE_FAMILIES and item.rating_a <= 150]
    return {
        "chargers": chargers(),
        "batteries": batteries(),
        "alternators": alternators(),
        "cables": tuple(
            ShelfCable(
                id=f"drum-{item.area_mm2:g}",
                size=item.size,
                price_per_m=item.price_per_m,
                stock_m=50.0,
                supplier="Brackenford Cable",
                source="invented for the demo shelf",
            )
            for item in stock
        ),
        "devices": tuple(
            ShelfDevice.model_validate(
                {
                    "id": f"{item.family.replace('_', '-')}-{item.rating_a:g}",
                    "family": item.family,
                    "rating_a": item.rating_a,
                    "price": item.price,
                    "stock": 4,
                    "supplier": "Sallow Bridge Electrics",
                    "source": "invented for the demo shelf",
                }
            )
            for item in rated
        ),
        "other_chargers": tuple(ShelfSource.model_validate(item) for item in sample_sources()),
        "monitors": tuple(ShelfMonitor.model_validate(item) for item in sample_monitors()),
    }
