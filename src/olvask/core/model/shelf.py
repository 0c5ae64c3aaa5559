"""The demo shelf as models: invented units, batteries and alternators."""

from __future__ import annotations

from functools import cache

from pydantic import BaseModel, ConfigDict

from olvask.core.catalogue import shelf_rows
from olvask.core.model.battery import AuxiliaryBattery
from olvask.core.model.charger import Charger
from olvask.core.model.vehicle import Alternator

LISTS = {"limit_steps_a", "enables"}


def _values(row: dict[str, str], model: type[BaseModel]) -> dict[str, object]:
    """Cells of a CSV row as the model takes them: empty cells left out, lists split at spaces."""
    fields = model.model_fields
    return {
        key: cell.split() if key in LISTS else cell == "yes" if cell in ("yes", "no") else cell
        for key, cell in row.items()
        if key in fields and cell != ""
    }


class ShelfBattery(BaseModel):
    """A battery on the shelf: what goes into a design, its shelf number and price."""

    model_config = ConfigDict(frozen=True)

    id: str
    maker: str
    price: float
    battery: AuxiliaryBattery


class ShelfAlternator(BaseModel):
    """An alternator on the shelf: what goes into a design, its shelf number and voltage."""

    model_config = ConfigDict(frozen=True)

    id: str
    nominal_v: int
    alternator: Alternator


@cache
def chargers() -> tuple[Charger, ...]:
    """Every unit on the demo shelf."""
    return tuple(_charger(row) for row in shelf_rows("chargers"))


def _charger(row: dict[str, str]) -> Charger:
    values = _values(row, Charger)
    for key in ("input_nominal_v", "output_nominal_v"):
        values[key] = int(str(values[key]))
    return Charger.model_validate(values)


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
        ShelfAlternator(
            id=row["id"],
            nominal_v=int(row["nominal_v"]),
            alternator=Alternator.model_validate(_values(row, Alternator)),
        )
        for row in shelf_rows("alternators")
    )
