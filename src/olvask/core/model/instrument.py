"""A meter or a bench supply that speaks SCPI over a socket, and how far its readings may be out."""

from __future__ import annotations

import ipaddress
from typing import Annotated, Literal

from pydantic import Field, field_validator

from olvask.core.model.base import ONCE, Described, choice, quantity, whole

Function = Literal["volts", "amps", "ohms", "celsius", "seconds"]
FUNCTIONS: dict[Function, str] = {
    "volts": "volts",
    "amps": "amperes, clamp",
    "ohms": "ohms",
    "celsius": "temperature",
    "seconds": "seconds",
}


class Instrument(Described):
    """One instrument of the workshop."""

    name: str = Field(title="Instrument", min_length=1, max_length=40)
    kind: Literal["meter", "supply"] = choice("It is a", {"meter": "meter", "supply": "bench supply"}, default="meter")
    host: str = Field("127.0.0.1", title="Address", min_length=1, max_length=64)
    port: int = whole("Port", "", default=5025, ge=1, le=65535, example=5025)
    reads: Annotated[tuple[Function, ...], ONCE] = Field(
        ("volts",),
        title="It reads",
        max_length=5,
        json_schema_extra={"choices": [{"value": value, "label": label} for value, label in FUNCTIONS.items()]},
    )
    percent: float = quantity("Out by, of the reading", "%", default=0.5, ge=0, le=20, example=0.5, step=0.1)
    digits: float = quantity(
        "And besides",
        "of its unit",
        default=0.02,
        ge=0,
        le=10,
        example=0.02,
        step=0.01,
        help="Volts of a voltmeter, amperes of a clamp: its last digits, as its sheet gives them.",
    )

    @field_validator("host")
    @classmethod
    def _near(cls, value: str) -> str:
        """Instruments stand in the workshop: addresses of this machine or of a private network, by number."""
        word = value.strip()
        if word == "localhost":
            return "127.0.0.1"
        try:
            address = ipaddress.ip_address(word)
        except ValueError:
            raise ValueError(
                "give the instrument's address as numbers, such as 192.168.1.40; its display or menu shows it"
            ) from None
        if not (address.is_loopback or address.is_private) or address.is_unspecified:
            raise ValueError("an instrument stands on the workshop's own network; give its address there")
        return str(address)
