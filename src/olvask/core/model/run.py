"""A run: the pieces a current passes on its way out, and the return."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from olvask.core.catalogue import device
from olvask.core.model.base import Described, Identified, choice, quantity, standard_size, tick, whole, word_of
from olvask.core.model.vehicle import METALS

RunName = Literal["supply", "delivery"]
RUNS: tuple[RunName, RunName] = ("supply", "delivery")
FamilyName = Literal["blade", "sf30", "sf51", "cube", "class_t", "cartridge", "nh", "breaker"]
FAMILIES: dict[FamilyName, str] = {
    "blade": "blade fuse, ISO 8820-3",
    "sf30": "SF30 strip fuse, ISO 8820-5",
    "sf51": "SF51 strip fuse, ISO 8820-5",
    "cube": "post-mounted cube fuse",
    "class_t": "Class T fuse, UL 248-15",
    "cartridge": "10 × 38 cartridge fuse, IEC 60269-6",
    "nh": "NH fuse, IEC 60269-2",
    "breaker": "thermal breaker",
}
INSULATION = {70: "70 °C", 75: "75 °C", 90: "90 °C", 105: "105 °C", 125: "125 °C"}


class ProtectiveDevice(Identified):
    """A fuse or breaker."""

    kind: Literal["device"] = "device"
    family: FamilyName = choice("Device family", FAMILIES, default="sf30")
    rating_a: float = quantity("Device rating", "A", gt=0, le=1000, example=60)

    @model_validator(mode="after")
    def _rating_exists(self) -> ProtectiveDevice:
        device(self.family, self.rating_a)
        return self


class Cable(Identified):
    """A length of single-core cable; the own return mirrors it."""

    kind: Literal["cable"] = "cable"
    size: str = Field(title="Cable size", max_length=20)
    length_m: float = quantity("One-way length", "m", gt=0, le=60, example=4.9, step=0.1)
    metal: Literal["copper", "cca"] = choice("Metal", METALS, default="copper")
    insulation_c: Literal[70, 75, 90, 105, 125] = choice("Insulation", INSULATION, default=90)
    place: Literal["cabin", "under_floor", "engine_bay"] = choice(
        "Laid in", {"cabin": "cabin", "under_floor": "under floor", "engine_bay": "engine bay"}, default="under_floor"
    )
    ambient_c: float | None = quantity("Air around it", "°C", default=None, ge=-40, le=120, example=40, step=1)
    grouped: int = whole("Circuits laid together", "circuits", default=1, ge=1, le=6, example=2)
    conduit: bool = tick("In conduit")
    parallel: int = whole("Cables in parallel", "cables", default=1, ge=1, le=4, example=2)
    strand: Literal["class_5", "class_2"] = choice(
        "Strands", {"class_5": "fine, class 5", "class_2": "coarse, class 2"}, default="class_5"
    )
    there: Literal["", "out", "both"] = choice(
        "Cable is", {"": "new", "out": "there, outgoing only", "both": "there, out and back"}, default=""
    )

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)


class Joint(Identified):
    """A connector, plug, bus bar or bolted joint in the outgoing conductor (and in an own return)."""

    kind: Literal["joint"] = "joint"
    form: Literal["joint", "bus_bar", "connector", "plug"] = choice(
        "Form",
        {"joint": "bolted joint", "bus_bar": "bus bar", "connector": "connector", "plug": "plug and socket"},
        default="joint",
    )
    name: str = Field("joint", title="Joint name", max_length=40)
    resistance_mohm: float = quantity("Joint resistance", "mΩ", default=0.2, ge=0, le=1000, example=0.2, step=0.1)
    rating_a: float | None = quantity("Joint rating", "A", default=None, gt=0, le=2000, example=50, step=5)
    keyed: bool = tick("Mates one way only", default=True)

    @property
    def called(self) -> str:
        """Its name; where it has none, what it is."""
        return self.name.strip() or word_of(self, "form")


class Branch(Identified):
    """Where a tail is taken off: another unit, a fan, a signal or a sense wire, with the device that protects it."""

    kind: Literal["branch"] = "branch"
    feeds: Literal["unit", "fan", "signal", "sense", "load"] = choice(
        "Branch feeds",
        {"unit": "another unit", "fan": "fan", "signal": "signal wire", "sense": "sense wire", "load": "load"},
        default="load",
    )
    name: str = Field("branch", title="Branch name", max_length=40)
    current_a: float = quantity("Branch takes", "A", default=0.0, ge=0, le=500, example=1.5, step=0.5)
    size: str = Field("1.5 mm²", title="Tail size", max_length=20)
    length_m: float = quantity("Tail, one-way", "m", default=1.0, gt=0, le=60, example=1.0, step=0.1)
    insulation_c: Literal[70, 75, 90, 105, 125] = choice("Tail insulation", INSULATION, default=90)
    ambient_c: float | None = quantity("Air around the tail", "°C", default=None, ge=-40, le=120, example=40, step=1)
    device: ProtectiveDevice | None = Field(None, title="Device of the tail")

    @field_validator("size")
    @classmethod
    def _size_is_standard(cls, value: str) -> str:
        return standard_size(value)

    @property
    def called(self) -> str:
        """Its name; where it has none, what it is."""
        return self.name.strip() or "branch"

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

    kind: Literal["cable"] = "cable"


class ChassisReturn(Described):
    """The body carries the current back."""

    kind: Literal["chassis"] = "chassis"
    resistance_mohm: float | None = quantity("Chassis return", "mΩ", default=None, ge=0, le=1e6, example=3.0, step=0.5)


class Run(Described):
    """Pieces in the order of the current (battery to unit, or unit to battery), and the return."""

    pieces: tuple[Piece, ...] = Field((), title="Pieces", max_length=40)
    back: Annotated[OwnReturn | ChassisReturn, Field(discriminator="kind")] = Field(OwnReturn(), title="Return")
