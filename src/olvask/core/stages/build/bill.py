"""What an installed choice costs in parts: unit, cables with slack, devices and joints."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from olvask.core.catalogue import conductor, device
from olvask.core.model import Cable, Design, OwnReturn, ProtectiveDevice, Run

SLACK = 0.2  # of the measured path, bought on top
JOINT_PRICE = 8.0  # bus bar post or joint box, cover and nuts
END_PRICE = 2.0  # lug or ferrule with its sleeve


@dataclass(frozen=True, slots=True)
class Prices:
    """The workshop's own prices where they differ from the catalogue's.

    Attributes:
        cables: size to € per metre.
        devices: (family, rating) to €.
    """

    cables: Mapping[str, float] = field(default_factory=dict)
    devices: Mapping[tuple[str, float], float] = field(default_factory=dict)

    def per_m(self, size: str) -> float:
        """Price of a cable [€/m]."""
        return self.cables.get(size, conductor(size).price_per_m)

    def of_device(self, family: str, rating_a: float) -> float:
        """Price of a device [€]."""
        return self.devices.get((family, rating_a), device(family, rating_a).price)


CATALOGUE_PRICES = Prices()


def run_price(run: Run, prices: Prices) -> float:
    """Price of a run's parts [€]; an own return doubles cables and ends."""
    both = 2 if isinstance(run.back, OwnReturn) else 1
    total = 0.0
    for piece in run.pieces:
        if isinstance(piece, Cable):
            total += both * (prices.per_m(piece.size) * piece.length_m * (1 + SLACK) + 2 * END_PRICE)
        elif isinstance(piece, ProtectiveDevice):
            total += prices.of_device(piece.family, piece.rating_a)
        else:
            total += both * JOINT_PRICE
    return total


def installed_price(design: Design, prices: Prices = CATALOGUE_PRICES) -> float:
    """Price of unit, runs and devices together [€]; labour not counted.

    Args:
        design: the design.
        prices: the workshop's own prices.
    """
    unit = design.charger.price * design.units if design.charger is not None else 0.0
    return unit + run_price(design.supply, prices) + run_price(design.delivery, prices)
