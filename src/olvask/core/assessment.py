"""What comes out of the core: figures, findings with ways out, level lines, bands and limits."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from olvask.core.figure import Figure

Level = Literal["stop", "caution", "note"]
Stage = Literal["survey", "match", "run", "wake", "settings", "build", "prove", "handover"]


class Said(BaseModel):
    """Immutable output."""

    model_config = ConfigDict(frozen=True)


class Change(Said):
    """Set one place of the design, named by its dotted path, to a value."""

    path: str
    value: Any


class WayOut(Said):
    """A computed remedy that one click applies."""

    label: str
    changes: tuple[Change, ...]


class Finding(Said):
    """What is wrong or worth knowing, where on the path, why in numbers, and the ways out."""

    id: str
    level: Level
    stage: Stage
    place: str = Field(description="station or piece on the level line, such as charger or supply.1")
    title: str
    text: str
    ways_out: tuple[WayOut, ...] = ()


class LinePiece(Said):
    """Volts where the current enters and leaves one station or piece; the return in millivolts.

    Voltages stand against the negative post of the battery on the same side.
    """

    place: str
    enter_v: float
    exit_v: float
    return_enter_mv: float
    return_exit_mv: float


class ConditionLine(Said):
    """The level line in one operating condition."""

    key: Literal["parked", "idle", "cruise", "low"]
    label: str
    charging: bool
    collapsed: bool = Field(description="the run cannot carry the power: no stable voltage exists")
    below_minimum: bool = Field(description="the terminals lie below the unit's lowest input")
    alternator_limited: bool
    supply: tuple[LinePiece, ...]
    delivery: tuple[LinePiece, ...]
    source_v: float
    input_v: float | None
    input_a: float | None
    output_v: float | None
    output_a: float | None
    auxiliary_v: float | None


class PieceFacts(Said):
    """What the current does to one piece, at its worst running condition."""

    place: str
    drop_v: float
    resistance_mohm: float = Field(description="out and back")
    temperature_c: float | None = None
    ambient_c: float | None = None
    ampacity_a: float | None = None
    table_source: str = ""
    continuous_a: float | None = None
    largest_device_a: float | None = Field(None, description="largest rating the cable behind allows")


class Band(Said):
    """A range of volts at the charger's terminals."""

    low_v: float
    high_v: float


class Threshold(Said):
    """One threshold: what is set, whether proposed, and how far it stands from its window's edges."""

    key: Literal["start", "stop", "lockout", "restart"]
    label: str
    value_v: float
    proposed: bool
    verdict: Literal["good", "tight", "wrong"]
    margin_text: str


class WakeBands(Said):
    """The voltage ladder: bands, windows and thresholds at the charger's terminals."""

    rest: Band
    unloaded: Band
    loaded: Band | None
    low_phase: Band | None
    start_window: Band | None
    stop_window: Band | None
    thresholds: tuple[Threshold, ...]
    step_v: float
    voltage_used: bool


class Limit(Said):
    """One bar of the limits ruler, in output amperes."""

    key: str
    label: str
    amps: float | None = Field(description="output amperes this allows; none where it sets no limit")
    governs: bool = Field(description="false for the school not chosen")
    binding: bool
    text: str


class Ruler(Said):
    """The limits ruler of Match."""

    limits: tuple[Limit, ...]
    floor_a: float | None
    binding: str | None
    allowed_a: float | None


class StageState(Said):
    """What a stage still misses, and how many findings of each level it holds."""

    missing: tuple[str, ...]
    stops: int
    cautions: int


class Assessment(Said):
    """Everything that follows from a design."""

    figures: dict[str, Figure]
    findings: tuple[Finding, ...]
    conditions: tuple[ConditionLine, ...]
    worst: Literal["idle", "cruise", "low"] = Field(description="running condition with the lowest terminals")
    pieces: tuple[PieceFacts, ...]
    wake: WakeBands
    ruler: Ruler
    stages: dict[Stage, StageState]

    @property
    def stops(self) -> tuple[Finding, ...]:
        """Findings that forbid building the design as it stands."""
        return tuple(finding for finding in self.findings if finding.level == "stop")
