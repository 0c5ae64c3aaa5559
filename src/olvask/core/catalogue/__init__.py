"""Standard sizes, ratings, chemistries and the demo shelf, read from CSV with their sources.

- `conductors`: every standard size, smallest first; `conductor(size)` finds one.
- `ampacity_table`: continuous current at 30 °C by size, school and insulation.
- `devices`: protective devices by family, rating ascending.
- `chemistries`, `open_circuit_points`: what each battery chemistry wants and shows at rest.
- `regulations`: how each kind of alternator, or the converter in its place, holds its voltage.
- `shelf_rows`: the invented chargers, batteries and alternators of the demo shelf.
"""

from __future__ import annotations

import csv
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Literal

School = Literal["enclosed", "free_air"]


class NoStandardSize(ValueError):
    """Nothing in the table is big enough."""


@dataclass(frozen=True, slots=True)
class Conductor:
    """One standard conductor size, copper, at 20 °C."""

    size: str
    system: str
    area_mm2: float
    resistance_20c_ohm_per_km: float
    price_per_m: float
    source: str


@dataclass(frozen=True, slots=True)
class Device:
    """One protective device: a fuse or breaker of one family and rating."""

    family: str
    label: str
    rating_a: float
    voltage_v: float
    interrupt_12v_a: float
    interrupt_24v_a: float
    interrupt_48v_a: float
    drop_at_rating_mv: float
    resettable: bool
    price: float
    source: str

    @property
    def resistance_ohm(self) -> float:
        """Typical cold resistance [Ω], from the drop at rated current."""
        return self.drop_at_rating_mv / 1000 / self.rating_a

    def interrupt_a(self, system_v: int) -> float:
        """Interrupt rating [A] for a system of `system_v` [V] nominal; 0 where it has none."""
        return {12: self.interrupt_12v_a, 24: self.interrupt_24v_a}.get(system_v, self.interrupt_48v_a)


@dataclass(frozen=True, slots=True)
class Chemistry:
    """What one battery chemistry wants; voltages per 12 V nominal."""

    chemistry: str
    label: str
    absorption_v: float
    absorption_min_v: float
    absorption_max_v: float
    float_v: float
    charge_c_rate: float
    resistance_ohm_ah: float
    charge_efficiency: float
    charge_min_c: float
    charge_max_c: float
    taper_from: float
    reserve: float
    self_discharge_per_month: float
    rest_tolerance_v: float
    rebulk_v: float
    absorption_h: float
    tail_share: float
    equalise_v: float
    compensation_mv_per_k: float
    source: str


@dataclass(frozen=True, slots=True)
class ChargeLimit:
    """What one quantity of a charge profile may be for one chemistry: outside the inner pair unusual, outside the outer absurd."""

    far_low: float | None
    low: float | None
    high: float | None
    far_high: float | None
    source: str


@dataclass(frozen=True, slots=True)
class Regulation:
    """How one kind of start-side source holds its voltage; volts per 12 V, charger idle."""

    regulation: str
    label: str
    idle_v: float
    cruise_v: float
    low_phase_v: float
    least_v: float
    most_v: float
    source: str


def _rows(name: str) -> Iterator[dict[str, str]]:
    """Rows of a data file, its units row (the second line) passed over."""
    text = files(__package__).joinpath("data", f"{name}.csv").read_text(encoding="utf-8")
    reader = csv.DictReader(text.splitlines())
    next(reader)
    yield from reader


@cache
def conductors() -> tuple[Conductor, ...]:
    """Every standard size, smallest area first."""
    return tuple(
        Conductor(
            row["size"],
            row["system"],
            float(row["area_mm2"]),
            float(row["resistance_20c_ohm_per_km"]),
            float(row["price_per_m"]),
            row["source"],
        )
        for row in _rows("conductors")
    )


@cache
def _conductor_index() -> Mapping[str, Conductor]:
    return {item.size: item for item in conductors()}


def conductor(size: str) -> Conductor:
    """Find the conductor called `size`, such as "35 mm²" or "2 AWG".

    Raises:
        NoStandardSize: the label is not a standard size.
    """
    try:
        return _conductor_index()[size]
    except KeyError:
        raise NoStandardSize(f"{size!r} is not a standard size") from None


@cache
def ampacity_table() -> Mapping[tuple[str, str], Mapping[int, tuple[float, str]]]:
    """Map (size, school) to {insulation °C: (A at 30 °C ambient, source)}."""
    table: dict[tuple[str, str], dict[int, tuple[float, str]]] = {}
    for row in _rows("ampacities"):
        entry = table.setdefault((row["size"], row["school"]), {})
        entry[int(row["insulation_c"])] = (float(row["ampacity_a"]), row["source"])
    return table


@cache
def devices() -> tuple[Device, ...]:
    """Every protective device, family by family, rating ascending."""
    return tuple(
        Device(
            row["family"],
            row["label"],
            float(row["rating_a"]),
            float(row["voltage_v"]),
            float(row["interrupt_12v_a"]),
            float(row["interrupt_24v_a"]),
            float(row["interrupt_48v_a"]),
            float(row["drop_at_rating_mv"]),
            row["resettable"] == "yes",
            float(row["price"]),
            row["source"],
        )
        for row in _rows("devices")
    )


@cache
def _device_index() -> Mapping[tuple[str, float], Device]:
    return {(item.family, item.rating_a): item for item in devices()}


def device(family: str, rating_a: float) -> Device:
    """Find a protective device by `family` and `rating_a` [A].

    Raises:
        NoStandardSize: the family has no such rating.
    """
    try:
        return _device_index()[family, rating_a]
    except KeyError:
        ratings = [f"{item.rating_a:g}" for item in devices() if item.family == family]
        hint = f"choose {', '.join(ratings)} A" if ratings else "no such device family"
        raise NoStandardSize(f"{family} has no {rating_a:g} A rating: {hint}") from None


@cache
def chemistries() -> Mapping[str, Chemistry]:
    """Each chemistry by its key."""
    return {
        row["chemistry"]: Chemistry(
            chemistry=row["chemistry"],
            label=row["label"],
            absorption_v=float(row["absorption_v"]),
            absorption_min_v=float(row["absorption_min_v"]),
            absorption_max_v=float(row["absorption_max_v"]),
            float_v=float(row["float_v"]),
            charge_c_rate=float(row["charge_c_rate"]),
            resistance_ohm_ah=float(row["resistance_ohm_ah"]),
            charge_efficiency=float(row["charge_efficiency"]),
            charge_min_c=float(row["charge_min_c"]),
            charge_max_c=float(row["charge_max_c"]),
            taper_from=float(row["taper_from"]),
            reserve=float(row["reserve"]),
            self_discharge_per_month=float(row["self_discharge_per_month"]),
            rest_tolerance_v=float(row["rest_tolerance_v"]),
            rebulk_v=float(row["rebulk_v"]),
            absorption_h=float(row["absorption_h"]),
            tail_share=float(row["tail_share"]),
            equalise_v=float(row["equalise_v"]),
            compensation_mv_per_k=float(row["compensation_mv_per_k"]),
            source=row["source"],
        )
        for row in _rows("chemistries")
    }


@cache
def charge_limits() -> Mapping[tuple[str, str], ChargeLimit]:
    """Bands of each quantity of a charge profile by chemistry and quantity; volts per 12 V nominal."""

    def bound(row: dict[str, str], name: str) -> float | None:
        return float(row[name]) if row[name] else None

    return {
        (row["chemistry"], row["quantity"]): ChargeLimit(
            bound(row, "far_low"), bound(row, "low"), bound(row, "high"), bound(row, "far_high"), row["source"]
        )
        for row in _rows("charge_limits")
    }


@cache
def regulations() -> Mapping[str, Regulation]:
    """Each kind of regulation by its key, the DC converter among them."""
    return {
        row["regulation"]: Regulation(
            row["regulation"],
            row["label"],
            float(row["idle_v"]),
            float(row["cruise_v"]),
            float(row["low_phase_v"]),
            float(row["least_v"]),
            float(row["most_v"]),
            row["source"],
        )
        for row in _rows("regulations")
    }


@cache
def open_circuit_points() -> Mapping[str, tuple[tuple[float, float], ...]]:
    """Rested voltage per 12 V nominal: chemistry to ((state of charge 0..1, V), ...)."""
    points: dict[str, list[tuple[float, float]]] = {}
    for row in _rows("open_circuit_volts"):
        points.setdefault(row["chemistry"], []).append(
            (float(row["state_of_charge_percent"]) / 100, float(row["open_circuit_v"]))
        )
    return {key: tuple(value) for key, value in points.items()}


@cache
def shelf_rows(name: Literal["chargers", "batteries", "alternators"]) -> tuple[dict[str, str], ...]:
    """Raw rows of one shelf table of the invented demo world."""
    return tuple(_rows(name))
