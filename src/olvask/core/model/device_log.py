"""How the columns of a device's log are to be read: mapped once for each kind of log, and kept.

- `Column`, `LogMapping`: what each column holds.
- `MEASURES`, `Measure`: what can be read from a log, with the range a vehicle can have.
- `UNITS`: units a column may be in.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple
from zoneinfo import ZoneInfo

from pydantic import Field, field_validator, model_validator

from olvask.core.model.base import Described, choice, whole

Measured = Literal[
    "input_v",
    "input_a",
    "output_v",
    "output_a",
    "post_v",
    "auxiliary_v",
    "auxiliary_a",
    "charge_percent",
    "battery_c",
    "charging",
]
Role = Literal["", "moment", "date", "clock", Measured]
MEASURED: tuple[Measured, ...] = Measured.__args__  # type: ignore[attr-defined]
MOMENTS: tuple[Role, ...] = ("moment", "date", "clock")


class Measure(NamedTuple):
    """What a column can hold: its name, its own unit, and what lies beyond any vehicle [that unit]."""

    label: str
    unit: str
    least: float
    most: float


# Bounds are our own estimates: a 48 V system at its highest, a bank of units, and what a sensor survives.
MEASURES: Mapping[Measured, Measure] = {
    "input_v": Measure("Volts at the unit's input", "V", -1.0, 80.0),
    "input_a": Measure("Current into the unit", "A", -50.0, 600.0),
    "output_v": Measure("Volts at the unit's output", "V", -1.0, 80.0),
    "output_a": Measure("Current out of the unit", "A", -50.0, 600.0),
    "post_v": Measure("Volts of the start battery", "V", -1.0, 80.0),
    "auxiliary_v": Measure("Volts of the auxiliary battery", "V", -1.0, 80.0),
    "auxiliary_a": Measure("Current into the auxiliary battery", "A", -2000.0, 2000.0),
    "charge_percent": Measure("State of charge", "%", -0.5, 105.0),
    "battery_c": Measure("Temperature of the auxiliary battery", "°C", -50.0, 110.0),
    "charging": Measure("The unit's state in words", "", 0.0, 1.0),
}
ROLES: Mapping[Role, str] = {
    "": "not used",
    "moment": "Date and time",
    "date": "Date",
    "clock": "Time of day",
    **{key: measure.label for key, measure in MEASURES.items()},
}
# Units as written, by what one of them is in the measure's own unit: factor and sum.
UNITS: Mapping[str, Mapping[str, tuple[float, float]]] = {
    "V": {"V": (1.0, 0.0), "mV": (1e-3, 0.0)},
    "A": {"A": (1.0, 0.0), "mA": (1e-3, 0.0), "W": (1.0, 0.0), "kW": (1e3, 0.0)},
    "%": {"%": (1.0, 0.0), "0 to 1": (100.0, 0.0)},
    "°C": {"°C": (1.0, 0.0), "°F": (5 / 9, -160 / 9), "K": (1.0, -273.15)},
    "": {"": (1.0, 0.0)},
}
# Watts are amperes by the volts of the same place, the first of these that the log has.
WATTS = ("W", "kW")
VOLTS_OF: Mapping[Measured, tuple[Measured, ...]] = {
    "input_a": ("input_v", "post_v"),
    "output_a": ("output_v", "auxiliary_v"),
    "auxiliary_a": ("auxiliary_v", "output_v"),
}
Order = Literal["ymd", "dmy", "mdy", "epoch_s", "epoch_ms"]
ORDERS: Mapping[Order, str] = {
    "ymd": "year, month, day",
    "dmy": "day, month, year",
    "mdy": "month, day, year",
    "epoch_s": "seconds since 1970",
    "epoch_ms": "milliseconds since 1970",
}
Delimiter = Literal[",", ";", "\t", "|"]
DELIMITERS: Mapping[Delimiter, str] = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
ENCODINGS = {"utf-8": "UTF-8", "utf-16": "UTF-16", "latin-1": "Western European"}
MOST_STATES = 40  # words of a unit's states; more are no states. Our own estimate
MOST_COLUMNS = 200  # our own estimate: more are no device's


class Column(Described):
    """One column that is used."""

    name: str = Field(title="Column", max_length=120)
    role: Role = choice("It holds", ROLES, default="")
    unit: str = Field("", title="Unit", max_length=8)

    @model_validator(mode="after")
    def _own_unit(self) -> Column:
        """A unit that its measure can be in."""
        if self.role in MEASURED:
            own = MEASURES[self.role].unit
            if self.unit not in UNITS[own]:
                raise ValueError(f"{ROLES[self.role]} is in {' or '.join(UNITS[own])}; choose one for “{self.name}”")
        return self


def signature_of(delimiter: str, columns: Iterable[Column]) -> str:
    """What logs of one kind have in common.

    Args:
        delimiter: what parts their columns.
        columns: in order.
    """
    return "\x1f".join((delimiter, *(column.name for column in columns)))


class LogMapping(Described):
    """How one kind of log is read."""

    encoding: Literal["utf-8", "utf-16", "latin-1"] = choice("Characters", ENCODINGS, default="utf-8")
    delimiter: Delimiter = choice("Columns parted by", DELIMITERS, default=",")
    decimal: Literal[".", ","] = choice("Decimals", {".": "point", ",": "comma"}, default=".")
    header_line: int = whole("Line of the column names", "", default=1, ge=1, le=200, example=1)
    columns: tuple[Column, ...] = Field(title="Columns", min_length=2, max_length=MOST_COLUMNS)
    order: Order = choice("Dates are written", ORDERS, default="ymd")
    zone: str = Field("UTC", title="Its clock's time zone", max_length=40)
    charging: tuple[str, ...] = Field((), title="States in which it charges", max_length=MOST_STATES)
    resting: tuple[str, ...] = Field((), title="States in which it does not charge", max_length=MOST_STATES)

    @field_validator("zone")
    @classmethod
    def _known(cls, value: str) -> str:
        try:
            ZoneInfo(value)
        except (KeyError, ValueError, OSError):
            raise ValueError(f"no time zone is called {value!r}; write such as UTC or Europe/Lisbon") from None
        return value

    @model_validator(mode="after")
    def _whole(self) -> LogMapping:
        """Each role once, a moment, and something measured."""
        roles = [column.role for column in self.columns if column.role]
        twice = next((role for role in roles if roles.count(role) > 1), None)
        if twice is not None:
            names = " and ".join(f"“{column.name}”" for column in self.columns if column.role == twice)
            raise ValueError(f"{ROLES[twice]} is given to {names}; keep one")
        if "moment" not in roles and not {"date", "clock"} <= set(roles):
            raise ValueError("no column holds date and time; choose it, or one for the date and one for the time")
        if "moment" in roles and {"date", "clock"} & set(roles):
            raise ValueError("date and time are in one column or in two, not both; set one of them to not used")
        if not {"input_v", "post_v", "output_v", "auxiliary_v"} & set(roles):
            raise ValueError("no column holds volts; choose at least one")
        for column in self.columns:
            if column.unit in WATTS and column.role in MEASURED and not set(VOLTS_OF[column.role]) & set(roles):
                needs = " or ".join(ROLES[name].lower() for name in VOLTS_OF[column.role])
                raise ValueError(
                    f"“{column.name}” is in watts, which become amperes by {needs}; choose that column too"
                )
        both = next((word for word in self.charging if word in self.resting), None)
        if both is not None:
            raise ValueError(f"{both!r} is among the states in which it charges and among the others; keep it in one")
        if "charging" in roles and not self.charging:
            raise ValueError("no state is marked as charging; mark at least one, or do not use the column of states")
        if self.delimiter == self.decimal:
            raise ValueError("a comma parts columns or decimals, not both; choose the other for one of them")
        return self

    @property
    def signature(self) -> str:
        """What logs of this kind have in common: their column names in order, and what parts them."""
        return signature_of(self.delimiter, self.columns)

    def at(self, role: Role) -> int | None:
        """Number of the column with a role."""
        return next((place for place, column in enumerate(self.columns) if column.role == role), None)
