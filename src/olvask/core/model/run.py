"""A run: the pieces a current passes on its way out, and the way back."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from olvask.core.catalogue import device
from olvask.core.model.base import Described, quantity, standard_size

FamilyName = Literal["blade", "sf30", "sf51", "cube", "class_t", "nh", "breaker"]


class ProtectiveDevice(Described):
    """A fuse or breaker."""

    kind: Literal["device"] = "device"
    family: FamilyName = Field("sf30", title="Device family")
    rating_a: float = quantity("Rating", "A", gt=0, le=1000, example=60)

    @model_validator(mode="after")
    def _rating_exists(self) -> ProtectiveDevice:
        device(self.family, self.rating_a)
        return self


class Cable(Described):
    """A length of single-core cable; the own return mirrors it."""

    kind: Literal["cable"] = "cable"
    size: str = Field(title="Size", max_length=20)
    length_m: float = quantity("One-way length", "m", gt=0, le=60, example=4.9)
    metal: Literal["copper", "cca"] = Field("copper", title="Metal")
    insulation_c: Literal[70, 75, 90, 105, 125] = Field(90, title="Insulation")
    place: Literal["cabin", "under_floor", "engine_bay"] = Field("under_floor", title="Place")
    ambient_c: float | None = quantity("Ambient there", "°C", default=None, ge=-40, le=120, example=40)
    grouped: int = Field(
        1, title="Circuits laid together", ge=1, le=6, json_schema_extra={"unit": "circuits", "example": 2}
    )
    conduit: bool = Field(False, title="In conduit")
    parallel: int = Field(1, title="Cables in parallel", ge=1, le=4, json_schema_extra={"unit": "cables", "example": 2})
    strand: Literal["class_5", "class_2"] = Field("class_5", title="Strands")

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)


class Joint(Described):
    """A connector, plug, bus bar or bolted joint in the outgoing conductor (and in an own return)."""

    kind: Literal["joint"] = "joint"
    form: Literal["joint", "bus_bar", "connector", "plug"] = Field("joint", title="Form")
    name: str = Field("joint", title="Joint", max_length=40)
    resistance_mohm: float = quantity("Resistance", "mΩ", default=0.2, ge=0, le=1000, example=0.2)
    rating_a: float | None = quantity("Rating", "A", default=None, gt=0, le=2000, example=50)
    keyed: bool = Field(True, title="Cannot be mated the wrong way round")


class Branch(Described):
    """Where a tail is taken off: another unit, a fan, a signal or a sense wire, with the device that guards it."""

    kind: Literal["branch"] = "branch"
    feeds: Literal["unit", "fan", "signal", "sense", "load"] = Field("load", title="What it feeds")
    name: str = Field("branch", title="Branch", max_length=40)
    current_a: float = quantity("Takes", "A", default=0.0, ge=0, le=500, example=1.5)
    size: str = Field("1.5 mm²", title="Tail size", max_length=20)
    length_m: float = quantity("Tail, one-way", "m", default=1.0, gt=0, le=60, example=1.0)
    insulation_c: Literal[70, 75, 90, 105, 125] = Field(90, title="Insulation")
    ambient_c: float | None = quantity("Ambient there", "°C", default=None, ge=-40, le=120, example=40)
    device: ProtectiveDevice | None = Field(None, title="Device of the tail")

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)

    def cable(self) -> Cable:
        """The tail as a cable."""
        return Cable(
            size=self.size,
            length_m=self.length_m,
            insulation_c=self.insulation_c,
            ambient_c=self.ambient_c,
            place="cabin",
        )


Piece = Annotated[ProtectiveDevice | Cable | Joint | Branch, Field(discriminator="kind")]


class OwnReturn(Described):
    """A dedicated negative cable that mirrors every outgoing cable and joint."""

    way: Literal["cable"] = "cable"


class ChassisReturn(Described):
    """The body carries the current back."""

    way: Literal["chassis"] = "chassis"
    resistance_mohm: float | None = quantity("Chassis return", "mΩ", default=None, ge=0, le=1e6, example=3.0)


class Run(Described):
    """Pieces in the order of the current (battery to unit, or unit to battery), and the way back."""

    pieces: tuple[Piece, ...] = Field((), title="Pieces", max_length=40)
    back: Annotated[OwnReturn | ChassisReturn, Field(discriminator="way")] = OwnReturn()
